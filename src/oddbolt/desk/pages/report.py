"""Report: the document as it will be written, page by page, for whom, and its writing with progress.

It is made by the program's own command in a process beside the window, which can be stopped at any time.
"""

from __future__ import annotations

import shutil
import sys
import tempfile
from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import QCoreApplication, QProcess, QProcessEnvironment, QTimer
from PySide6.QtGui import QAction, QHideEvent
from PySide6.QtPrintSupport import QPrinter
from PySide6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QScrollArea

from oddbolt.core.errors import FileError, OddBoltError
from oddbolt.core.study import Study
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.state.background import Background
from oddbolt.desk.widgets.pdf_pages import PdfFile, PdfPages
from oddbolt.desk.widgets.printed import print_pdf
from oddbolt.files.report.choice import PAPERS, PRESETS, PROGRESS, SECTIONS, Choice, choice
from oddbolt.files.report.light_copy import light_copy
from oddbolt.files.whole import written_whole

#: how long somebody must stay on the page, or leave the choice alone, before the pages are laid out, ms
SOON_MS = 350
#: how long a window that closes waits for a report that is being written, ms
CLOSING_MS = 30_000


class Writer:
    """One report being written beside the window: ``gather`` makes a study file for the command to read, on a thread,
    then the command runs. ``told`` hears progress, ``done`` how it ended: "" or what is wrong."""

    def __init__(
        self,
        page: Page,
        gather: Callable[[], object],
        arguments: list[str],
        told: Callable[[str], None],
        done: Callable[[str], None],
    ) -> None:
        self.told, self.done, self.said, self.stopped = told, done, "", False
        self.arguments = arguments
        self.process = QProcess(page)
        environment = QProcessEnvironment.systemEnvironment()
        environment.insert("PYTHONUNBUFFERED", "1")
        self.process.setProcessEnvironment(environment)
        self.process.readyReadStandardError.connect(self._read)
        self.process.finished.connect(self._finished)
        self.process.errorOccurred.connect(self._failed)
        self.work = Background(page)
        self.work.start(partial(_tried, gather), self._gathered)

    def _gathered(self, wrong: str) -> None:
        if self.stopped:
            return
        if wrong:
            self._end(wrong)
            return
        self.process.start(sys.executable, ["-m", "oddbolt", "report", *self.arguments, "--progress", "--replace"])

    def _read(self) -> None:
        text = bytes(self.process.readAllStandardError().data()).decode("utf-8", "replace")
        for line in text.splitlines():
            if line.startswith(PROGRESS):
                share, _, what = line[len(PROGRESS) :].partition(" ")
                self.told(f"{float(share):.0%} {what}".replace("%", " %") if share[:1].isdigit() else what)
            elif line.strip():
                self.said = line.removeprefix("oddbolt: ")

    def _finished(self, status: int, _exit: object) -> None:
        self._end("" if status == 0 else self.said or "the report could not be written")

    def _failed(self, error: QProcess.ProcessError) -> None:
        if error == QProcess.ProcessError.FailedToStart:
            self._end("the program could not be started beside the window")

    def _end(self, wrong: str) -> None:
        done, self.done = self.done, lambda _: None
        done(wrong)

    def stop(self) -> None:
        """Stop it; nothing half-written stays."""
        self.stopped, self.done = True, lambda _: None
        self.work.finish(2000)
        if self.process.state() != QProcess.ProcessState.NotRunning:
            self.process.kill()
            self.process.waitForFinished(2000)

    def wait(self, milliseconds: int) -> None:
        """Wait for its end."""
        self.work.finish(milliseconds)
        QCoreApplication.processEvents()  # the command starts now
        if self.process.state() != QProcess.ProcessState.NotRunning:
            self.process.waitForFinished(milliseconds)


def _tried(gather: Callable[[], object]) -> str:
    """What is wrong with gathering, "" for nothing."""
    try:
        gather()
    except (OddBoltError, OSError) as error:
        return str(error)
    return ""


class ReportPage(Page):
    """The preview; for whom, which sections, which paper; writing and printing."""

    title, about = "Report", "as it is written, page by page"
    wide = True

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.folder = Path(tempfile.mkdtemp(prefix="oddbolt-report-"))
        self.making: Writer | None = None
        self.writing: Writer | None = None
        self.file: PdfFile | None = None
        self._shown: tuple[Study, Choice] | None = None
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(SOON_MS)
        self._soon.timeout.connect(self._begin)
        line = QHBoxLayout()
        self.presets = self.words(line, enumerate(PRESETS))
        self.presets.idClicked.connect(lambda _: self._preset())
        line.addSpacing(18)
        self.papers = self.words(line, enumerate(PAPERS))
        self.papers.idClicked.connect(lambda _: self.refresh())
        line.addSpacing(18)
        self.menu = QMenu(self)
        self.sections: dict[str, QAction] = {}
        for id, name in SECTIONS.items():
            self.sections[id] = self.menu.addAction(name)
            self.sections[id].setCheckable(True)
            self.sections[id].setChecked(True)
            self.sections[id].toggled.connect(lambda _: self.refresh())
        self.said = self.menu.addAction("The sentences as they were said")
        self.said.setCheckable(True)
        self.said.toggled.connect(lambda _: self.refresh())
        chooser = QPushButton("Sections")
        chooser.setMenu(self.menu)
        line.addWidget(chooser)
        line.addStretch(1)
        self.stop = QPushButton("Stop")
        self.stop.clicked.connect(self.stop_all)
        self.stop.hide()
        self.export = QPushButton("Write the report …  Ctrl+E")
        self.export.clicked.connect(lambda: self.desk.actions.run("report"))
        printing = QPushButton("Print …")
        printing.clicked.connect(lambda: self.desk.actions.run("print"))
        for button in (self.stop, printing, self.export):
            self.head.addWidget(button)
        self.box.addLayout(line)
        self.pages = PdfPages("The report, page by page")
        self.area = QScrollArea()
        self.area.setFocusPolicy(self.area.focusPolicy().NoFocus)
        self.area.setWidgetResizable(True)
        self.area.setWidget(self.pages)
        self.box.addWidget(self.area, 1)

    # -- what is chosen ------------------------------------------------------------------------------------

    @property
    def _for(self) -> str:
        """For whom: the name of the preset."""
        return list(PRESETS)[max(0, self.presets.checkedId())]

    @property
    def chosen(self) -> Choice:
        """The choice as the page stands."""
        sections = tuple(id for id, action in self.sections.items() if action.isChecked()) or ("short",)
        paper = PAPERS[max(0, self.papers.checkedId())]
        return choice(self._for, ",".join(sections), "", paper, self.said.isChecked())

    def _preset(self) -> None:
        """The sections of whom it is for."""
        own = PRESETS[self._for]
        for id, action in self.sections.items():
            action.blockSignals(True)
            action.setChecked(id in own.sections)
            action.blockSignals(False)
        self.refresh()

    def _writer(self, path: Path, chosen: Choice, done: Callable[[str], None]) -> Writer:
        """What writes this choice to a file, from a copy of the study as it is now."""
        copy = self.folder / ("preview.oddbolt" if path.parent == self.folder else "written.oddbolt")
        study, picture, holder = self.session.study, self.session.picture, list[Writer]()
        gather = partial(
            light_copy, copy, study, picture, self.folder / "photos", lambda: bool(holder) and holder[0].stopped
        )
        said = ["--said"] if chosen.said else []
        arguments = [
            str(copy), "-o", str(path), "--for", self._for, "--sections", ",".join(chosen.sections),
            "--schools", ",".join(chosen.schools), "--paper", chosen.paper, *said,
        ]  # fmt: skip
        made = Writer(self, gather, arguments, self._progress, done)
        holder.append(made)
        return made

    # -- the preview ---------------------------------------------------------------------------------------

    def arrive(self) -> None:
        self.pages.setFocus()

    def refresh(self) -> None:
        study, chosen = self.session.study, self.chosen
        if self._shown is not None and self._shown[0] is study and self._shown[1] == chosen:
            return
        if self.session.store is None:
            self.beside.setText("There is no study.")
            return
        if self.making is not None:
            self.making.stop()
        self._shown, self.file, self.making = (study, chosen), None, None
        self.beside.setText("laying out the pages …")
        self.stop.show()
        self._soon.start()

    def _begin(self) -> None:
        """Somebody stays on the page: lay it out."""
        if self._shown is None or self.session.store is None:
            return
        study, chosen = self._shown
        path = self.folder / "report.pdf"
        self.making = self._writer(path, chosen, partial(self._made, study, path))

    def _progress(self, what: str) -> None:
        self.beside.setText(f"laying out the pages: {what}")

    def _made(self, study: Study, path: Path, wrong: str) -> None:
        self.making = None
        self.stop.setVisible(self.writing is not None)
        if wrong:
            self._shown = None
            self.beside.setText(f"No preview: {wrong}")
            return
        try:
            self.file = PdfFile(path)
        except FileError as error:
            self._shown = None
            self.beside.setText(f"No preview: {error}")
            return
        self.pages.show_file(self.file)
        size = path.stat().st_size / 1e6
        self.beside.setText(f"{len(self.file)} pages, {size:.1f} MB; what is written is what is shown")

    def stop_all(self) -> None:
        """Stop what is being laid out or written."""
        for writer in (self.making, self.writing):
            if writer is not None:
                writer.stop()
        if self.making is not None or self._soon.isActive():
            self._shown = None
        self._soon.stop()
        self.making = self.writing = None
        self.stop.hide()
        self.beside.setText("stopped; nothing was written")

    def close_down(self) -> None:
        """The window closes: what is being written is waited for, the preview is not."""
        self._leave()
        if self.writing is not None:
            self.writing.wait(CLOSING_MS)
            if self.writing is not None:
                self.writing.stop()
                self.writing = None
        shutil.rmtree(self.folder, ignore_errors=True)

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        if not event.spontaneous():  # a window that is only made small comes back to the same page
            self._leave()

    def _leave(self) -> None:
        """Nobody looks at the preview: it is not laid out any further."""
        if self.making is not None or self._soon.isActive():
            if self.making is not None:
                self.making.stop()
            self._soon.stop()
            self.making, self._shown = None, None
            self.stop.setVisible(self.writing is not None)

    def finish(self, milliseconds: int = 60_000) -> None:
        """Wait for what is being laid out or written. For scripts and tests."""
        if self._soon.isActive():
            self._soon.stop()
            self._begin()
        for writer in (self.making, self.writing):
            if writer is not None:
                writer.wait(milliseconds)

    # -- writing and printing ------------------------------------------------------------------------------

    def write_to(self, path: Path) -> None:
        """Write the report as it is chosen. What is shown already is copied; else it is laid out beside the window, and
        its end is told."""
        if self.file is not None and path.suffix.lower() == ".pdf" and self._is_shown():
            with written_whole(path) as part:
                shutil.copyfile(self.folder / "report.pdf", part)
            self.session.tell(f"Written: {path}.")
            return
        if self.session.store is None:
            raise FileError("There is no study.")
        if not path.parent.is_dir():
            raise FileError(f"{path} cannot be written: there is no folder {path.parent}.")
        if self.writing is not None:
            raise FileError("A report is being written; wait for its end, or stop it.")
        self.stop.show()
        self.session.tell(f"Writing {path.name} beside the work …")
        self.writing = self._writer(path, self.chosen, partial(self._written, path))

    def _is_shown(self) -> bool:
        return self._shown is not None and self._shown[0] is self.session.study and self._shown[1] == self.chosen

    def _written(self, path: Path, wrong: str) -> None:
        self.writing = None
        self.stop.setVisible(self.making is not None)
        self.session.tell(f"The report was not written: {wrong}" if wrong else f"Written: {path}.")

    def print_on(self, printer: QPrinter) -> None:
        """Print the pages as they are shown, at their own size. Raises FileError."""
        if self.file is None:
            raise FileError("The pages are still being laid out; print them when they are shown.")
        print_pdf(self.file, printer)
