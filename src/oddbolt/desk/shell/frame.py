"""The frame of the window: the rail of stages at the left and the sill of readouts at the top."""

from __future__ import annotations

from attrs import frozen
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFontMetrics, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.labels import tip
from oddbolt.desk.widgets.spoken import Painted, Role

RAIL_WIDE, SILL_HIGH, TAB_HIGH, GAP = 112, 46, 54, 26


class Rail(Painted):
    """Index tabs on kraft, one for each stage that works, each with a small state."""

    picked = Signal(int)

    role, item_role = Role.PageTabList, Role.PageTab

    def __init__(self, stages: list[str]) -> None:
        super().__init__()
        self.stages = stages
        self.states, self.current = [""] * len(stages), 0
        self.setFixedWidth(RAIL_WIDE)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName("Stages")

    def show_state(self, stage: int, state: str) -> None:
        """Set the small line under a stage."""
        if self.states[stage] != state:
            self.states[stage] = state
            self._say()
            self.update()

    def choose(self, stage: int) -> None:
        """Mark a stage as the one shown."""
        self.current = stage
        self._say()
        self.update()

    def _say(self) -> None:
        self.say_items(
            range(len(self.stages)),
            self.current,
            lambda n: (self.stages[n], f"{self.stages[n]}, {self.states[n]}".rstrip(", ")),
        )

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("kraft"))
        painter.setPen(theme.colour("rule"))
        painter.drawLine(self.width() - 1, 0, self.width() - 1, self.height())
        self._mark(painter)
        for n, stage in enumerate(self.stages):
            box = QRectF(0, 62 + n * TAB_HIGH, self.width(), 50)
            if n == self.current:
                painter.fillRect(box.adjusted(6, 0, 0, 0), theme.colour("paper"))
                painter.fillRect(QRectF(6, box.top(), 4, box.height()), theme.colour("copper"))
                if self.hasFocus():
                    painter.setPen(QPen(theme.colour("copper"), 1, Qt.PenStyle.DotLine))
                    painter.drawRect(box.adjusted(13, 3, -4, -3))
            painter.setFont(theme.text(10.5, bold=n == self.current))
            painter.setPen(theme.colour("ink"))
            painter.drawText(box.adjusted(20, 7, -4, -24), Qt.AlignmentFlag.AlignVCenter, stage)
            painter.setFont(theme.figures(8.5))
            odd = n == self.current or "odd" in self.states[n] or "open" in self.states[n]
            painter.setPen(theme.colour("copper" if odd else "muted"))
            painter.drawText(box.adjusted(20, 26, -2, -4), Qt.AlignmentFlag.AlignVCenter, self.states[n])

    def _mark(self, painter: QPainter) -> None:
        """The sign of the product: a bolt head that is not quite regular."""
        path = QPainterPath(QPointF(14, 25))
        for x, y in ((22, 16), (33, 16), (38, 25), (31, 34), (22, 34)):
            path.lineTo(x, y)
        path.closeSubpath()
        painter.setPen(QPen(theme.colour("ink"), 1.8))
        painter.drawPath(path)
        painter.setBrush(theme.colour("copper"))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawEllipse(QPointF(26, 25), 3.4, 3.4)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(theme.colour("ink"))
        painter.setFont(theme.text(10.5, bold=True))
        painter.drawText(QRectF(45, 12, 70, 26), Qt.AlignmentFlag.AlignVCenter, "Odd Bolt")

    def mousePressEvent(self, event: QMouseEvent) -> None:
        n = int((event.position().y() - 62) // TAB_HIGH)
        if 0 <= n < len(self.stages):
            self.picked.emit(n)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.picked.emit((self.current + (1 if event.key() == Qt.Key.Key_Down else -1)) % len(self.stages))
        else:
            super().keyPressEvent(event)


@frozen
class Readout:
    """A figure on the sill: its caption, its value, and the name of its colour."""

    caption: str
    value: str
    tint: str


class Sill(QWidget):
    """Readouts: device, clocks, power, screws, and one caution at a time in words."""

    def __init__(self) -> None:
        super().__init__()
        self.readouts: list[Readout] = []
        self.caution = ""
        self.setFixedHeight(SILL_HIGH)
        self.setAccessibleName("Readouts")

    def sizeHint(self) -> QSize:
        return QSize(900, SILL_HIGH)

    def show_readouts(self, readouts: list[Readout], caution: str) -> None:
        """Show these, and the caution, or ""."""
        if (readouts, caution) != (self.readouts, self.caution):
            self.readouts, self.caution = readouts, caution
            self.setAccessibleDescription(
                "; ".join(f"{r.caption} {r.value}" for r in readouts) + (f"; caution: {caution}" if caution else "")
            )
            self.update()

    def _room(self) -> int:
        """Room for the study's name, so that no readout after it is cut; px."""
        metrics = QFontMetrics(theme.figures(10.5))
        others = sum(max(metrics.horizontalAdvance(r.value), 60) + GAP for r in self.readouts[1:])
        return max(90, min(270, self.width() - 26 - GAP - others))

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.colour("paper"))
        painter.setPen(QPen(theme.colour("rule"), 1))
        painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)
        x = 18.0
        room = self._room()
        for n, readout in enumerate(self.readouts):
            painter.setFont(theme.text(8.5))
            painter.setPen(theme.colour("muted"))
            painter.drawText(QPointF(x, 17), readout.caption)
            painter.setFont(theme.text(10, bold=True) if n == 0 else theme.figures(10.5))
            painter.setPen(theme.colour(readout.tint))
            shown = painter.fontMetrics().elidedText(
                readout.value, Qt.TextElideMode.ElideRight, room if n == 0 else 270
            )
            painter.drawText(QPointF(x, 36), shown)
            x += max(painter.fontMetrics().horizontalAdvance(shown), 60) + GAP
        if self.caution and self.width() - x > 140:
            wide = min(self.width() - x - 8, 420.0)
            box = QRectF(self.width() - wide - 8, 7, wide, self.height() - 15)
            painter.fillRect(box, theme.colour("warn"))
            painter.setPen(theme.colour("copper"))
            painter.drawRect(box)
            inner = box.adjusted(10, 0, -8, 0)
            painter.setFont(theme.text(9.5))
            flags = Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap
            if painter.fontMetrics().horizontalAdvance(self.caution) > inner.width():
                painter.setFont(theme.text(8.5))
            painter.drawText(inner, flags, _two_lines(painter.fontMetrics(), self.caution, int(inner.width())))
            self.setToolTip(tip(self.caution))
        else:
            self.setToolTip("")


def _two_lines(metrics: QFontMetrics, text: str, wide: int) -> str:
    """A text cut so that it fills two lines of this width at most."""
    first, rest = "", text.split()
    while rest and metrics.horizontalAdvance(f"{first} {rest[0]}".strip()) <= wide:
        first = f"{first} {rest.pop(0)}".strip()
    second = metrics.elidedText(" ".join(rest), Qt.TextElideMode.ElideRight, wide)
    return f"{first}\n{second}" if second else first
