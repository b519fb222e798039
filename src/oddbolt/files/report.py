"""The report: one HTML file that holds everything, and runs nothing."""

from __future__ import annotations

import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from functools import cache
from importlib.resources import files
from typing import Any

from jinja2 import Environment, Template
from markupsafe import Markup

from oddbolt.core.errors import BenchError, ReachError
from oddbolt.core.opening.edge import round_of
from oddbolt.core.opening.warmup import heating, safe_window, slabs_of, warm
from oddbolt.core.reach import Reach, TimeStudy, reach_of_all, step_times, time_study
from oddbolt.core.reach.describe import route_summary, step_text
from oddbolt.core.reference.joint_kinds import ids_where
from oddbolt.core.reference.tables import screw_label
from oddbolt.core.safety import DEFER, preflight
from oddbolt.core.study import Part, Photo, Study
from oddbolt.core.study.formatting import duration, span
from oddbolt.core.verdict import SCHEMES, Count, counting
from oddbolt.files.drawings import photo_svg, ribbon_svg
from oddbolt.files.edge_drawing import edge_svg

#: photos made small at the same time
AT_A_TIME = min(4, os.cpu_count() or 1)
Picture = Callable[[str], bytes | None]
#: a name and its SVG into the markup that shows it
Drawn = Callable[[str, str], Markup]


def html_report(study: Study, picture: Picture = lambda _: None, written: str = "") -> str:
    """The report of a study. ``picture`` gives the bytes of a photo by its SHA-256; ``written`` is the day."""

    def inline(_name: str, svg: str) -> Markup:
        return Markup(svg)

    return _rendered(study, picture, written, inline)


def preview_report(study: Study, picture: Picture, written: str = "") -> tuple[str, dict[str, str]]:
    """The same report with its drawings apart, as SVG by the name the markup calls them by."""
    drawings: dict[str, str] = {}

    def aside(name: str, svg: str) -> Markup:
        drawings[name] = svg
        return Markup('<img src="{}">').format(name)

    return _rendered(study, picture, written, aside), drawings


def _rendered(study: Study, picture: Picture, written: str, drawn: Drawn) -> str:
    reach = reach_of_all(study)
    screws = sum(j.count or 0 for j in study.joints.values() if j.kind == "screw")
    plugs = sum(j.count or 0 for j in study.joints.values() if j.kind in ids_where("plug"))
    device = study.device
    mass = f"{device.mass_g:g} g" if device.mass_g else ""
    photos: dict[str, list[Photo]] = {}
    for photo in study.photos.values():
        photos.setdefault(photo.step, []).append(photo)
    title = " ".join(filter(None, (device.maker, device.model, device.name)))
    notes = _Notes()
    return _template().render(
        note=notes.mark,
        sources=notes.texts,
        numeric=NUMERIC,
        title=title,
        running=_in_css(title),
        subtitle=" · ".join(filter(None, (device.variant, device.serial, mass))),
        written=written,
        figures=[
            ("steps", len(study.steps)),
            ("parts", len(study.parts)),
            ("screws", screws),
            ("connectors", plugs),
            ("priority parts", sum(p.priority for p in study.parts.values())),
        ],
        judgements=[(scheme, scheme.judge(study)) for scheme in SCHEMES.values()],
        routes=[_route(study, c, drawn) for c in counting(study) if c.route is not None],
        opening=_opening(study, drawn),
        bench_times=_bench_times(study),
        steps=_steps(study, photos, picture, drawn),
        joints=[_joint(study, id) for id in study.joints],
        parts=[_part(study, p, reach[p.id]) for p in study.parts.values()],
        findings=[
            {"kind": f.kind, "text": f.text, "about": study.name(f.about) if f.about else ""}
            for f in study.findings.values()
        ],
    )


#: heads of columns that hold figures
NUMERIC = frozenset({"points", "steps", "screws", "tools", "time"})


class _Notes:
    """Where figures come from, each said once, in the order that they are met."""

    def __init__(self) -> None:
        self.texts: list[str] = []

    def mark(self, source: str, verified: bool) -> Markup:
        """A raised number that leads to this source."""
        text = source if verified else f"{source}, unverified"
        if text not in self.texts:
            self.texts.append(text)
        return Markup("<sup>{}</sup>").format(self.texts.index(text) + 1)


def _in_css(text: str) -> Markup:
    """A text that may stand between quotes in a style sheet: nothing in it can end the quotes or the sheet."""
    return Markup("".join(c if c.isalnum() or c in " .,-" else f"\\{ord(c):x} " for c in text))


def _route(study: Study, count: Count, drawn: Drawn) -> dict[str, Any]:
    route = count.route
    assert route is not None
    return {
        "name": study.name(count.part),
        "summary": route_summary(study, route),
        "ribbon": drawn(f"ribbon-{count.part}", ribbon_svg(study, route)),
        "legs": [
            {
                "number": study.step_number(leg.step),
                "text": step_text(study, leg.step),
                "tool": leg.tool or "hand",
                "turn": leg.turn,
                "face": leg.face,
                "idle": round(leg.idle_s),
                "idle_text": duration(leg.idle_s) + (f", {leg.fetch} fetched meanwhile" if leg.fetch else ""),
                "at": duration(leg.start_s),
            }
            for leg in route.legs
        ],
    }


def _steps(study: Study, photos: dict[str, list[Photo]], picture: Picture, drawn: Drawn) -> list[dict[str, Any]]:
    """The steps; a sentence that made several of them is printed with the first."""
    out: list[dict[str, Any]] = []
    before = ""
    drawings = _drawn_photos(study, [p for id in study.steps for p in photos.get(id, ())], picture)
    for n, (id, step) in enumerate(study.steps.items(), 1):
        row = _step(study, n, id, [(p, drawings[p.id]) for p in photos.get(id, ()) if p.id in drawings], drawn)
        row["said"] = "" if step.said == before else row["said"]
        before = step.said
        out.append(row)
    return out


def _drawn_photos(study: Study, photos: list[Photo], picture: Picture) -> dict[str, str]:
    """Photo -> its drawing at the size it is printed, for those that the file holds. A few are worked on at a time, so
    that their bytes never lie in memory together."""
    out: dict[str, str] = {}
    with ThreadPoolExecutor(AT_A_TIME) as several:
        for some in (photos[n : n + AT_A_TIME] for n in range(0, len(photos), AT_A_TIME)):
            held = [(p, data) for p in some if (data := picture(p.sha256)) is not None]
            svgs = several.map(lambda one: photo_svg(study, *one), held)
            out |= {p.id: svg for (p, _), svg in zip(held, svgs, strict=True)}
    return out


def _step(study: Study, n: int, id: str, photos: list[tuple[Photo, str]], drawn: Drawn) -> dict[str, Any]:
    step, time = study.steps[id], step_times(study)[id]
    shown = []
    for photo, svg in photos:
        callouts = [c for c in study.callouts.values() if c.photo == photo.id]
        shown.append(
            {
                "caption": photo.caption,
                "drawing": drawn(f"photo-{photo.id}", svg),
                "callouts": [{"letter": c.letter, "label": c.label or study.name(c.about)} for c in callouts],
            }
        )
    return {
        "id": id,
        "number": n,
        "text": step_text(study, id),
        "said": step.said if step.said and step.said != step_text(study, id) else "",
        "doubt": step.doubt,
        "tool": step.tool or "hand",
        "cautions": step.cautions,
        "time": duration(time.seconds),
        "basis": time.basis,
        "photos": shown,
    }


def _opening(study: Study, drawn: Drawn) -> dict[str, Any]:
    """What was checked, how the covers were to be opened and warmed, what was reckoned."""
    plans = []
    for plan in study.edge_plans:
        try:
            found = round_of(study, plan)
        except BenchError:
            continue
        drawing = drawn(f"edge-{plan}", edge_svg(study, found, sheet=False))
        plans.append({"name": found.plan.name, "drawing": drawing, "sentences": found.sentences})
    warmups = []
    for id, warmup in study.warmups.items():
        try:
            warming = warm(slabs_of(study, id), heating(warmup), warmup.minutes * 60)
        except BenchError:
            continue
        window = safe_window(warming, warmup.target_c, warmup.limit_c)
        warmups.append({"name": warmup.name, "sentence": window.sentence})
    checks = preflight(study)
    sums = [{"about": study.name(s.about) if s.about else "", "result": s.result} for s in study.sums.values()]
    return {"plans": plans, "warmups": warmups, "checks": checks, "sums": sums, "defer": DEFER}


def _bench_times(study: Study) -> TimeStudy | None:
    try:
        return time_study(study)
    except ReachError:
        return None


def _part(study: Study, part: Part, reach: Reach) -> dict[str, Any]:
    return {
        "name": part.name,
        "inside": study.name(part.inside) if part.inside else "",
        "priority": part.priority,
        "reuse": part.reuse,
        "why_not": reach.why_not,
        "steps": span(reach.steps.least, reach.steps.most, "steps") if reach.steps else "",
        "time": reach.time,
    }


def _joint(study: Study, id: str) -> dict[str, Any]:
    j = study.joints[id]
    size = " × ".join(filter(None, (j.thread, f"{j.length_mm:g} mm" if j.length_mm else "")))
    return {
        "name": study.name(id),
        "kind": j.kind,
        "count": "?" if j.count is None else j.count,
        "drive": screw_label(j.drive, j.size) if j.kind == "screw" else j.latch,
        "size": size + (f", {j.lengths}" if j.lengths else ""),
        "holds": ", ".join(study.name(p) for p in j.holds),
        "reuse": j.reuse,
    }


@cache
def _template() -> Template:
    text = files(__package__).joinpath("report.html").read_text(encoding="utf-8")
    return Environment(autoescape=True, trim_blocks=True).from_string(text)
