"""What was measured on a screw, as it is typed or said: "od 1.58, pitch .35, length 4.1"."""

from __future__ import annotations

import re
from collections.abc import Mapping

from attrs import evolve, field, frozen

from oddbolt.core.errors import BenchError
from oddbolt.core.reference.quantities import quantity
from oddbolt.core.reference.tables import drives
from oddbolt.core.reference.units import INCH_MM

#: what can be measured -> how far a careful reading is off, mm (one standard deviation; common practice, no source)
CARE = {"od": 0.02, "pitch": 0.02, "length": 0.1, "head": 0.03, "height": 0.05, "recess": 0.05}
#: what can be measured -> least and largest value that is believed, mm
BELIEVED = {
    "od": (0.25, 13.0),
    "pitch": (0.05, 3.0),
    "length": (0.5, 200.0),
    "head": (0.5, 30.0),
    "height": (0.1, 15.0),
    "recess": (0.3, 20.0),
}
LABELS = {
    "od": "outer diameter",
    "pitch": "pitch",
    "length": "length",
    "head": "head diameter",
    "height": "head height",
    "recess": "recess width",
    "driver": "driver that fits",
}
WORDS = {
    "od": "od|o\\.d\\.|outer(?: diameter)?|outside(?: diameter)?|thread(?: diameter)?|diameter|dia|ø|shank",
    "pitch": "pitch",
    "length": "length|long|len|l",
    "height": "head height|head high|height|high",
    "head": "head diameter|head dia|head width|head ø|head",
    "recess": "recess(?: width)?|point to point|across flats|af|a/f|p2p|wing to wing|slot(?: width)?|socket",
}
_NUMBER = r"[+-]?(?:\d+(?:[.,]\d+)?|[.,]\d+)"
_VALUE = rf"(?P<value>{_NUMBER})\s*(?P<unit>mm|µm|um|inch(?:es)?|in|\"|)?"
_OFF = rf"(?:\s*(?:±|\+/-|\+-|plus or minus)\s*(?P<off>{_NUMBER})\s*(?:mm)?)?"
_KEYS = "|".join(f"(?P<{key}>{words})" for key, words in WORDS.items())
KEYED = re.compile(rf"(?:the )?(?:{_KEYS})\s*(?:is|of|=|:|about)?\s*{_VALUE}{_OFF}", re.IGNORECASE)
BACKWARDS = re.compile(rf"{_VALUE}{_OFF}\s*(?:{_KEYS})", re.IGNORECASE)
COUNTED = re.compile(
    rf"(?P<n>\d+)\s*(?:threads?|turns?|crests?)\s*(?:over|in|on|per|to|across)\s*{_VALUE}{_OFF}", re.IGNORECASE
)
FITTED = re.compile(r"(?:a |the )?(?P<size>.+?) (?:driver |bit )?(?:fits|turns it)(?: best)?", re.IGNORECASE)
FITS = re.compile(
    r"(?:(?:the )?driver|fits|takes|turned by|bit)\s*(?:is|that fits|:|=)?\s*(?:a |an )?(?P<size>.+)", re.IGNORECASE
)
STATES = {
    "worn": "worn|rounded|chewed(?: up)?|stripped|cammed out",
    "coated": "coated|painted|pre-?coated|patched|blue patch",
}


@frozen
class Reading:
    """One figure in mm and how far it may be off, one standard deviation."""

    value: float
    off: float


@frozen
class Measured:
    """What was measured: figures by the keys of :data:`CARE`; ``driver`` (drive, size) that fits; whether the recess is
    ``worn`` or the thread ``coated``; ``unclear`` what could not be understood."""

    figures: Mapping[str, Reading] = field(factory=dict)
    driver: tuple[str, str] = ("", "")
    worn: bool = False
    coated: bool = False
    notes: tuple[str, ...] = ()

    @property
    def known(self) -> tuple[str, ...]:
        """The keys of what is known, the driver included."""
        return (*self.figures, *(("driver",) if self.driver[0] else ()))


def measured(text: str) -> Measured:
    """Read measurements from a sentence. Figures without a unit are mm.

    Raises BenchError with what is wrong and what to type.
    """
    out = Measured()
    for part in _parts(text):
        out = _take(out, part)
    if not out.known:
        raise BenchError("No measurement found; type it like “od 1.58, pitch .35, length 4.1, driver PH00”.")
    return out


def is_measured(text: str) -> bool:
    """Whether a whole sentence is nothing but measurements, at least one of them a figure with its name."""
    begins = KEYED.match(text.strip()) or COUNTED.match(text.strip()) or BACKWARDS.match(text.strip())
    try:
        return begins is not None and bool(measured(text).figures)
    except BenchError:
        return False


def driver_of(text: str) -> tuple[str, str]:
    """Drive and size that a driver's name says: "PH00", "T5", "2.5 hex", "slotted"; ("", "") for none."""
    low = re.sub(r"[\s-]+", " ", text.strip().lower()).removesuffix(" driver").removesuffix(" bit").strip()
    compact = low.replace(" ", "").upper()
    for drive in drives().values():
        for size in drive.sizes:
            if drive.prefix and compact == size:
                return drive.id, size
    for drive in drives().values():
        name = drive.label.lower().replace("-", " ")
        names = {name, drive.id.replace("-", " "), name.removesuffix(" socket")}
        for one in names:
            if low == one:
                return drive.id, ""
            for size in drive.sizes:
                figure = size.removeprefix(drive.prefix)
                if low in (
                    f"{one} {figure}",
                    f"{figure} {one}",
                    f"{figure} mm {one}",
                    f"{one} {figure} mm",
                    f"{one} key {figure}",
                ):
                    return drive.id, size
    return "", ""


def _parts(text: str) -> list[str]:
    text = re.sub(r"(?<=\d),(?=\d)", ".", text.strip().strip(".!"))
    return [p.strip() for p in re.split(r"[,;]|\band\b|\bwith\b", text) if p.strip()]


def _take(out: Measured, part: str) -> Measured:
    for state, words in STATES.items():
        if re.fullmatch(
            rf"(?:(?:the|its) )?(?:recess|drive|thread|screw|it)?\s*(?:is )?(?:a bit |badly )?(?:{words})"
            r"(?: (?:recess|drive|thread|screw))?",
            part,
            re.IGNORECASE,
        ):
            return evolve(out, worn=out.worn or state == "worn", coated=out.coated or state == "coated")
    counted = COUNTED.fullmatch(part)
    if counted:
        n = int(counted["n"])
        if n < 1:
            raise BenchError("Count at least one thread for the pitch.")
        span, off = _figure(counted)
        return _add(out, "pitch", span / n, (off or CARE["od"] * 3) / n)
    fits = FITS.fullmatch(part) or FITTED.fullmatch(part)
    driver = driver_of(fits["size"] if fits else part)
    if driver[0]:
        if out.driver[0] and out.driver != driver:
            raise BenchError(f"Two drivers are named; type the one that fits best: {out.driver[1]} or {driver[1]}.")
        return evolve(out, driver=driver)
    match = KEYED.fullmatch(part) or BACKWARDS.fullmatch(part)
    if match is None:
        first = KEYED.match(part) or COUNTED.match(part)  # "od 2.9 pitch .5": no comma between them
        if first is not None and first.end() < len(part):
            return _take(_take(out, first.group().strip()), part[first.end() :].strip())
        raise BenchError(f"“{part}” is not a known measurement; type it like “head 3.2” or “7 threads over 2.5”.")
    key = next(k for k in WORDS if match[k])
    value, off = _figure(match)
    return _add(out, key, value, off)


def _figure(match: re.Match[str]) -> tuple[float, float | None]:
    unit = (match["unit"] or "mm").lower()
    try:
        value = quantity(f"{match['value']} {unit}", "length")
    except ValueError as error:
        raise BenchError(str(error)) from None
    off = abs(float(match["off"].replace(",", "."))) if match["off"] else None
    return value, off


def _add(out: Measured, key: str, value: float, off: float | None) -> Measured:
    low, high = BELIEVED[key]
    notes = out.notes
    if not low <= value <= high:
        if low <= value * INCH_MM <= high and value < low:
            notes = (*notes, f"{LABELS[key]} {value:g} was taken as inches: {value * INCH_MM:.2f} mm")
            value, off = value * INCH_MM, (off or CARE[key] / INCH_MM) * INCH_MM
        else:
            what = LABELS[key].capitalize()
            raise BenchError(f"{what} of {value:g} mm is outside the range of screws here ({low:g} to {high:g} mm).")
    if key in out.figures and abs(out.figures[key].value - value) > 4 * (off or CARE[key]):
        raise BenchError(f"Two figures for the {LABELS[key]}: {out.figures[key].value:g} and {value:g} mm.")
    return evolve(out, figures={**out.figures, key: Reading(value, off or CARE[key])}, notes=notes)
