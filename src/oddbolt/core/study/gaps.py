"""What a careful reader of the record would still ask."""

from __future__ import annotations

from oddbolt.core.reference.joint_kinds import ids_where
from oddbolt.core.study.model import Study


def gaps(study: Study) -> list[str]:
    """Gaps of a study, one sentence each."""
    out = []
    released = {j for s in study.steps.values() if s.phase == "apart" for j in s.releases}
    taken = {p for s in study.steps.values() for p in s.takes_out}
    for id, joint in study.joints.items():
        name = study.name(id)
        if id not in released:
            out.append(f"{name} is recorded, but no step releases it.")
        if not joint.holds:
            out.append(f"Nobody said what {name} holds.")
        if joint.kind in ids_where("counted") and joint.count is None:
            out.append(f"{name} was not counted.")
        if joint.kind in ids_where("threaded") and not (joint.drive or joint.size):
            out.append(f"The drive of {name} is not known.")
        if joint.lengths == "mixed":
            out.append(f"{name} differ in length; nobody said which is how long.")
    for id, step in study.steps.items():
        if step.wait_s and not (step.softens or step.releases or step.takes_out or step.opens):
            out.append(f"{study.name(id)} waits, but names nothing that it softens or works on; it delays nothing.")
    for id, part in study.parts.items():
        if part.priority and not part.stays and id not in taken and not any(c in taken for c in study.carriers(id)):
            out.append(f"{part.name} is a priority part, but no step takes it out.")
    if (
        study.steps
        and not any(s.isolates_power for s in study.steps.values())
        and any(j.kind in ids_where("plug") for j in study.joints.values())
    ):
        out.append("Connectors are opened, but no step is marked as isolating the power.")
    return out
