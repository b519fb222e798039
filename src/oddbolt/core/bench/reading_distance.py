"""How large letters must be to be read from where one stands."""

from __future__ import annotations

from math import radians, tan

from oddbolt.core.errors import BenchError

#: Height of a capital as seen, in minutes of arc: recommended 20 to 22, at least 16 (ISO 9241-303; from memory,
#: unverified).
COMFORTABLE_ARCMIN = 22.0


def letter_height_mm(distance_m: float, arcmin: float = COMFORTABLE_ARCMIN) -> float:
    """The height of a capital, mm, that is seen under ``arcmin`` minutes of arc from ``distance_m`` (0.2 to 20 m).

    h = 2 · distance · tan(angle / 2). Raises BenchError outside the range.
    """
    if not 0.2 <= distance_m <= 20:
        raise BenchError("The reading distance must be 0.2 to 20 m.")
    return 2000 * distance_m * tan(radians(arcmin / 60) / 2)
