"""How a part is drawn where no photo shows it: a plain sign for each sort of part, filling its body."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from oddbolt.desk.widgets import theme

#: smaller than this, px, a sign is only its body
LEAST_PX = 7.0


def draw(painter: QPainter, sign: str, box: QRectF, ink: QColor, sure: bool) -> None:
    """Draw the sign into its box; with a broken line where its size is assumed."""
    painter.setPen(QPen(ink, 1.1, Qt.PenStyle.SolidLine if sure else Qt.PenStyle.DashLine))
    painter.setBrush(theme.colour("card"))
    SIGNS.get(sign, _block)(painter, box)


def _thin(painter: QPainter) -> None:
    pen = QPen(painter.pen())
    pen.setWidthF(0.7)
    pen.setStyle(Qt.PenStyle.SolidLine)
    painter.setPen(pen)


def _fill(painter: QPainter, tone: int) -> None:
    tones = theme.current.bars
    painter.setBrush(QColor(tones[min(tone, len(tones) - 1)]))


def _tiny(box: QRectF) -> bool:
    return min(box.width(), box.height()) < LEAST_PX


def _block(painter: QPainter, box: QRectF) -> None:
    painter.drawRect(box)
    if not _tiny(box):
        _thin(painter)
        painter.drawLine(
            box.topLeft() + QPointF(0, box.height() * 0.3), box.topRight() + QPointF(0, box.height() * 0.3)
        )


def _board(painter: QPainter, box: QRectF) -> None:
    _fill(painter, 1)
    painter.drawRoundedRect(box, 2, 2)
    if _tiny(box):
        return
    _thin(painter)
    inset = min(box.width(), box.height()) * 0.09
    for corner in (box.topLeft(), box.topRight(), box.bottomLeft(), box.bottomRight()):
        middle = corner + QPointF(
            inset if corner.x() == box.left() else -inset, inset if corner.y() == box.top() else -inset
        )
        painter.drawEllipse(middle, inset * 0.45, inset * 0.45)
    for n in range(3):
        y = box.top() + box.height() * (0.35 + 0.15 * n)
        painter.drawLine(
            QPointF(box.left() + box.width() * 0.2, y), QPointF(box.left() + box.width() * (0.8 - 0.15 * n), y)
        )


def _chip(painter: QPainter, box: QRectF) -> None:
    if _tiny(box):
        _fill(painter, 5)
        painter.drawRect(box)
        return
    inset = min(box.width(), box.height()) * 0.14
    body = box.adjusted(inset, inset, -inset, -inset)
    pins = max(2, min(7, round(body.width() / 6)))
    pen = painter.pen()
    _thin(painter)
    for n in range(pins):
        x = body.left() + body.width() * (n + 0.5) / pins
        painter.drawLine(QPointF(x, box.top()), QPointF(x, body.top()))
        painter.drawLine(QPointF(x, body.bottom()), QPointF(x, box.bottom()))
    painter.setPen(pen)
    _fill(painter, 5)
    painter.drawRect(body)
    painter.setBrush(theme.colour("card"))
    spot = min(body.width(), body.height()) * 0.12
    painter.drawEllipse(body.bottomLeft() + QPointF(spot * 2, -spot * 2), spot, spot)


def _disc(painter: QPainter, box: QRectF) -> None:
    painter.drawEllipse(box)
    if not _tiny(box):
        _thin(painter)
        painter.drawEllipse(box.center(), box.width() * 0.28, box.height() * 0.28)


def _ring(painter: QPainter, box: QRectF) -> None:
    radius = min(box.width(), box.height()) * 0.45
    painter.drawRoundedRect(box, radius, radius)
    inset = min(6.0, radius * 0.3)
    painter.setBrush(theme.colour("mat"))
    painter.drawRoundedRect(box.adjusted(inset, inset, -inset, -inset), radius - inset, radius - inset)


def _cell(painter: QPainter, box: QRectF) -> None:
    _fill(painter, 3)
    painter.drawRoundedRect(box, 3, 3)
    if _tiny(box):
        return
    _thin(painter)
    arm = min(box.width(), box.height()) * 0.12
    plus = QPointF(box.right() - arm * 2, box.top() + arm * 2)
    minus = QPointF(box.left() + arm * 2, box.top() + arm * 2)
    painter.drawLine(plus - QPointF(arm, 0), plus + QPointF(arm, 0))
    painter.drawLine(plus - QPointF(0, arm), plus + QPointF(0, arm))
    painter.drawLine(minus - QPointF(arm, 0), minus + QPointF(arm, 0))


def _motor(painter: QPainter, box: QRectF) -> None:
    body = box.adjusted(0, 0, -box.width() * 0.22, 0)
    _fill(painter, 2)
    painter.drawRoundedRect(body, 3, 3)
    middle = box.center().y()
    painter.drawRect(
        QRectF(body.right(), middle - box.height() * 0.06, box.right() - body.right(), box.height() * 0.12)
    )


def _strip(painter: QPainter, box: QRectF) -> None:
    _fill(painter, 0)
    painter.drawRoundedRect(box, min(box.height(), box.width()) / 3, min(box.height(), box.width()) / 3)


def _lead(painter: QPainter, box: QRectF) -> None:
    painter.setBrush(Qt.BrushStyle.NoBrush)
    pen = QPen(painter.pen())
    pen.setWidthF(2.0)
    painter.setPen(pen)
    half = box.center()
    painter.drawArc(QRectF(box.left(), box.top(), box.width() / 2, box.height()), 0, 180 * 16)
    painter.drawArc(QRectF(half.x(), box.top(), box.width() / 2, box.height()), 180 * 16, 180 * 16)


def _rod(painter: QPainter, box: QRectF) -> None:
    _fill(painter, 1)
    radius = min(box.width(), box.height()) / 2
    painter.drawRoundedRect(box, radius, radius)


def _glass(painter: QPainter, box: QRectF) -> None:
    painter.drawRoundedRect(box, 3, 3)
    if _tiny(box):
        return
    _thin(painter)
    for n in (0.25, 0.4):
        a = QPointF(box.left() + box.width() * n, box.top() + 3)
        painter.drawLine(a, QPointF(max(box.left() + 3, a.x() - box.width() * 0.2), box.top() + box.height() * 0.45))


def _lid(painter: QPainter, box: QRectF) -> None:
    _fill(painter, 2)
    painter.drawRect(box)
    if not _tiny(box):
        _thin(painter)
        inset = min(box.width(), box.height()) * 0.12
        painter.drawRect(box.adjusted(inset, inset, -inset, -inset))


def _frame(painter: QPainter, box: QRectF) -> None:
    painter.drawRoundedRect(box, 4, 4)
    inset = min(box.width(), box.height()) * 0.16
    if inset < 2:
        return
    _thin(painter)
    painter.setBrush(theme.colour("mat"))
    painter.drawRoundedRect(box.adjusted(inset, inset, -inset, -inset), 3, 3)


def _gear(painter: QPainter, box: QRectF) -> None:
    middle, a, b = box.center(), box.width() / 2, box.height() / 2
    if _tiny(box):
        painter.drawEllipse(box)
        return
    painter.drawEllipse(middle, a * 0.82, b * 0.82)
    from math import cos, pi, sin

    for n in range(10):
        turn = n * pi / 5
        painter.drawLine(
            middle + QPointF(a * 0.82 * cos(turn), b * 0.82 * sin(turn)), middle + QPointF(a * cos(turn), b * sin(turn))
        )
    painter.drawEllipse(middle, a * 0.2, b * 0.2)


def _dot(painter: QPainter, box: QRectF) -> None:
    _fill(painter, 3)
    painter.drawEllipse(box)


def _label(painter: QPainter, box: QRectF) -> None:
    painter.drawRect(box)
    if _tiny(box):
        return
    _thin(painter)
    for n in range(3):
        y = box.top() + box.height() * (0.3 + 0.2 * n)
        painter.drawLine(
            QPointF(box.left() + box.width() * 0.1, y), QPointF(box.right() - box.width() * (0.1 + 0.2 * n), y)
        )


def _keys(painter: QPainter, box: QRectF) -> None:
    _fill(painter, 1)
    painter.drawRoundedRect(box, 3, 3)
    if _tiny(box):
        return
    _thin(painter)
    painter.setBrush(theme.colour("card"))
    count = max(2, min(5, round(box.width() / max(box.height(), 1.0))))
    wide = box.width() / count
    for n in range(count):
        key = QRectF(box.left() + n * wide, box.top(), wide, box.height())
        painter.drawRoundedRect(key.adjusted(wide * 0.2, box.height() * 0.25, -wide * 0.2, -box.height() * 0.25), 2, 2)


def _module(painter: QPainter, box: QRectF) -> None:
    _fill(painter, 0)
    painter.drawRoundedRect(box, 5, 5)
    if _tiny(box):
        return
    _thin(painter)
    painter.drawLine(box.center() - QPointF(0, box.height() / 2), box.center() + QPointF(0, box.height() / 2))


def _plug(painter: QPainter, box: QRectF) -> None:
    painter.drawRect(box)
    if _tiny(box):
        return
    _thin(painter)
    count = max(2, min(9, round(box.width() / 5)))
    for n in range(count):
        x = box.left() + box.width() * (n + 0.5) / count
        painter.drawLine(QPointF(x, box.top() + box.height() * 0.25), QPointF(x, box.bottom()))


SIGNS: dict[str, Callable[[QPainter, QRectF], None]] = {
    "block": _block,
    "board": _board,
    "chip": _chip,
    "disc": _disc,
    "ring": _ring,
    "cell": _cell,
    "motor": _motor,
    "strip": _strip,
    "sheet": _strip,
    "lead": _lead,
    "rod": _rod,
    "glass": _glass,
    "lid": _lid,
    "frame": _frame,
    "gear": _gear,
    "dot": _dot,
    "label": _label,
    "keys": _keys,
    "module": _module,
    "plug": _plug,
}
