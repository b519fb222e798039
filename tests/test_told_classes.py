"""What is said for judging reaches the joint, the step or the part; what is hedged, asked or denied does not."""

import pytest

from oddbolt.core.narration.captions import Cue, draft
from oddbolt.core.narration.reader import read
from oddbolt.core.narration.recording import log, log_draft, memory_of
from oddbolt.core.narration.told_classes import told_classes
from oddbolt.core.study import Study
from oddbolt.core.verdict.evidence import fastener, skill


def said(*sentences: str) -> Study:
    study = Study()
    for sentence in sentences:
        study, _ = log(study, read(sentence, memory_of(study))[0])
    return study


@pytest.mark.parametrize(
    ("sentence", "value"),
    [
        ("the clips are single-use", "removable"),
        ("these clips can't be reused", "removable"),
        ("the clips never come out without damage", "neither"),
        ("They can all be used again.", "reusable"),
        ("the spare lid comes with new clips", "resupplied"),
    ],
)
def test_a_class_said_after_the_step_stands_with_its_joint(sentence, value):
    study = said("release four clips on the lid", sentence)
    (clip,) = (j for j in study.joints.values() if j.kind == "clip")
    assert clip.fastener == value
    told = fastener(study, clip)
    assert told.sure
    assert told.basis == "recorded"


def test_a_class_goes_to_the_kind_that_is_named_and_overwrites_nothing():
    study = said(
        "release four clips on the lid", "undo three T8 screws", "the clips are single-use", "the clips are reusable"
    )
    by_kind = {j.kind: j.fastener for j in study.joints.values()}
    assert by_kind == {"clip": "removable", "screw": ""}
    assert [f.text for f in study.findings.values() if "reusable" in f.text], "the second is kept as a note"


def test_skill_place_and_role_are_kept():
    study = said(
        "lift out the pouch",
        "This step needs an expert.",
        "needs a workshop",
        "the pouch counts as the battery for the index",
    )
    (step,) = study.steps.values()
    assert (step.skill, step.where) == ("expert", "workshop")
    assert skill(study, step).basis == "recorded"
    assert [p.role for p in study.parts.values()] == ["battery"]


@pytest.mark.parametrize(
    "sentence",
    [
        "I think these clips are single use",
        "if the clips were single-use that would be bad",
        "are the clips single use?",
        "the screws are not single use",
        "you don't need an expert for this",
        "the lid is single-use",
        "six one-way screws",
        "the glue tears when you pull it",
        "one time I opened this and it broke",
    ],
)
def test_what_is_hedged_asked_denied_or_of_another_thing_is_left_alone(sentence):
    assert told_classes(sentence) == ()


def test_in_a_whole_narration_a_class_belongs_to_the_step_before_it():
    cues = [
        Cue(0, 2, "Release four clips on the lid."),
        Cue(5, 7, "They are single-use."),
        Cue(10, 12, "Undo two T8 screws."),
    ]
    drafted = draft(cues)
    assert [c["field"] for c in drafted.json()["classes"]] == ["fastener"]
    study = log_draft(Study(), drafted)
    assert [(j.kind, j.fastener) for j in study.joints.values()] == [("clip", "removable"), ("screw", "")]
