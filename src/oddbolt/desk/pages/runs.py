"""Runs and clocks: runs laid one under another, their laps to be put right, and what the time study makes of them."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QResizeEvent
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QHeaderView, QScrollArea, QVBoxLayout

from oddbolt.core.errors import ReachError
from oddbolt.core.reach import TimeStudy, time_study
from oddbolt.core.reach.describe import step_text
from oddbolt.core.reach.motions import estimate
from oddbolt.core.study import Run, Study
from oddbolt.core.study.formatting import duration, plural, stopwatch
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.painters.tapes import Tape, Tapes, TapeSegment
from oddbolt.desk.state.actions import Action
from oddbolt.desk.widgets.labels import Label
from oddbolt.desk.widgets.tables import Cell, Rows, Table

#: below this width, px, the ranges of the time study are left out
NARROW = 700
#: so many runs have their columns in sight beside the steps; more are scrolled to
MOST_IN_SIGHT = 3
FIT_HEADS = ("work", "laps", "once, s", "each, s", "8 of 10", "by motions, s")
NONE_YET = "No run yet. The first logged step starts a discovery run; the Work menu starts a timed or put-back run."


class RunsPage(Page):
    """Tapes above, laps and the time study below. ``left`` says that the way back is asked for."""

    title = "Runs"

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.run = ""
        self.tapes = Tapes()
        self.tapes.picked.connect(self._picked)
        self.shares = QCheckBox("as shares of each run")
        self.shares.toggled.connect(self.tapes.show_shares)
        self.head.addWidget(self.shares)
        scroll = QScrollArea()
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)  # what lies in it takes the focus
        scroll.setObjectName("flat")
        scroll.setWidgetResizable(True)
        scroll.setWidget(self.tapes)
        self.laps = Table(Rows(("step", "what"), figures=(0, 2, 3, 4, 5, 6)), "Laps")
        self.laps.horizontalHeader().setStretchLastSection(False)
        self.laps.picked.connect(self.session.select)
        self.fit = Table(Rows(FIT_HEADS, figures=(1, 2, 3, 4, 5)), "Times per kind of work")
        self.fit.widths(78, 40, 58, 58, 112)
        self.fit_words, self.learning = Label(), Label()
        for words in (self.fit_words, self.learning):
            words.setWordWrap(True)
            words.setObjectName("quiet")
        self.below = below = QHBoxLayout()
        below.setSpacing(16)
        fitted = QVBoxLayout()
        title = Label("On this bench")
        title.setObjectName("head")
        fitted.addWidget(title)
        fitted.addWidget(self.fit, 1)
        fitted.addWidget(self.fit_words)
        fitted.addWidget(self.learning)
        below.addWidget(self.laps, 43)
        below.addLayout(fitted, 57)
        keys = Label("arrows move   F2 edit lap in the margin   Enter select run   Esc back")
        keys.setObjectName("caption")
        self.box.addWidget(scroll, 36)
        self.box.addLayout(below, 64)
        self.box.addWidget(keys)

    def actions_here(self) -> tuple[Action, ...]:
        return (Action("runs", "&Runs", "Work", self.wanted.emit, "Ctrl+R", 1),)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        narrow = self.width() < NARROW
        for column in (4, 5):
            self.fit.setColumnHidden(column, narrow)
        self.below.setStretch(0, 59 if narrow else 43)
        self.below.setStretch(1, 41 if narrow else 57)

    def arrive(self) -> None:
        self.tapes.setFocus()
        self.laps.choose(self.session.selection)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(event)

    def _picked(self, run: str, step: str) -> None:
        self.run = run
        self.session.select(step or run)

    def refresh(self) -> None:
        study = self.session.study
        chosen = self.session.selection
        if chosen in study.runs:
            self.run = chosen
        found, why_not = _studied(study)
        odd = {(o.run, o.step): o.expected_s for o in found.odd} if found else {}
        number = {id: n for n, id in enumerate(study.steps, 1)}
        tapes = [_tape(run, number, set(odd)) for run in study.runs.values()]
        self.beside.setText(plural(len(tapes), "run") if tapes else NONE_YET)
        self.tapes.show_tapes(tapes, lambda id: step_text(study, id), self.run, chosen)
        self._show_laps(study, found, odd)
        self._show_fit(found, why_not)

    def _show_laps(self, study: Study, found: TimeStudy | None, odd: dict[tuple[str, str], float]) -> None:
        runs = list(study.runs.values())
        heads = ("step", "what", "by fit" if found else "motions", *(r.id for r in runs))
        took = {r.id: {lap.step: lap.seconds for lap in r.laps} for r in runs}
        ids = [id for id in study.steps if any(id in t for t in took.values())]
        cells: list[list[Cell]] = []
        for id in ids:
            step = study.steps[id]
            expected = found.seconds(study, step) if found and step.phase == "apart" else estimate(study, step)
            row: list[Cell] = [(str(study.step_number(id)), float(study.step_number(id))), (step_text(study, id), id)]
            row.append((stopwatch(expected), expected))
            for run in runs:
                seconds = took[run.id].get(id)
                out = " !" if (run.id, id) in odd else ""
                row.append(("", -1.0) if seconds is None else (f"{stopwatch(seconds)}{out}", seconds))
            cells.append(row)
        self.laps.rows.rename(heads)
        self.laps.widths(40, 110, 58, *(58 for _ in runs))
        wide = QHeaderView.ResizeMode.Interactive if len(runs) > MOST_IN_SIGHT else QHeaderView.ResizeMode.Stretch
        self.laps.horizontalHeader().setSectionResizeMode(1, wide)
        marked = {id for id in ids if any((r.id, id) in odd for r in runs)}
        self.laps.refresh(ids, cells, marked, self.session.selection)

    def _show_fit(self, found: TimeStudy | None, why_not: str) -> None:
        if found is None:
            self.fit.refresh([], [], set(), "")
            self.fit_words.setText(why_not)
            self.learning.setText("")
            return
        cells: list[list[Cell]] = []
        for f in found.fitted:
            low, high = f.each_span
            motions = f"{f.motions_approach_s:.1f} + {f.motions_each_s:.1f}"
            cells.append(
                [
                    (f.kind, f.kind),
                    (str(f.laps), float(f.laps)),
                    (f"{f.approach_s:.1f}", f.approach_s),
                    (f"{f.each_s:.1f}", f.each_s),
                    (f"{low:.1f} to {high:.1f}", low),
                    (motions, f.motions_each_s),
                ]
            )
        self.fit.refresh([f.kind for f in found.fitted], cells, set(), "")
        outliers = f"{plural(len(found.odd), 'lap')} stand out (copper)" if found.odd else "no lap stands out"
        self.fit_words.setText(
            f"Once per joint, and each per piece, part or cm. Half of {found.laps} laps lie within "
            f"{found.typical_s:.1f} s of this; {outliers}."
        )
        learned = found.learning
        if learned is None:
            self.learning.setText("A second run over the same steps shows the learning rate.")
            return
        nth = len(learned.runs) + 1
        self.learning.setText(
            f"Each doubling of runs leaves {learned.rate:.0%} of the time ({plural(learned.steps, 'step')}, "
            f"{plural(len(learned.runs), 'run')}); run {nth} would take about {duration(learned.run_s(nth))}."
        )


def _studied(study: Study) -> tuple[TimeStudy | None, str]:
    try:
        return time_study(study), ""
    except ReachError as error:
        return None, str(error)


def _tape(run: Run, number: dict[str, int], odd: set[tuple[str, str]]) -> Tape:
    pieces = tuple(TapeSegment(lap.step, number[lap.step], lap.seconds, (run.id, lap.step) in odd) for lap in run.laps)
    began = run.started[:16].replace("T", " ")
    return Tape(run.id, " · ".join(filter(None, (run.id, run.kind, began, plural(len(pieces), "lap")))), pieces)
