"""Measuring by hand on a photo of the mat, against plane geometry and against simulated picks."""

from functools import cache
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from oddbolt.core.errors import VisionError
from oddbolt.core.vision.find import find_mat
from oddbolt.core.vision.measure import PICK_PX, measure, on_mat


@cache
def found():
    return find_mat(np.asarray(Image.open(Path(__file__).parents[1] / "scans" / "0700.jpg").convert("RGB")))


def seen(points, height=0.0):
    points = np.asarray(points, dtype=float)
    return found().camera.project(np.column_stack([points, np.full(len(points), height)]))


places = st.tuples(st.floats(20, 270), st.floats(20, 180))


@given(st.lists(places, min_size=2, max_size=6), st.floats(0, 12))
@settings(max_examples=60, deadline=None)
def test_rays_lead_back_to_where_they_came_from(points, height):
    assert on_mat(found().camera, seen(points, height), height) == pytest.approx(np.array(points), abs=1e-6)


@given(places, st.floats(4, 40), st.floats(0, 6.28), st.integers(3, 9))
@settings(max_examples=60, deadline=None)
def test_a_circle_an_angle_and_a_polygon_come_out_as_geometry_says(middle, radius, turn, corners):
    angles = turn + np.arange(corners) * 2 * np.pi / corners
    ring = np.array(middle) + radius * np.column_stack([np.cos(angles), np.sin(angles)])
    assert measure(found(), "diameter", seen(ring)).value == pytest.approx(2 * radius, rel=1e-6)
    area = corners / 2 * radius**2 * np.sin(2 * np.pi / corners)
    assert measure(found(), "area", seen(ring)).value == pytest.approx(area, rel=1e-6)
    at_rim = measure(found(), "angle", seen(ring[:3])).value  # the angle of a regular polygon
    assert at_rim == pytest.approx(180 * (1 - 2 / corners), abs=1e-5)
    side = 2 * radius * np.sin(np.pi / corners)
    assert measure(found(), "length", seen(ring)).value == pytest.approx((corners - 1) * side, rel=1e-6)


@pytest.mark.parametrize("kind", ["length", "diameter", "angle", "area"])
def test_the_stated_uncertainty_is_the_spread_of_simulated_picks(kind):
    """Monte Carlo (JCGM 101): 400 picks, each off by the stated px."""
    r = np.random.default_rng(3)
    px = seen([(100, 80), (130, 90), (120, 120)] if kind != "length" else [(100, 80), (130, 90)])
    tried = [measure(found(), kind, px + r.normal(0, PICK_PX, px.shape)).value for _ in range(400)]
    assert np.std(tried) == pytest.approx(measure(found(), kind, px).off, rel=0.15)


def test_height_and_a_wrong_print_are_taken_into_account():
    px = seen([(100, 80), (130, 80)], height=10)
    assert measure(found(), "length", px, height_mm=10).value == pytest.approx(30, abs=1e-6)
    assert measure(found(), "length", px).value > 30.5
    assert measure(found(), "length", px, height_mm=10, ruler_mm=98).value == pytest.approx(30 * 0.98)


@pytest.mark.parametrize(
    ("kind", "points", "words"),
    [
        ("length", [(1, 1)], "two points"),
        ("angle", [(1, 1), (2, 2), (3, 3), (4, 4)], "three points"),
        ("angle", [(100, 80), (100, 80), (120, 90)], "three separate"),
        ("diameter", [(100, 80), (110, 80), (120, 80)], "on a line"),
        ("area", [(100, 80), (120, 100), (120, 80), (100, 100)], "crosses itself"),
        ("weight", [(1, 1), (2, 2)], "cannot be measured"),
    ],
)
def test_what_cannot_be_measured_is_answered(kind, points, words):
    with pytest.raises(VisionError, match=words):
        measure(found(), kind, seen(points))
    with pytest.raises(VisionError, match="above the mat"):
        measure(found(), "length", seen([(1, 1), (2, 2)]), height_mm=-1)
