"""Edits on the record: each takes a study and returns a new one that shares what did not change.

An id never dangles. :func:`remove` takes every mention of the removed thing along and :func:`consequences` says
beforehand, in sentences, what that touches.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any, TypeVar

import attrs

from oddbolt.core.errors import StudyError
from oddbolt.core.study.model import KINDS, LETTER_OF, Fact, Joint, Lap, Part, Run, Step, Study, Thing

T = TypeVar("T")

#: (class letter, field) -> what is said when a mention is dropped. A field not in OWNED is cleared; in OWNED the
#: thing itself goes, since it means nothing without what it mentions.
MENTIONS = {
    ("P", "inside"): "P",
    ("J", "holds"): "P",
    ("J", "into"): "P",
    ("S", "releases"): "J",
    ("S", "takes_out"): "P",
    ("S", "opens"): "P",
    ("S", "puts_in"): "P",
    ("S", "softens"): "J",
    ("S", "renews"): "PJ",
    ("S", "leaves"): "PJ",
    ("F", "over"): "P",
    ("F", "under"): "PJS",
    ("F", "step"): "S",
    ("N", "about"): "PJS",
    ("H", "step"): "S",
    ("C", "photo"): "H",
    ("C", "about"): "PJS",
    ("O", "part"): "P",
    ("E", "plan"): "O",
    ("E", "joint"): "J",
    ("Z", "plan"): "O",
    ("Z", "part"): "P",
    ("W", "joint"): "J",
    ("L", "warmup"): "W",
    ("T", "step"): "S",
    ("U", "about"): "PJS",
    ("V", "about"): "PJ",
    ("M", "photo"): "H",
    ("M", "part"): "P",
    ("G", "photo"): "H",
    ("G", "part"): "P",
}
OWNED = {
    ("F", "over"), ("F", "under"), ("C", "photo"), ("E", "plan"), ("Z", "plan"), ("L", "warmup"), ("V", "about"),
    ("M", "photo"), ("G", "photo"),
}  # fmt: skip
VERBS_OF = {
    "inside": "is no longer inside",
    "holds": "no longer holds",
    "into": "is no longer fixed to",
    "releases": "no longer releases",
    "takes_out": "no longer takes out",
    "opens": "no longer opens",
    "puts_in": "no longer puts in",
    "softens": "no longer softens",
    "renews": "no longer renews",
    "leaves": "no longer leaves out",
    "about": "is no longer about",
    "step": "no longer belongs to",
    "part": "no longer stands for",
    "joint": "no longer stands for",
}


def new_id(study: Study, letter: str) -> str:
    """The next free id of a kind. Numbers are never used twice while higher ones exist."""
    used = study.table(letter)
    return f"{letter}{max((int(id[1:]) for id in used), default=0) + 1}"


def put(study: Study, thing: Thing, before: str = "") -> Study:
    """Add a thing, or replace the one with its id; a new one may be put before another of its table.

    Raises StudyError where it mentions something that does not exist or carries itself.
    """
    letter = _checked_letter(thing)
    _check_mentions(study, thing, letter)
    table = dict(study.table(letter))
    if before and before in table and thing.id not in table:
        table = _inserted(table, thing, before)
    else:
        table[thing.id] = thing
    after = _with(study, letter, table)
    if isinstance(thing, Part):
        _check_carriers(after, thing)
    return after


def put_all(study: Study, things: Iterable[Thing]) -> Study:
    """Add many things in order, copying each table once. They may mention things earlier in the list."""
    tables: dict[str, dict[str, Any]] = {}
    working = study
    for thing in things:
        letter = _checked_letter(thing)
        if letter not in tables:
            tables[letter] = dict(study.table(letter))
            working = _with(working, letter, tables[letter])
        _check_mentions(working, thing, letter)
        known = thing.id in tables[letter]
        tables[letter][thing.id] = thing
        if isinstance(thing, Part) and known:  # nothing is inside a new one yet
            _check_carriers(working, thing)
    return working


def change(study: Study, id: str, **fields: Any) -> Study:
    """Change fields of the thing with this id. A figure that its new kind has not is dropped with the kind."""
    thing = _existing(study, id)
    if isinstance(thing, Joint) and "kind" in fields:
        fields = _figures_of_kind(fields)
    unknown = set(fields) - {a.name for a in attrs.fields(type(thing))} | ({"id"} & set(fields))
    if unknown:
        raise StudyError(f"{study.name(id)} has no {min(unknown)!r} to change.")
    return put(study, attrs.evolve(thing, **fields))


def remove(study: Study, id: str) -> Study:
    """Take a thing out of the record, and every mention of it."""
    _existing(study, id)
    gone = {id}
    tables = {letter: dict(study.table(letter)) for letter in KINDS}
    queue = [id]
    while queue:
        target = queue.pop()
        tables[target[0]].pop(target, None)
        for letter, field in _mentioning(target):
            for other in list(tables[letter].values()):
                if not _mentions(other, field, target):
                    continue
                if (letter, field) in OWNED:
                    gone.add(other.id)
                    queue.append(other.id)
                else:
                    tables[letter][other.id] = _without(other, field, target)
        if target[0] == "S":
            for run in list(tables["R"].values()):
                laps = tuple(lap for lap in run.laps if lap.step != target)
                if len(laps) != len(run.laps):
                    tables["R"][run.id] = attrs.evolve(run, laps=laps)
    changed: dict[str, Any] = {KINDS[k][1]: t for k, t in tables.items() if not _same(t, study.table(k))}
    return attrs.evolve(study, **changed)


def consequences(study: Study, id: str) -> list[str]:
    """What else changes when the thing with this id is removed, one sentence each; empty if nothing does."""
    _existing(study, id)
    said: list[str] = []
    for letter, field in _mentioning(id):
        for other in study.table(letter).values():
            if not _mentions(other, field, id):
                continue
            if (letter, field) in OWNED:
                said.append(f"{_sentence(study.name(other.id))} goes too.")
            else:
                said.append(f"{_sentence(study.name(other.id))} {VERBS_OF[field]} {study.name(id)}.")
    if id[0] == "S":
        laps = sum(lap.step == id for run in study.runs.values() for lap in run.laps)
        if laps:
            said.append(
                f"{laps} timed lap{'s' if laps > 1 else ''} of {study.name(id)} go{'' if laps > 1 else 'es'} too."
            )
    return said


def renumber(study: Study, step_ids: Sequence[str]) -> Study:
    """Put the steps in this order. Every step must be named once."""
    if sorted(step_ids) != sorted(study.steps):
        raise StudyError("The new order must name every step exactly once.")
    return attrs.evolve(study, steps={id: study.steps[id] for id in step_ids})


def lap(study: Study, run_id: str, step_id: str, seconds: float | None, ended: str = "") -> Study:
    """Write the seconds of a step into a run, replacing an earlier lap of that step; None takes the lap out."""
    run = study.runs[run_id]
    old = next((item for item in run.laps if item.step == step_id), None)
    kept = tuple(item for item in run.laps if item.step != step_id)
    if seconds is not None:
        made = Lap(step_id, seconds, ended or (old.ended if old else ""))
        kept = tuple(made if item is old else item for item in run.laps) if old else (*kept, made)
    return put(study, attrs.evolve(run, laps=kept))


def _checked_letter(thing: Thing) -> str:
    letter = LETTER_OF[type(thing)]
    if not (thing.id[:1] == letter and thing.id[1:].isdecimal() and thing.id.isascii()):
        raise StudyError(
            f"{thing.id!r} cannot be the id of a {type(thing).__name__.lower()}; it must look like {letter}7."
        )
    return letter


def _check_mentions(study: Study, thing: Thing, letter: str) -> None:
    for (owner, field), targets in MENTIONS.items():
        if owner != letter:
            continue
        value = getattr(thing, field)
        for id in value if isinstance(value, tuple) else (value,):
            if not id and (letter, field) not in OWNED and not isinstance(value, tuple):
                continue
            if id[:1] not in targets or study.find(id) is None:
                own = isinstance(thing, Part | Step | Joint) and id == thing.id
                raise StudyError(
                    f"{type(thing).__name__} {thing.id} {'mentions itself' if own else f'mentions {id!r}'} as "
                    f"{field.replace('_', ' ')}, which does not exist."
                )
    if isinstance(thing, Fact) and thing.over == thing.under:
        raise StudyError(f"{study.name(thing.over)} cannot lie over itself.")
    if isinstance(thing, Run):
        for item in thing.laps:
            if item.step not in study.steps:
                raise StudyError(f"Run {thing.id} has a lap of {item.step!r}, which does not exist.")
    if isinstance(thing, Step):
        for field in ("releases", "takes_out", "opens", "softens"):
            ids = getattr(thing, field)
            if len(set(ids)) != len(ids):
                raise StudyError(f"Step {thing.id} names the same thing twice in {field.replace('_', ' ')}.")


def _check_carriers(study: Study, part: Part) -> None:
    seen = {part.id}
    inside = part.inside
    while inside:
        if inside in seen:
            raise StudyError(f"{part.name} would be inside itself, by way of {study.parts[inside].name}.")
        seen.add(inside)
        inside = study.parts[inside].inside


def _figures_of_kind(fields: dict[str, Any]) -> dict[str, Any]:
    from oddbolt.core.study.model import FIGURES

    kept = FIGURES.get(fields["kind"], ())
    everything = {figure for figures in FIGURES.values() for figure in figures}
    blank: dict[str, Any] = {
        a.name: a.default for a in attrs.fields(Joint) if a.name in everything and a.name not in kept
    }
    return {**blank, **fields}


def _existing(study: Study, id: str) -> Thing:
    thing = study.find(id)
    if thing is None:
        raise StudyError(f"There is no {id!r} in this study.")
    return thing


def _with(study: Study, letter: str, table: dict[str, Any]) -> Study:
    fields: dict[str, Any] = {KINDS[letter][1]: table}
    return attrs.evolve(study, **fields)


def _inserted(table: dict[str, Any], thing: Thing, before: str) -> dict[str, Any]:
    out: dict[str, Any] = {}
    for id, other in table.items():
        if id == before:
            out[thing.id] = thing
        out[id] = other
    return out


def _mentioning(id: str) -> list[tuple[str, str]]:
    return [owner for owner, targets in MENTIONS.items() if id[0] in targets]


def _mentions(thing: Any, field: str, id: str) -> bool:
    value = getattr(thing, field)
    return id in value if isinstance(value, tuple) else value == id


def _without(thing: Any, field: str, id: str) -> Any:
    value = getattr(thing, field)
    kept: Any = tuple(v for v in value if v != id) if isinstance(value, tuple) else ""
    return attrs.evolve(thing, **{field: kept})


def _same(a: dict[str, Any], b: Any) -> bool:
    return len(a) == len(b) and all(a[k] is b.get(k) for k in a)


def _sentence(text: str) -> str:
    return text[:1].upper() + text[1:]
