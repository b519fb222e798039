"""The device laid out as one lays a teardown on a table: every part at one scale, each module's parts together.

Lengths are in mm on the table. A body takes its size from what was measured, else from its outline on a photo, else
from what is usual for its kind, and is marked as assumed then.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence
from functools import lru_cache
from math import sqrt

from attrs import evolve, frozen

from oddbolt.core.components.kinds import PartKind, kind_of
from oddbolt.core.study import Part, Region, Study
from oddbolt.core.study.board_map import corners_in

#: width of a body over its length where only its length is known, by the sign it is drawn with
SLIM = {
    "strip": 0.12, "rod": 0.25, "lead": 0.08, "label": 0.5, "plug": 0.4, "glass": 0.6, "cell": 0.6, "board": 0.65,
    "frame": 0.6, "lid": 0.75, "keys": 0.5, "module": 0.7, "sheet": 0.6, "motor": 0.6, "block": 0.6,
}  # fmt: skip
#: a part of no known kind, mm
NO_KIND = (20.0, 12.0)
#: room round a body and between groups, in px
GAP_PX, GROUP_PX, HEAD_PX = 8.0, 14.0, 20.0
#: smaller than this nothing is told apart, px per mm
LEAST_SCALE = 0.6
#: the sign of a module that is nothing but its parts: its heading stands for it
HEADING = "heading"


@frozen
class Piece:
    """One part on the table: its body (left, top, width, height in mm), whether its size is ``assumed`` ("kind", or
    "nothing" for no kind either), how it is drawn, and the width that its name has in mm. ``region`` is its outline
    on a photo, "" for none; ``kind`` "" for a part that nobody identified."""

    id: str
    name: str
    x: float
    y: float
    wide: float
    high: float
    assumed: str
    sign: str
    kind: str
    region: str
    room: float


@frozen
class Group:
    """The parts of one module, ``id`` "" for those of the device itself: name, its place on the table in mm, how many
    parts there are and how many of them are not identified."""

    id: str
    name: str
    x: float
    y: float
    wide: float
    high: float
    count: int
    unknown: int


@frozen
class Table:
    """Everything laid out; ``wide`` and ``high`` in mm."""

    pieces: tuple[Piece, ...]
    groups: tuple[Group, ...]
    wide: float
    high: float


def identified(part: Part) -> bool:
    """Whether it is said what a part is: by its kind, or by a name that is a word of the table of kinds."""
    return bool(part.kind) or _told("", part.name) is not None


def kind_of_part(part: Part) -> PartKind | None:
    """The kind that a part's kind is a word for; where that is a word of the user's own, that of its name."""
    return _told(part.kind, part.name)


@lru_cache(maxsize=20_000)
def _told(kind: str, name: str) -> PartKind | None:
    return (kind_of(kind) if kind else None) or kind_of(name)


def laid_out(
    study: Study, px_per_mm: float, wide_px: float, label_px: tuple[float, float], only: Collection[str] | None = None
) -> Table:
    """The parts (all, or ``only`` these) in groups by the module that carries them, in rows of ``wide_px``.
    ``label_px`` is the least width of a name and the height of its line."""
    outlines = {region.part: region for region in reversed(study.regions.values()) if region.part}
    bodies = {
        id: _body(study, part, outlines.get(id)) for id, part in study.parts.items() if only is None or id in only
    }
    groups: dict[str, list[str]] = {}
    carriers = {part.inside for part in study.parts.values() if part.inside}
    for id in bodies:
        part = study.parts[id]
        groups.setdefault(id if id in carriers else part.inside, []).append(id)
    gap, foot = GAP_PX / px_per_mm, label_px[1] / px_per_mm
    least = label_px[0] / px_per_mm
    most = wide_px / px_per_mm
    made = []
    for carrier, ids in sorted(groups.items(), key=lambda row: (row[0] == "", -len(row[1]))):
        ordered = sorted(ids, key=lambda id: (id != carrier, -bodies[id].wide * bodies[id].high))
        heads = [evolve(bodies[id], sign=HEADING) for id in ordered if id == carrier and _is_its_parts(study, id)]
        packed, across, high = _packed([bodies[id] for id in ordered[len(heads) :]], most, gap, foot, least)
        made.append((carrier, ([*heads, *packed], across, high)))
    return _on_table(study, made, most, GROUP_PX / px_per_mm, HEAD_PX / px_per_mm)


def fitting(
    study: Study, wide_px: float, high_px: float, label_px: tuple[float, float], only: Collection[str] | None = None
) -> float:
    """The largest scale, px per mm, at which all of it is seen at once. Where names alone take more room than there is,
    one at which the largest part takes a third of the width: the table is longer than the window then."""

    def fits(scale: float) -> bool:
        table = laid_out(study, scale, wide_px, label_px, only)
        return table.high * scale <= high_px and table.wide * scale <= wide_px * 1.001

    least, most = LEAST_SCALE, 20.0
    if not fits(least):
        bodies = laid_out(study, 1.0, wide_px, label_px, only).pieces
        longest = max((max(b.wide, b.high) for b in bodies if b.sign != HEADING), default=1.0)
        return min(4.0, max(least, 0.33 * wide_px / longest))
    for _ in range(9):
        middle = sqrt(least * most)
        least, most = (middle, most) if fits(middle) else (least, middle)
    return least


def outline_mm(study: Study, region: Region) -> tuple[float, float, float] | None:
    """Length, width and how far they may be off (share) of an outline, by the scale of the map that it lies on; None
    where the map has no scale."""
    photo = study.photos.get(region.photo)
    board = next((m for m in study.board_maps.values() if m.photo == region.photo), None)
    if photo is None or board is None or board.wide_mm is None or not photo.width:
        return None
    corners = [
        (x * board.wide_mm, y * board.wide_mm * photo.height / photo.width) for x, y in corners_in(region.outline)
    ]
    wide, high = narrowest_box(corners)
    return max(wide, high), min(wide, high), board.off


def narrowest_box(corners: Sequence[tuple[float, float]]) -> tuple[float, float]:
    """Width and height of the rectangle of least area round a polygon; one side lies along an edge of its hull
    (Freeman and Shapira 1975)."""
    import numpy as np
    from scipy.spatial import ConvexHull, QhullError

    points = np.array(corners, dtype=np.float64)
    try:
        points = points[ConvexHull(points).vertices]
    except QhullError:
        span = points.max(axis=0) - points.min(axis=0)
        return float(span[0]), float(span[1])
    edges = np.roll(points, -1, axis=0) - points
    best = (float("inf"), 0.0, 0.0)
    for angle in np.arctan2(edges[:, 1], edges[:, 0]):
        turned = points @ np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
        span = turned.max(axis=0) - turned.min(axis=0)
        best = min(best, (float(span[0] * span[1]), float(span[0]), float(span[1])))
    return best[1], best[2]


def _is_its_parts(study: Study, id: str) -> bool:
    """Whether a part is a module without a body of its own."""
    kind = kind_of_part(study.parts[id])
    return kind is not None and kind.family == "module" and kind.id == "module"


# -- bodies --------------------------------------------------------------------------------------------------


def _body(study: Study, part: Part, region: Region | None) -> Piece:
    kind = kind_of_part(part)
    assumed, size = "", None
    if part.long_mm:
        slim = SLIM.get(kind.sign, 1.0) if kind else 0.6
        size = part.long_mm, part.wide_mm or part.long_mm * slim
    elif region is not None and (found := outline_mm(study, region)) is not None:
        size = found[0], found[1]
    if size is None and kind is not None:
        longest = sqrt(kind.size_mm[0] * kind.size_mm[1])
        size, assumed = (longest, longest * SLIM.get(kind.sign, 1.0)), "kind"
    if size is None:
        size, assumed = NO_KIND, "nothing"
    sign = kind.sign if kind else "block"
    return Piece(
        part.id,
        part.name,
        0.0,
        0.0,
        size[0],
        size[1],
        assumed,
        sign,
        part.kind or (kind.id if kind else ""),
        region.id if region else "",
        0.0,
    )


# -- packing -------------------------------------------------------------------------------------------------


def _packed(
    bodies: Sequence[Piece], most: float, gap: float, foot: float, least: float
) -> tuple[list[Piece], float, float]:
    """Bodies in rows, the tallest first in each; how wide and high it all is. Names stand below the bodies."""
    cells = [(max(b.wide, least) + gap, b.high + foot + gap) for b in bodies]
    area = sum(w * h for w, h in cells)
    across = min(most, max(sqrt(area * 1.7), max((w for w, _ in cells), default=0.0)))
    out: list[Piece] = []
    x = y = row = wide = 0.0
    for body, (w, h) in zip(bodies, cells, strict=True):
        if x and x + w > across + 1e-9:
            x, y, row = 0.0, y + row, 0.0
        out.append(evolve(body, x=x + (w - gap - body.wide) / 2, y=y, room=w - gap))
        x, row = x + w, max(row, h)
        wide = max(wide, x)
    # bodies of a row stand on one line
    levels: dict[float, float] = {}
    for one in out:
        levels[one.y] = max(levels.get(one.y, 0.0), one.high)
    out = [evolve(one, y=one.y + levels[one.y] - one.high) for one in out]
    return out, wide, y + row


def _on_table(
    study: Study,
    made: Sequence[tuple[str, tuple[list[Piece], float, float]]],
    most: float,
    gap: float,
    head: float,
) -> Table:
    """Groups as far up as there is room, then as far left: each stands on the ground that those before it left."""
    pieces: list[Piece] = []
    groups: list[Group] = []
    ground: list[tuple[float, float, float]] = [(0.0, most + gap, 0.0)]  # from, to, how far down it is taken
    for carrier, (bodies, broad, high) in made:
        wide = min(max(broad, head * 6), most)
        y, x = min(
            (max(down for a, b, down in ground if b > left and a < left + wide + gap), left)
            for left, _, _ in ground
            if left + wide <= most + 1e-9
        )
        ground = _taken(ground, x, x + wide + gap, y + high + head + gap)
        name = study.name(carrier) if carrier in study.parts else "the device itself"
        own = [b for b in bodies if b.sign != HEADING]
        unknown = sum(not b.kind for b in own)
        groups.append(Group(carrier, name, x, y, wide, high + head, len(own), unknown))
        for body in bodies:
            if body.sign == HEADING:
                pieces.append(evolve(body, x=x, y=y, wide=wide, high=head * 0.75, room=0.0))
            else:
                pieces.append(evolve(body, x=body.x + x, y=body.y + y + head))
    deep = max((g.y + g.high for g in groups), default=0.0)
    return Table(tuple(pieces), tuple(groups), max((g.x + g.wide for g in groups), default=0.0), deep)


def _taken(
    ground: Sequence[tuple[float, float, float]], left: float, right: float, down: float
) -> list[tuple[float, float, float]]:
    """The ground once something stands on it from ``left`` to ``right``, down to ``down``."""
    out = []
    for a, b, deep in ground:
        if a < left:
            out.append((a, min(b, left), deep))
        if b > right:
            out.append((max(a, right), b, deep))
    out.append((left, right, down))
    return sorted(one for one in out if one[1] - one[0] > 1e-9)


def chosen(study: Study, words: str = "", kind: str = "", material: str = "", state: str = "") -> list[str]:
    """The parts that hold these ``words`` in any field, are of a ``kind`` or its family, of a ``material``, and in this
    ``state``: "unknown" (nobody said what it is), "priority", "renew", "not weighed", "not measured"."""
    wanted = words.casefold().split()
    out = []
    for id, part in study.parts.items():
        told = kind_of_part(part)
        if kind and kind.casefold() not in {
            part.kind.casefold(),
            told.id.casefold() if told else "",
            told.family if told else "",
        }:
            continue
        if material and material.casefold() not in part.material.casefold():
            continue
        if state and not STATES[state](part):
            continue
        if wanted and not all(word in _haystack(study, part) for word in wanted):
            continue
        out.append(id)
    return out


STATES: Mapping[str, Callable[[Part], bool]] = {
    "unknown": lambda part: not identified(part),
    "priority": lambda part: part.priority,
    "renew": lambda part: part.reuse == "renew",
    "not weighed": lambda part: part.mass_g is None,
    "not measured": lambda part: part.long_mm is None,
}


def _haystack(study: Study, part: Part) -> str:
    inside = study.name(part.inside) if part.inside else ""
    fields = (
        part.name, inside, part.kind, part.function, *part.markings, part.number, part.maker, part.package, part.value,
        part.rating, part.date_code, part.material, part.colour, part.condition, part.note, part.role, part.variant,
    )  # fmt: skip
    return " ".join(fields).casefold()
