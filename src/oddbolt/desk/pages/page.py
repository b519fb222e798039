"""What every page has: a title, a line beside it, its actions, and a refresh when it is in sight."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import TYPE_CHECKING

from attrs import define
from PySide6.QtCore import QPoint, Signal
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QBoxLayout, QButtonGroup, QHBoxLayout, QVBoxLayout, QWidget

from oddbolt.desk.pages.bench_panels.say_line import SayLine
from oddbolt.desk.photos.importer import PhotoImporter
from oddbolt.desk.state.actions import Action, Actions
from oddbolt.desk.state.figures import Figures
from oddbolt.desk.state.pedals import Pedals
from oddbolt.desk.state.session import Session
from oddbolt.desk.state.settings import Settings
from oddbolt.desk.state.timers import Timers
from oddbolt.desk.widgets.inputs import Elided, word_group
from oddbolt.desk.widgets.labels import Label

if TYPE_CHECKING:
    from PySide6.QtPrintSupport import QPrinter


@define(eq=False)
class Desk:
    """What the pages share."""

    session: Session
    figures: Figures
    settings: Settings
    timers: Timers
    importer: PhotoImporter
    pedals: Pedals
    actions: Actions
    say: SayLine


class Page(QWidget):
    """A stage of the work, or a page that belongs to one. ``wanted`` asks to be shown, ``left`` to go back."""

    title = ""
    about = ""
    #: the stage that a page beside the stages belongs to
    home = "Take apart"
    #: whether the margin gives its room to the page
    wide = False
    wanted = Signal()
    left = Signal()

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk, self.session, self.figures = desk, desk.session, desk.figures
        self.setObjectName("page")
        self.box = QVBoxLayout(self)
        self.box.setContentsMargins(14, 8, 14, 10)
        self.box.setSpacing(6)
        self.head = QHBoxLayout()
        self.head.setSpacing(12)
        name = Label(self.title)
        name.setObjectName("title")
        self.beside = Elided(self.about)
        self.beside.setObjectName("quiet")
        self.beside.setContentsMargins(0, 6, 0, 0)
        self.head.addWidget(name)
        self.head.addWidget(self.beside, 1)
        self.box.addLayout(self.head)

    def actions_here(self) -> tuple[Action, ...]:
        """The actions that belong to this page."""
        return ()

    def refresh(self) -> None:
        """Show the study as it is now."""

    def state(self) -> str:
        """The small line under the stage's name on the rail."""
        return ""

    def arrive(self) -> None:
        """The page came into sight: put the focus where the work is."""

    def tick(self, caution: str) -> None:
        """Twice a second: show clocks as they stand, and the caution on the sill."""

    def print_on(self, printer: QPrinter) -> None:
        """Print what is on the page, as wide as the paper."""
        painter = QPainter(printer)
        paper = painter.viewport()
        scale = min(paper.width() / self.width(), paper.height() / self.height())
        painter.scale(scale, scale)
        self.render(painter, QPoint(0, 0))
        painter.end()

    def in_sight(self, work: Callable[[], object]) -> Callable[[], None]:
        """``work``, with this page shown first."""

        def done() -> None:
            self.wanted.emit()
            work()

        return done

    def words(self, line: QBoxLayout, choices: Iterable[tuple[int, str]], chosen: int = 0) -> QButtonGroup:
        """Add words to a line of which one is chosen at a time; the group knows them by their numbers."""
        return word_group(self, line, choices, chosen)
