"""The window: rail, sill, page, margin and notices, and the menus that name every action."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QTimer
from PySide6.QtGui import QCloseEvent
from PySide6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLabel,
    QMainWindow,
    QMenu,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from oddbolt.core.errors import OddBoltError
from oddbolt.core.narration.log import log
from oddbolt.core.safety import cautions, preflight
from oddbolt.core.safety.preflight import DONE
from oddbolt.core.safety.situation import NOTED
from oddbolt.core.study import JOINT_KINDS, Joint, Part, Run, Step, new_id, put
from oddbolt.core.study.tally import tally
from oddbolt.core.study.words import duration
from oddbolt.desk import theme
from oddbolt.desk.figures import AT_ONCE_STEPS, Figures
from oddbolt.desk.filing import Filing
from oddbolt.desk.frame import Rail, Sill
from oddbolt.desk.margin import Margin
from oddbolt.desk.menus import build_menus
from oddbolt.desk.pages.fasteners import Fasteners
from oddbolt.desk.pages.opening import Opening
from oddbolt.desk.pages.page import Page
from oddbolt.desk.pages.parts import Parts
from oddbolt.desk.pages.prepare import Prepare
from oddbolt.desk.pages.reach import ReachPage
from oddbolt.desk.pages.report import ReportPage
from oddbolt.desk.pages.review import ReviewPage
from oddbolt.desk.pages.take_apart import TakeApart
from oddbolt.desk.pages.verdict import VerdictPage
from oddbolt.desk.session import Session
from oddbolt.desk.settings import Settings
from oddbolt.desk.sums import Drawer
from oddbolt.desk.timers import Timers
from oddbolt.files.captions import read_cues

NOTICE_MS = 14_000


class Window(QMainWindow):
    """One study on the desk."""

    def __init__(self, settings: Settings) -> None:
        super().__init__()
        self.settings = settings
        self.session = Session(self)
        self.figures = Figures(self.session)
        self.filing = Filing(self, self.session, settings)
        self.timers = Timers(self.session)
        self.prepare = Prepare(self.session, self.figures, settings)
        self.opening = Opening(self.session, self.figures, self.timers)
        self.take_apart = TakeApart(self.session, self.figures, settings)
        self.reach = ReachPage(self.session, self.figures)
        self.report = ReportPage(self.session, self.figures)
        self.review = ReviewPage(self.session, self.figures, settings)
        self.review.left.connect(lambda: self.show_stage(self.take_apart))
        self.pages: list[Page] = [
            self.prepare,
            self.opening,
            self.take_apart,
            Fasteners(self.session, self.figures),
            Parts(self.session, self.figures),
            self.reach,
            VerdictPage(self.session, self.figures),
            self.report,
        ]
        self._stale: set[Page] = set(self.pages)
        self._build()
        build_menus(self)
        self.resize(1280, 800)
        self.setMinimumSize(1024, 680)
        self.session.changed.connect(self._changed)
        self.session.opened.connect(self._opened)
        self.session.selected.connect(self._selected)
        self.session.told.connect(self.tell)
        self.figures.ready.connect(self._figures_came)
        self.report.export_asked.connect(self.filing.write_report)
        tick = QTimer(self)
        tick.timeout.connect(self._tick)
        tick.start(500)
        self._caution_at = 0
        self._ahead: tuple[str, ...] = ()
        self.take_apart.say.understood.connect(self._understood)
        self.timers.rang.connect(self.tell)
        self.timers.changed.connect(self._tick)
        self.show_stage(self.take_apart)

    # -- building -----------------------------------------------------------------------------------------

    def _build(self) -> None:
        self.rail = Rail([(p.title, p.number) for p in self.pages])
        self.sill = Sill()
        self.stack = QStackedWidget()
        for page in self.pages:
            self.stack.addWidget(page)
        self.stack.addWidget(self.review)
        self.margin = Margin(self.session, self.figures)
        self.margin.sum_asked.connect(self.show_sum)
        self.drawer = Drawer(self.session)
        self.drawer.hide()
        self.notice = QFrame()
        self.notice.setObjectName("notice")
        line = QHBoxLayout(self.notice)
        line.setContentsMargins(16, 5, 10, 5)
        self.notice_text = QLabel()
        self.notice_text.setWordWrap(True)
        away = QPushButton("Away  F6")
        away.setObjectName("link")
        away.clicked.connect(self.notice.hide)
        line.addWidget(self.notice_text, 1)
        line.addWidget(away)
        self.notice.hide()
        self._notice_timer = QTimer(self)
        self._notice_timer.setSingleShot(True)
        self._notice_timer.timeout.connect(self.notice.hide)
        middle = QHBoxLayout()
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(0)
        left = QVBoxLayout()
        left.setSpacing(0)
        left.addWidget(self.stack, 1)
        left.addWidget(self.notice)
        middle.addLayout(left, 1)
        middle.addWidget(self.margin)
        middle.addWidget(self.drawer)
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
        self.rail.picked.connect(self.show_page)

    # -- moving about -------------------------------------------------------------------------------------

    def show_page(self, n: int) -> None:
        """Show a stage."""
        self.stack.setCurrentIndex(n)
        self.rail.choose(n)
        if self.session.device_shown and self.pages[n] is not self.prepare:
            self.session.select("")
        self._refresh_page()
        self.pages[n].arrive()

    def show_stage(self, page: Page) -> None:
        """Show this page."""
        self.show_page(self.pages.index(page))

    def fold_margin(self) -> None:
        """Fold the margin away, or back."""
        self.drawer.hide()
        self.margin.setVisible(not self.margin.isVisible())

    def fold_drawer(self) -> None:
        """Show the sums in place of the margin, or the margin again."""
        shown = self.drawer.isHidden()
        self.drawer.setVisible(shown)
        self.margin.setVisible(not shown)
        if shown:
            self.drawer.refresh()

    def show_sum(self, kind: str, about: str) -> None:
        """Work a sum out for a thing."""
        if self.drawer.isHidden():
            self.fold_drawer()
        self.drawer.ask(kind, about)

    def use_theme(self, which: theme.Theme) -> None:
        """Day paper or night bench."""
        theme.use(which)
        self.settings.put("theme", which.name)
        self._changed()

    def to_margin(self) -> None:
        """Put the focus into the margin."""
        self.drawer.hide()
        self.margin.show()
        first = next((w for _, w in self.margin.fields.values()), None)
        if first is not None:
            first.setFocus()

    def to_say_line(self) -> None:
        """Go to the say line."""
        self.show_stage(self.take_apart)

    def to_target(self) -> None:
        """Ask for a part to reach."""
        self.show_stage(self.reach)
        self.reach.target.setFocus()
        self.reach.target.selectAll()

    # -- work ---------------------------------------------------------------------------------------------

    def pause(self) -> None:
        """Pause the clocks, or let them go on."""
        self.session.clock.pause()
        self._tick()

    def begin_run(self, kind: str) -> None:
        """Begin a new run; the clocks start anew and laps go to it."""
        study = self.session.study
        id = new_id(study, "R")
        if self.session.edit(put(study, Run(id, kind)), f"begin a {kind} run"):
            self.session.begin_run(id)
            self.tell(f"A {kind} run has begun. Laps are kept with it.")

    def add_part(self) -> None:
        """Add a part and show it in the margin."""
        id = new_id(self.session.study, "P")
        if self.session.attempt("add a part", put, Part(id, f"Part {id[1:]}")):
            self.session.select(id)
            self.to_margin()

    def add_joint(self) -> None:
        """Add a screw group and show it in the margin; its kind can be changed there."""
        id = new_id(self.session.study, "J")
        if self.session.attempt("add a joint", put, Joint(id, JOINT_KINDS[0], count=None)):
            self.session.select(id)
            self.to_margin()

    def add_step(self) -> None:
        """Add an empty step and show it in the margin."""
        id = new_id(self.session.study, "S")
        if self.session.attempt("add a step", put, Step(id, "do")):
            self.session.select(id)
            self.to_margin()

    def begin_wait(self, kind: str) -> None:
        """Start a timer for the step shown."""
        self.timers.start(kind, step=self._present_step())

    def wait(self) -> None:
        """End the wait that runs; else begin the one that fits the step shown."""
        waiting = [t for t in self.timers.running if not t.warmup]
        if waiting:
            self.timers.end(waiting[0])
            return
        study, at = self.session.study, self._present_step()
        said = f"{study.steps[at].tool} {study.steps[at].said}".casefold() if at else ""
        fitting = {"roll": "roller", "tab": "stretch tab", "cure": "cure", "set": "cure"}
        self.begin_wait(next((kind for word, kind in fitting.items() if word in said), "solvent"))

    def on_opening(self, work: Callable[[], None]) -> None:
        """Do something that belongs to the Open page, in sight of it."""
        self.show_stage(self.opening)
        work()

    def review_narration(self) -> None:
        """Go through a caption file that the user picks, line by line, before it is logged."""
        path = self.filing.ask_open("Review a narration", "Captions (*.vtt *.srt *.txt);;All files (*)")
        if path is not None:
            self.filing.attempt(lambda: self.review_captions(path))

    def review_captions(self, path: Path) -> None:
        """Go through this caption file. Raises OddBoltError."""
        self.review.begin(read_cues(path), path.name)
        self.stack.setCurrentWidget(self.review)
        self.rail.choose(self.pages.index(self.take_apart))
        self.review.arrive()

    def take_outline(self) -> None:
        """Take an outline from a drawing the user picks."""
        path = self.filing.ask_open("An outline from a drawing", "Drawings (*.svg *.dxf)")
        if path is not None:
            self.show_stage(self.opening)
            self.filing.attempt(lambda: self.opening.take_outline(path))

    def write_edge(self) -> None:
        """Draw the edge plan shown, 1:1, into a file the user names."""
        if not self.opening.plan_id:
            self.tell("There is no edge plan to draw yet.")
            return
        path = self.filing.ask_save("Draw the edge plan 1:1", "edge plan.pdf", "PDF (*.pdf);;SVG (*.svg)")
        if path is not None:
            self.filing.attempt(lambda: self.filing.edge_to(path, self.opening.plan_id))

    def write_kit(self) -> None:
        """Write the kit of the job chosen on Prepare into a file the user names."""
        path = self.filing.ask_save("Write the kit list", "kit.pdf", "PDF (*.pdf);;HTML (*.html)")
        if path is not None:
            self.filing.attempt(lambda: self.filing.kit_to(path, self.prepare.job_name(), self.prepare.needs()))

    def next_caution(self) -> None:
        """Show the next caution on the sill."""
        self._caution_at += 1
        self._tick()

    # -- keeping up ---------------------------------------------------------------------------------------

    def tell(self, sentence: str) -> None:
        """Show a sentence below the page for a while."""
        self.notice_text.setText(sentence)
        self.notice.show()
        self._notice_timer.start(NOTICE_MS)

    def _opened(self) -> None:
        store = self.session.store
        self.setWindowTitle(f"{store.path.stem if store else 'no study'} · Odd Bolt")
        if store is not None:
            self.settings.opened(store.path.absolute())
        self.notice.hide()
        self.show_stage(self.take_apart if self.session.study.steps else self.prepare)

    def _changed(self) -> None:
        self._selected()
        self._tick()
        self._states()

    def _selected(self) -> None:
        self._caution_at = 0
        self._stale = set(self.pages)
        self._refresh_page()
        self.margin.refresh()
        if not self.drawer.isHidden():
            self.drawer.refresh()

    def _figures_came(self) -> None:
        self._selected()
        self._states()

    def _refresh_page(self) -> None:
        page = self.stack.currentWidget()
        if isinstance(page, Page) and page in self._stale:
            self._stale.discard(page)
            page.refresh()

    def _states(self) -> None:
        for n, page in enumerate(self.pages):
            self.rail.show_state(n, page.state())

    def _tick(self) -> None:
        session, study = self.session, self.session.study
        count = tally(study)
        device = " · ".join(
            filter(
                None, (f"{study.device.maker} {study.device.model} {study.device.name}".strip(), study.device.variant)
            )
        )
        clock = session.clock
        uncounted = f" +{count.groups_uncounted} groups" if count.groups_uncounted else ""
        readouts = [
            ("study", device if session.store else "no study open", "ink"),
            ("run, paused" if clock.paused else "run", duration(clock.run_s), "muted" if clock.paused else "ink"),
            ("this step", duration(clock.step_s), "muted" if clock.paused else "ink"),
            ("power", "isolated" if count.isolated else "live", "sea" if count.isolated else "copper"),
            ("screws", f"{count.screws_out}{uncounted} out · {count.screws_back} back", "ink"),
        ]
        lines = preflight(study)
        open_ = sum(line.state != DONE for line in lines)
        checks = (f"{open_} open", "copper") if open_ else ("all done", "sea")
        readouts.append(("checks", *checks))
        timer = self.timers.readout()
        if timer is not None:
            readouts.append(timer)
        self.timers.check()
        self.opening.tick()
        minds = [*self.timers.alarms(), *self._ahead, *(c.text for c in cautions(study, self._present_step()))]
        shown = minds[self._caution_at % len(minds)] if minds else ""
        if len(minds) > 1:
            shown = f"{self._caution_at % len(minds) + 1}/{len(minds)}  {shown}"
        self.sill.show_readouts(readouts, shown)

    def _understood(self) -> None:
        """What is being said asks for care before it is done: its cautions go to the sill at once."""
        study, reading = self.session.study, self.take_apart.say.reading
        ahead: tuple[str, ...] = ()
        if not reading.empty and len(study.steps) <= AT_ONCE_STEPS:
            try:
                tried, ids = log(study, reading)
            except OddBoltError:
                return
            ahead = tuple(c.text for id in ids for c in cautions(tried, id) if c.rule != NOTED)
        if ahead != self._ahead:
            self._ahead, self._caution_at = ahead, 0
            self._tick()

    def _present_step(self) -> str:
        study = self.session.study
        return self.session.selection if self.session.selection in study.steps else next(reversed(study.steps), "")

    def show_keys(self) -> None:
        """All actions with their keys, in the notice."""
        keys = [
            f"{a.text().replace('&', '').removesuffix(' …')}: {a.shortcut().toString()}"
            for menu in self.menuBar().findChildren(QMenu)
            for a in menu.actions()
            if not a.shortcut().isEmpty()
        ]
        self.tell("   ·   ".join(dict.fromkeys(keys)))

    def show_about(self) -> None:
        """What this is."""
        from oddbolt import __version__

        self.tell(
            f"Odd Bolt {__version__}, a bench book for the teardown analyst. MIT licence; fonts B612 under the OFL."
        )

    def closeEvent(self, event: QCloseEvent) -> None:
        self.timers.end_all()
        self.session.close()
        self.figures.finish(2000)
        super().closeEvent(event)


def open_window(settings: Settings, path: Path | None) -> Window:
    """A window, on a study if one is named."""
    theme.load_fonts()
    theme.use(theme.NIGHT if settings.get("theme", "") == theme.NIGHT.name else theme.DAY)
    window = Window(settings)
    if path is not None:
        window.filing.open_path(path)
    window.show()
    return window
