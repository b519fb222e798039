"""What the network understood and what the rules read, settled into one reading.

The acts come from the network; a step that the rules read as well is surer, and gives what the network does not look
for (tool, agent, latch, thread …). A step that only one of them read is less sure; below a line it is doubt.
"""

from __future__ import annotations

from collections.abc import Sequence

from attrs import evolve

from oddbolt.core.narration.assembly import patterns, sureness
from oddbolt.core.narration.assembly.acts import SWITCHED
from oddbolt.core.narration.assembly.beside import (
    ACT_OF,
    BACK_VERBS,
    NOTHING,
    ON_A_PART,
    VERB_ACTS,
    beside_rules,
    joined,
)
from oddbolt.core.narration.assembly.continued import GOING_ON, lying_over, shown
from oddbolt.core.narration.assembly.names import DETERMINED
from oddbolt.core.narration.assembly.notes import LIKELY, NOTED
from oddbolt.core.narration.assembly.plausible import checked
from oddbolt.core.narration.assembly.steps import assembled
from oddbolt.core.narration.assembly.story import HOPED, SETTLED, SHOWN, announce, called_alike
from oddbolt.core.narration.assembly.tallies import numbers_in, spread_out
from oddbolt.core.narration.assembly.utterance import Utterance
from oddbolt.core.narration.assembly.which_way import tightens
from oddbolt.core.narration.doubts import HOLDING
from oddbolt.core.narration.draft import DraftStep, Reading
from oddbolt.core.narration.memory import Memory
from oddbolt.core.narration.understanding import REMARKS, Understood

#: a step that only the rules read stands if the network finds its act at least this likely
RULES_ALONE = 0.5
PREPARED = ("isolate", "bleed")
TAKES_OUT = ("take out", "pry", "peel")
UNDOES = ("unscrew", "loosen", "unclip", "fasten", "drill")
#: the same for what is done before the work starts, beside other acts or a remark that is this likely
PREPARED_ALONE, REMARKED = 0.1, 0.5
#: a step that only the network found, in a sentence that amends a step or tells a route to the rules, must be this sure
LEAST_BESIDE_RULES = 0.85
ADVISED = "said after advice: is it done?"
NEARLY = "said that it was nearly done, or forgotten: is it done?"
MOVED = "said that it moved a little: is it out?"
LEFT = "said that it stays: is it done?"
UNSURE = "not sure of this reading"
SEVERAL = "one part, or several in a row?"
#: small parts that are no names by themselves
SMALL_PARTS = frozenset("washer washers clip clips nut nuts screw screws ring rings pin pins cap caps".split())
#: so many words for parts in a row, without an article, may be as many parts; half of them are
IN_A_ROW, IN_A_ROW_SHARE = 3, 0.5
#: the share of such fasteners that are undone in the same sentence
SHOWN_SHARE = 0.55
#: below this share a step is doubtful
DOUBTFUL = 0.77
#: below this share it is not drafted: four in five of such drafts were wrong
LEAST_SHARE = 0.3
#: a step of the rules stands, in doubt, where the network heard its act on the same words this surely
FAINT = 0.2
#: but it is, in doubt, if the network is this sure of the act: then it is the part or a figure that is unsure
CERTAIN_ACT = 0.8


def settled(work: Utterance, heard: Understood, by_rules: Reading, after_rules: Memory) -> Reading:
    """One reading from two. The memory of ``work`` is the memory after it."""
    before_phase, gone = work.memory.phase, set(work.memory.out)
    named_before, announced = {p.lower() for p in work.memory.parts}, work.memory.announced
    known = {p.lower() for p in (*work.memory.parts, *work.spoken)}
    assembled(work, heard)
    beside = beside_rules(work, by_rules, known)
    both = [joined(step, beside) for step in work.steps]
    least = LEAST_BESIDE_RULES if by_rules.amends or by_rules.routes else 0.0
    steps = [
        new
        for new, old in zip(both, work.steps, strict=True)
        if new is not old or (old.sure >= least and old.action not in beside.split)
    ]
    put_right = [a for a in work.amends if a.corrects == ("doubt",)]  # settled, not new
    left = [r for r in beside.rules if r.ref not in beside.used]
    left = [r for r in left if not any(a.action == r.action and called_alike(a, r) for a in put_right)]
    steps += _by_rules_alone(left, work.steps, heard, beside.split)
    there = {s.ref for s in steps}
    faint = {s.ref for s in left if s.ref not in there and _heard_faintly(s, work, heard)}
    steps += [s for s in left if s.ref in faint]
    steps = _freed_first([_without_what_hid(s) for s in steps])
    steps = [checked(s, work.text, work.vocabulary) for s in _counted_all_over(work, steps)]
    found = {s.ref: s for s in work.steps}
    looks = [sureness.traits(work, heard, s, found.get(s.ref), beside.joined.get(s.ref), steps) for s in steps]
    sure = [sureness.right(t, s.ref not in found) for t, s in zip(looks, steps, strict=True)]
    sure = [max(p, SETTLED) if s.ref in work.as_announced else p for p, s in zip(sure, steps, strict=True)]
    asked = [sureness.right(sureness.named(t), s.ref not in found) for t, s in zip(looks, steps, strict=True)]
    each = zip(steps, sure, asked, strict=True)
    coded = [s.action in beside.split and s.ref not in found for s in steps]  # groups in shorthand, each with its code
    steps = [
        _doubted(s, right, apart)
        for (s, right, apart), code in zip(each, coded, strict=True)
        if right >= LEAST_SHARE or code or s.ref in faint or (s.ref in found and _certain(found[s.ref], work.text))
    ]
    steps = _in_a_row(work, steps, named_before)
    steps = _only_shown(work, _left_alone(work, _not_yet(work, _not_there(work, _not_only_named(work, steps)))))
    work.memory.out -= _taken_out(work.steps) - _taken_out(steps) - gone
    undone = [any(s.action == "unscrew" for s in some) for some in (work.steps, steps)]
    if undone == [True, False]:  # first taken for done, and not drafted
        work.memory.announced = announced
        if heard.holds("announce") > LIKELY:
            announce(work, heard)
    advised = work.memory.before == "hypothetical" and bool(GOING_ON.match(work.text.strip().lower()))
    if advised:
        steps = [_asked(s, ADVISED) for s in steps]
    _remembered(work, steps, after_rules)
    if by_rules.phase and after_rules.phase != before_phase:
        work.memory.phase = after_rules.phase
    remark = max(("hypothetical", "announce"), key=heard.holds)
    told = heard.holds(remark) > 0.5 and not steps
    work.memory.before = "hypothetical" if advised else remark if told else last_act(steps, work.memory.before)
    if any("dwell_s" in a.corrects for a in work.amends):
        steps = [s for s in steps if s.action != "wait"]  # the time put right is no wait of its own
    reading = _reading(work, steps, by_rules, heard)
    recorded = [n for n in reading.findings if n.kind in NOTED]
    if recorded or steps:
        work.memory.noted = recorded[-1] if recorded and not steps else None
    for amended in reading.amends:
        work.memory.steps = [evolve(amended, corrects=()) if s.ref == amended.ref else s for s in work.memory.steps]
    return reading


def _certain(step: DraftStep, text: str) -> bool:
    """Whether an act is certain, so that only its part or a figure is unsure."""
    return step.sure >= CERTAIN_ACT and (step.action != "fasten" or tightens(text))


def _taken_out(steps: Sequence[DraftStep]) -> set[str]:
    """The names of the parts that come out in some steps."""
    return {p.lower() for s in steps if s.action in TAKES_OUT for p in s.parts}


def last_act(steps: Sequence[DraftStep], before: str = "") -> str:
    """The act that was done last, as the network calls it: of these steps, else the one ``before`` them."""
    if steps:
        return VERB_ACTS.get(steps[-1].action, steps[-1].action)
    return "" if before in REMARKS else before


def _remembered(work: Utterance, steps: Sequence[DraftStep], after_rules: Memory) -> None:
    """Keep in mind what was done and shown for the next sentence."""
    memory = work.memory
    memory.out |= _taken_out(steps)
    memory.counter = max(memory.counter, after_rules.counter)
    memory.steps.extend(steps)
    for step in steps:
        if step.joint in ("", "connector", "coax") and step.parts:
            memory.note_count(step.parts[0], step.count)
    driven = [s for s in steps if s.action == "unscrew" and s.drive not in NOTHING]
    if driven:
        memory.drive = (driven[-1].drive, driven[-1].size)
    memory.only_mentioned, memory.variants = after_rules.only_mentioned, after_rules.variants
    memory.last_text, memory.counts = after_rules.last_text, after_rules.counts
    over = lying_over(work.text, work.vocabulary)
    memory.shown = over or (shown(work.text, work.vocabulary) if not steps else "")


def _not_only_named(work: Utterance, steps: list[DraftStep]) -> list[DraftStep]:
    """Without what a first sentence only names, "Right then, the studio microphone", and without what is told once more
    of the part that came out before: "That just slides out." """
    before = work.memory.steps[-1] if work.memory.steps else None
    if before is not None and before.action == "take out":
        steps = [s for s in steps if s.action != "take out" or s.parts or s.count]
    bare = all(s.action == "take out" and not s.joint for s in steps) and not patterns.DEED.search(work.text.lower())
    return [] if bare and not work.memory.steps else steps


def _not_there(work: Utterance, steps: list[DraftStep]) -> list[DraftStep]:
    """Without what a clause puts off or leaves out, "before removing the lid"; what was not quite done is asked."""
    low = work.text.lower()
    off = [f.span() for f in patterns.NOT_YET_THERE.finditer(low) if not patterns.TO_AND_DONE.match(low, f.start())]
    quite = [found.span() for found in patterns.NOT_QUITE.finditer(low)]

    def within(step: DraftStep, spans: list[tuple[int, int]]) -> bool:
        at = work.stands.get(step.ref, len(low))
        return any(start <= at < end for start, end in spans)

    little = patterns.A_LITTLE.search(low) is not None
    asked = [_asked(s, NEARLY) if within(s, quite) else s for s in steps if not within(s, off)]
    return [_asked(s, MOVED) if little and s.action in ("take out", "place") and not s.doubt else s for s in asked]


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
    return [_asked(s, HOPED) if s.ref in later else s for s in steps]


def _left_alone(work: Utterance, steps: list[DraftStep]) -> list[DraftStep]:
    """What is only described and then left as it is, is in doubt: "it has four screws, I won't open it"."""
    low = work.text.lower()
    if patterns.WAS_NOT.search(low):
        return [_asked(s, LEFT) for s in steps]
    if not (patterns.HAS.search(low) and patterns.LEFT_ALONE.search(low)):
        return steps
    fasteners = ("unscrew", "loosen", "unclip", "disconnect")
    return [_asked(s, LEFT) if s.action in fasteners else s for s in steps]


def _in_a_row(work: Utterance, steps: list[DraftStep], known: set[str]) -> list[DraftStep]:
    """Parts whose name may be those of several without a stop between them are in doubt: "sensor chute handle out"."""
    out = []
    for step in steps:
        name = step.parts[0].lower() if step.parts and not step.joint else ""
        words, at = name.split(), work.text.lower().find(name)
        nouns = len(words) >= IN_A_ROW and all(w in work.vocabulary.nouns or w in SMALL_PARTS for w in words)
        bare = at < 0 or DETERMINED.search(work.text[:at]) is None
        row = nouns and bare and name not in known and not step.doubt
        out.append(evolve(_asked(step, SEVERAL), sure=min(step.sure, IN_A_ROW_SHARE)) if row else step)
    return out


def _only_shown(work: Utterance, steps: list[DraftStep]) -> list[DraftStep]:
    """Fasteners of which it is only said where they are, or what they hold, are in doubt: "the fan has three"."""
    low = work.text.lower()
    if patterns.HELD_BY.search(low) is None or patterns.FREED.search(low):
        return steps
    out = []
    for step in steps:
        shown = step.action in ("unscrew", "unclip", "loosen", "disconnect") and step.doubt in ("", UNSURE)
        out.append(evolve(_asked(step, SHOWN), sure=min(step.sure, SHOWN_SHARE)) if shown else step)
    return out


def _asked(step: DraftStep, why: str) -> DraftStep:
    """The step in doubt, for a reason of its own."""
    return evolve(step, doubt=why, sure=min(step.sure, DOUBTFUL))


def _counted_all_over(work: Utterance, steps: list[DraftStep]) -> list[DraftStep]:
    """The one group of a sentence with the sum of what is told of several places, where only some was counted."""
    told = spread_out(work.text, work.vocabulary)
    groups = [s for s in steps if s.action in ("unscrew", "loosen", "unclip", "disconnect", "fasten")]
    if not told or len(groups) != 1:
        return steps
    whole = sum(told) in numbers_in(work.text, work.vocabulary)
    if not whole and groups[0].count not in (None, *told, sum(told[:2])):
        return steps
    return [evolve(s, count=sum(told)) if s is groups[0] else s for s in steps]


def _without_what_hid(step: DraftStep) -> DraftStep:
    """Fasteners without the part that lay over them: it is not what they hold."""
    over = {u.lower() for u in step.under}
    if step.action not in UNDOES or not over & {p.lower() for p in step.parts}:
        return step
    return evolve(step, parts=tuple(p for p in step.parts if p.lower() not in over))


def _freed_first(steps: list[DraftStep]) -> list[DraftStep]:
    """Glue is softened, and fasteners are undone, before what they hold is pried or taken out, however it was told:
    "I take the cover off, that's three screws"."""
    out = list(steps)
    loose = [s for s in steps if s.action in ("unscrew", "unclip")]
    for free in [*(s for s in steps if s.action == "soften"), *loose]:
        at = out.index(free)
        before = [
            n for n, s in enumerate(out[:at]) if s.action in ("pry", "take out") and set(s.parts) & set(free.parts)
        ]
        if before:
            out.insert(before[0], out.pop(at))
    return out


def _heard_faintly(step: DraftStep, work: Utterance, heard: Understood) -> bool:
    """Whether the network found a step of the rules in their very words, but was not sure enough of it: half of such
    steps are right."""
    if step.action not in ON_A_PART or len(step.parts) != 1:
        return False
    last, acts = step.parts[0].lower().split()[-1:], ACT_OF.get(step.action, ())
    if any(last == p.lower().split()[-1:] for s in work.steps for p in (*s.parts, *s.under)):
        return False
    return any(
        s.label in acts and s.sure >= FAINT and s.words(work.text).lower().split()[-1:] == last for s in heard.spans
    )


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
    amends = tuple(evolve(a, pieces=()) for a in work.amends)  # their words stand in an earlier sentence
    if not amends and not steps:
        amends = tuple(_corrects(a, work.memory) for a in by_rules.amends)
    figures = {"measure", "weigh", "spec"}
    findings = list(work.notes)
    if not figures & {n.kind for n in findings}:
        likely = sum(map(heard.holds, figures)) > 0.3
        findings += [f for f in by_rules.findings if f.kind == "spec" and (likely or f.quantity == "charge")]
    mixed = tuple(c for c in by_rules.cautions if c.kind == "mixed lengths")
    others = tuple(c for c in by_rules.cautions if c not in mixed and heard.holds("caution") > 0.3)
    cautions = mixed or tuple(work.cautions) or others
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


def _doubted(step: DraftStep, right: float, apart: float) -> DraftStep:
    """The step with a sureness that means a share, and with a doubt where that is low; ``apart`` is the share if what
    fasteners hold were known, for that is asked by itself. Power that was not surely heard being cut is not taken as
    cut."""
    if right >= DOUBTFUL or (step.action in HOLDING and apart >= DOUBTFUL):
        return evolve(step, sure=right)
    if step.isolates_power:
        return evolve(step, sure=right, isolates_power=False, doubt="is the power cut? not taken as cut")
    return evolve(step, sure=right, doubt=step.doubt or UNSURE)
