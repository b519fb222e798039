"""What a speaker puts right in the same breath, left blank so that every place in the sentence stays its own: "four,
no, five screws", "the pump, I mean the motor", "the left, sorry, right speaker", "in the lid, no, in the base". So are
the words between a single one and its code: "and the middle one, which is a T6" is "and one T6".

A figure is put right by a figure, a name by a name, a place by a place; what fits none of these stays as it was said.
"""

from __future__ import annotations

import re
from collections.abc import Set

from oddbolt.core.narration.language.patterns import lazy_pattern

NUMBER_WORDS = frozenset(
    "one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen seventeen "
    "eighteen nineteen twenty thirty forty fifty sixty seventy eighty ninety hundred".split()
)
_CODE = r"(?:PH|PZ|IP|T|M)\d+"
_WORDS = "|".join(sorted(NUMBER_WORDS))
_COUNTED = rf"(?:\d+|{_CODE}|{_WORDS})"
CODE = lazy_pattern(rf"{_CODE}s?", re.IGNORECASE)
#: "four, sorry, five screws": a figure put right by the next
FIGURE = lazy_pattern(
    rf"(?<!\bnot )\b(?P<first>{_COUNTED})\b(?P<words>(?:\s+(?!(?:{_WORDS}|\d+)\b)[\w'-]+){{0,3}}?)"
    rf"(?P<term>\s*(?:\.\.\.|…|,|[-–—])\s*(?:oh,? )?"
    rf"(?:no,? wait|wait,? no|no,? (?:sorry|hang on|hold on)|sorry|i mean|make that|correction|no)\b[,:]?\s+)"
    rf"(?=(?:the )?(?P<again>{_COUNTED})\b(?P<behind>(?:\s+[\w'-]+){{0,3}}))",
    re.IGNORECASE,
)
#: a length put right by the next, whose unit was said before: "6 mm, make that 7 mm"
LENGTH = lazy_pattern(
    r"(?<![\w.,])\d+(?:[.,]\d+)? ?(?:mm|mil|millimet(?:er|re)s)\b,? (?:oh,? )?(?:no,? (?:wait|sorry)|sorry|i mean"
    r"|make (?:it|that)|correction|no|or rather)\b[,:]?\s+(?=\d+(?:[.,]\d+)? ?(?:mm|mil|millimet(?:er|re)s)\b)",
    re.IGNORECASE,
)
#: one code put right by another, with their counts in the same order: "T8, four, no, T9, four"
PAIR = lazy_pattern(rf"\b(?:{_CODE}), (?:\d+|{_WORDS}), (?:no|sorry|wait)\b,? (?=(?:{_CODE}), )", re.IGNORECASE)
#: what comes before the right word
_TERM = (
    r"(?P<term>(?:\s*(?:\.\.\.|…|,|[-–—]+|;)\s*|\s+(?=(?:or rather|i mean|sorry|no,? (?:wait|sorry)|no (?:the|its))\b))"
    r"(?:(?:oh|ah|er+m?|um|uh|well)\b,? ?)?"
    r"(?:no,? (?:wait|sorry|hang on|hold on|i mean)|wait,? no|sorry|i mean(?:t)?|or rather|rather|make that|correction"
    r"|scratch that|strike that|nope|no|well,? actually|actually)\b(?:\s*(?:\.\.\.|…|,|[-–—]+))?\s+)"
)
_ARTICLE = r"(?:the|a|an|its|my|our|this|that|his)"
_SIDE = r"(?:left|right|upper|lower|top|bottom|front|rear|back|inner|outer|first|second|third|big|small|long|short)"
_NAME = r"[a-z][a-z'-]*(?: [a-z][a-z'-]*){0,2}?"
#: where a name that puts another right is at its end
_END = (
    r"(?=\s*(?:[,.;:!?]|$)|\s+(?:off|out|up|down|away|back|loose|free|and|then|so|from|of|in|on|at|with|which|that|for|to"
    r"|plug|cable|connector|ribbon|is|was|are|were|comes?|came|goes|falls?|slides?|lifts?|pops?)\b)"
)
_BEFORE = r"(?P<prep>(?:(?:in|on|from|off|at|under|behind|of|inside|beside|into|onto|out of) )?)"
#: "the pump, I mean the motor", "in the lid, no, in the base"
NAME = lazy_pattern(
    rf"(?P<said>\b{_BEFORE}(?P<article>{_ARTICLE}) (?P<name>{_NAME}))"
    rf"(?P<particle>(?: (?:off|out|up|away|loose))?){_TERM}"
    rf"(?P<again>{_BEFORE.replace('prep', 'prep2')}(?:{_ARTICLE} )(?P<right>{_NAME})){_END}",
    re.IGNORECASE,
)
#: words that put a name right and nothing else, and what ends a name
CLEAR = lazy_pattern(r"\b(?:i mean(?:t)?|or rather|make that)\b", re.IGNORECASE)
CLOSED = lazy_pattern(r"\s*(?:[,.;:!?]|$|(?:off|out|up|away|loose|from)\b)", re.IGNORECASE)
#: a verb behind a name, and what may stand before the name that it is of
SAYS = lazy_pattern(
    r"\s+(?:is|was|are|were|comes?|came|goes|falls?|slides?|lifts?|pops?|to|for|that|which)\b", re.IGNORECASE
)
BEGINS = lazy_pattern(r"\W*(?:(?:so|and|now|then|ok|okay|right|next)\b\W*)*", re.IGNORECASE)
#: names of plugs end in one of these: "the pump plug, sorry, the heater plug"
PLUGS = frozenset("plug connector cable ribbon lead wire".split())
SIDE = lazy_pattern(_SIDE, re.IGNORECASE)
#: "and the middle one, which is a T6"
ONE_MORE = lazy_pattern(
    rf"(?<=\band )(?P<which>the (?:{_SIDE}|middle|odd|last|other|remaining) )(?P<one>one)"
    rf"(?P<is>,? (?:(?:which|that|who) (?:is|was)|that['’]s|being)(?: an?| the)? )(?={_CODE}\b)",
    re.IGNORECASE,
)
#: "the left, sorry, right speaker", "the front, I mean rear, cover"
SIDED = lazy_pattern(rf"(?P<said>\b{_SIDE}){_TERM}(?P<right>{_SIDE})(?P<comma>,?)(?= [a-z])", re.IGNORECASE)


def without_taken_back(sentence: str, nouns: Set[str]) -> str:
    """The sentence with what was put right in the same breath left blank. ``nouns`` are the words that name a part."""
    for pattern in (PAIR, LENGTH):
        sentence = pattern.sub(lambda taken: " " * len(taken.group()), sentence)
    sentence = FIGURE.sub(_figure, sentence)
    sentence = ONE_MORE.sub(lambda more: more["one"].rjust(len(more["which"]) + 3) + " " * len(more["is"]), sentence)
    sentence = SIDED.sub(_side, sentence)
    return NAME.sub(lambda taken: _name(taken, nouns), sentence)


def _figure(taken: re.Match[str]) -> str:
    """The right figure alone, with the count of a code that is put right: "three T8, no, T9". Words that were said once
    stay, with both figures: "four T8 screws, sorry, five"."""
    words, behind = taken["words"].lower().split(), taken["behind"].lower().split()
    blank = " " * len(taken["term"])
    if words and CODE.fullmatch(words[-1]) and CODE.fullmatch(taken["again"]):
        return taken["first"] + taken["words"][: taken["words"].rindex(" ")] + " " * (len(words[-1]) + 1) + blank
    again = all(w in behind or (CODE.fullmatch(w) and any(map(CODE.fullmatch, behind))) for w in words)
    alike = bool(CODE.fullmatch(taken["first"])) == bool(CODE.fullmatch(taken["again"]))
    return " " * len(taken.group()) if again and alike else taken.group()


def _side(taken: re.Match[str]) -> str:
    """The right side alone."""
    blank = " " * (taken.end("term") - taken.start())
    return f"{blank}{taken['right']}{' ' * len(taken['comma'])}"


def _name(taken: re.Match[str], nouns: Set[str]) -> str:
    """The right name alone, with the word that tells where the thing goes: "the cover off, no, the hood"."""
    first, last = taken["prep"].lower(), taken["prep2"].lower()
    name, right = taken["name"].lower().split(), taken["right"].lower().split()
    subject = BEGINS.fullmatch(taken.string[: taken.start()]) is not None
    if (last and first != last) or name == right or (SAYS.match(taken.string, taken.end()) and not subject):
        return taken.group()
    whole = len(taken.group())
    if right[-1] in ("one", "ones"):
        kind = [w for w in taken["name"].split() if not SIDE.fullmatch(w)]
        new = f"{taken['prep']}{taken['article']} {' '.join([*taken['right'].split()[:-1], *kind])}{taken['particle']}"
        return (
            new.rjust(whole) if SIDE.fullmatch(" ".join(right[:-1])) and kind and len(new) <= whole else taken.group()
        )
    clear = CLEAR.search(taken["term"]) and CLOSED.match(taken.string[taken.end() :])
    if not clear and not {name[-1], right[-1]} <= nouns | PLUGS:
        return taken.group()
    kept = taken["prep"] if first and not last else ""
    wrong = whole - len(kept) - len(taken["particle"]) - len(taken["term"]) - len(taken["again"])
    return f"{kept}{' ' * wrong}{taken['particle']}{' ' * len(taken['term'])}{taken['again']}"
