"""Small sums of the bench: stored charge, cell energy, thermal gel, tape, stretch tabs. Each has its source."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from math import exp, log

from attrs import frozen

from oddbolt.core.errors import BenchError
from oddbolt.core.reference.quantities import quantity
from oddbolt.core.reference.units import BASE_UNIT
from oddbolt.core.study.formatting import duration


@frozen
class Given:
    """One figure that a sum wants, in our unit of its ``dimension``. ``usual`` is taken if nothing is typed; an
    ``optional`` one optional."""

    name: str
    caption: str
    dimension: str
    usual: float | None = None
    optional: bool = False
    low: float = 0.0
    high: float = 1e9

    @property
    def unit(self) -> str:
        """The unit that a bare number is taken in."""
        return BASE_UNIT[self.dimension]


@frozen
class Result:
    """What came out: figures as caption and value, one sentence, and what to mind."""

    figures: tuple[tuple[str, str], ...]
    sentence: str
    caution: str = ""
    alarm: bool = False


@frozen
class SumKind:
    """A kind of sum. ``contents`` are the contents of a device, ``joints`` the kinds of joints, it belongs beside."""

    id: str
    title: str
    givens: tuple[Given, ...]
    work: Callable[[Mapping[str, float]], Result]
    source: str
    verified: bool
    contents: tuple[str, ...] = ()
    parts: tuple[str, ...] = ()
    joints: tuple[str, ...] = ()


#: resistors are sold in these ratings, in W
RATINGS = (0.25, 0.5, 1, 2, 3, 5, 7, 10, 15, 25, 50, 100)
LABEL_TOLERANCE = 0.05
GEL_FRAME_MG = (75.0, 140.0)


def reckon(kind: SumKind, typed: Mapping[str, str]) -> tuple[Result, tuple[str, ...]]:
    """Work a sum out from typed figures; returns what came out and what was given, in words ("voltage = 325 V").

    Raises BenchError with a sentence for a figure that is missing, unreadable or out of range.
    """
    values, said = {}, []
    for given in kind.givens:
        text = typed.get(given.name, "").strip()
        if not text and given.usual is None:
            if given.optional:
                continue
            raise BenchError(f"{kind.title} wants the {given.caption}{', in ' + given.unit if given.unit else ''}.")
        try:
            value = quantity(text, given.dimension) if text else float(given.usual or 0.0)
        except ValueError as error:
            raise BenchError(str(error)) from None
        if not given.low < value <= given.high:
            raise BenchError(f"The {given.caption} is {value:g} {given.unit}; it must lie above {given.low:g}.")
        values[given.name] = value
        said.append(f"{given.caption} = {value:g} {given.unit}".rstrip())
    return kind.work(values), tuple(said)


def capacitor_energy_j(capacitance_uf: float, voltage_v: float) -> float:
    """Stored energy in J: C·V²/2."""
    return capacitance_uf * 1e-6 * voltage_v**2 / 2


def bleed_s(capacitance_uf: float, voltage_v: float, limit_v: float, resistance_ohm: float) -> float:
    """Seconds until a capacitor has fallen to a limit through a resistor: R·C·ln(V/limit); 0 if it is below already."""
    return resistance_ohm * capacitance_uf * 1e-6 * log(voltage_v / limit_v) if voltage_v > limit_v else 0.0


def _capacitor(v: Mapping[str, float]) -> Result:
    c, volts, limit, ohms = v["capacitance"], v["voltage"], v["limit"], v["resistor"]
    energy, seconds, peak = capacitor_energy_j(c, volts), bleed_s(c, volts, limit, ohms), volts**2 / ohms
    # the rating that bears the mean power of the first time constant
    mean = energy * (1 - exp(-2)) / (ohms * c * 1e-6)
    rating = next((r for r in RATINGS if r >= mean), None)
    pick = f"{rating:g} W" if rating else f"more than {RATINGS[-1]:g} W; take a larger resistor"
    figures = (
        ("stored", f"{energy:.3g} J"),
        (f"to {limit:g} V", _short(seconds)),
        ("peak power", f"{peak:.3g} W"),
        ("rating", pick),
        ("after that", f"{limit * 0.368:.3g} V at {_short(seconds + ohms * c * 1e-6)}"),
    )
    sentence = f"{energy:.3g} J stored; below {limit:g} V after {_short(seconds)} through {ohms:g} Ω."
    if seconds == 0:
        sentence = f"{energy:.3g} J stored; it is below {limit:g} V already."
    caution = (
        "Measure before touching, and again after a minute: charge creeps back. The resistor must bear "
        f"{volts:g} V. Insulated leads, one hand. Follow local codes and licensed practice."
    )
    return Result(figures, sentence, caution, energy >= 1.0 and volts > limit)


def _cell(v: Mapping[str, float]) -> Result:
    energy = v["charge"] / 1000 * v["voltage"]
    figures: list[tuple[str, str]] = [("energy", f"{energy:.3g} Wh"), ("in joules", f"{energy * 3600:,.0f} J")]
    sentence, alarm = f"{energy:.3g} Wh.", False
    if "label" in v:
        off = energy / v["label"] - 1
        alarm = abs(off) > LABEL_TOLERANCE
        figures.append(("label says", f"{v['label']:g} Wh, {off:+.1%}"))
        agree = "does not agree" if alarm else "agrees"
        sentence = f"{energy:.3g} Wh; the label's {v['label']:g} Wh {agree}."
    if energy > 100:
        figures.append(("note", "above 100 Wh: carriers have rules for such cells"))
    return Result(
        tuple(figures), sentence, "A cell keeps much of this when it reads empty. Never pierce or bend it.", alarm
    )


def gel_mg(area_mm2: float, bond_line_mm: float, density_g_cm3: float) -> float:
    """Mass of thermal gel in mg that fills an area to a bond line: area · thickness · density."""
    return area_mm2 * bond_line_mm * density_g_cm3


def _gel(v: Mapping[str, float]) -> Result:
    if "mass" in v:
        line = v["mass"] * 1000 / (v["area"] * v["density"])
        return Result(
            (("bond line", f"{line:.2f} mm"), ("mass", f"{v['mass'] * 1000:.0f} mg")),
            f"{v['mass'] * 1000:.0f} mg make a bond line of {line:.2f} mm.",
            "Scrape and clean the old gel first.",
        )
    mass = gel_mg(v["area"], v["line"], v["density"])
    low, high = GEL_FRAME_MG
    beside = "" if low <= mass <= high else f"; one board's printed frame usually takes {low:.0f} to {high:.0f} mg"
    return Result(
        (("mass", f"{mass:.0f} mg"), ("volume", f"{v['area'] * v['line']:.0f} mm³")),
        f"{mass:.0f} mg of gel{beside}.",
        "Weigh it on the board: too little leaves a gap, too much is pressed out over contacts.",
    )


def _tape(v: Mapping[str, float]) -> Result:
    area = v["pieces"] * v["length"] * v["width"]
    return Result(
        (("area", f"{area / 100:.1f} cm²"), ("length", f"{v['pieces'] * v['length']:.0f} mm")),
        f"{area / 100:.1f} cm² of tape, {v['pieces'] * v['length']:.0f} mm long in all.",
        "Roll vertically, three passes or more of 6 to 10 s; stay 8 mm clear of the ends.",
    )


def _tab(v: Mapping[str, float]) -> Result:
    full = v["length"] * v["stretch"]
    return Result(
        (("drawn out", f"{full:.0f} mm"), ("lift by hand after", f"{full * 2 / 3:.0f} mm")),
        f"The tab draws out to about {full:.0f} mm; after {full * 2 / 3:.0f} mm lift by hand. Leave that much room.",
        "Flat and slow. If it tears, take solvent, not a blade. A cell that tore its film is not fitted again.",
    )


def _short(seconds: float) -> str:
    return f"{seconds:.2g} s" if seconds < 10 else duration(seconds)


_KINDS = (
    SumKind(
        "capacitor",
        "Stored charge",
        (
            Given("capacitance", "capacitance", "capacitance"),
            Given("voltage", "voltage", "voltage", high=1e5),
            Given("resistor", "resistor", "resistance", 10_000.0),
            Given("limit", "safe below", "voltage", 60.0),
        ),
        _capacitor,
        "C·V²/2 and R·C·ln(V/limit), any text on electricity; limit IEC 62368-1 ES1, from memory",
        False,
        contents=("capacitor", "mains"),
    ),
    SumKind(
        "cell",
        "Cell energy",
        (
            Given("charge", "charge", "charge"),
            Given("voltage", "nominal voltage", "voltage", 3.7, high=1000),
            Given("label", "label's energy", "energy", optional=True),
        ),
        _cell,
        "energy = charge × nominal voltage (definition); tolerance 5 % common practice, no source",
        True,
        contents=("cell",),
    ),
    SumKind(
        "gel",
        "Thermal gel",
        (
            Given("area", "frame area", "area"),
            Given("line", "bond line", "length", 0.3),
            Given("density", "density", "density", 2.8),
            Given("mass", "or the mass", "mass", optional=True),
        ),
        _gel,
        "mass = area × bond line × density (definition); 75 to 140 mg for one board common practice, no source",
        True,
        parts=("pad", "paste", "gel", "heatsink", "shield"),
    ),
    SumKind(
        "tape",
        "Tape",
        (
            Given("length", "length of a piece", "length"),
            Given("width", "width", "length"),
            Given("pieces", "pieces", "number", 1.0, high=1000),
        ),
        _tape,
        "area = length × width (definition); rolling common practice, no source",
        True,
        joints=("adhesive", "tape"),
    ),
    SumKind(
        "tab",
        "Stretch tab",
        (
            Given("length", "glued length", "length"),
            Given("stretch", "times its length", "share", 5.0, low=1.0, high=20),
        ),
        _tab,
        "common practice, no source: several times its length; two thirds, then by hand",
        False,
        joints=("adhesive",),
    ),
)
#: kinds of sums by id
SUMS: Mapping[str, SumKind] = {kind.id: kind for kind in _KINDS}
