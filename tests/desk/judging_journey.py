"""A mark that is moved by one joint, a target, and devices side by side on the shelf at a real window. Run by
test_real_window.py under a virtual screen."""

import sys
from pathlib import Path

from journey import Control, Key, Shift, press, to_front, type_into, until
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from oddbolt.demo.small_devices import SHELF
from oddbolt.desk.pages.shelf import ShelfPage
from oddbolt.desk.pages.verdict import VerdictPage
from oddbolt.desk.shell.window import open_window
from oddbolt.desk.state.settings import Settings
from oddbolt.files.store import Store


def sit(folder):
    """Judge, set a target, compare three devices, hold two analysts against each other."""
    for name, make in SHELF.items():
        Store.create(folder / f"{name}.oddbolt", make()).close()
    window = open_window(Settings(folder), folder / "tide logger.oddbolt")
    to_front(window)
    assert QApplication.platformName() == "xcb"
    verdict = window.page(VerdictPage)
    press(window, getattr(Key, f"Key_{window.pages.index(verdict) + 1}"), Control)
    mark = verdict.views["bench mark"]
    until(lambda: mark.headline.text().startswith("4.2 to 4.8"))
    verdict.target.field.setFocus()
    type_into(verdict.target.field, "4")
    press(verdict.target.field, Key.Key_Return)
    until(lambda: "4.80 already" in verdict.target.found.text())
    word = verdict.school.button(verdict.others.index("regulation"))
    word.setFocus()
    press(word, Key.Key_Space)
    regulation = verdict.views["regulation"]
    until(lambda: " to " in regulation.headline.text())
    before = regulation.headline.text()
    slider = next(iter(regulation.sliders.values()))
    slider.setFocus()
    press(slider, Key.Key_End)
    until(lambda: regulation.headline.text() != before)
    window.session.select("J20")
    tab = window.margin.fields["tab"][1]
    tab.setFocus()
    type_into(tab, "yes")
    press(tab, Key.Key_Return)
    if window.session.study.joints["J20"].tab is not True:  # the list of a combo needs its own answer
        tab.setCurrentIndex(tab.findData("yes"))
        tab.activated.emit(tab.currentIndex())
    until(lambda: window.session.study.joints["J20"].tab is True)
    until(lambda: not mark.headline.text().startswith("4.2 to 4.8"))
    press(window, Key.Key_S, Control | Qt.KeyboardModifier.AltModifier)
    page = window.page(ShelfPage)
    until(lambda: len(page.found) == len(SHELF))
    page.table.setFocus()
    press(page.table, Key.Key_Home)
    press(page.table, Key.Key_Down, Shift)
    press(page.table, Key.Key_Down, Shift)
    until(lambda: page.side is not None and len(page.side.names) == 3)
    assert "Bench mark: " in page.told.text()
    assert not page.picture.grab().toImage().isNull()
    names = [name for name in page.rows.ids if name.startswith("tide")]
    assert len(names) == 2
    page.finder.setFocus()
    type_into(page.finder, "tide logger")
    page.table.setFocus()
    press(page.table, Key.Key_A, Control)
    until(page.same.isEnabled)
    QTest.mouseClick(page.same, Qt.MouseButton.LeftButton)
    until(lambda: "agreement" in page.told.text())
    assert "Light pipe" in page.told.text()
    press(page, Key.Key_Escape)
    until(lambda: window.stack.currentWidget() is not page)
    rank_moves(window, verdict, page, folder)
    window.close()


def rank_moves(window, verdict, page, folder):
    """A change to one joint moves the mark of the doorbell, and with it its place on the shelf."""
    assert window.filing.open_path(folder / "doorbell.oddbolt")
    press(window, getattr(Key, f"Key_{window.pages.index(verdict) + 1}"), Control)
    mark = verdict.views["bench mark"]
    until(lambda: mark.headline.text().startswith("5.3 to 6"))
    glue = next(id for id, joint in window.session.study.joints.items() if joint.name == "Cell glue")
    window.session.remove(glue)
    until(lambda: mark.headline.text() not in ("", "…") and not mark.headline.text().startswith("5.3"))
    press(window, Key.Key_S, Control | Qt.KeyboardModifier.AltModifier)
    page.finder.clear()
    until(lambda: any(one.name == "Doorbell" and one.summary.marks["bench mark"][1] > 7 for one in page.found))
    page.table.setFocus()
    press(page.table, Key.Key_Home)
    for _ in range(2):
        press(page.table, Key.Key_Down, Shift)
    until(lambda: page.side is not None and len(page.side.names) == 3)
    assert "Bench mark: Pump gauge > Doorbell > Reading lamp" in page.told.text()


if __name__ == "__main__":
    application = QApplication([])
    sit(Path(sys.argv[1]))
    print("judged and compared")
