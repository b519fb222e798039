"""By keys and by ear: names, roles, focus that is seen, what is painted told, the main job without a mouse."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QAccessible, QColor, QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLabel, QLineEdit, QScrollArea, QWidget

from oddbolt.desk.pages.fasteners import Fasteners
from oddbolt.desk.pages.parts import TABLE, Parts
from oddbolt.desk.pages.verdict import VerdictPage
from oddbolt.desk.shell import announcements
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.labels import tip
from oddbolt.desk.widgets.spoken import Painted

KEY, ROLE, TEXT = Qt.Key, QAccessible.Role, QAccessible.Text
CTRL = Qt.KeyboardModifier.ControlModifier


@pytest.fixture
def heard(window):
    QAccessible.setActive(True)
    yield window
    QAccessible.setActive(False)


def shown(window, page):
    (window.show_stage if page in window.pages else window.show_aside)(page)
    window.figures.settle()
    QApplication.processEvents()


def stops(window):
    for widget in window.findChildren(QWidget):
        if widget.isVisible() and widget.isEnabled() and widget.focusPolicy() & Qt.FocusPolicy.TabFocus:
            yield widget


def press(key, *keys):
    QTest.keyClick(QApplication.focusWidget(), key, *keys)
    QApplication.processEvents()


def typed(words):
    QTest.keyClicks(QApplication.focusWidget(), words)
    QApplication.processEvents()


def luminance(colour):
    """Relative luminance, WCAG 2.2."""
    parts = [v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4 for v in colour.getRgbF()[:3]]
    return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]


def contrast(a, b):
    low, high = sorted((luminance(QColor(a)), luminance(QColor(b))))
    return (high + 0.05) / (low + 0.05)


def test_every_stop_has_a_name_a_role_and_words_of_its_own(heard):
    for page in (*heard.pages, *heard.asides):
        shown(heard, page)
        for widget in stops(heard):
            face = QAccessible.queryAccessibleInterface(widget)
            where = f"{type(page).__name__}: {type(widget).__name__} {widget.objectName()}"
            assert face.text(TEXT.Name), where
            assert face.role() not in (ROLE.NoRole, ROLE.Client) or isinstance(widget, QScrollArea), where
            if isinstance(widget, QLineEdit) and widget.placeholderText():
                assert face.text(TEXT.Description) != widget.placeholderText(), where


@pytest.mark.parametrize("lamp", [theme.DAY, theme.NIGHT], ids=lambda t: t.name)
def test_the_focus_is_seen_on_every_kind_of_control(window, qtbot, lamp):
    """At least 3 to 1 against what was there before (WCAG 2.2, 1.4.11), on a line's worth of points."""
    window.use_theme(lamp)
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    seen = set()
    for page in (*window.pages, *window.asides):
        shown(window, page)
        for widget in stops(window):
            kind = (type(widget).__name__, widget.objectName())
            if kind in seen:
                continue
            seen.add(kind)
            if QApplication.focusWidget():
                QApplication.focusWidget().clearFocus()
            QApplication.processEvents()
            before = widget.grab().toImage()
            widget.setFocus(Qt.FocusReason.TabFocusReason)
            QApplication.processEvents()
            after = widget.grab().toImage()
            points = [(x, y) for y in range(after.height()) for x in (*range(0, 12), *range(12, after.width(), 4))]
            told = 0
            for x, y in points:
                if after.valid(x, y) and before.pixel(x, y) != after.pixel(x, y):
                    told += contrast(before.pixelColor(x, y), after.pixelColor(x, y)) >= 3
                if told >= 12:
                    break
            assert told >= 12, f"{type(page).__name__}: {kind}"
    theme.use(theme.DAY)


@pytest.mark.parametrize("t", [theme.DAY, theme.NIGHT], ids=lambda t: t.name)
def test_letters_and_lines_meet_the_contrast_asked_for(t):
    """WCAG 2.2: 4.5 to 1 for letters (1.4.3), 3 to 1 for the lines of a control (1.4.11)."""
    for ground in (t.paper, t.card):
        for ink in (t.ink, t.muted, t.copper, t.sea):
            assert contrast(ink, ground) >= 4.5, (ink, ground)
    assert contrast(t.muted, t.kraft) >= 4.5
    assert min(contrast(t.edge, t.paper), contrast(t.edge, t.card)) >= 3
    sheet = theme._sheet(t)
    for control in ("QLineEdit, QPlainTextEdit#field {", "QComboBox {", "QPushButton {", "QScrollBar::handle {"):
        assert t.edge in sheet.split(control, 1)[1].split("}", 1)[0], control


def test_tab_goes_through_all_of_a_page_and_comes_round(window, qtbot):
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    for page in window.pages:
        shown(window, page)
        window.rail.setFocus()
        met = []
        for _ in range(150):
            press(KEY.Key_Tab)
            now = QApplication.focusWidget()
            assert now is not None
            assert not met or now is not met[-1], f"{type(page).__name__}: Tab stays in {type(now).__name__}"
            met.append(now)
            if now is window.rail:
                break
        assert met[-1] is window.rail, type(page).__name__


def test_a_stage_shown_by_its_key_leaves_the_selection_alone(window, qtbot):
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    window.session.select("J4")
    for page in (*window.pages, *window.pages[::-1]):
        if page is window.prepare:
            continue
        window.actions_.run(f"stage {window.pages.index(page) + 1}")
        QApplication.processEvents()
        for table in page.findChildren(QWidget):
            table.setFocus()
        assert window.session.selection == "J4", type(page).__name__


def test_what_is_painted_is_a_list_that_can_be_walked(heard):
    for page in heard.pages:
        shown(heard, page)
        for widget in heard.findChildren(Painted):
            if not widget.isVisible() or not len(widget.item_ids):
                continue
            face = QAccessible.queryAccessibleInterface(widget)
            assert face.childCount() == len(widget.item_ids)
            for n in {0, face.childCount() // 2, face.childCount() - 1}:
                child = face.child(n)
                assert child.text(TEXT.Name), type(widget).__name__
                assert face.indexOfChild(child) == n
                assert child.isValid()
            assert face.child(face.childCount()) is None


def test_moving_on_what_is_painted_tells_all_of_the_item(heard, qtbot):
    heard.activateWindow()
    qtbot.waitUntil(heard.isActiveWindow)
    fasteners = heard.page(Fasteners)
    shown(heard, fasteners)
    fasteners.board.setFocus()
    press(KEY.Key_Right)
    told = fasteners.board.accessibleDescription()
    joint = heard.session.study.joints[heard.session.selection]
    assert f"{joint.length_mm:g} mm" in told
    assert heard.session.study.name(joint.holds[0]) in told
    assert "out in step" in told
    shown(heard, heard.reach)
    heard.reach.strata.setFocus()
    press(KEY.Key_Right)
    part = heard.session.study.name(heard.reach.targets[-1])
    told = heard.reach.strata.accessibleDescription()
    assert part in told
    assert "step" in told
    verdict = heard.page(VerdictPage)
    shown(heard, verdict)
    ledger = next(w for w in verdict.findChildren(Painted) if type(w).__name__ == "Ledger")
    ledger.setFocus()
    press(KEY.Key_Down)
    assert QAccessible.queryAccessibleInterface(ledger).focusChild().text(TEXT.Name).startswith("minus")


def test_what_happens_is_announced_and_can_be_asked_for_again(window, monkeypatch):
    said = []
    monkeypatch.setattr(announcements, "announce", lambda _w, words: said.append(words))
    window.show_stage(window.take_apart)
    window.take_apart.say.edit.setPlainText("undo six T5 screws on the inlet grid")
    window.take_apart.say.log()
    assert any("6" in s or "six" in s for s in said), said
    window.session.tell("The disk is full.")
    assert said[-1] == "The disk is full."
    assert window.announcements.again() == "The disk is full."
    assert window.announcements.again() != "The disk is full."
    assert window.notice.isVisible()


def test_selected_rows_are_copied_for_a_spreadsheet_and_a_document(window):
    parts = window.page(Parts)
    shown(window, parts)
    parts.show_view(TABLE)
    parts.table.setFocus()
    parts.table.selectRow(1)
    press(KEY.Key_C, CTRL)
    data = QGuiApplication.clipboard().mimeData()
    assert len(data.text().splitlines()) == 2
    assert data.html().count("<tr>") == 2
    name = window.session.study.name(
        parts.table.rows.ids[parts.table.proxy.mapToSource(parts.table.proxy.index(1, 0)).row()]
    )
    assert name in data.text()


def test_markup_in_a_name_is_only_words(window):
    from oddbolt.core.study import change

    window.session.edit(change(window.session.study, "P1", name="<h1>STUDY DAMAGED</h1>"), "name")
    window.session.select("P1")
    QApplication.processEvents()
    labels = [w for w in window.findChildren(QLabel) if "STUDY DAMAGED" in w.text()]
    assert labels
    assert all(w.textFormat() == Qt.TextFormat.PlainText for w in labels)
    assert tip("<h1>x</h1>") == "<qt>&lt;h1&gt;x&lt;/h1&gt;</qt>"


def test_the_main_job_by_keys_alone(window, qtbot):
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    steps = len(window.session.study.steps)
    press(KEY.Key_3, CTRL)
    typed("backed out four IP5 under the feet, two are longer")
    press(KEY.Key_Return)
    assert len(window.session.study.steps) == steps + 1
    press(KEY.Key_6, CTRL)
    press(KEY.Key_T, CTRL)
    QApplication.focusWidget().selectAll()
    typed("battery")
    press(KEY.Key_Return)
    window.figures.settle()
    QApplication.processEvents()
    assert window.session.study.name(window.reach.targets[0]) == "Battery"
    assert "step" in window.reach.summary.text()
    press(KEY.Key_3, CTRL)
    press(KEY.Key_Z, CTRL)
    assert len(window.session.study.steps) == steps
