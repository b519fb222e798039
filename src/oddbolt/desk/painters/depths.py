"""Devices as columns of strata on one scale of time: how deep each part lies, and ribbons from a role in one device to
the same role in the next."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from PySide6.QtCore import QPointF, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF

from oddbolt.core.study.formatting import duration
from oddbolt.core.verdict.side_by_side import SideBySide
from oddbolt.core.verdict.summary import Layer
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.spoken import ARROWS, Painted

TOP, FOOT, SIDE, WIDEST, NARROWEST, LINE, HIGH = 60, 12, 58, 132, 78, 14, 300
#: steps between marks of the scale, s; the first that gives few enough
TICKS = (10, 30, 60, 120, 300, 600, 1800, 3600, 7200, 18000)


class Depths(Painted):
    """One column a device. ``picked`` gives a role."""

    picked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.names: tuple[str, ...] = ()
        self.layers: tuple[tuple[Layer, ...], ...] = ()
        self.roles: tuple[str, ...] = ()
        self.at = ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("How deep the parts lie")

    def show_side(self, side: SideBySide | None) -> None:
        """Show devices side by side, or nothing."""
        self.names = side.names if side else ()
        self.layers = tuple(one.layers for one in side.summaries) if side else ()
        found = [layer.role for layers in self.layers for layer in layers if layer.role]
        self.roles = tuple(sorted(dict.fromkeys(found), key=lambda role: (-found.count(role), role)))
        if self.at not in self.roles:
            self.at = ""
        self.setMinimumHeight(HIGH)
        self.setMinimumWidth(SIDE + len(self.names) * (NARROWEST + 34))
        self.say_items(self.roles, self.at, self._said)
        self.update()

    def _said(self, role: str) -> tuple[str, str]:
        told = []
        for name, layers in zip(self.names, self.layers, strict=True):
            one = next((layer for layer in layers if layer.role == role), None)
            told.append(f"{name}: {duration(one.seconds[0]) if one else 'no such part'}")
        return role, f"{role}: {'; '.join(told)}"

    def sizeHint(self) -> QSize:
        return QSize(SIDE + max(2, len(self.names)) * (WIDEST + 90), HIGH)

    def _longest(self) -> float:
        return max((layer.seconds[1] for layers in self.layers for layer in layers), default=1.0)

    def _y(self, seconds: float) -> float:
        return TOP + (self.height() - TOP - FOOT - LINE) * seconds / self._longest()

    @property
    def _wide(self) -> float:
        """How wide a column is."""
        return min(WIDEST, 0.66 * (self.width() - SIDE) / max(1, len(self.names)))

    def _x(self, n: int) -> float:
        return SIDE + n * (self.width() - SIDE - self._wide - 8) / max(1, len(self.names) - 1)

    def item_box(self, id: str) -> QRect:
        for n, layers in enumerate(self.layers):
            for layer in layers:
                if layer.role == id:
                    return QRectF(self._x(n), self._y(layer.seconds[0]) - LINE, self._wide, LINE + 4).toRect()
        return self.rect()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.paint(painter)

    def paint(self, painter: QPainter) -> None:
        """Draw all of it."""
        if not self.names:
            return
        self._scale(painter)
        for role in self.roles:
            if role != self.at:
                self._ribbons(painter, role)
        if self.at:
            self._ribbons(painter, self.at)
        for n, (name, layers) in enumerate(zip(self.names, self.layers, strict=True)):
            self._column(painter, n, name, layers)

    def _scale(self, painter: QPainter) -> None:
        longest = self._longest()
        step = next((t for t in TICKS if longest / t <= 8), TICKS[-1])
        painter.setFont(theme.figures(8.5))
        for k in range(int(longest // step) + 1):
            y = self._y(k * step)
            painter.setPen(QPen(theme.colour("rule"), 1))
            painter.drawLine(QPointF(SIDE - 6, y), QPointF(self.width() - 6, y))
            painter.setPen(theme.colour("muted"))
            words = duration(k * step) if k else "0"
            painter.drawText(QRectF(0, y - 8, SIDE - 10, 16), Qt.AlignmentFlag.AlignRight, words)

    def _ribbons(self, painter: QPainter, role: str) -> None:
        """Between neighbours that both have the role; where one between has none, across it."""
        ends = [(n, one) for n, layers in enumerate(self.layers) for one in layers if one.role == role]
        seen: dict[int, Layer] = {}
        for n, one in ends:
            seen.setdefault(n, one)
        order = sorted(seen)
        colour = QColor(theme.colour("copper" if role == self.at else "muted"))
        colour.setAlphaF(0.55 if role == self.at else 0.22)
        painter.setPen(QPen(theme.colour("copper" if role == self.at else "rule"), 1))
        painter.setBrush(colour)
        for a, b in pairwise(order):
            x, u = self._x(a) + self._wide, self._x(b)
            low, high = seen[a].seconds, seen[b].seconds
            corners = [(x, low[0]), (u, high[0]), (u, max(high[1], high[0])), (x, max(low[1], low[0]))]
            points = [QPointF(px, self._y(s) + (2 if k > 1 else -1)) for k, (px, s) in enumerate(corners)]
            painter.drawPolygon(QPolygonF(points))

    def _column(self, painter: QPainter, n: int, name: str, layers: Sequence[Layer]) -> None:
        x = self._x(n)
        painter.setFont(theme.text(10, bold=True))
        painter.setPen(theme.colour("ink"))
        room = QRectF(x - 4, 4, min(self._wide * 1.42, self.width() - x), 48)
        painter.drawText(room, Qt.AlignmentFlag.AlignBottom | Qt.TextFlag.TextWordWrap, name)
        before, deepest = 0.0, max((layer.seconds[0] for layer in layers), default=0.0)
        for k, layer in enumerate(layers):
            box = QRectF(x, self._y(before), self._wide, max(0.0, self._y(layer.seconds[0]) - self._y(before)))
            painter.fillRect(box, theme.bar(k / max(1, len(layers))))
            before = layer.seconds[0]
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.colour("ink"), 1))
        painter.drawRect(QRectF(x, self._y(0), self._wide, self._y(deepest) - self._y(0)))
        floor = self._y(0) + LINE
        for layer in layers:
            if not layer.role:
                continue
            y = self._y(layer.seconds[0])
            chosen = layer.role == self.at
            painter.setPen(QPen(theme.colour("copper" if chosen else "ink"), 2 if chosen else 1.2))
            painter.drawLine(QPointF(x, y), QPointF(x + self._wide, y))
            floor = max(floor, y)  # names do not lie on each other
            painter.setFont(theme.text(9, bold=chosen))
            words = painter.fontMetrics().elidedText(layer.role, Qt.TextElideMode.ElideRight, int(self._wide) - 10)
            wide = painter.fontMetrics().horizontalAdvance(words)
            painter.fillRect(QRectF(x + 3, floor - LINE + 1, wide + 6, LINE - 2), theme.colour("card"))
            painter.setPen(theme.colour("copper" if chosen else "ink"))
            painter.drawText(QPointF(x + 6, floor - 3), words)
            floor += LINE

    # -- the hand -------------------------------------------------------------------------------------------

    def keyPressEvent(self, event: QKeyEvent) -> None:
        way = ARROWS.get(Qt.Key(event.key()))
        if way is None or not self.roles:
            super().keyPressEvent(event)
            return
        at = self.roles.index(self.at) if self.at else -1
        self.choose(self.roles[max(0, min(len(self.roles) - 1, at + way[0] + way[1]))])

    def choose(self, role: str) -> None:
        """Choose a role: its ribbon is shown in copper."""
        self.at = role
        self.say_items(self.roles, self.at, self._said)
        self.update()
        self.picked.emit(role)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        x, y = event.position().x(), event.position().y()
        near = [
            (abs(self._y(layer.seconds[0]) - y), layer.role)
            for n, layers in enumerate(self.layers)
            for layer in layers
            if layer.role and self._x(n) <= x <= self._x(n) + self._wide
        ]
        if near:
            self.choose(min(near)[1])
