"""What holds it back and what is open, on the page of reach, by keys."""

import pytest
from PySide6.QtCore import Qt

KEY = Qt.Key
BATTERY = "P29"


@pytest.fixture
def page(qtbot, window):
    window.show_stage(window.reach)
    window.reach.choose((BATTERY,))
    return window.reach


def weighed(qtbot, page):
    """The list of changes, once it is there."""
    page.below.button(1).click()
    qtbot.waitUntil(lambda: page.easier.table.model().rowCount() > 5, timeout=20_000)
    return page.easier


def tried(qtbot, page, row):
    page.easier.table.setCurrentIndex(page.easier.table.model().index(row, 0))
    qtbot.waitUntil(
        lambda: "instead of" in page.easier.said.text() or "stays" in page.easier.said.text(), timeout=20_000
    )


def test_a_what_if_is_tried_kept_and_dropped_and_the_record_stays(qtbot, window, page):
    before, deep = window.session.study, page.summary.text()
    easier = weighed(qtbot, page)
    assert not easier.drop.isVisible()
    assert "would help no one" in easier.said.text()
    tried(qtbot, page, 0)
    assert "Battery glue" in easier.said.text()
    assert "Bench mark" in easier.said.text()
    assert page.summary.text() != deep
    assert page.route_name.text().startswith("What if")
    assert page.strata.study is not window.session.study
    assert window.session.study is before
    easier.name.setText("no glue")
    qtbot.keyClick(easier.name, KEY.Key_Return)
    assert [v.name for v in window.session.study.what_ifs.values()] == ["no glue"]
    assert window.session.study.joints is before.joints
    qtbot.keyClick(page, KEY.Key_Escape)
    assert page.strata.study is window.session.study
    assert page.summary.text() == deep
    weighed(qtbot, page)
    tried(qtbot, page, 0)  # the one that was kept stands first
    assert easier.drop.text() == "Forget it"
    qtbot.mouseClick(easier.drop, Qt.MouseButton.LeftButton)
    assert not window.session.study.what_ifs
    window.undoing.undo()
    assert window.session.study.what_ifs


def test_a_question_answered_closes_a_range(qtbot, window, page):
    page.below.button(2).click()
    qtbot.waitUntil(lambda: page.asked.table.model().rowCount() > 0, timeout=20_000)
    asked = len(page.asked.questions)
    first = page.asked.questions[0]
    wide = window.figures.reach()[first.parts[0]].seconds
    qtbot.keyClick(page.asked, KEY.Key_N)
    fact = next(f for f in window.session.study.facts.values() if (f.over, f.under) == (first.over, first.under))
    assert fact.state == "ruled out"
    near = window.figures.reach()[first.parts[0]].seconds
    assert near.most - near.least < wide.most - wide.least
    assert len(page.asked.questions) < asked
    while page.asked.questions:
        qtbot.keyClick(page.asked, KEY.Key_Y)
    assert "exact" in page.asked.said.text()
    assert not page.asked.yes.isVisible()
    assert "open" not in page.state()
