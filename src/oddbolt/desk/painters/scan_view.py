"""The photo of a scan with what was found drawn over it: each screw with its length, the odd things in copper."""

from __future__ import annotations

from collections.abc import Sequence

from attrs import frozen
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF

from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.spoken import ARROWS, Painted, Role

WALK = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}


@frozen
class Spot:
    """One thing on the photo: its outline as shares of width and height, its words, and whether it counts."""

    outline: tuple[tuple[float, float], ...]
    words: str
    counts: bool
    about: str


class ScanView(Painted):
    """``picked`` gives the number of a thing, ``toggled`` one that counts or not from now on, ``entered`` asks for the
    scan to be entered. Arrows walk from thing to thing, Del toggles, Enter enters.

    While ``picking`` is on, ``pointed`` gives a point as shares of width and height, by a click or by Space at the
    cross that the arrows move, and ``unpointed`` takes the last one back (Backspace).
    """

    picked = Signal(int)
    toggled = Signal(int)
    entered = Signal()
    pointed = Signal(float, float)
    unpointed = Signal()

    role, item_role = Role.Graphic, Role.Graphic

    def __init__(self) -> None:
        super().__init__()
        self.image = QImage()
        self.spots: Sequence[Spot] = ()
        self.chosen, self.empty = -1, ""
        self.picking, self.closed, self.cross = False, False, (0.5, 0.5)
        self.points: Sequence[tuple[float, float]] = ()
        self.numbers: Sequence[str] = ()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Photo with the screws found on it")
        self.setMinimumSize(320, 240)

    def sizeHint(self) -> QSize:
        return QSize(620, 480)

    def show_scan(self, image: QImage, spots: Sequence[Spot], chosen: int, empty: str) -> None:
        """Show a photo and what lies on it, or the words ``empty`` where there is none."""
        self.image, self.spots, self.chosen, self.empty = image, spots, chosen, empty
        self.say_items(range(len(spots)), chosen, lambda n: (spots[n].words, f"{spots[n].words}, {spots[n].about}"))
        self.update()

    def show_points(
        self, points: Sequence[tuple[float, float]], numbers: Sequence[str], picking: bool, closed: bool
    ) -> None:
        """Show points picked, joined by a line (back to the first if ``closed``) unless they are numbered."""
        self.points, self.numbers, self.picking, self.closed = points, numbers, picking, closed
        self.setCursor(Qt.CursorShape.CrossCursor if picking else Qt.CursorShape.ArrowCursor)
        self.update()

    def _place(self) -> QRectF:
        """Where the photo is shown."""
        box = QRectF(self.rect()).adjusted(6, 6, -6, -6)
        if self.image.isNull():
            return box
        share = min(box.width() / self.image.width(), box.height() / self.image.height())
        wide, high = self.image.width() * share, self.image.height() * share
        return QRectF(box.center().x() - wide / 2, box.center().y() - high / 2, wide, high)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), theme.colour("photo"))
        light = theme.colour("card" if theme.current is theme.DAY else "ink")
        if self.image.isNull():
            painter.setPen(light)
            painter.setFont(theme.text(11))
            words = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(QRectF(self.rect()).adjusted(24, 24, -24, -24), words, self.empty)
            return
        place = self._place()
        painter.drawImage(place, self.image)
        painter.setFont(theme.figures(9.5))
        if self.picking:
            self._draw_points(painter, place, light)
        for n, spot in enumerate(() if self.picking else self.spots):
            line = self._polygon(spot, place)
            colour = light if spot.counts else theme.colour("copper")
            painter.setPen(QPen(colour, 2.6 if n == self.chosen else 1.3))
            painter.drawPolygon(line)
            box = painter.fontMetrics().boundingRect(spot.words).adjusted(-3, -1, 3, 1)
            at = line.boundingRect().topRight() + QPointF(2, -2)
            tag = QRectF(at.x(), at.y() - box.height(), box.width(), box.height())
            tag.moveRight(min(tag.right(), place.right()))
            painter.fillRect(tag, theme.colour("copper") if n == self.chosen else theme.colour("photo"))
            painter.setPen(theme.colour("card") if n == self.chosen else colour)
            painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, spot.words)
        if self.hasFocus():
            painter.setPen(QPen(theme.colour("copper"), 2))
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def _draw_points(self, painter: QPainter, place: QRectF, light: QColor) -> None:
        at = [_in(place, p) for p in self.points]
        painter.setPen(QPen(light, 1.6))
        if len(at) > 1 and not self.numbers:
            painter.drawPolyline(QPolygonF([*at, at[0]] if self.closed and len(at) > 2 else at))
        for n, point in enumerate(at):
            painter.setPen(QPen(theme.colour("copper"), 2))
            painter.drawEllipse(point, 5, 5)
            if n < len(self.numbers):
                tag = QRectF(point.x() + 7, point.y() - 18, 22, 17)
                painter.fillRect(tag, theme.colour("photo"))
                painter.setPen(light)
                painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, self.numbers[n])
        if self.hasFocus():
            cross = _in(place, self.cross)
            painter.setPen(QPen(light, 1))
            painter.drawLine(cross - QPointF(12, 0), cross + QPointF(12, 0))
            painter.drawLine(cross - QPointF(0, 12), cross + QPointF(0, 12))

    @staticmethod
    def _polygon(spot: Spot, place: QRectF) -> QPolygonF:
        return QPolygonF([_in(place, p) for p in spot.outline])

    def mousePressEvent(self, event: QMouseEvent) -> None:
        place = self._place()
        if self.picking:
            x = (event.position().x() - place.left()) / place.width()
            y = (event.position().y() - place.top()) / place.height()
            if 0 <= x <= 1 and 0 <= y <= 1 and not self.image.isNull():
                self.cross = (x, y)
                self.pointed.emit(x, y)
            return
        gaps = [
            (0.0 if line.containsPoint(event.position(), Qt.FillRule.OddEvenFill) else 1.0, n)
            for n, spot in enumerate(self.spots)
            if (line := self._polygon(spot, place)).boundingRect().adjusted(-5, -5, 5, 5).contains(event.position())
        ]
        if gaps:
            self.picked.emit(min(gaps)[1])

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        if self.picking and key in ARROWS and not self.image.isNull():
            far = 20 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
            x = self.cross[0] + ARROWS[key][0] * far / self._place().width()
            y = self.cross[1] + ARROWS[key][1] * far / self._place().height()
            self.cross = min(1.0, max(0.0, x)), min(1.0, max(0.0, y))
            self.update()
        elif self.picking and key == Qt.Key.Key_Space:
            self.pointed.emit(*self.cross)
        elif self.picking and key == Qt.Key.Key_Backspace:
            self.unpointed.emit()
        elif key in WALK and self.spots:
            self.picked.emit((max(self.chosen, -1) + WALK[key]) % len(self.spots))
        elif key == Qt.Key.Key_Delete and 0 <= self.chosen < len(self.spots):
            self.toggled.emit(self.chosen)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.entered.emit()
        else:
            super().keyPressEvent(event)


def _in(place: QRectF, point: tuple[float, float]) -> QPointF:
    return QPointF(place.left() + point[0] * place.width(), place.top() + point[1] * place.height())
