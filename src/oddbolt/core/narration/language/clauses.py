"""Items into clauses: which words are verbs, what they act on, and how it is placed.

The grammar is shallow on purpose: speech at a bench is short, and a word nobody taught still names a part if it stands
where a part's name stands.
"""

from __future__ import annotations

from attrs import define, field

from oddbolt.core.narration.language.grammar import (
    ADVERBS,
    AUXILIARIES,
    CONJUNCTIONS,
    DETERMINERS,
    PARTICLES,
    PREPOSITIONS,
    SUBJECTS,
)
from oddbolt.core.narration.language.nouns import LIGHT, Noun, add_figures, noun_at, noun_word
from oddbolt.core.narration.language.tokens import Item
from oddbolt.core.narration.language.verbs import is_past, is_plural, verb_at
from oddbolt.core.narration.language.vocabulary import Vocabulary

EXISTENTIAL = frozenset("there here's there's see find have has got we've you'll notice spot are is".split())


@define
class Clause:
    """One verb and what belongs to it. ``voice``: active, passive, moves (the subject moves by itself) or none."""

    text: str
    start: int
    end: int
    action: str = ""
    verb: str = ""
    verb_span: tuple[int, int] = (0, 0)
    voice: str = "none"
    particle: str = ""
    purpose: bool = False
    reference: bool = False
    linked: str = ""
    subjects: list[Noun] = field(factory=list)
    objects: list[Noun] = field(factory=list)
    placed: list[tuple[str, Noun]] = field(factory=list)
    quantities: list[Item] = field(factory=list)
    light: str = ""
    existential: bool = False
    held: bool = False


def clauses(found: list[Item], sentence: str, vocabulary: Vocabulary) -> list[Clause]:
    """The clauses of a sentence in order. Stretches without a verb become clauses with ``voice`` none."""
    out: list[Clause] = []
    for link, chunk in _chunks(_coordinated(found)):
        out.extend(_clauses_of(chunk, link, sentence, vocabulary))
    return out


def _coordinated(found: list[Item]) -> list[Item]:
    """Read "the black and the red wire" as two wires: two adjectives before one joint are a count of two."""
    out: list[Item] = []
    i = 0
    while i < len(found):
        k = i + 1 if found[i].low in DETERMINERS else i
        rest = found[k : k + 5]
        if len(rest) > 2 and _adjective(rest[0]) and rest[1].low == "and":
            m = 3 if rest[2].low in DETERMINERS else 2
            if len(rest) > m + 1 and _adjective(rest[m]) and rest[m + 1].has("joint") and not is_plural(rest[m + 1]):
                last = rest[m]
                text = " ".join(c.text for c in found[i : k + m + 1])
                out.append(Item(text, text.lower(), found[i].start, last.end, number=2.0))
                i = k + m + 1
                continue
        out.append(found[i])
        i += 1
    return out


def _adjective(item: Item) -> bool:
    return item.has("finish") or item.has("plain") or item.has("place")


def _chunks(found: list[Item]) -> list[tuple[str, list[Item]]]:
    """Cut at punctuation and at conjunctions that begin a new clause."""
    out: list[tuple[str, list[Item]]] = [("", [])]
    for i, item in enumerate(found):
        if item.punct and item.low not in "()/":
            out.append((item.low, []))
        elif item.low == "then" and _goes_on(out[-1][1], found[i + 1 : i + 2]):
            continue
        elif item.low in CONJUNCTIONS or item.low in ("which", "who", "or"):
            link, chunk = out[-1]
            if not chunk and item.low in ("and", "then", "but"):
                out[-1] = (link + item.low, [])
            else:
                out.append((item.low, []))
        elif _begins_clause(found, i, out[-1][1]) or (item.low in SUBORDINATE and len(out[-1][1]) > 1):
            out.append(("", [item]))
        else:
            out[-1][1].append(item)
            after = found[i + 1] if i + 1 < len(found) else None
            if _told_when(out[-1][1]) and after is not None and after.low in DETERMINERS | SUBJECTS:
                out.append(("", []))
    return [(link, chunk) for link, chunk in out if chunk]


def _goes_on(chunk: list[Item], after: list[Item]) -> bool:
    """Whether "then" stands between a subject and its verb: "the board then comes away"."""
    if not chunk or not after or any(c.has("verb") for c in chunk):
        return False
    first = after[0].low.split()[0]
    return after[0].has("verb") and first.endswith("s") and not first.endswith("ss")


def _told_when(chunk: list[Item]) -> bool:
    """Whether the words so far are a whole clause that tells when: "once they are out", "with those gone"."""
    begun = chunk[0].low in SUBORDINATE | {"with", "after"} and len(chunk) > 2
    return begun and chunk[-1].low in PARTICLES | {"gone", "undone", "removed"}


#: These begin a clause that tells when, not what.
SUBORDINATE = frozenset("once when until unless".split())


STARTERS = frozenset(
    "i they you we he she i'm i'll i've i'd we're we'll we've you'll you're they're they've there's here's it's that's "
    "let's".split()
)


#: Words after which a subject goes on with the clause instead of beginning one.
OPEN_ENDS = (
    PREPOSITIONS
    | CONJUNCTIONS
    | DETERMINERS
    | frozenset(
        "that if when where what how which who sure because so once until while than since unless whether why".split()
    )
)


def _begins_clause(found: list[Item], i: int, chunk: list[Item]) -> bool:
    """Whether a subject begins a clause of its own where nobody set a comma ("the screws they're long")."""
    item = found[i]
    if item.low not in STARTERS or len(chunk) < 2:
        return False
    last = chunk[-1]
    acts = last.has("verb") and not (last.has("joint") or last.has("part"))
    return last.low not in OPEN_ENDS | ADVERBS and not acts


def _clauses_of(chunk: list[Item], link: str, sentence: str, vocabulary: Vocabulary) -> list[Clause]:
    verbs = [i for i in range(len(chunk)) if verb_at(chunk, i, vocabulary)]
    if not verbs:
        return [_clause(chunk, None, link, sentence, vocabulary)]
    out: list[Clause] = []
    begin = 0
    for n, v in enumerate(verbs):
        stop = len(chunk)
        if n + 1 < len(verbs):
            nxt = verbs[n + 1]
            stop = nxt
            while stop > v + 1 and (
                chunk[stop - 1].low in ADVERBS
                or chunk[stop - 1].low in AUXILIARIES
                or chunk[stop - 1].low in ("to", "i", "you", "we", "please", "by")
            ):
                stop -= 1
        out.append(_clause(chunk[begin:stop], v - begin, link if n == 0 else "", sentence, vocabulary))
        begin = stop
    return out


def _clause(chunk: list[Item], v: int | None, link: str, sentence: str, vocabulary: Vocabulary) -> Clause:
    start, end = chunk[0].start, chunk[-1].end
    clause = Clause(sentence[start:end].lower(), start, end, linked=link)
    before = chunk if v is None else chunk[:v]
    after = [] if v is None else chunk[v + 1 :]
    lows = [c.low for c in before]
    if v is not None:
        verb = chunk[v]
        first = verb.low.split()[0]
        clause.action, clause.verb, clause.verb_span = verb.may["verb"], verb.low, (verb.start, verb.end)
        clause.purpose = "to" in lows[-1:] and not _modal_to(lows[:-1])
        clause.voice = (
            "passive"
            if is_past(first, vocabulary)
            and any(w in AUXILIARIES for w in lows)
            and not {"i", "we", "i've", "we've", "you"} & set(lows)
            else "active"
        )
        if lows[-1:] == ["be"] or lows[-2:-1] == ["be"]:
            clause.voice = "passive"
        clause.reference = bool(
            {"before", "after", "once", "when", "until", "with", "having"} & set(lows[:2])
        ) or link.endswith(("while",))
    for k, item in enumerate(chunk):
        if item.low in LIGHT and not noun_word(chunk, k, vocabulary):
            clause.light = item.low
            break
    clause.existential = bool(EXISTENTIAL & set(lows)) or any(c.low in ("there", "there's", "here's") for c in chunk)
    _attach(before, clause, clause.subjects, vocabulary)
    _attach(after, clause, clause.objects, vocabulary)
    if (
        v is not None
        and not clause.objects
        and clause.subjects
        and clause.voice == "active"
        and not {"i", "you", "we", "i'll", "we'll"} & set(lows)
    ):
        clause.voice = "moves"
    if v is None:
        clause.particle = clause.particle or next((c.low for c in chunk if c.low in PARTICLES), "")
    return clause


def _modal_to(before: list[str]) -> bool:
    """Whether the words before a "to" make it part of the main verb ("have to", "is going to", "need to")."""
    tail = [w for w in before if w not in ADVERBS][-1:]
    return bool(tail) and tail[0] in {
        "have",
        "has",
        "need",
        "needs",
        "going",
        "want",
        "able",
        "ready",
        "time",
        "had",
        "ought",
        "like",
        "start",
        "safe",
        "possible",
        "proceed",
        "continue",
        "us",
        "you",
        "got",
        "sure",
        "is",
        "was",
        "remember",
    }


def _attach(chunk: list[Item], clause: Clause, into: list[Noun], vocabulary: Vocabulary) -> None:
    """Read the noun groups of a stretch into objects (or subjects) and placed nouns."""
    i, relation = 0, ""
    while i < len(chunk):
        item = chunk[i]
        if item.number is not None and item.unit and item.unit != "length":
            clause.quantities.append(item)
            i += 1
            continue
        rel = next((cls[4:] for cls in item.may if cls.startswith("rel-")), "")
        if rel and not (
            rel == "holds" and item.low in ("mount", "mounts", "fix") and i and chunk[i - 1].low in DETERMINERS
        ):
            relation = rel
            passive = any(c.low in AUXILIARIES for c in chunk[max(0, i - 2) : i])
            by = item.low.endswith(("ed", "held")) and i + 1 < len(chunk) and chunk[i + 1].low in ("by", "with")
            if rel == "holds" and i and (passive or by):
                relation = "held"
                clause.held = True
            i += 1
            continue
        noun, used = noun_at(chunk, i, vocabulary)
        if noun is None:
            if item.low in PARTICLES and item.low not in PREPOSITIONS:
                clause.particle = item.low
            elif item.low in PREPOSITIONS:
                relation = item.low
                if item.low == "over" and (i + 1 == len(chunk)):
                    clause.particle = "over"
            elif item.low == "back":
                clause.particle = "back"
            i += 1
            continue
        if clause.held and not noun.kind and not noun.words and (noun.size or noun.drive):
            noun.kind = "screw"  # "held by three PH00"
        bare = not (noun.words or noun.kind or noun.drive or noun.thread) and noun.count is None
        if noun.length_mm is not None and bare:
            clause.quantities.append(next(c for c in chunk[i : i + used] if c.number is not None))
        elif relation == "held":
            if noun.kind:
                into.append(noun)
                relation = ""
            else:
                clause.placed.append(("held", noun))
                relation = ""
        elif relation and not (noun.kind and (relation == "by" or (relation == "with" and clause.held))):
            clause.placed.append((relation, noun))
            relation = relation if i + used < len(chunk) and chunk[i + used].low == "and" else ""
        elif into and into[-1].kind and not noun.words and i and chunk[i - 1].low == "(":
            add_figures(into[-1], noun)
        else:
            into.append(noun)
            relation = ""
        i += used
