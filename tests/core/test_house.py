"""The house: no function has more branches than agreed."""

import json
import subprocess
import sys
from pathlib import Path

SOURCE = Path(__file__).parents[2] / "src"
#: three rules of the reader that wait for its next design
WAITING = {"count_group", "mentions"}


def test_no_function_of_the_reader_has_more_than_25_branches():
    command = [sys.executable, "-m", "ruff", "check", "--isolated", "--select", "C901", "--output-format", "json"]
    command += ["--config", "lint.mccabe.max-complexity=25", str(SOURCE / "oddbolt" / "core" / "narration")]
    found = json.loads(subprocess.run(command, capture_output=True, text=True).stdout)
    assert {item["message"].split("`")[1] for item in found} <= WAITING
