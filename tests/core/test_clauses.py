"""Clauses and noun groups: which word is the verb, what it acts on, and what is said of it."""

import pytest

from oddbolt.core.narration.language.clauses import clauses
from oddbolt.core.narration.language.nouns import noun_at
from oddbolt.core.narration.language.tokens import items
from oddbolt.core.narration.language.vocabulary import shipped


def read(text):
    return clauses(items(text, shipped()), text, shipped())


def noun(text):
    found, used = noun_at(items(text, shipped()), 0, shipped())
    assert used
    return found


@pytest.mark.parametrize(
    ("text", "voice", "objects", "subjects"),
    [
        ("remove the fan", "active", ["fan"], []),
        ("I remove the fan", "active", ["fan"], []),
        ("the fan is removed", "passive", [], ["fan"]),
        ("the fan comes out", "moves", [], ["fan"]),
        ("the fan can be lifted out", "passive", [], ["fan"]),
        ("the four screws hold the fan", "none", [], ["screws"]),
    ],
)
def test_who_does_what(text, voice, objects, subjects):
    (clause,) = read(text)
    assert clause.voice == voice
    assert [n.name for n in clause.objects] == objects
    assert [n.name for n in clause.subjects] == subjects


@pytest.mark.parametrize(
    ("text", "actions"),
    [
        ("undo the screws and lift the lid off", ["unscrew", "take out"]),
        ("to remove the lid, undo the screws", ["take out", "unscrew"]),
        ("the body slides off once the ring is gone", ["take out", ""]),
        ("unplug the fan, then pry the cell up", ["disconnect", "pry"]),
        ("the screws they're long", ["", ""]),
        ("the lift is broken", [""]),
        ("two press clips", [""]),
        ("the cut edge", [""]),
    ],
)
def test_sentences_fall_into_clauses(text, actions):
    assert [c.action for c in read(text)] == actions


def test_an_aim_is_told_from_an_act():
    aim, act = read("to remove the lid, undo the screws")
    assert aim.purpose
    assert not act.purpose
    assert not read("you have to remove the lid")[0].purpose


@pytest.mark.parametrize(
    ("text", "placed"),
    [
        ("undo the screws under the feet", [("under", "feet")]),
        ("undo the screws holding the fan", [("holds", "fan")]),
        ("undo the screws on the left side of the frame", [("on", "left side"), ("of", "frame")]),
        ("pry the cell out with a plastic card", [("with", "plastic card")]),
        ("peel the tape covering the plug", [("over", "plug")]),
    ],
)
def test_where_and_with_what(text, placed):
    assert [(relation, n.name) for relation, n in read(text)[0].placed] == placed


@pytest.mark.parametrize(
    ("text", "wanted"),
    [
        ("four PH00 screws", {"count": 4, "drive": "cross", "size": "PH00", "kind": "screw"}),
        ("the two 2.5 mm hex socket screws", {"count": 2, "drive": "hex-socket", "size": "2.5", "definite": True}),
        ("five screws T6 x 8", {"count": 5, "size": "T6", "length_mm": 8.0}),
        ("three M2x6 screws", {"count": 3, "thread": "M2", "length_mm": 6.0}),
        ("a single silver pan head screw", {"count": 1, "finish": "silver", "head": "pan head"}),
        ("both camera modules", {"count": 2, "name": "camera modules", "is_part": True}),
        ("another four T8", {"count": 4, "more": True, "size": "T8"}),
        ("each sticker", {"each": True, "name": "sticker"}),
        ("battery holder wires (2)", {"count": 2, "kind": "connector"}),
        ("the scan engine's flex", {"name": "scan engine flex"}),
        ("isopropyl alcohol", {"is_agent": "isopropanol"}),
        ("plastic card", {"is_tool": True}),
        ("the left edge", {"is_place": True}),
        ("the flux baffle", {"name": "flux baffle"}),
    ],
)
def test_noun_groups(text, wanted):
    found = noun(text)
    assert {k: getattr(found, k) for k in wanted} == wanted


def test_words_nobody_taught_are_kept_with_their_place():
    text = "six trigon screws"
    ((word, start, end),) = noun(text).unknown
    assert (word, text[start:end]) == ("trigon", "trigon")


@pytest.mark.parametrize("text", ["of the", "and then", "quickly", "is", ""])
def test_what_is_no_noun_group(text):
    found = items(text, shipped())
    assert not found or noun_at(found, 0, shipped())[0] is None or not noun_at(found, 0, shipped())[0].words
