"""The gauge mat: a printed sheet with markers round a matte tinted field, and a ruler to check the print.

Millimetres from the upper left corner of the sheet, x to the right, y down. The markers are of OpenCV's dictionary of
5 × 5 bits; each sheet size has ids of its own, so that a photo tells which one lies there.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import Any

import cv2
import numpy as np
from attrs import frozen
from numpy.typing import NDArray

from oddbolt.core.errors import VisionError

Floats = NDArray[np.float64]
Picture = NDArray[np.uint8]
#: OpenCV, whose types say less than they should
cv: Any = cv2
#: the tint in sRGB: coloured enough to tell grey metal, brass and black from it, whatever the light
TINT = (72, 150, 168)
BITS, MARGIN_MM, GAP_MM, RULER_MM = 5, 5.0, 3.0, 100.0
#: sheet -> width, height, side of a marker (mm), first id
SHEETS: Mapping[str, tuple[float, float, float, int]] = {
    "a5": (210.0, 148.0, 12.0, 0),
    "a4": (297.0, 210.0, 14.0, 16),
}
MOST_DPI = 1200


@frozen
class Mat:
    """A sheet: its size, the field (left, top, right, bottom), markers by id (left, top of each) and their side, and
    where the ruler begins; all in mm."""

    name: str
    width_mm: float
    height_mm: float
    field: tuple[float, float, float, float]
    markers: Mapping[int, tuple[float, float]]
    marker_mm: float
    ruler: tuple[float, float]

    def corners(self, id: int) -> Floats:
        """The corners of a marker as a detector gives them: clockwise from its upper left."""
        x, y = self.markers[id]
        side = self.marker_mm
        return np.array([(x, y), (x + side, y), (x + side, y + side), (x, y + side)], dtype=np.float64)


@cache
def mat(name: str = "a5") -> Mat:
    """The mat of a sheet size. Raises VisionError for a size there is none of."""
    if name.lower() not in SHEETS:
        raise VisionError(f"There is no mat for {name}; sizes are {', '.join(SHEETS)}.")
    width, height, side, first = SHEETS[name.lower()]
    rim = MARGIN_MM + side + GAP_MM
    right, bottom = width - MARGIN_MM - side, height - MARGIN_MM - side
    ruler = ((width - RULER_MM) / 2, height - MARGIN_MM - side / 2)
    along, down = (5, 3) if name == "a5" else (6, 4)
    xs = np.linspace(MARGIN_MM, right, along)
    ys = np.linspace(MARGIN_MM, bottom, down)
    places = [(x, MARGIN_MM) for x in xs]
    places += [(right, y) for y in ys[1:]]
    free = [x for x in xs[-2:0:-1] if x + side + GAP_MM < ruler[0] or x - GAP_MM > ruler[0] + RULER_MM]
    beside = [ruler[0] + RULER_MM + GAP_MM * 3, ruler[0] - GAP_MM * 3 - side]
    places += [(x, bottom) for x in (free or [x for x in beside if MARGIN_MM + side + 1 < x < right - side - 1])]
    places += [(MARGIN_MM, y) for y in ys[:0:-1]]
    markers = {first + n: (float(x), float(y)) for n, (x, y) in enumerate(places)}
    return Mat(name.lower(), width, height, (rim, rim, width - rim, height - rim), markers, side, ruler)


def dictionary() -> Any:
    """The markers' dictionary."""
    return cv.aruco.getPredefinedDictionary(cv.aruco.DICT_5X5_50)


@cache
def bits_of(id: int) -> NDArray[np.bool_]:
    """The cells of a marker with its black rim; true is black."""
    cells = BITS + 2
    return np.asarray(cv.aruco.generateImageMarker(dictionary(), id, cells), dtype=np.uint8) < 128


def drawn(sheet: Mat, dpi: float) -> Picture:
    """The mat as a picture, RGB, at ``dpi`` (30 to 1200)."""
    if not 30 <= dpi <= MOST_DPI:
        raise VisionError(f"A mat is drawn at 30 to {MOST_DPI} dots per inch, not {dpi:g}.")
    scale = dpi / 25.4
    width, height = round(sheet.width_mm * scale), round(sheet.height_mm * scale)
    picture = np.full((height, width, 3), 255, dtype=np.uint8)
    x_mm, y_mm = (np.arange(width) + 0.5) / scale, (np.arange(height) + 0.5) / scale
    left, top, right, bottom = sheet.field
    field = np.ix_((y_mm >= top) & (y_mm < bottom), (x_mm >= left) & (x_mm < right))
    picture[field] = TINT
    cells = BITS + 2
    for id, (x, y) in sheet.markers.items():
        across = np.flatnonzero((x_mm >= x) & (x_mm < x + sheet.marker_mm))
        down = np.flatnonzero((y_mm >= y) & (y_mm < y + sheet.marker_mm))
        column = np.minimum(((x_mm[across] - x) / sheet.marker_mm * cells).astype(int), cells - 1)
        row = np.minimum(((y_mm[down] - y) / sheet.marker_mm * cells).astype(int), cells - 1)
        black = bits_of(id)[np.ix_(row, column)]
        picture[np.ix_(down, across)] = np.where(black, 0, 255)[:, :, None]
    for x, y, wide, high in ruler_bars(sheet):
        picture[np.ix_((y_mm >= y) & (y_mm < y + high), (x_mm >= x) & (x_mm < x + wide))] = 0
    return picture


def ruler_bars(sheet: Mat) -> list[tuple[float, float, float, float]]:
    """The bars of the check ruler (left, top, width, height in mm): ticks each mm from end to end of its 100 mm."""
    x, y = sheet.ruler
    thin = 0.2
    bars = [(x, y, RULER_MM + thin, thin)]
    for n in range(int(RULER_MM) + 1):
        high = 4.0 if n % 10 == 0 else 2.8 if n % 5 == 0 else 1.8
        bars.append((x + n, y - high, thin, high))
    return bars
