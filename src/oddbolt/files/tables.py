"""Tables of a study as rows and as CSV. A cell that a spreadsheet would run as a formula is made plain text."""

from __future__ import annotations

import csv
import io
import re
import zipfile
from collections.abc import Callable, Mapping, Sequence
from pathlib import Path

from oddbolt.core.components import bill_of_materials
from oddbolt.core.components.board_maps import rows as outline_rows
from oddbolt.core.reach import reach_of_all, step_times
from oddbolt.core.reference.tables import screw_label
from oddbolt.core.study import Study
from oddbolt.files import figure_tables
from oddbolt.files.whole import written_whole

#: the tables, and what they are called where one is chosen
TABLES = {
    "steps": "Table of steps",
    "parts": "Table of parts",
    "joints": "Table of joints",
    "bill": "Bill of materials",
    "outlines": "Outlines on board maps",
    "reach": "Reach of every part",
    "routes": "Routes to the priority parts",
    "verdict": "Verdict by every school",
    "ledger": "Ledger",
    "runs": "Runs and laps",
    "findings": "Findings",
}
#: what begins a formula, full-width signs included; spaces and unseen characters before it do not hide it
FORMULA = ("=", "+", "-", "@", "|", "%", "＝", "＋", "－", "＠")
_UNSEEN = re.compile(r"^[\s\x00-\x1f\u00a0\u200b-\u200f\u2028-\u202e\u2060\ufeff]+")


def rows(study: Study, table: str) -> list[list[str]]:
    """A table with its heading row."""
    made: Mapping[str, Callable[[Study], list[list[str]]]] = {
        "steps": _steps,
        "parts": _parts,
        "joints": _joints,
        "bill": _bill,
        "outlines": outline_rows,
        "reach": figure_tables.reach_rows,
        "routes": figure_tables.route_rows,
        "verdict": figure_tables.verdict_rows,
        "ledger": figure_tables.ledger_rows,
        "runs": figure_tables.run_rows,
        "findings": figure_tables.finding_rows,
    }
    return made[table](study)


def csv_text(study: Study, table: str) -> str:
    """A table as CSV (comma, CRLF, UTF-8 as RFC 4180 has it)."""
    return csv_of(rows(study, table))


def write_tables(path: Path, study: Study, tables: Sequence[str] = tuple(TABLES)) -> None:
    """Write tables as CSV into FILE.zip. Raises FileError."""
    with written_whole(path) as part, zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED) as packed:
        for table in tables:
            packed.writestr(f"{table}.csv", csv_text(study, table))


def csv_of(table: Sequence[Sequence[str]]) -> str:
    """Rows as CSV with formulas neutralised."""
    out = io.StringIO()
    csv.writer(out).writerows([[safe(cell) for cell in row] for row in table])
    return out.getvalue()


def safe(cell: str) -> str:
    """The cell on one line, with an apostrophe before it where a spreadsheet would take it for a formula. Plain numbers
    stay."""
    cell = " ".join(cell.splitlines()) if "\n" in cell or "\r" in cell else cell
    if not _UNSEEN.sub("", cell).startswith(FORMULA):
        return cell
    try:
        float(cell)
    except ValueError:
        return "'" + cell
    return cell


def _names(study: Study, ids: Sequence[str]) -> str:
    return "; ".join(study.name(id) for id in ids)


#: what a part is, as columns
PART_FIELDS = tuple(
    "function markings number maker package pins value rating date_code material colour long_mm wide_mm high_mm "
    "mass_off_g condition spare origin price role stays".split()
)


def _plain(value: object) -> str:
    """A field of a record as the text of a cell."""
    if isinstance(value, bool):
        return "yes" if value else ""
    if isinstance(value, (int, float)):
        return f"{value:g}"
    return "; ".join(value) if isinstance(value, tuple) else str(value or "")


def _number(value: float | None) -> str:
    return "" if value is None else f"{value:g}"


def _steps(study: Study) -> list[list[str]]:
    times = step_times(study)
    out = [
        [
            "number",
            "id",
            "verb",
            "said",
            "releases",
            "takes out",
            "opens",
            "softens",
            "tool",
            "face",
            "wait_s",
            "seconds",
            "time is",
            "isolates power",
            "cautions",
            "told at_s",
            "joint ids",
            "part ids",
        ]
    ]
    for n, step in enumerate(study.steps.values(), 1):
        time = times[step.id]
        out.append(
            [
                str(n),
                step.id,
                step.verb,
                step.said,
                _names(study, step.releases),
                _names(study, step.takes_out),
                _names(study, step.opens),
                _names(study, step.softens),
                step.tool,
                step.face,
                _number(step.wait_s),
                _number(time.seconds),
                time.basis,
                "yes" if step.isolates_power else "",
                "; ".join(step.cautions),
                _number(step.at_s),
                " ".join((*step.releases, *step.softens)),
                " ".join((*step.takes_out, *step.opens, *step.puts_in)),
            ]
        )
    return out


def _parts(study: Study) -> list[list[str]]:
    reach = reach_of_all(study)
    out = [
        [
            "id",
            "name",
            "inside",
            "kind",
            "priority",
            "reuse",
            "variant",
            "mass_g",
            "steps least",
            "steps most",
            "seconds least",
            "seconds most",
            "why not",
            "note",
            *PART_FIELDS,
        ]
    ]
    for part in study.parts.values():
        r = reach[part.id]
        figures = (
            [r.steps.least, r.steps.most, r.seconds.least, r.seconds.most] if r.steps and r.seconds else [None] * 4
        )
        out.append(
            [
                part.id,
                part.name,
                study.name(part.inside) if part.inside else "",
                part.kind,
                "yes" if part.priority else "",
                part.reuse,
                part.variant,
                _number(part.mass_g),
                *map(_number, figures),
                r.why_not,
                part.note,
                *(_plain(getattr(part, field)) for field in PART_FIELDS),
            ]
        )
    return out


def _joints(study: Study) -> list[list[str]]:
    out = [
        [
            "id",
            "kind",
            "name",
            "count",
            "holds",
            "into",
            "drive",
            "size",
            "thread",
            "length_mm",
            "head",
            "head_mm",
            "finish",
            "torque_ncm",
            "latch",
            "family",
            "pins",
            "pitch_mm",
            "tab",
            "reuse",
            "place",
            "note",
        ]
    ]
    out += [
        [
            j.id,
            j.kind,
            study.name(j.id),
            "" if j.count is None else str(j.count),
            _names(study, j.holds),
            study.name(j.into) if j.into else "",
            screw_label(j.drive, "") if j.drive else "",
            j.size,
            j.thread,
            _number(j.length_mm),
            j.head,
            _number(j.head_mm),
            j.finish,
            _number(j.torque_ncm),
            j.latch,
            j.family,
            "" if j.pins is None else str(j.pins),
            _number(j.pitch_mm),
            {None: "", True: "yes", False: "no"}[j.tab],
            j.reuse,
            j.place,
            j.note,
        ]
        for j in study.joints.values()
    ]
    return out


def _bill(study: Study) -> list[list[str]]:
    out = [
        [
            "level",
            "name",
            "kind",
            "count",
            "marks",
            "each_g",
            "mass_g",
            "mass is",
            "held by",
            "holds",
            "reuse",
            "variant",
            "ids",
        ]
    ]
    out += [
        [
            str(line.level),
            line.name,
            line.kind,
            "" if line.count is None else str(line.count),
            "; ".join(line.marks),
            _number(line.each_g),
            _number(line.sum_g),
            line.basis,
            "; ".join(line.held),
            "; ".join(line.holds),
            line.reuse,
            line.variant,
            " ".join(line.ids),
        ]
        for line in bill_of_materials(study)
    ]
    return out
