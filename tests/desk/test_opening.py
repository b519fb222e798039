"""Prepare and Open in the window: checks, kit, edge plan, warm-up, timers and sums, by hand and by keys."""

import json

import pypdfium2
import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtTest import QTest
from test_window import enter, page

from oddbolt.core.opening.edge import round_of
from oddbolt.core.safety import contents
from oddbolt.core.study import Study, change
from oddbolt.desk.state import timers as timers_module
from oddbolt.files.store import Store

Key = Qt.Key


@pytest.fixture
def prepare(window):
    return page(window, "Prepare")


@pytest.fixture
def opening(window):
    shown = page(window, "Open")
    window.figures.finish()
    return shown


@pytest.fixture
def clock(monkeypatch):
    """Time for timers, moved by hand."""
    now = [1000.0]
    monkeypatch.setattr(timers_module, "monotonic", lambda: now[0])
    return now


# -- Prepare ----------------------------------------------------------------------------------------------


def test_checks_are_signed_with_their_reading_and_opened_again(qtbot, window, prepare):
    enter(qtbot, prepare.who, "A. Z.")
    assert dict(readouts(window))["checks"] == "3 open"
    strap = prepare.lines["strap"]
    enter(qtbot, strap.reading, "40 megohm")
    assert "over the limit" in window.notice.text.text()
    assert strap.signed.text() == "over the limit"
    assert dict(readouts(window))["checks"] == "4 open"
    enter(qtbot, strap.reading, "1.2e1")
    check = next(c for c in window.session.study.checks.values() if c.rule == "strap")
    assert (check.by, check.reading) == ("A. Z.", 12.0)
    box = prepare.lines["cell box"]
    qtbot.mouseClick(box.mark, Qt.MouseButton.LeftButton, pos=QPoint(6, 6))
    assert box.line.state == "done"
    qtbot.mouseClick(box.mark, Qt.MouseButton.LeftButton, pos=QPoint(6, 6))
    assert box.line.state == "open"
    window.session.stack.undo()
    assert box.line.state == "done"


def test_a_check_that_wants_a_reading_asks_for_it(qtbot, window, prepare):
    charge = prepare.lines["charge"]
    enter(qtbot, charge.reading, "")
    assert charge.line.state == "open"
    qtbot.mouseClick(charge.mark, Qt.MouseButton.LeftButton, pos=QPoint(6, 6))
    assert "type the reading in %" in window.notice.text.text()
    assert charge.line.state == "open"
    enter(qtbot, charge.reading, "lots")
    assert "is not a share" in window.notice.text.text()


def test_the_kit_follows_the_job_and_the_bench(qtbot, window, prepare, settings):
    assert prepare.beside.text().startswith("full teardown: 37 things")
    whole = {n.what for n in prepare.needs()}
    enter(qtbot, prepare.job, "battery")
    assert prepare.job_name() == "route to Battery"
    assert {n.what for n in prepare.needs()} < whole
    names = [n.what for n in prepare.roll.needs]
    missing = [n.what for n in prepare.roll.needs if not n.there]
    assert "hexalobular T5" in names
    assert missing == []
    prepare.roll.setFocus()
    prepare.roll.at = names.index("hexalobular T5")
    qtbot.keyClick(prepare.roll, Key.Key_Space)
    assert [n.what for n in prepare.roll.needs if not n.there] == ["hexalobular T5"]
    assert "T5" not in settings.bench
    qtbot.keyClick(prepare.roll, Key.Key_Space)
    assert all(n.there for n in prepare.roll.needs)
    enter(qtbot, prepare.job, "nothing of the kind")
    assert "no part called" in window.notice.text.text()


def test_the_users_own_bench_is_a_plain_list(qtbot, window, prepare, settings):
    prepare.own.click()
    prepare.bench.setPlainText("PH00\n\n  warm plate ")
    prepare.own.click()
    assert settings.bench == ["PH00", "warm plate"]
    assert {n.what for n in prepare.roll.needs if n.there} == {"cross PH00", "warm plate"}


def test_the_kit_and_the_plan_are_written_for_the_printer(window, prepare, opening, tmp_path):
    window.writing.write("kit list", tmp_path / "kit")
    kit = pypdfium2.PdfDocument(tmp_path / "kit.pdf")
    words = "".join(p.get_textpage().get_text_range() for p in kit)
    assert "Kit for full teardown" in words
    assert "IP8 M2.5 8 mm countersunk" in " ".join(words.split())
    window.writing.write("edge plan", tmp_path / "edge.pdf")
    drawing = pypdfium2.PdfDocument(tmp_path / "edge.pdf")
    assert "Begin at the right side" in drawing[0].get_textpage().get_text_range()


# -- Open: the edge ---------------------------------------------------------------------------------------


def depth_at(window, stretch="E2"):
    study = window.session.study
    return round_of(study, study.stretches[stretch].plan).along[stretch].safe_mm


def drag(widget, start, end):
    for kind, at, buttons in (
        (QMouseEvent.Type.MouseButtonPress, start, Qt.MouseButton.LeftButton),
        (QMouseEvent.Type.MouseMove, (start + end) / 2, Qt.MouseButton.LeftButton),
        (QMouseEvent.Type.MouseMove, end, Qt.MouseButton.LeftButton),
        (QMouseEvent.Type.MouseButtonRelease, end, Qt.MouseButton.NoButton),
    ):
        button = Qt.MouseButton.NoButton if kind == QMouseEvent.Type.MouseMove else Qt.MouseButton.LeftButton
        QTest.qWait(1)
        event = QMouseEvent(kind, at, widget.mapToGlobal(at), button, buttons, Qt.KeyboardModifier.NoModifier)
        {
            QMouseEvent.Type.MouseButtonPress: widget.mousePressEvent,
            QMouseEvent.Type.MouseMove: widget.mouseMoveEvent,
            QMouseEvent.Type.MouseButtonRelease: widget.mouseReleaseEvent,
        }[kind](event)


def test_a_keep_out_that_is_dragged_changes_the_depth_while_it_moves(window, opening):
    before, drawing = depth_at(window), opening.drawing
    flex = window.session.study.keepouts["Z2"]
    start = drawing.place(flex.x_mm, flex.y_mm)
    drag(drawing, start, drawing.place(flex.x_mm, flex.y_mm - 8))
    moved = window.session.study.keepouts["Z2"]
    assert moved.y_mm == pytest.approx(flex.y_mm - 8, abs=0.3)
    assert depth_at(window) > before
    assert "bottom side: glue 1.5 mm wide. In at 60°, 3 mm: 1.5 mm inwards, 2.6 mm down." in opening.said.text()
    window.session.stack.undo()
    assert depth_at(window) == before


def test_the_plan_is_walked_and_changed_by_keys(qtbot, window, opening):
    drawing = opening.drawing
    drawing.setFocus()
    seen = []
    for _ in range(9):
        qtbot.keyClick(drawing, Key.Key_PageDown)
        seen.append(window.session.selection)
    assert sorted(seen) == sorted([f"E{n}" for n in range(1, 5)] + [f"Z{n}" for n in range(1, 6)])
    window.session.select("Z2")
    qtbot.keyClick(drawing, Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    assert window.session.study.keepouts["Z2"].y_mm == 42.5
    window.session.select("E2")
    qtbot.keyClick(drawing, Key.Key_Down)
    qtbot.keyClick(drawing, Key.Key_Left)
    stretch = window.session.study.stretches["E2"]
    assert (stretch.depth_mm, stretch.angle_deg) == (2.5, 55)
    assert window.margin.title.text() == "Bottom side"


def test_what_is_typed_wrong_in_the_margin_is_said_and_kept_as_it_was(qtbot, window, opening):
    for id, name, text, words in (
        ("E1", "angle_deg", "", "cannot be left empty"),
        ("E1", "depth_mm", "200 mm", "must lie between 0 and 100 mm"),
        ("O1", "outline", "polygon 0,0 40,25 40,0 0,25", "crosses itself"),
        ("L1", "thickness_mm", "0", "must lie between"),
        ("L1", "conductivity_w_mk", "-1", "must lie between"),
        ("W1", "heater_c", "warm", "is not a temperature"),
    ):
        before = window.session.study
        window.session.select(id)
        if not id:
            window.session.show_device()
        enter(qtbot, window.margin.fields[name][1], text)
        assert words in window.notice.text.text(), (name, text)
        assert window.session.study is before, (name, text)


def test_an_unknown_word_among_the_hazards_is_marked_and_the_known_ones_kept(qtbot, window):
    window.session.show_device()
    window.show_stage(window.prepare)
    field = window.margin.fields["contains"][1]
    enter(qtbot, field, "mains, plutonium")
    assert "'plutonium' is not a known hazard" in window.notice.text.text()
    assert window.session.study.device.contains == "mains, plutonium"
    assert "mains" in contents(window.session.study)
    assert field.objectName() == "missing"
    enter(qtbot, field, "mains")
    assert field.objectName() == ""


def test_a_plan_is_begun_from_nothing(qtbot, window, opening, tmp_path):
    window.session.create(tmp_path / "new.oddbolt", Study())
    window.show_stage(opening)
    assert "Ctrl+Shift+P" in opening.drawing.trouble
    assert "Ctrl+Shift+W" in opening.warmth.trouble
    opening.add_keepout()
    assert "No edge plan yet" in window.notice.text.text()
    size = 'width="80mm" height="40mm" viewBox="0 0 80 40"'
    drawing = f'<svg xmlns="http://www.w3.org/2000/svg" {size}><rect width="80" height="40"/></svg>'
    (tmp_path / "o.svg").write_text(drawing)
    opening.take_outline(tmp_path / "o.svg")
    study = window.session.study
    assert [s.name for s in study.stretches.values()] == ["top side", "right side", "bottom side", "left side"]
    opening.add_keepout()
    assert window.session.study.keepouts["Z1"].x_mm == pytest.approx(40)
    window.session.select("E1")
    opening.split_stretch()
    assert window.session.study.stretches["E5"].name == "top side, end"
    opening.use_stretches()
    assert len(window.session.study.stretches) == 4
    opening.new_warmup()
    assert opening.warmth.window_.soft_s
    for _ in range(6):
        window.session.stack.undo()
    assert window.session.study.edge_plans == {}


# -- Open: warmth -----------------------------------------------------------------------------------------


def test_a_layer_that_is_changed_moves_the_time_at_every_key(qtbot, window, opening):
    before = opening.warmth.window_.soft_s
    thickness = opening.stack.rows["L1"][1]
    thickness.setFocus()
    thickness.selectAll()
    qtbot.keyClicks(thickness, "4 mm")
    assert opening.warmth.window_.soft_s > before
    assert window.session.study.layers["L1"].thickness_mm == 2
    qtbot.keyClick(thickness, Key.Key_Return)
    assert window.session.study.layers["L1"].thickness_mm == 4
    with qtbot.waitSignal(window.figures.ready, timeout=30_000):
        pass
    assert opening.warmth.band.samples == 200
    assert "in eight of ten" in opening.spread.text()


def test_a_heater_too_cold_is_told_and_no_timer_runs(qtbot, window, opening):
    enter(qtbot, opening.heater_at, "130 F")
    assert window.session.study.warmups["W1"].heater_c == pytest.approx(54.444, abs=0.01)
    assert "never reaches 62 °C; it settles at" in opening.verdict.text()
    opening.start_or_end_heater()
    assert window.timers.running == []
    assert "never reaches" in window.notice.text.text()


def test_the_heaters_timer_rings_is_corrected_and_kept(qtbot, window, opening, clock):
    opening.read.setText("60")
    opening.read.entered.emit("60")
    assert "Start the heater first" in window.notice.text.text()
    window.session.select("W2")
    qtbot.keyClick(window, Key.Key_H, Qt.KeyboardModifier.ControlModifier)
    (timer,) = window.timers.running
    assert (timer.warmup, timer.step) == ("W2", "")
    clock[0] += 60
    before = timer.planned_s
    enter(qtbot, opening.read, "44 C")
    (timer,) = window.timers.running
    assert timer.planned_s > before
    assert window.session.study.warmups["W2"].coupling_w_m2k < 100
    clock[0] += timer.planned_s
    window.status.tick()
    assert "the glue is soft" in window.sill.caution
    if timer.limit_s:
        clock[0] += timer.limit_s
        window.status.tick()
        assert "Off the heat now" in window.sill.caution
    qtbot.keyClick(window, Key.Key_H, Qt.KeyboardModifier.ControlModifier)
    wait = list(window.session.study.waits.values())[-1]
    assert (wait.kind, wait.step) == ("warm-up", "")
    assert window.session.study.steps["S25"].wait_s == 60
    window.session.select("W1")
    opening.start_or_end_heater()
    assert window.timers.running[0].step == "S54"


def test_a_wait_runs_for_the_step_shown_and_is_kept_with_it(qtbot, window, clock):
    window.session.select("S25")
    qtbot.keyClick(window, Key.Key_W, Qt.KeyboardModifier.ControlModifier)
    clock[0] += 12
    window.status.tick()
    assert dict(readouts(window))["solvent"] == "48 s left"
    clock[0] += 50
    window.status.tick()
    assert "1 min are over; pry slowly" in window.sill.caution
    qtbot.keyClick(window, Key.Key_W, Qt.KeyboardModifier.ControlModifier)
    wait = list(window.session.study.waits.values())[-1]
    assert (wait.step, wait.planned_s, wait.took_s) == ("S25", 60, 62)
    assert window.timers.running == []


def test_timers_that_run_when_the_window_closes_are_kept(window, clock):
    window.bench.begin_wait("solvent")
    clock[0] += 20
    path = window.session.store.path
    window.close()
    store, study = Store.open(path)
    store.close()
    assert list(study.waits.values())[-1].took_s == 20


# -- cautions and sums ------------------------------------------------------------------------------------


def readouts(window):
    return [(r.caption, r.value) for r in window.sill.readouts]


def test_one_caution_is_on_the_sill_and_all_of_them_in_the_margin(qtbot, window):
    window.session.select("S26")
    window.status.tick()
    assert window.sill.caution.startswith("1/2  Pry the battery slowly")
    qtbot.keyClick(window, Key.Key_F5)
    assert window.sill.caution.startswith("2/2  Never bend")
    said = " ".join(label.text() for label in window.margin.findChildren(type(window.margin.title)))
    assert "rule “prying a cell”: common practice, no source" in said
    assert "licensed practice" in said


def test_what_is_being_said_is_cautioned_before_it_is_done(qtbot, window):
    """A connector named while the power is live: the sill says so while it is typed."""
    for step in [s.id for s in window.session.study.steps.values() if s.isolates_power]:
        window.session.attempt("x", change, step, isolates_power=False)
    line = window.take_apart.say.edit
    qtbot.keyClicks(line, "unplug the fan connector")
    assert "Power is not isolated yet" in window.sill.caution
    line.clear()
    assert "Power is not isolated yet" not in window.sill.caution


def test_a_sum_is_worked_out_as_it_is_typed_and_kept_with_its_part(qtbot, window):
    window.session.attempt("x", change, "P22", kind="battery")
    window.session.select("P22")
    window.margin.sum_asked.emit("cell", "P22")
    drawer = window.calculator
    assert drawer.isVisible()
    assert not window.margin.isVisible()
    qtbot.keyClicks(drawer.fields["charge"], "220 mAh")
    qtbot.keyClicks(drawer.fields["voltage"], "3 V")
    assert drawer.sentence.text() == "0.66 Wh."
    qtbot.keyClicks(drawer.fields["label"], "much")
    assert "is not an energy" in drawer.sentence.text()
    assert not drawer.keeper.isEnabled()
    drawer.fields["label"].clear()
    drawer._work()
    qtbot.keyClick(drawer.fields["charge"], Key.Key_Return)
    assert list(window.session.study.sums.values())[-1].about == "P22"
    qtbot.keyClick(window, Key.Key_F7)
    assert window.margin.isVisible()
    said = " ".join(label.text() for label in window.margin.findChildren(type(window.margin.title)))
    assert "Cell energy: 0.66 Wh." in said


def test_sums_take_what_the_record_holds(window):
    window.show_sum("tape", "J3")
    assert window.calculator.fields["length"].text() == "160 mm"
    assert "4.8 cm²" in window.calculator.sentence.text()


def test_everything_set_up_is_found_again_and_goes_out_as_json(window, tmp_path):
    window.writing.export_to(tmp_path / "a.json")
    data = json.loads((tmp_path / "a.json").read_text())
    wanted = {"edge_plans": 2, "stretches": 8, "keepouts": 8, "warmups": 2, "layers": 7, "checks": 8, "sums": 2}
    assert {name: len(data[name]) for name in wanted} == wanted


def test_a_press_on_bare_paper_picks_nothing(window, opening):
    assert opening.drawing._at(QPointF(2, 2)) == ""
    middle = opening.drawing.place(42, 25)
    assert opening.drawing._at(middle) == "Z4"
