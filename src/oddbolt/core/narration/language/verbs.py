"""Whether a word that may be a verb stands as one."""

from __future__ import annotations

from oddbolt.core.narration.language.grammar import (
    ADVERBS,
    AUXILIARIES,
    DETERMINERS,
    PARTICLES,
    PREPOSITIONS,
    PRONOUNS,
    STOPS,
    SUBJECTS,
)
from oddbolt.core.narration.language.tokens import Item
from oddbolt.core.narration.language.vocabulary import Vocabulary

#: Words after which "removing" is a verb.
BEFORE_ING = frozenset(
    "before after by start begin without when while not keep bother avoid stop try mind recommend finish "
    "continue".split()
)


def verb_at(chunk: list[Item], i: int, vocabulary: Vocabulary) -> bool:
    """Whether the item stands as a verb here."""
    item = chunk[i]
    if not item.has("verb"):
        return False
    first = item.low.split()[0]
    before = [c for c in chunk[:i] if c.low not in ADVERBS]
    last = before[-1] if before else None
    if last is not None and last.low == "to":
        return True
    ing, past = first.endswith("ing"), is_past(first, vocabulary)
    if last is None:
        if ing:
            return True
        if item.has("joint") or item.has("part"):
            return starts_object(chunk, i + 1) and not is_plural(item)
        if past:
            return starts_object(chunk, i + 1)
        if " " in item.low and first.endswith("s"):
            return True
        return not (
            first.endswith("s") and first not in vocabulary.nouns_too and vocabulary.verb_bases.get(first) != first
        )
    nounish = item.has("joint") or first in vocabulary.nouns_too or item.has("part") or item.has("tool")
    if last.low in DETERMINERS and not (last.low in PRONOUNS and not nounish):
        return False
    if last.number is not None or last.has("drive") or last.has("size") or last.has("plain"):
        return (not nounish and not ing and last.low not in ("last", "first", "next")) or (last.has("joint"))
    if ing:
        return last.low in AUXILIARIES | BEFORE_ING
    if first in ("free", "open", "fit", "seat") and last.low in ("is", "are", "now", "was", "be"):
        return False
    if last.low in AUXILIARIES or last.low in SUBJECTS or last.low in PRONOUNS or last.low in ("please", "not"):
        return True
    if last.low in PREPOSITIONS:
        return False
    if past and first not in vocabulary.nouns_too:
        return True
    if " " in item.low and item.low.split()[-1] in PARTICLES and is_plural(last):
        return True  # "the panels lift off", whatever panels are
    if nounish and not (last.has("joint") or last.has("part")):
        return False
    if nounish and first.endswith("s") is False and not is_plural(last):
        return (
            starts_object(chunk, i + 1, strict=True) is False and i + 1 < len(chunk) and chunk[i + 1].low in PARTICLES
        )
    return True


def is_past(word: str, vocabulary: Vocabulary) -> bool:
    base = vocabulary.verb_bases.get(word, word)
    return word != base and not word.endswith(("s", "ing"))


def is_plural(item: Item) -> bool:
    return item.low.endswith("s") and not item.low.endswith("ss")


def starts_object(chunk: list[Item], i: int, strict: bool = False) -> bool:
    if i >= len(chunk):
        return False
    item = chunk[i]
    if (
        item.low in DETERMINERS
        or item.number is not None
        or item.low in PRONOUNS
        or item.has("size")
        or item.has("drive")
    ):
        return True
    if strict:
        return False
    return item.low not in STOPS or item.low in PARTICLES or item.low in ADVERBS
