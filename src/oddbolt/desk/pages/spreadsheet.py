"""Spreadsheet: the rows of somebody's own table, their columns matched to fields, looked at before they are entered."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QButtonGroup, QGridLayout, QHBoxLayout, QPushButton, QScrollArea, QWidget

from oddbolt.core.errors import OddBoltError
from oddbolt.core.handover.sheet_rows import FIELDS, KINDS, Entered, entered, guess_kind, matched
from oddbolt.core.study import Study
from oddbolt.core.study.formatting import plural
from oddbolt.desk.pages.page import Desk, Page
from oddbolt.desk.widgets.inputs import ChoiceField, empty, word_group
from oddbolt.desk.widgets.labels import Label
from oddbolt.desk.widgets.tables import Cell, Rows, Table
from oddbolt.files.sheets import Sheet, read_sheets

#: rows that are shown before they are entered, and letters of an example
SHOWN, EXAMPLE = 300, 34
NOT_TAKEN = "not taken"


class SpreadsheetPage(Page):
    """Columns at the left, each with the field that it goes to; the rows at the right, those that are wrong in
    copper."""

    title = "Spreadsheet"
    wide = True

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.name = ""
        self.sheets: tuple[Sheet, ...] = ()
        self.sheet: Sheet | None = None
        self.kind = KINDS[0]
        self.match: dict[str, int] = {}
        self.found: Entered | None = None
        self._of: Study | None = None
        self.fields: list[ChoiceField] = []
        self.line = QHBoxLayout()
        self.kinds = word_group(self, self.line, enumerate(KINDS))
        self.kinds.idClicked.connect(lambda n: self._as(KINDS[n]))
        self.line.addSpacing(18)
        self.tabs = QHBoxLayout()
        self.line.addLayout(self.tabs)
        self.names: QButtonGroup | None = None
        self.line.addStretch(1)
        self.enter = QPushButton("Enter the rows")
        self.enter.clicked.connect(self.enter_rows)
        back = QPushButton("Back")
        back.clicked.connect(self.left)
        for button in (self.enter, back):
            self.head.addWidget(button)
        self.columns = QGridLayout()
        self.columns.setVerticalSpacing(4)
        holder = QWidget()
        holder.setLayout(self.columns)
        self.pane = QScrollArea()
        self.pane.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.pane.setWidgetResizable(True)
        self.pane.setWidget(holder)
        self.rows = Rows(("row", "what is wrong"))
        self.table = Table(self.rows, "Rows of the spreadsheet")
        self.told = Label()
        self.told.setWordWrap(True)
        sides = QHBoxLayout()
        sides.setSpacing(18)
        sides.addWidget(self.pane, 2)
        sides.addWidget(self.table, 5)
        self.box.addLayout(self.line)
        self.box.addLayout(sides, 1)
        self.box.addWidget(self.told)

    # -- a file comes --------------------------------------------------------------------------------------

    def take(self, path: Path) -> None:
        """Show the sheets of a file. Raises FileError."""
        self.sheets, self.name = read_sheets(path), path.name
        empty(self.tabs)
        self.names = (
            word_group(self, self.tabs, enumerate(s.name for s in self.sheets)) if len(self.sheets) > 1 else None
        )
        if self.names is not None:
            self.names.idClicked.connect(lambda n: self._show(self.sheets[n]))
        self._show(self.sheets[0])
        self.wanted.emit()

    def _show(self, sheet: Sheet) -> None:
        self.sheet = sheet
        self._as(guess_kind(sheet.heads))

    def _as(self, kind: str) -> None:
        """Take the rows for parts, joints or steps."""
        if self.sheet is None:
            return
        self.kind = kind
        self.kinds.button(KINDS.index(kind)).setChecked(True)
        self.match = matched(kind, self.sheet.heads)
        self._lay_out(self.sheet)
        self._look()

    def _lay_out(self, sheet: Sheet) -> None:
        """A line for each column: its head, an example, and the field that it goes to."""
        empty(self.columns)
        self.fields = []
        names = ["", *(column.name for column in FIELDS[self.kind])]
        for n, head in enumerate(sheet.heads):
            example = next((row[n] for row in sheet.rows if row[n]), "")
            words = Label(head or f"column {n + 1}")
            words.setWordWrap(True)
            shown = Label(example[:EXAMPLE] + ("…" if len(example) > EXAMPLE else ""))
            shown.setObjectName("quiet")
            choice = ChoiceField(names)
            choice.setItemText(0, NOT_TAKEN)
            for k, name in enumerate(names[1:], 1):
                choice.setItemText(k, name.replace("_", " "))
            choice.setAccessibleName(f"field for the column {head or n + 1}")
            choice.set_shown(next((f for f, at in self.match.items() if at == n), ""))
            choice.entered.connect(partial(self._matched, n))
            self.fields.append(choice)
            for k, widget in enumerate((words, shown, choice)):
                self.columns.addWidget(widget, n, k)
        self.columns.setRowStretch(len(sheet.heads), 1)

    def _matched(self, column: int, name: str) -> None:
        """A column goes to another field, or to none; a field takes one column."""
        self.match = {f: at for f, at in self.match.items() if at != column and f != name}
        if name:
            self.match[name] = column
        for n, choice in enumerate(self.fields):
            choice.set_shown(next((f for f, at in self.match.items() if at == n), ""))
        self._look()

    def _look(self) -> None:
        """Enter the rows into a copy, to see what would be."""
        if self.sheet is None:
            return
        self.found, self._of = None, self.session.study
        try:
            self.found = entered(self.session.study, self.kind, self.sheet.rows, self.match)
            self.told.setText(self._in_words(self.found))
        except OddBoltError as error:
            self.told.setText(str(error))
        self._show_rows(self.sheet, self.found)
        count = self.found.rows if self.found else 0
        self.enter.setText(f"Enter {plural(count, 'row')}" if count else "Enter the rows")
        self.enter.setEnabled(bool(count))
        self.beside.setText(f"{self.name}: {plural(len(self.sheet.rows), 'row')}, as {self.kind}")

    def _in_words(self, found: Entered) -> str:
        wrong = len({w.row for w in found.wrong})
        told = [f"{plural(found.rows, 'row')} can be entered"]
        told += [f"{plural(wrong, 'row')} cannot, shown in copper"] if wrong else []
        told += [f"parts that are only named: {', '.join(found.new_parts[:8])}"] if found.new_parts else []
        return "; ".join(told) + "."

    def _show_rows(self, sheet: Sheet, found: Entered | None) -> None:
        why: dict[int, list[str]] = {}
        for w in found.wrong if found else ():
            where = f"{sheet.heads[w.column]}: " if w.column >= 0 else ""
            why.setdefault(w.row, []).append(where + w.why)
        fields = sorted(self.match, key=lambda f: self.match[f])
        heads = ("row", "what is wrong", *(f.replace("_", " ") for f in fields))
        if self.rows.heads != list(heads):
            self.rows.rename(heads)
        order = sorted(range(len(sheet.rows)), key=lambda n: (n not in why, n))[:SHOWN]
        cells: list[list[Cell]] = [
            [
                (str(sheet.numbers[n]), n),
                ("; ".join(why.get(n, ())), ""),
                *((sheet.rows[n][self.match[f]], sheet.rows[n][self.match[f]].casefold()) for f in fields),
            ]
            for n in order
        ]
        self.table.refresh([str(n) for n in order], cells, {str(n) for n in why}, "")
        self.table.resizeColumnsToContents()
        for n in range(len(heads)):
            self.table.setColumnWidth(n, self.table.columnWidth(n) + 16)

    # -- entering ------------------------------------------------------------------------------------------

    def enter_rows(self) -> None:
        """Enter what can be, as one edit."""
        if self.session.study is not self._of:
            self._look()  # the study was changed meanwhile
        if self.found is None or not self.found.rows:
            self.session.tell("No row can be entered yet; match the columns first.")
            return
        found = self.found
        if self.session.edit(found.study, f"enter {self.name}"):
            wrong = len({w.row for w in found.wrong})
            left = f"; {plural(wrong, 'row')} left out" if wrong else ""
            self.session.tell(
                f"{plural(found.rows, 'row')} of {self.name} entered as {self.kind}{left}. Ctrl+Z undoes this."
            )
            self.left.emit()

    def arrive(self) -> None:
        if self.fields:
            self.fields[0].setFocus()

    def refresh(self) -> None:
        if self.sheet is not None and self.session.study is not self._of:
            self._look()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(event)
