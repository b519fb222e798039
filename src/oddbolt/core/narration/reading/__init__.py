"""Clauses to drafted steps: one file for each sort of clause."""
