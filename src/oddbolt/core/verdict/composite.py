"""Schemes that weigh criteria: points for each priority part by ladders and classes, weighted parts, weighted criteria.

A scheme is data: a table of ours or a user's own TOML file. Every figure is reckoned for the best, the likely and the
worst reading of the record; a "?" in a scheme may be any point of its scale."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from math import isfinite
from typing import Any

from attrs import evolve, frozen

from oddbolt.core.components.kinds import kind_of
from oddbolt.core.errors import BenchError
from oddbolt.core.reach import Route
from oddbolt.core.study import Study
from oddbolt.core.verdict import evidence
from oddbolt.core.verdict.counting import both_routes
from oddbolt.core.verdict.evidence import Told
from oddbolt.core.verdict.scheme import Ask, Entry, Judgement, Range3, Scheme
from oddbolt.core.verdict.scheme_file import (
    CLASSES,
    DEVICE_CLASSES,
    DEVICE_FIGURES,
    UNSURE,
    Criterion,
    PartWeight,
    Points,
    Spec,
)

#: what a line rests on where the scheme itself has no sure figure
UNSURE_FIGURE = "the scheme's figure is unsure"


@frozen
class Line:
    """What a criterion gives one part, or the device (``part`` ""): points as a range, why, and what causes it;
    ``role`` where no part has it."""

    criterion: str
    part: str
    weight: float
    points: Range3
    reason: str
    cause: str
    basis: str
    role: str = ""


@frozen
class Composite:
    """The result: every line, each criterion's points as a range, the total, and questions with what each may move."""

    spec: Spec
    lines: tuple[Line, ...]
    scores: Mapping[str, Range3]
    total: Range3
    asks: tuple[Ask, ...]
    as_if: bool

    def class_of(self, value: float) -> str:
        """The class of a figure; "" where the scheme has none."""
        return next((name for name, least in self.spec.classes if value >= least - 1e-9), "")

    @property
    def classes(self) -> str:
        """The class, or the classes that it may be."""
        worst, best = self.class_of(self.total.low), self.class_of(self.total.high)
        return worst if worst == best else f"{best} to {worst}"


# -- judging -------------------------------------------------------------------------------------------------


def composite(study: Study, spec: Spec, weights: Mapping[str, float] | None = None) -> Composite:
    """Judge a study by a scheme; ``weights`` of criteria take the place of its own (they are made to sum to 1)."""
    shares = _weights(spec, weights)
    wanted = _wanted(study, spec)
    lines: list[Line] = []
    for criterion in spec.criteria:
        if criterion.measure in (*DEVICE_FIGURES, *DEVICE_CLASSES):
            lines.append(_device_line(study, spec, criterion))
        else:
            lines += [_role_line(study, spec, criterion, role, parts, share) for role, parts, share in wanted]
    scores: dict[str, Range3] = {}
    for criterion in spec.criteria:
        own = [line for line in lines if line.criterion == criterion.id]
        scores[criterion.id] = _sum((line.points, line.weight) for line in own)
    total = _sum((scores[c.id], shares[c.id]) for c in spec.criteria)
    asks = _asks(spec, lines, shares)
    group = study.device.group.strip().lower()
    return Composite(spec, tuple(lines), scores, total, asks, bool(spec.groups) and group not in spec.groups)


def _weights(spec: Spec, weights: Mapping[str, float] | None) -> dict[str, float]:
    own = {c.id: c.weight for c in spec.criteria}
    if weights is None:
        return own
    unknown = set(weights) - set(own)
    if unknown:
        raise BenchError(f"{spec.name} has no criterion {min(unknown)!r}; there are {', '.join(own)}.")
    given = {id: float(weights.get(id, w)) for id, w in own.items()}
    total = sum(given.values())
    if not isfinite(total) or total <= 0 or min(given.values()) < 0:
        raise BenchError("Weights are 0 or more, and at least one of them is above 0.")
    return {id: w / total for id, w in given.items()}


def _wanted(study: Study, spec: Spec) -> list[tuple[str, tuple[str, ...], float]]:
    """Each role with the parts that stand for it and its share; the priority parts where the scheme names none."""
    if not spec.parts:
        priority = [id for id, part in study.parts.items() if part.priority]
        return [(study.name(id), (id,), 1 / len(priority)) for id in priority]
    total = sum(p.weight for p in spec.parts) or 1.0
    return [(p.role, _of_role(study, p), p.weight / total) for p in spec.parts]


def _of_role(study: Study, wanted: PartWeight) -> tuple[str, ...]:
    named = [id for id, part in study.parts.items() if part.role.lower() == wanted.role.lower()]
    if named:
        return tuple(named)
    kinds = set(wanted.kinds)
    return tuple(
        id
        for id, part in study.parts.items()
        if not part.role and (found := kind_of(part.kind or part.name)) is not None and found.id in kinds
    )


def _role_line(
    study: Study,
    spec: Spec,
    criterion: Criterion,
    role: str,
    parts: tuple[str, ...],
    share: float,
) -> Line:
    """The points of one role; of several parts the worst counts."""
    whole = Range3(spec.least, (spec.least + spec.most) / 2, spec.most)
    if not parts:
        return Line(criterion.id, "", share, whole, f"no part is recorded as {role}", "", "open", role)
    found = [_part_line(study, spec, criterion, part, share) for part in parts]
    worst = min(found, key=lambda line: (line.points.likely, line.points.low))
    points = Range3(
        min(line.points.low for line in found), worst.points.likely, min(line.points.high for line in found)
    )
    return evolve(worst, points=points)


def _part_line(study: Study, spec: Spec, criterion: Criterion, part: str, share: float) -> Line:
    whole = Range3(spec.least, (spec.least + spec.most) / 2, spec.most)
    name = study.name(part)
    routes = both_routes(study, part)
    if routes.least is None:
        return Line(criterion.id, part, share, whole, f"{name}: {routes.why_not}", part, "open")
    most = routes.most or routes.least
    if criterion.measure in CLASSES:
        told = evidence.class_of_route(study, criterion.measure, routes.least)
        far = evidence.class_of_route(study, criterion.measure, most)
        points = _class_points(spec, criterion, told, far)
        words = (
            told.likely if told.sure and far.worst == told.worst else f"{told.likely} (from {told.best} to {far.worst})"
        )
        cause = study.name(told.about) if study.find(told.about) else told.about
        by = f" by {cause}" if cause and told.likely not in ("none", "reusable", "use", "layman") else ""
        return Line(criterion.id, part, share, points, f"{name}: {words}{by}", told.about or part, told.basis)
    low, high = (_figure(study, spec, criterion.measure, route) for route in (routes.least, most))
    values = [p for f in (low, high) for p in _points_of(spec, criterion, f)]
    likely = _middle(spec, criterion, low)
    span = f"{low:g}" if low == high else f"{low:g} to {high:g}"
    return Line(
        criterion.id,
        part,
        share,
        Range3(min(values), likely, max(values)),
        f"{name}: {span} {criterion.measure}",
        part,
        "recorded" if low == high else "open",
    )


def _class_points(spec: Spec, criterion: Criterion, near: Told, far: Told) -> Range3:
    values: list[float] = []
    order = {"fastener": evidence.FASTENER_ORDER, "tool": evidence.tool_order(), "skill": evidence.SKILL_ORDER}
    ranks = order.get(criterion.measure, evidence.PLACE_ORDER)
    first, last = ranks.index(near.best), max(ranks.index(far.worst), ranks.index(near.worst))
    for name in ranks[first : last + 1]:
        values += _span(spec, criterion.points.get(name, UNSURE))
    likely = sum(_span(spec, criterion.points.get(near.likely, UNSURE))) / 2
    return Range3(min(values), likely, max(values))


def _span(spec: Spec, points: Points) -> tuple[float, float]:
    return (spec.least, spec.most) if isinstance(points, str) else (points, points)


def _points_of(spec: Spec, criterion: Criterion, value: float) -> tuple[float, float]:
    """The least and most points of a figure."""
    if criterion.linear:
        (a, p), (b, q) = criterion.linear
        share = min(max((value - a) / (b - a), 0.0), 1.0)
        return (p + share * (q - p), p + share * (q - p))
    for limit, points in criterion.ladder:
        if value <= limit + 1e-9:
            return _span(spec, points)
    return _span(spec, criterion.beyond)


def _middle(spec: Spec, criterion: Criterion, value: float) -> float:
    return sum(_points_of(spec, criterion, value)) / 2


def _figure(study: Study, spec: Spec, measure: str, route: Route) -> float:
    t = route.totals
    found: dict[str, Callable[[], float]] = {
        "steps": lambda: t.steps_heating if spec.step_rule == "heating" else t.steps,
        "screws": lambda: t.fasteners,
        "tools": lambda: len(t.tools),
        "seconds": lambda: route.seconds,
        "renewals": lambda: len(t.renew),
        "solder": lambda: t.joints.get("solder", 0),
        "drives": lambda: len(
            {(j.drive, j.size) for s in route.steps for id in study.steps[s].releases if (j := study.joints[id]).drive}
        ),
    }
    return float(found[measure]())


def _device_line(study: Study, spec: Spec, criterion: Criterion) -> Line:
    value = getattr(study.device, criterion.measure)
    whole = Range3(spec.least, (spec.least + spec.most) / 2, spec.most)
    if value in ("", None):
        return Line(criterion.id, "", 1.0, whole, "not stated on the maker's sheet", "", "open")
    if criterion.measure in DEVICE_CLASSES:
        low, high = _span(spec, criterion.points.get(str(value), UNSURE))
    else:
        low, high = _points_of(spec, criterion, float(value))
    basis = "recorded" if low == high else UNSURE_FIGURE
    said = value if isinstance(value, str) else f"{value:g}"
    return Line(criterion.id, "", 1.0, Range3(low, (low + high) / 2, high), str(said), "", basis)


def _sum(rows: Iterable[tuple[Range3, float]]) -> Range3:
    low = likely = high = 0.0
    for points, weight in rows:
        low, likely, high = low + weight * points.low, likely + weight * points.likely, high + weight * points.high
    return Range3(low, likely, high)


def _asks(spec: Spec, lines: Sequence[Line], shares: Mapping[str, float]) -> tuple[Ask, ...]:
    """What is open, the widest first: how much of the whole range each would close."""
    by: dict[tuple[str, str, str], float] = {}
    words: dict[tuple[str, str, str], str] = {}
    roles: dict[tuple[str, str, str], str] = {}
    about = {c.id: c.about for c in spec.criteria}
    for line in lines:
        width = (line.points.high - line.points.low) * line.weight * shares[line.criterion]
        if width <= 1e-9:
            continue
        thing = line.cause or line.part
        key = ("", "", line.role) if line.role else (thing, line.criterion, "" if thing else line.reason)
        by[key] = by.get(key, 0.0) + width
        unsure = f", {UNSURE_FIGURE}" if line.basis == UNSURE_FIGURE else ""
        told = f"{about[line.criterion]}: {line.reason}{unsure}"
        words[key] = f"Which part is the {line.role}?" if line.role else told
        roles[key] = line.role
    ranked = sorted(by, key=lambda key: -by[key])
    return tuple(Ask(words[key], key[0], round(by[key], 4), roles[key]) for key in ranked)


def _line_data(study: Study, line: Line) -> dict[str, Any]:
    return {
        "part": study.name(line.part) if line.part else "",
        "reason": line.reason,
        "basis": line.basis,
        "low": round(line.points.low, 4),
        "likely": round(line.points.likely, 4),
        "high": round(line.points.high, 4),
    }


# -- as a scheme ---------------------------------------------------------------------------------------------


def scheme_of(spec: Spec) -> Scheme:
    """A scheme that the window, the command line and the report show."""
    return Scheme(
        spec.id, spec.name, spec.about or f"{spec.name}: criteria weighed.", lambda study: judgement(study, spec)
    )


def judgement(study: Study, spec: Spec, weights: Mapping[str, float] | None = None) -> Judgement:
    """A composite as a judgement."""
    found = composite(study, spec, weights)
    scale = spec.most - spec.least
    shares = _weights(spec, weights)
    entries = []
    for criterion in spec.criteria:
        score = found.scores[criterion.id]
        own = [line for line in found.lines if line.criterion == criterion.id]
        reasons = tuple(f"{line.reason}: {line.points.words(scale)}" for line in own)
        causes = tuple(dict.fromkeys(line.cause for line in own if line.cause and study.find(line.cause)))
        entries.append(Entry(criterion.about, (f"{shares[criterion.id]:.0%}", score.words(scale)), reasons, causes))
    ranks = f", class {found.classes}" if spec.classes else ""
    as_if = ", as if" if found.as_if else ""
    headline = f"{found.total.words(scale)} of {spec.most:g}{ranks}{as_if}"
    missing: list[str] = []
    if found.as_if:
        missing.append(f"Made for: {', '.join(spec.groups)}. Shown as if the device were one.")
    data = {
        "low": round(found.total.low, 4),
        "likely": round(found.total.likely, 4),
        "high": round(found.total.high, 4),
        "out_of": spec.most,
        "classes": found.classes,
        "as_if": found.as_if,
        "criteria": [
            {
                "id": c.id,
                "weight": round(shares[c.id], 4),
                "low": round(found.scores[c.id].low, 4),
                "likely": round(found.scores[c.id].likely, 4),
                "high": round(found.scores[c.id].high, 4),
                "lines": [_line_data(study, line) for line in found.lines if line.criterion == c.id],
            }
            for c in spec.criteria
        ],
        "open": [{"question": a.words, "narrows": a.narrows} for a in found.asks[:12]],
    }  # fmt: skip
    heads = ("criterion", "weight", "points")
    total = evolve(found.total, best=spec.most)
    return Judgement(
        headline, spec.source, spec.verified, heads, tuple(entries), tuple(missing), data, total, found.asks
    )
