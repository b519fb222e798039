"""The device as ground: the surface at the top, each part at its depth, the shaft to the chosen one lit from above."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from attrs import define, frozen
from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QFontMetrics,
    QHelpEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
)
from PySide6.QtWidgets import QToolTip, QWidget

from oddbolt.core.reach import Reach, Route
from oddbolt.core.study import Study
from oddbolt.core.study.words import duration_span, span
from oddbolt.desk import theme

LEFT, TOP, FOOT = 46, 26, 22
BOX_HIGH, ROW_LEAST = 26, 21.5
#: Room for the count of parts that do not fit, and how narrow a long name may become before parts are left out.
MORE, NARROW = 26, 78
#: Columns share the width by what they want to this power: wide ones give way to narrow ones.
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
    """The laid-out ground: column titles, bands, and what each row is called."""

    columns: list[str]
    bands: list[Band]
    rows: list[str]


def lay_out(study: Study, reach: Mapping[str, Reach], minutes: bool, most_rows: int = 18) -> Ground:
    """Put every part that comes off by itself into a column by module and a row by depth."""
    own = {p for s in study.steps.values() for p in s.takes_out}
    shown = [p for p in study.parts if p in own and p in reach and reach[p].steps is not None]
    roots = [
        p for p in study.parts if any(part.inside == p for part in study.parts.values()) and not study.parts[p].inside
    ]
    columns = [*roots, ""]
    values = {p: (r.seconds if minutes else r.steps) for p in shown if (r := reach[p])}
    deepest = max((v.most for v in values.values() if v), default=1.0)
    units = (30, 60, 120, 300, 600, 1800, 3600, 10**9) if minutes else (1.0,)
    unit = next(u for u in units if not minutes or deepest / u <= most_rows - 1)
    last = max(1, int(-(-deepest // unit)))
    step = max(1, -(-last // most_rows))
    bands = []
    for p in shown:
        v = values[p]
        assert v is not None
        root = (study.carriers(p) or [p])[-1]
        column = columns.index(root) if root in roots else len(columns) - 1
        along = sum(1 for q in study.parts if q not in own and p in study.carriers(q) and study.carriers(q)[0] == p)
        bands.append(Band(p, column, _row(v.least, unit, step), _row(v.most, unit, step), along))
    used = sorted({b.column for b in bands})
    place = {c: i for i, c in enumerate(used)}
    bands = [Band(b.part, place[b.column], b.row, b.row_most, b.along) for b in bands]
    names = [study.parts[columns[c]].name if columns[c] else "By itself" for c in used]
    label = (lambda n: f"{n * unit / 60:g}") if minutes else str
    return Ground(names, bands, [label(r * step) for r in range(last // step + 1 + (last % step > 0))])


def _row(value: float, unit: float, step: int) -> int:
    return -(-int(-(-value // unit)) // step)


class Strata(QWidget):
    """Shows the ground. Arrow keys travel from part to part; ``picked`` gives a part's id."""

    picked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.study: Study | None = None
        self.reach: Mapping[str, Reach] = {}
        self.ground = Ground([], [], [])
        self.route: Route | None = None
        self.chosen: Sequence[str] = ()
        self.unit = "steps"
        self._boxes: dict[str, QRectF] = {}
        self._more: list[tuple[QRectF, list[str]]] = []
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Strata: every part at its depth")
        self.setMinimumHeight(240)

    def sizeHint(self) -> QSize:
        return QSize(820, 460)

    def show_ground(
        self, study: Study, reach: Mapping[str, Reach], minutes: bool, chosen: Sequence[str], route: Route | None
    ) -> None:
        """Show a study's ground with the route to the chosen parts."""
        self.study, self.reach, self.chosen, self.route = study, reach, chosen, route
        self.unit = "minutes" if minutes else "steps"
        self._place()
        self.setAccessibleDescription(", ".join(study.name(p) for p in chosen))
        self.update()

    def resizeEvent(self, event: QEvent) -> None:
        self._place()

    # -- geometry -----------------------------------------------------------------------------------

    def _row_high(self) -> float:
        return (self.height() - TOP - FOOT) / max(1, len(self.ground.rows))

    def _place(self) -> None:
        """Boxes of all bands. A cell too full shows what fits and a box for the rest."""
        self._boxes, self._more = {}, []
        if self.study is None:
            return
        most_rows = max(6, int((self.height() - TOP - FOOT) // ROW_LEAST) - 1)
        self.ground = lay_out(self.study, self.reach, self.unit == "minutes", most_rows)
        cells: dict[tuple[int, int], list[Band]] = {}
        for band in self.ground.bands:
            cells.setdefault((band.column, band.row), []).append(band)
        if not cells:
            return
        on_route = self._on_route()
        metrics = QFontMetrics(theme.text(9.5, bold=True))
        wanted = {
            b.part: metrics.horizontalAdvance(self.study.parts[b.part].name) + (28.0 if b.part in on_route else 18.0)
            for b in self.ground.bands
        }
        widths = [
            max(sum(wanted[b.part] for b in bands) for (c, _), bands in cells.items() if c == column) + 12
            for column in range(len(self.ground.columns))
        ]
        whole = self.width() - LEFT - 8
        widths = [w**EVEN for w in widths]
        scale = whole / sum(widths)
        lefts = [LEFT + sum(widths[:c]) * scale for c in range(len(widths) + 1)]
        high = min(BOX_HIGH, self._row_high() - 3)
        for (column, row), bands in cells.items():
            bands.sort(key=lambda b: (b.part not in self.chosen, b.part not in on_route, b.row_most - b.row))
            y = TOP + row * self._row_high() + (self._row_high() - high) / 2
            self._fill_cell(bands, lefts[column] + 5, lefts[column + 1] - 5, y, high, wanted)
        self._lefts = lefts

    def _fill_cell(
        self, bands: list[Band], left: float, right: float, y: float, high: float, wanted: Mapping[str, float]
    ) -> None:
        """Boxes side by side as wide as their names, squeezed a little if need be; what does not fit is counted."""
        fit = len(bands)
        while fit > 1 and sum(min(wanted[b.part], NARROW) for b in bands[:fit]) > self._room(bands, fit, left, right):
            fit -= 1
        room = self._room(bands, fit, left, right)
        squeeze = min(1.0, room / sum(wanted[b.part] for b in bands[:fit]))
        x = left
        for band in bands[:fit]:
            wide = wanted[band.part] * squeeze
            self._boxes[band.part] = QRectF(x, y, wide - 4, high)
            x += wide
        if fit < len(bands):
            self._more.append((QRectF(x, y, MORE, high), [b.part for b in bands[fit:]]))

    @staticmethod
    def _room(bands: list[Band], fit: int, left: float, right: float) -> float:
        return right - left - (MORE if fit < len(bands) else 0)

    _lefts: list[float] = []  # noqa: RUF012 - replaced, never changed in place

    # -- painting -----------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.study is None or not self.ground.bands:
            painter.setPen(theme.colour("muted"))
            painter.setFont(theme.text(11))
            painter.drawText(
                self.rect(),
                Qt.AlignmentFlag.AlignCenter,
                "Nothing has come off yet. Log steps on Take apart, and every part finds its depth here.",
            )
            return
        self._draw_ground(painter)
        on_route = self._on_route()
        for band in self.ground.bands:
            if band.part in self._boxes:
                self._draw_doubt(painter, band)
        self._draw_shaft(painter, on_route)
        for band in self.ground.bands:
            if band.part in self._boxes:
                self._draw_box(painter, band, on_route)
        for box, parts in self._more:
            painter.setPen(theme.colour("muted"))
            painter.setFont(theme.mono(8.5))
            painter.drawText(box, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, f" +{len(parts)}")
        self._draw_numbers(painter, on_route)

    def _draw_ground(self, painter: QPainter) -> None:
        high, right = self._row_high(), self.width() - 4
        shades = theme.current.depth
        for r, label in enumerate(self.ground.rows):
            y = TOP + r * high
            shade = QColor(shades[min(len(shades) - 1, r * len(shades) // max(1, len(self.ground.rows)))])
            painter.fillRect(QRectF(LEFT, y, right - LEFT, high + 1), shade)
            painter.setPen(QPen(theme.colour("rule"), 1))
            painter.drawLine(QPointF(LEFT, y), QPointF(right, y))
            painter.setPen(theme.colour("muted"))
            painter.setFont(theme.mono(9))
            painter.drawText(
                QRectF(0, y, LEFT - 12, high), Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, label
            )
        surface = QPainterPath(QPointF(LEFT, TOP))
        x = float(LEFT)
        while x < right:
            surface.quadTo(x + 9, TOP - (5 if int(x / 18) % 3 else 2), min(x + 18, right), TOP)
            x += 18
        painter.setPen(QPen(theme.colour("ink"), 1.8))
        painter.drawPath(surface)
        painter.setFont(theme.text(9))
        painter.setPen(theme.colour("muted"))
        painter.drawText(QRectF(0, 2, LEFT - 6, 16), Qt.AlignmentFlag.AlignRight, self.unit[:5])
        painter.drawText(QRectF(right - 100, 2, 96, 16), Qt.AlignmentFlag.AlignRight, "surface")
        bottom = TOP + len(self.ground.rows) * high
        for c, name in enumerate(self.ground.columns):
            left = self._lefts[c]
            if c:
                painter.setPen(QPen(theme.colour("muted"), 0.8, Qt.PenStyle.DotLine))
                painter.drawLine(QPointF(left, TOP + 3), QPointF(left, bottom))
            painter.setPen(theme.colour("muted"))
            room = self._lefts[c + 1] - left - 8
            shown = painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, int(room))
            painter.drawText(QRectF(left + 5, bottom + 4, room, 16), Qt.AlignmentFlag.AlignLeft, shown)

    def _draw_doubt(self, painter: QPainter, band: Band) -> None:
        """A range is drawn as a range: a dashed shaft from the least depth to the most."""
        if band.row_most <= band.row:
            return
        box = self._boxes[band.part]
        bottom = TOP + (band.row_most + 0.85) * self._row_high()
        wide = min(14.0, box.width() / 4)
        shaft = QRectF(box.right() - wide - 4, box.bottom(), wide, bottom - box.bottom())
        strong = band.part in self.chosen
        painter.setPen(QPen(theme.colour("copper" if strong else "muted"), 1, Qt.PenStyle.DashLine))
        fill = QColor(theme.colour("card"))
        fill.setAlpha(200 if strong else 70)
        painter.setBrush(fill)
        painter.drawRect(shaft)

    def _on_route(self) -> dict[str, int]:
        """part -> its number among what comes off on the route."""
        out: dict[str, int] = {}
        if self.route is not None and self.study is not None:
            for leg in self.route.legs:
                step = self.study.steps[leg.step]
                for part in (*step.takes_out, *step.opens):
                    out.setdefault(part, len(out) + 1)
        return out

    def _draw_shaft(self, painter: QPainter, on_route: dict[str, int]) -> None:
        stops = sorted((n, self._boxes[p]) for p, n in on_route.items() if p in self._boxes)
        if not stops:
            return
        path = QPainterPath(QPointF(stops[0][1].left() + 2, TOP))
        for _, box in stops:
            here, turn = path.currentPosition(), box.top() - 2
            path.lineTo(here.x(), turn)
            path.lineTo(box.left() + 2, turn)
            path.lineTo(box.left() + 2, box.center().y())
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.colour("copper"), 2.2))
        painter.drawPath(path)

    def _draw_box(self, painter: QPainter, band: Band, on_route: dict[str, int]) -> None:
        study = self.study
        assert study is not None
        box, part = self._boxes[band.part], study.parts[band.part]
        chosen, lit = band.part in self.chosen, band.part in on_route
        painter.setBrush(theme.colour("copper") if chosen else theme.colour("card"))
        painter.setPen(QPen(theme.colour("copper") if lit else theme.colour("muted"), 1.8 if lit else 0.9))
        painter.drawRect(box)
        painter.setFont(theme.text(9.5, bold=lit or part.priority))
        painter.setPen(theme.colour("card") if chosen else theme.colour("ink"))
        inner = box.adjusted(14 if lit else 6, 0, -4, 0)
        metrics = painter.fontMetrics()
        name = metrics.elidedText(part.name, Qt.TextElideMode.ElideRight, int(inner.width()))
        painter.drawText(inner, Qt.AlignmentFlag.AlignVCenter, name)
        note = f"+{band.along}" if band.along else "renew" if part.reuse == "renew" else ""
        room = inner.width() - metrics.horizontalAdvance(name)
        painter.setFont(theme.mono(8))
        if note and room > painter.fontMetrics().horizontalAdvance(note) + 10:
            painter.setPen(theme.colour("card") if chosen else theme.colour("muted"))
            painter.drawText(inner, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, note)

    def _draw_numbers(self, painter: QPainter, on_route: dict[str, int]) -> None:
        painter.setFont(theme.mono(8))
        for part, n in on_route.items():
            if part not in self._boxes:
                continue
            centre = QPointF(self._boxes[part].left() + 2, self._boxes[part].center().y())
            painter.setBrush(theme.colour("paper"))
            painter.setPen(QPen(theme.colour("copper"), 1.6))
            painter.drawEllipse(centre, 8.5, 8.5)
            painter.setPen(theme.colour("copper"))
            painter.drawText(QRectF(centre.x() - 10, centre.y() - 8, 20, 16), Qt.AlignmentFlag.AlignCenter, str(n))

    # -- the hand -----------------------------------------------------------------------------------

    def _hit(self, at: QPointF) -> str:
        return next((p for p, box in self._boxes.items() if box.contains(at)), "")

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent) and self.study is not None:
            at = QPointF(event.pos())
            hit = self._hit(at)
            more = next((parts for box, parts in self._more if box.contains(at)), [])
            words = self._about(hit) if hit else "\n".join(self._about(p) for p in more)
            QToolTip.showText(event.globalPos(), words, self)
            return True
        return super().event(event)

    def _about(self, part: str) -> str:
        study, r = self.study, self.reach[part]
        assert study is not None
        if r.steps is None or r.seconds is None:
            return f"{study.name(part)}: {r.why_not}"
        steps, time = span(r.steps.least, r.steps.most, "steps"), duration_span(r.seconds.least, r.seconds.most)
        return f"{study.name(part)}: free after {steps}, {time}"

    def mousePressEvent(self, event: QMouseEvent) -> None:
        hit = self._hit(event.position())
        if hit:
            self.picked.emit(hit)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        moves = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        if event.key() not in moves or not self._boxes:
            super().keyPressEvent(event)
            return
        here = self._boxes.get(self.chosen[-1]) if self.chosen else None
        if here is None:
            self.picked.emit(next(iter(self._boxes)))
            return
        dx, dy = moves[Qt.Key(event.key())]
        best, target = 1e9, ""
        for part, box in self._boxes.items():
            across, down = box.center().x() - here.center().x(), box.center().y() - here.center().y()
            along, aside = (across * dx, abs(down)) if dx else (down * dy, abs(across))
            if along > 4 and along + 3 * aside < best:
                best, target = along + 3 * aside, part
        if target:
            self.picked.emit(target)
