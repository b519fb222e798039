"""The study file: one SQLite database, written edit by edit.

While open it is in WAL mode; closed it is a single file. Every :meth:`Store.save` is one transaction, so a crash
loses at most the edit being made.
"""

from __future__ import annotations

import hashlib
import shutil
import sqlite3
import stat
from collections.abc import Iterable, Mapping
from contextlib import closing, suppress
from pathlib import Path
from types import TracebackType
from typing import Any
from urllib.parse import quote

import attrs
from sqlalchemy import Connection, Engine, create_engine, delete, event, func, insert, select, update
from sqlalchemy.exc import DatabaseError, OperationalError
from sqlalchemy.pool import StaticPool

from oddbolt.core.errors import FileError, OddBoltError, WriteError
from oddbolt.core.study import Device, Lap, Study, put_all
from oddbolt.core.study.model import KINDS
from oddbolt.files import schema
from oddbolt.files.pictures import LARGEST_PICTURE_BYTES
from oddbolt.files.records import LOAD_ORDER, carriers_first, record

ENDING = ".oddbolt"
_LET_GO: list[Connection] = []


class Store:
    """An open study file. ``read_only`` files can be looked at but not saved to; a ``stale`` one must be opened anew
    before it can be written again."""

    def __init__(self, path: Path, engine: Engine, read_only: bool) -> None:
        self.path, self.read_only = path, read_only
        self._engine = engine
        self._link: Connection = engine.connect()
        self._next: dict[str, float] = {}
        self._lies_at = _place_of(path)
        self.stale = False

    # -- opening and closing ------------------------------------------------------------------------

    @classmethod
    def create(cls, path: Path, study: Study, pictures: Iterable[bytes] = ()) -> Store:
        """A new file holding ``study``. Raises FileError if something is there already or it cannot be written."""
        if path.exists():
            raise FileError(f"{path.name} is there already; choose another name.")
        try:
            engine = _engine(path, read_only=False)
            with engine.begin() as link:
                link.exec_driver_sql(f"PRAGMA application_id = {schema.APPLICATION_ID}")
                link.exec_driver_sql(f"PRAGMA user_version = {schema.VERSION}")
                schema.metadata.create_all(link)
            store = cls(path, engine, read_only=False)
            for data in pictures:
                store.add_picture(data)
            store.save(Study(), study, device=True)
        except (DatabaseError, OSError) as error:
            path.unlink(missing_ok=True)
            raise FileError(f"{path} cannot be written: {_plainly(error)}.") from None
        return store

    @classmethod
    def open(cls, path: Path, read_only: bool = False) -> tuple[Store, Study]:
        """Open a study file. Raises FileError, with the file untouched, if it is not ours, damaged or newer.

        One of an earlier version is brought up on a copy, and kept beside it as it was.
        """
        _check_header(path)
        writable = path.stat().st_mode & (stat.S_IWUSR | stat.S_IWGRP | stat.S_IWOTH)
        engine = _engine(path, read_only=True)
        try:
            with engine.connect() as link:
                version = _check_kind(link, path)
                problem = _problem(link)
                if problem:
                    raise FileError(f"{path.name} is damaged ({problem}); open a copy made earlier.")
                older = _brought_up(link) if version < schema.VERSION else None
            if older is not None:
                engine.dispose()
                engine = older
            store = cls(path, engine, read_only=True)
            study = store.load()
            if read_only or not writable:
                return store, study
            if older is not None:
                _replace_older(path, version, store)
            store.close()
            places, store = store._next, cls(path, _engine(path, read_only=False), read_only=False)
            store._next = places
            return store, study
        except (DatabaseError, OSError) as error:
            engine.dispose()
            if "locked" in str(error):
                raise FileError(f"{path.name} is open in another window; close it there first.") from None
            raise FileError(f"{path.name} is damaged or cut short and cannot be read: {_plainly(error)}.") from None
        except FileError:
            engine.dispose()
            raise

    def close(self) -> None:
        """Close, leaving a single file."""
        if self._link.closed:
            return
        try:
            if not self.read_only:
                self._link.rollback()
                used = select(schema.TABLES["H"].c.sha256)
                with self._link.begin():
                    self._link.execute(delete(schema.pictures).where(schema.pictures.c.sha256.not_in(used)))
                self._link.exec_driver_sql("PRAGMA wal_checkpoint(TRUNCATE)")
                self._link.exec_driver_sql("PRAGMA journal_mode = DELETE")
        finally:
            self._link.close()
            self._engine.dispose()

    def abandon(self) -> None:
        """Let go of a file that can no longer be worked with.

        One that went from its place is not closed: closing would take the log of what now lies there along.
        """
        if _place_of(self.path) != self._lies_at:
            _LET_GO.append(self._link)
            return
        with suppress(DatabaseError, OSError):
            self.close()

    def __enter__(self) -> Store:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.close()

    # -- the record ---------------------------------------------------------------------------------

    def load(self) -> Study:
        """The whole record. Raises FileError where it contradicts itself."""
        link = self._link
        row = link.execute(select(schema.device)).mappings().first()
        values = {k: v for k, v in (row or {}).items() if k != "key"}
        lists: dict[tuple[str, str], dict[str, list[str]]] = {}
        for (letter, field), table in schema.LISTS.items():
            of: dict[str, list[str]] = {}
            for owner, value in link.execute(select(table.c.owner, table.c.value).order_by(table.c.owner, table.c.n)):
                of.setdefault(owner, []).append(value)
            lists[letter, field] = of
        laps: dict[str, list[Lap]] = {}
        for row_ in link.execute(select(schema.laps).order_by(schema.laps.c.run, schema.laps.c.n)).mappings():
            laps.setdefault(row_["run"], []).append(Lap(row_["step"], row_["seconds"], row_["ended"]))
        try:
            study = Study(device=Device(**values) if values else Device())
            order: dict[str, list[str]] = {}
            for letter in LOAD_ORDER:
                table = schema.TABLES[letter]
                fields = [f for (k, f) in schema.LISTS if k == letter]
                things = []
                for mapping in link.execute(select(table).order_by(table.c.position)).mappings():
                    row_values: dict[str, Any] = {k: v for k, v in mapping.items() if k != "position"}
                    for field in fields:
                        row_values[field] = tuple(lists[letter, field].get(row_values["id"], ()))
                    if letter == "R":
                        row_values["laps"] = tuple(laps.get(row_values["id"], ()))
                    things.append(_made(letter, row_values))
                order[letter] = [t.id for t in things]
                study = put_all(study, carriers_first(things) if letter == "P" else things)
                highest = link.execute(select(func.max(table.c.position))).scalar()
                self._next[letter] = (highest if highest is not None else -1.0) + 1
            study = attrs.evolve(study, parts={id: study.parts[id] for id in order["P"]})
        except OddBoltError as error:
            raise FileError(f"{self.path.name} contradicts itself and cannot be read: {error}") from None
        finally:
            link.rollback()
        return study

    def save(self, before: Study, after: Study, device: bool = False) -> None:
        """Write what changed from ``before`` to ``after`` in one transaction.

        Raises FileError for a read-only file, WriteError where the disk does not take it; the file is as before then.
        """
        if self.read_only:
            raise FileError(f"{self.path.name} is read-only; nothing was changed. Save a copy to go on.")
        self._check_there()
        try:
            with self._link.begin():
                if device or before.device != after.device:
                    self._link.execute(delete(schema.device))
                    self._link.execute(insert(schema.device).values(key="device", **attrs.asdict(after.device)))
                for letter, (_, name) in KINDS.items():
                    old, new = getattr(before, name), getattr(after, name)
                    if old is not new:
                        self._save_table(letter, old, new)
        except DatabaseError as error:
            self.stale = "I/O" in str(error)
            raise WriteError(f"{self.path.name} could not be written: {_plainly(error)}.") from None

    def _check_there(self) -> None:
        if self._link.closed or _place_of(self.path) != self._lies_at:
            self.stale = True
            raise WriteError(f"{self.path.name} is no longer where it was, in {self.path.parent}.")

    def _save_table(self, letter: str, old: Mapping[str, Any], new: Mapping[str, Any]) -> None:
        table, link = schema.TABLES[letter], self._link
        gone = [id for id in old if id not in new]
        changed = [t for id, t in new.items() if id in old and old[id] is not t and old[id] != t]
        added = [t for id, t in new.items() if id not in old]
        for id in gone:
            link.execute(delete(table).where(table.c.id == id))
        names = [c.name for c in table.columns if c.name != "position"]
        for thing in changed:
            row = {name: getattr(thing, name) for name in names}
            link.execute(update(table).where(table.c.id == thing.id).values(**row))
        if added:
            place = self._next.get(letter, 0.0)
            self._next[letter] = place + len(added)
            rows = [{"position": place + n} | {name: getattr(t, name) for name in names} for n, t in enumerate(added)]
            link.execute(insert(table), rows)
        for (kind, field), lists in schema.LISTS.items():
            if kind == letter:
                self._save_lists(
                    lists, field, gone, [t for t in changed if getattr(t, field) != getattr(old[t.id], field)], added
                )
        if letter == "R":
            self._save_laps(gone, changed, added)
        kept = [id for id in old if id in new]
        if list(new) != [*kept, *(t.id for t in added)]:
            for n, id in enumerate(new):
                link.execute(update(table).where(table.c.id == id).values(position=float(n)))
            self._next[letter] = float(len(new))

    def _save_lists(self, table: Any, field: str, gone: list[str], changed: list[Any], added: list[Any]) -> None:
        for owner in (*gone, *(t.id for t in changed)):
            self._link.execute(delete(table).where(table.c.owner == owner))
        rows = [
            {"owner": t.id, "n": n, "value": v} for t in (*changed, *added) for n, v in enumerate(getattr(t, field))
        ]
        if rows:
            self._link.execute(insert(table), rows)

    def _save_laps(self, gone: list[str], changed: list[Any], added: list[Any]) -> None:
        for run in (*gone, *(r.id for r in changed)):
            self._link.execute(delete(schema.laps).where(schema.laps.c.run == run))
        rows = [{"run": r.id, "n": n, **attrs.asdict(lap)} for r in (*changed, *added) for n, lap in enumerate(r.laps)]
        if rows:
            self._link.execute(insert(schema.laps), rows)

    # -- pictures -----------------------------------------------------------------------------------

    def add_picture(self, data: bytes) -> str:
        """Keep a picture; returns its SHA-256. The same picture is kept once."""
        if self.read_only:
            raise FileError(f"{self.path.name} is read-only; the picture was not added.")
        kind = "jpeg" if data[:3] == b"\xff\xd8\xff" else "png" if data[:8] == b"\x89PNG\r\n\x1a\n" else ""
        if not kind:
            raise FileError("This is no JPEG or PNG picture.")
        if len(data) > LARGEST_PICTURE_BYTES:
            raise FileError(
                f"The picture is {len(data) / 1e6:.0f} MB; up to {LARGEST_PICTURE_BYTES / 1e6:.0f} MB can be kept."
            )
        digest = hashlib.sha256(data).hexdigest()
        self._check_there()
        try:
            with self._link.begin():
                known = self._link.execute(
                    select(schema.pictures.c.sha256).where(schema.pictures.c.sha256 == digest)
                ).first()
                if known is None:
                    self._link.execute(insert(schema.pictures).values(sha256=digest, kind=kind, data=data))
        except DatabaseError as error:
            raise WriteError(f"The picture could not be written: {_plainly(error)}.") from None
        return digest

    def picture(self, sha256: str) -> bytes | None:
        """The bytes of a picture, or None if the file does not hold it or is gone."""
        if self._link.closed:
            return None
        with suppress(DatabaseError):
            wanted = select(schema.pictures.c.data).where(schema.pictures.c.sha256 == sha256)
            found = self._link.execute(wanted).scalar()
            self._link.rollback()
            return bytes(found) if found is not None else None
        return None

    def save_copy(self, path: Path) -> None:
        """Write a copy of the whole file under another name."""
        if path.resolve() == self.path.resolve():
            raise FileError("A copy needs another name than the study itself.")
        part = path.with_name(path.name + ".part")
        try:
            part.unlink(missing_ok=True)
            with sqlite3.connect(part) as target:
                _raw(self._link).backup(target)
                target.execute("PRAGMA journal_mode = DELETE")
            target.close()
            shutil.move(part, path)
        except (OSError, sqlite3.Error) as error:
            part.unlink(missing_ok=True)
            raise FileError(f"{path} cannot be written: {_plainly(error)}.") from None


def in_use(path: Path) -> bool:
    """Whether a study file is open in some window."""
    try:
        with closing(sqlite3.connect(path, timeout=0)) as link:
            link.execute("BEGIN EXCLUSIVE")
    except sqlite3.OperationalError:
        return True
    except sqlite3.DatabaseError:
        return False
    return False


def _place_of(path: Path) -> tuple[int, int] | None:
    """Which file lies at a path: device and inode, or None."""
    try:
        found = path.stat()
    except OSError:
        return None
    return found.st_dev, found.st_ino


def _engine(path: Path, read_only: bool) -> Engine:
    uri = f"file:{quote(str(path.absolute()))}?mode={'ro' if read_only else 'rwc'}"
    if read_only and not path.with_name(path.name + "-wal").exists():
        uri += "&immutable=1"

    def connect() -> sqlite3.Connection:
        return sqlite3.connect(uri, uri=True, timeout=1.0, check_same_thread=False)

    engine = create_engine("sqlite://", creator=connect, poolclass=StaticPool)
    if not read_only:

        @event.listens_for(engine, "connect")
        def _pragmas(link: Any, _record: Any) -> None:
            link.execute("PRAGMA locking_mode = EXCLUSIVE")
            link.execute("PRAGMA journal_mode = WAL")
            link.execute("PRAGMA synchronous = FULL")

    return engine


def _check_header(path: Path) -> None:
    try:
        with path.open("rb") as file:
            head = file.read(100)
    except IsADirectoryError:
        raise FileError(f"{path.name} is a folder, not a study.") from None
    except OSError as error:
        raise FileError(f"{path} cannot be opened: {error.strerror or error}.") from None
    if not head.startswith(b"SQLite format 3\0"):
        raise FileError(f"{path.name} is not a study of Odd Bolt.")
    if len(head) < 100:
        raise FileError(f"{path.name} is cut short: even its first page is missing.")
    pages, size = int.from_bytes(head[28:32], "big"), int.from_bytes(head[16:18], "big")
    size = 65536 if size == 1 else size
    if pages * size > path.stat().st_size and not path.with_name(path.name + "-wal").exists():
        raise FileError(f"{path.name} is cut short: {path.stat().st_size} of {pages * size} bytes are there.")


def _problem(link: Connection) -> str:
    """What is wrong in the tables of the record, or "". Pictures, which can be gigabytes, are not gone through: a
    damaged one shows when it is looked at."""
    names = link.exec_driver_sql("SELECT name FROM sqlite_schema WHERE type = 'table'").scalars().all()
    for name in names:
        if name != schema.pictures.name:
            said = link.exec_driver_sql(f"PRAGMA quick_check('{name.replace(chr(39), '')}')").scalar()
            if said != "ok":
                return str(said)
    return ""


def _brought_up(link: Connection) -> Engine:
    """The file of an earlier version as one of this version, in memory."""
    memory = sqlite3.connect(":memory:", check_same_thread=False)
    _raw(link).backup(memory)
    engine = create_engine("sqlite://", creator=lambda: memory, poolclass=StaticPool)
    with engine.begin() as copy:
        schema.bring_up(copy)
    return engine


def _replace_older(path: Path, version: int, store: Store) -> None:
    """Put what was brought up in the file's place; the old one stays beside it under another name."""
    kept = path.with_name(f"{path.stem} (format {version}){path.suffix}")
    part = path.with_name(path.name + ".part")
    wal = path.with_name(path.name + "-wal")
    try:
        with sqlite3.connect(path) as old, sqlite3.connect(kept) as target:
            old.backup(target)
        for link in (old, target):
            link.close()
        part.unlink(missing_ok=True)
        with sqlite3.connect(part) as target:
            _raw(store._link).backup(target)
        target.close()
        for beside in (wal, path.with_name(path.name + "-shm")):
            beside.unlink(missing_ok=True)
        part.replace(path)
    except (OSError, sqlite3.Error) as error:
        part.unlink(missing_ok=True)
        raise FileError(
            f"{path.name} is of an earlier format and cannot be brought up where it lies: {_plainly(error)}."
        ) from None


def _raw(link: Connection) -> sqlite3.Connection:
    raw = link.connection.dbapi_connection
    assert isinstance(raw, sqlite3.Connection)
    return raw


def _check_kind(link: Connection, path: Path) -> int:
    ours = link.exec_driver_sql("PRAGMA application_id").scalar()
    if ours != schema.APPLICATION_ID:
        raise FileError(f"{path.name} is a database, but not a study of Odd Bolt.")
    version = link.exec_driver_sql("PRAGMA user_version").scalar()
    if not isinstance(version, int) or version > schema.VERSION:
        raise FileError(
            f"{path.name} was written by a newer Odd Bolt (format {version}, this one reads up to {schema.VERSION})."
        )
    return version


def _made(letter: str, values: dict[str, Any]) -> Any:
    cls = KINDS[letter][0]
    try:
        return cls(**values)
    except TypeError:
        return record(letter, values)


def _plainly(error: BaseException) -> str:
    cause = error.orig if isinstance(error, OperationalError | DatabaseError) and error.orig is not None else error
    return str(cause).rstrip(".")
