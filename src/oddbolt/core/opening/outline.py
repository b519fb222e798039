"""Outlines: typed, checked, and measured along their edge. Millimetres; x to the right, y down, clockwise as seen."""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import lru_cache
from math import cos, pi, sin
from typing import Any

import numpy as np
from attrs import frozen
from numpy.typing import NDArray
from shapely import LinearRing, Polygon
from shapely.validation import explain_validity

from oddbolt.core.errors import BenchError

Array = NDArray[np.float64]
ARC_POINTS = 16
MOST_POINTS = 4000
#: a bend of the outline sharper than this parts two sides, in degrees
CORNER_DEG = 25.0
_NUMBER = r"[+-]?\d+(?:[.,]\d+)?"
_ROUNDED = re.compile(
    rf"\s*({_NUMBER})\s*(?:mm)?\s*[x×]\s*({_NUMBER})\s*(?:mm)?\s*(?:r\s*({_NUMBER})\s*(?:mm)?)?\s*", re.IGNORECASE
)
EXAMPLE = "rounded 84 x 52 r 6"


@frozen(eq=False)
class Outline:
    """A closed line: its corner ``points`` (the first not repeated), the length of the way to each, its length, and the
    box (left, top, right, bottom) about it."""

    points: Array
    along: Array
    length_mm: float
    shape: Any
    box: tuple[float, float, float, float]

    @property
    def size_mm(self) -> tuple[float, float]:
        """Width and height."""
        left, top, right, bottom = self.box
        return right - left, bottom - top

    @property
    def middle(self) -> tuple[float, float]:
        """The middle of the box about it."""
        left, top, right, bottom = self.box
        return (left + right) / 2, (top + bottom) / 2

    def places(self, ways: Array) -> Array:
        """The points these ways along the edge, as rows."""
        ways = np.asarray(ways, dtype=float) % self.length_mm
        known = np.append(self.along, self.length_mm)
        closed = np.append(self.points, self.points[:1], axis=0)
        return np.column_stack([np.interp(ways, known, closed[:, 0]), np.interp(ways, known, closed[:, 1])])

    def at(self, along_mm: float) -> tuple[float, float]:
        """The point this far along the edge."""
        x, y = self.places(np.array([along_mm]))[0]
        return float(x), float(y)

    def inwards(self, ways: Array) -> Array:
        """The unit vectors from the edge into the outline, at these ways along it, as rows."""
        ahead = self.places(ways + 0.05) - self.places(ways - 0.05)
        sizes = np.hypot(ahead[:, 0], ahead[:, 1])
        sizes[sizes == 0] = 1.0
        return np.column_stack([-ahead[:, 1] / sizes, ahead[:, 0] / sizes])

    def inward(self, along_mm: float) -> tuple[float, float]:
        """The unit vector from the edge into the outline, at this place."""
        x, y = self.inwards(np.array([along_mm]))[0]
        return float(x), float(y)

    def stretch(self, from_mm: float, to_mm: float) -> Array:
        """The line along the edge from one place to another, over the start if need be."""
        length = self.length_mm
        start, end = from_mm % length, to_mm % length
        if end <= start:
            end += length
        ways = np.concatenate([self.along, self.along + length])
        inside = ways[(ways > start + 1e-9) & (ways < end - 1e-9)]
        return self.places(np.concatenate([[start], inside, [end]]))


def outline_of(text: str) -> Outline:
    """The outline that a text describes: "rounded 84 x 52 r 6", "84 x 52", or "polygon 0,0 40,0 40,25 0,25".

    Raises BenchError where it is none, is degenerate, or crosses itself. A polygon is turned clockwise.
    """
    return _outline(" ".join(text.split()))


@lru_cache(maxsize=64)
def _outline(text: str) -> Outline:
    words = text.removeprefix("rounded").strip()
    if text.startswith("polygon"):
        return from_points(_pairs(text.removeprefix("polygon")))
    match = _ROUNDED.fullmatch(words)
    if match is None:
        raise BenchError(
            f"{text or 'An empty text'!r} is not an outline; type it like {EXAMPLE!r} or 'polygon 0,0 40,0 …'."
        )
    wide, high, radius = (float((g or "0").replace(",", ".")) for g in match.groups())
    if not (wide > 0 and high > 0):
        raise BenchError(f"An outline of {wide:g} x {high:g} mm has no inside.")
    if not 0 <= radius <= min(wide, high) / 2:
        raise BenchError(f"A corner of {radius:g} mm does not fit on {wide:g} x {high:g} mm.")
    return from_points(_rounded(wide, high, radius))


def from_points(points: Sequence[tuple[float, float]]) -> Outline:
    """An outline through these points. Raises BenchError where they enclose nothing or the line crosses itself."""
    ring = [p for n, p in enumerate(points) if n == 0 or p != points[n - 1]]
    if len(ring) > 1 and ring[0] == ring[-1]:
        ring.pop()
    if len(ring) < 3:
        raise BenchError("An outline needs three points or more.")
    if len(ring) > MOST_POINTS:
        raise BenchError(f"An outline of {len(ring)} points is too fine; up to {MOST_POINTS} are taken.")
    if not np.isfinite(ring).all() or np.abs(ring).max() > 1e4:
        raise BenchError("A point of the outline lies more than 10 m away.")
    shape = Polygon(ring)
    if not shape.is_valid:
        where = re.search(rf"\[({_NUMBER}) ({_NUMBER})\]", explain_validity(shape))
        at = f" near {float(where[1]):.1f}, {float(where[2]):.1f}" if where else ""
        raise BenchError(f"The outline crosses itself{at}.")
    if shape.area < 1:
        raise BenchError("The outline encloses nothing.")
    # counter-clockwise with y up is clockwise with y down
    ordered = ring if LinearRing(ring).is_ccw else [ring[0], *reversed(ring[1:])]
    array = np.array(ordered, dtype=float)
    sides = np.hypot(*(np.roll(array, -1, axis=0) - array).T)
    along = np.concatenate([[0.0], np.cumsum(sides)[:-1]])
    return Outline(array, along, float(sides.sum()), shape, shape.bounds)


def text_of(outline: Outline) -> str:
    """The outline as a text that :func:`outline_of` reads back."""
    return "polygon " + " ".join(f"{x:g},{y:g}" for x, y in np.round(outline.points, 3))


def sides(outline: Outline) -> list[tuple[str, float, float]]:
    """The sides of an outline as name, start and end along it; they are parted at its corners, a rounded one in the
    middle. Names say where a side lies: "top side"; a second one there "top side 2"."""
    at = _corners(outline)
    if len(at) < 2:
        quarter = outline.length_mm / 4
        at = [quarter * (n + 0.5) for n in range(4)]
    out: list[tuple[str, float, float]] = []
    used: dict[str, int] = {}
    for n, start in enumerate(at):
        end = at[(n + 1) % len(at)]
        way = (end - start) % outline.length_mm
        name = _where(outline, start + way / 2)
        used[name] = used.get(name, 0) + 1
        out.append((name if used[name] == 1 else f"{name} {used[name]}", start, end))
    return out


def _where(outline: Outline, along: float) -> str:
    x, y = outline.inward(along)
    if abs(x) > abs(y):
        return "left side" if x > 0 else "right side"
    return "top side" if y > 0 else "bottom side"


def _corners(outline: Outline) -> list[float]:
    """Places where sides part: sharp bends, and the middles of runs of small bends that add up to a sharp one."""
    points = outline.points
    steps = np.roll(points, -1, axis=0) - points
    heading = np.degrees(np.arctan2(steps[:, 1], steps[:, 0]))
    bends = (heading - np.roll(heading, 1) + 180) % 360 - 180
    lengths = np.hypot(*steps.T)
    straight = max(float(lengths.max()) * 0.2, 1.0)
    found: list[float] = []
    n, size = 0, len(points)
    first = next((i for i in range(size) if lengths[i - 1] > straight), 0)
    while n < size:
        i = (first + n) % size
        run, total = n, float(bends[i])
        while lengths[(first + run) % size] < straight and run + 1 < size:
            run += 1
            total += float(bends[(first + run) % size])
        if abs(total) > CORNER_DEG:
            start, end = outline.along[i], outline.along[(first + run) % size]
            found.append(float((start + ((end - start) % outline.length_mm) / 2) % outline.length_mm))
        n = run + 1
    return sorted(found)


def _pairs(text: str) -> list[tuple[float, float]]:
    out = []
    for word in text.replace(";", " ").split():
        match = re.fullmatch(r"([+-]?\d+(?:\.\d+)?),([+-]?\d+(?:\.\d+)?)", word)
        if match is None:
            raise BenchError(f"{word!r} is not a point; type points like 12.5,40.")
        out.append((float(match[1]), float(match[2])))
    return out


def _rounded(wide: float, high: float, radius: float) -> list[tuple[float, float]]:
    if radius == 0:
        return [(0, 0), (wide, 0), (wide, high), (0, high)]
    out = []
    right, low = wide - radius, high - radius
    for x, y, start in ((right, radius, -90), (right, low, 0), (radius, low, 90), (radius, radius, 180)):
        for n in range(ARC_POINTS + 1):
            angle = (start + 90 * n / ARC_POINTS) * pi / 180
            out.append((round(x + radius * cos(angle), 6), round(y + radius * sin(angle), 6)))
    return [out[-1], *out[:-1]]
