"""Noun groups: what is spoken of, how many, with which drive, size, thread and length."""

from __future__ import annotations

from attrs import define, field

from oddbolt.core.narration.language.grammar import (
    ADVERBS,
    AUXILIARIES,
    DETERMINERS,
    EVERYDAY,
    PARTICLES,
    PREPOSITIONS,
    PRONOUNS,
    STOPS,
    SUBJECTS,
)
from oddbolt.core.narration.language.tokens import Item
from oddbolt.core.narration.language.verbs import is_plural, verb_at
from oddbolt.core.narration.language.vocabulary import Vocabulary

#: Verbs that are no act by themselves but carry one: "put some isopropanol along the edge", "use the pick".
LIGHT = frozenset(
    "put use using add drip squirt run spread inject brush pour dab give apply place let leave wait keep bin "
    "screw plug".split()
)


@define
class Noun:
    """A noun group. ``name`` is what is left when count, drive and plain adjectives are taken off."""

    start: int
    end: int
    words: list[str] = field(factory=list)
    kind: str = ""
    count: int | None = None
    count_span: tuple[int, int] | None = None
    more: bool = False
    drive: str = ""
    size: str = ""
    drive_span: tuple[int, int] | None = None
    thread: str = ""
    length_mm: float | None = None
    finish: str = ""
    head: str = ""
    definite: bool = False
    pronoun: str = ""
    plural: bool = False
    is_tool: bool = False
    is_agent: str = ""
    is_place: bool = False
    is_part: bool = False
    joint_tail: str = ""
    unknown: list[tuple[str, int, int]] = field(factory=list)
    each: bool = False

    @property
    def name(self) -> str:
        return " ".join(self.words)


#: A plug of one of these closes a hole and connects nothing.
BLANKS = frozenset("rubber plastic blanking sealing dummy foam screw cover silicone".split())
DEFINITE = frozenset("the these those that this all both them".split())
#: What stands between a size and a length: "T6 x 8", "M2 by 5".
TIMES = ("x", "×", "by")
#: what follows the number of ways of a plug, that is no count of plugs
WAYS = ("way", "pole", "core", "conductor", "pin", "p")
#: widths across flats of spanners, in mm
WIDTHS = (3, 60)


def add_figures(noun: Noun, more: Noun) -> None:
    """Add to a noun what stands behind it in parentheses: "the screws (6x slotted)"."""
    noun.count, noun.count_span = noun.count or more.count, noun.count_span or more.count_span
    noun.drive, noun.size = noun.drive or more.drive, noun.size or more.size
    noun.drive_span = noun.drive_span or more.drive_span
    noun.thread, noun.length_mm = noun.thread or more.thread, noun.length_mm or more.length_mm


def noun_at(chunk: list[Item], i: int, vocabulary: Vocabulary) -> tuple[Noun | None, int]:
    """The noun group that begins at ``i`` and how many items it takes; (None, 0) if none does."""
    first = chunk[i]
    if first.low in PRONOUNS and not noun_word(chunk, i + 1, vocabulary):
        tells = i + 1 < len(chunk) and chunk[i + 1].low in ("holds", "hold", "secure", "secures", "is")
        if first.low in ("that", "this") and tells:
            return None, 0
        return Noun(first.start, first.end, pronoun=first.low), 1
    return _NounReader(chunk, i, vocabulary).read()


class _NounReader:
    """Reads one noun group, item by item; ``at`` is the item being read."""

    def __init__(self, chunk: list[Item], i: int, vocabulary: Vocabulary) -> None:
        self.chunk, self.begin, self.at, self.vocabulary = chunk, i, i, vocabulary
        self.noun = Noun(chunk[i].start, chunk[i].end)
        self.named = False
        self.odd_number = False

    def read(self) -> tuple[Noun | None, int]:
        """The group and its number of items."""
        more = True
        while more and self.at < len(self.chunk):
            item = self.chunk[self.at]
            taken, more = self._number(item) if item.number is not None else (self._determiner(item), True)
            if not taken and item.number is None:
                taken = self._figure(item) or self._word(item)
            if not taken:
                break
            self.noun.end = item.end
            self.at += 1
        n = self.noun
        said = n.words or n.count is not None or n.drive or n.size or n.length_mm or n.pronoun or n.thread or n.finish
        alone = n.count == 1 and n.count_span is None and not (n.more or n.definite or n.drive or n.size or n.thread)
        if self.at == self.begin or not said or (alone and not n.words and self.at - self.begin == 1):
            return None, 0
        if not n.words and not n.kind and n.definite and not (n.drive or n.thread) and n.count is not None:
            n.pronoun = "those"
        self._sorted()
        return n, self.at - self.begin

    def _next(self) -> Item | None:
        return self.chunk[self.at + 1] if self.at + 1 < len(self.chunk) else None

    def _number(self, item: Item) -> tuple[bool, bool]:
        """(whether the number belongs to the group, whether the group may go on after it)"""
        noun, before, after = self.noun, self.chunk[self.at - 1] if self.at > self.begin else None, self._next()
        if item.unit == "length":
            if after is not None and after.has("drive") and not after.has("plain"):
                noun.size = f"{item.number:g}"
            elif self.named and not noun.kind and not (noun.drive or noun.size):
                return False, False
            else:
                noun.length_mm = item.number
            return True, not noun.kind or (after is not None and after.has("joint"))
        if item.unit:
            return False, False
        if before is not None and before.low in TIMES:
            noun.length_mm = item.number
            return True, True
        if self.named and noun.kind and noun.count is not None:
            return False, False
        value = item.number or 0.0
        wide = self.named and noun.joint_tail in ("nut", "bolt") and not (noun.size or item.low.startswith("x"))
        if wide and WIDTHS[0] <= value <= WIDTHS[1]:  # "pot nut 11"
            noun.drive, noun.size = noun.drive or "external-hex", f"{value:g}"
            return True, True
        an = before is not None and before.low in ("a", "an") and after is not None
        if an and after is not None and after.low in ("nut", "bolt") and WIDTHS[0] < value <= WIDTHS[1]:
            noun.drive, noun.size, noun.count = "external-hex", f"{value:g}", 1  # "a fourteen nut"
            return True, True
        if after is not None and after.low in WAYS and not noun.kind and self.at + 2 < len(self.chunk):
            self.at += 1  # "ten-way ribbon"
            return True, True
        if noun.count is None and not (noun.drive or noun.size) and value == int(value) and 0 < value <= 500:
            alone = not noun_word(self.chunk, self.at + 1, self.vocabulary)
            if item.low == "one" and alone and (noun.definite or after is None):
                noun.pronoun = "one"
            noun.count, noun.count_span = int(value), (item.start, item.end)
        elif after is not None and after.has("size") and value == noun.count and not item.low.startswith("x"):
            noun.count_span = (item.start, item.end)  # "feet 4 -> 4 T10": the same number once more is no length
        else:
            self.odd_number = True
            if item.low.startswith("x") and noun.length_mm is not None:
                noun.length_mm = value  # "3.5x16": the second figure is the length
            if item.low[:1] in ("x", "×") or item.low[:1].isdigit():  # "four of the five screws": no length
                noun.length_mm = value if noun.length_mm is None and 0.3 <= value <= 100 else noun.length_mm
        return True, True

    def _determiner(self, item: Item) -> bool:
        noun = self.noun
        if item.low in DETERMINERS and not (self.named or noun.words or noun.kind):
            noun.each = noun.each or item.low in ("each", "every", "either")
            noun.definite = noun.definite or item.low in DEFINITE
            after = self._next()
            if item.low == "both":
                noun.count, noun.count_span = 2, (item.start, item.end)
            elif item.low in ("a", "an", "another") and noun.count is None and (after is None or after.number is None):
                noun.count, noun.more = 1, item.low == "another"
            elif item.low == "another":
                noun.more = True
            return True
        if item.low == "of" and (noun.count is not None or noun.definite) and not noun.words and not noun.kind:
            return True
        if item.low in ("more", "further", "additional", "extra"):
            noun.more = True
            return True
        return False

    def _figure(self, item: Item) -> bool:
        """Drive, size, thread, finish and head."""
        noun, chunk, at = self.noun, self.chunk, self.at
        named_tool = item.has("tool") and (at + 1 == len(chunk) or chunk[at + 1].low in STOPS)
        if item.has("size") or (item.has("drive") and not named_tool and _drives_here(chunk, at)):
            value = item.may.get("size") or item.may["drive"]
            noun.drive, _, size = value.partition(" ")
            noun.size = size or noun.size
            noun.drive_span = (item.start, item.end)
            if not item.has("size") and not self.odd_number and at and chunk[at - 1].unit == "length":
                noun.drive_span = (chunk[at - 1].start, item.end)
            return True
        if item.low in TIMES and (noun.size or noun.thread or noun.drive):
            after = self._next()
            return after is not None and after.number is not None
        if item.has("thread"):
            thread, _, rest = item.may["thread"].replace("×", "X").partition("X")
            noun.thread = thread.strip()
            tail = rest.replace(",", ".").split("X")[-1]
            noun.length_mm = float(tail) if tail and float(tail) >= 1 else noun.length_mm
            return True
        return False

    def _word(self, item: Item) -> bool:
        noun = self.noun
        if item.has("joint") and not _acts(self.chunk, self.at, self.vocabulary):
            noun.kind, noun.joint_tail, noun.plural = item.may["joint"], item.low, is_plural(item)
            noun.words.append(item.text)
        elif item.has("finish") and not item.has("part"):
            noun.finish = item.may["finish"]
            return True
        elif item.has("head"):
            noun.head = item.may["head"]
            return True
        elif item.has("plain") and not noun.words:
            noun.definite = noun.definite or item.low in ("same", "last", "remaining")
            return True
        elif item.low in ("marked", "labelled", "labeled") and noun.words and self._next() is not None:
            self.at += 1  # "the plug marked CN3"
            noun.words.insert(-1, self.chunk[self.at].text)
            noun.end = self.chunk[self.at].end
            return True
        elif not noun_word(self.chunk, self.at, self.vocabulary):
            return False
        elif item.low.endswith("'s"):
            noun.words.append(item.text[:-2])
        elif noun.kind and noun.plural and not item.has("joint"):
            return False
        else:
            noun.words.append(item.text)
            noun.kind = "" if noun.kind and not item.has("joint") else noun.kind
            noun.plural = is_plural(item)
            if not item.may and not item.has("verb"):
                noun.unknown.append((item.low, item.start, item.end))
        self.named = True
        return True

    def _sorted(self) -> None:
        """Tell what sort of thing it is; take a count that stands behind it in parentheses."""
        noun, chunk = self.noun, self.chunk
        last, items = chunk[self.at - 1], chunk[self.begin : self.at]
        if noun.words and noun.count is None and [c.low for c in chunk[self.at : self.at + 3 : 2]] == ["(", ")"]:
            counted = chunk[self.at + 1]
            if counted.number is not None and not counted.unit:
                noun.count, noun.count_span = int(counted.number), (counted.start, counted.end)
                self.at += 3
        if noun.kind == "connector" and noun.joint_tail in ("plug", "plugs") and noun.words[0].lower() in BLANKS:
            noun.kind = ""
        some = self.at < len(chunk) and chunk[self.at].low == "of"
        noun.is_tool = last.has("tool") and last.low == noun.name.lower() and not some
        noun.is_agent = last.may.get("agent", "") if not last.has("part") else ""
        noun.is_place = any(c.has("place") for c in items) and last.has("place")
        noun.is_part = not noun.kind and (last.has("part") or last.low in ("plug", "plugs"))


def _drives_here(chunk: list[Item], j: int) -> bool:
    """A drive word counts before a fastener or a number, or where the group ends ("six slotted")."""
    nxt = next(
        (
            c
            for c in chunk[j + 1 :]
            if not (c.has("plain") or c.has("head") or c.has("finish") or c.has("size") or c.number is not None)
        ),
        None,
    )
    return nxt is None or nxt.punct or nxt.may.get("joint") == "screw" or nxt.low in STOPS


def _acts(chunk: list[Item], j: int, vocabulary: Vocabulary) -> bool:
    return chunk[j].has("verb") and verb_at(chunk, j, vocabulary)


def _after_subject(chunk: list[Item], j: int) -> bool:
    """Whether a word nobody taught stands where only a verb can: after "you", "they", "to" or "can"."""
    k = j - 1
    while k >= 0 and chunk[k].low in ADVERBS:
        k -= 1
    return (
        k >= 0
        and chunk[k].low in SUBJECTS | {"to", "can", "will", "would", "could", "must", "should"}
        and chunk[k].low not in ("it", "there")
    )


def noun_word(chunk: list[Item], j: int, vocabulary: Vocabulary) -> bool:
    if j >= len(chunk):
        return False
    item = chunk[j]
    if item.punct or item.number is not None:
        return False
    alone = j + 1 == len(chunk) or chunk[j + 1].low in PARTICLES | PREPOSITIONS
    if item.low in EVERYDAY and item.has("part") and j == 0 and alone:
        return True  # "lift cover"
    if (
        item.low in EVERYDAY
        and item.may
        and j
        and (chunk[j - 1].low in DETERMINERS or any(chunk[j - 1].has(c) for c in ("plain", "part", "place")))
    ):
        return True
    followed = j + 1 < len(chunk) and chunk[j + 1].has("part")
    if item.has("place") and followed and j and chunk[j - 1].number is not None:
        return True  # "3.5x16 back panel"
    if item.low in STOPS and not (item.has("place") and j and chunk[j - 1].low in DETERMINERS | PREPOSITIONS):
        return False
    if (
        not item.may
        and item.low.endswith("ed")
        and not (j and (chunk[j - 1].low in DETERMINERS or chunk[j - 1].has("plain")))
    ):
        return False
    if not item.may and item.low.endswith("ing") and j and chunk[j - 1].low in AUXILIARIES | ADVERBS | {"by"}:
        return False
    if not item.may and item.low == "working":
        return False
    if not item.may and _after_subject(chunk, j):
        return False
    if item.low in LIGHT and not item.may:
        following = chunk[j + 1] if j + 1 < len(chunk) else None
        return bool(j and chunk[j - 1].low in DETERMINERS and following is not None and following.has("part"))
    if item.has("verb") and " " in item.low and item.low.split()[0].endswith("ing"):
        return False
    if any(c.startswith("rel-") for c in item.may) and not item.has("part"):
        return False
    if item.low.endswith("ly") and not item.may:
        return False
    return not (item.has("verb") and verb_at(chunk, j, vocabulary))
