"""A screw left over: what was measured, where it belongs, and what would tell best; and groups that lack a screw."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from oddbolt.core.errors import OddBoltError
from oddbolt.core.fasteners.parse_measurements import measured
from oddbolt.core.reassembly import LeftOver, left_over, missing
from oddbolt.core.study import Finding, Study, new_id, put
from oddbolt.core.study.formatting import chance, duration, plural
from oddbolt.desk.state.session import Session
from oddbolt.desk.widgets.inputs import LineField
from oddbolt.desk.widgets.labels import Label
from oddbolt.desk.widgets.tables import Cell, Rows, Table

#: what no row is of
NOTHING = "-"
ASK = "Measure the screw that lies there and type it: od 1.58, length 4.1, driver PH00. A scan on the mat does it too."


class LeftOverPanel(QWidget):
    """The screw on the mat that nobody misses, until somebody looks."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.found: LeftOver | None = None
        self._typed = ""
        self.field = LineField()
        self.field.setAccessibleName("what was measured on the screw left over")
        self.field.setPlaceholderText("od 1.58, length 4.1, driver PH00")
        self.field.entered.connect(self.measure)
        self.keep = QPushButton("Keep as left over")
        self.keep.clicked.connect(self.log)
        self.best = Label()
        self.best.setObjectName("head")
        self.best.setWordWrap(True)
        self.table = Table(Rows(("chance", "belongs to", "why", "opening up again"), figures=(0,)), "Where it belongs")
        self.table.widths(64, 220, 420, 160)
        self.table.picked.connect(self._chosen)
        self.about = Label()
        self.about.setWordWrap(True)
        row = QHBoxLayout()
        row.addWidget(self.field, 1)
        row.addWidget(self.keep)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(row)
        box.addWidget(self.best)
        box.addWidget(self.table, 1)
        box.addWidget(self.about)
        self.setFocusProxy(self.field)

    def refresh(self) -> None:
        """Show where it belongs by the study as it is now."""
        self.measure(self._typed)

    def measure(self, text: str) -> None:
        """Take what was measured."""
        self._typed, self.found = text, None
        study = self.session.study
        if text.strip():
            try:
                self.found = left_over(study, measured(text))
                self.best.setText(self.found.best)
            except OddBoltError as error:
                self.best.setText(str(error))
        else:
            self.best.setText(ASK)
        places = [p for p in self.found.places if p.probability >= 0.005] if self.found else []
        cells: list[list[Cell]] = []
        for p in places:
            deep = "" if p.steps is None or p.seconds is None else f"{plural(p.steps, 'step')}, {duration(p.seconds)}"
            why = ", ".join(p.why)
            cells.append([(chance(p.probability), p.probability), (study.name(p.joint), ""), (why, why), (deep, "")])
        ids = [p.joint for p in places]
        strange = self.found is not None and self.found.strange
        if self.found and self.found.none >= 0.005:
            cells.insert(
                0 if strange else len(cells),
                [(chance(self.found.none), self.found.none), ("no recorded group", ""), ("", ""), ("", "")],
            )
            ids.insert(0 if strange else len(ids), "")
        self.table.refresh(ids, cells, set(ids[:1]), self.session.selection or NOTHING)
        self.keep.setEnabled(self.found is not None)
        self._tell(study, self.session.selection)

    def _chosen(self, id: str) -> None:
        self.session.select(id)
        self._tell(self.session.study, id)

    def _tell(self, study: Study, id: str) -> None:
        """What to know of the group chosen, if one of its screws is missing."""
        joint = study.joints.get(id)
        if joint is None or joint.kind != "screw":
            self.about.setText("")
            return
        found = missing(study, id)
        said = [f"If one of {study.name(id)} is missing: {found.rule[0].lower()}{found.rule[1:]}"]
        fits = [study.name(s.joint) for s in found.stand_ins if s.fits]
        said.append(f"May stand in: {', '.join(fits)}." if fits else "No other group of this study may stand in.")
        if found.near:
            said.append(f"Look first at {', '.join(study.name(p) for p in found.near)}.")
        self.about.setText(" ".join(said))

    def log(self) -> None:
        """Keep it as left over, so that the case is not closed without it."""
        if self.found is None:
            return
        study = self.session.study
        likely = "of no recorded group" if self.found.strange else study.name(self.found.places[0].joint)
        text = f"screw, {self._typed.strip()}; most likely {likely}"
        if self.session.edit(put(study, Finding(new_id(study, "N"), "left over", text)), "keep a screw left over"):
            self.session.tell("Kept: the case is not closed as long as this finding stands.")
