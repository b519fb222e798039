"""Below the strata: all parts at a glance, a bar for each figure, priority parts first."""

from __future__ import annotations

from oddbolt.core.reach.overview import PartOverview
from oddbolt.core.study import Study
from oddbolt.core.study.formatting import plural, span
from oddbolt.desk.pages.reach_panels.panel import ReachPanel
from oddbolt.desk.state.figures import Figures
from oddbolt.desk.state.session import Session
from oddbolt.desk.widgets.tables import Bar, Cell, Rows, Table

HEADS = ("part", "steps", "time", "tools", "to renew", "risk")


class OverviewPanel(ReachPanel):
    """Every part that some step frees: steps, time, tools, renewals and risk."""

    def __init__(self, session: Session, figures: Figures) -> None:
        super().__init__(session, figures, Table(Rows(HEADS), "Overview of all parts"))
        self.table.widths(150, 120, 220, 84, 84, 90)
        self.bars = [Bar(self.table) for _ in HEADS[1:]]
        for n, bar in enumerate(self.bars, 1):
            self.table.setItemDelegateForColumn(n, bar)

    def refresh(self, targets: tuple[str, ...]) -> None:
        """Show all parts, the first of these chosen."""
        study, found = self.session.study, self.figures.glance()
        cells = [_cells(study, g) for g in found or ()]
        for n, bar in enumerate(self.bars, 1):
            bar.most = max((float(row[n][1]) for row in cells), default=1.0)
        ids = [g.part for g in found or ()]
        marked = {id for id in ids if study.parts[id].priority}
        self.table.refresh(ids, cells, marked, targets[-1] if targets else "")
        known = set(ids)
        shut = [p for p, r in (self.figures.reach() or {}).items() if p not in known and r.why_not]
        words = f"{plural(len(ids), 'part')}, {len(marked)} priority parts first. Risk is in points, not a probability."
        if shut:
            words += f" {plural(len(shut), 'part')} cannot be reached."
        self.said.setText(words if found is not None else f"All parts: {self.figures.pending}")


def _cells(study: Study, glance: PartOverview) -> list[Cell]:
    steps, seconds, name = glance.reach.steps, glance.reach.seconds, study.name(glance.part)
    assert steps is not None
    assert seconds is not None
    return [
        (name, name.casefold()),
        (span(steps.least, steps.most, "steps"), steps.least),
        (glance.reach.time, seconds.least),
        (str(len(glance.tools)), len(glance.tools)),
        (str(glance.renewals), glance.renewals),
        (f"{glance.risk:g}", glance.risk),
    ]
