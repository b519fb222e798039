"""Screws of one group that differ in length: "2 × 12, 2 × 10", counted and in mm."""

from __future__ import annotations

import re
from functools import lru_cache

from attrs import evolve

from oddbolt.core.errors import StudyError
from oddbolt.core.study.model import Joint

#: a group whose screws differ, nobody said how
MIXED = "mixed"
#: screws are this long, mm
SHORTEST, LONGEST = 0.5, 200.0
_ONE = re.compile(r"(?:(\d+)\s*(?:×|x|\*|of|at)\s*)?(\d+(?:[.,]\d+)?)\s*(?:mm)?(?:\s+(?:long|screws?))?", re.IGNORECASE)


def read_lengths(text: str) -> tuple[tuple[int, float], ...]:
    """How many of which length (mm), from "2x12, 2x10" or "12, 10.5"; () for an empty text or "mixed".

    Raises StudyError for what is neither.
    """
    said = text.strip()
    if said.casefold() in ("", MIXED):
        return ()
    found: dict[float, int] = {}
    pieces = said.split(";") if ";" in said else re.split(r",\s+|,(?=\s*\d+\s*[×x*])|\s+and\s+", said)
    for piece in filter(None, (p.strip() for p in pieces)):
        one = _ONE.fullmatch(piece)
        if one is None:
            raise StudyError(f"{piece!r} is not a length; type them like 2 x 12, 2 x 10.")
        count, length = int(one[1] or 1), float(one[2].replace(",", "."))
        if not SHORTEST <= length <= LONGEST or not 1 <= count <= 1000:
            raise StudyError(f"{piece!r}: length must be {SHORTEST:g} to {LONGEST:g} mm, and the count 1 to 1000.")
        found[length] = found.get(length, 0) + count
    return tuple((count, length) for length, count in found.items())


def shown_lengths(lengths: tuple[tuple[int, float], ...]) -> str:
    """Lengths as they are kept and shown: "2 × 12, 2 × 10"."""
    return ", ".join(f"{count} × {length:g}" for count, length in lengths)


@lru_cache(maxsize=4096)
def lengths_of(joint: Joint) -> tuple[tuple[int, float], ...]:
    """How many screws of which length (mm) a group has; () where that is not known."""
    try:
        several = read_lengths(joint.lengths)
    except StudyError:
        return ()
    if several:
        return several
    return ((joint.count or 1, joint.length_mm),) if joint.length_mm and not joint.lengths else ()


def by_length(joint: Joint) -> tuple[Joint, ...]:
    """The group as groups of one length each; itself where it has only one, or nobody knows."""
    several = lengths_of(joint)
    if len(several) < 2:
        return (joint,)
    return tuple(evolve(joint, count=count, length_mm=length, lengths="") for count, length in several)


def with_lengths(joint: Joint, text: str) -> Joint:
    """The group with its lengths as typed; its count follows where it was not known.

    Raises StudyError where the lengths do not add up to the count.
    """
    several = read_lengths(text)
    if not several:
        return evolve(joint, lengths=MIXED if text.strip() else "")
    total = sum(count for count, _ in several)
    if joint.count is not None and joint.count != total:
        raise StudyError(f"{shown_lengths(several)} are {total} screws; the group has {joint.count}.")
    if len(several) == 1:
        return evolve(joint, count=total, lengths="", length_mm=several[0][1])
    return evolve(joint, count=total, lengths=shown_lengths(several), length_mm=None)
