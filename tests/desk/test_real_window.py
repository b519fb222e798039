"""The main journey in a real window on a virtual screen, and the program as the user starts it."""

import os
import shutil
import subprocess
import sys
import time
from pathlib import Path

import pytest

JOURNEY = Path(__file__).with_name("journey.py")


@pytest.fixture
def screen():
    """The environment of a virtual screen of its own."""
    assert shutil.which("Xvfb"), "Xvfb is needed; ./run test installs it"
    reader, writer = os.pipe()
    command = ["Xvfb", "-displayfd", str(writer), "-screen", "0", "1400x900x24", "-nolisten", "tcp"]
    server = subprocess.Popen(command, pass_fds=[writer], stderr=subprocess.DEVNULL)
    os.close(writer)
    with os.fdopen(reader) as told:
        number = told.readline().strip()
    environment = {k: v for k, v in os.environ.items() if k not in ("QT_QPA_PLATFORM", "WAYLAND_DISPLAY")}
    yield {**environment, "DISPLAY": f":{number}", "PYTHONPATH": str(JOURNEY.parents[1])}
    server.terminate()
    server.wait()


def sat(screen, script, *arguments):
    """What a sitting prints; it must end well."""
    command = [sys.executable, str(JOURNEY.with_name(script)), *map(str, arguments)]
    done = subprocess.run(command, env=screen, capture_output=True, text=True, timeout=900)
    assert done.returncode == 0, done.stderr
    return done.stdout


def test_a_sitting_by_keys_alone(screen, tmp_path, demo_file):
    study = shutil.copy(demo_file, tmp_path / "tide.oddbolt")
    told = sat(screen, "journey.py", tmp_path, study)
    assert "found everything again" in told
    assert "narrated" in told
    assert sorted(p.name for p in tmp_path.glob("*.oddbolt*")) == ["egg timer.oddbolt", "tide.oddbolt"]


def test_a_teardown_of_thirty_mixed_sentences_is_spoken(screen, tmp_path):
    assert "spoken and recorded" in sat(screen, "spoken.py", tmp_path, tmp_path / "spoken.oddbolt")


def test_a_battery_is_replaced_and_the_screw_withheld_is_found(screen, tmp_path):
    assert "closed knowing that everything is back" in sat(
        screen, "closing_journey.py", tmp_path, tmp_path / "closing.oddbolt"
    )


def test_a_device_is_judged_and_held_against_others(screen, tmp_path):
    assert "judged and compared" in sat(screen, "judging_journey.py", tmp_path)


def test_a_study_is_handed_over_printed_and_as_a_workbook(screen, tmp_path):
    assert "handed over" in sat(screen, "handing_over_journey.py", tmp_path, tmp_path / "over.oddbolt")


def test_the_program_opens_on_the_demo_and_ends_when_it_is_told_to(screen, tmp_path):
    homes = {f"XDG_{name}_HOME": str(tmp_path) for name in ("CONFIG", "DATA", "STATE")}
    command = [sys.executable, "-m", "oddbolt", "desk", "--demo"]
    running = subprocess.Popen(command, env={**screen, **homes}, stderr=subprocess.PIPE)
    study = tmp_path / "oddbolt" / "demo tide logger.oddbolt"
    for _ in range(300):
        if study.exists() and (tmp_path / "oddbolt" / "settings.json").exists():
            break
        time.sleep(0.1)
    assert running.poll() is None
    running.kill()
    running.wait()
    assert study.exists()
    assert b"Traceback" not in running.stderr.read()


def test_an_unknown_part_is_named_a_board_mapped_and_the_masses_add_up(screen, tmp_path):
    assert "named, mapped and adding up" in sat(screen, "naming_journey.py", tmp_path, tmp_path / "naming.oddbolt")
