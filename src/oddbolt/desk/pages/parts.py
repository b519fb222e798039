"""Parts: the device laid out on a table, every part to scale; the same as a table, and as the bill of materials."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QMenu, QPushButton, QScrollArea, QWidget

from oddbolt.core.components.bill import BillLine, bill_of_materials
from oddbolt.core.components.layout import STATES, chosen, fitting, identified, kind_of_part, laid_out
from oddbolt.core.reach import Reach
from oddbolt.core.study import Part, Study
from oddbolt.core.study.formatting import plural, span
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.pages.parts_panels.cut_outs import CutOuts
from oddbolt.desk.painters.laid_out import EDGE, LABEL_PX, LaidOut
from oddbolt.desk.state.actions import Action
from oddbolt.desk.widgets.tables import Bar, Cell, Rows, Table

HEADS = (
    "part", "inside", "free after", "work", "kind", "mass", "reuse", "step",
    "function", "markings", "package", "size", "value", "number", "maker", "material", "condition", "spare",
)  # fmt: skip
WIDTHS = (140, 104, 122, 160, 100, 60, 66, 44, 130, 120, 90, 100, 90, 90, 80, 90, 100, 60)
DEPTH, USUAL_COLUMNS = 2, ("part", "inside", "free after", "work", "kind", "markings", "mass", "reuse", "step")
BILL_HEADS = ("item", "count", "kind", "marked", "each", "together", "mass is", "held by", "reuse")
#: scales: to fit, or so many times life-size
SCALES = ((0, "fit"), (1, "life-size"), (2, "× 2"), (4, "× 4"))
LAID, TABLE, BILL = 0, 1, 2


class Parts(Page):
    """The parts of the device, in three views; what is searched and filtered for holds for the first two."""

    title = "Parts"

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.settings = desk.settings
        self._shown: object = None
        self.rows = Rows(HEADS, figures=(3, 5, 7))
        self.table = Table(self.rows, "Parts")
        self.table.widths(*WIDTHS)
        self.band = Bar(self.table)
        self.table.setItemDelegateForColumn(DEPTH, self.band)
        self.bill = Table(Rows(BILL_HEADS, figures=(1, 4, 5)), "Bill of materials")
        self.bill.widths(230, 48, 90, 120, 70, 76, 74, 200, 60)
        self.laid = LaidOut()
        self.laid.empty = "No parts yet. Say “lift out the battery” on Take apart, or add one with Ctrl+Shift+Ins."
        self.cut_outs = CutOuts(self, self.session, self.laid.update)
        self.laid.cut_out = self.cut_outs.of
        self.pane = QScrollArea()
        self.pane.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.pane.setWidgetResizable(True)
        self.pane.setWidget(self.laid)
        self.finder = QLineEdit()
        self.finder.setAccessibleDescription("Shows only the parts that hold these words.")
        self.finder.setPlaceholderText("find a name, a marking, a maker …")
        self.finder.setAccessibleName("Find part")
        self.finder.setFixedWidth(230)
        self.finder.textChanged.connect(lambda _: self.refresh())
        self.head.addWidget(self.finder)
        self.box.addLayout(self._line())
        self.box.addWidget(self.pane, 1)
        self.box.addWidget(self.table, 1)
        self.box.addWidget(self.bill, 1)
        self.table.picked.connect(self.session.select)
        self.table.several.connect(self.session.choose)
        self.laid.picked.connect(self.session.select)
        self.bill.picked.connect(lambda id: self.session.select(id.split(" ")[0]))
        self._columns()

    def _line(self) -> QHBoxLayout:
        """What is shown, of which parts, and how large."""
        line = QHBoxLayout()
        self.views = self.words(line, ((LAID, "laid out"), (TABLE, "table"), (BILL, "bill of materials")))
        self.views.idClicked.connect(lambda _: self.refresh())
        line.addSpacing(10)
        self.state_box = self._choice("which parts", ("all parts", *STATES))
        self.kind_box = self._choice("of which kind", ("all kinds",))
        self.material_box = self._choice("of which material", ("all materials",))
        self.choices = QWidget()
        inner = QHBoxLayout(self.choices)
        inner.setContentsMargins(0, 0, 0, 0)
        for box in (self.state_box, self.kind_box, self.material_box):
            inner.addWidget(box)
        line.addWidget(self.choices)
        line.addStretch(1)
        self.scales = self.words(line, SCALES)
        self.scales.idClicked.connect(lambda _: self.refresh())
        self.columns = QPushButton("Columns …")
        self.columns.setAccessibleDescription("Choose the columns of the table.")
        self.columns.clicked.connect(self._choose_columns)
        line.addWidget(self.columns)
        return line

    def _choice(self, name: str, words: tuple[str, ...]) -> QComboBox:
        box = QComboBox()
        box.addItems(words)
        box.setAccessibleName(name)
        box.activated.connect(lambda _: self.refresh())
        return box

    def actions_here(self) -> tuple[Action, ...]:
        def shown(name: str, text: str, view: int) -> Action:
            return Action(
                name,
                text,
                "View/Parts",
                self.in_sight(lambda: self.show_view(view)),
                checked=lambda: self.views.checkedId() == view,
            )

        return (
            shown("parts.laid", "&Lay the device out", LAID),
            shown("parts.table", "&Table of parts", TABLE),
            shown("parts.bill", "&Bill of materials", BILL),
            Action(
                "parts.unknown", "Next &unidentified part", "View/Parts", self.in_sight(self.next_unknown), "Ctrl+Alt+U"
            ),
        )

    def show_view(self, view: int) -> None:
        """Show one of the views."""
        self.views.button(view).setChecked(True)
        self.refresh()
        self.arrive()

    def next_unknown(self) -> None:
        """Select the next part that nobody said the kind of."""
        study = self.session.study
        unknown = chosen(study, state="unknown")
        if not unknown:
            self.session.tell("Every part has a kind.")
            return
        ids = list(study.parts)
        at = ids.index(self.session.selection) if self.session.selection in study.parts else -1
        self.session.select(next((id for id in unknown if ids.index(id) > at), unknown[0]))

    def arrive(self) -> None:
        (self.laid, self.table, self.bill)[self.views.checkedId()].setFocus()

    def state(self) -> str:
        study = self.session.study
        unknown = len(chosen(study, state="unknown"))
        if unknown and unknown < len(study.parts):
            return f"{unknown} unknown"
        return plural(len(study.parts), "part") if study.parts else ""

    def resizeEvent(self, event: object) -> None:
        if self.views.checkedId() == LAID and self.isVisible():
            self._show_laid(self._chosen())

    # -- showing ----------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        study, view = self.session.study, self.views.checkedId()
        self._fill_choices(study)
        ids = self._chosen()
        for widget, number in ((self.pane, LAID), (self.table, TABLE), (self.bill, BILL)):
            widget.setVisible(view == number)
        for button in self.scales.buttons():
            button.setVisible(view == LAID)
        self.columns.setVisible(view == TABLE)
        self.choices.setVisible(view != BILL)
        if view == LAID:
            self._show_laid(ids)
        elif view == TABLE:
            self._show_table(study, ids)
        else:
            self._show_bill(study)
        self._say(study, ids)

    def _chosen(self) -> list[str]:
        def of(box: QComboBox) -> str:
            return box.currentText() if box.currentIndex() > 0 else ""

        return chosen(
            self.session.study, self.finder.text(), of(self.kind_box), of(self.material_box), of(self.state_box)
        )

    def _fill_choices(self, study: Study) -> None:
        """The kinds and materials that occur, the chosen one kept."""
        kinds = {part.kind for part in study.parts.values() if part.kind}
        families = {told.family for part in study.parts.values() if (told := kind_of_part(part))}
        materials = {part.material for part in study.parts.values() if part.material}
        for box, words in ((self.kind_box, kinds | families), (self.material_box, materials)):
            wanted = [box.itemText(0), *sorted(words, key=str.casefold)]
            if wanted != [box.itemText(n) for n in range(box.count())]:
                now = box.currentText()
                box.clear()
                box.addItems(wanted)
                box.setCurrentIndex(max(0, box.findText(now)))

    def _say(self, study: Study, ids: list[str]) -> None:
        if not study.parts:
            self.beside.setText("none yet: log what comes off, or add one with Ctrl+Shift+Ins")
            return
        priority = sum(study.parts[id].priority for id in ids)
        unknown = sum(not identified(study.parts[id]) for id in ids)
        bits = [
            plural(len(ids), "part") if len(ids) == len(study.parts) else f"{len(ids)} of {len(study.parts)} parts",
            f"{priority} priority (bold)" if self.views.checkedId() == LAID else f"{priority} priority (copper)",
            f"{unknown} not identified" if unknown else "all identified",
        ]
        if self.views.checkedId() == LAID:
            assumed = sum(bool(piece.assumed) for piece in self.laid.table.pieces)
            bits.append(f"{assumed} drawn at a size usual for their kind (broken line)" if assumed else "all to scale")
        elif not self.figures.reach():
            bits.append(f"depths {self.figures.pending}")
        self.beside.setText(" · ".join(bits))

    # -- laid out ---------------------------------------------------------------------------------------------

    def _show_laid(self, ids: list[str]) -> None:
        study = self.session.study
        room = self.pane.viewport().size()
        wide, high = max(200.0, room.width() - 2 * EDGE - 2), max(120.0, room.height() - 2 * EDGE - 2)
        only = None if len(ids) == len(study.parts) else frozenset(ids)
        times = self.scales.checkedId()
        key = study.parts, study.regions, study.board_maps, only, times, wide, high
        if key != self._shown:
            self._shown = key
            self.scale = self._px_per_mm() * times if times else fitting(study, wide, high, LABEL_PX, only)
            self._table = laid_out(study, self.scale, wide, LABEL_PX, only)
        priority = frozenset(id for id in ids if study.parts[id].priority)
        self.laid.show_table(self._table, self.scale, self.session.selection, priority, self._words)
        box = self.laid.item_box(self.session.selection)
        if self.session.selection in ids:
            middle: QPoint = box.center()
            self.pane.ensureVisible(middle.x(), middle.y(), 40, min(120, box.height() // 2 + 20))

    def _px_per_mm(self) -> float:
        return float(self.settings.get("px per mm", 0.0)) or self.logicalDpiX() / 25.4

    def _words(self, id: str) -> str:
        """All there is to say of a part, for who rests the pointer on it or cannot see it."""
        study = self.session.study
        part = study.parts[id]
        told = kind_of_part(part)
        size = size_of(part)
        bits = (
            part.name,
            part.kind or (told.id if told else "not identified"),
            f"in {study.name(part.inside)}" if part.inside else "",
            part.function or (told.does if told else ""),
            f"marked {', '.join(part.markings)}" if part.markings else "",
            part.package,
            size,
            f"{part.mass_g:g} g" if part.mass_g is not None else "not weighed",
            "priority" if part.priority else "",
            part.reuse,
            part.condition,
            "" if size else "size assumed",
        )
        return ", ".join(filter(None, bits))

    # -- tables -----------------------------------------------------------------------------------------------

    def _show_table(self, study: Study, ids: list[str]) -> None:
        reach = self.figures.reach() or {}
        number = {p: n for n, s in enumerate(study.steps.values(), 1) if s.phase == "apart" for p in s.takes_out}
        cells = [_cells(study, study.parts[id], reach.get(id), number.get(id)) for id in ids]
        self.band.most = max((r.steps.most for r in reach.values() if r.steps), default=1.0)
        priority = {id for id in ids if study.parts[id].priority}
        self.table.refresh(ids, cells, priority, self.session.selection, self.session.chosen)

    def _show_bill(self, study: Study) -> None:
        lines = bill_of_materials(study)
        ids = [" ".join(line.ids) for line in lines]
        here = next((key for key, line in zip(ids, lines, strict=True) if self.session.selection in line.ids), "")
        renew = {key for key, line in zip(ids, lines, strict=True) if line.reuse == "renew"}
        self.bill.refresh(ids, [_bill_cells(n, line) for n, line in enumerate(lines)], renew, here)

    def _columns(self) -> None:
        wanted = self.settings.get("part columns", list(USUAL_COLUMNS))
        for n, head in enumerate(HEADS):
            self.table.setColumnHidden(n, n > 0 and head not in wanted)

    def _choose_columns(self) -> None:
        """A menu of the columns, each on or off."""
        menu = QMenu(self)
        for n, head in enumerate(HEADS[1:], 1):
            action = menu.addAction(head)
            action.setCheckable(True)
            action.setChecked(not self.table.isColumnHidden(n))
            action.toggled.connect(self._column_turned(head))
        menu.popup(self.columns.mapToGlobal(self.columns.rect().bottomLeft()))

    def _column_turned(self, head: str) -> Callable[[bool], None]:
        def turned(is_on: bool) -> None:
            wanted = set(self.settings.get("part columns", list(USUAL_COLUMNS)))
            (wanted.add if is_on else wanted.discard)(head)
            self.settings.put("part columns", [h for h in HEADS if h in wanted])
            self._columns()

        return turned


def size_of(part: Part) -> str:
    """The size of a body in words; "" where nobody measured it."""
    sides = [f"{side:g}" for side in (part.long_mm, part.wide_mm, part.high_mm) if side]
    return " × ".join(sides) + " mm" if sides else ""


def _cells(study: Study, part: Part, reach: Reach | None, step: int | None) -> list[Cell]:
    inside = study.name(part.inside) if part.inside else ""
    steps, work = ("", 1e9), ("", 1e9)
    if reach is not None and reach.steps and reach.seconds:
        steps = (span(reach.steps.least, reach.steps.most, "steps"), reach.steps.least)
        work = (reach.time, reach.seconds.least)
    elif reach is not None:
        steps = ("no route recorded", 1e8)
    texts = (
        part.function, " | ".join(part.markings), part.package, size_of(part), part.value or part.rating, part.number,
        part.maker, part.material, part.condition, part.spare,
    )  # fmt: skip
    return [
        (part.name, part.name.casefold()),
        (inside, inside.casefold()),
        steps,
        work,
        (part.kind or (told.id if (told := kind_of_part(part)) else "?"), part.kind),
        (f"{part.mass_g:g} g" if part.mass_g is not None else "", part.mass_g or 0.0),
        (part.reuse, part.reuse),
        (str(step or ""), step or 10**6),
        *((text, text.casefold()) for text in texts),
    ]


def _bill_cells(n: int, line: BillLine) -> list[Cell]:
    """A line of the bill; sorted by its place, which keeps what a part carries under it."""
    known = "screws" if line.screws else line.kind
    name = "    " * min(line.level - 1, 8) + line.name
    return [
        (name, n),
        ("?" if line.count is None else str(line.count), line.count or 0),
        (known if line.kind or line.screws else "?", known),
        (", ".join(line.marks), line.marks),
        ("" if line.each_g is None else f"{line.each_g:.1f} g", line.each_g or 0.0),
        ("" if line.sum_g is None else f"{line.sum_g:.1f} g", line.sum_g or 0.0),
        (line.basis, line.basis),
        (", ".join(line.held or line.holds), line.held),
        (line.reuse, line.reuse),
    ]
