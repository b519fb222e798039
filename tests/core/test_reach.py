"""Reach against brute force, against networkx closures, and against the rules as they are written."""

from itertools import pairwise

import networkx as nx
import pytest
from builders import chain_study, random_study, study_of
from hypothesis import given
from hypothesis import strategies as st

from oddbolt.core.errors import ReachError
from oddbolt.core.reach import (
    answer,
    bench_seconds,
    fresh_question,
    needs_of,
    questions,
    reach_of_all,
    recorded_order,
    route_to,
    step_times,
)
from oddbolt.core.reach.closures import Closures
from oddbolt.core.reach.motions import joint_seconds, motion_seconds
from oddbolt.core.reach.problem import Problem
from oddbolt.core.reach.route_options import RouteOptions
from oddbolt.core.reach.step_masks import bits, record_of
from oddbolt.core.reach.totals import standard_steps, steps_with_heating
from oddbolt.core.reach.what_if import route_seconds
from oddbolt.core.study import Fact, Joint, Part, Run, Step, change
from oddbolt.core.study.edits import lap
from oddbolt.demo import tide_logger


def closed_sets(needs, goal):
    """Every set that one choice of the ors leads to, by trying all of them."""
    out = set()

    def go(mask, open_needs):
        if not open_needs:
            out.add(mask)
            return
        for i in bits(open_needs[0]):
            fresh = [] if mask >> i & 1 else [n.steps for n in needs.needs[i]]
            go(mask | 1 << i, [*open_needs[1:], *fresh])

    go(0, [goal])
    return out


@pytest.mark.parametrize("seed", range(40))
def test_a_route_does_nothing_before_what_it_needs(seed):
    study = random_study(seed, steps=7)
    target = list(study.parts)[-1]
    route = route_to(study, [target])
    assert route.proved
    done = 0
    needs = needs_of(study)
    for leg in route.legs:
        i = needs.record.index[leg.step]
        assert all(n.steps & done for n in needs.needs[i])
        done |= 1 << i


@pytest.mark.parametrize("seed", range(10))
def test_without_choices_the_needed_steps_are_the_ancestors_in_the_graph_of_needs(seed):
    study = random_study(seed, steps=30, ways=False)
    needs = needs_of(study)
    graph = nx.DiGraph()
    graph.add_nodes_from(range(len(needs.ids)))
    graph.add_edges_from((next(bits(n.steps)), i) for i, own in enumerate(needs.needs) for n in own)
    reach = reach_of_all(study)
    for part in study.parts:
        (end,) = bits(needs.freeing(part))
        assert set(reach[part].needed) == {needs.ids[i] for i in nx.ancestors(graph, end) | {end}}


def test_each_rule_puts_its_step_before():
    study = study_of(
        Part("P1", "cover"),
        Part("P2", "cell"),
        Part("P3", "fan"),
        Joint("J1", "screw", holds=("P1",), count=4),
        Joint("J2", "connector", holds=("P2",), name="cell plug"),
        Joint("J3", "adhesive", holds=("P2",)),
        Joint("J4", "connector", holds=("P3",), name="fan plug"),
        Fact("F1", "P1", "J2"),
        Step("S1", "disconnect", releases=("J4",)),
        Step("S2", "unscrew", releases=("J1",)),
        Step("S3", "take out", takes_out=("P1",)),
        Step("S4", "disconnect", releases=("J2",), isolates_power=True),
        Step("S5", "soften", softens=("J3",), wait_s=60),
        Step("S6", "pry", releases=("J3",), takes_out=("P2",)),
        Step("S7", "take out", takes_out=("P3",)),
    )
    assert set(reach_of_all(study)["P2"].needed) == {"S2", "S3", "S4", "S5", "S6"}
    assert set(reach_of_all(study)["P3"].needed) == {"S1", "S2", "S3", "S4", "S7"}
    assert route_to(study, ["P3"], options=RouteOptions(isolate="not")).steps == ("S1", "S7")


def test_a_plug_on_the_way_to_the_switch_is_opened_live_and_said_so():
    study = study_of(
        Part("P1", "display"),
        Part("P2", "cell"),
        Joint("J1", "connector", holds=("P1",)),
        Joint("J2", "connector", holds=("P2",)),
        Fact("F1", "P1", "J2"),
        Step("S1", "disconnect", releases=("J1",)),
        Step("S2", "take out", takes_out=("P1",)),
        Step("S3", "disconnect", releases=("J2",), isolates_power=True),
        Step("S4", "take out", takes_out=("P2",)),
    )
    assert needs_of(study).live == ("S1",)
    assert route_to(study, ["P2"]).steps == ("S1", "S2", "S3", "S4")


WAYS = (
    Step("S1", "disconnect", releases=("J1",), least_s=30, likely_s=30, most_s=30),
    Step("S2", "disconnect", releases=("J1",), least_s=2, likely_s=2, most_s=2),
    Step("S3", "take out", takes_out=("P1",), least_s=1, likely_s=1, most_s=1),
    Step("S4", "switch off", releases=("J2",), isolates_power=True, least_s=1, likely_s=1, most_s=1),
    Step("S5", "disconnect", releases=("J3",), least_s=9, likely_s=9, most_s=9),
    Step("S6", "take out", takes_out=("P2",), least_s=1, likely_s=1, most_s=1),
    Step("S7", "switch off", releases=("J4",), isolates_power=True, least_s=1, likely_s=1, most_s=1),
    Step("S8", "disconnect", releases=("J5",), least_s=1, likely_s=1, most_s=1),
    Step("S9", "take out", takes_out=("P3",), least_s=1, likely_s=1, most_s=1),
)
SWITCHED = (
    Part("P1", "lid A"),
    Part("P2", "lid B"),
    Part("P3", "fan"),
    Joint("J1", "connector", holds=("P1",)),
    Joint("J2", "screw"),
    Joint("J3", "connector", holds=("P2",)),
    Joint("J4", "screw"),
    Joint("J5", "connector", holds=("P3",)),
    Fact("F1", "P1", "J2"),
    Fact("F2", "P2", "J4"),
)


@given(st.permutations(WAYS))
def test_the_best_way_to_the_switch_does_not_hang_on_what_was_recorded_first(steps):
    """Lid A, whose plug opens in two ways, hides one switch, lid B another. By hand: A's plug the quick way, lid A off,
    switch off, and only then the fan's plug; without the quick way, lid B."""
    study = study_of(*SWITCHED, *steps)
    route = route_to(study, ["P3"])
    assert (route.steps, route.proved) == (("S2", "S3", "S4", "S8", "S9"), True)
    assert route_seconds(study, ["P3"])["P3"] == route.seconds
    assert set(route_to(study, ["P3"], without=frozenset({"S2"})).steps) == {"S5", "S6", "S7", "S8", "S9"}
    both = route_to(study, ["P1", "P2", "P3"])
    off = min(n for n, id in enumerate(both.steps) if id in ("S4", "S7"))
    assert len({"S2", "S5", "S8"} & set(both.steps[:off])) == 1


def test_a_route_among_more_ways_than_are_looked_at_is_not_called_proved():
    lids = [
        thing
        for n in range(5)
        for thing in (
            Part(f"P{n}", f"lid {n}"),
            Joint(f"J{n}", "connector", holds=(f"P{n}",)),
            Fact(f"F{n}", f"P{n}", "J9"),
            Step(f"S{n}0", "disconnect", releases=(f"J{n}",)),
            Step(f"S{n}1", "disconnect", releases=(f"J{n}",)),
            Step(f"S{n}2", "take out", takes_out=(f"P{n}",)),
        )
    ]
    study = study_of(Joint("J9", "screw"), *lids, Step("S99", "switch off", releases=("J9",), isolates_power=True))
    assert not needs_of(study).all_choices
    assert not route_to(study, ["P0", "P1"]).proved


def test_what_nobody_said_is_bounded_and_an_answer_makes_it_exact():
    study = study_of(
        Part("P1", "lid"),
        Part("P2", "fan"),
        Joint("J1", "screw", holds=("P1",)),
        Joint("J2", "screw", holds=("P2",)),
        Step("S1", "take out", releases=("J1",), takes_out=("P1",)),
        Step("S2", "take out", releases=("J2",), takes_out=("P2",)),
    )
    steps = reach_of_all(study)["P2"].steps
    assert (steps.least, steps.most) == (1, 2)
    for state, exact in (("seen", 2), ("ruled out", 1)):
        answered = study_of(
            *study.parts.values(),
            *study.joints.values(),
            Fact("F1", "P1", "J2", state),
            Fact("F2", "P1", "P2", state),
            *study.steps.values(),
        )
        steps = reach_of_all(answered)["P2"].steps
        assert steps.exact
        assert steps.least == exact


def test_the_questions_of_a_part_make_it_exact_whatever_is_answered():
    study = tide_logger.study()
    assert questions(study, "P8") == []
    assert questions(study, "P29") == [("P25", "P29")]
    assert ("P28", "J23") in questions(study, "P32")
    for yes in (True, False):
        for part in ("P29", "P32", "P42"):
            answered = study
            for _ in range(6):
                asked = questions(answered, part)
                if not asked:
                    break
                answered = answer(answered, *asked[0], yes)
            reach = reach_of_all(answered)[part]
            assert reach.steps.exact
            assert reach_of_all(study)[part].steps.least <= reach.steps.least <= reach_of_all(study)[part].steps.most


def test_a_module_carries_its_parts_and_its_plugs_hold_it():
    study = study_of(
        Part("P1", "core"),
        Part("P2", "board", inside="P1"),
        Part("P3", "base"),
        Joint("J1", "screw", holds=("P1",)),
        Joint("J2", "connector", holds=("P2", "P3")),
        Joint("J3", "screw", holds=("P2",), into="P1"),
        Step("S1", "unscrew", releases=("J1",)),
        Step("S2", "disconnect", releases=("J2",)),
        Step("S3", "take out", takes_out=("P1",)),
        Step("S4", "take out", releases=("J3",), takes_out=("P2",)),
    )
    reach = reach_of_all(study)
    assert set(reach["P1"].needed) == {"S1", "S2", "S3"}
    assert set(reach["P2"].needed) == {"S2", "S4"}
    assert "no recorded step takes it out" in reach["P3"].why_not


def test_facts_in_a_circle_are_named():
    study = study_of(
        Part("P1", "shield"),
        Part("P2", "board"),
        Step("S1", "take out", takes_out=("P1",)),
        Step("S2", "take out", takes_out=("P2",)),
        Fact("F1", "P1", "P2"),
        Fact("F2", "P2", "P1"),
    )
    with pytest.raises(ReachError, match=r"circle.*lies over"):
        route_to(study, ["P2"])
    assert "shield lies over board" in reach_of_all(study)["P2"].why_not


def test_a_joint_that_nothing_releases_is_named():
    study = study_of(
        Part("P1", "fan"),
        Joint("J1", "screw", holds=("P1",), name="the hidden screw"),
        Step("S1", "take out", takes_out=("P1",)),
    )
    with pytest.raises(ReachError, match="no recorded step releases the hidden screw"):
        route_to(study, ["P1"])


def test_other_work_fills_a_wait():
    study = study_of(
        Part("P1", "cell"),
        Part("P2", "fan"),
        Joint("J1", "adhesive", holds=("P1",)),
        Joint("J2", "screw", holds=("P2",), count=5),
        Step("S1", "soften", softens=("J1",), wait_s=40),
        Step("S2", "pry", releases=("J1",), takes_out=("P1",)),
        Step("S3", "unscrew", releases=("J2",)),
        Step("S4", "take out", takes_out=("P2",)),
    )
    route = route_to(study, ["P1", "P2"])
    assert route.steps.index("S3") < route.steps.index("S2")
    assert sum(leg.idle_s for leg in route.legs) < 40


def test_measured_times_count_before_estimates():
    study = change(chain_study(2), "S1", note="x")
    study = study_of(*study.parts.values(), *study.joints.values(), *study.steps.values(), Run("R1", "timed"))
    study = lap(study, "R1", "S1", 31.0)
    assert step_times(study)["S1"].seconds == 31.0
    assert [step_times(study)[s].basis for s in ("S1", "S2")] == ["measured", "estimated"]


def test_a_disassembly_step_ends_with_a_part_or_a_new_tool():
    """EN 45554 / EU 2023/1669, from memory, unverified: PH00 screws, lid, IP5 screws, plugs by hand, board."""
    work = [
        Step("S1", "unscrew", tool="PH00"),
        Step("S2", "take out", takes_out=("P1",)),
        Step("S3", "unscrew", tool="IP5"),
        Step("S4", "unscrew", tool="PH00"),
        Step("S5", "disconnect"),
        Step("S6", "take out", takes_out=("P2",)),
    ]
    assert standard_steps(work) == steps_with_heating(work) == 3


def test_heating_cleaning_and_tools_used_at_once_are_steps_of_their_own_where_that_is_the_rule():
    """EU 2023/1669, from memory, unverified: warm by hand, pry with card and tweezers, clean, board."""
    work = [
        Step("S1", "soften", softens=("J1",)),
        Step("S2", "pry", tool="card + tweezers", takes_out=("P1",)),
        Step("S3", "clean", tool="swab"),
        Step("S4", "take out", takes_out=("P2",)),
    ]
    assert standard_steps(work) == 2
    assert steps_with_heating(work) == 1 + 2 + 1 + 1
    assert steps_with_heating(work[:1]) == 1


def test_a_tmu_is_exactly_36_milliseconds_and_a_screw_is_its_motions():
    """1 TMU = 0.00001 h (definition). Worked sum for two 3 mm M1.6 screws (pitch 0.35, ISO 261 from memory)."""
    assert motion_seconds(["RL1"]) == pytest.approx(2.0 * 3600 / 100000)
    half_turns = 2 * 3.0 / 0.35
    each = 7.9 + 16.2 + 10.6 + 7.5 + 13.3 + 2.0 + half_turns * (9.4 + 5.6)
    screw = Joint("J1", "screw", count=2, thread="M1.6", length_mm=3.0)
    assert joint_seconds(screw) == pytest.approx((7.3 + 13.3 + 2 * each) * 0.036)


def test_of_two_ways_in_the_quicker_is_taken():
    study = study_of(
        Part("P1", "cell"),
        Joint("J1", "screw", holds=("P1",), count=9),
        Step("S1", "unscrew", releases=("J1",)),
        Step("S2", "unscrew", releases=("J1",)),
        Step("S3", "take out", takes_out=("P1",)),
        Run("R1", "timed"),
    )
    for slow, quick in (("S1", "S2"), ("S2", "S1")):
        timed = lap(lap(study, "R1", slow, 60.0), "R1", quick, 20.0)
        assert route_to(timed, ["P1"]).steps == (quick, "S3")


@pytest.mark.parametrize("seed", range(8))
def test_the_cheapest_set_of_every_part_is_the_cheapest_of_all_choices(seed):
    study = random_study(seed, steps=12)
    needs, times = needs_of(study), step_times(study)
    cost = lambda ids: round(sum(times[id].seconds for id in ids), 6)  # noqa: E731
    for part, reach in reach_of_all(study).items():
        assert cost(reach.needed) == min(cost(needs.steps(mask)) for mask in closed_sets(needs, needs.freeing(part)))


@pytest.mark.parametrize("seed", range(25))
def test_figures_in_recorded_order_are_those_of_the_plain_count(seed, monkeypatch):
    """The quick figures of large studies against steps counted one by one, whether sets are peeled or read whole."""
    for peel in (1, 48):
        monkeypatch.setattr(recorded_order, "PEEL", peel)
        study = random_study(seed, steps=14)
        problem = Problem(needs_of(study))
        quick = recorded_order.RecordedOrder(problem)
        masks = [m for m in Closures(problem.needs, problem.costs).forced[0] if m]
        for mask, (steps, operations, seconds) in quick.figures(masks).items():
            done = [study.steps[id] for id in problem.needs.steps(mask)]
            assert steps == standard_steps(done)
            assert operations == len(done)
            tools = [s.tool for s in done if s.tool]
            changes = bool(tools) + sum(a != b for a, b in pairwise(tools))
            faces = [next(iter(study.steps.values())).face, *(s.face for s in done)]
            turns = sum(a != b for a, b in pairwise(faces))
            work = sum(step_times(study)[s.id].seconds + s.wait_s for s in done)
            expected = work + changes * bench_seconds("tool change") + turns * bench_seconds("turn over")
            assert seconds == pytest.approx(expected, abs=0.06)


def test_what_is_known_is_carried_over_to_the_next_study_only_as_far_as_it_holds():
    study = chain_study(60, fork=7)
    first = recorded_order.RecordedOrder(Problem(needs_of(study)))
    masks = Closures(needs_of(study), [1.0] * 60).forced[0]
    first.figures(masks)
    changed = change(study, "S30", tool="other")
    second = recorded_order.RecordedOrder(Problem(needs_of(changed)))
    second.take_over(first)
    fresh = recorded_order.RecordedOrder(Problem(needs_of(changed)))
    assert second.figures(masks) == fresh.figures(masks)


def test_an_assumption_that_the_record_refutes_does_not_make_a_part_unreachable():
    """The lid came off before the seal was touched, so the seal cannot have lain over the lid."""
    study = study_of(
        Part("P1", "lid"), Part("P2", "seal"),
        Joint("J1", "screw", holds=("P1",)), Joint("J2", "press fit", holds=("P2",)),
        Step("S1", "take out", releases=("J1",), takes_out=("P1",)),
        Step("S2", "peel", releases=("J2",), takes_out=("P2",)),
        Fact("F1", "P2", "P1", "assumed"),
    )  # fmt: skip
    assert reach_of_all(study)["P1"].steps.exact
    seen = change(study, "F1", state="seen")
    assert reach_of_all(seen)["P1"].operations.least == 2


def test_the_question_of_a_fresh_step_is_asked_once_and_follows_from_what_was_said():
    """Shield off, then the board's screws are touched for the first time: was the shield over them?"""
    study = study_of(
        Part("P1", "shield"), Part("P2", "board"), Joint("J1", "screw", holds=("P2",)),
        Step("S1", "take out", takes_out=("P1",)), Step("S2", "unscrew", releases=("J1",)),
        Step("S3", "take out", takes_out=("P2",)),
    )  # fmt: skip
    assert fresh_question(study, "S1") is None
    assert fresh_question(study, "S2") == ("P1", "J1")
    assert fresh_question(study, "S3") == ("P1", "P2")
    for yes in (True, False):
        said = answer(study, "P1", "J1", yes)
        assert fresh_question(said, "S2") is None
        assert fresh_question(said, "S3") is None
    assert fresh_question(study, "S99") is None
    demo = tide_logger.study()
    assert {fresh_question(demo, s) for s in demo.steps} <= {None, *tide_logger.UNANSWERED}


@pytest.mark.parametrize("seed", range(30))
def test_the_fresh_question_is_the_first_of_the_records_open_pairs_at_that_step(seed):
    study = random_study(seed, steps=14)
    record = record_of(study)
    stated = {(f.over, f.under) for f in study.facts.values()}
    stated |= {(o, p) for o, u in stated if u in study.joints for p in study.joints[u].holds}
    for id, here in record.index.items():
        open_ = [p for p in record.unstated if record.touched[p[1]] == here and p not in stated]
        assert fresh_question(study, id) == (open_[0] if open_ else None)
