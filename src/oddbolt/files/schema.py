"""The tables of a study file, in one place. Real columns, so that anyone can query them; see docs/format.md."""

from __future__ import annotations

from typing import Any

import attrs
from sqlalchemy import Boolean, Column, Connection, Float, Integer, LargeBinary, MetaData, String, Table, inspect

from oddbolt.core.study.model import KINDS, Device, Lap

#: Marks an SQLite file as a study of ours ("OdBt").
APPLICATION_ID = 0x4F644274
VERSION = 4

metadata = MetaData()
COLUMN_OF = {
    "str": String,
    "int": Integer,
    "int | None": Integer,
    "float": Float,
    "float | None": Float,
    "bool": Boolean,
    "bool | None": Boolean,
}


def type_name(a: attrs.Attribute[Any]) -> str:
    """The type of a field in words, whether or not its annotation was resolved."""
    return a.type.__name__ if isinstance(a.type, type) and not hasattr(a.type, "__args__") else str(a.type)


def _columns(cls: type[Any]) -> list[Column[Any]]:
    """A column for each single value of a record class; fields of several values get tables of their own."""
    return [
        Column(a.name, COLUMN_OF[type_name(a)], primary_key=a.name == "id")
        for a in attrs.fields(cls)
        if type_name(a) in COLUMN_OF
    ]


def many(cls: type[Any]) -> list[str]:
    """The fields of a record class that hold several ids or texts."""
    return [a.name for a in attrs.fields(cls) if type_name(a) == "tuple[str, ...]"]


device = Table("device", metadata, Column("key", String, primary_key=True), *_columns(Device))
#: letter -> its table; ``position`` keeps the order
TABLES = {
    letter: Table(name, metadata, *_columns(cls), Column("position", Float, index=True))
    for letter, (cls, name) in KINDS.items()
}
#: (letter, field) -> the table of the several values of that field
LISTS = {
    (letter, field): Table(
        f"{name}_{field}",
        metadata,
        Column("owner", String, primary_key=True),
        Column("n", Integer, primary_key=True),
        Column("value", String),
    )
    for letter, (cls, name) in KINDS.items()
    for field in many(cls)
}
laps = Table(
    "laps",
    metadata,
    Column("run", String, primary_key=True),
    Column("n", Integer, primary_key=True),
    *[Column(a.name, COLUMN_OF[type_name(a)]) for a in attrs.fields(Lap)],
)
pictures = Table(
    "pictures",
    metadata,
    Column("sha256", String, primary_key=True),
    Column("kind", String),
    Column("data", LargeBinary),
)


def bring_up(link: Connection) -> None:
    """Give a file of an earlier version the tables and columns that came later, at their defaults.

    Version 2 added to photos how they are shown and when they were taken, to laps when they ended, and to screws how
    many lie in the tray; version 3 to steps what they destroy and three times, to facts who said them and
    when; version 4 to steps what the reader was not sure of.
    """
    metadata.create_all(link)
    there = inspect(link)
    defaults = {KINDS[k][1]: {a.name: a.default for a in attrs.fields(KINDS[k][0])} for k in KINDS}
    defaults["laps"] = {a.name: a.default for a in attrs.fields(Lap)}
    defaults["device"] = {a.name: a.default for a in attrs.fields(Device)}
    for table in metadata.sorted_tables:
        have = {c["name"] for c in there.get_columns(table.name)}
        for column in table.columns:
            if column.name not in have:
                kind = column.type.compile(link.dialect)
                link.exec_driver_sql(f"ALTER TABLE {table.name} ADD COLUMN {column.name} {kind}")
                value = defaults[table.name][column.name]
                link.execute(table.update().values({column.name: value}))
    link.exec_driver_sql(f"PRAGMA user_version = {VERSION}")
