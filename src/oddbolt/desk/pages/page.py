"""What every page has: a title, a line beside it, and a refresh when it is in sight."""

from __future__ import annotations

from collections.abc import Iterable

from PySide6.QtWidgets import (
    QBoxLayout,
    QButtonGroup,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from oddbolt.desk.state.figures import Figures
from oddbolt.desk.state.session import Session


class Page(QWidget):
    """One stage of the work."""

    title = ""
    number = 0
    about = ""

    def __init__(self, session: Session, figures: Figures) -> None:
        super().__init__()
        self.session, self.figures = session, figures
        self.setObjectName("page")
        self.box = QVBoxLayout(self)
        self.box.setContentsMargins(14, 8, 14, 10)
        self.box.setSpacing(6)
        self.head = QHBoxLayout()
        self.head.setSpacing(12)
        name = QLabel(self.title)
        name.setObjectName("title")
        self.beside = QLabel(self.about)
        self.beside.setObjectName("quiet")
        self.beside.setContentsMargins(0, 6, 0, 0)
        self.beside.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.head.addWidget(name)
        self.head.addWidget(self.beside, 1)
        self.box.addLayout(self.head)

    def refresh(self) -> None:
        """Show the study as it is now."""

    def state(self) -> str:
        """The small line under the stage's name on the rail."""
        return ""

    def arrive(self) -> None:
        """The page came into sight: put the focus where the work is."""

    def words(self, line: QBoxLayout, choices: Iterable[tuple[int, str]], chosen: int = 0) -> QButtonGroup:
        """Add words to a line of which one is chosen at a time; the group knows them by their numbers."""
        return word_group(self, line, choices, chosen)


def word_group(owner: QWidget, line: QBoxLayout, choices: Iterable[tuple[int, str]], chosen: int = 0) -> QButtonGroup:
    """Words on a line of which one is chosen at a time."""
    group = QButtonGroup(owner)
    for n, word in choices:
        button = QPushButton(word)
        button.setCheckable(True)
        button.setChecked(n == chosen)
        button.setObjectName("word")
        group.addButton(button, n)
        line.addWidget(button)
    return group
