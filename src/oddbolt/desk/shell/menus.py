"""The menu bar, made from the table of actions."""

from __future__ import annotations

from functools import partial

from PySide6.QtGui import QAction, QActionGroup, QKeySequence
from PySide6.QtWidgets import QMainWindow, QMenu

from oddbolt.desk.state.actions import Action, Actions

MENUS = ("&File", "&Edit", "&Work", "&Steps", "&Photo", "&Bench", "&View", "&Help")


def build_menus(window: QMainWindow, actions: Actions) -> dict[str, QMenu]:
    """Fill the menu bar; returns every menu by its place, such as "File/Open recent"."""
    made: dict[str, QMenu] = {}
    for title in MENUS:
        place = title.replace("&", "")
        menu = made[place] = window.menuBar().addMenu(title)
        shown: dict[QAction, Action] = {}
        lamp = QActionGroup(window)
        group: int | None = None
        for action in actions.in_menu(place):
            if group is not None and action.group != group:
                menu.addSeparator()
            group = action.group
            under = menu
            if "/" in action.menu:
                sub = action.menu.replace("&", "")
                under = made[sub] = made.get(sub) or menu.addMenu(action.menu.partition("/")[2])
            shown[_add(under, actions, action, lamp)] = action
        menu.aboutToShow.connect(partial(_brought_up_to_date, shown))
        menu.aboutToHide.connect(partial(_all_enabled, shown))
    return made


def _add(menu: QMenu, actions: Actions, action: Action, lamp: QActionGroup) -> QAction:
    made = QAction(action.text, menu)
    if action.text:  # one without a text only stands for its submenu
        menu.addAction(made)
    if action.keys:
        made.setShortcut(QKeySequence(action.keys))
    if action.checked is not None:
        made.setCheckable(True)
        made.setChecked(action.checked())
        lamp.addAction(made)
    made.triggered.connect(lambda _=False: actions.run(action.name))
    return made


def _brought_up_to_date(shown: dict[QAction, Action]) -> None:
    for made, action in shown.items():
        made.setEnabled(not action.why_not())
        made.setToolTip(action.why_not())
        if action.label is not None:
            made.setText(action.label())
        if action.checked is not None:
            made.setChecked(action.checked())


def _all_enabled(shown: dict[QAction, Action]) -> None:
    """A key pressed later says why it cannot be done; a disabled one would be silent."""
    for made in shown:
        made.setEnabled(True)
