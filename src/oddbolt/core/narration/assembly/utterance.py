"""One utterance on its way to drafts: its words, the names in it, and what "it" is."""

from __future__ import annotations

import re
from typing import Any

from attrs import define, evolve, field

from oddbolt.core.narration.assembly.acts import Act
from oddbolt.core.narration.assembly.names import (
    DETERMINED,
    DOER,
    NO_NOUN,
    PRONOUNS,
    full_name,
    is_pronoun,
    is_side_named,
    may_be_held,
    plain_name,
    which_before,
)
from oddbolt.core.narration.assembly.patterns import MOVED_BACK, NOT_YET_THERE
from oddbolt.core.narration.assembly.sounds import mended, spoken
from oddbolt.core.narration.draft import Aside, DraftNote, DraftStep
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.vocabulary import Vocabulary
from oddbolt.core.narration.memory import Memory
from oddbolt.core.narration.understanding import Span

#: words for some of a stuff: "a piece of foam"
PIECES = frozenset(
    "piece pieces bit bits lump length strip strips sheet blob bead set sets stack pile bunch row handful".split()
)
#: verbs of where a thing is, that look like parts behind its name: "the board stands on"
LIES = frozenset("stands sits rests hangs lies comes goes lifts slides turns springs swings".split())
#: words for fastenings that end a name: "ring nut", "amber tape"
NOUNS_BEHIND = frozenset("nut nuts tape tapes lead leads wire wires terminal terminals".split())
#: what a part is soldered by, which is not what comes out then: "heat both legs, and it's out"
JOINED_BY = frozenset("leg legs joint joints blob blobs tag tags".split())
#: what leads to a thing that fasteners are taken from, and that does not lie over them
TAKEN_FROM = lazy_pattern(r"\b(?:from|out of|off|in|into|on)\s+(?:(?:the|its|this|a)\s+)?$", re.IGNORECASE)
#: words that a noun follows
STUFF = frozenset("new knew fresh old rubber plastic metal".split())
#: a part that comes in the place of another
NEW_ONE = lazy_pattern(
    r"\b(?:new|knew|fresh|replacement|spare|another)(?: \w+)? (?:ones?|wons?)\b|\b(?:new|fresh|replacement) (?:in|on)\b"
)
#: so many letters before and behind an act it may stand
NEAR_BEFORE, NEAR_BEHIND = 14, 6
COMES_OUT = frozenset({"take out", "peel", "pry", "cut", "desolder"})
#: letters of a shorthand that begins a name
SHORTEST = 3
#: what stands within a name: "cover of the gearbox"
OF_LINK = lazy_pattern(r"\s+of\s+(?:the |its |this |that )?")
#: what a thing is of: "hose of water"
OF_STUFF = lazy_pattern(r" (?!(?:the|its|this|that|a|an|those|these|them|it)\b)([a-z][\w-]*)", re.IGNORECASE)
#: what makes the words before it a way to call the fasteners
SUCH = lazy_pattern(r"\s(?:things?|ones?|types?|sort|kind|fellas?|jobs?|bits?)\b", re.IGNORECASE)


#: what was spoken of before is somewhere, and stays what "it" is
IT_SITS = lazy_pattern(
    r"\W*(?:(?:and|so|now|right|ok|okay|well|oh|yeah|but|then)\W+)*"
    r"(?:it|that|this|they)(?:[’']?s|[’']?re| is| was| are| were)? (?:(?:just|only|simply|really|actually|all) )*"
    r"(?:sits?|sitting|rests?|resting|lies|lying|hangs?|hanging|stands?|stuck|glued|clipped|wedged|seated|mounted"
    r"|located|lives?|(?:a|just a) (?:push|press|tight|friction) fit)\b"
)


@define
class Utterance:
    """The words, what was said before, and the drafts made so far. ``spoken`` are names of parts that the rules heard
    in the utterance; ``named`` those that came up in its acts."""

    text: str
    memory: Memory
    vocabulary: Vocabulary
    at_s: float | None = None
    spoken: tuple[str, ...] = ()
    named: list[str] = field(factory=list)
    steps: list[DraftStep] = field(factory=list)
    amends: list[DraftStep] = field(factory=list)
    notes: list[DraftNote] = field(factory=list)
    cautions: list[DraftNote] = field(factory=list)
    renew: list[str] = field(factory=list)
    asides: list[Aside] = field(factory=list)
    #: where the words of the acts begin, and how many acts are on fasteners
    starts: frozenset[int] = frozenset()
    groups: int = 0
    #: where the words of the act of a step begin
    stands: dict[str, int] = field(factory=dict)
    #: the sorts of acts that the utterance holds
    kinds: frozenset[str] = frozenset()
    #: whether the part of the act in hand was put right by its sound
    by_sound: bool = False
    #: fasteners that were announced, and of which the words say that they are out, by ref
    as_announced: set[str] = field(factory=set)
    #: whether the act in hand is on such fasteners
    out_now: bool = False
    #: whether the part of the act in hand was looked for in earlier sentences
    from_before: bool = False

    def words(self, act: Act) -> str:
        """The words an act stands on; "" if it stands on none."""
        return self.text[act.start : act.end]

    def region(self, act: Act) -> str:
        """The stretch of the utterance that tells of an act."""
        return self.text[act.region[0] : act.region[1]]

    def of(self, act: Act, role: str) -> str:
        """The words of one figure of an act."""
        return " ".join(s.words(self.text) for s in act.spans(role))

    def next_ref(self) -> str:
        """The name of the next draft."""
        self.memory.counter += 1
        return f"d{self.memory.counter}"

    def object(self, act: Act) -> str:
        """The part an act is done to, pronouns resolved; "" if nobody knows."""
        moved = MOVED_BACK.search(self.text)
        if moved is not None and moved.start() <= act.start < moved.end():
            return self.topic(moved.start(), pointed=True)
        return self.named_by(self.words(act), act.start) if act.start < len(self.text) else ""

    def named_by(self, words: str, at: int = 0) -> str:
        """The part that some words name, pronouns resolved. ``at`` is where the words stand."""
        words = self._whole_name(self._on(words, at), at)
        if spoken(self.text):
            known = {w for p in self.memory.parts for w in p.lower().split()}
            nouns, listed = self.vocabulary.nouns | known, self.vocabulary.listed | known
            heard = words
            words = mended(words, self.text[at + len(words) :], nouns, listed)
            new = set(words.lower().split()) - set(heard.lower().split()) - known
            self.by_sound |= bool(new)
        side = is_side_named(self.text, words, at)
        before = "the " if side or self.text[at + len(words) :].startswith(":") else self.text[:at]
        name = plain_name(words, before)
        if name and not self._only_verb(name, before) and not self._no_thing(name, before):
            which = which_before(self.text, at)
            name = self._written_out(name)
            name = f"{which} {name}" if which else full_name(name, self.memory)
            self.named.append(name)
            self.memory.note_part(name)
            return name
        return self.topic(at, pointed=is_pronoun(words)) if is_pronoun(words) or name else ""

    def renewed(self, act: Act) -> str:
        """What "a new one" is that goes in: the part that came out last; "" if nothing is told so."""
        words = self.words(act)
        bare = is_pronoun(words) or not plain_name(words)
        around = self.text[max(0, act.start - NEAR_BEFORE) : act.end + NEAR_BEHIND].lower()
        if not bare or NEW_ONE.search(around) is None:
            return ""
        gone = [s for s in (*self.memory.steps, *self.steps) if s.action in COMES_OUT and s.parts and not s.phase]
        self.from_before |= bool(gone) and gone[-1] not in self.steps
        return gone[-1].parts[0] if gone else ""

    def _written_out(self, name: str) -> str:
        """A name whose shorthand begins the name of a part spoken of before: "agit" of an agitator."""
        low = name.lower().rstrip(".")
        if " " in low or len(low) < SHORTEST or low in self.vocabulary.listed:
            return name
        longer = {p.lower().split()[-1] for p in self.memory.parts if p.lower().split()[-1].startswith(low)}
        known = low in {p.lower().split()[-1] for p in self.memory.parts}
        return longer.pop() if len(longer) == 1 and not known else name

    def _only_verb(self, name: str, before: str) -> bool:
        """Whether a name is but the verb of an act: "pull", "slides". After an article it is a thing all the same."""
        low = name.lower()
        if " " in low or DETERMINED.search(before):
            return False
        classes = {cls for p, cls, _ in self.vocabulary.phrases.get(low, ()) if len(p) == 1}
        return classes == {"verb"} and self.vocabulary.verb_bases.get(low, low) not in self.vocabulary.nouns_too

    def _no_thing(self, name: str, before: str) -> bool:
        """Whether a name is one word in no list that stands right behind the doer of an act: "that rips off"."""
        return " " not in name and DOER.search(before) is not None and name.lower() not in self.vocabulary.nouns

    def _on(self, words: str, at: int) -> str:
        """The words with the noun that follows them at once, where they break off before it: "rubber" plugs."""
        if not self.text[at:].startswith(words):
            return words
        follows = re.match(r"\s([A-Za-z][\w-]*)", self.text[at + len(words) :])
        last = words.lower().split()[-1] if words.split() else ""
        of = re.match(
            r"\sof (?!(?:the|its|this|that|a|an|those|these|them)\b)([a-z][\w-]*)",
            self.text[at + len(words) :],
            re.IGNORECASE,
        )
        if of is not None and last in PIECES:
            return of[1]
        if follows is None or last in PRONOUNS or follows[1].lower() in LIES:
            return words
        if at + len(words) + 1 in self.starts and last not in STUFF:
            return words
        known = self.vocabulary.phrases.get(follows[1].lower(), ())
        noun = any(len(w) == 1 and cls == "part" for w, cls, _ in known) or follows[1].lower() in NOUNS_BEHIND
        verb = any(cls == "verb" for _, cls, _ in self.vocabulary.phrases.get(follows[1].lower(), ()))
        of_stuff = last in STUFF and follows[1].lower() not in NO_NOUN
        if of_stuff or (noun and not verb):
            return words + follows.group()
        return words

    def _whole_name(self, words: str, at: int) -> str:
        """The words without what belongs to no name: "nozzle one", and "hose of" with what it is of."""
        low = words.lower()
        if low.endswith((" one", " ones")) and low.split()[-2] in self.vocabulary.nouns:
            return words[: words.rindex(" ")]
        if not low.endswith(" of"):
            return words
        of = OF_STUFF.match(self.text[at + len(words) :]) if self.text[at:].startswith(words) else None
        return f"{words} {of[1]}" if of is not None else words[:-3]

    def topic(self, at: int = 0, pointed: bool = False) -> str:
        """What "it" is: what was named before in this utterance, what the last fasteners held, or the last part. What
        is only ``pointed`` at was not named behind it."""
        low = self.text[:at].lower()
        of_before = IT_SITS.match(low) is not None  # "it sits on four pads, so lift it off": it is still the first
        names = () if of_before else tuple(n for n in (*self.named, *self.spoken) if self._may_be_meant(n, low))
        earlier = [(low.rfind(n.lower().split()[-1]), n) for n in names if n.split()]
        here = max((e for e in earlier if e[0] >= 0), default=None)
        if here is not None:
            return here[1]
        later = pointed and at and bool(self.named) and self.named[-1].lower().split()[-1] in self.text[at:].lower()
        if self.named and self.named[-1] in names and not later:
            return self.named[-1]
        self.from_before = True
        if self.memory.shown:
            return self.memory.shown
        last = self.memory.steps[-1] if self.memory.steps else None
        if last is not None and last.action == "pry" and last.parts:
            return last.parts[0]
        if self.memory.holding and self.memory.holding.lower() not in self.memory.out:
            return self.memory.holding
        left = (p for p in reversed(self.memory.parts) if p.lower() not in self.memory.out)
        return next((p for p in left if self._may_be_meant(p, low)), "")

    def _may_be_meant(self, name: str, before: str) -> bool:
        """Whether "it" may be a thing: not what was named as that of another, after "cut its zip tie and slide it out"
        the tie, nor what a part is soldered by."""
        last = name.lower().split()[-1:]
        if not last or last[0] in JOINED_BY:
            return False
        return re.search(rf"\b(?:its|his) (?:\w+ )?{re.escape(last[0])}\b", before) is None

    def held(self, act: Act) -> tuple[str, ...]:
        """The parts that fasteners hold, as marked; "tri-wing" of "tri-wing things" is none."""
        off = [found.span() for found in NOT_YET_THERE.finditer(self.text.lower())]
        spans = [
            s
            for s in act.spans("held")
            if SUCH.match(self.text, s.end) is None
            and not any(a <= s.start < b and not a <= act.start < b for a, b in off)
        ]
        spans = self._of_each_other(spans)
        names = [self.named_by(s.words(self.text), s.start) for s in spans]
        if len(spans) > 1 and spans[0].start > act.start and all(s.start in self.starts for s in spans):
            names = names[:1]  # "all three come out, then the ring, then the lens"
        told = tuple(dict.fromkeys(n for n in names if n and may_be_held(n)))
        gone = [o for o in self.memory.out if o]  # "with the shield gone, the board": it holds the board alone
        return tuple(n for n in told if not any(f" {o}".endswith(f" {n.lower()}") for o in gone)) or told

    def _of_each_other(self, spans: list[Span]) -> list[Span]:
        """The spans with two that are one name as one: "the cover of the gearbox"."""
        out: list[Span] = []
        for span in sorted(spans, key=lambda s: s.start):
            if out and OF_LINK.fullmatch(self.text[out[-1].end : span.start].lower()):
                out[-1] = evolve(out[-1], end=span.end)
            else:
                out.append(span)
        return out

    def where(self, act: Act) -> dict[str, Any]:
        """What lay over the thing, and its place."""
        held = {(s.start, s.end) for s in act.spans("held")}
        spans = [
            s for s in act.spans("under") if (s.start, s.end) not in held or not TAKEN_FROM.search(self.text[: s.start])
        ]
        under = tuple(n for s in spans if (n := plain_name(s.words(self.text))))
        places = (s.words(self.text).lower().strip(" .,") for s in act.spans("at"))
        return {"under": under, "place": ", ".join(dict.fromkeys(p for p in places if p))}
