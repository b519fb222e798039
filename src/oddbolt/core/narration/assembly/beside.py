"""Two readings of one sentence side by side: which step of the rules is which of the network, and what both come to."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any

from attrs import define, evolve, field

from oddbolt.core.narration.assembly import patterns
from oddbolt.core.narration.assembly.names import WHICH, may_be_held, written_out
from oddbolt.core.narration.assembly.sounds import spoken
from oddbolt.core.narration.assembly.utterance import Utterance
from oddbolt.core.narration.draft import DraftStep, Reading
from oddbolt.core.narration.language.patterns import lazy_pattern

#: verbs of the rules -> acts of the network that mean the same
ACT_OF = {
    "take out": ("out", "pry", "peel"),
    "unscrew": ("unscrew", "loosen"),
    "release": ("loosen", "unclip", "open"),
    "peel": ("peel", "out"),
    "unclip": ("unclip",),
    "disconnect": ("disconnect",),
    "desolder": ("desolder",),
    "cut": ("cut",),
    "drill": ("drill",),
    "soften": ("soften",),
    "pry": ("pry", "out"),
    "fold": ("fold", "open", "turn"),
    "place": ("place",),
    "connect": ("connect",),
    "fasten": ("fasten",),
    "apply": ("stick",),
    "press": ("roll", "place"),
    "prepare": ("isolate", "wait", "bleed", "check"),
}
#: a sentence about what was spoken of last
OF_IT = lazy_pattern(r"\W*(?:(?:and|so|now|well|yeah),? )?(?:it|that|this|they|these|those)\b")
EACH = lazy_pattern(r"\b(?:each|every)\b")
#: verb of a step -> its act, where they are called differently
VERB_ACTS = {"take out": "out", "prepare": "isolate", "apply": "stick", "press": "roll"}
BACK_VERBS = ("place", "fasten", "connect", "apply", "press")
ON_A_PART = ("take out", "pry", "peel", "fold", "release", "place")
#: what the rules give to a step that the network found, where it has nothing
FILLED = tuple("under tool agent over thread finish head torque_ncm dwell_s reuse latch place length_mm".split())
#: figures of the rules that stand against the network's
FIGURES = (*FILLED, *"parts count drive size variant joint".split())
#: acts of which the rules may take a stray word for the part that is held
LOOSE_ENDS = ("unscrew", "unclip", "loosen", "fasten", "desolder")
#: the network's name of a part, and its only count, stand before others of the rules if it is this sure of the words
SURE_NAME = 0.95
THING = lazy_pattern(
    r"\b(?:the|a|an|its|this|that|of|from|in|on|holding|holds?|secur\w+|retain\w+|fix\w+)\s+$", re.IGNORECASE
)
NOTHING = (None, "", (), "unknown")
#: figures whose words the network marked stand before those of the rules where the two found different acts
MARKED = ("parts", "count", "drive", "size", "length_mm")
FLAGS = ("ordered", "mixed", "keep_apart", "isolates_power")


@define
class Beside:
    """The steps of the rules beside those of the network: ``pairs`` by their order, ``joined`` those that were taken
    for the same act, by ref. ``stands`` names the figures of which the network's come first; ``known`` are parts that
    were spoken of, ``listed`` all words for parts as well; of the acts of ``split`` the rules read more groups."""

    rules: list[DraftStep]
    pairs: dict[str, DraftStep]
    known: set[str]
    listed: frozenset[str]
    stands: tuple[str, ...]
    split: frozenset[str]
    used: set[str] = field(factory=set)
    joined: dict[str, DraftStep] = field(factory=dict)


def beside_rules(work: Utterance, by_rules: Reading, known: set[str]) -> Beside:
    plain_rules = [evolve(s, parts=_still_there(work, s)) for s in by_rules.steps]
    rules = _without_total(plain_rules, sum(1 for s in work.steps if s.action == "unscrew"))
    pairs = _in_order(work.steps, rules)
    plain = len(pairs) == len(work.steps) == len(rules) and not spoken(work.text)
    stands = () if plain else MARKED
    listed = work.vocabulary.nouns | known
    return Beside(rules, pairs, known, listed, stands, _split(rules, work.steps))


def _still_there(work: Utterance, step: DraftStep) -> tuple[str, ...]:
    """The parts of a step of the rules, their shorthand written out; what is out and was not named again is held by no
    fasteners, unless it is told of once more: "it's held by two catches"."""
    named = tuple(written_out(p) for p in step.parts)
    last = work.memory.steps[-1] if work.memory.steps else None
    again = last is not None and last.parts == named and OF_IT.match(step.said.lower()) and not work.memory.shown
    if step.action not in LOOSE_ENDS:
        return named
    named = tuple(p for p in named if p and may_be_held(p))
    if again:
        return named
    return tuple(p for p in named if p.lower() not in work.memory.out or _in_words(p, step.said))


def _without_total(rules: Sequence[DraftStep], groups: int) -> list[DraftStep]:
    """The steps of the rules without the sum of the groups that follow it, where the network found those: "eight
    screws, five T8s and three T6s"."""
    out = list(rules)
    mine = [r for r in rules if r.action == "unscrew"]
    told = [r.count or 0 for r in mine]
    if len(mine) == groups + 1 and len(mine) > 2 and told[0] == sum(told[1:]) and not mine[0].size:
        out.remove(mine[0])
    return out


def _in_order(steps: Sequence[DraftStep], rules: Sequence[DraftStep]) -> dict[str, DraftStep]:
    """ref of a step -> the step of the rules beside it, for acts that both found equally often."""
    out: dict[str, DraftStep] = {}
    for act in {VERB_ACTS.get(s.action, s.action) for s in steps}:
        mine = [s for s in steps if VERB_ACTS.get(s.action, s.action) == act]
        theirs = [r for r in rules if act in ACT_OF.get(r.action, ())]
        if len(mine) == len(theirs):
            out |= {m.ref: t for m, t in zip(mine, theirs, strict=True)}
    return out


def _split(rules: Sequence[DraftStep], found: Sequence[DraftStep]) -> frozenset[str]:
    """The acts of which the rules read several groups, each with its count and size, where the network found fewer:
    "3x PH0 and 1x PH1"."""
    out = set()
    for action in ("unscrew", "fasten"):
        groups = [r for r in rules if r.action == action]
        told = all(g.count and g.size for g in groups)
        if told and len(groups) > max(1, sum(1 for s in found if s.action == action)):
            out.add(action)
    return frozenset(out)


def joined(step: DraftStep, beside: Beside) -> DraftStep:
    """What both read of one act. Where both found the same acts, the talk is plain and the figures of the rules stand,
    the network's fill the gaps; else the figures that ``stands`` names are the network's first. Of a step on several
    parts the network's steps each take their own part."""
    act = VERB_ACTS.get(step.action, step.action)
    rules = beside.rules
    fits = [r for r in rules if act in ACT_OF.get(r.action, ()) and (r.ref not in beside.used or len(r.parts) > 1)]
    best = next((r for r in fits if _about_same(step, r)), None)
    partner = beside.pairs.get(step.ref)
    by_order = best is None and partner is not None and partner.ref not in beside.used
    if by_order:
        best = partner
    if best is None:
        return step
    no_part = best.parts and (_made_up(step.said, best.parts[0], beside.listed) or _last(best.parts[0]) in SIDES)
    if no_part and step.action in LOOSE_ENDS:
        best = evolve(best, parts=())
    shared = len(best.parts) > 1 and len(step.parts) == 1
    first = best.ref not in beside.used
    beside.used.add(best.ref)
    beside.joined[step.ref] = best
    sure = round(step.sure + (1 - step.sure) * 0.5, 3)
    stands = () if step.action in beside.split else beside.stands
    names = [f for f in FIGURES if not (shared and f in ("parts", "count"))]
    if by_order and step.parts and not (_known(best.parts, beside.known) and not _known(step.parts, beside.known)):
        names = [f for f in names if f != "parts"]
    if step.action == "disconnect" and not step.parts and best.parts and not _in_words(best.parts[0], step.said):
        names = [f for f in names if f != "parts" or patterns.unplugged(best.parts[0])]
    changes: dict[str, Any] = {f: getattr(best, f) for f in names if getattr(best, f) not in NOTHING}
    if step.parts and best.parts and _better_named(step, best, beside.listed):
        stands = (*stands, "parts")
    of_each = step.count == 1 and (best.count or 0) > 1 and EACH.search(step.said.lower())
    if step.count and step.action not in beside.split and not of_each:  # "five plugs … behind each sits a screw"
        stands = (*stands, "count")
    stands = (*stands, *(f for f, marks in FROM_MARKS.items() if _surely_marked(step, f, marks)))
    longer = " ".join(best.parts).lower().endswith(f" {' '.join(step.parts)}".lower())
    changes = {
        f: v for f, v in changes.items() if f not in stands or getattr(step, f) in NOTHING or (f == "parts" and longer)
    }
    if step.joint not in ("", best.joint):
        changes = {f: v for f, v in changes.items() if not getattr(step, f) and f in FILLED}
    changes |= {flag: True for flag in FLAGS if getattr(best, flag)}
    if step.action == "prepare" and first:
        changes |= {"parts": best.parts, "note": best.note}
    if best.doubt and not step.doubt:
        changes["doubt"] = best.doubt
    told = [p for p in best.pieces if p.field in changes and p.end]
    unsure = [p for p in step.pieces if p.field == "count" and p.sure < 0.5 and p.value == best.count]
    mine = [p for p in step.pieces if p.field not in changes or p.field == "action" or not told or p in unsure]
    return evolve(step, **changes, pieces=(*mine, *told), sure=sure)


#: figures -> the pieces that their words make
FROM_MARKS = {"drive": "drive", "size": "drive", "length_mm": "length_mm"}
#: figures of which the network is this sure of all words stand before those of the rules
SURE_FIGURE = 0.9


def _surely_marked(step: DraftStep, figure: str, marks: str) -> bool:
    """Whether a figure of the network comes of words that it is sure of."""
    sure = [p.sure for p in step.pieces if p.field == marks]
    return bool(sure) and min(sure) >= SURE_FIGURE and getattr(step, figure) not in NOTHING


#: words for places that are no part that screws hold
SIDES = frozenset("side end edge corner".split())


def _in_words(name: str, said: str) -> bool:
    """Whether the last word of a name stands in a sentence."""
    return re.search(rf"\b{re.escape(_last(name))}(?:e?s)?\b", said.lower()) is not None


def _marked(step: DraftStep) -> float:
    """How sure the network is of the words that name the part; 0 if it marked none."""
    return min((p.sure for p in step.pieces if p.field == "parts"), default=0.0)


def _better_named(step: DraftStep, best: DraftStep, listed: frozenset[str]) -> bool:
    """Whether the network's part stands before that of the rules: another one of whose words it is nearly certain, or
    that stands in the sentence where the rules took one of a sentence before; a known word beside an unknown one; the
    fuller name ("second bracket", "its cable"); and of a list of parts the one before the screws."""
    if _last(step.parts[0]) != _last(best.parts[0]):
        from_before = _in_words(step.parts[0], step.said) and not _in_words(best.parts[0], step.said)
        if from_before or _marked(step) >= SURE_NAME:
            return True
    mine, theirs = step.parts[0].lower(), best.parts[0].lower()
    known = _unheard(theirs, listed) and not _unheard(mine, listed)
    exact = mine.split()[0] in WHICH or " its " in f" {step.said.lower()}"
    return known or (exact and mine.endswith(f" {theirs}")) or (step.action == "fasten" and len(best.parts) > 1)


def _made_up(said: str, name: str, listed: frozenset[str]) -> bool:
    """Whether a name is in no list, and no article or preposition before it in the sentence shows it to be a thing."""
    at = said.lower().find(name.lower())
    return _unheard(name, listed) and at >= 0 and THING.search(said[:at]) is None


def _unheard(name: str, listed: frozenset[str]) -> bool:
    """Whether the last word of a name is in no list and was not spoken of before."""
    low = name.lower()
    return low not in listed and low.split()[-1] not in listed


def _known(parts: tuple[str, ...], known: set[str]) -> bool:
    """Whether the first of some parts was spoken of before."""
    return bool(parts) and parts[0].lower() in known


def _about_same(step: DraftStep, other: DraftStep) -> bool:
    alike = step.joint == other.joint and step.count == other.count
    if not step.parts or not other.parts:
        return step.count == other.count or step.joint == other.joint
    mine, theirs = ({_last(p) for p in s.parts} for s in (step, other))
    return bool(mine & theirs) or (bool(step.joint) and alike)


def _last(name: str) -> str:
    """The last word of a name, in the singular."""
    return re.sub(r"s$", "", name.lower().split()[-1]) if name.split() else ""
