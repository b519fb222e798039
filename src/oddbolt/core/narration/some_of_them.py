"""What a sentence tells of some of a group of fasteners: "one of them is a T10", "two are 10 mm, the others 6", "all T8
except one T10", "six screws: four in the lid and two in the base". Every word must belong to it.
"""

from __future__ import annotations

import re
from typing import Any

from attrs import evolve, field, frozen

from oddbolt.core.narration.assembly.figures import NUMBER, UNITS_OF_LENGTH, WORDS, drive_of, length_of, number_of
from oddbolt.core.narration.assembly.names import plain_name
from oddbolt.core.narration.assembly.patterns import SIDE_NOUNS
from oddbolt.core.narration.draft import DraftStep
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.tokens import items
from oddbolt.core.narration.language.vocabulary import Vocabulary

#: drives of which "8 mm" is the width of the key
WIDTHS = ("external-hex", "hex-socket")
NTH = "first second third fourth fifth sixth seventh eighth ninth tenth eleventh twelfth thirteenth".split()

LEAD = (
    r"(?:(?:and|oh|so|but|well|actually|no|nope|okay|ok|right|now|ah|wait|hang on|hold on|hm+|sorry|by the way"
    r"|(?:it )?turns out|i see|only|just)\b[,. …]*)*"
)
NUM = rf"(?:{WORDS}|\d{{1,2}}|a couple)"
THOSE = r"(?:them|those|these|which|the screws|the bolts|the lot)"
_AT = r"(?:at|in|on|by|near|next to|beside|towards|under|beneath|behind|below|inside)"
PLACE = rf"{_AT} (?:the |its )?[a-z][\w -]{{1,25}}?"
_WHO = (
    rf"(?:(?P<n>{NUM})(?: of {THOSE})?(?P<where> (?!of\b){PLACE})?"
    rf"|the (?:last|first|top|bottom|front|rear|left|right|outer|inner|middle) (?P<sided>{NUM})(?: screws?| ones?)?"
    rf"|the (?P<nth>{'|'.join(NTH)}|last|middle|odd|single|top|bottom|left|right)(?: (?:one|screw|bolt))?"
    rf"|the other (?P<others>{NUM})|(?P<rest>the (?:others?|rest|remaining ones)(?: of {THOSE})?)"
    rf"|(?P<all>they|all(?: of {THOSE})?|those|these|each(?: of them)?|every one(?: of them)?)"
    rf"|the (?P<at>{NUM})(?: screws?| ones?)?(?: (?:which|that)(?: (?:sit|sat|are|were|go|went|is|was))?)?"
    rf" (?P<place>{PLACE}))"
)
_BE = (
    r"(?: (?:is|are|was|were|turn(?:s|ed)? out to be|should be|being)|['’](?:s|re))"
    r"(?: (?:actually|all|only|just|both))*"
)
#: one clause on some of them
CLAUSE = lazy_pattern(rf"{LEAD}{_WHO}(?P<be>{_BE})? (?P<what>.+)")
#: all of them but some: "all T8 except the middle one, which is a T5"
EXCEPT = lazy_pattern(
    rf"\ball (?P<what>[^,;]{{1,24}}?),? (?:except|but|apart from|bar|save)(?: for)?"
    rf" (?P<who>{NUM}|the [a-z]+ one)"
    r",?(?: (?:which|that)(?: is|['’]s))?(?P<but> [^,;]{1,40})"
)
LED = lazy_pattern(LEAD)
THEY_ARE = lazy_pattern(rf"{LEAD}(?:they(?: are|['’]re) )?")
#: a length or a code and no other word
LENGTH = lazy_pattern(rf"(?:an? )?(?P<n>{NUMBER}) ?(?:{UNITS_OF_LENGTH})?(?: long)?(?: ones?)?")
BESIDE_CODE = frozenset("a an of size the screw screws bolt bolts one ones kind type".split())
#: what only tells more of where one is, behind a clause: "the one by the hinge"
ASIDE = lazy_pattern(
    rf"(?:the one|that one|the ones?) {PLACE}|by the way|oddly|strangely|interestingly|i think|for some reason"
)
#: stretches of a sentence between its stops
STRETCH = lazy_pattern(r"[^,;()–—]+")
CLAUSES = lazy_pattern(r"\s*(?:[,;]|\.\s|\band\b|\bbut\b|\bwhile\b|\bwhereas\b)\s*")
#: what leads to the part that some of a group hold, and to where they are
_HOLD = r"(?:(?:in|on|at|from|off|out of|for|to|holding|hold|held)(?= ))"
_SHARE = (
    rf"(?:(?:{NUM})(?: more)?(?: of {THOSE})?|the (?:others?|rest|other {NUM}|remaining {NUM}))(?: are| were| is| was)?"
    rf" {_HOLD} (?:(?:the|its|each) )?[a-z][a-z-]*(?: [a-z][a-z-]*)??"
)
#: so many of a group for each of several parts
SHARES = lazy_pattern(
    rf"(?:[,:;(–—-]\s*|\s)(?P<shares>{_SHARE}(?:(?:,? and|,|,? plus) {_SHARE})+)"
    r"(?=\s*(?:[.,;:!?)]|$|\s(?:undone|out|removed|off|gone)\b))"
)
SHARE = lazy_pattern(
    rf"{LEAD}(?:(?P<n>{NUM})(?: more)?(?: of {THOSE})?|(?P<rest>the (?:others?|rest))"
    rf"|the (?:other|remaining) (?P<others>{NUM}))"
    rf"(?: are| were| is| was)? (?P<lead>{_HOLD}) (?:(?:the|its) )?(?P<name>[a-z][a-z-]*(?: [a-z][a-z-]*)??)"
    r"(?:,? (?:undone|out|removed|off|gone))?"
)
#: words that tell where, and no part
PLACES = frozenset("left right inside outside rear here there rim row top-left top-right".split())
#: a number before what it counts
COUNTED = lazy_pattern(
    rf"\b(?P<n>{NUM})(?= (?:[a-z-]+ )?(?:screws?|bolts?|nuts?|clips?|leads?|wires?|plugs?|ties|cables?|tabs?"
    r"|t\d|ph\d|pz\d|ip\d))"
)


@frozen
class Some:
    """Some of a group: how many (None for all others), and what is told of them."""

    count: int | None
    told: dict[str, Any] = field(factory=dict)
    place: str = ""


def told_apart(sentence: str, known: Vocabulary) -> tuple[str, str]:
    """A sentence on a group of fasteners, with what it tells of some of them left blank, and that by itself: "Undo six
    T8, one of which is a T10, from the base." ("", "") if it tells nothing of some."""
    low, off = sentence.lower(), []
    found = EXCEPT.search(low)
    if found is not None and low[: found.start()].strip(" ,") and _but(found, known):
        off = [found.span()]
    else:
        spans = [found.span() for found in STRETCH.finditer(low)]
        off = [s for s in spans[1:] if _on_some(low[slice(*s)].strip(" .!"), known)]
    shares = None if off else SHARES.search(low)
    if shares is not None and _counted_before(low[: shares.start()], shares["shares"], known):
        off = [shares.span("shares")]
    if not off:
        return "", ""
    rest = sentence
    for start, end in off:
        rest = rest[:start] + " " * (end - start) + rest[end:]
    rest = re.sub(r"(?<=[,;(–—])(\s*)[,;)–—.]", lambda stops: " " * len(stops.group()), rest)
    return rest, ", ".join(sentence[slice(*s)].strip(" .!") for s in off)


def _counted_before(before: str, shares: str, known: Vocabulary) -> bool:
    """Whether a number of things stands before the shares, and each share names a part."""
    parts = [p for p in CLAUSES.split(shares) if p]
    counted = [whole_number(f["n"], known) for f in COUNTED.finditer(before)]
    some = [_share(p, known, True) for p in parts]
    adds_up = len(counted) == 1 and counted[0] == sum(s.count or 0 for s in some if s is not None)
    return len(counted) == 1 and None not in (some if adds_up else [_share(p, known) for p in parts])


def _share(clause: str, known: Vocabulary, any_name: bool = False) -> Some | None:
    """So many of a group with the part that they hold; None if the clause is another one, or tells but a place. Only
    parts of known names, unless ``any_name`` is true."""
    found = SHARE.fullmatch(clause)
    if found is None:
        return None
    name = plain_name(found["name"], "the ")
    last = name.lower().split()[-1:] or [""]
    if last[0] in SIDE_NOUNS | PLACES or not (any_name or last[0] in known.nouns):
        return None
    number = None if found["rest"] else whole_number(found["n"] or found["others"], known)
    return Some(number, {"parts": (name,)})


def _on_some(clause: str, known: Vocabulary) -> bool:
    """Whether a stretch of a sentence tells a figure of some of a group and nothing else."""
    found = CLAUSE.fullmatch(clause)
    if found is None or found["all"] or not _what(found["what"], known, True):
        return False
    told = found["be"] or found["nth"] or found["others"] or found["rest"] or found["sided"]
    return bool(told) or " of " in clause


def parts_of(low: str, last: DraftStep, known: Vocabulary) -> list[Some]:
    """The clauses of a sentence, each on some of the fasteners told of last; [] if a word belongs to none."""
    parts = _clauses(low, last.count or 0, known)
    if last.drive not in WIDTHS or "long" in low:
        return parts
    wide = [{"size": f"{p.told['length_mm']:g}"} if "length_mm" in p.told else p.told for p in parts]
    return [evolve(p, told=told) for p, told in zip(parts, wide, strict=True)]


def _clauses(low: str, many: int, known: Vocabulary) -> list[Some]:
    out: list[Some] = []
    clauses = [c for c in CLAUSES.split(low) if c]
    adds_up = sum(s.count or 0 for c in clauses if (s := _share(c, known, True)) is not None) == many
    but = EXCEPT.search(low)
    if but is not None and but.end() == len(low) and THEY_ARE.fullmatch(low[: but.start()]):
        return _but(but, known)
    for clause in clauses:
        if ASIDE.fullmatch(clause) or LED.fullmatch(f"{clause} "):
            continue
        share = _share(clause, known, adds_up)
        if share is not None:
            out.append(share)
            continue
        found = CLAUSE.fullmatch(clause)
        if found is None or not (found["be"] or out or _on_some(clause, known)):
            return []
        told = _what(found["what"], known, bool(out and "length_mm" in out[-1].told))
        who = _who(found, many, known)
        if not told or who is None:
            return []
        out.append(evolve(who, told=told))
    shares = [p for p in out if "parts" in p.told]
    return out if len(shares) in (0, len(out)) and len(shares) != 1 else []


def _but(found: re.Match[str], known: Vocabulary) -> list[Some]:
    """Those that are alike, and the one or few that are not."""
    told, other = (_what(found[n].strip(), known, False) for n in ("what", "but"))
    many = 1 if found["who"].startswith("the ") else whole_number(found["who"], known)
    return [Some(None, told), Some(many, other)] if told and other and many else []


def _who(found: re.Match[str], many: int, known: Vocabulary) -> Some | None:
    """How many of them a clause is on; 0 for all, None inside for those that are left."""
    if found["all"]:
        return Some(0)
    if found["rest"]:
        return Some(None)
    if found["nth"]:
        nth = NTH.index(found["nth"]) + 1 if found["nth"] in NTH else 1
        return Some(1) if nth <= many else None
    number = whole_number(found["n"] or found["others"] or found["at"] or found["sided"], known)
    return Some(number, place=where_of(found["place"] or found["where"] or "")) if number else None


def where_of(words: str) -> str:
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


def whole_number(words: str, known: Vocabulary) -> int | None:
    """The whole number that some words tell, "a couple" two; None if they tell none, or nought."""
    value = 2.0 if words == "a couple" else number_of(words, known)
    return int(value) if value and value == int(value) else None
