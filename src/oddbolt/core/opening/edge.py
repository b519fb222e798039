"""The edge plan: how far a pick reaches along each stretch of a cover's edge, what it must not meet, and the way round.

A pick that goes in ``depth`` at ``angle`` to the cover reaches depth·cos(angle) inwards and depth·sin(angle) down
(plane trigonometry). Margins and habits are rows of ``reference/opening.toml`` (common practice, no source). All in mm.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from functools import lru_cache
from math import cos, inf, radians, sin
from typing import Any

import numpy as np
import shapely
from attrs import frozen
from numpy.typing import NDArray
from shapely import LineString

from oddbolt.core.errors import BenchError
from oddbolt.core.opening.outline import Outline, outline_of, sides
from oddbolt.core.reference.tables import table
from oddbolt.core.study import EdgePlan, Keepout, Stretch, Study
from oddbolt.core.study.formatting import the

#: what a stretch is found to be, worst first
PIERCES, NEAR, SHALLOW, CLEAR = "pierces", "too near", "shallow", "clear"
#: beyond this a keep-out is no danger to a stretch, for choosing the way round (common practice, no source)
FAR_MM = 15.0
Array = NDArray[np.float64]


@frozen
class Stop:
    """Between these places along a stretch, from its start, the pick stays out for this keep-out."""

    from_mm: float
    to_mm: float
    keepout: str


@frozen(eq=False)
class Along:
    """One stretch worked out. ``across_mm`` and ``down_mm`` are how far the pick's tip comes; ``room_mm`` is what is
    left between it and the nearest keep-out in its way (negative: it is past it; infinite: none). ``safe_mm`` is the
    largest depth at this angle that needs no stop. ``cut_mm`` is the depth that would part all of the glue. ``middle``
    is its middle on the edge, ``inward`` the unit vector inwards there."""

    stretch: Stretch
    line: Any
    length_mm: float
    across_mm: float
    down_mm: float
    room_mm: float
    nearest: str
    finding: str
    safe_mm: float
    cut_mm: float
    stops: tuple[Stop, ...]
    go: tuple[tuple[float, float], ...]
    clips_mm: tuple[float, ...]
    hinge: bool
    risk: float
    hold: float
    middle: tuple[float, float]
    inward: tuple[float, float]


@frozen(eq=False)
class Round:
    """A plan worked out: stretches in order of the record, the ids in the order of work with the way (+1 clockwise, -1
    counter-clockwise), the side that the cover folds to (or ""), sentences, and what is wrong with the drawing."""

    plan: EdgePlan
    outline: Outline
    along: Mapping[str, Along]
    order: tuple[tuple[str, int], ...]
    fold: str
    sentences: tuple[str, ...]
    troubles: tuple[str, ...]


def round_of(study: Study, plan_id: str) -> Round:
    """Work out a plan; edits elsewhere in the study cost nothing. Raises BenchError without a readable outline."""
    plan = study.edge_plans[plan_id]
    stretches = tuple(s for s in study.stretches.values() if s.plan == plan_id)
    keepouts = tuple(k for k in study.keepouts.values() if k.plan == plan_id)
    return _known(plan, stretches, keepouts, outline_for(study, plan), tuple(study.name(k.id) for k in keepouts))


@lru_cache(maxsize=32)
def _known(
    plan: EdgePlan,
    stretches: tuple[Stretch, ...],
    keepouts: tuple[Keepout, ...],
    outline: Outline,
    names: tuple[str, ...],
) -> Round:
    return work_out(plan, stretches, keepouts, outline, dict(zip((k.id for k in keepouts), names, strict=True)))


def outline_for(study: Study, plan: EdgePlan) -> Outline:
    """A plan's outline; the device's, if the plan has none of its own. Raises BenchError without one."""
    text = plan.outline or study.device.outline
    if not text:
        raise BenchError(f"{plan.name} has no outline yet; type one, like 'rounded 84 x 52 r 6', or import a drawing.")
    return outline_of(text)


def work_out(
    plan: EdgePlan,
    stretches: Sequence[Stretch],
    keepouts: Sequence[Keepout],
    outline: Outline,
    names: Mapping[str, str] | None = None,
) -> Round:
    """Work out a plan from its pieces. ``names`` gives what to call the keep-outs."""
    names = {k.id: (names or {}).get(k.id) or k.name or k.kind for k in keepouts}
    inside = [k for k in keepouts if outline.shape.intersects(box(k))]
    troubles = [f"{_cap(names[k.id])} lies outside the outline." for k in keepouts if k not in inside]
    lines = [_line(outline, s.from_mm, s.to_mm) for s in stretches]
    boxes = [box(k) for k in inside]
    gaps = (
        shapely.distance(np.array(lines)[:, None], np.array(boxes)[None, :])
        if lines and boxes
        else np.zeros((len(lines), len(boxes)))
    )
    within = _Inside.of(inside, boxes)
    middles = [s.from_mm + float(line.length) / 2 for s, line in zip(stretches, lines, strict=True)]
    spots = list(zip(outline.places(np.array(middles)), outline.inwards(np.array(middles)), strict=True))
    found = {
        s.id: _along(plan, s, line, within, row, spot)
        for s, line, row, spot in zip(stretches, lines, gaps, spots, strict=True)
    }
    troubles += _coverage(outline, stretches)
    cycle = sorted(found.values(), key=lambda a: a.stretch.from_mm % outline.length_mm)
    order = _order(cycle)
    hinge = next((a for a in cycle if a.hinge), None)
    fold = hinge.stretch.name if hinge else ""
    return Round(plan, outline, found, order, fold, tuple(_sentences(found, order, fold, names)), tuple(troubles))


@lru_cache(maxsize=512)
def _line(outline: Outline, from_mm: float, to_mm: float) -> Any:
    return LineString(outline.stretch(from_mm, to_mm))


def box(keepout: Keepout) -> Any:
    """A keep-out as a shape."""
    wide, high = keepout.wide_mm / 2, keepout.high_mm / 2
    return shapely.box(keepout.x_mm - wide, keepout.y_mm - high, keepout.x_mm + wide, keepout.y_mm + high)


def reach_of(depth_mm: float, angle_deg: float) -> tuple[float, float]:
    """How far inwards and how far down a pick comes: depth·cos(angle), depth·sin(angle)."""
    return depth_mm * cos(radians(angle_deg)), depth_mm * sin(radians(angle_deg))


def usual_entry(length_mm: float, longest_mm: float) -> tuple[float, float]:
    """The usual angle in degrees and depth in mm for a side of this length beside the longest one."""
    side = "long" if length_mm > 0.8 * longest_mm else "short"
    row = next(r for r in table("opening")["entry"] if r["side"] == side)
    return float(row["angle_deg"]), float(row["depth_mm"])


def usual_stretches(plan: EdgePlan, outline: Outline, first_id: int) -> list[Stretch]:
    """One stretch for each side of the outline, with the usual angle and depth, with ids from ``first_id`` on. What
    holds there is left open until somebody says it."""
    parts = sides(outline)
    lengths = [(end - start) % outline.length_mm for _, start, end in parts]
    out = []
    for n, ((name, start, end), length) in enumerate(zip(parts, lengths, strict=True)):
        angle, depth = usual_entry(length, max(lengths))
        out.append(
            Stretch(
                f"E{first_id + n}",
                plan.id,
                name,
                round(start, 1),
                round(end, 1),
                "",
                angle_deg=angle,
                depth_mm=depth,
            )
        )
    return out


@frozen(eq=False)
class _Inside:
    """The keep-outs of a plan with their shapes and margins, as arrays."""

    keepouts: Sequence[Keepout]
    shapes: Sequence[Any]
    below: Array
    stop: Array
    clear: Array
    weight: Array

    @classmethod
    def of(cls, keepouts: Sequence[Keepout], shapes: Sequence[Any]) -> _Inside:
        rows = [table("opening")["keepout"][k.kind] for k in keepouts]
        margins = (np.array([float(r[name]) for r in rows]) for name in ("stop_mm", "clear_mm", "weight"))
        return cls(keepouts, shapes, np.array([k.below_mm for k in keepouts]), *margins)


def _along(
    plan: EdgePlan, stretch: Stretch, line: Any, inside: _Inside, gaps: Array, spot: tuple[Array, Array]
) -> Along:
    across, down = reach_of(stretch.depth_mm, stretch.angle_deg)
    limits = table("opening")["limits"]
    above = float(limits["above_mm"]) + plan.pick_mm / 2
    deepest = _deepest(gaps - inside.clear, inside.below - above, stretch.angle_deg)
    safe = float(min(float(limits["deepest_mm"]), deepest.min(initial=inf)))
    risk = float(inside.weight @ np.maximum(0.0, 1 - gaps / FAR_MM))
    met = ~((inside.below > 0) & (down + above <= inside.below))
    room, nearest = inf, ""
    if met.any():
        first = int(np.where(met, gaps, inf).argmin())
        room, nearest = float(gaps[first] - across), inside.keepouts[first].id
    stops: list[Stop] = []
    hinge = False
    for n in map(int, np.nonzero(met & (gaps < across + inside.clear - 1e-6))[0]):
        keepout = inside.keepouts[n]
        near, stop = across + float(inside.clear[n]), float(inside.stop[n])
        stops += _stops(line, inside.shapes[n], near, stop, keepout.id)
        hinge = hinge or keepout.kind == "cable hinge"
    length = float(line.length)
    finding = CLEAR
    if nearest and room < 0:
        finding = PIERCES
    elif stops:
        finding = NEAR
    elif stretch.hold == "glue" and stretch.width_mm and across < stretch.width_mm - 1e-9:
        finding = SHALLOW
    cosine = cos(radians(stretch.angle_deg))
    cut = stretch.width_mm / cosine if stretch.hold == "glue" and stretch.width_mm and cosine > 1e-6 else 0.0
    merged = _merged(stops)
    clips = stretch.count or 0 if stretch.hold in ("clips", "screws", "magnets") else 0
    return Along(
        stretch,
        line,
        length,
        across,
        down,
        room,
        nearest,
        finding,
        max(0.0, safe),
        cut,
        tuple(merged),
        tuple(_free(length, merged)),
        tuple((n + 0.5) * length / clips for n in range(clips)),
        hinge,
        risk,
        _hold(stretch, length),
        (float(spot[0][0]), float(spot[0][1])),
        (float(spot[1][0]), float(spot[1][1])),
    )


def _deepest(free: Array, over: Array, angle_deg: float) -> Array:
    """The depths at which the tip is still ``free`` short of things, or passes ``over`` them."""
    across, down = reach_of(1.0, angle_deg)
    short = free / across if across > 1e-9 else np.where(free > 0, inf, 0.0)
    passing = np.where(over > 0, over / down if down > 1e-9 else inf, 0.0)
    deepest: Array = np.maximum(np.maximum(short, passing), 0.0)
    return deepest


def _hold(stretch: Stretch, length: float) -> float:
    rows = table("opening")["hold"]
    hold = float(rows[stretch.hold])
    if stretch.hold == "glue":
        return (hold + float(rows["glue_per_mm"]) * (stretch.width_mm or 2.0)) * length / 50
    return hold * (stretch.count or 1)


def _stops(line: Any, shape: Any, near: float, stop: float, keepout: str) -> list[Stop]:
    """Where along the stretch the thing is nearer than ``near``, and ``stop`` before and after it; from its start."""
    length = float(line.length)
    if float(shapely.distance(line, shape)) >= near - 1e-9:
        return []
    inside = shapely.intersection(line, shapely.buffer(shape, near, quad_segs=8))
    if inside.is_empty:  # a buffer's corners are cut a little; the nearest point is near all the same
        inside = shapely.Point(shapely.shortest_line(line, shape).coords[0])
    out = []
    for piece in getattr(inside, "geoms", [inside]):
        if piece.is_empty:
            continue
        places = shapely.line_locate_point(line, shapely.points(shapely.get_coordinates(piece)))
        out.append(Stop(max(0.0, float(places.min()) - stop), min(length, float(places.max()) + stop), keepout))
    return out


def _merged(stops: Iterable[Stop]) -> list[Stop]:
    """Stops in order along the stretch; those of one keep-out that overlap are one."""
    out: list[Stop] = []
    for stop in sorted(stops, key=lambda s: s.from_mm):
        if out and out[-1].keepout == stop.keepout and stop.from_mm <= out[-1].to_mm:
            out[-1] = Stop(out[-1].from_mm, max(out[-1].to_mm, stop.to_mm), stop.keepout)
        else:
            out.append(stop)
    return out


def _free(length: float, stops: Sequence[Stop]) -> list[tuple[float, float]]:
    """What is left of a stretch between the stops, from its start."""
    out, at = [], 0.0
    for stop in stops:
        if stop.from_mm > at + 0.5:
            out.append((at, stop.from_mm))
        at = max(at, stop.to_mm)
    if at < length - 0.5:
        out.append((at, length))
    return out


def _coverage(outline: Outline, stretches: Sequence[Stretch]) -> list[str]:
    """What of the edge belongs to no stretch or to two."""
    if not stretches:
        return ["The edge has no segments yet."]
    around = outline.length_mm
    covered = np.zeros(round(around) + 1, dtype=int)
    for s in stretches:
        start, end = round(s.from_mm % around), round(s.to_mm % around)
        if end <= start:
            covered[start:] += 1
            start = 0
        covered[start:end] += 1
    none, twice = int((covered == 0).sum()), int((covered > 1).sum())
    out = []
    if none > 1 + len(stretches):
        out.append(f"{none} mm of the edge belong to no segment.")
    if twice > 1 + len(stretches):
        out.append(f"{twice} mm of the edge belong to two segments.")
    return out


def _order(cycle: Sequence[Along]) -> tuple[tuple[str, int], ...]:
    """The way round: from the stretch where it is easy and safe to begin, dangerous stretches late, the hinge last.

    All starts and both ways are tried. Without a hinge one goes round in one sweep; with one, from the start up to it,
    then from the start the other way.
    """
    n = len(cycle)
    hinge = next((i for i, a in enumerate(cycle) if a.hinge), None)
    risks, left = np.array([a.risk for a in cycle]), np.arange(n, 0, -1)
    best: tuple[float, int, int] = (inf, 0, 1)
    for start, first in enumerate(cycle):
        if start == hinge and n > 1:
            continue
        begin = 2 * first.hold + 6 * first.risk + (0 if first.go else 20)
        for way in (1, -1):
            late = float(risks[_path(n, start, way, hinge)[0]] @ left)
            if begin + late < best[0] - 1e-9:
                best = begin + late, start, way
    if not cycle:
        return ()
    places, ways = _path(n, best[1], best[2], hinge)
    return tuple((cycle[i].stretch.id, int(way)) for i, way in zip(places, ways, strict=True))


def _path(n: int, start: int, way: int, hinge: int | None) -> tuple[NDArray[np.int_], NDArray[np.int_]]:
    """Places of a ring of ``n``, and the way at each: one way from the start up to the hinge, then the other way, the
    hinge last."""
    if hinge is None or hinge == start:
        return (start + way * np.arange(n)) % n, np.full(n, way)
    there = ((hinge - start) * way) % n
    steps = np.concatenate([way * np.arange(there), -way * np.arange(1, n - there), [hinge - start]])
    return (start + steps) % n, np.concatenate([np.full(there, way), np.full(n - there - 1, -way), [way]])


def clip_order(found: Round) -> list[tuple[str, float]]:
    """Clips in the order in which they are freed: the stretch, and the place from its start in mm."""
    out = []
    for id, way in found.order:
        along = found.along[id]
        if along.stretch.hold == "clips":
            out += [(id, place) for place in (along.clips_mm if way > 0 else reversed(along.clips_mm))]
    return out


def _sentences(
    found: Mapping[str, Along], order: Sequence[tuple[str, int]], fold: str, names: Mapping[str, str]
) -> list[str]:
    out = []
    for n, (id, way) in enumerate(order):
        a = found[id]
        s, last = a.stretch, n == len(order) - 1
        turn = n > 0 and order[n - 1][1] != way and not (last and a.hinge)
        begin = (
            f"Begin at the {s.name}, {'clockwise' if way > 0 else 'counter-clockwise'}"
            if n == 0
            else f"Back to the start and the other way: {s.name}"
            if turn
            else f"Last, the {s.name}"
            if last and len(order) > 1
            else f"Then the {s.name}"
        )
        if a.hinge and last:
            out.append(
                f"{begin}: {_the_name(names, _hinge_of(a))} holds the cover there. Leave it closed and fold the cover "
                f"over to that side before the cable is opened."
            )
            continue
        gap = float(table("opening")["gap"]["gap_mm"])
        raised = f" Raise a gap of about {gap:g} mm with the suction cup." if n == 0 and s.hold == "glue" else ""
        out.append(f"{begin}: {_held(a)}.{raised} {_entry(a, names, way)}".strip())
    if order and not fold:
        out.append("No cable holds the cover: lift it straight up.")
    return out


def _hinge_of(a: Along) -> str:
    return next((s.keepout for s in a.stops), a.nearest)


def _held(a: Along) -> str:
    s = a.stretch
    if not s.hold:
        return "not stated what holds here"
    if s.hold == "nothing":
        return "nothing holds"
    if s.hold == "glue":
        return f"glue {s.width_mm:g} mm wide" if s.width_mm else "glue"
    count = s.count or "some"
    noun = s.hold.removesuffix("s") if s.count == 1 else s.hold
    return f"{count} {noun}"


def _entry(a: Along, names: Mapping[str, str], way: int) -> str:
    s = a.stretch
    if s.hold == "screws":
        return "Undo them first."
    bits = [f"In at {s.angle_deg:g}°, {s.depth_mm:g} mm: {a.across_mm:.1f} mm inwards, {a.down_mm:.1f} mm down."]
    if a.finding == PIERCES:
        bits.append(f"That reaches {-a.room_mm:.1f} mm into {_the_name(names, a.nearest)}.")
    if a.stops:
        bits.append(f"No deeper than {a.safe_mm:.1f} mm all along, or")
        stops = a.stops if way > 0 else tuple(reversed(a.stops))
        told = []
        for stop in stops:
            at, on = (stop.from_mm, stop.to_mm) if way > 0 else (a.length_mm - stop.to_mm, a.length_mm - stop.from_mm)
            told.append(f"stop at {at:.0f} mm and go on at {on:.0f} mm, round {_the_name(names, stop.keepout)}")
        bits[-1] += " " + "; ".join(told) + "."
    elif a.finding == SHALLOW:
        more = f"{a.cut_mm:.1f} mm at this angle" if a.cut_mm <= a.safe_mm else "a flatter angle or a film"
        bits.append(f"The glue is wider than that: it needs {more}.")
    if s.hold == "clips" and s.count:
        places = a.clips_mm if way > 0 else [a.length_mm - c for c in reversed(a.clips_mm)]
        bits.append("Clips at " + ", ".join(f"{c:.0f}" for c in places) + " mm.")
    return " ".join(bits)


def _the_name(names: Mapping[str, str], id: str) -> str:
    """A keep-out within a sentence."""
    return the(names.get(id, "keep-out"))


def _cap(text: str) -> str:
    return text[:1].upper() + text[1:]
