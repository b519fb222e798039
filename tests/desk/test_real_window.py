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


def test_a_sitting_by_keys_alone(screen, tmp_path, demo_file):
    study = shutil.copy(demo_file, tmp_path / "tide.oddbolt")
    command = [sys.executable, str(JOURNEY), str(tmp_path), str(study)]
    done = subprocess.run(command, env=screen, capture_output=True, text=True, timeout=900)
    assert done.returncode == 0, done.stderr
    assert "found everything again" in done.stdout
    assert "narrated" in done.stdout
    assert sorted(p.name for p in tmp_path.glob("*.oddbolt*")) == ["egg timer.oddbolt", "tide.oddbolt"]


def test_a_teardown_of_thirty_mixed_sentences_is_spoken(screen, tmp_path):
    script = JOURNEY.with_name("spoken.py")
    command = [sys.executable, str(script), str(tmp_path), str(tmp_path / "spoken.oddbolt")]
    done = subprocess.run(command, env=screen, capture_output=True, text=True, timeout=900)
    assert done.returncode == 0, done.stderr
    assert "spoken and recorded" in done.stdout


def test_a_battery_is_replaced_and_the_screw_withheld_is_found(screen, tmp_path):
    script = JOURNEY.with_name("closing_journey.py")
    command = [sys.executable, str(script), str(tmp_path), str(tmp_path / "closing.oddbolt")]
    done = subprocess.run(command, env=screen, capture_output=True, text=True, timeout=900)
    assert done.returncode == 0, done.stderr
    assert "closed knowing that everything is back" in done.stdout


def test_a_device_is_judged_and_held_against_others(screen, tmp_path):
    command = [sys.executable, str(JOURNEY.with_name("judging_journey.py")), str(tmp_path)]
    done = subprocess.run(command, env=screen, capture_output=True, text=True, timeout=900)
    assert done.returncode == 0, done.stderr
    assert "judged and compared" in done.stdout


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
    script = JOURNEY.with_name("naming_journey.py")
    command = [sys.executable, str(script), str(tmp_path), str(tmp_path / "naming.oddbolt")]
    done = subprocess.run(command, env=screen, capture_output=True, text=True, timeout=900)
    assert done.returncode == 0, done.stderr
    assert "named, mapped and adding up" in done.stdout
