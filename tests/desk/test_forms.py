"""What the margin shows of a thing is what it reads back, whatever the thing."""

import attrs
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import QPoint, Qt

from oddbolt.core.errors import StudyError
from oddbolt.core.reference.quantities import SPELLED, quantity
from oddbolt.core.reference.units import BASE_UNIT
from oddbolt.core.study import change
from oddbolt.core.study.model import KINDS
from oddbolt.demo import tide_logger
from oddbolt.desk.inspector.fields import FORMS, fields_of, has_form
from oddbolt.desk.inspector.marking_box import MarkingBox
from oddbolt.desk.inspector.typed_values import shown, typed
from oddbolt.desk.widgets.inputs import LineField

STUDY = tide_logger.study()
THINGS = [thing for letter in KINDS for thing in STUDY.table(letter).values() if has_form(thing)]


@given(st.sampled_from([STUDY.device, *THINGS]), st.data())
def test_a_form_reads_back_what_it_shows(thing, data):
    field = data.draw(st.sampled_from(fields_of(thing)))
    value = getattr(thing, field.name)
    text = shown(STUDY, field, value)
    if field.kind == "yes" or (field.needed and not text):
        return
    back = typed(STUDY, field, text)
    if field.kind in ("parts", "joints", "part", "joint"):
        names = [STUDY.name(i) for i in (back if isinstance(back, tuple) else (back,)) if i]
        assert names == [STUDY.name(i) for i in (value if isinstance(value, tuple) else (value,)) if i]
    elif isinstance(value, float):
        assert back == pytest.approx(value, rel=1e-5, abs=0.5 if field.kind == "time" else 1e-9)
    else:
        assert back == value


@given(st.sampled_from([thing for thing in THINGS if type(thing) in FORMS]), st.data())
def test_a_figure_in_any_usual_unit_is_the_same_figure(thing, data):
    fields = [f for f in fields_of(thing) if f.kind in BASE_UNIT and f.kind != "number"]
    if not fields:
        return
    field = data.draw(st.sampled_from(fields))
    unit, factor = data.draw(st.sampled_from(sorted(SPELLED[field.kind].items())))
    assert typed(STUDY, field, f"3 {unit}") == pytest.approx(3 * factor)
    assert typed(STUDY, field, f"3,0 {unit}") == pytest.approx(3 * factor)


@pytest.mark.parametrize(
    ("id", "name"), [("Z1", "x_mm"), ("E1", "depth_mm"), ("W1", "target_c"), ("L1", "thickness_mm")]
)
def test_what_is_needed_cannot_be_emptied_and_other_figures_can(id, name):
    field = next(f for f in fields_of(STUDY.find(id)) if f.name == name)
    with pytest.raises(StudyError, match="cannot be left empty"):
        typed(STUDY, field, "  ")
    width = next(f for f in fields_of(STUDY.stretches["E1"]) if f.name == "width_mm")
    assert typed(STUDY, width, "") is None


def test_only_the_figures_of_the_heater_are_asked_for():
    names = {
        h: {f.name for f in fields_of(attrs.evolve(STUDY.warmups["W1"], heater=h))} for h in ("plate", "air", "pad")
    }
    assert "flux_w_m2" in names["pad"] - names["plate"]
    assert "heater_c" in names["air"] - names["pad"]


@given(st.sampled_from(sorted(BASE_UNIT)), st.text(max_size=12))
def test_any_text_is_a_figure_or_one_sentence(dimension, text):
    try:
        said = str(quantity(text, dimension))
    except ValueError as error:
        said = str(error)
    assert said


def test_an_outline_is_checked_where_it_is_typed():
    field = next(f for f in fields_of(STUDY.device) if f.kind == "outline")
    assert typed(STUDY, field, " 80 x 40 ") == "80 x 40"
    for text, words in (("wide", "is not an outline"), ("polygon 0,0 9,9 9,0 0,9", "crosses itself")):
        with pytest.raises(StudyError, match=words):
            typed(STUDY, field, text)
    assert change(STUDY, "O1", outline="").edge_plans["O1"].outline == ""


@pytest.mark.parametrize("by_key", [False, True])
def test_a_box_is_ticked_by_mouse_and_by_key(qtbot, window, by_key):
    window.show_stage(window.take_apart)
    window.session.select("P17")
    box = window.margin.fields["priority"][1]
    for expected in (True, False):
        if by_key:
            qtbot.keyClick(box, Qt.Key.Key_Space)
        else:
            qtbot.mouseClick(box, Qt.MouseButton.LeftButton, pos=QPoint(6, box.height() // 2))
        assert window.session.study.parts["P17"].priority is expected


def test_filtering_away_the_chosen_row_picks_no_other(qtbot, window):
    """The rows must not change while they are being sorted out."""
    window.show_stage(window.pages[4])
    parts = window.pages[4]
    for words in ("seal", "board", "zzz", "sensor", ""):
        for row in range(0, parts.table.model().rowCount(), 5):
            parts.table.setCurrentIndex(parts.table.model().index(row, 0))
            chosen = window.session.selection
            parts.finder.setText(words)
            assert window.session.selection == chosen
            parts.finder.setText("")


def test_what_is_still_being_typed_goes_to_the_thing_it_was_typed_for(qtbot, window):
    window.show_stage(window.take_apart)
    window.session.select("S3")
    note = window.margin.fields["note"][1]
    note.setFocus()
    qtbot.keyClicks(note, "stiff")
    window.session.select("S5")
    assert (window.session.study.steps["S3"].note, window.session.study.steps["S5"].note) == ("stiff", "")
    assert window.margin.fields["note"][1].text() == ""
    window.session.select("P29")
    over = next(f for f in window.margin.findChildren(LineField) if f.accessibleName() == "covered by")
    over.setFocus()
    qtbot.keyClicks(over, "lid")
    window.session.select("P42")
    facts = {(f.over, f.under) for f in window.session.study.facts.values()}
    assert ("P4", "P29") in facts
    assert ("P4", "P42") not in facts
    wrong = window.margin.fields["mass_g"][1]
    wrong.setFocus()
    qtbot.keyClicks(wrong, "heavy")
    window.session.select("P29")
    assert "heavy" in window.notice.text.text()
    assert window.session.study.parts["P29"].mass_g == 74


def test_a_marking_is_read_as_it_is_typed_and_kept_with_its_part(qtbot, window):
    window.session.select("P29")
    box = window.margin.findChild(MarkingBox)
    qtbot.keyClicks(box.edit, "ICR18650")
    assert "cell: lithium-ion, cobalt" in box.told.text()
    qtbot.keyClick(box.edit, Qt.Key.Key_Return)
    assert window.session.study.parts["P29"].markings[-1] == "ICR18650"
    box = window.margin.findChild(MarkingBox)
    qtbot.keyClicks(box.edit, "qwerty!")
    assert "Enter keeps it as it is" in box.told.text()
    qtbot.keyClick(box.edit, Qt.Key.Key_Return)
    assert window.session.study.parts["P29"].markings[-2:] == ("ICR18650", "qwerty!")
