"""What an utterance records of parts, and what it remarks: markings, values, masses, cautions, findings."""

from __future__ import annotations

import re
from typing import Any

from attrs import evolve

from oddbolt.core.narration.assembly.acts import Act
from oddbolt.core.narration.assembly.figures import quantities
from oddbolt.core.narration.assembly.names import plain_name
from oddbolt.core.narration.assembly.patterns import SCREWS
from oddbolt.core.narration.assembly.story import RECENT, announce
from oddbolt.core.narration.assembly.utterance import Utterance
from oddbolt.core.narration.draft import DraftNote
from oddbolt.core.narration.language.tokens import items
from oddbolt.core.narration.part_facts import facts_in, without_package
from oddbolt.core.narration.renewal import not_used_again, renewal
from oddbolt.core.narration.understanding import Understood

#: acts that record something of a part
NOTED = ("identify", "measure", "weigh", "condition", "spec")
UNITS = {"mass": "g", "length": "mm", "time": "s", "torque": "N·cm", "temperature": "°C", "charge": "mAh"}
#: remark as understood -> kind of finding
REMARKED = {"praise": "praise", "complaint": "complaint", "finding": "damage", "mark": "mark"}
#: words that something is as it should be, and words that it is not
SOUND = re.compile(
    r"\b(fine|ok|okay|good|intact|sound|clean|undamaged|perfect|no (?:damage|corrosion|water|rust))\b", re.IGNORECASE
)
WRONG = re.compile(
    r"\b(not|n['’]t|but|except|crack\w*|brok\w*|corro\w*|worn|bent|torn|dent\w*|scratch\w*|burn\w*|melt\w*|loose|missing|"
    r"lost|chip(?:ped)|leak\w*|swollen|rust\w*|stripped)\b",
    re.IGNORECASE,
)
#: words that something was weighed, where no mass was told
WEIGHED = re.compile(r"\b(?:weigh\w*|ways|scales?|balance|mass|grams?|kilos?|heav\w+|light)\b", re.IGNORECASE)
#: a remark stands from this on
LIKELY = 0.5


def note(work: Utterance, act: Act) -> None:
    """A marking, a value, a mass or a condition of a part."""
    raw = plain_name(work.words(act)) if act.start < len(work.text) else ""
    known = work.memory.full_name(raw)  # a part may be told of when it is long out
    part = known if known != raw else work.object(act) or work.topic()
    region, text = work.region(act), work.text.strip()
    found = [i for i in quantities(region, work.vocabulary) if act.action != "weigh" or i.unit == "mass"]
    if act.action == "weigh" and not found and WEIGHED.search(text) is None:
        return
    if act.action not in ("measure", "weigh", "spec"):
        found = []
    told_of: dict[str, Any] = {}
    if act.action == "identify":
        facts = facts_in(work.text)
        seen = without_package(work.of(act, "marking")) if act.spans("marking") else facts.marking
        told_of = facts.json() | {"marking": seen}
    elif act.action == "measure" and (sides := facts_in(work.text).size_mm):
        told_of = {"size_mm": sides}
        if act.spans("marking"):
            text = work.of(act, "marking")
    told = [(i.number, i.unit) for i in found[:1]]
    if act.action == "measure":
        told += [(i.number, i.unit) for i in found[1:] if i.unit == found[0].unit and i.number != found[0].number]
    for value, quantity in told or [(None, "")]:
        work.notes.append(
            DraftNote(
                act.action,
                text,
                work.at_s,
                part=part,
                quantity=quantity,
                value=value,
                unit=UNITS.get(quantity, ""),
                **told_of,
            )
        )


def remarks(work: Utterance, heard: Understood) -> None:
    """Cautions, findings, what must be renewed, and screws that are only announced."""
    text = work.text.strip()
    if heard.holds("caution") > LIKELY:
        work.cautions.append(DraftNote("caution", text, work.at_s))
    for kind, name in REMARKED.items():
        if heard.holds(kind) <= LIKELY:
            continue
        value = None
        if kind == "mark":
            value = next((i.number for i in items(text, work.vocabulary) if i.number is not None), None)
        out_of = 10.0 if value is not None else None
        sound = kind == "finding" and SOUND.search(text) and not WRONG.search(text)  # as it should be: no damage
        work.notes.append(DraftNote("note" if sound else name, text, work.at_s, value=value, out_of=out_of))
    names = [plain_name(s.words(work.text)) for s in heard.spans if s.label == "renew"]
    once = not_used_again(work.text)
    screws = [s for s in work.memory.steps[-RECENT:] if s.joint == "screw"] if SCREWS.search(once.lower()) else []
    if screws:
        work.amends.append(evolve(screws[-1], reuse="renew", pieces=()))
    elif once:
        names.append(plain_name(once, "the "))
    if renewal(text) != "reuse":
        work.renew.extend(dict.fromkeys(n for n in names if n))
    if heard.holds("announce") > LIKELY and not any(s.action == "unscrew" for s in work.steps):
        announce(work, heard)
