"""A time study of the laps: what each kind of joint takes on this bench, which laps stand out, how fast one learns.

Seconds of a step are taken as a sum over its joints of an approach and so much per unit (per screw, clip, plug; per cm
of glue or tape), and so much per part handled. The figures are fitted to all laps by non-negative least squares (Lawson
and Hanson 1974); their ranges come from refitting resampled laps (bootstrap, Efron 1979), laps that stand out from the
modified z-score (Iglewicz and Hoaglin 1993). Learning is log-linear over runs (Wright 1936): the n-th takes what the
first took, times n to a power.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import lru_cache
from math import log, log2

import numpy as np
from attrs import frozen
from numpy.typing import NDArray

from oddbolt.core.errors import ReachError
from oddbolt.core.reach.motions import estimate, recipe_seconds
from oddbolt.core.reference.joint_kinds import ids_where, joint_kinds
from oddbolt.core.reference.tables import table
from oddbolt.core.study import Step, Study

Array = NDArray[np.float64]
LEAST_LAPS, RESAMPLED, SEED = 4, 200, 11
#: a modified z-score beyond this marks a lap (Iglewicz and Hoaglin 1993)
STANDS_OUT = 3.5


@frozen
class Fitted:
    """What one kind of joint takes: ``approach_s`` once and ``each_s`` per unit, with the middle 80 % of refits as
    ``spans``, and what elementary motions say. ``laps`` is in how many laps it occurs. "part": handling."""

    kind: str
    unit: str
    laps: int
    approach_s: float
    each_s: float
    approach_span: tuple[float, float]
    each_span: tuple[float, float]
    motions_approach_s: float
    motions_each_s: float


@frozen
class OddLap:
    """A lap that stands out: what it took, and what the fit expects."""

    run: str
    step: str
    seconds: float
    expected_s: float


@frozen
class Learning:
    """How the time of the steps that every run holds falls: ``rate`` is the share that a doubling of runs leaves (0.8:
    an 80 % curve), ``first_s`` the fitted time of the first run, ``runs`` their ids and times in order."""

    rate: float
    first_s: float
    steps: int
    runs: tuple[tuple[str, float], ...]

    def run_s(self, n: int) -> float:
        """The time that the curve expects of the n-th run."""
        return float(self.first_s * n ** log2(self.rate))


@frozen
class TimeStudy:
    """A fit over all laps; ``typical_s`` is the median distance of a lap from it."""

    fitted: tuple[Fitted, ...]
    laps: int
    typical_s: float
    odd: tuple[OddLap, ...]
    learning: Learning | None

    def seconds(self, study: Study, step: Step) -> float:
        """What the fit expects of a step; elementary motions stand in for kinds that no lap tells of."""
        known = {f.kind: f for f in self.fitted}
        total, wanted = 0.0, units_of(study, step)
        for kind, (joints, units) in wanted.items():
            if kind in known:
                total += joints * known[kind].approach_s + units * known[kind].each_s
            else:
                total += joints * recipe_seconds(kind, "once") + units * _motions_each(kind)
        return total or estimate(study, step)


@lru_cache(maxsize=4)
def time_study(study: Study) -> TimeStudy:
    """The time study of a study's laps taken apart. Raises ReachError where there are too few."""
    laps = [
        (run.id, study.steps[lap.step], lap.seconds)
        for run in study.runs.values()
        for lap in run.laps
        if lap.seconds > 0 and run.kind != "put back" and study.steps[lap.step].phase == "apart"
    ]
    laps = [lap for lap in laps if units_of(study, lap[1])]
    if len(laps) < LEAST_LAPS:
        raise ReachError(
            f"A time study needs {LEAST_LAPS} timed steps at least; there are {len(laps)}. Time a run first."
        )
    wanted = [units_of(study, step) for _, step, _ in laps]
    kinds = list(dict.fromkeys(kind for w in wanted for kind in w))
    matrix = np.array([[figure for k in kinds for figure in w.get(k, (0.0, 0.0))] for w in wanted])
    for n in range(len(kinds)):  # where every joint has one unit, approach and unit cannot be told apart
        if np.array_equal(matrix[:, 2 * n], matrix[:, 2 * n + 1]):
            matrix[:, 2 * n] = 0.0
    seconds = np.array([lap[2] for lap in laps])
    best = _fit(matrix, seconds)
    rng = np.random.default_rng(SEED)
    drawn = [rng.integers(0, len(laps), len(laps)) for _ in range(RESAMPLED)]
    refits = np.array([_fit(matrix[rows], seconds[rows]) for rows in drawn])
    low, high = np.percentile(refits, (10, 90), axis=0)
    fitted = tuple(
        Fitted(
            kind,
            "cm" if kind in PER_CM else "part" if kind == "part" else "piece",
            int((matrix[:, 2 * n + 1] > 0).sum()),
            float(best[2 * n]),
            float(best[2 * n + 1]),
            (float(low[2 * n]), float(high[2 * n])),
            (float(low[2 * n + 1]), float(high[2 * n + 1])),
            recipe_seconds(kind, "once"),
            _motions_each(kind),
        )
        for n, kind in enumerate(kinds)
    )
    expected = matrix @ best
    scores = _scores(seconds - expected)
    odd = tuple(
        OddLap(run, step.id, took, float(expected[n]))
        for n, (run, step, took) in enumerate(laps)
        if scores[n] > STANDS_OUT
    )
    typical = float(np.median(np.abs(seconds - expected)))
    return TimeStudy(fitted, len(laps), typical, odd, learning(study))


#: kinds whose units are cm of length
PER_CM = frozenset({*(kind.id for kind in joint_kinds().values() if kind.unit == "cm"), "soften"})


def units_of(study: Study, step: Step) -> Mapping[str, tuple[float, float]]:
    """For each kind of work in a step: how many joints, and how many units."""
    out: dict[str, tuple[float, float]] = {}

    def add(kind: str, joints: float, units: float) -> None:
        have = out.get(kind, (0.0, 0.0))
        out[kind] = have[0] + joints, have[1] + units

    assume = table("motions")["assume"]
    for ids, softened in ((step.releases, False), (step.softens, True)):
        for id in ids:
            joint = study.joints[id]
            kind = "soften" if softened else joint.kind
            if kind in PER_CM:
                usual = joint_kinds()["adhesive" if softened else kind].usual_length_mm or 0.0
                add(kind, 1, (joint.length_mm or usual) / 10 * (joint.count or 1))
            else:
                add(kind, 1, float(joint.count or assume["screws_in_a_group_not_counted"]))
    handled = len(step.takes_out) + len(step.opens)
    if handled:
        add("part", 1, handled)
    return out


def learning(study: Study) -> Learning | None:
    """The learning curve over the runs that share steps, in order of the record; None for fewer than two."""
    runs = [r for r in study.runs.values() if r.laps and r.kind != "put back"]
    shared = set.intersection(*({lap.step for lap in r.laps} for r in runs)) if len(runs) > 1 else set()
    if not shared:
        return None
    times = [(r.id, sum(lap.seconds for lap in r.laps if lap.step in shared)) for r in runs]
    rate, first = learning_rate([t for _, t in times])
    return Learning(rate, first, len(shared), tuple(times))


def learning_rate(times_s: Sequence[float]) -> tuple[float, float]:
    """The rate (share left by a doubling) and first time of the log-linear curve through times of runs 1, 2, …

    Least squares of log time over log number. Raises ReachError for fewer than two times or one not above zero.
    """
    if len(times_s) < 2 or min(times_s) <= 0:
        raise ReachError("A learning curve needs two runs or more, each with a time.")
    slope, start = np.polyfit(np.log(np.arange(1, len(times_s) + 1)), np.log(times_s), 1)
    return float(2**slope), float(np.exp(start))


def runs_until(rate: float, first_s: float, wanted_s: float) -> float:
    """The run that takes ``wanted_s``: (wanted/first) to the power 1/log2(rate); infinite if none will."""
    if wanted_s >= first_s:
        return 1.0
    return float("inf") if rate >= 1 else float(2 ** (log(wanted_s / first_s) / log(rate)))


def _fit(matrix: Array, seconds: Array) -> Array:
    from scipy.optimize import nnls  # a heavy import, wanted only here

    figures: Array = nnls(matrix, seconds)[0]
    return figures


def _scores(residuals: Array) -> Array:
    """Modified z-scores: 0.6745 times the distance from the median over the median absolute deviation."""
    middle = np.median(residuals)
    spread = float(np.median(np.abs(residuals - middle)))
    scores: Array = np.zeros(len(residuals)) if spread == 0 else 0.6745 * np.abs(residuals - middle) / spread
    return scores


def _motions_each(kind: str) -> float:
    """What elementary motions say of one unit, screws at the usual length and pitch."""
    assume = table("motions")["assume"]
    if kind in PER_CM:
        return recipe_seconds(kind, "per_cm")
    turns = float(assume["screw_length_mm"]) / float(assume["screw_pitch_mm"]) if kind in ids_where("threaded") else 0.0
    return recipe_seconds(kind, "each") + 2 * turns * (recipe_seconds("screw", "half_turn") if turns else 0.0)
