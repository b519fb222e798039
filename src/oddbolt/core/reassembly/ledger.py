"""The ledger: what was undone and taken out, where it is now, and what is still open.

Of every group of fasteners, as many as were undone are in the tray, back, or missing. A step of putting back may make
a part of a group, use new pieces, or leave something out on purpose.
"""

from __future__ import annotations

from functools import lru_cache

from attrs import define, frozen

from oddbolt.core.bench.kit import area_cm2
from oddbolt.core.reference.joint_kinds import ids_where, joint_kinds
from oddbolt.core.study.formatting import plural
from oddbolt.core.study.model import Joint, Step, Study


@frozen
class Line:
    """One group of fasteners, one plug or one part. ``taken`` is how many were undone or taken out, ``back`` how many
    of them are back (None where nobody counted), ``missing`` how many are lost, ``renewed`` for how many a new piece
    was used, ``extra`` how many more went in than came out. ``left`` says why it stays out on purpose, "" where it does
    not. ``ticked`` is how many are ticked off in the tray, None where nobody ticks."""

    id: str
    name: str
    sort: str
    taken: int | None
    back: int | None
    missing: int = 0
    renewed: int = 0
    extra: int = 0
    left: str = ""
    ticked: int | None = None

    @property
    def out(self) -> int | None:
        """How many are not back; None where nobody counted."""
        return None if self.taken is None or self.back is None else self.taken - self.back

    @property
    def tray(self) -> int | None:
        """How many should lie in the tray: out and not missing."""
        return None if self.out is None else self.out - self.missing

    @property
    def open(self) -> bool:
        """Whether something of it is still out that is not meant to stay out, or may be."""
        return not self.left and (self.out is None or self.out > 0)


@frozen
class Used:
    """Glue or tape laid anew: the joint, and its area in cm² with what that rests on."""

    id: str
    name: str
    area_cm2: float
    basis: str


@frozen
class Ledger:
    """All lines; steps of putting back that closed no group, since their counts or sizes fit none; screws found that no
    group misses; and the glue that was used."""

    screws: tuple[Line, ...]
    plugs: tuple[Line, ...]
    others: tuple[Line, ...]
    parts: tuple[Line, ...]
    unmatched: tuple[str, ...]
    left_over: tuple[str, ...] = ()
    used: tuple[Used, ...] = ()

    @property
    def lines(self) -> tuple[Line, ...]:
        """Every line: screws, plugs, other joints, parts."""
        return (*self.screws, *self.plugs, *self.others, *self.parts)

    @property
    def closed(self) -> bool:
        """Whether everything counted is back or left out on purpose, every step of putting back found its group, and
        nothing is left over."""
        return not self.unmatched and not self.left_over and not any(line.open for line in self.lines)

    def in_short(self) -> str:
        """The line for the sill: "37 of 41 back, 1 connector open"."""
        counted = [s for s in self.screws if s.out is not None and not s.left]
        told = [f"{sum(s.back or 0 for s in counted)} of {sum(s.taken or 0 for s in counted)} back"]
        missing, plugs = sum(s.missing for s in self.screws), sum(p.open for p in self.plugs)
        told += [f"{missing} missing"] if missing else []
        told += [f"{plural(plugs, 'connector')} open"] if plugs else []
        return ", ".join(told)

    def in_words(self) -> str:
        """The whole in one line: "37 of 41 screws back, 1 connector open, 2 parts out"."""
        counted = [s for s in self.screws if s.out is not None and not s.left]
        told = [f"{sum(s.back or 0 for s in counted)} of {sum(s.taken or 0 for s in counted)} screws back"]
        missing = sum(s.missing for s in self.screws)
        told += [f"{missing} missing"] if missing else []
        extra = sum(s.extra for s in self.screws)
        told += [f"{extra} too many"] if extra else []
        uncounted = sum(s.out is None for s in self.screws)
        told += [f"{plural(uncounted, 'group')} not counted"] if uncounted else []
        for lines, noun in ((self.plugs, "connector"), (self.others, "other joint")):
            still = sum(line.open for line in lines)
            told += [f"{plural(still, noun)} open"] if still else []
        parts = sum(p.open for p in self.parts)
        told += [f"{plural(parts, 'part')} out"] if parts else []
        left = sum(bool(line.left) for line in self.lines)
        told += [f"{left} left out on purpose"] if left else []
        told += [f"{plural(len(self.unmatched), 'fastening')} without a group"] if self.unmatched else []
        told += [f"{plural(len(self.left_over), 'screw')} left over"] if self.left_over else []
        return ", ".join(told)


@define
class _Count:
    """What became of one joint or part so far. ``left`` is why it stays out."""

    joint: bool
    taken: int | None = 0
    back: int | None = 0
    renewed: int = 0
    extra: int = 0
    left: str = ""

    def undo(self, count: int | None) -> None:
        self.taken, self.back, self.left, self.extra, self.renewed = count, 0 if count is not None else None, "", 0, 0

    def make(self, made: int | None, new: bool) -> None:
        """Make ``made`` pieces again, all where None."""
        self.left = ""
        if self.taken is None:  # nobody counted how many came out: all back is all back, some are some
            self.taken, self.back = (0, 0) if made is None else (None, None)
            return
        rest = self.taken - (self.back or 0)
        went = rest if made is None else made
        self.back = (self.back or 0) + min(went, rest)
        self.extra += max(0, went - rest)
        self.renewed += min(went, rest) if new else 0


@lru_cache(maxsize=8)
def ledger(study: Study) -> Ledger:
    """The ledger of a study. A joint undone twice counts once; one undone after it was made again is out again."""
    counts: dict[str, _Count] = {}
    unmatched: list[str] = []
    for step in study.steps.values():
        if step.phase == "apart":
            for j in step.releases:
                counts.setdefault(j, _Count(True)).undo(_pieces(study.joints[j]))
            for p in step.takes_out:
                counts.setdefault(p, _Count(False)).undo(1)
        else:
            _put_back(study, counts, step)
            if step.verb == "fasten" and not step.releases:
                unmatched.append(step.id)
    lost = {f.about: int(f.value or 1) for f in study.findings.values() if f.kind == "missing" and f.about}
    lines = {id: _line(study, id, count, lost.get(id, 0)) for id, count in counts.items()}
    threaded, plugs, glue = ids_where("threaded"), ids_where("plug"), ids_where("glue")
    kinds = {id: study.joints[id].kind for id, count in counts.items() if count.joint}
    made = dict.fromkeys(r for s in study.steps.values() for r in s.renews if kinds.get(r) in glue)
    return Ledger(
        tuple(line for id, line in lines.items() if kinds.get(id) in threaded),
        tuple(line for id, line in lines.items() if kinds.get(id) in plugs),
        tuple(line for id, line in lines.items() if id in kinds and kinds[id] not in threaded | plugs),
        tuple(line for id, line in lines.items() if id not in kinds),
        tuple(unmatched),
        tuple(f.text for f in study.findings.values() if f.kind == "left over"),
        tuple(Used(j, study.name(j), *area_cm2(study.joints[j])) for j in made),
    )


def _put_back(study: Study, counts: dict[str, _Count], step: Step) -> None:
    for id in step.leaves:
        if id in counts:
            counts[id].left = step.note or "left out"
    for j in step.releases:
        known = counts.setdefault(j, _Count(True, _pieces(study.joints[j]), 0))
        known.make(step.count if len(step.releases) == 1 else None, j in step.renews)
    for p in step.puts_in:
        counts.setdefault(p, _Count(False, 1, 0)).make(None, p in step.renews)


def _pieces(joint: Joint) -> int | None:
    return joint.count if joint_kinds()[joint.kind].counted else 1


def _line(study: Study, id: str, count: _Count, lost: int) -> Line:
    if not count.joint:
        sort, ticked = "part", None
    else:
        joint = study.joints[id]
        sort = joint.kind
        ticked = None if joint.laid is None else max(0, joint.laid - (joint.taken or 0))
    out = None if count.taken is None or count.back is None else count.taken - count.back
    missing = min(lost, out) if out is not None else lost
    name = study.name(id)
    return Line(id, name, sort, count.taken, count.back, missing, count.renewed, count.extra, count.left, ticked)
