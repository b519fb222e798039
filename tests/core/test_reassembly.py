"""Putting back: the plan against every order there is, against CP-SAT and networkx; the ledger over random work."""

import random
from itertools import pairwise, permutations

import networkx as nx
import pytest
from attrs import evolve
from builders import chain_study, random_study, study_of
from hypothesis import given, settings
from hypothesis import strategies as st
from ortools.sat.python import cp_model

from oddbolt.core.errors import ReachError
from oddbolt.core.reach import bench_seconds
from oddbolt.core.reach.fastening import back_seconds, fastening_seconds, pace
from oddbolt.core.reassembly import ledger, plan_back, repair_job
from oddbolt.core.reassembly.closing import close, left_out, logged, reported_missing, still_open
from oddbolt.core.reference.joint_kinds import joint_kinds
from oddbolt.core.reference.tables import table
from oddbolt.core.study import Fact, Finding, Joint, Lap, Part, Run, Step, Study, put, put_all, remove
from oddbolt.demo import tide_logger

CHANGE, TURN = bench_seconds("tool change"), bench_seconds("turn over")


def stated(study):
    """The study with every pair that nobody stated ruled out, so that nothing is left to assume."""
    known = {(f.over, f.under) for f in study.facts.values()}
    pairs = [(p, t) for p in study.parts for t in (*study.parts, *study.joints) if p != t and (p, t) not in known]
    return put_all(study, [Fact(f"F{9000 + n}", a, b, "ruled out") for n, (a, b) in enumerate(pairs)])


def keeps_the_rules(study, order):
    """By the guide: a part is in before its joints are made, and before what lies over it or its joints goes on."""
    at = {thing: n for n, s in enumerate(order) for thing in (*s.parts, *s.joints)}
    for joint in study.joints.values():
        if joint.kind == "adhesive" and any(at.get(p) != at[joint.id] for p in joint.holds if joint.id in at):
            return False  # glue is laid as the part goes in
        if any(at.get(p, -1) > at[joint.id] for p in joint.holds if joint.id in at):
            return False
    seen = [f for f in study.facts.values() if f.state == "seen"]
    if any(at[f.under] > at[f.over] for f in seen if f.over in at and f.under in at):
        return False
    place = {s.key: n for n, s in enumerate(order)}
    return all(place[f"{s.key} first"] < place[s.key] for s in order if f"{s.key} first" in place)


def shortest(steps, face, tool="", at=0.0, ready=None):
    """The time of these steps in this order, whichever tools are taken up in waits before work by hand."""
    if not steps:
        return at
    first, rest, ready = steps[0], steps[1:], ready or {}
    free = ready.get(first.key, 0.0)
    turned = at + TURN * (first.face != face)
    choices = {first.tool or tool}
    if not first.tool and free > turned:
        choices |= {s.tool for s in rest if s.tool}
    best = float("inf")
    for now in choices:
        begin = max(turned + CHANGE * (now not in ("", tool)), free)
        end = begin + first.seconds
        later = ready | ({first.step: end + first.wait_s} if first.wait_s else {})
        best = min(best, shortest(rest, first.face, now, end, later))
    return best


@pytest.mark.parametrize("seed", range(24))
def test_no_order_that_keeps_the_rules_is_quicker(seed):
    study = stated(random_study(seed, steps=5, ways=False))
    plan = plan_back(study)
    assert plan.proved
    assert keeps_the_rules(study, plan.steps)
    face = list(study.steps.values())[-1].face
    if len(plan.steps) <= 8:
        orders = [o for o in permutations(plan.steps) if keeps_the_rules(study, o)]
        assert plan.seconds == pytest.approx(min(shortest(list(o), face) for o in orders))


@pytest.mark.parametrize("seed", range(6))
def test_the_plan_is_as_short_as_a_constraint_solver_finds(seed):
    """Google's CP-SAT over a circuit of jobs with changes of tool and face, no waits, eleven parts."""
    r = random.Random(seed)
    things = []
    for n in range(1, 12):
        things += [Part(f"P{n}", f"plate {n}"), Joint(f"J{n}", "screw", holds=(f"P{n}",), count=r.randint(1, 5))]
        things += [Fact(f"F{n}-{k}".replace("-", "0"), f"P{k}", f"J{n}") for k in range(1, n) if r.random() < 0.25]
        tool, face = r.choice("abc"), r.choice(["front", "back"])
        things.append(Step(f"S{n}", "do", releases=(f"J{n}",), takes_out=(f"P{n}",), tool=tool, face=face))
    study = stated(study_of(*things))
    plan = plan_back(study)
    jobs = list(plan.steps)
    model, arcs, nodes = cp_model.CpModel(), [], range(1, len(jobs) + 1)
    rank = [model.new_int_var(0, len(jobs), "") for _ in range(len(jobs) + 1)]
    model.add(rank[0] == 0)
    last = study.steps["S11"].face
    cost = []
    for i in (0, *nodes):
        for j in nodes:
            if i == j:
                continue
            arc = model.new_bool_var("")
            arcs.append((i, j, arc))
            model.add(rank[j] == rank[i] + 1).only_enforce_if(arc)
            tool, face = (jobs[i - 1].tool, jobs[i - 1].face) if i else ("", last)
            cost.append(arc * round(1000 * (CHANGE * (jobs[j - 1].tool != tool) + TURN * (jobs[j - 1].face != face))))
        if i:
            arcs.append((i, 0, model.new_bool_var("")))
    model.add_circuit(arcs)
    at = {thing: n for n, s in enumerate(jobs, 1) for thing in (*s.parts, *s.joints)}
    for fact in study.facts.values():
        if fact.state == "seen":
            model.add(rank[at[fact.under]] < rank[at[fact.over]])
    model.minimize(sum(cost))
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    assert solver.solve(model) == cp_model.OPTIMAL
    assert plan.proved
    assert plan.seconds == pytest.approx(sum(s.seconds for s in jobs) + solver.objective_value / 1000, abs=0.02)


def test_no_plan_is_shorter_than_its_critical_path_and_what_lay_over_goes_on_after():
    """networkx: the longest path through what must follow what, with the waits."""
    study = put(chain_study(5), Joint("J3", "adhesive", holds=("P3",), length_mm=60.0))
    plan = plan_back(study)
    graph = nx.DiGraph()
    by = {s.key: s for s in plan.steps}
    of = {part: s.key for s in plan.steps for part in s.parts}
    for fact in study.facts.values():
        holds = study.joints[fact.under].holds[0]
        graph.add_edge(of[holds], of[fact.over], weight=by[of[holds]].seconds)
    graph.add_edge("S3 first", "S3", weight=by["S3 first"].seconds + by["S3 first"].wait_s)
    assert plan.seconds >= nx.dag_longest_path_length(graph) + min(s.seconds for s in plan.steps)
    place = [s.key for s in plan.steps]
    assert all(place.index(a) < place.index(b) for a, b in graph.edges)


def power_study():
    return study_of(
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


def test_power_is_connected_last_of_the_plugs_and_tried_before_it_is_covered():
    plan = plan_back(power_study())
    assert [s.step for s in plan.steps] == ["S3", "S2", "S1"]
    assert [s.power for s in plan.steps] == [False, True, False]
    assert plan.steps[1].does[-1].startswith("start it once")
    assert not plan.left
    live = plan_back(put(power_study(), evolve(power_study().steps["S2"], isolates_power=False)))
    assert not any(s.power for s in live.steps)


def test_what_covers_a_part_covers_its_joints_and_a_folded_lid_closes_last():
    study = study_of(
        Part("P1", "Lid"),
        Part("P2", "Plate"),
        Joint("J1", "screw", holds=("P1",), count=2),
        Joint("J2", "connector", name="Ribbon", holds=("P1", "P2")),
        Joint("J3", "clip", holds=("P2",), count=3),
        Step("S1", "unscrew", releases=("J1",), tool="T5"),
        Step("S2", "fold", opens=("P1",)),
        Step("S3", "disconnect", releases=("J2",)),
        Step("S4", "take out", takes_out=("P1",)),
        Step("S5", "unclip", releases=("J3",), takes_out=("P2",)),
        Fact("F1", "P1", "P2"),
    )
    plan = plan_back(study)
    order = [s.step for s in plan.steps]
    assert set(order[:2]) == {"S4", "S5"}, "the lid may hang on its ribbon while the plate goes in"
    assert order[2:] == ["S3", "S2", "S1"]
    assert plan.steps[3].folds == ("P1",)
    assert "Lid folded back" in plan.steps[3].does


def test_every_kind_of_joint_brings_work_and_its_figures_are_filled_in():
    kinds = {row["kind"] for row in table("putback")["work"]}
    assert kinds == set(joint_kinds()) == set(table("motions")["back"]) - {"part", "clean"}
    screw = Joint("J1", "screw", holds=("P1",), count=4, drive="cross", size="PH0", length_mm=6.0, torque_ncm=12.0)
    study = study_of(Part("P1", "Frame"), screw, Step("S1", "unscrew", releases=("J1",), takes_out=("P1",), tool="PH0"))
    does = plan_back(study).steps[0].does
    assert does == ("Frame in", "start 4 cross PH0 of 6 mm by hand", "tighten crosswise in two passes to 12 N·cm")
    bare = plan_back(put(study, Joint("J1", "screw", holds=("P1",), count=None)))
    assert bare.steps[0].does == ("Frame in", "start by hand", "tighten")
    assert any("nobody counted" in sentence for sentence in bare.left)
    first, glued = plan_back(put(study, Joint("J1", "adhesive", holds=("P1",), length_mm=80.0, width_mm=5.0))).steps
    assert first.wait_s == 120
    assert glued.idle_s == pytest.approx(120 - CHANGE, abs=1e-3)
    assert glued.renew == ("J1",)
    assert any("(4 cm²)" in line for line in glued.does)


def test_waits_are_filled_with_other_work():
    study = chain_study(3, fork=1)
    alone = plan_back(put(study, Joint("J1", "adhesive", holds=("P1",), length_mm=60.0)))
    assert alone.wait_s < 120
    keys = [s.key for s in alone.steps]
    assert keys.index("S1 first") < keys.index("S2") < keys.index("S1")


def test_fastening_is_summed_from_elementary_motions_as_worked_by_hand():
    """Two screws of 4 mm, pitch 0.4 mm: MTM-1 values from memory, unverified; 1 TMU = 0.036 s exactly. Once EF 7.3 and
    M30B 13.3; each R30B 12.8, G4B 9.1, M30B 13.3, P2SE 16.2, 2 x (T180S 9.4 + G2 5.6), RL1 2, M10C 7.9, P2SE 16.2;
    twenty half turns of 15; M10C 7.9, P2SE 16.2, T90S 5.4, APA 10.6 to tighten, in one pass."""
    each = 12.8 + 9.1 + 13.3 + 16.2 + 30.0 + 2.0 + 7.9 + 16.2 + 20 * 15.0 + 7.9 + 16.2 + 5.4 + 10.6
    joint = Joint("J1", "screw", count=2, length_mm=4.0, thread="M2")
    assert fastening_seconds(joint) == pytest.approx((7.3 + 13.3 + 2 * each) * 0.036)
    assert fastening_seconds(evolve(joint, count=3)) - 1.5 * fastening_seconds(joint) == pytest.approx(
        (3 * 40.1 - 0.5 * 20.6) * 0.036
    )
    assert back_seconds("clean", "per_cm") > 0


def test_laps_of_putting_back_set_the_pace_and_stand_for_their_own_step():
    study = chain_study(4)
    assert pace(study) == 1.0
    laps = []
    for n in range(1, 5):
        expected = (
            fastening_seconds(study.joints[f"J{n}"]) + back_seconds("part", "once") + back_seconds("part", "each")
        )
        step = Step(f"S{10 + n}", "place", phase="back", releases=(f"J{n}",), puts_in=(f"P{n}",))
        study = put(study, step)
        laps.append(Lap(step.id, 2 * expected))
    study = put(study, Run("R1", "put back", laps=tuple(laps)))
    assert pace(study) == pytest.approx(2.0)
    steps = plan_back(study, ["P4"]).steps
    assert {s.basis for s in steps} == {"measured"}
    assert steps[0].seconds == pytest.approx(laps[-1].seconds)


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


def test_covers_that_would_contradict_the_record_are_only_taken_as_stated():
    study = study_of(
        Part("P1", "Cover"),
        Part("P2", "Tray"),
        Joint("J1", "screw", holds=("P1",), count=2),
        Joint("J2", "screw", holds=("P2",), count=2),
        Joint("J3", "clip", holds=("P2",), count=1),
        Step("S1", "unclip", releases=("J3",)),
        Step("S2", "unscrew", releases=("J1",), takes_out=("P1",)),
        Step("S3", "unscrew", releases=("J2",), takes_out=("P2",)),
        Fact("F1", "P1", "J2"),
        Fact("F2", "P2", "J1"),
        Fact("F3", "P1", "P2", "ruled out"),
    )
    plan = plan_back(put(study, evolve(study.facts["F2"], state="ruled out")))
    assert plan.steps[0].step == "S3", "the clip was let go before the cover was off, so it may wait"
    assert plan.searched
    assert not any("contradict" in sentence for sentence in plan.left)
    circle = plan_back(study)
    assert not circle.proved
    assert any("contradict" in sentence for sentence in circle.left)


def test_a_half_open_device_is_closed_from_where_it_stands():
    study = chain_study(4)
    for n in (4, 3):
        study = put(study, Step(f"S{10 - n}", "place", phase="back", releases=(f"J{n}",), puts_in=(f"P{n}",)))
    assert [s.step for s in plan_back(study).steps] == ["S2", "S1"]
    assert [s.step for s in plan_back(study, ["P3"]).steps] == ["S3", "S2", "S1"]
    some = put(study, Step("S8", "fasten", phase="back", releases=("J2",), count=1))
    assert "start 1 cross PH00 by hand" in plan_back(some).steps[0].does, "one of two is in already"
    without = left_out(study, plan_back(study).steps[0], "sold without it")
    assert [s.step for s in plan_back(without).steps] == ["S1"]
    timed = put(study, Run("R1", "put back", laps=(Lap("S6", 9.0),)))
    assert [s.step for s in plan_back(timed, from_start=True).steps] == ["S4", "S3", "S2", "S1"]
    assert plan_back(timed, from_start=True).steps[0].seconds == 9.0


# -- the ledger -----------------------------------------------------------------------------------------------


@settings(max_examples=80, deadline=None)
@given(st.lists(st.tuples(st.integers(0, 4), st.sampled_from(["off", "on", "some", "lost", "renew"])), max_size=16))
def test_what_was_taken_is_in_the_tray_or_back_or_missing_whatever_is_done(work):
    kinds = ("screw", "connector", "clip", "screw", "adhesive")
    study = study_of(*(Part(f"P{n}", f"part {n}") for n in range(5)))
    for n, kind in enumerate(kinds):
        study = put(study, Joint(f"J{n}", kind, holds=(f"P{n}",), count=n + 2 if kind in ("screw", "clip") else 1))
    for k, (n, what) in enumerate(work):
        id, joint, before = f"S{k}", f"J{n}", study
        if what == "off":
            study = put(study, Step(id, "undo", releases=(joint,), takes_out=(f"P{n}",)))
        elif what == "lost":
            study = put(study, Finding(f"N{k + 1}", "missing", "one is missing", joint, 1.0))
        else:
            extra = {"count": 1} if what == "some" else {"renews": (joint,)} if what == "renew" else {}
            study = put(study, Step(id, "fasten", releases=(joint,), puts_in=(f"P{n}",), phase="back", **extra))
        undone = remove(study, id) if id in study.steps else before
        assert ledger(undone).in_words() == ledger(before).in_words(), "an undo leaves no trace"
        for line in ledger(study).lines:
            assert line.taken == line.tray + line.back + line.missing
            assert line.tray >= 0
            assert line.renewed <= line.back
            assert line.open == (line.out > 0)


def test_a_plan_logged_in_part_renewed_left_out_and_closed_with_something_open():
    screw = Joint("J1", "screw", name="Lid screws", holds=("P1",), count=4, reuse="renew")
    study = study_of(
        Part("P1", "Lid"),
        Part("P2", "Seal", reuse="renew"),
        screw,
        Step("S1", "unscrew", releases=("J1",), takes_out=("P1",)),
        Step("S2", "take out", takes_out=("P2",)),
        Fact("F1", "P1", "P2"),
    )
    seal, lid = plan_back(study).steps
    study = logged(study, seal)
    assert next(line for line in ledger(study).parts if line.id == "P2").renewed == 1
    three = logged(study, lid, 3)
    assert ledger(three).in_words() == "3 of 4 screws back, 1 part out"
    assert still_open(three)[0] == "Lid screws"
    for bad in (0, 5):
        with pytest.raises(ReachError, match="4 are out"):
            logged(study, lid, bad)
    lost = reported_missing(three, "J1", 1)
    assert ledger(lost).screws[0].tray == 0
    with pytest.raises(ReachError, match="cannot be missing"):
        reported_missing(three, "J1", 2)
    assert not reported_missing(lost, "J1", 0).findings
    shut = close(lost, "somebody", "2026-11-27T15:00:00")
    assert "1 missing" in next(iter(shut.closings.values())).open
    whole = logged(lost, lid)
    assert not any(line.open for line in ledger(whole).lines)
    without = left_out(study, lid, "not fitted here")
    assert not any(line.open for line in ledger(without).lines)
    assert "2 left out on purpose" in ledger(without).in_words()
    with pytest.raises(ReachError, match="Say why"):
        left_out(study, lid, " ")
    with pytest.raises(ReachError, match="no case to close"):
        close(Study(), "", "")


def test_a_fastening_that_fits_no_group_keeps_the_ledger_open():
    study = put(chain_study(1), Step("S9", "fasten", phase="back", said="nine T6"))
    assert ledger(study).unmatched == ("S9",)
    assert not ledger(study).closed
    assert "1 fastening without a group" in ledger(study).in_words()
    uncounted = put(study, evolve(next(iter(study.joints.values())), count=None))
    assert "1 group not counted" in ledger(uncounted).in_words()
    over = put(chain_study(1), Finding("N1", "left over", "screw, length 4.1"))
    assert "1 screw left over" in ledger(over).in_words()


def test_the_demo_closes_when_its_plan_is_followed_and_its_gap_is_told():
    study = tide_logger.study()
    plan = plan_back(study, budget_s=0.5)
    assert 0 < plan.bound_s <= plan.seconds
    assert {s.step for s in plan.steps if s.power} < {"S5", "S17"}
    for step in plan.steps:
        study = logged(study, step)
    found = ledger(study)
    assert not [line.name for line in found.lines if line.open]
    assert found.used
    for earlier, later in pairwise(plan.steps):
        assert later.start_s >= earlier.start_s + earlier.seconds - 1e-6


def test_a_repair_is_one_job_with_what_must_be_ordered():
    study = tide_logger.study()
    battery = next(p.id for p in study.parts.values() if p.name == "Battery")
    job = repair_job(study, [battery])
    assert [n.what for n in job.orders][:2] == ["Battery", "adhesive"]
    assert job.p50_s < job.p90_s
    assert job.p50_s == pytest.approx(job.route.seconds + job.back.seconds, rel=0.12)
    assert any("new Battery in" in line for s in job.back.steps for line in s.does)
    assert {s.step for s in job.back.steps} <= set(job.route.steps)
    with pytest.raises(ReachError, match="at least one part"):
        repair_job(study, [])
