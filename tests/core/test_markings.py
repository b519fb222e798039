"""Markings read: against the E-series of an independent package, pint, published examples, and values written and read
back; sources beside each."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pint import UnitRegistry

from oddbolt.core.components import decode
from oddbolt.core.components.marking import e96, preferred
from oddbolt.core.errors import BenchError
from oddbolt.core.reference.tables import table

UNIT = UnitRegistry()
#: E96 as IEC 60063 lists it; held once against the package eseries 1.2.1, which agrees
E96 = [
    int(v)
    for v in """
    100 102 105 107 110 113 115 118 121 124 127 130 133 137 140 143 147 150 154 158 162 165 169 174 178 182
    187 191 196 200 205 210 215 221 226 232 237 243 249 255 261 267 274 280 287 294 301 309 316 324 332 340
    348 357 365 374 383 392 402 412 422 432 442 453 464 475 487 499 511 523 536 549 562 576 590 604 619 634
    649 665 681 698 715 732 750 768 787 806 825 845 866 887 909 931 953 976
    """.split()
]


def best(text, package="", kind=""):
    return decode(text, package, kind)[0]


def test_the_preferred_values_are_those_of_the_standard():
    assert [e96(n) for n in range(1, 97)] == E96
    assert all(preferred(v / 100) for v in E96)
    assert not preferred(4.5)


@given(st.integers(1, 96), st.sampled_from("ABCDEFXY"))
def test_the_three_characters_for_one_per_cent_are_read_back(n, letter):
    """EIA-96: the value of E96 times the letter's power of ten."""
    power = {"A": 0, "B": 1, "C": 2, "D": 3, "E": 4, "F": 5, "X": -1, "Y": -2}[letter]
    found = best(f"{n:02d}{letter}", "0603", "resistor")
    assert found.value == pytest.approx(E96[n - 1] * 10.0**power)


@given(st.sampled_from(sorted(table("markings")["colours"]["digit"])[1:]), st.integers(0, 9), st.integers(0, 7))
def test_colours_are_read_from_either_end(first, second, power):
    """IEC 60062: first and second figure, power of ten; a band is named as in the standard."""
    digit = table("markings")["colours"]["digit"]
    names = {v: k for k, v in digit.items()}
    if digit[first] == 0:
        return
    bands = f"{first} {names[second]} {names[power]} gold"
    value = (10 * digit[first] + second) * 10.0**power
    assert best(bands, "axial", "resistor").value == pytest.approx(value)
    assert any(m.value == pytest.approx(value) for m in decode(" ".join(reversed(bands.split())), "axial", "resistor"))


@given(st.integers(10, 99), st.integers(0, 6))
def test_three_figures_are_two_and_a_power_of_ten_in_the_units_of_their_kind(digits, power):
    """IEC 60062: Ω for resistors, pF for capacitors; µH for inductors by practice. Pint converts."""
    text = f"{digits}{power}"
    expected = {
        "resistor": UNIT.Quantity(digits * 10**power, "ohm").to("ohm").magnitude,
        "capacitor": UNIT.Quantity(digits * 10**power, "picofarad").to("farad").magnitude,
        "inductor": UNIT.Quantity(digits * 10**power, "microhenry").to("henry").magnitude,
    }
    for found in decode(text):
        if found.kind in expected and not found.read_as:
            assert found.value == pytest.approx(expected[found.kind])


@pytest.mark.parametrize(
    ("text", "package", "kind", "value", "words"),
    [
        # IEC 60062, examples of letter codes
        ("R33", "0805", "resistor", 0.33, "330 mΩ"),
        ("3R3", "0805", "resistor", 3.3, "3.3 Ω"),
        ("33K2", "0805", "resistor", 33200.0, "33.2 kΩ"),
        ("3M32", "0805", "resistor", 3.32e6, "3.32 MΩ"),
        ("4K7J", "axial", "resistor", 4700.0, "±5 %"),
        ("1002", "0805", "resistor", 1e4, "10 kΩ"),
        ("0", "0603", "resistor", 0.0, "jumper"),
        ("p33", "radial", "capacitor", 0.33e-12, "0.33 pF"),
        ("4n7", "radial", "capacitor", 4.7e-9, "4.7 nF"),
        ("104K", "radial", "capacitor", 1e-7, "±10 %"),
        ("2A104J", "radial", "capacitor", 1e-7, "100 V"),
        ("1H223K", "radial", "capacitor", 2.2e-8, "50 V"),
        ("107C", "tantalum", "capacitor", 1e-4, "16 V"),
        ("X7R", "", "capacitor", None, "-55 to 125 °C, ±15 %"),
        ("C0G", "", "capacitor", None, "30 ppm"),
        ("X2", "", "capacitor", None, "across the line"),
        ("470", "coil", "inductor", 47e-6, "47 µH"),
        ("10µH", "", "inductor", 10e-6, "10 µH"),
        ("T3.15A", "", "fuse", 3.15, "time lag"),
        ("F 500mA L 250V", "", "fuse", 0.5, "low breaking capacity"),
        # IEC 60086 and IEC 61960, examples of designations
        ("CR2032", "", "cell", 3.0, "20 mm wide, 3.2 mm high"),
        ("LR6", "", "cell", 1.5, "size AA"),
        ("6LR61", "", "cell", 9.0, "9 V"),
        ("ICR18650", "", "cell", 3.7, "18 mm wide, 65 mm"),
        ("IP67", "", "housing", None, "dust tight"),
        ("PC+ABS-GF20", "", "housing", None, "20 % glass fibre"),
        (">PA66-GF30<", "", "housing", None, "polyamide 66, 30 %"),
        ("class F", "", "winding", 155.0, "155 °C"),
        ("class II", "", "housing", None, "double insulation"),
        ("32.768", "", "crystal", 32768.0, "kHz"),
        ("16.000", "can", "crystal", 16e6, "16 MHz"),
        ("2319", "", "date", None, "week 19 of 2023"),
        ("1N4148", "", "diode", None, "diode"),
        ("BC547", "", "transistor", None, "silicon small-signal transistor"),
    ],
)
def test_published_and_usual_markings(text, package, kind, value, words):
    found = best(text, package)
    assert found.kind == kind
    assert value is None or found.value == pytest.approx(value)
    assert words in found.words
    assert found.source


@pytest.mark.parametrize(("gauge", "wide_mm", "area_mm2"), [(24, 0.511, 0.205), (10, 2.588, 5.26), (36, 0.127, 0.0127)])
def test_wire_gauges_are_those_of_the_handbooks(gauge, wide_mm, area_mm2):
    """ASTM B258: figures of handbook tables, from memory."""
    found = best(f"AWG {gauge}")
    assert found.value == pytest.approx(area_mm2, rel=0.005)
    assert f"{wide_mm:.3f} mm" in found.words


def test_figures_of_a_plate_are_held_against_each_other():
    """Pint: V times A is W, V times Ah is Wh."""
    energy = (UNIT("3.7 V") * UNIT("2000 mA*hour")).to("watt_hour").magnitude
    assert best(f"3.7V 2000mAh {energy:g}Wh").words.startswith("7.4 Wh agrees")
    assert "25% more" in best("12V 2A 30W").words
    assert best("5V 2A").value == pytest.approx(10)


def test_doubtful_characters_are_tried_and_what_means_nothing_is_nothing():
    assert best("1OO", "0805").read_as == "100"
    assert best("O", "chip").value == 0.0
    assert best("4R7", "0805").probability > best("4R7").probability
    assert best("4R7", kind="inductor").kind == "inductor"
    assert decode("qwerty!") == ()
    for bad in ("", "   ", "x" * 41):
        with pytest.raises(BenchError):
            decode(bad)
    with pytest.raises(BenchError, match="no package known"):
        decode("4R7", "shoe box")


@given(st.text(max_size=40))
def test_no_text_is_too_strange_and_chances_add_up(text):
    if not text.split():
        return
    found = decode(text)
    assert not found or sum(m.probability for m in found) == pytest.approx(1.0)
