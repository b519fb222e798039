"""The record keeps together, whatever is changed."""

import attrs
import pytest
from builders import random_study, study_of
from hypothesis import given
from hypothesis import strategies as st

from oddbolt.core.errors import StudyError
from oddbolt.core.reference.quantities import quantity
from oddbolt.core.reference.units import INCH_MM, LBF_N
from oddbolt.core.study import (
    FIGURES,
    Fact,
    Finding,
    Joint,
    Part,
    Run,
    Step,
    Study,
    change,
    consequences,
    new_id,
    put,
    remove,
    renumber,
)
from oddbolt.core.study.edits import MENTIONS, lap
from oddbolt.core.study.model import KINDS
from oddbolt.core.study.naming import resolve, resolve_all, resolve_name
from oddbolt.core.study.tally import loose, tally
from oddbolt.demo import tide_logger


def dangling(study):
    """Every mention of something that is not there."""
    out = []
    for (letter, field), targets in MENTIONS.items():
        for thing in study.table(letter).values():
            value = getattr(thing, field)
            for id in value if isinstance(value, tuple) else filter(None, (value,)):
                if id[0] not in targets or study.find(id) is None:
                    out.append((thing.id, field, id))
    out += [(r.id, "laps", p.step) for r in study.runs.values() for p in r.laps if p.step not in study.steps]
    return out


@given(st.data())
def test_no_id_dangles_after_removals(data):
    study = tide_logger.study()
    for _ in range(6):
        ids = [id for letter in KINDS for id in study.table(letter)]
        study = remove(study, data.draw(st.sampled_from(ids)))
    assert dangling(study) == []


def test_what_else_changes_is_said_before():
    study = study_of(
        Part("P1", "lid"), Part("P2", "seal", inside="P1"), Joint("J1", "screw", holds=("P1",), name="Lid screws"),
        Step("S1", "take out", releases=("J1",), takes_out=("P1",)), Fact("F1", "P1", "P2"),
        Finding("N1", "praise", "easy", "P1"),
        Run("R1", "timed"),
    )  # fmt: skip
    study = lap(study, "R1", "S1", 12.0)
    said = consequences(study, "P1")
    assert said == [
        "Seal is no longer inside lid.",
        "Lid screws no longer holds lid.",
        "Step 1 no longer takes out lid.",
        "Lid over seal goes too.",
        "Easy is no longer about lid.",
    ]
    assert consequences(study, "S1") == ["1 timed lap of step 1 goes too."]
    after = remove(study, "P1")
    assert after.facts == {}
    assert after.steps["S1"].takes_out == ()
    assert study.steps["S1"].takes_out == ("P1",)


@pytest.mark.parametrize(
    ("things", "words"),
    [
        ((Joint("J1", "screw", holds=("P9",)),), "'P9'"),
        ((Part("P1", "a", inside="P1"),), "inside itself|mentions itself"),
        ((Part("P1", "a"), Fact("F1", "P1", "P1")), "cannot lie over itself"),
        ((Part("x1", "a"),), "must look like P7"),
        ((Step("S1", "undo"), Step("S2", "undo", releases=("S1",))), "'S1'"),
    ],
)
def test_what_cannot_be_is_refused_in_a_sentence(things, words):
    with pytest.raises(StudyError, match=words):
        study_of(*things)


def test_a_part_never_lies_inside_itself_by_way_of_others():
    study = study_of(Part("P1", "a"), Part("P2", "b", inside="P1"), Part("P3", "c", inside="P2"))
    with pytest.raises(StudyError, match="inside itself"):
        change(study, "P1", inside="P3")


@pytest.mark.parametrize(
    ("cls", "fields"),
    [
        (Joint, {"kind": "string"}),
        (Joint, {"kind": "screw", "length_mm": -1.0}),
        (Joint, {"kind": "clip", "torque_ncm": 3.0}),
        (Joint, {"kind": "screw", "count": 0}),
        (Part, {"name": "  "}),
        (Step, {"verb": "wait", "wait_s": float("nan")}),
    ],
)
def test_figures_outside_their_range_are_refused(cls, fields):
    letter = {Joint: "J1", Part: "P1", Step: "S1"}[cls]
    with pytest.raises(StudyError):
        cls(letter, **fields)


@given(st.sampled_from(list(FIGURES)), st.sampled_from(list(FIGURES)))
def test_a_joint_that_changes_its_kind_drops_figures_it_cannot_have(one, other):
    study = study_of(Part("P1", "a"), Joint("J1", one, holds=("P1",), count=3))
    after = change(study, "J1", kind=other).joints["J1"]
    assert (after.kind, after.count, after.holds) == (other, 3, ("P1",))


@given(st.integers(0, 400), st.randoms())
def test_renumbering_keeps_every_step(seed, r):
    study = random_study(seed)
    order = list(study.steps)
    r.shuffle(order)
    assert list(renumber(study, order).steps) == order
    with pytest.raises(StudyError, match="every step"):
        renumber(study, order[1:])


def test_an_edit_shares_what_it_does_not_change():
    study = tide_logger.study()
    after = change(study, "P29", note="warm")
    assert after.joints is study.joints
    assert after.parts["P1"] is study.parts["P1"]
    assert new_id(after, "P") not in study.parts


def test_the_demo_is_as_rich_as_it_should_be():
    study = tide_logger.study()
    screws = [j for j in study.joints.values() if j.kind == "screw"]
    assert len(study.steps) >= 40
    assert len(study.parts) >= 50
    assert sum(j.count for j in screws) >= 60
    assert len({(j.drive, j.size) for j in screws}) >= 7
    assert sum(j.count for j in study.joints.values() if j.kind in ("connector", "coax")) >= 10
    assert len(study.findings) >= 15
    assert {j.tab for j in study.joints.values() if j.kind == "adhesive"} >= {True, False}


def test_the_tally_counts_groups_once_and_knows_the_power():
    study = tide_logger.study()
    count = tally(study)
    assert (count.screws_out, count.screws_back, count.isolated) == (61, 0, True)
    back = put(study, Step("S900", "fasten", releases=("J16",), phase="back"))
    back = put(back, Step("S901", "connect", phase="back", isolates_power=True))
    assert (tally(back).screws_back, tally(back).isolated) == (9, False)


def test_what_is_loose_lies_with_what_held_it():
    study = tide_logger.study()
    rows = loose(study, len(study.steps))
    lid = next(r for r in rows if r.parts == ("P4",))
    assert "J4" in lid.joints
    joints = [j for r in rows for j in r.joints]
    assert len(joints) == len(set(joints))
    assert loose(study, 18)[-1].parts == ()


def test_names_lead_back_to_things():
    study = tide_logger.study()
    assert resolve(study, "battery", "P") == "P29"
    assert resolve(study, "p29", "P") == "P29"
    assert resolve_all(study, "Main board; lid", "P") == ("P19", "P4")
    with pytest.raises(StudyError, match="could be"):
        resolve(study, "display f", "P")
    taken = resolve_name(study, "batery", "P")
    assert (taken.id, taken.note) == ("P29", "'batery' is taken for Battery.")
    with pytest.raises(StudyError, match=r"Main board \(P19\), .*Type more of the name"):
        resolve(study, "board", "P")  # five boards: never the nearest one in silence
    with pytest.raises(StudyError, match="no part called 'zzz'"):
        resolve(study, "zzz", "P")


def test_units_are_exact_by_definition():
    """SI brochure; yard and pound agreement of 1959: 1 in = 25.4 mm, 1 lbf = 4.4482216152605 N."""
    assert quantity("1 in", "length") == INCH_MM
    assert quantity("0.12 N·m", "torque") == pytest.approx(12)
    assert quantity("1 lbf·in", "torque") == pytest.approx(LBF_N * 2.54)
    assert quantity("16 oz in", "torque") == pytest.approx(quantity("1 lbf in", "torque"))
    assert quantity("1 min 20 s", "time") == 80
    assert quantity("2,5", "length") == 2.5
    for text in ("", "mm", "3 kg", "1 2 3 x", "--2"):
        with pytest.raises(ValueError, match="type it like"):
            quantity(text, "length")


def test_empty_studies_add_up_to_nothing():
    assert tally(Study()).screws_out == 0
    assert loose(Study(), 0) == ()
    assert attrs.asdict(Study().device)["name"]
