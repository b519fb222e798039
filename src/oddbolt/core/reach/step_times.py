"""Seconds of a step: measured where runs exist, else as somebody told them, else summed from elementary motions.

Source of the method: predetermined motion times (Maynard, Stegemerten, Schwab 1948); the values stand in
``reference/motions.toml`` with their verification state. 1 TMU = 0.036 s exactly.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import lru_cache
from operator import is_
from statistics import median

from attrs import frozen

from oddbolt.core.errors import ReachError
from oddbolt.core.reach.three_point import told
from oddbolt.core.reference.joint_kinds import joint_kinds
from oddbolt.core.reference.tables import table, thread_of
from oddbolt.core.study import Joint, Step, Study


@frozen
class StepTime:
    """Hand work of a step in s, and what that rests on: "measured", "told" by somebody, "fitted" to this bench's laps,
    or "estimated"."""

    seconds: float
    basis: str


def motion_seconds(codes: tuple[str, ...] | list[str]) -> float:
    """The seconds of a list of motion codes such as ``["EF", "M30B"]``."""
    data = table("motions")
    return float(sum(data["motions"][code]["tmu"] for code in codes)) * float(data["tmu"]["seconds"])


@lru_cache(maxsize=64)
def recipe_seconds(kind: str, term: str) -> float:
    """The seconds of one term ("once", "each", "half_turn", "per_cm") of a recipe."""
    return motion_seconds(table("motions")["recipes"][kind].get(term, []))


def bench_seconds(event: str) -> float:
    """Seconds of a "tool change" or a "turn over"."""
    return recipe_seconds(event, "once")


@lru_cache(maxsize=20_000)
def joint_seconds(joint: Joint) -> float:
    """Estimated seconds to release a joint, from its kind, count, length and pitch."""
    assume = table("motions")["assume"]
    count = joint.count if joint.count is not None else int(assume["screws_in_a_group_not_counted"])
    seconds = recipe_seconds(joint.kind, "once") + count * recipe_seconds(joint.kind, "each")
    kind = joint_kinds()[joint.kind]
    if kind.threaded:
        thread = thread_of(joint.thread) if joint.thread else None
        pitch = thread.pitch_mm if thread else float(assume["screw_pitch_mm"])
        length = joint.length_mm or float(assume["screw_length_mm"])
        seconds += count * 2 * (length / pitch) * recipe_seconds("screw", "half_turn")
    if kind.unit == "cm":
        length = joint.length_mm or kind.usual_length_mm or 0.0
        seconds += length / 10 * recipe_seconds(joint.kind, "per_cm")
    return seconds


def estimate(study: Study, step: Step) -> float:
    """Estimated hand work of a step in s, without tool change, turning over or waiting."""
    seconds = sum(joint_seconds(study.joints[j]) for j in step.releases)
    for joint_id in step.softens:
        joint = study.joints[joint_id]
        length = joint.length_mm or joint_kinds()["adhesive"].usual_length_mm or 0.0
        seconds += recipe_seconds("soften", "once") + length / 10 * recipe_seconds("soften", "per_cm")
    handled = len(step.takes_out) + len(step.opens)
    seconds += handled * (recipe_seconds("part", "once") + recipe_seconds("part", "each"))
    return seconds or recipe_seconds("part", "each")


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
    from oddbolt.core.reach.time_study import time_study

    if study.device.times != "bench":
        return None
    try:
        found = time_study(study)
    except ReachError:
        return None
    return lambda step: StepTime(round(found.seconds(study, step), 2), "fitted")
