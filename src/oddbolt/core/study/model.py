"""The frozen classes of the record.

Ids are short and stable ("P12", "J3"); their letter tells the kind of thing. Empty text and ``None`` both mean "not
recorded". Lengths are in mm, times in s, torque in N·cm, mass in g.
"""

from __future__ import annotations

from collections.abc import Mapping
from types import MappingProxyType
from typing import Any, TypeAlias

from attrs import Attribute, field, frozen

from oddbolt.core.errors import StudyError

JOINT_KINDS = ("screw", "connector", "coax", "clip", "adhesive", "magnet", "press fit", "tape", "other")
REUSE_RULES = ("", "reuse", "inspect", "renew")
FACT_STATES = ("seen", "assumed", "ruled out")
RUN_KINDS = ("discovery", "timed", "put back")
PHASES = ("apart", "back")
FINDING_KINDS = ("praise", "complaint", "damage", "spec", "mark", "caution", "note")

#: Which figures belong to which kind of joint, beside name, count, reuse and note, which all have.
FIGURES: Mapping[str, tuple[str, ...]] = MappingProxyType(
    {
        "screw": ("drive", "size", "thread", "length_mm", "lengths", "head", "head_mm", "finish", "torque_ncm"),
        "connector": ("latch", "pins"),
        "coax": ("length_mm",),
        "clip": (),
        "adhesive": ("width_mm", "length_mm", "tab"),
        "magnet": (),
        "press fit": (),
        "tape": ("width_mm", "length_mm"),
        "other": (),
    }
)


def _one_of(*allowed: str) -> Any:
    def check(_thing: Any, attribute: Attribute[str], value: str) -> None:
        if value not in allowed:
            words = ", ".join(repr(word) for word in allowed if word)
            raise StudyError(f"{attribute.name} is {value!r}; it must be one of {words}.")

    return check


def _range(low: float, high: float, unit: str) -> Any:
    def check(_thing: Any, attribute: Attribute[float | None], value: float | None) -> None:
        if value is None:
            return
        if isinstance(value, bool) or not isinstance(value, (int, float)) or not low <= value <= high:
            name = attribute.name.rsplit("_", 1)[0].replace("_", " ") if unit else attribute.name
            raise StudyError(
                f"{name} is {value}; it must lie between {low:g} and {high:g}{' ' + unit if unit else ''}."
            )

    return check


def _named(_thing: Any, attribute: Attribute[str], value: str) -> None:
    if not isinstance(value, str) or not value.strip():
        raise StudyError(f"{attribute.name} is empty; give it a word or two.")


@frozen
class Device:
    """What lies on the bench."""

    name: str = "Unnamed device"
    maker: str = ""
    model: str = ""
    variant: str = ""
    serial: str = ""
    mass_g: float | None = field(default=None, validator=_range(0, 1e6, "g"))


@frozen
class Part:
    """Anything with a name that comes out. ``inside`` names the module that carries it."""

    id: str
    name: str = field(validator=_named)
    inside: str = ""
    kind: str = ""
    priority: bool = False
    reuse: str = field(default="", validator=_one_of(*REUSE_RULES))
    variant: str = ""
    mass_g: float | None = field(default=None, validator=_range(0, 1e6, "g"))
    note: str = ""


@frozen(cache_hash=True)
class Joint:
    """Whatever holds or connects parts.

    ``holds`` are the parts that cannot come away before the joint is released (for a plug: both ends); ``into`` is
    what they are fixed to, if that does not itself have to wait for the joint. ``lengths`` says in words that the
    screws of one group differ ("two 6.0").
    """

    id: str
    kind: str = field(validator=_one_of(*JOINT_KINDS))
    name: str = ""
    holds: tuple[str, ...] = ()
    into: str = ""
    count: int | None = field(default=1, validator=_range(1, 1000, ""))
    reuse: str = field(default="", validator=_one_of(*REUSE_RULES))
    place: str = ""
    note: str = ""
    drive: str = ""
    size: str = ""
    thread: str = ""
    length_mm: float | None = field(default=None, validator=_range(0.1, 2000, "mm"))
    lengths: str = ""
    head: str = ""
    head_mm: float | None = field(default=None, validator=_range(0.1, 200, "mm"))
    finish: str = ""
    torque_ncm: float | None = field(default=None, validator=_range(0.01, 100000, "N·cm"))
    latch: str = ""
    pins: int | None = field(default=None, validator=_range(1, 2000, ""))
    width_mm: float | None = field(default=None, validator=_range(0.1, 2000, "mm"))
    tab: bool | None = None

    def __attrs_post_init__(self) -> None:
        for other in FIGURES.values():
            for figure in other:
                if figure not in FIGURES[self.kind] and getattr(self, figure) not in ("", None):
                    raise StudyError(f"A joint of kind {self.kind} has no {figure.replace('_', ' ')}.")


@frozen
class Step:
    """One recorded operation. ``opens`` lists parts folded or tipped aside but not taken out; ``softens`` lists glue
    that this step makes ready, ``wait_s`` after it. An empty ``tool`` is the bare hand. In the phase "back",
    ``releases`` are the joints made again."""

    id: str
    verb: str = field(validator=_named)
    said: str = ""
    releases: tuple[str, ...] = ()
    takes_out: tuple[str, ...] = ()
    opens: tuple[str, ...] = ()
    softens: tuple[str, ...] = ()
    tool: str = ""
    face: str = "front"
    wait_s: float = field(default=0.0, validator=_range(0, 86400, "s"))
    isolates_power: bool = False
    cautions: tuple[str, ...] = ()
    phase: str = field(default="apart", validator=_one_of(*PHASES))
    note: str = ""


@frozen
class Fact:
    """Part ``over`` lies over ``under``, so that it must be away first. ``under`` is a part, a joint, or a step:
    then it bars only that way in."""

    id: str
    over: str
    under: str
    state: str = field(default="seen", validator=_one_of(*FACT_STATES))
    step: str = ""


@frozen
class Lap:
    """Seconds spent on one step within a run."""

    step: str
    seconds: float = field(validator=_range(0, 86400, "s"))


@frozen
class Run:
    """One timed pass over the steps."""

    id: str
    kind: str = field(default="discovery", validator=_one_of(*RUN_KINDS))
    started: str = ""
    laps: tuple[Lap, ...] = ()


@frozen
class Finding:
    """An observation tied to a part, a joint or a step (``about``)."""

    id: str
    kind: str = field(validator=_one_of(*FINDING_KINDS))
    text: str = field(validator=_named)
    about: str = ""
    value: float | None = field(default=None, validator=_range(-1e12, 1e12, ""))
    unit: str = ""


@frozen
class Photo:
    """A picture, tied to a step. The picture itself lies in the study file under its SHA-256."""

    id: str
    sha256: str
    step: str = ""
    caption: str = ""
    width: int = 0
    height: int = 0


@frozen
class Callout:
    """A lettered mark on a photo, at ``x``, ``y`` from 0 to 1 of its width and height."""

    id: str
    photo: str
    letter: str = field(validator=_named)
    x: float = field(validator=_range(0, 1, ""))
    y: float = field(validator=_range(0, 1, ""))
    about: str = ""
    label: str = ""


Thing: TypeAlias = Part | Joint | Step | Fact | Run | Finding | Photo | Callout

#: id letter -> (class, name of the table in the study)
KINDS: Mapping[str, tuple[type[Any], str]] = MappingProxyType(
    {
        "P": (Part, "parts"),
        "J": (Joint, "joints"),
        "S": (Step, "steps"),
        "F": (Fact, "facts"),
        "R": (Run, "runs"),
        "N": (Finding, "findings"),
        "H": (Photo, "photos"),
        "C": (Callout, "callouts"),
    }
)
LETTER_OF: Mapping[type[Any], str] = MappingProxyType({cls: letter for letter, (cls, _) in KINDS.items()})


@frozen(eq=False)
class Study:
    """One device examined. Tables keep their order; the order of ``steps`` is the order of work as recorded.

    Compared and hashed by identity, which is what derived figures are cached by; its tables are never changed in place.
    """

    device: Device = Device()
    parts: dict[str, Part] = field(factory=dict)
    joints: dict[str, Joint] = field(factory=dict)
    steps: dict[str, Step] = field(factory=dict)
    facts: dict[str, Fact] = field(factory=dict)
    runs: dict[str, Run] = field(factory=dict)
    findings: dict[str, Finding] = field(factory=dict)
    photos: dict[str, Photo] = field(factory=dict)
    callouts: dict[str, Callout] = field(factory=dict)

    def table(self, letter: str) -> Mapping[str, Any]:
        """The table that ids with this letter live in."""
        if letter not in KINDS:
            raise StudyError(f"There is no kind of thing called {letter!r}.")
        table: Mapping[str, Any] = getattr(self, KINDS[letter][1])
        return table

    def find(self, id: str) -> Thing | None:
        """The thing with this id, or None."""
        thing: Thing | None = self.table(id[0]).get(id) if id and id[0] in KINDS else None
        return thing

    def step_number(self, id: str) -> int:
        """The step's place in the record, from 1."""
        return list(self.steps).index(id) + 1

    def name(self, id: str) -> str:
        """What to call this thing in a sentence."""
        thing = self.find(id)
        match thing:
            case Part():
                return thing.name
            case Joint():
                return joint_name(self, thing)
            case Step():
                return f"step {self.step_number(id)}"
            case Photo():
                return f"photo {thing.caption or thing.id}"
            case Finding():
                return thing.text
            case Run():
                return f"{thing.kind} run {thing.id}"
            case Callout():
                return f"callout {thing.letter}"
            case Fact():
                return f"{self.name(thing.over)} over {self.name(thing.under)}"
        return id

    def carriers(self, part_id: str) -> list[str]:
        """The modules that carry this part, innermost first."""
        chain: list[str] = []
        part = self.parts.get(part_id)
        while part is not None and part.inside:
            chain.append(part.inside)
            part = self.parts.get(part.inside)
        return chain


def joint_name(study: Study, joint: Joint) -> str:
    """A joint in words: its own name, or its count, drive, kind and what it holds."""
    if joint.name:
        return joint.name
    count = "" if joint.count is None else f"{joint.count} "
    size = joint.size or joint.drive
    noun = (
        joint.kind if joint.count == 1 or joint.kind in ("adhesive", "tape", "coax", "press fit") else joint.kind + "s"
    )
    held = next((study.parts[p].name for p in joint.holds if p in study.parts), "")
    return f"{count}{size + ' ' if size else ''}{noun}{', ' + held if held else ''}"
