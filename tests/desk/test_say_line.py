"""The say line: what is understood while it is typed, corrected by one key, logged by Enter."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QPushButton

from oddbolt.core.narration.doubts import unsure_steps
from oddbolt.core.study.tally import tally
from oddbolt.desk.pages.bench_panels.say_line import PieceField
from oddbolt.listening import shipped_tagger


def pieces(window):
    line = window.take_apart.say
    rows = [line.acts.itemAt(k).widget().layout() for k in range(line.acts.count())]
    shown = [row.itemAt(n).widget() for row in rows for n in range(row.count())]
    return [w for w in shown if isinstance(w, PieceField)]


def values(window):
    return {p.edit.accessibleName(): p.edit.text() for p in pieces(window)}


def words(window):
    line = window.take_apart.say
    rows = [line.acts.itemAt(k).widget().layout() for k in range(line.acts.count())]
    shown = [row.itemAt(n).widget() for row in rows for n in range(row.count())]
    return " ".join(w.text() for w in shown if isinstance(w, QLabel | QPushButton))


def test_it_shows_what_it_understood_while_one_types(qtbot, window):
    line = window.take_apart.say
    qtbot.keyClicks(line.edit, "backed out four IP5 under the feet")
    assert values(window) == {
        "do": "unscrew", "count": "4", "drive": "hexalobular-plus IP5", "part": "", "under": "feet",
    }  # fmt: skip
    marks = [(s.cursor.selectionStart(), s.cursor.selectionEnd()) for s in line.edit.extraSelections()]
    underlined = {line.edit.toPlainText()[start:end] for start, end in marks}
    assert {"four", "IP5", "the feet"} <= underlined
    qtbot.keyClicks(line.edit, ", two are longer")
    assert "which how long?" in words(window)


def test_enter_logs_counts_and_is_ready_for_more(window, say):
    before = tally(window.session.study).screws_out
    say("backed out four IP5 under the feet")
    assert tally(window.session.study).screws_out == before + 4
    assert window.take_apart.say.edit.toPlainText() == ""
    assert any(r.value.startswith(f"{before + 4} out") for r in window.sill.readouts)
    say("and two more of those")
    assert tally(window.session.study).screws_out == before + 6


def test_tab_walks_to_a_piece_and_a_correction_costs_a_key(qtbot, window):
    line = window.take_apart.say
    qtbot.keyClicks(line.edit, "undo tree PH00 screws on the fan")
    qtbot.keyClick(line.edit, Qt.Key.Key_Tab)
    assert window.focusWidget().accessibleName() == "do"
    qtbot.keyClick(window.focusWidget(), Qt.Key.Key_Tab)
    count = window.focusWidget()
    assert (count.accessibleName(), count.selectedText()) == ("count", "3")
    qtbot.keyClicks(count, "5")
    qtbot.keyClick(count, Qt.Key.Key_Return)
    assert window.focusWidget() is line.edit
    qtbot.keyClick(line.edit, Qt.Key.Key_Return)
    joint = list(window.session.study.joints.values())[-1]
    assert (joint.count, joint.size) == (5, "PH00")


def test_a_correction_that_is_none_is_answered_and_changes_nothing(qtbot, window):
    line = window.take_apart.say
    qtbot.keyClicks(line.edit, "undo four PH00 screws on the fan")
    count = next(p for p in pieces(window) if p.edit.accessibleName() == "count").edit
    count.setFocus()
    qtbot.keyClicks(count, "many")
    qtbot.keyClick(count, Qt.Key.Key_Return)
    assert "type it like 4" in line.hints.text()
    assert line.reading.steps[0].count == 4


def test_an_unknown_drive_word_is_asked_about_once_and_remembered(qtbot, window, settings):
    line = window.take_apart.say
    qtbot.keyClicks(line.edit, "undo six trigon screws on the fan")
    assert "What is “trigon”?" in words(window)
    line.taught.emit("trigon", "three-wing")
    assert values(window)["drive"] == "three-wing"
    assert "trigon" not in words(window)
    assert type(settings)(settings.folder).words == {"drives": {"trigon": "three-wing"}}
    line.edit.clear()
    qtbot.keyClicks(line.edit, "undo six blargh screws on the fan")
    line.taught.emit("blargh", "")
    assert "What is" not in words(window)
    line.edit.clear()
    qtbot.keyClicks(line.edit, "undo two blargh screws on the lid")
    assert "What is" not in words(window)


def test_what_is_no_step_is_said_and_not_logged(qtbot, window, say):
    steps = len(window.session.study.steps)
    qtbot.keyClicks(window.take_apart.say.edit, "hello there")
    assert "no step understood" in words(window)
    qtbot.keyClick(window.take_apart.say.edit, Qt.Key.Key_Return)
    assert "Nothing to log" in window.take_apart.say.hints.text()
    qtbot.keyClick(window.take_apart.say.edit, Qt.Key.Key_Escape)
    assert window.take_apart.say.edit.toPlainText() == ""
    say("Do not pull the key flex.")
    assert len(window.session.study.steps) == steps
    assert "Do not pull the key flex." in list(window.session.study.steps.values())[-1].cautions
    assert window.sill.caution == "Do not pull the key flex."


def test_some_of_the_screws_are_told_apart_and_taken_back_as_one(window, say):
    line = window.take_apart.say
    say("Undo six T8 screws from the base.")
    line.edit.setPlainText("One of them is a T10.")
    assert "and corrects the previous step: count 5" in words(window)
    line.log()
    groups = [window.session.study.joints[s.releases[0]] for s in list(window.session.study.steps.values())[-2:]]
    assert [(j.count, j.size) for j in groups] == [(5, "T8"), (1, "T10")]
    line.edit.setPlainText("They're all out.")
    assert "already recorded" in words(window)
    line.log()
    assert not line.edit.toPlainText()
    say("One of them won't come out.")
    assert len(unsure_steps(window.session.study)) == 1
    window.undoing.undo()
    window.undoing.undo()
    assert list(window.session.study.joints.values())[-1].count == 6


def test_a_value_just_recorded_is_put_right_and_taken_back_as_one(window, settings, say):
    settings.values["listen"] = True
    shipped_tagger()
    window._listens()
    say("The motor weighs 120 grams.")
    screws = {id: (j.count, j.size) for id, j in window.session.study.joints.items()}
    window.take_apart.say.edit.setPlainText("Sorry, 125 grams.")
    assert "puts right what was recorded before" in words(window)
    say("Sorry, 125 grams.")

    def masses():
        return [f.value for f in window.session.study.findings.values() if "motor weighs" in f.text]

    assert masses() == [125.0]
    assert {id: (j.count, j.size) for id, j in window.session.study.joints.items()} == screws
    window.undoing.undo()
    assert masses() == [120.0]


def test_a_pasted_page_becomes_one_line(window):
    from PySide6.QtCore import QMimeData

    data = QMimeData()
    data.setText("undo four\nPH00 screws\n\non the fan " + "x" * 5000)
    window.take_apart.say.edit.insertFromMimeData(data)
    text = window.take_apart.say.edit.toPlainText()
    assert text.startswith("undo four PH00 screws on the fan")
    assert len(text) <= 2000


# -- a narration gone through -----------------------------------------------------------------------------


def test_a_narration_becomes_a_finished_log_by_keys_alone(qtbot, window, tmp_path):
    """Lines kept, dropped, corrected, joined, parted, and entered: nothing but keys."""
    from oddbolt.core.study import Study

    window.session.create(tmp_path / "new.oddbolt", Study())
    talk = tmp_path / "talk.txt"
    talk.write_text(
        "[0:02] Hello and welcome.\n[0:05] Undo the four PH00 screws on the lid.\n[0:12] Lift the\n[0:14] lid off.\n"
        "[0:20] Undo tree T6 screws on the fan and lift the fan out.\n[0:31] Take the moon off.\n"
    )
    window.filing.review_captions(talk)
    review, key = window.review, Qt.Key
    table, line = review.table, review.say.edit
    assert window.stack.currentWidget() is review
    assert table.hasFocus()
    start = len(review.lines)
    qtbot.keyClick(table, key.Key_Return)
    assert review.lines[0].state == "kept"
    while review.at < start - 1:
        qtbot.keyClick(table, key.Key_Down)
    qtbot.keyClick(table, key.Key_Delete)
    assert review.lines[-1].state == "dropped"
    fan = next(n for n, one in enumerate(review.lines) if "fan" in one.text)
    review._show(fan)
    qtbot.keyClick(table, key.Key_E)
    assert line.hasFocus()
    qtbot.keyClick(line, key.Key_Tab)
    qtbot.keyClick(window.focusWidget(), key.Key_Tab)
    assert window.focusWidget().accessibleName() == "count"
    window.focusWidget().selectAll()
    qtbot.keyClicks(window.focusWidget(), "6")
    qtbot.keyClick(window.focusWidget(), key.Key_Return)
    qtbot.keyClick(line, key.Key_Return)
    assert review.lines[fan].fixed
    assert review.lines[fan].reading.steps[0].count == 6
    assert table.hasFocus()
    review._show(fan)
    assert review.say.reading.steps[0].count == 6
    count, study = len(review.lines), window.session.study
    qtbot.keyClick(table, key.Key_J)
    assert len(review.lines) == count - 1
    assert window.undoing.undoText() == "merge lines"
    window.undoing.undo()
    assert len(review.lines) == count
    assert review.lines[fan].fixed
    window.undoing.redo()
    assert window.session.study is study
    qtbot.keyClick(table, key.Key_S)
    assert "both halves need words" in window.notice.text.text()
    window.session.stack.clear()
    qtbot.keyClick(table, key.Key_Return, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    study = window.session.study
    assert window.stack.currentWidget() is window.take_apart
    assert [s.verb for s in study.steps.values()][:2] == ["unscrew", "take out"]
    assert next(iter(study.runs.values())).started == "from captions"
    window.session.stack.undo()
    assert not window.session.study.steps


def test_an_hour_of_narration_is_changed_without_a_wait(qtbot, window, tmp_path):
    talk = tmp_path / "hour.txt"
    one = "[{m}:{s:02d}] Undo the {n} PH00 screws on plate {k}. Lift plate {k} off.\n"
    talk.write_text("".join(one.format(m=k // 6, s=k % 6 * 10, n=k % 5 + 2, k=k) for k in range(360)))
    window.filing.review_captions(talk)
    review = window.review
    before = review.beside.text()
    qtbot.keyClick(review.table, Qt.Key.Key_Delete)
    assert review.lines[0].state == "dropped"
    assert review.lines[-1].stale  # not yet: the rest is read beside the work
    qtbot.waitUntil(lambda: not any(line.stale for line in review.lines), timeout=20000)
    steps, fewer = (int(text.split()[-2]) for text in (before, review.beside.text()))
    assert fewer == steps - 1


def test_a_word_is_taught_in_a_review_and_left_without_a_trace(qtbot, window, tmp_path):
    before = window.session.study
    talk = tmp_path / "talk.txt"
    talk.write_text("[0:02] Undo the two trigon screws on the lid.\n[0:09] Three trigon screws on the fan.\n")
    window.filing.review_captions(talk)
    qtbot.keyClick(window.review.table, Qt.Key.Key_N)
    window.review.say.taught.emit("trigon", "three-wing")
    assert "2 lines reread" in window.notice.text.text()
    assert all(line.reading.steps[0].drive == "three-wing" for line in window.review.lines)
    qtbot.keyClick(window.review.table, Qt.Key.Key_Escape)
    assert window.stack.currentWidget() is window.take_apart
    assert window.session.study is before
    talk.write_text("[0:02] Hello there.\n")
    assert not window.filing.attempt(lambda: window.filing.review_captions(talk))
    assert "nothing to review" in window.notice.text.text()


def test_what_was_measured_is_entered_into_the_group_spoken_of(qtbot, window):
    """The driver that turned the group counts with what was measured; Ctrl+Z takes it back."""
    say = window.take_apart.say
    say.edit.setPlainText("undo four PH00 screws on the fan")
    qtbot.keyClick(say.edit, Qt.Key.Key_Return)
    group = list(window.session.study.joints)[-1]
    say.edit.setPlainText("od 1.58, pitch .35, length 4.1")
    assert "M1.6" in say.otherwise()
    assert "driver" not in say.otherwise()
    qtbot.keyClick(say.edit, Qt.Key.Key_Return)
    joint = window.session.study.joints[group]
    assert (joint.thread, joint.length_mm, joint.size) == ("M1.6", 4, "PH00")
    assert say.edit.toPlainText() == ""
    window.session.stack.undo()
    assert window.session.study.joints[group].thread == ""


def test_measurements_that_leave_it_open_are_not_entered(qtbot, window):
    say = window.take_apart.say
    say.edit.setPlainText("undo four screws on the fan")
    qtbot.keyClick(say.edit, Qt.Key.Key_Return)
    say.edit.setPlainText("od 3, pitch .2")
    qtbot.keyClick(say.edit, Qt.Key.Key_Return)
    assert "fit no screw in the tables together" in "".join(
        label.text() for label in window.notice.findChildren(QLabel)
    )
    assert say.edit.toPlainText() == "od 3, pitch .2"


def test_the_part_that_screws_hold_is_chosen_by_a_digit(qtbot, window):
    window.show_stage(window.take_apart)
    line = window.take_apart.say
    line.memory.parts += ["Cowl", "Baffle"]
    qtbot.keyClicks(line.edit, "backed out three T8 screws")
    assert line.reading.steps[0].parts == ()
    qtbot.keyClick(line.edit, "2", Qt.KeyboardModifier.AltModifier)
    assert line.reading.steps[0].parts == ("Cowl",)
    qtbot.keyClick(line.edit, "1", Qt.KeyboardModifier.AltModifier)
    assert line.reading.steps[0].parts == ("Cowl",), "it is chosen; nothing is offered any more"
    qtbot.keyClick(line.edit, Qt.Key.Key_Return)
    joint = list(window.session.study.joints.values())[-1]
    assert [window.session.study.name(p) for p in joint.holds] == ["Cowl"]


def test_unsure_readings_are_counted_gone_through_and_settled(qtbot, window, say):
    say("unscrew four screws from the lid")
    say("lift the lid out")
    study = window.session.study
    unsure = unsure_steps(study)
    assert len(unsure) == 1
    assert window.take_apart.unsure.text() == "1 reading to check"
    window.session.select("")
    qtbot.keyClick(window, Qt.Key.Key_U, Qt.KeyboardModifier.ControlModifier)
    assert window.session.selection == unsure[0]
    qtbot.keyClick(window, Qt.Key.Key_I, Qt.KeyboardModifier.ControlModifier)
    assert not unsure_steps(window.session.study)
    assert window.take_apart.unsure.isHidden()
    qtbot.keyClick(window, Qt.Key.Key_U, Qt.KeyboardModifier.ControlModifier)
    assert "Every reading is settled." in window.notice.text.text()
