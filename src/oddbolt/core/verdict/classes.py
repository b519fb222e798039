"""Classes after EN 45554: fasteners, tools, skill and working environment for each priority part; no single score.

The letters are those of the standard (from memory, the order sure): A is best. What is assumed is said, and gives a
span."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

from attrs import frozen

from oddbolt.core.study import Study
from oddbolt.core.verdict import evidence
from oddbolt.core.verdict.counting import both_routes, counting
from oddbolt.core.verdict.evidence import Told, class_of_route
from oddbolt.core.verdict.scheme import Ask, Entry, Judgement, Scheme

#: class of ours -> letter of the standard, by criterion
LETTERS = {
    "fastener": {"reusable": "A", "resupplied": "A", "removable": "B", "neither": "C"},
    "tool": {
        "none": "A",
        "basic": "A",
        "supplied with part": "A",
        "supplied with product": "A",
        "product group": "B",
        "commercial": "C",
        "proprietary": "D",
        "not feasible": "E",
    },
    "skill": {"layman": "A", "generalist": "B", "expert": "C", "authorised": "D", "not feasible": "E"},
    "environment": {"use": "A", "workshop": "B", "production": "C"},
}
WORDS = {"fastener": "fasteners", "tool": "tools", "skill": "skill", "environment": "environment"}
SOURCE = "EN 45554, classes from memory"


@frozen
class Classes:
    """The classes of one priority part by criterion, under the least and the most reading of the facts."""

    part: str
    near: dict[str, Told]
    far: dict[str, Told]
    why_not: str = ""

    def letters(self, criterion: str) -> str:
        """The letter, or the letters that it may be: "A", "A to C"."""
        of = LETTERS[criterion]
        best, worst = of[self.near[criterion].best], max(of[self.near[criterion].worst], of[self.far[criterion].worst])
        return best if best == worst else f"{best} to {worst}"


@lru_cache(maxsize=4)
def classes(study: Study) -> tuple[Classes, ...]:
    """The classes of every priority part."""
    out = []
    for count in counting(study):
        both = both_routes(study, count.part)
        if both.least is None:
            out.append(Classes(count.part, {}, {}, count.why_not))
            continue
        near = {c: class_of_route(study, c, both.least) for c in LETTERS}
        far = {c: class_of_route(study, c, both.most or both.least) for c in LETTERS}
        out.append(Classes(count.part, near, far))
    return tuple(out)


def judge(study: Study) -> Judgement:
    """The classes as a judgement."""
    found = classes(study)
    entries, asks = [], []
    for one in found:
        name = study.name(one.part)
        if one.why_not:
            entries.append(Entry(name, ("—",) * 4, (one.why_not,), (one.part,)))
            continue
        reasons = []
        for criterion in LETTERS:
            told = one.near[criterion]
            cause = study.name(told.about) if study.find(told.about) else told.about
            assumed = " (assumed)" if told.basis == "assumed" else ""
            reasons.append(f"{WORDS[criterion]}: {told.likely}{f', {cause}' if cause else ''}{assumed}")
            if not told.sure:
                asks.append(Ask(f"{name}, {WORDS[criterion]}: {cause or 'nobody said'}", told.about, 1.0))
        causes = tuple(dict.fromkeys((one.part, *(t.about for t in one.near.values() if study.find(t.about)))))
        entries.append(Entry(name, tuple(one.letters(c) for c in LETTERS), tuple(reasons), causes))
    missing = () if found else ("No part is marked as a priority part.",)
    unknown = evidence.unknown_classes(study.device.tools)
    if unknown:
        missing = (*missing, f"Tool classes not understood: {', '.join(unknown)}.")
    data: dict[str, Any] = {
        "parts": [
            {
                "part": study.name(one.part),
                "why_not": one.why_not,
                **{c: one.letters(c) if not one.why_not else "" for c in LETTERS},
                "assumed": [c for c in LETTERS if not one.why_not and one.near[c].basis == "assumed"],
            }
            for one in found
        ]
    }
    heads = ("part", *(WORDS[c] for c in LETTERS))
    return Judgement("", SOURCE, False, heads, tuple(entries), missing, data, None, tuple(dict.fromkeys(asks)))


SCHEME = Scheme(
    "classes",
    "Classes",
    "For each priority part the worst fastener, tool, skill and working environment on the way, by the classes of "
    "EN 45554. No single score: the standard gives none.",
    judge,
)
