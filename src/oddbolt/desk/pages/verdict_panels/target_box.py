"""A figure or class that a scheme should reach: what would have to be different is searched beside the window."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from oddbolt.core.errors import OddBoltError
from oddbolt.core.study import Study
from oddbolt.core.verdict import Judgement
from oddbolt.core.verdict.target import in_words, reach_target, wanted
from oddbolt.desk.state.background import Background
from oddbolt.desk.widgets.inputs import LineField
from oddbolt.desk.widgets.labels import Label


class TargetBox(QWidget):
    """One line to type in, and what was found below it. ``wrong`` tells what is no target."""

    wrong = Signal(str)

    def __init__(
        self,
        name: str,
        classes: Sequence[tuple[str, float]] = (),
        quick: Callable[[Study], float | None] | None = None,
    ) -> None:
        super().__init__()
        self.quick = quick
        self.classes = tuple(classes)
        self.study: Study | None = None
        self.judge: Callable[[Study], Judgement] | None = None
        self.search = 0
        self.work = Background(self, 1)
        self.field = LineField()
        self.field.setPlaceholderText("reach …")
        self.field.setAccessibleName(f"figure that the {name} should reach")
        self.field.setToolTip(f"what would have to be different for the {name} to reach this figure or class")
        self.field.setFixedWidth(74)
        self.field.entered.connect(self.look)
        self.found = Label()
        self.found.setWordWrap(True)
        line = QHBoxLayout()
        line.addWidget(Label(f"{name} to reach"))
        line.addWidget(self.field)
        line.addStretch(1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(line)
        box.addWidget(self.found)

    def set_judge(self, study: Study, judge: Callable[[Study], Judgement]) -> None:
        """The study, and how it is judged. What was found of another study, or by other weights, is taken away."""
        if study is not self.study or judge is not self.judge:
            if self.study is not None:
                self.search += 1
                self.found.setText("")
            self.study, self.judge = study, judge

    def look(self, text: str) -> None:
        """Search for what is typed."""
        self.search += 1
        self.found.setText("")
        if not text.strip() or self.study is None or self.judge is None:
            return
        try:
            target = wanted(text, self.classes)
        except OddBoltError as error:
            self.wrong.emit(str(error))
            return
        self.found.setText("Trying changes …")
        now = self.search
        work = partial(_tried, self.study, self.judge, self.quick, target, lambda: self.search != now)
        self.work.start(work, partial(self._came, now))

    def _came(self, number: int, lines: list[str]) -> None:
        if number == self.search:
            self.found.setText("\n".join(lines))


def _tried(
    study: Study,
    judge: Callable[[Study], Judgement],
    quick: Callable[[Study], float | None] | None,
    target: float,
    stopped: Callable[[], bool],
) -> list[str]:
    def value_of(other: Study) -> float | None:
        if quick is not None:
            return quick(other)
        found = judge(other).total
        return found.likely if found else None

    total = judge(study).total
    if total is None:
        return ["There is no figure yet."]
    try:
        return in_words(study, reach_target(study, value_of, target, stopped=stopped), total.high)
    except OddBoltError as error:
        return [str(error)]
