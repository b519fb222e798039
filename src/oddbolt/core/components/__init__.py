"""What parts are: what is marked on them, and whether their masses add up."""

from oddbolt.core.components.balance import Balance, MassBalance, balance
from oddbolt.core.components.marking import Marking, decode

__all__ = ["Balance", "Marking", "MassBalance", "balance", "decode"]
