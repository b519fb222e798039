"""From sentences to the record."""

import pytest
from builders import study_of

from oddbolt.core.narration import DraftStep, Reading, read
from oddbolt.core.narration.memory import Memory
from oddbolt.core.narration.recording import find_part, log, log_draft, memory_of
from oddbolt.core.reach import reach_of_all, route_to
from oddbolt.core.study import Part, Study
from oddbolt.core.study.tally import tally
from oddbolt.demo import tide_logger


def said(*sentences, study=None):
    """The study after these sentences, each read after what the record tells."""
    study = study or Study()
    for sentence in sentences:
        reading, _ = read(sentence, memory_of(study))
        study, _ = log(study, reading)
    return study


def parts(study):
    return {p.name.lower(): p.id for p in study.parts.values()}


def test_sentences_become_parts_joints_facts_and_steps():
    study = said(
        "Peel up the four rubber feet with the spudger.",
        "Six IP5 screws under the feet come out.",
        "Lift the base plate off.",
        "Unplug the battery connector underneath the base plate.",
        "Three PH00 screws hold the driver board, undo them and lift the driver board out.",
    )
    named = parts(study)
    screws = next(j for j in study.joints.values() if j.size == "IP5")
    assert (screws.count, screws.drive, screws.holds) == (6, "hexalobular-plus", (named["base plate"],))
    assert any(f.over == named["rubber feet"] and f.under == screws.id for f in study.facts.values())
    plug = next(j for j in study.joints.values() if j.kind == "connector")
    assert any(f.over == named["base plate"] and f.under == plug.id for f in study.facts.values())
    assert any(s.isolates_power and plug.id in s.releases for s in study.steps.values())
    route = route_to(study, [named["driver board"]])
    assert [study.steps[s].verb for s in route.steps][-1] == "take out"


def test_the_route_to_the_battery_changes_with_what_was_said():
    before = said("Lift the lid off.", "Take the battery out.")
    reach = reach_of_all(before)[parts(before)["battery"]]
    after = said("Lift the lid off.", "Take the battery out from under the lid.")
    assert reach.operations.least == 1
    assert reach_of_all(after)[parts(after)["battery"]].operations.least == 2


def test_a_count_said_again_is_counted_once():
    study = said("There are six T8 screws around the rim.", "Undo those six.", "Lift the cover off.")
    assert tally(study).screws_out == 6
    assert len([j for j in study.joints.values() if j.kind == "screw"]) == 1


def test_glue_is_softened_then_released_by_the_pry():
    study = said("Put some isopropanol along the edge of the cell and wait 40 seconds.", "Pry the cell out.")
    soften, pry = study.steps.values()
    assert soften.softens == pry.releases != ()
    assert soften.wait_s == 40
    route = route_to(study, [parts(study)["cell"]])
    assert route.legs[-1].start_s - (route.legs[0].start_s + route.legs[0].seconds) >= 40


def test_what_goes_back_closes_the_count():
    study = said(
        "Undo four PH00 screws on the fan.", "Lift the fan out.", "Assembly.", "Fasten the four PH00 screws to 9 Ncm."
    )
    joint = next(iter(study.joints.values()))
    assert joint.torque_ncm == 9
    assert (tally(study).screws_out, tally(study).screws_back) == (0, 4)


def test_a_doubtful_torque_is_noted_not_believed():
    study = said("Undo two IP4 screws on the neck.", "Assembly.", "Fasten the two IP4 screws to 11 Nm.")
    assert next(iter(study.joints.values())).torque_ncm is None
    assert "11 N·cm meant?" in list(study.steps.values())[-1].doubt


def test_names_are_found_as_people_shorten_them():
    study = study_of(Part("P1", "Main board"), Part("P2", "Battery"))
    assert find_part(study, "board") == "P1"
    assert find_part(study, "batterie") == ""
    assert find_part(study, "main boards") == "P1"
    assert find_part(study, "wheel") == ""


def test_reading_goes_on_where_the_record_stopped():
    study = said("Undo six T8 screws on the rim.")
    reading, _ = read("Four more of those on the handle.", memory_of(study))
    assert (reading.steps[0].count, reading.steps[0].size) == (4, "T8")
    assert memory_of(Study()) == Memory(device="Unnamed device")
    assert memory_of(study).before == memory_of(study).steps[-1].action == "unscrew"


@pytest.mark.parametrize(
    "text", ["Morning all.", "Do not pull the flex.", "If you only need the fan, take the lid off.", ""]
)
def test_what_is_no_step_leaves_the_steps_alone(text):
    before = tide_logger.study()
    assert said(text, study=before).steps.keys() == before.steps.keys()


def test_a_whole_draft_is_entered_with_its_cautions():
    from oddbolt.core.narration import Cue, draft

    cues = [Cue(1, 2, "Undo six T8 screws on the rim."), Cue(3, 4, "Two of them are longer, keep those apart.")]
    study = log_draft(Study(), draft(cues))
    step = study.steps["S1"]
    assert step.cautions == ("Two of them are longer, keep those apart.",)
    assert study.joints["J1"].lengths == "mixed"


def test_one_more_of_a_name_that_is_out_is_a_part_of_its_own():
    study = Study()
    for said, name in (("bracket off", "bracket"), ("and another bracket off", "bracket")):
        study, _ = log(study, Reading(said, steps=(DraftStep("take out", parts=(name,), said=said),)))
    assert [p.name for p in study.parts.values()] == ["Bracket", "Bracket 2"]
    study, _ = log(
        study, Reading("bracket off", steps=(DraftStep("take out", parts=("bracket",), said="bracket off"),))
    )
    assert len(study.parts) == 2, "said again, it is the same"


def test_what_is_only_worked_on_becomes_no_part():
    steps = tuple(DraftStep(a, parts=("steam",), said="x") for a in ("check", "clean", "apply", "route", "bleed"))
    study, ids = log(Study(), Reading("x", steps=steps))
    assert len(ids) == 5
    assert not study.parts


def test_screws_of_one_sentence_take_no_part_of_another_that_has_its_own_and_ask_where_they_do():
    def told(said, *steps):
        return Reading(said, steps=tuple(DraftStep(said=said, **s) for s in steps))

    study, _ = log(Study(), told("four under the feet", {"action": "unscrew", "joint": "screw", "count": 4}))
    study, _ = log(
        study, told("three hold the fan", {"action": "unscrew", "joint": "screw", "count": 3, "parts": ("fan",)})
    )
    study, _ = log(study, told("fan out", {"action": "take out", "parts": ("fan",)}))
    assert [j.holds for j in study.joints.values()] == [(), ("P1",)]
    study, _ = log(study, told("two more", {"action": "unscrew", "joint": "screw", "count": 2}))
    study, _ids = log(study, told("lid off", {"action": "take out", "parts": ("lid",)}))
    assert study.joints["J3"].holds == ("P2",)
    assert study.steps["S4"].doubt == "holds the Lid?"
