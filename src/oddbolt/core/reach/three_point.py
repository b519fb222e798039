"""The time of a step as somebody told it: at the quickest, usually, at the slowest.

Three-point estimates: mean and deviation of PERT (Malcolm, Roseboom, Clark, Fazar 1959); taken as the log-normal time
of the same mean and deviation.
"""

from __future__ import annotations

from math import exp, log, sqrt

from oddbolt.core.errors import ReachError
from oddbolt.core.study import Step

#: deviation of the log of a time told by one figure (common practice, no source)
ONE_FIGURE = 0.3


def three_point(least: float, likely: float, most: float) -> tuple[float, float]:
    """Mean and standard deviation of a time (s) told by three: (a + 4m + b)/6 and (b - a)/6. Raises ReachError."""
    if not 0 <= least <= likely <= most:
        raise ReachError("Enter least ≤ likeliest ≤ most.")
    return (least + 4 * likely + most) / 6, (most - least) / 6


def log_normal(mean: float, deviation: float) -> tuple[float, float]:
    """Median and deviation of the log of the log-normal time with this mean and standard deviation (s)."""
    sigma = sqrt(log(1 + (deviation / mean) ** 2)) if mean > 0 else 0.0
    return mean * exp(-(sigma**2) / 2), sigma


def told(step: Step) -> tuple[float, float] | None:
    """Median (s) and deviation of the log of the time told of a step; None where neither a usual time nor both ends
    were told. An end that is missing lies as far from the usual time as the other; a usual time that is missing lies in
    the middle of the ends."""
    least, likely, most = step.least_s, step.likely_s, step.most_s
    if likely is None:
        if least is None or most is None:
            return None
        likely = (least + most) / 2
    if least is None and most is None:
        return likely, ONE_FIGURE
    if least is None:
        least = max(0.0, 2 * likely - (most or likely))
    if most is None:
        most = 2 * likely - least
    return log_normal(*three_point(least, likely, most))
