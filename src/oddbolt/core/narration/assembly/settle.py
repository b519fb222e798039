"""What the network understood and what the rules read, settled into one reading.

The acts come from the network; a step that the rules read as well is surer, and gives what the network does not look
for (tool, agent, latch, thread …). A step that only one of them read is less sure; below a line it is doubt.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any

import numpy as np
from attrs import evolve

from oddbolt.core.narration.assembly.steps import assembled
from oddbolt.core.narration.assembly.utterance import Utterance
from oddbolt.core.narration.draft import DraftStep, Reading
from oddbolt.core.narration.memory import Memory
from oddbolt.core.narration.understanding import Understood

#: verbs of the rules -> acts of the network that mean the same
ACT_OF = {
    "take out": ("out", "pry", "peel"),
    "unscrew": ("unscrew", "loosen"),
    "release": ("loosen", "unclip", "open"),
    "peel": ("peel", "out"),
    "unclip": ("unclip",),
    "disconnect": ("disconnect",),
    "desolder": ("desolder",),
    "cut": ("cut",),
    "drill": ("drill",),
    "soften": ("soften",),
    "pry": ("pry", "out"),
    "fold": ("fold", "open", "turn"),
    "place": ("place",),
    "connect": ("connect",),
    "fasten": ("fasten",),
    "apply": ("stick",),
    "press": ("roll", "place"),
    "prepare": ("isolate", "wait", "bleed", "check"),
}
#: verb of a step -> its act, where they are called differently
VERB_ACTS = {"take out": "out", "prepare": "isolate", "apply": "stick", "press": "roll"}
BACK_VERBS = ("place", "fasten", "connect", "apply", "press")
ON_A_PART = ("take out", "pry", "peel", "fold", "release", "place")
#: a step that only the rules read stands if the network finds its act at least this likely
RULES_ALONE = 0.5
#: a step that only the network found, in a sentence that amends a step or tells a route to the rules, must be this sure
LEAST_BESIDE_RULES = 0.85
#: what the rules give to a step that the network found, where it has nothing
FILLED = tuple("under tool agent over thread finish head torque_ncm dwell_s reuse latch place length_mm".split())
#: figures of the rules that stand against the network's
FIGURES = (*FILLED, *"parts count drive size variant joint".split())
NOTHING = (None, "", (), "unknown")
FLAGS = ("ordered", "mixed", "keep_apart", "isolates_power")
#: sureness -> share of drafts that were right, of stories that the network had not seen (190 drafts)
SURE = (0.0, 0.5, 0.75, 0.85, 0.925, 0.975, 1.0)
RIGHT = (0.3, 0.5, 0.58, 0.67, 0.8, 0.86, 0.92)
#: below this share a step is doubtful
DOUBTFUL = 0.8


def settled(work: Utterance, heard: Understood, by_rules: Reading, after_rules: Memory) -> Reading:
    """One reading from two. The memory of ``work`` is the memory after it."""
    before_phase = work.memory.phase
    known = {p.lower() for p in (*work.memory.parts, *work.spoken)}
    assembled(work, heard)
    rules, used = list(by_rules.steps), set[str]()
    pairs = _in_order(work.steps, rules)
    joined = [_joined(step, rules, used, pairs.get(step.ref), known) for step in work.steps]
    least = LEAST_BESIDE_RULES if by_rules.amends or by_rules.routes else 0.0
    steps = [new for new, old in zip(joined, work.steps, strict=True) if new is not old or old.sure >= least]
    steps += _by_rules_alone([r for r in rules if r.ref not in used], work.steps, heard)
    steps = _softened_first(steps)
    alone = {new.ref for new, old in zip(joined, work.steps, strict=True) if new is old}
    steps = [_doubted(step, step.ref in alone) for step in steps]
    memory = work.memory
    memory.out.update(p.lower() for s in steps if s.action in ("take out", "pry", "peel") for p in s.parts)
    memory.counter = max(memory.counter, after_rules.counter)
    memory.steps.extend(steps)
    driven = [s for s in steps if s.action == "unscrew" and s.drive not in NOTHING]
    if driven:
        memory.drive = (driven[-1].drive, driven[-1].size)
    memory.only_mentioned, memory.variants = after_rules.only_mentioned, after_rules.variants
    memory.last_text = after_rules.last_text
    if by_rules.phase and after_rules.phase != before_phase:
        memory.phase = after_rules.phase
    remark = max(("hypothetical", "announce"), key=heard.holds)
    memory.before = remark if heard.holds(remark) > 0.5 and not steps else ""
    reading = _reading(work, steps, by_rules, heard)
    for amended in reading.amends:
        memory.steps = [evolve(amended, corrects=()) if s.ref == amended.ref else s for s in memory.steps]
    return reading


def _in_order(steps: Sequence[DraftStep], rules: Sequence[DraftStep]) -> dict[str, DraftStep]:
    """ref of a step -> the step of the rules beside it, for acts that both found equally often."""
    out: dict[str, DraftStep] = {}
    for act in {VERB_ACTS.get(s.action, s.action) for s in steps}:
        mine = [s for s in steps if VERB_ACTS.get(s.action, s.action) == act]
        theirs = [r for r in rules if act in ACT_OF.get(r.action, ())]
        if len(mine) == len(theirs):
            out |= {m.ref: t for m, t in zip(mine, theirs, strict=True)}
    return out


def _softened_first(steps: list[DraftStep]) -> list[DraftStep]:
    """Glue is softened before what it holds is pried or taken out, however it was told."""
    out = list(steps)
    for soft in [s for s in steps if s.action == "soften"]:
        at = out.index(soft)
        before = [
            n for n, s in enumerate(out[:at]) if s.action in ("pry", "take out") and set(s.parts) & set(soft.parts)
        ]
        if before:
            out.insert(before[0], out.pop(at))
    return out


def _by_rules_alone(rules: Sequence[DraftStep], found: Sequence[DraftStep], heard: Understood) -> list[DraftStep]:
    """Steps that only the rules read, where the network does not speak against them."""
    parts = {p.lower() for s in found for p in s.parts}
    acts = {VERB_ACTS.get(s.action, s.action) for s in found}
    out = []
    for left in rules:
        mean = ACT_OF.get(left.action, ())
        likely = max((heard.holds(a) for a in mean), default=0.0)
        about_the_same = left.action in ON_A_PART and parts & {p.lower() for p in left.parts}
        if about_the_same or acts & set(mean) or (likely < RULES_ALONE and left.action != "prepare"):
            continue
        phase = left.phase if left.action in BACK_VERBS else ""
        out.append(evolve(left, phase=phase, sure=round(0.4 + 0.4 * likely, 3)))
    return out


def _reading(work: Utterance, steps: Sequence[DraftStep], by_rules: Reading, heard: Understood) -> Reading:
    amends = tuple(work.amends)
    if not amends and not steps:
        amends = tuple(_corrects(a, work.memory) for a in by_rules.amends)
    figures = {"measure", "weigh", "spec"}
    findings = list(work.notes)
    if not figures & {n.kind for n in findings} and sum(map(heard.holds, figures)) > 0.3:
        findings += [f for f in by_rules.findings if f.kind == "spec"]
    cautions = tuple(work.cautions) or tuple(c for c in by_rules.cautions if heard.holds("caution") > 0.3)
    aside = None if steps else work.asides[0] if work.asides else by_rules.aside
    return Reading(
        text=work.text,
        steps=tuple(steps),
        amends=amends,
        cautions=cautions,
        findings=tuple(findings),
        renew=tuple(dict.fromkeys(work.renew)),
        routes=by_rules.routes,
        unknown=by_rules.unknown,
        phase=by_rules.phase,
        aside=aside,
        asides=tuple(work.asides),
    )


CORRECTED = ("count", "drive", "size", "length_mm", "torque_ncm")


def _corrects(amended: DraftStep, memory: Memory) -> DraftStep:
    """An amendment by the rules, with the fields that it puts right."""
    before = next((s for s in memory.steps if s.ref == amended.ref), amended)
    changed = tuple(f for f in CORRECTED if getattr(before, f) != getattr(amended, f))
    return evolve(amended, corrects=changed)


def _joined(
    step: DraftStep, rules: list[DraftStep], used: set[str], partner: DraftStep | None, known: set[str]
) -> DraftStep:
    """What both read of one act. The rules' own figures stand where they have them, the network's fill the gaps; of a
    step on several parts the network's steps each take their own part."""
    act = VERB_ACTS.get(step.action, step.action)
    fits = [r for r in rules if act in ACT_OF.get(r.action, ()) and (r.ref not in used or len(r.parts) > 1)]
    best = next((r for r in fits if _about_same(step, r)), None)
    beside = best is None and partner is not None and partner.ref not in used
    if beside:
        best = partner
    if best is None:
        return step
    shared = len(best.parts) > 1 and len(step.parts) == 1
    first = best.ref not in used
    used.add(best.ref)
    sure = round(step.sure + (1 - step.sure) * 0.5, 3)
    names = [f for f in FIGURES if not (shared and f in ("parts", "count"))]
    if beside and step.parts and not (_known(best.parts, known) and not _known(step.parts, known)):
        names = [f for f in names if f != "parts"]
    changes: dict[str, Any] = {f: getattr(best, f) for f in names if getattr(best, f) not in NOTHING}
    if step.joint not in ("", best.joint):
        changes = {f: v for f, v in changes.items() if not getattr(step, f) and f in FILLED}
    changes |= {flag: True for flag in FLAGS if getattr(best, flag)}
    if step.action == "prepare" and first:
        changes |= {"parts": best.parts, "note": best.note}
    if best.doubt and not step.doubt:
        changes["doubt"] = best.doubt
    told = [p for p in best.pieces if p.field in changes and p.end]
    mine = [p for p in step.pieces if p.field not in changes or p.field == "action" or not told]
    return evolve(step, **changes, pieces=(*mine, *told), sure=sure)


def _known(parts: tuple[str, ...], known: set[str]) -> bool:
    """Whether the first of some parts was spoken of before."""
    return bool(parts) and parts[0].lower() in known


def _about_same(step: DraftStep, other: DraftStep) -> bool:
    alike = step.joint == other.joint and step.count == other.count
    if not step.parts or not other.parts:
        return step.count == other.count or step.joint == other.joint
    mine, theirs = ({_last(p) for p in s.parts} for s in (step, other))
    return bool(mine & theirs) or (bool(step.joint) and alike)


def _last(name: str) -> str:
    return re.sub(r"s$", "", name.lower().split()[-1]) if name.split() else ""


def _doubted(step: DraftStep, alone: bool) -> DraftStep:
    """The step with a sureness that means a share, and with a doubt where that is low. Power that only the network
    heard being cut, and not surely, is not taken as cut."""
    right = round(float(np.interp(step.sure, SURE, RIGHT)), 2)
    if right >= DOUBTFUL:
        return evolve(step, sure=right)
    doubt = "not sure of this reading"
    if alone and step.isolates_power:
        return evolve(step, sure=right, isolates_power=False, doubt="is the power cut? not taken as cut")
    return evolve(step, sure=right, doubt=step.doubt or doubt)
