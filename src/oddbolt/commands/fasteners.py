"""Commands about fasteners: which screw it is, the gauge mat, screws counted on a photo."""

from __future__ import annotations

import argparse
from itertools import islice
from typing import TYPE_CHECKING

from oddbolt.commands.loading import load, parts_named, print_json

if TYPE_CHECKING:
    from oddbolt.core.vision.match import Match
    from oddbolt.core.vision.scan import Scan


def identify(options: argparse.Namespace) -> int:
    from oddbolt.core.fasteners.identify import identify as rank
    from oddbolt.core.fasteners.parse_measurements import measured
    from oddbolt.core.study.formatting import chance

    found = rank(measured(" ".join(options.measured)), max(1, options.most))
    if options.json:
        print_json(
            {
                "candidates": [
                    {
                        "label": c.label,
                        "thread": c.thread,
                        "kind": c.kind,
                        "pitch_mm": c.pitch_mm,
                        "drive": c.drive,
                        "size": c.size,
                        "head": c.head,
                        "probability": round(c.probability, 4),
                        "for": list(c.speaks_for),
                        "against": list(c.speaks_against),
                        "source": c.source,
                        "verified": c.verified,
                        "confirmed": c.confirmed,
                    }
                    for c in found.candidates
                ],
                "length_mm": found.length_mm,
                "next": found.next,
                "next_gain_bits": round(found.gain, 3),
                "advice": found.advice,
                "trouble": found.trouble,
                "notes": list(found.notes),
            }
        )
        return 0
    for note in (*found.notes, *filter(None, (found.trouble,))):
        print(note)
    for c in found.candidates:
        print(f"{chance(c.probability):>4}  {c.label}")
        for mark, said in (("+", c.speaks_for), ("−", c.speaks_against)):
            if said:
                print(f"      {mark} {'; '.join(said)}")
    if found.length_mm:
        print(f"Nominal length {found.length_mm:g} mm.")
    if found.advice:
        print(found.advice)
    if found.candidates and not all(c.verified for c in found.candidates):
        best = found.candidates[0].confirmed
        print(f"Tables from memory, {'those of the first confirmed by independent tables' if best else 'unverified'}.")
    return 0


def mat(options: argparse.Namespace) -> int:
    from oddbolt.core.errors import FileError
    from oddbolt.core.vision.mat import RULER_MM
    from oddbolt.core.vision.mat import mat as sheet_of
    from oddbolt.files.mat_sheet import write_mat

    sheet = sheet_of(options.sheet)
    if options.output is not None:
        write_mat(options.output, sheet, options.dpi)
    elif not options.json:
        raise FileError("Name a file to write the mat to, with -o FILE.pdf, FILE.svg or FILE.png.")
    if options.json:
        print_json(
            {
                "sheet": sheet.name,
                "width_mm": sheet.width_mm,
                "height_mm": sheet.height_mm,
                "field_mm": list(sheet.field),
                "marker_mm": sheet.marker_mm,
                "markers": {str(id): list(place) for id, place in sheet.markers.items()},
                "dictionary": "5 × 5 bits, 50 markers",
                "ruler": {"x_mm": sheet.ruler[0], "y_mm": sheet.ruler[1], "length_mm": RULER_MM},
            }
        )
    else:
        print(f"{options.output}: print at 100 %, matt, in colour; then measure the ruler, it must be {RULER_MM:g} mm.")
    return 0


def scan(options: argparse.Namespace) -> int:
    from oddbolt.core.reassembly import swaps
    from oddbolt.core.vision.match import lying, matched, told
    from oddbolt.core.vision.printed import disc
    from oddbolt.core.vision.scan import by_known_disc
    from oddbolt.core.vision.scan import scan as look
    from oddbolt.files.pictures import pixels

    photo = pixels(options.photo)
    found = look(photo, ruler_mm=options.ruler)
    if options.known:
        found, off = by_known_disc(found, disc(options.known))
        if not options.json:
            print(f"By the disc the printed 100 mm measure {found.ruler_mm:.1f} ± {2 * off:.1f} mm.")
    match, odd = None, list[str]()
    if options.study is not None:
        study = load(options.study)
        match = matched(study, found, parts_named(study, [options.part]) if options.part else ())
        odd = [s.sentence for s in swaps(study, lying(match))]
    if options.output is not None:
        from oddbolt.files.scan_drawing import write_scan

        write_scan(options.output, photo, found)
    if options.json:
        print_json(_scan_json(found, match))
        return 0
    for warning in found.warnings:
        print(warning)
    for line in (*told(found, match), *(f"{sentence[:1].upper()}{sentence[1:]}." for sentence in odd)):
        print(line)
    return 0


def _points(typed: list[str]) -> list[tuple[float, float]]:
    """Points typed as "x,y". Raises ValueError."""
    pairs = [tuple(float(v) for v in point.split(",")) for point in typed]
    if any(len(pair) != 2 for pair in pairs):
        raise ValueError("two figures each")
    return [(pair[0], pair[1]) for pair in pairs]


def measure(options: argparse.Namespace) -> int:
    from oddbolt.core.errors import VisionError
    from oddbolt.core.vision.find import find_mat
    from oddbolt.core.vision.measure import measure as figure
    from oddbolt.files.pictures import pixels

    try:
        points = _points(options.points)
    except ValueError:
        raise VisionError("Type each point as two figures in px with a comma between them, like 812,604.") from None
    found = find_mat(pixels(options.photo))
    told = figure(found, options.what, points, options.height, options.ruler)
    if options.json:
        print_json({"what": told.kind, "value": told.value, "off": told.off, "unit": told.unit, "words": told.words})
        return 0
    for warning in found.warnings:
        print(warning)
    print(told.words)
    return 0


def _scan_json(found: Scan, match: Match | None) -> dict[str, object]:
    camera = found.found.camera
    of = dict(match.of) if match else {}
    return {
        "count": len(found.screws),
        "ruler_mm": round(found.ruler_mm, 3),
        "screws": [
            {
                "x_mm": round(t.screw.x_mm, 2),
                "y_mm": round(t.screw.y_mm, 2),
                "head_x_mm": round(t.screw.head_x_mm, 2),
                "head_y_mm": round(t.screw.head_y_mm, 2),
                "turn_deg": round(t.screw.turn_deg, 1),
                "shape": t.screw.shape,
                "length_mm": round(t.screw.length_mm, 2),
                "overall_mm": round(t.screw.overall_mm, 2),
                "head_mm": round(t.screw.head_mm, 2),
                "shank_mm": round(t.screw.shank_mm, 2),
                "group": t.group,
                "fit": round(t.screw.fit, 2),
                **({"joint": of.get(n, "")} if match else {}),
            }
            for n, t in enumerate(found.screws)
            if t.screw is not None
        ],
        "groups": [
            {
                "count": g.count,
                "shape": g.shape,
                "length_mm": round(g.length_mm, 2),
                "head_mm": round(g.head_mm, 2),
                "shank_mm": round(g.shank_mm, 2),
                "spread_mm": round(g.spread_mm, 2),
            }
            for g in found.groups
        ],
        "others": [
            {"x_mm": round(t.x_mm, 2), "y_mm": round(t.y_mm, 2), "why": t.why_not}
            for t in found.things
            if t.screw is None
        ],
        "mat": {
            "sheet": found.found.sheet.name,
            "markers": len(found.found.markers),
            "px_per_mm": round(found.found.px_per_mm, 2),
            "tilt_deg": round(camera.tilt_deg, 1),
            "scale_off": round(found.found.scale_off, 5),
        },
        "match": None if match is None else match.json(),
        "warnings": list(found.warnings),
    }


def screws(options: argparse.Namespace) -> int:
    from oddbolt.core.fasteners.look_alike_ranking import count_pairs, outliers, pairs
    from oddbolt.core.fasteners.tray_tally import step_of
    from oddbolt.core.reference.tables import screw_label
    from oddbolt.core.study.formatting import plural

    study = load(options.study)
    if options.measured:
        lengths = [float(v) for v in options.measured]
        odd = outliers(lengths)
        if options.json:
            rows = [{"number": o.n + 1, "length_mm": o.length_mm, "middle_mm": o.middle_mm} for o in odd]
            print_json({"outliers": rows})
            return 0
        for one in odd:
            print(f"number {one.n + 1}, {one.length_mm:g} mm, stands out among {one.middle_mm:g} mm")
        if not odd:
            print(f"None of these {len(lengths)} stands out.")
        return 0
    groups = [j for j in study.joints.values() if j.kind == "screw"]
    of = step_of(study)
    found = pairs(study)
    if options.json:
        print_json(
            {
                "groups": [
                    {
                        "id": j.id,
                        "name": study.name(j.id),
                        "count": j.count,
                        "drive": j.drive,
                        "size": j.size,
                        "thread": j.thread,
                        "length_mm": j.length_mm,
                        "head": j.head,
                        "finish": j.finish,
                        "holds": [study.name(p) for p in j.holds],
                        "step": of.get(j.id),
                        "reuse": j.reuse,
                    }
                    for j in groups
                ],
                "pairs": [
                    {
                        "a": p.a,
                        "b": p.b,
                        "same_driver": p.same_driver,
                        "fits": p.fits,
                        "alike": round(p.alike, 3),
                        "risk": round(p.risk, 3),
                        "if_swapped": list(p.swapped),
                        "advice": p.advice,
                    }
                    for p in found
                ],
            }
        )
        return 0
    print(f"{plural(sum(j.count or 0 for j in groups), 'screw')} in {plural(len(groups), 'group')}.")
    for j in groups:
        figures = " ".join(filter(None, (j.thread, f"× {j.length_mm:g}" if j.length_mm else "", j.finish)))
        count = "?" if j.count is None else str(j.count)
        print(f"{count:>3} × {screw_label(j.drive, j.size):22} {figures:22} {study.name(j.id)}")
    for p in found:
        print(f"{p.alike:4.0%} alike  {study.name(p.a)} / {study.name(p.b)}: {p.advice}")
        for said, (mine, theirs) in zip(p.swapped, ((p.a, p.b), (p.b, p.a)), strict=True):
            if said:
                print(f"      {study.name(mine)} where {study.name(theirs)} belong: {said}")
    if count_pairs(study) > len(found):
        print(f"These are the worst {len(found)} of {count_pairs(study)} pairs.")
    return 0


def tray(options: argparse.Namespace) -> int:
    from oddbolt.core.fasteners.tray import plan
    from oddbolt.core.fasteners.tray import tray as tray_of
    from oddbolt.core.fasteners.tray_tally import lying, ticks
    from oddbolt.files.tray_sheet import write_tray

    study = load(options.study)
    found = plan(study, tray_of(options.grid, options.width, options.height), options.by_kind)
    if options.output is not None:
        write_tray(options.output, study, found)
    if options.json:
        print_json(
            {
                "per_row": list(found.tray.per_row),
                "compartments": list(found.of),
                "cost": round(found.cost, 3),
                "gap": round(found.gap, 4),
                "beside": [list(b) for b in found.beside],
                "sentence": found.sentence,
                "lying": {j: lying(study.joints[j]) for j in found.of if j},
                "ticks": ticks(study),
            }
        )
        return 0
    left = iter(found.of)
    for across in found.tray.per_row:
        print(" | ".join(f"{study.name(j)[:20] if j else '':20}" for j in islice(left, across)))
    print(found.sentence)
    if ticks(study):
        print(ticks(study))
    return 0


def torque(options: argparse.Namespace) -> int:
    from oddbolt.core.errors import BenchError
    from oddbolt.core.fasteners.parse_measurements import driver_of
    from oddbolt.core.fasteners.torque import held_against, sentence, tightening_order, usual_thread, window
    from oddbolt.core.reference.quantities import quantity
    from oddbolt.core.reference.tables import thread_of

    thread, driver = thread_of(options.thread), driver_of(options.thread)
    note = ""
    if thread is None and (thread := usual_thread(*driver)) is not None:
        note = f"{thread.name} is the largest thread usual with {options.thread}; a thinner one takes less. Measure it."
    if thread is None:
        raise BenchError(
            f"“{options.thread}” is neither a known thread nor a driver; type it like M2.5, M3x0.35 or IP5."
        )
    found = window(thread, options.into, options.klass)
    told = ""
    try:
        if options.typed:
            told = held_against(quantity(options.typed, "torque"), thread, found, options.into)
    except ValueError as error:
        raise BenchError(f"{error}".rstrip(".") + ".") from None
    try:
        holes = _points(options.holes)
    except ValueError:
        raise BenchError("Type each hole as two figures with a comma between them, like 0,0 40,0.") from None
    order = tightening_order(holes, options.pattern) if holes else ()
    if options.json:
        print_json(
            {
                "thread": thread.name,
                "into": options.into,
                "low_ncm": round(found.low_ncm, 2),
                "high_ncm": round(found.high_ncm, 2),
                "break_ncm": found.break_ncm,
                "strip_ncm": None if found.strip_ncm is None else round(found.strip_ncm, 2),
                "capped": found.capped,
                "computed": found.computed,
                "note": note,
                "formula": found.formula,
                "source": found.source,
                "typed": told,
                "order": [n + 1 for n in order],
            }
        )
        return 0
    if note:
        print(note)
    print(sentence(thread, found, options.into))
    print(f"{found.formula}. {found.source}.")
    if told:
        print(told)
    if order:
        print(f"Start all by hand, then tighten: {', '.join(str(n + 1) for n in order)}.")
    return 0
