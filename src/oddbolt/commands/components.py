"""Commands about what parts are."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from oddbolt.commands.loading import load, print_json, thing_named
from oddbolt.core.errors import BenchError, FileError
from oddbolt.files.text import STANDARD, write_text

if TYPE_CHECKING:
    from oddbolt.core.components.looks import Guide, Ranked, Seen
    from oddbolt.core.study import Study


def decode(options: argparse.Namespace) -> int:
    from oddbolt.core.components import decode as readings
    from oddbolt.core.components.marking import ALSO, KINDS
    from oddbolt.core.study.formatting import chance

    if options.kind and options.kind.lower() not in (*KINDS, *ALSO):
        raise BenchError(f"“{options.kind}” is no kind that a marking is known of; one of: {', '.join(KINDS)}.")
    if options.photo is not None:
        return _decode_photo(options)
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


def _decode_photo(options: argparse.Namespace) -> int:
    """Read the lines on a photo, and decode each."""
    from oddbolt.core.components import decode as readings
    from oddbolt.core.study.board_map import corners_in
    from oddbolt.core.study.formatting import chance
    from oddbolt.files.ocr import read_marking
    from oddbolt.files.pictures import look_at_file

    corners = corners_in(options.outline) if options.outline else ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0))
    lines = read_marking(look_at_file(options.photo).data, corners)
    rows = []
    for line in lines:
        found = readings(line.text, options.package, options.kind)[:1] if len(line.text) <= 40 else ()
        one = found[0] if found else None
        rows.append(
            {"text": line.text, "sure": line.sure, "kind": one.kind if one else "", "words": one.words if one else ""}
        )
        if not options.json:
            told = f"  {chance(one.probability)} {one.kind}: {one.words}" if one else ""
            print(f"{line.text}  (read with {line.sure:.0f} of 100){told}")
    if options.json:
        print_json({"marking": "", "readings": [], "lines": rows})
    elif not lines:
        print("Nothing was read on the photo; type the marking.")
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
                "by_material": [{"material": what, "mass_g": round(g, 4)} for what, g in found.by_material],
                "weigh": [study.name(p) for p in found.weigh],
            }
        )
        return 0
    for line in found.lines:
        print(
            f"{'  ' if line.adds_up else '! '}{line.sentence.rstrip('?')}{'?' if line.sentence.endswith('?') else '.'}"
        )
    print("By kind: " + ", ".join(f"{kind} {g:g} g" for kind, g in found.by_kind[:8]) + ".")
    print("By material: " + ", ".join(f"{what} {g:g} g" for what, g in found.by_material[:8]) + ".")
    if found.weigh:
        print("Weigh next: " + ", ".join(study.name(p) for p in found.weigh[:5]) + ".")
    return 0


def bom(options: argparse.Namespace) -> int:
    from oddbolt.core.components import bill_of_materials
    from oddbolt.core.study.formatting import plural
    from oddbolt.files.tables import csv_text

    study = load(options.study)
    if options.output:
        if options.output.suffix.lower() == ".xlsx":
            from oddbolt.files.workbook import write_workbook

            write_workbook(options.output, study, ("bill", "parts"))
            return 0
        if options.output.suffix.lower() != ".csv" and options.output != STANDARD:
            raise FileError(f"{options.output.name} ends in neither .csv nor .xlsx.")
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


# -- what a thing is, from what is seen of it ---------------------------------------------------------------


def part_kind(options: argparse.Namespace) -> int:
    from oddbolt.core.components.kinds import named_kind, part_guide, part_kinds, what_is_this, with_kind

    if options.list or options.about:
        kinds = [named_kind(options.about)] if options.about else list(part_kinds().values())
        rows = [
            {
                "kind": kind.id,
                "family": kind.family,
                "also": kind.also,
                "does": kind.does,
                "place": kind.place,
                "handle": kind.handle,
                "end": kind.end,
                "size_mm": kind.size_mm,
            }
            for kind in kinds
        ]
        if options.json:
            print_json({"kinds": rows})
            return 0
        for kind in kinds:
            print(f"{kind.id} ({kind.family}): {kind.does}")
            if options.about:
                print(f"  also called: {', '.join(kind.also)}\n  usual place: {kind.place}\n  mind: {kind.handle}")
                print(
                    f"  at the end of its life: {kind.end}\n  usual size: {kind.size_mm[0]:g} to {kind.size_mm[1]:g} mm"
                )
        return 0

    def enter(study: Study, part: str, ranked: Ranked, _seen: Seen) -> Study:
        return with_kind(study, part, ranked, options.choose)

    return _looked(options, part_guide(), what_is_this, "P", enter, lambda _seen: "", lambda _id: {})


def package(options: argparse.Namespace) -> int:
    from oddbolt.core.components.packages import package_guide, packages, which_package, with_package

    def enter(study: Study, part: str, ranked: Ranked, seen: Seen) -> Study:
        return with_package(study, part, ranked, seen, options.choose)

    def about(id: str) -> dict[str, Any]:
        return {"also": packages()[id].also, "source": packages()[id].source}

    return _looked(options, package_guide(), which_package, "P", enter, lambda _seen: "", about)


def connector(options: argparse.Namespace) -> int:
    from oddbolt.core.components.connectors import (
        connector_guide,
        connectors,
        miscounted,
        which_connector,
        with_connector,
    )

    def enter(study: Study, joint: str, ranked: Ranked, seen: Seen) -> Study:
        return with_connector(study, joint, ranked, seen, options.choose)

    def about(id: str) -> dict[str, Any]:
        row = connectors()[id]
        return {
            "opens": row.opens,
            "tool": row.tool,
            "way": row.way,
            "bears": row.bears,
            "breaks": row.breaks,
            "source": row.source,
        }

    return _looked(options, connector_guide(), which_connector, "J", enter, miscounted, about)


def _looked(
    options: argparse.Namespace,
    guide: Guide,
    rank: Callable[[Seen, int], Ranked],
    letter: str,
    enter: Callable[[Study, str, Ranked, Seen], Study],
    remark: Callable[[Seen], str],
    about: Callable[[str], dict[str, Any]],
) -> int:
    """Rank what it may be; with --into and --of, keep the likeliest, or that of --choose, in a study."""
    from oddbolt.core.study.formatting import chance

    if bool(options.into) != bool(options.of):
        raise BenchError("To keep the answer, give both --into STUDY and --of NAME.")
    seen = guide.read(" ".join(options.seen))
    ranked = rank(seen, max(1, options.most))
    remarks = [text for text in (ranked.trouble, remark(seen)) if text]
    if seen.unread:
        remarks.insert(0, f"Not understood: {', '.join(seen.unread)}.")
    kept = _kept(options, letter, lambda study, id: enter(study, id, ranked, seen)) if options.into else ""
    if options.json:
        rows = [
            {
                "name": one.id,
                "probability": round(one.probability, 4),
                "speaks_for": one.speaks_for,
                "speaks_against": one.speaks_against,
                **about(one.id),
            }
            for one in ranked.candidates
        ]
        asked = guide.looks[ranked.next] if ranked.next else None
        answers = [asked.words(a) for a in guide.asked(ranked)] if asked else []
        print_json(
            {
                "candidates": rows,
                "next": ranked.next,
                "question": asked.question if asked else "",
                "answers": answers,
                "gain_bits": round(ranked.gain, 3),
                "remarks": remarks,
                "kept": kept,
            }
        )
        return 0
    for text in remarks:
        print(text)
    for n, one in enumerate(ranked.candidates, 1):
        against = f"; but {one.speaks_against[0]}" if one.speaks_against else ""
        print(f"{n} {chance(one.probability):>5}  {one.id}  ({', '.join(one.speaks_for[:4])}{against})")
    if ranked.candidates and "opens" in (told := about(ranked.candidates[0].id)):
        print(f"Opens: {told['opens']}. With: {told['tool']}. Way: {told['way']}.")
        print(f"Made for about {told['bears']} matings. Breaks: {told['breaks']}.")
    if advice := guide.advice(ranked):
        print(f"Next: {advice}")
    if kept:
        print(kept)
    return 0


def _kept(options: argparse.Namespace, letter: str, enter: Callable[[Study, str], Study]) -> str:
    """Write what was found into the study; returns what was written, in words."""
    from oddbolt.files.store import Store

    store, study = Store.open(options.into)
    with store:
        id = thing_named(study, options.of, letter)
        after = enter(study, id)
        store.save(study, after)
    return f"Kept: {after.name(id)}, {_what(after, id)}."


def _what(study: Study, id: str) -> str:
    if id in study.parts:
        part = study.parts[id]
        return ", ".join(filter(None, (part.kind, part.package)))
    joint = study.joints[id]
    return ", ".join(filter(None, (joint.family, joint.latch, f"{joint.pins} contacts" if joint.pins else "")))


def parts(options: argparse.Namespace) -> int:
    from oddbolt.core.components.kinds import kind_of
    from oddbolt.core.components.layout import STATES, chosen, identified, outline_mm

    study = load(options.study)
    if options.state and options.state not in STATES:
        raise BenchError(f"“{options.state}” is no state of a part; one of: {', '.join(STATES)}.")
    ids = chosen(study, options.find, options.kind, options.material, options.state)
    if options.output:
        from oddbolt.desk.pages.parts_panels.laid_out_export import write_laid_out

        write_laid_out(options.output, study)
    mapped = {r.part: r for r in study.regions.values() if r.part and r.kind in ("part", "edge")}
    rows = []
    for id in ids:
        part = study.parts[id]
        region = mapped.get(id)
        seen = outline_mm(study, region) if region else None
        told = kind_of(part.kind) if part.kind else None
        rows.append(
            {
                "id": id,
                "name": part.name,
                "inside": study.name(part.inside) if part.inside else "",
                "kind": part.kind,
                "family": told.family if told else "",
                "function": part.function,
                "markings": part.markings,
                "number": part.number,
                "maker": part.maker,
                "package": part.package,
                "pins": part.pins,
                "value": part.value,
                "rating": part.rating,
                "date_code": part.date_code,
                "material": part.material,
                "colour": part.colour,
                "size_mm": [part.long_mm, part.wide_mm, part.high_mm],
                "outline_mm": [round(seen[0], 2), round(seen[1], 2)] if seen else None,
                "mass_g": part.mass_g,
                "condition": part.condition,
                "spare": part.spare,
                "price": part.price,
                "priority": part.priority,
                "reuse": part.reuse,
                "stays": part.stays,
                "role": part.role,
            }
        )
    if options.json:
        print_json({"device": study.device.name, "parts": rows})
        return 0
    for id in ids:
        part = study.parts[id]
        sides = " × ".join(f"{s:g}" for s in (part.long_mm, part.wide_mm, part.high_mm) if s)
        mass_g = f"{part.mass_g:g} g" if part.mass_g is not None else ""
        marks = f"“{'”, “'.join(part.markings)}”" if part.markings else ""
        bits = (
            part.kind or ("" if identified(part) else "not identified"),
            sides and sides + " mm",
            part.package,
            mass_g,
            marks,
        )
        print(f"{part.name}: {', '.join(filter(None, bits))}")
    unknown = sum(not identified(study.parts[id]) for id in ids)
    print(f"{len(ids)} of {len(study.parts)} parts, {unknown} not identified.")
    return 0


def board_map(options: argparse.Namespace) -> int:
    import numpy as np

    from oddbolt.core.components.layout import narrowest_box
    from oddbolt.core.errors import VisionError
    from oddbolt.core.study.board_map import corners_in, corners_typed
    from oddbolt.core.vision.board import propose
    from oddbolt.core.vision.find import find_mat
    from oddbolt.files.pictures import pixels

    if options.into is None and (options.of or options.output):
        raise BenchError("To keep the map or draw it, give --into STUDY.")
    picture = pixels(options.photo)
    found = propose(picture, corners_in(options.edge) if options.edge else ())
    wide, off, basis = _scale(options.wide), 0.02, "typed"
    if wide is None:
        try:
            sheet = find_mat(np.ascontiguousarray(picture))
            wide, off, basis = picture.shape[1] / sheet.px_per_mm, max(0.01, sheet.scale_off), "mat"
        except VisionError:
            basis = ""
    high = (wide or 0.0) * picture.shape[0] / picture.shape[1]
    rows = []
    for one in found.outlines:
        sides = narrowest_box([(x * (wide or 1.0), y * (high or 1.0)) for x, y in one.corners]) if wide else None
        rows.append(
            {
                "looks": one.kind,
                "filled": one.filled,
                "size_mm": [round(max(sides), 2), round(min(sides), 2)] if sides else None,
                "corners": corners_typed(one.corners),
            }
        )
    kept = ""
    if options.into is not None:
        kept = _kept_map(options, [(one.corners, one.kind) for one in found.outlines], found.edge, wide, basis, off)
    if options.json:
        scale = {"wide_mm": round(wide, 2) if wide else None, "from": basis, "may_be_off": round(off, 4)}
        print_json({"edge": corners_typed(found.edge), "scale": scale, "outlines": rows, "kept": kept})
        return 0
    print(f"The photo is {wide:.1f} mm wide ({basis})." if wide else "No scale: lay the mat beside it, or give --wide.")
    for n, row in enumerate(rows, 1):
        size = f"{row['size_mm'][0]:g} × {row['size_mm'][1]:g} mm" if row["size_mm"] else ""  # type: ignore[index]
        print(f"{n:>3} {row['looks']:<10} {size}".rstrip())
    print(f"{len(rows)} outlines proposed; each is a proposal until somebody names it.")
    if kept:
        print(kept)
    return 0


def _scale(typed: str) -> float | None:
    from oddbolt.core.reference.quantities import quantity

    try:
        return quantity(typed, "length") if typed else None
    except ValueError as error:
        raise BenchError(str(error)) from None


def _kept_map(
    options: argparse.Namespace,
    proposals: list[tuple[tuple[tuple[float, float], ...], str]],
    edge: tuple[tuple[float, float], ...],
    wide: float | None,
    basis: str,
    off: float,
) -> str:
    """The photo kept in the study as a map, with its outlines; drawn, if that is asked for."""
    from oddbolt.core.components import board_maps
    from oddbolt.core.study import Photo, new_id, put
    from oddbolt.files.board_drawing import write_board
    from oddbolt.files.pictures import look_at_file
    from oddbolt.files.store import Store

    looked = look_at_file(options.photo)
    store, study = Store.open(options.into)
    with store:
        digest = store.add_picture(looked.data)
        after = study
        photo = next((p for p in study.photos.values() if p.sha256 == digest), None)
        if photo is None:
            photo = Photo(new_id(study, "H"), digest, "", options.photo.stem, looked.width, looked.height, looked.taken)
            after = put(after, photo)
        part = thing_named(after, options.of, "P") if options.of else ""
        after, board = board_maps.mapped(after, photo.id, part, options.face)
        if wide is not None:
            after = board_maps.scaled(after, photo.id, wide, basis, off)
        if not any(r.kind == "edge" for r in board_maps.regions_of(after, photo.id)):
            after, region = board_maps.outlined(after, photo.id, edge, "edge")
            after = board_maps.named(after, region, part) if part else after
        after, made = board_maps.accepted(after, photo.id, proposals)
        store.save(study, after)
        if options.output:
            write_board(options.output, after, photo.id, looked.data)
    return f"Kept: {after.name(board.id)}, {len(made)} new outlines; {board_maps.progress(after, photo.id).sentence}."
