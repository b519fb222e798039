"""What a sentence says of a part: markings, packages, pins, functions and sizes in exact words, kept with the part."""

import pytest
from builders import study_of

from oddbolt.core.narration import read
from oddbolt.core.narration.draft import DraftNote
from oddbolt.core.narration.language.vocabulary import shipped
from oddbolt.core.narration.memory import Memory
from oddbolt.core.narration.part_facts import facts_in
from oddbolt.core.narration.recording import _findings, log
from oddbolt.core.study import Part

SAID = {
    "the chip marked MV2207 is the motor driver": ("MV2207", "", None, "motor driver"),
    "24-pin QFN marked 8K41, that's the charger": ("8K41", "QFN", 24, "charger"),
    "IC marked K91T2, 8 pins": ("K91T2", "", 8, ""),
    "an eight-pin SOIC, it reads 25Q64, so the flash memory": ("25Q64", "SOIC", 8, "flash memory"),
    "a fourteen-pin device, bears the legend HC4060": ("HC4060", "", 14, ""),
    "a SOT-23-5 by the coil": ("", "SOT-23-5", None, ""),
    "LQFP64 in the middle": ("", "LQFP-64", 64, ""),
    "the bottom screws are tight": ("", "", None, ""),
    "that's the last one": ("", "", None, ""),
}


@pytest.mark.parametrize("sentence", SAID)
def test_what_a_sentence_says_of_a_part(sentence):
    facts = facts_in(sentence)
    assert (facts.marking, facts.package, facts.pins, facts.function) == SAID[sentence]


def test_sizes_are_read_with_their_unit():
    assert facts_in("it measures 54 by 88 millimetres").size_mm == (88.0, 54.0)
    assert facts_in("3,2 x 2,5 x 0.7 mm").size_mm == (3.2, 2.5, 0.7)
    assert facts_in("4 x 3 cm").size_mm == (40.0, 30.0)
    assert facts_in("two by four screws").size_mm == ()


def test_a_marking_is_kept_and_another_chip_is_another_part():
    study = study_of(Part("P1", "Board"), Part("P2", "Memory chip", "P1"))
    note = DraftNote("identify", "FN128", part="chip", marking="FN128", package="SOIC", pins=8)
    study = _findings(study, [note], "")
    assert study.parts["P2"].markings == ("FN128",)
    assert (study.parts["P2"].package, study.parts["P2"].pins) == ("SOIC", 8)
    other = DraftNote("identify", "MV2207", part="chip", marking="MV2207", function="motor driver")
    study = _findings(study, [other], "")
    assert study.parts["P2"].markings == ("FN128",)
    assert study.parts["P3"].name == "Motor driver"
    assert study.parts["P3"].markings == ("MV2207",)
    assert study.parts["P3"].inside == "P1"
    study = _findings(study, [DraftNote("measure", "x", part="Board", size_mm=(88.0, 54.0))], "")
    assert (study.parts["P1"].long_mm, study.parts["P1"].wide_mm) == (88.0, 54.0)


def test_damage_is_kept_with_the_part_that_is_named():
    study = study_of(Part("P1", "Radio can"), Part("P2", "Can"))
    study = _findings(study, [DraftNote("damage", "the radio can has a dent")], "")
    assert next(iter(study.findings.values())).about == "P1"
    both = study_of(Part("P1", "Lid"), Part("P2", "Board"))
    both = _findings(both, [DraftNote("damage", "board and lid are scratched")], "")
    assert next(iter(both.findings.values())).about == ""


def test_without_the_network_a_marked_part_is_kept_only_where_it_is_named():
    vocabulary = shipped()
    study = study_of(Part("P1", "Strap lug"))
    reading, _ = read("the crystal is stamped 26.000", Memory(), vocabulary)
    after, _ = log(study, reading)
    assert [p.markings for p in after.parts.values() if p.name.lower() == "crystal"] == [("26.000",)]
    reading, _ = read("inductor beside it reads 4R7", Memory(), vocabulary)
    after, _ = log(study, reading)
    assert after.parts["P1"].markings == ()
