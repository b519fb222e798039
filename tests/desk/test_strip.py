"""The strip at the desk: steps carried, chosen together, edited together, split, joined and found."""

import pytest
from PySide6.QtCore import QPoint, Qt

from oddbolt.desk.pages.parts import TABLE

KEY, MOD = Qt.Key, Qt.KeyboardModifier


@pytest.fixture
def strip(window):
    window.session.select("S20")
    window.take_apart.strip.setFocus()
    return window.take_apart.strip


def order(window):
    return list(window.session.study.steps)


def enter(form, name, value):
    form.fields[name][1].entered.emit(value)


def test_a_step_is_carried_by_keys_and_an_impossible_order_shown(qtbot, window, strip):
    assert window.take_apart.trouble.text() == ""
    for _ in range(6):
        qtbot.keyClick(strip, KEY.Key_Left, MOD.AltModifier)
    assert order(window).index("S20") == 13
    assert window.session.selection == "S20"
    assert "that is done in step" in window.take_apart.trouble.text()
    assert strip.card_of("S20").trouble
    window.session.select("S40")
    assert "too early" in window.take_apart.trouble.text()
    for _ in range(6):
        window.session.stack.undo()
    assert window.take_apart.trouble.text() == ""


def test_a_step_is_carried_by_the_mouse(qtbot, window, strip):
    strip.resize(840, 86)
    first = strip._first()
    before = order(window)

    def middle(n):
        return QPoint(round((n - first) * 158 + 70), 40)

    at = before.index("S20")
    qtbot.mousePress(strip, Qt.MouseButton.LeftButton, pos=middle(at))
    qtbot.mouseMove(strip, middle(at - 1))
    qtbot.mouseMove(strip, middle(at - 2))
    qtbot.mouseRelease(strip, Qt.MouseButton.LeftButton, pos=middle(at - 2))
    assert order(window).index("S20") == at - 2
    qtbot.mouseClick(strip, Qt.MouseButton.LeftButton, pos=middle(at))
    assert order(window).index("S20") == at - 2


def test_several_steps_are_chosen_edited_carried_and_removed_together(qtbot, window, strip):
    for _ in range(2):
        qtbot.keyClick(strip, KEY.Key_Right, MOD.ShiftModifier)
    assert window.session.chosen == ("S20", "S21", "S22")
    margin = window.margin
    assert margin.several is not None
    assert margin.fields["tool"][1].placeholderText() == "mixed"
    enter(margin, "tool", "tweezers")
    enter(margin, "isolates_power", True)
    study = window.session.study
    assert {study.steps[s].tool for s in window.session.chosen} == {"tweezers"}
    assert all(study.steps[s].isolates_power for s in window.session.chosen)
    assert margin.fields["tool"][1].text() == "tweezers"
    enter(margin, "wait_s", "soon")
    assert "soon" in window.notice.text.text()
    qtbot.keyClick(strip, KEY.Key_Right, MOD.AltModifier)
    assert order(window)[19:23] == ["S23", "S20", "S21", "S22"]
    window.margin.remove()
    assert not {"S20", "S21", "S22"} & set(order(window))
    window.session.stack.undo()
    assert len(order(window)) == 62


def test_parts_and_joints_are_changed_together_from_their_tables(window):
    window.show_stage(window.pages[4])
    window.pages[4].show_view(TABLE)
    table = window.pages[4].table
    window.session.choose(("P29", "P19"))
    window.margin.refresh()
    enter(window.margin, "reuse", "inspect")
    assert {window.session.study.parts[p].reuse for p in ("P29", "P19")} == {"inspect"}
    assert len(table.selectionModel().selectedRows()) == 2
    table.selectAll()
    assert len(window.session.chosen) == len(window.session.study.parts)
    window.session.choose(("J4", "J16"))
    enter(window.margin, "finish", "black")
    assert "latch" not in window.margin.fields
    assert {window.session.study.joints[j].finish for j in ("J4", "J16")} == {"black"}


def test_steps_are_split_joined_and_said_again(window, strip):
    work, session = window.take_apart.step_actions, window.session
    wide = next(s.id for s in session.study.steps.values() if len(s.releases) > 1)
    session.select(wide)
    count = len(order(window))
    work.split()
    assert len(order(window)) == count + 1
    assert session.selection == order(window)[order(window).index(wide) + 1]
    session.select(wide)
    work.join()
    assert len(order(window)) == count
    work.another_way()
    assert strip.card_of(wide).beside == f"or {order(window).index(wide) + 2}"
    session.select("S57")
    parts = len(session.study.parts)
    work.same_again()
    assert len(session.study.parts) > parts or len(session.study.steps) == count + 2
    session.select(order(window)[-1])
    work.join()
    assert "no next step" in window.notice.text.text()
    session.select("S2")
    work.split()
    assert "nothing to split" in window.notice.text.text() or len(order(window)) > count + 2


def test_a_step_is_found_by_words_and_walked_from_find_to_find(qtbot, window, strip):
    window.actions_.run("find step")
    finder = window.take_apart.finder
    qtbot.keyClicks(finder, "T5")
    found = list(strip.ids)
    assert 1 < len(found) < 20
    assert window.session.selection in found
    qtbot.keyClick(finder, KEY.Key_Return)
    qtbot.keyClick(finder, KEY.Key_Return)
    assert window.session.selection in found
    assert window.take_apart.strip_count.text() == f"{len(found)} of 62 steps"
    qtbot.keyClicks(finder, " nonsense")
    assert list(strip.ids) == []
    qtbot.keyClick(finder, KEY.Key_Escape)
    assert strip.count == 62


def test_the_step_that_freed_a_thing_is_one_key_away(window):
    window.show_stage(window.pages[4])
    window.session.select("P19")
    window.actions_.run("go to step")
    assert window.session.selection == "S20"
    assert window.stack.currentWidget() is window.take_apart
    window.session.select("")
    window.actions_.run("go to step")
    assert "Select a part" in window.notice.text.text()
