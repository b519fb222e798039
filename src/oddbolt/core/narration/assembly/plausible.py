"""Figures that cannot be what they were read as, whoever read them: of a fraction, a screw's number, an inch thread."""

from __future__ import annotations

from attrs import evolve

from oddbolt.core.narration.assembly.figures import SO_MANY_OF, numbers_in, so_many_of
from oddbolt.core.narration.draft import DraftStep
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.tokens import items
from oddbolt.core.narration.language.vocabulary import Vocabulary

#: acts on screws, bolts and nuts
OF_SCREWS = frozenset({"unscrew", "loosen", "fasten"})
#: a width in parts of an inch, or some of so many
FRACTION = lazy_pattern(r"(?<![\d/.])(\d{1,2})/(\d{1,2})(?![\d/])")
#: one screw by its number: "remove screw 3"
ONE_BY_NUMBER = lazy_pattern(
    r"(?:^|[,.;:]|\b(?:remove|undo|unscrew|loosen|tighten|fit|then|and|the|out))\s*(?:screw|bolt|nut)"
    r"(?: no\.?| number)? (\d{1,2})(?=[.,;]?\s*$|[.;,] |\s(?:first|and\s\D|then|from|of the))"
)
#: threads of the inch series: a number or a width with the threads per inch (ASME B1.1, from memory, unverified)
UNIFIED = lazy_pattern(
    r"(?<![\d/.-])(?:0-80|1-64|2-56|3-48|4-40|5-40|6-32|8-32|10-24|10-32|12-24|1/4-20|5/16-18|3/8-16)(?![\d-])"
)
DIGITS = lazy_pattern(r"\d+")


def checked(step: DraftStep, text: str, vocabulary: Vocabulary) -> DraftStep:
    """The step without a length that is but the width of its tool, "one bolt, ten mil", its count, "bolts 3x", or part
    of a fraction or of an inch thread; without a count that is the second figure of a fraction: of "2/4 screws" two are
    done, of "3/8 bolts" none was told; and one for a screw told by its number."""
    step = _counted(step, text, vocabulary)
    inch = UNIFIED.search(text)
    if inch is not None and step.action in OF_SCREWS:
        of_thread = {float(n) for n in DIGITS.findall(inch.group())}
        step = evolve(step, thread=inch.group(), length_mm=None if step.length_mm in of_thread else step.length_mm)
    if step.length_mm is None:
        return step
    if f"{step.length_mm:g}" in {step.size, f"{step.count}"}:
        told = [i.number for i in items(text, vocabulary) if i.number is not None]
        return step if told.count(step.length_mm) > 1 else evolve(step, length_mm=None)
    parts = {float(n) for found in FRACTION.finditer(text) for n in found.groups()}
    alone = step.length_mm not in numbers_in(FRACTION.sub(" ", text), vocabulary)
    return evolve(step, length_mm=None) if step.length_mm in parts and alone else step


def _counted(step: DraftStep, text: str, vocabulary: Vocabulary) -> DraftStep:
    named = ONE_BY_NUMBER.search(text.lower()) if step.action in OF_SCREWS else None
    if named is not None and step.count == int(named[1]):
        return evolve(step, count=1)
    fraction = SO_MANY_OF.search(text)
    if fraction is None or step.count != int(fraction["all"]) or fraction["all"] == fraction["done"]:
        return step
    others = numbers_in(SO_MANY_OF.sub(" ", text), vocabulary)
    return step if step.count in others else evolve(step, count=so_many_of(text))
