"""Large type: what matters while both hands are busy, readable from where one stands, with five large keys."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFont, QFontMetricsF, QKeyEvent, QResizeEvent
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QLineEdit, QPushButton, QSizePolicy

from oddbolt.core.bench.reading_distance import letter_height_mm
from oddbolt.core.errors import BenchError
from oddbolt.core.narration.correct import shown_pieces
from oddbolt.core.reference.units import quantity
from oddbolt.core.study.formatting import duration
from oddbolt.core.study.tally import tally
from oddbolt.desk.pages.bench_panels.say_line import SayLine
from oddbolt.desk.pages.page import Page
from oddbolt.desk.state.figures import Figures
from oddbolt.desk.state.pedals import ACTIONS, Hands, types_a_letter
from oddbolt.desk.state.session import Session
from oddbolt.desk.state.settings import Settings
from oddbolt.desk.widgets import theme
from oddbolt.files.report import step_text

DISTANCE_M, MM_PER_INCH = 1.5, 25.4


class LargePage(Page):
    """Clocks, the last step, what is being said, and keys. ``asked`` names an action, ``left`` says the way back."""

    title, number = "Large", 0
    asked = Signal(str)
    left = Signal()

    def __init__(self, session: Session, figures: Figures, settings: Settings, hands: Hands, say: SayLine) -> None:
        super().__init__(session, figures)
        self.settings, self.hands, self.say = settings, hands, say
        self.clock, self.step_clock, self.loose = QLabel(), QLabel(), QLabel()
        self.last, self.understood, self.mind = QLabel(), QLabel(), QLabel()
        self.edit = LargeEdit()
        self.distance = QLineEdit()
        self.distance.setAccessibleName("read from")
        self.distance.setFixedWidth(72)
        self.distance.setText(f"{self.settings.get('read from', DISTANCE_M):g} m")
        self.distance.editingFinished.connect(self._distance)
        self.head.addWidget(QLabel("read from"))
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
            (self.mind, "copper"),
        ):
            label.setObjectName(name)
        self.large = (self.clock, self.step_clock, self.loose, self.last, self.understood, self.edit)
        for label in (self.last, self.understood):
            label.setWordWrap(True)
            label.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Ignored)
        self.box.addLayout(clocks)
        self.box.addWidget(self.last, 3)
        self.box.addWidget(self.mind)
        self.box.addWidget(self.edit)
        self.box.addWidget(self.understood, 3)
        keys = QGridLayout()
        keys.setSpacing(8)
        self.buttons: dict[str, QPushButton] = {}
        self.bindings: dict[str, QPushButton] = {}
        for n, (action, words) in enumerate(ACTIONS.items()):
            button, binding = QPushButton(words), QPushButton()
            button.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            button.clicked.connect(partial(self.asked.emit, action))
            binding.setObjectName("link")
            binding.clicked.connect(partial(self._learn, action))
            keys.addWidget(button, 0, n)
            keys.addWidget(binding, 1, n)
            self.buttons[action], self.bindings[action] = button, binding
        self.box.addLayout(keys)
        self.edit.textEdited.connect(say.edit.setPlainText)
        self.edit.returnPressed.connect(partial(self.asked.emit, "log"))
        self.edit.left.connect(self.left)
        say.understood.connect(self._understood)
        hands.learnt.connect(self._learnt)

    def arrive(self) -> None:
        self.edit.setFocus()
        self._fit()

    def refresh(self) -> None:
        study = self.session.study
        ids = list(study.steps)
        self.last.setText(f"{len(ids)}  {step_text(study, ids[-1])}" if ids else "Say what you do.")
        count = tally(study)
        self.loose.setText(f"{count.screws_out} out")
        self.tick("")
        self._understood()
        for action, button in self.bindings.items():
            key = self.hands.keys.get(action, "")
            words = "press it now …" if self.hands.learning == action else f"pedal: {key or 'none'}"
            button.setText(words)
            button.setToolTip("Click, then press the pedal or key that shall do this; hold it for a long press.")

    def tick(self, mind: str) -> None:
        """Show the clocks as they stand, and what is to be minded."""
        clock = self.session.clock
        self.step_clock.setText(_dial(clock.step_s))
        self.clock.setText("paused" if clock.paused else f"run {_dial(clock.run_s)}")
        self.buttons["pause"].setText("Go on" if clock.paused else "Pause")
        self.mind.setText(mind)
        self.mind.setVisible(bool(mind))

    def _understood(self) -> None:
        if not self.isVisible():
            return
        text = self.say.edit.toPlainText()
        if text != self.edit.text():
            self.edit.setText(text)
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
        self.step_clock.setStyleSheet(f"font-size: {size}px; font-family: 'B612 Mono'; font-weight: bold;")
        self.mind.setStyleSheet(f"font-size: {max(16, size * 2 // 3)}px;")
        self.mind.setWordWrap(True)
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
        if self.hands.keys.get(action):
            self.hands.bind(action, "")
        self.hands.learn(action)
        self.refresh()

    def _learnt(self, action: str, key: str) -> None:
        if types_a_letter(key):
            self.session.tell(f"{key} does this from now on and can no longer be typed; click again to free it.")
        self.refresh()


class LargeEdit(QLineEdit):
    """What is being said, large. Escape leaves the page, or empties the line first."""

    left = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.setPlaceholderText("say what you did")
        self.setAccessibleName("Say what you did, large")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() != Qt.Key.Key_Escape:
            super().keyPressEvent(event)
        elif self.text():
            self.clear()
            self.textEdited.emit("")
        else:
            self.left.emit()


def _dial(seconds: float) -> str:
    return duration(seconds) if seconds >= 3600 else f"{int(seconds) // 60}:{int(seconds) % 60:02d}"
