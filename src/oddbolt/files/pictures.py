"""Pictures as files: looked at before they are kept, made small for a sheet."""

from __future__ import annotations

import re
import warnings
from collections.abc import Callable, Sequence
from io import BytesIO
from pathlib import Path

import numpy as np
from attrs import frozen
from numpy.typing import NDArray

from oddbolt.core.errors import FileError
from oddbolt.core.study import Photo
from oddbolt.files.text import read_bytes

#: gives the bytes of a photo by its SHA-256, None where they are not held
Picture = Callable[[str], bytes | None]
LARGEST_PICTURE_BYTES = 40_000_000
#: more than any camera on a bench gives; what is beyond it is taken for an attack on the memory
MOST_PIXELS, MOST_PIXELS_UNPACKED = 150_000_000, 60_000_000
ENDINGS = (".jpg", ".jpeg", ".png", ".webp", ".tif", ".tiff", ".bmp")
ORIENTATION, TAKEN, CHANGED, EXIF = 0x0112, 0x9003, 0x0132, 0x8769


@frozen
class Looked:
    """A picture that may be kept: its bytes (a JPEG or PNG), upright size in px, when it was taken (or "")."""

    data: bytes
    width: int
    height: int
    taken: str


def look_at(data: bytes, name: str) -> Looked:
    """See whether these bytes are a picture to keep. JPEG and PNG stay as they are, other still pictures become PNG.

    Raises FileError, naming ``name``, for what is no picture, moves, is cut short or is too large to be safe.
    """
    if len(data) > LARGEST_PICTURE_BYTES:
        most = LARGEST_PICTURE_BYTES / 1e6
        raise FileError(f"{name} is {len(data) / 1e6:.0f} MB; pictures up to {most:.0f} MB can be kept.")
    from PIL import Image, ImageFile, ImageOps, UnidentifiedImageError  # wanted only when a picture comes

    Image.init()
    ImageFile.LOAD_TRUNCATED_IMAGES = False  # the PDF writer, once loaded, would have half a picture pass
    Image.MAX_IMAGE_PIXELS = None  # the size is checked here, before anything is decoded
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            image = Image.open(BytesIO(data), formats=("JPEG", "PNG", "WEBP", "TIFF", "BMP"))
            if image.width * image.height > (MOST_PIXELS if image.format in ("JPEG", "MPO") else MOST_PIXELS_UNPACKED):
                raise FileError(f"{name} unpacks to {image.width} × {image.height} px, more than any camera gives.")
            if image.format != "MPO" and getattr(image, "n_frames", 1) > 1:
                raise FileError(f"{name} holds several pictures or an animation; save one as a single picture.")
            if image.format == "PNG":
                Image.open(BytesIO(data)).verify()
            exif = image.getexif()
            taken = _when(exif.get_ifd(EXIF).get(TAKEN) or exif.get(CHANGED))
            sideways = exif.get(ORIENTATION, 1) in (5, 6, 7, 8)
            keep = image.format in ("JPEG", "MPO", "PNG")
            width, height = (image.height, image.width) if sideways else image.size
            if keep:
                image.draft("RGB", (max(1, image.width // 8), max(1, image.height // 8)))
                image.load()
                return Looked(data, width, height, taken)
            upright = ImageOps.exif_transpose(image)
            out = BytesIO()
            (upright if upright.mode in ("L", "RGB", "RGBA", "I;16") else upright.convert("RGB")).save(out, "PNG")
            return Looked(out.getvalue(), upright.width, upright.height, taken)
    except UnidentifiedImageError:
        raise FileError(f"{name} is not a JPEG or PNG picture.") from None
    except FileError:
        raise
    except Exception as error:  # noqa: BLE001 - a foreign file may raise anything in the library  # a hostile picture can make its decoder raise anything
        raise FileError(f"{name} is damaged or cut short and was not kept: {error}.") from None


def look_at_file(path: Path) -> Looked:
    """See whether a file is a picture to keep. Raises FileError."""
    return look_at(read_bytes(path, LARGEST_PICTURE_BYTES), path.name)


def small(data: bytes, photo: Photo, side: int) -> bytes:
    """A picture as it is shown (cut and turned), at most ``side`` px, as JPEG. Raises FileError if it is damaged."""
    from PIL import Image, ImageOps

    try:
        opened = Image.open(BytesIO(data))
        shown = max(0.02, min(photo.right - photo.left, photo.bottom - photo.top))
        opened.draft("RGB", (round(side / shown), round(side / shown)))
        image: Image.Image = opened
        if opened.getexif().get(ORIENTATION, 1) != 1:
            image = ImageOps.exif_transpose(opened)
        w, h = image.size
        box = (round(photo.left * w), round(photo.top * h), round(photo.right * w), round(photo.bottom * h))
        if box != (0, 0, w, h):
            image = image.crop(box)
        image.thumbnail((side, side), reducing_gap=2.0)
        if photo.turn:
            image = image.rotate(-photo.turn, expand=True)
        out = BytesIO()
        image.convert("RGB").save(out, "JPEG", quality=78)
        return out.getvalue()
    except Exception as error:  # noqa: BLE001 - a foreign file may raise anything in the library  # a hostile picture can make its decoder raise anything
        raise FileError(f"The picture of photo {photo.id} cannot be read: {error}.") from None


def _when(said: object) -> str:
    """EXIF's "YYYY:MM:DD HH:MM:SS" as ISO 8601; "" if it is none."""
    found = re.match(r"(\d{4}):(\d\d):(\d\d) (\d\d:\d\d:\d\d)", str(said or ""))
    return f"{found[1]}-{found[2]}-{found[3]}T{found[4]}" if found and found[1] != "0000" else ""


#: more than this does not make a measurement better
ENOUGH_PIXELS = 26_000_000


def pixels(path: Path) -> NDArray[np.uint8]:
    """A photo upright as RGB, (height, width, 3), 8 bits; a very large one at half its size or less.

    Raises FileError for what is no picture, moves, is cut short or too large to be safe.
    """
    return pixels_of(look_at_file(path).data, path.name)


def pixels_of(data: bytes, name: str) -> NDArray[np.uint8]:
    """The same of the bytes of a picture that was looked at; ``name`` is what a refusal calls it."""
    from PIL import Image, ImageOps

    try:
        opened = Image.open(BytesIO(data))
        over = opened.width * opened.height / ENOUGH_PIXELS
        if over > 1:
            opened.draft("RGB", (int(opened.width / over**0.5), int(opened.height / over**0.5)))
        image: Image.Image = ImageOps.exif_transpose(opened)
        if image.mode in ("I;16", "I;16B", "I;16L", "I"):  # 16 bits of grey: the upper ones
            wide = np.asarray(image).astype(np.float64)
            grey = (wide / max(float(wide.max()), 1.0) * 255).astype(np.uint8)
            return np.ascontiguousarray(np.repeat(grey[..., None], 3, axis=2))
        while image.width * image.height > ENOUGH_PIXELS:
            image = image.reduce(2)
        return np.ascontiguousarray(np.asarray(image.convert("RGB"), dtype=np.uint8))
    except Exception as error:  # noqa: BLE001 - a foreign file may raise anything in the library  # a hostile picture can make its decoder raise anything
        raise FileError(f"{name} cannot be read as a photo: {error}.") from None


def cut_out(
    data: bytes, corners: Sequence[tuple[float, float]], side: int
) -> tuple[bytes, tuple[tuple[float, float], ...]]:
    """What lies within an outline, turned so that its longest way lies across, at most ``side`` px, as JPEG; and the
    outline in fractions of it. ``corners`` are fractions of the upright picture. Raises FileError if it is damaged."""
    from PIL import Image, ImageOps

    try:
        opened = Image.open(BytesIO(data))
        image: Image.Image = ImageOps.exif_transpose(opened).convert("RGB")
        points = np.array(corners) * np.array(image.size)
        around = np.array([points.min(axis=0) - 2, points.max(axis=0) + 2])
        left, top = np.floor(np.maximum(around[0], 0)).astype(int)
        right, bottom = np.ceil(np.minimum(around[1], image.size)).astype(int)
        image = image.crop((int(left), int(top), int(right), int(bottom)))
        points = points - [left, top]
        edges = np.roll(points, -1, axis=0) - points
        angles = np.degrees(np.arctan2(edges[:, 1], edges[:, 0])) % 90
        turned = min((_turned(points, image.size, angle) for angle in {0.0, *angles.round(1)}), key=lambda t: t[1])
        angle, _, box, moved = turned
        if angle:
            image = image.rotate(angle, Image.Resampling.BICUBIC, expand=True)
        image = image.crop((int(box[0] // 1), int(box[1] // 1), int(-(-box[2] // 1)), int(-(-box[3] // 1))))
        moved = (moved - np.floor(box[:2])) / image.size
        if image.height > image.width:
            image = image.transpose(Image.Transpose.ROTATE_90)
            moved = np.column_stack([moved[:, 1], 1 - moved[:, 0]])
        image.thumbnail((side, side), reducing_gap=2.0)
        out = BytesIO()
        image.save(out, "JPEG", quality=82)
        return out.getvalue(), tuple((float(x), float(y)) for x, y in np.clip(moved, 0, 1))
    except Exception as error:  # noqa: BLE001 - a hostile picture can make its decoder raise anything
        raise FileError(f"The picture cannot be cut out: {error}.") from None


def _turned(
    points: NDArray[np.float64], size: tuple[int, int], angle: float
) -> tuple[float, float, NDArray[np.float64], NDArray[np.float64]]:
    """An outline after the picture is turned anticlockwise by ``angle``: the angle, the area of its box, box,
    points."""
    turn = np.radians(angle)
    way = np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]])
    ends = (np.array([[0, 0], [size[0], 0], [0, size[1]], size]) - np.array(size) / 2) @ way
    whole = np.ceil(ends.max(axis=0)) - np.floor(ends.min(axis=0))
    if not angle:
        whole = np.array(size, dtype=np.float64)
    moved = (points - np.array(size) / 2) @ way + whole / 2
    box = np.concatenate([moved.min(axis=0), moved.max(axis=0)])
    return angle, float((box[2] - box[0]) * (box[3] - box[1])), box, moved
