"""Plain tables: a line a row, columns separated by bars."""

from __future__ import annotations


def rows(text: str) -> list[list[str]]:
    """The cells of each row."""
    return [line.split("|") for line in text.strip().splitlines()]


def number(text: str) -> float | None:
    """A cell as a number; None if it is empty."""
    return float(text) if text else None
