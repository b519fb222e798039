"""Screws laid loosely on the mat: found, counted, measured, and sorted into groups."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from itertools import chain

import numpy as np
from attrs import evolve, frozen
from numpy.typing import NDArray

from oddbolt.core.errors import VisionError
from oddbolt.core.vision.find import Found, find_mat, flattened
from oddbolt.core.vision.groups import Group, grouped
from oddbolt.core.vision.mat import RULER_MM, Floats, Picture, cv
from oddbolt.core.vision.printed import Disc, checked_ruler, disc_width, resized, ruler_by_disc
from oddbolt.core.vision.screw_fit import Lying, measured
from oddbolt.core.vision.screw_fit import outline as screw_outline
from oddbolt.core.vision.segment import (
    HOLE_MM2,
    SMALLEST_MM2,
    Split,
    fainter,
    field_seen,
    objects,
    paper_white,
    pieces,
    split,
    strange_along,
)

#: px per mm that is worked at
COARSEST, FINEST = 6.0, 10.5
#: px per mm at which the paper is looked at
PAPER_SCALE = 2.0
#: a fit that leaves more than this, or explains less, is looked at once more for what mirrors the mat; what that finds
#: is taken if it leaves less than ``CLEAR``
DEAR, POOR, CLEAR = 30.0, 0.9, 60.0
#: a notch of the outline that a cut may begin at is so deep, mm; so many notches and cuts are tried
NOTCH_MM, MOST_NOTCHES, MOST_CUTS = 0.3, 5, 6
#: what has no head and is less than so many times as long as thick is no screw
STOUT = 1.9
#: what comes so near to the edge of the field goes on beyond it if, so near within the edge, it is so wide; mm
EDGE_MM, EDGE_STRIP_MM, EDGE_WIDE_MM = 1.4, (0.12, 0.42), 0.7
#: a head higher than so much of its diameter is none, unless the whole is so many times longer than the head is wide
HIGHEST, LONG = 0.62, 3.0
#: what fills so much of its convex hull, and is not so many times as long as wide, is a nut or a washer
SOLID, SLIM = 0.945, 1.8
#: what fills more, up to this, is a screw only if that leaves next to nothing unexplained
FULLER, CLEARLY = 0.972, 14.0
#: a head is not so many times as wide as its shank
WIDEST = 3.3
#: what is shorter is a crumb
SHORTEST_MM = 1.3
#: what is hardly longer than wide must be explained so well
STUBBY_FIT = 0.92
#: a shape is taken for a screw if the model explains so much of it; below the second it is marked and not counted
GOOD_FIT, UNCLEAR = 0.76, 0.9


@frozen
class Seen:
    """One thing on the mat: a screw with the ways it may be read, or ``why_not`` one; its outline in mm on the mat;
    ``group`` from 0, -1 for none; ``disc_mm`` how wide it is seen if it is a disc, else 0;
    ``own`` the readings by this thing alone, without its group."""

    readings: tuple[Lying, ...]
    why_not: str
    x_mm: float
    y_mm: float
    outline: tuple[tuple[float, float], ...]
    group: int = -1
    disc_mm: float = 0.0
    own: tuple[Lying, ...] = ()

    @property
    def screw(self) -> Lying | None:
        """The screw it is, None if it is none."""
        return None if self.why_not or not self.readings else self.readings[0]


@frozen
class Scan:
    """What lies on the mat: things in reading order, groups by length, the mat, what to mind, and what the printed
    100 mm were taken to measure."""

    things: tuple[Seen, ...]
    groups: tuple[Group, ...]
    found: Found
    warnings: tuple[str, ...]
    ruler_mm: float = RULER_MM

    @property
    def screws(self) -> tuple[Seen, ...]:
        return tuple(t for t in self.things if t.screw is not None)


def _never() -> bool:
    return False


def scan(picture: Picture, stopped: Callable[[], bool] = _never, ruler_mm: float = RULER_MM) -> Scan:
    """Scan an RGB photo. ``stopped`` is asked between the parts of the work; VisionError "stopped" if it says yes.
    ``ruler_mm`` is what the printed 100 mm measure, 90 to 110.

    Raises VisionError where no mat can be used.
    """
    checked_ruler(ruler_mm)
    found = find_mat(picture)
    _go_on(stopped)
    scale = float(np.clip(found.px_per_mm * 1.1, COARSEST, FINEST))
    white = _white(picture, found)
    seen = split(flattened(picture, found, scale, field_seen(found.sheet)), scale, white)
    _go_on(stopped)
    things = []
    for patch, corner in pieces(objects(seen), scale):
        _go_on(stopped)
        things += _told(patch, corner, scale, found)
    things = _looked_again(things, seen, found, stopped)
    things = _over_the_edge(things, picture, found, white)
    things = _clear_only(things)
    things.sort(key=lambda t: (round(t.y_mm / 12), t.x_mm))
    return reprinted(sorted_out(things, found), ruler_mm)


def reprinted(scan: Scan, ruler_mm: float) -> Scan:
    """The scan with what the printed 100 mm really measure, 90 to 110; a length that a person said stays. Raises
    VisionError."""
    by = checked_ruler(ruler_mm) / scan.ruler_mm
    if by == 1:
        return scan

    def of(readings: tuple[Lying, ...]) -> tuple[Lying, ...]:
        return tuple(r if r.said else resized(r, by) for r in readings)

    things = [evolve(t, readings=of(t.readings), own=of(t.own), disc_mm=t.disc_mm * by) for t in scan.things]
    return sorted_out(things, scan.found, ruler_mm)


def by_known_disc(scan: Scan, known: Disc) -> tuple[Scan, float]:
    """The scan with the print's size from a disc of known size that lies on the mat, and how far that ruler may be
    off, mm in 100 (one standard deviation). Raises VisionError."""
    discs = [t for t in scan.things if t.disc_mm]
    seen = np.array([t.disc_mm for t in discs]) * (RULER_MM / scan.ruler_mm)
    ruler, off = ruler_by_disc(seen, known, scan.found)
    return reprinted(scan, ruler), off


def _clear_only(things: list[Seen]) -> list[Seen]:
    """The things, those screws marked whose outline was not clear: a head that mirrors the mat, or a shadow taken
    along. What lies where such a head should be, and is no larger, is its recess and no screw of its own."""
    out = list(things)
    for n, thing in enumerate(things):
        screw = thing.screw
        if screw is None or screw.fit >= UNCLEAR:
            continue
        out[n] = evolve(thing, why_not=NOT_CLEAR)
        for k, other in enumerate(things):
            if k == n or other.screw is None or other.screw.overall_mm > screw.head_mm:
                continue
            if np.hypot(other.x_mm - screw.head_x_mm, other.y_mm - screw.head_y_mm) < screw.head_mm:
                out[k] = evolve(other, why_not=RECESS)
    return out


def _over_the_edge(things: list[Seen], picture: Picture, found: Found, white: NDArray[np.float32]) -> list[Seen]:
    """The things, those marked that go on to the very edge of the field, so that nobody can tell their length."""
    left, top, right, bottom = found.sheet.field
    close, far = EDGE_STRIP_MM
    # across which axis the edge lies, where it lies, and the strip just within it
    sides = (
        (0, left, (left + close, top, left + far, bottom)),
        (0, right, (right - far, top, right - close, bottom)),
        (1, top, (left, top + close, right, top + far)),
        (1, bottom, (left, bottom - far, right, bottom - close)),
    )
    scale = 3 * PAPER_SCALE
    out = list(things)
    for across, edge, box in sides:
        along = 1 - across
        strange = strange_along(flattened(picture, found, scale, box), white, along)
        begin = (left, top)[along]
        for n, thing in enumerate(things):
            near = [p[along] for p in thing.outline if abs(p[across] - edge) < EDGE_MM]
            if thing.screw is None or not near:
                continue
            a, b = (round((v - begin) * scale) for v in (min(near), max(near)))
            if strange[max(0, a) : b + 1].sum() > EDGE_WIDE_MM * scale:
                out[n] = evolve(thing, why_not=AT_EDGE)
    return out


def _white(picture: Picture, found: Found) -> NDArray[np.float32]:
    """The colour of the light, from the paper round the field."""
    wide, high = found.sheet.width_mm, found.sheet.height_mm
    sheet = flattened(picture, found, PAPER_SCALE, (0.0, 0.0, wide, high))
    left, top, right, bottom = (round(v * PAPER_SCALE) for v in found.sheet.field)
    field = np.zeros(sheet.shape[:2], bool)
    field[top:bottom, left:right] = True
    return paper_white(sheet, field)


def _looked_again(things: list[Seen], seen: Split, found: Found, stopped: Callable[[], bool]) -> list[Seen]:
    """The things, doubtful ones with what faintly differs from the field taken along where that makes them clearer."""
    left, top = field_seen(found.sheet)[:2]

    def at(thing: Seen) -> tuple[int, int]:
        x, y = thing.outline[0]
        return int((x - left) * seen.scale), int((y - top) * seen.scale)

    doubtful = [at(t) for t in things if t.outline and _dear(t) > DEAR]
    for share, corner, held in fainter(seen, doubtful):
        _go_on(stopped)
        before = [t for t in things if t.outline and held(at(t))]
        after = [
            told
            for patch, (x, y) in pieces(share, seen.scale)
            for told in _told(patch, (x + corner[0], y + corner[1]), seen.scale, found)
        ]
        counted = sum(t.screw is not None for t in after)
        all_screws = counted == len(after) >= max(1, sum(t.screw is not None for t in before))
        if all_screws and max(map(_dear, after)) < min(CLEAR, 0.8 * max(map(_dear, before), default=0.0)):
            things = [t for t in things if t not in before] + after
    return things


def _dear(thing: Seen) -> float:
    """What the fit of a screw leaves; more than any screw's for what is none."""
    if thing.screw is None:
        return 4 * DEAR
    return thing.screw.cost + (DEAR if thing.screw.fit < POOR else 0.0)


def sorted_out(things: list[Seen], found: Found, ruler_mm: float = RULER_MM) -> Scan:
    """The scan of these things, sorted into groups."""
    members, chosen, groups = grouped([t.own or t.readings for t in things if t.screw is not None])
    order = iter(zip(members, chosen, strict=True))
    out = list(things)
    for n, thing in enumerate(out):
        if thing.screw is not None:
            group, reading = next(order)
            own = thing.own or thing.readings
            others = tuple(r for r in own if r.shape != reading.shape)
            out[n] = evolve(thing, group=group, readings=(reading, *others), own=own)
        else:
            out[n] = evolve(thing, group=-1)
    return Scan(tuple(out), groups, found, found.warnings, ruler_mm)


#: what is said of a thing that goes on beyond the field, and of one that widens at both ends
AT_EDGE = "crosses the edge of the field; move it in"
NOT_CLEAR = "outline not clear: its head mirrors the mat, or a shadow lies over it; turn it or measure it"
RECESS = "the recess of the head beside it"
TWO_ENDS = "wide at both ends: two screws end to end, or not a screw"
#: what a person says of a thing that was counted
SAID_NONE = "marked as not a screw"


def corrected(scan: Scan, n: int, length_mm: float | None = None, screw: bool | None = None) -> Scan:
    """The scan with thing ``n`` put right: its length in mm, or whether it is a screw. Raises VisionError."""
    thing = scan.things[n]
    if screw is not None:
        if screw and not thing.readings:
            raise VisionError("This was not measured as a screw; type its length if it is one.")
        thing = evolve(thing, why_not="" if screw else SAID_NONE)
    if length_mm is not None:
        if not 0.5 <= length_mm <= 200:
            raise VisionError(f"Length must be 0.5 to 200 mm, not {length_mm:g} mm.")
        if not thing.readings:
            raise VisionError("This has no screw shape; move it apart and take the photo again.")
        by = length_mm - thing.readings[0].length_mm
        readings = (
            evolve(r, length_mm=length_mm, overall_mm=r.overall_mm + by, said=True, cost=r.cost if k else 0.0)
            for k, r in enumerate(thing.readings[:1])
        )
        thing = evolve(thing, readings=tuple(readings), own=(), why_not="")
    things = [thing if k == n else t for k, t in enumerate(scan.things)]
    return sorted_out(things, scan.found, scan.ruler_mm)


def _go_on(stopped: Callable[[], bool]) -> None:
    if stopped():
        raise VisionError("The scan was stopped.")


def _told(patch: Floats, corner: tuple[int, int], scale: float, found: Found) -> list[Seen]:
    """What one piece is: a screw, two or more that touch, or something else."""
    left, top = field_seen(found.sheet)[:2]
    origin = (left + corner[0] / scale, top + corner[1] / scale)
    whole = _one(patch, origin, scale, found)
    ring = whole.screw is not None and _holed(patch, scale)
    if whole.screw is not None and whole.screw.fit >= GOOD_FIT and not ring and not _two_ended(patch, whole.screw):
        return [whole]
    for parts in chain(_parted(patch, scale), _cut(patch, scale)):
        told = [_one(part, origin, scale, found) for part in parts]
        if all(t.screw is not None and _plain_screw(t.screw) for t in told):
            return told
    if whole.screw is not None:
        two = _two_ended(patch, whole.screw)
        why = "a ring" if ring else TWO_ENDS if two else "touching screws, or not a screw"
        return [evolve(whole, why_not=why)]
    return [whole]


def _two_ended(patch: Floats, screw: Lying) -> bool:
    """Whether something is as wide at its tip as at its head, and narrow between: two screws tip to tip."""
    ys, xs = np.nonzero(patch > 0.5)
    turn = np.radians(screw.turn_deg)
    along = xs * np.cos(turn) + ys * np.sin(turn)
    place = np.floor((along - along.min()) / max(float(np.ptp(along)), 1e-9) * 20).astype(int).clip(0, 19)
    width = np.bincount(place, minlength=20).astype(np.float64)
    middle, tip = float(np.median(width[6:13])), float(width[1:4].max())
    return tip > 1.3 * middle and tip > 0.75 * float(width[-7:].max()) and screw.overall_mm > 2.2 * screw.head_mm


def _plain_screw(screw: Lying) -> bool:
    """Whether a part of something larger is surely a screw: with a head, well fitted, longer than thick."""
    return screw.shape != "headless" and screw.fit >= 0.9 and screw.length_mm > 1.3 * screw.shank_mm


def _one(patch: Floats, origin: tuple[float, float], scale: float, found: Found) -> Seen:
    contours, _ = cv.findContours((patch > 0.5).astype(np.uint8), cv.RETR_EXTERNAL, cv.CHAIN_APPROX_SIMPLE)
    outline: tuple[tuple[float, float], ...] = ()
    if contours:
        line = cv.approxPolyDP(max(contours, key=cv.contourArea), 1.0, True).reshape(-1, 2)
        outline = tuple((origin[0] + (x + 0.5) / scale, origin[1] + (y + 0.5) / scale) for x, y in line.tolist())
    ys, xs = np.nonzero(patch > 0.5)
    x_mm = origin[0] + (float(xs.mean()) + 0.5) / scale if len(xs) else origin[0]
    y_mm = origin[1] + (float(ys.mean()) + 0.5) / scale if len(ys) else origin[1]
    readings = measured(patch, scale, origin, found.camera.place)
    solid = _solid(contours) if readings else 1.0
    likely = readings if solid < SOLID or _slim(readings) or (solid < FULLER and _clear(readings)) else ()
    if likely and _stout(likely[0]):  # a short countersunk one may look like one with a high head
        likely = tuple(r for r in readings[1:] if not _stout(r) and _else_read(r))
    why = "" if likely else "round: a washer, a nut, or a screw on its head"
    wide = disc_width(screw_outline(patch, scale, origin), found) if why and len(xs) else None
    return Seen(likely or readings, why, x_mm, y_mm, outline, disc_mm=wide or 0.0)


def _solid(contours: Sequence[NDArray[np.int32]]) -> float:
    """How much of its convex hull an outline fills, 0 to 1."""
    line = max(contours, key=cv.contourArea)
    return float(cv.contourArea(line) / max(cv.contourArea(cv.convexHull(line)), 1e-9))


def _slim(readings: tuple[Lying, ...]) -> bool:
    """Whether it is so long that it need not narrow below its head to be a screw."""
    return bool(readings) and readings[0].overall_mm > SLIM * readings[0].head_mm


def _else_read(screw: Lying) -> bool:
    """Whether a reading may stand where the likeliest is none of a screw."""
    if screw.shape == "countersunk":
        return screw.head_mm > 1.3 * screw.shank_mm and screw.overall_mm > 1.4 * screw.head_mm
    return screw.shape != "headless" and screw.fit > STUBBY_FIT and 1.6 * screw.shank_mm < screw.head_mm


def _clear(readings: tuple[Lying, ...]) -> bool:
    """Whether a screw explains so well what is nearly round that it is one: a short shank below a wide head."""
    best = readings[0]
    wide = best.head_mm / max(best.shank_mm, 1e-6)
    return best.fit >= 0.97 and best.cost < CLEARLY and 1.5 < wide < WIDEST and best.length_mm > 0.4 * best.shank_mm


def _stout(screw: Lying) -> bool:
    """Whether this reading is too small, or too thick for its length, to be one of a screw."""
    if screw.overall_mm < SHORTEST_MM:
        return True
    if screw.shape == "headless":
        return screw.overall_mm < STOUT * screw.shank_mm
    if screw.head_mm > WIDEST * screw.shank_mm:
        return True
    high = screw.overall_mm - screw.length_mm
    if high > HIGHEST * screw.head_mm:
        return screw.overall_mm < LONG * screw.head_mm
    return screw.overall_mm < 1.3 * screw.head_mm and screw.fit < STUBBY_FIT


def _holed(patch: Floats, scale: float) -> bool:
    mask = (patch > 0.5).astype(np.uint8)
    _, _, stats, _ = cv.connectedComponentsWithStats(
        np.pad((mask == 0).astype(np.uint8), 1, constant_values=1), connectivity=4
    )
    holes = np.sort(stats[1:, cv.CC_STAT_AREA])[:-1]
    return bool(len(holes)) and float(holes[-1]) > HOLE_MM2 * scale**2


def _grown_back(patch: Floats, labels: NDArray[np.int32], kept: list[int]) -> list[Floats]:
    """The patch in parts: each pixel goes to the nearest of the labels that are kept."""
    apart = [cv.distanceTransform((labels != n).astype(np.uint8), cv.DIST_L2, 5) for n in kept]
    nearest = np.argmin(np.stack(apart), axis=0)
    return [np.where(nearest == n, patch, 0.0) for n in range(len(kept))]


def _parted(patch: Floats, scale: float) -> Iterator[list[Floats]]:
    """Ways to part what touches: worn away from outside until it falls apart, then grown back."""
    mask = (patch > 0.5).astype(np.uint8)
    distance = cv.distanceTransform(mask, cv.DIST_L2, 5)
    seen = 1
    for deep in np.arange(0.1, 1.6, 0.1) * scale:
        count, labels, stats, _ = cv.connectedComponentsWithStats((distance > deep).astype(np.uint8), connectivity=8)
        big = [n for n in range(1, count) if stats[n, cv.CC_STAT_AREA] > 0.25 * scale**2]
        if len(big) <= seen or len(big) > 8:
            continue
        seen = len(big)
        yield _grown_back(patch, labels, big)


def _cut(patch: Floats, scale: float) -> Iterator[list[Floats]]:
    """More ways to part what touches: straight cuts from one notch of the outline to another, the shortest first."""
    mask = (patch > 0.5).astype(np.uint8)
    contours, _ = cv.findContours(mask, cv.RETR_EXTERNAL, cv.CHAIN_APPROX_NONE)
    line = max(contours, key=cv.contourArea)
    hull = cv.convexHull(line, returnPoints=False)
    defects = cv.convexityDefects(line, np.sort(hull, axis=0)[::-1]) if len(hull) > 3 else None
    if defects is None:
        return
    deep = sorted(defects.reshape(-1, 4).tolist(), key=lambda d: -d[3])[:MOST_NOTCHES]
    notches = [line[d[2], 0] for d in deep if d[3] / 256 > NOTCH_MM * scale]
    pairs = [(a, b) for i, a in enumerate(notches) for b in notches[i + 1 :]]
    pairs.sort(key=lambda ab: float(np.hypot(*(ab[0] - ab[1]))))
    for a, b in pairs[:MOST_CUTS]:
        apart = mask.copy()
        cv.line(apart, a.tolist(), b.tolist(), 0, 2)
        count, labels, stats, _ = cv.connectedComponentsWithStats(apart, connectivity=4)
        big = [n for n in range(1, count) if stats[n, cv.CC_STAT_AREA] > SMALLEST_MM2 * scale**2]
        if len(big) == 2:
            yield _grown_back(patch, labels, big)
