"""The bench mark: out of ten, each deduction a rule from ``reference/bench_mark.toml`` with its cause."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator, Mapping
from functools import lru_cache
from typing import Any

from attrs import frozen

from oddbolt.core.components.kinds import kind_of
from oddbolt.core.fasteners.look_alikes import look_alikes
from oddbolt.core.reach import needs_of
from oddbolt.core.reference.tables import screw_label, table
from oddbolt.core.safety import contents
from oddbolt.core.study import Joint, Step, Study
from oddbolt.core.verdict.counting import Count, both_routes, counting
from oddbolt.core.verdict.evidence import CUTTING, SOLVENT
from oddbolt.core.verdict.scheme import Ask, Entry, Judgement, Range3, Scheme


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
    and where a priority part cannot be judged, ``open_questions`` say what is missing. ``span`` is the mark as far as
    the record knows it."""

    value: float | None
    start: float
    deductions: tuple[Deduction, ...]
    source: str
    verified: bool
    open_questions: tuple[str, ...]
    span: Range3 | None = None


Case = tuple[float, str, tuple[str, ...]]


@frozen
class Reading:
    """How the record is read: ``kind`` is "best", "likely" or "worst" for what is unstated, with the counts under the
    least or, for the worst, the most reading of the facts."""

    kind: str
    counts: tuple[Count, ...]


@lru_cache(maxsize=4)
def bench_mark(study: Study) -> Mark:
    """The mark of a study, from the routes to its priority parts: likely, and the least and most it may be."""
    data = table("bench_mark")
    counts = counting(study)
    likely = _deductions(study, Reading("likely", counts))
    missing = _missing(study, counts)
    asked = missing or tuple(f"{study.name(c.part)} is not judged: {c.why_not}" for c in counts if c.route is None)

    def mark(deductions: Iterable[Deduction]) -> float:
        return float(max(data["floor"], round(data["start"] - sum(d.points for d in deductions), 2)))

    if missing:
        return Mark(None, data["start"], likely, data["source"], data["verified"], asked)
    value = mark(likely)
    best = max(value, mark(_deductions(study, Reading("best", counts))))
    worst = min(value, mark(_deductions(study, Reading("worst", _most(study, counts)))))
    return Mark(value, data["start"], likely, data["source"], data["verified"], asked, Range3(worst, value, best, 10.0))


def spotless(study: Study) -> frozenset[str]:
    """The rules that take nothing off under any reading of the record; none where the evidence allows no mark."""
    counts = counting(study)
    if _missing(study, counts) or any(c.route is None for c in counts):
        return frozenset()
    readings = (Reading("likely", counts), Reading("best", counts), Reading("worst", _most(study, counts)))
    stained = {d.rule for reading in readings for d in _deductions(study, reading)}
    return frozenset(rule["id"] for rule in table("bench_mark")["rule"]) - stained


def likely_mark(study: Study) -> float | None:
    """The likely mark alone, as :func:`bench_mark` gives it, without its ends."""
    data = table("bench_mark")
    counts = counting(study)
    if _missing(study, counts):
        return None
    points = sum(d.points for d in _deductions(study, Reading("likely", counts)))
    return float(max(data["floor"], round(data["start"] - points, 2)))


def _most(study: Study, counts: tuple[Count, ...]) -> tuple[Count, ...]:
    """The counts under the most reading of the facts, where there is a way under it."""
    out = []
    for count in counts:
        most = both_routes(study, count.part).most if count.route is not None else None
        out.append(count if most is None else Count(count.part, most, count.steps, count.seconds))
    return tuple(out)


def _deductions(study: Study, reading: Reading) -> tuple[Deduction, ...]:
    out = []
    for rule in table("bench_mark")["rule"]:
        cases = list(CASES[rule["id"]](study, reading, rule))
        raw = sum(amount for amount, _, _ in cases) * rule["each"]
        if raw <= 0:
            continue
        points = round(min(raw, rule["most"]), 2)
        causes = tuple(dict.fromkeys(c for _, _, ids in cases for c in ids))
        reasons = tuple(dict.fromkeys(text for _, text, _ in cases))
        out.append(Deduction(rule["id"], rule["about"], points, reasons, causes, raw > rule["most"]))
    return tuple(out)


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
    headline = "" if mark.value is None or mark.span is None else f"{partly}{mark.span.words()} of {mark.start:g}"
    entries = tuple(
        Entry(d.about, (f"−{d.points:.2f}",), (*d.reasons, *((CAPPED,) if d.capped else ())), d.causes)
        for d in mark.deductions
    )
    data = {
        "mark": mark.value,
        "low": mark.span.low if mark.span else None,
        "high": mark.span.high if mark.span else None,
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
    asks = _asks(study, mark)
    return Judgement(headline, mark.source, mark.verified, heads, entries, mark.open_questions, data, mark.span, asks)


def _asks(study: Study, mark: Mark) -> tuple[Ask, ...]:
    """What would narrow the mark: glue of which nobody said whether it has a tab, screws without a drive, facts
    open."""
    if mark.span is None or mark.span.is_one:
        return ()
    out = [
        Ask(f"Has {study.name(id)} a pull tab?", id, 0.5)
        for id, joint in study.joints.items()
        if joint.kind == "adhesive" and joint.tab is None and any(study.parts[p].priority for p in joint.holds)
    ]
    way = _steps_on_the_way(study, Reading("worst", counting(study)))
    seals = [study.parts[p] for step in way for p in step.takes_out if not study.parts[p].reuse]
    out += [
        Ask(f"Can {part.name} be used again?", part.id, 0.2)
        for part in seals
        if (kind := kind_of(part.kind or part.name)) is not None and kind.family == "seal"
    ]
    out += [
        Ask(f"Which driver turns {study.name(id)}?", id, 0.25)
        for id, joint in study.joints.items()
        if joint.kind == "screw" and not (joint.drive or joint.size)
    ]
    rest = mark.span.likely - mark.span.low
    if rest > 0.05:
        out.append(Ask("Which parts lie over which: answer what Reach asks.", "", round(rest, 2)))
    return tuple(sorted(out, key=lambda ask: -ask.narrows))


CAPPED = "maximum deduction of this rule"
SCHEME = Scheme(
    "bench mark", "Bench mark", "A mark out of ten: ten, less what each rule takes off.", judge, likely_mark
)


def _on_the_way(study: Study, counts: tuple[Count, ...]) -> dict[str, Joint]:
    """The joints released on the way to any priority part."""
    steps = dict.fromkeys(s for c in counts if c.route for s in c.route.steps)
    return {j: study.joints[j] for s in steps for j in study.steps[s].releases}


def _cover_glued(study: Study, _reading: Reading, rule: Mapping[str, Any]) -> Iterator[Case]:
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


def _glue(tab: bool) -> Callable[[Study, Reading, Mapping[str, Any]], Iterator[Case]]:
    def cases(study: Study, reading: Reading, rule: Mapping[str, Any]) -> Iterator[Case]:
        for id, joint in _on_the_way(study, reading.counts).items():
            if (
                joint.kind == "adhesive"
                and _tab(joint, reading) is tab
                and any(study.parts[p].priority for p in joint.holds)
            ):
                yield 1.0, rule["reason"].format(thing=study.name(id)), (id,)

    return cases


def _tab(joint: Joint, reading: Reading) -> bool:
    """Whether glue has a pull tab; where nobody said so, only the best reading gives it one."""
    return reading.kind == "best" if joint.tab is None else joint.tab


def _drives(study: Study, reading: Reading, rule: Mapping[str, Any]) -> Iterator[Case]:
    kinds: dict[str, list[str]] = {}
    for id, joint in study.joints.items():
        if joint.kind == "screw" and (joint.drive or joint.size):
            kinds.setdefault(screw_label(joint.drive, joint.size), []).append(id)
    unknown = sum(j.kind == "screw" and not (j.drive or j.size) for j in study.joints.values())
    extra = len(kinds) + (unknown if reading.kind == "worst" else 0) - rule["free"]
    if extra > 0:
        causes = tuple(ids[0] for ids in kinds.values())
        yield float(extra), rule["reason"].format(count=len(kinds), things=", ".join(kinds)), causes


def _look_alikes(study: Study, _reading: Reading, rule: Mapping[str, Any]) -> Iterator[Case]:
    for a, b in look_alikes(study):
        gap = abs((a.length_mm or 0) - (b.length_mm or 0))
        names = f"{study.name(a.id)} / {study.name(b.id)}"
        yield 1.0, rule["reason"].format(thing=names, gap=f"{gap:g}"), (a.id, b.id)


def _depth(study: Study, reading: Reading, rule: Mapping[str, Any]) -> Iterator[Case]:
    for count in reading.counts:
        if count.route and count.route.totals.steps > rule["free"]:
            n = count.route.totals.steps
            yield float(n - rule["free"]), rule["reason"].format(thing=study.name(count.part), count=n), (count.part,)


def _renewals(study: Study, reading: Reading, rule: Mapping[str, Any]) -> Iterator[Case]:
    for id in dict.fromkeys(r for c in reading.counts if c.route for r in c.route.totals.renew):
        yield 1.0, rule["reason"].format(thing=study.name(id)), (id,)


def _live(study: Study, _reading: Reading, rule: Mapping[str, Any]) -> Iterator[Case]:
    for step in needs_of(study).live:
        for id in study.steps[step].releases:
            yield 1.0, rule["reason"].format(thing=study.name(id)), (id,)


def _dragged(study: Study, reading: Reading, rule: Mapping[str, Any]) -> Iterator[Case]:
    taken = {p for s in study.steps.values() for p in s.takes_out}
    for count in reading.counts:
        carriers = study.carriers(count.part)
        if count.route and count.part not in taken and carriers:
            yield (
                1.0,
                rule["reason"].format(thing=study.name(count.part), carrier=study.name(carriers[0])),
                (count.part,),
            )


def _steps_on_the_way(study: Study, reading: Reading) -> list[Step]:
    """The steps on the way to any priority part."""
    return [study.steps[s] for s in dict.fromkeys(s for c in reading.counts if c.route for s in c.route.steps)]


def _solvent(study: Study, reading: Reading, rule: Mapping[str, Any]) -> Iterator[Case]:
    for step in _steps_on_the_way(study, reading):
        if SOLVENT.search(f"{step.tool} {step.verb}"):
            yield 1.0, rule["reason"].format(thing=study.name(step.id)), (step.id,)


def _solder(study: Study, reading: Reading, rule: Mapping[str, Any]) -> Iterator[Case]:
    for id, joint in _on_the_way(study, reading.counts).items():
        if joint.kind == "solder":
            yield 1.0, rule["reason"].format(thing=study.name(id)), (id,)


def _cut(study: Study, reading: Reading, rule: Mapping[str, Any]) -> Iterator[Case]:
    for step in _steps_on_the_way(study, reading):
        rivets = [j for j in step.releases if study.joints[j].kind == "rivet"]
        if step.destroys or rivets or CUTTING.search(step.verb):
            yield 1.0, rule["reason"].format(thing=study.name(step.id)), (step.id,)


def _hidden(study: Study, reading: Reading, rule: Mapping[str, Any]) -> Iterator[Case]:
    """Screws under a label, a foot or a seal, as said of their place or as a fact over them."""
    over: dict[str, str] = {}
    for fact in study.facts.values():
        covers = study.parts.get(fact.over)
        kind = kind_of(covers.kind or covers.name) if covers and fact.state != "ruled out" else None
        if kind is not None and (kind.family in ("label", "seal") or kind.id == "foot"):
            over[fact.under] = fact.over
    for id, joint in _on_the_way(study, reading.counts).items():
        hidden = HIDDEN.search(f"{joint.place} {joint.note}")
        if joint.kind == "screw" and (hidden or id in over):
            yield 1.0, rule["reason"].format(thing=study.name(id)), (id,)


def _danger(study: Study, reading: Reading, rule: Mapping[str, Any]) -> Iterator[Case]:
    """Cells that are glued without a tab and pried or heated, and mains or charged capacitors on the way."""
    inside = contents(study)
    cells = set(inside.get("cell", ()))
    for id, joint in _on_the_way(study, reading.counts).items():
        if joint.kind == "adhesive" and not _tab(joint, reading) and cells & set(joint.holds):
            yield 1.0, rule["reason"].format(thing=study.name(id)), (id,)
    for content in ("mains", "capacitor", "laser", "sealed gas"):
        for id in inside.get(content, ())[:1]:
            yield 1.0, rule["reason"].format(thing=study.name(id)), (id,)


def _fused(study: Study, _reading: Reading, rule: Mapping[str, Any]) -> Iterator[Case]:
    """Priority parts in a joint that cannot be undone without damage and that no recorded step cuts open."""
    released = {j for s in study.steps.values() for j in s.releases}
    for id, joint in study.joints.items():
        lasting = joint.fastener == "neither" or (joint.kind == "rivet" and not joint.fastener)
        for part in joint.holds:
            others = [p for p in (*joint.holds, joint.into) if p and p != part]
            if lasting and id not in released and study.parts[part].priority and others:
                words = rule["reason"].format(thing=study.name(part), joint=study.name(id))
                yield 1.0, words, (part, id)


def _seals(study: Study, reading: Reading, rule: Mapping[str, Any]) -> Iterator[Case]:
    """Seals on the way that show an opening, or of which nobody said whether they can be used again: one-time under the
    worst reading, those that show an opening under every reading."""
    for step in _steps_on_the_way(study, reading):
        for id in step.takes_out:
            part = study.parts[id]
            kind = kind_of(part.kind or part.name)
            if kind is None or part.reuse in ("reuse", "renew"):  # what must be renewed counts among the renewals
                continue
            shows_opening = kind.id == "seal sticker"
            if shows_opening or (kind.family == "seal" and reading.kind == "worst"):
                yield 1.0, rule["reason"].format(thing=part.name), (id,)


HIDDEN = re.compile(
    r"\b(under|hidden|below|beneath|behind) (?:a |the |its )?(?:\w+ )?(label|sticker|feet|foot|seal|pad|cap|plate)s?\b",
    re.IGNORECASE,
)

CASES: Mapping[str, Callable[[Study, Reading, Mapping[str, Any]], Iterator[Case]]] = {
    "cover glued": _cover_glued,
    "glue without tab": _glue(False),
    "glue with tab": _glue(True),
    "drives": _drives,
    "look-alikes": _look_alikes,
    "depth": _depth,
    "renewals": _renewals,
    "live": _live,
    "dragged along": _dragged,
    "solvent": _solvent,
    "solder": _solder,
    "cutting": _cut,
    "hidden screws": _hidden,
    "danger": _danger,
    "fused": _fused,
    "seals": _seals,
}
