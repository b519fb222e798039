"""The running strip of steps: a few of many in sight, whatever their number."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PySide6.QtWidgets import QWidget

from oddbolt.desk import theme

WIDE, GAP = 150, 8


class Card:
    """What one step shows: number, time, two lines of words, tool."""

    __slots__ = ("id", "lines", "number", "time", "tool")

    def __init__(self, id: str, number: int, time: str, lines: str, tool: str) -> None:
        self.id, self.number, self.time, self.lines, self.tool = id, number, time, lines, tool


class Strip(QWidget):
    """Steps as cards in order. Left and Right move; ``picked`` gives a step's id, or "" for the one being done now."""

    picked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.count, self.current = 0, 0
        self.card_of: Callable[[int], Card] = lambda _n: Card("", 0, "", "", "")
        self.now = ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Strip of steps")
        self.setFixedHeight(86)

    def sizeHint(self) -> QSize:
        return QSize(700, 86)

    def show_steps(self, count: int, card_of: Callable[[int], Card], current: int, now: str) -> None:
        """``card_of(n)`` gives the card of the n-th step from 0; ``current`` may be ``count``, the step being done."""
        self.count, self.card_of, self.current, self.now = count, card_of, current, now
        self.update()

    def _first(self) -> int:
        shown = max(1, (self.width() + GAP) // (WIDE + GAP))
        return max(0, min(self.current - shown + 2, self.count + 1 - shown))

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        first = self._first()
        for k in range(self.width() // (WIDE + GAP) + 1):
            n = first + k
            if n > self.count:
                break
            self._card(painter, QRectF(k * (WIDE + GAP) + 1, 1, WIDE, self.height() - 3), n)

    def _card(self, painter: QPainter, box: QRectF, n: int) -> None:
        here = n == self.current
        now = n == self.count
        painter.setPen(QPen(theme.colour("copper") if here else theme.colour("rule"), 2 if here else 1))
        painter.setBrush(theme.colour("card"))
        painter.drawRect(box)
        inner = box.adjusted(8, 6, -8, -6)
        card = Card("", n + 1, "", self.now, "") if now else self.card_of(n)
        painter.setFont(theme.mono(9))
        painter.setPen(theme.colour("copper" if here else "muted"))
        painter.drawText(inner, Qt.AlignmentFlag.AlignLeft, str(card.number))
        painter.drawText(inner, Qt.AlignmentFlag.AlignRight, card.time)
        painter.setFont(theme.text(9.5, bold=here))
        painter.setPen(theme.colour("ink"))
        painter.drawText(
            inner.adjusted(0, 18, 0, -15), Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignTop, card.lines
        )
        painter.setFont(theme.mono(8.5))
        painter.setPen(theme.colour("muted"))
        painter.drawText(inner, Qt.AlignmentFlag.AlignBottom | Qt.AlignmentFlag.AlignLeft, card.tool)
        if here and self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("copper"), 1, Qt.PenStyle.DotLine))
            painter.drawRect(box.adjusted(3, 3, -3, -3))

    def _pick(self, n: int) -> None:
        n = max(0, min(n, self.count))
        self.picked.emit(self.card_of(n).id if n < self.count else "")

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._pick(self._first() + int(event.position().x() // (WIDE + GAP)))

    def wheelEvent(self, event: QWheelEvent) -> None:
        self._pick(self.current + (1 if event.angleDelta().y() + event.angleDelta().x() < 0 else -1))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        moves = {
            Qt.Key.Key_Left: -1,
            Qt.Key.Key_Right: 1,
            Qt.Key.Key_PageUp: -5,
            Qt.Key.Key_PageDown: 5,
            Qt.Key.Key_Home: -(10**6),
            Qt.Key.Key_End: 10**6,
        }
        if event.key() in moves:
            self._pick(self.current + moves[Qt.Key(event.key())])
        else:
            super().keyPressEvent(event)
