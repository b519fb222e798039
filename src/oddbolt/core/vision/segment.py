"""What on the mat is not the mat.

Grey, brass and black metal differ from the tinted field in colour, and shadows do not: each pixel is split into a share
of the field's own colour, which light and shadow change, and what is left over, which they do not.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from functools import partial

import numpy as np
from attrs import frozen
from numpy.typing import NDArray

from oddbolt.core.errors import VisionError
from oddbolt.core.vision.mat import Floats, Mat, Picture, cv

#: the field's own colour is taken over so many mm; the field's rim is left out, mm
FIELD_MM, RIM = 14.0, 0.7
#: an object differs from the field so much in colour, or so much by angle and a little in strength, or is so dark
STRONG, ANGLE, WEAK, DARK = 0.08, 0.145, 0.02, 0.2
#: the weakest colour of a lamp that can be made up for; a field as red as this against its blue is no tinted one
LEAST_WHITE, NEARLY_WHITE, FADED = 0.08, 0.84, 0.86
#: what differs so little by angle and in strength is of an object if it hangs together with one that mirrors the mat
FAINT, FAINT_LEFT = 0.085, 0.012
#: a shadow is so bright against the free field; so many of such pixels must be there, so large a share of them agree on
#: a tint, which is worth minding from the second figure on, and looked for up to the last
SHADE, FEWEST_SHADED, AGREED = (0.25, 0.8), 300, 0.2
TINT_BIN, TINT_LEAST, TINT_MOST = 0.025, 0.06, 0.6
SMALLEST_MM2, LARGEST_MM2 = 0.9, 900.0
#: a hole smaller than this is a thread or a recess that shows the mat's colour, a larger one a washer's
HOLE_MM2 = 1.2


@frozen
class Split:
    """A flat picture of the field: how bright the field's colour is and what is left over, fine and calmed, and the
    masks of what surely and what faintly is an object; ``scale`` is px per mm."""

    scale: float
    bright: NDArray[np.float32]
    left: NDArray[np.float32]
    sure: NDArray[np.uint8]
    faint: NDArray[np.uint8]


def field_seen(sheet: Mat) -> tuple[float, float, float, float]:
    """The part of the field that is looked at: left, top, right, bottom, mm."""
    left, top, right, bottom = sheet.field
    return left + RIM, top + RIM, right - RIM, bottom - RIM


def paper_white(sheet: Picture, field: NDArray[np.bool_]) -> NDArray[np.float32]:
    """The colour of the light, from the bare paper of a flat picture of the whole mat; ``field`` masks the tinted one.
    Three factors, the largest 1: what white paper gives (its brighter quarter, since markers are dark). Light that is
    nearly white is left as it is."""
    bare = _linear(sheet)[~field].reshape(-1, 3)
    bright = bare.sum(axis=1)
    white = np.median(bare[bright >= np.quantile(bright, 0.75)], axis=0) if len(bare) else np.ones(3)
    out: NDArray[np.float32] = (white / max(float(white.max()), 1e-6)).astype(np.float32)
    return np.clip(out, LEAST_WHITE, 1.0) if out.min() < NEARLY_WHITE else np.ones(3, np.float32)


def strange_along(strip: Picture, white: NDArray[np.float32], along: int) -> NDArray[np.bool_]:
    """Where along a narrow flat strip of the field (0: its columns, 1: its rows) lies what is not the field."""
    light = _linear(strip) / white
    typical = np.median(light.reshape(-1, 3), axis=0).astype(np.float32)
    bright, left = _split(light, np.broadcast_to(typical, light.shape))
    off = np.sqrt((left**2).sum(axis=-1))
    found = (off > STRONG) | ((off > ANGLE * (bright + 0.03)) & (off > WEAK)) | (bright < DARK)
    out: NDArray[np.bool_] = found.mean(axis=1 if along == 1 else 0) > 0.5
    return out


def split(flat: Picture, scale: float, white: NDArray[np.float32] | None = None) -> Split:
    """Tell what is not the field, under light of the colour ``white``. Raises VisionError if the field is not seen."""
    light = _linear(flat) if white is None else _linear(flat) / white
    field = _field(light, scale)
    bright, left = _split(cv.GaussianBlur(light, (0, 0), 0.6), field)
    left = left - np.clip(1 - bright, 0, 1)[..., None] * shadow_tint(bright, left, field)
    calm_bright = cv.GaussianBlur(bright, (0, 0), 0.06 * scale)
    calm_left = np.sqrt((cv.GaussianBlur(left, (0, 0), 0.06 * scale) ** 2).sum(axis=-1))
    by_angle = (calm_left > ANGLE * (calm_bright + 0.03)) & (calm_left > WEAK)
    sure = (calm_left > STRONG) | by_angle | (calm_bright < DARK)
    faint = sure | ((calm_left > FAINT * (calm_bright + 0.03)) & (calm_left > FAINT_LEFT))
    return Split(scale, bright, left, _opened(sure.astype(np.uint8)), _opened(faint.astype(np.uint8)))


def shadow_tint(
    bright: NDArray[np.float32], left: NDArray[np.float32], field: NDArray[np.float32]
) -> NDArray[np.float32]:
    """What a full shadow leaves over beside the field's own colour: nothing, or the colour of a second light, such as
    a window beside a warm lamp. It is the commonest of what darker pixels leave, if many agree on it and it is none of
    grey metal."""
    some = np.s_[::3, ::3]
    dark = bright[some]
    where = (dark > SHADE[0]) & (dark < SHADE[1])
    own = field[some][where]
    if len(own) < FEWEST_SHADED:
        return np.zeros(3, np.float32)
    typical = np.median(own, axis=0)
    basis = np.linalg.svd(typical[None] / np.linalg.norm(typical))[2][1:].astype(np.float32)
    each = (left[some][where] / (1 - dark[where])[:, None]) @ basis.T
    edges = np.arange(-TINT_MOST, TINT_MOST + TINT_BIN, TINT_BIN)
    count, _, _ = np.histogram2d(each[:, 0], each[:, 1], bins=(edges, edges))
    count = cv.GaussianBlur(count, (0, 0), 1.0)
    at = np.unravel_index(int(np.argmax(count)), count.shape)
    peak = np.array([(edges[k] + edges[k + 1]) / 2 for k in at], np.float32)
    near = np.hypot(*(each - peak).T) < 2.5 * TINT_BIN
    grey = (np.ones(3, np.float32) - typical * (typical.sum() / (typical @ typical))) @ basis.T
    if near.mean() < AGREED or np.hypot(*peak) < TINT_LEAST or peak @ grey > 0:
        return np.zeros(3, np.float32)
    out: NDArray[np.float32] = (np.median(each[near], axis=0) @ basis).astype(np.float32)
    return out


def objects(seen: Split) -> NDArray[np.float32]:
    """How much of each pixel is surely an object, 0 to 1."""
    return _share(seen.bright, seen.left, seen.sure, seen.scale)


def fainter(
    seen: Split, points: Sequence[tuple[int, int]]
) -> Iterator[tuple[NDArray[np.float32], tuple[int, int], Callable[[tuple[int, int]], bool]]]:
    """What hangs together with each of these points (x, y in px) if what is faint counts too: how much of each pixel is
    object, the corner of that patch, and whether a point lies in it."""
    _, labels, stats, _ = cv.connectedComponentsWithStats(np.maximum(seen.sure, seen.faint), connectivity=4)
    pad = round(1.5 * seen.scale)
    for n in sorted({int(labels[y, x]) for x, y in points} - {0}):
        x, y, wide, high, area = (int(v) for v in stats[n])
        if area > LARGEST_MM2 * seen.scale**2:
            continue
        x0, y0 = max(0, x - pad), max(0, y - pad)
        part = np.s_[y0 : y + high + pad, x0 : x + wide + pad]
        own = (labels[part] == n).astype(np.uint8)
        share = _share(seen.bright[part], seen.left[part], own, seen.scale)
        yield share, (x0, y0), partial(_lies_in, labels, n)


def _linear(picture: Picture) -> NDArray[np.float32]:
    """sRGB to linear light, 0 to 1 (IEC 61966-2-1)."""
    x = np.arange(256) / 255.0
    table = np.where(x <= 0.04045, x / 12.92, ((x + 0.055) / 1.055) ** 2.4).astype(np.float32)
    out: NDArray[np.float32] = table[picture]
    return out


def _split(light: NDArray[np.float32], field: NDArray[np.float32]) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """How bright the field's colour is in each pixel, and what is left over, both against the field's strength."""
    strength = (field * field).sum(axis=-1) + 1e-9
    bright = (light * field).sum(axis=-1) / strength
    left = (light - bright[..., None] * field) / np.sqrt(strength)[..., None]
    return bright, left


def _lies_in(labels: NDArray[np.int32], n: int, at: tuple[int, int]) -> bool:
    return bool(labels[at[1], at[0]] == n)


def _opened(mask: NDArray[np.uint8]) -> NDArray[np.uint8]:
    kind = cv.getStructuringElement(cv.MORPH_ELLIPSE, (3, 3))
    return np.asarray(cv.morphologyEx(mask, cv.MORPH_OPEN, kind), dtype=np.uint8)


def _share(
    bright: NDArray[np.float32], left: NDArray[np.float32], found: NDArray[np.uint8], scale: float
) -> NDArray[np.float32]:
    """How much of each pixel is object, from a rough mask."""
    found = _to_edges(bright, left, _without_small_holes(found, scale), scale)
    found = _opened(_without_small_holes(found, scale))
    share = np.zeros(found.shape, dtype=np.float32)
    _, _, boxes, _ = cv.connectedComponentsWithStats(cv.dilate(found, _round(6)), connectivity=8)
    for x, y, wide, high, _ in boxes[1:].tolist():
        part = np.s_[y : y + high, x : x + wide]
        seen = np.dstack([bright[part], 2 * left[part]]).astype(np.float32)
        share[part] = np.maximum(share[part], _softened(seen, np.ascontiguousarray(found[part])))
    return share


def _to_edges(
    bright: NDArray[np.float32], left: NDArray[np.float32], found: NDArray[np.uint8], scale: float
) -> NDArray[np.uint8]:
    """What was found, its rim moved to where the colour changes most: a watershed between its inside and the field."""
    basis = np.linalg.svd(left[::9, ::9].reshape(-1, 3), full_matrices=False)[2][:2]
    across = left @ basis.T.astype(np.float32)
    tones = np.dstack([np.sqrt(np.clip(bright, 0, 2)) * 110, 128 + 220 * across])
    inside = cv.erode(found, _round(0.13 * scale))
    inside = np.where(cv.dilate(inside, _round(0.35 * scale)) > 0, inside, found)  # thin ones are not worn away
    markers = np.where(inside > 0, 2, np.where(cv.dilate(found, _round(0.3 * scale)) > 0, 0, 1)).astype(np.int32)
    flooded = cv.watershed(np.clip(tones, 0, 255).astype(np.uint8), markers)
    out: NDArray[np.uint8] = (flooded == 2).astype(np.uint8)
    # the line between counts half to either side
    out[(flooded == -1) & (cv.blur((flooded == 2).astype(np.float32), (3, 3)) >= 0.34)] = 1
    return out


def _softened(seen: NDArray[np.float32], found: NDArray[np.uint8]) -> NDArray[np.float32]:
    """How much of each pixel is object: at its rim, how far the colour is on the way from outside to inside."""
    within = cv.distanceTransform(found, cv.DIST_L2, 3)
    without = cv.distanceTransform(1 - found, cv.DIST_L2, 3)
    inner = ((within > 1.6) & (within < 4.5)).astype(np.float32)
    outer = ((without > 1.6) & (without < 4.5)).astype(np.float32)

    def beside(where: NDArray[np.float32]) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
        weight = cv.GaussianBlur(where, (0, 0), 1.7)
        colour = cv.GaussianBlur(seen * where[..., None], (0, 0), 1.7) / np.maximum(weight, 1e-4)[..., None]
        return colour, weight

    (object_, sure), (field, free) = beside(inner), beside(outer)
    way = object_ - field
    share = ((seen - field) * way).sum(axis=-1) / np.maximum((way * way).sum(axis=-1), 1e-6)
    rim = (within < 2.1) & (without < 2.1) & (sure > 0.01) & (free > 0.01)
    plain = cv.GaussianBlur(found.astype(np.float32), (0, 0), 0.6)
    out: NDArray[np.float32] = np.where(rim, np.clip(share, 0, 1), plain).astype(np.float32)
    return out


def _round(radius: float) -> NDArray[np.uint8]:
    return np.asarray(cv.getStructuringElement(cv.MORPH_ELLIPSE, (2 * max(1, round(radius)) + 1,) * 2), dtype=np.uint8)


def _field(light: NDArray[np.float32], scale: float) -> NDArray[np.float32]:
    """The colour of the free field at each pixel, taken over from where it is free."""
    coarse = 8
    small = cv.resize(light, None, fx=1 / coarse, fy=1 / coarse, interpolation=cv.INTER_AREA)
    typical = np.median(small.reshape(-1, 3), axis=0).astype(np.float32)
    if typical.max() < 0.01:
        raise VisionError("The photo is too dark to tell screws from the mat. Light it more.")
    if typical[0] > FADED * typical[2]:
        raise VisionError(
            "The tinted field of the mat is not visible. Print the mat in colour and leave most of it free."
        )
    bright, left = _split(small, np.broadcast_to(typical, small.shape))
    plain = ((np.sqrt((left**2).sum(axis=-1)) / (bright + 0.05) < 0.15) & (bright > 0.45)).astype(np.float32)
    sigma = FIELD_MM * scale / coarse
    weight = cv.GaussianBlur(plain, (0, 0), sigma) + 1e-6
    field = np.dstack([cv.GaussianBlur(small[..., c] * plain, (0, 0), sigma) / weight for c in range(3)])
    out = cv.resize(field, (light.shape[1], light.shape[0]), interpolation=cv.INTER_LINEAR)
    return np.asarray(out, dtype=np.float32)


def _without_small_holes(mask: NDArray[np.uint8], scale: float) -> NDArray[np.uint8]:
    """The mask with small holes filled."""
    n, labels, stats, _ = cv.connectedComponentsWithStats((mask == 0).astype(np.uint8), connectivity=4)
    small = np.flatnonzero(stats[:, cv.CC_STAT_AREA] < HOLE_MM2 * scale**2)
    out = mask.copy()
    if n > 1 and len(small):
        out[np.isin(labels, small)] = 1
    return out


def pieces(share: NDArray[np.float32], scale: float) -> list[tuple[Floats, tuple[int, int]]]:
    """Every object apart, with the corner (x, y in px) of its patch."""
    mask = (share > 0.5).astype(np.uint8)
    count, labels, stats, _ = cv.connectedComponentsWithStats(mask, connectivity=8)
    out = []
    height, width = share.shape
    pad = 3
    for n in range(1, count):
        x, y, wide, high, area = (int(v) for v in stats[n])
        if not SMALLEST_MM2 <= area / scale**2 <= LARGEST_MM2:
            continue
        rim = x <= 1 or y <= 1 or x + wide >= width - 1 or y + high >= height - 1
        if rim and min(wide, high) < 0.8 * scale:
            continue  # the rim of the field
        x0, y0, x1, y1 = max(0, x - pad), max(0, y - pad), min(width, x + wide + pad), min(height, y + high + pad)
        own = labels[y0:y1, x0:x1]
        patch = np.where((own == n) | (own == 0), share[y0:y1, x0:x1], 0.0)
        near = cv.dilate((own == n).astype(np.uint8), np.ones((3, 3), np.uint8))
        out.append((np.where(near > 0, patch, 0.0).astype(np.float64), (x0, y0)))
    return out
