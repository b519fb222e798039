"""Panels of Take apart and Open."""
