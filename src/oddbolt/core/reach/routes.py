"""The route: which steps, in which order, free the chosen parts in the least time.

For every way the *or*s can be chosen the needed steps are a closed set; :mod:`closures` gives these cheapest first
and :mod:`ordering` finds the best order of each, until no other set can be better.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from time import perf_counter

from attrs import frozen

from oddbolt.core.errors import ReachError
from oddbolt.core.reach.closures import Closures
from oddbolt.core.reach.needs import Needs, explain, needs_of
from oddbolt.core.reach.ordering import Order
from oddbolt.core.reach.problem import Problem
from oddbolt.core.reach.record import bits
from oddbolt.core.reach.times import bench_seconds, step_times
from oddbolt.core.reach.totals import Totals, totals
from oddbolt.core.study import Study


@frozen
class Leg:
    """One step of a route. ``start_s`` is when its hand work begins; ``change`` and ``turn`` say that the tool was
    changed or the device turned over just before; ``idle_s`` is waiting with nothing else to do before it."""

    step: str
    start_s: float
    seconds: float
    basis: str
    tool: str
    face: str
    change: bool
    turn: bool
    idle_s: float
    wait_s: float


@frozen
class Route:
    """The best order found. ``proved`` says that none is faster; else none is faster than ``bound_s``."""

    targets: tuple[str, ...]
    legs: tuple[Leg, ...]
    seconds: float
    proved: bool
    bound_s: float
    totals: Totals
    tool_changes: int
    turns: int
    facts: str

    @property
    def steps(self) -> tuple[str, ...]:
        """The step ids in order."""
        return tuple(leg.step for leg in self.legs)


def route_to(
    study: Study,
    targets: Sequence[str],
    facts: str = "least",
    safety: bool = True,
    budget_s: float = 10.0,
    stopped: Callable[[], bool] = lambda: False,
) -> Route:
    """The route that frees every part of ``targets``.

    Raises ReachError with the things that stand in the way if there is none.
    """
    needs = needs_of(study, facts, safety)
    for part in targets:
        if part not in study.parts:
            raise ReachError(f"There is no part {part!r} to reach.")
        if not needs.freeing(part) & needs.doable:
            raise ReachError(explain(needs, part))
    if not targets:
        raise ReachError("Choose at least one part to reach.")
    problem = Problem(needs)
    closures = Closures(needs, problem.costs, problem.kinds)
    best: Order | None = None
    best_mask, proved, floor = 0, True, float("inf")
    deadline = perf_counter() + budget_s
    for mask in closures.sets([needs.freeing(t) for t in targets], all_ways=True, bound=problem.bound):
        if best is not None and problem.bound(mask) >= best.seconds - 1e-9:
            break
        if best is not None and (perf_counter() > deadline or stopped()):
            proved, floor = False, min(floor, problem.bound(mask))
            break
        found = problem.solve(
            mask, best.seconds if best else float("inf"), max(0.05, deadline - perf_counter()), stopped
        )
        if found is None:
            continue
        proved &= found.proved
        floor = min(floor, found.bound_s)
        if best is None or found.seconds < best.seconds:
            best, best_mask = found, mask
    if best is None:
        raise ReachError(explain(needs, targets[0]))
    return _as_route(study, needs, list(bits(best_mask)), best, tuple(targets), proved, min(floor, best.seconds), facts)


def _as_route(
    study: Study,
    needs: Needs,
    local: list[int],
    order: Order,
    targets: tuple[str, ...],
    proved: bool,
    floor: float,
    facts: str,
) -> Route:
    times = step_times(study)
    legs: list[Leg] = []
    tool, face, clock = "", study.steps[needs.ids[0]].face, 0.0
    changes = turns = 0
    for k, start in zip(order.jobs, order.starts, strict=True):
        id = needs.ids[local[k]]
        step = study.steps[id]
        change, turn = bool(step.tool) and step.tool != tool, step.face != face
        moved = clock + change * bench_seconds("tool change") + turn * bench_seconds("turn over")
        changes, turns = changes + change, turns + turn
        legs.append(
            Leg(
                id,
                start,
                times[id].seconds,
                times[id].basis,
                step.tool,
                step.face,
                change,
                turn,
                round(max(0.0, start - moved), 3),
                step.wait_s,
            )
        )
        tool, face, clock = step.tool or tool, step.face, start + times[id].seconds
    return Route(
        targets,
        tuple(legs),
        order.seconds,
        proved,
        floor if not proved else order.seconds,
        totals(study, [leg.step for leg in legs]),
        changes,
        turns,
        facts,
    )
