"""What to ask: pairs nobody was sure about, on which the most that a part may need rests."""

from __future__ import annotations

from collections.abc import Sequence

from attrs import evolve, frozen

from oddbolt.core.reach.closures import Closures
from oddbolt.core.reach.describe import step_text
from oddbolt.core.reach.needs import Need, Needs, assumed_in, chain, needs_of
from oddbolt.core.reach.parts import reach_of_all
from oddbolt.core.reach.step_masks import may_lie, priority_parts, record_of
from oddbolt.core.reach.step_times import step_times
from oddbolt.core.reference.joint_kinds import joint_kinds
from oddbolt.core.study import Fact, Study, change, new_id, put
from oddbolt.core.study.formatting import the
from oddbolt.core.study.model import joint_name
from oddbolt.core.study.steps import things_of


def questions(study: Study, part: str) -> list[tuple[str, str]]:
    """Pairs (over, under), each the question whether the one lay over the other, that widen the reach of this part;
    those that would bring in a part not needed otherwise first, and alone if there are any. Empty if the reach is
    exact."""
    reach = reach_of_all(study)[part]
    if reach.operations is None or (reach.operations.exact and reach.seconds is not None and reach.seconds.exact):
        return []
    needs = needs_of(study, "most")
    assumed = assumed_in(needs)
    in_most = set(needs.steps(reach.sets[-1][1]))
    out: dict[tuple[str, str], None] = {}
    for i, id in enumerate(needs.ids):
        if id in in_most:
            out |= {(n.over, n.cause): None for n in needs.needs[i] if n.rule == 2 and (n.over, n.cause) in assumed}
    least = reach.sets[0][1]
    fresh = [pair for pair in out if not needs.record.removing.get(pair[0], 0) & least]
    return sorted(fresh or list(out), key=lambda pair: -likely(study, *pair))


def in_words(study: Study, over: str, under: str) -> str:
    """A question as a person would ask it: "Were the 3 PH0 screws of the port board under the antenna?"."""
    joint, step = study.joints.get(under), study.steps.get(under)
    above = the(study.name(over))
    if step is not None:
        return f"Did {above} have to be off for step {study.step_number(under)} ({step_text(study, under)})?"
    if joint is None:
        return f"Was {the(study.name(under))} under {above}?"
    several = (joint.count or 2) > 1 and joint_kinds()[joint.kind].plural and not joint.name
    noun = joint.name or joint_name(study, evolve(joint, holds=()))
    held = next((study.name(p) for p in joint.holds if p in study.parts), "")
    of = f" of {the(held)}" if held and held.casefold().split()[0] not in noun.casefold() else ""
    return f"{'Were' if several else 'Was'} {the(noun)}{of} under {above}?"


def likely(study: Study, over: str, under: str) -> float:
    """How much sense it makes that the one lay over the other, from 0 to 1: the nearer in the work and on the device,
    the more. Common practice, no source."""
    record = record_of(study)
    off, on = record.removed.get(over), record.touched.get(under)
    if off is None or on is None:
        return 0.0
    gap, same_face = abs(on - off), study.steps[record.ids[off]].face == study.steps[record.ids[on]].face
    joint = study.joints.get(under)
    owners = {*(joint.holds if joint else ()), *((joint.into,) if joint and joint.into else ()), under}
    carriers = {c for owner in owners if owner in study.parts for c in record.carriers[owner]}
    tied = any(over in ends and owners & ends for ends in ({*j.holds, j.into} for j in study.joints.values()))
    beside = tied or bool({over, *record.carriers.get(over, ())} & carriers)
    cover = study.parts[over].kind == "cover" if over in study.parts else False
    return (1.0 if same_face else 0.25) * (1.0 if beside or cover else 0.6) / (1 + 0.25 * max(0, gap - 1))


def fresh_question(study: Study, step: str) -> tuple[str, str] | None:
    """The one question (over, under) worth asking while a step is fresh: whether the part that came off last lay over a
    thing that this step was the first to touch. None if it was answered, or follows from what was said of a joint."""
    if step not in study.steps or study.steps[step].phase != "apart":
        return None
    things = {thing for _, thing in things_of(study.steps[step])}
    latest: tuple[str, ...] = ()
    for id, before in study.steps.items():
        if id == step:
            break
        if before.phase == "apart":
            things.difference_update(before.releases, before.takes_out, before.opens, before.softens)
            latest = before.takes_out or latest
    pairs = [
        pair for _, thing in things_of(study.steps[step]) if thing in things for pair in may_lie(study, latest, thing)
    ]
    for fact in study.facts.values():
        if fact.over in latest:
            joint = study.joints.get(fact.under)
            told = (fact.under, *joint.holds) if joint else (fact.under,)
            pairs = [pair for pair in pairs if pair[0] != fact.over or pair[1] not in told]
    return pairs[0] if pairs else None


def answer(study: Study, over: str, under: str, yes: bool, by: str = "", at: str = "") -> Study:
    """The study with this question answered, by whom and when (ISO 8601)."""
    return stated(study, over, under, "seen" if yes else "ruled out", by, at)


def stated(study: Study, over: str, under: str, state: str, by: str = "", at: str = "") -> Study:
    """The study with this fact in this state, by whom and when (ISO 8601). Raises StudyError."""
    known = next((f.id for f in study.facts.values() if (f.over, f.under) == (over, under)), "")
    if known:
        return change(study, known, state=state, by=by, at=at)
    return put(study, Fact(new_id(study, "F"), over, under, state, by=by, at=at))


def signed(study: Study, fact: Fact) -> str:
    """Who stated a fact, and when: "seen, AB 25.11. 14:02", or at which step it was said."""
    when = f"{fact.at[8:10]}.{fact.at[5:7]}. {fact.at[11:16]}" if fact.at else ""
    said = " ".join(filter(None, (fact.by, when)))
    if not said and fact.step in study.steps:
        said = f"said at step {study.step_number(fact.step)}"
    return f"{fact.state}, {said}" if said else fact.state


# -- ranked over all parts ------------------------------------------------------------------------------------


@frozen
class Question:
    """Whether ``over`` lay over ``under``: for which of the parts asked about the answer matters, and by how many
    seconds it is expected to narrow their ranges together (each answer as likely as the other)."""

    over: str
    under: str
    parts: tuple[str, ...]
    narrows_s: float

    def words(self, study: Study) -> str:
        """The question as it is asked."""
        return in_words(study, self.over, self.under)


def open_questions(study: Study, parts: Sequence[str] = ()) -> tuple[Question, ...]:
    """The questions that the reach of these parts (the priority parts, if none are named) still rests on, the one whose
    answer is expected to narrow most first, weighed with how likely it is at all. When all are answered, their reach
    is exact.

    The width of a range is taken between the cheapest sets of steps by the facts seen and by those assumed as well.
    """
    parts = tuple(parts) or priority_parts(study)
    reach = reach_of_all(study)
    asked: dict[tuple[str, str], list[str]] = {}
    for part in parts:
        if reach[part].operations is not None:
            for pair in questions(study, part):
                asked.setdefault(pair, []).append(part)
    if not asked:
        return ()
    low, high = needs_of(study, "least"), needs_of(study, "most")
    times = step_times(study)
    costs = [times[id].seconds for id in low.ids]
    seen, all_ = _Reading(low, costs), _Reading(high, costs)
    found = []
    for (over, under), about in asked.items():
        narrower = 0.0
        for part in about:
            narrower += max(0.0, seen.with_over(part, over, under) - seen.cost(part)) / 2
            narrower += max(0.0, all_.cost(part) - all_.without_over(part, over, under)) / 2
        found.append(Question(over, under, tuple(about), round(narrower, 1)))
    sense = {q: likely(study, q.over, q.under) for q in found}
    return tuple(sorted(found, key=lambda q: (-q.narrows_s * sense[q], -len(q.parts) * sense[q])))


class _Reading:
    """One reading of the facts: the cost of each part's cheapest set, and what it were with one fact more or less.

    Where the set leaves no choice it is followed directly; else all is closed anew."""

    def __init__(self, needs: Needs, costs: list[float]) -> None:
        self.needs, self.costs = needs, costs
        self.closures = Closures(needs, costs)
        self._working: dict[str, list[int]] = {}
        for k, id in enumerate(needs.ids):
            step = needs.study.steps[id]
            for thing in dict.fromkeys((*step.releases, *step.softens, *step.takes_out, *step.opens, id)):
                self._working.setdefault(thing, []).append(k)
        self._known: dict[str, float] = {}
        self._asked: dict[str, dict[int, int] | None] = {}
        self._single: dict[int, list[tuple[int, str, str]] | None] = {}

    def cost(self, part: str) -> float:
        """Seconds of the cheapest set that frees the part; 0 where none does."""
        if part not in self._known:
            self._known[part] = _cost(self.needs, self.closures, part)
        return self._known[part]

    def with_over(self, part: str, over: str, under: str) -> float:
        """The same if the one lay over the other."""
        masks, open_needs = self.closures.forced
        goal, away = self._goal(part), self.needs.record.away(over, under) & self.needs.doable
        if _one(goal) and _one(away):
            i, j = goal.bit_length() - 1, away.bit_length() - 1
            touching = [k for k in self._working.get(under, ()) if masks[i] >> k & 1]
            if not open_needs[i] and not open_needs[j]:
                if not touching or away & masks[i] or any(masks[j] >> k & 1 for k in touching):
                    return self.cost(part)  # not touched, off already, or a circle
                return self.closures.cost(masks[i] | masks[j])
        after = _with_need(self.needs, over, under)
        return _cost(after, Closures(after, self.costs), part)

    def without_over(self, part: str, over: str, under: str) -> float:
        """The same if the one did not lie over the other."""
        counts = self._counts(part)
        if counts is None:
            after = _without_need(self.needs, over, under)
            return _cost(after, Closures(after, self.costs), part)
        left: dict[int, int] = {}
        working = [k for k in self._working.get(under, ()) if k in counts]
        spared, dropped = 0.0, [n for k in working for n in self._ways(k) or () if n[1:] == (over, under)]
        while dropped:
            j = dropped.pop()[0]
            left[j] = left.get(j, counts[j]) - 1
            if not left[j]:  # nothing else asks for that step
                spared += self.costs[j]
                dropped += [n for n in self._ways(j) or () if n[1:] != (over, under)]
        return self.cost(part) - spared

    def _counts(self, part: str) -> dict[int, int] | None:
        """The steps of a part's set, and how many needs within it ask for each; None where there is a choice."""
        if part not in self._asked:
            self._asked[part] = self._counted(self._goal(part))
        return self._asked[part]

    def _counted(self, goal: int) -> dict[int, int] | None:
        if not _one(goal):
            return None
        counts = {goal.bit_length() - 1: 1}
        waiting = list(counts)
        while waiting:
            k = waiting.pop()
            ways = self._ways(k)
            if ways is None:
                return None
            for j, _, _ in ways:
                if j not in counts:
                    waiting.append(j)
                counts[j] = counts.get(j, 0) + 1
        return counts

    def _ways(self, k: int) -> list[tuple[int, str, str]] | None:
        """The steps that a step needs, and about what lying over what; None where it leaves a choice."""
        if k not in self._single:
            needs = [(n.steps & self.needs.doable, n) for n in self.needs.needs[k]]
            self._single[k] = (
                [
                    (ways.bit_length() - 1, n.over if n.rule == 2 else "", n.cause if n.rule == 2 else "")
                    for ways, n in needs
                ]
                if all(_one(ways) for ways, _ in needs)
                else None
            )
        return self._single[k]

    def _goal(self, part: str) -> int:
        return self.needs.freeing(part) & self.needs.doable


def _one(mask: int) -> bool:
    return bool(mask) and not mask & (mask - 1)


def _cost(needs: Needs, closures: Closures, part: str) -> float:
    goal = needs.freeing(part) & needs.doable
    mask = closures.cheapest(goal) if goal else None
    return 0.0 if mask is None else closures.cost(mask)


def _without_need(needs: Needs, over: str, under: str) -> Needs:
    """These needs as if the one did not lie over the other."""
    return _again(needs, [[n for n in own if (n.rule, n.over, n.cause) != (2, over, under)] for own in needs.needs])


def _with_need(needs: Needs, over: str, under: str) -> Needs:
    """These needs as if the one lay over the other."""
    record, study = needs.record, needs.study
    mask = record.away(over, under)
    found = [list(own) for own in needs.needs]
    for i, id in enumerate(needs.ids):
        step = study.steps[id]
        if under in (*step.releases, *step.softens, *step.takes_out, *step.opens) and not mask >> i & 1:
            found[i].append(Need(mask, 2, under, over))
    return _again(needs, found)


def _again(needs: Needs, found: list[list[Need]]) -> Needs:
    doable, order = chain(found)
    return evolve(needs, needs=tuple(tuple(n) for n in found), doable=doable, order=tuple(order))


def conflict(study: Study, part: str) -> tuple[str, ...]:
    """The ids of facts that together keep a part from being reached, none of which could be left out; () where it is
    not facts that keep it, or where it can be reached. Found by leaving out one after the other (deletion filter,
    Chinneck 1997)."""

    def reached(without: set[str]) -> bool:
        kept = {id: fact for id, fact in study.facts.items() if id not in without}
        needs = needs_of.__wrapped__(evolve(study, facts=kept), "least")
        return bool(needs.freeing(part) & needs.doable)

    seen = [id for id, fact in study.facts.items() if fact.state == "seen"]
    if reached(set()) or not reached(set(seen)):
        return ()
    left: set[str] = set()
    for id in seen:
        if not reached(left | {id}):
            left.add(id)
    return tuple(id for id in seen if id not in left)
