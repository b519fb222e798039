"""A route as a card for the bench: what, with what, in which order, mind what, renew what."""

from __future__ import annotations

from importlib.resources import files
from pathlib import Path
from typing import Any

from jinja2 import Environment

from oddbolt.core.bench.kit import kit
from oddbolt.core.reach import Route
from oddbolt.core.reach.describe import route_summary, step_text
from oddbolt.core.reach.overview import near_words, passed
from oddbolt.core.reach.spread import spread_of
from oddbolt.core.safety import cautions_along, contents
from oddbolt.core.study import Study
from oddbolt.core.study.formatting import duration
from oddbolt.files.pdf import write_first_of_pages, write_page

#: sizes of its letters, pt: the largest with which it is one page
SIZES = (9.5, 8.5, 7.5, 6.5, 5.5)


def write_card(path: Path, study: Study, route: Route) -> None:
    """Write the card of one route as FILE.html, or as FILE.pdf in the largest letters with which it is one page of A4.
    Raises FileError."""
    shown = _shown(study, route)
    if path.suffix.lower() == ".pdf":
        write_first_of_pages(path, (_html(shown, size) for size in SIZES))
    else:
        write_page(path, _html(shown, SIZES[0]))


def _html(shown: dict[str, Any], size: float) -> str:
    """The card as one HTML page, in letters of this size, pt."""
    page = files(__package__).joinpath("bench_card.html").read_text(encoding="utf-8")
    return Environment(autoescape=True).from_string(page).render(size=size, **shown)


def _shown(study: Study, route: Route) -> dict[str, Any]:
    """What stands on the card."""
    spread = spread_of(study, route.legs)
    minds = cautions_along(study, route.steps)
    rows, tool = [], ""
    for leg in route.legs:
        waited = f"then {duration(leg.wait_s)} to wait" if leg.wait_s else ""
        rows.append(
            {
                "what": step_text(study, leg.step),
                "mind": " · ".join(c.text for c in minds[leg.step]),
                "wait": waited,
                "tool": leg.tool if leg.tool != tool else "",  # told where it changes
                "turn": leg.turn,
                "face": leg.face,
                "at": duration(leg.start_s),
            }
        )
        tool = leg.tool or tool
    device = study.device
    names = " and ".join(study.name(t) for t in route.targets)
    out = dict.fromkeys(p for leg in route.legs for p in study.steps[leg.step].takes_out if p not in route.targets)
    return {
        "title": f"Route to {names}",
        "device": " ".join(filter(None, (device.maker, device.model, device.name, device.variant))),
        "summary": f"{route_summary(study, route)}, nine in ten under {duration(spread.p90_s)}",
        "tools": ", ".join(route.totals.tools),
        "minds": [f"Power live until step {n}." for n in _isolated_late(study, route)],
        "rows": rows,
        "renew": ", ".join(study.name(r) for r in route.totals.renew),
        "ready": supplies(study, route),
        "passing": ", ".join(study.name(p) for p in out),
        "near": near_words(study, passed(study, route)),
    }


def supplies(study: Study, route: Route) -> str:
    """What is used up on the way, in words: "isopropanol 1.4 ml, lint-free cloths 2 pieces"."""
    wanted = [n for n in kit(study, contents(study), route.steps) if n.sort == "supply"]
    return ", ".join(f"{n.what} {n.said}".strip() for n in wanted)


def _isolated_late(study: Study, route: Route) -> list[int]:
    """The number of the step that cuts the power, where others come before it."""
    return [n for n, leg in enumerate(route.legs, 1) if study.steps[leg.step].isolates_power and n > 1][:1]
