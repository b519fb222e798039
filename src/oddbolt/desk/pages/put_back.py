"""Put back: what goes in now, large, with its screws at true scale; what comes next; and the ledger that closes."""

from __future__ import annotations

from attrs import evolve
from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout

from oddbolt.core.errors import ReachError
from oddbolt.core.reassembly import BackStep, Ledger, Plan, ledger, plan_back
from oddbolt.core.reference.joint_kinds import ids_where
from oddbolt.core.study import Joint, Step, Study, new_id, put
from oddbolt.core.study.formatting import duration, plural
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.painters import screws
from oddbolt.desk.state.actions import Action
from oddbolt.desk.state.background import Background
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.labels import Label
from oddbolt.desk.widgets.spoken import Painted
from oddbolt.desk.widgets.tables import Cell, Rows, Table

KEYS = "Enter  log this step     arrows  look at another     Ctrl+Z  undo     Ctrl+Space  say it in words"
#: screws drawn in one row, px between them, and the height of the row
MOST_SCREWS, SCREW_WIDE, ROW_HIGH = 14, 34, 96


class ScrewRow(Painted):
    """The screws of a step side by side, at the scale of the screen."""

    def __init__(self) -> None:
        super().__init__()
        self.groups: tuple[Joint, ...] = ()
        self.setAccessibleName("Screws of this step")
        self.setFixedHeight(ROW_HIGH)

    def sizeHint(self) -> QSize:
        return QSize(300, ROW_HIGH)

    def show_groups(self, groups: tuple[Joint, ...]) -> None:
        """Draw these groups."""
        self.groups = groups
        self.setVisible(bool(groups))
        self.say_items([g.id for g in groups], "", lambda id: (next(_words(g) for g in groups if g.id == id), ""))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        scale = self.logicalDpiX() / 25.4
        x, drawn = 24.0, 0
        for joint in self.groups:
            line = theme.colour("ink")
            for _ in range(joint.count or 1):
                if drawn < MOST_SCREWS:
                    screws.side(painter, x, 14, joint, scale, line)
                    x += max(SCREW_WIDE, (joint.head_mm or 0) * scale + 8)
                drawn += 1
        painter.setPen(theme.colour("muted"))
        painter.setFont(theme.figures(9))
        told = ", ".join(_words(g) for g in self.groups)
        more = f"   {drawn - MOST_SCREWS} more" if drawn > MOST_SCREWS else ""
        painter.drawText(self.rect().adjusted(8, 0, -4, -4), Qt.AlignmentFlag.AlignBottom, f"{told}{more}")


class PutBack(Page):
    """The stage where the device fills up again. ``logged`` tells what was entered, as a sentence."""

    title = "Put back"
    logged = Signal(str)

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.plan: Plan | None = None
        self._beside, self._of, self._why_not = Background(self), tuple[str, ...](), ""
        self._at = ""
        self.now, self.does, self.waits = Label(), Label(), Label()
        self.now.setObjectName("mark")
        self.now.setWordWrap(True)
        self.does.setFont(theme.text(13))
        self.does.setWordWrap(True)
        self.waits.setObjectName("copper")
        self.waits.setWordWrap(True)
        self.row = ScrewRow()
        self.done = QPushButton("Log as done  Enter")
        self.done.clicked.connect(self.log)
        self.closing = Label()
        self.closing.setObjectName("head")
        self.closing.setWordWrap(True)
        self.open_lines = Table(Rows(("still open", "out", "tray"), figures=(1, 2)), "Still open")
        self.open_lines.widths(190, 44, 44)
        self.open_lines.picked.connect(self.session.select)
        self.steps = Table(Rows(("no.", "what is done", "tool", "new"), figures=(0,)), "The plan")
        self.steps.widths(44, 430, 80, 120)
        self.steps.picked.connect(self._look_at)
        self.steps.setSortingEnabled(False)
        card = QVBoxLayout()
        card.setSpacing(6)
        for widget in (self.now, self.does, self.row, self.waits):
            card.addWidget(widget)
        card.addWidget(self.done, 0, Qt.AlignmentFlag.AlignLeft)
        card.addStretch(1)
        side = QVBoxLayout()
        side.addWidget(self.closing)
        side.addWidget(self.open_lines, 1)
        above = QHBoxLayout()
        above.setSpacing(18)
        above.addLayout(card, 62)
        above.addLayout(side, 38)
        keys = Label(KEYS)
        keys.setObjectName("caption")
        self.box.addLayout(above, 55)
        self.box.addWidget(self.steps, 45)
        self.box.addWidget(keys)

    def actions_here(self) -> tuple[Action, ...]:
        return (Action("back done", "Log &put-back step", "Work", self.in_sight(self.log), "Ctrl+Shift+I"),)

    def arrive(self) -> None:
        self.steps.setFocus()

    def state(self) -> str:
        found = ledger(self.session.study)
        lines = (*found.screws, *found.plugs, *found.others)
        back = sum(not line.open for line in lines)
        return (
            "nothing out" if not lines and not found.parts else "closed" if found.closed else f"{back} of {len(lines)}"
        )

    # -- showing ------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        study = self.session.study
        apart = tuple(id for id, step in study.steps.items() if step.phase == "apart")
        if apart != self._of or (self.plan is None and not self._why_not):
            self._of, self.plan, self._why_not = apart, None, ""
            self._beside.clear()
            self._beside.start(lambda: _planned(study), self._came)
        self._show()

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
        lines = [n for n in (*found.screws, *found.plugs, *found.others, *found.parts) if n.open]
        cells: list[list[Cell]] = [[(n.name, n.name), _figure(n.out, "?"), _figure(n.tray, "")] for n in lines]
        self.open_lines.refresh([n.id for n in lines], cells, set(), self.session.selection)
        self._show_plan(study, found)

    def _show_plan(self, study: Study, found: Ledger) -> None:
        if self.plan is None:
            self.now.setText("")
            self.does.setText(self._why_not or "The plan is being worked out …")
            self.row.show_groups(())
            self.waits.setText("")
            self.done.setEnabled(False)
            self.steps.refresh([], [], set(), "")
            return
        left = self._left(found)
        rows, marked = [], set()
        for n, step in enumerate(self.plan.steps, 1):
            todo = step in left
            new = ", ".join(study.name(r) for r in step.renew)
            told = "; ".join(step.does)
            rows.append([(str(n) if todo else "✓", float(n)), (told, told), (step.tool or "hand", ""), (new, new)])
            marked |= {step.step} if todo and (step.power or step.renew) else set()
        here = next((s for s in left if s.step == self._at), left[0] if left else None)
        self._at = here.step if here else ""
        self.steps.refresh([s.step for s in self.plan.steps], rows, marked, self._at)
        proved = "the quickest way in, turned round" if self.plan.proved else "the best way in found, turned round"
        self.beside.setText(
            f"{plural(len(left), 'step')} to go of {len(self.plan.steps)}, about "
            f"{duration(sum(s.seconds + s.wait_s for s in left))}; {proved}"
        )
        self._show_here(study, here, left)

    def _show_here(self, study: Study, here: BackStep | None, left: list[BackStep]) -> None:
        self.done.setEnabled(here is not None)
        if here is None or self.plan is None:
            self.now.setText("Everything planned is back.")
            self.does.setText("Look that no screw is left over, that every key moves, and that it starts.")
            self.row.show_groups(())
            self.waits.setText("")
            return
        number = self.plan.steps.index(here) + 1
        name = ", ".join(study.name(p) for p in here.parts) or ", ".join(study.name(j) for j in here.joints)
        self.now.setText(f"{number} · {name or here.does[0]}")
        self.does.setText("\n".join(f"· {line}" for line in here.does))
        groups = tuple(study.joints[j] for j in here.joints if study.joints[j].kind in ids_where("threaded"))
        self.row.show_groups(groups)
        told = [f"then wait {duration(here.wait_s)}"] if here.wait_s else []
        told += ["new: " + ", ".join(study.name(r) for r in here.renew)] if here.renew else []
        told += ["this makes the device live"] if here.power else []
        early = left[: left.index(here)]
        told += [f"{plural(len(early), 'step')} before it not done"] if early else []
        told += list(self.plan.left) if here is left[0] else []
        self.waits.setText("; ".join(told))

    def _left(self, found: Ledger) -> list[BackStep]:
        """The steps of the plan of which something is still out."""
        assert self.plan is not None
        out = {n.id for n in (*found.screws, *found.plugs, *found.others, *found.parts) if n.open}
        done = {s.note for s in self.session.study.steps.values() if s.phase == "back"}
        return [
            s for s in self.plan.steps if out & {*s.parts, *s.joints} or (_bare(s) and f"plan {s.step}" not in done)
        ]

    # -- the work -----------------------------------------------------------------------------------------

    def _look_at(self, id: str) -> None:
        if id != self._at:
            self._at = id
            self._show_plan(self.session.study, ledger(self.session.study))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.log()
        else:
            super().keyPressEvent(event)

    def log(self) -> None:
        """Enter the step in sight as put back, and show the next one."""
        study = self.session.study
        if self.plan is None:
            return
        here = next((s for s in self._left(ledger(study)) if s.step == self._at), None)
        if here is None:
            self.session.tell("Everything planned is back.")
            return
        id = new_id(study, "S")
        outs = {n.id for n in ledger(study).parts if n.open}
        said = "; ".join(here.does)
        step = Step(
            id,
            "place" if here.parts else "fasten" if _screwed(study, here) else "connect",
            said=said,
            releases=here.joints,
            puts_in=tuple(p for p in here.parts if p in outs),
            tool=here.tool,
            wait_s=here.wait_s,
            phase="back",
            isolates_power=here.power,
            face=study.steps[here.step].face,
            note=f"plan {here.step}" if _bare(here) else "",
        )
        if self.session.edit(self.session.with_laps(put(study, step), (id,)), "put back"):
            self.logged.emit(said)


def _planned(study: Study) -> Plan | str:
    """The plan as if nothing had been put back yet, so that it stays the same while it is followed; or why there is
    none."""
    apart = {id: step for id, step in study.steps.items() if step.phase != "back"}
    try:
        return plan_back(evolve(study, steps=apart))
    except ReachError as error:
        return str(error)


def _bare(step: BackStep) -> bool:
    return not step.parts and not step.joints


def _screwed(study: Study, step: BackStep) -> bool:
    return any(study.joints[j].kind in ids_where("threaded") for j in step.joints)


def _closed(found: Ledger) -> str:
    return "Everything is back." if found.parts or found.screws else "Nothing is out."


def _figure(value: int | None, unknown: str) -> Cell:
    return (unknown, -1.0) if value is None else (str(value), float(value))


def _words(joint: Joint) -> str:
    size = " ".join(filter(None, (joint.size or joint.drive, f"× {joint.length_mm:g}" if joint.length_mm else "")))
    return f"{joint.count or '?'} {size or 'screws'}"
