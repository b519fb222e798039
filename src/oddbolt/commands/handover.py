"""Commands that hand a study over: the report, repair instructions, tables and data, captions, photos, a web folder."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Callable
from datetime import date
from typing import TYPE_CHECKING

from oddbolt.commands.loading import load, parts_named
from oddbolt.core.errors import FileError
from oddbolt.files.text import STANDARD, write_text

if TYPE_CHECKING:
    from oddbolt.core.study import Study


def report(options: argparse.Namespace) -> int:
    from oddbolt.files.report import choice, write_report
    from oddbolt.files.store import Store

    chosen = choice(options.preset, options.sections, options.schools, options.paper, options.said)
    store, study = Store.open(options.study, read_only=True)
    with store:
        shown = _for(study, options.others)
        write_report(options.output, shown, store.picture, date.today().isoformat(), chosen, _told(options.progress))
    return 0


def _told(asked: bool) -> Callable[[str, float], None]:
    """Progress as lines for a program that asked for them, else on one line of a terminal."""
    from oddbolt.files.report.choice import PROGRESS

    def told(what: str, share: float) -> None:
        if asked:
            print(f"{PROGRESS}{share:.3f} {what}", file=sys.stderr, flush=True)
        elif sys.stderr.isatty():
            print(f"\r{share:>4.0%} {what:<60}", end="" if share < 1 else "\n", file=sys.stderr, flush=True)

    return told


def _for(study: Study, others: bool) -> Study:
    """The study, or a copy for others; what was taken out is told."""
    if not others:
        return study
    from oddbolt.core.handover.for_others import for_others

    shown, told = for_others(study)
    print(f"Taken out: {', '.join(told) or 'nothing was there to take out'}.", file=sys.stderr)
    return shown


def instructions(options: argparse.Namespace) -> int:
    from oddbolt.core.reassembly import repair_job
    from oddbolt.files.report.instructions import write_instructions
    from oddbolt.files.store import Store

    store, study = Store.open(options.study, read_only=True)
    with store:
        job = repair_job(study, parts_named(study, options.target))
        write_instructions(options.output, study, job, store.picture, options.paper)
    return 0


def export(options: argparse.Namespace) -> int:
    from oddbolt.files.records import to_json
    from oddbolt.files.tables import TABLES, csv_text, write_tables

    ending = options.output.suffix.lower()
    if ending == ".oddbolt":
        return _for_others(options)
    study = _for(load(options.study), options.others)
    if ending == ".json" or (options.output == STANDARD and not options.table):
        write_text(options.output, json.dumps(to_json(study), ensure_ascii=False, indent=1))
    elif ending == ".csv" or options.output == STANDARD:
        write_text(options.output, csv_text(study, options.table or "steps"))
    elif ending == ".zip":
        write_tables(options.output, study, (options.table,) if options.table else tuple(TABLES))
    elif ending == ".xlsx":
        from oddbolt.files.workbook import write_workbook

        write_workbook(options.output, study, (options.table,) if options.table else tuple(TABLES))
    else:
        raise FileError(f"{options.output.name} ends in none of .json, .csv, .zip and .xlsx.")
    return 0


def _for_others(options: argparse.Namespace) -> int:
    """A study of its own for others, photos with it."""
    from oddbolt.files.photo_archive import bare_study
    from oddbolt.files.store import Store

    if not options.others:
        raise FileError("A study is copied as a file; with --others it is written without what must not be told.")
    store, study = Store.open(options.study, read_only=True)
    with store:
        bare, pictures = bare_study(_for(study, True), store.picture)
    Store.create(options.output, bare, pictures, replace=options.replace).close()
    return 0


def captions(options: argparse.Namespace) -> int:
    from oddbolt.core.handover.cues import chapters, timed_steps
    from oddbolt.files.captions import write_captions

    cues = timed_steps(load(options.study), options.of_run)
    write_captions(options.output, cues, chapters(cues) if options.chapters else ())
    return 0


def photos_out(options: argparse.Namespace) -> int:
    from oddbolt.files.photo_archive import write_photos
    from oddbolt.files.store import Store

    if options.output.suffix.lower() != ".zip":
        raise FileError(f"{options.output.name} does not end in .zip.")
    store, study = Store.open(options.study, read_only=True)
    with store:
        count = write_photos(options.output, _for(study, options.others), store.picture, options.longest)
    print(f"{count} photos, without what the camera wrote into them about place and owner.")
    return 0


def view(options: argparse.Namespace) -> int:
    from oddbolt.commands.libraries import check_libraries

    check_libraries()
    from oddbolt.desk.shell.view_file import write_view

    wide, _, high = options.size.lower().partition("x")
    if not (wide.isdecimal() and high.isdecimal()):
        raise FileError(f"{options.size!r} is no size; one looks like 1280x800.")
    write_view(options.output, options.study, options.page, options.about, (int(wide), int(high)))
    return 0


def web(options: argparse.Namespace) -> int:
    from oddbolt.files.store import Store
    from oddbolt.files.web_folder import write_web

    store, study = Store.open(options.study, read_only=True)
    with store:
        pages = write_web(options.output, _for(study, options.others), store.picture, options.replace)
    print(f"{pages} pages; begin with {options.output / 'index.html'}.")
    return 0
