"""Drawings for the report as SVG: a photo with its lettered callouts, a route as a ribbon of time."""

from __future__ import annotations

import base64
from html import escape

from oddbolt.core.errors import FileError
from oddbolt.core.reach import Route
from oddbolt.core.study import Photo, Study
from oddbolt.core.study.formatting import duration
from oddbolt.core.study.photos import shown_size, to_shown
from oddbolt.files.pictures import small

INK, CARD, COPPER, RULE = "#23272B", "#FBF8F0", "#A64A26", "#DDD3BF"
GROUND = ("#EFE6D2", "#E2D6BC", "#D0C2A6", "#B9AB93", "#9C9184")
WIDE, HIGH = 1000, 86


#: the longer side of a photo in a report: about 120 mm on paper at 170 dots per inch
PRINTED_PX = 800


def photo_svg(study: Study, photo: Photo, data: bytes, side: int = PRINTED_PX) -> str:
    """A photo as it is shown, at most ``side`` px, with its callouts: a dot where each points, a square letter led a
    little aside. A picture that cannot be read is named in its place."""
    w, h = shown_size(photo) if photo.width and photo.height else (1200.0, 900.0)
    unit = w / 60
    try:
        source = f"data:image/jpeg;base64,{base64.b64encode(small(data, photo, side)).decode()}"
        picture = f'<image xlink:href="{source}" width="{w:.0f}" height="{h:.0f}"/>'
    except FileError as error:
        picture = f'<text x="{unit:.0f}" y="{3 * unit:.0f}" font-size="{2 * unit:.0f}">{escape(str(error))}</text>'
    marks = []
    for c in study.callouts.values():
        if c.photo != photo.id:
            continue
        across, down = to_shown(photo, (c.x, c.y))
        if not (0 <= across <= 1 and 0 <= down <= 1):
            continue
        x, y = across * w, down * h
        tx, ty = x + (-2.4 if across > 0.5 else 2.4) * unit, y - 2.0 * unit
        marks.append(
            f'<path d="M{x:.0f} {y:.0f} L{tx:.0f} {ty:.0f}" stroke="{CARD}" stroke-width="{unit / 7:.1f}"/>'
            f'<circle cx="{x:.0f}" cy="{y:.0f}" r="{unit / 4:.1f}" fill="{CARD}" stroke="{INK}"/>'
            f'<rect x="{tx - unit * 0.8:.0f}" y="{ty - unit * 0.8:.0f}" width="{unit * 1.6:.0f}"'
            f' height="{unit * 1.6:.0f}" fill="{CARD}" stroke="{INK}" stroke-width="2"/>'
            f'<text x="{tx:.0f}" y="{ty + unit * 0.4:.0f}" font-size="{unit * 1.15:.0f}" text-anchor="middle"'
            f' font-family="sans-serif" font-weight="bold" fill="{INK}">{escape(c.letter)}</text>'
        )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="{w:.0f}"'
        f' height="{h:.0f}" role="img" viewBox="0 0 {w:.0f} {h:.0f}">'
        f"<title>{escape(photo.caption or 'Photo of a step')}</title>{picture}{''.join(marks)}</svg>"
    )


def ribbon_svg(study: Study, route: Route) -> str:
    """A route as a ribbon whose length is time; waits are open, turning over is a dark bar."""
    scale = (WIDE - 2) / max(route.seconds, 1.0)
    bits = []
    for n, leg in enumerate(route.legs):
        x, wide = leg.start_s * scale + 1, max(2.0, leg.seconds * scale)
        fill = GROUND[min(len(GROUND) - 1, n * len(GROUND) // len(route.legs))]
        if leg.idle_s * scale > 2:
            bits.append(
                f'<rect x="{x - leg.idle_s * scale:.1f}" y="6" width="{leg.idle_s * scale - 2:.1f}" height="40"'
                f' fill="{CARD}" stroke="{INK}" stroke-dasharray="4 3"/>'
            )
        if leg.turn:
            bits.append(f'<rect x="{x - 6:.1f}" y="2" width="5" height="48" fill="{INK}"/>')
        elif leg.change:
            bits.append(f'<rect x="{x - 1:.1f}" y="2" width="2" height="48" fill="{COPPER}"/>')
        bits.append(f'<rect x="{x:.1f}" y="6" width="{max(1.0, wide - 1):.1f}" height="40" fill="{fill}"/>')
        if wide > 26:
            label = escape(str(study.step_number(leg.step)))
            bits.append(f'<text x="{x + 5:.1f}" y="31" font-size="14" font-family="sans-serif">{label}</text>')
    for at, anchor in ((0.0, "start"), (route.seconds / 2, "middle"), (route.seconds, "end")):
        label = duration(at) if at else "0"
        bits.append(
            f'<text x="{1 + at * scale:.0f}" y="70" font-size="14" text-anchor="{anchor}"'
            f' font-family="sans-serif">{label}</text>'
        )
    frame = f'<path d="M1 52 H{WIDE - 1}" stroke="{RULE}"/>'
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{WIDE}" height="{HIGH}" viewBox="0 0 {WIDE} {HIGH}"'
        f' role="img" fill="{INK}"><title>Route as a ribbon of time, {duration(route.seconds)}</title>'
        f"{''.join(bits)}{frame}</svg>"
    )
