"""Which connector it is: ranked families, how each opens, what it bears and what breaks; and miscounted contacts
found."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache

from attrs import frozen

from oddbolt.core.components.kinds import guide_from, looks_in
from oddbolt.core.components.looks import Guide, Ranked, Seen
from oddbolt.core.errors import BenchError
from oddbolt.core.reference.tables import table
from oddbolt.core.study import Study, change

#: a body is wider than its row of contacts by at most so many mm and pitches: the ends of its housing
ENDS_MM, ENDS_PITCHES = 9.0, 4.0
SURE_ENOUGH = 0.6


@frozen
class Connector:
    """A family: the ``latch`` of the record, how it opens, with what, which way it comes off, how many matings it
    ``bears``, what breaks, and the source."""

    id: str
    latch: str
    opens: str
    tool: str
    way: str
    bears: int
    breaks: str
    source: str
    rows: int | None


@cache
def connectors() -> Mapping[str, Connector]:
    """All families by their names."""
    out = {}
    for id, row in table("connectors")["kinds"].items():
        given = looks_in(row["looks"]).get("rows", ())
        rows = {"one": 1, "two": 2, "three": 3}.get(given[0]) if len(given) == 1 else None
        named = {key: row[key] for key in ("latch", "opens", "tool", "way", "bears", "breaks", "source")}
        out[id] = Connector(id, rows=rows, **named)
    return out


@cache
def connector_guide() -> Guide:
    """The table as looks and candidates."""
    return guide_from("connectors", "connector", lambda row: looks_in(row["looks"]))


def which_connector(seen: Seen, most: int = 5) -> Ranked:
    """The families that fit what was seen, the likeliest first, and what to look at next."""
    return connector_guide().rank(seen, most)


def miscounted(seen: Seen) -> str:
    """What is wrong between contacts, pitch and width, in words; "" where they agree or one of them is missing."""
    if not {"pitch", "ways", "width"} <= set(seen.figures) or seen.answers.get("rows") == "round":
        return ""
    pitch, ways, width = (seen.figures[key][0] for key in ("pitch", "ways", "width"))
    rows = {"one": 1, "two": 2, "three": 3}.get(seen.answers.get("rows", ""), 0)
    least = (ways / (rows or 2) - 1) * pitch
    row = (ways / (rows or 1) - 1) * pitch
    taken = f"{ways:g} contacts at {pitch:g} mm"
    if width < least - 0.1:
        room = int(width / pitch) * (rows or 2)
        return (
            f"{taken} take at least {least:.1f} mm, and the body is {width:g} mm wide: at most {room} fit. "
            "Count again, or measure the pitch over ten contacts."
        )
    if width > row + ENDS_MM + ENDS_PITCHES * pitch:
        room = max(2, round((width - 2) / pitch)) * (rows or 1)
        return (
            f"{taken} take about {row:.1f} mm, and the body is {width:g} mm wide: about {room} would fit. Count again."
        )
    return ""


def with_connector(study: Study, joint: str, ranked: Ranked, seen: Seen, chosen: int = 0) -> Study:
    """The study with what was seen of a connector entered: family, latch, contacts, pitch and width. Raises BenchError
    where the family is not sure enough and nobody chose it, and where the count contradicts the width."""
    record = study.joints.get(joint)
    if record is None or record.kind != "connector":
        raise BenchError("Select a connector first.")
    trouble = ranked.trouble or miscounted(seen)
    if trouble:
        raise BenchError(trouble)
    fields: dict[str, object] = {}
    for key, name in (("pitch", "pitch_mm"), ("width", "width_mm")):
        if key in seen.figures:
            fields[name] = round(seen.figures[key][0], 3)
    if "ways" in seen.figures:
        fields["pins"] = int(seen.figures["ways"][0])
    best = ranked.candidates[min(max(chosen - 1, 0), len(ranked.candidates) - 1)]
    if chosen or best.probability >= SURE_ENOUGH:
        fields["family"] = best.id
        fields["latch"] = record.latch or connectors()[best.id].latch
    elif not fields:
        told = " or ".join(c.id for c in ranked.candidates[:2])
        raise BenchError(f"Not certain enough to enter: {told}. {connector_guide().advice(ranked)}".rstrip())
    return change(study, joint, **fields)
