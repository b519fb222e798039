"""What the program knows of each kind of joint, from one row of ``joint_kinds.toml``."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache

from attrs import field, frozen

from oddbolt.core.reference.tables import table


@frozen
class JointKind:
    """A kind of joint; the table's head says what each column means."""

    id: str
    plural: str
    figures: tuple[str, ...] = field(converter=tuple)
    unit: str
    risk: float
    actions: tuple[str, ...] = field(converter=tuple)
    back: str
    usual_length_mm: float | None = None
    counted: bool = False
    threaded: bool = False
    plug: bool = False
    glue: bool = False
    pried: bool = False
    solderable: bool = False

    def noun(self, count: int | None) -> str:
        """What to call so many of them."""
        return self.id if count == 1 or not self.plural else self.plural


@cache
def joint_kinds() -> Mapping[str, JointKind]:
    """The kinds by id, in the order of the forms."""
    return {row["id"]: JointKind(**row) for row in table("joint_kinds")["kind"]}


@cache
def ids_where(trait: str) -> frozenset[str]:
    """The kinds with a trait: "threaded", "plug", "glue", "pried", "counted" or "solderable"."""
    return frozenset(kind.id for kind in joint_kinds().values() if getattr(kind, trait))


@cache
def kind_undone_by() -> Mapping[str, str]:
    """The kind of joint that an action undoes where no other is named ("unscrew": "screw")."""
    return {action: kind.id for kind in joint_kinds().values() for action in kind.actions}
