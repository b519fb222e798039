"""Open: the edge plan with the way round it, and the warm-up beside it."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from attrs import evolve
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from oddbolt.core.bench.waits import usual_waits
from oddbolt.core.errors import OddBoltError
from oddbolt.core.opening.edge import NEAR, PIERCES, Round, round_of
from oddbolt.core.opening.outline import text_of
from oddbolt.core.opening.setting_up import (
    add_keepout,
    add_layer,
    begin_plan,
    begin_warmup,
    lay_usual,
    split,
    with_heater,
)
from oddbolt.core.opening.warmup import corrected, heating, slabs_of
from oddbolt.core.reference.quantities import quantity
from oddbolt.core.study import EdgePlan, Keepout, Layer, Stretch, Study, Warmup, change, remove
from oddbolt.core.study.formatting import duration, plural
from oddbolt.core.study.preparation import HEATERS
from oddbolt.core.study.step_methods import doing
from oddbolt.desk.pages.bench_panels.layer_stack import LayerStack
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.painters.edge import EdgeDrawing
from oddbolt.desk.painters.warmth import Warmth
from oddbolt.desk.state.actions import Action
from oddbolt.desk.state.figures import warming_of
from oddbolt.desk.state.timers import HEATER
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.inputs import ChoiceField, LineField, empty
from oddbolt.desk.widgets.labels import Label
from oddbolt.desk.widgets.spoken import Ring

RIGHT = 346
PRACTICE = "Angles, depths and margins are common practice of the trade, without a published source."


class Opening(Page):
    """The edge at the left, warmth at the right."""

    title, about = "Open", "warm-up and edge plan"

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.timers = desk.timers
        self.plan_id, self.warmup_id = "", ""
        self.plans = ChoiceField(())
        self.plans.setAccessibleName("edge plan")
        self.plans.setFixedWidth(200)
        self.plans.entered.connect(self._plan_chosen)
        self.head.insertWidget(1, self.plans)
        across = QHBoxLayout()
        across.setSpacing(16)
        heat = QWidget()
        heat.setLayout(self._heat())
        heat.setMaximumWidth(RIGHT)
        across.addLayout(self._edge(), 5)
        across.addWidget(heat, 4)
        self.box.addLayout(across, 1)
        self.session.opened.connect(self._opened)
        desk.timers.changed.connect(self._show_timers)

    # -- building -----------------------------------------------------------------------------------------

    def _edge(self) -> QVBoxLayout:
        column = QVBoxLayout()
        self.drawing = EdgeDrawing()
        self.drawing.picked.connect(self.session.select)
        self.drawing.moved.connect(self._moved)
        self.drawing.entered.connect(self._entry)
        column.addWidget(self.drawing, 3)
        self.said = Label()
        self.said.setTextFormat(Qt.TextFormat.RichText)  # its words are escaped
        self.said.setWordWrap(True)
        self.said.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.said.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.said.setAccessibleName("edge plan in words")
        pane = QScrollArea()
        pane.setAccessibleName("The way round in words")
        Ring(pane)
        pane.setWidgetResizable(True)
        pane.setWidget(self.said)
        column.addWidget(pane, 2)
        return column

    def _heat(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(4)
        column.setContentsMargins(0, 0, 0, 0)
        top = QHBoxLayout()
        self.warmups = ChoiceField(())
        self.warmups.setAccessibleName("warm-up")
        self.warmups.entered.connect(self._warmup_chosen)
        self.heater = ChoiceField(HEATERS)
        self.heater.setAccessibleName("heater")
        self.heater.entered.connect(
            lambda word: self.session.attempt("change the heater", with_heater, self.warmup_id, word)
        )
        self.heater_at = LineField()
        self.heater_at.setObjectName("figure")
        self.heater_at.setAccessibleName("heater at")
        self.heater_at.setFixedWidth(64)
        self.heater_at.entered.connect(self._heater_typed)
        self.warmups.setMinimumContentsLength(8)
        self.warmups.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        top.addWidget(self.warmups, 1)
        top.addWidget(self.heater)
        top.addWidget(self.heater_at)
        column.addLayout(top)
        self.warmth = Warmth()
        column.addWidget(self.warmth, 1)
        self.verdict, self.spread = Label(), Label()
        self.verdict.setObjectName("head")
        self.spread.setObjectName("caption")
        for label in (self.verdict, self.spread):
            label.setWordWrap(True)
            column.addWidget(label)
        self.stack = LayerStack()
        self.stack.edited.connect(self._layer_edited)
        self.stack.previewed.connect(self._layer_previewed)
        self.stack.picked.connect(self.session.select)
        self.stack.added.connect(self.add_layer)
        self.stack.dropped.connect(lambda id: self.session.attempt("delete layer", remove, id))
        column.addWidget(self.stack)
        row = QHBoxLayout()
        self.go = QPushButton("Heater on   Ctrl+H")
        self.go.clicked.connect(self.start_or_end_heater)
        self.read = LineField()
        self.read.setObjectName("figure")
        self.read.setPlaceholderText("cover reads … °C")
        self.read.setAccessibleName("surface temperature read now")
        self.read.entered.connect(self._surface_read)
        row.addWidget(self.go)
        row.addWidget(self.read, 1)
        column.addLayout(row)
        self.waits = QVBoxLayout()
        self.waits.setSpacing(2)
        column.addLayout(self.waits)
        return column

    # -- showing ------------------------------------------------------------------------------------------

    def actions_here(self) -> tuple[Action, ...]:
        here, action = self.in_sight, partial(Action, menu="Bench", group=2)
        return (
            Action("heater", "&Heater on / off", "Bench", here(self.start_or_end_heater), "Ctrl+H"),
            action("edge plan new", "New edge &plan", run=here(self.new_plan), keys="Ctrl+Shift+P"),
            action("segments", "Add default &segments", run=here(self.use_stretches)),
            action("split segment", "Spl&it segment", run=self.split_stretch),
            action("keep-out", "Add &keep-out", run=here(self.add_keepout), keys="Ctrl+Shift+J"),
            Action("warm-up", "New war&m-up", "Bench", here(self.new_warmup), "Ctrl+Shift+W", 3),
            Action("layer", "Add &layer", "Bench", here(self.add_layer), "Ctrl+Shift+L", 3),
        )

    def arrive(self) -> None:
        self.drawing.setFocus()

    def state(self) -> str:
        study = self.session.study
        bad = 0
        for plan in study.edge_plans:
            try:
                bad += sum(a.finding in (PIERCES, NEAR) and not a.hinge for a in round_of(study, plan).along.values())
            except OddBoltError:
                bad += 1
        return f"{bad} open" if bad else plural(len(study.edge_plans), "plan") if study.edge_plans else ""

    def refresh(self) -> None:
        study, selected = self.session.study, self.session.study.find(self.session.selection or "")
        match selected:
            case EdgePlan():
                self.plan_id = selected.id
            case Stretch() | Keepout():
                self.plan_id = selected.plan
            case Warmup():
                self.warmup_id = selected.id
            case Layer():
                self.warmup_id = selected.warmup
        self.plan_id = self.plan_id if self.plan_id in study.edge_plans else next(iter(study.edge_plans), "")
        self.warmup_id = self.warmup_id if self.warmup_id in study.warmups else next(iter(study.warmups), "")
        _refill(self.plans, {id: p.name for id, p in study.edge_plans.items()}, self.plan_id, "no edge plan yet")
        _refill(self.warmups, {id: w.name for id, w in study.warmups.items()}, self.warmup_id, "no warm-up yet")
        self._show_edge(study)
        self._show_warmup(study)
        self._show_timers()

    def _show_edge(self, study: Study) -> None:
        found: Round | None = None
        trouble = (
            "No edge plan yet. Start one with Ctrl+Shift+P from a typed or imported outline; "
            "then say what holds each segment and add keep-outs."
        )
        if self.plan_id:
            try:
                found = round_of(study, self.plan_id)
            except OddBoltError as error:
                trouble = str(error)
        self.drawing.show_plan(study, found, trouble, self.session.selection)
        lines = [f"<b>{n}</b>&nbsp; {_plain(s)}" for n, s in enumerate(found.sentences, 1)] if found else []
        lines += [f"<b>Caution</b>&nbsp; {_plain(t)}" for t in found.troubles] if found else []
        if found:
            lines.append(f'<span style="color:{theme.current.muted}">{PRACTICE}</span>')
        self.said.setText("<br>".join(lines))
        if found is not None:
            wide, high = found.outline.size_mm
            self.beside.setText(f"{wide:g} × {high:g} mm, {found.outline.length_mm:.0f} mm of edge")
        else:
            self.beside.setText(self.about)

    def _show_warmup(self, study: Study) -> None:
        set_up = study.warmups.get(self.warmup_id)
        for widget in (self.heater, self.heater_at, self.go, self.read, self.stack):
            widget.setVisible(set_up is not None)
        if set_up is None:
            self.stack.show_layers([])
            self.warmth.show_warming(None, None, None, None, "No warm-up yet. Start one with Ctrl+Shift+W.")
            self.verdict.setText("")
            self.spread.setText("")
            return
        self.heater.set_shown(set_up.heater)
        strength = f"{set_up.flux_w_m2:g} W/m²" if set_up.heater == "pad" else f"{set_up.heater_c:g} °C"
        self.heater_at.set_shown(strength)
        self.stack.show_layers([layer for layer in study.layers.values() if layer.warmup == set_up.id])
        self._show_warming(study, set_up, kept=True)

    def _show_warming(self, study: Study, set_up: Warmup, kept: bool) -> None:
        warming, window, trouble = warming_of(study, set_up.id)
        band = self.figures.band(set_up.id) if kept and warming is not None else None
        self.warmth.show_warming(set_up, warming, window, band, trouble)
        self.verdict.setText(window.sentence if window else trouble)
        words = ""
        if band is not None and band.reached > 0.5:
            low, high = duration(band.soft_s[0]), duration(band.soft_s[2]) if band.soft_s[2] < 1e9 else "never"
            words = f"Material data unverified. Soft after {low} to {high} in eight of ten."
        elif band is not None:
            words = f"Soft in {band.reached:.0%} of {band.samples} samples of uncertain figures."
        self.spread.setText(words)

    def _show_timers(self) -> None:
        """One line for each timer that runs, with a way to end it."""
        empty(self.waits)
        for timer in self.timers.running:
            step = timer.step if timer.step in self.session.study.steps else ""
            where = f", {self.session.study.name(step)}" if step else ""
            end = QPushButton(f"{usual_waits()[timer.kind].label}{where}: end it")
            end.setObjectName("link")
            end.clicked.connect(partial(self.timers.end, timer))
            self.waits.addWidget(end)
        running = self.timers.heater(self.warmup_id)
        self.go.setText("Heater off   Ctrl+H" if running else "Heater on   Ctrl+H")
        self.tick()

    def tick(self, caution: str = "") -> None:
        running = self.timers.heater(self.warmup_id)
        self.warmth.show_now(running.elapsed_s if running else None)

    # -- editing the edge ---------------------------------------------------------------------------------

    def _plan_chosen(self, id: str) -> None:
        self.plan_id = id
        self.session.select(id)

    def _moved(self, id: str, x: float, y: float) -> None:
        study = self.session.study
        self.session.attempt(f"move {study.name(id)}", change, id, x_mm=round(x, 1), y_mm=round(y, 1))

    def _entry(self, id: str, angle: float, depth: float) -> None:
        study = self.session.study
        self.session.attempt(f"set the pick at the {study.name(id)}", change, id, angle_deg=angle, depth_mm=depth)

    def new_plan(self) -> None:
        """Begin an edge plan with the device's outline and the usual stretches."""
        self._make("new edge plan", begin_plan)

    def use_stretches(self) -> None:
        """Lay the usual stretches along the edge, in place of those there."""
        self.session.attempt("add default segments", lay_usual, self.plan_id)

    def split_stretch(self) -> None:
        """Part the chosen stretch in its middle."""
        self.session.attempt("split segment", split, self.session.selection)

    def add_keepout(self) -> None:
        """Put a keep-out into the middle of the plan and choose it; arrow keys move it."""
        self._make("add a keep-out", add_keepout, self.plan_id)
        self.drawing.setFocus()

    def _make(self, label: str, make: Callable[..., tuple[Study, str]], *arguments: str) -> None:
        """Make a thing and choose it."""
        try:
            after, id = make(self.session.study, *arguments)
        except OddBoltError as error:
            self.session.tell(str(error))
            return
        if self.session.edit(after, label):
            self.session.select(id)

    def take_outline(self, path: Path) -> None:
        """Take the outline of the plan from a drawing. Raises FileError."""
        from oddbolt.files.outlines import read_outline  # what reads drawings takes long to load

        outline = read_outline(path)
        study = self.session.study
        if not self.plan_id:
            self.session.edit(evolve(study, device=evolve(study.device, outline=text_of(outline))), "import outline")
            self.new_plan()
        else:
            self.session.attempt("import outline", change, self.plan_id, outline=text_of(outline))
        wide, high = outline.size_mm
        self.session.tell(f"Outline taken: {wide:.1f} × {high:.1f} mm, {len(outline.points)} points.")

    # -- editing the warm-up ------------------------------------------------------------------------------

    def _warmup_chosen(self, id: str) -> None:
        self.warmup_id = id
        self.session.select(id)

    def _change(self, id: str, **fields: object) -> None:
        name = self.session.study.name(id)
        self.session.attempt(f"change {name}", change, id, **fields)

    def _heater_typed(self, text: str) -> None:
        pad = self.session.study.warmups[self.warmup_id].heater == "pad"
        try:
            value = quantity(text, "flux" if pad else "temperature")
        except ValueError as error:
            self.session.tell(str(error))
            self.refresh()
            return
        self._change(self.warmup_id, **{"flux_w_m2" if pad else "heater_c": value})

    def _layer_edited(self, id: str, field: str, text: str) -> None:
        value: object = text
        if field == "thickness_mm":
            try:
                value = quantity(text, "length")
            except ValueError as error:
                self.session.tell(str(error))
                self.refresh()
                return
        self._change(id, **{field: value})

    def _layer_previewed(self, id: str, text: str) -> None:
        """A thickness is being typed: show what it would do, without keeping it."""
        study = self.session.study
        try:
            tried = change(study, id, thickness_mm=quantity(text, "length"))
        except (OddBoltError, ValueError):
            return
        self._show_warming(tried, study.warmups[self.warmup_id], kept=False)

    def new_warmup(self) -> None:
        """Begin a warm-up with ordinary layers."""
        self._make("new warm-up", begin_warmup)

    def add_layer(self) -> None:
        """Add a layer at the inner end of the stack."""
        self._make("add a layer", add_layer, self.warmup_id)

    def start_or_end_heater(self) -> None:
        """Start the heater's timer for the warm-up shown, or end it."""
        running = self.timers.heater(self.warmup_id)
        if running is not None:
            self.timers.end(running)
            return
        study = self.session.study
        if self.warmup_id not in study.warmups:
            self.session.tell("No warm-up yet; start one with Ctrl+Shift+W.")
            return
        _, window, trouble = warming_of(study, self.warmup_id)
        if window is None or window.soft_s is None:
            self.session.tell(window.sentence if window else trouble)
            return
        joint = study.warmups[self.warmup_id].joint
        heats = (s.id for s in study.steps.values() if joint and joint in s.softens and "heat" in doing(study, s))
        step = next(heats, "")
        self.timers.start(HEATER, window.soft_s, step, self.warmup_id, window.limit_s)
        self.session.tell(f"Heater on. {window.sentence} Type the cover temperature to correct the curve.")

    def _surface_read(self, text: str) -> None:
        """Correct the warm-up by what the cover reads now."""
        self.read.set_shown("")
        running = self.timers.heater(self.warmup_id)
        if not text.strip():
            return
        if running is None:
            self.session.tell("Start the heater first (Ctrl+H): a reading needs the time since then.")
            return
        study = self.session.study
        set_up = study.warmups[self.warmup_id]
        at = max(1.0, running.elapsed_s)
        try:
            read = quantity(text, "temperature")
            faces = corrected(slabs_of(study, set_up.id), heating(set_up), at, read)
        except (OddBoltError, ValueError) as error:
            self.session.tell(str(error))
            return
        field = "flux_w_m2" if set_up.heater == "pad" else "coupling_w_m2k"
        value = faces.flux if set_up.heater == "pad" else faces.coupling
        fits = f"correct {set_up.name} by {read:g} °C after {duration(at)}"
        if self.session.attempt(fits, change, set_up.id, **{field: round(value, 1)}):
            _, window, _ = warming_of(self.session.study, set_up.id)
            if window is not None and window.soft_s is not None:
                self.timers.replan(running, window.soft_s, window.limit_s)
            what = f"heat flux {value:.0f} W/m²" if set_up.heater == "pad" else f"contact {value:.0f} W/m²K"
            self.session.tell(f"Corrected: {what}. {window.sentence if window else ''}")

    def _opened(self) -> None:
        self.plan_id = self.warmup_id = ""


def _refill(field: ChoiceField, names: dict[str, str], chosen: str, empty: str) -> None:
    """Fill a choice with names by their ids."""
    field.blockSignals(True)
    field.clear()
    for id, name in names.items():
        field.addItem(name, id)
    if not names:
        field.addItem(empty, "")
    field.setCurrentIndex(max(0, field.findData(chosen)))
    field.setEnabled(bool(names))
    field.blockSignals(False)


def _plain(text: str) -> str:
    return text.replace("&", "&amp;").replace("<", "&lt;")
