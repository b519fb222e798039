"""What parts are: what is marked on them, what the device is made of, and whether its masses add up."""

from oddbolt.core.components.balance import Balance, MassBalance, balance
from oddbolt.core.components.bill import BillLine, bill_of_materials
from oddbolt.core.components.marking import Marking, decode

__all__ = ["Balance", "BillLine", "Marking", "MassBalance", "balance", "bill_of_materials", "decode"]
