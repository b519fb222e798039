"""What a screw weighs, from its figures: shank and head in steel, good to some per cent."""

from __future__ import annotations

from math import pi

from oddbolt.core.reference.tables import thread_of
from oddbolt.core.study import Joint

#: density of steel, g/mm³ (EN 10088: 7.7 to 8.0 kg/dm³, from memory)
STEEL = 7.85e-3
#: a head's usual diameter and height against the thread (ISO 7045, from memory)
HEAD_WIDE, HEAD_HIGH = 1.95, 0.75


def screw_mass_g(joint: Joint) -> float | None:
    """The mass of one screw of a group, g, from its thread, length and head; None where thread or length is unknown."""
    thread = thread_of(joint.thread) if joint.thread else None
    if joint.kind != "screw" or thread is None or not joint.length_mm:
        return None
    d = thread.diameter_mm
    shank = pi / 4 * (d - 0.6495 * thread.pitch_mm) ** 2 * joint.length_mm
    head = 0.8 * pi / 4 * (joint.head_mm or HEAD_WIDE * d) ** 2 * HEAD_HIGH * d
    return STEEL * (shank + head)
