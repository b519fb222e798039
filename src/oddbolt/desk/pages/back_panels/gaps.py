"""Gaps and steps round a lid: typed, drawn, and what to loosen and push."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from oddbolt.core.errors import OddBoltError
from oddbolt.core.reassembly.alignment import Alignment, Reading, aligned, readings, sized
from oddbolt.desk.state.session import Session
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.inputs import LineField
from oddbolt.desk.widgets.labels import Label
from oddbolt.desk.widgets.spoken import Painted

#: gaps are drawn so many times as wide as they are
LARGER = 20.0
ASK = (
    "Type the gaps in mm round the lid, seen from above: left 0.3, right 0.1, top@10 0.2, top@70 0.25, bottom 0.2; "
    "and how far it stands up: step left 0.05."
)


class GapView(Painted):
    """The lid in its opening, to scale but for the gaps, which are drawn larger."""

    def __init__(self) -> None:
        super().__init__()
        self.size_mm: tuple[float, float] = (80.0, 50.0)
        self.found: Alignment | None = None
        self.seen: list[Reading] = []
        self.places: dict[str, tuple[float, float]] = {}
        self.setAccessibleName("The lid in its opening")
        self.setMinimumSize(320, 200)

    def sizeHint(self) -> QSize:
        return QSize(520, 320)

    def show_lid(self, size: tuple[float, float], found: Alignment | None, seen: list[Reading]) -> None:
        """Draw a lid of this size with what was found of it."""
        self.size_mm, self.found, self.seen = size, found, seen
        names = [f"{r.side} {r.value:g} mm" for r in seen]
        self.say_items(names, "", lambda name: (name, ""))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        wide, high = self.size_mm
        gap = max([0.3, *(r.value for r in self.seen if not r.step)]) * LARGER
        scale = min((self.width() - 120) / (wide + 2 * gap), (self.height() - 80) / (high + 2 * gap))
        middle = QPointF(self.width() / 2, self.height() / 2)
        found = self.found
        gap_x, gap_y = (found.gap_x, found.gap_y) if found else (0.2, 0.2)
        frame = QRectF(0, 0, (wide + 2 * gap_x * LARGER) * scale, (high + 2 * gap_y * LARGER) * scale)
        frame.moveCenter(middle)
        painter.setPen(QPen(theme.colour("ink"), 2))
        painter.setBrush(theme.colour("kraft"))
        painter.drawRect(frame)
        painter.save()
        painter.translate(middle)
        if found:
            painter.translate(found.right_mm * LARGER * scale, found.down_mm * LARGER * scale)
            painter.rotate(found.turn_deg * LARGER)
        lid = QRectF(-wide * scale / 2, -high * scale / 2, wide * scale, high * scale)
        painter.setPen(QPen(theme.colour("sea" if found and found.good else "copper"), 2))
        painter.setBrush(theme.colour("card"))
        painter.drawRect(lid)
        painter.setFont(theme.figures(9))
        painter.setPen(theme.colour("muted"))
        for push in found.pushes if found else ():
            x, y = (v * scale for v in self.places.get(push.name, (0.0, 0.0)))
            at = lid.topLeft() + QPointF(x, y)
            painter.drawEllipse(at, 4, 4)
            painter.setPen(QPen(theme.colour("copper"), 2))
            painter.drawLine(at, at + QPointF(push.right_mm, push.down_mm) * LARGER * scale)
            painter.setPen(theme.colour("muted"))
        painter.restore()
        painter.setFont(theme.figures(10))
        painter.setPen(theme.colour("ink"))
        for reading in self.seen:
            painter.drawText(self._label(reading, frame, scale), Qt.AlignmentFlag.AlignCenter, f"{reading.value:.2f}")
        painter.setFont(theme.text(9))
        painter.setPen(theme.colour("muted"))
        note = f"{wide:g} x {high:g} mm to scale, gaps {LARGER:g} times as wide"
        painter.drawText(
            self.rect().adjusted(0, 0, 0, -2), Qt.AlignmentFlag.AlignBottom | Qt.AlignmentFlag.AlignHCenter, note
        )

    def _label(self, reading: Reading, frame: QRectF, scale: float) -> QRectF:
        """Where the figure of a reading stands: outside the opening, at its place along the side."""
        wide, high = self.size_mm
        length = high if reading.side in ("left", "right") else wide
        along = (length / 2 if reading.at_mm is None else reading.at_mm) - length / 2
        out = 64.0 if reading.step else 22.0
        middle = frame.center()
        at = {
            "left": QPointF(frame.left() - out, middle.y() + along * scale),
            "right": QPointF(frame.right() + out, middle.y() + along * scale),
            "top": QPointF(middle.x() + along * scale, frame.top() - out * 0.6),
            "bottom": QPointF(middle.x() + along * scale, frame.bottom() + out * 0.6),
        }[reading.side]
        return QRectF(at.x() - 30, at.y() - 9, 60, 18)


class GapsPanel(QWidget):
    """A lid, hinge or screen brought into line."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.size_field, self.gaps = LineField(), LineField()
        self.size_field.setAccessibleName("width x height of the lid, or its outline")
        self.size_field.setPlaceholderText("84x52")
        self.size_field.setFixedWidth(150)
        self.gaps.setAccessibleName("gaps and steps round the lid")
        self.gaps.setPlaceholderText("left 0.3, right 0.1, top 0.2, bottom 0.2")
        for field in (self.size_field, self.gaps):
            field.entered.connect(lambda _text: self.refresh())
        self.said = Label()
        self.said.setObjectName("head")
        self.said.setWordWrap(True)
        self.view = GapView()
        row = QHBoxLayout()
        row.addWidget(self.size_field)
        row.addWidget(self.gaps, 1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(row)
        box.addWidget(self.said)
        box.addWidget(self.view, 1)
        self.setFocusProxy(self.gaps)

    def refresh(self) -> None:
        """Work out what was typed."""
        outline = self.session.study.device.outline
        if not self.size_field.text().strip() and outline:
            self.size_field.set_shown(outline)
        size, found, seen = self.view.size_mm, None, []
        try:
            typed = self.size_field.text().strip() or "80x50"
            size = sized(typed)
            seen = readings(self.gaps.text())
            inset = min(size) * 0.12
            corners = {
                "the upper left fastener": (inset, inset),
                "the upper right fastener": (size[0] - inset, inset),
                "the lower left fastener": (inset, size[1] - inset),
                "the lower right fastener": (size[0] - inset, size[1] - inset),
            }
            self.view.places = corners
            if seen:
                found = aligned(size, seen, corners)
            self.said.setText("  ".join(found.sentences) if found else ASK)
        except OddBoltError as error:
            self.said.setText(str(error))
        self.view.show_lid(size, found, seen)
