"""The counting school: steps, fasteners, tools and time, for each priority part.

Source of the step count: EU 2023/1669 and EN 45554, from memory, unverified.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Any

from attrs import frozen

from oddbolt.core.errors import ReachError
from oddbolt.core.reach import Range, Route, reach_of_all, route_to
from oddbolt.core.study import Study
from oddbolt.core.study.formatting import duration_span, span
from oddbolt.core.verdict.scheme import Entry, Judgement, Scheme


@frozen
class Count:
    """The figures of one priority part: its best route, and the range of steps and seconds as long as not every fact
    is known. ``route`` is None where ``why_not`` says why there is none."""

    part: str
    route: Route | None
    steps: Range | None
    seconds: Range | None = None
    why_not: str = ""


@lru_cache(maxsize=4)
def counting(study: Study) -> tuple[Count, ...]:
    """The counts of every priority part, in the order of the parts."""
    reach = reach_of_all(study)
    out = []
    for id, part in study.parts.items():
        if not part.priority:
            continue
        try:
            route = route_to(study, [id], budget_s=1.0)
        except ReachError as error:
            out.append(Count(id, None, None, None, str(error)))
            continue
        out.append(Count(id, route, reach[id].steps, _seconds(route, reach[id].seconds)))
    return tuple(out)


@frozen
class Both:
    """The routes to a part under the least and the most reading of the facts; ``least`` None where ``why_not`` says
    why, ``most`` None where the most reading leaves no way."""

    least: Route | None
    most: Route | None
    why_not: str = ""


@lru_cache(maxsize=512)
def both_routes(study: Study, part: str) -> Both:
    """Both routes to a part."""
    try:
        least = route_to(study, [part], budget_s=1.0)
    except ReachError as error:
        return Both(None, None, str(error))
    try:
        return Both(least, route_to(study, [part], "most", budget_s=1.0))
    except ReachError:
        return Both(least, None)


def _seconds(route: Route, found: Range | None) -> Range:
    """The route's own time as the least, and what the reach says as the most."""
    return Range(route.seconds, max(route.seconds, found.most if found is not None else route.seconds))


def judge(study: Study) -> Judgement:
    """The counts as a judgement."""
    counts = counting(study)
    missing = [f"{study.name(c.part)}: {c.why_not}" for c in counts if c.route is None]
    if not counts:
        missing = ["No part is marked as a priority part."]
    entries = tuple(_entry(study, c) for c in counts)
    heads = ("part", "steps", "screws", "tools", "time", "renew")
    return Judgement("", SOURCE, False, heads, entries, tuple(missing), {"parts": [_data(study, c) for c in counts]})


def _entry(study: Study, count: Count) -> Entry:
    name = study.name(count.part)
    if count.route is None:
        return Entry(name, ("—", "—", "—", "—", ""), (count.why_not,), (count.part,))
    t = count.route.totals
    screws = f"{t.fasteners}{' +?' if t.fasteners_uncounted else ''}"
    renew = ", ".join(study.name(r) for r in t.renew)
    figures = (steps_of(count), screws, str(len(t.tools)), time_of(count), renew)
    told = [f"tools: {', '.join(t.tools) or 'hand'}"]
    if t.steps_heating != t.steps:
        told.append(f"{t.steps_heating} steps of its route where heating, cleaning and each tool at once count")
    return Entry(name, figures, tuple(told), (count.part,))


def steps_of(count: Count) -> str:
    """The steps of a count, as a range where it is one."""
    return span(count.steps.least, count.steps.most) if count.steps is not None else "—"


def time_of(count: Count) -> str:
    """The time of a count, as a range where it is one."""
    return duration_span(count.seconds.least, count.seconds.most) if count.seconds is not None else "—"


def _data(study: Study, count: Count) -> dict[str, Any]:
    if count.route is None:
        return {"part": study.name(count.part), "why_not": count.why_not}
    t = count.route.totals
    return {
        "part": study.name(count.part),
        "steps": t.steps,
        "steps_heating_counted": t.steps_heating,
        "steps_most": round(count.steps.most) if count.steps else None,
        "fasteners": t.fasteners,
        "tools": list(t.tools),
        "joints": dict(t.joints),
        "seconds": round(count.route.seconds, 1),
        "seconds_most": round(count.seconds.most, 1) if count.seconds else None,
        "renew": [study.name(r) for r in t.renew],
    }


SOURCE = "EU 2023/1669 and EN 45554, from memory"
SCHEME = Scheme(
    "counting",
    "Counting",
    "Steps, screws, tools and time before each priority part is free. A step ends when a part comes off or the tool "
    "changes. Where heating, cleaning and each tool used at once are counted as well, that stands beside.",
    judge,
)
