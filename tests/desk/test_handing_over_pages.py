"""The report page, printing at its own size, and spreadsheets coming in, in the window."""

import numpy as np
import pypdfium2
import pytest
from PySide6.QtCore import QMarginsF, Qt
from PySide6.QtGui import QColor, QImage, QPageLayout, QPageSize
from PySide6.QtPrintSupport import QPrinter

from oddbolt.core.errors import FileError
from oddbolt.core.study import change
from oddbolt.demo.small_devices import pump_gauge
from oddbolt.desk.pages.report import ReportPage
from oddbolt.desk.pages.spreadsheet import SpreadsheetPage
from oddbolt.desk.shell.printing import on_paper, sheet_file
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.pdf_pages import PdfFile
from oddbolt.desk.widgets.printed import fit_paper, fits
from oddbolt.files.pdf import write_pdf
from oddbolt.files.report.choice import PRESETS
from oddbolt.files.store import Store

SECONDS = 60_000


@pytest.fixture
def small(window, tmp_path):
    """A small device, whose report is laid out in a moment."""
    Store.create(tmp_path / "gauge.oddbolt", pump_gauge()).close()
    assert window.filing.open_path(tmp_path / "gauge.oddbolt")


@pytest.fixture
def report(qtbot, window, small):
    page = window.page(ReportPage)
    window.show_stage(page)
    qtbot.waitUntil(lambda: page.file is not None, timeout=SECONDS)
    return page


def preset(qtbot, page, name):
    """Choose for whom, and wait for the pages."""
    page.file = None
    qtbot.mouseClick(page.presets.button(list(PRESETS).index(name)), Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: page.file is not None, timeout=SECONDS)


def test_what_is_written_is_what_is_shown_and_it_follows_the_study(qtbot, window, report, tmp_path):
    assert "Pump gauge" in " ".join(report.file.text(0).split())
    preset(qtbot, report, "judge")
    assert report.chosen == PRESETS["judge"]
    contents = " ".join(report.file.document[0].get_textpage().get_text_bounded().split())
    assert contents.index("Verdict") < contents.index("Steps"), "in the order of the judge"
    window.writing.write("report", tmp_path / "a.pdf")
    assert (tmp_path / "a.pdf").read_bytes() == (report.folder / "report.pdf").read_bytes()
    qtbot.keyClick(report.pages, Qt.Key.Key_End)
    last = len(report.file)
    assert report.pages.accessibleDescription().startswith(f"page {last} of {last}")
    assert not report.pages.grab().toImage().isNull()
    for section in ("steps", "routes", "verdict"):
        report.sections[section].trigger()  # one layout for all three
    joint = next(id for id, j in window.session.study.joints.items() if j.kind == "screw")
    window.session.edit(change(window.session.study, joint, name="Renamed screws"), "rename")
    qtbot.waitUntil(lambda: report.making is not None, timeout=SECONDS)
    qtbot.mouseClick(report.stop, Qt.MouseButton.LeftButton)
    assert report.making is None
    assert "stopped" in report.beside.text()
    report.sections["steps"].trigger()
    report.papers.button(1).click()
    qtbot.waitUntil(lambda: report.file is not None, timeout=SECONDS)
    assert "verdict" not in report.chosen.sections
    assert any("Renamed screws" in page.get_textpage().get_text_bounded() for page in report.file.document)
    assert report.file.sizes[0].width() == pytest.approx(215.9, abs=0.2)
    report.refresh()
    assert not report._soon.isActive()
    report.papers.button(0).click()
    window.show_stage(window.take_apart)  # nobody looks: nothing is laid out
    assert not report._soon.isActive()
    assert report.making is None


def paper(size, path=None):
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    if path is not None:
        printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
        printer.setOutputFileName(str(path))
    margins = QMarginsF(0, 0, 0, 0)
    printer.setPageLayout(QPageLayout(QPageSize(size), QPageLayout.Orientation.Portrait, margins))
    return printer


def test_a_page_is_printed_at_its_own_size_and_other_paper_is_refused(qapp, tmp_path):
    """A square of 50 mm is 50 mm on the printed page, measured on its pixels."""
    square = (
        '<div style="position: absolute; left: 30mm; top: 40mm; width: 50mm; height: 50mm; background: #000"></div>'
    )
    write_pdf(
        tmp_path / "a.pdf",
        f'<html lang="en"><title>t</title><style>@page {{ size: A4; margin: 0 }}</style>{square}</html>',
    )
    file = PdfFile(tmp_path / "a.pdf")
    printer = paper(QPageSize.PageSizeId.A4, tmp_path / "out.pdf")
    on_paper(file)(printer)
    page = pypdfium2.PdfDocument(tmp_path / "out.pdf")[0]
    dots = 10  # for each mm
    grey = np.asarray(page.render(scale=dots * 25.4 / 72).to_pil().convert("L"))
    dark = np.argwhere(grey < 128)
    (top, left), (bottom, right) = dark.min(0) / dots, dark.max(0) / dots
    assert (right - left, bottom - top) == pytest.approx((50, 50), abs=0.4)
    assert (left, top) == pytest.approx((30, 40), abs=0.4)
    other = paper(QPageSize.PageSizeId.A5, tmp_path / "small.pdf")
    assert "210 × 297" in fits(file, other)
    with pytest.raises(FileError, match="own size"):
        on_paper(file)(other)
    fit_paper(file, other)
    assert fits(file, other) == ""


def test_the_mat_goes_to_the_preview_at_its_own_size(qtbot, window, small):
    window.actions_.run("print gauge mat")
    mat = window.writing.printed
    qtbot.waitUntil(mat.isVisible, timeout=SECONDS)
    assert "gauge mat" in mat.windowTitle()
    mat.close()
    sheet = next(s for s in window.writing.sheets() if s.name == "gauge mat")
    assert len(sheet_file(sheet.write)) == 1


def test_files_for_others_are_written_from_the_menu(qtbot, window, tmp_path):
    window.writing.write("captions", tmp_path / "a")
    assert (tmp_path / "a.vtt").read_text().startswith("WEBVTT")
    window.writing.write("photos packed", tmp_path / "p")
    assert (tmp_path / "p.zip").stat().st_size > 10_000
    window.writing.write("web folder", tmp_path / "web")
    assert (tmp_path / "web" / "index.html").exists()
    window.writing.write("study for others", tmp_path / "o")
    assert "Taken out: device: serial" in window.notice.text.text()
    window.use_theme(theme.NIGHT)
    window.show_stage(window.reach)
    window.writing.write("view", tmp_path / "v.png")
    assert QColor(QImage(str(tmp_path / "v.png")).pixel(2, 2)).name() == theme.DAY.paper.lower()
    assert theme.current is theme.NIGHT
    window.use_theme(theme.DAY)
    store, shown = Store.open(tmp_path / "o.oddbolt", read_only=True)
    assert shown.device.serial == ""
    assert all(store.picture(photo.sha256) for photo in shown.photos.values())
    store.close()
    window.writing.export_to(tmp_path / "t", "All tables, CSV (*.zip)")
    assert (tmp_path / "t.zip").exists()


# -- spreadsheets ------------------------------------------------------------------------------------------


SHEET = """Fastener;Quantity;Driver;Length;Holds;Bin
Hatch screws;4;T5;6 mm;Hatch;A
Spare clips;3x;;;Hatch;B
Mystery;two;;;;C
"""


def test_a_spreadsheet_is_matched_looked_at_and_entered_as_one_edit(qtbot, window, tmp_path):
    (tmp_path / "a.csv").write_text(SHEET)
    page = window.page(SpreadsheetPage)
    window.filing.attempt(lambda: page.take(tmp_path / "a.csv"))
    assert page.isVisible()
    assert page.kind == "joints"
    assert page.told.text().startswith("2 rows can be entered; 1 row cannot")
    assert page.rows.cells[0][1][0] == "Quantity: 'two' is not a whole number."
    before = window.session.study
    choice = page.fields[5]
    assert choice.currentText() == "not taken"
    choice.setCurrentIndex(choice.findData("place"))
    choice.activated.emit(choice.currentIndex())
    assert page.match["place"] == 5
    qtbot.mouseClick(page.enter, Qt.MouseButton.LeftButton)
    after = window.session.study
    assert len(after.joints) == len(before.joints) + 2
    assert {j.place for j in list(after.joints.values())[-2:]} == {"A", "B"}
    assert "Ctrl+Z undoes this" in window.notice.text.text()
    window.undoing.undo()
    assert window.session.study.joints.keys() == before.joints.keys()
    assert window.session.study.parts.keys() == before.parts.keys()


def test_another_kind_another_match_and_a_file_that_is_none(qtbot, window, tmp_path):
    (tmp_path / "a.csv").write_text(SHEET)
    page = window.page(SpreadsheetPage)
    page.take(tmp_path / "a.csv")
    qtbot.mouseClick(page.kinds.button(2), Qt.MouseButton.LeftButton)
    assert page.kind == "steps"
    page._matched(0, "said")
    assert page.enter.text() == "Enter 3 rows"
    page._matched(0, "")
    assert "needs one" in page.told.text()
    assert not page.enter.isEnabled()
    (tmp_path / "b.csv").write_bytes(b"\x00\x01\x02" * 50)
    window.filing.attempt(lambda: page.take(tmp_path / "b.csv"))
    assert "b.csv" in window.notice.text.text()
    qtbot.keyClick(page, Qt.Key.Key_Escape)
    assert not page.isVisible()
