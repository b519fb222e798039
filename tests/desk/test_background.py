"""Work beside the window: its answers come where the window is, in order, and never to one who is gone."""

import sys
from concurrent.futures import ThreadPoolExecutor
from threading import Event, get_ident

import shiboken6
from builders import chain_study
from PySide6.QtCore import QObject

from oddbolt.core.reach import parts as parts_module
from oddbolt.core.reach import reach_of_all
from oddbolt.core.study import change
from oddbolt.desk.pages.parts import TABLE
from oddbolt.desk.state import figures as figures_module
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


def test_an_error_arrives_like_an_answer_and_is_raised_where_the_window_is(qtbot):
    owner, failed = QObject(), []
    with qtbot.captureExceptions() as raised:
        Background(owner).start(lambda: 1 // 0, print, lambda error: failed.append((str(error), get_ident())))
        qtbot.waitUntil(lambda: bool(failed and raised))
    assert failed == [("integer division or modulo by zero", get_ident())]
    assert raised[0][0] is ZeroDivisionError


def test_a_figure_that_cannot_be_worked_out_says_so_and_is_not_asked_for_again(qtbot, window, monkeypatch):
    asked = []
    monkeypatch.setattr(figures_module, "AT_ONCE_STEPS", 0)
    monkeypatch.setattr(figures_module, "reach_of_all", lambda study: asked.append(study) or {}["P0"])
    window.session.attempt("x", change, "P1", note="y")
    parts = next(p for p in window.pages if p.title == "Parts")
    with qtbot.captureExceptions():
        window.show_stage(parts)
        parts.show_view(TABLE)
        qtbot.waitUntil(lambda: "could not be worked out" in parts.beside.text())
        window.figures.finish()
    assert len(asked) == 1


def test_two_threads_may_ask_for_the_reach_of_everything(monkeypatch):
    # every study begins with the steps of the one before, so that each takes over what another thread just published
    monkeypatch.setattr(parts_module, "ORDERED_STEPS", 0)
    studies = [chain_study(n) for n in range(60, 100)]
    alone = [reach_of_all.__wrapped__(study) for study in studies]
    before = sys.getswitchinterval()
    sys.setswitchinterval(1e-6)
    try:
        with ThreadPoolExecutor(2) as pool:
            both = list(pool.map(reach_of_all.__wrapped__, [*studies, *reversed(studies)]))
    finally:
        sys.setswitchinterval(before)
    figures = [[(r.steps, r.seconds) for r in found.values()] for found in both]
    assert figures == [[(r.steps, r.seconds) for r in found.values()] for found in (*alone, *reversed(alone))]
