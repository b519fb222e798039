"""What goes on from the sentence before without saying it again: "now the second bracket", "and the right one".

Nothing here is sure: every draft made of it is in doubt, and is asked for.
"""

from __future__ import annotations

import re
from collections.abc import Sequence

from oddbolt.core.narration.assembly.names import WHICH, plain_name
from oddbolt.core.narration.assembly.patterns import BARE_PLUGS
from oddbolt.core.narration.assembly.utterance import Utterance
from oddbolt.core.narration.draft import DraftStep
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.vocabulary import Vocabulary

#: a sentence that only names what comes next
NEXT = lazy_pattern(
    r"(?P<lead>(?:(?:ok|okay|right|so|and|now|then|next up|next|after that|finally|lastly|last|also)\b[, ]*)*)"
    r"(?P<name>(?:the|its|his|this|another|an?|both|my|our)\b[^,.;:!?]+?)"
    r"(?P<too>,? too|,? as well|,? next|,? likewise|)[.!…]*"
)
#: acts that may go on over several sentences
GOES_ON = frozenset(("take out", "disconnect", "peel", "unclip", "pry", "place", "connect", "fold"))
OPPOSITE = {
    "left": "right", "upper": "lower", "top": "bottom", "front": "rear", "inner": "outer", "first": "second",
    "near": "far", "big": "small", "long": "short",
}  # fmt: skip
OPPOSITE |= {b: a for a, b in OPPOSITE.items()}
ONE = lazy_pattern(rf"(?:the\s+)?(?P<which>{'|'.join(WHICH)})\s+(?:hand\s+)?ones?", re.IGNORECASE)
#: as many steps back may the one be that "the other one" is the other of
RECENT = 4
#: how sure a step is that only its object was named of
BY_ITS_NAME = 0.55
NOT_SAID = "nobody said what was done: as in the step before?"


def other_one(words: str, before: Sequence[str]) -> str:
    """The part that "the right one" or "the other one" is, after those named ``before`` (newest last): "left arm" ->
    "right arm". "" where nothing tells."""
    found = ONE.fullmatch(words.strip(" .,;:!?"))
    if found is None or not before:
        return ""
    which = found["which"].lower()
    sided = (n for n in reversed(before) if any(w in OPPOSITE for w in n.lower().split()))
    fits = (n for n in reversed(before) if OPPOSITE.get(which) in n.lower().split())
    name = next(sided if which == "other" else fits, before[-1])
    kind = [w for w in name.split() if w.lower() not in WHICH]
    if which == "other":
        was = next((w.lower() for w in name.split() if w.lower() in OPPOSITE), "")
        which = OPPOSITE.get(was, "other")
    return " ".join([which, *kind]) if kind else ""


def names_before(work: Utterance) -> tuple[str, ...]:
    """The parts of the last few steps, newest last."""
    return tuple(s.parts[0] for s in work.memory.steps[-RECENT:] if s.parts)


#: a sentence that shows a part before anything is done to it
SHOWS = lazy_pattern(
    r"(?:(?:so|now|and|okay|ok|right|well|alright|yes|yeah|then)\b[, ]*)*"
    r"(?:(?:this|that|here|there|next(?: up)?|underneath|below|behind (?:it|that|this)|under (?:it|that|this)"
    r"|(?:behind|under|below|beneath|beside|next to) the (?:[a-z-]+ ){1,3}?(?=sits|is|are|lies|we|comes))"
    r"(?: here| up)?(?:'s|\s*(?:is|are|sits|lies|comes)\b)"
    r"|(?:(?:here|now|next|inside|in here|inside here|underneath|behind (?:it|that))(?: here)? )?"
    r"(?:we(?:'ve| have)(?: got)?|you(?:'ve got|'ll (?:see|find)| have| can see| see| find))"
    r"|(?:i|we)(?:'m|'re| am| are)? (?:suspect|suspecting|blame|blaming|thinking(?: it(?:'s| is))?)"
    r"|i (?:think|guess|bet) it(?:'s| is))"
    r"\s+(?P<name>(?:the|a|an|our|its|this|two|three|four|five|six|eight|\d)\s+[^,.;:!?]+)"
)
#: a part that is told last, and lies over what is told before it: "and there's a foam pad over one of them"
OVER_THEM = lazy_pattern(
    r"\bthere(?:['’]s| is| was) (?:an? |some )(?:(?:piece|bit|strip|layer) of )?(?P<name>[\w-]+(?: [\w-]+){0,2}?)"
    r" (?:over|on top of|across|covering|hiding|stuck on|stuck over) (?:[\w-]+ ){0,3}?(?:them|those|these|it|all"
    r"|screws?|bolts?|nuts?|connectors?|plugs?)(?: of (?:them|those|these|the screws))?[.!]?$"
)
#: a part that is told to be glued before anything is done to it
GLUED = lazy_pattern(
    r"(?:(?:so|now|and|okay|ok|right|well|but)\b[, ]*)*(?P<name>(?:the|this|its|our) [^,.;:!?]+?)"
    r"(?:['’]s|['’]re| is| are)(?: just| only| also| all| really| well)* (?:glued|stuck|taped|bonded|held by glue"
    r"|held in by glue|held down by glue|held with glue)\b"
)
#: what lies over fasteners and is no part by itself
COVERING = frozenset("tape foil film foam sticker label pad paper plug cap flap rubber".split())
#: where the name of what is shown ends
ENDS = lazy_pattern(
    r"\s(?:and|with|which|that|who|where|in|on|at|from|by|held|under|behind|inside|here|there|so|but|is|are|has|around"
    r"|along|across|over|near|through|between)\b"
)


def shown(text: str, vocabulary: Vocabulary) -> str:
    """The part that a sentence shows: "so this is the vacuum motor"; "" if it shows none."""
    low = text.strip().lower()
    found = SHOWS.match(low) or GLUED.match(low)
    if found is None:
        return ""
    start, end = found.span("name")
    cut = ENDS.search(found["name"])
    placed = low.startswith(("behind the ", "under the ", "below the ", "beneath the "))
    return _named(text.strip()[start : start + cut.start() if cut else end], vocabulary, tools=placed)


def lying_over(text: str, vocabulary: Vocabulary) -> str:
    """The part that a sentence tells last and that lies over the others: "there's a foam pad over one of them"."""
    found = OVER_THEM.search(text.strip().lower())
    words = text.strip()[slice(*found.span("name"))] if found is not None else ""
    covers = set(words.lower().split()[-1:]) & COVERING
    return plain_name(words, "the ") if covers else _named(words, vocabulary)


def continued(work: Utterance) -> DraftStep | None:
    """A step that the sentence only names the object of, done as the step before was; None if it does not look so."""
    last = work.memory.steps[-1] if work.memory.steps else None
    found = NEXT.fullmatch(work.text.strip().lower())
    if last is None or last.action not in GOES_ON or not last.parts or found is None:
        return None
    if not found["lead"] and not found["too"]:
        return None
    words = work.text.strip()[slice(*found.span("name"))]
    name = other_one(words, names_before(work)) or _named(words, work.vocabulary)
    if not name:
        return None
    action, back = last.action, last.phase == "put back"
    if name.split()[-1].lower() in BARE_PLUGS:
        action = "connect" if back else "disconnect"
    elif action in ("disconnect", "connect", "unclip"):
        action = "place" if back else "take out"
    return DraftStep(
        action, parts=(name,), joint="connector" if action in ("disconnect", "connect") else "", phase=last.phase,
        at_s=work.at_s, said=work.text.strip(), sure=BY_ITS_NAME, doubt=NOT_SAID, ref=work.next_ref(),
    )  # fmt: skip


#: a sentence that goes on with what was told before it
GOING_ON = lazy_pattern(r"(?:and |so )?(?:then|next|after that|and|you|you'd|you would|finally|from there|once)\b")


def _named(words: str, vocabulary: Vocabulary, tools: bool = False) -> str:
    """A name of a part or plug and nothing else, "" otherwise; with ``tools`` also of what may be one, "the driver"."""
    name = plain_name(words, "the ")
    parts = name.lower().split()
    if not parts or len(parts) > 4:
        return ""

    def is_a(word: str, cls: str) -> bool:
        return any(len(p) == 1 and c == cls for p, c, _ in vocabulary.phrases.get(word, ()))

    verb = any(is_a(w, "verb") and not is_a(w, "part") and w not in vocabulary.nouns_too for w in parts)
    thing = is_a(parts[-1], "part") or parts[-1] in BARE_PLUGS or (tools and is_a(parts[-1], "tool"))
    return name if not verb and thing else ""
