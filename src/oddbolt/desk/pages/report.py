"""Report: what will be handed over, as it reads, and its export."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from functools import partial
from typing import Any

from PySide6.QtCore import QByteArray, QUrl
from PySide6.QtGui import QImage, QPainter, QTextDocument
from PySide6.QtSvg import QSvgRenderer
from PySide6.QtWidgets import QPushButton, QTextBrowser

from oddbolt.core.study import Study
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.state.background import Background
from oddbolt.desk.widgets import theme

PHOTO_WIDE, RIBBON_WIDE = 440, 680


class Preview(QTextBrowser):
    """Shows the report; pictures with their callouts are drawn from the same markup as the file's."""

    def __init__(self) -> None:
        super().__init__()
        self.drawings: dict[str, str] = {}
        self._images: dict[str, QImage] = {}
        self.setObjectName("report")
        self.setOpenLinks(False)
        self.setAccessibleName("Preview of the report")

    def show_report(self, html: str, drawings: dict[str, str]) -> None:
        """Show a report; ``drawings`` are its pictures as SVG by name."""
        at = self.verticalScrollBar().value()
        self.drawings, self._images = drawings, {}
        self.setHtml(html)
        self.verticalScrollBar().setValue(at)

    def loadResource(self, kind: int, name: QUrl | str) -> Any:
        key = name if isinstance(name, str) else name.toString()
        if kind != QTextDocument.ResourceType.ImageResource.value or key not in self.drawings:
            return None
        if key not in self._images:
            renderer = QSvgRenderer(QByteArray(self.drawings[key].encode()))
            size = renderer.defaultSize()
            wide = PHOTO_WIDE if key.startswith("photo") else RIBBON_WIDE
            high = max(1, round(wide * size.height() / max(1, size.width())))
            image = QImage(wide, high, QImage.Format.Format_RGB32)
            image.fill(theme.DAY_CARD)
            painter = QPainter(image)
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            renderer.render(painter)
            painter.end()
            self._images[key] = image
        return self._images[key]


class ReportPage(Page):
    """The preview, and a button that writes the file."""

    title, about = "Report", "one file, no scripts, nothing fetched"

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.preview = Preview()
        self.export = QPushButton("Write the report …  Ctrl+E")
        self.export.clicked.connect(lambda: self.desk.actions.run("report"))
        self.head.addWidget(self.export)
        self.box.addWidget(self.preview, 1)
        self._work = Background(self)
        self._shown: Study | None = None

    def arrive(self) -> None:
        self.preview.setFocus()

    def refresh(self) -> None:
        study, store = self.session.study, self.session.store
        if self._shown is study:
            return
        if self.figures.counts() is None:
            self.beside.setText(self.figures.pending)
            return
        self._shown = study
        self.beside.setText("preparing the preview …")
        pictures = {p.sha256: store.picture(p.sha256) for p in study.photos.values()} if store else {}
        self._work.clear()
        self._work.start(partial(_written, study, pictures), partial(self._take, study), partial(self._failed, study))

    def finish(self) -> None:
        """Wait for the preview; it comes with the next turn of the event loop."""
        self._work.finish()

    def _take(self, study: Study, written: tuple[str, dict[str, str]]) -> None:
        if study is self._shown:
            self.beside.setText(self.about)
            self.preview.show_report(*written)

    def _failed(self, study: Study, error: Exception) -> None:
        if study is not self._shown:
            return
        self._shown = None
        self.beside.setText(f"No preview: {error}")


def _written(study: Study, pictures: Mapping[str, bytes | None]) -> tuple[str, dict[str, str]]:
    from oddbolt.files.report import preview_report  # what writes reports takes long to load

    return preview_report(study, pictures.get, date.today().isoformat())
