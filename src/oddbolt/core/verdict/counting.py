"""The counting school: steps, fasteners, tools and time, for each priority part.

Source of the step count: EU 2023/1669 and EN 45554, from memory, unverified.
"""

from __future__ import annotations

from functools import lru_cache

from attrs import frozen

from oddbolt.core.errors import ReachError
from oddbolt.core.reach import Range, Route, reach_of_all, route_to
from oddbolt.core.study import Study


@frozen
class Count:
    """The figures of one priority part. ``route`` is None where ``why_not`` says why there is none."""

    part: str
    route: Route | None
    steps: Range | None
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
            out.append(Count(id, None, None, str(error)))
            continue
        out.append(Count(id, route, reach[id].steps))
    return tuple(out)
