"""Starting the window."""

from __future__ import annotations

import logging
import os
import sys
import traceback
from importlib.resources import files
from pathlib import Path
from types import TracebackType

from PySide6.QtCore import QTimer
from PySide6.QtGui import QGuiApplication, QIcon, QImageReader
from PySide6.QtWidgets import QApplication

from oddbolt.core.errors import OddBoltError
from oddbolt.demo.tide_logger import SHOWN_FIRST
from oddbolt.desk.shell.filing import fresh_demo
from oddbolt.desk.shell.window import Window, open_window
from oddbolt.desk.state.settings import NAME, Settings, state_folder

#: A picture that would take more memory than this, in MB, is refused.
LARGEST_PICTURE_MB = 256
#: the size of the text that desktops start with, at the most, in points
USUAL_TEXT_PT = 11.0
SCALE = "QT_SCALE_FACTOR"


def run(path: Path | None, demo: bool = False) -> int:
    """Open the window and stay until it is closed."""
    settings = Settings()
    if settings.text_size:
        os.environ.setdefault(SCALE, f"{settings.text_size:g}")
    app = QApplication([NAME])
    _as_large_as_the_system(app, settings)
    app.setApplicationName(NAME)
    app.setApplicationDisplayName("Odd Bolt")
    app.setDesktopFileName("org.oddbolt.OddBolt")
    app.setWindowIcon(QIcon(str(files("oddbolt.integration").joinpath("org.oddbolt.OddBolt.svg"))))
    QImageReader.setAllocationLimit(LARGEST_PICTURE_MB)
    logging.basicConfig(filename=state_folder() / "errors.log", format="%(asctime)s %(levelname)s %(message)s")
    window = open_window(settings, fresh_demo() if demo else path)
    if demo:
        window.session.select(SHOWN_FIRST)
    sys.excepthook = _told_once(window)
    if path is None and not demo:
        QTimer.singleShot(0, lambda: _welcome(window))
    return app.exec()


def _as_large_as_the_system(app: QApplication, settings: Settings) -> None:
    """Where the desktop's own text is larger than usual and nobody chose a size here, start over as large."""
    larger = app.font().pointSizeF() / USUAL_TEXT_PT
    if larger > 1.05 and not settings.text_size and SCALE not in os.environ:
        os.environ[SCALE] = f"{min(larger, 2.0):.2f}"
        os.execv(sys.executable, [sys.executable, "-m", "oddbolt", *sys.argv[1:]])


def _welcome(window: Window) -> None:
    """Open what was open last; else say how to begin."""
    recent = window.settings.recent
    if recent:
        window.filing.open_path(recent[0])
    else:
        window.session.tell(
            "Ctrl+N starts a new study, Ctrl+O opens one. File > Open demo study shows a finished teardown."
        )


class _told_once:  # noqa: N801 - reads as a function
    """Logs an unexpected error, tells it once with where to find it, and goes on; the study stays open and saved."""

    def __init__(self, window: Window) -> None:
        self.window = window
        self.told: set[str] = set()

    def __call__(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        text = "".join(traceback.format_exception(kind, error, trace))
        logging.getLogger(NAME).error(text)
        if issubclass(kind, KeyboardInterrupt):
            QApplication.quit()
        elif isinstance(error, OddBoltError):
            self.window.session.tell(str(error))
        elif text not in self.told:
            self.told.add(text)
            QGuiApplication.clipboard().setText(text)
            where = state_folder() / "errors.log"
            told = "Unexpected error. Your study is saved."
            self.window.session.tell(f"{told} Details are in {where} and on the clipboard.")
