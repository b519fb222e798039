"""What a sentence says of a part in exact words: its marking, package, pins and function. Numbers and codes are read by
rules, never guessed."""

from __future__ import annotations

import re
from typing import Any

from attrs import frozen

#: how packages are written; what follows may be a count of pins
PACKAGE = re.compile(
    r"\b((?:L|T|V|H)?QFP|(?:V|W|U)?QFN|(?:V|W|U)?DFN|(?:T|S|M|H)?SSOP|TSOP|MSOP|SOIC|SOP|SO|DIP|PLCC|(?:F|T|V)?BGA|LGA|WLCSP|"
    r"SOT|SOD|TO|DO|SC|MELF)[- ]?(\d{1,3}(?:-\d)?)?\b(?!['’])"
)
PINS = re.compile(r"\b(\d{1,4})[- ]?(?:pins?|p|legs?|leads?|balls?|ways?)\b", re.IGNORECASE)
NUMBERS = {
    "three": 3, "four": 4, "five": 5, "six": 6, "eight": 8, "ten": 10, "twelve": 12, "fourteen": 14, "sixteen": 16,
    "twenty": 20, "twenty four": 24, "twenty eight": 28, "thirty two": 32, "forty": 40, "forty eight": 48,
    "sixty four": 64,
}  # fmt: skip
PINS_IN_WORDS = re.compile(
    rf"\b({'|'.join(w.replace(' ', '[- ]') for w in sorted(NUMBERS, key=len, reverse=True))})"
    r"[- ](?:pins?|legs?|leads?|balls?|way)\b",
    re.IGNORECASE,
)
#: "is the motor driver", "that's your main processor", "boost ctrl i think"
FUNCTION = re.compile(
    r"(?:\bis|\bso|\bthat['’]?s|\bit['’]?s|\bbeing|=|\bmaybe|\bprobably|\bas)\s+(?:the|your|a|an)\s+((?:[a-z][a-z-]*\s?){1,4})",
    re.IGNORECASE,
)
#: words that a function does not end or consist of
NO_FUNCTION = frozenset(
    "one it part chip thing that this same first last only here there i think guess bit little and or but with marked "
    "which so problem question new old big small pin pins fine ok good broken dead missing".split()
)
#: "88 by 54 by 3 mm"
SIZE = re.compile(
    r"(\d+(?:[.,]\d+)?)\s*(?:mm|cm)?\s*(?:by|x|×)\s*(\d+(?:[.,]\d+)?)(?:\s*(?:mm|cm)?\s*(?:by|x|×)\s*(\d+(?:[.,]\d+)?))?"
    r"\s*(mm|millimet\w+|cm|centimet\w+)\b",
    re.IGNORECASE,
)
#: "marked MV2207", "reads K91T2", "it says 86 on the roller", "bears the legend HC4060"
MARKED = re.compile(
    r"\b(?:marked|labelled|labeled|stamped|printed|engraved|(?:it|which|that)\s+(?:says|reads)|bears\s+the\s+legend|legend)\s+"
    r"(?:as\s+|with\s+)?[\"“']?([A-Z0-9][\w.+/-]*(?:\s+[A-Z]*\d[\w.+/-]*)?)[\"”']?"
)
PART = re.compile(r"\b(?:the|this|that|a|an|its|one)\s+((?:[a-z][\w-]*\s+){1,3})(?:is\s+|are\s+)?$", re.IGNORECASE)


@frozen
class PartFacts:
    """What was said: empty texts and None for what was not."""

    marking: str = ""
    package: str = ""
    pins: int | None = None
    function: str = ""
    size_mm: tuple[float, ...] = ()

    def json(self) -> dict[str, Any]:
        """Only what is set."""
        told = {
            "marking": self.marking,
            "package": self.package,
            "pins": self.pins,
            "function": self.function,
            "size_mm": self.size_mm,
        }
        return {name: value for name, value in told.items() if value}


def facts_in(text: str) -> PartFacts:
    """Package, pins and function that a sentence states, and a marking where it says "marked" or the like."""
    package = PACKAGE.search(text)
    pins = PINS.search(text)
    words = PINS_IN_WORDS.search(text)
    count = int(pins[1]) if pins else NUMBERS[words[1].lower().replace("-", " ")] if words else None
    if count is None and package and package[2] and "-" not in package[2] and int(package[2]) in range(4, 600):
        count = int(package[2]) if package[1] not in ("SOT", "SOD", "TO", "DO", "SC", "MELF") else None
    marked = MARKED.search(text)
    return PartFacts(
        without_package(marked[1].rstrip(".,")) if marked else "",
        "".join(filter(None, (package[1], "-" if package[2] else "", package[2]))) if package else "",
        count,
        _function(text),
        _size(text),
    )


def without_package(marking: str) -> str:
    """A marking as it is on the part: the word for its package is the speaker's."""
    words = marking.split()
    return " ".join(words[1:]) if len(words) > 1 and PACKAGE.fullmatch(words[0]) else marking


def _size(text: str) -> tuple[float, ...]:
    """Two or three lengths of a body, mm, the longest first of the first two."""
    found = SIZE.search(text)
    if found is None:
        return ()
    factor = 10.0 if found[4].lower().startswith("c") else 1.0
    sides = [float(side.replace(",", ".")) * factor for side in found.groups()[:3] if side]
    return (*sorted(sides[:2], reverse=True), *sides[2:])


def _function(text: str) -> str:
    for found in FUNCTION.finditer(text):
        words = found[1].strip().lower().split()
        while words and words[-1] in NO_FUNCTION:
            words.pop()
        if (
            words
            and not NO_FUNCTION & set(re.split(r"[\s-]", " ".join(words)))
            and not PACKAGE.search(found[1].upper())
        ):
            return " ".join(words)
    return ""


def marked_part(text: str) -> tuple[str, PartFacts]:
    """For readers without the network: the part that is said to be marked, and what is said of it; "" for none."""
    marked = MARKED.search(text)
    if marked is None:
        return "", PartFacts()
    named = PART.search(text[: marked.start()])
    words = named[1].split() if named else []
    while words and words[-1].lower() in ("is", "are", "was", "were"):
        words.pop()
    return " ".join(words), facts_in(text)
