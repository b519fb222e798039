"""File dialogs that never hold the program: each calls back with the file that was picked."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QWidget

from oddbolt.core.errors import FileError

#: what counts as an ending; "logger v1.2" has none
ENDS = re.compile(r"\.[A-Za-z][A-Za-z0-9]{1,9}$")


class Dialogs:
    """``folder`` gives the folder to begin in."""

    def __init__(self, parent: QWidget, folder: Callable[[], Path]) -> None:
        self.parent, self.folder = parent, folder

    def ask_open(self, title: str, kinds: str, then: Callable[[Path], object]) -> None:
        """Ask for a file that exists."""
        self._ask(title, kinds, QFileDialog.FileMode.ExistingFile).fileSelected.connect(lambda f: then(Path(f)))

    def ask_files(self, title: str, kinds: str, then: Callable[[list[Path]], object]) -> None:
        """Ask for some files."""
        dialog = self._ask(title, kinds, QFileDialog.FileMode.ExistingFiles)
        dialog.filesSelected.connect(lambda files: then([Path(f) for f in files]))

    def ask_folder(self, title: str, then: Callable[[Path], object]) -> None:
        """Ask for a folder."""
        dialog = self._ask(title, "", QFileDialog.FileMode.Directory)
        dialog.setOption(QFileDialog.Option.ShowDirsOnly)
        dialog.fileSelected.connect(lambda f: then(Path(f)))

    def ask_save(self, title: str, proposed: str, kinds: str, then: Callable[[Path, str], object]) -> None:
        """Ask for a name to write to; ``then`` is given it and the chosen kind."""
        dialog = self._ask(title, kinds, QFileDialog.FileMode.AnyFile, proposed)
        dialog.fileSelected.connect(lambda f: then(Path(f), dialog.selectedNameFilter()))

    def _ask(self, title: str, kinds: str, mode: QFileDialog.FileMode, proposed: str = "") -> QFileDialog:
        dialog = QFileDialog(self.parent, title, str(self.folder()), kinds)
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.setFileMode(mode)
        if proposed:
            dialog.setAcceptMode(QFileDialog.AcceptMode.AcceptSave)
            dialog.selectFile(proposed)
        dialog.open()
        return dialog


def ended(path: Path, endings: Sequence[str], chosen: str = "") -> Path:
    """The path with one of these endings: the one typed, else the one of the ``chosen`` kind, else the first.

    Raises FileError for an ending that is none of them.
    """
    typed = ENDS.search(path.name)
    if typed and typed[0].lower() in endings:
        return path
    if typed:
        raise FileError(f"{path.name}: {typed[0]} cannot be written here; use {' or '.join(endings)}.")
    ending = next((e for e in endings if e in chosen), endings[0])
    return path.with_name(path.name + ending)
