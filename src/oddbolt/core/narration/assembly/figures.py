"""Counts, drives, sizes and lengths read by exact code from the words that were marked as such."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from itertools import pairwise

from text_to_num import text2num

from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.tokens import INCHES, Item, items
from oddbolt.core.narration.language.vocabulary import Vocabulary
from oddbolt.core.reference.tables import drives

#: characters of the longest number that is read
LONGEST = 60
#: words that tell a count without being number words
COUNT_WORDS = {"both": 2, "pair": 2, "couple": 2, "single": 1, "a": 1, "an": 1, "lone": 1, "solitary": 1, "sole": 1,
               "dozen": 12, "trio": 3, "another": 1, "twin": 2, "twice": 2, "thrice": 3}  # fmt: skip
#: letters of a size code as they are spoken and written down by ear
SPELT = (
    (r"p(?:ee|ea|e)?[ -]?(?:aitch|haitch|h|age|each)", "ph"),
    (r"p(?:ee|ea)?[ -]?(?:zed|zee|z)", "pz"),
    (r"(?:eye|i)[ -]?p(?:ee)?", "ip"),
    (r"(?:tea|tee|tx|star|hexalobular|t)", "t"),
    (r"(?:why|wye|y)", "y"),
    (r"(?:pea|pee|p)", "p"),
    (r"(?:are|r)", "r"),
)
TENS = r"(?:twenty|thirty|forty)[ -](?:five|seven)s?"
NOUGHTS = r"(?:zero|oh|o|naught|nought|null|0)"
UNITS_OF_LENGTH = r"(?:mm|mil(?:s|l|limet(?:er|re)s?)?|millimet(?:er|re)s?)"
#: how a drive without letters is named, with the number before or behind it
KEYS = (
    (
        "external-hex",
        r"a\.?/?f|across (?:the )?flats|(?:open |ring |box )?(?:spanner|wrench)|socket(?! (?:head|screw|cap|pattern))"
        r"|nut ?(?:driver|drv)|hex(?:agon)? head"
        r"|(?<!cross )(?<!socket )(?<!button )(?<!pan )(?<!flat )(?<!cheese )(?<!round )heads?",
    ),
    ("hex-socket", r"hex(?:agon)?(?: socket)?(?: key| driver| bit)?|hex[ -]?head|socket head|key"),
    ("slotted", r"slot(?:ted|ty)?|flat[ -]?(?:blade|head)?|blade"),
    ("three-wing", r"(?:three|tri)[ -]?wing(?:ed)?"),
    ("five-lobe", r"(?:five|5)[ -]?(?:lobed?|point(?![ -](?:\d|oh|one|two|three|four|five|six|seven|eight|nine)\b))"),
)
#: parts of an inch -> how many make one
PARTS_OF = {"half": 2, "quarter": 4, "eighth": 8, "sixteenth": 16}
NUMBER = r"(?:\d+(?:[.,]\d+)?|point [a-z]+|[a-z]+ and (?:a )?half|[a-z]+[ -]point[ -][a-z]+|[a-z]+)"
#: drives whose tool may be told by its width in mm
BY_WIDTH = frozenset("slotted hex-socket external-hex square five-lobe three-wing stand-off".split())
WORDS = "one|two|three|four|five|six|seven|eight|nine|ten|eleven|twelve"
#: drives whose names hold a number that is no size
LOBES = lazy_pattern(r"\b(?:five|5|three|3|tri|two|2)[ -]?(?:lobe|wing|point|pin)\w*")
DECIMAL_ALONE = lazy_pattern(r"(?<![\d.,])(\d+[.,]\d+)(?![\d.,])")
#: a diameter and a length: "3 by 12", "4 x 14"
BY_LENGTH = lazy_pattern(rf"\b({NUMBER})\s*(?:by|x|×)\s*({NUMBER})\b")
#: what stands between a count and a code in shorthand: "10xT10"
TIMES_CODE = lazy_pattern(r"(?<=\d)[x×](?=[a-z]{1,2}\d)")
#: a decimal in words, that might be taken for the name of a drive: "five point five"
DIGITS = "zero one two three four five six seven eight nine".split()
DECIMAL = lazy_pattern(rf"\b({'|'.join(DIGITS)}) point ({'|'.join(DIGITS)})\b")
#: a size told of several: "tens", "fifteens", "twenty fives"
ONE_OF = lazy_pattern(rf"^((?:{WORDS}|\w+teen)|(?:twenty|thirty)[ -]five)s$")
#: a number with the unit of length behind it: the width of a tool, never the number of a size code
IN_MM = lazy_pattern(rf"({NUMBER})\s*{UNITS_OF_LENGTH}\b")
#: a figure taken back at once: "four … no, five"
TAKEN_BACK = lazy_pattern(r"\b(?:no|nope|wait|sorry|i mean|make that|correction|actually|rather)\b")
#: what stands before a number that comes on top of the one before: "two above and two below"
ON_TOP = lazy_pattern(r"(?:\+|\bplus|\band)\s*(?:another\s*)?$")
#: the same before one more: "and the one beneath the lug"
ONE_MORE = lazy_pattern(r"\band (?:the|a)\s*$")
#: what makes it one of them all the same
ONE_OF_THEM = lazy_pattern(r"[^.;,]{0,40}\b(?:is|are|was|were|being|longer|shorter)\b")
#: a place right behind a number: "two screws left", "four from this side"
AT_PLACE = lazy_pattern(
    r"\s*(?:\w+ ){0,4}?(?P<at>left|right|top|bottom|front|rear|back|above|below|up|down|this side|that side|other side"
    r"|inside|outside|upper|lower)\b"
)
#: what stands before a number that is the whole: "together four", "that makes ten"
MAKES = lazy_pattern(
    r"\b(?:together|altogether|in all|in total|all told|total of|makes|making|so that[’']?s|so that is|so it[’']?s"
    r"|(?:each|apiece)\W+so)\W+$"
)
#: one more told by its number: "and a sneaky fifth", "and then I spotted a fifth"
ORDINALS = "first second third fourth fifth sixth seventh eighth ninth tenth eleventh twelfth".split()
ORDINAL = lazy_pattern(
    r"\b(?:(?:and|plus)(?: then)?(?: (?:i|we) (?:\w+ )?(?:found|find|spotted|see|saw|missed))?|there[’']?s)"
    rf" (?:a|an|the) (?:[\w-]+ )?({'|'.join(ORDINALS[2:])})\b"
    r"(?! (?:(?:one|screw|bolt|nut) )?"
    r"(?:turn|time|hole|of|was|had|is|has|sheared|broke|spun|rounded|stays|stayed|remains|won)\b)"
)
#: what makes a number that of those that were done: "4 came", "so five", "these two"
CAME = lazy_pattern(r"\s+(?:came(?! with| from| in)|turned|moved|budged|yielded)\b")
#: what stands between two numbers that are counted aloud
ALOUD = lazy_pattern(r"[\s.…,]*(?:and )?")
SO = lazy_pattern(
    r"\bso(?: that[’']?s| it[’']?s| (?:i|we|they) (?:\w+ ){1,2}?)?(?:\W*|\W+(?:the|these|those|only|just)\W+)$"
)
STOP = lazy_pattern(r"\s*(?:screws|bolts|nuts|clips|of them)?\s*(?:[.,;!]|$)")
THESE = lazy_pattern(r"\b(?:these|those) $")
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
SUM = lazy_pattern(r"(?<![\w.])(\d{1,2})\s?\+\s?(\d{1,2})(?=\s+[a-z])")
#: places of which there are several, right behind what was counted: "two clips each side"
PER_SIDE = lazy_pattern(
    r"(?:(?:\s+[\w-]+){0,3}?\s+(?:on |at |down |along |to |in )?(?:each|either|every|per|ea\.?) (?:long |short )?"
    r"|\s?/\s?)(?P<at>side|end|corner|edge)\b"
)
#: places of each of which a few were told after the whole was: "eight more screws, two in each corner"
SPREAD = lazy_pattern(
    rf"\b(?:\d{{1,2}}|{WORDS}) (?:more |other |further )?(?:[a-z-]+ ){{0,2}}?(?:screws|bolts|nuts|clips|catches|tabs)\b"
    rf"[^.;]{{0,12}}?\b(?:\d|{WORDS}) (?:in|on|at|to|for|along|down|per) (?:each|every|either)\b"
)
COUNTED = lazy_pattern(rf"\b(?:\d+|{WORDS})\b")
#: a number that a recogniser may have written otherwise: "for screws won in each corner"
HEARD_COUNTED = lazy_pattern(rf"\b(?:\d+|{WORDS}|won|too|tree|fore|ate)\b")
#: a number that is the whole of what was counted before it
IN_ALL = lazy_pattern(r"\s*(?:\w+\s)?(?:in all|in total|total|altogether|all told)\b")


def in_mm(text: str) -> str:
    """The text with parts of an inch put into mm, to 0.01: "1/4 hex" -> "6.35 mm hex"; one inch is 25.4 mm
    (international yard and pound agreement of 1959, from memory, unverified)."""

    def width(found: re.Match[str]) -> str:
        if found["over"]:
            return f"{round(25.4 * int(found['over']) / int(found['under']), 2):g} mm"
        first, *last = re.split(r"[ -]", found["words"])
        many = {"three": 3, "five": 5, "seven": 7}.get(first, 1)
        return f"{round(25.4 * many / PARTS_OF[(last or [first])[-1].rstrip('s')], 2):g} mm"

    return INCHES.sub(width, text)


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


def count_beside(text: str, vocabulary: Vocabulary) -> int | None:
    """A count that stands where counts of fasteners stand, found without the network."""
    groups = list(SHORT.finditer(text))
    if len(groups) > 1 and len({group[2].upper() for group in groups}) == 1:
        ends = [*(group.start() for group in groups[1:]), len(text)]
        return sum(int(g[1]) * times_over(g[1], text[g.end() : end]) for g, end in zip(groups, ends, strict=True))
    total = SUM.search(text)
    if total is not None:
        return int(total[1]) + int(total[2])
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


#: a key or spanner with its width, and size codes spelt by ear, that may stand anywhere near the fasteners
KEYED = lazy_pattern(
    r"(?P<number>\d+(?:[.,]\d+)?|point [a-z]+|[a-z]+(?:[ -](?:point|and a)[ -][a-z]+)?)[ -]*"
    r"(?:mm|mil\w*|millimet\w*)?[ -]*"
    r"(?P<key>spanner|wrench|a/?f\b|across (?:the )?flats|nut ?driver|hex(?:agon)?(?: socket)?(?: key| bit)?\b)"
)
BY_EAR = lazy_pattern(
    r"\b(?:p(?:ee)? (?:aitch|h)|pee (?:zed|zee)|eye pee|tea|tee)[ -](?:number )?"
    r"(?:(?:double|triple) )?\w+(?: (?:oh|zero))?\b"
)


def key_near(text: str, vocabulary: Vocabulary) -> tuple[str, str]:
    """(drive, size) of a key, a spanner or a code spelt by ear in a stretch of text; ("", "") if there is none."""
    low = in_mm(text.lower())
    spelt = BY_EAR.search(low)
    if spelt and (told := _coded(spelt.group(), vocabulary))[1]:
        return told
    found = KEYED.search(low)
    number = found["number"] if found else ""
    value = number_of(number, vocabulary)
    if found is None or value is None:
        return "", ""
    return ("hex-socket" if found["key"].startswith("hex") else "external-hex"), f"{value:g}"


#: a number of some of the group: "two are longer", "one hidden under the label"
OF_THEM = lazy_pattern(
    r"\s*(?:of (?:them|those|these|which|'em|em)\b|,?\s*"
    r"(?:are|is|were|was|have|has|had|being|with|longer|shorter|long|short|black|dif|differ|hid|hidden|under|beneath"
    r"|w(?=/)|below|behind|carr|slightly|a bit|rather|countersunk|ones?))\b"
)


#: a number of one kind of two: "seven short, two long"
KIND_OF = lazy_pattern(r"\s*(?:of the )?(?:long|short|longer|shorter|black|silver|zinc)\b(?! of\b)")


def number_of(words: str, vocabulary: Vocabulary) -> float | None:
    """A number in figures or words, as one says or mishears it; None if it is none."""
    low = re.sub(r"^[x×](?=\d)|(?<=\d)\s?[x×]$", "", in_mm(words.lower()).strip(" .,;:()*#-"))
    low = re.sub(r"^(?:all|the|these|those|of|only|just|another|another)\s+(?=\w)", "", low)
    if not low or len(low) > LONGEST:
        return None
    low = re.sub(rf"\s*-?{UNITS_OF_LENGTH}$", "", low) or low
    if re.fullmatch(r"\d+(?:[.,]\d+)?", low):
        return float(low.replace(",", "."))
    if low in COUNT_WORDS:
        return float(COUNT_WORDS[low])
    half = re.fullmatch(r"(.+?)[ -]and[ -](?:a[ -])?half", low)
    if half and (whole := number_of(half[1], vocabulary)) is not None:
        return whole + 0.5
    if low in ("half", "half a", "a half"):
        return 0.5
    parts = re.split(r"[ -]?point[ -]?", low)
    if len(parts) == 2:
        whole, rest = (number_of(p, vocabulary) if p else 0.0 for p in parts)
        zero = {"nought": 0.0, "naught": 0.0, "oh": 0.0, "zero": 0.0}
        whole = zero.get(parts[0], whole) if whole is None else whole
        if whole is not None and rest is not None:
            return float(f"{whole:g}.{rest:g}")
    if low in vocabulary.number_slips:
        return float(vocabulary.number_slips[low])
    joined = " ".join(str(vocabulary.number_slips.get(w, w)) for w in low.replace("-", " ").split())
    try:
        return float(text2num(low.replace("-", " "), "en"))
    except ValueError:
        pass
    found = re.match(r"\d{1,15}(?:\.\d{1,4})?(?!\d)", joined)
    first = low.split()[0]
    if found:
        return float(found.group())
    if first != low:
        return number_of(first, vocabulary)
    return None


#: a few things with some fasteners each: "two drivers, each held by four screws", "two on each of the three arms"
_FEW = r"(\d{1,2}|two|three|four|five|six|seven|eight|both)"
_MANY = r"(\d{1,2}|one|a|two|three|four|five|six|seven|eight|nine|ten)"
EACH = (
    lazy_pattern(
        rf"\b{_FEW}\s+(?!turns?\b)(?:[\w-]+\s+){{0,3}}?[\w-]+s\b(?:[^.;]|;(?= each\b)){{0,60}}?\beach\b"
        rf"[^.;\d]{{0,30}}?\b{_MANY}\b(?! of\b| ?(?:{UNITS_OF_LENGTH}|newton|turns?|degrees?|grams?)\b)"
    ),
    lazy_pattern(
        rf"\b{_FEW}\s+(?:[\w-]+\s+){{0,3}}?[\w-]+s\b[^.;\d]{{0,30}}?[(,]\s*{_MANY}\b"
        r"(?:[^.;,()\d]|\b(?:T|PH|PZ|IP|M|t|ph|pz|ip|m)\d+){0,30}?\beach\b(?! of\b)"
    ),
    lazy_pattern(rf"\b{_MANY}\b [^.;,\d]{{0,20}}?\bper [\w-]+, {_FEW} [\w-]+s\b"),
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


#: some fasteners each of two sides: "two screws each from the left and the right bracket", "L/R 2x T30 ea"
EACH_OF_TWO = lazy_pattern(
    rf"\b{_MANY} (?:[a-z-]+ )?(?:[a-z]+s )?each (?:from|off|on|at|in|for|of) (?:the )?"
    r"(?:left and (?:the )?right|right and (?:the )?left|front and (?:the )?(?:rear|back)|upper and (?:the )?lower"
    r"|top and (?:the )?bottom)\b"
    r"|\bl ?[/+&] ?r\b[^.;]{0,20}?(?<![\w.])(?P<short>\d{1,2}) ?x?\b[^.;]{0,20}?\b(?:ea|each)\b"
)


def of_each(text: str, vocabulary: Vocabulary) -> int | None:
    """How many fasteners a few things have that have some each; None if nothing is told so."""
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
    r"\b(?:together|altogether|in all|in total|all told|total of|makes|(?:each|apiece)\W+so(?: that[’']?s)?)"
    rf"\W+(?:\d|{WORDS})"
)


def together(text: str, vocabulary: Vocabulary) -> int | None:
    """The whole that is told beside what each has, "two each, together four"; None if none is."""
    found = TOGETHER.search(text.lower())
    value = number_of(re.findall(r"\w+", found.group())[-1], vocabulary) if found is not None else None
    behind = text[found.end() :] if found is not None else ""
    return int(value) if value and not re.match(r"\w|[.,/]\d| ?(?:mm|turns?|newton|grams?)\b", behind) else None


#: a number of fasteners and the place where they are: "two on the left", "one in the centre"
PLACED = lazy_pattern(
    rf"\b(\d{{1,2}}|{WORDS})\b(?:(?: more| other| long| short| of them| \w*screws?| bolts?| nuts?| clips?| plugs?"
    r"| (?:ph|pz|ip|t)\d+s?)){0,3} (?:on|at|in|along|near|down|from|to) (?:the |its |this |that |one )?"
    r"(?P<at>(?:\w+ )?(?:left|right|front|back|rear|top|bottom|middle|centre|center|side|edge|end|corner|hinge|handle"
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
    if low.startswith(" pairs"):
        return 2
    found = PER_SIDE.match(low)
    if found is None or HEARD_COUNTED.search(found.group()):
        return 1
    return 4 if found["at"] == "corner" else 2


def count_of(spans: Sequence[tuple[int, int]], text: str, vocabulary: Vocabulary) -> int | None:
    """What the count words of one act come to: "nine: seven short, two long" is nine, "two above and two below" four,
    "one, two, three" three, "four, no, five" five."""
    read = [(s, e, number_of(text[s:e], vocabulary)) for s, e in spans]
    if len(read) > 1:
        read = [(s, e, 2 * n if n and text[e:].startswith(" pairs") else n) for s, e, n in read]
    values = [(s, e, int(v)) for s, e, v in read if v is not None and v == int(v) and 0 < v < 1000]
    if not values:
        return None
    left = _some_of_all(values, text)
    if left is not None:
        return left
    if (
        len(values) == 2
        and values[0][2] < values[1][2]
        and SOME_OF.fullmatch(text[values[0][1] : values[1][0]].lower())
    ):
        return values[0][2]  # "two of the four screws"
    if len(values) == 2 and all(KIND_OF.match(text[end:].lower()) for _, end, _ in values):
        return values[0][2] + values[1][2]
    if len(values) == 2 and _two_places(values, text):
        return values[0][2] + values[1][2]
    if len(values) == 2 and _one_of_them(values, text):
        return values[0][2]
    main = [x for k, x in enumerate(values) if k == 0 or not OF_THEM.match(text[x[1] :].lower())]
    on_top = ON_TOP.search(text[values[0][1] : values[1][0]].lower()) if len(values) == 2 else None
    if on_top is not None and not OF_SUCH.match(text[values[1][1] :].lower()):
        main = values
    if len(values) > 1 and len(main) == 1 and len(values) == 2:
        values = main
    numbers = [v for _, _, v in values]
    further = ORDINAL.search(text[values[0][1] :].lower())
    if further is not None and len(values) < 3 and ORDINALS.index(further[1]) == numbers[0]:
        return numbers[0] + 1  # "three bolts from below, and a fourth"
    for start, end, value in values:
        if IN_ALL.match(text[end:].lower()) or MAKES.search(text[:start].lower()):
            return value * times_over("", text[end:])
    for (_, end, _), (start, _, value) in reversed(list(pairwise(values))):
        if TAKEN_BACK.search(text[end:start].lower()):
            return value
    if len(numbers) == 1:
        return numbers[0]
    for n, (start, end, value) in enumerate(values[1:], 1):  # "five, 4 came", "six holes, one empty, so five"
        if CAME.match(text[end:].lower()) or _so_many(text, start, end, value >= max(numbers)):
            return value
        if value in numbers[:n] and THESE.search(text[:start].lower()):
            return value  # "of five two were bent, and these two I drilled"
    aloud = len(numbers) > 2 and ALOUD.fullmatch(text[values[0][1] : values[1][0]].lower()) is not None
    if aloud and numbers[:2] == [1, 2] and numbers[-1] > 2:
        return numbers[-1]  # "one… two… oh, bad one… right, six"
    if len(numbers) == 2 and ON_TOP.search(text[values[0][1] : values[1][0]].lower()):
        return sum(numbers)
    if numbers == list(range(1, len(numbers) + 1)) and len(numbers) > 2:
        return len(numbers)
    if len(numbers) > 2 and numbers[1:] == list(range(1, numbers[0] + 1)):
        return numbers[0]  # "two tags, one, two, gone"
    if numbers[0] == sum(numbers[1:]) or (numbers[0] == numbers[-1] and len(numbers) == 2):
        return numbers[0]
    if numbers[-1] == sum(numbers[:-1]):
        return numbers[-1]
    return sum(numbers)


#: some of those that are told of
OF_SUCH = lazy_pattern(r"\s*of (?:them|those|these|which|em)\b")
#: what stands before the number of all, of which fewer are done: "of the six", "from six screws"
OF_ALL = lazy_pattern(r"(?:^|[.;,:]\s*|\b(?:and|so|but)\s+)(?:out )?(?:of|from) (?:the |these |those |its |all )?$")
#: what stands before the number of those that are there or done: "but only four of them have screws"
ONLY = lazy_pattern(r"\bonly (?:the )?$")
#: what those "only so many" are that are a kind of all, and not fewer
BUT_A_KIND = lazy_pattern(
    r"(?:\s+of (?:them|those|these|which))?\s+(?:is|are|was|were|being) (?!left|there|in\b|present|fitted|out)"
)
#: what makes those that a number counts not there: "two of these were found to be missing"
NOT_THERE = lazy_pattern(
    rf"\b(\d{{1,2}}|{WORDS})(?: screws?| bolts?| nuts?| of (?:them|those|these|which))?"
    r"(?:[’']s| is| are| was| were)?(?: found)?(?: to be)?(?: already| just)? (?:missing|absent|lacking|not there)\b"
    rf"|\b(?P<late>\d{{1,2}}|{WORDS}) (?:is|are) (?:already )?(?:missing|not there)\b"
)


def _some_of_all(values: Sequence[tuple[int, int, int]], text: str) -> int | None:
    """How many are done of all: "of the three plugs two were withdrawn", "six, but only four have screws"; None if
    nothing is told so."""
    if len(values) < 2:
        return None
    (start, _, whole), *_, (last, end, few) = values
    if few >= whole:
        return None
    if ONLY.search(text[:last].lower()) and not BUT_A_KIND.match(text[end:].lower()):
        return few
    rest = [v for _, _, v in values[1:]]
    if OF_ALL.search(text[:start].lower()) and NOT_THERE.search(text.lower()) is None:
        return whole if sum(rest) == whole else few if len(rest) == 1 else None
    return None


def not_there(text: str, vocabulary: Vocabulary) -> int:
    """How many of the counted are told to be missing: "two of these were missing"; 0 if none are."""
    found = NOT_THERE.search(text.lower())
    return int(number_of(found[1], vocabulary) or 0) if found is not None else 0


#: a screw pointed at: "a screw there", "one here"
POINTED = lazy_pattern(
    r"\b(?:a|one|another|won)(?: (?:more|little|small|other|long|short))?(?: (?:screw|bolt|nut|clip|tab|plug))?"
    r"(?: (?:right|just|down|up|over|in|back|out|under|on))* (?:here|there)\b(?!['’])"
)


def pointed_at(text: str) -> int | None:
    """How many are pointed at one after the other, "a screw there, a screw there, and one there" three; None if fewer
    than two are, or one without such a thing named."""
    found = [m.group() for m in POINTED.finditer(text.lower())]
    return len(found) if len(found) > 1 else None


#: what stands between some and all of them: "two of the four", "three of five"
SOME_OF = lazy_pattern(r"\s*of (?:the |these |those |its |his )?")
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


def _so_many(text: str, start: int, end: int, most: bool) -> bool:
    """Whether a number is what comes of the others: "one hole is empty, so three", "so that's nine more"."""
    return SO.search(text[:start].lower()) is not None and (most or STOP.match(text[end:]) is not None)


def _two_places(values: Sequence[tuple[int, int, int]], text: str) -> bool:
    """Whether two numbers are told of two places, "two screws left, two right", or one more is told of another."""
    (_, first_end, _), (second, second_end, number) = values
    behind = text[second_end:].lower()
    if number == 1 and ONE_MORE.search(text[:second].lower()):
        return not _one_of_them(values, text)
    one, other = AT_PLACE.match(text[first_end:second].lower()), AT_PLACE.match(behind)
    return one is not None and other is not None and one["at"] != other["at"]


def _one_of_them(values: Sequence[tuple[int, int, int]], text: str) -> bool:
    """Whether the second of two numbers is one of the group that the first counts: "and the one here is longer"."""
    _, (start, end, number) = values
    told = ONE_MORE.search(text[:start].lower()) and ONE_OF_THEM.match(text[end:].lower())
    return number == 1 and bool(told)


def drive_of(words: str, vocabulary: Vocabulary) -> tuple[str, str]:
    """(drive, size) told by some words: "PH 00", "tea five", "cross number two", "2.5 hex", "10 mm spanner". A part
    that is not told is ""."""
    low = re.sub(r"[’']s\b|(?<=\d)s\b", "", in_mm(words.lower())).replace("-", " ").strip(" .,;:()")
    low = re.sub(r"\bhex(?=\d)", "hex ", low)
    low = DECIMAL.sub(lambda m: f"{DIGITS.index(m[1])}.{DIGITS.index(m[2])}", TIMES_CODE.sub(" ", low))
    coded = _coded(low, vocabulary)
    if coded[1]:
        return coded
    for drive, names in KEYS:
        for pattern in (rf"({NUMBER})\s*{UNITS_OF_LENGTH}?\s*(?:{names})\b", rf"\b(?:{names})\s*(?:size )?({NUMBER})"):
            found = re.search(pattern, low)
            value = number_of(found[1], vocabulary) if found else None
            if found and value is not None:
                size = f"{value:g}"
                prefix = "" if IN_MM.search(found.group()) else drives()[drive].prefix
                return drive, f"{prefix}{size}" if prefix else size
    named = named_drive(low, vocabulary)
    if named:
        wide = IN_MM.search(low) if named in BY_WIDTH else None
        across = number_of(wide[1], vocabulary) if wide else None
        if across is not None:
            return named, f"{across:g}"
        row = drives()[named]
        named_at = next((i.start for i in items(low, vocabulary) if i.has("drive")), 0)
        rest = LOBES.sub(" ", low)
        wide = DECIMAL_ALONE.search(rest) if named in BY_WIDTH else None
        if wide is not None:
            return named, f"{float(wide[1].replace(',', '.')):g}"
        number = re.search(rf"(?:number|size|no\.?|nr|#)\s*({NOUGHTS}\b|\w+)|(?<![\d.,])(\d+)(?![\d.,])", rest)
        digits = _digits(number[1] or number[2], vocabulary) if number else ""
        if not digits:
            tail = [w for w in low[named_at:].split()[1:] if _digits(w, vocabulary)]
            digits = _digits(tail[-1], vocabulary) if tail else ""
        if digits and f"{row.prefix}{digits}" in row.sizes:
            return named, f"{row.prefix}{digits}"
        return named, ""
    return "", ""


def _coded(low: str, vocabulary: Vocabulary) -> tuple[str, str]:
    """A size code, as written or as spoken."""
    zeros = re.sub(rf"\b(?:double|two) {NOUGHTS}s?\b|\b{NOUGHTS} {NOUGHTS}\b", "00", low)
    zeros = re.sub(rf"\btriple {NOUGHTS}s?\b|\b{NOUGHTS} {NOUGHTS} {NOUGHTS}\b|\b00 {NOUGHTS}\b", "000", zeros)
    if re.fullmatch(r"(?:size |number |nr |no |# ?)?0{2,3}", zeros):
        return "cross", f"PH{re.sub('[^0]', '', zeros)}"  # no other drive has such sizes
    sizes = {s.lower(): (row.id, s) for row in drives().values() if row.prefix for s in row.sizes}
    for spelt, letters in SPELT:
        for found in re.finditer(
            rf"(?<![a-z0-9]){spelt}[ .-]*(?:number |size |nr |no )?({TENS}|\d+|[a-z]+)(?:\b|(?=[x×]\d))", zeros
        ):
            digits = _digits(found[1], vocabulary)
            if letters + digits in sizes:
                return sizes[letters + digits]
        back = re.search(rf"(?<![\w./])(\d+) ?{letters}(?![a-z0-9])", zeros)
        if back and letters + back[1] in sizes:
            return sizes[letters + back[1]]
    return "", ""


def _digits(word: str, vocabulary: Vocabulary) -> str:
    if re.fullmatch(r"0{1,3}|\d+", word):
        return word
    if re.fullmatch(NOUGHTS, word):
        return "0"
    word = ONE_OF.sub(r"\1", {"sixes": "six", "twenties": "twenty", "thirties": "thirty"}.get(word, word))
    if word.endswith("s") and word[:-1] in vocabulary.number_slips:
        word = word[:-1]  # "tea ates"
    value = number_of(word, vocabulary) if word not in ("a", "an", "to", "too", "for") else None
    if word in ("to", "too", "for"):
        value = float(vocabulary.number_slips[word])
    return f"{value:g}" if value is not None and value == int(value) else ""


def named_drive(words: str, vocabulary: Vocabulary) -> str:
    """The drive that some words name; "" if none."""
    for item in items(words, vocabulary):
        if item.has("drive"):
            return item.may["drive"]
    return ""


def quantities(text: str, vocabulary: Vocabulary) -> list[Item]:
    """The quantities with a unit that a text tells, with their places."""
    return [i for i in items(text, vocabulary) if i.number is not None and i.unit]


def length_of(words: str, vocabulary: Vocabulary) -> float | None:
    """A length in mm, its unit said or not: "x16", "twelve mil", "40 long"."""
    both = BY_LENGTH.search(words.lower())
    across, along = (number_of(both[n], vocabulary) for n in (1, 2)) if both is not None else (None, None)
    if across is not None and along is not None and across < along:
        return along
    for item in quantities(words, vocabulary):
        if item.unit == "length":
            return item.number
    low = re.sub(rf"\b(?:{UNITS_OF_LENGTH}|long|lg|l|length|of)\b", " ", words.lower()).strip(" x×.,")
    value = number_of(low, vocabulary) if low else None
    return value if value is not None and 0 < value < 1000 else None
