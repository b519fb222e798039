"""Records to plain values and back, and the difference between two studies as such values."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import attrs

from oddbolt.core.errors import FileError, OddBoltError
from oddbolt.core.study import Device, Lap, Study, put_all
from oddbolt.core.study.model import KINDS
from oddbolt.files.checked import checked

FORMAT = "oddbolt study"
JSON_VERSION = 2
#: Tables in an order in which each mentions only what comes before it.
LOAD_ORDER = ("P", "J", "S", "F", "R", "N", "H", "C", "K", "O", "E", "Z", "W", "L", "T", "U", "V", "X", "M", "G")


def plain(thing: Any) -> dict[str, Any]:
    """A record as a dictionary of plain values; what is at its default is left out."""
    out: dict[str, Any] = {}
    for a in attrs.fields(type(thing)):
        value = getattr(thing, a.name)
        if a.default is not attrs.NOTHING and value == a.default and type(value) is type(a.default):
            continue
        if isinstance(value, tuple):
            value = [plain(v) if attrs.has(type(v)) else v for v in value]
        out[a.name] = value
    return out


def record(letter: str, values: Mapping[str, Any]) -> Any:
    """A record from plain values. Raises FileError naming what does not fit."""
    cls = KINDS[letter][0]
    unknown = set(values) - {a.name for a in attrs.fields(cls)}
    if unknown:
        raise FileError(f"{cls.__name__} {str(values.get('id', ''))[:20]} has no {min(unknown)[:40]!r}.")
    fitting = checked(cls, values, letter)
    if letter == "R":
        laps = values.get("laps", [])
        if not isinstance(laps, list) or not all(isinstance(lap, dict) for lap in laps):
            raise FileError(f"Run {fitting['id']}: laps must be a list of records.")
        fitting["laps"] = tuple(refused_as_record(Lap, checked(Lap, lap)) for lap in laps)
    return refused_as_record(cls, fitting)


def refused_as_record(cls: type[Any], values: dict[str, Any]) -> Any:
    """A record of checked values. Raises FileError where the record itself refuses them."""
    try:
        return cls(**values)
    except TypeError:
        missing = [a.name for a in attrs.fields(cls) if a.default is attrs.NOTHING and a.name not in values]
        what = f"{missing[0]} is missing" if missing else "its values do not fit"
        raise FileError(f"{cls.__name__} {values.get('id', '')} cannot be read: {what}.") from None
    except (OddBoltError, ValueError) as error:
        raise FileError(f"{cls.__name__} {values.get('id', '')} cannot be read: {error}") from None


def to_json(study: Study) -> dict[str, Any]:
    """A study as plain values, without its pictures."""
    tables = {name: [plain(t) for t in getattr(study, name).values()] for _, name in KINDS.values()}
    return {"format": FORMAT, "version": JSON_VERSION, "device": plain(study.device), **tables}


def from_json(data: Any) -> Study:
    """A study from plain values. Raises FileError with one sentence where they are not one."""
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise FileError(f'This is not a study: "format" must be "{FORMAT}".')
    version = data.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version > JSON_VERSION:
        raise FileError(
            f"This study has version {version}; this program reads up to {JSON_VERSION}. A newer Odd Bolt is needed."
        )
    unknown = set(data) - {"format", "version", "device"} - {name for _, name in KINDS.values()}
    if unknown:
        raise FileError(f"This study holds {min(unknown)!r}, which this program does not know.")
    described = data.get("device", {})
    if not isinstance(described, dict) or set(described) - {a.name for a in attrs.fields(Device)}:
        raise FileError("The device cannot be read: it must be a record with the fields of a device.")
    study = Study(device=refused_as_record(Device, checked(Device, described)))
    for letter in LOAD_ORDER:
        rows = data.get(KINDS[letter][1], [])
        if not isinstance(rows, list) or not all(isinstance(r, dict) for r in rows):
            raise FileError(f"{KINDS[letter][1]!r} must be a list of records.")
        things = [record(letter, row) for row in rows]
        if letter == "P":
            things = carriers_first(things)
        try:
            study = put_all(study, things)
        except OddBoltError as error:
            raise FileError(f"This study contradicts itself: {error}") from None
        if letter == "P":
            study = attrs.evolve(study, parts={row["id"]: study.parts[row["id"]] for row in rows})
    return study


def carriers_first(parts: list[Any]) -> list[Any]:
    """Parts ordered so that each comes after what carries it."""
    by_id = {p.id: p for p in parts}
    out: dict[str, Any] = {}
    for part in parts:
        line, seen = [part], {part.id}
        while (carrier := line[-1].inside) in by_id and carrier not in seen and carrier not in out:
            line.append(by_id[carrier])
            seen.add(carrier)
        for p in reversed(line):
            out.setdefault(p.id, p)
    return list(out.values())
