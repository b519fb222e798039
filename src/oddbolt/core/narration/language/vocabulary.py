"""The words the reader knows: the shipped table, and what the user taught it."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Callable, Iterable, Mapping
from functools import cache
from typing import Any

from attrs import field, frozen

from oddbolt.core.errors import NarrationError
from oddbolt.core.narration.understanding import Tagger
from oddbolt.core.reference.tables import drives, table

#: Sections of a taught word list, and what a word in them stands for.
TAUGHT = {
    "drives": "a drive: word = drive",
    "parts": "words = [part nouns]",
    "tools": "words = [tools]",
    "joints": "kind = [words]",
    "actions": "action = [verbs]",
    "agents": "agent = [words]",
    "slips": "words = {heard = meant}",
}


@frozen
class Vocabulary:
    """Phrases by first word: each phrase is its words, a class ("verb", "joint", "drive", ...) and a value."""

    phrases: Mapping[str, list[tuple[tuple[str, ...], str, str]]]
    nouns_too: frozenset[str]
    verb_bases: Mapping[str, str]
    slips: Mapping[str, str]
    number_slips: Mapping[str, int]
    marks: Mapping[str, re.Pattern[str]]
    sides: Mapping[str, int]
    not_parts: frozenset[str]
    #: all words and phrases that name a part, and all words that stand in any list
    nouns: frozenset[str]
    listed: frozenset[str]
    taught: Mapping[str, Any] = field(factory=dict)
    #: what finds acts in loose talk; None reads by rules alone
    tagger: Tagger | None = None

    def marked(self, mark: str, text: str) -> re.Match[str] | None:
        """Where ``text`` (lower case) first carries a phrase of this mark."""
        return self.marks[mark].search(text)


@cache
def shipped() -> Vocabulary:
    """The vocabulary as shipped."""
    return _built({})


def with_words(taught: Mapping[str, Any]) -> Vocabulary:
    """The shipped vocabulary and what a user taught, see :data:`TAUGHT`."""
    return _built(checked(taught)) if taught else shipped()


def parse_words(text: str, name: str = "the word list") -> dict[str, Any]:
    """Read a TOML list of taught words. Raises NarrationError naming what is wrong."""
    try:
        return checked(tomllib.loads(text), name)
    except (tomllib.TOMLDecodeError, RecursionError) as error:
        raise NarrationError(f"{name} is not a valid TOML file: {error}.") from None


def checked(taught: Mapping[str, Any], name: str = "the word list") -> dict[str, Any]:
    """The same list, if every entry can be understood."""
    for section, entries in taught.items():
        if section not in TAUGHT or not isinstance(entries, Mapping):
            raise NarrationError(f"{name}: [{section}] is not a section of taught words; use {', '.join(TAUGHT)}.")
        for word, value in entries.items():
            where = f"{name}: [{section}] {word}"
            if section == "drives":
                if not isinstance(value, str) or value not in drives():
                    raise NarrationError(f"{where} = {value!r} is not a drive; use {', '.join(drives())}.")
            elif section == "slips":
                if not isinstance(value, Mapping) or not all(isinstance(v, str) for v in value.values()):
                    raise NarrationError(f"{where} must be a table of heard = meant.")
            elif not isinstance(value, list) or not all(isinstance(v, str) and v.strip() for v in value):
                raise NarrationError(f"{where} must be a list of words.")
            elif section == "joints" and word not in table("vocabulary")["joints"]:
                raise NarrationError(f"{where} is not a kind of joint; use {', '.join(table('vocabulary')['joints'])}.")
            elif section == "actions" and word not in table("vocabulary")["actions"]:
                raise NarrationError(f"{where} is not an action; use {', '.join(table('vocabulary')['actions'])}.")
    return {k: dict(v) for k, v in taught.items()}


def words_of(text: str) -> tuple[str, ...]:
    """The words of a phrase, as the tokens of a sentence are cut."""
    return tuple(re.findall(r"[a-z0-9.']+", text.lower().replace("-", " ")))


def forms(base: str, irregular: Mapping[str, list[str]]) -> list[str]:
    """All forms of a verb."""
    if base in irregular:
        return [base, *irregular[base]]
    if base.endswith("e"):
        return [base, base + "s", base + "d", base[:-1] + "ing"]
    if base.endswith("y") and base[-2:-1] not in tuple("aeiou"):
        return [base, base[:-1] + "ies", base[:-1] + "ied", base + "ing"]
    s = "es" if base.endswith(("s", "x", "ch", "sh", "z")) else "s"
    return [base, base + s, base + "ed", base + "ing"]


def plural_of(noun: str) -> str:
    """The plural of a noun by rule; a plural stays as it is."""
    if noun.endswith("s") and not noun.endswith("ss"):
        return noun
    if noun.endswith("y") and noun[-2:-1] not in "aeiou":
        return noun[:-1] + "ies"
    return noun + ("es" if noun.endswith(("ss", "x", "ch", "sh", "z")) else "s")


def _alternatives(phrases: Iterable[str]) -> re.Pattern[str]:
    ordered = sorted({p.lower().replace("-", " ") for p in phrases}, key=len, reverse=True)
    return re.compile(r"(?<![\w'])(?:" + "|".join(re.escape(p) for p in ordered) + r")(?![\w'])")


def _built(taught: Mapping[str, Any]) -> Vocabulary:
    data = table("vocabulary")
    phrases: dict[str, list[tuple[tuple[str, ...], str, str]]] = {}
    bases: dict[str, str] = {}

    def add(phrase: str, cls: str, value: str) -> None:
        words = words_of(phrase)
        if words:
            phrases.setdefault(words[0], []).append((words, cls, value))

    def merged(section: str) -> dict[str, list[str]]:
        out = {k: list(v) for k, v in data[section].items()}
        for key, words in taught.get(section, {}).items():
            out.setdefault(key, []).extend(words)
        return out

    irregular = data["irregular"]
    for action, verbs in merged("actions").items():
        for verb in verbs:
            first, *rest = words_of(verb)
            for form in forms(first, irregular):
                add(" ".join([form, *rest]), "verb", action)
                bases[form] = first
    for kind, nouns in merged("joints").items():
        for noun in nouns:
            add(noun, "joint", kind)
    _add_drives(add, data["drives"], taught.get("drives", {}))
    for agent, names in merged("agents").items():
        for name in names:
            add(name, "agent", agent)
    for section, cls in (("tools", "tool"), ("parts", "part"), ("places", "place")):
        extra = taught.get(section, {}).get("words", []) if section != "places" else []
        words = [*data[section]["words"], *extra]
        for word in dict.fromkeys([*words, *(plural_of(w) for w in words if cls == "part")]):
            add(word, cls, word)
    for section in ("finish", "heads", "plain"):
        for word in data[section]["words"]:
            add(word, {"heads": "head"}.get(section, section), word)
    for relation, words in data["relations"].items():
        for word in words:
            add(word, "rel-" + relation, word)
    for entries in phrases.values():
        entries.sort(key=lambda e: -len(e[0]))
    slips = dict(data["slips"]["words"])
    for entries_ in taught.get("slips", {}).values():
        slips.update(entries_)
    return Vocabulary(
        phrases=phrases,
        nouns_too=frozenset(data["nouns_too"]["words"]),
        verb_bases=bases,
        slips=slips,
        number_slips=data["slips"]["numbers"],
        marks=_marks(data),
        sides=data["sides"]["each"],
        not_parts=frozenset(data["not_parts"]["words"]),
        nouns=frozenset(" ".join(p) for entries in phrases.values() for p, cls, _ in entries if cls == "part"),
        listed=frozenset(w for entries in phrases.values() for p, _, _ in entries for w in p),
        taught=dict(taught),
    )


def _add_drives(
    add: Callable[[str, str, str], None], names: Mapping[str, list[str]], taught: Mapping[str, str]
) -> None:
    """The words for drives, and their sizes with and without a space ("PH00", "PH 00")."""
    for drive, words in names.items():
        for word in words:
            add(word, "drive", drive)
    for word, drive in taught.items():
        add(word, "drive", drive)
    for row in drives().values():
        for size in row.sizes if row.prefix else ():
            add(size, "size", f"{row.id} {size}")
            add(f"{row.prefix} {size[len(row.prefix) :]}", "size", f"{row.id} {size}")


def _marks(data: Mapping[str, Any]) -> dict[str, re.Pattern[str]]:
    """Words that say something of a whole sentence: that screws differ, are to be renewed, cut the power."""
    marks = {name: _alternatives(words) for name, words in data["marks"].items()}
    marks |= {f"reuse-{rule}": _alternatives(words) for rule, words in data["reuse"].items()}
    marks["isolates"] = _alternatives(data["isolates"]["words"])
    marks["back_marks"] = _alternatives(data["back_only"]["marks"])
    for latch, words in data["latches"].items():
        marks[f"latch-{latch}"] = _alternatives(words)
    return marks
