"""Devices beside the bench, and the simulated ones that stand in for them."""
