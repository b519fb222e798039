"""An utterance of several sentences, read as a whole or one after the other, whichever is the surer.

Read as a whole, what one sentence leaves out is found in the other: "It's on two brackets. One bolt each." Read apart,
two groups are not run together: "Desolder four wires of the pump. After that, desolder three of the display."
"""

from __future__ import annotations

from collections.abc import Sequence

from attrs import evolve

from oddbolt.core.narration.draft import DraftStep, Reading
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.understanding import OF_SCREWS

#: where one sentence ends and the next begins
CUT = lazy_pattern(r"(?<=[.!?;])\s+(?=[A-Za-z0-9])")
#: what is read apart must be better by so many steps, right less wrong
BETTER = 0.3


def cut(text: str) -> list[tuple[int, int]]:
    """Where the sentences of a text stand; one if it has no more."""
    starts, ends = [0], []
    for found in CUT.finditer(text):
        ends.append(found.start())
        starts.append(found.end())
    return list(zip(starts, [*ends, len(text)], strict=True))


def surer(whole: Reading, apart: Sequence[Reading], by: float = BETTER) -> bool:
    """Whether sentences read apart tell more that is sure than the whole, by so many steps: no group of fasteners loses
    what it holds, and nothing noted is lost."""
    steps = [s for r in apart for s in r.steps]
    if _noted(apart) < _noted([whole]) or _nameless(steps) > _nameless(whole.steps):
        return False
    return _worth(steps) > _worth(whole.steps) + by


def surer_without_stops(whole: Reading, apart: Sequence[Reading]) -> bool:
    """Whether sentences said without stops are surer apart: no fewer steps, and no further part that was
    not named."""
    steps = [s for r in apart for s in r.steps]
    if len(steps) < len(whole.steps) or _unsaid(steps, whole.text) - _unsaid(whole.steps, whole.text):
        return False
    return surer(whole, apart, by=0.0)


def in_turn(text: str, apart: Sequence[Reading], places: Sequence[tuple[int, int]]) -> Reading:
    """The readings of the sentences of an utterance as one, their pieces at their places in it."""
    steps = [
        evolve(s, pieces=tuple(evolve(p, start=p.start + at, end=p.end + at) if p.end else p for p in s.pieces))
        for reading, (at, _) in zip(apart, places, strict=True)
        for s in reading.steps
    ]
    return evolve(
        apart[-1],
        text=text,
        steps=tuple(steps),
        amends=tuple(a for r in apart for a in r.amends),
        cautions=tuple(c for r in apart for c in r.cautions),
        findings=tuple(f for r in apart for f in r.findings),
        renew=tuple(dict.fromkeys(n for r in apart for n in r.renew)),
        routes=tuple(x for r in apart for x in r.routes),
        unknown=tuple(
            evolve(u, start=u.start + at, end=u.end + at)
            for r, (at, _) in zip(apart, places, strict=True)
            for u in r.unknown
        ),
        asides=tuple(a for r in apart for a in r.asides),
    )


def _worth(steps: Sequence[DraftStep]) -> float:
    """How many of some drafts are expected to be right, less those expected to be wrong."""
    return sum(2 * s.sure - 1 for s in steps)


def _noted(readings: Sequence[Reading]) -> int:
    return sum(len(r.findings) + len(r.cautions) + len(r.amends) + len(r.asides) for r in readings)


def _nameless(steps: Sequence[DraftStep]) -> int:
    return sum(1 for s in steps if s.action in OF_SCREWS and not s.parts)


def _unsaid(steps: Sequence[DraftStep], text: str) -> set[str]:
    """Parts that a text does not name: it means them by "it" or "them"."""
    low = text.lower()
    return {p for s in steps for p in s.parts if any(w not in low for w in p.lower().split()[-1:])}
