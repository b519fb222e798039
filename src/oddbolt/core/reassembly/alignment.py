"""Lids, hinges and screens in their opening: from gaps and steps measured along the rim to how the part lies, which
fastener to loosen, which way to push and how far, and when it is as good as the parts allow.

The part is rigid. A gap at a point of the rim is half the clearance of its side, less how far the part came towards it
there: shift and rotation follow by weighted least squares (Gauss 1809), small angles; a step (flush) measured up from
the frame gives height and two tilts likewise. x to the right, y down, seen on the part; mm and degrees.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence

import numpy as np
from attrs import evolve, frozen
from numpy.typing import NDArray

from oddbolt.core.errors import BenchError
from oddbolt.core.opening.outline import outline_of

Floats = NDArray[np.float64]
#: how far a gap read by feeler gauge or caliper is off, and a step, one standard deviation, mm (common practice)
GAP_OFF, STEP_OFF = 0.03, 0.03
SIDES: Mapping[str, tuple[float, float]] = {"left": (-1, 0), "right": (1, 0), "top": (0, -1), "bottom": (0, 1)}
#: what is moved less than this is not moved, mm
STILL = 0.02
READING = re.compile(
    r"(?P<step>step |flush )?(?P<side>left|right|top|bottom)(?:\s*@\s*(?P<at>[\d.]+))?\s*[:= ]\s*(?P<value>[+-]?[\d.]+)"
)


@frozen
class Reading:
    """A gap or a step in mm at a side, so far (mm) along it from its left or upper end; None for its middle."""

    side: str
    value: float
    at_mm: float | None = None
    step: bool = False


@frozen
class Push:
    """What a fastener is to be moved by: its name, how far to the right and down, mm."""

    name: str
    right_mm: float
    down_mm: float

    @property
    def far(self) -> float:
        """How far, mm."""
        return float(np.hypot(self.right_mm, self.down_mm))


@frozen
class Alignment:
    """How the part lies against where it should: shift right and down (mm), rotation clockwise (degrees), each with one
    standard deviation; ``gap_x``, ``gap_y`` are the clearances that remain on each side once it is centred. ``tilt``:
    height in the middle, how much higher the right edge is than the left, and the lower than the upper one, mm; None
    without steps. ``spread_mm`` is how unequal the gaps are, ``least_mm`` how unequal they stay after the best push;
    ``good`` whether nothing worth moving is left."""

    right_mm: float
    down_mm: float
    turn_deg: float
    off: tuple[float, float, float]
    gap_x: float
    gap_y: float
    tilt: tuple[float, float, float] | None
    spread_mm: float
    least_mm: float
    pushes: tuple[Push, ...]
    good: bool
    sentences: tuple[str, ...]


def readings(text: str) -> list[Reading]:
    """Gaps and steps as typed: "left 0.3, right 0.1, top@10 0.2, top@70 0.25, step left 0.1". Raises BenchError."""
    out = []
    for piece in filter(None, (p.strip() for p in re.split(r"[,;]", text.lower()))):
        match = READING.fullmatch(piece)
        if match is None:
            raise BenchError(f"“{piece}” is no gap; type a side and its gap in mm, like left 0.3 or top@10 0.25.")
        at = float(match["at"]) if match["at"] else None
        try:
            value = float(match["value"])
        except ValueError:
            raise BenchError(f"“{match['value']}” is no figure.") from None
        if not match["step"] and value < 0:
            raise BenchError("A gap is 0 mm or more.")
        if abs(value) > 20:
            raise BenchError(f"{value:g} mm is no gap of a lid; type mm.")
        out.append(Reading(match["side"], value, at, bool(match["step"])))
    return out


def aligned(
    size: tuple[float, float], seen: Sequence[Reading], fasteners: Mapping[str, tuple[float, float]]
) -> Alignment:
    """How a part of this width and height (mm) lies, and what to do. ``fasteners`` are named places on it (mm from its
    upper left corner).

    Raises BenchError with fewer than four gaps, or where they cannot tell shift and rotation apart.
    """
    wide, high = size
    gaps = [r for r in seen if not r.step]
    if len(gaps) < 4 or len({r.side for r in gaps}) < 4:
        raise BenchError("Give the gaps of all four sides, and two on one side to tell a rotation.")
    places = np.array([_place(r, wide, high) for r in gaps])
    normal = np.array([SIDES[r.side] for r in gaps], dtype=float)
    # gap = clearance of its axis - normal . (shift + turn x place)
    turned = np.column_stack([-places[:, 1], places[:, 0]])
    rows = np.column_stack([-normal, -(normal * turned).sum(axis=1), np.abs(normal[:, 0]), np.abs(normal[:, 1])])
    value = np.array([r.value for r in gaps])
    if np.linalg.matrix_rank(rows, tol=1e-6) < 5:
        if any(r.at_mm is not None for r in gaps):
            raise BenchError("These gaps cannot tell a rotation: measure one side at both of its ends.")
        rows = np.delete(rows, 2, axis=1)
    fitted, *_ = np.linalg.lstsq(rows, value, rcond=None)
    cover = GAP_OFF**2 * np.linalg.inv(rows.T @ rows)
    if rows.shape[1] == 4:  # no rotation can be told
        fitted = np.insert(fitted, 2, 0.0)
        cover = np.insert(np.insert(cover, 2, 0.0, axis=0), 2, 0.0, axis=1)
    left = value - (np.delete(fitted, 2) if rows.shape[1] == 4 else fitted) @ rows.T
    right, down, turn, gap_x, gap_y = (float(v) for v in fitted)
    sigma = tuple(float(np.sqrt(cover[n, n])) for n in range(3))
    middle = np.array([wide, high]) / 2
    pushes = []
    for name, at in fasteners.items():
        x, y = np.array(at) - middle
        pushes.append(Push(name, float(turn * y - right), float(-down - turn * x)))
    pushes.sort(key=lambda p: -p.far)
    tilt = _tilt([r for r in seen if r.step], wide, high)
    ideal = np.where(np.abs(normal[:, 0]) > 0, gap_x, gap_y)
    spread = float(np.abs(value - ideal).max())
    least = float(np.abs(left).max())
    worth = [abs(right) > max(STILL, 2 * sigma[0]), abs(down) > max(STILL, 2 * sigma[1])]
    worth.append(abs(turn) * max(wide, high) / 2 > max(STILL, 2 * sigma[2] * max(wide, high) / 2))
    good = not any(worth)
    found = Alignment(
        right,
        down,
        float(np.degrees(turn)),
        (sigma[0], sigma[1], float(np.degrees(sigma[2]))),
        gap_x,
        gap_y,
        tilt,
        spread,
        least,
        tuple(pushes),
        good,
        (),
    )
    return _told(found, min(gap_x, gap_y))


def sized(outline: str) -> tuple[float, float]:
    """Width and height of an outline as typed, mm. Raises BenchError."""
    left, top, right, bottom = outline_of(outline).shape.bounds
    return right - left, bottom - top


def _place(reading: Reading, wide: float, high: float) -> tuple[float, float]:
    """Where a reading was taken, from the middle of the part. Raises BenchError."""
    x, y = SIDES[reading.side]
    length = high if x else wide
    at = length / 2 if reading.at_mm is None else reading.at_mm
    if not 0 <= at <= length:
        raise BenchError(f"{reading.side}@{at:g} lies beyond this side of {length:g} mm.")
    return (x * wide / 2, at - high / 2) if x else (at - wide / 2, y * high / 2)


def _tilt(steps: Sequence[Reading], wide: float, high: float) -> tuple[float, float, float] | None:
    """Height in the middle, right over left edge, lower over upper edge, mm, from at least three steps."""
    if not steps:
        return None
    places = np.array([_place(r, wide, high) for r in steps])
    rows = np.column_stack([np.ones(len(steps)), places[:, 0] / wide, places[:, 1] / high])
    if np.linalg.matrix_rank(rows, tol=1e-6) < 3:
        raise BenchError("Give steps at three places that do not lie on one line, to tell a tilt.")
    fitted, *_ = np.linalg.lstsq(rows, np.array([r.value for r in steps]), rcond=None)
    return float(fitted[0]), float(fitted[1]), float(fitted[2])


def _told(found: Alignment, least_gap: float) -> Alignment:
    said = []
    if least_gap < 0:
        said.append("The part is larger than its opening here: something lies in the gap, or a reading is wrong.")
    if found.good:
        said.append(f"As good as can be told: gaps differ by {found.spread_mm:.2f} mm, readings by {2 * GAP_OFF:.2f}.")
    else:
        way = (
            [f"{abs(found.right_mm):.2f} mm to the {'left' if found.right_mm > 0 else 'right'}"]
            if abs(found.right_mm) > STILL
            else []
        )
        way += (
            [f"{abs(found.down_mm):.2f} mm {'up' if found.down_mm > 0 else 'down'}"]
            if abs(found.down_mm) > STILL
            else []
        )
        turn = abs(found.turn_deg)
        way += [f"{turn:.2f}° {'anticlockwise' if found.turn_deg > 0 else 'clockwise'}"] if turn > 0.01 else []
        said.append(
            f"Move it {', '.join(way)}; gaps then: {found.gap_x:.2f} left and right, {found.gap_y:.2f} above and below."
        )
        if found.least_mm > 2 * GAP_OFF:
            said.append(f"Gaps will still differ by {found.least_mm:.2f} mm: the parts are not true.")
    moving = [p for p in found.pushes if p.far > STILL]
    if moving and not found.good:
        first = moving[0]
        still = found.pushes[-1]
        said.append(
            f"Loosen {first.name} a quarter turn and push there {_way(first)}; {still.name} moves least, so last."
        )
    if found.tilt is not None:
        _, right, down = found.tilt
        for value, high, low in ((right, "right", "left"), (down, "lower", "upper")):
            if abs(value) > 2 * STEP_OFF:
                up, under = (high, low) if value > 0 else (low, high)
                said.append(
                    f"The {up} edge stands {abs(value):.2f} mm higher than the {under}: look what lies under it."
                )
    return evolve(found, sentences=tuple(said))


def _way(push: Push) -> str:
    across = f"{abs(push.right_mm):.2f} mm {'right' if push.right_mm > 0 else 'left'}"
    along = f"{abs(push.down_mm):.2f} mm {'down' if push.down_mm > 0 else 'up'}"
    return " and ".join(w for w, v in ((across, push.right_mm), (along, push.down_mm)) if abs(v) > STILL) or "a little"
