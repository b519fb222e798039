"""The quickest order over all sets of steps that reach some goals: sets by their bound, each put in its best order."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from time import perf_counter

from oddbolt.core.reach.closures import Closures
from oddbolt.core.reach.order_search import Order
from oddbolt.core.reach.problem import Problem


def best_order(
    problem: Problem,
    goals: Sequence[int],
    budget_s: float,
    stopped: Callable[[], bool] = lambda: False,
    better: Callable[[int, float, Order], None] = lambda *_: None,
    closures: Closures | None = None,
) -> tuple[Order | None, int, bool, float]:
    """The best order that does a step of each of ``goals`` (masks), the set of its steps, whether that is proved, and a
    time (s) that no order beats. Each better order on the way is given to ``better``, after its set and that time;
    ``closures`` may be those of an earlier search over the same problem."""
    closures = closures or Closures(problem.needs, problem.costs, problem.kinds)
    only = closures.only(goals)
    if only is not None:
        told = partial(better, only, problem.bound(only))
        found = problem.solve(only, budget_s=budget_s, stopped=stopped, better=told)
        return found, only, found is not None and found.proved, found.bound_s if found is not None else 0.0
    best: Order | None = None
    best_mask, proved, floor = 0, True, float("inf")
    deadline = perf_counter() + budget_s
    for mask in closures.sets(goals, all_ways=True, bound=problem.bound):
        if best is not None and problem.bound(mask) >= best.seconds - 1e-9:
            break
        if best is not None and (perf_counter() > deadline or stopped()):
            proved, floor = False, min(floor, problem.bound(mask))
            break
        left = max(0.05, deadline - perf_counter())
        told = partial(better, mask, min(floor, problem.bound(mask)))  # no set to come beats that either
        found = problem.solve(mask, best.seconds if best else float("inf"), left, stopped, told)
        if found is None:
            continue
        proved &= found.proved
        floor = min(floor, found.bound_s)
        if best is None or found.seconds < best.seconds:
            best, best_mask = found, mask
    return best, best_mask, proved, floor
