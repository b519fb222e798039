"""Drafts made from acts: every act of an utterance as a step, a note, an amendment or a word to the bench."""

from __future__ import annotations

import re
from itertools import pairwise

from attrs import evolve

from oddbolt.core.narration.assembly import notes, patterns, story
from oddbolt.core.narration.assembly.acts import Act, acts_in
from oddbolt.core.narration.assembly.continued import continued
from oddbolt.core.narration.assembly.counts import (
    guessed,
    may_be_a_diameter,
    may_be_a_length,
    odd_ones,
    some_each,
    told_roughly,
)
from oddbolt.core.narration.assembly.figures import number_of
from oddbolt.core.narration.assembly.names import plain_name
from oddbolt.core.narration.assembly.tallies import so_many_before
from oddbolt.core.narration.assembly.told import told_of
from oddbolt.core.narration.assembly.utterance import Utterance
from oddbolt.core.narration.draft import Aside, DraftStep, Piece
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.understanding import FASTENING, REMARKS, Span, Understood

#: act as understood -> verb of the step
VERBS = {
    "unscrew": "unscrew", "loosen": "loosen", "out": "take out", "peel": "peel", "unclip": "unclip",
    "disconnect": "disconnect", "desolder": "desolder", "cut": "cut", "drill": "drill", "soften": "soften",
    "pry": "pry", "fold": "fold", "open": "open", "turn": "turn", "bleed": "bleed", "isolate": "prepare",
    "wait": "wait", "place": "place", "connect": "connect", "fasten": "fasten", "stick": "apply", "clean": "clean",
    "roll": "press", "route": "route", "check": "check", "align": "align",
}  # fmt: skip
BACK = frozenset({"place", "connect", "fasten", "stick", "roll", "route", "align"})
APART = frozenset({"unscrew", "out", "peel", "unclip", "disconnect", "desolder", "drill", "soften", "pry"})
#: acts that belong to both ways; they are of the phase that the story is in
EITHER = frozenset({"clean", "check", "wait", "turn"})
ASIDES = {"photo": "photo", "pause": "pause", "resume": "go on", "undo": "undo"}
#: how sure a part is that only an earlier sentence named, and a count that several numbers come to
FROM_BEFORE = 0.45
WHICH_COUNT = "several numbers: which is the count?"
ROUGHLY = "told only roughly: how many are there?"
COUNT_OR_DIAMETER = "is the number before the x a count or a diameter?"
COUNT_OR_LENGTH = "is the number behind the size a count or a length?"
#: how sure a correction is that only its first word shows
BY_ITS_WORD = 0.4
#: how sure it is that what is told beside a part came along with it
WITH_IT_SURE = 0.5
ALONG = "told beside it: done as well?"
#: a sentence that only names a thing goes on with the step before, unless it is likelier than this a remark
UNSAID = 0.5
#: a sentence that tells how many each of some things told of before has
ONE_EACH = lazy_pattern(
    r"(?:(?:and|with|so|just|only|there(?:['’]s| is| are))\W+)*[\w]+ (?:[\w.]+ )?(?:screws?|bolts?|nuts?|clips?|plugs?)"
    r" (?:each|apiece|in each|on each)(?: one| of them)?[.!]?"
)
#: acts that nobody does twice to one part in a breath
TOLD_TWICE = frozenset(("take out", "disconnect", "connect", "place"))
#: an act of taking apart at least this sure ends a passage of putting back
PHASE_SURE = 0.6


def assembled(work: Utterance, heard: Understood) -> None:
    """Make drafts of what was understood; the memory of ``work`` is changed by the names and groups that come up."""
    acts = acts_in(heard)
    if not acts and patterns.CORRECTION.match(work.text.lower()):
        end = len(work.text)
        figures: dict[str, list[Span]] = {}
        for span in heard.spans:
            figures.setdefault(span.label, []).append(span)
        acts = [Act("correct", end, end, BY_ITS_WORD, figures, (0, end))]
    aside = [found.span() for found in patterns.SET_ASIDE.finditer(work.text.lower())]
    acts = [
        a
        for a in acts
        if not any(
            start <= a.start and a.end <= end and (a.action != "out" or a.start == start) for start, end in aside
        )
    ]
    acts = [one for act in _without_owners(work, _without_latches(work, acts)) for one in _each_known(work, act)]
    _without_whole(work, acts)
    work.kinds = frozenset(a.action for a in acts)
    work.starts = frozenset(a.start for a in acts)
    work.groups = sum(1 for a in acts if a.action in FASTENING)
    if not acts and not any(heard.holds(r) > UNSAID for r in REMARKS):
        step = continued(work)
        work.steps += [step] if step is not None else []
    for act in acts:
        if act.action in ASIDES:
            work.asides.append(Aside(ASIDES[act.action], at_s=work.at_s))
        elif act.action in notes.NOTED:
            notes.note(work, act)
        elif act.action == "correct":
            story.correct(work, act)
        elif act.action == "same":
            story.same_again(work, act)
        else:
            _step(work, act)
    story.done_as_announced(work)
    story.plugs_shown_are_off(work)
    _with_it(work)
    _uncovered(work)
    _held_by_these(work)
    _not_the_unplugged(work)
    _same_part(work)
    _each_once(work)
    if any(n.instead for n in work.notes):  # "sorry, 125 grams" puts right and records nothing beside it
        work.notes = [n for n in work.notes if n.instead or n.kind not in notes.NOTED]
    notes.remarks(work, heard)


def _without_latches(work: Utterance, acts: list[Act]) -> list[Act]:
    """The acts without one on plugs that stands on the lock which lets another go: "flip up the lock on the connector
    and the ribbon slides out"."""
    plugs = [a for a in acts if a.action == "disconnect" and a.start < len(work.text)]
    for lock, plug in pairwise(plugs):
        if patterns.LOCK_OF_PLUG.search(work.text[: lock.end].lower()) and not plug.spans("n"):
            if patterns.LOCK_ONLY.fullmatch(work.text[lock.end : plug.start].lower()) is None:
                continue
            plug.region = (lock.region[0], plug.region[1])
            acts = [a for a in acts if a is not lock]
    return acts


def _without_owners(work: Utterance, acts: list[Act]) -> list[Act]:
    """The acts without one on plugs that stands on the thing which others are pulled from: "six leads were taken off
    the relay" unplugs the leads, and no relay beside them."""
    owners = set()
    for act in acts:
        plugs = act.action == "disconnect" and patterns.PLUG_NOUN.search(work.words(act).lower())
        found = patterns.PLUGS_OF.match(work.text, act.end) if plugs else None
        if found is not None:
            owners |= {(b.start, b.end) for b in acts if b is not act and b.action == act.action
                       and found.start("part") <= b.start < found.end("part")}  # fmt: skip
    return [a for a in acts if a.action != "disconnect" or (a.start, a.end) not in owners]


def _without_whole(work: Utterance, acts: list[Act]) -> None:
    """Take from the first of several groups of fasteners the number that is the sum of them all: "four screws (two T8,
    two T10)"."""
    for action in FASTENING:
        groups = [a for a in acts if a.action == action and a.spans("n")]
        if len(groups) < 2 or len(groups[0].spans("n")) != 2 or any(len(g.spans("n")) != 1 for g in groups[1:]):
            continue
        told = [[number_of(s.words(work.text), work.vocabulary) or 0.0 for s in g.spans("n")] for g in groups]
        if told[0][0] == told[0][1] + sum(n[0] for n in told[1:]):
            groups[0].figures["n"] = groups[0].spans("n")[1:]


def _each_known(work: Utterance, act: Act) -> list[Act]:
    """An act of putting back on things that follow each other without a stop, each by itself: "spool shaft" of which
    spool and shaft were spoken of apart."""
    words = list(re.finditer(r"[\w'-]+", work.words(act)))
    if act.action != "place" or len(words) < 2:
        return [act]
    whole = [p.lower() for p in work.memory.parts]
    known = {*whole, *(p.split()[-1] for p in whole if p)}
    if any(p == work.words(act).lower() or p.endswith(f" {work.words(act).lower()}") for p in whole):
        return [act]
    cuts: list[list[int] | None] = [[0], *(None for _ in words)]
    for end in range(1, len(words) + 1):
        for begin in range(end):
            before = cuts[begin]
            name = work.words(act)[words[begin].start() : words[end - 1].end()].lower()
            if before is not None and cuts[end] is None and name in known:
                cuts[end] = [*before, end]
    found = cuts[-1]
    if found is None or len(found) < 3:
        return [act]
    return [
        evolve(
            act,
            start=act.start + words[a].start(),
            end=act.start + words[b - 1].end(),
            figures=act.figures if a == 0 else {},
        )
        for a, b in pairwise(found)
    ]


def _uncovered(work: Utterance) -> None:
    """What is peeled off before the fasteners of the same breath hid them, and is not what they hold: "peel the label
    off and get that last one"."""
    for n, step in enumerate(work.steps):
        if step.action != "unscrew" or step.under or len(step.parts) != 1 or step.count not in (None, 1):
            continue
        off = [s for s in work.steps[:n] if s.action == "peel" and s.parts == step.parts]
        if off and work.stands.get(off[-1].ref, 0) < work.stands.get(step.ref, 0):
            work.steps[n] = evolve(step, parts=(), under=step.parts)


def _held_by_these(work: Utterance) -> None:
    """Fasteners of which nobody said what they hold, and a part that comes off after them in the same breath: they
    held it."""
    for n, step in enumerate(work.steps):
        if step.action not in ("unscrew", "unclip") or step.parts:
            continue
        after = (s for s in work.steps[n + 1 :] if s.action in ("take out", "pry", "open", "fold") and s.parts)
        freed = next(after, None)
        if freed is not None and freed.parts[0].lower() in {u.lower() for u in step.under}:
            continue  # it hid them
        if freed is not None and not patterns.LOOSE_PARTS.search(freed.parts[0].lower()):
            work.steps[n] = evolve(step, parts=freed.parts[:1])


def _not_the_unplugged(work: Utterance) -> None:
    """Screws are not of what is only unplugged before another thing comes out, and was not named for them: "remove the
    screws, disconnect the heater and lift out the fan"."""
    for n, step in enumerate(work.steps):
        if step.action != "unscrew" or len(step.parts) != 1 or n + 2 >= len(work.steps):
            continue
        plug, freed = work.steps[n + 1], work.steps[-1]
        at = work.stands.get(plug.ref, 0)
        before = work.text[:at].lower()
        only_there = step.parts[0].lower() not in before and patterns.UNPLUG.search(before) is not None
        comes_out = freed.action == "take out" and freed.parts and freed.parts != step.parts
        if plug.action == "disconnect" and plug.parts == step.parts and only_there and comes_out:
            work.steps[n] = evolve(step, parts=freed.parts[:1])


def _with_it(work: Utterance) -> None:
    """What comes out or goes in together with a part: "the trigger falls out with its spring". It is asked."""
    for step in [s for s in work.steps if s.action in ("take out", "place") and s.parts]:
        at = work.stands.get(step.ref, len(work.text))
        found = patterns.WITH_IT.search(work.text, min(at, len(work.text)))
        name = plain_name(found["part"], "the ") if found else ""
        last = name.lower().split()[-1:] or [""]
        if not name or last[0] in patterns.BARE_PLUGS or last[0] not in work.vocabulary.nouns:
            continue
        if any(cls == "tool" for _, cls, _ in work.vocabulary.phrases.get(last[0], ())):
            continue
        if any(name.lower() in p.lower() or p.lower() in name.lower() for s in work.steps for p in s.parts):
            continue
        work.named.append(name)
        more = evolve(step, ref=work.next_ref(), parts=(name,), count=None, sure=WITH_IT_SURE, doubt=ALONG, pieces=())
        work.stands[more.ref] = found.start("part") if found else at
        work.steps.insert(work.steps.index(step) + 1, more)


def _each_once(work: Utterance) -> None:
    """Without what is told twice of one part in the same breath: "unplug the fan … and the fan's unplugged"."""
    kept: list[DraftStep] = []
    for step in work.steps:
        same = [s for s in kept if s.action == step.action and s.parts == step.parts and s.place == step.place]
        start = re.split(r"[,.;:]", work.text[: work.stands.get(step.ref, 0)])[-1]
        same = same if len(start.split()) > 1 else []  # "shim, washer, shim"
        if step.action not in TOLD_TWICE or not step.parts or not same or step.count not in (None, same[-1].count):
            kept.append(step)
        elif step.sure > same[-1].sure:
            kept[kept.index(same[-1])] = evolve(step, count=same[-1].count)
    work.steps = kept


def _same_part(work: Utterance) -> None:
    """A second group of screws in the same breath, of which nobody said what it holds, holds what the first holds."""
    for n, step in enumerate(work.steps[1:], 1):
        first = work.steps[n - 1]
        elsewhere = {*step.place.split()[-1:]} & (work.vocabulary.nouns - patterns.SIDE_NOUNS)
        if step.action == first.action and step.action in ("unscrew", "loosen", "fasten") and first.parts and not (
            step.parts or step.note or elsewhere
        ):  # fmt: skip
            between = work.text[work.stands.get(first.ref, 0) : work.stands.get(step.ref, 0)]
            if between and not patterns.SENTENCE_END.search(between):
                work.steps[n] = evolve(step, parts=first.parts[:1])


def _step(work: Utterance, act: Act) -> None:
    work.from_before = work.by_sound = work.out_now = False
    fields = told_of(work, act)
    if fields is None:
        return
    memory = work.memory
    back = act.action in BACK or (memory.phase == "back" and act.action in EITHER)
    step = DraftStep(
        VERBS[act.action],
        at_s=work.at_s,
        said=work.text.strip(),
        sure=round(act.sure, 3),
        phase="put back" if back else "",
        ref=work.next_ref(),
        **{k: v for k, v in fields.items() if v not in (None, "", ())},
    )
    if work.out_now:
        work.as_announced.add(step.ref)
    pieces = _pieces(work, act, step)
    if (work.from_before or work.by_sound) and step.parts and act.action != "isolate":
        pieces.append(Piece("parts", step.parts[0], 0, 0, FROM_BEFORE))
    if step.count and ONE_EACH.fullmatch(work.text.lower().strip()):  # "it sits on two brackets". "One bolt each."
        step = evolve(step, count=step.count * so_many_before(memory.last_text, work.vocabulary))
    why = _doubt_of_count(work, act, step.count) if step.count is not None and act.action in FASTENING else ""
    if why == WHICH_COUNT or (step.count and (some_each(work, act) or odd_ones(work, act))):
        pieces.append(Piece("count", step.count, 0, 0, FROM_BEFORE))
    step = evolve(step, pieces=tuple(pieces), doubt=why or step.doubt)
    told = story.told_again(work, step)
    if told is None:
        return
    step = told
    story.implied(work, step)
    story.freed(work, step)
    work.stands[step.ref] = act.start
    work.steps.append(step)
    _remember(work, act, step)


def _doubt_of_count(work: Utterance, act: Act, many: int) -> str:
    """What is to be asked of the count of fasteners; "" if nothing is."""
    if guessed(work, act):
        return WHICH_COUNT
    if may_be_a_length(work, act):
        return COUNT_OR_LENGTH
    if may_be_a_diameter(work, act, many):
        return COUNT_OR_DIAMETER
    return ROUGHLY if told_roughly(work, act, many) else ""


def _remember(work: Utterance, act: Act, step: DraftStep) -> None:
    memory = work.memory
    if act.action in BACK:
        memory.phase = "back"
    elif act.action in APART and act.sure > PHASE_SURE and not any(s.phase == "put back" for s in work.steps):
        memory.phase = "apart" if memory.phase == "back" else memory.phase
    if act.action in ("out", "pry", "peel"):
        memory.out.update(p.lower() for p in step.parts)
    elif act.action == "place":
        memory.out.difference_update(p.lower() for p in step.parts)
    elif act.action in ("unscrew", "unclip", "loosen", "desolder") and step.parts:
        memory.holding = step.parts[0]


FIGURES = {
    "n": "count", "size": "drive", "len": "length_mm", "held": "parts", "under": "under", "at": "place",
    "with": "agent",
}  # fmt: skip


def _pieces(work: Utterance, act: Act, step: DraftStep) -> list[Piece]:
    """The understood pieces with their words, for the say line."""
    on_words = act.start < len(work.text)
    names_part = step.parts and on_words and (not step.joint or act.action in ("disconnect", "cut"))
    if names_part:
        out = [
            Piece("action", step.action, 0, 0, act.sure),
            Piece("parts", ", ".join(step.parts), act.start, act.end, act.sure),
        ]
    else:
        at = (act.start, act.end) if on_words else (0, 0)
        out = [Piece("action", step.action, *at, act.sure)]
    for role, name in FIGURES.items():
        value = getattr(step, name)
        if not value:
            continue
        if role == "size":
            value = " ".join(filter(None, (step.drive, step.size)))
        shown = ", ".join(value) if isinstance(value, tuple) else value
        out += [Piece(name, shown, s.start, s.end, s.sure) for s in act.spans(role)]
    return out
