"""Counts that a stretch of text tells: beside the fasteners, of each of several, by a range, all but a few, aloud."""

from __future__ import annotations

import math
import re

from oddbolt.core.narration.assembly.by_length import without_pairs
from oddbolt.core.narration.assembly.figures import UNITS_OF_LENGTH, WORDS, number_of
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.vocabulary import Vocabulary

#: what stands before a number that is the whole: "together four", "that makes ten"
MAKES = lazy_pattern(
    r"\b(?:together|altogether|in all|in total|all told|total of|makes?|making|so that[’']?s|so that is|so it[’']?s"
    r"|(?:each|apiece)\W+so)\W+$"
    r"|(?:→|->|=)\s*$"
)

#: the largest count that comes of two
LARGEST = 100

#: counting aloud
COUNTING = lazy_pattern(
    r"\b(?:one|1)\W+(?:two|2|too)\W+(?:and )?(?:three|3|tree)"
    r"(?:\W+(?:and )?(?:four|4|for))?(?:\W+(?:and )?(?:five|5))?(?:\W+(?:and )?(?:six|6))?"
    r"(?:\W+(?:and )?(?:seven|7))?(?:\W+(?:and )?(?:eight|8|ate))?\b"
)

#: a count beside the fasteners in shorthand and in plain words
BESIDE = lazy_pattern(
    r"(?<![\w.,#/])(?<!\d-)(\d{1,2}(?![\d.,]\d|/\d)|(?:two|three|four|five|six|seven|eight|nine|ten|eleven|twelve|both)\b)"
    r"\s*(?:x|×|of|off|no\.?)?\s*(?:(?:\w+[ -]){0,3}?)"
    r"(?:(?:screws|bolts|nuts|scr|clips|catches|hooks|tabs|rivets|wires|joints)\b|(?:PH|PZ|IP|T|Y)\d)",
    re.IGNORECASE,
)

TIMES = lazy_pattern(
    r"(?<![\w.])(?:x|×)(\d{1,2})(?![\w.])|(?<![\w.])(?<!\d )(?:x|×)\s(\d{1,2})(?![\w.])"
    r"|(?<![\w.])(\d{1,2})\s?(?:x|×)(?=\s?[A-Za-z(])"
)

#: groups of one size in shorthand, that are counted together: "2 x T20 front, 2 x T20 rear"; not those with lengths
SHORT = lazy_pattern(
    r"(?<![\w.])(\d{1,2})\s?[x×]\s?((?:PH|PZ|IP|T|Y|P|R)\d+)\b(?!\s?[x×]\s?\d|\s\d+ ?mm)", re.IGNORECASE
)

#: a size code with a small number behind it, that is a count where there is no other: "T27x3"
CODE_TIMES = lazy_pattern(r"\b(?:PH|PZ|IP|T)\d{1,3}s?\s?[x×]\s?([1-6])\b(?![.,]\d|\s?[x×]| ?mm)")

#: counts of two places written as a sum: "2+2 clips"
SUM = lazy_pattern(r"(?<![\w.])\d{1,2}(?:\s?\+\s?\d{1,2})+(?=\s+[a-z]|\s*$)")
#: the same of the left and the right: "plugs 2L 3R"
LEFT_RIGHT = lazy_pattern(r"(?<![\w.])(\d{1,2}) ?L\b[\s,+/&]*(\d{1,2}) ?R\b")

#: places of which there are several, right behind what was counted: "two clips each side"
PER_SIDE = lazy_pattern(
    r"(?:(?:\s+[\w-]+){0,3}?\s+(?:on |at |down |along |to |in )?(?:each|either|every|per|ea\.?) (?:long |short )?"
    r"|\s?/\s?|(?:\s+[\w-]+s)?\s+(?:to )?a )(?P<at>side|end|corner|edge)\b"
    r"(?! (?:panel|cover|plate|wall|piece|cap|screw))"
)
#: as many again at another place: "six from the left and as many from the right"
AS_MANY = lazy_pattern(
    r"[^.;:]{0,50}\band (?:just )?(?:as many|the same (?:number|again))(?: again| more)? (?:on|from|at|in|of|behind)\b"
)

#: places of each of which a few were told after the whole was: "eight more screws, two in each corner"
SPREAD = lazy_pattern(
    rf"\b(?:\d{{1,2}}|{WORDS}) (?:more |other |further )?(?:[a-z-]+ ){{0,2}}?(?:screws|bolts|nuts|clips|catches|tabs)\b"
    rf"[^.;]{{0,40}}?\b(?:\d|{WORDS}) (?:in|on|at|to|for|along|down|per) (?:each|every|either)\b"
)

COUNTED = lazy_pattern(rf"\b(?:\d+|{WORDS})\b")

#: a number that a recogniser may have written otherwise: "for screws won in each corner"
HEARD_COUNTED = lazy_pattern(rf"\b(?:\d+|{WORDS}|won|too|tree|fore|ate)\b")

#: a number that is the whole of what was counted before it
IN_ALL_WORDS = r"(?:in all|in total|total|altogether|all told)"
IN_ALL = lazy_pattern(rf"\s*(?:\w+\s)?{IN_ALL_WORDS}\b")


#: so many things
THINGS = lazy_pattern(
    rf"\b(?P<n>{WORDS}|\d{{1,2}}) (?:[a-z-]+ )?(?!screws|bolts|nuts|mm|minutes|seconds)[a-z]{{3,}}s\b"
)


def counted_aloud(text: str, vocabulary: Vocabulary) -> int | None:
    """How far somebody counted aloud, "one, two, three": three; None if nobody did."""
    found = COUNTING.search(text.lower())
    if found is None:
        return None
    value = number_of(re.findall(r"\w+", found.group())[-1], vocabulary)
    return int(value) if value else None


#: the same as a recogniser writes it, where there are neither capitals nor stops
MISHEARD = lazy_pattern(
    r"\b(for|fore|to|too|won|ate|tree|sicks?|fife|tin)\s+(?:more |little |small |long |short |other ){0,2}"
    r"(?:screws|bolts|nuts|clips|rivets|wires|plugs)"
)


def left_and_right(text: str) -> int | None:
    """What is told of left and right in shorthand, "plugs 2L 3R" five; None if nothing is."""
    found = LEFT_RIGHT.search(text)
    return int(found[1]) + int(found[2]) if found is not None else None


def count_beside(text: str, vocabulary: Vocabulary) -> int | None:
    """A count that stands where counts of fasteners stand, found without the network."""
    groups = list(SHORT.finditer(text))
    if len(groups) > 1 and len({group[2].upper() for group in groups}) == 1:
        ends = [*(group.start() for group in groups[1:]), len(text)]
        return sum(int(g[1]) * times_over(g[1], text[g.end() : end]) for g, end in zip(groups, ends, strict=True))
    total = SUM.search(text)
    if total is not None:
        return sum(map(int, re.findall(r"\d+", total.group())))
    value, (start, end) = _beside(text, vocabulary)
    return value * times_over(text[start:end], text[end:]) if value else value


def _beside(text: str, vocabulary: Vocabulary) -> tuple[int | None, tuple[int, int]]:
    """A count beside fasteners and where it stands."""
    found = BESIDE.search(text)
    if found is None and text == text.lower() and not re.search(r"[.,;]", text):
        found = MISHEARD.search(text)
    if found is None:
        times = TIMES.search(text)
        return (int(times[1] or times[2] or times[3]), times.span()) if times else (None, (0, 0))
    value = number_of(found[1], vocabulary)
    return (int(value) if value is not None else None), found.span(1)


#: a few things with some fasteners each: "two drivers, each held by four screws", "two on each of the three arms"
_FEW = r"(\d{1,2}|two|three|four|five|six|seven|eight|both)"

_MANY = r"(\d{1,2}|one|a|two|three|four|five|six|seven|eight|nine|ten)"

EACH = (
    lazy_pattern(
        rf"\b{_FEW}\s+(?!turns?\b)(?:[\w-]+\s+){{0,3}}?[\w-]+s\b(?:[^.;]|;(?= each\b)){{0,60}}?\beach\b"
        rf"[^.;\d]{{0,30}}?\b{_MANY}\b(?! of\b| ?(?:{UNITS_OF_LENGTH}|newton|turns?|degrees?|grams?)\b)"
    ),
    lazy_pattern(
        rf"\b{_FEW}\s+(?:[\w-]+\s+){{0,3}}?[\w-]+s\b[^.;\d]{{0,30}}?[(,.;:]\s*{_MANY}\b"
        r"(?:[^.;,()\d]|\b(?:T|PH|PZ|IP|M|t|ph|pz|ip|m)\d+){0,30}?\beach\b(?! of\b)"
    ),
    lazy_pattern(rf"\b{_MANY}\b [^.;,\d]{{0,20}}?\bper [\w-]+, {_FEW} [\w-]+s\b"),
    lazy_pattern(rf"(?<![\w.]){_MANY}x? [^.;,]{{0,14}}?\b(?:each|ea\.?), {_FEW} [a-z]+s\b"),
    lazy_pattern(rf"\b[a-z-]+s {_FEW}, {_MANY}\b[^.;,]{{0,30}}?\b(?:each|ea)\b(?! of\b)"),
    lazy_pattern(rf"\b[a-z-]+s {_FEW}, (?:each|ea\.?) {_MANY}\b(?! ?(?:{UNITS_OF_LENGTH}|newton|turns?)\b)"),
    lazy_pattern(
        rf"\b{_MANY}\b(?! (?:full |half )?turns?\b)[^.;,]{{0,30}}?"
        rf"\b(?:in|on|at|to|from|for) each of (?:the|these|those|its) {_FEW}\b"
    ),
    lazy_pattern(
        rf"\beach of (?:the|these|those|its) {_FEW} [\w-]+[^.;\d]{{0,30}}?\b{_MANY}\b"
        rf"(?! of\b| ?(?:{UNITS_OF_LENGTH}|newton|turns?|degrees?|grams?)\b)"
    ),
)

#: so many groups of so many, "2x2 T8", if they are no diameter and length
SO_OFTEN = lazy_pattern(
    r"(?<![\w.,#/x×])([2-8]) ?[x×] ?([1-8]) (?=(?:ph|pz|ip|t)\d|(?:screws|bolts|nuts|clips|plugs)\b)"
)
#: some fasteners each of two sides: "two screws each from the left and the right bracket", "L/R 2x T30 ea"
EACH_OF_TWO = lazy_pattern(
    rf"\b{_MANY} (?:[a-z-]+ )?(?:[a-z]+s )?each (?:from|off|on|at|in|for|of) (?:the )?"
    r"(?:left and (?:the )?right|right and (?:the )?left|front and (?:the )?(?:rear|back)|upper and (?:the )?lower"
    r"|top and (?:the )?bottom)\b"
    r"|\bl ?[/+&] ?r\b[^.;]{0,20}?(?<![\w.])(?P<short>\d{1,2}) ?x?\b[^.;]{0,20}?\b(?:ea|each)\b"
)


def of_each(text: str, vocabulary: Vocabulary) -> int | None:
    """How many fasteners a few things have that have some each; None if nothing is told so."""
    often = SO_OFTEN.search(without_pairs(text.lower()))
    if often is not None:
        return int(often[1]) * int(often[2])
    two = EACH_OF_TWO.search(text.lower())
    some = number_of(two[1] or two["short"], vocabulary) if two is not None else None
    if some and TOGETHER.search(text.lower()) is None:
        return 2 * int(some)
    for pattern in EACH:
        found = pattern.search(text.lower())
        if found is not None and not any(p.search(text.lower()) for p in (IN_ALL, SPREAD, TOGETHER)):
            one, other = (number_of(found[n], vocabulary) for n in (1, 2))
            if one and other and 1 < one * other < LARGEST:
                return int(one * other)
    return None


#: the whole told beside what each has: "two each, together four"
TOGETHER = lazy_pattern(
    r"\b(?:together|altogether|in all|in total|all told|total of|makes|(?:each|apiece)(?: \w+)?\W+so(?: that[’']?s)?)"
    rf"\W+(?:\d|{WORDS})"
)
#: the same with the number before: "three rows of M3 screws, twelve in all"
ALL_BEHIND = lazy_pattern(rf"[,;(-] *(\d{{1,2}}|{WORDS})\b {IN_ALL_WORDS}\b")


def together(text: str, vocabulary: Vocabulary) -> int | None:
    """The whole that is told beside what each has, "two each, together four"; None if none is."""
    before = ALL_BEHIND.search(text.lower())
    if before is not None:
        return int(number_of(before[1], vocabulary) or 0) or None
    found = TOGETHER.search(text.lower())
    value = number_of(re.findall(r"\w+", found.group())[-1], vocabulary) if found is not None else None
    behind = text[found.end() :] if found is not None else ""
    return int(value) if value and not re.match(r"\w|[.,/]\d| ?(?:mm|turns?|newton|grams?)\b", behind) else None


#: a number of fasteners and the place where they are: "two on the left", "one in the centre"
PLACED = lazy_pattern(
    rf"\b(\d{{1,2}}|{WORDS})\b(?:(?: more| other| long| short| of them| \w*screws?| bolts?| nuts?| clips?| plugs?"
    r"| (?:ph|pz|ip|t)\d+s?)){0,3} (?:on|at|in|along|near|down|from|to) (?:the |its |this |that |one )?"
    r"(?P<at>(?:(?!each\b|every\b|either\b)\w+ )?"
    r"(?:left|right|front|back|rear|top|bottom|middle|centre|center|side|edge|end|corner|hinge|handle"
    r"|upper|lower|inside|outside))\b"
)


def spread_out(text: str, vocabulary: Vocabulary) -> tuple[int, ...]:
    """The numbers told of several places, "two on the left, two on the right and one in the centre"; () where fewer
    than two places are told, or one of them twice."""
    found = list(PLACED.finditer(text.lower()))
    places = [f["at"] for f in found]
    numbers = [int(number_of(f[1], vocabulary) or 0) for f in found]
    return tuple(numbers) if len(found) > 1 and len(set(places)) == len(places) and all(numbers) else ()


def numbers_in(text: str, vocabulary: Vocabulary) -> set[int]:
    """All counts that a text tells in figures or words."""
    found = (number_of(m.group(), vocabulary) for m in COUNTED.finditer(text.lower()))
    return {int(n) for n in found if n is not None}


#: things told by their numbers: "terminals 7 to 10", "J1 to J4", "leads 1, 2 and 5"
_NUMBERED = r"(?:screws|bolts|nuts|terminals|leads|wires|plugs|connectors|contacts|pins|clamps|cables) "

#: what follows a number that is a length, a torque or a turn, and no name of a thing
_NO_UNIT = r"(?![.,]?\d| ?(?:mm|mil\w*\b|in\b|inch|long|lg|n[·. ]?c?m\b|newton|turns?|degrees?|°|\"|/))"

FROM_TO = lazy_pattern(
    rf"\b(?:{_NUMBERED}|(?!(?:T|PH|PZ|IP|Y|M)\d)(?P<mark>[A-Z]{{1,3}}))"
    rf"(?P<first>\d{{1,2}})(?: ?[-–] ?| to | through | till )(?(mark)(?P=mark))(?P<last>\d{{1,2}})\b{_NO_UNIT}"
    rf"|\b{_NUMBERED}(?P<list>\d{{1,2}}(?:, ?\d{{1,2}})*,? (?:and|&) \d{{1,2}})\b{_NO_UNIT}"
    rf"|\b(?:coax|flex|fpc)s? (?P<short>\d{{1,2}}(?:, ?\d{{1,2}})+)\b{_NO_UNIT}"
)

#: things told by a range of their numbers: "trays 1 to 4"
RANGE_BEHIND = lazy_pattern(
    rf"\s(\d{{1,2}})(?: to | through | till | ?[-–] ?)(\d{{1,2}})\b{_NO_UNIT}"
    r"(?! ?(?:min|sec|hour|times|volt|ohm|amp|gram|kg|[gVAW]\b))"
)


def in_range(behind: str) -> int | None:
    """How many things the range of numbers tells that stands right behind their name; None if there is none."""
    found = RANGE_BEHIND.match(behind)
    many = int(found[2]) - int(found[1]) + 1 if found is not None else 0
    return many if 1 < many < LARGEST else None


def by_numbers(text: str) -> int | None:
    """How many things a text tells by their numbers; None if it tells none so."""
    found = FROM_TO.search(text)
    if found is None:
        return None
    if found["list"] or found["short"]:
        return len(set(re.findall(r"\d+", found["list"] or found["short"])))
    many = int(found["last"]) - int(found["first"]) + 1
    return many if 1 < many < LARGEST else None


#: so many of so many, in notes: "2/4 screws out", "3/3 clips"
SO_MANY_OF = lazy_pattern(
    r"(?<![\d/.])(?P<done>\d{1,2})/(?P<all>\d{1,2})(?![\d/])\s*(?P<what>(?:\w+ )?(?:screws?|scr|bolts?|nuts?)\b"
    r"|(?:clips?|tabs?|hooks?|catch(?:es)?|plugs?|wires?|rivets?|out|off|done|undone|drilled|pulled)\b)?",
    re.IGNORECASE,
)


def so_many_of(text: str, action: str = "") -> int | None:
    """How many are done of how many, "2/4 out" two; None where nothing is told so of such things as the ``action``
    counts, or where it may be a width in parts of an inch: "3/8 bolts"."""
    found = SO_MANY_OF.search(text)
    if found is None or not found["what"]:
        return None
    if action and action != "unclip" and re.match(r"clip|tab|hook|catch", found["what"].lower()):
        return None
    done, whole = int(found["done"]), int(found["all"])
    inches = whole in (2, 4, 8, 16, 32) and math.gcd(done, whole) == 1
    bolts = re.search(r"screw|scr|bolt|nut", found["what"].lower()) is not None
    return done if 0 < done <= whole and not (inches and bolts) else None


def times_over(words: str, after: str) -> int:
    """How often the count told by ``words`` is to be taken, by what follows: two clips "each side" are four, four
    "pairs" eight; 1 if it stands for itself."""
    low = after.lower()
    if IN_ALL.search(low) or words.lower() in ("both", "pair", "couple"):
        return 1
    if AS_MANY.match(low):
        return 2
    if low.startswith(" pairs"):
        return 2
    found = PER_SIDE.match(low)
    if found is None or HEARD_COUNTED.search(found.group()):
        return 1
    return 4 if found["at"] == "corner" else 2


#: what makes those that a number counts not there: "two of these were found to be missing"
NOT_THERE = lazy_pattern(
    rf"\b(\d{{1,2}}|{WORDS})(?: screws?| bolts?| nuts?| of (?:them|those|these|which))?"
    r"(?:[’']s| is| are| was| were)?(?: found)?(?: to be)?(?: already| just)? (?:missing|absent|lacking|not there)\b"
)


def not_there(text: str, vocabulary: Vocabulary) -> int:
    """How many of the counted are told to be missing: "two of these were missing"; 0 if none are."""
    found = NOT_THERE.search(text.lower())
    return int(number_of(found[1], vocabulary) or 0) if found is not None else 0


#: a screw pointed at: "a screw there", "one here"
POINTED = lazy_pattern(
    r"\b(?:a|one|another|won)(?: (?:more|little|small|other|long|short))?(?: (?:screw|bolt|nut|clip|tab|plug))?"
    r"(?: (?:right|just|down|up|over|in|back|out|under|on))* (?:here|there)\b(?!['’])"
)


def so_many_before(text: str, vocabulary: Vocabulary) -> int:
    """How many things a sentence tells of, "it sits on two brackets"; 1 if it tells of none, or of several numbers."""
    found = [number_of(f["n"], vocabulary) for f in THINGS.finditer(text.lower())]
    return int(found[0]) if len(found) == 1 and found[0] else 1


def pointed_at(text: str) -> int | None:
    """How many are pointed at one after the other, "a screw there, a screw there, and one there" three; None if fewer
    than two are, or one without such a thing named."""
    found = [m.group() for m in POINTED.finditer(text.lower())]
    return len(found) if len(found) > 1 else None


#: all without a few
ALL_BUT = lazy_pattern(
    rf"\ball (?:but|except|save)(?: for)? (?:the )?(?P<few>last|first|\d+|{WORDS}) (?:of )?(?:the |these |those )?"
    rf"(?:(?P<all>\d+|{WORDS})\b)"
)


def all_but(text: str, vocabulary: Vocabulary) -> int | None:
    """How many "all but one of the six" are; None if nothing is told so."""
    found = ALL_BUT.search(text.lower())
    if found is None:
        return None
    whole = number_of(found["all"], vocabulary)
    few = 1 if found["few"] in ("last", "first") else number_of(found["few"], vocabulary)
    return int(whole - few) if whole and few and whole > few else None
