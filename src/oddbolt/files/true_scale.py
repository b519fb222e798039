"""Screws at true scale as SVG: side and head, in mm on paper."""

from __future__ import annotations

from html import escape

from oddbolt.core.fasteners import shapes
from oddbolt.core.reference.tables import screw_label
from oddbolt.core.study import Joint
from oddbolt.core.study.formatting import plural
from oddbolt.files.drawings import INK

METAL, GAP, EDGE = "#D9D6CE", 1.2, 0.3


def screw_svg(joint: Joint) -> str:
    """One screw of a group, its head from above beside it, 1 mm as 1 mm. Dotted where its length is not recorded."""
    diameter, pitch, head, length = shapes.size_of(joint)
    sunk = "countersunk" in joint.head
    high = shapes.head_height(joint.head, head)
    whole = length if sunk else length + high
    wide, tall = 2 * head + GAP + 2 * EDGE, max(whole, head) + 2 * EDGE
    x, y = EDGE + head / 2, EDGE
    dotted = ' stroke-dasharray="0.4 0.4"' if joint.length_mm is None else ""
    shank = (
        f'<rect x="{x - diameter / 2:.2f}" y="{y + high:.2f}" width="{diameter:.2f}"'
        f' height="{max(0.2, whole - high):.2f}"{dotted}/>'
    )
    turn, at, turns = max(pitch, 0.25), y + high, ""
    while at + turn < y + whole - 0.05:
        at += turn
        turns += f"M{x - diameter / 2:.2f} {at:.2f}l{diameter:.2f} {-turn / 2:.2f}"
    if sunk:
        corners = [(-head / 2, 0.0), (head / 2, 0.0), (diameter / 2, high), (-diameter / 2, high)]
        top = "M" + "L".join(f"{x + a:.2f} {y + b:.2f}" for a, b in corners) + "Z"
    else:
        r = min(high, head / 2) * (0.25 if "cheese" in joint.head else 0.7)
        top = (
            f"M{x - head / 2:.2f} {y + high:.2f}v{r - high:.2f}q0 {-r:.2f} {r:.2f} {-r:.2f}h{head - 2 * r:.2f}"
            f"q{r:.2f} 0 {r:.2f} {r:.2f}v{high - r:.2f}z"
        )
    cx, cy = EDGE + head * 1.5 + GAP, EDGE + head / 2
    cut = shapes.recess(joint.drive, head / 2 * 0.6)
    if cut is None:
        inside = (
            f'<text x="{cx:.2f}" y="{cy + head * 0.14:.2f}" font-size="{head * 0.4:.2f}" text-anchor="middle"'
            f' fill="{INK}" stroke="none" font-family="sans-serif">?</text>'
            if joint.drive != "external-hex"
            else ""
        )
    else:
        paths = "".join("M" + "L".join(f"{cx + a:.2f} {cy + b:.2f}" for a, b in line) + "Z" for line in cut)
        inside = f'<path d="{paths}" fill="{INK}" stroke="none"/>'
    if joint.drive == "external-hex":
        points = " ".join(f"{cx + a:.2f},{cy + b:.2f}" for a, b in shapes.regular(head / 2, 6))
        disc = f'<polygon points="{points}"/>'
    else:
        disc = f'<circle cx="{cx:.2f}" cy="{cy:.2f}" r="{head / 2:.2f}"/>'
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.2f}mm" height="{tall:.2f}mm"'
        f' viewBox="0 0 {wide:.2f} {tall:.2f}" role="img" fill="{METAL}" stroke="{INK}" stroke-width="0.12">'
        f"<title>{escape(words_of(joint))}</title>{shank}"
        f'<path d="{turns or "M0 0"}" stroke-width="0.08" fill="none"/><path d="{top}"/>{disc}{inside}</svg>'
    )


def words_of(joint: Joint) -> str:
    """A group of screws in words: "4 screws hexalobular T5, M2, 6 mm"."""
    count = "screws, not counted" if joint.count is None else plural(joint.count, "screw")
    size = ", ".join(filter(None, (joint.thread, f"{joint.length_mm:g} mm" if joint.length_mm else joint.lengths)))
    drive = screw_label(joint.drive, joint.size) if joint.drive or joint.size else "drive not recorded"
    return ", ".join(filter(None, (f"{count} {drive}", size)))
