"""Work beside the window: its answers come where the window is, in order, and never to one who is gone."""

from threading import Event, get_ident

import shiboken6
from PySide6.QtCore import QObject

from oddbolt.desk.state.background import Background


def test_answers_come_in_the_windows_thread_in_order(qtbot):
    owner, got = QObject(), []
    beside = Background(owner)
    for n in range(20):
        beside.start(lambda n=n: (n, get_ident()), lambda answer: got.append((*answer, get_ident())))
    qtbot.waitUntil(lambda: len(got) == 20)
    assert [n for n, _, _ in got] == list(range(20))
    assert all(there != here == get_ident() for _, there, here in got)


def test_an_answer_to_one_who_is_gone_is_dropped_without_a_word(qtbot):
    for _ in range(20):
        owner, got, begun = QObject(), [], Event()
        Background(owner, threads=2).start(lambda begun=begun: begun.set() or sum(range(10_000)), got.append)
        begun.wait(5)
        shiboken6.delete(owner)
        qtbot.wait(5)
        assert not got
