"""The place of the photo on the bench: which one is shown, what is done to it, how pictures come in."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from pathlib import Path

from PySide6.QtCore import QBuffer, QIODevice
from PySide6.QtGui import QGuiApplication, QImage
from PySide6.QtWidgets import QHBoxLayout, QWidget

from oddbolt.core.fasteners.torque import numbered
from oddbolt.core.study import Callout, Photo, Study, remove
from oddbolt.core.study.photos import (
    callouts_of,
    cut,
    in_reading_order,
    marked,
    moved,
    pair,
    to_shown,
    turned,
    whole,
    with_callout,
)
from oddbolt.desk.painters.photo import CalloutMark, PhotoView
from oddbolt.desk.photos.importer import PhotoImporter
from oddbolt.desk.photos.watched_folder import WatchedFolder
from oddbolt.desk.state.actions import Action
from oddbolt.desk.state.session import Session
from oddbolt.desk.state.settings import Settings

EMPTY = "No photo of this step yet.\n\nDrop one here, paste it, or press F9."


class PhotoPanel(QWidget):
    """The photo of the step shown, or the one before and the one after it beside each other."""

    def __init__(self, session: Session, settings: Settings, importer: PhotoImporter) -> None:
        super().__init__()
        self.session, self.settings, self.importer = session, settings, importer
        self.view, self.before = PhotoView(), PhotoView()
        self.before.setAccessibleName("Photo before the step")
        self.before.hide()
        self.watched = WatchedFolder(self)
        self.paired = False
        self.id = ""
        self._stepped = ""
        self._stepped_for: tuple[str, str] | None = None
        self._shown_for = ("", "")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        row.addWidget(self.before, 1)
        row.addWidget(self.view, 1)
        self.setFocusProxy(self.view)
        view = self.view
        view.picked.connect(self._picked)
        view.opened.connect(session.select)
        view.moved.connect(lambda id, x, y: session.attempt("move a callout", moved, id, (x, y)))
        view.dropped.connect(lambda paths: self.add([Path(p) for p in paths]))
        view.pointed.connect(self.add_callout)
        view.cut.connect(lambda *box: session.attempt("crop photo", cut, self.id, box))
        view.stepped.connect(self.step)
        view.removed.connect(lambda id: session.attempt("remove a callout", remove, id))
        self.before.dropped.connect(view.dropped)
        self.watched.came.connect(self.add)
        self.watched.lost.connect(lambda: session.tell(f"The watched folder {self.watched.folder} is gone."))
        self.watched.found.connect(lambda: session.tell(f"The watched folder {self.watched.folder} is back."))
        importer.ready.connect(self._again)

    # -- showing ------------------------------------------------------------------------------------------

    def refresh(self, step: str) -> None:
        """Show the photo that belongs to this step, or the latest before it."""
        self._shown_for = (step, self.session.selection)
        study = self.session.study
        self._stepped_for = self._stepped_for or self._shown_for
        if self._stepped and (study.find(self._stepped) is None or self._stepped_for != self._shown_for):
            self._stepped = ""
        both = pair(study, step) if self.paired and not self._stepped else None
        photo = study.photos.get(self._stepped) or (both[1] if both else self._fitting(step))
        self.id = photo.id if photo else ""
        self.before.setVisible(both is not None)
        if both is not None:
            self._show(self.before, both[0], "before")
        self._show(self.view, photo, "after" if both else "")

    def _again(self) -> None:
        if self.isVisible():
            self.refresh(self._shown_for[0])

    def _fitting(self, step: str) -> Photo | None:
        study, chosen = self.session.study, self.session.selection
        if chosen in study.photos:
            return study.photos[chosen]
        if chosen in study.callouts:
            return study.photos[study.callouts[chosen].photo]
        at = study.step_number(step) if step else len(study.steps)
        number = {id: n for n, id in enumerate(study.steps, 1)}
        about = {c.photo for c in study.callouts.values() if c.about and c.about == chosen}
        fitting = [p for p in study.photos.values() if p.id in about]
        fitting = fitting or [p for p in study.photos.values() if number.get(p.step, 0) <= at]
        return max(fitting, key=lambda p: (number.get(p.step, 0), p.role != "before"), default=None)

    def _show(self, view: PhotoView, photo: Photo | None, word: str) -> None:
        study = self.session.study
        if photo is None:
            view.show_photo(QImage(), "", [], "", EMPTY)
            return
        image = self.importer.image(photo)
        said = "Loading picture …" if image is None else "This picture is not in the file."
        caption = caption_of(study, photo, word)
        marks = [mark_of(study, photo, c) for c in callouts_of(study, photo.id)]
        view.show_photo(image or QImage(), caption, marks, self.session.selection, said)

    def _picked(self, id: str) -> None:
        callout = self.session.study.callouts.get(id)
        self._stepped, self._stepped_for = self.id, None  # this photo stays, whatever else shows the same thing
        self.session.select((callout.about or id) if callout else "")

    def actions_here(self) -> tuple[Action, ...]:
        """What can be done to the photo shown."""
        shown, look = partial(Action, menu="Photo", group=2), partial(Action, menu="Photo", group=1)
        return (
            Action("paste photo", "&Paste photo", "Photo", self.paste, "Ctrl+Shift+V"),
            look("next photo", "&Next photo", run=partial(self.step, 1), keys="Ctrl+PgDown"),
            look("previous photo", "P&revious photo", run=partial(self.step, -1), keys="Ctrl+PgUp"),
            look("pair", "Compare &before and after", run=self.show_pair, keys="F3"),
            shown("turn right", "Rotate ri&ght", run=partial(self.turn, 90), keys="Ctrl+]"),
            shown("turn left", "Rotate &left", run=partial(self.turn, 270), keys="Ctrl+["),
            shown("crop", "&Crop", run=self.begin_cut, keys="Ctrl+Shift+X"),
            shown("reset crop", "Reset cr&op", run=self.whole),
            shown("mark before", "Mark as be&fore step", run=partial(self.mark, "before")),
            shown("mark after", "Mark as a&fter step", run=partial(self.mark, "after")),
            shown("mark neither", "Clear before / after", run=partial(self.mark, "")),
            shown("callout", "Add call&out", run=self.add_callout, keys="Ctrl+Shift+A"),
            shown("letters", "Letter callouts in reading order", run=self.letters),
            shown("numbers", "Number holes in tightening order", run=self.tighten),
            shown("caption", "&Edit caption", run=lambda: self.session.select(self.id)),
            shown("remove photo", "Re&move photo", run=self.remove),
        )

    # -- which one ----------------------------------------------------------------------------------------

    def step(self, by: int) -> None:
        """Show the next photo, or the one before."""
        ids = list(self.session.study.photos)
        if ids:
            at = ids.index(self.id) if self.id in ids else -1 if by > 0 else 0
            self.show_one(ids[(at + by) % len(ids)])

    def show_one(self, id: str) -> None:
        """Show this photo until something else is selected."""
        self._stepped, self._stepped_for = id, self._shown_for
        self.refresh(self._shown_for[0])

    def show_pair(self) -> None:
        """Show the photo before the step beside the one after it, or one again."""
        self.paired = not self.paired
        self._stepped = ""
        self.refresh(self._shown_for[0])
        if self.paired and self.before.isHidden():
            self.session.tell("This step has no before and after photos yet.")

    # -- coming in ----------------------------------------------------------------------------------------

    def add(self, items: Sequence[Path | bytes]) -> None:
        """Take pictures in with the step shown, or the last one."""
        self.importer.take_in(items, self._shown_for[0])

    def paste(self) -> None:
        """Take in what lies in the clipboard: a picture, or files."""
        held = QGuiApplication.clipboard().mimeData()
        files = [Path(url.toLocalFile()) for url in held.urls() if url.isLocalFile()] if held is not None else []
        if files:
            self.add(files)
        elif held is not None and held.hasImage():
            buffer = QBuffer()
            buffer.open(QIODevice.OpenModeFlag.WriteOnly)
            QGuiApplication.clipboard().image().save(buffer, "PNG")  # type: ignore[call-overload]
            self.add([bytes(buffer.data().data())])
        else:
            self.session.tell("No picture on the clipboard.")

    def watch(self, folder: Path | None) -> None:
        """Take in every picture that is dropped into this folder from now on; None stops it."""
        self.watched.watch(folder)
        self.settings.put("watched folder", str(folder or ""))
        if folder is not None:
            self.session.tell(f"Every picture that comes into {folder} is added to the current step.")

    # -- what is done to it -------------------------------------------------------------------------------

    def turn(self, degrees: int) -> None:
        """Turn the photo clockwise."""
        self.session.attempt("rotate photo", turned, self.id, degrees)

    def begin_cut(self) -> None:
        """Put up the frame to cut the photo with."""
        self.view.begin_cut()

    def whole(self) -> None:
        """Show the whole picture again."""
        self.session.attempt("reset crop", whole, self.id)

    def mark(self, role: str) -> None:
        """Mark the photo as the one before or after its step, or as neither."""
        self.session.attempt(f"mark the photo as {role or 'neither'}", marked, self.id, role)

    def letters(self) -> None:
        """Letter the callouts in reading order."""
        self.session.attempt("letter callouts", in_reading_order, self.id)

    def tighten(self) -> None:
        """Number the callouts about the screws selected in the order that they are tightened in."""
        study = self.session.study
        chosen = self.session.selection
        callout = study.callouts.get(chosen)
        about = callout.about if callout else chosen if chosen in study.joints else ""
        self.session.attempt("number holes", numbered, self.id, about)

    def add_callout(self, x: float = 0.5, y: float = 0.5) -> None:
        """Add a callout there, about what is selected, else about the step of the photo."""
        study, chosen = self.session.study, self.session.selection
        photo = study.photos.get(self.id)
        if photo is None:
            self.session.tell("No photo to mark yet.")
            return
        about = chosen if chosen[:1] in ("P", "J", "S") and chosen else photo.step
        after, id = with_callout(study, photo.id, (x, y), about)
        if self.session.edit(after, f"add callout {after.callouts[id].letter}"):
            self.view.at = id
            self.view.setFocus()

    def remove(self) -> None:
        """Take the photo out of the study."""
        if self.id:
            self.session.remove(self.id)


def caption_of(study: Study, photo: Photo, word: str = "") -> str:
    """A line under a photo: which it is (or what it stands for in a pair), its words, its step, when it was taken."""
    ids = list(study.photos)
    step = f"step {study.step_number(photo.step)}" if photo.step else "no step"
    taken = photo.taken[11:16]
    which = photo.caption if word else f"photo {ids.index(photo.id) + 1} of {len(ids)} · {photo.caption}".rstrip(" ·")
    pieces = (word, which, step, "" if word else photo.role, taken)
    return " · ".join(p for p in pieces if p)


def mark_of(study: Study, photo: Photo, callout: Callout) -> CalloutMark:
    """A callout as it is drawn on its photo as shown."""
    x, y = to_shown(photo, (callout.x, callout.y))
    label = callout.label or (study.name(callout.about) if callout.about else "not stated")
    return CalloutMark(callout.id, callout.letter, label, callout.about, x, y)
