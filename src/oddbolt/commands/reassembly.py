"""Commands about putting back: the plan, and the ledger."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING, Any

from oddbolt.commands.loading import load, parts_named, print_json

if TYPE_CHECKING:
    from oddbolt.core.reassembly import Line


def putback(options: argparse.Namespace) -> int:
    from oddbolt.core.reassembly import plan_back
    from oddbolt.core.study.formatting import duration, plural

    study = load(options.study)
    plan = plan_back(study, parts_named(study, options.target))
    if options.json:
        rows: list[dict[str, Any]] = [
            {
                "step": s.step,
                "parts": [study.name(p) for p in s.parts],
                "joints": list(s.joints),
                "does": list(s.does),
                "tool": s.tool,
                "start_s": round(s.start_s, 1),
                "seconds": round(s.seconds, 1),
                "wait_s": s.wait_s,
                "renew": [study.name(r) for r in s.renew],
                "power": s.power,
            }
            for s in plan.steps
        ]
        print_json(
            {
                "steps": rows,
                "seconds": round(plan.seconds, 1),
                "wait_s": plan.wait_s,
                "proved": plan.proved,
                "tools": list(plan.tools),
                "renew": [study.name(r) for r in plan.renew],
                "left": list(plan.left),
            }
        )
        return 0
    for n, step in enumerate(plan.steps, 1):
        wait = f"  (wait {duration(step.wait_s)})" if step.wait_s else ""
        live = "  POWER" if step.power else ""
        print(f"{duration(step.start_s):>14}  {n:>3}  {step.tool or 'hand':<10} {'; '.join(step.does)}{wait}{live}")
    proved = "the quickest way in, turned round" if plan.proved else "the best way in found, turned round"
    waits = f", {duration(plan.wait_s)} of it waiting" if plan.wait_s else ""
    print(f"{plural(len(plan.steps), 'step')}, about {duration(plan.seconds)}{waits}; {proved}.")
    if plan.renew:
        print("Have ready: new " + ", ".join(study.name(r) for r in plan.renew) + ".")
    for sentence in plan.left:
        print(f"Note: {sentence}.")
    return 0


def ledger(options: argparse.Namespace) -> int:
    from oddbolt.core.reach.describe import step_text
    from oddbolt.core.reassembly import ledger as ledger_of

    study = load(options.study)
    found = ledger_of(study)
    sections = {"screws": found.screws, "connectors": found.plugs, "others": found.others, "parts": found.parts}
    if options.json:
        lines = {name: [_as_json(line) for line in rows] for name, rows in sections.items()}
        unmatched = [{"step": id, "said": study.steps[id].said} for id in found.unmatched]
        print_json({**lines, "unmatched": unmatched, "closed": found.closed, "summary": found.in_words()})
        return 0
    for name, rows in sections.items():
        for line in rows:
            if line.open or options.all:
                print(f"{name:<11} {line.name:<40} {_state(line)}")
    for id in found.unmatched:
        print(f"fastening   {step_text(study, id):<40} fits no group that is out")
    print(found.in_words() + ("." if not found.closed else ": closed."))
    return 0


def _as_json(line: Line) -> dict[str, Any]:
    return {
        "id": line.id,
        "name": line.name,
        "kind": line.sort,
        "out": line.out,
        "back": line.back,
        "tray": line.tray,
        "open": line.open,
    }


def _state(line: Line) -> str:
    if line.out is None:
        return "out, not counted"
    tray = f", {line.tray} in the tray" if line.tray is not None and line.out else ""
    return f"{line.out} out{tray}" if line.out else f"{'' if line.back is None else line.back} back".strip()
