"""Masses that add up: against scipy's constrained least squares, and studies in which one mass is wrong."""

import numpy as np
import pytest
from attrs import evolve
from builders import study_of
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import minimize

from oddbolt.core.components import balance
from oddbolt.core.components.balance import adjusted
from oddbolt.core.errors import BenchError
from oddbolt.core.study import Device, Joint, Part, Study, put
from oddbolt.demo import tide_logger


def module(*masses, whole=None):
    parts = [Part("P1", "Core", kind="module", mass_g=sum(m for m in masses if m) if whole is None else whole)]
    parts += [Part(f"P{n}", f"piece {n}", inside="P1", kind="frame", mass_g=m) for n, m in enumerate(masses, 2)]
    return study_of(*parts)


@settings(max_examples=25, deadline=None)
@given(st.lists(st.floats(1, 200), min_size=2, max_size=6), st.floats(-5, 5))
def test_masses_are_adjusted_as_scipy_does_under_the_same_condition(parts, off):
    """scipy.optimize.minimize with the sum as an equality, weighted by the same errors."""
    whole = sum(parts) + off
    found = adjusted(whole, parts)
    masses = np.array([whole, *parts])
    sigma = np.hypot(0.1 / np.sqrt(12), 0.002 * masses)
    condition = {"type": "eq", "fun": lambda x: x[0] - x[1:].sum()}
    checked = minimize(lambda x: (((x - masses) / sigma) ** 2).sum(), masses, constraints=[condition], tol=1e-12)
    assert found == pytest.approx(tuple(checked.x), abs=1e-3)
    assert found[0] == pytest.approx(sum(found[1:]))


@given(st.lists(st.floats(0.5, 300), min_size=2, max_size=8))
def test_masses_rounded_by_the_scale_add_up(masses):
    study = module(*(round(m, 1) for m in masses), whole=round(sum(masses), 1))
    (line,) = balance(study).lines
    assert line.adds_up
    assert "adds up" in line.sentence


def test_what_is_missing_counted_twice_or_not_weighed_is_said():
    missing = balance(module(40.0, None, 30.0, whole=95.0))
    assert "25.0 g are left for piece 3" in missing.lines[0].sentence
    assert missing.weigh == ("P3",)
    assert "a part is not recorded" in balance(module(40.0, 30.0, whole=95.0)).lines[0].sentence
    assert "piece 3 counted twice?" in balance(module(40.0, 25.0, 30.0, whole=70.0)).lines[0].sentence
    assert "weigh the one of 90 g again" in balance(module(90.0, 30.0, whole=113.0)).lines[0].sentence
    body = evolve(module(40.0, whole=95.0), device=Device("Box"))
    board = put(body, evolve(body.parts["P1"], kind="board"))
    assert "55.0 g are its own" in balance(board).lines[0].sentence


def test_the_device_is_held_against_its_parts_with_their_screws():
    study = evolve(module(40.0, 30.0), device=Device("Box", mass_g=74.9))
    study = put(study, Joint("J1", "screw", holds=("P1",), count=8, thread="M3", length_mm=10.0))
    device = next(line for line in balance(study).lines if not line.id)
    assert device.adds_up
    lost = put(study, Joint("J1", "screw", holds=("P1",), count=8))
    told = next(line for line in balance(lost).lines if not line.id).sentence
    assert "1 group of screws of unknown size" in told


def test_the_demo_nearly_adds_up_and_nothing_weighed_is_refused():
    found = balance(tide_logger.study())
    assert [line.name for line in found.lines if not line.adds_up] == ["Core"]
    assert dict(found.by_kind)["window"] == 18.0
    with pytest.raises(BenchError, match="nothing to add up"):
        balance(Study())
    with pytest.raises(BenchError, match="A scale has a step"):
        balance(tide_logger.study(), -1.0)
