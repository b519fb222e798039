"""The shipped tables against the figures of the trade notes; each row says where it comes from."""

import math

import pytest

from oddbolt.core.reach.motions import joint_seconds, motion_seconds
from oddbolt.core.reference.tables import breaking_torque_ncm, drives, screw_label, table, thread_of, threads
from oddbolt.core.study import Joint

#: ISO 261/262 coarse pitch and ISO 898-7 least breaking torque (8.8), N·m; from memory, unverified.
COARSE = {"M1": 0.25, "M1.2": 0.25, "M1.4": 0.3, "M1.6": 0.35, "M2": 0.4, "M2.5": 0.45, "M3": 0.5, "M4": 0.7, "M5": 0.8}
BREAKING = {"M1": 0.033, "M1.2": 0.075, "M1.4": 0.12, "M1.6": 0.16, "M2": 0.37, "M2.5": 0.82, "M3": 1.5, "M4": 3.6}
#: ISO 1501, from memory, unverified
SMALL = {"S0.5": 0.125, "S0.6": 0.15, "S0.8": 0.2, "S1.0": 0.25, "S1.2": 0.25, "S1.4": 0.3}


@pytest.mark.parametrize(("name", "pitch"), [*COARSE.items(), *SMALL.items()])
def test_pitches(name, pitch):
    assert threads()[name].pitch_mm == pitch


@pytest.mark.parametrize(("name", "torque"), BREAKING.items())
def test_breaking_torques(name, torque):
    assert threads()[name].breaking_ncm == pytest.approx(torque * 100)


def test_rows_name_their_source_and_say_if_it_was_verified():
    for row in (*threads().values(), *drives().values()):
        assert row.source
        assert row.verified in (True, False)
        if "memory" in row.source:
            assert not row.verified


def test_a_designation_names_its_thread():
    assert thread_of("M1.4 x 0.3 x 4") is threads()["M1.4"]
    assert thread_of("m1,4") is threads()["M1.4"]
    assert thread_of("M2x6") is threads()["M2"]
    assert thread_of("M99") is None


def test_a_newton_metre_is_too_much_for_a_small_screw():
    """The unit slip of the trade: 13 N·m for a case screw is a hundred times too much (common practice, no source)."""
    limit = breaking_torque_ncm("hexalobular-plus", "IP4", "")
    assert limit is not None
    assert 13 < limit < 1300
    assert breaking_torque_ncm("", "", "") is None


def test_one_tmu_is_36_milliseconds():
    """By definition 1 TMU = 0.00001 h."""
    assert table("motions")["tmu"]["seconds"] == pytest.approx(3600 * 0.00001)
    assert motion_seconds(["R30B", "G1A", "M30B", "RL1"]) == pytest.approx((12.8 + 2.0 + 13.3 + 2.0) * 0.036)


def test_a_screw_takes_as_many_half_turns_as_its_thread_is_long():
    """Worked by hand: EF + M30B once; M10C P2SE APA D2E M30B RL1 for each; T180S + G2 for each half turn, 4 mm of
    M1.6 x 0.35 = 22.86 half turns."""
    once = 7.3 + 13.3
    each = 7.9 + 16.2 + 10.6 + 7.5 + 13.3 + 2.0
    half_turns = 2 * 4 / 0.35
    expected = (once + 9 * each + 9 * half_turns * (9.4 + 5.6)) * 0.036
    joint = Joint("J1", "screw", count=9, thread="M1.6", length_mm=4.0)
    assert joint_seconds(joint) == pytest.approx(expected)
    assert math.isclose(joint_seconds(Joint("J2", "screw", count=18, thread="M1.6", length_mm=4.0)) - expected,
                        expected - once * 0.036)  # fmt: skip


def test_labels_use_the_generic_words():
    assert screw_label("hexalobular-plus", "IP5") == "hexalobular-plus IP5"
    assert screw_label("cross", "PH00") == "cross PH00"
    assert screw_label("", "") == "drive not named"
