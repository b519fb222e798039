"""The run clock and the step clock. They stand still until the work begins."""

from __future__ import annotations

from datetime import datetime
from time import monotonic


class Clock:
    """A run clock and a step clock that pause together, and when there was a sign of life.

    Both stand still until :meth:`begin`: what is set up and checked before belongs to no step. ``held_s`` are the
    seconds that a run has already, when it is gone on with.
    """

    def __init__(self, held_s: float = 0.0) -> None:
        self.began = ""
        self.running = False
        self.paused = False
        self._made = monotonic()
        self._started = 0.0
        self._held = self._step_at = self._sign_at = held_s
        self._quiet = 0.0
        self.quiet_before: dict[str, float] = {}

    @property
    def preparation_s(self) -> float:
        """Seconds since the study was opened, as long as the work has not begun; then 0."""
        return 0.0 if self.running else monotonic() - self._made

    @property
    def run_s(self) -> float:
        """Seconds of the run, pauses and breaks left out."""
        return self._held + (monotonic() - self._started if self.running and not self.paused else 0.0)

    @property
    def step_s(self) -> float:
        """Seconds since the last step was logged."""
        return self.run_s - self._step_at

    @property
    def quiet_s(self) -> float:
        """The longest stretch of the present step without a sign of life."""
        return max(self._quiet, self.run_s - self._sign_at)

    def begin(self) -> None:
        """The work begins now."""
        if not self.running:
            self.running, self.paused = True, False
            self._started = monotonic()
            self.began = datetime.now().isoformat(timespec="seconds")

    def sign(self) -> None:
        """Somebody is at work."""
        self._quiet, self._sign_at = self.quiet_s, self.run_s

    def take_out(self, seconds: float) -> None:
        """These seconds of the present step were a break."""
        self._held -= seconds
        self._sign_at, self._quiet = self.run_s, 0.0

    def pause(self) -> None:
        """Start, pause or resume."""
        if not self.running:
            self.begin()
        elif self.paused:
            self._started = monotonic()
            self.paused = False
        else:
            self._held = self.run_s
            self.paused = True

    def stop_step(self, step: str = "") -> float:
        """End the step and return its seconds; its longest quiet stretch is remembered."""
        seconds = self.step_s
        self.quiet_before = {step: self.quiet_s}
        self._step_at = self._sign_at = self.run_s
        self._quiet = 0.0
        return seconds
