"""A sitting at a real window, told by keys alone. Run by test_real_window.py under a virtual screen."""

import faulthandler
import os
import sys
from pathlib import Path

from PySide6.QtCore import Qt, QTimer
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QLabel, QLineEdit

from oddbolt.desk.settings import Settings
from oddbolt.desk.window import open_window

Key, Control = Qt.Key, Qt.KeyboardModifier.ControlModifier


def press(widget, key, modifier=Qt.KeyboardModifier.NoModifier):
    QTest.keyClick(widget, key, modifier)
    QTest.qWait(30)


def type_into(widget, text):
    QTest.keyClicks(widget, text)
    QTest.qWait(30)


def answer_dialog(path):
    """Type a name into the dialog that is about to open."""

    def answer():
        dialog = QApplication.activeModalWidget()
        if not isinstance(dialog, QFileDialog):
            QTimer.singleShot(100, answer)
            return
        name = dialog.findChild(QLineEdit)
        name.selectAll()
        QTest.keyClicks(name, str(path))
        confirm(dialog, name)

    def confirm(dialog, name):
        """Press Return until the dialog is gone: the first may only close its list of suggestions."""
        if dialog.isVisible():
            QTest.keyClick(name, Key.Key_Return)
            QTimer.singleShot(300, lambda: confirm(dialog, name))

    QTimer.singleShot(200, answer)


def sit(folder, study_path):
    """Log three sentences, correct a piece, ask for the battery, export, undo the last; returns what to find again."""
    window = open_window(Settings(folder), study_path)
    window.activateWindow()
    assert QTest.qWaitForWindowActive(window)
    assert QApplication.platformName() == "xcb", QApplication.platformName()
    steps = len(window.session.study.steps)
    open_up(window)
    line = window.take_apart.say.edit
    type_into(line, "backed out four IP5 under the feet, two are longer")
    press(line, Key.Key_Return)
    type_into(line, "undo tree PH00 screws on the fan")
    press(line, Key.Key_Tab)
    press(window.focusWidget(), Key.Key_Tab)
    assert window.focusWidget().accessibleName() == "count"
    type_into(window.focusWidget(), "7")
    press(window.focusWidget(), Key.Key_Return)
    press(line, Key.Key_Return)
    type_into(line, "lift the fan out")
    press(line, Key.Key_Return)
    study = window.session.study
    assert len(study.steps) == steps + 3
    assert [j.count for j in study.joints.values()][-2:] == [4, 7]
    press(window, Key.Key_T, Control)
    target = window.focusWidget()
    target.selectAll()
    type_into(target, "battery")
    press(target, Key.Key_Return)
    window.figures.finish()
    QTest.qWait(100)
    assert window.reach.summary.text().startswith("9 steps"), window.reach.summary.text()
    report = folder / "report.html"
    answer_dialog(report)
    press(window, Key.Key_E, Control)
    assert "Route to: Battery" in report.read_text(encoding="utf-8")
    assert "lift the fan out" in report.read_text(encoding="utf-8")
    window.activateWindow()  # no window manager does it here
    assert QTest.qWaitForWindowActive(window)
    press(window, Key.Key_Space, Control)
    assert window.focusWidget() is line
    press(line, Key.Key_Z, Control)
    assert len(window.session.study.steps) == steps + 2
    if len(sys.argv) > 3:
        window.grab().save(sys.argv[3])
    press(window, Key.Key_Q, Control)
    QTest.qWait(50)
    assert not window.isVisible()
    return steps + 2


def open_up(window):
    """At the Open page: a layer changed moves the time, a keep-out dragged with the mouse moves the safe depth."""
    press(window, Key.Key_2, Control)
    page = window.opening
    window.session.select("E2")
    QTest.qWait(30)
    soft = page.warmth.window_.soft_s
    thickness = page.stack.rows["L1"][1]
    thickness.setFocus()
    thickness.selectAll()
    type_into(thickness, "4 mm")
    press(thickness, Key.Key_Return)
    assert page.warmth.window_.soft_s > soft + 10, (page.warmth.window_.soft_s, soft)
    assert "Soft after" in page.verdict.text()
    before = window.margin.findChildren(QLabel)
    depth = next(label.text() for label in before if label.text().endswith("mm all along"))
    drawing, flex = page.drawing, window.session.study.keepouts["Z2"]
    start = drawing.place(flex.x_mm, flex.y_mm).toPoint()
    end = drawing.place(flex.x_mm, flex.y_mm - 6).toPoint()
    QTest.mousePress(drawing, Qt.MouseButton.LeftButton, pos=start)
    for n in range(1, 6):
        QTest.mouseMove(drawing, start + (end - start) * n / 5)
        QTest.qWait(20)
    QTest.mouseRelease(drawing, Qt.MouseButton.LeftButton, pos=end)
    QTest.qWait(30)
    assert window.session.study.keepouts["Z2"].y_mm < flex.y_mm - 4
    window.session.select("E2")
    QTest.qWait(30)
    after = next(x.text() for x in window.margin.findChildren(QLabel) if x.text().endswith("mm all along"))
    assert float(after.split()[0]) > float(depth.split()[0]), (depth, after)
    press(window, Key.Key_Z, Control)
    press(window, Key.Key_Z, Control)
    press(window, Key.Key_Space, Control)


def come_back(folder, steps):
    """Everything is where it was left, in a new window that opens the last file by itself."""
    settings = Settings(folder)
    window = open_window(settings, settings.recent[0])
    study = window.session.study
    assert len(study.steps) == steps
    assert list(study.steps.values())[-1].said == "undo tree PH00 screws on the fan"
    assert [j.count for j in study.joints.values()][-2:] == [4, 7]
    assert any(p.name == "Feet" or p.name == "Rubber feet" for p in study.parts.values())
    window.close()


if __name__ == "__main__":
    faulthandler.dump_traceback_later(200, exit=True)  # a sitting that hangs says where
    app = QApplication([])
    app.setAttribute(Qt.ApplicationAttribute.AA_DontUseNativeDialogs)
    app.setQuitOnLastWindowClosed(False)
    here = Path(sys.argv[1])
    come_back(here, sit(here, Path(sys.argv[2])))
    print("found everything again")
    sys.stdout.flush()
    os._exit(0)
