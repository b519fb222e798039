"""Words, numbers and quantities as the reader cuts them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from oddbolt.core.narration.language.tokens import items, put_right
from oddbolt.core.narration.language.vocabulary import forms, shipped, words_of
from oddbolt.core.reference.units import UNITS

ONES = (
    "one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen seventeen "
    "eighteen nineteen"
)
TENS = "twenty thirty forty fifty sixty seventy eighty ninety"

TAKEN_BACK = (", no, ", ", sorry, ", "... no, wait, ", " screws, I mean ", " of them, make that ")


def in_words(n):
    """A whole number below a thousand in English words."""
    if n < 20:
        return ONES.split()[n - 1]
    if n < 100:
        tens, rest = divmod(n, 10)
        return TENS.split()[tens - 2] + (f" {in_words(rest)}" if rest else "")
    hundreds, rest = divmod(n, 100)
    return f"{in_words(hundreds)} hundred" + (f" and {in_words(rest)}" if rest else "")


def cut(text):
    return items(text, shipped())


@given(st.integers(1, 999))
def test_numbers_in_words_are_the_numbers_in_figures(n):
    (spoken,) = [i for i in cut(in_words(n)) if i.number is not None]
    (written,) = cut(str(n))
    assert spoken.number == written.number == n


@given(st.integers(1, 60), st.sampled_from(sorted(UNITS)))
def test_every_unit_is_read_with_its_number(n, unit):
    item = cut(f"{n} {unit}")[0]
    dimension, factor = UNITS[unit]
    assert item.unit == dimension
    assert item.number == pytest.approx(n * factor)


@pytest.mark.parametrize(
    ("text", "number", "unit"),
    [
        ("3,200 mAh", 3200, "charge"),
        ("2,5 mm", 2.5, "length"),
        ("12 N·cm", 12, "torque"),
        ("11 Nm", 1100, "torque"),
        ("0.4 newton metres", 40, "torque"),
        ("half a minute", 30, "time"),
        ("a minute", 60, "time"),
        ("one and a half minutes", 90, "time"),
        ("two point five millimetres", 2.5, "length"),
        ("a couple", 2, ""),
        ("half a dozen", 6, ""),
        ("a dozen", 12, ""),
        ("6x", 6, ""),
    ],
)
def test_quantities_people_say(text, number, unit):
    item = next(i for i in cut(text) if i.number is not None)
    assert (item.number, item.unit) == (number, unit)


@pytest.mark.parametrize(
    ("text", "numbers"),
    [
        ("undo tree screws", [3]),
        ("undo for screws", [4]),
        ("there's to screws here", [2]),
        ("go to the screws", []),
        ("a tree by the house", []),
        ("this one is for screws", []),
        ("won PH00 screw and ate T6 screws", [8]),
    ],
)
def test_slips_of_the_ear_count_only_where_a_number_must_stand(text, numbers):
    assert [i.number for i in cut(text) if i.number is not None and i.low != "one"] == numbers


@pytest.mark.parametrize(
    ("text", "cls", "value"),
    [
        ("PH00", "size", "cross PH00"),
        ("ph 00", "size", "cross PH00"),
        ("IP5", "size", "hexalobular-plus IP5"),
        ("five-lobe", "drive", "five-lobe"),
        ("hex socket", "drive", "hex-socket"),
        ("M1.6x4", "thread", "M1.6X4"),
        ("isopropyl alcohol", "agent", "isopropanol"),
        ("undue", "verb", "unscrew"),
        ("ribbon cable", "joint", "connector"),
        ("coax leads", "joint", "coax"),
    ],
)
def test_phrases_of_the_vocabulary(text, cls, value):
    assert cut(text)[0].may[cls] == value


@given(
    st.lists(
        st.sampled_from("the lid screws 4 2.5 mm PH00 off, and four . (6x) coax lead don't w/ –".split()), min_size=1
    )
)
def test_items_lie_one_after_another_in_the_sentence(words):
    text = " ".join(words)
    end = 0
    for item in cut(text):
        assert end <= item.start < item.end <= len(text)
        assert text[item.start : item.end].strip() == item.text.strip()
        end = item.end


@pytest.mark.parametrize(
    ("text", "verb"),
    [
        ("switch the meter off", "prepare"),
        ("push the whole insert out", "take out"),
        ("the switch is on the left, take it off", ""),
        ("lift the lid straight off", "take out"),
    ],
)
def test_a_verb_and_its_particle_may_stand_apart(text, verb):
    assert next((i for i in cut(text) if i.low in ("switch", "push", "lift")), None).may.get("verb", "") == verb


@pytest.mark.parametrize(
    ("base", "wanted"),
    [("pry", {"pries", "pried", "prying"}), ("release", {"releases", "released", "releasing"}), ("press", {"presses"})],
)
def test_forms_of_verbs(base, wanted):
    assert wanted <= set(forms(base, {"pry": ["pries", "pried", "prying"]}))


def test_words_of_a_phrase_are_cut_as_a_sentence_is():
    assert words_of("Flip-lock  ribbon") == ("flip", "lock", "ribbon")


@given(st.sampled_from(TAKEN_BACK), st.integers(1, 19), st.integers(1, 19))
def test_a_figure_put_right_at_once_is_not_heard_and_moves_nothing(slip, wrong, right):
    said = f"Undo {in_words(wrong)}{slip}{in_words(right)} T6 screws."
    heard = put_right(said)
    assert len(heard) == len(said)
    assert heard.split() == f"Undo {in_words(right)} T6 screws.".split()
    assert [c.number for c in cut(said) if c.number is not None] == [right]
    assert all(said[c.start : c.end] == c.text for c in cut(said))


@pytest.mark.parametrize(
    "said", ["There are two here, no screws there.", "No, four screws.", "Two, three or four clips."]
)
def test_what_was_not_taken_back_is_heard(said):
    assert put_right(said) == said
