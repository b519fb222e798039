"""The contact sheet: all photos small, step by step, a pair before and after side by side."""

from __future__ import annotations

from collections.abc import Callable

from attrs import frozen
from PySide6.QtCore import QPointF, QRect, QRectF, QSize, QSizeF, Qt, Signal
from PySide6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen

from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.spoken import Painted

CELL_WIDE, CELL_HIGH, GAP, HEAD = 168, 148, 10, 24
FRAME_HIGH = 112


@frozen
class Small:
    """A photo on the sheet: its id, its foot line, its mark before or after, the letters of its callouts."""

    id: str
    foot: str
    role: str
    letters: str


@frozen
class PhotoGroup:
    """The photos of one step under its heading."""

    head: str
    photos: tuple[Small, ...]


class ContactSheet(Painted):
    """Rows of small photos under the heading of their step. ``picked`` gives the one moved to, ``opened`` the one
    wanted large, ``removed`` the one to be taken out."""

    picked = Signal(str)
    opened = Signal(str)
    removed = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.groups: tuple[PhotoGroup, ...] = ()
        self.image_of: Callable[[str], QImage | None] = lambda _id: None
        self.chosen = ""
        self._cells: list[tuple[Small, QRectF]] = []
        self._heads: list[tuple[str, QRectF]] = []
        self._laid: object = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Contact sheet")

    def sizeHint(self) -> QSize:
        return QSize(700, 500)

    def show_groups(
        self, groups: tuple[PhotoGroup, ...], image_of: Callable[[str], QImage | None], chosen: str
    ) -> None:
        """Show these; ``image_of`` gives a small picture by the photo's id, None while it is being made."""
        self.groups, self.image_of, self.chosen = groups, image_of, chosen
        self._lay()
        small = {s.id: (group.head, s) for group in groups for s in group.photos}
        self.say_items(
            list(small), chosen, lambda id: (small[id][1].foot or "photo", f"{small[id][0]}, {small[id][1].role}")
        )
        self.update()

    def item_box(self, id: str) -> QRect:
        box = self.cell_of(id)
        return box.toRect() if box is not None else self.rect()

    def cell_of(self, id: str) -> QRectF | None:
        """Where a photo lies."""
        return next((box for small, box in self._cells if small.id == id), None)

    def resizeEvent(self, event: object) -> None:
        self._lay()

    def _lay(self) -> None:
        """Groups one after another, broken into rows; a heading stands over the first photo of its group."""
        key = (self.groups, self.width())
        if key == self._laid:
            return
        self._laid = key
        across = max(1, (self.width() + GAP) // (CELL_WIDE + GAP))
        cell = (self.width() - 2 - (across - 1) * GAP) / across
        self._cells, self._heads = [], []
        column, top = 0, 0.0
        high = HEAD + CELL_HIGH + GAP
        for group in self.groups:
            if column and column + len(group.photos) > across:
                column, top = 0, top + high
            wide = min(len(group.photos), across - column) * (cell + GAP) - GAP
            self._heads.append((group.head, QRectF(column * (cell + GAP), top, wide, HEAD - 4)))
            for small in group.photos:
                if column == across:
                    column, top = 0, top + high
                self._cells.append((small, QRectF(column * (cell + GAP), top + HEAD, cell, CELL_HIGH)))
                column += 1
        self.setMinimumHeight(int(top + high) if self._cells else 100)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        seen = QRectF(event.rect())
        painter.setFont(theme.text(9.5, bold=True))
        for head, box in self._heads:
            if box.intersects(seen):
                painter.setPen(theme.colour("ink"))
                words = painter.fontMetrics().elidedText(head, Qt.TextElideMode.ElideRight, int(box.width()))
                painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, words)
                painter.setPen(QPen(theme.colour("rule"), 1))
                painter.drawLine(box.bottomLeft(), box.bottomRight())
        for small, box in self._cells:
            if box.intersects(seen):
                self._draw(painter, small, box)

    def _draw(self, painter: QPainter, small: Small, box: QRectF) -> None:
        here = small.id == self.chosen
        frame = QRectF(box.left(), box.top(), box.width(), FRAME_HIGH)
        painter.fillRect(frame, theme.colour("photo"))
        image = self.image_of(small.id)
        if image is not None and not image.isNull():
            size = QSizeF(image.size()).scaled(frame.size(), Qt.AspectRatioMode.KeepAspectRatio)
            at = frame.center() - QPointF(size.width() / 2, size.height() / 2)
            painter.drawImage(QRectF(at.x(), at.y(), size.width(), size.height()), image)
        if small.role:
            painter.setFont(theme.text(8.5, bold=True))
            plate = QRectF(frame.left(), frame.top(), painter.fontMetrics().horizontalAdvance(small.role) + 12, 18)
            painter.fillRect(plate, theme.SHADE)
            painter.setPen(theme.DAY_CARD)
            painter.drawText(plate, Qt.AlignmentFlag.AlignCenter, small.role)
        if small.letters:
            painter.setFont(theme.text(8.5, bold=True))
            wide = painter.fontMetrics().horizontalAdvance(small.letters) + 10
            plate = QRectF(frame.right() - wide, frame.bottom() - 17, wide, 17)
            painter.fillRect(plate, theme.DAY_CARD)
            painter.setPen(theme.DAY_INK)
            painter.drawText(plate, Qt.AlignmentFlag.AlignCenter, small.letters)
        painter.setFont(theme.text(9, bold=here))
        painter.setPen(theme.colour("copper" if here else "ink"))
        foot = box.adjusted(1, FRAME_HIGH + 3, -2, 0)
        flags = Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap
        painter.drawText(foot, flags, small.foot)
        if here:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            solid = Qt.PenStyle.SolidLine if self.hasFocus() else Qt.PenStyle.DotLine
            painter.setPen(QPen(theme.colour("copper"), 3, solid))
            painter.drawRect(frame.adjusted(1, 1, -1, -1))

    # -- the hand -----------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for small, box in self._cells:
            if box.contains(event.position()):
                self.picked.emit(small.id)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        for small, box in self._cells:
            if box.contains(event.position()):
                self.opened.emit(small.id)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        ids = [small.id for small, _ in self._cells]
        at = ids.index(self.chosen) if self.chosen in ids else -1
        along = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Home: -at, Qt.Key.Key_End: len(ids) - 1 - at}
        key = Qt.Key(event.key())
        if key in along and ids:
            self.picked.emit(ids[min(max(at + along[key], 0), len(ids) - 1)])
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and ids:
            self.picked.emit(self._row_from(max(at, 0), 1 if key == Qt.Key.Key_Down else -1))
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.chosen in ids:
            self.opened.emit(self.chosen)
        elif key == Qt.Key.Key_Delete and self.chosen in ids:
            self.removed.emit(self.chosen)
        else:
            super().keyPressEvent(event)

    def _row_from(self, at: int, by: int) -> str:
        """The photo nearest above or below."""
        here = self._cells[at][1]
        rows = sorted({box.top() for _, box in self._cells if (box.top() - here.top()) * by > 0}, key=lambda t: t * by)
        if not rows:
            return self._cells[at][0].id
        row = [(abs(box.left() - here.left()), small.id) for small, box in self._cells if box.top() == rows[0]]
        return min(row)[1]
