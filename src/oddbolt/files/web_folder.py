"""A study as a folder that any web server can show, or a browser from the disk: an index, a page for each step, the
photos, the parts, and the data. It needs no script."""

from __future__ import annotations

import json
import re
import shutil
import tempfile
from functools import cache
from importlib.resources import files
from pathlib import Path
from typing import Any

from jinja2 import Environment, Template

from oddbolt.core.errors import FileError
from oddbolt.core.handover.in_short import in_short
from oddbolt.core.study import Study
from oddbolt.files.depth_drawing import depth_svg
from oddbolt.files.photo_archive import made
from oddbolt.files.pictures import Picture
from oddbolt.files.records import to_json
from oddbolt.files.report import content
from oddbolt.files.report.choice import Choice
from oddbolt.files.tables import TABLES, csv_text
from oddbolt.files.text import write_text

#: the longer side of a photo, px, and the file that tells a folder of ours
PHOTO_PX, MARK = 1600, "study.json"


def write_web(folder: Path, study: Study, picture: Picture = lambda _: None, replace: bool = False) -> int:
    """Write the folder; returns how many pages it has. It is made beside its place and moved there whole.

    Raises FileError where something is there already, unless ``replace`` is set and it is such a folder.
    """
    if folder.exists() and not replace:
        raise FileError(f"{folder} is there already.")
    if folder.exists() and (strange := _strange(folder)):
        raise FileError(f"{folder} holds {strange}, which this program did not write; nothing was replaced.")
    try:
        folder.parent.mkdir(parents=True, exist_ok=True)
        beside = Path(tempfile.mkdtemp(prefix=f".{folder.name}-", dir=folder.parent))
    except OSError as error:
        raise FileError(f"{folder} cannot be written: {error.strerror}.") from None
    try:
        pages = _written(beside, study, picture)
        beside.chmod(0o755)
        if folder.exists():
            shutil.rmtree(folder)
        beside.rename(folder)
    except OSError as error:
        raise FileError(f"{folder} cannot be written: {error.strerror}.") from None
    finally:
        shutil.rmtree(beside, ignore_errors=True)
    return pages


def _strange(folder: Path) -> str:
    """Something in a folder that is none of what this program writes there; "" for nothing."""
    if not folder.is_dir():
        return "no folder but a file"
    known = {"index.html", "style.css", MARK, "photos", "data"}
    inside = {"photos": re.compile(r"H\d+\.jpg"), "data": re.compile(r"[a-z]+\.csv")}
    for entry in sorted(folder.iterdir()):
        if entry.name not in known and not re.fullmatch(r"step-\d{3,}\.html", entry.name):
            return entry.name
        if entry.name in inside:
            strange = [e.name for e in entry.iterdir() if not inside[entry.name].fullmatch(e.name)]
            if strange:
                return f"{entry.name}/{strange[0]}"
    return "" if (folder / MARK).is_file() else "no study"


def _written(folder: Path, study: Study, picture: Picture) -> int:
    (folder / "photos").mkdir()
    (folder / "data").mkdir()
    sources: dict[str, str] = {}
    for photo in study.photos.values():
        data = picture(photo.sha256)
        if data is None:
            continue
        try:
            name, out = made(photo, data, PHOTO_PX)
        except FileError:
            continue
        (folder / "photos" / name).write_bytes(out)
        sources[photo.id] = f"photos/{name}"
    job = content.Job(study, Choice(said=False), lambda _: None, content.Notes())
    groups = content.steps(job) or []
    order = [step for group in groups for step in group["steps"]]
    by_step: dict[str, list[dict[str, Any]]] = {}
    for photo in study.photos.values():
        if photo.id in sources:
            by_step.setdefault(photo.step, []).append(content.marked(study, photo, sources[photo.id]))
    device = study.device
    shared = {
        "title": " ".join(filter(None, (device.maker, device.model, device.name))),
        "device": device,
        "tables": TABLES,
    }
    for n, step in enumerate(order):
        around = {
            "before": order[n - 1] if n else None,
            "after": order[n + 1] if n + 1 < len(order) else None,
            "photos": by_step.get(step["id"], []),
        }
        write_text(folder / page_of(step["number"]), _page().render(step=step, page_of=page_of, **around, **shared))
    loose = [shot for step, shots in by_step.items() if step not in study.steps for shot in shots]
    index = _page().render(
        step=None,
        groups=groups,
        page_of=page_of,
        short=in_short(study, with_change=False),
        depth=depth_svg(study) if study.parts else "",
        parts=content.parts(job),
        photos=loose,
        **shared,
    )
    write_text(folder / "index.html", index)
    write_text(folder / "style.css", _text("web.css"))
    write_text(folder / MARK, json.dumps(to_json(study), ensure_ascii=False, indent=1))
    for table in TABLES:
        write_text(folder / "data" / f"{table}.csv", csv_text(study, table))
    return len(order) + 1


def page_of(number: int) -> str:
    """The file of a step's page."""
    return f"step-{number:03d}.html"


def _text(name: str) -> str:
    return files(__package__).joinpath(name).read_text(encoding="utf-8")


@cache
def _page() -> Template:
    return Environment(autoescape=True, trim_blocks=True, lstrip_blocks=True).from_string(_text("web.html"))
