"""Putting back: the plan of what goes in when, with the work that each joint brings, and the ledger that closes."""

from oddbolt.core.reassembly.ledger import Ledger, Line, ledger
from oddbolt.core.reassembly.plan import BackStep, Plan, plan_back

__all__ = ["BackStep", "Ledger", "Line", "Plan", "ledger", "plan_back"]
