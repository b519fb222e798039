"""What each act tells of a step: its part, count, drive, time, agent … as the words around it say."""

from __future__ import annotations

from typing import Any

from attrs import evolve

from oddbolt.core.narration.assembly import patterns, story
from oddbolt.core.narration.assembly.acts import Act
from oddbolt.core.narration.assembly.counts import count
from oddbolt.core.narration.assembly.fasteners import fastened
from oddbolt.core.narration.assembly.figures import drive_of, number_of, quantities
from oddbolt.core.narration.assembly.names import DETERMINED, full_name, plain_name
from oddbolt.core.narration.assembly.utterance import Utterance
from oddbolt.core.narration.draft import DraftStep
from oddbolt.core.narration.language.tokens import items
from oddbolt.core.narration.memory import PLURALS, singular
from oddbolt.core.narration.renewal import renewal

Fields = dict[str, Any]
#: acts that are done to all of a thing where no number is told
OF_ALL = frozenset({"out", "place", "peel", "pry"})
#: acts that may stand without an object
NEEDLESS = frozenset({"turn", "check", "clean", "align", "route"})


def told_of(work: Utterance, act: Act) -> Fields | None:
    """The fields of the step that an act comes to; None if it adds nothing to a step that is there."""
    return READERS.get(act.action, _thing)(work, act)


def _out(work: Utterance, act: Act) -> Fields | None:
    return None if story.shown_are_out(work, act) else _thing(work, act)


def _thing(work: Utterance, act: Act) -> Fields:
    """An act on a named part: out, pried, folded, placed, routed …"""
    part = (work.renewed(act) if act.action == "place" else "") or _of_edge(work, act) or work.object(act)
    if not part and act.action not in NEEDLESS:
        part = work.topic(act.start)
    over = tuple(n for s in act.spans("over") if (n := plain_name(s.words(work.text))))
    many = count(work, act) or (_as_many(work, act) if act.action in OF_ALL else None)
    return {
        "parts": (part,) if part else (),
        "count": many,
        "over": over,
        "reuse": _renewed(work, act),
        **work.where(act),
    }


def _of_edge(work: Utterance, act: Act) -> str:
    """The part whose edge is heated or pried: the one that was just said to be glued, or the one heated before; "" if
    the words are no bare edge, or nothing was said."""
    if act.action not in ("soften", "pry") or not patterns.EDGES.fullmatch(work.words(act).strip().lower()):
        return ""
    warmed = [s.parts[0] for s in (*work.memory.steps[-2:], *work.steps) if s.action == "soften" and s.parts]
    part = work.memory.shown or next((p for p in reversed(warmed) if not patterns.EDGES.fullmatch(p.lower())), "")
    work.memory.note_part(part)
    return part


def _renewed(work: Utterance, act: Act) -> str:
    """What is told of using a thing again: "renew" if it is not, "" otherwise. One act has what any clause tells."""
    told = renewal(work.text if len(work.starts) == 1 else work.region(act))
    return "renew" if told == "renew" or (act.spans("renew") and told != "reuse") else ""


def _as_many(work: Utterance, act: Act) -> int | None:
    """How many a plural is of which nobody said it: as many as were told before, "four feet … the feet back on"; None
    where some of them may be meant."""
    words = work.words(act).lower().strip(" .,;:")
    last = words.split()[-1:] or [""]
    plural = last[0] in PLURALS or (last[0].endswith("s") and not last[0].endswith("ss"))
    if not plural or last[0] in patterns.BARE_PLUGS or act.spans("n") or patterns.SOME.search(work.region(act).lower()):
        return None
    noun = singular(words)
    return work.memory.many.get(noun, work.memory.counts.get(noun)) or None


def _unscrew(work: Utterance, act: Act) -> Fields | None:
    fields = fastened(work, act)
    if story.some_announced(work, fields["under"]):
        return None
    if story.done_as_shown(work, fields):
        return None
    story.with_announced(work, fields)
    region = work.region(act).lower()
    _its_part(work, act, fields)
    if not fields["drive"] and patterns.SAME.search(region):
        fields["drive"], fields["size"] = work.memory.drive
    if fields["drive"]:
        work.memory.drive = (fields["drive"], fields["size"])
    _nuts_have_flats(work, act, fields)
    fields["drive"] = fields["drive"] or "unknown"
    return _with_noun(work, act, fields)


def _nuts_have_flats(work: Utterance, act: Act, fields: Fields) -> None:
    """The size of a nut of which no drive was told is its width across flats; a hexagon nut has no socket."""
    told = fields["drive"] == "hex-socket" or (fields["drive"] in ("", "unknown") and fields["size"])
    if told and patterns.NUT.search(work.words(act).lower()):
        fields["drive"] = "external-hex"


def _its_part(work: Utterance, act: Act, fields: Fields) -> None:
    """Where nobody said what the fasteners hold but "its" or "this" points at it: what was spoken of last."""
    shown = work.memory.shown and patterns.IT_IS_HELD.match(work.text.lower())
    if not fields["parts"] and (shown or patterns.ITS.search(work.region(act).lower())):
        topic = work.topic(act.start)
        hid = topic.lower() in {u.lower() for u in fields["under"]}
        fields["parts"] = (topic,) if topic and not hid else ()


def _with_noun(work: Utterance, act: Act, fields: Fields) -> Fields:
    """Where nobody said what the fasteners hold, at least how they were called: "union nut"."""
    noun = plain_name(work.words(act))
    if not fields["parts"] and len(noun.split()) > 1:
        fields["note"] = noun
    return fields


def _loosen(work: Utterance, act: Act) -> Fields:
    fields = fastened(work, act)
    story.with_announced(work, fields)
    _nuts_have_flats(work, act, fields)
    noun = plain_name(work.words(act))
    if not fields["parts"] and noun and not patterns.FASTENER.fullmatch(noun.lower()):
        fields["parts"] = () if drive_of(noun, work.vocabulary)[0] else (full_name(noun, work.memory),)
    return _with_noun(work, act, fields)


def _fasten(work: Utterance, act: Act) -> Fields:
    fields = fastened(work, act)
    region = work.region(act)
    for item in quantities(region, work.vocabulary):
        if item.unit == "torque":
            fields["torque_ncm"] = item.number
    if patterns.ORDERED.search(region.lower()):
        fields["ordered"] = True
    if not fields["parts"] and len(plain_name(work.words(act)).split()) < 2:
        placed = [s for s in (*work.memory.steps[-4:], *work.steps) if s.action == "place" and s.parts]
        fields["parts"] = placed[-1].parts[:1] if placed else ()
        work.from_before = bool(placed) and placed[-1] not in work.steps
        if work.from_before and fields["count"]:
            like = {s.parts[0] for s in work.memory.steps if _alike_group(s, fields)}
            fields["parts"] = tuple(like) if len(like) == 1 else fields["parts"]
    fields.pop("reuse", None)
    _nuts_have_flats(work, act, fields)
    if patterns.SAME.search(region.lower()) and not fields["size"]:
        fields["drive"], fields["size"] = work.memory.drive
    if not fields["size"]:
        before = [s for s in work.memory.steps if s.action == "unscrew" and s.size and _same_screws(s, fields)]
        if before:
            fields["drive"], fields["size"] = before[-1].drive, before[-1].size
    if not fields["size"] and fields["drive"] in ("", "unknown"):
        alike = [s for s in work.memory.steps if s.size and _alike_group(s, fields)]
        mine = [s for s in alike if not fields["parts"] or story.alike(s.parts[0], fields["parts"][0])]
        sizes = {(s.drive, s.size) for s in mine}
        if fields["count"] and len(sizes) == 1:  # "the eight were put in again"
            fields["drive"], fields["size"] = sizes.pop()
    if fields["count"] is None:
        fields["count"] = _as_taken(work, act, "unscrew", fields["parts"])
    return _with_noun(work, act, fields)


def _as_taken(work: Utterance, act: Act, action: str, parts: tuple[str, ...]) -> int | None:
    """How many "the nuts" are that go back: as many as were taken from that part; None if that is not one group."""
    noun = work.words(act).lower()
    if not noun.endswith("s") or patterns.SOME.search(work.region(act).lower()):
        return None
    actions = ("unscrew", "loosen") if action == "unscrew" else (action,)
    groups = [s for s in work.memory.steps if s.action in actions and s.count and s.parts]
    of_part = [s for s in groups if parts and story.alike(s.parts[0], parts[0])]
    return of_part[0].count if len(of_part) == 1 else None


def _alike_group(step: DraftStep, fields: Fields) -> bool:
    """Whether a group taken out counts as many, and is of the size if one was told."""
    told = fields["size"] in ("", step.size) and fields["drive"] in ("", "unknown", step.drive)
    return step.action == "unscrew" and bool(step.parts) and step.count == fields["count"] and told


def _same_screws(step: DraftStep, fields: Fields) -> bool:
    """Whether screws taken out may be those now fastened: of the same part, or as many."""
    of_part = bool(step.parts and fields["parts"] and story.alike(step.parts[0], fields["parts"][0]))
    return of_part and fields["count"] in (None, step.count)


def _unclip(work: Utterance, act: Act) -> Fields:
    fields = fastened(work, act)
    noun = plain_name(work.words(act))
    clips = (
        patterns.SNAPS.fullmatch(noun.lower())
        or patterns.A_CLIP.match(work.text, act.end)
        or any(i.may.get("joint") == "clip" for i in items(noun, work.vocabulary))
    )
    if not fields["parts"] and noun and not clips:
        fields["parts"] = (full_name(noun, work.memory),)
        work.named.append(noun)
    elif not fields["parts"]:
        fields["note"] = noun if len(noun.split()) > 1 else ""
        _its_part(work, act, fields)
    return fields


def _desolder(work: Utterance, act: Act) -> Fields:
    fields = fastened(work, act)
    noun = plain_name(work.words(act))
    fields["place"] = fields["place"] or ("" if fields["parts"] else _of_what(work, act))
    if not fields["parts"]:
        bare = not noun or patterns.SOLDER_WORDS.fullmatch(noun.lower())
        name = work.topic() if bare else full_name(noun, work.memory)
        fields["parts"] = (name,) if name else ()
    return fields


def _drill(work: Utterance, act: Act) -> Fields:
    fields = fastened(work, act)
    noun = plain_name(work.words(act))
    if noun and not fields["parts"] and not patterns.DRILLED.fullmatch(noun.lower()):
        fields["parts"] = (full_name(noun, work.memory),)
    elif noun:
        fields["note"] = noun
    return fields


def _cut(work: Utterance, act: Act) -> Fields:
    fields = fastened(work, act)
    if not fields["parts"]:
        part = work.object(act)
        fields["parts"] = (part,) if part else ()
    return fields


def _disconnect(work: Utterance, act: Act) -> Fields | None:
    if "isolate" in work.kinds and patterns.POWER.fullmatch(plain_name(work.words(act)).lower()):
        return None  # "disconnect the power first"
    owner = _its_owner(work, act)
    name, held = _plug_owner(work, work.object(act)), work.held(act)
    if work.from_before and not patterns.unplugged(name):
        name = ""  # "unplug that": nobody knows what
    name = f"{owner} {name}" if owner else name
    if held and (not name or name.lower() in patterns.BARE_PLUGS or _described(work, name)):
        name = held[0]
    if (not name or _described(work, name)) and not held:
        goes = patterns.GOES_TO.search(work.region(act))
        name = (work.named_by(goes["part"], act.region[0] + goes.start("part")) if goes else "") or name
    region = work.region(act).lower()
    latch = next((kind for kind, pattern in patterns.LATCHES if pattern.search(region)), "")
    where = work.where(act)
    where["place"] = where["place"] or ("" if held else _of_what(work, act))
    return {
        "joint": "coax" if patterns.COAX.search(work.words(act).lower()) else "connector",
        "parts": (name,) if name else held,
        "count": count(work, act) or _as_many(work, act),
        "latch": latch,
        "note": "press to release" if not latch and patterns.PRESSED.search(region) else "",
        **where,
    }


def _connect(work: Utterance, act: Act) -> Fields:
    verb = patterns.PLUG_IN.match(work.text, act.start) if not DETERMINED.search(work.text[: act.start]) else None
    what = work.named_by(verb["part"], verb.start("part")) if verb is not None else work.object(act)
    name, held = _plug_owner(work, what), work.held(act)
    parts = (name,) if name else held
    many = count(work, act) or _as_taken(work, act, "disconnect", parts) or _as_many(work, act)
    return {"parts": parts, "count": many, **work.where(act)}


def _of_what(work: Utterance, act: Act) -> str:
    """The thing that wires or plugs without a name of their own are pulled from: "six leads were taken off the relay";
    "" if nobody said."""
    found = patterns.PLUGS_OF.match(work.text, act.end)
    if found is None or patterns.PLUG_NOUN.search(work.words(act).lower()) is None:
        return ""
    name = plain_name(found["part"], "the ")
    last = name.lower().split()[-1:] or [""]
    known = last[0] in work.vocabulary.nouns or any(p.lower().split()[-1] == last[0] for p in work.memory.parts if p)
    return name.lower() if known and not patterns.PLUG_NOUN.search(name.lower()) else ""


def _its_owner(work: Utterance, act: Act) -> str:
    """Whose "its cable" is: what was spoken of last; "" if the plug is called by more than that."""
    bare = plain_name(work.words(act)).lower() in patterns.BARE_PLUGS
    if not bare or patterns.JUST_ITS.search(work.text[: act.start]) is None:
        return ""
    owner = work.topic(max(0, act.start - 4))
    return "" if owner.lower().split()[-1:] and owner.lower().split()[-1] in patterns.BARE_PLUGS else owner


def _plug_owner(work: Utterance, name: str) -> str:
    """The part a plug belongs to: its own word is left off behind a known thing, a cable's or lead's is kept."""
    words = name.split()
    if len(words) < 2 or words[-1].lower() not in patterns.PLUG_WORDS:
        return name
    return name if _described(work, name) else plain_name(" ".join(words[:-1]), "the ") or words[-1]


def _described(work: Utterance, name: str) -> bool:
    """Whether the word before that for a plug only tells what it is like: "flat plugs"."""
    word = name.lower().split()[-2] if len(name.split()) > 1 else ""
    told = {cls for p, cls, _ in work.vocabulary.phrases.get(word, ()) if len(p) == 1}
    return word in patterns.LIKE or (bool(told) and not told & {"part", "place", "agent", "tool"} and "plain" in told)


def _soften(work: Utterance, act: Act) -> Fields | None:
    warmed = patterns.TOOL_WARMED.search(work.text.lower())
    if warmed is not None and warmed.start() <= act.start < warmed.end():
        return None
    heated = patterns.HEATED.match(work.words(act))
    skipped = heated.end() if heated else 0
    part = _of_edge(work, act)
    if not part and act.start < len(work.text):
        part = work.named_by(work.words(act)[skipped:], act.start + skipped)
    agents = [i.may["agent"] for i in items(work.text, work.vocabulary) if i.has("agent")]
    usual = "solvent" if patterns.SOLVENT.search(work.text.lower()) else "heat"
    warm = next((i for i in quantities(work.text, work.vocabulary) if i.unit == "temperature"), None)
    return {
        "joint": "adhesive",
        "parts": (part,) if part else (),
        "dwell_s": _time(work, act),
        "agent": agents[-1] if agents else usual,
        "note": f"{warm.number:g} °C" if warm else "",
        **work.where(act),
    }


def _time(work: Utterance, act: Act) -> float | None:
    """The time told for an act in s; two that follow each other add up ("1 min 30 s")."""
    times = [i for i in quantities(work.text, work.vocabulary) if i.unit == "time"]
    mine = [i for i in times if act.region[0] <= i.start < act.region[1]] or times
    return sum(i.number or 0.0 for i in mine[:2] if i.start <= mine[0].end + 6) if mine else None


def _wait(work: Utterance, act: Act) -> Fields | None:
    wait, last = _time(work, act), work.steps[-1] if work.steps else None
    if last is not None and last.action == "soften":
        if last.dwell_s is None and wait:
            work.steps[-1] = evolve(last, dwell_s=wait)
        return None
    return {"dwell_s": wait}


def _isolate(_work: Utterance, _act: Act) -> Fields:
    return {"isolates_power": True, "parts": ("power",)}


def _turn(work: Utterance, act: Act) -> Fields:
    told = work.of(act, "face").lower()
    found = patterns.FACE.search(work.text.lower())
    if found is None:
        return {"note": told}
    up = found["up"] or ("bottom" if found["down"] == "upside" else "back" if found["down"] else "")
    return {"note": up or patterns.TURNED[found["lies"]]}


def _stick(work: Utterance, act: Act) -> Fields:
    fields, held = _thing(work, act), work.held(act)
    mass = next((i.number for i in quantities(work.region(act), work.vocabulary) if i.unit == "mass"), None)
    if mass is not None:
        fields["note"] = f"{mass * 1000:g} mg" if mass < 1 else f"{mass:g} g"
    others = [n for n in (*work.named, *work.spoken) if n not in fields["parts"]]
    onto = patterns.ONTO.search(work.text)
    if not held and onto is not None and (name := plain_name(onto["part"], "the ")):
        held = (full_name(name, work.memory),)
    elif not held and not others and patterns.ON_IT.search(work.region(act).lower()):
        topic = work.topic(act.start)
        held = (topic,) if topic and topic not in fields["parts"] else ()
    if not held and others:
        held = (others[-1],)
    if not held:
        placed = [s for s in (*work.memory.steps[-3:], *work.steps) if s.action == "place" and s.parts]
        held = placed[-1].parts[:1] if placed else ()
    return {**fields, "place": ", ".join(held) or fields["place"]}


def _roll(work: Utterance, act: Act) -> Fields:
    passes = patterns.PASSES.search(work.region(act).lower())
    told = number_of(passes[1], work.vocabulary) if passes else None
    many = int(told) if told else count(work, act) or (2 if patterns.TWICE.search(work.region(act).lower()) else None)
    return {"parts": work.held(act), "count": many, "dwell_s": _time(work, act)}


READERS = {
    "out": _out,
    "unscrew": _unscrew, "loosen": _loosen, "fasten": _fasten, "unclip": _unclip, "desolder": _desolder, "cut": _cut,
    "drill": _drill, "disconnect": _disconnect, "connect": _connect, "soften": _soften, "wait": _wait,
    "isolate": _isolate, "turn": _turn, "stick": _stick, "roll": _roll,
}  # fmt: skip
