"""A page of HTML as a PDF. Nothing is fetched: what the page shows lies within it."""

from __future__ import annotations

import gc
from base64 import b64encode
from collections.abc import Iterable
from functools import cache
from html import escape
from importlib.resources import files
from pathlib import Path
from typing import Any

from oddbolt.core.errors import FileError
from oddbolt.files.text import STANDARD, write_text
from oddbolt.files.whole import written_whole


def _printed(html: str) -> Any:
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
        return HTML(string=html, url_fetcher=within).render(stylesheets=[sheet], font_config=fonts)
    finally:
        if collecting:
            gc.enable()


def write_pdf(path: Path, html: str) -> None:
    """Write a PDF. Raises FileError, leaving what was there."""
    _write(path, _printed(html))


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
        printed.write_pdf(part)


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
        write_pdf(path, f"<html>{head}<body>{svg}</body></html>")
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
