"""The pages, one entry each: stages in the order of the rail, whose numbers follow, and pages beside them."""

from __future__ import annotations

from oddbolt.desk.pages.board_map import BoardMapPage
from oddbolt.desk.pages.fasteners import Fasteners
from oddbolt.desk.pages.large import LargePage
from oddbolt.desk.pages.opening import Opening
from oddbolt.desk.pages.page import Page
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
from oddbolt.desk.pages.verdict import VerdictPage

STAGES: tuple[type[Page], ...] = (
    Prepare,
    Opening,
    TakeApart,
    Fasteners,
    Parts,
    ReachPage,
    VerdictPage,
    PutBack,
    ReportPage,
)
#: pages reached from Take apart; the scan page is made when it is first asked for, since it loads slowly
ASIDES: tuple[type[Page], ...] = (ReviewPage, PhotosPage, RunsPage, LargePage, BoardMapPage, ShelfPage, SpreadsheetPage)
