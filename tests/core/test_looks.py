"""What is this, which package, which connector: Bayes' rule against scipy, simulated looks, parts as people see them.

The descriptions were written before they were read for the first time; common practice of the trade, no source.
"""

import csv
from collections import Counter
from pathlib import Path

import numpy as np
import pytest
from builders import study_of
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.stats import entropy

from oddbolt.core.components.connectors import (
    connector_guide,
    connectors,
    miscounted,
    which_connector,
    with_connector,
)
from oddbolt.core.components.kinds import kind_of, named_kind, part_guide, part_kinds, what_is_this, with_kind
from oddbolt.core.components.looks import MISTAKEN, Guide, Kind, Look, Seen
from oddbolt.core.components.packages import package_guide, packages, which_package, with_package
from oddbolt.core.components.said_looks import said_looks
from oddbolt.core.errors import BenchError
from oddbolt.core.study import Joint, Part

GUIDES = (part_guide, package_guide, connector_guide)


def simulated(guide, count, seed, most):
    """The share of candidates named first, and among the first three, by following the looks asked for."""
    rng = np.random.default_rng(seed)
    first = three = 0
    for _ in range(count):
        n = int(rng.choice(len(guide.kinds), p=guide.prior))
        kind, answers, figures, skipped = guide.kinds[n], {}, {}, set()
        while len(answers) + len(figures) < most:
            found = guide.rank(Seen(answers, figures, (), frozenset(skipped)))
            if not found.next or found.candidates[0].probability > 0.95:
                break
            look = guide.looks[found.next]
            if look.is_figure:
                spans = kind.figures.get(look.id)
                if not spans:
                    skipped.add(look.id)
                    continue
                low, high = spans[rng.integers(len(spans))]
                value = float(np.exp(rng.uniform(np.log(low), np.log(high)))) if low > 0 else rng.uniform(low, high)
                value = float(round(value)) if not look.unit else value * (1 + rng.normal(0, look.share))
                figures[look.id] = value, guide.off(look.id, value)
            elif rng.random() < 0.03:  # a mistaken look
                answers[look.id] = str(rng.choice(list(look.answers)))
            else:
                shares = kind.answers.get(look.id, look.usual)
                weights = np.array([shares.get(a, 0.0) for a in look.answers])
                answers[look.id] = list(look.answers)[int(rng.choice(len(weights), p=weights / weights.sum()))]
        ids = [c.id for c in guide.rank(Seen(answers, figures)).candidates]
        first += ids[0] == kind.id
        three += kind.id in ids[:3]
    return first / count, three / count


@pytest.mark.parametrize(("guide", "most"), [(part_guide, 10), (package_guide, 3), (connector_guide, 4)])
def test_simulated_looks_lead_to_the_right_kind(guide, most):
    first, three = simulated(guide(), 60, 11, most)
    assert first >= 0.85
    assert three >= 0.95


def small_guide(shares):
    look = Look("colour", "?", {"red": ("red",), "blue": ("blue",), "green": ("green",)}, usual={"red": 1.0})
    kinds = tuple(
        Kind(f"k{n}", usual, {"colour": dict(zip(look.answers, row, strict=True))}, {})
        for n, (usual, row) in enumerate(shares)
    )
    return Guide({"colour": look}, kinds, "kind")


weights = st.tuples(st.floats(0.1, 5), st.lists(st.floats(0.01, 1), min_size=3, max_size=3))


@settings(max_examples=40, deadline=None)
@given(st.lists(weights, min_size=2, max_size=6), st.sampled_from(["red", "blue", "green"]))
def test_ranking_is_bayes_rule_and_the_gain_is_the_mutual_information(shares, answer):
    """Against scipy.stats.entropy over the joint table; the table worked out here from the definition."""
    guide = small_guide(shares)
    prior = np.array([usual for usual, _ in shares]) / sum(usual for usual, _ in shares)
    table = np.array([np.array(row) / sum(row) for _, row in shares])
    table = (1 - MISTAKEN) * table + MISTAKEN / 3
    joint = prior[:, None] * table
    column = list(guide.looks["colour"].answers).index(answer)
    expected = joint[:, column] / joint[:, column].sum()
    found = {c.id: c.probability for c in guide.rank(Seen({"colour": answer}), most=9).candidates}
    for n, share in enumerate(expected):
        if f"k{n}" in found:
            assert found[f"k{n}"] == pytest.approx(share, abs=1e-9)
    told = guide.rank(Seen())
    information = entropy(prior, base=2) - sum(entropy(joint[:, k], base=2) * joint[:, k].sum() for k in range(3))
    if told.next:
        assert told.gain == pytest.approx(information, abs=2e-3)
    else:
        assert information < 0.05


@pytest.mark.parametrize("guide", GUIDES)
def test_the_words_of_a_table_mean_one_look_each(guide):
    claimed = Counter(word for look in guide().looks.values() for words in look.answers.values() for word in words)
    assert [word for word, times in claimed.items() if times > 1] == []
    for look in guide().looks.values():
        for answer, words in look.answers.items():
            for word in words:
                seen = guide().read(word)
                assert seen.answers.get(look.id) == answer, (word, seen)


#: what somebody sees -> what it is
SEEN = {
    "flat, black resin, 8 legs, marked with letters, near the battery, 3 mm": "charger chip",
    "disc, coin shape, metal, plus sign, 20 mm, volts of its own": "coin cell",
    "thin plate of glass on the cover, clear, 80 mm": "window",
    "upright cylinder, a stripe, plus and minus, two legs, aluminium, 10 mm, capacitance": "electrolytic capacitor",
    "ring of rubber in a groove, black, 30 mm": "O-ring",
    "round, two wires, magnet, cone, behind a grille, 40 mm": "loudspeaker",
    "a block with a lens, ribbon, behind a hole": "camera",
    "toothed wheel, plastic, white, on the shaft": "gear",
    "grey soft sheet against the chip, unmarked, 20 mm": "thermal pad",
    "metal box over chips, under a shield, bright metal, nothing electrical, 20 mm": "shield can",
    "copper winding, toroid, two legs, near the mains": "ring choke",
    "glass tube, two ends, near the fuse, 20 mm, beeps, clear": "fuse",
    "sticker, volts and amps, outside, 40 mm": "type label",
    "small can, ball inside, rattles, two pins": "tilt switch",
    "clicks under a finger, four legs, under a button, 6 mm": "push button",
    "foil bag, two wires, watt hours, in the case, 60 mm, silver": "battery",
    "spins, barrel, two wires, pulls steel, 30 mm, metal": "motor",
    "flat cable, white, between two boards, bends, 60 mm": "ribbon cable",
    "picture area, glass, ribbon, 60 mm, in the lid": "display",
    "ribs, aluminium, on a hot part, 30 mm": "heat sink",
    "dozens of them, brown, ceramic, two pads, unmarked, 1 mm": "ceramic capacitor",
    "black, three figures, two pads, dozens, 1.6 mm, kilohms": "chip resistor",
    "silver can, near the processor, two pads, 3.2 mm, a type number": "crystal",
    "yellow block, a bar at one end, two pads, 7 mm": "tantalum capacitor",
}


def test_parts_as_people_see_them():
    placed = {}
    for text, kind in SEEN.items():
        try:
            placed[text] = [c.id for c in what_is_this(part_guide().read(text)).candidates].index(kind)
        except ValueError:
            placed[text] = 9
    assert sum(place == 0 for place in placed.values()) >= 0.8 * len(SEEN), placed
    assert sum(place < 3 for place in placed.values()) >= 0.9 * len(SEEN), placed


def test_contradictions_and_nonsense_are_answered():
    guide = part_guide()
    with pytest.raises(BenchError, match="answer the same question"):
        guide.read("disc, block")
    with pytest.raises(BenchError, match="Nothing of"):
        guide.read("qwerty uiop")
    with pytest.raises(BenchError, match="cannot be the size"):
        guide.read("size 400000 mm")
    with pytest.raises(BenchError, match="counted, not measured"):
        guide.read("pins 8 mm")
    assert guide.read("disc, frobnicated").unread == ("frobnicated",)
    assert (
        "look again"
        in what_is_this(guide.read("a coil, film, teeth, swashes, 12 pins, 900 mm, gives a voltage")).trouble
    )
    assert guide.read("size ?, disc").skipped == {"size"}
    found = what_is_this(guide.read("disc"))
    study = study_of(Part("P1", "Gizmo"))
    with pytest.raises(BenchError, match="Not certain enough"):
        with_kind(study, "P1", found)
    assert with_kind(study, "P1", found, 2).parts["P1"].kind == found.candidates[1].id
    with pytest.raises(BenchError, match="Select a part"):
        with_kind(study, "P9", found)


def test_every_kind_has_what_the_margin_tells_and_its_words_find_it():
    assert len(part_kinds()) >= 150
    for kind in part_kinds().values():
        assert kind.does
        assert kind.place
        assert kind.handle
        assert kind.end
        assert 0 < kind.size_mm[0] <= kind.size_mm[1]
        assert kind_of(kind.id) is kind
    assert kind_of("the upper left loudspeakers").id == "loudspeaker"
    assert kind_of("gizmo") is None
    with pytest.raises(BenchError, match="did you mean"):
        named_kind("loudspeker")


# -- packages ------------------------------------------------------------------------------------------------


def test_packages_of_a_footprint_library_are_recognised():
    """kicad-footprints 6.0.11 of Debian, drawn bodies (see tests/reference/README.md): 82 packages."""
    with (Path(__file__).parents[1] / "reference" / "package_bodies.csv").open() as file:
        rows = list(csv.DictReader(file))
    for row in rows:
        words = f"length {row['longer_mm']}, width {row['shorter_mm']}, pins {row['pins']}"
        found = which_package(
            package_guide().read(words + (f", pitch {row['pitch_mm']}" if row["pitch_mm"] else "")), 12
        )
        assert row["package"] in [c.id for c in found.candidates], (row, found.candidates[:3])
        assert not found.trouble
    assert len(rows) == 82
    assert all(p.source for p in packages().values())


def test_a_package_is_entered_with_its_body():
    seen = package_guide().read("4.9 x 3.9 x 1.5 mm, 8 legs")
    study = with_package(study_of(Part("P1", "U3")), "P1", which_package(seen), seen)
    part = study.parts["P1"]
    assert (part.package, part.long_mm, part.wide_mm, part.high_mm, part.pins) == ("SOIC-8", 4.9, 3.9, 1.5, 8)
    vague = package_guide().read("3.2 mm long")
    with pytest.raises(BenchError, match="Not certain"):
        with_package(study, "P1", which_package(vague), vague)


# -- connectors ----------------------------------------------------------------------------------------------

#: figures of published standards -> the family
PUBLISHED = {
    "24 ways, pitch 0.5, 8.94 mm wide, from outside, metal shell": "data port, type C",  # USB type C: 8.94 mm shell
    "5 ways, pitch 0.65, from outside, metal shell": "data port, micro B",  # micro-USB: 0.65 mm
    "4 ways, 12.5 mm wide, 5.12 mm high, from outside, metal shell": "data port, type A",  # USB 2.0
    "9 ways, pitch 2.77, two rows, d shape, jack screws": "D connector",  # IEC 60807-2
    "8 ways, pitch 1.02, press tab, from outside, spring tab": "modular jack",  # IEC 60603-7
    "one way, 6.3 mm wide, flat blade, wires": "blade terminal 6.3 mm",  # IEC 61210
    "8 contacts, pitch 2.54, chip card, springs": "chip card socket",  # ISO/IEC 7816-2
    "coax, round body, one contact, threaded ring, 8 mm": "coaxial, threaded",  # IEC 61169-15
}


def test_connectors_of_published_standards_are_recognised():
    for words, family in PUBLISHED.items():
        found = which_connector(connector_guide().read(words.replace("press tab, ", "")))
        assert found.candidates[0].id == family, (words, found.candidates[:3], found.trouble)
    assert all(c.opens and c.breaks and c.bears for c in connectors().values())


@given(
    st.integers(2, 60), st.sampled_from([0.4, 0.5, 1.0, 1.25, 2.0, 2.54]), st.floats(0.5, 4.0), st.sampled_from([1, 2])
)
def test_contacts_that_fit_their_body_are_no_miscount_and_twice_as_many_are(ways, pitch, ends, rows):
    total = ways * rows
    width = (ways - 1) * pitch + ends
    told = {1: "one", 2: "two"}[rows]
    figures = {"pitch": (pitch, 0.02), "ways": (float(total), 0.25), "width": (width, 0.1)}
    assert miscounted(Seen({"rows": told}, figures)) == ""
    crowded = figures | {"ways": (float(total * 2 + 12), 0.25)}
    if ((total * 2 + 12) / rows - 1) * pitch > width + 0.2:
        assert "Count again" in miscounted(Seen({"rows": told}, crowded))


def test_a_connector_is_entered_and_a_miscount_refused():
    seen = connector_guide().read("ten ways, half a millimetre, flip lid")
    study = study_of(Part("P1", "Board"), Joint("J1", "connector", holds=("P1",)))
    joint = with_connector(study, "J1", which_connector(seen), seen).joints["J1"]
    assert (joint.family, joint.latch, joint.pins, joint.pitch_mm) == ("flex socket, flip lid", "flip-lock", 10, 0.5)
    wrong = connector_guide().read("forty ways, half a millimetre, flip lid, 9 mm wide, one row")
    with pytest.raises(BenchError, match="Count again"):
        with_connector(study, "J1", which_connector(wrong), wrong)


def test_sentences_of_the_say_line_are_looks_only_where_they_say_nothing_else():
    assert said_looks("ten ways, half a millimetre, flip lid").ranked.candidates[0].id == "flex socket, flip lid"
    assert said_looks("what is this: disc, two wires, pulls steel, cone").ranked.candidates[0].id == "loudspeaker"
    for sentence in (
        "backed out four IP5 under the feet, two are longer",
        "flipped the lid and pulled the display ribbon",
        "two wires to the battery desoldered",
        "what is this",
        "the lid is 12 mm thick",
    ):
        assert said_looks(sentence) is None, sentence
