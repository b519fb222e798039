"""The reach of every part at once: how many steps and how much time, least and most.

Each part is taken with the cheapest closed set of steps that frees it, in the best order of that set; in a study of
more than :data:`ORDERED_STEPS` steps in the order recorded, since so many orders cannot be found at a keystroke. The
proved route to one target is :func:`oddbolt.core.reach.routes.route_to`.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache

from attrs import frozen

from oddbolt.core.reach.closures import Closures
from oddbolt.core.reach.needs import Needs, explain, needs_of
from oddbolt.core.reach.problem import Problem
from oddbolt.core.reach.recorded_order import RecordedOrder
from oddbolt.core.reach.totals import standard_steps
from oddbolt.core.study import Study

#: Up to this many steps each set is put in its best order.
ORDERED_STEPS = 120
#: Time (s) for the order of one set before the best so far is taken.
ORDER_BUDGET_S = 0.1


@frozen
class Range:
    """From the least to the most, both the same where the facts leave no doubt."""

    least: float
    most: float

    @property
    def exact(self) -> bool:
        """Whether there is nothing left to ask."""
        return self.least == self.most


@frozen
class Reach:
    """What it takes to free one part: steps by the standard's definition, operations as recorded, time in s.

    ``why_not`` says in one sentence why the part cannot be reached; the ranges are then None. ``sets`` are the least
    and the most set of steps, as masks over the needs they come from.
    """

    part: str
    steps: Range | None
    operations: Range | None
    seconds: Range | None
    sets: tuple[tuple[Needs, int], ...] = ()
    why_not: str = ""

    @property
    def needed(self) -> tuple[str, ...]:
        """The ids of the steps of the least set, in recorded order."""
        return tuple(self.sets[0][0].steps(self.sets[0][1])) if self.sets else ()


@lru_cache(maxsize=4)
def reach_of_all(study: Study) -> Mapping[str, Reach]:
    """The reach of every part of a study, by part id."""
    low, high = needs_of(study, "least"), needs_of(study, "most")
    ends = [_ends(needs) for needs in (low, high)]
    out: dict[str, Reach] = {}
    for part in study.parts:
        mask = ends[0][0].get(part)
        if mask is None:
            out[part] = Reach(part, None, None, None, why_not=explain(low, part))
            continue
        least = ends[0][1][mask]
        most_mask = ends[1][0].get(part)
        if most_mask is None:
            out[part] = Reach(part, None, None, None, ((low, mask),), why_not=explain(high, part))
            continue
        most = ends[1][1][most_mask]
        steps, operations, seconds = (Range(min(a, b), max(a, b)) for a, b in zip(least, most, strict=True))
        out[part] = Reach(part, steps, operations, seconds, sets=((low, mask), (high, most_mask)))
    return out


class _Memory:
    """What the last study's sets came to; the next study mostly begins with the same steps. What lies here is not
    changed any more, so that several threads may take it over."""

    recorded: RecordedOrder | None = None


def _ends(needs: Needs) -> tuple[dict[str, int], dict[int, tuple[float, float, float]]]:
    """part -> its cheapest set, and set -> (steps, operations, seconds)."""
    problem = Problem(needs)
    closures = Closures(needs, problem.costs)
    freed: dict[int, int | None] = {}
    sets: dict[str, int] = {}
    for part in needs.study.parts:
        target = needs.freeing(part)
        if target not in freed:
            freed[target] = closures.cheapest(target) if target else None
        mask = freed[target]
        if mask is not None:
            sets[part] = mask
    masks = dict.fromkeys(sets.values())
    if len(needs.ids) <= ORDERED_STEPS:
        return sets, {mask: _ordered(problem, mask) for mask in masks}
    recorded, before = RecordedOrder(problem), _Memory.recorded
    if before is not None:
        recorded.take_over(before)
    found = recorded.figures(masks)
    _Memory.recorded = recorded
    return sets, found


def _ordered(problem: Problem, mask: int) -> tuple[float, float, float]:
    """Steps, operations and seconds of a set in its best order."""
    order = problem.solve(mask, budget_s=ORDER_BUDGET_S)
    assert order is not None
    ids = problem.needs.steps(mask)
    steps = [problem.needs.study.steps[ids[k]] for k in order.jobs]
    return float(standard_steps(steps)), float(len(steps)), round(order.seconds, 1)
