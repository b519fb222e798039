"""Review: a drafted narration beside its captions, gone through by keys before it enters the study."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject, Qt, QTimer
from PySide6.QtGui import QKeyEvent, QUndoCommand, QUndoStack
from PySide6.QtWidgets import QHeaderView, QPushButton

from oddbolt.core.errors import NarrationError
from oddbolt.core.narration import Reading
from oddbolt.core.narration import review as lines
from oddbolt.core.narration.captions import Cue
from oddbolt.core.narration.draft import DraftStep
from oddbolt.core.narration.recording import log_with_times
from oddbolt.core.study.formatting import plural
from oddbolt.desk.pages.bench_panels.say_line import SayLine
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.widgets.labels import Label
from oddbolt.desk.widgets.tables import Cell, Rows, Table

HEADS = ("at", "said", "understood", "")
KEYS = (
    "Enter keep   Del skip / unskip   E correct   J merge with next   S split at cursor   "
    "N next open   Ctrl+Z undo   Ctrl+Shift+Return add to study   Esc leave"
)


#: lines read again in the hand's own time, and in one piece beside the work
AT_ONCE, A_PIECE = 30, 12


class _Change(QUndoCommand):
    """Two reviews, before and after, and the lines chosen in them."""

    def __init__(self, page: ReviewPage, after: lines.Review, at: int, then: int, label: str) -> None:
        super().__init__(label)
        self.page, self.before, self.after, self.at, self.then = page, page.lines, after, at, then

    def redo(self) -> None:
        self.page.show_lines(self.after, self.then)

    def undo(self) -> None:
        self.page.show_lines(self.before, self.at)


class ReviewPage(Page):
    """Lines above, the chosen one on a say line below. ``left`` says that the review is over."""

    title = "Review"

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.settings = desk.settings
        self.lines: lines.Review = ()
        self.name = ""
        self.stack = QUndoStack(self)
        self._rest = QTimer(self)
        self._rest.setInterval(0)
        self._rest.timeout.connect(self._carry_on)
        self.enter = QPushButton("Add to study")
        self.enter.clicked.connect(self.log)
        self.head.addWidget(self.enter)
        self.rows = Rows(HEADS, figures=(0,))
        self.table = Table(self.rows, "Lines of the narration")
        self.table.setSortingEnabled(False)
        self.table.widths(64, 380, 330, 90)
        header = self.table.horizontalHeader()
        header.setStretchLastSection(False)
        header.setSectionResizeMode(1, QHeaderView.ResizeMode.Stretch)
        self.table.picked.connect(self._shown)
        self.table.installEventFilter(self)
        self.say = SayLine()
        self.say.no_drives = set(desk.settings.get("no drives", []))
        self.say.logged.connect(self._corrected)
        self.say.taught.connect(self._teach)
        keys = Label(KEYS)
        keys.setObjectName("caption")
        keys.setWordWrap(True)
        self.box.addWidget(self.table, 1)
        self.box.addWidget(keys)
        self.box.addWidget(self.say)

    # -- showing ------------------------------------------------------------------------------------------

    @property
    def at(self) -> int:
        """The line that is chosen."""
        return max(0, min(self.table.currentIndex().row(), len(self.lines) - 1))

    def begin(self, cues: list[Cue], name: str) -> None:
        """Review these captions. Raises NarrationError where no step was understood."""
        vocabulary = self.settings.vocabulary(wait=True)
        found = lines.begin(cues, vocabulary)
        if not lines.drafted(found).steps:
            raise NarrationError(f"No step understood in {name}; nothing to review.")
        self.lines, self.name, self.say.vocabulary = found, name, vocabulary
        self.stack.clear()
        self._show(0)
        self.table.setFocus()

    def arrive(self) -> None:
        self.table.setFocus()

    def _show(self, at: int) -> None:
        self._show_rows(at)
        self._shown(str(min(at, len(self.lines) - 1)))

    def _show_rows(self, at: int) -> None:
        ids = [str(n) for n in range(len(self.lines))]
        asking = lines.asking(self.lines)
        rows = [_cells(line, n in asking) for n, line in enumerate(self.lines)]
        self.table.refresh(ids, rows, {str(n) for n in asking}, str(min(at, len(self.lines) - 1)))
        kept = sum(line.state == lines.KEPT for line in self.lines)
        out = sum(not line.counts for line in self.lines)
        steps = len(lines.drafted(self.lines).steps)
        words = f"{self.name}: {plural(len(self.lines), 'line')}, {kept} kept, {out} out"
        self.beside.setText(f"{words}; {plural(steps, 'step')}")

    def _shown(self, id: str) -> None:
        line = self.lines[int(id)]
        self.say.memory = line.before
        self.say.edit.setPlainText(line.text)
        if line.fixed:
            self.say.show_reading(line.reading)

    # -- the hand -----------------------------------------------------------------------------------------

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.KeyPress and isinstance(event, QKeyEvent) and self.lines:
            work = self._work_of(event)
            if work is not None:
                work()
                return True
        return super().eventFilter(watched, event)

    def _work_of(self, event: QKeyEvent) -> Callable[[], None] | None:
        key, control = event.key(), event.modifiers() & Qt.KeyboardModifier.ControlModifier
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            return self.log if control else self.keep
        if control:
            return None
        return {
            Qt.Key.Key_Delete: self.drop,
            Qt.Key.Key_E: self.say.edit.setFocus,
            Qt.Key.Key_J: self.join,
            Qt.Key.Key_S: self.part,
            Qt.Key.Key_N: self.next_open,
            Qt.Key.Key_Escape: self.leave,
        }.get(Qt.Key(key))

    def _do(self, label: str, change: Callable[..., lines.Review], *given: object, step: int = 0) -> None:
        """Change the line that is chosen, and go on by ``step``; the first lines after it are read again at once."""
        at = self.at
        try:
            after = change(self.lines, at, *given, self.say.vocabulary, most=AT_ONCE)
        except NarrationError as error:
            self.session.tell(str(error))
            return
        self.stack.push(_Change(self, after, at, at + step, label))

    def show_lines(self, review: lines.Review, at: int) -> None:
        """Show these lines, and read on in what is stale in small pieces beside the work."""
        self.lines = review
        self._show(at)
        self._rest.start()

    def _carry_on(self) -> None:
        if not any(line.stale for line in self.lines):
            self._rest.stop()
            return
        self.lines = lines.carried_on(self.lines, self.say.vocabulary, A_PIECE)
        if not any(line.stale for line in self.lines):
            self._rest.stop()
            self._show_rows(self.at)

    def keep(self) -> None:
        """The line is right; on to the next."""
        self._do("keep line", lines.marked, lines.KEPT, step=1)

    def drop(self) -> None:
        """The line does not belong into the log; or it does after all."""
        state = lines.OPEN if self.lines[self.at].state == lines.DROPPED else lines.DROPPED
        self._do("skip line" if state else "unskip line", lines.marked, state, step=1 if state else 0)

    def join(self) -> None:
        """The line and the next are one sentence."""
        self._do("merge lines", lines.joined)

    def part(self) -> None:
        """The line is two sentences, parted where the cursor stands in it."""
        at = self.say.edit.textCursor().position()
        self._do("split line", lines.parted, at)

    def next_open(self) -> None:
        """On to the next line that asks something or holds steps and was not looked at."""
        order = [*range(self.at + 1, len(self.lines)), *range(self.at + 1)]
        wanted = [n for n in order if self.lines[n].counts and self.lines[n].state == lines.OPEN]
        asking = lines.asking(self.lines)
        asked = [n for n in wanted if n in asking] or [n for n in wanted if self.lines[n].reading.steps]
        if asked:
            self._show(asked[0])
        else:
            self.session.tell("All lines with a step are reviewed.")

    def _corrected(self, reading: Reading) -> None:
        text = self.say.edit.toPlainText()
        self._do("correct line", lines.corrected, text, reading, step=1)
        self.table.setFocus()

    def _teach(self, word: str, drive: str) -> None:
        self.settings.teach(word, drive)
        if not drive:
            self.say.no_drives.add(word)
            self.say.again()
            return
        self.say.vocabulary = self.settings.vocabulary()
        at = self.at
        after, changed = lines.taught(self.lines, self.say.vocabulary)
        self.stack.clear()  # what was read without the word is not to come back
        self.show_lines(after, at)
        self.session.tell(f"“{word}” learned; {plural(changed, 'line')} reread.")

    def log(self) -> None:
        """Enter what counts into the study, as one edit, with a first estimate of times."""
        self.lines = lines.carried_on(self.lines, self.say.vocabulary)
        drafted = lines.drafted(self.lines)
        if not drafted.steps:
            self.session.tell("No kept line contains a step.")
            return
        if self.session.edit(log_with_times(self.session.study, drafted, self.name), f"log {self.name}"):
            self.lines = ()
            self.stack.clear()
            self.left.emit()
            told = f"{plural(len(drafted.steps), 'step')} logged from {self.name}, timed by its captions"
            self.session.tell(f"{told} as a first estimate. Ctrl+Z undoes this.")

    def leave(self) -> None:
        """Leave without entering anything; the review waits for its captions to be opened again."""
        self.left.emit()


def _cells(line: lines.ReviewLine, asks: bool) -> list[Cell]:
    minutes, seconds = divmod(int(line.at_s), 60)
    state = "repeat" if line.repeat else "asks" if asks else line.state
    understood = "; ".join(_step(step) for step in line.reading.steps) if line.counts else "out"
    if not understood:
        r = line.reading
        understood = (
            "a caution"
            if r.cautions
            else "for the verdict"
            if r.classes
            else "a finding"
            if r.findings
            else "adds to it"
            if r.amends
            else "already recorded"
            if r.known
            else "no step"
        )
    return [(f"{minutes}:{seconds:02d}", line.at_s), (line.text, line.text), (understood, understood), (state, state)]


def _step(step: DraftStep) -> str:
    drive = step.size or ("" if step.drive == "unknown" else step.drive)
    count = "" if step.count is None else f"{step.count} ×" if drive else str(step.count)
    kind = step.joint if step.joint and not step.parts else ""
    where = ", ".join(step.parts) or step.place
    return " ".join(w for w in (step.action, count, drive, kind, where) if w)
