"""Below the strata: what is not known yet, and facts that cannot all be."""

from __future__ import annotations

from attrs import frozen
from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QPushButton

from oddbolt.core.reach.questions import in_words, signed
from oddbolt.core.reach.step_masks import priority_parts
from oddbolt.core.study import Study
from oddbolt.core.study.formatting import duration, plural
from oddbolt.desk.pages.reach_panels.panel import ReachPanel
from oddbolt.desk.state.figures import Figures
from oddbolt.desk.state.session import Session
from oddbolt.desk.widgets.tables import Cell, Rows, Table


@frozen
class QuestionLine:
    """One thing to answer: whether ``over`` lay over ``under``, in words, what the answer does, and for what parts.
    ``fact`` is the fact in doubt where it is one that was stated already."""

    over: str
    under: str
    words: str
    narrows: Cell
    parts: tuple[str, ...]
    fact: str = ""


class QuestionsPanel(ReachPanel):
    """The questions on which the reach of the parts rests, the one that tells most first; before them the facts that
    contradict each other. Y and N answer."""

    def __init__(self, session: Session, figures: Figures) -> None:
        rows = Rows(("question", "narrows by", "for"), figures=(1,))
        super().__init__(session, figures, Table(rows, "Open questions"))
        self.lines: tuple[QuestionLine, ...] = ()
        self.at = 0
        self.table.widths(420, 130, 200)
        self.table.picked.connect(self._picked)
        self.yes, self.no = QPushButton("Yes   Y"), QPushButton("No   N")
        self.yes.clicked.connect(lambda: self.answer(True))
        self.no.clicked.connect(lambda: self.answer(False))
        self.line.addWidget(self.yes)
        self.line.addWidget(self.no)
        self.setFocusProxy(self.table)
        self.table.installEventFilter(self)

    def refresh(self, targets: tuple[str, ...]) -> None:
        """Show what is open about these parts and the priority parts."""
        study = self.session.study
        parts = tuple(dict.fromkeys((*targets, *priority_parts(study))))
        conflicts, found = self.figures.conflicts(parts), self.figures.open_questions(parts)
        doubtful: dict[str, list[str]] = {}
        for part, facts in (conflicts or {}).items():
            for fact in facts:
                doubtful.setdefault(fact, []).append(part)
        lines = [self._doubt(study, fact, tuple(stuck)) for fact, stuck in doubtful.items()]
        for q in found or ():
            narrows: Cell = (duration(q.narrows_s) if q.narrows_s else "steps only", q.narrows_s)
            lines.append(QuestionLine(q.over, q.under, q.words(study), narrows, q.parts))
        self.lines = tuple(lines)
        self.at = min(self.at, max(0, len(lines) - 1))
        cells: list[list[Cell]] = [
            [(q.words, q.words), q.narrows, (", ".join(study.name(p) for p in q.parts), "")] for q in lines
        ]
        marked = {str(n) for n, line in enumerate(lines) if line.fact}
        self.table.refresh([str(n) for n in range(len(cells))], cells, marked, str(self.at) if cells else "")
        for button in (self.yes, self.no):
            button.setVisible(bool(cells))
        waits = found is None or conflicts is None
        self.said.setText(f"Open questions: {self.figures.pending}" if waits else self._words(study))

    def _doubt(self, study: Study, id: str, stuck: tuple[str, ...]) -> QuestionLine:
        fact = study.facts[id]
        words = f"{in_words(study, fact.over, fact.under)} ({signed(study, fact)})"
        return QuestionLine(fact.over, fact.under, words, ("contradiction", 1e9), stuck, id)

    def _words(self, study: Study) -> str:
        if not self.lines:
            return "No open questions: the reach of these parts is exact."
        line = self.lines[self.at]
        doubts = sum(bool(one.fact) for one in self.lines)
        if line.fact:
            names = " and ".join(study.name(p) for p in line.parts)
            asked = line.words.split("? (")[0] + "?"
            return f"{asked}  {doubts} facts contradict each other; with them {names} cannot be reached."
        left = f"At most {plural(len(self.lines) - doubts, 'answer')} until every priority part is exact."
        return f"{line.words}  {left}"

    def _picked(self, id: str) -> None:
        self.at = int(id)
        line = self.lines[self.at]
        self.said.setText(self._words(self.session.study))
        self.session.choose(tuple(i for i in (line.under, line.over) if i))

    def answer(self, yes: bool) -> None:
        """Answer the line chosen."""
        if self.lines:
            line = self.lines[self.at]
            self.session.answer(line.over, line.under, yes)
            if yes and line.fact:
                self.at = (self.at + 1) % len(self.lines)  # that one holds; which other does not?
                self.refresh(line.parts)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Y and N before the table looks for a row that begins so."""
        pressed = event.type() == QEvent.Type.KeyPress and isinstance(event, QKeyEvent) and not event.modifiers()
        if pressed and event.key() in (Qt.Key.Key_Y, Qt.Key.Key_N):  # type: ignore[attr-defined]
            self.answer(event.key() == Qt.Key.Key_Y)  # type: ignore[attr-defined]
            return True
        return super().eventFilter(watched, event)
