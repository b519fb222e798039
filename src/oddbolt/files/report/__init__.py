"""The report: one document for a repairer, a designer or a judge, as HTML or PDF. It runs nothing and fetches
nothing."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache
from importlib.resources import files
from pathlib import Path
from typing import TYPE_CHECKING

from oddbolt.core.errors import FileError
from oddbolt.core.study import Study
from oddbolt.files.pictures import Picture
from oddbolt.files.report.choice import PRESETS, SECTIONS, Choice, choice
from oddbolt.files.text import STANDARD, write_text

if TYPE_CHECKING:
    from jinja2 import Template
    from markupsafe import Markup

#: tells how far it is: what is being done, and the share done (0 to 1)
Progress = Callable[[str, float], None]


def report_html(
    study: Study,
    picture: Picture = lambda _: None,
    written: str = "",
    chosen: Choice = PRESETS["everything"],
    progress: Progress = lambda _what, _share: None,
) -> str:
    """The report of a study as one HTML page. ``picture`` gives the bytes of a photo by its SHA-256; ``written`` is the
    day."""
    from oddbolt.files.report import content  # what makes documents loads slowly

    notes = content.Notes()
    job = content.Job(study, chosen, picture, notes)
    made = {}
    for n, section in enumerate(chosen.sections):
        progress(SECTIONS[section].lower(), 0.5 * n / len(chosen.sections))
        made[section] = content.MAKERS[section](job)
    device = study.device
    title = " ".join(filter(None, (device.maker, device.model, device.name)))
    return _template().render(
        title=title,
        running=_in_css(title),
        paper=chosen.paper,
        cover=content.cover(job, written),
        made={name: what for name, what in made.items() if what is not None},
        headings=SECTIONS,
        note=notes.mark,
        sources=notes.texts,
        numeric=content.NUMERIC,
    )


def write_report(
    path: Path,
    study: Study,
    picture: Picture = lambda _: None,
    written: str = "",
    chosen: Choice = PRESETS["everything"],
    progress: Progress = lambda _what, _share: None,
) -> None:
    """Write the report as FILE.html or, tagged, as FILE.pdf. ``progress`` may raise to stop it; what was there stays.
    Raises FileError."""
    ending = path.suffix.lower()
    if ending not in (".html", ".htm", ".pdf") and path != STANDARD:
        raise FileError(f"{path.name} ends in neither .html nor .pdf.")
    html = report_html(study, picture, written, chosen, progress)
    if ending == ".pdf":
        from oddbolt.files.pdf import write_pdf

        write_pdf(path, html, lambda page: progress(f"page {page}", 0.5 + 0.45 * (1 - 0.97**page)))
    else:
        write_text(path, html)
    progress("written", 1.0)


def _in_css(text: str) -> Markup:
    """A text that may stand between quotes in a style sheet: nothing in it can end the quotes or the sheet."""
    from markupsafe import Markup

    return Markup("".join(c if c.isalnum() or c in " .,-" else f"\\{ord(c):x} " for c in text))


@cache
def _template() -> Template:
    from jinja2 import Environment

    text = files(__package__).joinpath("report.html").read_text(encoding="utf-8")
    made = Environment(autoescape=True, trim_blocks=True, lstrip_blocks=True)
    return made.from_string(text)


__all__ = ["PRESETS", "SECTIONS", "Choice", "choice", "report_html", "write_report"]
