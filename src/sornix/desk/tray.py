"""The readings tray: the table, each column with name, unit and a tag where it is drawn."""

from math import isnan
from typing import NamedTuple

from PyQt6.QtCore import (
    QAbstractTableModel,
    QItemSelection,
    QItemSelectionModel,
    QModelIndex,
    QRect,
    QRectF,
    QSize,
    Qt,
    pyqtSignal,
)
from PyQt6.QtGui import QBrush, QColor, QFont, QFontMetrics, QPainter
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QLabel, QTableView, QVBoxLayout, QWidget

from sornix.core.drawing import STYLES
from sornix.core.figure import own_axis
from sornix.core.readings import NUMBER, Column, Table
from sornix.core.text import decimal_text, plain_text, plural, rich, rounded
from sornix.desk.bars import Bar
from sornix.desk.theme import Theme
from sornix.desk.workbench import Scene

_SAMPLE_ROWS = 400


class Tag(NamedTuple):
    """Says that a column is drawn: on which axis, and in which colour ("" for an x column)."""

    text: str
    colour: str


def _decimals(column: Column) -> int:
    """Decimals that show the first rows of a number column in full, at most 6."""
    cells = (column.cell(row) for row in range(min(len(column), _SAMPLE_ROWS)))
    return min(max((len(c.partition(".")[2]) for c in cells if "e" not in c), default=0), 6)


class _TableModel(QAbstractTableModel):
    """A table for a view; cells are made only when they come into sight."""

    def __init__(self, theme: Theme, parent: QWidget) -> None:
        super().__init__(parent)
        self.theme = theme
        self.table: Table | None = None
        self.tags: dict[str, Tag] = {}
        self._decimals: list[int] = []

    def show_table(self, table: Table, tags: dict[str, Tag]) -> None:
        if table is not self.table:
            self.beginResetModel()
            self.table = table
            self._decimals = [_decimals(c) if c.kind == NUMBER else 0 for c in table.columns]
            self.tags = tags
            self.endResetModel()
        elif tags != self.tags:
            self.tags = tags
            self.headerDataChanged.emit(Qt.Orientation.Horizontal, 0, len(table.columns) - 1)

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        return self.table.row_count if self.table and not (parent and parent.isValid()) else 0

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        return len(self.table.columns) if self.table and not (parent and parent.isValid()) else 0

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if self.table is None or not index.isValid():
            return None
        column, row = self.table.columns[index.column()], index.row()
        strange = row in column.texts
        if role == Qt.ItemDataRole.DisplayRole:
            return self.cell(index.column(), row)
        if role == Qt.ItemDataRole.TextAlignmentRole:
            number = column.kind == NUMBER and not strange
            side = Qt.AlignmentFlag.AlignRight if number else Qt.AlignmentFlag.AlignLeft
            return int(side | Qt.AlignmentFlag.AlignVCenter)
        if role == Qt.ItemDataRole.ToolTipRole:
            said = "is text, not a number, so it is left out"
            return f"“{column.cell(row)}” {said}" if strange else column.cell(row) or "missing"
        if role == Qt.ItemDataRole.BackgroundRole and strange:
            return QBrush(QColor(self.theme.held_ground))
        return None

    def cell(self, number: int, row: int) -> str:
        assert self.table is not None
        column = self.table.columns[number]
        if column.kind != NUMBER or row in column.texts:
            return column.cell(row)
        value = float(column.numbers[row])
        if isnan(value):
            return ""
        shown = rounded(value, self._decimals[number])
        if (shown == 0 and value != 0) or abs(value) >= 1e12:
            return f"{value:.4g}".replace("-", "−")
        return decimal_text(shown)

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> object:
        if self.table is None:
            return None
        if orientation == Qt.Orientation.Vertical:
            return str(section + 1) if role == Qt.ItemDataRole.DisplayRole else None
        column = self.table.columns[section]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            return column.name
        if role == Qt.ItemDataRole.ToolTipRole:
            tag = self.tags.get(column.name)
            drawn = f", drawn as {tag.text}" if tag else ", not drawn"
            return f"{plain_text(rich(column.title))}: {column.kind}{drawn}"
        return None


class _Header(QHeaderView):
    """Column heads of three lines: name, unit or kind, tag."""

    HEIGHT = 81

    def __init__(self, model: _TableModel, theme: Theme) -> None:
        super().__init__(Qt.Orientation.Horizontal)
        self._columns, self.theme = model, theme
        self.setSectionsClickable(True)
        self.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft)

    def viewport_update(self) -> None:
        viewport = self.viewport()
        if viewport is not None:
            viewport.update()

    def sizeHint(self) -> QSize:
        return QSize(super().sizeHint().width(), self.HEIGHT)

    def wanted_width(self, section: int) -> float:
        """The width at which name and unit can be read."""
        table = self._columns.table
        if table is None:
            return 70
        bold = QFont(self.font())
        bold.setWeight(QFont.Weight.DemiBold)
        metrics = QFontMetrics(bold)
        words = table.columns[section].name.split() or [""]
        whole = metrics.horizontalAdvance(table.columns[section].name)
        longest = max(metrics.horizontalAdvance(word) for word in words)
        # on two lines where there are two words to put there
        return min(max(longest, whole * 0.62 if len(words) > 1 else whole) + 20, 150)

    def paintSection(self, painter: QPainter | None, rect: QRect, section: int) -> None:
        table = self._columns.table
        if painter is None or table is None or section >= len(table.columns):
            return
        column = table.columns[section]
        theme = self.theme
        painter.save()
        painter.fillRect(rect, QColor(theme.panel))
        number = column.kind == NUMBER
        align = Qt.AlignmentFlag.AlignRight if number else Qt.AlignmentFlag.AlignLeft
        inner = rect.adjusted(8, 5, -9, 0)
        font = QFont(self.font())
        font.setWeight(QFont.Weight.DemiBold)
        painter.setFont(font)
        painter.setPen(QColor(theme.ink))
        for i, line in enumerate(_two_lines(column.name, painter.fontMetrics(), inner.width())):
            at = inner.adjusted(0, 16 * i, 0, 0)
            painter.drawText(at, int(align | Qt.AlignmentFlag.AlignTop), line)
        font.setWeight(QFont.Weight.Normal)
        font.setPixelSize(12)
        painter.setFont(font)
        painter.setPen(QColor(theme.soft))
        second = plain_text(rich(column.unit)) or ("number" if number else "text")
        painter.drawText(
            inner.adjusted(0, 34, 0, 0), int(align | Qt.AlignmentFlag.AlignTop), second
        )
        tag = self._columns.tags.get(column.name)
        if tag is not None:
            self._paint_tag(painter, inner, tag, number)
        painter.setPen(QColor(theme.line))
        painter.drawLine(rect.bottomLeft(), rect.bottomRight())
        painter.restore()

    def _paint_tag(self, painter: QPainter, inner: QRect, tag: Tag, at_right: bool) -> None:
        width = painter.fontMetrics().horizontalAdvance(tag.text) + 16
        width = min(width, inner.width())
        left = inner.right() - width + 1 if at_right else inner.left()
        box = QRectF(left, inner.top() + 53, width, 16)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(tag.colour or self.theme.soft))
        painter.drawRoundedRect(box, 8, 8)
        painter.setPen(QColor("#ffffff"))
        painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), tag.text)


def _two_lines(name: str, metrics: QFontMetrics, width: int) -> list[str]:
    """A name on one or two lines of a width, the second one shortened if need be."""
    first = ""
    words = name.split()
    while words and metrics.horizontalAdvance(f"{first} {words[0]}".strip()) <= width:
        first = f"{first} {words.pop(0)}".strip()
    rest = " ".join(words)
    lines = [first] if first else []
    if rest:
        lines.append(metrics.elidedText(rest, Qt.TextElideMode.ElideRight, width))
    return lines


class Tray(Bar):
    """The table of the document, its heading above it."""

    rows_selected = pyqtSignal(tuple)

    def __init__(self, theme: Theme) -> None:
        super().__init__("tray")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 10, 1, 0)
        column.setSpacing(6)
        self._heading = QLabel()
        self._heading.setObjectName("heading")
        self._heading.setContentsMargins(14, 0, 8, 0)
        column.addWidget(self._heading)
        self.notes = QLabel()
        self.notes.setObjectName("notes")
        self.notes.setWordWrap(True)
        self.notes.setContentsMargins(14, 0, 8, 0)
        column.addWidget(self.notes)
        self._model = _TableModel(theme, self)
        self.view = QTableView()
        self.view.setModel(self._model)
        self.view.setAccessibleName("Readings")
        self._header = _Header(self._model, theme)
        self.view.setHorizontalHeader(self._header)
        self.view.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.view.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.view.setShowGrid(True)
        self.view.setCornerButtonEnabled(False)
        vertical = self.view.verticalHeader()
        if vertical is not None:
            vertical.setDefaultSectionSize(25)
            vertical.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
            vertical.setDefaultAlignment(
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
            )
        self._style_rows(theme)
        column.addWidget(self.view)
        selection = self.view.selectionModel()
        if selection is not None:
            selection.selectionChanged.connect(self._selected)

    def _style_rows(self, theme: Theme) -> None:
        vertical = self.view.verticalHeader()
        if vertical is not None:
            vertical.setStyleSheet(
                f"QHeaderView::section {{ color: {theme.soft}; background: {theme.panel};"
                " border: none; padding: 0 7px 0 4px; font-size: 12px; }"
                f"QHeaderView {{ background: {theme.panel}; border: none; }}"
            )

    @property
    def selected_rows(self) -> list[int]:
        """The row indices that are selected."""
        return self._rows(None)

    @property
    def has_selected_rows(self) -> bool:
        selection = self.view.selectionModel()
        return selection is not None and selection.hasSelection()

    def _rows(self, most: int | None) -> list[int]:
        """The first selected row indices, from the ranges: a million rows are one range."""
        selection = self.view.selectionModel()
        rows: list[int] = []
        spans = selection.selection() if selection is not None else QItemSelection()
        for number in range(spans.count()):
            span = spans[number]
            end = span.bottom() + 1
            if most is not None:
                end = min(end, span.top() + most - len(rows))
            rows += range(span.top(), end)
        return sorted(set(rows))

    def set_theme(self, theme: Theme) -> None:
        self._model.theme = self._header.theme = theme
        self._style_rows(theme)
        self._header.viewport_update()

    def show_scene(self, scene: Scene) -> None:
        """Shows the table that the panel in hand is drawn from."""
        table = scene.table
        fresh = table is not self._model.table
        self._model.show_table(table, column_tags(scene))
        rows = plural(table.row_count, "row")
        self._heading.setText(f"READINGS  ·  {table.name}  ·  {rows}")
        self.notes.setText(" ".join(table.remarks))
        self.notes.setVisible(bool(table.remarks))
        if fresh:
            metrics = self.view.fontMetrics()
            for i in range(len(table.columns)):
                cells = (self._model.cell(i, r) for r in range(min(table.row_count, 60)))
                widest = max((metrics.horizontalAdvance(c) for c in cells), default=0)
                wanted = max(self._header.wanted_width(i), widest + 24, 58)
                self.view.setColumnWidth(i, round(wanted))

    def light_row(self, row: int | None) -> None:
        """Selects a row and brings it into sight; None selects nothing."""
        selection = self.view.selectionModel()
        if selection is None:
            return
        if row is None:
            self.view.clearSelection()
            return
        index = self._model.index(row, 0)
        self.view.scrollTo(index, QAbstractItemView.ScrollHint.EnsureVisible)
        flags = QItemSelectionModel.SelectionFlag
        selection.select(index, flags.ClearAndSelect | flags.Rows)

    def _selected(self, _now: QItemSelection, _before: QItemSelection) -> None:
        # thousands of rings would say nothing
        self.rows_selected.emit(tuple(self._rows(200)))


def column_tags(scene: Scene) -> dict[str, Tag]:
    """Which columns are drawn, and where."""
    panel, style = scene.figure.panel, STYLES[scene.figure.style]
    tags: dict[str, Tag] = {}
    for series in panel.series:
        colour = style.look(series.look).colour
        for axis, name in (("x", series.x), ("y", series.y)):
            if name is None:
                continue
            before = tags.get(name)
            if before is None:
                own = axis == own_axis(panel)
                tags[name] = Tag(axis, colour if own else "")
            elif axis not in before.text.split(" "):
                tags[name] = Tag(f"{before.text} {axis}", before.colour or colour)
    return tags
