"""The running strip of steps: a few of many in sight, whatever their number."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from attrs import frozen
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent

from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.spoken import Painted

WIDE, GAP, HIGH = 150, 8, 86
SHIFT, ALT, CTRL = (
    Qt.KeyboardModifier.ShiftModifier,
    Qt.KeyboardModifier.AltModifier,
    Qt.KeyboardModifier.ControlModifier,
)


@frozen
class Card:
    """What one step shows: number, time, two lines of words, tool; ``beside`` what else will do, or which variant it is
    for; ``trouble`` why it cannot have come here."""

    id: str
    number: int
    time: str
    lines: str
    tool: str
    beside: str = ""
    trouble: str = ""

    def told(self) -> tuple[str, str]:
        """Its name, and all there is to say of it."""
        trouble = f"too early here: {self.trouble}" if self.trouble else ""
        about = ", ".join(filter(None, (self.lines, self.tool, self.time, self.beside, trouble)))
        return f"step {self.number}: {self.lines}", about


class Strip(Painted):
    """Steps as cards in order. Left and Right move, with Shift they take along, with Alt they carry the chosen steps.

    ``picked`` gives a step's id, or "" for the one being done now; ``several`` the ids chosen together; ``carried`` by
    how many places the chosen ones go.
    """

    picked = Signal(str)
    several = Signal(tuple)
    carried = Signal(int)
    removed = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.ids: Sequence[str] = ()
        self.card_of: Callable[[str], Card] = lambda id: Card(id, 0, "", "", "")
        self.current = 0
        self.chosen: frozenset[str] = frozenset()
        self.now = ""
        self._anchor = 0
        self._drag: tuple[QPointF, int, int] | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Strip of steps")
        self.setFixedHeight(HIGH)

    def sizeHint(self) -> QSize:
        return QSize(700, HIGH)

    @property
    def count(self) -> int:
        """How many steps there are, the one being done now left out."""
        return len(self.ids)

    def show_steps(
        self, ids: Sequence[str], card_of: Callable[[str], Card], current: int, chosen: Sequence[str], now: str
    ) -> None:
        """``card_of(id)`` gives a step's card; ``current`` may be the number of ids: the step being done ``now``, which
        is not shown where those words are empty. ``chosen`` are the steps selected together."""
        self.ids, self.card_of, self.current, self.now = ids, card_of, current, now
        self.chosen = frozenset(chosen)
        if len(self.chosen) < 2:
            self._anchor = current
        self.say_items(ids, ids[current] if 0 <= current < len(ids) else "", self._said)
        self.update()

    def _said(self, id: str) -> tuple[str, str]:
        return self.card_of(id).told()

    def _first(self) -> int:
        shown = max(1, (self.width() + GAP) // (WIDE + GAP))
        last = self.count + bool(self.now)
        return max(0, min(self.current - shown + 2, last - shown))

    # -- painting -----------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        first = self._first()
        for k in range(self.width() // (WIDE + GAP) + 1):
            n = first + k
            if n > self.count or (n == self.count and not self.now):
                break
            self._card(painter, QRectF(k * (WIDE + GAP) + 1, 1, WIDE, self.height() - 3), n)
        if self._drag is not None and self._drag[2]:
            at = (self._drag[1] + self._drag[2] + (self._drag[2] > 0) - first) * (WIDE + GAP) - GAP / 2
            painter.fillRect(QRectF(at - 1.5, 0, 3, self.height()), theme.colour("copper"))
        if not self.count and not self.now:
            painter.setPen(theme.colour("muted"))
            painter.setFont(theme.text(10))
            painter.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignVCenter, "no step found")

    def _card(self, painter: QPainter, box: QRectF, n: int) -> None:
        now = n == self.count
        card = Card("", n + 1, "", self.now, "") if now else self.card_of(self.ids[n])
        here = n == self.current
        taken = here or card.id in self.chosen
        painter.setPen(QPen(theme.colour("copper") if taken else theme.colour("rule"), 2 if taken else 1))
        painter.setBrush(theme.colour("warn" if card.trouble else "card"))
        painter.drawRect(box)
        inner = box.adjusted(8, 6, -8, -6)
        painter.setFont(theme.figures(9))
        painter.setPen(theme.colour("copper" if here else "muted"))
        painter.drawText(inner, Qt.AlignmentFlag.AlignLeft, str(card.number))
        painter.drawText(inner, Qt.AlignmentFlag.AlignRight, card.time)
        painter.setFont(theme.text(9.5, bold=here))
        painter.setPen(theme.colour("ink"))
        words = Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignTop
        painter.drawText(inner.adjusted(0, 18, 0, -15), words, card.lines)
        painter.setFont(theme.figures(8.5))
        painter.setPen(theme.colour("copper" if card.trouble else "muted"))
        bottom = Qt.AlignmentFlag.AlignBottom
        foot = "too early here" if card.trouble else card.tool
        painter.drawText(inner, bottom | Qt.AlignmentFlag.AlignLeft, foot)
        room = int(inner.width()) - painter.fontMetrics().horizontalAdvance(foot) - 8
        beside = painter.fontMetrics().elidedText(card.beside, Qt.TextElideMode.ElideRight, room)
        painter.setPen(theme.colour("sea"))
        painter.drawText(inner, bottom | Qt.AlignmentFlag.AlignRight, beside)
        if here and self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("copper"), 1, Qt.PenStyle.DotLine))
            painter.drawRect(box.adjusted(3, 3, -3, -3))

    # -- the hand -----------------------------------------------------------------------------------------

    def _pick(self, n: int) -> None:
        n = max(0, min(n, self.count - (not self.now)))
        self.picked.emit(self.ids[n] if 0 <= n < self.count else "")

    def _extend(self, n: int) -> None:
        """Choose everything from where the choosing began to here; the last named is the one shown."""
        n = max(0, min(n, self.count - 1))
        start = min(self._anchor, self.count - 1)
        way = 1 if n >= start else -1
        self.several.emit(tuple(self.ids[k] for k in range(start, n + way, way)))

    def _at(self, at: QPointF) -> int:
        return self._first() + int(at.x() // (WIDE + GAP))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        n = self._at(event.position())
        if event.modifiers() & SHIFT:
            self._extend(n)
        elif event.modifiers() & CTRL and n < self.count:
            rest = tuple(id for id in self.ids if id in self.chosen and id != self.ids[n])
            self.several.emit(rest if self.ids[n] in self.chosen else (*rest, self.ids[n]))
        else:
            if n >= self.count or self.ids[n] not in self.chosen:
                self._pick(n)
            if n < self.count:
                self._drag = (event.position(), n, 0)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drag is not None and (event.position() - self._drag[0]).manhattanLength() > 12:
            n = max(0, min(self._at(event.position()), self.count - 1))
            self._drag = (self._drag[0], self._drag[1], n - self._drag[1])
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        drag, self._drag = self._drag, None
        if drag is not None and drag[2]:
            self.carried.emit(drag[2])
        self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        self._pick(self.current + (1 if event.angleDelta().y() + event.angleDelta().x() < 0 else -1))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        moves = {
            Qt.Key.Key_Left: -1,
            Qt.Key.Key_Right: 1,
            Qt.Key.Key_PageUp: -5,
            Qt.Key.Key_PageDown: 5,
            Qt.Key.Key_Home: -(10**6),
            Qt.Key.Key_End: 10**6,
        }
        key = Qt.Key(event.key())
        if key == Qt.Key.Key_Delete and self.current < self.count:
            self.removed.emit()
        elif key not in moves:
            super().keyPressEvent(event)
        elif event.modifiers() & ALT:
            self.carried.emit(moves[key])
        elif event.modifiers() & SHIFT:
            self._extend(self.current + moves[key])
        else:
            self._pick(self.current + moves[key])
