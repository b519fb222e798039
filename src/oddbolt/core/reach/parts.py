"""The reach of every part at once: how many steps and how much time, least and most.

The time is that of the route: the quickest order of the quickest set of steps, tool changes, turns and waits included,
over every way to isolate the power. In a study of more than :data:`ORDERED_STEPS` steps, where so many searches cannot
be made at a keystroke, it is that of the set with the least work by hand in the order recorded, and said to be *about*
that: ``Reach.bound_s`` is a time that no order beats. So it is where the search for a part ends before its proof.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache

from attrs import evolve, frozen

from oddbolt.core.reach.closures import Closures
from oddbolt.core.reach.needs import Needs, explain, needs_of
from oddbolt.core.reach.problem import Problem
from oddbolt.core.reach.recorded_order import RecordedOrder
from oddbolt.core.reach.set_search import best_order
from oddbolt.core.reach.totals import standard_steps
from oddbolt.core.study import Study
from oddbolt.core.study.formatting import duration_span

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
    and the most set of steps, as masks over the needs they come from. Where the times are not proved to be least,
    ``bound_s`` is a time (s) that no order beats, else it is the least time itself.
    """

    part: str
    steps: Range | None
    operations: Range | None
    seconds: Range | None
    sets: tuple[tuple[Needs, int], ...] = ()
    why_not: str = ""
    bound_s: float | None = None

    @property
    def about(self) -> bool:
        """Whether a quicker order may exist."""
        return self.seconds is not None and self.bound_s is not None and self.bound_s < self.seconds.least - 0.05

    @property
    def time(self) -> str:
        """The time in words, "about" where a quicker order may exist; "" where there is none."""
        if self.seconds is None:
            return ""
        return f"{'about ' if self.about else ''}{duration_span(self.seconds.least, self.seconds.most)}"

    @property
    def needed(self) -> tuple[str, ...]:
        """The ids of the steps of the least set, in recorded order."""
        return tuple(self.sets[0][0].steps(self.sets[0][1])) if self.sets else ()


@frozen
class _End:
    """The quickest way found to a part under one reading of the facts: its set, what it comes to, and a time (s) that
    no order beats."""

    needs: Needs
    mask: int
    steps: float
    operations: float
    seconds: float
    bound_s: float


@lru_cache(maxsize=4)
def reach_of_all(study: Study) -> Mapping[str, Reach]:
    """The reach of every part of a study, by part id."""
    low, high = needs_of(study, "least"), needs_of(study, "most")
    least, most = _ends(low), _ends(high)
    out: dict[str, Reach] = {}
    for part in study.parts:
        a, b = least.get(part), most.get(part)
        if a is None:
            out[part] = Reach(part, None, None, None, why_not=explain(low, part))
            continue
        if b is None:
            out[part] = Reach(part, None, None, None, ((a.needs, a.mask),), why_not=explain(high, part))
            continue
        steps, operations = (Range(min(x, y), max(x, y)) for x, y in ((a.steps, b.steps), (a.operations, b.operations)))
        seconds = Range(a.seconds, max(a.seconds, b.seconds) if a.seconds > a.bound_s else b.seconds)
        sets = ((a.needs, a.mask), (b.needs, b.mask))
        out[part] = Reach(part, steps, operations, seconds, sets, bound_s=a.bound_s)
    return out


class _Memory:
    """What the last study's sets came to; the next study mostly begins with the same steps. What lies here is not
    changed any more, so that several threads may take it over."""

    recorded: RecordedOrder | None = None


def _ends(needs: Needs) -> dict[str, _End]:
    """part -> the quickest way found to free it."""
    if len(needs.ids) > ORDERED_STEPS:
        return _in_recorded_order(needs)
    out: dict[str, _End] = {}
    for choice in range(needs.choices):
        by = needs if choice == 0 else needs_of(needs.study, needs.facts, choice=choice)
        for part, end in _ordered(by).items():
            known = out.get(part)
            if known is None or end.seconds < known.seconds:
                bound = end.bound_s if known is None else min(known.bound_s, end.bound_s)
                out[part] = evolve(end, bound_s=bound)
            elif end.bound_s < known.bound_s:
                out[part] = evolve(known, bound_s=end.bound_s)
    return out if needs.all_choices else {part: evolve(end, bound_s=0.0) for part, end in out.items()}


def _ordered(needs: Needs) -> dict[str, _End]:
    """The quickest order of the quickest set for each part."""
    problem = Problem(needs)
    closures = Closures(needs, problem.costs, problem.kinds)
    found: dict[int, _End | None] = {}
    out: dict[str, _End] = {}
    for part in needs.study.parts:
        target = needs.freeing(part) & needs.doable
        if not target:
            continue
        if target not in found:
            order, mask, proved, floor = best_order(problem, [target], ORDER_BUDGET_S, closures=closures)
            assert order is not None
            ids = needs.steps(mask)
            steps = [needs.study.steps[ids[k]] for k in order.jobs]
            seconds = round(order.seconds, 1)
            bound = seconds if proved else min(floor, seconds)
            found[target] = _End(needs, mask, float(standard_steps(steps)), float(len(steps)), seconds, bound)
        end = found[target]
        if end is not None:
            out[part] = end
    return out


def _in_recorded_order(needs: Needs) -> dict[str, _End]:
    """For each part the set with the least work by hand, as it was recorded."""
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
    recorded, before = RecordedOrder(problem), _Memory.recorded
    if before is not None:
        recorded.take_over(before)
    figures = recorded.figures(dict.fromkeys(sets.values()))
    _Memory.recorded = recorded
    bounds = {mask: round(closures.cost(mask), 1) for mask in figures} if needs.choices == 1 else {}
    return {part: _End(needs, mask, *figures[mask], bounds.get(mask, 0.0)) for part, mask in sets.items()}
