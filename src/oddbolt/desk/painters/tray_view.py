"""The tray: what lies in which compartment."""

from __future__ import annotations

from collections.abc import Sequence

from attrs import frozen
from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from oddbolt.desk import theme


@frozen
class Cell:
    """One compartment: the group in it ("" for none), its lines of words, and whether a look-alike lies beside it."""

    id: str
    lines: tuple[str, ...]
    near: bool


class TrayView(QWidget):
    """``picked`` gives the group of a compartment. Arrows walk."""

    picked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.cells: Sequence[Cell] = ()
        self.columns, self.chosen = 1, ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Tray: what lies in which compartment")
        self.setMinimumHeight(150)

    def sizeHint(self) -> QSize:
        return QSize(800, 230)

    def show_tray(self, cells: Sequence[Cell], columns: int, chosen: str) -> None:
        """Show the compartments, row by row."""
        self.cells, self.columns, self.chosen = cells, max(1, columns), chosen
        told = next((c for c in cells if c.id and c.id == chosen), None)
        self.setAccessibleDescription(", ".join(told.lines) if told else "")
        self.update()

    def _box(self, n: int) -> QRectF:
        rows = max(1, -(-len(self.cells) // self.columns))
        wide, high = (self.width() - 2) / self.columns, (self.height() - 2) / rows
        return QRectF(1 + n % self.columns * wide, 1 + n // self.columns * high, wide, high)

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
            inner = box.adjusted(7, 4, -5, -4)
            for k, line in enumerate(cell.lines):
                painter.setFont(theme.text(10, bold=True) if k == 0 else theme.mono(8.5) if k == 1 else theme.text(9))
                painter.setPen(theme.colour("copper" if cell.near and k == 0 else "ink" if k == 0 else "muted"))
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
        step = {
            Qt.Key.Key_Left: -1,
            Qt.Key.Key_Right: 1,
            Qt.Key.Key_Up: -self.columns,
            Qt.Key.Key_Down: self.columns,
        }.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
            return
        at = next((n for n, c in enumerate(self.cells) if c.id and c.id == self.chosen), -step)
        at += step
        while 0 <= at < len(self.cells) and not self.cells[at].id:
            at += step
        if 0 <= at < len(self.cells):
            self.picked.emit(self.cells[at].id)
