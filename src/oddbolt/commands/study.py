"""What each command about a study does. Each takes the parsed options, prints its answer and returns the exit status.

Heavy imports stand inside the functions, so that a command loads only what it uses.
"""

from __future__ import annotations

import argparse
from contextlib import ExitStack
from pathlib import Path
from typing import TYPE_CHECKING, Any

from oddbolt.commands.loading import load, print_json
from oddbolt.core.errors import FileError
from oddbolt.files.text import read_json, read_text

if TYPE_CHECKING:
    from oddbolt.core.handover.sheet_rows import Entered
    from oddbolt.core.narration import Vocabulary
    from oddbolt.files.sheets import Sheet


def desk(options: argparse.Namespace) -> int:
    from oddbolt.commands.libraries import check_display, check_libraries

    check_display()
    check_libraries()
    try:
        from oddbolt.desk.app import run
    except ImportError as error:
        raise FileError(f"The window cannot be opened: {error}.") from None
    return run(options.study, demo=options.demo)


def draft(options: argparse.Namespace) -> int:
    from oddbolt.core.narration import draft as drafted
    from oddbolt.core.narration import parse_words, with_words
    from oddbolt.files.captions import read_cues

    taught: dict[str, Any] = {}
    if options.words:
        taught = parse_words(read_text(options.words), options.words.name)
    words = with_words(taught)
    if not options.rules:
        from oddbolt.listening import listening_vocabulary

        words = listening_vocabulary(words)
    if options.trace:
        return _trace(options.captions, words)
    log = drafted(read_cues(options.captions), words)
    if options.output:
        from oddbolt.core.narration.recording import log_draft
        from oddbolt.core.study import Study
        from oddbolt.files.store import Store

        Store.create(options.output, log_draft(Study(), log, options.captions.name), replace=options.replace).close()
    if options.json:
        print_json(log.json())
        return 0
    for step in log.steps:
        values = step.json()
        at = values.pop("at_s", None)
        values.pop("said", None)
        action = values.pop("action")
        rest = ", ".join(
            f"{k.replace('_', ' ')} {', '.join(v) if isinstance(v, list) else v}" for k, v in values.items()
        )
        print(f"{'' if at is None else f'{int(at) // 60}:{int(at) % 60:02d}':>6}  {action:<11} {rest}")
    for kind, notes in (("caution", log.cautions), ("finding", log.findings)):
        for note in notes:
            print(f"        {kind}: {note.text}")
    found = f"{len(log.steps)} steps, {len(log.cautions)} cautions, {len(log.findings)} findings"
    print(f"{found}; {log.not_steps} sentences contained no step.")
    return 0


def _trace(captions: Path, words: Vocabulary) -> int:
    """Print how every sentence is read."""
    from oddbolt.core.narration.captions import sentences
    from oddbolt.core.narration.memory import Memory
    from oddbolt.core.narration.reader import read, traced
    from oddbolt.files.captions import read_cues

    memory = Memory()
    for sentence in sentences(read_cues(captions), words.tagger):
        print(sentence.text)
        for line in traced(sentence.text, memory, words):
            print(f"    {line}")
        reading, memory = read(sentence.text, memory, words, sentence.at_s)
        for step in (*reading.steps, *reading.amends):
            print(f"    -> {step.json()}")
    return 0


def times(options: argparse.Namespace) -> int:
    from attrs import asdict

    from oddbolt.core.reach import time_study
    from oddbolt.core.study.formatting import duration

    study = load(options.study)
    found = time_study(study)
    if options.json:
        odd = [{**asdict(o), "step": study.name(o.step)} for o in found.odd]
        learned = found.learning and asdict(found.learning)
        rows = [asdict(f) for f in found.fitted]
        print_json({"laps": found.laps, "typical_s": found.typical_s, "fitted": rows, "odd": odd, "learning": learned})
        return 0
    print(f"{'':<12}{'approach':>10}{'each':>10}   {'eight of ten':<18}{'by motions':>12}")
    for f in found.fitted:
        low, high = f.each_span
        spans = f"{low:.1f} to {high:.1f} s"
        by_motions = f"{f.motions_approach_s:.1f} + {f.motions_each_s:.1f}"
        print(f"{f.kind:<12}{f.approach_s:>8.1f} s{f.each_s:>8.1f} s   {spans:<18}{by_motions:>12} s per {f.unit}")
    for o in found.odd:
        print(f"{study.name(o.step)} stands out: {duration(o.seconds)}, {duration(o.expected_s)} expected")
    if found.learning is not None:
        left = f"{found.learning.rate:.0%}"
        print(f"Learning: a doubling of runs leaves {left} of the time, over {found.learning.steps} steps.")
    print(f"{found.laps} laps; half of them lie within {found.typical_s:.1f} s of the fit.")
    return 0


def check(options: argparse.Namespace) -> int:
    from oddbolt.core.reach import reach_of_all
    from oddbolt.core.study.gaps import gaps

    study = load(options.study)
    unreachable = [
        r.why_not
        for r in reach_of_all(study).values()
        if r.why_not and "no recorded step takes it out" not in r.why_not
    ]
    found = {"contradictions": unreachable, "gaps": gaps(study)}
    if options.json:
        print_json(found)
    else:
        for kind, lines in found.items():
            for line in lines:
                print(f"{kind[:-1]}: {line}")
        size = f"{len(study.steps)} steps, {len(study.parts)} parts, {len(study.joints)} joints"
        print(f"{size}; {len(unreachable)} contradictions, {len(found['gaps'])} gaps.")
    return 1 if unreachable else 0


def import_file(options: argparse.Namespace) -> int:
    from oddbolt.files.sheets import ENDINGS

    if options.file.suffix.lower() in ENDINGS:
        return _import_sheet(options)
    from oddbolt.files.records import from_json
    from oddbolt.files.store import Store

    if options.output is None or options.into is not None:
        raise FileError("A JSON is a whole study: say with -o where to write it.")
    data = read_json(options.file)
    Store.create(options.output, from_json(data), replace=options.replace).close()
    return 0


def _import_sheet(options: argparse.Namespace) -> int:
    """Rows of somebody's own spreadsheet, into a new study or one that is there."""
    from oddbolt.core.handover.sheet_rows import entered, guess_kind, matched
    from oddbolt.core.study import Study
    from oddbolt.files.sheets import read_sheets
    from oddbolt.files.store import Store

    if (options.output is None) == (options.into is None) and not options.preview:
        raise FileError("Say where the rows go: -o NEW.oddbolt or --into STUDY.oddbolt.")
    sheets = read_sheets(options.file)
    names = [sheet.name for sheet in sheets]
    if options.sheet and options.sheet not in names:
        raise FileError(f"{options.file.name} has no sheet {options.sheet!r}; there are {', '.join(names)}.")
    sheet = sheets[names.index(options.sheet)] if options.sheet else sheets[0]
    kind = options.kind or guess_kind(sheet.heads)
    match = matched(kind, sheet.heads) if kind in ("parts", "joints", "steps") else {}
    for piece in filter(None, (p.strip() for p in options.match.split(","))):
        name, _, head = (side.strip() for side in piece.partition("="))
        if head not in sheet.heads:
            raise FileError(f"There is no column {head!r}; there are {', '.join(filter(None, sheet.heads))}.")
        match[name] = sheet.heads.index(head)
    with ExitStack() as until_written:
        store, before = None, load(options.into) if options.into and options.preview else Study()
        if options.into and not options.preview:
            store, before = Store.open(options.into)
            until_written.enter_context(store)
        found = entered(before, kind, sheet.rows, match)
        _tell_rows(sheet, kind, match, found, options.preview)
        if options.preview:
            return 0
        if not found.rows:
            raise FileError("No row could be entered; nothing was written.")
        if store is not None:
            store.save(before, found.study)
        else:
            Store.create(options.output, found.study, replace=options.replace).close()
    return 0


def _tell_rows(sheet: Sheet, kind: str, match: dict[str, int], found: Entered, preview: bool) -> None:
    """Which column went where, what is wrong in which cell, and how many rows go in."""
    for name, at in match.items():
        print(f"{sheet.heads[at]} → {name.replace('_', ' ')}")
    left = [head for n, head in enumerate(sheet.heads) if head and n not in match.values()]
    if left:
        print(f"not taken: {', '.join(left)}")
    for wrong in found.wrong:
        where = f"row {sheet.numbers[wrong.row]}" + (f", {sheet.heads[wrong.column]}" if wrong.column >= 0 else "")
        print(f"{where}: {wrong.why}")
    if found.new_parts:
        print(f"parts that were only named: {', '.join(found.new_parts)}")
    would = "would be entered" if preview else "entered"
    print(f"{found.rows} of {len(sheet.rows)} rows as {kind} {would}.")


def demo(options: argparse.Namespace) -> int:
    from oddbolt.demo import put_back, tide_logger
    from oddbolt.files.store import Store

    if options.shelf:
        from oddbolt.demo.small_devices import SHELF

        options.output.mkdir(parents=True, exist_ok=True)
        for name, make in SHELF.items():
            pictures = tide_logger.pictures() if name == "tide logger" else []
            Store.create(options.output / f"{name}.oddbolt", make(), pictures, replace=options.replace).close()
        return 0
    which = put_back if options.put_back else tide_logger
    Store.create(options.output, which.study(), which.pictures(), replace=options.replace).close()
    return 0
