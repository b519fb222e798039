"""The study on the desk: its file, its edits with undo, what is selected, and the clocks."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from functools import partial
from hashlib import sha256
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject, QTimer, Signal
from PySide6.QtGui import QUndoCommand, QUndoStack

from oddbolt.core.errors import FileError, OddBoltError, WriteError
from oddbolt.core.narration import Reading
from oddbolt.core.narration.recording import log
from oddbolt.core.reach.questions import answer, stated
from oddbolt.core.study import Run, Study, consequences, new_id, put, remove
from oddbolt.core.study.edits import lap
from oddbolt.core.study.formatting import duration, plural, the
from oddbolt.core.study.model import KINDS
from oddbolt.core.study.naming import resolve_names
from oddbolt.core.study.steps import held_no_more, left_over, same_again, taken_out_as_well
from oddbolt.desk.state.clock import Clock
from oddbolt.desk.state.settings import data_folder
from oddbolt.files.store import Store
from oddbolt.files.whole import free_name

AGAIN_MS = 4000
#: no sign of life for less than this is no break
LEAST_BREAK_S = 20.0


def _now() -> str:
    """The minute, local time, ISO 8601."""
    return datetime.now().isoformat(timespec="minutes")


class Session(QObject):
    """One open study. Pages listen to ``changed`` and ask for edits; they never hold a study of their own.

    ``written`` is the study as the file holds it. Where the disk does not take an edit, the edit stays on the desk and
    is written as soon as the disk takes it. ``chosen`` are the things selected together, the ``selection`` among them;
    ``who`` signs what is answered.
    """

    changed = Signal()
    selected = Signal(str)
    told = Signal(str)
    #: a question and its answers: pairs of words and what they do
    asked = Signal(str, object)
    opened = Signal()
    paused = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.study = self.written = Study()
        self.store: Store | None = None
        self.pictures: dict[str, bytes] = {}
        self._again = QTimer(self)
        self._again.setInterval(AGAIN_MS)
        self._again.timeout.connect(self.write_again)
        self.stack = QUndoStack(self)
        self.selection = ""
        self.chosen: tuple[str, ...] = ()
        self.device_shown = False
        self.clock = Clock()
        self.run_id = ""
        self.who = ""
        self._offered: set[str] = set()

    # -- the file -----------------------------------------------------------------------------------

    def open(self, path: Path, load: Callable[[Path], tuple[Store, Study]] = Store.open) -> None:
        """Open a study file in place of the present one. Raises FileError and leaves the present one open."""
        self._take(*load(path))

    def create(self, path: Path, study: Study, pictures: list[bytes] | None = None) -> None:
        """Make a new study file and open it."""
        self._take(Store.create(path, study, pictures or []), study)

    def _take(self, store: Store, study: Study) -> None:
        try:
            self.close()
        except FileError:
            store.close()
            raise
        self.store, self.study, self.written = store, study, study
        self.stack.clear()
        self._offered.clear()
        self.selection, self.chosen = "", ()
        self.run_id = next(reversed(study.runs), "")
        self.clock = Clock(sum(lap.seconds for lap in study.runs[self.run_id].laps) if self.run_id else 0.0)
        self.opened.emit()
        self.changed.emit()
        if store.read_only:
            self.tell(f"{store.path.name} is read-only ({store.why_read_only}): look around, or save a copy to go on.")

    def close(self) -> None:
        """Close the file; it is left as a single file. Raises WriteError, with all kept, where edits still wait."""
        if self.store is None:
            return
        if self.waiting and not self.write_again():
            raise WriteError(
                f"{self.store.path.name} still cannot be written; later edits are in memory only. "
                "Save a copy elsewhere (Ctrl+Shift+S)."
            )
        self.store.abandon()
        self.store = None

    @property
    def waiting(self) -> bool:
        """Whether there are edits that the disk did not take yet."""
        return self.store is not None and (self.written is not self.study or bool(self.pictures))

    def write_again(self) -> bool:
        """Try to write what waits. True if nothing waits any more."""
        if not self.waiting or self.store is None:
            self._again.stop()
            return True
        try:
            self._write(self.store)
        except WriteError:
            if not self.store.stale or not self._found_again():
                return False
            try:
                self._write(self.store)
            except WriteError:
                return False
        self._again.stop()
        self.tell(f"{self.store.path.name} can be written again; all edits are saved.")
        self.changed.emit()
        return True

    def _write(self, store: Store) -> None:
        for digest, data in list(self.pictures.items()):
            store.add_picture(data)
            del self.pictures[digest]
        store.save(self.written, self.study)
        self.written = self.study

    def _found_again(self) -> bool:
        """Whether the file lies where it was again, as it was written last; it is opened anew then."""
        assert self.store is not None
        path = self.store.path
        if not path.exists():
            return False
        self.store.abandon()
        try:
            store, study = Store.open(path)
        except FileError:
            return False
        if store.read_only or not _same(study, self.written):
            store.close()
            return False
        self.store = store
        return True

    def save_copy(self, path: Path) -> None:
        """Write a copy of the study, with what the file did not take yet; work goes on in the copy if some waits.

        Raises FileError.
        """
        if self.store is None:
            raise FileError("No study is open.")
        if not self.waiting:
            self.store.save_copy(path)
            return
        wanted = {p.sha256 for p in self.study.photos.values()}
        have = [data for data in (self.picture(digest) for digest in wanted) if data]
        if path.exists() and path.samefile(self.store.path):
            raise FileError("A copy needs another name than the study itself.")
        store = Store.create(path, self.study, have)
        self.store.abandon()
        self.store, self.written = store, self.study
        self.pictures.clear()
        self._again.stop()
        self.changed.emit()

    def add_picture(self, data: bytes) -> str:
        """Keep a picture with the study; returns its SHA-256. Raises FileError if it cannot be kept."""
        if self.store is None:
            raise FileError("Open or create a study first; photos are stored in its file.")
        try:
            return self.store.add_picture(data)
        except WriteError as error:
            self._waits(error)
            digest = sha256(data).hexdigest()
            self.pictures[digest] = data
            return digest

    def picture(self, digest: str) -> bytes | None:
        """The bytes of a picture, or None."""
        kept = self.pictures.get(digest)
        return kept if kept is not None else self.store.picture(digest) if self.store else None

    def _waits(self, error: WriteError) -> None:
        if not self._again.isActive():
            self.tell(f"{error} Edits are kept in memory and written as soon as the disk allows.")
            self._again.start()

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

    def answer(self, over: str, under: str, yes: bool) -> bool:
        """Answer whether the one lay over the other, signed with who and when."""
        return self.attempt("answer a question", answer, over, under, yes, self.who, _now())

    def stated(self, over: str, under: str, state: str) -> bool:
        """State a fact, signed with who and when."""
        return self.attempt("change a fact", stated, over, under, state, self.who, _now())

    def show(self, study: Study) -> bool:
        """Save and show a study. Used by undo and redo. False where the file may not be written at all."""
        try:
            if self.store is not None:
                self.store.save(self.written, study)
            self.written = study
        except WriteError as error:
            self._waits(error)
        except FileError as error:
            self.tell(f"{error}{self._rescued(study)}")
            return False
        self.study = study
        self.chosen = tuple(id for id in self.chosen if study.find(id) is not None)
        if self.selection and study.find(self.selection) is None:
            self.select("")
        self.changed.emit()
        return True

    def _rescued(self, study: Study) -> str:
        """An edit that the file cannot hold, and that no waiting will help, is left in a copy; where, in words."""
        if self.store is None or self.store.read_only:
            return ""
        path = free_name(data_folder() / f"{self.store.path.stem} rescued{self.store.path.suffix}")
        try:
            wanted = {p.sha256 for p in study.photos.values()}
            Store.create(path, study, [d for d in map(self.picture, wanted) if d]).close()
        except FileError as error:
            return f" A copy with it could not be kept: {error}"
        return f" A copy with it lies in {path}."

    def select(self, id: str) -> None:
        """Select a part, joint or step by id; "" for none."""
        self.choose((id,) if id else ())

    def choose(self, ids: tuple[str, ...]) -> None:
        """Select several things of one kind together; the last is the one shown."""
        self.chosen, self.selection, self.device_shown = ids, ids[-1] if ids else "", False
        self.selected.emit(self.selection)

    def show_device(self) -> None:
        """Show the device in the margin."""
        self.selection, self.chosen, self.device_shown = "", (), True
        self.selected.emit("")

    def remove(self, id: str) -> None:
        """Remove a thing, and tell what else that changed."""
        name, said = self.study.name(id), consequences(self.study, id)
        alone = left_over(self.study, id) if id in self.study.steps else ()
        if self.attempt(f"remove {name}", remove, id):
            more = f" and {len(said) - 3} more." if len(said) > 3 else ""
            told = f"Removed {name}. {' '.join(said[:3])}{more}".strip()
            if alone:
                names = ", ".join(self.study.name(j) for j in alone[:3])
                drop = partial(self._drop_joints, alone)
                answers = ((f"Remove {plural(len(alone), 'joint')}", drop), ("Keep", _nothing))
                self.asked.emit(f"{told} No step undoes {names} any more.", answers)
                return
            self.tell(f"{told} Ctrl+Z undoes this.")

    def _drop_joints(self, ids: tuple[str, ...]) -> None:
        study = self.study
        for id in ids:
            study = remove(study, id) if id in study.joints else study
        self.edit(study, f"remove {plural(len(ids), 'joint')}")

    def offer_off(self, ids: tuple[str, ...]) -> None:
        """Ask once whether a part that nothing holds any more came off as well."""
        for part in held_no_more(self.study, ids):
            if part not in self._offered:
                self._offered.add(part)
                name = the(self.study.name(part))
                off = partial(self.attempt, f"take out {self.study.name(part)}", taken_out_as_well, ids[-1], part)
                answers = (("Yes, off now", off), ("Not yet", _nothing))
                self.asked.emit(f"Nothing holds {name} any more. Is it off?", answers)
                return

    def tell(self, sentence: str) -> None:
        """Say something to the user, out of the way of the work."""
        self.told.emit(sentence)

    def named(self, text: str, letter: str = "P") -> tuple[str, ...]:
        """The things named in a text; what a near name was taken for is told. Raises StudyError."""
        found = resolve_names(self.study, text, letter)
        notes = [one.note for one in found if one.note]
        if notes:
            self.tell(" ".join(notes))
        return tuple(one.id for one in found)

    def log(self, reading: Reading) -> tuple[str, ...] | None:
        """Enter what was said, with the step clock's time. Returns the ids of its new steps; None if it was refused."""
        try:
            study, ids = log(self.study, reading)
        except OddBoltError as error:
            self.tell(str(error))
            return None
        text = reading.text if len(reading.text) < 40 else reading.text[:38] + "…"
        return ids if self.edit(self.with_laps(study, ids), f"log “{text}”") else None

    def repeat(self) -> bool:
        """Enter the last step once more, on things of their own, with the step clock's time."""
        last = next((s for s in reversed(self.study.steps) if self.study.steps[s].phase == "apart"), "")
        if not last:
            self.tell("No step to repeat yet.")
            return False
        study, new = same_again(self.study, last)
        return self.edit(self.with_laps(study, (new,)), "repeat last step")

    def begin_run(self, id: str) -> None:
        """Let laps go to this run from now on, with fresh clocks that run."""
        self.run_id = id
        self.clock = Clock()
        self.clock.begin()

    def pause(self) -> None:
        """Start the clocks, pause them, or resume."""
        self.clock.pause()
        self.paused.emit()

    @property
    def preparation_s(self) -> float:
        """Seconds since the study was opened, until the work begins."""
        return self.clock.preparation_s

    @property
    def present_step(self) -> str:
        """The step selected, else the last one; "" for none."""
        steps = self.study.steps
        return self.selection if self.selection in steps else next(reversed(steps), "")

    # -- the run ------------------------------------------------------------------------------------

    def with_laps(self, study: Study, step_ids: tuple[str, ...]) -> Study:
        """The study with the step clock's seconds shared out to these steps; starts a run if none runs: of putting back
        for steps of putting back, else of discovery.

        The first sentence of a sitting starts the clock: how long its own step took nobody saw.
        """
        if not self.clock.running:
            self.clock.begin()
            return study
        steps = [s for s in step_ids if study.steps[s].verb != "prepare"] or list(step_ids)
        seconds = self.clock.stop_step(steps[-1] if steps else "")
        if not steps or seconds <= 0.5:
            return study
        back = all(study.steps[s].phase == "back" for s in steps)
        run = study.runs.get(self.run_id)
        if run is None or (run.kind == "put back") != back:
            self.run_id = new_id(study, "R")
            study = put(study, Run(self.run_id, "put back" if back else "discovery", self.clock.began))
        now = datetime.now().isoformat(timespec="seconds")
        for step in steps:
            study = lap(study, self.run_id, step, round(seconds / len(steps), 1), now)
        return study

    def was_break(self, seconds: float | None = None) -> bool:
        """Take a break out of the time of the selected step, else of the present one, else of the last one.

        Without ``seconds`` it is the longest stretch without a sign of life. False, and told why, if there is none.
        """
        clock, step = self.clock, self.selection if self.selection in self.study.steps else ""
        taken = seconds if seconds is not None else clock.quiet_s
        if not step and LEAST_BREAK_S <= taken <= clock.step_s:
            clock.take_out(taken)
            self.tell(f"Break of {duration(taken)} removed from the current step.")
            self.changed.emit()
            return True
        step = step or next(reversed(self.study.steps), "")
        run = next((r for r in reversed(self.study.runs.values()) if any(lp.step == step for lp in r.laps)), None)
        took = next((lp.seconds for lp in run.laps if lp.step == step), 0.0) if run else 0.0
        taken = seconds if seconds is not None else clock.quiet_before.get(step, 0.0)
        if run is None or not LEAST_BREAK_S <= taken < took:
            name = f"Step {list(self.study.steps).index(step) + 1}" if step else "The present step"
            self.tell(
                f"{name} has {duration(took)} on its clock: a break of {duration(seconds)} is not in it."
                if seconds is not None
                else "No break found in that step. Say its length: “that was a break of 5 minutes”."
            )
            return False
        name = self.study.name(step)
        done = self.edit(lap(self.study, run.id, step, round(took - taken, 1)), f"remove a break from {name}")
        if done:
            clock.quiet_before.pop(step, None)
            self.tell(f"Break of {duration(taken)} removed from {name}.")
        return done


def _nothing() -> None:
    """An answer that changes nothing."""


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


def _same(a: Study, b: Study) -> bool:
    return a.device == b.device and all(
        list(getattr(a, name).values()) == list(getattr(b, name).values()) for _, name in KINDS.values()
    )
