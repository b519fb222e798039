"""Words that tell which way an act goes, apart or back together: "bolt the pump to the frame", "do up the five PH1s",
"lower the lid onto the base". Where they stand, the act is the one they tell, whatever it was taken for."""

from __future__ import annotations

import re
from collections.abc import Sequence

from attrs import evolve, frozen

from oddbolt.core.narration.assembly.patterns import MOVED_BACK
from oddbolt.core.narration.draft import DraftStep
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.understanding import Span, Understood

#: acts of putting back; one that is this likely at those words stands
GOES_BACK, LIKELY = ("place", "fasten", "connect", "stick"), 0.5
#: how sure an act is that its words tell
TOLD = 0.85
_BEGINS = (
    r"(?:^|(?<=[.;:!?,] )|(?<=\band )|(?<=\bthen )|(?<=\bnow )|(?<=\bi )|(?<=\bwe )|(?<=\byou )|(?<=\bso )"
    r"|(?<=\bto )|(?<=\bnext )|(?<=\bjust )|(?<=\bfirst ))"
)
_NUM = r"(?:\d+|an?|one|two|three|four|five|six|seven|eight|nine|ten|eleven|twelve)"
_DET = r"(?:the|its|this|that|both|all|all the|these|those|my|a|new|a new)"
_SCREWS = r"(?:(?:screw|bolt|nut|stud|stand-?off|T\d+|PH\d+|PZ\d+|IP\d+)s?)"
_GROUP = rf"(?:(?:{_DET}|of|{_NUM}) ){{0,4}}(?:[a-z]+ )??{_SCREWS}"
_COUNTED = rf"(?:(?:{_DET}|{_NUM})(?: of)? ){{1,4}}(?:[a-z]+ )??{_SCREWS}"
_FACE = r"(?:back|face|side|front|top|head|belly|end|rear|bottom|screen|keys|handle|left|right)"
_THING = rf"(?:{_DET} )(?P<what>[a-z][a-z-]*(?: [a-z][a-z-]*)??)"
_HOOKS = r"(?:clips|catches|tabs|latches|hooks|lugs|legs)"


@frozen
class _Way:
    """Words, the act that they tell, and the acts it is mistaken for. The act stands on the words of ``what`` …"""

    words: re.Pattern[str]
    action: str
    instead: frozenset[str]


def _way(words: str, action: str, *instead: str) -> _Way:
    return _Way(lazy_pattern(words, re.IGNORECASE), action, frozenset(instead))


WAYS = (
    _way(
        rf"{_BEGINS}(?P<what>(?:screw|bolt)(?:ed|s)?) (?:{_DET} |it |them )(?:[a-z-]+ ){{0,3}}?"
        r"(?:down|onto|to the|to its|back (?:on|in|down)|together|home)\b"
        rf"|{_BEGINS}(?P<what2>(?:screw|bolt|run|drive|wind)(?:s|ed)?|ran|drove) (?:back )?(?:in|down|home) {_GROUP}"
        rf"|{_BEGINS}(?P<what3>(?:do|did|doing|nip|nipped|nipping|snug|snugged) (?:back )?up)\b"
        rf"|{_BEGINS}(?:replac|refit|reinstall|reinsert)\w* (?P<what4>{_COUNTED})\b"
        rf"|(?P<what5>{_COUNTED})(?:(?:['’]re| are| is)(?: (?:now|all|both))*| go(?:es)?| went)? (?:back )?in\b"
        r"(?=[.,;!]|$| and (?:tight|snug|torqued)| again\b)",
        "fasten", "unscrew", "loosen",
    ),
    _way(rf"{_BEGINS}(?:sit|sat) {_THING}(?= (?:on(?! (?:its|the|his) {_FACE})|in|into|onto|over)\b)",
         "place", "turn", "fold", "out"),
    _way(
        rf"{_BEGINS}(?:lower|drop|hook|thread|loop|seat|nestle)(?:s|ed|ped)? {_THING}"
        r"(?= (?:back )?(?:on|onto|into|over|home|around|round)\b(?![^.;]*\b(?:off|out)\b))",
        "place", "out", "fold", "turn", "route",
    ),
    _way(
        rf"{_BEGINS}(?:push|press|squeeze|clip|snap|tap)(?:es|s|ed|ped)? {_THING}"
        r"(?= (?:back |down |on |in |home )*(?:until|till|so) (?:all |both |the |its )*"
        rf"(?:{_NUM} )?{_HOOKS} (?:catch|click|snap|engage|latch|lock|go|bite))",
        "place", "unclip", "out",
    ),
    _way(
        rf"{_BEGINS}(?:take|took|pull|pulled|lift|lifted|draw|drew|slide|slid) {_DET} (?P<what>(?:[a-z-]+ )?fuse)"
        r"(?= (?:out|from)(?: of)? (?:the |its )?(?:holder|clips?|socket|carrier|board)\b)",
        "out", "isolate",
    ),
)  # fmt: skip
#: clips that are closed are not undone: "snap the three clips shut"
CLOSED = lazy_pattern(
    rf"\b(?:snap|clip|click|press|push|close|lock)\w* (?:{_DET} )?(?:{_NUM} )?{_HOOKS} (?:shut|closed|home)\b"
    rf"|\b{_HOOKS} (?:(?:all|both) )?(?:snap|click|catch|engage|lock)(?:es|s|ed|ped)?"
    r"(?: (?:shut|in|home|back))?(?=[.,;]|$)",
    re.IGNORECASE,
)
#: words that take something apart
UNDOES = lazy_pattern(
    r"\b(?:un(?:screw|do|did|done|bolt|fasten|clip|plug)\w*|remov\w*|out|off|away|loosen\w*|slacken\w*|take|took|taken|pull\w*"
    r"|lift\w*|release\w*)\b",
    re.IGNORECASE,
)


def the_way_told(heard: Understood) -> Understood:
    """What was understood, with the acts that go the other way by their words as what these tell."""
    text = heard.text
    closed = CLOSED.search(text)
    if closed is not None:
        where = closed.span() if UNDOES.search(text) else (0, len(text))
        heard = _without(heard, [where], frozenset({"unclip"}))
    for way in WAYS:
        for found in way.words.finditer(text):
            what = next(n for n, words in found.groupdict().items() if words)
            heard = _turned(heard, way, found.span(), found.span(what))
    return heard


def _without(heard: Understood, places: Sequence[tuple[int, int]], labels: frozenset[str]) -> Understood:
    """What was understood without some acts at some places."""
    spans = tuple(
        s for s in heard.spans if s.label not in labels or not any(a < s.end and s.start < b for a, b in places)
    )
    left = {s.label for s in spans}
    whole = {k: 0.0 if k in labels and k not in left else v for k, v in heard.whole.items()}
    return evolve(heard, spans=spans, whole=whole)


def _turned(heard: Understood, way: _Way, place: tuple[int, int], what: tuple[int, int]) -> Understood:
    """The act that the words at a place tell instead of others there; in a sentence that undoes nothing, anywhere."""
    there = [s for s in heard.spans if s.label in GOES_BACK and s.sure >= LIKELY and _meets(s, place)]
    if there:  # it goes back by the network as well
        surer = [evolve(s, sure=max(s.sure, TOLD)) if s in there and s.label == way.action else s for s in heard.spans]
        return evolve(heard, spans=tuple(surer))
    rest = heard.text[: place[0]] + heard.text[place[1] :]
    everywhere = UNDOES.search(rest) is None and way.action == "fasten"
    wrong = [s for s in heard.spans if s.label in way.instead and (everywhere or _meets(s, place))]
    heard = _without(heard, [(s.start, s.end) for s in wrong] + [place], way.instead)
    spans = [s for s in heard.spans if s.label != way.action or not _meets(s, place)]
    at = next(((s.start, s.end) for s in wrong if way.action == "fasten" and s.start < s.end), what)
    spans.append(Span(way.action, *at, TOLD))
    whole = {**heard.whole, way.action: max(TOLD, heard.whole.get(way.action, 0.0))}
    return evolve(heard, spans=tuple(sorted(spans, key=lambda s: s.start)), whole=whole)


def _meets(span: Span, place: tuple[int, int]) -> bool:
    return span.start < place[1] and place[0] < span.end


def tightens(text: str) -> bool:
    """Whether the words of a sentence tell that screws are driven in."""
    return any(way.action == "fasten" and way.words.search(text) for way in WAYS)


def rules_the_way_told(text: str, steps: Sequence[DraftStep]) -> tuple[DraftStep, ...]:
    """The steps of the rules without screws undone in a sentence that only drives some in, and without "back" as a part
    where it is a way: "peel that back"."""
    only = tightens(text) and UNDOES.search(text) is None
    moved = MOVED_BACK.search(text) is not None
    return tuple(
        s
        for s in steps
        if not (only and s.action in ("unscrew", "loosen")) and not (moved and s.parts in (("back",), ("Back",)))
    )
