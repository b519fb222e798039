"""A spoken correction of what a step was done to: "that was the left one"."""

from __future__ import annotations

from typing import Any

from attrs import evolve

from oddbolt.core.study import Part, Step, Study, consequences, new_id, put, remove
from oddbolt.core.study.steps import things_of


def meant(study: Study, step: Step, name: str, known: str) -> Study:
    """The study with another part in a step and in what it undoes. ``known`` is the id of a part of that name that the
    record holds, "" if there is none. A part that came into the record with this step alone takes the name; another one
    stays as it was. A step that is about no part stays too."""
    joints = [id for id in (*step.releases, *step.softens) if id in study.joints]
    parts = [id for _, id in things_of(step) if id in study.parts]
    old = next(iter(parts or [p for j in joints for p in study.joints[j].holds]), "")
    if not old or old == known:
        return study
    new = name[:1].upper() + name[1:]
    here = {step.id, *joints}
    alone = len(consequences(study, old)) == sum(_mentions(study, thing, old) for thing in here)
    if not known and alone:
        return put(study, evolve(study.parts[old], name=new))
    if not known:
        known = new_id(study, "P")
        study = put(study, Part(known, new, study.parts[old].inside))
    for id in joints:
        joint = study.joints[id]
        study = put(study, evolve(joint, holds=_swapped(joint.holds, old, known)))
    swapped: dict[str, Any] = {f: _swapped(getattr(step, f), old, known) for f in ("opens", "takes_out", "puts_in")}
    study = put(study, evolve(step, **swapped))
    return remove(study, old) if alone else study


def _mentions(study: Study, id: str, part: str) -> int:
    """In how many places of a step or joint a part is mentioned."""
    if id in study.joints:
        return int(part in study.joints[id].holds)
    return sum(other == part for _, other in things_of(study.steps[id]))


def _swapped(ids: tuple[str, ...], old: str, new: str) -> tuple[str, ...]:
    return tuple(dict.fromkeys(new if id == old else id for id in ids))
