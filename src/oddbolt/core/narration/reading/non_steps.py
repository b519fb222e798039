"""Sentences that are no acts at all: headings, garble, routes spoken of; and the variant a sentence is limited to."""

from __future__ import annotations

import re
from itertools import pairwise

from oddbolt.core.narration.draft import Mentioned
from oddbolt.core.narration.language.grammar import CONJUNCTIONS, DETERMINERS, PREPOSITIONS
from oddbolt.core.narration.language.nouns import noun_at
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.tokens import Item
from oddbolt.core.narration.language.vocabulary import Vocabulary

VARIANT = lazy_pattern(
    r"\b(?:only\s+)?(?:in|on|for|with)\s+the\s+((?:[\w'-]+\s+){1,4}?(?:version|model|variant|edition))\b|"
    r"\b((?:[\w'-]+\s+){1,3}(?:version|model|variant|edition))\s+only\b"
)


#: "the 600 W version has an additional fan shroud"
HAS_MORE = lazy_pattern(
    r"\bthe\s+((?:[\w'-]+\s+){1,4}?(?:version|model|variant|edition))\s+(?:also\s+)?(?:has|comes\s+with|carries|gets)\s+"
    r"(?:an?|the)\s+(?:additional|extra|second|further|different)\b"
)


def heading(low: str, vocabulary: Vocabulary) -> str:
    """ "back" or "apart" if the sentence only announces a passage, else "" """
    words = re.findall(r"[a-z']+", low)
    if not words or len(words) > 12 or words[0] in ("when", "before", "if", "once", "after", "until"):
        return ""
    filler = {
        "now",
        "ok",
        "okay",
        "so",
        "right",
        "and",
        "then",
        "time",
        "let's",
        "for",
        "the",
        "to",
        "of",
        "start",
        "begin",
        "with",
        "next",
        "we",
        "i",
        "i'll",
        "we'll",
        "are",
        "is",
        "it",
        "all",
        "on",
        "can",
        "starting",
        "i'm",
        "going",
        "go",
        "comes",
        "this",
        "part",
        "section",
        "complete",
        "done",
        "finished",
        "that's",
        "well",
        "up",
    }
    for phase in ("back", "apart"):
        match = vocabulary.marked(phase, " ".join(words))
        if match:
            rest = set(" ".join(words).replace(match.group(), " ").split()) - filler
            if not rest:
                return "" if {"complete", "done", "finished"} & set(words) else phase
    return ""


def garbled(found: list[Item]) -> bool:
    """Whether a passage is no English: a determiner straight before a preposition or a conjunction, or words doubled
    twice over, with no clear act."""
    words = [f.low if f.number is None else f.text.lower() for f in found if not f.punct]
    faults = 0
    for a, b in pairwise(words):
        if a in ("the", "a", "an") and b in (PREPOSITIONS | CONJUNCTIONS) - {
            "next",
            "inside",
            "like",
            "then",
            "so",
            "upon",
            "above",
            "past",
        }:
            faults += 2
        if (
            a == b
            and a in DETERMINERS | PREPOSITIONS | CONJUNCTIONS
            and a not in ("that", "in", "on", "so", "all", "this")
        ):
            faults += 1
        if (
            a in PREPOSITIONS
            and b in CONJUNCTIONS
            and a
            not in (
                "off",
                "on",
                "in",
                "over",
                "up",
                "out",
                "about",
                "before",
                "after",
                "along",
                "through",
                "under",
                "inside",
                "to",
                "below",
                "by",
                "across",
                "around",
                "with",
                "near",
                "underneath",
                "beneath",
                "behind",
                "within",
                "without",
                "upon",
            )
        ):
            faults += 1
    return faults >= 2


def mentioned_route(low: str, found: list[Item], vocabulary: Vocabulary, at_s: float | None) -> list[Mentioned] | None:
    """None if the sentence is no hypothetical; else the route it speaks of, if it names one."""
    if not vocabulary.marked("hypothetical", low):
        return None
    flat = list(found)
    target, through, seen_would = "", [], False
    i = 0
    while i < len(flat):
        item = flat[i]
        if (
            item.low in ("would", "you'd", "could", "can", "i'd", "we'd", "just", "have", "undo", "will", "you'll")
            and target
        ):
            seen_would = True
        if item.has("verb") and target:
            seen_would = True
        if item.has("verb") and not (item.has("part") or item.has("joint")):
            i += 1
            continue
        noun, used = noun_at(flat, i, vocabulary)
        if noun is not None and noun.words and not noun.pronoun:
            name = noun.name
            if (
                noun.kind in ("screw", "clip", "coax", "adhesive")
                or noun.is_tool
                or name.lower() in vocabulary.not_parts
            ):
                pass
            elif not target:
                target = name
            elif seen_would and name != target:
                through.append(name)
            i += used
            continue
        i += max(used, 1)
    return [Mentioned(target, tuple(dict.fromkeys(through)), at_s)] if target and through else []


def variant_in(text: str) -> str:
    """The variant a sentence is limited to, "dual sensor version"."""
    low = text.lower()
    match = VARIANT.search(low) or HAS_MORE.search(low)
    if not match:
        return ""
    limited = "only" in low or re.match(r"(?:in|on|for)\s+the\b", low) or HAS_MORE.search(low)
    begin, end = next(match.span(n) for n in range(1, len(match.groups()) + 1) if match.group(n))
    return re.sub(r"^(?:is|are|the|in|on|for|fitted|a|an)\s+", "", text[begin:end].strip()) if limited else ""
