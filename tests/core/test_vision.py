"""The gauge mat in photos, and screws on it: views from a known camera, ray-traced pictures with known screws."""

import json
from pathlib import Path

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image
from scipy.optimize import linear_sum_assignment
from skimage import data as skimage_data

from oddbolt.core.errors import VisionError
from oddbolt.core.study import Joint, Study, put
from oddbolt.core.vision.find import find_mat, flattened
from oddbolt.core.vision.mat import RULER_MM, SHEETS, TINT, drawn, mat, ruler_bars
from oddbolt.core.vision.match import matched
from oddbolt.core.vision.printed import disc
from oddbolt.core.vision.scan import AT_EDGE, by_known_disc, pieces, scan
from oddbolt.core.vision.screw_fit import CONE_SEEN_PX, View, measured, silhouette

SCANS = Path(__file__).parents[1] / "scans"
WIDE, HIGH = 1600, 1200


def seen_from(tilt, around, view=60.0, sheet=None, picture=None):
    """A view of the mat from ``tilt`` degrees aslant, and the camera's place in mm."""
    sheet = sheet or mat()
    focal = WIDE / 2 / np.tan(np.radians(view / 2))
    middle = np.array([sheet.width_mm / 2, sheet.height_mm / 2, 0.0])
    away = sheet.width_mm / 2 / np.tan(np.radians(view / 2)) * 1.35
    t, a = np.radians(tilt), np.radians(around)
    eye = middle + away * np.array([np.sin(t) * np.cos(a), np.sin(t) * np.sin(a), np.cos(t)])
    ahead = (middle - eye) / away
    right = -np.cross(ahead, np.array([0.0, -1.0, 0.0]))
    right /= np.linalg.norm(right)
    down = -np.cross(ahead, right)

    def project(points):
        p = points - eye
        x, y, z = p @ right, p @ down, p @ ahead
        return np.column_stack([focal * x / z + (WIDE - 1) / 2, focal * y / z + (HIGH - 1) / 2])

    picture = drawn(sheet, 200) if picture is None else picture
    corners = np.array([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]]) * [sheet.width_mm, sheet.height_mm, 1.0]
    high, wide = picture.shape[:2]
    source = np.array([[0, 0], [wide, 0], [wide, high], [0, high]], dtype=np.float32) - 0.5
    turn = cv2.getPerspectiveTransform(source, project(corners).astype(np.float32))
    view_ = cv2.warpPerspective(picture, turn, (WIDE, HIGH), flags=cv2.INTER_AREA, borderValue=(110, 100, 90))
    return cv2.GaussianBlur(view_, (0, 0), 0.7), eye


# -- the mat --------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("name", SHEETS)
def test_markers_and_field_do_not_touch_and_lie_on_the_sheet(name):
    sheet = mat(name)
    left, top, right, bottom = sheet.field
    for x, y in sheet.markers.values():
        assert 0 < x < sheet.width_mm - sheet.marker_mm
        assert 0 < y < sheet.height_mm - sheet.marker_mm
        assert x + sheet.marker_mm < left or x > right or y + sheet.marker_mm < top or y > bottom
    bars = ruler_bars(sheet)
    assert max(x for x, *_ in bars) - min(x for x, *_ in bars) == pytest.approx(RULER_MM)


@pytest.mark.parametrize("name", SHEETS)
def test_a_mat_seen_straight_is_measured_to_a_thousandth(name):
    sheet = mat(name)
    found = find_mat(drawn(sheet, 200))
    assert found.sheet is sheet
    assert set(found.markers) == set(sheet.markers)
    assert found.px_per_mm == pytest.approx(200 / 25.4, rel=1e-3)


@settings(max_examples=15, deadline=None)
@given(st.floats(0, 35), st.floats(0, 360), st.floats(45, 72))
def test_the_cameras_place_is_found(tilt, around, view):
    picture, eye = seen_from(tilt, around, view)
    found = find_mat(picture)
    assert found.camera.tilt_deg == pytest.approx(tilt, abs=0.7)
    if tilt > 12:  # from straight above one photo cannot tell height from focal length
        assert found.camera.place == pytest.approx(eye, abs=0.04 * eye[2])


@settings(max_examples=8, deadline=None)
@given(st.floats(0, 35), st.floats(0, 360))
def test_what_is_flattened_is_true_to_scale(tilt, around):
    """The ruler's ends, flattened, are 100 mm apart within 0.2 mm."""
    sheet = mat()
    picture, _ = seen_from(tilt, around)
    x, y = sheet.ruler
    scale = 10.0
    box = (x - 5, y - 4.5, x + RULER_MM + 5, y - 0.5)
    flat = flattened(picture, find_mat(picture), scale, box).astype(float).mean(axis=2)
    dark = np.clip(255 - flat[6:11].mean(axis=0) - 40, 0, None)  # only the ticks of 10 mm reach here
    places = np.arange(len(dark)) / scale
    ends = [np.average(places[part], weights=dark[part]) for part in (slice(0, 100), slice(1000, None))]
    assert ends[1] - ends[0] == pytest.approx(RULER_MM, abs=0.2)


def left_half(picture):
    half = picture.copy()
    half[:, WIDE // 2 :] = 100
    return half


def two_mats(picture):
    return np.vstack([picture, picture])


@pytest.mark.parametrize(
    ("spoil", "words"),
    [
        (lambda p: np.full_like(p, 128), "No mat"),
        (left_half, "part of the mat|markers are seen"),
        (two_mats, "Two mats"),
        (lambda p: np.ascontiguousarray(p[:, ::-1]), "mirrored"),
        (lambda p: cv2.GaussianBlur(p, (0, 0), 14), "blurred"),
    ],
    ids=["none", "half", "two", "mirrored", "blurred"],
)
def test_photos_without_a_usable_mat_say_why(spoil, words):
    with pytest.raises(VisionError, match=words):
        find_mat(spoil(seen_from(5, 30)[0]))


def test_a_camera_too_far_or_too_oblique_is_warned_of():
    far = cv2.resize(seen_from(0, 0)[0], (800, 600), interpolation=cv2.INTER_AREA)
    assert any("px per mm" in w for w in find_mat(far).warnings)
    assert any("off vertical" in w for w in find_mat(seen_from(46, 90)[0]).warnings)


def test_a_mat_printed_grey_is_refused():
    picture = np.repeat(drawn(mat(), 200).mean(axis=2).astype(np.uint8)[..., None], 3, axis=2)
    with pytest.raises(VisionError, match="tinted field"):
        scan(picture)


def test_a_ruler_far_off_is_refused():
    with pytest.raises(VisionError, match="100 %"):
        scan(drawn(mat(), 200), ruler_mm=70)


# -- screws ---------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("shape", ["domed", "countersunk", "headless", "domed^"])
@pytest.mark.parametrize("turn", [0.3, 2.0, 4.4])
def test_a_screw_drawn_from_the_model_is_measured_back(shape, turn):
    sizes = np.array([8.0, 2.0, 1.1, 1.3, 60.0, 50.0, turn, 0.48, 2.3])
    eye = np.array([150.0, -60.0, 240.0])
    scale, origin = 12.0, (45.0, 35.0)
    canvas = np.zeros((1440, 1440), np.uint8)
    for hull in silhouette(sizes, shape, View(eye, CONE_SEEN_PX / scale)):
        cv2.fillPoly(canvas, [np.round((hull - np.array(origin)) * 4 * scale - 0.5).astype(np.int32)], 255)
    share = cv2.resize(canvas, (360, 360), interpolation=cv2.INTER_AREA) / 255.0
    told = measured(cv2.GaussianBlur(share, (0, 0), 0.8), scale, origin, eye)
    best = next(t for t in told if t.shape == shape.removesuffix("^"))
    assert best.length_mm == pytest.approx(8.0, abs=0.15)
    assert best.shank_mm == pytest.approx(2.2 * 1.07, abs=0.16)
    if shape != "headless":
        assert best.head_mm == pytest.approx(4.0, abs=0.2)


def truths():
    return sorted(SCANS.glob("*.json"))


@pytest.mark.parametrize("truth", truths(), ids=lambda p: p.stem)
def test_screws_are_counted_and_measured_on_ray_traced_pictures(truth):
    """Pictures of tools/make_scans.py: all counted or, where one leans over the edge of the field, marked so; three of
    four lengths within 0.15 mm at 6 px a mm."""
    wanted = json.loads(truth.read_text(encoding="utf-8"))["screws"]
    found = scan(np.asarray(Image.open(truth.with_suffix(".jpg")).convert("RGB")))
    marked = sum(t.why_not == AT_EDGE for t in found.things)
    assert len(found.screws) + marked == len(wanted)
    assert marked <= 1
    assert sum(g.count for g in found.groups) == len(found.screws)
    gap = np.array([[np.hypot(t.x_mm - w["x_mm"], t.y_mm - w["y_mm"]) for w in wanted] for t in found.screws])
    pairs = list(zip(*linear_sum_assignment(gap), strict=True))
    assert max(gap[i, j] for i, j in pairs) < 4
    off = np.array([found.screws[i].screw.length_mm - wanted[j]["length_mm"] for i, j in pairs])
    assert (np.abs(off) <= 0.15).mean() >= 0.75
    assert abs(np.median(off)) < 0.08


def test_coins_are_counted_on_a_picture_that_is_not_ours():
    """scikit-image's coins: 24 of them, parted from their ground by a threshold of its neighbourhood."""
    coins = skimage_data.coins().astype(np.float32)
    bright = cv2.GaussianBlur(coins, (0, 0), 1.5) > cv2.GaussianBlur(coins, (0, 0), 28) + 6
    mask = cv2.morphologyEx(bright.astype(np.uint8), cv2.MORPH_CLOSE, np.ones((7, 7), np.uint8))
    mask = cv2.morphologyEx(mask, cv2.MORPH_OPEN, np.ones((11, 11), np.uint8))
    found = [
        corner for _, corner in pieces(mask.astype(np.float32), 2.0) if min(corner) > 0
    ]  # the ground is bright at a rim
    assert len(found) == 24


def test_a_scan_can_be_stopped():
    with pytest.raises(VisionError, match="stopped"):
        scan(seen_from(0, 0)[0], lambda: True)


def test_what_was_found_is_held_against_a_study():
    """Twelve screws of three kinds; the study wants one 8 mm screw more and one of them 2 mm shorter."""
    truth = json.loads((SCANS / "0702.json").read_text(encoding="utf-8"))["screws"]
    found = scan(np.asarray(Image.open(SCANS / "0702.jpg").convert("RGB")))
    lengths = sorted({t["length_mm"] for t in truth})
    study = Study()
    for n, length in enumerate(lengths, 1):
        count = sum(t["length_mm"] == length for t in truth)
        study = put(study, Joint(f"J{n}", "screw", count=count, length_mm=length))
    same = matched(study, found)
    assert (same.found, same.wanted, same.missing) == (12, 12, ())
    more = put(study, Joint("J9", "screw", name="Cover screws", count=2, length_mm=25.0))
    assert matched(more, found).missing == (("J9", 2),)
    assert "2 missing: Cover screws" in matched(more, found).sentence


def test_the_tint_is_told_from_grey_metal_and_from_brass():
    r, g, b = TINT
    assert b > g > r
    assert max(TINT) - min(TINT) > 80


def test_lamplight_and_a_faded_print_are_no_reason_to_refuse():
    """The same picture under tungsten light, and with the tint faded by a third: every screw is still counted."""
    truth = truths()[1]
    wanted = len(json.loads(truth.read_text(encoding="utf-8"))["screws"])
    light = (np.asarray(Image.open(truth.with_suffix(".jpg")).convert("RGB")) / 255.0) ** 2.2
    lamp, print_ = np.array([1.0, 0.55, 0.22]), np.array([1.0, 0.9, 0.8])
    for seen in (light * lamp, (0.65 * light + 0.35 * 0.8) * print_):
        picture = (np.clip(seen, 0, 1) ** (1 / 2.2) * 255).astype(np.uint8)
        assert abs(len(scan(picture).screws) - wanted) <= 1


def test_a_screw_over_the_edge_of_the_field_is_marked_and_not_measured():
    """A grey bar drawn over the left edge of the mat's field, and one within it."""
    sheet = mat()
    scale = 400 / 25.4
    picture = drawn(sheet, 400).copy()
    left, top = sheet.field[:2]

    def grey(x0, y0, x1, y1):
        corners = (int(x0 * scale), int(y0 * scale)), (int(x1 * scale), int(y1 * scale))
        cv2.rectangle(picture, *corners, (120, 120, 122), -1)

    def bar(x0, x1, y):
        grey(x0, y - 1, x1, y + 1)
        grey(x1 - 1.2, y - 2, x1, y + 2)

    bar(left - 3, left + 9, top + 30)
    bar(left + 40, left + 52, top + 30)
    things = scan(picture).things
    assert [t.why_not for t in things if t.x_mm < left + 12] == [AT_EDGE]
    assert [t.screw is not None for t in things if t.x_mm > left + 30] == [True]


def test_a_shadow_of_another_colour_is_no_screw():
    """A bluish shadow, as a window gives beside a warm lamp, drawn beside a grey screw: the screw alone is counted, and
    its length is that without the shadow."""
    sheet, scale = mat(), 400 / 25.4
    left, top = sheet.field[:2]

    def photo(shaded):
        light = (drawn(sheet, 400) / 255.0) ** 2.2
        for x, y, wide, high in ((60, 40, 9, 3), (66, 41.5, 7, 5), (90, 60, 12, 4)) if shaded else ():
            part = np.s_[int((top + y) * scale) : int((top + y + high) * scale), int((left + x) * scale) :]
            light[part][:, : int(wide * scale)] *= (0.35, 0.45, 0.62)
        for x0, y0, x1, y1 in ((60, 40, 69, 42), (67.5, 39, 69, 43)):
            part = np.s_[
                int((top + y0) * scale) : int((top + y1) * scale), int((left + x0) * scale) : int((left + x1) * scale)
            ]
            light[part] = 0.2
        return cv2.GaussianBlur((np.clip(light, 0, 1) ** (1 / 2.2) * 255).astype(np.uint8), (0, 0), 1.2)

    bare, shaded = (scan(photo(s)).things for s in (False, True))
    assert [t.screw is not None for t in bare] == [t.screw is not None for t in shaded] == [True]
    assert shaded[0].screw.length_mm == pytest.approx(bare[0].screw.length_mm, abs=0.1)


@pytest.mark.parametrize("printed", [0.97, 1.0, 1.03])
def test_a_disc_of_known_size_tells_how_large_the_mat_was_printed(printed):
    """A grey disc of 20 mm drawn flat on a mat that was printed so much larger; lengths follow it."""
    sheet, scale = mat(), 400 / 25.4
    picture = drawn(sheet, 400).copy()
    middle = tuple(int((v + 40) * scale) for v in sheet.field[:2])
    cv2.circle(picture, middle, round(10 / printed * scale), (120, 120, 122), -1, cv2.LINE_AA)
    picture = cv2.GaussianBlur(picture, (0, 0), 1.0)
    seen = scan(picture)
    found, off = by_known_disc(seen, disc("20 x 0"))
    assert found.ruler_mm == pytest.approx(100 * printed, abs=2 * off)
    assert by_known_disc(found, disc("20x0"))[0].ruler_mm == pytest.approx(found.ruler_mm)
    with pytest.raises(VisionError, match="No disc of about 26"):
        by_known_disc(seen, disc("26 x 0"))
    for bad in ("20", "x", "500 x 2", "20 x 90"):
        with pytest.raises(VisionError):
            disc(bad)
