"""The bill of materials: every part and screw in it once, masses against sums over a graph by networkx."""

from itertools import pairwise

import networkx as nx
import pytest
from attrs import evolve
from builders import study_of
from hypothesis import given
from hypothesis import strategies as st

from oddbolt.core.components import bill_of_materials
from oddbolt.core.study import Finding, Joint, Part, put
from oddbolt.demo import tide_logger


@st.composite
def devices(draw):
    """Parts in parts, some weighed, some alike."""
    parts = []
    for n in range(1, draw(st.integers(2, 25))):
        module = draw(st.integers(0, n - 1))
        mass = draw(st.none() | st.integers(1, 50).map(float))
        name = draw(st.sampled_from(["spacer", "cover"])) if n % 3 == 0 else f"piece {n}"
        parts.append(Part(f"P{n}", name, inside=f"P{module}" if module else "", mass_g=mass))
    return study_of(*parts)


@given(devices())
def test_every_part_stands_in_one_line_below_what_carries_it(study):
    lines = bill_of_materials(study)
    assert sorted(id for line in lines for id in line.ids) == sorted(study.parts)
    assert all(after.level <= before.level + 1 for before, after in pairwise(lines))
    path = []
    for line in lines:
        path[line.level - 1 :] = [line.ids]
        for id in line.ids:
            above = study.parts[id].inside
            assert (above in path[-2]) if line.level > 1 else not above


@given(devices())
def test_masses_are_those_of_the_outermost_weighed_parts(study):
    """Over the graph by networkx: a part not weighed comes to the weighed ones below it that no weighed one covers."""
    graph = nx.DiGraph((part.inside, id) for id, part in study.parts.items())
    for line in bill_of_materials(study):
        sums, whole = [], True
        for id in line.ids:
            under = [id, *nx.descendants(graph, id)]
            weighed = {p for p in under if study.parts[p].mass_g is not None}
            within = {p: weighed.intersection(nx.ancestors(graph, p)) & set(under) for p in under}
            sums += [study.parts[p].mass_g for p in weighed if not within[p]]
            bare = [p for p in under if not graph.out_degree(p) and p not in weighed and not within[p]]
            whole = whole and not bare
        assert line.sum_g == (pytest.approx(sum(sums)) if sums else None)
        if sums:
            assert (line.basis != "at least") == whole


def test_alike_pieces_are_counted_and_what_differs_stands_apart():
    study = study_of(
        *(Part(f"P{n}", "Spacer", kind="frame", mass_g=2.0) for n in range(1, 5)),
        Part("P5", "Spacer", kind="frame", mass_g=3.0),
        Part("P6", "Spacer", kind="frame", mass_g=2.0),
    )
    study = put(study, Finding("N1", "mark", "PA66", about="P6"))
    study = put(study, Joint("J1", "screw", holds=("P2",), count=2, thread="M3", length_mm=10.0))
    study = put(study, Joint("J2", "screw", holds=("P5",), count=None, thread="M3", length_mm=10.0))
    parts = [line for line in bill_of_materials(study) if not line.screws]
    assert [(line.ids, line.count, line.marks) for line in parts] == [
        (("P1", "P3", "P4"), 3, ()),
        (("P2",), 1, ()),
        (("P5",), 1, ()),
        (("P6",), 1, ("PA66",)),
    ]
    (screws,) = (line for line in bill_of_materials(study) if line.screws)
    assert (screws.ids, screws.count, screws.sum_g) == (("J1", "J2"), None, None)  # one group was never counted
    mixed = put(study, evolve(study.joints["J1"], lengths="two 6.0"))
    lengths = {line.ids: line.each_g for line in bill_of_materials(mixed) if line.screws}
    assert lengths[("J1",)] is None


def test_the_demo_has_all_its_parts_and_screws():
    study = tide_logger.study()
    lines = bill_of_materials(study)
    screws = [line for line in lines if line.screws]
    assert sum(line.count for line in lines if not line.screws) == len(study.parts)
    assert sum(line.count for line in screws) == sum(j.count for j in study.joints.values() if j.kind == "screw")
    assert {line.basis for line in screws} == {"computed"}


def test_a_thousand_parts_in_one_another_are_listed():
    chain = study_of(*(Part(f"P{n}", f"shell {n}", inside=f"P{n - 1}" if n > 1 else "") for n in range(1, 1500)))
    assert bill_of_materials(chain)[-1].level == 1499
