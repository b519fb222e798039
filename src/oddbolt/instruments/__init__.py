"""Devices beside the bench, and the simulated ones that stand in for them.

An instrument puts what it took on a wire that the program listens to; the practice one and the real one use the same.
One more instrument is a class and its line in :data:`INSTRUMENTS`.
"""

from collections.abc import Callable, Mapping, Sequence
from pathlib import Path
from typing import Protocol

from oddbolt.instruments.camera import PracticeCamera


class Instrument(Protocol):
    """What every instrument can do."""

    #: what it is called in messages
    name: str

    def use(self, wire: Path, turn: int = 0) -> Path:
        """Use it once; ``turn`` counts the uses. Returns what it put on the wire, a folder. Raises FileError."""


#: word on the command line -> an instrument that has these takes to give
INSTRUMENTS: Mapping[str, Callable[[Sequence[bytes]], Instrument]] = {"camera": PracticeCamera}
