"""Words on the screen as they were typed: markup in a part's name is only words, on a label and in a tip."""

from __future__ import annotations

from html import escape
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel


class Label(QLabel):
    """A label that takes its text for plain text."""

    def __init__(self, *args: Any, **settings: Any) -> None:
        super().__init__(*args, **settings)
        self.setTextFormat(Qt.TextFormat.PlainText)


def tip(text: str) -> str:
    """A text for a tool tip, where the toolkit guesses whether it is markup."""
    return f"<qt>{escape(text)}</qt>".replace("\n", "<br>") if "<" in text or "&" in text else text
