"""The figures of an act on fasteners: kind, count, drive, size, thread, length, what they hold."""

from __future__ import annotations

import re
from typing import Any

from oddbolt.core.narration.assembly import patterns
from oddbolt.core.narration.assembly.acts import Act, counts_such
from oddbolt.core.narration.assembly.figures import (
    BY_WIDTH,
    COUNTED,
    IN_MM,
    MAKES,
    ON_TOP,
    PER_SIDE,
    TAKEN_BACK,
    all_but,
    by_numbers,
    count_beside,
    count_of,
    counted_aloud,
    drive_of,
    in_range,
    key_near,
    length_of,
    named_drive,
    number_of,
    numbers_in,
    of_each,
    quantities,
    so_many_of,
    times_over,
)
from oddbolt.core.narration.assembly.plausible import FRACTION, ONE_BY_NUMBER, inch_thread
from oddbolt.core.narration.assembly.utterance import Utterance
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.tokens import items
from oddbolt.core.narration.memory import singular
from oddbolt.core.narration.understanding import FASTENING, OF_SCREWS, Span
from oddbolt.core.reference.joint_kinds import ids_where
from oddbolt.core.reference.tables import drives

JOINTS = {
    "unscrew": "screw",
    "loosen": "screw",
    "fasten": "screw",
    "unclip": "clip",
    "desolder": "solder",
    "drill": "rivet",
    "disconnect": "connector",
}
#: what a part is soldered by
LEGS = lazy_pattern(r"\s*(?:\w+ )?(?:pins?|legs?|poles?)\b")
#: a plug by its number, that is no "times six"
NAMED_X = lazy_pattern(r"X\d+")
#: a piece by its sides: "5x30"
AREA = lazy_pattern(r"\d+\s?[x×]\s?\d+")
#: what makes a number the beginning of a drive's name: "three-wing"
OF_A_DRIVE = lazy_pattern(r"[ -]?(?:wing|lobe|point(?! \d))")
WASHER = lazy_pattern(r"(?:^|\s)washers?$")
#: millimetres told of screws, and what makes them the width of a tool
MM_OF_SCREWS = lazy_pattern(
    r"\b(?:mm|mil|mill?imet\w+) (?:long )?screws?\b|\bscrews? of [\w.-]+ ?(?:mm|mil|mill?imet\w+)\b"
)
WIDTH_TOLD = lazy_pattern(
    r"\b(?:hex\w*|heads?|spanner|wrench|socket|key|bit|driver|blade|slot\w*|across|af|nuts?|bolts?)\b"
)
#: words that are marked for a size at times and tell none
ONLY_UNIT = lazy_pattern(r"(?:mm|mil\w*|millimet\w*|and (?:a )?half|long|length|of|the)")
#: a size code with the length behind it, and what makes millimetres no length of a screw
CODE_BY_LENGTH = lazy_pattern(r"\b(?:PH|PZ|IP|T)\d+\s?[x×]\s?(\d{1,3})\b(?![.,]\d|\s?[x×])")
NO_LENGTH = lazy_pattern(
    r" ?(?:longer|shorter|deep|wide|thick|gap|apart|from|over|key|hex|spanner|socket|blade|drill|hole|wire)"
)
#: a rating behind a number: "5 A fuse"
RATED = lazy_pattern(
    r"\s?(?:A|V(?! ?-?(?:belt|groove))|W|mA|mAh|Ah|Hz|kHz|Ω|kΩ|VA)\b|\s(?:amps?|volts?|watts?|ohms?|grams?)\b"
)
#: things that a number counts and that are no screws
OF_OTHERS = lazy_pattern(
    r"\s*(?:\w+ )?(?:washers?|o-?rings?|seals?|gaskets?|spacers?|springs?|hands|fingers|hinges|shims?|steps?)\b"
)
#: acts on things that may be told by their numbers
BY_NUMBERS = frozenset("unscrew loosen fasten disconnect connect desolder".split())
#: what stands between a number and something else than what it counts
BETWEEN = lazy_pattern(r"[;:]|[.!?]\s|\b(?:under|from|with|for|in|into|on|onto|behind|by|drops?|turns?|times?)\b")
#: what stands between an act and the number of something else: "the lid came off with its two nuts"
WITH_OTHERS = lazy_pattern(r"[(]|\b(?:with|by|from|under|held|has|have)\b")
WHOLE = lazy_pattern(r"\b(?:the|its|both) $", re.IGNORECASE)
#: plugs that a number counts
PLUGS_COUNTED = lazy_pattern(r"\s*(?:[\w-]+ )?(?:plugs?|connectors?|conns?)\b")
#: what follows a number that counts what was named long before
COUNTED_LATE = lazy_pattern(r"\s*(?:of (?:them|those|these)|in all|all told|in total|altogether|passes|times)")
MOST_BETWEEN, MOST_AFTER = 4, 6
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
    action: lazy_pattern(rf"{_BEFORE}(?:{things})\b(?!['’-])")
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
POINT_BEFORE = lazy_pattern(r"\b(?:[a-z]+|\d+)[ -]point[ -]$", re.IGNORECASE)
#: a width in parts of an inch with what shows it to be one
WIDTH_IN_PARTS = lazy_pattern(
    r"(?<![\d/])\d{1,2}/\d{1,2}(?![\d/])(?:[ -]?(?:hex|heads?|spanner|wrench|socket|key|af|inch|in)\b)?", re.IGNORECASE
)
#: the number of a size said apart from its drive: "with star, number twenty"
NUMBERED = lazy_pattern(r"\b(?:number|size|no\.|nr|#) ?((?:twenty|thirty)[- ][a-z]+|[a-z]+|\d+)")
#: of several lengths one that is so much surer is meant
MUCH_SURER = 0.1
THREADED_ONLY = ("drive", "size", "thread", "head", "finish", "mixed", "length_mm")


def count(work: Utterance, act: Act) -> int | None:
    """How many, as marked; for fasteners also as counted aloud or as shorthand writes it."""
    figures = [s for role in ("size", "len", "len2", "value", "n2") for s in act.spans(role)]
    inch = inch_thread(work.text)
    spans = [
        (s.start, s.end)
        for s in act.spans("n")
        if not any(f.start < s.end and s.start < f.end for f in figures)
        and (_legs(act, work.text[s.end :]) or not patterns.MEASURED.match(work.text[s.end :].lower()))
        and not NAMED_X.fullmatch(s.words(work.text))
        and not OF_A_DRIVE.match(work.text[s.end :].lower())
        and not AREA.fullmatch(s.words(work.text))
        and not FRACTION.search(work.text[max(0, s.start - 3) : s.end + 3])
        and not RATED.match(work.text, s.end)
        and not (act.action in OF_SCREWS and OF_OTHERS.match(work.text[s.end :].lower()))
        and not (inch is not None and inch.start() < s.end and s.start < inch.end())
    ]
    left = all_but(work.region(act), work.vocabulary) if act.action in FASTENING else None
    if left is None and work.words(act).lower().endswith("s"):
        left = in_range(work.text[act.end :])
    if left is not None:
        return left
    numbered = by_numbers(work.region(act)) if act.action in BY_NUMBERS else None
    if numbered is None and act.action in OF_SCREWS and ONE_BY_NUMBER.search(work.region(act).lower()):
        return 1
    if numbered is None and act.action in FASTENING and not spans:
        numbered = so_many_of(work.region(act), act.action)
    if numbered is not None:
        return numbered
    if act.action == "correct":
        spans = spans[-1:]
    elif (act.action not in FASTENING or act.action in COUNTED_CLOSE) and act.start < len(work.text):
        spans = [
            s
            for n, s in enumerate(spans)
            if _counts(s, act, work.text)
            or _of_its_plugs(s, act, work)
            or (n and TAKEN_BACK.search(work.text[spans[n - 1][1] : s[0]].lower()))
        ]
    plugs = [s for s in spans if PLUGS_COUNTED.match(work.text[s[1] :].lower())]
    if act.action in ("disconnect", "connect") and plugs:
        spans = plugs  # "2 push tabs, 1 plug"
    marked = count_of(spans, work.text, work.vocabulary)
    if act.action == "correct" and marked is None:
        found = patterns.MANY.search(work.text.lower())
        return int(number_of(found[1], work.vocabulary) or 0) or None if found else None
    if act.action not in FASTENING:
        return marked or (1 if lone(work, act) else None)
    region = _without(work, act, figures)
    told_in = work.text if work.groups < 2 else region
    of_all = of_each(told_in, work.vocabulary) if act.action in EACH_MAY_HAVE else None
    if of_all is not None:
        return of_all
    counted = counted_aloud(region, work.vocabulary)
    if counted or not marked:
        alone = 1 if lone(work, act) else 2 if one_each_side(work, act) else None
        return counted or count_beside(region, work.vocabulary) or alone
    each = EACH_OF.search(work.text.lower()) if len(spans) == 1 else None
    if each is not None and (marked == 1 or spans[0][0] > each.start()) and (things := _as_many_as(work, each)):
        return marked * things  # "under each foot one screw", and there are four feet
    over = [times_over(work.text[start:end], work.text[end:]) for start, end in spans]
    whole = any(MAKES.search(work.text[:start].lower()) for start, _ in spans)  # "two each side, so that's four"
    if len(spans) == 2 and min(over) == 1 < max(over) and not whole:  # "three per side and one at the top"
        told = [number_of(work.text[slice(*s)], work.vocabulary) or 0 for s in spans]
        return int(sum(n * times for n, times in zip(told, over, strict=True)))
    if len(spans) == 1 and not _all_told(work.text, spans[0]):
        marked *= times_over(work.text[slice(*spans[0])], work.text[spans[0][1] : max(act.region[1], spans[0][1])])
    added = [
        s
        for s in act.spans("n2")
        if ON_TOP.search(work.text[: s.start]) and s.start > spans[0][0] and ":" not in work.text[spans[0][1] : s.start]
    ]
    more = int(sum(number_of(s.words(work.text), work.vocabulary) or 0 for s in added))
    within = marked - more in numbers_in(work.text, work.vocabulary)  # "of eleven, nine are T8 and two longer"
    return marked + more if more and marked < 100 and not within else marked


def lone(work: Utterance, act: Act) -> bool:
    """Whether an act without a number is told of one fastener: "the nut", "that grub screw", and none of several."""
    region = work.region(act).lower()
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
    text = work.text
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


def many_numbers(work: Utterance, act: Act) -> bool:
    """Whether three or more numbers stand for the count, so that what they come to is doubtful."""
    told = {number_of(s.words(work.text), work.vocabulary) for s in act.spans("n")}
    return len(act.spans("n")) > 2 and len(told) > 1 and counted_aloud(work.region(act), work.vocabulary) is None


def odd_ones(work: Utterance, act: Act) -> bool:
    """Whether some of the counted are told to be of another size: "six T8, but one is T9"."""
    told = len(act.spans("size")) > 1 and len(act.spans("n")) > 1
    return told and ODD_ONES.search(work.region(act).lower()) is not None


def some_each(work: Utterance, act: Act) -> bool:
    """Whether the count is told of each of several things, and nobody said how many there are."""
    told = act.action in EACH_MAY_HAVE and SOME_EACH.search(work.region(act).lower()) is not None
    return told and of_each(work.text, work.vocabulary) is None


def fastened(work: Utterance, act: Act) -> dict[str, Any]:
    """All figures of an act on fasteners."""
    region = work.region(act)
    sizes = [s for s in act.spans("size") if not ONLY_UNIT.fullmatch(s.words(work.text).lower())]
    act.figures = {**act.figures, "size": sizes}
    drive, size = _drive_and_size(work, act, region)
    told = [s for s in act.spans("len") if not any(z.start < s.end and s.start < z.end for z in sizes)]
    surest = max((s.sure for s in told), default=0.0)
    told.sort(key=lambda s: s.sure < surest - MUCH_SURER)
    lengths = [v for s in told if (v := length_of(s.words(work.text), work.vocabulary)) is not None]
    out: dict[str, Any] = {
        "joint": _kind(work, act),
        "count": count(work, act),
        "drive": drive,
        "size": size,
        "length_mm": lengths[0] if lengths else None,
        "parts": work.held(act),
        "reuse": reuse(region),
        **work.where(act),
    }
    hid = {name.lower() for name in out["under"]}  # what hid them is not what they hold, and no washer is
    out["parts"] = tuple(p for p in out["parts"] if p.lower() not in hid and not WASHER.search(p.lower()))
    if _a_length(work, act, out):
        out["size"], out["length_mm"] = "", float(out["size"])
    if lengths and out["count"] == lengths[0] and len(re.findall(rf"(?<!\d){out['count']}(?!\d)", region)) == 1:
        out["length_mm"] = None  # "P2 x6": one number is not both
    if out["length_mm"] is None or f"{out['length_mm']:g}" == re.sub(r"\D", "", out["size"]):
        out["length_mm"] = _length_beside(work, act, out) or out["length_mm"]
    inch = inch_thread(region)
    if inch is not None and out["size"] in re.findall(r"\d+", inch.group()):
        out["size"] = ""
    for item in items(region, work.vocabulary):
        if item.has("thread") and not out.get("thread"):
            thread = re.split(r"\s*[X×]\s*", item.may["thread"])
            out["thread"] = thread[0]
            if len(thread) > 1 and out["length_mm"] is None:
                out["length_mm"] = float(thread[-1].replace(",", "."))
        if item.has("head"):
            out.setdefault("head", item.may["head"])
        if item.has("finish") and not out.get("finish"):
            out["finish"] = item.may["finish"]
    if act.spans("n2") or act.spans("len2") or patterns.LONGER.search(region.lower()):
        out["mixed"] = True
    if out["joint"] not in ids_where("threaded"):
        for name in THREADED_ONLY:
            out.pop(name, None)
    return out


def _length_beside(work: Utterance, act: Act, told: dict[str, Any]) -> float | None:
    """The length that stands beside a size code, where nothing was marked for one: "PH1x8", "T6, 9 mm": no tool with a
    size code has a width in mm. None where there is none, or several."""
    region = work.region(act)
    if not re.match(r"[A-Z]", told["size"]):
        return None
    code = CODE_BY_LENGTH.search(region)
    if code is not None and told["count"] not in (None, int(code[1])):
        return float(code[1])
    spans = [s for role in ("value", "n2", "len2") for s in act.spans(role)]
    found = [
        i
        for i in quantities(region, work.vocabulary)
        if i.unit == "length"
        and not NO_LENGTH.match(region[i.end :].lower())
        and not any(s.start < act.region[0] + i.end and act.region[0] + i.start < s.end for s in spans)
    ]
    return found[0].number if len(found) == 1 else None


def _a_length(work: Utterance, act: Act, told: dict[str, Any]) -> bool:
    """Whether what was taken for the width of a tool is a length: millimetres said of screws of which neither drive nor
    head was told, "four 8 mm screws"."""
    plain = (
        told["drive"] in ("", "unknown") and told["length_mm"] is None and told["size"].replace(".", "", 1).isdigit()
    )
    if not plain or not MM_OF_SCREWS.search(work.region(act).lower()):
        return False
    return WIDTH_TOLD.search(work.region(act).lower()) is None


def reuse(region: str) -> str:
    """Whether fasteners are to be renewed, looked at, or used again; "" if nobody said."""
    low = region.lower()
    for rule, pattern in (
        ("renew", patterns.RENEW),
        ("inspect", patterns.INSPECT),
        ("reuse", patterns.REUSE),
    ):
        if pattern.search(low):
            return rule
    return ""


def with_letters(drive: str, size: str) -> str:
    """A size number with the letters of its drive: "8" of a hexalobular is T8."""
    row = drives().get(drive)
    if not (row and row.prefix):
        return "" if size == "0" else size  # no tool is nought wide
    return f"{row.prefix}{size}" if size and not size.startswith(row.prefix) else size


def _drive_and_size(work: Utterance, act: Act, region: str) -> tuple[str, str]:
    back = TAKEN_BACK.search(region.lower())
    if back:  # "tea eight, sorry, tea six"
        told = drive_of(region[back.end() :], work.vocabulary)
        if told[1] and told[0]:
            return told
    marked = _surest(work, act)
    if not marked:
        for span in act.spans("n"):  # "three hex socket screws" are no keys of three
            region = region.replace(span.words(work.text), " " * (span.end - span.start), 1)
        return _plainly(work, region)
    drive, size = drive_of(marked, work.vocabulary)
    if not drive and number_of(marked, work.vocabulary) is not None:
        drive = named_drive(region, work.vocabulary)
    if not drive:
        drive, elsewhere = drive_of(region, work.vocabulary)
        size = size or (elsewhere if elsewhere in _sizes(drive) else "")
    if not size:
        value = number_of(SIZE_WORD.sub("", marked.lower()), work.vocabulary)
        size = with_letters(drive, f"{value:g}") if value is not None else ""
    if drive == "external-hex" and KEY_BEHIND.match(work.text, work.text.find(marked) + len(marked)):
        drive = "hex-socket"  # "one hex bolt, 3 mm key"
    across = number_of(marked, work.vocabulary) if IN_MM.search(marked.lower()) else None
    if size and drive in BY_WIDTH and across is not None:
        return drive, f"{across:g}"  # told in mm, it is a width
    if size and _sizes(drive) and size not in _sizes(drive):
        again = drive_of(region.replace(marked, " "), work.vocabulary)
        if again[1] in _sizes(again[0] or drive):
            return again[0] or drive, again[1]
        size = re.sub(r"^[A-Z]+", "", size)
    return drive, size


KEY_BEHIND = lazy_pattern(r"\s*(?:hex )?key\b")
#: what names a size before its number
SIZE_WORD = lazy_pattern(r"^(?:number|size|no\.?|nr) ")


def _surest(work: Utterance, act: Act) -> str:
    """The words marked for a size: of several places the surest that tells one, else all of them."""
    spans = act.spans("size")
    for span in sorted(spans, key=lambda s: -s.sure) if len(spans) > 1 else ():
        words = _with_its_point(work.text, span)
        if drive_of(words, work.vocabulary)[1] or number_of(words, work.vocabulary) is not None:
            return words
    return _with_its_point(work.text, spans[0]) if len(spans) == 1 else work.of(act, "size")


def _with_its_point(text: str, span: Span) -> str:
    """The words of a number with what stands before its point or stroke: "five hex" of "one point five hex", "4 hex" of
    "1/4 hex"."""
    for found in WIDTH_IN_PARTS.finditer(text):
        if found.start() < span.end and span.start < found.end():
            return found.group()
    before = POINT_BEFORE.search(text[: span.start])
    return text[before.start() if before else span.start : span.end]


def _sizes(drive: str) -> tuple[str, ...]:
    row = drives().get(drive)
    return row.sizes if row and row.prefix else ()


def _plainly(work: Utterance, region: str) -> tuple[str, str]:
    """A size code or a drive's name that stands in the region, where the network marked none."""
    found = items(region, work.vocabulary)
    for item in found:
        if item.has("size"):
            drive, size = item.may["size"].split(" ")
            return drive, size
    named = next((item.may["drive"] for item in found if item.has("drive")), "")
    drive, size = key_near(region, work.vocabulary)
    if size and named in ("", drive):
        return drive, size
    numbered = NUMBERED.search(region.lower()) if _sizes(named) else None
    value = number_of(numbered[1], work.vocabulary) if numbered else None
    size = with_letters(named, f"{value:g}") if value is not None else ""
    return named, size if size in _sizes(named) else ""


def _kind(work: Utterance, act: Act) -> str:
    usual = JOINTS.get(act.action, "other")
    words = work.words(act).lower()
    if act.action == "drill":
        return "screw" if "screw" in words or "head" in words else "rivet"
    if act.action == "cut":
        return next((i.may["joint"] for i in items(words, work.vocabulary) if i.has("joint")), usual)
    return usual
