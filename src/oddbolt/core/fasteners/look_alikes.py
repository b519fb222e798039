"""Screws that can be taken for each other."""

from __future__ import annotations

from functools import lru_cache

from oddbolt.core.study import Joint, Study
from oddbolt.core.study.screw_lengths import by_length

#: Screws closer in length than this are told apart only by measuring (common practice, no source).
ALIKE_MM = 2.5


@lru_cache(maxsize=4)
def look_alikes(study: Study) -> tuple[tuple[Joint, Joint], ...]:
    """Pairs of screw groups that one driver turns, of one thread as far as known, and that differ only a little in
    length; in the order of the record. A group of several lengths counts as several groups with one id."""
    by_driver: dict[tuple[str, str], list[Joint]] = {}
    place = {id: n for n, id in enumerate(study.joints)}
    for group_ in study.joints.values():
        for joint in by_length(group_) if group_.kind == "screw" else ():
            if joint.length_mm:
                by_driver.setdefault((joint.drive, joint.size), []).append(joint)
    out = []
    for group in by_driver.values():
        group.sort(key=lambda j: j.length_mm or 0.0)
        for i, a in enumerate(group):
            for b in group[i + 1 :]:
                gap = (b.length_mm or 0.0) - (a.length_mm or 0.0)
                if gap >= ALIKE_MM:
                    break
                if gap > 0 and (not a.thread or not b.thread or a.thread == b.thread):
                    out.append((a, b) if place[a.id] < place[b.id] else (b, a))
    out.sort(key=lambda pair: (place[pair[0].id], place[pair[1].id]))
    return tuple(out)


@lru_cache(maxsize=4)
def odd_ones(study: Study) -> dict[str, str]:
    """The odd one of each look-alike pair that holds the same part or goes into the same part, and its fellow: the
    group of fewer screws, else the longer. Ids of joints."""
    out: dict[str, str] = {}
    for a, b in look_alikes(study):
        if not (set(a.holds) & set(b.holds) or (a.into and a.into == b.into)):
            continue
        odd, fellow = (a, b) if _oddness(a) > _oddness(b) else (b, a)
        if odd.id == fellow.id and odd.id in out:
            continue
        out.setdefault(odd.id, fellow.id)
    return out


def _oddness(joint: Joint) -> tuple[int, float]:
    return -(joint.count or 1), joint.length_mm or 0.0
