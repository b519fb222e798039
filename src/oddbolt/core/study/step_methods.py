"""What a step does to the device, told by its tool and by what was said of it."""

from __future__ import annotations

import re

from oddbolt.core.reference.joint_kinds import ids_where
from oddbolt.core.reference.tables import tool_words
from oddbolt.core.study.model import Step, Study


def doing(study: Study, step: Step) -> set[str]:
    """Those of "heat", "solvent", "blade" and "prying" that a step does."""
    found = {name for name in ("heat", "solvent", "blade") if tool_words(name).search(step.tool)}
    glued = any(study.joints[j].kind in ids_where("pried") for j in step.releases)
    if step.verb == "pry" or (glued and tool_words("prying").search(step.tool)):
        found.add("prying")
    if step.softens:
        found |= {name for name in ("heat", "solvent") if tool_words(name).search(step.said)}
        if not found & {"heat", "solvent"} and re.search(r"\b(?:warm|heat)", step.said, re.IGNORECASE):
            found.add("heat")
    return found
