"""A short dialogue in the margin: something typed, what it may be at once below it, kept with Enter."""

from __future__ import annotations

from PySide6.QtWidgets import QVBoxLayout, QWidget

from oddbolt.desk.state.session import Session
from oddbolt.desk.widgets.inputs import TypedLine
from oddbolt.desk.widgets.labels import Label


class TypedBox(QWidget):
    """A line and what is told of its words. ``example`` stands in the empty line, ``name`` is read out for it."""

    def __init__(self, session: Session, example: str, name: str) -> None:
        super().__init__()
        self.session = session
        self.edit = TypedLine("")
        self.edit.setPlaceholderText(example)
        self.edit.setAccessibleName(name)
        self.told = Label()
        self.told.setWordWrap(True)
        self.told.setObjectName("quiet")
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(4)
        box.addWidget(self.edit)
        box.addWidget(self.told)
        self.edit.textChanged.connect(self._typed)
        self.edit.returnPressed.connect(self.enter)
        self.told.hide()

    def _typed(self) -> None:
        """Tell what the words may be."""
        raise NotImplementedError

    def enter(self) -> None:
        """Keep what was typed."""
        raise NotImplementedError
