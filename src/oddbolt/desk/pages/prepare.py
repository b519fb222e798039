"""Prepare: the device, what to check before it is opened, and the kit for the job."""

from __future__ import annotations

from datetime import datetime
from functools import partial

from attrs import evolve
from PySide6.QtCore import Qt
from PySide6.QtGui import QPixmap, QResizeEvent
from PySide6.QtWidgets import (
    QCheckBox,
    QGridLayout,
    QHBoxLayout,
    QHeaderView,
    QPlainTextEdit,
    QPushButton,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from oddbolt.core.bench.kit import KitNeed, called, kit, missing
from oddbolt.core.errors import OddBoltError
from oddbolt.core.reference.quantities import quantity
from oddbolt.core.safety import DEFER, CheckLine, contents, preflight
from oddbolt.core.safety.contents import label
from oddbolt.core.safety.preflight import DONE, OVER, done, reopened
from oddbolt.core.study.formatting import plural
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.painters.plate import Plate
from oddbolt.desk.painters.roll import ToolRoll
from oddbolt.desk.widgets.inputs import LineField
from oddbolt.desk.widgets.labels import Label
from oddbolt.desk.widgets.tables import Cell, Rows, Table

#: room for who signed and when, px
SIGNED = 15
HEADS = ("there", "what", "amount", "rests on")
#: below this width of the page, in px, the tool roll takes the place of the device
NARROW = 700
WHERE = {"protection": "protection", "renew": "to renew", "supply": "consumable"}


class Prepare(Page):
    """The device and its tool roll above; checks and consumables below."""

    title, about = "Prepare", "checks and kit before opening"

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self._decoded: dict[str, QPixmap] = {}
        self.settings = desk.settings
        self.targets: tuple[str, ...] = ()
        self._known: tuple[object, tuple[KitNeed, ...]] = (None, ())  # what the kit was worked out for, and the kit
        self.lines: dict[str, CheckRow] = {}
        self.job = LineField(lambda: [p.name for p in self.session.study.parts.values()])
        self.job.setPlaceholderText("kit for: full teardown, or name a part")
        self.job.setAccessibleName("what the kit is for")
        self.job.setObjectName("target")
        self.job.setFixedWidth(290)
        self.job.entered.connect(self._job_named)
        self.head.addWidget(self.job)
        self.plate, self.roll = Plate(), ToolRoll()
        self.roll.toggled.connect(self.toggle)
        top = QHBoxLayout()
        top.setSpacing(14)
        top.addWidget(self.plate, 2)
        top.addWidget(self.roll, 5)
        self.box.addLayout(top)
        arrival = QHBoxLayout()
        caption = Label("on arrival")
        caption.setObjectName("quiet")
        self.arrived = LineField()
        self.arrived.setPlaceholderText("condition: liquid indicators, missing screws, earlier repair, damage")
        self.arrived.setAccessibleName("condition on arrival")
        self.arrived.entered.connect(self._arrived)
        self.found = Label()
        self.found.setObjectName("quiet")
        arrival.addWidget(caption)
        arrival.addWidget(self.arrived, 1)
        arrival.addWidget(self.found)
        self.box.addLayout(arrival)
        below = QHBoxLayout()
        below.setSpacing(18)
        below.addLayout(self._checks(), 1)
        below.addLayout(self._kit(), 1)
        self.box.addLayout(below, 1)
        defer = Label(DEFER)
        defer.setObjectName("caption")
        self.box.addWidget(defer)

    # -- building -----------------------------------------------------------------------------------------

    def _checks(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(2)
        head = QHBoxLayout()
        name = Label("Checks before opening")
        name.setObjectName("head")
        self.who = LineField()
        self.who.setPlaceholderText("your initials")
        self.who.setAccessibleName("who checks")
        self.who.setFixedWidth(90)
        self.who.set_shown(self.settings.get("who", ""))
        self.who.entered.connect(self._signing)
        self.session.who = self.who.text()
        head.addWidget(name, 1)
        caption = Label("signed by")
        caption.setObjectName("quiet")
        head.addWidget(caption)
        head.addWidget(self.who)
        column.addLayout(head)
        self.pane = QScrollArea()
        self.pane.setFocusPolicy(Qt.FocusPolicy.NoFocus)  # what lies in it takes the focus
        self.pane.setWidgetResizable(True)
        self.pane.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        column.addWidget(self.pane, 1)
        return column

    def _arrived(self, text: str) -> None:
        study = self.session.study
        device = evolve(study.device, arrived=" ".join(text.split()))
        self.session.edit(evolve(study, device=device), "say how the device arrived")

    def _signing(self, who: str) -> None:
        self.settings.put("who", who)
        self.session.who = who

    def _kit(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(2)
        head = QHBoxLayout()
        name = Label("Consumables and protection")
        name.setObjectName("head")
        self.own = QPushButton("my bench")
        self.own.setObjectName("word")
        self.own.setCheckable(True)
        self.own.toggled.connect(self._own_bench)
        head.addWidget(name, 1)
        head.addWidget(self.own)
        column.addLayout(head)
        self.rows = Rows(HEADS, figures=(2,))
        self.table = Table(self.rows, "Consumables and protection")
        self.table.widths(72, 120, 84, 92)
        header = self.table.horizontalHeader()
        header.setStretchLastSection(False)
        header.setSectionResizeMode(1, QHeaderView.ResizeMode.Stretch)
        self.table.clicked.connect(lambda index: self.toggle(self.rows.ids[self._row(index)]))
        self.table.activated.connect(lambda index: self.toggle(self.rows.ids[self._row(index)]))
        self.table.space.connect(self.toggle)
        self.bench = QPlainTextEdit()
        self.bench.setObjectName("field")
        self.bench.setTabChangesFocus(True)
        self.bench.setAccessibleName("My bench: one item per line")
        self.either = QStackedWidget()
        self.either.addWidget(self.table)
        self.either.addWidget(self.bench)
        column.addWidget(self.either, 1)
        return column

    def _row(self, index: object) -> int:
        return self.table.proxy.mapToSource(index).row()  # type: ignore[arg-type]

    # -- showing ------------------------------------------------------------------------------------------

    def resizeEvent(self, event: QResizeEvent) -> None:
        wide = event.size().width() > NARROW
        self.plate.setVisible(wide)
        self.table.setColumnHidden(len(HEADS) - 1, not wide)
        super().resizeEvent(event)

    def state(self) -> str:
        open_ = sum(line.state != DONE for line in preflight(self.session.study))
        return f"{open_} open" if open_ else "all checked"

    def arrive(self) -> None:
        if not self.session.selection:
            self.session.show_device()
        self.roll.setFocus()

    def needs(self) -> tuple[KitNeed, ...]:
        """The kit of the chosen job."""
        study = self.session.study
        steps: list[str] | None = None
        if self.targets:
            found = self.figures.route(self.targets)
            route = found[0] if found else None
            steps = [leg.step for leg in route.legs] if route else []
        asked = (study, tuple(steps) if steps is not None else None, tuple(self.settings.bench))
        if self._known[0] != asked:
            self._known = asked, kit(study, contents(study), steps, self.settings.bench)
        return self._known[1]

    def job_name(self) -> str:
        """The chosen job in words."""
        study = self.session.study
        names = " and ".join(study.name(t) for t in self.targets)
        return f"route to {names}" if names else "full teardown"

    def refresh(self) -> None:
        study = self.session.study
        self.targets = tuple(t for t in self.targets if t in study.parts)
        self.job.set_shown("; ".join(study.name(t) for t in self.targets))
        self.plate.show_device(study.device, [label(c) for c in contents(study)], self._photo())
        self.arrived.set_shown(study.device.arrived)
        seen = sum(f.kind == "arrival" for f in study.findings.values())
        shown = sum(p.role == "arrival" for p in study.photos.values())
        told = [plural(seen, "finding") if seen else "", plural(shown, "photo") if shown else ""]
        self.found.setText(", ".join(filter(None, told)))
        needs = self.needs()
        self.roll.show_needs(needs)
        rest = [n for n in needs if n.sort in WHERE]
        cells = [_cells(n) for n in rest]
        chosen = self.rows.ids[i] if 0 <= (i := self._row(self.table.currentIndex())) < len(self.rows.ids) else ""
        self.table.refresh([n.what for n in rest], cells, {n.what for n in rest if not n.there}, chosen)
        self._show_checks(preflight(study))
        lacking = len(missing(needs))
        self.beside.setText(f"{self.job_name()}: {len(needs)} things, {lacking or 'none'} missing on your bench")

    def _photo(self) -> QPixmap:
        store, photos = self.session.store, self.session.study.photos
        if store is None or not photos:
            return QPixmap()
        sha256 = next(iter(photos.values())).sha256
        if sha256 not in self._decoded:
            pixmap = QPixmap()
            if data := store.picture(sha256):
                pixmap.loadFromData(data)
            self._decoded = {sha256: pixmap}
        return self._decoded[sha256]

    def _show_checks(self, lines: tuple[CheckLine, ...]) -> None:
        if list(self.lines) != [line.rule for line in lines]:
            paper = QWidget()
            paper.setObjectName("paper")
            box = QVBoxLayout(paper)
            box.setContentsMargins(0, 0, 8, 0)
            box.setSpacing(0)
            self.lines = {}
            for line in lines:
                row = CheckRow(line)
                row.mark.clicked.connect(partial(self._ticked, line.rule))
                row.reading.entered.connect(partial(self._read, line.rule))
                self.lines[line.rule] = row
                box.addWidget(row)
            box.addStretch(1)
            self.pane.setWidget(paper)
        for line in lines:
            self.lines[line.rule].show_line(line)

    # -- editing ------------------------------------------------------------------------------------------

    def _ticked(self, rule: str) -> None:
        row = self.lines[rule]
        if row.line.check is not None:
            self.session.attempt("reopen check", reopened, rule)
        elif row.line.unit and not row.reading.text().strip():
            row.mark.setChecked(False)
            row.reading.setFocus()
            self.session.tell(f"{row.line.what}: type the reading in {row.line.unit} and press Enter.")
        else:
            self._sign(rule, row.reading.text())

    def _read(self, rule: str, text: str) -> None:
        if text.strip():
            self._sign(rule, text)
        elif self.lines[rule].line.check is not None:
            self.session.attempt("reopen check", reopened, rule)

    def _sign(self, rule: str, text: str) -> None:
        line = self.lines[rule].line
        when = datetime.now().isoformat(timespec="minutes")
        try:
            reading = _reading(line, text)
        except ValueError as error:
            self.session.tell(str(error))
            self.refresh()
            return
        if self.session.attempt(f"check {rule}", done, rule, self.session.who, when, reading):
            now = next(one for one in preflight(self.session.study) if one.rule == rule)
            if now.state == OVER:
                self.session.tell(
                    f"{line.what}: {reading:g} {line.unit} is over the limit, {line.limit}. {line.reason}."
                )

    def toggle(self, what: str) -> None:
        """Put a thing of the kit on the user's bench, or take it off."""
        bench = self.settings.bench
        need = next((n for n in self.needs() if n.what == what), None)
        if need is None:
            return
        if need.there:
            bench = [word for word in bench if not called(need, word)]
        else:
            bench.append(what)
        self.settings.put_bench(bench)
        self.refresh()

    def _own_bench(self, shown: bool) -> None:
        if shown:
            self.bench.setPlainText("\n".join(self.settings.bench))
            self.bench.setFocus()
        else:
            self.settings.put_bench([w.strip() for w in self.bench.toPlainText().splitlines() if w.strip()])
            self.refresh()
        self.either.setCurrentIndex(int(shown))

    def _job_named(self, text: str) -> None:
        try:
            self.targets = self.session.named(text) if text.strip() else ()
        except OddBoltError as error:
            self.session.tell(str(error))
        self.refresh()


class CheckRow(QWidget):
    """One check: a box to tick, what and why, its reading, who signed and when."""

    def __init__(self, line: CheckLine) -> None:
        super().__init__()
        self.line = line
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 4, 0, 4)
        grid.setVerticalSpacing(0)
        grid.setHorizontalSpacing(8)
        grid.setColumnStretch(1, 1)
        self.mark = QCheckBox()
        self.what, self.why, self.signed = Label(), Label(), Label()
        self.what.setWordWrap(True)
        self.why.setObjectName("caption")
        self.why.setWordWrap(True)
        self.signed.setObjectName("caption")
        self.signed.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.signed.setFixedHeight(SIGNED)  # there whether or not it says something, so that a tick moves nothing
        self.reading = LineField()
        self.reading.setObjectName("figure")
        self.reading.setAccessibleName(f"reading: {line.what}")
        self.reading.setFixedWidth(78)
        grid.addWidget(self.mark, 0, 0, Qt.AlignmentFlag.AlignTop)
        grid.addWidget(self.what, 0, 1)
        grid.addWidget(self.reading, 0, 2)
        self.reading.setVisible(bool(line.unit))  # now that it is not a window of its own
        grid.addWidget(self.why, 1, 1, 1, 2)
        grid.addWidget(self.signed, 2, 1, 1, 2)

    def show_line(self, line: CheckLine) -> None:
        """Show how the check stands."""
        self.line = line
        self.mark.setChecked(line.state == DONE)
        self.mark.setAccessibleName(f"{line.what}: {line.state}")
        self.what.setText(line.what)
        self.what.setObjectName("copper" if line.state == OVER else "")
        self.what.style().polish(self.what)
        for_ = f" ({', '.join(line.because)})" if line.because else ""
        self.why.setText(f"{line.limit}: {line.reason}{for_}" if line.limit else f"{line.reason}{for_}")
        self.setToolTip(f"Source: {line.source}{'' if line.verified else ', unverified'}")
        check = line.check
        if line.unit:
            read = f"{check.reading:g} {line.unit}" if check and check.reading is not None else ""
            self.reading.set_shown(read)
            self.reading.setPlaceholderText(line.unit)
        when = f"{check.by} {check.when[8:10]}.{check.when[5:7]}. {check.when[11:16]}".strip() if check else ""
        self.signed.setText("over the limit" if line.state == OVER else when)


def _cells(need: KitNeed) -> list[Cell]:
    there = "yes" if need.there else "missing"
    basis = " · ".join(w for w in (WHERE[need.sort], need.basis) if w)
    return [(there, there), (need.what, need.what.casefold()), (need.said, need.amount or 0.0), (basis, basis)]


def _reading(line: CheckLine, text: str) -> float | None:
    """A typed reading in the unit of its check. Raises ValueError with a sentence."""
    if not line.unit:
        return None
    dimension, factor = {"MΩ": ("resistance", 1e6), "V": ("voltage", 1.0), "%": ("share", 1.0)}[line.unit]
    bare = text.strip().replace(",", ".").removesuffix(line.unit).strip()
    try:
        return float(bare)
    except ValueError:
        return quantity(text, dimension) / factor
