"""Counts that words around the numbers make: "half of the eight", "two dozen", "three rows of four", "about six"."""

from __future__ import annotations

from fractions import Fraction

from oddbolt.core.narration.assembly.figures import UNITS_OF_LENGTH, WORDS, number_of
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.vocabulary import Vocabulary

_N = rf"(?:\d{{1,2}}|{WORDS})"
_NO_UNIT = rf"(?![\w.,/-]?\d| ?(?:{UNITS_OF_LENGTH}|newton|turns?|degrees?|grams?|nm|ncm)\b)"
#: a part of all: "half of the eight", "two thirds of the nine"
PART_OF_ALL = lazy_pattern(
    r"\b(?P<part>half|a half|one half|a quarter|one quarter|three quarters|a third|one third|two thirds)"
    rf" (?:of (?:the |these |those |its |all )?|the |these |those )(?P<all>{_N})\b{_NO_UNIT}"
)
PARTS = {
    "half": Fraction(1, 2), "quarter": Fraction(1, 4), "quarters": Fraction(3, 4), "third": Fraction(1, 3),
    "thirds": Fraction(2, 3),
}  # fmt: skip
#: dozens and groups of so many
DOZEN = lazy_pattern(rf"\b(?P<n>half a|half|{_N})[ -]dozen\b")
OF_GROUPS = lazy_pattern(
    rf"\b(?P<n>{_N}) (?:[a-z]+ )?(?:rows|lines|groups|sets|rings|banks|clusters|columns|lots) of (?P<each>{_N})\b"
    rf"{_NO_UNIT}"
    rf"|\b(?P<often>twice|two times|three times) (?P<times>{_N})\b(?= [a-z]*(?:screws?|bolts?|nuts?|clips?)\b)"
)
OFTEN = {"twice": 2, "two times": 2, "three times": 3}
#: all without some: "eight screws minus one"
LESS = lazy_pattern(
    rf"\b(?P<all>{_N})\b(?: [\w-]+){{0,2}} (?:minus|less|bar|short of) (?:the )?(?P<few>{_N})\b{_NO_UNIT}"
)
#: one of several by its number: "screw 2 of 5", "the third of the five T8"
ONE_OF_SEVERAL = lazy_pattern(
    rf"\b(?:screw|bolt|nut|clip)(?: no\.?| number)? {_N} (?:of|out of|/) (?:the )?{_N}\b"
    r"|\bthe (?:very )?(?:first|second|third|fourth|fifth|sixth|seventh|eighth|ninth|tenth|last)"
    rf"(?: one| screw| bolt| nut)? of (?:the |these |those |its )?{_N}\b{_NO_UNIT}"
)
#: so many more, with what they come to: "another three, that makes seven"
ANOTHER = lazy_pattern(
    rf"\banother (?P<n>{_N})\b{_NO_UNIT}[^.;]*?"
    rf"(?:\bthat makes|\bmaking|\bso(?: that[’']?s)?|\bwhich makes) (?:it )?{_N}\b"
)
#: what tells a number only roughly: "about six", "six or so"; not the place of something: "around the rim"
ROUGHLY = lazy_pattern(
    r"\b(?:about|around|roughly|approximately|approx\.?|circa|ca\.?|nearly|almost|at least|at most|up to|maybe|perhaps"
    rf"|probably|possibly|more than|fewer than|less than|i think) (?P<n>{_N})\b{_NO_UNIT}"
    rf"|\b(?P<n2>{_N})(?: or so\b| i think\b| i guess\b|[- ]ish\b|, (?:i think|i guess|maybe|or so)\b)"
)


def by_words(text: str, vocabulary: Vocabulary) -> int | None:
    """How many the words around several numbers make; None if they make none, or no whole number."""
    low = text.lower()

    def value(words: str | None) -> int:
        return int(number_of(words or "", vocabulary) or 0)

    if found := PART_OF_ALL.search(low):
        some = PARTS[found["part"].split()[-1]] * value(found["all"])
        return int(some) if some and some.denominator == 1 else None
    if found := DOZEN.search(low):
        return 6 if found["n"].startswith("half") else 12 * value(found["n"]) or None
    if found := OF_GROUPS.search(low):
        return (OFTEN.get(found["often"] or "") or value(found["n"])) * value(found["times"] or found["each"]) or None
    if (found := LESS.search(low)) and value(found["few"]) < value(found["all"]):
        return value(found["all"]) - value(found["few"])
    if ONE_OF_SEVERAL.search(low):
        return 1
    return value(found["n"]) or None if (found := ANOTHER.search(low)) else None


def roughly(text: str, count: int, vocabulary: Vocabulary) -> bool:
    """Whether a count is told only roughly: "about six", "six or so"."""
    told = (found["n"] or found["n2"] for found in ROUGHLY.finditer(text.lower()))
    return any(number_of(words, vocabulary) == count for words in told)
