"""The spread of a route's time against formulas, against scipy, and against what must always hold; route options."""

import numpy as np
import pytest
from builders import chain_study, random_study
from hypothesis import example, given, settings
from hypothesis import strategies as st
from scipy import stats

from oddbolt.core.errors import ReachError
from oddbolt.core.reach import needs_of, route_to
from oddbolt.core.reach.route_options import MINIMISE, RouteOptions, barred
from oddbolt.core.reach.routes import alternatives
from oddbolt.core.reach.spread import ESTIMATED, _finished, spread_of, step_spreads
from oddbolt.core.reach.three_point import log_normal, three_point
from oddbolt.core.reach.totals import totals
from oddbolt.core.study import Run, put
from oddbolt.core.study.edits import lap
from oddbolt.demo import tide_logger


def test_three_points_are_those_of_pert_and_of_its_beta():
    """Mean (a + 4m + b)/6 and deviation (b - a)/6 (Malcolm et al. 1959); the beta's mean by scipy."""
    mean, deviation = three_point(2, 5, 14)
    assert (mean, deviation) == (6, 2)
    a, b = 1 + 4 * (5 - 2) / 12, 1 + 4 * (14 - 5) / 12
    assert stats.beta(a, b, loc=2, scale=12).mean() == pytest.approx(mean)
    with pytest.raises(ReachError):
        three_point(5, 4, 6)


@given(st.floats(1, 500), st.floats(0.5, 300))
@settings(max_examples=50, deadline=None)
def test_a_log_normal_has_the_mean_and_deviation_asked_for(mean, deviation):
    median, sigma = log_normal(mean, deviation)
    made = stats.lognorm(sigma, scale=median)
    assert made.mean() == pytest.approx(mean, rel=1e-6)
    assert made.std() == pytest.approx(deviation, rel=1e-6)


def test_sums_agree_with_the_formula_for_independent_times():
    """Mean of the sum is the sum of the log-normal means; its quantiles lie near those by Fenton (1960)."""
    study = chain_study(12)
    part = next(p for s in reversed(study.steps.values()) for p in s.takes_out)
    legs = route_to(study, [part]).legs
    found = spread_of(study, legs, samples=40_000)
    still = sum(leg.start_s for leg in legs[-1:]) + legs[-1].seconds - sum(leg.seconds for leg in legs)
    sigma = step_spreads(study, legs)
    assert (sigma == ESTIMATED).all()
    own = np.array([leg.seconds for leg in legs])
    means, variances = own * np.exp(sigma**2 / 2), own**2 * np.exp(sigma**2) * (np.exp(sigma**2) - 1)
    assert found.mean_s == pytest.approx(still + means.sum(), rel=0.01)
    median, wide = log_normal(means.sum(), np.sqrt(variances.sum()))
    assert found.p90_s == pytest.approx(still + stats.lognorm(wide, scale=median).ppf(0.9), rel=0.02)
    assert sum(share for _, share in found.shares) == pytest.approx(1)


@given(st.integers(0, 10_000))
@example(4656)  # fetches a tool in a wait that is shorter than the fetching
@settings(max_examples=30, deadline=None)
def test_without_spread_the_route_takes_what_it_says(seed):
    """The schedule that is sampled is the one the route was proved with, waits and all."""
    study = random_study(seed, steps=8)
    for part in study.parts:
        legs = route_to(study, [part]).legs
        once = _finished(study, legs, np.array([[leg.seconds for leg in legs]]))[0]
        assert once == pytest.approx(route_to(study, [part]).seconds)
        found = spread_of(study, legs, samples=200)
        assert found.p50_s <= found.p90_s


def test_laps_that_agree_narrow_the_spread():
    study = put(put(chain_study(3), Run("R1", "timed")), Run("R2", "timed"))
    part = next(p for s in reversed(study.steps.values()) for p in s.takes_out)
    timed = study
    for id in study.steps:
        for run, seconds in (("R1", 20.0), ("R2", 21.0)):
            timed = lap(timed, run, id, seconds)
    wide, narrow = (spread_of(s, route_to(s, [part]).legs) for s in (study, timed))
    assert narrow.p90_s / narrow.p50_s < wide.p90_s / wide.p50_s


# -- what a route shall be ------------------------------------------------------------------------------------


def figure(study, route, what):
    if what == "time":
        return route.seconds
    if what == "steps":
        return len(route.legs)
    return route.tool_changes if what == "tool changes" else len(totals(study, route.steps).renew)


@given(st.integers(0, 10_000))
@settings(max_examples=25, deadline=None)
def test_no_other_route_is_better_in_what_was_to_be_least(seed):
    study = random_study(seed, steps=8)
    for part in study.parts:
        routes = {what: route_to(study, [part], options=RouteOptions(what)) for what in MINIMISE}
        for what, best in routes.items():
            assert figure(study, best, what) <= min(figure(study, r, what) for r in routes.values()) + 1e-6
        others = alternatives(study, [part])
        assert others[0].seconds == pytest.approx(routes["time"].seconds)
        assert all(r.seconds >= others[0].seconds - 1e-6 for r in others)
        assert len({frozenset(r.steps) for r in others}) == len(others)


def test_what_stays_in_is_not_touched_and_power_is_never_forgotten():
    study = tide_logger.study()
    named = {p.name: p.id for p in study.parts.values()}
    route = route_to(study, [named["Display"]], options=RouteOptions(keep_in=(named["Battery"],)))
    assert not any(named["Battery"] in study.steps[s].takes_out for s in route.steps)
    with pytest.raises(ReachError, match="Main board"):
        route_to(study, [named["Battery"]], options=RouteOptions(keep_in=(named["Main board"],)))
    tools = barred(study, RouteOptions(tools=frozenset({"PH00", "hex 2.5"})))
    assert all(study.steps[s].tool not in ("PH00", "hex 2.5", "") for s in tools)
    cuts = frozenset(s.id for s in study.steps.values() if s.isolates_power)
    plugs = [id for id, s in study.steps.items() if any(study.joints[j].kind == "connector" for j in s.releases)]
    plug = next(id for id in plugs if id not in cuts)
    needs = needs_of(study, without=cuts)
    assert not needs.doable >> needs.record.index[plug] & 1
    with pytest.raises(ReachError, match="cannot be minimised"):
        RouteOptions("beauty")
