"""What holds the device back: each change that would make a part easier to reach, weighed by solving the routes anew.

A change is laid over a copy of the study; the record itself is never touched. What it saves is the time (s) of the
best route to every priority part before, less that after.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from itertools import combinations

from attrs import evolve, frozen

from oddbolt.core.errors import ReachError
from oddbolt.core.reach.closures import Closures
from oddbolt.core.reach.motions import estimate
from oddbolt.core.reach.needs import Needs, needs_of
from oddbolt.core.reach.problem import Problem
from oddbolt.core.reach.set_search import best_order
from oddbolt.core.reach.step_masks import priority_parts
from oddbolt.core.reference.joint_kinds import ids_where
from oddbolt.core.reference.tables import screw_label, table
from oddbolt.core.study import Joint, Step, Study, WhatIf, change, new_id, put, remove
from oddbolt.core.study.edits import put_all
from oddbolt.core.study.steps import without_idle

#: time (s) for one route before the best so far is taken; up to so many steps every way is tried
ORDER_BUDGET_S, EXACT_STEPS = 0.5, 120
#: a group of more screws than this might do with so many
FEW = 2
#: pairs tried, the likeliest first
MOST_PAIRS = 150
#: what is below this (s) is no gain
LEAST_S = 0.05


@frozen
class Change:
    """One thing made easier: ``way`` is "gone", "fewer", "driver", "tab", "plug" for a joint, "clear" for a part."""

    way: str
    about: str

    @property
    def key(self) -> str:
        return f"{self.way} {self.about}"


@frozen
class Effect:
    """What changes done together save: ``seconds`` over all targets, and for each target (part, before, after), s."""

    changes: tuple[Change, ...]
    seconds: float
    parts: tuple[tuple[str, float, float], ...]

    @property
    def helped(self) -> tuple[str, ...]:
        """The targets that come nearer."""
        return tuple(p for p, before, after in self.parts if before - after > LEAST_S)


def in_words(study: Study, what: Change) -> str:
    """A change in words: "2 screws instead of 8: Lid screws"."""
    name = study.name(what.about)
    joint = study.joints.get(what.about)
    match what.way:
        case "gone":
            return f"without {name}"
        case "fewer":
            return f"{FEW} screws instead of {joint.count if joint else '?'}: {name}"
        case "driver":
            return f"with {screw_label(*_usual(study))} as most screws: {name}"
        case "tab":
            return f"a pull tab: {name}"
        case "plug":
            return f"a plug: {name}"
    return f"{name} moved out of the way"


def all_in_words(study: Study, what: Sequence[Change]) -> str:
    """Changes made together, in words: "without Lid screws and Lid seal"."""
    if len(what) > 1 and all(one.way == "gone" for one in what):
        return f"without {' and '.join(study.name(one.about) for one in what)}"
    return " and ".join(in_words(study, one) for one in what)


def changes(study: Study) -> list[Change]:
    """Every change there is to try."""
    out: list[Change] = []
    usual = _usual(study)
    released = {j for s in study.steps.values() if s.phase == "apart" for j in s.releases}
    for id, joint in study.joints.items():
        if id not in released:
            continue
        out.append(Change("gone", id))
        if joint.kind == "screw" and (joint.count or 0) > FEW:
            out.append(Change("fewer", id))
        if joint.kind == "screw" and (joint.drive or joint.size) and (joint.drive, joint.size) != usual:
            out.append(Change("driver", id))
        if joint.kind == "adhesive" and not joint.tab:
            out.append(Change("tab", id))
        if joint.kind in ids_where("solderable"):
            out.append(Change("plug", id))
    over = dict.fromkeys(f.over for f in study.facts.values() if f.state != "ruled out")
    return [*out, *(Change("clear", part) for part in over)]


def read(study: Study, text: str) -> Change:
    """A change typed as "gone J5". Raises ReachError."""
    way, _, about = text.strip().partition(" ")
    found = Change(way, about.strip())
    if found not in changes(study):
        raise ReachError(f"“{text}” is not a change that can be tried; oddbolt whatif lists them.")
    return found


def applied(study: Study, what: Sequence[Change]) -> Study:
    """A copy of the study with these changes made; times that were measured shrink as the estimate does."""
    out = study
    for one in what:
        out = _applied(out, one, _usual(study))
    return out


def _applied(study: Study, what: Change, usual: tuple[str, str]) -> Study:
    id = what.about
    joint = study.joints.get(id)
    if joint is None and id not in study.parts:
        return study
    before = {s: step for s, step in study.steps.items() if id in step.releases or id in step.softens}
    match what.way:
        case "gone":
            after = remove(study if joint is None else _covering_the_part(study, joint), id)
        case "fewer":
            after = change(study, id, count=FEW)
        case "driver":
            after = change(study, id, drive=usual[0], size=usual[1])
            tool = _tool(study, usual)
            held = [evolve(s, tool=tool) for s in before.values() if id in s.releases and s.tool and tool]
            after = put_all(after, held)
        case "tab":
            after = change(study, id, tab=True)
            after = put_all(after, [_unsoftened(s, id) for s in before.values()])
        case "plug":
            after = change(study, id, kind="connector")
        case _:
            gone = [f for f in study.facts.values() if f.over == id]
            return put_all(study, [evolve(f, state="ruled out") for f in gone])
    after = put_all(after, [_unwaited(s) for s in map(after.steps.__getitem__, before) if before[s.id].softens])
    return _retimed(study, without_idle(after, before), before)


def _covering_the_part(study: Study, joint: Joint) -> Study:
    """Glue lies under what it holds: what covered the glue covers that part still when the glue is gone."""
    if joint.kind not in ids_where("glue"):
        return study
    known = {(f.over, f.under) for f in study.facts.values()}
    for fact in [f for f in study.facts.values() if f.under == joint.id]:
        for part in joint.holds:
            carries = {part, *study.carriers(part)}
            if fact.over not in carries and part not in study.carriers(fact.over) and (fact.over, part) not in known:
                study = put(study, evolve(fact, id=new_id(study, "F"), under=part))
    return study


def _unwaited(step: Step) -> Step:
    """The step without its wait if it softens nothing any more."""
    return step if step.softens else evolve(step, wait_s=0.0)


def _unsoftened(step: Step, id: str) -> Step:
    return evolve(step, softens=tuple(j for j in step.softens if j != id))


def _retimed(before: Study, after: Study, touched: dict[str, Step]) -> Study:
    """Laps of the touched steps, shortened as their estimate is."""
    share = {
        id: estimate(after, after.steps[id]) / max(estimate(before, step), 1e-9)
        for id, step in touched.items()
        if id in after.steps
    }
    runs = [
        evolve(run, laps=tuple(evolve(lap, seconds=lap.seconds * share.get(lap.step, 1.0)) for lap in run.laps))
        for run in after.runs.values()
        if any(lap.step in share for lap in run.laps)
    ]
    return put_all(after, runs)


def _usual(study: Study) -> tuple[str, str]:
    """The drive and size of most screws."""
    count: Counter[tuple[str, str]] = Counter()
    for j in study.joints.values():
        if j.kind == "screw" and (j.drive or j.size):
            count[j.drive, j.size] += j.count or 1
    return count.most_common(1)[0][0] if count else ("", "")


def _tool(study: Study, usual: tuple[str, str]) -> str:
    """The tool that the screws of this drive are turned with."""
    for step in study.steps.values():
        for id in step.releases:
            joint: Joint = study.joints[id]
            if (joint.drive, joint.size) == usual and step.tool:
                return step.tool
    return ""


# -- weighing -----------------------------------------------------------------------------------------------


def route_seconds(study: Study, targets: Sequence[str]) -> dict[str, float]:
    """The time of the best route to each target, s; parts that cannot be reached are left out. In a study of more than
    :data:`EXACT_STEPS` steps that of the best order of the cheapest set."""
    needs = needs_of.__wrapped__(study, "least")
    others = (needs_of.__wrapped__(study, "least", choice=n) for n in range(1, needs.choices))
    found = [_seconds_by(one, targets) for one in (needs, *others)]
    return {part: min(one[part] for one in found if part in one) for part in found[0]}


def _seconds_by(needs: Needs, targets: Sequence[str]) -> dict[str, float]:
    problem = Problem(needs)
    closures = Closures(needs, problem.costs)
    out = {}
    for part in targets:
        goal = needs.freeing(part) & needs.doable
        if not goal:
            continue
        if len(needs.ids) <= EXACT_STEPS:
            order = best_order(problem, [goal], ORDER_BUDGET_S)[0]
        else:
            mask = closures.cheapest(goal)
            order = None if mask is None else problem.solve(mask, budget_s=ORDER_BUDGET_S)
        if order is not None:
            out[part] = order.seconds
    return out


def weighed(
    study: Study, what: Sequence[Change], targets: Sequence[str] = (), before: dict[str, float] | None = None
) -> Effect:
    """What these changes save together."""
    targets = targets or priority_parts(study)
    before = route_seconds(study, targets) if before is None else before
    after = route_seconds(applied(study, what), [t for t in targets if t in before])
    parts = tuple((t, before[t], min(after.get(t, before[t]), before[t])) for t in targets if t in before)
    return Effect(tuple(what), sum(b - a for _, b, a in parts), parts)


def sweep(
    study: Study, targets: Sequence[str] = (), stopped: Callable[[], bool] = lambda: False
) -> Iterator[tuple[int, int, Effect]]:
    """Every change weighed, one after the other: how many of how many are done, and the effect."""
    targets = targets or priority_parts(study)
    before = route_seconds(study, targets)
    all_ = changes(study)
    for n, one in enumerate(all_, 1):
        if stopped():
            return
        yield n, len(all_), weighed(study, [one], targets, before)


def ranked(
    study: Study, targets: Sequence[str] = (), stopped: Callable[[], bool] = lambda: False
) -> tuple[Effect, ...]:
    """Every change by what it saves, the most first."""
    found = [effect for _, _, effect in sweep(study, targets, stopped)]
    return tuple(sorted(found, key=lambda e: -e.seconds))


def only_together(
    study: Study,
    alone: Sequence[Effect],
    targets: Sequence[str] = (),
    stopped: Callable[[], bool] = lambda: False,
) -> tuple[Effect, ...]:
    """Pairs of changes that save more together than each by itself: those that work on one part, or with one tool."""
    targets = targets or priority_parts(study)
    before = route_seconds(study, targets)
    saves = {e.changes[0]: e.seconds for e in alone}
    kin: dict[Change, set[str]] = {}
    for one in saves:
        joint = study.joints.get(one.about)
        if one.way in ("gone", "driver", "tab") and joint is not None:
            tools = {f"tool {s.tool}" for s in study.steps.values() if one.about in s.releases and s.tool}
            kin[one] = {*joint.holds, *tools}
    pairs = [(a, b) for a, b in combinations(kin, 2) if a.about != b.about and a.way == b.way and kin[a] & kin[b]]
    pairs.sort(key=lambda ab: -(saves[ab[0]] + saves[ab[1]]))
    out = []
    for a, b in pairs[:MOST_PAIRS]:
        if stopped():
            break
        effect = weighed(study, [a, b], targets, before)
        if effect.seconds > saves[a] + saves[b] + 1.0:
            out.append(effect)
    return tuple(sorted(out, key=lambda e: saves[e.changes[0]] + saves[e.changes[1]] - e.seconds))


def effort(what: Sequence[Change]) -> int:
    """What changes ask of a maker, in points from ``reference/weights.toml``."""
    points = table("weights")["effort"]
    return int(sum(points[one.way] for one in what))


def front(effects: Sequence[Effect]) -> tuple[Effect, ...]:
    """Those that none beats: whatever saves more asks more (the Pareto front). The cheapest first."""
    out: list[Effect] = []
    for one in sorted(effects, key=lambda e: (effort(e.changes), -e.seconds)):
        if one.seconds > (out[-1].seconds if out else 0.0) + LEAST_S:
            out.append(one)
    return tuple(out)


# -- kept ---------------------------------------------------------------------------------------------------


def kept(study: Study) -> dict[str, tuple[Change, ...]]:
    """The what-ifs kept with the study, by name."""
    out: dict[str, tuple[Change, ...]] = {}
    for one in study.what_ifs.values():
        out[one.name] = (*out.get(one.name, ()), Change(one.way, one.about))
    return out


def keep(study: Study, name: str, what: Sequence[Change]) -> Study:
    """Keep changes under a name; what was kept under it before goes. Raises StudyError for an empty name."""
    study = dropped(study, name)
    for one in what:
        study = put(study, WhatIf(new_id(study, "V"), name.strip(), one.way, one.about))
    return study


def dropped(study: Study, name: str) -> Study:
    """The study without the what-if of this name."""
    for id in [v.id for v in study.what_ifs.values() if v.name == name.strip()]:
        study = remove(study, id)
    return study
