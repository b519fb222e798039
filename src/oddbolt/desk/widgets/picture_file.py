"""A painted view as a picture of its own, for a report or a wall: SVG or PNG, on day paper, with or without a
window."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QRect, QSize
from PySide6.QtGui import QImage, QPainter
from PySide6.QtSvg import QSvgGenerator
from PySide6.QtWidgets import QApplication

from oddbolt.core.errors import FileError
from oddbolt.desk.widgets import theme

#: dots of a PNG for each point
SHARP = 2
ENDINGS = (".svg", ".png")


def write_picture(
    path: Path, title: str, made: Callable[[], tuple[QSize, Callable[[QPainter], None]]], ground: str = "paper"
) -> None:
    """Write FILE.svg or FILE.png: ``made`` gives, once fonts and day paper are there, the size and what paints it.

    Raises FileError."""
    ending = path.suffix.lower()
    if ending not in ENDINGS:
        raise FileError(f"A picture is .svg or .png, not {ending or path.name}.")
    app = QApplication.instance() or QApplication(["oddbolt", "-platform", "offscreen"])
    theme.load_fonts()
    before = theme.current
    theme.current = theme.DAY
    try:
        size, paint = made()

        def draw(painter: QPainter) -> None:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.fillRect(QRect(0, 0, size.width(), size.height()), theme.colour(ground))
            paint(painter)

        written = _svg(path, title, size, draw) if ending == ".svg" else _png(path, size, draw)
    finally:
        theme.current = before
    if not written:
        raise FileError(f"{path} cannot be written.")
    del app


def _svg(path: Path, title: str, size: QSize, draw: Callable[[QPainter], None]) -> bool:
    picture = QSvgGenerator()
    picture.setFileName(str(path))
    picture.setSize(size)
    picture.setViewBox(QRect(0, 0, size.width(), size.height()))
    picture.setTitle(title)
    painter = QPainter()
    if not painter.begin(picture):
        return False
    draw(painter)
    return painter.end()


def _png(path: Path, size: QSize, draw: Callable[[QPainter], None]) -> bool:
    image = QImage(size * SHARP, QImage.Format.Format_RGB32)
    image.setDevicePixelRatio(SHARP)
    painter = QPainter(image)
    draw(painter)
    painter.end()
    return image.save(str(path))
