"""What to ask: pairs nobody was sure about, on which the most that a part may need rests."""

from __future__ import annotations

from oddbolt.core.reach.needs import assumed_in, needs_of
from oddbolt.core.reach.parts import reach_of_all
from oddbolt.core.reach.record import record_of
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
