"""A page of the window as a picture of its own, with or without a window: SVG or PNG, on day paper."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QPoint, QSize
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QApplication

from oddbolt.core.errors import FileError, StudyError
from oddbolt.core.study import Study
from oddbolt.core.study.naming import resolve
from oddbolt.desk.pages.page import Page
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.picture_file import ENDINGS, write_picture
from oddbolt.files.store import Store

#: a window may be as small and as large as this, px; and how often its figures are waited for
SMALLEST, LARGEST, WAITS = (800, 500), (6000, 6000), 6


def write_page_picture(path: Path, page: Page) -> None:
    """Write what is on a page as FILE.svg or FILE.png. Raises FileError."""

    def made() -> tuple[QSize, Callable[[QPainter], None]]:
        return page.size(), lambda painter: page.render(painter, QPoint(0, 0))

    before = theme.current
    if before is not theme.DAY:
        theme.use(theme.DAY)  # the widgets of the page too, not only what is painted
    try:
        write_picture(path, f"{page.session.study.device.name}, {page.title}", made)
    finally:
        if before is not theme.DAY:
            theme.use(before)


def _named(study: Study, about: str) -> str:
    """The id of the part or joint that is meant; "" for nothing. Raises StudyError."""
    if not about or study.find(about) is not None:
        return about
    try:
        return resolve(study, about, "P")
    except StudyError as error:
        try:
            return resolve(study, about, "J")
        except StudyError:
            raise error from None


def write_view(path: Path, study: Path, title: str, about: str, size: tuple[int, int]) -> None:
    """Write a page of a study as a picture, without a window in sight: ``title`` is the page's name, ``about`` what is
    chosen on it, by id or name. The study's file is only read. Raises FileError."""
    if path.suffix.lower() not in ENDINGS:
        raise FileError(f"A picture is .svg or .png, not {path.suffix or path.name}.")
    if not (SMALLEST[0] <= size[0] <= LARGEST[0] and SMALLEST[1] <= size[1] <= LARGEST[1]):
        raise FileError(
            f"A view is {SMALLEST[0]}x{SMALLEST[1]} to {LARGEST[0]}x{LARGEST[1]} px, not {size[0]}x{size[1]}."
        )
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    app = QApplication.instance() or QApplication(["oddbolt"])
    from oddbolt.desk.shell.window import open_window
    from oddbolt.desk.state.settings import Settings

    store, there = Store.open(study, read_only=True)
    with store, tempfile.TemporaryDirectory(prefix="oddbolt-view-") as folder:
        chosen = _named(there, about)
        copy = Path(folder) / study.name
        store.save_copy(copy)
        settings = Settings(Path(folder))
        settings.values["listen"] = False
        window = open_window(settings, copy)
        try:
            named = {page.title.casefold(): page for page in (*window.pages, *window.asides)}
            page = named.get(title.casefold())
            if page is None:
                raise FileError(f"There is no page {title!r}; there are {', '.join(p.title for p in named.values())}.")
            window.resize(*size)
            window.session.clock.pause()
            window.show_stage(page)
            window.session.select(chosen)
            for _ in range(WAITS):
                app.processEvents()
                window.figures.finish()
                finish = getattr(page, "finish", None)
                if finish is not None:
                    finish()
            write_page_picture(path, page)
        finally:
            window.close()
