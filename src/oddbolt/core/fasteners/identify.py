"""Which screw it is, from a few measurements with their uncertainty, and what to measure next.

Every thread with every head of the tables, and with heads of no table, is a candidate. Their probabilities follow from
Bayes' rule: how usual the candidate is, times how likely each figure is if it is this one. A figure may lie anywhere
within the candidate's limits of size, blurred by the error of measuring. The next measurement is the one that leaves
the least uncertainty (Shannon 1948) on average over what it may turn out to be.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import cache, lru_cache

import numpy as np
from attrs import evolve, frozen
from numpy.typing import NDArray
from scipy.special import ndtr

from oddbolt.core.errors import BenchError
from oddbolt.core.fasteners.parse_measurements import CARE, LABELS, Measured, measured
from oddbolt.core.reference.limits import LENGTHS_MM, outer_limits_mm
from oddbolt.core.reference.tables import Head, Recess, Thread, heads, recesses, screw_label, threads
from oddbolt.core.study import Joint, Study, change

Floats = NDArray[np.float64]
#: how usual each kind of thread is among small devices, and a seldom one of its kind (common practice, no source)
USUAL = {
    "coarse": 1.0,
    "fine": 0.04,
    "inch coarse": 0.05,
    "inch fine": 0.02,
    "miniature": 0.15,
    "plastic": 0.25,
    "sheet metal": 0.15,
}
SELDOM, OWN_HEAD, STANDARD = 0.15, 0.35, 0.65
#: a figure that fits nothing costs no more than this: a slip of the hand is always possible
SLIP = 1e-7
COAT_MM, WORN = 0.02, 3.0
HOW = {
    "od": "a caliper over the thread",
    "pitch": "count threads over a length, or lay it against one you know",
    "head": "a caliper over the head",
    "height": "a caliper from under the head to its top",
    "recess": "the widest width of the recess, on a photo with a scale or with a pin",
    "driver": "try drivers until one fits without play",
}


@frozen
class Candidate:
    """A screw it may be and how probable that is, 0 to 1. Sizes in mm; ``head`` is the id of a head, "" for none known;
    ``speaks_for`` and ``speaks_against`` say so of each figure."""

    thread: str
    kind: str
    pitch_mm: float
    drive: str
    size: str
    head: str
    probability: float
    speaks_for: tuple[str, ...]
    speaks_against: tuple[str, ...]
    source: str
    verified: bool
    confirmed: bool = False

    @property
    def label(self) -> str:
        """ "M1.6, cross PH00, small pan cross" """
        thread = (
            self.thread if self.kind == "fine" or self.kind.startswith("inch") else f"{self.thread} × {self.pitch_mm:g}"
        )
        return ", ".join([thread, *filter(None, (self.drive and screw_label(self.drive, self.size), self.head))])


@frozen
class Identified:
    """Ranked candidates; the ``next`` measurement and ``gain`` in bits, "" if nothing would help; the nominal length or
    None; ``trouble`` in words where the figures contradict each other or all tables."""

    candidates: tuple[Candidate, ...]
    next: str
    gain: float
    length_mm: float | None
    trouble: str
    notes: tuple[str, ...]

    @property
    def advice(self) -> str:
        """What to measure next, in words."""
        if self.trouble:
            return ""
        if not self.next:
            return "No further measurement separates these better." if len(self.candidates) > 1 else ""
        return f"Next: {LABELS[self.next]} ({HOW[self.next]})."


class _Pool:
    """All candidates as arrays: low and high limits of each figure, prior, and who they are."""

    def __init__(self) -> None:
        rows: list[tuple[Thread, Head | None, Recess | None, str, float]] = []
        for thread in threads().values():
            usual = USUAL[thread.kind] * (SELDOM if thread.seldom else 1.0)
            standing = [(h, row) for h in heads().values() if (row := _row_of(h, thread)) is not None]
            for head, row in standing:
                rows.append((thread, head, recesses().get(head.drive), row[2], usual * STANDARD / len(standing)))
            free = [
                (r, s) for r in recesses().values() for s, w in r.sizes.items() if 0.35 <= w / thread.diameter_mm <= 2.2
            ]
            share = OWN_HEAD if standing else 1.0
            for recess, size in free:
                rows.append((thread, None, recess, size, usual * share / max(len(free), 1)))
        self.rows = rows
        self.prior = np.array([row[4] for row in rows])
        self.prior /= self.prior.sum()
        self.low = {key: np.full(len(rows), np.nan) for key in ("od", "pitch", "head", "height", "recess")}
        self.high = {key: np.full(len(rows), np.nan) for key in self.low}
        for n, (thread, worn_by, shape, size, _) in enumerate(rows):
            low, high = outer_limits_mm(thread)
            if thread.kind in ("coarse", "fine"):
                high = thread.diameter_mm  # 6g or 6h: the tables do not say which
            limits = {"od": (low, high), "pitch": (thread.pitch_mm, thread.pitch_mm)}
            d = thread.diameter_mm
            row = _row_of(worn_by, thread) if worn_by is not None else None
            if row is not None and row[0]:
                assert worn_by is not None
                limits |= {
                    "head": (worn_by.span[0] * row[0], worn_by.span[1] * row[0]),
                    "height": (worn_by.tall[0] * row[1], worn_by.tall[1] * row[1]),
                }
            elif row is None:
                limits |= {"head": (1.25 * d, 2.6 * d), "height": (0.25 * d, 1.1 * d)}
            if shape is not None and size in shape.sizes:
                width = shape.sizes[size]
                spread = shape.spread_of(size)
                limits["recess"] = (width * (1 - spread), width * (1 + spread))
            for key, span in limits.items():
                self.low[key][n], self.high[key][n] = span
        self.thread_names = np.array([row[0].name for row in rows])
        self.drives = np.array([row[2].drive if row[2] is not None else "" for row in rows])
        self.sizes = np.array([row[3] for row in rows])
        self.head_ids = np.array([row[1].id if row[1] is not None else "" for row in rows])


@cache
def _pool() -> _Pool:
    return _Pool()


def _row_of(head: Head, thread: Thread) -> tuple[float, float, str] | None:
    """The row of a head that goes with a thread; screws for plastics and sheet metal take the metric one nearest."""
    if thread.kind == "coarse":
        return head.rows.get(thread.name)
    if thread.kind == "fine":
        return head.rows.get(thread.name.split("x")[0])
    if head.shape in ("none", "hexagon", "cylinder") or thread.kind.startswith("inch"):
        return None
    near = min(head.rows, key=lambda name: abs(threads()[name].diameter_mm - thread.diameter_mm))
    return head.rows[near] if abs(threads()[near].diameter_mm / thread.diameter_mm - 1) < 0.08 else None


def _likelihood(low: Floats, high: Floats, value: float | Floats, off: float) -> Floats:
    """How likely a reading is: even within the limits, blurred by a normal error; next to nothing without limits."""
    wide = np.maximum(high - low, 0.0)
    blurred = np.where(wide < 1e-9, np.exp(-0.5 * ((value - low) / off) ** 2) / (off * 2.5066), 0.0)
    safe = np.where(wide < 1e-9, 1.0, wide)
    even = (ndtr((value - low) / off) - ndtr((value - high) / off)) / safe
    return np.nan_to_num(np.where(wide < 1e-9, blurred, even), nan=0.0) + SLIP


def _blur(pool: _Pool, seen: Measured, key: str, off: float) -> tuple[Floats, Floats, float]:
    low, high = pool.low[key], pool.high[key]
    if key == "od" and seen.coated:
        high = high + 2 * COAT_MM
    if key == "recess" and seen.worn:
        high = high * 1.15
        off *= WORN
    if key == "pitch":
        off = float(np.hypot(off, 0.005))
    return low, high, off


@lru_cache(maxsize=64)
def _driver_fit(drive: str, size: str, worn: bool) -> Floats:
    """How likely it is that this driver was found to fit: mostly the right one, now and then a neighbour."""
    pool = _pool()
    same = pool.drives == drive
    if not size:
        return np.where(same, 1.0, 0.01)
    order = list(recesses()[drive].sizes) if drive in recesses() else []
    at = order.index(size) if size in order else -9
    index = np.array([order.index(s) if s in order else 99 for s in pool.sizes])
    beside = same & (np.abs(index - at) == 1)
    family = {
        "cross": "cross-z",
        "cross-z": "cross",
        "hexalobular": "hexalobular-plus",
        "hexalobular-plus": "hexalobular",
    }
    figure = size.lstrip("PHZIT")
    cousin = (pool.drives == family.get(drive, "-")) & (np.char.lstrip(pool.sizes, "PHZIT") == figure)
    wrong = 0.2 if worn else 0.03
    return np.where(same & (pool.sizes == size), 1 - 2 * wrong, np.where(beside, wrong, np.where(cousin, wrong, 1e-4)))


def identify(seen: Measured, most: int = 5) -> Identified:
    """Rank the screws it may be. ``most`` candidates at the most are given."""
    pool = _pool()
    parts: dict[str, Floats] = {}
    for key, reading in seen.figures.items():
        if key != "length":
            parts[key] = _likelihood(*_shaped(pool, seen, key, reading.value, reading.off))
    if seen.driver[0]:
        parts["driver"] = _driver_fit(*seen.driver, seen.worn)
    weight = pool.prior.copy()
    for part in parts.values():
        weight = weight * part
    total = float(weight.sum())
    posterior = weight / total if total > 0 else pool.prior
    classes, members = _classes(seen)
    shares = np.bincount(members, weights=posterior, minlength=len(classes))
    order = np.argsort(-shares, kind="stable")[:most]
    keep = [n for n in order if shares[n] >= max(0.01, 0.02 * shares[order[0]])]
    found = tuple(_candidate(pool, seen, posterior, members, int(n), float(shares[n])) for n in keep)
    nxt, gain = _next(pool, seen, posterior, members)
    length = seen.figures.get("length")
    nominal = min(LENGTHS_MM, key=lambda made: abs(made - length.value)) if length else None
    if length and nominal is not None and abs(nominal - length.value) > 0.25 + 2 * length.off:
        nominal = None
    return Identified(found, nxt, gain, nominal, _trouble(seen, parts), seen.notes)


def _shaped(pool: _Pool, seen: Measured, key: str, value: float, off: float) -> tuple[Floats, Floats, float, float]:
    low, high, off = _blur(pool, seen, key, off)
    return low, high, value, off


def _classes(seen: Measured) -> tuple[Sequence[tuple[str, str, str, str]], NDArray[np.int64]]:
    """What is told apart: threads, and drives and heads once something was measured on them."""
    told_drive = bool(seen.driver[0]) or "recess" in seen.figures or "head" in seen.figures
    told_head = "head" in seen.figures or "height" in seen.figures
    return _partition(told_drive, told_head)


@cache
def _partition(told_drive: bool, told_head: bool) -> tuple[Sequence[tuple[str, str, str, str]], NDArray[np.int64]]:
    pool = _pool()
    blank = [""] * len(pool.rows)
    columns = (
        pool.thread_names,
        pool.drives if told_drive else blank,
        pool.sizes if told_drive else blank,
        pool.head_ids if told_head else blank,
    )
    index: dict[tuple[str, str, str, str], int] = {}
    members = [
        index.setdefault((str(a), str(b), str(c), str(d)), len(index)) for a, b, c, d in zip(*columns, strict=True)
    ]
    return list(index), np.array(members)


def _candidate(
    pool: _Pool, seen: Measured, posterior: Floats, members: NDArray[np.int64], wanted: int, share: float
) -> Candidate:
    inside = np.flatnonzero(members == wanted)
    n = int(inside[np.argmax(posterior[inside])])
    thread, head = pool.rows[n][:2]
    classes, _members = _classes(seen)
    _name, drive, told_size, head_id = classes[wanted]
    good: list[str] = []
    bad: list[str] = []
    for key, reading in seen.figures.items():
        if key == "length":
            continue
        low, high, off = _blur(pool, seen, key, reading.off)
        if np.isnan(low[n]) or (key in ("head", "height") and head is None):
            continue
        gap = max(float(low[n]) - reading.value, reading.value - float(high[n]), 0.0)
        if gap <= 2 * off:
            good.append(f"{LABELS[key]} {reading.value:.4g} fits {_span(float(low[n]), float(high[n]))}")
        else:
            way = "below" if reading.value < low[n] else "above"
            bad.append(f"{LABELS[key]} {reading.value:.4g} is {gap:.2g} {way} {_span(float(low[n]), float(high[n]))}")
    if seen.driver[0] and drive:
        fits = (drive, told_size) == seen.driver or (drive == seen.driver[0] and not seen.driver[1])
        told = screw_label(*seen.driver)
        (good if fits else bad).append(
            f"{told} fits" if fits else f"{told} fitted, not {screw_label(drive, told_size)}"
        )
    rows: list[Thread | Head] = [thread, *([head] if head is not None and head_id else [])]
    return Candidate(
        thread.name,
        thread.kind,
        thread.pitch_mm,
        drive,
        told_size,
        head_id,
        share,
        tuple(good),
        tuple(bad),
        "; ".join(row.source for row in rows),
        all(row.verified for row in rows),
        all(row.confirmed for row in rows),
    )


def _span(low: float, high: float) -> str:
    return f"{low:.2f}".rstrip("0").rstrip(".") if high - low < 0.005 else f"{low:.2f} to {high:.2f}"


#: classes that the next measurement is thought through for, and candidates of each
CLASSES, OF_EACH = 12, 6


def _leading(posterior: Floats, members: NDArray[np.int64]) -> tuple[NDArray[np.int64], Floats]:
    """The leading candidates of the leading classes, and their shares with those left out made up for."""
    shares = np.bincount(members, weights=posterior)
    picked: list[NDArray[np.int64]] = []
    weights: list[Floats] = []
    for n in np.argsort(-shares)[:CLASSES]:
        if shares[n] < 0.002:
            break
        inside = np.flatnonzero(members == n)
        best = inside[np.argsort(-posterior[inside])[:OF_EACH]]
        picked.append(best)
        weights.append(posterior[best] / posterior[best].sum() * shares[n])
    top, share = np.concatenate(picked), np.concatenate(weights)
    return top, share / share.sum()


def _next(pool: _Pool, seen: Measured, posterior: Floats, members: NDArray[np.int64]) -> tuple[str, float]:
    """The measurement not yet taken that would leave the least uncertainty, and how many bits it would take away."""
    shares = np.bincount(members, weights=posterior)
    fine = members if shares.max() < 0.95 else _partition(True, False)[1]
    top, share = _leading(posterior, fine)
    groups = np.unique(fine[top], return_inverse=True)[1]
    now = float(_entropy(np.bincount(groups, weights=share)[None, :].astype(np.float64))[0])
    best, gained = "", 0.05
    for key in ("od", "pitch", "driver", "head", "recess", "height"):
        if key in seen.known or (key == "recess" and "driver" in seen.known) or now < 0.05:
            continue
        if key == "driver":
            told = np.array([hash((str(pool.drives[n]), str(pool.sizes[n]))) for n in top])
            likely = np.where(told[:, None] == told[None, :], 0.9, 0.002)
        else:
            low, high, off = _blur(pool, seen, key, CARE[key])
            low, high = low[top], high[top]
            outcome = np.where(np.isnan(low), -1.0, (low + high) / 2)
            likely = _likelihood(low[None, :], high[None, :], outcome[:, None], off)
            likely = np.where(np.isnan(low)[:, None], np.where(np.isnan(low)[None, :], 1.0, SLIP), likely)
        after = likely * share[None, :]
        after = after / after.sum(axis=1, keepdims=True)
        grouped = np.zeros((len(top), int(groups.max()) + 1))
        np.add.at(grouped.T, groups, after.T)
        gain = float(now - (share * _entropy(grouped)).sum())
        if gain > gained + 1e-9:
            best, gained = key, gain
    return (best, gained) if best else ("", 0.0)


def _entropy(shares: Floats) -> Floats:
    safe = np.where(shares > 1e-12, shares, 1.0)
    out: Floats = -(safe * np.log2(safe)).sum(axis=1)
    return out


def _trouble(seen: Measured, parts: Mapping[str, Floats]) -> str:
    """What contradicts what: a figure that no candidate near the others fits."""
    keys = [k for k in parts if k != "driver"]
    if not keys:
        return ""
    slips = {k: parts[k] <= 1e3 * SLIP for k in keys}
    misses = np.sum([slips[k] for k in keys], axis=0) if keys else np.zeros(1)
    if int(np.min(misses)) == 0:
        return ""
    told = {k: f"{LABELS[k]} {seen.figures[k].value:.4g}" for k in keys}
    alone = [k for k in keys if bool(np.all(slips[k]))]
    if alone:
        return f"No screw in the tables has {' or '.join(f'a {told[k]} mm' for k in alone)}; measure it again."
    pairs = [(a, b) for i, a in enumerate(keys) for b in keys[i + 1 :] if bool(np.all(slips[a] | slips[b]))]
    if pairs:
        a, b = pairs[0]
        return f"{told[a].capitalize()} and {told[b]} mm fit no screw in the tables together; measure both again."
    return "No screw in the tables has all of these figures; measure the least certain one again."


def of_group(seen: Measured, joint: Joint | None) -> Measured:
    """What was measured with what the group says already: the driver that turned it."""
    if joint is None or not joint.drive or seen.driver[0]:
        return seen
    return evolve(seen, driver=(joint.drive, joint.size))


#: below this the leading candidate is not entered as if it were known
SURE_ENOUGH = 0.6


def entered(study: Study, joint_id: str, said: str) -> Study:
    """The study with what was measured on a screw group entered: thread, length, head, and the drive if it had none.

    Raises BenchError where the measurements are not understood, contradict each other, or leave it open which it is.
    """
    joint = study.joints.get(joint_id)
    if joint is None or joint.kind != "screw":
        raise BenchError("Select a screw group first.")
    seen = of_group(measured(said), joint)
    found = identify(seen, most=200)
    if found.trouble:
        raise BenchError(found.trouble)
    fields: dict[str, object] = {}
    if set(seen.known) - {"length"}:
        share: dict[str, float] = {}
        for one in found.candidates:
            share[one.thread] = share.get(one.thread, 0.0) + one.probability
        thread = max(share, key=lambda name: share[name])
        best = next(c for c in found.candidates if c.thread == thread)
        if share[thread] < SURE_ENOUGH:
            told = " or ".join(c.label for c in found.candidates[:2])
            raise BenchError(f"Not certain enough to enter: {told}. {found.advice}")
        fields["thread"] = thread
        if not joint.drive and best.drive and best.probability >= SURE_ENOUGH:
            fields |= {"drive": best.drive, "size": best.size}
        if best.head and best.probability >= SURE_ENOUGH and heads()[best.head].shape != "none":
            fields["head"] = f"{heads()[best.head].shape} head"
    if "length" in seen.figures:
        fields["length_mm"] = found.length_mm or round(seen.figures["length"].value, 2)
    if "head" in seen.figures:
        fields["head_mm"] = round(seen.figures["head"].value, 2)
    return change(study, joint_id, **fields)
