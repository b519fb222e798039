"""An unknown part named, its marking kept, a connector said and a board mapped at a real window by keys, until the
masses add up. Run by test_real_window.py under a virtual screen."""

import json
import sys
from pathlib import Path

from attrs import evolve
from journey import Control, Key, press, to_front, type_into, until
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication

from oddbolt.core.components import balance, board_maps
from oddbolt.core.study import Device, Joint, Part, Photo, Step, Study, put_all
from oddbolt.desk.inspector.look_box import LookBox
from oddbolt.desk.inspector.marking_box import MarkingBox
from oddbolt.desk.pages.board_map import BoardMapPage
from oddbolt.desk.pages.parts import Parts
from oddbolt.desk.shell.window import open_window
from oddbolt.desk.state.settings import Settings
from oddbolt.files.store import Store

BOARD = Path(__file__).parents[1] / "boards" / "3100.jpg"


def device(digest):
    """A small device: a core with a board, a cell and a thing that nobody knows."""
    parts = [
        Part("P1", "Core", kind="module", mass_g=100.0),
        Part("P2", "Control board", "P1", mass_g=60.0),
        Part("P3", "Cell", "P1", mass_g=22.0),
        Part("P4", "Gizmo", "P1"),
    ]
    joint = Joint("J1", "connector", holds=("P3", "P2"))
    steps = [Step("S1", "disconnect", releases=("J1",)), Step("S2", "take out", takes_out=("P4",))]
    photo = Photo("H1", digest, "S2", "board", 760, 570)
    return put_all(Study(device=Device("Egg timer")), [*parts, joint, *steps, photo])


def sit(folder, path):
    """Everything by keys."""
    data = BOARD.read_bytes()
    Store.create(path, Study(), [data]).close()
    store, empty = Store.open(path)
    digest = store.add_picture(data)
    store.save(empty, evolve(device(digest), device=empty.device))
    store.close()
    window = open_window(Settings(folder), path)
    to_front(window)
    assert QApplication.platformName() == "xcb"
    press(window, Key.Key_5, Control)
    page = window.page(Parts)
    until(page.laid.hasFocus)
    press(page.laid, Key.Key_Space)
    until(lambda: window.session.selection == "P4")
    box = next(b for b in window.margin.findChildren(LookBox) if b.isVisible())
    box.edit.setFocus()
    type_into(box.edit, "disc, two wires, pulls steel, cone, 40 mm")
    press(box.edit, Key.Key_Return)
    until(lambda: window.session.study.parts["P4"].kind == "loudspeaker")
    marking = next(b for b in window.margin.findChildren(MarkingBox) if b.isVisible())
    marking.edit.setFocus()
    type_into(marking.edit, "8R 2W")
    press(marking.edit, Key.Key_Return)
    until(lambda: window.session.study.parts["P4"].markings == ("8R 2W",))
    window.session.select("J1")
    press(window, Key.Key_Space, Control)
    line = window.take_apart.say.edit
    until(line.hasFocus)
    type_into(line, "two ways, pitch 2.0, wires, spring tab, box, from above, plastic shell")
    press(line, Key.Key_Return)
    until(lambda: window.session.study.joints["J1"].pins == 2)
    assert window.session.study.joints["J1"].family == "wire plug 2.0 mm", window.session.study.joints["J1"]
    window.session.select("H1")
    press(window, Key.Key_B, Control | Qt.KeyboardModifier.AltModifier)
    board = window.page(BoardMapPage)
    until(board.view.hasFocus)
    press(window, Key.Key_O, Control | Qt.KeyboardModifier.AltModifier)
    until(lambda: bool(board.proposed))
    proposed = len(board.proposed)
    board.take_all_proposed()
    truth = json.loads(BOARD.with_suffix(".json").read_text())
    board.across.setFocus()
    type_into(board.across, f"{truth['across_mm']} mm")
    press(board.across, Key.Key_Return)
    bodies = board_maps.progress(window.session.study, "H1").bodies
    for name in ("Motor driver", "Processor"):
        board.view.setFocus()
        press(board.view, Key.Key_Space)
        press(board.view, Key.Key_Return)
        until(board.name.hasFocus)
        type_into(board.name, name)
        press(board.name, Key.Key_Return)
        until(lambda name=name: name in {p.name for p in window.session.study.parts.values()})
    assert board_maps.progress(window.session.study, "H1").named == 2
    assert bodies <= proposed
    found = balance(window.session.study).lines[0]
    assert "18.0 g are left for Gizmo" in found.sentence, found.sentence
    window.session.select("P4")
    mass = window.margin.fields["mass_g"][1]
    mass.setFocus()
    type_into(mass, "18 g")
    press(mass, Key.Key_Return)
    until(lambda: window.session.study.parts["P4"].mass_g == 18)
    assert balance(window.session.study).lines[0].adds_up
    window.close()


if __name__ == "__main__":
    application = QApplication([])
    sit(Path(sys.argv[1]), Path(sys.argv[2]))
    print("named, mapped and adding up")
