"""The tool roll: every driver with its tip as its geometry has it, every tool by its name; what is missing is an empty
pocket."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import QToolTip

from oddbolt.core.bench.kit import KitNeed
from oddbolt.desk.painters.screws import recess_path
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.labels import tip
from oddbolt.desk.widgets.spoken import Painted

POCKET, HEM = 66, 54


class ToolRoll(Painted):
    """Shows drivers and tools. ``toggled`` gives what was put on the bench or taken off it."""

    toggled = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.needs: list[KitNeed] = []
        self.at = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFixedHeight(154)
        self.setAccessibleName("Tool roll")

    def sizeHint(self) -> QSize:
        return QSize(600, 154)

    def show_needs(self, needs: Sequence[KitNeed]) -> None:
        """Show what the job turns and pries with."""
        self.needs = [n for n in needs if n.sort in ("driver", "tool")]
        self.at = min(self.at, max(0, len(self.needs) - 1))
        self._say()
        self.update()

    def _say(self) -> None:
        self.say_items(range(len(self.needs)), self.at, self._said)
        if not self.needs:
            self.setAccessibleDescription("no tools yet")

    def _said(self, n: int) -> tuple[str, str]:
        need = self.needs[n]
        return need.what, f"{need.said}, {'on your bench' if need.there else 'missing'}".lstrip(", ")

    def pick_item(self, id: int) -> None:
        self.at = id
        self._toggle()

    def _wide(self) -> float:
        return min(float(POCKET), (self.width() - 8) / max(1, len(self.needs)))

    def _box(self, n: int) -> QRectF:
        return QRectF(4 + n * self._wide(), 0, self._wide(), self.height())

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        cloth = QRectF(0, 0, self.width(), self.height())
        painter.fillRect(cloth, theme.colour("kraft"))
        hem = QRectF(0, HEM + 26, self.width(), self.height() - HEM - 26)
        if not self.needs:
            painter.setPen(theme.colour("muted"))
            painter.setFont(theme.text(10.5))
            painter.drawText(cloth, Qt.AlignmentFlag.AlignCenter, "No tools needed yet. Log steps first.")
            return
        for n, need in enumerate(self.needs):
            self._tool(painter, need, self._box(n))
        pocket = QColor(theme.colour("kraft")).darker(106 if theme.current is theme.DAY else 80)
        painter.fillRect(hem, pocket)
        painter.setPen(QPen(theme.colour("muted"), 1, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(0, hem.top() + 3), QPointF(self.width(), hem.top() + 3))
        for n, need in enumerate(self.needs):
            self._words(painter, n, need, self._box(n))

    def _tool(self, painter: QPainter, need: KitNeed, box: QRectF) -> None:
        x = box.center().x()
        pen = QPen(theme.colour("ink"), 1.3)
        fill = theme.colour("card")
        if not need.there:
            pen = QPen(theme.colour("copper"), 1.3, Qt.PenStyle.DotLine)
            fill = QColor(Qt.GlobalColor.transparent)
        painter.setPen(pen)
        painter.setBrush(fill)
        shape = QPainterPath()
        if need.sort == "driver":
            shape.addRoundedRect(QRectF(x - 4, 40, 8, 60), 2, 2)
            painter.drawPath(shape)
            painter.drawEllipse(QPointF(x, 24), 17, 17)
            tip = recess_path(need.drive, 11.0)
            painter.save()
            painter.translate(QPointF(x, 24))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.colour("ink" if need.there else "copper"))
            if tip is not None:
                painter.drawPath(tip)
            painter.restore()
        else:
            shape.moveTo(x - 5, 100)
            shape.lineTo(x - 5, 34)
            shape.quadTo(x - 5, 8, x + 1, 6)
            shape.quadTo(x + 6, 20, x + 5, 34)
            shape.lineTo(x + 5, 100)
            painter.drawPath(shape)

    def _words(self, painter: QPainter, n: int, need: KitNeed, box: QRectF) -> None:
        chosen = n == self.at and self.hasFocus()
        if chosen:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("copper"), 1.6))
            painter.drawRect(box.adjusted(2, 2, -2, -2))
        painter.setPen(theme.colour("ink"))
        driver = need.sort == "driver"
        pocket = QRectF(box.left(), HEM + 32, box.width(), self.height() - HEM - 36)
        if not driver:
            painter.save()
            painter.translate(pocket.center())
            painter.rotate(-90)
            painter.setFont(theme.text(9, bold=True))
            painter.setPen(theme.colour("ink" if need.there else "copper"))
            lying = QRectF(-pocket.height() / 2, -pocket.width() / 2, pocket.height(), pocket.width())
            words = painter.fontMetrics().elidedText(need.what, Qt.TextElideMode.ElideRight, int(pocket.height()))
            painter.drawText(lying, Qt.AlignmentFlag.AlignCenter, words)
            painter.restore()
            return
        flags = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop
        painter.setFont(theme.figures(9.5, bold=True))
        painter.drawText(pocket, flags, need.size or need.what)
        painter.setFont(theme.text(8.5))
        painter.setPen(theme.colour("muted"))
        count = "× ?" if need.amount is None else f"× {need.amount:.0f}"
        painter.drawText(pocket.adjusted(0, 18, 0, 0), flags, count)
        if not need.there:
            painter.setPen(theme.colour("copper"))
            painter.setFont(theme.text(8))
            painter.drawText(pocket, Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignBottom, "missing")

    def _toggle(self) -> None:
        if self.needs:
            self.toggled.emit(self.needs[self.at].what)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        n = int((event.position().x() - 4) // self._wide())
        if 0 <= n < len(self.needs):
            self.at = n
            self._toggle()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right) and self.needs:
            self.at = (self.at + (1 if event.key() == Qt.Key.Key_Right else -1)) % len(self.needs)
            self._say()
            self.update()
        elif event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._toggle()
        else:
            super().keyPressEvent(event)

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ToolTip and isinstance(event, QHelpEvent):
            n = int((event.pos().x() - 4) // self._wide())
            if 0 <= n < len(self.needs):
                need = self.needs[n]
                words = f"{need.what}{', ' + need.said if need.said else ''}: "
                words += "on your bench" if need.there else "missing; click if you have it"
                QToolTip.showText(event.globalPos(), tip(words), self)
            return True
        return super().event(event)
