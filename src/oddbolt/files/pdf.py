"""A page of HTML as a PDF. Nothing is fetched: what the page shows lies within it."""

from __future__ import annotations

import gc
import logging
import re
from base64 import b64encode
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from functools import cache
from html import escape
from importlib.resources import files
from pathlib import Path
from typing import Any

from oddbolt.core.errors import FileError
from oddbolt.files.text import STANDARD, write_text
from oddbolt.files.whole import written_whole

#: tells the number of the page that is being laid out; may raise to stop it
Paging = Callable[[int], None]


class _PageHeard(logging.Handler):
    """Hears from the writer which page it lays out."""

    def __init__(self, heard: Paging) -> None:
        super().__init__()
        self.heard = heard

    def emit(self, record: logging.LogRecord) -> None:
        found = re.search(r"Page (\d+)", record.getMessage())
        if found:
            self.heard(int(found[1]))


@contextmanager
def _heard(paging: Paging | None) -> Iterator[None]:
    """While pages are laid out, ``paging`` is told of each."""
    if paging is None:
        yield
        return
    log = logging.getLogger("weasyprint.progress")
    handler, before = _PageHeard(paging), log.level
    log.addHandler(handler)
    log.setLevel(logging.INFO)
    try:
        yield
    finally:
        log.removeHandler(handler)
        log.setLevel(before)


def _printed(html: str, paging: Paging | None = None) -> Any:
    """The pages of this HTML. Raises FileError."""
    try:
        from weasyprint import CSS, HTML
        from weasyprint.text.fonts import FontConfiguration
        from weasyprint.urls import URLFetcher
    except OSError as error:
        raise FileError(
            f"PDFs need the library Pango (on Debian: apt-get install libpango-1.0-0 libpangoft2-1.0-0): {error}."
        ) from None
    within = URLFetcher(allowed_protocols=("data",))
    fonts = FontConfiguration()
    sheet = CSS(string=_faces(), font_config=fonts, url_fetcher=within)
    collecting = gc.isenabled()
    gc.disable()  # a long report makes millions of objects that all stay until it is printed
    try:
        with _heard(paging):
            return HTML(string=html, url_fetcher=within).render(stylesheets=[sheet], font_config=fonts)
    finally:
        if collecting:
            gc.enable()


def write_pdf(path: Path, html: str, paging: Paging | None = None) -> None:
    """Write a tagged PDF; ``paging`` is told of every page. Raises FileError, leaving what was there."""
    _write(path, _printed(html, paging))


def write_first_of_pages(path: Path, cards: Iterable[str], pages: int = 1) -> None:
    """Write the first of these that has no more pages than so many, or the last. Raises FileError, leaving what was
    there."""
    printed = None
    for card in cards:
        printed = _printed(card)
        if len(printed.pages) <= pages:
            break
    _write(path, printed)


def _write(path: Path, printed: Any) -> None:
    with written_whole(path) as part:
        printed.write_pdf(part, pdf_variant="pdf/ua-1", pdf_tags=True)


def write_page(path: Path, html: str) -> None:
    """Write a page as FILE.html, or printed as FILE.pdf. Raises FileError."""
    ending = path.suffix.lower()
    if ending in (".html", ".htm") or path == STANDARD:
        write_text(path, html)
    elif ending == ".pdf":
        write_pdf(path, html)
    else:
        raise FileError(f"{path.name} ends in neither .html nor .pdf.")


def write_drawing(path: Path, svg: str, title: str) -> None:
    """Write a drawing as FILE.svg, or 1:1 as FILE.pdf on a page of the drawing's own size. Raises FileError."""
    ending = path.suffix.lower()
    if ending == ".svg" or path == STANDARD:
        write_text(path, svg)
    elif ending == ".pdf":
        size = " ".join(svg.split(f'{side}="', 1)[1].split('"', 1)[0] for side in ("width", "height"))
        style = f"@page {{ size: {size}; margin: 0 }} body {{ margin: 0 }} svg {{ display: block }}"
        head = f"<head><title>{escape(title)}</title><style>{style}</style></head>"
        write_pdf(path, f'<html lang="en">{head}<body>{svg}</body></html>')
    else:
        raise FileError(f"{path.name} ends in neither .svg nor .pdf.")


@cache
def _faces() -> str:
    """Our fonts as a style sheet that holds them, under a name of ours."""
    out = []
    for entry in files("oddbolt").joinpath("fonts").iterdir():
        if entry.name.endswith(".otf"):
            weight = "bold" if "Bold" in entry.name else "normal"
            data = b64encode(entry.read_bytes()).decode()
            source = f"url(data:font/otf;base64,{data})"
            out.append(f"@font-face {{ font-family: 'Odd Bolt Text'; font-weight: {weight}; src: {source} }}")
    return "\n".join(out)
