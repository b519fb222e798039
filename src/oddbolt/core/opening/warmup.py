"""Warming a glued cover: transient conduction through flat layers, from the heater inwards.

Method: finite volumes in each layer, series resistances between their middles, TR-BDF2 in time (implicit, of second
order, and calm at the jump at t = 0); its banded system is factored once and solved twice a step. Sources: Patankar,
Numerical Heat Transfer and Fluid Flow, 1980; Bank and others 1985; Incropera and DeWitt, chapter 5.
Units are SI but for mm, °C and min where a name says so.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from math import exp, inf, isfinite, log, sqrt

import numpy as np
from attrs import evolve, frozen
from numpy.typing import NDArray

from oddbolt.core.errors import BenchError
from oddbolt.core.reference.tables import Material, materials, table
from oddbolt.core.study import Layer, Study, Warmup

Array = NDArray[np.float64]
STEPS, CELLS = 360, 8
SEED, SAMPLES, MOST_SAMPLES = 20, 200, 5000
# TR-BDF2: the place of the middle stage for which both stages have one matrix, and the weights that follow from it
GAMMA = 2 - sqrt(2)
MIDDLE, BEFORE = 1 / (GAMMA * (2 - GAMMA)), (1 - GAMMA) ** 2 / (GAMMA * (2 - GAMMA))
WEIGHT = sqrt(2) / 4


@frozen
class Slab:
    """A flat layer: thickness in m, conductivity in W/m K, density times specific heat in J/m³K, and the relative
    standard deviation that its figures may have."""

    thickness_m: float
    conductivity: float
    heat: float
    spread: float = 0.0
    role: str = ""
    name: str = ""


@frozen
class Heating:
    """The two faces. Plate or air: ``outside_c`` behind ``coupling`` W/m²K. Pad: ``flux`` W/m² at the face, which also
    loses to the room through ``coupling``. The last face loses to ``room_c`` through ``loss`` W/m²K."""

    outside_c: float
    coupling: float
    flux: float
    loss: float
    room_c: float


@frozen(eq=False)
class Warming:
    """Temperatures in °C at ``times_s``: of the heated face, the bond line, and the guarded layer's hottest point (None
    if no layer is guarded). ``depths_m`` and ``profile`` are the places and temperatures at the end, ``heat_in`` what
    came in over both faces less what went out, ``heat_kept`` what is stored."""

    times_s: Array
    surface_c: Array
    bond_c: Array
    guarded_c: Array | None
    depths_m: Array
    profile: Array
    settled_bond_c: float
    settled_guarded_c: float | None
    heat_in_j_m2: float
    heat_kept_j_m2: float


@frozen
class SafePeriod:
    """When the bond line is soft, and when the guarded layer meets its limit, in s; None where that is never reached.
    ``sentence`` says it in words."""

    soft_s: float | None
    limit_s: float | None
    settles_c: float
    sentence: str

    @property
    def open_s(self) -> float:
        """Seconds between soft and the limit: 0 if there is no safe moment, infinite if nothing ends it."""
        if self.soft_s is None:
            return 0.0
        return inf if self.limit_s is None else max(0.0, self.limit_s - self.soft_s)


@frozen(eq=False)
class WarmupBand:
    """The 10th, 50th and 90th percentile over samples of uncertain figures: of the curves (rows) and of the times. A
    time that most samples never reach is infinite. ``reached`` is the share of samples whose bond line gets soft."""

    times_s: Array
    bond_c: Array
    guarded_c: Array | None
    soft_s: tuple[float, float, float]
    limit_s: tuple[float, float, float]
    reached: float
    samples: int


def slabs_of(study: Study, warmup_id: str) -> tuple[Slab, ...]:
    """The layers of a warm-up with their materials' figures. Raises BenchError where one is not possible."""
    return tuple(slab(layer) for layer in study.layers.values() if layer.warmup == warmup_id)


def slab(layer: Layer) -> Slab:
    """A layer with the figures of its material; what the layer states itself goes before.

    Raises BenchError for a material that is in no row, if the layer does not state all three figures.
    """
    row: Material | None = materials().get(layer.material)
    own = (layer.conductivity_w_mk, layer.density_kg_m3, layer.heat_j_kgk)
    if row is None and None in own:
        known = ", ".join(materials())
        raise BenchError(
            f"{layer.material!r} is in no row of the materials. Give its conductivity, density and heat, "
            f"or name one of {known}."
        )
    k, rho, c = (
        stated if stated is not None else getattr(row, field)
        for stated, field in zip(own, ("conductivity_w_mk", "density_kg_m3", "heat_j_kgk"), strict=True)
    )
    name = layer.name or layer.material
    return Slab(
        layer.thickness_mm / 1000, float(k), float(rho) * float(c), row.spread if row else 0.1, layer.role, name
    )


def heating(warmup: Warmup) -> Heating:
    """The faces of a warm-up."""
    if warmup.heater == "pad":
        return Heating(warmup.room_c, warmup.loss_w_m2k, warmup.flux_w_m2, warmup.loss_w_m2k, warmup.room_c)
    return Heating(warmup.heater_c, warmup.coupling_w_m2k, 0.0, warmup.loss_w_m2k, warmup.room_c)


def warm(slabs: Sequence[Slab], faces: Heating, seconds: float, steps: int = STEPS, cells: int = CELLS) -> Warming:
    """The warming of a stack that begins at room temperature.

    ``cells`` are the finite volumes of each layer, ``steps`` the time steps. The bond line is the far face of the first
    layer with the role "glue", else the far face of the first layer. Raises BenchError for no layers or figures that
    are not above zero.
    """
    _check(slabs, seconds)
    mesh = _Mesh(slabs, faces, cells)
    times = np.linspace(0.0, seconds, steps + 1)
    field = np.empty((steps + 1, mesh.size))
    field[0] = now = np.full(mesh.size, faces.room_c)
    step = seconds / steps
    entered = 0.0
    stages = _Stages(mesh, step)
    for n in range(1, steps + 1):
        if n == 1:  # short steps first: the heater comes on at once
            for part in (64, 64, 32, 16, 8, 4, 2):
                now, came = _Stages(mesh, step / part).step(now)
                entered += came
        else:
            now, came = stages.step(now)
            entered += came
        field[n] = now
    settled = mesh.settled()
    kept = float(mesh.heat @ (field[-1] - faces.room_c))
    surface = mesh.surface(field)
    bond = mesh.at(field, mesh.bond)
    guarded = mesh.hottest(field) if mesh.guarded else None
    return Warming(
        times,
        surface,
        bond,
        guarded,
        mesh.middles,
        field[-1],
        float(mesh.at(settled[None, :], mesh.bond)[0]),
        float(mesh.hottest(settled[None, :])[0]) if mesh.guarded else None,
        entered,
        kept,
    )


def safe_window(warming: Warming, target_c: float, limit_c: float) -> SafePeriod:
    """When the bond line reaches ``target_c`` and the guarded layer ``limit_c``, read between time steps."""
    from oddbolt.core.study.formatting import duration

    soft = crossing(warming.times_s, warming.bond_c, target_c)
    limit = crossing(warming.times_s, warming.guarded_c, limit_c) if warming.guarded_c is not None else None
    settles = warming.settled_bond_c
    span = duration(float(warming.times_s[-1]))
    if soft is None:
        if settles < target_c:
            sentence = f"The bond line never reaches {target_c:g} °C; it settles at {settles:.0f} °C."
        else:
            sentence = f"The bond line is not at {target_c:g} °C within {span}; it would settle at {settles:.0f} °C."
        if limit is not None:
            sentence += f" The guarded layer passes {limit_c:g} °C after {duration(limit)}."
    elif limit is None:
        guard = "" if warming.guarded_c is None else f"; the guarded layer stays below {limit_c:g} °C for {span}"
        sentence = f"Soft after {duration(soft)}{guard}."
    elif limit <= soft:
        sentence = (
            f"No safe moment: the guarded layer passes {limit_c:g} °C after {duration(limit)}, "
            f"before the bond line is soft ({duration(soft)})."
        )
    else:
        sentence = f"Soft after {duration(soft)}; off the heat by {duration(limit)}. You have {duration(limit - soft)}."
    return SafePeriod(soft, limit, settles, sentence)


def crossing(times: Array, curve: Array, level: float) -> float | None:
    """The first time in s at which a curve reaches a level, read along straight lines; None if it does not."""
    above = np.nonzero(curve >= level)[0]
    if not len(above):
        return None
    n = int(above[0])
    if n == 0:
        return float(times[0])
    low, high = float(curve[n - 1]), float(curve[n])
    return float(times[n - 1] + (times[n] - times[n - 1]) * (level - low) / (high - low))


def samples(slabs: Sequence[Slab], faces: Heating, count: int, seed: int) -> Iterator[tuple[list[Slab], Heating]]:
    """Stacks and faces drawn about the given ones: log-normal, each figure by its own spread."""
    rng = np.random.default_rng(seed)
    rows = table("materials")["heating"]
    for _ in range(count):
        drawn = [
            evolve(
                s,
                conductivity=s.conductivity * exp(s.spread * rng.standard_normal()),
                heat=s.heat * exp(s.spread / 2 * rng.standard_normal()),
            )
            for s in slabs
        ]
        tie = exp(float(rows["coupling_spread"]) * rng.standard_normal())
        push = exp(float(rows["flux_spread"]) * rng.standard_normal())
        lose = exp(float(rows["coupling_spread"]) * rng.standard_normal())
        yield drawn, evolve(faces, coupling=faces.coupling * tie, flux=faces.flux * push, loss=faces.loss * lose)


def band(
    slabs: Sequence[Slab],
    faces: Heating,
    seconds: float,
    target_c: float,
    limit_c: float,
    count: int = SAMPLES,
    seed: int = SEED,
    stopped: Callable[[], bool] = lambda: False,
) -> WarmupBand | None:
    """What the uncertain figures make of the times; None if ``stopped`` said so. The same seed gives the same band.

    Raises BenchError for more than :data:`MOST_SAMPLES`.
    """
    if not 1 <= count <= MOST_SAMPLES:
        raise BenchError(f"The band is worked out from 1 to {MOST_SAMPLES} samples, not {count}.")
    bonds, guards, softs, limits = [], [], [], []
    times: Array = np.empty(0)
    for drawn, at in samples(slabs, faces, count, seed):
        if stopped():
            return None
        run = warm(drawn, at, seconds, STEPS // 3, CELLS // 2)
        times = run.times_s
        bonds.append(run.bond_c)
        softs.append(crossing(times, run.bond_c, target_c))
        if run.guarded_c is not None:
            guards.append(run.guarded_c)
            limits.append(crossing(times, run.guarded_c, limit_c))
    levels = (10, 50, 90)
    return WarmupBand(
        times,
        np.percentile(bonds, levels, axis=0),
        np.percentile(guards, levels, axis=0) if guards else None,
        _quantiles(softs),
        _quantiles(limits) if guards else (inf, inf, inf),
        sum(s is not None for s in softs) / count,
        count,
    )


def corrected(slabs: Sequence[Slab], faces: Heating, at_s: float, surface_c: float) -> Heating:
    """The faces that make the heated face read ``surface_c`` at ``at_s``; fits the coupling (plate, air) or the flux.

    Raises BenchError where no coupling explains the reading.
    """
    from scipy.optimize import brentq  # a heavy import, wanted only here

    pad = faces.flux > 0

    def made(factor: float) -> Heating:
        return evolve(faces, flux=faces.flux * factor) if pad else evolve(faces, coupling=faces.coupling * factor)

    def miss(logarithm: float) -> float:
        run = warm(slabs, made(exp(logarithm)), at_s, STEPS // 3, CELLS)
        return float(run.surface_c[-1]) - surface_c

    low, high = log(0.02), log(50.0)
    coldest, hottest = miss(low) + surface_c, miss(high) + surface_c
    if not coldest < surface_c < hottest:
        raise BenchError(
            f"This kind of heater cannot bring the cover to {surface_c:g} °C; "
            f"it can be {coldest:.0f} to {hottest:.0f} °C. "
            "Look at the heater's temperature and the layers."
        )
    return made(exp(float(brentq(miss, low, high, xtol=1e-3))))


def _check(slabs: Sequence[Slab], seconds: float) -> None:
    if not slabs:
        raise BenchError("There are no layers to warm; add the cover first.")
    for s in slabs:
        for what, value in (("thickness", s.thickness_m), ("conductivity", s.conductivity), ("heat capacity", s.heat)):
            if not (isfinite(value) and value > 0):
                raise BenchError(f"The {what} of {s.name or 'a layer'} is {value:g}; it must be above zero.")
    if not (isfinite(seconds) and seconds > 0):
        raise BenchError(f"The time is {seconds:g} s; it must be above zero.")


def _quantiles(values: Sequence[float | None]) -> tuple[float, float, float]:
    ordered = np.sort([inf if v is None else v for v in values])
    last = len(ordered) - 1
    low, mid, high = (float(ordered[round(q * last)]) for q in (0.1, 0.5, 0.9))
    return low, mid, high


class _Stages:
    """One size of time step: its factors, used for both stages."""

    def __init__(self, mesh: _Mesh, seconds: float) -> None:
        self.mesh, self.seconds, self.part = mesh, seconds, GAMMA / 2 * seconds
        self.solved = mesh.factored(self.part)

    def step(self, now: Array) -> tuple[Array, float]:
        """The temperatures one step on, and the heat that entered over both faces meanwhile, J/m²."""
        mesh, part = self.mesh, self.part
        middle = self.solved(mesh.heat * now + part * (2 * mesh.source - mesh.times(now)))
        after = self.solved(mesh.heat * (MIDDLE * middle - BEFORE * now) + part * mesh.source)
        flow = WEIGHT * (mesh.net_in(now) + mesh.net_in(middle)) + GAMMA / 2 * mesh.net_in(after)
        return after, self.seconds * flow


class _Mesh:
    """Finite volumes of a stack: ``heat`` J/m²K of each, the symmetric banded conductances between them in W/m²K."""

    def __init__(self, slabs: Sequence[Slab], faces: Heating, cells: int) -> None:
        self.faces = faces
        width = np.repeat([s.thickness_m / cells for s in slabs], cells)
        conductivity = np.repeat([s.conductivity for s in slabs], cells)
        self.size = len(width)
        self.heat: Array = width * np.repeat([s.heat for s in slabs], cells)
        half = width / 2 / conductivity
        self.half = half
        self.between: Array = 1 / (half[:-1] + half[1:])
        self.first = 1 / (1 / faces.coupling + half[0]) if faces.coupling else 0.0
        self.last = 1 / (1 / faces.loss + half[-1]) if faces.loss else 0.0
        self.middles: Array = np.cumsum(width) - width / 2
        self.diagonal: Array = np.zeros(self.size)
        self.diagonal[:-1] += self.between
        self.diagonal[1:] += self.between
        self.diagonal[0] += self.first
        self.diagonal[-1] += self.last
        # a flux enters at the face: what the coupling does not carry away goes on inwards
        self.pushed = faces.flux * (self.first / faces.coupling if faces.coupling else 1.0)
        self.source: Array = np.zeros(self.size)
        self.source[0] += self.first * faces.outside_c + self.pushed
        self.source[-1] += self.last * faces.room_c
        glue = next((n for n, s in enumerate(slabs) if s.role == "glue"), 0)
        self.bond = (glue + 1) * cells - 1
        self.guarded = [
            m for n, s in enumerate(slabs) if s.role == "guarded" for m in range(n * cells, (n + 1) * cells)
        ]

    def settled(self) -> Array:
        """The temperatures that are reached in the end; infinite where heat only comes in."""
        if not (self.first or self.last):
            return np.full(self.size, inf)
        return self.solver(self.diagonal, -self.between)(self.source)

    def factored(self, seconds: float) -> Callable[[Array], Array]:
        """A solver for the heat capacities plus ``seconds`` times the conductances."""
        return self.solver(self.heat + seconds * self.diagonal, -seconds * self.between)

    @staticmethod
    def solver(diagonal: Array, off: Array) -> Callable[[Array], Array]:
        """A solver for a symmetric matrix of three bands, factored once."""
        from scipy.linalg.lapack import dpttrf, dpttrs  # a heavy import, wanted only where something is warmed

        d, e, info = dpttrf(diagonal, off)
        if info:
            raise BenchError("These layers cannot be computed together; one is far thinner than the rest.")

        def solved(right: Array) -> Array:
            out: Array = dpttrs(d, e, right)[0]
            return out

        return solved

    def times(self, temperatures: Array) -> Array:
        """The conductances applied to temperatures."""
        out = self.diagonal * temperatures
        out[:-1] -= self.between * temperatures[1:]
        out[1:] -= self.between * temperatures[:-1]
        return out

    def net_in(self, temperatures: Array) -> float:
        """Heat that enters over both faces, W/m²."""
        return float(
            self.pushed
            + self.first * (self.faces.outside_c - temperatures[0])
            + self.last * (self.faces.room_c - temperatures[-1])
        )

    def surface(self, field: Array) -> Array:
        """The temperature of the heated face over time."""
        f = self.faces
        if not f.coupling:
            return np.asarray(field[:, 0] + f.flux * self.half[0])
        inward = 1 / self.half[0]
        return np.asarray((inward * field[:, 0] + f.coupling * f.outside_c + f.flux) / (inward + f.coupling))

    def at(self, field: Array, cell: int) -> Array:
        """The temperature of the far face of a volume over time."""
        if cell == self.size - 1:
            f = self.faces
            inward = 1 / self.half[cell]
            return np.asarray((inward * field[:, cell] + f.loss * f.room_c) / (inward + f.loss))
        a, b = 1 / self.half[cell], 1 / self.half[cell + 1]
        return np.asarray((a * field[:, cell] + b * field[:, cell + 1]) / (a + b))

    def hottest(self, field: Array) -> Array:
        """The hottest point of the guarded layers over time; the face nearest the heater counts."""
        inside: Array = field[:, self.guarded].max(axis=1)
        first = self.guarded[0]
        face = self.surface(field) if first == 0 else self.at(field, first - 1)
        hottest: Array = np.maximum(inside, face)
        return hottest
