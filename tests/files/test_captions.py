"""Caption files of every kind, and files that are none."""

import pytest

from oddbolt.core.errors import NarrationError
from oddbolt.core.narration import Cue, draft
from oddbolt.core.narration.captions import sentences
from oddbolt.files.captions import LARGEST_BYTES, parse_cues, read_cues

VTT = "WEBVTT\n\n1\n00:00:01.500 --> 00:00:03.000 align:start\n<v Ann>Lift the lid.</v>\n"
SRT = "1\n00:00:01,500 --> 00:00:03,000\nLift the lid.\n"


@pytest.mark.parametrize(
    ("text", "suffix"), [(VTT, ".vtt"), (SRT, ".srt"), (SRT, ".txt"), ("[0:01.5] Lift the lid.\n", ".txt")]
)
def test_the_same_words_at_the_same_time(text, suffix):
    (cue,) = parse_cues(text, suffix)
    assert cue.start_s == 1.5
    assert draft([cue]).steps[0].parts == ("lid",)


@pytest.mark.parametrize("codec", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
def test_encodings_people_have(tmp_path, codec):
    path = tmp_path / "a.txt"
    path.write_bytes("[0:01] Lift the café lid.\n".encode(codec))
    assert read_cues(path)[0].text == "Lift the café lid."


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("empty.vtt", b"", "no captions"),
        ("blank.srt", b"\n\n  \n", "no captions"),
        ("binary.srt", bytes(range(256)) * 40, "not text"),
        ("zeros.txt", bytes(5000), "not text"),
        ("huge.txt", b"x" * (LARGEST_BYTES + 1), "MB"),
        ("other.vtt", b"Lift the lid.\n", "WEBVTT"),
        ("head only.vtt", b"WEBVTT\n\n", "no captions"),
        ("times.vtt", b"WEBVTT\n\n00:00:xx --> 00:00:03.000\nLift\n", "times.vtt"),
    ],
)
def test_what_holds_no_captions_is_refused_by_name(tmp_path, name, data, words):
    path = tmp_path / name
    path.write_bytes(data)
    with pytest.raises(NarrationError, match=words) as told:
        read_cues(path)
    assert name in str(told.value)
    assert str(told.value).count(". ") <= 1


def test_a_missing_file_is_refused_by_name(tmp_path):
    with pytest.raises(NarrationError, match=r"none\.srt cannot be read"):
        read_cues(tmp_path / "none.srt")


def test_rolling_captions_are_taken_once():
    cues = [Cue(0, 2, "undo the four screws"), Cue(2, 4, "undo the four screws\non the fan"), Cue(4, 6, "on the fan")]
    steps = draft(cues).steps
    assert [(s.count, s.parts) for s in steps] == [(4, ("fan",))]


def test_captions_without_stops_are_cut_where_a_cue_ends_its_phrase():
    words = "then i take the next thing off the bench and look at it for quite a while because it is nice"
    cues = [
        Cue(0, 3, words),
        Cue(3, 6, "undo the four screws on"),
        Cue(6, 9, "the fan"),
        Cue(9, 12, "lift the lid off"),
    ]
    texts = [s.text for s in sentences(cues)]
    assert texts == [words, "undo the four screws on the fan", "lift the lid off"]


def test_repeats_and_farewells_are_no_steps():
    cues = [Cue(i, i + 1, "Thank you for watching.") for i in range(3)]
    log = draft(cues)
    assert (log.steps, log.not_steps) == ((), 1)


def test_times_may_stand_without_brackets_but_figures_are_no_times():
    bare = parse_cues("0:05 Undo two screws.\n1:02:03 Lift the lid.\n4 screws more.\n", ".txt")
    assert [(cue.start_s, cue.text) for cue in bare] == [
        (5.0, "Undo two screws."),
        (3723.0, "Lift the lid."),
        (3723.0, "4 screws more."),
    ]


def test_typed_lines_are_notes_of_their_own_unless_an_editor_broke_them():
    typed = (
        "brush holders: 1 PH2 each\nbrushes 9 mm L, 11 mm R\nbearing pressed on\nseals new\nlid, held by the\nscrews\n"
    )
    long = "the rear shell is held by six screws and a bead of sealant, of which\ntwo are hidden under the label\n"
    texts = [s.text for s in sentences(parse_cues(typed + long, ".txt"))]
    assert texts[:4] == typed.split("\n")[:4]
    assert texts[4:] == ["lid, held by the screws", long.strip().replace("\n", " ")]
