"""What is renewed and what is used again. Common practice, no source."""

import pytest

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
        ("Undo four T8 screws from the lid.", "", ""),
        ("The lid is not off, use the card again.", "", ""),
    ],
)
def test_what_can_be_used_again_is_not_renewed(text, told, part):
    assert (renewal(text), not_used_again(text)) == (told, part)
