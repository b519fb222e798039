"""The shelf: a folder of studies with their marks, and several devices side by side."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QScrollArea

from oddbolt.core.errors import OddBoltError
from oddbolt.core.study import Study
from oddbolt.core.study.formatting import duration, plural
from oddbolt.core.verdict import SCHEMES, SPECS
from oddbolt.core.verdict.agreement import compare
from oddbolt.core.verdict.side_by_side import SideBySide, side_by_side
from oddbolt.core.verdict.summary import Summary, mark_words, span
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.pages.verdict_panels.comparison_export import scales
from oddbolt.desk.painters.comparison import LETTERS, Comparison, bands_of
from oddbolt.desk.state.actions import Action
from oddbolt.desk.state.background import Background
from oddbolt.desk.widgets.labels import Label
from oddbolt.desk.widgets.tables import Cell, Rows, Table
from oddbolt.files.shelf import Shelved, shelf, study_of

HEADS = (
    "device",
    "file",
    "date",
    "steps",
    *(s.name.lower() for s in SCHEMES.values() if s.id in ("bench mark", *SPECS)),
    "open",
)
MARKS = tuple(s.id for s in SCHEMES.values() if s.id in ("bench mark", *SPECS))


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
        self.rows = Rows(HEADS, figures=(3, len(HEADS) - 1))
        self.table = Table(self.rows, "Studies on the shelf")
        self.table.widths(170, 186, 110, 50, 190, 190, 190, 50)
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
        for widget in (self.finder, self.same, self.write, back):
            self.head.addWidget(widget)
        self.picture = Comparison()
        self.pane = QScrollArea()
        self.pane.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.pane.setWidgetResizable(True)
        self.pane.setWidget(self.picture)
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
        self.work.start(partial(_read, folder, self._held()), self._came)

    def _held(self) -> dict[Path, Study]:
        """The study that this window works on: its file is not opened a second time."""
        store = self.session.store
        return {store.path.resolve(): self.session.study} if store is not None else {}

    def _came(self, found: list[Shelved] | str) -> None:
        if isinstance(found, str):
            self.session.tell(found)
            found = []
        self.found = found
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
        self.table.refresh(ids, [_cells(one) for one in self.found], set(), "")
        self._show(self.side)

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
            self.side = side_by_side([one.name for one in picked], summaries, tuple(SPECS.values()))
        except OddBoltError as error:
            self.session.tell(str(error))
            return
        self._show(self.side)

    def _show(self, side: SideBySide | None) -> None:
        self.same.setEnabled(len(self.chosen()) == 2)
        self.write.setEnabled(side is not None)
        if side is None:
            self.picture.show_bands((), ())
            self.told.setText("Choose two or more studies to hold them against each other.")
            return
        self.picture.show_bands(side.names, bands_of(side, scales()))
        self.told.setText(in_words(side))

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


def in_words(side: SideBySide) -> str:
    """What a comparison says: what each does best and worst, and how firm each order is."""
    lines = []
    for n, name in enumerate(side.names):
        best, worst = ", ".join(side.best[n]) or "nothing", ", ".join(side.worst[n]) or "nothing"
        lines.append(f"{LETTERS[n]} {name}\n   best in {best}\n   worst in {worst}")
    for id, order in side.orders.items():
        name = SCHEMES[id].name if id in SCHEMES else id
        lines.append(f"{name}: {' > '.join(order.names)}; the whole order holds in {order.holds:.0%} of tries")
        lines += [f"   {pair.first} over {pair.second}: {pair.told}" for pair in order.pairs]
    return "\n".join(lines)


def _read(folder: Path, held: dict[Path, Study]) -> list[Shelved] | str:
    try:
        return shelf(folder, held=held)
    except OddBoltError as error:
        return str(error)


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


def _cells(one: Shelved) -> list[Cell]:
    if one.summary is None:
        return [
            ("cannot be read", "~"),
            (one.path.name, one.path.name),
            (one.why_not[:60], ""),
            ("", 0),
            *[("", 0.0)] * (len(MARKS) + 1),
        ]
    s: Summary = one.summary
    marks: list[Cell] = []
    for id in MARKS:
        mark = s.marks.get(id)
        marks.append((mark_words(id, span(mark[:3])), mark[1]) if mark else ("no mark", -1.0))
    return [
        (one.name, one.name.casefold()),
        (one.path.name, one.path.name.casefold()),
        (s.date, s.date),
        (str(s.steps), s.steps),
        *marks,
        (str(s.open), s.open),
    ]
