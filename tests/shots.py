"""Renews docs/screenshots from the demo study, and the table of keys in the guide: ``./run shots``.

Look at every picture before it is committed.
"""

import os
import sys
import tempfile
from functools import reduce
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
sys.path.insert(0, str(Path(__file__).parent))

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from oddbolt.core.study import remove
from oddbolt.demo import put_back, tide_logger
from oddbolt.demo.small_devices import SHELF
from oddbolt.desk.shell.key_list import markdown
from oddbolt.desk.shell.window import open_window
from oddbolt.desk.state.settings import Settings
from oddbolt.files.store import Store

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
KEYS = FOLDER.parent / "guide" / "keys.md"
SENTENCE = "backed out four IP5 under the feet, two are longer"


def settle(app, window):
    """Wait for figures and thumbnails, which come from beside the work."""
    for _ in range(4):
        app.processEvents()
        window.figures.finish()
        for title in ("Report", "Put back"):
            next(p for p in window.pages if p.title == title).finish()
        QTest.qWait(20)


def renew_keys(actions):
    """Put today's actions in the place of the first table of the guide's page of keys."""
    words = KEYS.read_text(encoding="utf-8")
    start, end = words.index("| menu |"), words.index("## Elsewhere")
    KEYS.write_text(words[:start] + markdown(actions) + "\n" + words[end:], encoding="utf-8")


def main():
    app = QApplication([])
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        (Path(folder) / "shelf").mkdir()
        path = Path(folder) / "tide logger.oddbolt"
        Store.create(path, tide_logger.study(), tide_logger.pictures()).close()
        window = open_window(Settings(Path(folder)), path)
        window.resize(1280, 800)
        window.session.clock.pause()
        renew_keys(window.actions_)
        views = {
            "prepare": ("Prepare", ""),
            "open": ("Open", "E2"),
            "take-apart": ("Take apart", tide_logger.SHOWN_FIRST),
            "say-line": ("Take apart", ""),
            "fasteners": ("Fasteners", tide_logger.SHOWN_FIRST),
            "parts": ("Parts", "P42"),
            "reach": ("Reach", "P29"),
            "verdict": ("Verdict", "J20"),
            "report": ("Report", ""),
        }
        for name, (title, selected) in views.items():
            window.show_stage(next(p for p in window.pages if p.title == title))
            window.session.select(selected)
            if name == "prepare":
                window.session.show_device()
            window.reach.choose(("P29",))
            window.take_apart.say.edit.setPlainText(SENTENCE if name == "say-line" else "")
            if name == "report":
                next(p for p in window.pages if p.title == title).presets.button(1).click()
            settle(app, window)
            QTest.qWait(2500 if name == "parts" else 0)  # pictures of parts come from beside the work
            window.grab().save(str(FOLDER / f"{name}.png"))
            print(FOLDER / f"{name}.png")
        window.session.select("")
        window.show_stage(window.reach)
        window.reach.choose(("P29",))
        window.reach.below.button(1).click()
        while not window.reach.what_if._rows:
            settle(app, window)
        window.reach.what_if.changes = window.reach.what_if._rows[0]
        window.reach.refresh()
        QTest.qWait(1500)
        settle(app, window)
        window.grab().save(str(FOLDER / "held-back.png"))
        print(FOLDER / "held-back.png")
        window.reach.what_if.drop_trial()
        window.session.select("P29")
        window.reach.below.button(3).click()
        settle(app, window)
        window.grab().save(str(FOLDER / "all-parts.png"))
        print(FOLDER / "all-parts.png")
        window.reach.below.button(0).click()
        window.session.select("P20")
        board = next(a for a in window.asides if a.title == "Board map")
        board.map_shown()
        settle(app, window)
        window.grab().save(str(FOLDER / "board-map.png"))
        print(FOLDER / "board-map.png")
        board.left.emit()
        asides = {"runs": window.runs, "photos": window.photos, "large": window.large}
        for name, page in asides.items():
            window.take_apart.say.edit.setPlainText(SENTENCE if name == "large" else "")
            window.show_aside(page)
            settle(app, window)
            QTest.qWait(1500 if name == "photos" else 50)
            window.grab().save(str(FOLDER / f"{name}.png"))
            print(FOLDER / f"{name}.png")
            page.left.emit()
        window.take_apart.say.edit.setPlainText("")
        window.scans.begin(Path(__file__).parent / "scans" / "0700.jpg")
        window.show_aside(window.scans)
        window.scans.finish()
        settle(app, window)
        window.scans.choose(4)
        settle(app, window)
        window.grab().save(str(FOLDER / "scan.png"))
        window.scans.left.emit()
        back = Path(folder) / "put back.oddbolt"
        study = put_back.study()
        half = [s for s in study.steps.values() if s.phase == "back"][13:]
        Store.create(back, reduce(remove, [s.id for s in half], study), put_back.pictures()).close()
        window.filing.open_path(back)
        page = next(p for p in window.pages if p.title == "Put back")
        window.show_stage(page)
        settle(app, window)
        window.grab().save(str(FOLDER / "put-back.png"))
        page.show_tab(1)
        page.over.field.setText("length 5.1")
        page.over.measure("length 5.1")
        window.session.select(page.over.found.places[0].joint)
        settle(app, window)
        page.show_tab(0)
        window.filing.open_path(path)
        shelf = next(a for a in window.asides if a.title == "Shelf")
        for name, make in SHELF.items():
            pictures = tide_logger.pictures() if name == "tide logger" else []
            Store.create(Path(folder) / "shelf" / f"{name}.oddbolt", make(), pictures).close()
        shelf.wanted.emit()
        shelf.open_folder(Path(folder) / "shelf")
        while len(shelf.found) < len(SHELF):
            settle(app, window)
        shelf.table.selectRow(0)
        shelf.table.setFocus()
        for _ in range(2):
            QTest.keyClick(shelf.table, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
        shelf.table.selectAll()
        shelf.views.button(1).click()
        shelf.depths.choose("battery")
        settle(app, window)
        window.grab().save(str(FOLDER / "shelf.png"))
        print(FOLDER / "shelf.png")
        shelf.left.emit()
        window.filing.review_captions(Path(__file__).parent / "narration" / "drill.vtt")
        for _ in range(3):
            window.review.keep()
        window.review.next_open()
        settle(app, window)
        window.grab().save(str(FOLDER / "review.png"))
        window.close()
    os._exit(0)


if __name__ == "__main__":
    main()
