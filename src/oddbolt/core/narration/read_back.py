"""What was understood, as a sentence to be spoken back to someone whose hands are busy."""

from __future__ import annotations

from oddbolt.core.narration.correct import in_words
from oddbolt.core.narration.draft import DraftStep, Reading


def read_back(reading: Reading, number: int) -> str:
    """A sentence about the steps just logged; ``number`` is that of the last one. It ends with what is missing."""
    said = [_step(step) for step in reading.steps]
    if not said:
        notes = "caution noted" if reading.cautions else "finding noted" if reading.findings else "noted"
        return f"{notes.capitalize()}."
    first = number - len(said) + 1
    numbered = f"Step {number}" if len(said) == 1 else f"Steps {first} to {number}"
    missing = list(dict.fromkeys(m for step in reading.steps for m in step.missing()))
    asks = f" Not said: {', '.join(missing)}." if missing else ""
    return f"{numbered}: {'; then '.join(said)}.{asks}"


def _step(step: DraftStep) -> str:
    count = "" if step.count is None else str(step.count)
    what = " ".join(filter(None, (count, in_words(step, "drive"), step.joint if not step.parts else "")))
    parts = " and ".join(step.parts)
    where = f"under {' and '.join(step.under)}" if step.under else step.place
    return ", ".join(filter(None, (step.action, what, parts, where)))
