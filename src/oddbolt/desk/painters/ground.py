"""Where everything lies in the ground: columns by module, rows by depth, a box or a grain for every part.

Lengths are in pixels of a whole that may be larger than the window that shows it.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence

from attrs import define, field, frozen
from PySide6.QtCore import QRectF

from oddbolt.core.reach import Reach
from oddbolt.core.study import Study

#: room at the left for depths, at the top for the surface, at the foot for the names of modules
LEFT, TOP, FOOT = 46, 26, 22
BOX_HIGH, ROW_LEAST = 26, 21.5
#: how narrow a long name may become before its part is a grain; how wide grains are, and how narrow at the least
NARROW, GRAIN, GRAIN_LEAST = 78, 8.0, 2.5
#: room for the count of grains that have none left, and the width of a folded module
MORE, FOLDED = 26, 34.0
#: columns share the width by what they want to this power: wide ones give way to narrow ones
EVEN = 0.75


@frozen
class Band:
    """A part's place: its column, its least and most depth as row numbers, and how many parts come along with it."""

    part: str
    column: int
    row: int
    row_most: int
    along: int


@define
class Ground:
    """Columns (the module of each, "" for what lies by itself, and its name), bands, what each row is called; and once
    placed, where they are: boxes of parts with their names, grains of those without, and of each full cell the rest."""

    modules: list[str]
    columns: list[str]
    bands: list[Band]
    rows: list[str]
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
    carriers = {p: study.carriers(p) for p in study.parts}
    holding = {part.inside for part in study.parts.values() if part.inside}
    roots = [p for p in study.parts if p in holding and not study.parts[p].inside]
    columns = [*roots, ""]
    number = {p: n for n, p in enumerate(columns)}
    values = {p: (r.seconds if minutes else r.steps) for p in shown if (r := reach[p])}
    deepest = max((v.most for v in values.values() if v), default=1.0)
    units = (30, 60, 120, 300, 600, 1800, 3600, 10**9) if minutes else (1.0,)
    unit = next(u for u in units if not minutes or deepest / u <= most_rows - 1)
    last = max(1, int(-(-deepest // unit)))
    step = max(1, -(-last // most_rows))
    along: dict[str, int] = {}
    for part, chain in carriers.items():
        if chain and part not in own:
            along[chain[0]] = along.get(chain[0], 0) + 1
    bands = []
    for p in shown:
        v = values[p]
        assert v is not None
        column = number.get((carriers[p] or [p])[-1], len(columns) - 1)
        bands.append(Band(p, column, _row(v.least, unit, step), _row(v.most, unit, step), along.get(p, 0)))
    used = sorted({b.column for b in bands})
    place = {c: i for i, c in enumerate(used)}
    bands = [Band(b.part, place[b.column], b.row, b.row_most, b.along) for b in bands]
    names = [study.parts[columns[c]].name if columns[c] else "By itself" for c in used]
    label = (lambda n: f"{n * unit / 60:g}") if minutes else str
    rows = [label(r * step) for r in range(last // step + 1 + (last % step > 0))]
    return Ground([columns[c] for c in used], names, bands, rows)


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
    cells: dict[tuple[int, int], list[Band]] = {}
    for band in ground.bands:
        cells.setdefault((band.column, band.row), []).append(band)
    if not cells:
        ground.lefts = []
        return
    shut = {c for c, module in enumerate(ground.modules) if module and module in folded}
    wants = {b.part: wanted(b.part) for b in ground.bands}
    ground.lefts = _lefts(ground, cells, wants, shut, wide - LEFT - 8)
    box_high = min(BOX_HIGH, ground.row_high - 3)

    def rank(band: Band) -> tuple[int, int]:
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
    cells: Mapping[tuple[int, int], list[Band]],
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
    ground: Ground, bands: list[Band], left: float, right: float, y: float, high: float, wants: Mapping[str, float]
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


def _grains(ground: Ground, bands: list[Band], left: float, right: float, y: float, high: float) -> None:
    """Grains side by side; where even these have no room, the rest is counted."""
    if not bands:
        return
    each = min(GRAIN, (right - left) / len(bands))
    shown = bands
    if each < GRAIN_LEAST:
        each = GRAIN_LEAST
        shown = bands[: max(0, int((right - left - MORE) / each))]
    for k, band in enumerate(shown):
        ground.grains[band.part] = QRectF(left + k * each, y + high * 0.12, max(1.5, each - 2), high * 0.76)
    if len(shown) < len(bands):
        at = QRectF(left + len(shown) * each, y, MORE, high)
        ground.more.append((at, [b.part for b in bands[len(shown) :]]))
