"""How sure a route's time is: each step a log-normal time about its own, the whole sampled with its waits.

The spread of a step comes from its laps where it has several, else from what its time rests on. Log-normal times and
sampled sums: common practice.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from math import log
from statistics import stdev

import numpy as np
from attrs import frozen
from numpy.typing import NDArray

from oddbolt.core.reach.motions import bench_seconds
from oddbolt.core.reach.routes import Leg
from oddbolt.core.reach.three_point import told
from oddbolt.core.study import Study

Floats = NDArray[np.float64]
SAMPLES, SEED = 4000, 17
#: deviation of the log of a step's time by what it rests on (common practice, no source): one lap, a fit, motions
ONE_LAP, FITTED, ESTIMATED = 0.2, 0.25, 0.4
#: laps of one step agree by chance; their deviation is not believed below this
LEAST_SPREAD = 0.08


@frozen
class Spread:
    """The time of a route: half of all times lie below ``p50_s``, nine in ten below ``p90_s``; ``shares`` are the steps
    by how much of the uncertainty each carries, the most first; together 1."""

    p50_s: float
    p90_s: float
    mean_s: float
    shares: tuple[tuple[str, float], ...]


def step_spreads(study: Study, legs: Sequence[Leg]) -> Floats:
    """The deviation of the log of each step's time."""
    laps: dict[str, list[float]] = {}
    for run in study.runs.values():
        if run.kind != "put back":
            for lap in run.laps:
                if lap.seconds > 0:
                    laps.setdefault(lap.step, []).append(log(lap.seconds))
    out = []
    for leg in legs:
        own, said = laps.get(leg.step, []), told(study.steps[leg.step])
        if leg.basis == "measured" and len(own) > 1:
            out.append(max(LEAST_SPREAD, stdev(own)))
        elif leg.basis == "told" and said:
            out.append(said[1])
        else:
            out.append({"measured": ONE_LAP, "fitted": FITTED}.get(leg.basis, ESTIMATED))
    return np.array(out)


@lru_cache(maxsize=16)
def spread_of(study: Study, legs: tuple[Leg, ...], samples: int = SAMPLES, seed: int = SEED) -> Spread:
    """The spread of the time of these steps in this order. A step's own time is taken as its median."""
    if not legs:
        return Spread(0.0, 0.0, 0.0, ())
    sigma = step_spreads(study, legs)
    drawn = np.random.default_rng(seed).normal(size=(samples, len(legs)))
    times = np.array([leg.seconds for leg in legs]) * np.exp(drawn * sigma)
    total = _finished(study, legs, times)
    part = np.array([_share(times[:, k], total) for k in range(len(legs))])
    part = part / max(part.sum(), 1e-12)
    shares = sorted(zip([leg.step for leg in legs], part.tolist(), strict=True), key=lambda s: -s[1])
    p50, p90 = (float(v) for v in np.quantile(total, [0.5, 0.9]))
    return Spread(p50, p90, float(total.mean()), tuple(shares))


def _share(one: Floats, total: Floats) -> float:
    """How much of the whole's variance goes with this step: the square of their correlation."""
    if one.std() < 1e-12 or total.std() < 1e-12:
        return 0.0
    return float(np.corrcoef(one, total)[0, 1] ** 2)


def _finished(study: Study, legs: Sequence[Leg], times: Floats) -> Floats:
    """When the last step ends, for each row of times: hand work, changes of tool and face, and waits."""
    clock = np.zeros(len(times))
    ready: dict[str, Floats] = {}
    for k, leg in enumerate(legs):
        step = study.steps[leg.step]
        changes = leg.change + bool(leg.fetch)  # a tool fetched while waiting takes its time all the same
        clock = clock + changes * bench_seconds("tool change") + leg.turn * bench_seconds("turn over")
        for joint in step.releases:
            if joint in ready:
                clock = np.maximum(clock, ready[joint])
        clock = clock + times[:, k]
        for joint in step.softens:
            ready[joint] = clock + step.wait_s
    return clock
