"""One sentence at a time below the page; it stays until it is dismissed or another takes its place."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton

from oddbolt.desk.state.actions import Action


class Notice(QFrame):
    """The line that tells what happened."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("notice")
        line = QHBoxLayout(self)
        line.setContentsMargins(16, 5, 10, 5)
        self.text = QLabel()
        self.text.setWordWrap(True)
        self.text.setTextFormat(Qt.TextFormat.PlainText)
        dismiss = QPushButton("Dismiss  F6")
        dismiss.setObjectName("link")
        dismiss.clicked.connect(self.hide)
        line.addWidget(self.text, 1)
        line.addWidget(dismiss)
        self.hide()

    def actions_here(self) -> tuple[Action, ...]:
        """The action that dismisses it."""
        return (Action("dismiss", "Dismiss &notice", "View", self.hide, "F6", group=3),)

    def tell(self, sentence: str) -> None:
        """Show a sentence."""
        self.text.setText(sentence)
        self.show()
