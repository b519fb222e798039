"""A battery replaced and put back at a real window by keys and sentences, one screw withheld, which the program finds.
Run by test_real_window.py under a virtual screen."""

import sys
from pathlib import Path

from attrs import evolve
from journey import Control, Key, press, to_front, type_into, until
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from oddbolt.core.reassembly import ledger
from oddbolt.demo import put_back
from oddbolt.desk.pages.put_back import PutBack
from oddbolt.desk.shell.window import open_window
from oddbolt.desk.state.settings import Settings
from oddbolt.files.store import Store

#: step of the plan -> the sentence that is said for it, instead of Enter
SAID = {"Radio board": "radio board in", "Main board": "main board in", "Battery plug": "battery plug back in"}


def sit(folder, path):
    """Follow the plan by keys, three steps of it by sentences; withhold one of the nine board screws; find it."""
    study = put_back.study()
    apart = {id: step for id, step in study.steps.items() if step.phase == "apart"}
    runs = {id: run for id, run in study.runs.items() if run.kind != "put back"}
    study = evolve(study, steps=apart, runs=runs, checks={})
    Store.create(path, study, put_back.pictures()).close()
    window = open_window(Settings(folder), path)
    to_front(window)
    assert QApplication.platformName() == "xcb"
    until(lambda: window.take_apart.say.vocabulary.tagger is not None)
    press(window, Key.Key_8, Control)
    page = window.page(PutBack)
    until(lambda: page.plan is not None)
    said = follow(window, page)
    assert said == set(SAID), said
    words = page.closing.text()
    assert "26 of 27 screws back" in words, words
    assert not any(line.open for line in (*ledger(window.session.study).plugs, *ledger(window.session.study).parts))
    press(window, Key.Key_L, Control | Qt.KeyboardModifier.AltModifier)
    until(lambda: page.over.isVisible() and page.over.field.hasFocus())
    type_into(page.over.field, "od 1.58, length 4.1")
    press(page.over.field, Key.Key_Return)
    assert "It belongs to Board screws" in page.over.best.text(), page.over.best.text()
    page.show_tab(0)
    assert page.now.text().endswith("Board screws"), page.now.text()
    press(page.steps, Key.Key_Return)
    assert page.closing.text() == "Everything is back.", page.closing.text()
    press(window, Key.Key_C, Control | Qt.KeyboardModifier.ShiftModifier)
    until(page.end.isVisible)
    press(page.end.checks, Key.Key_Return)
    page.end.close_it.click()
    (closing,) = window.session.study.closings.values()
    assert "screw" not in closing.open, closing.open
    laps = [lap for run in window.session.study.runs.values() if run.kind == "put back" for lap in run.laps]
    assert laps, "the put-back run was timed"
    window.close()


def follow(window, page):
    """The plan from its first step to its last; returns which steps were said."""
    said = set()
    for _ in range(60):
        if page.now.text().startswith("Everything planned") or not page.done.isEnabled():
            break
        name = page.now.text().partition(" · ")[2]
        before = len(window.session.study.steps)
        if name in SAID and name not in said:
            said.add(name)
            press(window, Key.Key_Space, Control)
            line = window.take_apart.say.edit
            until(line.hasFocus)
            type_into(line, SAID[name])
            press(line, Key.Key_Return)
            until(lambda before=before: len(window.session.study.steps) > before)
            press(window, Key.Key_8, Control)
        elif name == "Board screws":
            if page.row.groups[0][1] == 1:
                break
            press(page.steps, Key.Key_8)
            press(page.steps, Key.Key_Return)
        else:
            QTest.qWait(700 if name == "Shield plate" else 0)  # hands take longer than keys: one lap to be timed
            press(page.steps, Key.Key_Return)
        until(lambda: not page.done.isEnabled() or page.plan is not None)
    return said


if __name__ == "__main__":
    application = QApplication([])
    sit(Path(sys.argv[1]), Path(sys.argv[2]))
    print("closed knowing that everything is back")
