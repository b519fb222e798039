"""One face of a board: its photo with outlines, areas and what is proposed; chosen, drawn and moved by mouse and
keys."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from attrs import frozen
from PySide6.QtCore import QPointF, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF

from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.spoken import ARROWS, Painted

#: least length of a side that is drawn, px; how far a key moves an outline, and with how large a share of the photo
LEAST_PX, STEP = 5.0, 0.004
Corners = Sequence[tuple[float, float]]


@frozen
class Mark:
    """One outline: its id ("" and a number for a proposal), corners in fractions of the photo, its name, of what it is
    (part, area, hole, edge, proposed), and all there is to say of it."""

    id: str
    corners: tuple[tuple[float, float], ...]
    name: str
    kind: str
    words: str


class BoardView(Painted):
    """``picked`` gives the id of an outline, ``drawn`` the corners of a new one, ``moved`` an outline and its new
    corners, ``wanted`` what is asked for by a key: name, take, drop, all.

    Arrows walk, with Ctrl they move the outline chosen and with Shift change its size. A rectangle is drawn with the
    mouse, or begun in the middle with Insert. Enter takes a proposal or names an outline, Delete drops it.
    """

    picked = Signal(str)
    drawn = Signal(object)
    moved = Signal(str, object)
    wanted = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.image: QImage | None = None
        self.marks: Mapping[str, Mark] = {}
        self.chosen, self.empty = "", ""
        self._from: QPointF | None = None
        self._to: QPointF | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Board map: outlines on the photo")
        self.setMinimumHeight(200)

    def sizeHint(self) -> QSize:
        return QSize(800, 520)

    def show_map(self, image: QImage | None, marks: Sequence[Mark], chosen: str) -> None:
        """Show a photo with these outlines."""
        self.image, self.marks, self.chosen = image, {m.id: m for m in marks}, chosen
        self.say_items(list(self.marks), chosen, lambda id: (self.marks[id].name, self.marks[id].words))
        self.update()

    def picture_box(self) -> QRectF:
        """Where the photo is drawn."""
        if self.image is None:
            return QRectF(self.rect())
        size = self.image.size().scaled(self.size(), Qt.AspectRatioMode.KeepAspectRatio)
        return QRectF(
            (self.width() - size.width()) / 2, (self.height() - size.height()) / 2, size.width(), size.height()
        )

    def _polygon(self, mark: Mark) -> QPolygonF:
        box = self.picture_box()
        return QPolygonF([QPointF(box.left() + x * box.width(), box.top() + y * box.height()) for x, y in mark.corners])

    def item_box(self, id: str) -> QRect:
        """Where an outline lies."""
        mark = self.marks.get(id)
        return self._polygon(mark).boundingRect().toRect() if mark else self.rect()

    # -- drawing ----------------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), theme.colour("photo"))
        if self.image is None:
            painter.setPen(theme.colour("card"))
            painter.setFont(theme.text(11))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, self.empty)
            return
        painter.drawImage(self.picture_box(), self.image)
        for mark in self.marks.values():
            self._mark(painter, mark)
        if self._from is not None and self._to is not None:
            painter.setPen(QPen(theme.colour("copper"), 1.5, Qt.PenStyle.DashLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self._from, self._to).normalized())

    def _mark(self, painter: QPainter, mark: Mark) -> None:
        polygon = self._polygon(mark)
        here = mark.id == self.chosen
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if mark.kind == "area":
            wash = theme.colour("sea")
            wash.setAlphaF(0.16)
            painter.setBrush(wash)
        named = bool(mark.name) and mark.kind != "proposed"
        dotted = mark.kind in ("proposed", "edge", "area") and not here
        style = Qt.PenStyle.DotLine if dotted else Qt.PenStyle.SolidLine
        line = theme.colour("card") if named or mark.kind in ("hole", "edge", "area") else theme.colour("copper")
        # a dark line under it, so that it is seen on any photo
        painter.setPen(QPen(theme.colour("card" if here else "photo"), 6.0 if here else 3.4))
        painter.drawPolygon(polygon)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.colour("copper") if here else line, 2.6 if here else 1.6, style))
        painter.drawPolygon(polygon)
        box = polygon.boundingRect()
        words = mark.name or ("?" if mark.kind == "part" else "")
        if not words or mark.kind == "edge" or (box.width() < 26 and not here):
            return
        painter.setFont(theme.text(8.5, bold=here))
        wide = painter.fontMetrics().horizontalAdvance(words)
        if wide > box.width() + 24 and not here:
            words = painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, int(box.width() + 20))
            wide = painter.fontMetrics().horizontalAdvance(words)
        high = painter.fontMetrics().height()
        at = QRectF(box.center().x() - wide / 2 - 3, box.center().y() - high / 2, wide + 6, high)
        if mark.kind == "area":
            at.moveTop(box.top() + 2)
        back = theme.colour("card")
        back.setAlphaF(0.86)
        painter.fillRect(at, back)
        painter.setPen(theme.colour("copper" if words == "?" or here else "ink"))
        painter.drawText(at, Qt.AlignmentFlag.AlignCenter, words)

    # -- the hand ---------------------------------------------------------------------------------------------

    def at(self, point: QPointF) -> str:
        """The outline that lies here; of several the smallest."""
        hit = [m for m in self.marks.values() if self._polygon(m).containsPoint(point, Qt.FillRule.OddEvenFill)]
        size = {m.id: self._polygon(m).boundingRect() for m in hit}
        return min(hit, key=lambda m: size[m.id].width() * size[m.id].height()).id if hit else ""

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._from = event.position()
        self._to = None

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._from is not None:
            self._to = event.position()
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        start, self._from, self._to = self._from, None, None
        self.update()
        if start is None:
            return
        box = QRectF(start, event.position()).normalized().intersected(self.picture_box())
        if min(box.width(), box.height()) < LEAST_PX:
            id = self.at(event.position())
            if id:
                self.picked.emit(id)
        elif self.image is not None:
            whole = self.picture_box()
            left, right = ((x - whole.left()) / whole.width() for x in (box.left(), box.right()))
            top, foot = ((y - whole.top()) / whole.height() for y in (box.top(), box.bottom()))
            self.drawn.emit(((left, top), (right, top), (right, foot), (left, foot)))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, mods = Qt.Key(event.key()), event.modifiers()
        way = ARROWS.get(key)
        mark = self.marks.get(self.chosen)
        if way is not None and mods & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier):
            if mark is not None:
                self._push(mark, way, bool(mods & Qt.KeyboardModifier.ShiftModifier))
        elif way is not None:
            to = self._beyond(way)
            if to:
                self.picked.emit(to)
        elif key == Qt.Key.Key_Insert and self.image is not None:
            self.drawn.emit(((0.45, 0.45), (0.55, 0.45), (0.55, 0.55), (0.45, 0.55)))
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.wanted.emit("take" if mark is not None and mark.kind == "proposed" else "name")
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.wanted.emit("drop")
        elif key == Qt.Key.Key_Space:
            open_ = [id for id, m in self.marks.items() if m.kind in ("part", "proposed") and not m.name]
            at = open_.index(self.chosen) + 1 if self.chosen in open_ else 0
            if open_:
                self.picked.emit(open_[at % len(open_)])
        else:
            super().keyPressEvent(event)

    def _push(self, mark: Mark, way: tuple[int, int], size: bool) -> None:
        """Move an outline by a hair, or its right and lower sides."""
        middle_x = sum(x for x, _ in mark.corners) / len(mark.corners)
        middle_y = sum(y for _, y in mark.corners) / len(mark.corners)
        out = []
        for x, y in mark.corners:
            by_x = way[0] * STEP if not size or x > middle_x else 0.0
            by_y = way[1] * STEP if not size or y > middle_y else 0.0
            out.append((min(max(x + by_x, 0.0), 1.0), min(max(y + by_y, 0.0), 1.0)))
        self.moved.emit(mark.id, tuple(out))

    def _beyond(self, way: tuple[int, int]) -> str:
        """The outline nearest in this direction; aside counts three times."""
        here = self.marks.get(self.chosen)
        if here is None:
            return next(iter(self.marks), "")
        middle = self._polygon(here).boundingRect().center()
        best, nearest = "", 1e18
        for mark in self.marks.values():
            if mark.kind in ("edge", "area") and here.kind not in ("edge", "area"):
                continue
            gone = self._polygon(mark).boundingRect().center() - middle
            ahead = gone.x() * way[0] + gone.y() * way[1]
            aside = abs(gone.x() * way[1]) + abs(gone.y() * way[0])
            if mark is not here and ahead > 1 and ahead + 3 * aside < nearest:
                best, nearest = mark.id, ahead + 3 * aside
        return best
