"""Timers of the bench: waits tied to steps, and the heater. They ring on the sill and are kept with their step."""

from __future__ import annotations

from datetime import datetime
from time import monotonic

from attrs import evolve, frozen
from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QApplication

from oddbolt.core.bench.waits import keep, usual_waits
from oddbolt.core.study.formatting import duration, the
from oddbolt.desk.state.session import Session

HEATER = "warm-up"


@frozen
class Running:
    """A timer that runs. ``limit_s`` is a second alarm: when the guarded layer meets its limit."""

    kind: str
    planned_s: float
    step: str
    started: str
    began: float
    warmup: str = ""
    limit_s: float | None = None

    @property
    def elapsed_s(self) -> float:
        """Seconds since it was started."""
        return monotonic() - self.began


class Timers(QObject):
    """The timers that run now. ``rang`` says in a sentence that one is over; it runs on until it is ended."""

    changed = Signal()
    rang = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.session = session
        self.running: list[Running] = []
        self._rung: set[tuple[float, str]] = set()
        session.opened.connect(self._drop)

    def start(
        self, kind: str, planned_s: float = 0.0, step: str = "", warmup: str = "", limit_s: float | None = None
    ) -> None:
        """Start a timer; without a time, the longer end of the usual one."""
        usual = usual_waits()[kind]
        now = datetime.now().isoformat(timespec="seconds")
        self.running.append(Running(kind, planned_s or usual.most_s, step, now, monotonic(), warmup, limit_s))
        self.changed.emit()

    def end(self, timer: Running) -> None:
        """End a timer and keep what it took."""
        self.running.remove(timer)
        self._rung = {(began, which) for began, which in self._rung if began != timer.began}
        study = self.session.study
        step = timer.step if timer.step in study.steps else ""
        took = timer.elapsed_s
        if took >= 1.0 and self.session.store is not None:
            self.session.attempt(
                f"keep the {timer.kind} wait", keep, timer.kind, timer.planned_s, took, step, timer.started
            )
            where = f" It is kept with {study.name(step)}." if step else ""
            self.session.tell(f"{usual_waits()[timer.kind].label.capitalize()}: {duration(took)}.{where}")
        self.changed.emit()

    def replan(self, timer: Running, planned_s: float, limit_s: float | None) -> None:
        """Give a running timer new alarms."""
        self.running[self.running.index(timer)] = evolve(timer, planned_s=planned_s, limit_s=limit_s)
        self.changed.emit()

    def end_all(self) -> None:
        """End every timer, keeping what each took."""
        for timer in list(self.running):
            self.end(timer)

    def heater(self, warmup: str) -> Running | None:
        """The heater's timer for a warm-up, if it runs."""
        return next((t for t in self.running if t.warmup == warmup), None)

    def check(self) -> None:
        """Ring for what is over. Called by the window's clock."""
        for timer in self.running:
            for which, sentence in self._due(timer):
                if (timer.began, which) not in self._rung:
                    self._rung.add((timer.began, which))
                    QApplication.beep()
                    self.rang.emit(sentence)

    def alarms(self) -> list[str]:
        """What has rung and still runs, as sentences for the sill; of one timer the gravest."""
        return [due[-1][1] for timer in self.running if (due := self._due(timer))]

    def _due(self, timer: Running) -> list[tuple[str, str]]:
        """The alarms of a timer whose time has come, the gravest last."""
        elapsed = timer.elapsed_s
        due = [("time", self._over(timer))] if elapsed >= timer.planned_s else []
        if timer.limit_s is not None and elapsed >= timer.limit_s:
            due.append(("limit", f"{self._name(timer)}: the guarded layer is at its limit. Off the heat now"))
        return due

    def readout(self) -> tuple[str, str, str] | None:
        """Caption, value and colour of the timer that rings next, for the sill."""
        if not self.running:
            return None
        timer = min(self.running, key=lambda t: t.planned_s - t.elapsed_s)
        left = timer.planned_s - timer.elapsed_s
        more = f" +{len(self.running) - 1}" if len(self.running) > 1 else ""
        return (
            timer.kind + more,
            f"{duration(abs(left))} {'left' if left >= 0 else 'over'}",
            "ink" if left > 0 else "copper",
        )

    def _name(self, timer: Running) -> str:
        study = self.session.study
        return (
            study.name(timer.warmup) if timer.warmup in study.warmups else usual_waits()[timer.kind].label.capitalize()
        )

    def _over(self, timer: Running) -> str:
        then = usual_waits()[timer.kind].then
        where = f", {the(self.session.study.name(timer.step))}" if timer.step in self.session.study.steps else ""
        if timer.warmup:
            return f"{self._name(timer)}: the glue is soft; {then}"
        return f"{self._name(timer)}{where}: {duration(timer.planned_s)} are over; {then}"

    def _drop(self) -> None:
        self.running.clear()
        self._rung.clear()
        self.changed.emit()
