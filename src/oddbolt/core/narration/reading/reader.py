"""One sentence read by rules alone: drafted steps, cautions and findings.

The clauses of the sentence go, in order, to the module that knows their sort; all of them write into one
:class:`SentenceState`.
"""

from __future__ import annotations

import re

from oddbolt.core.narration.draft import DraftStep, Piece, Reading, evolve
from oddbolt.core.narration.language.clauses import Clause, clauses
from oddbolt.core.narration.language.grammar import AUXILIARIES, DETERMINERS, PRONOUNS, SUBJECTS
from oddbolt.core.narration.language.nouns import Noun
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.tokens import items
from oddbolt.core.narration.language.vocabulary import Vocabulary, shipped
from oddbolt.core.narration.memory import Memory, singular
from oddbolt.core.narration.reading.amendments import apply_marks
from oddbolt.core.narration.reading.bench_commands import EITHER, aside_in
from oddbolt.core.narration.reading.cautions_and_findings import cautions_in, findings_in
from oddbolt.core.narration.reading.fastener_groups import spread
from oddbolt.core.narration.reading.mentions import mentions
from oddbolt.core.narration.reading.non_steps import garbled, heading, mentioned_route, variant_in
from oddbolt.core.narration.reading.preparation import prepares, softens, tools_and_waits
from oddbolt.core.narration.reading.reassembly import BACK, puts_back, set_torque
from oddbolt.core.narration.reading.removals import act_of, acts, do, tabs_are_clips
from oddbolt.core.narration.reading.sentence_state import FASTENERS, LATCH_WORDS, PLUGS, SentenceState

#: Usual sizes of hex keys, mm (ISO 2936, from memory, unverified).
HEX_KEYS_MM = (0.9, 1.3, 1.5, 2.0, 2.5, 3.0, 4.0, 5.0, 6.0)
#: What will be done when it goes back together is no step yet.
#: "the battery can be removed without taking out the board": what may be done, not what was
MAY_BE_DONE = lazy_pattern(r"\bcan be \w+(?: \w+)? without\b")
LATER = lazy_pattern(
    r"^(?:and |so |then )?(?:when|whenever|once) (?:it|you|we|everything|putting|refitting|reassembling)\b"
    r"|\b(?:at|on|during|for) (?:re ?)?assembly\b|\bwhen (?:refitting|reassembling|putting)\b"
)
NEEDED = lazy_pattern(
    r"(?:the )?(?:tools?|equipment|bits|drivers)\b[\w ]*(?:needed|required|used)?:"
    r"|(?:for this,? )?you(?:'ll| will) need\b"
)
SUMMARY = lazy_pattern(r"(?:so |and |well )?(?:all in all|in total|altogether|to sum up|in summary|that makes)\b")


def read_by_rules(
    sentence: str, memory: Memory | None = None, vocabulary: Vocabulary | None = None, at_s: float | None = None
) -> tuple[Reading, Memory]:
    """Read one sentence after what ``memory`` holds; returns the reading and the memory after it.

    The memory passed in is not changed. ``at_s`` is the time of the sentence in s.
    """
    work = SentenceState(sentence, (memory or Memory()).copy(), vocabulary or shipped(), at_s)
    aside = aside_in(sentence, work.vocabulary)
    if aside is not None and aside.kind not in EITHER:
        return Reading(sentence, aside=aside), work.memory
    _run(work)
    return _reading(work), work.memory


def _run(work: SentenceState) -> None:
    vocabulary, memory = work.vocabulary, work.memory
    if NEEDED.match(work.low):
        return
    phase = heading(work.low, vocabulary)
    if phase:
        work.phase = memory.phase = phase
        return
    again = AGAIN.fullmatch(work.low.strip(" .!"))
    if again and memory.steps:
        _once_more(work, again)
        return
    text = work.text
    lead = re.match(r"[^:]{3,60}:", text)
    phase = heading(lead.group().lower(), vocabulary) if lead else ""
    if lead and phase:  # "Putting it back: the ring first"
        work.phase = memory.phase = phase
        text = " " * lead.end() + text[lead.end() :]
    found = items(text, vocabulary)
    if not found or garbled(found):
        return
    work.variant = variant_in(work.text)
    route = mentioned_route(work.low, found, vocabulary, work.at_s)
    if route is not None:
        work.routes.extend(route)
        return
    work.findings.extend(findings_in(work, found))
    if vocabulary.marked("done_before", work.low) or SUMMARY.match(work.low):
        return
    if work.text.rstrip().endswith("?"):
        return
    blocked = False
    read = clauses(found, text, vocabulary)
    spoken = DETERMINERS | SUBJECTS | AUXILIARIES | PRONOUNS
    work.colon = next((c.end for c in read if work.text[c.end :].lstrip().startswith(":")), 0)
    work.shorthand = not any(c.action for c in read) and not any(item.low in spoken for item in found)
    for clause in read:
        if _negated(work, clause) or (blocked and clause.linked in ("or", "and") and not _asserts(clause)):
            blocked = True
            _take_back(work, clause)
            _note_nouns(work, clause)
            continue
        blocked = False
        _read_clause(work, clause)
    spread(work)
    _result_last(work)
    _told_backwards(work)
    apply_marks(work)
    work.cautions.extend(cautions_in(work))
    memory.last_text = work.low
    if work.pending is memory.pending and work.made:
        work.pending = None
    memory.pending = work.pending


#: "same again on the other side", and nothing else
AGAIN = lazy_pattern(
    r"(?:and |then |now |so |exactly |just )*"
    r"(?:(?:the )?same(?: again| thing| there)?|repeat(?: that| this)?|likewise|ditto)"
    r"(?: on| at| for| over on)? the (?P<place>(?:other|opposite|left|right|second|back|front|far|top|bottom)"
    r"(?: hand)? (?:side|end|edge|corner|half))"
)


def _once_more(work: SentenceState, again: re.Match[str]) -> None:
    """The fasteners of the sentence before once more, at another place."""
    place = again["place"] or ""
    last = work.memory.steps[-1]
    before = [s for s in work.memory.steps[-4:] if s.said == last.said and s.joint and s.action != "peel"]
    for step in before:
        piece = Piece("place", place, *again.span("place"))
        work.append(evolve(step, place=place, said="", at_s=work.at_s, pieces=(piece,)))


#: "I put the four T8 into the tray": tidied away, not taken out
STOWED = lazy_pattern(
    r"\b(?:put|puts|drop|dropped|place|placed|keep|kept|set|lay|laid|stow|stowed|go|goes|went)\b.*"
    r"\b(?:in|into|on|onto|to) (?:the|a|my|their|its|this) (?:\w+ )?"
    r"(?:tray|mat|tin|box|bag|cup|jar|dish|compartment|bowl)\b"
)
#: a mark printed beside a socket: "J4", "CN12"
MARKED = lazy_pattern(r"[A-Za-z]{1,3}\d{1,3}")
#: "the panel comes away after undoing four screws": what stands behind comes first
AFTER_DOING = lazy_pattern(r"\S\s+after (?:(?:having |first )?\w+ing\b|(?:you|we|i)(?:'ve| have)? \w+)")


def _told_backwards(work: SentenceState) -> None:
    """What was done "after undoing" something is put behind it; the fasteners held what came off."""
    match = AFTER_DOING.search(work.low)
    if match is None:
        return
    starts = [next((p.start for p in s.pieces if p.field == "action"), 0) for s in work.made]
    first = [s for s, at in zip(work.made, starts, strict=True) if at > match.start()]
    then = [s for s, at in zip(work.made, starts, strict=True) if at <= match.start()]
    if first and then:
        if first[-1].joint in FASTENERS and not first[-1].parts and then[0].action == "take out":
            first[-1] = evolve(first[-1], parts=then[0].parts)
        work.made[:] = [*first, *then]


def _result_last(work: SentenceState) -> None:
    """ "The board comes out last: remove two screws …": what is said before the colon happens after the rest."""
    if work.colon and len(work.made) > 1 and work.made[0].action == "take out":
        verb = next((p for p in work.made[0].pieces if p.field == "action"), None)
        if verb is not None and 0 < verb.end <= work.colon:
            work.made.append(work.made.pop(0))
            if work.made[0].joint in FASTENERS and not work.made[0].parts:
                work.made[0] = evolve(work.made[0], parts=work.made[-1].parts)


def _reading(work: SentenceState) -> Reading:
    steps = tuple(_finished(work, step) for step in work.made)
    work.memory.steps.extend(steps)
    for step in steps:
        if step.action in ("take out", "pry", "peel"):
            work.memory.out.update(p.lower() for p in step.parts)
    amends = tuple(work.amended.values())
    for amended in amends:
        work.memory.steps = [amended if s.ref == amended.ref else s for s in work.memory.steps]
    said = steps or amends or work.cautions or work.findings or work.renew or work.routes
    return Reading(
        text=work.text,
        aside=None if said else aside_in(work.text, work.vocabulary),
        steps=steps,
        amends=amends,
        cautions=tuple(work.cautions),
        findings=tuple(work.findings),
        renew=tuple(dict.fromkeys(work.renew)),
        routes=tuple(work.routes),
        unknown=tuple(work.unknown),
        phase=work.phase,
    )


def _finished(work: SentenceState, step: DraftStep) -> DraftStep:
    if step.action == "unscrew" and not step.size and work.driver[0] and step.drive in ("", work.driver[0]):
        step = evolve(step, drive=work.driver[0], size=work.driver[1])
        work.memory.drive = work.driver
    if step.action == "unscrew" and not step.drive:
        step = evolve(step, drive="unknown")
    softening = any(s.action == "soften" and s.tool == work.tool[0] for s in work.made)
    if work.tool[0] and not step.tool and step.action not in ("prepare", "soften") and not softening:
        step = evolve(step, tool=work.tool[0])
    for part in step.parts:
        if work.memory.variants.get(part.lower()) and not step.variant:
            step = evolve(step, variant=work.memory.variants[part.lower()])
    return step


def _negated(work: SentenceState, clause: Clause) -> bool:
    before = work.before_verb(clause)
    if re.match(r"(?:(?:and|so|but|now|then) )*(?:before|until)\b", before):
        return True
    if work.low[: clause.verb_span[0]].rstrip().endswith("without") or MAY_BE_DONE.search(work.low):
        return True
    gerund = not before.strip() and clause.verb.split()[:1] and clause.verb.split()[0].endswith("ing")
    if gerund and re.search(r"\b(?:is|was|isn't|wasn't|takes|means)\b", clause.text):
        return True
    if re.search(r"\b(?:to pieces|to bits)\b", clause.text):
        return True
    if (
        clause.action in ("place", "fasten", "connect", "apply")
        and work.memory.phase != "back"
        and LATER.search(work.low)
    ):
        return True
    if clause.action in ("place", "fasten", "connect", "apply") and re.match(
        r"(?:and |so |but )?(?:when|once|after|if)\b", before
    ):
        return True
    if any(q.unit == "time" for q in clause.quantities) and clause.light in ("leave", "let", "wait"):
        return False
    match = work.vocabulary.marked("caution_lead", before)
    if match and not before.startswith("with those"):
        return True
    return (
        bool(work.vocabulary.marked("not_now", before))
        or (clause.voice == "none" and bool(work.vocabulary.marked("stays", clause.text)))
        or bool(work.vocabulary.marked("stays", before))
    )


def _take_back(work: SentenceState, clause: Clause) -> None:
    """A group only spoken of is no step if the speaker leaves it alone ("I won't bother removing that")."""
    last = work.made[-1] if work.made else None
    if "already" in clause.text:  # "I've taken two of them out already": they are loose all the same
        return
    if last is None or last.ref not in work.memory.only_mentioned or not clause.action:
        return
    if any(n.pronoun or n.kind == last.joint for n in clause.objects) and not clause.purpose:
        work.made.pop()


def _asserts(clause: Clause) -> bool:
    return bool({"i", "we", "now"} & set(clause.text.split()[:3]))


def _read_clause(work: SentenceState, clause: Clause) -> None:
    for noun in (*clause.subjects, *clause.objects, *(n for _, n in clause.placed)):
        _learn(work, noun)
    if clause.action in ("", "place") and STOWED.search(clause.text):
        return
    if _tells_tool(work, clause):
        return
    tools_and_waits(work, clause)
    if any(n.pronoun in ("it", "this", "that") for n in clause.subjects) and not work.it:
        work.it = work.topic
    if prepares(work, clause) or softens(work, clause):
        _note_nouns(work, clause)
        return
    if clause.action and clause.action != "prepare":
        made = len(work.made)
        acts(work, clause)
        if re.search(r"\bby$", work.before_verb(clause).strip()) and 0 < made < len(work.made):
            work.made.insert(made - 1, work.made.pop())
    elif _carries_on(work, clause):
        _carry(work, clause)
    else:
        mentions(work, clause)
    _figures(work, clause)
    work.held_by = work.part_name(clause.subjects[0]) if clause.held and clause.subjects else ""
    if any(n.words and not n.is_place for n in clause.subjects):
        work.subjects = [n for n in clause.subjects if n.words]
    _note_nouns(work, clause)


#: "I used a 3 mm flat blade for that": said of the fasteners before
USED = lazy_pattern(r"(?:i |we |you )?(?:used|use) (?:a|an|the|my)\b.*\b(?:for|on) (?:that|those|it|them|this|these)$")


def _tells_tool(work: SentenceState, clause: Clause) -> bool:
    if not USED.match(clause.text):
        return False
    noun = next((n for n in clause.objects + clause.subjects if n.drive or n.size), None)
    last = work.last_group()
    if noun is not None and last is not None and last.action == "unscrew" and last.drive in ("", "unknown"):
        work.update(last, drive=noun.drive, size=noun.size)
    return True


def _carries_on(work: SentenceState, clause: Clause) -> bool:
    """Whether a clause without a verb goes on with the list that the verb before it began."""
    nouns = [*clause.subjects, *clause.objects]
    if work.opened and clause.voice == "none" and all(n.words for n in nouns) and nouns:
        return True
    if work.carried is None or clause.voice != "none" or clause.existential or not nouns:
        return False
    if clause.linked not in (",", "and", ",and", ",then", "then", ",andthen") or any(
        n.pronoun or not n.words or n.is_place for n in nouns
    ):
        return False
    then = "then" in clause.linked or "then" in work.low[clause.end :]
    if clause.linked == "," and not then and not re.match(r"[^.;:]*\band\b", work.low[clause.end :]):
        return False
    return all(n.definite or n.count or n.is_part or n.kind or MARKED.fullmatch(n.name) for n in nouns) and not any(
        n.is_tool and not n.is_part for n in nouns
    )


def _carry(work: SentenceState, clause: Clause) -> None:
    verb = work.carried
    assert verb is not None
    begun, made = work.made[-1] if work.made else None, len(work.made)
    carried = evolve(
        verb, objects=[*clause.subjects, *clause.objects], subjects=[], placed=clause.placed, text=verb.text
    )
    tabs_are_clips(carried, carried.objects)
    if verb.action in BACK:
        puts_back(work, carried, carried.objects)
    for noun in carried.objects if verb.action not in BACK else ():
        do(work, carried, act_of(work, carried, noun), [noun])
    added = work.made[made:]
    if (
        len(added) == 1
        and begun is not None
        and added[0].action == begun.action
        and begun.action in ("take out", "disconnect", "peel", "pry", *BACK)
    ):
        work.made.pop()
        count = None if None in (begun.count, added[0].count) else (begun.count or 0) + (added[0].count or 0)
        work.update(
            begun,
            parts=tuple(dict.fromkeys((*begun.parts, *added[0].parts))),
            pieces=(*begun.pieces, *added[0].pieces[1:]),
        )
        if count is not None and begun.action == "disconnect":
            work.update(work.made[-1], count=count)


def _learn(work: SentenceState, noun: Noun) -> None:
    known = {w for name in work.memory.parts for w in name.lower().split()}
    if noun.kind == "screw":
        for word, start, end in noun.unknown:
            if word not in known:
                work.unknown.append(Piece("word", word, start, end, 0.3))


def _note_nouns(work: SentenceState, clause: Clause) -> None:
    for noun in (
        *(n for r, n in clause.placed if r not in ("with", "using", "without")),
        *clause.subjects,
        *clause.objects,
    ):
        if noun.words and noun.count and noun.count > 1:
            work.memory.counts[singular(noun.words[-1])] = noun.count
        name = work.plug_owner(noun) if noun.kind in PLUGS else work.part_name(noun)
        if work.latch() and name.lower() in LATCH_WORDS:
            continue
        if (
            name
            and noun.kind not in ("screw", "clip", "adhesive", "tape")
            and not noun.is_tool
            and not noun.is_place
            and not noun.is_agent
            and not work.no_part(noun)
        ):
            work.memory.note_part(name)
            work.sentence_parts.append(name)
            work.topic = name


HEADS = lazy_pattern(r"\s*(?:hex(?:agon)? )?heads?\b")


def _figures(work: SentenceState, clause: Clause) -> None:
    """Lengths and torques that stand apart from the noun they belong to: "(length 16 mm)", "to 12 N·cm"."""
    group = work.last_group()
    for item in clause.quantities:
        here = group is not None and (group in work.made or group.ref in work.amended)
        if item.unit == "length" and group is not None and here and HEADS.match(work.low[item.end :]):
            work.update(group, drive="external-hex", size=f"{item.number:g}")  # "bolts with an 8 mm head"
        elif item.unit == "length" and group is not None and here and group.length_mm is None:
            long = re.match(r"\s*(?:long|in length)\b", work.low[item.end :])
            key = group.drive == "hex-socket" and item.number in HEX_KEYS_MM and not long
            if (group.drive == "external-hex" or key) and not group.size:
                work.update(group, size=f"{item.number:g}")
                continue
            piece = Piece("length_mm", item.number, item.start, item.end)
            work.update(group, length_mm=item.number, pieces=(*group.pieces, piece))
        elif item.unit == "angle" and work.memory.phase == "back":
            last = work.last_step()
            if last is not None and last.phase == "put back" and not last.note:
                work.update(last, note=f"{item.number:g}°")
        elif item.unit == "torque":
            fasten = next((s for s in reversed([*work.memory.steps, *work.made]) if s.action == "fasten"), None)
            if fasten is not None and fasten.torque_ncm is None:
                set_torque(work, fasten, item)
