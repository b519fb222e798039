"""Below the strata: what holds the device back, tried over the study without touching it, and open questions."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from oddbolt.core.reach import Question, answer
from oddbolt.core.reach.record import priority_parts
from oddbolt.core.reach.whatif import LEAST_S, Change, Effect, dropped, in_words, keep, kept
from oddbolt.core.study import Study
from oddbolt.core.study.words import duration, plural
from oddbolt.desk.figures import Figures, Trial
from oddbolt.desk.forms import LineField
from oddbolt.desk.session import Session
from oddbolt.desk.tables import Cell, Rows, Table


class _Below(QWidget):
    """What stands below the strata: a line of words, room for what is done at its end, and a table."""

    def __init__(self, session: Session, figures: Figures, table: Table) -> None:
        super().__init__()
        self.session, self.figures, self.table = session, figures, table
        self.said = QLabel()
        self.said.setWordWrap(True)
        self.line = QHBoxLayout()
        self.line.addWidget(self.said, 1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(self.line)
        box.addWidget(table, 1)


class Easier(_Below):
    """Every change that would help, the best first. ``tried`` says that another what-if lies over the study."""

    tried = Signal()

    def __init__(self, session: Session, figures: Figures) -> None:
        rows = Rows(("if it were", "this route", "all priority parts", "helps"), figures=(1, 2))
        super().__init__(session, figures, Table(rows, "What holds the device back"))
        self.changes: tuple[Change, ...] = ()
        self.targets: tuple[str, ...] = ()
        self._rows: list[tuple[Change, ...]] = []
        self.table.widths(300, 116, 126, 200)
        self.table.picked.connect(self._picked)
        self.said.setObjectName("copper")
        self.name = LineField()
        self.name.setPlaceholderText("keep it as …")
        self.name.setAccessibleName("name to keep the what-if under")
        self.name.setFixedWidth(150)
        self.name.entered.connect(self._keep)
        self.drop = QPushButton("Drop it")
        self.drop.setToolTip("Escape")
        self.drop.clicked.connect(self.drop_trial)
        self.line.addWidget(self.name)
        self.line.addWidget(self.drop)

    def refresh(self, targets: tuple[str, ...]) -> None:
        """Show the changes by what they save on the way to these parts."""
        study = self.session.study
        self.targets = targets
        self.changes = tuple(c for c in self.changes if study.find(c.about) is not None)
        effects = self.figures.held_back(tuple(dict.fromkeys((*targets, *priority_parts(study)))))
        named = kept(study)
        if effects is None:
            self._show_rows([], named, {})
            self.said.setText("Every change is being weighed …")
        else:
            own = {e: sum(b - a for p, b, a in e.parts if p in targets) for e in effects}
            helping = [e for e in effects if e.seconds > LEAST_S]
            helping.sort(key=lambda e: (-own[e], -e.seconds))
            self._show_rows(helping, named, own)
            none = len(effects) - len(helping)
            self.said.setText(f"Choose a change to try it. {plural(none, 'other change')} would help no one.")
        for widget in (self.name, self.drop):
            widget.setVisible(bool(self.changes))
        if self.changes:
            self.said.setText(self._moved(self.figures.trial(self.changes, targets)))
            self.drop.setText("Forget it" if self._known_as() else "Drop it")

    def _show_rows(
        self, effects: Sequence[Effect], named: dict[str, tuple[Change, ...]], own: dict[Effect, float]
    ) -> None:
        study = self.session.study
        self._rows = [*named.values(), *(e.changes for e in effects)]
        cells: list[list[Cell]] = []
        for name, what in named.items():
            words = f"{name}: {', '.join(in_words(study, c) for c in what)}"
            cells.append([(words, ""), ("kept", 1e9), ("", 1e9), ("", "")])
        for e in effects:
            helped = ", ".join(study.name(p) for p in e.helped)
            words = " and ".join(in_words(study, c) for c in e.changes)
            saved = own[e]
            cells.append([(words, words), (_saved(saved), saved), (_saved(e.seconds), e.seconds), (helped, helped)])
        chosen = next((str(n) for n, what in enumerate(self._rows) if what == self.changes), "")
        marked = {str(n) for n in range(len(named))}
        self.table.refresh([str(n) for n in range(len(cells))], cells, marked, chosen)

    def _moved(self, trial: Trial | None) -> str:
        study = self.session.study
        words = " and ".join(in_words(study, c) for c in self.changes)
        if trial is None:
            return f"What if: {words}? Being worked out …"
        said = [f"What if: {words}?"]
        for part in self.targets:
            before, after = trial.before.get(part), trial.after.get(part)
            if before is not None and after is not None:
                said.append(f"{study.name(part)} {duration(after)} instead of {duration(before)}.")
        if trial.mark_before != trial.mark_after:
            said.append(f"Bench mark {trial.mark_after:g} instead of {trial.mark_before:g}.")
        else:
            said.append(f"The bench mark stays {trial.mark_before:g}.")
        return " ".join(said)

    # -- the hand -------------------------------------------------------------------------------------------

    def _picked(self, id: str) -> None:
        self.changes = self._rows[int(id)]
        self.tried.emit()

    def drop_trial(self) -> None:
        """Take the what-if off the study; one that was kept is forgotten."""
        name = self._known_as()
        self.changes = ()
        self.table.clearSelection()
        if name:
            self.session.attempt("forget a what-if", dropped, name)
        self.tried.emit()

    def _known_as(self) -> str:
        return next((name for name, what in kept(self.session.study).items() if what == self.changes), "")

    def _keep(self, text: str) -> None:
        if self.changes and text.strip() and self.session.attempt("keep a what-if", keep, text, self.changes):
            self.session.tell(f"Kept as {text.strip()}; the record itself is as it was.")
        self.name.set_shown("")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape and self.changes:
            self.changes = ()
            self.table.clearSelection()
            self.tried.emit()
        else:
            super().keyPressEvent(event)


class Asked(_Below):
    """The questions on which the reach of the parts rests, the one that tells most first. Y and N answer."""

    def __init__(self, session: Session, figures: Figures) -> None:
        rows = Rows(("question", "narrows by", "for"), figures=(1,))
        super().__init__(session, figures, Table(rows, "Open questions"))
        self.questions: tuple[Question, ...] = ()
        self.at = 0
        self.table.widths(420, 100, 230)
        self.table.picked.connect(self._picked)
        self.yes, self.no = QPushButton("Yes   Y"), QPushButton("No   N")
        self.yes.clicked.connect(lambda: self.answer(True))
        self.no.clicked.connect(lambda: self.answer(False))
        self.line.addWidget(self.yes)
        self.line.addWidget(self.no)
        self.setFocusProxy(self.table)

    def refresh(self, targets: tuple[str, ...]) -> None:
        """Show what is open about these parts and the priority parts."""
        study = self.session.study
        found = self.figures.open_questions(tuple(dict.fromkeys((*targets, *priority_parts(study)))))
        self.questions = found or ()
        self.at = min(self.at, max(0, len(self.questions) - 1))
        cells: list[list[Cell]] = [
            [
                (q.words(study), q.words(study)),
                (duration(q.narrows_s) if q.narrows_s else "steps only", q.narrows_s),
                (", ".join(study.name(p) for p in q.parts), ""),
            ]
            for q in self.questions
        ]
        chosen = str(self.at) if cells else ""
        self.table.refresh([str(n) for n in range(len(cells))], cells, set(), chosen)
        for button in (self.yes, self.no):
            button.setVisible(bool(cells))
        self.said.setText(self._words(study, found))

    def _words(self, study: Study, found: tuple[Question, ...] | None) -> str:
        if found is None:
            return "What is open is being worked out …"
        if not found:
            return "Nothing is left to ask: the reach of these parts is exact."
        left = f"At most {plural(len(found), 'answer')} left until every priority part is exact."
        return f"{found[self.at].words(study)}  {left}"

    def _picked(self, id: str) -> None:
        self.at = int(id)
        q = self.questions[self.at]
        self.said.setText(self._words(self.session.study, self.questions))
        self.session.choose(tuple(i for i in (q.under, q.over) if i))

    def answer(self, yes: bool) -> None:
        """Answer the question chosen."""
        if self.questions:
            q = self.questions[self.at]
            self.session.attempt("answer a question", answer, q.over, q.under, yes)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Y, Qt.Key.Key_N):
            self.answer(event.key() == Qt.Key.Key_Y)
        else:
            super().keyPressEvent(event)


def _saved(seconds: float) -> str:
    return f"−{duration(seconds)}" if seconds > LEAST_S else ""
