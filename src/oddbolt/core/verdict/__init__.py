"""Verdict: ways of judging, each with its arithmetic and evidence. What stands in SCHEMES, window, command line and
report show. A scheme that weighs criteria is a file in ``reference/schemes``; a user's own is read by
:func:`read_spec`."""

from collections.abc import Mapping
from importlib.resources import files

from oddbolt.core.verdict import bench_mark as _bench_mark
from oddbolt.core.verdict import classes as _classes
from oddbolt.core.verdict import counting as _counting
from oddbolt.core.verdict import ease as _ease
from oddbolt.core.verdict import minimum_parts as _minimum_parts
from oddbolt.core.verdict.bench_mark import Deduction, Mark, bench_mark
from oddbolt.core.verdict.composite import Composite, composite, judgement, scheme_of
from oddbolt.core.verdict.counting import Count, counting
from oddbolt.core.verdict.scheme import Ask, Entry, Judgement, Range3, Scheme
from oddbolt.core.verdict.scheme_file import Spec, read_spec

#: composite schemes of ours: id -> file
_FILES = {"regulation": "eu_2023_1669.toml", "index 2021": "fr_2021.toml"}


def shipped_text(id: str) -> str:
    """The file of a composite scheme of ours, to begin one's own with."""
    return files("oddbolt.core.reference.schemes").joinpath(_FILES[id]).read_text(encoding="utf-8")


#: the composite schemes of ours by id
SPECS: Mapping[str, Spec] = {id: read_spec(shipped_text(id), id) for id in _FILES}
#: the schemes by id, in the order that they are shown in
SCHEMES: Mapping[str, Scheme] = {
    scheme.id: scheme
    for scheme in (
        _bench_mark.SCHEME,
        _counting.SCHEME,
        _classes.SCHEME,
        *(scheme_of(spec) for spec in SPECS.values()),
        _ease.SCHEME,
        _minimum_parts.SCHEME,
    )
}


__all__ = [
    "SCHEMES",
    "SPECS",
    "Ask",
    "Composite",
    "Count",
    "Deduction",
    "Entry",
    "Judgement",
    "Mark",
    "Range3",
    "Scheme",
    "Spec",
    "bench_mark",
    "composite",
    "counting",
    "judgement",
    "read_spec",
    "scheme_of",
    "shipped_text",
]
