"""Reach and route against every order there is, by a checker written from the rules in docs/guide/reach.md alone."""

import random
from itertools import chain, combinations, permutations

import pytest
from attrs import evolve
from builders import study_of
from hypothesis import given, settings
from hypothesis import strategies as st

from oddbolt.core.errors import ReachError
from oddbolt.core.reach import bench_seconds, parts, reach_of_all, route_to, step_times
from oddbolt.core.study import Fact, Joint, Part, Step, put, renumber

PLUG = "connector"


@pytest.fixture(autouse=True, scope="module")
def time_enough():
    """On a busy machine the tenth of a second that a part is given may end before a proof: here it does not."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(parts, "ORDER_BUDGET_S", 60.0)
        yield


def anything(seed, most_steps=7):
    """A small study with everything the rules speak of: plugs, a switch, glue softened in two ways, idle waits, two
    ways to release, facts seen and assumed."""
    r = random.Random(seed)
    things, number, parts = [], 0, 0
    power = r.random() < 0.6

    def step(**fields):
        nonlocal number
        number += 1
        wait = float(r.choice([0, 0, 20, 90])) if not fields.get("softens") else float(r.choice([20, 60, 200]))
        tool, face = r.choice(["", "a", "b"]), r.choice(["front", "back"])
        things.append(Step(f"S{number}", "do", tool=tool, face=face, wait_s=wait, **fields))

    while number < most_steps - 1:
        parts += 1
        part, joint = f"P{parts}", f"J{parts}"
        kind = r.choice(["screw", "adhesive", PLUG, PLUG])
        things.append(Part(part, f"part {parts}"))
        things.append(Joint(joint, kind, holds=(part,), count=r.randint(1, 6)))
        for other in range(1, parts):
            if r.random() < 0.45:
                state = r.choice(["seen", "assumed", "seen"])
                things.append(Fact(f"F{len(things)}", f"P{other}", r.choice([part, joint]), state))
        for _ in range(r.choice([0, 1, 2]) if kind == "adhesive" else 0):
            step(softens=(joint,))
        step(releases=(joint,), isolates_power=power and r.random() < 0.35)
        if r.random() < 0.3:
            step(releases=(joint,))
        step(takes_out=(part,))
    return study_of(*things)


class Rules:
    """The rules as the guide has them, for one reading of the facts."""

    def __init__(self, study, facts):
        self.study, self.steps = study, list(study.steps.values())
        self.over = [(f.over, f.under) for f in study.facts.values() if f.state == "seen"]
        isolating = [s for s in self.steps if s.isolates_power]
        guarded = [s for s in self.steps if self.plugs(s) and not s.isolates_power]
        self.live = [frozenset(s.id for s in guarded)] if not isolating else self.smallest(guarded, isolating)
        self.power = bool(isolating)
        if facts == "most":
            for live in list(self.live):
                assert live is not None
            self.by_way = [self.with_assumed(live) for live in self.live]
        else:
            self.by_way = [list(self.over) for _ in self.live]

    def plugs(self, step):
        return [j for j in step.releases if self.study.joints[j].kind == PLUG]

    def smallest(self, guarded, isolating):
        """Sets of plugs that, opened live, lead to a step that isolates, and of which no part does."""
        ids = [s.id for s in guarded]
        every = [frozenset(c) for c in chain.from_iterable(combinations(ids, n) for n in range(len(ids) + 1))]
        leads = [c for c in every if any(s.id in self.doable(self.over, set(ids) - c) for s in isolating)]
        return [c for c in leads if not any(other < c for other in leads)] or [frozenset(ids)]

    def ready(self, step, done, over):
        """Whether rules 1, 2, 3 and 5 let a step be done now."""
        off = {p for d in done for p in d.takes_out}
        loose = {j for d in done for j in d.releases}
        soft = {j for d in done for j in d.softens}
        for part in step.takes_out:
            if any(
                part in j.holds and j.id not in loose and j.id not in step.releases for j in self.study.joints.values()
            ):
                return False
        for thing in (*step.releases, *step.softens, *step.takes_out):
            if any(under == thing and above not in off and above not in step.takes_out for above, under in over):
                return False
        glued = {j for s in self.steps for j in s.softens}
        return all(j in soft or j in step.softens for j in step.releases if j in glued)

    def allowed(self, step, done, over, live):
        """All the rules, power too."""
        isolated = any(d.isolates_power for d in done)
        if self.power and self.plugs(step) and not step.isolates_power and step.id not in live and not isolated:
            return False
        return self.ready(step, done, over)

    def doable(self, over, barred=frozenset(), live=None):
        done = []
        while True:
            more = [
                s
                for s in self.steps
                if s not in done and s.id not in barred
                and (self.ready(s, done, over) if live is None else self.allowed(s, done, over, live))
            ]  # fmt: skip
            if not more:
                return {s.id for s in done}
            done += more

    def with_assumed(self, live):
        """What is assumed, one pair after another, each unless it makes impossible what could be done."""
        over = list(self.over)
        possible = self.doable(over, live=live)
        for pair in self.assumed():
            if self.doable([*over, pair], live=live) == possible:
                over.append(pair)
        return over

    def assumed(self):
        """Where nobody said otherwise, the part taken off last before a thing was first touched; then what was said."""
        stated = {(f.over, f.under): f.state for f in self.study.facts.values()}
        touched, removed, fresh, latest = {}, {}, [], ()
        for n, step in enumerate(self.steps):
            for thing in (*step.releases, *step.softens, *step.takes_out):
                if thing not in touched:
                    touched[thing] = n
                    holds = self.study.joints[thing].holds if thing in self.study.joints else (thing,)
                    fresh += [(above, thing) for above in latest if above not in holds]
            for part in step.takes_out:
                removed.setdefault(part, n)
            latest = step.takes_out or latest
        said = [
            p for p, state in stated.items() if state == "assumed" and touched.get(p[1], -1) >= removed.get(p[0], -1)
        ]
        return [*(p for p in fresh if p not in stated or p in said), *(p for p in said if p not in fresh)]

    def least_time(self, target):
        """Over every order of every set of steps that ends with the target off."""
        times = {id: t.seconds for id, t in step_times(self.study).items()}
        best = [float("inf")]

        def waited(step, done, ends):
            """When a step may begin: each thing it needs done, in the way whose wait is over first."""
            at = 0.0
            for joint in (j for j in step.releases if any(j in s.softens for s in self.steps)):
                at = max(at, min((ends[d.id] for d in done if joint in d.softens), default=0.0))
            for met in self.needed(step, done):
                at = max(at, min(ends[d.id] if d.wait_s and not d.softens else 0.0 for d in met))
            return at

        def go(done, tool, face, at, ends, over, live):
            if at >= best[0] - 1e-9:
                return
            if any(target in d.takes_out for d in done):
                best[0] = at
                return
            for step in self.steps:
                if step in done or not self.allowed(step, done, over, live):
                    continue
                begin = at + (bench_seconds("tool change") if step.tool not in ("", tool) else 0.0)
                begin += bench_seconds("turn over") if step.face != face else 0.0
                self.over_now, self.live_now = over, live
                ready = waited(step, done, ends)
                # a tool for later may be taken up before a step by hand, which costs nothing while one must wait
                later = sorted({s.tool for s in self.steps} - {"", tool}) if not step.tool and ready > begin else []
                for fetch in ("", *later):
                    end = max(begin + bool(fetch) * bench_seconds("tool change"), ready) + times[step.id]
                    now = ends | {step.id: end + step.wait_s}
                    go([*done, step], step.tool or fetch or tool, step.face, end, now, over, live)

        for live, over in zip(self.live, self.by_way, strict=True):
            go([], "", self.steps[0].face, 0.0, {}, over, live)
        return best[0]

    def needed(self, step, done):
        """For each thing that had to be done before this step, the steps done that did it."""
        out = []
        for part in step.takes_out:
            out += [
                [d for d in done if j.id in d.releases]
                for j in self.study.joints.values()
                if part in j.holds and j.id not in step.releases
            ]
        for thing in (*step.releases, *step.softens, *step.takes_out):
            out += [[d for d in done if above in d.takes_out] for above, under in self.over_now if under == thing]
        if self.power and self.plugs(step) and not step.isolates_power and step.id not in self.live_now:
            out.append([d for d in done if d.isolates_power])
        return [met for met in out if met]


@pytest.mark.parametrize("facts", ["least", "most"])
@pytest.mark.parametrize("seed", range(60))
def test_no_order_by_the_rules_is_quicker_and_none_is_slower(seed, facts):
    study = anything(seed, 6)
    rules, reach = Rules(study, facts), reach_of_all(study)
    for target in study.parts:
        wanted = rules.least_time(target)
        try:
            route = route_to(study, [target], facts)
        except ReachError:
            assert wanted == float("inf"), target
            continue
        assert route.proved
        assert route.seconds == pytest.approx(wanted), target
        found = reach[target].seconds
        assert getattr(found, facts) == pytest.approx(route.seconds, abs=0.06)
        assert not reach[target].about


@given(st.integers(0, 100_000))
@settings(max_examples=60, deadline=None)
def test_most_is_never_less_and_one_more_assumption_never_shortens_it(seed):
    study = anything(seed, 9)
    r = random.Random(seed)
    before = reach_of_all(study)
    over, under = r.choice(list(study.parts)), r.choice([*study.parts, *study.joints])
    stated = {(f.over, f.under) for f in study.facts.values()}
    for found in before.values():
        assert found.seconds is None or found.seconds.least <= found.seconds.most
    if over == under or (over, under) in stated:
        return
    after = reach_of_all(put(study, Fact("F9000", over, under, "assumed")))
    for part, found in before.items():
        if found.seconds is not None and after[part].seconds is not None:
            assert after[part].seconds.most >= found.seconds.most - 0.06
            assert after[part].seconds.least == found.seconds.least


@pytest.mark.parametrize("seed", range(12))
def test_the_order_of_recording_does_not_change_what_was_seen(seed):
    study = anything(seed, 6)
    study = evolve(study, facts={id: f for id, f in study.facts.items() if f.state == "seen"})
    first = next(iter(study.steps))
    rest = [id for id in study.steps if id != first]
    wanted = {p: r.seconds and r.seconds.least for p, r in reach_of_all(study).items()}
    for order in list(permutations(rest))[:: max(1, 120 // 6)][:6]:
        found = reach_of_all(renumber(study, [first, *order]))
        assert {p: r.seconds and r.seconds.least for p, r in found.items() if r.seconds} == {
            p: wanted[p] for p, r in found.items() if r.seconds
        }
