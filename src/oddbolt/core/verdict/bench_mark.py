"""The bench mark: out of ten, each deduction a rule from ``reference/bench_mark.toml`` with its cause."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from functools import lru_cache
from typing import Any

from attrs import frozen

from oddbolt.core.fasteners.look_alikes import look_alikes
from oddbolt.core.reach import needs_of
from oddbolt.core.reference.tables import screw_label, table
from oddbolt.core.study import Joint, Study
from oddbolt.core.verdict.counting import Count, counting
from oddbolt.core.verdict.scheme import Entry, Judgement, Scheme


@frozen
class Deduction:
    """What one rule takes off, what the rule is about, and for what. ``causes`` are ids of joints and parts;
    ``capped`` says that the rule's most was reached."""

    rule: str
    about: str
    points: float
    reasons: tuple[str, ...]
    causes: tuple[str, ...]
    capped: bool


@frozen
class Mark:
    """The mark, and how it came about: ``start`` less the deductions; None where the evidence allows no mark. Then,
    and where a priority part cannot be judged, ``open_questions`` say what is missing."""

    value: float | None
    start: float
    deductions: tuple[Deduction, ...]
    source: str
    verified: bool
    open_questions: tuple[str, ...]


Case = tuple[float, str, tuple[str, ...]]


@lru_cache(maxsize=4)
def bench_mark(study: Study) -> Mark:
    """The mark of a study, from the routes to its priority parts."""
    data = table("bench_mark")
    counts = counting(study)
    deductions = []
    for rule in data["rule"]:
        cases = list(CASES[rule["id"]](study, counts, rule))
        raw = sum(amount for amount, _, _ in cases) * rule["each"]
        if raw <= 0:
            continue
        points = round(min(raw, rule["most"]), 2)
        causes = tuple(dict.fromkeys(c for _, _, ids in cases for c in ids))
        reasons = tuple(dict.fromkeys(text for _, text, _ in cases))
        deductions.append(Deduction(rule["id"], rule["about"], points, reasons, causes, raw > rule["most"]))
    missing = _missing(study, counts)
    value = None if missing else max(data["floor"], round(data["start"] - sum(d.points for d in deductions), 2))
    asked = missing or tuple(f"{study.name(c.part)} is not judged: {c.why_not}" for c in counts if c.route is None)
    return Mark(value, data["start"], tuple(deductions), data["source"], data["verified"], asked)


def _missing(study: Study, counts: tuple[Count, ...]) -> tuple[str, ...]:
    """What a mark cannot do without, and is not there."""
    out = []
    if not any(s.takes_out and s.phase == "apart" for s in study.steps.values()):
        out.append("No step takes a part out yet.")
    elif not any(s.releases for s in study.steps.values()):
        out.append("No joint is recorded yet.")
    if not counts:
        out.append("No part is marked as a priority part.")
    elif all(c.route is None for c in counts):
        out.append(f"No recorded way leads to {', '.join(study.name(c.part) for c in counts)}.")
    return tuple(out)


def judge(study: Study) -> Judgement:
    """The bench mark as a judgement."""
    mark = bench_mark(study)
    partly = "at most " if mark.open_questions else ""
    headline = "" if mark.value is None else f"{partly}{mark.value:g} of {mark.start:g}"
    entries = tuple(
        Entry(d.about, (f"−{d.points:.2f}",), (*d.reasons, *((CAPPED,) if d.capped else ())), d.causes)
        for d in mark.deductions
    )
    data = {
        "mark": mark.value,
        "out_of": 10,
        "start": mark.start,
        "deductions": [
            {
                "rule": d.rule,
                "about": d.about,
                "points": d.points,
                "capped": d.capped,
                "reasons": list(d.reasons),
                "causes": list(d.causes),
            }
            for d in mark.deductions
        ],
        "open": list(mark.open_questions),
    }
    heads = ("deduction", "points")
    return Judgement(headline, mark.source, mark.verified, heads, entries, mark.open_questions, data)


CAPPED = "maximum deduction of this rule"
SCHEME = Scheme("bench mark", "Bench mark", "A mark out of ten: ten, less what each rule takes off.", judge)


def _on_the_way(study: Study, counts: tuple[Count, ...]) -> dict[str, Joint]:
    """The joints released on the way to any priority part."""
    steps = dict.fromkeys(s for c in counts if c.route for s in c.route.steps)
    return {j: study.joints[j] for s in steps for j in study.steps[s].releases}


def _cover_glued(study: Study, _counts: tuple[Count, ...], rule: Mapping[str, Any]) -> Iterator[Case]:
    first = next(
        (
            s
            for s in study.steps.values()
            if s.takes_out
            and s.phase == "apart"
            and any(study.joints[j].into or study.joints[j].holds for j in s.releases)
        ),
        None,
    )
    opening = next(
        (s for s in study.steps.values() if s.takes_out and s.phase == "apart" and _is_cover(study, s.takes_out)), first
    )
    softened = {j for s in study.steps.values() for j in s.softens}
    for part in opening.takes_out if opening else ():
        for id, joint in study.joints.items():
            if part in joint.holds and id in softened:
                yield 1.0, rule["reason"].format(thing=study.name(id)), (id,)


def _is_cover(study: Study, parts: tuple[str, ...]) -> bool:
    return any(study.parts[p].kind == "cover" for p in parts)


def _glue(tab: bool) -> Callable[[Study, tuple[Count, ...], Mapping[str, Any]], Iterator[Case]]:
    def cases(study: Study, counts: tuple[Count, ...], rule: Mapping[str, Any]) -> Iterator[Case]:
        for id, joint in _on_the_way(study, counts).items():
            if (
                joint.kind == "adhesive"
                and bool(joint.tab) is tab
                and any(study.parts[p].priority for p in joint.holds)
            ):
                yield 1.0, rule["reason"].format(thing=study.name(id)), (id,)

    return cases


def _drives(study: Study, _counts: tuple[Count, ...], rule: Mapping[str, Any]) -> Iterator[Case]:
    kinds: dict[str, list[str]] = {}
    for id, joint in study.joints.items():
        if joint.kind == "screw" and (joint.drive or joint.size):
            kinds.setdefault(screw_label(joint.drive, joint.size), []).append(id)
    extra = len(kinds) - rule["free"]
    if extra > 0:
        causes = tuple(ids[0] for ids in kinds.values())
        yield float(extra), rule["reason"].format(count=len(kinds), things=", ".join(kinds)), causes


def _look_alikes(study: Study, _counts: tuple[Count, ...], rule: Mapping[str, Any]) -> Iterator[Case]:
    for a, b in look_alikes(study):
        gap = abs((a.length_mm or 0) - (b.length_mm or 0))
        names = f"{study.name(a.id)} / {study.name(b.id)}"
        yield 1.0, rule["reason"].format(thing=names, gap=f"{gap:g}"), (a.id, b.id)


def _depth(study: Study, counts: tuple[Count, ...], rule: Mapping[str, Any]) -> Iterator[Case]:
    for count in counts:
        if count.route and count.route.totals.steps > rule["free"]:
            n = count.route.totals.steps
            yield float(n - rule["free"]), rule["reason"].format(thing=study.name(count.part), count=n), (count.part,)


def _renewals(study: Study, counts: tuple[Count, ...], rule: Mapping[str, Any]) -> Iterator[Case]:
    for id in dict.fromkeys(r for c in counts if c.route for r in c.route.totals.renew):
        yield 1.0, rule["reason"].format(thing=study.name(id)), (id,)


def _live(study: Study, _counts: tuple[Count, ...], rule: Mapping[str, Any]) -> Iterator[Case]:
    for step in needs_of(study).live:
        for id in study.steps[step].releases:
            yield 1.0, rule["reason"].format(thing=study.name(id)), (id,)


def _dragged(study: Study, counts: tuple[Count, ...], rule: Mapping[str, Any]) -> Iterator[Case]:
    taken = {p for s in study.steps.values() for p in s.takes_out}
    for count in counts:
        carriers = study.carriers(count.part)
        if count.route and count.part not in taken and carriers:
            yield (
                1.0,
                rule["reason"].format(thing=study.name(count.part), carrier=study.name(carriers[0])),
                (count.part,),
            )


CASES: Mapping[str, Callable[[Study, tuple[Count, ...], Mapping[str, Any]], Iterator[Case]]] = {
    "cover glued": _cover_glued,
    "glue without tab": _glue(False),
    "glue with tab": _glue(True),
    "drives": _drives,
    "look-alikes": _look_alikes,
    "depth": _depth,
    "renewals": _renewals,
    "live": _live,
    "dragged along": _dragged,
}
