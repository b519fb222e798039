import shutil
from pathlib import Path

import pytest
import shiboken6
from PySide6.QtCore import Qt

from oddbolt.demo import tide_logger
from oddbolt.desk.shell.window import Window
from oddbolt.desk.state import figures
from oddbolt.desk.state.settings import Settings
from oddbolt.desk.widgets import theme
from oddbolt.files.store import Store


@pytest.fixture
def settings(tmp_path, monkeypatch):
    for name in ("CONFIG", "DATA", "STATE"):
        monkeypatch.setenv(f"XDG_{name}_HOME", str(tmp_path / name.lower()))
    settings = Settings()
    settings.values["listen"] = False  # by rules alone; the network has tests of its own
    return settings


@pytest.fixture(autouse=True)
def figures_at_once(monkeypatch):
    """Figures of the demo are worked out before a test goes on; beside the work they are tested in test_background."""
    monkeypatch.setattr(figures, "AT_ONCE_STEPS", 150)


@pytest.fixture(scope="session")
def demo_file(tmp_path_factory):
    path = tmp_path_factory.mktemp("demo") / "demo.oddbolt"
    Store.create(path, tide_logger.study(), tide_logger.pictures()).close()
    return path


@pytest.fixture
def window(qapp, settings, tmp_path, demo_file):
    """A window on a copy of the demo study."""
    theme.load_fonts()
    if theme.current is not theme.DAY or qapp.palette().window().color().name().upper() != theme.DAY.paper:
        theme.use(theme.DAY)
    window = Window(settings)
    assert window.filing.open_path(Path(shutil.copy(demo_file, tmp_path)))
    window.show()
    yield window
    window.close()
    shiboken6.delete(window)


@pytest.fixture
def say(qtbot, window):
    """Say a sentence on the say line and log it."""

    def said(sentence):
        window.show_stage(window.take_apart)
        qtbot.keyClicks(window.take_apart.say.edit, sentence)
        qtbot.keyClick(window.take_apart.say.edit, Qt.Key.Key_Return)

    return said
