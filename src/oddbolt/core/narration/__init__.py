"""Narration: what was said at the bench, read into drafts of steps."""

from oddbolt.core.narration.captions import Cue, draft
from oddbolt.core.narration.draft import DraftLog, DraftNote, DraftStep, Piece, Reading
from oddbolt.core.narration.language.vocabulary import Vocabulary, parse_words, shipped, with_words
from oddbolt.core.narration.memory import Memory
from oddbolt.core.narration.reader import read

__all__ = [
    "Cue",
    "DraftLog",
    "DraftNote",
    "DraftStep",
    "Memory",
    "Piece",
    "Reading",
    "Vocabulary",
    "draft",
    "parse_words",
    "read",
    "shipped",
    "with_words",
]
