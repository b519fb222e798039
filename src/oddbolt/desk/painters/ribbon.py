"""The route as one ribbon whose length is time."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QToolTip, QWidget

from oddbolt.core.reach import Leg, Route, bench_seconds
from oddbolt.core.study import Study
from oddbolt.core.study.words import duration
from oddbolt.desk import theme
from oddbolt.files.report import step_text


class Ribbon(QWidget):
    """Segments of hand work, with tool changes, turn-overs and waits between. ``picked`` gives a step's id."""

    picked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.study: Study | None = None
        self.route: Route | None = None
        self.chosen = ""
        self._boxes: list[tuple[QRectF, str]] = []
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Route ribbon")
        self.setFixedHeight(96)

    def sizeHint(self) -> QSize:
        return QSize(800, 96)

    def show_route(self, study: Study, route: Route | None, chosen: str) -> None:
        """Show a route, or nothing."""
        self.study, self.route, self.chosen = study, route, chosen
        if route is not None:
            self.setAccessibleDescription("; ".join(step_text(study, leg.step) for leg in route.legs))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        self._boxes = []
        if self.route is None or self.study is None or not self.route.legs:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        total = max(self.route.seconds, 1.0)
        scale = (self.width() - 2) / total
        for k, leg in enumerate(self.route.legs):
            left, wide = leg.start_s * scale + 1, max(2.0, leg.seconds * scale)
            box = QRectF(left, 6, wide, 46)
            self._between(painter, leg, left, scale)
            chosen = leg.step == self.chosen
            fill = theme.colour("copper") if chosen else theme.bar(k / len(self.route.legs))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(fill)
            painter.drawRect(box.adjusted(0, 0, -1, 0))
            painter.setPen(QPen(theme.colour("muted"), 0.8))
            painter.drawLine(box.bottomLeft(), box.bottomRight())
            self._boxes.append((box, leg.step))
            self._words(painter, box, leg.step, leg.tool, leg.step == self.chosen)
        self._axis(painter, total, scale)

    def _between(self, painter: QPainter, leg: Leg, left: float, scale: float) -> None:
        """What lies before a leg: a wait, a change of tool, a turning over."""
        idle = leg.idle_s * scale
        if idle > 2:
            gap = QRectF(left - idle, 6, idle - 1, 46)
            painter.setPen(QPen(theme.colour("ink"), 1, Qt.PenStyle.DashLine))
            painter.setBrush(theme.colour("card"))
            painter.drawRect(gap)
            painter.setFont(theme.text(8.5))
            if idle > 34:
                painter.drawText(
                    gap, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, f"wait\n{duration(leg.idle_s)}"
                )
        if leg.turn:
            wide = max(3.0, bench_seconds("turn over") * scale)
            painter.fillRect(QRectF(left - wide, 2, wide, 54), theme.colour("ink"))
            painter.setPen(theme.colour("muted"))
            painter.setFont(theme.text(8))
            painter.drawText(QRectF(left - 24, 54, 44, 12), Qt.AlignmentFlag.AlignCenter, "turn")
        elif leg.change:
            painter.setPen(QPen(theme.colour("copper"), 1.6))
            x = left - 1
            painter.drawLine(int(x), 2, int(x), 56)

    def _words(self, painter: QPainter, box: QRectF, id: str, tool: str, chosen: bool) -> None:
        if box.width() < 34:
            return
        study = self.study
        assert study is not None
        step = study.steps[id]
        name = (
            study.name(step.takes_out[0])
            if step.takes_out
            else study.name(step.releases[0])
            if step.releases
            else step.verb
        )
        inner = box.adjusted(5, 6, -3, -4)
        painter.setPen(theme.colour("card") if chosen else theme.colour("bar_ink"))
        painter.setFont(theme.text(9, bold=chosen))
        painter.drawText(
            inner,
            Qt.AlignmentFlag.AlignTop,
            painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, int(inner.width())),
        )
        painter.setFont(theme.mono(8.5))
        painter.drawText(
            inner,
            Qt.AlignmentFlag.AlignBottom,
            painter.fontMetrics().elidedText(tool or "hand", Qt.TextElideMode.ElideRight, int(inner.width())),
        )

    def _axis(self, painter: QPainter, total: float, scale: float) -> None:
        y = 70
        painter.setPen(QPen(theme.colour("muted"), 1))
        painter.drawLine(1, y, self.width() - 1, y)
        unit = next((u for u in (10, 30, 60, 120, 300, 600, 1800, 3600) if u * scale > 74), 7200)
        painter.setFont(theme.mono(8.5))
        at = 0
        while at <= total:
            x = int(at * scale) + 1
            painter.drawLine(x, y, x, y + 4)
            label = duration(at) if at else "0"
            painter.drawText(
                QRectF(x - 50 if at else 1, y + 5, 100, 14),
                Qt.AlignmentFlag.AlignHCenter if at else Qt.AlignmentFlag.AlignLeft,
                label,
            )
            at += unit

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent) and self.study is not None:
            hit = next((id for box, id in self._boxes if box.contains(event.pos())), "")
            QToolTip.showText(
                event.globalPos(), f"{self.study.step_number(hit)}  {step_text(self.study, hit)}" if hit else "", self
            )
            return True
        return super().event(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        hit = next((id for box, id in self._boxes if box.contains(event.position())), "")
        if hit:
            self.picked.emit(hit)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        ids = [id for _, id in self._boxes]
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right) and ids:
            at = ids.index(self.chosen) if self.chosen in ids else -1
            self.picked.emit(ids[max(0, min(len(ids) - 1, at + (1 if event.key() == Qt.Key.Key_Right else -1)))])
        else:
            super().keyPressEvent(event)
