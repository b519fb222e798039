"""All parts at a glance, and what a route passes on its way."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

from attrs import frozen

from oddbolt.core.reach.closures import Closures
from oddbolt.core.reach.needs import needs_of
from oddbolt.core.reach.parts import Reach, reach_of_all
from oddbolt.core.reach.risk import renewals_of, risk_of
from oddbolt.core.reach.routes import Route
from oddbolt.core.reach.step_masks import bits
from oddbolt.core.reach.step_times import step_times
from oddbolt.core.study import Study
from oddbolt.core.study.formatting import duration, plural, span

#: so many steps further is still on the way
NEAR = 2


@frozen
class PartOverview:
    """What one part takes by the least set of steps that frees it: its reach, the tools, how many things to renew, and
    points of risk."""

    part: str
    reach: Reach
    tools: tuple[str, ...]
    renewals: int
    risk: float

    @property
    def seconds(self) -> float:
        """The least time, s."""
        return self.reach.seconds.least if self.reach.seconds else 0.0


@lru_cache(maxsize=4)
def overview_of(study: Study) -> tuple[PartOverview, ...]:
    """Every part that some step frees, priority parts first, the quickest first."""
    reach = reach_of_all(study)
    needs = needs_of(study, "least")
    steps = [study.steps[id] for id in needs.ids]
    tools: dict[str, int] = {}
    renewals: dict[int, int] = {}
    risks: dict[float, int] = {}
    for k, step in enumerate(steps):
        if step.tool:
            tools[step.tool] = tools.get(step.tool, 0) | 1 << k
        renewed, risk = renewals_of(study, step), risk_of(study, step)
        renewals[renewed] = renewals.get(renewed, 0) | 1 << k
        risks[risk] = risks.get(risk, 0) | 1 << k
    out = []
    for id, r in reach.items():
        if r.steps is None or not r.sets:
            continue
        mask = r.sets[0][1]
        used = tuple(tool for tool, of in tools.items() if of & mask)
        renewed = sum(n * (of & mask).bit_count() for n, of in renewals.items())
        risk = sum(n * (of & mask).bit_count() for n, of in risks.items())
        out.append(PartOverview(id, r, used, renewed, risk))
    return tuple(sorted(out, key=lambda g: (not study.parts[g.part].priority, g.seconds)))


@frozen
class Passed:
    """A part not asked for that a route brings near: so many steps and seconds further, without changes of tool."""

    part: str
    steps: int
    seconds: float


def passed(study: Study, route: Route, near: int = NEAR) -> tuple[Passed, ...]:
    """The parts that lie at most ``near`` steps beside the route and needed some of it; priority parts first."""
    needs = needs_of(study, "least")
    times = step_times(study)
    closures = Closures(needs, [times[id].seconds for id in needs.ids])
    done = sum(1 << needs.record.index[id] for id in route.steps if id in needs.record.index)
    out = []
    for part in study.parts:
        goal = needs.freeing(part) & needs.doable
        own = needs.record.taking.get(part, 0)
        if not goal or goal & done or not own:
            continue
        missing = _missing(closures, goal, done)
        if missing is not None and missing.bit_count() <= near:
            out.append(Passed(part, missing.bit_count(), round(closures.cost(missing), 1)))
    return tuple(sorted(out, key=lambda p: (not study.parts[p.part].priority, p.steps, p.seconds)))


def _missing(closures: Closures, goal: int, done: int) -> int | None:
    """The fewest steps beyond those done that reach a goal by what was done; None where that helps nothing."""
    masks, open_needs = closures.forced
    ways = []
    for i in bits(goal):
        met = done | masks[i]
        if masks[i] & done and all(choice & met for choice in open_needs[i]):
            ways.append(masks[i] & ~done)
    return min(ways, key=int.bit_count, default=None)


def near_words(study: Study, found: Sequence[Passed], most: int = 3) -> str:
    """What is passed, in words: "the port board is one step further"."""
    numbers = {1: "one step", 2: "two steps"}
    words = [f"{study.name(p.part)} {numbers.get(p.steps, f'{p.steps} steps')}" for p in found[:most]]
    return f"{', '.join(words)} further" if words else ""


def about(study: Study, part: str) -> list[str]:
    """What there is to say of a part's reach, a sentence a line."""
    r = reach_of_all(study).get(part)
    if r is None:
        return []
    name = study.name(part)
    if r.steps is None or r.seconds is None:
        return [f"{name}: {r.why_not}"]
    steps = span(r.steps.least, r.steps.most, "steps")
    lines = [f"{name}: free after {steps}, {r.time}."]
    if r.about and r.bound_s is not None:
        lines.append(f"Not proved; no order is under {duration(r.bound_s)}. Ask for its route for the proof.")
    needs = needs_of(study, "least")
    first = next(bits(needs.freeing(part) & needs.doable), None)
    own = [] if first is None else needs.needs[first]
    if over := dict.fromkeys(study.name(n.over) for n in own if n.rule == 2):
        lines.append(f"Under {', '.join(over)}.")
    if held := dict.fromkeys(study.name(n.cause) for n in own if n.rule == 1):
        lines.append(f"Held by {', '.join(held)}.")
    glance = next(g for g in overview_of(study) if g.part == part)
    lines.append(f"{plural(len(glance.tools), 'tool')}, {glance.renewals} to renew, risk {glance.risk:g}.")
    if along := [study.name(p) for p in study.parts if part in study.carriers(p)]:
        lines.append(f"Comes along, if still inside: {', '.join(along[:8])}{' …' if len(along) > 8 else ''}.")
    return lines
