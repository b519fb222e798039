"""The tray plan against every order, and against what it must never do."""

from itertools import permutations

import numpy as np
import pytest
from attrs import evolve
from hypothesis import given, settings
from hypothesis import strategies as st

from oddbolt.core.errors import BenchError
from oddbolt.core.fasteners.tray import BESIDE, _assigned, _nearness, _order_cost, plan, tray
from oddbolt.core.fasteners.tray_tally import in_words, lying, ticked, ticks, with_lying
from oddbolt.core.study import Joint, Step, Study, put


def study_of(lengths):
    study = Study()
    for n, length in enumerate(lengths, 1):
        study = put(study, Joint(f"J{n}", "screw", drive="cross", size="PH00", thread="M1.6", length_mm=length))
        study = put(study, Step(f"S{n}", "unscrew", releases=(f"J{n}",)))
    return study


@settings(max_examples=25, deadline=None)
@given(st.integers(2, 6), st.sampled_from([(2, 3), (3, 2), (1, 6), (2, 4)]), st.randoms(use_true_random=False))
def test_no_order_is_better_than_the_plan(n, grid, random):
    """Brute force over every placing of up to six groups."""
    into = tray(f"{grid[0]}x{grid[1]}")
    alike = np.zeros((n, n))
    for i in range(n):
        for j in range(i):
            alike[i, j] = alike[j, i] = random.choice([0, 0, 0.1, 0.5])
    order, near = _order_cost(n, into), _nearness(into)
    _place, cost, bound = _assigned(order, near, alike, 30.0)
    best = min(
        order[np.arange(n), list(p)].sum() + BESIDE * 0.5 * (alike * near[np.ix_(p, p)]).sum()
        for p in permutations(range(into.count), n)
    )
    assert cost == pytest.approx(best)
    assert bound <= cost + 1e-9


def test_look_alikes_lie_apart_and_the_order_is_kept_where_it_can_be():
    study = study_of([4.0, 4.5, 12.0, 20.0])
    found = plan(study, tray("2x4"), budget_s=30)
    assert found.gap == 0
    assert not found.beside
    assert [j for j in found.of if j] != []
    far = plan(study_of([3.0, 8.0, 20.0]), tray("1x3"), budget_s=30)
    assert far.of == ("J1", "J2", "J3")


def test_by_kind_is_the_other_school():
    study = study_of([12.0, 3.0])
    study = put(study, evolve(study.joints["J2"], drive="hexalobular", size="T5"))
    study = put(study, Joint("J3", "screw", drive="cross", size="PH00", length_mm=30.0))
    study = put(study, Step("S9", "unscrew", releases=("J3",)))
    assert [j for j in plan(study, tray("1x3"), budget_s=30).of if j] == ["J1", "J2", "J3"]
    assert [j for j in plan(study, tray("1x3"), by_kind=True, budget_s=30).of if j] == ["J3", "J1", "J2"]


@pytest.mark.parametrize("text", ["", "4", "4x", "0x3", "x", "50x50", "axb", "6+", "6+0", "99999999x1", "4x4+2"])
def test_what_is_no_tray_is_refused(text):
    with pytest.raises(BenchError):
        tray(text)


def test_too_small_a_tray_or_no_screws_is_said():
    with pytest.raises(BenchError, match="larger tray"):
        plan(study_of([1.0, 2.0, 3.0]), tray("1x2"))
    with pytest.raises(BenchError, match="no screws"):
        plan(Study(), tray("1x2"))


def test_rows_of_ones_own_tray_may_differ():
    """By hand: over four in a row lie two, so each of these has three beside it or more."""
    into = tray("4+2", width_mm=80, height_mm=40)
    assert into.count == 6
    assert into.boxes[4] == (0, 20, 40, 20)
    near = _nearness(into)
    assert np.allclose(near, near.T)
    assert near[0].tolist() == [0, 1, 0, 0, 1, 0]
    assert near[1].tolist() == [1, 0, 1, 0, 1, 0.5]
    assert near[4].tolist() == [1, 1, 0.5, 0, 0, 1]


@settings(max_examples=60, deadline=None)
@given(st.integers(1, 9), st.lists(st.one_of(st.none(), st.integers(0, 12)), max_size=12))
def test_no_screw_is_ticked_that_is_not_there_and_none_gets_lost(count, said):
    """Whatever is ticked, in any order: what lies there, what was taken and what was laid in agree."""
    study = put(Study(), Joint("J1", "screw", count=count))
    for now in said:
        before = study.joints["J1"]
        try:
            study = ticked(study, "J1") if now is None else with_lying(study, "J1", now)
        except BenchError:
            assert now is not None
            assert now > count - (before.taken or 0)
            continue
        joint = study.joints["J1"]
        there = lying(joint)
        assert there is None or 0 <= there <= (joint.laid or 0) <= count
        if now is not None:
            assert there == now
    words = in_words(study.joints["J1"])
    assert bool(words) == bool(ticks(study)) == (study.joints["J1"].laid is not None)


def test_ticking_says_what_is_short_and_what_was_left_behind():
    study = put(put(Study(), Joint("J1", "screw", name="Feet", count=4)), Joint("J2", "screw", name="Lid", count=2))
    study = ticked(with_lying(study, "J1", 3), "J2")
    assert ticks(study) == "5 screws in the tray; never laid in: 1 of Feet."
    study = with_lying(ticked(study, "J2"), "J1", 1)
    assert in_words(study.joints["J1"]) == "2 of 4 out again"
    assert "still there of those taken out: 1 of Feet" in ticks(study)
    assert study.joints["J2"].taken == 2
    study = ticked(study, "J2")
    assert study.joints["J2"].laid is None
    with pytest.raises(BenchError, match="never counted"):
        ticked(put(study, Joint("J3", "screw", count=None)), "J3")
    with pytest.raises(BenchError, match="is not a screw"):
        with_lying(put(study, Joint("J4", "clip")), "J4", 1)
