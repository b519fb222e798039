"""What each section of the report says, as plain values for the template; None where there is nothing to say."""

from __future__ import annotations

import base64
import os
from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from attrs import frozen
from markupsafe import Markup

from oddbolt.core.bench.kit import SORTS, kit
from oddbolt.core.components import bill_of_materials
from oddbolt.core.errors import BenchError, FileError, ReachError
from oddbolt.core.fasteners.look_alikes import look_alikes
from oddbolt.core.handover.cues import module_of
from oddbolt.core.handover.in_short import helpful, in_short
from oddbolt.core.opening.edge import round_of
from oddbolt.core.opening.warmup import heating, safe_window, slabs_of, warm
from oddbolt.core.reach import reach_of_all, step_times, time_study
from oddbolt.core.reach.describe import route_summary, step_text
from oddbolt.core.reach.what_if import all_in_words
from oddbolt.core.reassembly import ledger
from oddbolt.core.reassembly.closing import still_open
from oddbolt.core.reference.joint_kinds import ids_where
from oddbolt.core.reference.tables import screw_label
from oddbolt.core.safety import DEFER, cautions_along, contents, preflight
from oddbolt.core.study import Joint, Photo, Study
from oddbolt.core.study.formatting import duration, plural, span
from oddbolt.core.study.photos import shown_size, to_shown
from oddbolt.core.study.screw_lengths import by_length
from oddbolt.core.verdict import SCHEMES, Count, counting
from oddbolt.files.depth_drawing import depth_svg
from oddbolt.files.drawings import ribbon_svg
from oddbolt.files.edge_drawing import edge_svg
from oddbolt.files.kit_sheet import TITLES
from oddbolt.files.laid_out_drawing import laid_out_svg
from oddbolt.files.pictures import Picture, small
from oddbolt.files.report.choice import Choice
from oddbolt.files.true_scale import screw_svg, words_of

#: photos made small at the same time
AT_A_TIME = min(4, os.cpu_count() or 1)
#: the longer side of a printed photo, px: about 85 mm on paper at 190 dots per inch; a photo that stands alone has more
PRINTED_PX, ALONE_PX = 640, 960
#: heads of columns that hold figures
NUMERIC = frozenset({"points", "steps", "screws", "tools", "time"})
#: so many changes are listed
MOST_CHANGES = 15


@frozen
class Job:
    """One report being made: the study, the choice, how a photo's bytes are had, and the notes on sources."""

    study: Study
    choice: Choice
    picture: Picture
    notes: Notes


class Notes:
    """Where figures come from, each said once, in the order that they are met."""

    def __init__(self) -> None:
        self.texts: list[str] = []

    def mark(self, source: str, verified: bool) -> Markup:
        """A raised number that leads to this source."""
        text = source if verified else f"{source}, unverified"
        if text not in self.texts:
            self.texts.append(text)
        number = self.texts.index(text) + 1
        return Markup('<sup><a href="#source-{}">{}</a></sup>').format(number, number)


def cover(job: Job, written: str) -> dict[str, Any]:
    """The device, its variant, who and when, how it arrived, and the photo that shows it best."""
    study, device = job.study, job.study.device
    by = dict.fromkeys(filter(None, [*(c.by for c in study.checks.values()), *(c.by for c in study.closings.values())]))
    started = next((run.started[:10] for run in study.runs.values() if run.started[:4].isdigit()), "")
    rows = [
        ("variant", device.variant),
        ("serial number", device.serial),
        ("made", device.made),
        ("mass", f"{device.mass_g:g} g" if device.mass_g else ""),
        ("taken apart", started),
        ("signed by", ", ".join(by)),
        ("on arrival", device.arrived),
        *(("on arrival", finding.text) for finding in study.findings.values() if finding.kind == "arrival"),
        ("report written", written),
    ]
    screws = sum(j.count or 0 for j in study.joints.values() if j.kind == "screw")
    plugs = sum(j.count or 0 for j in study.joints.values() if j.kind in ids_where("plug"))
    figures = [
        ("steps", len(study.steps)),
        ("parts", len(study.parts)),
        ("screws", screws),
        ("connectors", plugs),
        ("priority parts", sum(p.priority for p in study.parts.values())),
    ]
    order = {"arrival": 0, "before": 1}
    shown = None
    for photo in sorted(study.photos.values(), key=lambda p: order.get(p.role, 2)):
        if shown := _shot(job, photo, ALONE_PX):
            break
    return {"rows": [row for row in rows if row[1]], "figures": figures, "photo": shown}


def short(job: Job) -> dict[str, Any] | None:
    """The page that is read first."""
    if not job.study.steps:
        return None
    found = in_short(job.study, with_change="changes" in job.choice.sections)
    return {"found": found, "marks": [m for m in found.marks if _school(m[0]) in job.choice.schools]}


def _school(name: str) -> str:
    return next((id for id, scheme in SCHEMES.items() if scheme.name == name), "")


def depth(job: Job) -> dict[str, Any] | None:
    """Strata, and the routes on one scale."""
    if not job.study.parts:
        return None
    return {"drawing": Markup(depth_svg(job.study))}


def routes(job: Job) -> list[dict[str, Any]] | None:
    """The route to every priority part: what must come off, with what, how long, what to renew, what can go wrong."""
    return [_route(job.study, count) for count in counting(job.study)] or None


def _route(study: Study, count: Count) -> dict[str, Any]:
    route = count.route
    if route is None:
        return {"name": study.name(count.part), "why_not": count.why_not}
    minds = cautions_along(study, route.steps)
    out = dict.fromkeys(p for leg in route.legs for p in study.steps[leg.step].takes_out if p not in route.targets)
    return {
        "name": study.name(count.part),
        "summary": route_summary(study, route),
        "ribbon": Markup(ribbon_svg(study, route)),
        "tools": ", ".join(route.totals.tools) or "bare hands",
        "off": ", ".join(study.name(p) for p in out) or "nothing else",
        "renew": ", ".join(study.name(r) for r in route.totals.renew) or "nothing",
        "minds": list(dict.fromkeys(c.text for here in minds.values() for c in here))[:8],
        "legs": [
            {
                "number": study.step_number(leg.step),
                "step": leg.step,
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


def opening(job: Job) -> dict[str, Any] | None:
    """What was checked, how the covers were to be opened and warmed, what was reckoned."""
    study, plans, warmups = job.study, [], []
    for plan in study.edge_plans:
        try:
            found = round_of(study, plan)
        except BenchError:
            continue
        drawing = Markup(edge_svg(study, found, sheet=False))
        plans.append({"name": found.plan.name, "drawing": drawing, "sentences": found.sentences})
    for id, warmup in study.warmups.items():
        try:
            warming = warm(slabs_of(study, id), heating(warmup), warmup.minutes * 60)
        except BenchError:
            continue
        window = safe_window(warming, warmup.target_c, warmup.limit_c)
        warmups.append({"name": warmup.name, "sentence": window.sentence})
    sums = [{"about": study.name(s.about) if s.about else "", "result": s.result} for s in study.sums.values()]
    if not (plans or warmups or sums or study.checks or study.steps):
        return None
    return {"plans": plans, "warmups": warmups, "checks": preflight(study), "sums": sums, "defer": DEFER}


def steps(job: Job) -> list[dict[str, Any]] | None:
    """The steps as understood, gathered by the module that they work on."""
    study = job.study
    photos: dict[str, list[Photo]] = {}
    for photo in study.photos.values():
        photos.setdefault(photo.step, []).append(photo)
    shown = shots(job, [p for id in study.steps for p in photos.get(id, ())])
    times = step_times(study)
    minds = cautions_along(study, list(study.steps))
    groups: list[dict[str, Any]] = []
    said_too, before = job.choice.said, ""
    for n, (id, step) in enumerate(study.steps.items(), 1):
        module = module_of(study, id)
        phase = "Putting back" if step.phase == "back" else ""
        if not groups or (groups[-1]["module"], groups[-1]["phase"]) != (module, phase):
            groups.append({"module": module, "phase": phase, "first": n, "steps": []})
        screws = [j for joint in step.releases if (j := study.joints[joint]).kind in ids_where("threaded")]
        said = step.said if said_too and step.said not in ("", before, step_text(study, id)) else ""
        before = step.said
        text = step_text(study, id)
        groups[-1]["steps"].append(
            {
                "id": id,
                "number": n,
                "text": text[:1].upper() + text[1:],
                "said": said,
                "doubt": step.doubt,
                "tool": step.tool or "hand",
                "cautions": list(dict.fromkeys([*step.cautions, *(c.text for c in minds.get(id, ()))])),
                "time": duration(times[id].seconds),
                "basis": times[id].basis,
                "wait": duration(step.wait_s) if step.wait_s else "",
                "screws": [_screw(j) for joint in screws for j in by_length(joint)],
                "photos": [shown[p.id] for p in photos.get(id, ()) if p.id in shown],
            }
        )
    return groups or None


def _screw(joint: Joint) -> dict[str, Any]:
    return {"drawing": Markup(screw_svg(joint)), "words": words_of(joint)}


def shots(job: Job, wanted: Sequence[Photo]) -> dict[str, dict[str, Any]]:
    """Photo -> how it is printed, for those that the file holds. A few are worked on at a time, so that their bytes
    never lie in memory together."""
    at = Counter(photo.step for photo in wanted)

    def side(photo: Photo) -> int:
        return ALONE_PX if at[photo.step] == 1 else PRINTED_PX

    out: dict[str, dict[str, Any]] = {}
    with ThreadPoolExecutor(AT_A_TIME) as several:
        for some in (wanted[n : n + AT_A_TIME] for n in range(0, len(wanted), AT_A_TIME)):
            held = [(p, data) for p in some if (data := job.picture(p.sha256)) is not None]
            made = several.map(lambda one: _made_small(one[0], one[1], side(one[0])), held)
            out |= {p.id: marked(job.study, p, source) for (p, _), source in zip(held, made, strict=True)}
    return out


def _made_small(photo: Photo, data: bytes, side: int) -> str:
    """The photo as a data URL, "" where it cannot be read."""
    try:
        return "data:image/jpeg;base64," + base64.b64encode(small(data, photo, side)).decode()
    except FileError:
        return ""


def _shot(job: Job, photo: Photo, side: int) -> dict[str, Any] | None:
    data = job.picture(photo.sha256)
    source = _made_small(photo, data, side) if data is not None else ""
    return marked(job.study, photo, source) if source else None


def marked(study: Study, photo: Photo, source: str) -> dict[str, Any]:
    """A photo with its callouts at shares of its width and height."""
    callouts = []
    for c in study.callouts.values():
        if c.photo != photo.id:
            continue
        across, down = to_shown(photo, (c.x, c.y))
        if 0 <= across <= 1 and 0 <= down <= 1:
            label = c.label or (study.name(c.about) if c.about else "")
            callouts.append({"letter": c.letter, "label": label, "x": f"{across:.1%}", "y": f"{down:.1%}"})
    wide, high = shown_size(photo) if photo.width and photo.height else (4.0, 3.0)
    where = f"step {study.step_number(photo.step)}" if photo.step in study.steps else ""
    alt = photo.caption or f"Photo of {where or study.device.name}"
    tall = high > wide
    return {"id": photo.id, "source": source, "caption": photo.caption, "alt": alt, "tall": tall, "callouts": callouts}


def fasteners(job: Job) -> dict[str, Any] | None:
    """Every group at true scale, the look-alikes, and the other joints."""
    study = job.study
    screws = [j for j in study.joints.values() if j.kind in ids_where("threaded")]
    others = [j for j in study.joints.values() if j.kind not in ids_where("threaded")]
    if not study.joints:
        return None
    pairs = [
        (study.name(a.id), study.name(b.id), f"{abs((a.length_mm or 0) - (b.length_mm or 0)):g}")
        for a, b in look_alikes(study)
    ]
    rows = [{**_joint(study, joint), "drawn": [_screw(j) for j in by_length(joint)]} for joint in screws]
    return {"screws": rows, "others": [_joint(study, j) for j in others], "pairs": pairs}


def _joint(study: Study, j: Joint) -> dict[str, Any]:
    size = " × ".join(filter(None, (j.thread, f"{j.length_mm:g} mm" if j.length_mm else "")))
    threaded = j.kind in ids_where("threaded")
    return {
        "name": study.name(j.id),
        "kind": j.kind,
        "count": "?" if j.count is None else j.count,
        "drive": (screw_label(j.drive, j.size) if j.drive or j.size else "drive not recorded") if threaded else j.latch,
        "size": size + (f", {j.lengths}" if j.lengths else ""),
        "holds": ", ".join(study.name(p) for p in j.holds),
        "reuse": j.reuse,
        "place": j.place,
        "torque": f"{j.torque_ncm:g} N·cm" if j.torque_ncm else "",
    }


def parts(job: Job) -> dict[str, Any] | None:
    """The device laid out, and the bill of materials with what each part takes."""
    study = job.study
    if not study.parts:
        return None
    reach = reach_of_all(study)
    rows = []
    for line in bill_of_materials(study):
        found = reach.get(line.ids[0]) if not line.screws else None
        rows.append(
            {
                "level": line.level,
                "name": line.name,
                "kind": line.kind,
                "count": "?" if line.count is None else line.count,
                "marks": "; ".join(line.marks),
                "mass": "" if line.sum_g is None else _mass(line.sum_g) + ("" if line.whole else " at least"),
                "priority": not line.screws and study.parts[line.ids[0]].priority,
                "free": span(found.steps.least, found.steps.most) if found and found.steps else "",
                "time": found.time if found and found.steps else "",
                "why_not": found.why_not if found and not found.steps else "",
                "reuse": line.reuse,
                "screws": line.screws,
            }
        )
    return {"rows": rows, "drawing": Markup(laid_out_svg(study))}


def _mass(grams: float) -> str:
    """A mass to three places, never as a power of ten."""
    return f"{grams:.3g} g" if grams < 1000 else f"{grams:.0f} g"


def kit_section(job: Job) -> dict[str, Any] | None:
    """What must lie ready for taking it all apart, and what must be renewed."""
    if not job.study.steps:
        return None
    needs = kit(job.study, contents(job.study))
    groups = [(TITLES[sort], [n for n in needs if n.sort == sort]) for sort in SORTS]
    found = [(title, rows) for title, rows in groups if rows]
    return {"groups": found} if found else None


def changes(job: Job) -> dict[str, Any] | None:
    """The changes that would help most, by what they save over all priority parts."""
    study = job.study
    effects = helpful(study)
    rows = [
        {
            "words": all_in_words(study, e.changes),
            "saves": duration(e.seconds),
            "helped": ", ".join(study.name(p) for p in e.helped),
        }
        for e in effects[:MOST_CHANGES]
    ]
    return {"rows": rows, "more": max(0, len(effects) - MOST_CHANGES)} if rows else None


def verdict(job: Job) -> list[dict[str, Any]] | None:
    """Each school that was chosen, with its arithmetic, what is missing and what is open."""
    out = []
    for id in job.choice.schools:
        scheme = SCHEMES[id]
        judged = scheme.judge(job.study)
        note = job.notes.mark(f"{scheme.name}: {judged.source}", judged.verified)
        out.append({"scheme": scheme, "judged": judged, "note": note, "asks": judged.asks[:6]})
    return out or None


def put_back(job: Job) -> dict[str, Any] | None:
    """What was undone and taken out, and where it is now; the case, where it was closed."""
    found = ledger(job.study)
    if not any(line.back or line.missing or line.left for line in found.lines) and not job.study.closings:
        return None
    lines = [line for line in found.lines if line.open or line.missing or line.left or line.renewed or line.extra]
    return {
        "words": found.in_words(),
        "lines": lines,
        "open": still_open(job.study),
        "closings": list(job.study.closings.values()),
        "used": found.used,
    }


def times(job: Job) -> dict[str, Any] | None:
    """The runs, and what each kind of joint takes on this bench."""
    study = job.study
    if not study.runs:
        return None
    runs = [
        {
            "name": run.id,
            "kind": run.kind,
            "started": run.started.replace("T", " "),
            "steps": plural(len(run.laps), "step"),
            "time": duration(sum(lap.seconds for lap in run.laps)),
        }
        for run in study.runs.values()
    ]
    try:
        fitted = time_study(study)
    except ReachError:
        fitted = None
    return {"runs": runs, "fitted": fitted}


def findings(job: Job) -> list[dict[str, Any]] | None:
    """What was observed."""
    study = job.study
    return [
        {"kind": f.kind, "text": f.text, "about": study.name(f.about) if f.about else ""}
        for f in study.findings.values()
        if f.kind != "arrival"
    ] or None


def sources(job: Job) -> list[str] | None:
    """The notes of every section before, and what is unverified; always the last to be made."""
    return job.notes.texts


#: section -> what makes it
MAKERS: Mapping[str, Callable[[Job], Any]] = {
    "short": short,
    "depth": depth,
    "routes": routes,
    "opening": opening,
    "steps": steps,
    "fasteners": fasteners,
    "parts": parts,
    "kit": kit_section,
    "changes": changes,
    "verdict": verdict,
    "put back": put_back,
    "times": times,
    "findings": findings,
    "sources": sources,
}
