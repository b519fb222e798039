"""Files for others: the workbook by pandas, captions by webvtt-py, the study by its JSON Schema, photos without their
place, a web folder, and spreadsheets coming in."""

import csv
import io
import json
import re
import shutil
import subprocess
import zipfile
from contextlib import suppress
from io import BytesIO
from itertools import pairwise
from pathlib import Path

import attrs
import jsonschema
import numpy as np
import openpyxl
import pandas as pd
import pytest
import webvtt
from builders import random_study
from hypothesis import example, given, settings
from hypothesis import strategies as st
from paper import Page, sound_html
from PIL import Image

from oddbolt.core.errors import FileError, OddBoltError, StudyError
from oddbolt.core.handover.cues import chapters, timed_steps
from oddbolt.core.handover.for_others import BLANK, for_others
from oddbolt.core.handover.sheet_rows import FIELDS, KINDS, entered, guess_kind, matched
from oddbolt.core.narration.captions import draft
from oddbolt.core.narration.recording import log_draft
from oddbolt.core.study import Check, Device, Finding, Part, Photo, Run, Step, Study, put_all
from oddbolt.core.study.model import Lap
from oddbolt.demo import tide_logger
from oddbolt.files.captions import read_cues, write_captions
from oddbolt.files.photo_archive import bare, write_photos
from oddbolt.files.records import from_json, to_json
from oddbolt.files.sheets import read_sheets
from oddbolt.files.study_schema import study_schema
from oddbolt.files.tables import TABLES, csv_text, rows, write_tables
from oddbolt.files.web_folder import write_web
from oddbolt.files.workbook import FIGURE, HEAD, LINK, TEXT, write_workbook

# -- the workbook and the tables ---------------------------------------------------------------------------


@pytest.fixture(scope="module")
def workbook(logger, tmp_path_factory):
    path = tmp_path_factory.mktemp("book") / "a.xlsx"
    write_workbook(path, logger[0])
    return path


def test_pandas_reads_every_sheet_with_its_figures(logger, workbook):
    frames = pd.read_excel(workbook, sheet_name=None, keep_default_na=False)
    assert list(frames) == [name[:31] for name in TABLES.values()]
    assert {table: len(frames[name[:31]]) for table, name in TABLES.items()} == {
        table: len(rows(logger[0], table)) - 1 for table in TABLES
    }
    reach = frames["Reach of every part"]
    battery = reach[reach["part"] == "Battery"].iloc[0]
    assert (battery["steps least"], battery["steps most"]) == (9, 10)
    routes = frames["Routes to the priority parts"]
    for _, legs in routes.groupby("target"):
        assert (legs["at_s"].astype(float).diff().dropna() >= 0).all()
    laps = frames["Runs and laps"]
    assert laps["seconds"].sum() == pytest.approx(sum(lap.seconds for r in logger[0].runs.values() for lap in r.laps))


def test_long_times_keep_their_figures():
    """A lap of three hours is not rounded to four places."""
    steps = [Step("S1", "soak", takes_out=("P1",), wait_s=20_000.0)]
    laps = Run("R1", "timed", laps=(Lap("S1", 12_345.67),))
    study = put_all(Study(), [Part("P1", "Lid", priority=True), *steps, laps])
    heads, *told = rows(study, "runs")
    assert [told[0][heads.index(name)] for name in ("seconds", "step takes_s")] == ["12345.67", "12345.67"]
    heads, *legs = rows(study, "routes")
    assert legs[0][heads.index("seconds")] == "12345.67"


def test_links_lead_to_the_row_that_tells_of_the_thing_and_styles_have_names(workbook):
    book = openpyxl.load_workbook(workbook)
    assert {HEAD, TEXT, FIGURE, LINK} <= set(book.named_styles)
    followed = 0
    for sheet in book:
        for row in sheet.iter_rows():
            for cell in row:
                assert cell.data_type != "f"
                if cell.hyperlink:
                    place = cell.hyperlink.location or cell.hyperlink.target
                    name, row_number = re.fullmatch(r"#?'(.+)'!A(\d+)", place).groups()
                    home = book[name]
                    heads = [c.value for c in home[1]]
                    assert home.cell(int(row_number), heads.index("id") + 1).value == str(cell.value).split()[0]
                    followed += 1
    assert followed > 300


@pytest.mark.skipif(not shutil.which("soffice"), reason="LibreOffice is not on this machine")
def test_libreoffice_opens_the_workbook(workbook, tmp_path):
    done = subprocess.run(
        ["soffice", "--headless", "--convert-to", "csv", "--outdir", str(tmp_path), str(workbook)],
        capture_output=True, timeout=120, check=False,
    )  # fmt: skip
    assert done.returncode == 0
    assert (tmp_path / "a.csv").read_text(encoding="utf-8").startswith("number,id,verb")


def test_all_tables_come_in_one_zip(logger, tmp_path):
    write_tables(tmp_path / "a.zip", logger[0])
    with zipfile.ZipFile(tmp_path / "a.zip") as packed:
        assert sorted(packed.namelist()) == sorted(f"{table}.csv" for table in TABLES)
        for table in TABLES:
            read = list(csv.reader(io.StringIO(packed.read(f"{table}.csv").decode())))
            assert len(read) == len(rows(logger[0], table))


# -- captions ----------------------------------------------------------------------------------------------


def test_a_drafted_study_gives_captions_at_the_times_of_its_recording(tmp_path):
    path = Path(__file__).parents[1] / "narration" / "dock-lamp.vtt"
    drafted = draft(read_cues(path))
    study = log_draft(Study(), drafted, path.name)
    assert study.device.recording == path.name
    cues = timed_steps(study)
    assert {c.step for c in cues} == set(study.steps)
    spoken = {round(step.at_s, 3) for step in drafted.steps}
    assert {c.start_s for c in cues} >= spoken
    write_captions(tmp_path / "a.vtt", cues)
    write_captions(tmp_path / "a.srt", cues)
    for back in (webvtt.read(str(tmp_path / "a.vtt")), webvtt.from_srt(str(tmp_path / "a.srt"))):
        assert [c.text for c in back] == [c.text for c in cues]
        starts = [c.start_in_seconds for c in back]
        assert starts == [int(c.start_s) for c in cues]
    later = log_draft(study, drafted, "another.vtt")
    assert [s.at_s for s in later.steps.values()][len(study.steps) :] == [None] * len(drafted.steps)


@given(st.lists(st.floats(0, 5000), min_size=1, max_size=12))
@settings(max_examples=60, deadline=None)
def test_cues_never_lie_over_each_other(times):
    steps = [Step(f"S{n}", "lift", at_s=round(t, 2)) for n, t in enumerate(times, 1)]
    cues = timed_steps(put_all(Study(), steps))
    assert len(cues) == len(times)
    for a, b in pairwise(cues):
        assert a.start_s <= a.end_s <= b.start_s + 1e-9
    told = chapters(cues)
    assert told[0].start_s == cues[0].start_s
    assert told[-1].end_s == cues[-1].end_s


def test_a_run_times_captions_too_and_markup_stays_words(tmp_path):
    steps = [Step("S1", "lift", said="<i>a</i> --> b & c"), Step("S2", "turn")]
    study = put_all(Study(), [*steps, Run("R1", "timed", laps=(Lap("S1", 30.0), Lap("S2", 5.0)))])
    cues = timed_steps(study, "R1")
    assert [(c.start_s, c.step) for c in cues] == [(0, "S1"), (30, "S2")]
    write_captions(tmp_path / "a.vtt", cues)
    text = (tmp_path / "a.vtt").read_text(encoding="utf-8")
    assert "&lt;i&gt;a&lt;/i&gt;" in text
    assert text.count("-->") == 2
    write_captions(tmp_path / "c.vtt", cues, chapters(cues))
    assert [c.text for c in webvtt.read(str(tmp_path / "c.vtt"))] == ["Unnamed device"]
    for wrong in ("", "R9"):
        with pytest.raises(StudyError, match=r"no run R9|no step|No step"):
            timed_steps(study, wrong)


# -- the study as JSON -------------------------------------------------------------------------------------


def test_the_schema_holds_for_what_is_written_and_refuses_what_is_refused():
    schema = study_schema()
    jsonschema.Draft202012Validator.check_schema(schema)
    valid = jsonschema.Draft202012Validator(schema)
    for study in (tide_logger.study(), Study(), *(random_study(n, steps=6) for n in range(20))):
        data = json.loads(json.dumps(to_json(study)))
        assert list(valid.iter_errors(data)) == []
        again = json.loads(json.dumps(to_json(from_json(data))))
        assert to_json(from_json(again)) == again
    good = json.loads(json.dumps(to_json(tide_logger.study())))
    for spoil in (
        lambda d: d.update(version=99),
        lambda d: d["parts"][0].update(mass_g="heavy"),
        lambda d: d["joints"][0].update(kind="wish"),
        lambda d: d["steps"][0].update(id="P1"),
        lambda d: d["steps"][0].update(colour="red"),
        lambda d: d["steps"][1].update(wait_s=-1),
        lambda d: d["photos"][0].update(turn=45),
    ):
        bad = json.loads(json.dumps(good))
        spoil(bad)
        assert list(valid.iter_errors(bad))
        with pytest.raises(FileError):
            from_json(bad)


SECRETS = st.text("ABCDEFGHJKMNPQ0123456789", min_size=3, max_size=10).map(lambda t: f"Z{t}7")


@given(SECRETS, SECRETS)
@example("T4-000417", "B. N.")
@settings(max_examples=40, deadline=None)
def test_a_study_for_others_holds_no_serial_and_no_person(serial, person):
    things = [
        Part("P1", "Lid", markings=(f"SN {serial}", "5 V"), origin="a shop", price="12"),
        Step("S1", "lift", said=f"the lid of {serial}, says {person}.", takes_out=("P1",)),
        Check("K1", rule="esd", by=person, when="2026-03-02T08:41", note=f"done by {person}"),
        Finding("N1", "note", f"label {serial.lower()}"),
    ]
    study = put_all(attrs.evolve(Study(), device=Device("Gauge", serial=serial, lot="L77")), things)
    shown, told = for_others(study)
    text = json.dumps(to_json(shown), ensure_ascii=False)
    left = re.compile(rf"(?<!\w)(?:{re.escape(serial)}|{re.escape(person)}|L77|a shop)(?!\w)", re.IGNORECASE)
    assert not left.search(text)
    assert {"device: serial", "part: origin (1)", "check: by (1)"} <= set(told)
    assert BLANK in shown.steps["S1"].said
    assert from_json(json.loads(json.dumps(to_json(shown)))).parts["P1"].name == "Lid"
    assert study.device.serial == serial


# -- photos ------------------------------------------------------------------------------------------------


def with_place(form="JPEG", turned=6, progressive=False):
    """A picture whose camera wrote where it was, who owns it, and which way is up."""
    grid = np.random.default_rng(5).integers(0, 255, (48, 64, 3), dtype=np.uint8)
    exif = Image.Exif()
    exif[0x0112], exif[0x013B], exif[0x010F] = turned, "Somebody", "Camera maker"
    exif.get_ifd(0x8769)[0x9003] = "2026:03:02 08:41:00"
    exif.get_ifd(0x8825).update({1: "N", 2: (52.0, 31.0, 12.0)})
    out = BytesIO()
    more = {"progressive": True} if progressive else {}
    Image.fromarray(grid).save(out, form, exif=exif, **more)
    return out.getvalue()


@pytest.mark.parametrize(("form", "progressive"), [("JPEG", False), ("JPEG", True), ("PNG", False)])
def test_a_photo_for_others_has_its_pixels_and_not_its_place(form, progressive):
    data = with_place(form, progressive=progressive) + (b"trailing Somebody" if form == "JPEG" else b"")
    clean = bare(data)
    assert b"Somebody" not in clean
    assert b"Camera maker" not in clean
    before, after = Image.open(BytesIO(data)), Image.open(BytesIO(clean))
    assert np.array_equal(np.asarray(before), np.asarray(after))
    assert not dict(after.getexif().get_ifd(0x8825))
    if form == "JPEG":
        assert after.getexif().get(0x0112) == 6
        assert after.getexif().get_ifd(0x8769).get(0x9003) == "2026:03:02 08:41:00"
    assert bare(clean) == clean


@given(st.binary(max_size=200), st.integers(0, 3000))
@settings(max_examples=150, deadline=None)
def test_damaged_pictures_are_refused_or_shown_never_a_crash(junk, cut):
    for data in (junk, b"\xff\xd8" + junk, b"\x89PNG\r\n\x1a\n" + junk, with_place()[:cut], with_place("PNG")[:cut]):
        with suppress(FileError):
            assert bare(data)


def test_photos_are_packed_with_a_list_of_what_they_show(logger, tmp_path):
    study, picture = logger
    assert write_photos(tmp_path / "a.zip", study, picture) == len(study.photos)
    assert write_photos(tmp_path / "b.zip", study, picture, 320) == len(study.photos)
    with zipfile.ZipFile(tmp_path / "b.zip") as packed:
        listed = list(csv.DictReader(io.StringIO(packed.read("photos.csv").decode())))
        assert [row["id"] for row in listed] == list(study.photos)
        for row in listed:
            assert max(Image.open(BytesIO(packed.read(row["file"]))).size) == 320
    for bad in (3, 90_000):
        with pytest.raises(FileError):
            write_photos(tmp_path / "c.zip", study, picture, bad)
    with pytest.raises(FileError, match="no photos"):
        write_photos(tmp_path / "c.zip", Study(), picture)
    assert not (tmp_path / "c.zip").exists()


# -- a web folder ------------------------------------------------------------------------------------------


def test_a_web_folder_is_sound_and_every_link_leads_somewhere(logger, tmp_path):
    study, picture = logger
    folder = tmp_path / "web"
    assert write_web(folder, study, picture) == len(study.steps) + 1
    for path in folder.glob("*.html"):
        page = sound_html(path.read_text(encoding="utf-8"))
        assert [link for link in page.links if not (folder / link.partition("#")[0]).is_file()] == []
        assert "style=" not in path.read_text(encoding="utf-8"), "a policy of 'self' shows no style of its own"
    shown = [link for p in folder.glob("*.html") for link in Page(p.read_text(encoding="utf-8")).links]
    assert sum(link.startswith("photos/") for link in shown) == len(study.photos)
    assert json.loads((folder / "study.json").read_text()) == json.loads(json.dumps(to_json(study)))
    with pytest.raises(FileError, match="already"):
        write_web(folder, study, picture)
    write_web(folder, study, picture, replace=True)
    (folder / "mine.txt").write_text("kept")
    with pytest.raises(FileError, match=r"mine\.txt"):
        write_web(folder, study, picture, replace=True)
    assert (folder / "mine.txt").read_text() == "kept"
    assert [p.name for p in tmp_path.iterdir()] == ["web"], "nothing half-written stays"


# -- spreadsheets in ---------------------------------------------------------------------------------------


def test_our_own_tables_come_back_in(logger):
    study = logger[0]
    out = rows(study, "parts")
    match = {name: at for name, at in matched("parts", out[0]).items() if name != "inside"}
    found = entered(Study(), "parts", out[1:], match)
    assert found.wrong == ()
    kept = ("name", "kind", "mass_g", "material", "markings", "number", "priority", "reuse", "long_mm", "pins")
    for part, again in zip(study.parts.values(), found.study.parts.values(), strict=True):
        assert [getattr(part, f) for f in kept] == [getattr(again, f) for f in kept]


@pytest.mark.parametrize(
    ("kind", "heads"),
    [
        ("parts", ["Component", "Qty", "Weight (g)", "Manufacturer", "Part No.", "Module"]),
        ("parts", ["part name", "mass", "material", "length", "width"]),
        ("joints", ["Fastener", "Quantity", "Driver", "Length", "Holds"]),
        ("joints", ["joint", "type", "pcs", "drive size", "thread"]),
        ("steps", ["#", "Step", "Tool", "Time"]),
        ("steps", ["No", "Instruction", "Tools", "Warning", "Duration"]),
    ],
)
def test_columns_of_somebody_elses_sheet_are_matched(kind, heads):
    assert guess_kind(heads) == kind
    found = matched(kind, heads)
    assert len(set(found.values())) == len(found) >= len(heads) - 2


def test_rows_are_checked_cell_by_cell_and_what_is_right_goes_in():
    heads = ["Fastener", "Quantity", "Driver", "Length", "Holds"]
    grid = [
        ["Lid screws", "4", "T5", "6 mm", "Lid"], ["Clips", "3x", "", "", "Lid; Frame"], ["Mystery", "2", "", "", ""],
        ["Rear screws", "two", "PH00", "5", "Lid"], ["Side screws", "2", "wing nut", "1,250", "Lid"], [""] * 5,
    ]  # fmt: skip
    found = entered(Study(), "joints", grid, matched("joints", heads))
    assert found.rows == 2
    assert {(w.row, w.column) for w in found.wrong} == {(2, -1), (3, 1), (4, 2), (4, 3)}
    assert set(found.new_parts) == {"Lid", "Frame"}
    screws, clips = found.study.joints.values()
    assert (screws.kind, screws.count, screws.length_mm) == ("screw", 4, 6)
    assert (screws.drive, screws.size) == ("hexalobular", "T5")
    assert (clips.kind, clips.count) == ("clip", 3)


def test_a_column_of_sentences_is_read_as_if_it_had_been_said():
    grid = [["Unscrew four T6 screws from the base", "30"], ["Lift out the battery", "10 s"], ["hmm", ""]]
    found = entered(Study(), "steps", grid, {"said": 0, "seconds": 1})
    steps = list(found.study.steps.values())
    assert [s.verb for s in steps] == ["unscrew", "take out", "hmm"]
    assert [s.likely_s for s in steps] == [30, 10, None]
    assert steps[2].doubt == "read from a sheet, not understood"
    (joint,) = found.study.joints.values()
    assert (joint.count, joint.size) == (4, "T6")


CELLS = st.one_of(st.text(max_size=20), st.sampled_from("4,T5,Lid,-1,1e9,yes,9999999,6 mm,P1,∞".split(",")))


@given(st.sampled_from(KINDS), st.lists(st.lists(CELLS, max_size=6), max_size=6), st.data())
@settings(max_examples=120, deadline=None)
def test_junk_rows_are_refused_one_by_one(kind, grid, data):
    names = data.draw(st.lists(st.sampled_from([c.name for c in FIELDS[kind]]), max_size=6, unique=True))
    try:
        found = entered(Study(), kind, grid, {name: n for n, name in enumerate(names)})
    except OddBoltError:
        return
    assert found.rows + len({w.row for w in found.wrong}) <= len(grid)
    assert from_json(json.loads(json.dumps(to_json(found.study)))) is not None


@pytest.mark.parametrize("form", ["comma", "semicolon", "tab", "utf-16", "bom", "xlsx", "title row"])
def test_sheets_come_in_many_forms(tmp_path, form):
    grid = [["Component", "Weight (g)"], ["Lid", "12,5"], ["Base, lower", "30"]]
    path = tmp_path / "a.csv"
    if form == "xlsx":
        path = tmp_path / "a.xlsx"
        book = openpyxl.Workbook()
        for row in [["Parts of the gauge"], [], *grid]:
            book.active.append(row)
        book.save(path)
    else:
        mark = {"semicolon": ";", "tab": "\t"}.get(form, ",")
        out = io.StringIO()
        csv.writer(out, delimiter=mark).writerows([*([["Parts"]] if form == "title row" else []), *grid])
        path.write_bytes(out.getvalue().encode({"utf-16": "utf-16", "bom": "utf-8-sig"}.get(form, "utf-8")))
    (sheet,) = read_sheets(path)
    assert sheet.heads == ("Component", "Weight (g)")
    above = {"xlsx": 2, "title row": 1}.get(form, 0)
    assert sheet.numbers == (above + 2, above + 3), "as the spreadsheet itself counts them"
    found = entered(Study(), "parts", sheet.rows, matched("parts", sheet.heads))
    assert [(p.name, p.mass_g) for p in found.study.parts.values()] == [("Lid", 12.5), ("Base, lower", 30)]


@pytest.mark.parametrize("name", ["a.csv", "a.xlsx"])
@given(junk=st.binary(max_size=300))
@settings(max_examples=40, deadline=None)
def test_a_file_that_is_no_sheet_is_refused_in_a_sentence(tmp_path_factory, name, junk):
    path = tmp_path_factory.mktemp("junk") / name
    path.write_bytes(junk)
    with suppress(OddBoltError):
        assert read_sheets(path)


def test_nothing_of_a_sheet_is_lost_in_silence(tmp_path):
    """A quote that is never closed would swallow rows; a formula of which the file holds no value would be empty."""
    (tmp_path / "a.csv").write_text('Part,"Weight\n"Lid,1\nBase,2\n')
    with pytest.raises(FileError, match="CSV"):
        read_sheets(tmp_path / "a.csv")
    book = openpyxl.Workbook()
    for row in (["Part", "Weight (g)"], ["Lid", "=1+1"], ["Base", 3]):
        book.active.append(row)
    book.save(tmp_path / "a.xlsx")
    (sheet,) = read_sheets(tmp_path / "a.xlsx")
    found = entered(Study(), "parts", sheet.rows, matched("parts", sheet.heads))
    assert [(w.row, "'=1+1' is not a mass" in w.why) for w in found.wrong] == [(0, True)]
    assert found.rows == 1


def test_photo_of_no_file_is_left_out_of_everything(tmp_path):
    study = put_all(Study(), [Step("S1", "lift"), Photo("H1", "0" * 64, "S1", "gone")])
    assert write_web(tmp_path / "web", study) == 2
    assert csv_text(study, "steps").count("\r\n") == 2
