"""The figures of an act on fasteners: kind, count, drive, size, thread, length, what they hold."""

from __future__ import annotations

import re
from typing import Any

from oddbolt.core.narration.assembly import patterns
from oddbolt.core.narration.assembly.acts import Act
from oddbolt.core.narration.assembly.by_length import without_pairs
from oddbolt.core.narration.assembly.counts import OF_A_DRIVE, OF_A_SIZE, count
from oddbolt.core.narration.assembly.figures import (
    BY_WIDTH,
    IN_MM,
    LOBED_NAME,
    TAKEN_BACK,
    drive_of,
    key_near,
    length_of,
    named_drive,
    number_of,
    quantities,
)
from oddbolt.core.narration.assembly.names import may_be_held
from oddbolt.core.narration.assembly.plausible import inch_thread
from oddbolt.core.narration.assembly.utterance import Utterance
from oddbolt.core.narration.language.patterns import lazy_pattern
from oddbolt.core.narration.language.tokens import INCHES, items
from oddbolt.core.narration.renewal import renewal
from oddbolt.core.narration.understanding import OF_SCREWS, Span
from oddbolt.core.reference.joint_kinds import ids_where
from oddbolt.core.reference.tables import drives

JOINTS = {
    "unscrew": "screw",
    "loosen": "screw",
    "fasten": "screw",
    "unclip": "clip",
    "desolder": "solder",
    "drill": "rivet",
    "disconnect": "connector",
}
WASHER = lazy_pattern(r"(?:^|\s)washers?$")
#: millimetres told of screws, and what makes them the width of a tool
MM_OF_SCREWS = lazy_pattern(
    r"\b(?:mm|mil|mill?imet\w+) (?:long )?screws?\b|(?:\d|\b)(?:mm|mil|mill?imet\w+) long\b"
    r"|\bscrews? of [\w.-]+ ?(?:mm|mil|mill?imet\w+)\b"
    r"|\bscrews\b[^.;]{0,30}\b(?:they(?:['’]re| are)|all|each|these are|those are) [\w.-]+ ?(?:mm|mil|mill?imet\w+)\b"
)
WIDTH_TOLD = lazy_pattern(
    r"\b(?:hex\w*|heads?|spanner|wrench|socket|key|bit|driver|blade|slot\w*|across|af|nuts?|bolts?)\b"
)
#: words that are marked for a size at times and tell none
ONLY_UNIT = lazy_pattern(r"(?:mm|mil\w*|millimet\w*|and (?:a )?half|long|length|of|the)")
STAND_OFF = lazy_pattern(r"\bstand[ -]?offs?\b", re.IGNORECASE)
#: a size code with the length behind it, and what makes millimetres no length of a screw
CODE_BY_LENGTH = lazy_pattern(r"(?:\b|(?<=\dx)|(?<=\d×))(?:PH|PZ|IP|T)\d+\s?[x×]\s?(\d{1,3})\b(?![.,]\d|\s?[x×])")
NO_LENGTH = lazy_pattern(
    r" ?(?:longer|shorter|deep|wide|thick|gap|apart|from|over|key|hex|spanner|socket|blade|drill|hole|wire)"
)
POINT_BEFORE = lazy_pattern(r"\b(?:[a-z]+|\d+)[ -]point[ -]$", re.IGNORECASE)
#: a width in parts of an inch with what shows it to be one
WIDTH_IN_PARTS = lazy_pattern(
    r"(?<![\d/])\d{1,2}/\d{1,2}(?![\d/])(?:[ -]?(?:hex|heads?|spanner|wrench|socket|key|af|inch|in)\b)?", re.IGNORECASE
)
#: an order of tightening, and no drive: "in a star pattern"
STAR_ORDER = lazy_pattern(
    r"\b(?:in|order of) (?:a |the )?(?:star|cross)\b"
    r"(?![ -]?(?:head|screw|bolt|drive|bit|key|size|number|recess|slot|\d))"
    r"|\bstar[ -]?(?:pattern|order|sequence|fashion|wise)\b",
    re.IGNORECASE,
)
#: what leads to the part that fasteners are taken from
FROM_IT = lazy_pattern(r"\b(?:from|out of|off|of) (?:(?:the|its|this|that) )?$")
#: the part right behind fasteners
_NO_NAME = r"(?!(?:is|are|was|were|has|have|and|one|two|then|with|hold\w*|all|which|that|by|off|out|at|in|on)\b)"
IN_IT = lazy_pattern(
    r"(?:\s(?:screws?|bolts?|nuts?))?,?\s(?:in|on|from|out of|off|of)\s(?:the|its|this|that)\s"
    rf"(?P<part>[a-z-]+(?: {_NO_NAME}[a-z-]+)?)(?=[.,;:!?]|\s|$)",
    re.IGNORECASE,
)
#: the number of a size said apart from its drive: "with star, number twenty"
NUMBERED = lazy_pattern(r"\b(?:number|size|no\.|nr|#) ?((?:twenty|thirty)[- ][a-z]+|[a-z]+|\d+)")
#: of several lengths one that is so much surer is meant
MUCH_SURER = 0.1
THREADED_ONLY = ("drive", "size", "thread", "head", "finish", "mixed", "length_mm")


def fastened(work: Utterance, act: Act) -> dict[str, Any]:
    """All figures of an act on fasteners."""
    region = work.region(act)
    sizes = [s for s in act.spans("size") if not ONLY_UNIT.fullmatch(s.words(work.text).lower())]
    act.figures = {**act.figures, "size": sizes}
    drive, size = _drive_and_size(work, act, region)
    if drive in ("", "hex-socket", "external-hex") and STAND_OFF.search(work.words(act)):
        drive = "stand-off"
    told = [
        s
        for s in act.spans("len")
        if not any(z.start < s.end and s.start < z.end for z in sizes)
        and not OF_A_DRIVE.match(work.text[s.end :].lower())
    ]
    surest = max((s.sure for s in told), default=0.0)
    told.sort(key=lambda s: s.sure < surest - MUCH_SURER)
    lengths = [v for s in told if (v := length_of(s.words(work.text), work.vocabulary)) is not None]
    out: dict[str, Any] = {
        "joint": _kind(work, act),
        "count": count(work, act),
        "drive": drive,
        "size": size,
        "length_mm": lengths[0] if lengths else None,
        "parts": work.held(act),
        "reuse": reuse(region),
        **work.where(act),
    }
    if act.action in OF_SCREWS:
        out["parts"] = out["parts"] or taken_from(work, act)
    hid = {name.lower() for name in out["under"]}  # what hid them is not what they hold, and no washer is
    out["parts"] = tuple(p for p in out["parts"] if p.lower() not in hid and not WASHER.search(p.lower()))
    if _a_length(work, act, out):
        out["size"], out["length_mm"] = "", float(out["size"])
    paired = without_pairs(region) != region  # "twelve 3 x 12": told twice
    if (
        lengths
        and not paired
        and out["count"] == lengths[0]
        and len(re.findall(rf"(?<!\d){out['count']}(?!\d)", region)) == 1
    ):
        out["length_mm"] = None  # "P2 x6": one number is not both
    if out["length_mm"] is None or f"{out['length_mm']:g}" == re.sub(r"\D", "", out["size"]):
        out["length_mm"] = _length_beside(work, act, out) or out["length_mm"]
    inch = inch_thread(region)
    if inch is not None and out["size"] in re.findall(r"\d+", inch.group()):
        out["size"] = ""
    for item in items(region, work.vocabulary):
        if item.has("thread") and not out.get("thread"):
            thread = re.split(r"\s*[X×]\s*", item.may["thread"])
            out["thread"] = thread[0]
            if out["size"] in thread[1:] and out["drive"] in ("", "unknown"):
                out["size"] = ""  # the pitch of "M3 x 0.5 x 8"
            if len(thread) > 1 and out["length_mm"] is None:
                out["length_mm"] = float(thread[-1].replace(",", "."))
        if item.has("head"):
            out.setdefault("head", item.may["head"])
        if item.has("finish") and not out.get("finish"):
            out["finish"] = item.may["finish"]
    if act.spans("n2") or act.spans("len2") or patterns.LONGER.search(region.lower()):
        out["mixed"] = True
    if out["joint"] not in ids_where("threaded"):
        for name in THREADED_ONLY:
            out.pop(name, None)
    return out


def taken_from(work: Utterance, act: Act) -> tuple[str, ...]:
    """The part that fasteners are taken from, where it was marked for a place, "two screws out of the shaft", or stands
    right behind them: "two screws in the shaft"."""
    for span in act.spans("at"):
        words = span.words(work.text)
        last = words.lower().split()[-1:]
        thing = last and last[0] in work.vocabulary.nouns and last[0] not in patterns.SIDE_NOUNS
        if thing and FROM_IT.search(work.text[: span.start].lower()):
            name = work.named_by(words, span.start)
            return (name,) if name else ()
    ends = [act.end] if act.end > act.start else [s.end for s in act.spans("size")]  # a second group begins later
    behind = IN_IT.match(work.text, max(ends, default=act.end))
    words = behind["part"] if behind is not None else ""
    last = words.lower().split()[-1:]
    if behind is None or not last or last[0] in patterns.SIDE_NOUNS or last[0] not in work.vocabulary.nouns:
        return ()
    name = work.named_by(words, behind.start("part"))
    return (name,) if name and may_be_held(name) else ()


def _length_beside(work: Utterance, act: Act, told: dict[str, Any]) -> float | None:
    """The length that stands beside a size code, where nothing was marked for one: "PH1x8", "T6, 9 mm": no tool with a
    size code has a width in mm. None where there is none, or several."""
    region = work.region(act)
    if not re.match(r"[A-Z]", told["size"]):
        return None
    code = CODE_BY_LENGTH.search(region)
    if code is not None and told["count"] not in (None, int(code[1])):
        return float(code[1])
    spans = [s for role in ("value", "n2", "len2") for s in act.spans(role)]
    found = [
        i
        for i in quantities(region, work.vocabulary)
        if i.unit == "length"
        and not NO_LENGTH.match(region[i.end :].lower())
        and not any(s.start < act.region[0] + i.end and act.region[0] + i.start < s.end for s in spans)
    ]
    return found[0].number if len(found) == 1 else None


def _a_length(work: Utterance, act: Act, told: dict[str, Any]) -> bool:
    """Whether what was taken for the width of a tool is a length: millimetres said of screws of which neither drive nor
    head was told, "four 8 mm screws"."""
    plain = (
        told["drive"] in ("", "unknown") and told["length_mm"] is None and told["size"].replace(".", "", 1).isdigit()
    )
    if not plain or not MM_OF_SCREWS.search(work.region(act).lower()):
        return False
    return WIDTH_TOLD.search(work.region(act).lower()) is None


def reuse(region: str) -> str:
    """Whether fasteners are to be renewed, looked at, or used again; "" if nobody said."""
    low = region.lower()
    told = renewal(low)
    if told == "renew" or (not told and patterns.RENEW.search(low)):
        return "renew"
    if patterns.INSPECT.search(low):
        return "inspect"
    return "reuse" if told or patterns.REUSE.search(low) else ""


def with_letters(drive: str, size: str) -> str:
    """A size number with the letters of its drive: "8" of a hexalobular is T8."""
    row = drives().get(drive)
    if not (row and row.prefix):
        return "" if size == "0" else size  # no tool is nought wide
    return f"{row.prefix}{size}" if size and not size.startswith(row.prefix) else size


def _drive_and_size(work: Utterance, act: Act, region: str) -> tuple[str, str]:
    region = STAR_ORDER.sub(lambda found: " " * len(found.group()), without_pairs(region))
    back = TAKEN_BACK.search(region.lower())
    if back:  # "tea eight, sorry, tea six"
        told = drive_of(_without_counts(work, act)[back.end() :], work.vocabulary)
        if told[1] and told[0]:
            return told
    marked = _surest(work, act)
    if not marked:
        return _plainly(work, STAR_ORDER.sub(" ", _without_counts(work, act)))
    drive, size = drive_of(marked, work.vocabulary)
    if not drive and number_of(marked, work.vocabulary) is not None:
        drive = named_drive(region, work.vocabulary)
    if not drive:
        drive, elsewhere = drive_of(region, work.vocabulary)
        size = size or (elsewhere if elsewhere in _sizes(drive) else "")
    if not size:
        value = number_of(SIZE_WORD.sub("", LOBED_NAME.sub("", marked.lower())), work.vocabulary)
        size = with_letters(drive, f"{value:g}") if value is not None else ""
    if drive == "external-hex" and any(KEY_BEHIND.match(work.text, s.end) for s in act.spans("size")):
        drive = "hex-socket"  # "one hex bolt, 3 mm key"
    across = number_of(marked, work.vocabulary) if IN_MM.search(marked.lower()) else None
    if size and drive in BY_WIDTH and across is not None:
        return drive, f"{across:g}"  # told in mm, it is a width
    if size and _sizes(drive) and size not in _sizes(drive):
        again = drive_of(region.replace(marked, " "), work.vocabulary)
        if again[1] in _sizes(again[0] or drive):
            return again[0] or drive, again[1]
        size = re.sub(r"^[A-Z]+", "", size)
    return drive, size


KEY_BEHIND = lazy_pattern(r"\s*(?:hex )?key\b")


def _without_counts(work: Utterance, act: Act) -> str:
    """The region of an act with its counts blanked: "three hex socket screws" are no keys of three."""
    text = without_pairs(work.text)
    for span in act.spans("n"):
        if OF_A_DRIVE.match(work.text[span.end :].lower()) or OF_A_SIZE.search(work.text[: span.start].lower()):
            continue  # "three-wing", "number 2"
        text = text[: span.start] + " " * (span.end - span.start) + text[span.end :]
    return text[act.region[0] : act.region[1]]


#: what names a size before its number
SIZE_WORD = lazy_pattern(r"^(?:number|size|no\.?|nr) ")


def _surest(work: Utterance, act: Act) -> str:
    """The words marked for a size: of several places the surest that tells one, else all of them."""
    spans = act.spans("size")
    for span in sorted(spans, key=lambda s: -s.sure) if len(spans) > 1 else ():
        words = _with_its_point(work.text, span)
        if drive_of(words, work.vocabulary)[1] or number_of(words, work.vocabulary) is not None:
            return words
    return _with_its_point(work.text, spans[0]) if len(spans) == 1 else work.of(act, "size")


def _with_its_point(text: str, span: Span) -> str:
    """The words of a number with what stands before its point or stroke: "five hex" of "one point five hex", "4 hex" of
    "1/4 hex"."""
    for found in (*WIDTH_IN_PARTS.finditer(text), *INCHES.finditer(text)):
        if found.start() < span.end and span.start < found.end():
            return found.group()
    before = POINT_BEFORE.search(text[: span.start])
    return text[before.start() if before else span.start : span.end]


def _sizes(drive: str) -> tuple[str, ...]:
    row = drives().get(drive)
    return row.sizes if row and row.prefix else ()


def _plainly(work: Utterance, region: str) -> tuple[str, str]:
    """A size code or a drive's name that stands in the region, where the network marked none."""
    found = items(region, work.vocabulary)
    for item in found:
        if item.has("size"):
            drive, size = item.may["size"].split(" ")
            return drive, size
    named = next((item.may["drive"] for item in found if item.has("drive")), "")
    drive, size = key_near(region, work.vocabulary)
    if size and named in ("", drive):
        return drive, size
    numbered = NUMBERED.search(region.lower()) if _sizes(named) else None
    value = number_of(numbered[1], work.vocabulary) if numbered else None
    size = with_letters(named, f"{value:g}") if value is not None else ""
    return named, size if size in _sizes(named) else ""


def _kind(work: Utterance, act: Act) -> str:
    usual = JOINTS.get(act.action, "other")
    words = work.words(act).lower()
    if act.action == "drill":
        return "screw" if "screw" in words or "head" in words else "rivet"
    if act.action == "cut":
        return next((i.may["joint"] for i in items(words, work.vocabulary) if i.has("joint")), usual)
    return usual
