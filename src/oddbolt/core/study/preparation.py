"""The part of the record that is set up, planned and timed beside the steps: checks, warm-ups, edge plans, waits, sums.

Lengths are in mm, times in s, temperatures in °C, angles in degrees.
"""

from __future__ import annotations

from attrs import field, frozen

from oddbolt.core.study.fields import named, one_of, within

#: what holds along an edge; "" as long as nobody said
HOLDS = ("", "nothing", "glue", "clips", "magnets", "screws")
KEEPOUT_KINDS = ("sensor", "key flex", "cable hinge", "cell", "antenna", "lens", "other")
HEATERS = ("plate", "air", "pad")
LAYER_ROLES = ("", "cover", "glue", "gap", "guarded")


@frozen
class Check:
    """A pre-flight check done: which ``rule``, by whom, when (ISO 8601), and what was read."""

    id: str
    rule: str = field(validator=named)
    by: str = ""
    when: str = ""
    reading: float | None = field(default=None, validator=within(-1e9, 1e9, ""))
    note: str = ""


@frozen
class EdgePlan:
    """How one cover is opened along its edge. ``outline`` is typed as "rounded 84 x 52 r 6" or "polygon 0,0 40,0 …";
    ``part`` is the cover, ``pick_mm`` the thickness of what goes in."""

    id: str
    name: str = field(validator=named)
    outline: str = ""
    part: str = ""
    face: str = "front"
    pick_mm: float = field(default=0.7, validator=within(0.01, 5, "mm"))


@frozen
class Stretch:
    """A stretch of a plan's edge from ``from_mm`` to ``to_mm`` along the outline (clockwise from its first point; past
    the end it goes on at the start), what holds there, and how a pick goes in."""

    id: str
    plan: str
    name: str = field(validator=named)
    from_mm: float = field(validator=within(0, 1e5, "mm"))
    to_mm: float = field(validator=within(0, 1e5, "mm"))
    hold: str = field(default="nothing", validator=one_of(*HOLDS))
    count: int | None = field(default=None, validator=within(1, 200, ""))
    width_mm: float | None = field(default=None, validator=within(0.1, 100, "mm"))
    angle_deg: float = field(default=60.0, validator=within(0, 90, "°"))
    depth_mm: float = field(default=2.0, validator=within(0, 100, "mm"))
    joint: str = ""
    note: str = ""


@frozen
class Keepout:
    """What must not be touched: a rectangle with its middle at ``x_mm``, ``y_mm`` in the outline's own measure, its top
    ``below_mm`` under the cover's inner face (0 if it touches the cover or nobody knows)."""

    id: str
    plan: str
    kind: str = field(validator=one_of(*KEEPOUT_KINDS))
    x_mm: float = field(validator=within(-1e4, 1e4, "mm"))
    y_mm: float = field(validator=within(-1e4, 1e4, "mm"))
    wide_mm: float = field(validator=within(0.1, 1e4, "mm"))
    high_mm: float = field(validator=within(0.1, 1e4, "mm"))
    below_mm: float = field(default=0.0, validator=within(0, 100, "mm"))
    name: str = ""
    part: str = ""


@frozen
class Warmup:
    """How a glued cover is warmed. ``heater_c`` is the plate's or the air's temperature, ``flux_w_m2`` the pad's
    strength; ``coupling_w_m2k`` ties plate or air to the first layer, ``loss_w_m2k`` the last layer to the room.
    ``target_c`` is where the bond line is soft, ``limit_c`` where the guarded layer must not go."""

    id: str
    name: str = field(validator=named)
    heater: str = field(default="plate", validator=one_of(*HEATERS))
    heater_c: float = field(default=80.0, validator=within(-20, 400, "°C"))
    flux_w_m2: float = field(default=1500.0, validator=within(0, 50000, "W/m²"))
    coupling_w_m2k: float = field(default=100.0, validator=within(1, 5000, "W/m²K"))
    loss_w_m2k: float = field(default=10.0, validator=within(0, 500, "W/m²K"))
    room_c: float = field(default=22.0, validator=within(-40, 60, "°C"))
    target_c: float = field(default=65.0, validator=within(0, 300, "°C"))
    limit_c: float = field(default=60.0, validator=within(0, 300, "°C"))
    minutes: float = field(default=15.0, validator=within(0.5, 180, "min"))
    joint: str = ""


@frozen
class Layer:
    """One layer of a warm-up, from the heater inwards. Figures left out come from the ``material``'s row."""

    id: str
    warmup: str
    material: str = field(validator=named)
    thickness_mm: float = field(validator=within(0.005, 200, "mm"))
    role: str = field(default="", validator=one_of(*LAYER_ROLES))
    name: str = ""
    conductivity_w_mk: float | None = field(default=None, validator=within(0.005, 2000, "W/m K"))
    density_kg_m3: float | None = field(default=None, validator=within(0.5, 25000, "kg/m³"))
    heat_j_kgk: float | None = field(default=None, validator=within(50, 10000, "J/kg K"))


@frozen
class Wait:
    """A timer that ran: its ``kind`` (a row of the waits table), the step it belongs to, what was planned and taken."""

    id: str
    kind: str = field(validator=named)
    planned_s: float = field(validator=within(0, 604800, "s"))
    took_s: float = field(validator=within(0, 604800, "s"))
    step: str = ""
    started: str = ""


@frozen
class Sum:
    """A bench sum kept with the thing it is ``about``: what was ``given`` ("voltage = 325 V") and what came out."""

    id: str
    kind: str = field(validator=named)
    result: str = field(validator=named)
    about: str = ""
    given: tuple[str, ...] = ()
