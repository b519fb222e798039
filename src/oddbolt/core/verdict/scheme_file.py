"""A scheme of weighed criteria as it is written: a TOML file, read and checked."""

from __future__ import annotations

import tomllib
from collections.abc import Callable, Iterable, Mapping
from typing import Any

from attrs import evolve, frozen

from oddbolt.core.components.kinds import part_kinds
from oddbolt.core.errors import BenchError
from oddbolt.core.study.model import INFO_TO, SPARES_TO
from oddbolt.core.verdict import evidence

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
