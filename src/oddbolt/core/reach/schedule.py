"""A route in time: what has time to spare, which waits are filled with what, and the way back.

Slack: critical path method (Kelley, Walker 1959), over the one pair of hands and the waits of glue.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from attrs import frozen

from oddbolt.core.reach.fastening import back_estimate
from oddbolt.core.reach.motions import bench_seconds
from oddbolt.core.reach.routes import Leg
from oddbolt.core.reach.step_times import StepTime, step_times
from oddbolt.core.study import Step, Study


def links(study: Study, legs: Sequence[Leg]) -> Iterator[tuple[int, int, float]]:
    """(earlier, later, seconds) between the end of one leg and the start of another that must wait for it."""
    softened: dict[str, int] = {}
    for k, leg in enumerate(legs):
        step = study.steps[leg.step]
        if k:
            changes = leg.change + bool(leg.fetch)
            yield k - 1, k, changes * bench_seconds("tool change") + leg.turn * bench_seconds("turn over")
        for joint in step.releases:
            if joint in softened:
                yield softened[joint], k, legs[softened[joint]].wait_s
        softened |= dict.fromkeys(step.softens, k)


def slack(study: Study, legs: Sequence[Leg]) -> tuple[float, ...]:
    """By how many seconds each leg may take longer before the whole does. Only legs that fill a wait have any."""
    if not legs:
        return ()
    late = [legs[-1].start_s + legs[-1].seconds] * len(legs)
    for before, after, lag in reversed(list(links(study, legs))):
        late[before] = min(late[before], late[after] - legs[after].seconds - lag)
    return tuple(max(0.0, round(end - leg.start_s - leg.seconds, 6)) for end, leg in zip(late, legs, strict=True))


@frozen
class Soak:
    """A wait of glue: the step that began it, from when until when it runs (s), the steps done meanwhile, and how long
    the hands are idle at its end."""

    step: str
    from_s: float
    until_s: float
    filled: tuple[str, ...]
    idle_s: float


def soaks(study: Study, legs: Sequence[Leg]) -> tuple[Soak, ...]:
    """The waits of a route in the order in which they begin."""
    out = []
    for k, leg in enumerate(legs):
        softens = set(study.steps[leg.step].softens)
        end = leg.start_s + leg.seconds
        if not softens or not leg.wait_s:
            continue
        after = next((n for n in range(k + 1, len(legs)) if softens & set(study.steps[legs[n].step].releases)), None)
        until = len(legs) if after is None else after
        filled = tuple(one.step for one in legs[k + 1 : until] if one.start_s < end + leg.wait_s)
        idle = 0.0 if after is None else min(legs[after].idle_s, leg.wait_s)
        out.append(Soak(leg.step, end, end + leg.wait_s, filled, idle))
    return tuple(out)


def way_back(study: Study, legs: Sequence[Leg]) -> tuple[Leg, ...]:
    """The same steps undone, the last first. A step takes as long as its put-back was timed, else what the motions of
    fastening say at this bench's pace; softened glue needs no softening on the way back."""
    timed = _timed_back(study)
    out: list[Leg] = []
    tool, face, clock = "", legs[-1].face if legs else "", 0.0
    for leg in reversed(legs):
        step = study.steps[leg.step]
        if step.softens and not (step.releases or step.takes_out or step.opens):
            continue
        change, turn = bool(leg.tool) and leg.tool != tool, leg.face != face
        clock += change * bench_seconds("tool change") + turn * bench_seconds("turn over")
        estimated = round(back_estimate(study, step.releases, (*step.takes_out, *step.opens)), 2)
        seconds = timed.get(frozenset(step.releases), StepTime(estimated, "estimated"))
        out.append(Leg(leg.step, clock, seconds.seconds, seconds.basis, leg.tool, leg.face, change, turn, 0.0, 0.0))
        tool, face, clock = leg.tool or tool, leg.face, clock + seconds.seconds
    return tuple(out)


def _timed_back(study: Study) -> dict[frozenset[str], StepTime]:
    """The joints that a step of the put-back makes again -> its time, where it was timed."""
    times = step_times(study)

    def timed(step: Step) -> bool:
        return step.phase == "back" and bool(step.releases) and times[step.id].basis == "measured"

    return {frozenset(s.releases): times[s.id] for s in study.steps.values() if timed(s)}
