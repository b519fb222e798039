"""A whole sentence that only puts right which part, or how many, the step before was about: "sorry, the pump", "the
right one, I mean", "not the fan, the blower", "make that four, there's one under the foot".

Read by exact code, and only where every word belongs to it.
"""

from __future__ import annotations

from collections.abc import Sequence

from oddbolt.core.narration.assembly.continued import other_one
from oddbolt.core.narration.assembly.figures import WORDS, number_of
from oddbolt.core.narration.assembly.names import WHICH, plain_name
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.vocabulary import Vocabulary

_TERM = (
    r"(?:(?:oh|ah|er+m?|um|well|hm+|and|but)\b[,. ]*)*"
    r"(?:(?:no|nope|sorry|wait|hang on|hold on|actually|correction|rather|i meant?|not quite|my mistake)\b[,.: …]*)+"
)
_MEANT = r"(?:i mean|i meant|sorry|i should say|i should have said|rather|that is)"
_OF = r"(?:(?:from|off|out of|on|in|of|under|behind) )?"
_NAME = r"(?:the|its|my|a|an) [a-z][a-z-]*(?: [a-z][a-z-]*){0,3}?"
_IT_IS = r"(?:(?:it|that|this|they|those)(?:['’]s|['’]re| is| was| are| were| should be| should have been) )"
#: sentences that name another part
OTHER_PART = tuple(
    lazy_pattern(p)
    for p in (
        rf"{_TERM}(?P<is>{_IT_IS}|take |i took )?{_OF}(?P<part>{_NAME})",
        rf"(?:(?:oh|well|no|and) )?(?:{_IT_IS})?{_OF}(?P<part>{_NAME}),? {_MEANT}",
        rf"(?:{_TERM})?(?:{_IT_IS})?not {_OF}(?P<was>{_NAME}),? (?:but |rather )?(?:{_IT_IS})?{_OF}(?P<part>{_NAME})",
        rf"(?:{_TERM})?(?:{_IT_IS})?{_OF}(?P<part>{_NAME}),? not {_OF}(?P<was>{_NAME})",
    )
)
#: words that put right by themselves
PUTS_RIGHT = lazy_pattern(r"\b(?:no|nope|sorry|correction|rather|i meant?|not quite|my mistake|one)\b")
#: words after which a name of any kind is meant
CLEAR = lazy_pattern(r"\b(?:i mean|i meant|i should say|i should have said|my mistake|correction)\b")
_NUM = rf"(?P<n>{WORDS}|\d{{1,2}})"
#: sentences that tell another number
OTHER_COUNT = tuple(
    lazy_pattern(p)
    for p in (
        rf"(?:{_TERM})?make (?:that|it) {_NUM}(?: of (?:them|those|these))?"
        r"(?:,? (?:there|because|as|i|with|counting|if you|plus)\b[^\d]*)?",
        rf"(?:{_TERM})?{_NUM},? (?:there(?:['’]s| is| was)|because|as i|i (?:missed|forgot|miscounted)"
        r"|counting|if you count)\b[^\d]*",
        rf"{_NUM}(?: of (?:them|those|these))?,? {_MEANT}",
    )
)


def other_part(low: str, before: Sequence[str], parts: Sequence[str], known: Vocabulary) -> str:
    """The part that a sentence (in small letters) names instead of the last of those told ``before``; "" if it is
    another sentence. ``parts`` are the names that came up so far."""
    for pattern in OTHER_PART:
        found = pattern.fullmatch(low)
        if found is None or not before:
            continue
        if pattern is OTHER_PART[0] and not (PUTS_RIGHT.search(low) or found["is"]):
            continue  # "wait, the fan"
        words = found["part"]
        if words.split()[-1] in ("one", "ones"):
            return other_one(words, before)
        name = plain_name(words, "the ")
        last, sided = name.lower().split()[-1:], name.lower().split()[0] in WHICH if name else False
        named = last and (
            last[0] in known.nouns
            or (sided and last[0] not in known.not_parts)
            or any(p.lower().split()[-1:] == last for p in parts)
        )
        was = found.groupdict().get("was") or ""
        instead = was and was.split()[-1] == before[-1].lower().split()[-1]
        if was and not instead and was.split()[-1] != "one":
            continue  # it is of another part than the step before
        if name and name.lower() != before[-1].lower() and (named or instead or CLEAR.search(low)):
            return name
    return ""


def other_count(low: str, known: Vocabulary) -> int | None:
    """The number that a sentence (in small letters) tells instead of the one before; None if it is another sentence."""
    for pattern in OTHER_COUNT:
        found = pattern.fullmatch(low)
        value = number_of(found["n"], known) if found is not None else None
        if value:
            return int(value)
    return None
