"""Putting back: the plan of what goes in when, with the work that each joint brings; the ledger that closes; the screw
left over; gaps made equal; the mass at the end; and a whole repair as one job."""

from oddbolt.core.reassembly.alignment import Alignment, aligned, readings
from oddbolt.core.reassembly.job import RepairJob, repair_job, step_minds
from oddbolt.core.reassembly.ledger import Ledger, Line, ledger
from oddbolt.core.reassembly.left_over import LeftOver, Missing, left_over, missing, swaps
from oddbolt.core.reassembly.mass import mass_check
from oddbolt.core.reassembly.plan import BackStep, Plan, plan_back

__all__ = [
    "Alignment",
    "BackStep",
    "Ledger",
    "LeftOver",
    "Line",
    "Missing",
    "Plan",
    "RepairJob",
    "aligned",
    "ledger",
    "left_over",
    "mass_check",
    "missing",
    "plan_back",
    "readings",
    "repair_job",
    "step_minds",
    "swaps",
]
