"""The say line: what you just did, in your own words, and at once what was understood."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from attrs import evolve
from PySide6.QtCore import QEvent, Qt, Signal
from PySide6.QtGui import QColor, QFocusEvent, QFont, QKeyEvent, QResizeEvent, QTextCharFormat, QTextCursor
from PySide6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QPlainTextEdit,
    QPushButton,
    QScrollArea,
    QTextEdit,
    QVBoxLayout,
    QWidget,
)

from oddbolt.core.components.said_looks import SaidLooks, said_looks
from oddbolt.core.errors import NarrationError
from oddbolt.core.fasteners.parse_measurements import is_measured, measured
from oddbolt.core.narration import DraftStep, Memory, Reading, read
from oddbolt.core.narration.correct import correct, shown_pieces
from oddbolt.core.narration.doubts import meanings, settled_on
from oddbolt.core.narration.language.vocabulary import Vocabulary, shipped
from oddbolt.core.reference.tables import drives
from oddbolt.core.study import Joint
from oddbolt.core.study.formatting import duration
from oddbolt.desk.inspector.identify_box import candidates_in_words
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.inputs import TypedLine, is_undo
from oddbolt.desk.widgets.labels import Label

HINTS = "Enter  log     Tab  correct a piece     F8  start, pause     F9  photo     Ctrl+Z  undo"
#: lines of a sentence, and acts of it, in sight at once; px of one act
MOST_LINES, MOST_ACTS, ACT_HIGH = 3, 3, 46


class SayEdit(QPlainTextEdit):
    """A sentence with underlined pieces, on as many lines as it takes, up to three; its beginning stays in sight."""

    entered = Signal()
    walked = Signal()
    meant = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("sayedit")
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setTabChangesFocus(True)
        self.textChanged.connect(self.fit)
        self.setUndoRedoEnabled(False)
        self.setPlaceholderText("backed out four IP5 under the feet")
        self.setAccessibleName("Say what you did")

    def fit(self) -> None:
        """As high as its lines."""
        lines = max(1, min(MOST_LINES, int(self.document().size().height())))
        self.setFixedHeight(lines * self.fontMetrics().lineSpacing() + 14)
        if int(self.document().size().height()) <= MOST_LINES:
            self.verticalScrollBar().setValue(0)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.fit()

    def changeEvent(self, event: QEvent) -> None:
        super().changeEvent(event)
        if event.type() in (QEvent.Type.FontChange, QEvent.Type.StyleChange):
            self.fit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.entered.emit()
        elif event.key() == Qt.Key.Key_Escape:
            self.clear()
        elif event.modifiers() == Qt.KeyboardModifier.AltModifier and event.text().isdigit():
            self.meant.emit(int(event.text()))
        else:
            super().keyPressEvent(event)

    def event(self, event: QEvent) -> bool:
        if is_undo(event):
            event.ignore()
            return True
        return super().event(event)

    def focusNextPrevChild(self, forward: bool) -> bool:
        if forward and self.toPlainText().strip():
            self.walked.emit()
            return True
        return super().focusNextPrevChild(forward)

    def insertFromMimeData(self, source: object) -> None:
        self.insertPlainText(" ".join(source.text().split())[:2000])  # type: ignore[attr-defined]

    def underline(self, spans: list[tuple[int, int, bool]]) -> None:
        """Underline spans: sea-green where understood, copper where in doubt."""
        marks = []
        for start, end, sure in spans:
            mark = QTextEdit.ExtraSelection()
            cursor = QTextCursor(self.document())
            cursor.setPosition(start)
            cursor.setPosition(end, QTextCursor.MoveMode.KeepAnchor)
            form = QTextCharFormat()
            form.setUnderlineStyle(
                QTextCharFormat.UnderlineStyle.SingleUnderline if sure else QTextCharFormat.UnderlineStyle.WaveUnderline
            )
            form.setUnderlineColor(QColor(theme.colour("sea" if sure else "copper")))
            form.setFontWeight(QFont.Weight.Normal)
            mark.cursor, mark.format = cursor, form  # type: ignore[attr-defined]
            marks.append(mark)
        self.setExtraSelections(marks)


class PieceEdit(TypedLine):
    """The value of a piece; selected whole when it is reached by Tab."""

    reached = Signal()
    walked = Signal(bool)

    def focusNextPrevChild(self, forward: bool) -> bool:
        self.walked.emit(forward)
        return True

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.selectAll()
        self.reached.emit()


class AskButton(QPushButton):
    """A question with its answers in a menu; Tab walks on from it, Enter or Down opens it."""

    walked = Signal(bool)

    def focusNextPrevChild(self, forward: bool) -> bool:
        self.walked.emit(forward)
        return True

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Down):
            self.menu().popup(self.mapToGlobal(self.rect().bottomLeft()))
        else:
            super().keyPressEvent(event)


class PieceField(QWidget):
    """A caption over a value that can be typed over."""

    focused = Signal(QWidget)

    def __init__(self, caption: str, value: str, missing: bool) -> None:
        super().__init__()
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 14, 0)
        box.setSpacing(0)
        label = Label(caption)
        label.setObjectName("caption")
        self.edit = PieceEdit(value)
        self.edit.reached.connect(lambda: self.focused.emit(self))
        self.edit.setPlaceholderText("not stated")
        self.edit.setAccessibleName(caption)
        self.edit.setFont(theme.text(10.5, bold=True))
        self.edit.setObjectName("missing" if missing else "piece")
        wide = self.edit.fontMetrics().horizontalAdvance(value or "not stated") + 16
        self.edit.setFixedWidth(max(44, min(wide, 240)))
        box.addWidget(label)
        box.addWidget(self.edit)


class SayLine(QFrame):
    """``logged`` gives the reading as corrected, ``asked`` what was said to the bench instead, ``measured`` what was
    measured on the screws spoken of; ``taught`` a word and the drive it stands for ("" for no drive); ``understood``
    says that ``reading`` is another one now."""

    logged = Signal(object)
    asked = Signal(object)
    measured = Signal(str)
    looked = Signal(object)
    understood = Signal()
    taught = Signal(str, str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("say")
        self.memory = Memory()
        self.vocabulary: Vocabulary = shipped()
        self.reading = Reading("")
        self.memory_after = Memory()
        self.no_drives: set[str] = set()
        self.walk: list[PieceEdit | AskButton] = []
        self._laid_out: object = None
        self.measures = False
        self.looks: SaidLooks | None = None
        self.group: Callable[[], Joint | None] = lambda: None
        box = QVBoxLayout(self)
        box.setContentsMargins(16, 8, 16, 8)
        box.setSpacing(2)
        caption = Label("Say what you did")
        caption.setObjectName("caption")
        self.edit = SayEdit()
        self.acts = QVBoxLayout()
        self.acts.setSpacing(0)
        self.acts.setContentsMargins(0, 0, 0, 0)
        self.pieces = QHBoxLayout()
        inner = QWidget()
        inner.setLayout(self.acts)
        holder = QScrollArea()
        holder.setFocusPolicy(Qt.FocusPolicy.NoFocus)  # what lies in it takes the focus
        holder.setObjectName("pieces")
        holder.setWidgetResizable(True)
        holder.setWidget(inner)
        holder.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        holder.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        holder.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        holder.setFixedHeight(ACT_HIGH)
        self.holder = holder
        self.hints = Label(HINTS)
        self.hints.setObjectName("caption")
        for widget in (caption, self.edit, holder):
            box.addWidget(widget)
        box.addSpacing(5)
        box.addWidget(self.hints)
        self.edit.textChanged.connect(self._typed)
        self.edit.entered.connect(self.log)
        self.edit.meant.connect(self._meant)
        self.edit.walked.connect(partial(self._walk, -1, True))

    def remember(self, memory: Memory) -> None:
        """Read from now on after what this memory holds."""
        self.memory = memory
        if self.edit.toPlainText():
            self._typed()

    def show_reading(self, reading: Reading) -> None:
        """Show a reading that was put right before, in place of what is read now."""
        self.reading = reading
        self._show_pieces()

    def again(self) -> None:
        """Read the sentence once more, with the words as they are known now."""
        self._typed()

    def _typed(self) -> None:
        text = self.edit.toPlainText()
        self.hints.setText(HINTS)
        self.measures = is_measured(text)
        self.looks = None if self.measures else said_looks(text)
        if self.measures or self.looks is not None:
            self.reading, self.memory_after = Reading(text), self.memory
        elif text.strip():
            self.reading, self.memory_after = read(text, self.memory, self.vocabulary)
        else:
            self.reading, self.memory_after = Reading(""), self.memory
        spans = [
            (p.start, p.end, p.sure >= 0.5) for p in (*self.reading.pieces, *self.reading.unknown) if p.end <= len(text)
        ]
        self.edit.underline(spans)
        self._show_pieces()
        self.understood.emit()

    def _show_pieces(self) -> None:
        """Lay out the pieces anew, if they are others than before."""
        shown = [
            (n, shown_pieces(step), step.doubt, step.missing(), meanings(step, self.memory))
            for n, step in enumerate(self.reading.steps)
        ]
        key = (
            bool(self.edit.toPlainText().strip()),
            shown,
            self.reading.unknown,
            self.no_drives,
            self.amended() if shown else self.otherwise(),
            theme.current.name,
        )
        if key == self._laid_out:
            return
        self._laid_out = key
        while self.acts.count():
            item = self.acts.takeAt(0)
            gone = item.widget() if item is not None else None
            if gone is not None:
                gone.hide()
                gone.deleteLater()
        self.walk = []
        for n, step in enumerate(self.reading.steps):
            self._begin_act()
            if n:
                self._add_text("then", "caption")
            for field, caption, value, missing in shown_pieces(step):
                piece = PieceField(caption, value, missing)
                piece.edit.editingFinished.connect(lambda n=n, f=field, p=piece: self._corrected(n, f, p.edit))
                piece.edit.returnPressed.connect(self.edit.setFocus)
                piece.focused.connect(self.holder.ensureWidgetVisible)
                piece.edit.walked.connect(partial(self._walk, len(self.walk)))
                self.walk.append(piece.edit)
                self.pieces.addWidget(piece)
            may_be = meanings(step, self.memory)
            told = "   ".join(f"Alt+{k} {name}" for k, name in enumerate(may_be, 1))
            doubt = step.doubt or ("lengths differ: which how long?" if "which lengths" in step.missing() else "")
            doubt = "     ".join(filter(None, (f"holds which part?   {told}" if told else "", doubt)))
            if doubt:
                self._add_text(doubt, "copper", 1)
            else:
                self.pieces.addStretch(1)
        if self.reading.steps and self.reading.amends:
            self._begin_act()
            self._add_text(f"and {self.amended()}", "quiet")
        asked = next((str(w.value) for w in self.reading.unknown if w.value not in self.no_drives), "")
        if not self.reading.steps:
            self._begin_act()
            if self.edit.toPlainText().strip():
                self._add_text(self.otherwise(), "quiet")
        if asked:
            self._ask(asked)
        if not self.reading.steps:
            self.pieces.addStretch(1)
        self.holder.setFixedHeight(ACT_HIGH * max(1, min(MOST_ACTS, self.acts.count())))

    def _begin_act(self) -> None:
        """A row of its own for each act, as wide as there is room."""
        row = QWidget()
        self.pieces = QHBoxLayout(row)
        self.pieces.setSpacing(0)
        self.pieces.setContentsMargins(0, 0, 0, 0)
        self.acts.addWidget(row)

    def _walk(self, at: int, forward: bool) -> None:
        """From the sentence through its pieces and back to it."""
        to = at + (1 if forward else -1)
        reached = self.walk[to] if 0 <= to < len(self.walk) else None
        (reached or self.edit).setFocus()
        if isinstance(reached, AskButton):
            self.holder.ensureWidgetVisible(reached)

    def otherwise(self) -> str:
        """What was understood where it is no step."""
        if self.measures:
            from oddbolt.core.fasteners.identify import identify, of_group  # takes long to load; wanted only here

            return candidates_in_words(identify(of_group(measured(self.edit.toPlainText()), self.group())), "   ·   ")
        if self.looks is not None:
            return self.looks.words
        r = self.reading
        if r.aside is not None:
            length = "" if r.aside.seconds is None else f" of {duration(r.aside.seconds)}"
            return f"to the bench: {r.aside.kind}{length}"
        if r.amends:
            return self.amended()
        if r.known:
            return "already recorded"
        if r.classes:
            judged = r.classes[0]
            names = {
                "fastener": "fastener class",
                "skill": "skill",
                "where": "place of work",
                "role": f"role of {judged.part}",
            }
            return f"for the verdict: {names[judged.field]} {judged.value}"
        for what, notes in (("a caution", r.cautions), ("a finding", r.findings)):
            if notes and notes[0].instead:
                return f"puts right what was recorded before: “{notes[0].instead}”"
            if notes:
                return f"{what} ({notes[0].kind}), kept with the previous step"
        if r.routes:
            return f"a route described, to the {r.routes[0].target}; not logged"
        spoken = self.memory_after.announced
        if spoken is not None and self._announces():
            values = [v for f, _, v, missing in shown_pieces(spoken) if not missing and f != "action"]
            return f"announced: {', '.join(values)}; logged once they are out"
        return "no step understood yet"

    def amended(self) -> str:
        """What changes in the step before; "" if nothing does."""
        if not self.reading.amends:
            return ""
        amended = self.reading.amends[0]
        told = [(f, caption, v) for f, caption, v, missing in shown_pieces(amended) if not missing]
        if amended.corrects == ("doubt",):
            return f"asks about the previous step: {amended.doubt}" if amended.doubt else "settles the previous step"
        if amended.corrects:
            right = {"size": "drive"}
            fields = {right.get(f, f) for f in amended.corrects}
            return "corrects the previous step: " + ", ".join(f"{caption} {v}" for f, caption, v in told if f in fields)
        return "adds to the previous step: " + ", ".join(v for *_, v in told)

    def _add_text(self, text: str, name: str, stretch: int = 0) -> None:
        label = Label(text)
        label.setObjectName(name)
        label.setWordWrap(stretch > 0 or len(text) > 40)
        label.setContentsMargins(0, 8 if stretch else 12, 8, 0)
        if stretch:
            label.setMinimumWidth(120)
        self.pieces.addWidget(label, stretch)

    def _ask(self, word: str) -> None:
        button = AskButton(f"What is “{word}”?")
        button.walked.connect(partial(self._walk, len(self.walk)))
        self.walk.append(button)
        menu = QMenu(button)
        for drive in drives().values():
            menu.addAction(f"a drive: {drive.label}", partial(self.taught.emit, word, drive.id))
        menu.addSeparator()
        menu.addAction("no drive", partial(self.taught.emit, word, ""))
        button.setMenu(menu)
        self.pieces.addWidget(button)

    def _corrected(self, n: int, field: str, edit: QLineEdit) -> None:
        if not edit.isModified() or n >= len(self.reading.steps):
            return
        edit.setModified(False)
        try:
            step = correct(self.reading.steps[n], field, edit.text(), self.vocabulary)
        except NarrationError as error:
            self.hints.setText(str(error))
            self.hints.setObjectName("copper")
            return
        self.hints.setText(HINTS)
        steps: list[DraftStep] = list(self.reading.steps)
        steps[n] = step
        self.reading = evolve(self.reading, steps=tuple(steps))
        self.understood.emit()

    def _meant(self, choice: int) -> None:
        """The part that fasteners hold, by its number among those offered."""
        for n, step in enumerate(self.reading.steps):
            may_be = meanings(step, self.memory)
            if 0 < choice <= len(may_be):
                steps = list(self.reading.steps)
                steps[n] = settled_on(step, may_be[choice - 1])
                self.reading = evolve(self.reading, steps=tuple(steps))
                self._show_pieces()
                self.understood.emit()
                return

    def log(self) -> None:
        """Hand over what was understood, and be ready for the next sentence."""
        if self.measures:
            self.measured.emit(self.edit.toPlainText())
            return
        if self.looks is not None:
            self.looked.emit(self.looks)
            return
        if self.reading.aside is not None:
            self.asked.emit(self.reading.aside)
            return
        if self.reading.empty and self._announces():
            self.memory = self.memory_after
            self.done()
            self.hints.setText(
                "Noted. They are logged when you say that they are out, or when what they hold comes off."
            )
            return
        if self.reading.known:
            self.memory = self.memory_after
            self.done()
            self.hints.setText("Already recorded: nothing was added.")
            return
        if self.reading.empty:
            self.hints.setText("Nothing to log yet: say what you took off, undid or opened.")
            return
        reading = self.reading
        self.logged.emit(reading)

    def _announces(self) -> bool:
        """Whether the sentence only speaks of screws that are still to be undone."""
        told = self.memory_after.announced
        return told is not None and told is not self.memory.announced

    def done(self) -> None:
        """The sentence is logged."""
        self.edit.clear()
        self.hints.setText(HINTS)
        self.edit.setFocus()
