"""A folder of studies as a shelf: each read without being opened to write, its figures kept in an index by content."""

from __future__ import annotations

import hashlib
import json
from base64 import b64decode, b64encode
from collections.abc import Callable, Mapping, Sequence
from functools import lru_cache
from importlib.resources import files
from pathlib import Path
from types import MappingProxyType
from typing import Any

from attrs import frozen

from oddbolt.core.errors import FileError, OddBoltError
from oddbolt.core.study import Study
from oddbolt.core.verdict import SCHEMES as SHIPPED
from oddbolt.core.verdict.scheme_file import Spec, read_spec
from oddbolt.core.verdict.summary import VERSION, Summary, summary
from oddbolt.files.pictures import Picture, small
from oddbolt.files.store import ENDING, Store
from oddbolt.files.text import read_text
from oddbolt.files.whole import written_whole

#: the index in the folder, studies that a shelf holds at the most, and the folder of the user's own schemes
INDEX, MOST, SCHEMES = ".oddbolt-shelf.json", 2000, "schemes"
LONGEST_INDEX = 30_000_000
#: the longer side of a picture on the shelf, px
PICTURE_PX = 96


@frozen
class Shelved:
    """One study on the shelf; ``summary`` is None where ``why_not`` says why it could not be read. ``picture`` is the
    device as a small JPEG, empty where no photo shows it."""

    path: Path
    summary: Summary | None
    why_not: str = ""
    picture: bytes = b""

    @property
    def name(self) -> str:
        """What to call it: the device, with its variant, and the file where that says more."""
        if self.summary is None:
            return self.path.stem
        return ", ".join(filter(None, (self.summary.device, self.summary.variant)))


def shelf(
    folder: Path,
    came: Callable[[int, int], None] = lambda _n, _all: None,
    stopped: Callable[[], bool] = lambda: False,
    held: Mapping[Path, tuple[Study, Picture]] = MappingProxyType({}),
    own: Sequence[Spec] = (),
) -> list[Shelved]:
    """The studies of a folder, by name; those of ``held`` as they are there. The index is renewed for what changed;
    where it cannot be written, it is not.

    Raises FileError for what is no folder, and one of too many studies.
    """
    if not folder.is_dir():
        raise FileError(f"{folder} is no folder.")
    paths = sorted(p for p in folder.glob(f"*{ENDING}") if p.is_file() and not p.name.startswith("."))
    if len(paths) > MOST:
        raise FileError(f"{folder} holds {len(paths)} studies; a shelf holds up to {MOST}.")
    version = _version(repr(tuple(own)))
    known = _index(folder, version)
    out: list[Shelved] = []
    fresh: dict[str, Any] = {}
    changed = False
    for n, path in enumerate(paths):
        if stopped():
            break
        came(n, len(paths))
        now = held.get(path.resolve())
        if now is not None:  # open in this window: as it is there
            out.append(Shelved(path, summary(now[0], own), "", _small_picture(*now)))
            continue
        try:
            mark = _mark(path)
        except OSError as error:
            out.append(Shelved(path, None, f"{path.name} cannot be read: {error.strerror}."))
            continue
        kept = known.get(path.name)
        if (
            kept is not None
            and kept.get("mark") == mark
            and kept.get("sum") == _sum([kept.get("summary"), kept.get("picture")])
        ):
            try:
                picture = b64decode(kept["picture"], validate=True)
                out.append(Shelved(path, Summary.of_data(kept["summary"]), "", picture))
                fresh[path.name] = kept
                continue
            except (LookupError, TypeError, ValueError, AttributeError):
                pass
        changed = True
        try:
            found, picture = _read(path, own)
            out.append(Shelved(path, found, "", picture))
            data, shown = found.data(), b64encode(picture).decode()
            fresh[path.name] = {"mark": mark, "sum": _sum([data, shown]), "summary": data, "picture": shown}
        except OddBoltError as error:
            out.append(Shelved(path, None, str(error)))
    if changed or set(fresh) != set(known):
        _keep(folder, fresh, version)
    return out


def _read(path: Path, own: Sequence[Spec]) -> tuple[Summary, bytes]:
    """The figures and the picture of a study, read only."""
    store, study = Store.open(path, read_only=True)
    with store:
        return summary(study, own), _small_picture(study, store.picture)


def _small_picture(study: Study, picture: Picture) -> bytes:
    """The photo that shows the device best, small: the first of its arrival, else of before the work, else the
    first."""
    order = {"arrival": 0, "before": 1}
    for photo in sorted(study.photos.values(), key=lambda p: order.get(p.role, 2)):
        data = picture(photo.sha256)
        if data is not None:
            try:
                return small(data, photo, PICTURE_PX)
            except FileError:
                continue
    return b""


def study_of(path: Path) -> Study:
    """A study, read only."""
    store, study = Store.open(path, read_only=True)
    store.close()
    return study


def own_specs(folder: Path) -> tuple[list[Spec], list[str]]:
    """The user's own schemes beside a shelf (FOLDER/schemes/*.toml), and what is wrong with those that are none."""
    specs: list[Spec] = []
    wrong: list[str] = []
    for path in sorted((folder / SCHEMES).glob("*.toml"))[:50]:
        try:
            name = f"own {path.stem}" if path.stem in SHIPPED else path.stem
            specs.append(read_spec(read_text(path), name))
        except OddBoltError as error:
            wrong.append(f"{path.name}: {error}")
    return specs, wrong


def _mark(path: Path) -> str:
    """What tells that a file is as it was: its size, time and a sum over its ends."""
    stat = path.stat()
    with path.open("rb") as file:
        head = file.read(8192)
        file.seek(max(0, stat.st_size - 8192))
        tail = file.read(8192)
    sums = hashlib.sha256(head + tail).hexdigest()[:16]
    return f"{stat.st_size} {stat.st_mtime_ns} {sums}"


def _sum(data: object) -> str:
    """A sum over what is kept of a study: what was spoilt on the disk is not believed."""
    return hashlib.sha256(json.dumps(data, sort_keys=True).encode()).hexdigest()[:16]


@lru_cache(maxsize=4)
def _version(own: str) -> str:
    """What the kept marks depend on besides the studies: the rules, the tables that they read, and the user's own
    schemes."""
    sums = hashlib.sha256(f"{VERSION} {own}".encode())
    tables = files("oddbolt.core.reference")
    for folder in (tables, tables / "schemes"):
        for file in sorted(folder.iterdir(), key=lambda f: f.name):
            if file.name.endswith(".toml"):
                sums.update(file.read_bytes())
    return sums.hexdigest()[:16]


def _index(folder: Path, version: str) -> dict[str, Any]:
    path = folder / INDEX
    try:
        if not path.is_file() or path.stat().st_size > LONGEST_INDEX:
            return {}
        data = json.loads(path.read_text(encoding="utf-8"))
    except (OSError, ValueError, RecursionError):
        return {}
    if not isinstance(data, dict) or data.get("version") != version or not isinstance(data.get("studies"), dict):
        return {}
    return {str(k): v for k, v in data["studies"].items() if isinstance(v, dict)}


def _keep(folder: Path, studies: dict[str, Any], version: str) -> None:
    try:
        with written_whole(folder / INDEX) as part:
            part.write_text(json.dumps({"version": version, "studies": studies}), encoding="utf-8")
    except (FileError, OSError):
        return  # a folder that cannot be written has no index
