"""What happens, told to those who do not look: a screen reader hears it, and it can be asked for again."""

from __future__ import annotations

from collections import deque

from oddbolt.desk.shell.notices import Notice
from oddbolt.desk.state.actions import Action
from oddbolt.desk.widgets.spoken import announce

KEPT = 20


class Announcements:
    """Keeps the last sentences; ``again`` goes back through them, one further at each call."""

    def __init__(self, notice: Notice) -> None:
        self.notice = notice
        self.said: deque[str] = deque(maxlen=KEPT)
        self._back = 0

    def actions(self) -> tuple[Action, ...]:
        """The action that repeats what was announced."""
        return (Action("announce again", "Re&peat announcement", "View", self.again, "Shift+F6", group=3),)

    def say(self, sentence: str) -> None:
        """Announce a sentence."""
        if sentence:
            self.said.append(sentence)
            self._back = 0
            announce(self.notice.window(), sentence)

    def again(self) -> str:
        """Announce the last sentence again, at the next call the one before it; also shown below the page."""
        if not self.said:
            sentence = "Nothing was announced yet."
        else:
            self._back = self._back % len(self.said) + 1
            sentence = self.said[-self._back]
        announce(self.notice.window(), sentence)
        self.notice.tell(sentence)
        return sentence
