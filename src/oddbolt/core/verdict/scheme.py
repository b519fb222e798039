"""What a scheme of judging is: a name, how it judges, and a judgement that opens its arithmetic out."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from attrs import frozen

from oddbolt.core.study import Study


@frozen
class Range3:
    """A figure as far as the record knows it: the least, the likely and the most it may be. ``best`` is the best end of
    its scale, None for no scale."""

    low: float
    likely: float
    high: float
    best: float | None = None

    @property
    def is_one(self) -> bool:
        """Whether it is one number."""
        return self.high - self.low < 5e-3

    def words(self, scale: float = 0.0) -> str:
        """ "6.1 to 7.4, likely 6.8", or one number where it is one. Where it takes in more than half of the ``scale``
        no likely figure is named: it would be little more than the middle."""
        if self.is_one:
            return _shown(self.likely)
        if scale and self.high - self.low > scale / 2:
            return f"{_shown(self.low)} to {_shown(self.high)}"
        return f"{_shown(self.low)} to {_shown(self.high)}, likely {_shown(self.likely)}"


def _shown(value: float) -> str:
    return f"{value:.2f}".rstrip("0").rstrip(".")


@frozen
class Ask:
    """A question whose answer would narrow a mark: its words, what it is about ("" for the device), and by how much;
    ``role`` where it asks which part has that role."""

    words: str
    about: str
    narrows: float
    role: str = ""


@frozen
class Entry:
    """One line of a judgement's arithmetic: what it is about, its figures (one for each head after the first), its
    reasons, and the ids of the joints and parts that cause it."""

    about: str
    figures: tuple[str, ...]
    reasons: tuple[str, ...] = ()
    causes: tuple[str, ...] = ()


@frozen
class Judgement:
    """What a scheme says of a study. ``headline`` is "" where the evidence does not allow one; then ``missing`` says
    what is missing. ``heads`` are those of the entries; ``data`` is the same for scripts; ``total`` the figure as a
    range, None for a scheme without one; ``asks`` what would narrow it."""

    headline: str
    source: str
    verified: bool
    heads: tuple[str, ...]
    entries: tuple[Entry, ...]
    missing: tuple[str, ...]
    data: Mapping[str, Any]
    total: Range3 | None = None
    asks: tuple[Ask, ...] = ()


#: so many lines of an arithmetic are told as moved
MOST_MOVED = 3


def moved_in_words(before: Judgement, after: Judgement) -> str:
    """What of a judgement is another one after a change: its headline, else the lines whose figures differ."""
    if before.headline or after.headline:
        if before.headline == after.headline:
            return "as it was"
        return f"{after.headline or 'no figure'} instead of {before.headline or 'no figure'}"
    old = {entry.about: entry for entry in before.entries}
    told = []
    for entry in after.entries:
        was = old.get(entry.about)
        if was is None or was.figures == entry.figures:
            continue
        pairs = zip(after.heads[1:], entry.figures, was.figures, strict=False)
        figures = [f"{head} {now or 'none'} instead of {then or 'none'}" for head, now, then in pairs if now != then]
        told.append(f"{entry.about}: {', '.join(figures[:2])}")
    more = f"; {len(told) - MOST_MOVED} more lines" if len(told) > MOST_MOVED else ""
    return ("; ".join(told[:MOST_MOVED]) + more) or "as it was"


@frozen
class Scheme:
    """A way of judging. ``about`` says in a sentence what it looks at; ``likely``, where there is one, gives the
    likely figure alone, sooner."""

    id: str
    name: str
    about: str
    judge: Callable[[Study], Judgement]
    likely: Callable[[Study], float | None] | None = None

    def figure(self, study: Study) -> float | None:
        """The likely figure; None where the evidence allows none."""
        if self.likely is not None:
            return self.likely(study)
        total = self.judge(study).total
        return total.likely if total else None
