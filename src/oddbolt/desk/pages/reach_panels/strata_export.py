"""The strata as a picture of their own: SVG or PNG."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QSize
from PySide6.QtGui import QPainter

from oddbolt.core.errors import ReachError
from oddbolt.core.reach import Route, reach_of_all, route_to
from oddbolt.core.reach.step_masks import priority_parts
from oddbolt.core.study import Study
from oddbolt.desk.painters.strata import Strata
from oddbolt.desk.widgets.picture_file import write_picture

SIZE = QSize(1400, 860)


def write_strata(path: Path, study: Study, minutes: bool = False, route: Route | None = None) -> None:
    """Draw the strata with a route, or that to the first priority part, into FILE.svg or FILE.png. Raises FileError."""

    def made() -> tuple[QSize, Callable[[QPainter], None]]:
        strata = Strata()
        strata.resize(SIZE)
        way = route or _first_route(study)
        strata.show_ground(study, reach_of_all(study), minutes, way.targets if way else (), way)
        return SIZE, strata.paint

    write_picture(path, f"Strata of the {study.device.name}", made)


def _first_route(study: Study) -> Route | None:
    for part in priority_parts(study):
        try:
            return route_to(study, [part])
        except ReachError:
            continue
    return None
