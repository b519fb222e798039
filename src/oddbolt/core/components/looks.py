"""Which of many things it is, from what is seen of it: ranked by Bayes' rule, and the next look that would decide best.

A table lists looks (a question with a few answers, or a figure) and candidates with the answers usual for each. How
probable a candidate is follows from how usual it is, times how likely each answer is if it is this one. A look may be
mistaken, and a figure is off by its error of measuring. The next look is the one that leaves the least uncertainty
(Shannon 1948) on average over what it may turn out to be, per trouble it is.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from functools import cached_property

import numpy as np
from attrs import field, frozen
from numpy.typing import NDArray
from scipy.special import ndtr

from oddbolt.core.errors import BenchError

Floats = NDArray[np.float64]
#: how often a look is mistaken; a figure that fits nothing costs no more than this factor
MISTAKEN, SLIP = 0.05, 1e-3
#: candidates that the next look is thought through for, and the least that it must bring, bits
LEADING, LEAST_GAIN = 60, 0.04
LIKELY, UNLIKELY = 0.12, 0.02


@frozen
class Look:
    """One thing to look at or measure. ``answers`` are the words of each answer, the first of them its own; a figure
    has none, but a ``unit`` ("" for a count). ``off`` and ``share`` are how far a figure is off, one standard
    deviation; ``effort`` how much trouble it is, 1 for a glance; ``usual`` the answers of a candidate that says
    nothing of it. ``logarithmic`` says that
    the values of a figure are spread evenly over its logarithm, ``several`` that a thing may show several answers at
    once (a band and a value)."""

    id: str
    question: str
    answers: Mapping[str, tuple[str, ...]] = field(factory=dict)
    unit: str = ""
    named: tuple[str, ...] = ()
    off: float = 0.0
    share: float = 0.0
    effort: float = 1.0
    usual: Mapping[str, float] = field(factory=dict)
    logarithmic: bool = False
    several: bool = False

    @property
    def is_figure(self) -> bool:
        """Whether it is measured or counted."""
        return not self.answers

    def words(self, answer: str) -> str:
        """An answer in words."""
        return self.answers[answer][0]


@frozen
class Kind:
    """One candidate: how ``usual`` it is, the share of each answer, and the intervals that each figure lies in."""

    id: str
    usual: float
    answers: Mapping[str, Mapping[str, float]]
    figures: Mapping[str, tuple[tuple[float, float], ...]]


@frozen
class Seen:
    """What was seen: answers and figures by look; figures with how far they may be off. ``skipped`` are looks that
    nobody can take, ``unread`` words that mean no look."""

    answers: Mapping[str, str] = field(factory=dict)
    figures: Mapping[str, tuple[float, float]] = field(factory=dict)
    unread: tuple[str, ...] = ()
    skipped: frozenset[str] = frozenset()

    @property
    def known(self) -> frozenset[str]:
        """The looks that need not be asked for any more."""
        return frozenset(_look(key) for key in (*self.answers, *self.figures)) | self.skipped


@frozen
class Candidate:
    """A kind with how probable it is (0 to 1), and which looks speak for and against it, in words."""

    id: str
    probability: float
    speaks_for: tuple[str, ...]
    speaks_against: tuple[str, ...]


@frozen
class Ranked:
    """Candidates, the likeliest first; the ``next`` look ("" where none helps) and what it brings on average, bits;
    what contradicts what, in words."""

    candidates: tuple[Candidate, ...]
    next: str
    gain: float
    trouble: str


@frozen(eq=False)
class Guide:
    """Looks and candidates, as arrays. ``noun`` says what the candidates are ("kind of part")."""

    looks: Mapping[str, Look]
    kinds: tuple[Kind, ...]
    noun: str

    @cached_property
    def prior(self) -> Floats:
        """How usual each candidate is; they sum to 1."""
        out = np.array([kind.usual for kind in self.kinds], dtype=np.float64)
        shares: Floats = out / out.sum()
        return shares

    @cached_property
    def shares(self) -> Mapping[str, Floats]:
        """For each look with answers: candidates by answers, with looks that are mistaken."""
        out = {}
        for look in self.looks.values():
            if look.is_figure:
                continue
            rows = np.array(
                [[kind.answers.get(look.id, look.usual).get(a, 0.0) for a in look.answers] for kind in self.kinds]
            )
            rows = np.where(rows.sum(axis=1, keepdims=True) > 0, rows, 1.0)
            rows = rows / rows.sum(axis=1, keepdims=True)
            out[look.id] = (1 - MISTAKEN) * rows + MISTAKEN / len(look.answers)
        return out

    @cached_property
    def spans(self) -> Mapping[str, tuple[Floats, Floats]]:
        """For each figure: the least and most of the intervals of each candidate; not a number where it has none."""
        out = {}
        for look in self.looks.values():
            if not look.is_figure:
                continue
            most = max((len(kind.figures.get(look.id, ())) for kind in self.kinds), default=1) or 1
            low, high = np.full((len(self.kinds), most), np.nan), np.full((len(self.kinds), most), np.nan)
            for n, kind in enumerate(self.kinds):
                for k, (a, b) in enumerate(kind.figures.get(look.id, ())):
                    low[n, k], high[n, k] = a, b
            out[look.id] = low, high
        return out

    def likelihood(self, look_id: str, value: float, off: float, rows: NDArray[np.int64] | None = None) -> Floats:
        """How likely a figure is with each candidate (all, or those of ``rows``)."""
        look = self.looks[look_id]
        low, high = self.spans[look_id]
        if rows is not None:
            low, high = low[rows], high[rows]
        if look.logarithmic:
            low, high, off, value = np.log(low), np.log(high), off / value, float(np.log(value))
        elif not look.unit:
            low, high = low - 0.5, high + 0.5
        off = max(off, 1e-6)
        wide = high - low
        thin = wide < 0.2 * off
        even = (ndtr((value - low) / off) - ndtr((value - high) / off)) / np.where(thin, 1.0, wide)
        peak = np.exp(-0.5 * ((value - (low + high) / 2) / off) ** 2) / (off * 2.5066)
        each = np.where(thin, peak, even)
        count = np.isfinite(each).sum(axis=1)
        total = np.nansum(each, axis=1) / np.maximum(count, 1) + SLIP
        # one that says nothing of it is as likely as the others are on average
        usual = (self.prior if rows is None else self.prior[rows]) * (count > 0)
        average = float((usual * total).sum() / usual.sum()) if usual.any() else 1.0
        return np.where(count == 0, average, total)

    def off(self, look_id: str, value: float) -> float:
        """How far a figure is off where nobody said so."""
        look = self.looks[look_id]
        return float(np.hypot(look.off, look.share * value)) or (0.25 if not look.unit else 0.02)

    # -- ranking --------------------------------------------------------------------------------------------

    def rank(self, seen: Seen, most: int = 5, usual: Floats | None = None) -> Ranked:
        """Rank the candidates. ``usual`` takes the place of how usual each is."""
        parts = {
            key: self.shares[_look(key)][:, list(self.looks[_look(key)].answers).index(answer)]
            for key, answer in seen.answers.items()
        }
        parts |= {look: self.likelihood(look, v, off) for look, (v, off) in seen.figures.items()}
        weight = (self.prior if usual is None else usual).copy()
        for part in parts.values():
            weight = weight * part
        posterior = weight / weight.sum()
        order = np.argsort(-posterior, kind="stable")
        keep = [int(n) for n in order[:most] if posterior[n] >= max(0.005, 0.02 * posterior[order[0]])]
        found = tuple(Candidate(self.kinds[n].id, float(posterior[n]), *self._why(n, seen)) for n in keep)
        nxt, gain = self._next(seen, posterior)
        return Ranked(found, nxt, gain, self._trouble(seen, parts))

    def _next(self, seen: Seen, posterior: Floats) -> tuple[str, float]:
        order = np.argsort(-posterior, kind="stable")[:LEADING]
        top = order[posterior[order] > 1e-4]
        share = posterior[top] / posterior[top].sum()
        now = float(_entropy(share[None, :])[0])
        best, gained, worth = "", 0.0, LEAST_GAIN
        for look in self.looks.values():
            if look.id in seen.known or now < LEAST_GAIN:
                continue
            if look.is_figure:
                likely = self._outcomes(look, top)
                if likely is None:
                    continue
                chance = share[np.isfinite(likely[:, 0])]
                likely = likely[np.isfinite(likely[:, 0])]
                chance = chance / chance.sum()
            else:
                likely = self.shares[look.id][top].T
                chance = likely @ share
            after = likely * share[None, :]
            after = after / after.sum(axis=1, keepdims=True)
            gain = now - float(chance @ _entropy(after))
            if gain / look.effort > worth:
                best, gained, worth = look.id, gain, gain / look.effort
        return best, gained

    def _outcomes(self, look: Look, top: NDArray[np.int64]) -> Floats | None:
        """For the figure that each leading candidate would give, how likely it is with every one of them."""
        low, high = self.spans[look.id]
        middle = np.sqrt(low[top, 0] * high[top, 0]) if look.logarithmic else (low[top, 0] + high[top, 0]) / 2
        if not np.isfinite(middle).any():
            return None
        rows = [
            self.likelihood(look.id, float(m), self.off(look.id, float(m)), top)
            if np.isfinite(m)
            else np.full(len(top), np.nan)
            for m in middle
        ]
        return np.array(rows)

    def _why(self, n: int, seen: Seen) -> tuple[tuple[str, ...], tuple[str, ...]]:
        good, bad = [], []
        for key, answer in seen.answers.items():
            id = _look(key)
            look, share = self.looks[id], self.shares[id][n, list(self.looks[id].answers).index(answer)]
            if share >= LIKELY:
                good.append(look.words(answer))
            elif share <= UNLIKELY:
                usual = max(look.answers, key=lambda a: self.shares[id][n, list(look.answers).index(a)])
                bad.append(f"{look.words(answer)}, where {look.words(usual)} is usual")
        for id, (value, off) in seen.figures.items():
            spans = self.kinds[n].figures.get(id)
            if not spans:
                continue
            gap = min(max(a - value, value - b, 0.0) for a, b in spans)
            near = min(spans, key=lambda s: max(s[0] - value, value - s[1], 0.0))
            unit = f" {self.looks[id].unit}" if self.looks[id].unit else ""
            told = f"{near[0]:g}{unit}" if near[0] == near[1] else f"{near[0]:g} to {near[1]:g}{unit}"
            if gap <= 2 * off:
                good.append(f"{id} {value:g}{unit} fits {told}")
            else:
                bad.append(f"{id} {value:g}{unit} does not fit {told}")
        return tuple(good), tuple(bad)

    def _trouble(self, seen: Seen, parts: Mapping[str, Floats]) -> str:
        """What no candidate has, alone or together with another look."""
        misses = {}
        for id, part in parts.items():
            look = self.looks[_look(id)]
            floor = 3 * SLIP if look.is_figure else 1.2 * MISTAKEN / len(look.answers)
            misses[id] = part <= floor
            if look.is_figure:
                misses[id] &= np.isfinite(self.spans[look.id][0][:, 0])  # one that says nothing of it fits
        if not misses or not np.all(np.sum(list(misses.values()), axis=0)):
            return ""
        alone = [id for id, miss in misses.items() if bool(np.all(miss))]
        if alone:
            return f"No {self.noun} in the table has {self.said(seen, alone[0])}; look again."
        keys = list(misses)
        for i, a in enumerate(keys):
            for b in keys[i + 1 :]:
                if bool(np.all(misses[a] | misses[b])):
                    both = f"{_first_upper(self.said(seen, a))} and {self.said(seen, b)}"
                    return f"{both} fit no {self.noun} together; look again."
        return f"No {self.noun} in the table has all of this; look again at what you are least sure of."

    def said(self, seen: Seen, id: str) -> str:
        """One look in words."""
        look = self.looks[_look(id)]
        if id in seen.answers:
            return look.words(seen.answers[id])
        return f"{id} {seen.figures[id][0]:g}{f' {look.unit}' if look.unit else ''}"

    def advice(self, ranked: Ranked) -> str:
        """The next look as a question, with its answers numbered; "" where none would help."""
        if not ranked.next or ranked.trouble:
            return ""
        look = self.looks[ranked.next]
        if look.is_figure:
            return f"{look.question} Type it, like {look.named[0]} 12{f' {look.unit}' if look.unit else ''}."
        return look.question + " " + "  ".join(f"{n} {look.words(a)}" for n, a in enumerate(self.asked(ranked), 1))

    def asked(self, ranked: Ranked) -> tuple[str, ...]:
        """The answers offered to the next look: at most nine, those likeliest with the leading candidates."""
        look = self.looks[ranked.next]
        if look.is_figure:
            return ()
        of = {kind.id: n for n, kind in enumerate(self.kinds)}
        weight = sum(
            (c.probability * self.shares[look.id][of[c.id]] for c in ranked.candidates), np.zeros(len(look.answers))
        )
        top = sorted(np.argsort(-weight, kind="stable")[:9])
        return tuple(list(look.answers)[n] for n in top)

    # -- what was typed -------------------------------------------------------------------------------------

    @cached_property
    def phrases(self) -> Mapping[str, tuple[str, str]]:
        """Words -> the look and answer that they mean."""
        out: dict[str, tuple[str, str]] = {}
        for look in self.looks.values():
            for answer, words in look.answers.items():
                for phrase in (*words, f"{look.id} {answer}"):
                    out.setdefault(phrase, (look.id, answer))
        return out

    @cached_property
    def figure_names(self) -> Mapping[str, str]:
        """Words that name a figure -> its look."""
        return {word: look.id for look in self.looks.values() if look.is_figure for word in (look.id, *look.named)}

    def read(self, text: str) -> Seen:
        """What was typed or said: "disc, two wires, magnet, 12 mm". Raises BenchError for two answers to one look, and
        where nothing is understood."""
        answers: dict[str, str] = {}
        figures: dict[str, tuple[float, float]] = {}
        unread: list[str] = []
        skipped = {look for look in self.looks if re.search(rf"\b{look}\s*(?:\?|unknown)", text.lower())}
        words = _words(re.sub(r"\b(\w+)\s*(?:\?|unknown)", lambda m: "" if m[1].lower() in skipped else m[0], text))
        n = 0
        while n < len(words):
            took = self._phrase(words, n, answers) or self._figure(words, n, figures)
            if not took and words[n] not in IDLE:
                unread.append(words[n])
            n += took or 1
        if not answers and not figures and not skipped:
            raise BenchError(
                f"Nothing of “{' '.join(text.split())[:60]}” is a look at a {self.noun}; say its shape, size, place …"
                if text.strip()
                else "Say what you see: its shape, size, place …"
            )
        return Seen(answers, figures, tuple(unread), frozenset(skipped))

    def _phrase(self, words: Sequence[str], n: int, answers: dict[str, str]) -> int:
        for long in range(min(9, len(words) - n), 0, -1):
            found = self.phrases.get(" ".join(words[n : n + long]))
            if found is None:
                continue
            look, answer = found
            if self.looks[look].several and look in answers and answer not in answers.values():
                answers[f"{look}/{len(answers)}"] = answer
                return long
            if answers.get(look, answer) != answer and answer not in answers.values():
                a, b = self.looks[look].words(answers[look]), self.looks[look].words(answer)
                raise BenchError(f"“{a}” and “{b}” answer the same question ({look}); say one of them.")
            answers[look] = answer
            return long
        return 0

    def _figure(self, words: Sequence[str], n: int, figures: dict[str, tuple[float, float]]) -> int:
        """A figure with its name before or after it, or one in mm alone, which is the first length of the table."""
        at, look = n, ""
        if words[n] in self.figure_names:
            look, at = self.figure_names[words[n]], n + 1
            if at < len(words) and words[at] in ("of", "is", "about"):
                at += 1
        value = _number(words[at]) if at < len(words) else None
        if value is None:
            return 0
        end = at + 1
        unit = words[end] if end < len(words) and words[end] in UNITS else ""
        end += bool(unit)
        if not look and end < len(words) and words[end] in self.figure_names:
            look = self.figure_names[words[end]]
            end += 1
        lengths = [id for id, one in self.looks.items() if one.is_figure and one.unit == "mm"]
        counts = [id for id, one in self.looks.items() if one.is_figure and not one.unit]
        if not look:
            free = [id for id in (lengths if unit else counts) if id not in figures]
            if not unit or not free:
                return 0
            look = free[0]
        if unit and look in counts:
            raise BenchError(f"{look.capitalize()} are counted, not measured in {unit}.")
        value *= UNITS.get(unit, 1.0)
        if not 0 < value <= 100_000 or (look in counts and value != round(value)):
            raise BenchError(f"{value:g} cannot be the {look} of a {self.noun}.")
        figures[look] = value, self.off(look, value)
        return end - n


def _look(key: str) -> str:
    """The look of an answer: of several answers to one look the later ones are kept as "marks/3"."""
    return key.partition("/")[0]


#: units of lengths in mm, and words that say nothing
UNITS = {
    "mm": 1.0,
    "millimetre": 1.0,
    "millimetres": 1.0,
    "cm": 10.0,
    "µm": 0.001,
    "mil": 0.0254,
    "in": 25.4,
    "inch": 25.4,
}
IDLE = frozenset(
    "a an and the it is of with has on in at to its by x × one about looks like very quite small large thing part this "
    "that there are be some something sits made from i see what was for or just".split()
)
FIGURES = {
    word: n
    for n, word in enumerate(
        "zero one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen "
        "seventeen eighteen nineteen twenty".split()
    )
} | {"thirty": 30, "forty": 40, "fifty": 50, "sixty": 60, "eighty": 80, "hundred": 100}


def _words(text: str) -> list[str]:
    """Words of what was typed, figures parted from their units; "half a millimetre" as a figure."""
    plain = " ".join(text.lower().replace("“", " ").replace("”", " ").split())
    plain = re.sub(r"\bhalf an? (millimetre|mm)\b", "0.5 mm", plain)
    plain = re.sub(r"\b(one|two|three|four|five) and a half\b", lambda m: str(FIGURES[m[1]] + 0.5), plain)
    plain = re.sub(r"\b(zero|nought|null) point (\w+)", lambda m: f"0.{FIGURES.get(m[2], m[2])}", plain)
    plain = re.sub(r"\b(one|two|three|four) point (\w+)", lambda m: f"{FIGURES[m[1]]}.{FIGURES.get(m[2], m[2])}", plain)
    plain = re.sub(r"(?<=\d),(?=\d)", ".", plain)
    plain = re.sub(r"(?<=\d)\s*[x×]\s*(?=\d)", " mm ", plain)
    plain = re.sub(r"(?<=\d)(?=[a-zµ])", " ", plain)
    return re.findall(r"\d*\.?\d+|[\w'-]+", plain)


def _number(word: str) -> float | None:
    if word in FIGURES:
        return float(FIGURES[word])
    return float(word) if re.fullmatch(r"\d*\.?\d+", word) else None


def _entropy(shares: Floats) -> Floats:
    safe = np.where(shares > 1e-12, shares, 1.0)
    out: Floats = -(safe * np.log2(safe)).sum(axis=1)
    return out


def _first_upper(text: str) -> str:
    return text[:1].upper() + text[1:]
