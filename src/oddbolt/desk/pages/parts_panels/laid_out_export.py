"""The device laid out as a picture of its own, for a report or a wall: SVG or PNG, on day paper."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QRect, QRectF, QSize
from PySide6.QtGui import QImage, QPainter
from PySide6.QtSvg import QSvgGenerator
from PySide6.QtWidgets import QApplication

from oddbolt.core.components.layout import fitting, laid_out
from oddbolt.core.errors import FileError
from oddbolt.core.study import Study
from oddbolt.desk.painters.laid_out import EDGE, LABEL_PX, LaidOut
from oddbolt.desk.widgets import theme

#: width in px, and how many dots more a PNG has
WIDE, HIGH, SHARP = 1400, 900, 2


def write_laid_out(path: Path, study: Study, cut_out: Callable[..., object] | None = None) -> None:
    """Draw the device laid out into FILE.svg or FILE.png. Raises FileError."""
    ending = path.suffix.lower()
    if ending not in (".svg", ".png"):
        raise FileError(f"The device is laid out as .svg or .png, not {ending or path.name}.")
    if not study.parts:
        raise FileError("There are no parts to lay out.")
    app = QApplication.instance() or QApplication(["oddbolt", "-platform", "offscreen"])
    theme.load_fonts()
    before = theme.current
    theme.current = theme.DAY
    try:
        view = LaidOut()
        if cut_out is not None:
            view.cut_out = cut_out  # type: ignore[assignment]
        scale = fitting(study, WIDE - 2 * EDGE, HIGH, LABEL_PX)
        table = laid_out(study, scale, WIDE - 2 * EDGE, LABEL_PX)
        priority = frozenset(id for id, part in study.parts.items() if part.priority)
        view.show_table(table, scale, "", priority, study.name)
        size = QSize(WIDE, round(table.high * scale + 2 * EDGE))
        written = _svg(path, view, size, study) if ending == ".svg" else _png(path, view, size)
    finally:
        theme.current = before
    if not written:
        raise FileError(f"{path} cannot be written.")
    del app


def _svg(path: Path, view: LaidOut, size: QSize, study: Study) -> bool:
    picture = QSvgGenerator()
    picture.setFileName(str(path))
    picture.setSize(size)
    picture.setViewBox(QRect(0, 0, size.width(), size.height()))
    picture.setTitle(f"The {study.device.name} laid out")
    painter = QPainter()
    if not painter.begin(picture):
        return False
    _draw(painter, view, size)
    return painter.end()


def _png(path: Path, view: LaidOut, size: QSize) -> bool:
    image = QImage(size * SHARP, QImage.Format.Format_RGB32)
    image.setDevicePixelRatio(SHARP)
    painter = QPainter(image)
    _draw(painter, view, size)
    painter.end()
    return image.save(str(path))


def _draw(painter: QPainter, view: LaidOut, size: QSize) -> None:
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.fillRect(QRect(0, 0, size.width(), size.height()), theme.colour("mat"))
    view.paint(painter, QRectF(0, 0, size.width(), size.height()))
