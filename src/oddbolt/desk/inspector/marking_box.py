"""A short dialogue in the margin of a part: a marking typed or read from its photo, what it may say at once, kept with
Enter."""

from __future__ import annotations

from PySide6.QtWidgets import QPushButton

from oddbolt.core.components import Marking, decode
from oddbolt.core.components.marking import kept
from oddbolt.core.errors import BenchError, FileError
from oddbolt.core.study import Photo, Region
from oddbolt.core.study.board_map import corners_in
from oddbolt.core.study.formatting import chance
from oddbolt.desk.inspector.typed_box import TypedBox
from oddbolt.desk.state.background import Background
from oddbolt.desk.state.session import Session

SHOWN = 3


class MarkingBox(TypedBox):
    """Type, read, Enter: the marking is kept with the part, with its likeliest reading. Where the part is outlined on a
    photo, its lines can be read from there; each is offered in the line, and kept only with Enter."""

    def __init__(self, session: Session, part: str) -> None:
        super().__init__(session, "4R7, 104K, T2A, CR2032", "marking")
        self.part = part
        self.offered: list[str] = []
        self.from_photo = QPushButton("Read it from the photo")
        self.from_photo.setObjectName("link")
        self.from_photo.clicked.connect(self.read)
        self.from_photo.setVisible(self._outlined() is not None)
        layout = self.layout()
        assert layout is not None
        layout.addWidget(self.from_photo)

    def _outlined(self) -> tuple[Region, Photo] | None:
        study = self.session.study
        region = next((r for r in study.regions.values() if r.part == self.part), None)
        photo = study.photos.get(region.photo) if region else None
        return (region, photo) if region and photo else None

    def read(self) -> None:
        """Read the markings from the photo, beside the window."""
        from oddbolt.files.ocr import ReadLine, read_marking

        found = self._outlined()
        data = self.session.picture(found[1].sha256) if found else None
        if found is None or not data:
            return
        corners = corners_in(found[0].outline)
        self.from_photo.setEnabled(False)

        def done(lines: tuple[ReadLine, ...] | str) -> None:
            self.from_photo.setEnabled(True)
            if isinstance(lines, str) or not lines:
                self.told.setText(lines if isinstance(lines, str) else "Nothing was read there; type it.")
                self.told.show()
                return
            known = self.session.study.parts[self.part].markings if self.part in self.session.study.parts else ()
            self.offered = [line.text for line in lines if line.text not in known]
            self._offer()

        def work() -> tuple[ReadLine, ...] | str:
            try:
                return read_marking(data, corners)
            except FileError as error:
                return str(error)

        Background(self).start(work, done)

    def _offer(self) -> None:
        """Put the next line that was read into the line, to be corrected and kept."""
        if self.offered:
            self.edit.setText(self.offered.pop(0))
            self.edit.setFocus()
            self.edit.selectAll()

    def _readings(self) -> tuple[Marking, ...]:
        part = self.session.study.parts.get(self.part)
        package = part.package.removeprefix("chip ") if part and part.package.startswith(("chip ", "tantalum ")) else ""
        return decode(self.edit.text(), package=package, kind=part.kind if part else "")

    def _typed(self) -> None:
        if not self.edit.text().strip():
            self.told.hide()
            return
        try:
            found = self._readings()[:SHOWN]
            lines = [f"{chance(m.probability)}  {m.kind}: {m.words}" for m in found]
        except BenchError as error:
            lines = [str(error)]
        self.told.setText("\n".join(lines) or "No marking of the tables; Enter keeps it as it is.")
        self.told.show()

    def enter(self) -> None:
        """Keep the marking with the part, with its likeliest reading where there is one."""
        text = self.edit.text().strip()
        if not text:
            return
        try:
            study = kept(self.session.study, self.part, text, self._readings())
        except BenchError as error:
            self.told.setText(str(error))
            return
        self.edit.clear()
        self.session.edit(study, "keep a marking")
        self._offer()
