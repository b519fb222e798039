"""Devices side by side on one scale: what each role takes in each, and their marks as ranges."""

from __future__ import annotations

from collections.abc import Sequence

from attrs import frozen
from PySide6.QtCore import QPointF, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QBrush, QKeyEvent, QPainter, QPaintEvent, QPen

from oddbolt.core.study.formatting import duration
from oddbolt.core.verdict.scheme import Range3
from oddbolt.core.verdict.side_by_side import SideBySide
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.spoken import Painted

LABEL, LINE, GAP, HEAD, EDGE = 150, 15, 9, 22, 8
#: fills that are told apart in grey, one for each device
FILLS = (
    Qt.BrushStyle.SolidPattern,
    Qt.BrushStyle.BDiagPattern,
    Qt.BrushStyle.NoBrush,
    Qt.BrushStyle.Dense5Pattern,
    Qt.BrushStyle.CrossPattern,
    Qt.BrushStyle.HorPattern,
)
LETTERS = "ABCDEFGHIJKL"


@frozen
class Band:
    """One band of the picture: what it is about, and for each device a length, a range or None, with its words; what
    the range takes in is the ``note``."""

    about: str
    values: tuple[tuple[float, float, float] | None, ...]
    words: tuple[str, ...]
    is_mark: bool
    note: str = ""


def bands_of(found: SideBySide, scales: dict[str, tuple[str, float, float]]) -> list[Band]:
    """The marks first, each on its own scale (name, least, most), then the roles on one scale of time, then figures of
    the whole devices: time, steps, renewals, mass, screws by driver."""
    out = []
    for id, order in found.orders.items():
        name, least, most = scales.get(id, (id, 0.0, 10.0))
        of = dict(zip(order.names, order.scores, strict=True))
        values = []
        for device in found.names:
            s: Range3 = of[device]
            wide = max(most - least, 1e-9)
            values.append(((s.low - least) / wide, (s.likely - least) / wide, (s.high - least) / wide))
        note = "" if id == "bench mark" else f"weights ±{found.near:.0%}".replace("%", " %")
        out.append(
            Band(name, tuple(values), tuple(of[device].words(most - least) for device in found.names), True, note)
        )
    longest = max((f.seconds[1] for row in found.rows for f in row.figures if f), default=1.0)
    for row in found.rows:
        values_ = tuple(
            (f.seconds[0] / longest, f.seconds[0] / longest, f.seconds[1] / longest) if f else None for f in row.figures
        )
        words = tuple(
            f"{f.steps[0]:g} steps, {f.screws} screws, {duration(f.seconds[0])}" if f else "no such part"
            for f in row.figures
        )
        out.append(Band(f"to the {row.role}", values_, words, False))
    return out + [_whole(what, values, unit) for what, values, unit in found.whole() if any(values)]


def _whole(what: str, values: Sequence[float | None], unit: str) -> Band:
    """A figure of whole devices, on a scale of its own."""
    longest = max((v for v in values if v is not None), default=1.0) or 1.0
    shown = tuple(None if v is None else (v / longest, v / longest, v / longest) for v in values)
    words = tuple(
        "not recorded" if v is None else duration(v) if unit == "s" else f"{v:g} {unit}".strip() for v in values
    )
    return Band(what, shown, words, False)


class Comparison(Painted):
    """The bands, with the devices named above by their letters. ``picked`` gives the number of a band."""

    picked = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.names: tuple[str, ...] = ()
        self.bands: tuple[Band, ...] = ()
        self.at = -1
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Devices side by side")

    def show_bands(self, names: Sequence[str], bands: Sequence[Band]) -> None:
        """Show devices."""
        self.names, self.bands = tuple(names), tuple(bands)
        self.setMinimumHeight(self._high())
        self.say_items(range(len(self.bands)), self.at, self._said)
        self.update()

    def _said(self, n: int) -> tuple[str, str]:
        band = self.bands[n]
        told = "; ".join(f"{name}: {words}" for name, words in zip(self.names, band.words, strict=True))
        return band.about, f"{band.about}{f', {band.note}' if band.note else ''}: {told}"

    def _band_high(self) -> int:
        return LINE * max(1, len(self.names)) + GAP

    def _high(self) -> int:
        return HEAD + len(self.bands) * self._band_high() + 2 * EDGE

    def sizeHint(self) -> QSize:
        return QSize(800, max(200, self._high()))

    def item_box(self, id: int) -> QRect:
        return QRect(0, HEAD + EDGE + id * self._band_high(), self.width(), self._band_high())

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.paint(painter)

    def paint(self, painter: QPainter) -> None:
        """Draw all of it."""
        x = float(EDGE)
        for n, name in enumerate(self.names):
            painter.setFont(theme.text(9.5, bold=True))
            self._fill(painter, n)
            painter.drawRect(QRectF(x, 6, 22, 11))
            painter.setPen(theme.colour("ink"))
            words = f"{LETTERS[n]}  {name}"
            painter.drawText(QPointF(x + 28, 16), words)
            x += 28 + painter.fontMetrics().horizontalAdvance(words) + 22
        for n, band in enumerate(self.bands):
            self._band(painter, n, band)

    def _fill(self, painter: QPainter, n: int) -> None:
        painter.setPen(QPen(theme.colour("ink"), 1))
        painter.setBrush(QBrush(theme.colour("muted"), FILLS[n % len(FILLS)]))

    def _band(self, painter: QPainter, n: int, band: Band) -> None:
        box = QRectF(self.item_box(n))
        painter.setPen(QPen(theme.colour("rule"), 1))
        painter.drawLine(box.topLeft(), box.topRight())
        painter.setFont(theme.text(9.5, bold=n == self.at))
        painter.setPen(theme.colour("copper" if n == self.at else "ink"))
        words = painter.fontMetrics().elidedText(band.about, Qt.TextElideMode.ElideRight, LABEL - 12)
        painter.drawText(QRectF(EDGE, box.top() + 3, LABEL - 12, LINE + 3), Qt.AlignmentFlag.AlignLeft, words)
        if band.note:
            painter.setFont(theme.text(8.5))
            painter.setPen(theme.colour("muted"))
            painter.drawText(
                QRectF(EDGE, box.top() + LINE + 4, LABEL - 12, LINE), Qt.AlignmentFlag.AlignLeft, band.note
            )
        room = max(60.0, box.width() - LABEL - 250)
        for k, value in enumerate(band.values):
            y = box.top() + GAP / 2 + k * LINE
            painter.setFont(theme.figures(8.5))
            painter.setPen(theme.colour("muted"))
            painter.drawText(QPointF(LABEL - 4, y + LINE - 4), LETTERS[k])
            left = LABEL + 12.0
            if value is not None:
                low, likely, high = (left + room * min(max(v, 0.0), 1.0) for v in value)
                self._fill(painter, k)
                if band.is_mark:
                    middle = y + LINE / 2
                    painter.setPen(QPen(theme.colour("rule"), 1))
                    painter.drawLine(QPointF(left, middle), QPointF(left + room, middle))
                    painter.setPen(QPen(theme.colour("ink"), 2.2))
                    painter.drawLine(QPointF(low, middle), QPointF(high, middle))
                    self._fill(painter, k)
                    painter.drawEllipse(QPointF(likely, middle), 4.5, 4.5)
                else:
                    painter.drawRect(QRectF(left, y + 2, max(1.5, low - left), LINE - 5))
                    if high > low + 1:
                        painter.setPen(QPen(theme.colour("ink"), 1, Qt.PenStyle.DashLine))
                        painter.setBrush(Qt.BrushStyle.NoBrush)
                        painter.drawRect(QRectF(low, y + 2, high - low, LINE - 5))
            painter.setPen(theme.colour("ink" if value is not None else "muted"))
            painter.setFont(theme.text(8.5))
            said = painter.fontMetrics().elidedText(band.words[k], Qt.TextElideMode.ElideRight, 232)
            painter.drawText(QPointF(left + room + 10, y + LINE - 4), said)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        by = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()), 0)
        if by and self.bands:
            self.at = max(0, min(len(self.bands) - 1, self.at + by))
            self.say_items(range(len(self.bands)), self.at, self._said)
            self.update()
            self.picked.emit(self.at)
        else:
            super().keyPressEvent(event)
