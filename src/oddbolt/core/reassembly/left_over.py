"""The screw left over: where it most likely belongs, how deep that is, and what would tell best. And the other way
round: a screw is missing; what may stand in for it, and what lies near where it was.

Bayes' rule over the groups of the study: how likely each lacks one by the ledger, times how likely each figure that was
measured is if the screw is of that group. The next measurement is the one that leaves the least uncertainty (Shannon
1948) on average over what it may turn out to be.
"""

from __future__ import annotations

from collections.abc import Sequence
from math import exp, log

import numpy as np
from attrs import frozen
from numpy.typing import NDArray

from oddbolt.core.errors import ReachError
from oddbolt.core.fasteners.parse_measurements import CARE, Measured
from oddbolt.core.reach.routes import route_to
from oddbolt.core.reassembly.ledger import Line, ledger
from oddbolt.core.reference.limits import outer_limits_mm
from oddbolt.core.reference.tables import thread_of
from oddbolt.core.study.formatting import duration, plural
from oddbolt.core.study.model import Joint, Study

Floats = NDArray[np.float64]
#: how likely a screw that the ledger counts as back lies here instead (common practice, no source); one that is still
#: out counts as 1, one reported missing as more
MISCOUNTED, REPORTED = 0.02, 3.0
#: how far the screws of one group differ in length and head, one standard deviation, mm
MADE = {"length": 0.08, "head": 0.06, "od": 0.02}
#: over what span a figure lies that the record does not hold, mm: it tells nothing
SPAN = {"length": 12.0, "head": 5.0, "od": 2.5, "pitch": 0.5}
#: a figure that fits nothing costs no more than this: a group may be recorded wrongly
SLIP = 1e-3
#: a driver that is not the group's
OTHER_DRIVE, OTHER_SIZE = 0.003, 0.01
#: how likely, beforehand, it is of no recorded group: from another device, or one nobody noted; a screw that the ledger
#: counts as out is 1 (common practice, no source). Any driver and any size of it are then as likely
STRANGE, ANY_DRIVE, ANY_SIZE = 0.05, 1 / 8, 1 / 4
#: names of parts near which a loose screw does harm
HARMFUL = ("battery", "cell", "accumulator", "magnet", "speaker", "motor")


@frozen
class Place:
    """A group that the screw may be of, how probable (0 to 1), why, how many of it the ledger counts as out, and what
    opening up again as far as its holes takes: so many steps and seconds; None where no way is known."""

    joint: str
    probability: float
    why: tuple[str, ...]
    out: int | None
    steps: int | None
    seconds: float | None


@frozen
class LeftOver:
    """Places, the likeliest first, and the one look or measurement that would decide best. ``none`` is how probable it
    is that the screw is of no recorded group; with the places' it adds up to 1."""

    places: tuple[Place, ...]
    none: float
    best: str

    @property
    def strange(self) -> bool:
        """Whether no recorded group is as likely as none of them."""
        return self.none > self.places[0].probability


def left_over(study: Study, seen: Measured) -> LeftOver:
    """Where a screw with these measurements belongs. Raises ReachError if the study holds no screws, or none that it
    could be of."""
    lines = {line.id: line for line in ledger(study).screws}
    groups = [j for j in study.joints.values() if j.id in lines and j.kind == "screw"]
    if not groups:
        raise ReachError("No screws were undone in this study, so none of them can be left over.")
    prior = np.array([_lacking(lines[j.id]) for j in groups])
    if not prior.any():
        raise ReachError("No group of this study lacks a screw, and none was put back yet.")
    weight = prior * np.array([_likely(j, seen) for j in groups])
    strange = STRANGE * _strange(seen)
    chance = weight / (weight.sum() + strange)
    none = 1.0 - float(chance.sum())
    order = np.argsort(-chance, kind="stable")
    places = []
    for n in order.tolist():
        depth = _depth(study, groups[n].id) if chance[n] >= 0.005 else None
        places.append(
            Place(
                groups[n].id,
                float(chance[n]),
                _why(groups[n], seen, lines[groups[n].id]),
                lines[groups[n].id].out,
                depth and depth[0],
                depth and depth[1],
            )
        )
    if none > places[0].probability:
        best = _of_none(study.name(places[0].joint), places[0], none)
    else:
        best = _next(study, groups, chance, seen, places)
    return LeftOver(tuple(places), none, best)


def _lacking(line: Line) -> float:
    """How likely, beforehand, one of this group is the one left over."""
    if line.out is None:
        return 1.0
    return REPORTED * line.missing + (line.out - line.missing) + MISCOUNTED * (line.back or 0)


def _likely(joint: Joint, seen: Measured) -> float:
    total = 1.0
    for key, reading in seen.figures.items():
        known = _known(joint, key)
        if known is not None:
            value, made = known
            off = float(np.hypot(reading.off, made))
            worn = exp(-0.5 * ((reading.value - value) / off) ** 2) / (off * 2.5066)
            total *= worn + SLIP / SPAN[key]
        elif key in SPAN:
            total *= 1 / SPAN[key]
    drive, size = seen.driver
    if drive and joint.drive:
        total *= 1.0 if joint.drive == drive else OTHER_DRIVE
        if joint.drive == drive and size and joint.size and joint.size != size:
            total *= OTHER_SIZE
    return total


def _strange(seen: Measured) -> float:
    """How likely these measurements are of any screw whatever."""
    total = 1.0
    for key in seen.figures:
        total *= 1 / SPAN.get(key, 1.0)
    drive, size = seen.driver
    return total * (ANY_DRIVE if drive else 1.0) * (ANY_SIZE if size else 1.0)


def _against(place: Place) -> str:
    """What was measured that does not fit the group there; empty if all of it fits."""
    return "; ".join(why for why in place.why if why.endswith(" off") or why.startswith("takes"))


def _of_none(name: str, nearest: Place, none: float) -> str:
    sure = "fits no" if none > 0.9 else "hardly fits any"
    off = _against(nearest)
    near = f" Nearest: {name}" + (f" ({off})" if off else "")
    return (
        f"It {sure} recorded group: measure it again, see whether a group is recorded wrongly or not at all,"
        f" or whether it is from another device.{near}."
    )


def _known(joint: Joint, key: str) -> tuple[float, float] | None:
    """What the record says of a figure of this group, and how far its screws differ (mm); None where nothing."""
    thread = thread_of(joint.thread) if joint.thread else None
    match key:
        case "length":
            return (joint.length_mm, MADE[key]) if joint.length_mm and not joint.lengths else None
        case "head":
            return (joint.head_mm, MADE[key]) if joint.head_mm else None
        case "od" if thread is not None:
            low, high = outer_limits_mm(thread)
            return (low + high) / 2, max((high - low) / 3.46, 1e-3)
        case "pitch" if thread is not None:
            return thread.pitch_mm, 0.005
    return None


def _why(joint: Joint, seen: Measured, line: Line) -> tuple[str, ...]:
    said = []
    if line.out is None:
        said.append("nobody counted this group")
    elif line.missing:
        said.append(f"{line.missing} reported missing")
    elif line.out:
        said.append(f"{line.out} of {line.taken} still out")
    else:
        said.append("all counted as back")
    for key, reading in seen.figures.items():
        known = _known(joint, key)
        if known is not None:
            gap = reading.value - known[0]
            limit = 2 * float(np.hypot(reading.off, known[1]))
            told = {"od": f"thread {joint.thread}", "pitch": f"thread {joint.thread}"}.get(key, f"{key} {known[0]:g}")
            said.append(f"{key} fits" if abs(gap) <= limit else f"{told} recorded, {gap:+.2f} mm off")
    if seen.driver[0] and joint.drive:
        same = seen.driver[0] == joint.drive and (not seen.driver[1] or not joint.size or seen.driver[1] == joint.size)
        said.append("driver fits" if same else f"takes {joint.size or joint.drive}")
    return tuple(said)


def _depth(study: Study, joint_id: str) -> tuple[int, float] | None:
    """Steps and seconds to open a closed device as far as this group; None where no way is known."""
    joint = study.joints[joint_id]
    best = None
    for part in joint.holds[:2]:
        try:
            route = route_to(study, [part], budget_s=0.3)
        except ReachError:
            continue
        at = next((n for n, leg in enumerate(route.legs) if joint_id in study.steps[leg.step].releases), None)
        if at is not None and (best is None or route.legs[at].start_s < best[1]):
            best = at, route.legs[at].start_s
    return best


def _next(study: Study, groups: Sequence[Joint], chance: Floats, seen: Measured, places: Sequence[Place]) -> str:
    """The one look or measurement that would decide best, as a sentence."""
    first = places[0]
    name = study.name(first.joint)
    against = _against(first)
    if first.probability > 0.5 and against:
        return f"Most likely {name}, but not by every figure ({against}): measure that again before it goes in there."
    if first.probability > 0.97:
        though = "; all of them are counted as back, so count the holes there" if first.out == 0 else ""
        return f"It belongs to {name}" + (f", {_deep(first)}" if first.steps is not None else "") + f"{though}."
    gains = {key: _gain(groups, chance, key) for key in ("length", "od", "head", "pitch") if key not in seen.figures}
    if not seen.driver[0]:
        gains["driver"] = _driver_gain(groups, chance)
    key = max(gains, key=lambda k: gains[k], default="")
    if key and gains[key] > 0.15:
        words = {"od": "the outer diameter of its thread", "driver": "which driver fits"}.get(key, f"its {key}")
        return (
            f"Measure {words}: that tells these places apart best."
            if key != "driver"
            else f"See {words}: that tells best."
        )
    close = [p for p in places if p.probability > 0.1 and p.seconds is not None]
    if len(close) < 2:
        return f"Most likely {name}; count the holes there."
    look = min(close[:3], key=lambda p: p.seconds or 0.0)
    apart = plural(len(close), "place")
    return f"No measurement tells {apart} apart; look at {study.name(look.joint)} first, {_deep(look)}."


def _deep(place: Place) -> str:
    if place.steps is None or place.seconds is None:
        return "no way there is known"
    return f"{plural(place.steps, 'step')} and {duration(place.seconds)} down" if place.steps else "open to the eye"


def _gain(groups: Sequence[Joint], chance: Floats, key: str) -> float:
    """How many bits measuring this figure tells on average: the mutual information of place and figure."""
    rows = [
        (p, known) for p, j in zip(chance, groups, strict=True) if (known := _known(j, key)) is not None and p > 1e-4
    ]
    if len(rows) < 2:
        return 0.0
    p = np.array([r[0] for r in rows])
    p = p / p.sum()
    middle = np.array([r[1][0] for r in rows])
    off = np.hypot([r[1][1] for r in rows], CARE[key])
    at = np.linspace(middle.min() - 4 * off.max(), middle.max() + 4 * off.max(), 800)
    each = np.exp(-0.5 * ((at - middle[:, None]) / off[:, None]) ** 2) / (off[:, None] * 2.5066)
    whole = (p[:, None] * each).sum(axis=0)
    step = at[1] - at[0]
    inside = np.where(each > 1e-12, each * np.log2(np.maximum(each, 1e-12) / np.maximum(whole, 1e-12)), 0.0)
    return float((p * inside.sum(axis=1)).sum() * step * sum(r[0] for r in rows))


def _driver_gain(groups: Sequence[Joint], chance: Floats) -> float:
    kinds: dict[tuple[str, str], float] = {}
    for p, joint in zip(chance, groups, strict=True):
        if joint.drive:
            kinds[joint.drive, joint.size] = kinds.get((joint.drive, joint.size), 0.0) + float(p)
    total = sum(kinds.values())
    return -sum(p * log(p / total) / log(2) for p in kinds.values() if p > 0) if total > 0 else 0.0


# -- the other way round --------------------------------------------------------------------------------------


@frozen
class StandIn:
    """Whether screws of another group may stand in for a missing one, and why or why not."""

    joint: str
    fits: bool
    why: str


@frozen
class Missing:
    """A group that lacks screws: how many, the step in which it was last counted, parts near where it was that a loose
    screw harms or that hold on to it, what may be taken in its place in words, and other groups of the study."""

    joint: str
    count: int
    last_step: str
    near: tuple[str, ...]
    rule: str
    stand_ins: tuple[StandIn, ...]


def missing(study: Study, joint_id: str) -> Missing:
    """What to know where a screw of this group is missing. Raises ReachError for what is no screw."""
    joint = study.joints.get(joint_id)
    if joint is None or joint.kind != "screw":
        raise ReachError("Only screws of a recorded group can be missing.")
    line = next((n for n in ledger(study).screws if n.id == joint_id), None)
    last = [id for id, step in study.steps.items() if joint_id in step.releases]
    wants = [joint.thread and f"thread {joint.thread}", joint.length_mm and f"{joint.length_mm:g} mm or shorter"]
    wants += [
        joint.head_mm and f"a head of {joint.head_mm:g} mm or less",
        joint.finish and f"{joint.finish}, or as strong",
    ]
    known = [w for w in wants if w]
    rule = "It must have " + ", ".join(known) if known else "Nothing is recorded of its thread and length: measure one"
    others = [j for j in study.joints.values() if j.kind == "screw" and j.id != joint_id]
    found = sorted((_stand_in(joint, j) for j in others), key=lambda s: not s.fits)
    return Missing(
        joint_id,
        max(1, line.missing if line else 1),
        last[-1] if last else "",
        _near(study, joint),
        f"{rule}; never a longer one.",
        tuple(found),
    )


def _stand_in(wanted: Joint, other: Joint) -> StandIn:
    """Whether screws of ``other`` may go where those of ``wanted`` belong: the same thread, no longer, not much
    shorter, a head that is no larger. What nobody recorded speaks against it."""
    if not wanted.thread or not other.thread:
        return StandIn(other.id, False, "its thread is not recorded")
    if thread_of(wanted.thread) != thread_of(other.thread) or wanted.thread != other.thread:
        return StandIn(other.id, False, f"thread {other.thread}, not {wanted.thread}")
    if not wanted.length_mm or not other.length_mm:
        return StandIn(other.id, False, "a length is not recorded")
    gap = other.length_mm - wanted.length_mm
    if gap > 0.05:
        return StandIn(other.id, False, f"{gap:.1f} mm too long: it may reach what lies under the hole")
    thread = thread_of(wanted.thread)
    if thread is not None and -gap > thread.diameter_mm:
        return StandIn(other.id, False, f"{-gap:.1f} mm shorter: too little thread would hold")
    if wanted.head_mm and other.head_mm and other.head_mm > wanted.head_mm + 0.1:
        return StandIn(other.id, False, f"its head is {other.head_mm - wanted.head_mm:.1f} mm wider")
    if wanted.reuse == "renew" or other.reuse == "renew":
        return StandIn(other.id, False, "one of the two is coated or for one use")
    return StandIn(other.id, True, "same thread, " + ("same length" if gap > -0.05 else f"{-gap:.1f} mm shorter"))


def _near(study: Study, joint: Joint) -> tuple[str, ...]:
    """Parts within the same module, or joined to what this group holds, that are harmed by a loose screw or hold it."""
    ends = {*joint.holds, *([joint.into] if joint.into else [])}
    around = ends | {p for j in study.joints.values() if ends & {*j.holds, j.into} for p in (*j.holds, j.into) if p}
    around |= {p for p, part in study.parts.items() if part.inside and part.inside in ends}
    harmful = [p for p in study.parts if p in around and any(w in study.name(p).casefold() for w in HARMFUL)]
    magnets = [p for j in study.joints.values() if j.kind == "magnet" for p in j.holds if p in around]
    return tuple(dict.fromkeys((*harmful, *magnets)))


# -- swaps ----------------------------------------------------------------------------------------------------


@frozen
class Swap:
    """A screw of ``came`` seems to sit where one of ``belongs`` should: so much too long (below 0: too short), mm."""

    came: str
    belongs: str
    too_long_mm: float
    sentence: str


def swaps(study: Study, lying: dict[str, int]) -> tuple[Swap, ...]:
    """What went where it does not belong, by how many screws of each group (joint id -> count) lie in the tray or on
    the mat, against how many the ledger says should: a group with one too few gave one to a group with one too many."""
    if not any(step.phase == "back" for step in study.steps.values()):
        return ()
    lines = {line.id: line for line in ledger(study).screws if line.tray is not None}
    over = {id: lying.get(id, 0) - (line.tray or 0) for id, line in lines.items()}
    out = []
    short = [id for id, gap in over.items() for _ in range(-gap)]
    for id in [id for id, gap in over.items() for _ in range(gap)]:
        fits = [s for s in short if study.joints[s].drive == study.joints[id].drive and lines[id].back]
        if not fits:
            continue
        came = min(fits, key=lambda s: abs((study.joints[s].length_mm or 99) - (study.joints[id].length_mm or 99)))
        short.remove(came)
        gap = (study.joints[came].length_mm or 0.0) - (study.joints[id].length_mm or 0.0)
        out.append(Swap(came, id, gap, _swap_told(study, study.joints[came], study.joints[id], gap)))
    return tuple(out)


def _swap_told(study: Study, came: Joint, belongs: Joint, gap: float) -> str:
    where = study.name(belongs.id)
    under = study.name(belongs.into) if belongs.into in study.parts else ""
    if not came.length_mm or not belongs.length_mm or abs(gap) < 0.05:
        return f"a screw of {study.name(came.id)} sits among {where}"
    told = f"a {came.length_mm:.1f} went where a {belongs.length_mm:.1f} belongs: {where}"
    return f"{told}{f', into {under}' if under else ''}, {abs(gap):.1f} mm too {'long' if gap > 0 else 'short'}"
