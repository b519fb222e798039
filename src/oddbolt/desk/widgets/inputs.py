"""Fields that hand over what was entered, and words of which one is chosen."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence

from PySide6.QtCore import QEvent, QStringListModel, Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent, QKeySequence, QPainter, QPaintEvent
from PySide6.QtWidgets import (
    QBoxLayout,
    QButtonGroup,
    QCheckBox,
    QComboBox,
    QCompleter,
    QLayout,
    QLineEdit,
    QPushButton,
    QSizePolicy,
    QWidget,
)

from oddbolt.desk.widgets.labels import Label, tip


def is_undo(event: QEvent) -> bool:
    """Whether a key asks to undo or redo; a field with nothing of its own to undo lets it through to the study."""
    if event.type() != QEvent.Type.ShortcutOverride or not isinstance(event, QKeyEvent):
        return False
    return event.matches(QKeySequence.StandardKey.Undo) or event.matches(QKeySequence.StandardKey.Redo)


class TypedLine(QLineEdit):
    """A line whose Ctrl+Z undoes the study when there is no typing to take back."""

    #: what the keys do in it, for a screen reader; what stands in an empty line is only an example
    help = "Enter keeps what is typed, Escape restores what was there."

    def __init__(self, text: str = "") -> None:
        super().__init__(text)
        self.setAccessibleDescription(self.help)

    def event(self, event: QEvent) -> bool:
        if is_undo(event) and not (self.isUndoAvailable() or self.isRedoAvailable()):
            event.ignore()
            return True
        return super().event(event)


class LineField(TypedLine):
    """A text that is handed over when it was changed and left, or at Enter. Escape takes the typing back."""

    entered = Signal(str)

    def __init__(self, names: Callable[[], Sequence[str]] | None = None) -> None:
        super().__init__()
        self._before = ""
        self.editingFinished.connect(self.leave)
        self._names = names
        if names is not None:
            completer = QCompleter(self)
            completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
            completer.setFilterMode(Qt.MatchFlag.MatchContains)
            self.setCompleter(completer)

    def set_shown(self, text: str) -> None:
        """Show a value, unless something else is being typed."""
        if self.hasFocus() and self.text() != self._before:
            return
        self._before = text
        if self.text() != text:
            self.setText(text)
            self.setCursorPosition(0)

    def focusInEvent(self, event: QFocusEvent) -> None:
        completer = self.completer()
        if self._names is not None and completer is not None:
            completer.setModel(QStringListModel(list(self._names()), completer))
        super().focusInEvent(event)

    def put_back(self, text: str) -> None:
        """Show a value in place of what was typed."""
        self._before = text
        self.setText(text)

    def take_back(self) -> None:
        """Show the value from before."""
        self.setText(self._before)

    def leave(self) -> None:
        """Hand over what was typed, if it was changed."""
        if self.text() != self._before:
            self._before = self.text()
            self.entered.emit(self.text())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.take_back()
        else:
            super().keyPressEvent(event)


class ChoiceField(QComboBox):
    """One of a few words."""

    entered = Signal(str)

    def __init__(self, choices: Sequence[str]) -> None:
        super().__init__()
        for choice in choices:
            self.addItem(choice or "not stated", choice)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.activated.connect(lambda: self.entered.emit(self.currentData()))

    def set_shown(self, text: str) -> None:
        """Show a value; one that is not among the choices is added."""
        at = self.findData(text)
        if at < 0:
            self.addItem(text, text)
            at = self.count() - 1
        self.setCurrentIndex(at)

    def wheelEvent(self, event: object) -> None:
        event.ignore()  # type: ignore[attr-defined]


class YesField(QCheckBox):
    """Yes or no."""

    entered = Signal(bool)

    def __init__(self) -> None:
        super().__init__()
        self.clicked.connect(self.entered)

    def set_shown(self, text: str) -> None:
        """Show a value."""
        self.setChecked(text == "True")


def empty(layout: QLayout) -> None:
    """Take every widget out of a layout, out of sight at once."""
    while layout.count():
        item = layout.takeAt(0)
        widget = item.widget() if item is not None else None
        if widget is not None:
            widget.hide()
            widget.deleteLater()


class Elided(Label):
    """A line of text that ends in "…" where it has no room; all of it is its tool tip."""

    def __init__(self, text: str = "") -> None:
        super().__init__(text)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)

    def paintEvent(self, event: QPaintEvent) -> None:
        box = self.contentsRect()
        shown = self.fontMetrics().elidedText(self.text(), Qt.TextElideMode.ElideRight, box.width())
        self.setToolTip(tip(self.text()) if shown != self.text() else "")
        painter = QPainter(self)
        painter.setPen(self.palette().color(self.foregroundRole()))
        painter.drawText(box, int(self.alignment()), shown)


def word_group(owner: QWidget, line: QBoxLayout, choices: Iterable[tuple[int, str]], chosen: int = 0) -> QButtonGroup:
    """Words on a line of which one is chosen at a time."""
    group = QButtonGroup(owner)
    for n, word in choices:
        button = QPushButton(word)
        button.setCheckable(True)
        button.setChecked(n == chosen)
        button.setObjectName("word")
        group.addButton(button, n)
        line.addWidget(button)
    return group
