"""A repair job as one card of two sides, out and back; and the plan of putting back alone."""

from __future__ import annotations

from collections.abc import Sequence
from importlib.resources import files
from pathlib import Path
from typing import Any

from jinja2 import Environment

from oddbolt.core.reach.describe import step_text
from oddbolt.core.reassembly import BackStep, Plan, RepairJob
from oddbolt.core.safety import DEFER, CheckLine, finals
from oddbolt.core.study import Study
from oddbolt.core.study.formatting import duration
from oddbolt.files.pdf import write_first_of_pages, write_page

#: sizes of its letters, pt: the largest with which it is one sheet of paper, both sides
SIZES, SIDES = (9.0, 8.0, 7.0, 6.2, 5.5), 2


def write_job(path: Path, study: Study, job: RepairJob) -> None:
    """Write a repair job as FILE.html, or FILE.pdf in the largest letters with which it is one sheet of A4, both sides.
    Raises FileError."""
    names = " and ".join(study.name(t) for t in job.targets)
    shown = _common(study, job.back, job.checks) | {
        "title": f"Replace {names}",
        "summary": f"Half of such jobs take under {duration(job.p50_s)}, nine in ten under {duration(job.p90_s)}.",
        "orders": job.orders,
        "not_again": ", ".join(study.name(r) for r in job.not_again),
        "ready": ", ".join(f"{n.what} {n.said}".strip() for n in job.ready),
        "out": _out(study, job),
    }
    _write(path, shown)


def write_plan(path: Path, study: Study, plan: Plan) -> None:
    """Write the plan of putting back alone, as FILE.html or FILE.pdf. Raises FileError."""
    shown = _common(study, plan, finals(study)) | {
        "title": "Put back",
        "summary": f"About {duration(plan.seconds)}; {plan.sureness}.",
        "orders": [],
        "not_again": ", ".join(study.name(r) for r in plan.renew),
        "ready": ", ".join(plan.tools) or "bare hands",
        "out": [],
    }
    _write(path, shown)


def _write(path: Path, shown: dict[str, Any]) -> None:
    if path.suffix.lower() == ".pdf":
        write_first_of_pages(path, (_html(shown, size) for size in SIZES), SIDES)
    else:
        write_page(path, _html(shown, SIZES[0]))


def _html(shown: dict[str, Any], size: float) -> str:
    page = files(__package__).joinpath("job_card.html").read_text(encoding="utf-8")
    return Environment(autoescape=True).from_string(page).render(size=size, **shown)


def _common(study: Study, plan: Plan, checks: Sequence[CheckLine]) -> dict[str, Any]:
    device = study.device
    return {
        "device": " ".join(filter(None, (device.maker, device.model, device.name, device.variant))),
        "defer": DEFER,
        "back": _back(study, plan.steps),
        "checks": checks,
        "left": plan.left,
    }


def _out(study: Study, job: RepairJob) -> list[dict[str, Any]]:
    rows, tool = [], ""
    for leg in job.route.legs:
        rows.append(
            {
                "what": step_text(study, leg.step),
                "mind": " · ".join(c.text for c in job.cautions[leg.step]),
                "wait": f"then {duration(leg.wait_s)} to wait" if leg.wait_s else "",
                "tool": leg.tool if leg.tool != tool else "",
                "turn": leg.turn,
                "face": leg.face,
                "at": duration(leg.start_s),
            }
        )
        tool = leg.tool or tool
    return rows


def _back(study: Study, steps: Sequence[BackStep]) -> list[dict[str, Any]]:
    rows, tool = [], ""
    for step in steps:
        rows.append(
            {
                "what": "; ".join(step.does),
                "new": ", ".join(study.name(r) for r in step.renew),
                "live": step.power,
                "wait": f"then {duration(step.wait_s)} to wait" if step.wait_s else "",
                "tool": step.tool if step.tool != tool else "",
                "at": duration(step.start_s),
            }
        )
        tool = step.tool or tool
    return rows
