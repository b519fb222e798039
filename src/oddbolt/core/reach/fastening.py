"""Seconds of putting back: fastening is not unfastening. A screw is fetched, set, started by hand, run down and
tightened; a plug is found, set and pressed.

Summed from elementary motions (``[back]`` in ``reference/motions.toml``), at the pace of this bench where laps tell it.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from functools import lru_cache
from itertools import accumulate
from statistics import median

from oddbolt.core.reach.motions import estimate, half_turns, motion_seconds
from oddbolt.core.reference.joint_kinds import joint_kinds
from oddbolt.core.reference.tables import table
from oddbolt.core.study import Joint, Study

#: from so many screws on they are tightened in two passes (common practice, no source)
TWO_PASSES = 3
#: so many laps tell a pace; how far it may lie from the motions' own
LEAST_LAPS, PACE = 3, (0.3, 6.0)


@lru_cache(maxsize=128)
def back_seconds(kind: str, term: str) -> float:
    """The seconds of one term of making a joint of this kind again (or of "part", "clean")."""
    return motion_seconds(table("motions")["back"][kind].get(term, []))


@lru_cache(maxsize=20_000)
def fastening_seconds(joint: Joint, count: int | None = None) -> float:
    """Estimated seconds to make a joint again, or ``count`` pieces of it."""
    assume = table("motions")["assume"]
    many = count or joint.count or int(assume["screws_in_a_group_not_counted"])
    seconds = back_seconds(joint.kind, "once") + many * back_seconds(joint.kind, "each")
    kind = joint_kinds()[joint.kind]
    if kind.threaded:
        seconds += many * half_turns(joint) * back_seconds("screw", "half_turn")
        seconds += many * (2 if many >= TWO_PASSES else 1) * back_seconds("screw", "final")
    if kind.unit == "cm":
        seconds += _cm(joint) * back_seconds(joint.kind, "per_cm")
    return seconds


def cleaning_seconds(joint: Joint) -> float:
    """Estimated seconds to scrape and wipe the seat of a glued joint."""
    return back_seconds("clean", "once") + _cm(joint) * back_seconds("clean", "per_cm")


def placing_seconds(parts: int) -> float:
    """Estimated seconds to set so many parts into place."""
    return parts * (back_seconds("part", "once") + back_seconds("part", "each"))


def back_estimate(study: Study, joints: Sequence[str], parts: Sequence[str]) -> float:
    """Estimated hand work of making these joints again and setting these parts in, s, at this bench's pace."""
    return pace(study) * _summed(study, joints, parts)


@lru_cache(maxsize=8)
def pace(study: Study) -> float:
    """How many times as long as the motions say this bench takes: the median over the laps of put-back runs, else of
    those of taking apart, each with the weight of its motions; 1 where there are fewer than three."""
    for phase in ("back", "apart"):
        rows = sorted(_ratios(study, phase))
        if len(rows) >= LEAST_LAPS:
            half = sum(weight for _, weight in rows) / 2
            run = accumulate(weight for _, weight in rows)
            middle = next(ratio for (ratio, _), so_far in zip(rows, run, strict=True) if so_far >= half)
            return min(PACE[1], max(PACE[0], middle))
    return 1.0


def timed_back(study: Study) -> Mapping[tuple[frozenset[str], frozenset[str]], float]:
    """(joints made, parts put in) -> the median of its laps in put-back runs, s."""
    laps: dict[tuple[frozenset[str], frozenset[str]], list[float]] = {}
    for run in study.runs.values():
        for lap in run.laps:
            step = study.steps[lap.step]
            if step.phase == "back" and run.kind == "put back" and lap.seconds > 0 and step.count is None:
                laps.setdefault((frozenset(step.releases), frozenset(step.puts_in)), []).append(lap.seconds)
    return {key: median(seconds) for key, seconds in laps.items()}


def _ratios(study: Study, phase: str) -> Iterator[tuple[float, float]]:
    """For every lap of this phase: how many times its motions it took, and the seconds of its motions."""
    for run in study.runs.values():
        for lap in run.laps:
            step = study.steps[lap.step]
            if step.phase != phase or lap.seconds <= 0 or step.count is not None:
                continue
            motions = estimate(study, step) if phase == "apart" else _summed(study, step.releases, step.puts_in)
            if motions > 0:
                yield lap.seconds / motions, motions


def _summed(study: Study, joints: Sequence[str], parts: Sequence[str]) -> float:
    return sum(fastening_seconds(study.joints[j]) for j in joints) + placing_seconds(len(parts))


def _cm(joint: Joint) -> float:
    return (joint.length_mm or joint_kinds()[joint.kind].usual_length_mm or 0.0) / 10
