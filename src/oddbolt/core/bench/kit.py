"""The kit: tools with sizes, and consumables with amounts, that a job asks for. The job is a list of steps.

Amounts of what is renewed come from the record (counts, areas, kept sums); rules of thumb are rows of
``reference/kit.toml`` (common practice, no source). Areas in cm², volumes in ml, masses in mg.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Iterable, Sequence
from math import ceil

from attrs import evolve, field, frozen

from oddbolt.core.errors import BenchError
from oddbolt.core.opening.outline import outline_of
from oddbolt.core.reference.joint_kinds import ids_where
from oddbolt.core.reference.tables import drives, screw_label, table, tool_words
from oddbolt.core.study import Joint, Study

FILM = "protective film"
SORTS = ("driver", "tool", "protection", "renew", "supply")


@frozen
class KitNeed:
    """One thing that must lie on the bench. ``sort`` is one of SORTS; ``amount`` in ``unit`` (None: just there);
    ``why`` are ids of steps, joints and parts; ``basis`` says what the amount rests on; ``there`` whether it is on the
    user's bench."""

    sort: str
    what: str
    amount: float | None = None
    unit: str = ""
    why: tuple[str, ...] = ()
    basis: str = ""
    there: bool = False
    drive: str = ""
    size: str = ""

    @property
    def said(self) -> str:
        """The amount in words."""
        if self.amount is None:
            return ""
        figure = f"{self.amount:.0f}" if self.amount >= 10 or self.amount == int(self.amount) else f"{self.amount:.1f}"
        return f"{figure} {self.unit.removesuffix('s') if self.amount == 1 else self.unit}".strip()


@frozen
class _Job:
    study: Study
    steps: tuple[str, ...]
    joints: tuple[str, ...]
    parts: tuple[str, ...]
    needs: dict[tuple[str, str], KitNeed] = field(factory=dict)
    whys: dict[tuple[str, str], dict[str, None]] = field(factory=dict)

    def want(self, need: KitNeed) -> None:
        """Add a need, or add its amount and reasons to what is wanted already."""
        key = (need.sort, need.what)
        self.whys.setdefault(key, {}).update(dict.fromkeys(need.why))
        known = self.needs.get(key)
        if known is None:
            self.needs[key] = need
            return
        amount = None if known.amount is None and need.amount is None else (known.amount or 0) + (need.amount or 0)
        self.needs[key] = evolve(known, amount=amount, basis=known.basis or need.basis)


def kit(
    study: Study, contains: Iterable[str], steps: Sequence[str] | None = None, bench: Collection[str] = ()
) -> tuple[KitNeed, ...]:
    """What a job wants: all steps taken apart, or these ones. ``contains`` says what the device contains; ``bench`` is
    what the user has, in words."""
    ids = tuple(id for id, s in study.steps.items() if s.phase == "apart") if steps is None else tuple(steps)
    chosen = [study.steps[s] for s in ids]
    job = _Job(
        study,
        ids,
        tuple(dict.fromkeys(j for s in chosen for j in s.releases)),
        tuple(dict.fromkeys(p for s in chosen for p in s.takes_out)),
    )
    _drivers(job)
    _tools(job)
    for content in ("", *contains):
        for what in table("kit")["always"].get(content, ()):
            job.want(_film(study) if what == FILM else KitNeed("protection", what))
    _renewals(job)
    _supplies(job)
    there = {_plain(word) for word in bench}
    out = [evolve(n, there=bool(_names(n) & there), why=tuple(job.whys[key])) for key, n in job.needs.items()]
    return tuple(sorted(out, key=lambda n: SORTS.index(n.sort)))


def missing(needs: Iterable[KitNeed]) -> tuple[KitNeed, ...]:
    """What is not on the bench."""
    return tuple(n for n in needs if not n.there)


def at_hand(study: Study, bench: Collection[str]) -> frozenset[str]:
    """The tools of the recorded steps that lie on this bench, as the steps name them."""
    using: dict[str, list[str]] = {}
    for id, step in study.steps.items():
        if step.tool:
            using.setdefault(step.tool, []).append(id)
    wanted = {
        tool: [n for n in kit(study, (), ids, bench) if n.sort in ("driver", "tool")] for tool, ids in using.items()
    }
    return frozenset(tool for tool, needs in wanted.items() if not missing(needs))


def called(need: KitNeed, word: str) -> bool:
    """Whether a word of the user's list means this thing ("ph00" for "cross PH00")."""
    return _plain(word) in _names(need)


def area_cm2(joint: Joint) -> tuple[float, str]:
    """The area of a glue or tape joint, with what it rests on: "recorded", or "assumed" where a side is missing."""
    rows = table("kit")
    width = joint.width_mm or float(rows[f"{'tape' if joint.kind == 'tape' else 'glue'}_width_mm"])
    length = joint.length_mm or float(rows["length_mm"])
    known = bool(joint.width_mm and joint.length_mm)
    return (joint.count or 1) * width * length / 100, "recorded" if known else "assumed"


def _film(study: Study) -> KitNeed:
    """The film over the glass, as large as the device's outline."""
    try:
        area = outline_of(study.device.outline).shape.area / 100
    except BenchError:
        return KitNeed("protection", FILM)
    return KitNeed("protection", FILM, area, "cm²", basis="the device's outline")


def _drivers(job: _Job) -> None:
    for id in job.steps:
        for joint_id in job.study.steps[id].releases:
            joint = job.study.joints[joint_id]
            if joint.kind == "screw" and (joint.drive or joint.size):
                label = screw_label(joint.drive, joint.size)
                count = float(joint.count) if joint.count else None
                basis = "" if joint.count else "a group was not counted"
                why = (id, joint_id)
                need = KitNeed("driver", label, count, "screws", why, basis, drive=joint.drive, size=joint.size)
                job.want(need)


def _tools(job: _Job) -> None:
    turned = {_plain(word) for need in job.needs.values() for word in (need.size, need.what)}
    for id in job.steps:
        step = job.study.steps[id]
        tool = _plain(step.tool)
        screws = any(job.study.joints[j].kind == "screw" for j in step.releases)
        if tool and not (screws and {tool, tool.removeprefix("hex ")} & turned):
            job.want(KitNeed("tool", step.tool, None, "", (id,)))


def _renewals(job: _Job) -> None:
    study, spare = job.study, 1 + float(table("kit")["spare"])
    for id in job.joints:
        joint = study.joints[id]
        if joint.kind == "screw" and joint.reuse == "renew":
            figures = (
                screw_label(joint.drive, joint.size),
                joint.thread,
                joint.length_mm and f"{joint.length_mm:g} mm",
            )
            words = " ".join(str(f) for f in (*figures, joint.head, joint.finish) if f)
            job.want(KitNeed("renew", f"screws {words}", float(joint.count or 1), "pieces", (id,), "recorded"))
        elif joint.kind in ids_where("glue") and joint.reuse not in ("reuse", "inspect"):
            area, basis = area_cm2(joint)
            noun = "tape" if joint.kind == "tape" else "pull-tab adhesive" if joint.tab else "adhesive"
            job.want(KitNeed("renew", noun, area * spare, "cm²", (id,), f"{basis}, {spare - 1:.0%} spare"))
        elif joint.reuse == "renew" and not any(study.parts[p].reuse == "renew" for p in joint.holds):
            job.want(KitNeed("renew", study.name(id), float(joint.count or 1), "pieces", (id,), "recorded"))
    gels = {s.about: s for s in study.sums.values() if s.kind == "gel"}
    for id in job.parts:
        if id in gels:
            given = re.search(r"([\d.]+) mg", gels[id].result)
            job.want(KitNeed("renew", "thermal gel", float(given[1]) if given else None, "mg", (id,), "a kept sum"))
        elif study.parts[id].reuse == "renew":
            job.want(KitNeed("renew", study.name(id), 1.0, "pieces", (id,), "recorded"))


def _supplies(job: _Job) -> None:
    study, rows = job.study, table("kit")
    for id in job.steps:
        step = study.steps[id]
        if step.softens and tool_words("solvent").search(f"{step.tool} {step.said}"):
            area = sum(area_cm2(study.joints[j])[0] for j in step.softens)
            amount = area * float(rows["solvent_to_soften_ml_per_cm2"])
            job.want(KitNeed("supply", "isopropanol", amount, "ml", (id,), str(rows["source"])))
    glued = [j for j in job.joints if study.joints[j].kind in ids_where("glue")]
    area = sum(area_cm2(study.joints[j])[0] for j in glued)
    if glued:
        cleaning = area * float(rows["solvent_to_clean_ml_per_cm2"])
        job.want(KitNeed("supply", "isopropanol", cleaning, "ml", tuple(glued), str(rows["source"])))
        cloths = ceil(area / float(rows["cm2_cleaned_by_a_cloth"]))
        job.want(KitNeed("supply", "lint-free cloths", float(cloths), "pieces", tuple(glued), str(rows["source"])))


def _names(need: KitNeed) -> set[str]:
    """What a need may be called on the user's list."""
    out = {_plain(need.what)}
    if need.sort == "driver" and need.size:
        if need.drive in drives() and drives()[need.drive].prefix:
            out.add(_plain(need.size))
        out.add(_plain(f"{need.what.split()[0]} {need.size}"))
    return out


def _plain(word: str) -> str:
    return " ".join(word.casefold().replace("-", " ").split())
