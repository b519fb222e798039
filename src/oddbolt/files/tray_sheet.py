"""The tray plan drawn 1:1 on paper: each compartment with the screws' outline at true scale, count, step and name."""

from __future__ import annotations

from html import escape
from pathlib import Path

from oddbolt.core.fasteners.tray import TrayPlan
from oddbolt.core.fasteners.tray_tally import label
from oddbolt.core.reference.tables import heads, thread_of
from oddbolt.core.study import Joint, Study
from oddbolt.files.pdf import write_drawing

INK, MUTED, COPPER, RULE = "#23272B", "#655E53", "#A64A26", "#9A9184"
EDGE, FOOT = 8.0, 12.0


def tray_svg(study: Study, plan: TrayPlan) -> str:
    """The plan as an SVG whose user units are millimetres."""
    tray = plan.tray
    whole = tray.width_mm + 2 * EDGE, tray.height_mm + 2 * EDGE + FOOT
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{whole[0]:g}mm" height="{whole[1]:g}mm" '
        f'viewBox="0 0 {whole[0]:g} {whole[1]:g}" font-family="Odd Bolt Text, B612, sans-serif">'
    ]
    odd = {j for both in plan.beside for j in both}
    for id, (left, top, wide, high) in zip(plan.of, tray.boxes, strict=True):
        x, y = EDGE + left, EDGE + top
        box = f'x="{x:.2f}" y="{y:.2f}" width="{wide:.2f}" height="{high:.2f}"'
        out.append(f'<rect {box} fill="none" stroke="{RULE}" stroke-width="0.25"/>')
        if id:
            out += _cell(study, study.joints[id], x, y, wide, high, COPPER if id in odd else INK)
    y = EDGE + tray.height_mm + 5
    out.append(f'<path d="M{EDGE:g} {y:g}h20m0 -1v2m-20 0v-2" stroke="{INK}" stroke-width="0.3" fill="none"/>')
    words = f"20 mm. {plan.sentence} {'By kind.' if plan.by_kind else 'In order of removal.'}"
    out.append(_text(EDGE + 23, y + 1, words, MUTED, 2.8))
    return "\n".join([*out, "</svg>"])


def write_tray(path: Path, study: Study, plan: TrayPlan) -> None:
    """Write the plan as FILE.svg or FILE.pdf, 1:1. Raises FileError."""
    write_drawing(path, tray_svg(study, plan), "Tray plan")


def _cell(study: Study, joint: Joint, x: float, y: float, wide: float, high: float, colour: str) -> list[str]:
    letters = min(3.4, high / 9, wide / 9)
    most = max(4, int(wide / letters / 0.58))
    out = [
        _text(x + 1.2, y + high - 1.2 - (3 - n) * letters * 1.2, line[:most], colour if n == 0 else MUTED, letters)
        for n, line in enumerate(label(study, joint))
        if line
    ]
    out += _outline(joint, x + wide / 2, y + 2.0, wide - 3, high - 5 * letters - 4, colour)
    return out


def _outline(joint: Joint, x: float, y: float, widest: float, highest: float, colour: str) -> list[str]:
    """The screw lying, at true scale; none where its length is not known or it does not go in."""
    thread = thread_of(joint.thread) if joint.thread else None
    d = thread.diameter_mm if thread else 2.0
    if joint.length_mm is None:
        return []
    rows = [h.rows[joint.thread] for h in heads().values() if h.drive == joint.drive and joint.thread in h.rows]
    wide, high = joint.head_mm or 1.9 * d, rows[0][1] if rows else 0.6 * d
    sunk, long = joint.head == "countersunk", joint.length_mm
    rim = 0.0 if sunk else high
    neck, tip = ((wide - d) / 2, long) if sunk else (high, high + long)
    if tip > widest or wide > highest:
        return [_text(x, y + 3, "larger than this place", MUTED, 2.2, "middle")]
    below = ((0.0, wide / 2), (rim, wide / 2), (neck, d / 2), (tip, d / 2))
    points = [*below, *((u, -v) for u, v in reversed(below))]
    left, middle = x - tip / 2, y + highest / 2
    shape = "M" + "L".join(f"{left + u:.2f} {middle + v:.2f}" for u, v in points) + "z"
    return [f'<path class="screw" d="{shape}" fill="none" stroke="{colour}" stroke-width="0.25"/>']


def _text(x: float, y: float, words: str, colour: str, size: float, anchor: str = "start") -> str:
    place = f'x="{x:.2f}" y="{y:.2f}" font-size="{size:.2f}"'
    return f'<text {place} fill="{colour}" text-anchor="{anchor}">{escape(words)}</text>'
