"""What the window does with readings: opening more, pasting, repairing, computing, following."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from attrs import evolve
from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QApplication, QInputDialog, QMenu

from sornix.core.document import (
    Document,
    add_summary,
    add_tables,
    blank_document,
    change_table,
    draw_table,
    remove_table,
    rename_table,
    with_table_read_again,
)
from sornix.core.errors import SornixError
from sornix.core.figure import add_trend, change_series
from sornix.core.readings import KIND_WORDS, NUMBER, Column, Table, Tables, write_text
from sornix.core.readings.sources import read_again, read_file, read_pasted
from sornix.core.text import plural
from sornix.desk.following import Follower
from sornix.desk.readas import OTHER, with_word

if TYPE_CHECKING:
    from sornix.core.readings.correlation import Correlations
    from sornix.desk.tray import Tray
    from sornix.desk.window import Window


class ReadingsDesk:
    """The acts on readings of a window."""

    def __init__(self, window: Window) -> None:
        self._window = window
        self.follower = Follower(window)
        self._correlations: Any = None

    # -- what is at hand ----------------------------------------------------------------------

    @property
    def tray(self) -> Tray | None:
        panes = self._window.panes
        return panes.tray if panes is not None else None

    @property
    def table(self) -> Table | None:
        """The table that is shown."""
        return self.tray.table if self.tray is not None else None

    @property
    def column(self) -> Column | None:
        """The column in which the current cell is."""
        tray = self.tray
        if tray is None or tray.table is None:
            return None
        return tray.grid.cells.column_at(tray.grid.currentIndex().column())

    def is_in_hand(self) -> bool:
        """Whether the grid has the keyboard."""
        return self.tray is not None and self.tray.grid.hasFocus()

    def edit(self, name: str, change: Callable[[Document], Document]) -> bool:
        return self._window.bench.edit_document(name, change)

    def _act(self, step: str, act: str, /, **arguments: Any) -> None:
        if self.tray is not None:
            self.tray.edit(step, act, **arguments)

    # -- tables -------------------------------------------------------------------------------

    def ask_more(self) -> None:
        """Adds the readings of a file to the document."""
        self._window.files.ask_open(self.add_file, "Add readings from a file")

    def add_file(self, path: Path) -> None:
        self._window.start(
            f"reading {path.name}…",
            partial(read_file, path),
            partial(self._add, f"added {path.stem}"),
        )

    def _add(self, name: str, tables: Tables) -> None:
        before = {table.name for table in self._window.bench.tables}
        if self.edit(name, lambda d: add_tables(d, tables)):
            fresh = [t for t in self._window.bench.tables if t.name not in before]
            self.show_table(fresh[0].name)
            if fresh[0].row_count:
                said = f"“{fresh[0].name}” is a table of its own; the figure stayed as it was."
                self._window.offer(said, {"Draw it": self.draw_table})

    def new_table(self) -> None:
        """An empty table to type into: as a document of its own, or in the present one."""
        window = self._window
        if window.bench.document is None:
            window.bench.begin(blank_document(), path=None, name="New readings")
        else:
            self._add("began a table", blank_document().tables)
        scene = self._window.bench.scene
        if self.tray is not None and scene is not None:
            self.tray.show_scene(scene)
            self.tray.grid.select_cell(0, 0)
            self.tray.grid.setFocus()

    def show_table(self, name: str) -> None:
        if self.tray is not None:
            self.tray.show_table(name)

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

    def draw_table(self) -> None:
        table = self.table
        if table is not None:
            self.edit(f"drew “{table.name}”", lambda d: draw_table(d, table.name))

    def summarise(self) -> None:
        """Asks what a table is grouped by, and adds the summary."""
        from sornix.desk.summarydialog import SummaryDialog

        table = self.table
        if table is None:
            return

        def take(grouping: Any) -> None:
            before = {t.name for t in self._window.bench.tables}
            if self.edit("summarised readings", lambda d: add_summary(d, grouping)):
                fresh = [t.name for t in self._window.bench.tables if t.name not in before]
                self.show_table(fresh[0])

        SummaryDialog(self._window.frame, table, self.column, take)

    def correlate(self) -> None:
        """Shows how the number columns go with one another."""
        from sornix.desk.correlationview import CorrelationView

        table = self.table
        if table is None:
            return
        if sum(bool(column.count) for column in table.number_columns) < 2:
            self._window.say(f"“{table.name}” has fewer than two columns of numbers.")
            return

        def work(method: str, show: Callable[[Correlations], None]) -> None:
            from sornix.core.readings.correlation import correlations

            self._window.start("correlating…", partial(correlations, table, method), show)

        # one such window at a time
        if self._correlations is not None:
            self._correlations.close()
        self._correlations = CorrelationView(
            self._window.frame, table, work, partial(self._draw_pair, table.name)
        )
        self._correlations.finished.connect(self._forget_correlations)

    def _forget_correlations(self) -> None:
        self._correlations = None

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
            figure = change_series(figure, tables, series, x=x, y=y, mark="points")
            return evolve(document, figure=figure)

        self.edit(f"drew “{y}” against “{x}”", change)

    def save_table(self) -> None:
        """Asks where, and writes the table as delimited text."""
        table = self.table
        if table is None:
            return

        def write(path: Path, separator: str, *, for_spreadsheets: bool) -> None:
            def work() -> None:
                from sornix.core.document import write_atomically

                raw = write_text(table, separator, units=True)
                write_atomically(path, b"\xef\xbb\xbf" * for_spreadsheets + raw)

            said = partial(self._window.tell, f"written to {path.name}")
            self._window.start(f"writing {path.name}…", work, lambda _: said())

        self._window.files.ask_save_table(table.name, write)

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
                self._window.say(f"{changes} did not fit the readings any more: {' '.join(lost)}")

        self._window.start(f"reading {table.name}…", work, take)

    # -- the clipboard ------------------------------------------------------------------------

    def copy_cells(self) -> None:
        """Puts the selected cells on the clipboard as tab-separated text."""
        tray = self.tray
        if tray is None or tray.table is None:
            return
        rows, columns = tray.grid.selected_block()
        table = tray.table
        rows = [row for row in rows if row < table.row_count]
        chosen = [table.columns[i] for i in columns if i < len(table.columns)]
        lines = ["\t".join(_one_line(column.cell(row)) for column in chosen) for row in rows]
        self._window.copy_text("\n".join(lines))

    def copy_table(self) -> None:
        """Puts the whole table on the clipboard as tab-separated text."""
        table = self.table
        if table is not None:
            self._window.copy_text(write_text(table, "\t", units=True).decode())

    def paste(self) -> None:
        """Over cells where the grid is in hand, else as a new table."""
        if self.is_in_hand():
            self.paste_cells()
        else:
            self.paste_table()

    def paste_table(self) -> None:
        """The table on the clipboard as a new one: a document of its own, or in the present one."""
        text, html = _clipboard()
        if not text.strip() and not html:
            self._window.say(
                "There is no table on the clipboard. Copy one in another program first."
            )
            return
        self.take_text(text, html)

    def take_text(self, text: str, html: str = "") -> None:
        """A text that was pasted or dropped, as a table."""
        work = partial(read_pasted, text, html)
        if self._window.bench.document is None:
            self._window.open_table("Pasted readings", work)
        else:
            add = lambda table: self._add("pasted a table", (table,))  # noqa: E731
            self._window.start("reading the table…", work, add)

    def paste_columns(self) -> None:
        """The table on the clipboard as new columns of the one that is shown."""
        text, html = _clipboard()
        if not text.strip() and not html:
            self._window.say(
                "There is no table on the clipboard. Copy one in another program first."
            )
            return

        def take(fresh: Table) -> None:
            columns = [{"name": c.name, "unit": c.unit, "cells": c.cells()} for c in fresh.columns]
            words = f"pasted {plural(len(columns), 'column')}"
            self._act(words, "add_columns", columns=columns)

        self._window.start("reading the table…", partial(read_pasted, text, html), take)

    def paste_cells(self) -> None:
        """The block on the clipboard over the cells from the current one on."""
        tray = self.tray
        if tray is None:
            return
        text, html = _clipboard()
        rows = _block(text, html)
        at = tray.grid.currentIndex()
        top, left = max(at.row(), 0), max(at.column(), 0)
        # over the top left corner of what is selected, wherever the selection was begun
        chosen_rows, chosen_columns = tray.grid.selected_block()
        if chosen_rows:
            top, left = chosen_rows[0], chosen_columns[0]
        cells = [
            (top + i, left + j, cell) for i, row in enumerate(rows) for j, cell in enumerate(row)
        ]
        if cells:
            words = f"pasted {plural(len(cells), 'cell')}"
            tray.edit(words, "set_cells", cells=cells)

    # -- rows ---------------------------------------------------------------------------------

    def insert_rows(self) -> None:
        tray = self.tray
        if tray is None or tray.table is None:
            return
        rows, _ = tray.grid.selected_block()
        at, count = (rows[0], len(rows)) if rows else (tray.table.row_count, 1)
        self._act(f"inserted {plural(count, 'row')}", "insert_rows", at=at, count=count)

    def delete_rows(self) -> None:
        rows = self.tray.grid.selected_rows() if self.tray is not None else []
        if rows:
            self._act(f"deleted {plural(len(rows), 'row')}", "delete_rows", rows=rows)

    def continue_pattern(self) -> None:
        """Continues what the selected cells begin: through the selection, or down to the end."""
        from sornix.core.readings.fill import continued

        tray = self.tray
        if tray is None or tray.table is None:
            return
        rows, columns = tray.grid.selected_block()
        table = tray.table
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
            self._window.say(str(error))
            return
        if cells:
            tray.edit("continued a pattern", "set_cells", cells=cells)
        else:
            self._window.say(
                "There is nothing below to fill. Select the cells that begin the pattern together "
                "with the empty ones that are to follow."
            )

    def find(self) -> None:
        if self.tray is not None:
            self.tray.show()
            self.tray.finder.open()

    # -- columns ------------------------------------------------------------------------------

    def open_column_menu(self, number: int, at: QPoint | None) -> None:
        """The menu of a column."""
        tray = self.tray
        column = tray.grid.cells.column_at(number) if tray is not None else None
        if tray is None or column is None:
            return
        if at is None:
            rect = tray.grid.heads.section_rect(number)
            at = tray.grid.heads.mapToGlobal(rect.bottomLeft())
        menu = QMenu(self._window.frame)
        menu.setObjectName("columnMenu")
        for entry in self._entries(column, number):
            if entry is None:
                menu.addSeparator()
                continue
            words, run, ticked, enabled = entry
            action = menu.addAction(words.replace("&", "&&"))
            if action is not None:
                action.setEnabled(enabled)
                if ticked is not None:
                    action.setCheckable(True)
                    action.setChecked(ticked)
                action.triggered.connect(lambda _=False, run=run: run())
        menu.aboutToHide.connect(menu.deleteLater)
        menu.popup(at)

    def _entries(self, column: Column, number: int) -> list[_Entry | None]:
        tray = self.tray
        assert tray is not None
        name = column.name
        own = column.rule is None
        act = self._act

        def sort(*, descending: bool) -> None:
            act(f"sorted by “{name}”", "sort", column=name, descending=descending)

        def entry(words: str, run: Callable[[], object], *, enabled: bool = True) -> _Entry:
            return (words, run, None, enabled)

        kinds: list[_Entry] = [
            (f"Is {words}", partial(self.set_kind, column, kind), kind == column.kind, own)
            for kind, words in KIND_WORDS.items()
        ]
        insert = partial(act, "inserted a column", "insert_column")
        return [
            entry("Name and unit…", partial(tray.type_name, number)),
            entry("Convert to another unit…", partial(self.convert, column),
                  enabled=own and column.kind == NUMBER and bool(column.unit)),
            None, *kinds, None,
            entry("Draw upward (y)", partial(self._draw_column, name, "y"),
                  enabled=column.has_places),
            entry("Draw along (x)", partial(self._draw_column, name, "x"),
                  enabled=column.has_places),
            None,
            entry("Sort rows, rising", partial(sort, descending=False)),
            entry("Sort rows, falling", partial(sort, descending=True)),
            None,
            entry("Change its formula…" if not own else "Compute a column…",
                  partial(self.compute, None if own else column)),
            entry("Words for its codes…", partial(self.name_codes, column)),
            entry("Count the entries of its cells…", partial(self.count_entries, column)),
            entry("Make it a column of its own", partial(act, "settled a column", "settle",
                  column=name), enabled=not own),
            entry("Cells as they were read", partial(act, "restored cells", "restore",
                  column=name), enabled=bool(column.as_read)),
            None,
            entry("Insert a column before", partial(insert, at=number)),
            entry("Insert a column after", partial(insert, at=number + 1)),
            entry("Delete this column", partial(act, f"deleted “{name}”", "delete_columns",
                  names=[name])),
        ]  # fmt: skip

    def set_kind(self, column: Column, kind: str) -> None:
        words = f"made “{column.name}” {KIND_WORDS[kind]}"
        self._act(words, "set_kind", column=column.name, kind=kind)

    def _draw_column(self, name: str, axis: str) -> None:
        tray = self.tray
        if tray is None:
            return
        table = tray.table_name

        def change(document: Document) -> Document:
            figure = document.figure
            if figure.panel.series[0].table != table:
                document = draw_table(document, table)
                figure = document.figure
            series = figure.panel.series[0].id
            changes = {axis: name}
            figure = change_series(figure, document.tables, series, **changes)
            return evolve(document, figure=figure)

        self.edit(f"drew “{name}” as {axis}", change)

    def convert(self, column: Column) -> None:
        """Asks for another unit of the same quantity; those that are usual are offered."""
        from sornix.core.readings.units import is_known, offers

        name, unit = column.name, column.unit

        def ask(found: tuple[bool, tuple[str, ...]]) -> None:
            known, offered = found
            if not known:
                self._window.say(
                    f"“{unit}” is not a unit that Sornix knows, so nothing can be converted. "
                    "Change it under Name and unit, if it was misspelt."
                )
                return
            dialog = QInputDialog(self._window.frame)
            dialog.setWindowTitle("Convert")
            dialog.setLabelText(f"“{name}” from {unit} to:")
            dialog.setComboBoxItems(offered or (unit,))
            dialog.setComboBoxEditable(True)
            take = lambda: self._act(  # noqa: E731
                f"converted “{name}”", "convert", column=name, unit=dialog.textValue().strip()
            )
            dialog.accepted.connect(take)
            dialog.finished.connect(dialog.deleteLater)
            dialog.open()

        # the tables of units take their time to load
        self._window.start("looking up units…", lambda: (is_known(unit), offers(unit)), ask)

    def compute(self, column: Column | None = None) -> None:
        """Asks for a formula: for a new column, or for one that is computed."""
        from sornix.desk.formuladialog import FormulaDialog

        table = self.table
        if table is None:
            return

        def take(name: str, unit: str, formula: str) -> bool:
            rule = {"rule": "formula", "formula": formula}
            words = f"computed “{name}”"
            if column is not None and column.name != name:
                return self.edit(words, lambda d: _renamed(d, table.name, column, name, unit, rule))
            return bool(
                self.tray and self.tray.edit(words, "compute", name=name, unit=unit, rule=rule)
            )

        FormulaDialog(self._window.frame, table, column, take, self._window.start)

    def name_codes(self, column: Column) -> None:
        """Asks which words stand for which codes, and adds a column of the words."""
        from sornix.core.readings.rules import CodeWords, codes_in, rule_to_json

        codes = dict.fromkeys(cell for cell in column.cells()[:10_000] if cell)
        begin = ", ".join(f"{code} = " for code in list(codes)[:8])

        def take(text: str) -> None:
            try:
                rule = CodeWords(column.name, codes_in(text))
            except SornixError as error:
                self._window.say(str(error))
                return
            self._add_rule(f"{column.name} in words", rule_to_json(rule), "named codes")

        self.ask("Words for codes", f"Words for the codes of “{column.name}”:", begin, take)

    def count_entries(self, column: Column) -> None:
        """Asks what divides the entries of a cell, and adds a column of their numbers."""
        from sornix.core.readings.rules import EntryCount, rule_to_json

        def take(text: str) -> None:
            rule = EntryCount(column.name, text.strip() or ",")
            self._add_rule(f"Entries of {column.name}", rule_to_json(rule), "counted entries")

        self.ask("Count entries", f"What divides the entries of “{column.name}”:", ",", take)

    def _add_rule(self, name: str, rule: dict[str, Any], words: str) -> None:
        from sornix.core.readings import unique_names

        table = self.table
        if table is not None:
            unique = unique_names([name], table.column_names)[0]
            self._act(words, "compute", name=unique, unit="", rule=rule)

    def ask(self, title: str, label: str, text: str, take: Callable[[str], object]) -> None:
        """Asks for a line of text."""
        dialog = QInputDialog(self._window.frame)
        dialog.setWindowTitle(title)
        dialog.setLabelText(label)
        dialog.setTextValue(text)
        dialog.resize(420, dialog.height())
        dialog.accepted.connect(lambda: take(dialog.textValue()))
        dialog.finished.connect(dialog.deleteLater)
        dialog.open()


# words, what it does, ticked or not or None, and whether it can be done
_Entry = tuple[str, Callable[[], object], bool | None, bool]


def _renamed(
    document: Document, table: str, column: Column, name: str, unit: str, rule: dict[str, Any]
) -> Document:
    """A document whose computed column has another name and formula."""
    document = change_table(document, table, "rename", column=column.name, name=name, unit=unit)
    return change_table(document, table, "compute", name=name, unit=unit, rule=rule)


def _clipboard() -> tuple[str, str]:
    """Text and HTML on the clipboard."""
    clipboard = QApplication.clipboard()
    data = clipboard.mimeData() if clipboard is not None else None
    if data is None:
        return "", ""
    return data.text(), data.html() if data.hasHtml() else ""


def _block(text: str, html: str) -> list[list[str]]:
    """A block of cells from the clipboard."""
    from sornix.core.readings.sources import html_rows

    if html and "\t" not in text and (rows := html_rows(html)):
        return rows
    lines = text.replace("\r\n", "\n").replace("\r", "\n").rstrip("\n").split("\n")
    return [line.split("\t") for line in lines] if text.strip() else []


def _one_line(cell: str) -> str:
    return " ".join(cell.split()) if "\n" in cell or "\t" in cell else cell
