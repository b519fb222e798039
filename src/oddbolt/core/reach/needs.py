"""From the facts to what each step needs before it: an *and* of *or*s.

Rules, numbered as they are cited to the user:

1. a step that takes out a part needs every joint that still holds it to be released; one that only folds it open needs
   all but its plugs, whose cables let it swing;
2. a step that works on a joint or a part needs everything that lies over it to be away;
3. glue that was softened needs its softening step before the pry;
4. no connector is opened before the power is isolated (unless the way to isolating it leads through that connector);
5. where several steps release the same joint, or take away the same part, any of them will do.

Sets of steps are bit masks over the recorded order.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from typing import NamedTuple

from attrs import frozen

from oddbolt.core.reach.step_masks import Record, bits, record_of
from oddbolt.core.reference.joint_kinds import ids_where
from oddbolt.core.study import Study

PLUGS = ids_where("plug")
#: so many ways to isolate the power are taken, and so many sets of plugs looked at; a route among more is not called
#: proved
MOST_WAYS, MOST_SETS = 16, 200


class Need(NamedTuple):
    """At least one step of ``steps`` (a mask) must be done. ``cause`` is the part or joint it is about."""

    steps: int
    rule: int
    cause: str
    over: str = ""


@frozen(eq=False)
class Needs:
    """The needs of every step of one study, under one reading of the facts ("least" or "most")."""

    study: Study
    record: Record
    needs: tuple[tuple[Need, ...], ...]
    doable: int
    order: tuple[int, ...]
    live: tuple[str, ...] = ()
    #: how many smallest sets of plugs there are, any of which may be opened live to reach what isolates the power
    choices: int = 1
    #: whether these are all there are
    all_choices: bool = True
    #: "least" or "most": which facts were counted
    facts: str = "least"

    @property
    def ids(self) -> tuple[str, ...]:
        """The take-apart steps in recorded order."""
        return self.record.ids

    def freeing(self, part_id: str) -> int:
        """The steps any of which frees this part: those that take it out, else those that take out its carrier."""
        for carrier in (part_id, *self.record.carriers[part_id]):
            if carrier in self.record.taking:
                return self.record.taking[carrier]
        return 0

    def steps(self, mask: int) -> list[str]:
        """The step ids of a mask, in recorded order."""
        return [self.ids[i] for i in bits(mask)]


@lru_cache(maxsize=8)
def needs_of(
    study: Study,
    facts: str = "least",
    safety: bool = True,
    without: frozenset[str] = frozenset(),
    isolate: str = "",
    choice: int = 0,
) -> Needs:
    """The needs of every take-apart step.

    ``facts`` is "least" (only what was seen) or "most" (also what was assumed, and for every thing about which nobody
    said otherwise, that the part taken off last before it was first touched lay over it). What is assumed gives way
    to what was seen and done. ``without`` names steps that are not to be used, ``isolate`` the one step that is to
    isolate the power, if not any that does; ``choice`` is one of the ways to isolate it (``Needs.choices``).
    """
    record = record_of(study, without)
    over, assumed = _lying_over(record, facts)
    found = [_needs_of_step(record, over, id) for id in record.ids]
    live: tuple[str, ...] = ()
    choices, whole = 1, True
    if safety:
        live, choices, whole = _isolate_first(record, found, isolate, choice)
    if assumed:
        _assume(record, found, assumed)
    doable, order = chain(found)
    return Needs(study, record, tuple(tuple(n) for n in found), doable, tuple(order), live, choices, whole, facts)


def assumed_in(needs: Needs) -> dict[tuple[str, str], None]:
    """The pairs (part, thing) that the "most" reading assumes."""
    return dict.fromkeys(_lying_over(needs.record, "most")[1])


def _needs_of_step(record: Record, over: Mapping[str, list[str]], id: str) -> list[Need]:
    study, step, own = record.study, record.study.steps[id], 1 << record.index[id]
    needs: dict[Need, None] = {}
    for part in step.takes_out:
        for joint in record.holding.get(part, ()):
            mask = record.releasing.get(joint, 0)
            if not mask & own:
                needs[Need(mask, 1, joint)] = None
    for part in step.opens:
        for joint in record.holding.get(part, ()):
            mask = record.releasing.get(joint, 0)
            if study.joints[joint].kind not in PLUGS and not mask & own:
                needs[Need(mask, 1, joint)] = None
    for thing in (*step.releases, *step.softens, *step.takes_out, *step.opens, id):
        for above in over.get(thing, ()):
            mask = record.away(above, thing)
            if not mask & own:
                needs[Need(mask, 2, thing, above)] = None
    for joint in step.releases:
        mask = record.softening.get(joint, 0)
        if joint in record.softened and not mask & own:
            needs[Need(mask, 3, joint)] = None
    return list(needs)


def chain(
    needs: list[list[Need]] | tuple[tuple[Need, ...], ...], within: int = -1, barred: int = 0
) -> tuple[int, list[int]]:
    """Which steps can ever be done using only ``within``, and an order in which they can."""
    done, order = 0, []
    waiting = [i for i in range(len(needs)) if within >> i & 1 and not barred >> i & 1]
    while waiting:
        still = []
        for i in waiting:
            if all(n.steps & done for n in needs[i]):
                done |= 1 << i
                order.append(i)
            else:
                still.append(i)
        if len(still) == len(waiting):
            break
        waiting = still
    return done, order


def explain(needs: Needs, part_id: str) -> str:
    """Why a part cannot be freed, in one sentence that names what stands in the way."""
    study = needs.study
    name = study.name(part_id)
    freeing = needs.freeing(part_id)
    if not freeing:
        return f"{name} cannot be reached: {_no_step(study, 'takes_out', part_id)} takes it out."
    step = next(bits(freeing))
    trail: list[tuple[int, Need]] = []
    visited: dict[int, int] = {}
    while step not in visited:
        visited[step] = len(trail)
        need = next(n for n in needs.needs[step] if not n.steps & needs.doable)
        if not need.steps:
            return f"{name} cannot be reached: {_nothing(study, need)}."
        trail.append((step, need))
        step = next(bits(need.steps))
    circle = [_because(study, need) for _, need in trail[visited[step] :]]
    told = "; ".join(dict.fromkeys(circle))
    return f"{name} cannot be reached, because the facts contradict each other in a circle: {told}."


def _nothing(study: Study, need: Need) -> str:
    if need.rule == 1:
        return f"{_no_step(study, 'releases', need.cause)} releases {study.name(need.cause)}"
    if need.rule == 2:
        above = study.name(need.over)
        return (
            f"{above} lies over {study.name(need.cause)}, and {_no_step(study, 'takes_out', need.over)} takes it away"
        )
    if need.rule == 3:
        return f"no step that may be used softens {study.name(need.cause)}"
    return f"no step that may be used isolates the power before {study.name(need.cause)}"


def _no_step(study: Study, does: str, thing: str) -> str:
    """Whether there is no such step at all, or none that was left."""
    carriers = study.carriers(thing) if thing in study.parts else []
    wanted = {thing, *carriers}
    there = any(s.phase == "apart" and not wanted.isdisjoint(getattr(s, does)) for s in study.steps.values())
    return "no step that may be used" if there else "no recorded step"


def _because(study: Study, need: Need) -> str:
    if need.rule == 1:
        return f"{study.name(need.cause)} must be released first"
    if need.rule == 2:
        return f"{study.name(need.over)} lies over {study.name(need.cause)}"
    if need.rule == 3:
        return f"{study.name(need.cause)} must be softened first"
    return f"the power must be isolated before {study.name(need.cause)}"


def _lying_over(record: Record, facts: str) -> tuple[dict[str, list[str]], dict[tuple[str, str], None]]:
    """thing -> the parts that were seen to lie over it, and the pairs (part, thing) only assumed. An assumption
    that the record itself refutes, since the thing was worked on while the part was still there, is left out."""
    over: dict[str, list[str]] = {}
    assumed: dict[tuple[str, str], None] = {}
    stated = {(fact.over, fact.under): fact.state for fact in record.study.facts.values()}
    for (above, thing), state in stated.items():
        refuted = record.touched.get(thing, -1) < record.removed.get(above, -1)
        if state == "seen":
            over.setdefault(thing, []).append(above)
        elif state == "assumed" and facts == "most" and not refuted:
            assumed[above, thing] = None
    if facts == "most":
        # what follows from the record first, then what was said, so that a fact more comes last
        assumed = {p: None for p in record.unstated if p not in stated or p in assumed} | assumed
    return over, assumed


def _assume(record: Record, found: list[list[Need]], assumed: Mapping[tuple[str, str], None]) -> None:
    """Add what is assumed, pair after pair, each unless it would make impossible what can be done without it.

    So what is assumed gives way to what was seen, to the rule of power and to what was assumed before, and one pair
    more never takes a need away.
    """
    possible, _ = chain(found)
    about: dict[str, list[tuple[str, str]]] = {}
    for pair in assumed:
        about.setdefault(pair[1], []).append(pair)
    adds: dict[tuple[str, str], list[tuple[int, Need]]] = {}
    for i, id in enumerate(record.ids):
        step = record.study.steps[id]
        for thing in dict.fromkeys((*step.releases, *step.softens, *step.takes_out, *step.opens, id)):
            for above, _ in about.get(thing, ()):
                mask = record.away(above, thing)
                if not mask >> i & 1:
                    adds.setdefault((above, thing), []).append((i, Need(mask, 2, thing, above)))
    together = [list(needs) for needs in found]
    for rows in adds.values():
        for i, need in rows:
            together[i].append(need)
    done, _ = chain(together)
    for pair in assumed:
        rows = [(i, need) for i, need in adds.get(pair, ()) if need not in found[i]]
        for i, need in rows:
            found[i].append(need)
        # what can be done with all that is assumed is not hindered by any of it
        if all(done >> i & 1 for i, _ in rows) or chain(found, possible)[0] == possible:
            continue
        for i, need in rows:
            found[i].remove(need)


def _isolate_first(record: Record, found: list[list[Need]], by: str, choice: int) -> tuple[tuple[str, ...], int, bool]:
    """Add rule 4. Returns the steps that must open a plug while the power is still live, and in how many ways these can
    be chosen. Where one plug or another leads to what isolates the power, each is a way, in whatever order recorded."""
    study = record.study
    isolating = sum(1 << i for i, id in enumerate(record.ids) if study.steps[id].isolates_power and by in ("", id))
    if not isolating and not any(s.isolates_power for s in study.steps.values() if s.phase == "apart"):
        return (), 1, True
    plugs = {
        i: next((j for j in study.steps[id].releases if study.joints[j].kind in PLUGS), "")
        for i, id in enumerate(record.ids)
        if not isolating >> i & 1
    }
    plugs = {i: plug for i, plug in plugs.items() if plug}
    before = _anything_before(found, isolating)
    ways, whole = _live_sets(found, isolating, sum(1 << i for i in plugs if before >> i & 1))
    live = ways[min(choice, len(ways) - 1)]
    for i, plug in plugs.items():
        if not live >> i & 1:
            found[i].append(Need(isolating, 4, plug))
    return tuple(record.ids[i] for i in bits(live)), len(ways), whole


def _live_sets(found: list[list[Need]], isolating: int, guarded: int) -> tuple[list[int], bool]:
    """The smallest sets (masks) of plugs out of ``guarded`` that, opened live, let a step of ``isolating`` be done; all
    of them if nothing does; and whether these are all such sets."""

    def leads_there(live: int) -> bool:
        return bool(chain(found, barred=guarded & ~live)[0] & isolating)

    ways: dict[int, None] = {}
    waiting, seen = [guarded], {guarded}
    while waiting and len(ways) < MOST_WAYS and len(seen) < MOST_SETS:
        live = waiting.pop()
        if not leads_there(live):
            continue
        smallest = live
        for i in bits(live):
            if leads_there(smallest & ~(1 << i)):
                smallest &= ~(1 << i)
        ways[smallest] = None
        for i in bits(smallest):
            less = live & ~(1 << i)
            if less not in seen:
                seen.add(less)
                waiting.append(less)
    return list(ways) or [guarded], not waiting


def _anything_before(found: list[list[Need]], mask: int) -> int:
    """Every step that any need of these leads back to."""
    seen, queue = mask, list(bits(mask))
    while queue:
        for need in found[queue.pop()]:
            fresh = need.steps & ~seen
            seen |= fresh
            queue.extend(bits(fresh))
    return seen
