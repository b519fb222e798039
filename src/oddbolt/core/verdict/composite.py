"""Schemes that weigh criteria: points for each priority part by ladders and classes, weighted parts, weighted criteria.

A scheme is data: a table of ours or a user's own TOML file. Every figure is reckoned for the best, the likely and the
worst reading of the record; a "?" in a scheme may be any point of its scale."""

from __future__ import annotations

import tomllib
from collections.abc import Callable, Iterable, Mapping, Sequence
from math import isfinite
from typing import Any

from attrs import evolve, frozen

from oddbolt.core.components.kinds import kind_of, part_kinds
from oddbolt.core.errors import BenchError
from oddbolt.core.reach import Route
from oddbolt.core.study import Study
from oddbolt.core.study.model import INFO_TO, SPARES_TO
from oddbolt.core.verdict import evidence
from oddbolt.core.verdict.counting import both_routes
from oddbolt.core.verdict.evidence import Told
from oddbolt.core.verdict.scheme import Ask, Entry, Judgement, Range3, Scheme

#: measures that are figures of a part's route, classes of it, and figures or classes of the device
FIGURES = ("steps", "screws", "tools", "seconds", "renewals", "solder", "drives")
CLASSES = ("fastener", "tool", "skill", "environment")
DEVICE_FIGURES = ("spares_years", "spares_days", "spares_share", "update_years")
DEVICE_CLASSES = ("spares_to", "info_to")
MEASURES = (*FIGURES, *CLASSES, *DEVICE_FIGURES, *DEVICE_CLASSES)
UNSURE = "?"
LONGEST_FILE = 200_000
Points = float | str


@frozen
class Criterion:
    """One criterion: its weight, what is measured, and what points that gives: by a ``ladder`` of (up to, points) and
    ``beyond`` it, by ``points`` of a class, or on a line between two (figure, points)."""

    id: str
    about: str
    weight: float
    measure: str
    ladder: tuple[tuple[float, Points], ...] = ()
    beyond: Points = UNSURE
    points: Mapping[str, Points] = {}
    linear: tuple[tuple[float, float], ...] = ()


@frozen
class PartWeight:
    """A role that counts: its weight, and the kinds of parts that stand for it where no part has the role."""

    role: str
    weight: float
    kinds: tuple[str, ...]


@frozen
class Spec:
    """A whole scheme. ``parts`` empty: the priority parts count alike."""

    id: str
    name: str
    about: str
    source: str
    verified: bool
    least: float
    most: float
    groups: tuple[str, ...]
    step_rule: str
    criteria: tuple[Criterion, ...]
    parts: tuple[PartWeight, ...]
    classes: tuple[tuple[str, float], ...]


@frozen
class Line:
    """What a criterion gives one part, or the device (``part`` ""): points as a range, why, and what causes it."""

    criterion: str
    part: str
    weight: float
    points: Range3
    reason: str
    cause: str
    basis: str


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


# -- reading a scheme ----------------------------------------------------------------------------------------


def read_spec(text: str, id: str) -> Spec:
    """A scheme from TOML. Raises BenchError with what is wrong and where."""
    if len(text) > LONGEST_FILE:
        raise BenchError(f"A scheme is at most {LONGEST_FILE // 1000} kB.")
    try:
        data = tomllib.loads(text)
    except tomllib.TOMLDecodeError as error:
        raise BenchError(f"The scheme is no TOML: {error}.") from None
    return spec_of(data, id)


def spec_of(data: Mapping[str, Any], id: str) -> Spec:
    """A scheme from plain values. Raises BenchError."""
    known = {
        "name",
        "about",
        "source",
        "verified",
        "least",
        "most",
        "groups",
        "step_rule",
        "criteria",
        "parts",
        "classes",
    }
    _check(not set(data) - known, f"A scheme has no {_first(set(data) - known)!r}.")
    name = data.get("name")
    _check(isinstance(name, str) and bool(str(name).strip()), "A scheme needs a name.")
    least, most = _number(data.get("least", 0.0), "least"), _number(data.get("most", 10.0), "most")
    _check(least < most, "The scale of a scheme runs from least to most.")
    rows = data.get("criteria", [])
    _check(isinstance(rows, list) and bool(rows), "A scheme needs criteria ([[criteria]]).")
    criteria = tuple(_criterion(row, n, least, most) for n, row in enumerate(rows, 1))
    weight = sum(c.weight for c in criteria)
    _check(weight > 0, "At least one criterion needs a weight above 0.")
    _check(len({c.id for c in criteria}) == len(criteria), "Two criteria have the same id.")
    rule = data.get("step_rule", "standard")
    _check(isinstance(rule, str) and rule in ("standard", "heating"), "step_rule is “standard” or “heating”.")
    parts = tuple(_part(role, row) for role, row in _table(data.get("parts", {}), "parts").items())
    ranks = data.get("classes", [])
    _check(
        isinstance(ranks, list) and all(isinstance(r, dict) and set(r) == {"name", "least"} for r in ranks),
        "classes are tables ([[classes]]) with name and least.",
    )
    _check(not parts or sum(p.weight for p in parts) > 0, "At least one part needs a weight above 0.")
    groups = data.get("groups", [])
    _check(isinstance(groups, list), "groups are a list of names of product groups.")
    classes = tuple(
        sorted(
            ((str(r.get("name", "")), _number(r.get("least"), "least of a class")) for r in ranks), key=lambda r: -r[1]
        )
    )
    return Spec(
        id,
        str(name).strip(),
        str(data.get("about", "")),
        str(data.get("source", "own scheme")),
        data.get("verified") is True,
        least,
        most,
        tuple(str(g) for g in groups),
        str(rule),
        tuple(evolve(c, weight=c.weight / weight) for c in criteria),
        parts,
        classes,
    )


def _criterion(row: Any, n: int, least: float, most: float) -> Criterion:
    _check(isinstance(row, dict), f"Criterion {n} is no table.")
    what = f"criterion {row.get('id', n)}"
    measure = row.get("measure")
    _check(
        isinstance(measure, str) and measure in MEASURES,
        f"{what}: measure is one of {', '.join(MEASURES)}, not {measure!r}.",
    )
    known = {"id", "about", "weight", "measure", "ladder", "beyond", "points", "linear"}
    _check(not set(row) - known, f"{what} has no {_first(set(row) - known)!r}.")
    weight = _number(row.get("weight", 1.0), f"weight of {what}")
    _check(weight >= 0, f"The weight of {what} is below 0.")

    def points(value: Any) -> Points:
        if value == UNSURE:
            return UNSURE
        found = _number(value, f"points of {what}")
        _check(least <= found <= most, f"{what}: {found:g} points lie outside the scale {least:g} to {most:g}.")
        return found

    ladder = tuple(
        (_number(step[0], f"ladder of {what}"), points(step[1])) for step in _pairs(row.get("ladder", []), what)
    )
    _check([s[0] for s in ladder] == sorted(s[0] for s in ladder), f"The ladder of {what} must rise.")
    given = {str(name): points(value) for name, value in _table(row.get("points", {}), f"points of {what}").items()}
    linear = tuple(
        (_number(a, what), _number(b if points(b) != UNSURE else None, f"points of the line of {what}"))
        for a, b in _pairs(row.get("linear", []), what)
    )
    _check(
        len(linear) in (0, 2) and (not linear or linear[0][0] < linear[1][0]),
        f"{what}: linear needs two rising points.",
    )
    classes = measure in (*CLASSES, *DEVICE_CLASSES)
    _check(
        bool(given) if classes else bool(ladder or linear),
        f"{what} needs {'points for each class' if classes else 'a ladder'}.",
    )
    strange = set(given) - set(names_of(str(measure))) if classes else set(given)
    _check(
        not strange,
        f"{what} has no class {_first(strange)!r}; there are {', '.join(names_of(str(measure))) or 'none'}.",
    )
    about = str(row.get("about", row.get("id", measure)))
    return Criterion(
        str(row.get("id", about)), about, weight, str(measure), ladder, points(row.get("beyond", least)), given, linear
    )


def _part(role: str, row: Any) -> PartWeight:
    row = row if isinstance(row, dict) else {"weight": row}
    _check(not set(row) - {"weight", "kinds"}, f"{role} has no {_first(set(row) - {'weight', 'kinds'})!r}.")
    kinds = row.get("kinds", [])
    _check(isinstance(kinds, list), f"The kinds of {role} are a list.")
    weight = _number(row.get("weight"), f"weight of {role}")
    _check(weight >= 0, f"The weight of {role} is below 0.")
    strange = [str(k) for k in kinds if str(k) not in part_kinds()]
    _check(not strange, f"{role}: there is no kind of part {_first(strange)!r}.")
    return PartWeight(role, weight, tuple(str(k) for k in kinds))


def names_of(measure: str) -> tuple[str, ...]:
    """The classes that a measure can have; none where it is a figure."""
    known: dict[str, Callable[[], tuple[str, ...]]] = {
        "fastener": lambda: evidence.FASTENER_ORDER,
        "tool": evidence.tool_order,
        "skill": lambda: evidence.SKILL_ORDER,
        "environment": lambda: evidence.PLACE_ORDER,
        "spares_to": lambda: SPARES_TO[1:],
        "info_to": lambda: INFO_TO[1:],
    }
    return tuple(known[measure]()) if measure in known else ()


def _check(fine: bool, words: str) -> None:
    if not fine:
        raise BenchError(words)


def _number(value: Any, what: str) -> float:
    if isinstance(value, bool) or not isinstance(value, (int, float)) or not -1e9 < value < 1e9:
        raise BenchError(f"The {what} must be a number, not {value!r}.")
    return float(value)


def _pairs(value: Any, what: str) -> list[Any]:
    fine = isinstance(value, list) and all(isinstance(v, list) and len(v) == 2 for v in value)
    _check(fine, f"{what}: a ladder is a list of pairs like [[5, 10], [10, 5]].")
    return list(value)


def _table(value: Any, what: str) -> Mapping[str, Any]:
    _check(isinstance(value, dict), f"The {what} are a table.")
    return dict(value)


def _first(names: Iterable[str]) -> str:
    return min(names, default="")


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
        raise BenchError(f"{spec.name} has no criterion {_first(unknown)!r}; there are {', '.join(own)}.")
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
        return Line(criterion.id, "", share, whole, f"no part is recorded as {role}", "", "open")
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
        told = class_of_route(study, criterion.measure, routes.least)
        far = class_of_route(study, criterion.measure, most)
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


def class_of_route(study: Study, measure: str, route: Route) -> Told:
    steps = [study.steps[s] for s in route.steps]
    joints = [study.joints[j] for j in dict.fromkeys(j for s in steps for j in s.releases)]
    if measure == "fastener":
        return evidence.worst_of((evidence.fastener(study, j) for j in joints), evidence.FASTENER_ORDER, "reusable")
    if measure == "tool":
        tools = dict.fromkeys(s.tool for s in steps)
        return evidence.worst_of((evidence.tool(study, t) for t in tools), evidence.tool_order(), "none")
    if measure == "skill":
        return evidence.worst_of((evidence.skill(study, s) for s in steps), evidence.SKILL_ORDER, "layman")
    return evidence.worst_of((evidence.environment(study, s) for s in steps), evidence.PLACE_ORDER, "use")


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
    basis = "recorded" if low == high else "the scheme's figure is unsure"
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
    about = {c.id: c.about for c in spec.criteria}
    for line in lines:
        width = (line.points.high - line.points.low) * line.weight * shares[line.criterion]
        if width <= 1e-9:
            continue
        thing = line.cause or line.part
        key = (thing, line.criterion, "" if thing else line.reason)
        by[key] = by.get(key, 0.0) + width
        words[key] = f"{about[line.criterion]}: {line.reason}"
    ranked = sorted(by, key=lambda key: -by[key])
    return tuple(Ask(words[key], key[0], round(by[key], 4)) for key in ranked)


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
