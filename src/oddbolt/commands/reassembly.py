"""Commands about putting back: the plan and the repair job, the ledger, the screw left over, equal gaps."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING, Any

from oddbolt.commands.loading import load, parts_named, print_json, thing_named
from oddbolt.core.errors import BenchError, ReachError

if TYPE_CHECKING:
    from oddbolt.core.reassembly import Line, Plan, RepairJob
    from oddbolt.core.study import Study


def putback(options: argparse.Namespace) -> int:
    from oddbolt.core.reassembly import plan_back, repair_job
    from oddbolt.core.study.formatting import duration

    study = load(options.study)
    job = repair_job(study, parts_named(study, options.renew)) if options.renew else None
    if job is not None and options.target:
        raise ReachError("Give --target or --renew, not both.")
    plan = job.back if job else plan_back(study, parts_named(study, options.target), fewest_tools=options.fewest_tools)
    if options.output is not None:
        from oddbolt.files.job_card import write_job, write_plan

        if job is not None:
            write_job(options.output, study, job)
        else:
            write_plan(options.output, study, plan)
    if options.json:
        print_json({**_plan_json(study, plan), "job": _job_json(study, job) if job else None})
        return 0
    if job is not None:
        print(f"Out: {len(job.route.steps)} steps, {duration(job.route.seconds)}.")
        for need in job.orders:
            print(f"Order: {need.what} {need.said}".rstrip())
        print("Back:")
    _print_plan(study, plan)
    if job is not None:
        print(f"Out and back: half under {duration(job.p50_s)}, nine in ten under {duration(job.p90_s)}.")
    return 0


def _print_plan(study: Study, plan: Plan) -> None:
    from oddbolt.core.study.formatting import duration, plural

    for n, step in enumerate(plan.steps, 1):
        wait = f"  (wait {duration(step.wait_s)})" if step.wait_s else ""
        live = "  POWER" if step.power else ""
        print(f"{duration(step.start_s):>14}  {n:>3}  {step.tool or 'hand':<10} {'; '.join(step.does)}{wait}{live}")
    waits = f", {duration(plan.wait_s)} of it waiting" if plan.wait_s else ""
    print(f"{plural(len(plan.steps), 'step')}, about {duration(plan.seconds)}{waits}; {plan.sureness}.")
    if plan.renew:
        print("Have ready: new " + ", ".join(study.name(r) for r in plan.renew) + ".")
    for sentence in plan.left:
        print(f"Note: {sentence}.")


def _plan_json(study: Study, plan: Plan) -> dict[str, Any]:
    rows: list[dict[str, Any]] = [
        {
            "key": s.key,
            "step": s.step,
            "parts": [study.name(p) for p in s.parts],
            "joints": list(s.joints),
            "does": list(s.does),
            "tool": s.tool,
            "start_s": round(s.start_s, 1),
            "seconds": round(s.seconds, 1),
            "basis": s.basis,
            "wait_s": s.wait_s,
            "idle_s": s.idle_s,
            "renew": [study.name(r) for r in s.renew],
            "power": s.power,
        }
        for s in plan.steps
    ]
    return {
        "steps": rows,
        "seconds": round(plan.seconds, 1),
        "wait_s": plan.wait_s,
        "proved": plan.proved,
        "bound_s": round(plan.bound_s, 1),
        "tools": list(plan.tools),
        "renew": [study.name(r) for r in plan.renew],
        "left": list(plan.left),
    }


def _job_json(study: Study, job: RepairJob) -> dict[str, Any]:
    needs = [
        {"what": n.what, "amount": n.amount, "unit": n.unit, "basis": n.basis, "order": order}
        for order, rows in ((True, job.orders), (False, job.ready))
        for n in rows
    ]
    return {
        "targets": [study.name(t) for t in job.targets],
        "out": list(job.route.steps),
        "out_s": round(job.route.seconds, 1),
        "p50_s": round(job.p50_s, 1),
        "p90_s": round(job.p90_s, 1),
        "needs": needs,
        "not_again": [study.name(r) for r in job.not_again],
        "checks": [line.what for line in job.checks],
    }


def ledger(options: argparse.Namespace) -> int:
    from oddbolt.core.reach.describe import step_text
    from oddbolt.core.reassembly import ledger as ledger_of
    from oddbolt.core.reassembly import mass_check
    from oddbolt.core.reference.quantities import quantity

    study = _closed(options) if options.close else load(options.study)
    found = ledger_of(study)
    try:
        weighed = mass_check(study, quantity(options.mass, "mass")) if options.mass else None
    except ValueError as error:
        raise BenchError(str(error)) from None
    sections = {"screws": found.screws, "connectors": found.plugs, "others": found.others, "parts": found.parts}
    closings = [{"by": c.by, "at": c.at, "open": c.open} for c in study.closings.values()]
    if options.json:
        lines = {name: [_as_json(line) for line in rows] for name, rows in sections.items()}
        unmatched = [{"step": id, "said": study.steps[id].said} for id in found.unmatched]
        used = [{"joint": u.id, "name": u.name, "area_cm2": round(u.area_cm2, 2), "basis": u.basis} for u in found.used]
        print_json(
            {
                **lines,
                "unmatched": unmatched,
                "left_over": list(found.left_over),
                "used": used,
                "closed": found.closed,
                "summary": found.in_words(),
                "closings": closings,
                "mass": weighed and {"gap_g": round(weighed.gap_g, 3), "sentence": weighed.sentence},
            }
        )
        return 0
    for name, rows in sections.items():
        for line in rows:
            if line.open or options.all:
                print(f"{name:<11} {line.name:<40} {_state(line)}")
    for id in found.unmatched:
        print(f"fastening   {step_text(study, id):<40} fits no group that is out")
    for text in found.left_over:
        print(f"left over   {text}")
    if weighed is not None:
        print(weighed.sentence)
    print(found.in_words() + ("." if not found.closed else ": closed."))
    for closing in closings:
        by = f" by {closing['by']}" if closing["by"] else ""
        print(f"Closed{by} at {closing['at']}" + (f", open: {closing['open']}." if closing["open"] else "."))
    return 0


def _closed(options: argparse.Namespace) -> Study:
    """The study with the case closed, kept in its file."""
    from datetime import datetime

    from oddbolt.core.reassembly.closing import close
    from oddbolt.files.store import Store

    store, study = Store.open(options.study)
    try:
        after = close(study, options.by, datetime.now().isoformat(timespec="seconds"))
        store.save(study, after)
    finally:
        store.close()
    return after


def leftover(options: argparse.Namespace) -> int:
    from oddbolt.core.fasteners.parse_measurements import measured
    from oddbolt.core.reassembly import left_over
    from oddbolt.core.study.formatting import chance, duration, plural

    study = load(options.study)
    found = left_over(study, measured(" ".join(options.measured)))
    if options.json:
        rows = [
            {
                "joint": p.joint,
                "name": study.name(p.joint),
                "probability": round(p.probability, 4),
                "why": list(p.why),
                "out": p.out,
                "steps": p.steps,
                "seconds": None if p.seconds is None else round(p.seconds, 1),
            }
            for p in found.places
        ]
        print_json({"places": rows, "none": round(found.none, 4), "best": found.best})
        return 0
    if found.strange:
        print(f"{chance(found.none):>5}  no recorded group")
    for place in found.places:
        if place.probability < 0.005:
            break
        deep = ""
        if place.steps is not None and place.seconds is not None:
            deep = f"; {plural(place.steps, 'step')}, {duration(place.seconds)} down"
        print(f"{chance(place.probability):>5}  {study.name(place.joint):<34} {', '.join(place.why)}{deep}")
    if not found.strange and found.none >= 0.005:
        print(f"{chance(found.none):>5}  no recorded group")
    print(found.best)
    return 0


def lacking(options: argparse.Namespace) -> int:
    from oddbolt.core.reassembly import missing

    study = load(options.study)
    found = missing(study, thing_named(study, options.group, "J"))
    if options.json:
        rows = [{"joint": s.joint, "name": study.name(s.joint), "fits": s.fits, "why": s.why} for s in found.stand_ins]
        print_json(
            {
                "joint": found.joint,
                "count": found.count,
                "last_step": found.last_step,
                "near": [study.name(p) for p in found.near],
                "rule": found.rule,
                "stand_ins": rows,
            }
        )
        return 0
    last = f"; last counted at {study.name(found.last_step)}" if found.last_step else ""
    print(f"{study.name(found.joint)}: {found.count} missing{last}.")
    if found.near:
        print(f"Look first at {', '.join(study.name(p) for p in found.near)}: a loose screw does harm or clings there.")
    print(found.rule)
    for one in found.stand_ins:
        print(f"  {'may stand in' if one.fits else 'no':<13} {study.name(one.joint):<34} {one.why}")
    return 0


def align(options: argparse.Namespace) -> int:
    from oddbolt.core.reassembly import aligned, readings
    from oddbolt.core.reassembly.alignment import sized

    places: dict[str, tuple[float, float]] = {}
    for text in options.fastener:
        name, _, at = text.partition("=")
        try:
            x, y = (float(v) for v in at.split(","))
        except ValueError:
            raise BenchError(f"“{text}” is no place; type it like “upper left=4,4”.") from None
        places[name.strip() or f"fastener {len(places) + 1}"] = (x, y)
    found = aligned(sized(options.size), readings(" ".join(options.gaps)), places)
    if options.json:
        print_json(
            {
                "right_mm": round(found.right_mm, 4),
                "down_mm": round(found.down_mm, 4),
                "turn_deg": round(found.turn_deg, 4),
                "off": [round(v, 4) for v in found.off],
                "gap_x_mm": round(found.gap_x, 4),
                "gap_y_mm": round(found.gap_y, 4),
                "tilt_mm": None if found.tilt is None else [round(v, 4) for v in found.tilt],
                "spread_mm": round(found.spread_mm, 4),
                "least_mm": round(found.least_mm, 4),
                "pushes": [
                    {"name": p.name, "right_mm": round(p.right_mm, 4), "down_mm": round(p.down_mm, 4)}
                    for p in found.pushes
                ],
                "good": found.good,
                "sentences": list(found.sentences),
            }
        )
        return 0
    for sentence in found.sentences:
        print(sentence)
    return 0


def _as_json(line: Line) -> dict[str, Any]:
    return {
        "id": line.id,
        "name": line.name,
        "kind": line.sort,
        "taken": line.taken,
        "out": line.out,
        "back": line.back,
        "missing": line.missing,
        "renewed": line.renewed,
        "extra": line.extra,
        "left": line.left,
        "tray": line.tray,
        "ticked": line.ticked,
        "open": line.open,
    }


def _state(line: Line) -> str:
    if line.left:
        return f"left out: {line.left}"
    if line.out is None:
        return "out, not counted"
    told = [f"{line.out} out"] if line.out else [f"{line.back} back"]
    told += [f"{line.missing} missing"] if line.missing else []
    told += [f"{line.ticked} ticked off in the tray"] if line.ticked is not None and line.out else []
    told += [f"{line.renewed} new"] if line.renewed else []
    told += [f"{line.extra} too many"] if line.extra else []
    return ", ".join(told)
