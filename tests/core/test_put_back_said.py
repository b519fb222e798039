"""Putting back as it was understood, entered into the record: which of what is out it makes again; else it asks."""

import pytest
from attrs import evolve

from oddbolt.core.narration.draft import DraftStep, Reading
from oddbolt.core.narration.recording import log
from oddbolt.core.reassembly import ledger
from oddbolt.core.study import put
from oddbolt.core.study.tally import outstanding
from oddbolt.demo import put_back


@pytest.fixture
def apart():
    """The demo of a battery replaced, before anything went back."""
    study = put_back.study()
    return evolve(study, steps={id: s for id, s in study.steps.items() if s.phase == "apart"}, checks={})


def entered(study, *drafts):
    """The study with these readings entered, and the last step."""
    steps = tuple(DraftStep(action, phase="put back", **rest) for action, rest in drafts)
    after, ids = log(study, Reading("", steps=steps, cautions=(), findings=(), renew=()))
    return after, after.steps[ids[-1]]


def made(study, step):
    return [study.name(j) for j in step.releases]


def test_a_short_name_is_the_one_part_out_that_has_it_and_makes_no_part_of_its_own(apart):
    said = {"joint": "screw", "count": 5, "parts": ("shield",), "said": "five screws on the shield"}
    study, step = entered(apart, ("fasten", said))
    assert made(study, step) == ["5 PH00 screws, Shield plate"]
    assert study.parts == apart.parts
    assert "Shield plate" not in [line.name for line in ledger(study).screws if line.open]


def test_a_whole_name_means_no_other_part_be_it_out_or_not(apart):
    """The pressure cell is in place; a "pressure cell cap" that is out is not what was meant."""
    id = next(id for id, part in apart.parts.items() if part.name == "Pressure cell")
    cover = evolve(apart.parts[id], id="P900", name="Pressure cell cap")
    step = next(s for s in apart.steps.values() if s.takes_out)
    study = put(apart, cover)
    study = put(study, evolve(step, takes_out=(*step.takes_out, "P900")))
    study, step = entered(study, ("place", {"parts": ("pressure cell",), "said": "pressure cell in"}))
    assert (step.puts_in, step.doubt) == ((id,), "Pressure cell is not out")


def test_a_driver_taken_over_from_before_does_not_hide_the_group_that_was_named(apart):
    said = {"joint": "screw", "count": 7, "drive": "cross", "size": "PH00", "parts": ("lid",)}
    study, step = entered(apart, ("fasten", said | {"said": "seven of the eight lid screws are done"}))
    assert (made(study, step), step.count) == (["Lid screws"], 7)
    assert outstanding(study)[step.releases[0]] == 1
    study, step = entered(apart, ("fasten", said | {"said": "seven PH00 in the lid"}))
    assert (made(study, step), step.doubt) == ([], "which screws?")


def test_some_now_and_the_others_later_is_asked(apart):
    words = "three of the board screws in, the other six after the shield"
    study, step = entered(apart, ("fasten", {"joint": "screw", "count": 9, "said": words}))
    assert made(study, step) == ["Board screws"]
    assert "how many are in" in step.doubt


def test_a_part_clipped_on_makes_its_clips_and_a_fresh_one_is_renewed(apart):
    study, step = entered(apart, ("place", {"parts": ("shield plate",), "said": "clipped the shield plate on"}))
    assert made(study, step) == ["Shield edge clips"]
    study, step = entered(apart, ("place", {"parts": ("battery",), "said": "the fresh battery is in"}))
    assert study.name(step.puts_in[0]) == "Battery"
    assert step.puts_in[0] in step.renews


def test_a_ribbon_is_known_by_its_own_name_and_one_of_many_is_asked(apart):
    said = {"joint": "connector", "parts": ("sensor ribbon",), "said": "sensor ribbon clicked in"}
    study, step = entered(apart, ("connect", said))
    assert (made(study, step), step.doubt) == (["Sensor ribbon"], "")
    said = {"joint": "connector", "parts": ("ribbon",), "said": "I forgot the ribbon"}
    study, step = entered(apart, ("connect", said))
    assert (made(study, step), step.doubt) == ([], "which connector?")


def test_a_part_that_never_came_out_is_asked(apart):
    _, step = entered(apart, ("place", {"parts": ("pressure cell",), "said": "the pressure cell is in"}))
    assert step.doubt == "Pressure cell is not out"
    assert not entered(apart, ("place", {"parts": ("radio board",), "said": "radio board in"}))[1].doubt


def test_a_part_that_nobody_spoke_of_before_is_asked_and_a_slot_is_made_with_its_card(apart):
    _, step = entered(apart, ("place", {"parts": ("spring",), "said": "spring in"}))
    assert step.doubt == "Spring never came out"
    study, step = entered(apart, ("place", {"parts": ("memory card",), "said": "memory card back in"}))
    assert (made(study, step), step.doubt) == (["Memory card slot"], "")
    study, step = entered(apart, ("place", {"parts": ("main PCB",), "said": "main PCB in"}))
    assert (study.name(step.puts_in[0]), step.doubt) == ("Main board", "")
    bare = evolve(apart, steps={})
    assert not entered(bare, ("place", {"parts": ("spring",), "said": "spring in"}))[1].doubt  # nothing was told


def test_connectors_of_a_part_are_made_together_only_if_that_was_said(apart):
    said = {"joint": "connector", "parts": ("radio board",)}
    study, step = entered(apart, ("connect", said | {"said": "plugged the radio board in"}))
    assert step.doubt == f"all {len(step.releases)} connectors?"
    study, step = entered(apart, ("connect", said | {"said": "the radio board plug is back"}))
    assert (made(study, step), step.doubt) == (["Radio plug"], "")
    study, step = entered(apart, ("connect", said | {"said": "all radio board connectors are back"}))
    assert len(step.releases) > 1
    assert not step.doubt
    said = {"joint": "connector", "parts": ("battery lead",), "said": "battery lead on"}
    study, step = entered(apart, ("connect", said))
    assert made(study, step) == ["Battery plug"]


def test_undoing_what_is_undone_is_asked_while_things_go_back(apart):
    ribbon = DraftStep("disconnect", joint="connector", parts=("key ribbon",), said="key ribbon, flip the latch down")
    reading = Reading("", steps=(ribbon,), cautions=(), findings=(), renew=())
    after, (id,) = log(apart, reading)
    assert not after.steps[id].doubt
    going_back, _ = entered(apart, ("place", {"parts": ("battery",), "said": "battery in"}))
    after, (id,) = log(going_back, reading)
    assert "Key ribbon is undone already: is it back?" in after.steps[id].doubt
