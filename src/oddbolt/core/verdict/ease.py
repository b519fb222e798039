"""Time: what each priority part takes against a reference, and the sum of MOST sequences that ease-of-disassembly
studies use.

Sequences of MOST (index units of 0.36 s): tool fetched and put back 1.44 s, a part to the bench 1.44 s, a tool
positioned 0.72 to 2.52 s, a screw loosened by wrist turns; figures fairly sure, from memory. What is only fairly
known is a range."""

from __future__ import annotations

from typing import Any

from oddbolt.core.reach import Route
from oddbolt.core.reference.tables import thread_of
from oddbolt.core.study import Joint, Study
from oddbolt.core.study.formatting import duration
from oddbolt.core.verdict.counting import both_routes, counting
from oddbolt.core.verdict.scheme import Entry, Judgement, Range3, Scheme

UNIT_S = 0.36
TOOL_S, PART_S, TURN_S = 4 * UNIT_S, 4 * UNIT_S, (1.8, 2.9)
POSITION_S = (0.72, 1.44, 2.52)
#: wrist turns -> index of the loosen table; between two rows the higher
LOOSEN = ((1, 3), (3, 6), (5, 10), (9, 16), (13, 24), (17, 32))
#: what to compare with: seconds of hand work that an everyday device of good design takes to a priority part
REFERENCE_S = 120.0
#: other joints: disengaged, with light or heavy pressure, index units least, likely, most
OTHERS = {"clip": (3, 4, 7), "connector": (3, 4, 7), "coax": (3, 6, 9), "press fit": (3, 6, 10), "magnet": (1, 3, 3)}
LONG = (10, 24, 54)
SOURCE = "MOST index values, from memory, fairly sure; reference time common practice, no source"


def loosening_s(joint: Joint) -> tuple[float, float, float]:
    """Seconds to loosen one screw by hand: least, likely, most, by its turns (length over pitch)."""
    thread = thread_of(joint.thread) if joint.thread else None
    if thread is None or not joint.length_mm:
        return (3 * UNIT_S, 10 * UNIT_S, 24 * UNIT_S)
    turns = joint.length_mm / thread.pitch_mm
    wrist = turns * 2.0  # half a turn of the wrist
    index = next((i for most, i in LOOSEN if wrist <= most), 32 * max(1.0, wrist / 17))
    return (index * UNIT_S * 0.7, index * UNIT_S, index * UNIT_S * 1.3)


def ease_s(study: Study, route: Route) -> Range3:
    """The sum of MOST sequences over a route, s."""
    low = likely = high = 0.0
    tool, face = "", ""
    for id in route.steps:
        step = study.steps[id]
        if step.tool and step.tool != tool:
            low, likely, high, tool = low + TOOL_S, likely + TOOL_S, high + TOOL_S, step.tool
        if face and step.face != face:
            low, likely, high = low + TURN_S[0], likely + sum(TURN_S) / 2, high + TURN_S[1]
        face = step.face
        for joint_id in step.releases:
            joint = study.joints[joint_id]
            count = joint.count or 1
            if joint.kind == "screw":
                each = loosening_s(joint)
            elif joint.kind in OTHERS:
                each = tuple(i * UNIT_S for i in OTHERS[joint.kind])  # type: ignore[assignment]
            else:
                each = tuple(i * UNIT_S for i in LONG)  # type: ignore[assignment]
            low += count * (POSITION_S[0] + each[0])
            likely += count * (POSITION_S[1] + each[1])
            high += count * (POSITION_S[2] + each[2])
        moved = len(step.takes_out) * PART_S
        low, likely, high = low + moved, likely + moved, high + moved
    return Range3(low, likely, high)


def judge(study: Study) -> Judgement:
    """Times as a judgement."""
    entries, rows = [], []
    for count in counting(study):
        both = both_routes(study, count.part)
        name = study.name(count.part)
        if both.least is None:
            entries.append(Entry(name, ("—", "—", "—", "—"), (count.why_not,), (count.part,)))
            continue
        sums = ease_s(study, both.least)
        low, high = both.least.seconds, max(both.least.seconds, (both.most or both.least).seconds)
        hands = both.least.seconds
        against = REFERENCE_S / max(hands, 1e-9)
        span = duration(low) if high - low < 0.5 else f"{duration(low)} to {duration(high)}"
        figures = (
            span,
            f"{against:.0%}",
            f"{sums.low:.0f} to {sums.high:.0f} s, likely {sums.likely:.0f}",
            f"{hands / sums.likely:.1f}",
        )
        reason = f"{len(both.least.steps)} steps; against {duration(REFERENCE_S)} for an everyday part"
        entries.append(Entry(name, figures, (reason,), (count.part,)))
        rows.append(
            {
                "part": name,
                "seconds": round(low, 1),
                "seconds_most": round(high, 1),
                "against_reference": round(against, 4),
                "most_s": [round(sums.low, 1), round(sums.likely, 1), round(sums.high, 1)],
            }
        )
    missing = () if entries else ("No part is marked as a priority part.",)
    data: dict[str, Any] = {"reference_s": REFERENCE_S, "parts": rows}
    heads = ("part", "time", "of reference", "sum of MOST", "ratio")
    return Judgement("", SOURCE, False, heads, tuple(entries), missing, data)


SCHEME = Scheme(
    "time",
    "Time",
    "Measured or motion times to each priority part against a reference, beside the sum of MOST sequences. The two "
    "systems differ by a factor of 1.5 to 2; the ratio says by how much here.",
    judge,
)
