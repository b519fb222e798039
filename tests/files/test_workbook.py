"""The workbook read back by openpyxl, and markings read from pictures by tesseract where it is there."""

from io import BytesIO
from pathlib import Path

import openpyxl
import pytest
from attrs import evolve
from builders import study_of
from PIL import Image, ImageDraw, ImageFont

from oddbolt.core.errors import FileError
from oddbolt.core.study import Part
from oddbolt.demo import tide_logger
from oddbolt.files import ocr
from oddbolt.files.tables import TABLES, rows
from oddbolt.files.workbook import write_workbook

FONT = next((Path(ocr.__file__).parents[1] / "fonts").glob("*.otf"))


def test_a_workbook_holds_every_table_with_real_numbers(tmp_path):
    study = tide_logger.study()
    write_workbook(tmp_path / "a.xlsx", study)
    book = openpyxl.load_workbook(tmp_path / "a.xlsx")
    assert book.sheetnames == [name[:31] for name in TABLES.values()]
    for table, name in TABLES.items():
        sheet, told = book[name[:31]], rows(study, table)
        assert [cell.value for cell in sheet[1]] == told[0]
        assert sheet.max_row == len(told)
        assert sheet.freeze_panes == "B2"
        assert sheet.auto_filter.ref
    parts = book["Table of parts"]
    heads = [cell.value for cell in parts[1]]
    battery = next(row for row in parts.iter_rows(min_row=2, values_only=True) if row[heads.index("name")] == "Battery")
    assert battery[heads.index("mass_g")] == 74
    assert battery[heads.index("long_mm")] == 60
    assert isinstance(battery[heads.index("date_code")], str)


def test_nothing_in_a_workbook_is_a_formula(tmp_path):
    study = study_of(Part("P1", "=1+1", note="@SUM(A1)", maker="http://127.0.0.1/x", number="007"))
    write_workbook(tmp_path / "a.xlsx", study)
    cells = [cell for row in openpyxl.load_workbook(tmp_path / "a.xlsx")["Table of parts"].iter_rows() for cell in row]
    assert not [cell for cell in cells if cell.data_type == "f" or cell.hyperlink]
    assert {"=1+1", "007"} <= {cell.value for cell in cells}
    with pytest.raises(FileError):
        write_workbook(tmp_path / "no folder" / "a.xlsx", evolve(study))


def marked_chip(*lines):
    image = Image.new("RGB", (900, 600), (20, 70, 40))
    draw = ImageDraw.Draw(image)
    draw.rectangle((300, 200, 520, 380), fill=(30, 30, 32))
    for n, line in enumerate(lines):
        draw.text((320, 220 + 45 * n), line, fill=(170, 170, 170), font=ImageFont.truetype(str(FONT), 30))
    out = BytesIO()
    image.save(out, "JPEG", quality=85)
    return out.getvalue()


WITHIN = ((300 / 900, 200 / 600), (520 / 900, 200 / 600), (520 / 900, 380 / 600), (300 / 900, 380 / 600))


def test_markings_are_read_from_a_photo_or_it_is_said_why_not(monkeypatch):
    if ocr.can_read():
        found = ocr.read_marking(marked_chip("FN128", "2148"), WITHIN)
        assert [line.text for line in found] == ["FN128", "2148"]
        assert all(0 <= line.sure <= 100 for line in found)
    monkeypatch.setattr(ocr, "PROGRAM", "no-such-program-here")
    with pytest.raises(FileError, match="does not have"):
        ocr.read_marking(marked_chip("FN128"), WITHIN)
