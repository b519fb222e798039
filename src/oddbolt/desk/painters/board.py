"""The fastener board: every group of screws at true scale, laid beside those most like it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PySide6.QtCore import QEvent, QPointF, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QToolTip, QWidget

from oddbolt.core.fasteners.shapes import size_of
from oddbolt.core.reference.tables import screw_label
from oddbolt.core.study import Joint
from oddbolt.desk.painters import screws
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.labels import tip
from oddbolt.desk.widgets.spoken import Painted

WIDE, WORDS, LEAST = 104, 66, 52
#: the bar that a ruler is held to stands for so many mm
GAUGE_MM = 50.0


class Board(Painted):
    """Shows screw groups. ``scale`` is px per mm; ``picked`` gives the id of a group."""

    picked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.groups: list[Joint] = []
        self.odd: set[str] = set()
        self.chosen = ""
        self.came_from: Mapping[str, str] = {}
        self.scale = 4.0
        self._known_cell = -1.0, (WIDE, LEAST)  # the scale it was worked out for, and the cell
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Fastener board: screws at true scale")

    def show_groups(
        self, groups: Sequence[Joint], odd: set[str], chosen: str, came_from: Mapping[str, str] | None = None
    ) -> None:
        """Show these groups in this order; ``odd`` ones in copper; ``came_from`` says in words where each lay."""
        self.groups, self.odd, self.chosen = list(groups), odd, chosen
        self._known_cell = -1.0, (WIDE, LEAST)
        self.came_from = came_from or {}
        self._of = {j.id: j for j in reversed(self.groups)}
        self.say_items([j.id for j in self.groups], chosen, self._said)
        self.setMinimumHeight(self._rows() * self._cell()[1] + 4)
        self.updateGeometry()
        self.update()

    def _said(self, id: str) -> tuple[str, str]:
        joint = self._of[id]
        length = f"{joint.length_mm:g} mm" if joint.length_mm else "length not known"
        count = "not counted" if joint.count is None else f"{joint.count}"
        label = screw_label(joint.drive, joint.size)
        odd = "the odd one of a pair" if id in self.odd else ""
        told = (count, label, joint.thread, length, odd, self.came_from.get(id, ""))
        return joint.name or f"{count} {label}", ", ".join(filter(None, told))

    def item_box(self, id: str) -> QRect:
        return next((self._box(n).toRect() for n, j in enumerate(self.groups) if j.id == id), self.rect())

    def _cell(self) -> tuple[int, int]:
        """How wide and tall one group's place is, by the largest screw shown."""
        if self._known_cell[0] == self.scale:
            return self._known_cell[1]
        sizes = [size_of(j) for j in self.groups]
        tallest = max((head * 0.45 + length for _, _, head, length in sizes), default=4.0) * self.scale
        widest = max((head for _, _, head, _ in sizes), default=3.0) * self.scale
        cell = max(WIDE, round(widest * 2 + 30)), max(LEAST, round(tallest) + 20) + WORDS
        self._known_cell = self.scale, cell
        return cell

    def _across(self) -> int:
        return max(1, (self.width() - 8) // self._cell()[0])

    def _rows(self) -> int:
        return max(1, -(-len(self.groups) // self._across()))

    def sizeHint(self) -> QSize:
        return QSize(800, self._rows() * self._cell()[1] + 4)

    def resizeEvent(self, event: object) -> None:
        self.setMinimumHeight(self._rows() * self._cell()[1] + 4)

    def _box(self, n: int) -> QRectF:
        row, column = divmod(n, self._across())
        wide, tall = self._cell()
        return QRectF(4 + column * wide, 2 + row * tall, wide, tall)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("mat"))
        if not self.groups:
            painter.setPen(theme.colour("muted"))
            painter.setFont(theme.text(11))
            words = "No screws yet. Say “backed out four PH00 from the lid” on Take apart, or add a joint with Ctrl+J."
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, words)
            return
        for n, joint in enumerate(self.groups):
            box = self._box(n)
            if box.intersects(QRectF(event.rect())):
                self._draw(painter, box, joint, n)

    def _draw(self, painter: QPainter, box: QRectF, joint: Joint, n: int) -> None:
        ink = theme.colour("copper" if joint.id in self.odd else "ink")
        if joint.id == self.chosen:
            painter.setPen(QPen(theme.colour("copper"), 2))
            painter.setBrush(theme.colour("card"))
            painter.drawRect(box.adjusted(2, 2, -2, -2))
        if n and self._kin(self.groups[n - 1]) != self._kin(joint) and n % self._across():
            painter.setPen(QPen(theme.colour("muted"), 0.8, Qt.PenStyle.DotLine))
            painter.drawLine(box.topLeft() + QPointF(0, 10), box.bottomLeft() - QPointF(0, 10))
        head = size_of(joint)[2] * self.scale
        fill = screws.screw_fill(joint)
        centre = QPointF(box.left() + 10 + max(head / 2, 6), box.top() + 12 + max(head / 2, 6))
        screws.recess(painter, centre, max(head / 2, 6), joint.drive, ink, fill)
        screws.side(painter, box.left() + box.width() / 2 + head / 2 + 8, box.top() + 12, joint, self.scale, ink, fill)
        painter.setFont(theme.figures(9.5, bold=True))
        painter.setPen(ink)
        inner = box.adjusted(8, 0, -6, -8)
        count = "? ×" if joint.count is None else f"{joint.count} ×"
        painter.drawText(
            inner.adjusted(0, box.height() - 62, 0, 0), Qt.AlignmentFlag.AlignTop, f"{count} {joint.size or '?'}"
        )
        if joint.id in self.odd:  # in words too, for who does not see copper
            corner = QPointF(box.right() - 5, box.top() + 5)
            painter.setBrush(ink)
            painter.drawPolygon([corner, corner - QPointF(11, 0), corner + QPointF(0, 11)])
            painter.setFont(theme.text(8.5, bold=True))
            flags = Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignRight
            painter.drawText(inner.adjusted(0, box.height() - 62, 0, 0), flags, "odd")
        painter.setFont(theme.figures(8.5))
        painter.setPen(ink if joint.id in self.odd else theme.colour("muted"))
        length = f"{joint.length_mm:g} mm" if joint.length_mm else "how long?"
        painter.drawText(
            inner.adjusted(0, box.height() - 44, 0, 0), Qt.AlignmentFlag.AlignTop, f"{joint.thread} {length}".strip()
        )
        painter.setFont(theme.text(8.5))
        words = painter.fontMetrics().elidedText(self._where(joint), Qt.TextElideMode.ElideRight, int(inner.width()))
        painter.drawText(inner.adjusted(0, box.height() - 28, 0, 0), Qt.AlignmentFlag.AlignTop, words)

    @staticmethod
    def _kin(joint: Joint) -> tuple[str, str]:
        return joint.drive, joint.size

    @staticmethod
    def _where(joint: Joint) -> str:
        return joint.name or joint.place or screw_label(joint.drive, "")

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            hit = self._hit(QPointF(event.pos()))
            QToolTip.showText(event.globalPos(), tip(self.came_from.get(hit, "")), self)
            return True
        return super().event(event)

    def _hit(self, at: QPointF) -> str:
        return next((j.id for n, j in enumerate(self.groups) if self._box(n).contains(at)), "")

    def mousePressEvent(self, event: QMouseEvent) -> None:
        hit = self._hit(event.position())
        if hit:
            self.picked.emit(hit)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        moves = {
            Qt.Key.Key_Left: -1,
            Qt.Key.Key_Right: 1,
            Qt.Key.Key_Up: -self._across(),
            Qt.Key.Key_Down: self._across(),
        }
        if event.key() not in moves or not self.groups:
            super().keyPressEvent(event)
            return
        step = moves[Qt.Key(event.key())]
        places = [n for n, j in enumerate(self.groups) if j.id == self.chosen]  # several for one of several lengths
        at, step = (places[-1] if step > 0 else places[0], step) if places else (-1, 1)
        self.picked.emit(self.groups[max(0, min(len(self.groups) - 1, at + step))].id)


class Gauge(QWidget):
    """A bar that stands for 50 mm, to hold a ruler to."""

    def __init__(self) -> None:
        super().__init__()
        self.px_per_mm = 4.0
        self.setToolTip("This bar stands for 50 mm. Hold a ruler to it and type the reading.")

    def sizeHint(self) -> QSize:
        return QSize(round(self.px_per_mm * GAUGE_MM) + 4, 14)

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setPen(QPen(theme.colour("ink"), 1))
        long, middle = self.px_per_mm * GAUGE_MM, self.height() / 2
        painter.drawLine(QPointF(1, middle), QPointF(1 + long, middle))
        for n in range(6):
            high = 5 if n % 5 == 0 else 3
            x = 1 + long * n / 5
            painter.drawLine(QPointF(x, middle - high), QPointF(x, middle + high))
