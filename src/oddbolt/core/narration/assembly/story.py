"""An utterance held against the story so far: what was announced, corrected, said again."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any

from attrs import evolve

from oddbolt.core.narration.assembly import patterns
from oddbolt.core.narration.assembly.acts import Act
from oddbolt.core.narration.assembly.continued import ONE, names_before, other_one
from oddbolt.core.narration.assembly.counts import count, some_of_them
from oddbolt.core.narration.assembly.fasteners import fastened, with_letters
from oddbolt.core.narration.assembly.figures import WORDS, drive_of, length_of, number_of, quantities
from oddbolt.core.narration.assembly.names import WHICH, plain_name
from oddbolt.core.narration.assembly.tallies import numbers_in
from oddbolt.core.narration.assembly.utterance import Utterance
from oddbolt.core.narration.draft import Aside, DraftNote, DraftStep
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.tokens import Item, items
from oddbolt.core.narration.part_facts import facts_in, without_package
from oddbolt.core.narration.understanding import Span, Understood
from oddbolt.core.reference.joint_kinds import ids_where
from oddbolt.core.reference.tables import drives

TOLD_BEFORE = ("count", "drive", "size", "length_mm", "thread", "parts", "place", "under")
#: how sure it is that screws announced are out when what they hold comes off
IMPLIED = 0.7
#: doubts of a step that was only expected, and of one that was said before
HOPED = "said that it should: is it done?"
TWICE = "said before: done again?"
SHOWN = "said where they are: are they undone?"
#: words that tell of another thing of the same name
ANOTHER = lazy_pattern(r"\b(?:another|other|second|third|next|again|also|too|more|both|one more)\b")
#: words that point at a single fastener, or at several, spoken of before
THE_ONE = lazy_pattern(r"\b(?:the|that) (?:\w+ )?(?:screw|bolt|nut)\b")
THOSE = lazy_pattern(r"\b(?:they|them|those|these|all|both|the (?:\w+ ){0,2}(?:screws|bolts|nuts)|lot|em)\b")
#: a sentence that says no more than that
OUT_ALONE = lazy_pattern(
    r"(?:(?:and|now|okay|ok|so|right),? )?(?:(?:it|that|they)(?:['’](?:s|re)| is| are) )?(?:out|off|gone)[.!]?"
)
#: words that say that such are out: "they're out", "I took them all out", "all six gone"
OUT_NOW = lazy_pattern(
    r"\b(?:they|them|those|these|all|both|em)(?:['’]re)?(?:,? \w+){0,4}?,? (?:out|off|gone|done|undone|removed)\b"
)
#: words after which nothing is done yet
NOT_DONE = lazy_pattern(r"\b(?:don'?t|do not|never|not|would|you['’]d|could|should|must|later|if you|unless)\b")
#: what a correction says that it was not: "not T8", "it wasn't two", "instead of the M3"
_CODE = r"(?:[a-z]{1,2}[ -]?\d+\w*|\d+(?:[.,]\d+)?(?: ?mm)?)"
WAS_NOT = lazy_pattern(
    rf"(?:\bnot|n[’']t|\binstead of|\brather than|\bi said)\s+(?:(?:a|an|the|of)\s+)?(?:{_CODE}|{WORDS})"
    r"(?: (?:screws?|bolts?|nuts?|clips?|plugs?|wires?|mm|mil))?\b",
    re.IGNORECASE,
)
#: a correction that is about things that are counted: "there had been four"
OF_SEVERAL = lazy_pattern(r"\bthere(?:['’]s| is| are| was| were| had been)\b|\bof (?:them|those|these)\b")
HEX_HEAD = lazy_pattern(r"\bhex(?:agon)?[ -]heads?\b", re.IGNORECASE)
#: words for a unit of time, and how many s it has
UNITS_OF_TIME = (("hour", 3600.0), ("min", 60.0))
#: what a correction counts, and no value of a part
COUNTS_THINGS = lazy_pattern(
    r"\b(?:screws?|bolts?|nuts?|clips?|catch(?:es)?|plugs?|connectors?|wires?|leads?|tabs?|hooks?|feet"
    r"|of (?:them|those|these))\b"
)
#: letters and figures that may be a marking
MARKING = lazy_pattern(r"\b(?=[A-Z-]*\d)(?=\d*[A-Z])[A-Z0-9][A-Z0-9-]{2,}\b")
ONCE = frozenset(("take out", "disconnect", "peel", "pry"))
BARE_PLUG = lazy_pattern(r"ribbon|plug|cable|lead|connector|flex|flat cable")
#: as many steps back may a group have been told that is told again
RECENT = 3
#: how sure screws are that were shown in one sentence and out in the next
SETTLED = 0.9
#: how sure fasteners are that were shown and whose part came off
FREED = 0.85


def announce(work: Utterance, heard: Understood) -> None:
    """Remember screws that are only spoken of, until they are done."""
    figures: dict[str, list[Span]] = {}
    for span in heard.spans:
        figures.setdefault(span.label, []).append(span)
    if not figures.get("size") and not (figures.get("n") and patterns.SCREWS.search(work.text.lower())):
        return
    whole = Act("unscrew", 0, len(work.text), IMPLIED, figures, (0, len(work.text)))
    fields = fastened(work, whole)
    if some_announced(work, fields["under"]):
        return
    if not fields["parts"] and work.memory.shown and patterns.IT_IS_HELD.match(work.text.lower()):
        fields["parts"] = (work.memory.shown,)
    if not fields.get("drive") and patterns.SAME.search(work.text.lower()):
        fields["drive"], fields["size"] = work.memory.drive
    fields["drive"] = fields.get("drive") or "unknown"
    work.memory.announced = DraftStep("unscrew", **{k: v for k, v in fields.items() if v not in (None, "", ())})


def some_announced(work: Utterance, under: tuple[str, ...]) -> bool:
    """Whether it is only told where some of the fasteners announced are, which stay announced: "two of them are under
    the feet"."""
    told, low = work.memory.announced, work.text.lower()
    if told is None or not some_of_them(low) or OUT_NOW.search(low):
        return False
    work.memory.announced = evolve(told, under=told.under or under)
    return True


def with_announced(work: Utterance, fields: dict[str, Any]) -> None:
    """Fill in what was announced of these screws; some of them done leaves the rest announced."""
    told = work.memory.announced
    if told is None or (fields["size"] and told.size and fields["size"] != told.size):
        return
    low = work.text.lower()
    if told.count and fields["count"] in (None, told.count) and OUT_NOW.search(low) and not NOT_DONE.search(low):
        work.out_now = True
    some = bool(told.count and fields["count"] and fields["count"] < told.count)
    if not some and fields["count"] not in (None, told.count) and told.count is not None:
        return
    for name in TOLD_BEFORE:
        if not fields.get(name) and not (some and name == "under"):
            fields[name] = getattr(told, name)
    work.memory.announced = evolve(told, count=(told.count or 0) - fields["count"]) if some else None


def done_as_shown(work: Utterance, fields: dict[str, Any]) -> bool:
    """Whether these are the screws that the sentence before showed, and that were drafted there: counted once. Their
    doubt is settled."""
    last = next((s for s in reversed(work.memory.steps[-RECENT:]) if s.action == "unscrew"), None)
    if last is not None and fields["count"] and fields["count"] == last.count and _of_another(work, fields["parts"]):
        fields["parts"] = last.parts
    elif work.steps:
        return False
    if last is None or (fields["parts"] and last.parts and not alike(fields["parts"][0], last.parts[0])):
        return False
    elsewhere = (
        last.place and (fields["place"] or (fields["parts"] and not last.parts)) and fields["place"] != last.place
    )
    low = work.text.lower()
    meant = THOSE.search(low) or (last.count == 1 and THE_ONE.search(low))
    if elsewhere or ANOTHER.search(low) or (fields["count"] is None and not meant):
        return False
    said = last.said.lower()
    if bool(patterns.NUT.search(low)) != bool(patterns.NUT.search(said)) and "screw" in low + said:
        return False
    told = {n: fields[n] for n in ("drive", "size", "length_mm", "parts") if fields.get(n) and not _has(last, n)}
    again = any(fields[n] and _has(last, n) and fields[n] != getattr(last, n) for n in ("size", "length_mm"))
    same = fields["count"] == last.count or (fields["count"] is None and last is work.memory.steps[-1])
    if again or not same or not last.count:
        return False
    bare = not _has(last, "drive") and last.said.strip() != work.text.strip()
    shown = patterns.SHOWN.search(said) or (last.doubt and patterns.HELD_BY.search(said))
    if not (bare and told) and not (shown and not told):
        return False
    work.memory.announced = None
    work.amends.append(evolve(last, **told, doubt="", sure=max(last.sure, SETTLED), corrects=tuple(told) or ("doubt",)))
    return True


def shown_are_out(work: Utterance, act: Act) -> bool:
    """Whether "they" that come out are the fasteners that the sentence before told of, and that are drafted in doubt:
    their doubt is settled, and nothing else came out."""
    last = work.memory.steps[-1] if work.memory.steps and not work.steps else None
    if last is None or last.action != "unscrew" or not last.doubt:
        return False
    low = work.text.lower()
    alone = OUT_ALONE.fullmatch(low.strip()) is not None
    if not patterns.HELD_BY.search(last.said.lower()) or not (alone or THOSE.search(low)) or NOT_DONE.search(low):
        return False
    if (last.count == 1 and not alone) or (re.match(r"(?:and |so )?both\b", low) and last.count not in (None, 2)):
        return False
    if not alone and plain_name(work.words(act)) and not THOSE.fullmatch(work.words(act).lower()):
        return False
    work.memory.announced = None
    work.amends.append(evolve(last, doubt="", sure=max(last.sure, SETTLED), corrects=("doubt",)))
    return True


#: words that say that several plugs shown before are off: "pop both of those", "those two come off"
PLUGS_OFF = lazy_pattern(
    r"\b(?:pop(?:ped)?|pull(?:ed)?|unplug(?:ged)?|disconnect(?:ed)?|undo|undid|take|took|flip(?:ped)?|lift(?:ed)?"
    r"|release[sd]?|unhook(?:ed)?) (?P<n>both|all|these two|those two|all three|these|those|them)\b"
    r"(?: of (?:those|them|these))?(?! (?:screws|bolts|nuts|clips|tabs|the)\b)"
)


def plugs_shown_are_off(work: Utterance) -> None:
    """The plugs that were shown a sentence before and asked, of which the words say that they are off."""
    found = PLUGS_OFF.search(work.text.lower())
    shown = []
    for step in reversed(work.memory.steps[-RECENT:]):
        if step.action != "disconnect" or not step.doubt or step.said.lower() != work.memory.last_text.strip().lower():
            break
        shown.append(step)
    if found is None or work.memory.announced or any(s.action in ("unscrew", "unclip") for s in work.steps):
        return
    many = sum(s.count or 1 for s in shown)
    if many < 2 or NOT_DONE.search(work.text.lower()):
        return
    if many != 2 and found["n"] in ("both", "these two", "those two"):
        return
    for step in reversed(shown):
        work.amends.append(evolve(step, doubt="", sure=max(step.sure, SETTLED), corrects=("doubt",)))


def freed(work: Utterance, step: DraftStep) -> None:
    """Fasteners of which it was only said where they are, and whose part comes off now, are undone."""
    if step.action not in ("take out", "pry", "open") or not step.parts or step.phase:
        return
    for last in work.memory.steps[-RECENT:]:
        mine = last.action in ("unscrew", "unclip") and last.doubt == SHOWN and last.parts
        if mine and alike(last.parts[0], step.parts[0]):
            work.amends.append(evolve(last, doubt="", sure=max(last.sure, FREED), corrects=("doubt",)))


#: screws told of as known: "the six screws", and not whose they are
THE_SCREWS = lazy_pattern(
    r"\bthe (?:\w+ )?(?:screws|bolts|nuts)\b(?! (?:of|from|in|on|under|for|hold\w*|that|which|secur\w+|retain\w+)\b)"
)


def _of_another(work: Utterance, parts: tuple[str, ...]) -> bool:
    """Whether the part of known screws is but that of an act before them: "pop the antennas off and undo the six
    screws"."""
    found = THE_SCREWS.search(work.text.lower())
    if found is None or len(parts) != 1:
        return False
    last = parts[0].lower().split()[-1]
    return last in work.text[: found.start()].lower() and last not in work.text[found.end() :].lower()


def _has(step: DraftStep, name: str) -> bool:
    return getattr(step, name) not in (None, "", (), "unknown")


def told_again(work: Utterance, step: DraftStep) -> DraftStep | None:
    """A step that was told a moment ago: one that was expected then is done now and counted once (None); else it is in
    doubt, unless the words tell of another thing of the name."""
    if step.action not in ONCE or not step.parts or ANOTHER.search(work.text.lower()):
        return step
    before = [s for s in work.memory.steps[-4:] if s.action == step.action and called_alike(s, step) and not s.phase]
    before = [s for s in before if s.doubt == SHOWN or not _only_its_plug(s, step)]
    if not before or step.phase:
        return step
    if before[-1].doubt in (HOPED, SHOWN):
        work.amends.append(evolve(before[-1], doubt="", sure=max(before[-1].sure, SETTLED), corrects=("doubt",)))
        return None
    return evolve(step, doubt=step.doubt or TWICE)


def _only_its_plug(before: DraftStep, step: DraftStep) -> bool:
    return BARE_PLUG.fullmatch(step.parts[0].lower()) is not None and step.parts[0].lower() != before.parts[0].lower()


def called_alike(before: DraftStep, step: DraftStep) -> bool:
    """Whether a part is called as before, or by the last word of that name alone."""
    if not before.parts or not step.parts:
        return False
    one, other = before.parts[0].lower(), step.parts[0].lower()
    if BARE_PLUG.fullmatch(other) and re.search(rf"\b{other}\b", before.said.lower()):
        return True  # "the display has a ribbon". "Pull the ribbon."
    return one == other or (" " not in other and one.split()[-1] == other)


def done_as_announced(work: Utterance) -> None:
    """Screws announced before, of which the words say only that they are out: "I take them all out"."""
    told = work.memory.announced
    if told is None or any(s.action in ("unscrew", "loosen") for s in work.steps):
        return
    if patterns.THEM_OUT.search(work.text.lower()) is None or NOT_DONE.search(work.text.lower()):
        return
    work.memory.announced = None
    step = evolve(told, at_s=work.at_s, said=work.text.strip(), ref=work.next_ref(), sure=SETTLED)
    work.as_announced.add(step.ref)
    work.steps.insert(0, step)


def implied(work: Utterance, step: DraftStep) -> None:
    """Screws announced and never said to be out are out when what they hold comes off; that is doubtful."""
    told = work.memory.announced
    if told is None or step.action not in ("take out", "pry", "open") or work.kinds & {"unscrew", "drill"}:
        return
    if told.parts and step.parts and not alike(told.parts[0], step.parts[0]):
        return
    work.memory.announced = None
    work.steps.append(
        evolve(
            told,
            parts=told.parts or step.parts[:1],
            at_s=work.at_s,
            said=work.text.strip(),
            ref=work.next_ref(),
            sure=IMPLIED,
            doubt="announced, not said to be done",
        )
    )


def correct(work: Utterance, act: Act) -> None:
    """The last step with what a spoken correction puts right."""
    done = [s for s in (*work.memory.steps[-3:], *work.steps) if s.parts]
    name = _other_name(work, done[-1].parts[0]) if done and not act.spans("size") and not act.spans("len") else ""
    if name:
        before, out = done[-1].parts[0].lower(), work.memory.out
        if before in out:
            out.remove(before)
            out.add(name.lower())
        work.amends.append(evolve(done[-1], parts=(name,), corrects=("parts",)))
        work.memory.note_part(name)
        return
    said = work.text.strip()
    work, act = _without_what_was_not(work, act)
    if work.memory.noted is not None and not (act.spans("size") or COUNTS_THINGS.search(work.text.lower())):
        _note_put_right(work, act, work.memory.noted, said)
        return
    groups = [s for s in (*work.memory.steps[-6:], *work.steps) if s.joint or s.dwell_s]
    if not groups:
        return
    of_screws = act.spans("size") or act.spans("len") or patterns.SCREWS.search(work.text.lower())
    threaded = (s for s in reversed(groups) if s.joint in ids_where("threaded"))
    counted = (s for s in reversed(groups) if s.count)
    last = next(threaded if of_screws else counted if OF_SEVERAL.search(work.text.lower()) else iter(()), groups[-1])
    latch = _latch(work, act)
    if latch and groups[-1].action == "disconnect":
        work.amends.append(evolve(groups[-1], latch=latch, corrects=("latch",)))
        return
    changes = _told(work, act, last)
    if changes:
        work.amends.append(evolve(last, **changes, corrects=tuple(changes), said=last.said))


def _without_what_was_not(work: Utterance, act: Act) -> tuple[Utterance, Act]:
    """The utterance and the act without the figures of which a correction says that it was not they: "not T8, T9"."""
    off = [found.span() for found in WAS_NOT.finditer(work.text)]
    if not off:
        return work, act
    text = WAS_NOT.sub(lambda found: " " * len(found.group()), work.text)
    figures = {
        role: [s for s in spans if not any(s.start < end and start < s.end for start, end in off)]
        for role, spans in act.figures.items()
    }
    return evolve(work, text=text), evolve(act, figures=figures)


def _other_name(work: Utterance, before: str) -> str:
    """The part that a correction names instead of the one before: "that was the left one", "I meant the hatch"; ""
    if it names none that is known."""
    found = patterns.MEANT.search(work.text)
    words = found["part"].split() if found else []
    if not words or patterns.FASTENER.fullmatch(found["part"].lower() if found else ""):
        return ""
    if words[-1].lower() in ("one", "ones"):
        which = " ".join(words[:-1]).lower()
        base = [w for w in before.split() if w.lower() not in WHICH]
        return f"{which} {' '.join(base)}" if which in WHICH and base else ""
    last = words[-1].lower()
    known = last in work.vocabulary.nouns or any(p.lower().split()[-1] == last for p in work.memory.parts)
    name = plain_name(" ".join(words), "the ")
    return name if known and name.lower() != before.lower() else ""


def _note_put_right(work: Utterance, act: Act, noted: DraftNote, said: str) -> None:
    """What was recorded of a part last, with the value, marking or package that a correction tells; nothing if it tells
    none. Both sentences stay to be read."""
    right = evolve(noted, text=f"{noted.text} {said}", instead=noted.text, at_s=work.at_s)
    if noted.kind == "identify":
        facts = facts_in(work.text)
        spelt = MARKING.search(work.text)
        marking = work.of(act, "marking") or facts.marking or (spelt.group() if spelt else "")
        if facts.package and noted.package:
            work.notes.append(evolve(right, package=facts.package, marking="", was=noted.package))
        elif marking and noted.marking:
            work.notes.append(evolve(right, marking=without_package(marking), package="", was=noted.marking))
        return
    number = _in_unit_of(work, noted)
    if number is not None and noted.kind in ("measure", "weigh", "spec"):
        work.notes.append(evolve(right, value=number if noted.value is not None else None))


def _in_unit_of(work: Utterance, noted: DraftNote) -> float | None:
    """The number that puts a note right, in its unit; a bare one is meant in the unit that was said with the note: "1.2
    kg … no, 1.3". None if none is told."""

    def of_its_kind(text: str) -> Sequence[Item]:
        return [i for i in quantities(text, work.vocabulary) if i.unit == noted.quantity]

    told = of_its_kind(work.text)
    if told:
        return told[0].number
    plain = next((i for i in items(work.text, work.vocabulary) if i.number is not None and not i.unit), None)
    before = of_its_kind(noted.text)
    if plain is None or not before:
        return plain.number if plain is not None else None
    words = noted.text[before[-1].start : before[-1].end].split()
    for unit in (words[-1], " ".join(words[-2:])):
        meant = of_its_kind(f"{plain.number:g} {unit.lstrip('0123456789.,')}")
        if meant:
            return meant[0].number
    return None


def _latch(work: Utterance, act: Act) -> str:
    """The latch that a correction names, "no, it was a slide one"; "" where it tells a figure or names none."""
    if act.spans("size") or act.spans("len") or act.spans("n"):
        return ""
    low = work.text.lower()
    return next((kind for kind, pattern in patterns.LATCHES if pattern.search(low)), "")


def _told(work: Utterance, act: Act, last: DraftStep) -> dict[str, Any]:
    changes: dict[str, Any] = {}
    marked = work.of(act, "size")
    drive, size = drive_of(marked or work.text, work.vocabulary)
    if marked and not size:
        value = number_of(marked, work.vocabulary)
        size = with_letters(drive or last.drive, f"{value:g}") if value is not None else ""
    row = drives().get(drive or last.drive)
    if row is not None and row.prefix and size not in row.sizes:
        size = ""  # there is no such size
    if drive == "hex-socket" and HEX_HEAD.search(work.text):
        drive = "external-hex"
    changes |= {name: value for name, value in (("drive", drive), ("size", size)) if value}
    many = count(work, act)
    was = re.sub(r"\D", "", last.size)
    if many is not None and was and not marked and int(was) in numbers_in(work.text, work.vocabulary) - {many}:
        other = with_letters(last.drive, f"{many}")  # "what I said about ten: it is eight"
        changes |= {"size": other} if row is None or not row.prefix or other in row.sizes else {}
    elif many is not None:
        changes["count"] = many
    lengths = [v for s in act.spans("len") if (v := length_of(s.words(work.text), work.vocabulary)) is not None]
    if lengths:
        changes["length_mm"] = lengths[-1]
    under = tuple(n for s in act.spans("under") if (n := plain_name(s.words(work.text))))
    if under:
        changes["under"] = under
    for item in quantities(work.text, work.vocabulary):
        if item.unit == "torque":
            changes["torque_ncm"] = item.number
        elif item.unit == "length" and not lengths and not size:
            changes["length_mm"] = item.number
        elif item.unit == "time" and last.dwell_s:
            changes["dwell_s"] = item.number
    if changes.get("count") and last.dwell_s and last.count is None:  # "for two minutes". "Make it three."
        unit = next((s for word, s in UNITS_OF_TIME if word in last.said.lower()), 1.0)
        changes["dwell_s"] = changes.pop("count") * unit
    if not changes and last.action == "fasten":
        value = next((i.number for i in items(work.text, work.vocabulary) if i.number is not None), None)
        changes |= {"torque_ncm": value} if value is not None else {}
    if not changes and act.spans("at"):
        changes["place"] = work.of(act, "at").lower()
    return changes


def same_again(work: Utterance, act: Act) -> None:
    """The steps of the sentence before once more: for another part, at another place, or just again."""
    last = work.memory.steps[-1] if work.memory.steps else None
    part = plain_name(work.words(act))
    ones = ONE.search(work.text)
    if ones and last is not None and last.parts:
        part = other_one(ones.group(), names_before(work)) or part
    side = patterns.OTHER_SIDE.search(work.text.lower())
    place = ", ".join(s.words(work.text).lower() for s in act.spans("at")) or (side.group() if side else "")
    if last is None or not (part or place):
        work.asides.append(Aside("repeat", at_s=work.at_s))
        return
    for step in _of_the_same_part(work.memory.steps) or [s for s in work.memory.steps[-4:] if s.said == last.said]:
        work.steps.append(
            evolve(
                step,
                ref=work.next_ref(),
                said=work.text.strip(),
                at_s=work.at_s,
                pieces=(),
                sure=round(act.sure * 0.9, 3),
                parts=(part,) if part and step.parts else step.parts,
                place=place or step.place,
            )
        )


def _of_the_same_part(steps: Sequence[DraftStep]) -> list[DraftStep]:
    """The last steps that were all on one part of several, "left arm"; [] if the last was on none."""
    out: list[DraftStep] = []
    for step in reversed(steps[-6:]):
        name = step.parts[0].lower() if step.parts else ""
        if not name.startswith(tuple(f"{w} " for w in WHICH)) or (out and name != out[-1].parts[0].lower()):
            break
        out.append(step)
    return out[::-1]


def alike(one: str, other: str) -> bool:
    """Whether two names may mean the same part."""
    a, b = one.lower().split(), other.lower().split()
    return bool(a and b) and (a == b or a[-1] == b[-1])
