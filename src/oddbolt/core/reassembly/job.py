"""A repair job: out, the new part, back, as one piece of work, with all that must lie ready before it begins."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from math import log

import numpy as np
from attrs import frozen

from oddbolt.core.bench.kit import KitNeed, kit
from oddbolt.core.errors import ReachError
from oddbolt.core.reach.routes import Route, route_to
from oddbolt.core.reach.spread import spread_of
from oddbolt.core.reassembly.plan import BackStep, Plan, plan_back
from oddbolt.core.safety import Caution, CheckLine, cautions_along, contents, finals
from oddbolt.core.study.model import Study

#: deviation of the log of a step's time on the way back, by what it rests on (common practice, no source)
BACK_OFF = {"measured": 0.2, "estimated": 0.4}
SAMPLES, SEED = 4000, 23


@frozen
class RepairJob:
    """The way out, the plan back, times in s (half of all jobs take less than ``p50_s``, nine in ten less than
    ``p90_s``), what must be ordered before starting and what must lie ready, what must not be used again, cautions by
    recorded step, and the checks at the end."""

    targets: tuple[str, ...]
    route: Route
    back: Plan
    p50_s: float
    p90_s: float
    orders: tuple[KitNeed, ...]
    ready: tuple[KitNeed, ...]
    not_again: tuple[str, ...]
    cautions: dict[str, tuple[Caution, ...]]
    checks: tuple[CheckLine, ...]


def repair_job(
    study: Study, targets: Sequence[str], bench: Sequence[str] = (), stopped: Callable[[], bool] = lambda: False
) -> RepairJob:
    """The job of replacing these parts in a closed device. Raises ReachError where there is no way to them."""
    if not targets:
        raise ReachError("Choose at least one part to replace.")
    route = route_to(study, targets, stopped=stopped)
    back = plan_back(study, targets, replaced=targets, stopped=stopped)
    needs = kit(study, contents(study), route.steps, bench)
    new = [KitNeed("renew", study.name(t), 1.0, "piece", (t,), "the part that is replaced") for t in targets]
    known = {n.what for n in new}
    orders = (*new, *(n for n in needs if n.sort == "renew" and n.what not in known))
    p50, p90 = _spread(study, route, back)
    return RepairJob(
        tuple(targets),
        route,
        back,
        p50,
        p90,
        orders,
        tuple(n for n in needs if n.sort != "renew"),
        tuple(r for r in back.renew if r not in targets),
        cautions_along(study, route.steps),
        finals(study),
    )


def _spread(study: Study, route: Route, back: Plan) -> tuple[float, float]:
    """The median and the ninth decile of out and back together: sampled log-normal times, the two ways independent."""
    out = spread_of(study, route.legs)
    sigma_out = log(max(out.p90_s, 1.0) / max(out.p50_s, 1.0)) / 1.2816
    r = np.random.default_rng(SEED)
    total = out.p50_s * np.exp(r.normal(size=SAMPLES) * sigma_out)
    fixed = back.seconds - sum(s.seconds for s in back.steps)
    total += fixed
    for step in back.steps:
        total += step.seconds * np.exp(r.normal(size=SAMPLES) * BACK_OFF.get(step.basis, 0.4))
    p50, p90 = np.quantile(total, [0.5, 0.9])
    return float(p50), float(p90)


def step_minds(study: Study, step: BackStep) -> tuple[str, ...]:
    """What somebody noted to mind at the recorded step that this one undoes."""
    return study.steps[step.step].cautions if step.step in study.steps else ()
