"""Fasteners: the board of screws at true scale, and every joint in a table."""

from __future__ import annotations

from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QLabel, QLineEdit, QPushButton, QScrollArea

from oddbolt.core.bench import odd_ones
from oddbolt.core.reference.tables import screw_label
from oddbolt.core.study import Joint, Study
from oddbolt.core.study.words import plural
from oddbolt.desk.figures import Figures
from oddbolt.desk.pages.page import Page
from oddbolt.desk.painters.board import Board
from oddbolt.desk.session import Session
from oddbolt.desk.tables import Cell, Rows, Table

SIZES = ((1, "life-size"), (2, "× 2"), (4, "× 4"))
HEADS = ("joint", "kind", "count", "drive", "thread", "length", "holds", "reuse", "step")


class Fasteners(Page):
    """What holds the device together."""

    title, number = "Fasteners", 4

    def __init__(self, session: Session, figures: Figures) -> None:
        super().__init__(session, figures)
        self.board = Board()
        self.pane = QScrollArea()
        self.pane.setWidgetResizable(True)
        self.pane.setWidget(self.board)
        self.rows = Rows(HEADS, figures=(2, 5, 8))
        self.table = Table(self.rows, "Joints")
        self.table.widths(156, 88, 50, 150, 54, 74, 100, 66, 50)
        self.finder = QLineEdit()
        self.finder.setPlaceholderText("find a drive, a part, a rule …")
        self.finder.setAccessibleName("find among the joints")
        self.finder.setFixedWidth(230)
        self.finder.textChanged.connect(self._find)
        self.head.addWidget(self.finder)
        self.scale = QLabel()
        self.scale.setObjectName("caption")
        self.sizes = QButtonGroup(self)
        below = QHBoxLayout()
        below.addWidget(self.scale, 1)
        for times, word in SIZES:
            button = QPushButton(word)
            button.setCheckable(True)
            button.setChecked(times == 2)
            button.setObjectName("word")
            self.sizes.addButton(button, times)
            below.addWidget(button)
        self.sizes.idClicked.connect(lambda _: self.refresh())
        self.box.addWidget(self.pane, 3)
        self.box.addLayout(below)
        self.box.addWidget(self.table, 2)
        self.board.picked.connect(session.select)
        self.table.picked.connect(session.select)

    def arrive(self) -> None:
        self.board.setFocus()

    def state(self) -> str:
        odd = len(odd_ones(self.session.study))
        screws = sum(j.kind == "screw" for j in self.session.study.joints.values())
        return f"{odd} odd" if odd else plural(screws, "group") if screws else ""

    def refresh(self) -> None:
        study = self.session.study
        odd = odd_ones(study)
        times = self.sizes.checkedId()
        self.board.scale = self.logicalDpiX() / 25.4 * times
        words = self.finder.text().strip().casefold()
        groups = [j for j in study.joints.values() if j.kind == "screw" and words in _haystack(study, j)]
        groups.sort(key=lambda j: (j.drive, j.size, j.thread, j.length_mm or 0.0))
        self.board.show_groups(groups, set(odd), self.session.selection)
        number = {j: n for n, s in enumerate(study.steps.values(), 1) if s.phase == "apart" for j in s.releases}
        ids = list(study.joints)
        cells = [_cells(study, study.joints[id], number.get(id)) for id in ids]
        self.table.refresh(ids, cells, set(odd), self.session.selection)
        kinds = len({(j.drive, j.size) for j in study.joints.values() if j.kind == "screw" and (j.drive or j.size)})
        screws = sum(j.count or 0 for j in study.joints.values() if j.kind == "screw")
        self.beside.setText(
            f"{plural(screws, 'screw')} of {plural(kinds, 'drive size')}" if screws else "what holds it"
        )
        drawn = "Life-size" if times == 1 else f"Drawn {times} times life-size"
        words = f"{drawn} on a screen of {self.logicalDpiX()} dots to the inch. Copper marks the odd one of a pair."
        self.scale.setText(words)

    def _find(self, words: str) -> None:
        self.table.filter(words)
        self.refresh()


def _haystack(study: Study, joint: Joint) -> str:
    return " ".join(text for text, _ in _cells(study, joint, None)).casefold()


def _cells(study: Study, joint: Joint, step: int | None) -> list[Cell]:
    drive = screw_label(joint.drive, joint.size) if joint.kind == "screw" else joint.latch
    held = ", ".join(study.name(p) for p in joint.holds)
    name = study.name(joint.id)
    length = f"{joint.length_mm:g} mm" if joint.length_mm else ""
    return [
        (name, name.casefold()),
        (joint.kind, joint.kind),
        ("?" if joint.count is None else str(joint.count), joint.count or 0),
        (drive, drive),
        (joint.thread, joint.thread),
        (length, joint.length_mm or 0.0),
        (held, held.casefold()),
        (joint.reuse, joint.reuse),
        (str(step or ""), step or 10**6),
    ]
