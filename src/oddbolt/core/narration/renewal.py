"""What is to be renewed and what is used again, by exact words: "can be reused" renews nothing, "never reuse" does."""

from __future__ import annotations

import re

from oddbolt.core.narration.language.patterns import lazy_pattern

_AGAIN = r"(?:re-?us(?:e|ed|able|ing)|us(?:e|ed) (?:it |them |these |those )?(?:again|twice))"
_BACK = r"go(?:es)? back (?:in|on)"
#: what is not used again
NOT_AGAIN = lazy_pattern(
    rf"(?:\b(?:not|never|cannot|no longer|dont|cant|wont)\b|n['’]t\b)[^.;,]{{0,24}}?\b(?:{_AGAIN}|{_BACK})\b"
    r"(?! (?:without|unless|until))|\bnon-?re-?usable\b|\bsingle[ -]use\b|\bone[ -](?:time|use)\b"
    r"|\bused? (?:only )?once\b|\bdisposable\b",
    re.IGNORECASE,
)
AGAIN = lazy_pattern(rf"\b(?:{_AGAIN}|(?:can|may) {_BACK})\b", re.IGNORECASE)
UNLESS = lazy_pattern(rf"\bnot\b[^.;,]{{0,24}}?\b{_AGAIN} (?:without|unless|until)\b", re.IGNORECASE)
#: what need not be renewed
NEED_NOT = lazy_pattern(
    r"\b(?:need not|needn['’]t|no need to|(?:do|does)(?: not|n['’]t) (?:have|need) to)"
    r" (?:be )?(?:renew|replac|chang)\w*",
    re.IGNORECASE,
)
NEW_ONE = lazy_pattern(
    r"\b(?:need|needs|want|wants|get|order)(?: a| some)? new (?:ones?|piece|strip|tape)\b", re.IGNORECASE
)
#: a thing that is not used again
_NAME = r"(?:the|these|those|its|this|my) (?P<part>[a-z][a-z -]{1,30}?)"
NAMED = (
    lazy_pattern(rf"{_NAME} (?=(?:is|are|was|were|can|cannot|may|must|should)\b)(?P<rest>[^.;,]+)", re.IGNORECASE),
    lazy_pattern(rf"(?P<rest>(?:never|do not|don['’]t) (?:re-?use|use)) {_NAME}(?: again)?(?=[.,;!]|$)", re.IGNORECASE),
)


def renewal(text: str) -> str:
    """Whether a thing is used again: "renew" where a text says that it is not, "reuse" where it is or need not be
    renewed, "" where the text says neither."""
    if NEED_NOT.search(text):
        return "reuse"
    if NOT_AGAIN.search(text) or NEW_ONE.search(text):
        return "renew"
    return "reuse" if AGAIN.search(text) and not UNLESS.search(text) else ""


def not_used_again(text: str) -> str:
    """The thing that a sentence says is not used again; "" if it names none."""
    for pattern in NAMED:
        found = pattern.match(text.strip())
        if found is not None and NOT_AGAIN.search(found["rest"]):
            return found["part"].strip()
    return ""
