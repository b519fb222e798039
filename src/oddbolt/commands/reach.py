"""Commands about reach: what each part takes, the route, what is not known, what would help."""

from __future__ import annotations

import argparse
import sys
from typing import Any

from oddbolt.commands.loading import load, parts_named, print_json


def reach(options: argparse.Namespace) -> int:
    from oddbolt.core.reach import reach_of_all
    from oddbolt.core.study.words import duration_span, span

    study = load(options.study)
    found = reach_of_all(study)
    if options.output is not None:
        from oddbolt.files.graph_export import write_graph

        write_graph(options.output, study, options.facts)
    if options.json:
        rows = []
        for id, r in found.items():
            row: dict[str, Any] = {"id": id, "part": study.parts[id].name, "priority": study.parts[id].priority}
            for name in ("steps", "operations", "seconds"):
                value = getattr(r, name)
                row[name] = None if value is None else {"least": value.least, "most": value.most}
            rows.append({**row, "needed": list(r.needed), "why_not": r.why_not})
        print_json({"parts": rows})
        return 0
    for id, r in found.items():
        name = study.parts[id].name + ("*" if study.parts[id].priority else "")
        if r.steps and r.seconds:
            steps = span(r.steps.least, r.steps.most, "steps")
            print(f"{name:<24} {steps:<16} {duration_span(r.seconds.least, r.seconds.most)}")
        else:
            print(f"{name:<24} {r.why_not}")
    return 0


def route(options: argparse.Namespace) -> int:
    from oddbolt.core.reach import route_to
    from oddbolt.core.reach.routes import alternatives, barred
    from oddbolt.core.reach.spread import spread_of
    from oddbolt.core.study.words import duration
    from oddbolt.files.bench_card import card_html
    from oddbolt.files.pdf import write_page
    from oddbolt.files.report import route_summary, step_text
    from oddbolt.files.text import read_text

    study = load(options.study)
    tools = None
    if options.bench is not None:
        tools = {line.strip() for line in read_text(options.bench).splitlines() if line.strip()}
    without = barred(study, parts_named(study, options.keep_in), tools)
    targets = parts_named(study, options.target)
    route = route_to(study, targets, facts=options.facts, minimise=options.minimise, without=without)
    spread = spread_of(study, route.legs)
    others = alternatives(study, targets, options.others + 1, options.minimise, without)[1:] if options.others else ()
    if options.output is not None:
        write_page(options.output, card_html(study, route))
    if options.json:
        t = route.totals
        print_json(
            {
                "targets": [study.name(t) for t in route.targets],
                "facts": route.facts,
                "proved": route.proved,
                "seconds": round(route.seconds, 2),
                "bound_s": round(route.bound_s, 2),
                "minimised": route.minimised,
                "p50_s": round(spread.p50_s, 1),
                "p90_s": round(spread.p90_s, 1),
                "uncertainty": [{"step": id, "share": round(share, 3)} for id, share in spread.shares],
                "others": [{"seconds": round(r.seconds, 2), "steps": list(r.steps)} for r in others],
                "steps": t.steps,
                "operations": t.operations,
                "fasteners": t.fasteners,
                "fasteners_uncounted": t.fasteners_uncounted,
                "tools": list(t.tools),
                "tool_changes": route.tool_changes,
                "turns": route.turns,
                "joints": dict(t.joints),
                "renew": [study.name(r) for r in t.renew],
                "legs": [
                    {
                        "step": leg.step,
                        "number": study.step_number(leg.step),
                        "what": step_text(study, leg.step),
                        "start_s": round(leg.start_s, 2),
                        "seconds": leg.seconds,
                        "time_is": leg.basis,
                        "tool": leg.tool,
                        "face": leg.face,
                        "turn": leg.turn,
                        "idle_s": leg.idle_s,
                        "wait_s": leg.wait_s,
                    }
                    for leg in route.legs
                ],
            }
        )
        return 0
    print(f"{', '.join(study.name(t) for t in route.targets)}: {route_summary(study, route)}")
    for leg in route.legs:
        when = f"{duration(leg.start_s):>14}  {study.step_number(leg.step):>3}"
        print(f"{when}  {leg.tool or 'hand':<10} {step_text(study, leg.step)}")
    if route.totals.renew:
        print("Renew: " + ", ".join(study.name(r) for r in route.totals.renew))
    print(f"Half of all times lie under {duration(spread.p50_s)}, nine in ten under {duration(spread.p90_s)}.")
    most = [f"{step_text(study, id)} ({share:.0%})" for id, share in spread.shares[:2]]
    print(f"Most of the uncertainty: {'; '.join(most)}.")
    for other in others:
        new = [s for s in other.steps if s not in route.steps]
        print(f"Another: {route_summary(study, other)}, by {'; '.join(step_text(study, s) for s in new[:4])}")
    return 0


def questions(options: argparse.Namespace) -> int:
    from oddbolt.core.reach import conflict, open_questions, reach_of_all
    from oddbolt.core.study.words import duration, plural

    study = load(options.study)
    parts = parts_named(study, options.part)
    found = open_questions(study, parts)
    stuck = [id for id, r in reach_of_all(study).items() if r.seconds is None and r.why_not]
    conflicts = {id: conflict(study, id) for id in stuck}
    if options.json:
        print_json(
            {
                "questions": [
                    {
                        "over": q.over,
                        "under": q.under,
                        "question": q.words(study),
                        "parts": [study.name(p) for p in q.parts],
                        "narrows_s": q.narrows_s,
                    }
                    for q in found
                ],
                "conflicts": [
                    {"part": study.name(id), "facts": list(facts), "words": [study.name(f) for f in facts]}
                    for id, facts in conflicts.items()
                    if facts
                ],
            }
        )
        return 0
    for q in found:
        narrows = f"narrows by {duration(q.narrows_s)}" if q.narrows_s else "narrows the steps"
        print(f"{q.words(study):<52} {narrows}, for {', '.join(study.name(p) for p in q.parts)}")
    if found:
        print(f"At most {plural(len(found), 'answer')} left until every one of these parts is exact.")
    else:
        print("Nothing left to ask: the reach of these parts is exact.")
    for id, facts in conflicts.items():
        if facts:
            print(
                f"{study.name(id)} cannot be reached. These facts cannot all be: {'; '.join(map(study.name, facts))}."
            )
    return 0


def whatif(options: argparse.Namespace) -> int:
    from oddbolt.core.reach import whatif as core
    from oddbolt.core.study.words import duration, plural

    study = load(options.study)
    targets = parts_named(study, options.part)
    if options.change:
        what = [core.read(study, text) for text in options.change]
        effects: list[core.Effect] = [core.weighed(study, what, targets)]
        together: tuple[core.Effect, ...] = ()
    else:
        effects = []
        for n, of, effect in core.sweep(study, targets):
            effects.append(effect)
            if sys.stderr.isatty():
                print(f"\r{n} of {of}", end="" if n < of else "\r", file=sys.stderr, flush=True)
        together = core.only_together(study, effects, targets) if options.pairs else ()
        effects.sort(key=lambda e: -e.seconds)
    if options.json:
        print_json({"changes": [_effect(study, e) for e in effects], "pairs": [_effect(study, e) for e in together]})
        return 0
    for e in effects if options.change else effects[: options.most]:
        words = " and ".join(core.in_words(study, c) for c in e.changes)
        print(f"{duration(e.seconds):>9}  {words}  [{' + '.join(c.key for c in e.changes)}]")
        if options.change:
            for part, before, after in e.parts:
                print(f"           {study.name(part)}: {duration(before)} to {duration(after)}")
    for e in together:
        words = " and ".join(core.in_words(study, c) for c in e.changes)
        print(f"{duration(e.seconds):>9}  only together: {words}")
    none = sum(e.seconds < core.LEAST_S for e in effects)
    if none and not options.change:
        print(f"{plural(none, 'change')} would help none of these parts.")
    return 0


def _effect(study: Any, effect: Any) -> dict[str, Any]:
    from oddbolt.core.reach.whatif import in_words

    return {
        "changes": [c.key for c in effect.changes],
        "words": [in_words(study, c) for c in effect.changes],
        "saves_s": round(effect.seconds, 2),
        "parts": [{"part": study.name(p), "before_s": round(b, 2), "after_s": round(a, 2)} for p, b, a in effect.parts],
    }
