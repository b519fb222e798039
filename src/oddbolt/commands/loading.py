"""What several commands need: a study read, parts found by name, an answer printed."""

from __future__ import annotations

import json
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from oddbolt.core.errors import ReachError

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
    """The ids of parts by name or id. Raises ReachError."""
    from oddbolt.core.narration.recording import find_part

    out = []
    for name in names:
        id = name if name in study.parts else find_part(study, name)
        if not id:
            some = ", ".join(p.name for p in list(study.parts.values())[:8])
            raise ReachError(
                f"There is no part called {name!r}; the study has {some or 'no parts'}, and perhaps others."
            )
        out.append(id)
    return out
