"""Painted widgets for those who do not see them: what is drawn is a list of named items, and the one moved to is told.

The toolkit knows nothing of what a widget paints. A :class:`Painted` widget lists it, and the interfaces here hand the
list to whatever reads the screen out. The words of the current item are kept at hand; those of the others are asked for
only when somebody listens.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PySide6.QtCore import QEvent, QObject, QRect, Qt
from PySide6.QtGui import (
    QAccessible,
    QAccessibleAnnouncementEvent,
    QAccessibleEvent,
    QAccessibleInterface,
    QFocusEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QWindow,
)
from PySide6.QtWidgets import QAccessibleWidget, QWidget
from shiboken6 import isValid

from oddbolt.desk.widgets import theme

Role = QAccessible.Role
#: arrow keys -> which way, to the right and down
ARROWS = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
#: what is said of an item: its name, and all there is to say of it
Words = tuple[str, str]


class Painted(QWidget):
    """A widget that paints a row of items. ``role`` and ``item_role`` say what they are to a screen reader."""

    role, item_role = Role.List, Role.ListItem

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.item_ids: Sequence[Any] = ()
        self.item_at: Any = ""
        self._item_words: Callable[[Any], Words] = lambda id: (str(id), "")
        Ring(self)

    def say_items(self, ids: Sequence[Any], at: Any, words: Callable[[Any], Words]) -> None:
        """What is painted now, in order, which of them is the current one, and what is said of each."""
        moved = at != self.item_at
        self.item_ids, self.item_at, self._item_words = ids, at, words
        name, about = words(at) if at in ids else ("", "")
        self.setAccessibleDescription(about if about.startswith(name) else f"{name}: {about}".rstrip(": "))
        if moved and QAccessible.isActive() and self.hasFocus() and at in ids:
            event = QAccessibleEvent(self, QAccessible.Event.Focus)
            event.setChild(list(ids).index(at))
            QAccessible.updateAccessibility(event)

    def words_of(self, id: Any) -> Words:
        """The name of an item and what is said of it."""
        return self._item_words(id)

    def pick_item(self, id: Any) -> None:
        """Do what a click on an item does."""
        self.picked.emit(id)  # type: ignore[attr-defined]

    def item_box(self, id: Any) -> QRect:
        """Where an item lies on the widget; all of it if that is not known."""
        return self.rect()

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.say_items(self.item_ids, self.item_at, self._item_words)
        self.update()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.update()


class Ring(QWidget):
    """The frame round a widget that has the focus, above whatever it paints."""

    def __init__(self, owner: QWidget) -> None:
        super().__init__(owner)
        self.owner = owner
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        owner.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Resize:
            self.setGeometry(self.owner.rect())
            self.raise_()
        elif event.type() in (QEvent.Type.FocusIn, QEvent.Type.FocusOut):
            self.update()  # it is not hidden: the owner may be on its way out, and must not be asked to be drawn
        return False

    def paintEvent(self, event: QPaintEvent) -> None:
        if not self.owner.hasFocus():
            return
        painter = QPainter(self)
        painter.setPen(QPen(theme.colour("copper"), 2))
        painter.drawRect(self.rect().adjusted(1, 1, -1, -1))
        painter.setPen(QPen(theme.colour("card"), 1))  # seen on dark ground too
        painter.drawRect(self.rect().adjusted(2, 2, -3, -3))


# -- what a screen reader asks ------------------------------------------------------------------------------


class _Face(QAccessibleWidget):
    """A painted widget as a screen reader sees it."""

    def __init__(self, widget: Painted) -> None:
        super().__init__(widget, widget.role)
        self.painted = widget
        self._items: dict[int, _Item] = {}

    def childCount(self) -> int:
        return len(self.painted.item_ids) if isValid(self.painted) else 0

    def child(self, index: int) -> QAccessibleInterface | None:  # type: ignore[override]
        if not 0 <= index < self.childCount():
            return None
        if index not in self._items:
            self._items[index] = _Item(self, index)
        return self._items[index]

    def indexOfChild(self, child: QAccessibleInterface) -> int:
        return child.place if isinstance(child, _Item) else -1

    def focusChild(self) -> QAccessibleInterface | None:  # type: ignore[override]
        ids = self.painted.item_ids
        return self.child(list(ids).index(self.painted.item_at)) if self.painted.item_at in ids else None


class _Item(QAccessibleInterface):
    """One thing that is painted."""

    def __init__(self, face: _Face, place: int) -> None:
        super().__init__()
        self.face, self.place = face, place

    def isValid(self) -> bool:
        return isValid(self.face) and isValid(self.face.painted) and self.place < len(self.face.painted.item_ids)

    def object(self) -> QObject | None:  # type: ignore[override]
        return None

    def window(self) -> QWindow | None:  # type: ignore[override]
        return self.face.painted.window().windowHandle()

    def parent(self) -> QAccessibleInterface:
        return self.face

    def childCount(self) -> int:
        return 0

    def child(self, index: int) -> QAccessibleInterface | None:  # type: ignore[override]
        return None

    def childAt(self, x: int, y: int) -> QAccessibleInterface | None:  # type: ignore[override]
        return None

    def indexOfChild(self, child: QAccessibleInterface) -> int:
        return -1

    def rect(self) -> QRect:
        painted = self.face.painted
        box = painted.item_box(painted.item_ids[self.place])
        return QRect(painted.mapToGlobal(box.topLeft()), box.size())

    def role(self) -> QAccessible.Role:
        return self.face.painted.item_role

    def setText(self, kind: QAccessible.Text, text: str) -> None:
        """What is painted is not edited by its name."""

    def state(self) -> QAccessible.State:
        state = QAccessible.State()
        current = self.isValid() and self.face.painted.item_ids[self.place] == self.face.painted.item_at
        state.selectable = state.focusable = True  # type: ignore[attr-defined]
        state.selected = current  # type: ignore[attr-defined]
        state.focused = current and self.face.painted.hasFocus()  # type: ignore[attr-defined]
        return state

    def text(self, kind: QAccessible.Text) -> str:
        if not self.isValid():
            return ""
        name, about = self.face.painted.words_of(self.face.painted.item_ids[self.place])
        return name if kind == QAccessible.Text.Name else about if kind == QAccessible.Text.Description else ""


#: held here for as long as the toolkit holds them, which deletes each with its widget
_faces: list[_Face] = []


def _face_of(_kind: str, thing: QObject | None) -> QAccessibleInterface | None:
    if not isinstance(thing, Painted):
        return None
    face = _Face(thing)
    _faces[:] = [known for known in _faces if isValid(known)] + [face]
    return face


def listen() -> None:
    """Let screen readers see what is painted."""
    QAccessible.installFactory(_face_of)


def announce(widget: QWidget, words: str) -> None:
    """Have words read out, without moving anything."""
    if words and QAccessible.isActive():
        event = QAccessibleAnnouncementEvent(widget, words)
        QAccessible.updateAccessibility(event)
