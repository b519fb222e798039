"""Odd Bolt: a bench book for the teardown analyst."""

__version__ = "0.1.0"
