"""Screws laid loosely on the mat: found, counted, measured, and sorted into groups.

Grey, brass and black metal differ from the tinted field in colour, and shadows do not: each pixel is split into a share
of the field's own colour, which light and shadow change, and what is left over, which they do not.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from attrs import evolve, frozen
from numpy.typing import NDArray

from oddbolt.core.errors import VisionError
from oddbolt.core.vision.find import Found, find_mat, flattened
from oddbolt.core.vision.lying import Lying, measured
from oddbolt.core.vision.mat import RULER_MM, Floats, Mat, Picture, cv

#: px per mm that is worked at
COARSEST, FINEST = 6.0, 10.5
#: the field's own colour is taken over so many mm
FIELD_MM = 14.0
#: an object differs from the field so much in colour, or so much by angle and a little in strength, or is so dark
STRONG, ANGLE, WEAK, DARK = 0.08, 0.145, 0.02, 0.2
#: how far shadow and noise make brightness and colour uncertain
BRIGHT_OFF, LEFT_OFF = 0.2, 0.03
SMALLEST_MM2, LARGEST_MM2 = 0.9, 900.0
#: a notch of the outline that a cut may begin at is so deep, mm; so many notches and cuts are tried
NOTCH_MM, MOST_NOTCHES, MOST_CUTS = 0.3, 5, 6
#: what has no head and is less than so many times as long as thick is no screw
STOUT = 1.9
#: a head higher than so much of its diameter is none
HIGHEST = 0.62
#: a shape is taken for a screw if the model explains so much of it
GOOD_FIT = 0.8
#: how far a length, a head and a shank are off within a family, and a length within a group, one standard deviation, mm
FAMILY_MM, LENGTH_MM = (0.45, 0.4, 0.3), 0.16


@frozen
class Seen:
    """One thing on the mat: a screw with the ways it may be read, or ``why_not`` one; its outline in mm on the mat;
    ``group`` from 0, -1 for none."""

    readings: tuple[Lying, ...]
    why_not: str
    x_mm: float
    y_mm: float
    outline: tuple[tuple[float, float], ...]
    group: int = -1

    @property
    def screw(self) -> Lying | None:
        """The screw it is, None if it is none."""
        return None if self.why_not or not self.readings else self.readings[0]


@frozen
class Group:
    """Screws alike: how many, and their mean sizes, mm."""

    count: int
    shape: str
    length_mm: float
    head_mm: float
    shank_mm: float
    spread_mm: float


@frozen
class Scan:
    """What lies on the mat: things in reading order, groups by length, the mat, and what to mind."""

    things: tuple[Seen, ...]
    groups: tuple[Group, ...]
    found: Found
    warnings: tuple[str, ...]

    @property
    def screws(self) -> tuple[Seen, ...]:
        return tuple(t for t in self.things if t.screw is not None)


def _scaled(screw: Lying, by: float) -> Lying:
    """The screw with its sizes as they are if the mat was printed so much too large."""
    sizes = {name: getattr(screw, name) * by for name in ("length_mm", "overall_mm", "head_mm", "shank_mm")}
    return evolve(screw, **sizes)


def _never() -> bool:
    return False


def scan(picture: Picture, stopped: Callable[[], bool] = _never, ruler_mm: float = RULER_MM) -> Scan:
    """Scan an RGB photo. ``stopped`` is asked between the parts of the work; VisionError "stopped" if it says yes.
    ``ruler_mm`` is what the printed 100 mm measure, 90 to 110.

    Raises VisionError where no mat can be used.
    """
    if not 90 <= ruler_mm <= 110:
        raise VisionError(f"A ruler of {ruler_mm:g} mm is no 100 mm printed a little wrong; print the mat at 100 %.")
    found = find_mat(picture)
    _go_on(stopped)
    scale = float(np.clip(found.px_per_mm * 1.1, COARSEST, FINEST))
    share = objects(flattened(picture, found, scale, field_seen(found.sheet)), scale)
    _go_on(stopped)
    things = []
    for patch, corner in pieces(share, scale):
        _go_on(stopped)
        things += _told(patch, corner, scale, found)
    things.sort(key=lambda t: (round(t.y_mm / 12), t.x_mm))
    printed = ruler_mm / RULER_MM
    things = [evolve(t, readings=tuple(_scaled(r, printed) for r in t.readings)) for t in things]
    return sorted_out(things, found)


def sorted_out(things: list[Seen], found: Found) -> Scan:
    """The scan of these things, sorted into groups."""
    members, chosen, groups = grouped([t.readings for t in things if t.screw is not None])
    order = iter(zip(members, chosen, strict=True))
    out = list(things)
    for n, thing in enumerate(out):
        if thing.screw is not None:
            group, reading = next(order)
            others = tuple(r for r in thing.readings if r.shape != reading.shape)
            out[n] = evolve(thing, group=group, readings=(reading, *others))
        else:
            out[n] = evolve(thing, group=-1)
    return Scan(tuple(out), groups, found, found.warnings)


#: what a person says of a thing that was counted
SAID_NONE = "not a screw, as was said"


def corrected(scan: Scan, n: int, length_mm: float | None = None, screw: bool | None = None) -> Scan:
    """The scan with thing ``n`` put right: its length in mm, or whether it is a screw. Raises VisionError."""
    thing = scan.things[n]
    if screw is not None:
        if screw and not thing.readings:
            raise VisionError("This was not measured as a screw; type its length if it is one.")
        thing = evolve(thing, why_not="" if screw else SAID_NONE)
    if length_mm is not None:
        if not 0.5 <= length_mm <= 200:
            raise VisionError(f"A screw of {length_mm:g} mm is none; lengths go from 0.5 to 200 mm.")
        if not thing.readings:
            raise VisionError("This has no shape of a screw; lay it apart and take the photo again.")
        by = length_mm - thing.readings[0].length_mm
        readings = (
            evolve(r, length_mm=length_mm, overall_mm=r.overall_mm + by, said=True, cost=r.cost if k else 0.0)
            for k, r in enumerate(thing.readings[:1])
        )
        thing = evolve(thing, readings=tuple(readings), why_not="")
    things = [thing if k == n else t for k, t in enumerate(scan.things)]
    return sorted_out(things, scan.found)


#: the points of an outline err together: so much of their cost counts as of points on their own
ALIKE_POINTS = 0.3
#: what seldom shapes of head cost a group beforehand (common practice, no source)
SELDOM = {"flat": 3.0, "headless": 2.0}
#: how much of its own size a screw keeps in a group of three or more
OWN = 0.25


#: the field's rim is left out, mm
RIM = 0.7


def field_seen(sheet: Mat) -> tuple[float, float, float, float]:
    """The part of the field that is looked at: left, top, right, bottom, mm."""
    left, top, right, bottom = sheet.field
    return left + RIM, top + RIM, right - RIM, bottom - RIM


def _go_on(stopped: Callable[[], bool]) -> None:
    if stopped():
        raise VisionError("The scan was stopped.")


def _linear(picture: Picture) -> NDArray[np.float32]:
    """sRGB to linear light, 0 to 1 (IEC 61966-2-1)."""
    x = np.arange(256) / 255.0
    table = np.where(x <= 0.04045, x / 12.92, ((x + 0.055) / 1.055) ** 2.4).astype(np.float32)
    out: NDArray[np.float32] = table[picture]
    return out


def _split(light: NDArray[np.float32], field: NDArray[np.float32]) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """How bright the field's colour is in each pixel, and what is left over, both against the field's strength."""
    strength = (field * field).sum(axis=-1) + 1e-9
    bright = (light * field).sum(axis=-1) / strength
    left = (light - bright[..., None] * field) / np.sqrt(strength)[..., None]
    return bright, left


def objects(flat: Picture, scale: float) -> NDArray[np.float32]:
    """How much of each pixel is an object, 0 to 1. Raises VisionError if the field is not seen."""
    light = _linear(flat)
    field = _field(light, scale)
    bright, left = _split(cv.GaussianBlur(light, (0, 0), 0.6), field)
    calm_bright = cv.GaussianBlur(bright, (0, 0), 0.06 * scale)
    calm_left = np.sqrt((cv.GaussianBlur(left, (0, 0), 0.06 * scale) ** 2).sum(axis=-1))
    mask = (
        (calm_left > STRONG) | ((calm_left > ANGLE * (calm_bright + 0.03)) & (calm_left > WEAK)) | (calm_bright < DARK)
    )
    kind = cv.getStructuringElement(cv.MORPH_ELLIPSE, (3, 3))
    found = cv.morphologyEx(mask.astype(np.uint8), cv.MORPH_OPEN, kind)
    found = _without_small_holes(found, scale)
    found = _to_edges(bright, left, found, scale)
    found = cv.morphologyEx(_without_small_holes(found, scale), cv.MORPH_OPEN, kind)
    share = np.zeros(found.shape, dtype=np.float32)
    _, _, boxes, _ = cv.connectedComponentsWithStats(cv.dilate(found, _round(6)), connectivity=8)
    for x, y, wide, high, _ in boxes[1:].tolist():
        part = np.s_[y : y + high, x : x + wide]
        seen = np.dstack([bright[part], 2 * left[part]]).astype(np.float32)
        share[part] = np.maximum(share[part], _softened(seen, np.ascontiguousarray(found[part])))
    return share


def _to_edges(
    bright: NDArray[np.float32], left: NDArray[np.float32], found: NDArray[np.uint8], scale: float
) -> NDArray[np.uint8]:
    """What was found, its rim moved to where the colour changes most: a watershed between its inside and the field."""
    basis = np.linalg.svd(left[::9, ::9].reshape(-1, 3), full_matrices=False)[2][:2]
    across = left @ basis.T.astype(np.float32)
    tones = np.dstack([np.sqrt(np.clip(bright, 0, 2)) * 110, 128 + 220 * across])
    inside = cv.erode(found, _round(0.13 * scale))
    inside = np.where(cv.dilate(inside, _round(0.35 * scale)) > 0, inside, found)  # thin ones are not worn away
    markers = np.where(inside > 0, 2, np.where(cv.dilate(found, _round(0.3 * scale)) > 0, 0, 1)).astype(np.int32)
    flooded = cv.watershed(np.clip(tones, 0, 255).astype(np.uint8), markers)
    out: NDArray[np.uint8] = (flooded == 2).astype(np.uint8)
    # the line between counts half to either side
    out[(flooded == -1) & (cv.blur((flooded == 2).astype(np.float32), (3, 3)) >= 0.34)] = 1
    return out


def _softened(seen: NDArray[np.float32], found: NDArray[np.uint8]) -> NDArray[np.float32]:
    """How much of each pixel is object: at its rim, how far the colour is on the way from outside to inside."""
    within = cv.distanceTransform(found, cv.DIST_L2, 3)
    without = cv.distanceTransform(1 - found, cv.DIST_L2, 3)
    inner = ((within > 1.6) & (within < 4.5)).astype(np.float32)
    outer = ((without > 1.6) & (without < 4.5)).astype(np.float32)

    def beside(where: NDArray[np.float32]) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
        weight = cv.GaussianBlur(where, (0, 0), 1.7)
        colour = cv.GaussianBlur(seen * where[..., None], (0, 0), 1.7) / np.maximum(weight, 1e-4)[..., None]
        return colour, weight

    (object_, sure), (field, free) = beside(inner), beside(outer)
    way = object_ - field
    share = ((seen - field) * way).sum(axis=-1) / np.maximum((way * way).sum(axis=-1), 1e-6)
    rim = (within < 2.1) & (without < 2.1) & (sure > 0.01) & (free > 0.01)
    plain = cv.GaussianBlur(found.astype(np.float32), (0, 0), 0.6)
    out: NDArray[np.float32] = np.where(rim, np.clip(share, 0, 1), plain).astype(np.float32)
    return out


def _round(radius: float) -> NDArray[np.uint8]:
    return np.asarray(cv.getStructuringElement(cv.MORPH_ELLIPSE, (2 * max(1, round(radius)) + 1,) * 2), dtype=np.uint8)


def _field(light: NDArray[np.float32], scale: float) -> NDArray[np.float32]:
    """The colour of the free field at each pixel, taken over from where it is free."""
    coarse = 8
    small = cv.resize(light, None, fx=1 / coarse, fy=1 / coarse, interpolation=cv.INTER_AREA)
    typical = np.median(small.reshape(-1, 3), axis=0).astype(np.float32)
    if typical.max() < 0.01:
        raise VisionError("The photo is too dark to tell screws from the mat. Light it more.")
    if typical[0] > 0.75 * typical[2]:
        raise VisionError("The tinted field of the mat is not seen. Print the mat in colour and leave most of it free.")
    bright, left = _split(small, np.broadcast_to(typical, small.shape))
    plain = ((np.sqrt((left**2).sum(axis=-1)) / (bright + 0.05) < 0.15) & (bright > 0.45)).astype(np.float32)
    sigma = FIELD_MM * scale / coarse
    weight = cv.GaussianBlur(plain, (0, 0), sigma) + 1e-6
    field = np.dstack([cv.GaussianBlur(small[..., c] * plain, (0, 0), sigma) / weight for c in range(3)])
    out = cv.resize(field, (light.shape[1], light.shape[0]), interpolation=cv.INTER_LINEAR)
    return np.asarray(out, dtype=np.float32)


def _without_small_holes(mask: NDArray[np.uint8], scale: float) -> NDArray[np.uint8]:
    """The mask with holes below 1.2 mm² filled: threads and recesses show the mat's colour, a washer's hole stays."""
    n, labels, stats, _ = cv.connectedComponentsWithStats((mask == 0).astype(np.uint8), connectivity=4)
    small = np.flatnonzero(stats[:, cv.CC_STAT_AREA] < 1.2 * scale**2)
    out = mask.copy()
    if n > 1 and len(small):
        out[np.isin(labels, small)] = 1
    return out


def pieces(share: NDArray[np.float32], scale: float) -> list[tuple[Floats, tuple[int, int]]]:
    """Every object apart, with the corner (x, y in px) of its patch."""
    mask = (share > 0.5).astype(np.uint8)
    count, labels, stats, _ = cv.connectedComponentsWithStats(mask, connectivity=8)
    out = []
    height, width = share.shape
    pad = 3
    for n in range(1, count):
        x, y, wide, high, area = (int(v) for v in stats[n])
        if not SMALLEST_MM2 <= area / scale**2 <= LARGEST_MM2:
            continue
        rim = x <= 1 or y <= 1 or x + wide >= width - 1 or y + high >= height - 1
        if rim and min(wide, high) < 0.8 * scale:
            continue  # the rim of the field
        x0, y0, x1, y1 = max(0, x - pad), max(0, y - pad), min(width, x + wide + pad), min(height, y + high + pad)
        own = labels[y0:y1, x0:x1]
        patch = np.where((own == n) | (own == 0), share[y0:y1, x0:x1], 0.0)
        near = cv.dilate((own == n).astype(np.uint8), np.ones((3, 3), np.uint8))
        out.append((np.where(near > 0, patch, 0.0).astype(np.float64), (x0, y0)))
    return out


def _told(patch: Floats, corner: tuple[int, int], scale: float, found: Found) -> list[Seen]:
    """What one piece is: a screw, two or more that touch, or something else."""
    left, top = field_seen(found.sheet)[:2]
    origin = (left + corner[0] / scale, top + corner[1] / scale)
    whole = _one(patch, origin, scale, found)
    if whole.screw is not None and whole.screw.fit >= GOOD_FIT and not _holed(patch, scale):
        return [whole]
    for parts in (*_parted(patch, scale), *_cut(patch, scale)):
        told = [_one(part, origin, scale, found) for part in parts]
        if all(t.screw is not None and _plain_screw(t.screw) for t in told):
            return told
    if whole.screw is not None:
        why = "a ring" if _holed(patch, scale) else "several that touch, or no screw"
        return [evolve(whole, why_not=why)]
    return [whole]


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
    best = readings[0] if readings else None
    stout = best is not None and best.shape == "headless" and best.overall_mm < STOUT * best.shank_mm
    stout = stout or (best is not None and best.overall_mm - best.length_mm > HIGHEST * best.head_mm)
    why = "" if readings and not stout else "round: a washer, a nut, or a screw on its head"
    return Seen(readings, why, x_mm, y_mm, outline)


def _holed(patch: Floats, scale: float) -> bool:
    mask = (patch > 0.5).astype(np.uint8)
    _, _, stats, _ = cv.connectedComponentsWithStats(
        np.pad((mask == 0).astype(np.uint8), 1, constant_values=1), connectivity=4
    )
    holes = np.sort(stats[1:, cv.CC_STAT_AREA])[:-1]
    return bool(len(holes)) and float(holes[-1]) > 1.2 * scale**2


def _parted(patch: Floats, scale: float) -> list[list[Floats]]:
    """Ways to part what touches: worn away from outside until it falls apart, then grown back."""
    mask = (patch > 0.5).astype(np.uint8)
    distance = cv.distanceTransform(mask, cv.DIST_L2, 5)
    out: list[list[Floats]] = []
    seen = 1
    for deep in np.arange(0.1, 1.6, 0.1) * scale:
        count, labels, stats, _ = cv.connectedComponentsWithStats((distance > deep).astype(np.uint8), connectivity=8)
        big = [n for n in range(1, count) if stats[n, cv.CC_STAT_AREA] > 0.25 * scale**2]
        if len(big) <= seen or len(big) > 8:
            continue
        seen = len(big)
        apart = [cv.distanceTransform((labels != n).astype(np.uint8), cv.DIST_L2, 5) for n in big]
        nearest = np.argmin(np.stack(apart), axis=0)
        out.append([np.where(nearest == n, patch, 0.0) for n in range(len(big))])
    return out


def _cut(patch: Floats, scale: float) -> list[list[Floats]]:
    """More ways to part what touches: straight cuts from one notch of the outline to another, the shortest first."""
    mask = (patch > 0.5).astype(np.uint8)
    contours, _ = cv.findContours(mask, cv.RETR_EXTERNAL, cv.CHAIN_APPROX_NONE)
    line = max(contours, key=cv.contourArea)
    hull = cv.convexHull(line, returnPoints=False)
    defects = cv.convexityDefects(line, np.sort(hull, axis=0)[::-1]) if len(hull) > 3 else None
    if defects is None:
        return []
    deep = sorted(defects.reshape(-1, 4).tolist(), key=lambda d: -d[3])[:MOST_NOTCHES]
    notches = [line[d[2], 0] for d in deep if d[3] / 256 > NOTCH_MM * scale]
    pairs = [(a, b) for i, a in enumerate(notches) for b in notches[i + 1 :]]
    pairs.sort(key=lambda ab: float(np.hypot(*(ab[0] - ab[1]))))
    out = []
    for a, b in pairs[:MOST_CUTS]:
        apart = mask.copy()
        cv.line(apart, a.tolist(), b.tolist(), 0, 2)
        count, labels, stats, _ = cv.connectedComponentsWithStats(apart, connectivity=4)
        big = [n for n in range(1, count) if stats[n, cv.CC_STAT_AREA] > SMALLEST_MM2 * scale**2]
        if len(big) == 2:
            away = [cv.distanceTransform((labels != n).astype(np.uint8), cv.DIST_L2, 5) for n in big]
            nearest = np.argmin(np.stack(away), axis=0)
            out.append([np.where(nearest == n, patch, 0.0) for n in range(2)])
    return out


def grouped(readings: list[tuple[Lying, ...]]) -> tuple[list[int], list[Lying], tuple[Group, ...]]:
    """Which group each screw is of, how it is read, and the groups by length.

    Screws are first sorted into families of about one size, whatever the shape of the head; each family has the shape
    that its screws together speak for, and is then split by length. The screws of a group keep little of their own:
    what they differ by is mostly the error of measuring (shrinkage, James and Stein 1961). How many families and
    groups: as many as the Bayesian information criterion (Schwarz 1978) asks for, with the errors known.
    """
    members, chosen = [-1] * len(readings), [r[0] for r in readings]
    groups: list[tuple[Group, list[int]]] = []
    rough = np.array([_alike(r) for r in readings]).reshape(-1, 3) / FAMILY_MM
    for family in _clusters(rough) if len(rough) else []:
        shape = _shape_of([readings[n] for n in family])
        for n in family:
            chosen[n] = next((r for r in readings[n] if r.shape == shape), chosen[n])
        lengths = np.array([[chosen[n].length_mm] for n in family]) / LENGTH_MM
        for part in _clusters(lengths):
            inside = [family[k] for k in part]
            groups.append((_group(chosen, inside, shape), inside))
    groups.sort(key=lambda g: (g[0].length_mm, g[0].head_mm))
    for k, (_one, inside) in enumerate(groups):
        for n in inside:
            members[n] = k
    return members, chosen, tuple(g for g, _ in groups)


def _shape_of(readings: list[tuple[Lying, ...]]) -> str:
    """The shape that the screws together speak for."""
    shapes = {r.shape for told in readings for r in told}
    dear = max(r.cost for told in readings for r in told) + 1
    cost = {s: sum(min((r.cost for r in told if r.shape == s), default=dear) for told in readings) for s in shapes}
    return min(cost, key=lambda s: ALIKE_POINTS * cost[s] + SELDOM.get(s, 0.0))


def _group(chosen: list[Lying], inside: list[int], shape: str) -> Group:
    """The group of these screws; in a group of three or more, each is brought near to its middle."""
    sizes = np.array([(chosen[n].length_mm, chosen[n].head_mm, chosen[n].shank_mm) for n in inside])
    middle = np.median(sizes, axis=0)
    for n, own in zip(inside, sizes, strict=True):
        length, head, shank = (float(v) for v in middle + (1 if len(inside) < 3 else OWN) * (own - middle))
        length = chosen[n].length_mm if chosen[n].said else length
        chosen[n] = evolve(chosen[n], length_mm=length, head_mm=head, shank_mm=shank)
    long, wide, thick = (float(v) for v in middle)
    return Group(len(inside), shape, long, wide, thick, float(np.ptp(sizes[:, 0])))


def _alike(readings: tuple[Lying, ...]) -> tuple[float, float, float]:
    """What families are sorted by: the length under a raised head, whether it is one or not, the head and the shank."""
    one = next((r for r in readings if r.shape == "domed"), readings[0])
    return one.length_mm, one.head_mm, one.shank_mm


def _clusters(points: Floats) -> list[list[int]]:
    """Indices of the points of each cluster: joined from the nearest on, and cut where the criterion is best."""
    n = len(points)
    clusters = [[k] for k in range(n)]
    best, best_cost = clusters, _cost(points, clusters)
    while len(clusters) > 1:
        means = np.array([points[c].mean(axis=0) for c in clusters])
        sizes = np.array([len(c) for c in clusters])
        gap = (
            ((means[:, None] - means[None]) ** 2).sum(-1)
            * (sizes[:, None] * sizes[None])
            / (sizes[:, None] + sizes[None])
        )
        gap[np.tril_indices(len(clusters))] = np.inf
        i, j = np.unravel_index(int(np.argmin(gap)), gap.shape)
        joined = clusters[int(i)] + clusters[int(j)]
        clusters = [c for k, c in enumerate(clusters) if k not in (int(i), int(j))] + [joined]
        cost = _cost(points, clusters)
        if cost <= best_cost:
            best, best_cost = clusters, cost
    return best


def _cost(points: Floats, clusters: list[list[int]]) -> float:
    off = sum(float(((points[c] - points[c].mean(axis=0)) ** 2).sum()) for c in clusters)
    return float(off + len(clusters) * (points.shape[1] * np.log(max(len(points), 2)) + 4.0))
