"""Fasteners: the board of screws at true scale, and every joint in a table."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from attrs import evolve
from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QCheckBox,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QWidget,
)

from oddbolt.core.errors import BenchError
from oddbolt.core.fasteners.look_alike_ranking import Pair, count_pairs, pairs
from oddbolt.core.fasteners.look_alikes import odd_ones
from oddbolt.core.fasteners.tray_tally import in_words, label, lying, step_of, ticked, ticks, with_lying
from oddbolt.core.reference.quantities import quantity
from oddbolt.core.reference.tables import screw_label
from oddbolt.core.study import Joint, Study
from oddbolt.core.study.formatting import plural
from oddbolt.core.study.screw_lengths import by_length
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.painters.board import GAUGE_MM, Board, Gauge
from oddbolt.desk.painters.tray_view import Cell as Compartment
from oddbolt.desk.painters.tray_view import TrayView
from oddbolt.desk.widgets.inputs import LineField
from oddbolt.desk.widgets.labels import Label
from oddbolt.desk.widgets.tables import Cell, Rows, Table

SIZES = ((1, "life-size"), (2, "× 2"), (4, "× 4"))
if TYPE_CHECKING:
    from oddbolt.core.fasteners.tray import TrayPlan

USUAL_TRAY, TRAY_BUDGET_S = "4x6", 0.4
PAIR_HEADS = ("group", "and group", "alike", "driver", "if swapped", "how to tell them apart")
HEADS = ("joint", "kind", "count", "drive", "thread", "length", "holds", "reuse", "step")


class Fasteners(Page):
    """What holds the device together."""

    title = "Fasteners"

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.settings = desk.settings
        self.plan: TrayPlan | None = None
        self._planned: object = None
        self._no_plan = ""
        self.board = Board()
        self.pane = QScrollArea()
        self.pane.setFocusPolicy(Qt.FocusPolicy.NoFocus)  # what lies in it takes the focus
        self.pane.setWidgetResizable(True)
        self.pane.setWidget(self.board)
        self.rows = Rows(HEADS, figures=(2, 5, 8))
        self.table = Table(self.rows, "Joints")
        self.table.widths(156, 88, 50, 150, 54, 74, 100, 66, 50)
        self.finder = QLineEdit()
        self.finder.setAccessibleDescription("Shows only the joints that hold these words.")
        self.finder.setPlaceholderText("find a drive, a part, a rule …")
        self.finder.setAccessibleName("Find joint")
        self.finder.setFixedWidth(230)
        self.finder.textChanged.connect(self._find)
        self.head.addWidget(self.finder)
        self.scale = Label()
        self.scale.setObjectName("caption")
        below = QHBoxLayout()
        self.shown = self.words(below, enumerate(("joints", "look-alikes", "tray")))
        self.shown.idClicked.connect(lambda _: self.refresh())
        below.addWidget(self.scale, 1)
        self.gauge = Gauge()
        self.ruler = LineField()
        self.ruler.setFixedWidth(74)
        self.ruler.setAccessibleName("what a ruler reads at the bar on the screen")
        self.ruler.setPlaceholderText("reads mm")
        self.ruler.setToolTip("Hold a ruler to the 50 mm bar and type the reading.")
        self.ruler.entered.connect(self._screen_measured)
        below.addWidget(self.gauge)
        below.addWidget(self.ruler)
        self.sizes = self.words(below, SIZES, chosen=2)
        self.sizes.idClicked.connect(lambda _: self.refresh())
        self.pairs = Table(Rows(PAIR_HEADS, figures=(2,)), "Look-alike screws")
        self.pairs.widths(150, 150, 52, 116, 134, 150)
        self.pairs.picked.connect(lambda id: self.session.choose(tuple(id.split(" "))))
        self.box.addWidget(self.pane, 3)
        self.box.addLayout(below)
        self.box.addWidget(self.table, 2)
        self.box.addWidget(self.pairs, 2)
        self.tray = TrayView()
        self.grid = LineField()
        self.grid.setAccessibleName("compartments of the tray, rows and columns")
        self.grid.setFixedWidth(72)
        self.grid.set_shown(desk.settings.get("tray", USUAL_TRAY))
        self.grid.entered.connect(self._tray_typed)
        self.by_kind = QCheckBox("by kind")
        self.by_kind.setToolTip("by drive, thread and length instead of order of removal")
        self.by_kind.toggled.connect(lambda _: self.refresh())
        self.tray_words = Label()
        self.tray_words.setObjectName("quiet")
        self.tray_words.setWordWrap(True)
        write = QPushButton("Write the tray plan …")
        write.clicked.connect(lambda: self.desk.actions.run("tray plan"))
        self.tray_line = QWidget()
        row = QHBoxLayout(self.tray_line)
        row.setContentsMargins(0, 0, 0, 0)
        into = Label("tray")
        into.setToolTip("rows and columns like 4x6, or the compartments of each row like 6+4+4")
        row.addWidget(into)
        row.addWidget(self.grid)
        row.addWidget(self.by_kind)
        row.addWidget(self.tray_words, 1)
        row.addWidget(write)
        self.box.addWidget(self.tray_line)
        self.box.addWidget(self.tray, 2)
        self.tray.picked.connect(self.session.select)
        self.tray.ticked.connect(lambda id: self._tick(ticked, id))
        self.tray.counted.connect(lambda id, count: self._tick(with_lying, id, count))
        self.board.picked.connect(self.session.select)
        self.table.picked.connect(self.session.select)
        self.table.several.connect(self.session.choose)

    def arrive(self) -> None:
        self.board.setFocus()

    def _tray_typed(self, text: str) -> None:
        from oddbolt.core.fasteners.tray import tray  # takes long to load; wanted only here

        try:
            tray(text)
        except BenchError as error:
            self.session.tell(str(error))
            self.grid.set_shown(self.settings.get("tray", USUAL_TRAY))
            return
        self.settings.put("tray", text)
        self.refresh()

    def _show_tray(self, study: Study) -> None:
        """The plan for the screws as they stand, worked out anew only where it may be another one."""
        from oddbolt.core.fasteners.tray import plan, tray

        into = tray(self.settings.get("tray", USUAL_TRAY))
        screws = tuple(evolve(j, laid=None, taken=None) for j in study.joints.values() if j.kind == "screw")
        key = screws, tuple(s.releases for s in study.steps.values()), into, self.by_kind.isChecked()
        if key != self._planned:
            self._planned = key
            try:
                self.plan, self._no_plan = plan(study, into, self.by_kind.isChecked(), TRAY_BUDGET_S), ""
            except BenchError as error:
                self.plan, self._no_plan = None, str(error)
        of = self.plan.of if self.plan else ()
        near = {j for both in self.plan.beside for j in both} if self.plan else set()
        self.tray_words.setText(self._no_plan or ticks(study) or (self.plan.sentence if self.plan else ""))
        cells = [_tray_cell(study, id, id in near) for id in of]
        self.tray.show_tray(cells, into.boxes[: len(of)], self.session.selection)

    def _tick(self, make: Callable[..., Study], id: str, *count: int) -> None:
        self.session.attempt("check off screws in the tray", make, id, *count)

    def _show_pairs(self, study: Study) -> None:
        """The pairs that may be taken for each other, the worst first, in place of the joints if they are asked for."""
        asked = self.shown.checkedId() == 1
        self.table.setVisible(self.shown.checkedId() == 0)
        self.pairs.setVisible(asked)
        for widget in (self.tray, self.tray_line):
            widget.setVisible(self.shown.checkedId() == 2)
        if self.shown.checkedId() == 2:
            self._show_tray(study)
        found, count = pairs(study), count_pairs(study)
        words = f"look-alikes: {count}" + (f", the worst {len(found)} shown" if count > len(found) else "")
        self.shown.button(1).setText(words if count else "look-alikes")
        if asked:
            ids = [f"{p.a} {p.b}" for p in found]
            worst = {id for id, p in zip(ids, found, strict=True) if p.alike > 0.1}
            self.pairs.refresh(ids, [_pair_cells(study, p) for p in found], worst, " ".join(self.session.chosen))

    def state(self) -> str:
        odd = len(odd_ones(self.session.study))
        screws = sum(j.kind == "screw" for j in self.session.study.joints.values())
        return f"{odd} odd" if odd else plural(screws, "group") if screws else ""

    def refresh(self) -> None:
        study = self.session.study
        odd = odd_ones(study)
        times = self.sizes.checkedId()
        self.board.scale = self._px_per_mm() * times
        words = self.finder.text().strip().casefold()
        found = [j for j in study.joints.values() if j.kind == "screw" and (not words or words in _haystack(study, j))]
        groups = [one for j in found for one in by_length(j)]
        groups.sort(key=lambda j: (j.drive, j.size, j.thread, j.length_mm or 0.0))
        number = step_of(study)
        letters = {c.about: c.letter for c in reversed(study.callouts.values())}
        came_from = {j.id: _came_from(study, j, number.get(j.id), letters.get(j.id, "")) for j in groups}
        self.board.show_groups(groups, set(odd), self.session.selection, came_from)
        ids = list(study.joints)
        cells = [_cells(study, study.joints[id], number.get(id)) for id in ids]
        self.table.refresh(ids, cells, set(odd), self.session.selection, self.session.chosen)
        self._show_pairs(study)
        kinds = len({(j.drive, j.size) for j in study.joints.values() if j.kind == "screw" and (j.drive or j.size)})
        screws = sum(j.count or 0 for j in study.joints.values() if j.kind == "screw")
        self.beside.setText(
            f"{plural(screws, 'screw')} of {plural(kinds, 'drive size')}"
            if screws
            else "screws, clips, glue and connectors"
        )
        drawn = "life-size" if times == 1 else f"{times} times life-size"
        measured = self.settings.get("px per mm", 0.0)
        screen = "screen measured" if measured else f"{self.logicalDpiX()} dpi"
        self.scale.setText(f"{drawn}, {screen}")
        self.scale.setToolTip("Copper marks the odd screw of a pair.")
        self.gauge.px_per_mm = self._px_per_mm()
        self.gauge.update()

    def _px_per_mm(self) -> float:
        measured = float(self.settings.get("px per mm", 0.0))
        return measured or self.logicalDpiX() / 25.4

    def _screen_measured(self, text: str) -> None:
        """What a ruler reads at the bar that stands for 50 mm; nothing typed forgets what was measured."""
        try:
            reads = quantity(text, "length") if text.strip() else None
            if reads is not None and not 15 <= reads <= 200:
                raise ValueError("The 50 mm bar must measure 15 to 200 mm; type the ruler's reading.")
        except ValueError as error:
            self.session.tell(str(error))
            self.ruler.set_shown("")
            return
        self.settings.put("px per mm", 0.0 if reads is None else self._px_per_mm() * GAUGE_MM / reads)
        self.ruler.set_shown("")
        self.refresh()

    def _find(self, words: str) -> None:
        self.table.filter(words)
        self.refresh()


def _came_from(study: Study, joint: Joint, step: int | None, letter: str) -> str:
    """Where a group lay and how it came out: for whom the pointer rests on it."""
    held = ", ".join(study.name(p) for p in joint.holds)
    pieces = (
        f"held {held}" if held else "",
        joint.place,
        f"out in step {step}" if step else "still in",
        f"photo {letter}" if letter else "",
        joint.reuse,
        in_words(joint),
    )
    return ", ".join(filter(None, pieces))


def _haystack(study: Study, joint: Joint) -> str:
    return " ".join(text for text, _ in _cells(study, joint, None)).casefold()


def _cells(study: Study, joint: Joint, step: int | None) -> list[Cell]:
    drive = screw_label(joint.drive, joint.size) if joint.kind == "screw" else joint.latch
    held = ", ".join(study.name(p) for p in joint.holds)
    name = study.name(joint.id)
    length = f"{joint.length_mm:g} mm" if joint.length_mm else ""
    return [
        (name, name.casefold()),
        (joint.kind, joint.kind),
        ("?" if joint.count is None else str(joint.count), joint.count or 0),
        (drive, drive),
        (joint.thread, joint.thread),
        (length, joint.length_mm or 0.0),
        (held, held.casefold()),
        (joint.reuse, joint.reuse),
        (str(step or ""), step or 10**6),
    ]


def _pair_cells(study: Study, p: Pair) -> list[Cell]:
    worse = max(p.swapped, key=lambda said: ("too long" in said, len(said)))
    told = worse.split(":")[0]
    driver = "the same driver" if p.same_driver else "another driver"
    a, b = study.name(p.a), study.name(p.b)
    return [(a, a), (b, b), (f"{p.alike:.0%}", p.alike), (driver, driver), (told, told), (p.advice, p.advice)]


def _tray_cell(study: Study, id: str, near: bool) -> Compartment:
    if not id:
        return Compartment("", (), False)
    joint = study.joints[id]
    there = lying(joint)
    share = None if there is None else there / max(1, joint.count or joint.laid or 1)
    return Compartment(id, label(study, joint), near, in_words(joint), share)
