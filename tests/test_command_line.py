"""Every main job without a window: what it prints, what it writes, and its exit status."""

import configparser
import csv
import json
import os
import resource
import shlex
import subprocess
import sys
from pathlib import Path

import jsonschema
import numpy as np
import pypdfium2
import pytest
from PIL import Image

from oddbolt.__main__ import main
from oddbolt.commands import libraries
from oddbolt.commands.integration import ID, schema_of
from oddbolt.commands.parser import parser
from oddbolt.core.errors import FileError
from oddbolt.core.study import Part, Study, change, put
from oddbolt.files.store import Store


@pytest.fixture
def demo(tmp_path):
    path = tmp_path / "demo.oddbolt"
    assert main(["demo", "-o", str(path)]) == 0
    return path


def run(capsys, *arguments):
    status = main([str(a) for a in arguments])
    out, err = capsys.readouterr()
    return status, out, err


def test_a_draft_becomes_a_study_with_its_routes(tmp_path, capsys):
    captions = tmp_path / "talk.txt"
    captions.write_text("[0:05] Undo the six trigon screws on the lid. Lift the lid off.\n[0:20] Take the fan out.\n")
    words = tmp_path / "words.toml"
    words.write_text('[drives]\ntrigon = "three-wing"\n')
    study = tmp_path / "talk.oddbolt"
    status, out, _ = run(capsys, "draft", captions, "--words", words, "--json", "-o", study)
    steps = json.loads(out)["steps"]
    assert status == 0
    assert [(s["action"], s["at_s"]) for s in steps] == [("unscrew", 5), ("take out", 5), ("take out", 20)]
    assert steps[0]["drive"] == "three-wing"
    status, out, _ = run(capsys, "reach", study, "--json")
    assert {p["part"]: p["operations"]["least"] for p in json.loads(out)["parts"]} == {"Lid": 2, "Fan": 1}


def test_reach_route_and_verdict_agree(demo, capsys):
    reach = json.loads(run(capsys, "reach", demo, "--json")[1])["parts"]
    battery = next(p for p in reach if p["part"] == "Battery")
    route = json.loads(run(capsys, "route", demo, "--target", "battery", "--json")[1])
    assert route["proved"]
    assert route["steps"] == battery["steps"]["least"]
    assert route["legs"][-1]["what"] == "pry Battery glue; Battery out"
    assert route["renew"] == ["Battery"]
    most = json.loads(run(capsys, "route", demo, "--target", "P29", "--facts", "most", "--json")[1])
    assert most["steps"] == battery["steps"]["most"]
    verdict = json.loads(run(capsys, "verdict", demo, "--json")[1])["schemes"]
    counted = next(c for c in verdict["counting"]["parts"] if c["part"] == "Battery")
    assert (counted["steps"], counted["seconds"]) == (route["steps"], pytest.approx(route["seconds"], abs=0.1))
    mark = verdict["bench mark"]
    assert mark["mark"] == pytest.approx(mark["start"] - sum(d["points"] for d in mark["deductions"]))


def test_a_scheme_is_written_changed_and_judged_by(demo, tmp_path, capsys):
    """The shipped form, filled in by a user: it judges, its weights move, what is wrong with it is said."""
    own = tmp_path / "mine.toml"
    _, text, _ = run(capsys, "verdict", "--write-scheme", "regulation")
    own.write_text(text)
    status, out, _ = run(capsys, "verdict", demo, "--scheme", own, "--json")
    assert status == 0
    (mine,) = json.loads(out)["schemes"].values()
    shipped = json.loads(run(capsys, "verdict", demo, "--scheme", "regulation", "--json")[1])["schemes"]["regulation"]
    assert mine["total"] == shipped["total"]
    one = json.loads(run(capsys, "verdict", demo, "--scheme", own, "--weigh", "depth 1000", "--json")[1])["schemes"]
    assert next(iter(one.values()))["total"] != mine["total"]
    own.write_text(text.replace("weight = ", "weight = -", 1))
    for arguments, words in (
        (["--scheme", own], "below 0"),
        (["--scheme", tmp_path / "none.toml"], "cannot be read"),
        (["--scheme", "charm"], "no scheme 'charm'"),
        (["--scheme", "counting", "--weigh", "depth 1"], "no weights to change"),
        (["--weigh", "depth 1"], "need one scheme"),
        (["--scheme", "regulation", "--weigh", "depth much"], "is no weight"),
        (["--scheme", "regulation", "--weigh", "depth nan"], "0 or more"),
        (["--scheme", "bench mark", "--target", "nan"], "not a figure"),
        (["--scheme", "regulation", "--target", "K"], "or a class: A"),
        (["--scheme", "classes", "--target", "3"], "no figure"),
        (["--write-scheme", "counting"], "files to begin with"),
    ):
        status, out, err = run(capsys, "verdict", demo, *arguments)
        assert (status, out) == (1, ""), arguments
        assert words in err, err


def test_devices_side_by_side_are_written(tmp_path, capsys):
    assert run(capsys, "demo", "--shelf", "-o", tmp_path / "shelf")[0] == 0
    both = [tmp_path / "shelf" / "doorbell.oddbolt", tmp_path / "shelf" / "pump gauge.oddbolt"]
    table, picture = tmp_path / "both.csv", tmp_path / "both.svg"
    assert run(capsys, "compare", *both, "-o", table)[0] == 0
    rows = {row["what"]: row for row in csv.DictReader(table.open(encoding="utf-8", newline=""))}
    told = json.loads(run(capsys, "compare", *both, "--json")[1])["orders"]["bench mark"]
    assert float(rows["bench mark"]["Pump gauge, likely"]) == told["scores"][told["order"].index("Pump gauge")][1]
    assert float(rows["time to the battery"]["Doorbell, least"]) > float(
        rows["time to the battery"]["Pump gauge, most"]
    )
    assert run(capsys, "compare", *both, "-o", picture)[0] == 0
    assert "Pump gauge" in picture.read_text(encoding="utf-8")
    assert run(capsys, "compare", *both, "-o", picture)[0] == 1
    assert "not .doc" in run(capsys, "compare", *both, "-o", tmp_path / "a.doc")[2]


def test_photos_are_added_listed_and_printed(demo, tmp_path, capsys):
    card = tmp_path / "card"
    card.mkdir()
    assert run(capsys, "camera", card, "--count", 2, "--every", 0)[0] == 0
    shots = sorted(card.iterdir())
    status, out, _ = run(capsys, "photos", demo, "--add", shots[0], "--add", shots[1], "--step", 7, "--json")
    rows = json.loads(out)["photos"]
    assert status == 0
    assert [(r["step"], r["size"]) for r in rows[-2:]] == [(7, [1200, 900])] * 2
    assert rows[0]["callouts"][0] == {"letter": "A", "label": "8 hex 2.5"}
    assert run(capsys, "photos", demo, "-o", tmp_path / "sheet.html")[0] == 0
    assert (tmp_path / "sheet.html").read_text().count("<svg") == 14
    shots[0].write_bytes(shots[0].read_bytes()[:5000])
    before = demo.read_bytes()
    for wrong in (("--add", shots[0]), ("--add", shots[1], "--step", 99)):
        status, _, err = run(capsys, "photos", demo, *wrong)
        assert status == 1
        assert "cut short" in err or "no step 99" in err
    assert demo.read_bytes() == before


def test_the_times_of_this_bench(demo, tmp_path, capsys):
    answer = json.loads(run(capsys, "times", demo, "--json")[1])
    screws = next(f for f in answer["fitted"] if f["kind"] == "screw")
    assert (answer["laps"], answer["learning"]["steps"]) == (122, 62)
    first, second = (seconds for _, seconds in answer["learning"]["runs"])
    assert answer["learning"]["rate"] == pytest.approx(second / first)  # of two runs the curve goes through both
    assert screws["each_span"][0] <= screws["each_s"] <= screws["each_span"][1]
    assert "stands out" in run(capsys, "times", demo)[1]
    assert run(capsys, "report", demo, "--sections", "times", "-o", tmp_path / "r.html")[0] == 0
    assert "Fitted to 122 timed steps" in (tmp_path / "r.html").read_text()


def test_several_targets_are_one_route(demo, capsys):
    status, out, _ = run(capsys, "route", demo, "--target", "display", "--target", "pressure cell")
    assert status == 0
    assert out.startswith("Display, Pressure cell: ")


@pytest.mark.parametrize("command", ["reach", "verdict", "check"])
def test_plain_words_name_the_parts(demo, capsys, command):
    status, out, _ = run(capsys, command, demo)
    assert status == 0
    assert "Battery" in out or "62 steps" in out


def test_out_and_in_again(demo, tmp_path, capsys):
    exported, again = tmp_path / "a.json", tmp_path / "again.oddbolt"
    assert run(capsys, "export", demo, "-o", exported)[0] == 0
    assert run(capsys, "import", exported, "-o", again)[0] == 0
    assert run(capsys, "export", again, "-o", tmp_path / "b.json")[0] == 0
    assert exported.read_text() == (tmp_path / "b.json").read_text()
    assert run(capsys, "export", demo, "--table", "joints", "-o", tmp_path / "j.csv")[0] == 0
    assert "Long board screw" in (tmp_path / "j.csv").read_text()
    assert run(capsys, "report", demo, "-o", tmp_path / "r.html")[0] == 0
    told = (tmp_path / "r.html").read_text()
    assert "Wrist strap worn" in told
    assert "Begin at the right side, clockwise" in told
    assert "Soft after 3 min 2 s; off the heat by 5 min 55 s." in told
    assert run(capsys, "report", demo, "--sections", "steps", "-o", tmp_path / "r.pdf")[0] == 0
    assert (tmp_path / "r.pdf").read_bytes()[:5] == b"%PDF-"
    assert (tmp_path / "r.html").stat().st_size > 500_000


def test_everything_is_handed_over_without_a_window(demo, tmp_path, capsys):
    for command in (
        ["report", demo, "--for", "judge", "--sections", "short, verdict", "--schools", "counting", "-o", "r.html"],
        ["instructions", demo, "--target", "battery", "-o", "i.md"],
        ["captions", demo, "--run", "R1", "-o", "c.srt"],
        ["photos-out", demo, "--longest", "200", "--others", "-o", "p.zip"],
        ["web", demo, "--others", "-o", "web"],
        ["export", demo, "-o", "t.zip"],
        ["export", demo, "--others", "-o", "o.oddbolt"],
    ):
        status, _, err = run(capsys, *command[:-1], tmp_path / command[-1])
        assert (status, "Traceback" in err) == (0, False)
    told = (tmp_path / "r.html").read_text()
    assert "<h3>Counting</h3>" in told
    assert "<h3>Classes</h3>" not in told
    assert "T4-000417" not in (tmp_path / "web" / "study.json").read_text()
    assert (tmp_path / "c.srt").read_text().startswith("1\n00:00:00,000 --> ")
    assert run(capsys, "check", tmp_path / "o.oddbolt")[0] == 0
    assert json.loads(run(capsys, "schema", "study")[1])["title"] == "A teardown study"


def test_a_spreadsheet_becomes_a_study_and_more_of_one(tmp_path, capsys):
    parts, screws = tmp_path / "parts.csv", tmp_path / "screws.tsv"
    parts.write_text("Component,Weight (g),Bin\nLid,12.5,A\nBase,heavy,B\n")
    screws.write_text("Fastener\tQty\tDriver\tHolds\nLid screws\t4\tT5\tLid\n")
    study = tmp_path / "a.oddbolt"
    status, out, _ = run(capsys, "import", parts, "-o", study)
    assert status == 0
    assert "row 3, Weight (g): 'heavy' is not a mass" in out
    assert "not taken: Bin" in out
    assert "1 of 2 rows as parts entered." in out
    before = study.read_bytes()
    assert "would be entered" in run(capsys, "import", screws, "--into", study, "--preview")[1]
    assert study.read_bytes() == before
    assert run(capsys, "import", screws, "--into", study, "--match", "place=Qty, count=Qty")[0] == 0
    assert "Lid screws" in run(capsys, "screws", study)[1]
    assert run(capsys, "import", parts)[0] == 1
    assert "no column" in run(capsys, "import", parts, "-o", tmp_path / "b.oddbolt", "--match", "name=Wish")[2]


def test_contradicting_facts_are_named_and_the_status_says_so(demo, capsys):
    store, study = Store.open(demo)
    circle = change(study, "F16", state="seen")
    from oddbolt.core.study import Fact, put

    circle = put(circle, Fact("F900", "P19", "P17", "seen"))
    store.save(study, circle)
    store.close()
    status, out, _ = run(capsys, "check", demo)
    assert status == 1
    assert "Main board lies over Shield plate" in out
    status, _, err = run(capsys, "route", demo, "--target", "main board")
    assert status == 1
    assert "contradict each other in a circle" in err
    assert "Shield plate lies over" in err


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (["route", "DEMO", "--target", "flux coil"], "no part called 'flux coil'"),
        (["route", "DEMO", "--target", "base shell"], "no recorded step takes it out"),
        (["reach", "missing.oddbolt"], "missing.oddbolt"),
        (["draft", "missing.srt"], "missing.srt cannot be read"),
        (["draft", "DEMO"], "not text|MB"),
        (["export", "DEMO", "-o", "a.doc"], "none of .json, .csv, .zip and .xlsx"),
        (["export", "DEMO", "-o", "a.oddbolt"], "--others"),
        (["report", "DEMO", "--for", "cook", "-o", "r.pdf"], "repairer, designer, judge"),
        (["report", "DEMO", "--paper", "A5", "-o", "r.pdf"], "A4 and letter"),
        (["instructions", "DEMO", "--target", "base shell", "-o", "i.pdf"], "no recorded step"),
        (["captions", "DEMO", "-o", "c.vtt"], "draft the study from timed captions"),
        (["captions", "DEMO", "--run", "R1", "--chapters", "-o", "c.srt"], "name the file .vtt"),
        (["import", "missing.csv", "-o", "b.oddbolt"], "missing.csv"),
        (["report", "DEMO", "-o", "/no/such/folder/r.html"], "cannot be written"),
        (["import", "DEMO", "-o", "b.oddbolt"], "UTF-8|no JSON"),
        (["demo", "-o", "DEMO"], "already exists"),
    ],
)
def test_what_cannot_be_done_is_one_sentence_and_status_1(demo, capsys, arguments, words, monkeypatch):
    import re

    monkeypatch.chdir(demo.parent)
    before = demo.read_bytes()
    status, out, err = run(capsys, *[str(demo) if a == "DEMO" else a for a in arguments])
    assert status == 1
    assert out == ""
    assert re.search(words, err), err
    assert err.startswith("oddbolt: ")
    assert len(err.strip().splitlines()) == 1
    assert demo.read_bytes() == before


@pytest.mark.parametrize("arguments", [["fly"], ["route", "x.oddbolt"], ["verdict"], ["reach", "x", "--colour"]])
def test_what_is_not_understood_is_status_2(arguments, capsys):
    with pytest.raises(SystemExit) as stopped:
        main(arguments)
    assert stopped.value.code == 2
    assert "usage" in capsys.readouterr().err


def test_the_program_starts_as_a_module_and_a_closed_pipe_is_no_error(demo):
    command = [sys.executable, "-m", "oddbolt", "reach", str(demo)]
    whole = subprocess.run(command, capture_output=True, text=True, check=True)
    assert len(whole.stdout.splitlines()) == 53
    piped = subprocess.run(f"{' '.join(command)} | head -1", shell=True, capture_output=True, text=True, check=True)
    assert piped.stderr == ""


def test_without_a_screen_the_window_says_how(monkeypatch, capsys):
    for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"):
        monkeypatch.delenv(name, raising=False)
    status, _, err = run(capsys, "desk")
    assert status == 1
    assert "xvfb-run" in err


WARMUP = {
    "heater": "plate",
    "heater_c": 80,
    "layers": [
        {"material": "soda-lime glass", "thickness_mm": 1.5, "role": "cover"},
        {"material": "acrylic tape", "thickness_mm": 0.3, "role": "glue"},
        {"material": "lithium pouch cell", "thickness_mm": 6, "role": "guarded"},
    ],
}


def given(tmp_path, data, **changed):
    path = tmp_path / "in.json"
    path.write_text(json.dumps({**data, **changed}))
    return path


def test_a_warm_up_in_and_out_as_json(tmp_path, capsys):
    status, out, _ = run(capsys, "warmup", "--in", given(tmp_path, WARMUP), "--json", "--band", 30)
    answer = json.loads(out)
    assert status == 0
    assert 60 < answer["soft_s"] < answer["limit_s"] + 600
    assert answer["band"]["soft_s"][0] < answer["soft_s"] < answer["band"]["soft_s"][2]
    assert answer["curve"]["bond_c"] == sorted(answer["curve"]["bond_c"])
    read = json.loads(run(capsys, "warmup", "--in", given(tmp_path, WARMUP), "--json", "--read", "120:50")[1])
    assert read["coupling_w_m2k"] < 100
    assert read["soft_s"] > answer["soft_s"]


def test_warm_ups_and_plans_of_a_study_by_name(demo, capsys):
    assert "Battery through its tray: Soft after" in run(capsys, "warmup", demo, "--name", "battery", "--band", 0)[1]
    assert "Window on the warm plate" in run(capsys, "warmup", demo)[1]
    assert "1 clip" in run(capsys, "edge", demo, "--name", "display")[1]


def test_a_screw_is_identified_from_its_measurements(capsys):
    assert main(["identify", "od 1.58,", "pitch .35,", "length 4.1", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["candidates"][0]["thread"] == "M1.6"
    assert told["length_mm"] == 4
    assert main(["identify", "od 3, pitch .2"]) == 0
    assert "measure both again" in capsys.readouterr().out
    assert main(["identify", "rather long"]) == 1
    assert "is not a known measurement" in capsys.readouterr().err


def test_an_edge_plan_in_and_out_as_json_and_drawn(tmp_path, capsys):
    data = {"outline": "84 x 52 r 6", "keepouts": [{"kind": "cell", "x_mm": 42, "y_mm": 5, "wide_mm": 8, "high_mm": 6}]}
    status, out, _ = run(capsys, "edge", "--in", given(tmp_path, data), "--json", "-o", tmp_path / "a.svg")
    answer = json.loads(out)
    assert status == 0
    top = next(s for s in answer["stretches"] if s["name"] == "top side")
    assert (top["finding"], top["nearest"], top["safe_depth_mm"]) == ("too near", "cell", 0)
    assert len(answer["order"]) == 4
    assert "1:1" in (tmp_path / "a.svg").read_text()


def test_the_kit_of_a_route_with_a_bench_of_ones_own(demo, tmp_path, capsys):
    (tmp_path / "bench.txt").write_text("PH00\nfilm\n")
    status, out, _ = run(capsys, "kit", demo, "--target", "battery", "--bench", tmp_path / "bench.txt", "--json")
    answer = json.loads(out)
    assert (status, answer["job"]) == (0, "route to Battery")
    assert {n["what"] for n in answer["needs"] if n["there"]} == {"cross PH00", "film"}
    status, out, _ = run(capsys, "kit", demo, "-o", tmp_path / "kit.html")
    assert "things" in out
    assert "Before you begin" in (tmp_path / "kit.html").read_text()


@pytest.mark.parametrize(
    ("command", "data", "words"),
    [
        ("warmup", {**WARMUP, "layers": [{"material": "granite", "thickness_mm": 1}]}, "'granite' is in no row"),
        ("warmup", {**WARMUP, "layers": [{"material": "air", "thickness_mm": 0}]}, "thickness is 0"),
        ("warmup", {**WARMUP, "layers": [{"material": "air", "thickness_mm": 1, "conductivity_w_mk": -2}]}, "-2"),
        ("warmup", {**WARMUP, "layers": []}, "no layers"),
        ("warmup", {**WARMUP, "layers": {"a": 1}}, "must be a list"),
        ("warmup", {**WARMUP, "colour": "red"}, "colour"),
        ("warmup", [], "JSON object"),
        ("edge", {"outline": "polygon 0,0 4,4 4,0 0,4"}, "crosses itself"),
        ("edge", {}, "has no outline yet"),
        ("edge", {"outline": "9 x 9", "keepouts": [{"kind": "cell"}]}, "x_mm is missing"),
    ],
)
def test_what_cannot_be_worked_out_is_said_in_one_sentence(tmp_path, capsys, command, data, words):
    path = tmp_path / "in.json"
    path.write_text(json.dumps(data))
    status, out, err = run(capsys, command, "--in", path)
    assert (status, out) == (1, "")
    assert words in err
    assert err.count("\n") == 1


def test_a_heater_too_cold_says_where_it_settles(tmp_path, capsys):
    status, out, _ = run(capsys, "warmup", "--in", given(tmp_path, WARMUP, heater_c=58))
    assert status == 0
    assert "never reaches 65 °C; it settles at 5" in out
    assert run(capsys, "warmup", "--in", given(tmp_path, WARMUP), "--read", "soon")[0] == 1
    assert run(capsys, "warmup")[0] == 1


SCAN = Path(__file__).parent / "scans" / "0702.jpg"


def test_screws_on_a_photo_are_counted_and_drawn(demo, tmp_path, capsys):
    assert main(["scan", str(SCAN), "--json", "--study", str(demo), "-o", str(tmp_path / "seen.png")]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["count"] == len(told["screws"]) == 12
    assert {"length_mm", "head_mm", "shank_mm", "group", "joint"} <= set(told["screws"][0])
    assert told["match"]["wanted"] > 12
    assert (tmp_path / "seen.png").stat().st_size > 10_000
    assert main(["scan", str(SCAN)]) == 0
    assert capsys.readouterr().out.startswith("12 screws in ")


@pytest.mark.parametrize("kind", ["CMYK", "I;16", "sideways", "grey"])
def test_photos_of_every_kind_are_scanned_or_refused_in_one_sentence(tmp_path, capsys, kind):
    with Image.open(SCAN) as picture:
        path = tmp_path / ("a.jpg" if kind in ("CMYK", "sideways") else "a.png")
        if kind == "sideways":
            exif = Image.Exif()
            exif[0x0112] = 6
            picture.rotate(90, expand=True).save(path, exif=exif, quality=92)
        elif kind == "I;16":
            Image.fromarray(np.asarray(picture.convert("L")).astype(np.uint16) * 200).save(path)
        else:
            picture.convert("L" if kind == "grey" else kind).save(path)
    status = main(["scan", str(path)])
    out, err = capsys.readouterr()
    if kind in ("CMYK", "sideways"):
        assert status == 0, err
        assert out.startswith("12 screws")
    else:
        assert status == 1
        assert err.count("\n") == 1
        assert "tinted field" in err


def test_a_photo_without_a_mat_or_cut_short_is_refused(tmp_path, capsys):
    (tmp_path / "cut.jpg").write_bytes(SCAN.read_bytes()[:50_000])
    Image.new("RGB", (800, 600), (90, 90, 90)).save(tmp_path / "plain.png")
    for name, words in (("cut.jpg", "cut short"), ("plain.png", "No mat"), ("none.jpg", "cannot be read")):
        assert main(["scan", str(tmp_path / name)]) == 1
        assert words in capsys.readouterr().err


def test_the_mat_tells_its_measures(tmp_path, capsys):
    assert main(["mat", "-o", str(tmp_path / "mat.png"), "--dpi", "100", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert (told["width_mm"], told["ruler"]["length_mm"], len(told["markers"])) == (210, 100, 11)
    assert main(["mat"]) == 1
    assert main(["mat", "-o", str(tmp_path / "m.png"), "--sheet", "b0"]) == 1
    assert "sizes are a5, a4" in capsys.readouterr().err


def test_questions_what_ifs_and_other_routes_are_told(demo, tmp_path, capsys):
    assert main(["questions", str(demo), "--json"]) == 0
    asked = json.loads(capsys.readouterr().out)["questions"]
    assert asked[0]["narrows_s"] >= asked[-1]["narrows_s"] > 0
    assert main(["whatif", str(demo), "--part", "battery", "--json"]) == 0
    found = json.loads(capsys.readouterr().out)["changes"]
    assert found[0]["saves_s"] == max(c["saves_s"] for c in found)
    assert main(["whatif", str(demo), "--part", "battery", "--change", found[0]["changes"][0]]) == 0
    assert found[0]["words"][0] in capsys.readouterr().out
    assert main(["whatif", str(demo), "--change", "gone J999"]) == 1
    assert (
        main(["route", str(demo), "--target", "battery", "--others", "1", "-o", str(tmp_path / "card.html"), "--json"])
        == 0
    )
    told = json.loads(capsys.readouterr().out)
    assert told["p50_s"] < told["p90_s"]
    assert told["others"][0]["seconds"] > told["seconds"]
    assert "Route to Battery" in (tmp_path / "card.html").read_text(encoding="utf-8")
    assert main(["route", str(demo), "--target", "battery", "--keep-in", "main board"]) == 1
    assert main(["reach", str(demo), "-o", str(tmp_path / "needs.dot")]) == 0
    assert (tmp_path / "needs.dot").read_text(encoding="utf-8").startswith("digraph")


def test_a_photo_of_the_mat_is_measured(capsys):
    photo = str(Path(__file__).parent / "scans" / "0702.jpg")
    assert main(["measure", photo, "length", "700,500", "800,500", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["unit"] == "mm"
    assert 5 < told["value"] < 20
    assert main(["measure", photo, "length", "700"]) == 1
    assert "with a comma" in capsys.readouterr().err


def test_screws_trays_and_torques_are_told(demo, tmp_path, capsys):
    assert main(["screws", str(demo), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert sum(g["count"] for g in told["groups"]) == 61
    assert told["pairs"][0]["risk"] >= told["pairs"][-1]["risk"] > 0
    assert main(["screws", str(demo), "--measured", "4", "4.1", "5", "4"]) == 0
    assert "number 3" in capsys.readouterr().out
    assert main(["tray", str(demo), "--grid", "4x6", "-o", str(tmp_path / "tray.svg"), "--json"]) == 0
    assert "groups in 24 compartments" in json.loads(capsys.readouterr().out)["sentence"]
    assert main(["tray", str(demo), "--grid", "2x2"]) == 1
    assert "larger tray" in capsys.readouterr().err
    assert main(["torque", "M2", "--typed", "13 N·m", "--holes", "0,0", "9,0", "9,9", "0,9"]) == 0
    out = capsys.readouterr().out
    assert "13 N·cm meant?" in out
    assert "1, 3, 2, 4" in out
    assert main(["torque", "M2", "--typed", "soft"]) == 1
    assert "is not a torque" in capsys.readouterr().err


def test_the_bill_of_materials_is_listed_and_written(demo, tmp_path, capsys):
    status, out, _ = run(capsys, "bom", demo)
    assert status == 0
    assert "      1 Hatch seal (gasket)  1.0 g  renew" in out
    assert out.endswith("53 parts, 61 screws of 14 kinds.\n")
    assert run(capsys, "bom", demo, "-o", tmp_path / "bill.csv")[0] == 0
    with (tmp_path / "bill.csv").open(newline="") as file:
        rows = list(csv.DictReader(file))
    assert sum(int(row["count"]) for row in rows) == 53 + 61
    assert next(row["held by"] for row in rows if row["name"] == "Window") == "Window glue"
    assert "ends in neither .csv nor .xlsx" in run(capsys, "bom", demo, "-o", tmp_path / "bill.xls")[2]
    assert run(capsys, "export", demo, "--table", "bill", "-o", "-")[1].startswith("level,name,kind")


ANSWERS = [
    ["draft", "tests/narration/tide-logger.srt"],
    ["draft", "tests/narration/radio-beacon.vtt"],
    ["reach", "DEMO"],
    ["questions", "DEMO"],
    ["whatif", "DEMO", "--part", "battery", "--pairs"],
    ["route", "DEMO", "--target", "battery", "--others", "1"],
    ["putback", "DEMO", "--target", "battery"],
    ["putback", "DEMO", "--renew", "battery"],
    ["ledger", "DEMO", "--mass", "691.9 g"],
    ["leftover", "od 1.58, length 4.1", "--study", "DEMO"],
    ["missing", "DEMO", "Board screws"],
    ["align", "84x52", "left 0.3, right 0.1, top 0.2, bottom 0.2", "--fastener", "hinge=4,4"],
    ["times", "DEMO"],
    ["verdict", "DEMO"],
    ["verdict", "SHELF/pump gauge.oddbolt", "--scheme", "bench mark", "--target", "9"],
    ["shelf", "SHELF"],
    ["compare", "SHELF/doorbell.oddbolt", "SHELF/pump gauge.oddbolt"],
    ["compare", "DEMO", "SHELF/tide logger, second analyst.oddbolt", "--same"],
    ["check", "DEMO"],
    ["kit", "DEMO", "--target", "battery"],
    ["warmup", "DEMO", "--band", "5"],
    ["edge", "DEMO"],
    ["photos", "DEMO"],
    ["identify", "od 1.58, pitch .35"],
    ["decode", "4R7", "--package", "0805"],
    ["parts", "DEMO"],
    ["board-map", "tests/boards/3100.jpg", "--wide", "100 mm"],
    ["part-kind", "disc, two wires, magnet, 12 mm"],
    ["part-kind", "--about", "loudspeaker"],
    ["package", "4.9 x 3.9 mm, 8 pins"],
    ["connector", "ten ways, half a millimetre, flip lid"],
    ["mass", "DEMO"],
    ["bom", "DEMO"],
    ["screws", "DEMO"],
    ["screws", "DEMO", "--measured", "4", "4", "4", "6"],
    ["torque", "M2.5", "--typed", "13 N·m", "--holes", "0,0", "10,0", "10,10"],
    ["tray", "DEMO"],
    ["mat"],
    ["scan", "tests/scans/0700.jpg", "--study", "DEMO"],
    ["measure", "tests/scans/0700.jpg", "length", "800,600", "900,700"],
]


@pytest.mark.parametrize("command", ANSWERS, ids=lambda c: " ".join(c[:2]))
def test_an_answer_has_the_form_that_its_schema_says(demo, capsys, command):
    """JSON Schema, draft 2020-12, by the reference library."""
    root = Path(__file__).parent.parent
    if any("SHELF" in w for w in command):
        main(["demo", "--shelf", "-o", str(demo.parent / "shelf")])
    named = [w.replace("SHELF", str(demo.parent / "shelf")) for w in command]
    words = [str(demo) if w == "DEMO" else str(root / w) if w.startswith("tests/") else w for w in named]
    _, out, err = run(capsys, *words, "--json")
    jsonschema.validate(json.loads(out), json.loads(run(capsys, "schema", command[0])[1]))
    assert not err or "taken for" in err


def test_every_command_with_an_answer_has_a_schema_that_was_tried():
    with_json = {n for n, c in parser().commands.items() if any(a.dest == "json" for a in c._actions)}
    assert with_json == {a[0] for a in ANSWERS}
    for name in with_json:
        jsonschema.Draft202012Validator.check_schema(json.loads(schema_of(name)))


def test_a_mistyped_command_is_met_with_the_nearest(capsys):
    with pytest.raises(SystemExit):
        main(["vredict"])
    assert "did you mean verdict?" in capsys.readouterr().err


def test_what_is_there_is_kept_unless_it_is_to_be_replaced(demo, tmp_path, capsys):
    kept = tmp_path / "a.csv"
    kept.write_text("mine")
    assert run(capsys, "export", demo, "-o", kept)[0] == 1
    assert kept.read_text() == "mine"
    assert run(capsys, "export", demo, "-o", kept, "--replace")[0] == 0
    assert kept.read_text().startswith("number,")
    study = tmp_path / "b.oddbolt"
    assert [run(capsys, "demo", "-o", study, *more)[0] for more in ([], [], ["--replace"])] == [0, 1, 0]
    store, _ = Store.open(study)
    status, _, err = run(capsys, "demo", "-o", study, "--replace")
    assert (status, "open in a window" in err) == (1, True)
    store.close()


def test_a_hyphen_is_standard_input_and_output(demo, tmp_path):
    def piped(*words, given=b""):
        done = subprocess.run([sys.executable, "-m", "oddbolt", *map(str, words)], input=given, capture_output=True)
        assert done.returncode == 0, done.stderr
        return done.stdout

    there = piped("export", demo, "-o", "-")
    piped("import", "-", "-o", tmp_path / "again.oddbolt", given=there)
    assert piped("export", tmp_path / "again.oddbolt", "-o", "-") == there
    assert b"count 4" in piped("draft", "-", given=b"[0:01] undo four PH0 screws on the fan\n")
    assert piped("export", demo, "-o", "-", "--table", "parts").startswith(b"id,")


def test_no_control_character_reaches_the_terminal(tmp_path, capsys):
    evil = "\x1b[2J\x9b31m\u202elid"
    Store.create(tmp_path / "e.oddbolt", put(Study(), Part("P1", evil))).close()
    for words in (["reach", tmp_path / "e.oddbolt"], ["route", tmp_path / "e.oddbolt", "--target", evil + "x"]):
        _, out, err = run(capsys, *words)
        assert "lid" in out + err
        assert not set("\x1b\x9b\u202e") & set(out + err)


@pytest.mark.parametrize(
    ("words", "given"),
    [
        (["draft", "FILE"], "[0:01] undo " + "9" * 400 + " screws on the fan"),
        (["draft", "talk.txt", "--words", "FILE"], "drives = 7"),
        (["draft", "talk.txt", "--words", "FILE"], "[drives]\nx = [[1]]"),
        (["draft", "talk.txt", "--words", "FILE"], "a = " + "[" * 9000),
        (["import", "FILE", "-o", "n.oddbolt"], "[" * 90000),
        (["import", "FILE", "-o", "n.oddbolt"], '{"format": "x", "parts": [{"id": 1e999}]}'),
        (["draft", "/dev/zero"], ""),
        (["draft", "pipe.vtt"], ""),
        (["check", "pipe.vtt"], ""),
        (["check", b"\xff.oddbolt"], ""),
        (["identify", "od " + "9" * 5000], ""),
        (["warmup", "--in", "FILE"], '{"layers": [{"thickness_mm": 1e308}], "minutes": 1e300}'),
    ],
)
def test_whatever_is_given_is_answered_in_a_sentence_in_bounded_time(tmp_path, words, given):
    os.mkfifo(tmp_path / "pipe.vtt")
    (tmp_path / "talk.txt").write_text("[0:01] lift the lid off")
    (tmp_path / "given").write_text(given)
    words = ["given" if w == "FILE" else w for w in words]
    limit = (resource.RLIMIT_AS, (6_000_000_000, 6_000_000_000))
    done = subprocess.run(
        [sys.executable, "-m", "oddbolt", *words],
        cwd=tmp_path, capture_output=True, text=True, timeout=60, preexec_fn=lambda: resource.setrlimit(*limit),
    )  # fmt: skip
    assert "Traceback" not in done.stderr, done.stderr
    assert done.returncode in (0, 1)
    assert len(done.stderr) <= 312
    assert not (tmp_path / "n.oddbolt").exists()


def test_an_output_that_takes_nothing_is_told(demo):
    with open("/dev/full", "w") as full:
        command = [sys.executable, "-m", "oddbolt", "reach", str(demo)]
        done = subprocess.run(command, stdout=full, stderr=subprocess.PIPE, text=True)
    assert (done.returncode, done.stderr) == (1, "oddbolt: The answer could not be written: No space left on device.\n")


def test_the_program_goes_into_the_menu_and_out_again(tmp_path, monkeypatch, capsys):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    assert run(capsys, "integrate")[0] == 0
    there = {p.name for p in tmp_path.rglob("*oddbolt*") if p.is_file()} | {p.name for p in tmp_path.rglob("org.*")}
    assert {f"{ID}.{e}" for e in ("desktop", "svg", "xml", "metainfo.xml")} | {"oddbolt.1", "oddbolt"} <= there
    entry = configparser.ConfigParser(interpolation=None)
    entry.read(tmp_path / "applications" / f"{ID}.desktop")
    exec_ = entry["Desktop Entry"]["Exec"]
    assert Path(shlex.split(exec_)[0]).is_absolute()
    assert run(capsys, "integrate", "--remove")[1].startswith("7 files removed")
    assert not [p for p in tmp_path.rglob("*") if p.is_file() and "oddbolt" in p.name.lower()]


def test_the_manual_page_and_completion_name_every_command(capsys):
    page, script = run(capsys, "man")[1], run(capsys, "completion", "bash")[1]
    for name in parser().commands:
        assert ".SS " + name.replace("-", "\\-") in page
        assert name in script


def test_missing_libraries_are_named_with_their_packages(monkeypatch):
    monkeypatch.setattr(libraries, "_there", lambda name: name != "libEGL.so.1")
    with pytest.raises(FileError, match=r"libEGL\.so\.1.*apt-get install libegl1$"):
        libraries.check_libraries()
    script = (Path(__file__).parent.parent / "run").read_text()
    assert all(f"{package}={name}" in script for name, package in {**libraries.LIBRARIES, **libraries.OF_X}.items())


def test_the_way_back_and_what_is_still_out(demo, capsys):
    status, out, _ = run(capsys, "putback", demo, "--target", "battery")
    assert status == 0
    assert "start 8 hex socket 2.5 of 12 mm by hand; tighten crosswise in two passes to 60 N·cm" in out
    assert out.index("Battery in") < out.index("Lid folded back")
    assert "Have ready: new Battery glue" in out
    assert "proved, no order is quicker" in out
    status, out, _ = run(capsys, "ledger", demo)
    assert "0 of 61 screws back, 13 connectors open" in out
    status, _, err = run(capsys, "putback", demo, "--target", "flux capacitor")
    assert (status, err.count("\n")) == (1, 1)


def test_a_marking_is_decoded_or_said_to_be_none(capsys):
    status, out, _ = run(capsys, "decode", "4R7", "--package", "0805")
    assert status == 0
    assert "resistor      4.7 Ω" in out
    assert "is no marking" in run(capsys, "decode", "qwerty!")[1]
    assert run(capsys, "decode", "4R7", "--package", "shoe box")[0] == 1
    assert "one of: resistor" in run(capsys, "decode", "4R7", "--kind", "frog")[2]


def test_parts_connectors_and_packages_are_named_and_kept(demo, tmp_path, capsys):
    into = ("--into", demo, "--of", "Light pipe")
    status, out, _ = run(capsys, "part-kind", "disc, two wires, magnet, cone, 40 mm", *into)
    assert status == 0
    assert "Kept: Light pipe, loudspeaker." in out
    assert "loudspeaker" in run(capsys, "parts", demo, "--find", "light pipe")[1]
    assert "Next: " in run(capsys, "part-kind", "disc")[1]
    assert "keep tools of steel away" in run(capsys, "part-kind", "--about", "speaker")[1]
    assert "did you mean" in run(capsys, "part-kind", "--about", "lowdspeaker")[2]
    assert run(capsys, "part-kind", "disc", "--into", demo)[0] == 1
    assert "Not certain enough" in run(capsys, "part-kind", "disc", "--into", demo, "--of", "Light pipe")[2]
    out = run(capsys, "connector", "two ways, pitch 2.0, wires, tab lock", "--into", demo, "--of", "Probe plug")[1]
    assert "Not understood: tab, lock" in out
    assert "2 contacts" in out
    assert "Count again" in run(capsys, "connector", "90 ways, 0.5 mm, one row, 9 mm wide")[1]
    assert "SOIC-8" in run(capsys, "package", "4.9 x 3.9 mm, 8 pins", "--into", demo, "--of", "Processor")[1]
    assert run(capsys, "parts", demo, "--state", "lost")[2].startswith("oddbolt: “lost” is no state")
    assert run(capsys, "parts", demo, "-o", tmp_path / "laid.svg")[0] == 0
    assert "Clock cell" in (tmp_path / "laid.svg").read_text()
    assert run(capsys, "bom", demo, "-o", tmp_path / "bill.xlsx")[0] == 0
    assert run(capsys, "export", demo, "-o", tmp_path / "all.xlsx")[0] == 0
    assert run(capsys, "export", demo, "--table", "outlines", "-o", tmp_path / "outlines.csv")[0] == 0
    assert "processing" in (tmp_path / "outlines.csv").read_text()


def test_a_board_is_mapped_from_a_photo(demo, tmp_path, capsys):
    photo = Path(__file__).parent / "boards" / "3100.jpg"
    status, out, _ = run(capsys, "board-map", photo)
    assert status == 0
    assert "No scale" in out
    kept = ("--into", demo, "--of", "Port board", "--face", "back", "--wide", "90 mm", "-o", tmp_path / "map.svg")
    out = run(capsys, "board-map", photo, *kept)[1]
    assert "Kept: the map of Port board, back" in out
    assert "0 of" in out
    assert "<polygon" in (tmp_path / "map.svg").read_text()
    again = run(capsys, "board-map", photo, "--into", demo, "--json")[1]
    assert ", 0 new outlines" in json.loads(again)["kept"]
    assert run(capsys, "board-map", photo, "--edge", "0,0 2,0 1,1")[0] == 1
    assert run(capsys, "board-map", photo, "--of", "Port board")[0] == 1
    assert run(capsys, "board-map", tmp_path / "map.svg")[0] == 1


def test_masses_are_added_up(demo, capsys):
    status, out, _ = run(capsys, "mass", demo)
    assert status == 0
    assert out.startswith("! Core: 128.8 g are not accounted for")
    assert "  Lid: adds up" in out
    assert run(capsys, "mass", demo, "--step", "a lot")[0] == 1


def test_a_repair_job_on_one_sheet_a_screw_left_over_and_the_case_closed(demo, tmp_path, capsys):
    card = tmp_path / "job.pdf"
    status, out, _ = run(capsys, "putback", demo, "--renew", "battery", "-o", card)
    assert status == 0
    assert "Order: adhesive 19 cm²" in out
    assert "nine in ten under" in out
    document = pypdfium2.PdfDocument(card)
    assert len(document) == 2, "one sheet, both sides"
    words = " ".join(page.get_textpage().get_text_bounded() for page in document)
    assert "Replace Battery" in words
    assert "Before it is handed over" in words
    assert run(capsys, "putback", demo, "--target", "lid", "-o", tmp_path / "plan.html")[0] == 0
    assert "Put back" in (tmp_path / "plan.html").read_text(encoding="utf-8")
    assert run(capsys, "putback", demo, "--target", "lid", "--renew", "lid")[0] == 1
    status, out, _ = run(capsys, "leftover", "od", "1.58,", "length", "4.1", "--study", demo)
    assert "It belongs to Board screws" in out
    status, out, _ = run(capsys, "missing", demo, "Board screws")
    assert "never a longer one" in out
    assert "thread M2, not M1.6" in out
    status, out, _ = run(
        capsys, "align", "84x52", "left 0.3,", "right 0.1, top 0.2, bottom 0.2", "--fastener", "hinge=4,4"
    )
    assert "Move it 0.10 mm to the left" in out
    assert run(capsys, "align", "84x52", "left 0.3")[0] == 1
    assert run(capsys, "align", "84x52", "left 0.3, right 0.1, top 0.2, bottom 0.2", "--fastener", "hinge")[0] == 1
    copy = tmp_path / "copy.oddbolt"
    copy.write_bytes(Path(demo).read_bytes())
    status, out, _ = run(capsys, "ledger", copy, "--close", "--by", "somebody", "--mass", "691.9 g")
    assert "2.1 g lighter than expected" in out
    assert "Closed by somebody" in out
    assert "8 of Lid screws" in run(capsys, "ledger", copy)[1]
    assert run(capsys, "ledger", copy, "--mass", "3 furlongs")[0] == 1


def test_a_page_is_written_as_a_picture_without_a_window(demo, tmp_path):
    """In a process of its own: the window needs a platform of its own."""
    command = [sys.executable, "-m", "oddbolt", "view", str(demo), "--page", "fasteners", "-o", str(tmp_path / "a.svg")]
    done = subprocess.run(command, capture_output=True, text=True, timeout=300, check=False)
    assert done.returncode == 0, done.stderr
    drawn = (tmp_path / "a.svg").read_text(encoding="utf-8")
    assert "Long board screw" in drawn.replace("&#160;", " ")
    command = [sys.executable, "-m", "oddbolt", "view", str(demo), "--page", "Soup", "-o", str(tmp_path / "b.svg")]
    done = subprocess.run(command, capture_output=True, text=True, timeout=300, check=False)
    assert (done.returncode, "there are Prepare" in done.stderr) == (1, True)
    assert sorted(p.name for p in tmp_path.iterdir() if p.name.startswith("b")) == []
