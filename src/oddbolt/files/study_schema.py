"""The JSON Schema of a whole study (draft 2020-12), made from the record's own classes, so that it is always true."""

from __future__ import annotations

from typing import Any

import attrs

from oddbolt.core.study.fields import OneOf, Within
from oddbolt.core.study.model import KINDS, Device, Lap
from oddbolt.files.records import FORMAT, JSON_VERSION
from oddbolt.files.schema import type_name

_TYPES: dict[str, Any] = {
    "str": {"type": "string"},
    "int": {"type": "integer"},
    "int | None": {"type": ["integer", "null"]},
    "float": {"type": "number"},
    "float | None": {"type": ["number", "null"]},
    "bool": {"type": "boolean"},
    "bool | None": {"type": ["boolean", "null"]},
    "tuple[str, ...]": {"type": "array", "items": {"type": "string"}},
}
#: what ends a field's name -> the unit that it is in
UNITS = {
    "_mm": "mm",
    "_g": "g",
    "_s": "s",
    "_ncm": "N·cm",
    "_c": "°C",
    "_deg": "degrees",
    "_w_m2": "W/m²",
    "_w_mk": "W/(m·K)",
    "_kg_m3": "kg/m³",
}


def study_schema() -> dict[str, Any]:
    """The schema of what ``oddbolt export STUDY -o FILE.json`` writes and ``oddbolt import`` reads."""
    tables = {
        name: {"type": "array", "description": _first(cls.__doc__), "items": {"$ref": f"#/$defs/{cls.__name__}"}}
        for cls, name in KINDS.values()
    }
    defined = {cls.__name__: _record(cls, letter) for letter, (cls, _) in KINDS.items()}
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "A teardown study",
        "description": (
            "One device taken apart. What stands at its default is left out. An id is a letter for the kind and a "
            "number; units end the names of fields. The order of the steps is the order of the work."
        ),
        "type": "object",
        "required": ["format", "version", "device"],
        "properties": {
            "format": {"const": FORMAT},
            "version": {"type": "integer", "minimum": 1, "maximum": JSON_VERSION},
            "device": {"$ref": "#/$defs/Device"},
            **tables,
        },
        "additionalProperties": False,
        "$defs": {"Device": _record(Device, ""), **defined, "Lap": _record(Lap, "")},
    }


def _record(cls: type[Any], letter: str) -> dict[str, Any]:
    fields, needed = {}, []
    for a in attrs.fields(cls):
        fields[a.name] = _field(a)
        if a.default is attrs.NOTHING:
            needed.append(a.name)
    if letter:
        fields["id"] = {"type": "string", "pattern": rf"^{letter}[1-9]\d{{0,8}}$"}
    out: dict[str, Any] = {"type": "object", "description": _first(cls.__doc__), "properties": fields}
    if needed:
        out["required"] = needed
    return out | {"additionalProperties": False}


def _field(a: attrs.Attribute[Any]) -> dict[str, Any]:
    kind = type_name(a)
    if a.name == "laps":
        return {"type": "array", "items": {"$ref": "#/$defs/Lap"}}
    out = dict(_TYPES[kind])
    check = a.validator
    if isinstance(check, OneOf):
        out = {"enum": list(check.allowed)}
    elif isinstance(check, Within):
        out |= {"minimum": check.low, "maximum": check.high}
    elif options := getattr(check, "options", None):
        out = {"enum": list(options)}
    unit = next((UNITS[end] for end in sorted(UNITS, key=len, reverse=True) if a.name.endswith(end)), "")
    return out | ({"description": unit} if unit else {})


def _first(doc: str | None) -> str:
    """The first paragraph of a docstring, on one line."""
    return " ".join((doc or "").split("\n\n")[0].split())
