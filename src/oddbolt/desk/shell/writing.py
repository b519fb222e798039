"""What can be written to a file or printed: each a row with its endings and how it is made.

What writes is imported when something is written, so that the window opens without it.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from functools import partial
from pathlib import Path

from attrs import frozen
from PySide6.QtWidgets import QWidget

from oddbolt.core.opening.edge import round_of
from oddbolt.core.safety import preflight
from oddbolt.desk.pages.board_map import BoardMapPage
from oddbolt.desk.pages.fasteners import Fasteners
from oddbolt.desk.pages.opening import Opening
from oddbolt.desk.pages.page import Page
from oddbolt.desk.pages.parts import Parts
from oddbolt.desk.pages.prepare import Prepare
from oddbolt.desk.pages.reach import ReachPage
from oddbolt.desk.pages.report import ReportPage
from oddbolt.desk.pages.shelf import ShelfPage
from oddbolt.desk.shell.dialogs import ended
from oddbolt.desk.shell.filing import Filing
from oddbolt.desk.state.actions import Action
from oddbolt.desk.state.session import Session
from oddbolt.files.records import to_json
from oddbolt.files.tables import TABLES, csv_text, write_tables
from oddbolt.files.text import write_text

SCALE = "Print it at 100 %"


@frozen
class Sheet:
    """One thing that can be written: its menu text and key, the name proposed, the endings, how it is made and what is
    told afterwards. ``why_not`` says why there is nothing to write yet, or ""."""

    name: str
    text: str
    keys: str
    proposed: str
    endings: tuple[str, ...]
    write: Callable[[Path], object]
    why_not: Callable[[], str]
    told: str = ""
    menu: str = "File/&Write"


class Writing:
    """Writes the sheets and prints pages."""

    def __init__(
        self,
        window: QWidget,
        filing: Filing,
        prepare: Prepare,
        opening: Opening,
        fasteners: Fasteners,
        reach: ReachPage,
        parts: Parts,
        board_map: BoardMapPage,
        shelf: ShelfPage,
        report: ReportPage,
        shown: Callable[[], Page | None],
    ) -> None:
        self.window, self.filing, self.shown = window, filing, shown
        self.session: Session = filing.session
        self.prepare, self.opening, self.fasteners, self.reach = prepare, opening, fasteners, reach
        self.parts, self.board_map, self.shelf, self.report = parts, board_map, shelf, report

    def sheets(self) -> tuple[Sheet, ...]:
        """Everything that can be written."""
        none = self.filing.no_study
        return (
            Sheet("report", "&Report …", "Ctrl+E", "report", (".html", ".pdf"), self._report, none),
            Sheet("kit list", "&Kit list …", "Ctrl+Shift+K", "kit", (".pdf", ".html"), self._kit, none),
            Sheet(
                "edge plan",
                "&Edge plan 1:1 …",
                "Ctrl+Shift+D",
                "edge plan",
                (".pdf", ".svg"),
                self._edge,
                lambda: "" if self.opening.plan_id else "There is no edge plan yet.",
                SCALE,
            ),
            Sheet(
                "tray plan",
                "&Tray plan 1:1 …",
                "",
                "tray",
                (".pdf", ".svg"),
                self._tray,
                lambda: "" if self.fasteners.plan else "There is no tray plan yet; Fasteners shows one under “tray”.",
                f"{SCALE}; its bar is 20 mm",
            ),
            Sheet(
                "bench card",
                "&Bench card …",
                "",
                "bench card",
                (".pdf", ".html"),
                self._card,
                lambda: "" if self.reach.route else "There is no route yet; name a part on Reach.",
            ),
            Sheet(
                "job card",
                "&Repair job card …",
                "",
                "job card",
                (".pdf", ".html"),
                self._job,
                lambda: "" if self.reach.route else "There is no route yet; name the part to replace on Reach.",
                "out and back on one sheet, both sides",
            ),
            Sheet(
                "instructions",
                "Repair &instructions …",
                "",
                "instructions",
                (".pdf", ".html", ".md"),
                self._instructions,
                lambda: "" if self.reach.route else "There is no route yet; name the part to replace on Reach.",
            ),
            Sheet("strata", "&Strata …", "Ctrl+Shift+T", "strata", (".svg", ".png"), self._strata, none),
            Sheet(
                "laid out",
                "Device &laid out …",
                "",
                "laid out",
                (".svg", ".png"),
                self._laid_out,
                lambda: "" if self.session.study.parts else "There are no parts yet.",
            ),
            Sheet("board map", "&Board map …", "", "board map", (".svg",), self._board_map, self.board_map.no_map),
            Sheet(
                "comparison",
                "De&vices side by side …",
                "",
                "side by side",
                (".svg", ".png", ".csv"),
                self._comparison,
                lambda: "" if self.shelf.side else "Choose two or more studies on the shelf first.",
            ),
            Sheet(
                "contact sheet",
                "&Contact sheet …",
                "",
                "photos",
                (".pdf", ".html"),
                self._contact_sheet,
                lambda: "" if self.session.study.photos else "There are no photos yet.",
            ),
            Sheet(
                "captions",
                "&Captions …",
                "",
                "captions",
                (".vtt", ".srt"),
                self._captions,
                self._no_times,
            ),
            Sheet(
                "photos packed",
                "P&hotos, packed …",
                "",
                "photos",
                (".zip",),
                self._photos,
                lambda: "" if self.session.study.photos else "There are no photos yet.",
                "without what the camera wrote into them about place and owner",
            ),
            Sheet("view", "This &view as a picture …", "", "view", (".svg", ".png"), self._view, none),
            Sheet("web folder", "&Web folder …", "", "web", ("",), self._web, none, "begin with its index.html"),
            Sheet(
                "study for others",
                "Study for &others …",
                "",
                "for others",
                (".oddbolt",),
                self._for_others,
                none,
            ),
            Sheet(
                "gauge mat",
                "&Gauge mat …",
                "",
                "gauge mat",
                (".pdf", ".svg", ".png"),
                self._mat,
                lambda: "",
                f"{SCALE}, matt, in colour; its ruler must measure 100 mm",
            ),
        )

    def actions(self) -> tuple[Action, ...]:
        """An action for each sheet; export and print."""
        return (
            Action("export", "E&xport …", "File", self.export, "Ctrl+Shift+E", 2, self.filing.no_study),
            *(Action(s.name, s.text, s.menu, partial(self.ask, s.name), s.keys, 2, s.why_not) for s in self.sheets()),
            Action("print", "&Print page …", "File", self.print_page, "Ctrl+P", 2),
            *(
                Action(
                    f"print {s.name}",
                    s.text,
                    "File/Print at its o&wn size",
                    partial(self.print_sheet, s.name),
                    "",
                    2,
                    s.why_not,
                )
                for s in self.sheets()
                if ".pdf" in s.endings and s.name != "report"
            ),
        )

    def ask(self, name: str) -> None:
        """Ask where to write a sheet, and write it; or say why there is none."""
        sheet = next(s for s in self.sheets() if s.name == name)
        why_not = sheet.why_not()
        if why_not:
            self.session.tell(why_not)
            return
        store = self.session.store
        stem = f"{store.path.stem} {sheet.proposed}" if store is not None else sheet.proposed
        kinds = ";;".join(f"{e[1:].upper()} (*{e})" if e else "Folder (*)" for e in sheet.endings)
        title = f"Write {name}"
        self.filing.dialogs.ask_save(title, stem + sheet.endings[0], kinds, partial(self.write, name))

    def write(self, name: str, path: Path, kind: str = "") -> None:
        """Write a sheet to this file, and tell where it lies."""
        sheet = next(s for s in self.sheets() if s.name == name)

        def write() -> None:
            target = ended(path, sheet.endings, kind)
            said = sheet.write(target)
            told = said if isinstance(said, str) else sheet.told
            if name != "report":  # which tells itself when it is done
                self.session.tell(f"Written: {target}.{f' {told}.' if told else ''}")

        self.filing.attempt(write)

    # -- how each is made ---------------------------------------------------------------------------------

    def _report(self, path: Path) -> None:
        self.report.write_to(path)

    def _instructions(self, path: Path) -> None:
        from oddbolt.core.reassembly import repair_job
        from oddbolt.files.report.instructions import write_instructions

        if self.reach.route is not None:
            study = self.session.study
            write_instructions(path, study, repair_job(study, self.reach.route.targets), self.session.picture)

    def _captions(self, path: Path) -> None:
        from oddbolt.core.handover.cues import timed_steps
        from oddbolt.files.captions import write_captions

        study = self.session.study
        told = any(step.at_s is not None for step in study.steps.values())
        write_captions(path, timed_steps(study, "" if told else next(reversed(study.runs), "")))

    def _photos(self, path: Path) -> None:
        from oddbolt.files.photo_archive import write_photos

        write_photos(path, self.session.study, self.session.picture)

    def _view(self, path: Path) -> None:
        from oddbolt.desk.shell.view_file import write_page_picture

        page = self.shown()
        if page is not None:
            write_page_picture(path, page)

    def _web(self, path: Path) -> None:
        from oddbolt.files.web_folder import write_web

        write_web(path, self.session.study, self.session.picture)

    def _for_others(self, path: Path) -> str:
        """Write the copy; returns what was taken out, in words."""
        from oddbolt.core.handover.for_others import for_others
        from oddbolt.files.photo_archive import bare_study
        from oddbolt.files.store import Store

        study, told = for_others(self.session.study)
        study, pictures = bare_study(study, self.session.picture)
        Store.create(path, study, pictures).close()
        return f"Taken out: {', '.join(told) or 'nothing was there to take out'}"

    def _kit(self, path: Path) -> None:
        from oddbolt.files.kit_sheet import kit_html
        from oddbolt.files.pdf import write_page

        study = self.session.study
        write_page(path, kit_html(study, self.prepare.job_name(), self.prepare.needs(), preflight(study)))

    def _edge(self, path: Path) -> None:
        from oddbolt.files.edge_drawing import write_edge

        study = self.session.study
        write_edge(path, study, round_of(study, self.opening.plan_id))

    def _tray(self, path: Path) -> None:
        from oddbolt.files.tray_sheet import write_tray

        if self.fasteners.plan is not None:
            write_tray(path, self.session.study, self.fasteners.plan)

    def _card(self, path: Path) -> None:
        from oddbolt.files.bench_card import write_card

        if self.reach.route is not None:
            write_card(path, self.session.study, self.reach.route)

    def _job(self, path: Path) -> None:
        from oddbolt.core.reassembly import repair_job
        from oddbolt.files.job_card import write_job

        if self.reach.route is not None:
            write_job(path, self.session.study, repair_job(self.session.study, self.reach.route.targets))

    def _strata(self, path: Path) -> None:
        from oddbolt.desk.pages.reach_panels.strata_export import write_strata

        write_strata(path, self.session.study, self.reach.units.checkedId() == 1, self.reach.route)

    def _laid_out(self, path: Path) -> None:
        from oddbolt.desk.pages.parts_panels.laid_out_export import write_laid_out

        write_laid_out(path, self.session.study, self.parts.cut_outs.of)

    def _board_map(self, path: Path) -> None:
        from oddbolt.files.board_drawing import write_board

        photo = self.session.study.photos[self.board_map.photo]
        write_board(path, self.session.study, photo.id, self.session.picture(photo.sha256))

    def _comparison(self, path: Path) -> None:
        from oddbolt.desk.pages.verdict_panels.comparison_export import write_comparison

        if self.shelf.side is not None:
            write_comparison(path, self.shelf.side, self.shelf.views.checkedId() == 1, self.shelf.own)

    def _contact_sheet(self, path: Path) -> None:
        from oddbolt.files.contact_sheet import contact_sheet
        from oddbolt.files.pdf import write_page

        write_page(path, contact_sheet(self.session.study, self.session.picture))

    def _mat(self, path: Path) -> None:
        from oddbolt.core.vision.mat import mat
        from oddbolt.files.mat_sheet import write_mat

        write_mat(path, mat())

    # -- data, and paper ----------------------------------------------------------------------------------

    def export(self) -> None:
        """Ask where to export the study as JSON, or its tables as CSV or a workbook."""
        tables = [f"{named}, CSV (*.csv)" for named in TABLES.values()]
        kinds = ";;".join(
            ["Whole study, JSON (*.json)", "All tables, workbook (*.xlsx)", "All tables, CSV (*.zip)", *tables]
        )
        store = self.session.store
        stem = store.path.stem if store else "study"
        self.filing.dialogs.ask_save("Export", f"{stem}.json", kinds, self.export_to)

    def export_to(self, path: Path, kind: str = "") -> None:
        """Write the whole study as JSON or a table as CSV, by the ending typed, else by the kind chosen."""
        table = next((table for table, named in TABLES.items() if kind.startswith(named)), "steps")
        study = self.session.study

        def write() -> None:
            target = ended(path, (".json", ".csv", ".xlsx", ".zip"), kind)
            if target.suffix.lower() == ".xlsx":
                from oddbolt.files.workbook import write_workbook

                write_workbook(target, study)
            elif target.suffix.lower() == ".zip":
                write_tables(target, study)
            elif target.suffix.lower() == ".csv":
                write_text(target, csv_text(study, table))
            else:
                write_text(target, json.dumps(to_json(study), ensure_ascii=False, indent=1))
            self.session.tell(f"Written: {target}.")

        self.filing.attempt(write)

    def print_page(self) -> None:
        """Show how the page would be printed, and print it from there. The report is printed at its own size."""
        from oddbolt.desk.shell.printing import preview

        page = self.shown()
        if page is not None:
            title = f"{self.session.study.device.name}, {page.title}"
            fit = self.report.file if page is self.report else None
            self.printed = preview(self.window, title, page.print_on, fit, self.session.tell)

    def print_sheet(self, name: str) -> None:
        """Show how a sheet would be printed, at its own size, and print it from there."""
        from oddbolt.desk.shell.printing import on_paper, preview, sheet_file

        sheet = next(s for s in self.sheets() if s.name == name)
        if why_not := sheet.why_not():
            self.session.tell(why_not)
            return

        def show() -> None:
            file = sheet_file(sheet.write)
            title = f"{self.session.study.device.name}, {name}"
            self.printed = preview(self.window, title, on_paper(file), file, self.session.tell)

        self.filing.attempt(show)

    def _no_times(self) -> str:
        study = self.session.study
        if any(step.at_s is not None for step in study.steps.values()) or any(r.laps for r in study.runs.values()):
            return ""
        return "No step has a time yet: draft the study from timed captions, or time a run."
