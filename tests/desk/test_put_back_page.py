"""The stage Put back: the plan followed by keys, in part, left out, out of order, closed; what is left over; gaps."""

import pytest
from attrs import evolve
from builders import chain_study
from PySide6.QtCore import Qt

from oddbolt.core.reassembly import ledger
from oddbolt.core.study import Fact, Joint, put
from oddbolt.desk.pages.put_back import PutBack
from oddbolt.files.store import Store

KEY = Qt.Key


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


def press(qtbot, page, *keys):
    for key in keys:
        qtbot.keyClick(page.steps, key)


def test_the_plan_is_followed_by_enter_until_everything_is_back(qtbot, window, page):
    study = page.session.study
    steps = [s.key for s in page.plan.steps]
    assert page.state() == f"0 of {len(study.joints)}"
    assert not page.row.isHidden()
    for n in range(len(steps)):
        assert page.beside.text().startswith(f"{len(steps) - n} step")
        assert sum(layer.done for layer in page.fill.layers) == n
        press(qtbot, page, KEY.Key_Return)
    assert ledger(page.session.study).closed
    assert page.now.text() == "Everything planned is back."
    assert page.closing.text() == "Everything is back."
    assert page.state() == "closed"
    assert [s.key for s in page.plan.steps] == steps, "the plan stays while it is followed"
    back = [s for s in page.session.study.steps.values() if s.phase == "back"]
    assert len(back) == len(steps)
    press(qtbot, page, KEY.Key_Return)
    assert len([s for s in page.session.study.steps.values() if s.phase == "back"]) == len(steps)
    window.status.tick()
    assert "8 of 8 back" in [r.value for r in window.sill.readouts]


def test_a_step_is_undone_and_another_taken_first_with_what_that_blocks(qtbot, window, page):
    press(qtbot, page, KEY.Key_Return)
    left = page.beside.text()
    qtbot.keyClick(window, KEY.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert page.beside.text() != left
    assert not [s for s in page.session.study.steps.values() if s.phase == "back"]
    page.steps.picked.emit(page.plan.steps[2].key)
    assert "2 steps before it not done" in page.waits.text()
    assert "may be blocked by it" in page.waits.text()
    press(qtbot, page, KEY.Key_Return)
    assert page.steps.rows.cells[2][0][0] == "✓"
    assert page.steps.rows.cells[0][0][0] == "1"
    page.fill.picked.emit(page.plan.steps[0].key)
    qtbot.keyClick(page.fill, KEY.Key_Up)
    assert page.fill.at == page.plan.steps[1].key


def test_some_of_a_group_one_missing_and_a_part_left_out_by_keys(qtbot, window, tmp_path):
    study = chain_study(2)
    study = put(study, evolve(study.joints["J2"], count=4))
    page = opened(qtbot, window, tmp_path, study)
    press(qtbot, page, KEY.Key_3)
    assert page.done.text().startswith("Log 3 of them")
    press(qtbot, page, KEY.Key_Escape, KEY.Key_3, KEY.Key_Return)
    assert "3 of 6 screws back" in page.closing.text()
    assert page.now.text().endswith("plate 1"), "on with the next"
    page.steps.picked.emit(page.plan.steps[0].key)
    assert page.row.groups[0][1] == 1, "one is still to go in"
    press(qtbot, page, KEY.Key_9, KEY.Key_Return)
    assert "1 are out, so 9 cannot go in" in window.notice.text.text()
    press(qtbot, page, KEY.Key_M)
    assert "1 missing" in page.closing.text()
    press(qtbot, page, KEY.Key_M)
    assert "cannot be missing" in window.notice.text.text()
    press(qtbot, page, KEY.Key_Return, KEY.Key_S)
    assert not page.why.isHidden()
    qtbot.keyClicks(page.why, "sold without it")
    qtbot.keyClick(page.why, KEY.Key_Return)
    assert not any(line.open for line in ledger(page.session.study).lines)
    assert any(line.left == "sold without it" for line in ledger(page.session.study).lines)
    press(qtbot, page, KEY.Key_L)
    assert page.side.isHidden()
    qtbot.keyClick(page.fill, KEY.Key_L)
    assert not page.side.isHidden()


def test_a_screw_left_over_is_measured_placed_and_kept(qtbot, window):
    page = window.page(PutBack)
    window.show_stage(page)
    page.show_tab(1)
    over = page.over
    over.field.setText("od 1.58, length 4.1")
    qtbot.keyClick(over.field, KEY.Key_Return)
    assert "It belongs to Board screws" in over.best.text()
    over.table.picked.emit(over.found.places[0].joint)
    assert "If one of Board screws is missing" in over.about.text()
    over.keep.click()
    assert "1 screw left over" in page.closing.text()
    over.measure("od 4.9, length 20")
    assert over.table.rows.index(0, 1).data() == "no recorded group"
    over.measure("nonsense")
    assert not over.keep.isEnabled()


def test_gaps_are_typed_drawn_and_told(qtbot, page):
    page.show_tab(2)
    page.gaps.size_field.setText("84x52")
    page.gaps.gaps.setText("left 0.3, right 0.1, top 0.2, bottom 0.2")
    qtbot.keyClick(page.gaps.gaps, KEY.Key_Return)
    assert "Move it 0.10 mm to the left" in page.gaps.said.text()
    assert page.gaps.view.found is not None
    page.gaps.view.grab()
    page.gaps.gaps.setText("left 0.3")
    page.gaps.refresh()
    assert "all four sides" in page.gaps.said.text()


def test_the_case_is_closed_with_its_checks_and_what_is_open(qtbot, window, page):
    page.show_tab(3)
    end = page.end
    qtbot.keyClick(end.checks, KEY.Key_Return)
    assert end.checks.rows.cells[0][0][0] == "☑"
    qtbot.keyClick(end.checks, KEY.Key_Return)
    assert end.checks.rows.cells[0][0][0] == "☐"
    mass = next(n for n, id in enumerate(end.checks.rows.ids) if id == "final mass")
    end.checks.picked.emit(end.checks.rows.ids[mass])
    end.read("300 g")
    assert "not weighed before" in end.weighed.text()
    end.read("a lot")
    end.by.setText("somebody")
    end.close_it.click()
    closing = next(iter(page.session.study.closings.values()))
    assert closing.by == "somebody"
    assert "plate 1" in closing.open
    assert "closed" in end.closings.text()
    qtbot.keyClick(window, KEY.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert not page.session.study.closings


def test_contradictions_and_a_device_with_nothing_out_are_said(qtbot, window, tmp_path):
    study = chain_study(3)
    parts = list(study.parts)
    for n, (a, b) in enumerate(((parts[0], parts[1]), (parts[1], parts[0])), 90):
        study = put(study, Fact(f"F{n}", a, b))
    page = opened(qtbot, window, tmp_path, put(study, Joint("J1", "screw", holds=("P1",), count=None)))
    assert "turning the record round" in page.waits.text()
    (tmp_path / "empty").mkdir()
    empty = opened(qtbot, window, tmp_path / "empty", type(study)())
    assert "Nothing is out" in empty.does.text()
    assert not empty.done.isEnabled()
