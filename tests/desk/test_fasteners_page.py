"""The page of fasteners: screws told apart, the tray, measurements and torques in the margin."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel

from oddbolt.desk.inspector.identify_box import IdentifyBox

KEY = Qt.Key


@pytest.fixture
def page(window, monkeypatch):
    monkeypatch.setattr("oddbolt.desk.pages.fasteners.TRAY_BUDGET_S", 30.0)
    window.show_stage(window.fasteners)
    return window.fasteners


def told(window):
    return " ".join(label.text() for label in window.notice.findChildren(QLabel))


def test_pairs_are_listed_and_choosing_one_chooses_both(page, window):
    page.shown.button(1).click()
    assert page.pairs.isVisible()
    assert not page.table.isVisible()
    first = page.pairs.model().index(0, 0)
    page.pairs.setCurrentIndex(first)
    assert len(window.session.chosen) == 2
    assert page.shown.button(1).text() == f"look-alikes: {page.pairs.model().rowCount()}"


def test_the_tray_is_planned_walked_and_follows_another_grid(qtbot, page, window):
    page.shown.button(2).click()
    assert "no better plan exists" in page.tray_words.text()
    groups = [c for c in page.tray.cells if c.id]
    assert len(groups) == sum(j.kind == "screw" for j in window.session.study.joints.values())
    qtbot.keyClick(page.tray, KEY.Key_Right)
    assert window.session.selection == page.tray.cells[0].id
    qtbot.keyClick(page.tray, KEY.Key_Down)
    assert window.session.selection == page.tray.cells[6].id
    page._tray_typed("3x2")
    assert "larger tray" in page.tray_words.text()
    page._tray_typed("rather large")
    assert "is not a tray" in told(window)
    page._tray_typed("5x5")
    before = [c.id for c in page.tray.cells]
    page.by_kind.setChecked(True)
    assert [c.id for c in page.tray.cells] != before


def test_screws_are_ticked_off_into_the_tray_and_out_again(qtbot, page, window):
    page.shown.button(2).click()
    plan = page.plan
    chosen = next(c.id for c in page.tray.cells if c.id and window.session.study.joints[c.id].count == 4)
    window.session.select(chosen)
    qtbot.keyClick(page.tray, KEY.Key_3)
    assert "never laid in" in page.tray_words.text()
    qtbot.keyClick(page.tray, KEY.Key_Space)
    assert page.tray_words.text() == "4 screws in the tray."
    assert page.plan is plan  # nothing was planned anew
    qtbot.keyClick(page.tray, KEY.Key_9)
    assert "in all" in told(window)
    qtbot.keyClick(page.tray, KEY.Key_Space)
    assert "tray is empty" in page.tray_words.text()
    assert "all 4 out again" in page.tray.accessibleDescription()
    window.undoing.undo()
    assert window.session.study.joints[chosen].taken is None


def test_true_scale_is_set_by_a_ruler_held_to_the_screen(page, window):
    before = page.board.scale
    page._screen_measured("40 mm")  # what stands for 50 mm measures 40: the screen is finer than it says
    assert page.board.scale == pytest.approx(before * 50 / 40)
    assert "measured" in page.scale.text()
    page._screen_measured("3 mm")
    assert "15 to 200 mm" in told(window)
    page._screen_measured("")
    assert page.board.scale == pytest.approx(before)


def test_the_board_says_where_a_group_came_from(page, window):
    group = next(j for j in window.session.study.joints.values() if j.kind == "screw" and j.holds)
    window.session.select(group.id)
    assert "out in step" in page.board.accessibleDescription()
    assert window.session.study.name(group.holds[0]) in page.board.accessibleDescription()


def test_measurements_in_the_margin_are_entered_and_a_torque_slip_is_told(qtbot, window):
    group = next(j for j in window.session.study.joints.values() if j.thread == "M2" and j.drive == "hexalobular")
    window.session.select(group.id)
    box = window.margin.findChild(IdentifyBox)
    box.edit.setText("od 1.97, pitch .4, length 7.1")
    assert "M2 × 0.4" in box.told.text()
    qtbot.keyClick(box.edit, KEY.Key_Return)
    assert window.session.study.joints[group.id].length_mm == 7
    box = window.margin.findChild(IdentifyBox)
    box.edit.setText("od 3, pitch .2")
    qtbot.keyClick(box.edit, KEY.Key_Return)
    assert "fit no screw in the tables together" in box.told.text()
    field, widget = window.margin.fields["torque_ncm"]
    widget.setText("13 N·m")
    widget.setModified(True)
    window.margin._entered(field, "13 N·m")
    assert "13 N·cm meant?" in told(window)
