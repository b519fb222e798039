"""A photo with its lettered callouts, led out to the picture's edge; its callouts moved, its picture cut."""

from __future__ import annotations

from attrs import frozen
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QDragEnterEvent,
    QDropEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
)

from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.spoken import ARROWS, Painted, Role

TAG, FOOT = 21, 27
#: how far a callout or the cutting frame goes at a key, of the picture's side; a fifth of it with Shift
STRIDE = 0.01


@frozen
class CalloutMark:
    """A callout as it is drawn: ``x``, ``y`` from 0 to 1 of what is shown."""

    id: str
    letter: str
    label: str
    about: str
    x: float
    y: float

    @property
    def inside(self) -> bool:
        """Whether it points to something that is shown."""
        return -0.001 <= self.x <= 1.001 and -0.001 <= self.y <= 1.001


class PhotoView(Painted):
    """Shows one picture. ``picked`` gives a callout's id, ``opened`` one whose words are to be edited, ``moved`` one
    and how far it went, ``dropped`` paths of files, ``pointed`` where the picture was double-clicked, ``cut`` the
    rectangle to be shown alone, ``stepped`` -1 or 1 for another photo, ``removed`` a callout; in shares of what is
    shown, 0 to 1."""

    picked = Signal(str)
    opened = Signal(str)
    moved = Signal(str, float, float)
    dropped = Signal(list)
    pointed = Signal(float, float)
    cut = Signal(float, float, float, float)
    stepped = Signal(int)
    removed = Signal(str)

    role, item_role = Role.Graphic, Role.Graphic

    def __init__(self) -> None:
        super().__init__()
        self.image = QImage()
        self.caption, self.empty = "", ""
        self.marks: list[CalloutMark] = []
        self.chosen = ""
        self.at = ""
        self.frame: tuple[float, float, float, float] | None = None
        self._tags: dict[str, QRectF] = {}
        self._drag: tuple[str, QPointF, QPointF] | None = None
        self._scaled_key: object = None
        self._scaled_pixmap = QPixmap()
        self.setAcceptDrops(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Photo with lettered callouts")
        self.setMinimumSize(240, 200)

    def sizeHint(self) -> QSize:
        return QSize(560, 420)

    def show_photo(self, image: QImage, caption: str, marks: list[CalloutMark], chosen: str, empty: str = "") -> None:
        """Show a picture, or the words ``empty`` where there is none; ``chosen`` is the selected thing."""
        if image.cacheKey() != self.image.cacheKey():
            self.frame = self._drag = None
        self.image, self.caption, self.chosen, self.empty = image, caption, chosen, empty
        self.marks = [m for m in marks if m.inside]
        if self.at not in {m.id for m in self.marks}:
            self.at = next((m.id for m in self.marks if chosen and chosen in (m.about, m.id)), "")
        self._say()
        self.update()

    def _say(self) -> None:
        of = {m.id: m for m in self.marks}
        self.say_items(list(of), self.at, lambda id: (f"{of[id].letter}: {of[id].label}", self.caption))
        if self.at not in of:
            self.setAccessibleDescription(f"{self.caption or self.empty}; {len(of)} callouts")

    def begin_cut(self) -> None:
        """Put up a frame; arrows move its corner, with Ctrl the other one, Enter cuts, Escape leaves it."""
        if not self.image.isNull():
            self.frame = (0.1, 0.1, 0.9, 0.9)
            self.setFocus()
            self.update()

    # -- painting -----------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        box = QRectF(self.rect())
        painter.fillRect(box, theme.colour("photo"))
        light = theme.colour("card" if theme.current is theme.DAY else "ink")
        if self.image.isNull():
            painter.setPen(light)
            painter.setFont(theme.text(11))
            words = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(box.adjusted(20, 20, -20, -20), words, self.empty)
        else:
            picture = self._place(box)
            painter.drawPixmap(picture.topLeft(), self._scaled(picture))
            painter.fillRect(QRectF(box.left(), box.bottom() - FOOT, box.width(), FOOT), theme.colour("photo"))
            painter.setPen(light)
            painter.setFont(theme.figures(9))
            foot = QRectF(box.left() + 12, box.bottom() - FOOT, box.width() - 24, FOOT - 2)
            words_ = painter.fontMetrics().elidedText(self.caption, Qt.TextElideMode.ElideRight, int(foot.width()))
            painter.drawText(foot, Qt.AlignmentFlag.AlignVCenter, words_)
            self._draw_callouts(painter, picture, box)
            if self.frame is not None:
                self._draw_frame(painter, picture, self.frame)
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("copper"), 2))
            painter.drawRect(box.adjusted(1, 1, -1, -1))

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
        inner = box.adjusted(0, 0, 0, -FOOT)
        size = self.image.size().scaled(inner.size().toSize(), Qt.AspectRatioMode.KeepAspectRatio)
        left, top = inner.center().x() - size.width() / 2, inner.center().y() - size.height() / 2
        return QRectF(left, top, size.width(), size.height())

    def _point(self, picture: QRectF, mark: CalloutMark) -> QPointF:
        at = QPointF(picture.left() + mark.x * picture.width(), picture.top() + mark.y * picture.height())
        if self._drag is not None and self._drag[0] == mark.id:
            at += self._drag[2] - self._drag[1]
        return at

    def _draw_callouts(self, painter: QPainter, picture: QRectF, box: QRectF) -> None:
        self._tags.clear()
        left = sorted((m for m in self.marks if m.x < 0.5), key=lambda m: m.y)
        right = sorted((m for m in self.marks if m.x >= 0.5), key=lambda m: m.y)
        for side, group in ((-1, left), (1, right)):
            last = box.top() + 8.0
            for mark in group:
                point = self._point(picture, mark)
                y = min(max(last, point.y() - TAG / 2), box.bottom() - FOOT - TAG - 4)
                last = y + TAG + 8
                x = box.left() + 8 if side < 0 else box.right() - 8 - TAG
                self._draw_tag(painter, mark, QRectF(x, y, TAG, TAG), point, side)

    def _draw_tag(self, painter: QPainter, mark: CalloutMark, tag: QRectF, point: QPointF, side: int) -> None:
        chosen = bool(self.chosen) and self.chosen in (mark.about, mark.id)
        edge = theme.colour("copper") if chosen else theme.DAY_CARD
        painter.setFont(theme.text(9))
        label = painter.fontMetrics().elidedText(mark.label, Qt.TextElideMode.ElideRight, max(80, self.width() // 3))
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
        if mark.id == self.at and self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(edge, 1.5, Qt.PenStyle.DotLine))
            painter.drawEllipse(point, 10, 10)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.fillRect(plate, theme.SHADE)
        painter.setPen(theme.DAY_CARD)
        painter.drawText(plate, Qt.AlignmentFlag.AlignCenter, label)
        painter.fillRect(tag, edge)
        painter.setFont(theme.text(10.5, bold=True))
        painter.setPen(theme.DAY_CARD if chosen else theme.DAY_INK)
        painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, mark.letter)
        self._tags[mark.id] = tag.united(plate)

    def _draw_frame(self, painter: QPainter, picture: QRectF, frame: tuple[float, float, float, float]) -> None:
        kept = self._rect(picture, frame)
        for strip in (
            QRectF(picture.left(), picture.top(), picture.width(), kept.top() - picture.top()),
            QRectF(picture.left(), kept.bottom(), picture.width(), picture.bottom() - kept.bottom()),
            QRectF(picture.left(), kept.top(), kept.left() - picture.left(), kept.height()),
            QRectF(kept.right(), kept.top(), picture.right() - kept.right(), kept.height()),
        ):
            painter.fillRect(strip, theme.SHADE)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.DAY_CARD, 2, Qt.PenStyle.DashLine))
        painter.drawRect(kept)
        words = "Enter crop   Esc cancel   arrows move one corner, Ctrl+arrows the other"
        painter.setFont(theme.text(9))
        plate = QRectF(kept.left(), kept.top(), painter.fontMetrics().horizontalAdvance(words) + 14, 22)
        painter.fillRect(plate, theme.SHADE)
        painter.setPen(theme.DAY_CARD)
        painter.drawText(plate, Qt.AlignmentFlag.AlignCenter, words)

    @staticmethod
    def _rect(picture: QRectF, frame: tuple[float, float, float, float]) -> QRectF:
        left, top, right, bottom = frame
        a = QPointF(picture.left() + left * picture.width(), picture.top() + top * picture.height())
        b = QPointF(picture.left() + right * picture.width(), picture.top() + bottom * picture.height())
        return QRectF(a, b).normalized()

    # -- the hand -----------------------------------------------------------------------------------------

    def _share(self, at: QPointF) -> tuple[float, float]:
        picture = self._place(QRectF(self.rect()))
        return (at.x() - picture.left()) / picture.width(), (at.y() - picture.top()) / picture.height()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self.image.isNull():
            return
        at, picture = event.position(), self._place(QRectF(self.rect()))
        if self.frame is not None:
            x, y = self._share(at)
            self.frame = (x, y, x, y)
            self._drag = ("", at, at)
            return
        for mark in reversed(self.marks):
            near = (self._point(picture, mark) - at).manhattanLength() < 12
            if near or self._tags.get(mark.id, QRectF()).contains(at):
                self.at = mark.id
                if near:
                    self._drag = (mark.id, at, at)
                self.picked.emit(mark.id)
                self.update()
                return

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drag is None:
            return
        self._drag = (*self._drag[:2], event.position())
        if not self._drag[0] and self.frame is not None:
            x, y = self._share(event.position())
            self.frame = (*self.frame[:2], min(max(x, 0.0), 1.0), min(max(y, 0.0), 1.0))
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        drag, self._drag = self._drag, None
        if drag is None:
            return
        if not drag[0]:
            self._cut()
            return
        a, b = self._share(drag[1]), self._share(event.position())
        if (event.position() - drag[1]).manhattanLength() > 3:
            self.moved.emit(drag[0], b[0] - a[0], b[1] - a[1])
        self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self._drag = None
        if self.image.isNull() or self.frame is not None:
            return
        hit = next((m for m in self.marks if self._tags.get(m.id, QRectF()).contains(event.position())), None)
        x, y = self._share(event.position())
        if hit is not None:
            self.opened.emit(hit.id)
        elif 0 <= x <= 1 and 0 <= y <= 1:
            self.pointed.emit(x, y)

    def _cut(self) -> None:
        frame, self.frame = self.frame, None
        if frame is not None and abs(frame[2] - frame[0]) > 0.01 and abs(frame[3] - frame[1]) > 0.01:
            self.cut.emit(*frame)
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, keys = Qt.Key(event.key()), event.modifiers()
        stride = STRIDE / 5 if keys & Qt.KeyboardModifier.ShiftModifier else STRIDE
        letter = event.text().upper()
        if self.frame is not None and self._frame_key(key, keys, stride):
            return
        if key in ARROWS and self.at:
            self.moved.emit(self.at, ARROWS[key][0] * stride, ARROWS[key][1] * stride)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.stepped.emit(ARROWS[key][0])
        elif key == Qt.Key.Key_Insert:
            self.pointed.emit(0.5, 0.5)
        elif key == Qt.Key.Key_Delete and self.at:
            self.removed.emit(self.at)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.at:
            self.opened.emit(self.at)
        elif key == Qt.Key.Key_Escape and self.at:
            self.at = ""
            self.picked.emit("")
        elif letter and letter.isalpha() and (hit := next((m for m in self.marks if m.letter == letter), None)):
            self.at = hit.id
            self.picked.emit(hit.id)
        else:
            super().keyPressEvent(event)
        self._say()
        self.update()

    def _frame_key(self, key: Qt.Key, keys: Qt.KeyboardModifier, stride: float) -> bool:
        assert self.frame is not None
        if key in ARROWS:
            other = 2 if keys & Qt.KeyboardModifier.ControlModifier else 0
            frame = list(self.frame)
            for n in (0, 1):
                frame[other + n] = min(max(frame[other + n] + ARROWS[key][n] * stride, 0.0), 1.0)
            self.frame = (frame[0], frame[1], frame[2], frame[3])
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._cut()
        elif key == Qt.Key.Key_Escape:
            self.frame = None
        else:
            return False
        self.update()
        return True

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if event.mimeData().hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        self.dropped.emit([url.toLocalFile() for url in event.mimeData().urls() if url.isLocalFile()])
