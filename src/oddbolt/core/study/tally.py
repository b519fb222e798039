"""What the record adds up to at the bench: screws out and back, the power, what was touched last."""

from __future__ import annotations

from functools import lru_cache
from itertools import islice

from attrs import frozen

from oddbolt.core.reference.joint_kinds import ids_where, joint_kinds
from oddbolt.core.study.model import Step, Study


@frozen
class Tally:
    """``screws_out`` are out now, ``screws_back`` went in again, ``groups_uncounted`` are groups out now that nobody
    counted; ``parts_out`` are out now. ``isolated`` tells whether the power was cut and not restored."""

    screws_out: int
    screws_back: int
    groups_uncounted: int
    parts_out: int
    isolated: bool


@lru_cache(maxsize=16)
def tally(study: Study, upto: int | None = None) -> Tally:
    """Add up the first ``upto`` steps, or all of them."""
    out: dict[str, int | None] = {}
    back: dict[str, int | None] = {}
    parts: dict[str, None] = {}
    isolated = False
    for step in islice(study.steps.values(), upto):
        screws = {j: study.joints[j].count for j in step.releases if study.joints[j].kind in ids_where("threaded")}
        if step.phase == "apart":
            out |= screws
            for id in screws:
                back.pop(id, None)
            parts |= dict.fromkeys(step.takes_out)
            isolated = isolated or step.isolates_power
        else:
            for id, count in screws.items():
                made = _make(out, id, count, step.count)
                known = back.get(id, 0)
                back[id] = None if made is None or known is None else known + made
            for part in step.puts_in:
                parts.pop(part, None)
            isolated = isolated and not step.isolates_power
    return Tally(_sum(out), _sum(back), sum(count is None for count in out.values()), len(parts), isolated)


def outstanding(study: Study) -> dict[str, int | None]:
    """The joints that are undone now -> how many pieces of each; None where nobody counted. In the order undone."""
    out: dict[str, int | None] = {}
    for step in study.steps.values():
        for j in step.releases:
            count = study.joints[j].count if joint_kinds()[study.joints[j].kind].counted else 1
            if step.phase == "apart":
                out[j] = count
            else:
                _make(out, j, count, step.count)
    return out


def parts_out(study: Study) -> dict[str, None]:
    """The parts that are out now, in the order they came out."""
    out: dict[str, None] = {}
    for step in study.steps.values():
        out |= dict.fromkeys(step.takes_out)
        for part in step.puts_in:
            out.pop(part, None)
    return out


def _make(out: dict[str, int | None], id: str, count: int | None, some: int | None) -> int | None:
    """Make ``some`` pieces of a joint again, all where None; how many that were."""
    rest = out.pop(id, count)
    made = rest if some is None else some if rest is None else min(some, rest)
    if rest is not None and made is not None and made < rest:
        out[id] = rest - made
    return made


def _sum(groups: dict[str, int | None]) -> int:
    return sum(count or 0 for count in groups.values())


@frozen
class Loose:
    """What came off at one step: its number, the parts, and the joints undone for them."""

    number: int
    parts: tuple[str, ...]
    joints: tuple[str, ...]


@lru_cache(maxsize=4)
def loose(study: Study, upto: int) -> tuple[Loose, ...]:
    """What the first ``upto`` steps took off and no later one put back, in order, each with the joints that held it;
    last, without parts, the joints undone for what is not off yet."""
    out: list[Loose] = []
    pending: list[str] = []
    undone: set[str] = set()
    for number, step in enumerate(islice(study.steps.values(), upto), 1):
        if step.phase != "apart":
            out = [left for off in out if (left := _less(off, step)) is not None]
            pending = [j for j in pending if j not in step.releases]
            undone -= set(step.releases)
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
    return tuple(out)


def _less(off: Loose, back: Step) -> Loose | None:
    """What is still loose of these once a step put some of them back; None where nothing is."""
    parts = tuple(p for p in off.parts if p not in back.puts_in)
    joints = tuple(j for j in off.joints if j not in back.releases)
    return Loose(off.number, parts, joints) if parts or (joints and not off.parts) or joints else None


def _holds_any(study: Study, joint: str, off: tuple[str, ...]) -> bool:
    holds = study.joints[joint].holds
    if not holds or any(map(off.__contains__, holds)):
        return True
    inside = [p for p in holds if study.parts[p].inside]
    return any(not set(off).isdisjoint(study.carriers(p)) for p in inside)
