"""Devices side by side as a file: the picture (SVG, PNG) or its table (CSV)."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PySide6.QtCore import QSize
from PySide6.QtGui import QPainter

from oddbolt.core.errors import FileError
from oddbolt.core.verdict import SPECS, Spec
from oddbolt.core.verdict.side_by_side import SideBySide, table_of
from oddbolt.desk.painters.comparison import Comparison, bands_of
from oddbolt.desk.painters.depths import Depths
from oddbolt.desk.widgets.picture_file import ENDINGS, write_picture
from oddbolt.files.tables import csv_of
from oddbolt.files.text import write_text

WIDE, DEEP = 1100, 700


def scales(own: Sequence[Spec] = ()) -> dict[str, tuple[str, float, float]]:
    """The name and the ends of each scheme's scale, those of the user's ``own`` with them."""
    return {
        "bench mark": ("bench mark", 0.0, 10.0),
        **{spec.id: (spec.name.lower(), spec.least, spec.most) for spec in (*SPECS.values(), *own)},
    }


def write_comparison(path: Path, side: SideBySide, depth: bool = False, own: Sequence[Spec] = ()) -> None:
    """Write FILE.svg, FILE.png or FILE.csv; ``depth`` draws how deep the parts lie instead of the figures. Raises
    FileError."""
    if path.suffix.lower() == ".csv":
        write_text(path, csv_of(table_of(side)))
        return
    if path.suffix.lower() not in ENDINGS:
        raise FileError(f"A comparison is .csv, .svg or .png, not {path.suffix or path.name}.")

    def made() -> tuple[QSize, Callable[[QPainter], None]]:
        view: Comparison | Depths
        if depth:
            view = Depths()
            view.show_side(side)
            size = QSize(max(WIDE, view.minimumWidth()), DEEP)
        else:
            view = Comparison()
            view.show_bands(side.names, bands_of(side, scales(own)))
            size = QSize(WIDE, view.sizeHint().height())
        view.resize(size)
        return size, view.paint

    write_picture(path, f"{', '.join(side.names)} side by side", made)
