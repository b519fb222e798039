"""What is renewed and what is used again. Common practice, no source."""

import pytest

from oddbolt.core.narration.assembly.fasteners import reuse
from oddbolt.core.narration.renewal import not_used_again, renewal


@pytest.mark.parametrize(
    ("text", "told", "part"),
    [
        ("The screws can be reused.", "reuse", ""),
        ("The seal can be used again.", "reuse", ""),
        ("You don't have to renew the seal.", "reuse", ""),
        ("The belt need not be renewed.", "reuse", ""),
        ("These screws are not reusable.", "renew", "screws"),
        ("The tape can't be reused.", "renew", "tape"),
        ("Never reuse these bolts.", "renew", "bolts"),
        ("The clips are one-time use.", "renew", "clips"),
        ("Peel off the film, you'll need a new one.", "renew", ""),
        ("The washer never goes back on.", "renew", ""),
        ("Undo four T8 screws from the lid.", "", ""),
        ("The screws go back in where they were.", "", ""),
        ("The lid is not off, use the card again.", "", ""),
    ],
)
def test_what_can_be_used_again_is_not_renewed(text, told, part):
    assert (renewal(text), not_used_again(text)) == (told, part)


@pytest.mark.parametrize(
    ("text", "rule"),
    [
        ("four bolts, reuse them if undamaged", "inspect"),
        ("four bolts, check the threads, they can be reused", "inspect"),
        ("four bolts, discard, never reuse", "renew"),
        ("four bolts, they need not be replaced with new ones", "reuse"),
        ("four bolts", ""),
    ],
)
def test_what_is_looked_at_first_is_not_simply_used_again(text, rule):
    assert reuse(text) == rule
