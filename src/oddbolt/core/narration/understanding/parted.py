"""Whether two spans for one act stand on two things, or on one that is told in several words."""

from __future__ import annotations

import re

from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.understanding.labels import FASTENING

#: words that may stand between the words for one thing
JOINING = frozenset(
    "of the a an its his this that to for in on off out into onto under behind over through from at by back up "
    "down".split()
)
#: what follows the words for a thing in talk where "off" is heard as "of"
AWAY = lazy_pattern(r"\s+(?:of|off|out|in|inn|on|away|a weigh|back)\b", re.IGNORECASE)
DESIGNATOR = lazy_pattern(r"[A-Z]{1,3}\d{1,3}[A-Z]?")
#: what parts two things of one sort from each other
PARTED = lazy_pattern(r"[,;+&/:…]|\b(?:and|n|then|plus|with|from|also|or)\b|[.!?](?:\s|$)|\d")


def parted(text: str, action: str, first: tuple[int, int], second: tuple[int, int]) -> bool:
    """Whether an act stands on two things at these places of a text: a stop or a link is between them, or in talk
    without stops a word of the first clause ("lens off shade off"); and two designators are two plugs."""
    gap = text[first[1] : second[0]]
    if PARTED.search(gap):
        return True
    words = gap.lower().split()
    if action in FASTENING - {"disconnect"}:
        return False
    if not words:
        return all(DESIGNATOR.fullmatch(text[start:end]) for start, end in (first, second))
    if AWAY.match(text[second[1] :]):
        return True
    return words[0] != "of" and any(w not in JOINING for w in words)
