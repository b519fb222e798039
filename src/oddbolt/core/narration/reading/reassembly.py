"""Clauses of a put-back passage: parts placed, screws fastened to a torque."""

from __future__ import annotations

import re
from typing import Any

from text_to_num import text2num

from oddbolt.core.narration.draft import DraftStep, Piece
from oddbolt.core.narration.language.clauses import Clause
from oddbolt.core.narration.language.nouns import Noun
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.tokens import Item
from oddbolt.core.narration.reading.sentence_state import PLUGS, SentenceState
from oddbolt.core.reference.tables import breaking_torque_ncm

#: Acts that put something in its place.
BACK = ("place", "apply", "connect")


def puts_back(work: SentenceState, clause: Clause, things: list[Noun]) -> None:
    back = work.memory.phase == "back"
    if clause.purpose:
        return
    screws = next((n for r, n in clause.placed if r in ("with", "using") and n.kind == "screw"), None)
    marked = bool(work.vocabulary.marked("back_marks", clause.text)) or clause.particle == "back"
    if not back and clause.verb.startswith(("go", "went")):
        return
    rolled = clause.action == "press" and screws is None and bool(back or ROLLED.search(work.low))
    if rolled and _pressed(work, clause, things):
        return
    if back and clause.action == "press" and screws is not None:
        fastens(work, clause, screws, [screws])
        return
    metered = clause.action == "apply" and any(q.unit == "mass" for q in clause.quantities)
    if clause.action == "press" or (clause.action != "fasten" and not back and not marked and not metered):
        return
    if clause.action == "fasten":
        noun = next((n for n in things if n.kind == "screw" or n.size or n.pronoun), None)
        if noun is None and not things:
            return
        fastens(work, clause, noun, things)
        return
    work.carried = clause
    if metered and not things:  # "600 mg of gel"
        things = [n for r, n in clause.placed if r == "of"]
    names = tuple(
        filter(
            None,
            (
                work.plug_owner(n) if n.kind in PLUGS else work.part_name(n)
                for n in things
                if not n.is_tool and not work.no_part(n) and n.kind != "screw"
            ),
        )
    )
    agent = ""
    if clause.action == "apply":
        on = tuple(
            work.part_name(n) for r, n in clause.placed if r in ("to", "on", "onto", "over", "along") and n.words
        )
        if on and names and on != names:
            agent, names = names[0].lower(), on
    if not names:
        return
    joint = {"connect": "connector", "apply": "adhesive"}.get(clause.action, "")
    note = amounts(clause)
    work.emit(clause, clause.action, nouns=things, parts=names, joint=joint, agent=agent, note=note, phase="put back")
    if screws is not None:
        fastens(work, clause, screws, [screws])


#: "roll over it three times", "two passes with the roller"
ROLLED = lazy_pattern(r"\broll(?:er|s|ed|ing)?\b.*\b(?:times|twice|passes|pass)\b|\bpasses\b.*\broller\b")
PASSES = lazy_pattern(r"\b(\w+) (?:times|passes|pass)\b|\b(twice)\b")


def amounts(clause: Clause) -> str:
    """How much, in words of the bench: mass in mg below a gram, else in g; angles in degrees; passes."""
    said = []
    for q in clause.quantities:
        value = q.number or 0.0
        if q.unit == "mass":
            said.append(f"{value * 1000:g} mg" if value < 1 else f"{value:g} g")
        elif q.unit == "angle":
            said.append(f"{value:g}°")
    found = PASSES.search(clause.text)
    if found:
        try:
            n = 2 if found.group(2) else int(text2num(found.group(1), "en"))
        except ValueError:
            n = int(found.group(1)) if found.group(1).isdigit() else 0
        if n:
            said.append(f"{n} passes")
    return ", ".join(said)


def _pressed(work: SentenceState, clause: Clause, things: list[Noun]) -> bool:
    """Something pressed or rolled down so many times: a step only where the amount is said."""
    note = amounts(clause)
    over = [n for r, n in clause.placed if r in ("over", "on", "along", "across") and n.words]
    names = tuple(work.part_name(n) for n in (*things, *over) if n.words and not n.is_tool and not n.is_place)
    last = work.last_step()
    if note and not names and last is not None and last.phase == "put back":
        work.update(last, note=last.note or note)
        return True
    if not note or not names:
        return False
    tool = "roller" if "roll" in work.low else work.tool[0]
    work.emit(clause, "press", nouns=things, parts=names, tool=tool, note=note, phase="put back")
    return True


def fastens(work: SentenceState, clause: Clause, noun: Noun | None, things: list[Noun]) -> None:
    torque = next((q for q in clause.quantities if q.unit == "torque"), None)
    fields: dict[str, Any] = {"joint": "screw", "phase": "put back"}
    if noun is None:
        fields["parts"] = tuple(filter(None, (work.part_name(n) for n in things)))
    else:
        previous = next((s for s in reversed([*work.memory.steps, *work.made]) if s.action == "fasten"), None)
        if noun.pronoun and not noun.kind and previous in work.made:
            assert previous is not None
            if torque is not None:
                set_torque(work, previous, torque)
            return
        if noun.pronoun and not noun.kind and previous is not None:
            fields |= {
                "count": previous.count,
                "drive": previous.drive,
                "size": previous.size,
                "thread": previous.thread,
            }
        else:
            fields |= {
                "count": noun.count or (1 if noun.kind == "screw" and not noun.plural else None),
                "drive": noun.drive,
                "size": noun.size,
                "thread": noun.thread,
                "length_mm": noun.length_mm,
            }
    fields |= {k: v for k, v in work.where(clause, parts_too=True).items() if k in ("parts", "place", "tool")}
    work.emit(clause, "fasten", nouns=[noun] if noun else things, **fields)
    if torque is not None:
        set_torque(work, work.made[-1], torque)


def set_torque(work: SentenceState, step: DraftStep, item: Item) -> None:
    torque = float(item.number or 0)
    limit = breaking_torque_ncm(step.drive, step.size, step.thread)
    doubt = ""
    if (
        limit is None
        and "m" in item.text.lower()
        and torque / 100 >= 1
        and re.search(r"\bn[\s·.]?m\b", item.text.lower())
    ):
        limit = 1000.0
    if limit is not None and torque > limit:
        what = step.size or step.thread or "such"
        doubt = f"torque far above the breaking torque of any {what} screw"
        if torque / 100 <= limit:
            doubt += f"; {torque / 100:g} N·cm meant?"
    work.update(
        step,
        torque_ncm=torque,
        doubt=doubt,
        pieces=(*step.pieces, Piece("torque_ncm", torque, item.start, item.end, 0.3 if doubt else 1.0)),
    )
