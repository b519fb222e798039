"""The second demo: the same tide logger with its battery replaced and put back in a timed run, but for one screw."""

from __future__ import annotations

from attrs import evolve

from oddbolt.core.reach import route_to
from oddbolt.core.reassembly import plan_back
from oddbolt.core.reassembly.closing import logged
from oddbolt.core.safety.preflight import done
from oddbolt.core.study import Lap, Run, Study, put, remove
from oddbolt.demo import tide_logger

BATTERY, WITHHELD = "Battery", "Board screws"
STARTED, RUN = "2026-03-08T10:12:00", "R9"
#: how long each step took against what the motions say, in turn
TOOK = (1.3, 0.9, 1.1, 1.6, 1.0, 1.2, 0.8)


def study() -> Study:
    """The study: out to the battery, a new one in, and back; one of the board screws still lies on the mat."""
    made = tide_logger.study()
    battery = next(p.id for p in made.parts.values() if p.name == BATTERY)
    route = route_to(made, [battery]).steps
    for id in [id for id in made.steps if id not in route]:
        made = remove(made, id)
    made = evolve(made, device=evolve(made.device, variant="battery replaced"))
    laps = []
    for n, step in enumerate(plan_back(made, replaced=[battery]).steps):
        group = next((j for j in step.joints if made.name(j) == WITHHELD), "")
        count = (made.joints[group].count or 2) - 1 if group else None
        made = logged(made, step, count)
        laps.append(Lap(list(made.steps)[-1], round(step.seconds * TOOK[n % len(TOOK)], 1)))
    made = put(made, Run(RUN, "put back", STARTED, tuple(laps)))
    return done(made, "final starts", "", "2026-03-08T10:31:00")


def pictures() -> list[bytes]:
    """The demo photos in order."""
    return tide_logger.pictures()
