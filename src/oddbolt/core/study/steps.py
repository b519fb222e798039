"""Work on the recorded steps: moved, split, joined, said again, changed together, searched."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from functools import lru_cache
from typing import Any

from attrs import evolve

from oddbolt.core.errors import StudyError
from oddbolt.core.reference.tables import drives
from oddbolt.core.study.edits import change, lap, new_id, put, put_all, remove, renumber
from oddbolt.core.study.model import Joint, Part, Step, Study
from oddbolt.core.study.screw_lengths import with_lengths

#: what a step does to things, in the order in which it is done
DONE = ("softens", "releases", "opens", "takes_out", "puts_in")
#: its hand work as somebody told it: at the quickest, usually, at the slowest
TOLD = ("least_s", "likely_s", "most_s")


def things_of(step: Step) -> tuple[tuple[str, str], ...]:
    """What a step does, in order: pairs of a field of :data:`DONE` and the id of a part or joint."""
    return tuple((field, id) for field in DONE for id in getattr(step, field))


def moved(study: Study, ids: Sequence[str], by: int) -> Study:
    """Steps moved together by so many places towards the end (or, below zero, the beginning), as far as there are any.

    Their order among themselves stays. Nothing forbids an order that cannot be worked in.
    """
    order = list(study.steps)
    for _ in range(abs(by)):
        at = sorted(order.index(id) for id in ids)
        if not at or (at[-1] + 1 >= len(order) if by > 0 else at[0] == 0):
            break
        for n in reversed(at) if by > 0 else at:
            other = n + (1 if by > 0 else -1)
            order[n], order[other] = order[other], order[n]
    return renumber(study, order)


def split(study: Study, id: str) -> tuple[Study, str]:
    """The last thing a step does becomes a step of its own after it; the seconds of its laps are shared out by the
    number of things. Returns the new step's id. Raises StudyError for a step that does one thing only."""
    step = _step(study, id)
    things = things_of(step)
    if len(things) < 2:
        raise StudyError(f"{study.name(id).capitalize()} has only one action; nothing to split off.")
    field, last = things[-1]
    kept: tuple[str, ...] = tuple(x for x in getattr(step, field) if x != last)
    alone: dict[str, Any] = dict.fromkeys(DONE, ())
    alone[field] = (last,)
    new = new_id(study, "S")
    verb = {"takes_out": "take out", "opens": "open", "softens": "soften"}.get(field, step.verb)
    handled = field in ("takes_out", "opens")
    tool = "" if handled and any(f not in ("takes_out", "opens") for f, _ in things) else step.tool
    share = 1 / len(things)
    told = [None if t is None else round(t * share, 1) for t in _told(step)]
    alone |= dict(zip(TOLD, told, strict=True))
    made = evolve(step, id=new, verb=verb, said="", tool=tool, cautions=(), note="", destroys=False, **alone)
    fewer: dict[str, Any] = {field: kept}
    fewer |= {f: None if t is None else round(t * (1 - share), 1) for f, t in zip(TOLD, _told(step), strict=True)}
    follower = _after(study, id)
    study = put(put(study, evolve(step, **fewer)), made, before=follower)
    for run in list(study.runs.values()):
        took = next((one for one in run.laps if one.step == id), None)
        if took is not None:
            study = lap(study, run.id, id, round(took.seconds * (1 - share), 1))
            study = lap(study, run.id, new, round(took.seconds * share, 1), took.ended)
    return study, new


def joined(study: Study, first: str, second: str) -> Study:
    """Two steps as one in the first's place: it does what both did and took what both took; what was tied to the
    second is tied to it. Raises StudyError where they are the same or of different phases."""
    one, other = _step(study, first), _step(study, second)
    if first == second or one.phase != other.phase:
        raise StudyError("Only two different steps of the same phase can be merged.")
    both: dict[str, Any] = {f: tuple(dict.fromkeys((*getattr(one, f), *getattr(other, f)))) for f in DONE}
    for field, a, b in zip(TOLD, _told(one), _told(other), strict=True):
        both[field] = None if a is None or b is None else a + b
    said = "; ".join(s.rstrip(". ") for s in (one.said, other.said) if s)
    made = evolve(
        one,
        said=said,
        tool=one.tool or other.tool,
        wait_s=max(one.wait_s, other.wait_s),
        isolates_power=one.isolates_power or other.isolates_power,
        destroys=one.destroys or other.destroys,
        cautions=tuple(dict.fromkeys((*one.cautions, *other.cautions))),
        note="; ".join(n for n in (one.note, other.note) if n),
        **both,
    )
    tied = [
        evolve(thing, **{field: first})
        for table, field in (("findings", "about"), ("photos", "step"), ("callouts", "about"), ("facts", "step"),
                             ("facts", "under"), ("waits", "step"), ("sums", "about"))
        for thing in getattr(study, table).values()
        if getattr(thing, field) == second
    ]  # fmt: skip
    study = put_all(study, [made, *tied])
    for run in list(study.runs.values()):
        took = {one.step: one for one in run.laps}
        if second in took:
            before = took[first].seconds if first in took else 0.0
            study = lap(study, run.id, first, round(before + took[second].seconds, 1), took[second].ended)
    return remove(study, second)


def without_idle(study: Study, ids: Iterable[str]) -> Study:
    """The study without those of these steps that do nothing. The first of all stays, since the device lies on its
    face to begin with."""
    first = next((s.id for s in study.steps.values() if s.phase == "apart"), "")
    for id in ids:
        step = study.steps[id]
        if not things_of(step) and not step.isolates_power and id != first:
            study = remove(study, id)
    return study


def without_parts(study: Study, absent: Iterable[str]) -> Study:
    """The study as if these parts had not been in the device: what holds nothing else goes, and steps that have nothing
    left to do."""
    gone = set(absent)
    if not gone:
        return study
    joints = [j.id for j in study.joints.values() if j.holds and gone.issuperset(j.holds)]
    touched = [s.id for s in study.steps.values() if any(x in gone or x in joints for _, x in things_of(s))]
    for id in (*joints, *gone):
        study = remove(study, id)
    return without_idle(study, touched)


def another_way(study: Study, id: str) -> tuple[Study, str]:
    """A second step after this one that does the same: another way to it, any of which will do. And its id."""
    step = _step(study, id)
    new = new_id(study, "S")
    made = evolve(step, id=new, said="", note="", cautions=())
    return put(study, made, before=_after(study, id)), new


def same_again(study: Study, id: str) -> tuple[Study, str]:
    """The same once more on things of their own: a step after this one with copies of its joints and parts, the parts
    numbered on ("Foot", "Foot 2"). And its id."""
    step = _step(study, id)
    copies: dict[str, str] = {}
    wanted = {x for _, x in things_of(step)}
    held = {p for x in wanted if x in study.joints for p in study.joints[x].holds if p in wanted}
    for old in [x for x in study.parts if x in wanted or x in held]:
        new = new_id(study, "P")
        study = put(study, evolve(study.parts[old], id=new, name=_numbered(study, study.parts[old].name)))
        copies[old] = new
    for old in [x for x in study.joints if x in wanted]:
        joint = study.joints[old]
        new = new_id(study, "J")
        name = _numbered(study, joint.name, "J") if joint.name else ""
        holds = tuple(copies.get(p, p) for p in joint.holds)
        study = put(study, evolve(joint, id=new, name=name, holds=holds, into=copies.get(joint.into, joint.into)))
        copies[old] = new
    new = new_id(study, "S")
    done: dict[str, Any] = {f: tuple(copies[x] for x in getattr(step, f)) for f in DONE}
    return put(study, evolve(step, id=new, said="", note="", **done), before=_after(study, id)), new


def changed_all(study: Study, ids: Iterable[str], **fields: Any) -> Study:
    """The same fields changed of several things."""
    for id in ids:
        study = change(study, id, **fields)
    return study


def alternatives(study: Study, id: str) -> list[str]:
    """Other steps that release the same joint or take out the same part: any of them will do."""
    step, ways = _step(study, id), _ways(study)
    others = [other for x in (*step.releases, *step.takes_out) for other in ways[step.phase, x] if other != id]
    return list(dict.fromkeys(others))


@lru_cache(maxsize=4)
def _ways(study: Study) -> dict[tuple[str, str], list[str]]:
    """(phase, joint or part) -> the steps that release it or take it out, in order."""
    out: dict[tuple[str, str], list[str]] = {}
    for id, step in study.steps.items():
        for x in (*step.releases, *step.takes_out):
            out.setdefault((step.phase, x), []).append(id)
    return out


def variant_of(study: Study, id: str) -> str:
    """The variant of the device that a step is for alone, told by the parts it works on; "" if for all."""
    step = _step(study, id)
    parts = {*step.takes_out, *step.opens, *(p for j in (*step.releases, *step.softens) for p in study.joints[j].holds)}
    found = {study.parts[p].variant for p in parts}
    return found.pop() if len(found) == 1 else ""


def search(study: Study, words: str) -> list[str]:
    """The steps in which every one of these words occurs: in what was said, done, used or noted, or in the figures of
    its joints. A number finds the step of that number first."""
    wanted = words.casefold().split()
    if not wanted:
        return []
    ids = list(study.steps)
    number = ids[int(words) - 1] if words.strip().isdecimal() and 1 <= int(words) <= len(ids) else ""
    found = [id for id in ids if id != number and all(w in _text(study, id) for w in wanted)]
    return [number, *found] if number else found


def step_of(study: Study, id: str) -> str:
    """The step that this is, or that released or took out this, or of this photo or callout; "" if none."""
    if id in study.steps or not id:
        return id
    if id in study.callouts:
        id = study.callouts[id].photo
    if id in study.photos:
        return study.photos[id].step
    return next(iter(_ways(study).get(("apart", id), ())), "")


def freeing_step(study: Study, id: str) -> str:
    """The step that freed a part (or what carries it), released a joint, or that a finding, photo or callout belongs
    to; "" if there is none."""
    for one in (id, *study.carriers(id)):
        step = step_of(study, one)
        if step:
            return step
    about = getattr(study.find(id), "about", "")
    return step_of(study, about) if about else ""


def _text(study: Study, id: str) -> str:
    step = study.steps[id]
    bits = [step.verb, step.said, step.tool, step.note, *step.cautions]
    for _, thing in things_of(step):
        found = study.find(thing)
        bits.append(study.name(thing))
        if isinstance(found, Joint):
            bits += [found.kind, found.drive, found.size, found.thread, found.place, found.note]
            bits += [study.name(p) for p in found.holds]
            if found.length_mm:
                bits.append(f"{found.length_mm:g}")
        elif isinstance(found, Part):
            bits += [found.kind, found.note]
    return " ".join(bits).casefold()


def _told(step: Step) -> tuple[float | None, ...]:
    return step.least_s, step.likely_s, step.most_s


def _numbered(study: Study, name: str, letter: str = "P") -> str:
    stem = re.sub(r" \d+$", "", name)
    taken = {thing.name for thing in study.table(letter).values()}
    return next(f"{stem} {n}" for n in range(2, len(taken) + 3) if f"{stem} {n}" not in taken)


def _after(study: Study, id: str) -> str:
    order = list(study.steps)
    at = order.index(id) + 1
    return order[at] if at < len(order) else ""


def _step(study: Study, id: str) -> Step:
    step = study.steps.get(id)
    if step is None:
        raise StudyError("Select a step in the strip first.")
    return step


def corrected(study: Study, joint_id: str, **fields: Any) -> Study:
    """A joint with some figures put right. The driver of the steps that release it follows: a screw that turns out to
    be a T5 was not undone with a T6. A size that says its drive ("T5") sets it."""
    joint = study.joints[joint_id]
    if "lengths" in fields:
        fields["lengths"] = with_lengths(joint, fields["lengths"]).lengths
        study = put(study, with_lengths(joint, fields.pop("lengths")))
        joint = study.joints[joint_id]
    size = fields.get("size")
    if size and "drive" not in fields:
        told = next((d.id for d in drives().values() if size in d.sizes and d.prefix and size.startswith(d.prefix)), "")
        fields |= {"drive": told} if told else {}
    after = change(study, joint_id, **fields)
    new = after.joints[joint_id]
    was, now = _driver(joint), _driver(new)
    if was == now or not now:
        return after
    wrong = [
        s for s in after.steps.values() if joint_id in s.releases and s.tool.casefold() in (was.casefold(), "driver")
    ]
    return put_all(after, [evolve(s, tool=now) for s in wrong])


def _driver(joint: Joint) -> str:
    """What a driver for a screw is called as a tool: its size, else its drive."""
    return joint.size or joint.drive


def left_over(study: Study, step_id: str) -> tuple[str, ...]:
    """The joints that no other step undoes, softens or makes again: without this step nothing is done to them."""
    others = [s for s in study.steps.values() if s.id != step_id]
    used = {j for s in others for j in (*s.releases, *s.softens)}
    return tuple(j for j in study.steps[step_id].releases if j not in used)


def held_no_more(study: Study, step_ids: Iterable[str]) -> tuple[str, ...]:
    """The parts whose last joint these steps undid, and that are not off yet: one may ask whether they came off."""
    undone = {j for s in study.steps.values() if s.phase == "apart" for j in s.releases}
    off = {p for s in study.steps.values() for p in (*s.takes_out, *s.opens)}
    freed = [p for s in step_ids if s in study.steps for j in study.steps[s].releases for p in study.joints[j].holds]
    out = []
    for part in dict.fromkeys(freed):
        held = [j.id for j in study.joints.values() if part in j.holds and j.id not in undone]
        if not held and part not in off and not any(c in off for c in study.carriers(part)):
            out.append(part)
    return tuple(out)


def taken_out_as_well(study: Study, step_id: str, part: str) -> Study:
    """A step that also took this part out."""
    step = _step(study, step_id)
    return put(study, evolve(step, takes_out=(*step.takes_out, part)))
