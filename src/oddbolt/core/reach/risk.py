"""How much may go wrong at a step: points, no chances, from ``weights.toml`` and ``joint_kinds.toml``."""

from __future__ import annotations

from oddbolt.core.reference.joint_kinds import joint_kinds
from oddbolt.core.reference.tables import table
from oddbolt.core.study import Step, Study
from oddbolt.core.study.step_methods import doing


def risk_of(study: Study, step: Step) -> float:
    """The points of one step: of each joint it lets go, of heat, solvent, blade and prying, of what it destroys, and
    one for each thing noted to mind."""
    points = table("weights")["risk"]
    kinds = joint_kinds()
    total = sum(kinds[study.joints[j].kind].risk for j in step.releases)
    total += sum(points[what] for what in doing(study, step))
    return float(total + points["destroys"] * step.destroys + points["caution"] * len(step.cautions))


def renewals_of(study: Study, step: Step) -> int:
    """How many of the things that a step lets go or takes out must be renewed."""
    things = [study.joints[j].reuse for j in step.releases] + [study.parts[p].reuse for p in step.takes_out]
    return sum(reuse == "renew" for reuse in things)
