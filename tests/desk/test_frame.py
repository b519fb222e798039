"""The frame around the pages, starting up, and what happens when something goes wrong that should not."""

import logging
import sys
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, QRectF, Qt
from PySide6.QtGui import QGuiApplication

from oddbolt.core.errors import StudyError
from oddbolt.desk import app as starting
from oddbolt.desk.shell.filing import fresh_demo
from oddbolt.desk.shell.frame import Rail, Readout, Sill
from oddbolt.desk.shell.key_list import markdown
from oddbolt.desk.state import settings as settings_module
from oddbolt.desk.widgets.inputs import LineField


def test_the_rail_is_walked_by_keys_and_by_the_mouse(qtbot):
    rail = Rail(["Take apart", "Reach", "Report"])
    qtbot.addWidget(rail)
    rail.resize(112, 500)
    rail.show()
    told = []
    rail.picked.connect(told.append)
    qtbot.keyClick(rail, Qt.Key.Key_Down)
    qtbot.keyClick(rail, Qt.Key.Key_Up)
    qtbot.mouseClick(rail, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(50, 62 + 2 * 54 + 20))
    qtbot.mouseClick(rail, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(50, 490))
    assert told == [1, 2, 2]
    rail.choose(1)
    assert rail.accessibleDescription() == "Reach"


def test_the_sill_tells_its_readouts_to_a_screen_reader_and_keeps_a_long_caution_whole(qtbot):
    sill = Sill()
    qtbot.addWidget(sill)
    sill.resize(900, 46)
    sill.show()
    caution = "Solvent and warm plate within one step: " + "let the plate cool first, " * 10
    sill.show_readouts([Readout("run", "4 min 20 s", "ink"), Readout("power", "live", "copper")], caution)
    sill.grab()
    assert sill.accessibleDescription() == f"run 4 min 20 s; power live; caution: {caution}"
    assert sill.toolTip() == caution
    sill.show_readouts([Readout("run", "4 min 21 s", "ink")], "")
    sill.grab()
    assert sill.toolTip() == ""


def test_the_margin_folds_and_the_notice_goes(qtbot, window):
    window.session.tell("Something to know.")
    assert window.notice.isVisible()
    qtbot.keyClick(window, Qt.Key.Key_F6)
    assert not window.notice.isVisible()
    qtbot.keyClick(window, Qt.Key.Key_F4)
    assert not window.margin.isVisible()
    qtbot.keyClick(window, Qt.Key.Key_F2)
    assert window.margin.isVisible()
    assert window.margin.isAncestorOf(window.focusWidget())


def test_escape_takes_typing_back_and_leaving_hands_it_over(qtbot):
    field = LineField()
    qtbot.addWidget(field)
    field.show()
    told = []
    field.entered.connect(told.append)
    field.set_shown("4 mm")
    field.activateWindow()
    field.setFocus()
    qtbot.waitUntil(field.hasFocus)
    qtbot.keyClicks(field, "9")
    field.set_shown("5 mm")
    assert "9" in field.text()
    qtbot.keyClick(field, Qt.Key.Key_Escape)
    assert field.text() == "4 mm"
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert told == []
    field.selectAll()
    qtbot.keyClicks(field, "6 mm")
    field.editingFinished.emit()
    assert told == ["6 mm"]


def raised(make):
    try:
        make()
    except Exception:
        return sys.exc_info()
    raise AssertionError("nothing was raised")


def test_an_unexpected_error_is_logged_told_once_and_leaves_the_study_open(window, monkeypatch, caplog, tmp_path):
    monkeypatch.setattr(starting, "state_folder", lambda: tmp_path)
    hook = starting._told_once(window)
    study = window.session.study
    wrong = raised(lambda: {}["missing"])
    with caplog.at_level(logging.ERROR):
        hook(*wrong)
        window.notice.hide()
        hook(*wrong)
    assert not window.notice.isVisible()
    assert len(caplog.records) == 2
    assert "KeyError: 'missing'" in QGuiApplication.clipboard().text()
    assert window.session.study is study
    hook(StudyError, StudyError("There is no 'P9' in this study."), None)
    assert window.notice.text.text() == "There is no 'P9' in this study."


@pytest.mark.parametrize("recent", [True, False])
def test_the_program_opens_what_was_open_last_or_says_how_to_begin(window, settings, recent):
    path = fresh_demo()
    window.settings.put("recent", [str(path)] if recent else [])
    starting._welcome(window)
    if recent:
        assert window.session.store.path == path
    else:
        assert "Ctrl+N starts a new study" in window.notice.text.text()


def test_folders_are_those_of_the_user(settings, tmp_path):
    assert settings_module.state_folder().is_relative_to(tmp_path)
    assert settings_module.data_folder().is_relative_to(tmp_path)


def test_the_window_is_found_by_its_study(window):
    assert window.windowTitle() == "demo · Odd Bolt"
    assert QRectF(window.rect()).width() >= 1024


def test_the_guide_lists_every_action_with_its_key(window):
    listed = (Path(__file__).parents[2] / "docs" / "guide" / "keys.md").read_text(encoding="utf-8")
    assert markdown(window.actions_) in listed
