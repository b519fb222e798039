"""Words that hardly ever stand without their act: "line up", "unsolder", "tuck the lead under".

The network met too few examples of some acts to be sure of them. Where it finds such an act at least possible and the
words for it are there, the act stands, in doubt. Only acts are here whose words are right more often than not (common
practice, no source).
"""

from __future__ import annotations

import re
from collections.abc import Mapping

from oddbolt.core.narration.language.patterns import lazy_pattern

_NUMBER = (
    r"(?:\d+(?:[.,]\d+)?|one|two|three|four|five|six|seven|eight|nine|ten|twelve|fifteen|twenty|thirty|forty|sixty"
    r"|ninety|half|quarter|an?|couple)"
)
_TIME = r"(?:s|secs?|seconds?|mins?|minutes?|hours?|h|hrs?|quarter|while|bit|moment)"
_CABLE = (
    r"(?:cables?|leads?|wires?|wiring|looms?|harness(?:es)?|flex(?:es)?|ribbons?|hoses?|tubes?|cords?|coax|antennas?"
    r"|pigtails?|ffc)"
)
_PAST = (
    r"(?:behind|under|beneath|over|along|a?round|through|thru|between|clear|inside|beside|past|outside"
    r"|in(?:to)? (?:the |its )?(?:channel|groove|gutter|guide|clip|slot)\w*)"
)
_LAID = r"(?:re-?rout\w*|rout\w*|root|tuck\w*|stow\w*|dress\w*|thread\w*|feed|fed|led|keep|kept|bring|brought|lay|laid)"
_GOES = r"(?:rout\w*|tuck\w*|stow\w*|dress\w*|led|runs?|ran|go(?:es)?|went|lies|laid|keep|kept|pok\w*|pass\w*|push\w*)"

CUES: Mapping[str, re.Pattern[str]] = {
    "route": lazy_pattern(
        rf"\b{_CABLE}\b.{{0,60}}\b{_GOES}\b.{{0,60}}\b{_PAST}\b"
        rf"|\b{_LAID}\b.{{0,60}}\b{_CABLE}\b.{{0,60}}\b(?:{_PAST}|out of)\b",
        re.IGNORECASE,
    ),
    "align": lazy_pattern(
        r"\b(?:align\w*|lin(?:e|es|ed|ing) (?:it |them |the \w+ |up )?(?:up|with)|match(?:es|ed|ing)?(?: up)? "
        r"(?:the |with )"
        r"|centr(?:e|ed|ing)|until (?:it|they|the \w+) (?:drops?|falls?|seats?|snaps?|engages?)|facing"
        r"|(?:arrow|mark|dot|notch|key|slot|pin|hole|lug|rib|flat)s?\b.{0,40}"
        r"\b(?:to|with|at|against|opposite|over|into?)\b"
        r".{0,20}\b(?:mark|arrow|dot|notch|slot|hole|twelve|12|top|line))\b",
        re.IGNORECASE,
    ),
    "desolder": lazy_pattern(
        r"\b(?:de-?solder\w*|un-?solder\w*|[du]n? solder\w*|desold\w*|wick\w*|solder\w*)\b", re.IGNORECASE
    ),
    "bleed": lazy_pattern(r"\b(?:discharg\w*|bl[ee]+d(?:ed|ing|er)?|bled|shorted)\b", re.IGNORECASE),
    "drill": lazy_pattern(r"\b(?:drill\w*|bored? (?:out|away)|ground off|mill\w* (?:out|off))\b", re.IGNORECASE),
    "wait": lazy_pattern(
        rf"\b(?:wait\w*|weight|allow\w*|leav(?:e|ing)|left|let|stand|cool\w*|cure\w*|dry|rest(?:ed)?|set|gave it"
        rf"|give it)\b.{{0,60}}\b{_NUMBER}\b.{{0,15}}\b{_TIME}\b"
        rf"|\b{_NUMBER}[ -]?{_TIME}\b.{{0,25}}\b(?:wait|pause|rest|to (?:cool|dry|set|cure|soak))\b",
        re.IGNORECASE,
    ),
    "photo": lazy_pattern(r"\b(?:photos?|photograph\w*|pics?|pictures?|snapshot)\b", re.IGNORECASE),
    "weigh": lazy_pattern(r"\b(?:weigh\w*|on the scales?|grams?|kilograms?)\b|\b\d+(?:[.,]\d+)? ?k?g\b", re.IGNORECASE),
    "resume": lazy_pattern(
        r"\b(?:resum\w*|(?:we'?re|i'm|im) back|back (?:again|now)|(?:ok(?:ay)?|right),? back|carr(?:y|ied|ying) on"
        r"|continu(?:e|ed|ing)|where (?:was i|were we)|taken up again|rolling again)\b",
        re.IGNORECASE,
    ),
    "isolate": lazy_pattern(
        r"\b(?:unplug\w*|un plug\w*|isolat\w*|mains|(?:power(?:ed)?|pwr) (?:off|down|cut)"
        r"|switch\w* (?:it |the \w+ )?off"
        r"|off at the (?:wall|board)|out of the wall"
        r"|disconnect\w* (?:from )?(?:the )?(?:mains|power|supply|current)"
        r"|de-?energi\w+|breaker|no current)\b",
        re.IGNORECASE,
    ),
    "turn": lazy_pattern(
        r"\b(?:turn|flip|roll|tip|tilt)\w*"
        r" (?:it|this|that|him|her|the (?:whole )?(?:device|unit|thing|machine|lot|body))"
        r" (?:right |all |back )?"
        r"(?:over|upside[ -]?down|face[ -]?down"
        r"|on(?:to)? (?:its|the|his) (?:back|face|side|front|top|head|belly|end))\b",
        re.IGNORECASE,
    ),
    "loosen": lazy_pattern(
        r"\b(?:loosen\w*|slacken\w*)\b.{0,40}\b(?:screws?|bolts?|nuts?|grubs?|studs?|(?:T|PH|PZ|IP)\d+s?)\b",
        re.IGNORECASE,
    ),
    "undo": lazy_pattern(
        r"\b(?:undo (?:that|it|last|the last)|scratch that|strike that|forget (?:that|it)|take that back"
        r"|put (?:it|that|them|those) back|went (?:straight )?back)\b",
        re.IGNORECASE,
    ),
    "clean": lazy_pattern(
        r"\b(?:clean(?:s|ed|ing)?|wip(?:e|ed|ing)|brush(?:ed|ing)?|blow\w*|blew|blown|scrap(?:e|ed|ing)"
        r"|wash(?:ed|ing)?|rins\w*"
        r"|degreas\w*|polish\w*|vacuum\w*|scrub\w*)\b",
        re.IGNORECASE,
    ),
}
#: remarks that are told with the same words and without the act, from this likelihood on
INSTEAD, LIKELY = ("hypothetical", "chat", "variant", "announce", "caution"), 0.5
#: the network must find the act at least this likely
POSSIBLE = 0.03


def told_by_cue(action: str, text: str, whole: Mapping[str, float]) -> bool:
    """Whether the words for an act are there, the network finds it possible, and no remark explains them."""
    cue = CUES.get(action)
    if cue is None or whole.get(action, 0.0) < POSSIBLE or any(whole.get(r, 0.0) > LIKELY for r in INSTEAD):
        return False
    return cue.search(text) is not None
