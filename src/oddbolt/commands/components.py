"""Commands about what parts are."""

from __future__ import annotations

import argparse

from oddbolt.commands.loading import print_json
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
