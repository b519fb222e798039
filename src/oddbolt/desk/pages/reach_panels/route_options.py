"""What a route shall be, chosen below the ribbon: least in what, by which means, with what on the bench."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QBoxLayout, QComboBox, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from oddbolt.core.bench.kit import at_hand
from oddbolt.core.errors import OddBoltError
from oddbolt.core.reach.describe import step_text
from oddbolt.core.reach.route_options import AVOID, MINIMISE, Choices, RouteOptions, choices, weights_of
from oddbolt.core.study import Study
from oddbolt.core.study.formatting import plural
from oddbolt.desk.state.session import Session
from oddbolt.desk.widgets.inputs import LineField, word_group
from oddbolt.desk.widgets.labels import Label

#: what stands last among the words of what is least
WEIGHED = "weighed"
EXAMPLE = "renewals 2 min, risk 30 s"


class RouteOptionsPanel(QWidget):
    """``changed`` says that something else is wished. ``first`` is the line whose end is free for others; the second
    line is shown when it is asked for."""

    changed = Signal()

    def __init__(self, session: Session, bench: Callable[[], Sequence[str]]) -> None:
        super().__init__()
        self.session, self.bench = session, bench
        self.keep_in: tuple[str, ...] = ()
        self.weights: tuple[tuple[str, float], ...] = ()
        self._choices = Choices((), (), (), ())
        both = QVBoxLayout(self)
        both.setContentsMargins(0, 0, 0, 0)
        both.setSpacing(2)
        ways, means, choice = QHBoxLayout(), QHBoxLayout(), QHBoxLayout()
        self.first = QHBoxLayout()
        self._lines = (_one_or_two(ways, self.first), _one_or_two(means, choice))
        ways.addWidget(_quiet("least"))
        self.least = word_group(self, ways, enumerate((*MINIMISE, WEIGHED)))
        self.least.idClicked.connect(self._least)
        self.weigh = self._line(EXAMPLE, "weights of the route", 168, self._weigh)
        ways.addWidget(self.weigh)
        self.more = QPushButton("options")
        self.more.setObjectName("word")
        self.more.setCheckable(True)
        self.more.toggled.connect(self._unfold)
        ways.addWidget(self.more)
        ways.addStretch(1)
        both.addLayout(self._lines[0])
        self.second = QWidget()
        self.second.setLayout(self._lines[1])
        self.kept_in = self._line("parts to leave in", "parts to leave in", 110, self._keep_in, self._parts)
        means.addWidget(self.kept_in)
        self.without = _quiet("without")
        means.addWidget(self.without)
        self.avoid = {what: self._word(means, what) for what in AVOID}
        self.face, self.power, self.variant = (
            self._box(choice, name)
            for name in ("face to work from", "how to isolate the power", "variant of the device")
        )
        self.own = self._word(means, "my tools only")
        self.own.setToolTip("Use only the tools listed under my bench on Prepare")
        means.addStretch(1)
        choice.addStretch(1)
        both.addWidget(self.second)
        self.second.hide()
        self.weigh.hide()

    def fit(self, narrow: bool) -> None:
        """Each line as two where the page is narrow."""
        way = QBoxLayout.Direction.TopToBottom if narrow else QBoxLayout.Direction.LeftToRight
        for line in self._lines:
            line.setDirection(way)

    def _parts(self) -> list[str]:
        return [p.name for p in self.session.study.parts.values()]

    def _line(
        self,
        words: str,
        name: str,
        wide: int,
        entered: Callable[[str], None],
        names: Callable[[], Sequence[str]] | None = None,
    ) -> LineField:
        field = LineField(names)
        field.setPlaceholderText(words)
        field.setAccessibleName(name)
        field.setFixedWidth(wide)
        field.entered.connect(entered)
        return field

    def _word(self, line: QHBoxLayout, what: str) -> QPushButton:
        button = QPushButton(what)
        button.setObjectName("word")
        button.setCheckable(True)
        button.toggled.connect(lambda _: self.changed.emit())
        line.addWidget(button)
        return button

    def _box(self, line: QHBoxLayout, name: str) -> QComboBox:
        box = QComboBox()
        box.setAccessibleName(name)
        box.setMaximumWidth(170)
        box.activated.connect(lambda _: self.changed.emit())
        line.addWidget(box)
        return box

    # -- what is wished -------------------------------------------------------------------------------------

    def options(self) -> RouteOptions:
        """What is wished now."""
        weighed = self.least.checkedId() == len(MINIMISE)
        study = self.session.study
        faces, power, variant = (box.currentData() or "" for box in (self.face, self.power, self.variant))
        return RouteOptions(
            "time" if weighed else MINIMISE[self.least.checkedId()],
            self.weights if weighed else (),
            tuple(p for p in self.keep_in if p in study.parts),
            tuple(what for what, word in self.avoid.items() if word.isChecked() and what in self._choices.avoid),
            at_hand(study, self.bench()) if self.own.isChecked() else None,
            (faces,) if faces else (),
            power,
            variant,
        )

    def refresh(self, study: Study) -> RouteOptions:
        """Show what there is to choose between in this study; what is gone is no longer wished. Returns the options."""
        found = choices(study)
        if found != self._choices:
            self._choices = found
            for what, word in self.avoid.items():
                word.setVisible(what in found.avoid)
            self.without.setVisible(bool(found.avoid))
            faces = [(f"from the {face} only", face) for face in found.faces]
            _fill(self.face, [("from any face", ""), *faces] if faces else [])
            steps = [(f"isolate by {study.step_number(s)}: {step_text(study, s)}", s) for s in found.isolating]
            _fill(self.power, [("isolate by best step", ""), *steps, ("power live", "not")] if steps else [])
            _fill(self.variant, [("all variants", ""), *((v, v) for v in found.variants)] if found.variants else [])
        self.kept_in.set_shown("; ".join(study.name(p) for p in self.keep_in if p in study.parts))
        options = self.options()
        more = [
            *options.keep_in,
            *options.avoid,
            *options.faces,
            options.isolate,
            options.variant,
            options.tools is not None,
        ]
        count = sum(map(bool, more))
        self.more.setText(plural(count, "option") if count else "options")
        return options

    def forget(self) -> None:
        """Wish nothing; for another study."""
        self.keep_in, self.weights = (), ()
        self.least.button(0).setChecked(True)
        self.own.setChecked(False)
        for word in self.avoid.values():
            word.setChecked(False)
        for box in (self.face, self.power, self.variant):
            box.setCurrentIndex(0)
        self.kept_in.set_shown("")
        self.weigh.set_shown("")
        self.weigh.hide()

    # -- the hand -------------------------------------------------------------------------------------------

    def _unfold(self, shown: bool) -> None:
        self.second.setVisible(shown)

    def _least(self, n: int) -> None:
        self.weigh.setVisible(n == len(MINIMISE))
        if n == len(MINIMISE) and not self.weights:
            self.weigh.setFocus()
        self.changed.emit()

    def _weigh(self, text: str) -> None:
        try:
            self.weights = weights_of(text)
        except OddBoltError as error:
            self.session.tell(str(error))
        self.changed.emit()

    def _keep_in(self, text: str) -> None:
        try:
            self.keep_in = self.session.named(text) if text.strip() else ()
        except OddBoltError as error:
            self.session.tell(str(error))
        self.changed.emit()


def _one_or_two(*lines: QHBoxLayout) -> QBoxLayout:
    """These lines beside one another, or below one another."""
    whole = QBoxLayout(QBoxLayout.Direction.LeftToRight)
    whole.setContentsMargins(0, 0, 0, 0)
    whole.setSpacing(4)
    for line in lines:
        whole.addLayout(line)
    return whole


def _quiet(words: str) -> QLabel:
    label = Label(words)
    label.setObjectName("quiet")
    return label


def _fill(box: QComboBox, rows: Sequence[tuple[str, str]]) -> None:
    """Offer these; what was chosen stays if it is among them. A box with nothing to choose is not shown."""
    before = box.currentData()
    box.clear()
    for words, data in rows:
        box.addItem(words, data)
    box.setCurrentIndex(max(0, box.findData(before)) if before else 0)
    box.setVisible(bool(rows))
