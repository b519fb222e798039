"""The shelf: a folder of studies with their marks, and several devices side by side."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from functools import partial
from itertools import pairwise
from pathlib import Path

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QKeyEvent, QPixmap
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QMenu, QPushButton, QScrollArea, QVBoxLayout, QWidget

from oddbolt.core.errors import OddBoltError
from oddbolt.core.study import Study
from oddbolt.core.study.formatting import duration, plural
from oddbolt.core.verdict import SCHEMES, SPECS, Scheme, Spec, scheme_of
from oddbolt.core.verdict.agreement import compare
from oddbolt.core.verdict.side_by_side import SideBySide, side_by_side
from oddbolt.core.verdict.summary import Summary, mark_words, span
from oddbolt.core.verdict.target import lifted
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.pages.verdict_panels.comparison_export import scales
from oddbolt.desk.painters.comparison import LETTERS, Comparison, bands_of
from oddbolt.desk.painters.depths import Depths
from oddbolt.desk.state.actions import Action
from oddbolt.desk.state.background import Background
from oddbolt.desk.state.settings import data_folder
from oddbolt.desk.widgets.labels import Label
from oddbolt.desk.widgets.tables import Cell, Rows, Table
from oddbolt.files.pictures import Picture
from oddbolt.files.shelf import Shelved, own_specs, shelf, study_of

#: the schemes that give a figure
MARKS = tuple(s.id for s in SCHEMES.values() if s.id in ("bench mark", *SPECS))
VIEWS = ("figures", "depth")
PICTURE_WIDE, PICTURE_HIGH = 54, 38


class ShelfPage(Page):
    """Studies above, those chosen side by side below."""

    title, home = "Shelf", "Verdict"
    wide = True

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.folder: Path | None = None
        self.found: list[Shelved] = []
        self.side: SideBySide | None = None
        self.work = Background(self, 1)
        self.own, _ = own_specs(data_folder())  # what is wrong with one is told on Verdict
        self.marks = (*MARKS, *(spec.id for spec in self.own))
        named = [*(SCHEMES[id].name.lower() for id in MARKS), *(spec.name.lower() for spec in self.own)]
        self.rows = Rows(("device", "file", "date", "steps", *named, "open"), figures=(3, 4 + len(named)))
        self.table = Table(self.rows, "Studies on the shelf")
        self.table.setIconSize(QSize(PICTURE_WIDE, PICTURE_HIGH))
        self.table.verticalHeader().setDefaultSectionSize(PICTURE_HIGH + 6)
        self.table.widths(226, 160, 100, 50, 190, *[170] * (len(named) - 1), 50)
        self.table.selectionModel().selectionChanged.connect(lambda *_: self._chosen(self.chosen()))
        self.finder = QLineEdit()
        self.finder.setPlaceholderText("find a device …")
        self.finder.setAccessibleName("Find device")
        self.finder.setAccessibleDescription("shows the studies whose name, file or marks hold these letters")
        self.finder.setFixedWidth(200)
        self.finder.textChanged.connect(self.table.filter)
        self.same = QPushButton("Two analysts")
        self.same.setToolTip("two studies of one device: what differs, and how far they agree")
        self.same.clicked.connect(self.agree)
        back = QPushButton("Back")
        back.clicked.connect(self.left)
        self.write = QPushButton("Write …")
        self.write.setToolTip("the devices side by side as a picture or a table")
        self.write.clicked.connect(lambda: self.desk.actions.run("comparison"))
        self.lift = QPushButton("What would lift …")
        self.lift.setToolTip("the smallest changes that put a device above the one before it")
        self.lift.clicked.connect(self._offer_lifts)
        self.views = self.words(self.head, enumerate(VIEWS))
        self.views.idClicked.connect(lambda _: self._show(self.side))
        for widget in (self.finder, self.lift, self.same, self.write, back):
            self.head.addWidget(widget)
        self.picture = Comparison()
        self.pane = QScrollArea()
        self.pane.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.pane.setWidgetResizable(True)
        self.depths = Depths()
        both = QWidget()  # not a stack, which would be as large as the larger of the two
        box = QVBoxLayout(both)
        box.setContentsMargins(0, 0, 0, 0)
        for view in (self.picture, self.depths):
            box.addWidget(view)
        self.pane.setWidget(both)
        self.told = Label()
        self.told.setWordWrap(True)
        self.told.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.box.addWidget(self.table, 2)
        foot = QHBoxLayout()
        foot.addWidget(self.pane, 3)
        self.words_pane = QScrollArea()
        self.words_pane.setWidgetResizable(True)
        self.words_pane.setWidget(self.told)
        self.words_pane.setAccessibleName("What the comparison says")
        foot.addWidget(self.words_pane, 2)
        self.box.addLayout(foot, 3)

    def actions_here(self) -> tuple[Action, ...]:
        return (Action("shelf", "&Shelf: compare studies", "View", self.show_shelf, "Ctrl+Alt+S"),)

    def show_shelf(self) -> None:
        """Show the studies of the folder that the study lies in."""
        store = self.session.store
        self.wanted.emit()
        self.open_folder(store.path.parent if store is not None else Path.home())

    def open_folder(self, folder: Path) -> None:
        """Read the studies of a folder beside the window."""
        self.folder = folder
        self.beside.setText(f"reading {folder} …")
        held = {path: (study, self.session.picture) for path, study in self._held().items()}
        self.work.start(partial(_read, folder, held, tuple(self.own)), self._came)

    def _held(self) -> dict[Path, Study]:
        """The study that this window works on: its file is not opened a second time."""
        store = self.session.store
        return {store.path.resolve(): self.session.study} if store is not None else {}

    def _came(self, found: list[Shelved] | str) -> None:
        if isinstance(found, str):
            self.session.tell(found)
            found = []
        self.found = found
        self.rows.pictures = {one.path.name: _pixmap(one.picture) for one in found}
        self.refresh()

    def arrive(self) -> None:
        self.table.setFocus()

    def refresh(self) -> None:
        good = [one for one in self.found if one.summary is not None]
        bad = len(self.found) - len(good)
        broken = f", {bad} that cannot be read" if bad else ""
        where = f" in the folder {self.folder.name or self.folder}" if self.folder else ""
        self.beside.setToolTip(str(self.folder or ""))
        count = "1 study" if len(good) == 1 else f"{len(good)} studies"
        self.beside.setText(f"{count}{broken}{where}; choose several with Ctrl or Shift")
        ids = [one.path.name for one in self.found]
        self.table.refresh(ids, [self._cells(one) for one in self.found], set(), "")
        self._show(self.side)

    def _cells(self, one: Shelved) -> list[Cell]:
        if one.summary is None:
            return [
                ("cannot be read", "~"),
                (one.path.name, one.path.name),
                (one.why_not[:60], ""),
                ("", 0),
                *[("", 0.0)] * (len(self.marks) + 1),
            ]
        s: Summary = one.summary
        marks: list[Cell] = []
        for id in self.marks:
            mark = s.marks.get(id)
            marks.append((mark_words(id, span(mark[:3]), self.own), mark[1]) if mark else ("no mark", -1.0))
        return [
            (one.name, one.name.casefold()),
            (one.path.name, one.path.name.casefold()),
            (s.date, s.date),
            (str(s.steps), s.steps),
            *marks,
            (str(s.open), s.open),
        ]

    def chosen(self) -> list[Shelved]:
        """The studies that are chosen in the table."""
        rows = {self.table.proxy.mapToSource(i).row() for i in self.table.selectionModel().selectedRows()}
        names = {self.rows.ids[n] for n in rows if n < len(self.rows.ids)}
        return [one for one in self.found if one.path.name in names and one.summary is not None]

    def _chosen(self, picked: list[Shelved]) -> None:
        self.same.setEnabled(len(picked) == 2)
        if len(picked) < 2:
            self.side = None
            self._show(None)
            if picked:
                self.told.setText(_alone(picked[0]))
            return
        if len(picked) > len(LETTERS):
            self.side = None
            self._show(None)
            self.told.setText(f"{len(picked)} studies are chosen; up to {len(LETTERS)} go side by side.")
            return
        summaries = [one.summary for one in picked if one.summary is not None]
        try:
            self.side = side_by_side([one.name for one in picked], summaries, (*SPECS.values(), *self.own))
        except OddBoltError as error:
            self.session.tell(str(error))
            return
        self._show(self.side)

    def _show(self, side: SideBySide | None) -> None:
        self.same.setEnabled(len(self.chosen()) == 2)
        self.write.setEnabled(side is not None)
        self.lift.setEnabled(side is not None and bool(side.orders))
        deep = self.views.checkedId() == 1
        self.picture.setVisible(not deep)
        self.depths.setVisible(deep)
        self.depths.show_side(side)
        if side is None:
            self.picture.show_bands((), ())
            self.told.setText("Choose two or more studies to hold them against each other.")
            return
        self.picture.show_bands(side.names, bands_of(side, scales(self.own)))
        self.told.setText(in_words(side, self.own))

    def _offer_lifts(self) -> None:
        """Every device that stands below another, to be lifted above it."""
        if self.side is None:
            return
        self.offered = QMenu(self)
        names = {id: scheme.name for id, scheme in self._schemes().items()}
        for id, order in self.side.orders.items():
            for above, below in pairwise(order.names):
                words = f"{names.get(id, id)}: {below} above {above}"
                self.offered.addAction(words.replace("&", "&&"), partial(self.lift_above, id, below, above))
        self.offered.popup(self.lift.mapToGlobal(self.lift.rect().bottomLeft()))

    def _schemes(self) -> dict[str, Scheme]:
        return {**SCHEMES, **{spec.id: scheme_of(spec) for spec in self.own}}

    def lift_above(self, scheme: str, below: str, above: str) -> None:
        """Search for what would put one device above another, beside the window."""
        side, picked = self.side, self.chosen()
        if side is None or len(picked) != len(side.names):
            return
        over = side.summaries[side.names.index(above)].marks[scheme][1]
        path = picked[side.names.index(below)].path
        head = f"What would lift {below} above {above}, {self._schemes()[scheme].name.lower()}:"
        self.told.setText(f"{head}\ntrying changes …")
        work = partial(_lifted, path, self._held(), self._schemes()[scheme], over, lambda: self.side is not side)
        self.work.start(work, lambda lines: self._lifted(side, head, lines))

    def _lifted(self, side: SideBySide, head: str, lines: list[str]) -> None:
        if self.side is side:
            self.told.setText("\n".join([head, *(f"   {line}" for line in lines), "", in_words(side, self.own)]))

    def agree(self) -> None:
        """Hold the two studies chosen against each other as two records of one device."""
        picked = self.chosen()
        if len(picked) != 2:
            self.session.tell("Choose exactly two studies of one device.")
            return
        self.told.setText("…")
        self.work.start(partial(_agree, picked[0].path, picked[1].path, self._held()), self.told.setText)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(event)


def in_words(side: SideBySide, own: Sequence[Spec] = ()) -> str:
    """What a comparison says: what each does best and worst, and how firm each order is."""
    lines = []
    named = {spec.id: spec.name for spec in own}
    for n, name in enumerate(side.names):
        best, worst = ", ".join(side.best[n]) or "nothing", ", ".join(side.worst[n]) or "nothing"
        lines.append(f"{LETTERS[n]} {name}\n   best in {best}\n   worst in {worst}")
    for id, order in side.orders.items():
        name = SCHEMES[id].name if id in SCHEMES else named.get(id, id)
        lines.append(f"{name}: {' > '.join(order.names)}; the whole order holds in {order.holds:.0%} of tries")
        lines += [f"   {pair.first} over {pair.second}: {pair.told}" for pair in order.pairs]
    return "\n".join(lines)


def _read(folder: Path, held: Mapping[Path, tuple[Study, Picture]], own: tuple[Spec, ...]) -> list[Shelved] | str:
    try:
        return shelf(folder, held=held, own=own)
    except OddBoltError as error:
        return str(error)


def _lifted(path: Path, held: dict[Path, Study], scheme: Scheme, over: float, stopped: Callable[[], bool]) -> list[str]:
    try:
        return lifted(held.get(path.resolve()) or study_of(path), scheme, over, stopped)
    except OddBoltError as error:
        return [str(error)]


def _pixmap(data: bytes) -> QPixmap:
    """A small picture, cut to the room that a row has; bare room where there is none."""
    shown = QPixmap()
    if not data or not shown.loadFromData(data):
        bare = QPixmap(PICTURE_WIDE, PICTURE_HIGH)
        bare.fill(Qt.GlobalColor.transparent)
        return bare
    fit = Qt.AspectRatioMode.KeepAspectRatioByExpanding
    whole = shown.scaled(PICTURE_WIDE, PICTURE_HIGH, fit, Qt.TransformationMode.SmoothTransformation)
    left, top = (whole.width() - PICTURE_WIDE) // 2, (whole.height() - PICTURE_HIGH) // 2
    return whole.copy(left, top, PICTURE_WIDE, PICTURE_HIGH)


def _agree(first: Path, second: Path, held: dict[Path, Study]) -> str:
    try:
        a, b = (held.get(path.resolve()) or study_of(path) for path in (first, second))
        found = compare(a, b)
    except OddBoltError as error:
        return str(error)

    def told(value: float | None) -> str:
        return "too few to tell" if value is None else f"{value:.2f}"

    lines = [
        f"{first.stem} against {second.stem}",
        f"{len(found.parts)} parts and {len(found.joints)} joints are in both",
        f"agreement: kinds of joints (kappa) {told(found.kappa_kinds)}, classes of fasteners (kappa) "
        f"{told(found.kappa_fasteners)}, counts (alpha) {told(found.alpha_counts)}",
        f"hand work {duration(found.seconds[0])} against {duration(found.seconds[1])}",
        *found.differences,
    ]
    return "\n".join(lines)


def _alone(one: Shelved) -> str:
    s = one.summary
    if s is None:
        return one.why_not
    roles = [f"{r.role}: {r.steps[0]:g} steps, {duration(r.seconds[0])}" for r in s.roles]
    return "\n".join([one.name, *roles, f"{plural(s.open, 'question')} open"])
