"""What a busy hand asks for: log, pause, photo, repeat, undo; runs, waits, and things added by hand."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QThreadPool
from PySide6.QtGui import QUndoGroup
from PySide6.QtWidgets import QWidget

from oddbolt.core.bench.waits import usual_waits
from oddbolt.core.components.said_looks import SaidLooks
from oddbolt.core.narration.draft import Aside
from oddbolt.core.study import JOINT_KINDS, Joint, Part, Run, Step, new_id, put
from oddbolt.core.study.formatting import duration
from oddbolt.desk.pages.page import Desk
from oddbolt.desk.pages.take_apart import TakeApart
from oddbolt.desk.photos.importer import practice_shot
from oddbolt.desk.shell.filing import Filing
from oddbolt.desk.shell.practice_pedal import PracticePedal
from oddbolt.desk.shell.speech import Speech
from oddbolt.desk.state.actions import Action
from oddbolt.desk.state.settings import data_folder
from oddbolt.desk.state.timers import HEATER

RUNS = (("discovery", "Start &discovery run"), ("timed", "Start &timed run"), ("put back", "Start p&ut-back run"))
#: words of a step and the wait they call for
FITTING = {"roll": "roller", "tab": "stretch tab", "cure": "cure", "set": "cure"}


class BenchActions:
    """The menu Work and the waits of Bench; also what keys, pedals, the large page and sentences ask for by name."""

    def __init__(self, window: QWidget, desk: Desk, page: TakeApart, filing: Filing, undoing: QUndoGroup) -> None:
        self.window, self.desk, self.session, self.settings = window, desk, desk.session, desk.settings
        self.page, self.filing, self.undoing = page, filing, undoing
        self.speech = Speech(window)
        self.pedal: PracticePedal | None = None
        page.say.asked.connect(self.told_to_bench)
        page.say.measured.connect(self.measured)
        page.say.looked.connect(self.looked)
        page.say.group = self.screws_spoken_of
        page.logged.connect(self.speak)

    def actions(self) -> tuple[Action, ...]:
        """The actions of Work, and the waits of Bench."""
        starts = tuple(
            Action(f"run.{kind}", text, "Work", partial(self.begin_run, kind), group=1) for kind, text in RUNS
        )
        waits = tuple(
            Action(
                f"wait.{usual.kind}",
                f"{usual.label.capitalize()}, {duration(usual.most_s)}",
                "Bench/Start &wait",
                partial(self.begin_wait, usual.kind),
            )
            for usual in usual_waits().values()
            if usual.kind != HEATER
        )
        return (
            Action("log", "&Log sentence", "Work", self.page.say.log, large="Log"),
            Action("pause", "&Pause / Resume", "Work", self.pause, "F8", label=self.pause_word, large="Pause"),
            Action("repeat", "Repeat l&ast step", "Work", self.repeat, "Ctrl+Y", large="Repeat"),
            Action("break", "Mark as &break", "Work", self.session.was_break, "Ctrl+B"),
            *starts,
            Action("speak", "Read steps al&oud", "Work", self.speak_or_not, group=2),
            Action("practice pedal", "Practice p&edal", "Work", self.show_pedal, group=2),
            *waits,
            Action("wait", "Start or &end wait", "Bench", self.wait, "Ctrl+W"),
            Action("photo", "T&ake photo", "Photo", self.take_photo, "F9", large="Photo"),
            Action("practice camera", "Practice &camera shot", "Photo", self.practice_shot, "Ctrl+Shift+G"),
            Action("add part", "Add &part", "Edit", self.add_part, "Ctrl+Shift+Ins", group=1),
            Action("add joint", "Add &joint", "Edit", self.add_joint, "Ctrl+J", group=1),
            Action("add step", "Add &step", "Edit", self.add_step, "Ctrl+K", group=1),
        )

    # -- busy hands ---------------------------------------------------------------------------------------

    def pause(self) -> None:
        """Pause the clocks, or resume."""
        self.session.pause()
        self.speak("Paused." if self.session.clock.paused else "Resumed.")

    def pause_word(self) -> str:
        """What pausing would do now."""
        return "&Resume" if self.session.clock.paused else "&Pause"

    def repeat(self) -> None:
        """Log the last step once more."""
        if self.session.repeat():
            self.speak(f"Step {len(self.session.study.steps)}, repeated.")

    def undo(self) -> None:
        """Undo the last edit, and say which."""
        label = self.undoing.undoText()
        self.undoing.undo()
        self.speak(f"Undone: {label}." if label else "Nothing to undo.")

    def told_to_bench(self, aside: Aside) -> None:
        """Do what a sentence asked of the bench."""
        self.page.say.edit.clear()
        match aside.kind:
            case "break":
                self.session.was_break(aside.seconds)
            case "pause" if self.session.clock.running and not self.session.clock.paused:
                self.pause()
            case "go on" if self.session.clock.paused or not self.session.clock.running:
                self.pause()
            case "pause" | "go on":
                pass  # so it is already
            case _:
                self.desk.actions.run(aside.kind)

    def speak(self, sentence: str) -> None:
        """Speak a sentence, if the user wants that."""
        if self.settings.get("speak", False):
            self.speech.speak(sentence)

    def speak_or_not(self) -> None:
        """Read what is logged aloud from now on, or stop."""
        wanted = not self.settings.get("speak", False)
        if wanted and not self.speech.program:
            self.session.tell("No speech program found. Install espeak-ng or speech-dispatcher.")
            return
        self.settings.put("speak", wanted)
        self.session.tell("Steps are read aloud from now on." if wanted else "Steps are no longer read aloud.")

    def show_pedal(self) -> None:
        """Show or hide the practice pedal."""
        self.pedal = self.pedal or PracticePedal(self.window)
        self.pedal.setVisible(not self.pedal.isVisible())

    # -- photos -------------------------------------------------------------------------------------------

    def take_photo(self) -> None:
        """Release the practice camera if it is in use, else add a photo from a file."""
        folder = self.page.photo_panel.watched.folder
        if folder is None:
            self.filing.add_photo()
        elif folder == data_folder() / "practice camera":
            self.practice_shot()
        else:
            self.session.tell(f"Press the camera's own button: every picture that arrives in {folder} is added.")

    def practice_shot(self) -> None:
        """Let the practice camera take a picture; it drops it into its folder, which is watched."""
        folder, panel = data_folder() / "practice camera", self.page.photo_panel
        folder.mkdir(exist_ok=True)
        if panel.watched.folder != folder:
            panel.watch(folder)
        panel.watched.shots += 1
        QThreadPool.globalInstance().start(partial(practice_shot, folder, panel.watched.shots))

    # -- measurements, runs, waits ------------------------------------------------------------------------

    def screws_spoken_of(self) -> Joint | None:
        """The screw group selected, else the one logged last."""
        study, chosen = self.session.study, self.session.selection
        screws = [j for s in study.steps.values() for j in s.releases if study.joints[j].kind == "screw"]
        return study.joints.get(chosen) or (study.joints[screws[-1]] if screws else None)

    def measured(self, said: str) -> None:
        """Enter measurements into the screw group selected, else into the one logged last."""
        from oddbolt.core.fasteners.identify import entered  # takes long to load; wanted only here

        joint = self.screws_spoken_of()
        group = joint.id if joint else ""
        if self.session.attempt("enter measurements", entered, group, said):
            self.page.say.done()
            self.session.select(group)
            self.session.tell(f"Measurements entered for {self.session.study.name(group)}.")

    def looked(self, looks: SaidLooks) -> None:
        """Enter what was seen into the part or connector selected, else into the one logged last."""
        study, chosen = self.session.study, self.session.selection
        if looks.about == "part":
            out = [p for s in study.steps.values() for p in s.takes_out]
            id = chosen if chosen in study.parts else (out[-1] if out else "")
        else:
            plugs = [j for s in study.steps.values() for j in s.releases if study.joints[j].kind == "connector"]
            id = chosen if chosen in study.joints else (plugs[-1] if plugs else "")
        if self.session.attempt("say what it is", looks.entered, id):
            self.page.say.done()
            self.session.select(id)
            record = self.session.study.find(id)
            known = getattr(record, "family", "") or getattr(record, "kind", "")
            first = looks.ranked.candidates[0].id if looks.ranked.candidates else ""
            name = self.session.study.name(id)
            open_ = f"{name}: figures entered; which one it is stays open."
            self.session.tell(f"{name}: {first}." if known == first else open_)

    def begin_run(self, kind: str) -> None:
        """Start a new run; the clocks start anew and laps go to it."""
        study = self.session.study
        id = new_id(study, "R")
        if self.session.edit(put(study, Run(id, kind)), f"start {kind} run"):
            self.session.begin_run(id)
            self.session.tell(f"A {kind} run has started. The clock runs from its first step.")

    def begin_wait(self, kind: str) -> None:
        """Start a timer for the step shown."""
        self.desk.timers.start(kind, step=self.session.present_step)

    def wait(self) -> None:
        """End the wait that runs; else start the one that fits the step shown."""
        waiting = [t for t in self.desk.timers.running if not t.warmup]
        if waiting:
            self.desk.timers.end(waiting[0])
            return
        study, at = self.session.study, self.session.present_step
        said = f"{study.steps[at].tool} {study.steps[at].said}".casefold() if at else ""
        self.begin_wait(next((kind for word, kind in FITTING.items() if word in said), "solvent"))

    # -- things added by hand -----------------------------------------------------------------------------

    def add_part(self) -> None:
        """Add a part and show it in the margin."""
        id = new_id(self.session.study, "P")
        self._added("add part", Part(id, f"Part {id[1:]}"))

    def add_joint(self) -> None:
        """Add a screw group and show it in the margin; its kind can be changed there."""
        self._added("add joint", Joint(new_id(self.session.study, "J"), JOINT_KINDS[0], count=None))

    def add_step(self) -> None:
        """Add an empty step and show it in the margin."""
        self._added("add step", Step(new_id(self.session.study, "S"), "do"))

    def _added(self, label: str, thing: Part | Joint | Step) -> None:
        if self.session.attempt(label, put, thing):
            self.session.select(thing.id)
            self.desk.actions.run("to margin")
