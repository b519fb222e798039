"""The sill and the rail kept up to date: clocks, power, screws, one caution at a time, the state of every stage."""

from __future__ import annotations

from PySide6.QtCore import QObject, QTimer, Signal

from oddbolt.core.errors import OddBoltError
from oddbolt.core.narration.recording import log
from oddbolt.core.reassembly import ledger
from oddbolt.core.safety import cautions, preflight
from oddbolt.core.safety.hazards import NOTED
from oddbolt.core.safety.preflight import DONE
from oddbolt.core.study.formatting import duration
from oddbolt.core.study.tally import tally
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.shell.frame import Rail, Readout, Sill
from oddbolt.desk.state.actions import Action

TICK_MS = 500
#: how long a study just opened is in sight before the rail tells the state of every stage
STATES_MS = 250
#: up to so many steps what is being said is tried on the study, to tell its cautions before it is done
AHEAD_STEPS = 150


class Status(QObject):
    """Fills the sill twice a second and the rail after every change. ``caution`` is the one shown now."""

    #: a caution that was not shown before
    cautioned = Signal(str)

    def __init__(self, desk: Desk, pages: list[Page], asides: list[Page], parent: QObject) -> None:
        super().__init__(parent)
        self.desk, self.session, self.pages, self.asides = desk, desk.session, pages, asides
        self.sill, self.rail = Sill(), Rail([page.title for page in pages])
        self.caution = self._told = ""
        self._at = 0
        self._ahead: tuple[str, ...] = ()
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(STATES_MS)
        self._soon.timeout.connect(self.show_states)
        tick = QTimer(self)
        tick.timeout.connect(self.tick)
        tick.start(TICK_MS)
        desk.say.understood.connect(self._understood)
        desk.timers.changed.connect(self.tick)
        self.session.paused.connect(self.tick)

    def actions(self) -> tuple[Action, ...]:
        """The one action of the sill."""
        return (Action("next caution", "Next &caution", "Bench", self.next_caution, "F5", group=4),)

    def opened(self) -> None:
        """A study was opened: what needs every route worked out comes once the study is in sight."""
        self._soon.start()

    def changed(self) -> None:
        """The study is another one now."""
        self.tick()
        if not self._soon.isActive() and self.sill.isVisible():
            self.show_states()

    def selected(self) -> None:
        """Another thing is selected: its cautions begin with the first."""
        self._at = 0

    def next_caution(self) -> None:
        """Show the next caution."""
        self._at += 1
        self.tick()

    def show_states(self) -> None:
        """Tell the state of every stage on the rail."""
        for n, page in enumerate(self.pages):
            self.rail.show_state(n, page.state())

    def tick(self) -> None:
        """Show the clocks and readouts as they stand."""
        self.desk.timers.check()
        every = [*self.desk.timers.alarms(), *self._ahead]
        every += [c.text for c in cautions(self.session.study, self.session.present_step)]
        shown = every[self._at % len(every)] if every else ""
        if shown != self._told:
            self._told = shown
            self.cautioned.emit(f"Caution: {shown}" if shown else "")
        self.caution = f"{self._at % len(every) + 1}/{len(every)}  {shown}" if len(every) > 1 else shown
        self.sill.show_readouts(self._readouts(), self.caution)
        for page in (*self.pages, *self.asides):
            page.tick(self.caution)

    def _readouts(self) -> list[Readout]:
        session, study = self.session, self.session.study
        count, clock, device = tally(study), session.clock, study.device
        name = f"{device.maker} {device.model} {device.name}".strip()
        shown = " · ".join(filter(None, (name, device.variant))) if session.store else "no study open"
        run = f"{study.runs[session.run_id].kind} run" if session.run_id in study.runs else "run"
        going = "muted" if clock.paused or not clock.running else "ink"
        uncounted = f" +{count.groups_uncounted} groups" if count.groups_uncounted else ""
        open_checks = sum(line.state != DONE for line in preflight(study))
        readouts = [
            Readout("study", shown, "ink"),
            Readout("file", "not written yet", "copper") if session.waiting else None,
            Readout(f"{run}, paused" if clock.paused else run, duration(clock.run_s), going),
            Readout("this step", duration(clock.step_s), going) if clock.running else self._preparing(going),
            Readout("power", "isolated" if count.isolated else "live", "sea" if count.isolated else "copper"),
            self._screws(f"{count.screws_out}{uncounted} out · {count.screws_back} back"),
            Readout("checks", f"{open_checks} open", "copper") if open_checks else Readout("checks", "all done", "sea"),
            self._timer(),
        ]
        return [readout for readout in readouts if readout is not None]

    def _screws(self, told: str) -> Readout:
        """Screws out and back; once putting back has begun, how far the ledger is from closing."""
        study = self.session.study
        if not any(step.phase == "back" for step in study.steps.values()):
            return Readout("screws", told, "ink")
        found = ledger(study)
        return Readout("screws", found.in_short(), "sea" if found.closed else "ink")

    def _preparing(self, going: str) -> Readout:
        return Readout("preparation", duration(self.session.preparation_s), going)

    def _timer(self) -> Readout | None:
        shown = self.desk.timers.readout()
        return Readout(*shown) if shown is not None else None

    def _understood(self) -> None:
        """What is being said asks for care before it is done: its cautions go to the sill at once."""
        study, reading = self.session.study, self.desk.say.reading
        ahead: tuple[str, ...] = ()
        if not reading.empty and len(study.steps) <= AHEAD_STEPS:
            try:
                tried, ids = log(study, reading)
            except OddBoltError:
                return
            ahead = tuple(c.text for id in ids for c in cautions(tried, id) if c.rule != NOTED)
        if ahead != self._ahead:
            self._ahead, self._at = ahead, 0
            self.tick()
