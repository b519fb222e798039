"""A device in short: what is hard, what is good, what one change would help most, the marks, and what is still open."""

from __future__ import annotations

from functools import lru_cache

from attrs import frozen

from oddbolt.core.components.kinds import kind_of
from oddbolt.core.reach.step_masks import priority_parts
from oddbolt.core.reach.what_if import LEAST_S, Effect, all_in_words, sweep
from oddbolt.core.study import Study
from oddbolt.core.study.formatting import duration
from oddbolt.core.verdict import SCHEMES, bench_mark
from oddbolt.core.verdict.bench_mark import spotless

#: so many lines of each
MOST = 5
#: in a larger study changes are not tried for a document: each solves every route anew
MOST_STEPS = 120
#: what it means that a rule of the bench mark takes nothing off, under no reading of the record
GOOD = {
    "cover glued": "It opens without softening glue.",
    "glue without tab": "No priority part is held by glue without a pull tab.",
    "drives": "One driver turns every screw.",
    "look-alikes": "No screws are alike but for their length.",
    "depth": "Every priority part is free within five steps.",
    "renewals": "Nothing must be renewed on the way to a priority part.",
    "live": "The power can be isolated before any other connector is opened.",
    "dragged along": "Every priority part comes out by itself.",
    "solder": "Nothing is soldered on the way to a priority part.",
    "cutting": "Nothing is cut, drilled or broken on the way.",
    "hidden screws": "No screw on the way is hidden.",
    "solvent": "No solvent is needed.",
    "danger": "No glued cell, mains or charged capacitor is met.",
}


@frozen
class InShort:
    """``hard`` and ``good`` in sentences, the worst and the best first; ``change`` is the single change that would save
    most, with what it saves, "" where none helps or none was looked for; ``marks`` are scheme and headline; ``open``
    the questions whose answers would narrow the marks most, of ``questions`` in all."""

    hard: tuple[str, ...]
    good: tuple[str, ...]
    change: str
    marks: tuple[tuple[str, str], ...]
    open: tuple[str, ...]
    questions: int


def in_short(study: Study, with_change: bool = True) -> InShort:
    """The study in short. ``with_change`` also tries every change, which takes seconds on a large study."""
    mark = bench_mark(study)
    deductions = sorted(mark.deductions, key=lambda d: -d.points)
    hard = tuple(_sentence(d.about, d.reasons) for d in deductions[:MOST])
    clean = spotless(study)
    good = tuple(words for rule, words in GOOD.items() if rule in clean)[:MOST]
    judged = {scheme.name: scheme.judge(study) for scheme in SCHEMES.values()}
    asks = [ask for found in judged.values() for ask in found.asks[:2]]
    return InShort(
        hard,
        good,
        best_change(study) if with_change else "",
        tuple((name, found.headline) for name, found in judged.items() if found.headline),
        tuple(dict.fromkeys([*mark.open_questions, *(ask.words for ask in asks)]))[:MOST],
        sum(len(found.asks) for found in judged.values()),
    )


def _sentence(about: str, reasons: tuple[str, ...]) -> str:
    """ "Drive sizes needed, beyond one: 5: T3, T5 …" with no more reasons than are read."""
    shown = ", ".join(reasons[:3])
    more = f" and {len(reasons) - 3} more" if len(reasons) > 3 else ""
    return f"{about[:1].upper()}{about[1:]}: {shown}{more}."


@lru_cache(maxsize=2)
def helpful(study: Study) -> tuple[Effect, ...]:
    """Every single change that brings a priority part nearer, the most first."""
    parts = priority_parts(study)
    if not parts or len(study.steps) > MOST_STEPS:
        return ()
    effects = [effect for _, _, effect in sweep(study, parts) if not _only_the_cover(study, effect)]
    return tuple(sorted((e for e in effects if e.seconds > LEAST_S), key=lambda e: -e.seconds))


def _only_the_cover(study: Study, effect: Effect) -> bool:
    """Whether it says no more than that a device without its cover is open."""
    for one in effect.changes:
        part = study.parts.get(one.about)
        kind = kind_of(part.kind or part.name) if part is not None else None
        named = part is not None and part.kind == "cover"
        if one.way == "clear" and (named or (kind is not None and kind.family in ("body", "module"))):
            return True
    return False


def best_change(study: Study) -> str:
    """The single change that saves most over all priority parts, in words; "" for none."""
    found = helpful(study)
    if not found:
        return ""
    first = found[0]
    helped = ", ".join(study.name(part) for part in first.helped)
    words = all_in_words(study, first.changes)
    return f"{words[:1].upper()}{words[1:]}: {duration(first.seconds)} less in all, on the way to {helped}."
