"""What several commands need: a study read, parts found by name, an answer printed."""

from __future__ import annotations

import json
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from oddbolt.core.study import Study


def load(path: Path) -> Study:
    """The study in a file, which is left as it is. Raises FileError."""
    from oddbolt.files.store import Store

    store, study = Store.open(path, read_only=True)
    store.close()
    return study


def print_json(data: Any) -> None:
    """Print an answer as JSON."""
    print(json.dumps(data, ensure_ascii=False, indent=1))


def parts_named(study: Study, names: Sequence[str]) -> list[str]:
    """The ids of parts by name or id; what a near name was taken for is said on stderr. Raises StudyError."""
    return [thing_named(study, name, "P") for name in names]


def thing_named(study: Study, name: str, letter: str) -> str:
    """The id of a thing by name or id; what a near name was taken for is said on stderr. Raises StudyError."""
    from oddbolt.core.study.naming import resolve_name

    found = resolve_name(study, name, letter)
    if found.note:
        print(f"oddbolt: {found.note}", file=sys.stderr)
    return found.id
