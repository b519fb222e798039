"""Putting back: the plan against orders tried by hand and by networkx, the ledger over random work."""

from itertools import pairwise

import networkx as nx
import pytest
from attrs import evolve
from builders import chain_study, study_of
from hypothesis import given, settings
from hypothesis import strategies as st

from oddbolt.core.errors import ReachError
from oddbolt.core.reach import route_to
from oddbolt.core.reassembly import ledger, plan_back
from oddbolt.core.reference.joint_kinds import joint_kinds
from oddbolt.core.reference.tables import table
from oddbolt.core.study import Fact, Joint, Part, Step, Study, put
from oddbolt.demo import tide_logger


def test_what_lay_over_goes_on_after_and_the_plan_is_as_short_as_the_way_in():
    study = chain_study(6)
    plan = plan_back(study)
    route = route_to(study, list(study.parts), budget_s=5.0)
    assert plan.proved
    assert [s.step for s in plan.steps] == list(reversed(route.steps))
    graph = nx.DiGraph(pairwise(s.step for s in plan.steps))
    for fact in study.facts.values():
        over = next(s.step for s in plan.steps if fact.over in s.parts)
        under = next(s.step for s in plan.steps if fact.under in (*s.parts, *s.joints))
        assert over == under or nx.has_path(graph, under, over)


def test_power_is_connected_last_of_the_plugs():
    study = study_of(
        Part("P1", "Lid"),
        Part("P2", "Cell"),
        Part("P3", "Fan"),
        Joint("J1", "screw", holds=("P1",), count=2),
        Joint("J2", "connector", holds=("P2",)),
        Joint("J3", "connector", holds=("P3",)),
        Step("S1", "unscrew", releases=("J1",), takes_out=("P1",), tool="T5"),
        Step("S2", "disconnect", releases=("J2",), isolates_power=True),
        Step("S3", "disconnect", releases=("J3",), takes_out=("P3",)),
        Fact("F1", "P1", "J2"),
        Fact("F2", "P1", "J3"),
    )
    plan = plan_back(study)
    assert [s.step for s in plan.steps] == ["S3", "S2", "S1"]
    assert [s.power for s in plan.steps] == [False, True, False]
    assert not plan.left
    live = plan_back(put(study, evolve(study.steps["S2"], isolates_power=False)))
    assert not any(s.power for s in live.steps)


def test_every_kind_of_joint_brings_work_and_its_figures_are_filled_in():
    kinds = {row["kind"] for row in table("putback")["work"]}
    assert kinds == set(joint_kinds())
    screw = Joint("J1", "screw", holds=("P1",), count=4, drive="cross", size="PH0", length_mm=6.0, torque_ncm=12.0)
    study = study_of(Part("P1", "Lid"), screw, Step("S1", "unscrew", releases=("J1",), takes_out=("P1",), tool="PH0"))
    does = plan_back(study).steps[0].does
    assert does == ("Lid in", "start 4 cross PH0 of 6 mm by hand", "tighten crosswise in two passes to 12 N·cm")
    bare = plan_back(put(study, Joint("J1", "screw", holds=("P1",), count=None))).steps[0].does
    assert bare == ("Lid in", "start by hand", "tighten")
    glue = put(study, Joint("J1", "adhesive", holds=("P1",), length_mm=80.0))
    step = plan_back(glue).steps[0]
    assert step.wait_s == 120 + 24
    assert step.renew == ("J1",)


def test_a_record_with_contradictions_is_turned_round_and_says_so():
    study = chain_study(3)
    parts = list(study.parts)
    for n, (a, b) in enumerate(((parts[0], parts[1]), (parts[1], parts[0])), 90):
        study = put(study, Fact(f"F{n}", a, b))
    plan = plan_back(study)
    assert [s.step for s in plan.steps] == list(reversed(list(study.steps)))
    assert not plan.proved
    assert any("turning the record round" in sentence for sentence in plan.left)
    with pytest.raises(ReachError, match="Nothing is out"):
        plan_back(Study())


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(st.integers(0, 4), st.booleans()), max_size=14))
def test_the_ledger_keeps_what_is_out_and_back_whatever_is_done(work):
    """Undone and made again in any order: out and back are what the last step to each says."""
    study = study_of(*(Part(f"P{n}", f"part {n}") for n in range(5)))
    for n in range(5):
        kind = ("screw", "connector", "clip", "screw", "adhesive")[n]
        study = put(study, Joint(f"J{n}", kind, holds=(f"P{n}",), count=n + 2 if kind in ("screw", "clip") else 1))
    last = {}
    for k, (n, away) in enumerate(work):
        moves = {"takes_out": (f"P{n}",)} if away else {"puts_in": (f"P{n}",), "phase": "back"}
        study = put(study, Step(f"S{k}", "unscrew" if away else "place", releases=(f"J{n}",), **moves))
        last[n] = away
    found = ledger(study)
    lines = (*found.screws, *found.plugs, *found.others)
    assert {line.id for line in lines} == {f"J{n}" for n in last}
    for line in lines:
        n = int(line.id[1:])
        counted = n + 2 if line.sort in ("screw", "clip") else 1
        assert (line.out, line.back) == ((counted, 0) if last[n] else (0, counted))
    assert found.closed == (not any(last.values()))
    assert {line.id: bool(line.out) for line in found.parts} == {f"P{n}": away for n, away in last.items()}


def test_a_fastening_that_fits_no_group_keeps_the_ledger_open():
    study = put(chain_study(1), Step("S9", "fasten", phase="back", said="nine T6"))
    assert ledger(study).unmatched == ("S9",)
    assert not ledger(study).closed
    assert "1 fastening without a group" in ledger(study).in_words()
    uncounted = put(study, evolve(next(iter(study.joints.values())), count=None))
    assert "1 group not counted" in ledger(uncounted).in_words()


def test_the_demo_closes_when_its_plan_is_followed():
    study = tide_logger.study()
    before = ledger(study)
    assert before.in_words().startswith("0 of 61 screws back")
    for n, step in enumerate(plan_back(study, budget_s=0.5).steps):
        back = Step(f"S{900 + n}", "place", phase="back", releases=step.joints, puts_in=step.parts)
        study = put(study, back)
    after = ledger(study)
    assert not [line.name for line in after.parts if line.open]
    assert sum(line.open for line in after.screws) <= 1
