"""The device as a plate: its outline to scale with its size, the face it opens at, and what it contains."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen, QPixmap, QPolygonF
from PySide6.QtWidgets import QWidget

from oddbolt.core.errors import BenchError
from oddbolt.core.opening.outline import Outline, outline_of
from oddbolt.core.study import Device
from oddbolt.desk.widgets import theme


class Plate(QWidget):
    """Shows a device, with its first photo inside the outline if there is one."""

    def __init__(self) -> None:
        super().__init__()
        self.device = Device()
        self.inside: tuple[str, ...] = ()
        self.photo = QPixmap()
        self.setFixedHeight(154)
        self.setMinimumWidth(250)
        self.setAccessibleName("Device")

    def sizeHint(self) -> QSize:
        return QSize(270, 154)

    def show_device(self, device: Device, inside: Sequence[str], photo: QPixmap) -> None:
        """Show a device and the labels of what it contains."""
        self.device, self.inside, self.photo = device, tuple(inside), photo
        self.setAccessibleDescription(f"{device.name}; contains {', '.join(inside) or 'nothing that asks for care'}")
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        left = QRectF(0, 0, 150, self.height())
        try:
            outline = outline_of(self.device.outline) if self.device.outline else None
        except BenchError:
            outline = None
        if outline is None:
            painter.setPen(QPen(theme.colour("rule"), 1, Qt.PenStyle.DashLine))
            painter.drawRect(left.adjusted(4, 8, -8, -24))
            painter.setPen(theme.colour("muted"))
            painter.setFont(theme.text(9))
            words = "No outline yet.\nCtrl+D: type one,\nlike 182 x 112 r 14"
            painter.drawText(left.adjusted(4, 8, -8, -24), Qt.AlignmentFlag.AlignCenter, words)
        else:
            self._outline(painter, outline, left)
        self._words(painter, QRectF(158, 0, self.width() - 158, self.height()))

    def _outline(self, painter: QPainter, outline: Outline, left: QRectF) -> None:
        wide, high = outline.size_mm
        scale = min((left.width() - 28) / wide, (left.height() - 40) / high)
        low = outline.box[:2]
        corner = QPointF(left.left() + 4, left.top() + 8)
        shape = QPainterPath()
        shape.addPolygon(
            QPolygonF([corner + QPointF((x - low[0]) * scale, (y - low[1]) * scale) for x, y in outline.points])
        )
        shape.closeSubpath()
        box = shape.boundingRect()
        painter.fillPath(shape, theme.colour("mat"))
        if not self.photo.isNull():
            painter.save()
            painter.setClipPath(shape)
            shown = self.photo.scaled(
                box.size().toSize(),
                Qt.AspectRatioMode.KeepAspectRatioByExpanding,
                Qt.TransformationMode.SmoothTransformation,
            )
            painter.drawPixmap(box.center() - QPointF(shown.width() / 2, shown.height() / 2), shown)
            painter.restore()
        painter.setPen(QPen(theme.colour("ink"), 1.4))
        painter.drawPath(shape)
        painter.setPen(QPen(theme.colour("muted"), 1))
        painter.setFont(theme.figures(8.5))
        y = box.bottom() + 8
        painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))
        for x in (box.left(), box.right()):
            painter.drawLine(QPointF(x, y - 3), QPointF(x, y + 3))
        below = QRectF(box.left() - 10, y + 2, box.width() + 20, 14)
        painter.drawText(below, Qt.AlignmentFlag.AlignCenter, f"{wide:g} mm")
        x = box.right() + 8
        painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()))
        for y in (box.top(), box.bottom()):
            painter.drawLine(QPointF(x - 3, y), QPointF(x + 3, y))
        painter.save()
        painter.translate(QPointF(x + 14, box.center().y()))
        painter.rotate(-90)
        painter.drawText(QRectF(-40, -9, 80, 14), Qt.AlignmentFlag.AlignCenter, f"{high:g} mm")
        painter.restore()

    def _words(self, painter: QPainter, box: QRectF) -> None:
        device = self.device
        mass = f"{device.mass_g:g} g" if device.mass_g else ""
        thick = f"{device.thick_mm:g} mm thick" if device.thick_mm else ""
        lines = [
            (theme.text(9), "ink", " · ".join(w for w in (mass, thick) if w)),
            (theme.text(9), "ink", f"opens at the {device.opens}" if device.opens else "opens at: not stated"),
            (theme.text(9, bold=True), "ink", "contains"),
            (theme.text(9), "copper", " · ".join(self.inside) or "no known hazards recorded"),
        ]
        y = box.top() + 8
        for font, tint, words in lines:
            if not words:
                continue
            painter.setFont(font)
            painter.setPen(theme.colour(tint))
            high = painter.fontMetrics().boundingRect(
                QRectF(0, 0, box.width(), 120).toRect(), Qt.TextFlag.TextWordWrap, words
            )
            painter.drawText(QRectF(box.left(), y, box.width(), high.height() + 2), Qt.TextFlag.TextWordWrap, words)
            y += high.height() + 2
            if y > box.bottom() - 12:
                break
