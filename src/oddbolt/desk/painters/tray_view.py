"""The tray: what lies in which compartment."""

from __future__ import annotations

from collections.abc import Sequence

from attrs import frozen
from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen

from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.spoken import ARROWS, Painted


@frozen
class Cell:
    """One compartment: the group in it ("" for none), its lines of words, whether a look-alike lies beside it, what was
    ticked off in words, and which share of the group lies in it (None for not ticked)."""

    id: str
    lines: tuple[str, ...]
    near: bool
    ticked: str = ""
    share: float | None = None


class TrayView(Painted):
    """``picked`` gives the group of a compartment, ``ticked`` one whose next state is asked for, ``counted`` one and
    how many lie in it now. Arrows walk, Space ticks, figures count."""

    picked = Signal(str)
    ticked = Signal(str)
    counted = Signal(str, int)

    def __init__(self) -> None:
        super().__init__()
        self.cells: Sequence[Cell] = ()
        self.boxes: Sequence[tuple[float, float, float, float]] = ()
        self.chosen = ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Tray: what lies in which compartment")
        self.setMinimumHeight(150)

    def sizeHint(self) -> QSize:
        return QSize(800, 230)

    def show_tray(self, cells: Sequence[Cell], boxes: Sequence[tuple[float, float, float, float]], chosen: str) -> None:
        """Show the compartments; ``boxes`` says where each lies (left, top, width, height, in any unit)."""
        self.cells, self.boxes, self.chosen = cells, boxes, chosen
        of = {c.id: c for c in cells if c.id}
        self.say_items(
            list(of), chosen, lambda id: (of[id].lines[0], ", ".join(filter(None, (*of[id].lines, of[id].ticked))))
        )
        self.update()

    def _box(self, n: int) -> QRectF:
        across = (self.width() - 2) / max(left + wide for left, _, wide, _ in self.boxes)
        down = (self.height() - 2) / max(top + high for _, top, _, high in self.boxes)
        left, top, wide, high = self.boxes[n]
        return QRectF(1 + left * across, 1 + top * down, wide * across, high * down)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("mat"))
        for n, cell in enumerate(self.cells):
            box = self._box(n)
            painter.setPen(QPen(theme.colour("rule"), 1))
            painter.drawRect(box)
            if cell.id and cell.id == self.chosen:
                painter.setPen(QPen(theme.colour("copper"), 2))
                painter.drawRect(box.adjusted(2, 2, -2, -2))
            if cell.share is not None:  # a bar at the foot, as full as the compartment is
                bar = QRectF(box.left() + 6, box.bottom() - 6, box.width() - 12, 3)
                painter.fillRect(bar, theme.colour("rule"))
                full = QRectF(bar.left(), bar.top(), bar.width() * min(1.0, cell.share), bar.height())
                painter.fillRect(full, theme.colour("ink"))
            inner = box.adjusted(7, 4, -5, -8 if cell.share is not None else -4)
            for k, line in enumerate((*cell.lines[:1], *filter(None, (cell.ticked,)), *cell.lines[1:])):
                said = line == cell.ticked
                painter.setFont(
                    theme.text(10, bold=True) if k == 0 else theme.text(9) if said or k > 1 else theme.figures(8.5)
                )
                painter.setPen(theme.colour("copper" if cell.near and k == 0 else "ink" if k == 0 or said else "muted"))
                metrics = painter.fontMetrics()
                if inner.height() < metrics.height():
                    break
                words = metrics.elidedText(line, Qt.TextElideMode.ElideRight, int(inner.width()))
                painter.drawText(inner, Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeft, words)
                inner.setTop(inner.top() + metrics.height())
        if self.hasFocus():
            painter.setPen(QPen(theme.colour("copper"), 2))
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        hit = next((n for n in range(len(self.cells)) if self._box(n).contains(event.position())), -1)
        if hit >= 0 and self.cells[hit].id:
            self.picked.emit(self.cells[hit].id)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        way = ARROWS.get(Qt.Key(event.key()))
        at = next((n for n, c in enumerate(self.cells) if c.id and c.id == self.chosen), None)
        if way is not None:
            to = self._beyond(at, way)
            if to is not None:
                self.picked.emit(self.cells[to].id)
        elif at is not None and event.key() == Qt.Key.Key_Space:
            self.ticked.emit(self.chosen)
        elif at is not None and event.text().isdecimal():
            self.counted.emit(self.chosen, int(event.text()))
        else:
            super().keyPressEvent(event)

    def _beyond(self, at: int | None, way: tuple[int, int]) -> int | None:
        """The filled compartment next in this direction: along the rows in reading order, else the nearest one."""
        filled = [n for n, c in enumerate(self.cells) if c.id]
        if at is None:
            return filled[0] if filled else None
        if way[0]:
            return next((n for n in filled[:: way[0]] if (n - at) * way[0] > 0), None)
        here = self._box(at).center()
        gone = {n: self._box(n).center() - here for n in filled}
        ahead = [n for n in filled if gone[n].y() * way[1] > 1]
        return min(ahead, key=lambda n: (round(abs(gone[n].y())), abs(gone[n].x())), default=None)
