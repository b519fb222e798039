"""The tables of a study file, in one place. Real columns, so that anyone can query them; see docs/format.md.

A file is hostile until its schema was compared: only tables of ours, with plain columns of ours, and nothing that runs.
"""

from __future__ import annotations

import re
import sqlite3
from collections.abc import Mapping
from typing import Any

import attrs

from oddbolt.core.errors import FileError
from oddbolt.core.study.model import KINDS, Device, Lap

#: Marks an SQLite file as a study of ours ("OdBt").
APPLICATION_ID = 0x4F644274
VERSION = 7

TYPE_OF = {
    "str": "TEXT",
    "int": "INTEGER",
    "int | None": "INTEGER",
    "float": "REAL",
    "float | None": "REAL",
    "bool": "INTEGER",
    "bool | None": "INTEGER",
}


def type_name(a: attrs.Attribute[Any]) -> str:
    """The type of a field in words, whether or not its annotation was resolved."""
    return a.type.__name__ if isinstance(a.type, type) and not hasattr(a.type, "__args__") else str(a.type)


def columns_of(cls: type[Any]) -> dict[str, str]:
    """A column for each single value of a record class; fields of several values get tables of their own."""
    return {a.name: TYPE_OF[type_name(a)] for a in attrs.fields(cls) if type_name(a) in TYPE_OF}


def many(cls: type[Any]) -> list[str]:
    """The fields of a record class that hold several ids or texts."""
    return [a.name for a in attrs.fields(cls) if type_name(a) == "tuple[str, ...]"]


#: letter -> its table; ``position`` keeps the order
TABLES: Mapping[str, str] = {letter: name for letter, (_, name) in KINDS.items()}
#: (letter, field) -> the table of the several values of that field
LISTS: Mapping[tuple[str, str], str] = {
    (letter, field): f"{name}_{field}" for letter, (cls, name) in KINDS.items() for field in many(cls)
}
#: table -> its columns with their types, and its key
COLUMNS: Mapping[str, Mapping[str, str]] = {
    "device": {"key": "TEXT", **columns_of(Device)},
    "laps": {"run": "TEXT", "n": "INTEGER", **columns_of(Lap)},
    "pictures": {"sha256": "TEXT", "kind": "TEXT", "data": "BLOB"},
    **{name: {**columns_of(cls), "position": "REAL"} for cls, name in KINDS.values()},
    **{name: {"owner": "TEXT", "n": "INTEGER", "value": "TEXT"} for name in LISTS.values()},
}
KEYS: Mapping[str, tuple[str, ...]] = {
    "device": ("key",),
    "laps": ("run", "n"),
    "pictures": ("sha256",),
    **dict.fromkeys(TABLES.values(), ("id",)),
    **dict.fromkeys(LISTS.values(), ("owner", "n")),
}


def quoted(*names: str) -> str:
    """Names as SQL takes them, whatever words they are."""
    return ", ".join(f'"{name}"' for name in names)


def create_all(link: sqlite3.Connection) -> None:
    """Make the tables that are not there yet."""
    for table, columns in COLUMNS.items():
        body = ", ".join(
            f'"{name}" {kind}{" NOT NULL" if name in KEYS[table] else ""}' for name, kind in columns.items()
        )
        link.execute(f"CREATE TABLE IF NOT EXISTS {quoted(table)} ({body}, PRIMARY KEY ({quoted(*KEYS[table])}))")
        if "position" in columns:
            link.execute(f'CREATE INDEX IF NOT EXISTS "ix_{table}_position" ON {quoted(table)} ("position")')


def bring_up(link: sqlite3.Connection) -> None:
    """Give a file of an earlier version the tables and columns that came later, at their defaults.

    Version 2 added to photos how they are shown and when they were taken, to laps when they ended, and to screws how
    many lie in the tray; version 3 to steps what they destroy and three times, to facts who said them and when;
    version 4 to steps what the reader was not sure of; version 5 to steps what they put back in part, renew and leave
    out, and the closings of the case; version 6 to parts what is marked on them, their size and what they are, to
    connectors pitch and family, to the device how it arrived and the maker's sheet, what schemes of judging ask, and
    the maps of boards; version 7 to steps when they were told in a recording, to the device which one that was, to
    parts why they must be parts of their own."""
    create_all(link)
    classes: dict[str, type[Any]] = {name: cls for cls, name in KINDS.values()} | {"laps": Lap, "device": Device}
    for table, columns in COLUMNS.items():
        have = {row[1] for row in link.execute(f"PRAGMA table_info({quoted(table)})")}
        for column, kind in columns.items():
            if column not in have:
                link.execute(f"ALTER TABLE {quoted(table)} ADD COLUMN {quoted(column)} {kind}")
                default = getattr(attrs.fields_dict(classes[table])[column], "default", None)
                link.execute(f"UPDATE {quoted(table)} SET {quoted(column)} = ?", (default,))
    link.execute(f"PRAGMA user_version = {VERSION}")


#: how our tables and indexes may be written down, by this program and earlier ones
_NAME = r'"?(\w+)"?'
_TABLE = re.compile(
    rf"CREATE TABLE {_NAME} \( ?((?:\"?\w+\"? (?:TEXT|INTEGER|REAL|BLOB|VARCHAR|FLOAT|BOOLEAN)(?: NOT NULL)? ?, ?)+)"
    r"PRIMARY KEY \((?:\"?\w+\"?(?:, ?)?)+\) ?((?:, ?\"?\w+\"? (?:TEXT|INTEGER|REAL|BLOB|VARCHAR|FLOAT|BOOLEAN))*) ?\)"
)
_INDEX = re.compile(rf'CREATE INDEX {_NAME} ON {_NAME} \("?position"?\)')


def check_schema(link: sqlite3.Connection, file: str) -> None:
    """Raises FileError for a file that holds anything but tables of ours: a view, a trigger, a virtual table, a column
    that is computed, a table or column that is not ours."""
    for kind, name, table, sql in link.execute("SELECT type, name, tbl_name, sql FROM sqlite_schema"):
        plain = " ".join(str(sql or "").split()).replace("( ", "(").replace(" )", ")")
        if kind == "index" and (sql is None or _INDEX.fullmatch(plain)) and table in COLUMNS:
            continue
        found = _TABLE.fullmatch(plain) if kind == "table" and name in COLUMNS else None
        if found is None:
            raise FileError(f"{file} holds something that is not part of a study ({kind} {str(name)[:40]!r}).")
        columns = re.findall(r'"?(\w+)"? (?:TEXT|INTEGER|REAL|BLOB|VARCHAR|FLOAT|BOOLEAN)', found[2] + (found[3] or ""))
        foreign = [c for c in columns if c not in COLUMNS[name]]
        if foreign or len(columns) != len(set(columns)):
            raise FileError(
                f"{file} holds a column that is not part of a study ({name}.{(foreign or columns)[0][:40]})."
            )
