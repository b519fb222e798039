"""What the network understood and what the rules read, settled into one reading.

The acts come from the network; a step that the rules read as well is surer, and gives what the network does not look
for (tool, agent, latch, thread …). A step that only one of them read is less sure; below a line it is doubt.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any

from attrs import define, evolve, field

from oddbolt.core.narration.assembly import patterns, sureness
from oddbolt.core.narration.assembly.acts import SWITCHED
from oddbolt.core.narration.assembly.continued import GOING_ON, shown
from oddbolt.core.narration.assembly.names import WHICH
from oddbolt.core.narration.assembly.sounds import nouns_of, spoken
from oddbolt.core.narration.assembly.steps import assembled
from oddbolt.core.narration.assembly.story import HOPED
from oddbolt.core.narration.assembly.utterance import Utterance
from oddbolt.core.narration.draft import DraftStep, Reading
from oddbolt.core.narration.memory import Memory
from oddbolt.core.narration.understanding import REMARKS, Understood

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
PREPARED = ("isolate", "bleed")
#: the same for what is done before the work starts, beside other acts or a remark that is this likely
PREPARED_ALONE, REMARKED = 0.1, 0.5
#: a step that only the network found, in a sentence that amends a step or tells a route to the rules, must be this sure
LEAST_BESIDE_RULES = 0.85
#: what the rules give to a step that the network found, where it has nothing
FILLED = tuple("under tool agent over thread finish head torque_ncm dwell_s reuse latch place length_mm".split())
#: figures of the rules that stand against the network's
FIGURES = (*FILLED, *"parts count drive size variant joint".split())
NOTHING = (None, "", (), "unknown")
#: figures whose words the network marked stand before those of the rules where the two found different acts
MARKED = ("parts", "count", "drive", "size", "length_mm")
FLAGS = ("ordered", "mixed", "keep_apart", "isolates_power")
ADVISED = "said after advice: is it done?"
#: below this share a step is doubtful
DOUBTFUL = 0.76


@define
class _Beside:
    """The steps of the rules beside those of the network: ``pairs`` by their order, ``joined`` those that were taken
    for the same act, by ref. ``stands`` names the figures of which the network's come first; ``known`` are parts that
    were spoken of, ``listed`` all words for parts as well."""

    rules: list[DraftStep]
    pairs: dict[str, DraftStep]
    known: set[str]
    listed: frozenset[str]
    stands: tuple[str, ...]
    split: frozenset[str]
    used: set[str] = field(factory=set)
    joined: dict[str, DraftStep] = field(factory=dict)


def _beside(work: Utterance, by_rules: Reading, known: set[str]) -> _Beside:
    rules = list(by_rules.steps)
    pairs = _in_order(work.steps, rules)
    plain = len(pairs) == len(work.steps) == len(rules) and not spoken(work.text)
    stands = () if plain else MARKED
    return _Beside(rules, pairs, known, nouns_of(work.vocabulary) | known, stands, _split(rules, work.steps))


def settled(work: Utterance, heard: Understood, by_rules: Reading, after_rules: Memory) -> Reading:
    """One reading from two. The memory of ``work`` is the memory after it."""
    before_phase = work.memory.phase
    known = {p.lower() for p in (*work.memory.parts, *work.spoken)}
    assembled(work, heard)
    beside = _beside(work, by_rules, known)
    joined = [_joined(step, beside) for step in work.steps]
    least = LEAST_BESIDE_RULES if by_rules.amends or by_rules.routes else 0.0
    steps = [new for new, old in zip(joined, work.steps, strict=True) if new is not old or old.sure >= least]
    steps += _by_rules_alone([r for r in beside.rules if r.ref not in beside.used], work.steps, heard, beside.split)
    steps = _freed_first(work, steps)
    found = {s.ref: s for s in work.steps}
    steps = [
        _doubted(step, sureness.right(work, heard, step, found.get(step.ref), beside.joined.get(step.ref), steps))
        for step in steps
    ]
    steps = _not_yet(work, steps)
    advised = work.memory.before == "hypothetical" and bool(GOING_ON.match(work.text.strip().lower()))
    if advised:
        steps = [evolve(s, doubt=ADVISED, sure=min(s.sure, DOUBTFUL)) for s in steps]
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
    told = heard.holds(remark) > 0.5 and not steps
    memory.shown = shown(work.text, work.vocabulary) if not steps else ""
    memory.before = "hypothetical" if advised else remark if told else ""
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


def _not_yet(work: Utterance, steps: list[DraftStep]) -> list[DraftStep]:
    """Without what only should have come off and did not; what nobody said is done is in doubt."""
    low = work.text.lower()
    hoped = patterns.EXPECTED.search(low)
    if hoped is None:
        return steps
    after = low[hoped.end() :]
    if patterns.DID.search(after):
        return steps
    later = {s.ref for s in steps if hoped.start() < work.stands.get(s.ref, 0) < len(low) or len(steps) == 1}
    if patterns.DID_NOT.search(after):
        return [s for s in steps if s.ref not in later]
    return [evolve(s, doubt=HOPED, sure=min(s.sure, DOUBTFUL)) if s.ref in later else s for s in steps]


def _freed_first(work: Utterance, steps: list[DraftStep]) -> list[DraftStep]:
    """Glue is softened, and fasteners of which only the whole sentence tells are undone, before what they hold is pried
    or taken out, however it was told."""
    out = list(steps)
    end = len(work.text)
    loose = [s for s in steps if s.action in ("unscrew", "unclip") and work.stands.get(s.ref, 0) >= end]
    for free in [*(s for s in steps if s.action == "soften"), *loose]:
        at = out.index(free)
        before = [
            n for n, s in enumerate(out[:at]) if s.action in ("pry", "take out") and set(s.parts) & set(free.parts)
        ]
        if before:
            out.insert(before[0], out.pop(at))
    return out


def _split(rules: Sequence[DraftStep], found: Sequence[DraftStep]) -> frozenset[str]:
    """The acts of which the rules read several groups, each with its count and size, where the network found fewer:
    "3x PH0 and 1x PH1"."""
    out = set()
    for action in ("unscrew", "fasten"):
        groups = [r for r in rules if r.action == action]
        told = all(g.count and g.size for g in groups)
        if told and len(groups) > max(1, sum(1 for s in found if s.action == action)):
            out.add(action)
    return frozenset(out)


def _by_rules_alone(
    rules: Sequence[DraftStep], found: Sequence[DraftStep], heard: Understood, split: frozenset[str]
) -> list[DraftStep]:
    """Steps that only the rules read, where the network does not speak against them. Of the acts of ``split`` the
    rules' groups stand."""
    parts = {p.lower() for s in found for p in s.parts}
    acts = {VERB_ACTS.get(s.action, s.action) for s in found}
    out = []
    for left in rules:
        mean = ACT_OF.get(left.action, ())
        if left.action == "prepare" and found:
            mean = PREPARED
        likely = max((heard.holds(a) for a in mean), default=0.0)
        about_the_same = left.action in ON_A_PART and parts & {p.lower() for p in left.parts}
        least = RULES_ALONE
        if left.action == "prepare":
            least = PREPARED_ALONE if found or max(map(heard.holds, REMARKS)) > REMARKED else 0.0
        if left.action in BACK_VERBS and SWITCHED.search(left.said) and left.parts == ("switch",):
            continue
        apart = left.action in split
        if about_the_same or (acts & set(mean) and not apart) or likely < least:
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


def _joined(step: DraftStep, beside: _Beside) -> DraftStep:
    """What both read of one act. Where both found the same acts, the talk is plain and the figures of the rules stand,
    the network's fill the gaps; else the figures that ``stands`` names are the network's first. Of a step on several
    parts the network's steps each take their own part."""
    act = VERB_ACTS.get(step.action, step.action)
    rules = beside.rules
    fits = [r for r in rules if act in ACT_OF.get(r.action, ()) and (r.ref not in beside.used or len(r.parts) > 1)]
    best = next((r for r in fits if _about_same(step, r)), None)
    partner = beside.pairs.get(step.ref)
    by_order = best is None and partner is not None and partner.ref not in beside.used
    if by_order:
        best = partner
    if best is None:
        return step
    shared = len(best.parts) > 1 and len(step.parts) == 1
    first = best.ref not in beside.used
    beside.used.add(best.ref)
    beside.joined[step.ref] = best
    sure = round(step.sure + (1 - step.sure) * 0.5, 3)
    stands = () if step.action in beside.split else beside.stands
    names = [f for f in FIGURES if not (shared and f in ("parts", "count"))]
    if by_order and step.parts and not (_known(best.parts, beside.known) and not _known(step.parts, beside.known)):
        names = [f for f in names if f != "parts"]
    changes: dict[str, Any] = {f: getattr(best, f) for f in names if getattr(best, f) not in NOTHING}
    if (
        step.parts
        and best.parts
        and _unheard(best.parts[0], beside.listed)
        and not (_unheard(step.parts[0], beside.listed))
    ):
        stands = (*stands, "parts")
    if step.parts and step.parts[0].split()[0].lower() in WHICH and best.parts:
        name = best.parts[0].lower()
        stands = (*stands, "parts") if step.parts[0].lower().endswith(f" {name}") else stands
    if step.action == "fasten" and len(best.parts) > 1 and step.parts:
        stands = (*stands, "parts")  # of a list of parts the one before the screws
    longer = " ".join(best.parts).lower().endswith(f" {' '.join(step.parts)}".lower())
    changes = {
        f: v for f, v in changes.items() if f not in stands or getattr(step, f) in NOTHING or (f == "parts" and longer)
    }
    if step.joint not in ("", best.joint):
        changes = {f: v for f, v in changes.items() if not getattr(step, f) and f in FILLED}
    changes |= {flag: True for flag in FLAGS if getattr(best, flag)}
    if step.action == "prepare" and first:
        changes |= {"parts": best.parts, "note": best.note}
    if best.doubt and not step.doubt:
        changes["doubt"] = best.doubt
    told = [p for p in best.pieces if p.field in changes and p.end]
    unsure = [p for p in step.pieces if p.field == "count" and p.sure < 0.5 and p.value == best.count]
    mine = [p for p in step.pieces if p.field not in changes or p.field == "action" or not told or p in unsure]
    return evolve(step, **changes, pieces=(*mine, *told), sure=sure)


def _unheard(name: str, listed: frozenset[str]) -> bool:
    """Whether the last word of a name is in no list and was not spoken of before."""
    low = name.lower()
    return low not in listed and low.split()[-1] not in listed


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


def _doubted(step: DraftStep, right: float) -> DraftStep:
    """The step with a sureness that means a share, and with a doubt where that is low. Power that was not surely heard
    being cut is not taken as cut."""
    if right >= DOUBTFUL:
        return evolve(step, sure=right)
    if step.isolates_power:
        return evolve(step, sure=right, isolates_power=False, doubt="is the power cut? not taken as cut")
    return evolve(step, sure=right, doubt=step.doubt or "not sure of this reading")
