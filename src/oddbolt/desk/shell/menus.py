"""The menus: every action by its name, with its key."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtGui import QAction, QActionGroup, QKeySequence
from PySide6.QtWidgets import QMenu

from oddbolt.core.bench.waits import usual_waits
from oddbolt.core.study.formatting import duration
from oddbolt.desk.pages.reach import BELOW
from oddbolt.desk.painters.strata import CLOSER
from oddbolt.desk.state.timers import HEATER
from oddbolt.desk.widgets import theme

if TYPE_CHECKING:
    from oddbolt.desk.shell.window import Window

RUNS = (("discovery", "Begin a discovery run"), ("timed", "Begin a timed run"), ("put back", "Begin a put-back run"))


def build_menus(window: Window) -> None:
    """Fill the menu bar: every action with its key."""
    bar, filing = window.menuBar(), window.filing
    file = bar.addMenu("&File")
    _act(file, "&New study …", "Ctrl+N", filing.new)
    _act(file, "&Open a study …", "Ctrl+O", filing.open)
    recent = file.addMenu("Open &recent")
    recent.aboutToShow.connect(lambda: filing.fill_recent(recent))
    _act(file, "Open the &demo study", "", filing.open_demo)
    file.addSeparator()
    _act(file, "&Save a copy …", "Ctrl+Shift+S", filing.save_copy)
    _act(file, "Log a &narration …", "Ctrl+L", filing.log_narration)
    _act(file, "Re&view a narration …", "Ctrl+Shift+R", window.review_narration)
    _act(file, "&Import a JSON …", "", filing.import_json)
    _act(file, "E&xport as JSON or CSV …", "Ctrl+Shift+E", filing.export)
    _act(file, "Write the r&eport …", "Ctrl+E", filing.write_report)
    _act(file, "Write the &kit list …", "Ctrl+Shift+K", window.write_kit)
    _act(file, "&Draw the edge plan 1:1 …", "Ctrl+Shift+D", window.write_edge)
    _act(file, "Draw the s&trata …", "Ctrl+Shift+T", window.write_strata)
    file.addSeparator()
    _act(file, "&Quit", "Ctrl+Q", window.close)
    edit = bar.addMenu("&Edit")
    undo = window.undoing.createUndoAction(window, "Undo:")
    undo.setShortcut(QKeySequence("Ctrl+Z"))
    redo = window.undoing.createRedoAction(window, "Redo:")
    redo.setShortcut(QKeySequence("Ctrl+Shift+Z"))
    edit.addActions([undo, redo])
    edit.addSeparator()
    _act(edit, "Add a &part", "Ctrl+P", window.add_part)
    _act(edit, "Add a &joint", "Ctrl+J", window.add_joint)
    _act(edit, "Add a &step", "Ctrl+K", window.add_step)
    _act(edit, "&Remove what is selected", "Ctrl+Del", window.margin.remove)
    edit.addSeparator()
    _act(edit, "The &device", "Ctrl+D", window.session.show_device)
    _act(edit, "What is selected, in the &margin", "F2", window.to_margin)
    _act(edit, "Nothing selected: back to &now", "Ctrl+Return", lambda: window.session.select(""))
    work = bar.addMenu("&Work")
    _act(work, "&Say what you did", "Ctrl+Space", window.to_say_line)
    _act(work, "&Pause or go on", "F8", window.pause)
    _act(work, "Choose a part to &reach", "Ctrl+T", window.to_target)
    work.addSeparator()
    for kind, text in RUNS:
        _act(work, text, "", partial(window.begin_run, kind))
    _act(work, "That was a &break", "Ctrl+B", window.session.was_break)
    _act(work, "The last step, the same a&gain", "Ctrl+Y", partial(window.do, "repeat"))
    _act(work, "&Large type and large keys", "F10", window.fold_large)
    _act(work, "Rea&d back what is understood, or not", "", window.speak_or_not)
    _act(work, "The practice p&edal", "", window.show_pedal)
    _act(work, "&Runs and clocks", "Ctrl+R", partial(window.show_aside, window.runs))
    _build_steps_menu(window)
    _build_photo_menu(window)
    bench, opening = bar.addMenu("&Bench"), window.opening
    wait = bench.addMenu("Begin a &wait")
    for usual in usual_waits().values():
        if usual.kind != HEATER:
            words = f"{usual.label.capitalize()}, {duration(usual.most_s)}"
            _act(wait, words, "", partial(window.begin_wait, usual.kind))
    _act(bench, "Begin the usual wait, or &end the one that runs", "Ctrl+W", window.wait)
    _act(bench, "&Heater on or off", "Ctrl+H", partial(window.on_opening, opening.start_or_end_heater))
    bench.addSeparator()
    _act(bench, "New edge &plan", "Ctrl+Shift+P", partial(window.on_opening, opening.new_plan))
    _act(bench, "Take an &outline from a drawing …", "Ctrl+Shift+O", window.take_outline)
    _act(bench, "Lay the usual &stretches along the edge", "", partial(window.on_opening, opening.use_stretches))
    _act(bench, "Spl&it the chosen stretch", "", opening.split_stretch)
    _act(bench, "Add a &keep-out", "Ctrl+Shift+J", partial(window.on_opening, opening.add_keepout))
    bench.addSeparator()
    _act(bench, "New war&m-up", "Ctrl+Shift+W", partial(window.on_opening, opening.new_warmup))
    _act(bench, "Add a &layer", "Ctrl+Shift+L", partial(window.on_opening, opening.add_layer))
    bench.addSeparator()
    _act(bench, "The s&ums drawer", "F7", window.fold_drawer)
    _act(bench, "The next &caution", "F5", window.next_caution)
    view = bar.addMenu("&View")
    for n, page in enumerate(window.pages):
        _act(view, page.title, f"Ctrl+{page.number}", partial(window.show_page, n))
    view.addSeparator()
    strata = window.reach.strata
    for n, word in enumerate(BELOW):
        _act(view, f"Reach: {word}", f"Ctrl+Shift+{n + 1}", partial(window.in_strata, partial(window.reach.turn_to, n)))
    _act(view, "Strata: go &closer", "Ctrl+=", partial(window.in_strata, partial(strata.closer, CLOSER)))
    _act(view, "Strata: go &back", "Ctrl+-", partial(window.in_strata, partial(strata.closer, 1 / CLOSER)))
    _act(view, "Strata: the &whole device", "Ctrl+0", partial(window.in_strata, strata.whole))
    _act(view, "Strata: f&old or open the module", "Ctrl+.", partial(window.in_strata, strata.fold_chosen))
    view.addSeparator()
    _act(view, "Fold the &margin away", "F4", window.fold_margin)
    _act(view, "Put the &notice away", "F6", window.notice.hide)
    lamp = QActionGroup(window)
    for one, keys in ((theme.DAY, "F11"), (theme.NIGHT, "F12")):
        action = _act(view, one.name, keys, partial(window.use_theme, one))
        action.setCheckable(True)
        action.setChecked(one is theme.current)
        lamp.addAction(action)
    help_ = bar.addMenu("&Help")
    _act(help_, "&Keys", "F1", window.show_keys)
    _act(help_, "&About Odd Bolt", "", window.show_about)


def _build_steps_menu(window: Window) -> None:
    steps, work = window.menuBar().addMenu("&Steps"), window.take_apart.work
    _act(steps, "&Find a step", "Ctrl+F", window.find_step)
    _act(steps, "&Go to the step that freed it", "Ctrl+G", window.to_freeing)
    steps.addSeparator()
    _act(steps, "Carry it &earlier", "Ctrl+Shift+Left", partial(work.carry, -1))
    _act(steps, "Carry it &later", "Ctrl+Shift+Right", partial(work.carry, 1))
    _act(steps, "&Split off the last thing it does", "Ctrl+Shift+B", work.split)
    _act(steps, "&Join it with the next, or join those chosen", "Ctrl+Shift+U", work.join)
    _act(steps, "The s&ame again, on other things", "Ctrl+Shift+N", work.same_again)
    _act(steps, "&Another way to the same", "Ctrl+Shift+Y", work.another_way)
    _act(steps, "&Remove all that are chosen", "", work.remove)


def _build_photo_menu(window: Window) -> None:
    photo, place = window.menuBar().addMenu("&Photo"), window.photo
    _act(photo, "T&ake a photo, or add one …", "F9", window.take_photo)
    _act(photo, "Add photos from &files …", "", window.filing.add_photo)
    _act(photo, "&Paste a photo", "Ctrl+Shift+V", place.paste)
    _act(photo, "&Watch a folder for pictures …", "Ctrl+Shift+F", window.watch_folder)
    _act(photo, "Watch no folder any more", "", partial(place.watch, None))
    _act(photo, "The practice &camera takes a picture", "Ctrl+Shift+G", window.practice_shot)
    photo.addSeparator()
    _act(photo, "The &next photo", "Ctrl+PgDown", partial(place.step, 1))
    _act(photo, "The photo before", "Ctrl+PgUp", partial(place.step, -1))
    _act(photo, "&Before the step beside after it", "F3", place.show_pair)
    _act(photo, "All photos: the contact &sheet", "Ctrl+Shift+H", partial(window.show_aside, window.photos))
    _act(photo, "Write the contact sheet …", "", window.filing.write_sheet)
    photo.addSeparator()
    _act(photo, "Turn it to the &right", "Ctrl+]", partial(place.turn, 90))
    _act(photo, "Turn it to the &left", "Ctrl+[", partial(place.turn, 270))
    _act(photo, "C&ut off what is around it", "Ctrl+Shift+X", place.begin_cut)
    _act(photo, "Sh&ow all of it again", "", place.whole)
    for role, words in (("before", "It shows what was before the step"), ("after", "It shows what was after the step")):
        _act(photo, words, "", partial(place.mark, role))
    _act(photo, "It shows neither", "", partial(place.mark, ""))
    photo.addSeparator()
    _act(photo, "&Scan screws on a photo …", "Ctrl+Shift+M", window.scan_photo)
    _act(photo, "Write the &gauge mat …", "", window.write_mat)
    photo.addSeparator()
    _act(photo, "Add a call&out", "Ctrl+Shift+A", place.add_callout)
    _act(photo, "Letter the callouts in rea&ding order", "", place.letters)
    _act(photo, "Number the holes in the order to ti&ghten", "", place.tighten)
    _act(photo, "Its words, in the &margin", "", lambda: window.session.select(place.id))
    _act(photo, "&Take the photo out", "", place.remove)


def _act(menu: QMenu, text: str, keys: str, run: Callable[[], object]) -> QAction:
    action = menu.addAction(text)
    if keys:
        action.setShortcut(QKeySequence(keys))
    action.triggered.connect(lambda _=False: run())
    return action
