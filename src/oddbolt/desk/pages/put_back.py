"""Put back: the device filling up; what goes in now, large, its screws at true scale; what comes next; the ledger."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, QSize, Qt, Signal
from PySide6.QtGui import QImage, QKeyEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from oddbolt.core.errors import BenchError, OddBoltError, ReachError
from oddbolt.core.fasteners.tray import plan as tray_plan
from oddbolt.core.fasteners.tray import tray
from oddbolt.core.reassembly import BackStep, Ledger, Plan, ledger, plan_back, step_minds
from oddbolt.core.reassembly.closing import left_out, logged, reported_missing
from oddbolt.core.reference.joint_kinds import ids_where
from oddbolt.core.study import Joint, Study
from oddbolt.core.study.formatting import duration, plural
from oddbolt.core.study.photos import callouts_of
from oddbolt.desk.pages.back_panels.closing import ClosingPanel
from oddbolt.desk.pages.back_panels.gaps import GapsPanel
from oddbolt.desk.pages.back_panels.left_over import LeftOverPanel
from oddbolt.desk.pages.bench_panels.photo_panel import mark_of
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.painters import screws
from oddbolt.desk.painters.filling import Filling, Layer
from oddbolt.desk.painters.photo import PhotoView
from oddbolt.desk.state.actions import Action
from oddbolt.desk.state.background import Background
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.inputs import LineField
from oddbolt.desk.widgets.labels import Label
from oddbolt.desk.widgets.spoken import Painted
from oddbolt.desk.widgets.tables import Cell, Rows, Table

KEYS = (
    "Enter log   3 Enter three of them   S leave out, say why   M one is missing   L large   "
    "arrows another step   Ctrl+Z undo   Ctrl+Space say it"
)
TABS = ("plan", "left over", "gaps", "closing")
#: screws drawn in one row, px between them, and the height of the row
MOST_SCREWS, SCREW_WIDE, ROW_HIGH = 14, 34, 96
USUAL_TRAY = "7x7"
#: letters of the step in hand, and how much larger they are in large type
LETTERS, LARGER = 13, 2.0


class ScrewRow(Painted):
    """The screws of a step side by side, at the scale of the screen."""

    def __init__(self) -> None:
        super().__init__()
        self.groups: tuple[tuple[Joint, int | None, str], ...] = ()
        self.setAccessibleName("Screws of this step")
        self.setFixedHeight(ROW_HIGH)

    def sizeHint(self) -> QSize:
        return QSize(300, ROW_HIGH)

    def show_groups(self, groups: tuple[tuple[Joint, int | None, str], ...]) -> None:
        """Draw these groups: each with how many are still out and the compartment that they lie in."""
        self.groups = groups
        self.setVisible(bool(groups))
        words = {joint.id: _words(joint, out, where) for joint, out, where in groups}
        self.say_items(list(words), "", lambda id: (words[id], ""))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        scale = self.logicalDpiX() / 25.4
        x, drawn = 24.0, 0
        for joint, out, _where in self.groups:
            line = theme.colour("ink")
            for _ in range(out if out is not None else joint.count or 1):
                if drawn < MOST_SCREWS:
                    screws.side(painter, x, 14, joint, scale, line)
                    x += max(SCREW_WIDE, (joint.head_mm or 0) * scale + 8)
                drawn += 1
        painter.setPen(theme.colour("muted"))
        painter.setFont(theme.figures(9))
        told = ", ".join(_words(*g) for g in self.groups)
        more = f"   {drawn - MOST_SCREWS} more" if drawn > MOST_SCREWS else ""
        painter.drawText(self.rect().adjusted(8, 0, -4, -4), Qt.AlignmentFlag.AlignBottom, f"{told}{more}")


class PutBack(Page):
    """The stage where the device fills up again. ``logged`` tells what was entered, as a sentence."""

    title = "Put back"
    wide = True
    logged = Signal(str)

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.plan: Plan | None = None
        self._beside, self._of, self._why_not = Background(self), tuple[str, ...](), ""
        self._at, self._count, self._large = "", "", False
        self._trays: tuple[Study | None, dict[str, int]] = (None, {})
        tabs = QHBoxLayout()
        self.tabs = self.words(tabs, enumerate(TABS))
        tabs.addStretch(1)
        self.closing = Label()
        self.closing.setObjectName("head")
        tabs.addWidget(self.closing)
        self.tabs.idClicked.connect(self._tab)
        self.stack = QStackedWidget()
        self.over, self.gaps, self.end = (
            LeftOverPanel(self.session),
            GapsPanel(self.session),
            ClosingPanel(self.session),
        )
        for panel in (self._plan_panel(), self.over, self.gaps, self.end):
            self.stack.addWidget(panel)
        self.keys = Label(KEYS)
        self.keys.setObjectName("caption")
        self.box.addLayout(tabs)
        self.box.addWidget(self.stack, 1)
        self.box.addWidget(self.keys)
        desk.importer.ready.connect(self._photo_again)

    def _plan_panel(self) -> QWidget:
        self.now, self.does, self.waits, self.then = Label(), Label(), Label(), Label()
        self.now.setObjectName("mark")
        self.now.setWordWrap(True)
        self.does.setFont(theme.text(LETTERS))
        self.does.setWordWrap(True)
        self.waits.setObjectName("copper")
        self.waits.setWordWrap(True)
        self.then.setObjectName("quiet")
        self.then.setWordWrap(True)
        self.row = ScrewRow()
        self.fill = Filling()
        self.fill.picked.connect(self._look_at)
        self.photo = PhotoView()
        self.photo.setMinimumSize(240, 160)
        self.done = QPushButton("Log as done  Enter")
        self.done.clicked.connect(self.log)
        self.why = LineField()
        self.why.setAccessibleName("why it stays out")
        self.why.setPlaceholderText("why does it stay out?")
        self.why.entered.connect(self._leave_out)
        self.why.hide()
        self.open_lines = Table(Rows(("still open", "out", "lost"), figures=(1, 2)), "Still open")
        self.open_lines.widths(190, 44, 44)
        self.open_lines.picked.connect(self.session.select)
        self.steps = Table(Rows(("no.", "what is done", "tool", "new"), figures=(0,)), "The plan")
        self.steps.widths(44, 640, 90, 200)
        self.steps.picked.connect(self._look_at)
        self.steps.setSortingEnabled(False)
        self.steps.setMinimumHeight(170)
        for widget in (self.steps, self.fill, self.open_lines):
            widget.installEventFilter(self)
        card = QVBoxLayout()
        card.setSpacing(6)
        for piece in (self.now, self.does, self.row, self.waits):
            card.addWidget(piece)
        line = QHBoxLayout()
        line.addWidget(self.done)
        line.addWidget(self.why, 1)
        line.addStretch(1)
        card.addLayout(line)
        card.addWidget(self.then)
        card.addStretch(1)
        self.side = QWidget()
        side = QVBoxLayout(self.side)
        side.setContentsMargins(0, 0, 0, 0)
        side.addWidget(self.photo, 3)
        side.addWidget(self.open_lines, 2)
        above = QHBoxLayout()
        above.setSpacing(14)
        above.addWidget(self.fill)
        above.addLayout(card, 56)
        above.addWidget(self.side, 30)
        panel = QWidget()
        box = QVBoxLayout(panel)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(above, 66)
        box.addWidget(self.steps, 34)
        return panel

    def actions_here(self) -> tuple[Action, ...]:
        return (
            Action("back done", "Log &put-back step", "Work", self.in_sight(self.log), "Ctrl+Shift+I"),
            Action("left over", "Screw left &over", "Work", self.in_sight(lambda: self.show_tab(1)), "Ctrl+Alt+L"),
            Action("close case", "&Close the case", "Work", self.in_sight(lambda: self.show_tab(3)), "Ctrl+Shift+C"),
        )

    def arrive(self) -> None:
        panel = self.stack.currentWidget()
        (self.steps if self.tabs.checkedId() == 0 else panel).setFocus()

    def show_tab(self, n: int) -> None:
        """Show the plan, the screw left over, the gaps or the closing."""
        button = self.tabs.button(n)
        if button is not None:
            button.setChecked(True)
        self._tab(n)

    def _tab(self, n: int) -> None:
        self.stack.setCurrentIndex(n)
        self.refresh()
        self.arrive()

    def state(self) -> str:
        found = ledger(self.session.study)
        lines = (*found.screws, *found.plugs, *found.others)
        back = sum(not line.open for line in lines)
        return "nothing out" if not found.lines else "closed" if found.closed else f"{back} of {len(lines)}"

    # -- showing ------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        study = self.session.study
        apart = tuple(id for id, step in study.steps.items() if step.phase == "apart")
        if apart != self._of or (self.plan is None and not self._why_not):
            self._of, self.plan, self._why_not = apart, None, ""
            self._beside.clear()
            self._beside.start(lambda: _planned(study), self._came)
        self._show()
        if self.tabs.checkedId() > 0:
            (self.over, self.gaps, self.end)[self.tabs.checkedId() - 1].refresh()

    def _came(self, plan: Plan | str) -> None:
        """Take the plan, or why there is none."""
        self.plan, self._why_not = (None, plan) if isinstance(plan, str) else (plan, "")
        self._show()

    def finish(self) -> None:
        """Wait for the plan."""
        self._beside.finish()

    def _show(self) -> None:
        study = self.session.study
        found = ledger(study)
        self.closing.setText(f"{found.in_words()}." if not found.closed else _closed(found))
        lines = [n for n in found.lines if n.open]
        cells: list[list[Cell]] = [
            [(n.name, n.name), _figure(n.out, "?"), _figure(n.missing or None, "")] for n in lines
        ]
        marked = {n.id for n in lines if n.missing or n.extra}
        self.open_lines.refresh([n.id for n in lines], cells, marked, self.session.selection)
        self.keys.setText(KEYS if self.tabs.checkedId() == 0 else "")
        self._show_plan(study, found)

    def _show_plan(self, study: Study, found: Ledger) -> None:
        if self.plan is None:
            self.now.setText("")
            self.does.setText(self._why_not or "The plan is being worked out …")
            self.row.show_groups(())
            for label in (self.waits, self.then):
                label.setText("")
            self.done.setEnabled(False)
            self.steps.refresh([], [], set(), "")
            self.fill.show_layers((), "")
            self._show_photo(study, None)
            return
        left = self._left(found)
        keys = {s.key for s in left}
        rows, marked = [], set()
        for n, step in enumerate(self.plan.steps, 1):
            todo = step.key in keys
            new = ", ".join(study.name(r) for r in step.renew)
            told = "; ".join(step.does)
            rows.append([(str(n) if todo else "✓", float(n)), (told, told), (step.tool or "hand", ""), (new, new)])
            marked |= {step.key} if todo and (step.power or step.renew) else set()
        here = next((s for s in left if s.key == self._at), left[0] if left else None)
        self._at = here.key if here else ""
        self.steps.refresh([s.key for s in self.plan.steps], rows, marked, self._at)
        self.fill.show_layers(
            [Layer(s.key, _title(study, s), s.seconds + s.idle_s, s.key not in keys, s.power) for s in self.plan.steps],
            self._at,
        )
        self.beside.setText(
            f"{plural(len(left), 'step')} to go of {len(self.plan.steps)}, about "
            f"{duration(sum(s.seconds + s.idle_s for s in left))}; {self.plan.sureness}"
        )
        self._show_here(study, found, here, left)

    def _show_here(self, study: Study, found: Ledger, here: BackStep | None, left: list[BackStep]) -> None:
        self.done.setEnabled(here is not None)
        self._show_photo(study, here)
        if here is None or self.plan is None:
            self.now.setText("Everything planned is back.")
            self.does.setText("Look that no screw is left over, then go through the checks at the end (closing).")
            self.row.show_groups(())
            self.waits.setText("")
            self.then.setText("")
            return
        number = self.plan.steps.index(here) + 1
        self.now.setText(f"{number} · {_title(study, here)}")
        self.does.setText("\n".join(f"· {line}" for line in here.does))
        outs = {line.id: line.out for line in found.screws}
        where = self._compartments(study)
        self.row.show_groups(
            tuple(
                (study.joints[j], outs.get(j), where.get(j, ""))
                for j in here.joints
                if study.joints[j].kind in ids_where("threaded")
            )
        )
        told = [f"then {duration(here.wait_s)} to wait, go on with the next"] if here.wait_s else []
        told += [f"wait {duration(here.idle_s)} before it"] if here.idle_s > 1 else []
        told += ["new: " + ", ".join(study.name(r) for r in here.renew)] if here.renew else []
        told += ["this makes the device live"] if here.power else []
        told += step_minds(study, here)[:2]
        early = left[: left.index(here)]
        if early:
            blocked = [s for s in early if set(s.parts) | set(s.joints)]
            names = ", ".join(_title(study, s) for s in blocked[:2])
            told.append(f"{plural(len(early), 'step')} before it not done: {names} may be blocked by it")
        told += list(self.plan.left) if here is self.plan.steps[0] else []
        self.waits.setText("; ".join(told))
        after = left[left.index(here) + 1 : left.index(here) + 4]
        self.then.setText("next: " + " › ".join(_title(study, s) for s in after) if after else "the last one")
        some = f"Log {self._count} of them  Enter" if self._count else "Log as done  Enter"
        self.done.setText(some)

    def _show_photo(self, study: Study, here: BackStep | None) -> None:
        """The photo of the same place on the way in, with its callouts: of that step, else the last before it."""
        photo = None
        if here is not None:
            number = {id: n for n, id in enumerate(study.steps)}
            before = [p for p in study.photos.values() if p.step and number[p.step] <= number[here.step]]
            photo = max(before, key=lambda p: (number[p.step], p.role != "after"), default=None)
        self.photo.setVisible(photo is not None and not self._large)
        if photo is None:
            return
        image = self.desk.importer.image(photo)
        marks = [mark_of(study, photo, c) for c in callouts_of(study, photo.id)]
        caption = f"as it was at {study.name(photo.step)}"
        self.photo.show_photo(image or QImage(), caption, marks, self.session.selection, "Loading picture …")

    def _photo_again(self) -> None:
        if self.isVisible():
            self._show()

    def _compartments(self, study: Study) -> dict[str, str]:
        """Which compartment of the tray each group lies in, as the tray plan has it."""
        if self._trays[0] is not study:
            try:
                laid = tray_plan(study, tray(self.desk.settings.get("tray", USUAL_TRAY)), budget_s=0.05)
                of = {joint: n for n, joint in enumerate(laid.of, 1) if joint}
            except BenchError:
                of = {}
            self._trays = (study, of)
        return {joint: f"compartment {n}" for joint, n in self._trays[1].items()}

    def _left(self, found: Ledger) -> list[BackStep]:
        """The steps of the plan of which something is still out."""
        assert self.plan is not None
        out = {n.id for n in found.lines if n.open}
        steps = self.session.study.steps.values()
        done = {s.does for s in steps if s.phase == "back" and s.does}
        return [s for s in self.plan.steps if out & {*s.parts, *s.joints} or (_bare(s) and s.key not in done)]

    # -- the work -----------------------------------------------------------------------------------------

    def _look_at(self, key: str) -> None:
        if key != self._at:
            self._at, self._count = key, ""
            self.why.hide()
            self._show_plan(self.session.study, ledger(self.session.study))

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Keys of the page before the table looks for a row that begins so."""
        if event.type() == QEvent.Type.KeyPress and isinstance(event, QKeyEvent):
            return self._key(event)
        return super().eventFilter(watched, event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self.tabs.checkedId() != 0 or not self._key(event):
            super().keyPressEvent(event)

    def _key(self, event: QKeyEvent) -> bool:
        """Do what a key asks for; whether it asks for anything here."""
        key, text = event.key(), event.text()
        if event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier:
            return False
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.log()
        elif text.isdigit():
            self._count = (self._count + text).lstrip("0")[-3:]
            self._show()
        elif key == Qt.Key.Key_Escape and self._count:
            self._count = ""
            self._show()
        elif key == Qt.Key.Key_S:
            self.why.show()
            self.why.setFocus()
        elif key == Qt.Key.Key_M:
            self.report_missing()
        elif key == Qt.Key.Key_L:
            self.large(not self._large)
        else:
            return False
        return True

    def _here(self) -> BackStep | None:
        if self.plan is None:
            return None
        return next((s for s in self._left(ledger(self.session.study)) if s.key == self._at), None)

    def log(self) -> None:
        """Enter the step in sight as put back, or so many of its screws, and show the next one."""
        here = self._here()
        if here is None:
            if self.plan is not None:
                self.session.tell("Everything planned is back.")
            return
        count = int(self._count) if self._count else None
        self._count = ""
        try:
            after = logged(self.session.study, here, count)
        except ReachError as error:
            self.session.tell(str(error))
            self._show()
            return
        made = list(after.steps)[-1]
        self._at = self._following(here)
        if self.session.edit(self.session.with_laps(after, (made,)), "put back"):
            self.logged.emit(after.steps[made].said)

    def _following(self, here: BackStep) -> str:
        """The step after this one that is not done, "" for the first of all that are not."""
        assert self.plan is not None
        keys = [s.key for s in self.plan.steps]
        left = [s.key for s in self._left(ledger(self.session.study)) if s.key != here.key]
        return next((k for k in left if keys.index(k) > keys.index(here.key)), "")

    def _leave_out(self, why: str) -> None:
        here = self._here()
        self.why.hide()
        self.why.set_shown("")
        if here is not None and why.strip():
            self.session.attempt("leave out", left_out, here, why)
        self.steps.setFocus()

    def report_missing(self) -> None:
        """One screw more of the group in hand is missing."""
        here = self._here()
        lines = {line.id: line for line in ledger(self.session.study).screws}
        group = next((j for j in here.joints if j in lines), "") if here else ""
        if not group:
            self.session.tell("No screws belong to this step.")
            return
        count = lines[group].missing + 1
        if self.session.attempt("a screw is missing", reported_missing, group, count):
            self.session.select(group)
            self.session.tell(f"{plural(count, 'screw')} of {self.session.study.name(group)} missing; see left over.")

    def large(self, on: bool) -> None:
        """Large type: the step in hand alone, readable from where one stands."""
        self._large = on
        size = LETTERS * (LARGER if on else 1)
        self.does.setFont(theme.text(size))
        self.now.setStyleSheet(f"font-size: {round(size * 1.9)}px;" if on else "")
        for widget in (self.side, self.steps):
            widget.setVisible(not on)
        (self.fill if on else self.steps).setFocus()
        self._show()


def _planned(study: Study) -> Plan | str:
    """The plan as if nothing had been put back yet, so that it stays the same while it is followed; or why there is
    none."""
    try:
        return plan_back(study, from_start=True)
    except OddBoltError as error:
        return str(error)


def _bare(step: BackStep) -> bool:
    """Whether the ledger alone cannot tell that a step is done: work before a part goes in, a part folded back."""
    return not (step.parts or step.joints)


def _title(study: Study, step: BackStep) -> str:
    """A step in a few words."""
    recorded = study.steps[step.step]
    if step.key != step.step:
        what = (*recorded.takes_out, *recorded.releases)
        return f"clean the seat of {study.name(what[0])}" if what else step.does[0]
    names = ", ".join(study.name(p) for p in (*step.parts, *step.folds)) or ", ".join(
        study.name(j) for j in step.joints
    )
    return names or step.does[0]


def _closed(found: Ledger) -> str:
    return "Everything is back." if found.parts or found.screws else "Nothing is out."


def _figure(value: int | None, unknown: str) -> Cell:
    return (unknown, -1.0) if value is None else (str(value), float(value))


def _words(joint: Joint, out: int | None, where: str) -> str:
    size = " ".join(filter(None, (joint.size or joint.drive, f"× {joint.length_mm:g}" if joint.length_mm else "")))
    count = out if out is not None else joint.count
    return f"{count if count is not None else '?'} {size or 'screws'}" + (f", {where}" if where else "")
