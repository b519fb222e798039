"""Busy hands: large keys, pedals, large type, reading back."""

import stat
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QFontMetricsF
from PySide6.QtTest import QTest

from oddbolt.core.bench.reading_distance import letter_height_mm
from oddbolt.core.errors import BenchError
from oddbolt.desk.state.pedals import HOLD_MS

KEY, MOD = Qt.Key, Qt.KeyboardModifier


def steps(window):
    return len(window.session.study.steps)


def teach(qtbot, window, action, key, held=False):
    """Bind a pedal the way a user does: click, then press it."""
    window.large.bindings[action].click()
    assert window.large.bindings[action].text() == "press key …"
    QTest.keyPress(window.large.edit, key)
    if held:
        qtbot.wait(HOLD_MS + 80)
    QTest.keyRelease(window.large.edit, key)


@pytest.fixture
def large(window):
    window.session.select("")
    window.large.wanted.emit()
    return window.large


def test_the_whole_day_is_worked_with_one_pedal_and_a_mouth(qtbot, window, large):
    teach(qtbot, window, "log", KEY.Key_F13)
    teach(qtbot, window, "undo", KEY.Key_F13, held=True)
    assert window.pedals.keys == {"log": "F13", "undo": "hold F13"}
    before = steps(window)
    qtbot.keyClicks(large.edit, "backed out four IP5 under the feet")
    assert "hexalobular-plus IP5" in large.understood.text()
    qtbot.keyClick(large.edit, KEY.Key_F13)
    assert steps(window) == before + 1
    assert large.edit.toPlainText() == ""
    assert large.last.text().startswith(f"{before + 1}  unscrew 4 IP5 screws")
    QTest.keyPress(large.edit, KEY.Key_F13)
    qtbot.wait(HOLD_MS + 80)
    QTest.keyRelease(large.edit, KEY.Key_F13)
    assert steps(window) == before


def test_a_pedal_works_on_every_page_and_in_the_midst_of_typing(qtbot, window, large):
    teach(qtbot, window, "pause", KEY.Key_B)
    assert "cannot be typed" in window.notice.text.text()
    window.show_stage(window.pages[4])
    window.session.clock.begin()
    qtbot.keyClick(window.pages[4].finder, KEY.Key_B)
    assert window.session.clock.paused
    assert window.pages[4].finder.text() == ""
    window.take_apart.wanted.emit()
    qtbot.keyClicks(window.take_apart.say.edit, "abc")
    assert window.take_apart.say.edit.toPlainText() == "ac"
    assert not window.session.clock.paused
    window.take_apart.say.edit.clear()
    window.large.wanted.emit()
    large.bindings["pause"].click()
    qtbot.keyClick(large.edit, KEY.Key_Escape)
    assert window.pedals.keys == {}
    qtbot.keyClicks(large.edit, "b")
    assert large.edit.toPlainText() == "b"


def test_a_key_does_one_thing_and_bindings_outlive_the_window(qtbot, window, large, settings):
    teach(qtbot, window, "log", KEY.Key_F14)
    teach(qtbot, window, "photo", KEY.Key_F14)
    assert window.pedals.keys == {"photo": "F14"}
    assert type(settings)(settings.folder).get("pedal", {}) == {"photo": "F14"}


def test_the_practice_pedal_sends_keys_as_a_real_one(qtbot, window, large):
    window.bench.show_pedal()
    teach(qtbot, window, "repeat", KEY.Key_F14)
    before = steps(window)
    qtbot.mousePress(window.bench.pedal, Qt.MouseButton.LeftButton, pos=window.bench.pedal.tread(1).center().toPoint())
    assert not window.bench.pedal.grab().toImage().isNull()
    qtbot.mouseRelease(
        window.bench.pedal, Qt.MouseButton.LeftButton, pos=window.bench.pedal.tread(1).center().toPoint()
    )
    qtbot.waitUntil(lambda: steps(window) == before + 1)
    window.bench.show_pedal()
    assert not window.bench.pedal.isVisible()


def test_large_buttons_do_what_they_say(window, large):
    before = steps(window)
    large.buttons["repeat"].click()
    assert steps(window) == before + 1
    large.buttons["undo"].click()
    assert steps(window) == before
    large.buttons["pause"].click()
    assert window.session.clock.paused
    assert large.buttons["pause"].text() == "Resume"
    assert large.clock.text() == "paused"


def test_letters_are_as_high_as_the_distance_asks_for(qtbot, window, large):
    # 20 minutes of arc at 1 m are 5.8 mm (arithmetic of the angle)
    assert letter_height_mm(1.0, 20) == pytest.approx(5.818, abs=0.001)
    assert letter_height_mm(3.0) == pytest.approx(2 * letter_height_mm(1.5), rel=1e-6)
    with pytest.raises(BenchError):
        letter_height_mm(0)
    dpi = large.screen().physicalDotsPerInch()
    for metres in ("1.5 m", "90 cm"):
        large.distance.setText(metres)
        large.distance.editingFinished.emit()
        large.edit.ensurePolished()
        height = QFontMetricsF(large.edit.font()).capHeight() / dpi * 25.4
        wanted = letter_height_mm(1.5 if metres == "1.5 m" else 0.9)
        assert wanted * 0.96 < height < wanted * 1.1
    large.distance.setText("900 m")
    large.distance.editingFinished.emit()
    assert "must be 0.2 to 20 m" in window.notice.text.text()
    assert large.distance.text() == "0.9 m"


def test_what_is_logged_is_read_back_if_that_is_wanted(qtbot, window, say, tmp_path, monkeypatch):
    monkeypatch.setenv("PATH", str(tmp_path))
    window.bench.speak_or_not()
    assert "No speech program" in window.notice.text.text()
    spoken = tmp_path / "spoken"
    program = tmp_path / "espeak-ng"
    program.write_text(f'#!/bin/sh\necho "$2" >> {spoken}\n')
    program.chmod(program.stat().st_mode | stat.S_IXUSR)
    window.bench.speak_or_not()
    say("backed out four IP5 under the feet")
    number = steps(window)
    qtbot.waitUntil(lambda: spoken.exists() and bool(Path(spoken).read_text()))
    assert spoken.read_text().startswith(f"Step {number}: unscrew, 4 hexalobular-plus IP5")
    window.bench.speak_or_not()
    say("took the fan out")
    assert len(spoken.read_text().splitlines()) == 1
