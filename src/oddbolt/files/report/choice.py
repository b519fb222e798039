"""What a report holds, for whom, on which paper."""

from __future__ import annotations

from collections.abc import Mapping

from attrs import frozen

from oddbolt.core.errors import FileError
from oddbolt.core.verdict import SCHEMES

#: section -> its heading, in the order that they are printed
SECTIONS: Mapping[str, str] = {
    "short": "In short",
    "depth": "How deep everything lies",
    "routes": "Routes to the priority parts",
    "opening": "Checks and opening",
    "steps": "Steps",
    "fasteners": "Fasteners",
    "parts": "Parts",
    "kit": "Tools, consumables and what to renew",
    "changes": "What would make it easier",
    "verdict": "Verdict",
    "put back": "Putting back",
    "times": "Runs and times",
    "findings": "Findings",
    "sources": "Sources, and what is unverified",
}
PAPERS = ("A4", "letter")
#: what a line of progress begins with, for a program that reads what the command tells
PROGRESS = "progress "


@frozen
class Choice:
    """The ``sections`` in their order, printed where there is anything in them, the ``schools`` of the verdict, the
    paper, and whether the sentences are printed as they were said."""

    sections: tuple[str, ...] = tuple(SECTIONS)
    schools: tuple[str, ...] = tuple(SCHEMES)
    paper: str = "A4"
    said: bool = False


#: for whom -> what they get
PRESETS: Mapping[str, Choice] = {
    "everything": Choice(),
    "repairer": Choice(
        ("short", "depth", "routes", "opening", "steps", "fasteners", "kit", "put back", "sources"), ("bench mark",)
    ),
    "designer": Choice(
        ("short", "depth", "fasteners", "parts", "changes", "verdict", "times", "findings", "sources"),
        ("bench mark", "counting", "time", "minimum parts"),
    ),
    "judge": Choice(("short", "routes", "verdict", "steps", "findings", "sources")),
}


def choice(
    preset: str = "everything", sections: str = "", schools: str = "", paper: str = "", said: bool = False
) -> Choice:
    """A choice from what was typed: a preset, and in place of its sections or schools a list with commas. Raises
    FileError for what there is not."""
    if preset not in PRESETS:
        raise FileError(f"There is no report for a {preset!r}; there are {', '.join(PRESETS)}.")
    own = PRESETS[preset]
    chosen = _listed(sections, SECTIONS, "section") or own.sections
    asked = _listed(schools, SCHEMES, "school") or own.schools
    names = {name.casefold(): name for name in PAPERS}
    on = names.get((paper or own.paper).casefold())
    if on is None:
        raise FileError(f"{paper!r} is no paper that a report is laid out for; there are {' and '.join(PAPERS)}.")
    order = own.sections if set(chosen) == set(own.sections) else SECTIONS
    return Choice(tuple(s for s in order if s in chosen), asked, on, said)


def _listed(typed: str, known: Mapping[str, object], what: str) -> tuple[str, ...]:
    asked = tuple(dict.fromkeys(filter(None, (piece.strip().casefold() for piece in typed.split(",")))))
    strange = [one for one in asked if one not in known]
    if strange:
        raise FileError(f"There is no {what} {strange[0]!r}; there are {', '.join(known)}.")
    return asked
