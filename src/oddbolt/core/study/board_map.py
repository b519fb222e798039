"""The part of the record that says where things lie on a photo of a board: its scale, outlines of parts, areas."""

from __future__ import annotations

import re

from attrs import field, frozen

from oddbolt.core.errors import StudyError
from oddbolt.core.study.fields import one_of, within

#: what an outline is of: a part (or a body not named yet), an area of the board, a hole, the edge of the board itself
REGION_KINDS = ("part", "area", "hole", "edge")
BOARD_FACES = ("front", "back")
#: what the scale was taken from: the mat, a ruler laid beside, a part of known size, typed, or nobody knows
SCALES = ("", "mat", "ruler", "part", "typed")
MOST_CORNERS = 400
_CORNER = re.compile(r"(\d(?:\.\d+)?),(\d(?:\.\d+)?)")


def corners_in(text: str) -> tuple[tuple[float, float], ...]:
    """The corners of an outline typed as "0.1,0.2 0.3,0.2 0.3,0.4": fractions of the upright photo's width and height.

    Raises StudyError for what is no outline within the photo.
    """
    out = []
    for word in text.split():
        found = _CORNER.fullmatch(word)
        if not found:
            raise StudyError(f"{word[:20]!r} is no corner of an outline; one looks like 0.25,0.4.")
        x, y = float(found[1]), float(found[2])
        if not (0 <= x <= 1 and 0 <= y <= 1):
            raise StudyError(f"The corner {x:g},{y:g} lies outside the photo; fractions run from 0 to 1.")
        out.append((x, y))
    if not 3 <= len(out) <= MOST_CORNERS:
        raise StudyError(f"An outline has 3 to {MOST_CORNERS} corners, not {len(out)}.")
    area = sum(x * v - u * y for (x, y), (u, v) in zip(out, (*out[1:], out[0]), strict=True)) / 2
    if abs(area) < 1e-7:
        raise StudyError("The corners of the outline lie on one line.")
    return tuple(out)


def corners_typed(corners: object) -> str:
    """Corners as an outline is written down."""
    points = list(corners)  # type: ignore[call-overload]
    return " ".join(f"{min(max(x, 0.0), 1.0):.4f},{min(max(y, 0.0), 1.0):.4f}" for x, y in points)


def _outline(_thing: object, _attribute: object, value: str) -> None:
    corners_in(value)


@frozen
class BoardMap:
    """A photo that is a map of one ``face`` of a board (``part``, or "" for none named). ``wide_mm`` is how much the
    photo's width comes to in the plane of the board, ``off`` how far that may be off as a share; None for no scale."""

    id: str
    photo: str
    part: str = ""
    face: str = field(default="front", validator=one_of(*BOARD_FACES))
    wide_mm: float | None = field(default=None, validator=within(1, 5000, "mm"))
    off: float = field(default=0.02, validator=within(0, 1, ""))
    scale: str = field(default="", validator=one_of(*SCALES))


@frozen
class Region:
    """An outline on a photo. ``kind`` says what it is of; ``part`` is the part that lies there, "" as long as nobody
    named it; ``name`` is that of an area ("power")."""

    id: str
    photo: str
    outline: str = field(validator=_outline)
    kind: str = field(default="part", validator=one_of(*REGION_KINDS))
    part: str = ""
    name: str = ""
