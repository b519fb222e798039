"""Verdict with its schools, weights and targets, and the shelf, in the window."""

import pytest
from PySide6.QtCore import QItemSelectionModel, Qt
from PySide6.QtGui import QImage

from oddbolt.core.reach.what_if import Change
from oddbolt.core.verdict import SCHEMES, SPECS, composite
from oddbolt.demo.small_devices import SHELF, doorbell
from oddbolt.demo.tide_logger import pictures
from oddbolt.desk.pages.reach import ReachPage
from oddbolt.desk.pages.shelf import ShelfPage
from oddbolt.desk.pages.verdict import VerdictPage
from oddbolt.desk.shell.window import Window
from oddbolt.files.store import Store


@pytest.fixture
def small(window, tmp_path):
    """A small device in the window: a search over its changes takes a moment."""
    Store.create(tmp_path / "doorbell.oddbolt", doorbell()).close()
    assert window.filing.open_path(tmp_path / "doorbell.oddbolt")


@pytest.fixture
def verdict(qtbot, window):
    page = window.page(VerdictPage)
    window.show_stage(page)
    qtbot.waitUntil(lambda: page.views["bench mark"].headline.text() not in ("", "…"), timeout=20_000)
    return page


@pytest.fixture
def shelved(qtbot, window, tmp_path):
    """The shelf page on the demo shelf, with the tide logger open."""
    for name, make in SHELF.items():
        Store.create(tmp_path / f"{name}.oddbolt", make(), pictures() if name == "tide logger" else []).close()
    (tmp_path / "torn.oddbolt").write_bytes(b"SQLite format 3\0" + b"\0" * 500)
    assert window.filing.open_path(tmp_path / "tide logger.oddbolt")
    page = window.page(ShelfPage)
    window.actions_.run("shelf")
    qtbot.waitUntil(lambda: len(page.found) >= len(SHELF) + 1, timeout=30_000)
    return page


def school(qtbot, page, id):
    """Choose a school by its word."""
    qtbot.mouseClick(page.school.button(page.others.index(id)), Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: page.views[id].headline.text() != "…", timeout=20_000)
    return page.views[id]


def choose(page, *names):
    """Choose studies in the table, as with Ctrl and the mouse."""
    page.table.clearSelection()
    for name in names:
        row = page.rows.ids.index(f"{name}.oddbolt")
        index = page.table.proxy.mapFromSource(page.rows.index(row, 0))
        flags = QItemSelectionModel.SelectionFlag.Select | QItemSelectionModel.SelectionFlag.Rows
        page.table.selectionModel().select(index, flags)


def test_every_school_shows_its_lines_and_what_is_open(qtbot, window, verdict):
    for id in SCHEMES:
        if id == "bench mark":
            continue
        view = school(qtbot, verdict, id)
        judged = window.figures.judgement(id)
        assert view.headline.text() == judged.headline
        assert view.rows.rowCount() == len(judged.entries)
        links = [link.text() for n in range(view.asks.count()) if not (link := view.asks.itemAt(n).widget()).isHidden()]
        assert [link.startswith("open: ") for link in links] == [True] * min(len(judged.asks), len(links))
        assert bool(links) == bool(judged.asks)
    assert len(verdict.others) == len(SCHEMES) - 1


def test_a_line_tells_its_reasons_and_leads_to_what_causes_it(qtbot, window, verdict):
    view = school(qtbot, verdict, "classes")
    view.table.setFocus()
    qtbot.keyClick(view.table, Qt.Key.Key_Home)
    qtbot.keyClick(view.table, Qt.Key.Key_Down)
    assert view.reasons.text()
    assert window.session.selection in window.session.study.parts | window.session.study.joints


def test_a_slider_moves_the_figure_as_the_core_counts_it(qtbot, window, verdict):
    view = school(qtbot, verdict, "regulation")
    before = view.headline.text()
    for slider in view.sliders.values():
        slider.setValue(0)
    first = next(iter(view.sliders))
    view.sliders[first].setValue(100)
    weights = {id: float(id == first) for id in view.sliders}
    only = composite(window.session.study, SPECS["regulation"], weights)
    assert view.weights == weights
    assert only.total.words(4.0) in view.headline.text()
    assert view.headline.text() != before
    assert view.figures_[first].text() == "100%"
    view._own()
    assert view.headline.text() == before
    view._alike()
    assert max(view.weights.values()) - min(view.weights.values()) < 0.02


def test_what_would_reach_a_figure_is_found_and_wrong_figures_are_answered(qtbot, window, small, verdict):
    qtbot.keyClicks(verdict.target.field, "much")
    qtbot.keyClick(verdict.target.field, Qt.Key.Key_Return)
    assert "not a figure" in window.notice.text.text()
    verdict.target.field.setText("nan")
    qtbot.keyClick(verdict.target.field, Qt.Key.Key_Return)
    assert "such as 7.5" in window.notice.text.text()
    verdict.target.field.setText("6,9")
    qtbot.keyClick(verdict.target.field, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: "that reach 6.9:" in verdict.target.found.text(), timeout=60_000)
    verdict.target.field.setText("2")
    qtbot.keyClick(verdict.target.field, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: "already" in verdict.target.found.text(), timeout=20_000)


def test_a_class_may_be_the_target_and_what_was_found_goes_when_the_study_changes(qtbot, window, small, verdict):
    view = school(qtbot, verdict, "regulation")
    qtbot.keyClicks(view.target.field, "Z")
    qtbot.keyClick(view.target.field, Qt.Key.Key_Return)
    assert "or a class: A, B, C, D, E" in window.notice.text.text()
    view.target.field.setText("e")
    qtbot.keyClick(view.target.field, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: "already" in view.target.found.text(), timeout=60_000)
    window.session.select("J4")
    box = window.margin.fields["tab"][1]
    box.setCurrentIndex(box.findData("yes"))
    box.activated.emit(box.currentIndex())
    assert window.session.study.joints["J4"].tab is True
    qtbot.waitUntil(lambda: view.target.found.text() == "", timeout=20_000)


def test_a_scheme_of_the_users_own_stands_beside_ours(qapp, settings, tmp_path, demo_file, monkeypatch):
    monkeypatch.setattr("oddbolt.desk.pages.verdict.data_folder", lambda: tmp_path)
    (tmp_path / "schemes").mkdir()
    (tmp_path / "schemes" / "depth.toml").write_text(
        'name = "Depth only"\nsource = "our own"\nmost = 5\n[[criteria]]\nid = "depth"\nmeasure = "steps"\n'
        "ladder = [[3, 5], [6, 3]]\nbeyond = 1\n"
    )
    window = Window(settings)
    page = window.page(VerdictPage)
    assert "depth" in page.views
    window.close()


def test_three_devices_side_by_side(qtbot, window, shelved, tmp_path):
    choose(shelved, "pump gauge", "reading lamp", "doorbell")
    assert sorted(shelved.side.names) == ["Doorbell", "Pump gauge", "Reading lamp"]
    words = shelved.told.text()
    assert "Bench mark: Pump gauge > Reading lamp > Doorbell" in words
    assert "Pump gauge over Doorbell: under every near weight and every reading" in words
    assert shelved.picture.accessibleDescription() or shelved.picture.accessibleName()
    assert not shelved.picture.grab().toImage().isNull()
    assert not shelved.same.isEnabled()
    window.writing.write("comparison", tmp_path / "three.svg")
    assert "Reading lamp" in (tmp_path / "three.svg").read_text(encoding="utf-8")
    window.writing.write("comparison", tmp_path / "three.png")
    assert QImage(str(tmp_path / "three.png")).width() > 1000
    qtbot.mouseClick(shelved.views.button(1), Qt.MouseButton.LeftButton)
    assert shelved.depths.roles[0] in ("battery", "main board")
    for key in (Qt.Key.Key_Down, Qt.Key.Key_Down):
        qtbot.keyClick(shelved.depths, key)
    assert shelved.depths.at == shelved.depths.roles[1]
    assert shelved.depths.accessibleDescription().startswith(f"{shelved.depths.at}: Doorbell: ")
    window.writing.write("comparison", tmp_path / "deep.svg")
    assert "loudspeaker" in (tmp_path / "deep.svg").read_text(encoding="utf-8")
    qtbot.mouseClick(shelved.views.button(0), Qt.MouseButton.LeftButton)
    shelved.lift_above("bench mark", "Doorbell", "Reading lamp")
    qtbot.waitUntil(lambda: "trying" not in shelved.told.text(), timeout=30_000)
    assert "What would lift Doorbell above Reading lamp, bench mark:\n   Smallest changes" in shelved.told.text()
    choose(shelved, "pump gauge")
    assert shelved.told.text().startswith("Pump gauge\nbattery: ")
    assert shelved.side is None
    choose(shelved, "torn")
    assert shelved.told.text().startswith("Choose two or more")


def test_two_analysts_of_one_device_are_held_against_each_other(qtbot, window, shelved):
    choose(shelved, "tide logger", "tide logger, second analyst")
    qtbot.mouseClick(shelved.same, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: "agreement" in shelved.told.text(), timeout=30_000)
    assert "10 against 9" in shelved.told.text()


def test_a_role_that_no_part_has_is_given_to_one_by_a_click(qtbot, window, small, verdict):
    view = school(qtbot, verdict, "regulation")
    at = next(n for n, ask in enumerate(view.asked) if ask.role)
    role, wide = view.asked[at].role, window.figures.judgement("regulation").total
    qtbot.mouseClick(view.asks.itemAt(at).widget(), Qt.MouseButton.LeftButton)
    named = {action.text(): action for action in verdict.offered.actions()}
    assert set(named) == {part.name for part in window.session.study.parts.values() if not part.role}
    next(iter(named.values())).trigger()
    verdict.offered.close()
    given = {p.name: p.role for p in window.session.study.parts.values()}
    assert given[next(iter(named))] == role
    qtbot.waitUntil(lambda: window.figures.judgement("regulation") is not None, timeout=20_000)
    now = window.figures.judgement("regulation").total
    assert now.high - now.low < wide.high - wide.low


def test_a_change_tried_on_reach_tells_what_it_moves_in_the_school_chosen(qtbot, window, small, verdict):
    school(qtbot, verdict, "counting")
    reach = window.page(ReachPage)
    glue = next(id for id, joint in window.session.study.joints.items() if joint.name == "Cell glue")
    tried = (Change("gone", glue),)
    qtbot.waitUntil(lambda: window.figures.trial(tried, ("P1",)) is not None, timeout=20_000)
    trial = window.figures.trial(tried, ("P1",))
    assert trial.school == "Counting"
    assert " instead of " in trial.judged
    reach.what_if.changes = tried
    assert f"Counting: {trial.judged}." in reach.what_if._moved(trial)


def test_a_study_that_cannot_be_read_is_shown_as_such_and_names_are_found(qtbot, shelved):
    assert "1 that cannot be read" in shelved.beside.text()
    qtbot.keyClicks(shelved.finder, "pump")
    assert shelved.table.proxy.rowCount() == 1
    shelved.finder.clear()
    assert shelved.table.proxy.rowCount() == len(shelved.found)
