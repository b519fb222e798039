"""The edge plan drawn to scale: what holds the edge, how far a pick comes, what must not be met, the way round."""

from __future__ import annotations

from itertools import pairwise
from math import atan2, cos, hypot, pi, sin
from typing import Any

from attrs import evolve
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen, QPolygonF, QRegion
from shapely.ops import substring

from oddbolt.core.opening.edge import CLEAR, SHALLOW, Along, Round, work_out
from oddbolt.core.study import Keepout, Stretch, Study
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.spoken import ARROWS, Painted

ROUND_X, ROUND_Y, GRAB, LEGEND, NARROW, MOST_LINES = 78, 40, 6, 40, 48, 1000


class EdgeDrawing(Painted):
    """Shows a plan. ``picked`` gives the id of a stretch or keep-out, ``moved`` a keep-out's new middle in mm,
    ``entered`` a stretch's new angle in degrees and depth in mm."""

    picked = Signal(str)
    moved = Signal(str, float, float)
    entered = Signal(str, float, float)

    def __init__(self) -> None:
        super().__init__()
        self.study: Study | None = None
        self.round: Round | None = None
        self.trouble, self.chosen = "", ""
        self._held: tuple[str, float, float] | None = None
        self._dragged = False
        self._framed: tuple[object, tuple[int, int], tuple[float, float, float]] = (None, (0, 0), (1.0, 0.0, 0.0))
        self._lines: dict[tuple[int, float, float], tuple[Any, QPolygonF]] = {}
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(270, 220)
        self.setAccessibleName("Edge plan")

    def sizeHint(self) -> QSize:
        return QSize(520, 380)

    def show_plan(self, study: Study, found: Round | None, trouble: str, chosen: str) -> None:
        """Show a plan worked out, or say what is missing. While a keep-out is dragged the hand goes before."""
        self.chosen = chosen
        if self._held is not None:
            return
        self.study, self.round, self.trouble = study, found, trouble
        ids = [*(id for id, _ in found.order), *(k.id for k in self._keepouts())] if found else []
        self.say_items(ids, chosen, self._said)
        if chosen not in ids:
            self.setAccessibleDescription(" ".join(found.sentences) if found else trouble)
        self.update()

    def _said(self, id: str) -> tuple[str, str]:
        assert self.study is not None
        assert self.round is not None
        thing = self.study.find(id)
        if isinstance(thing, Keepout):
            return self.study.name(
                id
            ), f"{thing.kind}, {thing.wide_mm:g} by {thing.high_mm:g} mm, at {thing.x_mm:g}, {thing.y_mm:g} mm"
        along = self.round.along[id]
        told = (
            f"{along.length_mm:.0f} mm",
            along.stretch.hold,
            f"{along.stretch.angle_deg:g} degrees",
            f"{along.stretch.depth_mm:g} mm deep",
            along.finding,
        )
        return self.study.name(id), ", ".join(filter(None, told))

    # -- geometry -----------------------------------------------------------------------------------------

    @property
    def scale(self) -> float:
        """Pixels per mm."""
        return self._frame()[0]

    def _frame(self) -> tuple[float, float, float]:
        """Scale, and where the plan's origin lies; worked out once for an outline and a size."""
        if self.round is None:
            return 1.0, 0.0, 0.0
        outline, size = self.round.outline, (self.width(), self.height())
        if outline is not self._framed[0] or size != self._framed[1]:
            (wide, high), (u, v) = outline.size_mm, outline.middle
            scale = min((size[0] - 2 * ROUND_X) / wide, (size[1] - 2 * ROUND_Y - LEGEND) / high, 16.0)
            frame = (scale, size[0] / 2 - u * scale, (size[1] - LEGEND) / 2 - v * scale)
            self._framed = (outline, size, frame)
            self._lines.clear()
        return self._framed[2]

    def place(self, x: float, y: float) -> QPointF:
        """Where a point of the plan, in mm, lies on the widget."""
        scale, left, top = self._frame()
        return QPointF(left + x * scale, top + y * scale)

    def _keepouts(self) -> list[Keepout]:
        if self.study is None or self.round is None:
            return []
        own = [k for k in self.study.keepouts.values() if k.plan == self.round.plan.id]
        return sorted(own, key=lambda k: -k.wide_mm * k.high_mm)

    def box(self, keepout: Keepout) -> QRectF:
        """Where a keep-out lies on the widget."""
        middle, s = self.place(keepout.x_mm, keepout.y_mm), self.scale
        return QRectF(
            middle.x() - keepout.wide_mm * s / 2,
            middle.y() - keepout.high_mm * s / 2,
            keepout.wide_mm * s,
            keepout.high_mm * s,
        )

    # -- painting -----------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.round is None:
            painter.setPen(theme.colour("muted"))
            painter.setFont(theme.text(11))
            words = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(QRectF(self.rect()).adjusted(40, 0, -40, 0), words, self.trouble)
            return
        outline = QPolygonF([self.place(x, y) for x, y in self.round.outline.points])
        shape = QPainterPath()
        shape.addPolygon(outline)
        shape.closeSubpath()
        painter.fillPath(shape, theme.colour("mat"))
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        painter.setClipRegion(QRegion(outline.toPolygon()))
        for along in self.round.along.values():
            self._band(painter, along)
        painter.restore()
        for n, keepout in enumerate(self._keepouts()):
            self._keepout(painter, keepout, chr(65 + n % 26))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.colour("ink"), 1.4))
        painter.drawPath(shape)
        for along in self.round.along.values():
            self._holding(painter, along)
        for n, (id, way) in enumerate(self.round.order, 1):
            self._label(painter, n, self.round.along[id], way)
        self._scale_bar(painter)
        self._legend(painter)

    def _line(self, along: Along, start: float, end: float) -> QPolygonF:
        """A piece of a stretch on the widget; the same piece is laid out once."""
        self._frame()
        key = (id(along.line), start, end)
        if key not in self._lines:
            if len(self._lines) > MOST_LINES:
                self._lines.clear()
            whole = start <= 0 and end >= along.length_mm
            line = along.line if whole else substring(along.line, start, end)
            # the line is kept beside its drawing, so that its id stays its own
            self._lines[key] = along.line, QPolygonF([self.place(x, y) for x, y in line.coords])
        return self._lines[key][1]

    def _band(self, painter: QPainter, along: Along) -> None:
        """How far the tip comes, inside the edge: sea-green where it may, copper hatching where it stays out."""
        wide = max(2.0, 2 * along.across_mm * self.scale)
        tint = theme.colour("sea" if along.finding in (CLEAR, SHALLOW) or along.go else "muted")
        tint.setAlpha(110)
        for start, end in along.go:
            pen = QPen(tint, wide)
            pen.setCapStyle(Qt.PenCapStyle.FlatCap)
            painter.setPen(pen)
            painter.drawPolyline(self._line(along, start, end))
        for stop in along.stops:
            warn = theme.colour("copper")
            warn.setAlpha(150)
            pen = QPen(warn, max(6.0, wide))
            pen.setCapStyle(Qt.PenCapStyle.FlatCap)
            pen.setDashPattern([2 / pen.widthF(), 3 / pen.widthF()])
            painter.setPen(pen)
            painter.drawPolyline(self._line(along, stop.from_mm, stop.to_mm))
        if along.stretch.hold == "glue" and along.stretch.width_mm:
            glue = theme.colour("ink")
            glue.setAlpha(60)
            pen = QPen(glue, 2 * along.stretch.width_mm * self.scale)
            pen.setCapStyle(Qt.PenCapStyle.FlatCap)
            painter.setPen(pen)
            painter.drawPolyline(self._line(along, 0, along.length_mm))

    def _keepout(self, painter: QPainter, keepout: Keepout, letter: str) -> None:
        """A thing not to be met, with its letter; dashed and pale if it lies deep."""
        assert self.study is not None
        box, chosen, deep = self.box(keepout), keepout.id == self.chosen, keepout.below_mm > 0
        fill = theme.colour("warn")
        fill.setAlpha(90 if deep else 255)
        painter.setBrush(fill)
        style = Qt.PenStyle.DashLine if deep and not chosen else Qt.PenStyle.SolidLine
        painter.setPen(QPen(theme.colour("copper"), 2.4 if chosen else 1.1, style))
        painter.drawRect(box)
        square = QRectF(0, 0, 15, 15)
        square.moveCenter(box.center())
        painter.fillRect(square, theme.colour("copper" if chosen else "ink"))
        painter.setPen(theme.colour("card"))
        painter.setFont(theme.figures(8.5, bold=True))
        painter.drawText(square, Qt.AlignmentFlag.AlignCenter, letter)

    def _legend(self, painter: QPainter) -> None:
        """The names of the keep-outs by their letters, below the drawing."""
        assert self.study is not None
        left = 150.0 if self.width() > 400 else 8.0
        x, y = left, self.height() - LEGEND + (6.0 if left > 8 else -14.0)
        painter.setFont(theme.text(8.5))
        for n, keepout in enumerate(self._keepouts()):
            name = self.study.name(keepout.id)
            words = f"{name}, {keepout.below_mm:g} mm below" if keepout.below_mm else name
            wide = painter.fontMetrics().horizontalAdvance(words) + 30
            if x + wide > self.width() and x > left:
                x, y = left, y + 17
            painter.setPen(theme.colour("copper" if keepout.id == self.chosen else "ink"))
            painter.setFont(theme.figures(8.5, bold=True))
            painter.drawText(QPointF(x, y + 10), chr(65 + n % 26))
            painter.setFont(theme.text(8.5))
            painter.drawText(QPointF(x + 13, y + 10), words)
            x += wide

    def _holding(self, painter: QPainter, along: Along) -> None:
        """Clips, magnets and screws as marks on the edge; the chosen stretch as a copper line."""
        assert self.round is not None
        stretch = along.stretch
        if stretch.id == self.chosen:
            painter.setPen(QPen(theme.colour("copper"), 4))
            painter.drawPolyline(self._line(along, 0, along.length_mm))
        painter.setPen(QPen(theme.colour("ink"), 1.4))
        for place in along.clips_mm:
            x, y = self.round.outline.at(stretch.from_mm + place)
            dx, dy = self.round.outline.inward(stretch.from_mm + place)
            at = self.place(x, y)
            painter.save()
            painter.translate(at)
            painter.rotate(atan2(dy, dx) * 180 / pi)
            painter.setBrush(theme.colour("card"))
            if stretch.hold == "clips":
                painter.drawPolygon(
                    QPolygonF([QPointF(-4, -5), QPointF(8, -5), QPointF(4, 0), QPointF(8, 5), QPointF(-4, 5)])
                )
            elif stretch.hold == "magnets":
                painter.drawRect(QRectF(1, -4, 9, 8))
                painter.drawLine(QPointF(5.5, -4), QPointF(5.5, 4))
            else:
                painter.drawEllipse(QPointF(6, 0), 5, 5)
                painter.drawLine(QPointF(3, -3), QPointF(9, 3))
                painter.drawLine(QPointF(9, -3), QPointF(3, 3))
            painter.restore()

    def _label(self, painter: QPainter, n: int, along: Along, way: int) -> None:
        """Outside the edge: the number in the way round, an arrow, angle and depth."""
        assert self.round is not None
        stretch, (x, y), (dx, dy) = along.stretch, along.middle, along.inward
        at = self.place(x, y) - QPointF(dx, dy) * 12
        last = n == len(self.round.order) and along.hinge
        tint = theme.colour("copper" if n == 1 or stretch.id == self.chosen else "ink")
        painter.setPen(QPen(tint, 1.6))
        if not last:
            tx, ty = (dy, -dx) if way > 0 else (-dy, dx)
            half = min(26.0, along.length_mm * self.scale / 4)
            tail, tip = at - QPointF(tx, ty) * half, at + QPointF(tx, ty) * half
            painter.drawLine(tail, tip)
            angle = atan2(ty, tx)
            for side in (0.8, -0.8):
                painter.drawLine(tip, tip - QPointF(cos(angle + side * 0.6), sin(angle + side * 0.6)) * 7)
        self._words(painter, n, along, at - QPointF(dx, dy) * (8 if abs(dy) > abs(dx) else 11), (dx, dy), last)

    def _words(
        self, painter: QPainter, n: int, along: Along, at: QPointF, inward: tuple[float, float], last: bool
    ) -> None:
        stretch = along.stretch
        first = "begin" if n == 1 else "fold" if last else ""
        entry = "" if last or stretch.hold == "screws" else f"{stretch.angle_deg:g}° {stretch.depth_mm:g} mm"
        state = {CLEAR: "", SHALLOW: "shallow"}.get(along.finding, along.finding) if not last else "keep closed"
        flat = abs(inward[1]) > abs(inward[0])
        lines = [" · ".join(w for w in (first, entry, state) if w)] if flat else [w for w in (first, entry, state) if w]
        painter.setFont(theme.figures(10.5, bold=True))
        number = str(n)
        wide = painter.fontMetrics().horizontalAdvance(number)
        tint = theme.colour("copper" if n == 1 or stretch.id == self.chosen else "ink")
        painter.setFont(theme.text(8.5))
        widest = max((painter.fontMetrics().horizontalAdvance(line) for line in lines), default=0)
        bad = along.finding not in (CLEAR, SHALLOW) and not last
        if along.length_mm * self.scale < NARROW and stretch.id != self.chosen:
            lines, widest = [], 0  # no room for words: the number stands alone
        if flat:
            lines = lines or [""]
            left = at.x() - (wide + 8 + widest) / 2
            y = at.y() + (4 if inward[1] < 0 else -4)
            box = QRectF(left + wide + 8, y - 9, widest + 4, 18)
            boxes = [box]
            where = QRectF(left, y - 9, wide + 4, 18)
        else:
            left = at.x() - widest - 2 if inward[0] > 0 else at.x() + 2
            left = min(max(2.0, left), self.width() - widest - 4)
            top = at.y() - 15 * len(lines) / 2
            where = QRectF(left, top - 20, wide + 4, 18)
            boxes = [QRectF(left, top + 15 * k, widest + 4, 15) for k in range(len(lines))]
        painter.setFont(theme.figures(10.5, bold=True))
        painter.setPen(tint)
        painter.drawText(where, Qt.AlignmentFlag.AlignVCenter, number)
        painter.setFont(theme.text(8.5))
        for box, line in zip(boxes, lines, strict=True):
            painter.setPen(theme.colour("copper" if bad or line == first else "muted"))
            painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, line)

    def _scale_bar(self, painter: QPainter) -> None:
        length = next((mm for mm in (50, 20, 10, 5) if mm * self.scale < 120), 2)
        y = self.height() - 10.0 if self.width() > 400 else 12.0  # the legend needs the foot of a narrow drawing
        painter.setPen(QPen(theme.colour("muted"), 1))
        painter.drawLine(QPointF(8, y), QPointF(8 + length * self.scale, y))
        for x in (8.0, 8 + length * self.scale):
            painter.drawLine(QPointF(x, y - 4), QPointF(x, y + 4))
        painter.setFont(theme.figures(8.5))
        painter.drawText(QPointF(14 + length * self.scale, y + 4), f"{length} mm")

    # -- the hand -----------------------------------------------------------------------------------------

    def _at(self, at: QPointF) -> str:
        """The keep-out or the stretch at a place on the widget."""
        for keepout in reversed(self._keepouts()):
            if self.box(keepout).adjusted(-GRAB, -GRAB, GRAB, GRAB).contains(at):
                return keepout.id
        if self.round is None or not self.round.along:
            return ""

        def far(along: Along) -> float:
            line = self._line(along, 0, along.length_mm)
            return min(hypot(at.x() - p.x(), at.y() - p.y()) for p in _dense(line))

        nearest = min(self.round.along.values(), key=far)
        return nearest.stretch.id if far(nearest) < 40 else ""

    def mousePressEvent(self, event: QMouseEvent) -> None:
        id = self._at(event.position())
        if id:
            self.picked.emit(id)
        keepout = next((k for k in self._keepouts() if k.id == id), None)
        if keepout is not None:
            middle = self.place(keepout.x_mm, keepout.y_mm)
            self._dragged = False
            self._held = (id, event.position().x() - middle.x(), event.position().y() - middle.y())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held is None or self.study is None or self.round is None:
            return
        keepout = self._dropped(event.position())
        if keepout is None:
            return
        self._dragged = True
        self.study = evolve(self.study, keepouts={**self.study.keepouts, keepout.id: keepout})
        found = self.round
        stretches = [s for s in self.study.stretches.values() if s.plan == found.plan.id]
        names = {k.id: self.study.name(k.id) for k in self._keepouts()}
        self.round = work_out(found.plan, stretches, self._keepouts(), found.outline, names)
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        held, self._held = self._held, None
        if held is None or self.study is None or not self._dragged:
            return
        keepout = self.study.keepouts.get(held[0])
        if keepout is not None:
            self.moved.emit(keepout.id, round(keepout.x_mm, 1), round(keepout.y_mm, 1))

    def _dropped(self, at: QPointF) -> Keepout | None:
        assert self._held is not None
        assert self.study is not None
        id, dx, dy = self._held
        keepout = self.study.keepouts.get(id)
        if keepout is None:
            return None
        middle = self.place(keepout.x_mm, keepout.y_mm)
        x = keepout.x_mm + (at.x() - dx - middle.x()) / self.scale
        y = keepout.y_mm + (at.y() - dy - middle.y()) / self.scale
        return evolve(keepout, x_mm=x, y_mm=y)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = event.key()
        if self.round is None or self.study is None:
            super().keyPressEvent(event)
            return
        if key in (Qt.Key.Key_PageDown, Qt.Key.Key_PageUp):
            ids = [id for id, _ in self.round.order] + [k.id for k in self._keepouts()]
            if ids:
                step = 1 if key == Qt.Key.Key_PageDown else -1
                at = ids.index(self.chosen) + step if self.chosen in ids else 0
                self.picked.emit(ids[at % len(ids)])
            return
        way = ARROWS.get(Qt.Key(key))
        thing = self.study.find(self.chosen) if self.chosen else None
        shift = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if way and isinstance(thing, Keepout):
            far = 5.0 if shift else 0.5
            self.moved.emit(thing.id, thing.x_mm + way[0] * far, thing.y_mm + way[1] * far)
        elif way and isinstance(thing, Stretch):
            angle = min(90.0, max(0.0, thing.angle_deg + 5 * way[0]))
            depth = max(0.0, thing.depth_mm - (1.0 if shift else 0.5) * way[1])
            self.entered.emit(thing.id, angle, depth)
        else:
            super().keyPressEvent(event)


def _dense(line: QPolygonF) -> list[QPointF]:
    """Points along a line close enough to measure a click by."""
    points = [line.at(n) for n in range(line.size())]
    out = points[:1]
    for a, b in pairwise(points):
        steps = max(1, int(hypot(b.x() - a.x(), b.y() - a.y()) / 12))
        out += [a + (b - a) * (k / steps) for k in range(1, steps + 1)]
    return out
