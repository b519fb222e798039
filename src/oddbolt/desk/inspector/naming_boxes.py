"""The dialogues that name a part in the margin: what it is, which package it has, and which connector a joint is."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QVBoxLayout

from oddbolt.core.components.connectors import connector_guide, connectors, miscounted, which_connector, with_connector
from oddbolt.core.components.kinds import part_guide, what_is_this, with_kind
from oddbolt.core.components.layout import kind_of_part
from oddbolt.core.components.looks import Ranked, Seen
from oddbolt.core.components.packages import package_guide, which_package, with_package
from oddbolt.core.study import Joint, Part, Study
from oddbolt.desk.inspector.look_box import Asked, LookBox
from oddbolt.desk.state.session import Session
from oddbolt.desk.widgets.labels import Label

#: families of kinds that come in packages
PACKAGED = ("chip", "passive", "power", "sensor")


def about_kind(part: Part) -> tuple[tuple[str, str], ...]:
    """What the table says of the kind of a part, as captions and words."""
    found = kind_of_part(part)
    if found is None:
        return ()
    named = () if part.kind else (("by its name", found.id),)
    return (*named, ("usually", found.does), ("mind", found.handle), ("at its end", found.end))


def part_box(session: Session, part: Part) -> LookBox:
    """Ask what a part is."""
    return LookBox(
        session,
        Asked(
            part_guide(),
            what_is_this,
            "disc, two wires, magnet, 12 mm",
            "what is seen of the part",
            partial(_enter_kind, part.id),
            lambda _seen, _ranked: "",
            "say what a part is",
        ),
    )


def _enter_kind(part: str, study: Study, ranked: Ranked, _seen: Seen, chosen: int) -> Study:
    return with_kind(study, part, ranked, chosen)


def package_box(session: Session, part: Part) -> LookBox:
    """Ask which package a part has."""
    return LookBox(
        session,
        Asked(
            package_guide(),
            which_package,
            "4.9 x 3.9 mm, 8 pins",
            "what is measured of the package",
            partial(_enter_package, part.id),
            lambda _seen, _ranked: "",
            "say which package a part has",
        ),
    )


def _enter_package(part: str, study: Study, ranked: Ranked, seen: Seen, chosen: int) -> Study:
    return with_package(study, part, ranked, seen, chosen)


def connector_box(session: Session, joint: Joint) -> LookBox:
    """Ask which connector a joint is."""
    return LookBox(
        session,
        Asked(
            connector_guide(),
            which_connector,
            "ten ways, pitch 0.5, flip lid",
            "what is seen of the connector",
            partial(_enter_connector, joint.id),
            lambda seen, _ranked: miscounted(seen),
            "say which connector it is",
        ),
    )


def _enter_connector(joint: str, study: Study, ranked: Ranked, seen: Seen, chosen: int) -> Study:
    return with_connector(study, joint, ranked, seen, chosen)


def about_connector(box: QVBoxLayout, joint: Joint) -> None:
    """How a connector of this family opens, and what breaks."""
    family = connectors().get(joint.family)
    if family is None:
        return
    for words in (
        f"Opens: {family.opens}. With: {family.tool}. Way: {family.way}.",
        f"Made for about {family.bears} matings. Breaks: {family.breaks}.",
    ):
        label = Label(words)
        label.setWordWrap(True)
        label.setToolTip(family.source)
        box.addWidget(label)


def is_packaged(part: Part) -> bool:
    """Whether a part is of a kind that comes in packages."""
    found = kind_of_part(part)
    return bool(part.package) or (found is not None and found.family in PACKAGED)
