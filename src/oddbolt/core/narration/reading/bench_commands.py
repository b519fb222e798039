"""What is said to the bench and not about the device: a break, pause, go on, a photo, the same again, undo."""

from __future__ import annotations

import re

from oddbolt.core.narration.draft import Aside
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.tokens import items
from oddbolt.core.narration.language.vocabulary import Vocabulary

#: kind -> the whole sentences that say it, courtesies left out
SAID = {
    "pause": r"pause(?: (?:here|the clock))?|hold on|stop the clock",
    "go on": r"go on|resume|carry on|continue|start the clock|back (?:to work|again)"
    r"|(?:let's )?(?:begin|start)(?: now)?",
    "photo": r"photo(?:graph)?|picture|(?:take|get) (?:a|another) (?:photo|picture)",
    "repeat": r"(?:and )?(?:the )?same again|once more|(?:repeat|do) that(?: again)?|another one(?: of those)?",
    "undo": r"take (?:that|it) back|strike that|forget that(?: one)?|undo the last (?:step|entry)",
}
COURTESY = lazy_pattern(r"^(?:ok(?:ay)?|right|so|now|please|and)[, ]+|[, ]+please$")
BREAK = lazy_pattern(
    r"\b(?:(?:was|took|had|take|after|for|that's|just) (?:a|an|my|our|the|only a) (?:\S+ ){0,4}?break"
    r"|(?:minutes?|hours?|lunch|coffee|tea|half-hour)[- ]break|(?:was|were|got) (?:called )?away|was interrupted"
    r"|(?:minutes?|seconds?|hours?) (?:was|were) (?:a |my |our )?(?:break|pause|interruption))\b"
)


#: what may also be said of the device, and is then read so
EITHER = ("break", "repeat")


def aside_in(sentence: str, vocabulary: Vocabulary) -> Aside | None:
    """What a whole sentence says to the bench, or None."""
    low = sentence.casefold().strip(" .!,")
    found = BREAK.search(low)
    if found:
        times = [i.number for i in items(sentence, vocabulary) if i.unit == "time" and i.number]
        return Aside("break", float(times[0]) if times else None)
    before = ""
    while before != low:
        before, low = low, COURTESY.sub("", low)
    return next((Aside(kind) for kind, said in SAID.items() if re.fullmatch(said, low)), None)
