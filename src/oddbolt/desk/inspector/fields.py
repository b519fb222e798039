"""What can be edited of a part, a joint, a step or the device, and the widgets that edit it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from attrs import evolve, frozen
from PySide6.QtWidgets import QWidget

from oddbolt.core.components.kinds import part_kinds
from oddbolt.core.reference.tables import drives, materials
from oddbolt.core.reference.units import BASE_UNIT
from oddbolt.core.study import (
    FIGURES,
    JOINT_KINDS,
    BoardMap,
    Callout,
    Device,
    EdgePlan,
    Finding,
    Joint,
    Keepout,
    Layer,
    Part,
    Photo,
    Region,
    Run,
    Step,
    Stretch,
    Warmup,
)
from oddbolt.core.study.board_map import BOARD_FACES, REGION_KINDS
from oddbolt.core.study.model import (
    FASTENERS,
    FINDING_KINDS,
    INFO_TO,
    MUST_BE,
    PHOTO_ROLES,
    PLACES,
    REUSE_RULES,
    RUN_KINDS,
    SKILLS,
    SPARES,
    SPARES_TO,
    TIMES,
)
from oddbolt.core.study.preparation import HEATERS, HOLDS, KEEPOUT_KINDS, LAYER_ROLES
from oddbolt.desk.widgets.inputs import ChoiceField, LineField, YesField


@frozen
class Field:
    """One editable field. ``kind`` is text, choice, yes, count, parts, part, joints, joint, texts, outline, part
    kind, or a dimension of the units. What is ``needed`` cannot be emptied. Those of a ``group`` are folded away
    together."""

    name: str
    caption: str
    kind: str = "text"
    choices: tuple[str, ...] = ()
    needed: bool = False
    group: str = ""


FACES = ("front", "back", "left", "right", "top", "bottom")


def _folded(group: str, *fields: Field) -> tuple[Field, ...]:
    return tuple(evolve(field, group=group) for field in fields)


PART = (
    Field("name", "name"),
    Field("inside", "inside", "part"),
    Field("kind", "kind", "part kind"),
    Field("priority", "priority", "yes"),
    Field("reuse", "reuse", "choice", REUSE_RULES),
    Field("variant", "variant"),
    Field("mass_g", "mass", "mass"),
    Field("note", "note"),
    *_folded(
        "what it is",
        Field("function", "function"),
        Field("package", "package"),
        Field("pins", "pins", "count"),
        Field("value", "value"),
        Field("rating", "rating"),
        Field("material", "material"),
        Field("colour", "colour"),
        Field("long_mm", "length", "length"),
        Field("wide_mm", "width", "length"),
        Field("high_mm", "height", "length"),
        Field("mass_off_g", "mass ±", "mass"),
    ),
    *_folded(
        "what is on it",
        Field("markings", "markings", "texts"),
        Field("number", "part number"),
        Field("maker", "maker"),
        Field("date_code", "date code"),
        Field("condition", "condition"),
    ),
    *_folded(
        "as a spare part",
        Field("spare", "to be had", "choice", SPARES),
        Field("origin", "origin"),
        Field("price", "price"),
        Field("role", "role"),
        Field("stays", "leave in place", "yes"),
        Field("must_be", "must be its own", "choice", MUST_BE),
    ),
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
    Field("lengths", "lengths", "lengths"),
    Field("head", "head"),
    Field("head_mm", "head ⌀", "length"),
    Field("finish", "finish"),
    Field("torque_ncm", "torque", "torque"),
    Field("latch", "latch"),
    Field("family", "family"),
    Field("pins", "pins", "count"),
    Field("pitch_mm", "pitch", "length"),
    Field("width_mm", "width", "length"),
    Field("tab", "pull tab", "choice", ("", "yes", "no")),
    Field("place", "place"),
    Field("reuse", "reuse", "choice", REUSE_RULES),
    Field("fastener", "fastener is", "choice", FASTENERS),
    Field("note", "note"),
)
STEP = (
    Field("verb", "action"),
    Field("said", "said"),
    Field("releases", "releases", "joints"),
    Field("takes_out", "takes out", "parts"),
    Field("opens", "opens", "parts"),
    Field("puts_in", "puts in", "parts"),
    Field("softens", "softens", "joints"),
    Field("tool", "tool"),
    Field("face", "face", "choice", FACES),
    Field("wait_s", "wait", "time"),
    Field("isolates_power", "isolates power", "yes"),
    Field("destroys", "destructive", "yes"),
    Field("least_s", "quickest", "time"),
    Field("likely_s", "usually", "time"),
    Field("most_s", "slowest", "time"),
    Field("cautions", "cautions", "texts"),
    Field("doubt", "unsure of"),
    Field("skill", "skill", "choice", SKILLS),
    Field("where", "done where", "choice", PLACES),
    Field("at_s", "told at", "time"),
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
    Field("times", "estimate from", "choice", TIMES),
    *_folded(
        "where it comes from",
        Field("arrived", "on arrival"),
        Field("made", "made"),
        Field("origin", "origin"),
        Field("price", "price"),
        Field("lot", "lot"),
        Field("recording", "recording"),
    ),
    *_folded(
        "maker's sheet",
        Field("group", "group"),
        Field("spares_to", "spares to", "choice", SPARES_TO),
        Field("spares_years", "spares, years", "number"),
        Field("spares_days", "delivery, days", "number"),
        Field("spares_share", "price share", "number"),
        Field("update_years", "updates, years", "number"),
        Field("info_to", "documents to", "choice", INFO_TO),
        Field("tools", "tool classes"),
    ),
)
BOARD_MAP = (
    Field("part", "board", "part"),
    Field("face", "face", "choice", BOARD_FACES),
    Field("wide_mm", "photo width", "length"),
)
REGION = (
    Field("part", "part", "part"),
    Field("kind", "outline of", "choice", REGION_KINDS),
    Field("name", "area"),
)
EDGE_PLAN = (
    Field("name", "name"),
    Field("outline", "outline", "outline"),
    Field("part", "cover", "part"),
    Field("face", "face", "choice", FACES),
    Field("pick_mm", "pick", "length", needed=True),
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
    Field("flux_w_m2", "heat flux", "flux", needed=True),
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
    Field("role", "role", "choice", LAYER_ROLES),
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
FINDING = (
    Field("kind", "kind", "choice", FINDING_KINDS),
    Field("text", "text", needed=True),
    Field("about", "about", "thing"),
    Field("value", "value", "number"),
    Field("unit", "unit"),
)
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
    Finding: FINDING,
    BoardMap: BOARD_MAP,
    Region: REGION,
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


def widget_for(field: Field, names: Callable[[str], Sequence[str]]) -> QWidget:
    """The widget that edits a field; ``names`` gives the names to complete from by the letter of their kind."""
    made: LineField | ChoiceField | YesField
    if field.kind == "choice":
        made = ChoiceField(field.choices)
    elif field.kind == "yes":
        made = YesField()
    elif field.kind == "part kind":
        made = LineField(lambda: tuple(part_kinds()))
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
