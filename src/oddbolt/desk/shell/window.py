"""The window: rail, sill, page, margin and notices, and the menus that name every action."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QThreadPool, QTimer
from PySide6.QtGui import QCloseEvent, QUndoGroup
from PySide6.QtWidgets import (
    QApplication,
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

from oddbolt.core.errors import FileError, OddBoltError
from oddbolt.core.narration.draft import Aside
from oddbolt.core.narration.recording import log
from oddbolt.core.safety import cautions, preflight
from oddbolt.core.safety.hazards import NOTED
from oddbolt.core.safety.preflight import DONE
from oddbolt.core.study import JOINT_KINDS, Joint, Part, Run, Step, new_id, put
from oddbolt.core.study.formatting import duration
from oddbolt.core.study.tally import tally
from oddbolt.desk.inspector.margin import Margin
from oddbolt.desk.pages.fasteners import Fasteners
from oddbolt.desk.pages.large import LargePage
from oddbolt.desk.pages.opening import Opening
from oddbolt.desk.pages.page import Page
from oddbolt.desk.pages.parts import Parts
from oddbolt.desk.pages.photos import PhotosPage
from oddbolt.desk.pages.prepare import Prepare
from oddbolt.desk.pages.reach import ReachPage
from oddbolt.desk.pages.report import ReportPage
from oddbolt.desk.pages.review import ReviewPage
from oddbolt.desk.pages.runs import RunsPage
from oddbolt.desk.pages.take_apart import TakeApart
from oddbolt.desk.pages.verdict import VerdictPage
from oddbolt.desk.photos.importer import Pictures, practice_shot
from oddbolt.desk.shell.calculator import Drawer
from oddbolt.desk.shell.filing import Filing
from oddbolt.desk.shell.frame import Rail, Sill
from oddbolt.desk.shell.menus import build_menus
from oddbolt.desk.shell.practice_pedal import PracticePedal
from oddbolt.desk.shell.speech import Voice
from oddbolt.desk.state.figures import AT_ONCE_STEPS, Figures
from oddbolt.desk.state.pedals import Hands
from oddbolt.desk.state.session import Session
from oddbolt.desk.state.settings import Settings, data_folder
from oddbolt.desk.state.timers import Timers
from oddbolt.desk.widgets import theme
from oddbolt.files.captions import read_cues

if TYPE_CHECKING:
    from oddbolt.desk.pages.scan import ScanPage

NOTICE_MS = 14_000
#: how long a study just opened is in sight before the rail tells the state of every stage
STATES_MS = 250


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
        self.pictures = Pictures(self.session)
        self.take_apart = TakeApart(self.session, self.figures, settings, self.pictures)
        self.photo = self.take_apart.photo
        self.photos = PhotosPage(self.session, self.figures, self.pictures)
        self.reach = ReachPage(self.session, self.figures, settings)
        self.report = ReportPage(self.session, self.figures)
        self.review = ReviewPage(self.session, self.figures, settings)
        self.review.left.connect(lambda: self.show_stage(self.take_apart))
        self._scans: ScanPage | None = None
        self.runs = RunsPage(self.session, self.figures)
        self.runs.left.connect(lambda: self.show_stage(self.take_apart))
        self.hands = Hands(settings, lambda: self.session.clock.sign(), self)
        self.voice = Voice(self)
        self.large = LargePage(self.session, self.figures, settings, self.hands, self.take_apart.say)
        self.large.asked.connect(self.do)
        self.large.left.connect(lambda: self.show_stage(self.take_apart))
        self.hands.asked.connect(self.do)
        self.take_apart.say.asked.connect(self._told_to_bench)
        self.take_apart.say.measured.connect(self._measured)
        self.take_apart.say.group = self._screws_spoken_of
        self.photos.opened.connect(self.show_photo)
        self.photos.left.connect(lambda: self.show_stage(self.take_apart))
        self.photos.print_asked.connect(self.filing.write_sheet)
        self.fasteners = Fasteners(self.session, self.figures, self.settings)
        self.fasteners.tray_asked.connect(self.write_tray)
        self.reach.card_asked.connect(self.filing.write_card)
        self.reach.step_asked.connect(self.to_step)
        self.pages: list[Page] = [
            self.prepare,
            self.opening,
            self.take_apart,
            self.fasteners,
            Parts(self.session, self.figures),
            self.reach,
            VerdictPage(self.session, self.figures),
            self.report,
        ]
        self._stale: set[Page] = set(self.pages)
        self.undoing = QUndoGroup(self)
        for stack in (self.session.stack, self.review.stack):
            self.undoing.addStack(stack)
        self.session.stack.setActive(True)
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
        self._last_chance = False
        self.pedal: PracticePedal | None = None
        self.take_apart.logged.connect(self.speak)
        app = QApplication.instance()
        if app is not None:
            app.installEventFilter(self.hands)
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
        self.asides: list[Page] = [self.review, self.photos, self.runs, self.large]
        for page in self.asides:
            self.stack.addWidget(page)
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
        self._states_timer = QTimer(self)
        self._states_timer.setSingleShot(True)
        self._states_timer.setInterval(STATES_MS)
        self._states_timer.timeout.connect(self._states)
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
        if self.stack.currentWidget() is self.large:
            self.margin.setVisible(self.drawer.isHidden())
        self.session.stack.setActive(True)
        self.stack.setCurrentIndex(n)
        self.rail.choose(n)
        if self.session.device_shown and self.pages[n] is not self.prepare:
            self.session.select("")
        self._refresh_page()
        self.pages[n].arrive()

    def show_aside(self, page: Page) -> None:
        """Show a page that belongs to Take apart; Escape leads back there."""
        self.stack.setCurrentWidget(page)
        (self.review.stack if page is self.review else self.session.stack).setActive(True)
        wide = page in (self.large, self._scans)
        self.margin.setVisible(not wide and self.drawer.isHidden())
        self.rail.choose(self.pages.index(self.take_apart))
        self._refresh_page()
        page.arrive()

    def show_photo(self, id: str) -> None:
        """Show a photo large, on Take apart."""
        self.show_stage(self.take_apart)
        self.session.select(self.session.study.photos[id].step)
        self.photo.show_one(id)
        self.photo.view.setFocus()

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

    def do(self, action: str) -> None:
        """Do one of the things that a pedal or a large key asks for."""
        match action:
            case "log":
                self.take_apart.say.log()
            case "pause":
                self.pause()
                self.speak("Paused." if self.session.clock.paused else "Going on.")
            case "photo":
                self.take_photo()
            case "repeat":
                if self.session.repeat():
                    self.speak(f"Step {len(self.session.study.steps)}, the same again.")
            case "undo":
                label = self.undoing.undoText()
                self.undoing.undo()
                self.speak(f"Taken back: {label}." if label else "Nothing to take back.")

    def take_photo(self) -> None:
        """Let the camera take a picture if it can be asked to, else take one in from a file."""
        folder = self.photo.watched.folder
        if folder is None:
            self.filing.add_photo()
        elif folder == data_folder() / "practice camera":
            self.practice_shot()
        else:
            self.tell(f"Press the camera's own button: every picture that comes into {folder} is taken in.")

    def speak(self, sentence: str) -> None:
        """Speak a sentence, if the user wants that."""
        if self.settings.get("speak", False):
            self.voice.speak(sentence)

    def speak_or_not(self) -> None:
        """Read back what is understood from now on, or be silent again."""
        wanted = not self.settings.get("speak", False)
        if wanted and not self.voice.program:
            self.tell("No speech program is on this machine; espeak-ng or speech-dispatcher would be used.")
            return
        self.settings.put("speak", wanted)
        self.tell("What is logged is read back from now on." if wanted else "Nothing is read back any more.")

    def show_pedal(self) -> None:
        """Put up the practice pedal, or put it away."""
        self.pedal = self.pedal or PracticePedal(self)
        self.pedal.setVisible(not self.pedal.isVisible())

    def fold_large(self) -> None:
        """Large type, or the page from before."""
        large = self.stack.currentWidget() is self.large
        self.show_stage(self.take_apart) if large else self.show_aside(self.large)

    def _told_to_bench(self, aside: Aside) -> None:
        say = self.take_apart.say
        say.edit.clear()
        match aside.kind:
            case "break":
                self.session.was_break(aside.seconds)
            case "pause" | "go on":
                if self.session.clock.paused != (aside.kind == "pause"):
                    self.do("pause")
            case _:
                self.do(aside.kind)

    def _screws_spoken_of(self) -> Joint | None:
        """The screw group selected, else the one logged last."""
        study, chosen = self.session.study, self.session.selection
        screws = [j for s in study.steps.values() for j in s.releases if study.joints[j].kind == "screw"]
        return study.joints.get(chosen) or (study.joints[screws[-1]] if screws else None)

    def _measured(self, said: str) -> None:
        """Enter what was measured into the screw group selected, else into the one logged last."""
        from oddbolt.core.fasteners.identify import entered  # takes long to load; wanted only here

        joint = self._screws_spoken_of()
        group = joint.id if joint else ""
        if self.session.attempt("measure the screws", entered, group, said):
            self.take_apart.say.done()
            self.session.select(group)
            self.tell(f"Entered for {self.session.study.name(group)}.")

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
        self.show_aside(self.review)

    @property
    def scans(self) -> ScanPage:
        """The page of the screw scan, made when it is first wanted: what it leans on takes long to load."""
        if self._scans is None:
            from oddbolt.desk.pages.scan import ScanPage

            self._scans = ScanPage(self.session, self.figures)
            self._scans.left.connect(self._leave_scan)
            self.asides.append(self._scans)
            self.stack.addWidget(self._scans)
        return self._scans

    def _leave_scan(self) -> None:
        self.show_stage(self.fasteners)

    def scan_photo(self) -> None:
        """Count and measure the screws on a photo the user picks."""
        path = self.filing.ask_open("Scan screws on a photo", "Photos (*.jpg *.jpeg *.png *.webp *.tif *.tiff)")
        if path is not None:
            self.scans.begin(path)
        if path is not None or (self._scans is not None and self._scans.scan is not None):
            self.show_aside(self.scans)

    def write_tray(self) -> None:
        """Write the tray plan shown, 1:1, into a file the user names."""
        from oddbolt.files.tray_sheet import write_tray

        plan = self.fasteners.plan
        if plan is None:
            self.tell("There is no tray plan yet; Fasteners shows one under “tray”.")
            return
        path = self.filing.ask_save("Write the tray plan", "tray.pdf", "PDF (*.pdf);;SVG (*.svg)")
        if path is not None and self.filing.attempt(lambda: write_tray(path, self.session.study, plan)):
            self.tell(f"{path} is written, 1:1. Print it without scaling; its bar is 20 mm.")

    def write_mat(self) -> None:
        """Write the gauge mat into a file the user names."""
        from oddbolt.core.vision.mat import mat
        from oddbolt.files.mat_sheet import write_mat

        path = self.filing.ask_save("Write the gauge mat", "gauge mat.pdf", "PDF (*.pdf);;SVG (*.svg);;PNG (*.png)")
        if path is not None and self.filing.attempt(lambda: write_mat(path, mat())):
            self.tell(f"{path} is written. Print it at 100 %, matt, in colour; its ruler must measure 100 mm.")

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

    def to_step(self, id: str) -> None:
        """Go to a step and its photo, on Take apart."""
        self.show_stage(self.take_apart)
        self.session.select(id)

    def write_strata(self) -> None:
        """Draw the strata, with the route shown, into a file the user names."""
        from oddbolt.desk.pages.reach_panels.strata_export import write_strata

        path = self.filing.ask_save("Draw the strata", "strata.svg", "SVG (*.svg);;PNG (*.png)")
        minutes = self.reach.units.checkedId() == 1
        if path is not None and self.filing.attempt(
            lambda: write_strata(path, self.session.study, minutes, self.reach.route)
        ):
            self.tell(f"{path} is written.")

    def in_strata(self, work: Callable[[], object]) -> None:
        """Do something that belongs to the strata, in sight of them."""
        self.show_stage(self.reach)
        work()

    def find_step(self) -> None:
        """Look for a step."""
        self.show_stage(self.take_apart)
        self.take_apart.look_for()

    def to_freeing(self) -> None:
        """Go to the step that freed what is selected."""
        if self.take_apart.work.go_to_freeing():
            self.show_stage(self.take_apart)
            self.take_apart.strip.setFocus()

    def watch_folder(self) -> None:
        """Take in every picture that comes into a folder the user picks."""
        folder = self.filing.ask_folder("Watch a folder for pictures")
        if folder is not None:
            self.photo.watch(folder)

    def practice_shot(self) -> None:
        """Let the practice camera take a picture; it drops it into its folder, which is watched."""
        folder = data_folder() / "practice camera"
        folder.mkdir(exist_ok=True)
        if self.photo.watched.folder != folder:
            self.photo.watch(folder)
        self.photo.watched.shots += 1
        QThreadPool.globalInstance().start(partial(practice_shot, folder, self.photo.watched.shots))

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
        self._states_timer.start()  # what needs every route worked out comes once the study is in sight
        self.show_stage(self.take_apart if self.session.study.steps else self.prepare)

    def _changed(self) -> None:
        self._selected()
        self._tick()
        if not self._states_timer.isActive():
            self._states()

    def _selected(self) -> None:
        self._caution_at = 0
        self._stale = {*self.pages, *self.asides}
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
        run = f"{study.runs[session.run_id].kind} run" if session.run_id in study.runs else "run"
        uncounted = f" +{count.groups_uncounted} groups" if count.groups_uncounted else ""
        readouts = [
            ("study", device if session.store else "no study open", "ink"),
            (f"{run}, paused" if clock.paused else run, duration(clock.run_s), "muted" if clock.paused else "ink"),
            ("this step", duration(clock.step_s), "muted" if clock.paused else "ink"),
            ("power", "isolated" if count.isolated else "live", "sea" if count.isolated else "copper"),
            ("screws", f"{count.screws_out}{uncounted} out · {count.screws_back} back", "ink"),
        ]
        if session.waiting:
            readouts.insert(1, ("file", "not written yet", "copper"))
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
        if self.stack.currentWidget() is self.large:
            self.large.tick(shown)

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
        self.voice.finish()
        if self._scans is not None:
            self._scans.stop()
        try:
            self.session.close()
        except FileError as error:
            if not self._last_chance:
                self._last_chance = True
                self.tell(f"{error} Closing again leaves a copy in {data_folder()}.")
                event.ignore()
                return
            if not self.filing.rescue():
                event.ignore()
                return
        self.figures.settle()
        self.figures.finish(2000)
        app = QApplication.instance()
        if app is not None:
            app.removeEventFilter(self.hands)
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
