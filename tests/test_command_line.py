"""Every main job without a window: what it prints, what it writes, and its exit status."""

import json
import subprocess
import sys

import pytest

from oddbolt.__main__ import main
from oddbolt.core.study import change
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
    assert route["legs"][-1]["what"].startswith("Pried the battery")
    assert route["renew"] == ["Battery"]
    most = json.loads(run(capsys, "route", demo, "--target", "P29", "--facts", "most", "--json")[1])
    assert most["steps"] == battery["steps"]["most"]
    verdict = json.loads(run(capsys, "verdict", demo, "--json")[1])
    counted = next(c for c in verdict["counting"]["parts"] if c["part"] == "Battery")
    assert (counted["steps"], counted["seconds"]) == (route["steps"], pytest.approx(route["seconds"], abs=0.1))
    mark = verdict["bench mark"]
    assert mark["mark"] == pytest.approx(mark["start"] - sum(d["points"] for d in mark["deductions"]))


def test_the_times_of_this_bench(demo, tmp_path, capsys):
    answer = json.loads(run(capsys, "times", demo, "--json")[1])
    screws = next(f for f in answer["fitted"] if f["kind"] == "screw")
    assert (answer["laps"], answer["learning"]) == (61, None)
    assert screws["each_span"][0] <= screws["each_s"] <= screws["each_span"][1]
    assert "stands out" in run(capsys, "times", demo)[1]
    assert run(capsys, "report", demo, "-o", tmp_path / "r.html")[0] == 0
    assert "Fitted to 61 timed steps" in (tmp_path / "r.html").read_text()


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
    assert run(capsys, "report", demo, "-o", tmp_path / "r.pdf")[0] == 0
    assert (tmp_path / "r.pdf").read_bytes()[:5] == b"%PDF-"
    assert (tmp_path / "r.html").stat().st_size > 500_000


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
    assert "the facts go in a circle" in err
    assert "Shield plate lies over" in err


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (["route", "DEMO", "--target", "flux coil"], "no part called 'flux coil'"),
        (["route", "DEMO", "--target", "base shell"], "no recorded step takes it out"),
        (["reach", "missing.oddbolt"], "missing.oddbolt"),
        (["draft", "missing.srt"], "missing.srt cannot be read"),
        (["draft", "DEMO"], "not text|MB"),
        (["export", "DEMO", "-o", "a.doc"], "neither .json nor .csv"),
        (["report", "DEMO", "-o", "/no/such/folder/r.html"], "cannot be written"),
        (["import", "DEMO", "-o", "b.oddbolt"], "UTF-8|no JSON"),
        (["demo", "-o", "DEMO"], "there already"),
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
    assert (status, answer["job"]) == (0, "the way to Battery")
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
