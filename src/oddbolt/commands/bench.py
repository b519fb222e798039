"""What the commands of preparing and opening do: warm-up, edge plan, kit. JSON in and out."""

from __future__ import annotations

import argparse
from math import isfinite
from typing import TYPE_CHECKING, Any

from oddbolt.commands.loading import load, parts_named, print_json, thing_named
from oddbolt.core.errors import BenchError, FileError
from oddbolt.files.text import read_json, read_text

if TYPE_CHECKING:
    from oddbolt.core.study import Study

CURVE_POINTS = 60


def warmup(options: argparse.Namespace) -> int:
    from oddbolt.core.opening.warmup import band, corrected, heating, safe_window, slabs_of, warm
    from oddbolt.core.study.formatting import duration

    study, id = _chosen(options, "W", _given_warmup, "warm-up")
    set_up = study.warmups[id]
    slabs, faces = slabs_of(study, id), heating(set_up)
    for at, celsius in map(_reading, options.read):
        faces = corrected(slabs, faces, at, celsius)
    seconds = set_up.minutes * 60
    run = warm(slabs, faces, seconds)
    window = safe_window(run, set_up.target_c, set_up.limit_c)
    spread = band(slabs, faces, seconds, set_up.target_c, set_up.limit_c, options.band) if options.band > 0 else None
    if options.json:
        every = max(1, len(run.times_s) // CURVE_POINTS)
        figures = {
            "name": set_up.name,
            "soft_s": _rounded(window.soft_s),
            "limit_s": _rounded(window.limit_s),
            "settles_c": _rounded(window.settles_c),
            "sentence": window.sentence,
            "coupling_w_m2k": round(faces.coupling, 1),
            "flux_w_m2": round(faces.flux, 1),
            "band": None
            if spread is None
            else {
                "samples": spread.samples,
                "reached": spread.reached,
                "soft_s": [_rounded(v) for v in spread.soft_s],
                "limit_s": [_rounded(v) for v in spread.limit_s],
            },
            "curve": {
                "seconds": [round(float(t), 1) for t in run.times_s[::every]],
                "surface_c": [round(float(t), 2) for t in run.surface_c[::every]],
                "bond_c": [round(float(t), 2) for t in run.bond_c[::every]],
                "guarded_c": None if run.guarded_c is None else [round(float(t), 2) for t in run.guarded_c[::every]],
            },
        }
        print_json(figures)
        return 0
    print(f"{set_up.name}: {window.sentence}")
    if spread is not None and spread.reached:
        low, mid, high = (duration(s) if isfinite(s) else "never" for s in spread.soft_s)
        print(f"Soft after {low} to {high} in eight of ten cases, {mid} in the middle ({spread.samples} samples).")
    return 0


def edge(options: argparse.Namespace) -> int:
    from attrs import evolve

    from oddbolt.core.opening.edge import clip_order, round_of
    from oddbolt.core.opening.outline import text_of
    from oddbolt.core.study import put
    from oddbolt.files.edge_drawing import write_edge
    from oddbolt.files.outlines import read_outline

    study, id = _chosen(options, "O", _given_edge, "edge plan")
    if options.outline:
        study = put(study, evolve(study.edge_plans[id], outline=text_of(read_outline(options.outline))))
    study = _with_usual_stretches(study, id)
    found = round_of(study, id)
    if options.output:
        write_edge(options.output, study, found)
    if options.json:
        rows = [
            {
                "name": a.stretch.name,
                "hold": a.stretch.hold,
                "length_mm": round(a.length_mm, 1),
                "angle_deg": a.stretch.angle_deg,
                "depth_mm": a.stretch.depth_mm,
                "across_mm": round(a.across_mm, 2),
                "down_mm": round(a.down_mm, 2),
                "room_mm": _rounded(a.room_mm),
                "nearest": study.name(a.nearest) if a.nearest else "",
                "finding": a.finding,
                "safe_depth_mm": round(a.safe_mm, 2),
                "stops": [
                    {"from_mm": round(s.from_mm, 1), "to_mm": round(s.to_mm, 1), "for": study.name(s.keepout)}
                    for s in a.stops
                ],
            }
            for a in found.along.values()
        ]
        print_json(
            {
                "plan": found.plan.name,
                "edge_mm": round(found.outline.length_mm, 1),
                "stretches": rows,
                "order": [
                    {"stretch": study.name(s), "way": "clockwise" if way > 0 else "counter-clockwise"}
                    for s, way in found.order
                ],
                "clips": [{"stretch": study.name(s), "at_mm": round(at, 1)} for s, at in clip_order(found)],
                "fold_to": found.fold,
                "sentences": list(found.sentences),
                "troubles": list(found.troubles),
            }
        )
        return 0
    for n, sentence in enumerate(found.sentences, 1):
        print(f"{n}. {sentence}")
    for trouble in found.troubles:
        print(f"mind: {trouble}")
    return 0


def kit(options: argparse.Namespace) -> int:
    from oddbolt.core.bench.kit import kit as worked_out
    from oddbolt.core.bench.kit import missing
    from oddbolt.core.reach import route_to
    from oddbolt.core.safety import contents, preflight
    from oddbolt.files.kit_sheet import kit_html
    from oddbolt.files.pdf import write_page

    study = load(options.study)
    targets = parts_named(study, options.target)
    steps = [leg.step for leg in route_to(study, targets).legs] if targets else None
    bench = read_text(options.bench).splitlines() if options.bench else []
    needs = worked_out(study, contents(study), steps, [line.strip() for line in bench if line.strip()])
    job = "route to " + " and ".join(study.name(t) for t in targets) if targets else "full teardown"
    if options.output:
        write_page(options.output, kit_html(study, job, needs, preflight(study)))
    if options.json:
        print_json(
            {
                "job": job,
                "needs": [
                    {
                        "sort": n.sort,
                        "what": n.what,
                        "amount": _rounded(n.amount),
                        "unit": n.unit,
                        "basis": n.basis,
                        "there": n.there,
                        "why": [study.name(w) for w in n.why],
                    }
                    for n in needs
                ],
            }
        )
        return 0
    for need in needs:
        mark = "! " if options.bench and not need.there else "  "
        print(f"{mark}{need.sort:<11} {need.what:<44} {need.said}".rstrip())
    lacking = f", {len(missing(needs))} of them not on your bench (!)" if options.bench else ""
    print(f"{job}: {len(needs)} things{lacking}.")
    return 0


def _chosen(options: argparse.Namespace, letter: str, given: Any, what: str) -> tuple[Study, str]:
    """The study and the id of its warm-up or plan: from --in, else by name, else the first."""

    if options.given:
        return given(read_json(options.given))  # type: ignore[no-any-return]
    if options.study is None:
        raise FileError(f"Give a study, or a {what} as JSON with --in.")
    study = load(options.study)
    first = next(iter(study.table(letter)), "")
    if not first:
        raise BenchError(f"{options.study.name} holds no {what} yet.")
    return study, thing_named(study, options.name, letter) if options.name else first


def _reading(text: str) -> tuple[float, float]:
    try:
        at, celsius = (float(piece) for piece in text.split(":"))
    except ValueError:
        raise BenchError(f"{text!r} is not a reading; type it like 120:61 for 61 °C after 120 s.") from None
    if at <= 0:
        raise BenchError("A reading needs a time above zero.")
    return at, celsius


def _pieces(data: Any, name: str, letter: str, **owner: str) -> list[Any]:
    from oddbolt.files.records import record

    rows = data.get(name, [])
    if not isinstance(rows, list) or not all(isinstance(r, dict) for r in rows):
        raise FileError(f"{name!r} must be a list of records.")
    return [record(letter, {**row, **owner, "id": f"{letter}{n}"}) for n, row in enumerate(rows, 1)]


def _given_warmup(data: Any) -> tuple[Study, str]:
    """A study with one warm-up from plain values."""
    from oddbolt.core.opening.setting_up import with_heater
    from oddbolt.core.study import Study, put_all
    from oddbolt.files.records import record

    if not isinstance(data, dict):
        raise FileError("A warm-up is a JSON object with heater, layers, target_c and limit_c.")
    own = {k: v for k, v in data.items() if k != "layers"}
    layers = _pieces(data, "layers", "L", warmup="W1")
    study = put_all(Study(), [record("W", {"name": "Warm-up", **own, "id": "W1"}), *layers])
    return study if "coupling_w_m2k" in own else with_heater(study, "W1", study.warmups["W1"].heater), "W1"


def _given_edge(data: Any) -> tuple[Study, str]:
    """A study with one edge plan from plain values."""
    from oddbolt.core.study import Study, put_all
    from oddbolt.files.records import record

    if not isinstance(data, dict):
        raise FileError("An edge plan is a JSON object with outline, stretches and keepouts.")
    own = {k: v for k, v in data.items() if k not in ("stretches", "keepouts")}
    pieces = [*_pieces(data, "stretches", "E", plan="O1"), *_pieces(data, "keepouts", "Z", plan="O1")]
    return put_all(Study(), [record("O", {"name": "Cover", **own, "id": "O1"}), *pieces]), "O1"


def _with_usual_stretches(study: Study, plan_id: str) -> Study:
    from oddbolt.core.opening.edge import outline_for, usual_stretches
    from oddbolt.core.study import put_all

    if any(s.plan == plan_id for s in study.stretches.values()):
        return study
    plan = study.edge_plans[plan_id]
    return put_all(study, usual_stretches(plan, outline_for(study, plan), 1))


def _rounded(value: float | None) -> float | None:
    return round(value, 1) if value is not None and isfinite(value) else None
