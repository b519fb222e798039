"""Units people say and type, and what they come to in ours: mm, s, N·cm, g.

The factors are exact by definition (SI brochure, 9th edition; international yard and pound agreement of 1959: 1 in =
25.4 mm, 1 lb = 0.45359237 kg; standard gravity 9.80665 m/s²).
"""

from __future__ import annotations

import re
from collections.abc import Mapping

#: unit word -> (dimension, factor); these are also understood in a spoken sentence
UNITS: Mapping[str, tuple[str, float]] = {
    **dict.fromkeys(("mm", "millimetre", "millimetres", "millimeter", "millimeters", "mil", "mils"), ("length", 1.0)),
    **dict.fromkeys(("cm", "centimetre", "centimetres", "centimeter", "centimeters"), ("length", 10.0)),
    **dict.fromkeys(("s", "sec", "secs", "second", "seconds"), ("time", 1.0)),
    **dict.fromkeys(("min", "mins", "minute", "minutes"), ("time", 60.0)),
    **dict.fromkeys(("hour", "hours"), ("time", 3600.0)),
    **dict.fromkeys(("ncm", "n cm", "newton centimetre", "newton centimetres", "newton centimeters"), ("torque", 1.0)),
    **dict.fromkeys(("nm", "n m", "newton metre", "newton metres", "newton meter", "newton meters"), ("torque", 100.0)),
    **dict.fromkeys(("g", "gram", "grams"), ("mass", 1.0)),
    **dict.fromkeys(("mg", "milligram", "milligrams"), ("mass", 0.001)),
    **dict.fromkeys(("kg", "kilo", "kilos", "kilogram", "kilograms"), ("mass", 1000.0)),
    **dict.fromkeys(
        ("mah", "milliamp hour", "milliamp hours", "milliampere hour", "milliampere hours"), ("charge", 1.0)
    ),
    **dict.fromkeys(("ah", "amp hour", "amp hours"), ("charge", 1000.0)),
    **dict.fromkeys(("wh", "watt hour", "watt hours"), ("energy", 1.0)),
    **dict.fromkeys(("v", "volt", "volts"), ("voltage", 1.0)),
    **dict.fromkeys(("w", "watt", "watts"), ("power", 1.0)),
    **dict.fromkeys(("gb", "gigabyte", "gigabytes"), ("memory", 1.0)),
    **dict.fromkeys(("mb", "megabyte", "megabytes"), ("memory", 0.001)),
    **dict.fromkeys(("c", "degrees c", "degrees celsius", "celsius"), ("temperature", 1.0)),
    **dict.fromkeys(("degree", "degrees"), ("angle", 1.0)),
}
LBF_N, INCH_MM, GRAVITY = 4.4482216152605, 25.4, 9.80665
#: only where a figure is typed: in a sentence "in" is a preposition
TYPED_UNITS: Mapping[str, tuple[str, float]] = {
    **UNITS,
    **dict.fromkeys(("in", "inch", "inches", '"'), ("length", INCH_MM)),
    **dict.fromkeys(("um", "µm", "micron", "microns"), ("length", 0.001)),
    **dict.fromkeys(("m", "metre", "metres", "meter", "meters"), ("length", 1000.0)),
    **dict.fromkeys(("h",), ("time", 3600.0)),
    **dict.fromkeys(("mnm", "mn m"), ("torque", 0.1)),
    **dict.fromkeys(("lbf in", "lb in", "in lb", "in lbf", "inlb"), ("torque", LBF_N * INCH_MM / 10)),
    **dict.fromkeys(("ozf in", "oz in", "in oz", "inoz"), ("torque", LBF_N * INCH_MM / 160)),
    **dict.fromkeys(("kgf cm", "kg cm"), ("torque", GRAVITY)),
    **dict.fromkeys(("oz", "ounce", "ounces"), ("mass", 28.349523125)),
    **dict.fromkeys(("°c",), ("temperature", 1.0)),
    **dict.fromkeys(("°", "deg"), ("angle", 1.0)),
    **dict.fromkeys(("kv",), ("voltage", 1000.0)),
    **dict.fromkeys(("mv",), ("voltage", 0.001)),
    **dict.fromkeys(("kwh",), ("energy", 1000.0)),
    **dict.fromkeys(("mwh",), ("energy", 0.001)),
    **dict.fromkeys(("j", "ws"), ("energy", 1 / 3600)),
    **dict.fromkeys(("uf", "µf", "μf", "microfarad", "microfarads"), ("capacitance", 1.0)),
    **dict.fromkeys(("nf",), ("capacitance", 0.001)),
    **dict.fromkeys(("mf",), ("capacitance", 1000.0)),
    **dict.fromkeys(("f", "farad", "farads"), ("capacitance", 1e6)),
    **dict.fromkeys(("ω", "ohm", "ohms", "r"), ("resistance", 1.0)),
    **dict.fromkeys(("kω", "kohm", "kohms", "k"), ("resistance", 1000.0)),
    **dict.fromkeys(("mω", "mohm", "megohm", "megohms"), ("resistance", 1e6)),
    **dict.fromkeys(("mm2", "mm²"), ("area", 1.0)),
    **dict.fromkeys(("cm2", "cm²"), ("area", 100.0)),
    **dict.fromkeys(("g/cm3", "g/cm³", "g/ml"), ("density", 1.0)),
    **dict.fromkeys(("kg/m3", "kg/m³"), ("density", 0.001)),
    **dict.fromkeys(("%", "percent"), ("share", 1.0)),
    **dict.fromkeys(("w/m2", "w/m²"), ("flux", 1.0)),
    **dict.fromkeys(("w/cm2", "w/cm²"), ("flux", 10000.0)),
    **dict.fromkeys(("w/m2k", "w/m²k", "w/m² k", "w/m2 k"), ("coupling", 1.0)),
    **dict.fromkeys(("w/mk", "w/m k"), ("conductivity", 1.0)),
    **dict.fromkeys(("j/kgk", "j/kg k"), ("heat", 1.0)),
    **dict.fromkeys(("lb", "lbs", "pound", "pounds"), ("mass", 453.59237)),
}
BASE_UNIT = {
    "length": "mm",
    "time": "s",
    "torque": "N·cm",
    "mass": "g",
    "charge": "mAh",
    "energy": "Wh",
    "voltage": "V",
    "power": "W",
    "memory": "GB",
    "temperature": "°C",
    "angle": "°",
    "capacitance": "µF",
    "resistance": "Ω",
    "area": "mm²",
    "density": "g/cm³",
    "share": "%",
    "flux": "W/m²",
    "coupling": "W/m²K",
    "conductivity": "W/m K",
    "heat": "J/kg K",
    "number": "",
}
EXAMPLE = {"length": "2.5 mm", "time": "1 min 20 s", "torque": "12 N·cm", "mass": "38 g"}
_FAHRENHEIT = re.compile(r"\s*([+-]?\d+(?:[.,]\d+)?)\s*(?:°\s*|degrees\s+)?f(?:ahrenheit)?\s*", re.IGNORECASE)
_TERM = re.compile(r"\s*([+-]?(?:\d+(?:[.,]\d+)?|[.,]\d+))\s*((?:[^\d,.+-]|(?<=m)[23](?!\d))*)")


def quantity(text: str, dimension: str) -> float:
    """A typed figure in our unit of ``dimension`` (a key of BASE_UNIT). Without a unit it is in ours.

    Several terms add up ("1 min 20 s"). Raises ValueError with a sentence if it cannot be understood.
    """
    example = EXAMPLE.get(dimension) or f"12 {BASE_UNIT[dimension]}".strip()
    article = "an" if dimension[0] in "aeiou" else "a"
    wrong = ValueError(f"{text.strip()!r} is not {article} {dimension}; type it like {example}.")
    fahrenheit = _FAHRENHEIT.fullmatch(text) if dimension == "temperature" else None
    if fahrenheit:
        return round((float(fahrenheit[1].replace(",", ".")) - 32) / 1.8, 6)
    total, at = 0.0, 0
    if not text.strip():
        raise wrong
    while at < len(text.rstrip()):
        match = _TERM.match(text, at)
        if match is None:
            raise wrong
        unit = re.sub(r"[\s·*.⋅-]+", " ", match.group(2).lower()).strip()
        known = TYPED_UNITS.get(unit) if unit else (dimension, 1.0)
        if known is None or known[0] != dimension:
            raise wrong
        total += float(match.group(1).replace(",", ".")) * known[1]
        at = match.end()
    return round(total, 6)
