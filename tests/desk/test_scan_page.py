"""The page of the screw scan, driven by keys."""

from pathlib import Path

import pytest
from PIL import Image
from PySide6.QtCore import Qt

KEY = Qt.Key
PHOTO = Path(__file__).parents[1] / "scans" / "0702.jpg"


@pytest.fixture
def page(qtbot, window):
    """The page with twelve screws found on a photo."""
    window.scans.begin(PHOTO)
    window.show_aside(window.scans)
    assert window.scans.working
    qtbot.waitUntil(lambda: window.scans.scan is not None, timeout=20_000)
    return window.scans


def test_what_was_found_is_shown_walked_and_entered(qtbot, window, page):
    assert page.beside.text().startswith("0702.jpg: 12 screws")
    assert len(page.view.spots) == 12
    joints, steps = len(window.session.study.joints), len(window.session.study.steps)
    qtbot.keyClick(page.view, KEY.Key_Right)
    qtbot.keyClick(page.view, KEY.Key_Right)
    assert page.chosen == 1
    assert "mm" in page.length.text()
    groups = len(page.scan.groups)
    qtbot.keyClick(page.view, KEY.Key_Return)
    study = window.session.study
    new = list(study.joints.values())[joints:]
    assert sum(j.count for j in new) <= 12
    assert len(study.steps) - steps == len(new) <= groups
    assert window.stack.currentWidget() is not page
    window.session.stack.undo()
    assert len(window.session.study.joints) == joints


def test_a_screw_is_put_right_and_one_taken_out(qtbot, page):
    qtbot.keyClick(page.view, KEY.Key_Right)
    page.length.setFocus()
    page.length.selectAll()
    qtbot.keyClicks(page.length, "33 mm")
    qtbot.keyClick(page.length, KEY.Key_Return)
    assert page.scan.things[0].screw.length_mm == 33
    assert any(g.length_mm == 33 and g.count == 1 for g in page.scan.groups)
    qtbot.keyClick(page.view, KEY.Key_Delete)
    assert len(page.scan.screws) == 11
    assert page.view.spots[0].words == "?"
    qtbot.keyClick(page.view, KEY.Key_Delete)
    assert len(page.scan.screws) == 12
    page._put_right("far too long")
    assert len(page.scan.screws) == 12


def test_a_photo_that_shows_no_mat_is_answered_on_the_page(qtbot, window, tmp_path):
    Image.new("RGB", (900, 700), (80, 90, 80)).save(tmp_path / "desk.png")
    window.scans.begin(tmp_path / "desk.png")
    window.show_aside(window.scans)
    qtbot.waitUntil(lambda: not window.scans.working, timeout=20_000)
    assert "No mat" in window.scans.view.empty
    assert not window.scans.enter.isEnabled()


def test_leaving_stops_the_scan(qtbot, window):
    window.scans.begin(PHOTO)
    window.show_aside(window.scans)
    qtbot.keyClick(window.scans, KEY.Key_Escape)
    assert not window.scans.working
    assert window.stack.currentWidget() is not window.scans
    window.scans.finish()
    assert window.scans.scan is None
