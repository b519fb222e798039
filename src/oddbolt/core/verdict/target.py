"""What would have to be different: the smallest set of changes that lifts a mark to a target, by judging anew.

The changes are those of the what-if of Reach. Sets of one, then of two, are all tried within a budget of judgings, the
likeliest first; where the budget ends before all sets of a size were tried, that is said.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import combinations
from math import isfinite

from attrs import frozen

from oddbolt.core.errors import BenchError, OddBoltError
from oddbolt.core.reach.what_if import Change, all_in_words, applied, changes
from oddbolt.core.study import Study
from oddbolt.core.verdict.scheme import Scheme

#: judgings that one search may cost
BUDGET = 220
#: so much more is above
ABOVE = 0.01


@frozen
class Tried:
    """One set of changes and the figure that it leads to."""

    changes: tuple[Change, ...]
    value: float


@frozen
class Found:
    """The smallest sets that reach the ``target``, the best first, or none; the figure as it is; the best single
    changes; whether every set up to ``size`` was tried."""

    now: float
    target: float
    sets: tuple[Tried, ...]
    singles: tuple[Tried, ...]
    size: int
    whole: bool


def wanted(text: str, classes: Sequence[tuple[str, float]] = ()) -> float:
    """A target as it is typed: a figure, or the name of a class, which stands for its lower limit. Raises
    BenchError."""
    words = text.strip()
    for name, least in classes:
        if words.casefold() in (name.casefold(), f"class {name}".casefold()):
            return least
    try:
        figure = float(words.replace(",", "."))
    except ValueError:
        figure = float("nan")
    if not isfinite(figure):
        names = f", or a class: {', '.join(name for name, _ in classes)}" if classes else ""
        raise BenchError(f"{words!r} is not a figure, such as 7.5{names}.")
    return figure


def in_words(study: Study, found: Found, high: float) -> list[str]:
    """What was found, line by line; ``high`` is what the figure may be already where the record leaves things open."""
    if found.now >= found.target - 1e-9:
        return [f"It is {found.now:.2f} already."]
    lines = []
    if high >= found.target - 1e-9:
        lines.append(f"What is open may reach it by itself: the figure is up to {high:.2f}.")
    if found.sets:
        lines.append(f"Smallest changes that reach {found.target:g}:")
        return lines + [f"{one.value:.2f}: {all_in_words(study, one.changes)}" for one in found.sets[:4]]
    tried = f"No set of up to {found.size} changes" if found.whole else "None of the likeliest sets"
    lines.append(f"{tried} reaches {found.target:g}. Best single ones:")
    return lines + [f"{one.value:.2f}: {all_in_words(study, one.changes)}" for one in found.singles[:3]]


def reach_target(
    study: Study,
    value_of: Callable[[Study], float | None],
    target: float,
    most: int = 2,
    among: Sequence[Change] | None = None,
    budget: int = BUDGET,
    stopped: Callable[[], bool] = lambda: False,
) -> Found:
    """The smallest sets of changes that lift ``value_of`` to ``target`` (more is better).

    Raises BenchError for a target that is no figure."""
    if not isfinite(target):
        raise BenchError("A target is a figure, such as 7.5.")
    now = value_of(study) or 0.0
    if now >= target - 1e-9:
        return Found(now, target, (), (), 0, True)
    singles: list[Tried] = []
    spent = 0
    for one in changes(study) if among is None else among:
        if spent >= budget or stopped():
            break
        spent += 1
        value = _value(study, (one,), value_of)
        if value is not None:
            singles.append(Tried((one,), value))
    singles.sort(key=lambda t: -t.value)
    reached = tuple(t for t in singles if t.value >= target - 1e-9)
    whole = spent < budget and not stopped()
    if reached or most < 2:
        return Found(now, target, reached, tuple(singles), 1, whole)
    pairs = sorted(combinations(singles, 2), key=lambda pair: -(pair[0].value + pair[1].value))
    sets = []
    tried = 0
    for a, b in pairs:
        if spent >= budget or stopped():
            break
        if a.changes[0].about == b.changes[0].about:
            tried += 1
            continue
        spent, tried = spent + 1, tried + 1
        both = (*a.changes, *b.changes)
        value = _value(study, both, value_of)
        if value is not None and value >= target - 1e-9:
            sets.append(Tried(both, value))
    sets.sort(key=lambda t: -t.value)
    return Found(now, target, tuple(sets), tuple(singles), 2, whole and tried == len(pairs))


def lifted(study: Study, scheme: Scheme, over: float, stopped: Callable[[], bool] = lambda: False) -> list[str]:
    """What would have to be different for a device to stand above one of this figure, line by line. Raises
    BenchError."""
    total = scheme.judge(study).total
    if total is None:
        raise BenchError(f"{scheme.name} gives {study.device.name} no figure.")
    found = reach_target(study, scheme.figure, round(over + ABOVE, 4), stopped=stopped)
    return in_words(study, found, total.high)


def _value(study: Study, what: tuple[Change, ...], value_of: Callable[[Study], float | None]) -> float | None:
    try:
        return value_of(applied(study, what))
    except OddBoltError:
        return None
