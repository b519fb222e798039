"""Scan: screws counted and measured on a photo of the gauge mat, put right by hand, and entered with one key."""

from __future__ import annotations

import re
from functools import partial
from pathlib import Path
from threading import Event

import numpy as np
from PySide6.QtCore import QRect, Qt
from PySide6.QtGui import QImage, QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from oddbolt.core.errors import OddBoltError, VisionError
from oddbolt.core.fasteners.torque import tightening_order
from oddbolt.core.reassembly import swaps
from oddbolt.core.reference.quantities import quantity
from oddbolt.core.study import FIGURES, change
from oddbolt.core.study.formatting import plural
from oddbolt.core.vision.mat import RULER_MM, Picture
from oddbolt.core.vision.match import Match, entered, lying, matched
from oddbolt.core.vision.measure import HOW, KINDS, Measure, measure, on_mat
from oddbolt.core.vision.printed import disc
from oddbolt.core.vision.scan import Scan, Seen, by_known_disc, corrected, reprinted, scan
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.painters.scan_view import ScanView, Spot
from oddbolt.desk.state.background import Background
from oddbolt.desk.widgets.inputs import LineField
from oddbolt.desk.widgets.labels import Label
from oddbolt.desk.widgets.tables import Cell, Rows, Table
from oddbolt.files.pictures import pixels

NONE_YET = (
    "No photo yet.\n\nPrint the gauge mat (File > Write > Gauge mat), lay the screws on it without touching, "
    "photograph it from above, and open the photo (Photo > Scan screws)."
)
PICKING = "arrows move the cross, Shift+arrows faster   Space or click picks   Backspace undoes   Esc back"
#: where the settings keep what the printed 100 mm of each mat measure
PRINT = "mat prints"
TOOLS = ("screws", *KINDS, "holes")
FIELDS = {"length": "length_mm", "head ⌀": "head_mm"}
KEYS = "arrows move   Del screw / not a screw   F2 length   Enter add to study   Esc back"


class ScanPage(Page):
    """The photo at the left, its groups at the right. ``left`` says that the way back is asked for."""

    title = "Scan"
    wide = True

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.settings = desk.settings
        self.scan: Scan | None = None
        self.match: Match | None = None
        self.chosen, self.trouble, self.name = -1, "", ""
        self._image, self._corner = QImage(), (0.0, 0.0)
        self._work = Background(self)
        self._stop: Event | None = None
        self.view = ScanView()
        self.rows = Rows(("screws", "length", "head", "shank", "of"), figures=(0, 1, 2, 3))
        self.table = Table(self.rows, "Groups of screws found")
        self.table.widths(54, 60, 54, 54, 90)
        self.length = LineField()
        self.length.setAccessibleName("length of the chosen screw")
        self.length.entered.connect(self._put_right)
        self.sentence, self.minds = Label(), Label()
        self.sentence.setObjectName("head")
        self.minds.setObjectName("copper")
        for label in (self.sentence, self.minds):
            label.setWordWrap(True)
        self.enter = QPushButton("Add to study")
        self.enter.clicked.connect(self.log)
        self.head.addWidget(self.enter)
        tools = QHBoxLayout()
        self.tools = self.words(tools, enumerate(TOOLS))
        tools.addStretch(1)
        self.tools.idClicked.connect(self._take_up)
        self.points: list[tuple[float, float]] = []
        self.measured = Label()
        self.measured.setObjectName("head")
        self.measured.setWordWrap(True)
        self.use = QPushButton()
        self.use.clicked.connect(self._use)
        beside = QVBoxLayout()
        beside.addLayout(tools)
        beside.addWidget(self.measured)
        beside.addWidget(self.use)
        row = QHBoxLayout()
        self.one = Label()
        self.one.setObjectName("quiet")
        row.addWidget(self.one, 1)
        row.addWidget(self.length)
        self.length.setFixedWidth(90)
        beside.addWidget(self.sentence)
        beside.addWidget(self.table, 1)
        beside.addLayout(row)
        beside.addWidget(self.minds)
        self.print_words, self.printed = Label(), LineField()
        self.print_words.setObjectName("quiet")
        self.printed.setFixedWidth(160)
        self.printed.setAccessibleName("what the ruler printed on the mat measures, or a disc of known size on it")
        self.printed.setPlaceholderText("99.2 or 23.2 x 2.3")
        self.printed.setToolTip(
            "What the printed 100 mm measure; or diameter x thickness in mm of the coin or gauge that lies on the mat. "
            "It is remembered for this print."
        )
        self.printed.entered.connect(self._printed_typed)
        print_row = QHBoxLayout()
        print_row.addWidget(self.print_words, 1)
        print_row.addWidget(self.printed)
        beside.addLayout(print_row)
        self.rest = QWidget()
        beside.addWidget(self.rest, 1)
        across = QHBoxLayout()
        across.setSpacing(12)
        across.addWidget(self.view, 62)
        across.addLayout(beside, 38)
        self.keys = Label(KEYS)
        self.keys.setObjectName("caption")
        self.box.addLayout(across, 1)
        self.box.addWidget(self.keys)
        self.view.picked.connect(self.choose)
        self.view.toggled.connect(self._toggle)
        self.view.entered.connect(self.log)
        self.view.pointed.connect(self._point)
        self.view.unpointed.connect(self._unpoint)

    # -- the work -------------------------------------------------------------------------------------------

    @property
    def working(self) -> bool:
        """Whether a photo is being scanned."""
        return self._stop is not None

    def begin(self, path: Path) -> None:
        """Scan this photo beside the work."""
        self.stop()
        self.scan, self.match, self.chosen, self.trouble, self.name = None, None, -1, "", path.name
        self.points = []
        self._image, self._stop = QImage(), Event()
        self._work.start(partial(_scanned, path, self._stop), partial(self._take, self._stop), self._failed)
        self.refresh()

    def stop(self) -> None:
        """Leave the scan that is under way."""
        if self._stop is not None:
            self._stop.set()
            self._stop = None

    def finish(self) -> None:
        """Wait for the scan that is under way."""
        self._work.finish()

    def _take(self, stop: Event, answer: tuple[Picture | None, Scan | None, str]) -> None:
        if stop.is_set():
            return
        picture, found, self.trouble = answer
        self._stop = None
        if picture is not None:
            high, wide = picture.shape[:2]
            self._image = QImage(picture.data, wide, high, 3 * wide, QImage.Format.Format_RGB888).copy()
        if found is not None:
            found = reprinted(found, self.settings.get(PRINT, {}).get(found.found.sheet.name, RULER_MM))
            self._crop(found)
            self._show(found)
        if self.trouble:
            self.session.tell(self.trouble)
        self.refresh()

    def _failed(self, error: Exception) -> None:
        if self._stop is not None:
            self._take(self._stop, (None, None, f"This photo could not be scanned ({type(error).__name__}: {error})."))

    def _crop(self, found: Scan) -> None:
        """Show the mat alone: what lies round it tells nothing."""
        sheet = found.found.sheet
        wide, high = sheet.width_mm, sheet.height_mm
        seen = found.found.camera.project(np.array([(0, 0, 0), (wide, 0, 0), (wide, high, 0), (0, high, 0.0)]))
        low, far = np.floor(seen.min(axis=0)).astype(int), np.ceil(seen.max(axis=0)).astype(int)
        box = QRect(*low.tolist(), *(far - low).tolist()).intersected(self._image.rect())
        self._corner = (float(box.x()), float(box.y()))
        self._image = self._image.copy(box)

    def _show(self, found: Scan) -> None:
        self.scan = found
        try:
            self.match = matched(self.session.study, found)
        except VisionError:
            self.match = None  # the study has no screws yet

    # -- how large the mat was printed ------------------------------------------------------------------------

    def _printed_typed(self, text: str) -> None:
        """What the printed 100 mm measure, or a disc of known size."""
        if self.scan is None:
            self.session.tell("Open a photo of the gauge mat first (Photo > Scan screws).")
            return
        self.printed.set_shown("")
        sheet = self.scan.found.sheet.name
        try:
            if re.search(r"[x×*]", text):
                found, off = by_known_disc(self.scan, disc(text))
                said = f"The printed 100 mm measure {found.ruler_mm:.1f} ± {2 * off:.1f} mm by this disc"
            else:
                found = reprinted(self.scan, quantity(text, "length"))
                said = f"The printed 100 mm measure {found.ruler_mm:g} mm"
        except (ValueError, VisionError) as error:
            self.session.tell(str(error))
            return
        self.settings.put(PRINT, {**self.settings.get(PRINT, {}), sheet: round(found.ruler_mm, 3)})
        self._show(found)
        self.session.tell(f"{said}; kept for this print ({sheet.upper()}).")
        self.refresh()

    def _print_told(self) -> str:
        if self.scan is None:
            return ""
        if self.scan.found.sheet.name in self.settings.get(PRINT, {}):
            return f"the printed 100 mm measure {self.scan.ruler_mm:.1f}"
        return "nobody measured this print; its 100 mm read:"

    # -- showing --------------------------------------------------------------------------------------------

    def arrive(self) -> None:
        self.view.setFocus()

    def refresh(self) -> None:
        self._show_measure()
        found = self.scan
        if found is None:
            words = f"{self.name} is being scanned …" if self.working else self.trouble or NONE_YET
            self.view.show_scan(QImage() if not self.trouble else self._image, (), -1, words)
            self.table.refresh([], [], set(), "")
            for label in (self.sentence, self.one, self.minds):
                label.setText("")
            self.minds.setText(self.trouble)
            self.beside.setText(self.name)
            self.enter.setEnabled(False)
            self.printed.setEnabled(False)
            self.print_words.setText("")
            return
        self.printed.setEnabled(True)
        self.print_words.setText(self._print_told())
        self.beside.setText(f"{self.name}: {plural(len(found.screws), 'screw')}, {plural(len(found.groups), 'group')}")
        self.view.show_scan(self._image, [self._spot(t) for t in found.things], self.chosen, "")
        cells = [self._cells(k) for k in range(len(found.groups))]
        group = found.things[self.chosen].group if 0 <= self.chosen < len(found.things) else -1
        self.table.refresh([str(k) for k in range(len(cells))], cells, set(), str(group) if group >= 0 else "")
        self.sentence.setText(self._held_against())
        self.minds.setText("\n".join(found.warnings))
        self._show_one()
        self.enter.setEnabled(bool(found.screws))

    def _held_against(self) -> str:
        """The screws found against those of the study; and, once putting back has begun, what went to a wrong place."""
        if self.match is None:
            return "The study has no screws yet."
        odd = [f" {s.sentence[:1].upper()}{s.sentence[1:]}." for s in swaps(self.session.study, lying(self.match))]
        return self.match.sentence + "".join(odd)

    def _spot(self, thing: Seen) -> Spot:
        assert self.scan is not None
        points = np.array([(x, y, 0.0) for x, y in thing.outline]).reshape(-1, 3)
        seen = self.scan.found.camera.project(points) - self._corner
        seen = seen / (self._image.width(), self._image.height())
        screw = thing.screw
        words = f"{screw.length_mm:.1f}" if screw is not None else "?"
        outline = tuple((float(x), float(y)) for x, y in seen)
        return Spot(outline, words, screw is not None, thing.why_not or (screw.shape if screw else ""))

    def _cells(self, k: int) -> list[Cell]:
        assert self.scan is not None
        g = self.scan.groups[k]
        of = dict(self.match.of) if self.match else {}
        joints = {of.get(n, "") for n, t in enumerate(self.scan.screws) if t.group == k} - {""}
        names = ", ".join(self.session.study.name(j) for j in sorted(joints)) or "new"
        figures = [(f"{v:.1f}", v) for v in (g.length_mm, g.head_mm, g.shank_mm)]
        return [(str(g.count), float(g.count)), *figures, (names, names)]

    def _show_one(self) -> None:
        assert self.scan is not None
        thing = self.scan.things[self.chosen] if 0 <= self.chosen < len(self.scan.things) else None
        screw = thing.screw if thing else None
        self.length.setEnabled(thing is not None)
        self.length.set_shown(f"{screw.length_mm:.2f} mm" if screw else "")
        if thing is None:
            self.one.setText("")
        elif screw is None:
            self.one.setText(thing.why_not)
        else:
            told = f"head {screw.head_mm:.1f}, shank {screw.shank_mm:.1f} mm, {screw.shape}"
            self.one.setText(told if not screw.said else f"{told}; length as said")

    # -- measuring by hand ------------------------------------------------------------------------------------

    @property
    def tool(self) -> str:
        """What is in the hand: "screws", or what is measured."""
        return TOOLS[self.tools.checkedId()]

    def _take_up(self, n: int) -> None:
        self.points = []
        self.view.setFocus()
        self.refresh()

    def _point(self, x: float, y: float) -> None:
        if self.tool == "angle" and len(self.points) == 3:
            self.points = []
        self.points.append((x, y))
        self.refresh()

    def _unpoint(self) -> None:
        self.points = self.points[:-1]
        self.refresh()

    def _seen(self) -> list[tuple[float, float]]:
        """The points picked in px of the photo."""
        wide, high = self._image.width(), self._image.height()
        return [(x * wide + self._corner[0], y * high + self._corner[1]) for x, y in self.points]

    def _figure(self) -> Measure | None:
        if self.scan is None or self.tool not in HOW or len(self.points) < KINDS[self.tool]:
            return None
        return measure(self.scan.found, self.tool, self._seen(), ruler_mm=self.scan.ruler_mm)

    def _show_measure(self) -> None:
        picking = self.tool != "screws"
        numbers: list[str] = []
        field, said = "", ""
        for widget in (self.table, self.sentence, self.one, self.length, self.enter):
            widget.setVisible(not picking)
        self.rest.setVisible(picking)
        self.keys.setText(PICKING if picking else KEYS)
        if picking and self.scan is None:
            said = "Open a photo of the gauge mat first (Photo > Scan screws)."
        elif self.tool == "holes":
            said = "Pick each hole of a cover, at least two."
            if len(self.points) > 1 and self.scan is not None:
                at = on_mat(self.scan.found.camera, np.array(self._seen()))
                order = tightening_order([(float(x), float(y)) for x, y in at])
                numbers = [str(order.index(n) + 1) for n in range(len(order))]
                said = "Start all by hand, then tighten in this order, crosswise."
        elif picking:
            said = f"Pick {HOW[self.tool]}."
            try:
                figure = self._figure()
            except VisionError as error:
                figure, said = None, str(error)
            if figure is not None:
                said, field = figure.words, self._field()
        self.measured.setText(said)
        self.measured.setVisible(picking)
        self.use.setVisible(bool(field))
        if field:
            self.use.setText(f"Keep as the {field} of {self.session.study.name(self.session.selection)}")
        self.view.show_points(self.points, numbers, picking, self.tool == "area")

    def _field(self) -> str:
        """The figure of what is selected that a measure may be kept as, in words; "" for none."""
        joint = self.session.study.joints.get(self.session.selection)
        field = {"length": "length", "diameter": "head ⌀"}.get(self.tool, "")
        return field if joint is not None and FIELDS.get(field, "") in FIGURES[joint.kind] else ""

    def _use(self) -> None:
        figure, field = self._figure(), self._field()
        if figure is not None and field:
            fields = {FIELDS[field]: round(figure.value, 2)}
            if self.session.attempt("keep what was measured", change, self.session.selection, **fields):
                self.session.tell(f"{figure.words} kept.")

    # -- the hand -------------------------------------------------------------------------------------------

    def choose(self, n: int) -> None:
        """Choose a thing on the photo."""
        self.chosen = n
        self.refresh()

    def _toggle(self, n: int) -> None:
        assert self.scan is not None
        self._correct(n, screw=self.scan.things[n].screw is None)

    def _put_right(self, text: str) -> None:
        try:
            self._correct(self.chosen, length_mm=quantity(text, "length"))
        except ValueError as error:
            self.session.tell(str(error))
            self.refresh()

    def _correct(self, n: int, length_mm: float | None = None, screw: bool | None = None) -> None:
        if self.scan is None or not 0 <= n < len(self.scan.things):
            return
        try:
            self._show(corrected(self.scan, n, length_mm, screw))
        except VisionError as error:
            self.session.tell(str(error))
        self.refresh()

    def log(self) -> None:
        """Enter what was counted into the study, as one edit."""
        if self.scan is None:
            return
        count = len(self.scan.screws)
        if self.session.attempt("enter the screws of a photo", entered, self.scan, self.match):
            self.session.tell(f"{plural(count, 'screw')} entered from {self.name}. Ctrl+Z undoes this.")
            self.left.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.stop()
            self.left.emit()
        elif event.key() == Qt.Key.Key_F2:
            self.length.setFocus()
            self.length.selectAll()
        else:
            super().keyPressEvent(event)


def _scanned(path: Path, stop: Event) -> tuple[Picture | None, Scan | None, str]:
    """A picture and its scan, or what went wrong."""
    picture = None
    try:
        picture = pixels(path)
        return picture, scan(picture, stop.is_set), ""
    except OddBoltError as error:
        return picture, None, str(error)
