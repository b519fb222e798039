"""What a sentence was understood to say, before it enters the record."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from attrs import evolve, field, fields, frozen


@frozen
class Piece:
    """One understood piece: its field, its value and the span of the sentence it came from."""

    field: str
    value: Any
    start: int
    end: int
    sure: float = 1.0


def _named(names: Iterable[str]) -> tuple[str, ...]:
    """Only names that have letters or figures in them: what is left of a sentence may be none."""
    return tuple(name for name in names if any(c.isalnum() for c in name))


@frozen
class DraftStep:
    """A drafted step. Unset fields are empty or None; lengths in mm, torque in N·cm, times in s.

    ``sure`` is how likely it is that this was done and that it was done to this, 0 to 1; ``corrects`` names the fields
    that a spoken correction puts right, whatever stood there.
    """

    action: str
    at_s: float | None = None
    joint: str = ""
    count: int | None = None
    drive: str = ""
    size: str = ""
    thread: str = ""
    length_mm: float | None = None
    finish: str = ""
    head: str = ""
    parts: tuple[str, ...] = field(default=(), converter=_named)
    place: str = ""
    under: tuple[str, ...] = field(default=(), converter=_named)
    over: tuple[str, ...] = ()
    tool: str = ""
    agent: str = ""
    dwell_s: float | None = None
    reuse: str = ""
    torque_ncm: float | None = None
    ordered: bool = False
    mixed: bool = False
    keep_apart: bool = False
    isolates_power: bool = False
    latch: str = ""
    variant: str = ""
    phase: str = ""
    note: str = ""
    doubt: str = ""
    said: str = ""
    sure: float = 1.0
    corrects: tuple[str, ...] = field(default=(), repr=False)
    ref: str = field(default="", repr=False)
    pieces: tuple[Piece, ...] = field(default=(), repr=False)

    def json(self) -> dict[str, Any]:
        """Only what was understood, in plain types."""
        hidden = {"ref", "pieces", "corrects", "sure"}
        out: dict[str, Any] = {}
        for a in fields(DraftStep):
            value = getattr(self, a.name)
            if a.name in hidden or value is None or value is False or value in ("", ()):
                continue
            out[a.name] = list(value) if isinstance(value, tuple) else value
        out["confidence"] = round(self.sure, 2)
        return out

    def missing(self) -> tuple[str, ...]:
        """What a careful analyst would still want to know, in words."""
        if self.action in ("unscrew", "fasten") and self.joint == "screw":
            gaps = [("count", self.count is None), ("drive", self.drive in ("", "unknown"))]
            if self.mixed and self.length_mm is None:
                gaps.append(("which lengths", True))
            return tuple(name for name, gap in gaps if gap)
        if self.action in ("take out", "pry", "disconnect") and not self.parts and self.joint != "coax":
            return ("part",)
        return ()

    def unsure(self) -> str:
        """What the reader was not sure of, in words; "" for nothing."""
        if self.doubt:
            return self.doubt
        if self.drive == "unknown":
            return "drive not known"
        if "which lengths" in self.missing():
            return "lengths differ"
        return ", ".join(dict.fromkeys(f"{p.field.removesuffix('_mm')} not sure" for p in self.pieces if p.sure < 0.5))


@frozen
class DraftNote:
    """A caution or a finding. ``part`` names what it is about, as said. Of a part that is identified, ``marking``,
    ``package``, ``pins`` and ``function`` are what the words say of it, of one measured ``size_mm``. ``instead`` is the
    text of the finding that this one puts right, ``was`` the marking or package that it takes away."""

    kind: str
    text: str
    at_s: float | None = None
    count: int | None = None
    part: str = ""
    quantity: str = ""
    value: float | None = None
    unit: str = ""
    out_of: float | None = None
    marking: str = ""
    package: str = ""
    pins: int | None = None
    function: str = ""
    size_mm: tuple[float, ...] = ()
    instead: str = ""
    was: str = ""

    def json(self) -> dict[str, Any]:
        """Only what is set."""
        return {a.name: v for a in fields(DraftNote) if (v := getattr(self, a.name)) not in (None, "", ())}


@frozen
class ToldClass:
    """What was said for judging: ``field`` is "fastener", "skill", "where" or "role" with its ``value``; ``kinds``
    are the kinds of joints spoken of, empty for what was last worked on; ``part`` names the part that has a role."""

    field: str
    value: str
    text: str
    at_s: float | None = None
    kinds: tuple[str, ...] = ()
    part: str = ""

    def json(self) -> dict[str, Any]:
        """Only what is set."""
        told = {a.name: v for a in fields(ToldClass) if (v := getattr(self, a.name)) not in (None, "", ())}
        return told | ({"kinds": list(self.kinds)} if self.kinds else {})


@frozen
class Mentioned:
    """A route spoken of but not taken."""

    target: str
    through: tuple[str, ...]
    at_s: float | None = None

    def json(self) -> dict[str, Any]:
        """Only what is set."""
        out: dict[str, Any] = {"target": self.target, "through": list(self.through)}
        return out if self.at_s is None else {"at_s": self.at_s, **out}


@frozen
class Aside:
    """Something said to the bench and not about the device: ``kind`` is "break", "pause", "go on", "photo", "repeat" or
    "undo"; ``seconds`` the length of a break, None if it was not said."""

    kind: str
    seconds: float | None = None
    at_s: float | None = None

    def json(self) -> dict[str, Any]:
        """Only what is set."""
        return {a.name: v for a in fields(Aside) if (v := getattr(self, a.name)) is not None}


@frozen
class Reading:
    """Everything one sentence said. ``amends`` holds earlier drafts as this sentence changed them (same ``ref``);
    ``aside`` is only set where nothing else was said, ``known`` where all that was said is recorded already."""

    text: str
    steps: tuple[DraftStep, ...] = ()
    amends: tuple[DraftStep, ...] = ()
    cautions: tuple[DraftNote, ...] = ()
    findings: tuple[DraftNote, ...] = ()
    renew: tuple[str, ...] = ()
    routes: tuple[Mentioned, ...] = ()
    unknown: tuple[Piece, ...] = ()
    phase: str = ""
    aside: Aside | None = None
    asides: tuple[Aside, ...] = ()
    classes: tuple[ToldClass, ...] = ()
    known: bool = False

    @property
    def empty(self) -> bool:
        """True if nothing was understood that belongs in a log."""
        told = (self.steps, self.amends, self.cautions, self.findings, self.renew, self.routes, self.classes)
        return not any(told)

    @property
    def pieces(self) -> tuple[Piece, ...]:
        """The pieces of all its steps in order of the sentence."""
        found = [p for step in (*self.steps, *self.amends) for p in step.pieces if p.end > p.start]
        return tuple(sorted(found, key=lambda p: (p.start, p.end)))


@frozen
class DraftLog:
    """A whole narration, drafted."""

    steps: tuple[DraftStep, ...]
    cautions: tuple[DraftNote, ...]
    findings: tuple[DraftNote, ...]
    renew: tuple[str, ...]
    routes: tuple[Mentioned, ...]
    not_steps: int
    unknown: tuple[str, ...] = ()
    asides: tuple[Aside, ...] = ()
    classes: tuple[ToldClass, ...] = ()

    def json(self) -> dict[str, Any]:
        """The contract of ``oddbolt draft --json``."""
        return {
            "steps": [s.json() for s in self.steps],
            "cautions": [c.json() for c in self.cautions],
            "findings": [f.json() for f in self.findings],
            "renew": list(self.renew),
            "routes_mentioned": [r.json() for r in self.routes],
            "not_steps": self.not_steps,
            "unknown_words": list(self.unknown),
            "asides": [a.json() for a in self.asides],
            "classes": [c.json() for c in self.classes],
        }


__all__ = ["Aside", "DraftLog", "DraftNote", "DraftStep", "Mentioned", "Piece", "Reading", "ToldClass", "evolve"]
