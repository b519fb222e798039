"""Drafts into the record: a reading becomes parts, joints, facts, steps and findings of a study."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from typing import Any

from rapidfuzz import fuzz

from oddbolt.core.narration.assembly.settle import last_act
from oddbolt.core.narration.draft import DraftLog, DraftNote, DraftStep, Reading, ToldClass, evolve
from oddbolt.core.narration.memory import CELLS, Memory, singular
from oddbolt.core.narration.other_part import meant
from oddbolt.core.narration.putting_back import enter_back, out_part, undone_already
from oddbolt.core.reference.joint_kinds import ids_where, joint_kinds, kind_undone_by
from oddbolt.core.study import Fact, Finding, Joint, Lap, Part, Run, Step, Study, new_id, put, remove
from oddbolt.core.study.tally import parts_out

BACK = ("place", "fasten", "connect", "apply", "press", "route", "align")
#: verbs of steps that neither open nor take out anything
BESIDE = ("turn", "wait", "bleed", "clean", "check")
#: acts whose object is told in the step's words and enters no part of its own
NAMELESS = ("prepare", "apply", "press", "route", "align", *BESIDE)
#: faces as they are said -> as the record knows them
FACES = {"underside": "bottom", "belly": "bottom", "base": "bottom", "head": "top", "rear": "back", "left side": "left",
         "right side": "right"}  # fmt: skip
#: A longer gap between two captions is a break or a cut, not the time of a step; in s.
LONGEST_GAP_S = 600.0
#: Times beyond this are no times of a recording; in s.
LONGEST_RECORDING_S = 360_000.0
#: Names at least this alike (0 to 100) mean the same part.
SAME_NAME = 92


def log(study: Study, reading: Reading) -> tuple[Study, tuple[str, ...]]:
    """Enter what one sentence said. Returns the study and the ids of its new steps.

    A joint of which nobody said what it holds is taken to hold the part that comes off next.
    """
    ids = []
    for amended in reading.amends:
        study = _amend(study, amended)
    for step in reading.steps:
        study, id = _enter(study, step)
        ids.append(id)
    last = ids[-1] if ids else next(reversed(study.steps), "") if study.steps else ""
    for caution in reading.cautions:
        if last:
            study = put(study, evolve(study.steps[last], cautions=(*study.steps[last].cautions, _caution(caution))))
    study = _findings(study, reading.findings, last)
    for told in reading.classes:
        study = _classed(study, told, list(study.steps))
    for name in reading.renew:
        study, part = _part(study, name)
        study = put(study, evolve(study.parts[part], reuse="renew"))
    return study, tuple(ids)


def log_draft(study: Study, drafted: DraftLog, recording: str = "") -> Study:
    """Enter a whole drafted narration. ``recording`` names its captions; where the study has times of another one, the
    new steps have none."""
    if recording and study.device.recording not in ("", recording):
        drafted = evolve(drafted, steps=tuple(evolve(s, at_s=None) for s in drafted.steps))
    elif recording:
        study = evolve(study, device=evolve(study.device, recording=recording))
    study, _ = log(study, Reading("", steps=drafted.steps, cautions=(), findings=drafted.findings, renew=drafted.renew))
    steps = [(d, s) for d, s in zip(drafted.steps, list(study.steps)[-len(drafted.steps) :], strict=False)]
    for caution in drafted.cautions:
        before = [s for d, s in steps if (d.at_s or 0) <= (caution.at_s or 0)]
        if before:
            step = study.steps[before[-1]]
            study = put(study, evolve(step, cautions=(*step.cautions, _caution(caution))))
    for told in drafted.classes:
        study = _classed(study, told, [s for d, s in steps if (d.at_s or 0) <= (told.at_s or 0)])
    return study


def log_with_times(study: Study, drafted: DraftLog, recording: str = "") -> Study:
    """Enter a drafted narration with a run of its own: a step takes until the next one was spoken of, as a first
    estimate. A gap of more than ten minutes tells nothing."""
    first = len(study.steps)
    after = log_draft(study, drafted, recording)
    ids = list(after.steps)[first:]
    spoken = [(id, step.at_s) for id, step in zip(ids, drafted.steps, strict=False) if step.at_s is not None]
    laps = []
    for n, (id, at) in enumerate(spoken):
        shares = [other for other in spoken if other[1] == at]
        later = next((t for _, t in spoken[n + 1 :] if t > at), None)
        if later is not None and later - at <= LONGEST_GAP_S:
            laps.append(Lap(id, round((later - at) / len(shares), 1)))
    run = Run(new_id(after, "R"), "discovery", "from captions", tuple(laps))
    return put(after, run) if laps else after


def memory_of(study: Study) -> Memory:
    """The reader's memory as the record tells it, so that a new sitting goes on where the last one stopped."""
    memory = Memory(device=study.device.name)
    for id in list(study.steps)[-6:]:
        memory.steps.append(as_draft(study, id))
    for step in study.steps.values():
        for part in (*step.takes_out, *(p for j in step.releases for p in study.joints[j].holds)):
            memory.note_part(study.parts[part].name)
        memory.out.update(study.parts[p].name.lower() for p in step.takes_out)
    if memory.steps:
        memory.phase = "back" if memory.steps[-1].phase else ""
        memory.before = last_act(memory.steps)
    screws = [s for s in memory.steps if s.joint == "screw" and s.drive not in ("", "unknown")]
    memory.drive = (screws[-1].drive, screws[-1].size) if screws else ("", "")
    memory.counter = len(study.steps)
    return memory


def as_draft(study: Study, step_id: str) -> DraftStep:
    """A recorded step as the reader would have drafted it; its ``ref`` is the step's id."""
    step = study.steps[step_id]
    joint = study.joints[(*step.releases, *step.softens)[0]] if step.releases or step.softens else None
    parts = step.takes_out or (joint.holds if joint else ())
    draft = DraftStep(
        step.verb,
        parts=tuple(study.parts[p].name for p in parts),
        tool=step.tool,
        said=step.said,
        ref=step_id,
        phase="put back" if step.phase == "back" else "",
    )
    if joint is None:
        return draft
    return evolve(
        draft,
        joint=joint.kind,
        count=joint.count,
        drive=joint.drive,
        size=joint.size,
        thread=joint.thread,
        length_mm=joint.length_mm,
        place=joint.place,
        dwell_s=step.wait_s or None,
        mixed=bool(joint.lengths),
        latch=joint.latch,
        reuse=joint.reuse,
    )


def find_part(study: Study, name: str) -> str:
    """The id of the part with this name or one so alike that it must be meant; "" if there is none."""
    low = name.casefold()
    for id, part in study.parts.items():
        if part.name.casefold() == low:
            return id
    if " " not in low:
        one = singular(low)
        tail = [id for id, part in study.parts.items() if singular(part.name) == one]
        if tail:
            return tail[-1]
    scored = [
        (fuzz.ratio(low, part.name.casefold()), id)
        for id, part in study.parts.items()
        if abs(len(part.name) - len(name)) < 3
    ]
    best = max(scored, default=(0.0, ""))
    return best[1] if best[0] >= SAME_NAME else ""


def _part(study: Study, name: str, **fields: Any) -> tuple[Study, str]:
    id = find_part(study, name)
    if id:
        if fields:
            study = put(study, evolve(study.parts[id], **fields))
        return study, id
    id = new_id(study, "P")
    return put(study, Part(id, name[:1].upper() + name[1:], **fields)), id


def _enter(study: Study, draft: DraftStep) -> tuple[Study, str]:
    fields = {"variant": draft.variant} if draft.variant else {}
    parts: list[str] = []
    back = draft.phase == "put back" or draft.action in BACK
    if draft.action not in NAMELESS and not (back and draft.action != "place"):
        for name in draft.parts:
            if back and (short := out_part(study, name)):
                parts.append(short)
                continue
            study, part = _part(study, _instance(study, draft, name), **fields)
            parts.append(part)
    step = Step(
        new_id(study, "S"),
        draft.action,
        said=draft.said,
        tool=_tool(draft),
        isolates_power=draft.isolates_power or _cuts_power(draft),
        destroys=(draft.action == "cut" and draft.joint not in ids_where("glue")) or draft.action == "drill",
        phase="back" if back else "apart",
        note=draft.note or ("loosened only, stays in" if draft.action == "loosen" else ""),
        doubt=draft.unsure(),
        face=next(reversed(study.steps.values())).face if study.steps else "front",
        at_s=draft.at_s if draft.at_s is not None and 0 <= draft.at_s <= LONGEST_RECORDING_S else None,
    )
    if draft.action in BESIDE:
        return _enter_beside(study, draft, step)
    if step.phase == "back":
        known = [id for name in draft.parts if (id := out_part(study, name) or find_part(study, name))]
        return enter_back(study, draft, step, known)
    step = evolve(step, doubt="; ".join(filter(None, (step.doubt, undone_already(study, draft)))))
    joints: list[str] = []
    if draft.action == "pry" or (draft.action == "take out" and not draft.joint):
        joints = _softened(study, parts)
    if not joints and (draft.joint or draft.action in kind_undone_by()) and draft.action != "prepare":
        study, joint = _joint(study, draft, parts)
        joints = [joint]
    gone = {p for s in study.steps.values() for p in s.takes_out}
    out = (
        tuple(p for p in dict.fromkeys(parts) if p not in gone)
        if draft.action in ("take out", "pry", "peel") and draft.joint not in ("magnet", "press fit")
        else ()
    )
    if draft.action == "loosen" and draft.joint and not joints:
        study, joint = _joint(study, draft, parts)
        joints = [joint]
    if draft.action == "soften":
        step = evolve(step, softens=tuple(joints), wait_s=draft.dwell_s or 0.0)
    elif draft.action in ("fold", "open"):
        step = evolve(step, opens=tuple(parts))
    else:
        step = evolve(step, releases=tuple(joints), takes_out=out)
    study = put(study, step)
    if out:
        study = _hold_by(study, out)
    return _facts(study, draft, step), step.id


def _instance(study: Study, draft: DraftStep, name: str) -> str:
    """The name of one more of a kind: "another bracket" where a bracket is out already is the second of its name."""
    known = find_part(study, name)
    if not known or draft.action not in ("take out", "pry", "peel"):
        return name
    more = rf"\b(?:another|one more|a further|a second) (?:\w+ )?{re.escape(name)}\b"
    if not re.search(more, draft.said, re.IGNORECASE):
        return name
    if known not in parts_out(study):
        return name
    names = {p.name.casefold() for p in study.parts.values()}
    return next(f"{name} {n}" for n in range(2, 1000) if f"{name} {n}".casefold() not in names)


def _enter_beside(study: Study, draft: DraftStep, step: Step) -> tuple[Study, str]:
    """A step that only turns, waits, cleans, checks or discharges."""
    if draft.action == "turn":
        face = FACES.get(draft.note, draft.note)
        known = ("front", "back", "left", "right", "top", "bottom")
        step = evolve(step, face=face, note="") if face in known else step
    about = ", ".join(p for p in draft.parts if p.lower() not in draft.said.lower())
    step = evolve(step, wait_s=draft.dwell_s or 0.0, note=step.note or about)
    return put(study, step), step.id


def _cuts_power(draft: DraftStep) -> bool:
    """Whether the plug of a battery is opened: that cuts the power whether or not it is said."""
    names = [p.lower() for p in draft.parts]
    return draft.action == "disconnect" and any(n.split()[-1] in CELLS or n.split()[0] in CELLS for n in names if n)


def _tool(draft: DraftStep) -> str:
    if draft.tool:
        return draft.tool
    if draft.action in ("unscrew", "fasten"):
        return draft.size or (draft.drive if draft.drive != "unknown" else "") or "driver"
    if draft.action == "loosen":
        return draft.size or "driver"
    return {"desolder": "soldering iron", "cut": "cutters", "drill": "drill", "bleed": "resistor"}.get(draft.action, "")


def _joint(study: Study, draft: DraftStep, parts: list[str]) -> tuple[Study, str]:
    kind = draft.joint or kind_undone_by()[draft.action]
    joint = Joint(
        new_id(study, "J"),
        kind,
        holds=tuple(dict.fromkeys(parts)),
        count=draft.count if joint_kinds()[kind].counted else draft.count or 1,
        reuse=draft.reuse,
        place=draft.place,
    )
    if kind in ids_where("threaded"):
        joint = evolve(
            joint,
            drive="" if draft.drive == "unknown" else draft.drive,
            size=draft.size,
            thread=draft.thread,
            length_mm=draft.length_mm,
            lengths="mixed" if draft.mixed else "",
            finish=draft.finish,
            head=draft.head,
        )
    elif "latch" in joint_kinds()[kind].figures:
        joint = evolve(joint, latch=draft.latch)
    return put(study, joint), joint.id


def _softened(study: Study, parts: list[str]) -> list[str]:
    """The glue that holds these parts and was made ready before, not yet released."""
    released = {j for s in study.steps.values() for j in s.releases}
    ready = [j for s in study.steps.values() for j in s.softens if j not in released]
    return [j for j in ready if set(study.joints[j].holds) & set(parts)]


def _hold_by(study: Study, out: tuple[str, ...]) -> Study:
    """Let joints released since the last part came off hold what comes off now, if nobody said what they hold. Where
    that was another sentence it is asked; a part that has fasteners of its own takes none of another sentence."""
    last = next(reversed(study.steps))
    has_its_own = any(set(out) & set(study.joints[j].holds) for s in study.steps.values() for j in s.releases)
    for id in reversed(list(study.steps)[:-1]):
        step = study.steps[id]
        if step.takes_out or step.phase == "back":
            break
        for joint_id in step.releases:
            joint = study.joints[joint_id]
            elsewhere = step.said != study.steps[last].said
            if not joint.holds and joint.kind not in ids_where("plug") and not (elsewhere and has_its_own):
                study = put(study, evolve(joint, holds=out[:1]))
                if elsewhere:
                    asked = f"holds the {study.parts[out[0]].name}?"
                    doubt = "; ".join(filter(None, (study.steps[id].doubt, asked)))
                    study = put(study, evolve(study.steps[id], doubt=doubt))
    return study


def _facts(study: Study, draft: DraftStep, step: Step) -> Study:
    things = (*step.releases, *step.takes_out)[:1]
    for name in draft.under:
        study, above = _part(study, name)
        for thing in things:
            joint = study.joints.get(thing)
            if above != thing and not (joint and above in joint.holds):
                study = put(study, Fact(new_id(study, "F"), above, thing, "seen", step.id))
    return study


def _amend(study: Study, draft: DraftStep) -> Study:
    """Change a recorded step as a later sentence said."""
    step = study.steps.get(draft.ref)
    if step is None:
        return study
    if draft.isolates_power and not step.isolates_power:
        study = put(study, evolve(step, isolates_power=True))
    if draft.dwell_s and not step.wait_s:
        study = put(study, evolve(study.steps[draft.ref], wait_s=draft.dwell_s))
    if draft.corrects:
        return _correct(study, draft, step)
    for joint_id in step.releases[:1]:
        joint = study.joints[joint_id]
        changes: dict[str, Any] = {}
        if joint.kind == "screw":
            drive = "" if draft.drive == "unknown" else draft.drive
            values = {
                "drive": drive,
                "size": draft.size,
                "thread": draft.thread,
                "length_mm": draft.length_mm,
                "finish": draft.finish,
            }
            changes |= {k: v for k, v in values.items() if v and not getattr(joint, k)}
            if draft.mixed and not joint.lengths:
                changes["lengths"] = "mixed"
        if draft.count and joint.count is None:
            changes["count"] = draft.count
        if draft.reuse and draft.reuse != joint.reuse:
            changes["reuse"] = draft.reuse
        if draft.parts and not joint.holds:
            ids = []
            for name in draft.parts:
                study, id = _part(study, name)
                ids.append(id)
            changes["holds"] = tuple(ids)
        if changes:
            study = put(study, evolve(joint, **changes))
    if draft.reuse and not step.releases:
        for part in step.takes_out:
            study = put(study, evolve(study.parts[part], reuse=draft.reuse))
    return study


def _correct(study: Study, draft: DraftStep, step: Step) -> Study:
    """Put right what a spoken correction names, whatever stood there."""
    if "doubt" in draft.corrects:
        return put(study, evolve(step, doubt=draft.unsure()))
    if "dwell_s" in draft.corrects:
        study = put(study, evolve(study.steps[step.id], wait_s=draft.dwell_s or 0.0))
    fields = {"count": "count", "length_mm": "length_mm", "torque_ncm": "torque_ncm", "place": "place"}
    for joint_id in (*step.releases, *step.softens)[:1]:
        joint = study.joints[joint_id]
        changes: dict[str, Any] = {fields[f]: getattr(draft, f) for f in draft.corrects if f in fields}
        if joint.kind in ids_where("threaded"):
            changes |= {f: getattr(draft, f) for f in ("drive", "size") if f in draft.corrects}
        else:
            changes = {k: v for k, v in changes.items() if k in ("count", "place")}
            if "latch" in draft.corrects and "latch" in joint_kinds()[joint.kind].figures:
                changes["latch"] = draft.latch
        study = put(study, evolve(joint, **changes))
        if {"drive", "size"} & set(draft.corrects) and step.phase != "back":
            study = put(study, evolve(study.steps[step.id], tool=_tool(evolve(draft, tool="")), doubt=""))
    if "parts" in draft.corrects:
        return meant(study, study.steps[step.id], draft.parts[0], find_part(study, draft.parts[0]))
    for name in draft.under if "under" in draft.corrects else ():
        study, above = _part(study, name)
        for joint_id in step.releases[:1]:
            study = put(study, Fact(new_id(study, "F"), above, joint_id, "seen", step.id))
    return study


#: how far back a joint may lie of which a sentence only names the kind, in steps
BACK_STEPS = 6


def _classed(study: Study, told: ToldClass, before: Sequence[str]) -> Study:
    """Keep a class for judging with the joint, step or part that it was said of, where nothing stands there; what finds
    no such thing becomes a note. ``before`` are the steps until then."""
    if told.field == "role":
        part = find_part(study, told.part)
        if part and not study.parts[part].role:
            return put(study, evolve(study.parts[part], role=told.value))
    elif told.field == "fastener":
        if joint := _joint_of(study, told.kinds, before):
            return put(study, evolve(study.joints[joint], fastener=told.value))
    elif before and not getattr(step := study.steps[before[-1]], told.field):
        kept = evolve(step, skill=told.value) if told.field == "skill" else evolve(step, where=told.value)
        return put(study, kept)
    if any(told.text.casefold() in f.text.casefold() for f in study.findings.values()):
        return study
    return put(study, Finding(new_id(study, "N"), "note", told.text))


def _joint_of(study: Study, kinds: Sequence[str], before: Sequence[str]) -> str:
    """The last joint of these kinds that has no class yet; of no kinds, the one joint of the last step. "" for none."""
    for step in reversed(before[-BACK_STEPS:] if kinds else before[-1:]):
        here = (*study.steps[step].softens, *study.steps[step].releases)
        joints = [j for j in here if not kinds or study.joints[j].kind in kinds]
        if joints:
            free = [j for j in joints if not study.joints[j].fastener]
            return free[-1] if free and (kinds or len(joints) == 1) else ""
    return ""


#: what was recorded of a part -> the kind of finding it is
NOTED = {"identify": "note", "condition": "note", "measure": "spec", "weigh": "spec", "spec": "spec"}


def _findings(study: Study, notes: Iterable[DraftNote], last: str) -> Study:
    told = {(n.kind, n.text.casefold(), n.about) for n in study.findings.values()}
    for note in notes:
        if note.instead:
            study = _without(study, note)
        kind = NOTED.get(note.kind, note.kind)
        if note.kind in NOTED and note.part and not find_part(study, note.part):
            study, _ = _part(study, note.part)
        about = find_part(study, note.part) if note.part else ""
        if note.kind == "weigh" and about and note.value:
            study = put(study, evolve(study.parts[about], mass_g=note.value))
        if note.kind in ("identify", "condition", "measure") and about:
            study, kept = _told_of(study, about, note)
            if kept:
                continue
        if not about and kind in ABOUT_PARTS:
            about = _part_in(study, note.text)
        if kind in ("damage", "note") and not study.steps:
            kind = "arrival"  # before the first step, what is found is how the device arrived
        unit = note.unit or (f"of {note.out_of:g}" if note.out_of else "")
        about = about or (last if note.kind == "damage" else "")
        same = (kind, note.text.casefold(), about)
        if same in told:
            continue  # one sentence, one finding
        told.add(same)
        study = put(
            study,
            Finding(
                new_id(study, "N"),
                kind,
                note.text,
                about,
                note.value,
                unit,
            ),
        )
    return study


def _without(study: Study, note: DraftNote) -> Study:
    """The record without what a note puts right: the finding of that sentence, and the marking or package that it told
    of the part."""
    for id in [id for id, f in study.findings.items() if f.text.casefold() == note.instead.casefold()][-1:]:
        study = remove(study, id)
    about = find_part(study, note.part) if note.part else ""
    if about and note.was:
        part = study.parts[about]
        package = "" if part.package == note.was else part.package
        markings = tuple(m for m in part.markings if m != note.was)
        study = put(study, evolve(part, package=package, markings=markings))
    return study


#: findings that are about the one part that they name
ABOUT_PARTS = ("damage", "praise", "complaint", "note")


def _part_in(study: Study, text: str) -> str:
    """The one part whose whole name stands in a text; "" for none or several."""
    words = " ".join(re.findall(r"[\w-]+", text.casefold()))
    low = f" {words} "
    found = {p.name.casefold(): id for id, p in study.parts.items() if f" {p.name.casefold()} " in low}
    longest = [name for name in found if not any(name != other and name in other for other in found)]
    return found[longest[0]] if len(longest) == 1 else ""


def _told_of(study: Study, part_id: str, note: DraftNote) -> tuple[Study, bool]:
    """What a sentence says of a part, kept with it where nothing else stands there; and whether anything was.

    A part that is marked already and was only named in part ("the chip", where there is a memory chip) is another one:
    it becomes a part of its own.
    """
    part = study.parts[part_id]
    said = " ".join(w for w in note.part.casefold().split() if w not in ("the", "a", "an", "this", "that"))
    partly = said != part.name.casefold()
    if note.marking and partly and part.markings and note.marking not in part.markings:
        name = note.function or f"{said} {note.marking}"
        part = Part(new_id(study, "P"), name[:1].upper() + name[1:], part.inside)
        study = put(study, part)
    fields: dict[str, Any] = {}
    if note.marking and note.marking not in part.markings:
        fields["markings"] = (*part.markings, note.marking)
    for name in ("package", "pins", "function"):
        if getattr(note, name) and not getattr(part, name):
            fields[name] = getattr(note, name)
    if note.size_mm and part.long_mm is None:
        fields |= dict(zip(("long_mm", "wide_mm", "high_mm"), note.size_mm, strict=False))
    if note.kind == "condition" and not part.condition:
        fields["condition"] = note.text
    return (put(study, evolve(part, **fields)), True) if fields else (study, False)


def _caution(note: DraftNote) -> str:
    return note.text
