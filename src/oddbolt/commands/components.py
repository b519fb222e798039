"""Commands about what parts are."""

from __future__ import annotations

import argparse

from oddbolt.commands.loading import load, print_json
from oddbolt.core.errors import BenchError, FileError
from oddbolt.files.text import STANDARD, write_text


def decode(options: argparse.Namespace) -> int:
    from oddbolt.core.components import decode as readings
    from oddbolt.core.components.marking import ALSO, KINDS
    from oddbolt.core.study.formatting import chance

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
        print(f"{chance(one.probability):>5}  {one.kind:<13} {one.words}  ({one.rule}; {one.source}{otherwise})")
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


def bom(options: argparse.Namespace) -> int:
    from oddbolt.core.components import bill_of_materials
    from oddbolt.core.study.formatting import plural
    from oddbolt.files.tables import csv_text

    study = load(options.study)
    if options.output:
        if options.output.suffix.lower() != ".csv" and options.output != STANDARD:
            raise FileError(f"{options.output.name} does not end in .csv.")
        write_text(options.output, csv_text(study, "bill"))
        return 0
    lines = bill_of_materials(study)
    if options.json:
        rows = [
            {
                "level": line.level,
                "name": line.name,
                "kind": line.kind,
                "count": line.count,
                "marks": line.marks,
                "each_g": None if line.each_g is None else round(line.each_g, 4),
                "mass_g": None if line.sum_g is None else round(line.sum_g, 4),
                "basis": line.basis,
                "held_by": line.held,
                "holds": line.holds,
                "reuse": line.reuse,
                "variant": line.variant,
                "ids": line.ids,
            }
            for line in lines
        ]
        print_json({"device": study.device.name, "lines": rows})
        return 0
    print(study.device.name)
    for line in lines:
        count = "?" if line.count is None else str(line.count)
        mass = "" if line.sum_g is None else f"{'≥ ' if line.basis == 'at least' else ''}{line.sum_g:.1f} g"
        kind = f" ({line.kind})" if line.kind and not line.screws else ""
        renew = "  renew" if line.reuse == "renew" else ""
        marks = f"  “{'”, “'.join(line.marks)}”" if line.marks else ""
        # from the tenth level on, deeper ones are not moved in any more
        print(f"{'  ' * min(line.level, 10)}{count:>3} {line.name}{kind}  {mass}{renew}{marks}".rstrip())
    parts, screws = [x for x in lines if not x.screws], [x for x in lines if x.screws]
    pieces = sum(x.count or 0 for x in parts)
    counted = sum(x.count or 0 for x in screws)
    more = "" if all(x.count is not None for x in screws) else " or more"
    print(f"{plural(pieces, 'part')}, {plural(counted, 'screw')}{more} of {plural(len(screws), 'kind')}.")
    return 0
