"""What the window does with tables of readings: opening more, reading again, summaries, rows."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from attrs import evolve

from sornix.core.document import (
    Document,
    add_summary,
    blank_document,
    draw_table,
    remove_table,
    rename_table,
    with_table_read_again,
)
from sornix.core.errors import SornixError
from sornix.core.figure import add_trend, change_panel, change_series
from sornix.core.readings import Table, write_text
from sornix.core.readings.changes.again import read_again
from sornix.core.readings.formats.sources import read_file
from sornix.core.text import plural
from sornix.gui.actions.columndesk import ColumnDesk
from sornix.gui.actions.following import Follower
from sornix.gui.actions.tableathand import TableAtHand
from sornix.gui.actions.tableclipboard import TableClipboard
from sornix.gui.base.preferences import as_preferred
from sornix.gui.table.readas import OTHER, with_word

if TYPE_CHECKING:
    from sornix.core.readings.tables.correlation import Correlations
    from sornix.gui.actions.atwork import AtWork


class ReadingsDesk(TableAtHand):
    """The acts on readings of a window."""

    def __init__(self, window: AtWork) -> None:
        super().__init__(window)
        self.follower = Follower(window, self.show_and_read)
        self._correlations: Any = None
        self.clipboard = TableClipboard(self)
        self.columns = ColumnDesk(self)

    # -- tables -------------------------------------------------------------------------------

    def ask_more(self) -> None:
        """Adds the readings of a file to the document."""
        self.window.files.ask_open(self.add_file, "Add readings from a file")

    def add_file(self, path: Path) -> None:
        self.window.start(
            f"reading {path.name}…",
            partial(read_file, path),
            partial(self.add, f"added {path.stem}"),
        )

    def new_table(self) -> None:
        """An empty table to type into: as a document of its own, or in the present one."""
        window = self.window
        if window.bench.document is None:
            document = as_preferred(blank_document(), window.settings)
            window.bench.begin(document, path=None, name="New readings")
        else:
            self.add("began a table", blank_document().tables)
        scene = self.window.bench.scene
        if self.table_pane is not None and scene is not None:
            self.table_pane.show_scene(scene)
            self.table_pane.grid.select_cell(0, 0)
            self.table_pane.grid.setFocus()

    def rename_table(self) -> None:
        table = self.table
        if table is None:
            return
        name = table.name

        def take(text: str) -> None:
            if self.edit(f"renamed “{name}”", lambda d: rename_table(d, name, text)):
                self.show_table(" ".join(text.split()))

        self.ask("Rename the table", "Name of the table:", name, take)

    def remove_table(self) -> None:
        table = self.table
        if table is not None:
            self.edit(f"removed “{table.name}”", lambda d: remove_table(d, table.name))

    def summarise(self) -> None:
        """Asks what a table is grouped by, and adds the summary."""
        from sornix.gui.dialogs.summarydialog import SummaryDialog

        table = self.table
        if table is None:
            return

        def take(grouping: Any) -> None:
            before = {t.name for t in self.window.bench.tables}
            if self.edit("summarised readings", lambda d: add_summary(d, grouping)):
                fresh = [t.name for t in self.window.bench.tables if t.name not in before]
                self.show_table(fresh[0])

        SummaryDialog(self.window.frame, table, self.column, take)

    def correlate(self) -> None:
        """Shows how the number columns go with one another."""
        from sornix.gui.dialogs.correlationview import CorrelationView

        table = self.table
        if table is None:
            return
        if sum(bool(column.count) for column in table.number_columns) < 2:
            self.window.say(f"“{table.name}” has fewer than two columns of numbers.")
            return

        def work(method: str, show: Callable[[Correlations], None]) -> None:
            from sornix.core.readings.tables.correlation import correlations

            self.window.start("correlating…", partial(correlations, table, method), show)

        # one such window at a time
        if self._correlations is not None:
            self._correlations.close()
        self._correlations = CorrelationView(
            self.window.frame, table, work, partial(self._draw_pair, table.name),
            partial(self._draw_matrix, table.name),
        )  # fmt: skip
        self._correlations.finished.connect(self._forget_correlations)

    def _forget_correlations(self) -> None:
        self._correlations = None

    def _draw_matrix(self, table: str) -> None:
        """Makes the correlations of a table the figure."""

        def change(document: Document) -> Document:
            figure = document.figure
            if figure.panel.series[0].table != table:
                figure = draw_table(document, table).figure
            return evolve(document, figure=change_panel(figure, form="correlations"))

        self.edit("drew correlations", change)

    def _draw_pair(self, table: str, x: str, y: str) -> None:
        """Draws one column against another with a line through them."""

        def change(document: Document) -> Document:
            figure = document.figure
            if figure.panel.series[0].table != table or len(figure.panel.series) > 1:
                figure = draw_table(document, table).figure
            if not figure.panel.trends:
                figure = add_trend(figure, figure.panel.series[0].id)
            series = figure.panel.series[0].id
            tables = document.tables
            figure = change_panel(figure, form="series")
            figure = change_series(figure, tables, series, x=x, y=y, mark="points")
            return evolve(document, figure=figure)

        self.edit(f"drew “{y}” against “{x}”", change)

    def save_table(self) -> None:
        """Asks where, and writes the table as delimited text."""
        table = self.table
        if table is None:
            return

        def write(path: Path, separator: str, *, for_spreadsheets: bool) -> None:
            if self.window.is_read([path]):
                return

            def work() -> None:
                from sornix.core.files import write_atomically

                raw = write_text(table, separator, units=True)
                write_atomically(path, b"\xef\xbb\xbf" * for_spreadsheets + raw)

            said = partial(self.window.tell, f"written to {path.name}")
            self.window.start(f"writing {path.name}…", work, lambda _: said(), writes=True)

        self.window.files.ask_save_table(table.name, write)

    # -- how it was read ----------------------------------------------------------------------

    def change_word(self, name: str, value: object) -> None:
        """Reads the table again with one decision changed."""
        table = self.table
        if table is None or table.read_as is None:
            return
        if name == "missing" and value == OTHER:
            take = lambda text: self.change_word(  # noqa: E731
                "missing", tuple(filter(None, (part.strip() for part in text.split(";"))))
            )
            marks = "; ".join(table.read_as.dialect.missing)
            self.ask("Missing readings", "Marks for a missing reading, divided by ;", marks, take)
            return
        held = with_word(table.read_as, name, value)
        self._read("read the table in another way", table, partial(read_again, table, held))

    def show_and_read(self, name: str) -> None:
        """Shows a table and reads its file again."""
        self.show_table(name)
        self.read_again()

    def read_again(self) -> None:
        """Reads the file of the table again."""
        table = self.table
        if table is not None:
            self._read("read the file again", table, partial(read_again, table))

    def _read(
        self, name: str, table: Table, work: Callable[[], tuple[Table, tuple[str, ...]]]
    ) -> None:
        def take(found: tuple[Table, tuple[str, ...]]) -> None:
            fresh, lost = found
            self.edit(name, lambda d: with_table_read_again(d, table.name, fresh))
            if lost:
                changes = plural(len(lost), "change")
                self.window.say(f"{changes} did not fit the readings any more: {' '.join(lost)}")

        self.window.start(f"reading {table.name}…", work, take)

    # -- rows ---------------------------------------------------------------------------------

    def insert_rows(self) -> None:
        table_pane = self.table_pane
        if table_pane is None or table_pane.table is None:
            return
        rows, _ = table_pane.grid.selected_block()
        at, count = (rows[0], len(rows)) if rows else (table_pane.table.row_count, 1)
        self.act(f"inserted {plural(count, 'row')}", "insert_rows", at=at, count=count)

    def delete_rows(self) -> None:
        rows = self.table_pane.grid.selected_rows() if self.table_pane is not None else []
        if rows:
            self.act(f"deleted {plural(len(rows), 'row')}", "delete_rows", rows=rows)

    def continue_pattern(self) -> None:
        """Continues what the selected cells begin: through the selection, or down to the end."""
        from sornix.core.readings.changes.fill import continued

        table_pane = self.table_pane
        if table_pane is None or table_pane.table is None:
            return
        rows, columns = table_pane.grid.selected_block()
        table = table_pane.table
        cells = []
        try:
            for number in (n for n in columns if n < len(table.columns)):
                column = table.columns[number]
                given = [column.cell(row) if row < len(column) else "" for row in rows]
                known = next((i for i, cell in enumerate(given) if not cell), len(given))
                end = rows[-1] + 1 if known < len(given) else table.row_count
                begin = rows[0] + known
                fresh = continued(given[:known], max(end - begin, 0))
                cells += [(begin + i, number, text) for i, text in enumerate(fresh)]
        except SornixError as error:
            self.window.say(str(error))
            return
        if cells:
            table_pane.edit("continued a pattern", "set_cells", cells=cells)
        else:
            self.window.say(
                "There is nothing below to fill. Select the cells that begin the pattern together "
                "with the empty ones that are to follow."
            )

    def find(self) -> None:
        if self.table_pane is not None:
            self.table_pane.show()
            self.table_pane.finder.open()
