"""The map of a board as SVG: the photo, outlines with their names, areas as washes."""

from __future__ import annotations

import base64
from html import escape
from pathlib import Path

from oddbolt.core.components.board_maps import map_of, progress, regions_of
from oddbolt.core.errors import FileError
from oddbolt.core.study import Study
from oddbolt.core.study.board_map import corners_in
from oddbolt.files.pictures import small
from oddbolt.files.text import write_text

#: how wide the photo is drawn, units of the drawing; and its colours: named, not named, area, edge
WIDE = 1200.0
NAMED, OPEN, AREA, EDGE = "#24635A", "#A64A26", "#C8BCA9", "#655E53"


def board_svg(study: Study, photo_id: str, data: bytes | None) -> str:
    """One face of a board. Raises FileError where the photo is no map."""
    photo, board = study.photos.get(photo_id), map_of(study, photo_id)
    if photo is None or board is None:
        raise FileError("This photo is no map of a board.")
    high = WIDE * photo.height / max(photo.width, 1)
    title = f"{study.name(board.part) if board.part else 'Board'}, {board.face}"
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" '
        f'viewBox="0 0 {WIDE:.0f} {high + 30:.0f}" font-family="sans-serif">',
        f"<title>{escape(title)}</title>",
    ]
    if data:
        whole = small(data, type(photo)(photo.id, photo.sha256), int(WIDE))
        coded = base64.b64encode(whole).decode()
        out.append(f'<image width="{WIDE:.0f}" height="{high:.0f}" xlink:href="data:image/jpeg;base64,{coded}"/>')
    for region in regions_of(study, photo_id):
        corners = [(x * WIDE, y * high) for x, y in corners_in(region.outline)]
        points = " ".join(f"{x:.1f},{y:.1f}" for x, y in corners)
        name = study.name(region.part) if region.part else region.name
        if region.kind == "area":
            style = f'fill="{AREA}" fill-opacity="0.25" stroke="{AREA}" stroke-width="2" stroke-dasharray="8 5"'
        elif region.kind == "edge":
            style = f'fill="none" stroke="{EDGE}" stroke-width="2" stroke-dasharray="12 6"'
        else:
            line = NAMED if name or region.kind == "hole" else OPEN
            style = f'fill="none" stroke="{line}" stroke-width="3"'
        out.append(f'<polygon points="{points}" {style}/>')
        if name and region.kind != "edge":
            x = sum(c[0] for c in corners) / len(corners)
            y = min(c[1] for c in corners) + 16 if region.kind == "area" else sum(c[1] for c in corners) / len(corners)
            out.append(
                f'<text x="{x:.1f}" y="{y + 5:.1f}" font-size="15" text-anchor="middle" fill="#23272B" '
                f'stroke="#FBF8F0" stroke-width="3" paint-order="stroke">{escape(name)}</text>'
            )
    scale = f"; the photo is {board.wide_mm:g} mm wide" if board.wide_mm else ""
    out.append(
        f'<text x="4" y="{high + 22:.1f}" font-size="17" fill="#23272B">'
        f"{escape(title)}: {escape(progress(study, photo_id).sentence)}{scale}</text></svg>"
    )
    return "\n".join(out)


def write_board(path: Path, study: Study, photo_id: str, data: bytes | None) -> None:
    """Write a face as FILE.svg. Raises FileError."""
    if path.suffix.lower() != ".svg":
        raise FileError(f"A board map is drawn as .svg, not {path.suffix or path.name}.")
    write_text(path, board_svg(study, photo_id, data))
