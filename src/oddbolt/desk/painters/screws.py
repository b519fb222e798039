"""Screws drawn from their figures: side view with head, shank and thread, and the recess as its geometry has it."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from oddbolt.core.fasteners import shapes
from oddbolt.core.fasteners.shapes import size_of
from oddbolt.core.study import Joint
from oddbolt.desk.widgets import theme

FINISH = {
    "black": "#3A3D40",
    "silver": "#B9BCBB",
    "stainless": "#C9CBC8",
    "zinc": "#AEB4B6",
    "brass": "#C8A452",
    "gold": "#CFAE58",
    "copper": "#B87A4E",
    "coated": "#5A6B72",
    "plated": "#B4B8B9",
    "blue": "#4D6A86",
}


def side(
    painter: QPainter, x: float, y: float, joint: Joint, scale: float, line: QColor, fill: QColor | None = None
) -> QRectF:
    """Draw a screw standing on its tip, the middle of its head's top at (x, y); scale in px per mm. Returns its box."""
    diameter, pitch, head, length = (v * scale for v in size_of(joint))
    known = joint.length_mm is not None
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    pen = QPen(line, max(1.0, scale / 6))
    if not known:
        pen.setStyle(Qt.PenStyle.DotLine)
    painter.setPen(pen)
    metal = fill or QColor(FINISH.get(joint.finish, "#C3BFB4"))
    painter.setBrush(metal)
    sunk = "countersunk" in joint.head
    height = shapes.head_height(joint.head, head)
    top = QPainterPath()
    if sunk:
        top.addPolygon(
            QPolygonF(
                [
                    QPointF(x - head / 2, y),
                    QPointF(x + head / 2, y),
                    QPointF(x + diameter / 2, y + height),
                    QPointF(x - diameter / 2, y + height),
                ]
            )
        )
        top.closeSubpath()
    else:
        r = height * (0.25 if "cheese" in joint.head else 0.7)
        top.moveTo(x - head / 2, y + height)
        top.lineTo(x - head / 2, y + r)
        top.quadTo(x - head / 2, y, x - head / 2 + r, y)
        top.lineTo(x + head / 2 - r, y)
        top.quadTo(x + head / 2, y, x + head / 2, y + r)
        top.lineTo(x + head / 2, y + height)
        top.closeSubpath()
    shank_top = y if sunk else y + height
    body = QRectF(x - diameter / 2, y + height, diameter, max(1.0, length - (height if sunk else 0)))
    painter.drawRect(body)
    thin = QPen(_cut(metal) if fill is None and line == theme.colour("ink") else line, max(0.6, scale / 12))
    painter.setPen(thin)
    turn = max(pitch, 2.2)
    at = body.top() + turn
    while at < body.bottom() - 0.5:
        painter.drawLine(QPointF(body.left(), at), QPointF(body.right(), at - turn * 0.5))
        at += turn
    painter.setPen(pen)
    painter.setBrush(metal)
    painter.drawPath(top)
    painter.restore()
    return QRectF(x - head / 2, y, head, shank_top - y + length)


def recess(painter: QPainter, centre: QPointF, radius: float, drive: str, line: QColor, metal: QColor) -> None:
    """Draw a head from above with its recess; radius of the head in px."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(line, 1.2))
    painter.setBrush(metal)
    if drive == "external-hex":
        painter.drawPolygon(QPolygonF([centre + QPointF(x, y) for x, y in shapes.regular(radius, 6)]))
    else:
        painter.drawEllipse(centre, radius, radius)
    cut = _cut(metal) if line == theme.colour("ink") else line
    painter.setBrush(cut)
    painter.setPen(Qt.PenStyle.NoPen)
    shape = recess_path(drive, radius * 0.6)
    if shape is not None:
        painter.translate(centre)
        painter.drawPath(shape)
    elif drive != "external-hex":
        painter.setPen(cut)
        painter.setFont(theme.text(max(6, radius * 0.7), bold=True))
        painter.drawText(
            QRectF(centre.x() - radius, centre.y() - radius, 2 * radius, 2 * radius), Qt.AlignmentFlag.AlignCenter, "?"
        )
    painter.restore()


def _cut(metal: QColor) -> QColor:
    """What is cut into this metal, so that it is seen: dark on light, light on dark."""
    return theme.DAY_INK if metal.lightnessF() > 0.45 else theme.DAY_CARD


def recess_path(drive: str, r: float) -> QPainterPath | None:
    """The outline of a recess around the origin, or None for a drive that has none or is not known."""
    outlines = shapes.recess(drive, r)
    if outlines is None:
        return None
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.WindingFill)
    for outline in outlines:
        path.addPolygon(QPolygonF([QPointF(x, y) for x, y in outline]))
        path.closeSubpath()
    return path


def screw_fill(joint: Joint) -> QColor:
    """The colour of a finish."""
    return QColor(FINISH.get(joint.finish, "#C3BFB4"))
