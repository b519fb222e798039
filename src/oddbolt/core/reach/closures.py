"""Closed sets of steps: everything that must be done for a target, for every way the *or*s can be chosen.

The sets come in order of their cost, so the first is the cheapest. Method: uniform-cost search over undecided needs
(Dijkstra 1959); each state is the closure of what is forced so far.
"""

from __future__ import annotations

import heapq
from collections.abc import Callable, Iterator, Sequence
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from oddbolt.core.reach.needs import Needs, chain
from oddbolt.core.reach.step_masks import bits

#: Choices tried for one part before the greedy set is taken; the choices of a real device are a handful.
CHEAPEST_LIMIT = 400
#: beyond so many steps a set is summed as a whole
MANY = 256


class Closures:
    """Closed sets over one reading of the facts. ``costs`` are the steps' costs, none negative.

    A way is left out where another does the same for less: it needs no more, costs no more, is of the same kind
    (``kinds``: tool and face, where these matter) and serves wherever the first would.
    """

    def __init__(self, needs: Needs, costs: Sequence[float], kinds: Sequence[object] | None = None) -> None:
        self.needs, self.costs = needs, costs
        self.kinds = kinds or [None] * len(costs)

    @cached_property
    def _costs(self) -> NDArray[np.float64]:
        return np.array(self.costs)

    @cached_property
    def _serves(self) -> dict[int, set[int]]:
        """step -> the needs (as masks) that it can meet together with other steps."""
        out: dict[int, set[int]] = {}
        for needs in self.needs.needs:
            for need in needs:
                for i in bits(need.steps):
                    out.setdefault(i, set()).add(need.steps)
        return out

    def _useful(self, ways: int, masks: list[int], open_needs: list[frozenset[int]]) -> int:
        """The ways that no other way beats, among those whose own needs are known so far (their mask is not 0)."""
        kept = list(bits(ways))
        for b in [k for k in kept if masks[k]]:
            for a in kept:
                if a == b or not masks[a] or self.kinds[a] != self.kinds[b] or self.costs[a] > self.costs[b]:
                    continue
                less = not (masks[a] & ~(1 << a)) & ~masks[b] and open_needs[a] <= open_needs[b]
                if less and all(need >> a & 1 for need in self._serves.get(b, ())):
                    kept.remove(b)
                    break
        return sum(1 << i for i in kept)

    @cached_property
    def forced(self) -> tuple[list[int], list[frozenset[int]]]:
        """For each step what it forces (a mask, itself included), and the needs left open by that (as masks)."""
        n = len(self.needs.ids)
        masks, open_needs = [0] * n, [frozenset[int]()] * n
        for i in self.needs.order:
            mask, choices = 1 << i, set[int]()
            for need in self.needs.needs[i]:
                ways = need.steps & self.needs.doable
                if ways & (ways - 1) and not ways & mask:
                    ways = self._useful(ways, masks, open_needs)
                if ways & (ways - 1):
                    choices.add(ways)
                else:
                    j = ways.bit_length() - 1
                    mask |= masks[j]
                    choices |= open_needs[j]
            masks[i] = mask
            open_needs[i] = frozenset(choices) if choices else open_needs[i]
        return masks, open_needs

    def only(self, targets: Sequence[int]) -> int | None:
        """The one closed set that meets every mask of ``targets``, where nothing is left to choose; else None."""
        masks, open_needs = self.forced
        out = 0
        for target in targets:
            ways = target & self.needs.doable
            i = ways.bit_length() - 1
            if not ways or ways & (ways - 1) or open_needs[i]:
                return None
            out |= masks[i]
        return out

    def cost(self, mask: int) -> float:
        """The summed cost of a set."""
        if len(self.costs) > MANY:
            size = len(self.costs)
            raw = np.frombuffer(mask.to_bytes((size + 7) // 8, "little"), dtype=np.uint8)
            return float(self._costs @ np.unpackbits(raw, bitorder="little")[:size])
        return sum(self.costs[i] for i in bits(mask))

    def cheapest(self, target: int) -> int | None:
        """The cheapest closed set that frees one step of the mask ``target``; None if there is none."""
        masks, open_needs = self.forced
        ways = target & self.needs.doable
        if ways and not ways & (ways - 1):
            i = ways.bit_length() - 1
            if not open_needs[i]:
                return masks[i]
        return next(self.sets([target], limit=CHEAPEST_LIMIT), None) or self._greedy(ways)

    def _greedy(self, ways: int) -> int | None:
        """A closed set that takes the cheapest way at every choice: not proved cheapest, for where the choices are too
        many to try."""
        if not ways:
            return None
        masks, open_needs = self.forced
        mask, pending = 0, [ways]
        while pending:
            choice = pending.pop()
            if choice & mask:
                continue
            i = min(bits(choice), key=lambda i: self.cost(masks[i] & ~mask))
            mask |= masks[i]
            pending += [c for c in open_needs[i] if not c & mask]
        done, _ = chain(self.needs.needs, within=mask)
        return mask if done == mask else self.needs.doable

    def sets(
        self,
        targets: Sequence[int],
        all_ways: bool = False,
        limit: int = 200_000,
        bound: Callable[[int], float] | None = None,
    ) -> Iterator[int]:
        """Closed sets that meet every mask of ``targets``, cheapest first.

        With ``all_ways`` a need that is already met is also tried with its other ways, so that every choice of the
        *or*s appears; ``bound`` may then replace the cost as the order of the search (it must not fall as sets grow).
        """
        masks, open_needs = self.forced
        bound = bound or self.cost
        start_needs = tuple(t & self.needs.doable for t in targets)
        if not all(start_needs):
            return
        tick = 0
        heap: list[tuple[float, int, int, tuple[int, ...], frozenset[int]]] = [(0.0, 0, 0, start_needs, frozenset())]
        seen: set[tuple[int, tuple[int, ...]]] = set()
        given: set[int] = set()
        while heap and tick < limit:
            _, _, mask, pending, settled = heapq.heappop(heap)
            pending = tuple(p for p in pending if all_ways or not p & mask)
            if (mask, pending) in seen:
                continue
            seen.add((mask, pending))
            if not pending:
                done, _ = chain(self.needs.needs, within=mask)
                stuck = mask & ~done
                if not stuck:
                    if mask not in given:
                        given.add(mask)
                        yield mask
                    continue
                pending = (self._other_ways(stuck, mask),)
                if not pending[0]:
                    continue
            choice, rest = pending[0], pending[1:]
            ways = list(bits(choice))
            if all_ways and choice & mask:
                tick += 1
                heapq.heappush(heap, (bound(mask), tick, mask, rest, settled | {choice}))
                ways = [i for i in ways if not mask >> i & 1]
            for i in ways:
                after = mask | masks[i]
                now_settled = settled | {choice}
                fresh = {c for c in open_needs[i] if c not in now_settled and c not in rest}
                fresh = fresh if all_ways else {c for c in fresh if not c & after}
                tick += 1
                heapq.heappush(heap, (bound(after), tick, after, (*rest, *sorted(fresh)), now_settled))

    def _other_ways(self, stuck: int, mask: int) -> int:
        """Steps outside a deadlocked set by which a need within it could be met instead."""
        out = 0
        for i in bits(stuck):
            for need in self.needs.needs[i]:
                if not need.steps & (mask & ~stuck):
                    out |= need.steps & self.needs.doable & ~mask
        return out
