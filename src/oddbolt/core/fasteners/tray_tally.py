"""What lies in the tray: the label of a compartment, and screws ticked off as they go in and come out."""

from __future__ import annotations

from attrs import evolve

from oddbolt.core.errors import BenchError
from oddbolt.core.reference.tables import screw_label
from oddbolt.core.study import Joint, Study, put
from oddbolt.core.study.formatting import plural


def step_of(study: Study) -> dict[str, int]:
    """The number of the step, from 1, that a joint was released in."""
    return {j: n for n, s in enumerate(study.steps.values(), 1) if s.phase == "apart" for j in s.releases}


def label(study: Study, joint: Joint) -> tuple[str, str, str, str]:
    """The lines of a compartment's label: how many of what, thread and length, where from, in which step."""
    count = "?" if joint.count is None else str(joint.count)
    figures = " ".join(filter(None, (joint.thread, f"× {joint.length_mm:g}" if joint.length_mm else "")))
    held = study.parts[joint.holds[0]].name if joint.holds and not joint.name else study.name(joint.id)
    step = step_of(study).get(joint.id)
    size = joint.size or screw_label(joint.drive, joint.size)
    return f"{count} × {size}", figures or joint.finish, held, f"step {step}" if step else ""


def lying(joint: Joint) -> int | None:
    """How many screws of a group lie in the tray; None where nobody ticked."""
    return None if joint.laid is None else joint.laid - (joint.taken or 0)


def with_lying(study: Study, id: str, count: int) -> Study:
    """So many screws of a group lie in the tray now: more than before were laid in, fewer were taken out again.

    Raises BenchError for more than there are or for what is no screw.
    """
    joint = study.joints[id]
    if joint.kind != "screw":
        raise BenchError(f"{study.name(id)} is not a screw; only screws go in the tray.")
    taken = joint.taken or 0
    have = lying(joint) or 0
    if count < 0 or (joint.count is not None and taken + count > joint.count and count > have):
        raise BenchError(f"{study.name(id)} are {joint.count} in all, and {taken} were taken out again.")
    laid = max(joint.laid or 0, taken + count)
    return put(study, evolve(joint, laid=laid, taken=laid - count or None))


def ticked(study: Study, id: str) -> Study:
    """The next thing ticked off: all are laid in, then all are taken out again, then as if nobody had ticked."""
    joint = study.joints[id]
    if joint.kind == "screw" and joint.laid is not None and not lying(joint):
        return put(study, evolve(joint, laid=None, taken=None))
    if joint.count is None:
        raise BenchError(f"How many {study.name(id)} are was never counted; type the number that lies in the tray.")
    if (joint.laid or 0) < joint.count and not joint.taken:
        return with_lying(study, id, joint.count)
    return with_lying(study, id, 0)


def in_words(joint: Joint) -> str:
    """What was ticked off of a group: "3 of 4 in", "2 of 4 out again", "all 4 out again"; "" for nothing."""
    if joint.laid is None:
        return ""
    of = "?" if joint.count is None else joint.count
    if joint.taken:
        return f"all {joint.taken} out again" if joint.taken == joint.count else f"{joint.taken} of {of} out again"
    return f"all {joint.laid} in" if joint.laid == joint.count else f"{joint.laid} of {of} in"


def ticks(study: Study) -> str:
    """What the tray holds, in words, and which groups are short; "" where nobody ticked."""
    marked = [j for j in study.joints.values() if j.laid is not None]
    if not marked:
        return ""
    now = sum(lying(j) or 0 for j in marked)
    short = [f"{j.count - (j.laid or 0)} of {study.name(j.id)}" for j in marked if j.count and j.count > (j.laid or 0)]
    left = [f"{lying(j)} of {study.name(j.id)}" for j in marked if j.taken and lying(j)]
    words = f"{plural(now, 'screw')} in the tray"
    for found, said in ((short, "never laid in"), (left, "still there of those taken out")):
        if found:
            words += f"; {said}: {', '.join(found)}"
    if not now and not short:
        words = "The tray is empty: every screw checked in came out"
    return words + "."
