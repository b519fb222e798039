"""Fields of a form that are folded away under their heading until somebody asks for them."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget


class Fold(QWidget):
    """A heading to press, and the room under it. ``turned`` gives the heading and whether the room is open now."""

    turned = Signal(str, bool)

    def __init__(self, heading: str, is_open: bool, line_px: int) -> None:
        super().__init__()
        self.heading = heading
        self.button = QPushButton()
        self.button.setObjectName("link")
        self.button.setCheckable(True)
        self.button.setChecked(is_open)
        self.button.setFixedHeight(line_px)
        self.inner = QWidget()
        self.room = QVBoxLayout(self.inner)
        self.room.setContentsMargins(0, 0, 0, 0)
        self.inner.setVisible(is_open)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        box.addWidget(self.button)
        box.addWidget(self.inner)
        self.button.toggled.connect(self._turn)
        self.filled = 0
        self.say(0)

    def _turn(self, is_open: bool) -> None:
        self.inner.setVisible(is_open)
        self.say(self.filled)
        self.turned.emit(self.heading, is_open)

    def say(self, filled: int) -> None:
        """Say in the heading how many of the fields are filled."""
        self.filled = filled
        sign = "▾" if self.button.isChecked() else "▸"
        self.button.setText(f"{sign} {self.heading}" + (f" ({filled})" if filled else ""))
        self.button.setAccessibleName(f"{self.heading}, {filled} filled" if filled else self.heading)
