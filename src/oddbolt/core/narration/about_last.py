"""A whole sentence about what was told of last: of fasteners, "one of them is a T10", "two are 10 mm, the others 6",
"there's one more at the back", "one won't come out"; of a part, that it is still there, or that it was another one.

Read by exact code, and only where every word of the sentence belongs to it; everything else is left to the two readers.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any

from attrs import evolve, field, frozen

from oddbolt.core.narration.assembly.figures import NUMBER, UNITS_OF_LENGTH, WORDS, drive_of, length_of, number_of
from oddbolt.core.narration.assembly.story import SHOWN
from oddbolt.core.narration.draft import DraftStep, Reading
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.tokens import items
from oddbolt.core.narration.language.vocabulary import Vocabulary
from oddbolt.core.narration.memory import Memory
from oddbolt.core.narration.other_name import other_count, other_part
from oddbolt.core.reference.joint_kinds import ids_where

STILL_IN = "some are said to be still in: how many are out?"
STILL_THERE = "said that it is still there: is it done?"
TOO_MANY = "more are told of than there were: how many are there?"
WHICH_GROUP = "which group is meant?"
#: how sure a group is that is told as some of one told before
SOME_SURE = 0.9
#: how sure one more is of which nobody said that it is out
MORE_SURE = 0.55
GONE_OUT = ("take out", "pry", "peel", "disconnect")
#: drives of which "8 mm" is the width of the key
WIDTHS = ("external-hex", "hex-socket")
NTH = "first second third fourth fifth sixth seventh eighth ninth tenth eleventh twelfth thirteenth".split()

_LEAD = (
    r"(?:(?:and|oh|so|but|well|actually|no|nope|okay|ok|right|now|ah|wait|hang on|hold on|hm+|sorry|by the way"
    r"|(?:it )?turns out|i see|only|just)\b[,. …]*)*"
)
_NUM = rf"(?:{WORDS}|\d{{1,2}}|a couple)"
_THOSE = r"(?:them|those|these|which|the screws|the bolts|the lot)"
_AT = r"(?:at|in|on|by|near|next to|beside|towards|under|beneath|behind|below|inside)"
_PLACE = rf"{_AT} (?:the |its )?[a-z][\w -]{{1,25}}?"
_WHO = (
    rf"(?:(?P<n>{_NUM})(?: of {_THOSE})?(?P<where> (?!of\b){_PLACE})?"
    rf"|the (?P<nth>{'|'.join(NTH)}|last|middle|odd|single|top|bottom|left|right)(?: (?:one|screw|bolt))?"
    rf"|the other (?P<others>{_NUM})|(?P<rest>the (?:others?|rest|remaining ones)(?: of {_THOSE})?)"
    rf"|(?P<all>they|all(?: of {_THOSE})?|those|these|each(?: of them)?|every one(?: of them)?)"
    rf"|the (?P<at>{_NUM})(?: screws?| ones?)?(?: (?:which|that)(?: (?:sit|sat|are|were|go|went|is|was))?)?"
    rf" (?P<place>{_PLACE}))"
)
_BE = (
    r"(?: (?:is|are|was|were|turn(?:s|ed)? out to be|should be|being)|['’](?:s|re))"
    r"(?: (?:actually|all|only|just|both))*"
)
#: one clause on some of them
CLAUSE = lazy_pattern(rf"{_LEAD}{_WHO}(?P<be>{_BE})? (?P<what>.+)")
#: all of them but some: "all T8 except the middle one, which is a T5"
EXCEPT = lazy_pattern(
    rf"(?P<lead>.*?)\ball (?P<what>[^,;]+?),? (?:except|but|apart from|bar|save)(?: for)?"
    rf" (?P<who>{_NUM}|the [a-z]+ one)"
    r",?(?: (?:which|that)(?: is|['’]s))?(?P<but> [^,;]+)"
)
#: a length or a code and no other word
LENGTH = lazy_pattern(rf"(?:an? )?(?P<n>{NUMBER}) ?(?:{UNITS_OF_LENGTH})?(?: long(?:er)?)?(?: ones?)?")
BESIDE_CODE = frozenset("a an of size the screw screws bolt bolts one ones kind type".split())
#: what only tells more of where one is, behind a clause: "the one by the hinge"
ASIDE = lazy_pattern(
    rf"(?:the one|that one|the ones?) {_PLACE}|by the way|oddly|strangely|interestingly|i think|for some reason"
)
#: stretches of a sentence between its stops
STRETCH = lazy_pattern(r"[^,;()–—]+")
CLAUSES = lazy_pattern(r"\s*(?:[,;]|\.\s|\band\b|\bbut\b|\bwhile\b|\bwhereas\b)\s*")
#: there are more than was said
MORE = lazy_pattern(
    rf"{_LEAD}(?:(?:there|here)(?:['’]s| is| are|['’]re)|i(?:['’]ve)? (?:found|find|see|missed|forgot|overlooked)"
    r"|found|missed|forgot|overlooked|we(?:['’]ve| have) got|plus)"
    r" (?:(?:yet |still )?another(?: (?:one|screw|bolt))?"
    rf"|(?:an? )?(?P<nth>{'|'.join(NTH)})(?: (?:one|screw|bolt))?"
    rf"|(?P<n>{_NUM}) more(?: of (?:them|those))?(?: screws?| bolts?)?|(?P<one>one))"
    rf"(?: (?:here|there|as well|too|left|still))*(?: (?P<place>{_PLACE}))?"
)
#: what says that the number itself was wrong
RECOUNTED = lazy_pattern(r"\b(?:actually|no|nope|sorry|miscounted|turns out|wait)\b")
OVERLOOKED = lazy_pattern(r"\b(?:missed|forgot|overlooked)\b")
#: some of them are not out
NOT_OUT = lazy_pattern(
    rf"{_LEAD}(?P<n>{_NUM})(?: of {_THOSE})? (?:(?:(?:wo|would|does|do|did|ca|could)n['’]t"
    r"|(?:will|would|does|did) not|refuses? to|cannot)(?: want to| be)?"
    r" (?:come|came|budge|move|turn|undo|shift|get|go|loosen)\w*(?: (?:out|loose|off|undone))?"
    r"|(?:is|are|was|were)(?: still)? (?:in|stuck|seized|stuck in|left|left in|still there|in there))"
)
ONLY_SO_MANY = lazy_pattern(
    rf"{_LEAD}(?:i|we)(?: could| can)?(?: only)? (?:got|get|managed|manage)(?: only)? (?P<n>{_NUM})(?: of {_THOSE})?"
    r"(?: out| undone)?"
)
#: the part is not out after all
STILL = lazy_pattern(
    rf"{_LEAD}(?:(?:it|that|this|they|the [a-z]+)(?:['’]s|['’]re| is| are| was)(?: still)? (?:held|attached"
    r"|connected|stuck|hanging|caught|plugged in|fixed|glued)(?: (?:on|in|at|by|to|with|there|down)\b.*)?"
    r"|(?:it|that|they)(?:['’]s|['’]re| is| are) (?:still (?:in|on|there|attached)|not (?:out|off|free|loose))\b.*"
    r"|(?:it|that|they) (?:won['’]t|doesn['’]t|didn['’]t|wouldn['’]t) (?:come|budge|move)\b.*"
    r"|i(?:['’]m| am) leaving (?:it|that|them) (?:in|on|there)|(?:it|that|the [a-z]+) stays? (?:in|on|there)(?: .*)?"
    r"|leave (?:it|that|them) (?:in|on|there)"
    r"|there(?:['’]s| is| are|['’]re) (?:still )?(?:a|an|another|one more|some|two|three) [a-z -]+? (?:on|in|to"
    r"|holding|under|behind|attached to|stuck to|connected to) (?:it|there|them))"
)
#: words that tell of a doubt of the step before, and so must open a sentence on a part that is still held
TAKEN_BACK = lazy_pattern(r"(?:oh|ah|no|nope|wait|hang on|hold on|hm+|but|sorry|actually|well)\b")


@frozen
class _Some:
    """Some of a group: how many (None for all others), and what is told of them."""

    count: int | None
    told: dict[str, Any] = field(factory=dict)
    place: str = ""


def told_apart(sentence: str, known: Vocabulary) -> tuple[str, str]:
    """A sentence on a group of fasteners, with what it tells of some of them left blank, and that by itself: "Undo six
    T8, one of which is a T10, from the base." ("", "") if it tells nothing of some."""
    low, off = sentence.lower(), []
    found = EXCEPT.search(low)
    if found is not None and found["lead"].strip(" ,") and _but(found, known):
        off = [(found.end("lead"), found.end())]
    else:
        spans = [found.span() for found in STRETCH.finditer(low)]
        off = [s for s in spans[1:] if _on_some(low[slice(*s)].strip(" .!"), known)]
    if not off:
        return "", ""
    rest = sentence
    for start, end in off:
        rest = rest[:start] + " " * (end - start) + rest[end:]
    rest = re.sub(r"(?<=[,;(–—])(\s*)[,;)–—.]", lambda stops: " " * len(stops.group()), rest)
    return rest, ", ".join(sentence[slice(*s)].strip(" .!") for s in off)


def _on_some(clause: str, known: Vocabulary) -> bool:
    """Whether a stretch of a sentence tells a figure of some of a group and nothing else."""
    found = CLAUSE.fullmatch(clause)
    if found is None or found["all"] or not _what(found["what"], known, True):
        return False
    return bool(found["be"] or found["nth"] or found["others"] or found["rest"]) or " of " in clause


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
    low = " ".join(sentence.lower().split()).rstrip(".!… ")
    after = before.copy()
    read = _told(low, last, before, known)
    if read is None:
        return None
    amends, steps = read
    if any("parts" in a.corrects for a in amends):
        _renamed(after, last, amends[0])
    made = []
    for step in steps:
        after.counter += 1
        made.append(evolve(step, ref=f"d{after.counter}", said=sentence.strip(), at_s=at_s, pieces=()))
    by_ref = {s.ref: evolve(s, corrects=()) for s in amends}
    after.steps = [by_ref.get(s.ref, s) for s in after.steps] + made
    after.last_text = sentence.lower()
    return Reading(sentence, steps=tuple(made), amends=tuple(amends)), after


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
    names = [s.parts[0] for s in before.steps[-3:] if s.parts]
    name = other_part(low, names, before.parts, known) if last.parts else ""
    if name:
        return [evolve(last, parts=(name,), corrects=("parts",))], []
    screws = last.joint in ids_where("threaded")
    if not last.count or not (screws or last.joint in ("clip", "connector")):
        return None
    many = other_count(low, known)
    if many is not None:
        return ([evolve(last, count=many, corrects=("count",))] if many != last.count else []), []
    out = NOT_OUT.fullmatch(low) or ONLY_SO_MANY.fullmatch(low)
    if out is not None:
        many = _number(out["n"], known)
        return _asked(last, STILL_IN) if many and many <= last.count else None
    more = MORE.fullmatch(low)
    if more is not None:
        return _more(low, more, last, known)
    parts = _parts(low, last, known) if screws else []
    if not parts:
        return None
    alike = sum(1 for s in before.steps[-3:] if s.said == last.said and s.joint == last.joint)
    return _asked(last, WHICH_GROUP) if alike > 1 else _shared_out(parts, last)


def _asked(last: DraftStep, why: str) -> _Read:
    return [evolve(last, doubt=why, corrects=("doubt",))], []


def _more(low: str, more: re.Match[str], last: DraftStep, known: Vocabulary) -> _Read | None:
    """More of them than was said: the number put right, or a group of its own that is asked."""
    had = last.count or 0
    nth = NTH.index(more["nth"]) + 1 if more["nth"] else 0
    many = 1 if nth or more["one"] else _number(more["n"], known) if more["n"] else 1
    if not many or (nth and nth != had + 1) or (more["one"] and not OVERLOOKED.search(low)):
        return None
    if nth or (RECOUNTED.search(low) and not more["place"]):
        return [evolve(last, count=had + many, corrects=("count",))], []
    place = _where(more["place"] or "")
    another = evolve(last, count=many, place=place, under=(), length_mm=None, mixed=False, sure=MORE_SURE, doubt=SHOWN)
    return [], [another]


def _parts(low: str, last: DraftStep, known: Vocabulary) -> list[_Some]:
    """The clauses of a sentence, each on some of the fasteners told of last; [] if a word belongs to none."""
    parts = _clauses(low, last.count or 0, known)
    if last.drive not in WIDTHS or "long" in low:
        return parts
    wide = [{"size": f"{p.told['length_mm']:g}"} if "length_mm" in p.told else p.told for p in parts]
    return [evolve(p, told=told) for p, told in zip(parts, wide, strict=True)]


def _clauses(low: str, many: int, known: Vocabulary) -> list[_Some]:
    out: list[_Some] = []
    but = EXCEPT.fullmatch(low)
    if but is not None and re.fullmatch(rf"{_LEAD}(?:they(?: are|['’]re) )?", but["lead"]):
        return _but(but, known)
    for clause in CLAUSES.split(low):
        if not clause or ASIDE.fullmatch(clause) or re.fullmatch(_LEAD, f"{clause} "):
            continue
        found = CLAUSE.fullmatch(clause)
        if found is None or not (found["be"] or out or _on_some(clause, known)):
            return []
        told = _what(found["what"], known, bool(out and "length_mm" in out[-1].told))
        who = _who(found, many, known)
        if not told or who is None:
            return []
        out.append(evolve(who, told=told))
    return out


def _but(found: re.Match[str], known: Vocabulary) -> list[_Some]:
    """Those that are alike, and the one or few that are not."""
    told, other = (_what(found[n].strip(), known, False) for n in ("what", "but"))
    many = 1 if found["who"].startswith("the ") else _number(found["who"], known)
    return [_Some(None, told), _Some(many, other)] if told and other and many else []


def _who(found: re.Match[str], many: int, known: Vocabulary) -> _Some | None:
    """How many of them a clause is on; 0 for all, None inside for those that are left."""
    if found["all"]:
        return _Some(0)
    if found["rest"]:
        return _Some(None)
    if found["nth"]:
        nth = NTH.index(found["nth"]) + 1 if found["nth"] in NTH else 1
        return _Some(1) if nth <= many else None
    number = _number(found["n"] or found["others"] or found["at"], known)
    return _Some(number, place=_where(found["place"] or found["where"] or "")) if number else None


def _where(words: str) -> str:
    """A place without the words that lead to it: "at the back" is the back."""
    return re.sub(rf"^{_AT} (?:the |its )?", "", words.strip())


def _what(words: str, known: Vocabulary, lengths: bool) -> dict[str, Any]:
    """The drive and size, or the length, that some words tell and nothing else; {} otherwise."""
    words = re.sub(r"^(?:an?|the) ", "", words)
    drive, size = drive_of(words, known)
    if size and len(words.split()) <= 5 and _only_code(words, known):
        return {"drive": drive, "size": size}
    found = LENGTH.fullmatch(words)
    unit = re.search(rf"\d ?(?:{UNITS_OF_LENGTH})\b|\blong|\b(?:{UNITS_OF_LENGTH})\b", words)
    if found is not None and (unit or lengths):
        value = length_of(words, known)
        return {"length_mm": value} if value else {}
    return {}


def _only_code(words: str, known: Vocabulary) -> bool:
    """Whether some words are a code or the name of a drive with its size and nothing else."""
    return all(
        i.number is not None or i.has("drive") or i.has("size") or i.low in BESIDE_CODE or re.search(r"\d", i.low)
        or i.low in ("tea", "tee", "eye", "pee", "aitch", "zed", "mm", "number")
        for i in items(words, known)
    )  # fmt: skip


def _shared_out(parts: Sequence[_Some], last: DraftStep) -> _Read | None:
    """The group told before with the figures of those that stay in it, and the others as groups of their own."""
    many = last.count or 0
    if any(p.count == 0 for p in parts) or (len(parts) == 1 and parts[0].count == many):
        changed = {k: v for k, v in parts[0].told.items() if getattr(last, k) != v}
        return None if len(parts) > 1 else ([evolve(last, **changed, corrects=tuple(changed))] if changed else [], [])
    if sum(p.count or 0 for p in parts) > many:
        return _asked(last, TOO_MANY)
    some = [p for p in parts if p.count and not _has(last, p.told)]
    left = many - sum(p.count or 0 for p in some)
    rest = next((p for p in parts if p.count is None), None)
    if rest is not None and not left:
        return _asked(last, TOO_MANY)
    stays = rest if rest is not None else _Some(left) if left else some.pop(0)
    new = [
        evolve(last, count=p.count, place=p.place or last.place, sure=min(last.sure, SOME_SURE), mixed=False, **p.told)
        for p in some
    ]
    changed = {"count": stays.count or left} | stays.told
    changed = {k: v for k, v in changed.items() if getattr(last, k) != v}
    return ([evolve(last, **changed, mixed=False, corrects=tuple(changed))] if changed else []), new


def _has(step: DraftStep, told: dict[str, Any]) -> bool:
    return all(getattr(step, k) == v for k, v in told.items())


def _number(words: str, known: Vocabulary) -> int | None:
    value = 2.0 if words == "a couple" else number_of(words, known)
    return int(value) if value and value == int(value) else None
