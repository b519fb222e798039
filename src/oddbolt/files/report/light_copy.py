"""A study file to make documents from beside the window: the record as it is, its photos no larger than paper needs."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from pathlib import Path

from attrs import evolve

from oddbolt.core.errors import FileError
from oddbolt.core.study import Photo, Study
from oddbolt.files.pictures import Picture, small
from oddbolt.files.store import Store

#: the longer side of a photo, px: enough for half a page of paper; smaller files are taken as they are
LONGEST_PX, SMALL_BYTES = 1600, 600_000


def light_copy(
    path: Path, study: Study, picture: Picture, kept: Path, stopped: Callable[[], bool] = lambda: False
) -> None:
    """Write the copy. What was made small is kept in the folder ``kept`` for the next one. Raises FileError."""
    kept.mkdir(mode=0o700, parents=True, exist_ok=True)
    photos, pictures = {}, {}
    for id, photo in study.photos.items():
        if stopped():
            raise FileError("stopped")
        data = _light(photo.sha256, picture, kept)
        if data is None:
            photos[id] = photo
            continue
        digest = hashlib.sha256(data).hexdigest()
        pictures[digest] = data
        photos[id] = evolve(photo, sha256=digest)
    Store.create(path, evolve(study, photos=photos), pictures.values(), replace=True).close()


def _light(digest: str, picture: Picture, kept: Path) -> bytes | None:
    """The bytes of a photo, upright, at most so large; None where the study does not hold it."""
    file = kept / f"{digest}.jpg"
    if file.is_file():
        return file.read_bytes()
    data = picture(digest)
    if data is None or len(data) <= SMALL_BYTES:
        return data
    try:
        light = small(data, Photo("H1", digest), LONGEST_PX)
    except FileError:
        return data  # said in the document itself
    file.write_bytes(light)
    return light
