"""What a field of the record may hold; each refusal is one sentence for the user."""

from __future__ import annotations

from typing import Any

from attrs import Attribute

from oddbolt.core.errors import StudyError


def one_of(*allowed: str) -> Any:
    """A validator: the value is one of these words."""

    def check(_thing: Any, attribute: Attribute[str], value: str) -> None:
        if value not in allowed:
            words = ", ".join(repr(word) for word in allowed if word)
            raise StudyError(f"{attribute.name} is {value!r}; it must be one of {words}.")

    return check


def within(low: float, high: float, unit: str) -> Any:
    """A validator: the value is None or a number from ``low`` to ``high``, in ``unit``."""

    def check(_thing: Any, attribute: Attribute[float | None], value: float | None) -> None:
        if value is None:
            return
        if isinstance(value, bool) or not isinstance(value, (int, float)) or not low <= value <= high:
            name = attribute.name.rsplit("_", 1)[0].replace("_", " ") if unit else attribute.name
            raise StudyError(
                f"{name} is {value}; it must lie between {low:g} and {high:g}{' ' + unit if unit else ''}."
            )

    return check


def named(_thing: Any, attribute: Attribute[str], value: str) -> None:
    """A validator: the value is a text with something in it."""
    if not isinstance(value, str) or not value.strip():
        raise StudyError(f"{attribute.name} must not be empty.")
