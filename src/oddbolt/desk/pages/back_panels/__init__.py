"""Panels of Put back."""
