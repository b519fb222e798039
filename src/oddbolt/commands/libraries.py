"""The system libraries that the window loads: which are missing, said before the toolkit gives up over them."""

from __future__ import annotations

import ctypes
import os
import sys

from oddbolt.core.errors import FileError

#: library -> Debian package; ``run`` looks for the same before it installs anything
LIBRARIES = {
    "libEGL.so.1": "libegl1",
    "libGL.so.1": "libgl1",
    "libxkbcommon-x11.so.0": "libxkbcommon-x11-0",
    "libdbus-1.so.3": "libdbus-1-3",
    "libfontconfig.so.1": "libfontconfig1",
    "libglib-2.0.so.0": "libglib2.0-0",
}
#: what only a screen of the X Window System needs
OF_X = {
    "libxcb-icccm.so.4": "libxcb-icccm4",
    "libxcb-image.so.0": "libxcb-image0",
    "libxcb-keysyms.so.1": "libxcb-keysyms1",
    "libxcb-randr.so.0": "libxcb-randr0",
    "libxcb-render-util.so.0": "libxcb-render-util0",
    "libxcb-shape.so.0": "libxcb-shape0",
    "libxcb-sync.so.1": "libxcb-sync1",
    "libxcb-xfixes.so.0": "libxcb-xfixes0",
    "libxcb-xkb.so.1": "libxcb-xkb1",
    "libxcb-cursor.so.0": "libxcb-cursor0",
}


def check_display() -> None:
    """Raises FileError if there is no screen to open a window on."""
    if sys.platform == "linux" and not any(
        os.environ.get(n) for n in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")
    ):
        raise FileError("No display found. Without one, use: xvfb-run -a oddbolt")


def check_libraries() -> None:
    """Raises FileError naming every library of the window that is missing, with the packages that bring them."""
    if sys.platform != "linux":
        return
    on_x = bool(os.environ.get("DISPLAY")) and not os.environ.get("QT_QPA_PLATFORM")
    wanted = {**LIBRARIES, **(OF_X if on_x and not os.environ.get("WAYLAND_DISPLAY") else {})}
    missing = [name for name in wanted if not _there(name)]
    if missing:
        packages = " ".join(wanted[name] for name in missing)
        raise FileError(f"The window needs {', '.join(missing)}. On Debian: sudo apt-get install {packages}")


def _there(library: str) -> bool:
    try:
        ctypes.CDLL(library)
    except OSError:
        return False
    return True
