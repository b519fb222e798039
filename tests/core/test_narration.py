"""The reader against narration written by hand: whole files beside their logs, and single sentences."""

import json
from pathlib import Path

import pytest
from evaluation import matches, scores
from hypothesis import given
from hypothesis import strategies as st

from oddbolt.core.errors import NarrationError
from oddbolt.core.narration import draft, parse_words, read, shipped, with_words
from oddbolt.core.narration.correct import correct, shown_pieces
from oddbolt.files.captions import read_cues

HERE = Path(__file__).parent
SAMPLES = HERE.parent / "narration"


def sentences():
    """(sentence, expected steps as (action, count, drive or size, parts)) of the evaluation set."""
    for line in (HERE / "sentences.tsv").read_text(encoding="utf-8").splitlines():
        if line.strip() and not line.startswith("#"):
            sentence, steps = line.split("\t")
            expected = [] if steps.strip() == "-" else [s.strip().split(":") for s in steps.split(" ; ")]
            yield sentence, [[*s, "", "", ""][:4] for s in expected]


@pytest.mark.parametrize(
    ("sentence", "notes"),
    [
        ("Put on the earthed strap.", ["earthed strap"]),
        ("Wear gloves.", ["gloves"]),
        ("no, put it back on", []),
        ("They put pull tabs on the battery.", []),
        ("stick caps worn through", []),
    ],
)
def test_what_is_worn_is_put_on_and_nothing_else_prepares_so(sentence, notes):
    steps = read(sentence)[0].steps  # without the network
    assert [s.note for s in steps if s.action == "prepare"] == notes


@pytest.mark.parametrize(("sentence", "expected"), list(sentences()))
def test_a_sentence_becomes_its_steps(sentence, expected):
    steps = read(sentence)[0].steps
    assert len(steps) == len(expected), [s.json() for s in steps]
    for step, wanted in zip(steps, expected, strict=True):
        assert matches(step, wanted), step.json()


def expected_logs():
    return sorted(SAMPLES.glob("*.expected.json"))


@pytest.mark.parametrize("path", expected_logs(), ids=lambda p: p.name.split(".")[0])
def test_a_sample_becomes_its_log_in_every_field(path):
    wanted = json.loads(path.read_text(encoding="utf-8"))
    captions = next(p for p in SAMPLES.glob(path.name.split(".")[0] + ".*") if p.suffix != ".json")
    drafted = draft(read_cues(captions)).json()
    assert len(drafted["steps"]) == len(wanted["steps"])
    for step, fields in zip(drafted["steps"], wanted["steps"], strict=True):
        assert {k: step.get(k) for k in fields} == fields
    for name in ("cautions", "findings", "routes_mentioned"):
        for fields in wanted.get(name, []):
            assert any(all(note.get(k) == v for k, v in fields.items()) for note in drafted[name]), fields
    assert set(wanted.get("renew", [])) <= set(drafted["renew"])
    if "not_steps" in wanted:
        assert drafted["not_steps"] == wanted["not_steps"]


def test_narration_by_hand_is_read_well_enough():
    """The goals of the reader on narration with a log by hand: 97 % of counted screw groups with right count and drive,
    95 % of the parts taken out, under 2 % false steps."""
    n, wrong = scores()
    assert n["groups right"] >= 0.97 * n["groups"], wrong
    assert n["out right"] >= 0.95 * n["out"], wrong
    assert n["false"] <= 0.02 * n["steps"], wrong


def test_every_piece_lies_where_it_was_said():
    text = "backed out four IP5 under the feet, two are longer"
    reading = read(text)[0]
    said = {p.field: text[p.start : p.end] for p in reading.pieces}
    assert said["action"] == "backed out"
    assert said["count"] == "four"
    assert said["drive"] == "IP5"
    assert said["under"] == "the feet"
    assert said["mixed"] == "two are longer"


@given(
    st.lists(
        st.sampled_from("the four six screws PH00 lid remove lift, . and under don't 2.5 mm board it unplug".split())
    )
)
def test_no_sentence_breaks_the_reader(words):
    text = " ".join(words)
    reading, memory = read(text)
    for piece in reading.pieces:
        assert 0 <= piece.start < piece.end <= len(text)
    read(text, memory)


@given(st.text(max_size=120))
def test_no_text_breaks_the_reader(text):
    read(text)


@given(st.integers(1, 40), st.sampled_from(["PH00", "T6", "IP5", "PZ2"]), st.sampled_from(["lid", "fan", "main board"]))
def test_counts_drives_and_parts_are_read_as_they_are_said(count, size, part):
    step = read(f"Undo the {count} {size} screws on the {part}.")[0].steps[0]
    assert (step.action, step.count, step.size, step.parts) == ("unscrew", count, size, (part,))


def test_a_taught_word_is_understood_from_then_on():
    sentence = "undo the six trigon screws on the lid"
    assert [p.value for p in read(sentence)[0].unknown] == ["trigon"]
    taught = with_words(parse_words('[drives]\ntrigon = "three-wing"\n'))
    reading = read(sentence, vocabulary=taught)[0]
    assert reading.steps[0].drive == "three-wing"
    assert reading.unknown == ()


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("[drives]\nx = ", "not a valid TOML"),
        ('[drives]\nx = "rivet"\n', "is not a drive"),
        ("[nonsense]\n", "not a section"),
        ("[parts]\nwords = 3\n", "list of words"),
        ('[actions]\nfly = ["hover"]\n', "is not an action"),
    ],
)
def test_a_bad_word_list_is_refused_with_its_place(text, words):
    with pytest.raises(NarrationError, match=words):
        parse_words(text, "my words")


@pytest.mark.parametrize(
    ("field", "typed", "after"),
    [
        ("count", "6", 6),
        ("length_mm", "0.25 cm", 2.5),
        ("torque_ncm", "0.12 Nm", 12.0),
        ("dwell_s", "1 min 20 s", 80.0),
        ("parts", "lid, seal", ("lid", "seal")),
        ("action", "Take out", "take out"),
        ("count", "", None),
    ],
)
def test_a_piece_is_corrected_as_typed(field, typed, after):
    step = read("undo four PH00 screws on the fan")[0].steps[0]
    assert getattr(correct(step, field, typed, shipped()), field) == after


@pytest.mark.parametrize(
    ("typed", "drive", "size"), [("T6", "hexalobular", "T6"), ("hex socket 2.5", "hex-socket", "2.5")]
)
def test_a_drive_is_corrected_as_typed(typed, drive, size):
    step = read("undo four PH00 screws on the fan")[0].steps[0]
    after = correct(step, "drive", typed, shipped())
    assert (after.drive, after.size) == (drive, size)
    for field, _, value, missing in shown_pieces(after):
        assert missing or correct(after, field, value, shipped()) == after


@pytest.mark.parametrize(
    ("field", "typed"), [("count", "many"), ("length_mm", "3 kg"), ("drive", "zz"), ("action", "fly")]
)
def test_a_correction_that_says_nothing_is_refused(field, typed):
    step = read("undo four PH00 screws on the fan")[0].steps[0]
    with pytest.raises(NarrationError):
        correct(step, field, typed, shipped())


SOUP = (
    "undo remove take lift pull the a two three four (4) eight x8 PH00 T6 M3 8mm screws screw clip clips tabs "
    "panel back fan lid off out up , . and then after undoing held by with under over black red wire wires "
    "connector it them there is are pry heat warm for minute glue tape 12 N·cm both all of same another more "
    "each left right J4 release open"
).split()


@given(st.lists(st.sampled_from(SOUP), min_size=1, max_size=14))
def test_any_words_of_the_bench_in_any_order_are_read_without_a_fault(words):
    reading = read(" ".join(words))[0]
    for step in reading.steps:
        assert step.action
        assert all(0 <= p.start <= p.end <= len(" ".join(words)) for p in step.pieces)
