"""Caption files: WebVTT, SubRip and plain text with ``[m:ss]`` times."""

from __future__ import annotations

import io
import re
from collections.abc import Sequence
from pathlib import Path

import webvtt
from webvtt.errors import MalformedCaptionError, MalformedFileError

from oddbolt.core.errors import FileError, NarrationError
from oddbolt.core.handover.cues import Chapter, TimedStep
from oddbolt.core.narration import Cue
from oddbolt.files.text import STANDARD, read_bytes, write_text

#: An hour of dense speech is about 60 kB; a file a hundred times that is no narration.
LARGEST_BYTES = 6_000_000
STAMP = re.compile(r"^\s*[\[(]?(?:(\d{1,2}):)?(\d{1,3}):(\d{2})(?:[.,](\d{1,3}))?(?:[\])]|(?=\s))\s*")


def write_captions(path: Path, cues: Sequence[TimedStep], titles: Sequence[Chapter] = ()) -> None:
    """Write cues as FILE.vtt or FILE.srt; with ``titles`` those instead, as a track of chapters (FILE.vtt). Raises
    FileError."""
    ending = path.suffix.lower()
    if ending not in (".vtt", ".srt") and path != STANDARD:
        raise FileError(f"{path.name} ends in neither .vtt nor .srt.")
    if titles and ending == ".srt":
        raise FileError("Chapters are a track of WebVTT: name the file .vtt.")
    rows = [(c.start_s, c.end_s, c.name, "") for c in titles] or [(c.start_s, c.end_s, c.text, c.step) for c in cues]
    if ending == ".srt":
        out = [
            f"{n}\n{_stamp(start, ',')} --> {_stamp(end, ',')}\n{_one_block(text)}\n"
            for n, (start, end, text, _) in enumerate(rows, 1)
        ]
    else:
        out = ["WEBVTT\n"]
        for start, end, text, id in rows:
            safe = _one_block(text).replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
            out.append(f"{id}\n{_stamp(start)} --> {_stamp(end)}\n{safe}\n".lstrip("\n"))
    write_text(path, "\n".join(out))


def _stamp(seconds: float, point: str = ".") -> str:
    whole = round(seconds * 1000)
    return f"{whole // 3_600_000:02d}:{whole // 60_000 % 60:02d}:{whole // 1000 % 60:02d}{point}{whole % 1000:03d}"


def _one_block(text: str) -> str:
    """Text as a cue holds it: no empty line, which would end it, and no arrow."""
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    return "\n".join(lines).replace("-->", "→") or "…"


def read_cues(path: Path) -> list[Cue]:
    """The cues of a caption file. Raises NarrationError with one sentence if it holds none or cannot be read."""
    try:
        raw = read_bytes(path, LARGEST_BYTES)
    except FileError as error:
        raise NarrationError(str(error)) from None
    cues = parse_cues(decoded(raw, path.name), path.suffix.lower(), path.name)
    if not any(cue.text.strip() for cue in cues):
        raise NarrationError(f"{path.name} holds no captions; expected .vtt, .srt or lines that begin with [m:ss].")
    return cues


def parse_cues(text: str, suffix: str, name: str = "the captions") -> list[Cue]:
    """Cues from text; ``suffix`` is a hint (".vtt", ".srt"), the content decides."""
    text = text.replace("\r\n", "\n").replace("\r", "\n")
    if not text.strip():
        return []
    head = text.lstrip("\ufeff \n")
    try:
        if head.startswith("WEBVTT"):
            return _from_captions(webvtt.from_buffer(io.StringIO(head), format="vtt"))
        if suffix == ".srt" or re.search(r"\d\d:\d\d:\d\d[,.]\d{1,3}\s*-->", head[:2000]):
            return _from_captions(webvtt.from_buffer(io.StringIO(head), format="srt"))
    except (MalformedFileError, MalformedCaptionError, ValueError, IndexError) as error:
        raise NarrationError(
            f"{name} is not a caption file we can read: {error or 'its times are malformed'}."
        ) from None
    if suffix == ".vtt":
        raise NarrationError(f"{name} does not begin with WEBVTT, so it is not a WebVTT file.")
    return _plain(head)


def _from_captions(captions: webvtt.WebVTT) -> list[Cue]:
    return [
        Cue(c.start_in_seconds + _milli(c.start), c.end_in_seconds + _milli(c.end), c.text) for c in captions.captions
    ]


def _milli(stamp: str) -> float:
    tail = re.search(r"[.,](\d+)$", stamp)
    return float("0." + tail.group(1)) if tail else 0.0


def _plain(text: str) -> list[Cue]:
    """Lines with ``[m:ss]`` or ``[h:mm:ss]``; a line without a time belongs to the one before."""
    cues: list[Cue] = []
    at = 0.0
    for line in text.split("\n"):
        match = STAMP.match(line)
        if match:
            hours, minutes, seconds, part = match.groups()
            at = int(hours or 0) * 3600 + int(minutes) * 60 + int(seconds) + float(f"0.{part}" if part else 0)
        said = line[match.end() :].strip() if match else line.strip()
        if said:
            cues.append(Cue(at, at, said))
    return cues


def decoded(raw: bytes, name: str) -> str:
    """Text of whatever usual coding. Raises NarrationError for what is no text."""
    codecs = ["utf-16"] if raw[:4] == b"\xff\xfe\x00\x00" or raw[:2] in (b"\xff\xfe", b"\xfe\xff") else ["utf-8-sig"]
    for codec in codecs:
        try:
            text = raw.decode(codec)
            break
        except UnicodeDecodeError:
            continue
    else:
        text = raw.decode("cp1252", errors="replace")
    odd = sum(c == "\ufffd" or (ord(c) < 32 and c not in "\t\n\r\f") for c in text)
    if odd > max(2, len(text) // 200):
        raise NarrationError(f"{name} is not text: it holds {odd} bytes that no caption file has.")
    return text
