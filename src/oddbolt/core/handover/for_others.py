"""A study for others: without serial numbers, names of people, and what says where it was bought."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from typing import Any

import attrs
from attrs import evolve

from oddbolt.core.study import Study
from oddbolt.core.study.model import KINDS

#: fields of the device that are taken away
DEVICE = ("serial", "lot", "origin", "price", "recording")
#: (class letter, field) -> taken away from every thing of that kind
FIELDS = {"K": ("by",), "X": ("by",), "F": ("by",), "P": ("origin", "price")}
BLANK = "(taken out)"


def for_others(study: Study) -> tuple[Study, tuple[str, ...]]:
    """A copy of the study for others, and what was taken out of it, in words. A serial number, lot or name of a person
    that also stands in a sentence, a note, a marking or a caption is taken out there too."""
    secret = {getattr(study.device, f) for f in ("serial", "lot")}
    people = {t.by for letter in ("K", "X", "F") for t in getattr(study, KINDS[letter][1]).values()}
    told = [f"device: {f}" for f in DEVICE if getattr(study.device, f)]
    words = sorted((w for w in (*secret, *people) if len(w.strip()) > 1), key=len, reverse=True)
    hide = _hidden(words)
    device = _cleaned(_without(study.device, DEVICE), hide)
    tables: dict[str, dict[str, Any]] = {}
    counted: dict[str, int] = {}
    for letter, (cls, table) in KINDS.items():
        out = {}
        for id, thing in getattr(study, table).items():
            gone = [f for f in FIELDS.get(letter, ()) if getattr(thing, f)]
            short = _without(thing, gone)
            clean = _cleaned(short, hide)
            for f in gone:
                counted[f"{cls.__name__.lower()}: {f}"] = counted.get(f"{cls.__name__.lower()}: {f}", 0) + 1
            if clean != short:
                counted["in sentences"] = counted.get("in sentences", 0) + 1
            out[id] = clean
        tables[table] = out
    told += [f"{what} ({count})" for what, count in counted.items()]
    return evolve(study, device=device, **tables), tuple(told)


def _without(thing: Any, fields: Sequence[str]) -> Any:
    return evolve(thing, **dict.fromkeys(fields, "")) if fields else thing


def _hidden(words: list[str]) -> Callable[[str], str]:
    if not words:
        return lambda text: text
    pattern = re.compile("|".join(rf"(?<!\w){re.escape(w)}(?!\w)" for w in words), re.IGNORECASE)
    return lambda text: pattern.sub(BLANK, text)


def _cleaned(thing: Any, hide: Callable[[str], str]) -> Any:
    """The thing with what must not be told taken out of every text of it."""
    changed: dict[str, Any] = {}
    for a in attrs.fields(type(thing)):
        value = getattr(thing, a.name)
        if a.name in ("id", "sha256") or not value:
            continue
        if isinstance(value, str) and hide(value) != value:
            changed[a.name] = hide(value)
        elif isinstance(value, tuple) and all(isinstance(v, str) for v in value):
            clean = tuple(map(hide, value))
            changed |= {a.name: clean} if clean != value else {}
    return evolve(thing, **changed) if changed else thing
