"""What moves a score most: a bar for each criterion and weight, from its least to its most end, about the likely
figure."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QBrush, QKeyEvent, QPainter, QPaintEvent, QPen

from oddbolt.core.verdict.weighing import Bar
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.spoken import Painted

ROW, LABEL, MOST, EDGE = 18, 178, 9, 6


class Tornado(Painted):
    """Bars about a middle line. ``picked`` gives the number of a bar."""

    picked = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.bars: tuple[Bar, ...] = ()
        self.likely, self.at = 0.0, -1
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("What moves the score most")

    def sizeHint(self) -> QSize:
        return QSize(420, self._high())

    def _high(self) -> int:
        return ROW * max(1, min(len(self.bars), MOST)) + 2 * EDGE

    def show_bars(self, bars: Sequence[Bar], likely: float) -> None:
        """Show the widest of these bars."""
        self.bars, self.likely = tuple(bars)[:MOST], likely
        self.setFixedHeight(self._high())
        self.say_items(range(len(self.bars)), self.at, lambda n: (self.bars[n].about, self._words(n)))
        self.update()

    def _words(self, n: int) -> str:
        bar = self.bars[n]
        return f"{bar.about}: from {bar.low:.2f} to {bar.high:.2f}"

    def item_box(self, id: int) -> QRect:
        return QRect(0, EDGE + id * ROW, self.width(), ROW)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self.bars:
            return
        low, high = min(b.low for b in self.bars), max(b.high for b in self.bars)
        left, room = LABEL + EDGE, max(40.0, self.width() - LABEL - 3 * EDGE)
        scale = room / max(high - low, 1e-9)
        middle = left + (self.likely - low) * scale
        for n, bar in enumerate(self.bars):
            box = QRectF(self.item_box(n))
            painter.setFont(theme.text(9, bold=n == self.at))
            painter.setPen(theme.colour("copper" if n == self.at else "ink"))
            words = painter.fontMetrics().elidedText(bar.about, Qt.TextElideMode.ElideRight, LABEL - 6)
            painter.drawText(
                QRectF(0, box.top(), LABEL - 6, ROW), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, words
            )
            x, y = left + (bar.low - low) * scale, left + (bar.high - low) * scale
            below, above = (
                QRectF(x, box.top() + 3, middle - x, ROW - 6),
                QRectF(middle, box.top() + 3, y - middle, ROW - 6),
            )
            painter.setPen(QPen(theme.colour("ink"), 0.8))
            painter.setBrush(QBrush(theme.colour("muted"), Qt.BrushStyle.BDiagPattern))
            painter.drawRect(below)
            painter.setBrush(theme.colour("kraft"))
            painter.drawRect(above)
        painter.setPen(QPen(theme.colour("copper"), 1.4))
        painter.drawLine(QPointF(middle, 2), QPointF(middle, self.height() - 2))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        by = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()), 0)
        if by and self.bars:
            self.at = max(0, min(len(self.bars) - 1, self.at + by))
            self.show_bars(self.bars, self.likely)
            self.picked.emit(self.at)
        else:
            super().keyPressEvent(event)
