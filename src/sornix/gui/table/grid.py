"""The grid of the tray: a table to be read, typed into, copied from and pasted over."""

from PyQt6.QtCore import (
    QItemSelection,
    QItemSelectionModel,
    QItemSelectionRange,
    QModelIndex,
    Qt,
    pyqtSignal,
)
from PyQt6.QtGui import QKeyEvent, QKeySequence
from PyQt6.QtWidgets import (
    QAbstractItemDelegate,
    QAbstractItemView,
    QHeaderView,
    QTableView,
    QWidget,
)

from sornix.gui.base.theme import Theme
from sornix.gui.table.gridmodel import Cells, GridModel, sample_width
from sornix.gui.table.heads import Heads

# So many columns get the width that they want; the rest a usual one.
_MOST_FITTED = 80
_USUAL_WIDTH = 76


class Grid(QTableView):
    """Typing begins a cell, Enter goes down, Tab goes right, Delete empties; a row or column is
    begun by going there. `copy_wanted` and `paste_wanted` ask for the clipboard."""

    rows_selected = pyqtSignal(tuple)
    copy_wanted = pyqtSignal()
    menu_wanted = pyqtSignal(int, object)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.cells = GridModel(theme, self)
        self.setModel(self.cells)
        self.setAccessibleName("Readings")
        self.heads = Heads(self.cells, theme)
        self.setHorizontalHeader(self.heads)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectItems)
        self.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setShowGrid(True)
        self.setCornerButtonEnabled(False)
        triggers = QAbstractItemView.EditTrigger
        self.setEditTriggers(
            triggers.DoubleClicked | triggers.AnyKeyPressed | triggers.EditKeyPressed
        )
        # the column to come back to with Enter after a row was typed with Tab
        self._home = 0
        self._show_rows(theme)
        selection = self.selectionModel()
        assert selection is not None
        selection.selectionChanged.connect(self._selected)
        self.clicked.connect(self._clicked)

    def _show_rows(self, theme: Theme) -> None:
        self.heads.setAccessibleName("Columns of the table")
        vertical = self.verticalHeader()
        if vertical is None:
            return
        vertical.setDefaultSectionSize(25)
        vertical.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        vertical.setDefaultAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        vertical.setStyleSheet(
            f"QHeaderView::section {{ color: {theme.soft}; background: {theme.panel};"
            " border: none; padding: 0 7px 0 4px; font-size: 12px; }"
            f"QHeaderView {{ background: {theme.panel}; border: none; }}"
        )

    def set_theme(self, theme: Theme) -> None:
        self.cells.theme = self.heads.theme = theme
        self._show_rows(theme)
        self.heads.viewport_update()

    def fit_columns(self) -> None:
        """Gives the columns the width that names and first cells want."""
        metrics = self.fontMetrics()
        for number in range(self.cells.columnCount()):
            width = float(_USUAL_WIDTH)
            if self.cells.column_at(number) is None:
                width = 44.0
            elif number < _MOST_FITTED:
                widest = sample_width(self.cells, number, metrics.horizontalAdvance)
                width = max(self.heads.wanted_width(number), widest + 24, 58)
            self.setColumnWidth(number, round(width))

    # -- what is selected ---------------------------------------------------------------------

    def selected_rows(self, most: int | None = None) -> list[int]:
        """The first selected row indices, from the ranges: a million rows are one range."""
        count = self.cells.table.row_count if self.cells.table is not None else 0
        rows: set[int] = set()
        for span in self._spans():
            begin = span.top() + self.cells.first
            end = min(span.bottom() + 1 + self.cells.first, count)
            if most is not None:
                end = min(end, begin + most)
            rows.update(range(begin, end))
        return sorted(rows)[:most]

    def selected_block(self) -> tuple[list[int], list[int]]:
        """The rows and columns of the rectangle that holds every selected cell."""
        spans = self._spans()
        if not spans:
            return [], []
        first = self.cells.first
        rows = range(
            min(s.top() for s in spans) + first, max(s.bottom() for s in spans) + 1 + first
        )
        columns = range(min(s.left() for s in spans), max(s.right() for s in spans) + 1)
        return list(rows), list(columns)

    def _spans(self) -> list[QItemSelectionRange]:
        selection = self.selectionModel()
        if selection is None:
            return []
        found = selection.selection()
        return [found[number] for number in range(found.count())]

    @property
    def has_selection(self) -> bool:
        selection = self.selectionModel()
        return selection is not None and selection.hasSelection()

    def select_cell(self, row: int, column: int) -> None:
        """Goes to a cell, by the row of its table."""
        index = self.cells.index(self.cells.bring(row), column)
        self.setCurrentIndex(index)
        self.scrollTo(index)

    def light_row(self, row: int | None) -> None:
        """Selects a row and brings it into sight; None selects nothing."""
        selection = self.selectionModel()
        if selection is None:
            return
        if row is None:
            self.clearSelection()
            return
        index = self.cells.index(self.cells.bring(row), 0)
        self.scrollTo(index, QAbstractItemView.ScrollHint.EnsureVisible)
        flags = QItemSelectionModel.SelectionFlag
        selection.select(index, flags.ClearAndSelect | flags.Rows)

    def _selected(self, _now: QItemSelection, _before: QItemSelection) -> None:
        # thousands of rings would say nothing
        self.rows_selected.emit(tuple(self.selected_rows(200)))

    # -- typing -------------------------------------------------------------------------------

    def _clicked(self, index: QModelIndex) -> None:
        self._home = index.column()

    def clear_cells(self) -> None:
        """Empties the selected cells."""
        rows, columns = self.selected_block()
        table = self.cells.table
        if table is None:
            return
        cells: Cells = [
            (row, column, "")
            for row in rows
            if row < table.row_count
            for column in columns
            if column < len(table.columns)
        ]
        if cells:
            self.cells.set_cells(cells)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        current = self.currentIndex()
        editing = self.state() == QAbstractItemView.State.EditingState
        if event.matches(QKeySequence.StandardKey.Copy):
            self.copy_wanted.emit()
        elif editing:
            super().keyPressEvent(event)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._go(self.row_at(current) + 1, min(current.column(), self._home))
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.clear_cells()
        elif event.key() == Qt.Key.Key_Menu:
            self.menu_wanted.emit(current.column(), None)
        else:
            if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Right):
                self._home = -1
            super().keyPressEvent(event)
            if self._home < 0:
                self._home = max(self.currentIndex().column(), 0)

    def row_at(self, index: QModelIndex) -> int:
        """The row of the table in which a cell of the view stands."""
        return index.row() + self.cells.first

    def _go(self, row: int, column: int) -> None:
        count = self.cells.table.row_count if self.cells.table is not None else 0
        last = count - 1 if self.cells.is_part else self.cells.rowCount() - 1
        self.select_cell(min(row, last), column)

    def commitData(self, editor: QWidget | None) -> None:
        # the table may have become another one while a cell was typed into
        if self.state() == QAbstractItemView.State.EditingState:
            super().commitData(editor)

    def closeEditor(self, editor: QWidget | None, hint: QAbstractItemDelegate.EndEditHint) -> None:
        """Enter goes down, and back to where the row was begun; names take no row."""
        current = self.currentIndex()
        row, column = current.row(), current.column()
        super().closeEditor(editor, QAbstractItemDelegate.EndEditHint.NoHint)
        hints = QAbstractItemDelegate.EndEditHint
        self.setFocus()
        if hint == hints.SubmitModelCache:
            table = self.cells.table
            named = table is not None and table.row_count == 0
            self._go(row if named else row + 1, min(self._home, column))
        elif hint == hints.EditNextItem:
            self._go(row, min(column + 1, self.cells.columnCount() - 1))
        elif hint == hints.EditPreviousItem:
            self._go(row, max(column - 1, 0))
