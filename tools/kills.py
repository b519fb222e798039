"""Kills the program at random moments and looks what is left.

    python tools/kills.py [--count 300] [--seed N] [KIND …]

``window`` logs sentences in a real window and says so on a pipe after each; whatever it said must be in the file.
``import``, ``migration``, ``copy``, ``report`` and ``export`` are killed while they write; under the name that was to be
written lies the whole thing or nothing, what was there before is untouched or whole, and what was read is as it was.
Every child is a fork of one process that has the program loaded. Prints figures; the exit status is 1 if anything was lost.
"""

from __future__ import annotations

import argparse
import hashlib
import json
import os
import random
import shutil
import signal
import sqlite3
import sys
import tempfile
import time
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from oddbolt.__main__ import main as command
from oddbolt.core.errors import OddBoltError
from oddbolt.core.study import Study
from oddbolt.demo import tide_logger
from oddbolt.desk.shell import window as _loaded  # noqa: F401 - so that a fork has it
from oddbolt.files.store import Store

ROOT = Path(__file__).parent.parent
OLD = ROOT / "tests" / "files" / "format-1.sql"


def started(work: Callable[[int], None]) -> tuple[int, int]:
    """A child doing ``work``, which is given the end of a pipe to report on; its number and the other end."""
    reader, writer = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(reader)
        quiet = os.open(os.devnull, os.O_WRONLY)
        os.dup2(quiet, 1)
        os.dup2(quiet, 2)
        try:
            work(writer)
        finally:
            os._exit(0)
    os.close(writer)
    return child, reader


def killed(child: int, after_s: float) -> bool:
    """Kill a child after a time. False if it had ended by itself."""
    time.sleep(after_s)
    os.kill(child, signal.SIGKILL)
    _, status = os.waitpid(child, 0)
    return os.WIFSIGNALED(status)


def work_window(path: Path, settings: Path) -> Callable[[int], None]:
    def work(report: int) -> None:
        from PySide6.QtWidgets import QApplication

        from oddbolt.desk.shell.window import open_window
        from oddbolt.desk.state.settings import Settings

        app = QApplication([])
        window = open_window(Settings(settings), path)
        os.write(report, b"up\n")
        n = 0
        while True:
            before = len(window.session.study.steps)
            window.take_apart.say.edit.setPlainText(f"undo four PH00 screws on fan {n}")
            window.take_apart.say.log()
            app.processEvents()
            if len(window.session.study.steps) > before:
                os.write(report, f"{len(window.session.study.steps)}\n".encode())
            n += 1

    return work


def try_window(r: random.Random, folder: Path) -> tuple[bool, str, int]:
    path = folder / "a.oddbolt"
    Store.create(path, Study()).close()
    child, reader = started(work_window(path, folder / "settings"))
    with os.fdopen(reader, "rb") as pipe:
        first = pipe.readline()
        was_killed = killed(child, r.uniform(0.0, 0.6)) if first else killed(child, 0)
        said = pipe.read().split()
    wanted = int(said[-1]) if said else 0
    store, study = Store.open(path)
    store.close()
    if len(study.steps) < wanted:
        return was_killed, f"{wanted} steps were reported, {len(study.steps)} are there", wanted
    return was_killed, "", wanted


def digest(path: Path) -> str:
    return hashlib.sha256(path.read_bytes()).hexdigest()


def whole(path: Path) -> str:
    """ "" for a file that is whole, else what is wrong with it."""
    data = path.read_bytes()
    if path.suffix == ".oddbolt":
        try:
            store, study = Store.open(path)
            store.close()
        except OddBoltError as error:
            return str(error)
        return "" if len(study.steps) == len(tide_logger.study().steps) else f"{len(study.steps)} steps"
    ends = {".json": b"}", ".html": b"</html>", ".pdf": b"%%EOF", ".csv": b"\n"}
    return "" if data.rstrip(b"" if path.suffix == ".csv" else b"\n ").endswith(ends[path.suffix]) else "cut short"


def try_writing(kind: str, r: random.Random, folder: Path) -> tuple[bool, str, int]:
    source, there = folder / "source.oddbolt", r.random() < 0.5
    target = folder / {
        "import": "t.oddbolt", "copy": "t.oddbolt", "report": r.choice(("t.html", "t.pdf")),
        "export": r.choice(("t.json", "t.csv")), "migration": "source.oddbolt",
    }[kind]  # fmt: skip
    slow = {
        "import": 0.12,
        "copy": 0.05,
        "report": 3.0 if target.suffix == ".pdf" else 0.7,
        "export": 0.15,
        "migration": 0.3,
    }
    if kind == "migration":
        with closing(sqlite3.connect(source)) as link:
            link.executescript(OLD.read_text())
        words = None
    else:
        shutil.copy(DEMO, source)
        words = {
            "import": ["import", str(folder / "in.json"), "-o", str(target), "--replace"],
            "report": ["report", str(source), "-o", str(target), "--replace"],
            "export": ["export", str(source), "-o", str(target), "--replace"],
            "copy": None,
        }[kind]
        if kind == "import":
            shutil.copy(JSON, folder / "in.json")
        if there:
            shutil.copy(WHOLE[target.suffix], target)
    before = digest(source)

    def work(report: int) -> None:
        os.write(report, b"up\n")
        if words is not None:
            command(words)
        else:
            store, _ = Store.open(source)
            if kind == "copy":
                store.save_copy(target)
            store.close()

    child, reader = started(work)
    with os.fdopen(reader, "rb") as pipe:
        pipe.readline()
        was_killed = killed(child, r.uniform(0.0, slow[kind]))
    if kind == "migration":
        try:
            store, study = Store.open(source)
            store.close()
        except OddBoltError as error:
            return was_killed, str(error), 0
        kept = [p for p in folder.glob("source (format 1)*") if p.stat().st_size]
        broken = [p.name for p in kept if sqlite3.connect(p).execute("PRAGMA quick_check").fetchone() != ("ok",)]
        return was_killed, f"broken copies {broken}" if broken else "" if len(study.steps) == 62 else "steps missing", 0
    if kind != "copy" and digest(source) != before:
        return was_killed, "what was read is another file now", 0
    if not target.exists():
        return was_killed, "what was there is gone" if there else "", 0
    return was_killed, whole(target), 0


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    kinds = ("window", "import", "migration", "copy", "report", "export")
    parser.add_argument("kinds", nargs="*", help=f"of {', '.join(kinds)}; all if none is named")
    parser.add_argument("--count", type=int, default=300, help="kills of each kind")
    parser.add_argument("--seed", type=int, default=1)
    options = parser.parse_args()
    bad = 0
    for kind in options.kinds or kinds:
        r, hits, acknowledged, begun, left = random.Random(f"{kind}{options.seed}"), 0, 0, time.monotonic(), 0
        for n in range(options.count):
            with tempfile.TemporaryDirectory() as name:
                trial = try_window(r, Path(name)) if kind == "window" else try_writing(kind, r, Path(name))
                was_killed, wrong, steps = trial
                left += len(list(Path(name).glob(".oddbolt-*")))
            hits, acknowledged = hits + was_killed, acknowledged + steps
            if wrong:
                bad += 1
                print(f"  {kind} {n}: {wrong}", flush=True)
        steps = (
            f", {acknowledged} steps reported before" if kind == "window" else f", {left} unfinished temporaries left"
        )
        print(
            f"{kind}: {options.count} tries, {hits} killed at work{steps}, {time.monotonic() - begun:.0f} s", flush=True
        )
    print("Nothing was lost." if not bad else f"{bad} times something was lost.")
    return 1 if bad else 0


if __name__ == "__main__":
    with tempfile.TemporaryDirectory() as base:
        DEMO, JSON = Path(base) / "demo.oddbolt", Path(base) / "demo.json"
        command(["demo", "-o", str(DEMO)])
        command(["export", str(DEMO), "-o", str(JSON)])
        WHOLE = {".oddbolt": DEMO, ".json": JSON}
        for ending in (".csv", ".html", ".pdf"):
            WHOLE[ending] = Path(base) / f"demo{ending}"
            command(["export" if ending == ".csv" else "report", str(DEMO), "-o", str(WHOLE[ending])])
        json.loads(JSON.read_text())
        sys.exit(main())
