"""Talk without stops: where its sentences begin, in captions and on the say line.

Common practice, no source: recognisers that set no punctuation, and captions that break wherever a line is full.
"""

import random
import re

import plain_talk
import pytest
from attrs import evolve
from hypothesis import given, settings
from hypothesis import strategies as st

from oddbolt.core.narration import Memory, draft, read, shipped
from oddbolt.core.narration.assembly.several import count_of
from oddbolt.core.narration.captions import Cue, sentences
from oddbolt.core.narration.understanding import Understood
from oddbolt.core.narration.understanding.begins import begins, without_long
from oddbolt.listening import load

TALK = (
    "okay so we're going to take this thing apart and see what's inside it so first of all i'm going to unplug it from"
    " the wall then we have six t10 screws around the bottom and i'm just going to take those out and now the bottom"
    " cover lifts off inside there is a fan and it has a little connector here so i'm going to disconnect the fan and"
    " then the fan comes out next the board is held by four ph1 screws i take those out and the board lifts out"
)
#: where a careful listener may hear a sentence begin
BEGINNINGS = {
    *("okay so", "so first", "i'm going", "then we", "and i'm", "and now", "inside there", "and it", "so i'm"),
    *("and then", "next the", "i take", "and the"),
}


@pytest.fixture(scope="module")
def hears():
    return evolve(shipped(), tagger=load())


def rolled(text, width):
    """Captions of so many words each, wherever a sentence ends."""
    words = text.split()
    parts = [" ".join(words[n : n + width]) for n in range(0, len(words), width)]
    return [Cue(2.0 * n, 2.0 * n + 2, part) for n, part in enumerate(parts)]


@pytest.mark.parametrize("width", [5, 7, 11])
def test_captions_that_break_anywhere_are_cut_where_sentences_begin(hears, width):
    found = [s.text for s in sentences(rolled(TALK, width), hears.tagger)]
    assert " ".join(found) == TALK
    assert {" ".join(s.split()[:2]) for s in found} <= BEGINNINGS, found
    assert len(found) >= 5
    log = draft(rolled(TALK, width), hears)
    screws = [(s.count, s.size) for s in log.steps if s.action == "unscrew"]
    assert screws == [(6, "T10"), (4, "PH1")]
    assert {p for s in log.steps if s.action in ("take out", "disconnect") for p in s.parts} >= {"fan", "board"}


def test_cues_that_are_sentences_stay_so(hears):
    said = (
        "undo the four t8 screws of the lid|the lid comes off|unplug the fan|take the fan out|undo the two ph1 screws"
        "|they hold the board|out comes the board|last the battery"
    ).split("|")
    cues = [Cue(3.0 * n, 3.0 * n + 2, text) for n, text in enumerate(said)]
    assert [(s.at_s, s.text) for s in sentences(cues, hears.tagger)] == [(3.0 * n, t) for n, t in enumerate(said)]


def test_a_sentence_has_the_time_of_the_cue_that_it_begins_in_and_ends_at_a_long_pause(hears):
    cues = [*rolled(TALK, 7), Cue(200.0, 203.0, "and that is the battery out")]
    found = sentences(cues, hears.tagger)
    stopped = [s.text for s in sentences(rolled(TALK.replace("six t10", "six. t10"), 7), hears.tagger)]
    assert any(s.endswith("six.") for s in stopped), "one of few stops ends a sentence"
    assert (found[-1].at_s, found[-1].text) == (200.0, "and that is the battery out")
    for sentence in found[:-1]:
        cue = cues[int(sentence.at_s // 2)]
        assert any(sentence.text.startswith(cue.text[n:].strip()[:12]) for n in range(len(cue.text))), sentence


WORDS = st.lists(st.sampled_from("undo the four screws lid fan 2.5 off and then it".split()), min_size=1, max_size=300)


@given(words=WORDS, width=st.integers(1, 12), seed=st.integers(0, 99))
def test_no_word_is_lost_or_told_twice_wherever_sentences_begin(words, width, seed):
    rng = random.Random(seed)

    def tagger(text, _phase, _before):
        return Understood(text, begins={m.start(): rng.random() for m in re.finditer(r"\S+", text)})

    cues = rolled(" ".join(words), width)
    found = sentences(cues, tagger)
    assert " ".join(s.text for s in found).split() == " ".join(s.text for s in sentences(cues)).split()
    assert [s.at_s for s in found] == sorted(s.at_s for s in found)


@given(likely=st.dictionaries(st.integers(1, 2000), st.floats(0, 1), max_size=300))
def test_a_sentence_without_end_is_cut_again(likely):
    likely = {0: 1.0, **likely}
    starts = without_long([0], likely)
    assert starts == sorted(set(starts))
    assert set(starts) <= set(likely)
    ends = [*starts[1:], 2001]
    assert all(sum(a < p < b for p in likely) < 60 for a, b in zip(starts, ends, strict=True))


def test_every_word_of_a_long_talk_is_judged_once(hears):
    text = " ".join([TALK] * 4)
    likely = begins(text, hears.tagger)
    assert list(likely) == [m.start() for m in re.finditer(r"\S+", text)]
    assert all(0 <= p <= 1 for p in likely.values())


@pytest.mark.parametrize(("several", "share"), [(2, 0.8), (3, 0.65)])
def test_sentences_run_together_on_the_say_line_are_read_one_after_the_other(hears, several, share):
    rng, right, wrong = random.Random(several), 0, []
    for _ in range(120):
        text, wanted = plain_talk.run_on(rng, several)
        steps = read(text, Memory(), hears)[0].steps
        good = plain_talk.right(steps, wanted)
        right += good
        wrong += [] if good else [text]
    assert right >= share * 120, wrong


@pytest.mark.parametrize(
    ("text", "steps"),
    [
        ("the plate with the holes is loose now lift it out", [("take out", ("plate",))]),
        ("undo the two screws on the left and the three on the right of the lid", None),
        (
            "four screws t8 hold the cover lift off the cover unplug the fan",
            [("unscrew", ("cover",)), ("take out", ("cover",)), ("disconnect", ("fan",))],
        ),
    ],
)
def test_it_and_them_stay_with_what_they_mean(hears, text, steps):
    memory = Memory()
    _, memory = read("Remove the frame.", memory, hears)
    found = [(s.action, s.parts) for s in read(text, memory, hears)[0].steps]
    assert not any("frame" in parts for _, parts in found)
    assert steps is None or found == steps


@pytest.mark.parametrize(
    ("sentences", "steps"),
    [
        (
            ["There's four screws on the back, one in each corner, so I'll do those first."],
            [("unscrew", 4, ())],
        ),
        (["Undo two screws on the left, one at each end."], [("unscrew", 2, ())]),
        (["I removed three screws at the top and one at each side."], [("unscrew", 5, ())]),
        (["Undo the eight screws of the base, two at each corner."], [("unscrew", 8, ("base",))]),
        (
            ["Now with all seven out, the back cover lifts right off."],
            [("unscrew", 7, ("back cover",)), ("take out", None, ("back cover",))],
        ),
        (
            ["The fan plug and the sensor plug.", "Pop both of those and the screen is out of the way."],
            [("disconnect", 1, ("fan",)), ("disconnect", 1, ("sensor",)), ("take out", None, ("screen",))],
        ),
        (
            ["For the main board you have six more screws.", "So pop the antennas off and undo the six screws."],
            [("unscrew", 6, ("main board",)), ("take out", None, ("antennas",))],
        ),
        (
            [
                "It's held down by five screws and there's a foam pad over one of them.",
                "So peel that back and take out all five and lift the shield off.",
            ],
            [("peel", None, ("foam pad",)), ("unscrew", 5, ("shield",)), ("take out", None, ("shield",))],
        ),
        (
            ["The battery is glued in.", "I'm gonna use a little alcohol along the edge.", "Pry it up."],
            [("soften", None, ("battery",)), ("pry", None, ("battery",))],
        ),
        (
            ["Take off the hood.", "You've got the main gear cover.", "It's held with a single screw and a clip."],
            [("take out", None, ("hood",)), ("unscrew", 1, ("main gear cover",))],
        ),
        (
            ["Peel the four rubber feet off.", "Under each foot there's a screw, these are T6, so four screws out."],
            [("peel", 4, ("rubber feet",)), ("unscrew", 4, ())],
        ),
        (["I'm suspecting this relay.", "Pull it out."], [("take out", None, ("relay",))]),
        (["Lift the screen off.", "So set that to the side."], [("take out", None, ("screen",))]),
        (
            ["The speaker is glued in.", "Warm it up and pry it out."],
            [("soften", None, ("speaker",)), ("pry", None, ("speaker",))],
        ),
    ],
)
def test_talk_to_a_camera_is_logged_once_and_of_the_part_that_is_meant(hears, sentences, steps):
    memory, found = Memory(), {}
    for sentence in sentences:
        reading, memory = read(sentence, memory, hears)
        found |= {s.ref: s for s in (*reading.steps, *reading.amends)}
    assert [
        (s.action, s.count, tuple(p.replace("mainboard", "main board") for p in s.parts)) for s in found.values()
    ] == steps


def test_no_sentence_begins_with_what_a_thing_lies_next_to(hears):
    text = "now there are two screws at the bottom next to the charging port so let's get those out"
    assert begins(text, hears.tagger)[text.index("next")] == 0


@given(st.integers(1, 9), st.sampled_from(["in each corner", "at each end", "under each foot"]), st.integers(2, 6))
@settings(max_examples=40, deadline=None)
def test_so_many_at_each_place_are_no_further_ones(each, places, many):
    whole = 4 * each if "corner" in places else 2 * each if "end" in places else many * each
    text = f"{whole} screws on the back, {each} {places}"
    at = text.index(f", {each} ") + 2
    assert count_of([(0, len(str(whole))), (at, at + len(str(each)))], text, shipped()) == whole
