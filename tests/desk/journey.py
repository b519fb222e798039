"""A sitting at a real window, told by keys alone. Run by test_real_window.py under a virtual screen."""

import faulthandler
import os
import sys
import time
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QLabel, QLineEdit
from shiboken6 import isValid

from oddbolt.desk.shell.window import open_window
from oddbolt.desk.state.settings import Settings

Key, Control, Shift = Qt.Key, Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


def press(widget, key, modifier=Qt.KeyboardModifier.NoModifier):
    QTest.keyClick(widget, key, modifier)
    QTest.qWait(30)


def type_into(widget, text):
    QTest.keyClicks(widget, text)
    QTest.qWait(30)


def answer_dialog(path):
    """Name a file in the dialog that is open and accept it. The name is set whole: while it is typed, the dialog's list
    of suggestions, which is read on a thread, may change it."""
    until(lambda: isinstance(QApplication.activeModalWidget(), QFileDialog))
    dialog = QApplication.activeModalWidget()
    name = dialog.findChild(QLineEdit)

    def gone():
        if isValid(dialog) and dialog.isVisible():
            name.setText(str(path))
            dialog.accept()
        return not isValid(dialog) or not dialog.isVisible()

    until(gone)


def to_front(window):
    """Give the window the keyboard; no window manager does it here."""
    window.activateWindow()
    until(window.isActiveWindow)


def sit(folder, study_path):
    """Log three sentences, correct a piece, ask for the battery, export, undo the last; returns what to find again."""
    window = open_window(Settings(folder), study_path)
    to_front(window)
    assert QApplication.platformName() == "xcb", QApplication.platformName()
    steps = len(window.session.study.steps)
    until(lambda: window.take_apart.say.vocabulary.tagger is not None)
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
    QApplication.processEvents()
    assert window.reach.summary.text().startswith("facts open · 9 to 10 steps"), window.reach.summary.text()
    look_deeper(window)
    report = folder / "report.html"
    press(window, Key.Key_E, Control)
    answer_dialog(report)
    until(report.exists)  # it is written beside the work
    assert "Routes to the priority parts" in report.read_text(encoding="utf-8")
    assert "Take out Fan" in report.read_text(encoding="utf-8")
    to_front(window)
    press(window, Key.Key_Space, Control)
    assert window.focusWidget() is line
    press(line, Key.Key_Z, Control)
    assert len(window.session.study.steps) == steps + 2
    if len(sys.argv) > 3:
        window.grab().save(sys.argv[3])
    press(window, Key.Key_Q, Control)
    until(lambda: not window.isVisible())
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


def look_deeper(window):
    """At Reach: a question answered closes a range; a what-if is tried, kept and dropped, and the record stays."""
    page, session = window.reach, window.session
    press(window, Key.Key_3, Control | Shift)
    until(lambda: page.questions.lines)
    line = page.questions.lines[0]
    wide = window.figures.reach()[line.parts[0]].seconds
    press(window.focusWidget(), Key.Key_N)
    until(lambda: not window.figures.working)
    near = window.figures.reach()[line.parts[0]].seconds
    assert near.most - near.least < wide.most - wide.least, (wide, near)
    press(window, Key.Key_Z, Control)
    record, best = session.study, page.summary.text()
    press(window, Key.Key_2, Control | Shift)
    table = page.what_if.table
    until(lambda: table.model().rowCount() > 5)
    table.setFocus()
    press(table, Key.Key_Down)
    until(lambda: page.route_name.text().startswith("What if"))
    assert page.summary.text() != best
    walk_to(table, "name of the what-if")
    type_into(window.focusWidget(), "kinder")
    press(window.focusWidget(), Key.Key_Return)
    assert [v.name for v in session.study.what_ifs.values()] == ["kinder"]
    press(table, Key.Key_Escape)
    assert page.summary.text() == best
    press(window, Key.Key_Z, Control)
    assert session.study is record
    press(window, Key.Key_1, Control | Shift)


def until(done):
    """Let the program run until this is so; only a hang ends it, after ten minutes, with where it stood."""
    while not done():
        time.sleep(0.01)
        QApplication.processEvents()


CAPTIONS = """WEBVTT

00:00:02.000 --> 00:00:06.000
Hello again, an egg timer today, sponsored by nobody.

00:00:07.000 --> 00:00:12.000
Undo for snubnose screws on the back.

00:00:13.000 --> 00:00:18.000
Lift the back plate off, then unplug the bell.

00:00:20.000 --> 00:00:26.000
Two snubnose screws hold the movement. Take them out.

00:00:27.000 --> 00:00:33.000
Lift the movement out of the case, mind the dial it goes with it.

00:00:35.000 --> 00:00:41.000
Pull the spring out, said nobody ever.

00:00:42.000 --> 00:00:50.000
Remove the six PH0 screws of the dial and take the dial off.
"""


def narrate(folder):
    """A caption file played into a new study, gone through by keys: teach, keep, drop, correct; then found again."""
    window = open_window(Settings(folder), None)
    to_front(window)
    study_path = folder / "egg timer.oddbolt"
    press(window, Key.Key_N, Control)
    answer_dialog(study_path)
    to_front(window)
    captions = folder / "talk.vtt"
    captions.write_text(CAPTIONS, encoding="utf-8")
    press(window, Key.Key_R, Control | Shift)
    answer_dialog(captions)
    page, table = window.review, window.review.table
    to_front(window)
    assert len(page.lines) > 6, page.lines
    press(table, Key.Key_N)  # the first line that asks something
    press(table, Key.Key_E)
    edit = page.say.edit
    assert window.focusWidget() is edit
    walk_to(edit, "What is “snubnose”?")
    press(window.focusWidget(), Key.Key_Down)
    answer_menu("a drive: ")
    taught = {step.drive for line in page.lines for step in line.reading.steps if "snubnose" in line.text}
    assert len(taught) == 1, taught
    assert taught != {"unknown"}
    table.setFocus()
    row = next(n for n, line in enumerate(page.lines) if "said nobody" in line.text)
    while page.at < row:
        press(table, Key.Key_Return)
    press(table, Key.Key_Delete)
    press(table, Key.Key_E)  # the last line: four, not six
    walk_to(edit, "count")
    type_into(window.focusWidget(), "4")
    press(window.focusWidget(), Key.Key_Return)
    press(edit, Key.Key_Return)
    assert window.focusWidget() is table
    press(table, Key.Key_Return, Control | Shift)
    study = window.session.study
    assert "Spring" not in {p.name for p in study.parts.values()}
    assert [j.count for j in study.joints.values() if j.kind == "screw"] == [4, 2, 4]
    out = [study.parts[p].name for s in study.steps.values() for p in s.takes_out]
    assert out == ["Back plate", "Movement", "Dial"], out
    scan_screws(window)
    study = window.session.study
    press(window, Key.Key_Q, Control)
    until(lambda: not window.isVisible())
    again = open_window(Settings(folder), study_path)
    assert [s.said for s in again.session.study.steps.values()] == [s.said for s in study.steps.values()]
    again.close()


def scan_screws(window):
    """A photo of twelve screws on the mat, chosen by name, looked at, and entered with one key."""
    joints = set(window.session.study.joints)
    to_front(window)
    press(window, Key.Key_M, Control | Shift)
    answer_dialog(Path(__file__).parents[1] / "scans" / "0702.jpg")
    to_front(window)
    until(lambda: window.scans.scan is not None)
    assert len(window.scans.scan.screws) == 12
    assert window.focusWidget() is window.scans.view
    press(window.scans.view, Key.Key_Return)
    study = window.session.study
    assert sum(study.joints[j].count for j in study.joints if j not in joints) == 12


def walk_to(edit, name):
    """Tab from the sentence through its pieces to the one so called."""
    press(edit, Key.Key_Tab)
    for _ in range(40):
        at = QApplication.focusWidget()
        if name in (at.accessibleName(), getattr(at, "text", str)()):
            return
        press(at, Key.Key_Tab)
    raise AssertionError(f"Tab does not reach {name}")


def answer_menu(begins):
    """Choose the first answer, which begins so, in the menu that is open."""
    until(QApplication.activePopupWidget)
    menu = QApplication.activePopupWidget()
    QTest.keyClick(menu, Key.Key_Down)
    assert menu.activeAction().text().startswith(begins), menu.activeAction().text()
    QTest.keyClick(menu, Key.Key_Return)
    until(lambda: QApplication.activePopupWidget() is None)


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
    faulthandler.dump_traceback_later(600, exit=True)  # a sitting that hangs says where
    app = QApplication([])
    app.setAttribute(Qt.ApplicationAttribute.AA_DontUseNativeDialogs)
    app.setQuitOnLastWindowClosed(False)
    here = Path(sys.argv[1])
    come_back(here, sit(here, Path(sys.argv[2])))
    print("found everything again")
    narrate(here)
    print("narrated")
    sys.stdout.flush()
    os._exit(0)
