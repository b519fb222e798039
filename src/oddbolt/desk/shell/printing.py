"""Printing through the toolkit's preview: a page as it is seen, the report and sheets at their own size."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtPrintSupport import QPrinter, QPrintPreviewDialog
from PySide6.QtWidgets import QWidget

from oddbolt.core.errors import FileError
from oddbolt.desk.widgets.pdf_pages import PdfFile
from oddbolt.desk.widgets.printed import fit_paper, print_pdf


def preview(
    window: QWidget, title: str, paint: Callable[[QPrinter], None], fit: PdfFile | None, tell: Callable[[str], None]
) -> QPrintPreviewDialog:
    """Show what would be printed; from there it goes to paper. What is wrong is told, and nothing is printed then."""
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setDocName(title)
    if fit is not None:
        fit_paper(fit, printer)
    dialog = QPrintPreviewDialog(printer, window)
    dialog.setWindowTitle(f"Print: {title}")
    dialog.resize(900, 700)

    def painted(on: QPrinter) -> None:
        try:
            paint(on)
        except FileError as error:
            tell(str(error))

    dialog.paintRequested.connect(painted)
    dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    dialog.setModal(True)
    dialog.show()
    dialog.printer_ = printer  # type: ignore[attr-defined]  # lives as long as the dialog
    return dialog


def sheet_file(write: Callable[[Path], object]) -> PdfFile:
    """A sheet as an open PDF: written into a folder of its own that is gone afterwards. Raises FileError."""
    with tempfile.TemporaryDirectory(prefix="oddbolt-print-") as folder:
        path = Path(folder) / "sheet.pdf"
        write(path)
        return PdfFile(path)


def on_paper(file: PdfFile) -> Callable[[QPrinter], None]:
    """What prints this file."""
    return lambda printer: print_pdf(file, printer)
