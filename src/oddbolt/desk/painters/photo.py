"""The photo of a step with its lettered callouts, led out to the picture's edge."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QImage, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap
from PySide6.QtWidgets import QWidget

from oddbolt.core.study import Callout
from oddbolt.desk import theme

TAG = 21
SIDE = 132


class PhotoView(QWidget):
    """Shows one picture. ``picked`` gives what a clicked callout is about, ``dropped`` the paths of dropped files,
    ``pointed`` where the picture was double-clicked, from 0 to 1."""

    picked = Signal(str)
    dropped = Signal(list)
    pointed = Signal(float, float)

    def __init__(self) -> None:
        super().__init__()
        self.image = QImage()
        self.caption = ""
        self.callouts: list[Callout] = []
        self.labels: dict[str, str] = {}
        self.chosen = ""
        self._tags: dict[str, QRectF] = {}
        self._scaled_key: object = None
        self._scaled_pixmap = QPixmap()
        self.setAcceptDrops(True)
        self.setAccessibleName("Photo with lettered callouts")
        self.setMinimumSize(300, 200)

    def sizeHint(self) -> QSize:
        return QSize(560, 420)

    def show_photo(
        self, image: QImage, caption: str, callouts: list[Callout], labels: dict[str, str], chosen: str
    ) -> None:
        """Show a picture; ``labels`` names each callout by id, ``chosen`` is the selected thing."""
        self.image, self.caption, self.callouts, self.labels, self.chosen = image, caption, callouts, labels, chosen
        self.setAccessibleDescription("; ".join(f"{c.letter}: {labels[c.id]}" for c in callouts))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        box = QRectF(self.rect())
        painter.fillRect(box, theme.colour("photo"))
        if self.image.isNull():
            painter.setPen(theme.colour("card"))
            painter.setFont(theme.text(11))
            painter.drawText(
                box, Qt.AlignmentFlag.AlignCenter, "No photo of this step yet.\n\nDrop one here, or press F9."
            )
            return
        picture = self._place(box)
        painter.drawPixmap(picture.topLeft(), self._scaled(picture))
        painter.fillRect(QRectF(box.left(), box.bottom() - 27, box.width(), 27), theme.colour("photo"))
        painter.setPen(theme.colour("card" if theme.current is theme.DAY else "ink"))
        painter.setFont(theme.mono(9))
        painter.drawText(
            box.adjusted(12, 0, -12, -7), Qt.AlignmentFlag.AlignBottom | Qt.AlignmentFlag.AlignLeft, self.caption
        )
        self._draw_callouts(painter, picture, box)

    def _scaled(self, picture: QRectF) -> QPixmap:
        """The picture at the size it is shown, made once for each size."""
        ratio = self.devicePixelRatioF()
        key = (self.image.cacheKey(), picture.width() * ratio, picture.height() * ratio)
        if key != self._scaled_key:
            size = QSize(round(picture.width() * ratio), round(picture.height() * ratio))
            smooth = Qt.TransformationMode.SmoothTransformation
            made = self.image.scaled(size, Qt.AspectRatioMode.IgnoreAspectRatio, smooth)
            made.setDevicePixelRatio(ratio)
            self._scaled_key, self._scaled_pixmap = key, QPixmap.fromImage(made)
        return self._scaled_pixmap

    def _place(self, box: QRectF) -> QRectF:
        inner = box.adjusted(0, 0, 0, -27)
        size = self.image.size().scaled(inner.size().toSize(), Qt.AspectRatioMode.KeepAspectRatio)
        left, top = inner.center().x() - size.width() / 2, inner.center().y() - size.height() / 2
        return QRectF(left, top, size.width(), size.height())

    def _draw_callouts(self, painter: QPainter, picture: QRectF, box: QRectF) -> None:
        self._tags.clear()
        left = sorted((c for c in self.callouts if c.x < 0.5), key=lambda c: c.y)
        right = sorted((c for c in self.callouts if c.x >= 0.5), key=lambda c: c.y)
        for side, group in ((-1, left), (1, right)):
            last = box.top() + 8.0
            for c in group:
                point = QPointF(picture.left() + c.x * picture.width(), picture.top() + c.y * picture.height())
                y = min(max(last, point.y() - TAG / 2), box.bottom() - 27 - TAG - 4)
                last = y + TAG + 8
                x = box.left() + 8 if side < 0 else box.right() - 8 - TAG
                self._draw_tag(painter, c, QRectF(x, y, TAG, TAG), point, side)

    def _draw_tag(self, painter: QPainter, c: Callout, tag: QRectF, point: QPointF, side: int) -> None:
        chosen = bool(c.about) and c.about == self.chosen
        edge = theme.colour("copper") if chosen else theme.DAY_CARD
        label = self.labels[c.id]
        painter.setFont(theme.text(9))
        width = painter.fontMetrics().horizontalAdvance(label) + 12
        plate = (
            QRectF(tag.right(), tag.top(), width, TAG)
            if side < 0
            else QRectF(tag.left() - width, tag.top(), width, TAG)
        )
        start = QPointF(plate.right() if side < 0 else plate.left(), tag.center().y())
        painter.setPen(QPen(theme.SHADE, 3.4))
        painter.drawLine(start, point)
        painter.setPen(QPen(edge, 1.5))
        painter.drawLine(start, point)
        painter.setBrush(edge)
        painter.setPen(QPen(theme.SHADE, 1.2))
        painter.drawEllipse(point, 3.6, 3.6)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.fillRect(plate, theme.SHADE)
        painter.setPen(theme.DAY_CARD)
        painter.drawText(plate, Qt.AlignmentFlag.AlignCenter, label)
        painter.fillRect(tag, edge)
        painter.setFont(theme.text(10.5, bold=True))
        painter.setPen(theme.DAY_CARD if chosen else theme.DAY_INK)
        painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, c.letter)
        self._tags[c.id] = tag.united(plate)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for c in self.callouts:
            if c.about and self._tags.get(c.id, QRectF()).contains(event.position()):
                self.picked.emit(c.about)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if self.image.isNull():
            return
        picture, at = self._place(QRectF(self.rect())), event.position()
        x, y = (at.x() - picture.left()) / picture.width(), (at.y() - picture.top()) / picture.height()
        if 0 <= x <= 1 and 0 <= y <= 1:
            self.pointed.emit(x, y)

    def dragEnterEvent(self, event: object) -> None:
        if event.mimeData().hasUrls():  # type: ignore[attr-defined]
            event.acceptProposedAction()  # type: ignore[attr-defined]

    def dropEvent(self, event: object) -> None:
        self.dropped.emit([url.toLocalFile() for url in event.mimeData().urls() if url.isLocalFile()])  # type: ignore[attr-defined]
