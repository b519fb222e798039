"""How much a verdict hangs on the weights: sensitivity, exact intervals by linear programming, and how firm an order
is.

Weights near the user's lie within a share of each, and sum to 1. The least and the most score under all of them are
linear programs; one device is above another under every such weight if the least of the difference is above 0. How
often an order holds is sampled from a Dirichlet distribution round the weights."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from attrs import frozen
from numpy.typing import NDArray

from oddbolt.core.errors import BenchError
from oddbolt.core.verdict.composite import Composite
from oddbolt.core.verdict.scheme import Range3

Floats = NDArray[np.float64]
#: weights within this share of the user's count as near; samples; and how narrow the Dirichlet is
NEAR, SAMPLES, FIRM = 0.3, 4000, 60.0
SEED = 20261127


@frozen
class Bar:
    """One bar of a tornado: what is moved, and the score at its least and its most end."""

    about: str
    low: float
    high: float

    @property
    def width(self) -> float:
        """How far the score moves."""
        return abs(self.high - self.low)


@frozen
class Pair:
    """Two devices: how often the first is above (0 to 1), and whether that holds under all near weights and all
    readings ("always", "never"), or is a toss-up ("")."""

    first: str
    second: str
    share: float
    always: str

    @property
    def told(self) -> str:
        """How firm it is, in words: shares of what was tried."""
        if self.always == "always":
            return "under every near weight and every reading"
        firm = "likely" if self.share >= 0.9 else "leaning that way" if self.share >= 0.7 else "a toss-up"
        return f"{firm}, {self.share:.0%} of tries"


@frozen
class Order:
    """Devices in their likely order, each with its score as a range over near weights; the pairs; and how often the
    whole order holds."""

    names: tuple[str, ...]
    scores: tuple[Range3, ...]
    pairs: tuple[Pair, ...]
    holds: float


def interval(
    scores: Sequence[float] | Floats, weights: Sequence[float] | Floats, near: float = NEAR
) -> tuple[float, float]:
    """The least and the most weighted sum under all weights within ``near`` of these, summing to 1 (linear
    programming).

    Raises BenchError where no such weights exist.
    """
    from scipy.optimize import linprog

    values, base = np.array(scores, dtype=np.float64), _made_one(weights)
    bounds = [(max(0.0, w * (1 - near)), min(1.0, w * (1 + near))) for w in base]
    ends = []
    for sign in (1.0, -1.0):
        done = linprog(sign * values, A_eq=np.ones((1, len(base))), b_eq=[1.0], bounds=bounds, method="highs")
        if not done.success:
            raise BenchError("No weights near these sum to 1.")
        ends.append(sign * float(done.fun))
    return ends[0], ends[1]


def tornado(found: Composite, weights: Mapping[str, float] | None = None, near: float = NEAR) -> tuple[Bar, ...]:
    """What moves the score most: each criterion's own range, and each weight within ``near`` of itself, the widest
    first."""
    spec = found.spec
    shares = {c.id: c.weight for c in spec.criteria} if weights is None else dict(weights)
    total = sum(shares.values())
    shares = {id: w / total for id, w in shares.items()}
    likely = sum(shares[c.id] * found.scores[c.id].likely for c in spec.criteria)
    bars = []
    for criterion in spec.criteria:
        score, weight = found.scores[criterion.id], shares[criterion.id]
        if score.high - score.low > 1e-9:
            bars.append(
                Bar(
                    criterion.about,
                    likely + weight * (score.low - score.likely),
                    likely + weight * (score.high - score.likely),
                )
            )
        if 0 < weight < 1:
            ends = []
            for factor in (1 - near, 1 + near):
                moved = min(weight * factor, 1.0)
                rest = (1 - moved) / (1 - weight)
                ends.append(moved * score.likely + rest * (likely - weight * score.likely))
            bars.append(Bar(f"weight of {criterion.about}", min(ends), max(ends)))
    return tuple(sorted(bars, key=lambda bar: -bar.width))


def near_in_words(found: Composite, weights: Mapping[str, float], near: float = NEAR) -> str:
    """How far near weights move a figure: with all that is open, and of the likely readings alone."""
    scores = [found.scores[c.id] for c in found.spec.criteria]
    shares = [max(weights[c.id], 1e-6) for c in found.spec.criteria]
    ends = [interval([getattr(s, end) for s in scores], shares, near) for end in ("low", "likely", "high")]

    def told(low: float, high: float) -> str:
        worst, best = found.class_of(low), found.class_of(high)
        ranks = f", class {worst if worst == best else f'{best} to {worst}'}" if worst and best else ""
        return f"{low:.2f} to {high:.2f}{ranks}"

    words = f"Weights within {near:.0%} of these: {told(ends[0][0], ends[2][1])}"
    alone = "" if found.total.is_one else f"; by the likely readings alone {told(*ends[1])}"
    return f"{words}{alone}."


def order_of(
    names: Sequence[str], scores: Sequence[Sequence[Range3]], weights: Sequence[float], near: float = NEAR
) -> Order:
    """How firm the order of devices is: ``scores`` has a row of criteria for each. Raises BenchError for no devices."""
    if not names or len(names) != len(scores):
        raise BenchError("There is nothing to compare.")
    base = _made_one(weights)
    likely = np.array([[s.likely for s in row] for row in scores])
    low, high = (np.array([[getattr(s, end) for s in row] for row in scores]) for end in ("low", "high"))
    rank = sorted(range(len(names)), key=lambda n: (-float(likely[n] @ base), names[n]))
    drawn = _drawn(base, low, likely, high)
    spans = [
        Range3(interval(low[n], base, near)[0], float(likely[n] @ base), interval(high[n], base, near)[1]) for n in rank
    ]
    pairs = []
    for k, a in enumerate(rank):
        for b in rank[k + 1 :]:
            share = float((drawn[:, a] > drawn[:, b]).mean())
            least = interval(low[a] - high[b], base, near)[0]
            most = interval(high[a] - low[b], base, near)[1]
            pairs.append(Pair(names[a], names[b], share, "always" if least > 1e-9 else "never" if most < -1e-9 else ""))
    ordered = drawn[:, rank]
    holds = float(np.all(ordered[:, :-1] >= ordered[:, 1:], axis=1).mean())
    return Order(tuple(names[n] for n in rank), tuple(spans), tuple(pairs), holds)


def _drawn(base: Floats, low: Floats, likely: Floats, high: Floats) -> Floats:
    """Scores of every device under sampled weights and readings: weights from a Dirichlet distribution round the
    user's, readings from triangles."""
    rng = np.random.default_rng(SEED)
    weights = rng.dirichlet(np.maximum(base * FIRM, 1e-3), SAMPLES)
    out = np.empty((SAMPLES, len(likely)))
    for n in range(len(likely)):
        spread = high[n] - low[n]
        peak = np.clip(likely[n], low[n], high[n])
        read = np.where(
            spread > 1e-9,
            rng.triangular(low[n], peak, np.where(spread > 1e-9, high[n], low[n] + 1), (SAMPLES, len(base))),
            peak,
        )
        out[:, n] = (weights * read).sum(axis=1)
    return out


def _made_one(weights: Sequence[float] | Floats) -> Floats:
    base = np.array(weights, dtype=np.float64)
    if base.size == 0 or not np.isfinite(base).all() or base.min() < 0 or base.sum() <= 0:
        raise BenchError("Weights are 0 or more, and at least one of them is above 0.")
    out: Floats = base / base.sum()
    return out
