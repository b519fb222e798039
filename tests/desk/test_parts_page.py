"""Parts laid out and walked by keys, what is this, which connector, and a board mapped."""

import json
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from oddbolt.core.study import Part, Photo, change, new_id, put
from oddbolt.desk.inspector.look_box import LookBox
from oddbolt.desk.inspector.marking_box import MarkingBox
from oddbolt.desk.pages.board_map import BoardMapPage
from oddbolt.desk.pages.parts import BILL, HEADS, LAID, TABLE, Parts
from oddbolt.desk.pages.parts_panels.laid_out_export import write_laid_out

KEY, MOD = Qt.Key, Qt.KeyboardModifier
BOARD = Path(__file__).parents[1] / "boards" / "3100.jpg"


@pytest.fixture
def parts(window):
    page = window.page(Parts)
    window.show_stage(page)
    return page


def test_the_table_is_walked_by_keys_and_by_the_mouse(qtbot, window, parts):
    window.session.select("P29")
    laid = parts.laid
    for key in (KEY.Key_Right, KEY.Key_Down, KEY.Key_Left, KEY.Key_Up):
        before = window.session.selection
        qtbot.keyClick(laid, key)
        assert window.session.selection in window.session.study.parts
        moved = laid.item_box(window.session.selection).center() - laid.item_box(before).center()
        if window.session.selection != before:
            right = {KEY.Key_Right: moved.x() > 0, KEY.Key_Left: moved.x() < 0, KEY.Key_Down: moved.y() > 0}
            assert right.get(key, moved.y() < 0)
    seen = {laid.chosen}
    for id in list(window.session.study.parts):
        box = laid.item_box(id)
        qtbot.mouseClick(laid, Qt.MouseButton.LeftButton, pos=QPoint(box.center().x(), box.top() + 2))
        seen.add(window.session.selection)
    assert len(seen) > 45
    assert all(laid.words_of(id)[1] for id in laid.item_ids)


def test_what_nobody_named_is_told_counted_and_found_by_one_key(qtbot, window, parts):
    study = change(window.session.study, "P45", kind="", name="Gizmo")
    window.session.edit(study, "x")
    qtbot.waitUntil(lambda: "1 not identified" in parts.beside.text())
    assert parts.state() == "1 unknown"
    qtbot.keyClick(parts.laid, KEY.Key_Space)
    assert window.session.selection == "P45"
    parts.next_unknown()
    assert window.session.selection == "P45"
    parts.state_box.setCurrentText("unknown")
    parts.refresh()
    assert [piece.id for piece in parts.laid.table.pieces] == ["P45"]


def test_the_three_views_show_the_same_parts(qtbot, window, parts):
    parts.finder.setText("seal")
    laid = {piece.id for piece in parts.laid.table.pieces}
    parts.show_view(TABLE)
    assert set(parts.table.rows.ids) == laid
    assert len(laid) >= 5
    parts.show_view(BILL)
    assert not parts.choices.isVisible()
    window.session.select("P29")
    qtbot.waitUntil(lambda: parts.bill.rows.ids[parts.bill.proxy.mapToSource(parts.bill.currentIndex()).row()] == "P29")
    parts.show_view(LAID)
    parts.finder.clear()
    parts.scales.button(4).click()
    assert parts.pane.verticalScrollBar().maximum() > 0
    wide = parts.laid.body(next(p for p in parts.laid.table.pieces if p.id == "P29")).width()
    assert wide == pytest.approx(60 * 4 * parts._px_per_mm())


def test_columns_are_chosen_and_kept(window, parts):
    parts.show_view(TABLE)
    column = HEADS.index("maker")
    assert parts.table.isColumnHidden(column)
    parts._column_turned("maker")(True)
    assert not parts.table.isColumnHidden(column)
    assert "maker" in parts.settings.get("part columns", [])
    parts._column_turned("maker")(False)
    assert parts.table.isColumnHidden(column)


def test_the_device_laid_out_is_written_as_a_picture(window, tmp_path):
    for name in ("a.svg", "a.png"):
        write_laid_out(tmp_path / name, window.session.study)
        assert (tmp_path / name).stat().st_size > 5000
    assert "Pressure" in (tmp_path / "a.svg").read_text()


def box_of(window, example):
    boxes = [b for b in window.margin.findChildren(LookBox) if b.isVisible()]
    return next(b for b in boxes if b.edit.placeholderText().startswith(example))


def test_an_unknown_part_is_named_by_digit_keys(qtbot, window, parts):
    study = window.session.study
    window.session.edit(put(study, Part(new_id(study, "P"), "Gizmo", "P15")), "x")
    gizmo = list(window.session.study.parts)[-1]
    window.session.select(gizmo)
    box = box_of(window, "disc")
    assert "?" in box.told.text()
    qtbot.keyClicks(box.edit, "disc, two wires, ")
    assert "loudspeaker" in box.told.text()
    asked = box.ranked.next
    qtbot.keyClick(box.edit, "0")
    assert f"{asked} ?" in box.edit.text()
    assert asked in box.seen.skipped
    while box.ranked.candidates[0].id != "loudspeaker" or box.ranked.candidates[0].probability < 0.7:
        look = box.ranked.next
        answers = box.asked.guide.asked(box.ranked)
        kind = next(k for k in box.asked.guide.kinds if k.id == "loudspeaker")
        usual = kind.answers.get(look, box.asked.guide.looks[look].usual)
        if not answers:
            qtbot.keyClicks(box.edit, "40 mm, ")
            continue
        best = max(answers, key=lambda a: usual.get(a, 0.0))
        qtbot.keyClick(box.edit, str(answers.index(best) + 1))
        assert look in box.seen.known
    qtbot.keyClick(box.edit, KEY.Key_Return)
    assert window.session.study.parts[gizmo].kind == "loudspeaker"
    qtbot.waitUntil(lambda: not [b for b in window.margin.findChildren(LookBox) if b.isVisible()])
    window.session.stack.undo()
    assert window.session.study.parts[gizmo].kind == ""


def test_contradictions_stay_in_the_line(qtbot, window, parts):
    window.session.edit(change(window.session.study, "P45", kind="", name="Gizmo"), "x")
    window.session.select("P45")
    box = box_of(window, "disc")
    qtbot.keyClicks(box.edit, "disc, block")
    assert "answer the same question" in box.told.text()
    box.edit.clear()
    qtbot.keyClicks(box.edit, "flat, frobnicated")
    assert "Not understood: frobnicated" in box.told.text()
    qtbot.keyClick(box.edit, KEY.Key_Return)
    assert "Not certain enough" in box.told.text()
    assert box.edit.text()
    assert window.session.study.parts["P45"].kind == ""
    second = box.ranked.candidates[1].id
    qtbot.keyClick(box.edit, KEY.Key_Down)
    assert box.chosen == 2
    qtbot.keyClick(box.edit, KEY.Key_Return)
    assert window.session.study.parts["P45"].kind == second


def test_a_connector_is_said_and_a_miscount_is_told(qtbot, window, say):
    study = change(window.session.study, "J30", family="", latch="", pins=None, pitch_mm=None)
    window.session.edit(study, "x")
    window.session.select("J30")
    box = box_of(window, "ten ways")
    qtbot.keyClicks(box.edit, "forty ways, half a millimetre, flip lid, 9 mm wide, one row")
    assert "Count again" in box.told.text()
    qtbot.keyClick(box.edit, KEY.Key_Return)
    assert window.session.study.joints["J30"].pins is None
    say("ten ways, half a millimetre, flip lid")
    joint = window.session.study.joints["J30"]
    assert (joint.family, joint.pins, joint.pitch_mm, joint.latch) == ("flex socket, flip lid", 10, 0.5, "flip-lock")


def test_what_is_read_from_a_photo_is_offered_and_kept_only_with_enter(qtbot, window, monkeypatch):
    from oddbolt.files import ocr

    lines = (ocr.ReadLine("XK 55", 80.0), ocr.ReadLine("2301", 91.0))
    monkeypatch.setattr(ocr, "read_marking", lambda data, corners: lines)
    window.session.select("P21")
    box = next(b for b in window.margin.findChildren(MarkingBox) if b.isVisible())
    box.from_photo.click()
    qtbot.waitUntil(lambda: box.edit.text() == "XK 55")
    assert "XK 55" not in window.session.study.parts["P21"].markings
    qtbot.keyClick(box.edit, KEY.Key_Return)
    assert window.session.study.parts["P21"].markings[-1] == "XK 55"


# -- the board map -------------------------------------------------------------------------------------------


@pytest.fixture
def board(qtbot, window):
    """A board map on a ray-traced board that nobody outlined."""
    data = BOARD.read_bytes()
    digest = window.session.add_picture(data)
    study = window.session.study
    id = new_id(study, "H")
    window.session.edit(put(study, Photo(id, digest, "", "board", 760, 570)), "x")
    page = window.page(BoardMapPage)
    window.session.select(id)
    page.map_shown()
    assert page.photo == id
    return page


def test_outlines_are_proposed_taken_named_and_measured(qtbot, window, board):
    board.propose()
    qtbot.waitUntil(lambda: bool(board.proposed), timeout=20_000)
    count = len(board.proposed)
    qtbot.keyClick(board.view, KEY.Key_Return)
    assert len(window.session.study.regions) == 22 + 1  # with the board's edge
    assert len(board.proposed) == count - 1
    qtbot.keyClick(board.view, KEY.Key_Delete)
    assert len(board.proposed) == count - 2
    board.take_all.click()
    assert not board.proposed
    here = window.session.selection
    assert here in window.session.study.regions
    truth = json.loads(BOARD.with_suffix(".json").read_text())
    qtbot.keyClicks(board.across, f"{truth['across_mm']} mm")
    qtbot.keyClick(board.across, KEY.Key_Return)
    body = next(r for r in window.session.study.regions.values() if r.photo == board.photo and r.kind == "part")
    window.session.select(body.id)
    board.refresh()
    qtbot.keyClick(board.view, KEY.Key_Return)
    assert board.name.hasFocus() or not board.isActiveWindow()
    board.name.clear()
    qtbot.keyClicks(board.name, "Fast processor")
    qtbot.keyClick(board.name, KEY.Key_Return)
    part = window.session.study.parts[window.session.study.regions[body.id].part]
    assert (part.name, part.kind) == ("Fast processor", "processor")
    assert part.long_mm > 3
    assert "1 of" in board.beside.text()
    window.session.stack.undo()
    assert not window.session.study.regions[body.id].part


def test_an_outline_is_drawn_moved_and_dropped(qtbot, window, board):
    view = board.view
    box = view.picture_box()
    a, b = QPoint(int(box.left() + 40), int(box.top() + 40)), QPoint(int(box.left() + 120), int(box.top() + 90))
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=a)
    QTest.mouseMove(view, b)
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=b)
    made = window.session.selection
    assert made in window.session.study.regions
    before = window.session.study.regions[made].outline
    qtbot.keyClick(view, KEY.Key_Right, MOD.ControlModifier)
    moved = window.session.study.regions[made].outline
    assert moved != before
    qtbot.keyClick(view, KEY.Key_Down, MOD.ShiftModifier)
    assert window.session.study.regions[made].outline != moved
    board.kinds.setCurrentIndex(board.kinds.findData("area"))
    board.kinds.activated.emit(board.kinds.currentIndex())
    assert window.session.study.regions[made].kind == "area"
    board._name("power")
    assert window.session.study.regions[made].name == "power"
    board._set_long("soon")
    assert "soon" in window.notice.text.text()
    qtbot.keyClick(view, KEY.Key_Delete)
    assert made not in window.session.study.regions
    qtbot.keyClick(view, KEY.Key_Insert)
    assert window.session.selection in window.session.study.regions
    qtbot.keyClick(view, KEY.Key_Escape)
    assert window.stack.currentWidget() is window.page(Parts)


def test_both_faces_of_a_board_and_its_drawing(qtbot, window, tmp_path):
    page = window.page(BoardMapPage)
    window.session.select("P19")
    page.map_shown()
    assert page.photo == "H3"
    assert "4 of 6 bodies named" in page.beside.text()
    page.other_face()
    assert page.photo == "H11"
    window.writing.write("board map", tmp_path / "map.svg")
    assert "Clock cell" in (tmp_path / "map.svg").read_text()
    qtbot.keyClick(page.view, KEY.Key_Space)
    assert window.session.study.regions[window.session.selection].part == ""
