"""Which compartment of a tray each screw group goes into: in order of removal, look-alikes not beside each other.

Compartments are numbered along the rows, which may differ in how many they have. A plan costs for every group how far
it lies from its place in the order, and for every pair of look-alikes how near they lie, by how easily they are taken
for each other. This quadratic assignment (Koopmans and Beckmann 1957) is solved as an integer programme, with one
figure for every pair that says how near it lies; the solver (HiGHS, Huangfu and Hall 2018) proves the plan or tells
how far it may be from the best.
"""

from __future__ import annotations

from math import ceil

import numpy as np
from attrs import frozen
from numpy.typing import NDArray
from scipy.optimize import Bounds, LinearConstraint, linear_sum_assignment, milp
from scipy.sparse import csr_matrix

from oddbolt.core.errors import BenchError
from oddbolt.core.fasteners.look_alike_ranking import pair
from oddbolt.core.fasteners.tray_tally import step_of
from oddbolt.core.study import Joint, Study
from oddbolt.core.study.formatting import plural

Floats = NDArray[np.float64]
#: what a look-alike in the next compartment costs against one place out of order, at full likeness
BESIDE = 40.0
#: pairs less alike than this do not matter
LEAST_ALIKE = 0.03
MOST_COMPARTMENTS = 400


@frozen
class Tray:
    """How many compartments each row has, and the inner size of the tray in mm."""

    per_row: tuple[int, ...]
    width_mm: float = 180.0
    height_mm: float = 120.0

    @property
    def count(self) -> int:
        return sum(self.per_row)

    @property
    def boxes(self) -> tuple[tuple[float, float, float, float], ...]:
        """Left, top, width and height of each compartment, mm."""
        high = self.height_mm / len(self.per_row)
        return tuple(
            (n * self.width_mm / across, row * high, self.width_mm / across, high)
            for row, across in enumerate(self.per_row)
            for n in range(across)
        )


@frozen
class TrayPlan:
    """``of`` gives for each compartment (along the rows) the joint in it, "" for none. ``gap`` is how much better a
    plan could be at the most, as a share of its cost; 0 is proved best. ``beside`` are look-alikes that lie beside each
    other all the same."""

    tray: Tray
    of: tuple[str, ...]
    cost: float
    gap: float
    beside: tuple[tuple[str, str], ...]
    by_kind: bool

    @property
    def sentence(self) -> str:
        """How good the plan is, in words."""
        proof = "no better plan exists" if self.gap < 1e-9 else f"at most {ceil(self.gap * 1000) / 10:g}% from the best"
        near = f"; {plural(len(self.beside), 'pair')} of look-alikes beside each other" if self.beside else ""
        return f"{plural(sum(bool(j) for j in self.of), 'group')} in {self.tray.count} compartments, {proof}{near}."


def tray(text: str, width_mm: float = 180.0, height_mm: float = 120.0) -> Tray:
    """A tray from "4x6" (rows and columns), or from "6+4+4" (the compartments of each row). Raises BenchError."""
    typed = text.lower().replace("×", "x").replace(" ", "")
    try:
        if "x" in typed:
            rows, columns = (int(p) for p in typed.split("x"))
            per_row = (columns,) * min(rows, MOST_COMPARTMENTS + 1)
        else:
            per_row = tuple(int(p) for p in typed.split("+")) if "+" in typed else ()
    except ValueError:
        per_row = ()
    if not per_row:
        raise BenchError(f"“{text}” is not a tray; type rows and columns like 4x6, or each row like 6+4+4.")
    if min(per_row) < 1 or sum(per_row) > MOST_COMPARTMENTS:
        raise BenchError(f"A tray has 1 to {MOST_COMPARTMENTS} compartments and none of its rows is empty: not {text}.")
    if not (20 <= width_mm <= 2000 and 20 <= height_mm <= 2000):
        raise BenchError("A tray is 20 to 2000 mm wide and high.")
    return Tray(per_row, width_mm, height_mm)


def plan(study: Study, into: Tray, by_kind: bool = False, budget_s: float = 0.8) -> TrayPlan:
    """A plan for all screw groups: in order of removal, or ``by_kind`` (drive, thread, length).

    Raises BenchError if there are more groups than compartments, or none.
    """
    groups = ordered(study, by_kind)
    if not groups:
        raise BenchError("The study has no screws to lay out yet.")
    if len(groups) > into.count:
        raise BenchError(f"{len(groups)} groups do not go into {into.count} compartments; use a larger tray.")
    alike = _alikeness(study, groups)
    order, near = _order_cost(len(groups), into), _nearness(into)
    place, cost, bound = _assigned(order, near, alike, budget_s)
    of = [""] * into.count
    for group, at in zip(groups, place, strict=True):
        of[at] = group.id
    beside = [
        (groups[i].id, groups[j].id)
        for i in range(len(groups))
        for j in range(i + 1, len(groups))
        if alike[i, j] > 0 and near[place[i], place[j]] > 0
    ]
    gap = 0.0 if cost - bound < 1e-9 else (cost - bound) / cost
    return TrayPlan(into, tuple(of), cost, gap, tuple(beside), by_kind)


def ordered(study: Study, by_kind: bool) -> list[Joint]:
    """The screw groups in the order they are laid out in."""
    step = step_of(study)
    groups = [j for j in study.joints.values() if j.kind == "screw"]
    if by_kind:
        return sorted(groups, key=lambda j: (j.drive, j.size, j.thread, j.length_mm or 0.0, step.get(j.id, 10**6)))
    return sorted(groups, key=lambda j: step.get(j.id, 10**6))


def _alikeness(study: Study, groups: list[Joint]) -> Floats:
    n = len(groups)
    out = np.zeros((n, n))
    for i in range(n):
        for j in range(i + 1, n):
            found = pair(study, groups[i], groups[j])
            likely = found.alike if found.risk > 0 else 0.0
            out[i, j] = out[j, i] = likely if likely >= LEAST_ALIKE else 0.0
    return out


def _order_cost(groups: int, into: Tray) -> Floats:
    """What it costs to have a group in a compartment: how far it is from its place, in compartments."""
    out: Floats = np.abs(np.arange(groups)[:, None] - np.arange(into.count)[None, :]).astype(np.float64)
    return out


def _nearness(into: Tray) -> Floats:
    """1 for compartments that share a side or a part of one, half for those that meet at a corner, else 0."""
    left, top, wide, high = np.array(into.boxes).T

    def shared(start: Floats, size: Floats) -> Floats:
        end = start + size
        both: Floats = np.minimum(end[:, None], end) - np.maximum(start[:, None], start)
        return both

    across, down = shared(left, wide), shared(top, high)
    touch = (across > -1e-6) & (down > -1e-6)
    corner = (across < 1e-6) & (down < 1e-6)
    out: Floats = np.where(touch & ~corner, 1.0, np.where(touch, 0.5, 0.0))
    np.fill_diagonal(out, 0.0)
    return out


def _cost_of(place: NDArray[np.int64], order: Floats, near: Floats, alike: Floats) -> float:
    along = order[np.arange(len(place)), place].sum()
    return float(along + BESIDE * 0.5 * (alike * near[np.ix_(place, place)]).sum())


def _assigned(order: Floats, near: Floats, alike: Floats, budget_s: float) -> tuple[NDArray[np.int64], float, float]:
    """The best plan found, its cost, and a bound from below for any plan."""
    n, m = order.shape
    first = np.asarray(linear_sum_assignment(order)[1], dtype=np.int64)
    cost = _cost_of(first, order, near, alike)
    bound = float(order[np.arange(n), first].sum())
    if cost - bound < 1e-9:
        return first, cost, bound
    pairs = [(i, j) for i in range(n) for j in range(i + 1, n) if alike[i, j] > 0]
    weights = np.concatenate([order.ravel(), [BESIDE * alike[i, j] for i, j in pairs]])
    free = np.concatenate([np.ones(n * m), np.zeros(len(pairs))])
    limits = {"time_limit": budget_s}
    solved = milp(weights, constraints=_rules(n, near, pairs), integrality=free, bounds=Bounds(0, 1), options=limits)
    if solved.x is None:
        return first, cost, max(bound, float(solved.mip_dual_bound or 0.0))
    place = np.asarray(solved.x[: n * m].reshape(n, m).argmax(axis=1), dtype=np.int64)
    found = _cost_of(place, order, near, alike)
    below = found if solved.status == 0 else float(solved.mip_dual_bound)
    return (place, found, min(below, found)) if found <= cost else (first, cost, min(below, cost))


def _rules(n: int, near: Floats, pairs: list[tuple[int, int]]) -> LinearConstraint:
    """Each group in one place, one group in each place at the most; a pair is as near as its two places are."""
    m = len(near)
    size = n * m + len(pairs)
    cells = np.arange(n * m).reshape(n, m)
    rows: list[int] = []
    columns: list[int] = []
    values: list[float] = []
    low: list[float] = []
    high: list[float] = []

    def rule(where: NDArray[np.int64], what: Floats, least: float, most: float) -> None:
        rows.extend([len(low)] * len(where))
        columns.extend(where.tolist())
        values.extend(what.tolist())
        low.append(least)
        high.append(most)

    for i in range(n):
        rule(cells[i], np.ones(m), 1, 1)
    for k in range(m):
        rule(cells[:, k], np.ones(n), 0, 1)
    for q, (i, j) in enumerate(pairs):
        for k in range(m):
            for beside, share in ((np.flatnonzero(near[k] == 1), 1.0), (np.flatnonzero(near[k] > 0), 0.5)):
                where = np.concatenate([[cells[i, k]], cells[j, beside], [n * m + q]])
                what = np.concatenate([np.full(len(beside) + 1, share), [-1.0]])
                rule(where, what, -np.inf, share)
    matrix = csr_matrix((values, (rows, columns)), shape=(len(low), size))
    return LinearConstraint(matrix, low, high)
