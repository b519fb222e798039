"""Pre-flight and final checks: those that a device asks for, drawn from what it contains, and how they stand."""

from __future__ import annotations

from functools import lru_cache

from attrs import frozen

from oddbolt.core.errors import StudyError
from oddbolt.core.reference.tables import table
from oddbolt.core.safety.contents import contents, label
from oddbolt.core.study import Check, Study, new_id, put, remove

DEFER = str(table("preflight")["defer"])
OPEN, DONE, OVER, UNDER = "open", "done", "over the limit", "under the limit"


@frozen
class CheckLine:
    """One check: what, why, its limit, its source, and how it stands: open, done, or over the limit. ``because`` names
    the contents and parts that ask for it."""

    rule: str
    what: str
    reason: str
    limit: str
    unit: str
    at_most: float | None
    at_least: float | None
    because: tuple[str, ...]
    source: str
    verified: bool
    state: str
    check: Check | None


@lru_cache(maxsize=8)
def preflight(study: Study) -> tuple[CheckLine, ...]:
    """The checks that apply, in order of work. A check done before that no longer applies is still shown."""
    return _lines(study, "preflight")


@lru_cache(maxsize=8)
def finals(study: Study) -> tuple[CheckLine, ...]:
    """The checks that apply before the case is closed, in order of work."""
    return _lines(study, "finals")


def _lines(study: Study, name: str) -> tuple[CheckLine, ...]:
    inside = contents(study)
    done = {check.rule: check for check in study.checks.values()}
    out = []
    for row in table(name)["check"]:
        wanted = [*row.get("for", []), *row.get("words", [])]
        because = tuple(label(w) for w in row.get("for", []) if w in inside)
        named = set(row.get("words", []))
        because += tuple(p.name for p in study.parts.values() if p.name.casefold().split()[-1] in named)[:3]
        check = done.get(row["id"])
        if wanted and not because and check is None:
            continue
        at_most, at_least = row.get("at_most"), row.get("at_least")
        out.append(
            CheckLine(
                row["id"],
                row["what"],
                row["reason"],
                row.get("limit", ""),
                row.get("unit", ""),
                None if at_most is None else float(at_most),
                None if at_least is None else float(at_least),
                because,
                row["source"],
                row["verified"],
                _state(check, at_most, at_least),
                check,
            )
        )
    return tuple(out)


def done(study: Study, rule: str, by: str, when: str, reading: float | None = None, note: str = "") -> Study:
    """Enter a check as done. One that wants a reading is not done without it. Raises StudyError."""
    row = _row(rule)
    if row.get("unit") and reading is None:
        raise StudyError(f"{row['what']}: give the reading in {row['unit']}.")
    if reading is not None and reading < 0:
        raise StudyError(f"A reading of {reading:g} {row.get('unit', '')} is not possible.".replace("  ", " "))
    before = next((c.id for c in study.checks.values() if c.rule == rule), "")
    return put(study, Check(before or new_id(study, "K"), rule, by.strip(), when, reading, note))


def reopened(study: Study, rule: str) -> Study:
    """Take a check back."""
    check = next((c.id for c in study.checks.values() if c.rule == rule), "")
    return remove(study, check) if check else study


def _row(rule: str) -> dict[str, str]:
    for name in ("preflight", "finals"):
        for row in table(name)["check"]:
            if row["id"] == rule:
                return dict(row)
    raise StudyError(f"There is no check called {rule!r}.")


def _state(check: Check | None, at_most: float | None, at_least: float | None) -> str:
    if check is None:
        return OPEN
    if at_least is not None and (check.reading is None or check.reading < at_least):
        return UNDER if check.reading is not None else OPEN
    if at_most is not None and (check.reading is None or check.reading > at_most):
        return OVER if check.reading is not None else OPEN
    return DONE
