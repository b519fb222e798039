"""What the words for a part come to: articles and shorthand taken off, pronouns and short names resolved."""

from __future__ import annotations

import re

from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.memory import Memory
from oddbolt.core.reference.tables import table

PRONOUNS = frozenset(
    "it them they this that these those both one ones lot he she 'em em all him her itself everything thing".split()
)
LEADING = lazy_pattern(
    r"^(?:(?:the|a|an|this|that|these|those|its|it's|his|her|their|my|our|your|both|all|each|every|new|fresh|of|entire|"
    r"whole|little|tiny|just|then|and|now|replacement|old|another|with|from|to|in|on|up|per|x|\d+x?|two|three|four|five|six|"
    r"seven|eight|nine|ten|eleven|twelve)\s+)+",
    re.IGNORECASE,
)
TRAILING = lazy_pattern(r"(?:\s+(?:itself|here|there|out|off|up|away|back|in|on|too))+$", re.IGNORECASE)
DETERMINED = lazy_pattern(r"\b(?:the|a|an|its|my|your|our|this|that)\s+(?:(?:whole|entire)\s+)?$", re.IGNORECASE)
#: words that stand in no name of a thing
NO_NOUN = frozenset(
    "i we you it he she they is was are were has had and or with of off out in on up down around behind away comes "
    "goes then now so from to at by under".split()
)
#: who or what does something, right before the verb
DOER = lazy_pattern(r"\b(?:it|they|he|she|i|we|you)\s+$", re.IGNORECASE)
#: which one of several: "left" and "second" belong to a name
WHICH = (
    "left|right|upper|lower|top|bottom|front|rear|back|inner|outer|first|second|third|fourth|fifth|other|near|far|big|small|"
    "long|short"
).split("|")
BEFORE_NAME = lazy_pattern(
    rf"(?:^|[,;:.(]|\b(?:the|a|an|its|his|this|that|my|our|both|and|then|now))\s*\b({'|'.join(WHICH)})\s+$",
    re.IGNORECASE,
)
#: sides that may also be parts: "take the back off"
SIDES = frozenset("back front top bottom".split())
#: what ends a clause in talk without stops
PARTICLES = frozenset("in on off of out up down".split())
#: where a clause begins
CLAUSE_START = lazy_pattern(r"(?:^|[,;.:(…+]|\b(?:and|then|so|okay|right|now|now the))\s*$", re.IGNORECASE)
#: what makes "back" at the beginning of a clause tell of a return: "back together"
AGAIN = lazy_pattern(r"\s*(?:$|[:,.;!]|(?:together|tog|on|in|at|from|here|now|again|to|after|with|home|it|the)\b)")
#: words that are an act or nothing, never a part's name
NO_NAME = frozenset(
    "out off away up back in on down free removed undone done again same undo unscrew remove it's and the there "
    "here now so no yes ok okay now unplugged pulled front top bottom repeat likewise ditto again lot round "
    "yep yeah nope right well oh ah erm um uh hm lovely great good nice fine sorry please look see hang hold "
    "comes came goes went falls fell slacken loosen tease extricate pull lift push squeeze twist flip pop press close "
    "bled stuck sunk got saw shut removal reass at to won two three four five six seven eight nine ten eleven "
    "twelve grams gram kilos volts volt ohms ohm amps watts milliamps degrees minutes seconds millimetres "
    "millimeters mil qty quantity pcs lobe lobes number numbers tens ones twos threes".split()
)
#: a pronoun and a verb, and no name: "it say"
LED_BY_PRONOUN = lazy_pattern(r"(?:it|they|we|i|you|he|she)\b(?!['’]?s [a-z])")
#: fasteners called by their size: "number twos", "T tens", and a deed that leads to a name: "Disconnect J3"
NUMBERED_ONES = lazy_pattern(
    r"(?:number|t|ip|ph|pz) (?:ones?|twos?|threes?|fours?|fives?|six(?:es)?|sevens?|eights?|nines?|tens?|fifteens?"
    r"|twent(?:y|ies)|twenty[ -]fives?|\d+s?)"
)
DEED_BEFORE = lazy_pattern(
    r"^(?:disconnect|unplug|remove|unscrew|undo|desolder|detach|unclip|reconnect|refit|reinstall|loosen)(?:ed|d|s)?"
    r" (?=\S)",
    re.IGNORECASE,
)
#: what a part did, behind its name
DEEDS = frozenset(
    "slid floated fell came went goes comes hums hung hangs swung dropped popped lifted sits lies opened closed gave "
    "yielded followed follows turned wants needs looks feels".split()
)
#: a thing and what it is of, and heads that are no thing without it
OF_WHAT = lazy_pattern(r"(?P<head>[\w-]+(?: [\w-]+)?) of (?:(?:the|its|this|that|my|his) )?(?P<of>[\w-]+(?: [\w-]+)?)")
PART_OF = frozenset(
    "end ends side sides back front top bottom edge edges half halves rest pair pairs set piece pieces bit lot number "
    "kind type sort row middle centre center corner corners couple bunch inside outside all both each some one two "
    "three four five six seven eight most part out".split()
)
#: tools that fasteners are turned with, and no part that they hold: "two bolts, 4 mm key"
TURNED_WITH = frozenset("key keys spanner spanners wrench wrenches screwdriver screwdrivers bit bits".split())
#: heads of screws that are taken for a part
SCREW_HEADS = lazy_pattern(r"\bcross[ -]?heads?$")
#: what was done, and no part: "glued", "unlocked"
WAS_DONE = lazy_pattern(r"(?!bored|infrared|\w*bed$)[a-z]{2,}[^e\W]ed")


def plain_name(words: str, before: str = "") -> str:
    """The words for a part as a name, "" if they are a pronoun or no name at all. ``before`` is what stands before
    them: after an article even "back" is a name."""
    named = bool(DETERMINED.search(before)) or bool(DETERMINED.match(words + " "))
    name = words.replace("’", "'").strip(" .,;:!?()\"'-")
    name = LEADING.sub("", name).strip()
    name = TRAILING.sub("", name).strip(" .,;:-")
    low = name.lower()
    if (
        not low
        or low in PRONOUNS
        or (low in NO_NAME and not (named and low in SIDES))
        or (WAS_DONE.fullmatch(low) and not named)
        or not re.search(r"[^\W\d_]", low)
    ):
        return ""
    if LED_BY_PRONOUN.match(low) or NUMBERED_ONES.fullmatch(low) or not set(low.split()) - NO_NOUN:
        return ""
    name = DEED_BEFORE.sub("", name)
    return turned_about(without_deed(written_out(name)))


def written_out(name: str) -> str:
    """A name with its shorthand written out: "mtr lead" is a motor lead; a letter alone is a terminal and no side."""
    if len(name) == 1:
        return name
    short = table("vocabulary")["shorthand"]["words"]
    return " ".join(_long(word, short) for word in name.split())


def without_deed(name: str) -> str:
    """A name without what its part did: "lid slid"; a power led is one."""
    words = name.split()
    while len(words) > 1 and words[-1].lower() in DEEDS:
        words.pop()
    return " ".join(words)


def turned_about(name: str) -> str:
    """A name with what it is of before it: "hose of water" is a water hose; "end of the shaft" stays."""
    found = OF_WHAT.fullmatch(name)
    if found is None or found["head"].lower().split()[-1] in PART_OF:
        return name
    return f"{found['of']} {found['head'][0].lower()}{found['head'][1:]}"


def may_be_held(name: str) -> bool:
    """Whether a name may be that of a part which fasteners hold: no tool that turns them, and no heads of their own."""
    return name.lower().split()[-1] not in TURNED_WITH and SCREW_HEADS.search(name.lower()) is None


def _long(word: str, short: dict[str, str]) -> str:
    bare = word.rstrip(".")
    return short.get(bare.lower(), short.get(bare, word))


def is_side_named(text: str, words: str, at: int) -> bool:
    """Whether a side that begins a clause is the part of that name: "bottom off", "back 4x T6"."""
    low = words.lower().strip(" .,;:")
    if low not in SIDES or not CLAUSE_START.search(text[:at]):
        around = (*text[:at].lower().split()[-1:], *text[at + len(words) :].lower().split()[:1])
        return low in SIDES and len(around) > 1 and set(around) <= PARTICLES  # "speaker in back on"
    return low != "back" or AGAIN.match(text[at + len(words) :]) is None


def is_pronoun(words: str) -> bool:
    """Whether the words only point at something named before."""
    low = words.lower().strip(" .,;:")
    return low in PRONOUNS or low.split()[-1:] in (["one"], ["ones"], ["lot"])


def full_name(name: str, memory: Memory) -> str:
    """The longer name last used for a part that is now called by its last word alone, unless that part is already
    out: then this is another one."""
    if not name or " " in name:
        return name
    full = memory.full_name(name)
    return name if full.lower() in memory.out and full.lower() != name.lower() else full


def which_before(text: str, at: int) -> str:
    """The word just before a name that tells which of several it is: "second"; "" if there is none."""
    found = BEFORE_NAME.search(text[:at])
    return found[1].lower() if found else ""
