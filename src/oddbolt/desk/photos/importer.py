"""PhotoImporter on the desk: looked at, kept and made ready to show, beside the work."""

from __future__ import annotations

import re
from collections import OrderedDict, deque
from collections.abc import Sequence
from functools import partial
from pathlib import Path

from PySide6.QtCore import QBuffer, QIODevice, QObject, QRect, QSize, Qt, Signal
from PySide6.QtGui import QImage, QImageReader, QTransform

from oddbolt.core.errors import FileError
from oddbolt.core.study import Photo, Study, new_id, put
from oddbolt.core.study.formatting import plural
from oddbolt.core.study.photos import step_when
from oddbolt.desk.state.background import Background
from oddbolt.desk.state.session import Session
from oddbolt.files.pictures import Looked, look_at, look_at_file

#: sides in px that pictures are made ready at: to look at, and small
LARGE, SMALL = 2000, 240
KEPT = {LARGE: 6, SMALL: 800}
#: smaller pictures than this are made ready in the hand's own time
AT_ONCE_PX = 2_000_000
#: names that cameras give, which say nothing
CAMERA_NAME = re.compile(r"[A-Za-z_]{1,5}[-_ ]?\d{3,}(?:[-_ ]\d+)*")


class PhotoImporter(QObject):
    """Takes pictures in and gives them out. ``ready`` says that one asked for can be had now."""

    ready = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.session = session
        self._beside = Background(self, threads=2)
        self._images: dict[int, OrderedDict[object, QImage]] = {LARGE: OrderedDict(), SMALL: OrderedDict()}
        self._wanted: deque[tuple[object, Photo, int]] = deque(maxlen=400)
        self._making: set[object] = set()
        self._batches: list[_Batch] = []
        session.opened.connect(self._forget)

    # -- giving out ---------------------------------------------------------------------------------------

    def image(self, photo: Photo, side: int = LARGE) -> QImage | None:
        """A photo as it is shown, cut and turned, at most ``side`` px; null if it cannot be shown, None for not yet."""
        key = (photo.sha256, photo.turn, photo.left, photo.top, photo.right, photo.bottom, side)
        have = self._images[side]
        if key in have:
            have.move_to_end(key)
            return have[key]
        if side == LARGE and photo.width * photo.height <= AT_ONCE_PX:
            self._keep(key, made_ready(self.session.picture(photo.sha256) or b"", photo, side), told=False)
            return have[key]
        if key not in self._making and not any(k == key for k, _, _ in self._wanted):
            self._wanted.append((key, photo, side))
            self._make_next()
        return None

    def _make_next(self) -> None:
        while self._wanted and len(self._making) < 2:
            key, photo, side = self._wanted.pop()
            self._making.add(key)
            data = self.session.picture(photo.sha256) or b""
            self._beside.start(
                partial(made_ready, data, photo, side),
                partial(self._keep, key),
                partial(self._lose, key),
            )

    def _keep(self, key: object, image: QImage, told: bool = True) -> None:
        self._making.discard(key)
        side = key[-1]  # type: ignore[index]
        have = self._images[side]
        have[key] = image
        while len(have) > KEPT[side]:
            have.popitem(last=False)
        self._make_next()
        if told:
            self.ready.emit()

    def _lose(self, key: object, _error: Exception) -> None:
        self._keep(key, QImage())

    def _forget(self) -> None:
        self._wanted.clear()
        for have in self._images.values():
            have.clear()

    # -- taking in ----------------------------------------------------------------------------------------

    @property
    def busy(self) -> bool:
        """Whether pictures are still on their way in."""
        return bool(self._batches)

    def take_in(self, items: Sequence[Path | bytes], step: str) -> None:
        """Keep pictures (files, or the bytes of one pasted) with ``step``, or with the step of the time they were taken
        at where a run tells it. They are looked at beside the work and enter as one edit, in order."""
        if self.session.store is None:
            self.session.tell("Open or create a study first; photos are stored in its file.")
            return
        if not items:
            return
        batch = _Batch(len(items), step)
        self._batches.append(batch)
        for n, item in enumerate(items):
            self._beside.start(partial(_look, item), partial(self._take, batch, n), partial(self._refuse, batch, n))

    def _refuse(self, batch: _Batch, n: int, error: Exception) -> None:
        self._take(batch, n, (None, f"A picture could not be read ({type(error).__name__}: {error})."))

    def _take(self, batch: _Batch, n: int, found: tuple[Looked | None, str]) -> None:
        batch.found[n] = found
        while self._batches and self._batches[0].done:
            self._enter(self._batches.pop(0))

    def _enter(self, batch: _Batch) -> None:
        study: Study = self.session.study
        refused: list[str] = []
        added = timed = 0
        for n in range(batch.size):
            looked, said = batch.found[n]
            if looked is None:
                refused.append(said)
                continue
            try:
                digest = self.session.add_picture(looked.data)
            except FileError as error:
                refused.append(str(error))
                continue
            at = step_when(study, looked.taken)
            step = at or (batch.step if batch.step in study.steps else "")
            caption = "" if CAMERA_NAME.fullmatch(said) else said
            id = new_id(study, "H")
            study = put(study, Photo(id, digest, step, caption, looked.width, looked.height, looked.taken))
            added, timed = added + 1, timed + bool(at)
        if added and self.session.edit(study, f"add {plural(added, 'photo')}"):
            self.session.clock.sign()
        if timed and batch.size > 1:
            refused.insert(0, f"{plural(timed, 'photo')} assigned to steps by their time.")
        if refused:
            more = f" And {len(refused) - 3} more." if len(refused) > 3 else ""
            self.session.tell(" ".join(refused[:3]) + more)


class _Batch:
    """PhotoImporter that came together."""

    def __init__(self, size: int, step: str) -> None:
        self.size, self.step = size, step
        self.found: dict[int, tuple[Looked | None, str]] = {}

    @property
    def done(self) -> bool:
        return len(self.found) == self.size


def _look(item: Path | bytes) -> tuple[Looked | None, str]:
    """A picture and its name, or None and why it is refused."""
    try:
        if isinstance(item, bytes):
            return look_at(item, "The pasted picture"), ""
        return look_at_file(item), item.stem
    except FileError as error:
        return None, str(error)


def practice_shot(folder: Path, number: int) -> None:
    """Let the practice camera take its next picture into a folder."""
    from oddbolt.demo import tide_logger
    from oddbolt.instruments import INSTRUMENTS

    pictures = tide_logger.pictures()
    INSTRUMENTS["camera"](pictures).use(folder, number)


def made_ready(data: bytes, photo: Photo, side: int) -> QImage:
    """A photo as it is shown: upright, cut, turned, at most ``side`` px; null if it cannot be shown."""
    if not data:
        return QImage()
    buffer = QBuffer()
    buffer.setData(data)
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    reader = QImageReader(buffer)
    reader.setAutoTransform(True)
    size = reader.size()
    part = max(photo.right - photo.left, photo.bottom - photo.top)
    most = round(side / part)
    if size.isValid() and max(size.width(), size.height()) > most:
        reader.setScaledSize(size.scaled(QSize(most, most), Qt.AspectRatioMode.KeepAspectRatio))
    image = reader.read()
    if image.isNull():
        return image
    w, h = image.width(), image.height()
    box = QRect(
        round(photo.left * w),
        round(photo.top * h),
        max(1, round((photo.right - photo.left) * w)),
        max(1, round((photo.bottom - photo.top) * h)),
    )
    if box.size() != image.size():
        image = image.copy(box)
    return image.transformed(QTransform().rotate(photo.turn)) if photo.turn else image
