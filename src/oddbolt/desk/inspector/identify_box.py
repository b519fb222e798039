"""A short dialogue in the margin of a screw group: measurements typed, what it may be at once, what to measure next."""

from __future__ import annotations

from typing import TYPE_CHECKING

from oddbolt.core.errors import BenchError
from oddbolt.core.fasteners.parse_measurements import measured
from oddbolt.core.study.formatting import chance
from oddbolt.desk.inspector.typed_box import TypedBox
from oddbolt.desk.state.session import Session

if TYPE_CHECKING:
    from oddbolt.core.fasteners.identify import Identified

SHOWN = 3


class IdentifyBox(TypedBox):
    """Type, read, Enter: the measurements are entered into the group ``joint``."""

    def __init__(self, session: Session, joint: str) -> None:
        super().__init__(session, "od 1.58, pitch .35, length 4.1", "measured")
        self.joint = joint

    def _typed(self) -> None:
        said = self.edit.text().strip()
        if not said:
            self.told.hide()
            return
        from oddbolt.core.fasteners.identify import identify, of_group  # takes long to load; wanted only here

        try:
            group = self.session.study.joints.get(self.joint)
            told = candidates_in_words(identify(of_group(measured(said), group)))
        except BenchError as error:
            told = str(error)
        self.told.setText(told)
        self.told.setVisible(bool(told))

    def enter(self) -> None:
        """Enter what was measured into the group; the words stay where that is not possible."""
        if not self.edit.text().strip():
            return
        from oddbolt.core.fasteners.identify import entered

        try:
            study = entered(self.session.study, self.joint, self.edit.text())
        except BenchError as error:
            self.told.setText(str(error))
            self.told.show()
            return
        self.edit.clear()
        self.session.edit(study, "measure the screws")


def candidates_in_words(found: Identified, between: str = "\n") -> str:
    """The leading candidates, what troubles, and what to measure next."""
    if between != "\n":
        leading = [f"{chance(c.probability)}  {c.label}" for c in found.candidates[:2]]
        return between.join([*filter(None, (found.trouble,)), *leading, found.advice.split(" (")[0].rstrip(".")])
    lines = [*found.notes, *filter(None, (found.trouble,))]
    lines += [f"{chance(c.probability)}  {c.label}" for c in found.candidates[:SHOWN]]
    against = found.candidates[0].speaks_against if found.candidates else ()
    lines += [f"but {said}" for said in against[:1]]
    return between.join([*lines, *filter(None, (found.advice,))])
