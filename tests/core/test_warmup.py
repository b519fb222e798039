"""Warm-up against closed solutions, an independent library's tables, the energy balance and a fact of the trade."""

import math

import ht
import numpy as np
import pytest
from attrs import evolve
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import brentq
from scipy.special import erfc

from oddbolt.core.errors import BenchError, StudyError
from oddbolt.core.opening.warmup import Heating, Slab, band, corrected, crossing, safe_window, slab, warm
from oddbolt.core.reference.tables import materials
from oddbolt.core.study import Layer

ROOM = 20.0


def made(material, mm, role=""):
    return slab(Layer("L1", "W1", material, mm, role))


#: An ordinary glued glass back over a cell, on a mat at 80 °C.
BACK = [
    made("soda-lime glass", 1.5, "cover"),
    made("acrylic tape", 0.3, "glue"),
    made("air", 0.5, "gap"),
    made("lithium pouch cell", 6, "guarded"),
]
MAT = Heating(80.0, 100.0, 0.0, 10.0, 22.0)


def plane_wall(biot, fourier, x):
    """Series of a plane wall convecting on one side, insulated at x = 0 (Incropera and DeWitt, eq. 5.42)."""
    total = 0.0
    for n in range(60):
        low, high = n * math.pi + 1e-9, n * math.pi + math.pi / 2 - 1e-9
        zeta = brentq(lambda z: z * math.tan(z) - biot, low, high)
        c = 4 * math.sin(zeta) / (2 * zeta + math.sin(2 * zeta))
        total += c * math.exp(-(zeta**2) * fourier) * math.cos(zeta * x)
    return total


@pytest.mark.parametrize("h", [30.0, 300.0, 3000.0])
def test_a_plane_wall_warms_as_the_series_says(h):
    thick, k, heat = 0.010, 0.5, 2.0e6
    run = warm([Slab(thick, k, heat, role="cover")], Heating(100.0, h, 0.0, 0.0, ROOM), 600.0, cells=40)
    for n in (60, 120, 240, 360):
        fourier = k / heat * run.times_s[n] / thick**2
        surface = 100 - (100 - ROOM) * plane_wall(h * thick / k, fourier, 1.0)
        back = 100 - (100 - ROOM) * plane_wall(h * thick / k, fourier, 0.0)
        assert run.surface_c[n] == pytest.approx(surface, abs=0.005 * 80)
        assert run.bond_c[n] == pytest.approx(back, abs=0.005 * 80)


def test_a_deep_wall_warms_as_the_error_function_says():
    """Semi-infinite solid whose face is held at a temperature (Incropera and DeWitt, eq. 5.60)."""
    k, heat, seconds = 0.2, 1.8e6, 120.0
    run = warm([Slab(0.040, k, heat)], Heating(80.0, 1e7, 0.0, 0.0, ROOM), seconds, cells=400)
    exact = ROOM + 60.0 * erfc(run.depths_m / (2 * math.sqrt(k / heat * seconds)))
    assert np.abs(run.profile - exact).max() < 0.005 * 60


def test_a_deep_wall_under_a_pad_warms_by_the_root_of_time():
    """Constant flux into a semi-infinite solid (Incropera and DeWitt, eq. 5.62): 2 q sqrt(t / (pi k rho c))."""
    k, heat, flux = 0.2, 1.8e6, 1000.0
    run = warm([Slab(0.040, k, heat)], Heating(ROOM, 0.0, flux, 0.0, ROOM), 120.0, cells=400)
    exact = ROOM + 2 * flux * np.sqrt(run.times_s[60:] / (math.pi * k * heat))
    assert run.surface_c[60:] == pytest.approx(exact, rel=0.005)


def test_settled_is_resistances_in_series():
    run = warm(BACK, MAT, 6 * 3600.0)
    ohms = [1 / 100, *(s.thickness_m / s.conductivity for s in BACK), 1 / 10]
    flow = (80 - 22) / sum(ohms)
    assert run.settled_bond_c == pytest.approx(80 - flow * sum(ohms[:3]), abs=1e-6)
    assert run.bond_c[-1] == pytest.approx(run.settled_bond_c, abs=0.2)


@given(
    st.lists(st.tuples(st.sampled_from(list(materials())), st.floats(0.02, 12)), min_size=1, max_size=6),
    st.sampled_from([MAT, Heating(120.0, 30.0, 0.0, 8.0, 15.0), Heating(22.0, 10.0, 2500.0, 10.0, 22.0)]),
)
def test_heat_in_is_heat_kept_and_nothing_overshoots(stack, faces):
    run = warm([made(m, mm) for m, mm in stack], faces, 1800.0)
    # a thin foil keeps little of the megajoules that pass through it: a part in ten million of those
    assert run.heat_in_j_m2 == pytest.approx(run.heat_kept_j_m2, rel=1e-6, abs=0.1)
    assert np.all(np.diff(run.bond_c) > -0.01 * np.ptp(run.bond_c) - 0.01)
    if not faces.flux:
        assert run.surface_c.max() <= faces.outside_c + 0.5


@given(st.floats(1.1, 3.0))
def test_a_thicker_cover_takes_longer(times):
    thick = [evolve(BACK[0], thickness_m=BACK[0].thickness_m * times), *BACK[1:]]
    plain, slow = (safe_window(warm(s, MAT, 3600.0), 60, 60) for s in (BACK, thick))
    assert slow.soft_s > plain.soft_s


def test_ordinary_layers_reach_70_at_the_cover_in_five_to_seven_minutes():
    """Common practice, no source: a cover on a heat mat is at about 70 °C after 5 to 7 minutes."""
    run = warm(BACK, MAT, 1800.0)
    assert 300 <= crossing(run.times_s, run.surface_c, 70.0) <= 420


#: our row: the row of the library ht, which holds the tables of EN ISO 10456 and of an engineers' handbook
ROWS = {
    "soda-lime glass": "Siding, Architectural (soda-lime float) glass",
    "acrylic sheet": "Plastics, polymethylmethacrylate (PMMA)",
    "polycarbonate": "Plastics, polycarbonates",
    "epoxy": "Plastics, epoxy resin",
    "silicone": "Sealant, silicone, pure",
    "aluminium alloy": "Metals, aluminium alloys",
    "stainless steel": "Metals, stainless steel",
    "copper": "Metals, copper",
}


@pytest.mark.parametrize(("ours", "theirs"), ROWS.items())
def test_rows_agree_with_an_independent_library(ours, theirs):
    row, of = materials()[ours], ht.insulation
    assert row.conductivity_w_mk == pytest.approx(of.k_material(theirs), rel=0.13)
    assert row.density_kg_m3 == pytest.approx(of.rho_material(theirs), rel=0.06)
    assert row.heat_j_kgk == pytest.approx(of.Cp_material(theirs), rel=0.1)


def test_the_loss_to_the_room_is_free_convection_with_radiation():
    """ht's correlation for a vertical plate (Churchill and Chu 1975), 0.1 m high at 55 °C in a room at 22 °C, and
    radiation of a painted face: about the 10 W/m²K that the table says."""
    warm_k, room_k, high, nu = 328.15, 295.15, 0.1, 1.7e-5
    gr = 9.81 / ((warm_k + room_k) / 2) * (warm_k - room_k) * high**3 / nu**2
    convected = ht.conv_free_immersed.Nu_vertical_plate_Churchill(0.71, gr) * 0.027 / high
    radiated = ht.radiation.q_rad(0.9, warm_k, room_k) / (warm_k - room_k)
    assert convected + radiated == pytest.approx(10.0, rel=0.25)


@pytest.mark.parametrize(
    ("faces", "target", "words"),
    [
        (Heating(56.0, 100.0, 0.0, 10.0, 22.0), 70, "never reaches 70 °C; it settles at 53 °C"),
        (MAT, 65, "Soft after 3 min"),
        (MAT, 74, "No safe moment: the guarded layer passes 60 °C"),
        (Heating(22.0, 10.0, 300.0, 10.0, 22.0), 65, "never reaches"),
    ],
)
def test_the_window_is_told_in_words(faces, target, words):
    assert words in safe_window(warm(BACK, faces, 1800.0), target, 60).sentence


def test_a_band_is_the_same_for_a_seed_wider_for_less_knowledge_and_can_be_stopped():
    first, again = (band(BACK, MAT, 1200.0, 65, 60, count=40) for _ in range(2))
    assert first.soft_s == again.soft_s
    vague = band([evolve(s, spread=s.spread * 2) for s in BACK], MAT, 1200.0, 65, 60, count=40)
    assert vague.soft_s[2] - vague.soft_s[0] > first.soft_s[2] - first.soft_s[0]
    assert first.soft_s[0] < safe_window(warm(BACK, MAT, 1200.0), 65, 60).soft_s < first.soft_s[2]
    assert band(BACK, MAT, 1200.0, 65, 60, stopped=lambda: True) is None


@pytest.mark.parametrize("faces", [MAT, Heating(22.0, 10.0, 1500.0, 10.0, 22.0)])
def test_a_reading_of_the_surface_corrects_the_heater(faces):
    true = evolve(faces, flux=faces.flux * 1.3) if faces.flux else evolve(faces, coupling=160.0)
    read = float(warm(BACK, true, 200.0).surface_c[-1])
    found = corrected(BACK, faces, 200.0, read)
    assert (found.flux, found.coupling) == pytest.approx((true.flux, true.coupling), rel=0.02)
    with pytest.raises(BenchError, match="This kind of heater cannot"):
        corrected(BACK, MAT, 200.0, 150.0)


def test_what_cannot_be_warmed_is_said():
    with pytest.raises(BenchError, match="no layers"):
        warm([], MAT, 60.0)
    with pytest.raises(BenchError, match="conductivity of mica is -1"):
        warm([Slab(0.001, -1.0, 1e6, name="mica")], MAT, 60.0)
    with pytest.raises(BenchError, match="'granite' is in no row"):
        made("granite", 1.0)
    with pytest.raises(StudyError, match="thickness is 0"):
        Layer("L1", "W1", "air", 0.0)


def test_a_well_conducting_plate_warms_as_one_lump():
    """Lumped capacitance (Incropera and DeWitt, eq. 5.6): exp(-h t / (rho c L)) for a Biot number far below 0.1."""
    thick, heat, h = 0.002, 2.4e6, 40.0
    run = warm([Slab(thick, 170.0, heat)], Heating(90.0, h, 0.0, 0.0, ROOM), 900.0)
    exact = 90 - (90 - ROOM) * np.exp(-h * run.times_s / (heat * thick))
    assert run.bond_c == pytest.approx(exact, abs=0.05)


@given(st.floats(1.2, 3.0), st.floats(-10, 30))
def test_warming_is_linear_in_how_much_hotter_the_heater_is(times, room):
    one = warm(BACK, Heating(room + 30, 100.0, 0.0, 10.0, room), 600.0, steps=60)
    more = warm(BACK, Heating(room + 30 * times, 100.0, 0.0, 10.0, room), 600.0, steps=60)
    assert more.bond_c - room == pytest.approx((one.bond_c - room) * times, abs=1e-6)


@given(st.integers(0, 3), st.floats(0.2, 0.8))
def test_a_layer_in_two_pieces_is_the_same_layer(which, share):
    pieces = []
    for n, s in enumerate(BACK):
        if n == which:  # the bond line stays at the far face of the glue
            pieces.append(evolve(s, thickness_m=s.thickness_m * share, role="" if s.role == "glue" else s.role))
            s = evolve(s, thickness_m=s.thickness_m * (1 - share))
        pieces.append(s)
    whole, parted = warm(BACK, MAT, 900.0), warm(pieces, MAT, 900.0)
    assert parted.bond_c[20:] == pytest.approx(whole.bond_c[20:], abs=0.15)
    assert parted.settled_bond_c == pytest.approx(whole.settled_bond_c, abs=1e-9)


def test_finer_steps_and_cells_change_little():
    coarse, fine = warm(BACK, MAT, 900.0), warm(BACK, MAT, 900.0, steps=1800, cells=32)
    assert coarse.bond_c[1:] == pytest.approx(fine.bond_c[5::5], abs=0.2)
