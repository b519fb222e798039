"""What a sentence says for judging: the class of a fastener, who can do a step and where, which role a part has.

Read by exact words only. What is hedged, asked, wished or denied is left alone: it stays in the sentence.
"""

from __future__ import annotations

import re
from collections.abc import Mapping

from oddbolt.core.narration.draft import ToldClass

_NOT = r"(?:can(?:not|['’]?t| not)|must(?:n['’]?t| not)|should(?:n['’]?t| not)|won['’]?t|will not|never)"
_AGAIN = r"(?:be )?(?:re-?used?|used? (?:again|twice)|go back(?: in| on)?)"
_HARM = r"without (?:damag|break|destroy|tear|ruin|cutting|wreck)\w*"
_OPEN = r"(?:remov|open|tak|pull|lift|com|undo|releas)\w*"
_FRESH = r"(?:its |their |a |an |the |new |fresh |own )+\w+"
_FOR = r"(?:needs?|requires?|takes?|calls? for|(?:job|work|only) for|leave (?:it|this|that) to)"
_GLUED = r"(?<!glue )(?<!adhesive )(?<!tape )(?<!strip )(?<!foam )"


def _classes(**said: tuple[str, ...]) -> Mapping[str, re.Pattern[str]]:
    return {value: re.compile("|".join(ways), re.IGNORECASE) for value, ways in said.items()}


#: class -> how it is said; the first that fits counts
FASTENER = _classes(
    neither=(
        rf"\b(?:{_NOT}|do(?:es)?n['’]?t|no way to) (?:be )?(?:get|{_OPEN})(?: \w+){{0,3}}? {_HARM}",
        rf"{_GLUED}\b(?:tears?|breaks?|shatters?|snaps?) (?:when|on|upon|every time|each time|as) "
        rf"(?:\w+ ){{0,3}}?{_OPEN}",
        rf"\b(?:is|are|gets?) (?:destroyed|ruined) (?:when|on|upon|as) (?:\w+ ){{0,3}}?{_OPEN}",
        r"\bdestroyed (?:on|by|in|during) (?:removal|opening)",
    ),
    resupplied=(
        rf"\b(?:spare|replacement|new) (?:\w+ ){{1,3}}?(?:comes?|ships?|(?:is|are) (?:supplied|delivered|sold)) "
        rf"with {_FRESH}",
        r"\b(?:comes?|ships?|supplied|delivered|included|provided) with (?:the |a |each |every )?"
        r"(?:new|spare|replacement) \w+",
    ),
    removable=(
        r"\bsingle[- ]use\b",
        r"\bone-(?:time|shot|way|off)\b|\bone time use\b",
        r"\bonce only\b|\bonly once\b",
        rf"\b{_NOT} {_AGAIN}\b",
        r"\b(?:is|are|['’]re|['’]s) not re-?usable|\b(?:is|are)n['’]?t re-?usable",
        r"\bno good (?:a second time|twice)",
    ),
    reusable=(
        r"\b(?:can|may) (?:all |both |well )?be (?:re-?used|used again)\b",
        r"(?<!not )(?<!n['’]t )\b(?:fully |all )?re-?usable\b",
        r"\bgood (?:for|to) (?:re-?use|use again)\b",
    ),
)
SKILL = _classes(
    authorised=(
        r"\bonly (?:by )?(?:an? |the )?authori[sz]ed (?:service|workshop|repairer|partner|technician)s?\b",
        r"\bauthori[sz]ed (?:service|repairers?|workshops?) only\b",
    ),
    expert=(rf"\b{_FOR} (?:an? |the )?(?:real |trained |soldering )?(?:expert|specialist)s?\b",),
    generalist=(
        rf"\b{_FOR} (?:an? |the )?(?:trained |skilled |general )?(?:generalist|technician|electrician|repairer)s?\b",
    ),
    layman=(
        r"\b(?:anyone|anybody|any owner|any user|the owner|the user|a lay(?:man|person)|a beginner) (?:can|could) "
        r"(?:easily |safely )?(?:do|change|replace|open|manage|swap)\b",
    ),
)
PLACE = _classes(
    production=(r"\b(?:needs?|requires?|only (?:at|in)) (?:a |the )?(?:factory|production (?:line|equipment))\b",),
    workshop=(
        rf"\b(?:{_FOR}|only in|belongs in) (?:a |the )?(?:\w+ )?workshop\b",
        r"\bworkshop (?:job|only)\b",
    ),
    use=(
        r"\b(?:can be )?(?:do this|do it|done|doable|changed|replaced) "
        r"(?:at home|at the kitchen table|on (?:the )?site|where it (?:is used|stands|hangs))\b",
    ),
)
ROLE = re.compile(
    r"\b(?:the|this|that) ((?:[\w-]+ ){1,4}?)(?:counts|stands|serves) as (?:the |an? )?((?:[\w-]+ ?){1,4}?) "
    r"(?:for|in|to) (?:the )?(?:index|judging|scheme|verdict|regulation|mark|score)\b",
    re.IGNORECASE,
)
#: words that make a sentence say less than it seems to
HEDGED = re.compile(
    r"\?|\b(?:if|unless|whether|would|were it|maybe|perhaps|probably|possibly|might|could be|not sure|think|guess|"
    r"suppose|hope|seems?|looks like|used to|says?|said|according|claims?|supposed|allegedly|wish|instead of|"
    r"rather than|unlike)\b",
    re.IGNORECASE,
)
DENIED = re.compile(r"\b(?:no|not|n['’]t|never|without|don['’]?t|doesn['’]?t|hardly)\b[\w\s]{0,12}$", re.IGNORECASE)
#: nouns of what holds -> kinds of joints
KINDS: tuple[tuple[str, tuple[str, ...]], ...] = (
    (r"clips?|latch(?:es)?|catch(?:es)?|hooks?", ("clip",)),
    (r"screws?|bolts?|stand-?offs?", ("screw",)),
    (r"tapes?|foam|pads?", ("tape", "adhesive")),
    (r"glue|adhesives?|bond|strips?|pull tabs?", ("adhesive", "tape")),
    (r"rivets?|heat stakes?|stakes?", ("rivet",)),
    (r"solder|solder(?:ed)? joints?", ("solder",)),
    (r"connectors?|plugs?|coax", ("connector", "coax")),
    (r"magnets?", ("magnet",)),
    (r"joint|fastening", ()),
)
NOUN = re.compile("|".join(rf"\b(?P<n{n}>{words})\b" for n, (words, _) in enumerate(KINDS)), re.IGNORECASE)
PRONOUN = re.compile(
    r"^\W*(?:and |but |so |well |right |ok )*(?:it|they|these|those|this|that|all of them|both)\b", re.IGNORECASE
)


def told_classes(text: str, at_s: float | None = None) -> tuple[ToldClass, ...]:
    """What one sentence says for judging. Empty where it hedges, asks or denies."""
    out = []
    for clause in re.split(r"(?<=[.;!])\s+|\s+[-–]\s+", text):
        if HEDGED.search(clause):
            continue
        for field, classes in (("fastener", FASTENER), ("skill", SKILL), ("where", PLACE)):
            told = _first(classes, clause)
            if told is None:
                continue
            value, found = told
            kinds = _kinds(clause, found) if field == "fastener" else ()
            if kinds is not None:
                out.append(ToldClass(field, value, clause.strip(), at_s, kinds))
        role = ROLE.search(clause)
        if role is not None and not DENIED.search(clause[: role.start()]):
            out.append(ToldClass("role", role[2].strip(), clause.strip(), at_s, part=role[1].strip()))
    return tuple(out)


def _first(classes: Mapping[str, re.Pattern[str]], text: str) -> tuple[str, re.Match[str]] | None:
    for value, pattern in classes.items():
        found = pattern.search(text)
        if found is not None and not DENIED.search(text[: found.start()]):
            return value, found
    return None


def _kinds(clause: str, found: re.Match[str]) -> tuple[str, ...] | None:
    """The kinds of joints that the words are about: those named nearest before them, else within them, else whatever
    the sentence before spoke of where it begins with a pronoun or with the words themselves. None where something else
    is spoken of."""
    before = list(NOUN.finditer(clause[: found.start()]))
    within = list(NOUN.finditer(found[0]))
    after = NOUN.match(clause, found.end() + 1)
    if named := (before[-1] if before else within[-1] if within else after):
        if found[0].lower() == "one-way" and "screw" in named[0].lower():
            return None  # a form of head, which may well be undone
        return next(kinds for n, (_, kinds) in enumerate(KINDS) if named[f"n{n}"])
    lead = clause[: found.start()].strip(" ,")
    return () if not re.search(r"\w", lead) or PRONOUN.match(lead) else None
