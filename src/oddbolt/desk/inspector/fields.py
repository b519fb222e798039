"""What can be edited of a part, a joint, a step or the device, and the widgets that edit it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from attrs import frozen
from PySide6.QtCore import QEvent, QStringListModel, Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent, QKeySequence
from PySide6.QtWidgets import QCheckBox, QComboBox, QCompleter, QLayout, QLineEdit, QWidget

from oddbolt.core.errors import BenchError, StudyError
from oddbolt.core.opening.outline import outline_of
from oddbolt.core.reference.tables import drives, materials, table
from oddbolt.core.reference.units import BASE_UNIT, quantity
from oddbolt.core.safety.contents import label, stated_in
from oddbolt.core.study import (
    FIGURES,
    JOINT_KINDS,
    Callout,
    Device,
    EdgePlan,
    Joint,
    Keepout,
    Layer,
    Part,
    Photo,
    Run,
    Step,
    Stretch,
    Study,
    Warmup,
)
from oddbolt.core.study.formatting import duration
from oddbolt.core.study.model import FINDING_KINDS, PHOTO_ROLES, REUSE_RULES, RUN_KINDS, TIMES
from oddbolt.core.study.naming import resolve, resolve_all
from oddbolt.core.study.preparation import HEATERS, HOLDS, KEEPOUT_KINDS, LAYER_ROLES
from oddbolt.core.study.steps import TOLD


@frozen
class Field:
    """One editable field. ``kind`` is text, choice, yes, count, parts, part, joints, joint, texts, outline, or a
    dimension of the units. What is ``needed`` cannot be emptied."""

    name: str
    caption: str
    kind: str = "text"
    choices: tuple[str, ...] = ()
    needed: bool = False


FACES = ("front", "back", "left", "right", "top", "bottom")
PART = (
    Field("name", "name"),
    Field("inside", "inside", "part"),
    Field("kind", "kind"),
    Field("priority", "priority", "yes"),
    Field("reuse", "reuse", "choice", REUSE_RULES),
    Field("variant", "variant"),
    Field("mass_g", "mass", "mass"),
    Field("note", "note"),
)
JOINT = (
    Field("kind", "kind", "choice", JOINT_KINDS),
    Field("name", "name"),
    Field("holds", "holds", "parts"),
    Field("into", "into", "part"),
    Field("count", "count", "count"),
    Field("drive", "drive", "choice", ("", *drives())),
    Field("size", "size"),
    Field("thread", "thread"),
    Field("length_mm", "length", "length"),
    Field("lengths", "lengths"),
    Field("head", "head"),
    Field("head_mm", "head ⌀", "length"),
    Field("finish", "finish"),
    Field("torque_ncm", "torque", "torque"),
    Field("latch", "latch"),
    Field("pins", "pins", "count"),
    Field("width_mm", "width", "length"),
    Field("tab", "pull tab", "choice", ("", "yes", "no")),
    Field("place", "place"),
    Field("reuse", "reuse", "choice", REUSE_RULES),
    Field("note", "note"),
)
STEP = (
    Field("verb", "do"),
    Field("said", "said"),
    Field("releases", "releases", "joints"),
    Field("takes_out", "takes out", "parts"),
    Field("opens", "opens", "parts"),
    Field("softens", "softens", "joints"),
    Field("tool", "tool"),
    Field("face", "face", "choice", FACES),
    Field("wait_s", "wait", "time"),
    Field("isolates_power", "cuts power", "yes"),
    Field("destroys", "destroys", "yes"),
    Field("least_s", "quickest", "time"),
    Field("likely_s", "usually", "time"),
    Field("most_s", "slowest", "time"),
    Field("cautions", "mind", "texts"),
    Field("note", "note"),
)
DEVICE = (
    Field("name", "device"),
    Field("maker", "maker"),
    Field("model", "model"),
    Field("variant", "variant"),
    Field("serial", "serial"),
    Field("mass_g", "mass", "mass"),
    Field("outline", "outline", "outline"),
    Field("thick_mm", "thickness", "length"),
    Field("opens", "opens at", "choice", ("", *FACES)),
    Field("contains", "contains", "contents"),
    Field("times", "untimed by", "choice", TIMES),
)
EDGE_PLAN = (
    Field("name", "name"),
    Field("outline", "outline", "outline"),
    Field("part", "cover", "part"),
    Field("face", "face", "choice", FACES),
    Field("pick_mm", "pick is", "length", needed=True),
)
STRETCH = (
    Field("name", "name"),
    Field("hold", "held by", "choice", HOLDS),
    Field("count", "how many", "count"),
    Field("width_mm", "glue width", "length"),
    Field("angle_deg", "angle", "angle", needed=True),
    Field("depth_mm", "depth", "length", needed=True),
    Field("from_mm", "from", "length", needed=True),
    Field("to_mm", "to", "length", needed=True),
    Field("joint", "joint", "joint"),
    Field("note", "note"),
)
KEEPOUT = (
    Field("kind", "kind", "choice", KEEPOUT_KINDS),
    Field("name", "name"),
    Field("part", "part", "part"),
    Field("x_mm", "middle x", "length", needed=True),
    Field("y_mm", "middle y", "length", needed=True),
    Field("wide_mm", "width", "length", needed=True),
    Field("high_mm", "height", "length", needed=True),
    Field("below_mm", "top below", "length", needed=True),
)
WARMUP = (
    Field("name", "name"),
    Field("heater", "heater", "choice", HEATERS),
    Field("heater_c", "heater at", "temperature", needed=True),
    Field("flux_w_m2", "pad gives", "flux", needed=True),
    Field("coupling_w_m2k", "contact", "coupling", needed=True),
    Field("loss_w_m2k", "loss", "coupling", needed=True),
    Field("room_c", "room", "temperature", needed=True),
    Field("target_c", "soft at", "temperature", needed=True),
    Field("limit_c", "limit", "temperature", needed=True),
    Field("minutes", "shown, min", "number", needed=True),
    Field("joint", "glue", "joint"),
)
LAYER = (
    Field("name", "name"),
    Field("material", "material", "choice", tuple(materials())),
    Field("thickness_mm", "thickness", "length", needed=True),
    Field("role", "is the", "choice", LAYER_ROLES),
    Field("conductivity_w_mk", "conducts", "conductivity"),
    Field("density_kg_m3", "kg/m³", "number"),
    Field("heat_j_kgk", "heat", "heat"),
)
PHOTO = (
    Field("caption", "caption"),
    Field("step", "of step", "step"),
    Field("role", "shows", "choice", PHOTO_ROLES),
    Field("taken", "taken"),
)
CALLOUT = (Field("letter", "letter", needed=True), Field("about", "about", "thing"), Field("label", "words"))
RUN = (Field("kind", "kind", "choice", RUN_KINDS), Field("started", "began"))
FINDING = (Field("kind", "kind", "choice", FINDING_KINDS), Field("text", "text"))
FORMS: dict[type[Any], tuple[Field, ...]] = {
    Part: PART,
    Step: STEP,
    Photo: PHOTO,
    Run: RUN,
    Callout: CALLOUT,
    Device: DEVICE,
    EdgePlan: EDGE_PLAN,
    Stretch: STRETCH,
    Keepout: KEEPOUT,
    Warmup: WARMUP,
    Layer: LAYER,
}
#: which figures of a warm-up belong to which heater
HEATER_FIGURES = {"plate": ("heater_c", "coupling_w_m2k"), "air": ("heater_c", "coupling_w_m2k"), "pad": ("flux_w_m2",)}


def fields_of(thing: object) -> tuple[Field, ...]:
    """The fields of a thing, in the order of the form."""
    if isinstance(thing, Joint):
        hidden = {f for figures in FIGURES.values() for f in figures} - set(FIGURES[thing.kind])
        return tuple(f for f in JOINT if f.name not in hidden)
    if isinstance(thing, Warmup):
        hidden = {f for figures in HEATER_FIGURES.values() for f in figures} - set(HEATER_FIGURES[thing.heater])
        return tuple(f for f in WARMUP if f.name not in hidden)
    return FORMS[type(thing)]


def has_form(thing: object) -> bool:
    """Whether the margin can show this thing."""
    return isinstance(thing, Joint) or type(thing) in FORMS


def shown(study: Study, field: Field, value: Any) -> str:
    """A value as the form shows it; :func:`typed` reads it back."""
    if value is None or value == "" or value == ():
        return ""
    match field.kind:
        case "part" | "joint" | "thing":
            return study.name(value)
        case "step":
            return str(study.step_number(value))
        case "parts" | "joints":
            return "; ".join(study.name(id) for id in value)
        case "texts":
            return " | ".join(value)
        case "time":
            return duration(value) if value else ""
        case "choice" if isinstance(value, bool):
            return "yes" if value else "no"
        case dimension if dimension in BASE_UNIT:
            return f"{value:.6g} {BASE_UNIT[dimension]}".rstrip()
    return str(value)


def typed(study: Study, field: Field, text: str) -> Any:
    """The value of a typed text. Raises StudyError with one sentence if it cannot be one."""
    text = text.strip()
    if field.needed and not text:
        raise StudyError(f"The {field.caption} cannot be left empty; Escape brings it back.")
    try:
        match field.kind:
            case "part" | "joint":
                return resolve(study, text, "P" if field.kind == "part" else "J") if text else ""
            case "thing":
                return thing_named(study, text) if text else ""
            case "step":
                return step_numbered(study, text) if text else ""
            case "contents":
                unknown = stated_in(text)[1]
                if unknown:
                    known = ", ".join(label(c) for c in table("contents")["content"])
                    raise StudyError(f"{unknown[0]!r} asks for no care that is known here; there are {known}.")
            case "outline":
                return outline_of(text) and text if text else ""
            case "parts" | "joints":
                return resolve_all(study, text, "P" if field.kind == "parts" else "J")
            case "texts":
                return tuple(t.strip() for t in text.split("|") if t.strip())
            case "count":
                return int(text) if text else None
            case "time":
                return quantity(text, "time") if text else None if field.name in TOLD else 0.0
            case "choice" if field.name == "tab":
                return {"yes": True, "no": False}.get(text)
            case dimension if dimension in BASE_UNIT:
                return quantity(text, dimension) if text else None
    except BenchError as error:
        raise StudyError(str(error)) from None
    except ValueError as error:
        sentence = str(error) if field.kind != "count" else f"{text!r} is no count; type a whole number."
        raise StudyError(sentence) from None
    return text


def step_numbered(study: Study, text: str) -> str:
    """The step of a typed number. Raises StudyError if there is none."""
    ids = list(study.steps)
    number = text.lower().removeprefix("step").strip()
    if not number.isdecimal() or not 1 <= int(number) <= len(ids):
        raise StudyError(f"There is no step {text!r}; the steps are numbered from 1 to {len(ids)}.")
    return ids[int(number) - 1]


def thing_named(study: Study, text: str) -> str:
    """The part, joint or step that a text names. Raises StudyError if none is."""
    if text.lower().startswith("step"):
        return step_numbered(study, text)
    for letter in "PJ":
        try:
            return resolve(study, text, letter)
        except StudyError as error:
            said = error
    raise said


def is_undo(event: QEvent) -> bool:
    """Whether a key asks to undo or redo; a field with nothing of its own to undo lets it through to the study."""
    if event.type() != QEvent.Type.ShortcutOverride or not isinstance(event, QKeyEvent):
        return False
    return event.matches(QKeySequence.StandardKey.Undo) or event.matches(QKeySequence.StandardKey.Redo)


class TypedLine(QLineEdit):
    """A line whose Ctrl+Z undoes the study when there is no typing to take back."""

    def event(self, event: QEvent) -> bool:
        if is_undo(event) and not (self.isUndoAvailable() or self.isRedoAvailable()):
            event.ignore()
            return True
        return super().event(event)


class LineField(TypedLine):
    """A text that is handed over when it was changed and left, or at Enter. Escape takes the typing back."""

    entered = Signal(str)

    def __init__(self, names: Callable[[], Sequence[str]] | None = None) -> None:
        super().__init__()
        self._before = ""
        self.editingFinished.connect(self.leave)
        self._names = names
        if names is not None:
            completer = QCompleter(self)
            completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
            completer.setFilterMode(Qt.MatchFlag.MatchContains)
            self.setCompleter(completer)

    def set_shown(self, text: str) -> None:
        """Show a value, unless something else is being typed."""
        if self.hasFocus() and self.text() != self._before:
            return
        self._before = text
        if self.text() != text:
            self.setText(text)
            self.setCursorPosition(0)

    def focusInEvent(self, event: QFocusEvent) -> None:
        completer = self.completer()
        if self._names is not None and completer is not None:
            completer.setModel(QStringListModel(list(self._names()), completer))
        super().focusInEvent(event)

    def put_back(self, text: str) -> None:
        """Show a value in place of what was typed."""
        self._before = text
        self.setText(text)

    def take_back(self) -> None:
        """Show the value from before."""
        self.setText(self._before)

    def leave(self) -> None:
        """Hand over what was typed, if it was changed."""
        if self.text() != self._before:
            self._before = self.text()
            self.entered.emit(self.text())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.take_back()
        else:
            super().keyPressEvent(event)


class ChoiceField(QComboBox):
    """One of a few words."""

    entered = Signal(str)

    def __init__(self, choices: Sequence[str]) -> None:
        super().__init__()
        for choice in choices:
            self.addItem(choice or "not said", choice)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.activated.connect(lambda: self.entered.emit(self.currentData()))

    def set_shown(self, text: str) -> None:
        """Show a value; one that is not among the choices is added."""
        at = self.findData(text)
        if at < 0:
            self.addItem(text, text)
            at = self.count() - 1
        self.setCurrentIndex(at)

    def wheelEvent(self, event: object) -> None:
        event.ignore()  # type: ignore[attr-defined]


class YesField(QCheckBox):
    """Yes or no."""

    entered = Signal(bool)

    def __init__(self) -> None:
        super().__init__()
        self.clicked.connect(self.entered)

    def set_shown(self, text: str) -> None:
        """Show a value."""
        self.setChecked(text == "True")


def empty(layout: QLayout) -> None:
    """Take every widget out of a layout, out of sight at once."""
    while layout.count():
        item = layout.takeAt(0)
        widget = item.widget() if item is not None else None
        if widget is not None:
            widget.hide()
            widget.deleteLater()


def widget_for(field: Field, names: Callable[[str], Sequence[str]]) -> QWidget:
    """The widget that edits a field; ``names`` gives the names to complete from by the letter of their kind."""
    made: LineField | ChoiceField | YesField
    if field.kind == "choice":
        made = ChoiceField(field.choices)
    elif field.kind == "yes":
        made = YesField()
    elif field.kind in ("part", "parts"):
        made = LineField(lambda: names("P"))
    elif field.kind == "thing":
        made = LineField(lambda: [*names("P"), *names("J")])
    elif field.kind in ("joint", "joints"):
        made = LineField(lambda: names("J"))
    else:
        made = LineField()
        if field.kind in BASE_UNIT or field.kind == "count":
            made.setObjectName("figure")
    made.setAccessibleName(field.caption)
    return made
