"""Tables of what is worked out from a study: reach, routes, verdict, ledger, runs; and its findings. Units stand in the
heads."""

from __future__ import annotations

from oddbolt.core.reach import step_times
from oddbolt.core.reach.describe import step_text
from oddbolt.core.reach.overview import overview_of
from oddbolt.core.reach.parts import reach_of_all
from oddbolt.core.reassembly import ledger
from oddbolt.core.study import Study
from oddbolt.core.verdict import SCHEMES, counting

Rows = list[list[str]]


def _figure(value: float | None) -> str:
    return "" if value is None else f"{value:.10g}"


def _seconds(value: float) -> str:
    """A time to the hundredth, however long it is."""
    return f"{round(value, 2):.10g}"


def reach_rows(study: Study) -> Rows:
    """What it takes to free every part, the nearest first: the strata as a table."""
    out = [
        [
            "part id",
            "part",
            "priority",
            "module",
            "steps least",
            "steps most",
            "seconds least",
            "seconds most",
            "tools",
            "renewals",
            "risk points",
            "why not",
        ]
    ]
    overview = {one.part: one for one in overview_of(study)}
    found = reach_of_all(study)
    order = sorted(found.values(), key=lambda r: (r.steps is None, r.steps.least if r.steps else 0))
    for r in order:
        part, one = study.parts[r.part], overview.get(r.part)
        steps = [r.steps.least, r.steps.most] if r.steps else [None, None]
        seconds = [r.seconds.least, r.seconds.most] if r.seconds else [None, None]
        carriers = study.carriers(r.part)
        out.append(
            [
                r.part,
                part.name,
                "yes" if part.priority else "",
                study.name(carriers[0]) if carriers else "",
                *map(_figure, (*steps, *seconds)),
                "; ".join(one.tools) if one else "",
                str(one.renewals) if one else "",
                _figure(one.risk) if one else "",
                r.why_not,
            ]
        )
    return out


def route_rows(study: Study) -> Rows:
    """The best route to every priority part, leg by leg."""
    out = [
        ["target id", "target", "leg", "step id", "action", "tool", "turn to", "at_s", "seconds", "wait_s", "idle_s"]
    ]
    for count in counting(study):
        for n, leg in enumerate(count.route.legs if count.route else (), 1):
            out.append(
                [
                    count.part,
                    study.name(count.part),
                    str(n),
                    leg.step,
                    step_text(study, leg.step),
                    leg.tool or "hand",
                    leg.face if leg.turn else "",
                    _seconds(leg.start_s),
                    _seconds(leg.seconds),
                    _figure(leg.wait_s or None),
                    _seconds(leg.idle_s) if leg.idle_s else "",
                ]
            )
    return out


def verdict_rows(study: Study) -> Rows:
    """Every school's headline and lines; least, likely and most where the figure is a range."""
    out = [["school", "line", "about id", "about", "figures", "reasons", "least", "likely", "most", "source"]]
    for scheme in SCHEMES.values():
        judged = scheme.judge(study)
        total = judged.total
        ends = [_figure(v) for v in (total.low, total.likely, total.high)] if total else ["", "", ""]
        source = judged.source + ("" if judged.verified else ", unverified")
        out.append([scheme.name, "total", "", judged.headline, "", "; ".join(judged.missing), *ends, source])
        for entry in judged.entries:
            told = "; ".join(f"{h}: {f}" for h, f in zip(judged.heads[1:], entry.figures, strict=False) if f)
            cause = entry.causes[0] if entry.causes else ""
            out.append([scheme.name, "entry", cause, entry.about, told, "; ".join(entry.reasons), "", "", "", ""])
        out += [[scheme.name, "open", ask.about, ask.words, "", "", "", "", "", ""] for ask in judged.asks]
    return out


def ledger_rows(study: Study) -> Rows:
    """What was undone and taken out, and where it is now."""
    out = [["id", "what", "sort", "out", "back", "missing", "renewed", "too many", "left out because", "state"]]
    return out + [
        [
            line.id,
            line.name,
            line.sort,
            _figure(line.taken),
            _figure(line.back),
            str(line.missing),
            str(line.renewed),
            str(line.extra),
            line.left,
            "open" if line.open else "closed",
        ]
        for line in ledger(study).lines
    ]


def run_rows(study: Study) -> Rows:
    """Every lap of every run, and the time that the step is taken to have now."""
    out = [["run", "kind", "started", "step id", "action", "seconds", "ended", "step takes_s", "time is"]]
    times = step_times(study)
    for run in study.runs.values():
        for lap in run.laps:
            known = study.steps.get(lap.step)
            now = times.get(lap.step)
            out.append(
                [
                    run.id,
                    run.kind,
                    run.started,
                    lap.step,
                    step_text(study, lap.step) if known else "",
                    f"{lap.seconds:.10g}",
                    lap.ended,
                    _seconds(now.seconds) if now else "",
                    now.basis if now else "",
                ]
            )
    return out


def finding_rows(study: Study) -> Rows:
    """What was observed."""
    out = [["id", "kind", "text", "about id", "about", "value", "unit"]]
    return out + [
        [f.id, f.kind, f.text, f.about, study.name(f.about) if f.about else "", _figure(f.value), f.unit]
        for f in study.findings.values()
    ]
