"""What is said beside the acts: cautions, findings, reuse rules, power, variants, passages and hypothetical routes."""

import pytest

from oddbolt.core.narration import Cue, Memory, draft, parse_words, read, with_words


def said(*sentences):
    """The drafts after these sentences, with later ones amending earlier ones."""
    return draft([Cue(n * 10, n * 10 + 5, s) for n, s in enumerate(sentences)])


def step(*sentences):
    (one,) = said(*sentences).steps
    return one


@pytest.mark.parametrize(
    "sentence",
    [
        "Two of them are longer.",
        "They differ in length.",
        "The one by the hinge is a lot shorter.",
        "Three are long, two short.",
    ],
)
def test_screws_that_differ_are_marked(sentence):
    assert step("Undo five T6 screws on the rim.", sentence).mixed


@pytest.mark.parametrize(
    ("sentence", "count"), [("Two of them are longer, keep those apart.", 2), ("One of these is 2 mm longer.", 1)]
)
def test_how_many_differ_is_told_as_a_caution(sentence, count):
    (caution,) = said("Undo five T6 screws on the rim.", sentence).cautions
    assert (caution.kind, caution.count) == ("mixed lengths", count)


@pytest.mark.parametrize(
    ("sentence", "rule"),
    [
        ("They are single-use.", "renew"),
        ("These must be replaced.", "renew"),
        ("Bin them.", "renew"),
        ("They can be reused.", "reuse"),
        ("They can be reused if undamaged.", "inspect"),
    ],
)
def test_reuse_rules_belong_to_what_came_before(sentence, rule):
    assert step("Undo two T6 screws on the neck.", sentence).reuse == rule


def test_a_part_that_is_renewed_but_not_taken_out_is_listed():
    log = said("Lift the lid off, there is a seal in the groove which you renew every time.")
    assert log.renew == ("seal",)
    assert log.steps[0].reuse == ""


@pytest.mark.parametrize(
    "sentence",
    ["Do not pull the flex.", "Be careful with the lens.", "Never bend the cell.", "Mind the sharp edge here."],
)
def test_warnings_are_cautions_and_no_steps(sentence):
    log = said(sentence)
    assert log.steps == ()
    assert [c.kind for c in log.cautions] == ["warning"]


@pytest.mark.parametrize(
    ("sentence", "quantity", "value", "unit"),
    [
        ("That is a 3,200 mAh cell.", "charge", 3200, "mAh"),
        ("The cell is rated 9.6 watt hours.", "energy", 9.6, "Wh"),
        ("The motor is an 18 volt one.", "voltage", 18, "V"),
    ],
)
def test_specs_are_findings(sentence, quantity, value, unit):
    (finding,) = said(sentence).findings
    assert (finding.kind, finding.quantity, finding.value, finding.unit) == ("spec", quantity, value, unit)
    assert finding.part in ("cell", "motor")


@pytest.mark.parametrize(
    ("sentence", "value"),
    [
        ("Eight out of ten from me.", 8),
        ("I give it a 7.5 out of 10.", 7.5),
        ("Six and a half out of ten.", 6.5),
        ("5/10.", 5),
    ],
)
def test_marks_out_of_ten_are_findings(sentence, value):
    (finding,) = said(sentence).findings
    assert (finding.kind, finding.value, finding.out_of) == ("mark", value, 10)


@pytest.mark.parametrize(
    ("sentence", "kind"),
    [
        ("I really like that, no glue anywhere.", "praise"),
        ("No pull tab, which is a shame.", "complaint"),
        ("The hatch seal tore on the way.", "damage"),
    ],
)
def test_praise_complaint_and_damage_are_findings(sentence, kind):
    assert [f.kind for f in said(sentence).findings] == [kind]


def test_what_cuts_the_power_is_marked_at_its_step():
    log = said("I pull the memory card, that cuts the power.", "Lift the lid off.")
    assert [s.isolates_power for s in log.steps] == [True, False]
    log = said("Unplug the battery.", "With the power gone I unplug the fan.")
    assert [s.isolates_power for s in log.steps] == [True, False]


def test_a_variant_belongs_to_its_part_also_a_sentence_later():
    log = said("Note that the second board is fitted in the dual version only.", "Remove the second board.")
    assert log.steps[0].variant == "dual version"
    log = said("The 600 W version has an additional shroud.", "Take the shroud off.", "Lift the lid off.")
    assert [s.variant for s in log.steps] == ["600 W version", ""]


def test_passages_are_told_apart():
    log = said("Remove the fan.", "Assembly.", "Insert the fan.", "Fasten the four T6 screws crosswise to 35 Ncm.")
    assert [(s.action, s.phase) for s in log.steps] == [
        ("take out", ""), ("place", "put back"), ("fasten", "put back"),
    ]  # fmt: skip
    assert (log.steps[2].torque_ncm, log.steps[2].ordered) == (35, True)


@pytest.mark.parametrize(
    ("sentence", "target", "through"),
    [
        ("If you only needed the buzzer you would take the lid and the bracket off.", "buzzer", ("lid", "bracket")),
        ("If all you need is the switch, you take the tube off and it's in your hand.", "switch", ("tube",)),
    ],
)
def test_routes_spoken_of_are_no_steps(sentence, target, through):
    log = said(sentence)
    assert log.steps == ()
    assert [(r.target, r.through) for r in log.routes] == [(target, through)]


@pytest.mark.parametrize(
    "sentence",
    [
        "the the of logger falling out over screw mainly and then for to",
        "You could also remove the lid later.",
        "Should I take the fan out?",
        "I already took the battery out before filming.",
        "The rubber buffer stays in the housing.",
        "You don't need to remove the fan.",
        "Taking it apart is easy.",
        "Before you lift the lid, count to ten.",
    ],
)
def test_talk_is_no_step(sentence):
    assert said(sentence).steps == ()


def test_a_plug_spoken_of_is_opened_when_it_is_said_to_be():
    log = said("There is a fan plug under the lid.", "Nice colour.", "Unplug it.")
    (one,) = log.steps
    assert (one.action, one.joint, one.parts, one.at_s) == ("disconnect", "connector", ("fan",), 20)


def test_memory_is_not_changed_by_reading():
    memory = Memory()
    first, after = read("undo four PH00 screws on the fan", memory)
    again, _ = read("undo four PH00 screws on the fan", memory)
    assert first == again
    assert memory == Memory()
    assert len(after.steps) == 1


@pytest.mark.parametrize(
    ("words", "sentence", "wanted"),
    [
        ('[tools]\nwords = ["gizmo"]', "Pry the cell out with the gizmo.", {"tool": "gizmo"}),
        ('[joints]\nclip = ["snibs"]', "Release the four snibs along the rim.", {"joint": "clip", "count": 4}),
        ('[actions]\n"take out" = ["winkle out"]', "Winkle out the lens.", {"action": "take out"}),
        ('[agents]\nsolvent = ["gloop"]', "Put some gloop under the cell.", {"action": "soften", "agent": "solvent"}),
        ('[slips]\nwords = { lidd = "lid" }', "Lift the lidd off.", {"action": "take out"}),
    ],
)
def test_every_section_of_taught_words_is_understood(words, sentence, wanted):
    taught = with_words(parse_words(words))
    found = read(sentence, vocabulary=taught)[0].steps[0]
    assert {k: getattr(found, k) for k in wanted} == wanted


def test_how_much_is_kept_with_what_is_put_back():
    memory = read("Reassembly.")[1]
    said = ("Apply 600 mg of gel to the heatsink.", "Fit the lens ring and turn it 30 degrees clockwise.")
    steps = [step for text in said for step in read(text, memory)[0].steps]
    assert [(s.action, s.parts, s.note) for s in steps] == [
        ("apply", ("heatsink",), "600 mg"),
        ("place", ("lens ring",), "30°"),
    ]
    (rolled,) = read("Roll over the tape three times with the roller.", memory)[0].steps
    assert (rolled.action, rolled.parts, rolled.tool, rolled.note) == ("press", ("tape",), "roller", "3 passes")


def test_the_same_again_elsewhere_is_logged_with_its_place():
    memory = read("Undo two T6 on the left side and lift the cover.")[1]
    (again,) = read("Same again on the other side.", memory)[0].steps
    assert (again.action, again.count, again.size, again.place) == ("unscrew", 2, "T6", "other side")


@pytest.mark.parametrize(
    ("said", "length"), [("undo four screws one five millimetre", 1.5), ("undo one five mm screw", 5.0)]
)
def test_a_decimal_point_that_was_not_said_is_heard(said, length):
    assert read(said)[0].steps[0].length_mm == length


def test_what_each_foot_hid_is_counted_by_the_feet():
    memory = read("Peel off the four rubber feet.")[1]
    (group,) = read("There's a screw under every foot, T8.", memory)[0].steps
    assert group.count == 4


def test_a_put_back_list_is_placed_and_fastened():
    memory = read("Reassembly.")[1]
    placed, fastened = read("Board in, six screws, half a newton metre.", memory)[0].steps
    assert (placed.action, placed.parts) == ("place", ("Board",))
    assert (fastened.action, fastened.count, fastened.torque_ncm) == ("fasten", 6, 50)


def test_a_tool_told_afterwards_is_the_drive_of_the_screws_before():
    memory = read("Undo three screws on the terminals.")[1]
    reading, _ = read("I used a 3 mm flat blade for that.", memory)
    assert not reading.steps
    assert [(s.drive, s.size) for s in reading.amends] == [("slotted", "3")]
