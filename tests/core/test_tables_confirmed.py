"""What a table row says it is confirmed by, held against just those independent tables; and inch threads."""

import csv
import math
import re
from pathlib import Path

import pytest

from oddbolt.core.fasteners.identify import identify
from oddbolt.core.fasteners.parse_measurements import driver_of, measured
from oddbolt.core.reference.limits import outer_limits_mm
from oddbolt.core.reference.tables import drives, heads, recesses, thread_of, threads

REFERENCE = Path(__file__).parents[1] / "reference"
ONE, OTHER = "bd_warehouse 0.4.0", "pybosl2 0.7.13"


def cells():
    """First cells of all tables of the one library."""
    for path in REFERENCE.glob("*_parameters.csv"):
        with path.open(encoding="utf-8-sig") as lines:
            yield from (row[0].strip() for row in csv.reader(lines) if row)


def other(table):
    """Size -> figures of a table of the other library."""
    with (REFERENCE / "metric_screws.csv").open() as lines:
        rows = [row for row in csv.DictReader(lines) if row["table"] == table]
    return {float(r["size"]): [float(r[k]) for k in "abcde" if r[k] not in ("", "None")] for r in rows}


def test_threads_are_confirmed_by_the_tables_that_they_name_and_by_no_others():
    """bd_warehouse 0.4.0 by the designations of its rows; pybosl2 0.7.13 by its pitches for each diameter."""
    designations, pitches = set(cells()), other("iso_thread")
    for name, thread in threads().items():
        if thread.kind in ("coarse", "fine"):
            by_other = thread.pitch_mm in pitches.get(thread.diameter_mm, [])
            assert (OTHER in thread.confirmed) == by_other, name
            if f"M{thread.diameter_mm:g}-{thread.pitch_mm:g}" in designations:
                assert ONE in thread.confirmed, name
        elif thread.kind.startswith("inch") and name in designations:
            assert thread.confirmed == ONE, name
    coarse = [t for t in threads().values() if t.kind == "coarse" and not t.seldom]
    assert all(t.confirmed for t in coarse)
    metric = [t for t in threads().values() if t.kind in ("coarse", "fine")]
    assert [t.name for t in metric if not t.confirmed] == ["M1.1", "M1.7", "M2.3", "M2.6", "M6x0.5"]


def test_heads_are_confirmed_by_the_other_library():
    """pybosl2 0.7.13: ISO 4762 (plain heads), 7380 and 14583; not its hexagons, which are the older
    DIN ones, nor the heights of its pan heads, of which that for M3.5 is that for M4."""
    tables = {"socket cap": "socket_head", "button hex socket": "button_head",
              "pan hexalobular": "pan_head"}  # fmt: skip
    assert {id for id, h in heads().items() if OTHER in h.confirmed} == set(tables)
    for id, table in tables.items():
        theirs = other(table)
        met = 0
        for thread, (wide, high, _) in heads()[id].rows.items():
            size = threads()[thread].diameter_mm
            if size in theirs:
                met += 1
                assert wide == pytest.approx(theirs[size][0], rel=0.005), (id, thread)
                if table in ("button_head",):
                    assert high == pytest.approx(theirs[size][1], abs=0.11), (id, thread)
        assert met >= 4, id


@pytest.mark.parametrize(
    ("typed", "inches", "turns"),
    [
        ("#4-40", 0.112, 40),
        ("4-40 UNC", 0.112, 40),
        ("UNC 6-32", 0.138, 32),
        ("no. 10-24", 0.19, 24),
        ("1/4-20", 0.25, 20),
    ],
)
def test_inch_threads_are_read_and_are_those_of_the_standard(typed, inches, turns):
    """ASME B1.1: number sizes 0.060 in + 0.013 in a number; from memory, unverified."""
    thread = thread_of(typed)
    assert thread.diameter_mm == pytest.approx(inches * 25.4)
    assert thread.pitch_mm == pytest.approx(25.4 / turns, abs=1e-3)


@pytest.mark.parametrize(
    ("name", "low", "high"),
    [("#4-40", 0.1061, 0.1112), ("#6-32", 0.1312, 0.1372), ("#8-32", 0.1571, 0.1631), ("1/4-20", 0.2408, 0.2489)],
)
def test_limits_of_inch_threads_are_those_of_class_2a(name, low, high):
    """ASME B1.1, limits of size of class 2A, in; from memory, unverified."""
    assert [v / 25.4 for v in outer_limits_mm(threads()[name])] == pytest.approx([low, high], abs=0.0004)


@pytest.mark.parametrize(
    ("said", "thread", "head"),
    [
        ("head 5.65, driver 2.5 hex", "M3", "socket cap"),
        ("od 2.98, head 5.95, driver 2 hex", "M3", "countersunk hex socket"),
        ("od 3.45, pitch 0.79", "#6-32", ""),
        ("od 2.8, pitch .635", "#4-40", ""),
    ],
)
def test_what_was_not_offered_before_now_comes_first(said, thread, head):
    best = identify(measured(said)).candidates[0]
    assert (best.thread, best.head) == (thread, head)


def test_every_driver_of_a_head_is_understood_and_has_a_width():
    for head in heads().values():
        for _, _, size in head.rows.values() if head.drive != "slotted" else ():  # a blade has a width, no size
            assert size in recesses()[head.drive].sizes
            prefix = drives()[head.drive].prefix
            words = size if prefix else f"{size} mm {drives()[head.drive].label}"
            assert driver_of(words)[1] == size, (head.id, size)


def test_a_hexalobular_size_is_as_wide_as_the_independent_table_has_it():
    assert recesses()["hexalobular"].confirmed == ONE
    numbers = [int(re.sub(r"\D", "", s)) for s in recesses()["hexalobular"].sizes]
    assert numbers == sorted(numbers)
    assert math.isclose(recesses()["cross"].spread_of("PH2"), 0.18)
