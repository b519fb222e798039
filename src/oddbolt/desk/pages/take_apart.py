"""Take apart: the photo, what has come loose, the strip of steps, and the say line."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

from PySide6.QtCore import QBuffer, QIODevice, QSize, Qt
from PySide6.QtGui import QImage, QImageReader
from PySide6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout

from oddbolt.core.bench import odd_ones
from oddbolt.core.errors import FileError, OddBoltError
from oddbolt.core.narration import Reading, with_words
from oddbolt.core.narration.log import memory_of
from oddbolt.core.reach import step_times
from oddbolt.core.study import Callout, Photo, Study, new_id, put
from oddbolt.core.study.tally import tally
from oddbolt.core.study.words import duration
from oddbolt.desk.figures import Figures
from oddbolt.desk.pages.page import Page
from oddbolt.desk.painters.mat import Mat
from oddbolt.desk.painters.photo import PhotoView
from oddbolt.desk.painters.strip import Card, Strip
from oddbolt.desk.say_line import SayLine
from oddbolt.desk.session import Session
from oddbolt.desk.settings import Settings
from oddbolt.files.report import step_text

LARGEST_SIDE = 2000
LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ"


class TakeApart(Page):
    """The stage where the day is spent."""

    title, number = "Take apart", 3

    def __init__(self, session: Session, figures: Figures, settings: Settings) -> None:
        super().__init__(session, figures)
        self.settings = settings
        self.photo, self.mat, self.strip, self.say = PhotoView(), Mat(), Strip(), SayLine()
        self.say.vocabulary = with_words(settings.words)
        self.say.no_drives = set(settings.get("no drives", []))
        self._remembered: Study | None = None
        self._logging = False
        middle = QHBoxLayout()
        middle.setSpacing(18)
        right = QVBoxLayout()
        right.setSpacing(3)
        loose = QHBoxLayout()
        self.loose, self.counted = QLabel("Loose on the mat"), QLabel()
        self.loose.setObjectName("head")
        self.counted.setObjectName("quiet")
        loose.addWidget(self.loose)
        loose.addStretch(1)
        loose.addWidget(self.counted)
        right.addLayout(loose)
        right.addWidget(self.mat, 1)
        middle.addWidget(self.photo, 68)
        middle.addLayout(right, 32)
        self.box.addLayout(middle, 1)
        line = QHBoxLayout()
        strip_name, self.strip_count = QLabel("Strip"), QLabel()
        strip_name.setObjectName("head")
        self.strip_count.setObjectName("quiet")
        line.addWidget(strip_name)
        line.addStretch(1)
        line.addWidget(self.strip_count)
        self.box.addLayout(line)
        self.box.addWidget(self.strip)
        self.box.addWidget(self.say)
        self.say.logged.connect(self.log)
        self.say.taught.connect(self._teach)
        self.strip.picked.connect(session.select)
        self.mat.picked.connect(session.select)
        self.photo.picked.connect(session.select)
        self.photo.dropped.connect(self.add_photos)
        self.photo.pointed.connect(self._add_callout)

    def arrive(self) -> None:
        self.say.edit.setFocus()

    def state(self) -> str:
        steps = len(self.session.study.steps)
        return f"step {steps}" if steps else "begin here"

    # -- showing ------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        study = self.session.study
        at = self._at()
        last = study.steps[list(study.steps)[at - 1]] if at else None
        self.beside.setText(f"step {at} · {_brief(study, last.id)}" if last else "say what you do, in your own words")
        self._show_photo(at)
        self.mat.show_loose(study, at, set(odd_ones(study)))
        count = tally(study)
        self.counted.setText(f"{count.screws_out} screws · {count.parts_out} parts")
        ids, times = list(study.steps), step_times(study)
        self.strip_count.setText(f"{len(ids)} steps" if len(ids) != 1 else "1 step")

        def card_of(n: int) -> Card:
            time = times[ids[n]]
            shown = duration(time.seconds) if time.basis == "measured" else f"~{duration(time.seconds)}"
            return Card(ids[n], n + 1, shown, _brief(study, ids[n]), study.steps[ids[n]].tool or "hand")

        here = at - 1 if step_of(study, self.session.selection) else len(ids)
        self.strip.show_steps(len(ids), card_of, here, "now")
        if self._remembered is not study and not self._logging:
            self._remembered = study
            self.say.remember(memory_of(study))

    def _at(self) -> int:
        """How many steps are done at what is shown."""
        study = self.session.study
        step = step_of(study, self.session.selection)
        return study.step_number(step) if step else len(study.steps)

    def _current_photo(self, at: int) -> Photo | None:
        study = self.session.study
        number = {id: n for n, id in enumerate(study.steps, 1)}
        shown = [p for p in study.photos.values() if number.get(p.step, 0) <= at]
        about = {c.photo for c in study.callouts.values() if c.about and c.about == self.session.selection}
        chosen = [p for p in study.photos.values() if p.id in about]
        return max(chosen or shown, key=lambda p: number.get(p.step, 0), default=None)

    def _show_photo(self, at: int) -> None:
        study, photo = self.session.study, self._current_photo(at)
        if photo is None or self.session.store is None:
            self.photo.show_photo(QImage(), "", [], {}, "")
            return
        marks = [c for c in study.callouts.values() if c.photo == photo.id]
        labels = {c.id: c.label or study.name(c.about) for c in marks}
        ids = list(study.photos)
        step = f" · step {study.step_number(photo.step)}" if photo.step else ""
        caption = f"photo {ids.index(photo.id) + 1} of {len(ids)} · {photo.caption}{step}"
        image = decoded(self.session.store.picture(photo.sha256) or b"", photo.sha256)
        self.photo.show_photo(image, caption, marks, labels, self.session.selection)

    # -- the work -----------------------------------------------------------------------------------------

    def log(self, reading: Reading) -> None:
        """Enter what was said into the record, and be ready for the next sentence."""
        memory = self.say.memory_after
        if self.session.selection or self.session.device_shown:
            self.session.select("")
        self._logging = True
        ids = self.session.log(reading)
        self._logging = False
        if ids is None:
            return
        refs = {step.ref: id for step, id in zip(reading.steps, ids, strict=True)}
        memory.renamed(refs)
        self.say.remember(memory)
        self._remembered = self.session.study
        self.say.done()

    def _teach(self, word: str, drive: str) -> None:
        self.settings.teach(word, drive)
        self.say.vocabulary = with_words(self.settings.words)
        self.say.no_drives = set(self.settings.get("no drives", []))
        self.say.again()

    def add_photos(self, paths: list[str]) -> None:
        """Keep pictures with the step shown, or the last one."""
        store, study = self.session.store, self.session.study
        if store is None:
            self.session.tell("Open or make a study first; a photo is kept in its file.")
            return
        step = list(study.steps)[self._at() - 1] if self._at() else ""
        for path in paths:
            try:
                data = Path(path).read_bytes()
                image = decoded(data, "")
                if image.isNull():
                    raise FileError(f"{Path(path).name} is no picture that can be shown.")
                photo = Photo(
                    new_id(study, "H"), store.add_picture(data), step, Path(path).stem, image.width(), image.height()
                )
                study = put(study, photo)
            except OSError as error:
                self.session.tell(f"{path} cannot be read: {error.strerror or error}.")
            except OddBoltError as error:
                self.session.tell(str(error))
        self.session.edit(study, "add a photo")

    def _add_callout(self, x: float, y: float) -> None:
        study, photo = self.session.study, self._current_photo(self._at())
        if photo is None:
            return
        used = {c.letter for c in study.callouts.values() if c.photo == photo.id}
        letter = next((c for c in LETTERS if c not in used), "?")
        about = self.session.selection or (photo.step if photo.step in study.steps else "")
        self.session.edit(
            put(study, Callout(new_id(study, "C"), photo.id, letter, x, y, about)), f"add callout {letter}"
        )


def step_of(study: Study, id: str) -> str:
    """The step that this is, or that released or took out this; "" if none."""
    if id in study.steps or not id:
        return id
    steps = (s for s in study.steps.values() if s.phase == "apart")
    return next((s.id for s in steps if id and (id in s.releases or id in s.takes_out)), "")


def _brief(study: Study, id: str) -> str:
    """A step in a few words."""
    step = study.steps[id]
    if step.takes_out and not step.releases:
        return f"{study.name(step.takes_out[0])} out"
    things = [study.name(x) for x in (*step.releases, *step.softens, *step.opens)][:1]
    return f"{step.verb} {things[0]}" if things else step_text(study, id)


@lru_cache(maxsize=6)
def decoded(data: bytes, _key: str) -> QImage:
    """A picture made ready to show, turned as its camera says, at most LARGEST_SIDE px; null if it cannot be shown."""
    if not data:
        return QImage()
    buffer = QBuffer()
    buffer.setData(data)
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    reader = QImageReader(buffer)
    reader.setAutoTransform(True)
    size = reader.size()
    if size.isValid() and max(size.width(), size.height()) > LARGEST_SIDE:
        reader.setScaledSize(size.scaled(QSize(LARGEST_SIDE, LARGEST_SIDE), Qt.AspectRatioMode.KeepAspectRatio))
    return reader.read()
