"""What is put right in the same breath, and what a sentence tells of the fasteners before. Common practice, no source:
a sentence with a slip put right logs what it logs without the slip; screws told apart stay as many as there were."""

import pytest
from attrs import evolve
from hypothesis import given, settings
from hypothesis import strategies as st

from oddbolt.core.narration import Memory, read, shipped
from oddbolt.core.narration.about_last import STILL_IN, STILL_THERE, TOO_MANY
from oddbolt.core.narration.assembly.story import SHOWN
from oddbolt.core.narration.language.taken_back import without_taken_back
from oddbolt.core.study import Device, Study

PARTS = st.sampled_from("fan pump lid cover bracket motor board base".split())
SIZES = st.sampled_from("T6 T8 T10 PH0 PH1 PZ2 IP5".split())
TERMS = st.sampled_from((", no, ", ", sorry, ", ", wait, no, ", ", make that ", ", I mean "))
WORDS = dict(enumerate("nought one two three four five six seven eight nine ten eleven twelve".split()))


def told(*sentences):
    """(action, count, size, length, parts) of the steps that stand after some sentences, and the doubts."""
    memory, steps = Memory(), {}
    for sentence in sentences:
        reading, memory = read(sentence, memory, shipped())
        for step in (*reading.amends, *reading.steps):
            steps[step.ref] = step
    assert {s.ref: s.count for s in memory.steps} == {r: s.count for r, s in steps.items()}
    return [(s.action, s.count, s.size, s.length_mm, s.parts) for s in steps.values()], [
        s.doubt for s in steps.values()
    ]


@settings(deadline=None, max_examples=60)
@given(st.integers(2, 12), st.integers(2, 12), TERMS, SIZES, PARTS, PARTS, st.booleans())
def test_a_slip_put_right_is_as_if_it_was_not_said(n, m, term, size, part, other, words):
    a, b = (WORDS[n], WORDS[m]) if words else (n, m)
    plain = told(f"Undo {b} {size} screws from the {part}.")
    assert told(f"Undo {a}{term}{b} {size} screws from the {part}.") == plain
    if part != other:
        assert told(f"Undo {b} {size} screws from the {other}{term}the {part}.") == plain
        assert told(f"Take out the {other}{term}the {part}.") == told(f"Take out the {part}.")


@pytest.mark.parametrize(
    ("said", "meant"),
    [
        ("Unplug the left, sorry, right speaker.", "Unplug the right speaker."),
        ("Take out the left bracket, sorry, the right one.", "Take out the right bracket."),
        ("Three T8 in the lid, no, in the base, undone.", "Three T8 in the base, undone."),
        ("Lift the cover off, no, the hood.", "Lift off the hood."),
        ("Pulled the pump plug, sorry, the heater plug.", "Pulled the heater plug."),
        ("Undo the four corner T8 and the middle one, which is a T6.", "Undo the four corner T8 and one T6."),
        ("Four 6 mm, no, 8 mm T5 screws out of the keypad.", "Four 8 mm T5 screws out of the keypad."),
        # nothing is put right here
        ("There's no screw left, so lift the lid off.", "There's no screw left, so lift the lid off."),
        ("It was not PH1, sorry, PH2.", "It was not PH1, sorry, PH2."),
        ("Take out the fan, no, the camera is off.", "Take out the fan, no, the camera is off."),
    ],
)
def test_words_taken_back_are_left_blank(said, meant):
    nouns = shipped().nouns | {"hood"}
    rest = without_taken_back(said, nouns)
    assert len(rest) == len(said)
    assert sorted(rest.lower().replace(",", " ").split()) == sorted(meant.lower().replace(",", " ").split())


@settings(deadline=None, max_examples=60)
@given(st.integers(2, 12), st.data(), SIZES, SIZES, st.booleans())
def test_screws_told_apart_stay_as_many(n, data, size, odd, same_breath):
    some = data.draw(st.integers(1, n - 1))
    first, then = f"Undo {n} {size} screws from the lid", f"{WORDS[some]} of them {'is' if some == 1 else 'are'} {odd}."
    steps, doubts = told(f"{first}, {then}") if same_breath else told(f"{first}.", then)
    want = [("unscrew", n, size, None, ("lid",))]
    if size != odd:
        want = [("unscrew", n - some, size, None, ("lid",)), ("unscrew", some, odd, None, ("lid",))]
    assert (sorted(steps, key=str), set(doubts)) == (sorted(want, key=str), {""})


@pytest.mark.parametrize(
    ("sentences", "want"),
    [
        (("Undo four PH1 screws from the lid.", "Two are 10 mm, the others 6."), [(2, "PH1", 6), (2, "PH1", 10)]),
        (("Undo four PH1 screws from the lid.", "The two at the front are PH2."), [(2, "PH1", None), (2, "PH2", None)]),
        (("Undo six screws.", "Only five of those are T8, the sixth is a T10."), [(5, "T8", None), (1, "T10", None)]),
        (("Undo eight T10 from the deck, the last two being T15.",), [(6, "T10", None), (2, "T15", None)]),
        (("Undo seven screws.", "All T8 except the middle one, which is a T6."), [(6, "T8", None), (1, "T6", None)]),
        (("Undo five T6 screws.", "All of them are 8 mm."), [(5, "T6", 8)]),
        (("Undo five T6 screws.", "Actually there's a sixth."), [(6, "T6", None)]),
        (("Undo three T10s from the base.", "Make that four, there's one under the foot."), [(4, "T10", None)]),
        (("Undo three PH1s on the bracket.", "Two, I should say."), [(2, "PH1", None)]),
        (
            ("Undo two T6 screws.", "And the bottom two.", "And the one in the middle."),
            [(2, "T6", None), (2, "T6", None), (1, "T6", None)],
        ),
        # other sentences on some of them change nothing
        (("Undo four PH1 screws from the lid.", "One of them has a washer."), [(4, "PH1", None)]),
        (("Undo four PH1 screws from the lid.", "Two of them are PH1."), [(4, "PH1", None)]),
    ],
)
def test_what_is_told_of_the_screws_before(sentences, want):
    assert [(n, size, long) for _, n, size, long, _ in told(*sentences)[0]] == want


@pytest.mark.parametrize(
    ("before", "said", "part"),
    [
        ("Remove the left bracket.", "The right one, I mean.", "right bracket"),
        ("Remove the left bracket.", "No, the other one.", "right bracket"),
        ("Lift out the fan.", "Sorry, the pump.", "pump"),
        ("Lift out the fan.", "Wait, that's not the fan, it's the blower.", "blower"),
        ("Undo three PH1s on the bracket.", "Not from the bracket, from the frame.", "frame"),
        ("Lift out the fan.", "Sorry about the noise.", "fan"),
        ("Lift out the fan.", "No, the camera is off.", "fan"),
        ("Lift out the fan.", "Wait, the pump.", "fan"),
        ("Lift out the fan.", "The cover, not the pump.", "fan"),
        ("Lift out the fan.", "Wait, that was the pump.", "pump"),
    ],
)
def test_another_part_was_meant(before, said, part):
    (step,), _ = told(before, said)
    assert step[-1] == (part,)


def test_one_more_under_a_part_is_hidden_by_it():
    memory = read("Undo five T6 screws of the lid.", Memory(), shipped())[1]
    (more,) = read("There's one more under the label.", memory, shipped())[0].steps
    assert (more.count, more.place, more.under, more.doubt) == (1, "", ("label",), SHOWN)


@pytest.mark.parametrize("doubt", ["several numbers: which is the count?", TOO_MANY])
def test_that_they_are_out_tells_nothing_of_how_many_there_are(doubt):
    memory = read("Undo five T6 screws of the lid.", Memory(), shipped())[1]
    memory.steps = [evolve(memory.steps[-1], doubt=doubt)]
    for said in ("They're all out.", "Done."):
        reading, after = read(said, memory, shipped())
        assert (reading.amends, after.steps[-1].doubt) == ((), doubt)


@pytest.mark.parametrize(
    ("before", "said", "doubt"),
    [
        ("Undo five T6 screws.", "One of them won't come out.", STILL_IN),
        ("Undo five T6 screws.", "I could only get four out.", STILL_IN),
        ("Undo four PH1 screws.", "Nine of them are T8.", TOO_MANY),
        ("Take the cover off.", "Oh wait, it's still held on one side.", STILL_THERE),
        ("Remove the board.", "No, wait, there's a ribbon on it.", STILL_THERE),
        ("Remove the board.", "There's a ribbon on it.", ""),
    ],
)
def test_what_is_said_to_be_still_there_is_asked(before, said, doubt):
    from oddbolt.core.narration.recording import log

    reading, memory = read(before, Memory(), shipped())
    study, (step,) = log(Study(Device("", "")), reading)
    memory.renamed({reading.steps[0].ref: step})
    study, _ = log(study, read(said, memory, shipped())[0])
    assert study.steps[step].doubt == doubt or not doubt
