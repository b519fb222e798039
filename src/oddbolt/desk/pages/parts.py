"""Parts: everything with a name, how deep it lies and what becomes of it."""

from __future__ import annotations

from PySide6.QtWidgets import QLineEdit

from oddbolt.core.reach import Reach
from oddbolt.core.study import Part, Study
from oddbolt.core.study.formatting import plural, span
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.widgets.tables import Bar, Cell, Rows, Table

HEADS = ("part", "inside", "free after", "work", "kind", "mass", "reuse", "step")
DEPTH = 2


class Parts(Page):
    """The list of parts, with a band of ground behind each depth."""

    title = "Parts"

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.rows = Rows(HEADS, figures=(3, 5, 7))
        self.table = Table(self.rows, "Parts")
        self.table.widths(140, 104, 122, 204, 74, 60, 66, 50)
        self.band = Bar(self.table)
        self.table.setItemDelegateForColumn(DEPTH, self.band)
        self.finder = QLineEdit()
        self.finder.setAccessibleDescription("Shows only the parts that hold these words.")
        self.finder.setPlaceholderText("find a part …")
        self.finder.setAccessibleName("Find part")
        self.finder.setFixedWidth(230)
        self.finder.textChanged.connect(self.table.filter)
        self.head.addWidget(self.finder)
        self.box.addWidget(self.table, 1)
        self.table.picked.connect(self.session.select)
        self.table.several.connect(self.session.choose)

    def arrive(self) -> None:
        self.table.setFocus()

    def state(self) -> str:
        return plural(len(self.session.study.parts), "part") if self.session.study.parts else ""

    def refresh(self) -> None:
        study = self.session.study
        reach = self.figures.reach() or {}
        number = {p: n for n, s in enumerate(study.steps.values(), 1) if s.phase == "apart" for p in s.takes_out}
        ids = list(study.parts)
        cells = [_cells(study, study.parts[id], reach.get(id), number.get(id)) for id in ids]
        self.band.most = max((r.steps.most for r in reach.values() if r.steps), default=1.0)
        priority = {id for id in ids if study.parts[id].priority}
        self.table.refresh(ids, cells, priority, self.session.selection, self.session.chosen)
        chosen = sum(p.priority for p in study.parts.values())
        waiting = f" · depths {self.figures.pending}" if not reach and study.parts else ""
        self.beside.setText(
            f"{plural(len(ids), 'part')}, {chosen} priority (copper){waiting}"
            if ids
            else "none yet: log what comes off, or add one with Ctrl+Shift+Ins"
        )


def _cells(study: Study, part: Part, reach: Reach | None, step: int | None) -> list[Cell]:
    inside = study.name(part.inside) if part.inside else ""
    steps, work = ("", 1e9), ("", 1e9)
    if reach is not None and reach.steps and reach.seconds:
        steps = (span(reach.steps.least, reach.steps.most, "steps"), reach.steps.least)
        work = (reach.time, reach.seconds.least)
    elif reach is not None:
        steps = ("no route recorded", 1e8)
    return [
        (part.name, part.name.casefold()),
        (inside, inside.casefold()),
        steps,
        work,
        (part.kind, part.kind),
        (f"{part.mass_g:g} g" if part.mass_g is not None else "", part.mass_g or 0.0),
        (part.reuse, part.reuse),
        (str(step or ""), step or 10**6),
    ]
