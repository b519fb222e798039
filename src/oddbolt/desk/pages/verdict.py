"""Verdict: the schemes side by side, each with its arithmetic and its evidence."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from oddbolt.core.study import Study
from oddbolt.core.verdict import SCHEMES, Judgement, Scheme
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.painters.ledger import Ledger
from oddbolt.desk.painters.routes import Routes
from oddbolt.desk.state.figures import Figures
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.labels import Label
from oddbolt.desk.widgets.tables import Cell, Rows, Table

#: below this many lines a table of entries is as high as its lines
MOST_LINES = 14


class SchemeView(QWidget):
    """One scheme: name, headline, what it looks at, entries and what is missing. ``picked`` gives a cause."""

    picked = Signal(str)
    #: its share of the page's width
    share = 3

    def __init__(self, scheme: Scheme, figures: Figures) -> None:
        super().__init__()
        self.scheme, self.figures = scheme, figures
        self.box = QVBoxLayout(self)
        self.box.setContentsMargins(0, 0, 0, 0)
        self.box.setSpacing(4)
        self.headline, self.about, self.missing = Label(), Label(scheme.about), Label()
        self.headline.setObjectName("mark")
        self.about.setObjectName("quiet")
        self.missing.setObjectName("copper")
        for label in (self.about, self.missing):
            label.setWordWrap(True)
        self.box.addWidget(_head(scheme.name))
        self.box.addWidget(self.headline)
        self.box.addWidget(self.about)
        self.build()
        self.box.addWidget(self.missing)

    def build(self) -> None:
        """Lay out the arithmetic: a table of entries, unless a scheme has a picture of its own."""
        self.rows = Rows(("",))
        self.table = Table(self.rows, f"{self.scheme.name}: its entries")
        self.table.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.table.picked.connect(self.picked)
        self.box.addWidget(self.table)

    def show_judgement(self, study: Study, judged: Judgement | None, chosen: str) -> None:
        """Show what the scheme says, or that it is being worked out."""
        if judged is None:
            self.headline.setText("…")
            self.about.setText(self.figures.pending)
            return
        unverified = "" if judged.verified else ", unverified"
        self.headline.setText(judged.headline or ("" if judged.entries else "no figure yet"))
        self.headline.setVisible(bool(self.headline.text()))
        self.about.setText(f"{self.scheme.about} Source: {judged.source}{unverified}.")
        self.missing.setText(" ".join(judged.missing))
        self.missing.setVisible(bool(judged.missing))
        self.show_entries(study, judged, chosen)

    def show_entries(self, study: Study, judged: Judgement, chosen: str) -> None:
        """Show the entries."""
        if self.rows.heads != list(judged.heads):
            self.rows.figures = set(range(1, len(judged.heads) - 1))
            self.rows.rename(judged.heads)
        ids = [entry.causes[0] if entry.causes else str(n) for n, entry in enumerate(judged.entries)]
        cells: list[list[Cell]] = [[(t, t.casefold()) for t in (e.about, *e.figures)] for e in judged.entries]
        self.table.refresh(ids, cells, set(), chosen)
        self.table.resizeColumnsToContents()
        room = 14  # for the bar below, when the columns are wider than the page
        self.table.setFixedHeight(34 + room + 25 * max(1, min(len(ids), MOST_LINES)))


class MarkView(SchemeView):
    """The bench mark: a ledger from ten down to what is left."""

    share = 2

    def build(self) -> None:
        self.ledger = Ledger()
        self.ledger.picked.connect(self.picked)
        scroll = QScrollArea()
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)  # what lies in it takes the focus
        scroll.setWidgetResizable(True)
        scroll.setWidget(self.ledger)
        self.box.addWidget(scroll, 1)

    def show_entries(self, study: Study, judged: Judgement, chosen: str) -> None:
        mark = self.figures.mark()
        self.ledger.show_mark(mark if mark is not None and mark.value is not None else None)


class CountsView(SchemeView):
    """Counting: the table, and the routes on one scale of time."""

    def build(self) -> None:
        super().build()
        self.routes = Routes()
        self.routes.picked.connect(self.picked)
        self.box.addSpacing(14)
        self.box.addWidget(_head("The same routes on one scale of time"))
        self.box.addWidget(self.routes)
        self.box.addStretch(1)

    def show_entries(self, study: Study, judged: Judgement, chosen: str) -> None:
        super().show_entries(study, judged, chosen)
        self.routes.show_counts(study, self.figures.counts() or (), chosen)


#: schemes with a picture of their own; others show a table of their entries
VIEWS: Mapping[str, Callable[[Scheme, Figures], SchemeView]] = {"bench mark": MarkView, "counting": CountsView}


class VerdictPage(Page):
    """Every scheme there is, side by side."""

    title, about = "Verdict", "how repairable it is, by each scheme, and why"

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.box.setSpacing(10)
        sides = QHBoxLayout()
        sides.setSpacing(26)
        self.views = {id: VIEWS.get(id, SchemeView)(scheme, self.figures) for id, scheme in SCHEMES.items()}
        for view in self.views.values():
            view.picked.connect(self.session.select)
            sides.addWidget(view, view.share)
        self.box.addLayout(sides, 1)

    def arrive(self) -> None:
        self.focusNextChild()

    def state(self) -> str:
        mark = self.figures.mark() if self.session.study.steps else None
        return f"{mark.value:g} of 10" if mark is not None and mark.value is not None else ""

    def refresh(self) -> None:
        for id, view in self.views.items():
            view.show_judgement(self.session.study, self.figures.judgement(id), self.session.selection)


def _head(name: str) -> QLabel:
    label = Label(name)
    label.setFont(theme.text(11, bold=True))
    label.setObjectName("head")
    return label
