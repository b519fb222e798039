"""The route: which steps, in which order, free the chosen parts in the least time.

For every way the *or*s can be chosen the needed steps are a closed set; :mod:`closures` gives these cheapest first
and :mod:`ordering` finds the best order of each, until no other set can be better.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from time import perf_counter

from attrs import evolve, frozen

from oddbolt.core.errors import ReachError
from oddbolt.core.reach.needs import Needs, chain, explain, needs_of
from oddbolt.core.reach.order_search import Order
from oddbolt.core.reach.problem import Problem
from oddbolt.core.reach.route_options import RouteOptions, as_variant, barred
from oddbolt.core.reach.set_search import best_order
from oddbolt.core.reach.step_masks import bits
from oddbolt.core.reach.step_times import step_times
from oddbolt.core.reach.totals import Totals, totals
from oddbolt.core.study import Study

#: no wish beyond the least time
ANY = RouteOptions()


@frozen
class Leg:
    """One step of a route. ``start_s`` is when its hand work begins; ``change`` and ``turn`` say that the tool was
    changed or the device turned over just before; ``idle_s`` is waiting with nothing else to do before it, in which
    ``fetch`` is taken up for a later step."""

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
    fetch: str = ""


@frozen
class Route:
    """The best order found. ``proved`` says that none is better; else none is faster than ``bound_s``. ``options`` is
    what was asked for."""

    targets: tuple[str, ...]
    legs: tuple[Leg, ...]
    seconds: float
    proved: bool
    bound_s: float
    totals: Totals
    tool_changes: int
    turns: int
    facts: str
    options: RouteOptions = ANY

    @property
    def steps(self) -> tuple[str, ...]:
        """The step ids in order."""
        return tuple(leg.step for leg in self.legs)


def route_to(
    study: Study,
    targets: Sequence[str],
    facts: str = "least",
    budget_s: float = 10.0,
    stopped: Callable[[], bool] = lambda: False,
    options: RouteOptions = ANY,
    without: frozenset[str] = frozenset(),
    better: Callable[[Route], None] = lambda _route: None,
) -> Route:
    """The route that frees every part of ``targets`` as wished, without the steps named in ``without``. When the budget
    (s) ends before the proof, or ``stopped`` says so, the best so far; ``better`` is given each better one on the way.

    Raises ReachError with the things that stand in the way if there is none.
    """
    study = as_variant(study, options.variant)
    needs = needs_under(study, facts, options, without)
    if needs.choices > 1:
        return _by_every_way(study, needs.choices, targets, facts, budget_s, stopped, options, without, better)
    return _route_by(study, needs, targets, facts, budget_s, stopped, options, better)[0]


def _by_every_way(
    study: Study,
    ways: int,
    targets: Sequence[str],
    facts: str,
    budget_s: float,
    stopped: Callable[[], bool],
    options: RouteOptions,
    without: frozenset[str],
    better: Callable[[Route], None],
) -> Route:
    """The best route over all ways to isolate the power; proved if each was, and there are no others."""
    found: list[tuple[Route, float]] = []
    deadline, whole = perf_counter() + budget_s, True
    for choice in range(ways):
        if found and (stopped() or perf_counter() > deadline):
            whole = False
            break
        needs = needs_under(study, facts, options, without, choice)
        least = min((cost for _, cost in found), default=float("inf"))
        left = max(0.05, deadline - perf_counter())
        try:
            route, cost = _route_by(study, needs, targets, facts, left, stopped, options, lambda _route: None)
        except ReachError:
            if not found:
                raise
            whole = False  # no order by this way in the time that was left
            continue
        found.append((route, cost))
        if cost < least:
            better(evolve(route, proved=False, bound_s=0.0))  # the ways to come may be quicker still
    best = min(found, key=lambda one: one[1])[0]
    whole = whole and needs.all_choices
    return evolve(
        best,
        proved=whole and all(route.proved for route, _ in found),
        bound_s=min(route.bound_s for route, _ in found) if whole else 0.0,
    )


def _route_by(
    study: Study,
    needs: Needs,
    targets: Sequence[str],
    facts: str,
    budget_s: float,
    stopped: Callable[[], bool],
    options: RouteOptions,
    better: Callable[[Route], None],
) -> tuple[Route, float]:
    """The best route by these needs, and what it costs: its seconds, with what else was to be least."""
    for part in targets:
        if part not in study.parts and options.variant:
            raise ReachError(f"The variant {options.variant} does not have all of these parts.")
        if part not in study.parts:
            raise ReachError(f"There is no part {part!r} to reach.")
        if not needs.freeing(part) & needs.doable:
            raise ReachError(explain(needs, part))
    if not targets:
        raise ReachError("Choose at least one part to reach.")
    problem = Problem(needs, options.worth)

    def made(order: Order, mask: int, proved: bool, floor: float) -> Route:
        floor = min(floor, order.seconds) if not options.worth else 0.0
        route = _as_route(study, needs, list(bits(mask)), order, tuple(targets), proved, floor, facts)
        return evolve(route, options=options)

    def on_the_way(mask: int, floor: float, order: Order) -> None:
        better(made(order, mask, False, floor))

    goals = [needs.freeing(t) for t in targets]
    best, best_mask, proved, floor = best_order(problem, goals, budget_s, stopped, on_the_way)
    if best is None:  # each target can be freed, so it is the time that ended
        raise ReachError(f"No order of steps to {study.name(targets[0])} was found in the time given; ask again.")
    return made(best, best_mask, proved, floor), best.seconds


def needs_under(
    study: Study, facts: str, options: RouteOptions, without: frozenset[str] = frozenset(), choice: int = 0
) -> Needs:
    """The needs of every step by what is wished, without these steps; ``choice`` is a way to isolate the power."""
    safety, by = options.power
    return needs_of(study, facts, safety, without | barred(study, options), by if by in study.steps else "", choice)


#: routes are truly different if they share at most so much of their steps
SHARED = 0.9


def alternatives(
    study: Study,
    targets: Sequence[str],
    most: int = 3,
    options: RouteOptions = ANY,
    stopped: Callable[[], bool] = lambda: False,
) -> tuple[Route, ...]:
    """The best route and others truly different from it and each other, each the best without some step of the first.

    Raises ReachError if there is none at all.
    """
    first = route_to(study, targets, stopped=stopped, options=options)
    fixed = no_way_round(study, first)
    others: dict[frozenset[str], Route] = {}
    for step in first.steps:
        if stopped():
            break
        if step in fixed:
            continue
        try:
            other = route_to(study, targets, budget_s=1.0, options=options, without=frozenset({step}))
        except ReachError:
            continue
        others.setdefault(frozenset(other.steps), other)
    found = [first]
    for steps, other in sorted(others.items(), key=lambda item: item[1].seconds):
        if all(len(steps & set(r.steps)) <= SHARED * len(steps | set(r.steps)) for r in found):
            found.append(other)
    return tuple(found[:most])


def no_way_round(study: Study, route: Route) -> frozenset[str]:
    """The steps of a route that every way to its targets needs, by what was wished. Where nothing can be done in two
    ways these are all; where every need is a choice they are the dominators of the target."""
    study = as_variant(study, route.options.variant)
    needs = needs_under(study, route.facts, route.options)
    goals = [needs.freeing(t) for t in route.targets]

    def cannot_do_without(step: str) -> bool:
        doable, _ = chain(needs.needs, barred=1 << needs.record.index[step])
        return not all(goal & doable for goal in goals)

    return frozenset(filter(cannot_do_without, route.steps))


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
    tool, face, clock = "", needs.record.face, 0.0
    changes = turns = 0
    problem = Problem(needs)
    starts = problem.starts(local, order)
    for k, (moved, start), fetched in zip(order.jobs, starts, order.fetched, strict=True):
        id = needs.ids[local[k]]
        step = study.steps[id]
        change, turn = bool(step.tool) and step.tool != tool, step.face != face
        fetch = problem.tool_named(fetched)
        changes, turns = changes + change + bool(fetch), turns + turn
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
                fetch,
            )
        )
        tool, face, clock = step.tool or fetch or tool, step.face, start + times[id].seconds
    return Route(
        targets,
        tuple(legs),
        clock,
        proved,
        floor if not proved else clock,
        totals(study, [leg.step for leg in legs]),
        changes,
        turns,
        facts,
    )
