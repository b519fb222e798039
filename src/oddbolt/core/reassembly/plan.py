"""The plan of putting back: the best way in, turned round, with the work that each joint brings.

What lay over goes on after, and power, which was cut first, is connected last of the plugs: both follow from turning an
order round that keeps the facts and the rule of power. Whether another order would be quicker back is not searched.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any

from attrs import evolve, frozen

from oddbolt.core.errors import ReachError
from oddbolt.core.reach.motions import bench_seconds
from oddbolt.core.reach.routes import Leg, route_to
from oddbolt.core.reach.schedule import way_back
from oddbolt.core.reach.step_times import step_times
from oddbolt.core.reassembly.ledger import ledger
from oddbolt.core.reference.joint_kinds import ids_where
from oddbolt.core.reference.tables import screw_label, table
from oddbolt.core.study.model import Joint, Study

#: how long a plan is searched for, s
BUDGET_S = 5.0


@frozen
class BackStep:
    """One step of the plan: the recorded ``step`` that it undoes, the parts that go in, the joints made again, what is
    done in order, and the waits that belong to it. Times in s from the beginning."""

    step: str
    parts: tuple[str, ...]
    joints: tuple[str, ...]
    does: tuple[str, ...]
    tool: str
    start_s: float
    seconds: float
    wait_s: float
    renew: tuple[str, ...]
    power: bool = False


@frozen
class Plan:
    """The steps in order. ``proved`` says that the way in, which is turned round here, is proved to be the quickest; of
    the way back itself nothing is proved. ``left`` names what cannot go back as it was, or could not be planned."""

    steps: tuple[BackStep, ...]
    seconds: float
    wait_s: float
    proved: bool
    renew: tuple[str, ...]
    tools: tuple[str, ...]
    left: tuple[str, ...]


def plan_back(study: Study, targets: Sequence[str] = (), budget_s: float = BUDGET_S) -> Plan:
    """The plan that puts back what is out now, or after a route to ``targets`` was taken.

    Where facts contradict each other the record is turned round instead, and that is told. Raises ReachError if
    nothing is out.
    """
    out = [line.id for line in ledger(study).parts if line.open]
    wanted = list(targets) or out
    if not wanted:
        raise ReachError("Nothing is out: no recorded step took a part out that is not back.")
    left: list[str] = []
    try:
        route = route_to(study, wanted, budget_s=budget_s)
        legs, proved = route.legs, route.proved
    except ReachError as error:
        left.append(f"planned by turning the record round, because {_lower(str(error))}")
        legs, proved = _as_recorded(study, set(wanted)), False
    steps, clock = [], 0.0
    for leg in way_back(study, legs):
        clock += leg.change * bench_seconds("tool change") + leg.turn * bench_seconds("turn over")
        step = _back(study, leg, clock)
        steps.append(step)
        clock += step.seconds + step.wait_s
    live = max((n for n, s in enumerate(steps) if s.power), default=None)
    steps = [evolve(s, power=n == live) for n, s in enumerate(steps)]
    left += [f"{study.name(id)} was destroyed; a new one is needed" for id in _destroyed(study, legs)]
    renew = dict.fromkeys(r for s in steps for r in s.renew)
    tools = dict.fromkeys(s.tool for s in steps if s.tool)
    left += _power_told(study, steps)
    return Plan(tuple(steps), clock, sum(s.wait_s for s in steps), proved, tuple(renew), tuple(tools), tuple(left))


def _as_recorded(study: Study, wanted: set[str]) -> tuple[Leg, ...]:
    """The recorded steps of taking apart, up to the last that frees something wanted."""
    times = step_times(study)
    apart = [s for s in study.steps.values() if s.phase == "apart"]
    last = max((n for n, s in enumerate(apart) if wanted & set(s.takes_out)), default=len(apart) - 1)
    return tuple(
        Leg(s.id, 0.0, times[s.id].seconds, times[s.id].basis, s.tool, s.face, False, False, 0.0, s.wait_s)
        for s in apart[: last + 1]
    )


def _back(study: Study, leg: Leg, clock: float) -> BackStep:
    step = study.steps[leg.step]
    joints = [study.joints[j] for j in step.releases]
    works = [w for joint in joints for w in _works(joint)]
    ins = tuple(dict.fromkeys((*step.takes_out, *step.opens)))
    does = ([f"{', '.join(study.name(p) for p in ins)} in"] if ins else []) + [w["told"] for w in works]
    renew = [j.id for j in joints if j.reuse == "renew" or j.kind in ids_where("glue")]
    renew += [p for p in step.takes_out if study.parts[p].reuse == "renew"]
    wait = float(sum(w.get("wait_s", 0) for w in works))
    if not does:
        does = ["connect the power again" if step.isolates_power else f"undo “{step.said or step.verb}”"]
    names = tuple(j.id for j in joints)
    return BackStep(
        leg.step, ins, names, tuple(does), leg.tool, clock, leg.seconds, wait, tuple(renew), step.isolates_power
    )


def _works(joint: Joint) -> list[dict[str, Any]]:
    """The pieces of work that a joint brings, each with ``told`` filled in."""
    figures = {
        "count": str(joint.count) if joint.count else "",
        "size": screw_label(joint.drive, joint.size) if joint.drive or joint.size else "",
        "length": f"of {joint.length_mm:g} mm" if joint.length_mm else "",
        "torque": f"to {joint.torque_ncm:g} N·cm" if joint.torque_ncm else "",
    }
    out = []
    for row in table("putback")["work"]:
        many = joint.count or 1
        fits = (
            row["kind"] == joint.kind
            and row.get("latch", joint.latch) == joint.latch
            and row.get("reuse", joint.reuse) == joint.reuse
            and row.get("least", 1) <= many <= row.get("most", many)
        )
        if fits:
            told = re.sub(r"\{(\w+)\}", lambda m: figures[m[1]], row["text"])
            out.append({**row, "told": re.sub(r"\s+", " ", told).replace(" ,", ",").strip()})
    return out


def _destroyed(study: Study, legs: Sequence[Leg]) -> list[str]:
    return [j for leg in legs if study.steps[leg.step].destroys for j in study.steps[leg.step].releases]


def _power_told(study: Study, steps: Sequence[BackStep]) -> list[str]:
    """A sentence where a plug is made after the power, against the rule that power is connected last. The device is
    live once the last thing that cut the power is undone."""
    plugs = ids_where("plug")
    at = next((n for n, s in enumerate(steps) if s.power), None)
    if at is None:
        return []
    after = [s for s in steps[at + 1 :] if any(study.joints[j].kind in plugs for j in s.joints)]
    return [f"{study.name(s.joints[0])} is plugged in under power; the record leaves no other order" for s in after]


def _lower(sentence: str) -> str:
    return sentence[:1].lower() + sentence[1:].rstrip(".")
