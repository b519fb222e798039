"""A study in figures small enough for a shelf: marks of every scheme as ranges, and what each role takes."""

from __future__ import annotations

from collections.abc import Sequence
from math import isfinite
from types import UnionType
from typing import Any, get_args, get_origin, get_type_hints

from attrs import asdict, frozen

from oddbolt.core.components.kinds import kind_of
from oddbolt.core.reach import reach_of_all
from oddbolt.core.reach.totals import totals
from oddbolt.core.study import Study
from oddbolt.core.verdict import SCHEMES, SPECS
from oddbolt.core.verdict.composite import composite, scheme_of
from oddbolt.core.verdict.counting import counting
from oddbolt.core.verdict.scheme import Range3
from oddbolt.core.verdict.scheme_file import Spec

#: changes with the figures: an index made by another version is renewed
VERSION = 3
#: so many parts are kept as layers, those reached last are left out
MOST_LAYERS = 120


@frozen
class RoleFigures:
    """What a priority part takes: its role (as said, else its kind, else its name), steps and seconds least and most,
    screws, tools, renewals, depth of carriers."""

    role: str
    part: str
    steps: tuple[float, float]
    seconds: tuple[float, float]
    screws: int
    tools: int
    renew: int


@frozen
class Layer:
    """A part as a layer of the device: the time (s) at which it is free, least and most; its role where it is a
    priority part."""

    name: str
    role: str
    seconds: tuple[float, float]


@frozen
class Summary:
    """One study on the shelf: who it is, how far it is, marks by scheme (low, likely, high, headline), the scores of
    the composites by criterion, roles, layers in the order they come free, screws by driver, mass, and how many
    questions are open."""

    device: str
    maker: str
    variant: str
    date: str
    steps: int
    parts: int
    joints: int
    marks: dict[str, tuple[float, float, float, str]]
    scores: dict[str, dict[str, tuple[float, float, float]]]
    roles: tuple[RoleFigures, ...]
    drivers: dict[str, int]
    renewals: int
    seconds: float
    mass_g: float | None
    open: int
    layers: tuple[Layer, ...] = ()

    def data(self) -> dict[str, Any]:
        """Plain values, for an index file."""
        return asdict(self)

    @classmethod
    def of_data(cls, data: dict[str, Any]) -> Summary:
        """From plain values. Raises LookupError, TypeError, ValueError or AttributeError for others."""
        roles = tuple(
            RoleFigures(**{**r, "steps": tuple(r["steps"]), "seconds": tuple(r["seconds"])}) for r in data["roles"]
        )
        layers = tuple(Layer(**{**one, "seconds": tuple(one["seconds"])}) for one in data["layers"])
        marks = {k: (float(v[0]), float(v[1]), float(v[2]), str(v[3])) for k, v in data["marks"].items()}
        scores = {
            s: {c: (float(v[0]), float(v[1]), float(v[2])) for c, v in of.items()} for s, of in data["scores"].items()
        }
        ranges = [(v[0], v[2]) for v in marks.values()] + [(v[0], v[2]) for of in scores.values() for v in of.values()]
        if any(low > high for low, high in ranges):
            raise ValueError("a range ends before it begins")
        made = cls(**{**data, "roles": roles, "marks": marks, "scores": scores, "layers": layers})
        for thing in (made, *made.roles, *made.layers):
            for name, hint in get_type_hints(type(thing)).items():
                if not _fits(getattr(thing, name), hint):
                    raise TypeError(f"{name} is no {hint}")
        return made


def _fits(value: Any, hint: Any) -> bool:
    """Whether a plain value is what a hint says, its contents too; figures are finite."""
    kind, inside = get_origin(hint) or hint, get_args(hint)
    if kind is UnionType:
        return any(_fits(value, one) for one in inside)
    if kind is float:
        return isinstance(value, (int, float)) and not isinstance(value, bool) and isfinite(value)
    if not isinstance(value, kind) or (kind is int and isinstance(value, bool)):
        return False
    if kind is dict:
        return all(_fits(k, inside[0]) and _fits(v, inside[1]) for k, v in value.items())
    if kind is tuple and inside and inside[-1] is not Ellipsis:
        return len(value) == len(inside) and all(map(_fits, value, inside))
    return kind is not tuple or all(_fits(v, inside[0]) for v in value)


def summary(study: Study, own: Sequence[Spec] = ()) -> Summary:
    """The figures of a study, by every scheme and by those of the user's ``own``."""
    from oddbolt.core.reach import step_times
    from oddbolt.core.reference.tables import screw_label

    marks: dict[str, tuple[float, float, float, str]] = {}
    open_questions = 0
    for scheme in (*SCHEMES.values(), *map(scheme_of, own)):
        judged = scheme.judge(study)
        open_questions += len(judged.asks)
        if judged.total is not None:
            t = judged.total
            marks[scheme.id] = (t.low, t.likely, t.high, judged.headline)
    scores = {
        spec.id: {id: (s.low, s.likely, s.high) for id, s in composite(study, spec).scores.items()}
        for spec in (*SPECS.values(), *own)
    }
    drivers: dict[str, int] = {}
    for joint in study.joints.values():
        if joint.kind == "screw":
            label = screw_label(joint.drive, joint.size) if joint.drive or joint.size else "unknown"
            drivers[label] = drivers.get(label, 0) + (joint.count or 0)
    apart = [id for id, step in study.steps.items() if step.phase == "apart"]
    whole = totals(study, apart)
    times = step_times(study)
    device = study.device
    started = next((r.started[:10] for r in study.runs.values() if r.started), "")
    return Summary(
        device.name,
        device.maker,
        device.variant,
        started,
        len(apart),
        len(study.parts),
        len(study.joints),
        marks,
        scores,
        tuple(_roles(study)),
        drivers,
        len(whole.renew),
        round(sum(times[id].seconds for id in apart), 1),
        device.mass_g,
        open_questions,
        tuple(_layers(study)),
    )


def role_of(study: Study, part_id: str) -> str:
    """What a part is when devices are compared: its role as said, else its kind, else its name."""
    part = study.parts[part_id]
    kind = kind_of(part.kind or part.name)
    return part.role or (kind.id if kind else part.name.lower())


def _layers(study: Study) -> list[Layer]:
    reach = reach_of_all(study)
    found = [
        Layer(part.name, role_of(study, id) if part.priority else "", (seconds.least, seconds.most))
        for id, part in study.parts.items()
        if (seconds := reach[id].seconds) is not None
    ]
    return sorted(found, key=lambda layer: layer.seconds)[:MOST_LAYERS]


def _roles(study: Study) -> list[RoleFigures]:
    out = []
    for count in counting(study):
        if count.route is None or count.steps is None or count.seconds is None:
            continue
        t = count.route.totals
        out.append(
            RoleFigures(
                role_of(study, count.part),
                study.name(count.part),
                (count.steps.least, count.steps.most),
                (count.seconds.least, count.seconds.most),
                t.fasteners,
                len(t.tools),
                len(t.renew),
            )
        )
    return out


def mark_words(scheme: str, mark: Range3, own: Sequence[Spec] = ()) -> str:
    """A mark in words, on the scale of its scheme."""
    spec = SPECS.get(scheme) or next((spec for spec in own if spec.id == scheme), None)
    return mark.words(spec.most - spec.least if spec else 10.0)


def span(values: tuple[float, float, float]) -> Range3:
    """A range from the values of a summary."""
    return Range3(*values)
