"""The kit as a sheet to print: what must lie on the bench, with amounts and boxes to tick."""

from __future__ import annotations

from collections.abc import Sequence
from importlib.resources import files

from jinja2 import Environment

from oddbolt.core.bench.kit import SORTS, KitNeed
from oddbolt.core.safety import DEFER, CheckLine
from oddbolt.core.study import Study

TITLES = {
    "driver": "Drivers",
    "tool": "Tools",
    "protection": "Protection",
    "renew": "To renew",
    "supply": "Consumables",
}


def kit_html(study: Study, job: str, needs: Sequence[KitNeed], checks: Sequence[CheckLine] = ()) -> str:
    """The sheet of a job as one HTML page."""
    groups = [(TITLES[sort], [n for n in needs if n.sort == sort]) for sort in SORTS]
    device = study.device
    sheet = Environment(autoescape=True).from_string(
        files(__package__).joinpath("kit_sheet.html").read_text(encoding="utf-8")
    )
    return sheet.render(
        job=job,
        device=" ".join(filter(None, (device.maker, device.model, device.name, device.variant))),
        defer=DEFER,
        groups=[(title, rows) for title, rows in groups if rows],
        checks=checks,
    )
