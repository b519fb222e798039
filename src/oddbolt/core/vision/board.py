"""Outlines proposed on the photo of a circuit board: bodies, shields, connectors and mounting holes.

The board's own colour (its solder mask) is the commonest within its edge; what differs from it by colour or
brightness is something that stands on it. Pieces of one tone that are about rectangular or round are proposed. What
is proposed is a proposal: nothing is a part before somebody says so."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np
from attrs import frozen
from numpy.typing import NDArray

from oddbolt.core.errors import VisionError
from oddbolt.core.vision.mat import Floats, Picture, cv

#: the longest side that is looked at, px; and the least and largest area proposed, as shares of the board
WORKED_PX, SMALLEST, LARGEST = 1100, 0.0012, 0.5
#: how well a piece must fill its rectangle or circle, and how long it may be for its width
FILLED, LONGEST = 0.72, 9.0
#: least share of the picture that a board takes
LEAST_BOARD = 0.03
#: how far from the board's colour something is that stands on it, in steps of CIE L*a*b*; by less
#: where its shape is the plainer for it
APART = 13.0
#: a board of less colour than this is a black or white one
BLACK = 9.0
#: what is faint must be so many times as large
FAINT = 2.5
LEVELS = ((APART, 0.0), (8.5, 0.8), (5.5, 0.86))


@frozen
class Proposal:
    """An outline in fractions of the picture's width and height. ``kind`` is body (dark), shield (bright and grey),
    connector (light or coloured), hole or round; ``filled`` how well it fills its rectangle or circle, 0 to 1; ``tone``
    its lightness, 0 to 100."""

    corners: tuple[tuple[float, float], ...]
    kind: str
    filled: float
    tone: float

    @property
    def area(self) -> float:
        """Its share of the picture."""
        return abs(_area(self.corners))


@frozen
class Proposed:
    """The board's own edge, if one was found, and what was proposed on it, the largest first."""

    edge: tuple[tuple[float, float], ...]
    outlines: tuple[Proposal, ...]


def propose(picture: Picture, edge: Sequence[tuple[float, float]] = (), smallest: float = SMALLEST) -> Proposed:
    """Propose outlines on a photo (height, width, 3; RGB, 8 bits). ``edge`` is the board's outline in fractions of the
    picture, if somebody drew it; ``smallest`` the least area, as a share of the board.

    Raises VisionError where the picture is too small or no board is seen on it.
    """
    high, wide = picture.shape[:2]
    if min(high, wide) < 120:
        raise VisionError("The photo is too small to find parts on; 120 px across is the least.")
    scale = min(1.0, WORKED_PX / max(high, wide))
    small = cv.resize(picture, None, fx=scale, fy=scale, interpolation=cv.INTER_AREA) if scale < 1 else picture
    lab = cv.cvtColor(cv.bilateralFilter(small, 7, 30, 5), cv.COLOR_RGB2LAB).astype(np.float32)
    lab[..., 0] *= 100 / 255
    lab[..., 1:] -= 128
    board = _board(lab, edge)
    found = _pieces(lab, board, smallest)
    size = np.array([small.shape[1], small.shape[0]])
    outer = tuple(map(tuple, (_quad(board) / size).clip(0, 1).tolist())) if not edge else tuple(edge)
    outlines = [_in_fractions(one, size) for one in found]
    outlines.sort(key=lambda p: -p.area)
    return Proposed(outer, tuple(outlines))


# -- the board -----------------------------------------------------------------------------------------------


def _board(lab: Floats, edge: Sequence[tuple[float, float]]) -> NDArray[np.uint8]:
    """The mask of the board: what was drawn, else the largest piece of one strong colour, with what it encloses."""
    high, wide = lab.shape[:2]
    mask = np.zeros((high, wide), np.uint8)
    if edge:
        points = (np.array(edge) * [wide, high]).round().astype(np.int32)
        cv.fillPoly(mask, [points], 1)
        if mask.mean() < LEAST_BOARD / 4:
            raise VisionError("The outline of the board is too small.")
        return mask
    best, most = mask, 0.0
    for colours in _colours(lab):
        closed = cv.morphologyEx(colours, cv.MORPH_CLOSE, np.ones((9, 9), np.uint8))
        closed = cv.morphologyEx(closed, cv.MORPH_OPEN, np.ones((7, 7), np.uint8))
        outlines, _ = cv.findContours(closed, cv.RETR_EXTERNAL, cv.CHAIN_APPROX_NONE)
        for outline in outlines:
            hull = cv.convexHull(outline)
            area = float(cv.contourArea(hull))
            if area < LEAST_BOARD * mask.size:
                continue
            inside = np.zeros_like(mask)
            cv.fillPoly(inside, [hull], 1)
            own = float((colours * inside).sum())
            (_, _), (a, b), _ = cv.minAreaRect(hull)
            full = area / max(a * b, 1.0)
            rim = np.concatenate([inside[0], inside[-1], inside[:, 0], inside[:, -1]])
            worth = own * full**3 * (1.0 - 0.85 * float(rim.mean()))
            if own > 0.18 * area and full > 0.6 and worth > most:
                best, most = inside, worth
    if not best.any():
        raise VisionError("No board is seen on the photo; draw its edge, or crop the photo to it.")
    return best


def _colours(lab: Floats) -> list[NDArray[np.uint8]]:
    """Masks of the colours that a board may have: green, blue, red, and the picture's commonest tones."""
    chroma = np.hypot(lab[..., 1], lab[..., 2])
    hue = np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360
    out = []
    for low, high in ((110, 200), (215, 300), (0, 60)):
        inside = (hue >= low) & (hue <= high) & (chroma > 8)
        out.append(inside.astype(np.uint8))
    border = np.concatenate([lab[:6].reshape(-1, 3), lab[-6:].reshape(-1, 3), lab[:, :6].reshape(-1, 3)])
    ground = np.median(border, axis=0)
    out.append((np.linalg.norm(lab - ground, axis=2) > APART).astype(np.uint8))
    sample = np.ascontiguousarray(lab[::4, ::4].reshape(-1, 3))
    criteria = (cv.TERM_CRITERIA_EPS + cv.TERM_CRITERIA_MAX_ITER, 20, 0.5)
    cv.setRNGSeed(7)
    _, _, middles = cv.kmeans(sample, 5, None, criteria, 2, cv.KMEANS_PP_CENTERS)
    tones = [middle for middle in middles if np.linalg.norm(middle - ground) > APART]
    return out + [(np.linalg.norm(lab - tone, axis=2) < 1.6 * APART).astype(np.uint8) for tone in tones]


def _quad(mask: NDArray[np.uint8]) -> Floats:
    """The rectangle of least area round a mask, px."""
    outlines, _ = cv.findContours(mask, cv.RETR_EXTERNAL, cv.CHAIN_APPROX_NONE)
    largest = max(outlines, key=cv.contourArea)
    corners: Floats = cv.boxPoints(cv.minAreaRect(largest)).astype(np.float64)
    return corners


# -- what stands on it ---------------------------------------------------------------------------------------


def _pieces(lab: Floats, board: NDArray[np.uint8], smallest: float) -> list[tuple[Floats, str, float, float]]:
    inside = cv.erode(board, np.ones((3, 3), np.uint8)).astype(bool)
    own = _own_colour(lab, inside)
    ground = _lit(lab, own, inside)
    apart = np.linalg.norm((lab - ground) * [0.8, 1.2, 1.2], axis=2)
    chroma = np.hypot(lab[..., 1], lab[..., 2])
    lighter = lab[..., 0] - ground[..., 0]
    strength = float(np.hypot(*own[1:]))
    area = float(board.sum())
    found: list[tuple[Floats, str, float, float]] = []
    for steps, least in LEVELS:
        differs = (apart > steps) & inside
        dark = differs & (lighter < -0.3 * steps) & (chroma < max(14.0, 0.75 * strength))
        grey = differs & (chroma < 12) & (lighter > 0.45 * steps)
        plain = differs & (chroma < 0.55 * strength) & (strength > 8)
        coloured = differs & ~dark & ~grey & (lighter > 0)
        masks = [(dark, "body"), (grey, "shield"), (plain, "any")]
        masks += [(coloured, "connector"), (differs, "any")] if steps == APART else []
        for mask, kind in masks:
            for part in _split(mask):
                made = _shape(part, area, smallest if steps == APART else FAINT * smallest, kind, lab, own)
                if made is not None and made[2] >= least:
                    found.append(made)
    if strength < BLACK:
        for part in _split(_enclosed(lab, inside), (3,)):
            made = _shape(part, area, smallest, "rim", lab, own)
            if made is not None and made[2] >= 0.86:
                found.append(made)
    return _without_doubles(found)


def _own_colour(lab: Floats, inside: NDArray[np.bool_]) -> Floats:
    """The commonest colour within the board's edge, favouring coloured over grey and black."""
    pixels = lab[inside]
    bins = np.floor(pixels / np.array([6.0, 5.0, 5.0], np.float32)).astype(np.int32)
    codes, counts = np.unique(bins @ np.array([10_000, 100, 1], np.int32) + 5050, return_counts=True)
    keys = np.column_stack([codes // 10_000, codes // 100 % 100 - 50, codes % 100 - 50])
    strength = counts * (0.4 + np.minimum(np.hypot(keys[:, 1] * 5.0, keys[:, 2] * 5.0), 25.0) / 25.0)
    near = np.abs(bins - keys[int(np.argmax(strength))]).max(axis=1) <= 1
    own: Floats = np.median(pixels[near], axis=0)
    return own


def _lit(lab: Floats, own: Floats, inside: NDArray[np.bool_]) -> Floats:
    """The board's own colour at every pixel, its lightness as a plane: lamps shine from one side. Fitted twice by least
    squares to what has about that colour."""
    high, wide = lab.shape[:2]
    y, x = np.mgrid[0:high, 0:wide].astype(np.float64)
    ground = np.broadcast_to(own.astype(np.float64), lab.shape).copy()
    for _ in range(2):
        near = inside & (np.linalg.norm((lab - ground) * [0.6, 1.2, 1.2], axis=2) < APART)
        if near.sum() < 500:
            break
        columns = np.column_stack([np.ones(int(near.sum())), x[near] / wide, y[near] / high])
        fit = np.linalg.lstsq(columns[::7], lab[..., 0][near][::7], rcond=None)[0]
        ground[..., 0] = fit[0] + fit[1] * x / wide + fit[2] * y / high
        ground[..., 1:] = np.median(lab[near][:, 1:], axis=0)
    return ground


#: a piece of a mask: itself, and where its upper left corner lies (x, y)
Piece = tuple[NDArray[np.uint8], tuple[int, int]]


def _split(mask: NDArray[np.bool_], sizes: Sequence[int] = (3, 7, 13, 21)) -> Iterator[Piece]:
    """The connected pieces of a mask, cleaned of threads; those that hang together by a neck are parted."""
    clean = cv.morphologyEx(mask.astype(np.uint8), cv.MORPH_OPEN, np.ones((3, 3), np.uint8))
    for size in sizes:
        done = cv.morphologyEx(clean, cv.MORPH_OPEN, np.ones((size, size), np.uint8)) if size > 3 else clean
        count, labels, stats, _ = cv.connectedComponentsWithStats(done, connectivity=4)
        for n in range(1, count):
            left, top, wide, high, area = (int(v) for v in stats[n])
            if area >= 30 and area >= 0.3 * wide * high * min(wide, high) / max(wide, high):
                yield (labels[top : top + high, left : left + wide] == n).astype(np.uint8), (left, top)


def _enclosed(lab: Floats, inside: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """What faint edges enclose: on a black board a black body differs from it by hardly more than its rim."""
    grey = np.clip(lab[..., 0] * 2.55, 0, 255).astype(np.uint8)
    edges = cv.Canny(cv.GaussianBlur(grey, (0, 0), 1.2), 8, 20)
    clear: NDArray[np.bool_] = (cv.dilate(edges, np.ones((3, 3), np.uint8)) == 0) & inside
    return clear


def _shape(
    piece: Piece, board_area: float, smallest: float, kind: str, lab: Floats, own: Floats
) -> tuple[Floats, str, float, float] | None:
    """The rectangle or circle that a piece fills, with what it is; None for what fills neither or has no fitting
    size."""
    part, (left, top) = piece
    outlines, _ = cv.findContours(
        cv.copyMakeBorder(part, 1, 1, 1, 1, cv.BORDER_CONSTANT), cv.RETR_EXTERNAL, cv.CHAIN_APPROX_NONE
    )
    outline = max(outlines, key=cv.contourArea) + np.array([left - 1, top - 1])
    hull = cv.convexHull(outline)
    filled_area = float(cv.contourArea(outline))
    (cx, cy), (a, b), turn = cv.minAreaRect(hull)
    grown = 5.0 if kind == "rim" else 1.0  # from the middles of the outer pixels to their rims
    a, b = a + grown, b + grown
    box = a * b
    if not smallest * board_area <= box <= LARGEST * board_area or max(a, b) > LONGEST * min(a, b):
        return None
    (mx, my), radius = cv.minEnclosingCircle(hull)
    radius += grown / 2
    filled_area += grown * (a + b) - grown**2
    as_box, as_disc = min(1.0, filled_area / box), min(1.0, filled_area / (np.pi * radius**2))
    if max(as_box, as_disc) < FILLED:
        return None
    tone = lab[top : top + part.shape[0], left : left + part.shape[1]][part.astype(bool)]
    middle = np.median(tone, axis=0)
    if kind == "any" and float(np.mean(np.abs(tone[:, 0] - middle[0]))) > 14:
        return None  # a crowd of small things, or a part and its shadow
    if as_disc > 0.86 and as_disc > as_box:
        angles = np.linspace(0, 2 * np.pi, 24, endpoint=False)
        corners = np.column_stack([mx + radius * np.cos(angles), my + radius * np.sin(angles)])
        small = np.pi * radius**2 < 0.006 * board_area
        return corners, "hole" if small else "round", as_disc, float(middle[0])
    if as_box < FILLED:
        return None
    corners = cv.boxPoints(((cx, cy), (a, b), turn)).astype(np.float64)
    return corners, _named(kind, middle, own), as_box, float(middle[0])


def _named(kind: str, middle: Floats, own: Floats) -> str:
    if kind not in ("any", "rim"):
        return kind
    if middle[0] < own[0]:
        return "body"
    return "shield" if np.hypot(*middle[1:]) < 12 else "connector"


def _without_doubles(
    found: list[tuple[Floats, str, float, float]],
) -> list[tuple[Floats, str, float, float]]:
    """Of outlines that cover each other mostly, the one that is filled best; one within another stays beside it only
    where it is much smaller."""
    from shapely.geometry import Polygon

    kept: list[tuple[Floats, str, float, float]] = []
    shapes: list[Polygon] = []
    for one in sorted(found, key=lambda f: -(f[2] + 0.02 * np.log(_area(f[0].tolist()) ** 2))):
        shape = Polygon(one[0])
        double = False
        for other in shapes:
            both = shape.intersection(other).area
            if both > 0.45 * min(shape.area, other.area):
                double = True
                break
        if not double:
            kept.append(one)
            shapes.append(shape)
    return kept


def _in_fractions(one: tuple[Floats, str, float, float], size: NDArray[np.int64]) -> Proposal:
    corners = ((one[0] + 0.5) / size).clip(0, 1)
    return Proposal(tuple((float(x), float(y)) for x, y in corners), one[1], round(float(one[2]), 3), round(one[3], 1))


def _area(corners: Sequence[Sequence[float]]) -> float:
    x, y = np.array(corners, dtype=np.float64).T
    return float((x * np.roll(y, -1) - y * np.roll(x, -1)).sum() / 2)
