"""Somebody's own spreadsheet into the record: columns matched to fields, every cell checked, and the study with all of
it entered as one change.

A row that cannot be entered is left out, with what is wrong in which cell; what is right goes in. Parts that are only
named become parts.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from typing import Any

from attrs import evolve, field, frozen
from rapidfuzz import fuzz

from oddbolt.core.errors import OddBoltError, StudyError
from oddbolt.core.narration.reader import read
from oddbolt.core.narration.recording import log, memory_of
from oddbolt.core.reference.quantities import quantity
from oddbolt.core.reference.tables import drives
from oddbolt.core.study import Joint, Part, Step, Study, new_id, put
from oddbolt.core.study.model import FASTENERS, FIGURES, JOINT_KINDS, REUSE_RULES

#: what a sheet holds a row of
KINDS = ("parts", "joints", "steps")
MOST_ROWS, MOST_COLUMNS = 5000, 200
#: heads at least this alike (0 to 100) are matched
ALIKE = 86
_SEPARATED = re.compile(r"\s*[;|/\n]\s*|\s*,\s+|\s+\+\s+")
YES = frozenset("yes y true x 1 ✓ ☑ ja oui".split())


@frozen
class Column:
    """A field that a column may be matched to: its name, how a cell is read ("text", "count", "names", or a quantity
    such as "length"), and the heads that mean it."""

    name: str
    reads: str
    heads: tuple[str, ...]


def _columns(text: str) -> tuple[Column, ...]:
    out = []
    for line in text.strip().splitlines():
        name, reads, heads = (piece.strip() for piece in line.split("|"))
        out.append(Column(name, reads, (name.replace("_", " "), *(h.strip() for h in heads.split(",") if h.strip()))))
    return tuple(out)


FIELDS: Mapping[str, tuple[Column, ...]] = {
    "parts": _columns(
        """
        name | text | part, part name, component, item, description, designation
        inside | part | module, parent, assembly, inside of, carried by
        kind | text | type, category, class
        function | text | purpose, does
        markings | texts | marking, marked, legend, text on part, label text
        number | text | part number, part no, pn, mpn, order number
        maker | text | manufacturer, make, vendor
        material | text | stuff
        colour | text | color
        package | text | case, footprint
        pins | count | leads, contacts
        value | text | nominal value
        rating | text | ratings
        mass_g | mass | mass, weight, grams, weight g, mass g
        long_mm | length | length, length mm, long
        wide_mm | length | width, width mm, wide
        high_mm | length | height, height mm, thickness, high
        reuse | reuse | reusable, renew
        condition | text | state
        price | text | cost
        priority | yes | priority part, key part
        note | text | notes, remark, remarks, comment
        """
    ),
    "joints": _columns(
        """
        name | text | joint, fastener, fastening, screw, screws, group, location name
        kind | kind | type, joint type, fastener type
        count | count | quantity, qty, number of, no of screws, pieces, pcs, amount, how many
        holds | parts | part, parts, holding, fixes, secures, fastens
        into | part | into part, in, fixed to, threads into
        drive | drive | driver, bit, recess, drive type, head drive
        size | text | drive size, bit size, driver size
        thread | text | thread size, diameter, thread diameter
        length_mm | length | length, screw length, length mm, long
        head | text | head type, head form
        head_mm | length | head diameter
        finish | text | colour, color, coating
        torque_ncm | torque | torque, tightening torque
        latch | text | latch type, connector latch
        pins | count | contacts, ways
        reuse | reuse | reusable, renew
        fastener | class | fastener class
        place | text | location, position, where
        note | text | notes, remark, remarks, comment
        """
    ),
    "steps": _columns(
        """
        said | text | sentence, step, description, instruction, action, what, text, procedure, task
        verb | text | act, operation
        tool | text | tools, with, driver, bit
        takes_out | parts | removes, part removed, parts removed, removed, part, out
        releases | joints | joint, joints, undoes, fastener, fasteners
        face | text | side, orientation
        seconds | time | time, duration, took, seconds taken, time taken
        wait_s | time | wait, dwell, waiting
        cautions | texts | caution, warning, warnings, mind, hazard
        note | text | notes, remark, remarks, comment
        """
    ),
}


@frozen
class Wrong:
    """What is wrong: the row (0 the first below the heads), the column (-1 for the row as a whole), and why."""

    row: int
    column: int
    why: str


@frozen
class Entered:
    """The study with the rows entered: how many were, which not and why, and the parts that were only named."""

    study: Study
    rows: int
    wrong: tuple[Wrong, ...]
    new_parts: tuple[str, ...]
    ids: tuple[str, ...] = field(default=(), repr=False)


def guess_kind(heads: Sequence[str]) -> str:
    """What a sheet with these heads most likely holds."""
    scores = {kind: len(matched(kind, heads)) for kind in KINDS}
    if scores["steps"] and any(_plain(h) in ("step", "instruction", "sentence", "tool", "verb") for h in heads):
        scores["steps"] += 1
    return max(KINDS, key=lambda kind: scores[kind])


def _plain(head: str) -> str:
    words = re.sub(r"[\[(].*?[\])]|[_\-./:#]+", " ", head.casefold())
    return " ".join(words.split())


def matched(kind: str, heads: Sequence[str]) -> dict[str, int]:
    """Field -> column, for heads that mean it: exact ones first, then those nearly alike; each column once."""
    plain = [_plain(head) for head in heads]
    out: dict[str, int] = {}
    for column in FIELDS[kind]:
        for wanted in column.heads:
            at = next((n for n, head in enumerate(plain) if head == wanted and n not in out.values()), None)
            if at is not None:
                out[column.name] = at
                break
    for column in FIELDS[kind]:
        free = [n for n, head in enumerate(plain) if head and n not in out.values()]
        if column.name in out or not free:
            continue
        score, at = max((max(fuzz.ratio(plain[n], w) for w in column.heads), -n) for n in free)
        if score >= ALIKE:
            out[column.name] = -at
    return out


def entered(study: Study, kind: str, rows: Sequence[Sequence[str]], match: Mapping[str, int]) -> Entered:
    """Enter the rows of a sheet (without its heads). Raises StudyError where the sheet as a whole cannot be: too many
    rows, no column for what names a row."""
    if kind not in KINDS:
        raise StudyError(f"{kind!r} is not a kind of sheet; there are {', '.join(KINDS)}.")
    if len(rows) > MOST_ROWS:
        raise StudyError(f"This sheet has {len(rows)} rows; up to {MOST_ROWS} are taken at once.")
    known = {column.name: column for column in FIELDS[kind]}
    strange = [name for name in match if name not in known]
    if strange:
        raise StudyError(f"{kind} have no field {strange[0]!r}; there are {', '.join(known)}.")
    needed = {"parts": ("name",), "joints": ("name", "holds", "kind", "drive", "size"), "steps": ("said", "verb")}[kind]
    if not any(name in match for name in needed):
        raise StudyError(f"No column is matched to {' or '.join(needed)}; a row of {kind} needs one.")
    wrong: list[Wrong] = []
    ids: list[str] = []
    before = set(study.parts)
    named: set[str] = set()
    for n, row in enumerate(rows):
        if not any(cell.strip() for cell in row):
            continue
        values: dict[str, Any] = {}
        bad = False
        for name, at in match.items():
            text = row[at].strip() if at < len(row) else ""
            if not text:
                continue
            try:
                values[name] = _read(study, known[name], text)
            except OddBoltError as error:
                wrong.append(Wrong(n, at, str(error)))
                bad = True
        if bad:
            continue
        try:
            after, id, only_named = _ENTER[kind](study, values)
        except OddBoltError as error:
            wrong.append(Wrong(n, -1, str(error)))
            continue
        study = after
        ids.append(id)
        named |= only_named
    made = tuple(study.parts[p].name for p in study.parts if p not in before and p in named)
    return Entered(study, len(ids), tuple(wrong), made, tuple(ids))


def _read(study: Study, column: Column, text: str) -> Any:
    """The value of a cell. Raises StudyError."""
    match column.reads:
        case "count":
            figure = re.fullmatch(r"(?:x|×)?\s*(\d{1,5})(?:[.,]0+)?\s*(?:x|×|pcs?\.?|pieces?)?", text, re.IGNORECASE)
            if figure is None:
                raise StudyError(f"{text!r} is not a whole number.")
            return int(figure[1])
        case "yes":
            return text.casefold() in YES
        case "texts":
            return tuple(t.strip() for t in re.split(r"\s*[;|\n]\s*", text) if t.strip())
        case "parts" | "joints":
            table = study.table("P" if column.reads == "parts" else "J")
            if text.casefold() in (study.name(id).casefold() for id in table):
                return (text,)  # a name that holds a comma
            return tuple(dict.fromkeys(t.strip() for t in _SEPARATED.split(text) if t.strip()))
        case "kind":
            return _kind(text)
        case "drive":
            return _drive(text)
        case "reuse" | "class":
            return _word(column, text)
        case "mass" | "length" | "torque" | "time":
            bare = re.fullmatch(r"[-+]?\d+(?:[.,]\d+)?", text)
            unit = {"mass": "g", "length": "mm", "torque": "N cm", "time": "s"}[column.reads]
            try:
                return quantity(f"{text} {unit}" if bare else text, column.reads)
            except (OddBoltError, ValueError) as error:
                raise StudyError(str(error)) from None
    return text


def _word(column: Column, text: str) -> str:
    low = text.casefold()
    if column.reads == "class":
        if low not in FASTENERS:
            raise StudyError(f"{text!r} is not one of {', '.join(f for f in FASTENERS if f)}.")
        return low
    words = {"yes": "reuse", "reusable": "reuse", "no": "renew", "replace": "renew", "check": "inspect"}
    found = words.get(low, low)
    if found not in REUSE_RULES:
        raise StudyError(f"{text!r} is not one of {', '.join(r for r in REUSE_RULES if r)}.")
    return found


def _kind(text: str) -> str:
    low = text.casefold().strip()
    for kind in JOINT_KINDS:
        if low in (kind, f"{kind}s"):
            return kind
    words = {"bolt": "screw", "glue": "adhesive", "plug": "connector", "latch": "clip", "snap": "clip", "foam": "tape"}
    for word, kind in words.items():
        if re.search(rf"\b{word}", low):
            return kind
    inside = [kind for kind in JOINT_KINDS if re.search(rf"\b{kind}", low)]
    if len(inside) == 1:
        return inside[0]
    raise StudyError(f"{text!r} is not a kind of joint; there are {', '.join(JOINT_KINDS)}.")


_SIZED = re.compile(r"\b(PH|PZ|IP|TX|T|H|SL|Y)\s*(\d+(?:\.\d+)?)\b", re.IGNORECASE)
_LETTERS = {
    "PH": "cross", "PZ": "cross-z", "IP": "hexalobular-plus", "TX": "hexalobular", "T": "hexalobular",
    "SL": "slotted", "Y": "three-wing",
}  # fmt: skip


def _drive(text: str) -> tuple[str, str]:
    """A drive and its size: "PH00", "T5", "hex 2.5", or the name of a drive. Raises StudyError."""
    low = text.casefold()
    sized = _SIZED.search(text)
    if sized is not None and sized[1].upper() in _LETTERS:
        letters = "T" if sized[1].upper() == "TX" else sized[1].upper()
        return _LETTERS[sized[1].upper()], letters + sized[2]
    hexagon = re.search(r"\bhex(?:agon)?(?: socket)?\s*(\d+(?:[.,]\d+)?)?", low)
    if hexagon is not None and "lob" not in low:
        return "hex-socket", (hexagon[1] or "").replace(",", ".")
    for id in sorted(drives(), key=len, reverse=True):
        if id in low or id.replace("-", " ") in low:
            return id, ""
    raise StudyError(f"{text!r} is not a drive that is known here; one looks like PH00, T5, IP8 or hex 2.5.")


# -- entering --------------------------------------------------------------------------------------------------


def _part(study: Study, name: str) -> tuple[Study, str, bool]:
    """The part of this name or id; made where there is none."""
    low = name.casefold()
    for id, part in study.parts.items():
        if low in (id.casefold(), part.name.casefold()):
            return study, id, False
    id = new_id(study, "P")
    return put(study, Part(id, name)), id, True


def _enter_part(study: Study, values: dict[str, Any]) -> tuple[Study, str, set[str]]:
    name = values.pop("name", "")
    if not name:
        raise StudyError("The part has no name.")
    inside = values.pop("inside", "")
    only_named: set[str] = set()
    study, id, _ = _part(study, name)
    if inside:
        study, values["inside"], new = _part(study, inside)
        only_named |= {values["inside"]} if new else set()
    return put(study, evolve(study.parts[id], **values)), id, only_named


def _enter_joint(study: Study, values: dict[str, Any]) -> tuple[Study, str, set[str]]:
    only_named: set[str] = set()
    holds = []
    for name in values.pop("holds", ()):
        study, part, new = _part(study, name)
        holds.append(part)
        only_named |= {part} if new else set()
    into = values.pop("into", "")
    if into:
        study, into, new = _part(study, into)
        only_named |= {into} if new else set()
    drive, size = values.pop("drive", ("", ""))
    threaded = bool(drive or size or values.get("thread") or values.get("length_mm"))
    kind = values.pop("kind", "screw" if threaded else "")
    if not kind:
        kind = _kind_told(values.get("name", ""))
    figures = {"drive": drive, "size": values.pop("size", "") or size, **values}
    figures = {k: v for k, v in figures.items() if v not in ("", None)}
    foreign = [k for k in figures if any(k in of for of in FIGURES.values()) and k not in FIGURES[kind]]
    if foreign:
        raise StudyError(f"A joint of kind {kind} has no {foreign[0].replace('_', ' ')}.")
    figures.setdefault("count", None if kind == "screw" else 1)
    id = new_id(study, "J")
    return put(study, Joint(id, kind, holds=tuple(holds), into=into, **figures)), id, only_named


def _kind_told(name: str) -> str:
    try:
        return _kind(name)
    except StudyError:
        raise StudyError("Nothing says of which kind this joint is.") from None


def _enter_step(study: Study, values: dict[str, Any]) -> tuple[Study, str, set[str]]:
    only_named: set[str] = set()
    if values.get("said") and not (set(values) & {"verb", "takes_out", "releases"}):
        return _enter_sentence(study, values)
    out = []
    for name in values.pop("takes_out", ()):
        study, part, new = _part(study, name)
        out.append(part)
        only_named |= {part} if new else set()
    gone = {p for s in study.steps.values() for p in s.takes_out}
    if twice := [p for p in out if p in gone]:
        raise StudyError(f"{study.name(twice[0])} is out already.")
    joints = [_joint_named(study, name) for name in values.pop("releases", ())]
    told = values.pop("seconds", None)
    said = values.get("said", "")
    verb = values.pop("verb", "") or ("take out" if out else "") or _verb(said)
    times = {"least_s": told, "likely_s": told, "most_s": told} if told else {}
    id = new_id(study, "S")
    step = Step(id, verb, takes_out=tuple(out), releases=tuple(joints), **times, **values)
    return put(study, step), id, only_named


def _enter_sentence(study: Study, values: dict[str, Any]) -> tuple[Study, str, set[str]]:
    """A row that is only a sentence is read as if it had been said; what is not understood is a step in its words."""
    said, before = values.pop("said"), set(study.parts)
    told = values.pop("seconds", None)
    reading, _ = read(said, memory_of(study), at_s=None)
    study, ids = log(study, reading)
    if not ids:
        step = Step(new_id(study, "S"), _verb(said), said=said, doubt="read from a sheet, not understood")
        study, ids = put(study, step), (step.id,)
    last = study.steps[ids[-1]]
    times = {"least_s": told, "likely_s": told, "most_s": told} if told and len(ids) == 1 else {}
    kept = {k: v for k, v in values.items() if k == "face" or not getattr(last, k)}
    return put(study, evolve(last, **kept, **times)), last.id, set(study.parts) - before


def _verb(said: str) -> str:
    word = re.search(r"[a-z]+", said.casefold())
    if word is None:
        raise StudyError("Nothing says what is done.")
    return word[0]


def _joint_named(study: Study, name: str) -> str:
    low = name.casefold()
    found = [id for id in study.joints if low in (id.casefold(), study.name(id).casefold())]
    if len(found) != 1:
        raise StudyError(f"{'Several joints are' if found else 'No joint is'} called {name!r}.")
    return found[0]


#: kind -> what enters a row of it: the study after, the id entered, and the parts that were only named
_Enter = Callable[[Study, dict[str, Any]], tuple[Study, str, set[str]]]
_ENTER: Mapping[str, _Enter] = {"parts": _enter_part, "joints": _enter_joint, "steps": _enter_step}
