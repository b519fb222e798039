"""What a route shall be, against brute force over every order, a general solver, and networkx; the route in time."""

import math
import random
from itertools import pairwise

import networkx as nx
import pytest
from builders import chain_study, random_study, study_of
from hypothesis import example, given, settings
from hypothesis import strategies as st
from ortools.sat.python import cp_model
from test_reach import closed_sets

from oddbolt.core.bench.kit import at_hand
from oddbolt.core.errors import ReachError, StudyError
from oddbolt.core.reach import bench_seconds, needs_of, order_search, reach_of_all, route_to, step_times
from oddbolt.core.reach.overview import about, overview_of, passed
from oddbolt.core.reach.risk import renewals_of, risk_of
from oddbolt.core.reach.route_options import MINIMISE, RouteOptions, as_variant, barred, choices, weights_of
from oddbolt.core.reach.routes import no_way_round
from oddbolt.core.reach.schedule import links, slack, soaks, way_back
from oddbolt.core.reach.step_masks import bits
from oddbolt.core.reach.three_point import told
from oddbolt.core.reach.what_if import Change, Effect, effort, front
from oddbolt.core.study import Fact, Joint, Part, Run, Step, change
from oddbolt.core.study.edits import lap
from oddbolt.demo import tide_logger

TOOL_S, TURN_S = bench_seconds("tool change"), bench_seconds("turn over")


def weight_of(study, order, worth):
    """What an order counts for, summed step by step: its time and what else is worth something."""
    total, at, tool, ready = 0.0, 0.0, "", {}
    face = next(iter(study.steps.values())).face
    for id in order:
        step = study.steps[id]
        changed = bool(step.tool) and step.tool != tool
        at += TOOL_S * changed + TURN_S * (step.face != face)
        at = max([at, *(ready[j] for j in step.releases if j in ready)]) + step_times(study)[id].seconds
        ready |= dict.fromkeys(step.softens, at + step.wait_s)
        tool, face = step.tool or tool, step.face
        total += worth.get("steps", 0) + worth.get("tool changes", 0) * changed
        total += worth.get("renewals", 0) * renewals_of(study, step) + worth.get("risk", 0) * risk_of(study, step)
    return total + at


def orders(needs, mask, done=0, begun=()):
    if not mask & ~done:
        yield begun
    for i in bits(mask & ~done):
        if all(n.steps & done for n in needs.needs[i]):
            yield from orders(needs, mask, done | 1 << i, (*begun, needs.ids[i]))


@given(st.integers(0, 10_000), st.sampled_from(MINIMISE[1:]), st.floats(1, 400))
@settings(max_examples=25, deadline=None)
def test_a_weighted_route_is_the_best_of_all_orders(seed, what, seconds):
    study = random_study(seed, steps=6, waits=False)
    for n, id in enumerate(study.joints):
        study = change(study, id, reuse="renew" if n % 2 else "")
    target = list(study.parts)[-1]
    options = RouteOptions(weights=((what, seconds),))
    found = route_to(study, [target], options=options)
    needs = needs_of(study)
    every = (o for mask in closed_sets(needs, needs.freeing(target)) for o in orders(needs, mask))
    best = min(weight_of(study, order, options.worth) for order in every)
    assert weight_of(study, found.steps, options.worth) == pytest.approx(best)
    assert weight_of(study, found.steps, {}) == pytest.approx(found.seconds)


def by_the_general_solver(study, target):
    """The least time (s) by CP-SAT: a circuit through the steps that are used, waits and *or*s as constraints."""
    needs, scale = needs_of(study), 100
    steps = [study.steps[id] for id in needs.ids]
    times = [round(step_times(study)[id].seconds * scale) for id in needs.ids]
    tool_s, turn_s = round(TOOL_S * scale), round(TURN_S * scale)
    top = sum(times) + len(steps) * (tool_s + turn_s) + sum(round(s.wait_s * scale) for s in steps)
    model = cp_model.CpModel()
    names = {name: n for n, name in enumerate(dict.fromkeys(["", *(s.tool for s in steps)]))}
    used = [model.new_bool_var("") for _ in steps]
    start = [model.new_int_var(0, top, "") for _ in steps]
    hand = [model.new_int_var(0, len(names), "") for _ in steps]
    n = len(steps)
    arcs = [(i, i, used[i].negated()) for i in range(n)]

    def follows(k, literal, held, at, face):
        step = steps[k]
        turn = turn_s * (step.face != face)
        if not step.tool:
            model.add(hand[k] == held).only_enforce_if(literal)
            model.add(start[k] >= at + turn).only_enforce_if(literal)
            return
        same = model.new_bool_var("")
        model.add(held == names[step.tool]).only_enforce_if(same)
        model.add(hand[k] == names[step.tool])
        model.add(start[k] >= at + turn).only_enforce_if([literal, same])
        model.add(start[k] >= at + turn + tool_s).only_enforce_if([literal, same.negated()])

    for k in range(n):
        first = model.new_bool_var("")
        arcs += [(n, k, first), (k, n, model.new_bool_var(""))]
        follows(k, first, 0, 0, steps[0].face)
        for i in range(n):
            if i != k:
                arcs.append((i, k, literal := model.new_bool_var("")))
                follows(k, literal, hand[i], start[i] + times[i], steps[i].face)
    model.add_circuit(arcs)
    for i, own in enumerate(needs.needs):
        for need in own:
            ways = []
            for j in bits(need.steps):
                ways.append(before := model.new_bool_var(""))
                model.add_implication(before, used[j])
                model.add(start[i] >= start[j] + times[j]).only_enforce_if(before)
                if need.rule == 3:
                    wait = round(steps[j].wait_s * scale)
                    model.add(start[i] >= start[j] + times[j] + wait).only_enforce_if(before)
            model.add_bool_or([used[i].negated(), *ways])
    model.add_bool_or([used[i] for i in bits(needs.freeing(target))])
    end = model.new_int_var(0, top, "")
    for i in range(n):
        model.add(end >= start[i] + times[i]).only_enforce_if(used[i])
    model.minimize(end)
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 2
    assert solver.solve(model) == cp_model.OPTIMAL
    return solver.objective_value / scale


@pytest.mark.parametrize("seed", range(14))
def test_a_general_solver_finds_the_same_least_time(seed):
    """OR-tools CP-SAT on studies with choices, faces, tools and waits; its times are whole hundredths."""
    study = random_study(seed + 300, steps=8)
    target = list(study.parts)[-1]
    route = route_to(study, [target])
    assert route.proved
    assert route.seconds == pytest.approx(by_the_general_solver(study, target), abs=0.1)


#: Jackson's eleven tasks: time and what comes directly before (Jackson 1956, the textbook example of line balancing,
#: from memory, unverified). Their ranked positional weights (Helgeson, Birnie 1961) sum each task with all that follow.
JACKSON = {
    1: (6, ()), 2: (2, (1,)), 3: (5, (1,)), 4: (7, (1,)), 5: (1, (1,)), 6: (2, (2,)), 7: (3, (3, 4, 5)),
    8: (6, (6,)), 9: (5, (7,)), 10: (5, (8,)), 11: (4, (9, 10)),
}  # fmt: skip
WEIGHTS = {1: 46, 2: 19, 3: 17, 4: 19, 5: 13, 6: 17, 7: 12, 8: 15, 9: 9, 10: 9, 11: 4}


def test_the_published_precedence_example_comes_out():
    things = [Part(f"P{n}", f"task {n}") for n in JACKSON]
    for n, (_, before) in JACKSON.items():
        things += [Fact(f"F{n}{b}", f"P{b}", f"P{n}") for b in before]
        things.append(Step(f"S{n}", "take out", takes_out=(f"P{n}",)))
    study = study_of(*things, Run("R1", "timed"))
    for n, (seconds, _) in JACKSON.items():
        study = lap(study, "R1", f"S{n}", float(seconds))
    reach = reach_of_all(study)
    assert reach["P11"].seconds.least == sum(t for t, _ in JACKSON.values()) == 46
    assert set(reach["P7"].needed) == {"S1", "S3", "S4", "S5", "S7"}
    for n in JACKSON:
        followers = sum(JACKSON[k][0] for k in JACKSON if f"S{n}" in reach[f"P{k}"].needed)
        assert followers == WEIGHTS[n]


# -- by which way ---------------------------------------------------------------------------------------------


def two_glues():
    """A cover that heat or solvent softens, or that is cut; a cell cut off by its plug or by a switch at the back."""
    return study_of(
        Part("P1", "cover"), Part("P2", "board"), Part("P3", "second fan", variant="large, export"),
        Joint("J1", "adhesive", holds=("P1",)), Joint("J2", "connector", holds=("P2",)),
        Joint("J3", "screw", holds=("P3",), drive="cross", size="PH1"), Joint("J4", "connector"),
        Fact("F1", "P1", "J2"), Fact("F2", "P3", "J2"),
        Step("S1", "soften", said="warm the edge", softens=("J1",), tool="hot air", wait_s=120.0),
        Step("S2", "soften", said="a drop of solvent", softens=("J1",), tool="dropper", wait_s=30.0),
        Step("S3", "pry", releases=("J1",), takes_out=("P1",), tool="film"),
        Step("S4", "cut", releases=("J1",), takes_out=("P1",), tool="knife", destroys=True),
        Step("S5", "unscrew", releases=("J3",), takes_out=("P3",), tool="PH1"),
        Step("S6", "disconnect", releases=("J4",), isolates_power=True, face="back"),
        Step("S7", "switch off", isolates_power=True),
        Step("S8", "disconnect", releases=("J2",), takes_out=("P2",), tool="lifter"),
    )  # fmt: skip


@pytest.mark.parametrize(
    ("options", "uses", "spares"),
    [
        (RouteOptions(), {"S2"}, {"S1"}),
        (RouteOptions(avoid=("solvent",)), {"S1"}, {"S2"}),
        (RouteOptions(avoid=("destruction",)), {"S3"}, {"S4"}),
        (RouteOptions(isolate="S6"), {"S6"}, {"S7"}),
        (RouteOptions(isolate="S7"), {"S7"}, {"S6"}),
        (RouteOptions(isolate="not"), set(), {"S6", "S7"}),
        (RouteOptions(isolate="S6", variant="small"), {"S6"}, {"S5"}),
        (RouteOptions(variant="export"), {"S5"}, set()),
        (RouteOptions(faces=("front",)), {"S7"}, {"S6"}),
        (RouteOptions("risk"), {"S3"}, {"S1"}),
    ],
)
def test_a_route_goes_the_way_that_is_wished(options, uses, spares):
    study = change(two_glues(), "P2", variant="small, large, export")
    found = route_to(study, ["P2"], options=options)
    assert uses <= set(found.steps)
    assert not spares & set(found.steps)
    assert not set(found.steps) & barred(study, options)
    assert found.options == options


def test_what_cannot_be_wished_is_told_in_a_sentence():
    study = two_glues()
    with pytest.raises(ReachError, match="softens"):
        route_to(study, ["P2"], options=RouteOptions(avoid=("heat", "solvent")))
    with pytest.raises(ReachError, match="“noise” cannot be avoided; choose one of"):
        RouteOptions(avoid=("noise",))
    with pytest.raises(ReachError, match="no variant “tiny” in this study: large, export"):
        route_to(study, ["P2"], options=RouteOptions(variant="tiny"))
    with pytest.raises(ReachError, match="worked from the moon; there is front, back"):
        route_to(study, ["P2"], options=RouteOptions(faces=("moon",)))
    with pytest.raises(ReachError, match="no step that may be used takes it out"):
        route_to(study, ["P2"], options=RouteOptions(faces=("back",)))
    small = change(study, "P2", variant="small")
    with pytest.raises(ReachError, match="does not have all of these parts"):
        route_to(small, ["P3"], options=RouteOptions(variant="small"))
    for wrong in ("renewals", "beauty 3 s", "risk 3 mm"):
        with pytest.raises(ReachError, match="is not a weight"):
            weights_of(wrong)
    assert weights_of("renewals 2 min, tool changes 4") == (("renewals", 120.0), ("tool changes", 4.0))
    found = choices(study)
    assert (found.avoid, found.faces, found.isolating) == (
        ("heat", "solvent", "blade", "destruction"),
        ("front", "back"),
        ("S6", "S7"),
    )
    assert found.variants == ("large", "export")
    assert choices(tide_logger.study()).faces


def test_a_variant_lacks_what_is_marked_as_of_others_and_nothing_else():
    study = two_glues()
    small = as_variant(change(study, "P2", variant="small"), "small")
    assert set(study.parts) - set(small.parts) == {"P3"}
    assert set(study.joints) - set(small.joints) == {"J3"}
    assert set(study.steps) - set(small.steps) == {"S5"}
    assert as_variant(study, "") is study


def test_only_tools_that_lie_on_the_bench_are_used():
    study = tide_logger.study()
    hand = at_hand(study, ["hex socket 2.5", "PH00", "lifter", "T5", "dropper"])
    assert {"hex 2.5", "PH00", "lifter", "T5"} <= hand
    assert "film" not in hand
    with pytest.raises(ReachError):
        route_to(study, ["P29"], options=RouteOptions(tools=hand))
    assert route_to(study, ["P19"], options=RouteOptions(tools=hand)).proved


# -- the route in time ----------------------------------------------------------------------------------------


@given(st.integers(0, 10_000))
@example(9067)  # a tool fetched in a wait that is shorter than fetching
@settings(max_examples=30, deadline=None)
def test_slack_is_what_networkx_finds_on_the_critical_path(seed):
    """Longest paths through ends and starts of legs; a leg lengthened by its slack moves the end by nothing."""
    study = random_study(seed, steps=9)
    for part in study.parts:
        legs = route_to(study, [part]).legs
        graph = nx.DiGraph()
        for k, leg in enumerate(legs):
            graph.add_edge(("start", k), ("end", k), weight=leg.seconds)
        first = legs[0].start_s
        graph.add_edge("begin", ("start", 0), weight=first)
        graph.add_weighted_edges_from((("end", a), ("start", b), lag) for a, b, lag in links(study, legs))
        whole = nx.dag_longest_path_length(graph)
        assert whole == pytest.approx(legs[-1].start_s + legs[-1].seconds)
        for k, spare in enumerate(slack(study, legs)):
            graph.add_edge(("start", k), ("end", k), weight=legs[k].seconds + spare)
            assert nx.dag_longest_path_length(graph) == pytest.approx(whole)
            graph.add_edge(("start", k), ("end", k), weight=legs[k].seconds + spare + 1)
            assert nx.dag_longest_path_length(graph) == pytest.approx(whole + 1)
            graph.add_edge(("start", k), ("end", k), weight=legs[k].seconds)


@given(st.integers(0, 10_000))
@settings(max_examples=30, deadline=None)
def test_waits_and_the_way_back_hold_together(seed):
    study = random_study(seed, steps=10)
    for part in study.parts:
        route = route_to(study, [part])
        spare = dict(zip(route.steps, slack(study, route.legs), strict=True))
        waits = soaks(study, route.legs)
        starts = {leg.step: leg.start_s for leg in route.legs}
        for soak in waits:
            assert soak.until_s - soak.from_s == pytest.approx(study.steps[soak.step].wait_s)
            assert all(soak.from_s <= starts[s] < soak.until_s for s in soak.filled)
            if len(waits) == 1:
                assert all(spare[s] >= soak.idle_s - 0.002 for s in soak.filled)
        back = way_back(study, route.legs)
        made = [j for leg in back for j in study.steps[leg.step].releases]
        released = [j for leg in route.legs for j in study.steps[leg.step].releases]
        assert made == [j for s in reversed(route.steps) for j in study.steps[s].releases]
        assert sorted(made) == sorted(released)
        for a, b in pairwise(back):
            assert b.start_s >= a.start_s + a.seconds - 1e-9


def test_a_put_back_that_was_timed_counts_on_the_way_back():
    study = study_of(
        Part("P1", "lid"), Joint("J1", "screw", holds=("P1",)),
        Step("S1", "take out", releases=("J1",), takes_out=("P1",)),
        Step("S2", "fasten", releases=("J1",), phase="back"), Run("R1", "put back"),
    )  # fmt: skip
    legs = route_to(study, ["P1"]).legs
    assert way_back(study, legs)[0].basis == "estimated"
    assert way_back(study, legs)[0].seconds > legs[0].seconds, "fastening takes longer than unfastening"
    assert way_back(lap(study, "R1", "S2", 77.0), legs)[0].seconds == 77.0


@given(st.integers(0, 10_000))
@settings(max_examples=40, deadline=None)
def test_where_every_need_is_a_choice_no_way_goes_round_the_dominators(seed):
    """Each of many covers can be taken off once any of some others is: dominators by networkx."""
    r, things, edges = random.Random(seed), [], []
    for n in range(1, 9):
        things += [Part(f"P{n}", f"cover {n}"), Joint(f"J{n}", "clip", holds=(f"P{n}",))]
        before = r.sample(range(1, n), min(n - 1, r.randint(1, 3)))
        edges += [(b, n) for b in before] or [(0, n)]
        # any of the earlier steps opens the way: they all release the same latch as well
        things.append(Joint(f"J{n}0", "clip", holds=(f"P{n}",)))
        things.append((n, before))
    made = [t for t in things if not isinstance(t, tuple)]
    opens = {
        n: [f"J{k}0" for k, before in (t for t in things if isinstance(t, tuple)) if n in before] for n in range(1, 9)
    }
    for n in range(1, 9):
        own = [f"J{n}", *([f"J{n}0"] if (0, n) in edges else [])]
        made.append(Step(f"S{n}", "take out", releases=(*own, *opens[n]), takes_out=(f"P{n}",)))
    study = study_of(*made)
    graph = nx.DiGraph(edges)
    above = nx.immediate_dominators(graph, 0)
    for n in range(1, 9):
        route = route_to(study, [f"P{n}"])
        chain, at = {n}, n
        while above.get(at, 0) not in (0, None) and above[at] != at:
            at = above[at]
            chain.add(at)
        assert no_way_round(study, route) == {f"S{k}" for k in chain}


# -- times told, all parts, what is cheap ---------------------------------------------------------------------


def test_a_time_told_by_three_counts_until_it_is_measured():
    """PERT: 10, 20, 60 s have the mean 25 and the deviation 25/3."""
    study = change(chain_study(2), "S1", least_s=10.0, likely_s=20.0, most_s=60.0)
    median, sigma = told(study.steps["S1"])
    assert median * math.exp(sigma**2 / 2) == pytest.approx(25)
    assert median * math.exp(sigma**2 / 2) * math.sqrt(math.exp(sigma**2) - 1) == pytest.approx(50 / 6)
    assert step_times(study)["S1"].basis == "told"
    assert told(change(study, "S1", least_s=None, most_s=None).steps["S1"])[0] == 20.0
    assert told(change(study, "S1", likely_s=None).steps["S1"])[0] < 35.0
    assert told(change(study, "S1", likely_s=None, most_s=None).steps["S1"]) is None
    timed = lap(
        study_of(*study.parts.values(), *study.joints.values(), *study.steps.values(), Run("R1")), "R1", "S1", 7.0
    )
    assert step_times(timed)["S1"].basis == "measured"
    with pytest.raises(StudyError, match="quickest ≤ usual"):
        change(study, "S1", most_s=5.0)


@given(st.integers(0, 10_000))
@settings(max_examples=25, deadline=None)
def test_all_parts_at_a_glance_are_their_steps_added_up(seed):
    study = random_study(seed, steps=10)
    study = change(study, list(study.parts)[-1], priority=True)
    found = overview_of(study)
    assert [study.parts[g.part].priority for g in found] == sorted(
        (p.priority for p in study.parts.values()), reverse=True
    )
    for g in found:
        steps = [study.steps[id] for id in g.reach.needed]
        assert set(g.tools) == {s.tool for s in steps if s.tool}
        assert g.renewals == sum(renewals_of(study, s) for s in steps)
        assert g.risk == sum(risk_of(study, s) for s in steps)
        assert any(study.name(g.part) in line for line in about(study, g.part))


@given(st.integers(0, 10_000))
@settings(max_examples=25, deadline=None)
def test_what_is_passed_is_so_many_steps_further(seed):
    """Without choices: the closed set of both less that of the route."""
    study = random_study(seed, steps=12, ways=False)
    reach = reach_of_all(study)
    target = list(study.parts)[-1]
    route = route_to(study, [target])
    near = {p.part: p.steps for p in passed(study, route)}
    for part in study.parts:
        further = set(reach[part].needed) - set(route.steps)
        shared = set(reach[part].needed) & set(route.steps)
        assert near.get(part) == (len(further) if 0 < len(further) <= 2 and shared else None)


@given(st.lists(st.tuples(st.sampled_from(["gone", "driver", "clear", "tab"]), st.floats(0, 900)), max_size=12))
def test_nothing_on_the_front_is_beaten(rows):
    effects = [Effect((Change(way, f"J{n}"),), saved, ()) for n, (way, saved) in enumerate(rows)]
    best = front(effects)
    for e in effects:
        beaten = any(effort(b.changes) <= effort(e.changes) and b.seconds >= e.seconds - 0.06 for b in best)
        assert beaten or e.seconds < 0.06
    for a, b in pairwise(best):
        assert effort(a.changes) <= effort(b.changes)
        assert a.seconds < b.seconds


@pytest.mark.parametrize("seed", range(6))
def test_orders_met_before_the_proof_can_be_worked_and_get_better(seed, monkeypatch):
    monkeypatch.setattr(order_search, "DIVE", 2)
    study = random_study(seed, steps=24)
    needs = needs_of(study)
    for part in study.parts:
        met = []
        best = route_to(study, [part], budget_s=30, better=met.append)
        assert [r.seconds for r in met] == sorted((r.seconds for r in met), reverse=True)
        for one in (*met, best):
            done = 0
            for id in one.steps:
                i = needs.record.index[id]
                assert all(n.steps & done for n in needs.needs[i])
                done |= 1 << i
            assert one.bound_s <= best.seconds + 1e-6 <= one.seconds + 2e-6
