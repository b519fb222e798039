"""Verdict: ways of judging, each with its arithmetic and evidence. What stands in SCHEMES, window, command line and
report show."""

from collections.abc import Mapping

from oddbolt.core.verdict import bench_mark as _bench_mark
from oddbolt.core.verdict import counting as _counting
from oddbolt.core.verdict.bench_mark import Deduction, Mark, bench_mark
from oddbolt.core.verdict.counting import Count, counting
from oddbolt.core.verdict.scheme import Entry, Judgement, Scheme

#: the schemes by id, in the order that they are shown in
SCHEMES: Mapping[str, Scheme] = {scheme.id: scheme for scheme in (_bench_mark.SCHEME, _counting.SCHEME)}

__all__ = ["SCHEMES", "Count", "Deduction", "Entry", "Judgement", "Mark", "Scheme", "bench_mark", "counting"]
