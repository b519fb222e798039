"""A sentence cut into items: words, numbers, quantities with their unit, and the phrases of the vocabulary."""

from __future__ import annotations

import re
from collections.abc import Mapping

from attrs import evolve, field, frozen
from text_to_num import text2num

from oddbolt.core.narration.language.grammar import CONJUNCTIONS, DETERMINERS, PARTICLES, STOPS
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.taken_back import FIGURE, NUMBER_WORDS
from oddbolt.core.narration.language.vocabulary import Vocabulary
from oddbolt.core.reference.tables import thread_of
from oddbolt.core.reference.units import UNITS

WORD = lazy_pattern(
    r"(?P<thread>[MS]\d+(?:[.,]\d+)?(?:\s?[x×]\s?\d+(?:[.,]\d+)?)*(?![\w]))"
    r"|(?P<size>(?:PH|PZ|IP|T|P|Y|R)\s?\d+)(?:[\'’]?s)?\b"
    r"|(?P<num>\d{1,3}(?:,\d{3})+(?:\.\d+)?|\d+(?:[.,]\d+)?(?=[\s\-/%°a-zA-Z×·.,;:!?)\"]|$))"
    r"|(?P<word>[^\W\d_]+(?:['’][^\W\d_]+)*\d*)"
    r"|(?P<word_>\+)|(?P<punct>[.,;:!?()/]|\s[-–—]+\s|[–—])",
    re.IGNORECASE,
)
DIGITS = frozenset("one two three four five six seven eight nine".split())
#: digits of the longest figure that is taken for a number
LONGEST_NUMBER = 15
#: words of the longest number in words: "nine hundred and ninety nine thousand nine hundred and ninety nine"
MOST_NUMBER_WORDS = 12
MILLIMETRES = ("mm", "millimetre", "millimetres", "millimeter", "millimeters")
CLASSES = ("verb", "joint", "drive", "size", "agent", "tool", "part", "place", "finish", "head", "plain")

#: widths in parts of an inch, as they stand on spanners: "1/4 hex", "3/16", "quarter-inch"; "2/4 screws" is none
_EIGHTHS = r"(?:half|quarter|eighth|(?:three|five|seven)[ -](?:eighths?|sixteenths?)|three[ -]quarters?)"
INCHES = lazy_pattern(
    r"(?<![\w./])(?:(?P<over>\d{1,2})/(?P<under>(?:16|32)(?![\w/])"
    r"|[248](?=[ -]?(?:inch|in\b|\"|hex|heads?\b|a/?f\b|spanner|wrench|socket|key|nut ?dr)))"
    r"(?:[ -]?(?:inch(?:es)?|in\b|\"))?"
    rf"|(?P<words>{_EIGHTHS})(?:[ -](?:(?:of )?an )?inch(?:es)?))",
    re.IGNORECASE,
)
#: "eight (8) screws": a number in words and again in figures.
SAID_TWICE = lazy_pattern(rf"\b({'|'.join(sorted(NUMBER_WORDS))})(\s*\(\s*\d{{1,3}}\s*\))", re.IGNORECASE)
#: "6-lobe", "3-wing": the number names the drive
LOBED = lazy_pattern(r"\b[356](?=[ -]?(?:lobe|wing)(?! ?nut)\w*\b)", re.IGNORECASE)
#: "speaking of the back plate, …"
LEAD = lazy_pattern(
    r"^(?:(?:and|so|now|ok|okay),? )?(?:speaking of|talking of|as for|on to|coming to)(?= )", re.IGNORECASE
)


@frozen
class Item:
    """A stretch of the sentence and all that it may be: class -> value."""

    text: str
    low: str
    start: int
    end: int
    number: float | None = None
    unit: str = ""
    may: Mapping[str, str] = field(factory=dict)
    punct: bool = False

    def has(self, cls: str) -> bool:
        """Whether the item may be of this class."""
        return cls in self.may


@frozen
class _Raw:
    text: str
    low: str
    start: int
    end: int
    kind: str


def items(sentence: str, vocabulary: Vocabulary) -> list[Item]:
    """Cut a sentence into items, longest phrases first."""
    raws = _raw(put_right(sentence), vocabulary)
    out: list[Item] = []
    i = 0
    while i < len(raws):
        item, used = _item(raws, i, sentence, vocabulary, out)
        out.append(item)
        i += used
    return _with_split_verbs(out, vocabulary)


def put_right(sentence: str) -> str:
    """The sentence with what was taken back at once, or said twice, and widths in parts of an inch, which count
    nothing, left blank, so that every place stays its own."""
    once = SAID_TWICE.sub(lambda again: again[1] + " " * len(again[2]), sentence)
    for aside in (LEAD, INCHES, LOBED):
        once = aside.sub(lambda words: " " * len(words.group()), once)
    return FIGURE.sub(lambda taken: " " * len(taken.group()), once)


def _with_split_verbs(found: list[Item], vocabulary: Vocabulary) -> list[Item]:
    """Read "switch the meter off" as "switch off": a verb and its particle with the object between them."""
    for i, item in enumerate(found):
        for words, cls, action in vocabulary.phrases.get(item.low, ()):
            if cls != "verb" or len(words) != 2 or words[1] not in PARTICLES | {"in", "on", "down"}:
                continue
            rest = found[i + 1 : i + 8]
            stop = next((k for k, r in enumerate(rest) if r.punct or r.low in CONJUNCTIONS), len(rest))
            if any(r.low == words[1] for r in rest[1:stop]) and not _names_a_thing(item, found[:i], vocabulary):
                found[i] = evolve(item, may={**item.may, "verb": action})
                break
    return found


def _raw(sentence: str, vocabulary: Vocabulary) -> list[_Raw]:
    out = []
    for match in WORD.finditer(sentence):
        kind = match.lastgroup or "word"
        text = match.group(kind)
        low = text.strip().lower().replace("’", "'")
        if kind == "punct":
            low = "-" if low[0] in "-–—" else low
        elif kind == "word_":
            kind, low = "word", "and"
        elif kind == "word":
            slash = low == "w" and sentence[match.end() : match.end() + 1] == "/"
            low = "with" if slash else vocabulary.slips.get(low, low)
        out.append(_Raw(text, low, match.start(), match.start() + len(text), kind))
    return out


def _item(raws: list[_Raw], i: int, sentence: str, vocabulary: Vocabulary, before: list[Item]) -> tuple[Item, int]:
    raw = raws[i]
    if raw.kind == "punct":
        return Item(raw.text, raw.low, raw.start, raw.end, punct=True), 1
    if raw.kind == "thread" and thread_of(raw.text):
        return Item(raw.text, raw.low, raw.start, raw.end, may={"thread": raw.text.upper()}), 1
    number, used = (None, 0) if _longer_phrase(raws, i, vocabulary) else _number(raws, i, vocabulary)
    if number is None and raw.low in vocabulary.number_slips and _slip_applies(raws, i, before, vocabulary):
        number, used = float(vocabulary.number_slips[raw.low]), 1
    if number is not None:
        unit, more = _unit(raws, i + used)
        scale = UNITS[unit][1] if unit else 1.0
        end = raws[i + used + more - 1].end
        dimension = UNITS[unit][0] if unit else ""
        return Item(
            sentence[raw.start : end], raw.low, raw.start, end, round(number * scale, 6), dimension
        ), used + more
    may: dict[str, str] = {}
    length = 1
    named = _names_a_thing(raw, before, vocabulary)
    for words, cls, value in vocabulary.phrases.get(_key(raw), ()):
        if len(words) < length:
            break
        if named and cls == "verb" and len(words) > 1:
            continue
        if all(i + k < len(raws) and _key(raws[i + k]) == w for k, w in enumerate(words)):
            if len(words) > length:
                may, length = {}, len(words)
            may.setdefault(cls, value)
    end = raws[i + length - 1].end
    low = " ".join(_key(r) for r in raws[i : i + length])
    return Item(sentence[raw.start : end], low, raw.start, end, may=may), length


def _names_a_thing(raw: _Raw | Item, before: list[Item], vocabulary: Vocabulary) -> bool:
    """Whether a word such as "screws" follows a number, a determiner or a drive, so that "screws in" is no verb."""
    if not before or vocabulary.verb_bases.get(raw.low, raw.low) not in vocabulary.nouns_too:
        return False
    last = before[-1]
    return (
        last.number is not None or last.low in DETERMINERS or bool({"drive", "size", "plain", "finish"} & set(last.may))
    )


def _longer_phrase(raws: list[_Raw], i: int, vocabulary: Vocabulary) -> bool:
    """Whether a number word begins a drive's name ("five-lobe")."""
    return any(
        cls == "drive" and len(words) > 1 and [_key(r) for r in raws[i : i + len(words)]] == list(words)
        for words, cls, _ in vocabulary.phrases.get(_key(raws[i]), ())
    )


def _key(raw: _Raw) -> str:
    return raw.low.replace(" ", "") if raw.kind == "size" else raw.low


def _names_fastener(raw: _Raw, vocabulary: Vocabulary) -> bool:
    classes = {cls for words, cls, _ in vocabulary.phrases.get(_key(raw), ()) if len(words) == 1}
    return raw.kind in ("size", "thread") or bool(classes & {"drive", "joint"})


def _number(raws: list[_Raw], i: int, vocabulary: Vocabulary) -> tuple[float | None, int]:
    """A number at ``i`` in figures or words, and how many tokens it takes."""
    raw = raws[i]
    if raw.kind == "num":
        text = raw.low
        if len(text) > LONGEST_NUMBER:
            return None, 0
        value = (
            float(text.replace(",", ""))
            if re.fullmatch(r"\d{1,3}(,\d{3})+(\.\d+)?", text)
            else float(text.replace(",", "."))
        )
        used = 1
        if i + 1 < len(raws) and raws[i + 1].low in ("x", "×"):
            fastener = i == 0 or any(_names_fastener(raw, vocabulary) for raw in raws[i + 2 : i + 7])
            if not _is_number(raws, i + 2) or (fastener and value == int(value)):
                used = 2
        return value, used
    if re.fullmatch(r"x\d{1,3}", raw.low):
        return float(raw.low[1:]), 1  # "screws x8"
    if raw.low == "half" and _lows(raws, i, 3) == ["half", "a", "dozen"]:
        return 6.0, 3
    if raw.low == "half" and _lows(raws, i, 3) in (
        ["half", "a", "gram"],
        ["half", "a", "newton"],
        ["half", "a", "minute"],
        ["half", "a", "millimetre"],
        ["half", "an", "hour"],
    ):
        return 0.5, 2
    if raw.low == "a" and _lows(raws, i, 3)[1:] in (["pair", "of"], ["couple", "of"]):
        return 2.0, 3
    if raw.low == "a" and _lows(raws, i, 2)[1:] in (["couple"], ["pair"], ["dozen"], ["single"]):
        return {"couple": 2.0, "pair": 2.0, "dozen": 12.0, "single": 1.0}[raws[i + 1].low], 2
    if raw.low in ("a", "an", "one") and _lows(raws, i, 5)[1:] in (
        ["hour", "and", "a", "half"],
        ["minute", "and", "a", "half"],
    ):
        return 1.5, 1
    if _lows(raws, i, 2) in (["a", "minute"], ["an", "hour"]):
        return 1.0, 1
    if _lows(raws, i, 4) == ["quarter", "of", "an", "hour"]:
        return 0.25, 2
    if _lows(raws, i, 5) == ["three", "quarters", "of", "an", "hour"]:
        return 0.75, 3
    if raw.low in ("dozen", "single") and (i == 0 or raws[i - 1].low != "a"):
        return {"dozen": 12.0, "single": 1.0}[raw.low], 1
    if raw.low not in NUMBER_WORDS:
        return None, 0
    j = i
    while j < min(len(raws), i + MOST_NUMBER_WORDS) and (
        raws[j].low in NUMBER_WORDS or (raws[j].low == "and" and _follows_hundred(raws, j))
    ):
        j += 1
    if j == i + 2 and {raws[i].low, raws[i + 1].low} <= DIGITS and _unit(raws, j)[0] in MILLIMETRES:
        after = raws[j + 1 : next((k for k in range(j + 1, len(raws)) if raws[k].kind == "punct"), len(raws))][:3]
        fastener = any(_names_fastener(raw, vocabulary) for raw in after if raw.kind == "word")
        if not fastener:  # "one five millimetre" is 1.5 mm, but "one five millimetre T6 screw" a screw of 5 mm
            return float(f"{text2num(raws[i].low, 'en')}.{text2num(raws[i + 1].low, 'en')}"), 2
    for end in range(j, i, -1):
        try:
            value = float(text2num(" ".join(_lows(raws, i, end - i)), "en"))
        except ValueError:
            continue
        tail = _lows(raws, end, 3)
        if tail[:3] == ["and", "a", "half"]:
            return value + 0.5, end - i + 3
        if tail[:1] == ["point"] and end + 1 < len(raws) and raws[end + 1].low in NUMBER_WORDS:
            return float(f"{value:g}.{text2num(raws[end + 1].low, 'en')}"), end - i + 2
        return value, end - i
    return None, 0


def _is_number(raws: list[_Raw], i: int) -> bool:
    return i < len(raws) and raws[i].kind == "num"


def _follows_hundred(raws: list[_Raw], j: int) -> bool:
    return raws[j - 1].low == "hundred" and j + 1 < len(raws) and raws[j + 1].low in NUMBER_WORDS


def _lows(raws: list[_Raw], i: int, n: int) -> list[str]:
    return [r.low for r in raws[i : i + n]]


def _unit(raws: list[_Raw], i: int) -> tuple[str, int]:
    """The unit at ``i`` and how many tokens it takes; a hyphen or "N·cm" may be in it."""
    if i >= len(raws):
        return "", 0
    if i + 1 < len(raws) and raws[i].low in ("a", "an") and raws[i + 1].low in ("minute", "hour", "millimetre", "gram"):
        return raws[i + 1].low, 2
    for n in (2, 1):
        words = _lows(raws, i, n)
        if len(words) == n and " ".join(words) in UNITS:
            return " ".join(words), n
    return "", 0


def _slip_applies(raws: list[_Raw], i: int, before: list[Item], vocabulary: Vocabulary) -> bool:
    """Whether a word such as "tree" or "for" stands where a number must: before a fastener, after a verb or 'the'."""
    j = i + 1
    while j < len(raws) and j <= i + 4:
        entries = vocabulary.phrases.get(_key(raws[j]), ())
        classes = {cls for words, cls, _ in entries if len(words) == 1}
        if "joint" in classes and raws[j].low.endswith("s"):
            break
        named = j == i + 1 and not entries and raws[j].kind == "word" and raws[j].low not in STOPS
        if not (named or classes & {"drive", "size", "plain", "finish"}):
            return False
        j += 1
    else:
        return False
    if j >= len(raws):
        return False
    if raws[i].low not in ("for", "to", "too"):
        return True
    last = before[-1] if before else None
    shown = ("there's", "there", "are", "is", "got", "find", "have", "see", "here's")
    heard = raws[i].low != "for" and last is not None and last.low in shown
    return heard or (last is not None and (last.has("verb") or last.low in DETERMINERS))
