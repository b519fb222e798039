"""Repair instructions for one target: what is needed, out, back and the checks, in one document that is short enough to
be used."""

from __future__ import annotations

import base64
from collections.abc import Callable
from functools import cache
from importlib.resources import files
from pathlib import Path
from typing import Any

from jinja2 import Environment, Template
from markupsafe import Markup

from oddbolt.core.errors import FileError
from oddbolt.core.reach.describe import step_text
from oddbolt.core.reassembly import BackStep, RepairJob, step_minds
from oddbolt.core.reference.joint_kinds import ids_where
from oddbolt.core.safety import DEFER
from oddbolt.core.study import Joint, Study
from oddbolt.core.study.formatting import duration
from oddbolt.core.study.screw_lengths import by_length
from oddbolt.core.verdict.evidence import class_of_route
from oddbolt.files.pdf import write_pdf
from oddbolt.files.pictures import Picture
from oddbolt.files.report.choice import PAPERS, Choice
from oddbolt.files.report.content import Job, Notes, shots
from oddbolt.files.text import STANDARD, write_text
from oddbolt.files.true_scale import screw_svg, words_of

#: who can do it, by class of skill
SKILL = {
    "layman": "anyone who works with care",
    "generalist": "somebody used to repairs",
    "expert": "an expert",
    "authorised": "an authorised repairer",
    "not feasible": "nobody, as recorded",
}
ENDINGS = (".html", ".htm", ".pdf", ".md")


def write_instructions(
    path: Path,
    study: Study,
    job: RepairJob,
    picture: Picture = lambda _: None,
    paper: str = "A4",
    heard: Callable[[int], None] | None = None,
) -> None:
    """Write the instructions as FILE.html, FILE.pdf (tagged) or FILE.md; the photos of a FILE.md lie in a folder beside
    it. Raises FileError."""
    if paper not in PAPERS:
        raise FileError(f"{paper!r} is no paper; there are {' and '.join(PAPERS)}.")
    ending = path.suffix.lower()
    if ending not in ENDINGS and path != STANDARD:
        raise FileError(f"{path.name} ends in none of .html, .pdf and .md.")
    told = told_of(study, job, picture)
    if ending == ".md":
        _write_markdown(path, told)
        return
    html = _template().render(paper=paper, **told)
    if ending == ".pdf":
        write_pdf(path, html, heard)
    else:
        write_text(path, html)


def told_of(study: Study, job: RepairJob, picture: Picture = lambda _: None) -> dict[str, Any]:
    """What the instructions say, as plain values."""
    device = study.device
    names = " and ".join(study.name(t) for t in job.targets)
    skill = class_of_route(study, "skill", job.route)
    able = SKILL[skill.likely] + ("" if skill.sure else f" (up to {SKILL[skill.worst]})")
    return {
        "title": f"Replace {names}",
        "device": " ".join(filter(None, (device.maker, device.model, device.name, device.variant))),
        "defer": DEFER,
        "time": f"Half of such jobs take under {duration(job.p50_s)}, nine in ten under {duration(job.p90_s)}.",
        "able": f"For {able}.",
        "need": [
            *({"new": True, "what": n.what, "said": n.said, "basis": n.basis} for n in job.orders),
            *({"new": False, "what": n.what, "said": n.said, "basis": ""} for n in job.ready),
        ],
        "not_again": [study.name(r) for r in job.not_again],
        "open": [f"Not proved: {study.name(s)} is unsure: {d}" for s in job.route.steps if (d := study.steps[s].doubt)],
        "out": _out(study, job, picture),
        "back": [_back(study, step) for step in job.back.steps],
        "left": list(job.back.left),
        "checks": [{"what": c.what, "limit": c.limit} for c in job.checks],
    }


def _out(study: Study, job: RepairJob, picture: Picture) -> list[dict[str, Any]]:
    wanted = [p for p in study.photos.values() if p.step in job.route.steps]
    shown = shots(Job(study, Choice(), picture, Notes()), wanted)
    rows, tool = [], ""
    for leg in job.route.legs:
        step = study.steps[leg.step]
        screws = [j for id in step.releases if (j := study.joints[id]).kind in ids_where("threaded")]
        text = step_text(study, leg.step)
        rows.append(
            {
                "what": text[:1].upper() + text[1:],
                "minds": [c.text for c in job.cautions[leg.step]],
                "wait": duration(leg.wait_s) if leg.wait_s else "",
                "tool": leg.tool or "hand",
                "change": bool(leg.tool) and leg.tool != tool,
                "turn": leg.face if leg.turn else "",
                "screws": _screws(screws),
                "photos": [shown[p.id] for p in wanted if p.step == leg.step and p.id in shown],
            }
        )
        tool = leg.tool or tool
    return rows


def _screws(joints: list[Joint]) -> list[dict[str, Any]]:
    return [{"drawing": Markup(screw_svg(one)), "words": words_of(one)} for j in joints for one in by_length(j)]


def _back(study: Study, step: BackStep) -> dict[str, Any]:
    screws = [j for id in step.joints if (j := study.joints[id]).kind in ids_where("threaded")]
    text = "; ".join(step.does)
    return {
        "what": text[:1].upper() + text[1:],
        "tool": step.tool,
        "new": [study.name(r) for r in step.renew],
        "live": step.power,
        "wait": duration(step.wait_s) if step.wait_s else "",
        "screws": _screws(screws),
        "minds": list(step_minds(study, step)),
    }


def _write_markdown(path: Path, told: dict[str, Any]) -> None:
    """The Markdown, and its photos in a folder beside it; one that holds other things is left alone."""
    folder = path.with_name(f"{path.stem} photos")
    sources = [p for row in told["out"] for p in row["photos"] if p["source"]]
    if sources:
        try:
            folder.mkdir(exist_ok=True)
            for photo in sources:
                data = base64.b64decode(photo["source"].split(",", 1)[1])
                (folder / f"{photo['id']}.jpg").write_bytes(data)
        except OSError as error:
            raise FileError(f"{folder} cannot be written: {error.strerror}.") from None
    write_text(path, "\n".join(_lines(told, folder.name.replace(" ", "%20"))) + "\n")


def _lines(told: dict[str, Any], folder: str) -> list[str]:
    """The instructions as Markdown, line by line."""
    out = [f"# {_md(told['title'])}", "", f"{_md(told['device'])}. {_md(told['defer'])}", ""]
    out += [f"{told['time']} {_md(told['able'])}", "", "## You need", ""]
    out += [f"- [ ] {'new: ' * n['new']}{_md(n['what'])} {_md(n['said'])}".rstrip() for n in told["need"]]
    out += ["", f"Not to be used again: {_md(', '.join(told['not_again']))}."] if told["not_again"] else []
    out += [f"\n**{_md(line)}.**" for line in told["open"]]
    out += ["", "## Out", ""]
    for n, row in enumerate(told["out"], 1):
        turned = f"Turn the device: {_md(row['turn'])} up. " if row["turn"] else ""
        screws = "".join(f"; {_md(s['words'])}" for s in row["screws"])
        out.append(f"{n}. {turned}**{_md(row['what'])}** ({_md(row['tool'])}{screws})")
        out += [f"   - **Mind:** {_md(m)}" for m in row["minds"]]
        out += [f"   - Wait {row['wait']}."] if row["wait"] else []
        for photo in row["photos"]:
            if photo["source"]:
                called = ", ".join(f"{_md(c['letter'])}: {_md(c['label'])}" for c in photo["callouts"])
                out += ["", f"   ![{_md(photo['alt'])}]({folder}/{photo['id']}.jpg)", "", f"   {called}", ""]
    out += ["", "## Back", ""]
    for n, row in enumerate(told["back"], 1):
        tool = f" ({_md(row['tool'])})" if row["tool"] else ""
        out.append(f"{n}. **{_md(row['what'])}**{tool}")
        out += [f"   - {_md(s['words'])}" for s in row["screws"]]
        out += [f"   - **New:** {_md(new)}" for new in row["new"]]
        out += ["   - **This makes the device live.**"] if row["live"] else []
        out += [f"   - Wait {row['wait']}."] if row["wait"] else []
    out += [f"\n**{_md(line)}.**" for line in told["left"]]
    out += ["", "## Before it is handed over", ""]
    out += [f"- [ ] {_md(c['what'])}" + (f" ({_md(c['limit'])})" if c["limit"] else "") for c in told["checks"]]
    return [*out, r"- [ ] screws out \_\_\_\_, back \_\_\_\_, left over \_\_\_\_"]


def _md(text: str) -> str:
    """A text as it stands in Markdown: nothing in it is taken for markup."""
    return "".join(f"\\{c}" if c in "\\`*_{}[]<>#|!" else c for c in " ".join(text.split()))


@cache
def _template() -> Template:
    text = files(__package__).joinpath("instructions.html").read_text(encoding="utf-8")
    return Environment(autoescape=True, trim_blocks=True, lstrip_blocks=True).from_string(text)
