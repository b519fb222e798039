"""Names of parts as a recogniser writes them down by ear: "bored" for board, "hole der" for holder.

Only words that no list holds are tried, only in speech without capitals and stops, and only a part that sounds the same
is taken: its consonants in their order and its first vowel are the same, and no other part is as near. What stays open
stays as heard; what was put right is asked, unless the part was spoken of before.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from difflib import SequenceMatcher
from functools import lru_cache

#: spellings that sound alike, in the order in which they are put down
ALIKE = (
    (r"^kn|^gn", "n"), (r"^wr", "r"), (r"^ps", "s"), (r"ph", "f"), (r"sch|sh|tion", "x"), (r"tch|ch", "q"),
    (r"th", "0"), (r"dge", "j"), (r"ck|c(?![eiy])", "k"), (r"[cz]", "s"), (r"gh", ""), (r"mb$", "m"),
)  # fmt: skip
#: vowels that sound much alike, the longest spelling first
VOWELS = (
    ("igh", "i"), ("oa", "o"), ("oe", "o"), ("oi", "y"), ("oy", "y"), ("ow", "w"), ("ou", "w"), ("oo", "u"),
    ("ew", "u"), ("ue", "u"), ("ea", "e"), ("ee", "e"), ("ie", "e"), ("ai", "a"), ("ay", "a"), ("au", "o"), ("aw", "o"),
)  # fmt: skip
#: words for parts that sound like others and are meant as they stand (common practice, no source)
OWN = frozenset(
    "tub cowl hood cord rail liner batten boss mast shroud flap hatch bin cone pen pin dowel cup cage rim lip "
    "bush bail barrel bracelet buckle bellows bowl bung collar cork cowling crate dish duct felt fin fork frill "
    "guide hull hinge jaw keel lace latch leaf leg loom lug mat mantle nib nose paddle pan pedal peg pile pipe "
    "plaque plinth pouch prong ram reed rib roof rope sail sash seat sheath shoe shutter skid skirt slat sling "
    "snout spout sprocket stay stool strut stub tail tin toe tongue tooth tower track trough truss tube vial wad "
    "web weight wedge well whisk wick wing grease stripe".split()
)
#: least likeness in spelling, beside the same consonants
LEAST_LIKE = 0.65
#: consonants that a name must have at least, so that it is not taken for another by chance
FEWEST = 2
#: words that are never part of a misheard name
LITTLE = frozenset("the a an of off out up and then now so is are was to too from with by buy".split())


@lru_cache(maxsize=2048)
def sound(word: str) -> str:
    """The consonants of a word as they sound; a vowel at its start stands as one letter."""
    low = re.sub(r"[^a-z]", "", word.lower())
    for pattern, letter in ALIKE:
        low = re.sub(pattern, letter, low)
    first = "a" if low[:1] in tuple("aeiou") else low[:1]
    rest = re.sub(r"[aeiouyhw]", "", low[1:])
    return re.sub(r"(.)\1+", r"\1", first + rest)


def vowel(word: str) -> str:
    """The first vowel of a word as it sounds; "" if it has none."""
    found = re.search(r"[aeiouy]\w*", re.sub(r"^y", "", word.lower()))
    rest = found.group() if found else ""
    return next((letter for spelt, letter in VOWELS if rest.startswith(spelt)), rest[:1])


def spoken(text: str) -> bool:
    """Whether a text looks as a recogniser writes: no capitals, no stops."""
    return text == text.lower() and not re.search(r"[.,;:!?(]", text) and len(text.split()) > 2


@lru_cache(maxsize=4)
def _by_sound(nouns: frozenset[str]) -> Mapping[str, tuple[str, ...]]:
    out: dict[str, tuple[str, ...]] = {}
    for noun in sorted(nouns):
        key = sound(noun)
        if len(key) >= FEWEST:
            out[key] = (*out.get(key, ()), noun)
    return out


def meant(heard: str, nouns: frozenset[str]) -> str:
    """The noun that sounds like a word or like two words together; "" if there is none or no single nearest one."""
    whole = heard.replace(" ", "").replace("-", "")
    if whole in nouns:
        return whole
    if whole in OWN or whole.rstrip("s") in OWN:
        return ""
    alike = [
        (SequenceMatcher(None, whole, n).ratio(), n)
        for n in _by_sound(nouns).get(sound(whole), ())
        if vowel(n) == vowel(whole)
    ]
    alike = sorted((a for a in alike if a[0] >= LEAST_LIKE), reverse=True)
    if not alike or (len(alike) > 1 and alike[0][0] - alike[1][0] < 0.05):
        return ""
    return alike[0][1]


def _two_words(name: str, listed: frozenset[str]) -> str:
    """A name heard as two words, as two words if both are known: "base plate"."""
    cuts = (f"{name[:n]} {name[n:]}" for n in range(3, len(name) - 2))
    return next((cut for cut in cuts if all(w in listed for w in cut.split())), name)


def mended(name: str, after: str, nouns: frozenset[str], listed: frozenset[str]) -> str:
    """A name with its misheard words put right: those that are not ``listed`` become one of the ``nouns``. ``after`` is
    the text behind it, of which one word may belong to it."""
    words = name.split()
    follows = re.match(r"\s([a-z]+)\b", after)
    if words and words[-1].lower() not in listed and follows and follows[1] not in LITTLE:
        joined = meant(f"{words[-1]} {follows[1]}", nouns)
        if joined and not meant(words[-1], nouns):
            words = [*words[:-1], joined]
    out: list[str] = []
    while words:
        pair = " ".join(words[:2]).lower() if len(words) > 1 else ""
        both = "" if pair in nouns or all(w in listed for w in pair.split()) else meant(pair, nouns)
        first = words[0]
        alone = first if both or first.lower() in listed else meant(first.lower(), nouns) or first
        out.append(_two_words(both, listed) or alone)
        words = words[2 if both else 1 :]
    return " ".join(out)
