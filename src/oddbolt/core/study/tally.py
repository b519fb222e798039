"""What the record adds up to at the bench: screws out and back, the power, what was touched last."""

from __future__ import annotations

from functools import lru_cache
from itertools import islice

from attrs import frozen

from oddbolt.core.study.model import Study


@frozen
class Tally:
    """``screws_out`` counts what was ever backed out, ``screws_back`` what went in again, ``groups_uncounted`` the
    screw groups that nobody counted. ``isolated`` tells whether the power was cut and not restored."""

    screws_out: int
    screws_back: int
    groups_uncounted: int
    parts_out: int
    isolated: bool


@lru_cache(maxsize=4)
def tally(study: Study) -> Tally:
    """Add up the steps recorded so far."""
    out: dict[str, int | None] = {}
    back: dict[str, int | None] = {}
    parts: set[str] = set()
    isolated = False
    for step in study.steps.values():
        side = out if step.phase == "apart" else back
        for id in step.releases:
            joint = study.joints[id]
            if joint.kind == "screw":
                side[id] = joint.count
        if step.phase == "apart":
            parts.update(step.takes_out)
            isolated = isolated or step.isolates_power
        elif step.isolates_power:
            isolated = False
    uncounted = sum(count is None for count in out.values())
    return Tally(_sum(out), _sum(back), uncounted, len(parts), isolated)


def _sum(groups: dict[str, int | None]) -> int:
    return sum(count or 0 for count in groups.values())


@frozen
class Loose:
    """What came off at one step: its number, the parts, and the joints undone for them."""

    number: int
    parts: tuple[str, ...]
    joints: tuple[str, ...]


def loose(study: Study, upto: int) -> list[Loose]:
    """What the first ``upto`` steps took off, in order, each with the joints that held it; last, without parts, the
    joints undone for what is not off yet."""
    out: list[Loose] = []
    pending: list[str] = []
    undone: set[str] = set()
    for number, step in enumerate(islice(study.steps.values(), upto), 1):
        if step.phase != "apart":
            continue
        for j in step.releases:
            if j not in undone:
                undone.add(j)
                pending.append(j)
        if step.takes_out:
            its: list[str] = []
            rest: list[str] = []
            for j in pending:
                (its if _holds_any(study, j, step.takes_out) else rest).append(j)
            out.append(Loose(number, step.takes_out, tuple(its)))
            pending = rest
    if pending:
        out.append(Loose(upto, (), tuple(pending)))
    return out


def _holds_any(study: Study, joint: str, off: tuple[str, ...]) -> bool:
    holds = study.joints[joint].holds
    if not holds or any(map(off.__contains__, holds)):
        return True
    inside = [p for p in holds if study.parts[p].inside]
    return any(not set(off).isdisjoint(study.carriers(p)) for p in inside)
