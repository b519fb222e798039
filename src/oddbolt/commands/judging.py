"""Commands about judging: a device by every scheme, a shelf of devices, devices side by side, two analysts."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Any

from oddbolt.commands.loading import load, print_json
from oddbolt.core.errors import BenchError, StudyError

if TYPE_CHECKING:
    from oddbolt.core.study import Study
    from oddbolt.core.verdict import Judgement, Scheme, Spec
    from oddbolt.core.verdict.scheme import Range3
    from oddbolt.core.verdict.side_by_side import SideBySide
    from oddbolt.core.verdict.weighing import Order


def verdict(options: argparse.Namespace) -> int:
    from oddbolt.core.verdict import SCHEMES, scheme_of, shipped_text

    if options.write_scheme:
        try:
            print(shipped_text(options.write_scheme), end="")
        except KeyError:
            raise StudyError("Only “regulation” and “index 2021” are files to begin with.") from None
        return 0
    if options.study is None:
        print("usage: oddbolt verdict STUDY [options]: give a study to judge", file=sys.stderr)
        raise SystemExit(2)
    study = load(options.study)
    own = _own_spec(options.scheme)
    schemes = [scheme_of(own)] if own else _schemes(options.scheme)
    weights = _weights(options.weigh)
    if weights and len(schemes) != 1:
        raise BenchError("Weights need one scheme: add --scheme.")
    found = {scheme: _judged(scheme, study, weights, own) for scheme in schemes}
    target = _target(study, schemes[0], options.target, weights, own) if options.target is not None else None
    if options.json:
        rows = {
            s.id: {
                "source": j.source,
                "verified": j.verified,
                "total": [j.total.low, j.total.likely, j.total.high] if j.total else None,
                "asks": [{"question": a.words, "narrows": a.narrows} for a in j.asks[:20]],
                **j.data,
            }
            for s, j in found.items()
        }
        print_json({"schemes": rows, "target": target})
        return 0
    for scheme, judged in found.items():
        _print(scheme, judged)
    if target is not None:
        _print_target(target)
    if len(schemes) == len(SCHEMES):
        print("A scheme by itself, with what is open: --scheme ID.")
    return 0


def _schemes(named: str) -> list[Scheme]:
    """The schemes of ours that are asked for: one, or all."""
    from oddbolt.core.verdict import SCHEMES

    if named == "all":
        return list(SCHEMES.values())
    if named not in SCHEMES:
        raise StudyError(f"There is no scheme {named!r}; there are {', '.join(SCHEMES)}, or FILE.toml of your own.")
    return [SCHEMES[named]]


def _own_spec(named: str) -> Spec | None:
    """The scheme in a file of the user's own; None where no file is named. Raises BenchError, FileError."""
    from oddbolt.core.verdict import read_spec
    from oddbolt.files.text import read_text

    return read_spec(read_text(Path(named)), Path(named).stem) if named.endswith(".toml") else None


def _weights(typed: str) -> dict[str, float]:
    """ "depth 2, tools 1" as weights. Raises BenchError."""
    out = {}
    for piece in filter(None, (p.strip() for p in typed.split(","))):
        name, _, figure = piece.rpartition(" ")
        try:
            out[name.strip(" =")] = float(figure)
        except ValueError:
            raise BenchError(f"“{piece}” is no weight; one looks like: depth 2.") from None
    return out


def _judged(scheme: Scheme, study: Study, weights: dict[str, float], own: Spec | None) -> Judgement:
    if not weights:
        return scheme.judge(study)
    from oddbolt.core.verdict import SPECS, judgement

    spec = own or SPECS.get(scheme.id)
    if spec is None:
        raise BenchError(f"{scheme.name} has no weights to change.")
    return judgement(study, spec, weights)


def _target(study: Study, scheme: Scheme, typed: str, weights: dict[str, float], own: Spec | None) -> dict[str, Any]:
    """What would have to be different for the likely figure to reach the target."""
    from oddbolt.core.reach.what_if import all_in_words
    from oddbolt.core.verdict import SPECS, judgement
    from oddbolt.core.verdict.target import in_words, reach_target, wanted

    spec = own or SPECS.get(scheme.id)

    def total_of(other: Study) -> Range3 | None:
        return (judgement(other, spec, weights) if weights and spec else scheme.judge(other)).total

    total = total_of(study)
    if total is None:
        raise BenchError(f"{scheme.name} gives no figure that could reach a target.")

    def value_of(other: Study) -> float | None:
        if not weights:
            return scheme.figure(other)
        found = total_of(other)
        return found.likely if found else None

    found = reach_target(study, value_of, wanted(typed, spec.classes if spec else ()))
    return {
        "scheme": scheme.id,
        "now": found.now,
        "target": found.target,
        "whole": found.whole,
        "size": found.size,
        "sets": [{"changes": all_in_words(study, t.changes), "value": round(t.value, 4)} for t in found.sets[:8]],
        "singles": [{"changes": all_in_words(study, t.changes), "value": round(t.value, 4)} for t in found.singles[:5]],
        "words": in_words(study, found, total.high),
    }


def _print(scheme: Scheme, judged: Judgement) -> None:
    unverified = "" if judged.verified else ", unverified"
    headline = judged.headline or ("" if judged.entries else "no figure yet")
    print(f"{scheme.name}{f': {headline}' if headline else ''} ({judged.source}{unverified})")
    for entry in judged.entries:
        figures = ", ".join(
            f"{f} {head}" if head in ("steps", "screws") or (head == "tools" and f.isdecimal()) else f"{head}: {f}"
            for head, f in zip(judged.heads[1:], entry.figures, strict=True)
            if f
        )
        why = "".join(f"; {reason}" for reason in entry.reasons)
        print(f"  {entry.about}: {figures}{why}")
    for sentence in judged.missing:
        print(f"  missing: {sentence}")
    for ask in judged.asks[:4]:
        print(f"  open: {ask.words} (narrows it by up to {ask.narrows:g})")


def _print_target(target: dict[str, Any]) -> None:
    print(f"Now {target['now']:.2f}; wanted {target['target']:g}.")
    for line in target["words"]:
        print(f"  {line}")


def shelf(options: argparse.Namespace) -> int:
    from oddbolt.core.verdict import SCHEMES
    from oddbolt.core.verdict.summary import mark_words, span
    from oddbolt.files import shelf as shelves

    specs, wrong = shelves.own_specs(options.folder)
    found = shelves.shelf(options.folder, own=specs)
    words = options.find.casefold().split()
    found = [one for one in found if all(w in f"{one.name} {one.path.name}".casefold() for w in words)]
    if options.json:
        print_json(
            {
                "studies": [
                    {
                        "file": one.path.name,
                        "why_not": one.why_not,
                        "summary": one.summary.data() if one.summary else None,
                    }
                    for one in found
                ],
                "own_schemes": [spec.name for spec in specs],
                "wrong_schemes": wrong,
            }
        )
        return 0
    if not found:
        print(f"No studies in {options.folder}.")
    for one in found:
        if one.summary is None:
            print(f"{one.path.name}: {one.why_not}")
            continue
        s = one.summary
        names = {id: scheme.name for id, scheme in SCHEMES.items()} | {spec.id: spec.name for spec in specs}
        marks = [
            f"{names[id].lower()} {mark_words(id, span(m[:3]), specs)}" for id, m in s.marks.items() if id in names
        ]
        print(f"{one.path.name}: {one.name}, {s.date or 'no date'}, {s.steps} steps; {'; '.join(marks) or 'no marks'}")
    for line in wrong:
        print(f"own scheme {line}")
    return 0


def compare(options: argparse.Namespace) -> int:
    from oddbolt.core.verdict import SPECS
    from oddbolt.core.verdict.side_by_side import side_by_side
    from oddbolt.core.verdict.summary import summary

    if len(options.studies) < 2:
        raise BenchError("Give at least two studies to compare.")
    if options.same:
        return _same(options)
    loaded = [load(path) for path in options.studies]
    own = [spec for named in options.scheme if (spec := _own_spec(named)) is not None]
    strange = [named for named in options.scheme if not named.endswith(".toml")]
    if strange:
        raise BenchError(f"--scheme adds a scheme of your own, FILE.toml, not {strange[0]!r}.")
    specs: list[Spec] = [*SPECS.values(), *own]
    weights = {spec.id: _weights(options.weigh) for spec in specs} if options.weigh else None
    found = side_by_side([_name(s) for s in loaded], [summary(s, own) for s in loaded], specs, weights, options.near)
    if options.output is not None:
        from oddbolt.desk.pages.verdict_panels.comparison_export import write_comparison

        write_comparison(options.output, found, options.depth, own)
    lifted = _lifted(loaded, found, options.lift, own) if options.lift else {}
    if options.json:
        print_json(
            {
                "devices": found.names,
                "roles": [
                    {"role": row.role, "figures": [_role_data(f) if f else None for f in row.figures]}
                    for row in found.rows
                ],
                "best": found.best,
                "worst": found.worst,
                "orders": {id: _order_data(order) for id, order in found.orders.items()},
                "whole": [{"what": what, "unit": unit, "figures": list(of)} for what, of, unit in found.whole()],
                "lifted": lifted,
            }
        )
        return 0
    for row in found.rows:
        cells = [f"{f.steps[0]:g} steps, {f.seconds[0]:.0f} s" if f else "—" for f in row.figures]
        print(f"{row.role}: " + " | ".join(f"{n}: {c}" for n, c in zip(found.names, cells, strict=True)))
    for n, name in enumerate(found.names):
        best, worst = (", ".join(of[n]) or "nothing" for of in (found.best, found.worst))
        print(f"{name}: best in {best}; worst in {worst}.")
    for what, figures, unit in found.whole():
        cells = [
            f"{n}: {'not recorded' if v is None else f'{v:g} {unit}'.strip()}"
            for n, v in zip(found.names, figures, strict=True)
        ]
        print(f"{what}: " + " | ".join(cells))
    for id, order in found.orders.items():
        _print_order(id, order)
    for words, lines in lifted.items():
        print("\n  ".join([f"What would lift {words}:", *lines]))
    return 0


def _lifted(studies: list[Study], side: SideBySide, named: str, own: list[Spec]) -> dict[str, list[str]]:
    """What would lift a device above the one before it, in every order where it is not the first. Raises BenchError."""
    from oddbolt.core.verdict import SCHEMES, scheme_of
    from oddbolt.core.verdict.target import lifted

    names = {name.casefold(): name for name in side.names}
    name = names.get(named.casefold())
    if name is None:
        raise BenchError(f"{named!r} is not one of these devices: {', '.join(side.names)}.")
    schemes = {**SCHEMES, **{spec.id: scheme_of(spec) for spec in own}}
    out = {}
    for id, order in side.orders.items():
        at = order.names.index(name)
        if at:
            above = order.names[at - 1]
            over = side.summaries[side.names.index(above)].marks[id][1]
            words = f"{name} above {above}, {schemes[id].name.lower()}"
            out[words] = lifted(studies[side.names.index(name)], schemes[id], over)
    return out


def _name(study: Study) -> str:
    return ", ".join(filter(None, (study.device.name, study.device.variant)))


def _role_data(figures: Any) -> dict[str, Any]:
    from attrs import asdict

    return dict(asdict(figures))


def _order_data(order: Order) -> dict[str, Any]:
    return {
        "order": order.names,
        "scores": [[round(s.low, 4), round(s.likely, 4), round(s.high, 4)] for s in order.scores],
        "holds": round(order.holds, 4),
        "pairs": [
            {"first": p.first, "second": p.second, "share": round(p.share, 4), "always": p.always} for p in order.pairs
        ],
    }


def _print_order(id: str, order: Order) -> None:
    from oddbolt.core.verdict.summary import mark_words

    print(f"{id}: " + " > ".join(f"{n} ({mark_words(id, s)})" for n, s in zip(order.names, order.scores, strict=True)))
    for pair in order.pairs:
        print(f"  {pair.first} above {pair.second}: {pair.told}.")


def _same(options: argparse.Namespace) -> int:
    """Two studies of one device by two analysts."""
    from oddbolt.core.verdict.agreement import compare as agree

    if len(options.studies) != 2:
        raise BenchError("Two analysts, two studies: give exactly two with --same.")
    a, b = (load(path) for path in options.studies)
    found = agree(a, b)
    if options.json:
        print_json(
            {
                "parts": [[a.name(p), b.name(q)] for p, q in found.parts],
                "joints": [[a.name(i), b.name(j)] for i, j in found.joints],
                "only": found.only,
                "differences": found.differences,
                "kappa_kinds": found.kappa_kinds,
                "kappa_fasteners": found.kappa_fasteners,
                "alpha_counts": found.alpha_counts,
                "seconds": found.seconds,
            }
        )
        return 0
    print(f"{len(found.parts)} parts and {len(found.joints)} joints are in both.")
    for words, value in (
        ("kinds of joints, kappa", found.kappa_kinds),
        ("classes of fasteners, kappa", found.kappa_fasteners),
        ("counts, alpha", found.alpha_counts),
    ):
        print(f"  {words}: {'too few to tell' if value is None else f'{value:.2f}'}")
    print(f"  hand work: {found.seconds[0]:.0f} s against {found.seconds[1]:.0f} s")
    for line in found.differences:
        print(f"  {line}")
    return 0
