"""The study file: one SQLite database, written edit by edit.

While open it is in WAL mode; closed it is a single file. Every :meth:`Store.save` is one transaction, so a crash
loses at most the edit being made. While a file is open to write, this process holds a lock of its own on it (flock)
beside SQLite's, and never opens it a second time: closing a second handle would drop SQLite's locks.
"""

from __future__ import annotations

import fcntl
import hashlib
import os
import sqlite3
import stat
from collections.abc import Callable, Iterable, Iterator, Mapping
from contextlib import closing, contextmanager, suppress
from pathlib import Path
from types import TracebackType
from typing import Any
from urllib.parse import quote

import attrs

from oddbolt.core.errors import FileError, OddBoltError, WriteError
from oddbolt.core.study import Device, Lap, Study, put_all
from oddbolt.core.study.model import KINDS
from oddbolt.files import schema
from oddbolt.files.checked import checked, from_columns
from oddbolt.files.pictures import LARGEST_PICTURE_BYTES
from oddbolt.files.records import LOAD_ORDER, carriers_first, refused_as_record
from oddbolt.files.schema import quoted
from oddbolt.files.whole import free_name, written_whole

ENDING = ".oddbolt"
#: the longest name, in bytes, beside which SQLite's own files ("-journal") still have room
LONGEST_NAME = 247
#: what the disk, and not the record, is to blame for: such an edit waits and is tried again
WAITS = ("I/O", "full", "unable to open", "readonly", "locked", "busy")
#: steps of SQLite's machine after which reading a file is given up: some seconds; 5,000 steps of a study take 2 million
MOST_STEPS, STEPS_A_CALL = 2_000_000_000, 1_000_000
_LET_GO: list[sqlite3.Connection] = []
#: files that this process holds open to write, by device and inode
_HELD: dict[tuple[int, int], Path] = {}


class Store:
    """An open study file. ``read_only`` files can be looked at but not saved to, ``why_read_only`` says why; a
    ``stale`` one must be opened anew before it can be written again."""

    def __init__(self, path: Path, link: sqlite3.Connection, why_read_only: str = "", lock: int | None = None) -> None:
        self.path, self.why_read_only, self.read_only = path, why_read_only, bool(why_read_only)
        self._link: sqlite3.Connection | None = link
        self._lock = lock
        self._next: dict[str, float] = {}
        self._lies_at = _place_of(path)
        self.stale = False

    # -- opening and closing ------------------------------------------------------------------------

    @classmethod
    def create(cls, path: Path, study: Study, pictures: Iterable[bytes] = (), replace: bool = False) -> Store:
        """A new file holding ``study``. Raises FileError if something is there already, unless it is to be replaced and
        no window has it open, or if it cannot be written; then nothing is left behind and nothing is lost."""
        _check_name(path)
        if replace and path.exists() and (not path.is_file() or in_use(path)):
            raise FileError(f"{path.name} is open in a window, or is no file; it was not replaced.")
        with written_whole(path, replace=replace) as part:
            try:
                store = cls(part, _connect(part))
                with closing(store.link), store.transaction() as link:
                    link.execute(f"PRAGMA application_id = {schema.APPLICATION_ID}")
                    link.execute(f"PRAGMA user_version = {schema.VERSION}")
                    schema.create_all(link)
                    for data in pictures:
                        store._keep_picture(data)
                    store._write(Study(), study, device=True)
            except sqlite3.Error as error:
                raise FileError(f"{path} cannot be written: {_plainly(error)}.") from None
        _check_not_held(path)
        lock = _locked(path)
        made = cls(path, _connect(path), lock=lock)
        made._next = store._next
        _hold(path)
        return made

    @classmethod
    def open(cls, path: Path, read_only: bool = False) -> tuple[Store, Study]:
        """Open a study file. Raises FileError, with the file untouched, if it is not ours, damaged or newer.

        One of an earlier version is migrated on a copy, and kept beside it as it was.
        """
        _check_not_held(path)
        _check_header(path)
        why = "it was opened read-only" if read_only else _why_read_only(path)
        lock = None if why else _locked(path)
        try:
            with _told_plainly(path):
                link = _connect(path, read_only=True)
                try:
                    version = _check_kind(link, path)
                    schema.check_schema(link, path.name)
                    problem = _problem(link)
                    if problem:
                        raise FileError(f"{path.name} is damaged ({problem}); open a copy made earlier.")
                    if version < schema.VERSION:
                        older, link = link, _brought_up(link)
                        older.close()
                    store = cls(path, link, why or "it is being checked")
                    study = store.load()
                    if why:
                        return store, study
                    if version < schema.VERSION:
                        _replace_older(path, version, link)
                        _release(lock)
                        lock = _locked(path)
                except BaseException:
                    link.close()
                    raise
                link.close()
                written = cls(path, _connect(path), lock=lock)
                written._next = store._next
                _hold(path)
                return written, study
        except BaseException:
            _release(lock)
            raise

    @property
    def link(self) -> sqlite3.Connection:
        """The connection. Raises WriteError once it is closed."""
        if self._link is None:
            raise WriteError(f"{self.path.name} is closed.")
        return self._link

    def close(self) -> None:
        """Close, leaving a single file. Raises WriteError where the disk does not take that."""
        link, self._link = self._link, None
        if link is None:
            return
        try:
            if not self.read_only:
                link.rollback()
                with suppress(sqlite3.Error):  # only tidying up; a damaged picture may forbid it
                    link.execute('DELETE FROM pictures WHERE sha256 NOT IN (SELECT "sha256" FROM photos)')
                link.execute("PRAGMA wal_checkpoint(TRUNCATE)")
                link.execute("PRAGMA journal_mode = DELETE")
        except sqlite3.Error as error:
            raise WriteError(
                f"{self.path.name} could not be put together at its end ({_plainly(error)}); keep {self.path.name}-wal "
                "beside it."
            ) from None
        finally:
            link.close()
            self._let_go()

    def abandon(self) -> None:
        """Let go of a file that can no longer be worked with.

        One that went from its place is not closed: closing would take the log of what now lies there along.
        """
        if _place_of(self.path) != self._lies_at and self._link is not None:
            _LET_GO.append(self._link)
            self._link = None
            self._let_go()
            return
        with suppress(sqlite3.Error, OSError, WriteError):
            self.close()

    def _let_go(self) -> None:
        if self._lies_at is not None and self._lock is not None:
            _HELD.pop(self._lies_at, None)
        _release(self._lock)
        self._lock = None

    def __enter__(self) -> Store:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.close()

    @contextmanager
    def transaction(self) -> Iterator[sqlite3.Connection]:
        """One transaction: all of it or nothing."""
        link = self.link
        link.execute("BEGIN IMMEDIATE")
        try:
            yield link
            link.execute("COMMIT")
        except BaseException:
            with suppress(sqlite3.Error):
                link.execute("ROLLBACK")
            raise

    # -- the record ---------------------------------------------------------------------------------

    def load(self) -> Study:
        """The whole record. Raises FileError where it contradicts itself."""
        link = self.link
        lists: dict[tuple[str, str], dict[str, list[str]]] = {}
        for key, table in schema.LISTS.items():
            of: dict[str, list[str]] = {}
            for owner, value in link.execute(f"SELECT owner, value FROM {quoted(table)} ORDER BY owner, n"):
                of.setdefault(owner, []).append(value)
            lists[key] = of
        laps: dict[str, list[Lap]] = {}
        for row in _rows(link, "laps", 'ORDER BY "run", "n"'):
            run = row.pop("run")
            del row["n"]
            laps.setdefault(run, []).append(Lap(**checked(Lap, row)))
        try:
            device = next(iter(_rows(link, "device", "")), None)
            study = Study(device=Device(**checked(Device, device)) if device else Device())
            order: dict[str, list[str]] = {}
            for letter in LOAD_ORDER:
                cls, table = KINDS[letter]
                fields = [f for (k, f) in schema.LISTS if k == letter]
                things = []
                highest = -1.0
                for row in _rows(link, table, 'ORDER BY "position"'):
                    place = row.pop("position")
                    highest = max(highest, place if isinstance(place, (int, float)) else -1.0)
                    for field in fields:
                        row[field] = tuple(lists[letter, field].get(row["id"], ()))
                    values = checked(cls, from_columns(cls, row), letter)
                    if letter == "R":
                        values["laps"] = tuple(laps.get(values["id"], ()))
                    things.append(refused_as_record(cls, values))
                order[letter] = [t.id for t in things]
                study = put_all(study, carriers_first(things) if letter == "P" else things)
                self._next[letter] = highest + 1
            study = attrs.evolve(study, parts={id: study.parts[id] for id in order["P"]})
        except OddBoltError as error:
            raise FileError(f"{self.path.name} contradicts itself and cannot be read: {error}") from None
        return study

    def save(self, before: Study, after: Study) -> None:
        """Write what changed from ``before`` to ``after`` in one transaction.

        Raises WriteError where the disk does not take it: it can be tried again. Raises FileError for a read-only file,
        and for an edit that the file cannot hold. The file is as before then.
        """
        if self.read_only:
            raise FileError(
                f"{self.path.name} is read-only ({self.why_read_only}); nothing was changed. Save a copy to go on."
            )
        self._written(lambda: self._write(before, after))

    def _written(self, write: Callable[[], None]) -> None:
        self._check_there()
        try:
            with self.transaction():
                write()
        except (sqlite3.Error, UnicodeError, OverflowError) as error:
            if isinstance(error, sqlite3.Error) and any(word in str(error) for word in WAITS):
                self.stale = "I/O" in str(error)
                raise WriteError(f"{self.path.name} could not be written: {_plainly(error)}.") from None
            raise FileError(f"{self.path.name} cannot hold this edit: {_plainly(error)}.") from None

    def _write(self, before: Study, after: Study, device: bool = False) -> None:
        if device or before.device != after.device:
            self.link.execute("DELETE FROM device")
            self._insert("device", [{"key": "device", **attrs.asdict(after.device)}])
        for letter, (_, name) in KINDS.items():
            old, new = getattr(before, name), getattr(after, name)
            if old is not new:
                self._write_table(letter, old, new)

    def _check_there(self) -> None:
        if self._link is None or _place_of(self.path) != self._lies_at:
            self.stale = True
            raise WriteError(f"{self.path.name} is no longer where it was, in {self.path.parent}.")

    def _insert(self, table: str, rows: list[dict[str, Any]]) -> None:
        if rows:
            names = list(rows[0])
            marks = ", ".join("?" * len(names))
            values = [[row[name] for name in names] for row in rows]
            self.link.executemany(f"INSERT INTO {quoted(table)} ({quoted(*names)}) VALUES ({marks})", values)

    def _write_table(self, letter: str, old: Mapping[str, Any], new: Mapping[str, Any]) -> None:
        table, link = schema.TABLES[letter], self.link
        names = [name for name in schema.COLUMNS[table] if name != "position"]
        gone = [id for id in old if id not in new]
        changed = [t for id, t in new.items() if id in old and old[id] is not t and old[id] != t]
        added = [t for id, t in new.items() if id not in old]
        link.executemany(f"DELETE FROM {quoted(table)} WHERE id = ?", [(id,) for id in gone])
        sets = ", ".join(f"{quoted(name)} = ?" for name in names)
        rows = [[*(getattr(t, name) for name in names), t.id] for t in changed]
        link.executemany(f"UPDATE {quoted(table)} SET {sets} WHERE id = ?", rows)
        place = self._next.get(letter, 0.0)
        self._next[letter] = place + len(added)
        self._insert(
            table,
            [{**{name: getattr(t, name) for name in names}, "position": place + n} for n, t in enumerate(added)],
        )
        for (kind, field), list_ in schema.LISTS.items():
            if kind == letter:
                others = [t for t in changed if getattr(t, field) != getattr(old[t.id], field)]
                self._write_lists(list_, field, [*gone, *(t.id for t in others)], [*others, *added])
        if letter == "R":
            self._write_laps([*gone, *(r.id for r in changed)], [*changed, *added])
        kept = [id for id in old if id in new]
        if list(new) != [*kept, *(t.id for t in added)]:
            places = [(float(n), id) for n, id in enumerate(new)]
            link.executemany(f'UPDATE {quoted(table)} SET "position" = ? WHERE id = ?', places)
            self._next[letter] = float(len(new))

    def _write_lists(self, table: str, field: str, emptied: list[str], filled: list[Any]) -> None:
        self.link.executemany(f"DELETE FROM {quoted(table)} WHERE owner = ?", [(id,) for id in emptied])
        self._insert(
            table, [{"owner": t.id, "n": n, "value": v} for t in filled for n, v in enumerate(getattr(t, field))]
        )

    def _write_laps(self, emptied: list[str], filled: list[Any]) -> None:
        self.link.executemany('DELETE FROM laps WHERE "run" = ?', [(id,) for id in emptied])
        self._insert("laps", [{"run": r.id, "n": n, **attrs.asdict(p)} for r in filled for n, p in enumerate(r.laps)])

    # -- pictures -----------------------------------------------------------------------------------

    def add_picture(self, data: bytes) -> str:
        """Keep a picture; returns its SHA-256. The same picture is kept once. Raises as :meth:`save` does."""
        if self.read_only:
            raise FileError(f"{self.path.name} is read-only ({self.why_read_only}); the picture was not added.")
        _kind_of(data)
        self._written(lambda: self._keep_picture(data))
        return hashlib.sha256(data).hexdigest()

    def _keep_picture(self, data: bytes) -> None:
        row = (hashlib.sha256(data).hexdigest(), _kind_of(data), data)
        self.link.execute("INSERT OR IGNORE INTO pictures (sha256, kind, data) VALUES (?, ?, ?)", row)

    def picture(self, sha256: str) -> bytes | None:
        """The bytes of a picture, or None if the file does not hold it or is gone."""
        if self._link is None:
            return None
        with suppress(sqlite3.Error):
            found = self._link.execute("SELECT data FROM pictures WHERE sha256 = ?", (sha256,)).fetchone()
            return found[0] if found is not None and isinstance(found[0], bytes) else None
        return None

    def save_copy(self, path: Path) -> None:
        """Write a copy of the whole file under another name; one that is there is replaced. Raises FileError."""
        if path.exists() and path.samefile(self.path):
            raise FileError("A copy needs another name than the study itself.")
        _check_name(path)
        _check_not_held(path)
        mode = stat.S_IMODE(self.path.stat().st_mode) | stat.S_IWUSR if self.path.exists() else None
        with written_whole(path, mode=mode) as part:
            _backed_up(self.link, part, path)


def in_use(path: Path) -> bool:
    """Whether a study file is open to write in some window."""
    if _place_of(path) in _HELD:
        return True
    try:
        handle = os.open(path, os.O_RDONLY)
    except OSError:
        return False
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return True
    finally:
        os.close(handle)
    return False


def held_by_us(path: Path) -> bool:
    """Whether this process has the file open to write, under whatever spelling of its name."""
    return _place_of(path) in _HELD


# -- locks -----------------------------------------------------------------------------------------------


def _place_of(path: Path) -> tuple[int, int] | None:
    """Which file lies at a path: device and inode, or None."""
    try:
        found = path.stat()
    except OSError:
        return None
    return found.st_dev, found.st_ino


def _hold(path: Path) -> None:
    place = _place_of(path)
    if place is not None:
        _HELD[place] = path


def _check_not_held(path: Path) -> None:
    if held_by_us(path):
        raise FileError(f"{path.name} is already open in this window.")


def _locked(path: Path) -> int:
    """A lock on a file, as a handle to keep. Raises FileError where somebody else holds one."""
    handle = os.open(path, os.O_RDWR | os.O_CLOEXEC)
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        os.close(handle)
        raise FileError(f"{path.name} is open in another window; close it there first.") from None
    return handle


def _release(lock: int | None) -> None:
    if lock is not None:
        with suppress(OSError):
            os.close(lock)


# -- connections ------------------------------------------------------------------------------------------


def _connect(path: Path, read_only: bool = False) -> sqlite3.Connection:
    uri = f"file:{quote(str(path.absolute()))}?mode={'ro' if read_only else 'rw'}"
    if read_only and not path.with_name(path.name + "-wal").exists():
        uri += "&immutable=1"
    link = sqlite3.connect(uri, uri=True, timeout=1.0, check_same_thread=False, isolation_level=None)
    link.execute("PRAGMA trusted_schema = OFF")
    link.setlimit(sqlite3.SQLITE_LIMIT_LENGTH, LARGEST_PICTURE_BYTES + 1_000_000)
    link.setlimit(sqlite3.SQLITE_LIMIT_ATTACHED, 0)
    if read_only:
        link.execute("PRAGMA cell_size_check = ON")
        _bounded(link)
    else:
        link.execute("PRAGMA locking_mode = EXCLUSIVE")
        link.execute("PRAGMA journal_mode = WAL")
        link.execute("PRAGMA synchronous = FULL")
    return link


def _bounded(link: sqlite3.Connection) -> None:
    """Reading ends after :data:`MOST_STEPS`, whatever the file asks for."""
    left = [MOST_STEPS // STEPS_A_CALL]

    def one_more() -> bool:
        left[0] -= 1
        return left[0] < 0

    link.set_progress_handler(one_more, STEPS_A_CALL)


def _rows(link: sqlite3.Connection, table: str, order: str) -> Iterator[dict[str, Any]]:
    names = list(schema.COLUMNS[table])
    for row in link.execute(f"SELECT {quoted(*names)} FROM {quoted(table)} {order}"):
        yield {name: value for name, value in zip(names, row, strict=True) if name != "key"}


@contextmanager
def _told_plainly(path: Path) -> Iterator[None]:
    """What SQLite and the disk say of a file, as a sentence."""
    try:
        yield
    except sqlite3.Error as error:
        if "locked" in str(error):
            raise FileError(f"{path.name} is open in another window; close it there first.") from None
        if "interrupted" in str(error):
            raise FileError(f"{path.name} takes too long to read and was given up.") from None
        raise FileError(f"{path.name} is damaged or cut short and cannot be read: {_plainly(error)}.") from None
    except UnicodeDecodeError:
        raise FileError(f"{path.name} is damaged: it holds text that is not UTF-8.") from None
    except OSError as error:
        raise FileError(f"{path} cannot be opened: {error.strerror or error}.") from None


# -- checks ------------------------------------------------------------------------------------------------


def _check_name(path: Path) -> None:
    if len(os.fsencode(path.name)) > LONGEST_NAME:
        raise FileError(f"The name is too long: {len(os.fsencode(path.name))} bytes, at most {LONGEST_NAME}.")


def _why_read_only(path: Path) -> str:
    """Why a file cannot be written where it lies, or ""."""
    if len(os.fsencode(path.name)) > LONGEST_NAME:
        return "its name is too long"
    if not path.stat().st_mode & (stat.S_IWUSR | stat.S_IWGRP | stat.S_IWOTH) or not os.access(path, os.W_OK):
        return "you may not write to the file"
    if not os.access(path.parent, os.W_OK | os.X_OK):
        return "you may not write to its folder"
    return ""


def _check_header(path: Path) -> None:
    try:
        if not stat.S_ISREG(path.stat().st_mode):
            raise FileError(f"{path.name} is {'a folder' if path.is_dir() else 'no file'}, not a study.")
        with path.open("rb") as file:
            head = file.read(100)
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


def _check_kind(link: sqlite3.Connection, path: Path) -> int:
    (ours,) = link.execute("PRAGMA application_id").fetchone()
    if ours != schema.APPLICATION_ID:
        raise FileError(f"{path.name} is a database, but not a study of Odd Bolt.")
    (version,) = link.execute("PRAGMA user_version").fetchone()
    if not isinstance(version, int) or version > schema.VERSION:
        raise FileError(
            f"{path.name} was written by a newer Odd Bolt (format {version}, this one reads up to {schema.VERSION})."
        )
    return version


def _problem(link: sqlite3.Connection) -> str:
    """What is wrong in the tables of the record, or "". Pictures, which can be gigabytes, are not gone through: a
    damaged one shows when it is looked at."""
    for (name,) in link.execute("SELECT name FROM sqlite_schema WHERE type = 'table'").fetchall():
        if name != "pictures":
            (said,) = link.execute(f"PRAGMA quick_check({quoted(name)})").fetchone()
            if said != "ok":
                return str(said)
    return ""


def _kind_of(data: bytes) -> str:
    kind = "jpeg" if data[:3] == b"\xff\xd8\xff" else "png" if data[:8] == b"\x89PNG\r\n\x1a\n" else ""
    if not kind:
        raise FileError("This is not a JPEG or PNG picture.")
    if len(data) > LARGEST_PICTURE_BYTES:
        raise FileError(
            f"The picture is {len(data) / 1e6:.0f} MB; up to {LARGEST_PICTURE_BYTES / 1e6:.0f} MB can be kept."
        )
    return kind


# -- copies ------------------------------------------------------------------------------------------------


def _backed_up(link: sqlite3.Connection, part: Path, path: Path) -> None:
    """Copy a database into a file. Raises FileError."""
    try:
        with closing(sqlite3.connect(part)) as target:
            link.backup(target)
            target.execute("PRAGMA journal_mode = DELETE")
    except sqlite3.Error as error:
        raise FileError(f"{path} cannot be written: {_plainly(error)}.") from None


def _brought_up(link: sqlite3.Connection) -> sqlite3.Connection:
    """The file of an earlier version as one of this version, in memory."""
    memory = sqlite3.connect(":memory:", check_same_thread=False, isolation_level=None)
    link.backup(memory)
    memory.execute("BEGIN")
    schema.bring_up(memory)
    memory.execute("COMMIT")
    return memory


def _replace_older(path: Path, version: int, migrated: sqlite3.Connection) -> None:
    """Put what was migrated in the file's place; the old one stays beside it under another name, never over one that
    is there."""
    kept = free_name(path.with_name(f"{path.stem} (format {version}){path.suffix}"))
    _check_name(kept)
    mode = stat.S_IMODE(path.stat().st_mode)
    with written_whole(kept, replace=False, mode=mode) as part, closing(_connect(path, read_only=True)) as old:
        _backed_up(old, part, kept)
    with written_whole(path) as part:
        _backed_up(migrated, part, path)
    for beside in ("-wal", "-shm"):
        with suppress(OSError):
            path.with_name(path.name + beside).unlink(missing_ok=True)


def _plainly(error: BaseException) -> str:
    return str(error).rstrip(".")
