"""A drafted step of putting back entered into the record: which of what is out it makes again."""

from __future__ import annotations

import re
from itertools import islice

from attrs import evolve

from oddbolt.core.narration.draft import DraftStep
from oddbolt.core.narration.memory import singular
from oddbolt.core.reference.joint_kinds import ids_where
from oddbolt.core.study import Joint, Step, Study, put
from oddbolt.core.study.tally import outstanding, parts_out

#: what an act of putting back makes again, of what is out
MAKES = {
    "fasten": ids_where("threaded"),
    "connect": ids_where("plug"),
    "press": frozenset({"clip", "press fit", "magnet"}),
    "apply": ids_where("glue"),
}


CLIPS = frozenset({"clip"})
CLIPPED = re.compile(r"\b(clip|snap|click)(s|p?ped|ed)?\b", re.IGNORECASE)
NEW = re.compile(r"\b(new|fresh|replacement)\b", re.IGNORECASE)
ONE_PLUG = re.compile(r"\b(plug|connector|lead|cable|ribbon|flex)\b(?! (in|it|them|all|both|every))", re.IGNORECASE)
MANY = re.compile(r"\b(both|all|every\w*|plugs|connectors|leads|cables|ribbons|flexes|wires)\b", re.IGNORECASE)
#: so many steps after one of putting back it is still likely that things go back
RECENT = 5
SLOTS = frozenset({"slot", "socket", "holder", "bay"})
SAME_WORD = {"pcb": "board"}
#: words for any connector
PLUGS = frozenset({"plug", "connector", "lead", "cable", "wire", "ribbon", "flex"})
#: what is asked where an act makes nothing of what is out
ASKED = {"fasten": "which screws?", "connect": "which connector?", "press": "what was pressed on?"}
#: so many of a group now, the others later
LATER = re.compile(
    r"\b(others?|rest|remaining)\b.*\b(after|later|afterwards|once|when|until|then|last)\b", re.IGNORECASE
)
#: what holds a part as soon as it sits
SEATS = frozenset({"magnet", "press fit"})


def enter_back(study: Study, draft: DraftStep, step: Step, parts: list[str]) -> tuple[Study, str]:
    """Enter a step of putting back that names these parts of the record. Where more than one group fits what was said,
    it is that of the part put in last, else it is asked."""
    if draft.action == "place":
        step = _placed(study, draft, step, tuple(dict.fromkeys(parts)))
    elif draft.action in MAKES:
        step = _made(study, draft, step, parts)
        if draft.torque_ncm and not draft.doubt:
            for id in step.releases[:1]:
                study = put(study, evolve(study.joints[id], torque_ncm=draft.torque_ncm))
    return put(study, step), step.id


def out_part(study: Study, name: str) -> str:
    """The one part that is out, or held by what is undone, whose name holds all these words ("the shield": the shield
    plate); "" if there is none, or more than one."""
    words = {*_words(name)}
    out, gone = outstanding(study), parts_out(study)
    held = {p for j in out for p in study.joints[j].holds}
    same = [p for p in study.parts if words == {*_words(study.parts[p].name)}]
    if same:  # a whole name means no other part, be it out or not
        same = [p for p in same if p in {*gone, *held}]
        return same[0] if len(same) == 1 else ""
    fitting = [p for p in study.parts if p in {*gone, *held} and words <= {*_words(study.parts[p].name)}]
    kept = [p for p in fitting if p in held and p in gone] if len(fitting) > 1 else fitting
    return kept[0] if len(kept) == 1 else ""


def undone_already(study: Study, draft: DraftStep) -> str:
    """What to ask where something is read as undone soon after putting back, and the record says it is undone."""
    recent = islice(reversed(study.steps.values()), RECENT)
    if not draft.joint or all(step.phase != "back" for step in recent):
        return ""
    for joint in (study.joints[j] for j in outstanding(study)):
        if joint.kind == draft.joint and any(_plain(name) <= {*_words(joint.name)} for name in draft.parts):
            return f"{study.name(joint.id)} is undone already: is it back?"
    return ""


def _plain(name: str) -> set[str]:
    """The words of a connector's name without those for any connector, if others are left."""
    words = {*_words(name)}
    return words - PLUGS or words


def _is_new(study: Study, part: str) -> bool:
    """Whether nothing but this sentence speaks of a part, in a record that tells what came out."""
    told = any(step.takes_out for step in study.steps.values())
    return told and not study.parts[part].inside and not any(part in (*j.holds, j.into) for j in study.joints.values())


def _is_slot(study: Study, joint: Joint, parts: tuple[str, ...]) -> bool:
    """Whether a joint is the slot of one of these parts, by its name: "Memory card slot"."""
    words = {*_words(joint.name)}
    return bool(words & SLOTS) and any({*_words(study.parts[p].name)} <= words for p in parts)


def _in_place(study: Study, part: str) -> bool:
    """Whether the record says that a part is where it belongs: something that holds it was never undone, or was made
    again, and neither it nor what carries it was taken out or folded aside."""
    undone = outstanding(study)
    held = any(part in joint.holds for id, joint in study.joints.items() if id not in undone)
    loose = {*parts_out(study), *(p for step in study.steps.values() for p in step.opens)}
    return held and not loose & {part, *study.carriers(part)}


def _words(name: str) -> list[str]:
    words = (singular(word) for word in name.casefold().split())
    return [SAME_WORD.get(word, word) for word in words]


def _placed(study: Study, draft: DraftStep, step: Step, parts: tuple[str, ...]) -> Step:
    """Parts set in: glue, magnets and press fits that hold them are made with them. A new part counts as renewed."""
    kinds = SEATS | ids_where("glue") | (CLIPS if CLIPPED.search(draft.said) else frozenset())
    out = outstanding(study)
    own = (study.joints[j] for j in out if set(parts) & set(study.joints[j].holds))
    seats = tuple(j.id for j in own if j.kind in kinds or _is_slot(study, j, parts))
    glued = tuple(j for j in seats if study.joints[j].kind in ids_where("glue") and study.joints[j].reuse != "reuse")
    new = parts if NEW.search(draft.said) else ()
    for part in parts:
        if not any(part in (*s.takes_out, *s.opens) for s in study.steps.values()) and _is_new(study, part):
            step = _asked(step, f"{study.name(part)} never came out")
        elif _in_place(study, part):
            step = _asked(step, f"{study.name(part)} is not out")
    return evolve(step, puts_in=parts, releases=seats, renews=(*new, *glued))


def _made(study: Study, draft: DraftStep, step: Step, parts: list[str]) -> Step:
    out = outstanding(study)
    kind = [study.joints[j] for j in out if study.joints[j].kind in MAKES[draft.action]]
    said = draft.said.casefold()
    named = [j for j in kind if j.name and j.name.casefold() in said and _fits(study, draft, j, set())]
    if not named and draft.action == "connect":
        alike = [j for j in kind if any(_plain(name) <= {*_words(j.name)} for name in draft.parts)]
        named = alike if len(alike) == 1 else []
    fitting = named or [j for j in kind if _fits(study, draft, j, set(parts))]
    if not fitting and draft.size and draft.size.casefold() not in draft.said.casefold():
        draft = evolve(draft, size="", drive="")  # taken over from the screws before, not said
        fitting = [j for j in kind if _fits(study, draft, j, set(parts))]
    if not fitting and not any(study.parts[p].name.casefold() in draft.said.casefold() for p in parts):
        fitting, parts = [j for j in kind if _fits(study, draft, j, set())], []  # the part was only taken over
    if draft.action == "connect":
        return _plugged(study, draft, step, fitting, bool(parts or named))
    whole = [j for j in fitting if draft.count is None or out[j.id] in (None, draft.count)]
    some = [j for j in fitting if draft.count and (out[j.id] or 0) > draft.count]
    chosen, asked = _one_of(study, whole or some)
    if chosen is None:
        return _asked(step, ASKED.get(draft.action, ""))
    if LATER.search(draft.said):
        asked = "; ".join(filter(None, (asked, "how many are in, and how many are for later?")))
    step = _asked(step, asked)
    count = draft.count if not whole else None
    renews = (chosen.id,) if draft.action == "apply" or draft.reuse == "renew" else ()
    return evolve(step, releases=(chosen.id,), count=count, renews=renews)


def _plugged(study: Study, draft: DraftStep, step: Step, fitting: list[Joint], named: bool) -> Step:
    """The plugs that are made: those named, or of the parts named, so many as were counted."""
    one = ONE_PLUG.search(draft.said)
    if one and not draft.count and len(fitting) > 1:
        fitting = [j for j in fitting if singular(one[1].casefold()) in _words(j.name)]
        named = named and len(fitting) == 1
    if not fitting or (not named and not draft.count):
        return _asked(step, ASKED["connect"])
    count = draft.count or (1 if len(fitting) > 1 and not named else len(fitting))
    if len(fitting) > count:
        chosen, asked = _one_of(study, fitting)
        fitting = [chosen] if count == 1 and chosen is not None else []
        if not fitting:
            return _asked(step, "which connectors?")
        step = _asked(step, asked)
    if len(fitting) > 1 and not draft.count and not MANY.search(draft.said):
        step = _asked(step, f"all {len(fitting)} connectors?")
    made = {j.id for j in fitting}
    live = any(s.isolates_power and made & set(s.releases) for s in study.steps.values() if s.phase == "apart")
    return evolve(step, releases=tuple(made), isolates_power=step.isolates_power or live)


def _asked(step: Step, question: str) -> Step:
    """The step with one more question; an empty one adds nothing."""
    return evolve(step, doubt="; ".join(filter(None, (step.doubt, question))))


def _fits(study: Study, draft: DraftStep, joint: Joint, parts: set[str]) -> bool:
    """Whether this joint is one that the words may mean."""
    if draft.size and joint.size and draft.size != joint.size:
        return False
    if draft.length_mm and joint.length_mm and abs(draft.length_mm - joint.length_mm) > 0.05:
        return False
    if draft.drive not in ("", "unknown") and joint.drive and draft.drive != joint.drive:
        return False
    named = {study.parts[p].name.casefold() for p in parts}
    own = joint.name.casefold()
    return not parts or bool(parts & {*joint.holds, joint.into}) or any(n in own for n in named)


def _one_of(study: Study, fitting: list[Joint]) -> tuple[Joint | None, str]:
    """The one that is meant, and what to ask where that is not sure."""
    if len(fitting) <= 1:
        return (fitting[0] if fitting else None), ""
    last = next((s.puts_in for s in reversed(study.steps.values()) if s.puts_in), ())
    own = [j for j in fitting if set(last) & set(j.holds)]
    if len(own) == 1:
        return own[0], ""
    chosen = (own or fitting)[-1]
    return chosen, f"{study.name(chosen.id)}? {len(own or fitting)} groups fit"
