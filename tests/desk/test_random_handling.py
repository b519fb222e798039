"""Anything may be pressed at any time: menus, buttons, fields, keys and rows in random order, and nothing breaks.

An exception in any slot fails the test (pytest-qt); so does a file that contradicts itself
afterwards and is refused."""

import random

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QAction
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QApplication, QFileDialog, QLineEdit, QTableView

from oddbolt.files.store import Store

KEY = Qt.Key
KEYS = (
    KEY.Key_Up,
    KEY.Key_Down,
    KEY.Key_Left,
    KEY.Key_Right,
    KEY.Key_Return,
    KEY.Key_Escape,
    KEY.Key_Delete,
    KEY.Key_Tab,
)
SAID = (
    "undo four PH00 screws",
    "lift the lid out",
    "unplug the fan",
    "two are longer",
    "that cuts the power",
    "warm the edge",
)
TYPED = ("3", "7 mm", "battery", "", "zz", "2 min", "front", "1e9", "-4", "M3", "renewals 2 min")
#: what leaves the window or the study
LEFT_OUT = ("quit", "practice", "demo", "recent", "watch")


def among(window, kind):
    return [w for w in window.findChildren(kind) if w.isVisible() and w.isEnabled()]


def handle(window, r):
    """One thing that a hand may do."""
    study = window.session.study
    match r.randrange(7):
        case 0 | 1:
            named = [(a, a.text().replace("&", "").lower()) for a in window.findChildren(QAction)]
            r.choice(
                [a for a, name in named if name and "…" not in name and not any(x in name for x in LEFT_OUT)]
            ).trigger()
        case 2:
            window.session.select(r.choice([*study.parts, *study.joints, *study.steps, *study.stretches, ""]))
        case 3:
            window.show_stage(window.take_apart)
            window.take_apart.say.edit.setPlainText(r.choice(SAID))
            window.take_apart.say.log()
        case 4 if fields := among(window, QLineEdit):
            field = r.choice(fields)
            field.setText(r.choice(TYPED))
            QTest.keyClick(field, KEY.Key_Return)
        case 5 if buttons := [b for b in among(window, QAbstractButton) if "…" not in b.text()]:
            r.choice(buttons).click()
        case 6 if tables := [t for t in among(window, QTableView) if t.model().rowCount()]:
            table = r.choice(tables)
            table.setCurrentIndex(table.model().index(r.randrange(table.model().rowCount()), 0))
        case _:
            QTest.keyClick(QApplication.focusWidget() or window, r.choice(KEYS))


@pytest.mark.parametrize("seed", range(2))
def test_nothing_breaks_whatever_is_pressed(qtbot, window, monkeypatch, tmp_path, seed):
    monkeypatch.chdir(tmp_path)  # what the dialog makes lies there
    monkeypatch.setattr(window.filing.dialogs, "_ask", lambda *_: QFileDialog(window))
    r = random.Random(seed)
    for n in range(48):
        handle(window, r)
        QApplication.processEvents()
        if n % 15 == 0:
            window.figures.settle()
            window.figures.finish()
            window.grab()
    path = window.session.store.path
    window.close()  # ends timers that run, and keeps what they waited
    study = window.session.study
    store, again = Store.open(path)
    store.close()
    assert list(again.steps.values()) == list(study.steps.values())
