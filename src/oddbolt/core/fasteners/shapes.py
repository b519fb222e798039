"""The shapes of screws from their figures: the recess as its geometry has it, the head from the side; for every painter
alike. Lengths are in the unit that goes in."""

from __future__ import annotations

from math import cos, pi, sin

from oddbolt.core.reference.tables import thread_of
from oddbolt.core.study import Joint

Point = tuple[float, float]
#: drawn where a figure is not recorded, mm
USUAL_MM, USUAL_LENGTH_MM = 2.0, 4.0
#: width of the head over the diameter of the shank where it is not recorded
USUAL_HEAD = 1.8


def size_of(joint: Joint) -> tuple[float, float, float, float]:
    """Shank diameter, pitch, head diameter and length of a screw in mm, as far as recorded."""
    thread = thread_of(joint.thread) if joint.thread else None
    diameter = thread.diameter_mm if thread else USUAL_MM
    pitch = thread.pitch_mm if thread else 0.4
    return diameter, pitch, joint.head_mm or diameter * USUAL_HEAD, joint.length_mm or USUAL_LENGTH_MM


def head_height(head: str, wide: float) -> float:
    """The height of a head of this form and width."""
    if "countersunk" in head:
        return wide * 0.28
    return wide * (0.22 if "wafer" in head else 0.6 if "cheese" in head else 0.42)


def recess(drive: str, r: float) -> list[list[Point]] | None:
    """The outlines of a recess of radius ``r`` around the origin, to be filled together; None for a drive that has none
    or is not known."""
    match drive:
        case "cross" | "cross-z":
            w = r * 0.32
            shapes = [_box(-r, -w / 2, 2 * r, w), _box(-w / 2, -r, w, 2 * r)]
            if drive == "cross-z":
                for k in range(4):
                    a = pi / 4 + k * pi / 2
                    shapes.append(_round((r * 0.62 * cos(a), r * 0.62 * sin(a)), w * 0.28))
            return shapes
        case "hexalobular" | "hexalobular-plus" | "five-lobe":
            return [_lobes(drive, r)]
        case "hex-socket":
            return [regular(r, 6)]
        case "square":
            return [regular(r, 4)]
        case "three-wing":
            return [_bar(k * 2 * pi / 3 - pi / 2, r, r * 0.34) for k in range(3)]
        case "slotted" | "stand-off":
            return [_box(-r * 1.35, -r * 0.16, r * 2.7, r * 0.32)]
        case "two-hole":
            return [_round((-r * 0.6, 0.0), r * 0.25), _round((r * 0.6, 0.0), r * 0.25)]
    return None


def regular(r: float, n: int) -> list[Point]:
    """A regular polygon of ``n`` corners around the origin."""
    return [(r * cos(k * 2 * pi / n), r * sin(k * 2 * pi / n)) for k in range(n)]


def _lobes(drive: str, r: float) -> list[Point]:
    lobes = 5 if drive == "five-lobe" else 6
    deep = 0.66 if drive == "hexalobular-plus" else 0.74
    out = []
    for k in range(lobes * 12):
        a = k / 12 * 2 * pi / lobes - pi / 2
        d = r * (deep + (1 - deep) * (0.5 + 0.5 * cos(lobes * (a + pi / 2))))
        out.append((d * cos(a), d * sin(a)))
    return out


def _box(x: float, y: float, wide: float, high: float) -> list[Point]:
    return [(x, y), (x + wide, y), (x + wide, y + high), (x, y + high)]


def _round(centre: Point, r: float) -> list[Point]:
    return [(centre[0] + x, centre[1] + y) for x, y in regular(r, 24)]


def _bar(angle: float, length: float, width: float) -> list[Point]:
    dx, dy, nx, ny = cos(angle), sin(angle), -sin(angle) * width / 2, cos(angle) * width / 2
    return [
        (nx, ny),
        (dx * length + nx, dy * length + ny),
        (dx * length - nx, dy * length - ny),
        (-nx, -ny),
    ]
