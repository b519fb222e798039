"""Steps and routes in words: what was understood, not what was said."""

from __future__ import annotations

from oddbolt.core.reach.parts import Range, reach_of_all
from oddbolt.core.reach.routes import Route
from oddbolt.core.study import Study
from oddbolt.core.study.formatting import duration, duration_span, plural, span


def step_text(study: Study, id: str) -> str:
    """A step in words: its action and what it acts on; what was said where nothing was understood."""
    step = study.steps[id]
    things = dict.fromkeys(study.name(x) for x in (*step.releases, *step.opens, *step.softens))
    out = ", ".join(study.name(p) for p in step.takes_out)
    if not things:
        placed = ", ".join(study.name(p) for p in step.puts_in)
        return f"{step.verb} {out or placed}" if out or placed else step.said or step.verb
    places = dict.fromkeys(study.joints[j].place for j in step.releases if study.joints[j].place)
    where = f" ({', '.join(places)})" if places else ""
    return f"{step.verb} {', '.join(things)}{where}{f'; {out} out' if out else ''}"


def route_span(study: Study, route: Route) -> tuple[Range, Range]:
    """Steps and seconds of a route, from what it takes by the facts seen to the most it may take as long as facts are
    open; the most is that of the part that may lie deepest."""
    reach = reach_of_all(study)
    known = [r for t in route.targets if (r := reach.get(t)) is not None and r.steps and r.seconds]
    steps, seconds = float(route.totals.steps), route.seconds
    if route.facts != "least" or not known:
        return Range(steps, steps), Range(seconds, seconds)
    further = [(r.steps.most - r.steps.least, r.seconds.most - r.seconds.least) for r in known if r.steps and r.seconds]
    more_steps, more_seconds = (max(column) for column in zip(*further, strict=True))
    return Range(steps, steps + more_steps), Range(seconds, seconds + max(0.0, more_seconds))


def rests_on_open_facts(study: Study, route: Route) -> bool:
    """Whether one of the route's parts may lie deeper than the route says."""
    return any(not found.exact for found in route_span(study, route))


def route_summary(study: Study, route: Route) -> str:
    """A route's figures in one line; that facts are open stands first where they are."""
    t, (steps, seconds) = route.totals, route_span(study, route)
    bits = ["facts open"] if not (steps.exact and seconds.exact) else []
    bits += [span(steps.least, steps.most, "steps"), plural(t.fasteners, "screw"), plural(len(t.tools), "tool")]
    bits.append(duration_span(seconds.least, seconds.most))
    if t.fasteners_uncounted:
        bits.append(f"{plural(t.fasteners_uncounted, 'group')} of screws not counted")
    if not route.proved:
        bits.append(f"not proved best; none is under {duration(route.bound_s)}")
    return " · ".join(bits)
