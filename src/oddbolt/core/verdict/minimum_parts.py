"""Minimum parts: how many parts must be parts of their own, by the three questions of design for assembly.

A part must be one if it moves against all others, if it must be of another material, or if it must be separate so that
others can go in or come out. Fasteners never count. Every part that nobody answered for may be either."""

from __future__ import annotations

from oddbolt.core.components.kinds import kind_of
from oddbolt.core.study import Part, Study
from oddbolt.core.verdict.scheme import Ask, Entry, Judgement, Scheme

SOURCE = "three questions of design for assembly (Boothroyd, Dewhurst), from memory"
ANSWERS = {
    "moves": "it moves against all others",
    "material": "it must be of another material",
    "separate": "others could not go in or come out",
    "no": "it could be one with another",
}
UNANSWERED = "nobody answered; the field “must be its own” of a part takes the answer"
QUESTION = "Must {} be a part of its own: does it move, must it be of another material, or separate for others?"


def counted(study: Study) -> list[Part]:
    """The parts that count: all that is no fastener."""
    out = []
    for part in study.parts.values():
        kind = kind_of(part.kind or part.name)
        if kind is None or kind.family != "fixing":
            out.append(part)
    return out


def judge(study: Study) -> Judgement:
    """Minimum parts as a judgement: from those that surely are needed to those that may be."""
    parts = counted(study)
    answered = [part for part in parts if part.must_be]
    least = sum(part.must_be != "no" for part in answered)
    most = least + len(parts) - len(answered)
    open_ = [part for part in parts if not part.must_be]
    entries = [
        Entry(part.name, ("no" if part.must_be == "no" else "yes", ANSWERS[part.must_be]), (), (part.id,))
        for part in answered
    ]
    if open_:
        others = "others" if answered else "parts"
        entries.append(Entry(f"{len(open_)} {others}", ("?", UNANSWERED), (), (open_[0].id,)))
    asks = tuple(Ask(QUESTION.format(part.name), part.id, 1.0) for part in open_) if answered else ()
    data = {"parts": len(parts), "least": least, "most": most, "answered": len(answered)}
    span = f"{least}" if least == most else f"{least} to {most}"
    headline = f"{span} of {len(parts)} parts must be parts of their own" if answered else ""
    missing = () if parts else ("There are no parts yet.",)
    return Judgement(headline, SOURCE, False, ("part", "its own", "because"), tuple(entries), missing, data, None, asks)


SCHEME = Scheme(
    "minimum parts", "Minimum parts", "How many parts could not be one with another; fasteners never count.", judge
)
