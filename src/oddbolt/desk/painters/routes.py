"""The routes to several parts on one scale of time, one thin ribbon each."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen

from oddbolt.core.study import Study
from oddbolt.core.study.formatting import duration
from oddbolt.core.verdict import Count
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.spoken import Painted

ROW, BAR, NAME, TAIL = 40, 15, 104, 84


class Routes(Painted):
    """A row for each counted part: dark where the tool or the face changes, open where one must wait."""

    picked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.study = Study()
        self.counts: list[Count] = []
        self.chosen = ""
        self.setAccessibleName("Routes on one scale of time")

    def sizeHint(self) -> QSize:
        return QSize(400, 40 + ROW * len(self.counts))

    def show_counts(self, study: Study, counts: Sequence[Count], chosen: str) -> None:
        """Show these counts, the quickest first."""
        self.study, self.chosen = study, chosen
        self.counts = sorted((c for c in counts if c.route), key=lambda c: c.route.seconds if c.route else 0.0)

        took = {c.part: c.route.seconds for c in self.counts if c.route}
        self.say_items(list(took), chosen, lambda part: (study.name(part), duration(took[part])))
        self.setMinimumHeight(30 + ROW * len(self.counts))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        longest = max((c.route.seconds for c in self.counts if c.route), default=1.0)
        scale = (self.width() - NAME - TAIL) / longest
        for n, count in enumerate(self.counts):
            route, y = count.route, 8 + n * ROW
            assert route is not None
            chosen = count.part == self.chosen
            painter.setFont(theme.text(9.5, bold=chosen))
            painter.setPen(theme.colour("copper" if chosen else "ink"))
            name = painter.fontMetrics().elidedText(self.study.name(count.part), Qt.TextElideMode.ElideRight, NAME - 8)
            painter.drawText(QRectF(0, y, NAME - 8, BAR), Qt.AlignmentFlag.AlignVCenter, name)
            for k, leg in enumerate(route.legs):
                x = NAME + leg.start_s * scale
                shade = theme.bar(k / len(route.legs))
                painter.fillRect(QRectF(x, y, max(1.5, leg.seconds * scale - 1), BAR), shade)
                if leg.idle_s * scale > 2:
                    painter.setPen(QPen(theme.colour("ink"), 1, Qt.PenStyle.DashLine))
                    painter.drawRect(QRectF(x - leg.idle_s * scale, y, leg.idle_s * scale - 2, BAR - 1))
                if leg.turn or leg.change:
                    painter.fillRect(QRectF(x - 2, y - 2, 2, BAR + 4), theme.colour("ink" if leg.turn else "copper"))
            end = NAME + route.seconds * scale
            painter.setFont(theme.figures(8.5))
            painter.setPen(theme.colour("muted"))
            painter.drawText(QRectF(end + 6, y, TAIL, BAR), Qt.AlignmentFlag.AlignVCenter, duration(route.seconds))
            painter.setPen(QPen(theme.colour("rule"), 1))
            painter.drawLine(QPointF(0, y + ROW - 10), QPointF(self.width(), y + ROW - 10))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        n = int((event.position().y() - 8) // ROW)
        if 0 <= n < len(self.counts):
            self.picked.emit(self.counts[n].part)
