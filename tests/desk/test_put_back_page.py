"""The stage Put back: the plan followed by Enter, the ledger beside it, undone, out of order, closed."""

import pytest
from builders import chain_study
from PySide6.QtCore import Qt

from oddbolt.core.reassembly import ledger
from oddbolt.core.study import Fact, put
from oddbolt.desk.pages.put_back import PutBack
from oddbolt.files.store import Store


@pytest.fixture
def page(qtbot, window, tmp_path):
    """The page on a chain of four parts, each under the one before."""
    return opened(qtbot, window, tmp_path, chain_study(4))


def opened(qtbot, window, tmp_path, study):
    path = tmp_path / "chain.oddbolt"
    Store.create(path, study).close()
    assert window.filing.open_path(path)
    page = window.page(PutBack)
    window.show_stage(page)
    qtbot.waitUntil(lambda: page.plan is not None or bool(page._why_not))
    return page


def enter(qtbot, page):
    qtbot.keyClick(page.steps, Qt.Key.Key_Return)


def test_the_plan_is_followed_by_enter_until_everything_is_back(qtbot, page):
    study = page.session.study
    steps = [s.step for s in page.plan.steps]
    assert page.state() == f"0 of {len(study.joints)}"
    assert not page.row.isHidden()
    for n in range(len(steps)):
        assert page.beside.text().startswith(f"{len(steps) - n} step")
        enter(qtbot, page)
    assert ledger(page.session.study).closed
    assert page.now.text() == "Everything planned is back."
    assert page.closing.text() == "Everything is back."
    assert page.state() == "closed"
    assert [s.step for s in page.plan.steps] == steps, "the plan stays while it is followed"
    back = [s for s in page.session.study.steps.values() if s.phase == "back"]
    assert len(back) == len(steps)
    count = len(page.session.study.steps)
    enter(qtbot, page)
    assert len(page.session.study.steps) == count


def test_a_step_is_undone_and_another_taken_first_with_what_that_leaves(qtbot, window, page):
    enter(qtbot, page)
    left = page.beside.text()
    qtbot.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert page.beside.text() != left
    assert not [s for s in page.session.study.steps.values() if s.phase == "back"]
    page.steps.picked.emit(page.plan.steps[2].step)
    assert "2 steps before it not done" in page.waits.text()
    enter(qtbot, page)
    assert page.steps.rows.cells[2][0][0] == "✓"
    assert page.steps.rows.cells[0][0][0] == "1"


def test_contradictions_and_a_device_with_nothing_out_are_said(qtbot, window, tmp_path):
    study = chain_study(3)
    parts = list(study.parts)
    for n, (a, b) in enumerate(((parts[0], parts[1]), (parts[1], parts[0])), 90):
        study = put(study, Fact(f"F{n}", a, b))
    page = opened(qtbot, window, tmp_path, study)
    assert "turning the record round" in page.waits.text()
    (tmp_path / "empty").mkdir()
    empty = opened(qtbot, window, tmp_path / "empty", type(study)())
    assert "Nothing is out" in empty.does.text()
    assert not empty.done.isEnabled()
