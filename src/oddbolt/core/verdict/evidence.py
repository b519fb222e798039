"""What the schemes ask of the record beside steps and times: classes of fasteners, tools, skill and working
environment.

Each answer says where it comes from. What nobody recorded is given by a default, with the best and the worst that it
may be; a scheme reckons with all three."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from functools import cache, lru_cache

from attrs import frozen

from oddbolt.core.reach import Route
from oddbolt.core.reference.tables import table
from oddbolt.core.study import Joint, Step, Study
from oddbolt.core.study.model import FASTENERS, PLACES, SKILLS

#: classes in their order, the best first
FASTENER_ORDER, SKILL_ORDER, PLACE_ORDER = FASTENERS[1:], SKILLS[1:], PLACES[1:]
HEAT = re.compile(r"\b(heat|hot|warm|dryer|iron|plate|preheater)\b", re.IGNORECASE)
SOLVENT = re.compile(r"\b(solvent|isopropanol|alcohol|acetone|dropper|syringe|remover)\b", re.IGNORECASE)
CUTTING = re.compile(r"\b(cut|saw|drill|grind|rotary)\w*\b", re.IGNORECASE)


@frozen
class Told:
    """A class: the ``best`` it may be, the ``likely`` one and the ``worst``; ``basis`` is "recorded", "table" or
    "assumed"; ``about`` is the id or the tool that it is of."""

    about: str
    best: str
    likely: str
    worst: str
    basis: str

    @property
    def sure(self) -> bool:
        """Whether it is one class."""
        return self.best == self.worst


def fastener(study: Study, joint: Joint) -> Told:
    """The class of what a joint holds by: reusable, resupplied with the spare part, removable without damage or residue
    that stops reassembly, or neither."""
    if joint.fastener:
        return Told(joint.id, joint.fastener, joint.fastener, joint.fastener, "recorded")
    if any(joint.id in s.releases and s.destroys for s in study.steps.values()):
        return Told(joint.id, "neither", "neither", "neither", "recorded")
    if joint.kind == "rivet":
        return Told(joint.id, "neither", "neither", "neither", "assumed")
    if joint.kind in ("adhesive", "tape"):
        best, likely = ("resupplied", "removable") if joint.tab or joint.kind == "tape" else ("removable", "removable")
        return Told(joint.id, best, likely, "removable" if joint.tab else "neither", "assumed")
    if joint.kind == "solder":
        return Told(joint.id, "removable", "removable", "neither", "assumed")
    if joint.reuse == "renew":
        return Told(joint.id, "resupplied", "removable", "removable", "assumed")
    if joint.kind == "other":
        return Told(joint.id, "reusable", "removable", "neither", "assumed")
    worst = "removable" if joint.kind == "clip" and joint.reuse == "" else "reusable"
    return Told(joint.id, "reusable", "reusable", worst, "assumed" if worst != "reusable" else "table")


def tool_order() -> tuple[str, ...]:
    """The classes of tools, the best first."""
    return tuple(table("tool_classes")["order"])


@cache
def _tool_words() -> tuple[tuple[str, str], ...]:
    rows = [(word.lower(), of) for of, words in table("tool_classes")["words"].items() for word in words]
    return tuple(sorted(rows, key=lambda row: -len(row[0])))


@lru_cache(maxsize=64)
def own_classes(typed: str) -> tuple[tuple[str, str], ...]:
    """The user's own classes of tools: "pick = supplied with part; puller = proprietary". What is no class is left out;
    see :func:`unknown_classes`."""
    rows = (row.partition("=") for row in re.split(r"[;\n]", typed) if "=" in row)
    told = ((tool.strip().lower(), of.strip().lower()) for tool, _, of in rows)
    return tuple((tool, of) for tool, of in told if tool and of in tool_order())


def unknown_classes(typed: str) -> list[str]:
    """What of the user's own classes of tools is not understood."""
    rows = [row.strip() for row in re.split(r"[;\n]", typed) if row.strip()]
    known = {tool for tool, _ in own_classes(typed)}
    return [row for row in rows if row.partition("=")[0].strip().lower() not in known]


def tool(study: Study, name: str) -> Told:
    """The class of a tool; of several at once ("card + tweezers") the worst."""
    pieces = [piece for piece in re.split(r"\s*[+&]\s*|\s+and\s+", name) if piece] or ["hand"]
    told = [_one_tool(study, piece) for piece in pieces]
    order = tool_order()
    best, likely, worst = (
        max((getattr(t, which) for t in told), key=order.index) for which in ("best", "likely", "worst")
    )
    return Told(
        name or "hand", best, likely, worst, "assumed" if any(t.basis == "assumed" for t in told) else told[0].basis
    )


def _one_tool(study: Study, name: str) -> Told:
    low = name.lower()
    for word, of in sorted(own_classes(study.device.tools), key=lambda row: -len(row[0])):
        if re.search(rf"(?<!\w){re.escape(word)}(?!\w)", low):
            return Told(name, of, of, of, "recorded")
    for word, of in _tool_words():
        if re.search(rf"(?<![a-z]){re.escape(word)}(?:\d|\b)", low):
            return Told(name, of, of, of, "table")
    return Told(name, "basic", "commercial", "proprietary", "assumed")


def skill(study: Study, step: Step) -> Told:
    """Who can do a step."""
    if step.skill:
        return Told(step.id, step.skill, step.skill, step.skill, "recorded")
    joints = [study.joints[j] for j in (*step.releases, *step.softens)]
    if any(j.kind in ("solder", "rivet") for j in joints) or step.destroys:
        return Told(step.id, "generalist", "expert", "expert", "assumed")
    if step.softens or HEAT.search(step.tool) or any(j.kind in ("adhesive", "coax") for j in joints) or step.cautions:
        return Told(step.id, "layman", "generalist", "expert", "assumed")
    return Told(step.id, "layman", "layman", "generalist", "assumed")


def environment(study: Study, step: Step) -> Told:
    """Where a step can be done."""
    if step.where:
        return Told(step.id, step.where, step.where, step.where, "recorded")
    joints = [study.joints[j] for j in (*step.releases, *step.softens)]
    if HEAT.search(step.tool) or SOLVENT.search(step.tool) or any(j.kind in ("solder", "rivet") for j in joints):
        return Told(step.id, "use", "workshop", "workshop", "assumed")
    return Told(step.id, "use", "use", "workshop" if step.softens else "use", "assumed")


def worst_of(told: Iterable[Told], order: Sequence[str], nothing: str) -> Told:
    """The worst class of several, for each of best, likely and worst; ``nothing`` where there are none. ``about`` is
    what brings the likely one about."""
    rows = list(told)
    if not rows:
        return Told("", nothing, nothing, nothing, "recorded")
    best, likely, worst = (
        max((getattr(t, which) for t in rows), key=order.index) for which in ("best", "likely", "worst")
    )
    cause = next(t.about for t in rows if t.likely == likely)
    return Told(cause, best, likely, worst, "assumed" if any(t.basis == "assumed" for t in rows) else "recorded")


def class_of_route(study: Study, measure: str, route: Route) -> Told:
    """The worst class on a route, of "fastener", "tool", "skill" or "environment"."""
    steps = [study.steps[s] for s in route.steps]
    joints = [study.joints[j] for j in dict.fromkeys(j for s in steps for j in s.releases)]
    if measure == "fastener":
        return worst_of((fastener(study, j) for j in joints), FASTENER_ORDER, "reusable")
    if measure == "tool":
        tools = dict.fromkeys(s.tool for s in steps)
        return worst_of((tool(study, t) for t in tools), tool_order(), "none")
    if measure == "skill":
        return worst_of((skill(study, s) for s in steps), SKILL_ORDER, "layman")
    return worst_of((environment(study, s) for s in steps), PLACE_ORDER, "use")
