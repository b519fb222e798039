"""What an ordered list of steps adds up to."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence

from attrs import frozen

from oddbolt.core.reach.risk import risk_of
from oddbolt.core.study import Step, Study


@frozen
class Totals:
    """``steps`` end when a part comes off or the tool changes; in ``steps_heating`` heating, cleaning and each tool
    used at once are steps of their own. ``operations`` are as recorded; ``risk`` in points."""

    steps: int
    operations: int
    steps_heating: int
    fasteners: int
    fasteners_uncounted: int
    tools: tuple[str, ...]
    joints: Mapping[str, int]
    renew: tuple[str, ...]
    risk: float


def standard_steps(steps: Iterable[Step]) -> int:
    """Disassembly steps: one ends when a part comes off or the tool changes.

    Work with the bare hand changes no tool. Source: EU 2023/1669 and EN 45554, from memory, unverified.
    """
    count, tool, begun = 0, "", False
    for step in steps:
        if step.tool and tool and step.tool != tool and begun:
            count, begun = count + 1, False
        tool = step.tool or tool
        begun = True
        if step.takes_out:
            count, begun = count + 1, False
    return count + begun


def steps_with_heating(steps: Iterable[Step]) -> int:
    """Disassembly steps where heating and the cleaning of residue are steps of their own, and of tools used at once
    ("card + tweezers") each one more.

    Source: the counting rules of EU 2023/1669, from memory, unverified.
    """
    count, tool, begun = 0, "", False
    for step in steps:
        apart = bool(step.softens) or step.verb == "clean"
        if begun and (apart or (step.tool and tool and step.tool != tool)):
            count, begun = count + 1, False
        tool = step.tool or tool
        begun = True
        count += len([t for t in re.split(r"\s*[+&]\s*|\s+and\s+", step.tool) if t]) - 1 if step.tool else 0
        if step.takes_out or apart:
            count, begun = count + 1, False
    return count + begun


def totals(study: Study, order: Sequence[str]) -> Totals:
    """Add up the steps with these ids, done in this order."""
    steps = [study.steps[id] for id in order]
    joints: dict[str, int] = {}
    uncounted = fasteners = 0
    renew: list[str] = []
    seen: set[str] = set()
    for step in steps:
        for id in step.releases:
            if id in seen:
                continue
            seen.add(id)
            joint = study.joints[id]
            joints[joint.kind] = joints.get(joint.kind, 0) + (joint.count or 1)
            if joint.kind == "screw":
                fasteners += joint.count or 0
                uncounted += joint.count is None
            if joint.reuse == "renew":
                renew.append(id)
        renew += [p for p in step.takes_out if study.parts[p].reuse == "renew" and p not in renew]
    tools = tuple(dict.fromkeys(s.tool for s in steps if s.tool))
    risk = sum(risk_of(study, s) for s in steps)
    return Totals(
        standard_steps(steps),
        len(steps),
        steps_with_heating(steps),
        fasteners,
        uncounted,
        tools,
        joints,
        tuple(renew),
        risk,
    )
