"""What to ask: pairs nobody was sure about, on which the most that a part may need rests."""

from __future__ import annotations

from collections.abc import Sequence

from attrs import evolve, frozen

from oddbolt.core.reach.closures import Closures
from oddbolt.core.reach.needs import Need, Needs, assumed_in, chain, needs_of
from oddbolt.core.reach.parts import reach_of_all
from oddbolt.core.reach.record import priority_parts, record_of
from oddbolt.core.reach.times import step_times
from oddbolt.core.study import Fact, Study, change, new_id, put


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
    return fresh or list(out)


def fresh_question(study: Study, step: str) -> tuple[str, str] | None:
    """The one question (over, under) worth asking while a step is fresh: whether the part that came off last lay over a
    thing that this step was the first to touch. None if it was answered, or follows from what was said of a joint."""
    record = record_of(study)
    if step not in record.index:
        return None
    here = record.index[step]
    done = study.steps[step]
    things = [*done.releases, *done.softens, *done.takes_out, *done.opens]
    stated = {(f.over, f.under) for f in study.facts.values()}
    stated |= {(over, part) for over, under in stated if under in study.joints for part in study.joints[under].holds}
    for over, under in record.unstated:
        if under in things and record.touched[under] == here and (over, under) not in stated:
            return over, under
    return None


def answer(study: Study, over: str, under: str, yes: bool) -> Study:
    """The study with this question answered."""
    state = "seen" if yes else "ruled out"
    known = next((f.id for f in study.facts.values() if (f.over, f.under) == (over, under)), "")
    return change(study, known, state=state) if known else put(study, Fact(new_id(study, "F"), over, under, state))


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
        return f"Was {study.name(self.under)} under {study.name(self.over)}?"


def open_questions(study: Study, parts: Sequence[str] = ()) -> tuple[Question, ...]:
    """The questions that the reach of these parts (the priority parts, if none are named) still rests on, the one whose
    answer is expected to narrow most first. When all are answered, their reach is exact.

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
    ends = {needs: {part: _cost(needs, costs, part) for part in parts} for needs in (low, high)}
    found = []
    for (over, under), about in asked.items():
        yes, no = _with_need(low, over, under), _without_need(high, over, under)
        narrower = 0.0
        for part in about:
            narrower += max(0.0, _cost(yes, costs, part) - ends[low][part]) / 2
            narrower += max(0.0, ends[high][part] - _cost(no, costs, part)) / 2
        found.append(Question(over, under, tuple(about), round(narrower, 1)))
    return tuple(sorted(found, key=lambda q: (-len(q.parts) if q.narrows_s == 0 else 0, -q.narrows_s)))


def _cost(needs: Needs, costs: list[float], part: str) -> float:
    closures = Closures(needs, costs)
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
    return Needs(needs.study, needs.record, tuple(tuple(n) for n in found), doable, tuple(order), needs.live)


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
