"""Clauses with an act: what it is done to, and which act the verb means on that thing."""

from __future__ import annotations

import re
from typing import Any

from oddbolt.core.narration.draft import DraftStep
from oddbolt.core.narration.language.clauses import Clause
from oddbolt.core.narration.language.nouns import Noun
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.reading.connectors import disconnects
from oddbolt.core.narration.reading.fastener_groups import count_group
from oddbolt.core.narration.reading.reassembly import puts_back
from oddbolt.core.narration.reading.sentence_state import FASTENERS, LATCH_WORDS, PLUGS, SentenceState
from oddbolt.core.reference.joint_kinds import ids_where

WITH_IT = lazy_pattern(r"\b(?:together|along|complete)\s+with\b")
#: "lift it by 2 cm", "lift it slightly": it moves and stays attached.
PARTLY = lazy_pattern(
    r"\bby \d|\b(?:slightly|partly|partway|halfway|a little|a bit|a few (?:mm|cm|millimetres|centimetres))\b"
)
MOTION = ("take out", "place", "press", "release", "unclip", "pry", "fold")


def acts(work: SentenceState, clause: Clause) -> None:
    things = _targets(work, clause)
    if clause.action in ("place", "apply", "press", "connect", "fasten"):
        puts_back(work, clause, things)
        return
    if clause.particle == "apart":
        return
    tools = [n for n in things if n.is_tool]
    if (
        tools
        and len(tools) == len(things)
        and clause.action in MOTION
        and work.memory.full_name(tools[0].name) == tools[0].name
    ):
        work.tool = (tools[0].name.lower(), (tools[0].start, tools[0].end))
        return
    things = [n for n in things if not n.is_tool or work.memory.full_name(n.name) != n.name]
    tabs_are_clips(clause, things)
    if not clause.purpose and any(n.finish for n in things):
        work.carried = clause
    if clause.action == "disconnect" and work.text[clause.end :].lstrip().startswith(":"):
        work.carried, work.opened = clause, True  # "unplug everything: heater, sensor and the two buttons"
    if any(work.no_part(n) for n in things):
        things = [n for n in things if not work.no_part(n)]
        if not things:
            return
    if not things and clause.verb.split()[0].endswith("s") and clause.linked in ("and", ",and") and not clause.purpose:
        things = list(work.subjects)
    if work.lead is not None and (not things or all(_is_latch(n) for n in things)):
        things = [work.lead]
    if not things:
        return
    if clause.purpose and work.made and not _used_tool(work, clause):
        _purpose(work, things)
        return
    counted = any(n.kind in FASTENERS and n.count_span for n in things)
    if clause.purpose and not _used_tool(work, clause) and not counted:
        work.purpose_parts = tuple(filter(None, (work.part_name(n) for n in things)))
        for name in work.purpose_parts:
            work.topic = name
        return
    work.carried = clause
    groups: dict[str, list[Noun]] = {}
    for noun in things:
        groups.setdefault(act_of(work, clause, noun), []).append(noun)
    if "unscrew" in groups and "take out" in groups and any(n.words for n in groups["take out"]):
        named = tuple(work.part_name(n) for n in groups["take out"] if n.words)
        work.purpose_parts = work.purpose_parts or named
        groups = {"unscrew": groups.pop("unscrew"), **groups}
    for action, nouns in groups.items():
        do(work, clause, action, nouns)


def tabs_are_clips(clause: Clause, nouns: list[Noun]) -> None:
    """Counted tabs that are released are clips; those that are unsoldered are what connects."""
    for noun in nouns:
        if clause.action == "desolder" and noun.words and noun.words[-1].lower() in ("tab", "tabs"):
            noun.kind, noun.joint_tail = "connector", noun.words[-1].lower()
        if clause.action in ("release", "unclip") and noun.count and noun.name.lower() in ("tab", "tabs"):
            noun.kind, noun.joint_tail = "clip", noun.name.lower()


def _used_tool(work: SentenceState, clause: Clause) -> bool:
    return bool(re.search(r"\b(use|using|take|grab|with)\b", work.text[: clause.verb_span[0]].lower())) and bool(
        work.tool[0]
    )


def _targets(work: SentenceState, clause: Clause) -> list[Noun]:
    if clause.verb.split()[0] in ("come", "comes", "came", "coming") and clause.subjects:
        return _listed(work, clause) + clause.subjects
    if clause.voice in ("passive", "moves"):
        subjects = [
            n
            for n in clause.subjects
            if n.pronoun not in ("it", "this", "that") or clause.voice == "moves" or work.topic
        ]
        previous = _listed(work, clause)
        return previous + subjects + (clause.objects if clause.voice == "moves" else [])
    things = list(clause.objects)
    if not things and clause.subjects and clause.reference:
        things = list(clause.subjects)
    if not things and clause.action == "cut":
        things = [n for r, n in clause.placed if r in ("around", "along", "under", "through") and not n.is_place]
    if not things:
        things = [n for r, n in clause.placed if r in ("off", "up", "out") and n.name and not n.is_place]
    return things


def _listed(work: SentenceState, clause: Clause) -> list[Noun]:
    return work.listed if clause.linked in ("and", ",and", ",") else []


def act_of(work: SentenceState, clause: Clause, noun: Noun) -> str:
    """The act that this verb means on this thing."""
    action = clause.action
    kind = noun.kind
    figures = bool(noun.size or noun.drive or noun.thread) and not noun.words
    if noun.pronoun or (not kind and not noun.words and noun.count is not None and not figures):
        group = work.last_group()
        kind = group.joint if group is not None and _refers_to_group(work, noun, clause, group) else ""
        pending = work.pending
        if pending is not None and noun.pronoun and not kind and noun.count in (None, pending.count):
            plural = (pending.count or 2) > 1
            if plural == (noun.pronoun in ("them", "those", "these", "they", "both")):
                return "disconnect" if action in ("take out", "release", "unclip", "disconnect") else action
    if work.latch() and not kind and (noun.pronoun or _is_latch(noun)) and action in ("take out", "release", "fold"):
        return "disconnect"
    if kind == "screw" or (not kind and figures and action in ("take out", "release")):
        return "unscrew"
    if kind == "clip":
        return "disconnect" if work.latch() and clause.action == "release" and _names_plug(clause) else "unclip"
    if kind in PLUGS:
        return "cut" if action == "cut" else "desolder" if action == "desolder" else "disconnect"
    if kind in ids_where("glue"):
        return action if action in ("cut", "pry") else "peel"
    if action in ("release", "unclip") and not kind:
        if clause.verb.startswith("open"):
            return "disconnect" if work.latch() else "fold"
        return "unclip" if clause.verb.startswith(("unclip", "unsnap")) else "take out"
    if action == "unscrew" and not kind:
        return "unscrew"
    if action == "take out" and clause.verb.startswith(("lift", "raise")) and PARTLY.search(clause.text):
        return "fold"
    return action


def _clips_last(work: SentenceState) -> bool:
    """Whether the step before was about clips, so that "unclip them" speaks of these."""
    latest = (work.made or work.memory.steps)[-1:]
    return bool(latest) and latest[0].joint == "clip"


def _is_latch(noun: Noun) -> bool:
    return noun.name.lower().split()[-1:] != [] and noun.name.lower().split()[-1] in LATCH_WORDS


def _plug_follows(work: SentenceState, clause: Clause) -> bool:
    """Whether the latch is that of a plug named behind it: "release the latch and pull the ribbon"."""
    return bool(work.latch()) and bool(re.search(r"\b(?:flex|ribbon|cable|plug)\b", work.text[clause.end :].lower()))


def _names_plug(clause: Clause) -> bool:
    return any(n.kind in PLUGS for n in (*clause.objects, *(n for _, n in clause.placed)))


def do(work: SentenceState, clause: Clause, action: str, nouns: list[Noun]) -> None:
    if (
        action == "unscrew"
        or action == "unclip"
        or (action in ("take out", "release") and any(n.kind in ("magnet", "press fit", "other") for n in nouns))
    ):
        for noun in nouns:
            if not (action == "unclip" and _is_latch(noun) and _plug_follows(work, clause)):
                _loosens(work, clause, action, noun)
        return
    plugs = [n for n in nouns if n.kind in PLUGS or (n.pronoun and work.pending is not None)]
    if action == "disconnect" or (action in ("cut", "desolder") and plugs):
        disconnects(work, clause, action, nouns)
        return
    turned = clause.verb.startswith(("flip", "turn", "open")) and any(n.pronoun in ("it", "this") for n in nouns)
    if action == "fold" and (turned or any(work.wholly_device(n.name) for n in nouns)):
        return
    along = [n for r, n in clause.placed if r == "with" and n.is_part and not n.is_tool and WITH_IT.search(clause.text)]
    names = tuple(dict.fromkeys(filter(None, (work.part_name(n) for n in (*nouns, *along)))))
    if not names or all(work.wholly_device(n) for n in names):
        return
    takes_out(work, clause, action, names, nouns)


def takes_out(work: SentenceState, clause: Clause, action: str, names: tuple[str, ...], nouns: list[Noun]) -> None:
    gone = work.memory.out | {p.lower() for s in work.made for p in s.parts if s.action in ("take out", "pry", "peel")}
    if action in ("take out", "pry", "peel", "release"):
        if action in ("take out", "release") and any(n.pronoun for n in nouns):
            gone |= {
                p.lower() for s in (*work.memory.steps[-1:], *work.made) for p in s.parts if s.action == "disconnect"
            }
        names = tuple(n for n in names if n.lower() not in gone or work.memory.phase == "back")
        if not names:
            return
        latest = work.made[-1] if work.made else None
        if latest is not None and latest.action == "disconnect" and work.latch() and set(names) & set(latest.parts):
            return
    if action == "release":
        action = "take out"
    fields: dict[str, Any] = {"parts": names}
    if action == "peel":
        kind = next((n.kind for n in nouns if n.kind in ids_where("glue")), "adhesive")
        fields |= {
            "joint": kind,
            "count": next((n.count for n in nouns if n.words and n.count_span), None),
        }
    if action == "desolder" or action == "cut":
        fields["joint"] = "other"
    where = work.where(clause, parts_too=False)
    where["under"] = tuple(p for p in where.get("under", ()) if p not in names)
    fields |= {k: v for k, v in where.items() if v and not (k == "place" and v in {n.lower() for n in names})}
    if work.seen_under and not fields.get("under") and not set(work.seen_under) & set(names):
        fields["under"] = work.seen_under
    for group in (*work.memory.steps[-3:], *work.made):
        if action == "take out" and set(names) & set(group.parts):
            work.memory.only_mentioned.discard(group.ref)
    last = work.made[-1] if work.made else None
    if (
        last is not None
        and last.joint in ("screw", "clip")
        and not last.parts
        and not last.place
        and not last.under
        and action == "take out"
        and clause.verb.startswith(("come", "comes"))
    ):
        work.update(last, parts=names)
    work.emit(clause, action, nouns=nouns, **fields)


def _loosens(work: SentenceState, clause: Clause, action: str, noun: Noun) -> None:
    if not noun.kind and noun.words and action == "unscrew" and not (noun.count and (noun.size or noun.drive)):
        name = work.part_name(noun)
        recent = work.last_group()
        if recent is not None and name in recent.parts:
            return
        work.emit(clause, "unscrew", joint="screw", parts=(name,), **work.where(clause, parts_too=False))
        return
    if not noun.kind and action == "unclip" and (noun.words or (noun.pronoun and not _clips_last(work))):
        work.emit(clause, "unclip", joint="clip", parts=(work.part_name(noun),), **work.where(clause, parts_too=False))
        return
    count_group(work, clause, noun, acted=True, action=action)


def _purpose(work: SentenceState, things: list[Noun]) -> None:
    """An act named only as the aim of the one before: it tells what the fasteners hold."""
    names = tuple(filter(None, (work.part_name(n) for n in things if not n.pronoun and not n.kind)))
    last = work.made[-1]
    if names and last.joint in FASTENERS and not last.parts:
        work.update(last, parts=names)


def _refers_to_group(work: SentenceState, noun: Noun, clause: Clause, group: DraftStep) -> bool:
    if noun.pronoun in ("it", "this", "that"):
        latest = (work.made or work.memory.steps)[-1]
        return group.count == 1 and latest is group and group.action == "unscrew" and not work.sentence_parts
    if clause.action in ("unscrew", "take out", "release", "unclip") and group.ref in work.memory.only_mentioned | {
        s.ref for s in work.made
    }:
        return True
    return (
        noun.pronoun in ("them", "those", "these", "they", "one", "ones")
        and (work.made or work.memory.steps)[-1] is group
    )
