"""Which screws may be taken for each other, what happens then, and what keeps them apart."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator, Sequence
from functools import lru_cache
from itertools import islice
from math import hypot, sqrt
from statistics import median
from typing import Any

import numpy as np
from attrs import frozen
from numpy.typing import NDArray
from scipy.special import erfc

from oddbolt.core.errors import BenchError
from oddbolt.core.reference.tables import Thread, recesses, thread_of
from oddbolt.core.study import Joint, Study
from oddbolt.core.study.formatting import the
from oddbolt.core.study.screw_lengths import by_length

#: At arm's length a length is told from one remembered to about an eighth of it and three tenths of a millimetre
#: (Weber's law; share and floor common practice, no source). One minute of arc at 0.6 m is 0.17 mm.
SHARE, FLOOR_MM = 0.12, 0.3
#: a head's width is seen better than a length, since both ends are in one glance (common practice, no source)
HEAD_SHARE, HEAD_FLOOR_MM = 0.08, 0.2
#: how often finishes that are named differently are taken for each other
OTHER_FINISH = 0.04
#: a longer screw by so much may bottom out, in mm; by less it is only tight
TOO_LONG_MM, TOO_SHORT_MM = 0.3, 0.8
#: as many pairs as anyone looks through
MOST_PAIRS = 200
SOFT_KINDS = ("battery", "cell", "display", "board", "flex", "glass", "sensor", "camera")

Floats = NDArray[np.float64]


@frozen
class Pair:
    """Two groups that one may take for each other: ``alike`` how likely that is, 0 to 1, once both lie mixed; ``risk``
    the same with what it does; what happens if the first goes where the second belongs, and the other way round."""

    a: str
    b: str
    same_driver: bool
    fits: str
    alike: float
    risk: float
    swapped: tuple[str, str]
    advice: str


@lru_cache(maxsize=4)
def pairs(study: Study, least: float = 0.02, most: int = MOST_PAIRS) -> tuple[Pair, ...]:
    """The pairs whose risk is at least ``least``, the worst first, at most ``most`` of them."""
    return tuple(pair(study, a, b) for a, b in _ranked(study, least, most))


@lru_cache(maxsize=4)
def count_pairs(study: Study, least: float = 0.02) -> int:
    """How many pairs have a risk of at least ``least``."""
    _, kinds, members = _kinds(study)
    risks = _risks(kinds)
    sizes = np.array([len(m) for m in members])
    each = np.outer(sizes, sizes) - np.diag(sizes)
    return int((each * (risks >= least)).sum()) // 2


def _kinds(study: Study) -> tuple[list[Joint], list[Joint], list[list[int]]]:
    """All groups of one length, one of each kind that the eye can tell, and which groups are of that kind."""
    groups = [one for j in study.joints.values() if j.kind == "screw" for one in by_length(j)]
    of: dict[tuple[object, ...], list[int]] = {}
    for n, j in enumerate(groups):
        of.setdefault((j.drive, j.size, j.thread, j.length_mm, j.head_mm, j.finish, j.head), []).append(n)
    return groups, [groups[m[0]] for m in of.values()], list(of.values())


def _ranked(study: Study, least: float, most: int) -> list[tuple[Joint, Joint]]:
    """The riskiest pairs of groups, those of equal risk in the order of the record."""
    groups, kinds, members = _kinds(study)
    risks = _risks(kinds)
    out: list[tuple[Joint, Joint]] = []
    for level in sorted({float(r) for r in risks[risks >= least]}, reverse=True):
        partners = [np.flatnonzero(row == level) for row in risks]
        of = {n: k for k, ns in enumerate(members) for n in ns if len(partners[k])}
        for n in sorted(of):
            others = sorted(m for k in partners[of[n]] for m in islice(_after(members[k], n), most))
            out += [(groups[n], groups[m]) for m in others[: most - len(out)]]
            if len(out) == most:
                return out
    return out


def _after(sorted_ones: list[int], n: int) -> Iterator[int]:
    return islice(sorted_ones, bisect_right(sorted_ones, n), None)


def _risks(kinds: Sequence[Joint]) -> Floats:
    """The risk of every two kinds, as :func:`pair` has it, worked out together."""
    if not kinds:
        return np.zeros((0, 0))
    known = [_thread(j) for j in kinds]
    length = np.array([np.nan if j.length_mm is None else j.length_mm for j in kinds])
    head = np.array([np.nan if j.head_mm is None else j.head_mm for j in kinds])
    outer = np.array([t.diameter_mm if t else np.nan for t in known])
    pitch = np.array([t.pitch_mm if t else np.nan for t in known])
    other_thread = _differ([t.name if t else "" for t in known])
    alike = np.ones((len(kinds), len(kinds)))
    for seen, share, floor in (
        (length, SHARE, FLOOR_MM),
        (head, HEAD_SHARE, HEAD_FLOOR_MM),
        (outer, HEAD_SHARE, HEAD_FLOOR_MM),
    ):
        off = np.hypot(floor, share * np.add.outer(seen, seen) / 2)
        eye = erfc(np.abs(np.subtract.outer(seen, seen)) / off / sqrt(2))
        alike *= np.where(np.isnan(eye), 1.0, eye)
    alike *= np.where(_differ([j.finish for j in kinds]), OTHER_FINISH, 1.0)
    alike *= np.where(_differ([j.head for j in kinds]), 0.5, 1.0)
    alike *= np.where(_differ([j.drive for j in kinds]), 0.2, 1.0)
    over = np.subtract.outer(length, length)
    base = np.where(other_thread, 0.6, 0.0)
    harm = np.maximum(
        base,
        np.select(
            [np.isnan(over), over >= TOO_LONG_MM, -over >= TOO_SHORT_MM],
            [0.15, np.minimum(1.0, 0.4 + 0.4 * over), np.minimum(0.6, 0.2 - 0.1 * over)],
            0.0,
        ),
    )
    enters = ~other_thread | (outer[:, None] < (outer - 1.2 * pitch + 0.3)[None, :])
    harm = np.where(enters, harm, 0.0)
    drivers = list(dict.fromkeys((j.drive, j.size) for j in kinds))
    sample = {d: j for j, d in zip(kinds, ((j.drive, j.size) for j in kinds), strict=True)}
    turns = np.array([[1.0 if one_driver(sample[a], sample[b]) else 0.35 for b in drivers] for a in drivers])
    at = [drivers.index((j.drive, j.size)) for j in kinds]
    return np.asarray(alike * np.maximum(harm, harm.T) * turns[np.ix_(at, at)])


def _differ(words: Sequence[str]) -> Any:
    """Whether two are both known and not the same, for every two of them."""
    seen = np.array(words, dtype=object)
    known = seen != ""
    return (seen[:, None] != seen[None, :]) & known[:, None] & known[None, :]


def pair(study: Study, a: Joint, b: Joint) -> Pair:
    """How these two groups stand to each other."""
    driver = one_driver(a, b)
    there, back = _enters(a, b), _enters(b, a)
    alike = _alike(a, b)
    harm = max(_harm(a, b) if there else 0.0, _harm(b, a) if back else 0.0)
    risk = alike * harm * (1.0 if driver else 0.35)
    fits = (
        "either enters the other's hole" if there and back else "one enters the other's hole" if there or back else ""
    )
    told = (_told(study, a, b) if there else "", _told(study, b, a) if back else "")
    return Pair(a.id, b.id, driver, fits, alike, risk, told, _advice(alike, risk, a, b))


def one_driver(a: Joint, b: Joint) -> bool:
    """Whether the driver of one also turns the other: the same, or one of a family in the next size."""
    if not a.drive or not b.drive:
        return not a.drive and not b.drive
    if (a.drive, a.size) == (b.drive, b.size):
        return True
    families = ({"cross", "cross-z"}, {"hexalobular", "hexalobular-plus"})
    if a.drive != b.drive and not any({a.drive, b.drive} <= f for f in families):
        return False
    if not a.size or not b.size:
        return True
    wide = [recesses()[j.drive].sizes.get(j.size) if j.drive in recesses() else None for j in (a, b)]
    if wide[0] is None or wide[1] is None:
        return False
    return abs(wide[0] / wide[1] - 1) < (0.03 if a.drive != "cross" else 0.12)


def _thread(joint: Joint) -> Thread | None:
    return thread_of(joint.thread) if joint.thread else None


def _enters(a: Joint, b: Joint) -> bool:
    """Whether a screw of ``a`` goes into the hole of ``b``: its thread is the same or thinner, or nobody knows."""
    mine, theirs = _thread(a), _thread(b)
    if mine is None or theirs is None:
        return True
    if mine.name == theirs.name:
        return True
    return mine.diameter_mm < theirs.diameter_mm - 1.2 * theirs.pitch_mm + 0.3


def _alike(a: Joint, b: Joint) -> float:
    """How likely one is taken for the other by eye: each difference seen is a chance less."""
    out = 1.0
    outer = [t.diameter_mm if t else None for t in (_thread(a), _thread(b))]
    seen = (
        (a.length_mm, b.length_mm, SHARE, FLOOR_MM),
        (a.head_mm, b.head_mm, HEAD_SHARE, HEAD_FLOOR_MM),
        (outer[0], outer[1], HEAD_SHARE, HEAD_FLOOR_MM),
    )
    for mine, theirs, share, floor in seen:
        if mine is not None and theirs is not None:
            off = hypot(floor, share * (mine + theirs) / 2)
            out *= float(erfc(abs(mine - theirs) / off / sqrt(2)))
    if a.finish and b.finish and a.finish != b.finish:
        out *= OTHER_FINISH
    if a.head and b.head and a.head != b.head:
        out *= 0.5
    if a.drive and b.drive and a.drive != b.drive:
        out *= 0.2
    return out


def _harm(a: Joint, b: Joint) -> float:
    """How bad it is that a screw of ``a`` goes where ``b`` belongs, 0 to 1 (common practice, no source)."""
    mine, theirs = _thread(a), _thread(b)
    out = 0.0
    if mine is not None and theirs is not None and mine.name != theirs.name:
        out = 0.6
    if a.length_mm is None or b.length_mm is None:
        return max(out, 0.15)
    over = a.length_mm - b.length_mm
    if over >= TOO_LONG_MM:
        return max(out, min(1.0, 0.4 + 0.4 * over))
    if -over >= TOO_SHORT_MM:
        return max(out, min(0.6, 0.2 + 0.1 * -over))
    return out


def _told(study: Study, a: Joint, b: Joint) -> str:
    """What happens if a screw of ``a`` goes where ``b`` belongs."""
    mine, theirs = _thread(a), _thread(b)
    said = []
    if mine is not None and theirs is not None and mine.name != theirs.name:
        said.append(f"{mine.name} in a hole for {theirs.name} does not hold")
    if a.length_mm is not None and b.length_mm is not None:
        over = a.length_mm - b.length_mm
        behind = what_lies_behind(study, b)
        if over >= TOO_LONG_MM:
            what = f", {', '.join(the(study.name(p)) for p in behind)} among it" if behind else ""
            said.append(f"too long by {over:.1f} mm: may bottom out or pierce what lies behind{what}")
        elif -over >= TOO_SHORT_MM:
            said.append(f"too short by {-over:.1f} mm: holds weakly")
    return "; ".join(said)


def what_lies_behind(study: Study, joint: Joint) -> tuple[str, ...]:
    """Parts that the record says lie under what the joint holds or in what it goes into; the soft and costly first."""
    held = {*joint.holds, joint.into} - {""}
    under = [
        f.under for f in study.facts.values() if f.over in held and f.state != "ruled out" and f.under in study.parts
    ]
    soft = [
        p
        for p in dict.fromkeys(under)
        if any(w in f"{study.parts[p].kind} {study.parts[p].name}".lower() for w in SOFT_KINDS)
    ]
    return tuple(soft[:2])


def _advice(alike: float, risk: float, a: Joint, b: Joint) -> str:
    """What keeps them apart (common practice, no source)."""
    if risk < 0.02:
        return ""
    if alike > 0.35:
        return "separate compartments, and measure before refitting"
    if alike > 0.08:
        return "own compartments"
    return "mark where the fewer go" if (a.count or 1) != (b.count or 1) else "lay them out in order of removal"


@frozen
class OddLength:
    """One that stands out among lengths measured in a group: its place in the list, its length, the others' middle."""

    n: int
    length_mm: float
    middle_mm: float


def outliers(lengths_mm: Sequence[float], off_mm: float = 0.05) -> tuple[OddLength, ...]:
    """Lengths that stand out in a group: modified z-score over 3.5 (Iglewicz and Hoaglin 1993), with a spread of at
    least ``off_mm``, the error of the caliper. Raises BenchError for fewer than three, or for what is no length."""
    lengths = [float(v) for v in lengths_mm]
    if len(lengths) < 3:
        raise BenchError("Measure at least three screws of a group to see whether one stands out.")
    if not all(0.3 < v < 500 for v in lengths):
        raise BenchError("Length must be 0.3 to 500 mm.")
    middle = median(lengths)
    spread = max(median(abs(v - middle) for v in lengths) / 0.6745, off_mm)
    far = [abs(v - middle) for v in lengths]
    return tuple(OddLength(n, v, middle) for n, v in enumerate(lengths) if far[n] / spread > 3.5 and far[n] > 0.15)
