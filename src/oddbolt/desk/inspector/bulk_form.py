"""The margin's form for several things at once: what is typed is changed of all of them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

from PySide6.QtWidgets import QGridLayout, QPushButton, QVBoxLayout, QWidget

from oddbolt.core.errors import OddBoltError
from oddbolt.core.study import Joint, Part, Step
from oddbolt.core.study.formatting import plural
from oddbolt.core.study.steps import changed_all
from oddbolt.desk.inspector.fields import Field, fields_of, widget_for
from oddbolt.desk.inspector.typed_values import shown, typed
from oddbolt.desk.state.session import Session
from oddbolt.desk.widgets.inputs import LineField
from oddbolt.desk.widgets.labels import Label

#: what of each kind of thing can be the same for several
TOGETHER = {
    Step: ("verb", "tool", "face", "wait_s", "isolates_power", "cautions", "note"),
    Part: ("inside", "kind", "priority", "reuse", "variant", "note"),
    Joint: ("drive", "size", "thread", "length_mm", "head", "head_mm", "finish", "torque_ncm", "latch", "width_mm",
            "into", "place", "reuse", "note"),
}  # fmt: skip
DIFFER = "mixed"


def fit_together(session: Session) -> bool:
    """Whether several things of one kind are chosen that can be edited together."""
    things = [session.study.find(id) for id in session.chosen]
    return len(things) > 1 and len({type(t) for t in things}) == 1 and type(things[0]) in TOGETHER


class BulkForm:
    """Fills a layout with the fields that the chosen things have in common."""

    def __init__(self, session: Session, box: QVBoxLayout, names: Callable[[str], Sequence[str]], line: int) -> None:
        self.session = session
        self.fields: dict[str, tuple[Field, Any]] = {}
        things: list[Any] = [session.study.find(id) for id in session.chosen]
        word = "joint" if isinstance(things[0], Joint) else type(things[0]).__name__.lower()
        title = Label(plural(len(things), word))
        title.setObjectName("margintitle")
        about = Label("Changes apply to all selected.")
        about.setObjectName("quiet")
        about.setWordWrap(True)
        box.addWidget(title)
        box.addWidget(about)
        box.addSpacing(8)
        grid = QGridLayout()
        grid.setSpacing(0)
        grid.setColumnMinimumWidth(0, 74)
        grid.setColumnStretch(1, 1)
        common = set.intersection(*({f.name for f in fields_of(t)} for t in things))
        for field in fields_of(things[0]):
            if field.name not in TOGETHER[type(things[0])] or field.name not in common:
                continue
            caption, widget = Label(field.caption), widget_for(field, names)
            caption.setObjectName("quiet")
            caption.setBuddy(widget)
            for one in (caption, widget):
                one.setFixedHeight(line)
            widget.entered.connect(partial(self._entered, field))  # type: ignore[attr-defined]
            row = grid.rowCount()
            grid.addWidget(caption, row, 0)
            grid.addWidget(widget, row, 1)
            self.fields[field.name] = (field, widget)
        box.addLayout(grid)
        self.remove = QPushButton(f"Remove these {plural(len(things), word)}")
        self.remove.setObjectName("link")
        box.addSpacing(line)
        box.addWidget(self.remove)
        self.fill()

    def fill(self) -> None:
        """Show what all of them have in common."""
        study = self.session.study
        things: list[Any] = [study.find(id) for id in self.session.chosen]
        for field, widget in self.fields.values():
            texts = {shown(study, field, getattr(t, field.name)) for t in things}
            same = len(texts) == 1
            if isinstance(widget, LineField):
                widget.setPlaceholderText("" if same else DIFFER)
                widget.set_shown(texts.pop() if same else "")
            else:
                widget.set_shown(texts.pop() if same else DIFFER)

    def _entered(self, field: Field, value: str | bool) -> None:
        study, chosen = self.session.study, self.session.chosen
        if value == DIFFER:
            return
        try:
            after = value if isinstance(value, bool) else typed(study, field, value, self.session.named)
            edited = changed_all(study, chosen, **{field.name: after})
        except OddBoltError as error:
            self.session.tell(str(error))
            self.fill()
            return
        self.session.edit(edited, f"change the {field.caption} of {plural(len(chosen), 'thing')}")
        self.fill()


def holder(widget: QWidget) -> QVBoxLayout:
    """A layout like the margin's on a sheet of its paper."""
    box = QVBoxLayout(widget)
    box.setContentsMargins(20, 14, 12, 20)
    box.setSpacing(0)
    return box
