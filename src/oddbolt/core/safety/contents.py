"""What a device contains that asks for care, told by its recorded parts and joints and by what was stated of it."""

from __future__ import annotations

import re
from collections.abc import Mapping
from functools import cache, lru_cache

from oddbolt.core.reference.tables import table
from oddbolt.core.study import Part, Study


@lru_cache(maxsize=8)
def contents(study: Study) -> Mapping[str, tuple[str, ...]]:
    """Each content ("cell", "glass", …) with the ids of the parts and joints that tell it; none if it was only stated.

    A content is stated in the device's ``contains``; see :func:`stated_in`.
    """
    stated, _ = stated_in(study.device.contains)
    out: dict[str, tuple[str, ...]] = {}
    parts: dict[str, list[str]] = {}
    for part in study.parts.values():
        for name in _told(part.kind, part.name):
            parts.setdefault(name, []).append(part.id)
    rows = table("contents")["content"]
    kinds = {kind for row in rows.values() for kind in row.get("joints", ())}
    joints = [j for j in study.joints.values() if j.kind in kinds]
    for name, row in rows.items():
        ids = parts.get(name, [])
        ids += [j.id for j in joints if j.kind in row.get("joints", ())]
        if ids or name in stated:
            out[name] = tuple(ids)
    return out


def stated_in(text: str) -> tuple[set[str], list[str]]:
    """The contents that a text names, separated by commas or semicolons, and the words that name none. A content goes
    by its name, its label, or what a part of it may be called ("battery", "mains")."""
    rows = table("contents")["content"]
    known, unknown = set(), []
    for word in filter(None, (w.strip() for w in re.split(r"[,;]", text))):
        low = word.casefold()
        of = {name for name in rows if _goes_by(name, low)}
        known |= of
        unknown += [] if of else [word]
    return known, unknown


def _goes_by(content: str, word: str) -> bool:
    row = table("contents")["content"][content]
    return word in (content, row["label"], *row.get("kinds", ())) or _words(content).search(word) is not None


def tells(content: str, part: Part) -> bool:
    """Whether a part is of this content: by its kind, or if it has none by its name ("Battery", not "Battery tray")."""
    return content in _told(part.kind, part.name)


@lru_cache(maxsize=20_000)
def _told(kind: str, name: str) -> tuple[str, ...]:
    rows = table("contents")["content"]
    if kind:
        return tuple(content for content, row in rows.items() if kind in row.get("kinds", ()))
    return tuple(content for content in rows if _words(content).search(name.strip()))


def label(content: str) -> str:
    """What to call a content."""
    return str(table("contents")["content"][content]["label"])


@cache
def _words(content: str) -> re.Pattern[str]:
    row = table("contents")["content"][content]
    last = [re.escape(w) + r"(?:\s*\d+)?$" for w in row.get("words", ())]
    some = [re.escape(w) + r"\b" for w in row.get("anywhere", ())]
    return re.compile(rf"\b(?:{'|'.join([*last, *some]) or '(?!)'})", re.IGNORECASE)
