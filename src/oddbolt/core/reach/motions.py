"""Seconds of hand work summed from elementary motions.

Source of the method: predetermined motion times (Maynard, Stegemerten, Schwab 1948); the values stand in
``reference/motions.toml`` with their verification state. 1 TMU = 0.036 s exactly.
"""

from __future__ import annotations

from functools import lru_cache

from oddbolt.core.reference.joint_kinds import joint_kinds
from oddbolt.core.reference.tables import table, thread_of
from oddbolt.core.study import Joint, Step, Study


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


def half_turns(joint: Joint) -> float:
    """Half turns that one screw of a group takes along its whole length; the usual one where that is not recorded."""
    assume = table("motions")["assume"]
    thread = thread_of(joint.thread) if joint.thread else None
    pitch = thread.pitch_mm if thread else float(assume["screw_pitch_mm"])
    return 2 * (joint.length_mm or float(assume["screw_length_mm"])) / pitch


@lru_cache(maxsize=20_000)
def joint_seconds(joint: Joint) -> float:
    """Estimated seconds to release a joint, from its kind, count, length and pitch."""
    assume = table("motions")["assume"]
    count = joint.count if joint.count is not None else int(assume["screws_in_a_group_not_counted"])
    seconds = recipe_seconds(joint.kind, "once") + count * recipe_seconds(joint.kind, "each")
    kind = joint_kinds()[joint.kind]
    if kind.threaded:
        seconds += count * half_turns(joint) * recipe_seconds("screw", "half_turn")
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
