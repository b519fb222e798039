"""Tightening torque: the window that suits a screw, a typed figure held against it, and the order to tighten in.

Into metal, the torque that brings the screw to nine tenths of its yield under tension and twisting together (VDI 2230,
formulas from memory, unverified), from the least to the most friction; into plastic, shares of the torque that strips
the boss; into an insert, shares of what pulls it out (both common practice, no source). Never above three quarters of
the least breaking torque (ISO 898-7), which is computed for a thread that has no row: 0.84 of the tensile strength over
a core of d - 1.52 P. This lies 0 to 9 % under each row of the standard from M1 to M10.
"""

from __future__ import annotations

from collections.abc import Sequence
from math import atan2, hypot, pi, sqrt

from attrs import evolve, frozen

from oddbolt.core.errors import BenchError
from oddbolt.core.reference.limits import stress_area_mm2
from oddbolt.core.reference.quantities import SPELLED
from oddbolt.core.reference.tables import Thread, breaking_torque_ncm, drives, thread_of
from oddbolt.core.study import Joint, Study
from oddbolt.core.study.edits import put_all
from oddbolt.core.study.photos import callouts_of

#: property class -> least yield strength, MPa (ISO 898-1; ISO 3506-1 for A2-70, from memory, unverified)
YIELD_MPA = {"4.8": 340.0, "5.8": 420.0, "8.8": 640.0, "10.9": 940.0, "12.9": 1100.0, "A2-70": 450.0}
#: property class -> breaking torque beside that of 8.8: tensile strength times a factor that falls with hardness (ISO
#: 898-7); A2-70 breaks at no less than 8.8 (ISO 3506-1); from memory, unverified
BREAKS = {"4.8": 0.525, "5.8": 0.65, "8.8": 1.0, "10.9": 1.22, "12.9": 1.36, "A2-70": 1.0}
#: friction in thread and under the head: dry and clean to slightly oiled steel (VDI 2230 class B, from memory)
FRICTION = (0.08, 0.16)
MATERIALS = ("metal", "plastic", "insert")
#: of the yield used, of the breaking torque never passed, of stripping aimed at
USED, SAFE, PLASTIC_SHARE, INSERT_SHARE = 0.9, 0.75, (0.3, 0.55), (0.3, 0.6)
#: shear strength of a boss of ordinary plastic, MPa, and how many diameters a screw usually goes in (common practice)
BOSS_MPA, ENGAGED = 22.0, 2.0
INSERT_MPA = 16.0
#: below this diameter friction and finish move the torque by half and more (common practice, no source)
SMALL_MM = 1.6
#: units that people mix up, as they are typed
MIXED = ("N·cm", "N·m", "mN·m", "lbf·in", "ozf·in", "kgf·cm")


@frozen
class TorqueWindow:
    """Least and most torque that suits, the least that breaks the screw or None, what strips the hole or None, all
    N·cm; the formula in words and its source. ``capped`` says that the limit below breaking, not the formula, ends the
    window; ``computed`` that the breaking torque is a computed lower bound."""

    low_ncm: float
    high_ncm: float
    break_ncm: float | None
    strip_ncm: float | None
    formula: str
    source: str
    capped: bool = False
    computed: bool = False


def window(thread: Thread, into: str = "metal", klass: str = "8.8", engaged_mm: float | None = None) -> TorqueWindow:
    """The window for a screw of this thread and property class. Raises BenchError for what is not known."""
    if into not in MATERIALS:
        raise BenchError(f"“{into}” is not a known joint material; choose one of: {', '.join(MATERIALS)}.")
    if klass not in YIELD_MPA:
        raise BenchError(f"“{klass}” is not a known property class; choose one of: {', '.join(YIELD_MPA)}.")
    if into not in materials_of(thread):
        why = "has no property class here" if thread.kind.startswith("inch") else "cuts its own hole"
        raise BenchError(
            f"{thread.name} is a {thread.kind} thread, which {why}: no torque into {into} is known for it."
        )
    row = breaking_torque_ncm("", "", thread.name)
    breaks = row if row is not None else breaking_bound_ncm(thread)
    if breaks is not None:
        breaks *= BREAKS[klass]
    capped = False
    if into == "metal":
        low, high = (preload_torque_ncm(thread, YIELD_MPA[klass], mu) for mu in FRICTION)
        strip, formula = None, "F·(0.159 P + 0.577 d2 µ + D/2 µ), F for 90 % of yield, µ 0.08 to 0.16"
        source = "VDI 2230, from memory, unverified"
        low *= 0.75
    else:
        deep = engaged_mm or ENGAGED * thread.diameter_mm
        strength = BOSS_MPA if into == "plastic" else INSERT_MPA
        force = pi * thread.diameter_mm * deep * 0.5 * strength
        strip = _torque_of(thread, force, 0.25) / 10
        shares = PLASTIC_SHARE if into == "plastic" else INSERT_SHARE
        low, high = shares[0] * strip, shares[1] * strip
        formula, source = f"{shares[0]:.0%} to {shares[1]:.0%} of stripping, π d·l·τ/2", "common practice, no source"
    if breaks is not None:
        capped = high > SAFE * breaks
        high = min(high, SAFE * breaks)
        low = min(low, 0.6 * high)
    if capped:
        formula += f", lowered to {SAFE:.0%} of the least breaking torque"
    return TorqueWindow(low, high, breaks, strip, formula, source, capped, row is None and breaks is not None)


def breaking_bound_ncm(thread: Thread) -> float | None:
    """A torque in N·cm that a metric screw of class 8.8 holds at the least; None for other threads. By the formula of
    ISO 898-7, from memory, unverified: π/16 · d³ · 0.84 · 800 MPa over a core of d - 1.52 P."""
    if thread.kind not in ("coarse", "fine"):
        return None
    core = thread.diameter_mm - 1.52 * thread.pitch_mm
    return pi / 16 * core**3 * 0.84 * 800 / 10 if core > 0 else None


def usual_thread(drive: str, size: str) -> Thread | None:
    """The largest thread usual with a driver, for a screw whose thread nobody measured; None where none is known."""
    known = drives().get(drive)
    return thread_of(known.largest_thread.get(size, "")) if known else None


def materials_of(thread: Thread) -> tuple[str, ...]:
    """What a screw of this thread is driven into, of :data:`MATERIALS`."""
    if thread.kind.startswith("inch"):
        return ("plastic", "insert")
    return ("plastic",) if thread.kind in ("plastic", "sheet metal") else MATERIALS


def preload_torque_ncm(thread: Thread, yield_mpa: float, friction: float) -> float:
    """The torque in N·cm that stresses the screw to nine tenths of its yield, tension and twist together."""
    d2 = thread.diameter_mm - 0.6495 * thread.pitch_mm
    d0 = sqrt(4 * stress_area_mm2(thread) / pi)
    twist = 1.5 * d2 / d0 * (thread.pitch_mm / (pi * d2) + 1.155 * friction)
    force = USED * yield_mpa * stress_area_mm2(thread) / sqrt(1 + 3 * twist**2)
    return _torque_of(thread, force, friction) / 10


def _torque_of(thread: Thread, force_n: float, friction: float) -> float:
    """Torque in N·mm for a tension: in the thread and under a head that bears on 1.1 to 1.5 of its width."""
    d2 = thread.diameter_mm - 0.6495 * thread.pitch_mm
    head = 1.3 * thread.diameter_mm
    return force_n * (0.159 * thread.pitch_mm + 0.577 * d2 * friction + head / 2 * friction)


def sentence(thread: Thread, found: TorqueWindow, into: str) -> str:
    """The window in words."""
    at = "holds at least" if found.computed else "breaks at"
    breaks = f"; a screw {at} {_shown(found.break_ncm)}" if found.break_ncm else ""
    small = f" Small screws vary: take {_shown(found.low_ncm)} and see." if thread.diameter_mm < SMALL_MM else ""
    strips = f"; the hole strips at about {_shown(found.strip_ncm)}" if found.strip_ncm else ""
    return f"{thread.name} into {into}: {_shown(found.low_ncm)} to {_shown(found.high_ncm)}{breaks}{strips}.{small}"


def held_against(ncm: float, thread: Thread, found: TorqueWindow, into: str) -> str:
    """A torque in N·cm held against the window that was asked for: whether it lies in it, strips the hole or breaks the
    screw, and what was likely meant. Where a limit is not known, it says so."""
    inside = found.low_ncm <= ncm <= found.high_ncm
    unknown = f"The breaking torque of {thread.name} is not in the tables." if found.break_ncm is None else ""
    if inside:
        return f"{_shown(ncm)} lies in the window. {unknown}".rstrip()
    side = "above" if ncm > found.high_ncm else "below"
    bits = [f"{_shown(ncm)} is {side} the window for {thread.name} into {into}"]
    if found.strip_ncm is not None and ncm >= found.strip_ncm:
        bits.append(f"it strips the hole, which holds about {_shown(found.strip_ncm)}")
    if found.break_ncm is not None and ncm >= found.break_ncm:
        sure = f"may break the screw, which is sure to hold {_shown(found.break_ncm)}"
        bits.append(f"it {sure if found.computed else f'breaks the screw, which holds {_shown(found.break_ncm)}'}")
    far = ncm > 3 * found.high_ncm or ncm < found.low_ncm / 3
    meant = likely_meant(ncm, 0.3 * found.low_ncm, found.high_ncm) if far else ()
    asked = f" {' or '.join(meant)} meant?" if meant else ""
    return f"{'; '.join(bits)}.{asked} {unknown}".rstrip()


def doubt(ncm: float, joint: Joint) -> str:
    """What is wrong with a torque for these screws, and what was likely meant; "" if nothing is."""
    thread = thread_of(joint.thread) if joint.thread else None
    breaks = breaking_torque_ncm(joint.drive, joint.size, joint.thread)
    if breaks is None:
        return ""
    what = joint.thread or joint.size
    if ncm >= breaks:
        said = f"{_shown(ncm)} breaks a screw of {what}, which holds {_shown(breaks)} at the most"
    elif thread is not None and ncm < 0.04 * breaks:
        said = f"{_shown(ncm)} hardly turns a screw of {what}"
    else:
        return ""
    meant = likely_meant(ncm, 0.06 * breaks, 0.9 * breaks)
    return f"{said}; {' or '.join(meant)} meant?" if meant else f"{said}."


def likely_meant(ncm: float, low: float, high: float) -> tuple[str, ...]:
    """The same figure in units that it is often mixed up with, where that falls between ``low`` and ``high`` N·cm."""
    scale = {u: SPELLED["torque"][u.replace("·", " ")] for u in MIXED}
    found = []
    for typed in MIXED[:2]:  # it was typed in N·cm or in N·m
        figure = ncm / scale[typed]
        for unit in MIXED:
            told = f"{figure:g} {unit}"
            if unit != typed and low <= figure * scale[unit] <= high and told not in found and figure >= 0.1:
                found.append(told)
    return tuple(found[:1])


def _shown(ncm: float) -> str:
    return f"{ncm / 100:.3g} N·m" if ncm >= 200 else f"{ncm:.3g} N·cm"


def tightening_order(holes: Sequence[tuple[float, float]], pattern: str = "crosswise") -> tuple[int, ...]:
    """The order to tighten holes in, by their place in the list, first hand-tight and then finally: ``crosswise``, each
    next one as far across as there is, or ``centre`` outwards. Raises BenchError."""
    if pattern not in ("crosswise", "centre"):
        raise BenchError(f"“{pattern}” is not a known pattern; use crosswise or centre.")
    if len(holes) < 2:
        raise BenchError("An order needs at least two holes.")
    x, y = (sum(h[k] for h in holes) / len(holes) for k in (0, 1))
    away = [hypot(a - x, b - y) for a, b in holes]
    angle = [atan2(b - y, a - x) for a, b in holes]
    left = sorted(range(len(holes)), key=lambda n: (round(away[n], 6), angle[n]))
    if pattern == "centre":
        return tuple(left)
    order = [min(left, key=lambda n: (holes[n][1] + holes[n][0], n))]
    left.remove(order[0])
    while left:
        last = angle[order[-1]]
        across = {n: abs((angle[n] - last + pi) % (2 * pi) - pi) for n in left}
        near = {n: min(hypot(holes[n][0] - holes[k][0], holes[n][1] - holes[k][1]) for k in order) for n in left}
        order.append(max(left, key=lambda n: (round(across[n], 2), near[n])))
        left.remove(order[-1])
    return tuple(order)


def numbered(study: Study, photo: str, about: str = "", pattern: str = "crosswise") -> Study:
    """The callouts of a photo that stand at the holes of one group of screws (``about``, or the one with the most of
    them), labelled in the order to tighten in: "1 of 4". Raises BenchError where fewer than two holes are marked."""
    holes = [c for c in callouts_of(study, photo) if c.about in study.joints and study.joints[c.about].kind == "screw"]
    if not about and holes:
        groups = [c.about for c in holes]
        about = max(groups, key=groups.count)
    holes = [c for c in holes if c.about == about]
    if len(holes) < 2:
        raise BenchError(
            "Mark the holes on the photo first: select the screws, then add a callout at each hole (Ctrl+Shift+A)."
        )
    picture = study.photos[photo]
    order = tightening_order([(c.x * picture.width, c.y * picture.height) for c in holes], pattern)
    return put_all(study, [evolve(holes[n], label=f"{k} of {len(holes)}") for k, n in enumerate(order, 1)])
