"""What the desk remembers between sittings: recent files, the theme, taught words. Plain files under the XDG folder."""

from __future__ import annotations

import json
import logging
from pathlib import Path
from typing import Any

from platformdirs import user_config_path, user_data_path, user_state_path

from oddbolt.core.errors import FileError, NarrationError
from oddbolt.core.narration import Vocabulary, parse_words, with_words
from oddbolt.core.reference.tables import table
from oddbolt.files.text import write_text
from oddbolt.listening import listening_vocabulary

NAME = "oddbolt"
RECENT = 8


def state_folder() -> Path:
    """Where the log of errors lies."""
    return user_state_path(NAME, ensure_exists=True)


def data_folder() -> Path:
    """Where the copy of the demo study and the user's own schemes lie."""
    return user_data_path(NAME, ensure_exists=True)


class Settings:
    """Read once, written at every change. Files that cannot be read count as empty."""

    def __init__(self, folder: Path | None = None) -> None:
        self.folder = folder or user_config_path(NAME, ensure_exists=True)
        self.values: dict[str, Any] = self._json()
        self.words: dict[str, Any] = self._words()

    def vocabulary(self, wait: bool = False) -> Vocabulary:
        """The words of the reader with those taught, and the network beside them: once it is loaded, or after waiting
        for it. Whoever switched it off reads by rules alone."""
        words = with_words(self.words)
        return listening_vocabulary(words, wait) if self.get("listen", True) else words

    def get(self, name: str, default: Any) -> Any:
        """A remembered value; the default if there is none of that type."""
        value = self.values.get(name, default)
        return value if isinstance(value, type(default)) else default

    def put(self, name: str, value: Any) -> None:
        """Remember a value."""
        self.values[name] = value
        self._write(self.folder / "settings.json", json.dumps(self.values, indent=1, ensure_ascii=False))

    @property
    def recent(self) -> list[Path]:
        """Files opened lately that are still there, newest first."""
        return [Path(p) for p in self.get("recent", []) if isinstance(p, str) and Path(p).exists()]

    def opened(self, path: Path) -> None:
        """Remember a file as opened last."""
        rest = [str(p) for p in self.recent if p != path]
        self.put("recent", [str(path), *rest][:RECENT])

    def teach(self, word: str, drive: str) -> None:
        """Remember what a drive word stands for; "" for a word that names no drive. Written as a list of taught words
        that the command line takes too."""
        if drive:
            self.words.setdefault("drives", {})[word] = drive
            lines = ["# Words taught at the desk", "[drives]"]
            lines += [f"{json.dumps(w)} = {json.dumps(d)}" for w, d in self.words["drives"].items()]
            for section, entries in self.words.items():
                if section != "drives":
                    lines += [f"[{section}]", *(f"{json.dumps(k)} = {json.dumps(v)}" for k, v in entries.items())]
            self._write(self.folder / "words.toml", "\n".join(lines) + "\n")
        else:
            self.put("no drives", [*self.get("no drives", []), word])

    @property
    def text_size(self) -> float:
        """How large everything is drawn, 1.0 for as designed; 0.0 where nobody chose."""
        size = self.get("text size", 0.0)
        return float(size) if isinstance(size, int | float) and 0.5 <= size <= 3.0 else 0.0

    def size_text(self, by: float) -> float:
        """Draw everything larger or smaller by a factor; returns the size."""
        size = min(3.0, max(0.7, round((self.text_size or 1.0) * by, 2)))
        self.put("text size", size)
        return size

    @property
    def bench(self) -> list[str]:
        """What lies on the user's bench, in words; a usual bench until they say otherwise."""
        try:
            lines = (self.folder / "bench.txt").read_text(encoding="utf-8").splitlines()
        except (OSError, UnicodeDecodeError):
            return list(table("kit")["usual_bench"])
        return [line.strip() for line in lines if line.strip()]

    def put_bench(self, words: list[str]) -> None:
        """Remember what lies on the bench, one thing a line, as the command line takes it too."""
        self._write(self.folder / "bench.txt", "\n".join(dict.fromkeys(words)) + "\n")

    def _json(self) -> dict[str, Any]:
        try:
            values = json.loads((self.folder / "settings.json").read_text(encoding="utf-8"))
        except (OSError, ValueError):
            return {}
        return values if isinstance(values, dict) else {}

    def _words(self) -> dict[str, Any]:
        try:
            return parse_words((self.folder / "words.toml").read_text(encoding="utf-8"), "words.toml")
        except FileNotFoundError:
            return {}
        except (OSError, UnicodeDecodeError, NarrationError) as error:
            logging.getLogger(NAME).warning("taught words not read: %s", error)
            return {}

    @staticmethod
    def _write(path: Path, text: str) -> None:
        try:
            write_text(path, text)
        except FileError as error:
            logging.getLogger(NAME).warning("%s not written: %s", path, error)
