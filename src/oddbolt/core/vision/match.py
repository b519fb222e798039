"""What was found on the mat held against the screws of a study: which group each is, what is missing or too much."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

import numpy as np
from attrs import evolve, frozen
from scipy.optimize import linear_sum_assignment

from oddbolt.core.errors import VisionError
from oddbolt.core.reference.tables import thread_of
from oddbolt.core.study import Joint, Step, Study, new_id, put
from oddbolt.core.study.formatting import plural
from oddbolt.core.vision.scan import Scan
from oddbolt.core.vision.screw_fit import Lying

#: how far a screw may be off and still be of a group, one standard deviation, mm: length, head, thread
OFF_MM = (0.15, 0.35, 0.3)
#: a screw stands in for another if it is so much off in length, mm
ODD_MM = (0.25, 2.6)
#: so many of a kind are told one by one in the sentence
TOLD = 3
#: a screw this unlike every group is of none (sum of squares)
UNLIKE = 14.0


@frozen
class Match:
    """``of`` gives for each screw found (by its place among them) the joint it is of, "" for none; ``missing`` how many
    of each joint are not there; ``swapped`` pairs a screw that is in no group with the group it may stand in for."""

    of: tuple[tuple[int, str], ...]
    found: int
    wanted: int
    missing: tuple[tuple[str, int], ...]
    swapped: tuple[tuple[int, str], ...]
    sentence: str

    def json(self) -> dict[str, object]:
        """In plain types."""
        return {
            "found": self.found,
            "wanted": self.wanted,
            "missing": dict(self.missing),
            "swapped": [{"screw": n, "joint": j} for n, j in self.swapped],
            "sentence": self.sentence,
        }


def matched(study: Study, scan: Scan, parts: Sequence[str] = ()) -> Match:
    """Hold the screws found against the groups of the study, or of those that hold ``parts`` (least squares assignment,
    Kuhn 1955). Raises VisionError if the study has no screws to hold them against."""
    groups = [j for j in study.joints.values() if j.kind == "screw" and (not parts or set(parts) & {*j.holds, j.into})]
    if not groups:
        raise VisionError("There are no screws in the study to compare with.")
    screws = [t.screw for t in scan.things if t.screw is not None]
    slots = [j for j in groups for _ in range(len(screws) if j.count is None else j.count)]
    cost = np.array([[min(_unlike(s, j), 3 * UNLIKE) for j in slots] for s in screws]).reshape(len(screws), len(slots))
    wide = np.hstack([cost, np.full((len(screws), len(screws)), UNLIKE)])
    of = dict.fromkeys(range(len(screws)), "")
    if screws:
        for n, k in zip(*linear_sum_assignment(wide), strict=True):
            if k < len(slots):
                of[int(n)] = slots[int(k)].id
    held = {j.id: sum(v == j.id for v in of.values()) for j in groups}
    missing = tuple((j.id, j.count - held[j.id]) for j in groups if j.count is not None and held[j.id] < j.count)
    swapped, free = [], dict(missing)
    for n in (n for n, j in of.items() if not j):
        near = sorted((gap, j) for j, left in free.items() if left and (gap := _stand_in(screws[n], study.joints[j])))
        if near:
            swapped.append((n, near[0][1]))
            free[near[0][1]] -= 1
    found = sum(bool(j) for j in of.values())
    wanted = sum(j.count or held[j.id] for j in groups)
    return Match(
        tuple(of.items()),
        found,
        wanted,
        missing,
        tuple(swapped),
        _sentence(study, screws, of, found, wanted, swapped, free),
    )


def lying(match: Match) -> dict[str, int]:
    """How many screws of each group lie there."""
    return dict(Counter(joint for _, joint in match.of if joint))


def _stand_in(screw: Lying, joint: Joint) -> float:
    """How far off in length a screw is that could go where the group's belong, mm; 0 if it could not."""
    if joint.length_mm is None:
        return 0.0
    gap = abs(screw.length_mm - joint.length_mm)
    thread = thread_of(joint.thread) if joint.thread else None
    fits = thread is None or abs(screw.shank_mm - thread.diameter_mm) < 2 * OFF_MM[2]
    return gap if fits and ODD_MM[0] <= gap <= ODD_MM[1] else 0.0


def _unlike(screw: Lying, joint: Joint) -> float:
    """How unlike a screw and a group are: the sum of squares of what both are known by."""
    total = 0.0
    if joint.length_mm is not None:
        total += ((screw.length_mm - joint.length_mm) / OFF_MM[0]) ** 2
    if joint.head_mm is not None:
        total += ((screw.head_mm - joint.head_mm) / OFF_MM[1]) ** 2
    thread = thread_of(joint.thread) if joint.thread else None
    if thread is not None:
        total += ((screw.shank_mm - thread.diameter_mm) / OFF_MM[2]) ** 2
    if joint.length_mm is None:
        total += UNLIKE / 2 if thread is not None else 3 * UNLIKE  # a group known by neither takes nothing
    return total


def _sentence(
    study: Study,
    screws: list[Lying],
    of: dict[int, str],
    found: int,
    wanted: int,
    swapped: list[tuple[int, str]],
    free: dict[str, int],
) -> str:
    if 2 * found < len(screws):
        return f"{found} of these {len(screws)} are of the {wanted} screws of the study."
    said = [f"{found} of {wanted}"]
    odd = Counter((round(screws[n].length_mm, 1), study.joints[j].length_mm or 0.0) for n, j in swapped)
    for (there, belongs), count in odd.most_common(TOLD):
        many = f"one of {there:.1f} mm" if count == 1 else f"{count} of {there:.1f} mm"
        said.append(f"{many} where {belongs:g} mm belong{'s' if count == 1 else ''}")
    gone = sorted(((left, joint) for joint, left in free.items() if left), reverse=True)
    said += [f"{left} missing: {study.name(joint)}" for left, joint in gone[:TOLD]]
    if gone[TOLD:]:
        said.append(f"{sum(left for left, _ in gone[TOLD:])} more missing, of {plural(len(gone) - TOLD, 'group')}")
    extra = sum(not j for j in of.values()) - len(swapped)
    if extra:
        said.append(f"{plural(extra, 'screw')} in no group")
    return "; ".join(said) + "."


def entered(study: Study, scan: Scan, match: Match | None) -> Study:
    """The study with the scan's groups entered: a group that is of a joint gives it the length it lacks, one that is
    of none becomes screws and a step of their own. Raises VisionError if nothing was counted."""
    if not scan.screws:
        raise VisionError("There are no screws on the photo to add.")
    of = dict(match.of) if match else {}
    for k, group in enumerate(scan.groups):
        joints = {of.get(n, "") for n, t in enumerate(scan.screws) if t.group == k}
        loose = sum(not of.get(n, "") for n, t in enumerate(scan.screws) if t.group == k)
        for id in joints - {""}:
            joint = study.joints[id]
            if joint.length_mm is None:
                study = put(study, evolve(joint, length_mm=round(group.length_mm, 1)))
        if not loose:
            continue
        head, long = round(group.head_mm, 1), round(group.length_mm, 1)
        one = Joint(new_id(study, "J"), "screw", count=loose, length_mm=long, head_mm=head)
        study = put(study, one)
        face = next(reversed(study.steps.values())).face if study.steps else "front"
        said = f"{plural(loose, 'screw')} of {long:g} mm, counted on a photo"
        study = put(study, Step(new_id(study, "S"), "unscrew", said=said, releases=(one.id,), face=face))
    return study


def told(scan: Scan, match: Match | None) -> list[str]:
    """The scan in words, a line each."""
    others = [t for t in scan.things if t.screw is None]
    lines = [f"{plural(len(scan.screws), 'screw')} in {plural(len(scan.groups), 'group')}."]
    lines += [
        f"{g.count:3d} × {g.length_mm:.2f} mm  head {g.head_mm:.1f}, shank {g.shank_mm:.1f}, {g.shape}"
        for g in scan.groups
    ]
    lines += [f"Not counted at {t.x_mm:.0f}, {t.y_mm:.0f} mm: {t.why_not}." for t in others]
    return [*lines, *([match.sentence] if match else [])]
