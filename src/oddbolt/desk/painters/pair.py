"""One or two screws side by side, large, from above and from the side."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from oddbolt.core.fasteners.shapes import size_of
from oddbolt.core.study import Joint
from oddbolt.desk.painters import screws
from oddbolt.desk.widgets import theme


class ScrewPair(QWidget):
    """Draws screws at one scale, ``odd`` (an id) in copper."""

    def __init__(self) -> None:
        super().__init__()
        self.joints: list[Joint] = []
        self.odd = ""
        self.setFixedHeight(152)

    def sizeHint(self) -> QSize:
        return QSize(240, 152)

    def show_screws(self, joints: list[Joint], odd: str) -> None:
        """Show these screw groups."""
        self.joints, self.odd = joints, odd
        self.setAccessibleName("; ".join(f"{j.length_mm:g} mm" if j.length_mm else "length not known" for j in joints))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        sizes = [size_of(j) for j in self.joints]
        longest = max((head * 0.45 + length for _, _, head, length in sizes), default=5.0)
        widest = max((head for _, _, head, _ in sizes), default=3.0)
        scale = min(88 / longest, 60 / widest, 16.0)
        for n, joint in enumerate(self.joints):
            x = 58.0 + n * 122
            ink = theme.colour("copper" if joint.id == self.odd else "ink")
            radius = sizes[n][2] * scale / 2
            screws.recess(painter, QPointF(x - 26, 40), min(radius, 24), joint.drive, ink, screws.screw_fill(joint))
            screws.side(painter, x + 26, 18, joint, scale, ink)
            painter.setPen(ink)
            painter.setFont(theme.figures(9))
            words = f"{joint.length_mm:g} mm" if joint.length_mm else "how long?"
            painter.drawText(QRectF(x - 54, 126, 108, 16), Qt.AlignmentFlag.AlignCenter, words)
