"""Attacks on everything that is read: damaged and planted studies, imports, captions, pictures, drawings, word lists.

    python tools/fuzz.py [--seed N] [--share 1.0] [KIND …]

Every case runs in a process of its own with 5 seconds of processor time and 500 MB above what the program takes. It
must be read, or refused with one sentence of at most 300 characters. Prints figures and the seeds of what failed;
the exit status is 1 then. ``--only KIND:SEED`` runs one case in this process, with its traceback.
"""

from __future__ import annotations

import argparse
import io
import json
import os
import random
import resource
import sqlite3
import sys
import tempfile
import time
import traceback
from collections import Counter
from contextlib import closing
from pathlib import Path

from oddbolt.core.errors import OddBoltError
from oddbolt.core.narration import draft, parse_words, with_words
from oddbolt.core.narration.recording import log_draft
from oddbolt.core.reach import reach_of_all
from oddbolt.core.study import Photo, Study
from oddbolt.core.study.gaps import gaps
from oddbolt.core.verdict import SCHEMES
from oddbolt.demo import tide_logger
from oddbolt.files.captions import read_cues
from oddbolt.files.outlines import read_outline
from oddbolt.files.pictures import look_at_file, small
from oddbolt.files.records import from_json, to_json
from oddbolt.files.store import Store
from oddbolt.files.tables import csv_text
from oddbolt.files.text import read_json, read_text

CPU_S, MEMORY = 5, 500_000_000
CASES = {"study": 10_000, "import": 5_000, "captions": 2_000, "picture": 1_000, "drawing": 500, "words": 500}
STRANGE = [
    None, "", "\0", "\ud800", "=1+1", "<h1>x</h1>", "\x1b[2J", "x" * 100_000, 0, -1, 1e308, -1e308, float("inf"),
    float("nan"), 2**63 - 1, 2**64, -(2**63), True, [], {}, [[]], "P1", "P999999", "../../etc/passwd", b"\xff\xfe",
    b"", "9" * 400, "seen", "screw", 1e-320, "２", "½",
]  # fmt: skip
WORDS = "undo four PH00 screws on the lid lift it off unplug battery 3.5 mm glue heat for 90 seconds not two".split()


def broken(data: bytes, r: random.Random) -> bytes:
    """Bytes with a few things wrong: flipped, cut, repeated, moved, overwritten."""
    out = bytearray(data)
    for _ in range(r.choice((1, 1, 2, 5, 40))):
        if not out:
            break
        at, n = r.randrange(len(out)), r.choice((1, 2, 4, 16, 256, 4096))
        match r.randrange(6):
            case 0:
                out[at] ^= 1 << r.randrange(8)
            case 1:
                del out[at : at + n]
            case 2:
                out[at:at] = out[at : at + n]
            case 3:
                out[at : at + n] = r.randbytes(n)
            case 4:
                out[at : at + n] = bytes(r.choice((0, 255)) for _ in range(1)) * n
            case _:
                other = r.randrange(len(out))
                out[at : at + n] = out[other : other + n]
    return bytes(out)


def planted(path: Path, r: random.Random) -> None:
    """A study with strange values in its rows, or rows that point nowhere."""
    with closing(sqlite3.connect(path)) as link:
        tables = [t for (t,) in link.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")]
        for _ in range(r.choice((1, 1, 3, 10))):
            table = r.choice(tables)
            columns = [c[1] for c in link.execute(f'PRAGMA table_info("{table}")')]
            column, value = r.choice(columns), r.choice([v for v in STRANGE if not isinstance(v, list | dict)])
            some = f'rowid IN (SELECT rowid FROM "{table}" ORDER BY random() LIMIT {r.choice((1, 3, 1000))})'
            try:
                match r.randrange(5):
                    case 0:
                        link.execute(f'DELETE FROM "{table}" WHERE {some}')
                    case 1:
                        source = f'(SELECT "{column}" FROM "{table}" ORDER BY random() LIMIT 1)'
                        link.execute(f'UPDATE "{table}" SET "{column}" = {source} WHERE {some}')
                    case 2:
                        link.execute(
                            f'UPDATE OR IGNORE "{table}" SET "{column}" = CAST(x\'c3ff28\' AS TEXT) WHERE {some}'
                        )
                    case _:
                        link.execute(f'UPDATE OR IGNORE "{table}" SET "{column}" = ? WHERE {some}', (value,))
            except (sqlite3.Error, OverflowError, UnicodeError):
                continue
        link.commit()


def twisted(data: object, r: random.Random) -> object:
    """A value of JSON with strange values somewhere within."""
    if isinstance(data, dict) and data and r.random() < 0.95:
        key = r.choice(list(data))
        changed = dict(data)
        if r.random() < 0.1:
            del changed[key]
        elif r.random() < 0.1:
            changed[r.choice(["x", "id", "said", "n" * 5000])] = data[key]
        else:
            changed[key] = twisted(data[key], r)
        return changed
    if isinstance(data, list) and data and r.random() < 0.95:
        changed = list(data)
        at = r.randrange(len(changed))
        changed[at : at + 1] = [twisted(changed[at], r)] * r.choice((1, 1, 1, 2, 0))
        return changed
    return r.choice([v for v in STRANGE if not isinstance(v, bytes)])


def use(study: Study) -> None:
    """What the program does with a study that it read."""
    reach_of_all(study)
    gaps(study)
    for scheme in SCHEMES.values():
        scheme.judge(study)
    csv_text(study, "steps")
    json.dumps(to_json(study))


def sentences(r: random.Random) -> str:
    lines = []
    for n in range(r.randrange(1, 12)):
        words = [
            r.choice(WORDS) if r.random() < 0.9 else r.choice([str(s) for s in STRANGE]) for _ in range(r.randrange(20))
        ]
        lines.append(f"[{n}:{r.randrange(99):02d}] {' '.join(words)}")
    return "\n".join(lines)


def case(kind: str, seed: int, base: dict[str, bytes], folder: Path) -> None:
    """One attack. Raises OddBoltError where it is refused."""
    r = random.Random(f"{kind}{seed}")
    if kind == "study":
        path = folder / "a.oddbolt"
        path.write_bytes(base["study"])
        if r.random() < 0.6:
            planted(path, r)
        else:
            path.write_bytes(broken(base["study"], r))
        store, study = Store.open(path)
        use(study)
        store.close()
    elif kind == "import":
        path = folder / "a.json"
        if r.random() < 0.2:
            path.write_bytes(broken(base["import"], r))
        else:
            data = json.loads(base["import"])
            for _ in range(r.choice((1, 1, 2, 6))):
                data = twisted(data, r)
            path.write_bytes(json.dumps(data).encode("utf-8", "surrogatepass"))
        study = from_json(read_json(path))
        use(study)
        Store.create(folder / "b.oddbolt", study).close()
    elif kind == "captions":
        path = folder / f"a{r.choice(('.vtt', '.srt', '.txt'))}"
        path.write_bytes(broken(base["captions"], r) if r.random() < 0.5 else sentences(r).encode("utf-8", "replace"))
        use(log_draft(Study(), draft(read_cues(path))))
    elif kind == "picture":
        path = folder / "a.jpg"
        path.write_bytes(broken(base[r.choice(("jpeg", "png", "tiff", "webp", "bmp"))], r))
        looked = look_at_file(path)
        small(looked.data, Photo("H1", "0" * 64, width=looked.width, height=looked.height), 320)
    elif kind == "drawing":
        path = folder / r.choice(("a.svg", "a.dxf"))
        path.write_bytes(broken(base[path.suffix[1:]], r))
        read_outline(path)
    else:
        path = folder / "a.toml"
        path.write_bytes(broken(base["words"], r))
        draft(read_cues_of(sentences(r)), with_words(parse_words(read_text(path), path.name)))


def read_cues_of(text: str) -> list:
    from oddbolt.files.captions import parse_cues

    return parse_cues(text, ".txt")


def bases() -> dict[str, bytes]:
    """What is broken: one good file of each kind."""
    from PIL import Image

    out: dict[str, bytes] = {}
    with tempfile.TemporaryDirectory() as name:
        path = Path(name) / "a.oddbolt"
        small_pictures = [p for p in tide_logger.pictures() if len(p) < 150_000][:2]
        Store.create(path, tide_logger.study(), small_pictures).close()
        out["study"] = path.read_bytes()
    out["import"] = json.dumps(to_json(tide_logger.study())).encode()
    out["captions"] = b"WEBVTT\n\n" + b"".join(
        f"00:00:{n:02d}.000 --> 00:00:{n + 1:02d}.000\n{said}\n\n".encode()
        for n, said in enumerate(
            ("Undo the six T5 screws on the lid.", "Lift it off.", "It is glued.", "Heat it to 80 °C.")
        )
    )
    out["jpeg"] = tide_logger.pictures()[0]
    image = Image.open(io.BytesIO(out["jpeg"])).resize((320, 240))
    for kind in ("png", "tiff", "webp", "bmp"):
        image.save(made := io.BytesIO(), kind)
        out[kind] = made.getvalue()
    out["svg"] = (
        b'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="84mm" height="52mm" '
        b'viewBox="0 0 84 52"><defs><g id="a"><path d="M0 0h84v52h-84z"/></g></defs><use xlink:href="#a"/>'
        b'<path d="M4 0 A4 4 0 0 1 8 4 L8 40 C8 44 4 44 4 40 Z"/></svg>'
    )
    import ezdxf

    drawing = ezdxf.new()
    drawing.modelspace().add_lwpolyline([(0, 0), (84, 0), (84, 52), (0, 52)], close=True)
    drawing.modelspace().add_circle((10, 10), 3)
    text = io.StringIO()
    drawing.write(text)
    out["dxf"] = text.getvalue().encode()
    out["words"] = (
        b'[drives]\ntrigon = "three-wing"\n[parts]\nfan = ["blower", "fan unit"]\n[slips]\nnumbers = {to = "two"}\n'
    )
    return out


def run_one(kind: str, seed: int, base: dict[str, bytes], at_start: int) -> tuple[str, float, int, str]:
    """What came of a case in a child process: outcome, CPU seconds, bytes above the start, words."""
    reader, writer = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(reader)
        resource.setrlimit(resource.RLIMIT_CPU, (CPU_S + 1, CPU_S + 1))
        sys.stdout = sys.stderr = open(os.devnull, "w")  # noqa: SIM115
        said = "read\n"
        with tempfile.TemporaryDirectory() as name:
            try:
                case(kind, seed, base, Path(name))
            except OddBoltError as error:
                said = "refused\n" + str(error)
            except BaseException:  # noqa: BLE001
                said = "broke\n" + traceback.format_exc()[-1500:]
        os.write(writer, said.encode("utf-8", "replace")[:60_000])
        os._exit(0)
    os.close(writer)
    with os.fdopen(reader, "rb") as pipe:
        outcome, _, words = pipe.read().decode().partition("\n")
    _, status, used = os.wait4(child, 0)
    cpu, memory = used.ru_utime + used.ru_stime, max(0, used.ru_maxrss * 1024 - at_start)
    if status or not outcome:
        return "killed", cpu, memory, f"status {status}"
    if outcome == "refused" and len(words) > 300:
        return "long sentence", cpu, memory, words[:400]
    if cpu > CPU_S or memory > MEMORY:
        return "too much", cpu, memory, words
    return outcome, cpu, memory, words


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("kinds", nargs="*", help=f"of {', '.join(CASES)}; all if none is named")
    parser.add_argument("--seed", type=int, default=1, help="the first seed of a row")
    parser.add_argument("--share", type=float, default=1.0, help="this share of the usual number of cases")
    parser.add_argument("--only", default="", metavar="KIND:SEED")
    options = parser.parse_args()
    base = bases()
    if options.only:
        kind, _, seed = options.only.partition(":")
        with tempfile.TemporaryDirectory() as name:
            case(kind, int(seed), base, Path(name))
        return 0
    use(tide_logger.study())
    at_start = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024
    bad = 0
    for kind in options.kinds or CASES:
        count = max(1, round(CASES[kind] * options.share))
        outcomes: Counter[str] = Counter()
        begun, most_cpu, most_memory = time.monotonic(), 0.0, 0
        for seed in range(options.seed, options.seed + count):
            outcome, cpu, memory, words = run_one(kind, seed, base, at_start)
            outcomes[outcome] += 1
            most_cpu, most_memory = max(most_cpu, cpu), max(most_memory, memory)
            if outcome not in ("read", "refused"):
                bad += 1
                print(f"  {kind}:{seed} {outcome} {cpu:.1f} s {memory / 1e6:.0f} MB {words.strip()[-300:]}", flush=True)
        found = ", ".join(f"{n} {o}" for o, n in outcomes.most_common())
        took = time.monotonic() - begun
        print(
            f"{kind}: {count} cases in {took:.0f} s; {found}; at most {most_cpu:.2f} s and {most_memory / 1e6:.0f} MB more"
        )
    return 1 if bad else 0


if __name__ == "__main__":
    sys.exit(main())
