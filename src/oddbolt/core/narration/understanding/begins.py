"""Where a sentence begins in talk that has no stops."""

from __future__ import annotations

import re
from bisect import bisect_left

from oddbolt.core.narration.understanding.spans import Tagger

#: words heard at once, words that each hearing goes on by, words at its ends that are left to the one beside it
WORDS, ON, EDGE = 60, 40, 10
#: a sentence is taken to begin where it is at least this likely
LIKELY = 0.45
#: words that lead on from the one before: "the relay next to it"
LEADS_ON = re.compile(r"next to (?:the|a|an|it|its|this|that|them|those|these|each|one|my)\b", re.IGNORECASE)
#: a sentence without stops that is longer is cut at the likeliest place
LONGEST = 60


def begins(text: str, tagger: Tagger) -> dict[int, float]:
    """How likely a sentence begins at each word of a text, by the place of the word; the first does. Empty if the
    network does not tell."""
    words = [(m.start(), m.end()) for m in re.finditer(r"\S+", text)]
    out: dict[int, float] = {}
    for first in range(0, max(1, len(words) - 2 * EDGE), ON):
        heard = words[first : first + WORDS]
        start, end = heard[0][0], heard[-1][1]
        told = tagger(text[start:end], "apart", "").begins
        after = heard[EDGE if first else 0 :]
        out |= {place: told.get(place - start, 0.0) for place, _ in after} if told else {}
    out |= {place: 0.0 for place in out if LEADS_ON.match(text, place)}
    return out | {words[0][0]: 1.0} if out else {}


def without_long(places: list[int], likely: dict[int, float]) -> list[int]:
    """The places where sentences begin, in order, with further ones inside each sentence that is very long."""
    words, out, n = sorted(likely), list(places), 0
    while n < len(out):
        end = bisect_left(words, out[n + 1]) if n + 1 < len(out) else len(words)
        inside = words[bisect_left(words, out[n]) + 1 : end]
        if len(inside) < LONGEST:
            n += 1
        else:
            out.insert(n + 1, max(inside[EDGE:-EDGE], key=lambda p: likely[p]))
    return out
