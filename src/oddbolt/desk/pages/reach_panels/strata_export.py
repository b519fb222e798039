"""The strata as a picture of their own, for a report or a wall: SVG or PNG, on day paper."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QRect, QSize
from PySide6.QtGui import QImage, QPainter
from PySide6.QtSvg import QSvgGenerator
from PySide6.QtWidgets import QApplication

from oddbolt.core.errors import FileError, ReachError
from oddbolt.core.reach import Route, reach_of_all, route_to
from oddbolt.core.reach.step_masks import priority_parts
from oddbolt.core.study import Study
from oddbolt.desk.painters.strata import Strata
from oddbolt.desk.widgets import theme

#: width and height in pixels; twice as many dots in a PNG
SIZE, SHARP = QSize(1400, 860), 2


def write_strata(path: Path, study: Study, minutes: bool = False, route: Route | None = None) -> None:
    """Draw the strata with a route, or that to the first priority part, into FILE.svg or FILE.png. Raises FileError."""
    ending = path.suffix.lower()
    if ending not in (".svg", ".png"):
        raise FileError(f"The strata are drawn as .svg or .png, not {ending or path.name}.")
    app = QApplication.instance() or QApplication(["oddbolt", "-platform", "offscreen"])
    theme.load_fonts()
    before = theme.current
    theme.current = theme.DAY
    try:
        strata = Strata()
        strata.resize(SIZE)
        route = route or _first_route(study)
        strata.show_ground(study, reach_of_all(study), minutes, route.targets if route else (), route)
        written = _svg(path, strata, study) if ending == ".svg" else _png(path, strata)
    finally:
        theme.current = before
    if not written:
        raise FileError(f"{path} cannot be written.")
    del app


def _first_route(study: Study) -> Route | None:
    for part in priority_parts(study):
        try:
            return route_to(study, [part])
        except ReachError:
            continue
    return None


def _svg(path: Path, strata: Strata, study: Study) -> bool:
    picture = QSvgGenerator()
    picture.setFileName(str(path))
    picture.setSize(SIZE)
    picture.setViewBox(QRect(0, 0, SIZE.width(), SIZE.height()))
    picture.setTitle(f"Strata of the {study.device.name}")
    painter = QPainter()
    if not painter.begin(picture):
        return False
    _draw(painter, strata)
    return painter.end()


def _png(path: Path, strata: Strata) -> bool:
    image = QImage(SIZE * SHARP, QImage.Format.Format_RGB32)
    image.setDevicePixelRatio(SHARP)
    painter = QPainter(image)
    _draw(painter, strata)
    painter.end()
    return image.save(str(path))


def _draw(painter: QPainter, strata: Strata) -> None:
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.fillRect(QRect(0, 0, SIZE.width(), SIZE.height()), theme.colour("paper"))
    strata.paint(painter)
