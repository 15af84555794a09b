"""A table as a model for its view: cells are made only when they come into sight."""

from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt
from PyQt6.QtGui import QBrush, QColor
from PyQt6.QtWidgets import QWidget

from sornix.core.readings import KIND_WORDS, TEXT, Column, Table
from sornix.core.readings.tables.shown import shown_cell
from sornix.core.readings.tables.table import MOST_CHANGED
from sornix.core.text import plain_text, rich
from sornix.gui.base.plain import plain_tip
from sornix.gui.base.theme import Theme

_ROLE = Qt.ItemDataRole
_NOTHING = Qt.ItemFlag.NoItemFlags

# Of a table that is too long to be changed so many rows are in the grid at once: a view counts the
# height of all rows in pixels, which there would be too many of.
_MOST_SHOWN = 1_000_000
# (row, column, text) of cells to be set
Cells = list[tuple[int, int, str]]


class Tag(NamedTuple):
    """Says that a column is drawn: on which axis, and in which colour ("" for an x column)."""

    text: str
    colour: str


class GridModel(QAbstractTableModel):
    """The cells of a table, and one empty row and column beyond it to go on in."""

    def __init__(self, theme: Theme, parent: QWidget) -> None:
        super().__init__(parent)
        self.theme = theme
        self.table: Table | None = None
        self.tags: dict[str, Tag] = {}
        self.set_cells: Callable[[Cells], bool] = lambda _: False
        self._decimals: dict[int, int] = {}
        # columns and rows as the view knows them
        self._size = (0, 0)
        # the row of the table that is the first in the view
        self.first = 0

    @property
    def is_open(self) -> bool:
        """Whether the table can be typed into."""
        return self.table is not None and self.table.grouping is None and not self.is_part

    @property
    def is_part(self) -> bool:
        """Whether only a part of the rows is in the view."""
        return self.table is not None and self.table.row_count > MOST_CHANGED

    @property
    def shown(self) -> range:
        """The rows of the table that are in the view."""
        return range(self.first, self.first + self._size[1])

    def bring(self, row: int) -> int:
        """The row of the view that shows a row of the table, which is brought there if it is in
        another part."""
        if self.is_part and row not in self.shown:
            assert self.table is not None
            self.beginResetModel()
            half = _MOST_SHOWN // 2
            self.first = min(max(row - half, 0), self.table.row_count - _MOST_SHOWN)
            self.endResetModel()
        return row - self.first

    def show_table(self, table: Table, tags: dict[str, Tag]) -> None:
        """Shows a table; of the same name, it is taken for the same one, changed."""
        old = self.table
        if table is old:
            if tags != self.tags:
                self.tags = tags
                self._head_changed()
            return
        self._decimals = {id(c): c.decimals for c in table.columns}
        other = old is None or old.name != table.name or old.grouping != table.grouping
        if other or max(self._size[1], table.row_count) > MOST_CHANGED or self.is_part:
            self.beginResetModel()
            self.table, self.tags, self.first = table, tags, 0
            rows = _MOST_SHOWN if self.is_part else table.row_count
            self._size = (len(table.columns), rows)
            self.endResetModel()
            return
        self.tags = tags
        for end in self._begin_resize(table):
            end()
        last = self.index(self.rowCount() - 1, self.columnCount() - 1)
        self.dataChanged.emit(self.index(0, 0), last)
        self._head_changed()

    def _begin_resize(self, table: Table) -> Iterator[Callable[[], None]]:
        """Tells the view of more or fewer columns and then rows, as if they were the last ones."""
        nowhere = QModelIndex()
        columns, rows = self._size
        # the empty row and column stay where they are and become part of the table
        beyond = int(self.is_open)
        more = len(table.columns) - columns
        if more:
            first, last = sorted((columns, columns + more))
            if more > 0:
                self.beginInsertColumns(nowhere, first + beyond, last + beyond - 1)
            else:
                self.beginRemoveColumns(nowhere, first + beyond, last + beyond - 1)
            self._size = (columns + more, rows)
            yield self.endInsertColumns if more > 0 else self.endRemoveColumns
        more = table.row_count - rows
        first, last = sorted((rows, rows + more))
        if more > 0:
            self.beginInsertRows(nowhere, first + beyond, last + beyond - 1)
        elif more < 0:
            self.beginRemoveRows(nowhere, first + beyond, last + beyond - 1)
        self._size = (len(table.columns), table.row_count)
        self.table = table
        if more:
            yield self.endInsertRows if more > 0 else self.endRemoveRows

    def _head_changed(self) -> None:
        self.headerDataChanged.emit(Qt.Orientation.Horizontal, 0, self.columnCount() - 1)

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        if self.table is None or (parent is not None and parent.isValid()):
            return 0
        return self._size[1] + self.is_open

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        if self.table is None or (parent is not None and parent.isValid()):
            return 0
        return self._size[0] + self.is_open

    def column_at(self, number: int) -> Column | None:
        """The column of that number; None beyond the last one."""
        columns = self.table.columns if self.table is not None else ()
        return columns[number] if 0 <= number < len(columns) else None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        if not index.isValid():
            return _NOTHING
        flags = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        column = self.column_at(index.column())
        if self.is_open and (column is None or column.rule is None):
            flags |= Qt.ItemFlag.ItemIsEditable
        return flags

    def setData(
        self, index: QModelIndex, value: object, role: int = Qt.ItemDataRole.EditRole
    ) -> bool:
        if role != _ROLE.EditRole or str(value) == self.data(index, _ROLE.EditRole):
            return False
        return self.set_cells([(index.row() + self.first, index.column(), str(value))])

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if not index.isValid() or self.table is None:
            return None
        column, row = self.column_at(index.column()), index.row() + self.first
        if column is None or row >= len(column):
            return "" if role in (_ROLE.DisplayRole, _ROLE.EditRole) else None
        if role == _ROLE.DisplayRole:
            return self.cell(index.column(), row)
        show = _SHOWN.get(role)
        return show(self.theme, column, row) if show is not None else None

    def cell(self, number: int, row: int) -> str:
        """A cell as it is shown."""
        assert self.table is not None
        column = self.table.columns[number]
        return shown_cell(column, row, self._decimals.get(id(column), 6))

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> object:
        if self.table is None:
            return None
        if orientation == Qt.Orientation.Vertical:
            row = section + self.first
            beyond = row >= self.table.row_count
            return ("" if beyond else str(row + 1)) if role == _ROLE.DisplayRole else None
        column = self.column_at(section)
        if column is None:
            said = {_ROLE.AccessibleTextRole: "a new column", _ROLE.ToolTipRole: _BEYOND}
            return said.get(_ROLE(role), "" if role == _ROLE.DisplayRole else None)
        if role in (_ROLE.DisplayRole, _ROLE.AccessibleTextRole):
            return column.name
        if role == _ROLE.ToolTipRole:
            return plain_tip(self._head_told(column))
        return None

    def _head_told(self, column: Column) -> str:
        tag = self.tags.get(column.name)
        parts = [f"{plain_text(rich(column.title))}: {KIND_WORDS[column.kind]}"]
        parts.append(f"drawn as {tag.text}" if tag else "not drawn")
        if column.rule is not None:
            parts.append(column.rule.words)
        return ", ".join(parts) + ". Double-click to change name and unit."


_BEYOND = "Type here to begin a new column: first its name, then its readings."


def _told(_theme: Theme, column: Column, row: int) -> str:
    text = column.cell(row)
    if row in column.texts:
        return f"“{text}” is text, so it is left out. See Repair above the table."
    if row in column.as_read:
        return f"{text or 'missing'}; was read as “{column.as_read[row]}”"
    return text or "missing"


def _alignment(_theme: Theme, column: Column, row: int) -> int:
    right = column.kind != TEXT and row not in column.texts
    side = Qt.AlignmentFlag.AlignRight if right else Qt.AlignmentFlag.AlignLeft
    return int(side | Qt.AlignmentFlag.AlignVCenter)


def _ground(theme: Theme, column: Column, row: int) -> QBrush | None:
    return QBrush(QColor(theme.held_ground)) if row in column.texts else None


def _ink(theme: Theme, column: Column, row: int) -> QBrush | None:
    softer = row in column.as_read or column.rule is not None
    return QBrush(QColor(theme.soft)) if softer else None


_SHOWN: dict[int, Callable[[Theme, Column, int], object]] = {
    _ROLE.EditRole: lambda _, column, row: column.cell(row),
    _ROLE.TextAlignmentRole: _alignment,
    _ROLE.ToolTipRole: lambda *about: plain_tip(_told(*about)),
    _ROLE.BackgroundRole: _ground,
    _ROLE.ForegroundRole: _ink,
}


def sample_width(model: GridModel, number: int, measure: Callable[[str], int]) -> int:
    """The width of the widest of the first cells of a column."""
    table = model.table
    rows: Sequence[int] = range(min(table.row_count, 60)) if table is not None else ()
    return max((measure(model.cell(number, row)) for row in rows), default=0)
