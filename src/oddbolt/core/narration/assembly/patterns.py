"""Words that the assembly looks for around the spans: latches, orders, what is to be renewed."""

from oddbolt.core.narration.language.patterns import lazy_pattern

LATCHES = (
    (
        "flip-lock",
        lazy_pattern(
            r"\b(?:flip\w*|flap|zif|little (?:door|gate)|(?:lid|lever|latch|bar|tab|lock) (?:\w+ )?(?:up|open)"
            r"|(?:lift|raise|open|turn)\w* (?:up )?(?:the|its|that|this|a)? ?(?:\w+ ){0,2}"
            r"(?:lid|lever|latch|bar|tab|flap|lock|collar))\b"
        ),
    ),
    ("slide-in", lazy_pattern(r"\b(?:slide|slid\w*|collar|locking bar)\b")),
)
PRESSED = lazy_pattern(r"\b(?:squeez|press|push|pinch|thumb|click)\w*")
COAX = lazy_pattern(r"\b(?:coax\w*|antenna (?:lead|cable|wire)s?|aerial \w+)\b")
RENEW = lazy_pattern(
    r"\b(?:renew|discard|throw\w* (?:out|away)|bin(?:ned)?|fit (?:a )?new|use new|replace(?:d)? with new|new ones?"
    r"|not (?:be )?(?:re-?used|used again))\b"
)
INSPECT = lazy_pattern(r"\b(?:inspect|check (?:the )?threads?|looked at before)\b")
REUSE = lazy_pattern(r"\b(?:re-?us(?:e|ed|able)|keep (?:them|these|for))\b")
ORDERED = lazy_pattern(
    r"\b(?:crosswise|cross|diagonal\w*|diag|star (?:pattern|order)|in a star|from the (?:middle|centre|center)"
    r"|outwards?|alternately|in (?:the )?(?:order|sequence)|in turn|evenly|x-?wise)\b"
)
ITS = lazy_pattern(r"\b(?:its|it|this|that)\b")
SAME = lazy_pattern(r"\bsame\b")
LONGER = lazy_pattern(r"\b(?:longer|shorter)\b")
SOLVENT = lazy_pattern(r"\b(?:ipa|iso\w*|alcohol|acetone|solvent|spirits?|remover)\b")
OTHER_SIDE = lazy_pattern(
    r"\b(?:other|opposite|left|right|second|back|front|far) (?:\w+ )?(?:side|end|edge|corner|half)\b"
)
FASTENER = lazy_pattern(r"(?:\w+ )?(?:screws?|bolts?|nuts?|grub|thumb|captives?)")
SOLDER_WORDS = lazy_pattern(r"(?:solder )?joints?|legs?|pins?")
PLUG_WORDS = frozenset("connector connectors plug plugs header".split())
BARE_PLUGS = PLUG_WORDS | frozenset("wires leads cable cables".split())
#: what makes the number before it no count
MEASURED = lazy_pattern(
    r"\s*-?(?:mm|mil\w*|millimet\w*|af\b|a/f|spanner|wrench|socket|key|bit|newton|n[·. ]?c?m\b|degrees?|°|minutes?"
    r"|seconds?|s\b|min\b|grams?|g\b|volts?|v\b|ohms?|pins?\b|pole|way)"
)
#: what stands before a number that comes on top of the one before
ADDED = lazy_pattern(r"(?:\+|\bplus|\band)\s*(?:another\s*)?$")
