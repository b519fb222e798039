"""Between a thing's values and what stands in its form: shown as text, read back from text."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from oddbolt.core.errors import BenchError, StudyError
from oddbolt.core.opening.outline import outline_of
from oddbolt.core.reference.quantities import quantity
from oddbolt.core.reference.tables import table
from oddbolt.core.reference.units import BASE_UNIT
from oddbolt.core.safety.contents import label, stated_in
from oddbolt.core.study import Study
from oddbolt.core.study.formatting import duration
from oddbolt.core.study.naming import resolve, resolve_all
from oddbolt.core.study.screw_lengths import read_lengths
from oddbolt.core.study.steps import TOLD
from oddbolt.desk.inspector.fields import Field


def shown(study: Study, field: Field, value: Any) -> str:
    """A value as the form shows it; :func:`typed` reads it back."""
    if value is None or value == "" or value == ():
        return ""
    match field.kind:
        case "part" | "joint" | "thing":
            return study.name(value)
        case "step":
            return str(study.step_number(value))
        case "parts" | "joints":
            return "; ".join(study.name(id) for id in value)
        case "texts":
            return " | ".join(value)
        case "time":
            return duration(value) if value else ""
        case "choice" if isinstance(value, bool):
            return "yes" if value else "no"
        case dimension if dimension in BASE_UNIT:
            return f"{value:.6g} {BASE_UNIT[dimension]}".rstrip()
    return str(value)


def typed(study: Study, field: Field, text: str, named: Callable[[str, str], tuple[str, ...]] | None = None) -> Any:
    """The value of a typed text; ``named`` finds the things of a kind that a text names. Raises StudyError with one
    sentence if it cannot be one."""
    named = named or partial(resolve_all, study)
    text = text.strip()
    if field.needed and not text:
        raise StudyError(f"The {field.caption} cannot be left empty; Escape brings it back.")
    try:
        match field.kind:
            case "part" | "joint":
                return named(text, "P" if field.kind == "part" else "J")[0] if text else ""
            case "thing":
                return thing_named(study, text) if text else ""
            case "step":
                return step_numbered(study, text) if text else ""
            case "lengths":
                read_lengths(text)
            case "outline":
                return outline_of(text) and text if text else ""
            case "parts" | "joints":
                return named(text, "P" if field.kind == "parts" else "J")
            case "texts":
                return tuple(t.strip() for t in text.split("|") if t.strip())
            case "count":
                return int(text) if text else None
            case "time":
                return quantity(text, "time") if text else None if field.name in (*TOLD, "at_s") else 0.0
            case "choice" if field.name == "tab":
                return {"yes": True, "no": False}.get(text)
            case dimension if dimension in BASE_UNIT:
                return quantity(text, dimension) if text else None
    except BenchError as error:
        raise StudyError(str(error)) from None
    except ValueError as error:
        sentence = str(error) if field.kind != "count" else f"{text!r} is not a whole number."
        raise StudyError(sentence) from None
    return text


def unknown_contents(text: str) -> str:
    """What to say of the words of a text that name no known hazard; "" where there are none."""
    unknown = stated_in(text)[1]
    if not unknown:
        return ""
    known = ", ".join(label(c) for c in table("contents")["content"])
    words = " and ".join(repr(word) for word in unknown)
    return f"{words} {'is not a known hazard' if len(unknown) == 1 else 'are not known hazards'}; there are {known}."


def step_numbered(study: Study, text: str) -> str:
    """The step of a typed number. Raises StudyError if there is none."""
    ids = list(study.steps)
    number = text.lower().removeprefix("step").strip()
    if not number.isdecimal() or not 1 <= int(number) <= len(ids):
        raise StudyError(f"There is no step {text!r}; steps run from 1 to {len(ids)}.")
    return ids[int(number) - 1]


def thing_named(study: Study, text: str) -> str:
    """The part, joint or step that a text names. Raises StudyError if none is."""
    if text.lower().startswith("step"):
        return step_numbered(study, text)
    for letter in "PJ":
        try:
            return resolve(study, text, letter)
        except StudyError as error:
            said = error
    raise said
