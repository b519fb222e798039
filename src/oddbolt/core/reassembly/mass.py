"""The device weighed before and after: what a difference may be, told by the masses of parts and screws.

A screw's mass is that of its shank and head in steel, good to some per cent: enough to tell how many are missing.
"""

from __future__ import annotations

from attrs import frozen

from oddbolt.core.errors import ReachError
from oddbolt.core.fasteners.screw_mass import screw_mass_g
from oddbolt.core.reassembly.ledger import ledger
from oddbolt.core.study.formatting import plural
from oddbolt.core.study.model import Study

#: how far a computed screw may be off, as a share
SCREW_OFF = 0.15
#: so many ways to explain a difference are told
MOST = 5


@frozen
class Reason:
    """One way to explain a difference: what, its mass in g, and whether the ledger already counts it as open."""

    what: str
    mass_g: float
    open: bool


@frozen
class MassCheck:
    """``gap_g``: the mass after, less what is expected; ``within`` whether that lies within the scale's error; ``ways``
    that would explain it, the likeliest first."""

    before_g: float
    expected_g: float
    after_g: float
    gap_g: float
    within: bool
    ways: tuple[Reason, ...]
    sentence: str


def mass_check(study: Study, after_g: float, off_g: float = 0.1) -> MassCheck:
    """Hold the mass after putting back (g, off by ``off_g``) against that before.

    Raises ReachError if the device was not weighed before, or for a mass that cannot be.
    """
    before = study.device.mass_g
    if before is None:
        raise ReachError("The device was not weighed before: enter its mass with the device.")
    if after_g <= 0 or off_g < 0:
        raise ReachError(f"A mass of {after_g:g} g is not possible.")
    found = ledger(study)
    out = [study.parts[line.id].mass_g or 0.0 for line in found.parts if line.left]
    expected = before - sum(out)
    gap = after_g - expected
    within = abs(gap) <= 2 * off_g
    ways = () if within else tuple(_ways(study, gap, off_g)[:MOST])
    size = f"{abs(gap):.1f} g {'lighter' if gap < 0 else 'heavier'} than expected"
    if within:
        told = f"The mass is as before, within {2 * off_g:.1f} g."
    elif ways:
        told = f"{size}: about " + ", or ".join(w.what for w in ways[:3]) + "."
    else:
        told = f"{size}; no recorded part or group of screws explains it."
    return MassCheck(before, expected, after_g, gap, within, ways, told)


def _ways(study: Study, gap: float, off_g: float) -> list[Reason]:
    """What would explain a difference: one part, or some screws of one group; what is open by the ledger first."""
    found = ledger(study)
    still = {line.id for line in found.lines if line.open}
    size, near = abs(gap), 2 * off_g
    out: list[tuple[float, Reason]] = []
    for line in found.parts:
        mass = study.parts[line.id].mass_g
        if mass and abs(mass - size) <= near:
            name = line.name if gap < 0 else f"a second {line.name}"
            out.append((abs(mass - size), Reason(name, mass, line.id in still)))
    for line in found.screws:
        each = screw_mass_g(study.joints[line.id])
        if each is None:
            continue
        count = round(size / each)
        limit = near + SCREW_OFF * size
        if 1 <= count <= (line.taken or count) and abs(count * each - size) <= limit:
            out.append(
                (
                    abs(count * each - size),
                    Reason(f"{plural(count, 'screw')} of {line.name}", count * each, line.id in still),
                )
            )
    out.sort(key=lambda row: (not row[1].open, row[0]))
    return [reason for _, reason in out]
