"""The bill of materials of a device: what it is made of, nested as the parts carry each other, and its screws by kind.

Pieces of one module that do not differ in name, kind, variant, mass, reuse, marks, nor in what holds them are one line
with a count; a part that carries others stands on its own.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from itertools import groupby

from attrs import frozen

from oddbolt.core.fasteners.screw_mass import screw_mass_g
from oddbolt.core.reference.tables import screw_label
from oddbolt.core.study import Joint, Study

#: kinds of findings that say what a part is: what is marked on it, and what it is made for
MARKS = ("mark", "spec")


@frozen
class BillLine:
    """One line: the parts or groups of screws that it stands for (``ids``), how deep it lies (1: in the device itself),
    how many pieces, None where nobody counted. ``each_g`` is the mass of one piece, ``sum_g`` that of all; for a part
    that was not weighed but carries others, ``sum_g`` is theirs and ``whole`` says whether every one has a mass.
    ``held`` are the joints that hold a part, ``holds`` the parts that screws hold."""

    ids: tuple[str, ...]
    level: int
    screws: bool
    name: str
    kind: str
    count: int | None
    marks: tuple[str, ...]
    each_g: float | None
    sum_g: float | None
    whole: bool
    held: tuple[str, ...]
    holds: tuple[str, ...]
    reuse: str
    variant: str

    @property
    def basis(self) -> str:
        """Where ``sum_g`` comes from: weighed, computed (screws, from their figures), the sum of what it carries,
        or a part of that sum, so that the part weighs at least as much; empty without a mass."""
        if self.sum_g is None:
            return ""
        if self.screws:
            return "computed"
        return "weighed" if self.each_g is not None else "sum" if self.whole else "at least"


def bill_of_materials(study: Study) -> tuple[BillLine, ...]:
    """The parts from the outermost inwards, a part before what it carries; after them the screws by kind."""
    inside: dict[str, list[str]] = {}
    for id, part in study.parts.items():
        inside.setdefault(part.inside if part.inside in study.parts else "", []).append(id)
    marks: dict[str, list[str]] = {id: list(part.markings) for id, part in study.parts.items() if part.markings}
    for finding in study.findings.values():
        if finding.kind in MARKS:
            marks.setdefault(finding.about, []).append(finding.text)
    held: dict[str, list[str]] = {}
    for joint in study.joints.values():
        for id in joint.holds:
            held.setdefault(id, []).append(study.name(joint.id))
    masses = _masses(study, inside)
    lines: list[BillLine] = []
    waiting = [(ids, 1) for ids in reversed(_alike(study, inside.get("", ()), inside, marks, held))]
    while waiting:
        ids, level = waiting.pop()
        part = study.parts[ids[0]]
        total, whole = masses[part.id]
        lines.append(
            BillLine(
                ids,
                level,
                False,
                part.name,
                part.kind,
                len(ids),
                tuple(marks.get(part.id, ())),
                part.mass_g,
                None if total is None else total * len(ids),
                whole,
                tuple(held.get(part.id, ())),
                (),
                part.reuse,
                part.variant,
            )
        )
        carried = _alike(study, inside.get(part.id, ()), inside, marks, held)
        waiting += [(group, level + 1) for group in reversed(carried)]
    return (*lines, *_screws(study))


def _alike(
    study: Study,
    pieces: Sequence[str],
    inside: Mapping[str, list[str]],
    marks: Mapping[str, list[str]],
    held: Mapping[str, list[str]],
) -> list[tuple[str, ...]]:
    """The pieces of one module, those that do not differ together."""
    alike: dict[tuple[object, ...], list[str]] = {}
    for id in pieces:
        part = study.parts[id]
        told = (tuple(marks.get(id, ())), tuple(held.get(id, ())))
        key = (id if id in inside else "", part.name, part.kind, part.variant, part.mass_g, part.reuse, told)
        alike.setdefault(key, []).append(id)
    return [tuple(ids) for ids in alike.values()]


def _masses(study: Study, inside: Mapping[str, list[str]]) -> dict[str, tuple[float | None, bool]]:
    """What each part weighs, g: itself, or else what it carries together; and whether nothing of that is missing."""
    out: dict[str, tuple[float | None, bool]] = {}
    outermost_first = list(inside.get("", ()))
    for id in outermost_first:
        outermost_first += inside.get(id, ())
    for id in reversed(outermost_first):
        own = study.parts[id].mass_g
        found = [out[child] for child in inside.get(id, ())]
        known = [mass for mass, _ in found if mass is not None]
        if own is not None:
            out[id] = own, True
        else:
            out[id] = (sum(known), all(whole for _, whole in found)) if known else (None, False)
    return out


def _screws(study: Study) -> Iterator[BillLine]:
    """All screws, those of one kind together."""
    screws = sorted((j for j in study.joints.values() if j.kind == "screw"), key=_kind)
    for _, group in groupby(screws, key=_kind):
        joints = list(group)
        one = joints[0]
        counts = [joint.count for joint in joints]
        count = None if None in counts else sum(c for c in counts if c is not None)
        # groups whose screws differ in length ("two 6.0") have no mass of one piece
        each = None if one.lengths else screw_mass_g(one)
        length = one.lengths or ("" if one.length_mm is None else f"{one.length_mm:g} mm")
        drive = screw_label(one.drive, one.size) if one.drive else ""
        figures = [one.thread, length, drive, one.head, one.finish]
        parts = list(dict.fromkeys(study.name(p) for joint in joints for p in joint.holds))
        yield BillLine(
            tuple(joint.id for joint in joints),
            1,
            True,
            "Screw " + (", ".join(filter(None, figures)) or "of unknown size"),
            "screw",
            count,
            (),
            each,
            None if each is None or count is None else each * count,
            count is not None and each is not None,
            (),
            tuple(parts),
            one.reuse,
            "",
        )


def _kind(joint: Joint) -> tuple[str, float, str, str, str, str, float, str, str]:
    return (
        joint.thread,
        joint.length_mm or 0.0,
        joint.lengths,
        joint.drive,
        joint.size,
        joint.head,
        joint.head_mm or 0.0,
        joint.finish,
        joint.reuse,
    )
