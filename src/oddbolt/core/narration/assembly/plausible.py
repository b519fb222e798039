"""Figures that cannot be what they were read as, whoever read them: of a fraction, a screw's number, an inch thread."""

from __future__ import annotations

import re

from attrs import evolve

from oddbolt.core.narration.assembly.by_length import LINK, pairs_in, without_pairs
from oddbolt.core.narration.assembly.figures import WORDS, number_of
from oddbolt.core.narration.assembly.tallies import SO_MANY_OF, SO_OFTEN, numbers_in, so_many_of
from oddbolt.core.narration.draft import DraftStep, Piece
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.tokens import items
from oddbolt.core.narration.language.vocabulary import Vocabulary
from oddbolt.core.narration.understanding import OF_SCREWS
from oddbolt.core.reference.tables import thread_of

#: a width in parts of an inch, or some of so many
FRACTION = lazy_pattern(r"(?<![\d/.])(\d{1,2})/(\d{1,2})(?![\d/])")
#: one screw by its number: "remove screw 3"
ONE_BY_NUMBER = lazy_pattern(
    r"(?:^|[,.;:]|\b(?:remove|undo|unscrew|loosen|tighten|fit|then|and|the|out))\s*(?:screw|bolt|nut)"
    r"(?: no\.?| number)? (\d{1,2})(?=[.,;]?\s*$|[.;,] |\s(?:first|and\s\D|then|from|of the))"
)
#: what may be a thread of the inch series, a number or a width with the threads per inch: "2-56", "1/4-20"
UNIFIED = lazy_pattern(r"(?<![\d/.-])#?\d{1,2}(?:/\d{1,2})?-\d{2}(?![\d-])")
#: a count told as a range, and how sure either end is
RANGE = lazy_pattern(
    rf"(?<![\d/.-])\b(\d{{1,2}}|{WORDS}) ?(?:-|–|to|or) ?(\d{{1,2}}|{WORDS})\b(?![\d/-])"
    r"(?= (?:\w+ )?(?:screws|bolts|nuts|clips|tabs|hooks|catches|rivets|wires|plugs|feet)\b)"
)
UNSURE = 0.45
#: what tells of one on each of several things
OF_EACH = lazy_pattern(
    r"\b(?:of|on|in|under|behind|from|at) (?:each|every)\b|^(?:each|every)\b|\b(?:each|every) (?:\w+ )?has\b"
)
#: how far something is turned, and what tells of two
TURNS = lazy_pattern(rf"\b(\d{{1,2}}|{WORDS}) (?:full |whole |complete )?turns?\b")
PAIR, A_PAIR = 2, lazy_pattern(r"\b(?:both|pair|couple)\b")
ONE_FASTENER = lazy_pattern(r"\b(?:screw|bolt|nut|grub|stud)\b")
FASTENERS = lazy_pattern(r"\b(?:screws|bolts|nuts|grubs|studs)\b")
DIGITS = lazy_pattern(r"\d+")


def inch_thread(text: str) -> re.Match[str] | None:
    """Where a text tells a thread of the inch series that the table of threads knows; None if it tells none."""
    return next((found for found in UNIFIED.finditer(text) if thread_of(found.group()) is not None), None)


def checked(step: DraftStep, text: str, vocabulary: Vocabulary) -> DraftStep:
    """The step without a length that is but the width of its tool, "one bolt, ten mil", its count, "bolts 3x", or part
    of a fraction or of an inch thread; without a count that is the second figure of a fraction: of "2/4 screws" two are
    done, of "3/8 bolts" none was told; and one for a screw told by its number."""
    step = _turned(_counted(step, text, vocabulary), text, vocabulary)
    if step.count == 1 and step.action in OF_SCREWS and OF_EACH.search(text.lower()):
        step = evolve(step, count=None)  # of several things one each: nobody said how many there are
    step = _of_a_range(_of_a_pair(step, text, vocabulary), text, vocabulary)
    step = _of_inch_thread(step, text, vocabulary) if step.action in OF_SCREWS else step
    if step.length_mm is None:
        return step
    if f"{step.length_mm:g}" in {step.size, f"{step.count}"}:
        told = [i.number for i in items(text, vocabulary) if i.number is not None]
        return step if told.count(step.length_mm) > 1 else evolve(step, length_mm=None)
    low = without_pairs(text.lower())
    parts = {float(n) for sort in (FRACTION, SO_OFTEN) for found in sort.finditer(low) for n in found.groups()}
    alone = step.length_mm not in numbers_in(SO_OFTEN.sub(" ", FRACTION.sub(" ", text.lower())), vocabulary)
    return evolve(step, length_mm=None) if step.length_mm in parts and alone else step


def _of_a_pair(step: DraftStep, text: str, vocabulary: Vocabulary) -> DraftStep:
    """The step with the length of screws told by diameter and length, and without a count that is but one of the two:
    "the four by twenty screws"."""
    pairs = [p for p in pairs_in(text) if p.known] if step.action in (*OF_SCREWS, "drill") else []
    if not pairs:
        return step
    across, along = (
        [number_of(LINK.split(text[p.start : p.end])[n], vocabulary) for p in pairs] for n in (0, 1)
    )  # of each pair
    others = {i.number for i in items(without_pairs(text), vocabulary)}
    if step.count in {*across, *along} - others:
        step = evolve(step, count=None)
    if step.length_mm in {*across} - {*along} - others:
        step = evolve(step, length_mm=along[0] if len(pairs) == 1 else None)
    return step


def _of_inch_thread(step: DraftStep, text: str, vocabulary: Vocabulary) -> DraftStep:
    """Screws with the inch thread that was told, whose figures are neither count nor length."""
    inch = inch_thread(text)
    if inch is None:
        return step
    figures = {float(n) for n in DIGITS.findall(inch.group())}
    others = numbers_in(text[: inch.start()] + text[inch.end() :], vocabulary)
    return evolve(
        step,
        thread=step.thread or inch.group(),
        length_mm=None if step.length_mm in figures else step.length_mm,
        count=step.count if step.count not in figures else others.pop() if len(others) == 1 else None,
    )


def _of_a_range(step: DraftStep, text: str, vocabulary: Vocabulary) -> DraftStep:
    """The step with its count in doubt where a range was told, "ten to twelve screws", whose ends are no lengths."""
    for found in RANGE.finditer(text.lower()):
        ends = {number_of(found[1], vocabulary), number_of(found[2], vocabulary)}
        if thread_of(found.group()) is not None or not {step.count, step.length_mm} & ends:
            continue
        length = None if step.length_mm in ends else step.length_mm
        unsure = (Piece("count", step.count, 0, 0, UNSURE),) if step.count in ends else ()
        return evolve(step, length_mm=length, pieces=(*step.pieces, *unsure))
    return step


def _turned(step: DraftStep, text: str, vocabulary: Vocabulary) -> DraftStep:
    """The step without a count that tells turns: of "the grub screw two turns" there is one."""
    low = text.lower()
    turns = TURNS.search(low) if step.action in OF_SCREWS else None
    if turns is None or step.count != number_of(turns[1], vocabulary):
        return step
    rest = TURNS.sub(" ", low)
    if step.count in numbers_in(rest, vocabulary) or (step.count == PAIR and A_PAIR.search(rest)):
        return step
    return evolve(step, count=1 if ONE_FASTENER.search(rest) and not FASTENERS.search(rest) else None)


def _counted(step: DraftStep, text: str, vocabulary: Vocabulary) -> DraftStep:
    named = ONE_BY_NUMBER.search(text.lower()) if step.action in OF_SCREWS else None
    if named is not None and step.count == int(named[1]):
        return evolve(step, count=1)
    fraction = SO_MANY_OF.search(text)
    if fraction is None or step.count != int(fraction["all"]) or fraction["all"] == fraction["done"]:
        return step
    others = numbers_in(SO_MANY_OF.sub(" ", text), vocabulary)
    return step if step.count in others else evolve(step, count=so_many_of(text))
