"""The arithmetic of the bench."""

from oddbolt.core.bench.alike import look_alikes, odd_ones

__all__ = ["look_alikes", "odd_ones"]
