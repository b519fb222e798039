"""Take apart: the photo, what has come loose, the strip of steps, and the say line."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout

from oddbolt.core.fasteners.look_alikes import odd_ones
from oddbolt.core.narration import Reading
from oddbolt.core.narration.doubts import unsure_steps
from oddbolt.core.narration.explain import explained
from oddbolt.core.narration.read_back import read_back
from oddbolt.core.narration.recording import memory_of
from oddbolt.core.reach import step_times
from oddbolt.core.reach.describe import step_text
from oddbolt.core.study import Study
from oddbolt.core.study.formatting import duration, plural
from oddbolt.core.study.steps import alternatives, search, step_of, variant_of
from oddbolt.core.study.tally import tally
from oddbolt.desk.pages.bench_panels.photo_panel import PhotoPanel
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.painters.mat import Mat
from oddbolt.desk.painters.strip import Card, Strip
from oddbolt.desk.state.actions import Action
from oddbolt.desk.state.step_actions import StepActions
from oddbolt.desk.widgets.labels import Label


class TakeApart(Page):
    """The stage where the day is spent. ``logged`` tells what was understood, as a sentence."""

    title = "Take apart"
    logged = Signal(str)

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.settings = desk.settings
        self.photo_panel = PhotoPanel(self.session, desk.settings, desk.importer)
        self.mat, self.strip, self.say = Mat(), Strip(), desk.say
        self.say.vocabulary = desk.settings.vocabulary()
        self.say.no_drives = set(desk.settings.get("no drives", []))
        self._remembered: Study | None = None
        self._logging = self._fresh = False
        middle = QHBoxLayout()
        middle.setSpacing(18)
        right = QVBoxLayout()
        right.setSpacing(3)
        loose = QHBoxLayout()
        self.loose, self.counted = Label("Loose on the mat"), Label()
        self.loose.setObjectName("head")
        self.counted.setObjectName("quiet")
        loose.addWidget(self.loose)
        loose.addStretch(1)
        loose.addWidget(self.counted)
        right.addLayout(loose)
        right.addWidget(self.mat, 1)
        middle.addWidget(self.photo_panel, 68)
        middle.addLayout(right, 32)
        self.box.addLayout(middle, 1)
        line = QHBoxLayout()
        strip_name, self.strip_count = Label("Strip"), Label()
        strip_name.setObjectName("head")
        self.strip_count.setObjectName("quiet")
        self.trouble = Label()
        self.trouble.setObjectName("copper")
        self.unsure = QPushButton()
        self.unsure.setObjectName("link")
        self.unsure.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.finder = StepFinder()
        self.finder.textChanged.connect(self._find)
        self.finder.returnPressed.connect(self._next_found)
        self.finder.left.connect(self.strip.setFocus)
        line.addWidget(strip_name)
        line.addWidget(self.finder)
        line.addWidget(self.unsure)
        line.addWidget(self.trouble, 1)
        line.addWidget(self.strip_count)
        self.box.addLayout(line)
        self.box.addWidget(self.strip)
        self.box.addWidget(self.say)
        self.say.logged.connect(self.log)
        self.say.taught.connect(self._teach)
        self.step_actions = StepActions(self.session)
        self.unsure.clicked.connect(self.step_actions.next_unsure)
        self.strip.picked.connect(self.session.select)
        self.strip.several.connect(self.session.choose)
        self.strip.carried.connect(self.step_actions.carry)
        self.strip.removed.connect(self.step_actions.remove)
        self.mat.picked.connect(self.session.select)

    def actions_here(self) -> tuple[Action, ...]:
        steps, do = partial(Action, menu="Steps", group=1), self.step_actions
        return (
            Action("say", "&Say what you did", "Work", self.wanted.emit, "Ctrl+Space"),
            Action("find step", "&Find step", "Steps", self.in_sight(self.look_for), "Ctrl+F"),
            Action("go to step", "&Go to step that frees it", "Steps", self._to_freeing, "Ctrl+G"),
            steps("earlier", "Move &earlier", run=partial(do.carry, -1), keys="Ctrl+Shift+Left"),
            steps("later", "Move &later", run=partial(do.carry, 1), keys="Ctrl+Shift+Right"),
            steps("split", "&Split off last action", run=do.split, keys="Ctrl+Shift+B"),
            steps("merge", "&Merge steps", run=do.join, keys="Ctrl+Shift+U"),
            steps("copy step", "&Repeat on other parts", run=do.same_again, keys="Ctrl+Shift+N"),
            steps("alternative", "&Add alternative", run=do.another_way, keys="Ctrl+Shift+Y"),
            steps("next unsure", "Ne&xt unsure reading", run=self.in_sight(do.next_unsure), keys="Ctrl+U"),
            steps("reading right", "Readin&g is right", run=self.in_sight(do.settle), keys="Ctrl+I"),
            Action("how read", "&How was this read?", "Steps", self.explain, "Ctrl+Alt+R"),
            steps("remove steps", "Remo&ve chosen steps", run=do.remove),
            *self.photo_panel.actions_here(),
        )

    def explain(self) -> None:
        """Say how the sentence of the chosen step was read."""
        study = self.session.study
        step = step_of(study, self.session.selection) or next(reversed(study.steps), "")
        told = explained(study, step, self.say.vocabulary) if step in study.steps else "There is no step yet."
        self.session.tell(told)

    def _to_freeing(self) -> None:
        if self.step_actions.go_to_freeing():
            self.wanted.emit()
            self.strip.setFocus()

    def arrive(self) -> None:
        self.say.edit.setFocus()

    def state(self) -> str:
        steps = len(self.session.study.steps)
        return f"step {steps}" if steps else "start here"

    # -- showing ------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        study = self.session.study
        at = self._at()
        last = study.steps[list(study.steps)[at - 1]] if at else None
        self.beside.setText(f"step {at} · {_brief(study, last.id)}" if last else "say what you do in your own words")
        self.photo_panel.refresh(last.id if last else "")
        self.mat.show_loose(study, at, set(odd_ones(study)))
        count = tally(study, at)
        self.counted.setText(f"{count.screws_out} screws · {count.parts_out} parts")
        self._show_strip()
        if self._remembered is not study and not self._logging:
            self._remembered = study
            self.say.remember(memory_of(study))

    def _show_strip(self) -> None:
        study, times = self.session.study, step_times(self.session.study)
        troubles = self.figures.troubles()
        every = list(study.steps)
        words = self.finder.text().strip()
        ids = search(study, words) if words else every
        number = {id: n for n, id in enumerate(every, 1)}

        def card_of(id: str) -> Card:
            time = times[id]
            shown = duration(time.seconds) if time.basis == "measured" else f"~{duration(time.seconds)}"
            others = ", ".join(str(number[o]) for o in alternatives(study, id)[:2])
            beside = " · ".join(filter(None, (variant_of(study, id), f"or {others}" if others else "")))
            tool = study.steps[id].tool or "hand"
            return Card(id, number[id], shown, _brief(study, id), tool, beside, troubles.get(id, ""))

        here = step_of(study, self.session.selection)
        at = ids.index(here) if here in ids else len(ids)
        self.strip.show_steps(ids, card_of, at, self.session.chosen, "" if words else "now")
        counted = plural(len(every), "step")
        self.strip_count.setText(f"{len(ids)} of {counted}" if words else counted)
        left = len(unsure_steps(study))
        self.unsure.setText(f"{plural(left, 'reading')} to check" if left else "")
        self.unsure.setVisible(bool(left))
        early = f"{plural(len(troubles), 'step')} too early" if troubles else ""
        self.trouble.setText(troubles.get(here, "") or early)

    def _find(self) -> None:
        self._show_strip()
        self._fresh = bool(self.finder.text().strip())
        if self._fresh and self.strip.ids:
            self.session.select(self.strip.ids[0])

    def _next_found(self) -> None:
        here = step_of(self.session.study, self.session.selection)
        ids = list(self.strip.ids)
        if self._fresh and here in ids:
            self._fresh = False  # the first Return stays on the match that typing showed
        elif ids:
            self.session.select(ids[(ids.index(here) + 1) % len(ids)] if here in ids else ids[0])

    def look_for(self) -> None:
        """Look for steps."""
        self.finder.setFocus()
        self.finder.selectAll()

    def _at(self) -> int:
        """How many steps are done at what is shown."""
        study = self.session.study
        step = step_of(study, self.session.selection)
        return study.step_number(step) if step else len(study.steps)

    # -- the work -----------------------------------------------------------------------------------------

    def log(self, reading: Reading) -> None:
        """Enter what was said into the record, and be ready for the next sentence."""
        memory = self.say.memory_after
        if self.session.selection or self.session.device_shown:
            self.session.select("")
        self._logging = True
        ids = self.session.log(reading)
        self._logging = False
        if ids is None:
            return
        refs = {step.ref: id for step, id in zip(reading.steps, ids, strict=True)}
        memory.renamed(refs)
        self.say.remember(memory)
        self._remembered = self.session.study
        self.say.done()
        self.session.offer_off(ids)
        self.logged.emit(read_back(reading, len(self.session.study.steps)))

    def _teach(self, word: str, drive: str) -> None:
        self.settings.teach(word, drive)
        self.say.vocabulary = self.settings.vocabulary()
        self.say.no_drives = set(self.settings.get("no drives", []))
        self.say.again()


class StepFinder(QLineEdit):
    """Where the words to look for are typed; Escape empties it and leaves."""

    left = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.setPlaceholderText("find a step …")
        self.setAccessibleName("Find step")
        self.setAccessibleDescription("Shows only the steps that hold these words; Escape leaves.")
        self.setFixedWidth(180)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.clear()
            self.left.emit()
        else:
            super().keyPressEvent(event)


def _brief(study: Study, id: str) -> str:
    """A step in a few words."""
    step = study.steps[id]
    if step.takes_out and not step.releases:
        return f"{study.name(step.takes_out[0])} out"
    things = [study.name(x) for x in (*step.releases, *step.softens, *step.opens)][:1]
    return f"{step.verb} {things[0]}" if things else step_text(study, id)
