"""What the several numbers of one act come to: parts of a whole, some of all, one more, counted aloud, put right."""

from __future__ import annotations

import re
from collections.abc import Sequence
from itertools import pairwise

from oddbolt.core.narration.assembly.figures import TAKEN_BACK, number_of
from oddbolt.core.narration.assembly.tallies import IN_ALL, MAKES, NOT_THERE, PER_SIDE, times_over
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.vocabulary import Vocabulary

#: a number and where it stands: (start, end, value)
Told = tuple[int, int, int]
#: so many and more are no count
NO_COUNT = 1000

#: what stands before a number that comes on top of the one before: "two above and two below"
ON_TOP = lazy_pattern(r"(?:\+|\bplus|\band)\s*(?:another\s*|(?:the |a )?(?:\w*er|long|short|odd|last|other) )?$")

#: the same before one more: "and the one beneath the lug"
ONE_MORE = lazy_pattern(r"\band (?:the|a)\s*$")

#: what makes it one of them all the same
ONE_OF_THEM = lazy_pattern(r"[^.;,]{0,40}\b(?:is|are|was|were|being|longer|shorter)\b")

#: a place right behind a number: "two screws left", "four from this side"
AT_PLACE = lazy_pattern(
    r"\s*(?:\w+ ){0,4}?(?P<at>left|right|top|bottom|front|rear|back|above|below|up|down|this side|that side|other side"
    r"|inside|outside|upper|lower|l|r)\b"
)

#: one more told by its number: "and a sneaky fifth", "and then I spotted a fifth", "where's the sixth"
ORDINALS = "first second third fourth fifth sixth seventh eighth ninth tenth eleventh twelfth".split()

ORDINAL = lazy_pattern(
    r"\b(?:(?:and|plus)(?: then)?(?: (?:i|we) (?:\w+ )?(?:found|find|spotted|see|saw|missed))?|(?:where|there)[’']?s)"
    rf" (?:a|an|the) (?:[\w-]+ )?({'|'.join(ORDINALS[2:])})\b"
    r"(?! (?:(?:one|screw|bolt|nut) )?"
    r"(?:turn|time|hole|of|was|had|is|has|sheared|broke|spun|rounded|stays|stayed|remains|won)\b)"
)

#: what makes a number that of those that were done: "4 came", "so five", "these two"
CAME = lazy_pattern(
    r"\s+(?:came(?! with| from| in)|turned|moved|budged|yielded|(?:i|we) (?:have|had|got|took|take|could|did|undid))\b"
)

#: what stands between two numbers that are counted aloud
ALOUD = lazy_pattern(r"[\s.…,]*(?:and )?")

SO = lazy_pattern(
    r"\bso(?: that[’']?s| it[’']?s| (?:i|we|they) (?:\w+ ){1,2}?)?(?:\W*|\W+(?:the|these|those|only|just)\W+)$"
)

STOP = lazy_pattern(r"\s*(?:screws|bolts|nuts|clips|of them)?\s*(?:[.,;!]|$)")

THESE = lazy_pattern(r"\b(?:these|those) $")

#: a number of some of the group: "two are longer", "one hidden under the label"
OF_THEM = lazy_pattern(
    r"\s*(?:of (?:them|those|these|which|'em|em)\b|,?\s*"
    r"(?:are|is|were|was|have|has|had|being|with|longer|shorter|long|short|black|dif|differ|hid|hidden|under|beneath"
    r"|w(?=/)|below|behind|carr|slightly|a bit|rather|countersunk|ones?))\b"
)

#: a number of one kind of two: "seven short, two long"
KIND_OF = lazy_pattern(r"\s*(?:of the )?(?:long|short|longer|shorter|black|silver|zinc)\b(?! of\b)")
#: a place or a thing right behind a number, with which others may be told at another: "two for the live"
AT_THING = lazy_pattern(
    r"\s*(?!of )(?:[\w-]+ ){0,2}?(?P<at>(?:for|on|at|in|from|by|under|behind|off|near|inside) (?:the|this|that|its)"
    r" [\w-]+|(?:(?:over|up|down|in|back|under|on) )?(?:here|there))\b"
)
#: whose a number of fasteners is that stands behind it: "the left bracket's two"
OF_OWNER = lazy_pattern(r"\b(?P<at>[\w-]+ [\w-]+)['’]s $")
#: some of those that are told of
OF_SUCH = lazy_pattern(r"\s*of (?:them|those|these|which|em)\b")
#: what stands before the number of all, of which fewer are done: "of the six", "from six screws"
OF_ALL = lazy_pattern(r"(?:^|[.;,:]\s*|\b(?:and|so|but)\s+)(?:out )?(?:of|from) (?:the |these |those |its |all )?$")
#: what stands between all and those that are done: "nine, of which I have undone four"
OF_WHICH = lazy_pattern(r"(?: [\w-]+)?,? of (?:which|these|those) (?:i|we|they) [^.;:]*")
#: what stands before the number of those that are there or done: "but only four of them have screws"
ONLY = lazy_pattern(r"\bonly (?:the )?$")
#: what those "only so many" are that are a kind of all, and not fewer
BUT_A_KIND = lazy_pattern(
    r"(?:\s+of (?:them|those|these|which))?\s+(?:is|are|was|were|being) (?!left|there|in\b|present|fitted|out)"
)
#: what stands between some and all of them: "two of the four", "three of five"
SOME_OF = lazy_pattern(r"\s*of (?:the |these |those |its |his )?")
#: a "one" that stands for a thing told of, and adds nothing: "all seven, the long one last", "Left one, one screw here"
PRONOUN = lazy_pattern(
    r"(?:^|[,;:.] )(?:long|short|odd|big|small) $"
    r"|(?<!and )(?<!plus )\b(?:the|this|that|which|every|each|last|first|second|third|fourth|other|next|left|right|top"
    r"|bottom|upper|lower|front|rear|middle)(?: (?:last|first|other|next|left|right|top|bottom|upper|lower|front|rear"
    r"|middle|long|short|odd|big|small|\w+er))? $"
)
#: fasteners right behind a number, of which it is the count if nothing tells how it goes with others
COUNTS_THESE = lazy_pattern(
    r"\s*(?:[\w-]+ ){0,2}?"
    r"(?:screws?|scr|bolts?|nuts?|clips?|tabs?|hooks?|studs?|rivets?|plugs?|wires?|leads?|joints?)\b"
)
#: fasteners that such a "one" counts all the same
FASTENER_BEHIND = lazy_pattern(r"\s*(?:[\w-]+ )?(?:screws?|bolts?|nuts?|clips?|tabs?|plugs?|more)\b")
#: one that failed or was lost, and is no further one: "dropped 1 in the chassis", "1 stripped"
LOST = lazy_pattern(r"\b(?:dropped|lost|snapped|sheared|stripped|broke|chewed)\s*$")
FAILED = lazy_pattern(
    r"\s*(?:is |was |are |were )?(?:stripped|sheared|seized|snapped|spins|spinning|rounded|stuck|stays?)\b"
)
#: so many of all at each of several places: "four screws on the back, one in each corner"
AT_EACH = lazy_pattern(r"\s*(?:[\w-]+ ){0,2}?(?:in|on|at|under|behind|for|per|along|to|down|near|by) (?:each|every)\b")
#: what makes a number that of others beside the first
FURTHER = lazy_pattern(r"\s*(?:more|others?|further|extra|additional)\b(?! (?:to go|turns?))")
#: what stands before the number of all: "each foot hides one screw, … all four"
ALL_OF = lazy_pattern(r"\ball (?:of the |the )?$")
#: what stands between numbers of two sentences or clauses, and before one that is the whole of what the first tells of
#: each: "two nuts each. Remove the eight nuts"
CLAUSE_END = lazy_pattern(r"[.;:!?]\s")
THE_WHOLE = lazy_pattern(r"\b(?:the|all|these|those) $")


def count_of(spans: Sequence[tuple[int, int]], text: str, vocabulary: Vocabulary) -> int | None:
    """What the count words of one act come to: "nine: seven short, two long" is nine, "two above and two below" four,
    "one, two, three" three, "four, no, five" five. Where nothing tells how they go together, the one before the
    fasteners, else the first: of such sums one in ten was right."""
    values = _values(spans, text, vocabulary)
    if not values:
        return None
    if len(values) == 1:
        return _by_its_number(values, text) or _the_whole(values, text) or values[0][2]
    told = next((n for relation in RELATIONS if (n := relation(values, text)) is not None), None)
    if told is None:
        told = next((v for _, end, v in values if COUNTS_THESE.match(text[end:].lower())), values[0][2])
    return told


def unexplained(spans: Sequence[tuple[int, int]], text: str, vocabulary: Vocabulary) -> bool:
    """Whether no words tell how several numbers go together, so that which is the count is a guess."""
    values = _values(spans, text, vocabulary)
    return len(values) > 1 and all(relation(values, text) is None for relation in RELATIONS)


def _values(spans: Sequence[tuple[int, int]], text: str, vocabulary: Vocabulary) -> list[Told]:
    """The counts that some words tell, without those that add nothing to the others."""
    read = [(s, e, number_of(text[s:e], vocabulary)) for s, e in spans]
    if len(read) > 1:
        read = [(s, e, 2 * n if n and text[e:].startswith(" pairs") else n) for s, e, n in read]
    values = [(s, e, int(v)) for s, e, v in read if v is not None and v == int(v) and 0 < v < NO_COUNT]
    more = [x for k, x in enumerate(values) if not _adds_nothing(x, text, k == 0)]
    return more or values


def _adds_nothing(told: Told, text: str, first: bool) -> bool:
    """Whether a number stands for a thing, or for one that failed or was lost."""
    start, end, value = told
    before, behind = text[:start].lower(), text[end:].lower()
    if value == 1 and PRONOUN.search(before) and not FASTENER_BEHIND.match(behind):
        return True
    if behind.startswith(" by one") or (value == 1 and before.endswith("one by ")):
        return True
    return not first and (LOST.search(before) is not None or FAILED.match(behind) is not None)


def _with_further(values: Sequence[Told], text: str) -> int | None:
    """One number and so many more: "six along the edges, and two more at the bottom"."""
    further = len(values) == 2 and FURTHER.match(text[values[1][1] :].lower())
    return _sum(values) if further else None


def _sum(values: Sequence[Told]) -> int:
    return sum(value for _, _, value in values)


def _some_of_all(values: Sequence[Told], text: str) -> int | None:
    """Those that are done of all: "of the three plugs two were withdrawn", "six, but only four have screws"."""
    (start, end, whole), *_, (last, last_end, few) = values
    between = text[end:last].lower()
    if len(values) == 2 and whole < few:
        return whole if SOME_OF.fullmatch(between) else None
    if few >= whole:
        return None
    if ONLY.search(text[:last].lower()) and not BUT_A_KIND.match(text[last_end:].lower()):
        return few
    if len(values) == 2 and OF_WHICH.fullmatch(between):
        return few
    rest = _sum(values[1:])
    if OF_ALL.search(text[:start].lower()) and NOT_THERE.search(text.lower()) is None:
        return whole if rest == whole else few if len(values) == 2 else None
    return None


def _of_two_kinds(values: Sequence[Told], text: str) -> int | None:
    """Two kinds of one group: "seven short, two long"."""
    kinds = len(values) == 2 and all(KIND_OF.match(text[end:].lower()) for _, end, _ in values)
    return _sum(values) if kinds else None


def _of_two_places(values: Sequence[Told], text: str) -> int | None:
    """Groups told of two places or more, "two screws left, two right", or one more of another: "and the one below". One
    of the group that is but longer adds nothing: "and the one here is longer"."""
    if len(values) != 2:
        ends = [*(start for start, _, _ in values[1:]), len(text)]
        gaps = [text[end:until].lower() for (_, end, _), until in zip(values, ends, strict=True)]
        places = [p["at"] for gap in gaps if (p := AT_PLACE.match(gap) or AT_THING.match(gap))]
        return _sum(values) if len(set(places)) == len(values) else None
    (first, first_end, _), (second, second_end, number) = values
    behind, between = text[second_end:].lower(), text[first_end:second].lower()
    if number == 1 and ONE_MORE.search(text[:second].lower()):
        return values[0][2] if ONE_OF_THEM.match(behind) else _sum(values)
    for at in (AT_PLACE, AT_THING)[: 1 if OF_THEM.match(behind) else 2]:
        one, other = at.match(between), at.match(behind)
        if one is not None and other is not None and one["at"] != other["at"]:
            return _sum(values)
    one, other = OF_OWNER.search(text[:first].lower()), OF_OWNER.search(text[:second].lower())
    return _sum(values) if one is not None and other is not None and one["at"] != other["at"] else None


def _some_of_them(values: Sequence[Told], text: str) -> int | None:
    """A group of which some are told to be of another kind: "six, two are longer", "and one of those"."""
    if len(values) != 2:
        return None
    behind = text[values[1][1] :].lower()
    more = ON_TOP.search(text[values[0][1] : values[1][0]].lower()) and not OF_SUCH.match(behind)
    return values[0][2] if OF_THEM.match(behind) and not more else None


def _by_its_number(values: Sequence[Told], text: str) -> int | None:
    """One more that is told by its number: "three bolts from below, and a fourth"."""
    further = ORDINAL.search(text[values[0][1] :].lower())
    first = values[0][2]
    return first + 1 if further is not None and len(values) < 3 and ORDINALS.index(further[1]) == first else None


def _the_whole(values: Sequence[Told], text: str) -> int | None:
    """The one that is told to be the whole: "together four", "ten in all"; after a stop "Remove the eight"."""
    for start, end, value in values:
        if IN_ALL.match(text[end:].lower()) or MAKES.search(text[:start].lower()):
            return value * times_over("", text[end:])
    if len(values) < 2:
        return None
    if ALL_OF.search(text[: values[-1][0]].lower()) and values[-1][2] >= max(v for _, _, v in values[:-1]):
        return values[-1][2]
    (_, end, first), (start, _, last) = values[-2:]
    apart = CLAUSE_END.search(text[end:start]) is not None
    return last if apart and last > first and THE_WHOLE.search(text[:start].lower()) else None


def _put_right(values: Sequence[Told], text: str) -> int | None:
    """The last that puts one before it right: "four, no, five"."""
    for (_, end, _), (start, _, value) in reversed(list(pairwise(values))):
        if TAKEN_BACK.search(text[end:start].lower()):
            return value
    return None


def _that_came(values: Sequence[Told], text: str) -> int | None:
    """Those that were done of the others: "five, 4 came", "six holes, one empty, so five", "these two I drilled", "8: 5
    out, 3 seized"."""
    numbers = [value for _, _, value in values]
    for n, (start, end, value) in enumerate(values[1:], 1):
        so = SO.search(text[:start].lower()) and (value >= max(numbers) or STOP.match(text[end:]))
        if so or CAME.match(text[end:].lower()):
            return value
        if value in numbers[:n] and THESE.search(text[:start].lower()):
            return value
        behind = text[end:].lower()
        if value < numbers[0] and behind.startswith(" out") and re.search(FAILED.pattern, behind):
            return value
    return None


def _aloud(values: Sequence[Told], text: str) -> int | None:
    """The last of those that are counted aloud: "one… two… oh, bad one… right, six", "two, three, four screws"."""
    numbers = [value for _, _, value in values]
    gaps = [ALOUD.fullmatch(text[a[1] : b[0]].lower()) is not None for a, b in pairwise(values)]
    if len(numbers) > 2 and gaps[0] and numbers[:2] == [1, 2] and numbers[-1] > 2:
        return numbers[-1]
    in_turn = numbers == list(range(numbers[0], numbers[0] + len(numbers)))
    if in_turn and (all(gaps) or (len(numbers) > 2 and numbers[0] == 1)):
        return numbers[-1]
    return numbers[0] if len(numbers) > 2 and numbers[1:] == list(range(1, numbers[0] + 1)) else None  # "two, one, two"


def _on_top(values: Sequence[Told], text: str) -> int | None:
    """One number and another on top of it: "two above and two below"."""
    on_top = len(values) == 2 and ON_TOP.search(text[values[0][1] : values[1][0]].lower())
    return _sum(values) if on_top and not OF_SUCH.match(text[values[1][1] :].lower()) else None


def _one_at_each(values: Sequence[Told], text: str) -> int | None:
    """A group and how many of it are at each of several places: "four screws on the back, one in each corner"."""
    if len(values) != 2:
        return None
    (_, first_end, whole), (start, end, some) = values
    behind, between = text[end:], text[first_end:start].lower()
    if AT_EACH.match(behind.lower()) is None or AT_EACH.match(between) or re.search(r"\b(?:and|plus)\W*$", between):
        return None
    each = some * times_over("", behind)
    return whole if whole in (each, some) or (each == some and whole % some == 0) else None


def _its_parts(values: Sequence[Told], text: str) -> int | None:
    """The number that the others come to, or that is explained by so many each: "two bolts, one at each side"."""
    numbers = [value for _, _, value in values]
    if numbers[0] == sum(numbers[1:]) and len(values) > 2:
        return numbers[0]
    if len(values) == 2 and PER_SIDE.match(text[values[1][1] :].lower()):
        each = numbers[1] * times_over("", text[values[1][1] :])
        return each if numbers[0] in (each, numbers[1]) else None
    return numbers[-1] if numbers[-1] == sum(numbers[:-1]) and len(values) > 2 else None


#: how several numbers may go together, the first that fits first
RELATIONS = (
    _some_of_all,
    _of_two_kinds,
    _one_at_each,
    _of_two_places,
    _some_of_them,
    _by_its_number,
    _the_whole,
    _put_right,
    _that_came,
    _aloud,
    _its_parts,
    _on_top,
    _with_further,
)
