"""The contact sheet to print: all photos with their callouts, step by step, pairs side by side."""

from __future__ import annotations

from collections.abc import Callable
from importlib.resources import files
from typing import Any

from jinja2 import Environment
from markupsafe import Markup

from oddbolt.core.errors import FileError
from oddbolt.core.reach.describe import step_text
from oddbolt.core.study import Photo, Study
from oddbolt.core.study.formatting import plural
from oddbolt.core.study.photos import callouts_of, photos_of
from oddbolt.files.drawings import photo_svg

SIDE = 700


def contact_sheet(study: Study, picture: Callable[[str], bytes | None]) -> str:
    """All photos as one HTML page; ``picture`` gives their bytes by SHA-256. Raises FileError if there is none."""
    if not study.photos:
        raise FileError("There are no photos for a contact sheet.")
    groups = []
    for n, step in enumerate([*study.steps, ""], 1):
        photos = photos_of(study, step)
        before = [p for p in photos if p.role == "before"]
        after = [p for p in photos if p.role == "after"]
        rows = [[*before[:1], *after[:1]], *([p] for p in photos if p not in (*before[:1], *after[:1]))]
        shown = [[_shown(study, p, picture) for p in row] for row in rows if row]
        if shown:
            groups.append({"head": f"{n}  {step_text(study, step)}" if step else "of no step", "rows": shown})
    device = study.device
    sheet = Environment(autoescape=True).from_string(
        files(__package__).joinpath("contact_sheet.html").read_text(encoding="utf-8")
    )
    return sheet.render(
        device=" ".join(filter(None, (device.maker, device.model, device.name, device.variant))),
        count=plural(len(study.photos), "photo"),
        groups=groups,
    )


def _shown(study: Study, photo: Photo, picture: Callable[[str], bytes | None]) -> dict[str, Any]:
    data = picture(photo.sha256)
    drawing = photo_svg(study, photo, data, SIDE) if data else "the file does not hold this picture"
    foot = " · ".join(filter(None, (photo.role, photo.caption, photo.taken[11:16])))
    callouts = [
        {"letter": c.letter, "label": c.label or (study.name(c.about) if c.about else "")}
        for c in callouts_of(study, photo.id)
    ]
    return {"drawing": Markup(drawing) if data else drawing, "foot": foot, "callouts": callouts}
