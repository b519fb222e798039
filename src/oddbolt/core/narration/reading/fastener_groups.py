"""Groups of fasteners, each counted once however often it is spoken of."""

from __future__ import annotations

import re
from typing import Any

from oddbolt.core.narration.draft import DraftStep, evolve
from oddbolt.core.narration.language.clauses import Clause
from oddbolt.core.narration.language.nouns import Noun
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.memory import singular
from oddbolt.core.narration.reading.sentence_state import FASTENERS, SentenceState


def of_them(work: SentenceState, noun: Noun) -> bool:
    tail = work.low[noun.count_span[1] if noun.count_span else noun.end :].strip()
    return tail.startswith(("of them", "of those", "of these", "are ", "is "))


def is_new_group(noun: Noun, clause: Clause) -> bool:
    """Whether named fasteners without a verb are worth a step: they are counted, or their drive is named."""
    if clause.existential and noun.kind == "screw" and noun.count == 1 and not noun.plural:
        return True
    if noun.kind == "clip":
        return noun.count is not None and noun.count_span is not None
    return (noun.count is not None and noun.count_span is not None) or bool(noun.drive or noun.size)


def _times(work: SentenceState, clause: Clause) -> int:
    """Two for "a screw under each sticker" after two stickers were spoken of."""
    for noun in (*(n for _, n in clause.placed), work.seen_each):
        if noun is not None and noun.each and noun.words:
            return work.memory.counts.get(singular(noun.words[-1]), 1)
    return 1


SELF = lazy_pattern(r"(?:and |so )?(?:it's|they're|it is|they are)\b")
#: "once those four are gone", "with those out": told as done.
TOLD_WHEN = lazy_pattern(
    r"(?:and |so |then )?(?:once|when|with|after)\b.*\b(?:gone|out|away|off|loose|undone|removed)$"
)
SAME = lazy_pattern(
    r"\bsame (?:driver|drive|bit|screwdriver|type|kind|screws?|size|as (?:the|those) (?:others?|other ones|first))\b"
)
HAS = lazy_pattern(r"\b(?:has|have|had|has got|have got|with|needs) (?:only |just |another )?(?:\w+ ){0,1}$")
EACH = lazy_pattern(r"\b(?:each|every|either|ea)\b")
TOTAL = lazy_pattern(r"\b(?:that's|that is|makes|make|making|in total|altogether|all in all|a total of)\b")


def count_group(work: SentenceState, clause: Clause, noun: Noun, acted: bool, action: str) -> None:
    kind = noun.kind or "screw"
    if noun.pronoun or (not noun.kind and not noun.size and not noun.drive):
        last = work.last_group()
        kind = last.joint if last is not None else kind
    fields = work.where(clause, parts_too=True)
    count = noun.count
    latest = work.made[-1] if work.made else None
    if not acted and latest is not None and latest.joint == kind and count and TOTAL.search(clause.text):
        work.update(latest, count=max(count, latest.count or 0))
        return
    if count is None and noun.kind and not noun.plural:
        count = 1
    if (
        clause.held
        and not fields.get("parts")
        and re.match(r"(?:and |so )?(?:it's|they're|it is|they are)\b", clause.text)
    ):
        fields["parts"] = (work.topic,) if work.topic else ()
    if clause.held and not fields.get("parts"):
        holding = [n for n in clause.subjects if n is not noun and n.kind not in FASTENERS]
        named = [n for n in holding if n.words] or holding  # "it turns out the front is held by four"
        fields["parts"] = tuple(filter(None, (work.part_name(n) for n in named)))
    has = HAS.search(work.text[: noun.start].lower())
    holder = next((n for n in clause.subjects if n is not noun and n.is_part and n.end < noun.start), None)
    if not acted and has and holder is not None and not fields.get("parts"):
        fields["parts"] = (work.part_name(holder),)  # "the bracket has three PH1 screws"
    if clause.linked == "and" and work.held_by and not fields.get("parts"):
        fields["parts"] = (work.held_by,)
    if count is not None and noun.kind and not (noun.definite and "either" in clause.text):
        count *= work.sides(clause) * _times(work, clause)
    latest = work.last_group()
    screws = latest is not None and latest.joint == "screw" and not latest.size
    if not acted and noun.size and not noun.kind and not noun.count_span and latest is not None and screws:
        outside = latest.drive == "stand-off" and noun.drive == "hex-socket"
        work.memory.drive = ("external-hex" if outside else noun.drive, noun.size)
        work.update(latest, drive=work.memory.drive[0], size=noun.size)
        return
    if noun.joint_tail.startswith("stand"):
        noun = evolve(noun, drive={"": "stand-off", "hex-socket": "external-hex"}.get(noun.drive, noun.drive))
    if noun.joint_tail.split()[-1:] in (["nut"], ["nuts"]) and noun.drive in ("", "hex-socket"):
        noun = evolve(noun, drive="external-hex")
        if not noun.size and noun.length_mm:
            noun = evolve(noun, size=f"{noun.length_mm:g}", length_mm=None)
    across = next((n.length_mm for _, n in clause.placed if n.name.lower() in ("head", "heads") and n.length_mm), None)
    if across and not (noun.drive or noun.size):
        noun = evolve(noun, drive="external-hex", size=f"{across:g}")  # "bolts with an 8 mm head"
    fields |= {
        "joint": kind,
        "count": count,
        "drive": noun.drive,
        "size": noun.size,
        "thread": noun.thread,
        "length_mm": noun.length_mm,
        "finish": noun.finish,
        "head": noun.head,
    }
    if not fields.get("parts") and noun.words and len(noun.words) > 1 and noun.kind:
        owner = work.modifier_part(noun)
        if owner:
            fields["parts"] = (owner,)
    if not noun.kind and noun.words and (noun.size or noun.drive):
        fields["parts"] = (work.part_name(noun),)
        fields["joint"] = "screw"
    if work.lead_place and not fields.get("place") and not fields.get("parts"):
        known = work.head_is_part(work.lead_place)
        fields |= {"parts": (work.memory.full_name(work.lead_place),)} if known else {"place": work.lead_place.lower()}
    if noun.more and (noun.pronoun or not noun.drive) and not noun.size:
        last = work.last_group()
        if last is not None and noun.pronoun:
            fields |= {"drive": last.drive, "size": last.size, "thread": last.thread, "joint": last.joint}
    if work.purpose_parts and not fields.get("parts"):
        fields["parts"] = work.purpose_parts
    if not fields.get("drive") and SAME.search(work.low):
        fields["drive"], fields["size"] = work.memory.drive
    existing = _same_group(work, noun, fields, acted)
    if existing is not None:
        _merge(work, existing, fields, clause, noun, acted)
        return
    if not acted and not is_new_group(noun, clause):
        return
    if noun.pronoun and not noun.kind and not (noun.more and noun.count and work.last_group()):
        return
    if work.seen_under and not fields.get("under"):
        fields["under"] = work.seen_under
    if fields.get("drive"):
        work.memory.drive = (fields["drive"], fields["size"])
    work.emit(clause, action, nouns=[noun], **fields)
    if not acted:
        work.memory.only_mentioned.add(work.made[-1].ref)


def _same_group(work: SentenceState, noun: Noun, fields: dict[str, Any], acted: bool) -> DraftStep | None:
    """An earlier group that these words speak of again, so that a count said twice is counted once."""
    here = [s for s in work.made if s.joint == fields["joint"] and s.action in ("unscrew", "unclip")]
    if here and not noun.more:
        last = here[-1]
        if noun.pronoun or _agrees(last, fields):
            clear = noun.pronoun or fields["count"] in (None, last.count) or last.count is None
            if clear and not (
                acted and last.ref not in work.memory.only_mentioned and fields["count"] and not noun.definite
            ):
                return last
        return None
    if noun.more:
        return None
    recent = [s for s in work.memory.steps[-3:] if s.joint == fields["joint"] and s.action in ("unscrew", "unclip")]
    if not recent:
        return None
    last = recent[-1]
    if not (acted or noun.definite or noun.pronoun or last.parts) and fields.get("parts"):
        return None
    mentioned = last.ref in work.memory.only_mentioned
    if noun.pronoun:
        return last if mentioned or not acted or work.is_latest(last) else None
    if not _agrees(last, fields):
        return None
    same = fields["count"] is not None and fields["count"] == last.count
    if mentioned and (same or (fields["count"] is None and noun.definite)):
        return last
    if not acted and noun.definite and (same or fields["count"] is None) and work.is_latest(last):
        return last
    if (
        acted
        and noun.definite
        and same
        and work.is_latest(last)
        and not noun.drive
        and not fields.get("parts")
        and not fields.get("place")
    ):
        return last
    return None


def _agrees(step: DraftStep, fields: dict[str, Any]) -> bool:
    for key in ("drive", "size", "thread", "finish"):
        mine, theirs = getattr(step, key), fields.get(key)
        family = key == "drive" and (str(mine).startswith(str(theirs)) or str(theirs).startswith(str(mine)))
        if mine and theirs and mine != theirs and mine != "unknown" and not family:
            return False
    return not (fields.get("parts") and step.parts and not set(fields["parts"]) & set(step.parts)) and not (
        fields.get("place") and step.place and fields["place"] != step.place
    )


def _merge(
    work: SentenceState, step: DraftStep, fields: dict[str, Any], clause: Clause, noun: Noun, acted: bool
) -> None:
    changes = {k: v for k, v in fields.items() if v and getattr(step, k) in ("", None, (), "unknown")}
    if noun.pronoun and acted and (fields["count"] or 0) > (step.count or 0) and EACH.search(step.said.lower()):
        changes["count"] = fields["count"]  # "under each foot is a screw; remove all four"
    if fields.get("size") and fields["drive"] != step.drive:
        changes["drive"] = fields["drive"]
    if acted and step.ref in work.memory.only_mentioned:
        work.memory.only_mentioned.discard(step.ref)
        if step.at_s is not None and not TOLD_WHEN.match(clause.text):
            changes["at_s"] = work.at_s
    if changes.get("drive"):
        work.memory.drive = (changes["drive"], changes.get("size", ""))
    pieces = work.pieces(clause, [noun], changes)
    work.update(step, **changes, pieces=(*step.pieces, *pieces) if step in work.made else pieces)


def spread(work: SentenceState) -> None:
    group = next((s for s in reversed(work.made) if s.joint in ("screw", "clip")), None)
    if group is None or not work.spread:
        return
    total = sum(work.spread)
    if group.count is None:
        work.update(group, count=total)
    elif total != group.count and group.place:
        work.update(group, count=group.count + total, place="")
