"""Runs laid one under another as tapes whose length is time; the same step is joined from tape to tape."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from itertools import pairwise

from attrs import frozen
from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QToolTip

from oddbolt.core.study.formatting import duration
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.labels import tip
from oddbolt.desk.widgets.spoken import Painted

HEAD, TAPE, BETWEEN, AXIS = 20, 28, 24, 26
#: a tape grows where there are few, at most to this
TALLEST = 52


@frozen
class TapeSegment:
    """One lap: its step, seconds, and whether it stands out."""

    step: str
    number: int
    seconds: float
    odd: bool


@frozen
class Tape:
    """One run: its id, a line about it, its laps in the order they were made."""

    id: str
    head: str
    pieces: tuple[TapeSegment, ...]

    @property
    def seconds(self) -> float:
        """What the run took."""
        return sum(p.seconds for p in self.pieces)


class Tapes(Painted):
    """Runs as tapes. ``picked`` gives a run and a step of it, or "" for the run itself. Left and Right walk a tape, Up
    and Down change it, Enter picks the run."""

    picked = Signal(str, str)

    def __init__(self) -> None:
        super().__init__()
        self.tapes: Sequence[Tape] = ()
        self.words: Callable[[str], str] = str
        self.run, self.step = "", ""
        self.shares = False
        self._boxes: dict[tuple[str, str], QRectF] = {}
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Runs as tapes of time")

    def sizeHint(self) -> QSize:
        return QSize(700, 3 * (HEAD + TAPE + BETWEEN))

    def show_tapes(self, tapes: Sequence[Tape], words: Callable[[str], str], run: str, step: str) -> None:
        """Show runs; ``words`` tells a step. ``run`` and ``step`` are the ones chosen."""
        self.tapes, self.words, self.run, self.step = tapes, words, run, step
        if self.run not in {t.id for t in tapes}:
            self.run = tapes[0].id if tapes else ""
        self.setMinimumHeight(max(1, len(tapes)) * (HEAD + TAPE + BETWEEN) - BETWEEN + AXIS)
        self._say()
        self.update()

    def _say(self) -> None:
        heads = {t.id: f"{t.head}, {duration(t.seconds)}" for t in self.tapes}
        ids = [(t.id, p.step) for t in self.tapes for p in t.pieces]
        self.say_items(ids, (self.run, self.step), lambda id: (self._told(*id), heads[id[0]]))
        if (self.run, self.step) not in ids:
            self.setAccessibleDescription(heads.get(self.run, "no runs yet"))

    def pick_item(self, id: tuple[str, str]) -> None:
        self.picked.emit(*id)

    def show_shares(self, shares: bool) -> None:
        """Stretch every tape to the same length, so that shares of time can be compared."""
        self.shares = shares
        self.update()

    @property
    def _tall(self) -> int:
        """The height of a tape."""
        rows = max(1, len(self.tapes))
        room = self.height() - AXIS + BETWEEN
        return max(TAPE, min(TALLEST, room // rows - HEAD - BETWEEN))

    @property
    def _row(self) -> int:
        return HEAD + self._tall + BETWEEN

    def _lay(self) -> None:
        longest = max((t.seconds for t in self.tapes), default=1.0) or 1.0
        self._boxes = {}
        for k, tape in enumerate(self.tapes):
            scale = (self.width() - 2) / ((tape.seconds if self.shares else longest) or 1.0)
            x, top = 1.0, float(k * self._row + HEAD)
            for piece in tape.pieces:
                wide = piece.seconds * scale
                self._boxes[tape.id, piece.step] = QRectF(x, top, wide, self._tall)
                x += wide

    def paintEvent(self, event: QPaintEvent) -> None:
        self._lay()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for above, below in pairwise(self.tapes):
            self._join(painter, above, below)
        for tape in self.tapes:
            self._tape(painter, tape)
        if self.tapes:
            self._axis(painter)

    def _join(self, painter: QPainter, above: Tape, below: Tape) -> None:
        """Thin lines from where a step ends on one tape to where it ends on the next; the chosen step as a band."""
        for piece in above.pieces:
            a, b = self._boxes[above.id, piece.step], self._boxes.get((below.id, piece.step))
            if b is None:
                continue
            head = b.top() - HEAD
            if piece.step == self.step:
                band = theme.colour("copper")
                band.setAlpha(60)
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(band)
                painter.drawPolygon([a.bottomLeft(), a.bottomRight(), QPointF(b.right(), head + HEAD), b.topLeft()])
            painter.setPen(QPen(theme.colour("rule"), 1))
            painter.drawLine(a.bottomRight(), b.topRight())

    def _tape(self, painter: QPainter, tape: Tape) -> None:
        here = tape.id == self.run
        first = self._boxes[tape.id, tape.pieces[0].step] if tape.pieces else QRectF(1, HEAD, 1, self._tall)
        head = QRectF(1, first.top() - HEAD, self.width() - 2, HEAD)
        painter.setFont(theme.text(9.5, bold=here))
        painter.setPen(theme.colour("ink"))
        words = f"{tape.head} · {duration(tape.seconds)}"
        plate = QRectF(head.left(), head.top() + 1, painter.fontMetrics().horizontalAdvance(words) + 8, HEAD - 3)
        painter.fillRect(plate, theme.colour("paper"))
        painter.drawText(head, Qt.AlignmentFlag.AlignVCenter, words)
        for n, piece in enumerate(tape.pieces):
            box = self._boxes[tape.id, piece.step]
            chosen = piece.step == self.step
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.colour("copper") if chosen else theme.bar(0.15 if n % 2 else 0.4))
            painter.drawRect(box.adjusted(0, 0, -0.6, 0))
            if piece.odd and not chosen:
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.setPen(QPen(theme.colour("copper"), 2))
                painter.drawRect(box.adjusted(1, 1, -1.6, -1))
            if box.width() > 20:
                painter.setFont(theme.figures(8.5))
                painter.setPen(theme.DAY_CARD if chosen else theme.colour("bar_ink"))
                painter.drawText(box, Qt.AlignmentFlag.AlignCenter, str(piece.number))
        if here and self.hasFocus() and tape.pieces:
            last = self._boxes[tape.id, tape.pieces[-1].step]
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("copper"), 1, Qt.PenStyle.DotLine))
            painter.drawRect(first.united(last).adjusted(-1, -2, 1, 2))

    def _axis(self, painter: QPainter) -> None:
        top = len(self.tapes) * self._row - BETWEEN + 6.0
        painter.setFont(theme.figures(8.5))
        painter.setPen(theme.colour("muted"))
        longest = max(t.seconds for t in self.tapes)
        for n in range(5):
            x = 1 + (self.width() - 3) * n / 4
            painter.drawLine(QPointF(x, top), QPointF(x, top + 4))
            words = f"{25 * n} %" if self.shares else duration(longest * n / 4) if n else "0"
            wide = painter.fontMetrics().horizontalAdvance(words)
            at = min(max(x - wide / 2, 0.0), self.width() - wide - 1.0)
            painter.drawText(QPointF(at, top + 17), words)

    # -- the hand -----------------------------------------------------------------------------------------

    def _hit(self, at: QPointF) -> tuple[str, str] | None:
        return next((key for key, box in self._boxes.items() if box.contains(at)), None)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        hit = self._hit(event.position())
        if hit is None:
            row, y = divmod(event.position().y(), self._row)
            hit = (self.tapes[int(row)].id, "") if row < len(self.tapes) and y < HEAD else None
        if hit is not None:
            self.picked.emit(*hit)

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent):
            hit = self._hit(QPointF(event.pos()))
            QToolTip.showText(event.globalPos(), tip(self._told(*hit)) if hit else "", self)
            return True
        return super().event(event)

    def _told(self, run: str, step: str) -> str:
        piece = next(p for t in self.tapes if t.id == run for p in t.pieces if p.step == step)
        return f"{piece.number}  {self.words(step)}: {duration(piece.seconds)}{', stands out' if piece.odd else ''}"

    def keyPressEvent(self, event: QKeyEvent) -> None:
        runs: Mapping[str, Tape] = {t.id: t for t in self.tapes}
        key = event.key()
        if runs and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.picked.emit(self.run, "")
            return
        if not runs or key not in (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down):
            super().keyPressEvent(event)
            return
        ids = list(runs)
        at = ids.index(self.run)
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            at = min(max(at + (1 if key == Qt.Key.Key_Down else -1), 0), len(ids) - 1)
        steps = [p.step for p in runs[ids[at]].pieces]
        if not steps:
            return
        n = steps.index(self.step) if self.step in steps else 0
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right) and self.step in steps:
            n = min(max(n + (1 if key == Qt.Key.Key_Right else -1), 0), len(steps) - 1)
        self.picked.emit(ids[at], steps[n])
