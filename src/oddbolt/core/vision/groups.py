"""Screws sorted into groups of their kind: how each is read, and how many groups there are."""

from __future__ import annotations

from itertools import permutations

import numpy as np
from attrs import evolve, frozen

from oddbolt.core.reference.limits import LENGTHS_MM
from oddbolt.core.vision.mat import Floats
from oddbolt.core.vision.screw_fit import Lying

#: how far a length, a head and a shank are off within a family, and a length within a group, one standard deviation, mm
FAMILY_MM, LENGTH_MM = (0.45, 0.4, 0.3), 0.16
#: the points of an outline err together: so many of them count as points on their own; a cost below this is all noise
POINTS, NOISE = 6.0, 3.0
#: what two shapes of head in one family cost beforehand, and how much more likely than the first the second must be
#: for a screw to speak for it: outlines of one kind of head are cut in the same way by what mirrors the mat
TWO_SHAPES, SPEAKS = 5.0, 1.2
#: what seldom shapes of head cost a group beforehand (common practice, no source)
SELDOM = {"flat": 3.0, "headless": 2.0}
#: what a length that screws are not made in costs beforehand, and how near counts as made so, mm
UNUSUAL, MADE_MM = 4.0, 0.15
#: a fit that leaves so much is worth half of a clean one
DOUBTFUL = 25.0
#: how much of its own size a screw keeps in a group of three or more
OWN = 0.25


@frozen
class Group:
    """Screws alike: how many, and their mean sizes, mm."""

    count: int
    shape: str
    length_mm: float
    head_mm: float
    shank_mm: float
    spread_mm: float


def grouped(readings: list[tuple[Lying, ...]]) -> tuple[list[int], list[Lying], tuple[Group, ...]]:
    """Which group each screw is of, how it is read, and the groups by length.

    Screws are first sorted into families of about one size, whatever the shape of the head; each family has the shape
    that its screws together speak for, and is then split by length. The screws of a group keep little of their own:
    what they differ by is mostly the error of measuring (shrinkage, James and Stein 1961). How many families and
    groups: as many as the Bayesian information criterion (Schwarz 1978) asks for, with the errors known; a screw whose
    fit leaves much counts for less.
    """
    members, chosen = [-1] * len(readings), [r[0] for r in readings]
    groups: list[tuple[Group, list[int]]] = []
    rough = np.array([_alike(r) for r in readings]).reshape(-1, 3) / FAMILY_MM
    weight = np.array([1 / (1 + r[0].cost / DOUBTFUL) for r in readings])
    weight /= np.median(weight) if len(weight) else 1.0
    families = _clusters(rough, weight) if len(rough) else []
    for shape, family in (one for many in families for one in _by_shape(many, readings)):
        for n in family:
            chosen[n] = next((r for r in readings[n] if r.shape == shape), chosen[n])
        lengths = np.array([[chosen[n].length_mm] for n in family]) / LENGTH_MM
        for part in _clusters(lengths, weight[family]):
            inside = [family[k] for k in part]
            groups.append((_group(chosen, inside, shape), inside))
    groups.sort(key=lambda g: (g[0].length_mm, g[0].head_mm))
    for k, (_one, inside) in enumerate(groups):
        for n in inside:
            members[n] = k
    return members, chosen, tuple(g for g, _ in groups)


def _by_shape(family: list[int], readings: list[tuple[Lying, ...]]) -> list[tuple[str, list[int]]]:
    """A family by the shape that its screws together speak for, or by two where that explains them much better."""
    shapes = sorted({r.shape for n in family for r in readings[n]})
    dear = max(r.cost for n in family for r in readings[n]) + 1
    cost = {
        s: POINTS
        * np.log(NOISE + np.array([min((r.cost for r in readings[n] if r.shape == s), default=dear) for n in family]))
        for s in shapes
    }
    unusual = {s: UNUSUAL / len(family) * np.array([_unusual(readings[n], s) for n in family]) for s in shapes}
    each = {s: cost[s] + unusual[s] for s in shapes}
    ways = [*((s,) for s in shapes), *permutations(shapes, 2)]

    def dearness(way: tuple[str, ...]) -> float:
        beforehand = sum(SELDOM.get(s, 0.0) for s in way) + (len(way) - 1) * TWO_SHAPES
        gain = np.maximum(each[way[0]] - each[way[-1]] - SPEAKS, 0.0) if len(way) > 1 else 0.0
        return float((each[way[0]] - gain).sum()) + beforehand

    best = min(ways, key=dearness)
    of = np.zeros(len(family), int)
    if len(best) > 1:
        of = (cost[best[0]] - cost[best[1]] > SPEAKS).astype(int)
    parts = [(s, [n for n, k in zip(family, of, strict=True) if k == m]) for m, s in enumerate(best)]
    return [part for part in parts if part[1]]


def _unusual(readings: tuple[Lying, ...], shape: str) -> float:
    """How far the length by this reading is from one that screws are made in, 0 to 1."""
    off = min((abs(r.length_mm - made) for r in readings if r.shape == shape for made in LENGTHS_MM), default=9.0)
    return 1 - float(np.exp(-0.5 * (off / MADE_MM) ** 2))


def _group(chosen: list[Lying], inside: list[int], shape: str) -> Group:
    """The group of these screws; in a group of three or more, each is brought near to its middle."""
    sizes = np.array([(chosen[n].length_mm, chosen[n].head_mm, chosen[n].shank_mm) for n in inside])
    middle = np.median(sizes, axis=0)
    for n, own in zip(inside, sizes, strict=True):
        length, head, shank = (float(v) for v in middle + (1 if len(inside) < 3 else OWN) * (own - middle))
        length = chosen[n].length_mm if chosen[n].said else length
        chosen[n] = evolve(chosen[n], length_mm=length, head_mm=head, shank_mm=shank)
    long, wide, thick = (float(v) for v in middle)
    return Group(len(inside), shape, long, wide, thick, float(np.ptp(sizes[:, 0])))


def _alike(readings: tuple[Lying, ...]) -> tuple[float, float, float]:
    """What families are sorted by: the length under a raised head, whether it is one or not, the head and the shank."""
    one = next((r for r in readings if r.shape == "domed"), readings[0])
    return one.length_mm, one.head_mm, one.shank_mm


def _clusters(points: Floats, weight: Floats) -> list[list[int]]:
    """Indices of the points of each cluster: joined from the nearest on (Ward 1963), and cut where the criterion is
    best."""
    clusters = [[k] for k in range(len(points))]
    best, best_cost = clusters, _cost(points, weight, clusters)
    while len(clusters) > 1:
        means = np.array([np.average(points[c], axis=0, weights=weight[c]) for c in clusters])
        sizes = np.array([weight[c].sum() for c in clusters])
        apart = ((means[:, None] - means[None]) ** 2).sum(-1)
        gap = apart * (sizes[:, None] * sizes[None]) / (sizes[:, None] + sizes[None])
        gap[np.tril_indices(len(clusters))] = np.inf
        i, j = (int(v) for v in np.unravel_index(int(np.argmin(gap)), gap.shape))
        clusters = [c for k, c in enumerate(clusters) if k not in (i, j)] + [clusters[i] + clusters[j]]
        cost = _cost(points, weight, clusters)
        if cost <= best_cost:
            best, best_cost = clusters, cost
    return best


def _cost(points: Floats, weight: Floats, clusters: list[list[int]]) -> float:
    off = 0.0
    for c in clusters:
        middle = np.average(points[c], axis=0, weights=weight[c])
        off += float((weight[c, None] * (points[c] - middle) ** 2).sum())
    per_cluster = points.shape[1] * float(np.log(max(len(points), 2))) + 4.0
    return float(off + len(clusters) * per_cluster)
