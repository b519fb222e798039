"""What a field of the record may hold; each refusal is one sentence for the user."""

from __future__ import annotations

from typing import Any

from attrs import Attribute

from oddbolt.core.errors import StudyError


class OneOf:
    """A validator: the value is one of the ``allowed`` words."""

    def __init__(self, *allowed: str) -> None:
        self.allowed = allowed

    def __call__(self, _thing: Any, attribute: Attribute[str], value: str) -> None:
        if value not in self.allowed:
            words = ", ".join(repr(word) for word in self.allowed if word)
            raise StudyError(f"{attribute.name} is {value!r}; it must be one of {words}.")


class Within:
    """A validator: the value is None or a number from ``low`` to ``high``, in ``unit``."""

    def __init__(self, low: float, high: float, unit: str) -> None:
        self.low, self.high, self.unit = low, high, unit

    def __call__(self, _thing: Any, attribute: Attribute[float | None], value: float | None) -> None:
        if value is None:
            return
        if isinstance(value, bool) or not isinstance(value, (int, float)) or not self.low <= value <= self.high:
            name = attribute.name.rsplit("_", 1)[0].replace("_", " ") if self.unit else attribute.name
            unit = f" {self.unit}" if self.unit else ""
            raise StudyError(f"{name} is {value}; it must lie between {self.low:g} and {self.high:g}{unit}.")


def one_of(*allowed: str) -> Any:
    """The value is one of these words."""
    return OneOf(*allowed)


def within(low: float, high: float, unit: str) -> Any:
    """The value is None or a number from ``low`` to ``high``, in ``unit``."""
    return Within(low, high, unit)


def named(_thing: Any, attribute: Attribute[str], value: str) -> None:
    """A validator: the value is a text with something in it."""
    if not isinstance(value, str) or not value.strip():
        raise StudyError(f"{attribute.name} must not be empty.")
