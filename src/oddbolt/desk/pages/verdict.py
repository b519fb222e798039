"""Verdict: the schools side by side, each with its arithmetic and its evidence."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QLabel, QScrollArea, QVBoxLayout

from oddbolt.core.study import Study
from oddbolt.core.study.formatting import duration
from oddbolt.core.verdict import Count
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.painters.ledger import Ledger
from oddbolt.desk.painters.routes import Routes
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.tables import Cell, Rows, Table

HEADS = ("part", "steps", "screws", "tools", "time", "renew")


class VerdictPage(Page):
    """The bench mark at the left, counting at the right."""

    title, about = "Verdict", "how repairable it is, by two schools, and why"

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        sides = QHBoxLayout()
        self.box.setSpacing(10)
        sides.setSpacing(26)
        left, right = QVBoxLayout(), QVBoxLayout()
        left.setSpacing(4)
        right.setSpacing(4)
        self.value, self.source = QLabel(), QLabel()
        self.value.setObjectName("mark")
        self.source.setObjectName("quiet")
        self.source.setWordWrap(True)
        self.ledger = Ledger()
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(self.ledger)
        self.asked = QLabel()
        self.asked.setObjectName("copper")
        self.asked.setWordWrap(True)
        for widget, stretch in ((_school("The bench mark"), 0), (self.value, 0), (self.source, 0), (scroll, 1)):
            left.addWidget(widget, stretch)
        left.addWidget(self.asked)
        self.rows = Rows(HEADS, figures=(1, 2, 3, 4))
        self.table = Table(self.rows, "Counts of the priority parts")
        self.table.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.routes = Routes()
        self.table.widths(104, 48, 56, 44, 106, 60)
        counted = QLabel(
            "Steps, fasteners and tools before each priority part is free. A step ends when a part comes off or the "
            "tool changes (EU 2023/1669 and EN 45554, from memory, unverified)."
        )
        counted.setObjectName("quiet")
        counted.setWordWrap(True)
        right.addWidget(_school("Counting"))
        right.addWidget(counted)
        right.addWidget(self.table)
        right.addSpacing(14)
        right.addWidget(_school("The same routes on one scale of time"))
        right.addWidget(self.routes)
        right.addStretch(1)
        sides.addLayout(left, 9)
        sides.addLayout(right, 10)
        self.box.addLayout(sides, 1)
        self.ledger.picked.connect(self.session.select)
        self.table.picked.connect(self.session.select)
        self.routes.picked.connect(self.session.select)

    def arrive(self) -> None:
        self.ledger.setFocus()

    def state(self) -> str:
        mark = self.figures.mark() if self.session.study.steps else None
        return f"{mark.value:g} of 10" if mark is not None else ""

    def refresh(self) -> None:
        study, mark, counts = self.session.study, self.figures.mark(), self.figures.counts()
        self.ledger.show_mark(mark)
        self.value.setText(f"{mark.value:g} of 10" if mark is not None else "…")
        if mark is not None:
            self.source.setText(
                f"Rules: {mark.source}{'' if mark.verified else ', unverified'}. Pick a line to see its cause."
            )
            self.asked.setText(" ".join(mark.open_questions))
        ids = [c.part for c in counts or ()]
        self.table.setFixedHeight(34 + 25 * max(1, min(len(ids), 14)))
        self.routes.show_counts(study, counts or (), self.session.selection)
        self.table.refresh(ids, [_cells(study, c) for c in counts or ()], set(), self.session.selection)


def _school(name: str) -> QLabel:
    label = QLabel(name)
    label.setFont(theme.text(11, bold=True))
    label.setObjectName("head")
    return label


def _cells(study: Study, count: Count) -> list[Cell]:
    name = (study.name(count.part), study.name(count.part).casefold())
    if count.route is None:
        return [name, ("—", 1e9), ("—", 1e9), ("—", 1e9), ("no way", 1e9), (count.why_not, "")]
    t = count.route.totals
    steps = str(t.steps) + ("+" if count.steps is not None and not count.steps.exact else "")
    screws = str(t.fasteners) + ("+?" if t.fasteners_uncounted else "")
    renew = ", ".join(study.name(r) for r in t.renew)
    return [
        name,
        (steps, t.steps),
        (screws, t.fasteners),
        (str(len(t.tools)), len(t.tools)),
        (duration(count.route.seconds), count.route.seconds),
        (renew, len(t.renew)),
    ]
