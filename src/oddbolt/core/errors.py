"""The exceptions of Odd Bolt. Each carries one sentence meant for the user."""

import re

LONGEST_SENTENCE = 300
#: what moves the cursor, hides or turns round the text around it
CONTROLS = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\u202a-\u202e\u2066-\u2069]")


def visible(match: "re.Match[str]") -> str:
    """A control character as an escape that can be read."""
    code = ord(match[0])
    return f"\\x{code:02x}" if code < 256 else f"\\u{code:04x}"


class OddBoltError(Exception):
    """Base of all errors whose text may be shown to the user as it stands."""

    def __str__(self) -> str:
        return sentence(super().__str__())


def sentence(said: object) -> str:
    """What an error says as one line of at most :data:`LONGEST_SENTENCE` characters, without control characters."""
    text = CONTROLS.sub(visible, " ".join(str(said).split(" ")).replace("\n", " ").replace("\t", " "))
    text = text.encode("utf-8", "backslashreplace").decode()
    if len(text) <= LONGEST_SENTENCE:
        return text
    half = (LONGEST_SENTENCE - 3) // 2
    return f"{text[:half]} … {text[-half:]}"


class StudyError(OddBoltError):
    """An edit would leave the study inconsistent, or a figure is outside its range."""


class ReachError(OddBoltError):
    """A part cannot be reached from what is recorded, or recorded facts contradict each other."""


class BenchError(OddBoltError):
    """A bench sum, a warm-up or an edge plan cannot be computed from these figures."""


class NarrationError(OddBoltError):
    """Captions or a word list cannot be read."""


class FileError(OddBoltError):
    """A file cannot be read or written."""


class WriteError(FileError):
    """The disk did not take it now: full, gone, or out of order. It may later."""


class VisionError(OddBoltError):
    """A photo does not show what is needed to measure on it."""
