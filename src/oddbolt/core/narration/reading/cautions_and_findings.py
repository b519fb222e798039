"""Cautions and findings: what a sentence says beside its acts."""

from __future__ import annotations

import re

from oddbolt.core.narration.draft import DraftNote
from oddbolt.core.narration.language.nouns import noun_at
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.tokens import Item
from oddbolt.core.narration.language.vocabulary import Vocabulary
from oddbolt.core.narration.part_facts import marked_part
from oddbolt.core.narration.reading.sentence_state import SentenceState
from oddbolt.core.reference.units import BASE_UNIT

DEGREE = (
    r"(?:(?:slightly|quite|a\s+bit|a\s+little|a\s+lot|a\s+fair\s+bit|much|noticeably|clearly|also|half\s+a\s+millimet(?:re|er)"
    r"|[\d.]+\s*mm)\s+)*"
)


LONGER = lazy_pattern(
    r"\b(?:(?:the\s+)?(?P<a>\w+)\s+(?:of\s+(?:them|those|these|the\s+\w+)\s+)?"
    r"(?:(?:at|by|in|near|on|under|next\s+to)\s+the\s+(?:\w+\s+){1,3})?(?:is|are|being|was|were)\s+"
    + DEGREE
    + r"(?:longer|shorter|long|short)"
    r"|with\s+(?P<b>\w+)\s+" + DEGREE + r"(?:longer|shorter)"
    r"|(?P<c>\w+)\s+of\s+(?:them|those|these)\s+" + DEGREE + r"(?:longer|shorter|long|short))\b"
)


def longer_in(low: str, vocabulary: Vocabulary) -> re.Match[str] | None:
    """Words that some screws are longer or shorter than others; a short cable is none."""
    found = LONGER.search(low)
    told = vocabulary.phrases.get(found["a"] or "", ()) if found else ()
    other = any(cls == "part" or (cls == "joint" and joint != "screw") for words, cls, joint in told if len(words) == 1)
    return None if other else found


MARK = lazy_pattern(
    r"\b(\d+(?:\.\d+)?|half|one|two|three|four|five|six|seven|eight|nine|ten)(\s+(?:and\s+a\s+half|point\s+five))?\s*(?:out\s+of|/)\s*(10|ten)\b"
)


NUMBERS = ["zero", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve"]


def findings_in(work: SentenceState, found: list[Item]) -> list[DraftNote]:
    """Specs, marks out of ten, praise, complaint and damage."""
    out: list[DraftNote] = []
    low, vocabulary = work.low, work.vocabulary
    for i, item in enumerate(found):
        if item.unit in ("charge", "energy", "voltage", "power", "memory") and item.number is not None:
            noun, _ = noun_at(found, i + 1, vocabulary) if i + 1 < len(found) else (None, 0)
            named = noun.name if noun is not None and noun.words else work.topic
            named = _owner_of_spec(work, found, i, named, noun is not None and bool(noun.words))
            value = int(item.number) if item.number == int(item.number) else item.number
            out.append(
                DraftNote(
                    "spec",
                    work.text.strip(),
                    work.at_s,
                    part=named,
                    quantity=item.unit,
                    value=value,
                    unit=BASE_UNIT[item.unit],
                )
            )
    for match in MARK.finditer(low):
        word = match.group(1)
        value = float(word) if word[0].isdigit() else float(NUMBERS.index(word)) if word in NUMBERS else 0.5
        value += 0.5 if match.group(2) else 0.0
        out.append(
            DraftNote(
                "mark", work.text.strip(), work.at_s, value=int(value) if value == int(value) else value, out_of=10
            )
        )
    if not out and vocabulary.tagger is None:
        named, facts = marked_part(work.text)
        if facts.marking and named:
            out.append(DraftNote("identify", facts.marking, work.at_s, part=named, **facts.json()))
    if not out:
        for kind in ("damage", "complaint", "praise"):
            if vocabulary.marked(kind, low) and not (kind == "damage" and vocabulary.marked("caution_lead", low)):
                about = work.topic if any(p in low for p in (" it", "that", "this")) else ""
                out.append(DraftNote(kind, work.text.strip(), work.at_s, part=about))
                break
    return out


def _owner_of_spec(work: SentenceState, found: list[Item], i: int, named: str, explicit: bool) -> str:
    if explicit and len(named.split()) == 1:
        return work.memory.full_name(named)
    if not explicit:
        for j in range(i):
            noun, _ = noun_at(found, j, work.vocabulary)
            if (
                noun is not None
                and noun.words
                and not noun.pronoun
                and noun.name.lower() not in work.vocabulary.not_parts
            ):
                return work.memory.full_name(noun.name) if len(noun.words) == 1 else noun.name
    return named


def cautions_in(work: SentenceState) -> list[DraftNote]:
    """Warnings, and screws that must be kept apart."""
    low, vocabulary = work.low, work.vocabulary
    longer = longer_in(low, vocabulary)
    out: list[DraftNote] = []
    if longer or vocabulary.marked("mixed", low) or vocabulary.marked("apart_keep", low):
        about_screws = bool(work.made or work.amended)
        if longer and (about_screws or vocabulary.marked("apart_keep", low) or _recent_screws(work)):
            out.append(
                DraftNote(
                    "mixed lengths",
                    work.text.strip(),
                    work.at_s,
                    count=_count_word(next(g for g in longer.groups() if g)),
                )
            )
        elif about_screws:
            out.append(DraftNote("mixed screws", work.text.strip(), work.at_s))
        return out
    match = vocabulary.marked("caution_lead", low)
    if (
        match
        and not re.search(
            r"\bcan(?:not|'t| not)\b.{0,30}\b"
            r"(?:see|tell|find|remember|believe|wait|be (?:re)?ordered|be reused|recommend)\b",
            low,
        )
        and match.group() != "without"
    ):
        negative = vocabulary.marked("reuse-renew", low)
        if not negative:
            out.append(
                DraftNote("warning", work.text.strip(), work.at_s, part=work.topic if work.sentence_parts else "")
            )
    return out


def _recent_screws(work: SentenceState) -> bool:
    return any(s.joint == "screw" for s in work.memory.steps[-2:])


def _count_word(word: str) -> int | None:
    if word.isdigit():
        return int(word)
    return NUMBERS.index(word) if word in NUMBERS else None
