"""Actions for busy hands on single keys and pedals. A pedal is a key: whatever it sends is learnt by pressing it."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject, Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent, QKeySequence

from oddbolt.desk.state.actions import Actions
from oddbolt.desk.state.settings import Settings

KEY = Qt.Key
#: no pedals: they only change what another key does
MODIFIERS = frozenset(
    (KEY.Key_Shift, KEY.Key_Control, KEY.Key_Alt, KEY.Key_Meta, KEY.Key_AltGr, KEY.Key_CapsLock, KEY.Key_NumLock)
)
#: a key held at least so long counts as held
HOLD_MS = 600
HELD = "hold "


class Pedals(QObject):
    """Watches all keys of the application. ``asked`` gives the name of an action, ``learnt`` one and its key."""

    asked = Signal(str)
    learnt = Signal(str, str)
    refused = Signal(str)

    def __init__(
        self, settings: Settings, sign: Callable[[], None], actions: Actions, parent: QObject | None = None
    ) -> None:
        super().__init__(parent)
        self.settings, self._sign, self.actions = settings, sign, actions
        self.learning = ""
        self._down = ""
        self._swallow: set[int] = set()
        self._hold = QTimer(self)
        self._hold.setSingleShot(True)
        self._hold.setInterval(HOLD_MS)
        self._hold.timeout.connect(self._held)

    @property
    def keys(self) -> dict[str, str]:
        """action -> the key it is bound to, such as "F13" or "hold F13"."""
        bound = self.settings.get("pedal", {})
        known = self.actions.on_large_page()
        return {a: k for a, k in bound.items() if a in known and isinstance(k, str)}

    def bind(self, action: str, key: str) -> None:
        """Bind a key to an action, "" to none; another action that has the key gives it up."""
        keys = {a: k for a, k in self.keys.items() if k != key and a != action}
        if key:
            keys[action] = key
        self.settings.put("pedal", keys)

    def learn(self, action: str) -> None:
        """Bind the next key that is pressed (or held) to this action; Escape leaves it as it was."""
        self.learning = action

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        kind = event.type()
        if kind not in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease, QEvent.Type.ShortcutOverride):
            return False
        if not isinstance(event, QKeyEvent) or not watched.isWidgetType():
            return False
        self._sign()
        if event.key() in MODIFIERS:
            if self.learning and kind == QEvent.Type.KeyPress and not event.isAutoRepeat():
                self.refused.emit(QKeySequence(event.key()).toString() or "A modifier key")
            return False
        if kind == QEvent.Type.KeyRelease and event.key() in self._swallow:
            if not event.isAutoRepeat():
                self._swallow.discard(event.key())
                self._released()
            return True
        name = QKeySequence(event.keyCombination()).toString()
        mine = bool(self.learning) or name in self.keys.values() or HELD + name in self.keys.values()
        if not mine or kind == QEvent.Type.KeyRelease:
            return False
        event.accept()
        if kind == QEvent.Type.KeyPress and event.key() not in self._swallow:
            self._swallow.add(event.key())
            self._pressed(name)
        return True

    def _pressed(self, name: str) -> None:
        if self.learning and name == "Esc":
            self.learning = ""
            self.learnt.emit("", "")
            return
        self._down = name
        if self.learning or HELD + name in self.keys.values():
            self._hold.start()
        else:
            self._act(name)
            self._down = ""

    def _held(self) -> None:
        name, self._down = self._down, ""
        self._act(HELD + name)

    def _released(self) -> None:
        name, self._down = self._down, ""
        self._hold.stop()
        if name:
            self._act(name)

    def _act(self, name: str) -> None:
        if self.learning:
            action, self.learning = self.learning, ""
            self.bind(action, name)
            self.learnt.emit(action, name)
            return
        action = next((a for a, k in self.keys.items() if k == name), "")
        if action:
            self.asked.emit(action)


def types_a_letter(key: str) -> bool:
    """Whether a key, while it is bound, can no longer be typed into a sentence."""
    return len(key.removeprefix(HELD)) == 1 or key.removeprefix(HELD) in ("Space", "Return", "Enter", "Backspace")
