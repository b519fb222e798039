"""The device laid out as a picture of its own: SVG or PNG."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QRectF, QSize
from PySide6.QtGui import QPainter

from oddbolt.core.components.layout import fitting, laid_out
from oddbolt.core.errors import FileError
from oddbolt.core.study import Study
from oddbolt.desk.painters.laid_out import EDGE, LABEL_PX, LaidOut
from oddbolt.desk.widgets.picture_file import write_picture

#: width in px, and the least height
WIDE, HIGH = 1400, 900


def write_laid_out(path: Path, study: Study, cut_out: Callable[..., object] | None = None) -> None:
    """Draw the device laid out into FILE.svg or FILE.png. Raises FileError."""
    if not study.parts:
        raise FileError("There are no parts to lay out.")

    def made() -> tuple[QSize, Callable[[QPainter], None]]:
        view = LaidOut()
        if cut_out is not None:
            view.cut_out = cut_out  # type: ignore[assignment]
        scale = fitting(study, WIDE - 2 * EDGE, HIGH, LABEL_PX)
        table = laid_out(study, scale, WIDE - 2 * EDGE, LABEL_PX)
        priority = frozenset(id for id, part in study.parts.items() if part.priority)
        view.show_table(table, scale, "", priority, study.name)
        size = QSize(WIDE, round(table.high * scale + 2 * EDGE))
        return size, lambda painter: view.paint(painter, QRectF(0, 0, size.width(), size.height()))

    write_picture(path, f"The {study.device.name} laid out", made, "mat")
