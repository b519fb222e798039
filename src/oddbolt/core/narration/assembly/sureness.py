"""How sure a draft is: the share of drafts like it that were right, in stories that the network had not seen."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from oddbolt.core.narration.assembly.beside import VERB_ACTS
from oddbolt.core.narration.assembly.patterns import BARE_PLUGS
from oddbolt.core.narration.assembly.sounds import spoken
from oddbolt.core.narration.assembly.utterance import Utterance
from oddbolt.core.narration.draft import DraftStep
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.understanding import ACTS, FASTENING, Understood
from oddbolt.core.narration.understanding.spans import AGAINST

#: acts that are done to a part and mean little without one
ON_A_PART = frozenset("take out|pry|peel|fold|open|place|disconnect|connect|unclip".split("|"))
#: somebody takes back, guesses or looks for the word
WAVERING = lazy_pattern(
    r"\b(?:no|sorry|wait|hang on|hold on|actually|er+m?|um+|hm+|i mean|reckon|guess|think|maybe|perhaps|or so|what)\b"
    r"|\?|…|\.\.\."
)
#: the network is nearly certain of the words for a part
CERTAIN = 0.95
#: actions of which enough drafts were seen to tell how often they are right
FREQUENT = (
    "take out|unscrew|disconnect|place|fasten|unclip|soften|check|connect|pry|desolder|clean|fold|open|peel".split("|")
)
NUMBER = lazy_pattern(r"(?<![\w.])(?:\d+(?:[.,]\d+)?|two|three|four|five|six|seven|eight|nine|ten|eleven|twelve)\b")
FIGURES = ("count", "drive", "size", "length_mm")


def traits(
    work: Utterance,
    heard: Understood,
    step: DraftStep,
    found: DraftStep | None,
    beside: DraftStep | None,
    steps: Sequence[DraftStep],
) -> list[float]:
    """What speaks for a draft and against it. ``found`` is what the network read of it, ``beside`` what the rules
    read of the same act; None where one of them read nothing."""
    sure = found.sure if found is not None else 0.5
    listing = found is not None and beside is not None and len(found.parts) == 1 < len(beside.parts)  # one of several
    both = [f for f in FIGURES if found and beside and getattr(found, f) and getattr(beside, f)]
    differ = [f for f in both if getattr(found, f) != getattr(beside, f) and not (listing and f == "count")]
    mine, theirs = (s.parts[0].lower() if s is not None and s.parts else "" for s in (found, beside))
    if listing and beside is not None:
        theirs = next((p.lower() for p in beside.parts if p.lower().split()[-1:] == mine.split()[-1:]), theirs)
    name = step.parts[0].lower() if step.parts else ""
    listed = work.vocabulary.nouns | BARE_PLUGS
    weak = sum(s.sure for s in heard.spans if s.label in ACTS and 0.1 <= s.sure < 0.5)
    kinds = {a for a in ACTS if heard.holds(a) > 0.3}
    told = sum(1 for s in steps for p in s.pieces if p.field in (*FIGURES, "dwell_s") and p.end)
    numbers = len(NUMBER.findall(work.text.lower()))
    against = max((heard.holds(r) for r in AGAINST), default=0.0)
    return [
        1.0,
        _logit(sure),
        float(found is None),
        float(beside is not None),
        float(bool(differ)),
        float(bool(mine and theirs and mine.split()[-1:] != theirs.split()[-1:])),
        float(any(p.field == "parts" and p.sure < 0.5 for p in step.pieces)),
        float(bool(name) and name not in listed and name.split()[-1] not in listed),
        float(not name and step.action in ON_A_PART),
        float(not name and step.action in FASTENING),
        float(step.action in FASTENING),
        against,
        heard.holds("announce"),
        min(weak, 2.0),
        float(max(0, len(kinds) - len(steps))),
        float(min(3, max(0, numbers - told))),
        min(4.0, len(work.text.split()) / 10),
        float(bool(WAVERING.search(work.text.lower()))),
        float(len(steps) > 2),
        float(spoken(work.text)),
        _logit(heard.holds(VERB_ACTS.get(step.action, step.action))),
        float(step.action in FASTENING and step.count is None),
        float(bool(name) and name.split()[-1].rstrip("s") not in work.text.lower()),
        float(found is not None and any(p.field == "parts" and p.sure >= CERTAIN for p in found.pieces)),
        *(float(step.action == action) for action in FREQUENT),
    ]


def _logit(p: float) -> float:
    return float(np.clip(np.log(max(p, 1e-3) / max(1 - p, 1e-3)), -4, 5))


#: a step that the network did not find is never surer than this: there were too few of them to fit anything
MOST_BY_RULES = 0.7
#: fitted on stories that the network had not seen, one for each of the traits
WEIGHTS = (
    0.403, 0.277, 0.987, 1.337, -1.394, -1.482, -0.612, -0.406, -1.357, -0.747, -0.488, -0.422, 0.141, -0.765, 0.131,
    0.012, -0.223, 0.025, 0.075, 0.015, 0.17, -1.195, -0.122, 0.325, -0.514, -0.423, -1.285, -0.075, -0.744, 0.656,
    -0.26, 0.133, -0.831, -0.729, -0.302, 0.328, -0.693, -0.096, -0.982,
)  # fmt: skip


#: the place of the trait "fasteners of which nobody said what they hold"
NAMELESS = 9


def named(told: Sequence[float]) -> list[float]:
    """The same traits as if the part that fasteners hold had been said: where it was not, it is asked by itself."""
    return [0.0 if n == NAMELESS else value for n, value in enumerate(told)]


def right(told: Sequence[float], alone: bool) -> float:
    """The share of drafts with these traits that are right, 0 to 1; ``alone`` is one that only the rules read."""
    share = 1 / (1 + float(np.exp(-np.dot(WEIGHTS, told))))
    return round(min(share, MOST_BY_RULES) if alone else share, 2)
