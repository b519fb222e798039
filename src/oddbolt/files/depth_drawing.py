"""How deep everything lies, as SVG for paper: a row for each depth in steps, the parts that come free there by name."""

from __future__ import annotations

from html import escape

from oddbolt.core.reach import reach_of_all
from oddbolt.core.study import Study
from oddbolt.core.study.formatting import span
from oddbolt.files.drawings import COPPER, INK, RULE

WIDE, LEFT, LINE, PAD, SIZE = 700.0, 62.0, 16.0, 4.0, 11.0
#: from the surface to the deepest
FROM, TO = (251, 248, 240), (201, 188, 166)
#: about how wide a letter is, as a share of its height
LETTER = 0.56
#: names that one row holds; the others are counted
MOST = 400


def depth_svg(study: Study) -> str:
    """The strata of a study. Priority parts stand bold behind a copper mark, parts that may lie deeper tell how
    deep."""
    rows: dict[int, list[tuple[str, bool]]] = {}
    never = []
    for id, reach in reach_of_all(study).items():
        part = study.parts[id]
        if reach.steps is None:
            never.append(part.name)
            continue
        least, most = round(reach.steps.least), round(reach.steps.most)
        name = part.name if least == most else f"{part.name} (to {most})"
        rows.setdefault(least, []).append((name, part.priority))
    out, y, deepest, drawn = [], 4.0, max(rows, default=1), 0
    for depth in sorted(rows):
        names = sorted(rows[depth], key=lambda row: (not row[1], row[0].casefold()))
        lines = _broken(names)
        high = len(lines) * LINE + 2 * PAD
        share = depth / max(1, deepest)
        ground = ",".join(str(round(a + (b - a) * share)) for a, b in zip(FROM, TO, strict=True))
        out.append(f'<rect x="{LEFT}" y="{y:.1f}" width="{WIDE - LEFT}" height="{high:.1f}" fill="rgb({ground})"/>')
        out.append(
            f'<text x="{LEFT - 8}" y="{y + PAD + SIZE + 1:.1f}" text-anchor="end">{span(depth, depth, "steps")}</text>'
        )
        for n, line in enumerate(lines):
            x, base = LEFT + 8, y + PAD + n * LINE + SIZE + 1
            for name, priority, wide in line:
                drawn += 1
                if priority:
                    out.append(f'<rect x="{x - 5:.1f}" y="{base - 9:.1f}" width="3" height="11" fill="{COPPER}"/>')
                weight = ' font-weight="bold"' if priority else ""
                out.append(f'<text x="{x:.1f}" y="{base:.1f}"{weight}>{escape(name)}</text>')
                x += wide
        y += high
        out.append(f'<path d="M{LEFT} {y:.1f}H{WIDE}" stroke="{RULE}"/>')
    if never:
        more = f" and {len(never) - 8} more" if len(never) > 8 else ""
        y += LINE + PAD
        out.append(f'<text x="{LEFT + 8}" y="{y:.1f}">no recorded way: {escape(", ".join(never[:8]))}{more}</text>')
        y += PAD
    words = f"Depth of {drawn} parts in steps; {deepest} steps to the deepest"
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{WIDE:.0f}" height="{y + 6:.0f}" role="img"'
        f' viewBox="0 0 {WIDE:.0f} {y + 6:.0f}" font-family="Odd Bolt Text, B612, sans-serif" font-size="{SIZE}"'
        f' fill="{INK}"><title>{words}</title>{"".join(out)}</svg>'
    )


def _broken(names: list[tuple[str, bool]]) -> list[list[tuple[str, bool, float]]]:
    """Names broken into lines, each with the room that it takes."""
    lines: list[list[tuple[str, bool, float]]] = [[]]
    used = 0.0
    for name, priority in names[:MOST]:
        wide = len(name) * SIZE * LETTER * (1.08 if priority else 1.0) + 20
        if lines[-1] and used + wide > WIDE - LEFT - 12:
            lines.append([])
            used = 0.0
        lines[-1].append((name, priority, wide))
        used += wide
    if len(names) > MOST:
        lines.append([(f"and {len(names) - MOST} more", False, 0.0)])
    return lines
