"""Units that people say, and what they come to in ours: mm, s, N·cm, g.

The factors are exact by definition (SI brochure, 9th edition; international yard and pound agreement of 1959: 1 in =
25.4 mm, 1 lb = 0.45359237 kg; standard gravity 9.80665 m/s²).
"""

from __future__ import annotations

from collections.abc import Mapping

LBF_N, INCH_MM, GRAVITY = 4.4482216152605, 25.4, 9.80665
#: an inch pound-force in N·cm
INCH_POUND = LBF_N * INCH_MM / 10
#: unit word -> (dimension, factor), small letters. Analysts say "four mil" for 4 mm; typed units stand in quantities.py
UNITS: Mapping[str, tuple[str, float]] = {
    **dict.fromkeys(("mm", "millimetre", "millimetres", "millimeter", "millimeters", "mil", "mils"), ("length", 1.0)),
    **dict.fromkeys(("cm", "centimetre", "centimetres", "centimeter", "centimeters"), ("length", 10.0)),
    **dict.fromkeys(("s", "sec", "secs", "second", "seconds"), ("time", 1.0)),
    **dict.fromkeys(("min", "mins", "minute", "minutes"), ("time", 60.0)),
    **dict.fromkeys(("hour", "hours"), ("time", 3600.0)),
    **dict.fromkeys(("ncm", "n cm", "newton centimetre", "newton centimetres", "newton centimeters"), ("torque", 1.0)),
    **dict.fromkeys(("nm", "n m", "newton metre", "newton metres", "newton meter", "newton meters"), ("torque", 100.0)),
    **dict.fromkeys(("in lb", "in lbs", "inch pound", "inch pounds", "pound inches"), ("torque", INCH_POUND)),
    **dict.fromkeys(("ft lb", "ft lbs", "foot pound", "foot pounds", "pound feet"), ("torque", 12 * INCH_POUND)),
    **dict.fromkeys(("g", "gram", "grams"), ("mass", 1.0)),
    **dict.fromkeys(("oz", "ounce", "ounces"), ("mass", 28.349523125)),
    **dict.fromkeys(("lb", "lbs", "pound", "pounds"), ("mass", 453.59237)),
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
