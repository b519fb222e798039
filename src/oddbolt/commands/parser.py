"""The parser of the command line: every command with its options. Manual page and completion are made of it."""

from __future__ import annotations

import argparse
import difflib
import sys
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import NoReturn

from oddbolt import __version__
from oddbolt.commands import bench, components, fasteners, handover, integration, judging, photos, reach, reassembly
from oddbolt.commands import study as commands
from oddbolt.core.errors import sentence


class Parser(argparse.ArgumentParser):
    """Says what was not understood in one sentence. ``commands`` holds one parser for each command."""

    commands: Mapping[str, Parser] = {}

    def error(self, message: str) -> NoReturn:
        self.print_usage(sys.stderr)
        self.exit(2, f"{self.prog}: {sentence(message)}\n")


def near(word: str, names: list[str]) -> str:
    """The command that a mistyped one may stand for, or ""."""
    return next(iter(difflib.get_close_matches(word, names, 1, 0.6)), "")


def parser() -> Parser:
    """All commands."""
    parser = Parser(prog="oddbolt", description="A bench book for the teardown analyst.")
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
            command.add_argument("--json", action="store_true", help="JSON on standard output, as in “oddbolt schema”")
        return command

    def writes(command: argparse.ArgumentParser, what: str, required: bool = False) -> None:
        """An output file. One rule for all: what is there is kept, unless --replace is given."""
        command.add_argument("-o", "--output", type=Path, required=required, help=what)
        command.add_argument("--replace", action="store_true", help="write over a file that is there")

    def others(command: argparse.ArgumentParser) -> None:
        """For others: what must not be told is taken out."""
        command.add_argument("--others", action="store_true", help="without serial numbers, people and purchase")

    desk = add("desk", commands.desk, "Open the window.", study=False, as_json=False)
    desk.add_argument("study", type=Path, nargs="?", help="a study file to open")
    desk.add_argument("--demo", action="store_true", help="open a fresh copy of the demo study")
    draft = add("draft", commands.draft, "Draft a log from narration.", study=False)
    draft.add_argument(
        "captions", type=Path, help="captions: .vtt, .srt, or text with [m:ss] times; - for standard input"
    )
    draft.add_argument("--rules", action="store_true", help="read by rules alone, without the network")
    draft.add_argument("--trace", action="store_true", help="print how each sentence is read, and nothing else")
    draft.add_argument("--words", type=Path, help="a TOML list of taught words")
    writes(draft, "also make a study of the draft")
    reached = add("reach", reach.reach, "What it takes to free every part.")
    writes(reached, "also write the needs, FILE.graphml or FILE.dot, or draw FILE.svg or FILE.png")
    reached.add_argument("--target", action="append", default=[], help="draw the route to this part; may be repeated")
    reached.add_argument("--depth", choices=("steps", "minutes"), default="steps", help="how the drawing counts depth")
    reached.add_argument("--facts", choices=("least", "most"), default="least", help="which facts the graph counts")
    asked = add("questions", reach.questions, "What is not known yet, and which answer would tell most.")
    asked.add_argument("--part", action="append", default=[], help="a part by name or id; else the priority parts")
    tried = add("whatif", reach.whatif, "What would make the parts easier to reach, and by how much.")
    tried.add_argument("--part", action="append", default=[], help="a part by name or id; else the priority parts")
    tried.add_argument("--change", action="append", default=[], metavar="“gone J5”", help="only this; may be repeated")
    tried.add_argument("--pairs", action="store_true", help="also the pairs that only help together")
    tried.add_argument("--most", type=int, default=15, help="how many changes to print")
    tried.add_argument("--scheme", default="", metavar="ID", help="with --change: what it moves in this scheme, or all")
    route = add("route", reach.route, "The best ordered steps to one or several parts.")
    route.add_argument("--target", action="append", required=True, help="a part by name or id; may be repeated")
    route.add_argument(
        "--facts", choices=("least", "most"), default="least", help="count only what was seen, or also what was assumed"
    )
    route.add_argument("--minimise", default="time", metavar="WHAT", help="time, steps, tool changes, renewals or risk")
    route.add_argument("--weigh", default="", metavar="WEIGHTS", help="renewals 2 min, risk 30 s")
    route.add_argument(
        "--avoid", action="append", default=[], metavar="MEANS", help="heat, solvent, blade, destruction"
    )
    route.add_argument("--face", action="append", default=[], help="work only from this face; may be repeated")
    route.add_argument("--isolate", default="", metavar="STEP", help="number of the step to cut the power by, or not")
    route.add_argument("--variant", default="", help="for this variant of the device")
    route.add_argument("--keep-in", action="append", default=[], metavar="PART", help="a part not to be touched")
    route.add_argument("--bench", type=Path, help="only tools of this list: a text file, one thing a line")
    route.add_argument("--others", type=int, default=0, metavar="N", help="also so many truly different routes")
    writes(route, "also write a card for the bench, FILE.pdf or FILE.html")
    putback = add("putback", reassembly.putback, "What goes back in which order, with the work that each joint brings.")
    putback.add_argument("--target", action="append", default=[], help="the way back from this part; may be repeated")
    putback.add_argument(
        "--renew", action="append", default=[], metavar="PART", help="a part to be replaced, out and back as one job"
    )
    putback.add_argument("--fewest-tools", action="store_true", help="few tool changes rather than the least time")
    writes(putback, "also write a card for the bench, FILE.pdf or FILE.html")
    counted = add("ledger", reassembly.ledger, "What is out and what is back: screws, connectors, parts.")
    counted.add_argument("--all", action="store_true", help="also the lines that are closed")
    counted.add_argument("--close", action="store_true", help="close the case: keep who closed it, and what was open")
    counted.add_argument("--by", default="", help="who closes it")
    counted.add_argument("--mass", default="", help="what the device weighs now, to hold against its mass before")
    spare = add("leftover", reassembly.leftover, "Where a screw that was left over belongs.", study=False)
    spare.add_argument("measured", nargs="+", help="what was measured, like: od 1.58, length 4.1")
    spare.add_argument("--study", type=Path, required=True, help="the study it was left over from")
    lacking = add("missing", reassembly.lacking, "What to know where a screw of a group is missing.")
    lacking.add_argument("group", help="the group of screws, by name or id")
    even = add("align", reassembly.align, "How a lid lies in its opening, and where to push it.", study=False)
    even.add_argument("size", help="width x height of the lid in mm, or its outline, like 84x52")
    even.add_argument(
        "gaps", nargs="+", help="gaps and steps in mm, like: left 0.3, right 0.1, top@10 0.2, step left 0"
    )
    even.add_argument(
        "--fastener", action="append", default=[], metavar="NAME=X,Y", help="a fastener and its place on the lid, mm"
    )
    add("times", commands.times, "What each kind of joint takes on this bench, fitted to the timed steps.")
    verdict = add("verdict", judging.verdict, "Judge the device, with the arithmetic.", study=False)
    verdict.add_argument("study", type=Path, nargs="?", help="a study file (.oddbolt)")
    verdict.add_argument("--scheme", default="all", help="which scheme, or FILE.toml of your own; all if none is named")
    verdict.add_argument("--weigh", default="", metavar="WEIGHTS", help="other weights, such as: depth 2, tools 1")
    verdict.add_argument(
        "--target", metavar="FIGURE", help="what would have to be different to reach this figure or class"
    )
    verdict.add_argument("--write-scheme", default="", metavar="ID", help="print a scheme as TOML, to make your own")
    shelves = add("shelf", judging.shelf, "The studies of a folder, with their marks.", study=False)
    shelves.add_argument("folder", type=Path)
    shelves.add_argument("--find", default="", metavar="WORDS", help="only studies that hold these words")
    compared = add(
        "compare", judging.compare, "Several devices side by side, and how firm their order is.", study=False
    )
    compared.add_argument("studies", type=Path, nargs="+")
    writes(compared, "also write FILE.csv, FILE.svg or FILE.png")
    compared.add_argument("--same", action="store_true", help="two studies of one device by two analysts")
    compared.add_argument("--weigh", default="", metavar="WEIGHTS", help="other weights of criteria")
    compared.add_argument(
        "--scheme", action="append", default=[], metavar="FILE.toml", help="also by a scheme of your own"
    )
    compared.add_argument("--lift", default="", metavar="DEVICE", help="what would lift it above the one before it")
    compared.add_argument("--depth", action="store_true", help="draw how deep the parts lie instead of the figures")
    compared.add_argument("--near", type=float, default=0.3, help="weights within this share count as near")
    report = add("report", handover.report, "Write the report, FILE.html or FILE.pdf.", as_json=False)
    writes(report, "FILE.html or FILE.pdf; - for HTML on standard output", required=True)
    report.add_argument("--for", dest="preset", default="everything", help="repairer, designer, judge or everything")
    report.add_argument("--sections", default="", metavar="LIST", help="these sections instead, with commas")
    report.add_argument("--schools", default="", metavar="LIST", help="these schools of the verdict, with commas")
    report.add_argument("--paper", default="", help="A4 or letter")
    report.add_argument("--said", action="store_true", help="also the sentences as they were said")
    report.add_argument("--progress", action="store_true", help="progress as lines on standard error")
    others(report)
    job = add("instructions", handover.instructions, "Instructions for one repair, out and back.", as_json=False)
    job.add_argument("--target", action="append", required=True, help="the part to replace; may be repeated")
    job.add_argument("--paper", default="A4", help="A4 or letter")
    writes(job, "FILE.pdf, FILE.html or FILE.md", required=True)
    cues = add("captions", handover.captions, "The steps as captions of the recording, or of a run.", as_json=False)
    cues.add_argument(
        "--run", dest="of_run", default="", metavar="ID", help="time them to this run instead, such as R1"
    )
    cues.add_argument("--chapters", action="store_true", help="a track of chapters by module instead, FILE.vtt")
    writes(cues, "FILE.vtt or FILE.srt; - for standard output", required=True)
    shots = add("photos-out", handover.photos_out, "The photos packed for others, FILE.zip.", as_json=False)
    shots.add_argument("--longest", type=int, metavar="PX", help="made small; else as they were taken")
    writes(shots, "FILE.zip", required=True)
    others(shots)
    seen = add("view", handover.view, "A page of the window as a picture, FILE.svg or FILE.png.", as_json=False)
    seen.add_argument("--page", required=True, help="the page by its name, such as Fasteners or Reach")
    seen.add_argument("--about", default="", metavar="THING", help="what is chosen on it, by id or name")
    seen.add_argument("--size", default="1280x800", help="of the window, px")
    writes(seen, "FILE.svg or FILE.png", required=True)
    pages = add("web", handover.web, "A folder that any web server can show; no script.", as_json=False)
    writes(pages, "the folder to write", required=True)
    others(pages)
    add("check", commands.check, "Look for contradictions and gaps in a study.")
    export = add("export", handover.export, "Export a study as JSON, or its tables as CSV or XLSX.", as_json=False)
    writes(export, "FILE.json, FILE.csv, FILE.zip (all tables) or FILE.xlsx; - for standard output", required=True)
    tables = "steps parts joints bill outlines reach routes verdict ledger runs findings".split()
    export.add_argument(
        "--table", choices=tables, help="which table a CSV or workbook holds; a CSV holds steps if not given"
    )
    others(export)
    load = add("import", commands.import_file, "Make a study of an exported JSON, or of a spreadsheet.", False, False)
    load.add_argument("file", type=Path, help="FILE.json, FILE.csv or FILE.xlsx; - reads JSON from standard input")
    load.add_argument("--into", type=Path, metavar="STUDY", help="enter the rows of a spreadsheet into this study")
    load.add_argument("--as", dest="kind", default="", help="what a row is: parts, joints or steps; else by the heads")
    load.add_argument("--sheet", default="", help="the sheet of a workbook; the first that holds anything if not given")
    load.add_argument("--match", default="", metavar="LIST", help="fields and heads: name=Component, count=Qty")
    load.add_argument("--preview", action="store_true", help="tell what would be entered, and enter nothing")
    writes(load, "the study to write")
    demo = add("demo", commands.demo, "Write a copy of the demo study.", study=False, as_json=False)
    demo.add_argument("--shelf", action="store_true", help="a folder of five demo studies to compare instead")
    demo.add_argument("--put-back", action="store_true", help="its battery replaced and put back, but for one screw")
    writes(demo, "the study to write", required=True)
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
    writes(edge, "also draw it 1:1, FILE.svg or FILE.pdf")
    kit = add("kit", bench.kit, "Tools and consumables for a job, and what is missing.")
    kit.add_argument(
        "--target", action="append", default=[], help="a part by name or id; without one, the full teardown"
    )
    kit.add_argument("--bench", type=Path, help="what is on your bench: a text file, one thing a line")
    writes(kit, "also write a sheet, FILE.html or FILE.pdf")
    pictures = add("photos", photos.photos, "List, add and print the photos of a study.")
    pictures.add_argument("--add", type=Path, action="append", default=[], metavar="FILE", help="a picture to add")
    pictures.add_argument("--step", type=int, help="the number of the step they belong to; else by the time taken")
    writes(pictures, "also write the contact sheet, FILE.pdf or FILE.html")
    camera = add("camera", photos.camera, "A practice camera: drops pictures into a folder.", False, as_json=False)
    camera.add_argument("folder", type=Path)
    camera.add_argument("--count", type=int, default=1, help="how many pictures")
    camera.add_argument("--every", type=float, default=5.0, metavar="SECONDS", help="how long between them")
    masses = add("mass", components.mass, "Whether the masses of a device and its modules add up.")
    masses.add_argument("--step", default="0.1 g", help="the step of the scale")
    bom = add("bom", components.bom, "The bill of materials: parts as they carry each other, and screws by kind.")
    writes(bom, "write it as FILE.csv or FILE.xlsx instead; - for standard output")
    listed = add("parts", components.parts, "The parts of a study, and what each of them is.")
    listed.add_argument("--find", default="", metavar="WORDS", help="only parts that hold these words in any field")
    listed.add_argument("--kind", default="", help="only parts of this kind or family")
    listed.add_argument("--material", default="", help="only parts of this material")
    listed.add_argument("--state", default="", help="only: unknown, priority, renew, not weighed, not measured")
    writes(listed, "also draw the device laid out, FILE.svg or FILE.png")
    for name, run, what, example in (
        (
            "part-kind",
            components.part_kind,
            "What a part is, from what is seen of it.",
            "disc, two wires, magnet, 12 mm",
        ),
        ("package", components.package, "Which package a board part has.", "4.9 x 3.9 mm, 8 pins"),
        ("connector", components.connector, "Which connector it is, and how it opens.", "ten ways, 0.5 mm, flip lid"),
    ):
        looked = add(name, run, what, study=False)
        several_words = "*" if name == "part-kind" else "+"
        looked.add_argument("seen", nargs=several_words, help=f"what is seen, such as: {example}")
        looked.add_argument("--most", type=int, default=5, help="how many candidates at the most")
        looked.add_argument("--into", type=Path, metavar="STUDY", help="keep the answer in this study")
        thing = "connector" if name == "connector" else "part"
        looked.add_argument("--of", default="", metavar="NAME", help=f"the {thing} that it is about, by name or id")
        looked.add_argument("--choose", type=int, default=0, metavar="N", help="keep the Nth candidate, not the first")
        if name == "part-kind":
            looked.add_argument("--about", default="", metavar="KIND", help="what the table says of a kind instead")
            looked.add_argument("--list", action="store_true", help="list all kinds instead")
    drawn = add("board-map", components.board_map, "What lies on the photo of a board: outlines to name.", study=False)
    drawn.add_argument("photo", type=Path)
    drawn.add_argument("--wide", default="", metavar="LENGTH", help="how much of the board the photo's width shows")
    drawn.add_argument("--edge", default="", metavar="X,Y", help="the board's edge, corners as fractions of the photo")
    drawn.add_argument("--into", type=Path, metavar="STUDY", help="keep photo and outlines in this study")
    drawn.add_argument("--of", default="", metavar="BOARD", help="the part that the board is, by name or id")
    drawn.add_argument("--face", default="", choices=("", "front", "back"), help="which face of it")
    writes(drawn, "also draw the map kept, FILE.svg")
    said = add(
        "decode", components.decode, "What a marking on a part says: every reading that is possible.", study=False
    )
    said.add_argument("marking", nargs="*", help="such as: 4R7, 104K, T2A, CR2032, IP67, yellow violet red gold")
    said.add_argument(
        "--package", default="", help="a chip size like 0805, or axial, radial, can, tantalum, coil, cell"
    )
    said.add_argument("--kind", default="", help="what the part is known to be, such as resistor")
    said.add_argument("--most", type=int, default=5, help="how many readings at the most")
    said.add_argument("--photo", type=Path, help="read the marking from this photo (by tesseract, if it is installed)")
    said.add_argument("--outline", default="", metavar="X,Y", help="only within these corners, fractions of the photo")
    identify = add("identify", fasteners.identify, "Which screw it is, from measurements.", study=False)
    identify.add_argument("measured", nargs="+", help="such as: od 1.58, pitch .35, length 4.1, driver PH00")
    identify.add_argument("--most", type=int, default=5, help="how many candidates at the most")
    screws = add("screws", fasteners.screws, "The screws of a study, and which may be taken for each other.")
    screws.add_argument(
        "--measured", nargs="+", type=float, metavar="MM", help="lengths measured in one group: which one stands out"
    )
    torque = add("torque", fasteners.torque, "What torque suits a screw, and the order to tighten in.", study=False)
    torque.add_argument("thread", help="such as M2.5 or M3x0.35; or a driver such as IP5, for its largest usual thread")
    torque.add_argument("--into", default="metal", help="metal, plastic or insert")
    torque.add_argument("--class", dest="klass", default="8.8", help="property class: 4.8 to 12.9, A2-70")
    torque.add_argument("--typed", default="", help="a torque to hold against it, such as “13 N·m”")
    torque.add_argument("--holes", nargs="+", default=[], metavar="X,Y", help="places of the holes, in any unit")
    torque.add_argument("--pattern", default="crosswise", help="crosswise or centre")
    tray = add("tray", fasteners.tray, "Which compartment of a tray each group of screws goes into.")
    tray.add_argument("--grid", default="4x6", metavar="ROWSxCOLUMNS", help="your tray; 6+4+4 for rows that differ")
    tray.add_argument("--width", type=float, default=180.0, metavar="MM", help="inner width of the tray")
    tray.add_argument("--height", type=float, default=120.0, metavar="MM", help="inner height of the tray")
    tray.add_argument("--by-kind", action="store_true", help="by drive, thread and length instead of order of removal")
    writes(tray, "also draw it 1:1, FILE.svg or FILE.pdf")
    sheet = add("mat", fasteners.mat, "The gauge mat to print, FILE.pdf, FILE.svg or FILE.png.", study=False)
    writes(sheet, "where to write it")
    sheet.add_argument("--sheet", default="a5", help="a5 or a4")
    sheet.add_argument("--dpi", type=float, default=300, help="resolution of a PNG")
    measure = add("measure", fasteners.measure, "Measure between points of a photo of the gauge mat.", study=False)
    measure.add_argument("photo", type=Path)
    measure.add_argument("what", choices=("length", "diameter", "angle", "area"))
    measure.add_argument(
        "points", nargs="+", metavar="X,Y", help="points in px of the upright photo, from its upper left"
    )
    measure.add_argument("--height", type=float, default=0.0, metavar="MM", help="how far above the mat the points lie")
    measure.add_argument(
        "--ruler", type=float, default=100.0, metavar="MM", help="what the printed 100 mm really measure"
    )
    scan = add("scan", fasteners.scan, "Count and measure screws on a photo of the gauge mat.", study=False)
    scan.add_argument("photo", type=Path)
    scan.add_argument("--study", type=Path, help="also tell which groups of this study they are")
    scan.add_argument("--part", default="", help="only the screws of this part, by name or id")
    scan.add_argument("--ruler", type=float, default=100.0, metavar="MM", help="what the printed 100 mm really measure")
    scan.add_argument(
        "--known", default="", metavar="DxT", help="diameter x thickness of the disc on the mat, as second scale, mm"
    )
    writes(scan, "also write the photo with what was found drawn over it, .png")
    schema = add("schema", integration.schema, "The JSON Schema of what a command answers with --json.", False, False)
    schema.add_argument("about", metavar="COMMAND", help="a command that takes --json; or study, for the whole record")
    add("man", integration.man, "The manual page, for “man -l -”.", False, as_json=False)
    completion = add("completion", integration.completion, "Completion of commands and options.", False, as_json=False)
    completion.add_argument("shell", choices=("bash", "zsh"))
    whole = add("integrate", integration.integrate, "Put Odd Bolt into your menu, with its file type.", False, False)
    whole.add_argument("--remove", action="store_true", help="take it out of the menu again")
    parser.commands = several.choices
    return parser
