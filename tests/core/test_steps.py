"""Steps moved, split, joined, said again; where an order could not have been worked."""

import pytest
from builders import random_study, study_of
from hypothesis import given
from hypothesis import strategies as st

from oddbolt.core.errors import StudyError
from oddbolt.core.reach import needs_of, reach_of_all
from oddbolt.core.reach.order_check import order_troubles
from oddbolt.core.study import Fact, Finding, Joint, Lap, Part, Photo, Run, Step, put, renumber
from oddbolt.core.study.steps import (
    alternatives,
    another_way,
    changed_all,
    freeing_step,
    joined,
    moved,
    same_again,
    search,
    split,
    things_of,
    variant_of,
)
from oddbolt.demo import tide_logger

studies = st.builds(random_study, st.integers(0, 300))


def test_an_order_has_no_trouble_just_when_it_can_be_worked():
    for seed in range(60):
        study = random_study(seed)
        needs = needs_of(study)
        if needs.doable != (1 << len(needs.ids)) - 1:
            continue
        good = renumber(study, [needs.ids[i] for i in needs.order])
        assert not order_troubles(good)
        turned = renumber(study, list(reversed(good.steps)))
        done = 0
        wrong = set()
        for i, id in enumerate(needs_of(turned).ids):
            if any(not n.steps & (done | 1 << i) for n in needs_of(turned).needs[i]):
                wrong.add(id)
            done |= 1 << i
        assert set(order_troubles(turned)) == wrong


def test_the_demo_is_recorded_in_an_order_that_was_worked():
    study = tide_logger.study()
    assert not order_troubles(study)
    early = moved(study, ["S20"], -18)
    (said,) = {v for k, v in order_troubles(early).items() if k == "S20"}
    assert "must be released" in said or "must be away" in said
    assert list(early.steps).index("S20") == 1
    assert reach_of_all(early)["P19"].steps == reach_of_all(study)["P19"].steps  # the facts, not the order, decide


@given(studies, st.integers(-9, 9), st.data())
def test_moved_steps_keep_their_order_among_themselves(study, by, data):
    ids = data.draw(st.lists(st.sampled_from(list(study.steps)), min_size=1, unique=True))
    after = list(moved(study, ids, by).steps)
    rest = [s for s in study.steps if s not in ids]
    assert sorted(after) == sorted(study.steps)
    assert [s for s in after if s in ids] == [s for s in study.steps if s in ids]
    assert [s for s in after if s not in ids] == rest


@given(studies)
def test_split_steps_joined_again_are_as_before(study):
    run = Run("R1", laps=tuple(Lap(s, 12.0) for s in study.steps))
    study = put(study, run)
    for id, step in list(study.steps.items()):
        if len(things_of(step)) < 2:
            with pytest.raises(StudyError, match="nothing to split"):
                split(study, id)
            continue
        apart, new = split(study, id)
        assert [*things_of(apart.steps[id]), *things_of(apart.steps[new])] == list(things_of(step))
        assert sum(lap.seconds for lap in apart.runs["R1"].laps) == pytest.approx(12 * len(study.steps))
        again = joined(apart, id, new)
        assert list(again.steps) == list(study.steps)
        assert things_of(again.steps[id]) == things_of(step)
        assert [(lap.step, lap.seconds) for lap in again.runs["R1"].laps] == [(s, 12.0) for s in study.steps]


def test_what_was_tied_to_a_joined_step_stays_tied():
    things = [Part("P1", "Lid"), Joint("J1", "screw", holds=("P1",)), Step("S1", "unscrew", "out", ("J1",), tool="PH0")]
    things += [Step("S2", "lift", "lid off.", takes_out=("P1",), cautions=("mind the lead",)), Step("S3", "look")]
    things += [Photo("H1", "0" * 64, "S2"), Finding("N1", "praise", "neat", "S2"), Fact("F1", "P1", "S3", step="S2")]
    study = joined(study_of(*things), "S1", "S2")
    one = study.steps["S1"]
    assert (one.releases, one.takes_out, one.said, one.tool) == (("J1",), ("P1",), "out; lid off", "PH0")
    assert one.cautions == ("mind the lead",)
    assert (study.photos["H1"].step, study.findings["N1"].about, study.facts["F1"].step) == ("S1", "S1", "S1")
    assert list(study.steps) == ["S1", "S3"]
    with pytest.raises(StudyError, match="different"):
        joined(study, "S1", "S1")


def test_another_way_makes_an_or_and_the_same_again_makes_new_things():
    study = tide_logger.study()
    either, new = another_way(study, "S3")
    assert alternatives(either, "S3") == [new]
    assert list(either.steps)[3] == new
    twice, new = same_again(study, "S57")
    step = twice.steps[new]
    assert not alternatives(twice, new)
    fresh = {x for _, x in things_of(step)}
    assert not fresh & {x for _, x in things_of(study.steps["S57"])}
    for old, copy in zip(study.steps["S57"].releases, step.releases, strict=True):
        assert study.joints[old].count == twice.joints[copy].count
    names = [p.name for p in twice.parts.values()]
    assert len(names) == len(set(names))


def test_a_step_of_parts_of_one_variant_is_for_that_variant():
    study = study_of(Part("P1", "Second probe", variant="dual"), Part("P2", "Lid"), Joint("J1", "clip", holds=("P1",)))
    study = put(
        put(study, Step("S1", "unclip", releases=("J1",), takes_out=("P1",))), Step("S2", "lift", takes_out=("P2",))
    )
    assert [variant_of(study, s) for s in study.steps] == ["dual", ""]


def test_steps_are_found_by_what_was_said_done_and_used():
    study = tide_logger.study()
    assert search(study, "20")[0] == "S20"
    found = search(study, "t5 radio")
    assert found
    assert all("T5" in {study.joints[j].size for j in study.steps[s].releases} for s in found)
    assert search(study, "no such word") == search(study, " ") == []
    assert freeing_step(study, "P19") == "S20"
    assert freeing_step(study, "J4") == "S3"
    inside = next(
        p for p in study.parts.values() if p.inside and not any(p.id in s.takes_out for s in study.steps.values())
    )
    assert freeing_step(study, inside.id) == freeing_step(study, inside.inside) != ""
    assert freeing_step(study, "H1") == "S3"


def test_many_things_are_changed_at_once():
    study = changed_all(tide_logger.study(), ["S1", "S2"], face="back", tool="pick")
    assert {(study.steps[s].face, study.steps[s].tool) for s in ("S1", "S2")} == {("back", "pick")}
