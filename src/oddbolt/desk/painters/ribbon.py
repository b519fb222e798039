"""The route as one ribbon whose length is time: out above, back below, and how sure the time is on its axis."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QToolTip

from oddbolt.core.reach import Leg, Route, bench_seconds
from oddbolt.core.reach.describe import step_text
from oddbolt.core.reach.risk import renewals_of
from oddbolt.core.reach.schedule import Soak, slack, soaks, way_back
from oddbolt.core.reach.spread import Spread, spread_of
from oddbolt.core.study import Study
from oddbolt.core.study.formatting import duration
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.labels import tip
from oddbolt.desk.widgets.spoken import Painted

#: where the ribbon out, what fills a wait, the axis and the ribbon back lie
OUT, OUT_HIGH, FILLED, AXIS, BACK, BACK_HIGH = 6, 44, 53, 68, 92, 13
HIGH = 108


class Ribbon(Painted):
    """Segments of hand work, with tool changes, turn-overs and waits between. ``picked`` gives a step's id, ``opened``
    one to go to."""

    picked = Signal(str)
    opened = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.study: Study | None = None
        self.route: Route | None = None
        self.chosen = ""
        self._soaks: tuple[Soak, ...] = ()
        self._back: tuple[Leg, ...] = ()
        self._slack: tuple[float, ...] = ()
        self._spread = Spread(0.0, 0.0, 0.0, ())
        self._boxes: list[tuple[QRectF, str]] = []
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Route ribbon")
        self.setFixedHeight(HIGH)

    def sizeHint(self) -> QSize:
        return QSize(800, HIGH)

    def show_route(self, study: Study, route: Route | None, chosen: str) -> None:
        """Show a route, or nothing."""
        self.chosen = chosen
        if study is not self.study or route is not self.route:
            self.study, self.route = study, route
            legs = route.legs if route is not None else ()
            self._soaks, self._back, self._slack = soaks(study, legs), way_back(study, legs), slack(study, legs)
            self._spread = spread_of(study, legs)
        ids = route.steps if route is not None else ()
        self.say_items(ids, chosen, lambda id: (step_text(study, id), self.about(id).replace("\n", ", ")))
        self.update()

    @property
    def scale(self) -> float:
        """Pixels a second: out, back and nine in ten of all times have room."""
        if self.route is None:
            return 1.0
        back = self._back[-1].start_s + self._back[-1].seconds if self._back else 0.0
        return (self.width() - 2) / max(1.0, self.route.seconds, self._spread.p90_s, back)

    def paintEvent(self, event: QPaintEvent) -> None:
        self._boxes = []
        if self.route is None or self.study is None or not self.route.legs:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        scale = self.scale
        for k, leg in enumerate(self.route.legs):
            left, wide = leg.start_s * scale + 1, max(2.0, leg.seconds * scale)
            box = QRectF(left, OUT, wide, OUT_HIGH)
            self._between(painter, leg, left, scale)
            chosen = leg.step == self.chosen
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.colour("copper") if chosen else theme.bar(k / len(self.route.legs)))
            painter.drawRect(box.adjusted(0, 0, -1, 0))
            painter.setPen(QPen(theme.colour("muted"), 0.8))
            painter.drawLine(box.bottomLeft(), box.bottomRight())
            self._boxes.append((box, leg.step))
            self._words(painter, box, leg.step, leg.tool, chosen)
        for soak in self._soaks:
            self._filled(painter, soak, scale)
        self._axis(painter, scale)
        self._way_back(painter, scale)

    def _between(self, painter: QPainter, leg: Leg, left: float, scale: float) -> None:
        """What lies before a leg: a wait, a change of tool, a turning over."""
        idle = leg.idle_s * scale
        if idle > 2:
            gap = QRectF(left - idle, OUT, idle - 1, OUT_HIGH)
            painter.setPen(QPen(theme.colour("ink"), 1, Qt.PenStyle.DashLine))
            painter.setBrush(theme.colour("card"))
            painter.drawRect(gap)
            painter.setFont(theme.text(8.5))
            if idle > 34:
                words = f"wait\n{duration(leg.idle_s)}"
                painter.drawText(gap, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, words)
        if leg.turn:
            wide = max(3.0, bench_seconds("turn over") * scale)
            painter.fillRect(QRectF(left - wide, 2, wide, OUT_HIGH + 8), theme.colour("ink"))
            painter.setPen(theme.colour("muted"))
            painter.setFont(theme.text(8))
            painter.drawText(QRectF(left - 24, FILLED - 1, 44, 12), Qt.AlignmentFlag.AlignCenter, "turn")
        elif leg.change:
            painter.setPen(QPen(theme.colour("copper"), 1.6))
            painter.drawLine(QPointF(left - 1, 2), QPointF(left - 1, OUT + OUT_HIGH + 4))

    def _filled(self, painter: QPainter, soak: Soak, scale: float) -> None:
        """Under the ribbon how long glue soaks; full where work fills the wait."""
        left, wide = soak.from_s * scale + 1, (soak.until_s - soak.from_s) * scale
        worked = max(0.0, wide - soak.idle_s * scale)
        painter.setPen(QPen(theme.colour("sea"), 1))
        painter.drawLine(QPointF(left, FILLED + 3), QPointF(left + wide, FILLED + 3))
        if soak.filled:
            painter.fillRect(QRectF(left, FILLED, worked, 6), theme.colour("sea"))

    def _words(self, painter: QPainter, box: QRectF, id: str, tool: str, chosen: bool) -> None:
        study = self.study
        assert study is not None
        step = study.steps[id]
        renewed = renewals_of(study, step)
        if renewed:
            notch = [box.topRight() + QPointF(x, y) for x, y in ((-10, 0), (-1, 0), (-1, 9))]
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.colour("card") if chosen else theme.colour("copper"))
            painter.drawPolygon(notch)
        if box.width() < 34:
            return
        name = next((study.name(x) for x in (*step.takes_out, *step.releases)), step.verb)
        inner = box.adjusted(5, 5, -3, -4)
        painter.setPen(theme.colour("card") if chosen else theme.colour("bar_ink"))
        painter.setFont(theme.text(9, bold=chosen))
        for words, where in ((name, Qt.AlignmentFlag.AlignTop), (tool or "hand", Qt.AlignmentFlag.AlignBottom)):
            room = int(inner.width() - (8 if renewed and where == Qt.AlignmentFlag.AlignTop else 0))
            painter.drawText(inner, where, painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, room))
            painter.setFont(theme.figures(8.5))
        if renewed and box.width() > 96:
            painter.drawText(inner, Qt.AlignmentFlag.AlignBottom | Qt.AlignmentFlag.AlignRight, "renew")

    def _axis(self, painter: QPainter, scale: float) -> None:
        painter.setPen(QPen(theme.colour("muted"), 1))
        painter.drawLine(QPointF(1, AXIS), QPointF(self.width() - 1, AXIS))
        unit = next((u for u in (10, 30, 60, 120, 300, 600, 1800, 3600) if u * scale > 74), 7200)
        painter.setFont(theme.figures(8.5))
        end = (self.width() - 2) / scale
        at = 0
        while at <= end:
            x = at * scale + 1
            painter.drawLine(QPointF(x, AXIS), QPointF(x, AXIS + 4))
            where = QRectF(x - 50 if at else 1, AXIS + 5, 100, 14)
            align = Qt.AlignmentFlag.AlignHCenter if at else Qt.AlignmentFlag.AlignLeft
            if x < self.width() - 30:
                painter.drawText(where, align, duration(at) if at else "0")
            at += unit
        half, nine = self._spread.p50_s * scale + 1, self._spread.p90_s * scale + 1
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("copper"))
        painter.drawRect(QRectF(half, AXIS - 2, max(1.0, nine - half), 4))
        painter.drawPolygon([QPointF(half + x, AXIS + y) for x, y in ((-4, -7), (4, -7), (0, 0))])

    def _way_back(self, painter: QPainter, scale: float) -> None:
        """The way back as a narrow ribbon of its own, from the left again."""
        if not self._back:
            return
        for k, leg in enumerate(self._back):
            x = leg.start_s * scale + 1
            box = QRectF(x, BACK, max(1.5, leg.seconds * scale), BACK_HIGH)
            fill = theme.colour("copper") if leg.step == self.chosen else theme.bar(1 - (k + 1) / len(self._back))
            painter.fillRect(box.adjusted(0, 0, -1, 0), fill)
            if leg.turn or leg.change:
                painter.fillRect(
                    QRectF(x - 2, BACK - 2, 2, BACK_HIGH + 4), theme.colour("ink" if leg.turn else "copper")
                )
            self._boxes.append((box, leg.step))
        end = self._back[-1].start_s + self._back[-1].seconds
        words = f"and back: {duration(end)}"
        painter.setFont(theme.text(9))
        wide = painter.fontMetrics().horizontalAdvance(words)
        inside = end * scale + wide + 14 > self.width()
        at = QRectF(end * scale + 8, BACK, wide + 8, BACK_HIGH)
        if inside:
            at = QRectF(max(0.0, end * scale - wide - 10), BACK + 1, wide + 8, BACK_HIGH - 2)
            painter.fillRect(at, theme.colour("paper"))
        painter.setPen(theme.colour("muted"))
        painter.drawText(at, Qt.AlignmentFlag.AlignVCenter, words)

    # -- the hand -----------------------------------------------------------------------------------

    def _hit(self, at: QPointF) -> str:
        return next((id for box, id in self._boxes if box.contains(at)), "")

    def about(self, id: str) -> str:
        """What there is to say of a step of the route: when it comes, what it rests on, what it must wait for."""
        study, route = self.study, self.route
        k = next((k for k, leg in enumerate(route.legs) if leg.step == id), -1) if route is not None else -1
        if study is None or route is None or k < 0:
            return ""
        leg = route.legs[k]
        when = f"from {duration(leg.start_s)} to {duration(leg.start_s + leg.seconds)}"
        lines = [f"{study.step_number(id)}  {step_text(study, id)}", f"{when}, {leg.tool or 'by hand'}, {leg.basis}"]
        if leg.fetch:
            lines.append(f"while waiting before it: fetch the {leg.fetch}")
        if self._slack[k] >= 1:
            lines.append(f"{duration(self._slack[k])} slack: it fills a wait")
        lines += [f"then {duration(leg.wait_s)} to soak" for soak in self._soaks if soak.step == id]
        renewed = [
            study.name(x) for x in route.totals.renew if x in (*study.steps[id].releases, *study.steps[id].takes_out)
        ]
        if renewed:
            lines.append(f"renew: {', '.join(renewed)}")
        share = dict(self._spread.shares).get(id, 0.0)
        if share > 0.1:
            lines.append(f"{share:.0%} of the uncertainty of the total time")
        return "\n".join(lines)

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent) and self.study is not None:
            QToolTip.showText(event.globalPos(), tip(self.about(self._hit(QPointF(event.pos())))), self)
            return True
        return super().event(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if hit := self._hit(event.position()):
            self.picked.emit(hit)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if hit := self._hit(event.position()):
            self.opened.emit(hit)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        ids = list(self.route.steps) if self.route is not None else []
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right) and ids:
            at = ids.index(self.chosen) if self.chosen in ids else -1
            self.picked.emit(ids[max(0, min(len(ids) - 1, at + (1 if event.key() == Qt.Key.Key_Right else -1)))])
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.chosen in ids:
            self.opened.emit(self.chosen)
        else:
            super().keyPressEvent(event)
