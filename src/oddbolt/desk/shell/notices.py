"""One sentence at a time below the page; it stays until it is dismissed or another takes its place."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton

from oddbolt.desk.state.actions import Action
from oddbolt.desk.widgets.labels import Label


class Notice(QFrame):
    """The line that tells what happened, or asks something that need not be answered."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("notice")
        self._answers: list[QPushButton] = []
        line = self._line = QHBoxLayout(self)
        line.setContentsMargins(16, 5, 10, 5)
        self.text = Label()
        self.text.setWordWrap(True)
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
        self.ask(sentence, ())

    def ask(self, sentence: str, answers: Sequence[tuple[str, Callable[[], object]]]) -> None:
        """Show a question with its answers; nothing waits for one."""
        while self._answers:
            button = self._answers.pop()
            self._line.removeWidget(button)
            button.hide()
            button.deleteLater()
        for words, act in answers:
            button = QPushButton(words)
            button.clicked.connect(partial(self._answered, act))
            self._line.insertWidget(self._line.count() - 1, button)
            button.show()
            self._answers.append(button)
        self.text.setText(sentence)
        self.show()

    def _answered(self, act: Callable[[], object]) -> None:
        self.hide()
        act()
