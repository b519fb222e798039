"""A folder that a camera drops pictures into, watched so that each is taken in once it is whole."""

from __future__ import annotations

from pathlib import Path
from time import monotonic

from PySide6.QtCore import QFileSystemWatcher, QObject, QTimer, Signal

from oddbolt.files.pictures import ENDINGS

LOOK_MS = 350
#: a picture is whole when its size stayed the same for so long
WHOLE_S = 0.6


class WatchedFolder(QObject):
    """``came`` gives the paths of new pictures, ``lost`` and ``found`` say that the folder went or is back."""

    came = Signal(list)
    lost = Signal()
    found = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.folder: Path | None = None
        self.shots = 0
        self._seen: set[tuple[str, int]] = set()
        self._growing: dict[Path, tuple[int, float]] = {}
        self._there = False
        self._watcher = QFileSystemWatcher(self)
        self._watcher.directoryChanged.connect(self.look)
        self._timer = QTimer(self)
        self._timer.setInterval(LOOK_MS)
        self._timer.timeout.connect(self.look)

    def watch(self, folder: Path | None) -> None:
        """Watch this folder from now on; pictures that lie in it already are not taken in. None: no folder."""
        if self._watcher.directories():
            self._watcher.removePaths(self._watcher.directories())
        self.folder, self._growing = folder, {}
        self._timer.stop()
        if folder is None:
            return
        self._there = folder.is_dir()
        self._seen = {(p.name, p.stat().st_mtime_ns) for p in self._pictures()}
        self._watcher.addPath(str(folder))
        self._timer.start()

    def _pictures(self) -> list[Path]:
        assert self.folder is not None
        try:
            return sorted(
                p
                for p in self.folder.iterdir()
                if p.suffix.lower() in ENDINGS and p.is_file() and not p.is_symlink()  # no link leads out of it
            )
        except OSError:
            return []

    def look(self) -> None:
        """Look for new pictures, and whether those that came are whole by now."""
        if self.folder is None:
            return
        there = self.folder.is_dir()
        if there != self._there:
            self._there = there
            (self.found if there else self.lost).emit()
            if there:
                self._watcher.addPath(str(self.folder))
        whole: list[Path] = []
        for path in self._pictures():
            try:
                stat = path.stat()
            except OSError:
                continue
            if (path.name, stat.st_mtime_ns) in self._seen:
                continue
            size, since = self._growing.get(path, (-1, 0.0))
            if stat.st_size != size or size == 0:
                self._growing[path] = stat.st_size, monotonic()
            elif monotonic() - since >= WHOLE_S:
                self._seen.add((path.name, stat.st_mtime_ns))
                del self._growing[path]
                whole.append(path)
        if whole:
            self.came.emit(whole)
