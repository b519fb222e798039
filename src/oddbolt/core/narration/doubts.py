"""What a reading is not sure of, and what it may mean instead."""

from __future__ import annotations

from attrs import evolve

from oddbolt.core.narration.draft import DraftStep
from oddbolt.core.narration.memory import Memory
from oddbolt.core.study import Study

#: a piece less sure than this is a guess
GUESS = 0.5
MOST_MEANINGS = 3


def guesses_part(step: DraftStep) -> bool:
    """Whether the part of a draft was not named but guessed from what was said before."""
    return any(p.field == "parts" and p.sure < GUESS and p.end == 0 for p in step.pieces)


def meanings(step: DraftStep, memory: Memory) -> tuple[str, ...]:
    """The likeliest parts that a draft with a guessed part may be about, the guess first; () where nothing was
    guessed. Parts that are out already are none."""
    if not guesses_part(step):
        return ()
    recent = (p for p in reversed(memory.parts) if p.lower() not in memory.out)
    return tuple(dict.fromkeys((*step.parts, *recent)))[:MOST_MEANINGS]


def settled_on(step: DraftStep, part: str) -> DraftStep:
    """The draft with the part that was meant; "" for none of them."""
    pieces = tuple(p for p in step.pieces if not (p.field == "parts" and p.sure < GUESS and p.end == 0))
    return evolve(step, parts=(part,) if part else (), pieces=pieces)


def unsure_steps(study: Study) -> tuple[str, ...]:
    """The ids of the recorded steps that the reader was not sure of, in order."""
    return tuple(id for id, step in study.steps.items() if step.doubt)
