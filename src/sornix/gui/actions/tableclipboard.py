"""Readings from and to the clipboard."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QApplication

from sornix.core.readings import Table, write_text
from sornix.core.readings.formats.sources import read_pasted
from sornix.core.text import plural

if TYPE_CHECKING:
    from sornix.gui.actions.tableathand import TableAtHand

# Longer tables are made a text of beside the work.
_MANY_ROWS = 20_000
_NOTHING = "There is no table on the clipboard. Copy one in another program first."


class TableClipboard:
    """Copies cells and tables, and pastes them as tables, as columns or over cells."""

    def __init__(self, desk: TableAtHand) -> None:
        self._desk = desk

    def copy_cells(self) -> None:
        """Puts the selected cells on the clipboard as tab-separated text."""
        table_pane = self._desk.table_pane
        if table_pane is None or table_pane.table is None:
            return
        rows, columns = table_pane.grid.selected_block()
        table = table_pane.table
        rows = [row for row in rows if row < table.row_count]
        chosen = [table.columns[i] for i in columns if i < len(table.columns)]
        lines = ["\t".join(_one_line(column.cell(row)) for column in chosen) for row in rows]
        self._desk.window.copy_text("\n".join(lines))

    def copy_table(self) -> None:
        """Puts the whole table on the clipboard as tab-separated text."""
        table, window = self._desk.table, self._desk.window
        if table is None:
            return
        work = partial(write_text, table, "\t", units=True)
        if table.row_count > _MANY_ROWS:
            window.start("copying the table…", work, lambda raw: window.copy_text(raw.decode()))
        else:
            window.copy_text(work().decode())

    def paste(self) -> None:
        """Over cells where the grid is in hand, else as a new table."""
        if self._desk.is_in_hand():
            self.paste_cells()
        else:
            self.paste_table()

    def paste_table(self) -> None:
        """The table on the clipboard as a new one: a document of its own, or in the present one."""
        text, html = _clipboard()
        if not text.strip() and not html:
            self._desk.window.say(_NOTHING)
            return
        self.take_text(text, html)

    def take_text(self, text: str, html: str = "") -> None:
        """A text that was pasted or dropped, as a table."""
        work = partial(read_pasted, text, html)
        if self._desk.window.bench.document is None:
            self._desk.window.open_table("Pasted readings", work)
        else:
            add = lambda table: self._desk.add("pasted a table", (table,))  # noqa: E731
            self._desk.window.start("reading the table…", work, add)

    def paste_columns(self) -> None:
        """The table on the clipboard as new columns of the one that is shown."""
        text, html = _clipboard()
        if not text.strip() and not html:
            self._desk.window.say(_NOTHING)
            return

        def take(fresh: Table) -> None:
            columns = [{"name": c.name, "unit": c.unit, "cells": c.cells()} for c in fresh.columns]
            words = f"pasted {plural(len(columns), 'column')}"
            self._desk.act(words, "add_columns", columns=columns)

        self._desk.window.start("reading the table…", partial(read_pasted, text, html), take)

    def paste_cells(self) -> None:
        """The block on the clipboard over the cells from the current one on."""
        table_pane = self._desk.table_pane
        if table_pane is None:
            return
        text, html = _clipboard()
        rows = _block(text, html)
        at = table_pane.grid.currentIndex()
        top, left = max(at.row(), 0), max(at.column(), 0)
        # over the top left corner of what is selected, wherever the selection was begun
        chosen_rows, chosen_columns = table_pane.grid.selected_block()
        if chosen_rows:
            top, left = chosen_rows[0], chosen_columns[0]
        cells = [
            (top + i, left + j, cell) for i, row in enumerate(rows) for j, cell in enumerate(row)
        ]
        if cells:
            words = f"pasted {plural(len(cells), 'cell')}"
            table_pane.edit(words, "set_cells", cells=cells)


def _clipboard() -> tuple[str, str]:
    """Text and HTML on the clipboard."""
    clipboard = QApplication.clipboard()
    data = clipboard.mimeData() if clipboard is not None else None
    if data is None:
        return "", ""
    return data.text(), data.html() if data.hasHtml() else ""


def _block(text: str, html: str) -> list[list[str]]:
    """A block of cells from the clipboard."""
    from sornix.core.readings.formats.sources import html_rows

    if html and "\t" not in text and (rows := html_rows(html)):
        return rows
    lines = text.replace("\r\n", "\n").replace("\r", "\n").rstrip("\n").split("\n")
    return [line.split("\t") for line in lines] if text.strip() else []


def _one_line(cell: str) -> str:
    return " ".join(cell.split()) if "\n" in cell or "\t" in cell else cell
