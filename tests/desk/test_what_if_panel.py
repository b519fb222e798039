"""What holds it back and what is open, on the page of reach, by keys."""

import pypdfium2
import pytest
from PySide6.QtCore import Qt

from oddbolt.core.reach import route_to

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
    qtbot.waitUntil(lambda: page.what_if.table.model().rowCount() > 5, timeout=20_000)
    return page.what_if


def tried(qtbot, page, row):
    page.what_if.table.setCurrentIndex(page.what_if.table.model().index(row, 0))
    qtbot.waitUntil(
        lambda: "instead of" in page.what_if.said.text() or "stays" in page.what_if.said.text(), timeout=20_000
    )


def test_a_what_if_is_tried_kept_and_dropped_and_the_record_stays(qtbot, window, page):
    before, deep = window.session.study, page.summary.text()
    easier = weighed(qtbot, page)
    assert not easier.drop.isVisible()
    assert "help no part" in easier.said.text()
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
    assert easier.drop.text() == "Delete"
    qtbot.mouseClick(easier.drop, Qt.MouseButton.LeftButton)
    assert not window.session.study.what_ifs
    window.undoing.undo()
    assert window.session.study.what_ifs


def test_a_question_answered_closes_a_range(qtbot, window, page):
    page.below.button(2).click()
    qtbot.waitUntil(lambda: page.questions.table.model().rowCount() > 0, timeout=20_000)
    asked = len(page.questions.lines)
    first = page.questions.lines[0]
    wide = window.figures.reach()[first.parts[0]].seconds
    qtbot.keyClick(page.questions.table, KEY.Key_N)
    fact = next(f for f in window.session.study.facts.values() if (f.over, f.under) == (first.over, first.under))
    assert fact.state == "ruled out"
    near = window.figures.reach()[first.parts[0]].seconds
    assert near.most - near.least < wide.most - wide.least
    assert len(page.questions.lines) < asked
    while page.questions.lines:
        qtbot.keyClick(page.questions.table, KEY.Key_Y)
    assert "exact" in page.questions.said.text()
    assert not page.questions.yes.isVisible()
    assert "open" not in page.state()


def test_a_route_is_made_least_in_something_else_and_goes_another_way(qtbot, window, page):
    best = page.route
    assert "9 in 10 under" in page.sure.text()
    qtbot.waitUntil(lambda: page.other.isVisible(), timeout=20_000)
    page.other.click()
    assert set(page.route.steps) != set(best.steps)
    assert page.route.seconds > best.seconds
    page.choose(("P19",))
    assert page.way == 0
    page.choose(("P42",) if "P42" in window.session.study.parts else page.targets)
    page.route_options.least.button(3).click()
    assert page.route.options.least == "renewals"
    page.choose((BATTERY,))
    page.route_options.kept_in.setText("main board")
    qtbot.keyClick(page.route_options.kept_in, KEY.Key_Return)
    assert "lies over" in page.mind.text()
    page.route_options.kept_in.setText("")
    qtbot.keyClick(page.route_options.kept_in, KEY.Key_Return)
    assert page.route is not None


def test_the_bench_card_is_one_page_with_every_step(window, page, tmp_path):
    window.writing.write("bench card", tmp_path / "card.pdf")
    card = pypdfium2.PdfDocument(tmp_path / "card.pdf")
    assert len(card) == 1
    words = " ".join(card[0].get_textpage().get_text_range().split())
    assert "Route to Battery" in words
    assert "Never bend or pierce the cell" in words
    assert words.count("min") > len(page.route.legs) / 2


def test_a_long_route_still_is_one_page_and_a_folder_that_is_none_is_told(window, page, tmp_path):
    reach = window.figures.reach()
    deepest = sorted((p for p, r in reach.items() if r.operations), key=lambda p: reach[p].operations.least)[-1]
    route = route_to(window.session.study, [deepest, BATTERY, "P8", "P41"])
    assert len(route.legs) > 30
    page.route = route
    window.writing.write("bench card", tmp_path / "all.pdf")
    assert len(pypdfium2.PdfDocument(tmp_path / "all.pdf")) == 1
    window.writing.write("bench card", tmp_path / "none" / "all.pdf")
    assert "cannot be written" in window.notice.text.text()
