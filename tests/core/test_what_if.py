"""What-ifs against routes solved anew, open questions against their answers, conflicts against brute force."""

from itertools import combinations, pairwise

import networkx as nx
import pytest
from attrs import evolve
from builders import random_study, study_of
from hypothesis import given, settings
from hypothesis import strategies as st

from oddbolt.core.errors import ReachError, StudyError
from oddbolt.core.reach import answer, conflict, needs_of, open_questions, reach_of_all, route_to, step_times
from oddbolt.core.reach.closures import Closures
from oddbolt.core.reach.questions import _cost, _Reading, _with_need, _without_need, likely
from oddbolt.core.reach.what_if import (
    Change,
    applied,
    changes,
    dropped,
    in_words,
    keep,
    kept,
    only_together,
    ranked,
    read,
    route_seconds,
    weighed,
)
from oddbolt.core.study import Fact, Joint, Part, Run, Step, change, remove
from oddbolt.core.study.edits import lap
from oddbolt.demo import tide_logger
from oddbolt.files.graph_export import graph


@given(st.integers(0, 10_000))
@settings(max_examples=30, deadline=None)
def test_every_effect_is_the_route_solved_anew(seed):
    """What a change saves is the best route of the study as it is less that of the study so changed."""
    study = random_study(seed, steps=7)
    parts = list(study.parts)
    before = route_seconds(study, parts)
    for effect in ranked(study, parts):
        after = applied(study, effect.changes)
        for part, was, now in effect.parts:
            assert was == pytest.approx(before[part])
            if any(part in s.takes_out for s in after.steps.values()):
                assert now == pytest.approx(min(route_to(after, [part]).seconds, was), abs=1e-6)
    assert study.joints is not None
    assert route_seconds(study, parts) == before  # the record itself was not touched


def test_the_demo_names_what_would_help_most_and_what_nobody_needs():
    study = tide_logger.study()
    battery = next(p.id for p in study.parts.values() if p.name == "Battery")
    found = ranked(study, [battery])
    assert found[0].seconds == max(e.seconds for e in found)
    assert "Battery glue" in in_words(study, found[0].changes[0])
    assert found[-1].seconds < 0.05
    assert all(e.seconds >= 0 for e in found)
    alone = {e.changes[0]: e.seconds for e in found}
    for pair in only_together(study, found, [battery]):
        assert pair.seconds > sum(alone[c] for c in pair.changes) + 1
        assert pair.seconds == pytest.approx(
            route_to(study, [battery]).seconds - route_to(applied(study, pair.changes), [battery]).seconds, abs=0.11
        )


def two_screws():
    return study_of(
        Part("P1", "lid"),
        Joint("J1", "screw", holds=("P1",), count=6, drive="cross", size="PH0", thread="M2", length_mm=6.0),
        Joint("J2", "screw", holds=("P1",), count=1, drive="hexalobular", size="T5", thread="M2", length_mm=6.0),
        Joint("J3", "adhesive", holds=("P1",)),
        Step("S1", "unscrew", releases=("J1",), tool="PH0"),
        Step("S2", "unscrew", releases=("J2",), tool="T5"),
        Step("S3", "warm", softens=("J3",), wait_s=600.0),
        Step("S4", "lift", releases=("J3",), takes_out=("P1",)),
        Run("R1", "timed"),
    )


def test_each_way_does_what_it_says():
    """By hand: the usual driver spares a change of tool, a tab the warming and its wait, fewer screws their time."""
    study = two_screws()
    keys = {c.key for c in changes(study)}
    assert keys == {"gone J1", "fewer J1", "gone J2", "driver J2", "gone J3", "tab J3"}
    assert applied(study, [Change("driver", "J2")]).steps["S2"].tool == "PH0"
    assert "S3" not in applied(study, [Change("tab", "J3")]).steps
    assert weighed(study, [Change("tab", "J3")]).seconds > 100
    assert "S2" not in applied(study, [Change("gone", "J2")]).steps
    turned = change(study, "S1", face="back")  # the device lies on its face still, though nothing is left to do there
    assert route_to(applied(turned, [Change("gone", "J1")]), ["P1"]).turns == 1
    timed = lap(study, "R1", "S1", 60.0)
    after = applied(timed, [Change("fewer", "J1")])
    assert 20 <= after.runs["R1"].laps[0].seconds < 30
    assert timed.runs["R1"].laps[0].seconds == 60
    with pytest.raises(ReachError, match="is not a change"):
        read(study, "gone J9")


def test_what_covered_glue_covers_its_part_when_the_glue_is_gone_but_not_so_with_screws():
    study = study_of(
        Part("P1", "lid"), Part("P2", "cell"),
        Joint("J1", "screw", holds=("P2",)), Joint("J2", "adhesive", holds=("P2",)),
        Step("S1", "take out", takes_out=("P1",)), Step("S2", "unscrew", releases=("J1",)),
        Step("S3", "pry", releases=("J2",)), Step("S4", "take out", takes_out=("P2",)),
        Fact("F1", "P1", "J1"), Fact("F2", "P1", "J2"),
    )  # fmt: skip
    without_glue = remove(applied(study, [Change("gone", "J2")]), "F1")
    assert route_to(without_glue, ["P2"]).steps == ("S1", "S2", "S4")
    without_screw = remove(applied(study, [Change("gone", "J1")]), "F2")
    assert route_to(without_screw, ["P2"]).steps == ("S3", "S4")


def test_what_ifs_are_kept_by_name_and_go_with_their_joint():
    study = keep(two_screws(), "kinder", [Change("tab", "J3"), Change("driver", "J2")])
    assert kept(study) == {"kinder": (Change("tab", "J3"), Change("driver", "J2"))}
    assert kept(keep(study, "kinder", [Change("gone", "J1")])) == {"kinder": (Change("gone", "J1"),)}
    assert kept(remove(study, "J3")) == {"kinder": (Change("driver", "J2"),)}
    assert not kept(dropped(study, "kinder"))
    with pytest.raises(StudyError):
        keep(study, " ", [Change("gone", "J1")])


@given(st.integers(0, 10_000), st.lists(st.booleans(), min_size=1, max_size=8))
@settings(max_examples=30, deadline=None)
def test_when_the_questions_are_answered_the_reach_is_exact(seed, answers):
    study = random_study(seed, steps=9)
    for id, fact in list(study.facts.items()):
        study = change(study, id, state="assumed" if int(id[1:]) % 2 else fact.state)
    asked = 0
    while found := open_questions(study):
        gains = [q.narrows_s * likely(study, q.over, q.under) for q in found]
        assert gains == sorted(gains, reverse=True)
        study = answer(study, found[0].over, found[0].under, answers[asked % len(answers)])
        asked += 1
        assert asked < 60
    for reach in reach_of_all(study).values():
        assert reach.operations is None or reach.operations.exact


@given(st.integers(0, 10_000))
@settings(max_examples=40, deadline=None)
def test_one_fact_more_or_less_costs_what_closing_all_anew_says(seed):
    """The short way that follows one set against the long one that closes everything."""
    study = random_study(seed, steps=9)
    for id in list(study.facts)[::2]:
        study = change(study, id, state="assumed")
    costs = [t.seconds for t in step_times(study).values()]
    for needs in (needs_of(study), needs_of(study, "most")):
        reading = _Reading(needs, costs)
        for q in open_questions(study, list(study.parts)):
            for part in q.parts:
                after = _with_need(needs, q.over, q.under)
                more = _cost(after, Closures(after, costs), part) or reading.cost(part)
                assert reading.with_over(part, q.over, q.under) in (pytest.approx(more), pytest.approx(0.0))
                after = _without_need(needs, q.over, q.under)
                assert reading.without_over(part, q.over, q.under) == pytest.approx(
                    _cost(after, Closures(after, costs), part)
                )


def test_the_expected_narrowing_is_the_mean_of_both_answers():
    study = tide_logger.study()
    for q in open_questions(study)[:2]:
        width = {}
        for said in (None, True, False):
            asked = study if said is None else answer(study, q.over, q.under, said)
            found = reach_of_all(asked)
            width[said] = sum(found[p].seconds.most - found[p].seconds.least for p in q.parts)
        mean = ((width[None] - width[True]) + (width[None] - width[False])) / 2
        assert q.narrows_s == pytest.approx(mean, rel=0.25, abs=8)  # without changes of tool and face


@given(st.integers(0, 10_000))
@settings(max_examples=25, deadline=None)
def test_a_conflict_is_smallest_in_itself(seed):
    """Every fact of it is needed for the contradiction, and they suffice: all subsets tried."""
    study = random_study(seed, steps=5, ways=False, waits=False)
    parts = list(study.parts)
    for a, b in pairwise(parts):
        n = len(study.facts) + 500
        study = evolve(study, facts={**study.facts, f"F{n}": Fact(f"F{n}", b, a)})
    for part in parts:
        found = conflict(study, part)

        def stuck(ids, part=part):
            needs = needs_of(evolve(study, facts={i: study.facts[i] for i in ids}))
            return not needs.freeing(part) & needs.doable

        if not found:
            assert not stuck(study.facts) or stuck(())
            continue
        assert stuck(found)
        assert not any(stuck(some) for k in range(len(found)) for some in combinations(found, k))


@given(st.integers(0, 10_000))
@settings(max_examples=20, deadline=None)
def test_the_graph_leads_to_what_networkx_finds(seed):
    """Without choices, the ancestors of a step are the closed set that frees its part."""
    study = random_study(seed, steps=8, ways=False)
    nodes, edges = graph(study)
    whole = nx.DiGraph((e.first, e.then) for e in edges)
    whole.add_nodes_from(n.id for n in nodes)
    for part, reach in reach_of_all(study).items():
        last = next((s.id for s in study.steps.values() if part in s.takes_out), "")
        if reach.needed and last:
            assert nx.ancestors(whole, last) | {last} == set(reach.needed)
