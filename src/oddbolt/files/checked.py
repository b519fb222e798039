"""Values that come from a file, checked before they become a record: of the right type, not too long, real text."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from functools import cache
from typing import Any

import attrs

from oddbolt.core.errors import FileError
from oddbolt.files.schema import type_name

LONGEST_TEXT, LONGEST_LIST = 200_000, 20_000
ID = re.compile(r"[A-Z][1-9]\d{0,8}")
_ALLOWED: Mapping[str, tuple[type, ...]] = {
    "str": (str,),
    "int": (int,),
    "int | None": (int, type(None)),
    "float": (int, float),
    "float | None": (int, float, type(None)),
    "bool": (bool,),
    "bool | None": (bool, type(None)),
}


def checked(cls: type[Any], values: Mapping[str, Any], letter: str = "") -> dict[str, Any]:
    """The values of a record of this class as they may enter it. Raises FileError naming what does not fit."""
    name = f"{cls.__name__} {str(values.get('id', ''))[:20]}".strip()
    if cls.__name__ == "Device":
        name = "The device"
    out: dict[str, Any] = {}
    for field, kind in _kinds_of(cls):  # type: ignore[arg-type]
        if field in values:
            value = values[field]
            if kind == "str" and type(value) is str and len(value) < LONGEST_TEXT and value.isascii():
                out[field] = value  # nearly all of them
            else:
                out[field] = _value(name, field, kind, value)
    if letter and not (ID.fullmatch(str(out.get("id", ""))) and out["id"][0] == letter):
        raise FileError(f"{name}: {str(out.get('id', ''))[:20]!r} is not an id; one looks like {letter}12.")
    return out


@cache
def _kinds_of(cls: type[Any]) -> tuple[tuple[str, str], ...]:
    return tuple((a.name, type_name(a)) for a in attrs.fields(cls))


def _value(name: str, field: str, kind: str, value: Any) -> Any:
    what = f"{name}: {field}"
    if kind == "tuple[str, ...]":
        if not isinstance(value, (list, tuple)) or len(value) > LONGEST_LIST:
            raise FileError(f"{what} must be a list of texts.")
        return tuple(_value(name, field, "str", v) for v in value)
    allowed = _ALLOWED.get(kind)
    if allowed is None:
        return value
    if not isinstance(value, allowed) or (isinstance(value, bool) and bool not in allowed):
        raise FileError(f"{what} must be {kind.replace('str', 'a text').replace(' | None', '')}, not {_shown(value)}.")
    if isinstance(value, str):
        if len(value) > LONGEST_TEXT:
            raise FileError(f"{what} is longer than {LONGEST_TEXT} characters.")
        if any("\ud800" <= c <= "\udfff" for c in value):
            raise FileError(f"{what} holds invalid characters.")
    if isinstance(value, int) and not isinstance(value, bool) and abs(value) >= 2**63:
        raise FileError(f"{what} is too large a number.")
    if isinstance(value, float) and not math.isfinite(value):
        raise FileError(f"{what} is not a number.")
    return float(value) if kind.startswith("float") and isinstance(value, (int, float)) else value


def _shown(value: Any) -> str:
    text = "nothing" if value is None else "binary data" if isinstance(value, bytes) else repr(value)
    return text if len(text) <= 40 else text[:37] + "…"


def from_columns(cls: type[Any], values: Mapping[str, Any]) -> dict[str, Any]:
    """Values as SQLite gives them: yes and no are 1 and 0 there."""
    out = dict(values)
    for name, kind in _kinds_of(cls):  # type: ignore[arg-type]
        if kind.startswith("bool") and isinstance(value := out.get(name), int) and value in (0, 1):
            out[name] = bool(value)
    return out
