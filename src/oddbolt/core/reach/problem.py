"""A set of steps as a problem of order: tools and faces numbered, needs narrowed to the set, waits tied to what they
hold up. Solved orders are remembered, so that an edit costs only what it changed."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from types import MappingProxyType

from oddbolt.core.reach.motions import bench_seconds
from oddbolt.core.reach.needs import Needs
from oddbolt.core.reach.order_search import Job, Order, Ordering
from oddbolt.core.reach.risk import renewals_of, risk_of
from oddbolt.core.reach.step_masks import bits
from oddbolt.core.reach.step_times import step_times
from oddbolt.core.study import Step

REMEMBERED = 4096
NOTHING: Mapping[str, float] = MappingProxyType({})
#: the best order of a set of jobs, or a time (s) that no order of it beats
_proved: dict[tuple[tuple[Job, ...], float, float, int], Order | float] = {}


class Problem:
    """The steps of one reading of the facts, ready to be ordered. ``worth`` says what a step, tool change, renewal or
    point of risk counts for beside the time, in s."""

    def __init__(self, needs: Needs, worth: Mapping[str, float] = NOTHING) -> None:
        steps = [needs.study.steps[id] for id in needs.ids]
        times = step_times(needs.study)
        self.needs = needs
        self.costs = [times[id].seconds for id in needs.ids]
        self.tool_s, self.turn_s = bench_seconds("tool change"), bench_seconds("turn over")
        if worth:
            self._count(steps, worth)
        tools = _numbered(s.tool for s in steps if s.tool)
        self.tool_names = {n: name for name, n in tools.items()}
        faces = _numbered([needs.record.face, *(s.face for s in steps)])
        self.face = faces[needs.record.face]
        self.tools = [tools.get(s.tool, 0) for s in steps]
        self.faces = [faces[s.face] for s in steps]
        self.waits = [s.wait_s for s in steps]
        self.softens = [bool(s.softens) for s in steps]
        self.kinds = list(zip(self.tools, self.faces, self.waits, self.softens, strict=True))

    def _count(self, steps: list[Step], worth: Mapping[str, float]) -> None:
        self.tool_s += worth.get("tool changes", 0.0)
        study = self.needs.study
        for n, step in enumerate(steps):
            self.costs[n] += worth.get("steps", 0.0)
            if "renewals" in worth:
                self.costs[n] += worth["renewals"] * renewals_of(study, step)
            if "risk" in worth:
                self.costs[n] += worth["risk"] * risk_of(study, step)

    def bound(self, mask: int) -> float:
        """A time that no order of this set or a larger one can beat, in s."""
        tools = {self.tools[i] for i in bits(mask)} - {0}
        faces = {self.faces[i] for i in bits(mask)} - {self.face}
        return sum(self.costs[i] for i in bits(mask)) + self.tool_s * len(tools) + self.turn_s * len(faces)

    def solve(
        self,
        mask: int,
        upper: float = float("inf"),
        budget_s: float = 5.0,
        stopped: Callable[[], bool] = lambda: False,
        better: Callable[[Order], None] = lambda _order: None,
    ) -> Order | None:
        """The best order of a closed set, None if none is below ``upper`` (s); its jobs are numbered by their place in
        the set. What was proved is remembered. See :meth:`Ordering.solve`."""
        jobs = self._jobs(list(bits(mask)))
        key = (jobs, self.tool_s, self.turn_s, self.face)
        known = _proved.get(key)
        if isinstance(known, Order):
            return known if known.seconds < upper else None
        if known is not None and upper <= known:
            return None
        order = Ordering(jobs, self.tool_s, self.turn_s, self.face).solve(upper, budget_s, stopped, better)
        if order is None or order.proved:
            if len(_proved) >= REMEMBERED:
                _proved.clear()
            _proved[key] = upper if order is None else order
        return order

    def _holds_up(self, i: int, rule: int) -> bool:
        """Whether a step's wait delays what needs it by this rule: glue by its softening, and all that follows a step
        that waits but softens nothing."""
        return bool(self.waits[i]) and (rule == 3 or not self.softens[i])

    def _jobs(self, local: list[int]) -> tuple[Job, ...]:
        place = {g: k for k, g in enumerate(local)}
        held_up: dict[int, int] = {}
        soaked: list[tuple[int, ...]] = []
        for k, g in enumerate(local):
            masks: dict[int, None] = {}
            for need in self.needs.needs[g]:
                waited = [i for i in bits(need.steps) if i in place and self._holds_up(i, need.rule)]
                if waited:
                    masks[sum(1 << place[i] for i in bits(need.steps) if i in place)] = None
                for i in waited:
                    held_up[i] = held_up.get(i, 0) | 1 << k
            soaked.append(tuple(masks))
        jobs = []
        for k, g in enumerate(local):
            needs = {sum(1 << place[i] for i in bits(need.steps) if i in place) for need in self.needs.needs[g]}
            then = held_up.get(g, 0)
            wait = self.waits[g] if then else 0.0
            jobs.append(Job(self.costs[g], self.tools[g], self.faces[g], tuple(sorted(needs)), wait, then, soaked[k]))
        return tuple(jobs)

    def starts(self, local: list[int], order: Order) -> list[tuple[float, float]]:
        """For each step of an order (numbered by its place in the set) when the hand is free for it, tool and face
        changed, and when it begins; s."""
        jobs = self._jobs(local)
        ordering = Ordering(jobs, self.tool_s, self.turn_s, self.face)
        return ordering.starts(order.jobs, order.fetched)

    def tool_named(self, number: int) -> str:
        """A tool by its number, "" for 0."""
        return self.tool_names.get(number, "")


def _numbered(names: Iterable[str]) -> dict[str, int]:
    out: dict[str, int] = {}
    for name in names:
        out.setdefault(name, len(out) + 1)
    return out
