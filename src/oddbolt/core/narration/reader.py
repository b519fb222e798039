"""The say line: a sentence and what was said before, answered at once.

Two readers hear every sentence. The rules read what is exact and short; the network, where there is one, finds the acts
of loose talk. Where both found the same act it is sure; where they differ it is doubt, and shown as such.
"""

from __future__ import annotations

import re

from attrs import evolve

from oddbolt.core.narration.about_last import about_last, announced_more, together
from oddbolt.core.narration.assembly.by_length import without_sizes_of_things
from oddbolt.core.narration.assembly.names import plain_name
from oddbolt.core.narration.assembly.settle import UNSURE, settled
from oddbolt.core.narration.assembly.utterance import Utterance
from oddbolt.core.narration.assembly.which_way import rules_the_way_told, the_way_told
from oddbolt.core.narration.by_sentence import cut, in_turn, surer, surer_without_stops
from oddbolt.core.narration.draft import DraftNote, DraftStep, Reading
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.taken_back import without_taken_back
from oddbolt.core.narration.language.tokens import items
from oddbolt.core.narration.language.vocabulary import Vocabulary, shipped
from oddbolt.core.narration.memory import Memory
from oddbolt.core.narration.reading.non_steps import garbled
from oddbolt.core.narration.reading.reader import read_by_rules
from oddbolt.core.narration.some_of_them import told_apart
from oddbolt.core.narration.told_classes import told_classes
from oddbolt.core.narration.understanding import Tagger, Understood
from oddbolt.core.narration.understanding.begins import begins

#: a title names the work that follows and does nothing: "Removal of the keypad unit"
TITLE = lazy_pattern(
    r"(?:\d+[.)] )?(?:removal|replacement|disassembly|dismantling|installation|assembly|refitting)"
    r" of (?:(?:the|a|an|its) )?[\w -]{2,60}[.:]?",
    re.IGNORECASE,
)
#: words beside the work that tell nothing of it
CHATTER = lazy_pattern(
    r"(?<=[.!?,;] )(?:(?:and|so|but|yeah) )?"
    r"(?:no (?:problems?|trouble|issues?)(?: there| at all| here)?|(?:there|here) (?:we|you) go"
    r"|(?:just )?like (?:that|so)|nice and easy|(?:and )?keep track of (?:it|them|that|these|those))(?=[.!?,;]|$)[.!]?",
    re.IGNORECASE,
)
#: the share of drafts that the rules alone read right, of loose talk they had not met
RULES_RIGHT = 0.6
#: who writes one of these in an utterance sets stops where sentences end
STOP = lazy_pattern(r"[.!?;:…](?!\d)")
#: an utterance of more sentences is read as a whole
MOST_SENTENCES = 6
#: in one of so many words without a stop a sentence begins where it is this likely
FEWEST_WORDS, BEGINS = 10, 0.75
#: what the rules take for garbled is, if the network finds it at least this likely
PERHAPS_NOISE = 0.02


def read(
    sentence: str, memory: Memory | None = None, vocabulary: Vocabulary | None = None, at_s: float | None = None
) -> tuple[Reading, Memory]:
    """Read one sentence after what ``memory`` holds; returns the reading and the memory after it.

    The memory passed in is not changed. ``at_s`` is the time of the sentence in s.
    """
    known, before = vocabulary or shipped(), memory or Memory()
    reading, after = _with_some_apart(sentence, before, known, at_s) or _whole_or_apart(sentence, before, known, at_s)
    classes = told_classes(sentence, at_s)
    return evolve(together(reading, reading), classes=classes, known=reading.known and not classes), after


def _with_some_apart(
    sentence: str, before: Memory, known: Vocabulary, at_s: float | None
) -> tuple[Reading, Memory] | None:
    """A sentence on one group of fasteners that tells something of some of them; None if it is none."""
    rest, told = told_apart(sentence, known)
    if not told or about_last(sentence, before, known, at_s) is not None:
        return None
    reading, after = _whole_or_apart(rest, before, known, at_s)
    if not reading.steps:  # "Six screws: four in the lid and two in the base" has no more than that
        rest, (reading, after) = sentence, _whole_or_apart(sentence, before, known, at_s)
    groups = [s for s in reading.steps if s.count]
    plain = len(groups) == 1 and groups[0].doubt in ("", UNSURE)
    more = about_last(told, after, known, at_s, groups[0]) if plain else None
    if more is None:
        return None
    whole, after = _as_said(sentence, rest, together(reading, more[0]), more[1])
    return evolve(whole, steps=tuple(evolve(s, said=sentence.strip()) for s in whole.steps)), after


def _whole_or_apart(sentence: str, before: Memory, known: Vocabulary, at_s: float | None) -> tuple[Reading, Memory]:
    """An utterance read as a whole, or its sentences one after the other if that is the surer."""
    reading, after = _read(sentence, before, known, at_s)
    if known.tagger is None:
        return reading, after
    places = cut(_plainly(sentence).rstrip())
    if len(sentence.split()) >= FEWEST_WORDS and not STOP.search(sentence):
        return _run_on(sentence, reading, before, known, known.tagger, at_s) or (reading, after)
    if not 1 < len(places) <= MOST_SENTENCES:
        return reading, after
    apart, memory = [], before
    for start, end in places:
        one, memory = _read(sentence[start:end], memory, known, at_s)
        if not one.steps or any(s.doubt for s in one.steps):
            return reading, after  # it cannot be the surer
        apart.append(one)
    return (in_turn(sentence, apart, places), memory) if surer(reading, apart) else (reading, after)


def _run_on(
    sentence: str, whole: Reading, before: Memory, known: Vocabulary, tagger: Tagger, at_s: float | None
) -> tuple[Reading, Memory] | None:
    """Sentences said without a stop between them, read one after the other; None if it is one, or if one of them tells
    nothing by itself."""
    starts = [0, *(place for place, sure in begins(sentence, tagger).items() if place and sure >= BEGINS)]
    apart, memory = [], before
    places = list(zip(starts, [*starts[1:], len(sentence)], strict=True))
    if len(places) == 1:
        return None
    for start, end in places:
        piece = sentence[start:end].strip()
        one, memory = _read(piece, memory, known, at_s)
        if len(piece.split()) == 1 or (one.empty and CHATTER.sub("", f". {piece}.").strip(". ")):
            return None
        apart.append(one)
    return (in_turn(sentence, apart, places), memory) if surer_without_stops(whole, apart) else None


def _plainly(sentence: str) -> str:
    """The sentence with words that tell nothing of the work, and sizes of things that nothing is done to by their
    numbers, as blanks: every place stays its own."""
    plain = without_sizes_of_things(CHATTER.sub(lambda words: " " * len(words.group()), sentence))
    return plain if plain.strip() else sentence


def _read(sentence: str, before: Memory, known: Vocabulary, at_s: float | None) -> tuple[Reading, Memory]:
    parts = {w for p in before.parts for w in p.lower().split()[-1:]}
    told = without_taken_back(sentence, known.nouns | parts)
    reading, after = about_last(told, before, known, at_s) or _heard(told, before, known, at_s)
    if before.announced is not None and after.announced == before.announced and not reading.steps:
        after.announced = announced_more(told, before.announced, known)
    return (reading, after) if told == sentence else _as_said(sentence, told, reading, after)


def _as_said(sentence: str, told: str, reading: Reading, after: Memory) -> tuple[Reading, Memory]:
    """A reading with the words that were taken back where the record keeps what was said."""
    blank, said = told.strip(), sentence.strip()

    def full(step: DraftStep) -> DraftStep:
        return evolve(step, said=said) if step.said == blank else step

    def worded(note: DraftNote) -> DraftNote:
        return evolve(note, text=said) if note.text == blank else note

    reading = evolve(
        reading,
        text=sentence,
        steps=tuple(map(full, reading.steps)),
        amends=tuple(map(full, reading.amends)),
        cautions=tuple(map(worded, reading.cautions)),
        findings=tuple(map(worded, reading.findings)),
    )
    return reading, evolve(after, steps=[full(s) for s in after.steps], last_text=sentence)


def _heard_by_network(plain: str, before: Memory, tagger: Tagger) -> Understood:
    return tagger(plain, "back" if before.phase == "back" else "apart", before.before)


def _heard(sentence: str, before: Memory, known: Vocabulary, at_s: float | None) -> tuple[Reading, Memory]:
    plain = _plainly(sentence)
    by_rules, after = read_by_rules(plain, before, known, at_s)
    if known.tagger is None or not sentence.strip():
        return evolve(by_rules, steps=tuple(evolve(s, sure=RULES_RIGHT) for s in by_rules.steps)), after
    heard = evolve(_heard_by_network(plain, before, known.tagger), text=sentence)
    heard, steps = the_way_told(heard), rules_the_way_told(sentence, by_rules.steps)
    by_rules = evolve(by_rules, steps=steps)
    if TITLE.fullmatch(sentence.strip()):
        return evolve(by_rules, steps=()), evolve(before.copy(), phase=after.phase)
    heading = bool(by_rules.phase) and not by_rules.steps
    if heading or (heard.holds("noise") > PERHAPS_NOISE and garbled(items(sentence, known))):
        return by_rules, after
    low = sentence.lower()
    spoken = tuple(p for p in after.parts[-8:] if p.lower() in low and plain_name(p, "the "))
    work = Utterance(sentence, before.copy(), known, at_s, spoken)
    return settled(work, heard, by_rules, after), work.memory


def traced(sentence: str, memory: Memory, vocabulary: Vocabulary) -> list[str]:
    """How a sentence is read, for those who look after the reader: the labels and spans that the network found, each
    with its sureness, and what the rules read."""
    out = [f"phase {memory.phase or 'apart'}{f', after {memory.before}' if memory.before else ''}"]
    if vocabulary.tagger is not None:
        heard = _heard_by_network(_plainly(sentence), memory, vocabulary.tagger)
        held = sorted((p, label) for label, p in heard.whole.items() if p >= 0.2)
        out.append("holds " + ", ".join(f"{label} {p:.2f}" for p, label in reversed(held)))
        out += [f"{s.label} {s.sure:.2f}: {s.words(sentence) or 'no words of its own'}" for s in heard.spans]
    by_rules, _ = read_by_rules(sentence, memory, vocabulary)
    out += [f"rules: {step.json()}" for step in by_rules.steps]
    return out
