"""Text files read and written whole: never half a file, and a sentence when it fails."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from oddbolt.core.errors import FileError

LARGEST_BYTES = 200_000_000


def write_text(path: Path, text: str) -> None:
    """Write a file in one piece. Raises FileError, leaving what was there."""
    part = path.with_name(path.name + ".part")
    try:
        part.write_text(text, encoding="utf-8", newline="")
        part.replace(path)
    except OSError as error:
        part.unlink(missing_ok=True)
        raise FileError(f"{path} cannot be written: {error.strerror or error}.") from None


def read_text(path: Path) -> str:
    """A UTF-8 file. Raises FileError."""
    try:
        if path.stat().st_size > LARGEST_BYTES:
            raise FileError(f"{path.name} is larger than {LARGEST_BYTES / 1e6:.0f} MB.")
        return path.read_text(encoding="utf-8")
    except OSError as error:
        raise FileError(f"{path} cannot be read: {error.strerror or error}.") from None
    except UnicodeDecodeError:
        raise FileError(f"{path} cannot be read: it is no UTF-8 text.") from None


def read_json(path: Path) -> Any:
    """What a JSON file holds. Raises FileError."""
    try:
        return json.loads(read_text(path))
    except (ValueError, RecursionError) as error:
        raise FileError(f"{path.name} is no JSON: {error}.") from None
