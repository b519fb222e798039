"""A short dialogue in the margin of a part: a marking typed, what it may say at once, kept with Enter."""

from __future__ import annotations

from oddbolt.core.components import Marking, decode
from oddbolt.core.components.marking import kept
from oddbolt.core.errors import BenchError
from oddbolt.core.study.formatting import chance
from oddbolt.desk.inspector.typed_box import TypedBox
from oddbolt.desk.state.session import Session

SHOWN = 3


class MarkingBox(TypedBox):
    """Type, read, Enter: the marking is kept with the part, with its likeliest reading."""

    def __init__(self, session: Session, part: str) -> None:
        super().__init__(session, "4R7, 104K, T2A, CR2032", "marking")
        self.part = part

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
