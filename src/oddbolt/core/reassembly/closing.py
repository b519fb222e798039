"""Closing the case: nothing is refused, but what is open is said, and kept with who closed it."""

from __future__ import annotations

from attrs import evolve

from oddbolt.core.errors import ReachError
from oddbolt.core.reassembly.ledger import ledger
from oddbolt.core.reassembly.plan import BackStep
from oddbolt.core.reference.joint_kinds import ids_where
from oddbolt.core.safety import finals
from oddbolt.core.study import Closing, Finding, Step, Study, new_id, put, remove
from oddbolt.core.study.formatting import plural


def still_open(study: Study) -> tuple[str, ...]:
    """What is open, in words: lines of the ledger, screws left over, final checks not done or over their limit."""
    found = ledger(study)
    out = []
    for line in found.lines:
        if line.open:
            count = "" if line.out is None or line.sort == "part" or line.out == 1 else f"{line.out} of "
            out.append(f"{count}{line.name}" + (f" ({line.missing} missing)" if line.missing else ""))
    out += [f"{plural(len(found.unmatched), 'fastening')} without a group"] if found.unmatched else []
    out += [f"left over: {text}" for text in found.left_over]
    checks = finals(study)
    undone = sum(c.state == "open" for c in checks)
    out += [f"{plural(undone, 'final check')} not done"] if undone else []
    out += [f"{c.what}: {c.state}" for c in checks if c.state not in ("open", "done")]
    return tuple(out)


def close(study: Study, by: str, at: str, note: str = "") -> Study:
    """The study with the case closed by somebody at a time (ISO 8601), with what was open. Raises ReachError where
    nothing was ever undone."""
    if not ledger(study).lines:
        raise ReachError("Nothing was undone in this study; there is no case to close.")
    return put(study, Closing(new_id(study, "X"), by.strip(), at, "; ".join(still_open(study)), note))


def logged(study: Study, step: BackStep, count: int | None = None) -> Study:
    """The study with a step of the plan entered as done; ``count`` of its one group of fasteners where not all. What
    the plan says is to be renewed counts as renewed. Raises ReachError for a count that cannot be."""
    found = {line.id: line for line in ledger(study).lines}
    joints, parts = step.joints, tuple(p for p in step.parts if p in found and found[p].open)
    if count is not None:
        joints, count = _counted(study, step, count)
        parts = ()
    first = step.key != step.step
    verb = "clean" if first else "place" if parts else _verb(study, joints)
    made = Step(
        new_id(study, "S"),
        verb,
        said="; ".join(step.does),
        releases=joints,
        puts_in=parts,
        tool=step.tool,
        wait_s=step.wait_s,
        phase="back",
        isolates_power=step.power,
        face=step.face,
        does=step.key if count is None else "",
        count=count,
        renews=tuple(r for r in step.renew if r in joints or r in parts),
    )
    return put(study, made)


def left_out(study: Study, step: BackStep, why: str) -> Study:
    """The study with the parts and joints of a step left out on purpose. Raises ReachError without a reason."""
    if not why.strip():
        raise ReachError("Say why it stays out, like “not fitted in this variant”.")
    what = (*step.parts, *step.joints)
    made = Step(
        new_id(study, "S"),
        "leave out",
        said=f"left out: {', '.join(study.name(t) for t in what)}",
        phase="back",
        face=step.face,
        leaves=what,
        does=step.key,
        note=why.strip(),
    )
    return put(study, made)


def reported_missing(study: Study, joint_id: str, count: int) -> Study:
    """The study with so many screws of a group reported missing, 0 for found again. Raises ReachError for a count above
    what is out."""
    line = next((n for n in ledger(study).screws if n.id == joint_id), None)
    if line is None:
        raise ReachError("Only screws that were undone can be missing.")
    if count < 0 or (line.out is not None and count > line.out):
        raise ReachError(f"{study.name(joint_id)}: {line.out} are out, so {count} cannot be missing.")
    known = next((f for f in study.findings.values() if f.kind == "missing" and f.about == joint_id), None)
    text = f"{plural(count, 'screw')} missing: {study.name(joint_id)}"
    if known is not None:
        return put(study, evolve(known, value=float(count), text=text)) if count else remove(study, known.id)
    if not count:
        return study
    return put(study, Finding(new_id(study, "N"), "missing", text, joint_id, float(count)))


def _counted(study: Study, step: BackStep, count: int) -> tuple[tuple[str, ...], int | None]:
    """The one group that a partial count is of, and the count, None where that is all of it."""
    groups = [j for j in step.joints if study.joints[j].kind in ids_where("counted")]
    if len(groups) != 1:
        raise ReachError("A count goes with a step of one group; log the others first.")
    line = next((n for n in ledger(study).lines if n.id == groups[0]), None)
    if line is None or line.out is None:
        return (groups[0],), count
    if not 1 <= count <= line.out:
        raise ReachError(f"{study.name(groups[0])}: {line.out} are out, so {count} cannot go in.")
    return (groups[0],), None if count == line.out else count


def _verb(study: Study, joints: tuple[str, ...]) -> str:
    kinds = {study.joints[j].kind for j in joints}
    if kinds & ids_where("threaded"):
        return "fasten"
    return "connect" if kinds & ids_where("plug") or not kinds else "press"
