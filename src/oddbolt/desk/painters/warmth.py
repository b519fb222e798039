"""The warm-up curve: cover, bond line and what must stay cool over time, the safe window, and the timer."""

from __future__ import annotations

from itertools import pairwise
from math import isfinite

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from oddbolt.core.opening.warmup import Array, SafePeriod, Warming, WarmupBand
from oddbolt.core.study import Warmup
from oddbolt.core.study.formatting import duration
from oddbolt.desk.widgets import theme

LEFT, RIGHT, TOP, BOTTOM = 34, 58, 10, 30


def _crosses(path: QPainterPath, box: QRectF) -> bool:
    """Whether a curve runs through a box."""
    room = box.adjusted(-3, -3, 3, 3)
    points = [QPointF(path.elementAt(n)) for n in range(path.elementCount())]  # type: ignore[call-overload]
    return any(room.intersects(QRectF(a, b).normalized().adjusted(0, 0, 0.1, 0.1)) for a, b in pairwise(points))


class Warmth(QWidget):
    """Shows a warming and its band. ``now_s`` is where the running timer stands, or None."""

    def __init__(self) -> None:
        super().__init__()
        self.warmup: Warmup | None = None
        self.warming: Warming | None = None
        self.window_: SafePeriod | None = None
        self.band: WarmupBand | None = None
        self.now_s: float | None = None
        self.trouble = ""
        self.setMinimumSize(220, 150)
        self.setAccessibleName("Warm-up curve")

    def sizeHint(self) -> QSize:
        return QSize(340, 220)

    def show_warming(
        self,
        warmup: Warmup | None,
        warming: Warming | None,
        window: SafePeriod | None,
        band: WarmupBand | None,
        trouble: str,
    ) -> None:
        """Show a warming, or say what is missing."""
        self.warmup, self.warming, self.window_, self.band, self.trouble = warmup, warming, window, band, trouble
        self.setAccessibleDescription(window.sentence if window else trouble)
        self.update()

    def show_now(self, seconds: float | None) -> None:
        """Where the timer stands."""
        if seconds != self.now_s:
            self.now_s = seconds
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.warming is None or self.warmup is None or self.window_ is None:
            painter.setPen(theme.colour("muted"))
            painter.setFont(theme.text(10.5))
            words = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(QRectF(self.rect()).adjusted(12, 0, -12, 0), words, self.trouble)
            return
        warmup, warming = self.warmup, self.warming
        self._end = float(warming.times_s[-1])
        self._low = min(warmup.room_c, 20.0) // 10 * 10
        tops = [float(warming.surface_c.max()), warmup.target_c, warmup.limit_c if warming.guarded_c is not None else 0]
        self._high = (max(tops) + 8) // 10 * 10 + 10
        self._safe(painter, self.window_)
        self._frame(painter)
        if self.band is not None:
            self._spread(painter, self.band.times_s, self.band.bond_c, "copper")
            if self.band.guarded_c is not None:
                self._spread(painter, self.band.times_s, self.band.guarded_c, "sea")
        ends: list[tuple[float, str, str]] = []
        for curve, tint, thick, name in (
            (warming.surface_c, "muted", 1.2, "cover"),
            (warming.guarded_c, "sea", 2.0, "inside"),
            (warming.bond_c, "copper", 2.4, "glue"),
        ):
            if curve is not None:
                self._curve(painter, warming.times_s, curve, tint, thick)
                ends.append((self._y(float(curve[-1])), name, tint))
        self._names(painter, ends)
        self._now(painter)

    def _x(self, seconds: float) -> float:
        return LEFT + (self.width() - LEFT - RIGHT) * seconds / self._end

    def _y(self, celsius: float) -> float:
        high = self.height() - TOP - BOTTOM
        return self.height() - BOTTOM - high * (celsius - self._low) / (self._high - self._low)

    def _frame(self, painter: QPainter) -> None:
        painter.setFont(theme.figures(8.5))
        for celsius in np.arange(self._low, self._high + 1, 20):
            y = self._y(float(celsius))
            painter.setPen(QPen(theme.colour("rule"), 1))
            painter.drawLine(QPointF(LEFT, y), QPointF(self.width() - RIGHT, y))
            painter.setPen(theme.colour("muted"))
            painter.drawText(QRectF(0, y - 8, LEFT - 6, 16), Qt.AlignmentFlag.AlignRight, f"{celsius:.0f}")
        minutes = self._end / 60
        step = next((s for s in (1, 2, 5, 10, 20, 30, 60) if minutes / s <= 7), 60)
        for minute in range(0, int(minutes) + 1, step):
            x = self._x(minute * 60.0)
            painter.setPen(QPen(theme.colour("rule"), 1))
            painter.drawLine(QPointF(x, self.height() - BOTTOM), QPointF(x, self.height() - BOTTOM + 4))
            painter.setPen(theme.colour("muted"))
            word = f"{minute} min" if minute == 0 else str(minute)
            painter.drawText(QRectF(x - 24, self.height() - BOTTOM + 5, 48, 14), Qt.AlignmentFlag.AlignCenter, word)
        assert self.warmup is not None
        assert self.warming is not None
        lines = [(self.warmup.target_c, "copper", "soft")]
        if self.warming.guarded_c is not None:
            lines.append((self.warmup.limit_c, "sea", "limit"))
        for celsius, tint, word in lines:
            y = self._y(celsius)
            painter.setPen(QPen(theme.colour(tint), 1, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(LEFT, y), QPointF(self.width() - RIGHT, y))
            painter.setFont(theme.text(8))
            self._label(painter, y, f"{word} {celsius:g} °C")

    def _label(self, painter: QPainter, y: float, words: str) -> None:
        """A label on a line, where no curve runs through it."""
        assert self.warming is not None
        metrics = painter.fontMetrics()
        wide, high = metrics.horizontalAdvance(words) + 6.0, float(metrics.height())
        curves = [c for c in (self.warming.surface_c, self.warming.guarded_c, self.warming.bond_c) if c is not None]
        paths = [self._path(self.warming.times_s, curve) for curve in curves]
        places = [QRectF(x, top, wide, high) for x in np.arange(LEFT + 2, self.width() - RIGHT - wide, 12)
                  for top in (y - high - 1, y + 1)]  # fmt: skip
        free = next((b for b in places if not any(_crosses(path, b) for path in paths)), places[0] if places else None)
        if free is not None:
            painter.drawText(free, Qt.AlignmentFlag.AlignCenter, words)

    def _safe(self, painter: QPainter, window: SafePeriod) -> None:
        """The time in which one may pry, as a field of mat."""
        if window.soft_s is None or window.open_s <= 0:
            return
        end = window.limit_s if window.limit_s is not None else self._end
        box = QRectF(self._x(window.soft_s), TOP, self._x(end) - self._x(window.soft_s), self.height() - TOP - BOTTOM)
        painter.fillRect(box, theme.colour("mat"))
        painter.setFont(theme.text(8.5, bold=True))
        painter.setPen(theme.colour("sea"))
        word = f"pry for {duration(end - window.soft_s)}" if window.limit_s is not None else "pry"
        if painter.fontMetrics().horizontalAdvance(word) < box.width() - 4:
            painter.drawText(
                box.adjusted(0, 0, 0, -4), Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignBottom, word
            )

    def _path(self, times: Array, curve: Array) -> QPainterPath:
        path = QPainterPath(QPointF(self._x(0.0), self._y(float(curve[0]))))
        for t, c in zip(times[1:], curve[1:], strict=True):
            if isfinite(c):
                path.lineTo(self._x(float(t)), self._y(min(float(c), self._high)))
        return path

    def _curve(self, painter: QPainter, times: Array, curve: Array, tint: str, thick: float) -> None:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.colour(tint), thick))
        painter.drawPath(self._path(times, curve))

    def _spread(self, painter: QPainter, times: Array, rows: Array, tint: str) -> None:
        path = self._path(times, rows[2])
        back = self._path(times, rows[0]).toReversed()
        path.connectPath(back)
        path.closeSubpath()
        fill = theme.colour(tint)
        fill.setAlpha(38)
        painter.fillPath(path, fill)

    def _names(self, painter: QPainter, ends: list[tuple[float, str, str]]) -> None:
        """What each curve is, at its right end, moved apart where they meet."""
        painter.setFont(theme.text(8.5))
        last = -100.0
        for y, name, tint in sorted(ends):
            at = max(y, last + 13)
            last = at
            painter.setPen(theme.colour(tint))
            painter.drawText(QPointF(self.width() - RIGHT + 6, at + 4), name)

    def _now(self, painter: QPainter) -> None:
        if self.now_s is None or self.warming is None or self.now_s > self._end:
            return
        x = self._x(self.now_s)
        painter.setPen(QPen(theme.colour("ink"), 1.4))
        painter.drawLine(QPointF(x, TOP), QPointF(x, self.height() - BOTTOM))
        bond = float(np.interp(self.now_s, self.warming.times_s, self.warming.bond_c))
        painter.setBrush(theme.colour("copper"))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawEllipse(QPointF(x, self._y(bond)), 4, 4)
        painter.setPen(theme.colour("ink"))
        painter.setFont(theme.figures(9, bold=True))
        painter.drawText(QPointF(x + 5, TOP + 10), f"{bond:.0f} °C")
