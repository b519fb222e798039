"""The session: edits reach the file or are told, clocks run, settings survive bad files."""

import json

import pytest

from oddbolt.core.errors import WriteError
from oddbolt.core.narration import read
from oddbolt.core.study import Study, change
from oddbolt.core.study.formatting import duration, duration_span, plural, span, the
from oddbolt.demo import tide_logger
from oddbolt.desk.inspector.fields import DEVICE, JOINT, PART, STEP, fields_of
from oddbolt.desk.inspector.typed_values import shown, typed
from oddbolt.desk.state import clock as clock_module
from oddbolt.desk.state.session import Clock, Session
from oddbolt.desk.state.settings import RECENT, Settings
from oddbolt.files.store import Store

PNG = b"\x89PNG\r\n\x1a\n"


@pytest.fixture
def session(qapp, tmp_path):
    session = Session()
    session.create(tmp_path / "a.oddbolt", tide_logger.study())
    yield session
    session.close()


@pytest.fixture
def told(session):
    out = []
    session.told.connect(out.append)
    return out


def fill(session, pages=0):
    """Let the disk be full: the file may not grow by more than so many pages."""
    link = session.store.link
    (have,) = link.execute("PRAGMA page_count").fetchone()
    link.execute(f"PRAGMA max_page_count = {have + pages}")


def in_file(path):
    store, study = Store.open(path, read_only=True)
    store.close()
    return study


def test_what_a_read_only_file_refuses_changes_nothing_and_is_told(session, told, tmp_path):
    session.store.save_copy(tmp_path / "b.oddbolt")
    (tmp_path / "b.oddbolt").chmod(0o444)
    session.open(tmp_path / "b.oddbolt")
    before = session.study
    assert not session.edit(change(before, "P1", note="x"), "x")
    assert session.study is before
    assert told[-1].startswith("b.oddbolt is read-only (you may not write to the file); nothing was changed.")
    assert not session.stack.canUndo()


def test_a_full_disk_loses_nothing(session, told):
    fill(session)
    text = "x" * 40_000
    assert session.edit(change(session.study, "P1", note=text), "a long note")
    digest = session.add_picture(PNG + bytes(50_000))
    session.edit(change(session.study, "P2", note="more"), "another")
    assert session.waiting
    assert len(told) == 1
    assert "full" in told[0]
    assert "kept in memory" in told[0]
    assert session.picture(digest).startswith(PNG)
    assert not session.write_again()
    with pytest.raises(WriteError, match="memory only"):
        session.close()
    fill(session, 200)
    assert session.write_again()
    assert not session.waiting
    assert session.store.picture(digest).startswith(PNG)
    session.close()


@pytest.mark.parametrize("comes_back", ["itself", "as it was, copied", "as another"])
def test_a_file_that_vanishes_is_written_when_it_is_back(session, told, tmp_path, comes_back):
    path, aside = session.store.path, tmp_path / "aside"
    path.rename(aside)
    session.edit(change(session.study, "P1", note="kept"), "x")
    assert session.waiting
    assert "no longer where it was" in told[0]
    assert not session.write_again()
    if comes_back == "itself":
        aside.rename(path)
    elif comes_back == "as it was, copied":
        path.write_bytes(aside.read_bytes())  # a stick that was plugged in again
    else:
        Store.create(path, Study()).close()
    assert session.write_again() == (comes_back != "as another")
    if comes_back == "as another":
        session.save_copy(tmp_path / "copy.oddbolt")
        path = tmp_path / "copy.oddbolt"
    session.edit(change(session.study, "P2", note="goes on"), "y")
    session.close()
    assert (in_file(path).parts["P1"].note, in_file(path).parts["P2"].note) == ("kept", "goes on")


def test_what_an_edit_refuses_is_told_in_its_own_words(session, told):
    assert not session.attempt("x", change, "P1", name=" ")
    assert told == ["name must not be empty."]
    assert session.edit(session.study, "nothing")
    assert session.stack.count() == 0


def test_removing_tells_what_went_along(session, told):
    session.select("J4")
    session.remove("J4")
    assert told[-1].startswith("Removed Lid screws. Step 3 no longer releases Lid screws.")
    assert session.selection == ""
    session.stack.undo()
    assert "J4" in session.study.joints


def test_an_impossible_sentence_is_refused_without_harm(session, told):
    before = session.study
    reading, _ = read("undo 2000 PH00 screws on the fan")
    session.log(reading)
    assert session.study is before or told == []


def test_the_step_clock_shares_its_time_among_the_steps_of_a_sentence(session, monkeypatch):
    now = [100.0]
    monkeypatch.setattr(clock_module, "monotonic", lambda: now[0])
    session.clock = Clock()
    now[0] += 900  # setting up belongs to no step
    session.clock.begin()
    now[0] += 30
    ids = session.log(read("undo four PH00 screws on the fan and lift the fan out")[0])
    run = session.study.runs[session.run_id]
    assert [lap.seconds for lap in run.laps if lap.step in ids] == [15, 15]
    assert run.kind == "timed"  # the last run goes on
    now[0] += 8
    session.clock.pause()
    now[0] += 500
    session.clock.pause()
    now[0] += 2
    (id,) = session.log(read("take the pump out")[0])
    laps = {lap.step: lap.seconds for lap in session.study.runs[session.run_id].laps}
    assert laps[id] == 10
    assert session.clock.run_s == 40
    assert session.clock.step_s == 0


def test_a_break_is_seen_afterwards_and_taken_out(session, told, monkeypatch):
    now = [0.0]
    monkeypatch.setattr(clock_module, "monotonic", lambda: now[0])
    session.clock = Clock()
    session.clock.begin()
    now[0] = 30
    session.clock.sign()
    now[0] = 330
    session.clock.sign()
    now[0] = 340
    assert session.was_break()
    assert (session.clock.step_s, session.clock.run_s) == (40, 40)
    now[0] = 640
    (id,) = session.log(read("take the pump out")[0])
    now[0] += 5
    assert session.was_break(60), told  # said later, with its length: out of the step that was logged
    laps = {lap.step: lap.seconds for lap in session.study.runs[session.run_id].laps}
    assert laps[id] == 280
    assert not session.was_break()
    assert "Say its length" in told[-1]


def test_settings_survive_what_others_write(tmp_path):
    (tmp_path / "settings.json").write_text("{broken")
    (tmp_path / "words.toml").write_text("[drives]\nx = 3\n")
    settings = Settings(tmp_path)
    assert (settings.values, settings.words, settings.recent) == ({}, {}, [])
    assert settings.get("theme", "day") == "day"
    settings.put("theme", 3)
    assert settings.get("theme", "day") == "day"
    assert json.loads((tmp_path / "settings.json").read_text()) == {"theme": 3}


def test_recent_files_are_few_and_there(tmp_path):
    settings = Settings(tmp_path)
    for n in range(RECENT + 3):
        (tmp_path / f"{n}.oddbolt").touch()
        settings.opened(tmp_path / f"{n}.oddbolt")
    settings.opened(tmp_path / "5.oddbolt")
    (tmp_path / "9.oddbolt").unlink()
    names = [p.stem for p in Settings(tmp_path).recent]
    assert names[0] == "5"
    assert "9" not in names
    assert len(names) == len(set(names)) == RECENT - 1


def things():
    study = tide_logger.study()
    return study, [study.device, *study.parts.values(), *study.joints.values(), *study.steps.values()]


def test_what_a_form_shows_it_reads_back():
    study, all_things = things()
    for thing in all_things:
        for field in fields_of(thing):
            if field.kind == "yes":
                continue
            value = getattr(thing, field.name)
            text = shown(study, field, value)
            again = typed(study, field, text)
            if field.kind in ("parts", "part", "joints"):
                assert [study.name(i) for i in again] == [study.name(i) for i in value] or again == value
            else:
                assert again == value, (thing, field.name, text)


def test_forms_name_fields_that_exist():
    import attrs

    from oddbolt.core.study import Device, Joint, Part, Step

    for cls, fields in ((Device, DEVICE), (Part, PART), (Joint, JOINT), (Step, STEP)):
        names = {a.name for a in attrs.fields(cls)}
        assert {f.name for f in fields} <= names
        captions = [f.caption for f in fields]
        assert len(captions) == len(set(captions))


@pytest.mark.parametrize(
    ("seconds", "words"),
    [(0, "0 s"), (59.4, "59 s"), (60, "1 min"), (260, "4 min 20 s"), (3600, "1 h"), (3900, "1 h 5 min")],
)
def test_times_are_said_as_people_say_them(seconds, words):
    assert duration(seconds) == words


def test_ranges_and_plurals():
    assert span(9, 10, "steps") == "9 to 10 steps"
    assert span(1, 1, "steps") == "1 step"
    assert (the("Thermal pad"), the("PCB"), the("3 PH0 screws")) == ("the thermal pad", "the PCB", "the 3 PH0 screws")
    assert duration_span(48, 48.2) == "48 s"
    assert duration_span(48, 80) == "48 s to 1 min 20 s"
    assert (plural(1, "box"), plural(2, "box"), plural(3, "step")) == ("1 box", "2 boxes", "3 steps")


def test_an_empty_session_answers_without_a_file(qapp):
    session = Session()
    assert session.edit(change_name(session.study), "x")
    assert session.study.device.name == "New"
    session.close()


def change_name(study: Study) -> Study:
    import attrs

    from oddbolt.core.study import Device

    return attrs.evolve(study, device=Device("New"))
