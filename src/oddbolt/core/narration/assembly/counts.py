"""How many an act was done to: counts told in figures, in words, aloud, of each of several, or by a lone noun."""

from __future__ import annotations

import re

from oddbolt.core.narration.assembly import patterns
from oddbolt.core.narration.assembly.acts import BY_DIAMETER, Act, counts_such
from oddbolt.core.narration.assembly.by_length import count_or_diameter, without_pairs
from oddbolt.core.narration.assembly.by_words import by_words, roughly
from oddbolt.core.narration.assembly.figures import TAKEN_BACK, number_of
from oddbolt.core.narration.assembly.plausible import FRACTION, ONE_BY_NUMBER, TURNS, inch_thread
from oddbolt.core.narration.assembly.several import FAILED, OF_SUCH, ON_TOP, SO, count_of, unexplained
from oddbolt.core.narration.assembly.tallies import (
    CODE_TIMES,
    COUNTED,
    MAKES,
    PER_SIDE,
    all_but,
    by_numbers,
    count_beside,
    counted_aloud,
    in_range,
    left_and_right,
    not_there,
    numbers_in,
    of_each,
    pointed_at,
    so_many_of,
    times_over,
    together,
)
from oddbolt.core.narration.assembly.utterance import Utterance
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.memory import singular
from oddbolt.core.narration.understanding import FASTENING, OF_SCREWS, Span

#: what a part is soldered by
LEGS = lazy_pattern(r"\s*(?:\w+ )?(?:pins?|legs?|poles?)\b")
#: a plug by its number, that is no "times six"
NAMED_X = lazy_pattern(r"X\d+")
#: what makes a number that of a size: "four number 2 cross-heads"
OF_A_SIZE = lazy_pattern(r"(?:\b(?:number|size|nr)\s|\bno\.\s|#)\s*$")
#: a piece by its sides: "5x30"
AREA = lazy_pattern(r"\d+\s?[x×]\s?\d+")
#: what makes a number the beginning of a drive's name: "three-wing"
OF_A_DRIVE = lazy_pattern(r"[ -]?(?:wings?|lobes?|point(?! \d))\b|[ -]?(?:winged|lobed)\b")
#: a rating behind a number: "5 A fuse"
RATED = lazy_pattern(
    r"\s?(?:A|V(?! ?-?(?:belt|groove))|W|mA|mAh|Ah|Hz|kHz|Ω|kΩ|VA)\b|\s(?:amps?|volts?|watts?|ohms?|grams?)\b"
)
#: what makes a number one of a kind among those that are done, and not their count: "two of which are under the feet"
OF_A_KIND = lazy_pattern(
    r"\s*of (?:which|them|these|those) (?:is|are|was|were|have|has|had)\b"
    r"(?! (?:now |already |all )?(?:out|off|removed|undone|taken|done|gone|loose|free|screwed))"
)
#: the contacts of a plug: "3p", "4-way"
OF_CONTACTS = lazy_pattern(r"\d+ ?-?(?:p|pin|way|pole)s?")
#: places of which there are two
OF_BOTH = lazy_pattern(r"both (?:sides?|ends?|edges?|corners?|faces?)\b")
#: a size with "by" behind it, and then the length: "PH1 by 16"
BY_BEFORE = lazy_pattern(r"\b[A-Z]{1,2}\d+s? (?:by|x|×) $", re.IGNORECASE)
#: other things that the number behind them counts, in notes: "conns 9"
NOUN_BEFORE = lazy_pattern(
    r"\b(?:conns?|plugs?|connectors?|cables|wires|leads|clips|tabs|feet|cells|hoses)[ :]+x?$", re.IGNORECASE
)
#: one fastener with "too" behind it: "jack nut too"
LONE_NOUN = lazy_pattern(r"\b(?:nut|screw|bolt|clip|plug|stud|grub) $")
#: things that a number counts and that are no screws
OF_OTHERS = lazy_pattern(
    r"\s*(?:\w+ )?(?:washers?|o-?rings?|seals?|gaskets?|spacers?|springs?|hands|fingers|hinges|shims?|steps?)\b"
)
OF_HALVES = lazy_pattern(r"\s*(?:\w+ )?halves\b")
#: acts on things that may be told by their numbers
BY_NUMBERS = frozenset("unscrew loosen fasten disconnect connect desolder".split())
#: what stands between a number and something else than what it counts
BETWEEN = lazy_pattern(r"[;:]|[.!?]\s|\b(?:under|from|with|for|in|into|on|onto|behind|by|drops?|turns?|times?)\b")
#: a number of others, with which another act begins: "pop both of those and the screen is free"
OF_OTHERS_AND = lazy_pattern(r"\s*(?:of (?:them|those|these)\b)?(?: off| out| up)?,? (?:and|then|so)\b")
#: a number of fasteners that are out before the act: "with all seven out, the cover lifts off"
OUT_BEFORE = lazy_pattern(r"\s*(?:of (?:them|those|these) )?(?:out|off|undone|removed|gone|loose)\b")
#: what stands between an act and the number of something else: "the lid came off with its two nuts"
WITH_OTHERS = lazy_pattern(r"[(]|\b(?:with|by|from|under|held|has|have)\b")
WHOLE = lazy_pattern(r"\b(?:the|its|both) $", re.IGNORECASE)
#: a number that is none of a code, a size or a length
PLAIN_NUMBER = lazy_pattern(
    r"(?<![\w.,#/x×])(?:\d{1,2}|one|two|three|four|five|six|seven|eight|nine|ten|eleven|twelve)"
    r"(?=x?\b)(?![.,]\d|/\d| ?(?:mm|mil\w*|millimet\w+|newton|turns?|degrees?|grams?)\b)"
)
#: plugs that a number counts
PLUGS_COUNTED = lazy_pattern(r"\s*(?:[\w-]+ )?(?:plugs?|connectors?|conns?)\b")
#: other things that a number beside them counts: "2 push tabs, 1 plug"
FASTENERS_COUNTED = lazy_pattern(
    r"\s*(?:[\w-]+ )?(?:screws?|bolts?|nuts?|clips?|tabs?|hooks?|latch(?:es)?|catch(?:es)?)\b"
)
#: what follows a number that counts what was named long before
COUNTED_LATE = lazy_pattern(r"\s*(?:of (?:them|those|these)|in all|all told|in total|altogether|passes|times)")
MOST_BETWEEN, MOST_AFTER = 4, 6
#: nothing is added to a larger count
MANY_TOLD = 100
#: what leads from a number of plugs to the thing they belong to
OF_THE_OWNER = lazy_pattern(r"[^.;:]{0,50}?\b(?:from|off|of|to|on|at|for) (?:the |its |this |that )?(?:[\w-]+ )?")
#: a count "each", that is not said of sides or of the torque
SOME_EACH = lazy_pattern(
    r"\beach\b(?! (?:side|end|corner|edge|time|other|one)\b)(?!.{0,12}\b(?:newton|ncm|nm|n·))|\bapiece\b"
    r"|\bper (?!side|end)\w+"
)
#: a thing of which each has some fasteners: "under each foot", "beneath each one"
EACH_OF = lazy_pattern(
    r"\b(?:under|behind|beneath|below|inside|in|at)(?:neath)? (?:each|every)\b(?! (?:side|end|corner|edge)\b)"
    r"(?: (?P<thing>[a-z]+))?"
)
#: what tells of several fasteners without a number, or of one after another
SEVERAL = lazy_pattern(
    r"\b(?:screws|bolts|nuts|grubs|studs|rivets|clips|catches|tabs|hooks|latches|plugs|connectors|wires|leads|cables|legs"
    r"|pins|joints|both|all|each|every|either|another|other|others|by|more|some|these|those|them|they|last|first|next"
    r"|same|again|ea|this one|that one|two|three|four|five|six|seven|eight|nine|ten)\b|\+|&"
)
ARTICLE = lazy_pattern(r"^(?:the|a|an|that|this|its|his|her|my|big|little|small|single|tiny)\b")
_BEFORE = (
    r"(?:\b(?:the|a|an|that|this|its|his|big|little|small|tiny|single) (?:[\w-]+ ){0,3}?"
    r"|(?:^|[,;:] ?|\b(?!\d+x? )[\w-]+ ))"
)
#: act on fasteners -> one of them
LONE = {
    action: lazy_pattern(rf"{_BEFORE}(?:{things})\b(?!-|['’](?!s\b))")
    for actions, things in (
        (
            "unscrew loosen fasten",
            r"(?:lock|wing|thumb|cap)?[ -]?nut|bolt|screw|grub(?: screw)?|stud|thumbscrew|set ?screw",
        ),
        ("unclip", "clip|catch|tab|hook|latch|lug|bail"),
        ("disconnect connect", "plug|connector|spade|ribbon"),
        ("drill", "rivet|peg|pin"),
        ("cut", "(?:zip|cable)?[ -]?tie"),
    )
    for action in actions.split()
}
OF_A_SIDE = lazy_pattern(
    r"\b(?P<side>left|right|top|bottom|upper|lower|front|rear|inner|outer|near|far) (?:side )?"
    r"(?:tab|clip|catch|screw|bolt|nut|latch|hook|plug)\b"
)
#: what makes "screw", "nut", "plug" a verb or the beginning of another name
VERB_AFTER = lazy_pattern(
    r" (?:the|a|an|it|this|that|its|his|down|in|into|on|up|back|home|off|out|him|cover|cap|plate|driver|heads?|box"
    r"|side)\b"
)
#: what makes some of the counted others than the rest
ODD_ONES = lazy_pattern(
    r"\b(?:but|except|only)(?: that| for)? (?:\d|one|two|three|four)(?: of (?:them|those|these))? (?:is|are|was|were)\b"
)
#: fasteners that several things may have some of each
EACH_MAY_HAVE = frozenset("unscrew loosen fasten unclip".split())
#: acts on fasteners whose number stands close to them, for others are often told of in the same breath
COUNTED_CLOSE = frozenset("drill cut desolder loosen".split())


def count(work: Utterance, act: Act) -> int | None:
    """How many, as marked; for fasteners also as counted aloud or as shorthand writes it."""
    spans = _marked(work, act)
    if len(spans) == 1 and act.action != "correct" and OF_A_KIND.match(work.text[spans[0][1] :].lower()):
        return None
    told = _told_apart(work, act, bool(spans))
    if told is not None:
        return told
    spans = _of_this_act(work, act, spans)
    many = count_of(spans, work.text, work.vocabulary)
    if act.action == "correct" and many is None:
        found = patterns.MANY.search(work.text.lower())
        return int(number_of(found[1], work.vocabulary) or 0) or None if found else None
    if act.action not in FASTENING:
        return many or (1 if lone(work, act) else None)
    return _of_fasteners(work, act, spans, many)


def _figures(act: Act) -> list[Span]:
    """The numbers of an act that are no count."""
    return [s for role in ("size", "len", "len2", "value", "n2") for s in act.spans(role)]


def _marked(work: Utterance, act: Act) -> list[tuple[int, int]]:
    """Where the numbers stand that are marked for a count and are no size, rating, width or name of something else."""
    figures, inch = _figures(act), inch_thread(work.text)
    return [
        (s.start, s.end)
        for s in act.spans("n")
        if not any(f.start < s.end and s.start < f.end for f in figures)
        and (_legs(act, work.text[s.end :]) or not patterns.MEASURED.match(work.text[s.end :].lower()))
        and not NAMED_X.fullmatch(s.words(work.text))
        and not OF_CONTACTS.fullmatch(s.words(work.text).lower())
        and not (act.action in EACH_MAY_HAVE and OF_BOTH.match(work.text[s.start :].lower()))
        and not (act.action in OF_SCREWS and BY_BEFORE.search(work.text[: s.start]))
        and not (s.words(work.text).isdigit() and act.action in OF_SCREWS and NOUN_BEFORE.search(work.text[: s.start]))
        and not (s.words(work.text).lower() in ("too", "to") and LONE_NOUN.search(work.text[: s.start].lower()))
        and not (act.action in OF_SCREWS and OF_A_DRIVE.match(work.text[s.end :].lower()))
        and not AREA.fullmatch(s.words(work.text))
        and not OF_A_SIZE.search(work.text[: s.start].lower())
        and not FRACTION.search(work.text[max(0, s.start - 3) : s.end + 3])
        and not RATED.match(work.text, s.end)
        and not (act.action in OF_SCREWS and OF_OTHERS.match(work.text[s.end :].lower()))
        and not (act.action in EACH_MAY_HAVE and OF_HALVES.match(work.text[s.end :].lower()))
        and not (inch is not None and inch.start() < s.end and s.start < inch.end())
    ]


def _told_apart(work: Utterance, act: Act, marked: bool) -> int | None:
    """A count that no single number tells: "all but one of the six", "trays 1 to 4", "terminals 7 and 8", "2/4 out". It
    is one for "screw 3"."""
    region = work.region(act)
    counts = act.action in FASTENING or act.action in BY_NUMBERS
    known = work.vocabulary
    many = (all_but(region, known) or by_words(region, known) or left_and_right(region)) if counts else None
    if many is None and work.words(act).lower().endswith("s"):
        many = in_range(work.text[act.end :])
    if many is None and act.action in BY_NUMBERS:
        many = by_numbers(region)
    if many is None and act.action in OF_SCREWS and ONE_BY_NUMBER.search(region.lower()):
        return 1
    if many is None and act.action in FASTENING and not marked:
        many = so_many_of(region, act.action)
    return many


def _of_this_act(work: Utterance, act: Act, spans: list[tuple[int, int]]) -> list[tuple[int, int]]:
    """The numbers that count what the act is done to, of an act that is often told beside others."""
    if act.action == "correct":
        return spans[-1:]
    if (act.action not in FASTENING or act.action in COUNTED_CLOSE) and act.start < len(work.text):
        spans = [
            s
            for n, s in enumerate(spans)
            if _counts(s, act, work.text)
            or _of_its_plugs(s, act, work)
            or (n and TAKEN_BACK.search(work.text[spans[n - 1][1] : s[0]].lower()))
        ]
    behind = {s: work.text[s[1] :].lower() for s in spans}
    if act.action in ("disconnect", "connect") and any(PLUGS_COUNTED.match(b) for b in behind.values()):
        return [s for s in spans if PLUGS_COUNTED.match(behind[s]) or not FASTENERS_COUNTED.match(behind[s])]
    return spans


def _of_fasteners(work: Utterance, act: Act, spans: list[tuple[int, int]], marked: int | None) -> int | None:
    """How many fasteners: what each of a few things has, what was counted aloud, stands beside them or was marked."""
    region = _without(work, act, _figures(act))
    told_in = work.text if work.groups < 2 else region
    of_all = of_each(told_in, work.vocabulary) if act.action in EACH_MAY_HAVE else None
    counted = of_all if of_all is not None else counted_aloud(region, work.vocabulary)
    if counted:
        return counted
    pointed = pointed_at(region) if act.action in LONE and marked in (None, 1) else None
    if pointed:
        return pointed
    if not marked:
        alone = 1 if lone(work, act) else 2 if one_each_side(work, act) else None
        return count_beside(region, work.vocabulary) or of_code(region) or alone
    if work.groups < 2 and act.action in OF_SCREWS:
        parts, whole = _of_its_parts(work, act, spans, region), together(region, work.vocabulary)
        gone = not_there(work.text, work.vocabulary)
        if parts or (whole and whole >= marked):
            return parts or whole
        if 0 < gone < marked and (first := number_of(work.text[slice(*spans[0])], work.vocabulary)) is not None:
            return int(first) - gone if first > gone else marked
    return _with_more(work, act, spans, _taken_often(work, act, spans, marked))


def some_of_them(low: str) -> bool:
    """Whether a text tells where some of a group are, or what they are like, and not that they are done."""
    return any(OF_A_KIND.match(low[found.end() :]) for found in COUNTED.finditer(low))


def may_be_a_length(work: Utterance, act: Act) -> bool:
    """Whether the count is but a small number behind a size code, which may be a length: "guard T27x3"."""
    region = work.region(act)
    return not _marked(work, act) and count_beside(region, work.vocabulary) is None and of_code(region) is not None


def may_be_a_diameter(work: Utterance, act: Act, many: int) -> bool:
    """Whether the count may as well be the diameter of the screws: "the 3 x 12 screws"."""
    return act.action in BY_DIAMETER and count_or_diameter(work.region(act), many)


def told_roughly(work: Utterance, act: Act, many: int) -> bool:
    """Whether the count is told only roughly: "about six"."""
    return roughly(work.region(act), many, work.vocabulary)


def of_code(region: str) -> int | None:
    """A small number behind a size code, where no other tells a count: "guard T27x3". It may be a length as well."""
    found = CODE_TIMES.search(region)
    return int(found[1]) if found is not None else None


def _of_its_parts(work: Utterance, act: Act, spans: list[tuple[int, int]], region: str) -> int | None:
    """The first number, where all that follow come to it: "7x PH2 (6 top + 1 strap)"; None if they do not."""
    start, end = spans[0]
    first = number_of(work.text[start:end], work.vocabulary)
    behind = region[max(0, end - act.region[0]) :]
    found = list(PLAIN_NUMBER.finditer(behind.lower()))
    told = [number_of(m.group(), work.vocabulary) or 0 for m in found]
    parts = len(told) > 1 and not any(
        SO.search(behind[: m.start()].lower()) or FAILED.match(behind[m.end() :].lower()) for m in found
    )
    return int(first) if first and parts and sum(told) == first else None


def _taken_often(work: Utterance, act: Act, spans: list[tuple[int, int]], marked: int) -> int:
    """A marked count as often as the words tell: "under each foot one", "three per side and one at the top"."""
    each = EACH_OF.search(work.text.lower()) if len(spans) == 1 else None
    if each is not None and (marked == 1 or spans[0][0] > each.start()) and (things := _as_many_as(work, each)):
        whole = SO.search(work.text[each.end() : spans[0][0]].lower()) is not None
        return marked if whole else marked * things
    over = [times_over(work.text[start:end], work.text[end:]) for start, end in spans]
    before = [work.text[:start].lower() for start, _ in spans]
    whole = any(MAKES.search(b) or SO.search(b) for b in before)  # "two each side, so that's four"
    whole |= any(work.text[end:].startswith(" pairs") for _, end in spans)
    if len(spans) == 2 and min(over) == 1 < max(over) and not whole:
        told = [number_of(work.text[slice(*s)], work.vocabulary) or 0 for s in spans]
        whole = told[0] == told[1] * over[1]  # "two bolts, one at each side"
        return int(told[0] if whole else sum(n * times for n, times in zip(told, over, strict=True)))
    if len(spans) == 1 and not _all_told(work.text, spans[0]):
        return marked * times_over(
            work.text[slice(*spans[0])], work.text[spans[0][1] : max(act.region[1], spans[0][1])]
        )
    return marked


def _with_more(work: Utterance, act: Act, spans: list[tuple[int, int]], marked: int) -> int:
    """A count with the others of the group that are told on top of it, and are not within it."""
    first = spans[0]
    added = [
        s
        for s in act.spans("n2")
        if ON_TOP.search(work.text[: s.start])
        and not OF_SUCH.match(work.text[s.end :].lower())
        and s.start > first[0]
        and ":" not in work.text[first[1] : s.start]
    ]
    more = int(sum(number_of(s.words(work.text), work.vocabulary) or 0 for s in added))
    within = marked - more in numbers_in(work.text, work.vocabulary)  # "of eleven, nine are T8 and two longer"
    return marked + more if more and marked < MANY_TOLD and not within else marked


def lone(work: Utterance, act: Act) -> bool:
    """Whether an act without a number is told of one fastener: "the nut", "that grub screw", and none of several."""
    region = TURNS.sub(" ", work.region(act).lower())
    things = LONE.get(act.action)
    if things is None or SEVERAL.search(region):
        return False
    found = [m for m in things.finditer(region) if ARTICLE.search(m.group()) or not _a_verb(m, region)]
    return len(found) == 1


def one_each_side(work: Utterance, act: Act) -> bool:
    """Whether one is told of each of two sides: "left tab, right tab", "bottom screw, top screw"."""
    sides = [found["side"] for found in OF_A_SIDE.finditer(work.text.lower())]
    return act.action in LONE and len(sides) == len(set(sides)) == 2


def _a_verb(found: re.Match[str], region: str) -> bool:
    """Whether a word for a fastener is what is done: "screw it down"."""
    return not found.group().endswith(("nut", "grub", "stud")) and VERB_AFTER.match(region[found.end() :]) is not None


def _as_many_as(work: Utterance, found: re.Match[str]) -> int | None:
    """How many things there are of which a few fasteners are told of each: "under each foot"; None if nobody knows."""
    steps = (*work.memory.steps[-2:], *work.steps)
    counted = [s for s in steps if s.count and s.parts and s.action in ("take out", "peel", "unclip")]
    noun = singular(found["thing"] or "")
    if counted and (found["thing"] in (None, "one", "won", "of") or noun == singular(counted[-1].parts[0])):
        return counted[-1].count
    return work.memory.many.get(noun) or None


def _legs(act: Act, behind: str) -> bool:
    """Whether a number counts what is desoldered: "the three pins"."""
    return act.action == "desolder" and LEGS.match(behind.lower()) is not None


def _without(work: Utterance, act: Act, figures: list[Span]) -> str:
    """The region of an act with the words of its other figures blanked, so that they are not counted: "nut 11"."""
    text = without_pairs(work.text) if act.action in BY_DIAMETER else work.text
    for span in figures:
        if re.search(r"[A-Za-z]-?\d", span.words(text)) is None:
            text = text[: span.start] + " " * (span.end - span.start) + text[span.end :]
    return text[act.region[0] : act.region[1]]


def _counts(span: tuple[int, int], act: Act, text: str) -> bool:
    """Whether a number counts what the act is done to: it stands right before it or behind it, and no other thing
    between them."""
    start, end = span
    if counts_such(act.action, text[end:]):
        return True
    if end <= act.start:
        between = text[end : act.start]
        if OF_OTHERS_AND.match(between.lower()):
            return False
        if OUT_BEFORE.match(between.lower()) and re.search(r"\bwith (?:all |the |both )?$", text[:start].lower()):
            return False
        return len(between.split()) <= MOST_BETWEEN and not BETWEEN.search(between.lower())
    after = text[act.end : start]
    if text[start - 1 : start] + text[end : end + 1] == "()" and len(after.split()) <= MOST_AFTER:
        return True  # "cell tabs snipped (2)"
    shared = PER_SIDE.match(text[end:].lower()) is not None
    late = text[start:end].lower() == "both" or COUNTED_LATE.match(text[end:].lower()) is not None
    late |= text[end:].startswith(",") and not WITH_OTHERS.search(after.lower())
    near = (len(after.split()) <= MOST_AFTER and not WITH_OTHERS.search(after.lower())) or late
    return start <= act.end or (near and not patterns.SENTENCE_END.search(after) and not shared)


def _of_its_plugs(span: tuple[int, int], act: Act, work: Utterance) -> bool:
    """Whether a number counts the plugs of the thing that an act on plugs is told of: "three tabs were pulled from the
    thermostat and two from the switch"."""
    if act.action not in ("disconnect", "connect") or span[1] > act.start:
        return False
    between = work.text[span[1] : act.start].lower()
    alone = not COUNTED.search(between) and not any(span[1] <= s < act.start for s in work.starts)
    return alone and OF_THE_OWNER.fullmatch(between) is not None


def _all_told(text: str, span: tuple[int, int]) -> bool:
    """Whether the count is the whole: "the two latches on either side"."""
    return bool(WHOLE.search(text[: span[0]])) and " either " in text[span[1] :]


def guessed(work: Utterance, act: Act) -> bool:
    """Whether several numbers stand beside the fasteners and no words tell how they go together."""
    spans = _of_this_act(work, act, _marked(work, act))
    if not unexplained(spans, work.text, work.vocabulary) or by_words(work.region(act), work.vocabulary):
        return False
    return counted_aloud(work.region(act), work.vocabulary) is None and of_each(work.text, work.vocabulary) is None


def odd_ones(work: Utterance, act: Act) -> bool:
    """Whether some of the counted are told to be of another size: "six T8, but one is T9"."""
    told = len(act.spans("size")) > 1 and len(act.spans("n")) > 1
    return told and ODD_ONES.search(work.region(act).lower()) is not None


def some_each(work: Utterance, act: Act) -> bool:
    """Whether the count is told of each of several things, and nobody said how many there are."""
    told = act.action in EACH_MAY_HAVE and SOME_EACH.search(work.region(act).lower()) is not None
    return told and of_each(work.text, work.vocabulary) is None
