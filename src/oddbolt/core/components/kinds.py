"""The kinds of parts: what each is called, does, where it sits, how to handle it, and which kind an unknown part is.

The table is ``part_kinds.toml``: about 200 kinds in families. What a family says holds for its kinds unless they say
otherwise.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import cache
from typing import Any

import numpy as np
from attrs import frozen

from oddbolt.core.components.looks import Guide, Kind, Look, Ranked, Seen
from oddbolt.core.errors import BenchError
from oddbolt.core.reference.tables import table
from oddbolt.core.study import Study, change

#: a kind is entered as known from so much on
SURE_ENOUGH = 0.6


@frozen
class PartKind:
    """One kind. ``also`` are other words for it, ``does`` what it usually does, ``place`` where it usually is,
    ``handle`` what to mind, ``end`` where it goes at the end of its life, ``sign`` how it is drawn, ``size_mm`` how
    long its longest edge usually is."""

    id: str
    family: str
    also: tuple[str, ...]
    does: str
    place: str
    handle: str
    end: str
    sign: str
    size_mm: tuple[float, float]


@cache
def part_kinds() -> Mapping[str, PartKind]:
    """All kinds by their names."""
    rows = table("part_kinds")
    out = {}
    for id, row in rows["kinds"].items():
        family = rows["families"][row["family"]]
        looks = _looks(family.get("looks", "")) | _looks(row["looks"])
        low, high = _span(looks["size"][0])
        out[id] = PartKind(
            id,
            row["family"],
            tuple(word.strip() for word in row["also"].split(",")),
            row["does"],
            row.get("place", family["place"]),
            row.get("handle", family["handle"]),
            row.get("end", family["end"]),
            row.get("sign", family["sign"]),
            (low, high),
        )
    return out


@cache
def _by_word() -> Mapping[str, str]:
    """Every word for a kind -> the kind; its own name before those of others."""
    out: dict[str, str] = {id.lower(): id for id in part_kinds()}
    for kind in part_kinds().values():
        for word in kind.also:
            out.setdefault(word.lower(), kind.id)
    return out


def kind_of(said: str) -> PartKind | None:
    """The kind that this is a word for, or the end of: "port board", "the LCD", "upper speaker". None for none."""
    words = said.lower().split()
    for n in range(len(words)):
        found = _by_word().get(" ".join(words[n:])) or _by_word().get(_singular(" ".join(words[n:])))
        if found:
            return part_kinds()[found]
    return None


def _singular(word: str) -> str:
    return word[:-3] + "y" if word.endswith("ies") else word[:-2] if word.endswith("xes") else word.removesuffix("s")


def named_kind(said: str) -> PartKind:
    """The kind that this is exactly a word for. Raises BenchError with near ones."""
    from rapidfuzz import process

    key = " ".join(said.lower().split())
    found = _by_word().get(key) or _by_word().get(_singular(key))
    if found:
        return part_kinds()[found]
    near = [word for word, score, _ in process.extract(key, list(_by_word()), limit=3) if score >= 70]
    raise BenchError(
        f"“{said}” is no kind of part in the table" + (f"; did you mean {' or '.join(near)}?" if near else ".")
    )


@cache
def part_guide() -> Guide:
    """The table of kinds of parts; a kind has the looks of its family too."""
    families = table("part_kinds")["families"]
    return guide_from(
        "part_kinds",
        "kind of part",
        lambda row: _looks(families[row["family"]].get("looks", "")) | _looks(row["looks"]),
    )


def what_is_this(seen: Seen, most: int = 5) -> Ranked:
    """The kinds of part that fit what was seen, the likeliest first, and what to look at next."""
    return part_guide().rank(seen, most)


def with_kind(study: Study, part: str, ranked: Ranked, chosen: int = 0) -> Study:
    """The study with the kind of a part entered: that of the candidate ``chosen``. Raises BenchError where the first is
    not sure enough and nobody chose it."""
    if part not in study.parts:
        raise BenchError("Select a part first.")
    if not ranked.candidates:
        raise BenchError("Nothing fits what was seen; look again.")
    if ranked.trouble:
        raise BenchError(ranked.trouble)
    best = ranked.candidates[min(max(chosen - 1, 0), len(ranked.candidates) - 1)]
    if not chosen and best.probability < SURE_ENOUGH:
        told = " or ".join(c.id for c in ranked.candidates[:2])
        raise BenchError(f"Not certain enough to enter: {told}. {part_guide().advice(ranked)}".rstrip())
    return change(study, part, kind=best.id)


# -- reading the tables --------------------------------------------------------------------------------------


def look_of(id: str, row: Mapping[str, Any]) -> Look:
    """A look from its row of a table."""
    answers = {
        answer: tuple(word.strip() for word in words.split(",")) for answer, words in row.get("answers", {}).items()
    }
    return Look(
        id,
        row["question"],
        answers,
        row.get("unit", ""),
        tuple(word.strip() for word in row.get("named", "").split(",") if word.strip()),
        row.get("off", 0.0),
        row.get("share", 0.06 if row.get("unit") else 0.0),
        row.get("effort", 1.0),
        row.get("usual", dict.fromkeys(answers, 1.0)),
        row.get("logarithmic", bool(row.get("unit"))),
        row.get("several", False),
    )


def kind_from(id: str, usual: float, told: Mapping[str, tuple[str, ...]], looks: Mapping[str, Look]) -> Kind:
    """A candidate from its answers; the first of several is twice as usual as each that follows."""
    answers, figures = {}, {}
    for look_id, given in told.items():
        look = looks[look_id]
        if look.is_figure:
            figures[look_id] = tuple(_span(part) for part in given)
        else:
            unknown = [a for a in given if a not in look.answers]
            if unknown:
                raise ValueError(f"{id}: {look_id} has no answer {unknown[0]}")
            weights = np.array([2.0] + [1.0] * (len(given) - 1))
            answers[look_id] = dict(zip(given, weights / weights.sum(), strict=True))
    return Kind(id, usual, answers, figures)


def guide_from(name: str, what: str, told_of: Callable[[Mapping[str, Any]], dict[str, tuple[str, ...]]]) -> Guide:
    """A table as looks and candidates; ``told_of`` gives the looks of a row."""
    rows = table(name)
    looks = {id: look_of(id, row) for id, row in rows["looks"].items()}
    kinds = (kind_from(id, float(row.get("usual", 1.0)), told_of(row), looks) for id, row in rows["kinds"].items())
    return Guide(looks, tuple(kinds), what)


def _looks(text: str) -> dict[str, tuple[str, ...]]:
    """ "where board|cover; size 3-20" as a mapping."""
    out = {}
    for entry in filter(None, (e.strip() for e in text.split(";"))):
        look, _, given = entry.partition(" ")
        out[look] = tuple(given.split("|"))
    return out


def looks_in(text: str) -> dict[str, tuple[str, ...]]:
    """The answers of a row of a table."""
    return _looks(text)


def _span(text: str) -> tuple[float, float]:
    low, _, high = text.partition("-")
    return float(low), float(high or low)
