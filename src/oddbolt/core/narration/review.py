"""A drafted narration gone through line by line: kept, dropped, corrected, joined, parted, before it enters the record.

Every line remembers what the reader knew before it, so that a change is read again from there on only. Whoever must
not wait has only some lines read again at once (``most``); the rest are ``stale`` until :func:`carried_on` reads them.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from attrs import evolve, field, frozen

from oddbolt.core.errors import NarrationError
from oddbolt.core.narration.captions import Cue, gather, same, sentences
from oddbolt.core.narration.draft import DraftLog, DraftStep, Reading
from oddbolt.core.narration.language.vocabulary import Vocabulary
from oddbolt.core.narration.memory import Memory
from oddbolt.core.narration.reader import read

OPEN, KEPT, DROPPED = "", "kept", "dropped"


@frozen(eq=False)
class ReviewLine:
    """A sentence and what was read in it. ``fixed`` readings were put right by hand and are not read again; a
    ``repeat`` says again what was just said and does not count. ``before`` is what the reader knew before it; a
    ``stale`` line was read before something earlier was changed."""

    at_s: float
    text: str
    reading: Reading
    state: str = OPEN
    fixed: bool = False
    repeat: bool = False
    before: Memory = field(factory=Memory)
    stale: bool = False

    @property
    def counts(self) -> bool:
        """Whether it goes into the log."""
        return self.state != DROPPED and not self.repeat


Review = tuple[ReviewLine, ...]


def begin(cues: Iterable[Cue], vocabulary: Vocabulary) -> Review:
    """The sentences of a narration, read."""
    lines = [ReviewLine(s.at_s, s.text, Reading(s.text)) for s in sentences(cues, vocabulary.tagger)]
    return _read_from(lines, 0, vocabulary)


def carried_on(review: Review, vocabulary: Vocabulary, most: int | None = None) -> Review:
    """The stale lines read again, at most so many of them."""
    first = next((n for n, line in enumerate(review) if line.stale), len(review))
    return _read_from(review, first, vocabulary, most) if first < len(review) else review


def marked(review: Review, n: int, state: str, vocabulary: Vocabulary, most: int | None = None) -> Review:
    """A line kept, dropped, or open again. What follows is read anew where that matters."""
    line = review[n]
    out = (*review[:n], evolve(line, state=state), *review[n + 1 :])
    return out if DROPPED not in (state, line.state) else _read_from(out, n, vocabulary, most)


def corrected(
    review: Review, n: int, text: str, reading: Reading, vocabulary: Vocabulary, most: int | None = None
) -> Review:
    """A line with its words or its reading put right by hand; it is kept."""
    at = review[n].at_s
    steps = tuple(evolve(s, at_s=at) for s in reading.steps)
    line = evolve(review[n], text=text, reading=evolve(reading, steps=steps), fixed=True, state=KEPT, repeat=False)
    return _read_from((*review[:n], line, *review[n + 1 :]), n, vocabulary, most)


def joined(review: Review, n: int, vocabulary: Vocabulary, most: int | None = None) -> Review:
    """A line and the next as one sentence. Raises NarrationError for the last."""
    if n + 1 >= len(review):
        raise NarrationError("The last line has no next line to merge with.")
    first, second = review[n], review[n + 1]
    text = f"{first.text.rstrip(' .!?')} {second.text[:1].lower()}{second.text[1:]}"
    return _read_from((*review[:n], ReviewLine(first.at_s, text, Reading(text)), *review[n + 2 :]), n, vocabulary, most)


def parted(review: Review, n: int, at: int, vocabulary: Vocabulary, most: int | None = None) -> Review:
    """A line parted before the character ``at``. Raises NarrationError where that leaves nothing."""
    line = review[n]
    one, other = line.text[:at].strip(" ,;"), line.text[at:].strip(" ,;")
    if not one or not other:
        raise NarrationError("Put the cursor where to split; both halves need words.")
    after = review[n + 1].at_s if n + 1 < len(review) else line.at_s
    share = line.at_s + (after - line.at_s) * len(one) / (len(one) + len(other))
    pieces = (ReviewLine(line.at_s, one, Reading(one)), ReviewLine(round(share, 1), other, Reading(other)))
    return _read_from((*review[:n], *pieces, *review[n + 1 :]), n, vocabulary, most)


def taught(review: Review, vocabulary: Vocabulary) -> tuple[Review, int]:
    """Everything read again with a vocabulary that knows more, and how many lines say something else now."""
    again = _read_from(review, 0, vocabulary)
    return again, sum(a.reading.steps != b.reading.steps for a, b in zip(review, again, strict=True))


def asking(review: Review) -> frozenset[int]:
    """The lines that ask something: a word nobody taught, or a step with something missing or in doubt that no later
    line settles. Lines that were looked at, or do not count, ask nothing."""
    stands: dict[str, DraftStep] = {}
    for line in review:
        if line.counts:
            stands |= {s.ref: s for s in line.reading.steps}
            stands |= {a.ref: a for a in line.reading.amends if a.ref in stands}
    return frozenset(
        n
        for n, line in enumerate(review)
        if line.state == OPEN and line.counts and not line.fixed
        if line.reading.unknown or any(stands[s.ref].doubt or stands[s.ref].missing() for s in line.reading.steps)
    )


def drafted(review: Review) -> DraftLog:
    """The log that the lines which count make."""
    return gather(line.reading for line in review if line.counts)


def _read_from(lines: Sequence[ReviewLine], start: int, vocabulary: Vocabulary, most: int | None = None) -> Review:
    out = list(lines[:start])
    memory = lines[start].before if start < len(lines) else Memory()
    stop = len(lines) if most is None else min(len(lines), start + most)
    for line in lines[start:stop]:
        recent = [other.text for other in out if not other.repeat][-3:]
        repeat = line.state == OPEN and not line.fixed and any(same(line.text, text) for text in recent)
        reading, after = read(line.text, memory, vocabulary, line.at_s)
        shown = line.reading if line.fixed else reading
        out.append(evolve(line, reading=shown, repeat=repeat, before=memory, stale=False))
        if out[-1].counts:
            memory = after
    rest = lines[stop:]
    if rest:
        out.append(evolve(rest[0], stale=True, before=memory))
        out += [line if line.stale else evolve(line, stale=True) for line in rest[1:]]
    return tuple(out)
