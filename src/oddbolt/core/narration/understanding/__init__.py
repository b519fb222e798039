"""Understanding: which acts and remarks an utterance holds, and which of its words are part, count, drive or place.

What finds them is a small network that lies outside the core (:mod:`oddbolt.listening`); here are only its labels, the
shape of its answer and how spans are cut from its scores. Numbers and sizes are read by exact code from those spans in
:mod:`oddbolt.core.narration.assembly`.
"""

from oddbolt.core.narration.understanding.labels import (
    ACTS,
    BEFORE,
    FASTENING,
    LABELS,
    NUMBERS,
    OF_SCREWS,
    PHASES,
    REMARKS,
    ROLES,
    WHOLE,
)
from oddbolt.core.narration.understanding.parted import parted
from oddbolt.core.narration.understanding.spans import (
    Span,
    Tagger,
    Understood,
    calibrated,
    each_thing_once,
    traits,
    understood,
)

__all__ = [
    "ACTS",
    "BEFORE",
    "FASTENING",
    "LABELS",
    "NUMBERS",
    "OF_SCREWS",
    "PHASES",
    "REMARKS",
    "ROLES",
    "WHOLE",
    "Span",
    "Tagger",
    "Understood",
    "calibrated",
    "each_thing_once",
    "parted",
    "traits",
    "understood",
]
