"""One screw lying on the mat, measured by fitting its outline.

It rests on the rim of its head and on its tip, so its axis is inclined, and what stands above the mat is seen shifted
away from the camera's foot. A screw of a few sizes (length, head, shank, height of the head) is laid down so, seen from
the camera's place, and its sizes are changed until its outline lies on the one seen (Levenberg 1944, Marquardt 1963,
with the loss of Huber 1964 so that a shadow or a glint does not pull).
"""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from attrs import frozen
from numpy.typing import NDArray

from oddbolt.core.vision.mat import Floats, cv

#: edges are blunt: a picture shows so much of a radius (chosen on ray-traced pictures)
BLUNT = 0.985
#: a head is wider than the shank by this at the least
HEAD_OVER = 1.2
#: raised heads: how wide the top is, and how wide it is half-way from the wall to the top, as shares of the radius
RAISED = {"domed": (0.57, 0.84), "flat": (0.85, 0.93)}
#: how far up a head is as wide as its rim, as a share of its height, and how far that varies
WALL = {"domed": (0.48, 0.1), "flat": (0.85, 0.05)}
#: a head may be flat on top if its wall reaches so far up
FLAT_WALL = 0.5
#: the rim of a countersunk head, mm
RIM_MM = 0.14
#: the tip is chamfered to its core: its radius, and how long the chamfer is, as shares of the shank's radius
TIP, POINT = 0.76, 0.4
#: the outline of a thread lies between crest and root: its outer diameter is so much more (coarse threads)
THREADED = 1.07
#: distance beyond which a point of the outline counts as gone astray, mm
ASTRAY_MM = 0.12
#: how much of the head's radius counts as its end, and how much the rest counts against it
NEAR_HEAD, FAR = 1.7, 0.3
#: a shape that ends in this has a cone for its tip, seen up to where its radius is so many px
CONE, CONE_SEEN_PX = "^", 1.0
#: how long the cone usually is against the thread's diameter, how far that varies; it is taken if it leaves less
#: than this share of what a chamfered tip leaves
CONE_USUAL, CONE_SPREAD, CONE_BETTER = 1.0, 0.25, 0.82
MOST_POINTS = 72
#: the sine of the steepest that a short screw lies on a wide head
STEEPEST = 0.93
#: what is not so many times as long as wide (variances) is tried along so many axes
ROUND, AXES, LIKELY = 1.5, 16, 4
#: what is not so many times as long as wide (variances) is tried across, too
SLENDER = 4.5


@frozen
class Lying:
    """A screw as it lies: mm on the mat, angle of tip → head in degrees from x towards y. ``length_mm`` by convention:
    under the head, or whole for countersunk and headless ones. ``fit`` is the share of the seen outline that the model
    explains, 0 to 1; ``off_mm`` how far it lies from it on average; ``cost`` what the fit leaves; ``said``
    whether a person put its length right."""

    shape: str
    length_mm: float
    overall_mm: float
    head_mm: float
    shank_mm: float
    x_mm: float
    y_mm: float
    head_x_mm: float
    head_y_mm: float
    turn_deg: float
    fit: float
    off_mm: float
    cost: float
    said: bool = False


@frozen
class View:
    """How a screw is seen: from where, mm on the mat and above it, and the radius of the thinnest that shows, mm."""

    eye: Floats
    thinnest_mm: float


def measured(share: Floats, scale: float, origin: tuple[float, float], eye: Floats) -> tuple[Lying, ...]:
    """Measure the one object in ``share`` (how much of each pixel is object, 0 to 1), whose upper left corner lies at
    ``origin`` mm; ``eye`` is the camera's place. The ways it may be read, the likeliest first: with a domed, flat or
    countersunk head, or without; none for what is round or too small to have an axis."""
    view = View(eye, CONE_SEEN_PX / scale)
    starts = _starts(share, scale, origin)
    line = outline(share, scale, origin)
    if not starts or len(line) < 16:
        return ()
    line = line[:: max(1, len(line) // MOST_POINTS)]
    start = starts[0]
    if len(starts) > 1:  # the fit decides which way it lies
        few = line[:: max(1, len(line) // 40)]
        likely = sorted((_fitted(few, view, s, "flat", 4) for s in starts), key=lambda t: t[1])[:LIKELY]
        start = min((_fitted(few, view, s, "domed", 8) for s, _ in likely), key=lambda t: t[1])[0]
    raised, cost = _fitted(line, view, start, "domed")
    if cost > 0.25 * len(line) or raised[1] < 1.4 * raised[2]:  # astray: once more, with a usual head
        again = start.copy()
        again[1] = max(again[1], 1.7 * again[2])
        again[0], again[3] = start[0] + start[3] - HIGH * again[1], HIGH * again[1]
        raised, cost = min((raised, cost), _fitted(line, view, again, "domed"), key=lambda t: t[1])
    tries = [(raised, cost, "domed")]
    if raised[7] > FLAT_WALL:
        tries.append((*_fitted(line, view, _walled(raised, "flat"), "flat", 5), "flat"))
    sunk = raised.copy()  # a countersunk one begins from where a raised one ended
    sunk[0] += raised[3]
    tries.append((*_fitted(line, view, sunk, "countersunk"), "countersunk"))
    best = min(tries, key=lambda t: t[1])[0]
    if best[1] < HEAD_OVER * best[2]:
        tries = [(*_fitted(line, view, sunk, "headless"), "headless")]
    near = _near_head(line, min(tries, key=lambda t: t[1])[0])
    tries = [(sizes, _cost(_residual(line, view, sizes, shape) * near), shape) for sizes, _, shape in tries]
    tries.sort(key=lambda t: t[1])
    tries[0] = _with_its_tip(line, view, *tries[0])
    told = (_told(line, view, sizes, shape, cost) for sizes, cost, shape in tries)
    return tuple(t for t in told if t is not None)


def _with_its_tip(line: Floats, view: View, sizes: Floats, cost: float, shape: str) -> tuple[Floats, float, str]:
    """The fit with a cone for a tip where that explains the outline better, else as it is."""
    before = _cost(_residual(line, view, sizes, shape))
    start = sizes.copy()
    start[8] = 1.8 * sizes[2]
    back = 0.45 * start[8]
    start[0] += back
    start[4:6] -= back * np.array([np.cos(sizes[6]), np.sin(sizes[6])])
    pointed, after = _fitted(line, view, start, shape + CONE)
    if after > CONE_BETTER * before or pointed[8] < 0.5 * pointed[2]:
        return sizes, cost, shape
    return pointed, cost * after / max(before, 1e-9), shape + CONE


def _near_head(line: Floats, sizes: Floats) -> Floats:
    """How much each point, and each of what else is left, says of the head's shape: the threads' shadows say little."""
    along = np.array([np.cos(sizes[6]), np.sin(sizes[6])])
    place = (line - sizes[4:6]) @ along
    at_head = place > sizes[0] + sizes[3] - NEAR_HEAD * sizes[1]
    return np.append(np.where(at_head, 1.0, FAR), np.ones(PRIORS))


def _told(line: Floats, view: View, sizes: Floats, shape: str, cost: float) -> Lying | None:
    long, big, r, high, x, y, turn, _wall, _cone = (float(v) for v in sizes)
    off = np.abs(_distance(line, view, sizes, shape))
    shape = shape.removesuffix(CONE)
    if shape == "headless":
        big = r
    if long < 0.5 or r < 0.2:
        return None
    if shape == "countersunk":
        long -= 0.3 * RIM_MM  # the model's rim is blunt as a picture shows it
    overall = long + high if shape in RAISED else long
    along = np.array([np.cos(turn), np.sin(turn)])
    middle, ahead = np.array([x, y]) + along * overall / 2, np.array([x, y]) + along * overall * 0.9
    return Lying(
        shape,
        long,
        overall,
        2 * big if shape != "headless" else 2 * r * THREADED,
        2 * r * THREADED,
        float(middle[0]),
        float(middle[1]),
        float(ahead[0]),
        float(ahead[1]),
        float(np.degrees(turn)) % 360,
        float((off < 2 * ASTRAY_MM).mean()),
        float(off.mean()),
        cost,
    )


def outline(share: Floats, scale: float, origin: tuple[float, float]) -> Floats:
    """Points of the outline where the object covers half a pixel, mm."""
    padded = np.pad(share, 2).astype(np.float32)
    contours, _ = cv.findContours((padded > 0.5).astype(np.uint8), cv.RETR_EXTERNAL, cv.CHAIN_APPROX_NONE)
    if not contours:
        return np.zeros((0, 2))
    points = max(contours, key=cv.contourArea).reshape(-1, 2)
    smooth = cv.GaussianBlur(padded, (0, 0), 0.6)
    down, across = np.gradient(smooth)
    at = points[:, 1], points[:, 0]
    slope = np.column_stack([across[at], down[at]])
    steep = np.maximum((slope**2).sum(axis=1), 1e-4)
    step = np.clip((0.5 - smooth[at]) / steep, -3.0, 3.0)[:, None] * slope
    length = np.linalg.norm(step, axis=1, keepdims=True)
    step = np.where(length > 1.0, step / np.maximum(length, 1e-9), step)
    out: Floats = (points + step - 2 + 0.5) / scale + np.array(origin)
    return out


# -- the model ----------------------------------------------------------------------------------------------


def _discs(sizes: Floats, shape: str, thinnest_mm: float) -> list[list[tuple[Floats, Floats]]]:
    """The model's convex pieces, shank and head, as discs: place along the axis and radius, for every row of sizes."""
    long, big, r, high = (sizes[:, n] for n in range(4))
    point = np.minimum(POINT * r, 0.3 * long)
    tip = [(0 * long, TIP * r), (point, r)]
    if shape.endswith(CONE):
        shape, point = shape.removesuffix(CONE), np.minimum(sizes[:, 8], 0.8 * long)
        seen = np.minimum(thinnest_mm / r, 0.6)
        tip = [(point * seen, r * seen), (point, r)]
    if shape == "countersunk":
        depth = np.minimum(np.maximum(big - r, 0.05), 0.8 * long)
        neck = long - depth - RIM_MM
        return [[*tip, (np.maximum(neck, point), r)], [(neck, r), (long - RIM_MM, big), (long, big - 0.6 * RIM_MM)]]
    if shape == "headless":
        return [[*tip, (long, r)]]
    top, middle = RAISED[shape]
    wall = sizes[:, 7]
    head = [(long, big), (long + wall * high, big), (long + (1 + wall) / 2 * high, middle * big)]
    return [[*tip, (long, r)], [*head, (long + high, top * big)]]


def _support(sizes: Floats, shape: str, view: View, normals: Floats) -> list[Floats]:
    """How far each piece reaches in each direction, mm: an array (rows of sizes, directions) for every piece."""
    plain = shape.removesuffix(CONE)
    long, big, r = sizes[:, 0], sizes[:, 1] if plain != "headless" else sizes[:, 2], sizes[:, 2]
    # it sinks until its tip, or the thread behind it, meets the mat
    point, tip = (np.minimum(POINT * r, 0.3 * long), TIP * r) if shape == plain else (sizes[:, 8], 0.0)
    behind = np.maximum(long - point, 0.2 if shape == plain else 0.5)
    slope = np.minimum((big - tip) / np.maximum(long, 0.5), (big - THREADED * r) / behind)
    slope = 0.0 * slope if plain == "headless" else slope
    sine = np.clip(slope / np.hypot(1, slope), -0.7, STEEPEST)[:, None]
    cosine = np.sqrt(1 - sine * sine)
    pieces = _discs(sizes, shape, view.thinnest_mm)
    s = np.stack([d[0] for discs in pieces for d in discs], axis=1)
    radius = np.stack([d[1] for discs in pieces for d in discs], axis=1)
    turn = sizes[:, 6, None]
    ax, ay = np.cos(turn), np.sin(turn)
    h = big[:, None] * cosine - (long[:, None] - s) * sine
    over = view.eye[2] - h
    rise, larger = h / over, 1 + h / over
    dx, dy = sizes[:, 4, None] + s * cosine * ax - view.eye[0], sizes[:, 5, None] + s * cosine * ay - view.eye[1]
    nx, ny = normals[:, 0], normals[:, 1]
    # a disc is seen as an ellipse with these half axes, as far as it is small against the camera's distance
    lift = view.eye[2] / over**2 * cosine
    ux, uy = dx * lift - larger * sine * ax, dy * lift - larger * sine * ay
    across = (larger * -ay)[..., None] * nx + (larger * ax)[..., None] * ny
    half = np.hypot(across, ux[..., None] * nx + uy[..., None] * ny)
    seen_x, seen_y = view.eye[0] + dx * (1 + rise), view.eye[1] + dy * (1 + rise)
    reach = seen_x[..., None] * nx + seen_y[..., None] * ny + BLUNT * radius[..., None] * half
    ends = np.cumsum([0, *(len(discs) for discs in pieces)])
    return [reach[:, a:b].max(axis=1) for a, b in pairwise(ends.tolist())]


def silhouette(sizes: Floats, shape: str, view: View) -> list[Floats]:
    """The outlines of the model's pieces as seen on the mat, mm: a polygon (n, 2) each."""
    angles = np.linspace(0, 2 * np.pi, 180, endpoint=False)
    normals = np.column_stack([np.cos(angles), np.sin(angles)])
    out = []
    for reach in _support(np.atleast_2d(sizes), shape, view, normals):
        a, b = normals, np.roll(normals, -1, axis=0)
        h, k = reach[0], np.roll(reach[0], -1)
        area = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
        out.append(np.column_stack([h * b[:, 1] - k * a[:, 1], k * a[:, 0] - h * b[:, 0]]) / area[:, None])
    return out


def _directions(turn: float) -> Floats:
    """Directions that outlines are measured in: all round, and closely about those of the long sides and the ends."""
    fine = np.radians([-7, -4, -2.2, -1.2, -0.6, -0.2, 0, 0.2, 0.6, 1.2, 2.2, 4, 7])
    angles = np.concatenate([np.arange(0, 2 * np.pi, np.pi / 14), *(fine + q * np.pi / 2 for q in range(4))]) + turn
    return np.column_stack([np.cos(angles), np.sin(angles)])


def _distance(line: Floats, view: View, sizes: Floats, shape: str) -> Floats:
    """How far each point of the outline lies outside the model (inside: below 0), mm, for every row of sizes."""
    rows = np.atleast_2d(sizes)
    normals = _directions(float(rows[0, 6]))
    far = line @ normals.T
    pieces = [(far[None] - reach[:, None, :]).max(axis=2) for reach in _support(rows, shape, view, normals)]
    found: Floats = np.minimum.reduce(pieces)
    return found if sizes.ndim > 1 else found[0]


FARTHEST = np.array([0.8, 0.4, 0.3, 0.4, 0.8, 0.8, 0.25, 0.1, 0.4])
STEPS = np.array([1e-3, 1e-3, 1e-3, 1e-3, 1e-3, 1e-3, 1e-4, 1e-3, 1e-3])
#: usual height of a raised head as a share of its radius, and how far it varies
HIGH, HIGH_SPREAD = 0.72, 0.2
#: usual diameter of a head against the thread's, and how far it varies (ISO 7045, ISO 7046, ISO 14583: 1.75 to 2)
WIDE, WIDE_SPREAD = 1.88, 0.16


#: what a fit leaves beside the points: how unusual the head's height, width and wall and the tip's cone are
PRIORS = 4


def _residual(line: Floats, view: View, sizes: Floats, shape: str) -> Floats:
    """What is left of the fit, in the sizes of errors: the points' distances, and how unusual the head is."""
    rows, whole = np.atleast_2d(sizes), shape
    shape = shape.removesuffix(CONE)
    high = (rows[:, 3] / np.maximum(rows[:, 1], 0.1) - HIGH) / HIGH_SPREAD if shape in RAISED else 0 * rows[:, 3]
    wide = (rows[:, 1] / (THREADED * rows[:, 2]) - WIDE) / WIDE_SPREAD if shape != "headless" else 0 * rows[:, 1]
    usual, spread = WALL.get(shape, (0.5, 0.1))
    wall = (rows[:, 7] - usual) / spread
    cone = (rows[:, 8] / (2 * THREADED * rows[:, 2]) - CONE_USUAL) / CONE_SPREAD if whole != shape else 0 * rows[:, 8]
    found = _distance(line, view, rows, whole) / ASTRAY_MM
    out: Floats = np.concatenate([found, high[:, None], wide[:, None], wall[:, None], cone[:, None]], axis=1)
    return out if sizes.ndim > 1 else out[0]


def _walled(sizes: Floats, shape: str) -> Floats:
    """These sizes with the usual wall of a head of this shape."""
    out = sizes.copy()
    out[7] = WALL[shape][0]
    return out


def _cost(off: Floats) -> float:
    size = np.abs(off)
    return float(np.where(size < 1, 0.5 * size**2, size - 0.5).sum())


def _fitted(line: Floats, view: View, start: Floats, shape: str, turns: int = 10) -> tuple[Floats, float]:
    """Sizes (length, head and shank radius, height of the head, x and y of the tip, direction, how far up the head is
    as wide as its rim, length of the tip's cone) that bring the model onto the outline, and what is left."""
    sizes = np.array(start, dtype=np.float64)
    off = _residual(line, view, sizes, shape)
    cost, damping = _cost(off), 1e-2
    for _ in range(turns):
        slope = ((_residual(line, view, sizes + np.diag(STEPS), shape) - off) / STEPS[:, None]).T
        weight = 1 / np.maximum(1.0, np.abs(off))
        square = slope.T @ (slope * weight[:, None])
        pull = slope.T @ (off * weight)
        for _ in range(5):
            change = np.linalg.solve(square + damping * np.diag(np.diag(square) + 1e-6), -pull)
            trial = sizes + np.clip(change, -FARTHEST, FARTHEST)
            trial[:4] = np.maximum(trial[:4], (0.5, 0.25, 0.2, 0.1))
            trial[7] = np.clip(trial[7], 0.1, 0.95)
            trial[8] = np.clip(trial[8], 0.2 * trial[2], 0.7 * trial[0])
            trial_off = _residual(line, view, trial, shape)
            trial_cost = _cost(trial_off)
            if trial_cost < cost:
                break
            damping *= 6
        else:
            break
        better = cost - trial_cost
        sizes, off, cost, damping = trial, trial_off, trial_cost, max(damping / 5, 1e-5)
        if better < 6e-3 * (1 + cost):
            break
    return sizes, cost


# -- where to begin -----------------------------------------------------------------------------------------


def _starts(share: Floats, scale: float, origin: tuple[float, float]) -> list[Floats]:
    """Rough sizes from the object's widths along its axis; along several axes where none is plainly longest, as on a
    wide head with a short shank; none where it is too small."""
    ys, xs = np.nonzero(share > 0.5)
    if len(xs) < 12:
        return []
    values, vectors = np.linalg.eigh(np.cov(np.vstack([xs, ys])))
    axes = [vectors[:, 1]]
    if values[1] < ROUND * max(values[0], 1e-9):
        angles = np.radians(np.arange(0, 360, 360 / AXES))
        axes = list(np.column_stack([np.cos(angles), np.sin(angles)]))
    either_way = len(axes) == 1
    found = [s for axis in axes if (s := _along(xs, ys, axis, scale, origin, either_way)) is not None]
    if either_way and values[1] < SLENDER * values[0]:  # a wide head's bar may be longer than the screw
        beside = np.array([-axes[0][1], axes[0][0]])
        across_it = (_along(xs, ys, sign * beside, scale, origin, False) for sign in (1.0, -1.0))
        found += [s for s in across_it if s is not None]
    if not either_way:  # a wide thin head, which lies steeply and is seen as an ellipse
        across = float(np.sqrt(len(xs) / np.pi)) / scale
        for start in list(found):
            thin = start.copy()
            whole = start[0] + start[3]
            thin[1:4] = across, min(max(start[2], 0.3 * across), 0.5 * across), 0.3 * across
            thin[0] = max(0.8 * whole, 0.7)
            found.append(thin)
    return found


def _along(
    xs: NDArray[np.int64], ys: NDArray[np.int64], axis: Floats, scale: float, origin: tuple[float, float], turned: bool
) -> Floats | None:
    """Rough sizes along an axis, tip first; ``turned`` lets the wider end be the head whichever it is."""
    centre = np.array([xs.mean(), ys.mean()])
    u = (xs - centre[0]) * axis[0] + (ys - centre[1]) * axis[1]
    v = -(xs - centre[0]) * axis[1] + (ys - centre[1]) * axis[0]
    bins = np.floor(u - u.min()).astype(int)
    width = np.bincount(bins) / scale
    if len(width) < 5:
        return None
    part = max(2, int(0.4 * len(width)))
    if turned and width[:part].max() > width[-part:].max():
        axis, u, v = -axis, -u, -v
        width = width[::-1]
    shank = float(np.percentile(width[: max(3, int(0.55 * len(width)))], 60))
    head = float(np.sort(width[-part:])[-3:].mean())
    wide = np.flatnonzero(width > (shank + head) / 2)
    at_head = wide[wide > 0.4 * len(width)]
    high = (len(width) - int(at_head[0])) / scale if len(at_head) and head > HEAD_OVER * shank else 0.3 * head
    whole = len(width) / scale
    high = float(np.clip(high, 0.1, 0.7 * whole))
    tip = centre + axis * u.min()
    place = np.array(origin) + (tip + 0.5) / scale
    turn = float(np.arctan2(axis[1], axis[0]))
    return np.array([whole - high, head / 2, shank / 2, high, place[0], place[1], turn, WALL["domed"][0], 0.0])
