"""The edge plan against plane geometry, brute force and the habits of the trade."""

import math

import attrs
import numpy as np
import pytest
from builders import study_of
from hypothesis import example, given
from hypothesis import strategies as st

from oddbolt.core.errors import BenchError
from oddbolt.core.opening.edge import clip_order, reach_of, round_of, usual_stretches, work_out
from oddbolt.core.opening.outline import outline_of, sides, text_of
from oddbolt.core.opening.setting_up import (
    add_keepout,
    begin_plan,
    begin_warmup,
    lay_usual,
    split,
    usual_pick,
    with_heater,
)
from oddbolt.core.study import Device, EdgePlan, Keepout, Stretch, Study, change

PLAN = EdgePlan("O1", "Window")
FRAME = outline_of("rounded 84 x 52 r 6")
NUMBER = st.floats(0.5, 60)
PLACES = st.tuples(st.floats(2, 82), st.floats(2, 50), st.floats(1, 20), st.floats(1, 20))


def stretches(**changed):
    return [attrs.evolve(s, **changed) for s in usual_stretches(PLAN, FRAME, 1)]


def keepout(x, y, wide=4, high=4, kind="sensor", n=1, **more):
    return Keepout(f"Z{n}", "O1", kind, x, y, wide, high, **more)


@given(st.floats(20, 300), st.floats(20, 300), st.floats(0, 10))
def test_a_rounded_outline_has_the_length_and_area_of_its_formula(wide, high, radius):
    outline = outline_of(f"rounded {wide:.3f} x {high:.3f} r {radius:.3f}")
    wide, high, radius = round(wide, 3), round(high, 3), round(radius, 3)
    assert outline.length_mm == pytest.approx(2 * (wide + high) - (8 - 2 * math.pi) * radius, abs=1e-4 + 0.003 * radius)
    assert outline.shape.area == pytest.approx(wide * high - (4 - math.pi) * radius**2, abs=1e-3 + 0.006 * radius**2)
    assert outline.size_mm == pytest.approx((wide, high))
    assert outline_of(text_of(outline)).length_mm == pytest.approx(outline.length_mm, abs=0.1)


def test_the_way_it_was_typed_round_does_not_matter():
    one, other = outline_of("polygon 0,0 40,0 40,25 0,25"), outline_of("polygon 0,0 0,25 40,25 40,0")
    assert one.at(50) == other.at(50) == (40, 10)
    assert one.inward(50) == pytest.approx((-1, 0))
    assert [name for name, _, _ in sides(one)] == ["top side", "right side", "bottom side", "left side"]


@given(st.floats(0, 261), st.floats(0, 261))
def test_a_stretch_and_the_rest_make_the_whole_edge(start, end):
    def length(points):
        return np.hypot(*np.diff(points, axis=0).T).sum()

    if abs(start - end) > 0.1:
        both = length(FRAME.stretch(start, end)) + length(FRAME.stretch(end, start))
        assert both == pytest.approx(FRAME.length_mm)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("polygon 0,0 40,25 40,0 0,25", "crosses itself near 20.0, 12.5"),
        ("polygon 0,0 10,0 20,0", "crosses itself|encloses nothing"),
        ("polygon 0,0 5,5", "three points"),
        ("84 x 0", "no inside"),
        ("84 x 52 r 30", "does not fit"),
        ("polygon 0,0 a,b 5,5", "'a,b' is not a point"),
        ("as large as a hand", "is not an outline; type it like"),
        ("polygon 0,0 99999,0 0,9", "10 m away"),
    ],
)
def test_what_is_no_outline_is_said(text, words):
    with pytest.raises(BenchError, match=words):
        outline_of(text)


def test_usual_picks_reach_as_plane_trigonometry_says():
    """60° and 2 mm on long sides, 45° and at most 5 mm on short ones (common practice, no source)."""
    assert reach_of(2, 60) == pytest.approx((1.0, math.sqrt(3)))
    assert reach_of(5, 45) == pytest.approx((5 / math.sqrt(2), 5 / math.sqrt(2)))
    entries = {s.name: (s.angle_deg, s.depth_mm) for s in stretches()}
    assert entries["top side"] == (60, 2)
    assert entries["left side"] == (45, 5)


@given(PLACES, st.floats(0, 85), st.floats(0.2, 8))
def test_room_is_the_distance_that_brute_force_finds(place, angle, depth):
    x, y, wide, high = place
    found = work_out(PLAN, stretches(angle_deg=angle, depth_mm=depth), [keepout(x, y, wide, high)], FRAME)
    for a in found.along.values():
        points = np.array([a.line.interpolate(d).coords[0] for d in np.linspace(0, a.length_mm, 2000)])
        dx = np.maximum(np.abs(points[:, 0] - x) - wide / 2, 0)
        dy = np.maximum(np.abs(points[:, 1] - y) - high / 2, 0)
        assert a.room_mm == pytest.approx(np.hypot(dx, dy).min() - depth * math.cos(math.radians(angle)), abs=0.05)


@given(PLACES, st.floats(5, 80), st.sampled_from(["sensor", "cell", "lens", "other"]), st.floats(0, 4))
@example((4.5, 12.5, 1.5, 16.5), 73.0, "cell", 0.0)  # the corner of a thing, just near enough
def test_the_safe_depth_wants_no_stop_and_a_little_more_does(place, angle, kind, below):
    x, y, wide, high = place
    things = [keepout(x, y, wide, high, kind, below_mm=below)]
    for a in work_out(PLAN, stretches(angle_deg=angle), things, FRAME).along.values():
        at = attrs.evolve(a.stretch, depth_mm=max(0.0, a.safe_mm - 1e-6))
        assert not work_out(PLAN, [at], things, FRAME).along[at.id].stops or a.safe_mm == 0
        if a.safe_mm < 4.9:
            more = attrs.evolve(a.stretch, depth_mm=a.safe_mm + 0.05)
            assert work_out(PLAN, [more], things, FRAME).along[at.id].stops


@given(st.lists(PLACES, max_size=5), NUMBER)
def test_stops_and_goes_share_the_stretch(places, depth):
    things = [keepout(*p, n=n) for n, p in enumerate(places, 1)]
    for a in work_out(PLAN, stretches(depth_mm=depth), things, FRAME).along.values():
        inside = np.linspace(0.01, a.length_mm - 0.01, 400)
        stopped = [any(s.from_mm <= d <= s.to_mm for s in a.stops) for d in inside]
        going = [any(f <= d <= t for f, t in a.go) for d in inside]
        assert not any(s and g and not edge(a, d) for s, g, d in zip(stopped, going, inside, strict=True))
        assert sum(s or g for s, g in zip(stopped, going, strict=True)) >= 0.97 * len(inside)


def edge(a, d):
    return any(abs(d - e) < 0.01 for s in a.stops for e in (s.from_mm, s.to_mm))


def test_one_stops_five_mm_before_a_sensor():
    """Common practice, no source: stop 5 mm before a sensor and go round it."""
    found = work_out(PLAN, stretches(), [keepout(42, 1.5, 6, 2)], FRAME)
    top = next(a for a in found.along.values() if a.stretch.name == "top side")
    (stop,) = top.stops
    middle = top.line.interpolate((stop.from_mm + stop.to_mm) / 2).coords[0][0]
    assert middle == pytest.approx(42, abs=0.1)
    # the reach of 1 mm and 1 mm clear, from a sensor half a millimetre inside
    assert stop.to_mm - stop.from_mm == pytest.approx(6 + 2 * 5 + 2 * math.sqrt(2.0**2 - 0.5**2), abs=0.1)
    assert "stop at" in " ".join(found.sentences)


def test_a_pick_that_stays_above_a_cell_may_pass_over_it():
    deep, shallow = keepout(42, 20, 80, 38, "cell", below_mm=4.0), keepout(42, 20, 80, 38, "cell")
    flat = stretches(angle_deg=20, depth_mm=5)
    assert all(not a.stops for a in work_out(PLAN, flat, [deep], FRAME).along.values())
    assert any(a.finding == "pierces" for a in work_out(PLAN, flat, [shallow], FRAME).along.values())


@given(st.lists(PLACES, max_size=4), st.booleans(), st.randoms())
def test_the_way_round_goes_along_every_stretch_once_and_leaves_the_hinge_to_the_end(places, hinged, r):
    things = [keepout(*p, n=n) for n, p in enumerate(places, 1)]
    if hinged:
        things.append(keepout(2, 26, 4, 20, "cable hinge", n=9))
    pieces = stretches()
    r.shuffle(pieces)
    found = work_out(PLAN, pieces, things, FRAME)
    assert sorted(id for id, _ in found.order) == sorted(s.id for s in pieces)
    if hinged:
        assert found.fold == found.along[found.order[-1][0]].stretch.name == "left side"
    else:
        assert found.sentences[-1].startswith("No cable holds")


def test_one_begins_where_nothing_can_be_hurt_and_frees_clips_on_the_way():
    clips = {"top side": 3, "bottom side": 2}
    pieces = [
        attrs.evolve(s, hold="clips" if s.name in clips else "nothing", count=clips.get(s.name), width_mm=None)
        for s in stretches()
    ]
    found = work_out(PLAN, pieces, [keepout(80, 26, 4, 20, "cell")], FRAME)
    assert found.along[found.order[0][0]].stretch.name == "left side"
    clips = clip_order(found)
    assert len(clips) == 5
    ways = dict(found.order)
    for id in {c[0] for c in clips}:
        places = [at for of, at in clips if of == id]
        assert places == sorted(places, reverse=ways[id] < 0)


def test_what_is_wrong_with_a_drawing_is_said_and_the_rest_still_works():
    found = work_out(PLAN, stretches()[:2], [keepout(300, 20, name="lens of the camera")], FRAME)
    assert any("Lens of the camera lies outside" in t for t in found.troubles)
    assert any("belong to no segment" in t for t in found.troubles)
    assert len(found.sentences) == 3
    with pytest.raises(BenchError, match="has no outline yet"):
        round_of(study_of(PLAN), "O1")
    assert work_out(PLAN, [], [], FRAME).troubles == ("The edge has no segments yet.",)


def test_glue_wider_than_the_reach_is_told():
    found = work_out(PLAN, [Stretch("E1", "O1", "top", 10, 60, "glue", width_mm=2.0)], [], FRAME)
    assert found.along["E1"].finding == "shallow"
    assert found.along["E1"].cut_mm == pytest.approx(4.0)
    assert "it needs 4.0 mm" in found.sentences[0]


def moved(things, dx, dy):
    return [attrs.evolve(k, x_mm=k.x_mm + dx, y_mm=k.y_mm + dy) for k in things]


@given(st.lists(PLACES, min_size=1, max_size=4), st.floats(-50, 50), st.floats(-50, 50))
def test_where_the_drawing_lies_on_the_paper_does_not_matter(places, dx, dy):
    things = [keepout(*p, n=n) for n, p in enumerate(places, 1)]
    corners = [(0, 0), (84, 0), (84, 52), (0, 52)]
    here, there = (
        outline_of("polygon " + " ".join(f"{x + a:.3f},{y + b:.3f}" for x, y in corners))
        for a, b in ((0, 0), (round(dx, 3), round(dy, 3)))
    )
    pieces = usual_stretches(PLAN, here, 1)
    one = work_out(PLAN, pieces, things, here)
    other = work_out(PLAN, pieces, moved(things, round(dx, 3), round(dy, 3)), there)
    assert one.order == other.order
    for id, a in one.along.items():
        assert other.along[id].safe_mm == pytest.approx(a.safe_mm, abs=1e-6)
        assert other.along[id].room_mm == pytest.approx(a.room_mm, abs=1e-6)


@given(st.lists(PLACES, min_size=1, max_size=4))
def test_a_mirrored_plan_is_the_same_plan_mirrored(places):
    square = outline_of("polygon 0,0 84,0 84,52 0,52")
    things = [keepout(*p, n=n) for n, p in enumerate(places, 1)]
    mirrored = [attrs.evolve(k, x_mm=84 - k.x_mm) for k in things]
    pieces = [attrs.evolve(s, angle_deg=50.0, depth_mm=3.0) for s in usual_stretches(PLAN, square, 1)]
    swap = {"left side": "right side", "right side": "left side"}
    one = {a.stretch.name: a for a in work_out(PLAN, pieces, things, square).along.values()}
    other = {a.stretch.name: a for a in work_out(PLAN, pieces, mirrored, square).along.values()}
    for name, a in one.items():
        twin = other[swap.get(name, name)]
        assert (twin.finding, twin.hinge) == (a.finding, a.hinge)
        assert twin.safe_mm == pytest.approx(a.safe_mm, abs=1e-9)
        assert sum(s.to_mm - s.from_mm for s in twin.stops) == pytest.approx(
            sum(s.to_mm - s.from_mm for s in a.stops), abs=1e-6
        )


@given(st.lists(PLACES, min_size=1, max_size=4), PLACES)
def test_one_more_thing_inside_never_allows_more(places, more):
    things = [keepout(*p, n=n) for n, p in enumerate(places, 1)]
    before = work_out(PLAN, stretches(), things, FRAME).along
    after = work_out(PLAN, stretches(), [*things, keepout(*more, n=9)], FRAME).along
    for id, a in before.items():
        assert after[id].safe_mm <= a.safe_mm + 1e-9
        assert after[id].room_mm <= a.room_mm + 1e-9
        assert sum(t - f for f, t in after[id].go) <= sum(t - f for f, t in a.go) + 1e-6


def test_setting_up_makes_what_one_can_work_with():
    study = attrs.evolve(Study(), device=Device(outline="84 x 52 r 6"))
    study, plan = begin_plan(study)
    assert len(round_of(study, plan).order) == 4
    study, thing = add_keepout(study, plan)
    assert (study.keepouts[thing].x_mm, study.keepouts[thing].y_mm) == (42.0, 26.0)
    first = next(iter(study.stretches))
    clipped = change(study, first, hold="clips", count=5, width_mm=None)
    parted = split(clipped, first)
    assert [s.count for s in parted.stretches.values() if s.hold == "clips"] == [2, 3]
    assert round_of(parted, plan).troubles == ()
    assert len(lay_usual(parted, plan).stretches) == 4
    wide = change(parted, "E1", angle_deg=10.0, depth_mm=9.0)
    assert usual_pick(wide, "E1").stretches["E1"].angle_deg == 45
    warm, id = begin_warmup(study)
    assert [layer.role for layer in warm.layers.values()] == ["cover", "glue", "gap", "guarded"]
    assert with_heater(warm, id, "air").warmups[id].coupling_w_m2k == 40
    assert with_heater(with_heater(warm, id, "air"), id, "plate").warmups[id].coupling_w_m2k == 100
    own = change(warm, id, coupling_w_m2k=77.0)
    assert with_heater(own, id, "air").warmups[id].coupling_w_m2k == 77
    bare, empty = begin_plan(Study())
    assert not bare.stretches
    for work in (lambda: split(study, "E99"), lambda: add_keepout(Study(), "O1"), lambda: lay_usual(bare, empty)):
        with pytest.raises(BenchError):
            work()
