"""Outlines from drawings, and sheets that are true to scale."""

import math

import ezdxf
import numpy as np
import pypdfium2
import pytest
from builders import study_of
from hypothesis import given
from hypothesis import strategies as st

from oddbolt.core.errors import FileError
from oddbolt.core.opening.edge import round_of
from oddbolt.core.study import EdgePlan, Keepout, change
from oddbolt.demo import tide_logger
from oddbolt.files.edge_drawing import edge_svg, write_edge
from oddbolt.files.kit_sheet import kit_html
from oddbolt.files.outlines import read_outline
from oddbolt.files.pdf import write_pdf


def svg(path, body, size='width="100mm" height="60mm" viewBox="0 0 100 60"'):
    path.write_text(f'<svg xmlns="http://www.w3.org/2000/svg" {size}>{body}</svg>')
    return path


@pytest.mark.parametrize(
    ("body", "wide", "high", "area"),
    [
        ('<path d="M10,10 h40 v20 h-40 z"/>', 40, 20, 800),
        ('<path d="M10 10 L50 10 L50 30 L10 30 Z M0 0 h2 v2 h-2 z"/>', 40, 20, 800),
        ('<g transform="scale(2)"><rect x="3" y="4" width="20" height="10"/></g>', 40, 20, 800),
        ('<circle cx="30" cy="30" r="20"/>', 40, 40, math.pi * 400),
        ('<rect x="1" y="1" width="84" height="52" rx="6"/>', 84, 52, 84 * 52 - (4 - math.pi) * 36),
        ('<path d="M0,20 a20,20 0 1 1 40,0 a20,20 0 1 1 -40,0 z"/>', 40, 40, math.pi * 400),
    ],
)
def test_the_largest_closed_path_of_an_svg_is_the_outline_in_mm(tmp_path, body, wide, high, area):
    outline = read_outline(svg(tmp_path / "a.svg", body))
    assert outline.size_mm == pytest.approx((wide, high), abs=0.06)
    assert outline.shape.area == pytest.approx(area, rel=2e-3)


def test_an_svg_without_real_units_is_taken_at_96_to_the_inch(tmp_path):
    path = svg(tmp_path / "a.svg", '<rect width="96" height="192"/>', 'width="300" height="300"')
    assert read_outline(path).size_mm == pytest.approx((25.4, 50.8), abs=0.01)


@pytest.mark.parametrize(("units", "factor"), [(4, 1.0), (1, 25.4), (5, 10.0)])
@pytest.mark.parametrize("loose", [False, True])
def test_a_dxf_is_read_in_its_own_units_joined_or_in_pieces(tmp_path, units, factor, loose):
    document = ezdxf.new(units=units)
    corners = [(0, 0), (4, 0), (4, 2), (0, 2)]
    space = document.modelspace()
    if loose:
        for n in range(4):
            space.add_line(corners[n], corners[(n + 1) % 4])
    else:
        space.add_lwpolyline(corners, close=True)
    document.saveas(tmp_path / "a.dxf")
    assert read_outline(tmp_path / "a.dxf").size_mm == pytest.approx((4 * factor, 2 * factor), abs=0.02)


def test_arcs_of_a_dxf_are_followed(tmp_path):
    document = ezdxf.new(units=4)
    document.modelspace().add_circle((5, 5), 12)
    document.saveas(tmp_path / "a.dxf")
    assert read_outline(tmp_path / "a.dxf").length_mm == pytest.approx(2 * math.pi * 12, rel=2e-3)


SVG = '<svg xmlns="http://www.w3.org/2000/svg">'


@pytest.mark.parametrize(
    ("name", "text", "words"),
    [
        ("a.svg", SVG + '<path d="M0,0 L9,9"/></svg>', "no closed path"),
        ("a.svg", "<svg", "cannot be read as a drawing"),
        ("a.svg", '<!DOCTYPE s [<!ENTITY a "b">]><svg/>', "defines entities"),
        ("a.svg", SVG + '<path d="M0,0 L90,90 L90,0 L0,90 Z"/></svg>', "crosses itself"),
        ("a.dxf", "0\nEOF\n", "no closed path|cannot be read"),
        ("a.dxf", "not a drawing", "cannot be read as a drawing"),
        ("a.png", "", "neither .svg nor .dxf"),
    ],
)
def test_a_drawing_that_is_none_is_refused(tmp_path, name, text, words):
    (tmp_path / name).write_text(text)
    with pytest.raises(FileError, match=words):
        read_outline(tmp_path / name)


def inked(pdf, scale):
    """Where a PDF's first page holds the outline's ink, in mm: left, top, right, bottom, measured on its pixels."""
    picture = np.asarray(pypdfium2.PdfDocument(pdf)[0].render(scale=scale).to_pil().convert("RGB")).astype(int)
    mat = np.abs(picture - np.array([0xDC, 0xE5, 0xDF])).sum(axis=2) < 6
    rows, columns = np.nonzero(mat)
    mm = 25.4 / 72 / scale
    return columns.min() * mm, rows.min() * mm, (columns.max() + 1) * mm, (rows.max() + 1) * mm


def test_a_plan_on_paper_is_true_to_scale(tmp_path):
    study = study_of(EdgePlan("O1", "Plate", "rounded 120 x 70 r 5"))
    write_edge(tmp_path / "a.pdf", study, round_of(study, "O1"))
    left, top, right, bottom = inked(tmp_path / "a.pdf", 8)
    assert right - left == pytest.approx(120, abs=0.5)
    assert bottom - top == pytest.approx(70, abs=0.5)


@given(st.text(max_size=20))
def test_names_cannot_break_the_drawing(name):
    name = name.strip() or "x"
    study = study_of(EdgePlan("O1", name, "40 x 30"), Keepout("Z1", "O1", "cell", 20, 15, 4, 4, name=name))
    drawn = edge_svg(study, round_of(study, "O1"))
    assert drawn.count("<text") == drawn.count("</text>")
    assert "<script" not in drawn.replace("&lt;script", "")


def test_markup_in_a_kit_is_only_words():
    study = change(tide_logger.study(), "P29", name="<img src=x onerror=alert(1)>")
    assert "<img" not in kit_html(study, "<b>all</b>", [])


def test_a_sheet_fetches_nothing_and_leaves_nothing_half_written(tmp_path):
    (tmp_path / "secret.txt").write_text("secret")
    page = f'<img src="file://{tmp_path}/secret.txt"><object data="file://{tmp_path}/secret.txt"></object>words'
    write_pdf(tmp_path / "a.pdf", page)
    assert b"secret" not in (tmp_path / "a.pdf").read_bytes()
    with pytest.raises(FileError, match="cannot be written"):
        write_pdf(tmp_path / "no" / "such" / "a.pdf", "words")
    study = tide_logger.study()
    with pytest.raises(FileError, match=r"neither \.svg nor \.pdf"):
        write_edge(tmp_path / "a.png", study, round_of(study, "O1"))
    assert not list(tmp_path.glob("*.part"))
