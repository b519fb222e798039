"""The edge plan drawn to scale, 1:1 on paper: SVG, and PDF of the same drawing."""

from __future__ import annotations

from collections.abc import Iterable
from html import escape
from pathlib import Path

from oddbolt.core.opening.edge import CLEAR, Along, Round, clip_order
from oddbolt.core.study import Study
from oddbolt.files.pdf import write_drawing

INK, COPPER, SEA, MUTED, MAT, WARN = "#23272B", "#A64A26", "#24635A", "#655E53", "#DCE5DF", "#F3E1D0"
EDGE, TEXT, NARROWEST = 14.0, 3.2, 120.0


def edge_svg(study: Study, found: Round, sheet: bool = True) -> str:
    """The plan as an SVG whose user units are millimetres; as a sheet with its scale and the way round in words."""
    wide, high = found.outline.size_mm
    low_x, low_y = found.outline.box[:2]
    across = max(wide + 2 * EDGE, NARROWEST if sheet else 0.0)
    lines = _wrapped(_words(found), int((across - EDGE) / 1.8))
    below = EDGE + 4 + len(lines) * TEXT * 1.45 + 12 if sheet else EDGE
    box = f"{low_x - EDGE:g} {low_y - EDGE:g} {across:g} {high + EDGE + below:g}"
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{across:g}mm" height="{high + EDGE + below:g}mm" '
        f'viewBox="{box}" font-family="Odd Bolt Text, B612, sans-serif" font-size="{TEXT}">'
        f"<title>{escape(f'Edge of {found.plan.name}, with the order of its stretches')}</title>"
    ]
    points = " ".join(f"{x:.3f},{y:.3f}" for x, y in found.outline.points)
    out.append(f'<polygon class="outline" points="{points}" fill="{MAT}" stroke="{INK}" stroke-width="0.3"/>')
    for a in found.along.values():
        out += _stretch(a)
    for k in study.keepouts.values():
        if k.plan == found.plan.id:
            x, y = k.x_mm - k.wide_mm / 2, k.y_mm - k.high_mm / 2
            out.append(
                f'<rect x="{x:.2f}" y="{y:.2f}" width="{k.wide_mm:g}" height="{k.high_mm:g}" fill="{WARN}" '
                f'fill-opacity="0.7" stroke="{COPPER}" stroke-width="0.25"/>'
            )
            out.append(_text(k.x_mm, k.y_mm + 1, study.name(k.id), COPPER, "middle", 2.4))
    for n, (id, _) in enumerate(found.order, 1):
        a = found.along[id]
        (x, y), (dx, dy) = a.middle, a.inward
        out.append(_text(x - dx * 6, y - dy * 6 + 1.4, str(n), INK, "middle", 4.2))
    for id, place in clip_order(found):
        (x, y) = found.outline.at(found.along[id].stretch.from_mm + place)
        out.append(f'<circle cx="{x:.2f}" cy="{y:.2f}" r="0.9" fill="{INK}"/>')
    y = low_y + high + EDGE + 2
    if not sheet:
        return "\n".join([*out, "</svg>"])
    out.append(_text(low_x, y, f"{found.plan.name}, 1:1. The bar is 20 mm; measure it.", MUTED))
    out.append(f'<path d="M{low_x:g} {y + 4:g}h20" stroke="{INK}" stroke-width="0.4"/>')
    for n, line in enumerate(lines):
        out.append(_text(low_x, y + 10 + n * TEXT * 1.45, line, INK))
    out.append("</svg>")
    return "\n".join(out)


def write_edge(path: Path, study: Study, found: Round) -> None:
    """Draw a plan into FILE.svg or FILE.pdf, 1:1. Raises FileError."""
    write_drawing(path, edge_svg(study, found), found.plan.name)


def _stretch(a: Along) -> Iterable[str]:
    """The band that the pick covers where it may go, and dashes where it stays out."""
    for start, end in a.go:
        yield _path(a, start, end, SEA if a.finding == CLEAR else MUTED, 0.9, "")
    for stop in a.stops:
        yield _path(a, stop.from_mm, stop.to_mm, COPPER, 1.2, "1.5 1")


def _path(a: Along, start: float, end: float, tint: str, thick: float, dash: str) -> str:
    from shapely.ops import substring

    points = " ".join(f"{x:.3f},{y:.3f}" for x, y in substring(a.line, start, end).coords)
    dashes = f' stroke-dasharray="{dash}"' if dash else ""
    return f'<polyline points="{points}" fill="none" stroke="{tint}" stroke-width="{thick}"{dashes}/>'


def _text(x: float, y: float, text: str, tint: str, anchor: str = "start", size: float = TEXT) -> str:
    return (
        f'<text x="{x:.2f}" y="{y:.2f}" fill="{tint}" text-anchor="{anchor}" font-size="{size}">{escape(text)}</text>'
    )


def _words(found: Round) -> list[str]:
    return [f"{n}. {s}" for n, s in enumerate(found.sentences, 1)] + [f"Mind: {t}" for t in found.troubles]


def _wrapped(lines: Iterable[str], most: int) -> list[str]:
    import textwrap

    return [piece for line in lines for piece in textwrap.wrap(line, most, subsequent_indent="    ")]
