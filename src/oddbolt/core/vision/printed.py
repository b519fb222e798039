"""How large a gauge mat was really printed: by its ruler, or by a disc of known size that lies on it."""

from __future__ import annotations

import re

import numpy as np
from attrs import evolve, frozen
from scipy.optimize import least_squares

from oddbolt.core.errors import VisionError
from oddbolt.core.vision.find import Found
from oddbolt.core.vision.mat import RULER_MM, Floats
from oddbolt.core.vision.screw_fit import Lying

#: a print outside this is refused, mm for the ruler's 100
LEAST_MM, MOST_MM = 90.0, 110.0
#: a disc is so wide and so thick, mm
WIDE_MM, THICK_MM = (8.0, 32.0), (0.0, 20.0)
#: a rim is fitted over so much of its radius to either side of where it is widest
NEAR_RIM = 0.4
#: an outline is a disc's if it is not so many times as long as wide, and its rim lies so near to a circle, mm
OBLONG, UNROUND_MM = 1.25, 0.12
#: what the rim of a disc may be off by in a photo, one standard deviation, mm (chosen on ray-traced pictures)
RIM_OFF_MM = 0.05


@frozen
class Disc:
    """A coin, a washer without a chamfer or a gauge: its diameter and thickness, mm."""

    diameter_mm: float
    thick_mm: float


def disc(typed: str) -> Disc:
    """A disc as typed: “23.2 x 2.3”, diameter by thickness in mm. Raises VisionError."""
    figures = re.fullmatch(r"\s*(\d+(?:[.,]\d+)?)\s*(?:mm)?\s*[x×*]\s*(\d+(?:[.,]\d+)?)\s*(?:mm)?\s*", typed)
    if figures is None:
        raise VisionError(f"“{typed}” is no disc; type its diameter and thickness in mm, like 23.2 x 2.3.")
    wide, thick = (float(v.replace(",", ".")) for v in figures.groups())
    if not (WIDE_MM[0] <= wide <= WIDE_MM[1] and THICK_MM[0] <= thick <= THICK_MM[1]):
        raise VisionError(
            f"A disc of known size is {WIDE_MM[0]:g} to {WIDE_MM[1]:g} mm wide and at most {THICK_MM[1]:g} mm thick."
        )
    return Disc(wide, thick)


def checked_ruler(ruler_mm: float) -> float:
    """What the printed 100 mm measure. Raises VisionError if that is too far from 100 mm."""
    if not LEAST_MM <= ruler_mm <= MOST_MM:
        raise VisionError(f"A ruler of {ruler_mm:g} mm is too far from 100 mm; print the mat at 100 %.")
    return ruler_mm


def resized(screw: Lying, by: float) -> Lying:
    """The screw with its sizes as they are if the mat was printed so much larger than taken."""
    sizes = {name: getattr(screw, name) * by for name in ("length_mm", "overall_mm", "head_mm", "shank_mm")}
    return evolve(screw, **sizes)


def disc_width(line: Floats, found: Found) -> float | None:
    """How wide a disc with this outline (n, 2 in mm on the mat) is seen across the direction of sight, mm; None if
    it is not a disc's outline.

    What stands above the mat is seen shifted away from the camera's foot and a little larger; across that direction
    the widest place is the upper rim alone.
    """
    middle = line.mean(axis=0)
    sight = middle - found.camera.place[:2]
    sight /= max(float(np.linalg.norm(sight)), 1e-9)
    along, across = (line - middle) @ sight, (line - middle) @ np.array([-sight[1], sight[0]])
    wide, long = float(np.ptp(across)), float(np.ptp(along))
    if not 0.98 < long / max(wide, 1e-9) < OBLONG:
        return None
    # the two ends of the upper rim lie on one circle; each end is fitted near where it is widest
    radius, peak = wide / 2, along[np.argsort(np.abs(across))[-12:]].mean()
    rim = np.abs(along - peak) < NEAR_RIM * radius
    x, y = along[rim], across[rim]

    def off(p: Floats) -> Floats:
        out: Floats = np.hypot(x - p[0], y - p[1]) - p[2]
        return out

    fitted = least_squares(off, np.array([peak, 0.0, radius]), loss="soft_l1", f_scale=0.03)
    if np.sqrt(np.mean(off(fitted.x) ** 2)) > UNROUND_MM:
        return None
    return float(2 * fitted.x[2])


def ruler_by_disc(seen: Floats, known: Disc, found: Found) -> tuple[float, float]:
    """What the printed 100 mm measure, and how far that may be off (one standard deviation), mm, if one of the discs
    seen so wide (mm on the mat) is the known one.

    Raises VisionError if no disc of about that size lies on the mat, or more than one.
    """
    height = float(found.camera.place[2])
    rulers = RULER_MM * (known.diameter_mm / seen + known.thick_mm / height)
    fits = [float(r) for r in rulers if LEAST_MM <= r <= MOST_MM]
    if not fits:
        raise VisionError(f"No disc of about {known.diameter_mm:g} mm lies on the mat; lay it apart from the screws.")
    if len(fits) > 1:
        raise VisionError(f"{len(fits)} discs of about {known.diameter_mm:g} mm lie on the mat; leave one.")
    return fits[0], RULER_MM * RIM_OFF_MM / known.diameter_mm
