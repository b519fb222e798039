"""What a reading is not sure of, and what it may mean instead."""

from __future__ import annotations

from attrs import evolve

from oddbolt.core.narration.draft import DraftStep
from oddbolt.core.narration.memory import Memory
from oddbolt.core.study import Study

#: acts on fasteners that hold something, whether it was said or not
HOLDING = ("unscrew", "loosen", "unclip")
MOST_MEANINGS = 3


def meanings(step: DraftStep, memory: Memory) -> tuple[str, ...]:
    """The likeliest parts that fasteners hold of which nobody said it: those spoken of last, the last first; () where
    it was said. Parts that are out already are none."""
    if step.parts or step.action not in HOLDING or step.phase:
        return ()
    recent = (p for p in reversed(memory.parts) if p.lower() not in memory.out)
    return tuple(dict.fromkeys(recent))[:MOST_MEANINGS]


def settled_on(step: DraftStep, part: str) -> DraftStep:
    """The draft with the part that was meant."""
    return evolve(step, parts=(part,))


def unsure_steps(study: Study) -> tuple[str, ...]:
    """The ids of the recorded steps that the reader was not sure of, in order."""
    return tuple(id for id, step in study.steps.items() if step.doubt)
