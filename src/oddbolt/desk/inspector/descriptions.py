"""What the margin says of a thing beside its form."""

from __future__ import annotations

from typing import Any

from oddbolt.core.bench.sums import SUMS
from oddbolt.core.errors import OddBoltError
from oddbolt.core.opening.edge import round_of
from oddbolt.core.safety import contents
from oddbolt.core.study import (
    Callout,
    EdgePlan,
    Finding,
    Joint,
    Keepout,
    Layer,
    Part,
    Photo,
    Run,
    Step,
    Stretch,
    Study,
    Warmup,
)
from oddbolt.core.study.formatting import duration, plural


def what_it_is(study: Study, thing: Any) -> str:
    """What sort of thing it is and where it belongs, in a line."""
    match thing:
        case Part():
            bits = [
                "part",
                f"in {study.name(thing.inside)}" if thing.inside else "",
                "priority" if thing.priority else "",
            ]
        case Joint():
            step = next((s for s, v in study.steps.items() if thing.id in v.releases), "")
            bits = ["joint", "screw group" if thing.kind == "screw" else thing.kind, study.name(step) if step else ""]
        case Step():
            bits = [
                "put back" if thing.phase == "back" else "take apart",
                "last logged" if thing.id == next(reversed(study.steps)) else "",
            ]
        case EdgePlan() | Warmup():
            bits = ["edge plan" if isinstance(thing, EdgePlan) else "warm-up"]
        case Stretch() | Keepout():
            bits = ["edge segment" if isinstance(thing, Stretch) else "keep-out", study.name(thing.plan)]
        case Photo():
            bits = ["photo", study.name(thing.step) if thing.step else "of no step", f"{thing.width} × {thing.height}"]
        case Run():
            took = duration(sum(lap.seconds for lap in thing.laps))
            bits = ["run", plural(len(thing.laps), "lap"), took]
        case Callout():
            bits = ["callout", study.name(thing.photo)]
        case Finding():
            bits = ["finding", study.name(thing.about) if thing.about else ""]
        case Layer():
            bits = ["layer", study.name(thing.warmup)]
        case _:
            bits = ["on the bench"]
    return " · ".join(b for b in bits if b)


def sums_for(study: Study, thing: Part | Joint) -> list[str]:
    """The kinds of sums that belong beside a thing."""
    if isinstance(thing, Joint):
        return [kind.id for kind in SUMS.values() if thing.kind in kind.joints]
    inside = contents(study)
    return [
        kind.id
        for kind in SUMS.values()
        if thing.kind in kind.parts or any(thing.id in inside.get(content, ()) for content in kind.contents)
    ]


def stretch_figures(study: Study, stretch: Stretch) -> tuple[tuple[str, str], ...]:
    """What was worked out for a stretch of edge."""
    try:
        along = round_of(study, stretch.plan).along[stretch.id]
    except OddBoltError as error:
        return (("edge", str(error)),)
    return (
        ("inwards", f"{along.across_mm:.1f} mm, {along.down_mm:.1f} mm down"),
        ("finding", along.finding),
        ("nearest", f"{study.name(along.nearest)}, {along.room_mm:.1f} mm left" if along.nearest else "nothing"),
        ("safe depth", f"{along.safe_mm:.1f} mm all along"),
        ("length", f"{along.length_mm:.0f} mm"),
    )
