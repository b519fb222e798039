"""Screws: measured, identified, told apart, laid in a tray, tightened."""
