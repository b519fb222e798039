"""The session: edits reach the file or are told, clocks run, settings survive bad files."""

import json

import pytest

from oddbolt.core.errors import FileError
from oddbolt.core.narration import read
from oddbolt.core.study import Study, change
from oddbolt.core.study.words import duration, duration_span, plural, span, the
from oddbolt.demo import tide_logger
from oddbolt.desk import session as session_module
from oddbolt.desk.forms import DEVICE, JOINT, PART, STEP, fields_of, shown, typed
from oddbolt.desk.session import Clock, Session
from oddbolt.desk.settings import RECENT, Settings


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


def test_an_edit_that_cannot_be_saved_changes_nothing_and_is_told(session, told, monkeypatch):
    def fail(*_):
        raise FileError("The disk is full; nothing of this edit was kept.")

    before = session.study
    monkeypatch.setattr(type(session.store), "save", fail)
    assert not session.edit(change(before, "P1", note="x"), "x")
    assert session.study is before
    assert told == ["The disk is full; nothing of this edit was kept."]
    assert not session.stack.canUndo()


def test_what_an_edit_refuses_is_told_in_its_own_words(session, told):
    assert not session.attempt("x", change, "P1", name=" ")
    assert told == ["name is empty; give it a word or two."]
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
    monkeypatch.setattr(session_module, "monotonic", lambda: now[0])
    session.clock = Clock()
    now[0] += 30
    ids = session.log(read("undo four PH00 screws on the fan and lift the fan out")[0])
    run = session.study.runs[session.run_id]
    assert [lap.seconds for lap in run.laps if lap.step in ids] == [15, 15]
    assert run.kind == "discovery"
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
