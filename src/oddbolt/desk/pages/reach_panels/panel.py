"""What stands below the strata beside the route: a line of words and a table."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from oddbolt.desk.state.figures import Figures
from oddbolt.desk.state.session import Session
from oddbolt.desk.widgets.labels import Label
from oddbolt.desk.widgets.tables import Table


class ReachPanel(QWidget):
    """What stands below the strata: a line of words, room for what is done at its end, and a table."""

    def __init__(self, session: Session, figures: Figures, table: Table) -> None:
        super().__init__()
        self.session, self.figures, self.table = session, figures, table
        self.said = Label()
        self.said.setWordWrap(True)
        self.line = QHBoxLayout()
        self.line.addWidget(self.said, 1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(self.line)
        self.across = QHBoxLayout()
        self.across.addWidget(table, 1)
        box.addLayout(self.across, 1)
