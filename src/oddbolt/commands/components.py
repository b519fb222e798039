"""Commands about what parts are."""

from __future__ import annotations

import argparse

from oddbolt.commands.loading import load, print_json
from oddbolt.core.errors import BenchError


def decode(options: argparse.Namespace) -> int:
    from oddbolt.core.components import decode as readings
    from oddbolt.core.components.marking import ALSO, KINDS

    if options.kind and options.kind.lower() not in (*KINDS, *ALSO):
        raise BenchError(f"“{options.kind}” is no kind that a marking is known of; one of: {', '.join(KINDS)}.")
    typed = " ".join(options.marking)
    found = readings(typed, options.package, options.kind)[: max(1, options.most)]
    if options.json:
        rows = [
            {
                "kind": one.kind,
                "words": one.words,
                "value": one.value,
                "unit": one.unit,
                "rule": one.rule,
                "source": one.source,
                "probability": round(one.probability, 4),
                "read_as": one.read_as,
            }
            for one in found
        ]
        print_json({"marking": typed, "readings": rows})
        return 0
    if not found:
        print(f"“{typed}” is no marking of the tables.")
    for one in found:
        otherwise = f", read as {one.read_as}" if one.read_as else ""
        print(f"{one.probability:5.0%}  {one.kind:<13} {one.words}  ({one.rule}; {one.source}{otherwise})")
    return 0


def mass(options: argparse.Namespace) -> int:
    from oddbolt.core.components import balance
    from oddbolt.core.reference.quantities import quantity

    study = load(options.study)
    try:
        step = quantity(options.step, "mass")
    except ValueError as error:
        raise BenchError(str(error)) from None
    found = balance(study, step)
    if options.json:
        rows = [
            {
                "id": line.id,
                "name": line.name,
                "mass_g": round(line.mass_g, 4),
                "sum_g": round(line.sum_g, 4),
                "gap_g": round(line.gap_g, 4),
                "off_g": round(line.off_g, 4),
                "unweighed": [study.name(p) for p in line.unweighed],
                "adds_up": line.adds_up,
                "sentence": line.sentence,
            }
            for line in found.lines
        ]
        print_json(
            {
                "lines": rows,
                "by_kind": [{"kind": kind, "mass_g": round(g, 4)} for kind, g in found.by_kind],
                "weigh": [study.name(p) for p in found.weigh],
            }
        )
        return 0
    for line in found.lines:
        print(
            f"{'  ' if line.adds_up else '! '}{line.sentence.rstrip('?')}{'?' if line.sentence.endswith('?') else '.'}"
        )
    print("By kind: " + ", ".join(f"{kind} {g:g} g" for kind, g in found.by_kind[:8]) + ".")
    if found.weigh:
        print("Weigh next: " + ", ".join(study.name(p) for p in found.weigh[:5]) + ".")
    return 0
