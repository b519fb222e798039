"""Cautions: rules, as data, over what is true at a step. A situation is a set of tags, each told from the record."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from functools import lru_cache

from attrs import evolve, frozen

from oddbolt.core.reference.joint_kinds import ids_where
from oddbolt.core.reference.tables import table
from oddbolt.core.safety.contents import contents, label, tells
from oddbolt.core.safety.preflight import DONE, OVER, preflight
from oddbolt.core.study import Step, Study
from oddbolt.core.study.formatting import the
from oddbolt.core.study.step_methods import doing

#: the rule of what the analyst noted at a step
NOTED = "noted"
#: the rule of screws that are not all back, which says nothing of a route out
UNCLOSED = "screw count does not close"


@frozen
class Caution:
    """What to mind, in words; the rule that said so, its rank (0 first) and its source."""

    rule: str
    rank: int
    text: str
    source: str
    verified: bool


@frozen
class Situation:
    """What is true at a step: tags, and the names that fill the words of rules."""

    tags: frozenset[str]
    names: dict[str, str]


@lru_cache(maxsize=16)
def cautions(study: Study, step_id: str) -> tuple[Caution, ...]:
    """What to mind at a step, most urgent first; each rule once. What the analyst noted at the step goes with it."""
    if step_id not in study.steps:
        return ()
    now = situation(study, step_id)
    found = []
    for row in table("cautions")["rule"]:
        if now.tags.issuperset(row["when"]) and now.tags.isdisjoint(row.get("unless", ())):
            text = re.sub(r"\{([\w ]+)\}", lambda m: now.names.get(m[1], m[1]), row["text"])
            found.append(Caution(row["id"], row["rank"], text[:1].upper() + text[1:], row["source"], row["verified"]))
    said = [Caution(NOTED, 20, text, "noted at this step", True) for text in study.steps[step_id].cautions]
    return tuple(sorted([*found, *said], key=lambda c: c.rank))


def cautions_along(study: Study, steps: Sequence[str]) -> dict[str, tuple[Caution, ...]]:
    """What to mind at each of these steps, done in this order and no others; each caution where it comes up first."""
    done = evolve(study, steps={id: study.steps[id] for id in steps})
    seen: set[str] = set()
    out = {}
    for id in steps:
        fresh = [c for c in cautions(done, id) if c.text not in seen and c.rule != UNCLOSED]
        seen |= {c.text for c in fresh}
        out[id] = tuple(fresh)
    return out


def situation(study: Study, step_id: str) -> Situation:
    """The tags of a step: of what it does, of what was done before it, and of what the device still holds."""
    order = list(study.steps)
    at = order.index(step_id)
    before, step = [study.steps[s] for s in order[:at]], study.steps[step_id]
    inside = contents(study)
    tags = {name for name in inside if name in ("mains", "capacitor", "magnet")}
    names: dict[str, str] = {name: the(study.name(ids[0])) if ids else label(name) for name, ids in inside.items()}
    _work(study, step, tags)
    _lately(study, before, tags, names)
    _near(study, step, tags, names)
    _power(study, before, step, tags, names)
    _counts(study, [*before, step], tags, names)
    _checks(study, tags, names)
    cells = inside.get("cell")
    if cells is not None:
        out = {p for s in before for p in s.takes_out} if step.phase == "apart" else set()
        still = [p for p in cells if p not in out and not out.intersection(study.carriers(p))]
        if still or not cells:
            tags.add("cell in place")
            if still and "cell held" not in tags and "cell near" not in tags:
                names["cell"] = the(study.name(still[0]))
    return Situation(frozenset(tags), names)


def _work(study: Study, step: Step, tags: set[str]) -> None:
    for what in doing(study, step):
        tags.add(f"{what} now")
    if any(study.joints[j].kind in ids_where("plug") for j in step.releases) and step.phase == "apart":
        tags.add("opens connector")
    if step.isolates_power:
        tags.add("isolates")
    if step.releases or step.takes_out or step.opens or step.softens:
        tags.add("touches")
    if step.phase == "back":
        tags.add("back")


def _lately(study: Study, before: list[Step], tags: set[str], names: dict[str, str]) -> None:
    """Heat or solvent within the same span of work, unless a wait for drying or cooling was recorded since."""
    dried = {w.step for w in study.waits.values() if w.kind in ("dry off", "cool down")}
    for ago, step in enumerate(reversed(before[-int(table("cautions")["span_steps"]) :]), 1):
        for what in doing(study, step) & {"heat", "solvent"}:
            if f"{what} lately" not in tags:
                tags.add(f"{what} lately")
                names["ago"] = str(ago)
        if step.id in dried:
            return


def _near(study: Study, step: Step, tags: set[str], names: dict[str, str]) -> None:
    """What the step's own joints and parts are, and what lies next to them by the facts."""
    joints = [study.joints[j] for j in (*step.releases, *step.softens)]
    held = {*step.takes_out, *step.opens, *(p for j in joints for p in j.holds)}
    beside = {j.into for j in joints if j.into} | held
    touched = beside | {j.id for j in joints}
    for fact in study.facts.values():
        if fact.state == "ruled out":
            continue
        if fact.under in touched:
            beside.add(fact.over)
        elif fact.over in held and fact.under in study.parts:
            beside.add(fact.under)
    for name in table("contents")["content"]:
        for parts, tag in ((beside, "near"), (held, "held")):
            of = _first(study, name, parts)
            if of:
                tags.add(f"{name} {tag}")
                names[name] = the(study.name(of))


def _first(study: Study, content: str, parts: Iterable[str]) -> str:
    return next((p for p in study.parts if p in parts and tells(content, study.parts[p])), "")


def _power(study: Study, before: list[Step], step: Step, tags: set[str], names: dict[str, str]) -> None:
    live = True
    for done in before:
        if done.isolates_power:
            live = done.phase == "back"
    if live:
        tags.add("power live")
    plugs = [j for j in step.releases if study.joints[j].kind in ids_where("plug")]
    if plugs:
        names["joint"] = the(study.name(plugs[0]))


def _counts(study: Study, upto: list[Step], tags: set[str], names: dict[str, str]) -> None:
    out: dict[str, int] = {}
    back: dict[str, int] = {}
    for step in upto:
        for id in step.releases:
            joint = study.joints[id]
            if joint.kind not in ids_where("threaded"):
                continue
            if joint.count is None:
                tags.add("count open")
                names.setdefault("group", the(study.name(id)))
            (out if step.phase == "apart" else back)[id] = joint.count or 0
    missing = sum(n for id, n in out.items() if id not in back)
    if missing and upto[-1].id == next(reversed(study.steps)):
        tags.add("count differs")
        names["missing"] = str(missing)


def _checks(study: Study, tags: set[str], names: dict[str, str]) -> None:
    lines = {line.rule: line for line in preflight(study)}
    if "mains" in lines and lines["mains"].state != DONE:
        tags.add("mains open")
    if "bled" in lines and lines["bled"].state != DONE:
        tags.add("not bled")
    charge = lines.get("charge")
    if charge is not None:
        reading = charge.check.reading if charge.check else None
        tags |= {"charge not read"} if reading is None else {"charge high"} if charge.state == OVER else set()
        names["charge"] = "" if reading is None else f"{reading:g}"
    swollen = re.compile(r"\b(?<!not )(?<!no )(?:swollen|swelling|bulg\w+|puffed|puffy)\b", re.IGNORECASE)
    cells = contents(study).get("cell", ())
    kinds = ("damage", "complaint", "caution", "note")
    told = [f.text for f in study.findings.values() if f.about in cells and f.kind in kinds]
    told += [c.note for c in study.checks.values() if c.rule == "swollen"]
    if any(swollen.search(text) for text in told):
        tags.add("cell swollen")
