"""The recorded order held against the needs: where it could not have been worked."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache

from oddbolt.core.reach.needs import Need, needs_of
from oddbolt.core.reach.step_masks import bits
from oddbolt.core.study import Study
from oddbolt.core.study.formatting import the


@lru_cache(maxsize=4)
def order_troubles(study: Study) -> Mapping[str, str]:
    """For every take-apart step that comes before something it needs, what that is, in a sentence. Only what was seen
    counts, and only needs that some later step would meet; a gap in the record is no trouble of the order."""
    needs = needs_of(study)
    out: dict[str, str] = {}
    done = 0
    for i, id in enumerate(needs.ids):
        for need in needs.needs[i]:
            later = need.steps & ~(1 << i)
            if later and not need.steps & done:
                number = study.step_number(needs.ids[next(bits(later))])
                out[id] = f"{_because(study, need)}; that is done in step {number}."
                break
        done |= 1 << i
    return out


def _because(study: Study, need: Need) -> str:
    cause = study.name(need.cause)
    if need.rule == 1:
        return f"First {the(cause)} must be released"
    if need.rule == 2:
        above = study.name(need.over)
        return f"{above[:1].upper()}{above[1:]} lies over {the(cause)} and must be away"
    if need.rule == 3:
        return f"First {the(cause)} must be softened"
    return f"The power must be isolated before {the(cause)}"
