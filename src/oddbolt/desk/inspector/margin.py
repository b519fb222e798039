"""The margin: the selected part, joint or step, edited in place on ruled paper."""

from __future__ import annotations

import re
from collections.abc import Callable
from functools import partial
from typing import Any

from attrs import evolve
from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from oddbolt.core.bench.sums import SUMS
from oddbolt.core.components.layout import identified
from oddbolt.core.errors import OddBoltError
from oddbolt.core.fasteners.look_alikes import odd_ones
from oddbolt.core.fasteners.torque import doubt, materials_of, sentence, usual_thread, window
from oddbolt.core.opening.setting_up import usual_pick, with_heater
from oddbolt.core.reach import fresh_question, questions, step_times
from oddbolt.core.reach.questions import in_words, signed
from oddbolt.core.reference.quantities import quantity
from oddbolt.core.reference.tables import thread_of
from oddbolt.core.safety import DEFER, Caution, cautions
from oddbolt.core.safety.hazards import NOTED
from oddbolt.core.study import (
    Device,
    EdgePlan,
    Joint,
    Keepout,
    Part,
    Run,
    Step,
    Stretch,
    Warmup,
    change,
    new_id,
    put,
    remove,
)
from oddbolt.core.study.edits import lap
from oddbolt.core.study.formatting import duration, span
from oddbolt.core.study.model import FACT_STATES
from oddbolt.core.study.photos import lettered, marked
from oddbolt.core.study.steps import corrected
from oddbolt.desk.inspector.bulk_form import BulkForm, fit_together, holder
from oddbolt.desk.inspector.descriptions import stretch_figures, sums_for, what_it_is
from oddbolt.desk.inspector.fields import Field, fields_of, has_form, widget_for
from oddbolt.desk.inspector.folds import Fold
from oddbolt.desk.inspector.identify_box import IdentifyBox
from oddbolt.desk.inspector.marking_box import MarkingBox
from oddbolt.desk.inspector.naming_boxes import (
    about_connector,
    about_kind,
    connector_box,
    is_packaged,
    package_box,
    part_box,
)
from oddbolt.desk.inspector.typed_values import shown, typed, unknown_contents
from oddbolt.desk.painters.pair import ScrewPair
from oddbolt.desk.state.figures import Figures
from oddbolt.desk.state.session import Session
from oddbolt.desk.state.step_actions import StepActions
from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.inputs import ChoiceField, LineField
from oddbolt.desk.widgets.labels import Label, tip
from oddbolt.desk.widgets.spoken import Ring

WIDE, SLIM, LINE, CAPTION = 298, 256, 28, 74


class Margin(QScrollArea):
    """Shows the selection, or the step logged last, or the device. A rebuilt form keeps the focus where it was.
    ``sum_asked`` names a kind of sum and the thing it is about."""

    sum_asked = Signal(str, str)

    def __init__(self, session: Session, figures: Figures) -> None:
        super().__init__()
        self.session, self.figures = session, figures
        self.step_actions = StepActions(session)
        self.id = ""
        self.fields: dict[str, tuple[Field, Any]] = {}
        self.folds: dict[str, Fold] = {}
        self._unfolded: set[str] = set()
        self.several: BulkForm | None = None
        self._key: object = None
        self._extras: object = None
        self.setObjectName("margin")
        self.setFixedWidth(WIDE)
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName("Margin: what is selected")
        Ring(self)

    def sizeHint(self) -> QSize:
        return QSize(WIDE, 600)

    # -- showing ------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show what is selected now."""
        coming = self.session.selection or (
            "" if self.session.device_shown else next(reversed(self.session.study.steps), "")
        )
        if coming != self.id:
            self._enter_typed()
        study, self.id = self.session.study, coming
        if fit_together(self.session):
            self._show_several()
            return
        self.several = None
        thing: Any = study.find(self.id)
        if not has_form(thing):
            self.id, thing = "", study.device
        key = (type(thing), getattr(thing, "kind", ""), theme.current.name)
        if key != self._key:
            self._key, self._extras = key, None
            self._build(thing)
        extras = (self.id, self._extras_key(thing))
        if extras != self._extras:
            self._extras = extras
            self._renew(self._above, lambda box: self._build_above(box, thing))
            self._renew(self._below, lambda box: self._build_below(box, thing))
        self._fill(thing)

    def _enter_typed(self) -> None:
        """What is still being typed belongs to the thing that was shown, not to the one that comes."""
        if self.several is None and (not self.id or self.session.study.find(self.id) is not None):
            for line in self.findChildren(LineField):
                line.leave()

    def _show_several(self) -> None:
        """The form for the things chosen together."""
        key = (self.session.chosen, theme.current.name)
        if key == self._key and self.several is not None:
            self.several.fill()
            return
        self._key = key
        paper = Paper()
        box = holder(paper)
        self.several = BulkForm(self.session, box, self._names, LINE)
        self.several.remove.clicked.connect(self.remove)
        box.addStretch(1)
        self.fields = self.several.fields
        self._turn_to(paper)

    def _turn_to(self, paper: QWidget) -> None:
        """Show this paper. The old one goes only when nothing is under way in it any more: the key that led here may
        have been pressed in one of its fields."""
        old = self.takeWidget()
        self.setWidget(paper)
        if old is not None:
            old.hide()
            old.deleteLater()

    def _extras_key(self, thing: Any) -> object:
        study = self.session.study
        facts = tuple(f for f in study.facts.values() if f.under == self.id)
        about = tuple(n for n in study.findings.values() if n.about == self.id)
        odd = odd_ones(study) if isinstance(thing, Joint) else {}
        pair = tuple(sorted((a, b) for a, b in odd.items() if self.id in (a, b)))
        screws = tuple(study.joints[j] for ends in pair for j in ends)
        asked: object = (
            (self.id, thing.kind, thing.package) if isinstance(thing, Part) else getattr(thing, "family", "")
        )
        if isinstance(thing, Step):
            runs = tuple(r.id for r in study.runs.values() if any(p.step == thing.id for p in r.laps))
            asked = fresh_question(study, thing.id), runs
        minds = cautions(study, self.id) if isinstance(thing, Step) else ()
        sums = tuple(u for u in study.sums.values() if u.about == self.id)
        return facts, about, screws, asked, minds, sums, self._figures_of(thing)

    def _figures_of(self, thing: Any) -> tuple[tuple[str, str], ...]:
        """What was computed about a part, or measured of a step."""
        study = self.session.study
        if isinstance(thing, Part):
            reach = self.figures.reach()
            if reach is None:
                return (("free after", self.figures.pending),)
            r = reach[thing.id]
            if r.steps is None or r.seconds is None:
                return (("reach", r.why_not),)
            tools = dict.fromkeys(study.steps[s].tool for s in r.needed if study.steps[s].tool)
            held = [study.name(j.id) for j in study.joints.values() if thing.id in j.holds]
            return (
                ("free after", span(r.steps.least, r.steps.most, "steps")),
                ("work", r.time),
                ("tools", " · ".join(tools) or "bare hand"),
                *(
                    (("held by", ", ".join(held[:3]) + (f" and {len(held) - 3} more" if len(held) > 3 else "")),)
                    if held
                    else ()
                ),
            )
        if isinstance(thing, Stretch):
            return stretch_figures(study, thing)
        return ()

    def _build(self, thing: Any) -> None:
        """The form of a kind of thing: its fields, which stay as long as things of this kind are shown, with room above
        and below for what is computed, asked and noted of the one shown."""
        paper = Paper()
        box = holder(paper)
        self.title, self.sub = Label(), Label()
        self.title.setObjectName("margintitle")
        self.title.setWordWrap(True)
        self.sub.setObjectName("quiet")
        self.sub.setFixedHeight(LINE - 4)
        box.addWidget(self.title)
        box.addWidget(self.sub)
        self._above, self._below = QVBoxLayout(), QVBoxLayout()
        box.addLayout(self._above)
        self._build_fields(box, thing)
        box.addLayout(self._below)
        if not isinstance(thing, Device):
            word = {EdgePlan: "edge plan", Keepout: "keep-out", Warmup: "warm-up"}.get(type(thing))
            drop = QPushButton(f"Remove this {word or type(thing).__name__.lower()}")
            drop.setObjectName("link")
            drop.clicked.connect(self.remove)
            box.addSpacing(LINE)
            box.addWidget(drop)
        box.addStretch(1)
        focus = self.focusWidget() if self.isAncestorOf(self.focusWidget() or self) else None
        name = focus.accessibleName() if focus is not None else ""
        self._turn_to(paper)
        if name:
            again = next((w for f, w in self.fields.values() if f.caption == name), None)
            if again is not None:
                again.setFocus()

    @staticmethod
    def _renew(room: QVBoxLayout, build: Callable[[QVBoxLayout], None]) -> None:
        """Fill this room anew. What stood there goes when nothing is under way in it any more."""
        old = room.takeAt(0)
        holding = QWidget()
        box = QVBoxLayout(holding)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        build(box)
        room.addWidget(holding)
        holding.setVisible(box.count() > 0)
        if old is not None and (widget := old.widget()) is not None:
            widget.hide()
            widget.setParent(None)
            widget.deleteLater()

    def _build_above(self, box: QVBoxLayout, thing: Any) -> None:
        if isinstance(thing, Part) and not identified(thing):
            box.addWidget(_head("What is this?", "copper"))
            box.addWidget(part_box(self.session, thing))
            box.addSpacing(LINE // 2)
        for caption, value in self._figures_of(thing):
            box.addWidget(_line(caption, value))
        if box.count():
            box.addSpacing(LINE // 2)
        if isinstance(thing, Joint) and thing.kind == "screw":
            self._build_screws(box, thing)
        if isinstance(thing, Step):
            self._build_question(box, thing)
            self._build_cautions(box, cautions(self.session.study, thing.id))

    def _build_below(self, box: QVBoxLayout, thing: Any) -> None:
        if isinstance(thing, Joint) and thing.kind == "screw":
            self._build_torque(box, thing)
            box.addWidget(_head("Identify screw"))
            box.addWidget(IdentifyBox(self.session, thing.id))
        if isinstance(thing, Step):
            self._build_seconds(box, thing)
        if isinstance(thing, Stretch):
            pick = QPushButton("Use default angle and depth")
            pick.setObjectName("link")
            pick.clicked.connect(lambda: self.session.attempt("use default angle and depth", usual_pick, self.id))
            box.addSpacing(LINE // 2)
            box.addWidget(pick)
        if isinstance(thing, Joint) and thing.kind == "connector":
            box.addWidget(_head("Which connector?"))
            about_connector(box, thing)
            box.addWidget(connector_box(self.session, thing))
        if isinstance(thing, Part):
            self._build_question(box, thing)
            for caption, value in about_kind(thing):
                box.addWidget(_line(caption, value))
            if is_packaged(thing) and not thing.package:
                box.addWidget(_head("Which package?"))
                box.addWidget(package_box(self.session, thing))
            box.addWidget(_head("What is marked on it"))
            box.addWidget(MarkingBox(self.session, thing.id))
        if isinstance(thing, Part | Joint):
            self._build_facts(box, thing)
            self._build_findings(box)
            self._build_sums(box, thing)

    def _build_fields(self, box: QVBoxLayout, thing: Any) -> None:
        self.fields, self.folds = {}, {}
        fields = fields_of(thing)
        self._build_grid(box, tuple(field for field in fields if not field.group))
        for group in dict.fromkeys(field.group for field in fields if field.group):
            fold = Fold(group, group in self._unfolded, LINE)
            fold.turned.connect(self._folded)
            box.addWidget(fold)
            self._build_grid(fold.room, tuple(field for field in fields if field.group == group))
            self.folds[group] = fold

    def _folded(self, group: str, is_open: bool) -> None:
        (self._unfolded.add if is_open else self._unfolded.discard)(group)

    def _build_grid(self, box: QVBoxLayout, fields: tuple[Field, ...]) -> None:
        grid = QGridLayout()
        grid.setSpacing(0)
        grid.setColumnMinimumWidth(0, CAPTION)
        grid.setColumnStretch(1, 1)
        grid.setHorizontalSpacing(8)
        for row, field in enumerate(fields):
            caption = Label(field.caption)
            caption.setObjectName("quiet")
            widget = widget_for(field, self._names)
            caption.setBuddy(widget)
            caption.setFixedHeight(LINE)
            widget.setFixedHeight(LINE)
            widget.entered.connect(partial(self._entered, field))  # type: ignore[attr-defined]
            grid.addWidget(caption, row, 0)
            grid.addWidget(widget, row, 1)
            self.fields[field.name] = (field, widget)
        box.addLayout(grid)

    def _names(self, letter: str) -> list[str]:
        return [self.session.study.name(id) for id in self.session.study.table(letter)]

    def _build_cautions(self, box: QVBoxLayout, minds: tuple[Caution, ...]) -> None:
        """All that is to be minded at the step, with the rule and its source."""
        if not minds:
            return
        box.addWidget(_head("Cautions", "copper"))
        for mind in minds:
            words = Label(mind.text + ".")
            words.setWordWrap(True)
            words.setContentsMargins(0, 3, 0, 0)
            box.addWidget(words)
            if mind.rule != NOTED:
                source = Label(f"rule “{mind.rule}”: {mind.source}")
                source.setObjectName("caption")
                source.setWordWrap(True)
                box.addWidget(source)
        defer = Label(DEFER)
        defer.setObjectName("caption")
        defer.setWordWrap(True)
        defer.setContentsMargins(0, 6, 0, 8)
        box.addWidget(defer)

    def _build_sums(self, box: QVBoxLayout, thing: Part | Joint) -> None:
        """Sums kept with the thing, and those that may be worked out for it."""
        study = self.session.study
        kept = [u for u in study.sums.values() if u.about == thing.id]
        fitting = sums_for(study, thing)
        if kept or fitting:
            box.addWidget(_head("Sums"))
        for one in kept:
            words = Label(f"{SUMS[one.kind].title if one.kind in SUMS else one.kind}: {one.result}")
            words.setWordWrap(True)
            words.setToolTip(tip("; ".join(one.given)))
            box.addWidget(words)
        for kind in fitting:
            link = QPushButton(f"Calculate: {SUMS[kind].title.lower()}")
            link.setObjectName("link")
            link.clicked.connect(partial(self.sum_asked.emit, kind, thing.id))
            box.addWidget(link)

    def _build_seconds(self, box: QVBoxLayout, step: Step) -> None:
        """The time of the step in every run that has a lap of it; a first lap can be typed where there is none."""
        study = self.session.study
        runs = [r.id for r in study.runs.values() if any(lap.step == step.id for lap in r.laps)]
        self.laps: dict[str, LineField] = {}
        for run in runs or [""]:
            field = LineField()
            field.setObjectName("figure")
            field.setAccessibleName(f"time in {run}" if len(runs) > 1 else "time")
            field.setFixedHeight(LINE)
            field.entered.connect(partial(self._timed, run))
            box.addLayout(_row(study.runs[run].kind if len(runs) > 1 else "time", field))
            self.laps[run] = field

    def _build_facts(self, box: QVBoxLayout, thing: Part | Joint) -> None:
        study = self.session.study
        box.addWidget(_head("Covered by"))
        for fact in study.facts.values():
            if fact.under != thing.id:
                continue
            state = ChoiceField((*FACT_STATES, "forget"))
            state.set_shown(fact.state)
            state.setFixedHeight(LINE)
            state.setAccessibleName(f"{study.name(fact.over)} lies over it")
            state.entered.connect(partial(self._fact_state, fact.id))
            label = Label(study.name(fact.over))
            label.setObjectName("" if fact.state == "seen" else "quiet" if fact.state == "ruled out" else "copper")
            said = signed(study, fact)
            label.setToolTip(tip(said))
            state.setToolTip(tip(said))
            row = QHBoxLayout()
            row.addWidget(label, 1)
            row.addWidget(state)
            box.addLayout(row)
        over = LineField(lambda: self._names("P"))
        over.setPlaceholderText("add a part that covers it")
        over.setAccessibleName("covered by")
        over.setFixedHeight(LINE)
        over.entered.connect(self._new_fact)
        box.addWidget(over)

    def _build_question(self, box: QVBoxLayout, thing: Part | Step) -> None:
        """The one question that narrows the range of a part, or that a fresh step raises, answered by one key."""
        study = self.session.study
        if isinstance(thing, Step):
            fresh = fresh_question(study, thing.id)
            asked, head = [fresh] if fresh else [], "Quick question"
        else:
            asked = questions(study, thing.id) if self.figures.reach() is not None else []
            head = "One answer makes this exact" if len(asked) == 1 else f"{len(asked)} answers make this exact"
        if not asked:
            return
        over, under = asked[0]
        box.addWidget(_head(head))
        words = Label(in_words(study, over, under))
        words.setWordWrap(True)
        box.addWidget(words)
        row = QHBoxLayout()
        for text, yes in (("&Yes", True), ("&No", False)):
            button = QPushButton(text)
            button.clicked.connect(partial(self._answered, over, under, yes))
            row.addWidget(button)
        box.addLayout(row)

    def _answered(self, over: str, under: str, yes: bool) -> None:
        self.session.answer(over, under, yes)

    def _build_findings(self, box: QVBoxLayout) -> None:
        found = [n for n in self.session.study.findings.values() if n.about == self.id]
        if found:
            box.addWidget(_head("Found"))
        for finding in found:
            label = Label(f"{finding.kind}: {finding.text}")
            label.setWordWrap(True)
            label.setContentsMargins(0, 3, 0, 0)
            edit = QPushButton("Edit")
            edit.setObjectName("link")
            edit.setAccessibleName(f"Edit finding: {finding.text}")
            edit.clicked.connect(partial(self.session.select, finding.id))
            box.addWidget(label)
            box.addWidget(edit)

    def _build_screws(self, box: QVBoxLayout, joint: Joint) -> None:
        study = self.session.study
        odd = odd_ones(study)
        fellow = odd.get(joint.id) or next((a for a, b in odd.items() if b == joint.id), "")
        pair = ScrewPair()
        if fellow:
            other = study.joints[fellow]
            box.addWidget(_head("Odd one", "copper"))
            gap = abs((joint.length_mm or 0) - (other.length_mm or 0))
            words = Label(f"{study.name(fellow)}: same driver, {gap:g} mm apart. Keep them in separate compartments.")
            words.setWordWrap(True)
            box.addWidget(words)
            shorter, longer = sorted((joint, other), key=lambda j: j.length_mm or 0)
            pair.show_screws([shorter, longer], longer.id)
        else:
            pair.show_screws([joint], "")
        box.addWidget(pair)

    def _build_torque(self, box: QVBoxLayout, joint: Joint) -> None:
        """What torque suits the thread, into metal and into plastic."""
        thread = thread_of(joint.thread) if joint.thread else usual_thread(joint.drive, joint.size)
        if thread is None:
            return
        if not joint.thread:
            note = Label(f"Thread not known; for {thread.name}, the largest usual with this driver:")
            note.setObjectName("caption")
            note.setWordWrap(True)
            box.addWidget(note)
        for into in (m for m in materials_of(thread) if m != "insert"):
            found = window(thread, into)
            words = Label(sentence(thread, found, into))
            words.setObjectName("caption")
            words.setWordWrap(True)
            words.setToolTip(f"{found.formula}. {found.source}.")
            box.addWidget(words)

    def _fill(self, thing: Any) -> None:
        study = self.session.study
        name = study.name(self.id) if self.id else study.device.name
        self.title.setText(name[:1].upper() + name[1:])
        self.sub.setText(what_it_is(study, thing))
        for group, fold in self.folds.items():
            own = [field for field, _ in self.fields.values() if field.group == group]
            fold.say(sum(getattr(thing, f.name) not in (None, "", (), False) for f in own))
        for field, widget in self.fields.values():
            value = getattr(thing, field.name)
            widget.set_shown(shown(study, field, value))
            if field.kind == "contents" or field.name == "doubt":
                _mark(widget, bool(unknown_contents(value)) if field.kind == "contents" else bool(value))
        if isinstance(thing, Step):
            time = step_times(study)[thing.id]
            for run, line in self.laps.items():
                took = next((p.seconds for p in study.runs[run].laps if p.step == thing.id), 0.0) if run else 0.0
                line.set_shown(duration(took) if run else f"{duration(time.seconds)} {time.basis}")

    # -- editing ------------------------------------------------------------------------------------------

    def _entered(self, field: Field, value: str | bool) -> None:
        study = self.session.study
        if field.name not in self.fields:
            return  # of a form that is gone
        try:
            after = value if isinstance(value, bool) else typed(study, field, value, self.session.named)
            if isinstance(study.find(self.id), Warmup) and field.name == "heater":
                edited = with_heater(study, self.id, str(after))
            elif self.id in study.callouts and field.name == "letter":
                edited = lettered(study, self.id, str(after))
            elif self.id in study.photos and field.name == "role":
                edited = marked(study, self.id, str(after))
            elif self.id in study.joints and field.name in ("drive", "size", "lengths"):
                edited = corrected(study, self.id, **{field.name: after})
            elif self.id:
                edited = change(study, self.id, **{field.name: after})
            else:
                fields: dict[str, Any] = {field.name: after}
                edited = evolve(study, device=evolve(study.device, **fields))
        except OddBoltError as error:
            self._refused(str(error), field)
            return
        self.session.edit(edited, f"change the {field.caption} of {study.name(self.id) if self.id else 'the device'}")
        if field.kind == "contents" and (unknown := unknown_contents(str(after))):
            self.session.tell(f"{unknown} The rest is kept.")
        joint = edited.joints.get(self.id)
        if joint is not None and field.name == "torque_ncm" and joint.torque_ncm:
            wrong = doubt(joint.torque_ncm, joint)
            if wrong:
                self.session.tell(wrong[0].upper() + wrong[1:])
        self.refresh()

    def _refused(self, sentence: str, field: Field) -> None:
        self.session.tell(sentence)
        widget = self.fields[field.name][1]
        if isinstance(widget, LineField):
            thing = self.session.study.find(self.id) or self.session.study.device
            widget.put_back(shown(self.session.study, field, getattr(thing, field.name)))

    def _timed(self, run_id: str, text: str) -> None:
        study = self.session.study
        try:
            typed_ = re.sub(r"\b(?:estimated|fitted|told)\b", "", text).strip()
            seconds = quantity(typed_, "time") if typed_ else None
            if not run_id and seconds is not None:
                run_id = next(reversed(study.runs), "") or new_id(study, "R")
                study = study if run_id in study.runs else put(study, Run(run_id, "timed"))
            if run_id:
                self.session.edit(lap(study, run_id, self.id, seconds), f"time {study.name(self.id)}")
        except (ValueError, OddBoltError) as error:
            self.session.tell(str(error))
        self.refresh()

    def _fact_state(self, fact: str, state: str) -> None:
        if state == "forget":
            self.session.attempt("forget a fact", remove, fact)
        else:
            known = self.session.study.facts[fact]
            self.session.stated(known.over, known.under, state)

    def _new_fact(self, name: str) -> None:
        if not name.strip():
            return
        try:
            (over,) = self.session.named(name)
            self.session.stated(over, self.id, "seen")
        except OddBoltError as error:
            self.session.tell(str(error))
        self.refresh()

    def remove(self) -> None:
        """Remove the thing shown, and say what went with it; or all that are chosen together."""
        if self.several is not None:
            self.step_actions.remove()
        elif self.session.study.find(self.id) is not None:
            self.session.remove(self.id)


def _mark(widget: QWidget, doubtful: bool) -> None:
    """A field whose words are in doubt, or plain again."""
    name = "missing" if doubtful else ""
    if widget.objectName() != name:
        widget.setObjectName(name)
        widget.style().polish(widget)


def _head(text: str, name: str = "head") -> QLabel:
    label = Label(text)
    label.setObjectName(name)
    label.setFixedHeight(LINE + 8)
    label.setAlignment(Qt.AlignmentFlag.AlignBottom)
    label.setFont(theme.text(10, bold=True))
    return label


def _row(caption: str, widget: QWidget) -> QHBoxLayout:
    row = QHBoxLayout()
    label = Label(caption)
    label.setObjectName("quiet")
    label.setFixedWidth(CAPTION)
    label.setMinimumHeight(LINE - 4)
    row.setSpacing(0)
    row.addWidget(label, 0, Qt.AlignmentFlag.AlignTop)
    row.addWidget(widget, 1)
    return row


def _line(caption: str, value: str) -> QWidget:
    holder = QWidget()
    shown_value = Label(value)
    shown_value.setWordWrap(True)
    shown_value.setContentsMargins(2, 3, 0, 3)
    shown_value.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
    holder.setLayout(_row(caption, shown_value))
    holder.layout().setContentsMargins(0, 0, 0, 0)  # type: ignore[union-attr]
    return holder


class Paper(QWidget):
    """Paper behind the double copper line of a field book's margin."""

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.colour("paper"))
        painter.setPen(QPen(theme.colour("copper"), 1))
        painter.drawLine(2, 0, 2, self.height())
        painter.drawLine(6, 0, 6, self.height())
