"""Boards: outlines found on ray-traced photos, maps and their scale, and parts laid out; against shapely."""

import numpy as np
import pytest
from attrs import evolve
from board_scores import scores
from builders import study_of
from hypothesis import example, given, settings
from hypothesis import strategies as st
from PIL import Image
from shapely.geometry import MultiPoint, Polygon, box

from oddbolt.core.components import board_maps
from oddbolt.core.components.layout import (
    HEADING,
    chosen,
    fitting,
    identified,
    laid_out,
    narrowest_box,
    outline_mm,
)
from oddbolt.core.errors import BenchError, StudyError, VisionError
from oddbolt.core.study import Part, Photo, Region, remove
from oddbolt.core.study.board_map import corners_in, corners_typed
from oddbolt.core.vision.board import propose
from oddbolt.demo import tide_logger
from oddbolt.files.pictures import cut_out

# -- proposals -----------------------------------------------------------------------------------------------


def test_bodies_shields_and_holes_are_proposed_on_ray_traced_boards():
    """Truth from the scene (tools/make_boards.py); an outline counts where it covers the true one by half (IoU)."""
    found, there, right, proposed, edge = scores()
    assert found / there > 0.85
    assert right / proposed > 0.7
    assert edge > 0.5


def test_pictures_without_a_board_are_refused():
    blank = np.full((300, 400, 3), 180, np.uint8)
    with pytest.raises(VisionError, match="No board"):
        propose(blank)
    with pytest.raises(VisionError, match="too small"):
        propose(blank[:80])
    with pytest.raises(VisionError, match="outline of the board is too small"):
        propose(blank, [(0.1, 0.1), (0.12, 0.1), (0.12, 0.12)])


# -- outlines and scale --------------------------------------------------------------------------------------


@settings(max_examples=40, deadline=None)
@given(st.lists(st.tuples(st.floats(0, 100), st.floats(0, 100)), min_size=3, max_size=12))
def test_the_narrowest_box_is_that_of_shapely(points):
    """shapely.minimum_rotated_rectangle has the same area."""
    hull = MultiPoint(points).convex_hull
    if hull.geom_type != "Polygon" or hull.area < 1:
        return
    wide, high = narrowest_box(points)
    assert wide * high == pytest.approx(MultiPoint(points).minimum_rotated_rectangle.area, rel=1e-4)


@given(st.lists(st.tuples(st.floats(0, 1), st.floats(0, 1)), min_size=3, max_size=30))
def test_outlines_are_written_down_and_read_back(corners):
    if abs(Polygon(corners).area) < 1e-3 or not Polygon(corners).is_valid:
        return
    assert np.allclose(corners_in(corners_typed(corners)), corners, atol=6e-5)


@pytest.mark.parametrize(
    ("outline", "why"),
    [
        ("0.1,0.1 0.5,0.1", "3 to 400 corners"),
        ("0.1,0.1 1.5,0.1 0.5,0.5", "outside the photo"),
        ("0.1,0.1 here 0.5,0.5", "no corner"),
        ("0,0 0.5,0.5 1,1", "on one line"),
    ],
)
def test_outlines_that_are_none_are_refused(outline, why):
    with pytest.raises(StudyError, match=why):
        Region("G1", "H1", outline)


def board_study():
    return study_of(Part("P1", "Main board", kind="main board"), Photo("H1", "0" * 64, width=1000, height=500))


SQUARE = ((0.1, 0.2), (0.2, 0.2), (0.2, 0.4), (0.1, 0.4))


def test_a_map_takes_its_scale_from_a_part_and_gives_sizes():
    study, id = board_maps.outlined(board_study(), "H1", SQUARE)
    assert outline_mm(study, study.regions[id]) is None
    study = board_maps.scaled_by(study, id, 20.0)
    length, width, _ = outline_mm(study, study.regions[id])
    assert (length, width) == pytest.approx((20.0, 20.0))
    assert board_maps.map_of(study, "H1").wide_mm == pytest.approx(200.0)
    study = board_maps.named(study, id, "Motor driver")
    part = study.parts[study.regions[id].part]
    assert (part.kind, part.long_mm, part.wide_mm) == ("motor driver", 20.0, 20.0)
    for length, why in ((0.0, "0.2 to 2000"), (5000.0, "0.2 to 2000")):
        with pytest.raises(BenchError, match=why):
            board_maps.scaled_by(study, id, length)
    with pytest.raises(BenchError, match="1 to 5000"):
        board_maps.scaled(study, "H1", 9000.0, "typed")


def test_bodies_are_named_counted_and_taken_once():
    study, _ = board_maps.mapped(board_study(), "H1", "P1")
    twice = [(SQUARE, "body"), (SQUARE, "body"), (((0.5, 0.5), (0.7, 0.5), (0.7, 0.9), (0.5, 0.9)), "hole")]
    study, made = board_maps.accepted(study, "H1", twice)
    assert [study.regions[id].kind for id in made] == ["part", "hole"]
    assert board_maps.progress(study, "H1").sentence == "0 of 1 body named, 0% of their area"
    study = board_maps.named(study, made[0], "processor")
    part = study.regions[made[0]].part
    assert study.parts[part].inside == "P1"
    assert board_maps.progress(study, "H1").sentence == "1 of 1 body named, 100% of their area"
    study, other = board_maps.outlined(study, "H1", ((0.8, 0.1), (0.9, 0.1), (0.9, 0.2)))
    with pytest.raises(BenchError, match="outlined already"):
        board_maps.named(study, other, "Processor")
    study, area = board_maps.outlined(study, "H1", ((0, 0), (0.5, 0), (0.5, 0.5), (0, 0.5)), "area", "power")
    assert board_maps.area_of(study, study.regions[made[0]]) == "power"
    assert board_maps.area_of(study, study.regions[other]) == ""
    assert not remove(study, "H1").regions
    gone = board_maps.forgotten(study, "H1")
    assert not gone.regions
    assert part in gone.parts
    assert area not in gone.regions


def test_the_demo_maps_both_faces_of_two_boards():
    study = tide_logger.study()
    faces = {(m.part, m.face) for m in study.board_maps.values()}
    assert faces == {("P19", "front"), ("P19", "back"), ("P26", "front"), ("P26", "back")}
    found = board_maps.progress(study, "H3")
    assert (found.named, found.bodies) == (4, 6)
    processor = next(r for r in study.regions.values() if r.part == "P20")
    assert outline_mm(study, processor)[:2] == pytest.approx((20, 20), abs=0.1)
    table = board_maps.rows(study)
    assert len(table) == len(study.regions) + 1
    assert [row[5] for row in table if row[3] == "Processor"] == ["processing"]


def test_a_part_is_cut_out_of_its_photo_upright():
    """A red bar at 30° comes out lying, red all over but for its rim."""
    from io import BytesIO

    picture = Image.new("RGB", (600, 400), (30, 90, 40))
    angle = np.radians(30)
    way = np.array([[np.cos(angle), np.sin(angle)], [-np.sin(angle), np.cos(angle)]])
    corners = (np.array([(-120, -30), (120, -30), (120, 30), (-120, 30)]) @ way) + [300, 200]
    from PIL import ImageDraw

    ImageDraw.Draw(picture).polygon([tuple(c) for c in corners], fill=(200, 20, 20))
    data = BytesIO()
    picture.save(data, "PNG")
    cut, outline = cut_out(data.getvalue(), [tuple(c / [600, 400]) for c in corners], 200)
    image = Image.open(BytesIO(cut))
    assert image.width / image.height == pytest.approx(4, rel=0.12)
    inner = np.asarray(image)[image.height // 4 : -image.height // 4, image.width // 8 : -image.width // 8]
    assert (inner[..., 0] > 150).mean() > 0.98
    assert all(0 <= v <= 1 for corner in outline for v in corner)


# -- laid out ------------------------------------------------------------------------------------------------

LABEL = (58.0, 15.0)


def scattered(seed, count):
    rng = np.random.default_rng(seed)
    kinds = ["main board", "gear", "coin cell", "", "O-ring", "ribbon cable", "loudspeaker"]
    parts = []
    for n in range(1, count + 1):
        inside = f"P{rng.integers(1, n)}" if n > 3 and rng.random() < 0.8 else ""
        size = float(rng.uniform(0.5, 200)) if rng.random() < 0.5 else None
        parts.append(Part(f"P{n}", f"thing {n}", inside, str(rng.choice(kinds)), long_mm=size))
    return study_of(*parts)


def name_box(piece, high):
    middle, foot = piece.x + piece.wide / 2, piece.y + piece.high
    return box(middle - piece.room / 2, foot, middle + piece.room / 2, foot + high)


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 10_000), st.integers(1, 60), st.floats(0.6, 6), st.floats(300, 1600))
@example(6629, 52, 1.671875, 1228.0)
def test_no_part_lies_on_another_and_all_lie_in_their_group(seed, count, scale, wide):
    study = scattered(seed, count)
    table = laid_out(study, scale, wide, LABEL)
    assert {piece.id for piece in table.pieces} == set(study.parts)
    bodies = {p.id: box(p.x, p.y, p.x + p.wide, p.y + p.high) for p in table.pieces if p.sign != HEADING}
    names = {p.id: name_box(p, 15 / scale) for p in table.pieces}
    ids = list(bodies)
    for n, a in enumerate(ids):
        for b in ids[n + 1 :]:
            assert bodies[a].intersection(bodies[b]).area < 1e-6, (a, b)
            assert bodies[a].intersection(names[b]).area < 1e-6, (a, b)
    areas = [box(g.x, g.y, g.x + g.wide, g.y + g.high) for g in table.groups]
    for n, area in enumerate(areas):
        assert all(area.intersection(other).area < 1e-6 for other in areas[n + 1 :])
    assert sum(g.count for g in table.groups) == len(bodies)


def test_all_of_it_is_seen_at_once_where_there_is_room():
    study = tide_logger.study()
    scale = fitting(study, 840, 620, LABEL)
    table = laid_out(study, scale, 840, LABEL)
    assert table.high * scale <= 620
    assert laid_out(study, scale * 1.1, 840, LABEL).high * scale * 1.1 > 620
    assert not any(piece.assumed for piece in table.pieces if piece.sign != HEADING)
    crowd = scattered(3, 300)
    assert 0.6 <= fitting(crowd, 840, 620, LABEL) <= 4


def test_parts_are_found_by_any_field_and_what_nobody_named_is_known():
    study = tide_logger.study()
    assert chosen(study, "OM7724") == ["P20"]
    assert set(chosen(study, kind="seal")) >= {"P3", "P5", "P40"}
    assert chosen(study, material="PMMA") == ["P7", "P54"]
    assert chosen(study, state="unknown") == []
    gizmo = evolve(study.parts["P20"], kind="", name="Gizmo", inside="")
    assert chosen(study_of(gizmo), state="unknown") == ["P20"]
    assert identified(Part("P1", "Upper loudspeaker"))
    assert not identified(Part("P1", "Gizmo"))
