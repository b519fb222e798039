"""Whether the masses add up: every module against the sum of what it carries, the device against all.

A mass is off by the scale's step and a share of itself; the errors of a sum add in squares (Gauss). Where everything
that a module carries was weighed, the masses are adjusted together by least squares so that they add up, and the one
that had to give most is named.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from attrs import frozen

from oddbolt.core.errors import BenchError
from oddbolt.core.fasteners.screw_mass import screw_mass_g
from oddbolt.core.study import Part, Study
from oddbolt.core.study.formatting import plural

#: the step of a bench scale, g, and how far it may be off as a share (common practice, no source)
STEP_G, SHARE = 0.1, 0.002
#: a gap is one beyond so many standard deviations, and beyond what rounding alone may come to
SURE = 2.5
#: kinds of parts that are nothing but what they carry; any other has a body of its own
WHOLE_KINDS = frozenset({"module", "assembly", "unit"})
#: how far computed masses of screws may be off, as a share
SCREWS_OFF = 0.15


@frozen
class Balance:
    """One module, or the device (``id`` ""): its mass, the sum of what it carries (for the device with the screws), how
    far the difference may be off, the parts in it that nobody weighed, and what that comes to in words."""

    id: str
    name: str
    mass_g: float
    sum_g: float
    off_g: float
    unweighed: tuple[str, ...]
    adds_up: bool
    sentence: str

    @property
    def gap_g(self) -> float:
        """What is not accounted for; below 0: counted too much."""
        return self.mass_g - self.sum_g


@frozen
class MassBalance:
    """All modules and the device that were weighed, the worst first; masses by kind of part and by material; and the
    weighings that would settle most, in order."""

    lines: tuple[Balance, ...]
    by_kind: tuple[tuple[str, float], ...]
    by_material: tuple[tuple[str, float], ...]
    weigh: tuple[str, ...]


def balance(study: Study, step_g: float = STEP_G) -> MassBalance:
    """The balance of a study; ``step_g`` is the step of the scale, g. Raises BenchError where nothing was weighed, or
    for a step that no scale has."""
    if not 1e-4 <= step_g <= 1000:
        raise BenchError(f"A scale has a step of 0.0001 to 1000 g, not {step_g:g}.")
    inside: dict[str, list[str]] = {}
    for id, part in study.parts.items():
        inside.setdefault(part.inside, []).append(id)
    lines = [_line(study, id, inside, step_g) for id in inside if id and study.parts[id].mass_g is not None]
    if study.device.mass_g is not None:
        lines.append(_line(study, "", inside, step_g))
    if not lines:
        raise BenchError("No module was weighed together with what it carries, nor the device: nothing to add up.")
    lines.sort(key=lambda line: (line.adds_up, -abs(line.gap_g) / max(line.off_g, 1e-9)))
    kinds: dict[str, float] = {}
    materials: dict[str, float] = {}
    for id, part in study.parts.items():
        if part.mass_g is not None and id not in inside:
            for of, word in ((kinds, part.kind or "no kind"), (materials, part.material or "not stated")):
                of[word] = of.get(word, 0.0) + part.mass_g
    by_kind, by_material = (tuple(sorted(of.items(), key=lambda row: -row[1])) for of in (kinds, materials))
    wanted = [p for line in lines if not line.adds_up and line.gap_g > 0 for p in line.unweighed]
    wanted += [p for line in lines for p in line.unweighed]
    return MassBalance(tuple(lines), by_kind, by_material, tuple(dict.fromkeys(wanted)))


def adjusted(whole_g: float, parts_g: Sequence[float], step_g: float = STEP_G) -> tuple[float, ...]:
    """The whole and its parts changed as little as their errors allow so that they add up: least squares with the sum
    as a condition (Gauss). The first figure is the whole."""
    masses = np.array([whole_g, *parts_g])
    weight = np.array([_off(m, step_g) ** 2 for m in masses])
    sign = np.array([1.0, *[-1.0] * len(parts_g)])
    gap = float(sign @ masses)
    out = masses - weight * sign * gap / float(sign**2 @ weight)
    return tuple(float(v) for v in out)


def _off(mass_g: float, step_g: float) -> float:
    """One standard deviation of a mass, g: that of a step rounded off, and the scale's share."""
    return float(np.hypot(step_g / np.sqrt(12), SHARE * mass_g))


def _off_of(part: Part, step_g: float) -> float:
    """The same of a part: what somebody said of its mass, else what the scale gives."""
    return part.mass_off_g if part.mass_off_g is not None else _off(part.mass_g or 0.0, step_g)


def _line(study: Study, id: str, inside: dict[str, list[str]], step_g: float) -> Balance:
    mass = study.device.mass_g if not id else study.parts[id].mass_g
    assert mass is not None
    carried: list[str] = []
    missing: list[str] = []
    _carried(study, id, inside, carried, missing)
    weighed = [study.parts[p].mass_g or 0.0 for p in carried]
    whole_off = _off(mass, step_g) if not id else _off_of(study.parts[id], step_g)
    total = sum(weighed)
    variance = whole_off**2 + sum(_off_of(study.parts[p], step_g) ** 2 for p in carried)
    if not id:
        screws, uncounted = _screws(study)
        total += screws
        variance += (SCREWS_OFF * screws) ** 2
    else:
        uncounted = 0
    off = max(float(np.sqrt(variance)), (len(weighed) + 1) * step_g / 2 / SURE + 1e-9)
    gap = mass - total
    body = bool(id) and study.parts[id].kind not in WHOLE_KINDS and gap > 0
    adds_up = body or abs(gap) <= SURE * off
    name = study.name(id) if id else study.device.name
    words = f"{gap:.1f} g are its own" + (f" and that of {plural(len(missing), 'part')} not weighed" if missing else "")
    words = words if body else _told(study, mass, gap, off, missing, weighed, uncounted, step_g)
    return Balance(id, name, mass, total, off, tuple(missing), adds_up, f"{name}: {words}")


def _carried(study: Study, id: str, inside: dict[str, list[str]], weighed: list[str], missing: list[str]) -> None:
    """What of a module carries, a module in it as a whole where it was weighed."""
    waiting = list(reversed(inside.get(id, ())))
    while waiting:
        child = waiting.pop()
        mass = study.parts[child].mass_g
        if mass is not None:
            weighed.append(child)
        elif child in inside:
            waiting += reversed(inside[child])
        else:
            missing.append(child)


def _screws(study: Study) -> tuple[float, int]:
    """What all screws weigh together, g, and how many groups that is not known of."""
    total, unknown = 0.0, 0
    for joint in study.joints.values():
        if joint.kind == "screw":
            each = screw_mass_g(joint)
            total += (each or 0.0) * (joint.count or 0)
            unknown += each is None or joint.count is None
    return total, unknown


def _told(
    study: Study,
    mass: float,
    gap: float,
    off: float,
    missing: list[str],
    weighed: list[float],
    uncounted: int,
    step_g: float,
) -> str:
    """What a difference comes to, in words."""
    names = ", ".join(study.name(p) for p in missing[:4]) + (" …" if len(missing) > 4 else "")
    spare = f" and {plural(uncounted, 'group')} of screws of unknown size" if uncounted else ""
    if abs(gap) <= SURE * off:
        left = f"; nothing left for {names}" if missing else ""
        return f"adds up within {SURE * off:.1f} g{left}"
    if gap > 0 and missing:
        return f"{gap:.1f} g are left for {names}{spare}, or for a part that is not recorded"
    if gap > 0:
        return f"{gap:.1f} g are not accounted for{f'; perhaps {spare[5:]}' if spare else ''}: a part is not recorded"
    twice = [p for p, part in study.parts.items() if part.mass_g and abs(part.mass_g + gap) <= SURE * off]
    if twice:
        return f"{-gap:.1f} g too much: {', '.join(study.name(p) for p in twice[:2])} counted twice?"
    worst = adjusted(mass, weighed, step_g)
    moved = max(zip(worst[1:], weighed, strict=True), key=lambda pair: abs(pair[0] - pair[1]), default=(0.0, 0.0))
    return f"{-gap:.1f} g too much; weigh the one of {moved[1]:g} g again"
