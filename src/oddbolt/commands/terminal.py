"""What goes to a terminal: plain text only. What was typed into a study cannot move the cursor or hide a word."""

from __future__ import annotations

import re
from typing import TextIO

from oddbolt.core.errors import CONTROLS, visible


class PlainOutput:
    """An output that shows control characters as escapes and passes the rest on."""

    encoding = "utf-8"

    def __init__(self, to: TextIO) -> None:
        self.to = to

    def write(self, text: str) -> int:
        shown = CONTROLS.sub(visible, re.sub("\r\n", "\n", text))
        encoding = getattr(self.to, "encoding", None) or "utf-8"
        self.to.write(shown.encode(encoding, "backslashreplace").decode(encoding))
        return len(text)

    def flush(self) -> None:
        self.to.flush()

    def isatty(self) -> bool:
        return self.to.isatty()
