"""A simulated camera on a wire: it drops pictures into a folder as a tethered one does, piece by piece."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from datetime import datetime
from io import BytesIO
from itertools import count
from pathlib import Path
from time import sleep

from oddbolt.core.errors import FileError

PIECE_BYTES = 24_000


class PracticeCamera:
    """A tethered camera that takes the same pictures in turn."""

    name = "practice camera"

    def __init__(self, pictures: Sequence[bytes]) -> None:
        self.pictures = pictures

    def use(self, wire: Path, turn: int = 0) -> Path:
        """Take one picture into the folder ``wire``. Raises FileError."""
        return shoot(wire, self.pictures[turn % len(self.pictures)])


def shoot(
    folder: Path,
    picture: bytes,
    now: datetime | None = None,
    pause_s: float = 0.02,
    wait: Callable[[float], None] = sleep,
) -> Path:
    """Take one picture: it appears under the next free name and grows until it is whole. Raises FileError."""
    from PIL import Image

    taken = (now or datetime.now()).strftime("%Y:%m:%d %H:%M:%S")
    try:
        image = Image.open(BytesIO(picture))
        exif = image.getexif()
        exif[0x0132] = taken
        exif.get_ifd(0x8769)[0x9003] = taken
        out = BytesIO()
        image.convert("RGB").save(out, "JPEG", quality=90, exif=exif)
        path = next(p for p in _names(folder) if not p.exists())
        with path.open("xb") as file:
            data = out.getvalue()
            for start in range(0, len(data), PIECE_BYTES):
                file.write(data[start : start + PIECE_BYTES])
                file.flush()
                wait(pause_s)
    except OSError as error:
        raise FileError(f"The camera cannot write to {folder}: {error.strerror or error}.") from None
    return path


def _names(folder: Path) -> Iterator[Path]:
    return (folder / f"SHOT{n:04d}.JPG" for n in count(1))
