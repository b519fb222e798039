"""Files at the desk: new, open, recent, copies, imports and exports. What goes wrong is told in a sentence."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from datetime import date, datetime
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QMenu, QWidget

from oddbolt.core.bench.kit import Need
from oddbolt.core.errors import FileError, OddBoltError
from oddbolt.core.narration import draft, with_words
from oddbolt.core.narration.recording import log_draft
from oddbolt.core.opening.edge import round_of
from oddbolt.core.reach import Route
from oddbolt.core.safety import preflight
from oddbolt.core.study import Device, Study
from oddbolt.core.study.formatting import plural
from oddbolt.desk.state.session import Session
from oddbolt.desk.state.settings import Settings, data_folder
from oddbolt.files.bench_card import write_card
from oddbolt.files.captions import read_cues
from oddbolt.files.contact_sheet import contact_sheet
from oddbolt.files.edge_drawing import write_edge
from oddbolt.files.kit_sheet import kit_html
from oddbolt.files.pdf import write_page
from oddbolt.files.pictures import ENDINGS
from oddbolt.files.records import from_json, to_json
from oddbolt.files.report import html_report
from oddbolt.files.store import ENDING, Store, in_use
from oddbolt.files.tables import TABLES, csv_text
from oddbolt.files.text import read_json, write_text

DEMO = "demo tide logger"
STUDIES = f"Studies (*{ENDING})"


class Filing:
    """What the File menu does. ``ask_open`` and ``ask_save`` put up the dialogs."""

    def __init__(self, parent: QWidget, session: Session, settings: Settings) -> None:
        self.parent, self.session, self.settings = parent, session, settings

    def ask_open(self, title: str, kinds: str) -> Path | None:
        """The file the user picks, or None."""
        name, _ = QFileDialog.getOpenFileName(self.parent, title, self._folder(), kinds)
        return self._went(name)

    def ask_save(self, title: str, proposed: str, kinds: str) -> Path | None:
        """The name the user gives, or None."""
        name, _ = QFileDialog.getSaveFileName(self.parent, title, str(Path(self._folder()) / proposed), kinds)
        return self._went(name)

    def _folder(self) -> str:
        store = self.session.store
        return self.settings.get("folder", "") or str(store.path.parent if store else Path.home())

    def _went(self, name: str) -> Path | None:
        if not name:
            return None
        self.settings.put("folder", str(Path(name).parent))
        return Path(name)

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
        path = self.ask_save("New study", f"study{ENDING}", STUDIES)
        if path is not None:
            path = _ended(path, ENDING)
            device = Device(path.stem.replace("-", " ").replace("_", " ").strip().capitalize() or "Unnamed device")
            if self.attempt(lambda: self.session.create(path, Study(device=device))):
                self.session.show_device()

    def open(self) -> None:
        """Open a study."""
        path = self.ask_open("Open a study", STUDIES)
        if path is not None:
            self.open_path(path)

    def open_path(self, path: Path) -> bool:
        """Open this study. False, and a sentence told, if it cannot be."""
        store = self.session.store
        if store is not None and store.path.absolute() == path.absolute():
            self.session.tell(f"{path.name} is open already.")
            return True
        return self.attempt(lambda: self.session.open(path))

    def fill_recent(self, menu: QMenu) -> None:
        """Put the files opened lately into the menu."""
        menu.clear()
        for path in self.settings.recent:
            menu.addAction(f"{path.stem}   {path.parent}", partial(self.open_path, path))
        if menu.isEmpty():
            menu.addAction("none yet").setEnabled(False)

    def open_demo(self) -> None:
        """Open a fresh copy of the demo study."""
        store = self.session.store
        if store is not None and store.path.parent == data_folder() and store.path.name.startswith(DEMO):
            self.attempt(self.session.close)
        self.attempt(lambda: self.session.open(fresh_demo()))

    def save_copy(self) -> None:
        """Write a copy of the study under another name."""
        store = self.session.store
        if store is None:
            self.session.tell("There is no study to copy yet.")
            return
        path = self.ask_save("Save a copy", f"{store.path.stem} copy{ENDING}", STUDIES)
        if path is not None and self.attempt(lambda: self.session.save_copy(_ended(path, ENDING))):
            on = "; work goes on in it" if self.session.store is not store else ""
            self.session.tell(f"A copy lies in {_ended(path, ENDING)}{on}.")

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

    # -- coming in and going out --------------------------------------------------------------------------

    def log_narration(self) -> None:
        """Draft a log from captions and enter it, as one edit."""
        path = self.ask_open("Log a narration", "Captions (*.vtt *.srt *.txt);;All files (*)")
        if path is not None:
            self.attempt(lambda: self.log_captions(path))

    def log_captions(self, path: Path) -> None:
        """Draft a log from this caption file and enter it. Raises OddBoltError."""
        drafted = draft(read_cues(path), with_words(self.settings.words))
        if not drafted.steps:
            raise FileError(f"No step was understood in {path.name}; nothing was logged.")
        if self.session.edit(log_draft(self.session.study, drafted), f"log {path.name}"):
            told = f"{plural(len(drafted.steps), 'step')} logged from {path.name}"
            self.session.tell(f"{told}; {plural(drafted.not_steps, 'sentence')} held no step. Ctrl+Z takes them back.")

    def import_json(self) -> None:
        """Make a study of an exported JSON."""
        path = self.ask_open("Import a JSON", "JSON (*.json)")
        if path is None:
            return
        target = self.ask_save("Keep it as", f"{path.stem}{ENDING}", STUDIES)
        if target is not None:
            self.attempt(lambda: self.session.create(_ended(target, ENDING), from_json(read_json(path))))

    def export(self) -> None:
        """Write the study as JSON, or one of its tables as CSV."""
        kinds = ";;".join(["Whole study, JSON (*.json)", *(f"Table of {t}, CSV (*.csv)" for t in TABLES)])
        name, kind = QFileDialog.getSaveFileName(self.parent, "Export", str(Path(self._folder()) / "study.json"), kinds)
        path = self._went(name)
        if path is None:
            return
        table = next((t for t in TABLES if f"of {t}," in kind), "steps")
        self.attempt(lambda: self.export_to(path, table if "CSV" in kind else ""))

    def export_to(self, path: Path, table: str) -> None:
        """Write a table as CSV, or the whole study as JSON if none is named. Raises FileError."""
        study = self.session.study
        if table:
            path = _ended(path, ".csv")
            write_text(path, csv_text(study, table))
        else:
            path = _ended(path, ".json")
            write_text(path, json.dumps(to_json(study), ensure_ascii=False, indent=1))
        self.session.tell(f"Written: {path}.")

    def write_report(self) -> None:
        """Write the report."""
        path = self.ask_save("Write the report", "report.html", "HTML (*.html);;PDF (*.pdf)")
        if path is not None:
            self.attempt(lambda: self.report_to(path if path.suffix.lower() == ".pdf" else _ended(path, ".html")))

    def report_to(self, path: Path) -> None:
        """Write the report to this file. Raises FileError."""
        store = self.session.store
        picture = store.picture if store else lambda _: None
        write_page(path, html_report(self.session.study, picture, date.today().isoformat()))
        self.session.tell(f"The report lies in {path}.")

    def edge_to(self, path: Path, plan: str) -> None:
        """Draw an edge plan 1:1 into FILE.pdf or FILE.svg. Raises OddBoltError."""
        path = path if path.suffix.lower() == ".svg" else _ended(path, ".pdf")
        study = self.session.study
        write_edge(path, study, round_of(study, plan))
        self.session.tell(f"The edge plan lies in {path}. Print it without scaling.")

    def kit_to(self, path: Path, job: str, needs: Sequence[Need]) -> None:
        """Write a kit list as FILE.pdf or FILE.html. Raises FileError."""
        path = path if path.suffix.lower() in (".html", ".htm") else _ended(path, ".pdf")
        study = self.session.study
        write_page(path, kit_html(study, job, needs, preflight(study)))
        self.session.tell(f"The kit list lies in {path}.")

    def add_photo(self) -> None:
        """Add pictures to the step shown."""
        kinds = f"Pictures ({' '.join('*' + e for e in ENDINGS)})"
        names, _ = QFileDialog.getOpenFileNames(self.parent, "Add photos", self._folder(), kinds)
        if self._went(names[0] if names else "") is not None:
            self.parent.photo.add([Path(name) for name in names])  # type: ignore[attr-defined]

    def ask_folder(self, title: str) -> Path | None:
        """The folder the user picks, or None."""
        name = QFileDialog.getExistingDirectory(self.parent, title, self._folder())
        return Path(name) if name else None

    def write_sheet(self) -> None:
        """Write the contact sheet."""
        path = self.ask_save("Write the contact sheet", "photos.pdf", "PDF (*.pdf);;HTML (*.html)")
        if path is not None:
            self.attempt(lambda: self.sheet_to(path))

    def write_card(self, route: Route | None) -> None:
        """Write a route as a card for the bench."""
        if route is None:
            self.session.tell("There is no route to write yet; name a part on Reach.")
            return
        path = self.ask_save("Write the bench card", "bench card.pdf", "PDF (*.pdf);;HTML (*.html)")
        if path is not None:
            self.attempt(lambda: self.card_to(path, route))

    def card_to(self, path: Path, route: Route) -> None:
        """Write a route as a card, FILE.pdf or FILE.html. Raises FileError."""
        path = path if path.suffix.lower() in (".html", ".htm") else _ended(path, ".pdf")
        write_card(path, self.session.study, route)
        self.session.tell(f"The bench card lies in {path}.")

    def sheet_to(self, path: Path) -> None:
        """Write the contact sheet as FILE.pdf or FILE.html. Raises FileError."""
        path = path if path.suffix.lower() in (".html", ".htm") else _ended(path, ".pdf")
        write_page(path, contact_sheet(self.session.study, self.session.picture))
        self.session.tell(f"The contact sheet lies in {path}.")


def fresh_demo() -> Path:
    """A copy of the demo study that may be changed freely. An older copy is replaced, unless a window has it open."""
    from oddbolt.demo import tide_logger

    names = (f"{DEMO}{ENDING}", *(f"{DEMO} {n}{ENDING}" for n in range(2, 99)))
    path = next(p for p in (data_folder() / name for name in names) if not (p.exists() and in_use(p)))
    for old in (path, path.with_name(path.name + "-wal"), path.with_name(path.name + "-shm")):
        old.unlink(missing_ok=True)
    Store.create(path, tide_logger.study(), tide_logger.pictures()).close()
    return path


def _ended(path: Path, ending: str) -> Path:
    return path if path.suffix.lower() == ending else path.with_name(path.name + ending)
