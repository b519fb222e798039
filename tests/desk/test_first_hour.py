"""What a new user met in the first hour, each mended: clocks, counts, search, lists, removing, correcting, asking."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPlainTextEdit, QPushButton

from oddbolt.core.errors import StudyError
from oddbolt.core.fasteners.look_alikes import look_alikes
from oddbolt.core.study.gaps import gaps
from oddbolt.core.study.screw_lengths import lengths_of, read_lengths, shown_lengths
from oddbolt.core.study.steps import corrected
from oddbolt.core.study.tally import loose, tally
from oddbolt.desk.shell.dialogs import ended

KEY = Qt.Key


def answers(window):
    return {b.text(): b for b in window.notice.findChildren(QPushButton) if not b.isHidden()}


@pytest.fixture
def empty(window, tmp_path):
    window.filing.new_at(tmp_path / "pump gauge")
    return window


def test_setting_up_belongs_to_no_step_and_a_restart_goes_on_with_the_run(qtbot, empty, say, tmp_path):
    session = empty.session
    qtbot.wait(700)  # the sheet is filled in
    assert session.clock.run_s == 0
    assert session.preparation_s >= 0.7
    say("undo four PH0 screws on the back")
    assert not session.study.runs  # how long the first step took nobody saw
    qtbot.wait(600)
    say("lift the back off")
    (run,) = session.study.runs.values()
    assert len(run.laps) == 1
    empty.filing.open_path(tmp_path / "pump gauge.oddbolt")
    session.close()
    empty.filing.open_path(tmp_path / "pump gauge.oddbolt")
    assert session.run_id == run.id
    assert session.clock.run_s == pytest.approx(run.laps[0].seconds)
    session.pause()
    qtbot.wait(600)
    say("unplug the battery")
    assert [len(r.laps) for r in session.study.runs.values()] == [2]


def test_what_went_back_is_no_longer_loose_and_list_and_header_speak_of_one_moment(empty, say):
    say("undo four PH0 screws on the lid")
    say("lift the lid off")
    study = empty.session.study
    assert (tally(study).screws_out, tally(study).parts_out) == (4, 1)
    say("refit the lid")
    say("fasten the four PH0 screws")
    study = empty.session.study
    assert (tally(study).screws_out, tally(study).screws_back, tally(study).parts_out) == (0, 4, 0)
    assert loose(study, len(study.steps)) == ()
    assert "4 of 4 back" in [r.value for r in empty.sill.readouts]
    empty.session.select("S1")
    assert empty.take_apart.counted.text() == "4 screws · 0 parts"
    assert [row.number for row in empty.take_apart.mat.rows()] == [1]


def test_typing_in_the_strip_shows_the_first_match_and_return_stays_on_it(qtbot, window):
    page = window.take_apart
    window.session.select("S40")
    window.actions_.run("find step")
    qtbot.keyClicks(page.finder, "PH00")
    first, second = page.strip.ids[:2]
    assert window.session.selection == first
    qtbot.keyClick(page.finder, KEY.Key_Return)
    assert window.session.selection == first
    qtbot.keyClick(page.finder, KEY.Key_Return)
    assert window.session.selection == second
    qtbot.keyClick(page.strip, KEY.Key_Delete)
    assert second not in window.session.study.steps
    assert first in window.session.study.steps


def test_the_kit_table_toggles_by_click_and_space_and_tab_leaves_every_field(qtbot, window):
    page = window.prepare
    window.show_stage(page)
    what = page.rows.ids[0]
    there = next(n for n in page.needs() if n.what == what).there
    for toggle in ("click", "space"):
        if toggle == "click":
            place = page.table.visualRect(page.table.model().index(0, 0)).center()
            qtbot.mouseClick(page.table.viewport(), Qt.MouseButton.LeftButton, pos=place)
        else:
            page.table.setCurrentIndex(page.table.model().index(page.rows.ids.index(what), 0))
            qtbot.keyClick(page.table, KEY.Key_Space)
        there = not there
        assert next(n for n in page.needs() if n.what == what).there is there
    assert all(edit.tabChangesFocus() for edit in window.findChildren(QPlainTextEdit))


def test_ticking_a_check_moves_nothing_under_the_pointer(qtbot, window):
    page = window.prepare
    window.show_stage(page)
    qtbot.wait(50)
    places = {rule: row.geometry() for rule, row in page.lines.items()}
    row = next(r for r in page.lines.values() if not r.line.unit and r.line.check is None)
    row.mark.click()
    QTest.qWait(20)
    assert row.line.check is not None
    assert {rule: row.geometry() for rule, row in page.lines.items()} == places


def test_a_written_file_keeps_a_typed_ending_and_an_unknown_one_is_refused(window, tmp_path):
    window.writing.write("kit list", tmp_path / "v1.2", "PDF (*.pdf)")
    assert (tmp_path / "v1.2.pdf").exists()
    window.writing.write("report", tmp_path / "r.docx")
    assert "use .html or .pdf" in window.notice.text.text()
    window.writing.export_to(tmp_path / "a.csv", "Whole study, JSON (*.json)")
    assert (tmp_path / "a.csv").read_text().startswith("number,id,verb")
    assert ended(tmp_path / "A.HTML", (".html",)).name == "A.HTML"
    assert window.filing.folder() == window.session.store.path.parent


def test_removing_a_step_asks_about_the_joint_it_alone_released(window, say):
    say("undo three T6 screws on the bracket")
    step, joint = next(reversed(window.session.study.steps)), next(reversed(window.session.study.joints))
    window.session.remove(step)
    assert joint in window.session.study.joints
    assert "No step undoes 3 T6 screws, Bracket any more" in window.notice.text.text()
    answers(window)["Remove 1 joint"].click()
    assert joint not in window.session.study.joints
    window.undoing.undo()
    assert joint in window.session.study.joints
    window.session.remove("S17")  # another step undoes its joint too: nothing is asked
    assert "Keep" not in answers(window)


def test_a_size_put_right_puts_the_driver_right(qtbot, window, say):
    say("undo three T6 screws on the bracket")
    study = window.session.study
    step, joint = next(reversed(study.steps)), next(reversed(study.joints))
    assert study.steps[step].tool == "T6"
    window.session.select(joint)
    field = window.margin.fields["size"][1]
    field.setText("T5")
    qtbot.keyClick(field, KEY.Key_Return)
    assert window.session.study.steps[step].tool == "T5"
    after = corrected(window.session.study, joint, size="IP5")
    assert (after.joints[joint].drive, after.steps[step].tool) == ("hexalobular-plus", "IP5")


def test_mixed_lengths_are_data_drawn_told_apart_and_refused_where_they_do_not_add_up(qtbot, window, say):
    say("undo four T6 screws on the bracket")
    joint = next(reversed(window.session.study.joints))
    window.session.select(joint)
    field = window.margin.fields["lengths"][1]
    field.setText("2x12, 3x10")
    qtbot.keyClick(field, KEY.Key_Return)
    assert "are 5 screws; the group has 4" in window.notice.text.text()
    field.setText("2x12, 2 x 10,5 mm")
    qtbot.keyClick(field, KEY.Key_Return)
    group = window.session.study.joints[joint]
    assert lengths_of(group) == ((2, 12.0), (2, 10.5))
    assert any(a.id == b.id == joint for a, b in look_alikes(window.session.study))
    window.show_stage(window.fasteners)
    assert [j.length_mm for j in window.fasteners.board.groups if j.id == joint] == [10.5, 12.0]
    assert not [g for g in gaps(window.session.study) if "differ in length" in g]


@pytest.mark.parametrize(
    "text", ["2x12, 2x10", "12, 10", "2 × 12; 2 × 10.5", "3 of 4 mm and 1 of 5 mm", "1x6, 1x6.5, 1x7"]
)
def test_lengths_shown_are_read_again(text):
    assert read_lengths(shown_lengths(read_lengths(text))) == read_lengths(text)


@pytest.mark.parametrize("text", ["long ones", "2x", "2x0.1", "0x5", "2x12 2x10", "9999x5"])
def test_what_is_no_length_is_refused(text):
    with pytest.raises(StudyError):
        read_lengths(text)


def test_a_part_that_nothing_holds_any_more_is_offered_once(window, say):
    session = window.session
    say("undo two PH0 screws on the spinner")
    assert "Nothing holds the spinner any more. Is it off?" in window.notice.text.text()
    answers(window)["Yes, off now"].click()
    step = next(reversed(session.study.steps.values()))
    assert [session.study.name(p) for p in step.takes_out] == ["Spinner"]
    window.undoing.undo()
    session.offer_off((step.id,))
    assert not window.notice.isVisible()  # asked once


def test_one_sentence_makes_one_finding(window, say):
    before = len(window.session.study.findings)
    say("the frame is cracked, the frame is cracked")
    assert len(window.session.study.findings) - before <= 1
