"""What a joint or a part brings with it when it goes back, from the rules in ``reference/putback.toml``."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from functools import lru_cache
from typing import Any

from attrs import frozen

from oddbolt.core.bench.kit import area_cm2
from oddbolt.core.reference.joint_kinds import ids_where
from oddbolt.core.reference.tables import screw_label, table
from oddbolt.core.safety.contents import tells
from oddbolt.core.study import Joint, Study

#: the words of a name
WORD = re.compile(r"[\w-]+")


@frozen
class Work:
    """A piece of work in words. ``before``: done on its own before the part goes in, and then ``wait_s`` must pass.
    ``hand_s`` is hand work beyond that of making the joint, s."""

    text: str
    before: bool = False
    tool: str = ""
    wait_s: float = 0.0
    hand_s: float = 0.0


def work_of_joint(joint: Joint) -> Iterator[Work]:
    """What making this joint again asks for, in order."""
    area = f"({area_cm2(joint)[0]:.0f} cm²)" if joint.width_mm and joint.length_mm else ""
    figures = {
        "count": str(joint.count) if joint.count else "",
        "size": screw_label(joint.drive, joint.size) if joint.drive or joint.size else "",
        "length": f"of {joint.length_mm:g} mm" if joint.length_mm else "",
        "area": area if joint.kind in ids_where("glue") else "",
        "torque": f"to {joint.torque_ncm:g} N·cm" if joint.torque_ncm else "",
    }
    many = joint.count or 1
    for row in table("putback")["work"]:
        fits = (
            row["kind"] == joint.kind
            and row.get("latch", joint.latch) == joint.latch
            and row.get("reuse", joint.reuse) == joint.reuse
            and row.get("least", 1) <= many <= row.get("most", many)
        )
        if fits:
            yield _work(row, figures)


def work_of_part(study: Study, part_id: str, new: bool) -> Iterator[Work]:
    """What setting this part in asks for; ``new``: a new piece goes in."""
    part = study.parts[part_id]
    words = {w[-1] for w in (WORD.findall(text.casefold()) for text in (part.name, part.kind)) if w}
    for row in _part_rows():
        fits = words & row["all"] or ("content" in row and tells(row["content"], part))
        if fits and (new or not row.get("renew")):
            yield _work(row, {"mass": _gel_mass(study, part_id)})


@lru_cache(maxsize=1)
def _part_rows() -> Sequence[dict[str, Any]]:
    return [
        {**row, "all": frozenset(form for w in row.get("words", ()) for form in (w, f"{w}s"))}
        for row in table("putback")["part"]
    ]


def _gel_mass(study: Study, part_id: str) -> str:
    """The mass of gel that was worked out for this part, "new material" where nobody did."""
    kept = (s.result for s in study.sums.values() if s.kind == "gel" and s.about == part_id)
    return next((m[0] for m in map(re.compile(r"[\d.]+ mg").search, kept) if m), "new material")


def _work(row: dict[str, Any], figures: dict[str, str]) -> Work:
    told = re.sub(r"\{(\w+)\}", lambda m: figures[m[1]], row["text"])
    told = re.sub(r"\s+", " ", told).replace(" ,", ",").strip()
    return Work(told, row.get("before", False), row.get("tool", ""), row.get("wait_s", 0.0), row.get("hand_s", 0.0))
