"""Marks that change a step already drafted: "they are single-use", "two are longer", "that cuts the power"."""

from __future__ import annotations

import re

from oddbolt.core.narration.draft import DraftStep, Piece, evolve
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.reading.cautions_and_findings import longer_in
from oddbolt.core.narration.reading.sentence_state import SentenceState

LONG_AND_SHORT = lazy_pattern(
    r"\b(?:\w+)\s+(?:long|longer|short|shorter)\b(?:(?!\bscrews?\b).){0,24}\b(?:\w+)\s+(?:short|shorter|long|longer)\b"
)


def apply_marks(work: SentenceState) -> None:
    """Let the sentence's marks change the drafts they are about."""
    low, vocabulary, memory = work.low, work.vocabulary, work.memory
    screws = [s for s in work.made if s.joint == "screw"]
    recent = _latest_group(work)
    group = screws[-1] if screws else recent
    mixed = vocabulary.marked("mixed", low) or longer_in(low, vocabulary)
    if group is not None and mixed:
        told = (Piece("mixed", True, *mixed.span(), 0.4),) if len(low) == len(work.text) and group in work.made else ()
        work.update(group, mixed=True, pieces=(*group.pieces, *told))
    if len(screws) == 1 and LONG_AND_SHORT.search(low):
        work.update(screws[0], mixed=True)
        work.made = [evolve(s, length_mm=None) if s.ref == screws[0].ref else s for s in work.made]
    group = _group_now(work) or recent
    if group is not None and vocabulary.marked("apart_keep", low):
        work.update(group, keep_apart=True)
    if vocabulary.marked("ordered", low):
        fasten = next((s for s in reversed(work.made) if s.action in ("fasten", "unscrew")), None)
        if fasten is not None:
            work.update(fasten, ordered=True)
    isolates = vocabulary.marked("isolates", low)
    if isolates:
        last = work.made[-1] if len(work.made) == 1 else _before(work, isolates.start()) or _power_step(memory.steps)
        if low.startswith(("with the power", "with no power", "now that the power")):
            last = _power_step(memory.steps)
        if last is not None and last.action != "prepare":
            work.update(last, isolates_power=True)
    if work.variant:
        for name in work.sentence_parts:
            memory.variants[name.lower()] = work.variant
    for rule in ("renew", "inspect", "reuse"):
        match = vocabulary.marked(f"reuse-{rule}", low)
        if match:
            _set_reuse(work, rule, match.group())
            break


def _power_step(steps: list[DraftStep]) -> DraftStep | None:
    """The step that must have cut the power: the last one on a cell, pack or card, else the last of all."""
    supply = ("battery", "batteries", "cell", "pack", "card")
    for step in reversed(steps[-4:]):
        if any(p.lower().split()[-1] in supply or "battery" in p.lower() for p in step.parts):
            return step
    return steps[-1] if steps else None


def _set_reuse(work: SentenceState, rule: str, phrase: str) -> None:
    low, memory = work.low, work.memory
    if memory.phase == "back" and rule == "renew" and phrase.startswith(("new", "fresh", "a new", "use a new")):
        return
    subject = re.match(
        r"(?:and |but |so )?(they|these|those|them|it|this|that|all of them|both|throw|bin|discard|do|don't|never)\b",
        low,
    )
    names = [
        n
        for n in dict.fromkeys(work.sentence_parts)
        if not re.search(r"\b(time|assembly|groove|version|reassembly)\b", n.lower())
    ]
    names = [n for n in names if _spaced(n) in low or _spaced(n).split()[-1] in low]
    acted = [s for s in work.made if s.action in ("unscrew", "peel", "take out", "pry", "unclip", "disconnect")]
    if subject and not acted and memory.steps:
        work.update(memory.steps[-1], reuse=rule)
        return
    screws = next((s for s in reversed(acted) if s.joint == "screw"), None)
    if screws is not None and re.search(r"\b(screws?|bolts?|them|they|these|those)\b", low):
        work.update(screws, reuse=rule)
        return
    for name in names:
        head = name.lower().split()[-1]
        pool = [*memory.steps[-4:], *work.made]
        step = next(
            (
                s
                for s in reversed(pool)
                if any(p.lower().split()[-1] == head for p in s.parts) and s.action in ("peel", "take out", "pry")
            ),
            None,
        )
        if step is not None and (step not in work.made or len(names) == 1 or head in phrase):
            work.update(step, reuse=rule)
            return
        before = low.find(_spaced(name))
        if (
            rule == "renew"
            and (step is None)
            and before >= 0
            and not (step is None and acted and any(name in s.parts for s in acted))
            and abs(low.find(phrase) - before) < 60
            and name == _nearest(low, names, phrase)
        ):
            work.renew.append(name)
            return
    if acted and not names:
        work.update(acted[-1], reuse=rule)
    elif not work.made and memory.steps and memory.steps[-1].joint and not names:
        work.update(memory.steps[-1], reuse=rule)


def _nearest(low: str, names: list[str], phrase: str) -> str:
    at = low.find(phrase)
    return min(names, key=lambda n: abs(low.find(_spaced(n)) - at) if _spaced(n) in low else 999)


def _spaced(name: str) -> str:
    """A name as it stands in the sentence brought low, where hyphens are spaces."""
    return name.lower().replace("-", " ")


def _group_now(work: SentenceState) -> DraftStep | None:
    return next((s for s in reversed(work.made) if s.joint in ("screw", "clip")), None)


def _latest_group(work: SentenceState) -> DraftStep | None:
    return next((s for s in reversed(work.memory.steps[-3:]) if s.joint == "screw"), None)


def _before(work: SentenceState, at: int) -> DraftStep | None:
    best: DraftStep | None = None
    for step in work.made:
        verb = next((p for p in step.pieces if p.field == "action"), None)
        if verb is not None and verb.start <= at:
            best = step
    return best
