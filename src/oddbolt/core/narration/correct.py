"""The pieces of a draft as they are shown, and a typed correction of one of them."""

from __future__ import annotations

from typing import Any

from oddbolt.core.errors import NarrationError
from oddbolt.core.narration.draft import DraftStep, evolve
from oddbolt.core.narration.language.tokens import Item, items
from oddbolt.core.narration.language.vocabulary import Vocabulary
from oddbolt.core.reference.tables import drives, screw_label, table
from oddbolt.core.study.formatting import duration

#: field -> its caption. Every one of them can be corrected.
CAPTIONS = {
    "action": "do",
    "count": "count",
    "drive": "drive",
    "length_mm": "length",
    "parts": "part",
    "under": "under",
    "place": "place",
    "tool": "tool",
    "agent": "with",
    "dwell_s": "wait",
    "torque_ncm": "torque",
    "reuse": "reuse",
    "variant": "variant",
}
ALWAYS = {
    "unscrew": ("action", "count", "drive", "parts"),
    "fasten": ("action", "count", "drive"),
    "unclip": ("action", "count", "parts"),
    "soften": ("action", "parts", "agent", "dwell_s"),
}


def shown_pieces(draft: DraftStep) -> list[tuple[str, str, str, bool]]:
    """(field, caption, value in words, missing) of the pieces worth showing."""
    out = []
    for field, caption in CAPTIONS.items():
        value = in_words(draft, field)
        always = field in ALWAYS.get(draft.action, ("action", "parts"))
        if value or always:
            out.append((field, caption, value, not value))
    return out


def in_words(draft: DraftStep, field: str) -> str:
    """One field as text that :func:`correct` reads back."""
    value = getattr(draft, field)
    if field == "drive":
        return (
            ""
            if value in ("", "unknown") and not draft.size
            else screw_label("" if value == "unknown" else value, draft.size)
        )
    if value in (None, "", ()):
        return ""
    if field == "length_mm":
        return f"{value:g} mm"
    if field == "torque_ncm":
        return f"{value:g} N·cm"
    if field == "dwell_s":
        return duration(value)
    return ", ".join(value) if isinstance(value, tuple) else str(value)


def correct(draft: DraftStep, field: str, text: str, vocabulary: Vocabulary) -> DraftStep:
    """The draft with one field as typed. Raises NarrationError saying what would be understood."""
    text = text.strip()
    changed: dict[str, Any] = {field: text}
    if field == "drive":
        if not text:
            return evolve(draft, drive="unknown", size="")
        return _drive(draft, text, vocabulary)
    if field == "action":
        known = [*table("vocabulary")["actions"], "unclip"]
        if text.lower() not in known:
            raise NarrationError(f"{text!r} is not an action; use one of {', '.join(known)}.")
        changed = {field: text.lower()}
    elif field in ("count", "length_mm", "dwell_s", "torque_ncm"):
        changed = {field: _quantity(field, text, items(text, vocabulary)) if text else None}
    elif field in ("parts", "under"):
        changed = {field: tuple(t.strip() for t in text.split(",") if t.strip())}
    return evolve(draft, **changed)


def _quantity(field: str, text: str, found: list[Item]) -> float | int:
    number = next((f for f in found if f.number is not None), None)
    wanted = {"count": "", "length_mm": "length", "dwell_s": "time", "torque_ncm": "torque"}[field]
    if number is None or (number.unit and number.unit != wanted):
        example = {"count": "4", "length_mm": "2.5 mm", "dwell_s": "40 s", "torque_ncm": "12 N·cm"}[field]
        raise NarrationError(f"{text!r} is not a {CAPTIONS[field]}; type it like {example}.")
    if field == "dwell_s" and number.unit:
        return sum(f.number or 0.0 for f in found if f.unit == "time")
    return int(number.number or 0) if field == "count" else float(number.number or 0.0)


def _drive(draft: DraftStep, text: str, vocabulary: Vocabulary) -> DraftStep:
    low = text.lower()
    found = items(text, vocabulary)
    sized = next((f for f in found if f.has("size")), None)
    named = next((f for f in found if f.has("drive")), None)
    by_label = next((d for d in drives().values() if low.startswith((d.label, d.id))), None)
    if sized is not None:
        drive, size = sized.may["size"].split(" ")
        return evolve(draft, drive=drive, size=size)
    drive = by_label.id if by_label else named.may["drive"] if named is not None else ""
    if not drive:
        labels = ", ".join(d.label for d in drives().values())
        raise NarrationError(f"{text!r} is not a drive; use a size like PH00 or IP5, or one of {labels}.")
    number = next((f"{f.number:g}" for f in found if f.number is not None), "")
    return evolve(draft, drive=drive, size=number)
