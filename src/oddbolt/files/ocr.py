"""Markings read from a picture by tesseract, where the machine has it. What it reads is offered, never taken as
read."""

from __future__ import annotations

import shutil
import subprocess
from collections.abc import Sequence
from io import BytesIO
from typing import Any

from attrs import frozen

from oddbolt.core.errors import FileError
from oddbolt.files.pictures import cut_out

PROGRAM, LONGEST_S = "tesseract", 20
#: markings are small: the picture is enlarged to so many px, with so wide a rim; words less sure than this are noise
SIDE_PX, RIM_PX, LEAST_SURE = 1200, 40, 20.0
HELP = "Text is read from photos by the program tesseract, which this machine does not have (package tesseract-ocr)."


@frozen
class ReadLine:
    """One line read, and how sure of it the program says it is, 0 to 100."""

    text: str
    sure: float


def can_read() -> bool:
    """Whether the machine has what reads text from pictures."""
    return shutil.which(PROGRAM) is not None


def read_marking(data: bytes, corners: Sequence[tuple[float, float]]) -> tuple[ReadLine, ...]:
    """The lines that stand within an outline (fractions of the upright picture). It is read as it lies and upside down,
    dark on light and light on dark; the surest of these is given.

    Raises FileError where the machine has no reader, or the picture cannot be read.
    """
    from PIL import Image, ImageOps

    if not can_read():
        raise FileError(HELP)
    picture, _ = cut_out(data, corners, SIDE_PX)
    grey = ImageOps.autocontrast(Image.open(BytesIO(picture)).convert("L"), cutoff=2)
    by = SIDE_PX / max(grey.size)
    if by > 1:
        grey = grey.resize((round(grey.width * by), round(grey.height * by)), Image.Resampling.BICUBIC)
    ways = [grey, ImageOps.invert(grey)]
    ways += [way.rotate(180) for way in ways]
    found = [_lines(way) for way in ways]
    return max(found, key=lambda lines: sum(line.sure * len(line.text) for line in lines))


def _lines(grey: Any) -> tuple[ReadLine, ...]:
    from PIL import Image

    framed = Image.new("L", (grey.width + 2 * RIM_PX, grey.height + 2 * RIM_PX), 255)
    framed.paste(grey, (RIM_PX, RIM_PX))
    coded = BytesIO()
    framed.save(coded, "PNG")
    try:
        done = subprocess.run(
            [PROGRAM, "-", "-", "--psm", "6", "-l", "eng", "tsv"],
            input=coded.getvalue(),
            capture_output=True,
            timeout=LONGEST_S,
            check=False,
        )
    except (OSError, subprocess.TimeoutExpired) as error:
        raise FileError(f"{PROGRAM} did not read the picture: {error}.") from None
    if done.returncode:
        raise FileError(f"{PROGRAM} did not read the picture: {done.stderr.decode(errors='replace').strip()[:120]}.")
    words: dict[tuple[str, ...], list[tuple[str, float]]] = {}
    for row in done.stdout.decode(errors="replace").splitlines()[1:]:
        cells = row.split("\t")
        if len(cells) == 12 and cells[11].strip() and float(cells[10]) > LEAST_SURE:
            words.setdefault(tuple(cells[2:5]), []).append((cells[11].strip(), float(cells[10])))
    out = []
    for line in words.values():
        text = " ".join(word for word, _ in line)
        if any(c.isalnum() for c in text):
            out.append(ReadLine(text, round(sum(s for _, s in line) / len(line), 1)))
    return tuple(out)
