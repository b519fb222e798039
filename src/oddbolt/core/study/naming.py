"""From a typed name back to the thing it names: the one resolver of window and command line."""

from __future__ import annotations

from collections.abc import Mapping

from attrs import frozen
from rapidfuzz import fuzz, process

from oddbolt.core.errors import StudyError
from oddbolt.core.study.model import KINDS, Study

KIND_WORD = {"P": "part", "J": "joint", "S": "step"}
#: names at least this alike (0 to 100) are near; one is taken only if the next is this much less alike
NEAR, CLEAR = 80, 8
#: names listed in a question
LISTED = 6


@frozen
class Resolved:
    """What a typed name was taken for; ``note`` says so in a sentence where it is not what was typed."""

    id: str
    note: str = ""


def resolve_name(study: Study, text: str, letter: str) -> Resolved:
    """The thing of this kind that ``text`` names: by its id, its name, the only name with these words or this
    beginning, or the only name near it.

    Raises StudyError, naming those that fit, if several do, and the nearest if none does.
    """
    typed = text.strip()
    table = study.table(letter)
    if typed.upper() in table:
        return Resolved(typed.upper())
    names = {id: study.name(id) for id in table}
    word = KIND_WORD.get(letter, KINDS[letter][0].__name__.lower())
    fitting = _fitting(names, typed.casefold())
    if len(fitting) == 1:
        return Resolved(fitting[0])
    if fitting:
        listed = [f"{names[id]} ({id})" for id in fitting[:LISTED]]
        more = f" and {len(fitting) - LISTED} more" if len(fitting) > LISTED else ""
        raise StudyError(f"{typed!r} could be {', '.join(listed)}{more}. Type more of the name, or the id.")
    near = process.extract(typed, names, scorer=fuzz.ratio, processor=str.casefold, limit=2, score_cutoff=60)
    if near and near[0][1] >= NEAR and (len(near) == 1 or near[0][1] - near[1][1] >= CLEAR):
        return Resolved(near[0][2], f"{typed!r} is taken for {near[0][0]}.")
    hint = f" Did you mean {' or '.join(name for name, _, _ in near)}?" if near else ""
    raise StudyError(f"There is no {word} called {typed!r}.{hint}")


def _fitting(names: Mapping[str, str], wanted: str) -> list[str]:
    """The ids whose name this is; else those whose name has all its words, or begins so."""
    folded = {id: name.casefold() for id, name in names.items()}
    exact = [id for id, name in folded.items() if name == wanted]
    if exact or not wanted:
        return exact
    words = set(wanted.replace(",", " ").split())
    return [
        id for id, name in folded.items() if name.startswith(wanted) or words <= set(name.replace(",", " ").split())
    ]


def resolve(study: Study, text: str, letter: str) -> str:
    """The id of the thing of this kind that ``text`` names. See :func:`resolve_name`. Raises StudyError."""
    return resolve_name(study, text, letter).id


def resolve_names(study: Study, text: str, letter: str) -> tuple[Resolved, ...]:
    """The things named in ``text``, separated by semicolons or, where no name holds one, by commas."""
    names = {study.name(id).casefold() for id in study.table(letter)}
    if text.strip().casefold() in names:
        return (resolve_name(study, text, letter),)
    separated = text.split(";") if ";" in text else text.split(",")
    found = (resolve_name(study, name, letter) for name in separated if name.strip())
    return tuple({one.id: one for one in found}.values())


def resolve_all(study: Study, text: str, letter: str) -> tuple[str, ...]:
    """The ids of the things named in ``text``. Raises StudyError."""
    return tuple(one.id for one in resolve_names(study, text, letter))
