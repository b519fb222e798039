"""The page of the screw scan, driven by keys."""

from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QPoint, Qt

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


def test_a_length_is_measured_by_hand_and_kept(qtbot, window, page):
    """Across a marker of the mat, whose side is known; by keys and by the mouse."""
    study = window.session.study
    joint = next(j for j in study.joints.values() if j.kind == "screw")
    window.session.select(joint.id)
    sheet = page.scan.found.sheet
    corners = page.scan.found.camera.project(np.array([(*c, 0.0) for c in sheet.corners(next(iter(sheet.markers)))]))
    page.tools.button(1).click()
    assert not page.table.isVisible()
    assert "two points" in page.measured.text()
    wide, high = page._image.width(), page._image.height()
    for corner in corners[:2]:
        x, y = (corner - page._corner) / (wide, high)
        page.view.cross = (x, y)
        qtbot.keyClick(page.view, KEY.Key_Space)
    assert page.measured.text().endswith("mm")
    value = float(page.measured.text().split()[0])
    assert value == pytest.approx(sheet.marker_mm, abs=0.2)
    qtbot.mouseClick(page.use, Qt.MouseButton.LeftButton)
    assert window.session.study.joints[joint.id].length_mm == pytest.approx(value, abs=0.06)
    qtbot.keyClick(page.view, KEY.Key_Backspace)
    assert len(page.points) == 1
    qtbot.keyClick(page.view, KEY.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    qtbot.keyClick(page.view, KEY.Key_Space)
    assert float(page.measured.text().split()[0]) != value


def test_holes_are_numbered_and_an_area_that_crosses_itself_is_told(qtbot, page):
    page.tools.button(5).click()
    for x, y in ((0.2, 0.2), (0.8, 0.2), (0.8, 0.8), (0.2, 0.8)):
        qtbot.mouseClick(page.view, Qt.MouseButton.LeftButton, pos=at(page.view, x, y))
    assert sorted(page.view.numbers) == ["1", "2", "3", "4"]
    assert {page.view.numbers[0], page.view.numbers[2]} in ({"1", "2"}, {"3", "4"})
    page.tools.button(4).click()
    for x, y in ((0.2, 0.2), (0.8, 0.8), (0.8, 0.2), (0.2, 0.8)):
        qtbot.mouseClick(page.view, Qt.MouseButton.LeftButton, pos=at(page.view, x, y))
    assert "crosses itself" in page.measured.text()
    page.tools.button(0).click()
    assert page.table.isVisible()


def at(view, x, y):
    place = view._place()
    return QPoint(round(place.left() + x * place.width()), round(place.top() + y * place.height()))


def test_what_the_print_measures_is_typed_once_and_remembered(qtbot, window, page):
    before = page.scan.things[0].screw.length_mm
    assert "nobody measured this print" in page.print_words.text()
    for text, by in (("99 mm", 0.99), ("100", 1.0), ("99", 0.99)):
        page.printed.setText(text)
        qtbot.keyClick(page.printed, KEY.Key_Return)
        assert page.scan.things[0].screw.length_mm == pytest.approx(by * before, rel=1e-5)
    page.printed.setText("40 mm")
    qtbot.keyClick(page.printed, KEY.Key_Return)
    page.printed.setText("25 x 2")
    qtbot.keyClick(page.printed, KEY.Key_Return)
    assert page.scan.ruler_mm == 99
    page.begin(PHOTO)
    qtbot.waitUntil(lambda: page.scan is not None, timeout=20_000)
    assert page.scan.ruler_mm == 99
    assert "99.0" in page.print_words.text()
