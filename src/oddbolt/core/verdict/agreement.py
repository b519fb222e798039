"""Two analysts, one device: their parts and steps matched, what differs, and how far they agree beyond chance.

Agreement of classes by Cohen's kappa (1960), of counts by Krippendorff's alpha for interval data (2004).
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Hashable, Sequence

import numpy as np
from attrs import frozen
from rapidfuzz import fuzz

from oddbolt.core.components.kinds import kind_of
from oddbolt.core.reach import step_times
from oddbolt.core.study import Joint, Study
from oddbolt.core.verdict.counting import counting
from oddbolt.core.verdict.evidence import fastener

#: names so alike are of the same part
ALIKE = 72.0


@frozen
class Agreement:
    """What two studies of one device have in common. ``parts`` and ``joints`` are matched pairs of ids; ``only`` what
    the one or the other has; ``differences`` in words; kappa of kinds of joints and of fastener classes, alpha of
    counts, None where too few are matched; hand times of both, s."""

    parts: tuple[tuple[str, str], ...]
    joints: tuple[tuple[str, str], ...]
    only: tuple[tuple[str, ...], tuple[str, ...]]
    differences: tuple[str, ...]
    kappa_kinds: float | None
    kappa_fasteners: float | None
    alpha_counts: float | None
    seconds: tuple[float, float]


def cohen_kappa(a: Sequence[Hashable], b: Sequence[Hashable]) -> float | None:
    """Cohen's kappa of two raters; None for fewer than two things, 1 where both always say one and the same."""
    if len(a) != len(b) or len(a) < 2:
        return None
    seen = sum(x == y for x, y in zip(a, b, strict=True)) / len(a)
    words = set(a) | set(b)
    chance = sum(list(a).count(w) / len(a) * (list(b).count(w) / len(b)) for w in words)
    return 1.0 if chance >= 1 - 1e-12 else (seen - chance) / (1 - chance)


def krippendorff_alpha(a: Sequence[float | None], b: Sequence[float | None]) -> float | None:
    """Krippendorff's alpha for interval data of two raters; None counts as missing. None for fewer than two pairs; 1
    where there is nothing to disagree about."""
    pairs = [(x, y) for x, y in zip(a, b, strict=True) if x is not None and y is not None]
    if len(pairs) < 2:
        return None
    values = np.array(pairs, dtype=np.float64)
    flat = values.ravel()
    observed = float(((values[:, 0] - values[:, 1]) ** 2).mean())
    n = len(flat)
    expected = float(((flat[:, None] - flat[None, :]) ** 2).sum() / (n * (n - 1)))
    return 1.0 if expected < 1e-12 else 1 - observed / expected


def compare(a: Study, b: Study) -> Agreement:
    """Match two studies of one device."""
    parts = _matched_parts(a, b)
    joints = _matched_joints(a, b, dict(parts))
    differences = [*_part_differences(a, b, parts), *_joint_differences(a, b, joints)]
    first, second = {p for p, _ in parts}, {q for _, q in parts}
    only = (
        tuple(a.parts[p].name for p in a.parts if p not in first),
        tuple(b.parts[q].name for q in b.parts if q not in second),
    )
    differences += [f"only the first has {name}" for name in only[0]] + [
        f"only the second has {name}" for name in only[1]
    ]
    differences += _route_differences(a, b, parts)
    kinds = [(a.joints[i].kind, b.joints[j].kind) for i, j in joints]
    classes = [(fastener(a, a.joints[i]).likely, fastener(b, b.joints[j]).likely) for i, j in joints]
    counts = [(_count(a.joints[i]), _count(b.joints[j])) for i, j in joints]
    return Agreement(
        tuple(parts),
        tuple(joints),
        only,
        tuple(differences),
        cohen_kappa([x for x, _ in kinds], [y for _, y in kinds]),
        cohen_kappa([x for x, _ in classes], [y for _, y in classes]),
        krippendorff_alpha([x for x, _ in counts], [y for _, y in counts]),
        (_seconds(a), _seconds(b)),
    )


def _count(joint: Joint) -> float | None:
    return None if joint.count is None else float(joint.count)


def _seconds(study: Study) -> float:
    times = step_times(study)
    return float(sum(times[id].seconds for id, step in study.steps.items() if step.phase == "apart"))


def _matched_parts(a: Study, b: Study) -> list[tuple[str, str]]:
    """Parts that mean the same: equal names first, then the most alike of one kind."""
    told_a, told_b = ({id: kind_of(p.kind or p.name) for id, p in study.parts.items()} for study in (a, b))
    count_a, count_b = (Counter(k.id for k in told.values() if k is not None) for told in (told_a, told_b))
    pairs: list[tuple[float, str, str]] = []
    for p, one in a.parts.items():
        for q, other in b.parts.items():
            names = one.name.lower(), other.name.lower()
            score = max(float(fuzz.token_sort_ratio(*names)), 0.9 * float(fuzz.token_set_ratio(*names)))
            kind = told_a[p]
            if kind is not None and kind is told_b[q]:
                score += 14
                if count_a[kind.id] == count_b[kind.id] == 1:
                    score = max(score, ALIKE + 1)  # the only one of its kind in both
            if score >= ALIKE:
                pairs.append((score, p, q))
    taken: set[str] = set()
    found: dict[str, str] = {}
    others: set[str] = set()
    for _, p, q in sorted(pairs, key=lambda row: (-row[0], row[1], row[2])):
        if p not in taken and q not in others:
            taken.add(p)
            others.add(q)
            found[p] = q
    return [(p, found[p]) for p in a.parts if p in found]


def _matched_joints(a: Study, b: Study, parts: dict[str, str]) -> list[tuple[str, str]]:
    """Joints that hold matched parts, of the same kind and driver where several do."""
    found: list[tuple[str, str]] = []
    taken: set[str] = set()
    for i, one in a.joints.items():
        held = {parts[p] for p in one.holds if p in parts}
        fitting = [j for j, other in b.joints.items() if j not in taken and held & set(other.holds)]
        if not fitting:
            continue
        best = max(fitting, key=lambda j: _likeness(one, b.joints[j]))
        found.append((i, best))
        taken.add(best)
    return found


def _likeness(one: Joint, other: Joint) -> tuple[float, ...]:
    lengths = -abs((one.length_mm or 0) - (other.length_mm or 0))
    return (
        one.kind == other.kind,
        (one.drive, one.size) == (other.drive, other.size),
        one.count == other.count,
        lengths,
    )


def _part_differences(a: Study, b: Study, parts: Sequence[tuple[str, str]]) -> list[str]:
    out = []
    for p, q in parts:
        one, other = a.parts[p], b.parts[q]
        if one.name.casefold() != other.name.casefold():
            out.append(f"{one.name} is called {other.name}")
        if one.priority != other.priority:
            out.append(f"{one.name} is a priority part of {'the first' if one.priority else 'the second'} only")
        if one.reuse != other.reuse:
            out.append(f"{one.name}: {one.reuse or 'not stated'} against {other.reuse or 'not stated'}")
    return out


#: what is held against each other of two joints: field and its word
COMPARED = tuple((f, f.removesuffix("_mm")) for f in ("kind", "count", "drive", "size", "length_mm", "reuse"))


def _joint_differences(a: Study, b: Study, joints: Sequence[tuple[str, str]]) -> list[str]:
    out = []
    for i, j in joints:
        for field, word in COMPARED:
            x, y = (getattr(study.joints[id], field) or None for study, id in ((a, i), (b, j)))
            if x != y:
                out.append(f"{a.name(i)}, {word}: {'?' if x is None else x} against {'?' if y is None else y}")
    return out


def _route_differences(a: Study, b: Study, parts: Sequence[tuple[str, str]]) -> list[str]:
    of_b = {count.part: count for count in counting(b)}
    match = dict(parts)
    out = []
    for count in counting(a):
        other = of_b.get(match.get(count.part, ""))
        if other is None or count.route is None or other.route is None:
            continue
        x, y = count.route.totals.steps, other.route.totals.steps
        if x != y:
            out.append(f"the way to {a.name(count.part)}: {x} steps against {y}")
    return out
