"""Limits of sizes by the standards' formulas."""

from __future__ import annotations

from oddbolt.core.reference.tables import Thread

INCH_MM = 25.4
#: lengths that screws are made in, mm (ISO 888, from memory, unverified; below 2 mm common practice)
LENGTHS_MM = tuple(
    float(v)
    for v in "1 1.2 1.4 1.6 1.8 2 2.5 3 3.5 4 4.5 5 6 7 8 10 12 14 16 18 20 22 25 30 35 40 45 50 55 60 70 80".split()
)


def tolerance_mm(pitch_mm: float, grade: int = 6) -> float:
    """Tolerance of the outer diameter of an external thread, mm: Td(6) = 180 P^(2/3) - 3.15 P^(-1/2) µm; grade 4 is
    0.63 of it and grade 8 1.6 (ISO 965-1, from memory, unverified)."""
    share = {4: 0.63, 6: 1.0, 8: 1.6}[grade]
    return float(share * (180 * pitch_mm ** (2 / 3) - 3.15 * pitch_mm**-0.5) / 1000)


def allowance_mm(pitch_mm: float) -> float:
    """How far below nominal the largest outer diameter of position g lies, mm: 15 + 11 P µm (ISO 965-1, from memory,
    unverified)."""
    return (15 + 11 * pitch_mm) / 1000


def outer_limits_mm(thread: Thread) -> tuple[float, float]:
    """Least and largest outer diameter that a screw of this thread has, mm.

    Metric coarse and fine: 6g. Miniature: 4h. Inch: class 2A of ASME B1.1. Sheet metal: 0.14, 0.18 or 0.22 mm below by
    size (ISO 1478). All from memory, unverified. Plastic: 3 % to both sides (common practice, no source).
    """
    d, p = thread.diameter_mm, thread.pitch_mm
    if thread.kind in ("coarse", "fine"):
        top = d - allowance_mm(p)
        return top - tolerance_mm(p), top
    if thread.kind == "miniature":
        return d - tolerance_mm(p, 4), d
    if thread.kind.startswith("inch"):
        across, turn = d / INCH_MM, p / INCH_MM
        allowance = 0.3 * (0.0015 * across ** (1 / 3) + 0.0015 * across**0.5 + 0.015 * turn ** (2 / 3))
        top = (across - allowance) * INCH_MM
        return top - 0.06 * turn ** (2 / 3) * INCH_MM, top
    if thread.kind == "sheet metal":
        return d - (0.14 if d < 3 else 0.18 if d < 6 else 0.22), d
    return 0.97 * d, 1.03 * d


def stress_area_mm2(thread: Thread) -> float:
    """Stress area of a metric thread, mm²: π/4 (d - 0.9382 P)² (ISO 898-1: mean of flank and root diameter)."""
    return 0.785398163 * (thread.diameter_mm - 0.9382 * thread.pitch_mm) ** 2
