"""The study file: what goes in comes out, and nothing that is not ours gets in."""

import json
import os
import random
import signal
import sqlite3
import subprocess
import sys
import time
from contextlib import closing
from pathlib import Path

import pytest
from attrs import evolve
from builders import random_study
from hypothesis import given
from hypothesis import strategies as st

from oddbolt.core.errors import FileError, WriteError
from oddbolt.core.narration import read
from oddbolt.core.narration.recording import log, memory_of
from oddbolt.core.study import (
    BoardMap,
    Callout,
    Check,
    Closing,
    Device,
    EdgePlan,
    Fact,
    Finding,
    Joint,
    Keepout,
    Lap,
    Layer,
    Part,
    Photo,
    Region,
    Run,
    Step,
    Stretch,
    Study,
    Sum,
    Wait,
    Warmup,
    WhatIf,
    change,
    put_all,
    remove,
    renumber,
)  # fmt: skip
from oddbolt.core.study.model import KINDS
from oddbolt.demo import tide_logger
from oddbolt.files import schema
from oddbolt.files.records import LOAD_ORDER, from_json, to_json
from oddbolt.files.store import Store, in_use


@pytest.fixture
def demo(tmp_path):
    path = tmp_path / "demo.oddbolt"
    Store.create(path, tide_logger.study(), tide_logger.pictures()).close()
    return path


def same(a, b):
    return a.device == b.device and all(
        list(getattr(a, name).items()) == list(getattr(b, name).items()) for _, name in KINDS.values()
    )


def test_the_demo_survives_its_file(demo):
    store, study = Store.open(demo)
    assert same(study, tide_logger.study())
    assert store.picture(next(iter(study.photos.values())).sha256) == tide_logger.pictures()[0]
    store.close()
    assert [p.name for p in demo.parent.iterdir()] == ["demo.oddbolt"]


@given(st.data())
def test_every_edit_is_in_the_file_as_it_is_on_the_desk(tmp_path_factory, data):
    path = tmp_path_factory.mktemp("edits") / "a.oddbolt"
    study = random_study(data.draw(st.integers(0, 99)), steps=5)
    store = Store.create(path, study)
    for _ in range(4):
        before = study
        act = data.draw(st.sampled_from(["change", "remove", "order", "say"]))
        if act == "change":
            study = change(study, data.draw(st.sampled_from(list(study.steps))), tool=data.draw(st.text(max_size=4)))
        elif act == "remove" and len(study.steps) > 1:
            study = remove(study, data.draw(st.sampled_from([*study.steps, *study.joints, *study.facts])))
        elif act == "order":
            study = renumber(study, data.draw(st.permutations(list(study.steps))))
        else:
            study, _ = log(study, read("undo four PH00 under the fan and lift the lid off", memory_of(study))[0])
        store.save(before, study)
    store.close()
    again, loaded = Store.open(path)
    again.close()
    assert same(loaded, study)


#: one of every kind of thing, all fields of their own
EVERYTHING = [
    Part("P1", "Lid", kind="cover", mass_g=3.5, priority=True),
    Part("P2", "Cell", inside="P1", markings=("3 V", "CR2032"), pins=2, long_mm=20.0, spare="no", stays=True),
    Joint("J1", "screw", holds=("P1",), count=4, drive="cross", size="PH0", length_mm=5.0),
    Step("S1", "unscrew", said="four out", releases=("J1",), cautions=("mind the edge",), doubt="drive not known"),
    Step("S2", "lift", takes_out=("P1",)),
    Fact("F1", "P1", "P2", "assumed", by="KL", at="2026-01-02T03:04"),
    Run("R1", "timed", "2026-01-02", (Lap("S1", 4.5, "x"), Lap("S2", 2.0))),
    Finding("N1", "damage", "scratched", "P1", 2.0, "mm"),
    Photo("H1", "0" * 64, "S1", "open", 40, 30, turn=90, left=0.25),
    Callout("C1", "H1", "A", 0.5, 0.25, "J1"),
    Check("K1", "strap", "KL", "2026-01-02T03:04", 12.5, "fine"),
    EdgePlan("O1", "Cover", "84 x 52", "P1"),
    Stretch("E1", "O1", "top", 0.0, 80.0, "glue"),
    Keepout("Z1", "O1", "sensor", 1.0, 2.0, 3.0, 4.0),
    Warmup("W1", "Plate"),
    Layer("L1", "W1", "air", 0.5),
    Wait("T1", "solvent", 40.0, 38.0, "S1"),
    Sum("U1", "tape", "4.8 cm²", "J1", ("length = 160 mm",)),
    WhatIf("V1", "kinder", "gone", "J1"),
    Closing("X1", "an analyst", "2026-11-27T15:00", "1 screw missing"),
    BoardMap("M1", "H1", "P1", "back", 40.0, 0.01, "mat"),
    Region("G1", "H1", "0.1,0.1 0.5,0.1 0.5,0.4", "part", "P2"),
]


def test_every_kind_of_thing_comes_back_from_file_and_json(tmp_path):
    study = put_all(Study(device=Device("Thing", mass_g=12.0)), EVERYTHING)
    assert {t.id[0] for t in EVERYTHING} == set(KINDS) == set(LOAD_ORDER)
    Store.create(tmp_path / "a.oddbolt", study).close()
    store, again = Store.open(tmp_path / "a.oddbolt")
    assert same(again, study)
    after = change(again, "V1", way="fewer")
    store.save(again, after)  # and every kind can be written to again
    for id in [t.id for t in EVERYTHING]:
        after_next = remove(after, id) if after.find(id) else after
        store.save(after, after_next)
        after = after_next
    store.close()
    assert same(from_json(json.loads(json.dumps(to_json(study)))), study)


PLANTED = {
    "a trigger": "CREATE TRIGGER t AFTER UPDATE ON parts BEGIN DELETE FROM facts; END",
    "a view": "DROP TABLE sums; CREATE VIEW sums AS WITH RECURSIVE r(n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM r)"
    " SELECT n AS id FROM r",
    "a virtual table": "CREATE VIRTUAL TABLE x USING fts5(a)",
    "a foreign column": "ALTER TABLE parts ADD COLUMN evil TEXT",
    "a computed column": "DROP TABLE sums; CREATE TABLE sums (id TEXT NOT NULL, result TEXT AS (zeroblob(9)), "
    "PRIMARY KEY (id))",
    "a check": "DROP TABLE sums; CREATE TABLE sums (id TEXT CHECK (1), PRIMARY KEY (id))",
    "a foreign table": "CREATE TABLE more (id TEXT NOT NULL, PRIMARY KEY (id))",
    "an index of its own": "CREATE INDEX mine ON parts (lower(name))",
    "null for a text": "UPDATE parts SET note = NULL WHERE id = 'P1'",
    "a blob for a name": "UPDATE parts SET name = x'00ff' WHERE id = 'P1'",
    "text for a number": "UPDATE parts SET mass_g = 'heavy' WHERE id = 'P1'",
    "a number without end": "UPDATE parts SET mass_g = 9e999 WHERE id = 'P1'",
    "no UTF-8": "UPDATE parts SET name = CAST(x'c328' AS TEXT) WHERE id = 'P1'",
    "an empty id": "UPDATE findings SET id = '' WHERE id = 'N1'",
    "another letter": "UPDATE findings SET id = 'P900' WHERE id = 'N1'",
}


@pytest.mark.parametrize("how", PLANTED)
def test_what_is_planted_in_a_file_is_refused(demo, how):
    with closing(sqlite3.connect(demo)) as link:
        link.executescript(PLANTED[how])
    before = demo.read_bytes()
    with pytest.raises(FileError) as refused:
        Store.open(demo)
    assert len(str(refused.value)) < 300
    assert demo.read_bytes() == before


@pytest.mark.parametrize("spelling", ["sub/../demo.oddbolt", "link.oddbolt", "hard.oddbolt"])
def test_a_file_that_is_held_is_not_opened_again_under_any_spelling(demo, spelling):
    (demo.parent / "sub").mkdir()
    (demo.parent / "link.oddbolt").symlink_to(demo)
    (demo.parent / "hard.oddbolt").hardlink_to(demo)
    store, study = Store.open(demo)
    other = demo.parent / spelling
    assert in_use(other)
    for read_only in (True, False):
        with pytest.raises(FileError, match="already open"):
            Store.open(other, read_only=read_only)
    tried = "import sys; from pathlib import Path; from oddbolt.files.store import Store; Store.open(Path(sys.argv[1]))"
    done = subprocess.run([sys.executable, "-c", tried, str(other)], capture_output=True, text=True)
    assert "open in another window" in done.stderr, done.stderr
    store.save(study, change(study, "P1", note="still ours"))
    store.close()
    assert Store.open(demo)[1].parts["P1"].note == "still ours"


def test_modes_stay_planted_links_are_not_followed_and_old_copies_not_overwritten(tmp_path):
    path, victim = tmp_path / "old.oddbolt", tmp_path / "victim"
    victim.write_text("mine")
    for name in ("old.oddbolt.part", "copy.oddbolt.part"):
        (tmp_path / name).symlink_to(victim)
    for n in range(2):
        path.unlink(missing_ok=True)
        with closing(sqlite3.connect(path)) as link:
            link.executescript((Path(__file__).parent / "format-1.sql").read_text())
        path.chmod(0o600)
        store, _ = Store.open(path)
        store.save_copy(tmp_path / f"copy{n}.oddbolt")
        store.close()
        assert path.stat().st_mode & 0o777 == (tmp_path / f"copy{n}.oddbolt").stat().st_mode & 0o777 == 0o600
    assert (tmp_path / "old (format 1).oddbolt").exists()
    assert (tmp_path / "old (format 1) (2).oddbolt").exists()
    assert victim.read_text() == "mine"


@pytest.mark.parametrize("why", ["folder", "name"])
def test_a_good_file_that_cannot_be_written_is_opened_to_look_at_and_says_why(demo, why, monkeypatch):
    path = demo
    if why == "name":
        path = demo.rename(demo.with_name("n" * 240 + ".oddbolt"))
    else:
        allowed = os.access
        monkeypatch.setattr(os, "access", lambda p, mode: p != demo.parent and allowed(p, mode))
    store, study = Store.open(path)
    assert ("folder" if why == "folder" else "too long") in store.why_read_only
    with pytest.raises(FileError, match="Save a copy"):
        store.save(study, change(study, "P1", note="x"))
    store.save_copy(path.with_name("copy.oddbolt"))
    store.close()


def test_an_edit_that_the_file_cannot_hold_is_an_error_and_not_a_waiting_disk(demo):
    store, study = Store.open(demo)
    twice = evolve(study, parts={**study.parts, "P900": study.parts["P1"]})
    with pytest.raises(FileError, match="cannot hold this edit") as refused:
        store.save(study, twice)
    assert not isinstance(refused.value, WriteError)
    with pytest.raises(FileError, match="cannot hold this edit"):
        store.save(study, change(study, "P1", note="\ud800"))
    store.save(study, change(study, "P1", note="goes on"))
    store.close()


def test_nothing_is_left_of_a_file_that_could_not_be_made(tmp_path, monkeypatch):
    monkeypatch.setattr(Store, "_write", lambda *_, **__: 1 // 0)
    with pytest.raises(ZeroDivisionError):
        Store.create(tmp_path / "a.oddbolt", tide_logger.study())
    assert list(tmp_path.iterdir()) == []


def test_what_a_killed_writer_left_goes_after_a_day_and_nothing_else(tmp_path):
    old, fresh = tmp_path / ".oddbolt-abc.part", tmp_path / ".oddbolt-new.part"
    mine, link = tmp_path / "notes.part", tmp_path / ".oddbolt-link.part"
    for path in (old, fresh, mine):
        path.write_text("x")
    link.symlink_to(mine)
    for path in (old, mine):
        os.utime(path, (1, 1))
    Store.create(tmp_path / "a.oddbolt", Study()).close()
    assert sorted(p.name for p in tmp_path.iterdir()) == sorted([fresh.name, mine.name, link.name, "a.oddbolt"])


def test_anyone_can_query_the_file(demo):
    with sqlite3.connect(demo) as link:
        rows = link.execute("SELECT sum(count) FROM joints WHERE kind = 'screw'").fetchone()
        assert rows == (61,)
        lists = link.execute("SELECT value FROM steps_takes_out WHERE owner = 'S20'").fetchall()
        assert lists == [("P19",)]


def damaged(demo, how):
    if how == "foreign":
        demo.write_bytes(b"GIF89a" + bytes(400))
    elif how == "empty":
        demo.write_bytes(b"")
    elif how == "truncated":
        demo.write_bytes(demo.read_bytes()[:9000])
    elif how == "cut in its head":
        demo.write_bytes(demo.read_bytes()[:50])
    elif how == "overwritten":
        data = bytearray(demo.read_bytes())
        data[8192:60000] = os.urandom(60000 - 8192)
        demo.write_bytes(bytes(data))
    else:
        with sqlite3.connect(demo) as link:
            if how == "newer":
                link.execute(f"PRAGMA user_version = {schema.VERSION + 1}")
            elif how == "another program's":
                link.execute("PRAGMA application_id = 7")
            elif how == "dangling":
                link.execute("UPDATE joints_holds SET value = 'P777' WHERE owner = 'J4'")
            elif how == "nonsense":
                link.execute("UPDATE joints SET kind = 'string' WHERE id = 'J4'")
    return demo


@pytest.mark.parametrize(
    ("how", "words"),
    [
        ("foreign", "not a study of Odd Bolt"),
        ("empty", "not a study of Odd Bolt"),
        ("truncated", "cut short"),
        ("cut in its head", "cut short"),
        ("overwritten", "damaged"),
        ("newer", "newer Odd Bolt"),
        ("another program's", "not a study of Odd Bolt"),
        ("dangling", "contradicts itself.*P777"),
        ("nonsense", "contradicts itself.*string"),
    ],
)
def test_a_bad_file_is_refused_in_a_sentence_and_left_as_it_is(demo, how, words):
    path = damaged(demo, how)
    before = path.read_bytes()
    with pytest.raises(FileError, match=words):
        Store.open(path)
    assert path.read_bytes() == before
    assert [p.name for p in path.parent.iterdir()] == [path.name]


def test_a_file_of_the_first_format_is_brought_up_and_kept_as_it_was(tmp_path):
    path = tmp_path / "old.oddbolt"
    with sqlite3.connect(path) as link:
        link.executescript((Path(__file__).parent / "format-1.sql").read_text())
    link.close()
    before = path.read_bytes()
    path.chmod(0o444)
    store, looked_at = Store.open(path)
    store.close()
    assert path.read_bytes() == before
    assert (len(looked_at.steps), len(looked_at.parts), len(looked_at.callouts)) == (62, 53, 33)
    assert looked_at.runs["R1"].laps[2].ended == ""
    path.chmod(0o644)
    store, study = Store.open(path)
    store.save(study, change(study, "H1", turn=90))
    store.close()
    again, study = Store.open(path)
    again.close()
    assert study.photos["H1"].turn == 90
    with sqlite3.connect(tmp_path / "old (format 1).oddbolt") as link:
        assert link.execute("PRAGMA user_version").fetchone() == (1,)
        assert link.execute("SELECT count(*) FROM steps").fetchone() == (len(study.steps),)
    assert sorted(p.name for p in tmp_path.iterdir()) == ["old (format 1).oddbolt", "old.oddbolt"]


def test_a_missing_file_and_a_folder_are_refused(tmp_path):
    for path in (tmp_path / "none.oddbolt", tmp_path):
        with pytest.raises(FileError, match=path.name):
            Store.open(path)
    with pytest.raises(FileError, match="cannot be written"):
        Store.create(tmp_path / "no" / "such" / "a.oddbolt", Study())


def test_a_read_only_file_can_be_looked_at_but_not_changed(demo):
    demo.chmod(0o444)
    before = demo.read_bytes()
    store, study = Store.open(demo)
    with pytest.raises(FileError, match="read-only"):
        store.save(study, change(study, "P1", note="x"))
    store.close()
    assert demo.read_bytes() == before


def test_a_study_is_open_in_one_window_at_a_time(demo):
    store, study = Store.open(demo)
    store.save(study, change(study, "P1", note="x"))
    with pytest.raises(FileError, match="already open in this window"):
        Store.open(demo)
    store.close()
    Store.open(demo)[0].close()


def test_an_existing_file_is_never_written_over(demo):
    before = demo.read_bytes()
    with pytest.raises(FileError, match="already exists"):
        Store.create(demo, Study())
    assert demo.read_bytes() == before


def test_a_copy_is_whole_and_needs_another_name(demo, tmp_path):
    store, study = Store.open(demo)
    with pytest.raises(FileError, match="another name"):
        store.save_copy(demo)
    store.save_copy(tmp_path / "copy.oddbolt")
    store.close()
    again, loaded = Store.open(tmp_path / "copy.oddbolt")
    assert same(loaded, study)
    assert again.picture(next(iter(study.photos.values())).sha256)
    again.close()


@pytest.mark.parametrize("data", [b"", b"MZ....", b"<svg onload='x'/>", b"\xff\xd8\xff" + bytes(41_000_000)])
def test_what_is_no_picture_of_a_size_we_keep_is_refused(demo, data):
    store, _ = Store.open(demo)
    with pytest.raises(FileError, match=r"JPEG|MB"):
        store.add_picture(data)
    store.close()


def test_three_hundred_kills_lose_no_logged_step(tmp_path):
    """Killed at random moments, the file opens and holds every step that was reported as logged."""
    r = random.Random(7)
    logged = total = 0
    path = tmp_path / "0.oddbolt"
    for n in range(300):
        if n % 30 == 0:
            assert len(Store.open(path)[1].steps if n else ()) >= logged
            path, total, logged = tmp_path / f"{n}.oddbolt", total + logged, 0
            Store.create(path, Study()).close()
        reader, writer = os.pipe()
        child = os.fork()
        if child == 0:
            os.close(reader)
            store, study = Store.open(path)
            os.write(writer, len(study.steps).to_bytes(4, "big"))
            while True:
                before = study
                study, _ids = log(study, read("undo four PH00 screws on the fan", memory_of(study))[0])
                store.save(before, study)
                os.write(writer, b".")
        os.close(writer)
        found = int.from_bytes(os.read(reader, 4), "big")  # what the kill before left
        assert found >= logged
        logged = found
        if r.random() < 0.5:  # half of the times a first step is in
            logged += len(os.read(reader, 1))
        time.sleep(r.uniform(0.0, 0.03))
        os.kill(child, signal.SIGKILL)
        os.waitpid(child, 0)
        with os.fdopen(reader, "rb") as told:
            logged += len(told.read())
    store, study = Store.open(path)
    store.close()
    assert len(study.steps) >= logged
    assert total + logged >= 120  # with this seed half of the three hundred waited for a step
