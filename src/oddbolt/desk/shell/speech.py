"""Speaks what was understood, if a speech program is on the machine; silent otherwise."""

from __future__ import annotations

import shutil

from PySide6.QtCore import QObject, QProcess

#: general-purpose speech programs of a Linux desktop, the first one found is used
PROGRAMS = ("spd-say", "espeak-ng", "espeak")


class Speech(QObject):
    """One sentence at a time; a new one cuts the old one short."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._process = QProcess(self)

    @property
    def program(self) -> str:
        """The speech program, or "" if there is none."""
        return next((found for name in PROGRAMS if (found := shutil.which(name))), "")

    def speak(self, sentence: str) -> bool:
        """Speak a sentence. False if nothing can."""
        program = self.program
        if not program or not sentence:
            return False
        if self._process.state() != QProcess.ProcessState.NotRunning:
            self._process.kill()
            self._process.waitForFinished(200)
        self._process.start(program, ["--", sentence] if not program.endswith("spd-say") else [sentence])
        return True

    def finish(self) -> None:
        """Be silent."""
        self._process.kill()
        self._process.waitForFinished(500)
