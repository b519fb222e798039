"""The device filling up: a layer for each step of the plan, the first at the bottom, as thick as its time is long."""

from __future__ import annotations

from collections.abc import Sequence

from attrs import frozen
from PySide6.QtCore import QPointF, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen

from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.spoken import Painted

WIDE, LEAST, FOOT, WALL = 210, 3.0, 18, 4


@frozen
class Layer:
    """One step of the plan: its key, its words, its seconds with the wait after it, whether it is done, and whether it
    makes the device live."""

    key: str
    words: str
    seconds: float
    done: bool
    power: bool = False


class Filling(Painted):
    """The plan as layers in a vessel: what is in is filled, what is to come is drawn in outline. Up and Down move;
    ``picked`` gives the key of a layer."""

    picked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.layers: tuple[Layer, ...] = ()
        self.at = ""
        self._boxes: list[tuple[str, QRectF]] = []
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The device filling up")
        self.setMinimumWidth(WIDE)

    def sizeHint(self) -> QSize:
        return QSize(WIDE, 320)

    def show_layers(self, layers: Sequence[Layer], at: str) -> None:
        """Draw these, the first at the bottom; ``at`` is the one in hand."""
        self.layers, self.at = tuple(layers), at
        by_key = {layer.key: layer for layer in layers}
        self.say_items([layer.key for layer in layers], at, lambda key: _said(by_key[key]))
        self._lay()
        self.update()

    def item_box(self, id: str) -> QRect:
        """Where a layer lies."""
        return next((box.toRect() for key, box in self._boxes if key == id), self.rect())

    def _lay(self) -> None:
        """Share out the height: at least a hair to each, the rest by time, so that a long step is a thick layer."""
        high = self.height() - FOOT - 2 * WALL
        least = min(LEAST, high / max(1, len(self.layers)))
        total = sum(layer.seconds for layer in self.layers) or 1.0
        rest = max(0.0, high - least * len(self.layers))
        y = float(self.height() - WALL - FOOT)
        self._boxes = []
        for layer in self.layers:
            thick = least + rest * layer.seconds / total
            y -= thick
            self._boxes.append((layer.key, QRectF(WALL, y, self.width() - 2 * WALL, thick)))

    def resizeEvent(self, event: object) -> None:
        self._lay()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        boxes = dict(self._boxes)
        inner = QRectF(WALL / 2, WALL / 2, self.width() - WALL, self.height() - FOOT - WALL)
        for layer in self.layers:
            box = boxes[layer.key]
            if layer.done:
                painter.setOpacity(1.0 if layer.power else 0.45)
                painter.fillRect(box.adjusted(0, 0.5, 0, -0.5), theme.colour("sea"))
                painter.setOpacity(1.0)
            elif box.height() > 2:
                painter.setPen(QPen(theme.colour("rule"), 1))
                painter.drawLine(box.topLeft(), box.topRight())
            if layer.power:
                painter.setPen(QPen(theme.colour("copper"), 2))
                painter.drawLine(box.bottomLeft(), box.bottomRight())
        self._here(painter, boxes)
        painter.setPen(QPen(theme.colour("ink"), WALL / 2))
        painter.drawLine(inner.topLeft(), inner.bottomLeft())
        painter.drawLine(inner.bottomLeft(), inner.bottomRight())
        painter.drawLine(inner.bottomRight(), inner.topRight())
        done = sum(layer.done for layer in self.layers)
        painter.setFont(theme.figures(9))
        painter.setPen(theme.colour("muted"))
        foot = QRectF(0, self.height() - FOOT, self.width(), FOOT)
        painter.drawText(foot, Qt.AlignmentFlag.AlignCenter, f"{done} of {len(self.layers)} in")

    def _here(self, painter: QPainter, boxes: dict[str, QRectF]) -> None:
        """The layer in hand, with its words where there is room: beside it, over what is still empty."""
        layer = next((one for one in self.layers if one.key == self.at), None)
        if layer is None:
            return
        box = boxes[layer.key]
        painter.setPen(QPen(theme.colour("copper"), 2))
        painter.drawRect(box.adjusted(1, 1, -1, -1) if box.height() > 4 else box)
        painter.setFont(theme.text(9.5, bold=True))
        painter.setPen(theme.colour("copper"))
        above = QRectF(box.left() + 6, box.top() - 34, box.width() - 12, 32)
        if above.top() < 0:
            above = QRectF(box.left() + 6, box.bottom() + 2, box.width() - 12, 32)
        words = painter.fontMetrics().elidedText(layer.words, Qt.TextElideMode.ElideRight, int(above.width()))
        painter.drawText(above, Qt.AlignmentFlag.AlignBottom | Qt.AlignmentFlag.AlignHCenter, words)

    # -- the hand -------------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = QPointF(event.position())
        key = next((key for key, box in self._boxes if box.contains(at)), "")
        if key:
            self.picked.emit(key)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        by = {Qt.Key.Key_Up: 1, Qt.Key.Key_Down: -1}.get(Qt.Key(event.key()), 0)
        keys = [layer.key for layer in self.layers]
        if by and self.at in keys:
            self.picked.emit(keys[max(0, min(len(keys) - 1, keys.index(self.at) + by))])
        else:
            super().keyPressEvent(event)


def _said(layer: Layer) -> tuple[str, str]:
    state = "in" if layer.done else "to come"
    return layer.words, f"{layer.words}: {state}" + (", makes the device live" if layer.power else "")
