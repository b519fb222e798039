"""The shelf on disk: read without being written to, renewed by content, honest about what cannot be read."""

import json
import os
from io import BytesIO

import attrs
import pytest
from builders import random_study
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PIL import Image

from oddbolt.core.errors import FileError
from oddbolt.core.study import change
from oddbolt.core.verdict import SPECS, bench_mark, read_spec
from oddbolt.core.verdict.side_by_side import side_by_side
from oddbolt.demo import tide_logger
from oddbolt.demo.small_devices import pump_gauge
from oddbolt.files import shelf as shelves
from oddbolt.files.shelf import INDEX, own_specs, shelf
from oddbolt.files.store import Store


def kept(folder, name, study):
    path = folder / f"{name}.oddbolt"
    Store.create(path, study).close()
    return path


def test_studies_are_read_once_and_then_from_the_index(tmp_path, monkeypatch):
    studies = {f"device {n:03}": random_study(n, steps=4) for n in range(80)}
    paths = {name: kept(tmp_path, name, study) for name, study in studies.items()}
    before = {path: (path.read_bytes(), path.stat().st_mtime_ns) for path in paths.values()}
    first = shelf(tmp_path)
    assert [one.path for one in first] == sorted(paths.values())
    assert all(one.summary is not None for one in first)
    for one in first[:20]:
        mark = bench_mark(studies[one.path.stem])
        told = one.summary.marks.get("bench mark")
        assert (told[1] if told else None) == mark.value
    assert {path: (path.read_bytes(), path.stat().st_mtime_ns) for path in paths.values()} == before
    opened = []
    plain = shelves.Store.open
    monkeypatch.setattr(shelves.Store, "open", lambda path, **how: opened.append(path) or plain(path, **how))
    assert shelf(tmp_path) == first
    assert opened == []
    changed = paths["device 007"]
    changed.unlink()
    kept(tmp_path, "device 007", pump_gauge())
    again = shelf(tmp_path)
    assert opened == [changed]
    assert next(one for one in again if one.path == changed).summary.device == "Pump gauge"


@pytest.mark.parametrize(
    "index", ["", "[]", "{", '{"version": 99, "studies": {}}', '{"version": 1, "studies": {"a.oddbolt": 3}}']
)
def test_a_spoilt_index_is_made_anew(tmp_path, index):
    kept(tmp_path, "a", pump_gauge())
    good = shelf(tmp_path)
    (tmp_path / INDEX).write_text(index)
    assert shelf(tmp_path) == good
    (tmp_path / INDEX).unlink()
    os.mkfifo(tmp_path / INDEX)  # nobody will ever write to it
    assert shelf(tmp_path) == good
    (tmp_path / INDEX).unlink(missing_ok=True)
    shelf(tmp_path)
    held = json.loads((tmp_path / INDEX).read_text())
    held["studies"]["a.oddbolt"]["summary"] = {"device": 5}
    (tmp_path / INDEX).write_text(json.dumps(held))
    assert shelf(tmp_path) == good


def renewed(data):
    """An index entry whose sum is right again after it was changed."""
    data["sum"] = shelves._sum([data["summary"], data["picture"]])
    return data


def test_an_index_of_other_rules_is_not_believed(tmp_path):
    kept(tmp_path, "a", pump_gauge())
    good = shelf(tmp_path)
    held = json.loads((tmp_path / INDEX).read_text())
    held["studies"]["a.oddbolt"]["summary"]["device"] = "Other"
    (tmp_path / INDEX).write_text(json.dumps(held))
    assert shelf(tmp_path) == good
    renewed(held["studies"]["a.oddbolt"])
    (tmp_path / INDEX).write_text(json.dumps(held))
    assert shelf(tmp_path)[0].summary.device == "Other"
    held["version"] = "of older rules"
    (tmp_path / INDEX).write_text(json.dumps(held))
    assert shelf(tmp_path) == good


@settings(max_examples=20, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.data(), st.sampled_from([None, 1, float("nan"), "x", [], {}, [1], [None] * 3, {"a": 1}, True, 1e99]))
def test_whatever_stands_in_an_index_is_read_anew_or_of_the_right_form(tmp_path, data, junk):
    if not (tmp_path / "a.oddbolt").exists():
        kept(tmp_path, "a", pump_gauge())
        shelf(tmp_path)
        (tmp_path / INDEX).rename(tmp_path / "good")
    held = json.loads((tmp_path / "good").read_text())
    (tmp_path / INDEX).write_text(json.dumps(held))
    good = shelf(tmp_path)
    entry = held["studies"]["a.oddbolt"]
    here = entry["summary"]
    while True:
        key = data.draw(st.sampled_from(sorted(here) if isinstance(here, dict) else range(len(here))))
        if not isinstance(here[key], (dict, list)) or not here[key] or data.draw(st.booleans()):
            here[key] = junk
            break
        here = here[key]
    (tmp_path / INDEX).write_text(json.dumps(held))
    assert shelf(tmp_path) == good
    renewed(entry)
    (tmp_path / INDEX).write_text(json.dumps(held))
    believed = shelf(tmp_path)[0].summary
    side_by_side(["a", "b"], [believed, good[0].summary], tuple(SPECS.values()))


def test_a_range_that_ends_before_it_begins_is_read_anew(tmp_path):
    kept(tmp_path, "a", pump_gauge())
    good = shelf(tmp_path)
    held = json.loads((tmp_path / INDEX).read_text())
    entry = held["studies"]["a.oddbolt"]
    for place in (
        entry["summary"]["marks"]["bench mark"],
        next(iter(next(iter(entry["summary"]["scores"].values())).values())),
    ):
        before, place[2] = place[2], place[0] - 1
        renewed(entry)
        (tmp_path / INDEX).write_text(json.dumps(held))
        assert shelf(tmp_path) == good
        place[2] = before


def test_what_cannot_be_read_is_shown_with_its_reason(tmp_path):
    (tmp_path / "torn.oddbolt").write_bytes(b"SQLite format 3\0" + b"\0" * 900)
    (tmp_path / "empty.oddbolt").write_bytes(b"")
    (tmp_path / "gone.oddbolt").symlink_to(tmp_path / "nowhere")
    (tmp_path / "notes.txt").write_text("no study")
    found = {one.path.name: one for one in shelf(tmp_path)}
    assert set(found) == {"torn.oddbolt", "empty.oddbolt"}
    for one in found.values():
        assert one.summary is None
        assert one.why_not
    with pytest.raises(FileError):
        shelf(tmp_path / "nowhere")


@pytest.mark.skipif(os.geteuid() == 0, reason="root may write everywhere")
def test_a_folder_that_cannot_be_written_is_read_all_the_same(tmp_path):
    kept(tmp_path, "a", pump_gauge())
    tmp_path.chmod(0o500)
    try:
        assert len(shelf(tmp_path)) == 1
    finally:
        tmp_path.chmod(0o700)
    assert not (tmp_path / INDEX).exists()


def test_the_study_that_is_open_counts_as_it_is_in_the_window(tmp_path):
    path = kept(tmp_path, "a", pump_gauge())
    glue = next(id for id, joint in pump_gauge().joints.items() if joint.kind == "adhesive")
    marked = change(pump_gauge(), glue, tab=False)
    held = shelf(tmp_path, held={path.resolve(): (marked, lambda _: None)})
    assert held[0].summary.marks["bench mark"][1] == bench_mark(marked).value


def test_the_device_is_shown_by_its_arrival_and_the_picture_is_kept_with_the_figures(tmp_path):
    study = tide_logger.study()
    Store.create(tmp_path / "a.oddbolt", study, tide_logger.pictures()).close()
    first = shelf(tmp_path)[0].picture
    wide, high = Image.open(BytesIO(first)).size
    assert max(wide, high) == shelves.PICTURE_PX
    assert shelf(tmp_path)[0].picture == first
    bare = attrs.evolve(study, photos={}, callouts={}, board_maps={}, regions={})
    kept(tmp_path, "b", bare)
    assert shelf(tmp_path)[1].picture == b""


def test_a_scheme_of_the_users_own_stands_beside_ours_and_renews_the_index(tmp_path):
    kept(tmp_path, "a", pump_gauge())
    plain = shelf(tmp_path)[0].summary
    text = 'name = "Depth"\nsource = "our own"\nmost = {}\n[[criteria]]\nid = "depth"\nmeasure = "steps"\n'
    rest = "ladder = [[3, 5], [6, 3]]\nbeyond = 1\n"
    five, four = (read_spec(text.format(most) + rest, "regulation 2") for most in (5, 6))
    own = shelf(tmp_path, own=[five])[0].summary
    assert set(own.marks) == {*plain.marks, "regulation 2"}
    assert 1 <= own.marks["regulation 2"][1] <= 5
    assert set(shelf(tmp_path, own=[four])[0].summary.scores) == {*SPECS, "regulation 2"}
    assert shelf(tmp_path)[0].summary == plain


def test_schemes_of_the_users_own_lie_beside_the_studies(tmp_path):
    folder = tmp_path / "schemes"
    folder.mkdir()
    (folder / "depth.toml").write_text(
        'name = "Depth only"\nsource = "our own"\nmost = 5\n[[criteria]]\nid = "depth"\nmeasure = "steps"\n'
        "ladder = [[3, 5], [6, 3]]\nbeyond = 1\n"
    )
    (folder / "wrong.toml").write_text('name = "No criteria"')
    specs, wrong = own_specs(tmp_path)
    assert [spec.name for spec in specs] == ["Depth only"]
    assert len(wrong) == 1
    assert wrong[0].startswith("wrong.toml: ")
