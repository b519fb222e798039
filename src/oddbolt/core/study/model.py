"""The frozen classes of the record.

Ids are short and stable ("P12", "J3"); their letter tells the kind of thing. Empty text and ``None`` both mean "not
recorded". Lengths are in mm, times in s, torque in N·cm, mass in g.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from types import MappingProxyType
from typing import Any, TypeAlias

from attrs import field, frozen
from attrs.validators import in_

from oddbolt.core.errors import StudyError
from oddbolt.core.reference.joint_kinds import joint_kinds
from oddbolt.core.study.board_map import BoardMap, Region
from oddbolt.core.study.fields import named, one_of, within
from oddbolt.core.study.preparation import Check, EdgePlan, Keepout, Layer, Stretch, Sum, Wait, Warmup

JOINT_KINDS = tuple(joint_kinds())
TIMES = ("motions", "bench")
REUSE_RULES = ("", "reuse", "inspect", "renew")
FACT_STATES = ("seen", "assumed", "ruled out")
RUN_KINDS = ("discovery", "timed", "put back")
PHASES = ("apart", "back")
#: what may be made easier: a joint gone, fewer screws, the usual driver, a pull tab, a plug; a part out of the way
WAYS = ("gone", "fewer", "driver", "tab", "plug", "clear")
PHOTO_ROLES = ("", "before", "after", "arrival")
TURNS = (0, 90, 180, 270)
#: the least share of a photo's width and height that can be shown
LEAST_SHOWN = 0.02
FINDING_KINDS = ("praise", "complaint", "damage", "spec", "mark", "caution", "note", "missing", "left over", "arrival")
#: classes of fasteners, the best first; of skill and of working environment; to whom spare parts and documents go
FASTENERS = ("", "reusable", "resupplied", "removable", "neither")
SKILLS = ("", "layman", "generalist", "expert", "authorised", "not feasible")
PLACES = ("", "use", "workshop", "production")
SPARES_TO = ("", "public", "independent", "authorised", "manufacturer", "none")
INFO_TO = ("", "public free", "professionals free", "professionals for a fee", "none")
#: why a part must be a part of its own: it moves against all others, it must be of another material, it must be
#: separate so that others go in or come out; or it need not be
MUST_BE = ("", "moves", "material", "separate", "no")
#: whether a spare part can be had
SPARES = ("", "yes", "no", "unknown")

#: which figures belong to which kind of joint, beside name, count, reuse and note, which all have
FIGURES: Mapping[str, tuple[str, ...]] = MappingProxyType({kind.id: kind.figures for kind in joint_kinds().values()})


@frozen
class Device:
    """What lies on the bench. ``outline`` is typed as that of an edge plan; ``opens`` is the face it is opened from;
    ``contains`` names what to mind beyond the recorded parts, separated by commas; ``times`` says where the seconds of
    steps that nobody timed come from. ``arrived`` is its condition on arrival in a sentence (single observations are
    findings of the kind "arrival"), ``made`` its date of making as marked.

    For judging: its product ``group``; classes of ``tools`` other than the table's ("pick = supplied; puller =
    proprietary"); and the maker's sheet: to whom spare parts go, for how many years, in how many days, at what share
    of the device's price; for how many years software is updated; and to whom the repair information goes, free or
    for a fee. ``recording`` names the captions that the study was drafted from."""

    name: str = "Unnamed device"
    maker: str = ""
    model: str = ""
    variant: str = ""
    serial: str = ""
    mass_g: float | None = field(default=None, validator=within(0, 1e6, "g"))
    outline: str = ""
    thick_mm: float | None = field(default=None, validator=within(0.1, 5000, "mm"))
    opens: str = ""
    contains: str = ""
    times: str = field(default="motions", validator=one_of(*TIMES))
    arrived: str = ""
    made: str = ""
    origin: str = ""
    price: str = ""
    lot: str = ""
    group: str = ""
    tools: str = ""
    spares_to: str = field(default="", validator=one_of(*SPARES_TO))
    spares_years: float | None = field(default=None, validator=within(0, 50, ""))
    spares_days: float | None = field(default=None, validator=within(0, 1000, ""))
    spares_share: float | None = field(default=None, validator=within(0, 10, ""))
    update_years: float | None = field(default=None, validator=within(0, 50, ""))
    info_to: str = field(default="", validator=one_of(*INFO_TO))
    recording: str = ""


@frozen
class Part:
    """Anything with a name that comes out. ``inside`` names the module that carries it.

    What it is: ``kind`` (a word of the table of kinds, or any other), ``function`` in this device, ``package``,
    ``pins``, ``value`` and ``rating``, ``material``, ``colour``. What is written on it: ``markings`` line by line,
    ``number``, ``maker`` and ``date_code`` as read. Its body is ``long_mm`` by ``wide_mm`` by ``high_mm``;
    ``mass_off_g`` is how far its mass may be off. ``stays`` is a part that is left in place because it is no spare
    part; ``spare`` whether one can be had, ``role`` what part it is for a judging scheme, ``must_be`` why it must be
    a part of its own."""

    id: str
    name: str = field(validator=named)
    inside: str = ""
    kind: str = ""
    priority: bool = False
    reuse: str = field(default="", validator=one_of(*REUSE_RULES))
    variant: str = ""
    mass_g: float | None = field(default=None, validator=within(0, 1e6, "g"))
    note: str = ""
    function: str = ""
    markings: tuple[str, ...] = ()
    number: str = ""
    maker: str = ""
    package: str = ""
    pins: int | None = field(default=None, validator=within(1, 5000, ""))
    value: str = ""
    rating: str = ""
    date_code: str = ""
    material: str = ""
    colour: str = ""
    long_mm: float | None = field(default=None, validator=within(0.05, 5000, "mm"))
    wide_mm: float | None = field(default=None, validator=within(0.02, 5000, "mm"))
    high_mm: float | None = field(default=None, validator=within(0.01, 5000, "mm"))
    mass_off_g: float | None = field(default=None, validator=within(0, 1e5, "g"))
    condition: str = ""
    origin: str = ""
    price: str = ""
    spare: str = field(default="", validator=one_of(*SPARES))
    stays: bool = False
    role: str = ""
    must_be: str = field(default="", validator=one_of(*MUST_BE))


@frozen(cache_hash=True)
class Joint:
    """Whatever holds or connects parts.

    ``holds`` are the parts that cannot come away before the joint is released (for a plug: both ends); ``into`` is
    what they are fixed to, if that does not itself have to wait for the joint. ``lengths`` says in words that the
    screws of one group differ ("two 6.0"). ``laid`` are the screws ticked off into the tray, ``taken`` those out of it
    again; None for not ticked.
    """

    id: str
    kind: str = field(validator=one_of(*JOINT_KINDS))
    name: str = ""
    holds: tuple[str, ...] = ()
    into: str = ""
    count: int | None = field(default=1, validator=within(1, 1000, ""))
    reuse: str = field(default="", validator=one_of(*REUSE_RULES))
    place: str = ""
    note: str = ""
    fastener: str = field(default="", validator=one_of(*FASTENERS))
    drive: str = ""
    size: str = ""
    thread: str = ""
    length_mm: float | None = field(default=None, validator=within(0.1, 2000, "mm"))
    lengths: str = ""
    head: str = ""
    head_mm: float | None = field(default=None, validator=within(0.1, 200, "mm"))
    finish: str = ""
    torque_ncm: float | None = field(default=None, validator=within(0.01, 100000, "N·cm"))
    latch: str = ""
    family: str = ""
    pins: int | None = field(default=None, validator=within(1, 2000, ""))
    pitch_mm: float | None = field(default=None, validator=within(0.02, 50, "mm"))
    width_mm: float | None = field(default=None, validator=within(0.1, 2000, "mm"))
    tab: bool | None = None
    laid: int | None = field(default=None, validator=within(0, 1000, ""))
    taken: int | None = field(default=None, validator=within(0, 1000, ""))

    def __attrs_post_init__(self) -> None:
        for other in FIGURES.values():
            for figure in other:
                if figure not in FIGURES[self.kind] and getattr(self, figure) not in ("", None):
                    raise StudyError(f"A joint of kind {self.kind} has no {figure.replace('_', ' ')}.")


@frozen
class Step:
    """One recorded operation. ``opens`` lists parts folded or tipped aside but not taken out; ``softens`` lists glue
    that this step makes ready, ``wait_s`` after it. An empty ``tool`` is the bare hand. One that ``destroys`` leaves
    something that cannot be used again. ``least_s``, ``likely_s`` and ``most_s`` are its hand work as somebody told
    it. In the phase "back", ``releases`` are the joints made again and ``puts_in`` the parts put in again; ``count`` is
    how many fasteners of its one group it made where not all, ``renews`` names the joints and parts for which a new
    piece was used, ``leaves`` those left out on purpose (why stands in ``note``), and ``does`` the piece of work of the
    plan that it was ("S12 clean"). ``doubt`` says what the reader was not sure of; ``at_s`` is when it was told in the
    recording that it was drafted from, s."""

    id: str
    verb: str = field(validator=named)
    said: str = ""
    releases: tuple[str, ...] = ()
    takes_out: tuple[str, ...] = ()
    opens: tuple[str, ...] = ()
    puts_in: tuple[str, ...] = ()
    softens: tuple[str, ...] = ()
    tool: str = ""
    face: str = "front"
    wait_s: float = field(default=0.0, validator=within(0, 86400, "s"))
    isolates_power: bool = False
    destroys: bool = False
    cautions: tuple[str, ...] = ()
    phase: str = field(default="apart", validator=one_of(*PHASES))
    least_s: float | None = field(default=None, validator=within(0.1, 86400, "s"))
    likely_s: float | None = field(default=None, validator=within(0.1, 86400, "s"))
    most_s: float | None = field(default=None, validator=within(0.1, 86400, "s"))
    note: str = ""
    doubt: str = ""
    count: int | None = field(default=None, validator=within(1, 1000, ""))
    renews: tuple[str, ...] = ()
    leaves: tuple[str, ...] = ()
    does: str = ""
    skill: str = field(default="", validator=one_of(*SKILLS))
    where: str = field(default="", validator=one_of(*PLACES))
    at_s: float | None = field(default=None, validator=within(0, 360000, "s"))

    def __attrs_post_init__(self) -> None:
        told = [t for t in (self.least_s, self.likely_s, self.most_s) if t is not None]
        if told != sorted(told):
            raise StudyError("Enter quickest ≤ usual ≤ slowest.")


@frozen
class Fact:
    """Part ``over`` lies over ``under``, so that it must be away first. ``under`` is a part, a joint, or a step:
    then it bars only that way in. ``by`` is who said so, ``at`` when (local time, ISO 8601)."""

    id: str
    over: str
    under: str
    state: str = field(default="seen", validator=one_of(*FACT_STATES))
    step: str = ""
    by: str = ""
    at: str = ""


@frozen
class Lap:
    """Seconds spent on one step within a run, breaks left out; ``ended`` is the local time of its log, ISO 8601."""

    step: str
    seconds: float = field(validator=within(0, 86400, "s"))
    ended: str = ""


@frozen
class Run:
    """One timed pass over the steps."""

    id: str
    kind: str = field(default="discovery", validator=one_of(*RUN_KINDS))
    started: str = ""
    laps: tuple[Lap, ...] = ()


@frozen
class Finding:
    """An observation tied to a part, a joint or a step (``about``). ``missing``: so many (``value``) screws of a group
    are lost; ``left over``: a screw lay there that no group misses, as measured in ``text``."""

    id: str
    kind: str = field(validator=one_of(*FINDING_KINDS))
    text: str = field(validator=named)
    about: str = ""
    value: float | None = field(default=None, validator=within(-1e12, 1e12, ""))
    unit: str = ""


@frozen
class Photo:
    """A picture, tied to a step. The picture itself lies in the study file under its SHA-256 and is never changed.

    ``width`` and ``height`` are those of the upright picture, as its camera says which way is up; ``taken`` is when
    the camera says it was taken, local time, ISO 8601. What is shown of it is the rectangle from ``left``, ``top`` to
    ``right``, ``bottom`` (0 to 1 of the upright picture), turned clockwise by ``turn`` degrees.
    """

    id: str
    sha256: str
    step: str = ""
    caption: str = ""
    width: int = 0
    height: int = 0
    taken: str = ""
    role: str = field(default="", validator=one_of(*PHOTO_ROLES))
    turn: int = field(default=0, validator=in_(TURNS))
    left: float = field(default=0.0, validator=within(0, 1, ""))
    top: float = field(default=0.0, validator=within(0, 1, ""))
    right: float = field(default=1.0, validator=within(0, 1, ""))
    bottom: float = field(default=1.0, validator=within(0, 1, ""))

    def __attrs_post_init__(self) -> None:
        if self.right - self.left < LEAST_SHOWN or self.bottom - self.top < LEAST_SHOWN:
            raise StudyError("Too little would be left of the photo; crop less.")


@frozen
class Callout:
    """A lettered mark on a photo, at ``x``, ``y`` from 0 to 1 of the width and height of the upright picture."""

    id: str
    photo: str
    letter: str = field(validator=named)
    x: float = field(validator=within(0, 1, ""))
    y: float = field(validator=within(0, 1, ""))
    about: str = ""
    label: str = ""


@frozen
class WhatIf:
    """One change of a what-if kept by ``name``: ``way`` says what is done to the joint or part it is ``about``."""

    id: str
    name: str = field(validator=named)
    way: str = field(validator=one_of(*WAYS))
    about: str


@frozen
class Closing:
    """The case closed: ``by`` whom, ``at`` what time (local, ISO 8601), and what was still ``open``, in words; empty
    where nothing was."""

    id: str
    by: str = ""
    at: str = ""
    open: str = ""
    note: str = ""


Thing: TypeAlias = (
    Part | Joint | Step | Fact | Run | Finding | Photo | Callout
    | Check | EdgePlan | Stretch | Keepout | Warmup | Layer | Wait | Sum | WhatIf | Closing | BoardMap | Region
)  # fmt: skip

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
        "K": (Check, "checks"),
        "O": (EdgePlan, "edge_plans"),
        "E": (Stretch, "stretches"),
        "Z": (Keepout, "keepouts"),
        "W": (Warmup, "warmups"),
        "L": (Layer, "layers"),
        "T": (Wait, "waits"),
        "U": (Sum, "sums"),
        "V": (WhatIf, "what_ifs"),
        "X": (Closing, "closings"),
        "M": (BoardMap, "board_maps"),
        "G": (Region, "regions"),
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
    checks: dict[str, Check] = field(factory=dict)
    edge_plans: dict[str, EdgePlan] = field(factory=dict)
    stretches: dict[str, Stretch] = field(factory=dict)
    keepouts: dict[str, Keepout] = field(factory=dict)
    warmups: dict[str, Warmup] = field(factory=dict)
    layers: dict[str, Layer] = field(factory=dict)
    waits: dict[str, Wait] = field(factory=dict)
    sums: dict[str, Sum] = field(factory=dict)
    what_ifs: dict[str, WhatIf] = field(factory=dict)
    closings: dict[str, Closing] = field(factory=dict)
    board_maps: dict[str, BoardMap] = field(factory=dict)
    regions: dict[str, Region] = field(factory=dict)

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
            case None:
                return id
            case Joint():
                return joint_name(self, thing)
            case Step():
                return f"step {self.step_number(id)}"
            case Photo():
                return f"photo {thing.caption or list(self.photos).index(id) + 1}"
            case Fact():
                return f"{self.name(thing.over)} over {self.name(thing.under)}"
            case Region():
                return self.name(thing.part) if thing.part else thing.name or f"{thing.kind} {thing.id}"
            case BoardMap():
                return f"the map of {self.name(thing.part) if thing.part else self.name(thing.photo)}, {thing.face}"
            case Keepout():
                return thing.name or (self.name(thing.part) if thing.part else thing.kind)
        return NAME_OF[type(thing)](thing)

    def carriers(self, part_id: str) -> list[str]:
        """The modules that carry this part, innermost first."""
        chain: list[str] = []
        part = self.parts.get(part_id)
        while part is not None and part.inside:
            chain.append(part.inside)
            part = self.parts.get(part.inside)
        return chain


#: what to call things whose name stands in themselves
NAME_OF: Mapping[type[Any], Callable[[Any], str]] = MappingProxyType(
    {
        **dict.fromkeys((Part, Stretch, EdgePlan, Warmup), lambda thing: thing.name),
        Finding: lambda thing: thing.text,
        Run: lambda thing: f"{thing.kind} run {thing.id}",
        Callout: lambda thing: f"callout {thing.letter}",
        Layer: lambda thing: thing.name or f"{thing.material} layer",
        Check: lambda thing: f"the check {thing.rule}",
        Wait: lambda thing: f"the {thing.kind} wait",
        Sum: lambda thing: f"the sum {thing.kind}",
        WhatIf: lambda thing: f"the what-if {thing.name}",
        Closing: lambda thing: f"the closing {thing.at[:10]}".strip(),
    }
)


def joint_name(study: Study, joint: Joint) -> str:
    """A joint in words: its own name, or its count, drive, kind and what it holds."""
    if joint.name:
        return joint.name
    count = "" if joint.count is None else f"{joint.count} "
    size = joint.size or joint.drive
    noun = joint_kinds()[joint.kind].noun(joint.count)
    names = [study.parts[p].name for p in joint.holds if p in study.parts]
    both = joint_kinds()[joint.kind].plug and len(names) == 2 and joint.count == 2
    held = " and ".join(names) if both else next(iter(names), "")
    return f"{count}{size + ' ' if size else ''}{noun}{', ' + held if held else ''}"
