"""What the recorded steps do, as bit masks over their order: the ground that needs are computed on."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from functools import cached_property, lru_cache

from attrs import define

from oddbolt.core.study import Study
from oddbolt.core.study.steps import things_of


def bits(mask: int) -> Iterator[int]:
    """The positions of the set bits, lowest first."""
    while mask:
        low = mask & -mask
        yield low.bit_length() - 1
        mask ^= low


@define(eq=False, slots=False)
class Record:
    """The take-apart steps of a study. Masks say which steps release or soften a joint, take a part out, or take it
    away (out or folded aside); ``touched`` and ``removed`` are the places of the first step that works on a thing or
    takes a part away; ``carriers`` are the modules around each part, innermost first."""

    study: Study
    ids: tuple[str, ...]
    index: Mapping[str, int]
    carriers: Mapping[str, tuple[str, ...]]
    releasing: dict[str, int]
    softening: dict[str, int]
    taking: dict[str, int]
    removing: dict[str, int]
    touched: dict[str, int]
    removed: dict[str, int]

    @cached_property
    def holding(self) -> dict[str, list[str]]:
        """part -> the joints that must be released before it can come out: its own, and those by which what it
        carries is tied to something it does not carry."""
        out: dict[str, list[str]] = {}
        for id, joint in self.study.joints.items():
            ends = [*joint.holds, *([joint.into] if joint.into else [])]
            for part in joint.holds:
                out.setdefault(part, []).append(id)
                for module in self.carriers[part]:
                    inside = all(end == module or module in self.carriers[end] for end in ends)
                    if not inside and id not in out.get(module, ()):
                        out.setdefault(module, []).append(id)
        return out

    @cached_property
    def face(self) -> str:
        """The face that is up before anything is done: that of the first step recorded, used or not."""
        return next((s.face for s in self.study.steps.values() if s.phase == "apart"), "front")

    @cached_property
    def softened(self) -> frozenset[str]:
        """The joints that some step softens, whether or not it may be used here."""
        return frozenset(j for s in self.study.steps.values() if s.phase == "apart" for j in s.softens)

    @cached_property
    def unstated(self) -> tuple[tuple[str, str], ...]:
        """Pairs (part, thing) worth asking about: the part came off last before the thing was first touched. Pairs
        that cannot be, since the one carries the other, are left out."""
        out: list[tuple[str, str]] = []
        latest: tuple[str, ...] = ()
        for i, id in enumerate(self.ids):
            step = self.study.steps[id]
            for thing in dict.fromkeys(thing for _, thing in things_of(step)):
                if self.touched[thing] == i:
                    out += may_lie(self.study, latest, thing)
            latest = step.takes_out or latest
        return tuple(out)

    def away(self, above: str, thing: str) -> int:
        """Steps after which ``above`` no longer lies over ``thing``: it is taken out or opened, or carried off inside
        a module that does not carry the thing as well."""
        mask = self.removing.get(above, 0)
        if not self.carriers[above]:
            return mask
        joint, step = self.study.joints.get(thing), self.study.steps.get(thing)
        owners = joint.holds if joint else step.takes_out if step else (thing,)
        with_thing = {c for owner in owners for c in (owner, *self.carriers[owner])}
        for carrier in self.carriers[above]:
            if carrier not in with_thing:
                mask |= self.removing.get(carrier, 0)
        return mask


def may_lie(study: Study, latest: Iterable[str], thing: str) -> list[tuple[str, str]]:
    """Pairs (part, thing) of those of ``latest`` that may have lain over the thing: none carries the other."""
    joint = study.joints.get(thing)
    lines = [study.carriers(p) for p in joint.holds] if joint else [study.carriers(thing)]
    return [
        (above, thing)
        for above in latest
        if above != thing and not any(above in line for line in lines) and thing not in study.carriers(above)
    ]


@lru_cache(maxsize=4)
def record_of(study: Study, without: frozenset[str] = frozenset()) -> Record:
    """The record of a study, leaving out the steps named in ``without``."""
    ids = tuple(id for id, s in study.steps.items() if s.phase == "apart" and id not in without)
    record = Record(study, ids, {id: i for i, id in enumerate(ids)}, _carriers(study), {}, {}, {}, {}, {}, {})
    for i, id in enumerate(ids):
        step, bit = study.steps[id], 1 << i
        _mark(record.releasing, step.releases, bit)
        _mark(record.softening, step.softens, bit)
        _mark(record.taking, step.takes_out, bit)
        _mark(record.removing, (*step.takes_out, *step.opens), bit)
        for thing in (*step.releases, *step.softens, *step.takes_out, *step.opens):
            record.touched.setdefault(thing, i)
        for part in (*step.takes_out, *step.opens):
            record.removed.setdefault(part, i)
    return record


def _mark(masks: dict[str, int], things: Iterable[str], bit: int) -> None:
    for thing in things:
        masks[thing] = masks.get(thing, 0) | bit


def _carriers(study: Study) -> dict[str, tuple[str, ...]]:
    out: dict[str, tuple[str, ...]] = {}
    for id, part in study.parts.items():
        if not part.inside:
            out[id] = ()
        elif part.inside in out:
            out[id] = (part.inside, *out[part.inside])
        else:
            out[id] = tuple(study.carriers(id))
    return out


def priority_parts(study: Study) -> tuple[str, ...]:
    """The parts that count: those marked, or all that some step takes out where none is marked."""
    marked = tuple(id for id, part in study.parts.items() if part.priority)
    return marked or tuple(dict.fromkeys(p for s in study.steps.values() for p in s.takes_out))
