"""Several devices on one scale: what each role takes in each, what each does best and worst, and how firm the order
is."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from attrs import frozen

from oddbolt.core.errors import BenchError
from oddbolt.core.verdict.scheme import Range3
from oddbolt.core.verdict.scheme_file import Spec
from oddbolt.core.verdict.summary import RoleFigures, Summary
from oddbolt.core.verdict.weighing import NEAR, Order, order_of

#: figures of a role that are held against each other: name, how it is read, and its unit; less is better in all
FIGURES: tuple[tuple[str, Callable[[RoleFigures], float], str], ...] = (
    ("steps", lambda r: r.steps[0], ""),
    ("time", lambda r: r.seconds[0], "s"),
    ("screws", lambda r: float(r.screws), ""),
    ("tools", lambda r: float(r.tools), ""),
    ("renewals", lambda r: float(r.renew), ""),
)
#: figures of whole devices; more is better only for marks
WHOLE: tuple[tuple[str, Callable[[Summary], float | None], bool], ...] = (
    ("bench mark", lambda s: s.marks["bench mark"][1] if "bench mark" in s.marks else None, True),
    ("hand time", lambda s: s.seconds, False),
    ("drive sizes", lambda s: float(len(s.drivers)), False),
    ("screws", lambda s: float(sum(s.drivers.values())), False),
    ("renewals", lambda s: float(s.renewals), False),
    ("steps", lambda s: float(s.steps), False),
)


@frozen
class Row:
    """One role in every device: its figures, None where a device has no such part."""

    role: str
    figures: tuple[RoleFigures | None, ...]


@frozen
class SideBySide:
    """Devices side by side: ``rows`` by role, the roles of most devices first; what each does ``best`` and ``worst``
    in words; and for each scheme that they all have the order and how firm it is, under weights within ``near``
    (share)."""

    names: tuple[str, ...]
    rows: tuple[Row, ...]
    best: tuple[tuple[str, ...], ...]
    worst: tuple[tuple[str, ...], ...]
    orders: dict[str, Order]
    near: float = NEAR
    summaries: tuple[Summary, ...] = ()

    def whole(self) -> list[tuple[str, tuple[float | None, ...], str]]:
        """Figures of the whole devices: what, one for each device (None for not recorded), and the unit. Screws by
        driver, those of most devices first."""
        of = self.summaries
        drivers = {label for one in of for label in one.drivers}
        ranked = sorted(drivers, key=lambda label: (-sum(label in one.drivers for one in of), label))
        return [
            ("hand time", tuple(one.seconds for one in of), "s"),
            ("steps", tuple(float(one.steps) for one in of), ""),
            ("to renew", tuple(float(one.renewals) for one in of), ""),
            ("mass", tuple(one.mass_g for one in of), "g"),
            *((f"screws {label}", tuple(float(one.drivers.get(label, 0)) for one in of), "") for label in ranked),
        ]


def side_by_side(
    names: Sequence[str],
    summaries: Sequence[Summary],
    specs: Sequence[Spec],
    weights: dict[str, dict[str, float]] | None = None,
    near: float = NEAR,
) -> SideBySide:
    """Hold devices against each other. Raises BenchError for fewer than two, weights of no criterion, and a share
    that is none."""
    if len(summaries) < 2:
        raise BenchError("Choose at least two studies to compare.")
    if not 0 <= near <= 1:
        raise BenchError("Near is a share from 0 to 1, such as 0.3.")
    known = {c.id for spec in specs for c in spec.criteria}
    strange = sorted({id for own in (weights or {}).values() for id in own} - known)
    if strange:
        raise BenchError(f"No scheme has a criterion {strange[0]!r}; there are {', '.join(sorted(known))}.")
    names = _told_apart(names)
    roles: dict[str, list[RoleFigures | None]] = {}
    for n, one in enumerate(summaries):
        for figures in one.roles:
            roles.setdefault(figures.role, [None] * len(summaries))[n] = figures
    rows = sorted(
        (Row(role, tuple(f)) for role, f in roles.items()),
        key=lambda r: (-sum(f is not None for f in r.figures), r.role),
    )
    best: list[list[str]] = [[] for _ in summaries]
    worst: list[list[str]] = [[] for _ in summaries]
    for about, read, more in WHOLE:
        _extremes(about, [read(s) for s in summaries], more, best, worst)
    for row in rows:
        if sum(f is not None for f in row.figures) >= 2:
            for about, of, _unit in FIGURES[:2]:
                _extremes(f"{about} to the {row.role}", [of(f) if f else None for f in row.figures], False, best, worst)
    orders = {}
    for spec in specs:
        if all(spec.id in s.scores and set(s.scores[spec.id]) >= {c.id for c in spec.criteria} for s in summaries):
            own = (weights or {}).get(spec.id, {})
            shares = [own.get(c.id, c.weight) for c in spec.criteria]
            scores = [[Range3(*s.scores[spec.id][c.id]) for c in spec.criteria] for s in summaries]
            orders[spec.id] = order_of(names, scores, shares, near)
    if all("bench mark" in s.marks for s in summaries):
        marks = [[Range3(*s.marks["bench mark"][:3])] for s in summaries]
        orders["bench mark"] = order_of(names, marks, [1.0], near)
    return SideBySide(
        tuple(names),
        tuple(rows),
        tuple(tuple(b) for b in best),
        tuple(tuple(w) for w in worst),
        orders,
        near,
        tuple(summaries),
    )


def table_of(side: SideBySide) -> list[list[str]]:
    """What stands side by side, as rows: what, unit, and for each device its least, likely and most figure."""
    rows = [["what", "unit", *(f"{name}, {end}" for name in side.names for end in ("least", "likely", "most"))]]
    for id, order in side.orders.items():
        of = dict(zip(order.names, order.scores, strict=True))
        cells = [f"{value:.4g}" for name in side.names for value in (of[name].low, of[name].likely, of[name].high)]
        rows.append([id, "points", *cells])
    for row in side.rows:
        figures = row.figures
        for what, unit, ends in (("steps", "", [f.steps if f else None for f in figures]),
                                 ("time", "s", [f.seconds if f else None for f in figures])):  # fmt: skip
            cells = [c for pair in ends for c in ((f"{pair[0]:.4g}", "", f"{pair[1]:.4g}") if pair else ("", "", ""))]
            rows.append([f"{what} to the {row.role}", unit, *cells])
        rows.append(
            [f"screws to the {row.role}", "", *(c for f in figures for c in ("", str(f.screws) if f else "", ""))]
        )
    for what, figures_, unit in side.whole():
        cells = [c for value in figures_ for c in ("", "" if value is None else f"{value:g}", "")]
        rows.append([what, unit, *cells])
    return rows


def _extremes(
    about: str, values: Sequence[float | None], more: bool, best: list[list[str]], worst: list[list[str]]
) -> None:
    """Note who is best and worst in one figure, where they differ."""
    known = [(v, n) for n, v in enumerate(values) if v is not None]
    if len(known) < 2 or max(known)[0] - min(known)[0] < 1e-9:
        return
    top, foot = (max(known), min(known)) if more else (min(known), max(known))
    if sum(v == top[0] for v, _ in known) == 1:
        best[top[1]].append(about)
    if sum(v == foot[0] for v, _ in known) == 1:
        worst[foot[1]].append(about)


def _told_apart(names: Sequence[str]) -> list[str]:
    """Names, numbered where several are the same."""
    out: list[str] = []
    for name in names:
        same = sum(other == name or other.startswith(f"{name} (") for other in out)
        out.append(f"{name} ({same + 1})" if same else name)
    return out
