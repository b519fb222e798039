"""Files read and written whole: never half a file, never more than fits, and a sentence when it fails.

"-" is standard input or output.
"""

from __future__ import annotations

import json
import os
import stat
import sys
from pathlib import Path
from typing import Any

from oddbolt.core.errors import FileError
from oddbolt.files.whole import written_whole

LARGEST_BYTES = 200_000_000
STANDARD = Path("-")


def read_bytes(path: Path, at_most: int = LARGEST_BYTES) -> bytes:
    """What a file holds, or standard input for "-". Raises FileError where it is no plain file or holds more bytes."""
    name = "standard input" if path == STANDARD else path.name
    try:
        if path == STANDARD:
            data = sys.stdin.buffer.read(at_most + 1)
        else:
            handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)  # does not wait for a pipe's other end
            with os.fdopen(handle, "rb") as file:
                if not stat.S_ISREG(os.fstat(handle).st_mode):
                    raise FileError(f"{path} is not a plain file.")
                data = file.read(at_most + 1)
    except (OSError, ValueError) as error:
        raise FileError(f"{path} cannot be read: {getattr(error, 'strerror', None) or error}.") from None
    if len(data) > at_most:
        raise FileError(f"{name} is larger than {at_most / 1e6:.0f} MB.")
    return data


def write_text(path: Path, text: str) -> None:
    """Write a file in one piece; "-" is standard output. Raises FileError, leaving what was there."""
    if path == STANDARD:
        sys.stdout.write(text)
        return
    with written_whole(path) as part:
        part.write_text(text, encoding="utf-8", newline="")


def read_text(path: Path) -> str:
    """A UTF-8 file, or standard input for "-". Raises FileError."""
    try:
        return read_bytes(path).decode("utf-8").replace("\r\n", "\n")
    except UnicodeDecodeError:
        raise FileError(f"{path} cannot be read: it is not UTF-8 text.") from None


def read_json(path: Path) -> Any:
    """What a JSON file holds. Raises FileError."""
    try:
        return json.loads(read_text(path))
    except (ValueError, RecursionError) as error:
        raise FileError(f"{path.name} is not JSON: {error}.") from None
