"""What a marking says: every reading that is possible, ranked by the kind and package of the part.

Doubtful characters (0 and O, 1 and I, 5 and S, 8 and B) are tried both ways; a reading that needs one read otherwise
counts less. Values of resistors, capacitors and inductors that are in no preferred series (IEC 60063) count less, too.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Sequence
from functools import lru_cache
from itertools import product
from math import floor, log10

from attrs import evolve, frozen

from oddbolt.core.errors import BenchError
from oddbolt.core.reference.tables import table
from oddbolt.core.study import Study, change

#: what else a character may be on a worn or printed part, and what reading it so costs
DOUBTFUL = {
    "O": "0",
    "Q": "0",
    "D": "0",
    "I": "1",
    "L": "1",
    "S": "5",
    "B": "8",
    "0": "O",
    "1": "I",
    "5": "S",
    "8": "B",
}
MISREAD, MOST_MISREAD, MOST_TRIED = 0.08, 2, 60
#: how much a value counts that is in no preferred series, and a kind that was not asked for
ODD_VALUE, OTHER_KIND = 0.12, 0.02
LONGEST, SHORT = 40, 8
#: the kinds of part that a marking may be of, and other words for them
KINDS = (
    *"resistor capacitor inductor fuse cell crystal diode transistor wire winding housing date".split(),
    "rating plate",
)
#: kind of a marking -> the field of the part that its reading belongs to; else its value
FIELD_OF = {"date": "date_code", "housing": "material", "fuse": "rating", "cell": "rating", "rating plate": "rating"}
ALSO = {"battery": "cell", "coil": "inductor", "choke": "inductor", "cover": "housing", "motor": "winding"}
#: powers of ten of prefixes
PREFIX = {"p": -12, "n": -9, "µ": -6, "u": -6, "m": -3, "": 0, "k": 3, "K": 3, "M": 6, "G": 9}
CHIPS = re.compile(r"^(?:0?1005|0201|0402|0603|0805|1206|1210|1812|2010|2512|chip|smd)$", re.IGNORECASE)


@frozen
class Marking:
    """One way to read a marking: the ``kind`` of part, what it says in words, a value in ``unit`` where there is one,
    by which rule and source, and how probable it is (0 to 1); ``read_as`` where some of it is read otherwise."""

    kind: str
    words: str
    value: float | None
    unit: str
    rule: str
    source: str
    probability: float = 0.0
    read_as: str = ""


def decode(text: str, package: str = "", kind: str = "") -> tuple[Marking, ...]:
    """All readings of a marking, the likeliest first. ``package`` is a chip size ("0805") or one of the rows of
    ``markings.toml``; ``kind`` is what the part is known to be ("resistor").

    Raises BenchError for nothing to read, too much of it, and a package that nobody knows.
    """
    typed = " ".join(text.split())
    if not typed:
        raise BenchError("Type the marking, like 4R7, 104K or T2A.")
    if len(typed) > LONGEST:
        raise BenchError(f"A marking of more than {LONGEST} characters is read line by line; type one line.")
    likely, kind = _of_package(package), ALSO.get(kind.lower(), kind.lower())
    found: dict[tuple[str, str], tuple[float, Marking]] = {}
    for variant, misread in _variants(typed):
        for rule in RULES:
            for one, weight in rule(variant):
                total = weight * MISREAD**misread * likely.get(one.kind, likely.get("other", 1.0))
                total *= 1.0 if not kind or one.kind == kind else OTHER_KIND
                key = (one.kind, one.words)
                if total > found.get(key, (0.0, one))[0]:
                    found[key] = total, evolve(one, read_as="" if misread == 0 else variant)
    whole = sum(weight for weight, _ in found.values())
    ranked = sorted(found.values(), key=lambda row: -row[0])
    return tuple(evolve(one, probability=weight / whole) for weight, one in ranked)


def kept(study: Study, part: str, text: str, found: Sequence[Marking]) -> Study:
    """The study with a marking kept with a part as a line of its own; its likeliest reading, if that is more likely
    than not, fills the field that it belongs to where nothing stands there yet."""
    record = study.parts.get(part)
    if record is None:
        raise BenchError("Select a part first.")
    line = " ".join(text.split())
    if line in record.markings:
        raise BenchError(f"“{line}” is already among the markings of {record.name}.")
    fields: dict[str, object] = {"markings": (*record.markings, line)}
    if found and found[0].probability > 0.5:
        field = FIELD_OF.get(found[0].kind, "value")
        if not getattr(record, field):
            fields[field] = found[0].words
    return change(study, part, **fields)


def _of_package(package: str) -> dict[str, float]:
    if not package.strip():
        return {}
    name = package.strip().lower()
    rows: dict[str, dict[str, float]] = table("markings")["packages"]
    known = "chip" if CHIPS.match(name) else "tantalum" if re.fullmatch(r"(?:case )?[a-ex]", name) else name
    if known not in rows:
        raise BenchError(f"“{package}” is no package known here; use a chip size like 0805, or {', '.join(rows)}.")
    return rows[known]


def _variants(text: str) -> Iterator[tuple[str, int]]:
    """The text, and with up to two doubtful characters read otherwise."""
    yield text, 0
    code = " " not in text and len(text) <= SHORT  # in longer lines a figure is a figure
    at = [n for n, c in enumerate(text) if c.upper() in DOUBTFUL and (code or c.isalpha())][:6]
    tried = 0
    for swap in sorted(product((False, True), repeat=len(at)), key=sum):
        if not 0 < sum(swap) <= MOST_MISREAD or tried >= MOST_TRIED:
            continue
        tried += 1
        out = list(text)
        for n, swapped in zip(at, swap, strict=True):
            if swapped:
                out[n] = DOUBTFUL[out[n].upper()]
        yield "".join(out), sum(swap)


# -- figures ------------------------------------------------------------------------------------------------


def _engineering(value: float, unit: str) -> str:
    """A value with a prefix: "4.7 kΩ"."""
    if value == 0:
        return f"0 {unit}"
    power = max(-12, min(9, 3 * floor(log10(abs(value)) / 3 + 1e-9)))
    prefix = {-12: "p", -9: "n", -6: "µ", -3: "m", 0: "", 3: "k", 6: "M", 9: "G"}[power]
    return f"{value / 10.0**power:.4g} {prefix}{unit}"


def preferred(value: float) -> bool:
    """Whether a value is in one of the series E3 to E192 (IEC 60063)."""
    if value <= 0:
        return value == 0
    mantissa = value / 10 ** floor(log10(value) + 1e-9)
    return any(abs(mantissa - m) < 5e-3 * m * 0.2 for m in _series())


@lru_cache(maxsize=1)
def _series() -> tuple[float, ...]:
    """Mantissas of E24 and E96, and 5.0, which is made beside them."""
    e24 = (
        1.0,
        1.1,
        1.2,
        1.3,
        1.5,
        1.6,
        1.8,
        2.0,
        2.2,
        2.4,
        2.7,
        3.0,
        3.3,
        3.6,
        3.9,
        4.3,
        4.7,
        5.1,
        5.6,
        6.2,
        6.8,
        7.5,
        8.2,
        9.1,
    )
    return (*e24, 5.0, *(e96(n) / 100 for n in range(1, 97)))


def e96(n: int) -> int:
    """The n-th value of E96 (1 to 96) in three figures: 100 to 976."""
    return round(100 * 10 ** ((n - 1) / 96))


def _passive(kind: str, value: float, unit: str, extra: str, rule: str, source: str) -> tuple[Marking, float]:
    words = ", ".join(filter(None, (_engineering(value, unit), extra)))
    return Marking(kind, words, value, unit, rule, source), 1.0 if preferred(value) else ODD_VALUE


def _tolerance(letter: str, value_f: float | None = None) -> str:
    rows = table("markings")["tolerances"]
    if not letter:
        return ""
    if letter in rows["lopsided"]:
        return str(rows["lopsided"][letter])
    if value_f is not None and value_f < 10e-12 and letter in rows["picofarad"]:
        return f"±{rows['picofarad'][letter]:g} pF"
    return f"±{rows['percent'][letter]:g} %" if letter in rows["percent"] else ""


# -- the rules ----------------------------------------------------------------------------------------------

Found = Iterator[tuple[Marking, float]]
IEC62 = "IEC 60062, from memory"


def _resistors(text: str) -> Found:
    t = text.replace("Ω", "R").replace(" ", "")
    if re.fullmatch(r"0{1,4}|0R0*", t, re.IGNORECASE):
        yield Marking("resistor", "0 Ω, a jumper", 0.0, "Ω", "jumper", IEC62), 1.0
        return
    if m := re.fullmatch(r"(\d{0,3})([RKMGkm])(\d{0,3})([BCDFGJKM]?)", t):
        whole, letter, rest, tolerance = m.groups()
        if whole or rest:
            power = {"R": 0, "K": 3, "k": 3, "M": 6, "G": 9, "m": -3}[letter]
            value = float(f"{whole or 0}.{rest or 0}") * 10**power
            yield _passive("resistor", value, "Ω", _tolerance(tolerance), "letter as decimal point", IEC62)
    if m := re.fullmatch(r"(\d{2,3})(\d)([BCDFGJKM]?)", t):
        digits, power_, tolerance = m.groups()
        if digits[0] != "0" and int(power_) <= 7:
            value = int(digits) * 10.0 ** int(power_)
            usual = _tolerance(tolerance) or ("±5 % usual" if len(digits) == 2 else "±1 % usual")
            yield _passive("resistor", value, "Ω", usual, "figures and power of ten", IEC62)
    rows = table("markings")["eia96"]
    if (m := re.fullmatch(r"(\d\d)([A-Z])", t.upper())) and m[2] in rows["power"] and 1 <= int(m[1]) <= 96:
        value = e96(int(m[1])) * 10.0 ** rows["power"][m[2]]
        yield _passive("resistor", value, "Ω", "±1 %", "three characters for 1 %", str(rows["source"]))


def _colours(text: str) -> Found:
    rows = table("markings")["colours"]
    bands = [rows["same"].get(w, w) for w in re.split(r"[\s,\-]+", text.lower()) if w]
    known = {*rows["digit"], *rows["power"], *rows["tolerance"]}
    if not 3 <= len(bands) <= 6 or not set(bands) <= known:
        return
    source = str(rows["source"])
    for row, weight in ((bands, 1.0), (bands[::-1], 0.25)):
        figures = 3 if len(row) >= 5 else 2
        heads = row[:figures]
        if not all(b in rows["digit"] for b in heads) or row[figures] not in rows["power"] or heads[0] == "black":
            continue
        digits = int("".join(str(rows["digit"][b]) for b in heads))
        value = digits * 10.0 ** rows["power"][row[figures]]
        after = row[figures + 1 : figures + 2]
        if after and after[0] not in rows["tolerance"]:
            continue
        tolerance = rows["tolerance"][after[0]] if after else 20
        one, odd = _passive("resistor", value, "Ω", f"±{tolerance:g} %", "colour bands", source)
        yield one, odd * weight
        coil, odd = _passive("inductor", value * 1e-6, "H", f"±{tolerance:g} %", "colour bands in µH", source)
        yield coil, odd * weight * 0.2
    if len(bands) == 1 and bands == ["black"]:
        yield Marking("resistor", "0 Ω, a jumper", 0.0, "Ω", "one black band", source), 1.0


def _capacitors(text: str) -> Found:
    t = text.replace(" ", "").replace("u", "µ")
    rows = table("markings")["voltages"]
    if m := re.fullmatch(r"(?:([0-3]?[A-HJKV]))?(\d\d)([0-8])([BCDFGHJKMNZSQ]?)(?:([0-3][A-HJKV])|(\d+)V)?", t):
        before, digits, power, tolerance, letters, volts = m.groups()
        value = int(digits) * 10.0 ** int(power) * 1e-12
        code = letters or (before if before and len(before) == 2 else "")
        rated = float(volts) if volts else 10.0 ** int(code[0]) * rows["letter"][code[1]] if code else None
        if digits[0] != "0" and not (before and len(before) == 1):
            said = (_tolerance(tolerance, value), f"{rated:g} V" if rated else "")
            one, odd = _passive("capacitor", value, "F", ", ".join(filter(None, said)), "pF and power of ten", IEC62)
            yield one, odd * (0.05 if tolerance in ("B", "C", "D") and value >= 10e-12 else 1.0)
    if (m := re.fullmatch(r"(\d\d)(\d)([eGJACDEVT])|([eGJACDEVT])(\d\d)(\d)", t)) is not None:
        digits, power, letter = (m[1], m[2], m[3]) if m[1] else (m[5], m[6], m[4])
        value = int(digits) * 10.0 ** int(power) * 1e-12
        if 1e-8 <= value <= 5e-3:
            rated = rows["tantalum"][letter]
            yield _passive("capacitor", value, "F", f"tantalum, {rated:g} V", "tantalum code", str(rows["source"]))
    if m := re.fullmatch(r"(\d{0,3})([pnµm])(\d{0,2})F?([BCDFGHJKM]?)(?:(\d+)V)?", t):
        whole, letter, rest, tolerance, volts = m.groups()
        if whole or rest:
            value = float(f"{whole or 0}.{rest or 0}") * 10.0 ** PREFIX[letter]
            said = (_tolerance(tolerance, value), f"{volts} V" if volts else "")
            one, odd = _passive(
                "capacitor", value, "F", ", ".join(filter(None, said)), "letter as decimal point", IEC62
            )
            henries = tolerance == "H" and "F" not in t  # the unit of a coil rather than a tolerance of 3 %
            yield one, odd * (0.4 if letter == "m" else 0.05 if henries else 1.0)
    if m := re.fullmatch(r"(\d+(?:[.,]\d+)?)[/ ](\d+(?:\.\d)?) ?V", text):
        value = float(m[1].replace(",", ".")) * 1e-6
        yield _passive("capacitor", value, "F", f"electrolytic, {m[2]} V", "µF and volts", "common practice, no source")
    ceramic = table("markings")["ceramics"]
    if m := re.fullmatch(r"([XYZ])([4-9])([A-FPRSTUV])", t.upper()):
        low, high, change = ceramic["low"][m[1]], ceramic["high"][m[2]], ceramic["change"][m[3]]
        words = f"ceramic class: {low} to {high} °C, {change}"
        yield Marking("capacitor", words, None, "", "ceramic class", str(ceramic["source"])), 1.0
    if t.upper() in ("C0G", "COG", "NP0", "NPO"):
        words = "ceramic class 1: 0 ± 30 ppm/K"
        yield Marking("capacitor", words, None, "", "ceramic class", str(ceramic["source"])), 1.0
    classes = table("markings")["suppression"]
    if t.upper() in classes["classes"]:
        words = f"interference suppression, {classes['classes'][t.upper()]}"
        yield Marking("capacitor", words, None, "", "safety class", str(classes["source"])), 1.0


def _inductors(text: str) -> Found:
    t = text.replace(" ", "").replace("u", "µ")
    practice = "common practice after IEC 60062, from memory"
    if (m := re.fullmatch(r"(\d\d)(\d)([JKMN]?)", t)) and int(m[2]) <= 4 and m[1][0] != "0":
        value = int(m[1]) * 10.0 ** int(m[2]) * 1e-6
        one, odd = _passive("inductor", value, "H", _tolerance(m[3]), "µH and power of ten", practice)
        yield one, odd * 0.5
    if (m := re.fullmatch(r"(\d{0,3})([RNnµ])(\d{0,2})H?([JKMN]?)", t)) and (m[1] or m[3]):
        value = float(f"{m[1] or 0}.{m[3] or 0}") * {"R": 1e-6, "N": 1e-9, "n": 1e-9, "µ": 1e-6}[m[2]]
        one, odd = _passive("inductor", value, "H", _tolerance(m[4]), "letter as decimal point", practice)
        yield one, odd * (1.0 if "H" in t else 0.5)


def _fuses(text: str) -> Found:
    rows = table("markings")["fuses"]
    pattern = r"(FF|TT|F|M|T)\s*(\d+(?:[.,]\d+)?)\s*(m?)A?\s*([HLE]?)\s*(?:(\d+)\s*V~?)?"
    if m := re.fullmatch(pattern, text, re.IGNORECASE):
        amps = float(m[2].replace(",", ".")) * (1e-3 if m[3] else 1.0)
        said = [f"{_engineering(amps, 'A')}, {rows['speed'][m[1].upper()]}"]
        said += [rows["breaking"][m[4].upper()]] if m[4] else []
        said += [f"{m[5]} V"] if m[5] else []
        has_unit = "a" in text.lower()[1:]
        yield Marking("fuse", ", ".join(said), amps, "A", "fuse", str(rows["source"])), 1.0 if has_unit else 0.3


def _cells(text: str) -> Found:
    t, rows = text.upper().replace(" ", ""), table("markings")["cells"]
    source = str(rows["source"])
    if m := re.fullmatch(r"(\d?)([ABCEFGLPSZ]?)(R|F|P)(\d{1,5})([A-Z]*)", t):
        series, chem, form, size, _ = m.groups()
        name, volts = rows["primary"][chem]
        count = int(series or 1)
        shape = {"R": "round", "F": "flat", "P": "prismatic"}[form]
        said = [f"{name}, {shape}, {volts * count:g} V"]
        if len(size) >= 4:
            said.append(f"{int(size[:-2])} mm wide, {int(size[-2:]) / 10:g} mm high")
        else:
            sizes = {
                "6": "size AA",
                "03": "size AAA",
                "20": "size D",
                "14": "size C",
                "61": "9 V block",
                "44": "11.6 x 5.4 mm",
            }
            if size not in sizes:
                return
            said.append(sizes[size])
        yield Marking("cell", ", ".join(said), volts * count, "V", "primary cell", source), 1.0 if chem else 0.5
    if m := re.fullmatch(r"I([CFNMTVX])(R|P)(\d{2})/?(\d{2,3})/?(\d{0,3})", t):
        word, form, a, b, c = m.groups()
        high = int(b) / 10 if form == "R" and len(b) == 3 else int(b)
        long = f"{int(b)} x {int(c)} mm" if form == "P" and c else f"{high:g} mm long"
        size = f"{int(a)} mm thick, {long}" if form == "P" else f"{int(a)} mm wide, {long}"
        volts = 3.2 if word == "F" else 2.4 if word == "T" else 3.7
        name = f"lithium-ion, {rows['lithium_ion'][word]}, {'round' if form == 'R' else 'prismatic'}"
        yield Marking("cell", f"{name}, {size}, {volts:g} V", volts, "V", "rechargeable cell", source), 1.0
    if (m := re.fullmatch(r"([HK])R(\d{1,2})(?:/(\d+))?", t)) is not None:
        name, volts = rows["rechargeable"][m[1]]
        yield Marking("cell", f"{name}, round, {volts:g} V", volts, "V", "rechargeable cell", source), 1.0


def _ratings(text: str) -> Found:
    """Figures of a plate or a cell held against each other: V, A (or Ah) and W (or Wh)."""
    seen: dict[str, float] = {}
    for number, prefix, unit in re.findall(r"(\d+(?:[.,]\d+)?)\s*([mkµ]?)(Wh|Ah|VA|V|A|W|Hz)(?![A-Za-z])", text):
        seen.setdefault(unit, float(number.replace(",", ".")) * 10.0 ** PREFIX[prefix])
    arithmetic = "arithmetic"
    for left, right, product_, kind in (("V", "A", "W", "rating plate"), ("V", "Ah", "Wh", "cell")):
        if {left, right, product_} <= seen.keys():
            expected = seen[left] * seen[right]
            off = seen[product_] / expected - 1 if expected else 9.0
            holds = abs(off) <= 0.05
            word = "agrees with" if holds else f"is {abs(off):.0%} {'more' if off > 0 else 'less'} than"
            words = f"{seen[product_]:g} {product_} {word} {seen[left]:g} V x {seen[right]:g} {right}"
            yield Marking(kind, words, seen[product_], product_, "figures against each other", arithmetic), 1.0
        elif {left, right} <= seen.keys():
            value = seen[left] * seen[right]
            words = f"{seen[left]:g} V, {seen[right]:g} {right}: {value:.4g} {product_}"
            yield Marking(kind, words, value, product_, "figures multiplied", arithmetic), 0.2


def _housings(text: str) -> Found:
    t, rows = text.strip().strip("><").upper(), table("markings")
    if m := re.fullmatch(r"IP([0-6X])([0-9X])[A-Z]?", t):
        words = f"{rows['ingress']['solid'][m[1]]}; {rows['ingress']['water'][m[2]]}"
        yield Marking("housing", words, None, "", "degree of protection", str(rows["ingress"]["source"])), 1.0
    if m := re.fullmatch(r"(?:PROTECTION )?CLASS (I{1,3}|0)", t):
        told = {
            "0": "basic insulation only",
            "I": "protective conductor",
            "II": "double insulation",
            "III": "extra low voltage",
        }
        yield Marking("housing", told[m[1]], None, "", "protection class", "IEC 61140, from memory"), 1.0
    if (m := re.fullmatch(r"(?:THERMAL |INSULATION )?CLASS ([YAEBFHNR])(?: ?\d+)?", t)) is not None:
        celsius = rows["insulation"]["classes"][m[1]]
        words = f"insulation up to {celsius} °C"
        yield Marking("winding", words, float(celsius), "°C", "thermal class", str(rows["insulation"]["source"])), 1.0
    if m := re.fullmatch(r"([A-Z0-9+\-]+?)(?:[- ](GF|CF|MD|GB|T)(\d{1,2}))?(?:[- ]FR(?:\(\d+\))?)?", t):
        bases = m[1].split("+")
        names = [rows["plastics"]["base"].get(b) for b in bases]
        if all(names):
            said = " with ".join(str(n) for n in names)
            said += f", {m[3]} % {rows['plastics']['filler'][m[2]]}" if m[2] else ""
            yield Marking("housing", said, None, "", "plastic", str(rows["plastics"]["source"])), 1.0
    if m := re.fullmatch(r"(?:RECYCLING |PLASTIC )(?:CODE )?0?([1-7])", t):
        words = f"recycling code {m[1]}: {rows['plastics']['recycling'][m[1]]}"
        yield Marking("housing", words, None, "", "recycling code", str(rows["plastics"]["source"])), 1.0


def _others(text: str) -> Found:
    t = text.strip()
    if m := re.fullmatch(r"(\d+(?:\.\d+)?)\s*(k|M)?\s*Hz|(32\.?768)K?|(\d{1,2}\.\d{3,6})", t):
        told = float(m[1]) * 10.0 ** PREFIX[m[2] or ""] if m[1] else None
        value = told if told is not None else 32768.0 if m[3] else float(m[4]) * 1e6
        yield Marking("crystal", _engineering(value, "Hz"), value, "Hz", "frequency", "common practice, no source"), 0.9
    if m := re.fullmatch(r"(?:AWG ?)(\d{1,2})|(\d{1,2}) ?AWG", t, re.IGNORECASE):
        n = int(m[1] or m[2])
        wide = 0.127 * 92 ** ((36 - n) / 39)
        area = 3.141592653589793 / 4 * wide**2
        words = f"wire of {wide:.3f} mm, {area:.4g} mm²"
        yield Marking("wire", words, area, "mm²", "wire gauge", "formula of ASTM B258"), 1.0
    if (m := re.fullmatch(r"(\d\d)(\d\d)", t)) and 1 <= int(m[2]) <= 53 and int(m[1]) <= 40:
        words = f"made in week {int(m[2])} of 20{m[1]}"
        yield Marking("date", words, None, "", "year and week", "common practice, no source"), 0.35
    if m := re.fullmatch(r"1N\d{2,5}[A-Z]?|2N\d{2,5}[A-Z]?", t.upper()):
        what = "diode" if t[0] == "1" else "transistor"
        yield Marking(what, f"registered type of a {what}", None, "", "type number", "JESD370, from memory"), 1.0
    if m := re.fullmatch(r"([AB])([ABCDFLRSTUYZ])[A-Z]?\d{2,4}[A-Z]?", t.upper()):
        stuff = {"A": "germanium", "B": "silicon"}[m[1]]
        use = str(table("markings")["types"]["use"][m[2]])
        kind = "diode" if "diode" in use or use == "rectifier" else "transistor"
        yield (
            Marking(kind, f"{stuff} {use}", None, "", "type number", "Pro Electron type designation, from memory"),
            0.8,
        )


RULES: tuple[Callable[[str], Found], ...] = (
    _resistors,
    _colours,
    _capacitors,
    _inductors,
    _fuses,
    _cells,
    _ratings,
    _housings,
    _others,
)
