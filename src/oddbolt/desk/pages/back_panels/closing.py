"""Closing the case: what is open, the checks at the end, the mass, and who closed it."""

from __future__ import annotations

from datetime import datetime

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from oddbolt.core.errors import OddBoltError
from oddbolt.core.reassembly import mass_check
from oddbolt.core.reassembly.closing import close, still_open
from oddbolt.core.reference.quantities import quantity
from oddbolt.core.safety import finals
from oddbolt.core.safety.preflight import done, reopened
from oddbolt.desk.state.session import Session
from oddbolt.desk.widgets.inputs import LineField
from oddbolt.desk.widgets.labels import Label
from oddbolt.desk.widgets.tables import Cell, Rows, Table

MASS = "final mass"


class ClosingPanel(QWidget):
    """The last things. Enter on a check ticks it, or takes the tick back; one with a limit wants its reading."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.open = Label()
        self.open.setWordWrap(True)
        self.open.setObjectName("head")
        self.checks = Table(Rows(("", "check", "limit", "reading", "source")), "Checks at the end")
        self.checks.widths(28, 380, 220, 120, 200)
        self.checks.picked.connect(self._pick)
        self.checks.space.connect(self.tick)
        self._rule = ""
        self.reading = LineField()
        self.reading.setAccessibleName("reading of the check chosen")
        self.reading.setPlaceholderText("reading")
        self.reading.setFixedWidth(140)
        self.reading.entered.connect(self.read)
        self.weighed = Label()
        self.weighed.setWordWrap(True)
        self.by = LineField()
        self.by.setAccessibleName("who closes the case")
        self.by.setPlaceholderText("who closes it")
        self.by.setFixedWidth(180)
        self.by.setText(session.who)
        self.close_it = QPushButton("Close the case")
        self.close_it.clicked.connect(self.log)
        self.closings = Label()
        self.closings.setObjectName("quiet")
        self.closings.setWordWrap(True)
        row = QHBoxLayout()
        row.addWidget(self.reading)
        row.addWidget(self.weighed, 1)
        row.addWidget(self.by)
        row.addWidget(self.close_it)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.open)
        box.addWidget(self.checks, 1)
        box.addLayout(row)
        box.addWidget(self.closings)
        self.setFocusProxy(self.checks)

    def refresh(self) -> None:
        """Show what is open now."""
        study = self.session.study
        still = still_open(study)
        shown = still[:12]
        more = f" … and {len(still) - len(shown)} more" if len(still) > len(shown) else ""
        self.open.setText(f"Open: {'; '.join(shown)}{more}." if still else "Nothing is open.")
        lines = finals(study)
        cells: list[list[Cell]] = []
        for line in lines:
            mark = {"open": "☐", "done": "☑"}.get(line.state, "!")
            read = "" if line.check is None or line.check.reading is None else f"{line.check.reading:g} {line.unit}"
            cells.append([(mark, mark), (line.what, line.what), (line.limit, ""), (read, ""), (line.source, "")])
        bad = {line.rule for line in lines if line.state not in ("open", "done")}
        self.checks.refresh([line.rule for line in lines], cells, bad, self._at())
        self.weighed.setText(self._mass())
        told = []
        for c in study.closings.values():
            by = f" by {c.by}" if c.by else ""
            told.append(f"closed {c.at.replace('T', ' ')}{by}, " + (f"open: {c.open}" if c.open else "nothing open"))
        self.closings.setText("\n".join(told[-2:]))

    def _at(self) -> str:
        ids = [line.rule for line in finals(self.session.study)]
        return self._rule if self._rule in ids else (ids[0] if ids else "")

    def _pick(self, rule: str) -> None:
        self._rule = rule

    def _mass(self) -> str:
        study = self.session.study
        check = next((c for c in study.checks.values() if c.rule == MASS), None)
        if check is None or check.reading is None:
            return ""
        try:
            return mass_check(study, check.reading).sentence
        except OddBoltError as error:
            return str(error)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.tick(self._at())
        else:
            super().keyPressEvent(event)

    def tick(self, rule: str) -> None:
        """Tick a check, or take the tick back."""
        line = next((n for n in finals(self.session.study) if n.rule == rule), None)
        if line is None:
            return
        if line.check is not None:
            self.session.attempt("take a check back", reopened, rule)
        elif line.unit:
            self.reading.setFocus()
            self.session.tell(f"{line.what}: type the reading in {line.unit}.")
        else:
            self.session.attempt("tick a check", done, rule, self.by.text(), _now())

    def read(self, text: str) -> None:
        """Take the reading of the check chosen."""
        rule = self._at()
        line = next((n for n in finals(self.session.study) if n.rule == rule), None)
        self.reading.set_shown("")
        if line is None or not text.strip():
            return
        try:
            value = quantity(text, "mass") if rule == MASS else float(text.replace(",", ".").split()[0])
        except ValueError as error:
            self.session.tell(str(error) if rule == MASS else f"“{text}” is no figure.")
            return
        self.session.attempt("enter a reading", done, rule, self.by.text(), _now(), value)

    def log(self) -> None:
        """Close the case, whatever is open; it is kept with it."""
        if self.session.attempt("close the case", close, self.by.text(), _now()):
            still = still_open(self.session.study)
            self.session.tell(f"Closed with {len(still)} things open." if still else "Closed: everything is back.")


def _now() -> str:
    return datetime.now().isoformat(timespec="seconds")
