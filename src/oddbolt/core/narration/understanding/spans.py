"""Spans cut from the scores of the network: whole words, each with how sure the network is of it."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence

import numpy as np
from attrs import evolve, field, frozen
from numpy.typing import NDArray

from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.understanding.cues import CUES, POSSIBLE, told_by_cue
from oddbolt.core.narration.understanding.labels import ACTS, LABELS, NUMBERS, OF_SEVERAL, WHOLE
from oddbolt.core.narration.understanding.parted import parted


@frozen
class Span:
    """Words ``start`` to ``end`` of an utterance and what they are; ``sure`` is 0 to 1."""

    label: str
    start: int
    end: int
    sure: float = 1.0

    def words(self, text: str) -> str:
        """The words of the span."""
        return text[self.start : self.end]


@frozen
class Understood:
    """What was understood of one utterance: its spans in order, how likely it holds each act and remark, and how likely
    a sentence begins at the word of each place, if there were no stops."""

    text: str
    spans: tuple[Span, ...] = ()
    whole: Mapping[str, float] = field(factory=dict)
    begins: Mapping[int, float] = field(factory=dict)

    def holds(self, label: str) -> float:
        """How likely the utterance holds this act or remark, 0 to 1."""
        return self.whole.get(label, 0.0)


#: words are taken for an act up to this share of "outside"; how sure it is, is judged with the whole utterance
OUTSIDE = 0.75
#: words are taken for a number up to this share, for another figure up to that
OUTSIDE_NUMBER, OUTSIDE_ROLE = 0.7, 0.5
#: a span goes on over a word that is this likely inside it
INSIDE = 0.2

#: the likeliest words of an act that the utterance may hold are kept although they are this unlikely
FAINT = 0.97

#: utterance, phase of the story ("apart" or "back"), remark before it -> what was understood
Tagger = Callable[[str, str, str], Understood]


def understood(
    text: str, offsets: Sequence[tuple[int, int]], tags: NDArray[np.float32], whole: NDArray[np.float32]
) -> Understood:
    """Spans from scores: ``tags`` is pieces × labels × (outside, begin, inside), ``whole`` one score for each label
    of the whole utterance; ``offsets`` tell where each piece of a word stands. Raises ValueError for other shapes."""
    if tags.shape != (len(offsets), len(LABELS), 3) or whole.shape != (len(WHOLE),):
        raise ValueError("the scores do not fit the labels")
    shares = np.exp(tags - tags.max(axis=-1, keepdims=True))
    shares /= shares.sum(axis=-1, keepdims=True)
    spans: list[Span] = []
    most = np.array([OUTSIDE if k in ACTS else OUTSIDE_NUMBER if k in NUMBERS else OUTSIDE_ROLE for k in LABELS])
    held = {name: float(p) for name, p in zip(WHOLE, 1 / (1 + np.exp(-whole)), strict=True)}
    for k in np.flatnonzero((shares[:, :, 0] < most).any(axis=0)):
        spans += _cut(LABELS[k], text, offsets, shares[:, k], float(most[k]))
    there = {s.label for s in spans}
    for k in np.flatnonzero((shares[:, :, 0] < FAINT).any(axis=0)):
        if LABELS[k] in CUES and LABELS[k] not in there and held[LABELS[k]] >= POSSIBLE:
            spans += sorted(_cut(LABELS[k], text, offsets, shares[:, k], FAINT), key=lambda s: -s.sure)[:1]
    return Understood(text, tuple(sorted(spans, key=lambda s: (s.start, s.end))), held)


def _cut(label: str, text: str, offsets: Sequence[tuple[int, int]], p: NDArray[np.float32], most: float) -> list[Span]:
    out: list[Span] = []
    i = 0
    while i < len(offsets):
        touches = bool(out) and out[-1].end >= offsets[i][0]
        if p[i, 0] >= most or (touches and p[i, 1] <= p[i, 2]):
            i += 1
            continue
        start, end, sure = *offsets[i], float(1 - p[i, 0])
        i += 1
        while i < len(offsets) and p[i, 2] > max(INSIDE, p[i, 1]):
            end = offsets[i][1]
            i += 1
        start, end = _whole_words(text, start, end)
        if not out or start >= out[-1].end:
            out.append(Span(label, start, end, sure))
    return out


def _whole_words(text: str, start: int, end: int) -> tuple[int, int]:
    """A span widened to whole words; parts of a hyphened word belong together."""
    while start > 0 and (
        (text[start - 1].isalnum() and (text[start].isalnum() or text[start] == "-"))
        or (text[start - 1] == "-" and text[start].isalnum() and start > 1 and text[start - 2].isalpha())
    ):
        start -= 1
    while end < len(text) and (
        (text[end] in ".," and text[end - 1].isdigit() and text[end + 1 : end + 2].isdigit())
        or (text[end].isdigit() and text[end - 1] in ".,")
        or (text[end].isalnum() and (text[end - 1].isalnum() or text[end - 1] == "-"))
        or (text[end] == "-" and text[end - 1].isalnum() and text[end + 1 : end + 2].isalpha())
    ):
        end += 1
    return start, end


#: how sure an act is that its words tell and the network finds possible
CUED = 0.5
#: remarks that speak against an act of the same utterance
AGAINST = ("hypothetical", "chat", "variant", "caution", "noise", "finding", "mark", "praise", "complaint")


#: acts of which enough were seen to tell how readily each is found
FREQUENT = (
    "out unscrew disconnect place fasten unclip soften check connect pry desolder clean fold open peel measure spec "
    "condition stick loosen identify cut wait correct"
).split()


def traits(span: float, action: str, whole: Mapping[str, float], first: bool) -> list[float]:
    """What the sureness of an act is computed from: its words, the whole utterance, and what speaks against it. The
    likeliest words for an act, further ones for an act that is often told of several things, further ones for another
    act, and acts without words (``span`` 0) are judged apart; and every frequent act is found more or less readily."""
    against = max((whole.get(r, 0.0) for r in AGAINST), default=0.0)
    told = whole.get("announce", 0.0) if action in ("unscrew", "loosen", "unclip") else 0.0
    words = _logit(span) if span else 0.0
    mine = [1.0, words, _logit(whole.get(action, 0.0)), _logit(against), _logit(told)]
    kind = 3 if not span else 0 if first else 1 if action in OF_SEVERAL else 2
    own = [float(action == a) for a in FREQUENT]
    return [0.0] * (len(mine) * kind) + mine + [0.0] * (len(mine) * (3 - kind)) + own


def _logit(p: float) -> float:
    return float(np.clip(np.log(max(p, 1e-4) / max(1 - p, 1e-4)), -6, 6))


#: words that point at a thing named before
POINTING = lazy_pattern(r"(?:it|them|they|this|that|these|those|both|all|one|ones|him|her)\b.*", re.IGNORECASE)


def each_thing_once(heard: Understood) -> tuple[Span, ...]:
    """The spans with one for each thing that an act is done to; the surest of several words for one thing counts."""
    out: list[Span] = []
    last: dict[str, int] = {}
    for span in sorted(heard.spans, key=lambda s: s.start):
        at = last.get(span.label)
        before = out[at] if at is not None else None
        places = (before.start, before.end) if before is not None else (0, 0)
        if span.label not in ACTS or before is None or parted(heard.text, span.label, places, (span.start, span.end)):
            last[span.label] = len(out)
            out.append(span)
        else:
            touching = not heard.text[before.end : span.start].strip(" -")
            start, end = before.start, span.end if touching else before.end
            if touching and POINTING.fullmatch(span.words(heard.text)):
                start = span.start  # "pry it" is done to it
            out[at or 0] = evolve(before, start=start, end=max(end, before.end), sure=max(before.sure, span.sure))
    return tuple(sorted(out, key=lambda s: (s.start, s.end)))


def calibrated(heard: Understood, weights: Sequence[float]) -> Understood:
    """The same with a sureness of every act that means a share: of acts at 0.9 nine in ten are right. ``weights`` were
    fitted on stories that the network had not seen, one for each of :func:`traits`. Acts that the utterance holds
    without words of their own stand as empty spans at its end."""
    heard = evolve(heard, spans=each_thing_once(heard))
    best: dict[str, Span] = {}
    for span in heard.spans:
        if span.label in ACTS and span.sure > best.get(span.label, Span("", 0, 0, 0.0)).sure:
            best[span.label] = span

    def sure(of: float, action: str, first: bool) -> float:
        return 1 / (1 + float(np.exp(-np.dot(weights, traits(of, action, heard.whole, first)))))

    spans = [evolve(s, sure=sure(s.sure, s.label, best[s.label] is s)) if s.label in ACTS else s for s in heard.spans]
    end = len(heard.text)
    alone = [Span(a, end, end, sure(0.0, a, True)) for a in ACTS if a not in best and heard.holds(a) > 0.2]
    return evolve(heard, spans=tuple(_by_cues([*spans, *alone], heard)))


def _by_cues(spans: list[Span], heard: Understood) -> list[Span]:
    """The spans with one of each act that its words tell beside a network that only finds it possible."""
    out = list(spans)
    for action in CUES:
        mine = [s for s in out if s.label == action]
        if all(s.sure < CUED for s in mine) and told_by_cue(action, heard.text, heard.whole):
            end = len(heard.text)
            likeliest = max(mine, key=lambda s: s.sure, default=Span(action, end, end, 0.0))
            out = [s for s in out if s is not likeliest] + [evolve(likeliest, sure=CUED)]
    return out
