"""Tables of a study as one workbook (XLSX): a sheet each, real numbers, filters, frozen heads, named styles, and links
from what a row is about to the row that tells of it. Nothing in it is a formula."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

from oddbolt.core.study import Study
from oddbolt.files.tables import TABLES, rows
from oddbolt.files.whole import written_whole

#: a cell that is a number is written as one; ids and codes with leading zeros are text
NUMBER = re.compile(r"[-−]?(?:0|[1-9]\d*)(?:\.\d+)?(?:e[+-]?\d+)?")
ID = re.compile(r"[A-Z]\d+")
#: columns that are codes even where they look like numbers
TEXT_HEADS = frozenset(
    "id ids marks markings size thread number date_code corners variant lengths value rating".split()
)
#: sheets whose rows are told of by an id, the columns that name one in other sheets, and what a sheet is called
HOMES = {"steps": "id", "parts": "id", "joints": "id"}
LINKS = frozenset(("part id", "step id", "about id", "target id", "ids", "joint ids", "part ids"))
WIDEST, NARROWEST, LONGEST = 46, 7, 32_000
#: names of the styles, to be changed at one place in the workbook
HEAD, TEXT, FIGURE, LINK = "Odd Bolt head", "Odd Bolt text", "Odd Bolt figure", "Odd Bolt link"
#: what no XML may hold
_FORBIDDEN = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\ud800-\udfff\ufffe\uffff]")


def write_workbook(path: Path, study: Study, tables: Sequence[str] = tuple(TABLES)) -> None:
    """Write FILE.xlsx with a sheet for each table, in one piece. Raises FileError where it cannot be written."""
    import openpyxl  # wanted only here

    made = {table: rows(study, table) for table in tables}
    where = _where(made)
    book = openpyxl.Workbook()
    book.remove(book.active)
    for style in _styles():
        book.add_named_style(style)
    book.properties.title = plain(study.device.name)
    book.properties.creator = "Odd Bolt"
    for table, lines in made.items():
        _sheet(book, table, lines, where)
    with written_whole(path) as part:
        book.save(part)


def sheet_name(table: str) -> str:
    """The name of a table's sheet."""
    return re.sub(r"[\[\]:*?/\\]", " ", TABLES[table])[:31]


def plain(text: str) -> str:
    """A text without what no XML may hold."""
    return _FORBIDDEN.sub("\N{REPLACEMENT CHARACTER}", text)[:LONGEST]


def _where(made: Mapping[str, list[list[str]]]) -> dict[str, str]:
    """id -> the place of the row that tells of it."""
    out = {}
    for table, head in HOMES.items():
        if table in made:
            column = made[table][0].index(head)
            for n, row in enumerate(made[table][1:], 2):
                out[row[column]] = f"#'{sheet_name(table)}'!A{n}"
    return out


def _styles() -> list[Any]:
    from openpyxl.styles import Alignment, Border, Font, NamedStyle, PatternFill, Side

    top = Alignment(vertical="top", wrap_text=True)
    head = NamedStyle(HEAD, font=Font(bold=True), alignment=top, border=Border(bottom=Side("medium", color="A64A26")))
    head.fill = PatternFill("solid", fgColor="E6DBC4")
    return [
        head,
        NamedStyle(TEXT, alignment=top),
        NamedStyle(FIGURE, alignment=Alignment(vertical="top")),
        NamedStyle(LINK, alignment=top, font=Font(underline="single", color="24635A")),
    ]


def _sheet(book: Any, table: str, lines: list[list[str]], where: Mapping[str, str]) -> None:
    from openpyxl.utils import get_column_letter

    sheet = book.create_sheet(sheet_name(table))
    heads = lines[0]
    own = HOMES.get(table)
    for n, line in enumerate(lines, 1):
        for column, text in enumerate(line, 1):
            name = heads[column - 1]
            cell = sheet.cell(n, column)
            if n == 1:
                _text(cell, text, HEAD)
            elif not text:
                cell.style = TEXT
            elif name not in TEXT_HEADS and NUMBER.fullmatch(text):
                cell.value, cell.style = float(text.replace("−", "-")), FIGURE
            else:
                _text(cell, text, TEXT)
                first = ID.match(text)
                if name in LINKS and name != own and first is not None and first[0] in where:
                    cell.hyperlink, cell.style = where[first[0]], LINK
    for column, name in enumerate(heads, 1):
        longest = max((len(line[column - 1]) for line in lines), default=0)
        sheet.column_dimensions[get_column_letter(column)].width = min(WIDEST, max(NARROWEST, longest + 2, len(name)))
    sheet.freeze_panes = "B2"
    sheet.auto_filter.ref = f"A1:{get_column_letter(len(heads))}{max(2, len(lines))}"
    sheet.print_title_rows = "1:1"
    sheet.page_setup.orientation = "landscape"
    sheet.page_setup.fitToHeight = 0
    sheet.sheet_properties.pageSetUpPr.fitToPage = True


def _text(cell: Any, text: str, style: str) -> None:
    """A cell that is text whatever it looks like: nothing in it runs."""
    cell.value = plain(text)
    cell.data_type = "s"
    cell.style = style
