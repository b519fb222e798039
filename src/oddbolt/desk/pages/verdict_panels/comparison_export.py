"""Devices side by side as a file: the picture (SVG, PNG) or its table (CSV)."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QSize
from PySide6.QtGui import QPainter

from oddbolt.core.errors import FileError
from oddbolt.core.verdict import SPECS
from oddbolt.core.verdict.side_by_side import SideBySide, table_of
from oddbolt.desk.painters.comparison import Comparison, bands_of
from oddbolt.desk.widgets.picture_file import ENDINGS, write_picture
from oddbolt.files.tables import csv_of
from oddbolt.files.text import write_text

WIDE = 1100


def scales() -> dict[str, tuple[str, float, float]]:
    """The name and the ends of each scheme's scale."""
    return {
        "bench mark": ("bench mark", 0.0, 10.0),
        **{id: (spec.name.lower(), spec.least, spec.most) for id, spec in SPECS.items()},
    }


def write_comparison(path: Path, side: SideBySide) -> None:
    """Write FILE.svg, FILE.png or FILE.csv. Raises FileError."""
    if path.suffix.lower() == ".csv":
        write_text(path, csv_of(table_of(side)))
        return
    if path.suffix.lower() not in ENDINGS:
        raise FileError(f"A comparison is .csv, .svg or .png, not {path.suffix or path.name}.")

    def made() -> tuple[QSize, Callable[[QPainter], None]]:
        view = Comparison()
        view.show_bands(side.names, bands_of(side, scales()))
        size = QSize(WIDE, view.sizeHint().height())
        view.resize(size)
        return size, view.paint

    write_picture(path, f"{', '.join(side.names)} side by side", made)
