"""What is cheap to fix: every change by what it asks of a maker and what it saves, and the line that none beats."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import pairwise
from math import sqrt

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QHelpEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QToolTip

from oddbolt.core.reach.what_if import LEAST_S, Change, Effect, effort, front
from oddbolt.core.study.formatting import duration
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.labels import tip
from oddbolt.desk.widgets.spoken import Painted

LEFT, TOP, RIGHT, FOOT, DOT = 58, 10, 12, 34, 3.5
#: marks of what is saved, s
MARKS = (5, 30, 60, 120, 300, 600, 1200, 3600)


class Cheap(Painted):
    """Points at effort and saving; ``picked`` gives the changes of one."""

    picked = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.effects: list[Effect] = []
        self.best: tuple[Effect, ...] = ()
        self.chosen: tuple[Change, ...] = ()
        self.words: Callable[[Effect], str] = lambda _effect: ""
        self.setAccessibleName("Effort against saving")
        self.setMinimumWidth(220)

    def show_effects(
        self, effects: Sequence[Effect], chosen: tuple[Change, ...], words: Callable[[Effect], str]
    ) -> None:
        """Show these effects; ``words`` says what one is."""
        self.effects = [e for e in effects if e.seconds > LEAST_S]
        self.best, self.chosen, self.words = front(self.effects), chosen, words
        of = {e.changes: e for e in self.effects}
        self.say_items(list(of), chosen, lambda changes: (words(of[changes]), f"saves {duration(of[changes].seconds)}"))
        self.update()

    def _place(self, effect: Effect) -> QPointF:
        across = (self.width() - LEFT - RIGHT) * (effort(effect.changes) - 0.5) / 5
        return QPointF(LEFT + across, self._height(effect.seconds))

    def _height(self, seconds: float) -> float:
        most = max((e.seconds for e in self.effects), default=1.0)
        return self.height() - FOOT - (self.height() - TOP - FOOT) * sqrt(seconds / most)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self.effects:
            return
        low, right = self.height() - FOOT, self.width() - RIGHT
        painter.setFont(theme.figures(8))
        drawn = float(low) + 20
        for seconds in MARKS:
            y = self._height(seconds)
            if y < TOP - 2 or drawn - y < 15:
                continue
            drawn = y
            painter.setPen(QPen(theme.colour("rule"), 1))
            painter.drawLine(QPointF(LEFT, y), QPointF(right, y))
            painter.setPen(theme.colour("muted"))
            align = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
            painter.drawText(QRectF(0, y - 7, LEFT - 6, 14), align, duration(seconds))
        painter.setPen(QPen(theme.colour("muted"), 1))
        painter.setFont(theme.text(8.5))
        painter.drawText(QRectF(0, 0, LEFT - 6, 14), Qt.AlignmentFlag.AlignRight, "saves")
        painter.drawLine(QPointF(LEFT, low), QPointF(right, low))
        half = (right - LEFT) / 2
        for x, words, align in (
            (LEFT, "screw", Qt.AlignmentFlag.AlignLeft),
            (LEFT + half, "layout", Qt.AlignmentFlag.AlignRight),
        ):
            painter.drawText(QRectF(x, low + 2, half, 14), align, words)
        painter.drawText(
            QRectF(LEFT, low + 16, right - LEFT, 14), Qt.AlignmentFlag.AlignHCenter, "effort for the maker"
        )
        painter.setPen(QPen(theme.colour("copper"), 1.4))
        for one, after in pairwise(self.best):
            a, b = self._place(one), self._place(after)
            painter.drawPolyline([a, QPointF(b.x(), a.y()), b])
        for effect in self.effects:
            at = self._place(effect)
            good = effect in self.best
            painter.setPen(QPen(theme.colour("copper" if good else "muted"), 1.4))
            chosen = effect.changes == self.chosen
            painter.setBrush(theme.colour("copper") if chosen else theme.colour("card"))
            side = DOT + (1.5 if good else 0)
            painter.drawRect(QRectF(at.x() - side, at.y() - side, 2 * side, 2 * side))

    def _near(self, at: QPointF) -> Effect | None:
        near = sorted(((self._place(e) - at).manhattanLength(), n) for n, e in enumerate(self.effects))
        return self.effects[near[0][1]] if near and near[0][0] < 14 else None

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent):
            effect = self._near(QPointF(event.pos()))
            words = f"{self.words(effect)}: saves {duration(effect.seconds)}" if effect else ""
            QToolTip.showText(event.globalPos(), tip(words), self)
            return True
        return super().event(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        effect = self._near(event.position())
        if effect is not None:
            self.picked.emit(effect.changes)
