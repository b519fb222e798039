"""What leaves the program: JSON, tables and the report; safe against what was typed into it."""

import csv
import io
import json
import re

import numpy as np
import pypdfium2
import pytest
from builders import random_study, study_of
from hypothesis import given
from hypothesis import strategies as st
from paper import sound_html, sound_pdf
from PIL import Image

from oddbolt.core.bench.kit import kit
from oddbolt.core.components import bill_of_materials
from oddbolt.core.errors import FileError
from oddbolt.core.fasteners.tray import plan, tray
from oddbolt.core.reach import route_to
from oddbolt.core.reassembly import ledger, repair_job
from oddbolt.core.safety import contents, preflight
from oddbolt.core.study import Callout, Finding, Part, Photo, Step
from oddbolt.core.study.model import KINDS
from oddbolt.core.verdict import SCHEMES, counting
from oddbolt.core.vision.find import find_mat
from oddbolt.core.vision.mat import mat
from oddbolt.demo import tide_logger
from oddbolt.files.bench_card import write_card
from oddbolt.files.contact_sheet import contact_sheet
from oddbolt.files.job_card import write_job
from oddbolt.files.kit_sheet import kit_html
from oddbolt.files.mat_sheet import write_mat
from oddbolt.files.pdf import write_page
from oddbolt.files.records import from_json, to_json
from oddbolt.files.tables import TABLES, csv_text, rows, safe
from oddbolt.files.tray_sheet import tray_svg, write_tray

EVIL = "\"><script>alert(1)</script>&=cmd|'/c calc'!A0"


def evil_study():
    return study_of(
        Part("P1", EVIL, kind=EVIL), Step("S1", "take out", said=EVIL, takes_out=("P1",), cautions=(EVIL,)),
        Finding("N1", "note", EVIL), Photo("H1", "0" * 64, "S1", EVIL, 100, 50),
        Callout("C1", "H1", "A", 0.5, 0.5, "P1", EVIL),
    )  # fmt: skip


@pytest.mark.parametrize("seed", range(12))
def test_json_comes_back_as_it_went(seed):
    study = random_study(seed)
    again = from_json(json.loads(json.dumps(to_json(study))))
    assert all(getattr(again, name) == getattr(study, name) for _, name in KINDS.values())


def test_the_demo_comes_back_from_json_in_order():
    study = tide_logger.study()
    again = from_json(to_json(study))
    assert again.device == study.device
    assert list(again.parts) == list(study.parts)
    assert again.runs == study.runs


def broken(edit):
    data = to_json(tide_logger.study())
    edit(data)
    return data


@pytest.mark.parametrize(
    ("edit", "words"),
    [
        (lambda d: d.pop("format"), "not a study"),
        (lambda d: d.update(version=99), "newer Odd Bolt"),
        (lambda d: d.update(version=True), "version"),
        (lambda d: d.update(extra=1), "'extra'"),
        (lambda d: d.update(parts={}), "list of records"),
        (lambda d: d["joints"][0].update(kind="rivet"), "rivet"),
        (lambda d: d["joints"][0].update(colour="red"), "colour"),
        (lambda d: d["steps"][0].update(takes_out=["P999"]), "P999"),
        (lambda d: d["device"].update(mass_g="heavy"), "device"),
        (lambda d: d["parts"][0].pop("name"), "name"),
    ],
)
def test_json_that_is_no_study_is_refused_by_what_is_wrong(edit, words):
    with pytest.raises(FileError, match=words):
        from_json(broken(edit))


@pytest.mark.parametrize("data", [None, [], 3, "study"])
def test_json_that_is_something_else_is_refused(data):
    with pytest.raises(FileError):
        from_json(data)


@given(st.text(st.one_of(st.characters(), st.sampled_from("=+-@＝＠ \t\n\r\ufeff1")), max_size=30))
def test_no_cell_is_a_formula(text):
    (cell,) = next(csv.reader(io.StringIO(csv_of_cell(text))))
    assert not {"\n", "\r"} & set(cell)
    if cell.strip(" \t\ufeff\u200b")[:1] in tuple("=+-@＝＋－＠"):
        float(cell)


def csv_of_cell(text):
    from oddbolt.files.tables import csv_of

    return csv_of([[text.replace("\x00", "")]])


def test_numbers_stay_numbers():
    assert safe("-2.5") == "-2.5"
    assert safe("=1+1") == "'=1+1"


@pytest.mark.parametrize("table", TABLES)
def test_tables_hold_a_row_for_each_thing(table):
    study = tide_logger.study()
    read = list(csv.reader(io.StringIO(csv_text(study, table))))
    laps = [lap for run in study.runs.values() for lap in run.laps]
    legs = [leg for count in counting(study) if count.route for leg in count.route.legs]
    lines = [
        j for scheme in SCHEMES.values() for j in (scheme, *scheme.judge(study).entries, *scheme.judge(study).asks)
    ]
    other = {"bill": bill_of_materials(study), "outlines": study.regions, "reach": study.parts, "routes": legs}
    other |= {"runs": laps, "ledger": ledger(study).lines, "verdict": lines}
    things = other.get(table) or getattr(study, table)
    assert len(read) == len(things) + 1
    assert all(len(row) == len(read[0]) for row in read)
    assert read == [[safe(c) for c in row] for row in rows(study, table)]


def test_the_mat_is_printed_in_exact_millimetres(tmp_path):
    """The PDF, rendered by another library (PDFium), is found as a mat of its true scale."""
    sheet = mat("a5")
    write_mat(tmp_path / "mat.pdf", sheet)
    page = pypdfium2.PdfDocument(tmp_path / "mat.pdf")[0]
    assert [v * 25.4 / 72 for v in page.get_size()] == pytest.approx([sheet.width_mm, sheet.height_mm], abs=0.1)
    picture = np.asarray(page.render(scale=200 / 72).to_pil().convert("RGB"))
    assert find_mat(picture).px_per_mm == pytest.approx(200 / 25.4, rel=2e-3)
    write_mat(tmp_path / "mat.png", sheet, 150)
    with Image.open(tmp_path / "mat.png") as png:
        assert png.size == (round(210 * 150 / 25.4), round(148 * 150 / 25.4))
        assert png.info["dpi"][0] == pytest.approx(150, abs=0.1)
    with pytest.raises(FileError, match=r"\.pdf, \.svg or \.png"):
        write_mat(tmp_path / "mat.doc", sheet)


def test_a_tray_plan_is_drawn_at_true_scale(tmp_path):
    study = tide_logger.study()
    found = plan(study, tray("4x6"))
    drawing = tray_svg(study, found)
    shapes = re.findall(r'class="screw" d="M([^"]+)z"', drawing)
    assert len(shapes) == sum(bool(j) for j in found.of)
    spans = sorted(max(xs) - min(xs) for xs in ([float(p.split()[0]) for p in s.split("L")] for s in shapes))
    sunk = sorted(j.length_mm for j in study.joints.values() if j.kind == "screw" and j.head == "countersunk")
    assert all(any(abs(s - length) < 0.02 for s in spans) for length in sunk)
    write_tray(tmp_path / "tray.pdf", study, found)
    page = pypdfium2.PdfDocument(tmp_path / "tray.pdf")[0]
    assert page.get_size()[0] * 25.4 / 72 == pytest.approx(196, abs=0.1)
    with pytest.raises(FileError, match="neither"):
        write_tray(tmp_path / "tray.txt", study, found)


def test_every_other_page_that_is_written_is_sound(tmp_path):
    """Kit list, bench card, job card, contact sheet: language, heads, policy, no parse error; as PDF tagged."""
    study = tide_logger.study()
    pictures = {p.sha256: data for p, data in zip(study.photos.values(), tide_logger.pictures(), strict=True)}
    battery = next(p.id for p in study.parts.values() if p.name == "Battery")
    route = route_to(study, [battery])
    kit_page = kit_html(study, "battery", kit(study, contents(study)), preflight(study))
    for ending in ("html", "pdf"):
        write_card(tmp_path / f"card.{ending}", study, route)
        write_job(tmp_path / f"job.{ending}", study, repair_job(study, [battery]))
        write_page(tmp_path / f"kit.{ending}", kit_page)
        write_page(tmp_path / f"photos.{ending}", contact_sheet(study, pictures.get))
    for path in tmp_path.glob("*.html"):
        sound_html(path.read_text(encoding="utf-8"))
    for path in tmp_path.glob("*.pdf"):
        assert sound_pdf(path)
