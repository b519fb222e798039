"""Screws told by diameter and length, "four 3 x 8 screws", apart from so many of a length: "3x 8 mm"."""

from __future__ import annotations

import re

from attrs import frozen

from oddbolt.core.narration.assembly.figures import WORDS
from oddbolt.core.narration.assembly.patterns import SCREWS
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.reference.tables import thread_of

_COUNT = rf"(?:\d{{1,2}}|{WORDS})"
_SPOKEN = (
    rf"(?:\d{{1,2}}[.,]\d|{_COUNT}|(?:thir|four|fif|six|seven|eigh|nine)teen"
    rf"|(?:twen|thir|for|fif)ty(?:[ -](?:{WORDS}))?)"
)
#: two numbers with an x between them, and as they are spoken; not "4x 13", which is four
WRITTEN = lazy_pattern(
    r"(?<![\w.,#/×])(?P<across>\d{1,2}(?:[.,]\d)?)(?P<gap>\s?)[x×](?P=gap)(?P<along>\d{1,3}(?:[.,]\d)?)"
    r"(?=\s?mm\b|(?!\w))(?![.,/]\d|\s?[x×])",
    re.IGNORECASE,
)
SPOKEN = lazy_pattern(
    rf"(?<![\w.,#/×-])(?P<across>{_SPOKEN}) by (?P<along>{_SPOKEN})(?![\w/-]|[.,]\d| by\b| ?o['’]clock)", re.IGNORECASE
)
#: what stands between the two
LINK = lazy_pattern(r" by |\s?[x×]\s?", re.IGNORECASE)
#: what makes the first number the width of a tool, or the second a count: "hex 1.5 x 8"
OF_A_TOOL = lazy_pattern(r"\b(?:hex\w*|key|socket|spanner|wrench|af|slot\w*|blade|stand-?offs?|grub)\s$", re.IGNORECASE)
#: how many there are, right before the pair or behind it: "3x8 screws, six of them"
COUNT_BEFORE = lazy_pattern(rf"(?<![\w.,/#])(?P<n>{_COUNT}|an?)x?(?: of)?(?: the| these| those)? $", re.IGNORECASE)
COUNT_BEHIND = lazy_pattern(
    rf"[^.;\d]{{0,30}}?[,(:]\s*(?P<n>{_COUNT})(?: of (?:them|those|these))?(?=\s*(?:[.,;)]|$|out\b|off\b|from\b))",
    re.IGNORECASE,
)
#: how large a thing is that is no fastener: "the 60 x 60 fan", "a 12 by 3 mm O-ring"
OF_A_THING = lazy_pattern(
    r"\b(?:the|an?|this|that|its|new|old) (?P<size>\d{1,3}(?:[.,]\d)?(?:(?: ?[x×] ?| by )\d{1,3}(?:[.,]\d)?){1,2}"
    r"(?: ?mm)?) (?!(?:and|or|with|of|off|out|in|on|at|from|by|under|to|then|now|is|are|was|were|ones?|all|both|here"
    r"|there)\b)(?P<thing>[a-z][\w-]*(?: [a-z][\w-]*)?)",
    re.IGNORECASE,
)
#: things that are counted in rows, "the 2 x 4 clips", or are screws by another word
IN_ROWS = lazy_pattern(
    r"\b(?:clips|tabs|hooks|catches|plugs|wires|leads|rivets|joints|pins|studs|tappers|pieces|pcs|countersunk|heads?)\b"
)


@frozen
class Pair:
    """Two numbers with an x or "by" between them and where they stand. ``known`` if they are a diameter and a length;
    ``count`` is where the number of such screws stands."""

    start: int
    end: int
    along: tuple[int, int]
    count: tuple[int, int] | None
    known: bool


def _value(words: str) -> float | None:
    return float(words.replace(",", ".")) if words[0].isdigit() else None


def pairs_in(text: str) -> list[Pair]:
    """All pairs of numbers of a text that may be a diameter and a length, in the order of the words. A pair with a
    count of its own is one, and a spoken one: nobody says "three by eight" of three screws."""
    out = []
    text = without_sizes_of_things(text)
    for found in (*WRITTEN.finditer(text), *SPOKEN.finditer(text)):
        if OF_A_TOOL.search(text[: found.start()]):
            continue
        across, along = _value(found["across"]), _value(found["along"])
        if across is not None and along is not None and not across <= along:
            continue  # a screw is longer than it is thick
        before, behind = COUNT_BEFORE.search(text[: found.start()]), COUNT_BEHIND.match(text, found.end())
        product = across * along if across is not None and along is not None else None
        if before is None and behind is not None and _value(behind["n"]) == product is not None:
            behind = None  # "2 x 5 screws, 10": twice five
        told = before or behind
        known = told is not None or found.re.pattern == SPOKEN.pattern
        out.append(Pair(*found.span(), found.span("along"), told.span("n") if told else None, known))
    return sorted(out, key=lambda p: p.start)


def without_sizes_of_things(text: str) -> str:
    """The text with the sizes of things blanked that are no fasteners, "the 60 x 60 fan"; every place stays its own."""

    def blanked(found: re.Match[str]) -> str:
        thing = found["thing"].lower()
        if SCREWS.search(thing) or IN_ROWS.search(thing):
            return found.group()
        at, end = (place - found.start() for place in found.span("size"))
        return found.group()[:at] + " " * (end - at) + found.group()[end:]

    return OF_A_THING.sub(blanked, text)


def without_pairs(text: str) -> str:
    """The text with its diameters and lengths blanked, so that they are taken for nothing else."""
    for pair in pairs_in(text):
        if pair.known:
            text = text[: pair.start] + " " * (pair.end - pair.start) + text[pair.end :]
    return text


def count_or_diameter(text: str, count: int) -> bool:
    """Whether a count was taken from the one pair of a text, though its first number may be a diameter: "the 3 x 12
    screws". Several pairs are a list: "7x10, 2x16"; and there is no screw of 9 mm."""
    found = pairs_in(text)
    if len(found) != 1 or found[0].known:
        return False
    numbers = [int(n) for n in re.findall(r"\d+", text[found[0].start : found[0].end])]
    return count in (numbers[0], numbers[0] * numbers[-1]) and thread_of(f"M{numbers[0]}") is not None
