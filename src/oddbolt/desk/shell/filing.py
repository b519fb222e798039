"""Files at the desk: new, open, recent, copies, narrations and imports. What goes wrong is told in a sentence."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QMenu, QWidget

from oddbolt.core.errors import FileError, OddBoltError
from oddbolt.core.narration import draft
from oddbolt.core.narration.recording import log_draft
from oddbolt.core.study import Device, Study
from oddbolt.core.study.formatting import plural
from oddbolt.desk.pages.opening import Opening
from oddbolt.desk.pages.page import Desk
from oddbolt.desk.pages.review import ReviewPage
from oddbolt.desk.pages.spreadsheet import SpreadsheetPage
from oddbolt.desk.pages.take_apart import TakeApart
from oddbolt.desk.shell.dialogs import Dialogs, ended
from oddbolt.desk.state.actions import Action
from oddbolt.desk.state.background import Background
from oddbolt.desk.state.settings import data_folder
from oddbolt.files.captions import read_cues
from oddbolt.files.pictures import ENDINGS
from oddbolt.files.records import from_json
from oddbolt.files.store import ENDING, Store, held_by_us, in_use
from oddbolt.files.text import read_json

DEMO = "demo tide logger"
STUDIES = f"Studies (*{ENDING})"
SHEETS = "Spreadsheets (*.csv *.xlsx *.tsv)"
CAPTIONS = "Captions (*.vtt *.srt *.txt);;All files (*)"
NO_STUDY = "No study is open. Ctrl+N makes one, Ctrl+O opens one."


class Filing:
    """What the File menu does."""

    def __init__(
        self, parent: QWidget, desk: Desk, page: TakeApart, opening: Opening, review: ReviewPage, sheet: SpreadsheetPage
    ) -> None:
        self.session, self.settings, self.page, self.review = desk.session, desk.settings, page, review
        self.opening, self.sheet = opening, sheet
        self.dialogs = Dialogs(parent, self.folder)
        self.beside = Background(parent)

    def actions(self) -> tuple[Action, ...]:
        """The actions that bring files in."""
        photos, narration = partial(Action, menu="Photo"), partial(Action, menu="File", group=1)
        return (
            Action("new", "&New study …", "File", self.new, "Ctrl+N"),
            Action("open", "&Open study …", "File", self.open, "Ctrl+O"),
            Action("demo", "Open &demo study", "File", self.open_demo),
            Action("back demo", "Open put-&back demo", "File", partial(self.open_demo, True)),
            Action("copy", "&Save copy …", "File", self.save_copy, "Ctrl+Shift+S", why_not=self.no_study),
            narration(
                "log narration", "Log na&rration …", run=self.log_narration, keys="Ctrl+L", why_not=self.no_study
            ),
            narration(
                "review narration",
                "Re&view narration …",
                run=self.review_narration,
                keys="Ctrl+Shift+R",
                why_not=self.no_study,
            ),
            Action("outline", "Import &outline …", "Bench", self.ask_outline, "Ctrl+Shift+O", 2, why_not=self.no_study),
            Action("import", "&Import JSON …", "File", self.import_json, group=1),
            Action(
                "spreadsheet", "Import sprea&dsheet …", "File", self.ask_sheet, "Ctrl+Alt+I", 1, why_not=self.no_study
            ),
            photos("add photos", "Add photos from &files …", run=self.add_photo, why_not=self.no_study),
            photos("watch", "&Watch folder …", run=self.watch_folder, keys="Ctrl+Shift+F", why_not=self.no_study),
            photos("stop watching", "Stop watc&hing", run=partial(self.page.photo_panel.watch, None)),
        )

    def folder(self) -> Path:
        """Where a dialog begins: beside the study, else where the last study was."""
        store = self.session.store
        if store is not None and store.path.parent != data_folder():
            return store.path.absolute().parent
        last = Path(self.settings.get("folder", ""))
        return last if last.is_dir() and str(last) != "." else Path.home()

    def no_study(self) -> str:
        """Why nothing can be added or written, or ""."""
        return "" if self.session.store is not None else NO_STUDY

    def attempt(self, work: Callable[[], object]) -> bool:
        """Do it, or tell why it cannot be done. False if it could not."""
        try:
            work()
        except OddBoltError as error:
            self.session.tell(str(error))
            return False
        return True

    # -- studies ------------------------------------------------------------------------------------------

    def new(self) -> None:
        """Make a new study."""
        self.dialogs.ask_save("New study", f"study{ENDING}", STUDIES, self.new_at)

    def new_at(self, path: Path, _kind: str = "") -> None:
        """Make a new study in this file, and show its device."""

        def make() -> None:
            target = ended(path, (ENDING,))
            name = target.stem.replace("-", " ").replace("_", " ").strip().capitalize()
            self.session.create(target, Study(device=Device(name or "Unnamed device")))
            self.settings.put("folder", str(target.absolute().parent))

        if self.attempt(make):
            self.session.show_device()

    def open(self) -> None:
        """Open a study."""
        self.dialogs.ask_open("Open study", STUDIES, self.open_path)

    def open_path(self, path: Path) -> bool:
        """Open this study. False, and a sentence told, if it is not possible."""
        store = self.session.store
        if store is not None and held_by_us(path):
            self.session.tell(f"{path.name} is already open.")
            return True
        return self.attempt(lambda: self.session.open(path, self._load))

    def _load(self, path: Path) -> tuple[Store, Study]:
        """Read a study beside the window, which shows that it waits."""
        QGuiApplication.setOverrideCursor(Qt.CursorShape.WaitCursor)
        try:
            return self.beside.wait_for(lambda: Store.open(path))
        finally:
            QGuiApplication.restoreOverrideCursor()

    def fill_recent(self, menu: QMenu) -> None:
        """Put the files opened lately into the menu."""
        menu.clear()
        for path in self.settings.recent:
            menu.addAction(f"{path.stem}   {path.parent}".replace("&", "&&"), partial(self.open_path, path))
        if menu.isEmpty():
            menu.addAction("none yet").setEnabled(False)

    def open_demo(self, put_back: bool = False) -> None:
        """Open a fresh copy of the demo study, or of the one that was put back but for one screw."""
        store = self.session.store
        if store is not None and store.path.parent == data_folder() and store.path.name.startswith(DEMO):
            self.attempt(self.session.close)
        self.attempt(lambda: self.session.open(fresh_demo(put_back)))

    def save_copy(self) -> None:
        """Write a copy of the study under another name."""
        store = self.session.store
        if store is not None:
            self.dialogs.ask_save("Save copy", f"{store.path.stem} copy{ENDING}", STUDIES, self.copy_to)

    def copy_to(self, path: Path, _kind: str = "") -> None:
        """Write a copy of the study to this file."""
        store = self.session.store

        def copy() -> None:
            target = ended(path, (ENDING,))
            self.session.save_copy(target)
            on = "; you are now working in the copy" if self.session.store is not store else ""
            self.session.tell(f"Copy saved: {target}{on}.")

        self.attempt(copy)

    def rescue(self) -> bool:
        """Leave what the disk did not take in a copy in the data folder, among the files opened lately."""
        store = self.session.store
        if store is None:
            return True
        now = datetime.now().strftime("%Y-%m-%d %H.%M.%S")
        path = data_folder() / f"{store.path.stem} rescued {now}{ENDING}"
        if not self.attempt(lambda: self.session.save_copy(path)):
            return False
        self.settings.opened(path)
        self.session.close()
        return True

    # -- coming in ----------------------------------------------------------------------------------------

    def log_narration(self) -> None:
        """Draft a log from captions and enter it, as one edit."""
        self.dialogs.ask_open("Log narration", CAPTIONS, lambda path: self.attempt(lambda: self.log_captions(path)))

    def log_captions(self, path: Path) -> None:
        """Draft a log from this caption file and enter it. Raises OddBoltError."""
        drafted = draft(read_cues(path), self.settings.vocabulary(wait=True))
        if not drafted.steps:
            raise FileError(f"No step understood in {path.name}; nothing logged.")
        if self.session.edit(log_draft(self.session.study, drafted, path.name), f"log {path.name}"):
            told = f"{plural(len(drafted.steps), 'step')} logged from {path.name}"
            self.session.tell(f"{told}; {plural(drafted.not_steps, 'sentence')} contained no step. Ctrl+Z undoes this.")

    def review_narration(self) -> None:
        """Go through a caption file line by line before it is logged."""
        self.dialogs.ask_open(
            "Review narration", CAPTIONS, lambda path: self.attempt(lambda: self.review_captions(path))
        )

    def review_captions(self, path: Path) -> None:
        """Go through this caption file. Raises OddBoltError."""
        self.review.begin(read_cues(path), path.name)
        self.review.wanted.emit()

    def import_json(self) -> None:
        """Make a study of an exported JSON."""

        def name_it(source: Path) -> None:
            self.dialogs.ask_save(
                "Import as", f"{source.stem}{ENDING}", STUDIES, lambda target, _: self.import_as(source, target)
            )

        self.dialogs.ask_open("Import JSON", "JSON (*.json)", name_it)

    def import_as(self, source: Path, target: Path) -> None:
        """Make a study file of an exported JSON and open it."""
        self.attempt(lambda: self.session.create(ended(target, (ENDING,)), from_json(read_json(source))))

    def ask_sheet(self) -> None:
        """Take rows from a spreadsheet that the user picks."""
        self.dialogs.ask_open("Import spreadsheet", SHEETS, lambda path: self.attempt(lambda: self.sheet.take(path)))

    def add_photo(self) -> None:
        """Add pictures to the step shown."""
        kinds = f"Pictures ({' '.join('*' + e for e in ENDINGS)})"
        self.dialogs.ask_files("Add photos", kinds, self.page.photo_panel.add)

    def ask_outline(self) -> None:
        """Take an outline from a drawing the user picks."""
        self.dialogs.ask_open("Import outline", "Drawings (*.svg *.dxf)", self.take_outline)

    def take_outline(self, path: Path) -> None:
        """Take an outline from this drawing, in sight of the edge plan."""
        self.opening.wanted.emit()
        self.attempt(lambda: self.opening.take_outline(path))

    def watch_folder(self) -> None:
        """Take in every picture that comes into a folder the user picks."""
        self.dialogs.ask_folder("Watch folder", self.page.photo_panel.watch)


def fresh_demo(back: bool = False) -> Path:
    """A copy of a demo study that may be changed freely. An older copy is replaced, unless a window has it open."""
    from oddbolt.demo import put_back, tide_logger

    names = (f"{DEMO}{ENDING}", *(f"{DEMO} {n}{ENDING}" for n in range(2, 99)))
    path = next(p for p in (data_folder() / name for name in names) if not (p.exists() and in_use(p)))
    for old in (path, path.with_name(path.name + "-wal"), path.with_name(path.name + "-shm")):
        old.unlink(missing_ok=True)
    which = put_back if back else tide_logger
    Store.create(path, which.study(), which.pictures()).close()
    return path
