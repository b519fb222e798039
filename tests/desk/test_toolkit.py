"""What the desk relies on in its toolkit."""

import sys

from PySide6.QtCore import QObject, Signal


def test_a_signal_gives_no_reference_away():
    """A toolkit that gives away references to True and None ends the program after some thousand signals."""

    class Teller(QObject):
        said = Signal(object)

    teller = Teller()
    heard = []
    teller.said.connect(heard.append)
    teller.said.emit(None)
    before = [sys.getrefcount(x) for x in (True, False)]
    for _ in range(200):
        teller.said.emit(3)
    after = [sys.getrefcount(x) for x in (True, False)]
    assert len(heard) == 201
    assert all(abs(a - b) < 50 for a, b in zip(after, before, strict=True))
