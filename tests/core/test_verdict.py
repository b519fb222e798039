"""Verdicts from small devices whose arithmetic can be done by hand."""

from itertools import combinations

import pytest
from builders import study_of
from hypothesis import given
from hypothesis import strategies as st

from oddbolt.core.fasteners.look_alikes import ALIKE_MM, look_alikes, odd_ones
from oddbolt.core.reference.tables import table
from oddbolt.core.study import Fact, Joint, Part, Step, change, put
from oddbolt.core.verdict import SCHEMES, bench_mark, counting
from oddbolt.demo import tide_logger


def device():
    """A lid on four screws, under it a glued cell without a tab, the one part of priority."""
    return study_of(
        Part("P1", "Lid", kind="cover"), Part("P2", "Cell", priority=True, reuse="renew"),
        Joint("J1", "screw", holds=("P1",), count=4, drive="cross", size="PH0", length_mm=5.0),
        Joint("J2", "adhesive", holds=("P2",), tab=False, name="Cell glue"), Fact("F1", "P1", "J2"),
        Step("S1", "unscrew", releases=("J1",), tool="PH0"), Step("S2", "take out", takes_out=("P1",)),
        Step("S3", "soften", softens=("J2",), wait_s=60.0),
        Step("S4", "pry", releases=("J2",), takes_out=("P2",), tool="film"),
    )  # fmt: skip


def test_the_mark_is_its_start_less_its_deductions():
    mark = bench_mark(device())
    taken = {d.rule: d.points for d in mark.deductions}
    assert taken == {"glue without tab": 0.75, "renewals": 0.2}
    assert mark.value == pytest.approx(10 - 0.75 - 0.2)


def test_one_joint_changed_moves_the_verdict_and_says_why():
    study = device()
    tabbed = bench_mark(change(study, "J2", tab=True))
    assert tabbed.value == pytest.approx(bench_mark(study).value + 0.5)
    why = next(d for d in tabbed.deductions if d.rule == "glue with tab")
    assert (why.reasons, why.causes) == (("Cell glue",), ("J2",))


def test_counting_gives_the_figures_of_each_priority_part():
    (count,) = counting(device())
    assert count.part == "P2"
    assert (count.route.totals.steps, count.route.totals.fasteners, count.route.totals.tools) == (3, 4, ("PH0", "film"))
    assert count.route.totals.joints == {"screw": 4, "adhesive": 1}


def test_a_part_that_cannot_be_reached_is_an_open_question():
    study = put(device(), Part("P3", "Coil", priority=True))
    mark = bench_mark(study)
    assert "Coil is not judged: " in mark.open_questions[0]
    assert SCHEMES["bench mark"].judge(study).headline == "at most 9.05 of 10"
    assert counting(study)[1].route is None


@pytest.mark.parametrize(
    ("things", "missing"),
    [
        ((), "No step takes a part out"),
        ((Part("P1", "Cell", priority=True),), "No step takes a part out"),
        ((Part("P1", "Cell"), Step("S1", "lift", takes_out=("P1",))), "No part is marked as a priority part"),
        ((Part("P1", "Cell", priority=True), Step("S1", "lift", takes_out=("P1",))), "No joint is recorded"),
    ],
)
def test_there_is_no_mark_without_evidence(things, missing):
    judged = SCHEMES["bench mark"].judge(study_of(*things))
    assert judged.headline == ""
    assert judged.data["mark"] is None
    assert any(missing in sentence for sentence in judged.missing)


def test_no_rule_takes_off_more_than_its_most_and_every_rule_has_its_reason():
    data = table("bench_mark")
    most = {rule["id"]: rule["most"] for rule in data["rule"]}
    mark = bench_mark(tide_logger.study())
    for deduction in mark.deductions:
        assert 0 < deduction.points <= most[deduction.rule]
        assert deduction.reasons
        assert all(tide_logger.study().find(id) for id in deduction.causes)
    assert mark.value == pytest.approx(mark.start - sum(d.points for d in mark.deductions))
    assert not mark.verified


screws = st.builds(
    lambda size, length, count: {"size": size, "length_mm": length, "count": count},
    st.sampled_from(["PH0", "PH00"]), st.sampled_from([2.0, 2.5, 4.0, 4.5, 8.0, 12.0]), st.integers(1, 9),
)  # fmt: skip


@given(st.lists(screws, max_size=9))
def test_look_alikes_are_all_pairs_of_one_driver_that_differ_a_little(groups):
    joints = [Joint(f"J{n}", "screw", holds=("P1",), drive="cross", **g) for n, g in enumerate(groups, 1)]
    study = study_of(Part("P1", "plate"), *joints)
    wanted = {
        frozenset((a.id, b.id))
        for a, b in combinations(joints, 2)
        if a.size == b.size and 0 < abs(a.length_mm - b.length_mm) < ALIKE_MM
    }
    assert {frozenset((a.id, b.id)) for a, b in look_alikes(study)} == wanted
    for odd, fellow in odd_ones(study).items():
        assert frozenset((odd, fellow)) in wanted
        assert study.joints[odd].count <= study.joints[fellow].count


def test_the_long_board_screw_of_the_demo_is_the_odd_one():
    assert odd_ones(tide_logger.study())["J17"] == "J16"
