"""Reach: what must come off before each part is free, and the route to the chosen ones."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QGuiApplication, QKeyEvent, QResizeEvent
from PySide6.QtWidgets import QBoxLayout, QGridLayout, QHBoxLayout, QPushButton, QWidget

from oddbolt.core.errors import OddBoltError
from oddbolt.core.reach import Route
from oddbolt.core.reach.describe import route_summary, step_text
from oddbolt.core.reach.overview import about, near_words
from oddbolt.core.reach.route_options import RouteOptions
from oddbolt.core.reach.spread import spread_of
from oddbolt.core.study.formatting import duration, plural
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.pages.reach_panels.open_questions import QuestionsPanel
from oddbolt.desk.pages.reach_panels.overview import OverviewPanel
from oddbolt.desk.pages.reach_panels.route_options import RouteOptionsPanel
from oddbolt.desk.pages.reach_panels.what_if import WhatIfPanel
from oddbolt.desk.painters.ribbon import Ribbon
from oddbolt.desk.painters.strata import CLOSER, Strata
from oddbolt.desk.state.actions import Action
from oddbolt.desk.state.figures import Trial
from oddbolt.desk.widgets.inputs import LineField
from oddbolt.desk.widgets.labels import Label, tip

#: what can stand below the strata
BELOW = ("route", "what holds it back", "open questions", "all parts")
#: a page narrower than this has two lines for one; lower than that it gives less room to what to mind
NARROW, SHORT, MIND_HIGH = 780, 640, 56
#: notes under the route
NOTES = ("Renew", "Cautions", "Nearby")


class ReachPage(Page):
    """Strata above, the route below."""

    title, about = "Reach", "what must come off before each part is free"
    step_asked = Signal(str)
    #: the route in words, once it is worked out
    answered = Signal(str)

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.targets: tuple[str, ...] = ()
        self.route: Route | None = None
        self.way = 0
        self._way_for: object = None
        self._build_head()
        self.strata, self.ribbon = Strata(), Ribbon()
        self.strata.about = lambda part: "\n".join(about(self.strata.study or self.session.study, part))
        self.box.addWidget(self.strata, 1)
        self.heading = QBoxLayout(QBoxLayout.Direction.LeftToRight)
        choice, line = QHBoxLayout(), QHBoxLayout()
        self.heading.addLayout(choice)
        self.heading.addSpacing(8)
        self.heading.addLayout(line, 1)
        self.below = self.words(choice, enumerate(BELOW))
        self.below.idClicked.connect(self.turn_to)
        choice.addStretch(1)
        self.route_name, self.summary = Label(), Label()
        self.route_name.setObjectName("head")
        self.summary.setObjectName("mono")
        line.addWidget(self.route_name)
        line.addSpacing(14)
        line.addWidget(self.summary, 1)
        self.box.addLayout(self.heading)
        self.box.addWidget(self.ribbon)
        self.route_options = RouteOptionsPanel(self.session, lambda: desk.settings.bench)
        self.route_options.changed.connect(self.refresh)
        self._build_ways(self.route_options.first)
        self.box.addWidget(self.route_options)
        self.notes = QWidget()
        notes = QGridLayout(self.notes)
        notes.setContentsMargins(0, 0, 0, 0)
        notes.setHorizontalSpacing(14)
        notes.setVerticalSpacing(2)
        notes.setColumnStretch(1, 1)
        self.renew, self.mind, self.passes = Label(), Label(), Label()
        for row, (word, label) in enumerate(zip(NOTES, (self.renew, self.mind, self.passes), strict=True)):
            head = Label(word)
            head.setObjectName("head")
            label.setWordWrap(True)
            notes.addWidget(head, row, 0, Qt.AlignmentFlag.AlignTop)
            notes.addWidget(label, row, 1)
        self.passes.setObjectName("quiet")
        self.mind.setMaximumHeight(MIND_HIGH)
        self.mind.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.box.addWidget(self.notes)
        self.what_if, self.questions, self.all = (
            WhatIfPanel(self.session, self.figures),
            QuestionsPanel(self.session, self.figures),
            OverviewPanel(self.session, self.figures),
        )
        for widget in (self.what_if, self.questions, self.all):
            widget.setFixedHeight(226)
            self.box.addWidget(widget)
        self.what_if.tried.connect(self.refresh)
        self.all.table.picked.connect(self._picked)
        self.strata.picked.connect(self._picked)
        self.ribbon.picked.connect(self.session.select)
        self.ribbon.opened.connect(self.step_asked)
        self.session.opened.connect(self._opened)

    def resizeEvent(self, event: QResizeEvent) -> None:
        narrow = self.width() < NARROW
        self.heading.setDirection(QBoxLayout.Direction.TopToBottom if narrow else QBoxLayout.Direction.LeftToRight)
        self.route_options.fit(narrow)
        self.mind.setMaximumHeight(MIND_HIGH if self.height() > SHORT else MIND_HIGH * 2 // 3)

    def _build_head(self) -> None:
        self.target = LineField(lambda: [p.name for p in self.session.study.parts.values()])
        self.target.setPlaceholderText("name a part to reach   Ctrl+T")
        self.target.setAccessibleName("part to reach")
        self.target.setObjectName("target")
        self.target.setFixedWidth(240)
        self.target.entered.connect(self._named)
        self.head.addWidget(self.target)
        self.head.addSpacing(10)
        caption = Label("depth in")
        caption.setObjectName("quiet")
        self.head.addWidget(caption)
        self.units = self.words(self.head, enumerate(("steps", "minutes")))
        self.units.idClicked.connect(lambda _: self.refresh())

    def _build_ways(self, line: QHBoxLayout) -> None:
        """At the end of the line of wishes: how sure the time is, the other routes there are, and the card."""
        self._answered = ""
        self.sure = Label()
        self.sure.setObjectName("quiet")
        self.sure.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        line.addWidget(self.sure, 1)
        line.addSpacing(12)
        self.stop = QPushButton("stop searching")
        self.stop.setObjectName("word")
        self.stop.setToolTip("Keep this route and stop searching for a better one")
        self.stop.clicked.connect(self._settle)
        line.addWidget(self.stop)
        self.other = QPushButton()
        self.other.setObjectName("word")
        self.other.clicked.connect(self._next_way)
        line.addWidget(self.other)
        self.card = QPushButton("Bench card …")
        self.card.clicked.connect(lambda: self.desk.actions.run("bench card"))
        line.addWidget(self.card)

    def actions_here(self) -> tuple[Action, ...]:
        here, strata = self.in_sight, self.strata
        panel, action = partial(Action, menu="View", group=1), partial(Action, menu="View", group=2)
        panels = (
            panel(f"reach {n}", f"Reach: {word}", run=here(partial(self.turn_to, n)), keys=f"Ctrl+Shift+{n + 1}")
            for n, word in enumerate(BELOW)
        )
        return (
            Action("target", "Go to part &to reach", "Work", here(self.ask_target), "Ctrl+T"),
            *panels,
            action("zoom in", "Strata: zoom &in", run=here(partial(strata.closer, CLOSER)), keys="Ctrl+="),
            action(
                "zoom out", "Strata: zoom &out", run=here(partial(strata.closer, 1 / CLOSER)), keys="Ctrl+-", group=2
            ),
            action("zoom all", "Strata: &whole device", run=here(strata.whole), keys="Ctrl+0"),
            action("fold", "Strata: &fold / unfold module", run=here(strata.fold_chosen), keys="Ctrl+."),
        )

    def ask_target(self) -> None:
        """Put the cursor where a part to reach is named."""
        self.target.setFocus()
        self.target.selectAll()

    def arrive(self) -> None:
        if self.session.selection in self.session.study.parts and self.session.selection not in self.targets:
            self.choose((self.session.selection,))
        self.strata.setFocus()

    def state(self) -> str:
        reach = self.figures.reach()
        if not reach:
            return ""
        study = self.session.study
        open_ = [p for p, r in reach.items() if study.parts[p].priority and r.steps and not r.steps.exact]
        return f"{len(open_)} open" if open_ else ""

    def choose(self, parts: tuple[str, ...]) -> None:
        """Make these parts the targets."""
        self.targets = parts
        self.target.set_shown("; ".join(self.session.study.name(p) for p in parts))
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        study = self.session.study
        self.targets = tuple(t for t in self.targets if t in study.parts)
        if not self.targets:
            first = next((p for p in study.parts.values() if p.priority), None)
            self.targets = (first.id,) if first else ()
        self.target.set_shown("; ".join(study.name(p) for p in self.targets))
        options = self.route_options.refresh(study)
        self._show_below(options)
        if (
            self.what_if.changes
            and (trial := self.figures.trial(self.what_if.changes, self.targets, options)) is not None
        ):
            self._show_trial(trial)
            return
        reach = self.figures.reach()
        found = self.figures.route(self.targets, options) if self.targets else (None, "")
        route, why_not = found if found is not None else (None, "")
        others = self.figures.others(self.targets, options) if route else ()
        ways = (route, *(others or ())) if route else ()
        if self._way_for != (self.targets, options):
            self.way, self._way_for = 0, (self.targets, options)
        self.way = self.way % len(ways) if ways else 0
        route = ways[self.way] if ways else None
        self._show_ways(ways)
        self.route = route
        waiting = reach is None or found is None
        self.strata.show_ground(study, reach or {}, self.units.checkedId() == 1, self.targets, route)
        self.ribbon.show_route(study, route, self.session.selection)
        names = " and ".join(study.name(p) for p in self.targets)
        self.route_name.setText(f"Route to {names}" if names else "No part chosen")
        self.summary.setText(self.figures.pending if waiting else route_summary(study, route) if route else "")
        self._notes(route, why_not)
        said = "" if waiting or not self.isVisible() else f"Route to {names}: {self.summary.text() or why_not}"
        if said and said != self._answered:
            self._answered = said
            self.answered.emit(said)

    def _show_ways(self, ways: Sequence[Route]) -> None:
        study = self.session.study
        spread = spread_of(study, ways[self.way].legs) if ways else None
        self.sure.setText(f"9 in 10 under {duration(spread.p90_s)}" if spread else "")
        carry = [f"{step_text(study, id)}: {share:.0%}" for id, share in spread.shares[:3]] if spread else []
        self.sure.setToolTip(tip("Main sources of uncertainty:\n" + "\n".join(carry)) if carry else "")
        self.other.setVisible(len(ways) > 1)
        if len(ways) > 1:
            after = ways[(self.way + 1) % len(ways)]
            which = "the best" if self.way + 1 == len(ways) else "another"
            self.other.setText(f"{which}: {duration(after.seconds)}")
        self.card.setEnabled(bool(ways))
        self.stop.setVisible(self.figures.improving)

    def _settle(self) -> None:
        self.figures.settle()
        self.stop.hide()

    def _next_way(self) -> None:
        self.way += 1
        self.refresh()

    def turn_to(self, n: int) -> None:
        """Show one of :data:`BELOW` below the strata."""
        self.below.button(n).setChecked(True)
        self.refresh()
        (self.strata, self.what_if.table, self.questions.table, self.all.table)[n].setFocus()

    def _show_below(self, options: RouteOptions) -> None:
        """Show what is asked for below the strata."""
        shown = self.below.checkedId()
        stands = ((self.ribbon, self.route_options, self.notes), (self.what_if,), (self.questions,), (self.all,))
        for n, widgets in enumerate(stands):
            for widget in widgets:
                widget.setVisible(n == shown)
        if shown == 1 or self.what_if.changes:
            self.what_if.refresh(self.targets, options)
        if shown == 2:
            self.questions.refresh(self.targets)
        if shown == 3:
            self.all.refresh(self.targets)

    def _show_trial(self, trial: Trial) -> None:
        """Show the study as it would be; other ways and a card there are of the record only."""
        self._show_ways(())
        targets = tuple(t for t in self.targets if t in trial.study.parts)
        self.strata.show_ground(trial.study, trial.reach, self.units.checkedId() == 1, targets, trial.route)
        self.ribbon.show_route(trial.study, trial.route, self.session.selection)
        self.route_name.setText(f"What if: route to {' and '.join(trial.study.name(p) for p in targets)}")
        self.summary.setText(route_summary(trial.study, trial.route) if trial.route else "")
        self.renew.setText("")
        self.passes.setText("")
        self.mind.setText(trial.why_not or "This is a what-if; the record is unchanged. Escape drops it.")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape and self.what_if.changes:
            self.what_if.keyPressEvent(event)
        else:
            super().keyPressEvent(event)

    def _notes(self, route: Route | None, why_not: str) -> None:
        study = self.session.study
        if route is None:
            self.renew.setText("")
            self.passes.setText("")
            self.mind.setText(why_not)
            return
        self.passes.setText(near_words(study, self.figures.passed(route) or ()) or "nothing nearby")
        renew = " · ".join(study.name(r) for r in route.totals.renew) or "nothing"
        from oddbolt.files.bench_card import supplies  # what writes cards takes long to load

        ready = supplies(study, route)
        self.renew.setText(f"{renew}{f'; have ready {ready}' if ready else ''}")
        minds = dict.fromkeys(self.figures.minds(route) or ())
        if route.facts == "least" and (reach := self.figures.reach()):
            doubtful = [p for p in self.targets if (r := reach[p]).steps and not r.steps.exact]
            if doubtful:
                minds[f"{plural(len(doubtful), 'part')} may lie deeper: facts are open"] = None
        self.mind.setText(" · ".join(minds) or "none")
        self.mind.setToolTip(tip("\n".join(minds)))

    def _picked(self, part: str) -> None:
        adding = QGuiApplication.keyboardModifiers() & (
            Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
        )
        if adding and part in self.targets and len(self.targets) > 1:
            self.targets = tuple(t for t in self.targets if t != part)
        else:
            self.targets = (*(t for t in self.targets if t != part), part) if adding else (part,)
        self.session.select(part)

    def _named(self, text: str) -> None:
        try:
            self.choose(self.session.named(text))
            if self.targets:
                self.session.select(self.targets[-1])
            self.strata.setFocus()
        except OddBoltError as error:
            self.session.tell(str(error))

    def _opened(self) -> None:
        self.targets, self.what_if.changes = (), ()
        self.route_options.forget()
        self.strata.folded.clear()
        self.strata.seek("")
        self.strata.whole()
