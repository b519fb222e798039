"""Photos for others: as they were taken, without what the camera wrote into them about place and owner, or made small;
packed with a list of what they show."""

from __future__ import annotations

import hashlib
import struct
import zipfile
from io import BytesIO
from pathlib import Path

from attrs import evolve

from oddbolt.core.errors import FileError
from oddbolt.core.study import Photo, Study
from oddbolt.files.pictures import ORIENTATION, TAKEN, Picture, small
from oddbolt.files.tables import csv_of
from oddbolt.files.whole import written_whole

JPEG, PNG = b"\xff\xd8", b"\x89PNG\r\n\x1a\n"
#: segments of a JPEG that say nothing of how it looks: what the camera and programs wrote (APP1 to APP15, comments);
#: colour profiles (APP2 "ICC_PROFILE") and the colour transform (APP14 "Adobe") stay
_APPS, _COMMENT = range(0xE1, 0xF0), 0xFE
#: chunks of a PNG that are needed to show it
_SHOWN = {b"IHDR", b"PLTE", b"IDAT", b"IEND", b"tRNS", b"gAMA", b"cHRM", b"sRGB", b"iCCP", b"sBIT", b"pHYs", b"bKGD"}


def write_photos(path: Path, study: Study, picture: Picture, longest: int | None = None) -> int:
    """Write the photos into FILE.zip, with ``photos.csv``: originals without what the camera wrote into them, or made
    at most ``longest`` px, as they are shown. Returns how many. Raises FileError where there is none."""
    if longest is not None and not 64 <= longest <= 8000:
        raise FileError(f"Photos are made 64 to 8000 px long, not {longest}.")
    rows = [["file", "id", "step", "caption", "shows", "taken", "callouts"]]
    with written_whole(path) as part, zipfile.ZipFile(part, "w", zipfile.ZIP_STORED) as packed:
        for photo in study.photos.values():
            data = picture(photo.sha256)
            if data is None:
                continue
            name, out = made(photo, data, longest)
            packed.writestr(name, out)
            called = "; ".join(
                f"{c.letter} {c.label or (study.name(c.about) if c.about else '')}".strip()
                for c in study.callouts.values()
                if c.photo == photo.id
            )
            step = str(study.step_number(photo.step)) if photo.step in study.steps else ""
            rows.append([name, photo.id, step, photo.caption, photo.role, photo.taken, called])
        if len(rows) == 1:
            raise FileError("There are no photos in this study.")
        packed.writestr("photos.csv", csv_of(rows))
    return len(rows) - 1


def bare_study(study: Study, picture: Picture) -> tuple[Study, list[bytes]]:
    """A study whose photos are without what the camera wrote into them, and their bytes. Raises FileError for one that
    is damaged."""
    photos, pictures = {}, []
    for id, photo in study.photos.items():
        data = picture(photo.sha256)
        if data is not None:
            clean = bare(data)
            pictures.append(clean)
            photo = evolve(photo, sha256=hashlib.sha256(clean).hexdigest())  # noqa: PLW2901
        photos[id] = photo
    return evolve(study, photos=photos), pictures


def made(photo: Photo, data: bytes, longest: int | None) -> tuple[str, bytes]:
    """The name and the bytes of one photo for others. Raises FileError for a picture that cannot be read."""
    if longest is not None:
        return f"{photo.id}.jpg", small(data, photo, longest)
    return f"{photo.id}.{'png' if data.startswith(PNG) else 'jpg'}", bare(data)


def bare(data: bytes) -> bytes:
    """A JPEG or PNG with its picture untouched and without what was written into it about place, owner and device;
    which way is up, and when it was taken, stay. Raises FileError for another file, or a damaged one."""
    if data.startswith(JPEG):
        return _bare_jpeg(data)
    if data.startswith(PNG):
        return _bare_png(data)
    raise FileError("This picture is neither JPEG nor PNG.")


def _kept_exif(data: bytes) -> bytes:
    """A segment that says only which way is up and when it was taken; empty where neither is told."""
    from PIL import Image

    try:
        found = Image.open(BytesIO(data)).getexif()
        taken = found.get_ifd(0x8769).get(TAKEN)
    except Exception:  # noqa: BLE001 - a foreign file may raise anything in the library
        return b""
    kept = Image.Exif()
    if found.get(ORIENTATION, 1) in range(2, 9):
        kept[ORIENTATION] = found[ORIENTATION]
    if isinstance(taken, str) and taken.strip():
        kept.get_ifd(0x8769)[TAKEN] = taken[:19]
    written = kept.tobytes()
    if not dict(kept) and not kept.get_ifd(0x8769):
        return b""
    if not written.startswith(b"Exif\0\0"):
        written = b"Exif\0\0" + written
    return b"\xff\xe1" + struct.pack(">H", len(written) + 2) + written


def _bare_jpeg(data: bytes) -> bytes:
    out, at = [JPEG, _kept_exif(data)], 2
    while at + 2 <= len(data):
        if data[at] != 0xFF:
            raise FileError("This JPEG is damaged.")
        kind = data[at + 1]
        if kind == 0xFF:  # filling
            at += 1
            continue
        if kind == 0xD9:  # the end; what follows it is left out
            return b"".join([*out, b"\xff\xd9"])
        if at + 4 > len(data):
            break
        size = struct.unpack(">H", data[at + 2 : at + 4])[0]
        end = at + 2 + size
        segment = data[at:end]
        colours = kind == 0xE2 and segment[4:15] == b"ICC_PROFILE"
        adobe = kind == 0xEE and segment[4:9] == b"Adobe"
        if kind == 0xDA:  # a scan: its head, then its data up to the next mark
            end = _scan_end(data, end)
            out.append(data[at:end])
        elif not (kind in _APPS or kind == _COMMENT) or colours or adobe:
            out.append(segment)
        at = end
    raise FileError("This JPEG is cut short.")


def _scan_end(data: bytes, at: int) -> int:
    """Where the data of a scan end: at the next mark that is no restart and no stuffed byte."""
    while (at := data.find(b"\xff", at)) != -1 and at + 1 < len(data):
        if data[at + 1] == 0 or 0xD0 <= data[at + 1] <= 0xD7:
            at += 2
        elif data[at + 1] == 0xFF:
            at += 1
        else:
            return at
    raise FileError("This JPEG is cut short.")


def _bare_png(data: bytes) -> bytes:
    out, at = [PNG], len(PNG)
    while at + 12 <= len(data):
        size = struct.unpack(">I", data[at : at + 4])[0]
        kind = data[at + 4 : at + 8]
        if kind in _SHOWN:
            out.append(data[at : at + 12 + size])
        at += 12 + size
        if kind == b"IEND":
            return b"".join(out)
    raise FileError("This PNG is cut short.")
