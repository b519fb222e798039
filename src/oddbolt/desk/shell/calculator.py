"""The sums drawer: small sums of the bench, worked out as they are typed and kept with the thing they concern."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QSize, Qt
from PySide6.QtWidgets import QButtonGroup, QGridLayout, QPushButton, QScrollArea, QVBoxLayout

from oddbolt.core.bench.sums import SUMS, Result, reckon
from oddbolt.core.errors import BenchError
from oddbolt.core.safety import DEFER
from oddbolt.core.study import Joint, Part, Step, Sum, new_id, put, remove
from oddbolt.desk.inspector.margin import WIDE, Paper
from oddbolt.desk.state.session import Session
from oddbolt.desk.widgets.inputs import TypedLine, empty
from oddbolt.desk.widgets.labels import Label, tip


class Calculator(QScrollArea):
    """A form for one kind of sum, what came out, and all sums kept in the study."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.kind, self.about = next(iter(SUMS)), ""
        self.fields: dict[str, TypedLine] = {}
        self._result: tuple[Result, tuple[str, ...]] | None = None
        self.setObjectName("margin")
        self.setFixedWidth(WIDE)
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName("Sums")
        self._build()

    def sizeHint(self) -> QSize:
        return QSize(WIDE, 600)

    def ask(self, kind: str, about: str) -> None:
        """Show the form of a kind of sum, for this thing."""
        self.kind, self.about = kind, about
        self._build()
        self._prefill()
        next(iter(self.fields.values())).setFocus()

    def refresh(self) -> None:
        """Show what is kept now, and what a sum would be about."""
        study = self.session.study
        chosen = study.find(self.session.selection) if self.session.selection else None
        if isinstance(chosen, Part | Joint | Step):
            self.about = chosen.id
        elif self.about and study.find(self.about) is None:
            self.about = ""
        self._show_about()
        self._show_kept()

    def _build(self) -> None:
        paper = Paper()
        self.box = QVBoxLayout(paper)
        self.box.setContentsMargins(20, 14, 12, 20)
        self.box.setSpacing(4)
        title = Label("Sums")
        title.setObjectName("margintitle")
        self.box.addWidget(title)
        self.kinds = QButtonGroup(self)
        rows = QGridLayout()
        for n, kind in enumerate(SUMS.values()):
            button = QPushButton(kind.title)
            button.setObjectName("word")
            button.setCheckable(True)
            button.setChecked(kind.id == self.kind)
            button.clicked.connect(partial(self.ask, kind.id, self.about))
            self.kinds.addButton(button)
            rows.addWidget(button, n // 2, n % 2)
        self.box.addLayout(rows)
        grid = QGridLayout()
        grid.setColumnStretch(1, 1)
        self.fields = {}
        for row, given in enumerate(SUMS[self.kind].givens):
            caption = Label(given.caption)
            caption.setObjectName("quiet")
            field = TypedLine()
            field.setObjectName("figure")
            field.setAccessibleName(given.caption)
            usual = "optional" if given.optional else f"{given.usual:g}" if given.usual is not None else ""
            field.setPlaceholderText(
                f"{usual} {given.unit}".strip() if not given.optional else f"{given.unit}, {usual}"
            )
            field.textEdited.connect(self._work)
            field.returnPressed.connect(self.keep)
            grid.addWidget(caption, row, 0)
            grid.addWidget(field, row, 1)
            self.fields[given.name] = field
        self.box.addSpacing(6)
        self.box.addLayout(grid)
        self.sentence, self.figures, self.caution, self.source = Label(), Label(), Label(), Label()
        self.sentence.setObjectName("head")
        self.figures.setObjectName("mono")
        self.caution.setObjectName("copper")
        self.source.setObjectName("caption")
        for label in (self.sentence, self.figures, self.caution, self.source):
            label.setWordWrap(True)
            self.box.addWidget(label)
        self.keeper = QPushButton("Keep   Enter")
        self.keeper.clicked.connect(self.keep)
        self.box.addWidget(self.keeper)
        head = Label("Kept")
        head.setObjectName("head")
        self.box.addSpacing(10)
        self.box.addWidget(head)
        self.kept = QGridLayout()
        self.kept.setColumnStretch(0, 1)
        self.box.addLayout(self.kept)
        self.box.addStretch(1)
        self.setWidget(paper)
        self._work()
        self._show_about()
        self._show_kept()

    def _prefill(self) -> None:
        """Figures that the record already holds."""
        thing = self.session.study.find(self.about) if self.about else None
        if isinstance(thing, Joint):
            for name, value in (("length", thing.length_mm), ("width", thing.width_mm)):
                if value and name in self.fields:
                    self.fields[name].setText(f"{value:g} mm")
            if "pieces" in self.fields and thing.count and thing.count > 1:
                self.fields["pieces"].setText(str(thing.count))
        for note in self.session.study.findings.values():
            if note.about != self.about or note.value is None:
                continue
            named = {"mAh": "charge", "Wh": "label", "V": "voltage"}.get(note.unit)
            if named in self.fields:
                self.fields[str(named)].setText(f"{note.value:g} {note.unit}")
        self._work()

    def _work(self) -> None:
        kind = SUMS[self.kind]
        unverified = "" if kind.verified else " (unverified)"
        self.source.setText(f"{kind.source}{unverified}. {DEFER}")
        typed = {name: field.text() for name, field in self.fields.items()}
        try:
            self._result = reckon(kind, typed)
        except BenchError as error:
            self._result = None
            self.sentence.setText(str(error) if any(typed.values()) else "")
            self.figures.setText("")
            self.caution.setText("")
            self.keeper.setEnabled(False)
            return
        result = self._result[0]
        self.sentence.setText(result.sentence)
        self.figures.setText("\n".join(f"{caption}: {value}" for caption, value in result.figures))
        self.caution.setText(result.caution)
        self.keeper.setEnabled(True)

    def _show_about(self) -> None:
        name = self.session.study.name(self.about) if self.about else ""
        self.keeper.setText(f"Keep with {name}   Enter" if name else "Keep   Enter")

    def _show_kept(self) -> None:
        empty(self.kept)
        study = self.session.study
        for n, one in enumerate(study.sums.values()):
            words = Label(f"{study.name(one.about)}: {one.result}" if one.about else one.result)
            words.setWordWrap(True)
            words.setToolTip(tip("; ".join(one.given)))
            away = QPushButton("×")
            away.setObjectName("link")
            away.setFixedWidth(16)
            away.setAccessibleName(f"delete the calculation {one.result}")
            away.clicked.connect(partial(self._drop, one.id))
            self.kept.addWidget(words, n, 0)
            self.kept.addWidget(away, n, 1, Qt.AlignmentFlag.AlignTop)
        if not study.sums:
            none = Label("nothing yet")
            none.setObjectName("quiet")
            self.kept.addWidget(none, 0, 0)

    def keep(self) -> None:
        """Keep the sum with the thing it is about; a sum of that kind there before is replaced."""
        if self._result is None:
            return
        study = self.session.study
        before = next((u.id for u in study.sums.values() if (u.kind, u.about) == (self.kind, self.about)), "")
        result, given = self._result
        kept = Sum(before or new_id(study, "U"), self.kind, result.sentence, self.about, given)
        if self.session.attempt(f"keep the {SUMS[self.kind].title.lower()}", put, kept):
            self.session.tell(f"Kept{' with ' + study.name(self.about) if self.about else ''}: {result.sentence}")

    def _drop(self, sum_id: str) -> None:
        self.session.attempt("delete a calculation", remove, sum_id)
