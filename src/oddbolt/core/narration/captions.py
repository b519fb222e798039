"""A whole narration: captions into timed sentences, and those through the reader into a draft log."""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Callable, Iterable, Iterator, Sequence
from itertools import accumulate

from attrs import frozen
from rapidfuzz import fuzz

from oddbolt.core.narration.draft import Aside, DraftLog, DraftNote, DraftStep, Mentioned, Reading, ToldClass, evolve
from oddbolt.core.narration.language.grammar import (
    AUXILIARIES,
    CONJUNCTIONS,
    DETERMINERS,
    PARTICLES,
    PREPOSITIONS,
    SUBJECTS,
)
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.vocabulary import Vocabulary, shipped
from oddbolt.core.narration.memory import Memory
from oddbolt.core.narration.reader import read
from oddbolt.core.narration.understanding import Tagger
from oddbolt.core.narration.understanding.begins import LIKELY, begins, without_long

#: A caption line that follows within this many seconds may carry on its sentence.
CARRY_ON_S = 4.0
#: With fewer stops than one for so many words captions count as written without punctuation.
WORDS_A_STOP, FEW_WORDS = 40, 16
#: Words that end no note, however short.
MID_PHRASE = frozenset("the a an and or of with to from for by is are was were that which its their".split())
#: Typed lines of at least so many characters may be broken by an editor.
WRAPPED_AT = 66
MARKUP = lazy_pattern(r"<[^>]{0,80}>|\[[^\]]{0,40}\]|\{[^}]{0,40}\}")
#: A cue that ends with one of these breaks off; one that begins with one of GOES_ON carries on.
OPEN_ENDS = (DETERMINERS | PREPOSITIONS | CONJUNCTIONS | AUXILIARIES | SUBJECTS) - frozenset(
    "it there them that before after around inside behind underneath below along".split()
)
WITH_PARTICLE = frozenset("back going goes go put screwed plugged clipped hold held stay stays way comes".split())
GOES_ON = frozenset("of from on with holding that which at in under screws screw connector connectors".split())
#: Where so many of the likely beginnings fall on the first word of a cue, somebody cut the cues by sentences; inside
#: such a cue a sentence begins only where it is this likely, and with at least so many words.
BY_SENTENCES, SURELY, FEW = 0.6, 0.9, 3


@frozen
class Cue:
    """One caption: start and end in s, and its text."""

    start_s: float
    end_s: float
    text: str


@frozen
class Sentence:
    """A sentence and the time of the caption it begins in, in s."""

    at_s: float
    text: str


def sentences(cues: Iterable[Cue], tagger: Tagger | None = None) -> list[Sentence]:
    """Cut cues into sentences. Lines that roll on from the cue before are taken once. Captions that hardly have
    punctuation are cut where the network hears a sentence begin; without it, or where the cues themselves are
    sentences, at cues that do not break off in the middle of a phrase."""
    fresh: list[Cue] = []
    previous = ""
    for cue in cues:
        said = re.sub(r"\s+", " ", MARKUP.sub(" ", cue.text)).strip()
        text = _unrolled(said, previous)
        previous = said
        if text:
            fresh.append(Cue(cue.start_s, max(cue.end_s, cue.start_s), text))
    words = sum(len(cue.text.split()) for cue in fresh)
    stops = sum(len(re.findall(r"[.!?](?:\s|$)", cue.text)) for cue in fresh)
    unstopped = words > WORDS_A_STOP * stops and words > FEW_WORDS
    typed = all(cue.end_s == 0.0 for cue in fresh)
    if unstopped and not typed and tagger is not None:
        return _heard(fresh, tagger)
    return _joined(fresh, _wrapped if typed else _breaks_off if unstopped else _carries_on)


def _joined(cues: Sequence[Cue], carries_on: Callable[[str, str], bool]) -> list[Sentence]:
    """Sentences that end at stops, and at the ends of cues that the next does not carry on."""
    out: list[Sentence] = []
    open_text, open_at, open_end = "", 0.0, 0.0
    for cue in cues:
        late = cue.start_s - open_end > CARRY_ON_S
        if open_text and (late or len(open_text) > 400 or not carries_on(open_text, cue.text)):
            out.append(Sentence(open_at, open_text))
            open_text = ""
        for cut in _cut(cue.text):
            piece = f"{open_text} {cut}" if open_text else cut
            if not open_text:
                open_at = cue.start_s
            if re.search(r"[.!?:]['\")]?$", piece) and not piece.endswith(":"):
                out.append(Sentence(open_at, piece))
                open_text = ""
            else:
                open_text = piece
        open_end = cue.end_s
    if open_text:
        out.append(Sentence(open_at, open_text))
    return out


def _heard(cues: Sequence[Cue], tagger: Tagger) -> list[Sentence]:
    """The sentences of cues without stops, by where the network hears one begin; after a long pause, and after one of
    the few stops, one always does."""
    places = [0, *accumulate(len(cue.text) + 1 for cue in cues)]
    text = " ".join(cue.text for cue in cues)
    likely = begins(text, tagger)
    if not likely:
        return _joined(cues, _breaks_off)
    ends_before = {
        place
        for place, cue, after in zip(places[1:], cues, cues[1:], strict=False)
        if after.start_s - cue.end_s > CARRY_ON_S
    } | {p for p in likely if text[max(0, p - 2)] in ".!?"}
    heard = {p for p, sure in likely.items() if sure >= LIKELY} - ends_before - {0}
    firsts = set(places)
    if heard and sum(p in firsts for p in heard) >= BY_SENTENCES * len(heard):
        whole = {p for n, p in enumerate(places[1:-1]) if not _breaks_off(cues[n].text, cues[n + 1].text)}
        inside = {p for p in heard if likely[p] >= SURELY and len(text[p : _next(places, p)].split()) >= FEW}
        heard = whole | inside
    starts = without_long(sorted({0} | ends_before | heard), likely)
    return [
        Sentence(cues[bisect_right(places, start) - 1].start_s, text[start:end].strip())
        for start, end in zip(starts, [*starts[1:], len(text)], strict=True)
    ]


def _next(places: Sequence[int], place: int) -> int:
    return places[bisect_right(places, place)]


def draft(cues: Iterable[Cue], vocabulary: Vocabulary | None = None) -> DraftLog:
    """Draft a log from a narration. Repeats, filler, garbling and talk that is no step are dropped and counted."""
    return gather(_readings(cues, vocabulary or shipped()))


def _readings(cues: Iterable[Cue], vocabulary: Vocabulary) -> Iterator[Reading]:
    memory = Memory()
    recent: list[str] = []
    for sentence in sentences(cues, vocabulary.tagger):
        if any(same(sentence.text, other) for other in recent):
            continue
        recent = [*recent[-2:], sentence.text]
        reading, memory = read(sentence.text, memory, vocabulary, sentence.at_s)
        yield reading


def gather(readings: Iterable[Reading]) -> DraftLog:
    """One log of many readings, in order; a later one may change a step of an earlier one."""
    steps: list[DraftStep] = []
    where: dict[str, int] = {}
    cautions: list[DraftNote] = []
    findings: list[DraftNote] = []
    renew: list[str] = []
    routes: list[Mentioned] = []
    unknown: dict[str, None] = {}
    asides: list[Aside] = []
    classes: list[ToldClass] = []
    not_steps = 0
    for reading in readings:
        said = reading.asides or ((reading.aside,) if reading.aside else ())
        asides += said
        if any(a.kind == "undo" for a in said) and steps and not reading.steps:
            last = steps[-1].said
            while steps and steps[-1].said == last:
                where.pop(steps.pop().ref, None)
        for step in reading.steps:
            where[step.ref] = len(steps)
            steps.append(step)
        for step in reading.amends:
            if step.ref in where:
                steps[where[step.ref]] = step
        cautions += reading.cautions
        findings += reading.findings
        renew += [r for r in reading.renew if r not in renew]
        routes += reading.routes
        classes += reading.classes
        unknown.update((piece.value, None) for piece in reading.unknown)
        not_steps += reading.empty and not reading.phase
    steps = [evolve(s, drive="unknown") if s.action == "unscrew" and not s.drive else s for s in steps]
    return DraftLog(
        tuple(steps),
        tuple(cautions),
        tuple(findings),
        tuple(renew),
        tuple(routes),
        not_steps,
        tuple(unknown),
        tuple(asides),
        tuple(classes),
    )


def _cut(text: str) -> list[str]:
    return [
        s
        for s in re.split(r"(?<=[.!?])(?<!\d\.)(?<!\be\.g\.)(?<!\bi\.e\.)['\")]?\s+(?=[\"'(]?[A-Z0-9])|\n+", text)
        if s.strip()
    ]


def _carries_on(_before: str, text: str) -> bool:
    return text[:1].islower() or text[:1].isdigit()


def _wrapped(before: str, text: str) -> bool:
    """Whether a line typed without a time goes on in the next: it is as long as a line that an editor breaks, or stops
    in the middle of a phrase. A short line is a note of its own."""
    return text[:1].islower() and (len(before) >= WRAPPED_AT or before.lower().split()[-1] in MID_PHRASE)


def _breaks_off(before: str, text: str) -> bool:
    """Whether a cue without punctuation ends, or the next begins, in the middle of a phrase."""
    words, first = before.lower().split(), text.lower().split()[0]
    closed = words[-1] in PARTICLES or (words[-1] in ("on", "in") and words[-2:-1] and words[-2] in WITH_PARTICLE)
    return (words[-1] in OPEN_ENDS and not closed) or first in GOES_ON


def _unrolled(text: str, previous: str) -> str:
    """The part of a rolling caption that was not in the one before."""
    if not previous or not text:
        return text
    if text == previous or previous.endswith(text):
        return (
            text
            if text.endswith((".", "!", "?")) and len(text.split()) > 3 and text == previous
            else ""
            if len(text.split()) > 2
            else text
        )
    words, before = text.split(), previous.split()
    for n in range(min(len(words), len(before)), 3, -1):
        if before[-n:] == words[:n]:
            return " ".join(words[n:])
    return text


def same(a: str, b: str) -> bool:
    """Whether two sentences say the same, but for a slip of the captions."""
    low_a, low_b = a.lower().strip(" .!"), b.lower().strip(" .!")
    if re.findall(r"\d+", low_a) != re.findall(r"\d+", low_b):
        return False
    return low_a == low_b or (min(len(low_a), len(low_b)) > 25 and fuzz.ratio(low_a, low_b) > 95)
