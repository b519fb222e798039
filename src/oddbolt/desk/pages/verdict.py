"""Verdict: the bench mark as a ledger, and beside it the school that is chosen, with its arithmetic, evidence and
weights."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QCursor
from PySide6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QMenu,
    QPushButton,
    QScrollArea,
    QSlider,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from oddbolt.core.study import Study, change
from oddbolt.core.verdict import SCHEMES, SPECS, Ask, Judgement, Scheme, Spec, composite, judgement, scheme_of
from oddbolt.core.verdict.weighing import near_in_words, tornado
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.pages.verdict_panels.target_box import TargetBox
from oddbolt.desk.painters.ledger import Ledger
from oddbolt.desk.painters.routes import Routes
from oddbolt.desk.painters.tornado import Tornado
from oddbolt.desk.state.figures import Figures
from oddbolt.desk.state.settings import data_folder
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.labels import Label
from oddbolt.desk.widgets.tables import Cell, Rows, Table
from oddbolt.files.shelf import own_specs

#: below this many lines a table of entries is as high as its lines
MOST_LINES, ASKED = 14, 3
FIRST = "bench mark"


class SchemeView(QWidget):
    """One scheme: name, headline, what it looks at, entries, what is missing and open. ``picked`` gives a cause."""

    picked = Signal(str)
    #: a role of which no part is recorded
    role_asked = Signal(str)

    def __init__(self, scheme: Scheme, figures: Figures) -> None:
        super().__init__()
        self.scheme, self.figures = scheme, figures
        self.box = QVBoxLayout(self)
        self.box.setContentsMargins(0, 0, 0, 0)
        self.box.setSpacing(4)
        self.headline, self.about, self.missing = Label(), Label(scheme.about), Label()
        self.headline.setObjectName("mark")
        self.headline.setWordWrap(True)
        self.about.setObjectName("quiet")
        self.missing.setObjectName("copper")
        for label in (self.about, self.missing):
            label.setWordWrap(True)
        self.asked: tuple[Ask, ...] = ()
        self.asks = QVBoxLayout()
        self.asks.setSpacing(0)
        self.box.addWidget(_head(scheme.name))
        self.box.addWidget(self.headline)
        self.box.addWidget(self.about)
        self.build()
        self.box.addWidget(self.missing)
        self.box.addLayout(self.asks)

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
        name = "mark" if judged.total is None or judged.total.is_one else "title"  # a range needs the room
        if self.headline.objectName() != name:
            self.headline.setObjectName(name)
            self.headline.style().polish(self.headline)
        self.headline.setVisible(bool(self.headline.text()))
        self.about.setText(f"{self.scheme.about} Source: {judged.source}{unverified}.")
        self.missing.setText(" ".join(judged.missing))
        self.missing.setVisible(bool(judged.missing))
        self._show_asks(judged)
        self.show_entries(study, judged, chosen)

    def _show_asks(self, judged: Judgement) -> None:
        """What would narrow it most, each leading to what it is about. The links stay, so that the focus does."""
        while self.asks.count() < min(ASKED, len(judged.asks)):
            link = QPushButton()
            link.setObjectName("link")
            link.clicked.connect(partial(self._asked, self.asks.count()))
            self.asks.addWidget(link)
        self.asked = judged.asks[:ASKED]
        for n in range(self.asks.count()):
            item = self.asks.itemAt(n)
            shown = item.widget() if item is not None else None
            if not isinstance(shown, QPushButton):
                continue
            shown.setVisible(n < len(self.asked))
            if n < len(self.asked):
                ask = self.asked[n]
                shown.setText(f"open: {ask.words}"[:110])
                shown.setToolTip(f"its answer narrows the figure by up to {ask.narrows:.2f}")
                shown.setEnabled(bool(ask.about or ask.role))

    def _asked(self, n: int) -> None:
        if n < len(self.asked) and self.asked[n].role:
            self.role_asked.emit(self.asked[n].role)
        elif n < len(self.asked):
            self.picked.emit(self.asked[n].about)

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


class ReasonsView(SchemeView):
    """A scheme whose lines have reasons: the table, and the reasons of the line chosen below it."""

    def build(self) -> None:
        super().build()
        self.reasons = Label()
        self.reasons.setWordWrap(True)
        self.box.addWidget(self.reasons)
        self._told: list[tuple[str, ...]] = []
        self.table.selectionModel().currentRowChanged.connect(lambda *_: self._tell())

    def _tell(self) -> None:
        row = self.table.proxy.mapToSource(self.table.currentIndex()).row()
        self.reasons.setText("\n".join(self._told[row]) if 0 <= row < len(self._told) else "")

    def show_entries(self, study: Study, judged: Judgement, chosen: str) -> None:
        self._told = [entry.reasons for entry in judged.entries]
        super().show_entries(study, judged, chosen)
        self._tell()
        self.finish(study, judged)

    def finish(self, study: Study, judged: Judgement) -> None:
        """What else a scheme shows below."""
        if self.box.itemAt(self.box.count() - 1).spacerItem() is None:
            self.box.addStretch(1)


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


class WeighedView(ReasonsView):
    """A scheme of weighed criteria: sliders for the weights, what moves the figure most, and how far near weights
    can."""

    def __init__(self, scheme: Scheme, figures: Figures, spec: Spec | None = None) -> None:
        self.spec = spec or SPECS[scheme.id]
        super().__init__(scheme, figures)

    def build(self) -> None:
        super().build()
        self.study: Study | None = None
        self.weights = {c.id: c.weight for c in self.spec.criteria}
        self.moved, self.judged_by = False, dict(self.weights)
        self.judge: Callable[[Study], Judgement] = partial(judgement, spec=self.spec, weights=None)
        self.sliders: dict[str, QSlider] = {}
        self.figures_: dict[str, QLabel] = {}
        grid = QGridLayout()
        grid.setVerticalSpacing(0)
        for row, criterion in enumerate(self.spec.criteria):
            slider = QSlider(Qt.Orientation.Horizontal)
            slider.setRange(0, 100)
            slider.setValue(round(criterion.weight * 100))
            slider.setAccessibleName(f"weight of {criterion.about}")
            slider.setFixedHeight(18)
            slider.valueChanged.connect(lambda _value: self._weighed())
            figure = Label()
            figure.setFixedWidth(40)
            grid.addWidget(Label(criterion.about), row, 0)
            grid.addWidget(slider, row, 1)
            grid.addWidget(figure, row, 2)
            self.sliders[criterion.id], self.figures_[criterion.id] = slider, figure
        line = QHBoxLayout()
        line.addWidget(_head("Weights"))
        for name, made in (("the scheme's", self._own), ("all alike", self._alike)):
            button = QPushButton(name)
            button.setObjectName("link")
            button.clicked.connect(made)
            line.addWidget(button)
        line.addStretch(1)
        self.near = Label()
        self.near.setWordWrap(True)
        self.tornado = Tornado()
        self.box.addLayout(line)
        self.box.addLayout(grid)
        self.box.addWidget(self.near)
        self.target = TargetBox(self.spec.name.lower(), self.spec.classes)
        self.box.addWidget(self.target)
        self.box.addWidget(_head("What moves it most"))
        self.box.addWidget(self.tornado)

    def _own(self) -> None:
        self._set({c.id: c.weight for c in self.spec.criteria})

    def _alike(self) -> None:
        self._set(dict.fromkeys(self.sliders, 1.0 / len(self.sliders)))

    def _set(self, weights: Mapping[str, float]) -> None:
        for id, slider in self.sliders.items():
            slider.blockSignals(True)
            slider.setValue(round(weights[id] * 100))
            slider.blockSignals(False)
        self._weighed()

    def _weighed(self) -> None:
        total = sum(slider.value() for slider in self.sliders.values())
        if total:
            self.weights = {id: slider.value() / total for id, slider in self.sliders.items()}
        if self.study is not None:
            self.show_judgement(self.study, self.figures.judgement(self.scheme.id), "")

    def show_judgement(self, study: Study, judged: Judgement | None, chosen: str) -> None:
        self.study = study
        if judged is not None:
            own = {c.id: c.weight for c in self.spec.criteria}
            moved = any(abs(self.weights[id] - own[id]) > 0.006 for id in own)
            if moved != self.moved or self.judged_by != self.weights:
                self.moved, self.judged_by = moved, dict(self.weights)
                weights = self.judged_by if moved else None
                self.judge = partial(judgement, spec=self.spec, weights=weights)
            judged = self.judge(study) if moved else judged
            self.target.set_judge(study, self.judge)
        super().show_judgement(study, judged, chosen)

    def finish(self, study: Study, judged: Judgement) -> None:
        for id, label in self.figures_.items():
            label.setText(f"{self.weights[id]:.0%}")
        found = composite(study, self.spec, self.weights)
        self.near.setText(near_in_words(found, self.weights))
        self.tornado.show_bars(tornado(found, self.weights), found.total.likely)
        super().finish(study, judged)


#: schemes with a picture of their own; others show a table of their entries
VIEWS: Mapping[str, Callable[[Scheme, Figures], SchemeView]] = {
    "bench mark": MarkView,
    "counting": CountsView,
    **dict.fromkeys(SPECS, WeighedView),
}


class VerdictPage(Page):
    """The bench mark, and the school chosen beside it."""

    title, about = "Verdict", "how repairable it is, by each school, and why"

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.box.setSpacing(10)
        self.own, wrong = own_specs(data_folder())
        for said in wrong:
            self.session.tell(f"Own scheme {said}")
        self.figures.schemes |= {spec.id: scheme_of(spec) for spec in self.own}
        self.views = {id: VIEWS.get(id, ReasonsView)(scheme, self.figures) for id, scheme in SCHEMES.items()}
        self.views |= {spec.id: WeighedView(scheme_of(spec), self.figures, spec) for spec in self.own}
        for view in self.views.values():
            view.picked.connect(self._pick)
            view.role_asked.connect(self._ask_role)
        self.others = [id for id in self.views if id != FIRST]
        self.school = self.words(self.head, enumerate(self.others))
        self.school.idClicked.connect(lambda _: self.refresh())
        self.figures.school = self.others[0]
        shelf = QPushButton("Shelf …")
        shelf.clicked.connect(lambda: self.desk.actions.run("shelf"))
        self.head.addWidget(shelf)
        self.target = TargetBox("bench mark", quick=SCHEMES[FIRST].likely)
        self.target.wrong.connect(self.session.tell)
        for view in self.views.values():
            if isinstance(view, WeighedView):
                view.target.wrong.connect(self.session.tell)
        self.stack = QStackedWidget()
        for id in self.others:
            pane = QScrollArea()
            pane.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            pane.setWidgetResizable(True)
            pane.setWidget(self.views[id])
            self.stack.addWidget(pane)
        left = QVBoxLayout()
        left.addWidget(self.views[FIRST], 1)
        left.addWidget(self.target)
        right = QVBoxLayout()
        right.addWidget(self.stack, 1)
        sides = QHBoxLayout()
        sides.setSpacing(26)
        sides.addLayout(left, 2)
        sides.addLayout(right, 3)
        self.box.addLayout(sides, 1)

    def _pick(self, id: str) -> None:
        if id and self.session.study.find(id) is not None:
            self.session.select(id)

    def _ask_role(self, role: str) -> None:
        """Offer the parts of the study for a role that nothing has yet."""
        self.offered = QMenu(self)
        for part in self.session.study.parts.values():
            if not part.role:
                self.offered.addAction(part.name, partial(self._give_role, part.id, role))
        if self.offered.isEmpty():
            self.session.tell("There are no parts yet.")
            return
        self.offered.popup(QCursor.pos())

    def _give_role(self, part: str, role: str) -> None:
        study = self.session.study
        if part in study.parts:
            self.session.edit(change(study, part, role=role), f"{study.name(part)} is the {role}")

    def arrive(self) -> None:
        self.school.button(max(0, self.school.checkedId())).setFocus()

    def state(self) -> str:
        mark = self.figures.mark() if self.session.study.steps else None
        if mark is None or mark.value is None:
            return ""
        span = mark.span
        return f"{mark.value:g} of 10" if span is None or span.is_one else f"{span.low:g}–{span.high:g} of 10"

    def refresh(self) -> None:
        shown = self.figures.school = self.others[max(0, self.school.checkedId())]
        self.stack.setCurrentIndex(self.others.index(shown))
        self.target.set_judge(self.session.study, SCHEMES[FIRST].judge)
        for id in (FIRST, shown):
            self.views[id].show_judgement(self.session.study, self.figures.judgement(id), self.session.selection)


def _head(name: str) -> QLabel:
    label = Label(name)
    label.setFont(theme.text(11, bold=True))
    label.setObjectName("head")
    return label
