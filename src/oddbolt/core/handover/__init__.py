"""Handing over: what documents and files for others say, as plain data."""
