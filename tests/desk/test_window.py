"""The window on the demo study: pages, margin, undo, files; all of it by the keyboard where a user would."""

import json

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QColor, QGuiApplication
from PySide6.QtWidgets import QApplication, QLabel, QMenu, QPushButton

from oddbolt.core.reach import route_to
from oddbolt.core.study import change
from oddbolt.demo import tide_logger
from oddbolt.desk.pages.parts import TABLE
from oddbolt.desk.painters.ground import lay_out
from oddbolt.desk.shell.dialogs import Dialogs
from oddbolt.desk.shell.filing import fresh_demo
from oddbolt.desk.widgets import theme
from oddbolt.files.store import Store


def page(window, title):
    n = [p.title for p in window.pages].index(title)
    window.show_stage(window.pages[n])
    return window.pages[n]


def enter(qtbot, widget, text):
    widget.setFocus()
    widget.selectAll()
    qtbot.keyClick(widget, Qt.Key.Key_Delete)
    qtbot.keyClicks(widget, text)
    qtbot.keyClick(widget, Qt.Key.Key_Return)


# -- pages ------------------------------------------------------------------------------------------------


def test_every_stage_is_reached_by_its_key_and_paints(qtbot, window):
    for n, p in enumerate(window.pages, 1):
        qtbot.keyClick(window, getattr(Qt.Key, f"Key_{n}"), Qt.KeyboardModifier.ControlModifier)
        assert window.stack.currentWidget() is p
        assert not window.grab().toImage().isNull()


def test_the_rail_tells_the_state_of_every_stage(qtbot, window):
    qtbot.waitUntil(lambda: any(window.rail.states), timeout=10_000)
    states = dict(zip([p.title for p in window.pages], window.rail.states, strict=True))
    assert states["Take apart"] == "step 62"
    assert states["Fasteners"] == "4 odd"
    assert states["Parts"] == "53 parts"
    assert states["Verdict"] == "4.2–4.8 of 10"


def test_selecting_a_joint_shows_its_step_its_photo_and_its_fellow(window):
    window.session.select("J17")
    assert window.take_apart.beside.text().startswith("step 19")
    assert window.photo_panel.view.chosen == "J17"
    assert {m.about for m in window.photo_panel.view.marks} >= {"J16", "J17"}
    assert window.margin.title.text() == "Long board screw"


def test_the_strip_is_walked_by_keys(qtbot, window):
    window.session.select("S20")
    strip = window.take_apart.strip
    qtbot.keyClick(strip, Qt.Key.Key_Left)
    assert window.session.selection == "S19"
    qtbot.keyClick(strip, Qt.Key.Key_End)
    assert window.session.selection == ""


def test_the_board_and_the_table_show_the_same_groups(qtbot, window):
    fasteners = page(window, "Fasteners")
    fasteners.finder.setText("T10")
    assert [j.size for j in fasteners.board.groups] == ["T10", "T10"]
    assert fasteners.table.proxy.rowCount() == 2
    fasteners.finder.clear()
    qtbot.keyClick(fasteners.board, Qt.Key.Key_Right)
    assert window.session.selection == fasteners.board.groups[0].id
    fasteners.table.choose("J17")
    qtbot.keyClick(fasteners.table, Qt.Key.Key_Up)
    assert window.session.selection == "J16"


def test_a_table_is_copied_as_a_spreadsheet_takes_it(qtbot, window):
    window.session.attempt("x", change, "P1", name="=1+1")
    parts = page(window, "Parts")
    parts.show_view(TABLE)
    parts.table.setFocus()
    qtbot.keyClick(parts.table, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    lines = QGuiApplication.clipboard().text().split("\n")
    assert lines[0].startswith("part\tinside\tfree after")
    assert len(lines) == 54
    assert any(line.startswith("'=1+1") for line in lines)


def test_tables_sort_by_figures_not_by_letters(window):
    parts = page(window, "Parts")
    parts.show_view(TABLE)
    parts.table.sortByColumn(2, Qt.SortOrder.AscendingOrder)
    depths = [parts.table.proxy.index(r, 2).data(Qt.ItemDataRole.UserRole) for r in range(53)]
    assert depths == sorted(depths)


def test_the_route_to_a_named_part_is_asked_for_by_keys(qtbot, window):
    qtbot.keyClick(window, Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
    reach = window.reach
    enter(qtbot, reach.target, "battery")
    assert reach.targets == ("P29",)
    route = route_to(window.session.study, ["P29"])
    assert reach.ribbon.route.seconds == route.seconds
    assert reach.summary.text().startswith("facts open · 9 to 10 steps · 27 screws")
    assert reach.renew.text().startswith("Battery; have ready isopropanol")
    assert "Never bend or pierce the cell" in reach.mind.text()
    enter(qtbot, reach.target, "flux coil")
    assert "no part called 'flux coil'" in window.notice.text.text()
    enter(qtbot, reach.target, "base shell")
    assert "no recorded step takes it out" in reach.mind.text()


def test_strata_are_travelled_by_arrows_and_targets_added_by_a_modifier(qtbot, window):
    reach = page(window, "Reach")
    reach.choose(("P19",))
    qtbot.keyClick(reach.strata, Qt.Key.Key_Down)
    assert reach.targets != ("P19",)
    below = reach.strata.ground.boxes[reach.targets[0]].center().y()
    assert below > reach.strata.ground.boxes["P19"].center().y()
    first = reach.targets[0]
    qtbot.mouseClick(
        reach.strata, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ControlModifier,
        reach.strata.ground.boxes["P19"].center().toPoint(),
    )  # fmt: skip
    assert set(reach.targets) in ({first, "P19"}, {"P19"})


def test_every_part_that_comes_off_has_its_place_in_the_ground(window):
    study = tide_logger.study()
    reach = window.figures.reach()
    for minutes in (False, True):
        ground = lay_out(study, reach, minutes)
        own = {p for s in study.steps.values() for p in s.takes_out}
        assert {b.part for b in ground.bands} == own
        assert all(0 <= b.row <= b.row_most < len(ground.rows) for b in ground.bands)
        assert all(0 <= b.column < len(ground.columns) for b in ground.bands)


def test_the_verdict_moves_when_a_joint_does_and_leads_to_its_cause(qtbot, window):
    verdict = page(window, "Verdict")
    assert verdict.views["bench mark"].headline.text() == "4.2 to 4.8, likely 4.8 of 10"
    qtbot.keyClick(verdict.views["bench mark"].ledger, Qt.Key.Key_Down)
    assert window.margin.title.text() == "Battery glue"
    tab = window.margin.fields["tab"][1]
    tab.setCurrentIndex(tab.findData("yes"))
    tab.activated.emit(tab.currentIndex())
    assert window.session.study.joints["J20"].tab is True
    assert verdict.views["bench mark"].headline.text() == "5.2 to 5.8, likely 5.8 of 10"


# -- margin and undo --------------------------------------------------------------------------------------


def test_a_figure_is_typed_with_any_unit_and_checked(qtbot, window):
    window.session.select("J17")
    length = window.margin.fields["length_mm"][1]
    enter(qtbot, length, "0.55 cm")
    assert window.session.study.joints["J17"].length_mm == 5.5
    enter(qtbot, window.margin.fields["length_mm"][1], "3 kg")
    assert "type it like 2.5 mm" in window.notice.text.text()
    assert window.margin.fields["length_mm"][1].text() == "5.5 mm"
    enter(qtbot, window.margin.fields["torque_ncm"][1], "0.1 N·m")
    assert window.session.study.joints["J17"].torque_ncm == 10


def test_names_are_typed_and_wrong_ones_answered(qtbot, window):
    window.session.select("J17")
    enter(qtbot, window.margin.fields["holds"][1], "Main board; Core")
    assert window.session.study.joints["J17"].holds == ("P19", "P15")
    enter(qtbot, window.margin.fields["holds"][1], "board; Core")
    assert "'board' could be" in window.notice.text.text()
    assert window.session.study.joints["J17"].holds == ("P19", "P15")
    enter(qtbot, window.margin.fields["holds"][1], "Main bord")
    assert "taken for Main board" in window.notice.text.text()
    assert window.session.study.joints["J17"].holds == ("P19",)


def test_a_part_is_laid_over_another_and_the_reach_follows(qtbot, window):
    window.session.select("P2")
    over = next(w for w in window.margin.findChildren(type(window.reach.target)) if "covered by" in w.accessibleName())
    enter(qtbot, over, "rubber feet")
    assert any(f.over == "P1" and f.under == "P2" for f in window.session.study.facts.values())
    assert window.figures.reach()["P2"].steps.least == 2


def test_a_range_is_made_exact_by_one_answer(qtbot, window):
    page(window, "Reach")
    window.session.select("P29")
    lines = [label.text() for label in window.margin.findChildren(QLabel)]
    assert "Was the battery under the thermal pad?" in lines
    assert "9 to 10 steps" in lines
    yes = next(b for b in window.margin.findChildren(QPushButton) if b.text() == "&Yes")
    yes.click()
    lines = [label.text() for label in window.margin.findChildren(QLabel)]
    assert "10 steps" in lines
    assert not any(line.endswith("the thermal pad?") for line in lines)
    window.session.stack.undo()
    assert not window.figures.reach()["P29"].steps.exact


def test_what_goes_with_a_removed_thing_is_told_and_comes_back(qtbot, window):
    study = window.session.study
    window.session.select("P19")
    qtbot.keyClick(window, Qt.Key.Key_Delete, Qt.KeyboardModifier.ControlModifier)
    assert "P19" not in window.session.study.parts
    assert "Removed Main board." in window.notice.text.text()
    assert "Step 20 no longer takes out" in window.notice.text.text() or "more." in window.notice.text.text()
    qtbot.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.session.study is study


def test_everything_is_undone_and_redone_in_the_file_too(qtbot, window, say):
    path = window.session.store.path
    start = window.session.study
    say("backed out four IP5 under the feet")
    window.bench.add_part()
    window.session.attempt("x", change, "P1", note="warm")
    end = window.session.study
    for _ in range(3):
        qtbot.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.session.study is start
    for _ in range(3):
        window.session.stack.redo()
    assert window.session.study is end
    window.close()
    store, loaded = Store.open(path)
    store.close()
    assert loaded.parts == end.parts
    assert loaded.steps == end.steps


def test_a_timed_step_is_corrected(qtbot, window):
    window.session.select("S3")
    enter(qtbot, window.margin.laps["R2"], "1 min 20 s")
    assert window.take_apart.strip.card_of("S3").time == "1 min 20 s"


def test_the_clock_pauses_and_a_run_gathers_laps(qtbot, window, say):
    assert not window.session.clock.running
    qtbot.keyClick(window, Qt.Key.Key_F8)
    assert window.session.clock.running
    qtbot.keyClick(window, Qt.Key.Key_F8)
    assert window.session.clock.paused
    assert window.sill.readouts[1].caption == "timed run, paused"
    qtbot.keyClick(window, Qt.Key.Key_F8)
    window.bench.begin_run("timed")
    qtbot.wait(700)
    say("undo four PH00 screws on the fan")
    run = window.session.study.runs[window.session.run_id]
    assert run.kind == "timed"
    assert run.laps[0].seconds >= 0.6


def test_every_action_is_in_a_menu_and_no_key_is_taken_twice(qtbot, window):
    actions = [a for m in window.menuBar().findChildren(QMenu) for a in m.actions() if not a.isSeparator()]
    keys = [a.shortcut().toString() for a in actions if not a.shortcut().isEmpty()]
    assert len(keys) == len(set(keys)) > 20
    qtbot.keyClick(window, Qt.Key.Key_F1)
    qtbot.keyClicks(window.keys.finder, "read steps")
    assert window.keys.table.proxy.rowCount() == 1
    qtbot.keyClick(window.keys.finder, Qt.Key.Key_Return)
    assert not window.keys.isVisible()
    assert "speech program" in window.notice.text.text() or "aloud" in window.notice.text.text()


# -- files ------------------------------------------------------------------------------------------------


@pytest.fixture
def asked(monkeypatch, tmp_path):
    """Answers the file dialogs with what is in the list."""
    answers = []
    monkeypatch.setattr(Dialogs, "ask_open", lambda _, title, kinds, then: then(answers.pop(0)))
    monkeypatch.setattr(Dialogs, "ask_save", lambda _, title, proposed, kinds, then: then(answers.pop(0), kinds))
    return answers


def test_a_new_study_is_empty_says_what_to_do_and_takes_a_sentence(window, asked, tmp_path, say):
    asked.append(tmp_path / "wind meter")
    window.filing.new()
    assert window.session.store.path.name == "wind meter.oddbolt"
    assert window.session.study.device.name == "Wind meter"
    for p in window.pages:
        window.show_stage(p)
        assert not window.grab().toImage().isNull()
    assert "Ctrl+Shift+Ins" in page(window, "Parts").beside.text()
    say("undo six T8 screws on the rim")
    assert len(window.session.study.steps) == 1
    assert [p.name for p in window.settings.recent] == ["wind meter.oddbolt", "demo.oddbolt"]


def test_a_bad_file_leaves_the_open_study_open(window, tmp_path):
    bad = tmp_path / "bad.oddbolt"
    bad.write_text("hello")
    study = window.session.study
    assert not window.filing.open_path(bad)
    assert "not a study of Odd Bolt" in window.notice.text.text()
    assert window.session.study is study
    window.session.attempt("x", change, "P1", note="still here")
    assert window.session.study.parts["P1"].note == "still here"


def test_a_read_only_study_is_looked_at_and_copied(window, asked, tmp_path):
    locked = tmp_path / "locked.oddbolt"
    Store.create(locked, tide_logger.study()).close()
    locked.chmod(0o444)
    window.filing.open_path(locked)
    assert "read-only" in window.notice.text.text()
    window.session.attempt("x", change, "P1", note="no")
    assert window.session.study.parts["P1"].note == ""
    assert "Save a copy" in window.notice.text.text()
    asked.append(tmp_path / "copy")
    window.filing.save_copy()
    assert window.filing.open_path(tmp_path / "copy.oddbolt")
    window.session.attempt("x", change, "P1", note="yes")
    assert window.session.study.parts["P1"].note == "yes"


def test_a_narration_is_logged_as_one_edit(window, asked):
    from pathlib import Path

    before = window.session.study
    asked.append(Path(__file__).parents[1] / "narration" / "dock-lamp.vtt")
    window.filing.log_narration()
    assert len(window.session.study.steps) == len(before.steps) + 9
    assert "9 steps logged from dock-lamp.vtt; 3 sentences contained no step" in window.notice.text.text()
    window.session.stack.undo()
    assert window.session.study is before


def test_reports_and_exports_are_written_or_answered(qtbot, window, asked, tmp_path):
    asked.append(tmp_path / "r")
    window.writing.ask("report")
    qtbot.waitUntil(lambda: (tmp_path / "r.html").exists(), timeout=60_000)
    assert "Long board screw" in (tmp_path / "r.html").read_text()
    asked.append(tmp_path / "no" / "r.html")
    window.writing.ask("report")
    assert "cannot be written" in window.notice.text.text()
    window.writing.export_to(tmp_path / "s.json")
    assert json.loads((tmp_path / "s.json").read_text())["device"]["maker"] == "Ondrel"
    window.writing.export_to(tmp_path / "bill", "Bill of materials, CSV (*.csv)")
    assert "Hatch seal,gasket,1" in (tmp_path / "bill.csv").read_text()
    asked += [tmp_path / "s.json", tmp_path / "again"]
    window.filing.import_json()
    assert window.session.store.path.name == "again.oddbolt"
    assert len(window.session.study.parts) == 53


def test_a_demo_that_a_window_has_open_is_left_to_it(window):
    window.filing.open_demo()
    first = window.session.store.path
    assert fresh_demo() != first
    window.session.remove("S1")
    window.filing.open_path(first)
    assert "already open" in window.notice.text.text()
    window.filing.open_demo()
    assert window.session.store.path == first
    assert "S1" in window.session.study.steps


def test_the_demo_is_always_fresh(settings):
    first = fresh_demo()
    store, study = Store.open(first)
    store.save(study, change(study, "P1", note="scribble"))
    store.close()
    store, study = Store.open(fresh_demo())
    store.close()
    assert study.parts["P1"].note == ""


# -- looks ------------------------------------------------------------------------------------------------


def luminance(colour):
    """Relative luminance, WCAG 2.1."""
    channels = [c / 12.92 if c <= 0.03928 else ((c + 0.055) / 1.055) ** 2.4 for c in colour.getRgbF()[:3]]
    return 0.2126 * channels[0] + 0.7152 * channels[1] + 0.0722 * channels[2]


def contrast(a, b):
    one, two = sorted((luminance(QColor(a)), luminance(QColor(b))), reverse=True)
    return (one + 0.05) / (two + 0.05)


@pytest.mark.parametrize("which", [theme.DAY, theme.NIGHT], ids=lambda t: t.name)
def test_words_can_be_read_on_every_ground(which):
    """Contrast of at least 4.5:1 (WCAG 2.1, 1.4.3)."""
    for ground in (which.paper, which.card, which.kraft, which.mat, which.warn):
        assert contrast(which.ink, ground) >= 4.5
    for ground in (which.paper, which.card):
        for ink in (which.muted, which.copper, which.sea):
            assert contrast(ink, ground) >= 4.5, (ink, ground)
    assert contrast(which.copper, which.warn) >= 4.5
    assert contrast(which.card, which.copper) >= 4.5
    assert min(contrast(which.bar_ink, bar) for bar in which.bars) >= 4.5
    depths = [luminance(QColor(d)) for d in which.depth]
    assert depths == sorted(depths, reverse=True)


def test_night_and_day_and_a_small_window_paint(window):
    for size, which in (((1024, 680), theme.NIGHT), ((1280, 800), theme.DAY)):
        window.resize(*size)
        window.use_theme(which)
        for n in range(len(window.pages)):
            window.show_stage(window.pages[n])
            QApplication.processEvents()
            assert window.width() == size[0]
            corner = window.grab().toImage().pixelColor(QPoint(4, window.height() - 4))
            assert corner.name().upper() == which.kraft


def test_large_studies_are_worked_out_beside_the_work(qtbot, window, tmp_path):
    from builders import chain_study

    path = tmp_path / "large.oddbolt"
    Store.create(path, change(chain_study(260, fork=9), "P200", priority=True)).close()
    window.filing.open_path(path)
    page(window, "Reach")
    with qtbot.waitSignal(window.figures.ready, timeout=10_000):
        pass
    qtbot.waitUntil(lambda: not window.figures.working, timeout=20_000)
    assert window.reach.ribbon.route is not None
    assert window.figures.reach()["P200"].steps.least >= 1


def test_a_fresh_step_asks_one_thing_and_one_key_answers_it(qtbot, window, say):
    say("take the buzzer off")
    say("undo two PH00 screws on the base plate")
    asked = [label.text() for label in window.margin.findChildren(QLabel) if label.text().endswith("the buzzer?")]
    assert asked == ["Were the 2 PH00 screws of the base plate under the buzzer?"]
    yes = next(b for b in window.margin.findChildren(QPushButton) if b.text() == "&Yes")
    facts = len(window.session.study.facts)
    yes.click()
    fact = list(window.session.study.facts.values())[-1]
    assert (len(window.session.study.facts), fact.state) == (facts + 1, "seen")
    assert not [label for label in window.margin.findChildren(QLabel) if label.text().endswith("the buzzer?")]
