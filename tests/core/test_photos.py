"""Photos: what is shown of them, where their callouts point, which step they belong to."""

import itertools

import pytest
from attrs import evolve
from builders import study_of
from hypothesis import given
from hypothesis import strategies as st

from oddbolt.core.errors import StudyError
from oddbolt.core.study import Callout, Lap, Photo, Run, Step, put
from oddbolt.core.study.photos import (
    callouts_of,
    cut,
    from_shown,
    in_reading_order,
    lettered,
    marked,
    moved,
    next_letter,
    pair,
    shown_size,
    step_when,
    to_shown,
    turned,
    whole,
    with_callout,
)

share = st.floats(0, 1)
boxes = st.tuples(st.floats(0, 0.4), st.floats(0, 0.4), st.floats(0.6, 1), st.floats(0.6, 1))
turns = st.sampled_from([90, 180, 270])


def photo_study(*callouts):
    return study_of(Step("S1", "do"), Photo("H1", "0" * 64, "S1", width=400, height=300), *callouts)


@given(st.lists(st.one_of(turns, boxes), max_size=5), share, share)
def test_cuts_and_turns_never_move_a_callout_off_what_it_points_at(changes, x, y):
    study = photo_study(Callout("C1", "H1", "A", x, y))
    try:
        for change in changes:
            study = turned(study, "H1", change) if isinstance(change, int) else cut(study, "H1", change)
    except StudyError:
        return
    photo, callout = study.photos["H1"], study.callouts["C1"]
    assert from_shown(photo, to_shown(photo, (callout.x, callout.y))) == pytest.approx((x, y))
    assert (callout.x, callout.y) == (x, y)
    again = whole(turned(study, "H1", 360 - photo.turn), "H1").photos["H1"]
    assert shown_size(again) == (400, 300)
    assert to_shown(again, (x, y)) == pytest.approx((x, y))


def test_turning_is_clockwise_as_a_hand_turns_a_print():
    study = turned(photo_study(), "H1", 90)
    photo = study.photos["H1"]
    assert shown_size(photo) == (300, 400)
    assert to_shown(photo, (0, 0)) == (1, 0)  # the upper left corner comes to lie at the upper right
    right_half = cut(study, "H1", (0.5, 0, 1, 1)).photos["H1"]
    assert (right_half.top, right_half.bottom, right_half.left, right_half.right) == (0, 0.5, 0, 1)


def test_too_small_a_cut_is_refused():
    with pytest.raises(StudyError, match="crop less"):
        cut(photo_study(), "H1", (0.5, 0.5, 0.505, 0.9))


@given(st.lists(st.tuples(share, share), min_size=1, max_size=9), turns)
def test_letters_in_reading_order_are_those_callouts_from_the_top(points, turn):
    study = turned(photo_study(), "H1", turn)
    for at in points:
        study, _ = with_callout(study, "H1", at)
    ordered = callouts_of(in_reading_order(study, "H1"), "H1")
    assert [c.letter for c in ordered] == list("ABCDEFGHJ")[: len(points)]
    photo = study.photos["H1"]
    ys = [to_shown(photo, (c.x, c.y))[1] for c in ordered]
    assert all(later > earlier - 0.0801 for earlier, later in itertools.pairwise(ys))


def test_letters_skip_those_like_figures_and_swap():
    used = []
    for _ in range(26):
        used.append(next_letter(used))
    assert not {"I", "O"} & set(used)
    assert used[-2:] == ["AA", "AB"]
    study = photo_study(Callout("C1", "H1", "A", 0, 0), Callout("C2", "H1", "B", 1, 1))
    swapped = lettered(study, "C1", "b")
    assert [c.id for c in callouts_of(swapped, "H1")] == ["C2", "C1"]
    with pytest.raises(StudyError, match="letter"):
        lettered(study, "C1", " ")


def test_a_callout_is_moved_as_the_eye_sees_it_and_stays_on_the_picture():
    study = turned(photo_study(Callout("C1", "H1", "A", 0.5, 0.5)), "H1", 90)
    up = moved(study, "C1", (0, -0.1)).callouts["C1"]
    assert (up.x, up.y) == pytest.approx((0.4, 0.5))
    far = moved(study, "C1", (9, 9)).callouts["C1"]
    assert (far.x, far.y) == (1, 0)


def test_one_photo_of_a_step_is_the_one_before():
    study = put(photo_study(), Photo("H2", "1" * 64, "S1"))
    study = marked(marked(study, "H1", "before"), "H2", "after")
    assert pair(study, "S1") == (study.photos["H1"], study.photos["H2"])
    study = marked(study, "H2", "before")
    assert [p.role for p in study.photos.values()] == ["", "before"]
    loose = put(study, evolve(study.photos["H1"], step=""))
    with pytest.raises(StudyError, match="no step"):
        marked(loose, "H1", "after")


def test_without_marks_the_photo_of_an_earlier_step_is_the_one_before():
    study = study_of(Step("S1", "do"), Step("S2", "do"), Photo("H1", "0" * 64, "S1"), Photo("H2", "1" * 64, "S2"))
    assert pair(study, "S2") == (study.photos["H1"], study.photos["H2"])
    assert pair(study, "S1") is None


def test_a_picture_belongs_to_the_step_logged_last_when_it_was_taken():
    laps = (Lap("S1", 60, "2026-03-01T10:01:00"), Lap("S2", 90, "2026-03-01T10:02:30"))
    study = study_of(Step("S1", "do"), Step("S2", "do"), Run("R1", "discovery", "2026-03-01T10:00:00", laps))
    at = {"10:00:30": "", "10:01:00": "S1", "10:02:29": "S1", "10:02:30": "S2", "18:00:00": "S2", "09:00:00": ""}
    assert {t: step_when(study, f"2026-03-01T{t}") for t in at} == at
    assert step_when(study, "2026-03-02T10:02:00") == step_when(study, "") == ""
