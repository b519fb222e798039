"""Lengths, diameters, angles and areas between points picked on a photo of the mat, each with how far it may be off.

A pick is taken to be off by ``PICK_PX`` to every side; that and the mat's scale are carried through to the result to
first order (Gauss's law of the propagation of errors).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from attrs import frozen

from oddbolt.core.errors import VisionError
from oddbolt.core.vision.find import Camera, Found
from oddbolt.core.vision.mat import RULER_MM, Floats

#: how far a pick is off, one standard deviation, px
PICK_PX = 0.7
#: what may be measured -> the least number of points
KINDS = {"length": 2, "diameter": 2, "angle": 3, "area": 3}
UNITS = {"length": "mm", "diameter": "mm", "angle": "°", "area": "mm²"}
HIGHEST_MM = 100.0


@frozen
class Measure:
    """A figure in mm, degrees or mm², how far it may be off (one standard deviation), and the unit."""

    kind: str
    value: float
    off: float
    unit: str

    @property
    def words(self) -> str:
        """The figure with twice its uncertainty, to the digits that it is worth."""
        twice = 2 * self.off
        digits = int(np.clip(1 - np.floor(np.log10(max(twice, 1e-6))), 0, 2))
        return f"{self.value:.{digits}f} ± {twice:.{digits}f} {self.unit}"


def on_mat(camera: Camera, pixels: Floats, height_mm: float = 0.0) -> Floats:
    """Where rays through these px (n, 2) meet the plane ``height_mm`` above the mat, mm (n, 2)."""
    bent = (pixels - camera.centre) / camera.focal
    flat = bent.copy()
    for _ in range(8):  # the distortion is small: a fixed point
        flat = bent / (1 + camera.k1 * (flat**2).sum(axis=1, keepdims=True))
    rays = np.column_stack([flat, np.ones(len(flat))]) @ camera.rotation
    eye = camera.place
    out: Floats = eye[:2] + rays[:, :2] * ((height_mm - eye[2]) / rays[:, 2])[:, None]
    return out


def measure(
    found: Found, kind: str, points: Sequence[tuple[float, float]], height_mm: float = 0.0, ruler_mm: float = RULER_MM
) -> Measure:
    """Measure between points in px of the photo: a length along them, the diameter of the circle through them (two lie
    across), the angle at the second of three, or the area within them. ``height_mm`` is how far above the mat they lie.

    Raises VisionError for too few points, for an outline that crosses itself, and for what cannot be measured so.
    """
    if kind not in KINDS:
        raise VisionError(f"“{kind}” cannot be measured here; choose one of: {', '.join(KINDS)}.")
    if len(points) < KINDS[kind] or (kind == "angle" and len(points) != 3):
        raise VisionError(f"For {'an' if kind[0] == 'a' else 'a'} {kind} pick {HOW[kind]}.")
    if not 0 <= height_mm <= HIGHEST_MM:
        raise VisionError(f"Points lie 0 to {HIGHEST_MM:g} mm above the mat, not {height_mm:g}.")
    picked = np.array(points, dtype=np.float64)
    scale = ruler_mm / RULER_MM
    by = {"angle": 0, "area": 2}.get(kind, 1)

    def figure(px: Floats) -> float:
        return FIGURES[kind](on_mat(found.camera, px, height_mm)) * scale**by

    value, slopes = figure(picked), []
    for k in range(picked.size):
        step = np.zeros(picked.size)
        step[k] = 0.25
        ahead, behind = (figure(picked + sign * step.reshape(picked.shape)) for sign in (1, -1))
        slopes.append((ahead - behind) / 0.5)
    off = float(np.hypot(PICK_PX * np.linalg.norm(slopes), by * found.scale_off * value))
    return Measure(kind, value, off, UNITS[kind])


def _length(at: Floats) -> float:
    return float(np.linalg.norm(np.diff(at, axis=0), axis=1).sum())


def _diameter(at: Floats) -> float:
    """Two points lie across; through more, the circle of least squares (Kåsa 1976)."""
    if len(at) == 2:
        return _length(at)
    middle = at.mean(axis=0)
    x, y = (at - middle).T
    if np.linalg.matrix_rank(at - middle, tol=1e-3) < 2:
        raise VisionError("These points lie on a line; they give no circle.")
    a, b, c = np.linalg.lstsq(np.column_stack([x, y, np.ones_like(x)]), x**2 + y**2, rcond=None)[0]
    return float(2 * np.sqrt(max(c + (a**2 + b**2) / 4, 0.0)))


def _angle(at: Floats) -> float:
    a, b = at[0] - at[1], at[2] - at[1]
    if min(np.linalg.norm(a), np.linalg.norm(b)) < 1e-6:
        raise VisionError("An angle needs three separate points.")
    return float(np.degrees(np.arctan2(abs(a[0] * b[1] - a[1] * b[0]), a @ b)))


def _area(at: Floats) -> float:
    n = len(at)
    edges = [(at[k], at[(k + 1) % n]) for k in range(n)]
    for i in range(n):
        for j in range(i + 2, n - (i == 0)):
            if _cross(*edges[i], *edges[j]):
                raise VisionError("The outline crosses itself; pick its corners one after the other.")
    x, y = at.T
    return float(abs((x * np.roll(y, -1) - y * np.roll(x, -1)).sum()) / 2)


def _cross(a: Floats, b: Floats, c: Floats, d: Floats) -> bool:
    def side(p: Floats, q: Floats, r: Floats) -> float:
        return float((q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0]))

    return side(a, b, c) * side(a, b, d) < 0 and side(c, d, a) * side(c, d, b) < 0


HOW = {
    "length": "two points or more",
    "diameter": "two points across, or three or more round the rim",
    "angle": "three points, the corner second",
    "area": "three corners or more",
}
FIGURES: dict[str, Callable[[Floats], float]] = {
    "length": _length,
    "diameter": _diameter,
    "angle": _angle,
    "area": _area,
}
