"""Screws drawn from their figures: side view with head, shank and thread, and the recess as its geometry has it."""

from __future__ import annotations

from math import cos, pi, sin

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from oddbolt.core.reference.tables import thread_of
from oddbolt.core.study import Joint
from oddbolt.desk.widgets import theme

#: Drawn where a figure is not recorded.
USUAL_MM, USUAL_LENGTH_MM = 2.0, 4.0
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


def size_of(joint: Joint) -> tuple[float, float, float, float]:
    """Shank diameter, pitch, head diameter and length of a screw in mm, as far as recorded."""
    thread = thread_of(joint.thread) if joint.thread else None
    diameter = thread.diameter_mm if thread else USUAL_MM
    pitch = thread.pitch_mm if thread else 0.4
    return diameter, pitch, joint.head_mm or diameter * 1.8, joint.length_mm or USUAL_LENGTH_MM


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
    height = head * (0.28 if sunk else 0.22 if "wafer" in joint.head else 0.6 if "cheese" in joint.head else 0.42)
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
        painter.drawPolygon(_regular(centre, radius, 6))
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
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.WindingFill)
    match drive:
        case "cross" | "cross-z":
            w = r * 0.32
            path.addRect(QRectF(-r, -w / 2, 2 * r, w))
            path.addRect(QRectF(-w / 2, -r, w, 2 * r))
            if drive == "cross-z":
                for k in range(4):
                    a = pi / 4 + k * pi / 2
                    path.addEllipse(QPointF(r * 0.62 * cos(a), r * 0.62 * sin(a)), w * 0.28, w * 0.28)
        case "hexalobular" | "hexalobular-plus" | "five-lobe":
            lobes = 5 if drive == "five-lobe" else 6
            deep = 0.66 if drive == "hexalobular-plus" else 0.74
            for k in range(lobes * 12 + 1):
                a = k / 12 * 2 * pi / lobes - pi / 2
                d = r * (deep + (1 - deep) * (0.5 + 0.5 * cos(lobes * (a + pi / 2))))
                point = QPointF(d * cos(a), d * sin(a))
                path.lineTo(point) if k else path.moveTo(point)
        case "hex-socket":
            path.addPolygon(_regular(QPointF(0, 0), r, 6))
        case "square":
            path.addPolygon(_regular(QPointF(0, 0), r, 4))
        case "three-wing":
            for k in range(3):
                a = k * 2 * pi / 3 - pi / 2
                path.addPolygon(_bar(a, r, r * 0.34))
        case "slotted" | "stand-off":
            path.addRect(QRectF(-r * 1.35, -r * 0.16, r * 2.7, r * 0.32))
        case "two-hole":
            path.addEllipse(QPointF(-r * 0.6, 0), r * 0.25, r * 0.25)
            path.addEllipse(QPointF(r * 0.6, 0), r * 0.25, r * 0.25)
        case _:
            return None
    return path


def _regular(centre: QPointF, r: float, n: int) -> QPolygonF:
    return QPolygonF(
        [QPointF(centre.x() + r * cos(k * 2 * pi / n), centre.y() + r * sin(k * 2 * pi / n)) for k in range(n)]
    )


def _bar(angle: float, length: float, width: float) -> QPolygonF:
    dx, dy, nx, ny = cos(angle), sin(angle), -sin(angle) * width / 2, cos(angle) * width / 2
    return QPolygonF(
        [
            QPointF(nx, ny),
            QPointF(dx * length + nx, dy * length + ny),
            QPointF(dx * length - nx, dy * length - ny),
            QPointF(-nx, -ny),
        ]
    )


def screw_fill(joint: Joint) -> QColor:
    """The colour of a finish."""
    return QColor(FINISH.get(joint.finish, "#C3BFB4"))
