"""Clauses that prepare: safety, films, and glue made soft; tools and waits named on the way."""

from __future__ import annotations

import re

from oddbolt.core.narration.draft import Piece
from oddbolt.core.narration.language.clauses import Clause
from oddbolt.core.narration.language.nouns import LIGHT, Noun
from oddbolt.core.narration.language.tokens import Item
from oddbolt.core.narration.reading.sentence_state import SentenceState

#: Verbs that switch something, and what brings the mains.
SWITCHED = frozenset(
    "switch turn power shut discharge drain empty switched turned powered shuts drained emptied discharged "
    "discharges".split()
)
#: What is put on before the work.
WORN = re.compile(
    r"\b(?:gloves?|glasses|goggles|mask|respirator|strap|wrist ?band|apron|visor|coat|sleeves?|ear ?(?:muffs|plugs)"
    r"|protection)\b",
    re.IGNORECASE,
)
#: Sides of a device that are also what covers it.
COVERS = frozenset("back front rear top bottom".split())
SUPPLY = frozenset(
    "charger|mains|mains lead|mains plug|mains cable|power cord|power lead|power cable|power plug".split("|")
)


def prepares(work: SentenceState, clause: Clause) -> bool:
    if clause.action == "disconnect" and work.text[clause.end :].lstrip().startswith(":"):
        return False  # "unplug everything: …" tells what
    text, device = clause.text, work.device_words()
    nouns = [n for n in (*clause.subjects, *clause.objects) if n.name]
    if clause.action == "prepare":
        verb = clause.verb.split()[0]
        if verb.startswith(("put", "wear", "worn", "wore")):
            worn = WORN.search(work.text[clause.start : _sentence_clause_end(work, clause)])
            if worn is None or (verb.startswith("put") and clause.light != "put" and not nouns):
                return False  # "put it back on" and "worn through" prepare nothing
        parts = tuple(
            n.name
            for n in nouns
            if not n.is_tool
            and n.name.lower() not in ("strap", "power")
            and clause.verb.startswith(("make", "ensure", "check"))
        )
        note = work.text[clause.verb_span[1] : _sentence_clause_end(work, clause)].strip(" ,.")
        if clause.verb.startswith(("make", "ensure", "check")):
            match = re.search(r"(?:\bis|\bare|'s|'re|\bhas been|\bhave been)\s+(?:fully\s+)?(.+)$", note, re.IGNORECASE)
            if not match:
                return True
            off = (
                r"off|unplugged|discharged|disconnected|isolated|cold|empty|switched|powered|grounded|earthed|dead"
                r"|drained|out"
            )
            if not re.search(rf"\b({off})\b", match.group(1)):
                return True
            note = match.group(1)
        else:
            note = re.sub(r"^(?:the|a|an|your|my|some)\s+", "", note, flags=re.IGNORECASE)
            if not note:
                return True
            if clause.verb.split()[0] in SWITCHED:
                parts = tuple(work.part_name(n) for n in (*clause.subjects, *clause.objects) if work.part_name(n))
                particle = next((w for w in ("off", "down") if w in clause.text.split()), "")
                note = clause.verb if " " in clause.verb else f"{clause.verb} {particle}".strip()
        if not any(s.action == "prepare" and note in s.note for s in work.made):
            work.emit(clause, "prepare", parts=parts, note=note)
        return True
    film = next(
        (
            n
            for r, n in clause.placed
            if r in ("with", "using") and re.search(r"\b(film|tape|foam|cloth|sheet|foil)\b", n.name.lower())
        ),
        None,
    )
    if film is not None and re.match(r"(?:now |first |then |and |please )*(?:cover|protect|mask)\b", text):
        covered = [
            n.name for n in clause.objects + clause.subjects if n.name and n.name.lower() not in ("cover", "protect")
        ]
        names = (
            tuple(re.sub(r"^(?:cover|protect|mask)\s+(?:the\s+)?", "", n, flags=re.IGNORECASE) for n in covered) or ()
        )
        work.emit(clause, "prepare", parts=names, note=film.name)
        return True
    names = tuple(n.name for n in nouns)
    if nouns and clause.verb.startswith(("unplug", "disconnect")) and all(n.lower() in device for n in names):
        work.emit(clause, "prepare", parts=names, note="unplugged")
        return True
    if nouns and clause.action in ("take out", "disconnect") and all(n.lower() in SUPPLY for n in names):
        work.emit(clause, "prepare", parts=names, note="unplugged")
        return True
    if clause.verb.startswith("unplug") and clause.objects and _whole_device(work, clause.objects[0]):
        if clause.objects[0].pronoun and work.made:
            work.update(work.made[-1], note=f"{work.made[-1].note}, unplugged")
            return True
        work.emit(clause, "prepare", parts=names, note="unplugged")
        return True
    return False


def _whole_device(work: SentenceState, noun: Noun) -> bool:
    """Whether something unplugged before anything came off, that is no plug and no known part, is the device."""
    begun = any(s.action != "prepare" for s in (*work.memory.steps, *work.made))
    last = (noun.name.lower().split() or [""])[-1]
    known = any(cls == "part" for _, cls, _ in work.vocabulary.phrases.get(last, ()))
    if noun.pronoun:
        return not begun and noun.pronoun == "it" and work.pending is None and not work.memory.out
    return not begun and not noun.kind and not known


def softens(work: SentenceState, clause: Clause) -> bool:
    agent = next((n for n in (*clause.objects, *clause.subjects, *(n for _, n in clause.placed)) if n.is_agent), None)
    heating = clause.action == "soften"
    lightly = agent is not None and (
        clause.light in LIGHT - {"use", "screw", "plug", "bin", "keep"} or clause.action in ("apply", "place")
    )
    used = agent is not None and clause.light == "use" and not clause.action
    dose = [*clause.objects, *clause.subjects, *(n for r, n in clause.placed if r == "of")]
    dabbed = agent is not None and agent in dose and not clause.action
    dabbed = (
        dabbed and clause.voice == "none" and bool(re.search(r"\b(?:leave|wait|soak|let)\b", work.low[clause.end :]))
    )
    if not heating and not lightly and not used and not dabbed:
        return False
    if clause.purpose and not heating:
        return False
    if heating and clause.voice == "passive" and not clause.subjects:
        return False
    parts = [
        work.part_name(n) for n in clause.objects if not n.is_agent and not n.is_tool and not n.is_place and not n.kind
    ]
    parts += [
        work.part_name(n)
        for r, n in clause.placed
        if r
        in (
            "under",
            "underneath",
            "beneath",
            "behind",
            "of",
            "to",
            "around",
            "along",
            "on",
            "over",
            "below",
            "into",
        )
        and (n.is_part or n.pronoun)
        and not n.is_place
        and not n.is_tool
    ]
    if clause.voice == "passive":
        parts = [work.part_name(n) for n in clause.subjects if not n.is_agent]
    name = agent.is_agent if agent is not None else "heat"
    if name != "heat" and heating and clause.verb.startswith("soak"):
        name = agent.is_agent if agent else "solvent"
    places = [n.name for n in (*clause.objects, *(n for _, n in clause.placed)) if n.is_place]
    sides = [n.name.lower() for n in clause.objects if n.is_place and n.definite and n.name.lower() in COVERS]
    if sides and not any(parts):  # "warm the back … pry it off": the back is what comes off
        parts, places = sides[:1], []
        work.topic = sides[0]
    known = [p for p in parts if p] or ([work.topic] if work.topic and not work.wholly_device(work.topic) else [])
    dwell = next((q.number for q in clause.quantities if q.unit == "time"), None)
    if dwell is None and work.pending_dwell is not None:
        dwell = work.pending_dwell.number
    previous = next((s for s in reversed(work.made) if s.action == "soften"), None)
    if previous is not None and previous.agent == name:
        work.update(previous, dwell_s=previous.dwell_s or dwell)
        return True
    work.emit(
        clause,
        "soften",
        joint="adhesive",
        parts=tuple(dict.fromkeys(known[:1] or known)),
        agent=name,
        dwell_s=dwell,
        place=places[0].lower() if places else "",
        tool=agent.name.lower() if agent is not None and agent.is_tool else "",
    )
    return True


def tools_and_waits(work: SentenceState, clause: Clause) -> None:
    for relation, noun in clause.placed:
        if (
            relation in ("with", "using", "by", "through", "on")
            and noun.is_tool
            and not (relation == "on" and not noun.name.startswith("h"))
        ):
            work.tool = (noun.name.lower(), (noun.start, noun.end))
            work.driver = _driver(noun)
    for noun in clause.objects:
        if noun.is_tool and clause.light == "use" and not clause.action:
            work.tool = (noun.name.lower(), (noun.start, noun.end))
            work.driver = _driver(noun)
    alone = bool(clause.quantities) and not (clause.subjects or clause.objects or clause.placed or clause.action)
    if alone or any(
        w in work.low for w in ("wait", "leave", "soak", "let ", "give it", "for ", "sit", "dwell", "after")
    ):
        for item in clause.quantities:
            if item.unit == "time":
                _dwell(work, item)


def _driver(noun: Noun) -> tuple[str, str]:
    """Drive and size that a tool named by its size turns: "a T10 driver", "an 8 mm spanner"."""
    if noun.length_mm is not None and re.search(r"spanner|wrench|nut driver|socket", noun.name.lower()):
        return "external-hex", f"{noun.length_mm:g}"
    if noun.length_mm is not None and re.search(r"\bkeys?$", noun.name.lower()):
        return "hex-socket", f"{noun.length_mm:g}"
    return noun.drive, noun.size


def _dwell(work: SentenceState, item: Item) -> None:
    softened = next((s for s in reversed(work.made) if s.action == "soften"), None)
    if softened is not None:
        work.update(
            softened,
            dwell_s=softened.dwell_s or item.number,
            pieces=(*softened.pieces, Piece("dwell_s", item.number, item.start, item.end)),
        )
    elif work.memory.steps and work.memory.steps[-1].action == "soften" and not _will_soften(work):
        last = work.memory.steps[-1]
        if last.dwell_s is None:
            work.update(last, dwell_s=item.number)
    else:
        work.pending_dwell = item


def _will_soften(work: SentenceState) -> bool:
    return any(w in work.low for w in ("heat ", "warm ", "soak ", "isoprop", "solvent", "alcohol"))


def _sentence_clause_end(work: SentenceState, clause: Clause) -> int:
    rest = work.text[clause.verb_span[1] :]
    cut = re.search(r"[,;.]|\s(?:and\s+)?then\s", rest)
    return clause.verb_span[1] + (cut.start() if cut else len(rest))
