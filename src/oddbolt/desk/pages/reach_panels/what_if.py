"""Below the strata: what holds the device back, tried over the study without touching it."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QPushButton

from oddbolt.core.reach.route_options import RouteOptions
from oddbolt.core.reach.step_masks import priority_parts
from oddbolt.core.reach.what_if import LEAST_S, Change, Effect, all_in_words, dropped, keep, kept
from oddbolt.core.study.formatting import duration, plural
from oddbolt.desk.pages.reach_panels.panel import ReachPanel
from oddbolt.desk.painters.effort_plot import Cheap
from oddbolt.desk.state.figures import Figures, Trial
from oddbolt.desk.state.session import Session
from oddbolt.desk.widgets.inputs import LineField, word_group
from oddbolt.desk.widgets.tables import Cell, Rows, Table

#: which changes are listed
LISTS = ("by itself", "only together", "no benefit")


class WhatIfPanel(ReachPanel):
    """Every change that would help, the best first; pairs that only help together; changes that nobody needs. ``tried``
    says that another what-if lies over the study."""

    tried = Signal()

    def __init__(self, session: Session, figures: Figures) -> None:
        rows = Rows(("change", "this route", "all priority parts", "helps"), figures=(1, 2))
        super().__init__(session, figures, Table(rows, "What holds it back"))
        self.changes: tuple[Change, ...] = ()
        self.targets: tuple[str, ...] = ()
        self.options = RouteOptions()
        self._rows: list[tuple[Change, ...]] = []
        self.table.widths(228, 112, 128, 100)
        self.table.picked.connect(self._picked)
        self.said.setObjectName("copper")
        self.lists = word_group(self, self.line, enumerate(LISTS))
        self.lists.idClicked.connect(lambda _: self.refresh(self.targets, self.options))
        self.name = LineField()
        self.name.setPlaceholderText("save as …")
        self.name.setAccessibleName("name of the what-if")
        self.name.setFixedWidth(150)
        self.name.entered.connect(self._keep)
        self.drop = QPushButton("Drop")
        self.drop.setToolTip("Escape")
        self.drop.clicked.connect(self.drop_trial)
        self.line.addWidget(self.name)
        self.line.addWidget(self.drop)
        self.cheap = Cheap()
        self.cheap.picked.connect(self._try)
        self.across.addWidget(self.cheap)
        self.across.setStretch(0, 5)
        self.across.setStretch(1, 2)
        figures.weighed.connect(self._weighed)

    def refresh(self, targets: tuple[str, ...], options: RouteOptions = RouteOptions()) -> None:  # noqa: B008 - frozen
        """Show the changes by what they save on the way to these parts."""
        study = self.session.study
        targets = tuple(t for t in targets if t in study.parts)
        self.targets, self.options = targets, options
        self.changes = tuple(c for c in self.changes if study.find(c.about) is not None)
        parts = tuple(dict.fromkeys((*targets, *priority_parts(study))))
        alone = self.figures.held_back(parts)
        shown = self.lists.checkedId()
        effects = self.figures.together(parts) if shown == 1 else alone
        self.cheap.show_effects(alone or (), self.changes, self._named)
        if effects is None:
            self._show_rows([], kept(study), {})
            self.said.setText("Evaluating changes …" if alone is None else "Evaluating pairs …")
        else:
            own = {e: sum(b - a for p, b, a in e.parts if p in targets) for e in effects}
            listed = [e for e in effects if (e.seconds > LEAST_S) == (shown != 2)]
            listed.sort(key=lambda e: (-own[e], -e.seconds))
            self._show_rows(listed, kept(study) if shown == 0 else {}, own)
            self.said.setText(self._heading(shown, len(listed), len(effects)))
        for widget in (self.name, self.drop):
            widget.setVisible(bool(self.changes))
        for button in self.lists.buttons():
            button.setVisible(not self.changes)
        if self.changes:
            self.said.setText(self._moved(self.figures.trial(self.changes, targets, options)))
            self.drop.setText("Delete" if self._known_as() else "Drop")

    @staticmethod
    def _heading(shown: int, listed: int, of: int) -> str:
        if shown == 1:
            return f"{plural(listed, 'pair')} of changes that only help together." if listed else "No pair helps."
        if shown == 2:
            return f"{plural(listed, 'change')} help no part; leave them as they are."
        return f"Select a change to try it. {plural(of - listed, 'other change')} help no part."

    def _weighed(self, n: int, of: int) -> None:
        if self.isVisible() and not self.changes and n < of:
            self.said.setText(f"Evaluating changes: {n} of {of} …")

    def _named(self, effect: Effect) -> str:
        return all_in_words(self.session.study, effect.changes)

    def _show_rows(
        self, effects: Sequence[Effect], named: dict[str, tuple[Change, ...]], own: dict[Effect, float]
    ) -> None:
        study = self.session.study
        self._rows = [*named.values(), *(e.changes for e in effects)]
        cells: list[list[Cell]] = []
        for name, what in named.items():
            words = f"{name}: {all_in_words(study, what)}"
            cells.append([(words, ""), ("kept", 1e9), ("", 1e9), ("", "")])
        for e in effects:
            helped = ", ".join(study.name(p) for p in e.helped)
            words = self._named(e)
            saved = own[e]
            cells.append([(words, words), (_saved(saved), saved), (_saved(e.seconds), e.seconds), (helped, helped)])
        chosen = next((str(n) for n, what in enumerate(self._rows) if what == self.changes), "")
        marked = {str(n) for n in range(len(named))}
        self.table.refresh([str(n) for n in range(len(cells))], cells, marked, chosen)

    def _moved(self, trial: Trial | None) -> str:
        study = self.session.study
        words = all_in_words(study, self.changes)
        if trial is None:
            return f"What if: {words}? {self.figures.pending}"
        said = [f"What if: {words}?"]
        for part in self.targets:
            before, after = trial.before.get(part), trial.after.get(part)
            if before is not None and after is not None:
                said.append(f"{study.name(part)} {duration(after)} instead of {duration(before)}.")
        if trial.mark_before is not None and trial.mark_after is not None:
            moved = trial.mark_before != trial.mark_after
            now = f"{trial.mark_after:g} instead of {trial.mark_before:g}" if moved else f"stays {trial.mark_before:g}"
            said.append(f"Bench mark {now}.")
        if trial.judged:
            said.append(f"{trial.school}: {trial.judged}.")
        return " ".join(said)

    # -- the hand -------------------------------------------------------------------------------------------

    def _picked(self, id: str) -> None:
        self._try(self._rows[int(id)])

    def _try(self, changes: tuple[Change, ...]) -> None:
        self.changes = changes
        self.tried.emit()

    def drop_trial(self) -> None:
        """Take the what-if off the study; one that was kept is forgotten."""
        name = self._known_as()
        self.changes = ()
        self.table.clearSelection()
        if name:
            self.session.attempt("delete what-if", dropped, name)
        self.tried.emit()

    def _known_as(self) -> str:
        return next((name for name, what in kept(self.session.study).items() if what == self.changes), "")

    def _keep(self, text: str) -> None:
        if self.changes and text.strip() and self.session.attempt("save what-if", keep, text, self.changes):
            self.session.tell(f"Kept as {text.strip()}; the record is unchanged.")
        self.name.set_shown("")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape and self.changes:
            self.changes = ()
            self.table.clearSelection()
            self.tried.emit()
        else:
            super().keyPressEvent(event)


def _saved(seconds: float) -> str:
    return f"−{duration(seconds)}" if seconds > LEAST_S else ""
