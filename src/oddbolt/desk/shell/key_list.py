"""All actions with their keys in a window of their own that can be searched, and as the table of the guide."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QLineEdit, QVBoxLayout, QWidget

from oddbolt.desk.shell.menus import MENUS
from oddbolt.desk.state.actions import Action, Actions
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.tables import Rows, Table


def rows_of(actions: Actions) -> list[tuple[str, str, str]]:
    """Menu, action and key of every action, in the order of the menus."""
    found = []
    for menu in MENUS:
        place = menu.replace("&", "")
        found += [(a.menu.replace("&", ""), plain(a), a.keys) for a in actions.in_menu(place) if a.text]
    return found


def plain(action: Action) -> str:
    """An action's words without the mark of its letter and without dots."""
    return action.text.replace("&", "").removesuffix(" …")


def markdown(actions: Actions) -> str:
    """The table of the guide."""
    lines = ["| menu | action | key |", "|---|---|---|"]
    lines += [f"| {menu} | {words} | {f'`{keys}`' if keys else ''} |" for menu, words, keys in rows_of(actions)]
    return "\n".join(lines) + "\n"


class KeyList(QDialog):
    """Type to find an action; Return does the one found first."""

    def __init__(self, parent: QWidget, actions: Actions) -> None:
        super().__init__(parent)
        self.actions_ = actions
        self.setWindowTitle("Keys")
        self.resize(620, 620)
        theme.dressed(self)
        self.finder = QLineEdit()
        self.finder.setAccessibleDescription("Shows only the actions that hold these words; Enter does the first.")
        self.finder.setPlaceholderText("find an action or a key …")
        self.finder.setAccessibleName("Find an action or a key")
        self.rows = Rows(("menu", "action", "key"))
        self.table = Table(self.rows, "Actions and keys")
        self.table.widths(150, 270, 140)
        self.finder.textChanged.connect(self.table.filter)
        self.finder.returnPressed.connect(self._do_first)
        self.table.activated.connect(lambda index: self._do(index.row()))
        box = QVBoxLayout(self)
        box.addWidget(self.finder)
        box.addWidget(self.table, 1)

    def open(self) -> None:
        """Show the list, with all in it."""
        named = [a for menu in MENUS for a in self.actions_.in_menu(menu.replace("&", "")) if a.text]
        cells = [[(t, t.casefold()) for t in row] for row in rows_of(self.actions_)]
        self.table.refresh([a.name for a in named], cells, set(), "")
        self.finder.clear()
        self.show()
        self.raise_()
        self.finder.setFocus(Qt.FocusReason.OtherFocusReason)

    def _do_first(self) -> None:
        if self.table.proxy.rowCount():
            self._do(0)

    def _do(self, row: int) -> None:
        name = self.rows.ids[self.table.proxy.mapToSource(self.table.proxy.index(row, 0)).row()]
        self.hide()
        self.actions_.run(name)
