"""A whole sentence about what was told of last: of fasteners, "one of them is a T10", "two are 10 mm, the others 6",
"there's one more at the back", "one won't come out"; of a part, that it is still there, or that it was another one.

Read by exact code, and only where every word of the sentence belongs to it; everything else is left to the two readers.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any

from attrs import evolve

from oddbolt.core.narration.assembly.continued import NOT_SAID
from oddbolt.core.narration.assembly.names import plain_name
from oddbolt.core.narration.assembly.settle import UNSURE
from oddbolt.core.narration.assembly.story import HOPED, SETTLED, SHOWN
from oddbolt.core.narration.draft import DraftStep, Reading
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.vocabulary import Vocabulary
from oddbolt.core.narration.memory import Memory
from oddbolt.core.narration.other_name import other_count, other_part
from oddbolt.core.narration.some_of_them import LEAD, NTH, NUM, PLACE, THOSE, Some, parts_of, where_of, whole_number
from oddbolt.core.reference.joint_kinds import ids_where

STILL_IN = "some are said to be still in: how many are out?"
STILL_THERE = "said that it is still there: is it done?"
TOO_MANY = "more are told of than there were: how many are there?"
TOO_FEW = "fewer are told of than there were: where are the others?"
WHICH_GROUP = "which group is meant?"
#: how sure a group is that is told as some of one told before
SOME_SURE = 0.9
#: how sure one more is of which nobody said that it is out
MORE_SURE = 0.55
SIDES = r"(?:top|bottom|left|right|front|rear|back|upper|lower|inner|outer|side|middle)"
GONE_OUT = ("take out", "pry", "peel", "disconnect")
#: there are more than was said
MORE = lazy_pattern(
    rf"{LEAD}(?:(?:there|here)(?:['’]s| is| are|['’]re)|i(?:['’]ve)? (?:found|find|see|missed|forgot|overlooked)"
    r"|found|missed|forgot|overlooked|we(?:['’]ve| have) got|(?:and )?plus|and(?= an? [a-z]+th\b))"
    r" (?:(?:yet |still )?another(?: (?:one|screw|bolt))?"
    rf"|(?:an? )?(?P<nth>{'|'.join(NTH)})(?: (?:one|screw|bolt))?"
    rf"|(?P<n>{NUM}) more(?: of (?:them|those))?(?: screws?| bolts?)?|(?P<one>one))"
    rf"(?: (?:here|there|as well|too|left|still))*(?: (?P<place>{PLACE}))?"
)
#: others at another place, of which nobody said what was done: "and the bottom two", "and the one in the middle"
OTHERS = lazy_pattern(
    rf"(?:(?:and|then|plus|now)[, ]+)+(?:then )?the (?:(?P<side>{SIDES}) (?P<n>{NUM})|(?P<n2>{NUM}) (?P<place>{PLACE}))"
)
#: what makes a place that of a part which hides them
LIES_OVER = lazy_pattern(r"(?:under|beneath|behind|below)\b")
#: what says that the number itself was wrong
RECOUNTED = lazy_pattern(r"\b(?:actually|no|nope|sorry|miscounted|turns out|wait)\b")
OVERLOOKED = lazy_pattern(r"\b(?:missed|forgot|overlooked)\b")
#: some of them are not out
NOT_OUT = lazy_pattern(
    rf"{LEAD}(?P<n>{NUM})(?: of {THOSE})? (?:(?:(?:wo|would|does|do|did|ca|could)n['’]t"
    r"|(?:will|would|does|did) not|refuses? to|cannot)(?: want to| be)?"
    r" (?:come|came|budge|move|turn|undo|shift|get|go|loosen)\w*(?: (?:out|loose|off|undone))?"
    r"|(?:is|are|was|were)(?: still)? (?:in|stuck|seized|stuck in|left|left in|still there|in there))"
)
ONLY_SO_MANY = lazy_pattern(
    rf"{LEAD}(?:i|we)(?: could| can)?(?: only)? (?:got|get|managed|manage)(?: only)? (?P<n>{NUM})(?: of {THOSE})?"
    r"(?: out| undone)?"
)
#: the part is not out after all
STILL = lazy_pattern(
    rf"{LEAD}(?:(?:it|that|this|they|the [a-z]+)(?:['’]s|['’]re| is| are| was)(?: still)? (?:held|attached"
    r"|connected|stuck|hanging|caught|plugged in|fixed|glued)(?: (?:on|in|at|by|to|with|there|down)\b.*)?"
    r"|(?:it|that|they)(?:['’]s|['’]re| is| are) (?:still (?:in|on|there|attached)|not (?:out|off|free|loose))\b.*"
    r"|(?:it|that|they) (?:won['’]t|doesn['’]t|didn['’]t|wouldn['’]t) (?:come|budge|move)\b.*"
    r"|i(?:['’]m| am) leaving (?:it|that|them) (?:in|on|there)|(?:it|that|the [a-z]+) stays? (?:in|on|there)(?: .*)?"
    r"|leave (?:it|that|them) (?:in|on|there)"
    r"|there(?:['’]s| is| are|['’]re) (?:still )?(?:a|an|another|one more|some|two|three) [a-z -]+? (?:on|in|to"
    r"|holding|under|behind|attached to|stuck to|connected to) (?:it|there|them))"
)
#: what was announced, or shown and asked, is out
ALL_OUT = lazy_pattern(
    rf"{LEAD}(?:all (?:of (?:them|those) )?(?:(?P<n>{NUM}) )?(?:of (?:them|those) )?(?:(?:are|came|come) )?(?:now )?"
    r"(?:off|out|gone|undone)(?: now)?|out they (?:come|came|go)"
    r"|(?:got|undid) (?:them|those)(?: all)?(?: out| off| now)?"
    r"|(?:they|those|both)(?:['’]re| are)?(?: all| both)?(?: now)? (?:off|out|gone|undone|come out|came out)(?: now)?"
    r"|that['’]s (?:them|all of them|the lot|both)(?: out| off)?|done(?: that)?|and done)"
)
#: the one that was shown is out
THAT_OUT = lazy_pattern(
    rf"{LEAD}(?:(?:i |we )?(?:take|took|get|got|undo|undid|unscrew|unscrewed|pull|pulled) (?:that|that one)(?: one)?"
    r"(?: out| off)?|that(?: one)?(?:['’]s| is| comes| came) out(?: now)?|undo it|unscrew it)"
)
#: words that tell of a doubt of the step before, and so must open a sentence on a part that is still held
TAKEN_BACK = lazy_pattern(r"(?:oh|ah|no|nope|wait|hang on|hold on|hm+|but|sorry|actually|well)\b")


def together(reading: Reading, told: Reading) -> Reading:
    """A reading with what another one changes of its steps, and with the steps that only that one has behind them. A
    reading together with itself is what it changes of its own steps."""
    by_ref, own = {a.ref: a for a in told.amends}, {s.ref for s in reading.steps}
    steps: list[DraftStep] = []
    for step in reading.steps:
        new = by_ref.get(step.ref)
        steps.append(_put_right(step, new) if new is not None else step)
        steps += [s for s in told.steps if s.ref not in own] if new is not None else ()
    return evolve(reading, steps=tuple(steps), amends=tuple(a for a in reading.amends if a.ref not in own))


def _put_right(step: DraftStep, new: DraftStep) -> DraftStep:
    """A step with what changes, without the pieces that told it otherwise."""
    gone = {"drive" if f == "size" else f for f in new.corrects}
    return evolve(new, pieces=tuple(p for p in step.pieces if p.field not in gone), corrects=())


def about_last(
    sentence: str, before: Memory, known: Vocabulary, at_s: float | None, group: DraftStep | None = None
) -> tuple[Reading, Memory] | None:
    """What a sentence says of the fasteners or the part told of last (or of the ``group`` given), and the memory after
    it; None if it says nothing of the kind. The memory passed in is not changed."""
    last = group or (before.steps[-1] if before.steps else None)
    if last is None:
        return None
    low = plainly(sentence)
    shown = last.doubt == SHOWN and before.announced is not None and last.count == before.announced.count
    waits = before.announced if group is None and last.phase == "" and not shown else None
    out = waits is not None and _all_out(low, waits.count, known)
    read = ([], [evolve(waits, sure=SETTLED)]) if waits is not None and out else _told(low, last, before, known)
    if read is None:
        return None
    after = before.copy()
    if out:
        after.announced = None
    if any(a.corrects == ("doubt",) and not a.doubt for a in read[0]):
        after.announced = None
    if last.parts and any(a.corrects == ("parts",) for a in read[0]):
        _renamed(after, last, read[0][0])
    return _read(sentence, at_s, read, after)


def plainly(sentence: str) -> str:
    """A sentence in small letters, with single blanks and no stop at its end."""
    return " ".join(sentence.lower().split()).rstrip(".!… ")


def announced_more(sentence: str, announced: DraftStep, known: Vocabulary) -> DraftStep:
    """What is announced with what a sentence tells of it, "they're PH0", if it tells nothing else."""
    parts = parts_of(plainly(sentence), announced, known)
    if len(parts) != 1 or parts[0].count != 0:
        return announced
    told = {k: v for k, v in parts[0].told.items() if getattr(announced, k) in (None, "", "unknown")}
    return evolve(announced, **told)


def _read(sentence: str, at_s: float | None, read: _Read, after: Memory) -> tuple[Reading, Memory]:
    """The reading of what changes and what is new; ``after`` is the memory after it."""
    amends, steps = read
    made = []
    for step in steps:
        after.counter += 1
        made.append(evolve(step, ref=f"d{after.counter}", said=sentence.strip(), at_s=at_s, pieces=()))
    by_ref = {s.ref: evolve(s, corrects=()) for s in amends}
    after.steps = [by_ref.get(s.ref, s) for s in after.steps] + made
    after.last_text = sentence.lower()
    amends = [evolve(a, pieces=()) for a in amends]  # their words stand in an earlier sentence
    return Reading(sentence, steps=tuple(made), amends=tuple(amends), known=not (made or amends)), after


def _renamed(memory: Memory, last: DraftStep, new: DraftStep) -> None:
    """Keep in mind that it was another part."""
    was, name = last.parts[0].lower(), new.parts[0]
    if was in memory.out:
        memory.out.remove(was)
        memory.out.add(name.lower())
    memory.note_part(name)


#: (what changes, what is new)
_Read = tuple[list[DraftStep], list[DraftStep]]


def _told(low: str, last: DraftStep, before: Memory, known: Vocabulary) -> _Read | None:
    """What changes and what is new by a sentence in small letters; None if it is about something else."""
    if last.action in GONE_OUT and last.parts and STILL.fullmatch(low) and TAKEN_BACK.match(low):
        return _asked(last, STILL_THERE)
    undone = _undone(low, last, before, known)
    if undone is not None:
        return undone, []
    names = [s.parts[0] for s in before.steps[-3:] if s.parts]
    name = other_part(low, names, before.parts, known) if last.parts else ""
    if name:
        return [evolve(last, parts=(name,), corrects=("parts",))], []
    screws = last.joint in ids_where("threaded")
    if not last.count or not (screws or last.action in ("unclip", "disconnect", "desolder", "cut")):
        return None
    many = other_count(low, known)
    if many is not None:
        return ([evolve(last, count=many, corrects=("count",))] if many != last.count else []), []
    out = NOT_OUT.fullmatch(low) or ONLY_SO_MANY.fullmatch(low)
    if out is not None:
        many = whole_number(out["n"], known)
        return _asked(last, STILL_IN) if many and many <= last.count else None
    others = OTHERS.fullmatch(low)
    if others is not None and screws and last.action == "unscrew" and not last.phase:
        number = whole_number(others["n"] or others["n2"], known)
        return [], [_as_these(last, number, others["side"] or others["place"], NOT_SAID)]
    more = MORE.fullmatch(low)
    if more is not None:
        return None if last.phase else _more(low, more, last, known)
    parts = parts_of(low, last, known)
    if not parts or not (screws or all("parts" in p.told for p in parts)):
        return None
    alike = sum(1 for s in before.steps[-3:] if s.said == last.said and s.joint == last.joint)
    return _asked(last, WHICH_GROUP) if alike > 1 else _shared_out(parts, last)


def _all_out(low: str, count: int | None, known: Vocabulary) -> bool:
    """Whether a sentence says that several things are out, and as many as there are."""
    out = ALL_OUT.fullmatch(low)
    if out is None:
        return False
    told = whole_number(out["n"], known) if out["n"] else 2 if re.search(r"\bboth\b", low) else None
    return told == count if told else count != 1 or low.endswith(("done", "done that"))


#: doubts of whether a thing was done; of others, "which is the count?", "they're out" tells nothing
DONE_OR_NOT = (SHOWN, HOPED, NOT_SAID, STILL_IN)


def _undone(low: str, last: DraftStep, before: Memory, known: Vocabulary) -> list[DraftStep] | None:
    """The fasteners that were shown and asked, settled by "they're out"; None if the sentence is another one."""
    if last.action not in ("unscrew", "unclip", "loosen", "disconnect") or last.phase:
        return None
    that = THAT_OUT.fullmatch(low)
    beside = before.steps[-2:-1]
    several = last.count == 1 and any(s.action == last.action and s.parts == last.parts for s in beside)
    if _all_out(low, None if several else last.count, known):
        shown = [s for s in before.steps[-3:] if s.action == last.action]
    elif that is not None and last.count == 1 and last.action == "unscrew":
        shown = [last]
    else:
        return None
    counted = ALL_OUT.fullmatch(low) is not None and re.search(rf"\b{NUM}\b", low) is not None
    settles = (*DONE_OR_NOT, UNSURE) if counted else DONE_OR_NOT
    return [evolve(s, doubt="", sure=max(s.sure, SETTLED), corrects=("doubt",)) for s in shown if s.doubt in settles]


def _asked(last: DraftStep, why: str) -> _Read:
    return [evolve(last, doubt=why, corrects=("doubt",))], []


def _more(low: str, more: re.Match[str], last: DraftStep, known: Vocabulary) -> _Read | None:
    """More of them than was said: the number put right, or a group of its own that is asked."""
    had = last.count or 0
    nth = NTH.index(more["nth"]) + 1 if more["nth"] else 0
    many = 1 if nth or more["one"] else whole_number(more["n"], known) if more["n"] else 1
    if not many or (nth and nth != had + 1) or (more["one"] and not OVERLOOKED.search(low)):
        return None
    if nth or (RECOUNTED.search(low) and not more["place"]):
        return [evolve(last, count=had + many, corrects=("count",))], []
    return [], [_as_these(last, many, more["place"] or "", SHOWN)]


def _as_these(last: DraftStep, many: int | None, where: str, why: str) -> DraftStep:
    """So many like those told of last, at another place or under another part, and asked."""
    name = plain_name(where_of(where), "the ") if LIES_OVER.match(where) else ""
    place, under = ("", (name,)) if name else (where_of(where), ())
    return evolve(last, count=many, place=place, under=under, length_mm=None, mixed=False, sure=MORE_SURE, doubt=why)


def _shared_out(parts: Sequence[Some], last: DraftStep) -> _Read | None:
    """The group told before with the figures of those that stay in it, and the others as groups of their own."""
    many = last.count or 0
    if any(p.count == 0 for p in parts) or (len(parts) == 1 and parts[0].count == many):
        changed = {k: v for k, v in parts[0].told.items() if getattr(last, k) != v}
        return None if len(parts) > 1 else ([evolve(last, **changed, corrects=tuple(changed))] if changed else [], [])
    told, rest = sum(p.count or 0 for p in parts), next((p for p in parts if p.count is None), None)
    if told > many:
        return _asked(last, TOO_MANY)
    if "parts" in parts[0].told and told < many and rest is None:
        return _asked(last, TOO_FEW)
    some = [p for p in parts if p.count and not _has(last, p.told)]
    left = many - sum(p.count or 0 for p in some)
    if rest is not None and not left:
        return _asked(last, TOO_MANY)
    stays = rest if rest is not None else Some(left) if left else some.pop(0)
    new = [
        evolve(last, count=p.count, place=p.place or last.place, sure=min(last.sure, SOME_SURE), mixed=False, **p.told)
        for p in some
    ]
    changed = {"count": stays.count or left} | stays.told
    changed = {k: v for k, v in changed.items() if getattr(last, k) != v}
    return ([evolve(last, **changed, mixed=False, corrects=tuple(changed))] if changed else []), new


def _has(step: DraftStep, told: dict[str, Any]) -> bool:
    return all(getattr(step, k) == v for k, v in told.items())
