"""Files written whole or not at all: under a name nobody can foresee in the same folder, flushed, then renamed."""

from __future__ import annotations

import os
import stat
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

from oddbolt.core.errors import FileError

PREFIX, SUFFIX = ".oddbolt-", ".part"
#: what lies about for so long was left by a writer that was killed, s
LEFT_S = 86_400.0


@contextmanager
def written_whole(path: Path, replace: bool = True, mode: int | None = None) -> Iterator[Path]:
    """Gives a path to write to; what lies there afterwards takes the place of ``path``, with the mode of the file that
    was there, else with ``mode``, else as new files are. Without ``replace`` a file that is there, or comes there
    meanwhile, is kept and FileError raised.

    Raises FileError where the disk does not take it; nothing half-written stays, and what was there stays as it was.
    """
    if not replace and path.exists():
        raise FileError(f"{path.name} already exists; choose another name.")
    try:
        if mode is None or path.exists():
            mode = stat.S_IMODE(path.stat().st_mode) if path.exists() else 0o666 & ~_umask()
        _clear_left(path.parent)
        handle, name = tempfile.mkstemp(prefix=PREFIX, suffix=SUFFIX, dir=path.parent)
    except OSError as error:
        raise FileError(f"{path} cannot be written: {error.strerror or error}.") from None
    os.close(handle)
    part = Path(name)
    try:
        yield part
        part.chmod(mode)
        flush(part)
        if replace:
            part.replace(path)
        else:
            _placed(part, path)
        flush(path.parent)
    except OSError as error:
        raise FileError(f"{path} cannot be written: {error.strerror or error}.") from None
    finally:
        for rest in (part, part.with_name(part.name + "-wal"), part.with_name(part.name + "-shm")):
            with suppress(OSError):
                rest.unlink(missing_ok=True)


def _clear_left(folder: Path) -> None:
    """Take away what a killed writer left in a folder more than a day ago: plain files, ours by name and owner."""
    before = time.time() - LEFT_S
    for left in folder.glob(f"{PREFIX}*{SUFFIX}*"):
        with suppress(OSError):
            found = left.lstat()
            if stat.S_ISREG(found.st_mode) and found.st_uid == os.getuid() and found.st_mtime < before:
                left.unlink()


def free_name(path: Path) -> Path:
    """The path, or the first "NAME (2)", "NAME (3)", … that is free."""
    tried = [path, *(path.with_name(f"{path.stem} ({n}){path.suffix}") for n in range(2, 1000))]
    return next((p for p in tried if not p.exists()), path)


def flush(path: Path) -> None:
    """Have the disk take a file, or the names in a folder."""
    handle = os.open(path, os.O_RDONLY)
    try:
        os.fsync(handle)
    except OSError:
        if not path.is_dir():  # some file systems cannot flush a folder
            raise
    finally:
        os.close(handle)


def _placed(part: Path, path: Path) -> None:
    """Give a file its name, if that is still free."""
    try:
        os.link(part, path)
    except FileExistsError:
        raise FileError(f"{path.name} already exists; choose another name.") from None
    except OSError:  # no second names on this file system
        if path.exists():
            raise FileError(f"{path.name} already exists; choose another name.") from None
        part.rename(path)


def _umask() -> int:
    now = os.umask(0o022)
    os.umask(now)
    return now
