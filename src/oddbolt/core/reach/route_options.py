"""What a route shall be: least in what, by which way, with what on the bench, for which variant of the device."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from types import MappingProxyType

from attrs import field, frozen

from oddbolt.core.errors import ReachError
from oddbolt.core.reference.quantities import quantity
from oddbolt.core.study import Step, Study
from oddbolt.core.study.step_methods import doing
from oddbolt.core.study.steps import without_parts

#: what a route may be made least in
MINIMISE = ("time", "steps", "tool changes", "renewals", "risk")
#: what a route may do without, as far as there is another way
AVOID = ("heat", "solvent", "blade", "destruction")
#: one step, change of tool, renewal or point of risk against so many seconds, where these are to be least
HEAVY_S = 100_000.0


def _known(_options: RouteOptions, _attribute: object, value: str) -> None:
    if value not in MINIMISE:
        raise ReachError(f"“{value}” cannot be minimised; choose one of: {', '.join(MINIMISE)}.")


def _avoidable(_options: RouteOptions, _attribute: object, value: tuple[str, ...]) -> None:
    for what in value:
        if what not in AVOID:
            raise ReachError(f"“{what}” cannot be avoided; choose one of: {', '.join(AVOID)}.")


def _weighed(_options: RouteOptions, _attribute: object, value: tuple[tuple[str, float], ...]) -> None:
    for what, seconds in value:
        if what not in MINIMISE[1:]:
            raise ReachError(f"“{what}” cannot be weighted; choose from {', '.join(MINIMISE[1:])} have.")
        if not 0 <= seconds <= HEAVY_S:
            raise ReachError(f"One of the {what} weighs {seconds:g} s; it must lie between 0 and {HEAVY_S:g} s.")


@frozen
class RouteOptions:
    """``least`` is one of :data:`MINIMISE`, what is equal by it is decided by time; or ``weights`` say how many seconds
    one step, tool change, renewal or point of risk is worth. ``keep_in`` are parts not to be touched, ``avoid`` some of
    :data:`AVOID`, ``tools`` all there are (None: any), ``faces`` those to work from (none named: any). ``isolate`` is
    the step that is to cut the power, "not" for a device worked on live, "" for the best. ``variant`` is the variant of
    the device, "" for all parts recorded. Raises ReachError for words it does not know."""

    least: str = field(default="time", validator=_known)
    weights: tuple[tuple[str, float], ...] = field(default=(), validator=_weighed)
    keep_in: tuple[str, ...] = ()
    avoid: tuple[str, ...] = field(default=(), validator=_avoidable)
    tools: frozenset[str] | None = None
    faces: tuple[str, ...] = ()
    isolate: str = ""
    variant: str = ""

    @property
    def power(self) -> tuple[bool, str]:
        """Whether the power must be isolated before a connector is opened, and by which step ("": any that does)."""
        return self.isolate != "not", self.isolate if self.isolate != "not" else ""

    @property
    def worth(self) -> Mapping[str, float]:
        """Seconds that one of each counts for beside its time."""
        if self.weights:
            return MappingProxyType(dict(self.weights))
        return MappingProxyType({} if self.least == "time" else {self.least: HEAVY_S})


def barred(study: Study, options: RouteOptions) -> frozenset[str]:
    """The steps that a route so wished may not use; the bare hand is always at hand. Keeping a part in keeps in what
    carries it. Raises ReachError for a face that no step is worked from."""
    known = dict.fromkeys(s.face for s in study.steps.values() if s.phase == "apart")
    for face in options.faces:
        if face not in known:
            raise ReachError(f"No step is worked from the {face}; there is {', '.join(known) or 'no step'}.")
    shut = set(options.keep_in) | {carrier for part in options.keep_in for carrier in study.carriers(part)}
    return frozenset(id for id, step in study.steps.items() if _barred(study, step, options, shut))


def _barred(study: Study, step: Step, options: RouteOptions, shut: set[str]) -> bool:
    if shut & {*step.takes_out, *step.opens}:
        return True
    if options.tools is not None and step.tool and step.tool not in options.tools:
        return True
    if options.faces and step.face not in options.faces:
        return True
    return bool(options.avoid) and bool(_means(study, step) & set(options.avoid))


def _means(study: Study, step: Step) -> set[str]:
    return doing(study, step) | ({"destruction"} if step.destroys else set())


def weights_of(text: str) -> tuple[tuple[str, float], ...]:
    """Weights typed as "renewals 2 min, risk 30 s". Raises ReachError for what is no weight."""
    out = []
    for one in filter(str.strip, text.split(",")):
        what = next((w for w in MINIMISE[1:] if one.strip().casefold().startswith(w)), "")
        try:
            out.append((what, quantity(one.strip()[len(what) :].strip(" ="), "time")))
        except ValueError:
            what = ""
        if not what:
            raise ReachError(f"“{one.strip()}” is not a weight; type it like renewals 2 min, risk 30 s.")
    return tuple(out)


@frozen
class Choices:
    """What there is to choose between in one study: means that some step uses, faces, steps that cut the power, names
    of variants. Where there is only one, there is nothing to choose."""

    avoid: tuple[str, ...]
    faces: tuple[str, ...]
    isolating: tuple[str, ...]
    variants: tuple[str, ...]


@lru_cache(maxsize=4)
def choices(study: Study) -> Choices:
    """What a route of this study may be chosen by."""
    apart = [s for s in study.steps.values() if s.phase == "apart"]
    means = set[str]().union(*(_means(study, s) for s in apart))
    faces = tuple(dict.fromkeys(s.face for s in apart))
    isolating = tuple(s.id for s in apart if s.isolates_power)
    variants = dict.fromkeys(_names(study.device.variant))
    variants |= dict.fromkeys(v for p in study.parts.values() for v in _names(p.variant))
    return Choices(
        tuple(w for w in AVOID if w in means),
        faces if len(faces) > 1 else (),
        isolating,
        tuple(variants) if any(p.variant for p in study.parts.values()) else (),
    )


def as_variant(study: Study, variant: str) -> Study:
    """The study of one variant of the device: without the parts that are marked as of others, what holds only these,
    and steps that have nothing left to do. Raises ReachError for a variant that nothing is marked with."""
    if not variant:
        return study
    wanted = variant.casefold()
    if wanted not in [name.casefold() for name in choices(study).variants]:
        there = ", ".join(choices(study).variants) or "none is marked"
        raise ReachError(f"There is no variant “{variant}” in this study: {there}.")
    marked = {p.id: _names(p.variant.casefold()) for p in study.parts.values() if p.variant}
    return without_parts(study, [id for id, names in marked.items() if wanted not in names])


def _names(text: str) -> list[str]:
    return [name.strip() for name in text.split(",") if name.strip()]
