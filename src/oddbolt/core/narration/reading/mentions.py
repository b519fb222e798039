"""Clauses without an act of their own: they name fasteners or plugs, or say more of those already named."""

from __future__ import annotations

import re

from oddbolt.core.narration.draft import evolve
from oddbolt.core.narration.language.clauses import Clause
from oddbolt.core.narration.language.nouns import Noun
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.reading.connectors import confirm, disconnects, plug_mention
from oddbolt.core.narration.reading.fastener_groups import count_group, is_new_group, of_them
from oddbolt.core.narration.reading.reassembly import fastens
from oddbolt.core.narration.reading.removals import takes_out
from oddbolt.core.narration.reading.sentence_state import FASTENERS, LATCH_WORDS, PLUGS, SentenceState

OVER_THERE = lazy_pattern(r"\b(?:here|there)\b")
#: "the board sits on four stand-offs"
RESTS = lazy_pattern(r"\b(?:sits?|rests?|stands?|is|are|mounted|hangs?) on\b")
THOSE = frozenset("those these they that which".split())
#: "and out it comes", "and it's out"
AND_OUT = lazy_pattern(
    r"(?:and |so |then )*(?:(?:out|off|away|up) (?:it|she) (?:comes|goes|pops|lifts|slides)|it's (?:out|off|free))$"
)


def mentions(work: SentenceState, clause: Clause) -> None:
    """A clause without an act of its own: it may name fasteners, or say more of those already named."""
    nouns = [*clause.subjects, *clause.objects]
    if _says_more(work, clause, nouns):
        return
    if clause.linked == ":" and work.verbless_lead:
        work.lead_place = work.verbless_lead
    verbless = clause.voice == "none"
    relations = {r for r, _ in clause.placed}
    listed = [n for n in nouns if n.name and not n.kind and n.words[-1].lower().rstrip("s") not in LATCH_WORDS]
    work.listed = listed if verbless and not clause.existential else []
    for relation, noun in clause.placed:
        if relation == "with" and noun.kind in PLUGS and clause.existential:
            plug_mention(work, clause, noun)
    unsaid = all(
        n.pronoun == "it" or (n.kind == "screw" and n.plural and n.count is None and not n.definite and not n.size)
        for n in nouns
    )
    if "under" in relations and clause.existential and unsaid:
        nouns = []
    if not nouns and "under" in relations:
        work.seen_under = tuple(work.part_name(n) for r, n in clause.placed if r == "under")
        work.seen_each = next((n for r, n in clause.placed if r == "under" and n.each), None)
    owner = next((n for r, n in clause.placed if r in ("of", "on", "from") and n.is_part), None)
    if work.shorthand and owner is not None and _group_here(work) and not work.made[-1].parts:
        work.update(work.made[-1], parts=(work.part_name(owner),))
    firsts = re.search(r"\bfirst\b", clause.text) and any(n.pronoun in ("it", "that", "this") for n in nouns)
    if work.pending is not None and firsts:
        confirm(work, work.pending, clause)
        return
    if re.match(r"(?:out|off) with\b", clause.text) and verbless:
        gone = [n for r, n in clause.placed if r == "with" and n.words and not work.no_part(n)]
        plugs = [n for n in gone if n.kind in PLUGS]
        if plugs:
            disconnects(work, clause, "disconnect", plugs)
            return
        if gone:
            takes_out(work, clause, "take out", tuple(work.part_name(n) for n in gone), gone)
            return
    if RESTS.search(clause.text):
        resting = [n for r, n in clause.placed if r in ("on", "by") and n.kind == "screw" and n.count]
        clause.placed = [(r, n) for r, n in clause.placed if n not in resting]
        clause.held, nouns = clause.held or bool(resting), [*nouns, *resting]
    for noun in nouns:
        if work.memory.phase == "back" and _goes_back(work, clause, noun):
            continue
        if (
            noun.kind in ("screw", "clip")
            or (noun.size and not noun.words)
            or (noun.size and noun.count)
            or ((noun.drive or noun.thread) and noun.count and not noun.kind)
        ):
            if is_new_group(noun, clause) or work.last_group() is not None:
                count_group(work, clause, noun, acted=False, action="unclip" if noun.kind == "clip" else "unscrew")
                if verbless and clause.linked == "," and not clause.existential and not clause.placed:
                    _held_by_them(work)
        elif _more_of_them(work, clause, noun):
            more = evolve(noun, more=True, pronoun=noun.pronoun or "ones")
            count_group(work, clause, more, acted=False, action="unscrew")
        elif verbless and noun.finish and noun.count and not (noun.words or noun.kind) and _by_finish(work, clause):
            count_group(work, clause, evolve(noun, kind="screw", plural=True), acted=False, action="unscrew")
        elif (noun.thread or noun.drive) and not noun.words and noun.count is None and _group_here(work):
            latest = work.made[-1]
            told = {"thread": noun.thread, "length_mm": noun.length_mm, "drive": noun.drive, "size": noun.size}
            work.update(latest, **{k: v for k, v in told.items() if v and not getattr(latest, k)})
        elif noun.kind in PLUGS and (work.shorthand or (verbless and noun.count and clause.text.endswith(" next"))):
            disconnects(work, clause, "disconnect", [noun])
        elif noun.kind in PLUGS:
            plug_mention(work, clause, noun)
        elif work.shorthand and noun.is_part and work.made and work.made[-1].joint in FASTENERS:
            if not work.made[-1].parts:
                work.update(work.made[-1], parts=(work.part_name(noun),))
        elif noun.count and of_them(work, noun):
            group = work.last_group()
            if group is not None and group.count is None:
                work.update(group, count=noun.count)
        elif noun.count and not noun.words and not noun.pronoun and clause.placed and not _of_all(work, noun):
            work.spread.append(noun.count * work.sides(clause))
        elif (
            (
                noun.name
                and re.match(r"\s+(?:off|out|away|free)\b(?!\s+of\b)", work.text[noun.end :].lower())
                and verbless
                and not clause.existential
                and not noun.is_place
                and not clause.reference
            )
            and (
                not work.no_part(noun)
                and not noun.is_tool
                and not re.search(r"\b(with|once|is|are|was|were)\b", clause.text)
            )
        ) or (verbless and noun.definite and noun.name and _now_free(work, noun) and not work.no_part(noun)):
            takes_out(work, clause, "take out", (work.part_name(noun),), [noun])
        if noun.pronoun == "" and not noun.kind and noun.name and not noun.is_tool:
            work.verbless_lead = noun.name
    if verbless and len(nouns) == 1 and nouns[0].words and work.text[clause.end :].lstrip().startswith(":"):
        work.lead = nouns[0]
    if not nouns:
        placed = [n for _, n in clause.placed if n.name]
        work.verbless_lead = placed[-1].name if placed else work.verbless_lead


#: what tells that a number is some of those counted before: "9 screws: 7 short, 2 long"
KINDS = lazy_pattern(r"\b(?:long|short|longer|shorter|black|silver|zinc)\b")


def _of_all(work: SentenceState, noun: Noun) -> bool:
    """Whether a number tells of some of those counted before, or stands in brackets as a length."""
    bracketed = work.text[: noun.start].rstrip().endswith("(")
    return bracketed or KINDS.search(work.text[noun.start : noun.end + 7].lower()) is not None


def _held_by_them(work: SentenceState) -> None:
    """ "Remove the bracket, two M4 nuts": fasteners told behind a part hold it and come off first."""
    if len(work.made) < 2 or "then" in work.low:
        return
    part, group = work.made[-2:]
    if part.action == "take out" and group.joint in ("screw", "clip") and not group.parts and not group.under:
        work.made[-2:] = [evolve(group, parts=part.parts), part]


def _says_more(work: SentenceState, clause: Clause, nouns: list[Noun]) -> bool:
    """What a group holds, told after it ("those hold the board"), and what comes away with it ("and out it comes")."""
    held = tuple(work.part_name(n) for r, n in clause.placed if r == "holds" and not work.no_part(n))
    held = tuple(filter(None, held))
    if held and _group_here(work) and not work.made[-1].parts and all(n.pronoun in THOSE for n in nouns):
        work.update(work.made[-1], parts=held)
        return True
    two = nouns[0] if len(nouns) == 1 and nouns[0].count and not (nouns[0].words or nouns[0].pronoun) else None
    if two is not None and _group_here(work) and clause.linked.endswith("and") and OVER_THERE.search(clause.text):
        count = (work.made[-1].count or 0) + (two.count or 0)
        work.update(work.made[-1], count=count, parts=work.made[-1].parts or held)
        return True
    group = [*work.amended.values(), *work.made][-1] if work.amended or work.made else None
    if AND_OUT.match(clause.text) and group is not None and group.joint in FASTENERS:
        names = group.parts or ((work.topic,) if work.topic else ())
        if names:
            work.update(group, parts=names)
            takes_out(work, clause, "take out", names, nouns)
        return True
    return False


def _now_free(work: SentenceState, noun: Noun) -> bool:
    """Whether "now the cover is free" says that a part has come away."""
    before = work.text[max(0, noun.start - 16) : noun.start].lower()
    free = r"\s+(?:is|are)\s+(?:now\s+)?(?:completely\s+)?(?:off|out|away)\b(?!\s+(?:of|to|from))"
    after = re.match(free, work.text[noun.end :].lower())
    if (
        work.made
        and "now" not in before
        and re.match(r"\s+(?:is|are) (?:now )?free[.!]?$", work.text[noun.end :].lower())
    ):
        return True
    said = "now" in before or (after is not None and "now" in after.group()) or bool(work.made)
    return after is not None and said and "once" not in before


BACK_IN = lazy_pattern(r"\s*(?:back |then |goes )*(?:in|on|back|first|next)\b")


def _goes_back(work: SentenceState, clause: Clause, noun: Noun) -> bool:
    """In a put-back passage: "board in, six screws, half a newton metre", "the cartridge first, then the ring"."""
    if noun.kind == "screw" or (noun.size and not noun.words):
        if noun.count and not noun.pronoun:
            fastens(work, clause, noun, [noun])
        return True
    placed = BACK_IN.match(work.low[noun.end :]) or ("then" in clause.linked and noun.definite)
    if clause.voice != "none" or not placed or not noun.words or noun.kind or noun.is_tool or work.no_part(noun):
        return False
    work.emit(clause, "place", nouns=[noun], parts=(work.part_name(noun),), phase="put back")
    return True


def _by_finish(work: SentenceState, clause: Clause) -> bool:
    """Whether "two black ones at the top" is a group of its own, and not part of one only spoken of before."""
    last = work.last_group()
    return bool(re.search(r"\bones?\b", clause.text)) and (
        last is None or last in work.made or last.ref not in work.memory.only_mentioned
    )


def _group_here(work: SentenceState) -> bool:
    """Whether the draft made last in this sentence is a group of screws."""
    return bool(work.made) and work.made[-1].joint == "screw"


def _more_of_them(work: SentenceState, clause: Clause, noun: Noun) -> bool:
    """Whether a count without a name goes on with the screws before: "one more under the label", "then the two short
    ones"."""
    if not noun.count or noun.words or noun.kind or work.last_group() is None:
        return False
    then = "then" in clause.linked + clause.text
    return noun.more or (work.carried is not None and then and bool(re.search(r"\bones?\b", clause.text)))
