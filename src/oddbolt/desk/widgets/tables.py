"""A sortable, copyable table of plain rows."""

from __future__ import annotations

import re
from collections.abc import Sequence
from html import escape
from typing import Any

from PySide6.QtCore import (
    QAbstractTableModel,
    QItemSelectionModel,
    QMimeData,
    QModelIndex,
    QPersistentModelIndex,
    QPointF,
    QRectF,
    QSize,
    QSortFilterProxyModel,
    Qt,
    Signal,
)
from PySide6.QtGui import (
    QColor,
    QFocusEvent,
    QFontMetricsF,
    QGuiApplication,
    QKeyEvent,
    QKeySequence,
    QPainter,
    QPalette,
    QPixmap,
)
from PySide6.QtWidgets import (
    QAbstractItemView,
    QApplication,
    QHeaderView,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
    QWidget,
)

from oddbolt.desk.widgets import theme
from oddbolt.desk.widgets.labels import tip
from oddbolt.files.tables import safe

Index = QModelIndex | QPersistentModelIndex
#: A cell: what is shown, and what it sorts by.
Cell = tuple[str, Any]


class Rows(QAbstractTableModel):
    """Rows of cells, each row with the id of its thing; ``marked`` rows are shown in copper."""

    def __init__(self, heads: Sequence[str], figures: Sequence[int] = ()) -> None:
        super().__init__()
        self.heads, self.figures = list(heads), set(figures)
        self.ids: list[str] = []
        self.cells: Sequence[Sequence[Cell]] = []
        self.marked: set[str] = set()
        self._fractions: dict[int, str] = {}
        #: id -> the picture at the head of its row
        self.pictures: dict[str, QPixmap] = {}

    def fraction(self, column: int) -> str:
        """The longest decimal part of a column, which the points of the others are aligned by."""
        if column not in self._fractions:
            parts = (figure_parts(row[column][0])[1] for row in self.cells)
            self._fractions[column] = max(parts, key=len, default="")
        return self._fractions[column]

    def show_rows(self, ids: list[str], cells: Sequence[Sequence[Cell]], marked: set[str] = frozenset()) -> None:  # type: ignore[assignment]
        """Replace all rows."""
        self.beginResetModel()
        self.ids, self.cells, self.marked = ids, cells, set(marked)
        self._fractions.clear()
        self.endResetModel()

    def rename(self, heads: Sequence[str]) -> None:
        """Give the columns other heads, before the next rows are shown."""
        self.beginResetModel()
        self.heads, self.ids, self.cells = list(heads), [], []
        self.endResetModel()

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.ids)

    def columnCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008
        return len(self.heads)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if role == Qt.ItemDataRole.DisplayRole and orientation == Qt.Orientation.Horizontal:
            return self.heads[section]
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return Qt.AlignmentFlag.AlignVCenter | (
                Qt.AlignmentFlag.AlignRight if section in self.figures else Qt.AlignmentFlag.AlignLeft
            )
        return None

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        shown, key = self.cells[index.row()][index.column()]
        if role == Qt.ItemDataRole.ToolTipRole:
            return tip(str(self.data(index, Qt.ItemDataRole.DisplayRole) or ""))
        if role == Qt.ItemDataRole.DisplayRole:
            return shown
        if role == Qt.ItemDataRole.UserRole:
            return key
        if role == Qt.ItemDataRole.TextAlignmentRole and index.column() in self.figures:
            return Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        if role == Qt.ItemDataRole.FontRole:
            return theme.figures(9.5) if index.column() in self.figures else None
        if role == Qt.ItemDataRole.DecorationRole and index.column() == 0:
            return self.pictures.get(self.ids[index.row()])
        if role == Qt.ItemDataRole.ForegroundRole and self.ids[index.row()] in self.marked and index.column() == 0:
            return QColor(theme.colour("copper"))
        return None


def figure_parts(shown: str) -> tuple[str, str, str]:
    """A figure's whole part, decimal part with its point, and unit; all whole where it is no single figure."""
    match = re.fullmatch(r"([-−~]?\d+)(\.\d+)?(\D*)", shown)
    return (match[1], match[2] or "", match[3]) if match else (shown, "", "")


class FigureDelegate(QStyledItemDelegate):
    """Draws a column of figures so that their decimal points stand under each other."""

    def __init__(self, table: QTableView, rows: Rows) -> None:
        super().__init__(table)
        self.rows = rows

    def _shift(self, shown: str, column: int, metrics: QFontMetricsF) -> float:
        """How far the figure of a cell stands to the left of where it would end, in px."""
        whole, part, _ = figure_parts(shown)
        if whole == shown and not shown.lstrip("-−~").isdigit():
            return 0.0
        return metrics.horizontalAdvance(self.rows.fraction(column)) - metrics.horizontalAdvance(part)

    def sizeHint(self, option: Any, index: Index) -> QSize:
        size = super().sizeHint(option, index)
        self.initStyleOption(option, index)
        return size + QSize(round(self._shift(option.text, index.column(), QFontMetricsF(option.font))), 0)

    def paint(self, painter: QPainter, option: Any, index: Index) -> None:
        self.initStyleOption(option, index)
        shown = option.text
        shift = self._shift(shown, index.column(), QFontMetricsF(option.font))
        if shift < 0.5:
            super().paint(painter, option, index)
            return
        whole, part, unit = figure_parts(shown)
        option.text = unit or " "
        style = option.widget.style() if option.widget else QApplication.style()
        style.drawControl(QStyle.ControlElement.CE_ItemViewItem, option, painter, option.widget)
        room = QRectF(style.subElementRect(QStyle.SubElement.SE_ItemViewItemText, option, option.widget))
        margin = style.pixelMetric(QStyle.PixelMetric.PM_FocusFrameHMargin, option, option.widget) + 1
        room.setRight(room.right() - margin - QFontMetricsF(option.font).horizontalAdvance(unit) - shift)
        painter.save()
        painter.setFont(option.font)
        painter.setPen(option.palette.color(QPalette.ColorRole.Text))
        painter.drawText(room, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, whole + part)
        painter.restore()


class Table(QTableView):
    """Shows :class:`Rows`. Ctrl+C copies the selected rows, or all where none is selected."""

    picked = Signal(str)
    several = Signal(tuple)
    #: the space bar on a row
    space = Signal(str)

    def __init__(self, rows: Rows, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.rows = rows
        self._filtering = False
        self.proxy = QSortFilterProxyModel(self)
        self.proxy.setSourceModel(rows)
        self.proxy.setSortRole(Qt.ItemDataRole.UserRole)
        self.proxy.setFilterKeyColumn(-1)
        self.proxy.setFilterCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self.setModel(self.proxy)
        self._figures = FigureDelegate(self, rows)
        self.setSortingEnabled(True)
        self.sortByColumn(-1, Qt.SortOrder.AscendingOrder)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setShowGrid(False)
        self.verticalHeader().hide()
        self.verticalHeader().setDefaultSectionSize(25)
        self.horizontalHeader().setStretchLastSection(True)
        self.horizontalHeader().setHighlightSections(False)
        self.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        self.setTabKeyNavigation(False)
        self.setAccessibleName(name)
        self.selectionModel().currentRowChanged.connect(self._moved)
        self.selectionModel().selectionChanged.connect(self._chosen)

    def align_figures(self) -> None:
        """Give the columns of figures their delegate, unless they have one of their own."""
        for column in self.rows.figures:
            if self.itemDelegateForColumn(column) is None:
                self.setItemDelegateForColumn(column, self._figures)

    def widths(self, *pixels: int) -> None:
        """Set the first columns' widths in px."""
        for column, wide in enumerate(pixels):
            self.setColumnWidth(column, wide)

    def refresh(
        self, ids: list[str], cells: Sequence[Sequence[Cell]], marked: set[str], chosen: str, also: Sequence[str] = ()
    ) -> None:
        """Show new rows and keep the place; ``also`` are things chosen together with the one."""
        at = self.verticalScrollBar().value()
        self.align_figures()
        self.selectionModel().blockSignals(True)
        self.rows.show_rows(ids, cells, marked)
        self.selectionModel().blockSignals(False)
        self.verticalScrollBar().setValue(at)
        self.choose(chosen, also)

    def choose(self, id: str, also: Sequence[str] = ()) -> None:
        """Select the row of a thing, if it is shown, and those of others with it."""
        if id in self.rows.ids:
            index = self.proxy.mapFromSource(self.rows.index(self.rows.ids.index(id), 0))
            self.selectionModel().blockSignals(True)
            self.selectRow(index.row())
            rows = QItemSelectionModel.SelectionFlag.Select | QItemSelectionModel.SelectionFlag.Rows
            for other in also:
                if other != id and other in self.rows.ids:
                    place = self.rows.index(self.rows.ids.index(other), 0)
                    self.selectionModel().select(self.proxy.mapFromSource(place), rows)
            self.selectionModel().blockSignals(False)
            self.scrollTo(index)
            self.viewport().update()
        else:
            self.clearSelection()

    def filter(self, words: str) -> None:
        """Show only rows that hold these words. A row that goes out of sight is not left for another."""
        self._filtering = True  # to pick one now would change the rows while they are being sorted out
        self.proxy.setFilterFixedString(words)
        self._filtering = False

    def copied(self) -> list[list[str]]:
        """The heading and the selected rows, as a spreadsheet takes them; all rows where none is selected."""
        chosen = sorted({i.row() for i in self.selectionModel().selectedRows()}) or range(self.proxy.rowCount())
        columns = range(self.proxy.columnCount())
        return [
            list(self.rows.heads),
            *([safe(str(self.proxy.index(r, c).data() or "")) for c in columns] for r in chosen),
        ]

    def _copy(self) -> None:
        """Put the rows on the clipboard, tab-separated and as an HTML table."""
        rows = self.copied()
        lines = ["".join(f"<td>{escape(cell)}</td>" for cell in row) for row in rows]
        data = QMimeData()
        data.setText("\n".join("\t".join(row) for row in rows))
        data.setHtml(f"<table>{''.join(f'<tr>{line}</tr>' for line in lines)}</table>")
        QGuiApplication.clipboard().setMimeData(data)

    def focusInEvent(self, event: QFocusEvent) -> None:
        self._filtering = True  # the toolkit goes to the first row; that chooses nothing
        super().focusInEvent(event)
        self._filtering = False

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.matches(QKeySequence.StandardKey.Copy):
            self._copy()
        elif (
            event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down)
            and self.currentIndex().isValid()
            and not self.selectionModel().hasSelection()
        ):
            self.selectRow(self.currentIndex().row())  # the first key chooses the row that the frame is on
            self._moved(self.currentIndex(), QModelIndex())
        elif event.key() == Qt.Key.Key_Space and self.currentIndex().isValid():
            self.space.emit(self.rows.ids[self.proxy.mapToSource(self.currentIndex()).row()])
        else:
            super().keyPressEvent(event)

    def _chosen(self) -> None:
        rows = [self.proxy.mapToSource(i).row() for i in self.selectionModel().selectedRows()]
        if len(rows) > 1 and not self._filtering:
            self.several.emit(tuple(self.rows.ids[r] for r in rows))

    def _moved(self, now: QModelIndex, before: QModelIndex) -> None:
        if now.isValid() and not self._filtering:
            self.picked.emit(self.rows.ids[self.proxy.mapToSource(now).row()])


class Bar(QStyledItemDelegate):
    """Draws a figure with a band behind it as long as its share of the ``most``."""

    most = 1.0

    def paint(
        self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        figure = index.data(Qt.ItemDataRole.UserRole)
        rect = QRectF(option.rect)  # type: ignore[attr-defined]
        if isinstance(figure, (int, float)) and figure < 1e6:
            share = min(1.0, figure / max(1e-9, self.most))
            band = rect.adjusted(4, 4, -4 - (rect.width() - 8) * (1 - share), -4)
            painter.fillRect(band, theme.bar(share * 0.9))
        painter.setPen(theme.colour("rule"))
        painter.drawLine(QPointF(rect.left(), rect.bottom() - 1), QPointF(rect.right(), rect.bottom() - 1))
        painter.setPen(theme.colour("bar_ink"))
        painter.setFont(theme.figures(9.5))
        painter.drawText(rect.adjusted(8, 0, -8, 0), Qt.AlignmentFlag.AlignVCenter, index.data() or "")
