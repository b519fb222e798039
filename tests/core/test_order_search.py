"""The search for the best order: sound, stoppable and honest about what it did not prove."""

import random
from itertools import permutations

import pytest
from builders import random_study
from hypothesis import given
from hypothesis import strategies as st

from oddbolt.core.reach import Range, needs_of, reach_of_all, route_to
from oddbolt.core.reach.closures import Closures
from oddbolt.core.reach.order_search import Job, Ordering
from oddbolt.core.reach.problem import Problem
from oddbolt.core.reach.step_masks import bits, record_of
from oddbolt.core.reach.totals import totals
from oddbolt.core.study import Fact, Joint, Part, Step, change, put
from oddbolt.demo import tide_logger

TOOL_S, TURN_S = 3.0, 5.0


def simulated(jobs, order):
    """The least seconds of doing these jobs in this order, or None if a need is not met. In a wait before a job by hand
    a tool for later may be taken up."""

    def go(n, at, tool, face, done, ready):
        if n == len(order):
            return at
        i = order[n]
        job = jobs[i]
        if not all(need & done for need in job.needs):
            return None
        wait = max((when for k, when in ready.items() if jobs[k].then >> i & 1), default=0.0)
        moved = at + TOOL_S * bool(job.tool and job.tool != tool) + TURN_S * (job.face != face)
        ways = [(moved, job.tool or tool)]
        if not job.tool and wait > moved:
            ways += [(moved + TOOL_S, t) for t in {j.tool for j in jobs} - {0, tool}]
        ends = [(max(free, wait) + job.seconds, held) for free, held in ways]
        found = [go(n + 1, end, held, job.face, done | 1 << i, ready | {i: end + job.wait_s}) for end, held in ends]
        return min((f for f in found if f is not None), default=None)

    return go(0, 0.0, 0, 0, 0, {})


def random_jobs(seed, n):
    r = random.Random(seed)
    jobs = []
    for i in range(n):
        before = r.sample(range(i), min(i, r.randint(0, 2)))
        jobs.append([float(r.randint(1, 30)), r.randint(0, 3), r.randint(0, 1), tuple(1 << b for b in before), 0.0, 0])
    for i in range(n - 1):
        followers = [k for k in range(i + 1, n) if 1 << i in jobs[k][3]]
        if followers and r.random() < 0.3:
            jobs[i][4], jobs[i][5] = float(r.choice([10, 40])), 1 << followers[0]
    return [Job(*job) for job in jobs]


@pytest.mark.parametrize("seed", range(40))
def test_no_order_at_all_is_shorter(seed):
    jobs = random_jobs(seed, 6)
    order = Ordering(jobs, TOOL_S, TURN_S, 0).solve()
    times = [t for p in permutations(range(6)) if (t := simulated(jobs, p)) is not None]
    assert order.proved
    assert order.seconds == pytest.approx(min(times))
    assert simulated(jobs, order.jobs) == pytest.approx(order.seconds)


@given(st.integers(0, 10_000))
def test_a_search_cut_short_still_tells_the_truth(seed):
    jobs = random_jobs(seed, 14)
    whole = Ordering(jobs, TOOL_S, TURN_S, 0).solve(budget_s=20)
    short = Ordering(jobs, TOOL_S, TURN_S, 0).solve(budget_s=0.0)
    stopped = Ordering(jobs, TOOL_S, TURN_S, 0).solve(stopped=lambda: True)
    for found in (short, stopped):
        assert found.bound_s <= whole.seconds + 1e-6 <= found.seconds + 2e-6
        assert simulated(jobs, found.jobs) == pytest.approx(found.seconds)
        assert found.proved <= (found.seconds <= whole.seconds + 1e-6)


def test_none_is_better_than_the_best():
    jobs = random_jobs(3, 8)
    best = Ordering(jobs, TOOL_S, TURN_S, 0).solve()
    assert Ordering(jobs, TOOL_S, TURN_S, 0).solve(upper=best.seconds) is None
    assert Ordering(jobs, TOOL_S, TURN_S, 0).solve(upper=best.seconds + 1).seconds == best.seconds


def test_needs_in_a_circle_are_no_order():
    with pytest.raises(ValueError, match="circle"):
        Ordering([Job(1, 0, 0, (2,)), Job(1, 0, 0, (1,))], TOOL_S, TURN_S)


def test_what_was_proved_is_not_proved_again(monkeypatch):
    problem = Problem(needs_of(tide_logger.study()))
    mask = Closures(problem.needs, problem.costs).forced[0][20]
    first = problem.solve(mask)
    monkeypatch.setattr(Ordering, "solve", lambda *_: pytest.fail("searched again"))
    assert problem.solve(mask) is first
    assert problem.solve(mask, upper=first.seconds) is None


def test_sets_come_cheapest_first_and_each_can_be_done():
    study = random_study(11, steps=16)
    needs = needs_of(study)
    closures = Closures(needs, [1.0] * len(needs.ids))
    target = needs.freeing(list(study.parts)[-1])
    sets = list(closures.sets([target], all_ways=True))
    costs = [closures.cost(m) for m in sets]
    assert costs == sorted(costs)
    assert len(set(sets)) == len(sets)
    for mask in sets:
        done = 0
        while done != mask:
            ready = [i for i in bits(mask & ~done) if all(n.steps & done for n in needs.needs[i])]
            assert ready
            done |= 1 << ready[0]
    assert closures.cheapest(target) == sets[0]


@pytest.mark.parametrize("seed", range(12))
def test_more_facts_never_make_a_part_easier(seed):
    study = random_study(seed, steps=12)
    before = reach_of_all(study)
    parts = list(study.parts)
    more = put(study, Fact("F9000", parts[0], parts[-1], "seen"))
    after = reach_of_all(more)
    for part in parts:
        if after[part].operations is None or before[part].operations is None:
            continue
        assert after[part].operations.least >= before[part].operations.least or len(study.steps) != len(parts)
        assert after[part].seconds.least >= before[part].seconds.least - 1e-6


@pytest.mark.parametrize("seed", range(12))
def test_the_least_is_never_more_than_the_most(seed):
    for reach in reach_of_all(random_study(seed, steps=16)).values():
        for found in (reach.steps, reach.operations, reach.seconds):
            assert isinstance(found, Range)
            assert found.least <= found.most


def test_two_targets_cost_at_least_each_and_at_most_both():
    study = tide_logger.study()
    one, other = route_to(study, ["P8"]), route_to(study, ["P42"])
    both = route_to(study, ["P8", "P42"])
    assert max(one.seconds, other.seconds) <= both.seconds <= one.seconds + other.seconds + TURN_S + TOOL_S
    assert set(one.targets + other.targets) == set(both.targets)


def test_of_two_ways_in_the_quicker_is_taken():
    """The battery plug of the demo can be reached over the board or through the hatch."""
    study = tide_logger.study()
    route = route_to(study, ["P29"])
    assert len({"S17", "S60"} & set(route.steps)) == 1
    slow = change(study, "S17", tool="S17's own tool")
    from oddbolt.core.study.edits import lap

    slow = lap(slow, "R2", "S17", 3000.0)
    assert "S60" in route_to(slow, ["P29"]).steps


def test_legs_follow_one_another_and_end_at_the_total():
    study = tide_logger.study()
    route = route_to(study, ["P29", "P7", "P42"])
    at = 0.0
    for leg in route.legs:
        assert leg.start_s >= at - 1e-6
        at = leg.start_s + leg.seconds
    assert at == pytest.approx(route.seconds)
    assert sum(leg.change for leg in route.legs) == route.tool_changes
    assert sum(leg.turn for leg in route.legs) == route.turns


def test_totals_count_each_joint_once_and_say_what_was_not_counted():
    from builders import study_of

    study = study_of(
        Part("P1", "lid", reuse="renew"),
        Joint("J1", "screw", holds=("P1",), count=None), Joint("J2", "screw", count=3),
        Step("S1", "unscrew", releases=("J1", "J2"), tool="PH0"), Step("S2", "unscrew", releases=("J2",), tool="T6"),
        Step("S3", "take out", takes_out=("P1",)),
    )  # fmt: skip
    t = totals(study, ["S1", "S2", "S3"])
    assert (t.fasteners, t.fasteners_uncounted, t.tools, t.renew) == (3, 1, ("PH0", "T6"), ("P1",))
    assert t.steps == 2


def test_the_record_knows_who_carries_whom_and_what_came_when():
    record = record_of(tide_logger.study())
    assert record.carriers["P27"] == ("P26", "P15")
    assert record.touched["J16"] < record.removed["P19"]
    assert list(bits(record.taking["P29"])) == [25]
    assert record_of(tide_logger.study(), frozenset({"S1"})).ids[0] == "S2"
