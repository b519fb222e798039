"""A narration gone through line by line."""

from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from oddbolt.core.errors import NarrationError
from oddbolt.core.narration import Cue, draft, read, shipped, with_words
from oddbolt.core.narration import review as r
from oddbolt.core.narration.recording import log_with_times
from oddbolt.core.study import Study
from oddbolt.files.captions import read_cues

FOLDER = Path(__file__).parents[1] / "narration"
WORDS = shipped()
TALK = [
    Cue(0, 4, "Undo the four PH00 screws on the lid."),
    Cue(5, 8, "Lift the lid off."),
    Cue(9, 12, "Now the two trigon screws on the fan."),
    Cue(13, 15, "Take the fan out."),
    Cue(16, 20, "Undo the four PH00 screws on the lid."),
]


def kinds(review):
    return [(s.action, s.count, s.parts) for s in r.drafted(review).steps]


@pytest.mark.parametrize("path", [p for p in sorted(FOLDER.iterdir()) if p.suffix in (".vtt", ".srt", ".txt")])
def test_a_review_nobody_touched_is_the_draft(path):
    cues = read_cues(path)
    assert r.drafted(r.begin(cues, WORDS)).json() == draft(cues).json()


def test_lines_are_dropped_and_taken_back():
    review = r.begin(TALK, WORDS)
    dropped = r.marked(review, 1, r.DROPPED, WORDS)
    assert [k[0] for k in kinds(dropped)] == [k[0] for k in kinds(review) if k[2] != ("lid",) or k[0] != "take out"]
    assert kinds(r.marked(dropped, 1, r.OPEN, WORDS)) == kinds(review)
    kept = r.marked(review, 0, r.KEPT, WORDS)
    assert kept[1:] == review[1:]


def test_a_repeat_counts_once_unless_it_is_kept():
    review = r.begin([TALK[0], TALK[0]], WORDS)
    assert [line.repeat for line in review] == [False, True]
    assert len(kinds(review)) == 1
    assert len(kinds(r.marked(review, 1, r.KEPT, WORDS))) in (1, 2)


def test_a_line_put_right_stays_so_when_the_rest_is_read_again():
    review = r.begin(TALK, WORDS)
    text = "Undo the five PH00 screws on the lid."
    reading = read(text, review[0].before, WORDS)[0]
    review = r.corrected(review, 0, text, reading, WORDS)
    assert (review[0].state, review[0].fixed, kinds(review)[0][1]) == (r.KEPT, True, 5)
    again, _ = r.taught(review, with_words({"drives": {"trigon": "three-wing"}}))
    assert kinds(again)[0][1] == 5


def test_a_word_taught_changes_every_line_that_says_it():
    review = r.begin([*TALK, Cue(21, 24, "Three trigon screws at the back.")], WORDS)
    again, changed = r.taught(review, with_words({"drives": {"trigon": "three-wing"}}))
    assert changed == 2
    drives = [s.drive for s in r.drafted(again).steps if s.action == "unscrew"]
    assert drives.count("three-wing") == 2


@given(st.integers(0, 3))
def test_joining_and_parting_undo_each_other(n):
    review = r.begin(TALK, WORDS)
    one = r.joined(review, n, WORDS)
    assert len(one) == len(review) - 1
    two = r.parted(one, n, len(review[n].text.rstrip(" .")), WORDS)
    assert [line.text.strip(" .").lower() for line in two] == [line.text.strip(" .").lower() for line in review]
    assert review[n].at_s <= two[n].at_s <= two[n + 1].at_s


@given(st.integers(0, 3), st.integers(1, 3), st.integers(1, 3))
def test_lines_read_again_piece_by_piece_end_where_all_at_once_does(n, most, piece):
    review = r.begin(TALK, WORDS)
    whole = r.marked(review, n, r.DROPPED, WORDS)
    pieces = r.marked(review, n, r.DROPPED, WORDS, most=most)
    assert [line.stale for line in pieces] == [k >= n + most for k in range(len(review))]
    rounds = 0
    while any(line.stale for line in pieces):
        pieces = r.carried_on(pieces, WORDS, piece)
        rounds += 1
    assert rounds <= len(review)
    assert r.drafted(pieces).json() == r.drafted(whole).json()
    assert [line.before.counter for line in pieces] == [line.before.counter for line in whole]


def test_what_cannot_be_joined_or_parted_is_said():
    review = r.begin(TALK, WORDS)
    with pytest.raises(NarrationError, match="no next line"):
        r.joined(review, len(review) - 1, WORDS)
    for at in (0, 1000):
        with pytest.raises(NarrationError, match="both halves need words"):
            r.parted(review, 0, at, WORDS)


def test_captions_give_a_first_estimate_of_times():
    cues = [*TALK[:4], Cue(900, 904, "Unplug the motor lead.")]
    study = log_with_times(Study(), draft(cues))
    (run,) = study.runs.values()
    assert (run.kind, run.started) == ("discovery", "from captions")
    laps = {study.steps[lap.step].verb: lap.seconds for lap in run.laps}
    assert [lap.seconds for lap in run.laps][:3] == [5, 4, 4]
    assert "disconnect" not in laps
    assert len(run.laps) == 3
    assert log_with_times(Study(), draft([])).runs == {}
