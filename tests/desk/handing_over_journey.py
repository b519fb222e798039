"""From rows of a spreadsheet to the report on paper and the workbook, at a real window. Run by test_real_window.py
under a virtual screen."""

import sys
from pathlib import Path

import openpyxl
import pypdfium2
from journey import Control, Key, press, to_front, until
from PySide6.QtCore import Qt
from PySide6.QtPrintSupport import QPrinter
from PySide6.QtWidgets import QApplication

from oddbolt.demo.small_devices import pump_gauge
from oddbolt.desk.pages.report import ReportPage
from oddbolt.desk.pages.spreadsheet import SpreadsheetPage
from oddbolt.desk.shell.window import open_window
from oddbolt.desk.state.settings import Settings
from oddbolt.files.report.choice import PRESETS
from oddbolt.files.store import Store

ROWS = "Part,Weight (g),Material\nBattery spring,0.4,steel\nLens ring,heavy,ABS\n"


def sit(folder, path):
    """Take rows in, look at the report for a judge, print it, write the workbook and the instructions."""
    Store.create(path, pump_gauge()).close()
    window = open_window(Settings(folder), path)
    to_front(window)
    assert QApplication.platformName() == "xcb"
    (folder / "parts.csv").write_text(ROWS)
    sheet = window.page(SpreadsheetPage)
    window.filing.attempt(lambda: sheet.take(folder / "parts.csv"))
    until(sheet.isVisible)
    assert "1 row cannot" in sheet.told.text()
    sheet.enter.setFocus()
    press(sheet.enter, Key.Key_Space)
    until(lambda: any(p.name == "Battery spring" for p in window.session.study.parts.values()))
    report = window.page(ReportPage)
    press(window, getattr(Key, f"Key_{window.pages.index(report) + 1}"), Control)
    until(lambda: report.file is not None)
    word = report.presets.button(list(PRESETS).index("judge"))
    word.setFocus()
    report.file = None
    press(word, Key.Key_Space)
    until(lambda: report.file is not None and report.chosen == PRESETS["judge"])
    shown = " ".join(report.file.text(0).split())
    assert "Pump gauge" in shown
    press(window, Key.Key_P, Control)
    until(lambda: window.writing.printed.isVisible())
    window.writing.printed.close()
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(folder / "paper.pdf"))
    report.print_on(printer)
    assert len(pypdfium2.PdfDocument(folder / "paper.pdf")) == len(report.file)
    window.writing.write("report", folder / "report.pdf")
    until((folder / "report.pdf").exists)
    window.writing.export_to(folder / "all.xlsx")
    parts = openpyxl.load_workbook(folder / "all.xlsx")["Table of parts"]
    assert "Battery spring" in {row[1].value for row in parts.iter_rows(min_row=2)}
    window.undoing.undo()
    until(lambda: all(p.name != "Battery spring" for p in window.session.study.parts.values()))
    until(lambda: report.file is not None or report.making is not None)
    report.pages.setFocus(Qt.FocusReason.OtherFocusReason)
    window.close()


if __name__ == "__main__":
    app = QApplication(["oddbolt"])
    sit(Path(sys.argv[1]), Path(sys.argv[2]))
    print("handed over")
