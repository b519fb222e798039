"""Figures as they are typed, with or without a unit. What can be read in two ways is refused, never guessed.

The factors are exact by definition (SI brochure, 9th edition; international yard and pound agreement of 1959; standard
gravity 9.80665 m/s²).
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable, Iterator, Mapping
from itertools import pairwise
from math import isfinite

from oddbolt.core.reference.units import BASE_UNIT, GRAVITY, INCH_MM, LBF_N

LBF_CM = LBF_N * INCH_MM / 10
OUNCE_G = 28.349523125
#: dimension -> unit as it is written -> factor to our unit. Capitals count where they tell milli from mega.
SPELLED: Mapping[str, Mapping[str, float]] = {
    "length": {
        **dict.fromkeys(("mm", "millimetre", "millimetres", "millimeter", "millimeters"), 1.0),
        **dict.fromkeys(("cm", "centimetre", "centimetres", "centimeter", "centimeters"), 10.0),
        **dict.fromkeys(("m", "metre", "metres", "meter", "meters"), 1000.0),
        **dict.fromkeys(("µm", "um", "micron", "microns", "micrometre", "micrometer"), 0.001),
        **dict.fromkeys(("in", "inch", "inches", '"', "″"), INCH_MM),
        **dict.fromkeys(("ft", "foot", "feet", "'", "′"), 12 * INCH_MM),
        **dict.fromkeys(("thou", "thousandths"), INCH_MM / 1000),
    },
    "time": {
        **dict.fromkeys(("s", "sec", "secs", "second", "seconds"), 1.0),
        **dict.fromkeys(("min", "mins", "minute", "minutes"), 60.0),
        **dict.fromkeys(("h", "hr", "hrs", "hour", "hours"), 3600.0),
        **dict.fromkeys(("d", "day", "days"), 86400.0),
        "ms": 0.001,
    },
    "torque": {
        **dict.fromkeys(("N cm", "Ncm", "cN m", "cNm", "newton centimetre", "newton centimetres"), 1.0),
        **dict.fromkeys(("newton centimeter", "newton centimeters"), 1.0),
        **dict.fromkeys(("N m", "Nm", "newton metre", "newton metres", "newton meter", "newton meters"), 100.0),
        **dict.fromkeys(("mN m", "mNm", "N mm", "Nmm"), 0.1),
        **dict.fromkeys(("lbf in", "lb in", "lbs in", "in lb", "in lbs", "in lbf", "inlb", "lbin"), LBF_CM),
        **dict.fromkeys(("inch pound", "inch pounds", "pound inch", "pound inches"), LBF_CM),
        **dict.fromkeys(("lbf ft", "lb ft", "lbs ft", "ft lb", "ft lbs", "ft lbf", "ftlb", "lbft"), 12 * LBF_CM),
        **dict.fromkeys(("foot pound", "foot pounds", "pound foot", "pound feet"), 12 * LBF_CM),
        **dict.fromkeys(("ozf in", "oz in", "in oz", "in ozf", "inoz", "ozin"), LBF_CM / 16),
        **dict.fromkeys(("kgf cm", "kg cm", "kp cm"), GRAVITY),
        **dict.fromkeys(("kgf m", "kg m", "kp m"), 100 * GRAVITY),
        **dict.fromkeys(("gf cm", "g cm"), GRAVITY / 1000),
    },
    "mass": {
        **dict.fromkeys(("g", "gram", "grams"), 1.0),
        **dict.fromkeys(("mg", "milligram", "milligrams"), 0.001),
        **dict.fromkeys(("kg", "kilo", "kilos", "kilogram", "kilograms"), 1000.0),
        **dict.fromkeys(("oz", "ounce", "ounces"), OUNCE_G),
        **dict.fromkeys(("lb", "lbs", "pound", "pounds"), 16 * OUNCE_G),
    },
    "charge": {
        **dict.fromkeys(("mAh", "mA h", "milliamp hour", "milliamp hours", "milliampere hours"), 1.0),
        **dict.fromkeys(("Ah", "A h", "amp hour", "amp hours"), 1000.0),
    },
    "energy": {
        **dict.fromkeys(("Wh", "W h", "watt hour", "watt hours"), 1.0),
        **dict.fromkeys(("J", "Ws", "W s", "joule", "joules"), 1 / 3600),
        "mJ": 1 / 3.6e6,
        "kJ": 1 / 3.6,
        "mWh": 0.001,
        "kWh": 1000.0,
    },
    "voltage": {**dict.fromkeys(("V", "volt", "volts"), 1.0), "mV": 0.001, "kV": 1000.0},
    "power": {**dict.fromkeys(("W", "watt", "watts"), 1.0), "mW": 0.001, "kW": 1000.0},
    "memory": {**dict.fromkeys(("GB", "gigabyte", "gigabytes"), 1.0), "MB": 0.001, "TB": 1000.0},
    "temperature": dict.fromkeys(("°C", "C", "degC", "degrees C", "celsius", "degrees celsius"), 1.0),
    "angle": dict.fromkeys(("°", "deg", "degree", "degrees"), 1.0),
    "capacitance": {
        **dict.fromkeys(("µF", "uF", "microfarad", "microfarads"), 1.0),
        **dict.fromkeys(("F", "farad", "farads"), 1e6),
        "mF": 1000.0,
        "nF": 0.001,
        "pF": 1e-6,
    },
    "resistance": {
        **dict.fromkeys(("Ω", "ohm", "ohms", "R"), 1.0),
        **dict.fromkeys(("mΩ", "mohm", "mohms", "milliohm", "milliohms"), 0.001),
        **dict.fromkeys(("kΩ", "kohm", "kohms", "k", "kiloohm", "kilohm", "kilohms"), 1e3),
        **dict.fromkeys(("MΩ", "Mohm", "Mohms", "megohm", "megohms", "M"), 1e6),
        **dict.fromkeys(("GΩ", "Gohm", "gigaohm", "gigaohms"), 1e9),
    },
    "area": {**dict.fromkeys(("mm2", "mm²"), 1.0), **dict.fromkeys(("cm2", "cm²"), 100.0)},
    "density": {
        **dict.fromkeys(("g/cm3", "g/cm³", "g/ml", "g/mL"), 1.0),
        **dict.fromkeys(("kg/m3", "kg/m³"), 0.001),
    },
    "share": dict.fromkeys(("%", "percent", "per cent"), 1.0),
    "flux": {**dict.fromkeys(("W/m2", "W/m²"), 1.0), **dict.fromkeys(("W/cm2", "W/cm²"), 10000.0)},
    "coupling": dict.fromkeys(("W/m2K", "W/m²K", "W/m2 K", "W/m² K"), 1.0),
    "conductivity": dict.fromkeys(("W/mK", "W/m K"), 1.0),
    "heat": dict.fromkeys(("J/kgK", "J/kg K"), 1.0),
    "number": {},
}
#: milli where a capital would mean mega: these are read as written only
MILLI = frozenset(
    {"mN m", "mNm", "mg", "mJ", "mWh", "mV", "mW", "mF", "mΩ", "mohm", "mohms", "MΩ", "Mohm", "Mohms", "M", "ms"}
)
#: dimensions that may be typed in several terms, the larger unit first: "1 min 20 s"
IN_TERMS = frozenset({"time", "length", "mass"})
#: letters of the longest text that can be a figure
LONGEST = 80
EXAMPLE = {"length": "2.5 mm", "time": "1 min 20 s", "torque": "12 N·cm", "mass": "38 g"}
#: read in two ways by different people
DOUBTFUL = {"mil": "thou or mm", "mils": "thou or mm"}
_SAME = str.maketrans(
    {"−": "-", "\N{OHM SIGN}": "Ω", "ω": "Ω", "μ": "µ", "’": "'", "\u202f": " ", "\u2009": " ", "\xa0": " "}
)
_SIGN = r"\s*(?P<sign>[+-]?)\s*"
_FRACTION = r"(?:(?P<whole>[0-9]+)[ -]+)?(?P<top>[0-9]+)\s*/\s*(?P<bottom>[0-9]+)(?![0-9.,])"
_FIGURE = r"(?P<figure>[0-9]+(?:[.,][0-9]+|[' ][0-9]{3}(?![0-9]))*|[.,][0-9]+)(?:e(?P<power>[+-]?[0-9]{1,3})(?![0-9]))?"
_UNIT = r"\s*(?P<unit>(?:[^\d\s+.,-]|[.-](?=[^\W\d])|(?<=[m^])[23](?![0-9])|\s+(?=[^\d\s+.,-]))*)\.?\s*"
_TERM = re.compile(f"{_SIGN}(?:{_FRACTION}|{_FIGURE}){_UNIT}", re.IGNORECASE)
#: a time as a clock shows it: minutes and seconds, or hours before them
_CLOCK = re.compile(r"(?:[0-9]{1,3}:)?[0-5]?[0-9]:[0-5][0-9]")
_OTHER_SCALES: Mapping[str, Callable[[float], float]] = {
    **dict.fromkeys(("°F", "F", "degrees F", "fahrenheit", "degrees fahrenheit"), lambda t: (t - 32) / 1.8),
    **dict.fromkeys(("K", "kelvin"), lambda t: t - 273.15),
}


def quantity(text: str, dimension: str) -> float:
    """A typed figure in our unit of ``dimension`` (a key of BASE_UNIT). Without a unit it is in ours.

    Decimal comma or point, groups of thousands, fractions (3/32, 2½) and powers of ten (1e3) are read. Several terms
    add up where each has its unit, the larger first ("1 min 20 s"); a time may be typed as a clock shows it ("1:20",
    "1:05:00"). Raises ValueError with a sentence where it cannot
    be understood, or could be understood in two ways ("1,234").
    """
    example = EXAMPLE.get(dimension) or f"12 {BASE_UNIT[dimension]}".strip()
    article = "an" if dimension[0] in "aeiou" else "a"
    wrong = f"{text.strip()[:LONGEST]!r} is not {article} {dimension}; type it like {example}."
    if len(text) > LONGEST:
        raise ValueError(wrong)
    clock = _CLOCK.fullmatch(text.strip()) if dimension == "time" else None
    if clock:
        return _rounded(sum(int(v) * 60**n for n, v in enumerate(reversed(text.strip().split(":")))), wrong)
    terms = [(_value(m, wrong), m["unit"]) for m in _terms(_plain(text), wrong)]
    if len(terms) == 1 and dimension == "temperature" and (scale := _other_scale(terms[0][1])):
        return _rounded(scale(terms[0][0]), wrong)
    scaled = [(value, _factor(unit, dimension, wrong)) for value, unit in terms]
    if len(terms) > 1:
        larger_first = all(a[1] > b[1] for a, b in pairwise(scaled))
        if dimension not in IN_TERMS or not larger_first or not all(unit.strip() for _, unit in terms):
            raise ValueError(wrong)
    if any(value < 0 for value, _ in scaled[1:]):
        raise ValueError(wrong)
    sign = -1 if scaled[0][0] < 0 else 1
    return _rounded(scaled[0][0] * scaled[0][1] + sign * sum(value * factor for value, factor in scaled[1:]), wrong)


def _rounded(value: float, wrong: str) -> float:
    if not isfinite(value):
        raise ValueError(wrong)
    return float(f"{value:.12g}")


def _plain(text: str) -> str:
    """Signs, spaces and fractions that look alike, as one: "2½" is "2 1/2"."""
    out = []
    for letter in text.translate(_SAME):
        apart = unicodedata.normalize("NFKC", letter).split("\N{FRACTION SLASH}")
        out.append(f" {apart[0]}/{apart[1]}" if len(apart) == 2 and all(p.isdigit() for p in apart) else letter)
    return "".join(out).strip()


def _terms(text: str, wrong: str) -> Iterator[re.Match[str]]:
    at = 0
    while at < len(text) or not at:
        match = _TERM.match(text, at)
        if match is None or match.end() == at:
            raise ValueError(wrong)
        yield match
        at = match.end()


def _value(match: re.Match[str], wrong: str) -> float:
    sign = -1.0 if match["sign"] == "-" else 1.0
    if match["bottom"]:
        whole, top, bottom = int(match["whole"] or 0), int(match["top"]), int(match["bottom"])
        if not bottom or (match["whole"] and top >= bottom):
            raise ValueError(wrong)
        return sign * (whole + top / bottom)
    return sign * _decimal(match["figure"], wrong) * float(f"1e{match['power'] or 0}")


def _decimal(body: str, wrong: str) -> float:
    """A figure with a decimal point or comma and groups of thousands. Raises ValueError where it may be either."""
    groups = re.fullmatch(r"[0-9]{1,3}(?:([ ',.])[0-9]{3})(?:\1[0-9]{3})*(?:([.,])([0-9]+))?", body)
    if re.fullmatch(r"[0-9]*[.][0-9]+|[0-9]+|[0-9]*,(?:[0-9]{1,2}|[0-9]{4,})|0*,[0-9]+|[0-9]{4,},[0-9]{3}", body):
        return float(body.replace(",", "."))
    if groups is None or groups[1] == groups[2]:
        raise ValueError(wrong)
    whole, _, part = body.rpartition(groups[2]) if groups[2] else (body, "", "")
    if groups[1] == "," and not groups[2] and body.count(",") == 1:
        one, other = body.replace(",", ""), body.replace(",", ".")
        raise ValueError(f"{body!r} may be {one} or {other}; type one of these.")
    return float(f"{whole.replace(groups[1], '')}.{part or 0}")


def _other_scale(unit: str) -> Callable[[float], float] | None:
    word = _written(unit)
    return next((scale for name, scale in _OTHER_SCALES.items() if name.casefold() == word.casefold()), None)


def _written(unit: str) -> str:
    """A unit with one space for a dot, a hyphen or a sign of multiplication, and without ^."""
    return re.sub(r"[\s·*.⋅×-]+", " ", unit.replace("^", "")).strip()


def _factor(unit: str, dimension: str, wrong: str) -> float:
    word, spelled = _written(unit), SPELLED[dimension]
    if not word:
        return 1.0
    if word in spelled:
        return spelled[word]
    if dimension == "length" and word.casefold() in DOUBTFUL:
        raise ValueError(f"{word!r} is said of several units; type {DOUBTFUL[word.casefold()]}.")
    alike = {name for name in spelled if name.casefold() == word.casefold()}
    meant = {spelled[name] for name in alike if name not in MILLI or name[0] == word[0]}
    if len(meant) == 1:
        return meant.pop()
    if alike:
        raise ValueError(
            f"{word!r}: a capital M is a million, a small m a thousandth. Type {' or '.join(sorted(alike))}."
        )
    raise ValueError(wrong)
