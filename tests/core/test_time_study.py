"""The time study against known figures, a published learning curve, and laps that stand out."""

import random

import attrs
import pytest
from builders import study_of
from hypothesis import given
from hypothesis import strategies as st

from oddbolt.core.errors import ReachError
from oddbolt.core.reach import step_times, time_study
from oddbolt.core.reach.time_study import learning_rate, runs_until, units_of
from oddbolt.core.study import Device, Joint, Lap, Part, Run, Step, put
from oddbolt.demo import tide_logger

#: seconds of approach and of each unit that the made-up analyst takes
TRUE = {"screw": (4.0, 7.5), "clip": (2.0, 3.0), "connector": (0.0, 6.0), "part": (1.5, 0.0)}


def timed(laps=60, noise=0.0, slow=(), seed=3, factor=1.0):
    """A study whose laps follow TRUE, with some noise in s, and some laps twice as slow."""
    r = random.Random(seed)
    things, made = [], []
    for n in range(1, laps + 1):
        kind = ("screw", "clip", "connector", "screw")[n % 4]
        count = 1 if kind == "connector" else r.randint(1, 9)
        things += [Part(f"P{n}", f"part {n}"), Joint(f"J{n}", kind, holds=(f"P{n}",), count=count)]
        things.append(Step(f"S{n}", "undo", releases=(f"J{n}",), takes_out=(f"P{n}",) if n % 3 == 0 else ()))
        once, each = TRUE[kind]
        seconds = once + each * count + (TRUE["part"][0] if n % 3 == 0 else 0.0)
        seconds = max(0.5, (seconds + r.gauss(0, noise)) * factor) * (3 if n in slow else 1)
        made.append(Lap(f"S{n}", round(seconds, 3)))
    return study_of(*things, Run("R1", "timed", laps=tuple(made)))


def test_known_figures_are_found_again():
    found = {f.kind: f for f in time_study(timed()).fitted}
    for kind, (once, each) in TRUE.items():
        assert found[kind].approach_s + found[kind].each_s == pytest.approx(once + each, abs=1e-3)
        if kind in ("screw", "clip"):
            assert (found[kind].approach_s, found[kind].each_s) == pytest.approx((once, each), abs=1e-3)


def test_ranges_hold_the_truth_under_noise():
    study = time_study(timed(laps=160, noise=2.0))
    for f in study.fitted:
        if f.kind in ("screw", "clip"):
            low, high = f.each_span
            assert low - 0.25 <= TRUE[f.kind][1] <= high + 0.25
    assert 0.5 < study.typical_s < 2.5


def test_laps_that_stand_out_are_told():
    study = time_study(timed(laps=80, noise=1.0, slow=(17, 42)))
    assert {"S17", "S42"} <= {o.step for o in study.odd}
    assert len(study.odd) < 12


@given(st.floats(0.3, 4.0))
def test_a_slower_hand_is_slower_in_every_figure(factor):
    one, other = time_study(timed()), time_study(timed(factor=factor))
    for a, b in zip(one.fitted, other.fitted, strict=True):
        assert b.each_s == pytest.approx(a.each_s * factor, abs=0.02)
        assert min(a.each_s, a.approach_s, b.each_s, b.approach_s) >= 0


def test_the_fit_answers_for_steps_that_nobody_timed():
    study = timed()
    fit = time_study(study)
    step = Step("S999", "undo", releases=("J4",))
    count = study.joints["J4"].count
    assert fit.seconds(study, step) == pytest.approx(TRUE["screw"][0] + TRUE["screw"][1] * count, abs=0.01)
    empty = Step("S998", "look")
    assert fit.seconds(study, empty) > 0


def test_an_80_percent_curve_is_read_from_its_table():
    """Unit times 1 to 8 of an 80 % curve (Wright 1936; any table of learning curves)."""
    times = [100, 80, 70.21, 64, 59.56, 56.17, 53.45, 51.2]
    rate, first = learning_rate(times)
    assert rate == pytest.approx(0.8, abs=1e-4)
    assert first == pytest.approx(100, abs=0.02)
    assert runs_until(0.8, 100, 51.2) == pytest.approx(8, abs=0.01)
    assert runs_until(1.0, 100, 50) == float("inf")
    assert runs_until(0.8, 100, 120) == 1.0


def test_learning_is_read_from_runs_that_share_steps():
    study = timed(laps=12)
    first = study.runs["R1"]
    later = [
        Run(f"R{n}", "timed", laps=tuple(Lap(lap.step, lap.seconds * n**-0.3219) for lap in first.laps))
        for n in (2, 3, 4)
    ]
    both = study_of(*study.parts.values(), *study.joints.values(), *study.steps.values(), first, *later)
    found = time_study(both).learning
    assert found.rate == pytest.approx(0.8, abs=1e-3)
    assert found.steps == 12
    assert found.run_s(4) == pytest.approx(found.runs[3][1], rel=1e-3)
    assert time_study(study).learning is None


def test_too_few_laps_are_refused_and_the_demo_has_enough():
    with pytest.raises(ReachError, match="needs 4 timed steps"):
        time_study(timed(laps=3))
    with pytest.raises(ReachError, match="two runs"):
        learning_rate([3.0])
    demo = tide_logger.study()
    found = time_study(demo)
    assert found.laps == 122
    screws = next(f for f in found.fitted if f.kind == "screw")
    assert 5 < screws.each_s < 15
    assert units_of(demo, demo.steps["S3"]) == {"screw": (1, 8)}


def test_untimed_steps_take_this_benchs_times_if_one_says_so():
    study = timed()
    untimed = put(study, Step("S99", "undo", releases=("J1", "J4")))
    assert step_times(untimed)["S99"].basis == "estimated"
    ours = attrs.evolve(untimed, device=Device(times="bench"))
    assert step_times(ours)["S99"].basis == "fitted"
    assert step_times(ours)["S99"].seconds == pytest.approx(time_study(ours).seconds(ours, ours.steps["S99"]), abs=0.01)
    assert step_times(ours)["S5"] == step_times(study)["S5"]
    bare = attrs.evolve(put(timed(laps=2), Step("S99", "undo", releases=("J1",))), device=Device(times="bench"))
    assert step_times(bare)["S99"].basis == "estimated"
