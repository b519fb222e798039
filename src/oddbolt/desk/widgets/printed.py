"""A PDF on paper at its own size: nothing is scaled, and a paper of another size is refused."""

from __future__ import annotations

from PySide6.QtCore import QMarginsF, QPointF, QSizeF
from PySide6.QtGui import QPageLayout, QPageSize, QPainter
from PySide6.QtPrintSupport import QPrinter

from oddbolt.core.errors import FileError
from oddbolt.desk.widgets.pdf_pages import PdfFile

#: a paper may differ by so much, mm, and dots for each mm of paper at the most (about 300 to an inch)
LOOSE_MM, SHARPEST = 2.0, 12.0


def fit_paper(file: PdfFile, printer: QPrinter) -> None:
    """Set the printer to the paper that the pages are laid out for."""
    size = file.sizes[0]
    wide = size.width() > size.height()
    upright = QSizeF(min(size.width(), size.height()), max(size.width(), size.height()))
    paper = QPageSize(upright, QPageSize.Unit.Millimeter, "", QPageSize.SizeMatchPolicy.FuzzyMatch)
    way = QPageLayout.Orientation.Landscape if wide else QPageLayout.Orientation.Portrait
    printer.setPageLayout(QPageLayout(paper, way, QMarginsF(0, 0, 0, 0), QPageLayout.Unit.Millimeter))
    printer.setFullPage(True)


def fits(file: PdfFile, printer: QPrinter) -> str:
    """Why the pages cannot be printed at their own size on the paper of a printer; "" where they can."""
    paper = printer.pageLayout().fullRect(QPageLayout.Unit.Millimeter).size()
    for size in file.sizes:
        if abs(size.width() - paper.width()) > LOOSE_MM or abs(size.height() - paper.height()) > LOOSE_MM:
            return (
                f"These pages are {size.width():.0f} × {size.height():.0f} mm and are printed at their own size; "
                f"the paper chosen is {paper.width():.0f} × {paper.height():.0f} mm. Choose that paper, and no scaling."
            )
    return ""


def print_pdf(file: PdfFile, printer: QPrinter) -> None:
    """Print every page at its own size. Raises FileError for a paper of another size."""
    printer.setFullPage(True)
    if why := fits(file, printer):
        raise FileError(why)
    first = max(1, printer.fromPage() or 1)
    last = min(len(file), printer.toPage() or len(file))
    painter = QPainter()
    if not painter.begin(printer):
        raise FileError("The printer takes nothing.")
    per_mm = printer.resolution() / 25.4
    for number in range(first, last + 1):
        if number > first:
            printer.newPage()
        image = file.image(number - 1, min(per_mm, SHARPEST))
        size = file.sizes[number - 1]
        painter.save()
        painter.scale(size.width() * per_mm / image.width(), size.height() * per_mm / image.height())
        painter.drawImage(QPointF(0, 0), image)
        painter.restore()
    painter.end()
