"""Seconds of a step: measured where runs exist, else as somebody told them, else fitted to this bench's laps if the
device asks for it, else summed from elementary motions."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import lru_cache
from operator import is_
from statistics import median

from attrs import frozen

from oddbolt.core.errors import ReachError
from oddbolt.core.reach.motions import estimate
from oddbolt.core.reach.three_point import told
from oddbolt.core.reach.time_study import time_study
from oddbolt.core.study import Joint, Step, Study


@frozen
class StepTime:
    """Hand work of a step in s, and what that rests on: "measured", "told" by somebody, "fitted" to this bench's laps,
    or "estimated"."""

    seconds: float
    basis: str


@lru_cache(maxsize=4)
def step_times(study: Study) -> Mapping[str, StepTime]:
    """Seconds of every step. Laps of timed runs count before those of discovery runs; several give their median."""
    laps: dict[str, dict[str, list[float]]] = {}
    for run in study.runs.values():
        for lap in run.laps:
            if lap.seconds > 0:
                laps.setdefault(lap.step, {}).setdefault(run.kind, []).append(lap.seconds)
    out = {}
    fitted = _fitted(study)
    for id, step in study.steps.items():
        kinds = laps.get(id, {})
        kind = next((k for k in ("timed", "discovery") if k in kinds), "") if step.phase == "apart" else "put back"
        if kind in kinds:
            out[id] = StepTime(median(kinds[kind]), "measured")
        elif said := told(step):
            out[id] = StepTime(round(said[0], 2), "told")
        else:
            out[id] = fitted(step) if fitted else _estimated(study, step)
    return out


#: what steps were estimated at, with what that rested on; most are the same in the next study
_known: dict[str, tuple[Step, tuple[Joint, ...], StepTime]] = {}


def _estimated(study: Study, step: Step) -> StepTime:
    joints = tuple([study.joints[j] for j in (*step.releases, *step.softens)])
    known = _known.get(step.id)
    if known is not None and known[0] is step and len(known[1]) == len(joints) and all(map(is_, known[1], joints)):
        return known[2]
    made = StepTime(round(estimate(study, step), 2), "estimated")
    _known[step.id] = (step, joints, made)
    return made


def _fitted(study: Study) -> Callable[[Step], StepTime] | None:
    """What the time study says of a step, if the study asks for this bench's times and has laps enough."""
    if study.device.times != "bench":
        return None
    try:
        found = time_study(study)
    except ReachError:
        return None
    return lambda step: StepTime(round(found.seconds(study, step), 2), "fitted")
