"""What painters draw comes from the figures, and what the hand touches is what is drawn there."""

from math import cos, hypot, pi, sin

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QImage, QPainter, QPixmap

from oddbolt.core.bench.kit import kit
from oddbolt.core.fasteners import shapes
from oddbolt.core.opening.edge import round_of
from oddbolt.core.reach import reach_of_all, route_to
from oddbolt.core.reference.tables import drives
from oddbolt.core.study import Device, Joint, change, remove
from oddbolt.core.verdict import bench_mark, counting
from oddbolt.demo import tide_logger
from oddbolt.desk.painters import screws
from oddbolt.desk.painters.board import Board
from oddbolt.desk.painters.edge import EdgeDrawing
from oddbolt.desk.painters.ledger import Ledger
from oddbolt.desk.painters.mat import Mat, row_of
from oddbolt.desk.painters.photo import CalloutMark, PhotoView
from oddbolt.desk.painters.plate import Plate
from oddbolt.desk.painters.ribbon import Ribbon
from oddbolt.desk.painters.roll import ToolRoll
from oddbolt.desk.painters.routes import Routes
from oddbolt.desk.painters.strata import Strata
from oddbolt.desk.painters.strip import Card, Strip
from oddbolt.desk.painters.warmth import Warmth
from oddbolt.desk.state.figures import warming_of
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.tables import Rows, Table, figure_parts


@pytest.fixture(autouse=True)
def _fonts(qapp):
    theme.load_fonts()


@pytest.fixture(scope="module")
def study():
    return tide_logger.study()


def shown(qtbot, widget, width=840, height=420):
    qtbot.addWidget(widget)
    widget.resize(width, height)
    widget.show()
    assert not widget.grab().toImage().isNull()
    return widget


def click(qtbot, widget, at, modifier=Qt.KeyboardModifier.NoModifier):
    qtbot.mouseClick(widget, Qt.MouseButton.LeftButton, modifier, QPoint(round(at.x()), round(at.y())))


# -- screws -----------------------------------------------------------------------------------------------

#: How a recess looks the same when it is turned: lobes, wings or corners.
SYMMETRY = {
    "cross": 4, "cross-z": 4, "slotted": 2, "hex-socket": 6, "hexalobular": 6, "hexalobular-plus": 6, "five-lobe": 5,
    "three-wing": 3, "square": 4, "two-hole": 2, "stand-off": 2,
}  # fmt: skip


@pytest.mark.parametrize("drive", drives())
def test_a_recess_has_the_symmetry_of_its_drive(drive):
    path = screws.recess_path(drive, 100.0)
    if drive == "external-hex":
        assert path is None
        return
    turns = SYMMETRY[drive]
    inside = [
        [path.contains(QPointF(r * cos(a + k * 2 * pi / turns), r * sin(a + k * 2 * pi / turns))) for k in range(turns)]
        for r in (15, 35, 55, 75, 88)
        for a in [0.03 + n * 0.11 for n in range(12)]
    ]
    assert all(len(set(ring)) == 1 for ring in inside)
    assert any(ring[0] for ring in inside)
    assert not all(ring[0] for ring in inside)
    other = turns + 1
    turned = [path.contains(QPointF(88 * cos(k * 2 * pi / other), 88 * sin(k * 2 * pi / other))) for k in range(other)]
    assert len(set(turned)) == 2 or not any(turned)


def test_a_lobe_is_deeper_in_the_plus_form():
    """ISO 10664 drives and their steeper-walled fellow: same outer points, the plus form cuts in further."""
    inner = {}
    for drive in ("hexalobular", "hexalobular-plus"):
        path = screws.recess_path(drive, 100.0)
        valley = next(r for r in range(100, 0, -1) if path.contains(QPointF(r * cos(-pi / 3), r * sin(-pi / 3))))
        inner[drive] = valley
        assert path.contains(QPointF(0, -98))
    assert inner["hexalobular-plus"] < inner["hexalobular"]


@pytest.mark.parametrize("length", [3.0, 8.0, 16.0])
@pytest.mark.parametrize("head", ["pan head", "countersunk", "cheese head", "wafer head"])
def test_a_screw_is_drawn_as_long_as_it_is(length, head):
    image = QImage(200, 400, QImage.Format.Format_RGB32)
    image.fill(QColor("white"))
    painter = QPainter(image)
    joint = Joint("J1", "screw", thread="M2", length_mm=length, head=head, head_mm=3.5)
    box = screws.side(painter, 100, 20, joint, 10.0, QColor("black"), QColor("black"))
    painter.end()
    rows = [y for y in range(400) if any(image.pixelColor(x, y).lightness() < 200 for x in range(60, 140))]
    assert rows[-1] - rows[0] == pytest.approx(box.height(), abs=4)
    below_head = rows[-1] - 20 if head == "countersunk" else rows[-1] - 20 - (box.height() - length * 10)
    assert below_head == pytest.approx(length * 10, abs=4)
    wide = [x for x in range(200) if any(image.pixelColor(x, y).lightness() < 200 for y in rows)]
    assert wide[-1] - wide[0] == pytest.approx(35, abs=4)


def test_an_unknown_drive_is_drawn_as_a_question():
    assert screws.recess_path("", 10) is None
    assert shapes.size_of(Joint("J1", "screw"))[3] == shapes.USUAL_LENGTH_MM


# -- the ground -------------------------------------------------------------------------------------------


@pytest.mark.parametrize("size", [(840, 480), (700, 300), (1500, 900)])
@pytest.mark.parametrize("minutes", [False, True])
def test_boxes_of_the_ground_never_overlap_and_lie_in_it(qtbot, study, size, minutes):
    strata = shown(qtbot, Strata(), *size)
    strata.show_ground(study, reach_of_all(study), minutes, ["P29"], route_to(study, ["P29"]))
    boxes = [*strata.ground.boxes.values(), *strata.ground.grains.values()]
    assert len(boxes) + sum(len(parts) for _, parts in strata.ground.more) == len(strata.ground.bands)
    for i, a in enumerate(boxes):
        assert strata.rect().contains(a.toAlignedRect().adjusted(1, 1, -1, -1))
        assert not any(a.intersects(b) for b in boxes[i + 1 :])
    assert "P29" in strata.ground.boxes


def test_deeper_parts_lie_lower(qtbot, study):
    strata = shown(qtbot, Strata())
    reach = reach_of_all(study)
    strata.show_ground(study, reach, False, [], None)
    by_depth = sorted(strata.ground.boxes, key=lambda p: reach[p].steps.least)
    tops = [strata.ground.boxes[p].top() for p in by_depth]
    assert tops == sorted(tops)


def test_a_part_of_the_ground_is_picked_where_it_is_drawn(qtbot, study):
    strata = shown(qtbot, Strata())
    strata.show_ground(study, reach_of_all(study), False, [], None)
    for part, box in list(strata.ground.boxes.items())[:12]:
        with qtbot.waitSignal(strata.picked) as told:
            click(qtbot, strata, box.center())
        assert told.args == [part]


def test_arrows_reach_every_part_of_the_ground(qtbot, study):
    strata = shown(qtbot, Strata())
    strata.show_ground(study, reach_of_all(study), False, [], None)
    seen, queue = set(), [next(iter(strata.ground.boxes))]
    strata.picked.connect(queue.append)
    while queue:
        part = queue.pop()
        if part in seen:
            continue
        seen.add(part)
        for key in (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down):
            strata.chosen = [part]
            qtbot.keyClick(strata, key)
    assert seen == {*strata.ground.boxes, *strata.ground.grains}


# -- ribbon, routes, ledger -------------------------------------------------------------------------------


def test_the_ribbon_is_as_long_as_the_time(qtbot, study):
    ribbon = shown(qtbot, Ribbon(), 900, 96)
    route = route_to(study, ["P29"])
    ribbon.show_route(study, route, "")
    ribbon.grab()
    scale = ribbon.scale
    assert [id for _, id in ribbon._boxes[: len(route.legs)]] == list(route.steps)
    for (box, _), leg in zip(ribbon._boxes, route.legs, strict=False):
        assert box.left() == pytest.approx(leg.start_s * scale + 1, abs=0.5)
        assert box.width() == pytest.approx(max(2.0, leg.seconds * scale), abs=0.5)
    with qtbot.waitSignal(ribbon.picked) as told:
        click(qtbot, ribbon, ribbon._boxes[0][0].center())
    assert told.args == [route.steps[0]]
    ribbon.chosen = route.steps[0]
    with qtbot.waitSignal(ribbon.picked) as told:
        qtbot.keyClick(ribbon, Qt.Key.Key_Right)
    assert told.args == [route.steps[1]]


def test_the_routes_are_quickest_first_on_one_scale(qtbot, study):
    routes = shown(qtbot, Routes(), 420, 300)
    routes.show_counts(study, counting(study), "")
    times = [c.route.seconds for c in routes.counts]
    assert times == sorted(times)
    with qtbot.waitSignal(routes.picked) as told:
        click(qtbot, routes, QPointF(50, 12))
    assert told.args == [routes.counts[0].part]


def test_every_line_of_the_ledger_leads_through_all_its_causes(qtbot, study):
    mark = bench_mark(study)
    ledger = shown(qtbot, Ledger(), 420, 700)
    ledger.show_mark(mark)
    ledger.grab()
    told = []
    ledger.picked.connect(told.append)
    for n, deduction in enumerate(mark.deductions):
        told.clear()
        click(qtbot, ledger, ledger._boxes[n].center())
        for _ in deduction.causes[1:]:
            qtbot.keyClick(ledger, Qt.Key.Key_Space)
        assert told == list(deduction.causes)
    assert ledger.accessibleDescription().startswith("minus")
    bottoms = [box.bottom() for box in ledger._boxes]
    assert bottoms == sorted(bottoms)
    assert bottoms[-1] < ledger.minimumHeight()


# -- board, mat, strip, photo -----------------------------------------------------------------------------


@pytest.mark.parametrize("scale", [3.8, 7.6, 15.1])
def test_the_board_has_room_for_every_screw_at_its_scale(qtbot, study, scale):
    board = Board()
    board.scale = scale
    groups = [j for j in study.joints.values() if j.kind == "screw"]
    shown(qtbot, board).show_groups(groups, {"J17"}, "J17")
    wide, tall = board._cell()
    for joint in groups:
        _, _, head, length = screws.size_of(joint)
        assert 2 * head * scale <= wide
        assert length * scale <= tall
    for n, joint in enumerate(groups):
        with qtbot.waitSignal(board.picked) as told:
            click(qtbot, board, board._box(n).center())
        assert told.args == [joint.id]


def test_the_mat_shows_each_screw_one_by_one(qtbot, study):
    mat = shown(qtbot, Mat(), 260, 420)
    mat.show_loose(study, 20, {"J17"})
    rows = mat.rows()
    assert rows[-1].name == "Main board"
    assert [j.id for j in rows[-1].screws] == ["J16"] * 9 + ["J17"]
    with qtbot.waitSignal(mat.picked) as told:
        click(qtbot, mat, QPointF(60, (len(rows) - 1) * 80 + 20))
    assert told.args == ["P19"]
    uncounted = change(study, "J16", count=None)
    mat.show_loose(uncounted, 20, set())
    assert "? PH00" in mat.rows()[-1].held_by
    assert row_of(study, mat.loose[0]).number == 2


def test_the_strip_keeps_the_current_card_in_sight(qtbot):
    strip = shown(qtbot, Strip(), 640, 86)
    ids = [f"S{n}" for n in range(1, 301)]
    strip.show_steps(ids, lambda id: Card(id, int(id[1:]), "3 s", "lift it", "hand"), 150, (), "now")
    told = []
    strip.picked.connect(told.append)
    for x in range(10, 630, 60):
        click(qtbot, strip, QPointF(x, 40))
    assert "S151" in told
    qtbot.keyClick(strip, Qt.Key.Key_PageDown)
    assert told[-1] == "S156"
    qtbot.keyClick(strip, Qt.Key.Key_Home)
    assert told[-1] == "S1"


def test_callouts_point_where_they_were_set_and_are_picked_by_their_letter(qtbot, study):
    view = shown(qtbot, PhotoView(), 560, 440)
    image = QImage(400, 300, QImage.Format.Format_RGB32)
    image.fill(QColor("grey"))
    marks = [CalloutMark("C1", "A", "left", "J1", 0.1, 0.5), CalloutMark("C2", "B", "right", "J2", 0.9, 0.5)]
    view.show_photo(image, "before", marks, "J1")
    view.grab()
    assert view._tags["C1"].center().x() < view.width() / 2 < view._tags["C2"].center().x()
    for mark in marks:
        with qtbot.waitSignal(view.picked) as told:
            click(qtbot, view, view._tags[mark.id].center())
        assert told.args == [mark.id]
    points = []
    view.pointed.connect(lambda x, y: points.append((x, y)))
    picture = view._place(view.rect().toRectF())
    at = QPoint(round(picture.left() + 0.25 * picture.width()), round(picture.top() + 0.75 * picture.height()))
    qtbot.mouseDClick(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
    ((x, y),) = points
    assert hypot(x - 0.25, y - 0.75) < 0.01


def test_many_callouts_on_one_side_do_not_hide_each_other(qtbot):
    view = shown(qtbot, PhotoView(), 560, 440)
    image = QImage(400, 300, QImage.Format.Format_RGB32)
    view.show_photo(image, "", [CalloutMark(f"C{n}", chr(64 + n), "x", "", 0.2, 0.3) for n in range(1, 9)], "")
    view.grab()
    tags = list(view._tags.values())
    assert not any(a.intersects(b) for i, a in enumerate(tags) for b in tags[i + 1 :])


def test_a_study_without_a_route_paints_its_ground(qtbot, study):
    strata = shown(qtbot, Strata())
    bare = remove(study, "S20")
    strata.show_ground(bare, reach_of_all(bare), False, ["P19"], None)
    assert not strata.grab().toImage().isNull()
    assert "P19" not in strata.ground.boxes


# -- prepare and open -------------------------------------------------------------------------------------


def edge_drawing(qtbot, study, plan="O1", chosen="", width=520, height=400):
    drawing = shown(qtbot, EdgeDrawing(), width, height)
    drawing.show_plan(study, round_of(study, plan), "", chosen)
    drawing.grab()
    return drawing


@pytest.mark.parametrize(("width", "height"), [(270, 220), (520, 400), (1400, 900)])
def test_a_plan_is_drawn_to_scale_at_any_size(qtbot, study, width, height):
    drawing = edge_drawing(qtbot, study, width=width, height=height)
    left, right = drawing.place(0, 26), drawing.place(84, 26)
    top, bottom = drawing.place(42, 0), drawing.place(42, 52)
    assert (right.x() - left.x()) / (bottom.y() - top.y()) == pytest.approx(84 / 52)
    assert 0 < left.x() < right.x() < width
    assert 0 < top.y() < bottom.y() < height
    for keepout in study.keepouts.values():
        if keepout.plan == "O1":
            assert drawing.box(keepout).width() == pytest.approx(keepout.wide_mm * drawing.scale)


def test_what_is_clicked_on_a_plan_is_what_is_drawn_there(qtbot, study):
    drawing = edge_drawing(qtbot, study)
    picked = []
    drawing.picked.connect(picked.append)
    for id, keepout in study.keepouts.items():
        if keepout.plan == "O1" and id != "Z4":
            click(qtbot, drawing, drawing.box(keepout).center())
            assert picked.pop() == id
    for stretch, at in (("E1", (86, 30)), ("E2", (42, 54)), ("E3", (-2, 40)), ("E4", (30, -2))):
        click(qtbot, drawing, drawing.place(*at))
        assert picked.pop() == stretch
    assert not picked


def test_a_stop_is_seen_on_the_edge(qtbot, study):
    """Copper hatching where the pick stays out, none where it may go."""
    drawing = edge_drawing(qtbot, study)
    picture = drawing.grab().toImage()

    def copper(x, y):
        at = drawing.place(x, y)
        near = [QColor(picture.pixel(round(at.x()) + dx, round(at.y()) - 2)) for dx in range(-4, 5)]
        return any(c.red() > c.green() + 20 for c in near)

    assert copper(26, 52)
    assert not copper(70, 52)


def warmth_of(qtbot, study, warmup="W2", **changed):
    study = change(study, warmup, **changed) if changed else study
    warmth = shown(qtbot, Warmth(), 346, 300)
    warmth.show_warming(study.warmups[warmup], *warming_of(study, warmup)[:2], None, "")
    return warmth, warmth.grab().toImage()


def test_the_time_to_pry_is_a_field_of_mat_and_nothing_else_is(qtbot, study):
    warmth, picture = warmth_of(qtbot, study)
    soft, limit = warmth.window_.soft_s, warmth.window_.limit_s
    mat = theme.colour("mat")
    y = round(warmth._y(30))
    for seconds, inside in ((soft - 40, False), ((soft + limit) / 2, True), (limit + 40, False)):
        assert (QColor(picture.pixel(round(warmth._x(seconds)), y)) == mat) == inside
    never, picture = warmth_of(qtbot, study, heater_c=45.0)
    assert never.window_.soft_s is None
    assert all(QColor(picture.pixel(x, 200)) != mat for x in range(40, 280, 10))
    assert "never reaches" in never.accessibleDescription()


def test_hotter_is_higher_and_later_is_further_right(qtbot, study):
    warmth, before = warmth_of(qtbot, study)
    assert warmth._y(60) < warmth._y(40) < warmth._y(20)
    assert warmth._x(0) < warmth._x(60) < warmth._x(600) <= warmth.width()
    warmth.show_now(100.0)
    assert warmth.grab().toImage() != before


def test_the_roll_is_walked_and_toggled(qtbot, study):
    roll = shown(qtbot, ToolRoll(), 700, 154)
    roll.show_needs(kit(study, (), None, ["PH00"]))
    toggled = []
    roll.toggled.connect(toggled.append)
    qtbot.keyClick(roll, Qt.Key.Key_Right)
    qtbot.keyClick(roll, Qt.Key.Key_Space)
    click(qtbot, roll, roll._box(0).center())
    assert toggled == ["cross PH00", "hex socket 2.5"]
    told = [": ".join(roll.words_of(n)) for n in roll.item_ids]
    assert any(t.startswith("cross PH00: ") and t.endswith("on your bench") for t in told)
    assert any(t.startswith("hex socket 2.5: ") and t.endswith("missing") for t in told)
    roll.show_needs([])
    qtbot.keyClick(roll, Qt.Key.Key_Space)
    assert len(toggled) == 2


def test_the_plate_tells_what_the_device_contains(qtbot, study):
    plate = shown(qtbot, Plate(), 260, 154)
    for device in (study.device, Device("Box"), Device("Box", outline="no outline at all")):
        plate.show_device(device, ["lithium cell"], QPixmap())
        assert not plate.grab().toImage().isNull()
    assert plate.accessibleDescription() == "Box; contains lithium cell"


def test_points_of_a_column_stand_under_each_other(qtbot):
    rows = Rows(("part", "length"), figures=(1,))
    table = Table(rows, "lengths")
    qtbot.addWidget(table)
    table.resize(400, 200)
    texts = ("2.5 mm", "10 mm", "4.25 mm", "3 to 5 mm", "")
    table.refresh([str(n) for n in range(5)], [[("x", "x"), (t, t)] for t in texts], set(), "")
    metrics = QFontMetricsF(rows.data(rows.index(0, 1), Qt.ItemDataRole.FontRole))
    shift = [table._figures._shift(text, 1, metrics) for text in texts]
    ends = [s + metrics.horizontalAdvance(figure_parts(t)[1]) for s, t in zip(shift, texts, strict=True)]
    assert ends[0] == pytest.approx(ends[1]) == pytest.approx(ends[2]) == metrics.horizontalAdvance(".25")
    assert shift[3:] == [0.0, 0.0]
    table.show()
    assert not table.grab().isNull()
