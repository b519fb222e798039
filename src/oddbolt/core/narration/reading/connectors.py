"""Connectors: opened, or spoken of before they are opened."""

from __future__ import annotations

from oddbolt.core.narration.draft import DraftStep, Piece, evolve
from oddbolt.core.narration.language.clauses import Clause
from oddbolt.core.narration.language.nouns import Noun
from oddbolt.core.narration.memory import singular
from oddbolt.core.narration.reading.sentence_state import LATCH_WORDS, SentenceState


def disconnects(work: SentenceState, clause: Clause, action: str, nouns: list[Noun]) -> None:
    parts: list[str] = []
    plain = len(nouns) == 2 and nouns[0].count and nouns[0].name.lower() == nouns[0].joint_tail
    if plain and not (nouns[1].definite or nouns[1].kind or nouns[1].count):  # "3 wires motor"
        parts, nouns = [work.part_name(nouns[1])], nouns[:1]
    count, coax, unknown_count = 0, False, False
    if work.latch() and all(n.name.lower().split()[-1:] and n.name.lower().split()[-1] in LATCH_WORDS for n in nouns):
        nouns = [n for r, n in clause.placed if r in ("of", "on") and n.name]
        if not nouns:
            return  # "open the flip-lock": the plug is named elsewhere
    for noun in nouns:
        if noun.pronoun and work.made and work.made[-1].action == "prepare":
            work.update(work.made[-1], note=f"{work.made[-1].note}, unplug")
            return
        if noun.pronoun and work.pending is not None:
            confirm(work, work.pending, clause, action)
            return
        name, several = work.plug_owner(noun), noun.plural or (noun.count or 1) > 1
        if (
            name
            and not (parts and name.lower() == noun.joint_tail)
            and not (several and name.lower() == noun.joint_tail and _owner(work, clause))
        ):
            parts.append(name)
        coax = coax or noun.kind == "coax"
        known = work.memory.counts.get(singular(noun.words[-1])) if noun.plural and noun.definite else None
        if noun.count is None and noun.plural and known is None:
            unknown_count = True
        count += noun.count or known or 1
    if not parts and not coax:
        owner = _owner(work, clause)
        if work.pending is not None and not owner:
            confirm(work, work.pending, clause)
            return
        parts = [owner] if owner else []
    latch = work.latch()
    if latch and work.made and work.made[-1].latch and (not parts or set(parts) & set(work.made[-1].parts)):
        return
    if work.pending is not None and (not parts or set(parts) <= set(work.pending.parts)):
        confirm(work, work.pending, clause)
        return
    where = work.where(clause, parts_too=False)
    work.emit(
        clause,
        action,
        nouns=nouns,
        joint="coax" if coax else "connector",
        parts=tuple(dict.fromkeys(parts)),
        count=None if unknown_count else count,
        latch=latch,
        **({"under": work.seen_under} | where if work.seen_under else where),
    )


def _owner(work: SentenceState, clause: Clause) -> str:
    """What a plug belongs to: "two wires from the battery box"."""
    return next((work.part_name(n) for r, n in clause.placed if r in ("of", "for", "to", "from") and n.name), "")


def plug_mention(work: SentenceState, clause: Clause, noun: Noun) -> None:
    owner = work.plug_owner(noun)
    if noun.plural and owner.lower() == noun.joint_tail:
        owner = _owner(work, clause)
    under = tuple(work.part_name(n) for r, n in clause.placed if r == "under") or work.seen_under
    verbless_list = (
        clause.voice == "none"
        and not clause.existential
        and work.made
        and work.made[-1].action == "disconnect"
        and clause.linked in (",", "and", ",and")
    )
    if verbless_list:
        last = work.made[-1]
        work.update(
            last, parts=(*last.parts, owner) if owner else last.parts, count=(last.count or 0) + (noun.count or 1)
        )
        return
    if clause.particle in ("off", "out", "free") and clause.voice == "none" and not clause.existential:
        disconnects(work, clause, "disconnect", [noun])
        return
    work.pending = DraftStep(
        "disconnect",
        at_s=work.at_s,
        joint=noun.kind,
        count=noun.count or (None if noun.plural else 1),
        parts=(owner,) if owner else (),
        under=under,
        latch=work.latch(),
        said=work.text,
        pieces=tuple(work.pieces(clause, [noun], {"parts": (owner,)})),
    )


def confirm(work: SentenceState, pending: DraftStep, clause: Clause, action: str = "disconnect") -> None:
    """Open the plug that was spoken of before."""
    work.pending = None
    verb = Piece("action", action, *clause.verb_span)
    pieces = pending.pieces if pending.at_s == work.at_s and pending.said == work.text else ()
    latch = work.latch() or pending.latch
    work.append(evolve(pending, action=action, at_s=work.at_s, said="", pieces=(verb, *pieces), latch=latch))
