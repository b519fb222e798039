"""Day paper and night bench: colours, fonts and the style sheet made from them."""

from __future__ import annotations

from functools import cache
from importlib.resources import as_file, files
from weakref import WeakSet

from attrs import frozen
from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QColor, QFont, QFontDatabase, QGuiApplication, QPalette
from PySide6.QtWidgets import QApplication, QToolTip, QWidget
from shiboken6 import isValid


@frozen
class Theme:
    """One set of colours. ``depth`` runs from the surface down, ``bars`` are its tones for ribbons and bars on paper."""

    name: str
    paper: str
    card: str
    kraft: str
    ink: str
    muted: str
    rule: str
    #: lines of a control: 3 to 1 against paper and card
    edge: str
    copper: str
    sea: str
    mat: str
    warn: str
    depth: tuple[str, ...]
    bars: tuple[str, ...]
    bar_ink: str
    photo: str


DAY = Theme(
    "Day paper",
    "#F5F0E4",
    "#FBF8F0",
    "#E6DBC4",
    "#23272B",
    "#655E53",
    "#DDD3BF",
    "#8A8172",
    "#A64A26",
    "#24635A",
    "#DCE5DF",
    "#F3E1D0",
    ("#F3ECDD", "#EEE5D2", "#E6DBC5", "#DDD1BA", "#D2C6B0", "#C8BCA9", "#BDB3A4", "#B3ABA0", "#A9A39C"),
    ("#E6DBC5", "#DDD1BA", "#D2C6B0", "#C8BCA9", "#BDB3A4", "#B3ABA0"),
    "#23272B",
    "#33414B",
)
NIGHT = Theme(
    "Night bench",
    "#1D2023",
    "#26292D",
    "#16181B",
    "#E9E3D5",
    "#A79F90",
    "#3A3D40",
    "#7F796B",
    "#E58A5E",
    "#6FBFAF",
    "#25302D",
    "#3D2A20",
    ("#454440", "#403F3D", "#3A3A39", "#343536", "#2F3033", "#2A2B2F", "#25262B", "#202127", "#1B1C23"),
    ("#67614F", "#605B4C", "#59554A", "#534F47", "#4D4A45", "#474543"),
    "#F2EDE0",
    "#12171B",
)

current = DAY


def use(theme: Theme) -> None:
    """Make a theme the one that painters ask for, and dress the application in it.

    A style sheet is set on pages, not on the application: a page out of sight is dressed when it is shown, so that a
    change of theme costs only what is in sight.
    """
    global current  # noqa: PLW0603 - there is one lamp
    current = theme
    app = QApplication.instance()
    if isinstance(app, QApplication):
        app.setFont(text(10))
        app.setPalette(_palette(theme))
        QToolTip.setPalette(_palette(theme))
    for dresser in list(_dressers):
        dresser.dress()


def of_system() -> Theme:
    """The theme that suits the desktop's own."""
    return NIGHT if QGuiApplication.styleHints().colorScheme() == Qt.ColorScheme.Dark else DAY


class _Dresser(QObject):
    """Dresses one widget, and all within it, in the present theme when it is in sight."""

    def __init__(self, widget: QWidget) -> None:
        super().__init__(widget)
        self.widget, self.worn = widget, ""
        widget.installEventFilter(self)

    def dress(self, now: bool = False) -> None:
        """Set the style sheet, if it is another and the widget is in sight."""
        if isValid(self.widget) and self.worn != current.name and (now or self.widget.isVisible()):
            self.worn = current.name
            self.widget.setStyleSheet(_sheet(current))

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Show:
            self.dress(now=True)
        return False


_dressers: WeakSet[_Dresser] = WeakSet()


def dressed(*widgets: QWidget) -> None:
    """Keep these widgets, and all within them, in the present theme."""
    _dressers.update(_Dresser(widget) for widget in widgets)


def colour(name: str) -> QColor:
    """A colour of the present theme by its name."""
    return QColor(getattr(current, name))


def bar(part: float) -> QColor:
    """The tone of a bar at this part of its way, from 0 to 1."""
    tones = current.bars
    return QColor(tones[min(len(tones) - 1, int(part * len(tones)))])


def load_fonts() -> None:
    """Make the shipped fonts known."""
    for entry in files("oddbolt").joinpath("fonts").iterdir():
        if entry.name.endswith(".otf"):
            with as_file(entry) as path:
                QFontDatabase.addApplicationFont(str(path))


@cache
def text(size: float = 10, bold: bool = False) -> QFont:
    """The reading font; size in points at 96 dpi."""
    font = QFont("B612")
    font.setPixelSize(round(size * 1.3))
    font.setBold(bold)
    return font


def figures(size: float = 10, bold: bool = False) -> QFont:
    """The font of figures: the reading font, whose digits are all as wide and whose point and colon sit tight."""
    return text(size, bold)


def _palette(t: Theme) -> QPalette:
    palette = QPalette()
    role = QPalette.ColorRole
    for which, name in (
        (role.Window, t.paper),
        (role.Base, t.card),
        (role.AlternateBase, t.paper),
        (role.Text, t.ink),
        (role.WindowText, t.ink),
        (role.Button, t.card),
        (role.ButtonText, t.ink),
        (role.Highlight, t.copper),
        (role.HighlightedText, t.card),
        (role.ToolTipBase, t.card),
        (role.ToolTipText, t.ink),
        (role.PlaceholderText, t.muted),
        (role.Link, t.sea),
        (role.LinkVisited, t.sea),
    ):
        palette.setColor(which, QColor(name))
    return palette


def _sheet(t: Theme) -> str:
    sign = files("oddbolt.desk.widgets").joinpath("signs", f"down-{'night' if t is NIGHT else 'day'}.svg")
    return f"""
    QMainWindow, QWidget#page, QWidget#paper {{ background: {t.paper}; }}
    QMenuBar {{ background: {t.kraft}; padding: 1px 6px; }} QMenuBar::item {{ padding: 3px 9px; background: transparent; }}
    QMenuBar::item:selected, QMenu::item:selected {{ background: {t.copper}; color: {t.card}; }}
    QMenu {{ background: {t.card}; border: 1px solid {t.rule}; padding: 4px 0; }} QMenu::item {{ padding: 4px 26px 4px 18px; }} QMenu::item:disabled {{ color: {t.muted}; }}
    QMenu::separator {{ height: 1px; background: {t.rule}; margin: 4px 10px; }}
    QLabel#title {{ font-size: 21px; font-weight: bold; }} QLabel#quiet, QLabel#caption {{ color: {t.muted}; }} QLabel#caption {{ font-size: 11px; }}
    QLabel#head {{ font-weight: bold; }} QLabel#copper {{ color: {t.copper}; }} QLabel#sea {{ color: {t.sea}; }}
    QLineEdit, QPlainTextEdit#field {{ background: transparent; border: none; border-bottom: 1px solid {t.edge}; padding: 2px 1px; selection-background-color: {t.copper}; selection-color: {t.card}; placeholder-text-color: {t.muted}; }}
    QComboBox {{ background: {t.card}; border: 1px solid {t.edge}; padding: 2px 4px 2px 6px; selection-background-color: {t.copper}; selection-color: {t.card}; }}
    QLineEdit:focus, QPlainTextEdit#field:focus {{ border-bottom: 2px solid {t.copper}; background: {t.card}; }} QComboBox:focus {{ border: 2px solid {t.copper}; padding: 1px 3px 1px 5px; }}
    QLineEdit:read-only {{ color: {t.muted}; }}
    QComboBox::drop-down {{ border: none; width: 18px; }} QComboBox::down-arrow {{ image: url({sign}); width: 10px; height: 10px; }} QComboBox QAbstractItemView {{ background: {t.card}; border: 1px solid {t.rule}; selection-background-color: {t.copper}; selection-color: {t.card}; }}
    QCheckBox::indicator {{ width: 13px; height: 13px; border: 1px solid {t.muted}; background: {t.card}; }} QCheckBox::indicator:checked {{ background: {t.sea}; border-color: {t.sea}; }}
    QCheckBox:focus {{ color: {t.copper}; }} QCheckBox::indicator:focus {{ border: 2px solid {t.copper}; }}
    QPushButton {{ background: {t.card}; border: 1px solid {t.edge}; border-bottom: 2px solid {t.edge}; padding: 5px 12px; }}
    QPushButton:hover {{ border-color: {t.copper}; }} QPushButton:focus {{ border: 2px solid {t.copper}; padding: 4px 11px 5px; }}
    QPushButton:checked {{ color: {t.copper}; border-bottom: 2px solid {t.copper}; font-weight: bold; }} QPushButton:disabled {{ color: {t.muted}; }}
    QPushButton#link {{ background: transparent; border: none; color: {t.sea}; text-align: left; padding: 2px 0; }} QPushButton#link:focus {{ color: {t.copper}; border: 2px solid {t.copper}; padding: 0 0 0 2px; }}
    QTableView {{ background: {t.paper}; border: none; gridline-color: {t.rule}; selection-background-color: {t.warn}; selection-color: {t.ink}; alternate-background-color: {t.paper}; }}
    QTableView:focus, QTextBrowser:focus, QTextBrowser#report:focus, QScrollArea:focus, QScrollArea#margin:focus, QPlainTextEdit:focus, QPlainTextEdit#sayedit:focus {{ border: 2px solid {t.copper}; }}
    QTableView::item {{ border-bottom: 1px solid {t.rule}; padding: 2px 6px; }} QTableView::item:selected {{ background: {t.warn}; color: {t.ink}; }}
    QHeaderView {{ background: {t.paper}; }} QHeaderView::section {{ background: {t.paper}; color: {t.muted}; border: none; border-bottom: 2px solid {t.copper}; padding: 4px 6px; text-align: left; }}
    QScrollBar:vertical {{ background: transparent; width: 9px; padding-left: 2px; }} QScrollBar:horizontal {{ background: transparent; height: 9px; padding-top: 2px; }}
    QScrollBar::handle {{ background: {t.edge}; min-height: 24px; min-width: 24px; border-radius: 0; }} QScrollBar::handle:hover {{ background: {t.copper}; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }} QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
    QScrollArea, QTextBrowser {{ background: {t.paper}; border: none; }} QTextBrowser#report {{ background: {t.card}; border: 1px solid {t.rule}; padding: 18px; }}
    QToolTip {{ background: {t.card}; color: {t.ink}; border: 1px solid {t.rule}; }}
    QLabel#margintitle {{ font-size: 18px; font-weight: bold; }} QLabel#mark {{ font-size: 34px; font-weight: bold; color: {t.sea}; }}
    QScrollArea#pieces, QScrollArea#pieces > QWidget > QWidget {{ background: {t.card}; }} QScrollArea#margin {{ border: none; }}
    QLineEdit#piece, QLineEdit#missing {{ font-weight: bold; border-bottom: 2px solid {t.sea}; }} QLineEdit#missing {{ border-bottom: 2px solid {t.copper}; }}
    QLineEdit#target {{ background: {t.card}; border: 1px solid {t.edge}; padding: 5px 9px; font-weight: bold; }}
    QLineEdit#target:focus {{ border: 2px solid {t.copper}; padding: 4px 8px; }}
    QPushButton#word {{ background: transparent; border: none; border-bottom: 2px solid transparent; padding: 3px 2px; }}
    QPushButton#word:checked {{ color: {t.copper}; border-bottom: 2px solid {t.copper}; font-weight: bold; }} QPushButton#word:focus {{ color: {t.copper}; border: 2px solid {t.copper}; padding: 1px 0 3px; }}
    QFrame#say {{ background: {t.card}; border: 1px solid {t.rule}; border-top: 2px solid {t.copper}; }}
    QPlainTextEdit#sayedit {{ background: transparent; border: none; font-size: 20px; }}
    QFrame#notice {{ background: {t.warn}; border-top: 1px solid {t.copper}; }} QFrame#notice QLabel {{ color: {t.ink}; }}
    """


#: On photos the same in both themes: pictures do not change with the lamp.
DAY_CARD, DAY_INK, SHADE = QColor(DAY.card), QColor(DAY.ink), QColor(28, 33, 38, 225)
