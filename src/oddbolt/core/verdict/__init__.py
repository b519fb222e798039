"""Verdicts: one device judged by several schools, each with its arithmetic and its evidence."""

from oddbolt.core.verdict.bench_mark import Deduction, Mark, bench_mark
from oddbolt.core.verdict.counting import Count, counting

SCHEMES = ("counting", "bench mark")

__all__ = ["SCHEMES", "Count", "Deduction", "Mark", "bench_mark", "counting"]
