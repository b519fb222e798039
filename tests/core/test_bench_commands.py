"""What is said to the bench, and what is read back."""

import pytest

from oddbolt.core.narration import read
from oddbolt.core.narration.read_back import read_back


@pytest.mark.parametrize(
    ("said", "kind", "seconds"),
    [
        ("that was a break of 5 minutes", "break", 300),
        ("Sorry, that was a ten minute break.", "break", 600),
        ("I was called away for half an hour", "break", 1800),
        ("took a quick coffee break", "break", None),
        ("the last three minutes were a break", "break", 180),
        ("hold on", "pause", None),
        ("okay, go on please", "go on", None),
        ("right, take a photo", "photo", None),
        ("and the same again", "repeat", None),
        ("undo the last step", "undo", None),
        ("take that back", "undo", None),
    ],
)
def test_what_is_said_to_the_bench(said, kind, seconds):
    reading, _ = read(said)
    assert reading.empty
    assert (reading.aside.kind, reading.aside.seconds) == (kind, seconds)


@pytest.mark.parametrize(
    "said",
    [
        "undo the four PH00 screws on the fan",
        "break the glue along the edge",
        "take the photo sensor out",
        "pull the pause key off",
        "you may break the clip here",
        "the screen breaks away easily",
        "take out the fan and take a break",
    ],
)
def test_what_is_said_of_the_device_is_not(said):
    assert read(said)[0].aside is None


def test_what_was_understood_is_read_back_with_what_is_missing():
    reading, _ = read("backed out four IP5 under the feet")
    assert read_back(reading, 7) == "Step 7: unscrew, 4 hexalobular-plus IP5 screw, under feet."
    reading, _ = read("undo the screws on the fan and lift it out")
    assert read_back(reading, 9).startswith("Steps 8 to 9: unscrew")
    assert "Not said: count, drive" in read_back(reading, 9)
    assert read_back(read("careful, the ribbon is short")[0], 3) == "Caution noted."
