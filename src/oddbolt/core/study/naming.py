"""From a typed name back to the thing it names."""

from __future__ import annotations

from rapidfuzz import process

from oddbolt.core.errors import StudyError
from oddbolt.core.study.model import KINDS, Study

KIND_WORD = {"P": "part", "J": "joint", "S": "step"}


def resolve(study: Study, text: str, letter: str) -> str:
    """The id of the thing of this kind that ``text`` names: its id, its name, or the only name that begins so.

    Raises StudyError, with the nearest name, if there is none or several begin so.
    """
    wanted = text.strip().casefold()
    table = study.table(letter)
    if text.strip().upper() in table:
        return text.strip().upper()
    names = {id: study.name(id) for id in table}
    exact = [id for id, name in names.items() if name.casefold() == wanted]
    begun = exact or [id for id, name in names.items() if wanted and name.casefold().startswith(wanted)]
    if len(begun) == 1 or exact:
        return begun[0]
    word = KIND_WORD.get(letter, KINDS[letter][0].__name__.lower())
    if begun:
        raise StudyError(
            f"{text.strip()!r} could be {', '.join(names[id] for id in begun[:4])}; type more of the name."
        )
    near = process.extractOne(text.strip(), list(names.values()), score_cutoff=60)
    hint = f" Did you mean {near[0]}?" if near else ""
    raise StudyError(f"There is no {word} called {text.strip()!r}.{hint}")


def resolve_all(study: Study, text: str, letter: str) -> tuple[str, ...]:
    """The ids of the things named in ``text``, parted by semicolons or, where no name holds one, by commas."""
    names = {study.name(id).casefold() for id in study.table(letter)}
    if text.strip().casefold() in names:
        return (resolve(study, text, letter),)
    parted = text.split(";") if ";" in text else text.split(",")
    return tuple(dict.fromkeys(resolve(study, name, letter) for name in parted if name.strip()))
