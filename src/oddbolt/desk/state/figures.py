"""Figures derived from the study: at once for a study of ordinary size, beside the work for a large one."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping
from functools import partial
from typing import Any

from attrs import frozen
from PySide6.QtCore import QObject, QTimer, Signal

from oddbolt.core.errors import OddBoltError
from oddbolt.core.opening.warmup import SafePeriod, Warming, WarmupBand, band, heating, safe_window, slabs_of, warm
from oddbolt.core.reach import Question, Reach, Route, conflict, open_questions, reach_of_all, route_to
from oddbolt.core.reach.order_check import order_troubles
from oddbolt.core.reach.overview import PartOverview, Passed, overview_of, passed
from oddbolt.core.reach.route_options import RouteOptions
from oddbolt.core.reach.routes import ANY, alternatives
from oddbolt.core.reach.what_if import Change, Effect, applied, only_together, route_seconds, sweep
from oddbolt.core.safety import cautions_along
from oddbolt.core.study import Study
from oddbolt.core.verdict import SCHEMES, Count, Judgement, Mark, Scheme, bench_mark, counting
from oddbolt.core.verdict.scheme import moved_in_words
from oddbolt.desk.state.background import Background, tell
from oddbolt.desk.state.session import Session

#: Up to this many steps figures are computed in the hand's own time.
AT_ONCE_STEPS = 40
#: How long the hand's own work goes before what is worked out beside it, in ms.
HEAD_START_MS = 80
#: Time for the proof of a route before the best so far is shown, and before it is left at that, in s.
SOON_S, ROUTE_BUDGET_S = 0.4, 120.0
#: The answer about a study that is no longer the one at hand.
STALE = object()


@frozen
class Trial:
    """A study with changes laid over it: its reach, its route, the times (s) of the targets, the bench mark, before
    and after, and what of the ``school`` chosen on Verdict has moved, in words."""

    study: Study
    reach: Mapping[str, Reach]
    route: Route | None
    why_not: str
    before: Mapping[str, float]
    after: Mapping[str, float]
    mark_before: float | None
    mark_after: float | None
    school: str = ""
    judged: str = ""


class Figures(QObject):
    """Answers, or None while one is being worked out; ``ready`` says that one has come."""

    ready = Signal()
    #: how many of how many changes are weighed
    weighed = Signal(int, int)

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        #: every scheme there is, those of the user with them
        self.schemes = dict(SCHEMES)
        #: the school that is shown beside the bench mark
        self.school = next(id for id in SCHEMES if id != "bench mark")
        self.session = session
        self._known: dict[Hashable, Any] = {}
        self._of = session.study
        self._asked: set[Hashable] = set()
        self._improving: set[Hashable] = set()
        self._settled: set[Hashable] = set()
        self._failed: dict[Hashable, str] = {}
        self._beside, self._long = Background(self), Background(self)
        self._waiting: list[tuple[Hashable, Study, Callable[[Study], Any]]] = []
        self._start = QTimer(self)
        self._start.setSingleShot(True)
        self._start.setInterval(HEAD_START_MS)
        self._start.timeout.connect(self._begin)
        session.changed.connect(self._forget)

    @property
    def working(self) -> bool:
        """Whether an answer is still to come."""
        return bool(self._asked)

    @property
    def pending(self) -> str:
        """What to say in place of an answer that is not there: it is being worked out, or could not be."""
        trouble = next(iter(self._failed.values()), "")
        return f"could not be worked out: {trouble}" if trouble else "being worked out …"

    def reach(self) -> Mapping[str, Reach] | None:
        """The reach of every part."""
        reach: Mapping[str, Reach] | None = self._ask("reach", reach_of_all)
        return reach

    def troubles(self) -> Mapping[str, str]:
        """Steps that come before something they need; none while that is being worked out."""
        troubles: Mapping[str, str] | None = self._ask("troubles", order_troubles)
        return troubles or {}

    def counts(self) -> tuple[Count, ...] | None:
        """The counts of the priority parts."""
        counts: tuple[Count, ...] | None = self._ask("counts", counting)
        return counts

    def mark(self) -> Mark | None:
        """The bench mark."""
        mark: Mark | None = self._ask("mark", bench_mark)
        return mark

    def judgement(self, scheme: str) -> Judgement | None:
        """What a scheme says."""
        found: Judgement | None = self._ask(("judgement", scheme), self.schemes[scheme].judge)
        return found

    def glance(self) -> tuple[PartOverview, ...] | None:
        """All parts at a glance."""
        found: tuple[PartOverview, ...] | None = self._ask("glance", overview_of)
        return found

    def route(self, targets: tuple[str, ...], options: RouteOptions = ANY) -> tuple[Route | None, str] | None:
        """The route to these parts as wished, or why there is none. One that is not proved soon is shown as it is and
        goes on getting better beside the work, until it is proved, its time is over, or :meth:`settle` is called."""
        key = ("route", targets, options)
        work = partial(
            _route, targets=targets, stopped=self._stale(self.session.study), options=options, budget_s=SOON_S
        )
        found: tuple[Route | None, str] | None = self._ask(key, work)
        if found is not None and found[0] is not None and not found[0].proved and key not in self._settled:
            self._improve(key, targets, options)
        return found

    @property
    def improving(self) -> bool:
        """Whether some route is still getting better."""
        return bool(self._improving)

    def settle(self) -> None:
        """Leave routes as they are now."""
        self._settled |= self._improving

    def _improve(self, key: Hashable, targets: tuple[str, ...], options: RouteOptions) -> None:
        study = self.session.study
        if key in self._improving:
            return
        self._improving.add(key)

        def stopped() -> bool:
            return self.session.study is not study or key in self._settled

        def better(route: Route) -> None:
            tell(shown, route)

        def shown(route: Route) -> None:
            now = self._known.get(key, (None, ""))[0]
            nearer = now is None or (not options.worth and route.seconds < now.seconds)
            if self.session.study is study and (route.proved or nearer):
                self._known[key] = (route, "")
            if self.session.study is study:
                self.ready.emit()

        def done(answer: tuple[Route | None, str]) -> None:
            self._improving.discard(key)
            self._settled.add(key)
            if answer[0] is not None:
                shown(answer[0])

        work = partial(_route, study, targets, stopped, options, ROUTE_BUDGET_S, better)
        self._long.start(work, done, lambda error: done((None, str(error))))

    def others(self, targets: tuple[str, ...], options: RouteOptions = ANY) -> tuple[Route, ...] | None:
        """The routes truly different from the best one, worked out beside."""
        work = partial(_others, targets=targets, stopped=self._stale(self.session.study), options=options)
        found: tuple[Route, ...] | None = self._ask(("others", targets, options), work, beside=True)
        return found

    def passed(self, route: Route) -> tuple[Passed, ...] | None:
        """What a route passes."""
        found: tuple[Passed, ...] | None = self._ask(("passed", route.steps), partial(passed, route=route))
        return found

    def minds(self, route: Route) -> tuple[str, ...] | None:
        """What to mind on a route, in its order."""
        found: tuple[str, ...] | None = self._ask(("minds", route.steps), partial(_minds, steps=route.steps))
        return found

    def held_back(self, parts: tuple[str, ...]) -> tuple[Effect, ...] | None:
        """What each change would save on the way to these parts, always worked out beside; ``weighed`` tells how far
        that is."""
        stopped, said = self._stale(self.session.study), self._say_weighed

        def work(study: Study) -> tuple[Effect, ...]:
            found = []
            for n, of, effect in sweep(study, parts, stopped):
                found.append(effect)
                tell(said, n, of)
            return tuple(sorted(found, key=lambda e: -e.seconds))

        found: tuple[Effect, ...] | None = self._ask(("held back", parts), work, beside=True)
        return found

    def _say_weighed(self, n: int, of: int) -> None:
        self.weighed.emit(n, of)

    def together(self, parts: tuple[str, ...]) -> tuple[Effect, ...] | None:
        """The pairs of changes that only help together; None while these, or each change by itself, are worked out."""
        alone = self.held_back(parts)
        if alone is None:
            return None
        work = partial(only_together, alone=alone, targets=parts, stopped=self._stale(self.session.study))
        found: tuple[Effect, ...] | None = self._ask(("together", parts), work, beside=True)
        return found

    def open_questions(self, parts: tuple[str, ...]) -> tuple[Question, ...] | None:
        """What the reach of these parts still rests on."""
        found: tuple[Question, ...] | None = self._ask(("questions", parts), partial(open_questions, parts=parts))
        return found

    def conflicts(self, parts: tuple[str, ...]) -> Mapping[str, tuple[str, ...]] | None:
        """The facts that cannot all be, of those of these parts that cannot be reached."""
        found: Mapping[str, tuple[str, ...]] | None = self._ask(("conflicts", parts), partial(_conflicts, parts=parts))
        return found

    def trial(self, changes: tuple[Change, ...], targets: tuple[str, ...], options: RouteOptions = ANY) -> Trial | None:
        """The study with changes laid over it, worked out beside."""
        scheme = self.schemes[self.school]
        work = partial(_trial, changes=changes, targets=targets, options=options, scheme=scheme)
        found: Trial | None = self._ask(("trial", changes, targets, options, scheme.id), work, beside=True)
        return found

    def warming(self, warmup: str) -> tuple[Warming | None, SafePeriod | None, str]:
        """A warm-up worked out at once, or why it is not possible."""
        return warming_of(self.session.study, warmup)

    def band(self, warmup: str) -> WarmupBand | None:
        """The band of a warm-up, always worked out beside the work."""
        study = self.session.study
        work = partial(_band, warmup=warmup, stopped=self._stale(study))
        found: WarmupBand | None = self._ask(("band", warmup, _warmup_pieces(study, warmup)), work, beside=True)
        return found

    def finish(self, milliseconds: int = 30_000) -> None:
        """Wait until nothing is being worked out. For scripts and tests."""
        self._begin()
        self._beside.finish(milliseconds)
        self._long.finish(milliseconds)

    def _stale(self, study: Study) -> Callable[[], bool]:
        return lambda: self.session.study is not study

    def _ask(self, key: Hashable, work: Callable[[Study], Any], beside: bool = False) -> Any:
        study = self.session.study
        if study is not self._of:
            self._forget()
        if key in self._known:
            return self._known[key]
        if len(study.steps) <= AT_ONCE_STEPS and not beside:
            self._known[key] = work(study)
            return self._known[key]
        if key not in self._asked and key not in self._failed:
            self._asked.add(key)
            self._waiting.append((key, study, work))
            self._start.start()
        return None

    def _begin(self) -> None:
        """What was asked for goes to the thread beside, once the hand's own work is in sight."""
        for key, study, work in self._waiting:
            self._beside.start(
                partial(self._answer, study, work), partial(self._take, key, study), partial(self._fail, key, study)
            )
        self._waiting.clear()

    def _answer(self, study: Study, work: Callable[[Study], Any]) -> Any:
        return work(study) if self.session.study is study else STALE

    def _take(self, key: Hashable, study: Study, answer: Any) -> None:
        if study is self.session.study and answer is not STALE:
            self._known[key] = answer
            self._asked.discard(key)
            self.ready.emit()

    def _fail(self, key: Hashable, study: Study, error: Exception) -> None:
        if study is self.session.study:
            self._failed[key] = f"{type(error).__name__}: {error}"
            self._asked.discard(key)
            self.ready.emit()

    def _forget(self) -> None:
        if self._of is self.session.study:
            return
        self._of = self.session.study
        self._known = {key: known for key, known in self._known.items() if self._holds(key)}
        self._asked.clear()
        self._failed.clear()
        self._improving.clear()
        self._settled.clear()
        self._waiting.clear()
        self._beside.clear()

    def _holds(self, key: Hashable) -> bool:
        """Whether an answer holds for the study as it is now: only a band may, if its own pieces are the same."""
        if not isinstance(key, tuple) or key[0] != "band":
            return False
        return bool(key[2] == _warmup_pieces(self.session.study, key[1]))


def _trial(
    study: Study, changes: tuple[Change, ...], targets: tuple[str, ...], options: RouteOptions, scheme: Scheme
) -> Trial:
    after = applied(study, changes)
    route, why_not = _route(after, targets, lambda: False, options, SOON_S)
    return Trial(
        after,
        reach_of_all(after),
        route,
        why_not,
        route_seconds(study, targets),
        route_seconds(after, targets),
        bench_mark(study).value,
        bench_mark(after).value,
        scheme.name,
        moved_in_words(scheme.judge(study), scheme.judge(after)),
    )


def _minds(study: Study, steps: tuple[str, ...]) -> tuple[str, ...]:
    return tuple(caution.text for here in cautions_along(study, steps).values() for caution in here)


def _conflicts(study: Study, parts: tuple[str, ...]) -> Mapping[str, tuple[str, ...]]:
    reach = reach_of_all(study)
    stuck = [p for p in parts if reach[p].seconds is None]
    return {p: facts for p in stuck if (facts := conflict(study, p))}


def _warmup_pieces(study: Study, warmup: str) -> Hashable:
    """What a warm-up's band rests on; None for one that is gone."""
    if warmup not in study.warmups:
        return None
    return study.warmups[warmup], tuple(layer for layer in study.layers.values() if layer.warmup == warmup)


def warming_of(study: Study, warmup: str) -> tuple[Warming | None, SafePeriod | None, str]:
    """A warm-up worked out, or why it is not possible."""
    set_up = study.warmups[warmup]
    try:
        warming = warm(slabs_of(study, warmup), heating(set_up), set_up.minutes * 60)
    except OddBoltError as error:
        return None, None, str(error)
    return warming, safe_window(warming, set_up.target_c, set_up.limit_c), ""


def _band(study: Study, warmup: str, stopped: Callable[[], bool]) -> WarmupBand | None:
    set_up = study.warmups[warmup]
    try:
        slabs = slabs_of(study, warmup)
        return band(slabs, heating(set_up), set_up.minutes * 60, set_up.target_c, set_up.limit_c, stopped=stopped)
    except OddBoltError:
        return None


def _others(
    study: Study, targets: tuple[str, ...], stopped: Callable[[], bool], options: RouteOptions
) -> tuple[Route, ...]:
    try:
        return alternatives(study, targets, options=options, stopped=stopped)[1:]
    except OddBoltError:
        return ()


def _route(
    study: Study,
    targets: tuple[str, ...],
    stopped: Callable[[], bool],
    options: RouteOptions,
    budget_s: float,
    better: Callable[[Route], None] = lambda _route: None,
) -> tuple[Route | None, str]:
    try:
        return route_to(study, targets, budget_s=budget_s, stopped=stopped, options=options, better=better), ""
    except OddBoltError as error:
        return None, str(error)
