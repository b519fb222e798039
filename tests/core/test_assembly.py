"""Assembly: what the words of marked spans come to. The spans are set by hand here, as a careful reader would."""

import pytest
from attrs import evolve
from hypothesis import given
from hypothesis import strategies as st
from text_to_num import text2num

from oddbolt.core.narration import Memory, read, shipped
from oddbolt.core.narration.assembly.acts import acts_in
from oddbolt.core.narration.assembly.beside import Beside, joined
from oddbolt.core.narration.assembly.by_length import count_or_diameter, pairs_in, without_pairs
from oddbolt.core.narration.assembly.by_words import by_words, roughly
from oddbolt.core.narration.assembly.continued import shown
from oddbolt.core.narration.assembly.figures import (
    drive_of,
    length_of,
    number_of,
    quantities,
)
from oddbolt.core.narration.assembly.names import plain_name
from oddbolt.core.narration.assembly.plausible import checked
from oddbolt.core.narration.assembly.settle import NEARLY, _doubted, settled
from oddbolt.core.narration.assembly.several import count_of
from oddbolt.core.narration.assembly.sounds import mended, spoken
from oddbolt.core.narration.assembly.steps import ALONG, assembled
from oddbolt.core.narration.assembly.story import HOPED, TWICE, announce
from oddbolt.core.narration.assembly.sureness import NAMELESS, WEIGHTS, named, right
from oddbolt.core.narration.assembly.tallies import numbers_in, spread_out
from oddbolt.core.narration.assembly.utterance import Utterance
from oddbolt.core.narration.doubts import meanings, settled_on
from oddbolt.core.narration.draft import DraftStep, Reading
from oddbolt.core.narration.understanding import ACTS, Span, Understood
from oddbolt.core.reference.tables import drives

V = shipped()
SIZES = [(row.id, size, row.prefix) for row in drives().values() if row.prefix for size in row.sizes]
WORDS = "zero one two three four five six seven eight nine ten".split()


def heard(text, *marks, **whole):
    """An utterance with spans ("unscrew", "screws") on the first or ("out", "lid", 1) the n-th of these words."""
    spans = []
    for label, words, *nth in marks:
        at = -1
        for _ in range(1 + (nth[0] if nth else 0)):
            at = text.index(words, at + 1)
        spans.append(Span(label, at, at + len(words), 0.95))
        whole.setdefault(label, 0.95)
    spans += [
        Span(a, len(text), len(text), p) for a, p in whole.items() if a in ACTS and a not in {s.label for s in spans}
    ]
    return Understood(text, tuple(sorted(spans, key=lambda s: s.start)), whole)


def said(memory, text, *marks, **whole):
    work = Utterance(text, memory, V)
    assembled(work, heard(text, *marks, **whole))
    memory.steps.extend(work.steps)
    for amended in work.amends:
        memory.steps = [amended if s.ref == amended.ref else s for s in memory.steps]
    return work


@given(st.integers(1, 99))
def test_a_number_is_read_in_figures_and_in_words(n):
    tens = ("", "", "twenty", "thirty", "forty", "fifty", "sixty", "seventy", "eighty", "ninety")
    teens = "ten eleven twelve thirteen fourteen fifteen sixteen seventeen eighteen nineteen".split()
    words = (
        WORDS[n] if n < 10 else teens[n - 10] if n < 20 else f"{tens[n // 10]}-{WORDS[n % 10]}".removesuffix("-zero")
    )
    assert text2num(words.replace("-", " "), "en") == n  # the library as oracle of the words made here
    assert number_of(words, V) == number_of(str(n), V) == n
    assert number_of(f"{n}x", V) == n


@pytest.mark.parametrize(("drive", "size", "prefix"), SIZES)
def test_every_size_code_is_read_written_and_spoken(drive, size, prefix):
    digits = size.removeprefix(prefix)
    for text in (size, size.lower(), f"{prefix} {digits}", f"{prefix}-{digits}"):
        assert drive_of(text, V) == (drive, size), text
    if digits.isdigit() and int(digits) < 10 and digits != "00" and len(digits) == 1:
        assert drive_of(f"{prefix} {WORDS[int(digits)]}", V) == (drive, size)


@pytest.mark.parametrize(
    ("text", "drive", "size"),
    [
        ("tea five", "hexalobular", "T5"),
        ("pee aitch double zero", "cross", "PH00"),
        ("PH triple zero", "cross", "PH000"),
        ("cross-head number two", "cross", "PH2"),
        ("2.5 hex", "hex-socket", "2.5"),
        ("two-millimetre hex key", "hex-socket", "2"),
        ("13 mm across the flats", "external-hex", "13"),
        ("slotted, 1.2 mm blade", "slotted", "1.2"),
        ("star number twenty", "hexalobular", "T20"),
        ("the lid", "", ""),
    ],
)
def test_drives_as_they_are_spoken(text, drive, size):
    assert drive_of(text, V) == (drive, size)


@pytest.mark.parametrize(
    ("text", "numbers", "count"),
    [
        ("nine screws: seven short, two long", ["nine", "seven", "two"], 9),
        ("two above and two below", ["two", "two"], 4),
        ("four, no, five screws", ["four", "five"], 5),
        ("five in all, two are longer", ["five", "two"], 5),
        ("for screws", ["for"], 4),
    ],
)
def test_counts_said_twice_are_counted_once(text, numbers, count):
    spans, at = [], 0
    for word in numbers:
        at = text.index(word, at)
        spans.append((at, at + len(word)))
        at += len(word)
    assert count_of(spans, text, V) == count


def test_lengths_and_names():
    assert [length_of(t, V) for t in ("x16", "twelve mil", "40 long", "3.5 mm", "longer")] == [16, 12, 40, 3.5, None]
    assert [plain_name(t) for t in ("the mtr lead", "both gaskets", "it", "new bd", "off")] == [
        "motor lead",
        "gaskets",
        "",
        "board",
        "",
    ]
    assert plain_name("back", "take off the ") == "back"


def test_two_nouns_of_one_verb_are_two_steps():
    work = said(Memory(), "minute hand, hour hand off", ("out", "minute hand"), ("out", "hour hand"))
    assert [(s.action, s.parts) for s in work.steps] == [("take out", ("minute hand",)), ("take out", ("hour hand",))]


def test_a_number_goes_to_what_it_counts():
    text = "board 2x PH1, out with both leads"
    work = said(Memory(), text, ("held", "board"), ("n", "2"), ("unscrew", "PH1"), ("size", "PH1"), ("out", "leads"))
    assert (work.steps[0].count, work.steps[0].size, work.steps[0].parts) == (2, "PH1", ("board",))


def test_screws_announced_are_counted_where_they_are_done():
    memory = Memory()
    first = said(memory, "There are four PH1 in the lid", ("n", "four"), ("size", "PH1"), ("held", "lid"), announce=0.9)
    assert not first.steps
    done = said(memory, "and out they come", ("unscrew", "they"))
    assert [(s.count, s.size, s.parts) for s in done.steps] == [(4, "PH1", ("lid",))]
    assert not said(memory, "lid off", ("out", "lid")).steps[1:], "they are not logged again"


def test_screws_announced_and_passed_over_are_out_when_what_they_hold_comes_off_and_that_is_doubted():
    memory = Memory()
    said(memory, "four PH1 hold the lid", ("n", "four"), ("size", "PH1"), ("held", "lid"), announce=0.9)
    steps = said(memory, "lid off", ("out", "lid")).steps
    assert [(s.action, s.count) for s in steps] == [("unscrew", 4), ("take out", None)]
    assert steps[0].doubt


def test_a_correction_changes_the_step_before_and_nothing_else():
    memory = Memory()
    said(memory, "four T8 from the lid", ("n", "four"), ("unscrew", "T8"), ("size", "T8"), ("held", "lid"))
    before = memory.steps[-1]
    work = said(memory, "sorry, those were T5", ("size", "T5"), correct=0.95)
    assert not work.steps
    after = work.amends[0]
    assert (after.ref, after.size, after.count, after.parts) == (before.ref, "T5", 4, ("lid",))
    assert set(after.corrects) == {"drive", "size"}


def test_a_pronoun_is_what_was_named_before_and_out_is_out():
    memory = Memory()
    said(memory, "undo the clips of the fan and lift it out", ("unclip", "clips"), ("held", "fan"), ("out", "it"))
    assert memory.steps[-1].parts == ("fan",)
    assert "fan" in memory.out
    said(memory, "then the second bracket", ("out", "second bracket"))
    assert memory.steps[-1].parts == ("second bracket",)


def test_a_part_that_nobody_named_is_asked_and_not_guessed():
    memory = Memory(parts=["Fan", "Lid", "Seal"], out={"seal"})
    step = said(memory, "three screws out", ("n", "three"), ("unscrew", "screws")).steps[0]
    assert step.parts == ()
    assert meanings(step, memory) == ("Lid", "Fan")
    assert settled_on(step, "Fan").parts == ("Fan",)
    assert meanings(settled_on(step, "Fan"), memory) == ()
    assert said(memory, "undo its screws", ("unscrew", "screws")).steps[0].parts == ("Lid",)


def test_the_mass_of_glue_is_not_weighed_and_one_flap_is_opened_once():
    text = "fifty milligrams of gel on the chip"
    both = heard(text, ("stick", "gel"), ("weigh", "fifty milligrams"), weigh=0.6)
    assert [a.action for a in acts_in(both)] == ["stick"]
    flap = heard("the flap of the free arm opens", ("open", "flap"), ("open", "arm"))
    assert len(acts_in(flap)) == 1


def test_putting_back_has_its_phase_until_something_is_taken_out():
    memory = Memory()
    said(memory, "fan in, four screws", ("place", "fan"), ("n", "four"), ("fasten", "screws"))
    assert memory.phase == "back"
    assert [s.phase for s in memory.steps] == ["put back", "put back"]
    assert memory.steps[-1].parts == ("fan",)
    said(memory, "lid off again", ("out", "lid"))
    assert memory.phase == "apart"


@given(st.sampled_from(sorted(n for n in V.nouns if " " not in n)))
def test_a_word_for_a_part_is_never_put_right_into_another(noun):
    assert mended(noun, "", V.nouns, V.listed) == noun


@pytest.mark.parametrize(
    ("name", "after", "meant"),
    [
        ("bored", " comes out", "board"),
        ("speed censor", "", "speed sensor"),
        ("clamp leaver", " up", "clamp lever"),
        ("sole", " annoyed has too", "solenoid"),
        ("knee dell", "", "needle"),
        ("key pad", "", "key pad"),
        ("wring", " all round", "ring"),
        ("left bolt", "", "left bolt"),
        ("eye cup", "", "eye cup"),
        ("flurb", " is free", "flurb"),
        ("cowl", "", "cowl"),
        ("fan hood", " off", "fan hood"),
        ("batten", "", "batten"),
    ],
)
def test_a_misheard_part_is_the_one_that_sounds_the_same(name, after, meant):
    assert mended(name, after, V.nouns, V.listed) == meant
    assert spoken(f"the {name}{after} and the rest")
    assert not spoken(f"The {name}, then.")


def test_a_part_put_right_by_its_sound_is_asked_until_it_was_spoken_of():
    memory = Memory()
    (first,) = said(memory, "so the bored lifts out now", ("out", "bored")).steps
    assert first.parts == ("board",)
    assert first.unsure() == "parts not sure"
    (again,) = said(Memory(parts=["main board"]), "and the bored folds back", ("fold", "bored")).steps
    assert again.parts == ("main board",)
    assert not again.unsure()


@pytest.mark.parametrize(
    ("text", "n"),
    [
        ("two clips each side", 4),
        ("two clips, one each side", 2),
        ("four hooks, one in each corner", 4),
        ("2+2 clips", 4),
        ("three pairs of screws", 6),
    ],
)
def test_a_count_is_taken_as_often_as_the_places_named_with_it(text, n):
    number = text.split()[0]
    marks = [] if "+" in number else [("n", number)]
    noun = next(w for w in ("clips", "hooks", "screws") if w in text)
    work = said(Memory(), text, ("unclip" if noun != "screws" else "unscrew", noun), *marks)
    assert work.steps[0].count == n


def test_what_is_only_named_goes_on_with_the_step_before_and_is_asked():
    memory = Memory()
    said(memory, "take out the left bracket", ("out", "left bracket"))
    for text, action, part in (
        ("Now the right one.", "take out", "right bracket"),
        ("And then the fan lead.", "disconnect", "fan lead"),
        ("The diffuser too.", "take out", "diffuser"),
    ):
        (step,) = said(memory, text).steps
        assert (step.action, step.parts) == (action, (part,)), text
        assert step.doubt
        assert step.sure < 0.6
    assert not said(memory, "Now the tricky bit.").steps
    assert not said(memory, "And the cover.", caution=0.9).steps


def test_a_second_group_in_one_breath_holds_the_same_part_and_after_a_stop_it_does_not():
    marks = (("held", "base"), ("unscrew", "PH1"), ("n", "4"), ("unscrew", "T10"), ("n", "1", 2))
    assert said(Memory(), "base: 4 PH1, 1 T10", *marks[:3], ("unscrew", "T10")).steps[1].parts == ("base",)
    assert not said(Memory(), "base: 4 PH1. 1 T10", *marks[:3], ("unscrew", "T10")).steps[1].parts


@pytest.mark.parametrize(
    ("text", "drive", "size"),
    [
        ("2.5 mm hex socket", "hex-socket", "2.5"),
        ("point nine hex", "hex-socket", "0.9"),
        ("slotted, one and a half mil blade", "slotted", "1.5"),
        ("five-lobe of 0.8 mm", "five-lobe", "0.8"),
        ("three-wing driver, 1.2 mm", "three-wing", "1.2"),
        ("24 mm open spanner", "external-hex", "24"),
        ("1/4 hex", "hex-socket", "6.35"),
        ("quarter-inch socket", "external-hex", "6.35"),
        ("1/4 t", "", ""),
        ("3/4 screws", "", ""),
    ],
)
def test_the_width_of_a_tool_keeps_its_tenths(text, drive, size):
    assert drive_of(text, V) == (drive, size)


@pytest.mark.parametrize(
    ("text", "n"),
    [
        ("two drivers, each held by four screws", 8),
        ("four small brackets, each with one slotted screw", 4),
        ("two screws on each of the three arms", 6),
        ("2 x T20 front, 2 x T20 rear screws", 4),
        ("2 x T20 each side, 2 x T20 rear screws", 6),
        ("2+2 screws each side", 4),
        ("two screws, then each of the clips", 2),
        ("4x PZ1x16 rear, 2x PZ1x10 front screws", 4),
    ],
)
def test_things_that_have_some_screws_each_are_multiplied(text, n):
    noun = "screws" if "screws" in text else "screw"
    assert said(Memory(), text, ("unscrew", noun)).steps[0].count == n


def test_what_was_expected_and_then_done_is_counted_once():
    memory = Memory()
    work = said(memory, "now the grille should lift off", ("out", "grille"))
    memory.steps[-1] = evolve(work.steps[0], doubt=HOPED)
    assert not said(memory, "there we go, the grille is off", ("out", "grille")).steps
    assert [(s.parts, s.doubt) for s in memory.steps] == [(("grille",), "")]
    (again,) = said(memory, "grille off", ("out", "grille")).steps
    assert again.doubt == TWICE
    (other,) = said(memory, "another grille off", ("out", "grille")).steps
    assert not other.doubt
    said(memory, "the gearbox cover is off", ("out", "gearbox cover"))
    (short,) = said(Memory(steps=memory.steps, out={"gearbox cover"}), "cover off", ("out", "cover")).steps
    assert short.doubt == TWICE


def test_screws_that_were_only_counted_take_the_size_told_with_them_when_they_are_out():
    memory = Memory()
    said(memory, "five screws, one of them under the foam", ("unscrew", "screws"), ("n", "five"), ("under", "foam"))
    work = said(memory, "so five T8 screws out", ("unscrew", "screws"), ("n", "five"), ("size", "T8"))
    assert not work.steps
    assert [(s.count, s.size, s.under) for s in memory.steps] == [(5, "T8", ("foam",))]
    for text in ("another five T8 screws out", "five T8 screws out of the base"):
        before = Memory(steps=[DraftStep("unscrew", joint="screw", count=5, place="top", ref="d9")])
        marks = [("held", "base")] if "base" in text else []
        assert said(before, text, ("unscrew", "screws"), ("n", "five"), ("size", "T8"), *marks).steps, text
    (more,) = said(memory, "five PH1 screws out", ("unscrew", "screws"), ("n", "five"), ("size", "PH1")).steps
    assert more.size == "PH1"


def test_it_is_what_the_sentence_before_showed():
    assert shown("So this is the vacuum motor.", V) == "vacuum motor"
    assert shown("Underneath we've got the battery pack, in a cage.", V) == "battery pack"
    assert not shown("This is the tricky bit.", V)
    work = said(Memory(parts=["Cover"], shown="vacuum motor"), "it lifts out", ("out", "it"))
    assert work.steps[0].parts == ("vacuum motor",)
    assert "parts not sure" in work.steps[0].unsure()


@pytest.mark.parametrize(
    ("text", "out"),
    [
        ("i take them all out", True),
        ("got those out", True),
        ("all six are out", True),
        ("don't take them out yet", False),
        ("they should be out later", False),
        ("these are long", False),
    ],
)
def test_announced_screws_of_which_only_it_is_said_that_they_are_out(text, out):
    memory = Memory(announced=DraftStep("unscrew", joint="screw", count=6, drive="cross", size="PH0"))
    assert [(s.count, s.size) for s in said(memory, text).steps] == ([(6, "PH0")] if out else [])
    assert (memory.announced is None) == out


@pytest.mark.parametrize(
    ("text", "name"),
    [
        ("take the second bracket out", "second bracket"),
        ("left cover off", "left cover"),
        ("put back lid", "lid"),
        ("came off first lid", "lid"),
        ("fan out, rear cover off", "rear cover"),
    ],
)
def test_which_of_several_belongs_to_a_name_and_a_way_does_not(text, name):
    head = name.split()[-1]
    assert said(Memory(), text, ("out", head)).steps[-1].parts == (name,)


def test_a_size_keeps_what_stands_before_its_point():
    text = "one grub screw, one point five hex"
    assert said(Memory(), text, ("loosen", "screw"), ("size", "five hex")).steps[0].size == "1.5"


@pytest.mark.parametrize(("said_so", "parts"), [("four T6, teeny", ()), ("four T6 in the teeny", ("teeny",))])
def test_a_stray_word_of_the_rules_is_no_part_and_one_shown_to_be_a_thing_is(said_so, parts):
    mine = DraftStep("unscrew", joint="screw", count=4, said=said_so, ref="d1")
    theirs = DraftStep("unscrew", joint="screw", count=4, parts=("teeny",), said=said_so, ref="r1")
    beside = Beside([theirs], {}, set(), V.nouns, (), frozenset())
    assert joined(mine, beside).parts == parts


def test_what_comes_along_is_asked_and_a_tool_does_not_come_along():
    first, along = said(Memory(), "the trigger falls out with its spring", ("out", "trigger")).steps
    assert (first.parts, along.parts) == (("trigger",), ("spring",))
    assert along.doubt == ALONG
    assert not first.doubt
    for text in ("the cell comes out with the card", "the fan lifts out with its lead"):
        assert len(said(Memory(), text, ("out", text.split()[1])).steps) == 1, text


@pytest.mark.parametrize(
    ("text", "marks", "count", "drive", "size"),
    [
        ("speed pot nut 11", [("unscrew", "nut"), ("size", "11")], 1, "external-hex", "11"),
        ("earth tag M4 nut 7AF", [("unscrew", "nut"), ("size", "7AF")], 1, "external-hex", "7"),
        ("this is a fourteen nut", [("unscrew", "nut"), ("size", "fourteen")], 1, "external-hex", "14"),
        ("two tea twenty fives off", [("unscrew", "twenty fives"), ("n", "two"), ("size", "tea twenty fives")],
         2, "hexalobular", "T25"),
        ("eight more screws two in each corner", [("unscrew", "screws"), ("n", "eight")], 8, "unknown", ""),
        ("the tensioner screw one turn", [("loosen", "screw"), ("n", "one", 1)], 1, "", ""),
        ("loosen, two turns each, the three bolts", [("loosen", "bolts"), ("n", "three")], 3, "", ""),
        ("seven short and two long ones", [("unscrew", "ones"), ("n", "seven"), ("n", "two")], 9, "unknown", ""),
        ("four screws, two of them long", [("unscrew", "screws"), ("n", "four"), ("n", "two")], 4, "unknown", ""),
        ("both paddles (one screw each)", [("unscrew", "screw"), ("n", "both")], 2, "unknown", ""),
    ],
)  # fmt: skip
def test_a_figure_of_something_else_is_not_the_count(text, marks, count, drive, size):
    """Common practice, no source: a number beside a nut is its width across flats."""
    step = said(Memory(), text, *marks).steps[0]
    assert (step.count, step.drive, step.size) == (count, drive, size)


def test_only_screws_that_were_announced_are_out_when_what_they_held_comes_off():
    for shown_first, steps in (("four cables hang from it", 1), ("four screws hold it", 2)):
        memory = Memory()
        said(memory, shown_first, ("n", "four"), announce=0.95)
        assert len(said(memory, "the lamp falls out", ("out", "lamp")).steps) == steps


@pytest.mark.parametrize(
    ("text", "word", "name"),
    [("Bottom off.", "Bottom", "bottom"), ("back 4x T6", "back", "back"), ("back together now", "back", "")],
)
def test_a_side_that_begins_a_clause_is_the_part_of_that_name(text, word, name):
    step = said(Memory(), text, ("out", word)).steps
    assert [p.lower() for s in step for p in s.parts] == ([name] if name else [])


@pytest.mark.parametrize(
    ("text", "count"),
    [
        ("Pull the ten-way ribbon.", 1),
        ("Pull the 4 pin plug.", 1),
        ("9 scr IP8 in R shell: 7 short, 2 long (20) at nose", 9),
        ("Three screws at the front, two at the back.", 5),
        ("pot nut 11 off", 1),
    ],
)
def test_the_rules_count_no_ways_widths_or_parts_of_a_group(text, count):
    reading, _ = read(text, Memory(), evolve(V, tagger=None))
    assert [s.count for s in reading.steps] == [count]


@pytest.mark.parametrize(
    ("text", "marks", "amended"),
    [
        ("the nut off with a thirteen spanner", [("unscrew", "nut"), ("size", "thirteen spanner")], False),
        ("a screw, T8, holds the clip; I removed it", [("unscrew", "screw"), ("size", "T8")], False),
        ("they're all T8", [("unscrew", "T8"), ("size", "T8")], True),
    ],
)
def test_a_size_told_later_goes_to_the_screws_before_only_if_they_are_meant(text, marks, amended):
    memory = Memory()
    said(memory, "eight screws out", ("unscrew", "screws"), ("n", "eight"))
    work = said(memory, text, *marks)
    assert bool(work.amends) == amended
    assert bool(work.steps) != amended


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("two on the left, two on the right and one in the centre", (2, 2, 1)),
        ("five screws, three on the left and two on the right", (3, 2)),
        ("two screws at the front, three at the back", (2, 3)),
        ("four clips, one on each side", ()),
        ("two on the left, two on the left", ()),
    ],
)
def test_numbers_told_of_several_places_are_told_apart(text, told):
    assert spread_out(text, V) == told
    assert set(told) <= numbers_in(text, V)


def test_one_number_is_not_count_and_length_and_a_piece_of_foam_is_foam():
    lock = ("back: P2 x6, one w/ blue lock", ("unscrew", "P2"), ("size", "P2"))
    for marks in ((("n", "6"), ("n", "one")), (("len", "x6"),)):
        step = said(Memory(), *lock, *marks).steps[0]
        assert (step.count, step.length_mm) == (6, None)
    assert said(Memory(), "pull out the strip of the band", ("out", "strip")).steps[0].parts == ("strip",)
    assert said(Memory(), "pull out the piece of foam", ("out", "piece")).steps[0].parts == ("foam",)


def test_a_part_stays_out_when_another_mention_of_it_is_not_drafted():
    text = "perhaps the hub … maybe, I think, 3 or 5 or 7?"
    unsure = evolve(heard(text, out=0.5), spans=(Span("out", text.index("hub"), text.index("hub") + 3, 0.5),))
    for out in (set(), {"hub"}):
        work = Utterance(text, Memory(parts=["hub"], out=set(out)), V)
        reading = settled(work, unsure, Reading(text), Memory())
        assert [s.parts for s in work.steps] == [("hub",)]  # understood, but hardly ever right
        assert not reading.steps
        assert work.memory.out == out


@pytest.mark.parametrize(
    ("text", "marks", "count"),
    [
        ("two screws left, two screws right", [("n", "two"), ("n", "two", 1)], 4),
        ("four from this side, four from that side", [("n", "four"), ("n", "four", 1)], 8),
        ("three screws along the hinge and the one beneath the lug", [("n", "three"), ("n", "one")], 4),
        ("four screws and the one in the middle is longer", [("n", "four"), ("n", "one")], 4),
        ("of eleven screws nine are T8 and two longer", [("n", "eleven"), ("n2", "two")], 11),
        ("the switches have two screws each, together four", [("n", "four")], 4),
    ],
)
def test_numbers_of_two_places_are_added_and_the_whole_stands(text, marks, count):
    act = ("unscrew", "screws" if "screws" in text else "four")
    assert said(Memory(), text, act, *marks).steps[0].count == count


@pytest.mark.parametrize(
    ("text", "act", "things", "count"),
    [
        ("lens of shade of bulb out", "out", ("lens", "shade", "bulb"), 3),
        ("connect the battery connect the antenna", "connect", ("battery", "antenna"), 2),
        ("J1 J4 J5 unplugged", "disconnect", ("J1", "J4", "J5"), 3),
        ("the flap of the free arm", "out", ("flap", "arm"), 1),
        ("the plunger in the coil", "place", ("plunger", "coil"), 1),
    ],
)
def test_in_talk_without_stops_each_thing_is_an_act_and_what_it_stands_in_is_none(text, act, things, count):
    steps = said(Memory(), text, *((act, t) for t in things)).steps
    assert [s.parts[0] for s in steps] == list(things[:count])


def test_a_number_belongs_to_the_kind_of_thing_that_it_counts():
    marks = ("disconnect", "camera"), ("unscrew", "screws"), ("n", "two"), ("n", "one")
    steps = {s.action: s.count for s in said(Memory(), "camera in the sledge, two screws and one plug", *marks).steps}
    assert steps == {"disconnect": 1, "unscrew": 2}


def test_a_number_behind_a_cross_counts_what_stands_before_it():
    marks = ("peel", "feet"), ("unscrew", "PH00"), ("n", "x4"), ("n", "4x"), ("size", "PH00")
    steps = {s.action: s.count for s in said(Memory(), "feet x4 peeled -> 4x PH00", *marks).steps}
    assert steps == {"peel": 4, "unscrew": 4}


def test_a_name_ends_where_the_words_of_another_act_begin():
    marks = ("connect", "plug"), ("place", "spring"), ("place", "lid")
    assert [s.parts for s in said(Memory(), "plug spring lid", *marks[:2]).steps] == [("plug",), ("spring lid",)]
    assert said(Memory(), "the metal frame, rubber I pull off", ("out", "rubber")).steps[0].parts == ("rubber",)


def test_the_sum_of_the_groups_that_follow_is_no_group():
    text = "Eight screws out of the back, five T8s and three T6s."
    marks = ("unscrew", "screws"), ("n", "five"), ("size", "T8"), ("unscrew", "T6"), ("n", "three"), ("size", "T6")
    known = evolve(V, tagger=lambda *_: heard(text, *marks))
    assert [(s.count, s.size) for s in read(text, Memory(), known)[0].steps] == [(5, "T8"), (3, "T6")]


def test_the_network_is_told_what_was_done_before_and_chat_does_not_end_it():
    asked = []

    def listen(text, phase, before):
        asked.append(before)
        return heard(text, ("out", "lid")) if "lid" in text else Understood(text, (), {"chat": 0.9})

    memory = Memory()
    for text in ("The lid comes off.", "Right, where is my tea.", "And two more."):
        _, memory = read(text, memory, evolve(V, tagger=listen))
    assert asked == ["", "out", "out"]


def test_parts_of_an_inch_are_a_width_and_no_count_and_a_width_is_no_length():
    """One inch is 25.4 mm (international yard and pound agreement of 1959, from memory, unverified)."""
    for text, size in (("two 3/16 hex screws hold the lid", "4.76"), ("two half-inch bolts", "")):
        reading, _ = read(text, Memory(), evolve(V, tagger=None))
        assert [s.count for s in reading.steps] == [2], text
        step = said(Memory(), text, ("unscrew", text.split()[-1] if size == "" else "screws"), ("n", "two")).steps[0]
        assert (step.count, step.size) == (2, size)
    text = "one bolt, ten mil, holds it"
    known = evolve(V, tagger=lambda *_: heard(text, ("unscrew", "bolt"), ("size", "ten mil"), ("len", "ten mil")))
    assert [(s.size, s.length_mm) for s in read(text, Memory(), known)[0].steps] == [("10", None)]
    for act in ("unscrew", "loosen", "fasten"):
        step = said(Memory(), "the nut, seven mil", (act, "nut"), ("size", "seven mil")).steps[0]
        assert (step.drive, step.size) == ("external-hex", "7"), act


@pytest.mark.parametrize(
    ("text", "act", "marks", "count"),
    [
        ("slacken terminals 7 to 10", ("loosen", "terminals"), [("n", "7")], 4),
        ("connectors J1 to J4 were drawn", ("disconnect", "connectors"), [("n", "to")], 4),
        ("leads 1, 2 and 5 off", ("disconnect", "leads"), [("n", "5")], 3),
        ("screws T5 to T8", ("unscrew", "screws"), [("size", "T5")], None),
        ("unplug it at X6", ("disconnect", "it"), [("n", "X6")], None),
        ("four screws and both of its cables", ("fasten", "screws"), [("n", "four"), ("n", "both")], 4),
        ("two clips under the plug", ("disconnect", "plug"), [("n", "two")], None),
        ("now the amp board. Three plugs", ("disconnect", "board"), [("n", "Three")], 3),
        ("desolder the three pins", ("desolder", "pins"), [("n", "three")], 3),
        ("tighten bolts 8 to 10 newton metres", ("fasten", "bolts"), [], None),
        ("screws 6 to 8 long", ("unscrew", "screws"), [], None),
        ("board A12-14 screws", ("unscrew", "screws"), [], None),
        ("undo the four under the wires", ("unscrew", "undo"), [("n", "four")], 4),
    ],
)
def test_things_told_by_their_numbers_are_counted_and_numbers_of_others_are_not(text, act, marks, count):
    assert said(Memory(), text, act, *marks).steps[0].count == count


def test_screws_of_each_side_in_short_notes_are_counted_on_both_and_hold_no_side():
    text = "hinge 2 T8 ea side"
    known = evolve(V, tagger=lambda *_: heard(text, ("unscrew", "T8"), ("size", "T8"), ("held", "hinge")))
    assert [(s.count, s.parts) for s in read(text, Memory(), known)[0].steps] == [(4, ("hinge",))]
    bare = evolve(V, tagger=lambda *_: heard(text[6:], ("unscrew", "T8"), ("size", "T8")))
    assert [(s.count, s.parts) for s in read(text[6:], Memory(), bare)[0].steps] == [(4, ())]


def test_fasteners_that_hold_nobody_knows_what_are_asked_for_that_and_not_doubted_as_well():
    told = [0.0] * len(WEIGHTS)
    told[0], told[NAMELESS] = 1.0, 1.0
    assert right(told, False) < right(named(told), False) == right([1.0, *[0.0] * (len(WEIGHTS) - 1)], False)
    assert _doubted(DraftStep("unscrew"), 0.7, 0.9).doubt == ""
    assert _doubted(DraftStep("unscrew"), 0.7, 0.7).doubt
    assert _doubted(DraftStep("fasten"), 0.7, 0.9).doubt


def test_a_plural_of_which_no_number_is_told_is_as_many_as_were_told_before():
    memory = Memory()
    memory.note_count("rubber feet", 4)
    (feet,) = said(memory, "The feet go back on.", ("place", "feet")).steps
    assert feet.count == 4
    (some,) = said(memory, "Some of the feet go back on.", ("place", "feet")).steps
    assert some.count is None
    memory.note_count("feet", 2)
    assert memory.copy().many["foot"] == 0  # four and two: nobody knows
    (feet,) = said(memory, "The feet go back on.", ("place", "feet")).steps
    assert feet.count is None


def test_a_new_one_is_the_part_that_came_out_last_and_is_asked():
    memory = Memory()
    said(memory, "The relay is out, and I weigh the pump.", ("out", "relay"), ("weigh", "pump"))
    (new,) = said(memory, "New one goes in.", ("place", "one")).steps
    assert new.parts == ("relay",)
    assert any(p.field == "parts" and p.sure < 0.5 for p in new.pieces)
    (none,) = said(Memory(), "New one goes in.", ("place", "one")).steps
    assert none.parts == ()


def test_shorthand_that_begins_a_name_spoken_of_before_is_that_name_and_a_word_of_its_own_is_not():
    memory = Memory(parts=["agitator", "pinion"])
    assert said(memory, "agit out", ("out", "agit")).steps[0].parts == ("agitator",)
    assert said(memory, "pin out", ("out", "pin")).steps[0].parts == ("pin",)


@pytest.mark.parametrize("word", ["two", "glued", "bled", "unlocked", "won"])
def test_a_number_or_what_was_done_is_no_part(word):
    assert plain_name(word) == ""
    assert plain_name(f"{word} lid") != ""


def test_two_groups_of_which_each_has_its_number_and_its_part_are_two():
    text = "The four T15 at the corners, and the two at the gland plate, are out."
    marks = [
        ("unscrew", "T15"),
        ("size", "T15"),
        ("n", "four"),
        ("at", "corners"),
        ("n", "two"),
        ("held", "gland plate"),
    ]
    steps = said(Memory(), text, *marks).steps
    assert [(s.count, s.size, s.parts) for s in steps] == [(4, "T15", ()), (2, "T15", ("gland plate",))]
    text = "case down three screws door on one screw"
    marks = [("place", "case"), ("held", "case"), ("n", "three"), ("fasten", "screws"), ("place", "door")]
    marks += [("held", "door"), ("n", "one"), ("fasten", "screw", 1)]
    steps = said(Memory(), text, *marks).steps
    assert [(s.count, s.parts) for s in steps if s.action == "fasten"] == [(3, ("case",)), (1, ("door",))]


def test_tabs_counted_behind_a_thing_or_of_it_are_its_plugs():
    text = "Three tabs were pulled from the stat and two from the switch."
    marks = [("n", "Three"), ("disconnect", "stat"), ("n", "two"), ("disconnect", "switch")]
    assert [s.count for s in said(Memory(), text, *marks).steps] == [3, 2]
    text = "Disconnect the motor (2 tabs)."
    assert [s.count for s in said(Memory(), text, ("disconnect", "motor"), ("n", "2")).steps] == [2]


@pytest.mark.parametrize(
    ("text", "act", "told", "count"),
    [
        ("7x PH2 (6 top + 1 strap)", "PH2", "7x 1", 7),
        ("seven screws: five around the rim, two deep in the wells", "screws", "seven five", 7),
        ("scr 8: 5 out, 3 seized", "scr", "8 5", 5),
        ("end caps two screws each side so four", "screws", "two four", 4),
        ("the board with two screws and one of them has a washer", "screws", "two one", 2),
        ("sixteen nuts and only eleven are left, those are out", "nuts", "sixteen eleven", 11),
        ("From six screws I make out only four.", "screws", "six four", 4),
        ("sixteen screws. Two of these were found to be missing.", "screws", "sixteen", 14),
        ("Remove two screws each from the left and the right bracket.", "screws", "two", 4),
        ("the three clamps, one screw M4 each", "screw", "three one", 3),
        ("two busbars; each is held by two M6 nuts", "nuts", "two", 4),
        ("base screws 4/side", "screws", "4", 8),
        ("three screws a side", "screws", "three", 6),
        ("a screw there, a screw there, and one there", "screw", "one", 3),
        ("Four T10s, and then I spotted a fifth under the flap.", "T10s", "Four", 5),
        ("Two pairs of screws hold it; these four I removed.", "screws", "Two four", 4),
        ("six screws from the left and as many from the right", "screws", "six", 12),
        ("nine screws, of which I have undone four", "screws", "nine four", 4),
        ("two nuts on each module. Remove the eight nuts.", "nuts", "two eight", 8),
        ("two three four screws", "screws", "two three four", 4),
        ("two bolts, M8, one at each side", "bolts", "two one", 2),
        ("3 screws M3, dropped 1 in the chassis", "screws", "3 1", 3),
        ("Two screws for the live, two for the neutral", "screws", "Two two", 4),
        ("all seven screws, the long one last", "screws", "seven one", 7),
        ("2x2 T8", "T8", "2x2", 4),
        ("the screws, two of which are under the feet", "screws", "two", None),
        ("jack nut too", "nut", "too", 1),
        ("nine PH1 by 16", "PH1", "nine 16", 9),
    ],
)
def test_several_numbers_of_one_group_come_to_what_their_words_tell(text, act, told, count):
    """Common practice, no source."""
    marks = [("n", word, told.split()[:k].count(word)) for k, word in enumerate(told.split())]
    assert said(Memory(), text, ("unscrew", act), *marks).steps[0].count == count


@given(st.lists(st.integers(1, 12), min_size=2, max_size=4))
def test_parts_told_behind_their_whole_are_not_added_to_it(parts):
    whole = sum(parts)
    text = f"{whole} screws: " + ", ".join(f"{n} at corner {'abcd'[k]}" for k, n in enumerate(parts))
    spans = [(0, len(str(whole)))]
    for n in parts:
        at = text.index(f" {n} at", spans[-1][1]) + 1
        spans.append((at, at + len(str(n))))
    assert count_of(spans, text, V) == whole


@pytest.mark.parametrize(
    ("text", "act", "marks", "count"),
    [
        ("One, two, three, and four, the plate is away.", "plate", [], 4),
        ("four rubber mounts with a bolt through each ten mil heads", "bolt", [("n", "four")], 4),
        ("for screws won in each corner", "screws", [("n", "for")], 4),
        ("two screws either side so that's four", "screws", [("n", "two"), ("n", "four")], 4),
        ("three screws per side and one at the top", "screws", [("n", "three"), ("n", "one")], 7),
        ("two screws, one, two, gone", "screws", [("n", "two"), ("n", "one"), ("n", "two", 1)], 2),
    ],
)
def test_what_stands_beside_each_is_multiplied_only_if_it_is_a_count(text, act, marks, count):
    assert said(Memory(), text, ("unscrew", act), *marks).steps[0].count == count


def test_the_same_number_once_more_before_a_size_is_no_length_and_a_joined_word_is_two():
    (step,) = read("feet 4 -> 4 T10", Memory(), evolve(V, tagger=None))[0].steps
    assert (step.count, step.size, step.length_mm) == (4, "T10", None)
    assert mended("base plait", "", V.nouns, V.listed) == "base plate"


def test_what_hid_fasteners_is_not_what_they_hold():
    text = "Pop the bung out, and hiding behind it is one Y1 screw."
    marks = [("out", "bung"), ("under", "bung"), ("held", "bung"), ("n", "one"), ("size", "Y1"), ("unscrew", "screw")]
    steps = said(Memory(), text, *marks).steps
    assert [(s.action, s.parts) for s in steps] == [("take out", ("bung",)), ("unscrew", ())]
    text = "Peel the label off and get that last one as well."
    steps = said(Memory(), text, ("peel", "label"), ("held", "label"), ("unscrew", "one")).steps
    assert [(s.action, s.parts, s.under) for s in steps][1] == ("unscrew", (), ("label",))


@pytest.mark.parametrize(
    ("text", "parts"),
    [("It just sits in a rubber sleeve, so lift it off.", "lid"), ("It has a shield, so lift it off.", "shield")],
)
def test_what_sits_somewhere_stays_what_it_is(text, parts):
    memory = Memory(parts=["lid"])
    work = Utterance(text, memory, V, spoken=("rubber sleeve",) if "sleeve" in text else ("shield",))
    assembled(work, heard(text, ("out", "it", 1 if "sit" in text else 0)))
    assert work.steps[0].parts == (parts,)


def test_what_was_shown_with_one_screw_is_counted_once_and_screws_of_the_same_size_are_announced_with_it():
    memory = Memory()
    said(memory, "The head is held by one screw.", ("held", "head"), ("n", "one"), ("unscrew", "screw"))
    assert said(memory, "Take the screw out.", ("unscrew", "screw")).steps == []
    memory.drive = ("cross", "PH1")
    text = "three more screws hold the board, same size as before"
    announce(Utterance(text, memory, V), heard(text, ("n", "three"), ("held", "board")))
    assert (memory.announced.count, memory.announced.size) == (3, "PH1")


def test_two_acts_on_the_same_words_both_stand_where_both_are_sure():
    text = "The switch clips out."
    at = text.index("switch")
    for sure, acts in ((0.9, 2), (0.55, 1)):
        spans = (Span("out", at, at + 6, 0.98), Span("unclip", at, at + 6, sure))
        assert len(acts_in(Understood(text, spans, {}))) == acts


@pytest.mark.parametrize(
    ("text", "acts"),
    [
        ("Before removing the lid, unplug the fan.", ["disconnect"]),
        ("Unplug the fan before removing the lid.", ["disconnect"]),
        ("Instead of removing the lid I unplug the fan.", ["disconnect"]),
        ("Remove the lid before you unplug the fan.", ["take out", "disconnect"]),
    ],
)
def test_what_a_clause_puts_off_or_leaves_out_is_not_done(text, acts):
    work = Utterance(text, Memory(), V)
    reading = settled(work, heard(text, ("out", "lid"), ("disconnect", "fan")), Reading(""), Memory())
    assert sorted(s.action for s in reading.steps) == sorted(acts)


def test_what_was_nearly_done_or_forgotten_is_asked():
    text = "I almost took the lid off."
    reading = settled(Utterance(text, Memory(), V), heard(text, ("out", "lid")), Reading(""), Memory())
    assert [s.doubt for s in reading.steps] == [NEARLY]
    text = "Without taking off the lid, undo the two screws."
    marks = [("held", "lid"), ("n", "two"), ("unscrew", "screws")]
    assert said(Memory(), text, *marks).steps[0].parts == ()


@pytest.mark.parametrize(
    ("text", "number", "unit"),
    [
        ("for an hour", 3600.0, "time"),
        ("an hour and a half", 5400.0, "time"),
        ("a quarter of an hour", 900.0, "time"),
        # 1 lbf·in = 0.112 984 8 N·m, 1 lbf·ft = 1.355 818 N·m, 1 lb = 453.592 37 g (NIST SP 811, appendix B)
        ("12 in-lb", 12 * 11.29848, "torque"),
        ("5 foot pounds", 5 * 135.5818, "torque"),
        ("two pounds", 2 * 453.59237, "mass"),
    ],
)
def test_times_torques_and_masses_as_they_are_said(text, number, unit):
    assert [(i.number, i.unit) for i in quantities(text, V)] == [(pytest.approx(number, rel=1e-5), unit)]


@pytest.mark.parametrize(
    ("text", "outs", "parts"),
    [
        ("two screws from the bracket, and lift the fan out", ["bracket", "fan"], ["fan"]),
        ("four screws from the cover, cover off, gasket off", ["cover", "cover1", "gasket"], ["cover", "gasket"]),
        ("four screws from the cover, lift it off, gasket off", ["cover", "gasket"], ["cover", "gasket"]),
    ],
)
def test_of_a_thing_only_its_screws_come_out_unless_it_is_told_of_again(text, outs, parts):
    marks = [("out", name.rstrip("1"), int(name.endswith("1"))) for name in outs]
    acts = acts_in(heard(text, ("unscrew", "screws"), *marks))
    assert [text[a.start : a.end] for a in acts if a.action == "out"] == parts


@pytest.mark.parametrize(
    ("text", "act", "numbers", "many"),
    [
        ("From each of the two brackets I took two nuts.", ("unscrew", "nuts"), ["two", "two1"], 4),
        ("two screws in each of the three arms", ("unscrew", "screws"), ["two", "three"], 6),
        ("Two turns on each of those three screws.", ("loosen", "screws"), ["three"], 3),
        ("They have three screws each, so six screws.", ("unscrew", "screws"), ["three", "six"], 6),
        ("coax 1,2 popped", ("disconnect", "coax"), [], 2),
        ("shield: 4 blobs melted, shield off", ("desolder", "blobs"), ["4"], 4),
        ("The can has six points, all sucked.", ("desolder", "can"), ["six"], 6),
        ("The can has six solder points, all sucked.", ("desolder", "can"), ["six"], 6),
    ],
)
def test_what_each_of_a_few_has_is_counted_once_and_turns_are_none(text, act, numbers, many):
    marks = [("n", n.rstrip("1"), 1 if n.endswith("1") and not n.isdigit() else 0) for n in numbers]
    assert [s.count for s in said(Memory(), text, act, *marks).steps if s.action == act[0]] == [many]


@pytest.mark.parametrize(
    ("text", "many"),
    [
        ("slacken the grub screw two turns", 1),
        ("loosen both bolts by two turns", 2),
        ("two turns on the bolts", None),
        ("two bolts, two turns each", 2),
        ("one screw out of each arm", None),
    ],
)
def test_turns_are_no_screws_whoever_read_them(text, many):
    assert checked(DraftStep("loosen", count=1 if "arm" in text else 2, said=text), text, V).count == many


def test_of_a_group_with_an_odd_one_the_count_is_asked():
    marks = ("unscrew", "T8"), ("n", "Six"), ("size", "T8"), ("n", "one"), ("size", "T9")
    (step,) = said(Memory(), "Six T8, but one is T9.", *marks).steps
    assert any(p.field == "count" and p.sure < 0.5 for p in step.pieces)
    (step,) = said(Memory(), "Six T8 out.", *marks[:3]).steps
    assert not any(p.field == "count" and p.sure < 0.5 for p in step.pieces)


@pytest.mark.parametrize(
    ("text", "act", "words", "many"),
    [
        ("Undo the nut behind the plate.", "unscrew", "nut", 1),
        ("hub nut LH 17, off", "unscrew", "nut", 1),
        ("The nut's off.", "unscrew", "nut", 1),
        ("The grub screw's loose now.", "loosen", "grub screw", 1),
        ("cap on, bolt tight", "fasten", "bolt", 1),
        ("That plug comes out of the board.", "disconnect", "plug", 1),
        ("Snip the zip tie.", "cut", "zip tie", 1),
        ("Screw it down.", "fasten", "Screw", None),
        ("Undo the screws.", "unscrew", "screws", None),
        ("Nut left, nut right.", "unscrew", "Nut", None),
        ("The same nut again on each arm.", "unscrew", "nut", None),
        ("Undo the screw under each foot.", "unscrew", "screw", None),
        ("Back the bolt off three turns.", "loosen", "bolt", 1),
    ],
)
def test_one_fastener_is_one_and_several_are_not(text, act, words, many):
    assert [s.count for s in said(Memory(), text, (act, words)).steps if s.action == act] == [many]


@pytest.mark.parametrize(
    ("text", "marks", "groups"),
    [
        ("Five of these T2s on the frame, plus that one over there which is a PH000.",
         [("n", "Five"), ("size", "T2s"), ("n", "one"), ("size", "PH000")], [(5, "T2"), (1, "PH000")]),
        ("base: 4 hex 3 mm x 12, 1 T10 x 6 under the sticker",
         [("held", "base"), ("n", "4"), ("size", "3 mm"), ("n", "1", 1), ("size", "T10"), ("under", "sticker")],
         [(4, "3"), (1, "T10")]),
        ("six T8, two of them T8 long", [("n", "six"), ("size", "T8"), ("n", "two"), ("size", "T8 long")], [(6, "T8")]),
        ("four T8, no, five T10", [("n", "four"), ("size", "T8"), ("n", "five"), ("size", "T10")], [(5, "T10")]),
    ],
)  # fmt: skip
def test_two_numbers_with_a_size_each_are_two_groups(text, marks, groups):
    steps = said(Memory(), text, ("unscrew", marks[-1][1] if len(marks) == 4 else "T10"), *marks).steps
    assert [(s.count, s.size) for s in steps] == groups
    assert all(s.parts == ("base",) for s in steps) or "base" not in text
    assert [s.under for s in steps][-1] == (("sticker",) if "sticker" in text else ())


@pytest.mark.parametrize(
    ("text", "act", "marks", "told"),
    [
        ("three bolts from below, and a fourth behind the glass", "bolts", [("n", "three")], (4, "unknown", "", None)),
        ("three bolts out, and a fourth sheared", "bolts", [("n", "three")], (3, "unknown", "", None)),
        ("5 T10 at the bottom, 4 came", "T10", [("n", "5"), ("n", "4")], (4, "hexalobular", "T10", None)),
        ("four holes but one is empty, so three screws.", "screws", [("n", "four"), ("n", "three")],
         (3, "unknown", "", None)),
        ("two five-lobe screws of 0.8 mm", "screws", [("n", "two"), ("size", "0.8 mm")], (2, "five-lobe", "0.8", None)),
        ("two five-lobe screws", "screws", [("n", "two"), ("size", "five-lobe")], (2, "five-lobe", "", None)),
        ("six of them cross-head size two", "six", [("n", "six")], (6, "cross", "PH2", None)),
        ("one hex bolt, 3 mm key", "bolt", [("n", "one"), ("size", "3 mm")], (1, "hex-socket", "3", None)),
        ("two hexagon nuts, 7 mm", "nuts", [("n", "two"), ("size", "7 mm")], (2, "external-hex", "7", None)),
        ("4x PH1x8 finger tight", "PH1", [("n", "4"), ("size", "PH1")], (4, "cross", "PH1", 8.0)),
        ("two T6, nine mm long", "T6", [("n", "two"), ("size", "T6")], (2, "hexalobular", "T6", 9.0)),
        ("two T6, 2 mm longer", "T6", [("n", "two"), ("size", "T6")], (2, "hexalobular", "T6", None)),
        ("two black screws, 3 by 12", "screws", [("n", "two"), ("len", "3 by 12")], (2, "unknown", "", 12.0)),
        ("two screws, twelve mil", "screws", [("n", "two"), ("len", "twelve mil"), ("size", "mil")],
         (2, "unknown", "", 12.0)),
        ("screws to suit a two-and-a-half hex key", "screws", [("size", "two-and-a-half hex")],
         (None, "hex-socket", "2.5", None)),
        ("two, no, one hex stand-off", "stand-off", [("n", "two"), ("n", "one")], (1, "stand-off", "", None)),
        ("two screws with the three wings, out", "screws", [("n", "two")], (2, "three-wing", "", None)),
        ("four number 2 cross-heads, ten mm", "cross-heads", [("n", "four"), ("n", "2"), ("held", "cross-heads")],
         (4, "cross", "PH2", 10.0)),
        ("one at the top, two at the sides and six below", "six", [("n", "one"), ("n", "two"), ("n", "six")],
         (9, "unknown", "", None)),
        ("clips one, two, oh, right, six", "six", [("n", "one"), ("n", "two"), ("n", "six")], (6, "unknown", "", None)),
        ("four screws here and those two at the back", "screws", [("n", "four"), ("n", "two")],
         (6, "unknown", "", None)),
        ("the screw, 8 mm long", "screw", [("size", "8 mm")], (1, "unknown", "", 8.0)),
        ("two screws out, and a third one stays", "screws", [("n", "two")], (2, "unknown", "", None)),
        ("two screws with the three wings", "screws", [("n", "two"), ("n", "three")], (2, "three-wing", "", None)),
    ],
)  # fmt: skip
def test_figures_of_fasteners_are_those_that_the_words_tell(text, act, marks, told):
    """Common practice, no source."""
    step = said(Memory(), text, ("unscrew", act), *marks).steps[0]
    assert (step.count, step.drive, step.size, step.length_mm) == told


@pytest.mark.parametrize(
    ("words", "name"),
    [
        ("the hose of water", "water hose"),
        ("Plate of the motor", "motor plate"),
        ("the end of the shaft", "end of the shaft"),
        ("lid slid", "lid"),
        ("power led", "power led"),
        ("analogue sticks", "analogue sticks"),
        ("it say", ""),
        ("mtr lead", "motor lead"),
        ("L", "L"),
        ("L cover", "left cover"),
    ],
)
def test_a_name_is_without_what_belongs_to_no_name(words, name):
    assert plain_name(words, "the ") == name


def test_what_is_pulled_from_what_and_where_each_of_a_few_has_some():
    step = said(Memory(), "Six leads were taken off the relay.", ("disconnect", "leads"), ("n", "Six")).steps[0]
    assert (step.parts, step.count, step.place) == (("leads",), 6, "relay")
    assert (
        said(Memory(), "Six leads were taken off in turn.", ("disconnect", "leads"), ("n", "Six")).steps[0].place == ""
    )
    marks = ("disconnect", "leads"), ("n", "Six"), ("disconnect", "relay")
    assert len(said(Memory(), "Six leads were taken off the relay.", *marks).steps) == 1
    marks = ("disconnect", "leads"), ("disconnect", "fan")
    assert len(said(Memory(), "The leads off the relay, and the fan unplugged.", *marks).steps) == 2
    memory = Memory()
    said(memory, "Four rubber feet peeled off.", ("peel", "rubber feet"), ("n", "Four"))
    under = said(memory, "Under each foot one screw, out.", ("unscrew", "screw"), ("n", "one")).steps[0]
    assert under.count == 4
    corner = said(memory, "In each corner one screw, out.", ("unscrew", "screw"), ("n", "one")).steps[0]
    assert corner.count == 1
    assert said(Memory(), "Insert trays 1 to 4.", ("place", "trays"), ("n", "1"), ("n", "4")).steps[0].count == 4


def test_one_sentence_checks_once_and_a_bead_goes_on_what_is_sealed():
    text = "It rings, the picture is there."
    assert len(said(Memory(), text, ("check", "rings"), ("check", "picture")).steps) == 1
    text = "Seal the new cap with 150 mg of silicone."
    assert said(Memory(), text, ("stick", "silicone")).steps[0].place == "cap"


def test_an_act_that_is_certain_is_kept_in_doubt_where_its_part_is_unsure():
    text = "Hook a nail under the latch, there."
    known = evolve(V, tagger=lambda *_: heard(text, ("unclip", "latch")))
    (step,) = read(text, Memory(), known)[0].steps
    assert step.action == "unclip"
    assert step.doubt


def test_what_the_work_is_for_is_not_done_and_it_is_no_part_of_its_own():
    text = "To get the belt off you loosen the two bolts."
    known = evolve(V, tagger=lambda *_: heard(text, ("out", "belt"), ("loosen", "bolts"), ("n", "two")))
    assert [s.action for s in read(text, Memory(), known)[0].steps] == ["loosen"]
    memory = Memory()
    said(memory, "The sensor is free.", ("out", "sensor"))
    memory.out.clear()
    steps = said(memory, "cut its zip tie and slide it out", ("cut", "zip tie"), ("out", "it")).steps
    assert [s.parts for s in steps if s.action == "take out"] == [("sensor",)]


def test_a_key_is_held_by_no_bolts_and_a_second_group_elsewhere_is_not_of_the_first_part():
    text = "Two hex bolts, 4 mm key, out."
    marks = ("unscrew", "bolts"), ("n", "Two"), ("size", "4 mm"), ("held", "key")
    known = evolve(V, tagger=lambda *_: heard(text, *marks))
    assert [s.parts for s in read(text, Memory(), known)[0].steps] == [()]
    text = "six T8 in the lid, plus two T6 in the plate"
    marks = (
        ("unscrew", "T8"),
        ("n", "six"),
        ("size", "T8"),
        ("held", "lid"),
        ("n", "two"),
        ("size", "T6"),
        ("at", "plate"),
    )
    assert [s.parts for s in said(Memory(), text, *marks).steps] == [("lid",), ("plate",)]
    marks = (*marks[:-1], ("at", "plate"))
    text = text.replace("in the plate", "at the back")
    marks = (*marks[:-1], ("at", "back"))
    assert [s.parts for s in said(Memory(), text, *marks).steps] == [("lid",), ("lid",)]


def test_as_many_as_came_out_of_one_size_go_back_with_it():
    memory = Memory()
    said(memory, "Eight T6 from the sink.", ("unscrew", "T6"), ("n", "Eight"), ("size", "T6"), ("held", "sink"))
    said(memory, "Four T8 from the lid.", ("unscrew", "T8"), ("n", "Four"), ("size", "T8"), ("held", "lid"))
    back = said(memory, "The eight were put in once more.", ("fasten", "eight"), ("n", "eight")).steps[0]
    assert (back.count, back.size) == (8, "T6")
    assert said(memory, "Five go in.", ("fasten", "Five"), ("n", "Five")).steps[0].size == ""
    text = "Eight screws in the lamp."
    lamp = said(memory, text, ("fasten", "screws"), ("n", "Eight"), ("held", "lamp")).steps[0]
    assert (lamp.parts, lamp.size) == (("lamp",), "")


def test_a_cover_of_a_gearbox_is_one_part_that_screws_hold():
    text = "three screws of the cover of the gearbox"
    marks = ("unscrew", "screws"), ("n", "three"), ("held", "cover"), ("held", "gearbox")
    assert said(Memory(), text, *marks).steps[0].parts == ("gearbox cover",)
    text = "three screws of the cover and of the lamp"
    marks = ("unscrew", "screws"), ("n", "three"), ("held", "cover"), ("held", "lamp")
    assert "cover" in said(Memory(), text, *marks).steps[0].parts
    assert said(Memory(), "the set of gears off", ("out", "set")).steps[0].parts == ("gears",)


@given(st.integers(2, 12), st.integers(2, 12), st.integers(1, 50), st.sampled_from(["x", " x ", "×", " by "]))
def test_a_diameter_and_a_length_are_known_by_the_count_beside_them_and_stay_in_place(many, across, more, link):
    along = across + more
    size = f"{across}{link}{along}"
    for text in (f"Undo {many} {size} screws.", f"the {size} screws, {many} of them."):
        pairs = pairs_in(text)
        if link != " by " and text.startswith("the") and many == across * along:
            continue  # twice six, twelve in all
        assert [(text[p.start : p.end], p.known) for p in pairs] == [(size, True)]
        assert text[slice(*pairs[0].along)] == str(along)
        assert text[slice(*pairs[0].count)] == str(many)
        assert without_pairs(text) == text.replace(size, " " * len(size))
    alone = f"the {size} screws"
    assert [p.known for p in pairs_in(alone)] == [link == " by "]
    assert not count_or_diameter(alone, across * along + 1)


@given(st.integers(2, 12), st.integers(2, 12))
def test_counts_that_words_around_numbers_make_are_what_arithmetic_makes_of_them(one, other):
    some, many = sorted((one, other))
    told = {
        f"half of the {2 * some} screws": some if 2 * some < 100 else None,
        f"two thirds of the {3 * some} screws": 2 * some,
        f"half of the {2 * some + 1} screws": None,
        f"{some} dozen screws": 12 * some,
        "half a dozen screws": 6,
        f"{some} rows of {many} T8": some * many,
        f"twice {some} screws": 2 * some,
        f"screw {some} of {many}": 1,
        f"the third of the {many} T8": 1,
        f"another {some} screws, that makes {many}": some,
        f"the two half shells, {some} screws": None,
        f"{some} screws after a half turn": None,
    }
    if some < many:
        told |= {f"{many} screws minus {some}": many - some, f"{many} screws less {some} mm": None}
    assert {text: by_words(text, V) for text in told} == told


def test_a_number_told_only_roughly_is_known_and_a_place_or_a_length_is_none():
    for text in ("about six T8", "six or so", "maybe 6 screws", "six screws, I think six, i guess", "at least six"):
        assert roughly(text, 6, V), text
    for text in ("around the rim: six T8", "six screws, about 8 mm long", "about 6 mm long, six screws", "six T8"):
        assert not roughly(text, 6, V), text
