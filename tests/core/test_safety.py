"""What a device contains, what is checked before, what is minded at each step, what the bench needs, small sums."""

import math
from pathlib import Path

import attrs
import pint
import pytest
from builders import study_of
from hypothesis import given
from hypothesis import strategies as st

from oddbolt.core.bench.kit import kit, missing
from oddbolt.core.bench.sums import SUMS, bleed_s, capacitor_energy_j, gel_mg, reckon
from oddbolt.core.bench.waits import keep, usual_waits
from oddbolt.core.errors import BenchError, StudyError
from oddbolt.core.reach import route_to
from oddbolt.core.reference.quantities import quantity
from oddbolt.core.reference.tables import table
from oddbolt.core.safety import cautions, contents, hazards, preflight
from oddbolt.core.safety.contents import stated_in
from oddbolt.core.safety.preflight import done, reopened
from oddbolt.core.study import Device, Finding, Joint, Part, Step, Study, Sum, put, put_all
from oddbolt.demo import tide_logger

CELL = Part("P1", "Battery", kind="battery")
GLUE = Joint("J1", "adhesive", holds=("P1",), name="Battery glue", length_mm=50, width_mm=30)
PLUG = Joint("J2", "connector", holds=("P1",), name="Battery plug")


def rules(study, step):
    return [c.rule for c in cautions(study, step)]


# -- contents and checks ----------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("name", "kind", "told"),
    [
        ("Battery", "", {"cell"}),
        ("Battery tray", "", set()),
        ("Main battery 2", "", {"cell"}),
        ("Pressure cell", "sensor", set()),
        ("Pressure cell", "", set()),
        ("Glass lid", "", {"glass"}),
        ("Start capacitor", "", {"capacitor"}),
        ("Mains filter", "", {"mains"}),
        ("Laser sled", "", {"laser"}),
    ],
)
def test_contents_are_told_by_kind_or_by_the_head_of_a_name(name, kind, told):
    assert set(contents(study_of(Part("P1", name, kind=kind)))) == told


def test_what_was_stated_counts_too():
    study = attrs.evolve(Study(), device=Device(contains="Laser, lithium cell"))
    assert contents(study) == {"laser": (), "cell": ()}
    assert stated_in("mains; battery, start capacitor, sealed gas") == (
        {"mains", "cell", "capacitor", "sealed gas"},
        [],
    )
    assert stated_in("a laser diode, plutonium,") == ({"laser"}, ["plutonium"])


def test_checks_follow_what_the_device_contains_and_keep_who_and_when():
    plain, celled = preflight(Study()), preflight(study_of(CELL))
    assert {line.rule for line in plain} < {line.rule for line in celled}
    assert next(line for line in celled if line.rule == "charge").because == ("lithium cell",)
    study = done(study_of(CELL), "charge", "B. N.", "2026-11-25T08:00", 80.0)
    line = next(line for line in preflight(study) if line.rule == "charge")
    assert (line.state, line.check.by) == ("over the limit", "B. N.")
    study = done(study, "charge", "B. N.", "2026-11-25T09:00", 24.0)
    assert next(line for line in preflight(study) if line.rule == "charge").state == "done"
    assert len(study.checks) == 1
    assert not reopened(study, "charge").checks


@pytest.mark.parametrize(("reading", "state"), [(34.9, "done"), (35.0, "done"), (35.1, "over the limit")])
def test_a_wrist_strap_is_judged_against_35_megohms(reading, state):
    """IEC 61340-5-1, from memory: a worn wrist strap below 35 MΩ to ground."""
    study = done(Study(), "strap", "", "", quantity(f"{reading} MΩ", "resistance") / 1e6)
    assert next(line for line in preflight(study) if line.rule == "strap").state == state


def test_a_check_without_its_reading_is_not_done():
    for reading, words in ((None, "give the reading in MΩ"), (-1.0, "is not possible")):
        with pytest.raises(StudyError, match=words):
            done(Study(), "strap", "", "", reading)
    with pytest.raises(StudyError, match="no check called"):
        done(Study(), "horoscope", "", "")


def test_every_rule_has_a_source_and_can_come_true():
    rows = table("cautions")["rule"]
    assert all(row["source"] and "verified" in row for row in (*rows, *table("preflight")["check"]))
    told = Path(hazards.__file__).read_text(encoding="utf-8")
    for tag in {tag for row in rows for tag in (*row["when"], *row.get("unless", ()))}:
        head, _, tail = tag.rpartition(" ")
        patterned = (tail in ("near", "held") and head in table("contents")["content"]) or tail in ("now", "lately")
        assert patterned or f'"{tag}"' in told, tag


# -- cautions ---------------------------------------------------------------------------------------------


def test_a_connector_before_isolation_is_cautioned_and_after_it_is_not():
    board = Joint("J3", "connector", holds=("P2",), name="Display ribbon")
    study = study_of(
        CELL, Part("P2", "Display"), PLUG, board, Step("S1", "disconnect", releases=("J3",)),
        Step("S2", "disconnect", releases=("J2",), isolates_power=True), Step("S3", "disconnect", releases=("J3",)),
    )  # fmt: skip
    assert "live" in rules(study, "S1")
    assert "the display ribbon waits" in next(c.text for c in cautions(study, "S1") if c.rule == "live")
    assert "live" not in rules(study, "S2")
    assert "live" not in rules(study, "S3")


def glued(*steps):
    return study_of(CELL, GLUE, PLUG, *steps)


def test_heat_near_a_cell_until_the_cell_is_out():
    warm = {"verb": "soften", "said": "warmed the back", "tool": "heat mat"}
    study = glued(Step("S1", **warm), Step("S2", "take out", releases=("J1",), takes_out=("P1",)), Step("S3", **warm))
    assert "heat near a cell" in rules(study, "S1")
    assert "below 60 °C" in cautions(study, "S1")[0].text
    assert "heat near a cell" not in rules(study, "S3")


@pytest.mark.parametrize("apart", [1, 5, 6, 7, 9])
def test_solvent_and_heat_within_one_span_of_work(apart):
    steps = [Step("S1", "soften", tool="dropper", said="isopropanol under the edge", softens=("J1",))]
    steps += [Step(f"S{n}", "look") for n in range(2, apart + 1)]
    steps.append(Step(f"S{apart + 1}", "soften", tool="hot air", said="heat", softens=("J1",)))
    study = glued(*steps)
    within = apart <= table("cautions")["span_steps"]
    assert ("solvent and heat" in rules(study, f"S{apart + 1}")) == within
    if within:
        dried = keep(study, "dry off", 120, 130, f"S{apart}" if apart > 1 else "S1")
        assert "solvent and heat" not in rules(dried, f"S{apart + 1}") or apart == 1


def test_a_blade_near_a_cell_or_a_flex_and_prying_a_cell():
    flex = Part("P2", "Key flex", kind="flex")
    things = [
        flex, Joint("J9", "tape", holds=("P2",)), Step("S1", "pry", releases=("J1",), tool="knife"),
        Step("S2", "pry", releases=("J1",), tool="film"), Step("S3", "cut", releases=("J9",), tool="scalpel"),
    ]  # fmt: skip
    study = put_all(glued(), things)
    assert {"blade near a cell"} <= set(rules(study, "S1"))
    assert "prying a cell" in rules(study, "S2")
    assert {"blade near a flex"} <= set(rules(study, "S3"))


@pytest.mark.parametrize(
    ("kind", "text", "stops"),
    [("damage", "slightly swollen", True), ("note", "it bulges", True), ("caution", "puffed up", True),
     ("note", "not swollen at all", False), ("praise", "no swelling", False)],
)  # fmt: skip
def test_a_swollen_cell_stops_everything_else_and_goes_first(kind, text, stops):
    study = put(glued(Step("S1", "pry", releases=("J1",), tool="film")), Finding("N1", kind, text, "P1"))
    assert (rules(study, "S1")[0] == "swollen") is stops


def test_charge_capacitor_mains_and_screws():
    study = study_of(
        CELL, GLUE, Part("P2", "Capacitor"), Part("P3", "Mains inlet"), Joint("J4", "screw", holds=("P3",), count=None),
        Step("S1", "unscrew", releases=("J4",)),
    )  # fmt: skip
    assert {"capacitor", "mains", "screw loose near a cell"} <= set(rules(study, "S1"))
    high = done(study, "charge", "", "", 80)
    assert "charged to 80 %" in " ".join(c.text for c in cautions(high, "S1"))
    safe = done(done(done(study, "charge", "", "", 20), "bled", "", "", 3.0), "mains", "", "")
    assert rules(safe, "S1") == ["screw loose near a cell"]


def test_what_the_analyst_noted_is_among_the_cautions_of_the_demo():
    study = tide_logger.study()
    assert [c.text for c in cautions(study, "S4")] == ["The lid depends on two ribbons: fold it, do not lift it away"]
    assert cautions(study, "S999") == ()
    ranks = [[c.rank for c in cautions(study, s)] for s in study.steps]
    assert all(r == sorted(r) for r in ranks)


# -- kit and waits ----------------------------------------------------------------------------------------


def test_the_kit_of_the_demo_counts_what_the_record_holds():
    study = tide_logger.study()
    needs = {(n.sort, n.what): n for n in kit(study, contents(study), None, ["ph00", "hexalobular T5", "wrist strap"])}
    assert needs["driver", "cross PH00"].amount == 5 + 9 + 1 + 4
    assert needs["driver", "cross PH00"].there
    assert needs["driver", "hexalobular T5"].there
    assert not needs["driver", "hexalobular-plus IP8"].there
    screws = next(n for n in needs.values() if n.what.startswith("screws hexalobular-plus IP8 M2.5 8 mm"))
    assert (screws.amount, screws.unit) == (6, "pieces")
    area = (52 * 34 + 84 * 4 + 60 * 8) / 100
    assert needs["renew", "adhesive"].amount == pytest.approx(1.1 * area)
    assert ("tool", "PH00") not in needs
    assert needs["protection", "protective film"].amount == pytest.approx((134 * 92 - 0.8584 * 196) / 100, rel=1e-3)
    assert ("protection", "fireproof box for the cell") in needs
    assert needs["protection", "wrist strap"] not in missing(needs.values())


def test_the_kit_of_a_route_is_part_of_the_whole():
    study = tide_logger.study()
    steps = [leg.step for leg in route_to(study, ["P29"]).legs]
    part = {(n.sort, n.what): n for n in kit(study, contents(study), steps)}
    whole = {(n.sort, n.what): n for n in kit(study, contents(study))}
    assert set(part) < set(whole)
    assert all((n.amount or 0) <= (whole[key].amount or 0) + 1e-9 for key, n in part.items())
    assert ("driver", "hexalobular-plus IP8") not in part


def test_a_kept_gel_sum_is_what_the_kit_asks_for():
    study = study_of(
        Part("P1", "Thermal gel"), Step("S1", "clean", takes_out=("P1",)), Sum("U1", "gel", "96 mg of gel.", "P1")
    )
    assert next(n for n in kit(study, ()) if n.what == "thermal gel").said == "96 mg"


def test_a_wait_that_ran_is_filled_by_the_route():
    study = tide_logger.study()
    short = route_to(study, ["P29"]).seconds
    longer = keep(study, "solvent", 900, 960, "S25", "2026-11-25T08:00")
    assert longer.steps["S25"].wait_s == 900
    assert route_to(longer, ["P29"]).seconds > short
    assert keep(study, "solvent", 60, 45.04, "S25").steps["S25"].wait_s == 45.0
    assert all(w.least_s <= w.most_s and w.source for w in usual_waits().values())


# -- sums -------------------------------------------------------------------------------------------------

ureg = pint.UnitRegistry()


@given(st.floats(0.1, 1e5), st.floats(1, 1000), st.floats(1, 1e6))
def test_stored_charge_agrees_with_a_units_library(c, v, r):
    energy = 0.5 * (c * ureg.microfarad) * (v * ureg.volt) ** 2
    assert capacitor_energy_j(c, v) == pytest.approx(energy.to(ureg.joule).magnitude)
    seconds = bleed_s(c, v, v / math.e, r)
    assert seconds == pytest.approx((r * ureg.ohm * c * ureg.microfarad).to(ureg.second).magnitude)
    assert v * math.exp(-bleed_s(c, v, min(v, 60), r) / (r * c * 1e-6)) == pytest.approx(min(v, 60))


def test_a_flash_capacitor_worked_by_hand():
    """120 µF at 330 V: 6.53 J; through 10 kΩ down to 60 V: 1.2 s · ln 5.5 = 2.05 s (arithmetic)."""
    result, given_ = reckon(SUMS["capacitor"], {"capacitance": "120 uF", "voltage": "330 V", "resistor": "10 k"})
    assert dict(result.figures)["stored"] == "6.53 J"
    assert result.sentence.startswith("6.53 J stored; below 60 V after 2 s")
    assert given_ == ("capacitance = 120 µF", "voltage = 330 V", "resistor = 10000 Ω", "safe below = 60 V")
    assert result.alarm
    low, _ = reckon(SUMS["capacitor"], {"capacitance": "120 uF", "voltage": "12 V"})
    assert "below 60 V already" in low.sentence


def test_a_label_that_does_not_agree_is_told():
    good, _ = reckon(SUMS["cell"], {"charge": "3200 mAh", "voltage": "3.7", "label": "11.8 Wh"})
    bad, _ = reckon(SUMS["cell"], {"charge": "3.2 Ah", "voltage": "3.7 V", "label": "15 Wh"})
    assert ("agrees" in good.sentence, good.alarm) == (True, False)
    assert ("does not agree" in bad.sentence, bad.alarm) == (True, True)
    energy = (3200 * ureg.milliampere * ureg.hour * 3.7 * ureg.volt).to("watt_hour").magnitude
    assert float(dict(good.figures)["energy"].removesuffix(" Wh")) == pytest.approx(energy, rel=0.0051)


@given(st.floats(10, 2000), st.floats(0.05, 2), st.floats(1, 5))
def test_gel_by_mass_and_back(area, line, density):
    mass = gel_mg(area, line, density)
    back, _ = reckon(SUMS["gel"], {"area": f"{area:.6f}", "density": f"{density:.6f}", "mass": f"{mass:.6f} mg"})
    assert float(dict(back.figures)["bond line"].removesuffix(" mm")) == pytest.approx(line, abs=0.0051)


def test_gel_of_one_board_is_of_the_usual_order():
    """75 to 140 mg inside a printed frame on one board (common practice, no source): 10 x 12 mm at 0.3 mm."""
    assert 75 <= gel_mg(10 * 12, 0.3, 2.8) <= 140


def test_tape_and_tabs_are_simple_products():
    assert "12.0 cm²" in reckon(SUMS["tape"], {"length": "60", "width": "1 cm", "pieces": "2"})[0].sentence
    assert "200 mm; after 133 mm" in reckon(SUMS["tab"], {"length": "4 cm"})[0].sentence


@pytest.mark.parametrize(
    ("typed", "words"),
    [
        ({}, "wants the capacitance, in µF"),
        ({"capacitance": "much"}, "'much' is not a capacitance"),
        ({"capacitance": "100 V"}, "is not a capacitance"),
        ({"capacitance": "100", "voltage": "-5"}, "must lie above 0"),
        ({"capacitance": "100", "voltage": "12", "resistor": "0"}, "must lie above 0"),
    ],
)
def test_a_sum_says_what_it_cannot_use(typed, words):
    with pytest.raises(BenchError, match=words):
        reckon(SUMS["capacitor"], typed)


def test_temperatures_are_taken_in_both_scales():
    assert quantity("158 °F", "temperature") == pytest.approx(70.0)
    assert quantity("70", "temperature") == quantity("70 °C", "temperature") == 70.0


@given(
    st.sampled_from(range(62)), st.lists(st.sampled_from([r["id"] for r in table("preflight")["check"]]), max_size=6)
)
def test_a_check_that_is_done_well_never_adds_a_caution(number, rules_done):
    study = tide_logger.study()
    for check in list(study.checks.values()):
        study = reopened(study, check.rule)
    step = list(study.steps)[number]
    before = set(rules(study, step))
    for rule in rules_done:
        study = done(study, rule, "", "", 1.0)
    assert set(rules(study, step)) <= before


@given(st.sets(st.sampled_from(range(62)), min_size=1))
def test_the_kit_of_some_steps_adds_up(numbers):
    """Screws to turn are the sum over the steps; renewals are those of the joints and parts of the steps."""
    study = tide_logger.study()
    order = list(study.steps)
    chosen = [order[n] for n in sorted(numbers)]
    needs = kit(study, (), chosen)
    turned = sum(n.amount or 0 for n in needs if n.sort == "driver")
    screws = [study.joints[j] for s in chosen for j in study.steps[s].releases if study.joints[j].kind == "screw"]
    assert turned == sum(j.count for j in screws)
    renewed = {w for n in needs if n.sort == "renew" for w in n.why}
    touched = {x for s in chosen for x in (*study.steps[s].releases, *study.steps[s].takes_out)}
    assert renewed <= touched
    assert {p for p in touched if p in study.parts and study.parts[p].reuse == "renew"} <= renewed


def test_the_figures_of_isopropanol_are_those_of_an_independent_table():
    """IEC 60079-20-1 (2010) as the library chemicals holds it: flash point 12 °C, lower limit 2 % by volume."""
    from chemicals.safety import LFL, T_flash

    method = "IEC 60079-20-1 (2010)"
    flash, lower = T_flash("67-63-0", method=method) - 273.15, 100 * LFL(CASRN="67-63-0", method=method)
    told = [r["source"] for r in table("cautions")["rule"] if "flash point" in r.get("source", "")]
    assert told
    for words in told:
        assert f"flash point {flash:.0f} °C" in words
        assert f"lower limit {lower:.0f} % vol" in words
