"""What parts are: for now what is marked on them."""

from oddbolt.core.components.marking import Marking, decode

__all__ = ["Marking", "decode"]
