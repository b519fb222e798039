"""The figures of many sets of steps, each done in recorded order.

A set is read from its last step down until a set is met whose figures are known; sets of neighbouring parts differ by
few steps, and an edit at the end of the record changes none of those before it, so most are known already.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

import numpy as np

from oddbolt.core.reach.problem import Problem

#: Steps taken off a set one by one in search of a known one before it is read as a whole.
PEEL = 48
#: Known sets kept from one study to the next.
KEPT = 60_000


class State(NamedTuple):
    """After the steps of a set: what was counted, the tool in hand (0: none yet), the face up, and whether a step by
    the standard's definition is begun."""

    steps: int
    operations: int
    seconds: float
    tool: int
    face: int
    begun: bool


class RecordedOrder:
    """Figures over the steps of one study; ``known`` may be carried over to a study that begins with the same steps."""

    def __init__(self, problem: Problem) -> None:
        steps = problem.needs.study.steps
        self.tool_s, self.turn_s = problem.tool_s, problem.turn_s
        self.rows = [
            (cost + wait, tool, face, bool(steps[id].takes_out))
            for id, cost, wait, tool, face in zip(
                problem.needs.ids, problem.costs, problem.waits, problem.tools, problem.faces, strict=True
            )
        ]
        self.start = State(0, 0, 0.0, 0, problem.face, False)
        self.known: dict[int, State] = {0: self.start}
        self._columns: tuple[np.ndarray, ...] | None = None

    def take_over(self, other: RecordedOrder) -> None:
        """Take over what ``other`` knows, as far as it began with the same steps."""
        same = 0
        for mine, theirs in zip(self.rows, other.rows, strict=False):
            if mine != theirs:
                break
            same += 1
        if same == len(other.rows) and len(other.known) < KEPT:
            self.known = dict(other.known)
        else:
            self.known |= {mask: state for mask, state in other.known.items() if mask.bit_length() <= same}

    def figures(self, masks: Iterable[int]) -> dict[int, tuple[float, float, float]]:
        """Steps, operations and seconds of each set."""
        out = {}
        for mask in masks:
            state = self.state(mask)
            out[mask] = (float(state.steps + state.begun), float(state.operations), round(state.seconds, 1))
        return out

    def state(self, mask: int) -> State:
        """The state after a set."""
        above: list[int] = []
        rest = mask
        while rest not in self.known:
            if len(above) == PEEL:
                above, rest = [], mask
                self.known[mask] = self._whole(mask)
                break
            top = rest.bit_length() - 1
            above.append(top)
            rest ^= 1 << top
        state = self.known[rest]
        if above:
            for i in reversed(above):
                state = self._after(state, i)
            self.known[mask] = state
        return state

    def _after(self, before: State, i: int) -> State:
        seconds, tool, face, takes = self.rows[i]
        steps, begun, total = before.steps, before.begun, before.seconds + seconds
        if tool and tool != before.tool:
            total += self.tool_s
            if before.tool and begun:
                steps, begun = steps + 1, False
        if face != before.face:
            total += self.turn_s
        return State(steps + takes, before.operations + 1, total, tool or before.tool, face, not takes)

    def _whole(self, mask: int) -> State:
        """A set read at once."""
        if self._columns is None:
            columns: Sequence[Sequence[float]] = list(zip(*self.rows, strict=True))
            self._columns = tuple(np.array(c) for c in columns)
        size = len(self.rows)
        raw = np.frombuffer(mask.to_bytes((size + 7) // 8, "little"), dtype=np.uint8)
        chosen = np.flatnonzero(np.unpackbits(raw, bitorder="little")[:size])
        seconds, tools, faces, takes = (c[chosen] for c in self._columns)
        fresh = np.empty(len(chosen), bool)
        fresh[0] = False
        fresh[1:] = ~takes[:-1]
        held = np.flatnonzero(tools)
        changed = held[1:][tools[held[1:]] != tools[held[:-1]]]
        turned = np.count_nonzero(np.diff(faces)) + int(faces[0] != self.start.face)
        steps = int(np.count_nonzero(takes)) + int(np.count_nonzero(fresh[changed]))
        total = float(seconds.sum()) + self.tool_s * (len(changed) + bool(len(held))) + self.turn_s * turned
        tool = int(tools[held[-1]]) if len(held) else 0
        return State(steps, len(chosen), total, tool, int(faces[-1]), not bool(takes[-1]))
