"""Regular expressions compiled when they are first used: there are many, and the window opens before any is."""

from __future__ import annotations

import re
from typing import Any, cast


class _Later:
    """Stands for a pattern until it is used."""

    def __init__(self, text: str, flags: int) -> None:
        self.text, self.flags = text, flags

    def __getattr__(self, name: str) -> Any:
        made = re.compile(self.text, self.flags)
        for method in ("search", "match", "fullmatch", "sub", "finditer", "findall", "split", "pattern"):
            setattr(self, method, getattr(made, method))
        return getattr(made, name)


def lazy_pattern(text: str, flags: int = 0) -> re.Pattern[str]:
    """A pattern as :func:`re.compile` gives it."""
    return cast("re.Pattern[str]", _Later(text, flags))
