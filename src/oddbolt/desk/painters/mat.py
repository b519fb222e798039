"""What has come loose, laid out on the mat in order of removal, its screws drawn beside it."""

from __future__ import annotations

from attrs import frozen
from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QWheelEvent

from oddbolt.core.study import Joint, Study
from oddbolt.core.study.screw_lengths import by_length
from oddbolt.core.study.tally import Loose, loose
from oddbolt.desk.painters import screws
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.spoken import Painted

ROW, SCALE, SCREW_WIDE = 80, 2.2, 16
SCREWS_SHOWN = 12


@frozen
class Row:
    """A row in words: its number, what came off, what held it, its screws one by one, and the id to pick."""

    number: int
    name: str
    held_by: str
    screws: tuple[Joint, ...]
    id: str


def row_of(study: Study, off: Loose) -> Row:
    """What a row of the mat shows."""
    joints = [study.joints[j] for j in off.joints]
    groups = [j for j in joints if j.kind == "screw"]
    others = [study.name(j.id) for j in joints if j.kind != "screw"]
    words = [
        f"{j.count or '?'} {j.size or j.drive or 'screws'}" + (f" × {j.length_mm:g}" if j.length_mm else "")
        for group in groups
        for j in by_length(group)
    ]
    words += others[:2] + ([f"{len(others) - 2} more"] if len(others) > 2 else [])
    name = ", ".join(study.name(p) for p in off.parts) or "not off yet"
    each = tuple(j for group in groups for j in by_length(group) for _ in range(j.count or 1))
    return Row(off.number, name, " · ".join(words), each, off.parts[0] if off.parts else off.joints[-1])


class Mat(Painted):
    """Rows of what came off, newest last. ``picked`` gives the id of a part or joint."""

    picked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.study, self.odd, self.back = Study(), set[str](), 0
        self.loose: tuple[Loose, ...] = ()
        self.at = ""  # the row that the keys are on
        self.setMinimumWidth(220)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName("Loose on the mat")

    def sizeHint(self) -> QSize:
        return QSize(256, 420)

    def show_loose(self, study: Study, upto: int, odd: set[str]) -> None:
        """Lay out what the first ``upto`` steps took off. ``odd`` are screw groups easily mistaken."""
        self.study, self.odd, self.loose = study, odd, loose(study, upto)
        self.back = 0
        self._say()
        self.update()

    def _say(self) -> None:
        of = {row.id: row for row in self.rows()}
        self.say_items(list(of), self.at, lambda id: (of[id].name, f"step {of[id].number}, {of[id].held_by}"))

    def rows(self) -> list[Row]:
        """The rows in sight."""
        fit = max(1, self.height() // ROW)
        stop = len(self.loose) - self.back
        return [row_of(self.study, off) for off in self.loose[max(0, stop - fit) : stop]]

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("mat"))
        painter.setPen(theme.colour("rule"))
        painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        rows = self.rows()
        if not rows:
            painter.setPen(theme.colour("muted"))
            painter.setFont(theme.text(10))
            middle = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            words = "Nothing loose yet. Parts you take off are listed here."
            painter.drawText(self.rect().adjusted(16, 0, -16, 0), middle, words)
        for k, row in enumerate(rows):
            if k:
                painter.setPen(theme.colour("rule"))
                painter.drawLine(0, k * ROW, self.width(), k * ROW)
            self._draw(painter, row, k * ROW)

    def _draw(self, painter: QPainter, row: Row, top: int) -> None:
        self._words(painter, QRectF(10, top + 8, 26, 16), str(row.number), theme.figures(9), "muted")
        self._words(painter, QRectF(38, top + 7, self.width() - 48, 18), row.name, theme.text(10, bold=True), "ink")
        self._words(painter, QRectF(38, top + 25, self.width() - 48, 16), row.held_by, theme.figures(8.5), "muted")
        fit = min(SCREWS_SHOWN, (self.width() - 70) // SCREW_WIDE)
        x = 46.0
        for joint in row.screws[:fit]:
            line = theme.colour("copper" if joint.id in self.odd else "ink")
            screws.side(painter, x, top + 44, joint, SCALE, line, line)
            x += SCREW_WIDE
        if len(row.screws) > fit:
            more = f"+{len(row.screws) - fit}"
            self._words(painter, QRectF(x - 4, top + 46, 40, 16), more, theme.figures(8.5), "muted")

    @staticmethod
    def _words(painter: QPainter, box: QRectF, words: str, font: QFont, tint: str) -> None:
        painter.setFont(font)
        painter.setPen(theme.colour(tint))
        shown = painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, int(box.width()))
        painter.drawText(box, Qt.AlignmentFlag.AlignLeft, shown)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        k, rows = int(event.position().y() // ROW), self.rows()
        if 0 <= k < len(rows):
            self.picked.emit(rows[k].id)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        ids = [row.id for row in self.rows()]
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()))
        if step is not None and ids:
            n = ids.index(self.at) + step if self.at in ids else len(ids) - 1
            if n < 0 or n >= len(ids):
                self._scroll(-step)
                ids = [row.id for row in self.rows()]
            self.at = ids[max(0, min(len(ids) - 1, n))]
            self._say()
            self.update()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and self.at in ids:
            self.picked.emit(self.at)
        else:
            super().keyPressEvent(event)

    def _scroll(self, by: int) -> None:
        self.back = max(0, min(len(self.loose) - 1, self.back + by))

    def wheelEvent(self, event: QWheelEvent) -> None:
        self._scroll(1 if event.angleDelta().y() > 0 else -1)
        self.update()
