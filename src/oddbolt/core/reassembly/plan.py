"""The plan of putting back: what goes in, in which order, with the work that each joint and part brings.

The same facts as on the way in give the order: what lay over goes on after, and power is connected last of the plugs.
Work before a part goes in (old glue scraped, solvent flashed off) is a step of its own, so that its wait is filled with
other work. The best order is searched exactly, as for routes: least time over tools, faces and waits.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from itertools import islice, product
from math import prod

from attrs import define, evolve, field, frozen

from oddbolt.core.errors import ReachError
from oddbolt.core.reach.fastening import back_estimate, cleaning_seconds, pace, timed_back
from oddbolt.core.reach.motions import bench_seconds
from oddbolt.core.reach.needs import Needs, assumed_in, needs_of
from oddbolt.core.reach.order_search import Job, Order, Ordering
from oddbolt.core.reach.routes import route_to
from oddbolt.core.reach.step_masks import bits
from oddbolt.core.reassembly.ledger import ledger
from oddbolt.core.reassembly.work import Work, work_of_joint, work_of_part
from oddbolt.core.reference.joint_kinds import ids_where
from oddbolt.core.study.model import Step, Study
from oddbolt.core.study.tally import outstanding

#: how long a plan is searched for, s
BUDGET_S = 5.0
#: so many ways to resolve what leaves a choice are tried; a plan among more is not called proved
MOST_WAYS = 24
#: what one more tool change counts for where the fewest are wished, s
TOOL_CHANGE_WORTH_S = 60.0
#: which facts count: also what was assumed, and what nobody stated is taken as the record shows it, since what is
#: closed over by mistake must be opened again
FACTS = "most"
#: what is said where covers are not taken over to the joints of what they cover
ONLY_STATED = (
    "a cover is taken to lie only over what was stated, since more would contradict the record; look before you close"
)
#: a plan of more steps is not searched: the record is turned round
MOST_SEARCHED = 250
#: the end of the key of work that is done before a part goes in
BEFORE = "first"


@frozen
class BackStep:
    """One step of the plan. ``key`` names it ("S12", or "S12 first" for the work before); it undoes the recorded
    ``step``: parts that go in, those only folded back (``folds``), joints made again, what is done in order, and the
    wait that must pass after it before what needs it goes on. ``idle_s`` is waiting with nothing else to do before it.
    Times in s from the beginning; ``basis`` says what the seconds rest on."""

    key: str
    step: str
    parts: tuple[str, ...]
    joints: tuple[str, ...]
    does: tuple[str, ...]
    tool: str
    face: str
    start_s: float
    seconds: float
    basis: str
    wait_s: float
    idle_s: float
    renew: tuple[str, ...]
    power: bool = False
    folds: tuple[str, ...] = ()


@frozen
class Plan:
    """The steps in order. ``proved`` says that no order is quicker; else none is quicker than ``bound_s``. ``left``
    names what cannot go back as it was, or could not be planned; ``searched`` is whether orders were compared."""

    steps: tuple[BackStep, ...]
    seconds: float
    wait_s: float
    proved: bool
    bound_s: float
    renew: tuple[str, ...]
    tools: tuple[str, ...]
    left: tuple[str, ...]
    searched: bool = True

    @property
    def sureness(self) -> str:
        """What may be said of the order, in words."""
        if self.proved:
            return "proved, no order is quicker"
        if not self.searched:
            return "the record turned round, not searched"
        gap = f", at most {self.seconds / self.bound_s - 1:.1%} above the quickest" if self.bound_s > 0 else ""
        return f"the best order found in the time given{gap}"


@define
class _Item:
    """A step of the plan before it has its place."""

    key: str
    step: Step
    parts: tuple[str, ...] = ()
    joints: tuple[str, ...] = ()
    does: list[str] = field(factory=list)
    tool: str = ""
    seconds: float = 0.0
    basis: str = "estimated"
    wait_s: float = 0.0
    renew: tuple[str, ...] = ()
    folds: tuple[str, ...] = ()
    also: tuple[str, ...] = ()
    needs: set[int] = field(factory=set)
    wait_for: set[int] = field(factory=set)


def plan_back(
    study: Study,
    targets: Sequence[str] = (),
    budget_s: float = BUDGET_S,
    replaced: Iterable[str] = (),
    fewest_tools: bool = False,
    stopped: Callable[[], bool] = lambda: False,
    from_start: bool = False,
) -> Plan:
    """The plan that puts back what is out now, or after the route to ``targets`` was taken from the closed device; with
    ``from_start`` as if nothing had been put back yet, so that it stays the same while it is followed.
    ``replaced`` are parts for which a new one goes in; ``fewest_tools`` wishes for few tool changes rather than the
    least time.

    Where facts contradict each other the record is turned round instead, and that is told. Raises ReachError if
    nothing is out.
    """
    apart = {id: step for id, step in study.steps.items() if step.phase == "apart"}
    begun = evolve(study, steps=apart) if from_start else study
    still = None if targets else _open_now(begun)
    if still is None:
        chosen = _by_route(study, targets)
    else:
        steps_open = set(still.values())
        chosen = [id for id in study.steps if id in steps_open]
    new = set(replaced)
    items = _items(study, chosen, new, still, {} if targets else outstanding(begun))
    if not items:
        raise ReachError("Nothing is out: no recorded step took a part out that is not back.")
    left: list[str] = []
    tool_s = bench_seconds("tool change") + (TOOL_CHANGE_WORTH_S if fewest_tools else 0.0)
    best, whole, floors = None, False, list[float]()
    if len(items) <= MOST_SEARCHED:
        needs = needs_of(study, FACTS)
        for covers in (True, False):  # what is taken over from covers may contradict what was seen
            fixed, choices = _precedence(needs, items, covers)
            best, whole, floors = _best(items, fixed, choices, tool_s, budget_s, stopped)
            if best is not None:
                left += [] if covers else [ONLY_STATED]
                break
        whole = whole and needs.choices <= 1
    if best is None:
        many = f"{len(items)} steps are too many to search"
        why = many if len(items) > MOST_SEARCHED else "the facts contradict each other"
        left.append(f"planned by turning the record round, because {why}")
    steps = _timed(items, *best) if best else _turned_round(items)
    live = max((n for n, s in enumerate(steps) if study.steps[s.step].isolates_power and s.key == s.step), default=None)
    steps = [evolve(s, power=n == live) for n, s in enumerate(steps)]
    steps = _tested(steps)
    left += [f"{study.name(j)} was destroyed; a new one is needed" for j in _destroyed(items)]
    left += _power_told(study, steps)
    left += _unknown(study, items)
    renew = tuple(dict.fromkeys(r for s in steps for r in s.renew))
    tools = tuple(dict.fromkeys(s.tool for s in steps if s.tool))
    seconds = steps[-1].start_s + steps[-1].seconds
    bound = seconds if whole else min(floors, default=0.0) if not fewest_tools else 0.0
    return Plan(
        tuple(steps), seconds, sum(s.idle_s for s in steps), whole, bound, renew, tools, tuple(left), best is not None
    )


# -- what is to be done -------------------------------------------------------------------------------------


def _by_route(study: Study, targets: Sequence[str]) -> list[str]:
    """The steps of the best route to these parts, in its order; those recorded up to them where there is none."""
    try:
        return list(route_to(study, targets, budget_s=BUDGET_S).steps)
    except ReachError:
        apart = [s for s in study.steps.values() if s.phase == "apart"]
        wanted = set(targets)
        if not any(wanted & set(s.takes_out) for s in apart):
            raise
        last = max(n for n, s in enumerate(apart) if wanted & set(s.takes_out))
        return [s.id for s in apart[: last + 1]]


def _open_now(study: Study) -> dict[str, str]:
    """What is not back -> the recorded step that undid it: joints, parts, parts folded aside, the power. A thing undone
    twice, without being back in between, belongs to the first of these steps."""
    lines = ledger(study).lines
    still = {line.id for line in lines if line.open}
    closed = {line.id for line in lines} - still
    since: dict[str, str] = {}
    for step in study.steps.values():
        if step.phase == "apart":
            for thing in _undone(step):
                since.setdefault(thing, step.id)
        else:
            for thing in (*step.releases, *step.puts_in):
                if thing not in still:
                    since.pop(thing, None)
            for part in step.puts_in:
                since.pop(f"{part} folded", None)
            since = {
                thing: id
                for thing, id in since.items()
                if (id != step.does or thing in still) and not (step.isolates_power and thing.endswith(" power"))
            }
    return {thing: id for thing, id in since.items() if thing not in closed}


def _undone(step: Step) -> Iterator[str]:
    """What a step undid: joints, parts, parts folded aside ("P4 folded"), and the power where no plug stands for it."""
    yield from step.releases
    yield from step.takes_out
    yield from (f"{p} folded" for p in step.opens)
    if step.isolates_power and not step.releases and not step.takes_out:
        yield f"{step.id} power"


def _items(
    study: Study,
    chosen: Sequence[str],
    new: set[str],
    still: Mapping[str, str] | None,
    counts: Mapping[str, int | None],
) -> list[_Item]:
    """The steps of the plan for these recorded steps: each thing once, the work before apart from the rest; only what
    is ``still`` open, if that is given, and of a group made in part the ``counts`` that are out."""
    made = {j: evolve(study.joints[j], count=n) for j, n in counts.items() if n and n != study.joints[j].count}
    study = evolve(study, joints={**study.joints, **made}) if made else study
    out: list[_Item] = []
    timed, bench = timed_back(study), pace(study)
    claimed: set[str] = set()
    laid = _laid_with(study, chosen)
    taken_over: dict[str, list[str]] = {}
    for j, at in laid.items():
        taken_over.setdefault(at, []).append(j)
    released_by = {j: id for id in reversed(chosen) for j in study.steps[id].releases}
    for id in chosen:
        step = study.steps[id]
        joints = tuple(j for j in step.releases if j not in claimed and laid.get(j, id) == id)
        joints += tuple(j for j in taken_over.get(id, ()) if j not in claimed and j not in joints)
        folded = tuple(p for p in step.opens if f"{p} folded" not in claimed)
        parts = tuple(p for p in step.takes_out if p not in claimed)
        claimed |= {*joints, *step.takes_out, *(f"{p} folded" for p in folded)}
        if still is not None:
            joints, parts = (tuple(t for t in things if t in still) for things in (joints, parts))
            folded = tuple(p for p in folded if f"{p} folded" in still)
        dead = step.isolates_power and not step.releases and not step.takes_out
        if not (joints or parts or folded or dead):
            continue  # a softening, a wait, a turn: nothing to undo
        works = [w for p in parts for w in work_of_part(study, p, p in new or study.parts[p].reuse == "renew")]
        works += [w for j in joints for w in _named(study, j)]
        first = [w for w in works if w.before]
        if first:
            hand = sum(cleaning_seconds(study.joints[j]) for j in joints if study.joints[j].kind in ids_where("glue"))
            seconds = bench * (hand or 20.0)
            wait = max(w.wait_s for w in first)
            name = study.name((*parts, *joints)[0])
            told = [f"{name}: {text}" for text in dict.fromkeys(w.text for w in first)]
            item = _Item(f"{id} {BEFORE}", step, (), (), told, first[0].tool)
            item.seconds, item.wait_s = round(seconds, 2), wait
            out.append(item)
        rest = [w for w in works if not w.before]
        item = _Item(id, step, parts, joints, _told(study, step, parts, folded, rest, new), step.tool, folds=folded)
        known = timed.get((frozenset(joints), frozenset(parts)))
        hands = sum(w.hand_s for w in rest)
        item.seconds = known if known is not None else round(back_estimate(study, joints, (*parts, *folded)) + hands, 2)
        item.basis = "measured" if known is not None else "estimated"
        if first:
            item.needs.add(len(out) - 1)
            item.wait_for.add(len(out) - 1)
        item.renew = _renewed(study, joints, parts, new)
        item.also = tuple(dict.fromkeys(released_by[j] for j in taken_over.get(id, ())))
        out.append(item)
    return out


def _laid_with(study: Study, chosen: Sequence[str]) -> dict[str, str]:
    """Glue and tape -> the step that takes out the part it holds: it is laid as the part goes in, not after."""
    glue = ids_where("glue")
    taking = {p: id for id in reversed(chosen) for p in study.steps[id].takes_out}
    joints = dict.fromkeys(j for id in chosen for j in study.steps[id].releases if study.joints[j].kind in glue)
    return {j: taking[p] for j in joints for p in reversed(study.joints[j].holds) if p in taking}


def _named(study: Study, joint_id: str) -> Iterator[Work]:
    """The work of a joint, a plug's with its name."""
    joint = study.joints[joint_id]
    for work in work_of_joint(joint):
        plug = joint.kind in ids_where("plug")
        yield evolve(work, text=f"{study.name(joint_id)}: {work.text}") if plug else work


def _told(
    study: Study, step: Step, parts: Sequence[str], folds: Sequence[str], works: Sequence[Work], new: set[str]
) -> list[str]:
    names = [f"new {study.name(p)}" if p in new else study.name(p) for p in parts]
    out = [f"{', '.join(names)} in"] if names else []
    out += [f"{', '.join(study.name(p) for p in folds)} folded back"] if folds else []
    out += [w.text for w in works]
    return list(dict.fromkeys(out)) or ["connect the power again" if step.isolates_power else f"undo “{step.verb}”"]


def _renewed(study: Study, joints: Sequence[str], parts: Sequence[str], new: set[str]) -> tuple[str, ...]:
    glue = ids_where("glue")
    out = [
        j
        for j in joints
        if study.joints[j].reuse == "renew" or (study.joints[j].kind in glue and study.joints[j].reuse == "")
    ]
    out += [p for p in parts if study.parts[p].reuse == "renew" or p in new]
    return tuple(out)


# -- in which order -----------------------------------------------------------------------------------------


def _best(
    items: Sequence[_Item],
    fixed: set[tuple[int, int]],
    choices: dict[tuple[int, ...], list[int]],
    tool_s: float,
    budget_s: float,
    stopped: Callable[[], bool],
) -> tuple[tuple[list[Job], Order] | None, bool, list[float]]:
    """The best order over the choices, whether it is proved, and times that no order of each choice beats; none where
    every choice forms a circle."""
    ways = prod(map(len, choices))
    best: tuple[list[Job], Order] | None = None
    whole, floors = ways <= MOST_WAYS, list[float]()
    for way in islice(product(*choices), MOST_WAYS):
        lasts = zip(choices.values(), way, strict=True)
        edges = fixed | {(n, last) for before, last in lasts for n in before if n != last}
        found = _ordered(items, edges, tool_s, budget_s / min(ways, MOST_WAYS), stopped)
        if found is None:
            continue
        whole = whole and found[1].proved
        floors.append(found[1].seconds if found[1].proved else found[1].bound_s)
        if best is None or found[1].seconds < best[1].seconds:
            best = found
    return best, whole and best is not None, floors if ways <= MOST_WAYS else []


def _precedence(
    needs: Needs, items: Sequence[_Item], covers: bool = True
) -> tuple[set[tuple[int, int]], dict[tuple[int, ...], list[int]]]:
    """The pairs (earlier, later) by place in ``items`` that every order keeps, and what leaves a choice: group -> what
    comes before the last of that group.

    What had to be done before a step on the way in comes after it on the way back; where any of several did, one of
    those done is enough: whichever of them is done last. ``covers``: with our own rules about covers and modules.
    """
    whole = {n: item for n, item in enumerate(items) if item.key == item.step.id}
    place = {id: n for n, item in whole.items() for id in item.also} | {i.step.id: n for n, i in whole.items()}
    fixed: set[tuple[int, int]] = set()
    choices: dict[tuple[int, ...], list[int]] = {}
    for n, item in enumerate(items):
        fixed |= {(k, n) for k in item.needs}
        own = {item.step.id, *item.also} & needs.record.index.keys() if n in whole else set()
        for need in (need for id in sorted(own) for need in needs.needs[needs.record.index[id]]):
            if need.rule == 3:
                continue  # glue need not be softened on the way back
            later = sorted({place[needs.ids[i]] for i in bits(need.steps) if needs.ids[i] in place})
            if n in later:
                continue
            if len(later) == 1:
                fixed.add((n, later[0]))
            elif later:
                choices.setdefault(tuple(later), []).append(n)
    ours = (*_under_covers(needs, items, place), *_within_modules(needs.study, items)) if covers else ()
    for n, later in ours:
        if len(later) == 1:
            fixed.add((n, later[0]))
        elif n not in choices.setdefault(tuple(later), []):
            choices[tuple(later)].append(n)
    return fixed, choices


def _under_covers(needs: Needs, items: Sequence[_Item], place: dict[str, int]) -> Iterator[tuple[int, list[int]]]:
    """(step, those of which one comes after it): what lies over a part, or over one of the joints that hold it,
    lies over all of these joints, unless somebody ruled that out or the record shows otherwise."""
    study, record = needs.study, needs.record
    over: dict[str, set[str]] = {}
    ruled_out = set()
    for fact in study.facts.values():
        if fact.state == "ruled out":
            ruled_out.add((fact.over, fact.under))
        else:
            over.setdefault(fact.under, set()).add(fact.over)
    for pair in assumed_in(needs):
        over.setdefault(pair[1], set()).add(pair[0])
    recorded = {id: k for k, id in enumerate(study.steps)}
    for n, item in enumerate(items):
        for j in item.joints:
            joint = study.joints[j]
            plug = joint.kind in ids_where("plug")
            beside = {k for p in joint.holds for k in record.holding.get(p, ())}
            covers = {c for thing in (*joint.holds, *beside) for c in over.get(thing, ())}
            for cover in sorted(covers if plug else covers - set(joint.holds)):
                away = [needs.ids[i] for i in bits(record.away(cover, j))]
                began = min(recorded[id] for id in (item.step.id, *item.also))
                later = sorted({place[s] for s in away if s in place and recorded[s] < began})
                if later and n not in later and (cover, j) not in ruled_out:
                    yield n, later


def _within_modules(study: Study, items: Sequence[_Item]) -> Iterator[tuple[int, list[int]]]:
    """(step, the one after it): what came out of a module that was out already goes back before the module does."""
    out_at = {p: n for n, item in enumerate(items) for p in item.parts}
    recorded = {id: k for k, id in enumerate(study.steps)}
    for n, item in enumerate(items):
        ends = [*item.parts, *(p for j in item.joints for p in (*study.joints[j].holds, study.joints[j].into) if p)]
        around = [{p, *study.carriers(p)} for p in ends]
        for module in sorted(set.intersection(*around)) if around else []:
            at = out_at.get(module)
            if at is not None and at != n and recorded[items[at].step.id] < recorded[item.step.id]:
                yield n, [at]


def _ordered(
    items: Sequence[_Item],
    edges: set[tuple[int, int]],
    tool_s: float,
    budget_s: float,
    stopped: Callable[[], bool],
) -> tuple[list[Job], Order] | None:
    """The jobs, and the best order under these pairs; None where they form a circle."""
    jobs = _jobs(items, edges)
    try:
        search = Ordering(jobs, tool_s, bench_seconds("turn over"), _faces(items)[_last_face(items)])
    except ValueError:
        return None
    order = search.solve(budget_s=budget_s, stopped=stopped)
    return None if order is None else (jobs, order)


def _jobs(items: Sequence[_Item], edges: set[tuple[int, int]]) -> list[Job]:
    tools = {tool: n for n, tool in enumerate(dict.fromkeys(i.tool for i in items if i.tool), 1)}
    faces = _faces(items)
    out = []
    for n, item in enumerate(items):
        needs = tuple(sorted(1 << before for before, after in edges if after == n))
        then = sum(1 << k for k, other in enumerate(items) if n in other.wait_for)
        wait = item.wait_s if then else 0.0
        soaked = tuple(1 << k for k in sorted(item.wait_for))
        out.append(Job(item.seconds, tools.get(item.tool, 0), faces[item.step.face], needs, wait, then, soaked))
    return out


def _faces(items: Sequence[_Item]) -> dict[str, int]:
    return {face: n for n, face in enumerate(dict.fromkeys(i.step.face for i in items))}


def _last_face(items: Sequence[_Item]) -> str:
    """The face that is up: that of the last step taken apart."""
    return items[-1].step.face


def _turned_round(items: Sequence[_Item]) -> list[BackStep]:
    """The record turned round, each step right after the work before it."""
    whole = [n for n in reversed(range(len(items))) if items[n].key == items[n].step.id]
    places = [k for n in whole for k in (*sorted(items[n].needs), n)]
    tool, face, at = "", _last_face(items), 0.0
    ready: dict[int, float] = {}
    out = []
    for n in places:
        item = items[n]
        at += bench_seconds("tool change") * (item.tool not in ("", tool))
        at += bench_seconds("turn over") * (item.step.face != face)
        start = max([at, *(ready.get(k, 0.0) for k in item.wait_for)])
        out.append(_placed(item, start, start - at))
        tool, face, at = item.tool or tool, item.step.face, start + item.seconds
        ready[n] = at + item.wait_s
    return out


def _placed(item: _Item, start: float, idle: float) -> BackStep:
    return BackStep(
        item.key,
        item.step.id,
        item.parts,
        item.joints,
        tuple(item.does),
        item.tool,
        item.step.face,
        start,
        item.seconds,
        item.basis,
        item.wait_s,
        round(max(0.0, idle), 3),
        item.renew,
        folds=item.folds,
    )


def _timed(items: Sequence[_Item], jobs: list[Job], order: Order) -> list[BackStep]:
    search = Ordering(jobs, bench_seconds("tool change"), bench_seconds("turn over"), _faces(items)[_last_face(items)])
    starts = search.starts(order.jobs, order.fetched)
    return [_placed(items[n], start, start - moved) for n, (moved, start) in zip(order.jobs, starts, strict=True)]


# -- what is told of it -------------------------------------------------------------------------------------


def _tested(steps: list[BackStep]) -> list[BackStep]:
    """The steps, with the test before what covers the power is closed."""
    at = next((n for n, s in enumerate(steps) if s.power), None)
    if at is None or at == len(steps) - 1:
        return steps
    told = (*steps[at].does, "start it once, and try screen, keys and ports, before it is covered")
    return [evolve(s, does=told) if n == at else s for n, s in enumerate(steps)]


def _destroyed(items: Sequence[_Item]) -> list[str]:
    return [j for item in items if item.step.destroys for j in item.joints]


def _power_told(study: Study, steps: Sequence[BackStep]) -> list[str]:
    """A sentence for each plug that is made after the power, against the rule that power is connected last."""
    plugs = ids_where("plug")
    at = next((n for n, s in enumerate(steps) if s.power), None)
    if at is None:
        return []
    after = [s for s in steps[at + 1 :] if any(study.joints[j].kind in plugs for j in s.joints)]
    return [f"{study.name(s.joints[0])} is plugged in under power; the record leaves no other order" for s in after]


def _unknown(study: Study, items: Sequence[_Item]) -> list[str]:
    """What the record leaves open: groups that nobody counted, parts that no recorded joint holds."""
    joints = [j for i in items for j in i.joints]
    kinds = ids_where("counted")
    out = [
        f"{study.name(j)}: nobody counted them"
        for j in joints
        if study.joints[j].count is None and study.joints[j].kind in kinds
    ]
    held = {p for joint in study.joints.values() for p in joint.holds}
    bare = [p for i in items for p in i.parts if p not in held]
    if bare:
        out.append(f"nothing recorded holds {', '.join(study.name(p) for p in bare)}")
    return out
