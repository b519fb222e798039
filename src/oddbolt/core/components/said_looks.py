"""Sentences of the say line that are nothing but looks at a part or a connector: "what is this: disc, two wires,
magnet" and "ten ways, half a millimetre, flip lid"."""

from __future__ import annotations

import re

from attrs import frozen

from oddbolt.core.components.connectors import connector_guide, miscounted, which_connector, with_connector
from oddbolt.core.components.kinds import part_guide, what_is_this, with_kind
from oddbolt.core.components.looks import Ranked, Seen
from oddbolt.core.errors import BenchError
from oddbolt.core.study import Study
from oddbolt.core.study.formatting import chance

ASKED = re.compile(
    r"^\s*what(?:['’]?s| is| could| can| might)?\s+(?:is\s+)?(?:this|that|it)(?:\s+be)?\b[\s:?,-]*", re.IGNORECASE
)
#: fewest looks that make a sentence about a connector
FEWEST = 2


@frozen
class SaidLooks:
    """What was seen, of a "part" or a "connector", and what it may be."""

    about: str
    seen: Seen
    ranked: Ranked

    @property
    def words(self) -> str:
        """The leading candidates, what troubles, and what to look at next, in a line."""
        guide = part_guide() if self.about == "part" else connector_guide()
        trouble = self.ranked.trouble or (miscounted(self.seen) if self.about == "connector" else "")
        leading = [f"{chance(c.probability)}  {c.id}" for c in self.ranked.candidates[:2]]
        return "   ·   ".join(filter(None, (trouble, *leading, guide.advice(self.ranked))))

    def entered(self, study: Study, id: str) -> Study:
        """The study with what it is entered into the part or connector ``id``. Raises BenchError."""
        if self.about == "part":
            return with_kind(study, id, self.ranked)
        return with_connector(study, id, self.ranked, self.seen)


def said_looks(text: str) -> SaidLooks | None:
    """What a sentence says to be seen, if it says nothing else; None for any other sentence."""
    asked = ASKED.match(text)
    if asked:
        try:
            seen = part_guide().read(text[asked.end() :])
        except BenchError:
            return None
        return SaidLooks("part", seen, what_is_this(seen)) if not seen.unread else None
    if not re.search(r"\d|ways?\b|pitch|contacts?\b|poles?\b", text, re.IGNORECASE):
        return None
    try:
        seen = connector_guide().read(text)
    except BenchError:
        return None
    named = {"ways", "pitch"} & set(seen.figures)
    if seen.unread or not named or len(seen.known) < FEWEST:
        return None
    return SaidLooks("connector", seen, which_connector(seen))
