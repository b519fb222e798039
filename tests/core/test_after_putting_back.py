"""What is left over, missing or swapped; gaps against Procrustes; the mass against known figures."""

import numpy as np
import pytest
from attrs import evolve
from builders import study_of
from hypothesis import given, settings
from hypothesis import strategies as st
from pint import UnitRegistry
from scipy.linalg import orthogonal_procrustes

from oddbolt.core.errors import BenchError, ReachError
from oddbolt.core.fasteners.parse_measurements import measured
from oddbolt.core.fasteners.screw_mass import screw_mass_g
from oddbolt.core.reassembly import aligned, ledger, left_over, mass_check, missing, readings, swaps
from oddbolt.core.reassembly.closing import logged, reported_missing
from oddbolt.core.reassembly.plan import plan_back
from oddbolt.core.reference.limits import outer_limits_mm
from oddbolt.core.reference.tables import thread_of
from oddbolt.core.safety import finals
from oddbolt.core.safety.preflight import done
from oddbolt.core.study import Device, Joint, Part, Step, Study, put
from oddbolt.demo import tide_logger

SIZES = {"M1.4": "PH00", "M1.6": "PH00", "M2": "PH0", "M2.5": "T6", "M3": "T8"}


def random_device(r, groups):
    """Groups of screws in a stack of plates, lengths to half a millimetre, all undone and put back but one screw."""
    things = []
    for n in range(1, groups + 1):
        thread = str(r.choice(list(SIZES)))
        size = SIZES[thread]
        things += [
            Part(f"P{n}", f"plate {n}"),
            Joint(
                f"J{n}",
                "screw",
                holds=(f"P{n}",),
                count=int(r.integers(1, 9)),
                drive="cross" if size.startswith("PH") else "hexalobular",
                size=size,
                thread=thread,
                length_mm=float(r.choice(np.arange(2.0, 12.5, 0.5))),
            ),
            Step(f"S{n}", "take out", releases=(f"J{n}",), takes_out=(f"P{n}",), tool=size),
        ]
    return study_of(*things)


def test_a_screw_left_over_is_placed_first_nine_times_in_ten_and_the_chances_are_calibrated():
    """300 simulated devices of 3 to 12 groups. One screw is not put back; it is measured with a caliper (od ±0.02,
    length ±0.13 mm, one standard deviation) and by trying drivers. Goal: first 90 %, in three 99 %, calibrated. One of
    a thread that the device has not is never given a place as sure."""
    r = np.random.default_rng(5)
    first, in_three, strange, sure, foreign, given_, right = 0, 0, 0, 0, [], [], []
    total = 300
    for _ in range(total):
        study = random_device(r, int(r.integers(3, 13)))
        screws = [j for j in study.joints.values() for _ in range(j.count)]
        lost = screws[r.integers(len(screws))]
        for n, joint in enumerate(study.joints.values()):
            made = joint.count - (joint.id == lost.id)
            if r.random() < 0.08:
                made = joint.count  # miscounted: said to be all back
            if made:
                count = None if made == joint.count else made
                step = Step(f"S{100 + n}", "fasten", phase="back", releases=(joint.id,), count=count)
                study = put(study, step)
        od = r.uniform(*outer_limits_mm(thread_of(lost.thread))) + r.normal(0, 0.02)
        length = lost.length_mm + r.normal(0, 0.13)
        found = left_over(study, measured(f"od {od:.2f}, length {length:.2f}, driver {lost.size}"))
        rank = [p.joint for p in found.places].index(lost.id)
        first += rank == 0
        in_three += rank < 3
        strange += found.strange
        sure += found.best.startswith("It belongs")
        other = left_over(study, measured(f"od {od + 0.9:.2f}, length {length:.2f}, driver {lost.size}"))
        if all(abs(thread_of(j.thread).diameter_mm - od - 0.9) > 0.3 for j in study.joints.values()):
            foreign.append(other.best)
        for place in found.places:
            given_.append(place.probability)
            right.append(place.joint == lost.id)
    assert strange <= 0.01 * total  # one of the device is hardly ever called of no group
    assert sure >= 0.8 * total
    assert len(foreign) > 50
    assert not [best for best in foreign if "belongs" in best or "count the holes" in best]
    assert first >= 0.9 * total
    assert in_three >= 0.99 * total
    near = [ok for p, ok in zip(given_, right, strict=True) if 0.6 <= p <= 0.95]
    assert not near or 0.5 <= np.mean(near) <= 1.0
    assert np.mean([(p - ok) ** 2 for p, ok in zip(given_, right, strict=True)]) < 0.02


def test_what_to_measure_next_tells_the_places_apart_and_depth_is_told():
    study = tide_logger.study()
    found = left_over(study, measured("od 1.58"))
    assert "length" in found.best or "driver" in found.best
    sure = left_over(study, measured("od 1.58, length 4.1"))
    assert study.name(sure.places[0].joint) == "Board screws"
    assert sure.places[0].probability > 0.97
    assert sure.places[0].steps > 3
    assert sure.best.startswith("It belongs to Board screws")
    assert sum(p.probability for p in sure.places) + sure.none == pytest.approx(1.0)
    strange = left_over(study, measured("od 4.9, length 20"))
    assert strange.strange
    assert strange.best.startswith("It fits no recorded group")
    with pytest.raises(ReachError, match="No screws were undone"):
        left_over(Study(), measured("od 2"))


def test_what_may_stand_in_for_a_missing_screw_is_no_longer_and_of_one_thread():
    def screws(id, **fields):
        return Joint(id, "screw", holds=("P1",), count=2, drive="cross", size="PH0", **fields)

    study = study_of(
        Part("P1", "Lid"),
        Part("P2", "Battery"),
        screws("J1", thread="M2", length_mm=5.0, head_mm=3.8),
        screws("J2", thread="M2", length_mm=4.5, head_mm=3.8),
        screws("J3", thread="M2", length_mm=6.0),
        screws("J4", thread="M1.6", length_mm=5.0),
        screws("J5", thread="M2", length_mm=2.0),
        screws("J6", thread="M2", length_mm=5.0, head_mm=4.6),
        screws("J7", thread="M2"),
        Joint("J8", "connector", holds=("P1", "P2")),
        *(Step(f"S{n}", "unscrew", releases=(f"J{n}",)) for n in range(1, 8)),
    )
    found = missing(study, "J1")
    assert [s.joint for s in found.stand_ins if s.fits] == ["J2"]
    why = {s.joint: s.why for s in found.stand_ins}
    assert "1.0 mm too long" in why["J3"]
    assert why["J4"] == "thread M1.6, not M2"
    assert "too little thread" in why["J5"]
    assert "wider" in why["J6"]
    assert found.near == ("P2",)
    assert found.last_step == "S1"
    assert "never a longer one" in found.rule
    with pytest.raises(ReachError, match="Only screws"):
        missing(study, "J8")


def test_a_longer_screw_in_a_shorter_ones_place_is_seen_from_what_lies_in_the_tray():
    study = study_of(
        Part("P1", "Shield"),
        Part("P2", "Radio board"),
        Joint("J1", "screw", name="Shield screws", holds=("P1",), into="P2", count=4, size="PH0", length_mm=4.0),
        Joint("J2", "screw", name="Foot screws", holds=("P2",), count=2, size="PH0", length_mm=5.0),
        Step("S1", "unscrew", releases=("J1",), takes_out=("P1",)),
        Step("S2", "unscrew", releases=("J2",), takes_out=("P2",)),
        Step("S3", "fasten", phase="back", releases=("J1",), count=3),
    )
    assert swaps(study, {"J1": 1, "J2": 2}) == ()
    (swap,) = swaps(study, {"J1": 2, "J2": 1})
    assert (swap.came, swap.belongs, swap.too_long_mm) == ("J2", "J1", 1.0)
    assert swap.sentence == "a 5.0 went where a 4.0 belongs: Shield screws, into Radio board, 1.0 mm too long"


# -- gaps -----------------------------------------------------------------------------------------------------


@settings(max_examples=60, deadline=None)
@given(st.floats(-0.2, 0.2), st.floats(-0.2, 0.2), st.floats(-0.3, 0.3), st.floats(0.25, 0.6), st.floats(0.25, 0.6))
def test_shift_and_rotation_are_those_of_a_rigid_motion_of_the_corners(right, down, turn, gap_x, gap_y):
    """Gaps made by moving a rectangle exactly; its rotation also by orthogonal Procrustes (scipy) of its corners."""
    wide, high = 84.0, 52.0
    a = np.radians(turn)
    rotation = np.array([[np.cos(a), -np.sin(a)], [np.sin(a), np.cos(a)]])
    corners = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]]) * (wide / 2, high / 2)
    moved = corners @ rotation.T + (right, down)
    normal = {"left": (-1, 0), "right": (1, 0), "top": (0, -1), "bottom": (0, 1)}
    typed = []
    for side, (nx, ny) in normal.items():
        length = high if nx else wide
        for at in (6.0, length / 2, length - 6.0):
            place = np.array((nx * wide / 2, at - high / 2) if nx else (at - wide / 2, ny * high / 2))
            seen = rotation @ place + (right, down)
            half = (wide / 2 + gap_x) if nx else (high / 2 + gap_y)
            gap = half - (seen @ (nx, ny))
            typed.append(f"{side}@{at:g} {max(0.0, gap):.4f}")
    if any(t.endswith(" 0.0000") for t in typed):
        return  # it touches: the readings are no longer those of a free part
    found = aligned((wide, high), readings(", ".join(typed)), {"A": (0.0, 0.0)})
    fitted, _ = orthogonal_procrustes(corners, moved - moved.mean(axis=0))
    assert found.turn_deg == pytest.approx(np.degrees(np.arctan2(fitted[0, 1], fitted[0, 0])), abs=0.01)
    assert (found.right_mm, found.down_mm) == pytest.approx(tuple(moved.mean(axis=0)), abs=0.002)
    assert (found.gap_x, found.gap_y) == pytest.approx((gap_x, gap_y), abs=0.003)
    back = corners[0] + (found.pushes[0].right_mm, found.pushes[0].down_mm) - corners[0]
    assert back == pytest.approx(corners[0] - moved[0], abs=0.01)


def test_a_lid_that_lies_true_is_left_alone_and_one_that_is_not_square_says_so():
    good = aligned((84, 52), readings("left 0.2, right 0.21, top 0.2, bottom 0.19"), {"A": (4, 4)})
    assert good.good
    assert good.sentences[0].startswith("As good as can be told")
    bent = aligned((84, 52), readings("left@5 0.1, left@47 0.5, right@5 0.1, right@47 0.5, top 0.2, bottom 0.2"), {})
    assert bent.least_mm > 0.1
    assert any("not true" in s for s in bent.sentences) or bent.good
    high = aligned(
        (84, 52), readings("left 0.2, right 0.2, top 0.2, bottom 0.2, step left 0, step right 0.3, step top 0.15"), {}
    )
    assert any("right edge stands 0.30 mm higher" in s for s in high.sentences)
    for bad in ("left 0.2", "left 0.2, right 0.2, top 0.2, top 0.3", "left@90 0.2, right 0.2, top 0.2, bottom 0.2"):
        with pytest.raises(BenchError):
            aligned((84, 52), readings(bad), {})
    for bad in ("upper 0.2", "left -0.2", "left 300", "left"):
        with pytest.raises(BenchError):
            readings(bad)


# -- the end --------------------------------------------------------------------------------------------------


def test_the_mass_of_a_screw_is_that_of_its_steel():
    """Pint as the oracle of the units; handbook masses of M3 x 10 screws of ISO 1207 and ISO 7045: about 0.6 to 0.7 g,
    from memory."""
    unit = UnitRegistry()
    mass = screw_mass_g(Joint("J1", "screw", thread="M3", length_mm=10.0))
    solid = (unit("7.85 g/cm^3") * np.pi / 4 * unit("3 mm") ** 2 * unit("10 mm")).to("g").magnitude
    assert 0.7 * solid < mass < 1.7 * solid
    assert 0.55 < mass < 0.9
    assert screw_mass_g(Joint("J1", "screw", length_mm=10.0)) is None


def test_a_device_that_is_lighter_names_what_is_open_first():
    study = study_of(
        Part("P1", "Lid", mass_g=40.0),
        Part("P2", "Seal", mass_g=1.4),
        Part("P3", "Label", mass_g=1.45),
        Joint("J1", "screw", holds=("P1",), count=8, thread="M3", length_mm=10.0),
        Step("S1", "unscrew", releases=("J1",), takes_out=("P1", "P2", "P3")),
        Step("S2", "place", phase="back", releases=("J1",), puts_in=("P1", "P3"), count=None),
    )
    study = evolve(study, device=Device("Box", mass_g=300.0))
    found = mass_check(study, 298.6)
    assert found.ways[0].what == "Seal"
    assert found.ways[0].open
    assert any("screw" in w.what for w in found.ways)
    assert mass_check(study, 300.05).within
    assert "no recorded part" in mass_check(study, 180.0).sentence
    with pytest.raises(ReachError, match="not weighed before"):
        mass_check(evolve(study, device=Device("Box")), 10.0)
    with pytest.raises(ReachError, match="not possible"):
        mass_check(study, -1.0)


def test_the_checks_at_the_end_follow_from_what_the_device_holds():
    study = tide_logger.study()
    rules = {c.rule for c in finals(study)}
    assert {"final seal", "final starts", "final mass", "final charge"} <= rules
    assert "final insulation" not in rules
    mains = evolve(study, device=evolve(study.device, contains="mains"))
    assert {"final insulation", "final earth"} <= {c.rule for c in finals(mains)}
    for reading, state in ((0.4, "under the limit"), (5.0, "done")):
        checked = done(mains, "final insulation", "", "2026-11-27", reading)
        assert next(c.state for c in finals(checked) if c.rule == "final insulation") == state


def test_a_screw_withheld_is_found_by_the_ledger_and_placed_by_its_measures():
    study = tide_logger.study()
    for step in plan_back(study, budget_s=0.3).steps:
        group = next((j for j in step.joints if study.name(j) == "Board screws"), "")
        study = logged(study, step, study.joints[group].count - 1 if group else None)
    assert "60 of 61 screws back" in ledger(study).in_words()
    found = left_over(study, measured("od 1.58, length 4.1"))
    assert study.name(found.places[0].joint) == "Board screws"
    assert found.places[0].out == 1
    assert "1 missing" in ledger(reported_missing(study, found.places[0].joint, 1)).in_words()
