"""The ledger: what was undone and taken out, what is back, and what is still open."""

from __future__ import annotations

from functools import lru_cache

from attrs import frozen

from oddbolt.core.reference.joint_kinds import ids_where, joint_kinds
from oddbolt.core.study.formatting import plural
from oddbolt.core.study.model import Joint, Study


@frozen
class Line:
    """One group of fasteners, one plug or one part. ``out`` is how many were undone or taken out and not put back,
    ``back`` how many are back; both None where nobody counted. ``tray`` is how many are ticked off in the tray."""

    id: str
    name: str
    sort: str
    out: int | None
    back: int | None
    tray: int | None = None

    @property
    def open(self) -> bool:
        """Whether something of it is still out, or may be."""
        return self.out is None or self.out > 0


@frozen
class Ledger:
    """All lines, and steps of putting back that closed no group: their counts or sizes fit none."""

    screws: tuple[Line, ...]
    plugs: tuple[Line, ...]
    others: tuple[Line, ...]
    parts: tuple[Line, ...]
    unmatched: tuple[str, ...]

    @property
    def closed(self) -> bool:
        """Whether everything counted is back and every step of putting back found its group."""
        lines = (*self.screws, *self.plugs, *self.others, *self.parts)
        return not self.unmatched and not any(line.open for line in lines)

    def in_words(self) -> str:
        """One line for the sill: "37 of 41 screws back, 1 connector open"."""
        counted = [s for s in self.screws if s.out is not None]
        back = sum(s.back or 0 for s in counted)
        told = [f"{back} of {back + sum(s.out or 0 for s in counted)} screws back"]
        uncounted = len(self.screws) - len(counted)
        told += [f"{plural(uncounted, 'group')} not counted"] if uncounted else []
        plugs = sum(p.open for p in self.plugs)
        told += [f"{plural(plugs, 'connector')} open"] if plugs else []
        others = sum(o.open for o in self.others)
        told += [f"{plural(others, 'other joint')} open"] if others else []
        parts = sum(p.open for p in self.parts)
        told += [f"{plural(parts, 'part')} out"] if parts else []
        told += [f"{plural(len(self.unmatched), 'fastening')} without a group"] if self.unmatched else []
        return ", ".join(told)


@lru_cache(maxsize=8)
def ledger(study: Study) -> Ledger:
    """The ledger of a study. A joint undone twice counts once; one undone after it was made again is out again."""
    state: dict[str, bool] = {}
    parts: dict[str, bool] = {}
    unmatched = []
    for step in study.steps.values():
        away = step.phase == "apart"
        state |= dict.fromkeys(step.releases, away)
        parts |= dict.fromkeys(step.takes_out if away else step.puts_in, away)
        if step.verb == "fasten" and not step.releases:
            unmatched.append(step.id)
    lines = {id: _joint(study, study.joints[id], out) for id, out in state.items()}
    threaded, plugs = ids_where("threaded"), ids_where("plug")
    kinds = {id: study.joints[id].kind for id in state}
    return Ledger(
        tuple(line for id, line in lines.items() if kinds[id] in threaded),
        tuple(line for id, line in lines.items() if kinds[id] in plugs),
        tuple(line for id, line in lines.items() if kinds[id] not in threaded | plugs),
        tuple(Line(id, study.name(id), "part", int(out), int(not out)) for id, out in parts.items()),
        tuple(unmatched),
    )


def _joint(study: Study, joint: Joint, out: bool) -> Line:
    count = joint.count if joint_kinds()[joint.kind].counted else 1
    tray = None if joint.laid is None else max(0, joint.laid - (joint.taken or 0))
    gone = (None if count is None else count) if out else 0
    back = 0 if out else count
    return Line(joint.id, study.name(joint.id), joint.kind, gone, back, tray)
