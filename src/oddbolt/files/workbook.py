"""Tables of a study as one workbook (XLSX): a sheet each, real numbers, frozen heads, filters. Nothing in it is a
formula."""

from __future__ import annotations

import re
from collections.abc import Sequence
from pathlib import Path

from oddbolt.core.study import Study
from oddbolt.files.tables import TABLES, rows
from oddbolt.files.whole import written_whole

#: a cell that is a number is written as one; ids and codes with leading zeros are text
NUMBER = re.compile(r"[-−]?(?:0|[1-9]\d*)(?:\.\d+)?(?:e[+-]?\d+)?")
#: columns that are codes even where they look like numbers
TEXT_HEADS = frozenset(
    "id ids marks markings size thread number date_code corners variant lengths value rating".split()
)
WIDEST, NARROWEST = 46, 7


def write_workbook(path: Path, study: Study, tables: Sequence[str] = tuple(TABLES)) -> None:
    """Write FILE.xlsx with a sheet for each table, in one piece. Raises FileError where it cannot be written."""
    import xlsxwriter  # wanted only here

    with written_whole(path) as part:
        options = {"strings_to_formulas": False, "strings_to_urls": False, "strings_to_numbers": False}
        with xlsxwriter.Workbook(str(part), options) as book:
            book.set_properties({"title": study.device.name, "comments": "written by Odd Bolt"})
            head = book.add_format(
                {"bold": True, "bottom": 1, "bg_color": "#E6DBC4", "valign": "top", "text_wrap": True}
            )
            plain = book.add_format({"valign": "top", "text_wrap": True})
            figure = book.add_format({"valign": "top", "num_format": "General"})
            for table in tables:
                _sheet(book, TABLES[table], rows(study, table), head, plain, figure)


def _sheet(book: object, title: str, table: list[list[str]], head: object, plain: object, figure: object) -> None:
    sheet = book.add_worksheet(re.sub(r"[\[\]:*?/\\]", " ", title)[:31])  # type: ignore[attr-defined]
    heads = table[0]
    for column, name in enumerate(heads):
        sheet.write_string(0, column, name, head)
        longest = max((len(row[column]) for row in table), default=0)
        sheet.set_column(column, column, min(WIDEST, max(NARROWEST, longest + 2)))
    for n, row in enumerate(table[1:], 1):
        for column, cell in enumerate(row):
            if heads[column] not in TEXT_HEADS and NUMBER.fullmatch(cell):
                sheet.write_number(n, column, float(cell.replace("−", "-")), figure)
            elif cell:
                sheet.write_string(n, column, cell[:32_000], plain)
    sheet.freeze_panes(1, 1)
    sheet.autofilter(0, 0, max(1, len(table) - 1), max(0, len(heads) - 1))
    sheet.set_landscape()
    sheet.repeat_rows(0)
    sheet.fit_to_pages(1, 0)
