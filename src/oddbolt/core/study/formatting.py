"""Figures in words, one way everywhere."""

from __future__ import annotations


def duration(seconds: float) -> str:
    """A time as people say it: "48 s", "4 min 20 s", "1 h 5 min"."""
    total = round(seconds)
    if total < 60:
        return f"{total} s"
    minutes, rest = divmod(total, 60)
    if minutes < 60:
        return f"{minutes} min {rest} s" if rest else f"{minutes} min"
    hours, minutes = divmod(minutes, 60)
    return f"{hours} h {minutes} min" if minutes else f"{hours} h"


def stopwatch(seconds: float) -> str:
    """A time as a stopwatch shows it, for columns: "0:48", "4:20", "1:05:00"."""
    minutes, rest = divmod(round(seconds), 60)
    hours, minutes = divmod(minutes, 60)
    return f"{hours}:{minutes:02d}:{rest:02d}" if hours else f"{minutes}:{rest:02d}"


def span(least: float, most: float, unit: str = "") -> str:
    """A range of whole numbers: "9", "1 step", "9 to 10 steps"; ``unit`` is in the plural."""
    low, high = round(least), round(most)
    if low == high == 1:
        unit = unit.removesuffix("s")
    text = f"{low}" if low == high else f"{low} to {high}"
    return f"{text} {unit}".rstrip()


def duration_span(least: float, most: float) -> str:
    """A range of times."""
    low, high = duration(least), duration(most)
    return low if low == high else f"{low} to {high}"


def the(name: str) -> str:
    """A thing's name within a sentence: "the thermal pad", "the PCB"."""
    lower = name[:1].lower() + name[1:] if name[1:2] == name[1:2].lower() else name
    return f"the {lower}"


def plural(count: int, noun: str) -> str:
    """ "1 step", "3 steps" """
    return f"{count} {noun}" if count == 1 else f"{count} {noun}{'es' if noun.endswith(('s', 'x', 'ch')) else 's'}"


def chance(share: float) -> str:
    """A probability, 0 to 1, as a percentage: “76%”; what is not certain is never told as 100% or 0%."""
    if 0.995 <= share < 1:
        return ">99%"
    return "<1%" if 0 < share < 0.005 else f"{share:.0%}"
