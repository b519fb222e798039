"""A simulated foot pedal: three treads on the screen that send keys as a real pedal does."""

from __future__ import annotations

from PySide6.QtCore import QCoreApplication, QEvent, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QCloseEvent, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import QApplication, QWidget

from oddbolt.desk.widgets import theme

#: what the treads send, left to right
TREADS = (Qt.Key.Key_F13, Qt.Key.Key_F14, Qt.Key.Key_F15)
NAMES = ("F13", "F14", "F15")


class PracticePedal(QWidget):
    """Press a tread with the mouse, hold it for a long press. Keys go to ``to``, wherever its focus is."""

    def __init__(self, to: QWidget) -> None:
        super().__init__(to, Qt.WindowType.Tool)
        self.to = to
        self._down = -1
        self.setWindowTitle("Practice pedal")
        self.setAttribute(Qt.WidgetAttribute.WA_ShowWithoutActivating)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setFixedSize(330, 150)
        self.setAccessibleName("Practice pedal")

    def sizeHint(self) -> QSize:
        return QSize(330, 150)

    def tread(self, n: int) -> QRectF:
        """Where a tread lies."""
        return QRectF(14 + n * 104, 14, 94, 106)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("kraft"))
        for n, name in enumerate(NAMES):
            box, down = self.tread(n), n == self._down
            shape = QPainterPath(box.bottomLeft())
            for x, y in ((0.1, 0), (0.9, 0), (1, 1)):
                shape.lineTo(QPointF(box.left() + x * box.width(), box.top() + y * box.height() + (4 if down else 0)))
            shape.closeSubpath()
            painter.setPen(QPen(theme.colour("copper" if down else "ink"), 1.6))
            painter.setBrush(theme.colour("warn" if down else "card"))
            painter.drawPath(shape)
            painter.setPen(QPen(theme.colour("rule"), 2))
            for k in range(1, 5):
                rib = box.top() + box.height() * k / 5
                painter.drawLine(QPointF(box.left() + 16, rib), QPointF(box.right() - 16, rib))
            painter.setPen(theme.colour("ink"))
            painter.setFont(theme.figures(10))
            painter.drawText(QRectF(box.left(), 122, box.width(), 22), Qt.AlignmentFlag.AlignCenter, name)

    def press(self, n: int) -> None:
        """A foot comes down."""
        self._down = n
        self._send(QEvent.Type.KeyPress)
        self.update()

    def release(self) -> None:
        """The foot goes up."""
        if self._down >= 0:
            self._send(QEvent.Type.KeyRelease)
        self._down = -1
        self.update()

    def _send(self, kind: QEvent.Type) -> None:
        target = self.to.focusWidget() or QApplication.focusWidget() or self.to
        event = QKeyEvent(kind, TREADS[self._down], Qt.KeyboardModifier.NoModifier)
        QCoreApplication.postEvent(target, event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        n = next((n for n in range(3) if self.tread(n).contains(event.position())), -1)
        if n >= 0:
            self.press(n)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self.release()

    def closeEvent(self, event: QCloseEvent) -> None:
        self.release()
        super().closeEvent(event)
