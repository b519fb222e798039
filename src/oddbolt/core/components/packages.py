"""Which package a board part has: ranked by body, pins and pitch, with the next measurement that would decide."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache

from attrs import evolve, frozen

from oddbolt.core.components.kinds import guide_from, looks_in
from oddbolt.core.components.looks import Guide, Ranked, Seen
from oddbolt.core.errors import BenchError
from oddbolt.core.reference.tables import table
from oddbolt.core.study import Study, change

#: bodies are made to so much of their nominal size, one way: a share of it, and mm
MADE_SHARE, MADE_MM = 0.03, 0.05
#: a package is entered as known from so much on
SURE_ENOUGH = 0.6


@frozen
class Package:
    """A family of one size: other designations, the nominal length and width of the body in mm, and its source."""

    id: str
    also: str
    length_mm: tuple[float, float]
    width_mm: tuple[float, float]
    source: str


@cache
def packages() -> Mapping[str, Package]:
    """All packages by their names."""
    out = {}
    guide = package_guide()
    for kind in guide.kinds:
        row = table("packages")["kinds"][kind.id]
        given = looks_in(row["looks"])
        spans = [_nominal(given[key]) for key in ("length", "width")]
        out[kind.id] = Package(kind.id, row.get("also", ""), spans[0], spans[1], row["source"])
    return out


def _nominal(given: tuple[str, ...]) -> tuple[float, float]:
    """The least and most that a table gives for a length."""
    ends = [float(end) for part in given for end in part.split("-")]
    return min(ends), max(ends)


@cache
def package_guide() -> Guide:
    """The table as looks and candidates; single sizes get the spread that bodies are made to."""
    guide = guide_from("packages", "package", lambda row: looks_in(row["looks"]))
    kinds = []
    for kind in guide.kinds:
        figures = dict(kind.figures)
        for key in ("length", "width"):
            figures[key] = tuple(
                (a - MADE_SHARE * a - MADE_MM, b + MADE_SHARE * b + MADE_MM) if b - a < 0.01 else (a, b)
                for a, b in figures[key]
            )
        kinds.append(evolve(kind, figures=figures))
    return evolve(guide, kinds=tuple(kinds))


def which_package(seen: Seen, most: int = 5) -> Ranked:
    """The packages that fit what was measured, the likeliest first, and what to measure next. Length and width may be
    typed either way round."""
    guide = package_guide()
    ranked = guide.rank(seen, most)
    if not {"length", "width"} <= set(seen.figures):
        return ranked
    turned = dict(seen.figures)
    turned["length"], turned["width"] = turned["width"], turned["length"]
    other = guide.rank(evolve(seen, figures=turned), most)
    return other if _weight(other, ranked) else ranked


def _weight(other: Ranked, first: Ranked) -> bool:
    """Whether the turned reading fits and the one as typed does not."""
    against = [len(r.candidates[0].speaks_against) + 9 * bool(r.trouble) for r in (other, first)]
    return against[0] < against[1]


def with_package(study: Study, part: str, ranked: Ranked, seen: Seen, chosen: int = 0) -> Study:
    """The study with package, body and pins of a part entered. Raises BenchError where the package is not sure enough
    and nobody chose it."""
    if part not in study.parts:
        raise BenchError("Select a part first.")
    if ranked.trouble:
        raise BenchError(ranked.trouble)
    best = ranked.candidates[min(max(chosen - 1, 0), len(ranked.candidates) - 1)]
    if not chosen and best.probability < SURE_ENOUGH:
        told = " or ".join(c.id for c in ranked.candidates[:2])
        raise BenchError(f"Not certain enough to enter: {told}. {package_guide().advice(ranked)}".rstrip())
    fields: dict[str, object] = {"package": best.id}
    for key, name in (("length", "long_mm"), ("width", "wide_mm"), ("height", "high_mm")):
        if key in seen.figures:
            fields[name] = round(seen.figures[key][0], 3)
    if "pins" in seen.figures:
        fields["pins"] = int(seen.figures["pins"][0])
    return change(study, part, **fields)
