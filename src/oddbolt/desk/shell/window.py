"""The window: puts rail, sill, pages, margin and notices together, and moves between pages."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, TypeVar

from PySide6.QtCore import QByteArray, QSize
from PySide6.QtGui import (
    QCloseEvent,
    QDragEnterEvent,
    QDropEvent,
    QGuiApplication,
    QResizeEvent,
    QShowEvent,
    QUndoGroup,
)
from PySide6.QtWidgets import QApplication, QHBoxLayout, QMainWindow, QStackedWidget, QVBoxLayout, QWidget

from oddbolt.core.errors import FileError
from oddbolt.desk.inspector.margin import SLIM, WIDE, Margin
from oddbolt.desk.pages.bench_panels.say_line import SayLine
from oddbolt.desk.pages.board_map import BoardMapPage
from oddbolt.desk.pages.fasteners import Fasteners
from oddbolt.desk.pages.large import LargePage
from oddbolt.desk.pages.opening import Opening
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.pages.parts import Parts
from oddbolt.desk.pages.photos import PhotosPage
from oddbolt.desk.pages.prepare import Prepare
from oddbolt.desk.pages.put_back import PutBack
from oddbolt.desk.pages.reach import ReachPage
from oddbolt.desk.pages.report import ReportPage
from oddbolt.desk.pages.review import ReviewPage
from oddbolt.desk.pages.runs import RunsPage
from oddbolt.desk.pages.shelf import ShelfPage
from oddbolt.desk.pages.spreadsheet import SpreadsheetPage
from oddbolt.desk.pages.take_apart import TakeApart
from oddbolt.desk.photos.importer import PhotoImporter
from oddbolt.desk.shell.announcements import Announcements
from oddbolt.desk.shell.bench_actions import BenchActions
from oddbolt.desk.shell.calculator import Calculator
from oddbolt.desk.shell.filing import Filing
from oddbolt.desk.shell.key_list import KeyList
from oddbolt.desk.shell.menus import build_menus
from oddbolt.desk.shell.notices import Notice
from oddbolt.desk.shell.stages import ASIDES, STAGES
from oddbolt.desk.shell.status import Status
from oddbolt.desk.shell.writing import Writing
from oddbolt.desk.state.actions import Action, Actions
from oddbolt.desk.state.background import Background
from oddbolt.desk.state.figures import Figures
from oddbolt.desk.state.pedals import Pedals
from oddbolt.desk.state.session import Session
from oddbolt.desk.state.settings import Settings, data_folder
from oddbolt.desk.state.timers import Timers
from oddbolt.desk.widgets import spoken, theme
from oddbolt.files.store import ENDING
from oddbolt.listening import shipped_tagger

if TYPE_CHECKING:
    from oddbolt.desk.pages.scan import ScanPage

P = TypeVar("P", bound=Page)
#: a window narrower than this has a slim margin, px
NARROW = 1180
LEAST, USUAL = QSize(1024, 680), QSize(1280, 800)


class Window(QMainWindow):
    """One study on the desk."""

    def __init__(self, settings: Settings) -> None:
        super().__init__()
        spoken.listen()
        self.settings = settings
        self.session = Session(self)
        self.figures = Figures(self.session)
        self.timers = Timers(self.session)
        self.actions_ = Actions()
        self.actions_.tell = self.session.tell
        self.pedals = Pedals(settings, self.session.clock.sign, self.actions_, self)
        importer = PhotoImporter(self.session)
        self.desk = Desk(
            self.session, self.figures, settings, self.timers, importer, self.pedals, self.actions_, SayLine()
        )
        self.importer = importer
        self.pages: list[Page] = [stage(self.desk) for stage in STAGES]
        self.asides: list[Page] = [aside(self.desk) for aside in ASIDES]
        self.prepare, self.opening = self.page(Prepare), self.page(Opening)
        self.take_apart, self.fasteners = self.page(TakeApart), self.page(Fasteners)
        self.reach, self.review = self.page(ReachPage), self.page(ReviewPage)
        self.photos, self.runs, self.large = self.page(PhotosPage), self.page(RunsPage), self.page(LargePage)
        self.photo_panel = self.take_apart.photo_panel
        self._scans: ScanPage | None = None
        self._stale: set[Page] = set(self.pages)
        self.undoing = QUndoGroup(self)
        for stack in (self.session.stack, self.review.stack):
            self.undoing.addStack(stack)
        self.session.stack.setActive(True)
        self.status = Status(self.desk, self.pages, self.asides, self)
        self.rail, self.sill = self.status.rail, self.status.sill
        self.margin = Margin(self.session, self.figures)
        self.calculator = Calculator(self.session)
        self.calculator.hide()
        self.notice = Notice()
        self.announcements = Announcements(self.notice)
        self.stack = QStackedWidget()
        self._lay_out()
        self.filing = Filing(self, self.desk, self.take_apart, self.opening, self.review, self.page(SpreadsheetPage))
        self.writing = Writing(
            self,
            self.filing,
            self.prepare,
            self.opening,
            self.fasteners,
            self.reach,
            self.page(Parts),
            self.page(BoardMapPage),
            self.page(ShelfPage),
            self.page(ReportPage),
            self.shown_page,
        )
        self.bench = BenchActions(self, self.desk, self.take_apart, self.filing, self.undoing)
        self.keys = KeyList(self, self.actions_)
        self._fill_actions()
        menus = build_menus(self, self.actions_)
        recent = menus["File/Open recent"]
        recent.aboutToShow.connect(partial(self.filing.fill_recent, recent))
        self._connect()
        self._come_up()

    # -- building -----------------------------------------------------------------------------------------

    def _lay_out(self) -> None:
        for page in (*self.pages, *self.asides):
            self._add_page(page)
        left = QVBoxLayout()
        left.setSpacing(0)
        left.addWidget(self.stack, 1)
        left.addWidget(self.notice)
        middle = QHBoxLayout()
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(0)
        middle.addLayout(left, 1)
        middle.addWidget(self.margin)
        middle.addWidget(self.calculator)
        upright = QVBoxLayout()
        upright.setContentsMargins(0, 0, 0, 0)
        upright.setSpacing(0)
        upright.addWidget(self.sill)
        upright.addLayout(middle, 1)
        whole = QWidget()
        whole.setObjectName("paper")
        across = QHBoxLayout(whole)
        across.setContentsMargins(0, 0, 0, 0)
        across.setSpacing(0)
        across.addWidget(self.rail)
        across.addLayout(upright, 1)
        self.setCentralWidget(whole)
        theme.dressed(self.menuBar(), self.margin, self.calculator, self.notice)

    def _add_page(self, page: Page) -> None:
        theme.dressed(page)
        self.stack.addWidget(page)
        if page in self.pages:
            page.wanted.connect(partial(self.show_stage, page))
        else:
            page.wanted.connect(partial(self.show_aside, page))
            page.left.connect(partial(self.show_stage, self._home_of(page)))

    def _fill_actions(self) -> None:
        add = self.actions_.add
        add(*self.filing.actions(), *self.writing.actions())
        add(Action("quit", "&Quit", "File", self.close, "Ctrl+Q", 3))
        add(
            Action(
                "undo", "&Undo", "Edit", self.bench.undo, "Ctrl+Z", why_not=self._nothing_to_undo, large="Undo",
                label=f"&Undo {self.undoing.undoText()}".strip,
            ),
            Action(
                "redo", "&Redo", "Edit", self.undoing.redo, "Ctrl+Shift+Z", why_not=self._nothing_to_redo,
                label=f"&Redo {self.undoing.redoText()}".strip,
            ),
        )  # fmt: skip
        add(*self.bench.actions(), *self._edit_actions(), *self.status.actions())
        for n, page in enumerate(self.pages, 1):
            add(Action(f"stage {n}", page.title, "View", partial(self.show_stage, page), f"Ctrl+{n}"))
        for page in (*self.pages, *self.asides):
            add(*page.actions_here())
        add(*self._view_actions(), *self.notice.actions_here(), *self.announcements.actions())

    def _edit_actions(self) -> tuple[Action, ...]:
        return (
            Action("remove", "&Remove selected", "Edit", self.margin.remove, "Ctrl+Del", 1),
            Action("device", "Edit &device", "Edit", self.session.show_device, "Ctrl+D", 2),
            Action("to margin", "Edit selected in &margin", "Edit", self.to_margin, "F2", 2),
            Action("clear", "&Clear selection", "Edit", lambda: self.session.select(""), "Ctrl+Return", 2),
        )

    def _view_actions(self) -> tuple[Action, ...]:
        lamps = tuple(
            Action(one.name, one.name, "View", partial(self.use_theme, one), keys, 4, checked=partial(_is_lit, one))
            for one, keys in ((theme.DAY, "F11"), (theme.NIGHT, "F12"))
        )
        system = Action("system theme", "As the &system", "View", self.follow_system, "", 4, checked=self._follows)
        sizes = tuple(
            Action(f"{word} text", f"{word} text", "View", partial(self.size_text, by), "", 5)
            for word, by in (("Larger", 1.1), ("Smaller", 1 / 1.1))
        )
        return (
            Action("recent", "", "File/Open &recent", lambda: None),
            Action("margin", "Hide / show &margin", "View", self.fold_margin, "F4", 3),
            Action("calculator", "&Calculator", "Bench", self.fold_calculator, "F7", 4),
            *lamps,
            system,
            *sizes,
            Action("scan", "&Scan screws …", "Photo", self.scan_photo, "Ctrl+Shift+M", 3),
            Action("keys", "&Keys", "Help", self.keys.open, "F1"),
            Action("about", "&About Odd Bolt", "Help", self.show_about),
        )

    def _pedal(self, action: str) -> None:
        """Do what a pedal asks for; the one that logs enters the step of the plan while Put back is in sight."""
        back = isinstance(self.stack.currentWidget(), PutBack)
        self.actions_.run("back done" if back and action == "log" else action)

    def _connect(self) -> None:
        self.rail.picked.connect(lambda n: self.show_stage(self.pages[n]))
        self.margin.sum_asked.connect(self.show_sum)
        self.photos.opened.connect(self.show_photo)
        self.reach.step_asked.connect(self.to_step)
        self.pedals.asked.connect(self._pedal)
        self.large.asked.connect(self.actions_.run)
        self.session.changed.connect(self._changed)
        self.session.opened.connect(self._opened)
        self.session.selected.connect(self._selected)
        self.session.told.connect(self.notice.tell)
        self.session.asked.connect(self.notice.ask)
        for tells in (self.session.told, self.timers.rang, self.take_apart.logged):
            tells.connect(self.announcements.say)
        self.session.asked.connect(self._announce_question)
        self.status.cautioned.connect(self.announcements.say)
        self.reach.answered.connect(self.announcements.say)
        QGuiApplication.styleHints().colorSchemeChanged.connect(self._system_changed)
        self.figures.ready.connect(self._figures_came)
        self.timers.rang.connect(self.notice.tell)
        self._last_chance = False
        app = QApplication.instance()
        if app is not None:
            app.installEventFilter(self.pedals)

    def _come_up(self) -> None:
        """As large as it was left, within the work area of the screen."""
        self.setAcceptDrops(True)
        room = self.screen().availableSize().expandedTo(LEAST)
        self.setMinimumSize(LEAST)
        self.resize(USUAL.boundedTo(room))
        kept = self.settings.get("window", "")
        if kept:
            self.restoreGeometry(QByteArray.fromBase64(kept.encode("ascii", "ignore")))
        self.show_stage(self.take_apart)

    # -- moving about -------------------------------------------------------------------------------------

    def page(self, kind: type[P]) -> P:
        """The page of this class."""
        return next(page for page in (*self.pages, *self.asides) if isinstance(page, kind))

    def shown_page(self) -> Page | None:
        """The page in sight."""
        page = self.stack.currentWidget()
        return page if isinstance(page, Page) else None

    def show_stage(self, page: Page) -> None:
        """Show a stage."""
        before = self.stack.currentWidget()
        if before in self.asides or page.wide != (isinstance(before, Page) and before.wide):
            self.margin.setVisible(not page.wide and self.calculator.isHidden())
        self.session.stack.setActive(True)
        self.stack.setCurrentWidget(page)
        self.rail.choose(self.pages.index(page))
        if self.session.device_shown and page is not self.prepare:
            self.session.select("")
        self._refresh_page()
        page.arrive()

    def show_aside(self, page: Page) -> None:
        """Show a page that belongs to a stage; Escape leads back there. The large page again leads back too."""
        if page is self.large and self.stack.currentWidget() is page:
            self.show_stage(self.take_apart)
            return
        self.stack.setCurrentWidget(page)
        (self.review.stack if page is self.review else self.session.stack).setActive(True)
        self.margin.setVisible(not page.wide and self.calculator.isHidden())
        self.rail.choose(self.pages.index(self._home_of(page)))
        self._refresh_page()
        page.arrive()

    def _home_of(self, page: Page) -> Page:
        """The stage that a page beside the stages belongs to."""
        return next(stage for stage in self.pages if stage.title == page.home)

    def show_photo(self, id: str) -> None:
        """Show a photo large, on Take apart."""
        self.to_step(self.session.study.photos[id].step)
        self.photo_panel.show_one(id)
        self.photo_panel.view.setFocus()

    def to_step(self, id: str) -> None:
        """Go to a step and its photo, on Take apart."""
        self.show_stage(self.take_apart)
        self.session.select(id)

    def fold_margin(self) -> None:
        """Hide the margin, or show it."""
        self.calculator.hide()
        self.margin.setVisible(not self.margin.isVisible())

    def fold_calculator(self) -> None:
        """Show the calculator in place of the margin, or the margin again."""
        shown = self.calculator.isHidden()
        self.calculator.setVisible(shown)
        self.margin.setVisible(not shown)
        if shown:
            self.calculator.refresh()

    def show_sum(self, kind: str, about: str) -> None:
        """Open the calculator on a sum for a thing."""
        if self.calculator.isHidden():
            self.fold_calculator()
        self.calculator.ask(kind, about)

    def to_margin(self) -> None:
        """Put the focus into the margin."""
        self.calculator.hide()
        self.margin.show()
        first = next((w for _, w in self.margin.fields.values()), None)
        if first is not None:
            first.setFocus()

    def _announce_question(self, sentence: str, answers: Sequence[tuple[str, object]]) -> None:
        self.announcements.say(
            f"{sentence} Answers: {', '.join(words for words, _ in answers)}." if answers else sentence
        )

    def use_theme(self, which: theme.Theme) -> None:
        """Day paper or night bench."""
        self.settings.put("theme", which.name)
        self._wear(which)

    def follow_system(self) -> None:
        """Day or night as the system has it, from now on."""
        self.settings.put("theme", "")
        self._system_changed()

    def _follows(self) -> bool:
        return not self.settings.get("theme", "")

    def _system_changed(self) -> None:
        if self._follows() and theme.of_system() is not theme.current:
            self._wear(theme.of_system())

    def _wear(self, which: theme.Theme) -> None:
        theme.use(which)
        self._changed()

    def size_text(self, by: float) -> None:
        """Everything larger or smaller from the next start on."""
        size = self.settings.size_text(by)
        self.session.tell(f"Text and drawings at {size:.0%} from the next start.")

    def scan_photo(self) -> None:
        """Count and measure the screws on a photo the user picks; Escape in the dialog shows the scan there is."""
        kinds = "Photos (*.jpg *.jpeg *.png *.webp *.tif *.tiff)"
        if self._scans is not None and self._scans.scan is not None:
            self.show_aside(self._scans)
        self.filing.dialogs.ask_open("Scan screws", kinds, self.scan)

    def scan(self, path: Path) -> None:
        """Count and measure the screws on this photo."""
        self.scans.begin(path)
        self.show_aside(self.scans)

    @property
    def scans(self) -> ScanPage:
        """The page of the screw scan, made when it is first wanted: what it leans on takes long to load."""
        if self._scans is None:
            from oddbolt.desk.pages.scan import ScanPage

            self._scans = ScanPage(self.desk)
            self.asides.append(self._scans)
            self.stack.addWidget(self._scans)
            theme.dressed(self._scans)
            self._scans.left.connect(partial(self.show_stage, self.fasteners))
        return self._scans

    def listen(self) -> None:
        """Load the reader's network beside the work; until it is there, sentences are read by rules alone."""
        if self.settings.get("listen", True):
            Background(self).start(shipped_tagger, lambda _: self._listens())

    def _listens(self) -> None:
        say = self.take_apart.say
        say.vocabulary = self.settings.vocabulary()
        if say.edit.toPlainText():
            say.again()

    def show_about(self) -> None:
        """What this is."""
        from oddbolt import __version__

        self.session.tell(
            f"Odd Bolt {__version__}, a bench book for the teardown analyst. MIT licence; fonts under the OFL."
        )

    def _nothing_to_undo(self) -> str:
        return "" if self.undoing.canUndo() else "There is nothing to undo."

    def _nothing_to_redo(self) -> str:
        return "" if self.undoing.canRedo() else "There is nothing to redo."

    # -- keeping up ---------------------------------------------------------------------------------------

    def _opened(self) -> None:
        store = self.session.store
        self.setWindowTitle(f"{store.path.stem if store else 'no study'} · Odd Bolt")
        if store is not None:
            self.settings.opened(store.path.absolute())
        self.notice.hide()
        if self.isVisible():
            self.status.opened()
        self.show_stage(self.take_apart if self.session.study.steps else self.prepare)

    def _changed(self) -> None:
        self._selected()
        self.status.changed()

    def _selected(self) -> None:
        self.status.selected()
        self._stale = {*self.pages, *self.asides}
        self._refresh_page()
        self.margin.refresh()
        if not self.calculator.isHidden():
            self.calculator.refresh()

    def _figures_came(self) -> None:
        self._selected()
        self.status.show_states()

    def _refresh_page(self) -> None:
        page = self.shown_page()
        if page is not None and page in self._stale:
            self._stale.discard(page)
            page.refresh()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        for widget in (self.margin, self.calculator):
            widget.setFixedWidth(WIDE if self.width() >= NARROW else SLIM)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.status.opened()

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if any(url.toLocalFile().endswith(ENDING) for url in event.mimeData().urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        dropped = [url.toLocalFile() for url in event.mimeData().urls()]
        self.filing.open_path(Path(next(name for name in dropped if name.endswith(ENDING))))

    def closeEvent(self, event: QCloseEvent) -> None:
        self.timers.end_all()
        self.page(ReportPage).close_down()
        self.bench.speech.finish()
        if self._scans is not None:
            self._scans.stop()
        try:
            self.session.close()
        except FileError as error:
            if not self._last_chance:
                self._last_chance = True
                self.session.tell(f"{error} Closing again leaves a copy in {data_folder()}.")
                event.ignore()
                return
            if not self.filing.rescue():
                event.ignore()
                return
        self.settings.put("window", self.saveGeometry().toBase64().toStdString())
        self.figures.settle()
        self.figures.finish(2000)
        app = QApplication.instance()
        if app is not None:
            app.removeEventFilter(self.pedals)
        super().closeEvent(event)


def _is_lit(one: theme.Theme) -> bool:
    return theme.current is one


def open_window(settings: Settings, path: Path | None) -> Window:
    """A window, on a study if one is named."""
    theme.load_fonts()
    chosen = {t.name: t for t in (theme.DAY, theme.NIGHT)}.get(settings.get("theme", ""))
    theme.use(chosen or theme.of_system())
    window = Window(settings)
    if path is not None:
        window.filing.open_path(path)
    window.show()
    window.listen()
    return window
