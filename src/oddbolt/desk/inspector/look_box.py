"""A short dialogue in the margin: what is seen of a thing, which kind it may be, and what to look at next by digit
keys."""

from __future__ import annotations

from collections.abc import Callable

from attrs import frozen
from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QKeyEvent

from oddbolt.core.components.looks import Guide, Ranked, Seen
from oddbolt.core.errors import OddBoltError
from oddbolt.core.study import Study
from oddbolt.core.study.formatting import chance
from oddbolt.desk.inspector.typed_box import TypedBox
from oddbolt.desk.state.session import Session
from oddbolt.desk.widgets.spoken import announce

SHOWN = 3


@frozen
class Asked:
    """What is asked: by which ``guide``, how it is ranked, what stands in the empty line and what it is called, how the
    choice is entered into the study (None where it is not), what else there is to say, and what the edit is called."""

    guide: Guide
    rank: Callable[[Seen], Ranked]
    example: str
    name: str
    enter: Callable[[Study, Ranked, Seen, int], Study]
    remark: Callable[[Seen, Ranked], str]
    edit: str


class LookBox(TypedBox):
    """What is seen stands in the line as words. In front of a new word a digit answers the question shown and 0 says
    that it cannot be told; Up and Down choose among the kinds, Enter keeps the one chosen."""

    def __init__(self, session: Session, asked: Asked) -> None:
        super().__init__(session, asked.example, asked.name)
        self.asked, self.chosen = asked, 0
        self.ranked = asked.rank(Seen())
        self.seen = Seen()
        self.edit.installEventFilter(self)
        self.edit.setAccessibleDescription(
            "A digit answers the question, 0 says that it cannot be told. Up and Down choose, Enter keeps."
        )
        self._tell("")

    def _typed(self) -> None:
        self.chosen = 0
        text = self.edit.text().strip()
        try:
            self.seen = self.asked.guide.read(text) if text else Seen()
            self.ranked, trouble = self.asked.rank(self.seen), ""
        except OddBoltError as error:
            trouble = str(error)
        self._tell(trouble)

    def _tell(self, trouble: str) -> None:
        self.told.setText(trouble or self._words())
        self.told.setVisible(True)

    def _words(self) -> str:
        guide, ranked = self.asked.guide, self.ranked
        lines = []
        if self.seen.unread:
            lines.append(f"Not understood: {', '.join(self.seen.unread[:4])}.")
        lines += filter(None, (ranked.trouble, self.asked.remark(self.seen, ranked)))
        if self.seen.answers or self.seen.figures:
            for n, one in enumerate(ranked.candidates[:SHOWN], 1):
                lines.append(f"{'▸' if n == max(self.chosen, 1) else ' '} {chance(one.probability)}  {one.id}")
            against = ranked.candidates[max(self.chosen, 1) - 1].speaks_against if ranked.candidates else ()
            lines += [f"but {said}" for said in against[:1]]
        if ranked.next and not ranked.trouble:
            look = guide.looks[ranked.next]
            lines.append(look.question)
            answers = [f"{n} {look.words(a)}" for n, a in enumerate(guide.asked(ranked), 1)]
            lines.append(
                "\n".join([*answers, "0 cannot tell"]) if answers else f"{look.named[0]} 12 {look.unit}".strip()
            )
        return "\n".join(lines)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if watched is self.edit and event.type() == QEvent.Type.KeyPress and isinstance(event, QKeyEvent):
            if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
                by = 1 if event.key() == Qt.Key.Key_Down else -1
                self.choose(max(self.chosen, 1) + by)
                return True
            text = self.edit.text()
            if (
                event.text().isdecimal()
                and (not text.strip() or text.rstrip().endswith(","))
                and self.answer(event.text())
            ):
                return True
        return super().eventFilter(watched, event)

    def choose(self, n: int) -> None:
        """Choose the nth of the kinds shown."""
        count = min(SHOWN, len(self.ranked.candidates))
        if count:
            self.chosen = min(max(n, 1), count)
            self._tell("")
            announce(self, self.ranked.candidates[self.chosen - 1].id)

    def answer(self, digit: str) -> bool:
        """Answer the question shown by its digit; False where the digit answers nothing."""
        look, answers = self.ranked.next, self.asked.guide.asked(self.ranked) if self.ranked.next else ()
        if not answers or int(digit) > len(answers):
            return False
        words = f"{look} ?" if digit == "0" else f"{look} {answers[int(digit) - 1]}"
        before = self.edit.text().strip()
        self.edit.setText(f"{before} {words}, ".lstrip())
        announce(self, self.told.text())
        return True

    def enter(self) -> None:
        """Keep the kind chosen, or the likeliest where it is sure enough; the words stay where it is not."""
        if not self.edit.text().strip():
            return
        self._typed_again()
        try:
            study = self.asked.enter(self.session.study, self.ranked, self.seen, self.chosen)
        except OddBoltError as error:
            self._tell(str(error))
            return
        self.edit.clear()
        self.session.edit(study, self.asked.edit)

    def _typed_again(self) -> None:
        chosen = self.chosen
        self._typed()
        self.chosen = chosen
