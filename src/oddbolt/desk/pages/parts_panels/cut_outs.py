"""Pictures of parts, cut out of the photos that they are outlined on, made beside the window."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject
from PySide6.QtGui import QImage, QPixmap

from oddbolt.core.components.layout import Piece
from oddbolt.core.errors import FileError
from oddbolt.core.study.board_map import corners_in
from oddbolt.desk.painters.laid_out import CutOut
from oddbolt.desk.state.background import Background
from oddbolt.desk.state.session import Session
from oddbolt.files.pictures import cut_out

#: the longest side of a cut-out, px; and how many are kept
SIDE_PX, KEPT = 240, 600


class CutOuts:
    """Gives the picture of a part, or None as long as it is being made; ``came`` is called when one is there."""

    def __init__(self, owner: QObject, session: Session, came: Callable[[], None]) -> None:
        self.session, self.came = session, came
        self.work = Background(owner, 1)
        self._have: dict[tuple[str, str], CutOut | None] = {}

    def of(self, piece: Piece) -> CutOut | None:
        """The picture of a part that is outlined."""
        study = self.session.study
        region = study.regions.get(piece.region)
        photo = study.photos.get(region.photo) if region else None
        if region is None or photo is None:
            return None
        key = photo.sha256, region.outline
        if key not in self._have:
            if len(self._have) > KEPT:
                self._have.clear()
            self._have[key] = None
            data = self.session.picture(photo.sha256)
            if data:
                corners = corners_in(region.outline)
                self.work.start(lambda: _made(data, corners), lambda made: self._took(key, made))
        return self._have[key]

    def _took(self, key: tuple[str, str], made: tuple[bytes, tuple[tuple[float, float], ...]] | None) -> None:
        if made is not None:
            pixmap = QPixmap.fromImage(QImage.fromData(made[0]))
            self._have[key] = (pixmap, made[1])
            self.came()


def _made(
    data: bytes, corners: tuple[tuple[float, float], ...]
) -> tuple[bytes, tuple[tuple[float, float], ...]] | None:
    try:
        return cut_out(data, corners, SIDE_PX)
    except FileError:
        return None
