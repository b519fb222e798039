"""Large type: what matters while both hands are busy, readable from where one stands, with five large keys."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFont, QFontMetricsF, QKeyEvent, QResizeEvent
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QPlainTextEdit, QPushButton, QSizePolicy

from oddbolt.core.bench.reading_distance import letter_height_mm
from oddbolt.core.errors import BenchError
from oddbolt.core.narration.correct import shown_pieces
from oddbolt.core.reach.describe import step_text
from oddbolt.core.reference.quantities import quantity
from oddbolt.core.study.formatting import duration
from oddbolt.core.study.tally import tally
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.state.actions import Action
from oddbolt.desk.state.pedals import types_a_letter
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.labels import Label

DISTANCE_M, MM_PER_INCH = 1.5, 25.4


class LargePage(Page):
    """Clocks, the last step, what is being said, the caution of the moment, and a key for each action that has a word
    here. ``asked`` names an action."""

    title = "Large type"
    wide = True
    asked = Signal(str)

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.settings, self.pedals, self.say = desk.settings, desk.pedals, desk.say
        self.clock, self.step_clock, self.loose = Label(), Label(), Label()
        self.last, self.understood, self.caution = Label(), Label(), Label()
        self.edit = LargeEdit()
        self.distance = QLineEdit()
        self.distance.setAccessibleDescription("How far away you stand; the letters grow with it.")
        self.distance.setAccessibleName("read from")
        self.distance.setFixedWidth(72)
        self.distance.setText(f"{self.settings.get('read from', DISTANCE_M):g} m")
        self.distance.editingFinished.connect(self._distance)
        self.head.addWidget(Label("read from"))
        self.head.addWidget(self.distance)
        clocks = QHBoxLayout()
        for label in (self.step_clock, self.clock, self.loose):
            clocks.addWidget(label)
        clocks.insertStretch(1, 1)
        clocks.insertStretch(3, 1)
        for label, name in (
            (self.clock, "quiet"),
            (self.loose, "quiet"),
            (self.understood, "sea"),
            (self.caution, "copper"),
        ):
            label.setObjectName(name)
        self.large = (self.clock, self.step_clock, self.loose, self.last, self.understood, self.edit)
        for label in (self.last, self.understood):
            label.setWordWrap(True)
            label.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Ignored)
        self.box.addLayout(clocks)
        self.box.addWidget(self.last, 3)
        self.box.addWidget(self.caution)
        self.box.addWidget(self.edit)
        self.box.addWidget(self.understood, 3)
        self.keys = QGridLayout()
        self.keys.setSpacing(8)
        self.buttons: dict[str, QPushButton] = {}
        self.bindings: dict[str, QPushButton] = {}
        self.box.addLayout(self.keys)
        self.edit.typed.connect(self.say.edit.setPlainText)
        self.edit.entered.connect(partial(self.asked.emit, "log"))
        self.edit.left.connect(self.left)
        self.say.understood.connect(self._understood)
        self.pedals.learnt.connect(self._learnt)
        self.pedals.refused.connect(self._refused)

    def actions_here(self) -> tuple[Action, ...]:
        return (Action("large", "Large &type", "Work", self.wanted.emit, "F10", 2),)

    def _make_keys(self) -> None:
        """The keys are made from the table of actions, once it is full."""
        for n, (action, words) in enumerate(self.desk.actions.on_large_page().items()):
            button, binding = QPushButton(words), QPushButton()
            button.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            button.clicked.connect(partial(self.asked.emit, action))
            binding.setObjectName("link")
            binding.clicked.connect(partial(self._learn, action))
            self.keys.addWidget(button, 0, n)
            self.keys.addWidget(binding, 1, n)
            self.buttons[action], self.bindings[action] = button, binding

    def arrive(self) -> None:
        self.edit.setFocus()
        self._fit()

    def refresh(self) -> None:
        study = self.session.study
        if not self.buttons:
            self._make_keys()
            self._fit()
        ids = list(study.steps)
        self.last.setText(f"{len(ids)}  {step_text(study, ids[-1])}" if ids else "Say what you do.")
        count = tally(study)
        self.loose.setText(f"{count.screws_out} out")
        self._show_clocks()
        self._understood()
        for action, button in self.bindings.items():
            key = self.pedals.keys.get(action, "")
            words = "press key …" if self.pedals.learning == action else f"pedal: {key or 'none'}"
            button.setText(words)
            button.setToolTip("Click, then press the pedal or key; hold it for a long press.")

    def tick(self, caution: str) -> None:
        if self.isVisible():
            self._show_clocks()
            self.caution.setText(caution)
            self.caution.setVisible(bool(caution))

    def _show_clocks(self) -> None:
        clock = self.session.clock
        self.step_clock.setText(_dial(clock.step_s))
        going = f"run {_dial(clock.run_s)}" if clock.running else "not started"
        self.clock.setText("paused" if clock.paused else going)
        self.buttons["pause"].setText("Resume" if clock.paused else "Pause" if clock.running else "Start")

    def _understood(self) -> None:
        if not self.isVisible():
            return
        text = self.say.edit.toPlainText()
        if text != self.edit.toPlainText():
            self.edit.setPlainText(text)
        reading = self.say.reading
        steps = [
            " · ".join(value if not missing else f"{caption}?" for _, caption, value, missing in shown_pieces(step))
            for step in reading.steps
        ]
        self.understood.setText("\n".join(steps) or (self.say.otherwise() if text.strip() else ""))

    # -- size ---------------------------------------------------------------------------------------------

    def _fit(self) -> None:
        """Letters as large as the distance asks for."""
        screen = self.screen()
        dpi = min(max(screen.physicalDotsPerInch(), 60.0), 400.0) if screen else 96.0
        metres = float(self.settings.get("read from", DISTANCE_M))
        wanted = letter_height_mm(metres) / MM_PER_INCH * dpi
        font = QFont(theme.text(20))
        font.setPixelSize(100)
        size = max(16, round(100 * wanted / QFontMetricsF(font).capHeight()))
        for widget in self.large:
            widget.setStyleSheet(f"font-size: {size}px;")
        self.step_clock.setStyleSheet(f"font-size: {size}px; font-family: 'B612'; font-weight: bold;")
        self.caution.setStyleSheet(f"font-size: {max(16, size * 2 // 3)}px;")
        self.caution.setWordWrap(True)
        for button in self.buttons.values():
            button.setStyleSheet(f"font-size: {max(16, min(size, 30))}px; padding: {size // 3}px 4px;")

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def _distance(self) -> None:
        try:
            metres = quantity(self.distance.text(), "length") / 1000
            letter_height_mm(metres)
        except (ValueError, BenchError) as error:
            self.session.tell(str(error))
            self.distance.setText(f"{self.settings.get('read from', DISTANCE_M):g} m")
            return
        self.settings.put("read from", metres)
        self.distance.setText(f"{metres:g} m")
        self._fit()

    # -- pedals -------------------------------------------------------------------------------------------

    def _learn(self, action: str) -> None:
        if self.pedals.keys.get(action):
            self.pedals.bind(action, "")
        self.pedals.learn(action)
        self.refresh()

    def _learnt(self, action: str, key: str) -> None:
        if types_a_letter(key):
            self.session.tell(f"{key} is now a pedal key and cannot be typed. Click again to release it.")
        self.refresh()

    def _refused(self, key: str) -> None:
        self.session.tell(f"{key} is a modifier key; press another key or pedal.")


class LargeEdit(QPlainTextEdit):
    """What is being said, large, on as many lines as it takes. Escape empties it, or leaves the page."""

    typed = Signal(str)
    entered = Signal()
    left = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.setPlaceholderText("say what you did")
        self.setAccessibleName("Say what you did, large")
        self.setTabChangesFocus(True)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.textChanged.connect(self._changed)

    def fit(self) -> None:
        """As high as its lines, up to three."""
        lines = max(1, min(3, int(self.document().size().height())))
        self.setFixedHeight(lines * self.fontMetrics().lineSpacing() + 14)

    def _changed(self) -> None:
        self.fit()
        if self.hasFocus():
            self.typed.emit(self.toPlainText())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.entered.emit()
        elif event.key() != Qt.Key.Key_Escape:
            super().keyPressEvent(event)
        elif self.toPlainText():
            self.clear()
        else:
            self.left.emit()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.fit()


def _dial(seconds: float) -> str:
    return duration(seconds) if seconds >= 3600 else f"{int(seconds) // 60}:{int(seconds) % 60:02d}"
