"""The study on the desk: its file, its edits with undo, what is selected, and the clocks."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from time import monotonic
from typing import Any

from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QUndoCommand, QUndoStack

from oddbolt.core.errors import FileError, OddBoltError
from oddbolt.core.narration import Reading
from oddbolt.core.narration.log import log
from oddbolt.core.study import Run, Study, consequences, new_id, put, remove
from oddbolt.core.study.edits import lap
from oddbolt.files.store import Store


class Session(QObject):
    """One open study. Pages listen to ``changed`` and ask for edits; they never hold a study of their own."""

    changed = Signal()
    selected = Signal(str)
    told = Signal(str)
    opened = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.study = Study()
        self.store: Store | None = None
        self.stack = QUndoStack(self)
        self.selection = ""
        self.device_shown = False
        self.clock = Clock()
        self.run_id = ""

    # -- the file -----------------------------------------------------------------------------------

    def open(self, path: Path) -> None:
        """Open a study file in place of the present one. Raises FileError and leaves the present one open."""
        self._take(*Store.open(path))

    def create(self, path: Path, study: Study, pictures: list[bytes] | None = None) -> None:
        """Make a new study file and open it."""
        self._take(Store.create(path, study, pictures or []), study)

    def _take(self, store: Store, study: Study) -> None:
        self.close()
        self.store, self.study = store, study
        self.stack.clear()
        self.selection, self.run_id = "", ""
        self.clock = Clock()
        self.opened.emit()
        self.changed.emit()
        if store.read_only:
            self.tell(f"{store.path.name} is read-only: look around, or save a copy to go on.")

    def close(self) -> None:
        """Close the file; it is left as a single file."""
        if self.store is not None:
            self.store.close()
            self.store = None

    # -- edits --------------------------------------------------------------------------------------

    def edit(self, after: Study, label: str) -> bool:
        """Make an edit: saved in one transaction, undoable. False if it could not be saved."""
        if after is self.study:
            return True
        command = _Edit(self, self.study, after, label)
        self.stack.push(command)
        return not command.failed

    def attempt(self, label: str, make: Any, *arguments: Any, **fields: Any) -> bool:
        """Edit by a core function ``make(study, ...)``; what it refuses is told to the user in its own words."""
        try:
            return self.edit(make(self.study, *arguments, **fields), label)
        except OddBoltError as error:
            self.tell(str(error))
            self.changed.emit()
            return False

    def show(self, study: Study) -> bool:
        """Save and show a study. Used by undo and redo."""
        try:
            if self.store is not None:
                self.store.save(self.study, study)
        except FileError as error:
            self.tell(str(error))
            return False
        self.study = study
        if self.selection and study.find(self.selection) is None:
            self.select("")
        self.changed.emit()
        return True

    def select(self, id: str) -> None:
        """Select a part, joint or step by id; "" for none."""
        self.selection, self.device_shown = id, False
        self.selected.emit(id)

    def show_device(self) -> None:
        """Show the device in the margin."""
        self.selection, self.device_shown = "", True
        self.selected.emit("")

    def remove(self, id: str) -> None:
        """Remove a thing, and tell what else that changed."""
        name, said = self.study.name(id), consequences(self.study, id)
        if self.attempt(f"remove {name}", remove, id):
            more = f" and {len(said) - 3} more." if len(said) > 3 else ""
            self.tell(f"Removed {name}. {' '.join(said[:3])}{more} Ctrl+Z brings it back.".replace("  ", " "))

    def tell(self, sentence: str) -> None:
        """Say something to the user, out of the way of the work."""
        self.told.emit(sentence)

    def log(self, reading: Reading) -> tuple[str, ...] | None:
        """Enter what was said, with the step clock's time. Returns the ids of its new steps; None if it was refused."""
        try:
            study, ids = log(self.study, reading)
        except OddBoltError as error:
            self.tell(str(error))
            return None
        text = reading.text if len(reading.text) < 40 else reading.text[:38] + "…"
        return ids if self.edit(self.with_laps(study, ids), f"log “{text}”") else None

    def begin_run(self, id: str) -> None:
        """Let laps go to this run from now on, with fresh clocks."""
        self.run_id = id
        self.clock = Clock()

    # -- the run ------------------------------------------------------------------------------------

    def with_laps(self, study: Study, step_ids: tuple[str, ...]) -> Study:
        """The study with the step clock's seconds shared out to these steps; starts a discovery run if none runs."""
        seconds = self.clock.stop_step()
        steps = [s for s in step_ids if study.steps[s].verb != "prepare"] or list(step_ids)
        if not steps or seconds <= 0.5:
            return study
        if not self.run_id or self.run_id not in study.runs:
            self.run_id = new_id(study, "R")
            study = put(study, Run(self.run_id, "discovery"))
        for step in steps:
            study = lap(study, self.run_id, step, round(seconds / len(steps), 1))
        return study


class _Edit(QUndoCommand):
    """Two studies, before and after; they share all that did not change."""

    def __init__(self, session: Session, before: Study, after: Study, label: str) -> None:
        super().__init__(label)
        self.session, self.before, self.after = session, before, after
        self.failed = False

    def redo(self) -> None:
        self.failed = not self.session.show(self.after)
        self.setObsolete(self.failed)

    def undo(self) -> None:
        if not self.session.show(self.before):
            self.setObsolete(True)


class Clock:
    """A run clock and a step clock that pause together."""

    def __init__(self) -> None:
        self._started = monotonic()
        self._held = 0.0
        self._step_at = 0.0
        self.paused = False

    @property
    def run_s(self) -> float:
        """Seconds of the run, pauses left out."""
        return self._held + (0.0 if self.paused else monotonic() - self._started)

    @property
    def step_s(self) -> float:
        """Seconds since the last step was logged."""
        return self.run_s - self._step_at

    def pause(self) -> None:
        """Pause, or go on."""
        if self.paused:
            self._started = monotonic()
        else:
            self._held = self.run_s
        self.paused = not self.paused

    def stop_step(self) -> float:
        """End the step and return its seconds."""
        seconds = self.step_s
        self._step_at = self.run_s
        return seconds


def names(study: Study, ids: tuple[str, ...] | list[str]) -> str:
    """Names of things, for a line of text."""
    return ", ".join(study.name(id) for id in ids)


Words = Mapping[str, Any]
