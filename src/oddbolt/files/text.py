"""Text files read and written whole: never half a file, and a sentence when it fails."""

from __future__ import annotations

import json
import stat
from pathlib import Path
from typing import Any

from oddbolt.core.errors import FileError
from oddbolt.files.whole import written_whole

LARGEST_BYTES = 200_000_000


def write_text(path: Path, text: str) -> None:
    """Write a file in one piece. Raises FileError, leaving what was there."""
    with written_whole(path) as part:
        part.write_text(text, encoding="utf-8", newline="")


def read_text(path: Path) -> str:
    """A UTF-8 file. Raises FileError."""
    try:
        found = path.stat()
        if not stat.S_ISREG(found.st_mode):
            raise FileError(f"{path} is not a readable file.")
        if found.st_size > LARGEST_BYTES:
            raise FileError(f"{path.name} is larger than {LARGEST_BYTES / 1e6:.0f} MB.")
        return path.read_text(encoding="utf-8")
    except OSError as error:
        raise FileError(f"{path} cannot be read: {error.strerror or error}.") from None
    except UnicodeDecodeError:
        raise FileError(f"{path} cannot be read: it is not UTF-8 text.") from None


def read_json(path: Path) -> Any:
    """What a JSON file holds. Raises FileError."""
    try:
        return json.loads(read_text(path))
    except (ValueError, RecursionError) as error:
        raise FileError(f"{path.name} is not JSON: {error}.") from None
