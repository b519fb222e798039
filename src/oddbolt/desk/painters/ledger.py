"""A mark opened out: from the start down to what is left, each deduction a line with its reasons."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFontMetrics, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen

from oddbolt.core.verdict import Deduction, Mark
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.spoken import Painted

LEFT, RIGHT, ROW, BAR, LEAD = 66, 14, 22, 9, 16
#: Reasons shown of each rule; the margin shows their causes one by one.
SHOWN = 4


class Ledger(Painted):
    """Shows a mark. ``picked`` gives the id of a cause; a line picked again gives its next cause."""

    picked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.mark: Mark | None = None
        self.line, self.cause = -1, 0
        self._boxes: list[QRectF] = []
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The mark and its arithmetic")

    def show_mark(self, mark: Mark | None) -> None:
        """Show a mark, or nothing yet."""
        if mark is not self.mark:
            self.mark = mark
            self.line = -1
        self._say()
        self.setMinimumHeight(self._height())
        self.updateGeometry()
        self.update()

    def _say(self) -> None:
        rows = self.mark.deductions if self.mark is not None else ()
        self.say_items(range(len(rows)), self.line, lambda n: (f"minus {rows[n].points:g}", self._words(rows[n])))
        if self.mark is not None and self.line < 0:
            self.setAccessibleDescription(f"{self.mark.value} out of ten, {len(rows)} deductions")

    def pick_item(self, id: int) -> None:
        self._pick(id)

    def sizeHint(self) -> QSize:
        return QSize(440, self._height())

    def resizeEvent(self, event: object) -> None:
        self.setMinimumHeight(self._height())

    def _height(self) -> int:
        if self.mark is None:
            return 120
        return round(sum(self._tall(d) for d in self.mark.deductions) + 2 * (ROW + 18) + 30)

    @staticmethod
    def _words(d: Deduction) -> str:
        shown = list(d.reasons[:SHOWN])
        if len(d.reasons) > SHOWN:
            shown.append(f"and {len(d.reasons) - SHOWN} more")
        return "; ".join(shown) + (". Maximum deduction of this rule." if d.capped else "")

    def _tall(self, d: Deduction) -> float:
        metrics = QFontMetrics(theme.text(9.5))
        wide = max(120, self.width() - LEFT - RIGHT)
        box = metrics.boundingRect(0, 0, wide, 4000, int(Qt.TextFlag.TextWordWrap), self._words(d))
        return box.height() + BAR + LEAD + 16

    def paintEvent(self, event: QPaintEvent) -> None:
        self._boxes = []
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.mark is None:
            painter.setPen(theme.colour("muted"))
            painter.setFont(theme.text(11))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "no mark yet")
            return
        mark = self.mark
        wide = self.width() - LEFT - RIGHT
        unit = wide / mark.start
        y = self._end(painter, 4.0, "from", mark.start, wide, unit, "ink")
        left = mark.start
        for n, d in enumerate(mark.deductions):
            tall = self._tall(d)
            box = QRectF(0, y, self.width(), tall)
            self._boxes.append(box)
            if n == self.line:
                painter.fillRect(box, theme.colour("warn"))
            painter.setFont(theme.figures(10))
            painter.setPen(theme.colour("copper"))
            painter.drawText(QRectF(0, y + 4, LEFT - 12, 18), Qt.AlignmentFlag.AlignRight, f"−{d.points:.2f}")
            painter.fillRect(QRectF(LEFT, y + 6, left * unit, BAR), theme.bar(0))
            taken = QRectF(LEFT + (left - d.points) * unit, y + 6, d.points * unit, BAR)
            painter.fillRect(taken, theme.colour("copper"))
            left -= d.points
            painter.setFont(theme.text(9.5, bold=True))
            painter.setPen(theme.colour("ink"))
            lead = painter.fontMetrics().elidedText(d.about, Qt.TextElideMode.ElideRight, int(wide))
            painter.drawText(QRectF(LEFT, y + BAR + 8, wide, LEAD), Qt.AlignmentFlag.AlignLeft, lead)
            painter.setFont(theme.text(9.5))
            painter.setPen(theme.colour("muted"))
            painter.drawText(QRectF(LEFT, y + BAR + LEAD + 8, wide, tall), Qt.TextFlag.TextWordWrap, self._words(d))
            painter.setPen(QPen(theme.colour("rule"), 1))
            painter.drawLine(QPointF(LEFT, box.bottom()), QPointF(self.width() - RIGHT, box.bottom()))
            y += tall
        self._end(painter, y + 6, "leaves", mark.value or 0.0, wide, unit, "sea")

    def _end(self, painter: QPainter, y: float, word: str, value: float, wide: float, unit: float, tint: str) -> float:
        painter.setFont(theme.text(9.5))
        painter.setPen(theme.colour("muted"))
        painter.drawText(QRectF(LEFT, y + BAR + 6, wide, 18), Qt.AlignmentFlag.AlignLeft, word)
        painter.setFont(theme.figures(10, bold=True))
        painter.setPen(theme.colour(tint))
        painter.drawText(QRectF(0, y, LEFT - 12, 18), Qt.AlignmentFlag.AlignRight, f"{value:.2f}")
        painter.fillRect(QRectF(LEFT, y + 3, value * unit, BAR), theme.colour(tint))
        return y + ROW + 14

    def _pick(self, line: int) -> None:
        if self.mark is None or not 0 <= line < len(self.mark.deductions):
            return
        causes = self.mark.deductions[line].causes
        self.cause = (self.cause + 1) % max(1, len(causes)) if line == self.line else 0
        self.line = line
        self._say()
        self.update()
        if causes:
            self.picked.emit(causes[self.cause])

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._pick(next((n for n, box in enumerate(self._boxes) if box.contains(event.position())), -1))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        lines = len(self.mark.deductions) if self.mark else 0
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and lines:
            self._pick((self.line + (1 if event.key() == Qt.Key.Key_Down else -1)) % lines)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self._pick(self.line)
        else:
            super().keyPressEvent(event)
