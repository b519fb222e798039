"""Words that the assembly looks for around the spans: latches, orders, what is to be renewed."""

import re

from oddbolt.core.narration.language.patterns import lazy_pattern

SENTENCE_END = lazy_pattern(r"[.;!?](?:\s|$)")
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
#: a verb of unplugging, right before what is unplugged
UNPLUG = lazy_pattern(r"\b(?:disconnect|unplug|detach)\w* (?:(?:the|its|this) )?$")
#: what is cut with the power
POWER = lazy_pattern(
    r"(?:(?:the|its) )?(?:mains|power|supply|current|electricity)(?: (?:supply|cord|cable|lead|plug))?"
)
#: "plug" that is what is done: "plug in the display again"
PLUG_IN = lazy_pattern(
    r"plug(?:ged|s)? (?:back )?in (?:the|its|this|that|my|his)\s+"
    r"(?P<part>[\w-]+(?: (?!(?:again|back|and|then|with)\b)[\w-]+)?)",
    re.IGNORECASE,
)
#: where a plug or lead goes, which tells whose it is
GOES_TO = lazy_pattern(
    r"\b(?:go(?:es|ing)?|runs?|running|leads?|leading|to|for|from|of|on) (?:to |up to |over to |from )?"
    r"(?:the|its|this|that) (?P<part>[\w-]+(?: [\w-]+)?)(?=[.,;]|$| and| then| is| are| with)"
)
#: what is glued or greased, with what: "seal the new cap with 150 mg of silicone"
ONTO = lazy_pattern(
    r"\b(?:seal|glue|grease|coat|oil|lubricate|smear|fill|line|cover)(?:s|d|ed|ing)? (?:the |its |this |that )(?:new )?"
    r"(?P<part>[\w-]+(?: (?!with\b)[\w-]+)?) with\b",
    re.IGNORECASE,
)
#: a thing spoken of before that something is put on
ON_IT = lazy_pattern(r"\b(?:it|its|them|each of (?:them|these|those)|this|these|there)\b")
#: a word behind another that makes both the name of a clip: "spring clip"
A_CLIP = lazy_pattern(r"\s(?:clips?|catch(?:es)?|latch(?:es)?|tabs?|hooks?)\b", re.IGNORECASE)
#: how often something is gone over: "two passes"
PASSES = lazy_pattern(r"\b(\w+) (?:more )?(?:passes|times|strokes|rolls|laps)\b")
#: nouns that tell where fasteners of the same part are: "four T8 in front, two T6 at the back"
SIDE_NOUNS = frozenset(
    "back front top bottom side sides end ends edge edges corner corners middle centre center".split()
)
#: words for wires and what they end in, that tell no part
PLUG_NOUN = lazy_pattern(
    r"\b(?:plugs?|connectors?|spades?|terminals?|tags?|tabs?|shoes?|contacts?|wires?|leads?|cables?|push-ons?)$"
)
#: what leads from them to the thing that they belong to
PLUGS_OF = lazy_pattern(
    r"(?: (?!and\b|then\b|with\b)[\w-]+){0,3}? (?:off|of|from|on|at|to|into|out of|@) "
    r"(?:(?:the|its|this|that) )?(?:(?:back|side|end|rear|bottom|top|front) of )?"
    r"(?:(?:the|its|this|that) )?(?P<part>[\w-]+(?: [\w-]+)?)"
    r"(?=[.,;:]|$| and| then| is\b| are\b| was| were| with| by| i\b)",
    re.IGNORECASE,
)
COAX = lazy_pattern(r"\b(?:coax\w*|antenna (?:lead|cable|wire)s?|aerial \w+)\b")
RENEW = lazy_pattern(
    r"\b(?:renew|discard|throw\w* (?:out|away)|bin(?:ned)?|fit (?:a )?new|use new|replace(?:d)? with new|new ones?"
    r"|not (?:be )?(?:re-?used|used again))\b"
)
INSPECT = lazy_pattern(
    r"\b(?:inspect|check (?:the )?threads?|looked at before|if (?:they are |it is )?(?:undamaged|not damaged))\b"
)
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
#: threaded fasteners, as they are announced
SCREWS = lazy_pattern(
    r"\b(?:\w*screws?|scr|scrws?|bolts?|nuts?|(?:self-?)?tappers?|stand-?offs?|cross-?heads?|grubs?|fasteners?"
    r"|\w+ heads|(?:ph|pz|ip|t|y)\d+s?)\b"
)
#: what comes off with fasteners and is not held by them
LOOSE_PARTS = lazy_pattern(r"\b(?:washers?|screws?|bolts?|nuts?|caps?|plugs?)$")
#: the verb before what is warmed, in shorthand: "heat front plate"
HEATED = lazy_pattern(r"(?:heat|warm|soften)\s+(?=\w)", re.IGNORECASE)
TWICE = lazy_pattern(r"\btwice\b")
NUT = lazy_pattern(r"\bnuts?\b")
#: words for what snaps, that are no part held by it
SNAPS = lazy_pattern(
    r"(?:[\w-]+ )*(?:tabs?|ears?|hooks?|lugs?|noses?|barbs?|tongues?|catch(?:es)?|claws?|clips?|latch(?:es)?|pawls?"
    r"|pegs?|prongs?|snaps?|fingers)"
)
SOLDER_WORDS = lazy_pattern(r"(?:solder )?joints?|legs?|pins?|(?:un|de)?[ -]?solder\w*|de|un")
PLUG_WORDS = frozenset("connector connectors plug plugs header".split())
BARE_PLUGS = PLUG_WORDS | frozenset("wire wires lead leads cable cables cord flex flexes ribbon ribbons".split())
#: words for what a plug is like, that tell no part
LIKE = frozenset("flat round wet white black red blue green yellow brown grey gray small big tiny clear loose".split())
#: parts of which "it" may be unplugged
ELECTRIC = BARE_PLUGS | frozenset(
    "battery cell pack board pcb motor fan display lamp light led speaker sensor switch pump heater element camera "
    "antenna keypad microphone module relay solenoid transformer driver hose hoses tube tubes harness charger "
    "panel".split()
)


def unplugged(name: str) -> bool:
    """Whether a part may be what was unplugged, where nobody said."""
    words = name.lower().split()
    return bool(words) and words[-1] in ELECTRIC


DRILLED = lazy_pattern(r"(?:\w+ )*(?:rivets?|screws?|bolts?|heads?|drill\w*)")
#: words that leave open how many of a group are meant
SOME = lazy_pattern(r"\b(?:some|most|half|rest|other|others|remaining|few|couple|first|last)\b")
#: fasteners spoken of before are undone
THEM_OUT = lazy_pattern(
    r"\b(?:take|took|taking|get|got|getting|undo|undid|undoing|remove|removed|removing|unscrew\w*|back(?:ed)?)"
    r" (?:them|those|these|all of (?:them|those|these)|'em|em|all(?: \w+)?)\b"
    r"|\b(?:they|those|these|all (?:of (?:them|those)|\w+))(?:'re| are|'ve| have)?(?: all)?"
    r" (?:out|gone|undone|removed)\b"
)
#: what is described and then left as it is
HAS = lazy_pattern(r"\b(?:has|have|had|there (?:is|are|were|was)|there's|held|secured|fixed|sits on)\b")
#: the same in more words, and what tells that fasteners are undone, or anything comes off; of fasteners that are only
#: said to be there, half are undone in the next sentence, and half in this one
HELD_BY = lazy_pattern(
    r"(?<!\bi )(?<!\bwe )\b(?:has|have|had)\b"
    r"|\b(?:holds?|held|secur\w+|retain\w+|fixed|fastened|attached|mounted)\b"
    r"|\b(?:sits?|stands?|hangs?|is|are|was|were)(?: just| only)? (?:on|by)\b|['’]s (?:got|on)\b|\btheirs\b"
    r"|\b(?:is|are|was|were|['’]s|['’]re)(?: just| only| all)? (?:clipped|screwed|bolted|snapped)\b"
    r"|\b(?:there|here)(?:['’]s| is| are| was| were)\b"
)
FREED = lazy_pattern(
    r"\b(?:out|off|of|away|gone|done|free\w*|loose\w*|slack\w*|un ?do|undid|undone|undoing|unscrew\w*|unclip\w*"
    r"|unbolt\w*|unhook\w*|unlatch\w*|disengag\w*|releas\w*|remov\w*|take|took|taken|taking|come|came|comes|coming"
    r"|driv\w+|drove|whizz\w*|zip\w*|spin|spun|spins|withdr\w+|lift\w*|goes|going|drop\w*|ran|run|turn\w*|draw\w*|drew"
    r"|extract\w*|crack\w*|pull\w*|open\w*|pop\w*|press\w*|squeez\w*|pinch\w*|bend|bent|push\w*|straighten\w*|back)\b"
    r"|→|->"
)
#: where a part is heated or pried, and no part of its own
EDGES = lazy_pattern(
    r"(?:(?:the|its|all|both|each|this|that|along|around|whole|outer|outside|left|right|top|bottom|lower|upper|long|short)"
    r" )*(?:edges?|perimeter|sides?|corners?|outline)"
)
#: what only lays down what is out
SET_ASIDE = lazy_pattern(
    r"\b(?:set|put|lay|move|place)(?:s|ting|ing)? (?:it|that|this|them|those|these|everything|all that)"
    r" (?:all )?(?:off )?(?:to (?:the|one) side|aside|over here|over there)\b"
)
#: a way that something is moved, and no part: "peel that back"
MOVED_BACK = lazy_pattern(
    r"\b(?:peel|fold|pull|put|push|flip|bend|roll|lay)\w* (?:that|this|it|them|those) back\b", re.IGNORECASE
)
#: a sentence on how the part shown before is held: "it's held with a single screw"
IT_IS_HELD = lazy_pattern(
    r"\W*(?:(?:and|so|now|well|yeah|okay)\b,? )*(?:it|that|this|they)(?:['’](?:s|re)| is| are| has| have| was| were)\b"
)
LEFT_ALONE = lazy_pattern(
    r"\b(?:(?:i|we)(?:'ll| will)? (?:won'?t|leave|am not|'m not|are not|don'?t)|not going to|no need to|need not"
    r"|needn'?t|stays? (?:in|on|put|closed|where|as)|left (?:alone|in place|as it is))\b"
)
#: words that tell of something coming off or being done
DEED = lazy_pattern(
    r"\b(?:off|out|away|up|free|gone|loose|down|apart|\w+(?:ed|ing|es)|take|took|lift|lifts|pull|pulls|remove|slide|slides"
    r"|slid|drop|drops|come|comes|came|pop|pops|draw|drew|drawn|prise|pry|withdraw|withdrew|detach|extract|fall|falls"
    r"|fell|unclip|unscrew|undo|twist|turn|turns|tip|push|press|knock|tap|ease|get|got|have|has|had)\b|->|→"
)
#: a whole sentence is taken back
WAS_NOT = lazy_pattern(
    r"\b(?:this|that|it|which|they) (?:was|is|were|are) not "
    r"(?:done|necessary|needed|required|disturbed|removed|taken)\b"
    r"|\b(?:was|were) (?:left (?:in place|alone|untouched|where)|not (?:disturbed|touched|done))\b"
)
#: what is expected or thought to come off, or would be done as a rule; what tells that it did, and that it did not
EXPECTED = lazy_pattern(
    r"\bshould (?:now |just |then |also |easily |simply )*"
    r"(?:be able to|be free|be loose|come|lift|slide|drop|pop|pull|fall|go|unscrew|unclip|release)\b"
    r"|\bi (?:think|guess|suppose|believe|reckon|assume|expect)(?: that)? (?:the|it|this|that|they|these)\b"
    r"(?: (?!is\b|was\b|are\b|were\b|has\b)[a-z-]+){0,2}?"
    r" (?:slides?|lifts?|comes?|pulls?|pops?|unscrews?|unclips?|will|just)\b"
    r"|\b(?:normally|usually|ordinarily|typically|as a rule)[, ]+(?:you|one|i)(?:['’]d| would)\b"
    r"|\b(?:you|one)(?:['’]d| would) (?:normally|usually)\b"
)
DID = lazy_pattern(
    r"\b(?:there (?:we|you|it|she|he) go(?:es)?|there (?:it|she|he) is|got it|(?:it|he|she)'?s (?:out|off|free)"
    r"|(?:it|he|she) does|(?:out|off|up) (?:it|she|he) comes|yep|yes|here we go|done)\b"
)
DID_NOT = lazy_pattern(
    r"\b(?:nope|no|stuck|won'?t|doesn'?t|does not|not coming|refus\w+|still (?:held|holding|something|one|a))\b"
)
JUST_ITS = lazy_pattern(r"\b(?:[Ii]ts|[Tt]heir|[Hh]is) $")
#: what comes along with a part, at the end of a clause
WITH_IT = lazy_pattern(
    r"\b(?:together with|along with|with) (?:its|their|his|the) (?P<part>[\w-]+(?: [\w-]+)?)(?=\s*(?:[.,;!]|$))",
    re.IGNORECASE,
)
#: what makes the number before it no count
MEASURED = lazy_pattern(
    r"\s*-?(?:in[- ]lbs?\b|ft[- ]lbs?\b|inch pounds?\b|foot pounds?\b"
    r"|mm\b|mil\w*|millimet\w*|af\b|a/f|spanners?\b|wrench|sockets?\b|keys?\b|bits?\b"
    r"|newton|n[·. ]?c?m\b|degrees?|°|minutes?"
    r"|seconds?|s\b|min\b|grams?|g\b|volts?|v\b|ohms?|pins?\b|p\b|poles?\b|ways?\b|cores?\b|turns?\b)"
)
#: words that show fasteners without saying that they are undone
SHOWN = lazy_pattern(
    r"\b(?:there (?:are|is|were|was)|there's|theirs?|here(?:['’]s| are| is)|held (?:in |on |down )?(?:by|with)"
    r"|(?:secured|fixed|retained) (?:by|with)|(?:we|you|i)(?:'ve| have| see| can see|'ll see| will find|'ll find| find)"
    r"|holding|hold|holds)\b"
)
FACE = lazy_pattern(
    r"\bon(?:to)? (?:its|the|it's) (?P<lies>back|front|face|head|side|left side|right side|top|bottom|belly)\b"
    r"|\b(?P<up>belly|bottom|underside|back|front|top)[ -](?:side )?up\b|\b(?P<down>face|upside) ?-?down\b"
)
#: what lies below -> what is uppermost then
TURNED = {"back": "front", "front": "back", "face": "back", "head": "bottom", "top": "bottom", "bottom": "top"}
TURNED |= {"belly": "back", "side": "left", "left side": "right", "right side": "left"}
#: how a correction of the step before begins
CORRECTION = lazy_pattern(
    r"(?:oh |ah |erm |um )?(?:nope|sorry|wait|oops|correction|actually|make (?:it|that)|i mean|rather)\b[,. ]"
    r"|(?:oh |ah |erm |um )?no(?:[,.]| (?:it|they|that|those|this|wait|sorry|not|there|theirs|make|i|hang|hold|one|two"
    r"|three|four|five|six|seven|eight|nine|ten|eleven|twelve|for|fore|to|too|won|ate|tree|\d+|[a-z]{1,2}\d+)\b)"
    r"|i meant?\b|(?:that|it) (?:was|should (?:be|say|have been)) the \w+ one\b"
)
#: the part that a correction names
MEANT = lazy_pattern(
    r"\b(?:i meant?|make (?:that|it)|(?:that|it|this)(?:'s| was| is| should (?:be|say|have been))(?: from| off)?"
    r"|should (?:be|say)|not the [\w -]{1,30}?,? (?:but )?)\s+(?:the|its) (?P<part>[\w -]{1,40}?)"
    r"(?=,|[.;!]|\s+not\b|\s*$)",
    re.IGNORECASE,
)
#: a count that stands alone in a correction
MANY = lazy_pattern(
    r"\b(\d{1,2}|one|two|three|four|five|six|seven|eight|nine|ten|eleven|twelve)"
    r"(?: of (?:them|those|these)|[.!]?$| screws\b)"
)
#: a clause of what comes later or is left out: "before removing the lid", "without opening it"
NOT_YET_THERE = lazy_pattern(
    r"\b(?:before|prior to|without|instead of|rather than) (?:\w+ly )?(?!anything|something|nothing|everything)"
    r"\w{2,}ing\b(?:(?! (?:i|you|we|they|then)\b)[^,.;:!?])*"
    # what is left out: "all parts except the shaft"
    r"|\b(?:except(?: for)?|apart from|aside from|other than) (?:the|its|this|that|my) [a-z-]+"
    r"(?: (?!is\b|are\b|comes?\b|everything\b|all\b|the\b)[a-z-]+)?"
    # what the work is for: "to get the belt off you loosen these"
    r"|(?:^|[.;:!?] )(?:(?:so|now|and|okay|ok) )?(?:in order )?to "
    r"(?:(?:take|lift|pull|remove|free)\b[^.;:!?]{0,40}?|get (?:the |this |that )?[\w -]{1,30}? (?:off|out|away|free))"
    r"(?=,? (?:you|we|i|one)(?:[’']\w+)?\b)"
)
#: what the work is for, and done to it in the same breath: "to get the belt off I roll it off the pulley"
TO_AND_DONE = lazy_pattern(
    r"[.;:!? ]*(?:(?:so|now|and|okay|ok) )?(?:in order )?to (?:get|take|lift|pull|remove|free)\b[^.;:!?]{0,50}?,?"
    r" (?:i|we)\b(?! (?:have to|need to|must|want to|first)\b)[^.;:!?]{0,50}?\b(?:it|them|that)\b[^.;:!?]{0,50}?"
    r"\b(?:off|out|away|free|up)\b"
)
#: the lock of a plug, and what stands between it and the plug that it lets go
_LOCKS = r"(?:locks?|latch|bar|flap|slider|shutter|catch|collar)"
LOCK_OF_PLUG = lazy_pattern(
    rf"\b(?:(?:flip|open|swing|flick)\w*(?: up| back| open)? (?:the |its |that |this )?(?:[a-z]+ )?"
    rf"(?:{_LOCKS}|connector|socket|zif)"
    rf"|(?:lift|rais|slid|pull|push|turn)\w*(?: up| back)? (?:the |its |that )?(?:[a-z]+ )?{_LOCKS})"
    r"(?: (?:on|of) (?:the |its |this |that )?(?:[a-z]+ )?(?:connector|socket|plug))?$"
)
LOCK_ONLY = lazy_pattern(
    r"(?: (?:up|open|back|away|over|down))?"
    r"(?: (?:on|of) (?:the |its |this |that )?(?:[a-z]+ )?(?:connector|socket|plug))?"
    r"(?: by [^.;,]{1,20})?[ ,]*(?:and|then|so|to let)?"
    r"(?: (?:then|the|its|that|this|withdraw|pull|slide|draw|out|release))*(?: [a-z]+)? ?"
)
#: a clause of what was not quite done: "I almost took the cover off", "forgot to unplug it"
NOT_QUITE = lazy_pattern(
    r"\b(?:almost|nearly|forg[oe]t(?:ten)? to|about to|meant to|wanted to|tried to|failed to|refus\w+ to"
    r"|(?:could|should|would|ought to) have)\b[^,.;:!?]*"
)
#: a part that is only moved, and not taken out: "lift the board a little"
A_LITTLE = lazy_pattern(
    r"\b(?:lift|rais|slid|pull|mov|push|eas|tip|draw|drew)\w* [^.;,]*?\b(?:a little|slightly|a bit|a touch"
    r"|part ?way|half ?way|an inch|a few (?:mm|mil\w*|millimet\w+|centimet\w+|inches))\b"
)
#: a tool that is warmed, and no part
TOOL_WARMED = lazy_pattern(
    r"(?:heat|warm)\w*(?: up)?(?: the| my| your)? (?:soldering iron|iron|heat gun|hot ?air gun|gun|hot ?plate|heat ?mat"
    r"|mat)\b"
)
