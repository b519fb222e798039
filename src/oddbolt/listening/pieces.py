"""Words cut into the pieces that the network knows, with the place of each piece in the text.

Word pieces as in BERT, uncased: small letters, accents taken off, a cut at every space and sign, then the longest piece
of the list from the left; a character that no piece holds makes its whole word "[UNK]".
"""

from __future__ import annotations

import unicodedata
from collections.abc import Iterable, Mapping

UNKNOWN = "[UNK]"
#: a longer word is not cut
LONGEST_WORD = 60
#: more pieces than this are left off; no utterance at a bench is as long
MOST_PIECES = 160


def plain(char: str) -> str:
    """A character in small letters without its accents; "" for what is not shown."""
    if unicodedata.category(char) in ("Cc", "Cf") and char not in "\t\n\r":
        return ""
    split = unicodedata.normalize("NFD", char.lower())
    return "".join(c for c in split if unicodedata.category(c) != "Mn")


def is_sign(char: str) -> bool:
    """Whether a character is a word of its own: punctuation, or one of the ASCII signs."""
    return (33 <= ord(char) <= 47 or 58 <= ord(char) <= 64 or 91 <= ord(char) <= 96 or 123 <= ord(char) <= 126) or (
        unicodedata.category(char).startswith("P")
    )


def words(text: str) -> list[list[tuple[str, int]]]:
    """The words of a text, each as (plain character, place)."""
    out: list[list[tuple[str, int]]] = []
    open_word = False
    for place, char in enumerate(text):
        small = plain(char)
        if char.isspace():
            open_word = False
        elif small and is_sign(small[0]):
            out.append([(c, place) for c in small])
            open_word = False
        elif small:
            if not open_word:
                out.append([])
            out[-1] += [(c, place) for c in small]
            open_word = True
    return out


def cut(text: str, known: Mapping[str, int]) -> tuple[list[int], list[tuple[int, int]]]:
    """The numbers of the pieces of a text and the places (start, end) of each."""
    ids: list[int] = []
    places: list[tuple[int, int]] = []
    for word in words(text):
        pieces = _pieces("".join(c for c, _ in word), known) if len(word) <= LONGEST_WORD else None
        if pieces is None:
            ids.append(known[UNKNOWN])
            places.append((word[0][1], word[-1][1] + 1))
        else:
            for piece, start, end in pieces:
                ids.append(piece)
                places.append((word[start][1], word[end - 1][1] + 1))
        if len(ids) >= MOST_PIECES:
            break
    return ids[:MOST_PIECES], places[:MOST_PIECES]


def _pieces(word: str, known: Mapping[str, int]) -> list[tuple[int, int, int]] | None:
    out = []
    start = 0
    while start < len(word):
        end = len(word)
        while end > start and (word[start:end] if start == 0 else "##" + word[start:end]) not in known:
            end -= 1
        if end == start:
            return None
        out.append((known[word[start:end] if start == 0 else "##" + word[start:end]], start, end))
        start = end
    return out


def numbered(lines: Iterable[str]) -> dict[str, int]:
    """The list of pieces, one a line, with their numbers."""
    return {line: n for n, line in enumerate(lines)}
