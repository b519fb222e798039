"""The steps of a study as captions: each a cue as understood, timed to the recording that it was drafted from, or to a
run."""

from __future__ import annotations

from attrs import frozen

from oddbolt.core.errors import StudyError
from oddbolt.core.reach.describe import step_text
from oddbolt.core.study import Study

#: how long a cue stands at the most, s
MOST_S = 12.0
#: the most letters that a line of a cue has, and its lines
LINE, LINES = 42, 2


@frozen
class TimedStep:
    """A step as a cue: from ``start_s`` to ``end_s``, its words, the step, and the module that it works on."""

    start_s: float
    end_s: float
    text: str
    step: str
    module: str


@frozen
class Chapter:
    """From ``start_s`` to ``end_s`` one module is worked on."""

    start_s: float
    end_s: float
    name: str


def timed_steps(study: Study, run: str = "") -> tuple[TimedStep, ...]:
    """The steps as cues in the order of their times: those of the recording, or of a ``run`` (its id), where each
    begins when the one before was logged. Cues never lie over each other; steps told at one time share it.

    Raises StudyError where no step has such a time.
    """
    starts = _of_run(study, run) if run else {s.id: s.at_s for s in study.steps.values() if s.at_s is not None}
    if not starts:
        raise StudyError(
            f"Run {run} has no timed steps."
            if run
            else "No step has a time of a recording: draft the study from timed captions, or name a run."
        )
    order = sorted(starts, key=lambda id: starts[id])
    groups: dict[float, list[str]] = {}
    for id in order:
        groups.setdefault(round(starts[id], 3), []).append(id)
    times = sorted(groups)
    out = []
    for n, at in enumerate(times):
        until = times[n + 1] if n + 1 < len(times) else at + MOST_S
        each = min((until - at) / len(groups[at]), MOST_S)
        for k, id in enumerate(groups[at]):
            start = at + k * each
            out.append(
                TimedStep(round(start, 3), round(start + each, 3), cue_text(study, id), id, module_of(study, id))
            )
    return tuple(out)


def _of_run(study: Study, run: str) -> dict[str, float]:
    if run not in study.runs:
        names = ", ".join(study.runs) or "none"
        raise StudyError(f"There is no run {run}; there are {names}.")
    starts, clock = {}, 0.0
    for lap in study.runs[run].laps:
        if lap.step in study.steps:
            starts[lap.step] = clock
        clock += lap.seconds
    return starts


def cue_text(study: Study, step: str) -> str:
    """A step as it stands in a caption: its number and what was understood, broken into lines."""
    words = f"{study.step_number(step)}. {step_text(study, step)}".split()
    lines = [""]
    for word in words:
        if lines[-1] and len(lines[-1]) + 1 + len(word) > LINE and len(lines) < LINES:
            lines.append("")
        lines[-1] = f"{lines[-1]} {word}".strip()
    return "\n".join(lines)


def module_of(study: Study, step: str) -> str:
    """The module that a step works on: what carries the part that it takes out or frees, else the device."""
    done = study.steps[step]
    parts = [*done.takes_out, *done.puts_in, *done.opens, *(p for j in done.releases for p in study.joints[j].holds)]
    for part in parts:
        carriers = study.carriers(part)
        if carriers:
            return study.name(carriers[-1])
    return study.device.name


def chapters(cues: tuple[TimedStep, ...]) -> tuple[Chapter, ...]:
    """The cues gathered into chapters: one for each stretch of work on one module."""
    out: list[Chapter] = []
    for cue in cues:
        if out and out[-1].name == cue.module:
            out[-1] = Chapter(out[-1].start_s, cue.end_s, cue.module)
        else:
            out.append(Chapter(cue.start_s, cue.end_s, cue.module))
    return tuple(out)
