"""The table that is shown, and what every act on it is made of."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from sornix.core.document import Document, add_tables, draw_table
from sornix.core.readings import Column, Table, Tables
from sornix.gui.widgets.question import asking

if TYPE_CHECKING:
    from sornix.gui.actions.atwork import AtWork
    from sornix.gui.table.tablepane import TablePane


class TableAtHand:
    """The table in the tray of a window."""

    def __init__(self, window: AtWork) -> None:
        self.window = window

    @property
    def table_pane(self) -> TablePane | None:
        panes = self.window.panes
        return panes.table_pane if panes is not None else None

    @property
    def table(self) -> Table | None:
        """The table that is shown."""
        return self.table_pane.table if self.table_pane is not None else None

    @property
    def column(self) -> Column | None:
        """The column in which the current cell is."""
        table_pane = self.table_pane
        if table_pane is None or table_pane.table is None:
            return None
        return table_pane.grid.cells.column_at(table_pane.grid.currentIndex().column())

    def is_in_hand(self) -> bool:
        """Whether the grid has the keyboard."""
        return self.table_pane is not None and self.table_pane.grid.hasFocus()

    def edit(self, name: str, change: Callable[[Document], Document]) -> bool:
        return self.window.bench.edit_document(name, change)

    def act(self, step: str, act: str, /, **arguments: Any) -> None:
        if self.table_pane is not None:
            self.table_pane.edit(step, act, **arguments)

    def add(self, name: str, tables: Tables) -> None:
        before = {table.name for table in self.window.bench.tables}
        if self.edit(name, lambda d: add_tables(d, tables)):
            fresh = [t for t in self.window.bench.tables if t.name not in before]
            self.show_table(fresh[0].name)
            if fresh[0].row_count:
                said = f"“{fresh[0].name}” is a table of its own; the figure stayed as it was."
                self.window.offer(said, {"Draw it": self.draw_table})

    def show_table(self, name: str) -> None:
        if self.table_pane is not None:
            self.table_pane.show_table(name)

    def draw_table(self) -> None:
        table = self.table
        if table is not None:
            self.edit(f"drew “{table.name}”", lambda d: draw_table(d, table.name))

    def ask(self, title: str, label: str, text: str, take: Callable[[str], object]) -> None:
        """Asks for a line of text."""
        dialog = asking(self.window.frame)
        dialog.setWindowTitle(title)
        dialog.setLabelText(label)
        dialog.setTextValue(text)
        dialog.resize(420, dialog.height())
        dialog.accepted.connect(lambda: take(dialog.textValue()))
        dialog.finished.connect(dialog.deleteLater)
        dialog.open()
