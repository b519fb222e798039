"""The record: what was seen, done and measured on one device."""

from oddbolt.core.study.edits import change, consequences, new_id, put, put_all, remove, renumber
from oddbolt.core.study.model import (
    FIGURES,
    JOINT_KINDS,
    Callout,
    Device,
    Fact,
    Finding,
    Joint,
    Lap,
    Part,
    Photo,
    Run,
    Step,
    Study,
    Thing,
)

__all__ = [
    "FIGURES",
    "JOINT_KINDS",
    "Callout",
    "Device",
    "Fact",
    "Finding",
    "Joint",
    "Lap",
    "Part",
    "Photo",
    "Run",
    "Step",
    "Study",
    "Thing",
    "change",
    "consequences",
    "new_id",
    "put",
    "put_all",
    "remove",
    "renumber",
]
