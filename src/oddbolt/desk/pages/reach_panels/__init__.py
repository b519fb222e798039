"""Panels of Reach."""
