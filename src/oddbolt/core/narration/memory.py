"""What the reader remembers from one sentence to the next."""

from __future__ import annotations

from collections.abc import Mapping

from attrs import define, field

from oddbolt.core.narration.draft import DraftNote, DraftStep, evolve

#: plurals that are not made with an s
PLURALS = {"feet": "foot", "batteries": "battery", "assemblies": "assembly", "halves": "half", "latches": "latch"}


def singular(word: str) -> str:
    """The last word as one of them is called: "rubber feet" -> "foot"."""
    low = (word.casefold().split() or [""])[-1]
    return PLURALS.get(low, low.rstrip("s"))


#: so many steps back the reader remembers
KEPT = 60


@define
class Memory:
    """Recent drafts (newest last), part names as they came up, what is already out, and the phase of the work."""

    steps: list[DraftStep] = field(factory=list)
    parts: list[str] = field(factory=list)
    out: set[str] = field(factory=set)
    variants: dict[str, str] = field(factory=dict)
    phase: str = ""
    counter: int = 0
    only_mentioned: set[str] = field(factory=set)
    drive: tuple[str, str] = ("", "")
    device: str = ""
    last_text: str = ""
    pending: DraftStep | None = None
    counts: dict[str, int] = field(factory=dict)
    #: how many there are of a thing, as an act told: "foot" -> 4; 0 where two acts told different numbers
    many: dict[str, int] = field(factory=dict)
    #: screws spoken of and not yet done, the part that the last fasteners held, and the remark before
    announced: DraftStep | None = None
    holding: str = ""
    before: str = ""
    #: what was recorded of a part last, where no step was done since
    noted: DraftNote | None = None
    #: the part that the sentence before only showed: "this is the vacuum motor"
    shown: str = ""

    def copy(self) -> Memory:
        """A copy that a trial reading may change."""
        return evolve(
            self,
            steps=list(self.steps[-KEPT:]),
            parts=list(self.parts[-80:]),
            out=set(self.out),
            variants=dict(self.variants),
            counts=dict(self.counts),
            many=dict(self.many),
            only_mentioned=set(self.only_mentioned),
        )

    def renamed(self, refs: Mapping[str, str]) -> None:
        """Call the drafts that were entered into the record by the ids of their steps."""
        self.steps = [evolve(s, ref=refs.get(s.ref, s.ref)) for s in self.steps]
        self.only_mentioned = {refs.get(r, r) for r in self.only_mentioned}

    def note_part(self, name: str) -> None:
        """Remember that this part was spoken of last."""
        if name and (not self.parts or self.parts[-1] != name):
            self.parts.append(name)

    def note_count(self, name: str, count: int | None) -> None:
        """Remember how many of a thing an act was done to; two numbers for one name leave it open."""
        if name and count and count > 1:
            noun = singular(name)
            self.many[noun] = count if self.many.get(noun, count) == count else 0

    def full_name(self, name: str) -> str:
        """The longer name last used for a part that is now called by its last word alone ("the board")."""
        low = name.lower()
        if " " in low:
            return name
        family = CELLS if low in CELLS else (low,)
        for known in reversed(self.parts):
            words = known.lower().split()
            if words[-1] in family and (len(words) > 1 or words[-1] != low):
                return known
            if known.lower() == low:
                return known
        return name


CELLS = ("cell", "battery", "pack", "batteries")
