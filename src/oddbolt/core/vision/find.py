"""The mat in a photo: where it lies, how the camera looked at it, and the photo made flat and true to scale.

The camera is a pinhole with square pixels, its axis through the middle of the picture, and one term of lens distortion.
Its focal length and place are fitted to the corners of the markers (non-linear least squares), with a wide prior on the
focal length and a narrow one on the distortion, since one photo of a flat sheet alone may not tell them.
"""

from __future__ import annotations

import numpy as np
from attrs import frozen
from numpy.typing import NDArray
from scipy.optimize import least_squares

from oddbolt.core.errors import VisionError
from oddbolt.core.vision.mat import SHEETS, Floats, Mat, Picture, cv, dictionary, mat

#: the side in px that markers are looked for at
LOOKED_AT = 2200
#: usual focal length as a share of the longer side of the picture, and how far it varies (log); distortion (common
#: practice, no source)
FOCAL, FOCAL_SPREAD, DISTORTION_SPREAD = 0.85, 0.35, 0.04
CORNER_OFF_PX = 0.35
#: too oblique, too coarse, too bent: where measuring becomes doubtful
OBLIQUE_DEG, COARSE_PX_MM, BENT, ROUGH_PX = 40.0, 5.0, 0.12, 1.5
#: a photo whose edges vary less than this (variance of the Laplacian) is blurred
BLURRED = 25.0
FEWEST = 4
HELP = "Lay the whole mat flat, light it evenly and photograph it from above."


@frozen
class Camera:
    """How a photo was taken: ``rotation`` and ``shift`` take mm on the mat (z up, towards the camera) to the camera;
    focal length in px, ``k1`` the distortion, ``centre`` in px."""

    rotation: Floats
    shift: Floats
    focal: float
    k1: float
    centre: Floats

    def project(self, points: Floats) -> Floats:
        """Where points in mm, (n, 3), are seen, px (n, 2)."""
        seen = points @ self.rotation.T + self.shift
        flat = seen[:, :2] / seen[:, 2:3]
        bent = 1 + self.k1 * (flat**2).sum(axis=1, keepdims=True)
        out: Floats = self.focal * flat * bent + self.centre
        return out

    @property
    def place(self) -> Floats:
        """Where the camera was, mm on the mat and above it."""
        out: Floats = -self.rotation.T @ self.shift
        return out

    @property
    def tilt_deg(self) -> float:
        """How far the camera's axis was from straight down, degrees."""
        return float(np.degrees(np.arccos(min(1.0, abs(float(self.rotation[2, 2]))))))


@frozen
class Found:
    """A mat found: the camera, which markers were seen, px per mm in the photo at its middle, the root mean square of
    what the fit leaves in px, the relative uncertainty of the scale, and what to mind in words."""

    sheet: Mat
    camera: Camera
    markers: tuple[int, ...]
    px_per_mm: float
    residual_px: float
    scale_off: float
    warnings: tuple[str, ...]


def find_mat(picture: Picture) -> Found:
    """Find the mat in an RGB photo. Raises VisionError with what is wrong and what to do."""
    grey = cv.cvtColor(picture, cv.COLOR_RGB2GRAY)
    ids, corners = _markers(grey)
    if len(ids) < FEWEST:
        _refuse(grey, len(ids))
    if len(set(ids)) < len(ids):
        raise VisionError("Two mats in this photo, or one and its reflection. Photograph one mat only.")
    names = {name for name, (_w, _h, _s, first) in SHEETS.items() if any(first <= i < first + 16 for i in ids)}
    if len(names) > 1:
        raise VisionError("Mats of two sizes in this photo. Photograph one mat only.")
    sheet = mat(names.pop())
    known = [(i, c) for i, c in zip(ids, corners, strict=True) if i in sheet.markers]
    if len(known) < FEWEST:
        _refuse(grey, len(known))
    on_mat = np.concatenate([sheet.corners(i) for i, _ in known])
    seen = np.concatenate([c for _, c in known])
    spread = np.ptp(on_mat, axis=0)
    if spread[0] < 0.55 * sheet.width_mm or spread[1] < 0.55 * sheet.height_mm:
        raise VisionError(f"Only part of the mat is visible ({len(known)} of {len(sheet.markers)} markers). {HELP}")
    camera, residual, on_mat = _camera(on_mat, seen, grey.shape)
    middle = np.array([[sheet.width_mm / 2, sheet.height_mm / 2, 0.0]])
    scale = float(np.sqrt(abs(np.linalg.det(_jacobian(camera, middle[0])))))
    off = float(np.hypot(residual / scale / np.sqrt(len(on_mat)) / (0.4 * sheet.height_mm), 2e-4))
    return Found(
        sheet,
        camera,
        tuple(sorted(i for i, _ in known)),
        scale,
        residual,
        off,
        tuple(_warnings(camera, scale, residual, grey.shape)),
    )


def _refuse(grey: Picture, seen: int) -> None:
    mirrored, _ = _markers(np.ascontiguousarray(grey[:, ::-1]))
    if len(mirrored) >= FEWEST:
        raise VisionError(
            "The photo is mirrored. Turn off the mirroring of the front camera, or flip the picture back."
        )
    small = cv.resize(grey, None, fx=0.5, fy=0.5, interpolation=cv.INTER_AREA) if max(grey.shape) > 1000 else grey
    sharp = float(cv.Laplacian(small, cv.CV_64F).var())
    if seen and sharp < BLURRED:
        raise VisionError(
            f"The photo is blurred: only {seen} of the mat's markers are clear, and it needs {FEWEST} at least. {HELP}"
        )
    if seen:
        raise VisionError(f"Only {seen} of the mat's markers are visible; it needs {FEWEST} at least. {HELP}")
    if sharp < BLURRED:
        raise VisionError(f"No mat found, and the photo is blurred. Hold the camera still and focus on the mat. {HELP}")
    raise VisionError(f"No mat found in this photo. {HELP}")


def _markers(grey: Picture) -> tuple[list[int], list[Floats]]:
    """Ids and corners (4, 2) of all markers seen."""
    share = min(1.0, LOOKED_AT / max(grey.shape))
    small = cv.resize(grey, None, fx=share, fy=share, interpolation=cv.INTER_AREA) if share < 1 else grey
    settings = cv.aruco.DetectorParameters()
    settings.cornerRefinementMethod = cv.aruco.CORNER_REFINE_SUBPIX
    settings.adaptiveThreshWinSizeMax = 53
    settings.adaptiveThreshWinSizeStep = 10
    settings.minMarkerPerimeterRate = 0.015
    settings.cornerRefinementWinSize = 5
    corners, ids, _ = cv.aruco.ArucoDetector(dictionary(), settings).detectMarkers(small)
    if ids is None:
        return [], []
    found = [c.reshape(4, 2).astype(np.float32) for c in corners]
    if share < 1:
        stop = (cv.TERM_CRITERIA_EPS + cv.TERM_CRITERIA_MAX_ITER, 30, 0.01)
        for n, quad in enumerate(found):
            full = ((quad + 0.5) / share - 0.5).astype(np.float32).reshape(-1, 1, 2)
            side = float(np.linalg.norm(full[0, 0] - full[1, 0]))
            window = int(max(3, min(11, side / 14)))
            found[n] = cv.cornerSubPix(grey, full, (window, window), (-1, -1), stop).reshape(4, 2)
    return [int(i) for i in ids.ravel()], [c.astype(np.float64) for c in found]


def _camera(on_mat: Floats, seen: Floats, shape: tuple[int, ...]) -> tuple[Camera, float, Floats]:
    """Fit the camera to corners in mm and in px; markers that fit nothing are left out once."""
    centre = np.array([(shape[1] - 1) / 2, (shape[0] - 1) / 2])
    usual = FOCAL * max(shape[:2])
    homography, inside = cv.findHomography(on_mat, seen, cv.RANSAC, 4.0 * max(shape) / 2000)
    if homography is None:
        raise VisionError(f"The markers do not fit a flat mat. {HELP}")
    kept = inside.ravel().astype(bool)
    if kept.sum() < 3 * FEWEST:
        raise VisionError(f"The markers do not fit a flat mat. {HELP}")
    on_mat, seen = on_mat[kept], seen[kept]
    start = _start(homography, usual, centre)
    points = np.column_stack([on_mat, np.zeros(len(on_mat))])

    def off(p: Floats) -> Floats:
        camera = _of(p, centre)
        return np.concatenate(
            [
                ((camera.project(points) - seen) / CORNER_OFF_PX).ravel(),
                [(p[6] - np.log(usual)) / FOCAL_SPREAD, p[7] / DISTORTION_SPREAD],
            ]
        )

    fitted = least_squares(off, start, loss="soft_l1", f_scale=3.0, x_scale=_scales(start))
    camera = _of(fitted.x, centre)
    residual = float(np.sqrt(((camera.project(points) - seen) ** 2).sum(axis=1).mean()))
    return camera, residual, on_mat


def _scales(start: Floats) -> Floats:
    distance = max(1.0, abs(float(start[5])))
    return np.array([0.1, 0.1, 0.1, 0.1 * distance, 0.1 * distance, 0.1 * distance, 0.1, 0.05])


def _start(homography: Floats, focal: float, centre: Floats) -> Floats:
    inner = np.array([[focal, 0, centre[0]], [0, focal, centre[1]], [0, 0, 1.0]])
    columns = np.linalg.inv(inner) @ homography
    columns /= (np.linalg.norm(columns[:, 0]) + np.linalg.norm(columns[:, 1])) / 2
    if columns[2, 2] < 0:
        columns = -columns
    rotation = np.column_stack([columns[:, 0], columns[:, 1], np.cross(columns[:, 0], columns[:, 1])])
    u, _, v = np.linalg.svd(rotation)
    vector, _ = cv.Rodrigues(u @ v)
    return np.array([*vector.ravel(), *columns[:, 2], np.log(focal), 0.0])


def _of(p: Floats, centre: Floats) -> Camera:
    turned = np.asarray(cv.Rodrigues(p[:3])[0], dtype=np.float64)
    # x right and y down on the mat, so that its z points away from the camera; heights count towards the camera
    rotation = turned @ np.diag([1.0, 1.0, -1.0])
    return Camera(rotation, p[3:6], float(np.exp(p[6])), float(p[7]), centre)


def _jacobian(camera: Camera, point: Floats) -> Floats:
    """Change of the place in the photo with that on the mat, px per mm, 2 × 2."""
    step = np.array([[0.5, 0, 0], [-0.5, 0, 0], [0, 0.5, 0], [0, -0.5, 0]])
    at = camera.project(point + step)
    return np.column_stack([at[0] - at[1], at[2] - at[3]])


def _warnings(camera: Camera, scale: float, residual: float, shape: tuple[int, ...]) -> list[str]:
    corner = float(np.hypot(shape[0], shape[1])) / 2 / camera.focal
    out = []
    if camera.tilt_deg > OBLIQUE_DEG:
        out.append(
            f"The camera looked {camera.tilt_deg:.0f}° off vertical; lengths are unreliable beyond {OBLIQUE_DEG:.0f}°."
        )
    if scale < COARSE_PX_MM:
        out.append(
            f"Only {scale:.1f} px per mm; come nearer, or take a larger picture ({COARSE_PX_MM:.0f} at the least)."
        )
    if abs(camera.k1) * corner**2 > BENT:
        out.append("The lens bends straight lines; step back and zoom in.")
    if residual > max(ROUGH_PX, 0.12 * scale):
        out.append("The mat is not flat, or was printed with unequal scales; flatten it and check its ruler both ways.")
    return out


#: px between the points of the coarse map
COARSE_MAP = 8


def _extended(grid: NDArray[np.float32]) -> NDArray[np.float32]:
    """The grid with one more row and column before it, going on as straight as it began."""
    grid = np.concatenate([2 * grid[:1] - grid[1:2], grid])
    return np.concatenate([2 * grid[:, :1] - grid[:, 1:2], grid], axis=1)


def flattened(picture: Picture, found: Found, scale: float, box: tuple[float, float, float, float]) -> Picture:
    """The part ``box`` (left, top, right, bottom in mm) of the mat as seen from above, at ``scale`` px per mm."""
    across, down = round((box[2] - box[0]) * scale), round((box[3] - box[1]) * scale)
    wide, high = across // COARSE_MAP + 2, down // COARSE_MAP + 2  # the map is smooth: computed coarsely, and filled in
    x = box[0] + ((np.arange(wide) + 0.5) * COARSE_MAP) / scale
    y = box[1] + ((np.arange(high) + 0.5) * COARSE_MAP) / scale
    grid = np.stack([*np.meshgrid(x, y), np.zeros((high, wide))], axis=-1).reshape(-1, 3)
    seen = found.camera.project(grid).astype(np.float32).reshape(high, wide, 2)
    seen = _extended(seen)
    step = 1 / COARSE_MAP
    u = ((np.arange(across) + 0.5) * step - 0.5 + 1).astype(np.float32)
    v = ((np.arange(down) + 0.5) * step - 0.5 + 1).astype(np.float32)
    fine = cv.remap(seen, *np.meshgrid(u, v), cv.INTER_LINEAR)
    out = cv.remap(picture, fine[..., 0], fine[..., 1], cv.INTER_LINEAR, borderMode=cv.BORDER_REPLICATE)
    return np.asarray(out, dtype=np.uint8)
