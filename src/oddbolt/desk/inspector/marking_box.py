"""A short dialogue in the margin of a part: a marking typed, what it may say at once, kept with Enter."""

from __future__ import annotations

from PySide6.QtWidgets import QVBoxLayout, QWidget

from oddbolt.core.components import Marking, decode
from oddbolt.core.components.marking import kept
from oddbolt.core.errors import BenchError
from oddbolt.core.study.formatting import chance
from oddbolt.desk.state.session import Session
from oddbolt.desk.widgets.inputs import TypedLine
from oddbolt.desk.widgets.labels import Label

SHOWN = 3


class MarkingBox(QWidget):
    """Type, read, Enter: the marking is kept with the part, with its likeliest reading."""

    def __init__(self, session: Session, part: str) -> None:
        super().__init__()
        self.session, self.part = session, part
        self.edit = TypedLine("")
        self.edit.setPlaceholderText("4R7, 104K, T2A, CR2032")
        self.edit.setAccessibleName("marking")
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
        self._typed()

    def _readings(self) -> tuple[Marking, ...]:
        part = self.session.study.parts.get(self.part)
        return decode(self.edit.text(), kind=part.kind if part else "")

    def _typed(self) -> None:
        if not self.edit.text().strip():
            self.told.hide()
            return
        try:
            found = self._readings()[:SHOWN]
            lines = [f"{chance(m.probability)}  {m.kind}: {m.words}" for m in found]
        except BenchError as error:
            lines = [str(error)]
        self.told.setText("\n".join(lines) or "No marking of the tables; Enter keeps it as it is.")
        self.told.show()

    def enter(self) -> None:
        """Keep the marking with the part, with its likeliest reading where there is one."""
        text = self.edit.text().strip()
        if not text:
            return
        try:
            study = kept(self.session.study, self.part, text, self._readings())
        except BenchError as error:
            self.told.setText(str(error))
            return
        self.edit.clear()
        self.session.edit(study, "keep a marking")
