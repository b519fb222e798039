"""The gauge mat as a sheet to print: PDF and SVG in exact millimetres, PNG at a resolution."""

from __future__ import annotations

from pathlib import Path

from oddbolt.core.errors import FileError
from oddbolt.core.vision.mat import BITS, RULER_MM, TINT, Mat, bits_of, drawn, ruler_bars
from oddbolt.files.pdf import write_drawing

USUAL_DPI = 300


def mat_svg(sheet: Mat) -> str:
    """The mat as an SVG whose user units are millimetres."""
    left, top, right, bottom = sheet.field
    tint = "#{:02x}{:02x}{:02x}".format(*TINT)
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{sheet.width_mm:g}mm" height="{sheet.height_mm:g}mm" '
        f'viewBox="0 0 {sheet.width_mm:g} {sheet.height_mm:g}" font-family="Odd Bolt Text, B612, sans-serif">',
        f'<rect width="{sheet.width_mm:g}" height="{sheet.height_mm:g}" fill="#ffffff"/>',
        f'<rect x="{left:g}" y="{top:g}" width="{right - left:g}" height="{bottom - top:g}" fill="{tint}"/>',
    ]
    cells = BITS + 2
    cell = sheet.marker_mm / cells
    for id, (x, y) in sheet.markers.items():
        for row, line in enumerate(bits_of(id).tolist()):
            column = 0
            while column < cells:  # runs of black as one bar, so that no seams show
                end = column
                while end < cells and line[end]:
                    end += 1
                if end > column:
                    bar = f'x="{x + column * cell:.4f}" y="{y + row * cell:.4f}" width="{(end - column) * cell:.4f}"'
                    out.append(f'<rect {bar} height="{cell + 0.01:.4f}" fill="#000000"/>')
                column = max(end, column + 1)
    out += [
        f'<rect x="{x:.3f}" y="{y:.3f}" width="{wide:g}" height="{high:g}" fill="#000000"/>'
        for x, y, wide, high in ruler_bars(sheet)
    ]
    x, y = sheet.ruler
    words = f"{RULER_MM:g} mm: print at 100 %, matt, in colour, and measure this ruler"
    out.append(f'<text x="{x:g}" y="{y + 3.6:g}" font-size="2.6" fill="#404040">{words}</text>')
    return "\n".join([*out, "</svg>"])


def write_mat(path: Path, sheet: Mat, dpi: float = USUAL_DPI) -> None:
    """Write the mat as FILE.pdf, FILE.svg or FILE.png. Raises FileError, VisionError."""
    ending = path.suffix.lower()
    if ending in (".svg", ".pdf"):
        write_drawing(path, mat_svg(sheet), "Gauge mat")
    elif ending == ".png":
        from PIL import Image

        picture = Image.fromarray(drawn(sheet, dpi))
        try:
            picture.save(path, dpi=(dpi, dpi))
        except OSError as error:
            raise FileError(f"{path} cannot be written: {error.strerror or error}.") from None
    else:
        raise FileError(f"The mat is written as .pdf, .svg or .png, not {ending or path.name}.")
