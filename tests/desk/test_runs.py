"""Runs at the desk: laid one under another, walked by keys, laps put right, breaks said."""

from PySide6.QtCore import QPoint, Qt

KEY = Qt.Key


def test_runs_are_laid_under_each_other_and_walked_by_keys(qtbot, window):
    window.session.select("S23")
    window.show_aside(window.runs)
    tapes = window.runs.tapes
    tapes.grab()
    first, second = tapes._boxes["R1", "S23"], tapes._boxes["R2", "S23"]
    assert first.bottom() < second.top()
    scale = first.width() / 66
    assert second.width() == scale * 41
    qtbot.keyClick(tapes, KEY.Key_Right)
    assert (window.session.selection, tapes.run) == ("S24", "R1")
    qtbot.keyClick(tapes, KEY.Key_Down)
    assert tapes.run == "R2"
    qtbot.mouseClick(tapes, Qt.MouseButton.LeftButton, pos=first.center().toPoint())
    assert (window.session.selection, tapes.run) == ("S23", "R1")
    window.runs.shares.setChecked(True)
    tapes.grab()
    ends = [max(b.right() for (r, _), b in tapes._boxes.items() if r == run) for run in ("R1", "R2")]
    assert abs(ends[0] - ends[1]) < 0.01
    qtbot.keyClick(tapes, KEY.Key_Return)
    assert window.margin.title.text() == "Discovery run R1"
    window.margin.fields["kind"][1].entered.emit("timed")
    assert window.session.study.runs["R1"].kind == "timed"
    qtbot.mouseClick(tapes, Qt.MouseButton.LeftButton, pos=QPoint(40, int(second.top()) - 10))
    assert window.session.selection == "R2"
    window.margin.remove()
    assert list(window.session.study.runs) == ["R1"]
    assert "second run" in window.runs.learning.text()
    qtbot.keyClick(window.runs, KEY.Key_Escape)
    assert window.stack.currentWidget() is window.take_apart


def test_a_lap_is_put_right_in_each_run_and_taken_out(window):
    window.session.select("S34")
    window.show_aside(window.runs)
    rows = window.runs.laps.rows
    row = rows.cells[rows.ids.index("S34")]
    assert row[3][0].endswith("!")  # somebody was called away in the discovery run
    window.margin.laps["R1"].entered.emit("25 s")
    assert next(lap.seconds for lap in window.session.study.runs["R1"].laps if lap.step == "S34") == 25
    assert not rows.cells[rows.ids.index("S34")][3][0].endswith("!")
    window.margin.laps["R1"].entered.emit("")
    assert "S34" not in {lap.step for lap in window.session.study.runs["R1"].laps}
    assert len(window.session.study.runs["R1"].laps) == 61


def test_a_study_without_runs_says_how_to_begin(window, qtbot, say):
    for run in list(window.session.study.runs):
        window.session.remove(run)
    window.show_aside(window.runs)
    assert "first logged step starts a discovery run" in window.runs.beside.text()
    assert "needs 4 timed steps" in window.runs.fit_words.text()
    qtbot.keyClick(window.runs.tapes, KEY.Key_Right)


def test_what_is_said_to_the_bench_is_done(qtbot, window, say):
    clock = window.session.clock
    say("hold on")
    assert not clock.running
    say("right, let's begin")
    assert clock.running
    say("hold on")
    assert clock.paused
    say("back to work")
    assert not clock.paused
    clock._held = clock._step_at + 700.0
    say("that was a break of 5 minutes")
    assert 390 < clock.step_s < 410
    assert "5 min" in window.notice.text.text()
    say("that was a break of 50 minutes")
    assert clock.step_s > 390
    assert "is not in it" in window.notice.text.text()
    steps = len(window.session.study.steps)
    say("undo two PH00 screws on the fan")
    say("the same again")
    assert len(window.session.study.steps) == steps + 2
    say("take that back")
    assert len(window.session.study.steps) == steps + 1
    assert window.take_apart.say.edit.toPlainText() == ""
