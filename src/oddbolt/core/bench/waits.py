"""Waits with a timer: the usual ones, and how one that ran is kept with its step, where the route finds it."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache

from attrs import frozen

from oddbolt.core.reference.tables import table
from oddbolt.core.study import Study, Wait, change, new_id, put


@frozen
class UsualWait:
    """A wait of the table: its range in s, and what comes after it."""

    kind: str
    label: str
    least_s: float
    most_s: float
    then: str
    source: str


@cache
def usual_waits() -> Mapping[str, UsualWait]:
    """The usual waits by kind."""
    return {row["kind"]: UsualWait(**row) for row in table("waits")["wait"]}


def keep(study: Study, kind: str, planned_s: float, took_s: float, step: str = "", started: str = "") -> Study:
    """Keep a wait that ran. Its step then wants the shorter of planned and taken; a route fills that with other work.

    A step that already waits for longer keeps its figure only until a wait of its own has run.
    """
    wait = Wait(new_id(study, "T"), kind, round(planned_s, 1), round(took_s, 1), step, started)
    after = put(study, wait)
    return change(after, step, wait_s=round(min(planned_s, took_s), 1)) if step else after
