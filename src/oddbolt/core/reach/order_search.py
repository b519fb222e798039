"""The best order of a closed set of steps: least time over (steps done, tool in hand, face up), proved.

A* (Hart, Nilsson, Raphael 1968) with three things that make it quick:

* a step that is free with the present tool and face, and on which no running or coming wait depends, is done at once;
* the bound counts, for every tool, how often it must be taken up again along some chain of needs, and the same for
  faces, beside the work that remains and the longest chain with its waits;
* states with the same (done, tool, face) are kept only where neither their time nor an outstanding wait is worse.
"""

from __future__ import annotations

import heapq
from collections.abc import Callable, Sequence
from time import perf_counter
from typing import Any

from attrs import frozen

from oddbolt.core.reach.step_masks import bits


@frozen
class Job:
    """One step to be ordered. ``tool`` 0 is the bare hand. ``needs`` are masks of jobs, any one of each must be done;
    ``wait_s`` must pass after this job before those in ``then`` may begin. ``soaked`` are masks of jobs after any of
    which this one may begin, once its wait has passed; a job of whose ``then`` this is, and which is in none of them,
    must be waited for by itself.
    """

    seconds: float
    tool: int
    face: int
    needs: tuple[int, ...] = ()
    wait_s: float = 0.0
    then: int = 0
    soaked: tuple[int, ...] = ()


@frozen
class Order:
    """An order of jobs, when each starts (s), the total (s), and whether no better one exists. ``bound_s`` is a time
    that no order can beat; ``fetched`` the tools taken up in the wait before a job by hand, 0 for none."""

    jobs: tuple[int, ...]
    starts: tuple[float, ...]
    seconds: float
    proved: bool
    bound_s: float
    fetched: tuple[int, ...] = ()


#: after so many states a good order is looked for from the most promising one
DIVE = 4096

Waits = tuple[tuple[int, float], ...]


class _Node:
    """A state of the search: jobs done and free (masks), tool in hand, face up, the time, the work left, when started
    waits end, and the way here."""

    __slots__ = ("at", "done", "face", "free", "left", "path", "ready", "tool")

    def __init__(
        self, done: int, free: int, tool: int, face: int, at: float, left: float, ready: Waits, path: Any
    ) -> None:
        self.done, self.free, self.tool, self.face = done, free, tool, face
        self.at, self.left, self.ready, self.path = at, left, ready, path


class Ordering:
    """The search over one set of jobs. Times in s."""

    def __init__(self, jobs: Sequence[Job], tool_s: float, turn_s: float, face: int = 0) -> None:
        self.jobs, self.tool_s, self.turn_s, self.face = jobs, tool_s, turn_s, face
        self.all = (1 << len(jobs)) - 1
        self.single = [[n.bit_length() - 1 for n in job.needs if not n & (n - 1)] for job in jobs]
        self.after: list[list[int]] = [[] for _ in jobs]
        for i, before in enumerate(self.single):
            for j in before:
                self.after[j].append(i)
        self.followers = [
            [k for k, job in enumerate(jobs) if any(n >> i & 1 for n in job.needs)] for i in range(len(jobs))
        ]
        self.with_tool = {
            t: sum(1 << i for i, j in enumerate(jobs) if j.tool in (0, t)) for t in {0, *(j.tool for j in jobs)}
        }
        self.with_face = {
            f: sum(1 << i for i, j in enumerate(jobs) if j.face == f) for f in {face, *(j.face for j in jobs)}
        }
        self.topo = self._topological()
        self.ancestors = [0] * len(jobs)
        for i in self.topo:
            for j in self.single[i]:
                self.ancestors[i] |= self.ancestors[j] | 1 << j
        self.soaked = [list(job.soaked) for job in jobs]
        for i, job in enumerate(jobs):
            for k in bits(job.then):
                if not any(mask >> i & 1 for mask in jobs[k].soaked):
                    self.soaked[k].append(1 << i)
        #: job -> the jobs that no other one's wait can release
        self.sole = [sum(1 << k for k in range(len(jobs)) if 1 << i in self.soaked[k]) for i in range(len(jobs))]
        self.waiting = sum(1 << i for i, job in enumerate(jobs) if job.wait_s > 0)
        self.tool_levels = self._levels([job.tool for job in jobs], skip=0)
        self.face_levels = self._levels([job.face for job in jobs], skip=-1)
        self.tail = [0.0] * len(jobs)
        for i in reversed(self.topo):
            job = jobs[i]
            longest = max(
                (self.tail[k] + (job.wait_s if self.sole[i] >> k & 1 else 0.0) for k in self.after[i]), default=0.0
            )
            if self.sole[i]:
                longest = max(longest, job.wait_s)
            self.tail[i] = job.seconds + longest

    def _topological(self) -> list[int]:
        order, seen = [], 0
        left = list(range(len(self.jobs)))
        while left:
            rest = [i for i in left if any(not seen >> j & 1 for j in self.single[i])]
            if len(rest) == len(left):
                raise ValueError("the needs form a circle")
            for i in left:
                if i not in rest:
                    seen |= 1 << i
                    order.append(i)
            left = rest
        return order

    def _levels(self, marks: list[int], skip: int) -> list[tuple[int, list[int], list[int]]]:
        """For each tool (or face): masks of jobs from which some chain of needs takes it up at least once, twice, ...
        anew, if it is not in use now, and if it is."""
        out = []
        for mark in sorted(set(marks) - {skip}):
            fresh, used = [0] * len(marks), [0] * len(marks)
            for i in reversed(self.topo):
                best_fresh = max((fresh[k] for k in self.after[i]), default=0)
                best_used = max((used[k] for k in self.after[i]), default=0)
                if marks[i] == mark:
                    fresh[i], used[i] = 1 + best_used, best_used
                elif marks[i] == skip:
                    fresh[i], used[i] = best_fresh, best_used
                else:
                    fresh[i] = used[i] = best_fresh
            out.append((mark, self._masks(fresh), self._masks(used)))
        return out

    @staticmethod
    def _masks(levels: list[int]) -> list[int]:
        return [sum(1 << i for i, v in enumerate(levels) if v >= top) for top in range(1, max(levels, default=0) + 1)]

    def bound(self, node: _Node) -> float:
        """A time no completion of this state can beat."""
        left = self.all & ~node.done
        total = node.at + node.left
        for levels, now, cost in (
            (self.tool_levels, node.tool, self.tool_s),
            (self.face_levels, node.face, self.turn_s),
        ):
            for mark, fresh, used in levels:
                masks = used if mark == now else fresh
                for n in range(len(masks), 0, -1):
                    if masks[n - 1] & left:
                        total += cost * n
                        break
        if self.waiting:
            for i in bits(left & self.waiting):
                total = max(total, node.at + self.tail[i])
            for i, when in node.ready:
                if not self.sole[i] & left:
                    continue
                tails = (self.tail[k] for k in bits(self.sole[i] & left))
                total = max(total, max(when, node.at) + max(tails, default=0.0))
        return total

    def solve(
        self,
        upper: float = float("inf"),
        budget_s: float = 5.0,
        stopped: Callable[[], bool] = lambda: False,
        better: Callable[[Order], None] = lambda _order: None,
    ) -> Order | None:
        """The best order. None if none is below ``upper``. When the budget (s) ends first, or ``stopped`` says so, the
        best so far with ``proved`` false. Whenever a better one is met before the proof, it is given to ``better``."""
        deadline = perf_counter() + budget_s
        start = self._forced(self._start())
        if self.bound(start) >= upper - 1e-9:
            return None
        incumbent = self._quick(start)
        best = incumbent if incumbent.at < upper else None
        tick = popped = 0
        heap = [(self.bound(start), 0, start)]
        labels: dict[tuple[int, int, int], list[_Node]] = {}
        while heap:
            f, _, node = heapq.heappop(heap)
            limit = min(upper, best.at if best else upper)
            if f >= limit - 1e-9:
                return self._order(best, True, best.at) if best else None
            if node.done == self.all:
                return self._order(node, True, node.at)
            if not self._current(labels, node):
                continue
            popped += 1
            if popped % 256 == 0 and (perf_counter() > deadline or stopped()):
                return self._order(best or incumbent, False, f)
            if popped % DIVE == 0 and (dive := self._quick(node)).at < limit - 1e-9:
                best = dive
                better(self._order(best, False, f))
            for child in self._children(node):
                if self._label(labels, child):
                    f_child = self.bound(child)
                    if f_child < limit - 1e-9 or (child.done == self.all and f_child <= limit):
                        tick += 1
                        heapq.heappush(heap, (f_child, tick, child))
        return self._order(best, True, best.at) if best else None

    def _start(self) -> _Node:
        free = sum(1 << i for i, job in enumerate(self.jobs) if not job.needs)
        return _Node(0, free, 0, self.face, 0.0, sum(job.seconds for job in self.jobs), (), None)

    def _ready_at(self, node: _Node, i: int) -> float:
        ends = {k: when for k, when in node.ready if self.jobs[k].then >> i & 1}
        if not ends:
            return 0.0
        return max(min((ends.get(k, 0.0) for k in bits(mask & node.done)), default=0.0) for mask in self.soaked[i])

    def _forced(self, node: _Node) -> _Node:
        """Do at once what can only help."""
        while True:
            coming = self.waiting & ~node.done
            allowed = node.free & self.with_tool[node.tool] & self.with_face[node.face]
            for u in bits(coming):
                allowed &= self.ancestors[u] | (coming if coming == 1 << u else 0)
            i = next((i for i in bits(allowed) if not node.ready or self._ready_at(node, i) <= node.at + 1e-9), -1)
            if i < 0:
                return node
            node = self._do(node, i)

    def _do(self, node: _Node, i: int, fetch: int = 0) -> _Node:
        """The state after a job; ``fetch`` is a tool taken up before a job by hand, for later."""
        job = self.jobs[i]
        at, tool = node.at, job.tool or fetch or node.tool
        if tool != node.tool:
            at += self.tool_s
        if job.face != node.face:
            at += self.turn_s
        begin = max(at, self._ready_at(node, i)) if node.ready else at
        at = begin + job.seconds
        done = node.done | 1 << i
        free = node.free & ~(1 << i)
        for k in self.followers[i]:
            if not done >> k & 1 and all(n & done for n in self.jobs[k].needs):
                free |= 1 << k
        ready = node.ready + (((i, at + job.wait_s),) if job.wait_s else ())
        if ready:
            ready = tuple((k, when) for k, when in ready if self.jobs[k].then & ~done and when > at)
        return _Node(done, free, tool, job.face, at, node.left - job.seconds, ready, (i, begin, fetch, node.path))

    def starts(self, order: Sequence[int], fetched: Sequence[int]) -> list[tuple[float, float]]:
        """For each job of an order when the hand is free for it and when it begins, in s."""
        node, out = self._start(), []
        for i, fetch in zip(order, fetched, strict=True):
            job = self.jobs[i]
            change = (job.tool or fetch) not in (0, node.tool)
            moved = node.at + self.tool_s * change + self.turn_s * (job.face != node.face)
            out.append((moved, max(moved, self._ready_at(node, i))))
            node = self._do(node, i, fetch)
        return out

    def _fetching(self, node: _Node, i: int) -> list[_Node]:
        """A job by hand that must be waited for, with each tool of later jobs taken up in the wait."""
        job = self.jobs[i]
        if job.tool or self._ready_at(node, i) <= node.at + self.turn_s * (job.face != node.face) + 1e-9:
            return []
        later = {self.jobs[k].tool for k in bits(self.all & ~node.done)} - {0, node.tool}
        return [self._do(node, i, tool) for tool in sorted(later)]

    def _children(self, node: _Node) -> list[_Node]:
        """One child for each other (tool, face) with something free; one for each free job while waits are to come."""
        if self.waiting & ~node.done or node.ready:
            return [
                self._forced(after) for i in bits(node.free) for after in (self._do(node, i), *self._fetching(node, i))
            ]
        out, seen = [], set()
        for i in bits(node.free):
            job = self.jobs[i]
            pair = (job.tool or node.tool, job.face)
            if pair not in seen:
                seen.add(pair)
                out.append(self._forced(self._do(node, i)))
        return out

    def _quick(self, node: _Node) -> _Node:
        """A good order soon: always the nearest bound next."""
        while node.done != self.all:
            node = min(self._children(node), key=lambda c: (self.bound(c), -c.done.bit_count()))
        return node

    def _label(self, labels: dict[tuple[int, int, int], list[_Node]], node: _Node) -> bool:
        """Keep the node unless a kept one is as good in every way; drop those it beats."""
        kept = labels.setdefault((node.done, node.tool, node.face), [])
        if any(self._as_good(other, node) for other in kept):
            return False
        kept[:] = [other for other in kept if not self._as_good(node, other)]
        kept.append(node)
        return True

    @staticmethod
    def _current(labels: dict[tuple[int, int, int], list[_Node]], node: _Node) -> bool:
        kept = labels.get((node.done, node.tool, node.face))
        return kept is None or any(other is node for other in kept)

    @staticmethod
    def _as_good(a: _Node, b: _Node) -> bool:
        if a.at > b.at + 1e-9:
            return False
        waits = dict(b.ready)
        return all(when <= max(waits.get(k, 0.0), b.at) + 1e-9 for k, when in a.ready)

    @staticmethod
    def _order(node: _Node, proved: bool, bound: float) -> Order:
        rows = []
        path = node.path
        while path is not None:
            *row, path = path
            rows.append(row)
        jobs, starts, fetched = zip(*reversed(rows), strict=True) if rows else ((), (), ())
        return Order(jobs, starts, node.at, proved, bound, fetched)
