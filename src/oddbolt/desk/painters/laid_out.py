"""The device laid out: every part to scale in its module's group, what is not identified plain to see."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from PySide6.QtCore import QPointF, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen, QPixmap
from PySide6.QtWidgets import QToolTip, QWidget

from oddbolt.core.components.layout import HEADING, Group, Piece, Table
from oddbolt.desk.painters import part_signs
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.labels import tip
from oddbolt.desk.widgets.spoken import ARROWS, Painted

#: least width of a name and the height of its line, px; and how small a body may be drawn
LABEL_PX, LEAST_PX, EDGE = (58.0, 15.0), 2.5, 8.0

#: a picture cut out for a part: the pixmap, and its outline as fractions of it
CutOut = tuple[QPixmap, Sequence[tuple[float, float]]]


class LaidOut(Painted):
    """The table with the parts on it. ``picked`` gives the id of a part; arrows walk to the nearest one that way, Home
    and End to the first and last, Space to the next that nobody identified."""

    picked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.table = Table((), (), 0.0, 0.0)
        self.scale, self.chosen = 1.0, ""
        self.priority: frozenset[str] = frozenset()
        self.cut_out: Callable[[Piece], CutOut | None] = lambda _piece: None
        self.empty = ""
        self._of: Mapping[str, Piece] = {}
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The device laid out: parts at scale, by module")

    def show_table(
        self, table: Table, scale: float, chosen: str, priority: frozenset[str], words: Callable[[str], str]
    ) -> None:
        """Show the parts at ``scale`` px per mm; ``words`` says all there is to say of a part."""
        self.table, self.scale, self.chosen, self.priority = table, scale, chosen, priority
        self._of = {piece.id: piece for piece in table.pieces}
        self.say_items(list(self._of), chosen, lambda id: (self._of[id].name, words(id)))
        self.setMinimumSize(QSize(round(table.wide * scale + 2 * EDGE), round(table.high * scale + 2 * EDGE)))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(800, 420)

    def body(self, piece: Piece) -> QRectF:
        """Where the body of a part lies, px."""
        s = self.scale
        box = QRectF(EDGE + piece.x * s, EDGE + piece.y * s, piece.wide * s, piece.high * s)
        grow_x, grow_y = max(0.0, LEAST_PX - box.width()) / 2, max(0.0, LEAST_PX - box.height()) / 2
        return box.adjusted(-grow_x, -grow_y, grow_x, grow_y)

    def _name_box(self, piece: Piece) -> QRectF:
        body = self.body(piece)
        room = piece.room * self.scale
        return QRectF(body.center().x() - room / 2, body.bottom() + 1, room, LABEL_PX[1] - 1)

    def item_box(self, id: str) -> QRect:
        """Where a part lies with its name."""
        piece = self._of.get(id)
        return self._whole(piece).toRect() if piece else self.rect()

    def _whole(self, piece: Piece) -> QRectF:
        """A part with its name."""
        body = self.body(piece)
        return body if piece.sign == HEADING else body.united(self._name_box(piece))

    # -- drawing ----------------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(event.rect(), theme.colour("mat"))
        if not self.table.pieces:
            painter.setPen(theme.colour("muted"))
            painter.setFont(theme.text(11))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, self.empty)
            return
        self.paint(painter, QRectF(event.rect()))

    def paint(self, painter: QPainter, seen: QRectF) -> None:
        """Draw what lies within ``seen``."""
        for piece in self.table.pieces:
            if self._whole(piece).intersects(seen):
                self._piece(painter, piece)
        for group in self.table.groups:
            self._group(painter, group)

    def _group(self, painter: QPainter, group: Group) -> None:
        s = self.scale
        box = QRectF(EDGE + group.x * s, EDGE + group.y * s, group.wide * s, group.high * s)
        painter.setPen(QPen(theme.colour("rule"), 1))
        painter.drawLine(box.topLeft() + QPointF(0, 16), box.topRight() + QPointF(0, 16))
        painter.setFont(theme.text(9.5, bold=True))
        painter.setPen(theme.colour("ink"))
        metrics = painter.fontMetrics()
        count = f"  {group.count}"
        unknown = f" · {group.unknown} not identified" if group.unknown else ""
        name = metrics.elidedText(group.name, Qt.TextElideMode.ElideRight, int(box.width() - 20))
        painter.drawText(QPointF(box.left(), box.top() + 12), name)
        x = box.left() + metrics.horizontalAdvance(name)
        painter.setFont(theme.figures(8.5))
        painter.setPen(theme.colour("muted"))
        painter.drawText(QPointF(x, box.top() + 12), count)
        x += painter.fontMetrics().horizontalAdvance(count)
        if unknown and x + painter.fontMetrics().horizontalAdvance(unknown) < box.right() + 4:
            painter.setPen(theme.colour("copper"))
            painter.drawText(QPointF(x, box.top() + 12), unknown)

    def _piece(self, painter: QPainter, piece: Piece) -> None:
        body = self.body(piece)
        cut = self.cut_out(piece) if piece.region else None
        if piece.id == self.chosen:
            painter.setPen(QPen(theme.colour("copper"), 2))
            painter.setBrush(theme.colour("card"))
            painter.drawRect(QRectF(self.item_box(piece.id)).adjusted(-3, -3, 3, 1))
        if piece.sign == HEADING:
            return
        if cut is not None:
            self._picture(painter, body, cut)
        elif piece.kind:
            part_signs.draw(painter, piece.sign, body, theme.colour("ink"), not piece.assumed)
        else:  # nobody said what it is: an empty place in copper
            painter.setPen(
                QPen(theme.colour("copper"), 1.4, Qt.PenStyle.DashLine if piece.assumed else Qt.PenStyle.SolidLine)
            )
            painter.setBrush(theme.colour("warn"))
            painter.drawRect(body)
            if min(body.width(), body.height()) > 12:
                painter.setFont(theme.text(min(14.0, body.height() * 0.5), bold=True))
                painter.drawText(body, Qt.AlignmentFlag.AlignCenter, "?")
        painter.setFont(theme.text(8.5, bold=piece.id in self.priority))
        painter.setPen(theme.colour("ink" if piece.kind else "copper"))
        box = self._name_box(piece)
        name = painter.fontMetrics().elidedText(piece.name, Qt.TextElideMode.ElideRight, int(box.width()))
        painter.drawText(box, Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop, name)

    @staticmethod
    def _picture(painter: QPainter, body: QRectF, cut: CutOut) -> None:
        pixmap, corners = cut
        path = QPainterPath()
        points = [QPointF(body.left() + x * body.width(), body.top() + y * body.height()) for x, y in corners]
        path.moveTo(points[0])
        for point in points[1:]:
            path.lineTo(point)
        path.closeSubpath()
        painter.save()
        painter.setClipPath(path, Qt.ClipOperation.IntersectClip)
        painter.drawPixmap(body, pixmap, QRectF(pixmap.rect()))
        painter.restore()
        painter.setPen(QPen(theme.colour("ink"), 0.8))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(path)

    # -- the hand ---------------------------------------------------------------------------------------------

    def at(self, point: QPointF) -> str:
        """The part that lies here, with its name; of several the smallest."""
        hit = [p for p in self.table.pieces if self._whole(p).adjusted(-2, -2, 2, 0).contains(point)]
        return min(hit, key=lambda p: p.wide * p.high).id if hit else ""

    def mousePressEvent(self, event: QMouseEvent) -> None:
        id = self.at(event.position())
        if id:
            self.picked.emit(id)

    def event(self, event: object) -> bool:
        if isinstance(event, QHelpEvent):
            id = self.at(QPointF(event.pos()))
            QToolTip.showText(event.globalPos(), tip(self.words_of(id)[1]) if id else "", self)
            return True
        return QWidget.event(self, event)  # type: ignore[arg-type]

    def keyPressEvent(self, event: QKeyEvent) -> None:
        way = ARROWS.get(Qt.Key(event.key()))
        ids = list(self._of)
        to = ""
        if way is not None:
            to = self._beyond(way)
        elif ids and event.key() == Qt.Key.Key_Home:
            to = ids[0]
        elif ids and event.key() == Qt.Key.Key_End:
            to = ids[-1]
        elif ids and event.key() == Qt.Key.Key_Space:
            at = ids.index(self.chosen) if self.chosen in self._of else -1
            to = next((id for id in (*ids[at + 1 :], *ids[: at + 1]) if not self._of[id].kind), "")
        else:
            super().keyPressEvent(event)
            return
        if to:
            self.picked.emit(to)

    def _beyond(self, way: tuple[int, int]) -> str:
        """The part nearest in this direction; aside counts three times."""
        here = self._of.get(self.chosen)
        if here is None:
            return next(iter(self._of), "")
        middle = self.body(here).center()
        best, nearest = "", 1e18
        for piece in self.table.pieces:
            gone = self.body(piece).center() - middle
            ahead = gone.x() * way[0] + gone.y() * way[1]
            aside = abs(gone.x() * way[1]) + abs(gone.y() * way[0])
            if piece is not here and ahead > 1 and ahead + 3 * aside < nearest:
                best, nearest = piece.id, ahead + 3 * aside
        return best
