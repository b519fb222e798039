"""Small studies for tests."""

from __future__ import annotations

import random

from oddbolt.core.study import Fact, Joint, Part, Step, Study, put_all


def study_of(*things: object) -> Study:
    return put_all(Study(), things)  # type: ignore[arg-type]


def random_study(seed: int, steps: int = 6, ways: bool = True, waits: bool = True) -> Study:
    """Parts each held by one joint; some joints can be released in two ways, some glue must be softened."""
    r = random.Random(seed)
    things: list[object] = []
    tools, faces = ["", "a", "b"], ["front", "back"]
    number = 0

    def step(**fields: object) -> None:
        nonlocal number
        number += 1
        things.append(Step(f"S{number}", "do", tool=r.choice(tools), face=r.choice(faces), **fields))  # type: ignore[arg-type]

    parts = 0
    while number < steps:
        parts += 1
        part, joint = f"P{parts}", f"J{parts}"
        glue = waits and r.random() < 0.3
        things.append(Part(part, f"part {parts}"))
        things.append(Joint(joint, "adhesive" if glue else "screw", holds=(part,), count=r.randint(1, 9)))
        for other in range(1, parts):
            if r.random() < 0.4:
                things.append(Fact(f"F{len(things)}", f"P{other}", r.choice([part, joint])))
        if glue:
            step(softens=(joint,), wait_s=float(r.choice([20, 60, 200])))
        step(releases=(joint,))
        if ways and r.random() < 0.4:
            step(releases=(joint,))
        step(takes_out=(part,))
    return study_of(*things)


def chain_study(n: int, fork: int = 0) -> Study:
    """n parts, each under the one before and held by a screw; every ``fork``-th starts a new chain."""
    things: list[object] = []
    for i in range(1, n + 1):
        things += [
            Part(f"P{i}", f"plate {i}"),
            Joint(f"J{i}", "screw", holds=(f"P{i}",), count=2, drive="cross", size="PH00"),
        ]
        if i > 1 and not (fork and i % fork == 0):
            things.append(Fact(f"F{i}", f"P{i - 1}", f"J{i}"))
        things.append(
            Step(f"S{i}", "take out", releases=(f"J{i}",), takes_out=(f"P{i}",), tool=f"PH{i % 3}", face="front")
        )
    return study_of(*things)
