"""The command line: the window, and every main job without a window.

Exit status: 0 done, 1 the job could not be done (one sentence on stderr says why), 2 the command was not understood.
"""

from __future__ import annotations

import argparse
import sys
from collections.abc import Callable, Sequence
from pathlib import Path

from oddbolt import __version__
from oddbolt.commands import bench
from oddbolt.commands import study as commands
from oddbolt.core.errors import OddBoltError


def main(argv: Sequence[str] | None = None) -> int:
    """Run one command; without one, or with only a study file, open the window."""
    arguments = list(sys.argv[1:] if argv is None else argv)
    if not arguments or arguments[0].endswith(".oddbolt"):
        arguments = ["desk", *arguments]
    options = _parser().parse_args(arguments)
    try:
        return int(options.run(options))
    except OddBoltError as error:
        print(f"oddbolt: {error}", file=sys.stderr)
        return 1
    except BrokenPipeError:
        sys.stderr.close()
        return 1


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="oddbolt", description="A bench book for the teardown analyst.")
    parser.add_argument("--version", action="version", version=f"Odd Bolt {__version__}")
    several = parser.add_subparsers(metavar="COMMAND", required=True)

    def add(
        name: str, run: Callable[[argparse.Namespace], int], what: str, study: bool = True, as_json: bool = True
    ) -> argparse.ArgumentParser:
        command = several.add_parser(name, help=what, description=what)
        command.set_defaults(run=run)
        if study:
            command.add_argument("study", type=Path, help="a study file (.oddbolt)")
        if as_json:
            command.add_argument("--json", action="store_true", help="JSON on stdout")
        return command

    desk = add("desk", commands.desk, "Open the window.", study=False, as_json=False)
    desk.add_argument("study", type=Path, nargs="?", help="a study file to open")
    desk.add_argument("--demo", action="store_true", help="open a fresh copy of the demo study")
    draft = add("draft", commands.draft, "Draft a log from narration.", study=False)
    draft.add_argument("captions", type=Path, help="captions: .vtt, .srt, or text with [m:ss] times")
    draft.add_argument("--words", type=Path, help="a TOML list of taught words")
    draft.add_argument("-o", "--output", type=Path, help="also make a study of the draft")
    add("reach", commands.reach, "What it takes to free every part.")
    route = add("route", commands.route, "The best ordered steps to one or several parts.")
    route.add_argument("--target", action="append", required=True, help="a part by name or id; may be repeated")
    route.add_argument(
        "--facts", choices=("least", "most"), default="least", help="count only what was seen, or also what was assumed"
    )
    add("times", commands.times, "What each kind of joint takes on this bench, fitted to the timed steps.")
    verdict = add("verdict", commands.verdict, "Judge the device, with the arithmetic.")
    verdict.add_argument("--scheme", choices=("counting", "bench mark", "all"), default="all")
    report = add("report", commands.report, "Write the report, FILE.html or FILE.pdf.", as_json=False)
    report.add_argument("-o", "--output", type=Path, required=True)
    add("check", commands.check, "Look for contradictions and gaps in a study.")
    export = add("export", commands.export, "Export a study as JSON, or one of its tables as CSV.", as_json=False)
    export.add_argument("-o", "--output", type=Path, required=True, help="FILE.json or FILE.csv")
    export.add_argument(
        "--table", choices=("steps", "parts", "joints"), default="steps", help="which table a CSV holds"
    )
    load = add("import", commands.import_json, "Make a study of an exported JSON.", study=False, as_json=False)
    load.add_argument("file", type=Path)
    load.add_argument("-o", "--output", type=Path, required=True)
    demo = add("demo", commands.demo, "Write a copy of the demo study.", study=False, as_json=False)
    demo.add_argument("-o", "--output", type=Path, required=True)
    warmup = add("warmup", bench.warmup, "When glue is soft and what must stay cool still is.", study=False)
    warmup.add_argument("study", type=Path, nargs="?", help="a study file; or give the layers with --in")
    warmup.add_argument("--in", dest="given", type=Path, help="a JSON with heater, layers, target and limit")
    warmup.add_argument("--name", default="", help="which warm-up of the study; the first if not given")
    warmup.add_argument("--band", type=int, default=200, help="samples for the band; 0 for none")
    warmup.add_argument("--read", action="append", default=[], metavar="SECONDS:CELSIUS", help="a surface reading")
    edge = add("edge", bench.edge, "How to go round the edge of a cover.", study=False)
    edge.add_argument("study", type=Path, nargs="?", help="a study file; or give the pieces with --in")
    edge.add_argument("--in", dest="given", type=Path, help="a JSON with outline, stretches and keep-outs")
    edge.add_argument("--name", default="", help="which plan of the study; the first if not given")
    edge.add_argument("--outline", type=Path, help="an SVG or DXF drawing to take the outline from")
    edge.add_argument("-o", "--output", type=Path, help="also draw it 1:1, FILE.svg or FILE.pdf")
    kit = add("kit", bench.kit, "Tools and consumables for a job, and what is missing.")
    kit.add_argument(
        "--target", action="append", default=[], help="a part by name or id; without one, the full teardown"
    )
    kit.add_argument("--bench", type=Path, help="what is on your bench: a text file, one thing a line")
    kit.add_argument("-o", "--output", type=Path, help="also write a sheet, FILE.html or FILE.pdf")
    return parser


if __name__ == "__main__":
    sys.exit(main())
