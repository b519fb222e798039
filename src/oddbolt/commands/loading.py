"""What several commands need: a study read, parts found by name, an answer printed."""

from __future__ import annotations

import json
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

#: the form of the answers in JSON; grows when a field changes its meaning or goes
ANSWER_VERSION = 1

if TYPE_CHECKING:
    from oddbolt.core.study import Study


def load(path: Path) -> Study:
    """The study in a file, which is left as it is. Raises FileError."""
    from oddbolt.files.store import Store

    store, study = Store.open(path, read_only=True)
    store.close()
    return study


def print_json(data: dict[str, Any]) -> None:
    """Print an answer as JSON, with the version of its form (see ``oddbolt schema``)."""
    print(json.dumps({"version": ANSWER_VERSION, **data}, ensure_ascii=False, indent=1))


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
