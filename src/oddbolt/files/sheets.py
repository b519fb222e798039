"""Spreadsheets as they come: CSV of any usual form, and XLSX, as rows of text."""

from __future__ import annotations

import csv
import io
import zipfile
from collections.abc import Iterable, Sequence
from pathlib import Path

from attrs import frozen

from oddbolt.core.errors import FileError
from oddbolt.core.handover.sheet_rows import MOST_COLUMNS, MOST_ROWS
from oddbolt.files.captions import decoded
from oddbolt.files.text import read_bytes

LARGEST_BYTES, LARGEST_UNPACKED, LONGEST_CELL = 20_000_000, 300_000_000, 5_000
ENDINGS = (".csv", ".tsv", ".txt", ".xlsx")


@frozen
class Sheet:
    """One sheet: its name, its heads, and the rows below them, each as long as the heads; ``numbers`` are those of the
    rows in the file, from 1."""

    name: str
    heads: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    numbers: tuple[int, ...]


def read_sheets(path: Path) -> tuple[Sheet, ...]:
    """The sheets of a file that hold anything. Raises FileError."""
    ending = path.suffix.lower()
    if ending not in ENDINGS:
        raise FileError(f"{path.name} ends in none of {', '.join(ENDINGS)}.")
    raw = read_bytes(path, LARGEST_BYTES)
    grids = _workbook(raw, path.name) if ending == ".xlsx" else [(path.stem, _csv(raw, path.name))]
    found = [sheet for name, grid in grids if (sheet := _sheet(name, grid)) is not None]
    if not found:
        raise FileError(f"{path.name} holds no table: a row of heads with rows below it is needed.")
    return tuple(found)


def _csv(raw: bytes, name: str) -> list[list[str]]:
    text = decoded(raw, name)
    head = text[:20_000]
    try:
        mark = csv.Sniffer().sniff(head, delimiters=",;\t|").delimiter
    except csv.Error:
        mark = max(",;\t|", key=head.splitlines()[0].count) if head.strip() else ","
    try:
        return list(_bounded(csv.reader(io.StringIO(text, newline=""), delimiter=mark, strict=True), name))
    except csv.Error as error:
        raise FileError(f"{name} cannot be read as CSV: {error}.") from None


def _bounded(rows: Iterable[Sequence[object]], name: str) -> list[list[str]]:
    out: list[list[str]] = []
    for row in rows:
        if len(out) > MOST_ROWS + 50:
            raise FileError(f"{name} has more than {MOST_ROWS} rows.")
        if len(row) > MOST_COLUMNS:
            raise FileError(f"{name} has more than {MOST_COLUMNS} columns.")
        out.append([str(cell)[:LONGEST_CELL] for cell in row])
    return out


def _workbook(raw: bytes, name: str) -> list[tuple[str, list[list[str]]]]:
    """Each sheet as rows of text. A formula of which the file holds no value is shown as it stands: it is never left
    out in silence."""
    import openpyxl  # wanted only here

    try:
        with zipfile.ZipFile(io.BytesIO(raw)) as packed:
            if sum(entry.file_size for entry in packed.infolist()) > LARGEST_UNPACKED:
                raise FileError(f"{name} unpacks to more than {LARGEST_UNPACKED / 1e6:.0f} MB.")
        book = openpyxl.load_workbook(io.BytesIO(raw), read_only=True, data_only=True, keep_links=False)
        typed = openpyxl.load_workbook(io.BytesIO(raw), read_only=True, keep_links=False)  # formulas as they stand
        out: list[tuple[str, list[list[str]]]] = []
        for sheet in book.worksheets:
            both = (
                s.iter_rows(max_row=MOST_ROWS + 51, max_col=MOST_COLUMNS, values_only=True)
                for s in (sheet, typed[sheet.title])
            )
            rows = zip(*both, strict=False)
            cells = ([_cell(a if a is not None else b) for a, b in zip(*row, strict=False)] for row in rows)
            out.append((str(sheet.title), _bounded(cells, name)))
        return out
    except FileError:
        raise
    except Exception as error:  # noqa: BLE001 - a foreign file may raise anything in the library
        raise FileError(f"{name} is not a workbook that can be read: {error or type(error).__name__}.") from None


def _cell(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else ""
    if isinstance(value, float):
        return f"{value:.10g}"
    return str(value)


def _sheet(name: str, grid: list[list[str]]) -> Sheet | None:
    """The table of a grid: its heads are the first row with two cells or more, or with as many as any row has."""
    grid = [[cell.strip() for cell in row] for row in grid]
    filled = [sum(bool(cell) for cell in row) for row in grid]
    most = max(filled, default=0)
    at = next((n for n, count in enumerate(filled) if count >= min(2, most) and count > 0), None)
    if at is None:
        return None
    wide = max((n + 1 for row in grid[at:] for n, cell in enumerate(row) if cell), default=0)
    heads = tuple((grid[at] + [""] * wide)[:wide])
    kept = [(n, row) for n, row in enumerate(grid[at + 1 :], at + 2) if any(row)]
    rows = tuple(tuple((row + [""] * wide)[:wide]) for _, row in kept)
    return Sheet(name, heads, rows, tuple(n for n, _ in kept)) if rows else None
