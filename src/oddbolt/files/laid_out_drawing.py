"""The device laid out, as SVG for paper: every part at one scale, each module's parts together, those assumed
dotted."""

from __future__ import annotations

from html import escape

from oddbolt.core.components.layout import HEADING, fitting, laid_out
from oddbolt.core.study import Study
from oddbolt.files.drawings import COPPER, INK, RULE

#: room on paper, px of the drawing; the least room of a name and its line
WIDE, HIGH, LABEL, SIZE = 700.0, 640.0, (52.0, 12.0), 8.5
#: about how wide a letter is, as a share of its height
LETTER = 0.56
FILL, UNKNOWN = "#E9E4D8", "#F6DFD2"
#: parts that a drawing holds
MOST = 400


def laid_out_svg(study: Study) -> str:
    """The parts on the table, named; "" where there are none or too many to be read. Copper where nobody said what a
    part is, dotted where its size is only usual for its kind."""
    if not 0 < len(study.parts) <= MOST:
        return ""
    scale = fitting(study, WIDE, HIGH, LABEL)
    table = laid_out(study, scale, WIDE, LABEL)
    out = []
    for group in table.groups:
        x, y = group.x * scale, group.y * scale
        words = f"{group.name or study.device.name}, {group.count}"
        out.append(
            f'<rect x="{x:.1f}" y="{y:.1f}" width="{group.wide * scale:.1f}" height="{group.high * scale:.1f}"'
            f' fill="none" stroke="{RULE}"/>'
            f'<text x="{x + 4:.1f}" y="{y + 13:.1f}" font-weight="bold">{escape(words)}</text>'
        )
    for piece in table.pieces:
        if piece.sign == HEADING:
            continue
        x, y = piece.x * scale, piece.y * scale
        wide, high = max(1.0, piece.wide * scale), max(1.0, piece.high * scale)
        dotted = ' stroke-dasharray="2 2"' if piece.assumed else ""
        fill = FILL if piece.kind else UNKNOWN
        room = int(max(piece.room * scale, wide) / (SIZE * LETTER))
        name = piece.name if len(piece.name) <= room else piece.name[: max(1, room - 1)] + "…"
        colour = INK if piece.kind else COPPER
        out.append(
            f'<rect x="{x:.1f}" y="{y:.1f}" width="{wide:.1f}" height="{high:.1f}" rx="1.5" fill="{fill}"'
            f' stroke="{INK}" stroke-width="0.7"{dotted}/>'
            f'<text x="{x:.1f}" y="{y + high + SIZE + 1:.1f}" fill="{colour}">{escape(name)}</text>'
        )
    high = table.high * scale + 4
    bar = next((mm for mm in (100, 50, 20, 10, 5) if mm * scale < WIDE / 4), 5)
    out.append(
        f'<path d="M2 {high + 8:.1f}h{bar * scale:.1f}" stroke="{INK}" stroke-width="1.4"/>'
        f'<text x="{bar * scale + 8:.1f}" y="{high + 11:.1f}">{bar} mm</text>'
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{WIDE:.0f}" height="{high + 16:.0f}" role="img"'
        f' viewBox="0 0 {WIDE:.0f} {high + 16:.0f}" font-family="Odd Bolt Text, B612, sans-serif" font-size="{SIZE}"'
        f' fill="{INK}"><title>{len(study.parts)} parts laid out at one scale</title>{"".join(out)}</svg>'
    )
