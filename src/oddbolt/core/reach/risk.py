"""How much may go wrong at a step: points from ``reference/weights.toml`` (common practice, no source), no chances."""

from __future__ import annotations

from oddbolt.core.reference.tables import table
from oddbolt.core.study import Step, Study
from oddbolt.core.study.step_methods import doing


def risk_of(study: Study, step: Step) -> float:
    """The points of one step: of each joint it lets go, of heat, solvent, blade and prying, of what it destroys, and
    one for each thing noted to mind."""
    points = table("weights")["risk"]
    total = sum(points[study.joints[j].kind] for j in step.releases)
    total += sum(points[what] for what in doing(study, step))
    return float(total + points["destroys"] * step.destroys + points["caution"] * len(step.cautions))


def renewals_of(study: Study, step: Step) -> int:
    """How many of the things that a step lets go or takes out must be renewed."""
    things = [study.joints[j].reuse for j in step.releases] + [study.parts[p].reuse for p in step.takes_out]
    return sum(reuse == "renew" for reuse in things)
