"""A photo with what a scan found drawn over it."""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np

from oddbolt.core.errors import FileError
from oddbolt.core.vision.mat import Picture
from oddbolt.core.vision.scan import Scan

INK, COPPER, PAPER = (35, 39, 43), (200, 90, 40), (250, 247, 240)


def write_scan(path: Path, photo: Picture, scan: Scan) -> None:
    """Write the RGB photo with outlines and lengths as FILE.png or FILE.jpg. Raises FileError."""
    from PIL import Image

    if path.suffix.lower() not in (".png", ".jpg", ".jpeg"):
        raise FileError(f"The result is drawn into a .png or .jpg, not {path.suffix or path.name}.")
    picture = photo.copy()
    camera = scan.found.camera
    thick = max(1, round(max(picture.shape) / 1200))
    for thing in scan.things:
        if not thing.outline:
            continue
        line = np.array([(x, y, 0.0) for x, y in thing.outline])
        seen = np.round(camera.project(line)).astype(np.int32)
        colour = PAPER if thing.screw is not None else COPPER
        cv2.polylines(picture, [seen], True, colour, thick, cv2.LINE_AA)
        words = f"{thing.screw.length_mm:.1f}" if thing.screw is not None else "?"
        at = camera.project(np.array([[thing.x_mm, thing.y_mm, 0.0]]))[0]
        place = (int(at[0]) + 6 * thick, int(at[1]) - 6 * thick)
        for shade, width in ((INK, 4 * thick), (colour, thick)):
            cv2.putText(picture, words, place, cv2.FONT_HERSHEY_SIMPLEX, 0.5 * thick, shade, width, cv2.LINE_AA)
    try:
        Image.fromarray(picture).save(path)
    except OSError as error:
        raise FileError(f"{path} cannot be written: {error.strerror or error}.") from None
