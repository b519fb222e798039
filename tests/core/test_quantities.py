"""Typed figures against the library pint, over generated values, units and ways of writing."""

import pint
import pytest
from hypothesis import given
from hypothesis import strategies as st

from oddbolt.core.reference.quantities import SPELLED, quantity
from oddbolt.core.reference.units import BASE_UNIT

LIBRARY = pint.UnitRegistry()
#: our unit of each dimension, and units as typed, in pint's words
OURS = {
    "length": (
        "mm",
        {"mm": "mm", "cm": "cm", "m": "m", "µm": "µm", "um": "um", "in": "in", "ft": "ft", "thou": "thou"},
    ),
    "time": ("s", {"s": "s", "min": "min", "h": "hour", "ms": "ms", "d": "day"}),
    "mass": ("g", {"g": "g", "mg": "mg", "kg": "kg", "oz": "oz", "lb": "lb"}),
    "torque": (
        "newton*cm",
        {"N·cm": "newton*cm", "cN·m": "cN*m", "N-m": "newton*m", "Nm": "newton*m", "mN·m": "mN*m", "in-lb": "inch*lbf"}
        | {"ft·lbf": "foot*lbf", "ozf·in": "ounce_force*inch", "kgf·cm": "kgf*cm", "N·mm": "newton*mm"},
    ),
    "charge": ("mA*hour", {"mAh": "mA*hour", "Ah": "A*hour"}),
    "energy": ("W*hour", {"Wh": "W*hour", "mWh": "mW*hour", "kWh": "kW*hour", "J": "J", "kJ": "kJ", "mJ": "mJ"}),
    "voltage": ("V", {"V": "V", "mV": "mV", "kV": "kV"}),
    "power": ("W", {"W": "W", "mW": "mW", "kW": "kW"}),
    "resistance": ("ohm", {"Ω": "ohm", "mΩ": "mohm", "kΩ": "kohm", "MΩ": "Mohm", "GΩ": "Gohm"}),
    "capacitance": ("µF", {"µF": "µF", "uF": "uF", "nF": "nF", "pF": "pF", "mF": "mF", "F": "F"}),
    "temperature": ("degC", {"°C": "degC", "°F": "degF", "K": "kelvin"}),
    "area": ("mm**2", {"mm²": "mm**2", "cm2": "cm**2", "cm^2": "cm**2"}),
    "density": ("g/cm**3", {"g/cm³": "g/cm**3", "kg/m3": "kg/m**3"}),
    "flux": ("W/m**2", {"W/m²": "W/m**2", "W/cm2": "W/cm**2"}),
}


@st.composite
def written(draw):
    """A figure with the text of it: decimal point or comma, with or without groups of thousands, minus either way."""
    whole, part = draw(st.integers(0, 10**7)), draw(st.text("0123456789", max_size=4))
    decimal, group = draw(
        st.sampled_from([(".", ""), (",", ""), (".", ","), (",", "."), (".", " "), (",", "'"), (".", "\u202f")])
    )
    if decimal == "," and len(part) == 3:
        part = part[:2]  # else it may be thousands, and is asked about
    if group and not part:
        part = "0"
    body = f"{whole:,}".replace(",", group) if group else str(whole)
    minus = draw(st.sampled_from(["", "-", "−"]))
    text = minus + body + (decimal + part if part else "")
    return (-1 if minus else 1) * float(f"{whole}.{part or 0}"), text


@given(st.data(), st.sampled_from(sorted(OURS)), written())
def test_every_unit_comes_to_what_the_library_says(data, dimension, figure):
    ours, units = OURS[dimension]
    typed = data.draw(st.sampled_from(sorted(units)))
    value, text = figure
    wanted = LIBRARY.Quantity(value, units[typed]).to(ours).magnitude
    space = data.draw(st.sampled_from(["", " ", "\xa0"]))
    assert quantity(f"{text}{space}{typed}", dimension) == pytest.approx(wanted, rel=1e-9, abs=1e-9)


@given(st.integers(0, 20), st.integers(1, 63), st.sampled_from([2, 4, 8, 16, 32, 64]))
def test_fractions_of_an_inch(whole, top, bottom):
    text = f'{whole} {top}/{bottom}"' if whole and top < bottom else f'{top}/{bottom}"'
    wanted = ((whole if whole and top < bottom else 0) + top / bottom) * 25.4
    assert quantity(text, "length") == pytest.approx(wanted)
    assert quantity("2½ in", "length") == quantity("2 1/2 in", "length") == quantity("2.5 in", "length")


@given(st.sampled_from(sorted(BASE_UNIT)), st.floats(-1e9, 1e9, allow_subnormal=False))
def test_what_is_shown_is_the_same_when_typed_again(dimension, value):
    shown = f"{value + 0.0:.6g} {BASE_UNIT[dimension]}".rstrip()
    again = quantity(shown, dimension)
    assert f"{again:.6g} {BASE_UNIT[dimension]}".rstrip() == shown


@pytest.mark.parametrize(
    ("text", "dimension", "words"),
    [
        ("12,000 mAh", "charge", "may be 12000 or 12.000"),
        ("1,234 g", "mass", "may be 1234 or 1.234"),
        ("5 10", "length", "type it like"),
        ("5 10 mm", "length", "type it like"),
        ("1 min 20", "time", "type it like"),
        ("20 s 1 min", "time", "type it like"),
        ("2-3 mm", "length", "type it like"),
        ("12,34,567 g", "mass", "type it like"),
        ("2 mil", "length", "thou or mm"),
        ("2 m", "resistance", "Type M"),
        ("5 MNm", "torque", "Type mNm"),
        ("4k7", "resistance", "type it like"),
        ("3/0 in", "length", "type it like"),
        ("1e999", "mass", "type it like"),
        ("9" * 500, "mass", "type it like"),
        ("20 °C 5 °C", "temperature", "type it like"),
    ],
)
def test_what_may_mean_two_things_is_refused_with_a_sentence(text, dimension, words):
    with pytest.raises(ValueError, match=words):
        quantity(text, dimension)


def test_capitals_tell_milli_from_mega_and_nothing_else():
    assert quantity("2 mΩ", "resistance") * 1e9 == pytest.approx(quantity("2 MΩ", "resistance"))
    assert quantity("2 MOHM", "resistance") == quantity("2 Mohm", "resistance") == 2e6
    assert (quantity("3 MM", "length"), quantity("3 mnm", "torque")) == (3, pytest.approx(0.3))
    assert quantity("1 ft 2 in", "length") == pytest.approx(14 * 25.4)
    assert set(SPELLED) == set(BASE_UNIT)


@given(st.integers(0, 99), st.integers(0, 59), st.integers(0, 59))
def test_a_time_as_a_clock_shows_it(hours, minutes, seconds):
    assert quantity(f"{hours}:{minutes:02d}:{seconds:02d}", "time") == 3600 * hours + 60 * minutes + seconds
    assert quantity(f"{minutes}:{seconds:02d}", "time") == 60 * minutes + seconds
    for typed in ("1:60", "1:2", "1:20:99", ":20"):
        with pytest.raises(ValueError, match="is not a time"):
            quantity(typed, "time")
