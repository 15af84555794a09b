"""The readings tray: the tables of the document, how they were read, and the grid of one."""

from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from sornix.core.document import Document, change_table
from sornix.core.drawing import style_of
from sornix.core.figure import own_axis
from sornix.core.readings import Table, table_named
from sornix.core.readings.cells.header import parse_heading
from sornix.core.text import counted, plural
from sornix.gui.base.plain import plain_label, plain_tip
from sornix.gui.base.theme import Theme
from sornix.gui.session.scene import Scene
from sornix.gui.session.workbench import Workbench
from sornix.gui.table.grid import Grid
from sornix.gui.table.gridmodel import Cells, Tag
from sornix.gui.table.readas import ReadAsLine
from sornix.gui.table.remarks import Remarks
from sornix.gui.widgets.bars import Bar
from sornix.gui.widgets.inlinecontrols import Choice, ChoiceWord
from sornix.gui.widgets.inplace import InPlace

# Acts of the menu of tables, by the names that the window knows them by.
TABLE_ACTS = {
    "add-readings": "Add readings from a file…",
    "new-table": "New empty table",
    "summary": "Summarise by groups…",
    "rename-table": "Rename this table…",
    "draw-table": "Draw this table",
    "remove-table": "Remove this table",
}


# words, work, and what is done with its result
Start = Callable[[str, Callable[[], Any], Callable[[Any], None]], None]
_PART = "The grid holds a part of so many rows. Find goes to any other: type “row” and its number."
# Acts on longer tables are done off the interface thread.
_MANY_ROWS = 100_000


class TablePane(Bar):
    """One table of the document, its name and how it was read above it.

    `act_wanted` names an act of the window; `word_changed` gives a decision about reading.
    """

    rows_selected = pyqtSignal(str, tuple)
    act_wanted = pyqtSignal(str)
    word_changed = pyqtSignal(str, object)
    column_menu_wanted = pyqtSignal(int, object)

    def __init__(self, bench: Workbench, theme: Theme) -> None:
        super().__init__("tray")
        self._bench = bench
        # does slow work elsewhere; the window gives it
        self.start: Start | None = None
        self.table_name = ""
        self._shown_name = ""
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 8, 1, 0)
        column.setSpacing(4)
        column.addLayout(self._make_heading())
        self.read_as = ReadAsLine()
        self.read_as.setContentsMargins(14, 0, 6, 0)
        self.read_as.changed.connect(self.word_changed)
        column.addWidget(self.read_as)
        self.notes = Remarks()
        column.addWidget(self.notes)
        self.repair = ChoiceWord(
            "What can be made of the cells that are not of their column’s kind"
        )
        self.repair.setProperty("small", "true")
        self.repair.chosen.connect(self._repair)
        holder = QHBoxLayout()
        holder.setContentsMargins(11, 0, 8, 2)
        holder.addWidget(self.repair)
        holder.addStretch(1)
        column.addLayout(holder)
        self.grid = Grid(theme)
        self.grid.cells.set_cells = self._set_cells
        self.grid.cells.modelReset.connect(self._tell_rows)
        self.grid.rows_selected.connect(lambda rows: self.rows_selected.emit(self.table_name, rows))
        self.grid.copy_wanted.connect(partial(self.act_wanted.emit, "copy-cells"))
        self.grid.menu_wanted.connect(self.column_menu_wanted)
        self.grid.heads.menu_wanted.connect(self.column_menu_wanted)
        self.grid.heads.name_wanted.connect(self.type_name)
        column.addWidget(self.grid, 1)
        self.finder = Finder(self.grid)
        column.addWidget(self.finder)

    def _make_heading(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setContentsMargins(11, 0, 8, 0)
        row.setSpacing(6)
        self.tables = ChoiceWord("The table that is shown, and what can be done with tables")
        self.tables.setProperty("heading", "true")
        self.tables.chosen.connect(self._choose)
        self.rows = plain_label()
        self.rows.setObjectName("heading")
        row.addWidget(self.tables)
        row.addWidget(self.rows)
        row.addStretch(1)
        return row

    # -- showing ------------------------------------------------------------------------------

    @property
    def table(self) -> Table | None:
        """The table that is shown."""
        names = [table.name for table in self._bench.tables]
        return (
            table_named(self._bench.tables, self.table_name) if self.table_name in names else None
        )

    def set_theme(self, theme: Theme) -> None:
        self.grid.set_theme(theme)

    def show_scene(self, scene: Scene) -> None:
        """Shows the chosen table, or else the one that the panel in hand is drawn from."""
        if self.table is None:
            self.table_name = scene.table.name
        table = table_named(scene.tables, self.table_name)
        fresh = self.grid.cells.table is None or _shape(self.grid.cells.table) != _shape(table)
        self.grid.cells.show_table(table, column_tags(scene, self.table_name))
        if fresh:
            self.grid.fit_columns()
        if self._shown_name != table.name:
            self._shown_name = table.name
            self.grid.scrollTo(self.grid.cells.index(0, 0))
        several = len(scene.tables) > 1
        named = (
            [Choice(t.name, t.name, t.name == table.name) for t in scene.tables] if several else []
        )
        acts = [Choice(_Act(name), words) for name, words in TABLE_ACTS.items()]
        acts[0] = acts[0]._replace(divided=several)
        self.tables.set_choices(_shortened(table.name), [*named, *acts])
        self._tell_rows()
        self.read_as.show_table(table)
        self.notes.show_remarks(table.remarks)
        self._offer_repairs(table)

    def _tell_rows(self) -> None:
        """How many rows the table has, and which of very many are in the grid."""
        cells = self.grid.cells
        if cells.table is None:
            return
        told = plural(cells.table.row_count, "row")
        if cells.is_part:
            told += f", {counted(cells.shown.start + 1)} to {counted(cells.shown.stop)} here"
        self.rows.setText(told)
        self.rows.setToolTip(plain_tip(_PART) if cells.is_part else "")

    def show_table(self, name: str) -> None:
        """Shows another table of the document."""
        self.table_name = name
        if self._bench.scene is not None:
            self.show_scene(self._bench.scene)

    def _choose(self, chosen: object) -> None:
        if isinstance(chosen, _Act):
            self.act_wanted.emit(str(chosen))
        else:
            self.show_table(str(chosen))

    def _offer_repairs(self, table: Table) -> None:
        entries: list[Choice] = []
        if any(column.texts for column in table.columns):
            from sornix.core.readings.changes.repair import proposals, ways_for

            for column in table.columns:
                for proposal in proposals(column):
                    said = f"“{column.name}”: {proposal.words}, such as “{proposal.example}”"
                    first = Choice((column.name, proposal.rows[0]), said, divided=bool(entries))
                    entries.append(first)
                    entries += [
                        Choice((column.name, proposal.form, name), f"     {way.words}")
                        for name, way in ways_for(proposal, column).items()
                    ]
        self.repair.setVisible(bool(entries))
        if entries:
            count = sum(len(column.texts) for column in table.columns)
            self.repair.set_choices(f"Repair {plural(count, 'cell')}", entries)

    # -- editing ------------------------------------------------------------------------------

    def edit(self, step: str, act: str, /, **arguments: Any) -> bool:
        """One step of history: an act on the table that is shown."""
        table = self.table_name

        def change(document: Document) -> Document:
            return change_table(document, table, act, **arguments)

        shown = self.table
        if self.start is not None and shown is not None and shown.row_count > _MANY_ROWS:
            self.edit_elsewhere(step, change)
            return True
        done = self._bench.edit_document(step, change)
        # at once: the hand is on its way to the next cell
        if done and self._bench.scene is not None:
            self.show_scene(self._bench.scene)
        return done

    def edit_elsewhere(self, step: str, change: Callable[[Document], Document]) -> None:
        """The same for so many rows that the window would stand still."""
        before = self._bench.document
        if before is None or self.start is None:
            return

        def take(after: Document) -> None:
            if self._bench.document is before:
                self._bench.edit_document(step, lambda _: after)
            else:
                # something else was done meanwhile
                self.edit_elsewhere(step, change)

        self.start(f"{step}…", lambda: change(before), take)

    def _set_cells(self, cells: Cells) -> bool:
        words = "typed a cell" if len(cells) == 1 else f"changed {plural(len(cells), 'cell')}"
        return self.edit(words, "set_cells", cells=cells)

    def _repair(self, chosen: object) -> None:
        table = self.table
        if table is None or not isinstance(chosen, tuple):
            return
        column = str(chosen[0])
        if len(chosen) == 2:
            self.grid.select_cell(int(chosen[1]), table.column_names.index(column))
            return
        self.edit(f"repaired “{column}”", "repair", column=column, form=chosen[1], way=chosen[2])

    def type_name(self, number: int) -> None:
        """Types name and unit of a column over its head."""
        column = self.grid.cells.column_at(number)
        if column is None:
            return
        written = f"{column.name} ({column.unit})" if column.unit else column.name
        name = column.name

        def take(text: str) -> None:
            heading = parse_heading(text)
            if (heading.name, heading.unit) != (column.name, column.unit):
                words = f"renamed “{name}”"
                self.edit(words, "rename", column=name, name=heading.name, unit=heading.unit)
            self.grid.setFocus()

        field = InPlace(self.grid.heads.viewport() or self, "Name and unit", written, take)
        field.setToolTip("Name (unit). Enter takes it, Esc leaves it.")
        rect = self.grid.heads.section_rect(number)
        width = max(rect.width() - 2, 170)
        left = min(rect.left() + 1, self.grid.heads.width() - width - 14)
        field.setGeometry(max(left, 0), 4, width, 30)
        field.show()
        field.setFocus()


class _Act(str):
    """The name of an act, told from the name of a table."""

    __slots__ = ()


class Finder(QWidget):
    """Looks for a text or a number in the grid. Enter goes to the next place, Esc closes."""

    def __init__(self, grid: Grid) -> None:
        super().__init__()
        self._grid = grid
        self.start: Start | None = None
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 4, 8, 6)
        row.setSpacing(6)
        self.field = QLineEdit()
        self.field.setObjectName("finder")
        self.field.setPlaceholderText("Find a text, a number, or a row: row 500")
        self.field.setAccessibleName("Find in the readings")
        self.field.returnPressed.connect(self.go_on)
        self.told = plain_label()
        self.told.setObjectName("notes")
        row.addWidget(self.field, 1)
        row.addWidget(self.told)
        for sign, name, step in (("↑", "The place before", -1), ("↓", "The next place", 1)):
            button = QPushButton(sign)
            button.setProperty("small", "true")
            button.setAccessibleName(name)
            button.setToolTip(plain_tip(name))
            button.clicked.connect(partial(self.go_on, step))
            row.addWidget(button)
        self.hide()

    def open(self) -> None:
        """Shows the bar and takes the keyboard."""
        self.show()
        self.field.setFocus()
        self.field.selectAll()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.hide()
            self._grid.setFocus()
            return
        super().keyPressEvent(event)

    def go_on(self, step: int = 1) -> None:
        """To the next place that holds what is looked for, from the cell that is current."""
        from sornix.core.readings.changes.find import find_cells, row_in

        table, text = self._grid.cells.table, self.field.text()
        if table is None:
            return
        if (row := row_in(text)) is not None:
            there = 0 < row <= table.row_count
            self.told.setText("" if there else f"There is no row {counted(row)}.")
            if there:
                self._grid.select_cell(row - 1, max(self._grid.currentIndex().column(), 0))
            return
        if self._grid.cells.is_part:
            self.told.setText("So many cells are not looked through.")
            return
        if self.start is not None and table.row_count > _MANY_ROWS:
            take = partial(self._go, step)
            self.start("looking…", lambda: find_cells(table, text), take)
        else:
            self._go(step, find_cells(table, text))

    def _go(self, step: int, places: list[tuple[int, int]]) -> None:
        if not places:
            self.told.setText("not found" if self.field.text().strip() else "")
            return
        current = self._grid.currentIndex()
        here = (self._grid.row_at(current), current.column())
        after = [i for i, place in enumerate(places) if place > here]
        before = [i for i, place in enumerate(places) if place < here]
        number = (after[0] if after else 0) if step > 0 else (before[-1] if before else -1)
        self._grid.select_cell(*places[number])
        self.told.setText(f"{number % len(places) + 1} of {len(places)}")


def _shape(table: Table) -> tuple[object, ...]:
    """What the widths of columns depend on."""
    return (table.name, tuple((c.name, c.unit, c.kind) for c in table.columns))


def _shortened(name: str, most: int = 22) -> str:
    return name if len(name) <= most else name[: most - 1].rstrip() + "…"


def column_tags(scene: Scene, table_name: str) -> dict[str, Tag]:
    """Which columns of a table are drawn, and where."""
    panel, style = scene.figure.panel, style_of(scene.figure)
    tags: dict[str, Tag] = {}
    for series in panel.series:
        if series.table != table_name:
            continue
        colour = style.look_of(series).colour
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
