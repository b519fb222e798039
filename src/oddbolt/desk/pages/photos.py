"""All photos: the contact sheet of the study."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QImage, QKeyEvent
from PySide6.QtWidgets import QPushButton, QScrollArea

from oddbolt.core.reach.describe import step_text
from oddbolt.core.study import Photo, Study
from oddbolt.core.study.formatting import plural
from oddbolt.core.study.photos import callouts_of
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.painters.contact import ContactSheet, PhotoGroup, Small
from oddbolt.desk.photos.importer import SMALL
from oddbolt.desk.state.actions import Action
from oddbolt.desk.widgets.labels import Label

EMPTY = "No photos yet. Drop them on Take apart, paste them, press F9, or watch a folder."


class PhotosPage(Page):
    """Photos step by step. ``opened`` gives the one to be shown large, ``left`` says that the way back is asked for."""

    title = "Photos"
    opened = Signal(str)

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.pictures = desk.importer
        self.sheet = ContactSheet()
        self.paper = QScrollArea()
        self.paper.setFocusPolicy(Qt.FocusPolicy.NoFocus)  # what lies in it takes the focus
        self.paper.setWidgetResizable(True)
        self.paper.setWidget(self.sheet)
        self.paper.setObjectName("flat")
        self.empty = Label(EMPTY)
        self.empty.setObjectName("quiet")
        self.empty.setWordWrap(True)
        write = QPushButton("Write the contact sheet …")
        write.clicked.connect(lambda: self.desk.actions.run("contact sheet"))
        self.head.addWidget(write)
        keys = Label("arrows move   Enter open   Del remove   Esc back")
        keys.setObjectName("caption")
        self.box.addWidget(self.empty)
        self.box.addWidget(self.paper, 1)
        self.box.addWidget(keys)
        self.sheet.picked.connect(self.session.select)
        self.sheet.opened.connect(self.opened)
        self.sheet.removed.connect(self.session.remove)
        desk.importer.ready.connect(self.sheet.update)

    def actions_here(self) -> tuple[Action, ...]:
        return (Action("photos", "All &photos", "Photo", self.wanted.emit, "Ctrl+Shift+H", 1),)

    def arrive(self) -> None:
        if self.session.selection not in self.session.study.photos:
            self.session.select(next(iter(self.session.study.photos), ""))
        self.sheet.setFocus()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(event)

    def refresh(self) -> None:
        study = self.session.study
        count = len(study.photos)
        with_photo = len({p.step for p in study.photos.values() if p.step})
        self.beside.setText(f"{plural(count, 'photo')} of {plural(with_photo, 'step')}" if count else "")
        self.empty.setVisible(not count)
        self.sheet.show_groups(groups(study), self._image, self.session.selection)
        box = self.sheet.cell_of(self.session.selection)
        if box is not None:
            self.paper.ensureVisible(int(box.center().x()), int(box.center().y()), 60, int(box.height() / 2) + 30)

    def _image(self, id: str) -> QImage | None:
        photo = self.session.study.photos.get(id)
        return self.pictures.image(photo, SMALL) if photo else None


def groups(study: Study) -> tuple[PhotoGroup, ...]:
    """The photos under their steps, in the order of the work; those of no step come last."""
    of: dict[str, list[Photo]] = {}
    for photo in study.photos.values():
        of.setdefault(photo.step, []).append(photo)
    rank = {"before": 0, "": 1, "after": 2}
    out = []
    for n, step in enumerate([*study.steps, ""], 1):
        photos = sorted(of.get(step, ()), key=lambda p: rank[p.role])
        if photos:
            head = f"{n}  {step_text(study, step)}" if step else "of no step"
            out.append(PhotoGroup(head, tuple(_small(study, photo) for photo in photos)))
    return tuple(out)


def _small(study: Study, photo: Photo) -> Small:
    foot = photo.caption or photo.taken[11:16] or f"photo {list(study.photos).index(photo.id) + 1}"
    return Small(photo.id, foot, photo.role, " ".join(c.letter for c in callouts_of(study, photo.id)))
