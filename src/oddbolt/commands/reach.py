"""Commands about reach: what each part takes, the route, what is not known, what would help."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from oddbolt.commands.loading import load, parts_named, print_json
from oddbolt.core.errors import FileError, ReachError

if TYPE_CHECKING:
    from oddbolt.core.reach.route_options import RouteOptions
    from oddbolt.core.reach.routes import Route
    from oddbolt.core.reach.what_if import Change, Effect
    from oddbolt.core.study import Study


def reach(options: argparse.Namespace) -> int:
    from oddbolt.core.reach import reach_of_all
    from oddbolt.core.reach.overview import overview_of
    from oddbolt.core.study.formatting import plural, span

    study = load(options.study)
    found, glances = reach_of_all(study), {g.part: g for g in overview_of(study)}
    if options.output is not None:
        _write_drawing(options, study)
    if options.json:
        rows = []
        for id, r in found.items():
            row: dict[str, Any] = {"id": id, "part": study.parts[id].name, "priority": study.parts[id].priority}
            for name in ("steps", "operations", "seconds"):
                value = getattr(r, name)
                row[name] = None if value is None else {"least": value.least, "most": value.most}
            if id in glances:
                g = glances[id]
                row |= {"tools": list(g.tools), "renewals": g.renewals, "risk": g.risk}
            row |= {"about": r.about, "bound_s": r.bound_s}
            rows.append({**row, "needed": list(r.needed), "why_not": r.why_not})
        print_json({"parts": rows})
        return 0
    for id, g in glances.items():
        r, name = g.reach, study.parts[id].name + ("*" if study.parts[id].priority else "")
        assert r.steps is not None
        assert r.seconds is not None
        steps = span(r.steps.least, r.steps.most, "steps")
        figures = f"{plural(len(g.tools), 'tool'):<8} {g.renewals} to renew   risk {g.risk:<4g}"
        print(f"{name:<24} {steps:<16} {figures} {r.time}")
    for id, r in found.items():
        if id not in glances:
            print(f"{study.parts[id].name:<24} {r.why_not}")
    return 0


def _write_drawing(options: argparse.Namespace, study: Study) -> None:
    """What needs what as a graph, or the strata as a picture, by the ending of the file."""
    ending = options.output.suffix.lower()
    if ending not in (".graphml", ".dot", ".gv", ".svg", ".png"):
        raise FileError(f"{options.output}: needs are written as .graphml or .dot, strata drawn as .svg or .png.")
    if ending in (".svg", ".png"):
        from oddbolt.core.reach import route_to
        from oddbolt.desk.pages.reach_panels.strata_export import write_strata

        targets = parts_named(study, options.target)
        write_strata(options.output, study, options.depth == "minutes", route_to(study, targets) if targets else None)
    else:
        from oddbolt.files.graph_export import write_graph

        write_graph(options.output, study, options.facts)


def _wish(options: argparse.Namespace, study: Study) -> RouteOptions:
    """What was asked of a route. Raises ReachError."""
    from oddbolt.core.bench.kit import at_hand
    from oddbolt.core.reach.route_options import RouteOptions, weights_of
    from oddbolt.files.text import read_text

    tools = None
    if options.bench is not None:
        tools = at_hand(study, [line for line in read_text(options.bench).splitlines() if line.strip()])
    return RouteOptions(
        least=options.minimise,
        weights=weights_of(options.weigh),
        keep_in=tuple(parts_named(study, options.keep_in)),
        avoid=tuple(options.avoid),
        tools=tools,
        faces=tuple(options.face),
        isolate=_isolating(study, options.isolate),
        variant=options.variant,
    )


def _isolating(study: Study, text: str) -> str:
    """The id of the step of this number that cuts the power."""
    if text in ("", "not"):
        return text
    ways = {str(study.step_number(s.id)): s.id for s in study.steps.values() if s.isolates_power}
    if text not in ways:
        raise ReachError(f"No step {text} isolates the power; {', '.join(ways) or 'none'} would do, or “not”.")
    return ways[text]


def route(options: argparse.Namespace) -> int:
    from oddbolt.core.reach import route_to
    from oddbolt.core.reach.describe import route_summary, step_text
    from oddbolt.core.reach.overview import near_words, passed
    from oddbolt.core.reach.routes import alternatives
    from oddbolt.core.reach.spread import spread_of
    from oddbolt.core.study.formatting import duration
    from oddbolt.files.bench_card import write_card

    study = load(options.study)
    wish = _wish(options, study)
    targets = parts_named(study, options.target)
    route = route_to(study, targets, facts=options.facts, options=wish)
    spread = spread_of(study, route.legs)
    others = alternatives(study, targets, options.others + 1, wish)[1:] if options.others else ()
    if options.output is not None:
        write_card(options.output, study, route)
    if options.json:
        print_json(_route_json(study, route, others))
        return 0
    print(f"{', '.join(study.name(t) for t in route.targets)}: {route_summary(study, route)}")
    for leg in route.legs:
        when = f"{duration(leg.start_s):>14}  {study.step_number(leg.step):>3}"
        fetch = f"  (waiting {duration(leg.idle_s)}: fetch the {leg.fetch})" if leg.fetch else ""
        print(f"{when}  {leg.tool or 'hand':<10} {step_text(study, leg.step)}{fetch}")
    if route.totals.renew:
        print("Renew: " + ", ".join(study.name(r) for r in route.totals.renew))
    print(f"Half of all times lie under {duration(spread.p50_s)}, nine in ten under {duration(spread.p90_s)}.")
    most = [f"{step_text(study, id)} ({share:.0%})" for id, share in spread.shares[:2]]
    print(f"Most of the uncertainty: {'; '.join(most)}.")
    if words := near_words(study, passed(study, route)):
        print(f"Passed: {words}.")
    for other in others:
        new = [s for s in other.steps if s not in route.steps]
        print(f"Another: {route_summary(study, other)}, by {'; '.join(step_text(study, s) for s in new[:4])}")
    return 0


def _route_json(study: Study, route: Route, others: Sequence[Route]) -> dict[str, Any]:
    from oddbolt.core.reach.describe import route_span, step_text
    from oddbolt.core.reach.overview import passed
    from oddbolt.core.reach.routes import no_way_round
    from oddbolt.core.reach.schedule import slack, soaks, way_back
    from oddbolt.core.reach.spread import spread_of
    from oddbolt.core.safety import cautions_along

    t, spread, fixed = route.totals, spread_of(study, route.legs), no_way_round(study, route)
    back, minds = way_back(study, route.legs), cautions_along(study, route.steps)
    steps, seconds = route_span(study, route)
    return {
        "targets": [study.name(t) for t in route.targets],
        "facts": route.facts,
        "proved": route.proved,
        "seconds": round(route.seconds, 2),
        "bound_s": round(route.bound_s, 2),
        "least": route.options.least,
        "weights": dict(route.options.weights),
        "p50_s": round(spread.p50_s, 1),
        "p90_s": round(spread.p90_s, 1),
        "uncertainty": [{"step": id, "share": round(share, 3)} for id, share in spread.shares],
        "others": [{"seconds": round(r.seconds, 2), "steps": list(r.steps)} for r in others],
        "rests_on_open_facts": not (steps.exact and seconds.exact),
        "steps_most": round(steps.most),
        "seconds_most": round(seconds.most, 2),
        "steps": t.steps,
        "operations": t.operations,
        "fasteners": t.fasteners,
        "fasteners_uncounted": t.fasteners_uncounted,
        "risk": t.risk,
        "tools": list(t.tools),
        "tool_changes": route.tool_changes,
        "turns": route.turns,
        "joints": dict(t.joints),
        "renew": [study.name(r) for r in t.renew],
        "passed": [{"part": study.name(p.part), "steps": p.steps, "seconds": p.seconds} for p in passed(study, route)],
        "waits": [
            {"step": s.step, "from_s": round(s.from_s, 2), "until_s": round(s.until_s, 2), "filled": list(s.filled)}
            for s in soaks(study, route.legs)
        ],
        "back_s": round(back[-1].start_s + back[-1].seconds, 2) if back else 0.0,
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
                "fetch": leg.fetch,
                "to_spare_s": round(spare, 2),
                "no_way_round": leg.step in fixed,
                "mind": [c.text for c in minds[leg.step]],
            }
            for leg, spare in zip(route.legs, slack(study, route.legs), strict=True)
        ],
    }


def questions(options: argparse.Namespace) -> int:
    from oddbolt.core.reach import conflict, open_questions, reach_of_all
    from oddbolt.core.study.formatting import duration, plural

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
        print(f"At most {plural(len(found), 'answer')} until these parts are exact.")
    else:
        print("No open questions: the reach of these parts is exact.")
    for id, facts in conflicts.items():
        if facts:
            print(
                f"{study.name(id)} cannot be reached. These facts contradict each other: "
                f"{'; '.join(map(study.name, facts))}."
            )
    return 0


def whatif(options: argparse.Namespace) -> int:
    from oddbolt.core.reach import what_if as core
    from oddbolt.core.study.formatting import duration, plural

    study = load(options.study)
    targets = parts_named(study, options.part)
    what: list[Change] = []
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
    if options.scheme and not options.change:
        raise ReachError("--scheme tells what a change moves: give the change too, with --change.")
    judged = _judged_anew(study, what, options.scheme) if options.scheme else {}
    if options.json:
        print_json(
            {
                "changes": [_effect(study, e) for e in effects],
                "front": [_effect(study, e) for e in core.front(effects)],
                "pairs": [_effect(study, e) for e in together],
                "judged": judged,
            }
        )
        return 0
    for e in effects if options.change else effects[: options.most]:
        words = core.all_in_words(study, e.changes)
        print(f"{duration(e.seconds):>9}  {words}  [{' + '.join(c.key for c in e.changes)}]")
        if options.change:
            for part, before, after in e.parts:
                print(f"           {study.name(part)}: {duration(before)} to {duration(after)}")
    for name, moved in judged.items():
        print(f"           {name}: {moved}")
    for e in together:
        words = core.all_in_words(study, e.changes)
        print(f"{duration(e.seconds):>9}  only together: {words}")
    if not options.change:
        cheap = "; ".join(f"{core.in_words(study, e.changes[0])} ({duration(e.seconds)})" for e in core.front(effects))
        print(f"Most benefit for least effort: {cheap or 'nothing helps'}.")
        none = [core.in_words(study, e.changes[0]) for e in effects if e.seconds < core.LEAST_S]
        some = f": {', '.join(none[:3])}{' …' if len(none) > 3 else ''}" if none else ""
        print(f"{plural(len(none), 'change')} help none of these parts{some}.")
    return 0


def _judged_anew(study: Study, what: list[Change], scheme: str) -> dict[str, str]:
    """What these changes move in a scheme, or in all of them. Raises ReachError."""
    from oddbolt.core.reach.what_if import applied
    from oddbolt.core.verdict import SCHEMES
    from oddbolt.core.verdict.scheme import moved_in_words

    if scheme != "all" and scheme not in SCHEMES:
        raise ReachError(f"There is no scheme {scheme!r}; there are all, {', '.join(SCHEMES)}.")
    after = applied(study, what)
    asked = [s for id, s in SCHEMES.items() if scheme in ("all", id)]
    return {s.name: moved_in_words(s.judge(study), s.judge(after)) for s in asked}


def _effect(study: Study, effect: Effect) -> dict[str, Any]:
    from oddbolt.core.reach.what_if import effort, in_words

    return {
        "changes": [c.key for c in effect.changes],
        "words": [in_words(study, c) for c in effect.changes],
        "saves_s": round(effect.seconds, 2),
        "effort": effort(effect.changes),
        "parts": [{"part": study.name(p), "before_s": round(b, 2), "after_s": round(a, 2)} for p, b, a in effect.parts],
    }
