"""What a scheme of judging is: a name, how it judges, and a judgement that opens its arithmetic out."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from attrs import frozen

from oddbolt.core.study import Study


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
    what is missing. ``heads`` are those of the entries; ``data`` is the same for scripts."""

    headline: str
    source: str
    verified: bool
    heads: tuple[str, ...]
    entries: tuple[Entry, ...]
    missing: tuple[str, ...]
    data: Mapping[str, Any]


@frozen
class Scheme:
    """A way of judging. ``about`` says in a sentence what it looks at."""

    id: str
    name: str
    about: str
    judge: Callable[[Study], Judgement]
