"""Where everything lies in the ground: columns by module, rows by depth, a box or a grain for every part.

Lengths are in pixels of a whole that may be larger than the window that shows it.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Collection, Iterable, Mapping, Sequence

from attrs import define, field, frozen
from PySide6.QtCore import QRectF

from oddbolt.core.reach import Range, Reach
from oddbolt.core.study import Study

#: room at the left for depths, at the top for the surface, at the foot for the names of modules
LEFT, TOP, FOOT = 46, 26, 22
BOX_HIGH, ROW_LEAST = 26, 18.0
#: how narrow a long name may become before its part is a grain; how wide grains are, and how narrow at the least
NARROW, GRAIN, GRAIN_LEAST = 78, 8.0, 2.5
#: room for the count of grains that have none left, and the width of a folded module
MORE, FOLDED = 26, 34.0
#: grains of one depth stand in so many lines at the most
LINES = 3
#: columns share the width by what they want to this power: wide ones give way to narrow ones
EVEN = 0.75
#: the ground is shown so many times as deep as the deepest part surely lies, at the most
BELOW = 1.6


@frozen
class GroundBand:
    """A part's place: its column, its least and most depth as row numbers, how many parts come along with it, and
    whether it may lie deeper than the ground is shown."""

    part: str
    column: int
    row: int
    row_most: int
    along: int
    open: bool = False


@define
class Ground:
    """Columns (the module of each, "" for what lies by itself, and its name), bands, what each row is called, how many
    parts a module is; and once placed, where they are: boxes of parts with their names, grains of those without, and of
    each full cell the rest."""

    modules: list[str]
    columns: list[str]
    bands: list[GroundBand]
    rows: list[str]
    sizes: Mapping[str, int] = field(factory=dict)
    boxes: dict[str, QRectF] = field(factory=dict)
    grains: dict[str, QRectF] = field(factory=dict)
    more: list[tuple[QRectF, list[str]]] = field(factory=list)
    bodies: dict[str, QRectF] = field(factory=dict)
    lefts: list[float] = field(factory=list)
    row_high: float = 1.0

    def where(self, part: str) -> QRectF | None:
        """The box or grain of a part, if it has one."""
        return self.boxes.get(part) or self.grains.get(part)


def lay_out(study: Study, reach: Mapping[str, Reach], minutes: bool, most_rows: int = 18) -> Ground:
    """Put every part that comes off by itself into a column by module and a row by depth."""
    own = {p for s in study.steps.values() for p in s.takes_out}
    shown = [p for p in study.parts if p in own and p in reach and reach[p].steps is not None]
    inside = {id: part.inside for id, part in study.parts.items()}
    roots = _roots(inside)
    holding = set(inside.values())
    values = {p: v for p in shown if (v := reach[p].seconds if minutes else reach[p].steps)}
    deepest = _deepest(values.values())
    units = (30, 60, 120, 300, 600, 1800, 3600, 10**9) if minutes else (1.0,)
    unit = next(u for u in units if not minutes or deepest / u <= most_rows - 1)
    last = max(1, int(-(-deepest // unit)))
    step = max(1, -(-last // most_rows))
    end = last // step + (last % step > 0)
    along: dict[str, int] = {}
    for part, carrier in inside.items():
        if carrier and part not in own:
            along[carrier] = along.get(carrier, 0) + 1
    column_of = {p: roots[p] if roots[p] in holding else "" for p in values}
    used = set(column_of.values())
    modules = [p for p in (*study.parts, "") if p in used]
    number = {p: n for n, p in enumerate(modules)}
    bands = [
        GroundBand(
            p,
            number[column_of[p]],
            min(end, _row(v.least, unit, step)),
            min(end, _row(v.most, unit, step)),
            along.get(p, 0),
            v.most > deepest,
        )
        for p, v in values.items()
    ]
    names = [study.parts[module].name if module else "By itself" for module in modules]
    label = (lambda n: f"{n * unit / 60:g}") if minutes else str
    rows = [label(r * step) for r in range(end + 1)]
    return Ground(modules, names, bands, rows, Counter(roots.values()))


def _roots(inside: Mapping[str, str]) -> dict[str, str]:
    """The outermost module of each part, itself if none carries it."""
    out: dict[str, str] = {}
    for part in inside:
        root = part
        while inside[root] and root not in out:
            root = inside[root]
        out[part] = out.get(root, root)
    return out


def _deepest(values: Iterable[Range]) -> float:
    """How deep the ground is shown: to the most of all, but not far below the deepest that is sure."""
    least, most = 1.0, 1.0
    for v in values:
        least, most = max(least, v.least), max(most, v.most)
    return min(most, BELOW * least)


def _row(value: float, unit: float, step: int) -> int:
    return -(-int(-(-value // unit)) // step)


def place(
    ground: Ground,
    wide: float,
    high: float,
    wanted: Callable[[str], float],
    first: Sequence[Collection[str]] = (),
    folded: Collection[str] = (),
) -> None:
    """Give every band of the ground its box or grain in a whole of ``wide`` by ``high``. ``wanted`` is the width of a
    part's box with its name; parts in the collections of ``first`` get boxes before others and are kept when their
    module is folded."""
    ground.boxes, ground.grains, ground.more, ground.bodies = {}, {}, [], {}
    ground.row_high = (high - TOP - FOOT) / max(1, len(ground.rows))
    cells: dict[tuple[int, int], list[GroundBand]] = {}
    for band in ground.bands:
        cells.setdefault((band.column, band.row), []).append(band)
    if not cells:
        ground.lefts = []
        return
    shut = {c for c, module in enumerate(ground.modules) if module and module in folded}
    wants = {b.part: wanted(b.part) for b in ground.bands}
    ground.lefts = _lefts(ground, cells, wants, shut, wide - LEFT - 8)
    box_high = min(BOX_HIGH, ground.row_high - 3)

    def rank(band: GroundBand) -> tuple[int, int]:
        found = next((n for n, some in enumerate(first) if band.part in some), len(first))
        return found, band.row_most - band.row

    for (column, row), bands in cells.items():
        bands.sort(key=rank)
        y = TOP + row * ground.row_high + (ground.row_high - box_high) / 2
        left, right = ground.lefts[column] + 5, ground.lefts[column + 1] - 5
        if column in shut:
            lit = [b for b in bands if any(b.part in some for some in first)]
            _grains(ground, lit, left + 6, right - 6, y, box_high)
        else:
            _fill(ground, bands, left, right, y, box_high, wants)
    for column in shut:
        rows = [row for c, row in cells if c == column]
        top = TOP + min(rows) * ground.row_high
        low = TOP + (max(rows) + 1) * ground.row_high
        left, right = ground.lefts[column] + 4, ground.lefts[column + 1] - 4
        ground.bodies[ground.modules[column]] = QRectF(left, top + 1, right - left, low - top - 2)


def _lefts(
    ground: Ground,
    cells: Mapping[tuple[int, int], list[GroundBand]],
    wants: Mapping[str, float],
    shut: Collection[int],
    room: float,
) -> list[float]:
    """Where the columns begin, and where the last one ends."""
    widest = [0.0] * len(ground.columns)
    for (c, _), bands in cells.items():
        widest[c] = max(widest[c], sum(wants[b.part] for b in bands))
    shares = [0.0 if c in shut else (w + 12) ** EVEN for c, w in enumerate(widest)]
    scale = (room - FOLDED * len(shut)) / max(1e-9, sum(shares))
    lefts = [float(LEFT)]
    for c, share in enumerate(shares):
        lefts.append(lefts[-1] + (FOLDED if c in shut else share * scale))
    return lefts


def _fill(
    ground: Ground,
    bands: list[GroundBand],
    left: float,
    right: float,
    y: float,
    high: float,
    wants: Mapping[str, float],
) -> None:
    """Boxes side by side as wide as their names, squeezed a little if need be; what does not fit becomes grains."""
    widths = [min(wants[b.part], NARROW) for b in bands]
    fit, taken = len(bands), sum(widths)
    while fit > 1 and taken + GRAIN * (len(bands) - fit) > right - left:
        fit -= 1
        taken -= widths[fit]
    if fit == 1 and len(bands) > 1 and taken + GRAIN_LEAST * (len(bands) - 1) > right - left:
        fit, taken = 0, 0.0
    rest = len(bands) - fit
    room = right - left - min(GRAIN * rest, max(0.0, right - left - taken))
    squeeze = min(1.0, room / max(1e-9, sum(wants[b.part] for b in bands[:fit])))
    x = left
    for band in bands[:fit]:
        width = wants[band.part] * squeeze
        ground.boxes[band.part] = QRectF(x, y, width - 4, high)
        x += width
    _grains(ground, bands[fit:], x, right, y, high)


def _grains(ground: Ground, bands: list[GroundBand], left: float, right: float, y: float, high: float) -> None:
    """Grains side by side, in several lines where they are many; where even these have no room, the rest is counted."""
    if not bands:
        return
    room = max(right - left, GRAIN_LEAST)
    lines = min(LINES, int(-(-len(bands) * GRAIN_LEAST // room)) or 1)
    abreast = -(-len(bands) // lines)
    each = min(GRAIN, room / abreast)
    shown = bands
    if each < GRAIN_LEAST:
        each = GRAIN_LEAST
        abreast = max(1, int((room - MORE) / each))
        shown = bands[: abreast * lines]
    tall = high * (0.76 if lines == 1 else 1.0) / lines
    top = y + (high - tall * lines) / 2
    for k, band in enumerate(shown):
        box = QRectF(left + k % abreast * each, top + k // abreast * tall, max(1.5, each - 2), tall - (lines > 1))
        ground.grains[band.part] = box
    if len(shown) < len(bands):
        ground.more.append((QRectF(right - MORE, y, MORE, high), [b.part for b in bands[len(shown) :]]))
